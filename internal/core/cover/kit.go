package cover

import (
	"cmp"
	"fmt"
	"slices"

	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
)

// kitted is somebody with what of their kit may be used: what is out of service is left
// out, and the rest stands in an order of its own, so that the order in which it was
// written decides nothing.
func (pl *Planner) kitted(p *rig.PersonView) *rig.PersonView {
	k := *p
	k.Carries = nil
	for _, o := range p.Carries {
		if fit.Unfit(o, pl.context()) == "" {
			k.Carries = append(k.Carries, o)
		}
	}
	slices.SortStableFunc(k.Carries, func(a, b *rig.Piece) int {
		return cmp.Or(cmp.Compare(a.Model.Class, b.Model.Class), cmp.Compare(rates2(b), rates2(a)), cmp.Compare(a.Model.LengthM, b.Model.LengthM), cmp.Compare(a.Model.ID, b.Model.ID), cmp.Compare(a.Item.ID, b.Item.ID))
	})
	// A link of a backup device is the first on its list: absorbers, then lanyards.
	slices.SortStableFunc(k.Carries, func(a, b *rig.Piece) int {
		return cmp.Compare(absorbs(b), absorbs(a))
	})
	k.Carries = few(k.Carries, stance.MaxTools-len(k.Holds))
	k.All = slices.DeleteFunc(slices.Clone(p.All), func(o *rig.Piece) bool { return fit.Unfit(o, pl.context()) != "" })
	return &k
}

// rates2 is the mass that an absorber is rated to; 0 for anything else.
func rates2(p *rig.Piece) quantity.Kilograms {
	if a := p.Model.Absorber; a != nil {
		return a.MaxKg
	}
	return 0
}

func absorbs(p *rig.Piece) int {
	if p.Model.Absorber != nil {
		return 1
	}
	return 0
}

// few leaves no more than so many things to work with, of every class the first of each
// model before the second: more are not planned with. What is no tool stays.
func few(list []*rig.Piece, most int) []*rig.Piece {
	tools := []gear.Class{gear.Descender, gear.BackupDevice, gear.Lanyard, gear.ChestAscender, gear.HandAscender}
	left, keep := most, map[*rig.Piece]bool{}
	for again := range list {
		for _, class := range tools {
			seen := map[string]int{}
			for _, o := range list {
				if o.Model.Class != class {
					continue
				}
				if seen[o.Model.ID]++; seen[o.Model.ID] == again+1 && left > 0 {
					keep[o] = true
					left--
				}
			}
		}
	}
	return slices.DeleteFunc(list, func(o *rig.Piece) bool { return slices.Contains(tools, o.Model.Class) && !keep[o] })
}

// variant is a rescuer with one of their descenders and one of their backup devices, by
// which a pick-off is done.
type variant struct {
	descender, backup *rig.Piece
	// link is of the backup device; nil for none.
	link *rig.Piece
	sc   *stance.Scene
}

// variants are what a rescuer may do a pick-off with: every model of descender with every
// model of backup device and link that they have.
func (pl *Planner) variants(p *rig.PersonView) ([]*variant, error) {
	all := slices.Clone(p.Carries)
	for _, h := range p.Holds {
		all = append(all, h.Device)
	}
	var list []*variant
	for _, d := range models(all, gear.Descender) {
		for _, b := range models(all, gear.BackupDevice) {
			for _, link := range links(p, b) {
				v := &variant{descender: d, backup: b, link: link}
				sc, err := pl.scene(only(p, v))
				if err != nil {
					return nil, err
				}
				if sc.Tool(b.Item.ID) >= 0 {
					v.sc = sc
					list = append(list, v)
				}
			}
		}
	}
	return list, nil
}

// models gives the first thing of each model of a class, by model.
func models(list []*rig.Piece, class gear.Class) []*rig.Piece {
	var out []*rig.Piece
	for _, o := range list {
		if o.Model.Class == class && !slices.ContainsFunc(out, func(p *rig.Piece) bool { return p.Model.ID == o.Model.ID }) {
			out = append(out, o)
		}
	}
	slices.SortStableFunc(out, func(a, b *rig.Piece) int { return cmp.Compare(a.Model.ID, b.Model.ID) })
	return out
}

