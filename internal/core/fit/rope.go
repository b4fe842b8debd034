package fit

import (
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// RopeDiameter is rope.diameter: the measured, else nominal, diameter, and the thickest and
// the thinnest that the rope's map has, must lie in one of the ranges, ends included, that the
// device's mode gives for the rope's construction (any range, where rope.construction fires anyway).
func RopeDiameter(h *rig.HoldView, r rig.RopePart, _ *Context) []finding.Finding {
	for _, g := range gear.Gauges(r.Item, r.Model) {
		if found := ropeDiameter(h, r, g.MM, g.Which); found != nil {
			return found
		}
	}
	return nil
}

func ropeDiameter(h *rig.HoldView, r rig.RopePart, d quantity.Millimetres, which string) []finding.Finding {
	ranges := h.Mode.Ranges(r.Model.Rope.Construction)
	nearest := ranges[0]
	for _, g := range ranges {
		if d >= g.MinMM && d <= g.MaxMM {
			return nil
		}
		if gap(d, g) < gap(d, nearest) {
			nearest = g
		}
	}
	limit := nearest.MaxMM
	word, why := "thicker", "Too thick a rope jams or does not seat: the device may not lock, or not let go."
	if d < nearest.MinMM {
		limit = nearest.MinMM
		word, why = "thinner", "Too thin a rope runs through with too little friction: the device may not stop the load."
	}
	wide, takes := quantity.Beside(d, limit)
	return one(finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		What: fmt.Sprintf("%s, %s %s, is %s than the %s that %s takes in mode %q: %v to %v.",
			r.Item.Label, wide, which, word, takes, h.Device.Item.Label, h.Mode.Name, nearest.MinMM, nearest.MaxMM),
		Figures: []finding.Figure{finding.Fig(strings.TrimPrefix(which+" diameter", "at its "), d), finding.Fig("thinnest", nearest.MinMM), finding.Fig("thickest", nearest.MaxMM)},
		Why:     why,
		Remedy: fmt.Sprintf("Use a device whose mode takes %v, or a rope of %v to %v%s.", d, nearest.MinMM, nearest.MaxMM,
			otherMode(h, r)),
		Source: manufacturer(h.Device.Model),
	})
}

func gap(d quantity.Millimetres, g gear.RopeRange) quantity.Millimetres {
	return max(g.MinMM-d, d-g.MaxMM, 0)
}

// otherMode names another mode of the device that takes the rope.
func otherMode(h *rig.HoldView, r rig.RopePart) string {
	for i := range h.Device.Model.Device.Modes {
		m := &h.Device.Model.Device.Modes[i]
		if m.Name != h.Mode.Name && rig.Take(m, r) {
			return fmt.Sprintf("; it takes this rope only in mode %q", m.Name)
		}
	}
	return ""
}

// RopeConstruction is rope.construction: the mode must list the construction.
func RopeConstruction(h *rig.HoldView, r rig.RopePart, _ *Context) []finding.Finding {
	c := r.Model.Rope.Construction
	if h.Mode.Accepts(c) {
		return nil
	}
	var accepted []string
	for _, g := range h.Mode.Ropes {
		for _, a := range g.Constructions {
			accepted = append(accepted, string(a))
		}
	}
	return one(finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		What: fmt.Sprintf("%s is %s; %s in mode %q takes %s.", r.Item.Label, c, h.Device.Item.Label, h.Mode.Name, strings.Join(accepted, ", ")),
		Figures: []finding.Figure{
			finding.State("construction", string(c)), finding.State("accepted", strings.Join(accepted, ", ")),
		},
		Why:    "A device is proved on the constructions it names; on another it may slip, jam or cut the sheath.",
		Remedy: "Use a rope of an accepted construction, or a device that takes this one.",
		Source: manufacturer(h.Device.Model),
	})
}

var changes = map[string]string{
	"less-friction": "less friction: it runs faster and may need an added bend",
	"more-friction": "more friction: it may hang and then let go",
	"may-not-lock":  "it may not lock",
	"locks-late":    "it locks late: the fall is longer",
	"locks-early":   "it locks early: it may be hard to move",
}

// RopeCondition is rope.condition: on a rope that is not dry it says which way
// friction or locking changes, as the instructions say, or that they say
// nothing.
func RopeCondition(h *rig.HoldView, r rig.RopePart, _ *Context) []finding.Finding {
	f, changed := InCondition(h.Device, r)
	if !changed {
		return nil
	}
	f.Subject = h.Subject()
	return one(f)
}

