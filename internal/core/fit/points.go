package fit

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// PointsTwo is points.two: off the ground no single anchor, anchor point, rope,
// device, connector or lanyard may lie on every way from the body to the
// anchors. Only holds that would hold count: not a third point or a hand ascender,
// whatever it is said to be, not one on a strand that is anchored below, not a device
// that is open, misthreaded or runs with hands off, not a way over uncovered
// damage or an open gate. Harness webbing is not failed.
func PointsTwo(p *rig.PersonView, c *Context) []finding.Finding {
	if onGround(p, c.Rig.Geometry) {
		return nil
	}
	var ways []*rig.HoldView
	for _, h := range p.Holds {
		if holds(h) {
			ways = append(ways, h)
		}
	}
	common := single(ways)
	if len(ways) > 0 && len(common) == 0 {
		return slack(p, ways)
	}
	f := finding.Finding{
		Severity: finding.Stop, Subject: p.Subject(),
		Figures: []finding.Figure{finding.Fig("holds that count", quantity.Count(len(ways))), finding.Fig("required", quantity.Count(2))},
		Why:     "Off the ground every body is held twice over: any one thing may fail.",
		Remedy:  "Add a hold on the other strand, with its own anchor, device and connector; or mend the one that does not count.",
		Source:  byRule,
	}
	if len(ways) == 0 {
		f.What = fmt.Sprintf("%s is at %v, off the ground, and no hold counts.", p.Name, p.AtM)
	} else {
		f.What = fmt.Sprintf("%s is at %v; everything hangs on %s alone.", p.Name, p.AtM, strings.Join(common, ", "))
		f.Figures = append(f.Figures, finding.State("on every way", strings.Join(common, ", ")))
	}
	return one(f)
}

// slack is of a body in the air that nothing bears as it is drawn: no strand that counts is tight.
func slack(p *rig.PersonView, ways []*rig.HoldView) []finding.Finding {
	least := slices.MinFunc(ways, func(a, b *rig.HoldView) int { return cmp.Compare(a.SlackM, b.SlackM) })
	if least.SlackM <= 0.05 {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Look, Subject: p.Subject(),
		What:    fmt.Sprintf("%s is at %v, off the ground, and every strand has slack, at least %v: nothing bears them as it is drawn.", p.Name, p.AtM, least.SlackM),
		Figures: []finding.Figure{finding.Fig("least slack", least.SlackM)},
		Why:     "Who hangs, hangs on something that is tight; they drop until it is.",
		Remedy:  "Take the slack out of the strand that bears, or draw them as far down as it is slack.",
		Source:  byPhysics,
	})
}

// holds reports whether a hold would hold its body by itself.
func holds(h *rig.HoldView) bool {
	if h.Role() == rig.Third || h.Device.Model.Class == gear.HandAscender || hangsBelow(h) || h.Open || h.Threaded != rig.ThreadedRight || h.Position.HandsOff != gear.Stops {
		return false
	}
	if h.Device.Item.State != gear.InService {
		return false
	}
	for _, l := range h.Links {
		if l.Link.Gate == rig.GateOpen || l.Item.State != gear.InService {
			return false
		}
	}
	top := h.Strand.SectionAt(h.Person.AtM).TopM
	for _, m := range h.Strand.Marks {
		if m.Kind == rig.DamageMark && m.HeightM >= h.Person.AtM && m.HeightM <= top && !h.Strand.Isolated(m.ID) {
			return false
		}
	}
	return true
}

// single names the things without which none of the ways is left.
func single(ways []*rig.HoldView) []string {
	var common []string
	add := func(name string) {
		if !slices.Contains(common, name) {
			common = append(common, name)
		}
	}
	for _, w := range ways {
		for _, piece := range wayPieces(w) {
			if !slices.ContainsFunc(ways, func(o *rig.HoldView) bool { return !slices.Contains(wayPieces(o), piece) }) {
				add(piece.Item.Label)
			}
		}
		for _, f := range failures(anchorsOf(w)) {
			if !slices.ContainsFunc(ways, func(o *rig.HoldView) bool { return survives(anchorsOf(o), f) }) {
				add(f.name)
			}
		}
	}
	return common
}

func anchorsOf(h *rig.HoldView) []*rig.AnchorView {
	return h.Strand.SectionAt(h.Person.AtM).Anchors
}

// wayPieces are the items on the way of a hold: device, links and the ropes
// between it and the anchor of its section.
func wayPieces(h *rig.HoldView) []*rig.Piece {
	list := []*rig.Piece{h.Device}
	for _, l := range h.Links {
		list = append(list, l.Piece)
	}
	top := h.Strand.SectionAt(h.Person.AtM).TopM
	for _, r := range h.Strand.Ropes {
		if r.BottomM < top && r.TopM > h.Person.AtM {
			list = append(list, r.Piece)
		}
	}
	return list
}