// links are what a backup device may hang from: that of its hold, else one of each model
// on its list.
func links(p *rig.PersonView, b *rig.Piece) []*rig.Piece {
	for _, h := range p.Holds {
		if h.Device != b {
			continue
		}
		for _, l := range h.Links {
			if l.Model.Connector == nil {
				return []*rig.Piece{l.Piece}
			}
		}
		return []*rig.Piece{nil}
	}
	var out []*rig.Piece
	for _, o := range p.Carries {
		listed := b.Model.Backup != nil && slices.ContainsFunc(b.Model.Backup.Links, func(l gear.AllowedLink) bool { return l.Model == o.Model.ID })
		if listed && !slices.ContainsFunc(out, func(q *rig.Piece) bool { return q.Model.ID == o.Model.ID }) {
			out = append(out, o)
		}
	}
	return out
}

// only is a rescuer with no descender and backup device but those of a variant, and its
// link before any other.
func only(p *rig.PersonView, v *variant) *rig.PersonView {
	o := *p
	other := func(q *rig.Piece) bool {
		return q.Model.Class == gear.Descender && q != v.descender || q.Model.Class == gear.BackupDevice && q != v.backup
	}
	o.Carries = slices.DeleteFunc(slices.Clone(p.Carries), func(q *rig.Piece) bool { return other(q) || q == v.link })
	if slices.Contains(p.Carries, v.link) {
		o.Carries = append([]*rig.Piece{v.link}, o.Carries...)
	}
	o.Holds = slices.DeleteFunc(slices.Clone(p.Holds), func(h *rig.HoldView) bool { return other(h.Device) })
	return &o
}

func (pl *Planner) context() *fit.Context { return &fit.Context{Rig: pl.rig, Policy: pl.in.Policy} }

// fitted is a variant that may be hung on a set with a casualty: its scene knows whether
// the backup device is rated for both there.
type fitted struct {
	*variant
	sc *stance.Scene
	// solo and pair are the longest descents of one and of both.
	solo, pair descent
	// across: with the descender on the backup strand.
	across bool
}

// descent is how far a device may descend at a time: by its mode, or until it is too hot for
// the sheath, whichever is less. 0: not limited.
type descent struct {
	m   quantity.Metres
	hot bool
}

func (l descent) below(m quantity.Metres) bool { return l.m > 0 && m > l.m }

// words say how far a device may go.
func (l descent) words(label, with string) string {
	if l.hot {
		return fmt.Sprintf("%s is too hot for the sheath after %v at a time%s", label, l.m, with)
	}
	return fmt.Sprintf("%s may descend %v at a time%s", label, l.m, with)
}

// judged is what was judged already: the anchors that a set hangs from at a height count.
type judged struct {
	c            *rescuer
	h            *casualty
	set          int
	main, backup quantity.Metres
	across       bool
	// own are the tops of the sections that the casualty hangs in.
	own string
	// hard are the backup devices on which a fall of both peaks too high at the height.
	hard string
	// joined is what joins the two, of a pair alone.
	joined joined
}

// sections are the tops of the sections that somebody hangs in at a height.
func (h *casualty) sections(at quantity.Metres) string {
	tops := ""
	for _, o := range h.Holds {
		tops += fmt.Sprint(o.Strand.SectionAt(at).TopM, " ")
	}
	return tops
}

// judgement is which variants may be hung, and why the others may not.
type judgement struct {
	list []*fitted
	why  string
}

// fits judges everything that a pick-off of a casualty would hang on a set, by the rules
// that judge the holds that are there.
func (pl *Planner) fits(c *rescuer, h *casualty, set int, at quantity.Metres, across bool) *judgement {
	main, backup := pl.strand(set, rig.Main), pl.strand(set, rig.Backup)
	if main == nil || backup == nil {
		return &judgement{why: fmt.Sprintf("set %d lacks a main or backup strand", set)}
	}
	key := judged{c: c, h: h, set: set, main: main.SectionAt(at).TopM, backup: backup.SectionAt(at).TopM, across: across, own: h.sections(at)}
	if across {
		main, backup = backup, main
	}
	if j := pl.judged[key]; j != nil {
		return j
	}
	j := &judgement{}
	for _, v := range c.variants {
		f, why := pl.fit(c, h, v, main, backup, at)
		if f != nil {
			f.across = across
			j.list = append(j.list, f)
		} else if j.why == "" {
			j.why = why
		}
	}
	if len(c.variants) == 0 {
		j.why = cmp.Or(c.unavailable, c.Name+" has no descender and backup device with a link on its list")
	}
	pl.judged[key] = j
	return j
}

