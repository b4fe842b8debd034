package cover

import (
	"cmp"
	"fmt"
	"slices"

	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/rig"
)

// unseen is what a rescue may hang on and cannot be judged, since the document does not say
// what it holds or what heat it takes up: covered then means by all that is known.
func (pl *Planner) unseen() []string {
	list := []string{}
	add := func(what, why string, labels []string) {
		if len(labels) > 0 {
			list = append(list, fmt.Sprintf("%s of %s: %s", what, fit.Few(labels), why))
		}
	}
	lifted := cmp.Or(pair.On(pl.setup.Rescue.On), pair.OnDescender) != pair.OnDescender // the loop bears them then
	add("the strength", "not entered (load.margin)", pl.labels(func(p *rig.Piece) bool {
		limit, _ := p.Model.WorkingLoad("")
		return (p.Model.Class.Examined() || lifted && p.Model.Class == gear.FootLoop) && p.Model.StrengthKN == 0 && limit == 0 && len(p.Model.WorkingLoads) == 0
	}, func(l *rig.Leg) bool { return l.StrengthKN == 0 && l.WorkKN == 0 }))
	add("the heat with two", "what its model takes up is not entered (device.descent-limit)", pl.labels(func(p *rig.Piece) bool {
		return p.Model.Class == gear.Descender && (p.Model.Device.Heat == nil || p.Model.MassG == 0)
	}, nil))
	if slices.ContainsFunc(pl.rig.Strands, func(s *rig.StrandView) bool {
		return slices.ContainsFunc(s.Ropes, func(r rig.RopePart) bool { return r.Model.Rope.SheathLimitC == 0 })
	}) {
		list = append(list, "the heat with two against the limit of the sheath: a rope's model states none (device.descent-limit)")
	}
	for _, c := range pl.rescuers {
		if c.conf.LastPickOff([]rig.Person{*c.Person}) == "" {
			list = append(list, fmt.Sprintf("the pick-off of %s: no practice of it is stated (person.practised)", c.Name))
		}
	}
	return list
}

// labels are the things that a rescue may hang on of which something holds: of the strands,
// their anchors, and what those carry and hang on who come.
func (pl *Planner) labels(piece func(*rig.Piece) bool, leg func(*rig.Leg) bool) (list []string) {
	add := func(label string, is bool) {
		if is && !slices.Contains(list, label) {
			list = append(list, label)
		}
	}
	for _, s := range pl.rig.Strands {
		for _, r := range s.Ropes {
			add(r.Item.Label, piece(r.Piece))
		}
		for _, a := range s.Anchors {
			for i := range a.Legs {
				add("leg "+a.Legs[i].ID+" of "+a.Name, leg != nil && leg(&a.Legs[i]))
			}
		}
	}
	for _, c := range pl.rescuers {
		for _, p := range c.All {
			add(p.Item.Label, piece(p))
		}
	}
	return list
}
