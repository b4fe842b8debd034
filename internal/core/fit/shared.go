package fit

import (
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// StrandShared is strand.shared: two bodies off the ground count on one strand between the same
// anchors, each for itself. Whoever hangs lower pulls the rope tight in the devices above, and
// anchors and rope see both. A team's load counts as a body; who hangs in another section of a
// strand, held by a re-belay, does not share it.
func StrandShared(s *rig.StrandView, c *Context) []finding.Finding {
	bodies := c.Rig.People
	if t := c.Rig.Team; t != nil && t.Body != nil {
		bodies = append(slices.Clone(bodies), t.Body)
	}
	type on struct {
		names   []string
		hanging int
	}
	var order []quantity.Metres
	sections := map[quantity.Metres]*on{}
	for _, p := range bodies {
		at, bears, there := holdsOn(p, s)
		if p.Grounded || !there {
			continue
		}
		if sections[at] == nil {
			sections[at] = &on{}
			order = append(order, at)
		}
		o := sections[at]
		o.names = append(o.names, p.Name)
		if bears {
			o.hanging++
		}
	}
	var found []finding.Finding
	for _, at := range order {
		o := sections[at]
		if len(o.names) < 2 {
			continue
		}
		f := finding.Finding{
			Severity: finding.Look, Subject: s.Subject(),
			What:    fmt.Sprintf("%s count on %s between the same anchors.", strings.Join(o.names, " and "), s.Name),
			Figures: []finding.Figure{finding.Fig("bodies", quantity.Count(len(o.names))), finding.Fig("hang on it", quantity.Count(o.hanging))},
			Why:     "The rope is tight in the devices above whoever hangs lower, and the anchors see them all if it goes wrong.",
			Remedy:  "Give each a strand of their own, or a re-belay between them.",
			Source:  byRule,
		}
		if o.hanging > 1 {
			f.Severity = finding.Stop
		}
		found = append(found, f)
	}
	return found
}

// holdsOn is the top of the section of a strand that somebody has a hold in, and whether one bears
// them.
func holdsOn(p *rig.PersonView, s *rig.StrandView) (at quantity.Metres, bears, there bool) {
	for _, h := range p.Holds {
		if h.Strand != s {
			continue
		}
		at, there = s.SectionAt(p.AtM).TopM, true
		bears = bears || h.Role() != rig.ToBackUp && h.Role() != rig.Third
	}
	return at, bears, there
}

// RopeTwice is rope.twice: one rope hangs in several strands. What each of them wants must be
// there in all; a rope that is joined to others hangs in one place only.
func RopeTwice(s *rig.StrandView, c *Context) []finding.Finding {
	var found []finding.Finding
	for _, rope := range s.Ropes {
		in := hangsIn(c.Rig, rope.Item.ID)
		if len(in) < 2 || in[0] != s {
			continue
		}
		var need quantity.Metres
		joined, names := false, []string{}
		for _, o := range in {
			need += rope.Item.LengthM - o.Length.SpareM
			joined = joined || len(o.Ropes) > 1
			names = append(names, o.Name)
		}
		f := finding.Finding{
			Severity: finding.Look, Subject: s.RopeSubject(rope.Piece),
			What:    fmt.Sprintf("%s hangs in %s.", rope.Item.Label, strings.Join(names, " and in ")),
			Figures: []finding.Figure{finding.Fig("strands", quantity.Count(len(in))), finding.Fig("length", rope.Item.LengthM)},
			Why:     "One rope is in one place; what hurts it hurts all that hang on it.",
			Remedy:  "Say which rope hangs in each strand.",
			Source:  byPhysics,
		}
		switch {
		case joined:
			f.Severity = finding.Stop
			f.What += " It is joined to another rope there, and cannot be in both."
		case need > rope.Item.LengthM+1e-9:
			f.Severity = finding.Stop
			f.What += fmt.Sprintf(" Together they want %v; it is %v long.", need, rope.Item.LengthM)
			f.Figures = append(f.Figures, finding.Fig("wanted", need))
		case oneSet(in):
			f.Severity = finding.Stop
			f.What += " Who hangs on both hangs on one rope."
		}
		found = append(found, f)
	}
	return found
}

// oneSet reports whether main and backup of one set are among strands.
func oneSet(list []*rig.StrandView) bool {
	for _, a := range list {
		for _, b := range list {
			if a.Set == b.Set && a.Role == rig.Main && b.Role == rig.Backup {
				return true
			}
		}
	}
	return false
}

// hangsIn are the strands that a rope is in.
func hangsIn(r *rig.Rig, rope string) (list []*rig.StrandView) {
	for _, s := range r.Strands {
		if slices.ContainsFunc(s.Ropes, func(p rig.RopePart) bool { return p.Item.ID == rope }) {
			list = append(list, s)
		}
	}
	return list
}