func (pl *Planner) strand(set int, role rig.Role) *rig.StrandView {
	for _, s := range pl.rig.Strands {
		if s.Set == set && s.Role == role {
			return s
		}
	}
	return nil
}

// fit judges one variant, with its descender on one strand and its backup device on the
// other.
func (pl *Planner) fit(c *rescuer, h *casualty, v *variant, under, beside *rig.StrandView, at quantity.Metres) (*fitted, string) {
	solo, why := pl.would(c, h, v, v.descender, under, 0, at)
	if why != "" {
		return nil, why
	}
	pair, why := pl.would(c, h, v, v.descender, under, h.MassKg, at)
	if why != "" {
		return nil, why
	}
	if _, why := pl.would(c, h, v, v.backup, beside, 0, at); why != "" {
		return nil, why
	}
	if why := pl.chain(c, h); why != "" {
		return nil, why
	}
	f := &fitted{variant: v, solo: solo, pair: pair, sc: v.sc}
	if _, why = pl.would(c, h, v, v.backup, beside, h.MassKg, at); why != "" {
		f.sc = v.sc.ForOne(v.backup.Item.ID)
	}
	return f, ""
}

// would judges one device of a variant on a strand, with a second person or alone: the
// longest descent of a mode that may be used, or why there is none.
func (pl *Planner) would(c *rescuer, h *casualty, v *variant, dev *rig.Piece, s *rig.StrandView, second quantity.Kilograms, at quantity.Metres) (most descent, why string) {
	persons, found := 1, false
	casualty := ""
	if h != nil {
		casualty = h.ID
	}
	if second > 0 {
		persons = 2
	}
	for i := range dev.Model.Device.Modes {
		mode := dev.Model.Device.Modes[i]
		if mode.Persons < persons {
			continue
		}
		limit := descent{m: mode.MaxDescentM}
		mode.MaxDescentM = 0
		h := pl.hung(c, v, dev, s, &mode, second, at)
		stops := append(fit.Would(h, pl.context()), fit.WithOthers(h, pl.context(), casualty)...)
		limit = pl.cool(h, limit)
		switch {
		case len(stops) > 0:
			why = cmp.Or(why, plain(stops[0].What))
		case !found || most.m > 0 && (limit.m == 0 || limit.m > most.m):
			most, found = limit, true
		}
	}
	switch {
	case found:
		return most, ""
	case why == "" && second > 0:
		why = fmt.Sprintf("%s is not rated for two of %v", dev.Item.Label, c.MassKg+second)
	case why == "":
		why = dev.Item.Label + " has no mode for one person"
	}
	return descent{}, why
}

// cool is a limit of a descent, or where that is less the length after which the device is too
// hot for the sheath; where either is not entered, heat limits nothing, and Unseen says so.
func (pl *Planner) cool(h *rig.HoldView, limit descent) descent {
	in, known := site.SpotAt(pl.rig, h, pl.in.Policy, h.Strand.ToM).Heat()
	if !known || in.LimitC == 0 {
		return limit
	}
	if m, limited := in.Longest(); limited && (limit.m == 0 || m < limit.m) {
		return descent{max(m, 0.01), true}
	}
	return limit
}

// plain is what a finding says, as a part of a sentence.
func plain(what string) string {
	for len(what) > 0 && what[len(what)-1] == '.' {
		what = what[:len(what)-1]
	}
	return what
}

