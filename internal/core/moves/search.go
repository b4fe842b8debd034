// Package moves finds sequences of actions: the cheapest way from one stance to
// another with the kit at hand, where no step breaks a rule; and it says what would
// have to be there where there is none. No sequence is stored: a move is a start
// and a goal.
//
// Replay walks any list of actions by the rules alone and shares nothing of the
// search.
package moves

import (
	"math/bits"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
)

// ErrNone is returned where no sequence leads to the goal with this kit, among the
// heights that are considered; ErrUndecided where the search met its bound first.
var (
	ErrNone      = search.ErrNone
	ErrUndecided = search.ErrUndecided
)

// MaxStates bounds the search for a move, triedStates that with one addition; a request
// expands no more than MaxStates in sum.
const MaxStates, triedStates = 400_000, 20_000

// step is an action with the stance after it.
type step struct {
	action stance.Action
	after  stance.Stance
	broken []stance.Violation
	// from is the side of what is taken off.
	from int8
}

const (
	// Of a metre climbed and a metre descended, of one more where the backup is moved by
	// hand, one for one.
	climbMetre, descendMetre, byHandMetre = 6.0, 0.7, 5.0
	// A climb on a descender, parked at every stroke.
	strokeMetre = 8.0
	// The strands of another side are drawn across, an eye is tied too.
	across, eye = 10.0, 30.0
	// One more device of a class is fetched from the harness.
	another = 1.0
)

// Seconds is how long an action takes from a stance.
func Seconds(sc *stance.Scene, from, to *stance.Stance, a *stance.Action) float64 {
	t := sc.Pace.Seconds[a.Do]
	switch way := abs(float64((to.At - from.At).M())); a.Do {
	case stance.Climb:
		t += climbMetre * way
		if sc.Tools[from.Bears].Class == gear.Descender && sc.Schools.Stroke == "every" {
			t += strokeMetre * way
		}
	case stance.Descend:
		t += descendMetre * way
		if sc.Schools.BackupDown == "one-for-one" && camOn(sc, from) {
			t += byHandMetre * way
		}
	case stance.PutOn:
		if i := sc.Line(a.Line); from.Bears >= 0 && sc.Across(from, i, a.Span) {
			t += across
		}
	case stance.Isolate:
		if a.Eye {
			t += eye
		}
	}
	return t
}

// earlier counts the tools of the same class that come first: those on the rope
// before those on the harness.
func earlier(sc *stance.Scene, t int) int {
	n := 0
	for i := range max(t, 0) {
		if sc.Tools[i].Class == sc.Tools[t].Class {
			n++
		}
	}
	return n
}

// backedUp reports whether a backup device is on.
func backedUp(sc *stance.Scene, s *stance.Stance) bool {
	for i := range sc.Tools {
		if s.Holds[i].There && sc.Tools[i].Class == gear.BackupDevice {
			return true
		}
	}
	return false
}

// camOn reports whether a cam backup is on, that does not follow by itself.
func camOn(sc *stance.Scene, s *stance.Stance) bool {
	for i := range sc.Tools {
		if b := sc.Tools[i].Model.Backup; s.Holds[i].There && b != nil && b.Kind == gear.Cam {
			return true
		}
	}
	return false
}

func abs(f float64) float64 {
	if f < 0 {
		return -f
	}
	return f
}

// cost is the weighted sum by which plans are compared: time, holds handled, what
// would be fallen if what bears fails, and what is only just allowed.
func cost(sc *stance.Scene, from, to *stance.Stance, a *stance.Action, looks int) float64 {
	c := Seconds(sc, from, to, a)
	if from.Standing {
		// Standing in a foot loop is hard work, with little in the hands.
		c *= sc.Pace.Effort
	}
	switch a.Do {
	case stance.PutOn, stance.TakeOff, stance.Clip, stance.Unclip:
		c += sc.Pace.Handled
	}
	if a.Do == stance.PutOn {
		// Of two ways alike the one with what was on already is taken.
		t := sc.Tool(a.Item)
		c += another * float64(earlier(sc, t))
		if from.Grounded && sc.Tools[t].Class != gear.BackupDevice && !backedUp(sc, from) {
			// On the ground it is all the same; people put the backup on first.
			c += another
		}
	}
	return c + sc.Pace.FallMetre*float64(sc.Drop(to).M()) + sc.Pace.Look*float64(looks)
}

// The methods that search.Space asks for.