// InCondition is rope.condition of a device on a rope, without who or what it is about; changed is
// false where the rope changes nothing.
func InCondition(device *rig.Piece, r rig.RopePart) (f finding.Finding, changed bool) {
	c := r.Item.Condition
	if c == "" || c == gear.Dry {
		return f, false
	}
	effect, stated := device.Model.Device.Effect(c)
	if stated && effect.Change == "no-change" {
		return f, false
	}
	change, source := changes[effect.Change], manufacturer(device.Model)
	if !stated {
		change = "the instructions as entered say nothing of it; friction and locking may change either way"
		source = byPhysics
	}
	return finding.Finding{
		Severity: finding.Look,
		What:     fmt.Sprintf("%s is %s in %s: %s.", r.Item.Label, c, device.Item.Label, change),
		Figures:  []finding.Figure{finding.State("rope", string(c)), finding.State("change", change)},
		Why:      "Friction and locking depend on the state of the sheath.",
		Remedy:   "Prove it on this rope near the ground with the backup on; or change the rope for a dry, sound one.",
		Source:   source,
	}, true
}

// InConditions are those of a device on some ropes, each state of a rope once.
func InConditions(device *rig.Piece, ropes []rig.RopePart) (found []finding.Finding) {
	var seen []gear.Condition
	for _, r := range ropes {
		if f, changed := InCondition(device, r); changed && !slices.Contains(seen, r.Item.Condition) {
			seen, found = append(seen, r.Item.Condition), append(found, f)
		}
	}
	return found
}

// RopeShort is rope.short: the lower end, knots, edges and loops taken off and
// stretch left out, must reach the lowest landing needed. With an end stop a
// look; without one, or where it ends above somebody who hangs on it, a stop.
func RopeShort(s *rig.StrandView, c *Context) []finding.Finding {
	l := s.Length
	if l.SpareM >= 0 {
		return nil
	}
	f := finding.Finding{
		Severity: finding.Stop, Subject: s.Subject(),
		What: fmt.Sprintf("%s ends at %v; it is %v too short for the landing at %v.", s.Name, l.EndM, -l.SpareM, s.ToM),
		Figures: []finding.Figure{
			finding.Fig("lower end", l.EndM), finding.Fig("landing needed", s.ToM), finding.Fig("spare", l.SpareM),
		},
		Why:     "A device runs off a rope that ends in the air.",
		Remedy:  fmt.Sprintf("Hang a rope at least %s longer, join one to it, or tie an end stop and plan a landing above it.", quantity.Up(-l.SpareM)),
		Source:  byPhysics,
		Working: l.Working(),
	}
	above := endsAbove(c.Rig, s)
	switch {
	case above != nil:
		f.What += fmt.Sprintf(" %s is said to hang on it at %v, below its end.", above.Name, above.AtM)
		f.Figures = append(f.Figures, finding.Fig("hangs at", above.AtM))
	case s.EndStop == rig.EndNone:
		f.What += " It has no end stop."
	default:
		f.Severity = finding.Look
		f.What += " Its end stop keeps a device on."
	}
	return one(f)
}

// endsAbove is somebody who is said to hang on a strand below its end.
func endsAbove(r *rig.Rig, s *rig.StrandView) *rig.PersonView {
	for _, p := range r.People {
		for _, h := range p.Holds {
			if h.Strand == s && p.AtM < s.Length.EndM {
				return p
			}
		}
	}
	return nil
}

// RopeEndStop is rope.end-stop: without a stopper knot or sewn end, at least the
// policy's reserve of rope must lie at the landing.
func RopeEndStop(s *rig.StrandView, c *Context) []finding.Finding {
	if s.EndStop != rig.EndNone || s.Length.SpareM >= c.Policy.ReserveM {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Stop, Subject: s.Subject(),
		What: fmt.Sprintf("%s has no end stop and %s; without one, %v of spare rope is required.", s.Name, spare(s.Length.SpareM), c.Policy.ReserveM),
		Figures: []finding.Figure{
			finding.Fig("spare", s.Length.SpareM), finding.Fig("required reserve", c.Policy.ReserveM), finding.State("end stop", "none"),
		},
		Why:     "A device can run off the end.",
		Remedy:  "Tie a stopper knot in the end, or use a rope with a sewn end.",
		Source:  byPolicy(c.Policy),
		Working: s.Length.Working(),
	})
}

func spare(m quantity.Metres) string {
	if m < 0 {
		return fmt.Sprintf("ends %v short of the landing", -m)
	}
	return fmt.Sprintf("%v of spare rope at the landing", m)
}

