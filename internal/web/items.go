package web

import (
	"context"
	"slices"

	"zealousknot/internal/core/care"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/store"
)

type kitsOut struct {
	Body struct {
		Kits []gear.KitCount `json:"kits"`
		// Unlisted are names of kits on items of which there is no list.
		Unlisted []string `json:"unlisted,omitempty" doc:"names that items say they are in, and no kit has"`
	}
}

// kits holds each kit against its list.
func (c *Config) kits(ctx context.Context, _ *struct{}) (*kitsOut, error) {
	g, err := c.Store.Gear(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	models := gear.ModelsByID(g.Models)
	out := &kitsOut{}
	out.Body.Kits = make([]gear.KitCount, len(g.Kits))
	named := map[string]bool{"": true}
	for i := range g.Kits {
		out.Body.Kits[i] = g.Kits[i].Count(g.Items, models)
		named[g.Kits[i].Name] = true
	}
	for i := range g.Items {
		if name := g.Items[i].Kit; !named[name] {
			named[name] = true
			out.Body.Unlisted = append(out.Body.Unlisted, name)
		}
	}
	slices.Sort(out.Body.Unlisted)
	return out, nil
}

type lifeOut struct {
	Body struct {
		Life  gear.LifeLine   `json:"life"`
		Kit   *gear.Kit       `json:"kit,omitempty" doc:"the kit it is in"`
		Drops []store.Planned `json:"drops" doc:"drops of today and later that name it"`
		Used  care.Counters   `json:"used" doc:"its use in sum, of the days that it covers"`
	}
}

// itemLife is the life of an item: what it says itself, and what was recorded of it.
func (c *Config) itemLife(ctx context.Context, in *idIn) (*lifeOut, error) {
	known, err := c.known(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	out := &lifeOut{}
	out.Body.Life = known.life
	if out.Body.Drops, err = c.Store.DropsWith(ctx, who(ctx).Team, in.ID, known.life.Today); err != nil {
		return nil, failed(ctx, err)
	}
	uses, err := record.UsedOf(in.ID, c.standing(ctx))
	if err != nil {
		return nil, failed(ctx, err)
	}
	out.Body.Used = care.Count(uses, known.item.Events)
	if k := slices.IndexFunc(known.store.Kits, func(k gear.Kit) bool { return k.Name == known.item.Kit }); k >= 0 {
		out.Body.Kit = &known.store.Kits[k]
	}
	return out, nil
}

// lifeMarks are the records that a life line shows: where it went, and what stopped it.
func lifeMarks(item string, lines []store.RecordLine) (marks []gear.LifeMark) {
	words := map[record.Kind]string{
		record.Quarantine: "into quarantine", record.BackInService: "back in service", record.Retirement: "retired",
		record.RecallNotice: "recalled", record.RopeCutting: "cut", record.KitIssue: "handed out", record.KitReturn: "counted back", record.KitSealed: "sealed", record.SealBroken: "seal broken",
	}
	for _, l := range slices.Backward(lines) {
		say, shown := words[l.Says.Kind]
		if !shown || l.CorrectedBy > 0 {
			continue
		}
		if l.Says.Kit != nil && l.Says.Kit.To != "" {
			say += " to " + l.Says.Kit.To
		}
		if slices.Contains(l.Says.Missing, item) {
			say = "did not come back"
		}
		marks = append(marks, gear.LifeMark{On: l.Says.Day, Kind: string(l.Says.Kind), Words: say})
	}
	return marks
}