func (g *generator) Pack(s *stance.Stance) stance.Packed {
	if g.relaxed {
		return s.Flat()
	}
	return s.Pack()
}

func (g *generator) Unpack(k *stance.Packed, s *stance.Stance) { k.Unpack(s) }

func (g *generator) Actions(s *stance.Stance) []stance.Action { return g.actions(s) }

func (g *generator) Do(s *stance.Stance, a *stance.Action, next *stance.Stance) (float64, bool) {
	to, broken, err := g.sc.Do(*s, *a)
	if err != nil || stance.Stops(broken) {
		return 0, false
	}
	*next = to
	if g.relaxed {
		return 0, true
	}
	return cost(g.sc, s, next, a, len(broken)), true
}

func (g *generator) Judge(next, before *stance.Stance, a *stance.Action) (float64, bool) {
	judged := g.sc.Judge(next, before, *a)
	return g.sc.Pace.Look * float64(len(judged)), !stance.Stops(judged)
}

func (g *generator) LowerBound(s *stance.Stance) float64 {
	if g.relaxed {
		return 0
	}
	return g.goal.lowerBound(g.sc, s)
}

func (g *generator) Reached(s *stance.Stance) bool { return g.goal.is(g.sc, s) }

// rest is how a body hangs between moves.
type rest string

const (
	onGround    rest = "on the ground"
	onTop       rest = "at the top"
	onDescender rest = "on the descender"
	onAscenders rest = "on the ascenders"
	onSlings    rest = "on lanyards in slings"
	// onSound is any way of hanging whose weight is on nothing that is hurt.
	onSound rest = "on a sound strand"
)

// goal is where a move ends: a way of hanging, at or beyond a height, with what
// rides the rope beyond some marks.
type goal struct {
	rest rest
	way  int
	to   stance.Cm
	// spans are those that devices must be on, or beyond on the way, by line; near are
	// those from which they get there without being taken off.
	spans, near []int
	set         int
	// isolated is the damage that must be tied out.
	isolated uint32
	// worked: what the body came for is done, and the descender ready to go on.
	worked bool
	// plain: nothing is hurt where the search starts, so that every stance on the way is
	// held twice over; side is the one that it ends on.
	plain bool
	side  int8
	// crossed: on the way descenders and backup devices may be on either strand; the goal
	// wants each on its own again.
	crossed bool
	// simple: two strands, and nothing else to hang on.
	simple bool
	// sling is the one that the weight is at, slings that they are used on the way.
	sling  int
	slings bool
	// ahead is the next sling: a lanyard is in it already, and it goes on from there,
	// whatever else is on; 0 at the last. off: nothing is on a strand any more.
	ahead int
	off   bool
}

// beyond reports whether a span is where the goal wants a device of the line.
func (g *goal) beyond(sc *stance.Scene, line, span int8, spans []int) bool {
	switch {
	case sc.Lines[line].Set != g.set:
		return false
	case g.way < 0:
		return int(span) >= spans[line]
	case g.way > 0:
		return int(span) <= spans[line]
	}
	return true
}

var (
	restsOnDescender = []gear.Class{gear.Descender, gear.BackupDevice}
	restsOnAscenders = []gear.Class{gear.ChestAscender, gear.HandAscender, gear.BackupDevice}
	restsOnSlings    = []gear.Class{gear.Lanyard}
)

func (r rest) classes() []gear.Class {
	switch r {
	case onDescender:
		return restsOnDescender
	case onAscenders:
		return restsOnAscenders
	case onSlings:
		return restsOnSlings
	}
	return nil
}

func (r rest) put() stance.Do {
	if r == onSlings {
		return stance.Clip
	}
	return stance.PutOn
}

// is reports whether a stance is the goal.
func (g *goal) is(sc *stance.Scene, s *stance.Stance) bool {
	if g.rest == onGround && !s.Grounded || g.rest != onGround && (s.Grounded || s.Standing || s.Bears < 0) {
		return false
	}
	if g.way > 0 && s.At < g.to || g.way < 0 && s.At > g.to {
		return false
	}
	if g.rest == onSound {
		return sc.Sound(s)
	}
	if s.Bears >= 0 && sc.Tools[s.Bears].Class != g.rest.classes()[0] {
		return false
	}
	if g.rest == onSlings && (sc.Lines[s.Holds[s.Bears].Line].Role != stance.Structure || int(s.Holds[s.Bears].Span) != g.sling || !g.reaches(sc, s)) {
		return false
	}
	// Nothing ends on a single point of attachment, however it began; but where nothing better is left.
	if (g.rest == onDescender || g.rest == onAscenders) && sc.InBreach(s) {
		return false
	}
	return g.handling(sc, s, g.spans) == 0 && !(g.crossed && stray(sc, s))
}

