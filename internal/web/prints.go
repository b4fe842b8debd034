package web

import (
	"bytes"
	"context"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/report"
	"zealousknot/internal/store"
)

// registerPrints declares what of the store is printed.
func (c *Config) registerPrints(api huma.API) {
	const pdf = "application/pdf"
	file(api, "store-pdf", "/gear/list.pdf", "Everything in the store, as PDF", pdf, c.printStore)
	file(api, "kit-pdf", "/kits/{id}/list.pdf", "A kit against what belongs in it, as PDF", pdf, c.printKit)
	file(api, "item-pdf", "/items/{id}/record.pdf", "All that is known and recorded of an item, as PDF", pdf, c.printItem)
}

// printed writes a list for who asks.
func (c *Config) printed(ctx context.Context, name string, l *report.List) (*fileOut, error) {
	i := who(ctx)
	number, seal, err := c.Store.ChainEnd(ctx, i.Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	var b bytes.Buffer
	if err := l.PDF(&b, report.Print{Team: i.Team.Name, Last: number, Seal: seal.String(), Printed: time.Now().In(i.Team.Location()), PrintedBy: i.Name}); err != nil {
		return nil, failed(ctx, err)
	}
	return attached(name+".pdf", &b), nil
}

// months is the team's interval of examinations.
func (c *Config) months(ctx context.Context) (int, error) {
	own, _, err := c.Store.Policy(ctx, who(ctx).Team)
	if err != nil {
		return 0, err
	}
	return own.With().ExaminationMonths, nil
}

func (c *Config) printStore(ctx context.Context, _ *struct{}) (*fileOut, error) {
	g, err := c.Store.Gear(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	months, err := c.months(ctx)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return c.printed(ctx, "store", report.StoreList(g, months))
}

func (c *Config) printKit(ctx context.Context, in *idIn) (*fileOut, error) {
	g, err := c.Store.Gear(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	at := slices.IndexFunc(g.Kits, func(k gear.Kit) bool { return k.ID == in.ID })
	if at < 0 {
		return nil, NewProblem(http.StatusNotFound, "there is no such kit")
	}
	return c.printed(ctx, in.ID, report.KitList(&g.Kits[at], g))
}

func (c *Config) printItem(ctx context.Context, in *idIn) (*fileOut, error) {
	k, err := c.known(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	named, err := c.titles(ctx, k.lines)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return c.printed(ctx, in.ID, report.ItemList(k.model, k.item, &k.life, rowsOf(who(ctx).Team, k.lines, named)))
}

// knownItem is an item with what is known of it.
type knownItem struct {
	store *drop.Store
	item  *gear.Item
	model *gear.Model
	life  gear.LifeLine
	lines []store.RecordLine
}

// known gathers what is known of an item.
func (c *Config) known(ctx context.Context, id string) (*knownItem, error) {
	team := who(ctx).Team
	g, err := c.Store.Gear(ctx, team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	at := slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == id })
	if at < 0 {
		return nil, NewProblem(http.StatusNotFound, "there is no such item")
	}
	months, err := c.months(ctx)
	if err != nil {
		return nil, failed(ctx, err)
	}
	k := &knownItem{store: g, item: &g.Items[at]}
	k.model = gear.ModelsByID(g.Models)[k.item.Model]
	if k.lines, err = c.Store.RecordsAbout(ctx, team.ID, record.Subject{Kind: "item", ID: id}, store.Page{Limit: whole}); err != nil {
		return nil, failed(ctx, err)
	}
	today := gear.Date(time.Now().In(team.Location()).Format(time.DateOnly))
	k.life = k.model.LifeOf(k.item, months, today, lifeMarks(id, k.lines))
	return k, nil
}
