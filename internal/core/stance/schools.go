package stance

import (
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
)

// kind is moves.backup-kind: a site may ask for one kind of backup device.
func (sc *Scene) kind(t int) []Violation {
	b := sc.Tools[t].Model.Backup
	if asked := sc.Schools.BackupKind; asked != "any" && sc.Tools[t].Class == gear.BackupDevice && b != nil && string(b.Kind) != asked {
		return sc.broken("moves.backup-kind", "%s is a %s, and a %s is required", sc.Tools[t].Label, b.Kind, asked)
	}
	return nil
}

// towed is device.tow: by the school that tows, only a model that allows it is.
func (sc *Scene) towed(s *Stance) []Violation {
	if sc.Schools.BackupDown != "towed" {
		return nil
	}
	for i := range sc.Tools {
		b := sc.Tools[i].Model.Backup
		if s.Holds[i].There && b != nil && b.Kind == gear.Cam && !b.TowedByCord {
			return sc.broken("device.tow", "%s is not to be towed by its cord", sc.Tools[i].Label)
		}
	}
	return nil
}

// loads is rope.damage on a step: weight on a strand with damage above. By the school
// that goes past a hurt sheath it is shown and not refused.
func (sc *Scene) loads(s *Stance, t int) []Violation {
	h := &s.Holds[t]
	if sc.bearable(s, h) || h.Clip == IntoMark {
		return nil
	}
	past := true
	for n := int(h.Span); n > 0 && sc.Lines[h.Line].Marks[n-1].Kind != rig.RebelayMark; n-- {
		past = past && (!sc.Lines[h.Line].Marks[n-1].open(s) || sc.mayPass(s, int(h.Line), n))
	}
	if past {
		return sc.look("rope.damage", "in breach: %s loads a strand whose sheath is hurt above; %s", sc.Tools[t].Label, sc.Schools.DamageReason)
	}
	return sc.broken("rope.damage", "%s loads a strand that is damaged above", sc.Tools[t].Label)
}

// stays is moves.breach: who is on a single point of attachment does not go along the rope, nor works,
// but puts that right or waits for help; except for going past a hurt sheath, by
// school.
func (sc *Scene) stays(s *Stance) []Violation {
	if !sc.InBreach(s) || !sc.bearable(s, &s.Holds[s.Bears]) {
		return nil
	}
	return sc.broken("moves.breach", "%s is on a single point of attachment: add a second one first, or stay and wait", sc.Name)
}

// knotOrder is moves.knot-order: by school the main's knot is passed first, or the
// backup's, where both are within reach of each other.
func (sc *Scene) knotOrder(s *Stance, t, line, span int) []Violation {
	class := sc.Tools[t].Class
	switch first := sc.Schools.KnotOrder; {
	case first == "main-first" && class == gear.BackupDevice:
	case first == "backup-first" && (class == gear.Descender || class == gear.ChestAscender):
	default:
		return nil
	}
	for i := range sc.Tools {
		o := &s.Holds[i]
		same := (class == gear.BackupDevice) == (sc.Tools[i].Class == gear.BackupDevice)
		if !o.There || !same || o.Clip != NoClip || int(o.Line) != line || int(o.Span) == span {
			continue
		}
		for n := min(int(o.Span), span); n < max(int(o.Span), span); n++ {
			if other := sc.before(s, line, n, span > int(o.Span), class != gear.BackupDevice); other != "" {
				return sc.broken("moves.knot-order", "%s goes past its knot before %s has been passed", sc.Tools[t].Label, other)
			}
		}
	}
	return nil
}

// Ordered reports whether the schools let a device of a class go onto a span, on the
// way down or up: not beyond a knot before the one that comes first.
func (sc *Scene) Ordered(s *Stance, t, line, span int, down bool) bool {
	backup := sc.Tools[t].Class == gear.BackupDevice
	switch first := sc.Schools.KnotOrder; {
	case first == "main-first" && backup:
	case first == "backup-first" && (sc.Tools[t].Class == gear.Descender || sc.Tools[t].Class == gear.ChestAscender):
	default:
		return true
	}
	from, to := span, len(sc.Lines[line].Marks)
	if down {
		from, to = 0, span
	}
	for n := from; n < to; n++ {
		if k := sc.Lines[line].Marks[n].Kind; (k == rig.KnotMark || k == rig.JoinMark) && sc.before(s, line, n, down, !backup) != "" {
			return false
		}
	}
	return true
}

// before gives the knot of the other strand beside a mark that nothing has passed
// yet, on the way down or up; empty for none.
func (sc *Scene) before(s *Stance, line, mark int, down, backup bool) string {
	at := sc.Lines[line].Marks[mark].At
	for l := range sc.Lines {
		o := &sc.Lines[l]
		if l == line || o.Set != sc.Lines[line].Set {
			continue
		}
		for n, m := range o.Marks {
			if m.Kind != rig.KnotMark && m.Kind != rig.JoinMark || m.At > at+sc.Up || m.At < at-sc.Up {
				continue
			}
			passed := false
			for i := range sc.Tools {
				h := &s.Holds[i]
				if h.There && h.Clip == NoClip && int(h.Line) == l && (sc.Tools[i].Class == gear.BackupDevice) == backup && sc.Tools[i].Class != gear.HandAscender {
					passed = passed || (int(h.Span) > n) == down
				}
			}
			if !passed {
				return m.Name
			}
		}
	}
	return ""
}

// knotUp is moves.knot-up: by school a descender is on below the knot until the chest
// ascender bears above it.
func (sc *Scene) knotUp(s *Stance, t int) []Violation {
	if sc.Schools.KnotUp != "descender" || sc.Tools[t].Class != gear.ChestAscender || !s.Standing || s.Bears < 0 || s.Holds[s.Bears].Span >= s.Holds[t].Span {
		return nil
	}
	for i := range sc.Tools {
		if h := &s.Holds[i]; h.There && sc.Tools[i].Class == gear.Descender && h.Line == s.Holds[t].Line && (h.Parked || sc.relaxed) {
			return nil
		}
	}
	return sc.broken("moves.knot-up", "%s comes off below the knot and no descender is on", sc.Tools[t].Label)
}

// lanyardFree refuses one lanyard for two things at once.
func (sc *Scene) lanyardFree(s *Stance, t int) error {
	if o := sc.Tools[t].Shared; o >= 0 && s.Holds[o].There {
		return sc.impossible("%s is in use, and keeps the hand ascender too", sc.Tools[o].Label)
	}
	for i := range sc.Tools {
		if sc.Tools[i].Shared == t && s.Holds[i].There {
			return sc.impossible("%s keeps the hand ascender", sc.Tools[t].Label)
		}
	}
	return nil
}
