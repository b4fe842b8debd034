package fit

import (
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/rig"
)

// Would gives what stops a hold that nobody has made yet, with the load that would come
// onto it: rope, rating, load path and state of service, by the rules that judge the holds
// that are there. How it would be put on, and how hard a fall at each height is, is left to
// whoever plans it; a length of descent is judged by the height of its person.
func Would(h *rig.HoldView, c *Context) []finding.Finding {
	alone := &Context{Rig: c.Rig, Policy: c.Policy} // its load path is its own
	var found []finding.Finding
	add := func(rule string, list []finding.Finding) {
		for _, f := range list {
			f.Rule = rule
			if f.Severity = c.Policy.Severity(rule, f.Severity); f.Severity == finding.Stop {
				found = append(found, f)
			}
		}
	}
	for _, r := range h.Strand.Ropes {
		add("rope.diameter", RopeDiameter(h, r, alone))
		add("rope.construction", RopeConstruction(h, r, alone))
	}
	add("load.rated", LoadRated(h, alone))
	add("device.slip", DeviceSlip(h, alone))
	add("load.two-person", LoadTwoPerson(h, alone))
	add("load.wll", LoadWLL(h, alone))
	add("load.margin", LoadMargin(h, alone))
	// Two go down from there; one who is alone comes from anywhere.
	below := float64(h.Person.AtM)
	if h.Second() == 0 {
		below = math.Inf(1)
	}
	along := sections(h, below)
	add("load.wll", limits(along, h.Mass()))
	add("load.margin", margins(along, alone))
	add("deviation.load", deviations(h, alone))
	add("device.lanyard", DeviceLanyard(h, alone))
	add("device.descent-limit", DeviceDescentLimit(h, alone))
	if h.Role() != rig.ToLower {
		add("harness.missing", HarnessMissing(h.Person, alone))
		add("device.point", DevicePoint(h, alone))
	}
	for _, u := range usesOf(h) {
		add("service.quarantine", ServiceQuarantine(u, alone))
		add("service.examination", ServiceExamination(u, alone))
		add("service.event", ServiceEvent(u, alone))
		add("rope.noted", RopeNoted(u, alone))
	}
	return found
}

// usesOf are the items of a hold, of its strand, and the harness that it holds.
func usesOf(h *rig.HoldView) []use {
	list := []use{{Piece: h.Device, subject: h.Subject()}}
	for _, l := range h.Links {
		list = append(list, use{Piece: l.Piece, subject: h.LinkSubject(l.Piece)})
	}
	if p := h.Person.Harness; p != nil {
		list = append(list, use{Piece: p, subject: h.LinkSubject(p)})
	}
	for _, r := range h.Strand.Ropes {
		list = append(list, use{Piece: r.Piece, subject: h.Strand.RopeSubject(r.Piece)})
	}
	return list
}

// Unfit says why an item may not be used at all on the day; empty where it may.
func Unfit(p *rig.Piece, c *Context) string {
	u := use{Piece: p, subject: finding.Subject{Kind: finding.Item, ID: p.Item.ID, Label: p.Item.Label, Item: p.Item.ID}}
	for _, rule := range []struct {
		id  string
		run func(use, *Context) []finding.Finding
	}{{"service.quarantine", ServiceQuarantine}, {"service.examination", ServiceExamination}, {"service.event", ServiceEvent}, {"rope.noted", RopeNoted}} {
		for _, f := range rule.run(u, c) {
			if c.Policy.Severity(rule.id, f.Severity) == finding.Stop {
				return f.What
			}
		}
	}
	return ""
}