// RopeDamage is rope.damage: every damage mark must be taken out of the line by
// a knot that names it.
func RopeDamage(s *rig.StrandView, _ *Context) []finding.Finding {
	var found []finding.Finding
	for _, m := range s.Marks {
		if m.Kind != rig.DamageMark || s.Isolated(m.ID) {
			continue
		}
		subject := s.Subject()
		subject.Kind, subject.ID, subject.Label = finding.Mark, m.ID, "damage at "+m.HeightM.String()
		found = append(found, finding.Finding{
			Severity: finding.Stop, Subject: subject,
			What:    fmt.Sprintf("The damage on %s at %v is not tied out.", s.Name, m.HeightM),
			Figures: []finding.Figure{finding.Fig("height", m.HeightM), finding.State("isolating knot", "none")},
			Why:     "A damaged rope can fail under a load it would have carried whole.",
			Remedy:  fmt.Sprintf("Take the damage out with a loop knot within %v of it and mark the knot as isolating it, or change the rope.", rig.IsolatesWithin),
			Source:  byRule,
		})
	}
	return found
}

// RopeNoted is rope.noted: what the map of a rope in use has as damage, its strand names, so
// that rope.damage looks at it.
func RopeNoted(u use, c *Context) []finding.Finding {
	if !u.Item.Damaged() || damageNamed(u.Piece, c.Rig) {
		return nil
	}
	places := make([]string, len(u.Item.Noted.Damage))
	for i, d := range u.Item.Noted.Damage {
		places[i] = d.String()
	}
	where := strings.Join(places, ", ")
	return one(finding.Finding{
		Severity: finding.Stop, Subject: u.subject,
		What:    fmt.Sprintf("The map of %s has damage %s from its end A, and no strand names it.", u.Item.Label, where),
		Figures: []finding.Figure{finding.State("damage, from end A", where)},
		Why:     "A damaged rope can fail under a load it would have carried whole.",
		Remedy:  "Take another rope, or cut the damage out and record the cut; where it hangs and is tied out, enter it on the strand at its height.",
		Source:  byRule,
	})
}

// damageNamed reports whether the strands that a rope hangs in name as much damage, between its
// ends, as its map has.
func damageNamed(rope *rig.Piece, r *rig.Rig) bool {
	hangs := false
	for _, s := range r.Strands {
		for _, part := range s.Ropes {
			if part.Piece != rope {
				continue
			}
			marks := 0
			for _, m := range s.Marks {
				if m.Kind == rig.DamageMark && m.HeightM <= part.TopM && m.HeightM >= part.BottomM {
					marks++
				}
			}
			if hangs = true; marks < len(rope.Item.Noted.Damage) {
				return false
			}
		}
	}
	return hangs
}

// RopeKit is rope.kit: rope and device carry the same kit label, or none.
func RopeKit(h *rig.HoldView, r rig.RopePart, c *Context) []finding.Finding {
	rope, device := r.Item.Kit, h.Device.Item.Kit
	if rope == device {
		return nil
	}
	what := fmt.Sprintf("%s belongs to kit %s; %s belongs to none.", r.Item.Label, rope, h.Device.Item.Label)
	switch {
	case rope == "":
		what = fmt.Sprintf("%s belongs to kit %s; %s is not the rope of that kit.", h.Device.Item.Label, device, r.Item.Label)
	case device != "":
		what = fmt.Sprintf("%s belongs to kit %s, %s to kit %s.", r.Item.Label, rope, h.Device.Item.Label, device)
	}
	return one(finding.Finding{
		Severity: finding.Look, Subject: h.Subject(), What: what,
		Figures: []finding.Figure{finding.State("rope's kit", orNone(rope)), finding.State("device's kit", orNone(device))},
		Why:     "A kit is put together and proved as one; its rope may be chosen for its device, and others count on finding it whole.",
		Remedy:  "Use the rope of the kit with the kit, and another rope here.",
		Source:  byPolicy(c.Policy),
	})
}

func orNone(s string) string {
	if s == "" {
		return "none"
	}
	return s
}

// BrakeSeat is brake.seat: where the instructions say that park may need a
// further push with the rope in this state.
func BrakeSeat(h *rig.HoldView, r rig.RopePart, _ *Context) []finding.Finding {
	c := r.Item.Condition
	effect, told := h.Device.Model.Device.Effect(c)
	if !told || !effect.ParkNeedsPush || c != gear.Wet && c != gear.Muddy {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Look, Subject: h.Subject(),
		What:    fmt.Sprintf("%s is %s: the park position of %s may need a further push to seat.", r.Item.Label, c, h.Device.Item.Label),
		Figures: []finding.Figure{finding.State("rope", string(c)), finding.State("position", h.Position.Name)},
		Why:     "A brake that only looks parked lets the load run when the hand leaves.",
		Remedy:  "Push the handle on until park really seats, see it, and tie off before the hand leaves.",
		Source:  manufacturer(h.Device.Model),
	})
}
