package fit

import (
	"math"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// What a later step hangs on is judged like a hold, with the load that comes: the anchors of every
// re-belay of the strands that somebody hangs on, the set that a transfer leads to, the slings of
// an aid traverse.

// laterMargin is load.margin of what somebody comes to hang on.
func laterMargin(p *rig.PersonView, c *Context) []finding.Finding {
	return margins(later(p, c), c)
}

// laterLimits is load.wll of what somebody comes to hang on.
func laterLimits(p *rig.PersonView, c *Context) []finding.Finding {
	return limits(later(p, c), p.MassKg)
}

func later(p *rig.PersonView, c *Context) (list []part) {
	when := ", as soon as " + p.Name + " hangs on it"
	for _, h := range p.Holds {
		list = append(list, sections(h, math.Inf(1))...)
	}
	if slices.Contains(p.Moves, manoeuvre.MoveName("transfer")) || slices.Contains(p.Moves, manoeuvre.MoveName("aid")) {
		for _, h := range p.Holds {
			if to := beside(h, c.Rig); to != nil {
				list = append(list, onto(h, to, c)...)
			}
		}
	}
	if slices.Contains(p.Moves, manoeuvre.MoveName("aid")) {
		list = append(list, slings(p, c.Rig)...)
	}
	for i := range list {
		list[i].when = when
	}
	return list
}

// sections are the legs of the other anchors of a hold's strand that begin below a height.
func sections(h *rig.HoldView, below float64) (list []part) {
	own := h.Strand.SectionAt(h.Person.AtM)
	for _, s := range h.Strand.Sections {
		if s.TopM != own.TopM && float64(s.TopM) < below {
			list = append(list, legParts(h, s, hanging(h.Strand, s.TopM-0.01))...)
		}
	}
	return list
}

// beside is the strand of a hold's role in the set with both that hangs nearest to the hold's; nil
// for none.
func beside(h *rig.HoldView, r *rig.Rig) *rig.StrandView {
	var to *rig.StrandView
	least := math.Inf(1)
	for _, s := range r.Strands {
		both := func(o *rig.StrandView) bool { return o.Set == s.Set && o.Role != s.Role }
		if s.Role != h.Strand.Role || s.Set == h.Strand.Set || !slices.ContainsFunc(r.Strands, both) {
			continue
		}
		if away := math.Abs(float64(s.Anchors[0].XM - h.Strand.Anchors[0].XM)); away < least {
			to, least = s, away
		}
	}
	return to
}

// onto are the ropes and legs of another strand, with what a hold bears.
func onto(h *rig.HoldView, s *rig.StrandView, c *Context) (list []part) {
	there := *h
	there.Strand = s
	for _, r := range s.Ropes {
		rope := ropePart(&there, r, c)
		rope.subject = s.RopeSubject(r.Piece)
		list = append(list, rope)
	}
	for _, sec := range s.Sections {
		list = append(list, legParts(&there, sec, hanging(s, sec.TopM-0.01))...)
	}
	return list
}

// slings are the legs of what is slung round the structure, each with all of somebody's weight.
func slings(p *rig.PersonView, r *rig.Rig) (list []part) {
	for _, a := range r.Anchors {
		for i, leg := range a.Legs {
			if !a.Sling || a.Part(i) == 0 {
				continue
			}
			list = append(list, part{
				subject: finding.Subject{Kind: finding.Anchor, ID: a.ID, Label: a.Name, Person: p.ID},
				label:   "leg " + leg.ID + " of " + a.Name, strength: leg.StrengthKN, limit: leg.WorkKN,
				load: quantity.Weight(p.MassKg) * quantity.Kilonewtons(a.Part(i)),
			})
		}
	}
	return list
}
