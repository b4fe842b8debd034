package stance

import (
	"errors"
	"fmt"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
)

// Hold is one attachment of the body, by the tool that makes it; the zero Hold is
// none.
type Hold struct {
	There bool
	// Line and Span are where a device rides. With Clip the tool is clipped into the
	// mark that ends the span above (Span-1), or into the temporary loop.
	Line, Span int8
	Clip       ClipKind
	At         Cm
	Locked     bool
	Proved     bool
	Parked     bool
	// Tied: a parked descender that is tied off too.
	Tied bool
}

// ClipKind is what a lanyard is clipped into.
type ClipKind int8

const (
	NoClip ClipKind = iota
	// IntoMark: a knot's loop, or the anchor of a re-belay.
	IntoMark
	// IntoLoop: a loop that was tied for a moment.
	IntoLoop
)

// Loop is a loop knot that was tied for a moment: nothing runs over it either.
type Loop struct {
	There      bool
	Line, Span int8
	At         Cm
}

// OnFeet is what bears a body that stands in the slack loop of a re-belay.
const (
	NoTool  = -1
	InStrop = -2
)

// Stance is one body's state. Two stances are the same where they are equal.
type Stance struct {
	Grounded bool
	// At is the height of the ventral point, Sat where it was when it sat last.
	At, Sat Cm
	// Bears is the tool that bears the weight; NoTool on the ground, InStrop for who
	// stands in a re-belay's loop.
	Bears int8
	// Standing: the weight is in the foot loop.
	Standing bool
	// Worked: what the body came for is done.
	Worked bool
	// X is where it hangs sideways, Side the side it sat on last.
	X    Cm
	Side int8
	// Isolated is the damage that a knot takes out of the line by now, Eyed that of
	// which the knot leaves an eye: a bit for each.
	Isolated, Eyed uint32
	// Found are tools that were left unlocked or unproved before the first step, a bit
	// for each: they are put right, nobody left them so on the way.
	Found uint16
	Holds [MaxTools]Hold
	Loop  Loop
}

// Violation is a rule that a stance or a step breaks.
type Violation struct {
	Rule string `json:"rule"`
	Why  string `json:"why"`
	// Severity is stop, or look for what is shown and not refused.
	Severity finding.Severity `json:"severity" enum:"stop,look,note"`
}

// Broken is a rule of severity stop that a step or what it leads to breaks.
func Broken(rule, format string, args ...any) []Violation {
	return []Violation{{Rule: rule, Why: fmt.Sprintf(format, args...), Severity: finding.Stop}}
}

// Breach is what a replay found at a step.
type Breach struct {
	Step   int         `json:"step" doc:"number of the step, from 1; 0: the start"`
	Broken []Violation `json:"broken,omitempty"`
	// Impossible says why the step cannot be done at all; nothing after it is looked at.
	Impossible string `json:"impossible,omitempty"`
}

// Stops reports whether the step cannot be done, or breaks a rule that stops.
func (b *Breach) Stops() bool { return b.Impossible != "" || Stops(b.Broken) }

// broken is a rule that is broken. A search asks only whether, not why.
func (sc *Scene) broken(rule, format string, args ...any) []Violation {
	if sc.quiet {
		return someStop
	}
	return []Violation{{rule, fmt.Sprintf(format, args...), finding.Stop}}
}

// look is what is shown and does not stop.
func (sc *Scene) look(rule, format string, args ...any) []Violation {
	if sc.quiet {
		return someLook
	}
	return []Violation{{rule, fmt.Sprintf(format, args...), finding.Look}}
}

// impossible says why something cannot be done; a search needs no reason.
func (sc *Scene) impossible(format string, args ...any) error {
	if sc.quiet {
		return errCannot
	}
	return fmt.Errorf(format, args...)
}

var (
	someLook  = []Violation{{Severity: finding.Look}}
	someStop  = []Violation{{Severity: finding.Stop}}
	errCannot = errors.New("cannot be done")
)

// Quiet gives the scene for a search: what is wrong is stated without words.
func (sc *Scene) Quiet() *Scene {
	q := *sc
	q.quiet = true
	return &q
}

// Relaxed gives the scene without heights, reach, settle and parking: every action and every
// stance that the rules allow in the scene is allowed in it, and more besides, so that
// where it has no way the scene has none. Climb, Descend and Move change nothing in it
// that counts and need not be tried, nor need Park, Unpark, TieOff and UntieOff; ok is false where climbing takes a device past a
// mark, and this does not hold.
func (sc *Scene) Relaxed() (r *Scene, ok bool) {
	for i := range sc.Lines {
		for _, m := range sc.Lines[i].Marks {
			if m.Open && m.Sheath && sc.Schools.DamageAbove == "past" {
				return nil, false
			}
		}
	}
	r = sc.Quiet()
	r.relaxed = true
	return r, true
}

