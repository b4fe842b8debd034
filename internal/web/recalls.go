package web

import (
	"context"
	"slices"
	"time"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

// recalledItem is an item that a recall is about.
type recalledItem struct {
	Item   string     `json:"item"`
	Label  string     `json:"label"`
	Serial string     `json:"serial"`
	State  gear.State `json:"state" enum:"in-service,quarantine,retired"`
	Holder string     `json:"holder,omitempty" doc:"with whom it is"`
	Later  bool       `json:"later,omitempty" doc:"it came into the store after the recall, or was corrected to what the recall is about"`
}

type recallLine struct {
	ID       string           `json:"id"`
	Number   int64            `json:"number"`
	At       time.Time        `json:"at"`
	By       string           `json:"by"`
	Day      gear.Date        `json:"day" format:"date"`
	Note     string           `json:"note,omitempty"`
	Recall   *record.Recalled `json:"recall"`
	Title    string           `json:"title" doc:"of the model"`
	Affected []recalledItem   `json:"affected" doc:"those then, with their state now, and those that came later"`
	ReadBy   []string         `json:"read_by" doc:"who has acknowledged it"`
	Mine     bool             `json:"mine" doc:"who asks has acknowledged it"`
}

type recallsOut struct{ Body []recallLine }

// recalls lists recalls, last first, with who has read each.
func (c *Config) recalls(ctx context.Context, _ *struct{}) (*recallsOut, error) {
	i := who(ctx)
	lines, err := c.Store.RecordsAbout(ctx, i.Team.ID, record.Subject{Kind: "recall", ID: "recall"}, store.Page{Limit: whole})
	if err != nil {
		return nil, failed(ctx, err)
	}
	g, err := c.Store.Gear(ctx, i.Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	models, items := gear.ModelsByID(g.Models), map[string]*gear.Item{}
	for n := range g.Items {
		items[g.Items[n].ID] = &g.Items[n]
	}
	out := &recallsOut{Body: []recallLine{}}
	read, mine := map[string][]string{}, map[string]bool{}
	for _, l := range lines {
		switch s := &l.Says; s.Kind {
		case record.Acknowledgement:
			if !slices.Contains(read[s.Confirms], l.By) {
				read[s.Confirms] = append(read[s.Confirms], l.By)
			}
			mine[s.Confirms] = mine[s.Confirms] || l.Account == i.Account
		case record.RecallNotice:
			if l.CorrectedBy > 0 {
				continue // withdrawn
			}
			line := recallLine{ID: s.ID, Number: l.Number, At: l.At, By: l.By, Day: s.Day, Note: s.Note, Recall: s.Recall, Title: s.Recall.Model, Affected: []recalledItem{}, ReadBy: []string{}, Mine: mine[s.ID]}
			if m := models[s.Recall.Model]; m != nil {
				line.Title = m.Title()
			}
			line.Affected = recalledBy(s, g, items)
			line.ReadBy = append(line.ReadBy, read[s.ID]...)
			slices.Sort(line.ReadBy)
			out.Body = append(out.Body, line)
		}
	}
	return out, nil
}

// recalledBy are the items that a recall is about: those then, then those that came later.
func recalledBy(s *record.Content, g *drop.Store, items map[string]*gear.Item) []recalledItem {
	list, of := []recalledItem{}, s.Recall.Of()
	for _, id := range s.Affected {
		if it := items[id]; it != nil {
			list = append(list, recalledOf(it))
		}
	}
	for n := range g.Items {
		if it := &g.Items[n]; of.Affects(it) && !slices.Contains(s.Affected, it.ID) {
			line := recalledOf(it)
			line.Later = true
			list = append(list, line)
		}
	}
	return list
}

func recalledOf(i *gear.Item) recalledItem {
	return recalledItem{Item: i.ID, Label: i.Label, Serial: i.Serial, State: i.State, Holder: i.Owner}
}

type affectedOut struct{ Body []recalledItem }

// affected says which items a recall would be about; nothing is kept.
func (c *Config) affected(ctx context.Context, in *rawIn) (*affectedOut, error) {
	var asked record.Recalled
	if err := strict.Read(in.RawBody, &asked); err != nil {
		return nil, failed(ctx, err)
	}
	g, err := c.Store.Gear(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out, of := &affectedOut{Body: []recalledItem{}}, asked.Of()
	for n := range g.Items {
		if of.Affects(&g.Items[n]) {
			out.Body = append(out.Body, recalledOf(&g.Items[n]))
		}
	}
	return out, nil
}