// stray reports whether a device is on the strand of the other kind.
func stray(sc *stance.Scene, s *stance.Stance) bool {
	for i := range sc.Tools {
		if h := &s.Holds[i]; h.There && h.Clip == stance.NoClip && sc.Lines[h.Line].Role != roleOf(&sc.Tools[i]) {
			return true
		}
	}
	return false
}

// roleOf is the strand that a device belongs on.
func roleOf(t *stance.Tool) rig.Role {
	if t.Class == gear.BackupDevice {
		return rig.Backup
	}
	return rig.Main
}

// reaches reports whether a lanyard is in the sling ahead and locked, where there is one.
func (g *goal) reaches(sc *stance.Scene, s *stance.Stance) bool {
	for i := range sc.Tools {
		h := &s.Holds[i]
		if h.There && h.Locked && h.Clip == stance.IntoMark && sc.Lines[h.Line].Role == stance.Structure && int(h.Span) == g.ahead {
			return true
		}
	}
	return g.ahead == 0
}

// handling is a lower bound on what is left of putting on, taking off and tying.
func (g *goal) handling(sc *stance.Scene, s *stance.Stance, spans []int) float64 {
	switch {
	case g.rest == onSound, g.ahead > 0 && !g.off:
		return 0
	case g.ahead > 0:
		return offRopes(sc, s)
	}
	left := 0.0
	var have [3]bool
	classes := g.rest.classes()
	for i := range sc.Tools {
		h := &s.Holds[i]
		if !h.There {
			continue
		}
		if !h.Locked {
			left += sc.Pace.Seconds[stance.Lock]
		}
		if !h.Proved {
			left += sc.Pace.Seconds[stance.Prove]
		}
		n := -1
		for j, c := range classes {
			if sc.Tools[i].Class == c && g.suits(sc, h, spans) {
				n = j
			}
		}
		switch {
		case n >= 0 && (!have[n] || g.rest == onSlings):
			have[n] = true
		case h.Clip != stance.NoClip:
			left += sc.Pace.Hold(stance.Unclip)
		default:
			left += sc.Pace.Hold(stance.TakeOff)
		}
	}
	for j := range classes {
		if !have[j] {
			left += sc.Pace.Hold(g.rest.put())
		}
	}
	if s.Loop.There {
		left += sc.Pace.Seconds[stance.Untie]
	}
	left += sc.Pace.Seconds[stance.Isolate] * float64(bits.OnesCount32(g.isolated&^s.Isolated))
	if g.worked {
		left += g.toWork(sc, s, spans)
	}
	return left
}

// offRopes is a lower bound on what is left of taking everything off the strands.
func offRopes(sc *stance.Scene, s *stance.Stance) float64 {
	left := 0.0
	for i := range sc.Tools {
		if h := &s.Holds[i]; h.There && sc.Lines[h.Line].Role != stance.Structure {
			left += sc.Pace.Hold(stance.TakeOff)
		}
	}
	return left
}

// suits reports whether a hold of the right class is where the goal wants it.
func (g *goal) suits(sc *stance.Scene, h *stance.Hold, spans []int) bool {
	if g.rest == onSlings {
		return h.Clip == stance.IntoMark && sc.Lines[h.Line].Role == stance.Structure
	}
	return h.Clip == stance.NoClip && g.beyond(sc, h.Line, h.Span, spans)
}

// toWork is what is left of stopping, working and going on. One goes on with what is where the
// goal wants it, whether it bears now or not; where two are, either may be taken off.
func (g *goal) toWork(sc *stance.Scene, s *stance.Stance, spans []int) float64 {
	left := 0.0
	if !s.Worked {
		left += sc.Pace.Seconds[stance.Work]
	}
	var on *stance.Hold
	for i := range sc.Tools {
		h := &s.Holds[i]
		if !h.There || sc.Tools[i].Class != g.rest.classes()[0] || !g.suits(sc, h, spans) {
			continue
		}
		if on != nil {
			return left
		}
		on = h
	}
	if on != nil && on.Parked {
		left += sc.Pace.Seconds[stance.Unpark]
		if on.Tied {
			left += sc.Pace.Seconds[stance.UntieOff]
		}
	}
	return left
}