// Flat packs a stance without heights and parking, as those of a relaxed scene are distinguished.
func (s *Stance) Flat() Packed {
	f := *s
	f.At, f.Sat, f.Loop.At = 0, 0, 0
	for i := range f.Holds {
		f.Holds[i].At, f.Holds[i].Parked, f.Holds[i].Tied = 0, false, false
	}
	return f.Pack()
}

// counts reports whether a hold is one of the two that the rule asks for. A hand
// ascender never is.
func (sc *Scene) counts(s *Stance, i int) bool {
	h, t := &s.Holds[i], &sc.Tools[i]
	switch {
	case !h.There || !h.Locked || !h.Proved:
		return false
	case t.Class == gear.HandAscender:
		return false
	case t.Class == gear.Descender && !h.Parked && int(s.Bears) != i && !sc.relaxed:
		// In hold it counts while it bears, with the hand on the control strand.
		return false
	}
	return sc.bearable(s, h) && !sc.leftBehind(s, h)
}

// leftBehind reports a hold that is more than an arm's reach aside of who hangs in a
// sling: along the structure two slings hold, not a rope that one would swing onto.
func (sc *Scene) leftBehind(s *Stance, h *Hold) bool {
	if s.Grounded || s.Bears < 0 || sc.Lines[s.Holds[s.Bears].Line].Role != Structure {
		return false
	}
	// What one would swing onto hangs under its own anchor, however near to another that is.
	aside := sc.sideOf(h).anchor - s.X
	return max(aside, -aside) > sc.Out
}

// bearable reports whether nothing is wrong with what a hold is on.
func (sc *Scene) bearable(s *Stance, h *Hold) bool {
	span := int(h.Span)
	if h.Clip == IntoMark {
		switch m := &sc.Lines[h.Line].Marks[span-1]; m.Kind {
		case rig.RebelayMark, SlingMark:
			return true
		case rig.DeviationMark:
			// Its anchor is a restraint, never a hold.
			return false
		default:
			span--
		}
	}
	return sc.sound(s, int(h.Line), span)
}

// thirdHold reports whether a hand ascender catches, by the school that lets it.
func (sc *Scene) thirdHold(s *Stance, i int) bool {
	h := &s.Holds[i]
	return sc.third && sc.Tools[i].Class == gear.HandAscender && h.There && h.Locked && h.Proved && sc.bearable(s, h)
}

const (
	OfHold   PointKind = "hold"
	OfStrand PointKind = "strand"
	OfAnchor PointKind = "anchor"
)

// Check applies every rule on a stance: the two-line rule first.
func (sc *Scene) Check(s *Stance) []Violation { return sc.check(s, nil) }

// check is Check of a stance that another came before: what was in breach then may
// still be.
func (sc *Scene) check(s, before *Stance) []Violation {
	if s.Grounded {
		return nil
	}
	var found []Violation
	found = append(found, sc.pointsTwo(s, before)...)
	for i := range sc.Tools {
		if !s.Holds[i].There {
			continue
		}
		switch sc.Tools[i].Class {
		case gear.BackupDevice:
			if !sc.relaxed {
				found = append(found, sc.backupHeight(s, i)...)
			}
		case gear.HandAscender:
			if !sc.relaxed {
				found = append(found, sc.handReach(s, i)...)
			}
		case gear.Descender:
			found = append(found, sc.controlStrand(s, i)...)
		}
	}
	return found
}

// controlStrand is device.foul on a stance: nothing that grips is on the control
// strand of a descender.
func (sc *Scene) controlStrand(s *Stance, i int) []Violation {
	d := &s.Holds[i]
	for j := range sc.Tools {
		o := &s.Holds[j]
		if c := sc.Tools[j].Class; !o.There || o.Clip != NoClip || o.Line != d.Line || c != gear.ChestAscender && c != gear.HandAscender {
			continue
		}
		if sc.sideOf(o).id != sc.sideOf(d).id {
			// Beyond a re-belay it hangs from another anchor.
			continue
		}
		if o.Span > d.Span || !sc.relaxed && o.Span == d.Span && o.At < d.At {
			return sc.broken("device.foul", "%s is below %s, on its control strand", sc.Tools[j].Label, sc.Tools[i].Label)
		}
	}
	return nil
}

