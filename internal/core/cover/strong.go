package cover

import (
	"cmp"
	"fmt"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// strongest are the connectors of a kit that lock, the strongest first.
func strongest(kit []*rig.Piece) []*rig.Piece {
	var list []*rig.Piece
	for _, o := range kit {
		if o.Model.Class == gear.Connector && o.Model.Connector != nil && o.Model.Connector.Locks() {
			list = append(list, o)
		}
	}
	slices.SortStableFunc(list, func(a, b *rig.Piece) int { return cmp.Compare(b.Model.StrengthKN, a.Model.StrengthKN) })
	return list
}

// chained judges the connectors of a pick-off: of those that are carried the strongest bear,
// one in each place, and the weakest of them bears the casualty in the chain or at the long
// lanyard. Lowered: the rescuer hangs on the team's brakes.
func (pl *Planner) chained(c *rescuer, h *casualty, j joined, lowered bool) string {
	places := int(j.links) + 1
	if !lowered && !c.hangs() {
		places += 3 // of the descender, and of the backup's links
	}
	strong := strongest(c.Carries)
	if len(strong) == 0 {
		return ""
	}
	o := strong[min(places, len(strong))-1]
	return pl.tooWeak(o.Model, o.Item.Label, h.MassKg, h.Name)
}

// chain judges the long lanyard, which bears the casualty.
func (pl *Planner) chain(c *rescuer, h *casualty) string {
	i := longLanyard(c.sc, nil)
	if i < 0 || longLanyard(c.sc, pl.strongFor(h)) >= 0 {
		return ""
	}
	return pl.tooWeak(c.sc.Tools[i].Model, c.sc.Tools[i].Label, h.MassKg, h.Name)
}

// strongFor says which lanyards bear a casualty.
func (pl *Planner) strongFor(h *casualty) func(*stance.Tool) bool {
	return func(t *stance.Tool) bool { return pl.tooWeak(t.Model, t.Label, h.MassKg, h.Name) == "" }
}

// tooWeak says why a thing may not bear a mass; empty where it may, or where its strength is
// not known.
func (pl *Planner) tooWeak(m *gear.Model, label string, mass quantity.Kilograms, whose string) string {
	load := quantity.Weight(mass)
	want := pl.in.Policy.Factor(m.Class.Textile())
	limit, _ := m.WorkingLoad("")
	switch got := quantity.Ratio(m.StrengthKN / load); {
	case limit > 0 && load > limit:
		over, atMost := quantity.Beside(load, limit)
		return fmt.Sprintf("%s of %s on %s is above its working load limit of %s", over, whose, label, atMost)
	case m.StrengthKN > 0 && got < want && !(limit > 0 && pl.in.Policy.Margins == "limits"):
		margin, least := quantity.Beside(got, want)
		return fmt.Sprintf("%s holds %s times the %v of %s; the policy requires %s", label, margin, load, whose, least)
	}
	return ""
}

// byBrakes judges a load on a team's two lines, of one person or of two: why it may not
// hang there; empty where it may.
func (pl *Planner) byBrakes(one, second quantity.Kilograms) string {
	t := pl.rig.Team
	persons := 1
	if second > 0 {
		persons = 2
	}
	for i, l := range []*rig.TeamLineView{&t.Main, &t.Belay} {
		h := *t.Body.Holds[i]
		hold := *h.Hold
		hold.SecondKg, hold.ExtraFriction = second, true
		why, found := "", false
		for j := range l.Brake.Model.Device.Modes {
			mode := l.Brake.Model.Device.Modes[j]
			if mode.Persons < persons {
				continue
			}
			who := &rig.PersonView{Person: &rig.Person{ID: rig.TeamBody, Name: t.Load.Name, MassKg: one}}
			h.Hold, h.Mode, h.Person = &hold, &mode, who
			who.Holds = []*rig.HoldView{&h}
			stops := fit.Would(&h, pl.context())
			if found = len(stops) == 0; found {
				break
			}
			why = cmp.Or(why, plain(stops[0].What))
		}
		if !found {
			return cmp.Or(why, fmt.Sprintf("%s is not rated for two of %v", l.Brake.Item.Label, one+second))
		}
	}
	load := t.Load
	load.MassKg, load.Persons = one+second, persons
	for _, f := range pl.in.Team.With(load).Stops() {
		if f.Severity == finding.Stop {
			return plain(f.What)
		}
	}
	return ""
}