// hung is a hold that a rescue would make.
func (pl *Planner) hung(c *rescuer, v *variant, dev *rig.Piece, s *rig.StrandView, mode *gear.Mode, second quantity.Kilograms, at quantity.Metres) *rig.HoldView {
	p := *c.Person
	p.AtM, p.Grounded = at, false
	who := &rig.PersonView{Person: &p, Harness: c.Harness}
	h := &rig.HoldView{
		Hold: &rig.Hold{
			ID: "rescue", Strand: s.ID, Device: dev.Item.ID, Mode: mode.Name, Point: gear.Ventral, AboveM: stance.DeviceLen.M(), Threaded: rig.ThreadedRight, SecondKg: second, ExtraFriction: true, Role: rig.ToDescend,
		},
		Person: who, Strand: s, Device: dev, Mode: mode, Position: unparked(dev.Model.Device),
	}
	if dev.Model.Class == gear.BackupDevice {
		h.Hold.Role, h.Hold.Point = rig.ToBackUp, gear.Sternal
	}
	for _, l := range pl.linksOf(c, v, dev) {
		h.Links = append(h.Links, rig.LinkView{Link: &rig.Link{Item: l.Item.ID}, Piece: l})
	}
	who.Holds = []*rig.HoldView{h}
	if h.Role() == rig.ToBackUp {
		h.Hold.Point = cmp.Or(fit.PointFor(h), gear.Sternal)
	}
	return h
}

// peaks says why a fall onto the backup device of a variant may not happen at a height, with a
// second person or alone; empty where it may. The height counts: a short rope stretches less,
// and from a long one the wind draws more slack.
func (pl *Planner) peaks(c *rescuer, v *variant, s *rig.StrandView, second quantity.Kilograms, at quantity.Metres) string {
	h := pl.hung(c, v, v.backup, s, &v.backup.Model.Device.Modes[0], second, at)
	in, _ := site.SpotAt(pl.rig, h, pl.in.Policy, at).Fall()
	fall := mechanics.Fall(in)
	h.Figures.Peak = &rig.Figure[quantity.Kilonewtons]{Value: fall.PeakKN, Working: fall.PeakWorking}
	for _, f := range fit.ForceArrest(h, pl.context()) {
		return plain(f.What)
	}
	return ""
}

// peaksForBoth reports whether a fall of both onto a backup device peaks too high on either
// strand, whichever way the rescuer hangs it; the casualty's is hung as it is.
func (pl *Planner) peaksForBoth(c *rescuer, h *casualty, o *rig.Piece, main, backup *rig.StrandView, at quantity.Metres) bool {
	var ways []*variant
	for _, v := range c.variants {
		if v.backup == o {
			ways = append(ways, v)
		}
	}
	if len(ways) == 0 {
		ways = append(ways, &variant{backup: o, link: h.softLink(o)})
	}
	return !slices.ContainsFunc(ways, func(v *variant) bool {
		return pl.peaks(c, v, main, h.MassKg, at) == "" && pl.peaks(c, v, backup, h.MassKg, at) == ""
	})
}

// softLink is the lanyard or absorber that somebody's device hangs on; nil for none.
func (h *casualty) softLink(o *rig.Piece) *rig.Piece {
	for _, hold := range h.Holds {
		if hold.Device != o {
			continue
		}
		for _, l := range hold.Links {
			if l.Model.Connector == nil {
				return l.Piece
			}
		}
	}
	return nil
}

// unparked is the first position of a device that is not parked, as it hangs while it is used.
func unparked(d *gear.Device) *gear.Position {
	return &d.Positions[max(0, slices.IndexFunc(d.Positions, func(p gear.Position) bool { return !p.Parked }))]
}

// linksOf are the links of a device: those of its hold, else the strongest connectors,
// with a backup device's link between two of them.
func (pl *Planner) linksOf(c *rescuer, v *variant, dev *rig.Piece) []*rig.Piece {
	for _, h := range c.Holds {
		if h.Device == dev {
			var list []*rig.Piece
			for _, l := range h.Links {
				list = append(list, l.Piece)
			}
			return list
		}
	}
	strong := strongest(c.Carries)
	if dev.Model.Class == gear.Descender {
		return strong[:min(1, len(strong))]
	}
	list := slices.Clone(strong[min(1, len(strong)):min(3, len(strong))])
	if v.link != nil {
		list = append(list, v.link)
	}
	return list
}