// backupHeight is device.height and moves.backup-slack: a backup device is from its
// harness attachment up to reach, never below descender or chest ascender, and its
// links are slack while it does not bear. Hard under a mark it may be a knot's length
// below the attachment where lowUnderMark lets it: look.
func (sc *Scene) backupHeight(s *Stance, i int) []Violation {
	h, t := &s.Holds[i], &sc.Tools[i]
	if int(s.Bears) == i {
		return nil
	}
	sternal := s.At + Sternal
	low, height := sternal, sc.drawn(s, sc.sideOf(h), h.At)
	for j := range sc.Tools {
		o := &s.Holds[j]
		// What is on another set of strands, or below the body's own mark, is being
		// changed over to.
		if c := sc.Tools[j].Class; o.There && o.Clip == NoClip && (c == gear.Descender || c == gear.ChestAscender) && int(s.Bears) == j {
			low = max(low, o.At)
		}
	}
	switch {
	case height >= far:
		return sc.broken("moves.backup-slack", "%s hangs %v aside on a strand that does not come across so far", t.Label, max(sc.aside(s, sc.sideOf(h)), -sc.aside(s, sc.sideOf(h))).M())
	case sc.tightAt(s, i) > s.At:
		return sc.broken("moves.backup-slack", "%s is %v above its attachment and its links are %v: they would come tight", t.Label, (height - sternal).M(), t.Length.M())
	case height >= low:
		return nil
	case height >= sternal-KnotLen-Snug && sc.lowUnderMark(s, i):
		return sc.look("device.height", "%s is %v below its attachment, hard under its knot", t.Label, (low - height).M())
	}
	return sc.broken("device.height", "%s is %v below where it must be", t.Label, (low - height).M())
}

// lowUnderMark reports whether a backup device may be a knot's length below its
// attachment: it is as high as its mark lets it, and something else covers the body
// meanwhile, a second backup device or a lanyard; or it is under a knot that was passed on
// the way down, and a descender bears that goes on down, or is sat onto next. Who climbs with one backup
// device alone stops before it is below.
func (sc *Scene) lowUnderMark(s *Stance, i int) bool {
	h := &s.Holds[i]
	if h.Span == 0 {
		return false
	}
	if _, high := sc.Lines[h.Line].span(int(h.Span)); h.At < high-Snug {
		return false
	}
	k := sc.Lines[h.Line].Marks[h.Span-1].Kind
	if knot := k == rig.KnotMark || k == rig.JoinMark; knot && s.Bears >= 0 && sc.Tools[s.Bears].Class == gear.Descender {
		return true
	}
	for j := range sc.Tools {
		switch c := sc.Tools[j].Class; {
		case j == i || !sc.counts(s, j):
		case c == gear.BackupDevice || c == gear.Lanyard, c == gear.Descender && s.Standing:
			return true
		}
	}
	return false
}

// handReach is moves.reach: a hand ascender stays in reach, and the lanyard that
// keeps it slack, once the body has sat down.
func (sc *Scene) handReach(s *Stance, i int) []Violation {
	h := &s.Holds[i]
	if s.Standing || sc.tightAt(s, i) <= s.At {
		return nil
	}
	return sc.broken("moves.reach", "%s is %v above on its strand: out of reach, and its lanyard comes tight", sc.Tools[i].Label, (h.At - s.At).M())
}

// Loose is connector.gate and service.function-check: whatever is put on is locked
// and proved before anything else is done. But is what is in hand; NoTool for none.
// What was loose from the start is shown until it is put right.
func (sc *Scene) Loose(s *Stance, but int) []Violation {
	var found []Violation
	for i := range sc.Tools {
		h := &s.Holds[i]
		if !h.There || i == but || h.Locked && h.Proved {
			continue
		}
		tell := sc.broken
		if s.Found&(1<<i) != 0 {
			tell = sc.look
		}
		if !h.Locked {
			found = append(found, tell("connector.gate", "the connector of %s is left unlocked", sc.Tools[i].Label)...)
		} else {
			found = append(found, tell("service.function-check", "%s is not proved", sc.Tools[i].Label)...)
		}
	}
	return found
}

// Start notes what is loose in a stance that something begins with.
func (sc *Scene) Start(s *Stance) {
	for i := range sc.Tools {
		if h := &s.Holds[i]; h.There && !(h.Locked && h.Proved) {
			s.Found |= 1 << i
		}
	}
}

// Drop is how far the body would fall if what bears it let go, onto the first of
// the other holds that count; 0 where nothing bears.
func (sc *Scene) Drop(s *Stance) Cm {
	if s.Grounded || s.Bears == NoTool {
		return 0
	}
	first, found := Cm(0), false
	for i := range sc.Tools {
		if i == int(s.Bears) || !sc.counts(s, i) {
			continue
		}
		if d := max(0, s.At-sc.tightAt(s, i)); !found || d < first {
			first, found = d, true
		}
	}
	return first
}
