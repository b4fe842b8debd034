package stance

import (
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// Do is what an action is: a row of manoeuvre.Person.
type Do = manoeuvre.PersonDo

const (
	PutOn     Do = "put-on"
	TakeOff   Do = "take-off"
	Lock      Do = "lock"
	Prove     Do = "prove"
	Clip      Do = "clip"
	Unclip    Do = "unclip"
	Move      Do = "move"
	Stand     Do = "stand"
	Sit       Do = "sit"
	LowerOnto Do = "lower-onto"
	Climb     Do = "climb"
	Descend   Do = "descend"
	Park      Do = "park"
	Unpark    Do = "unpark"
	Tie       Do = "tie"
	Untie     Do = "untie"
	Land      Do = "land"
	// Pass puts the connector of a deviation beyond the body, on one strand.
	Pass Do = "pass"
	// TieOff ties the control strand of a parked descender off, UntieOff takes that out.
	TieOff   Do = "tie-off"
	UntieOff Do = "untie-off"
	// Work is what the body came for.
	Work Do = "work"
	// Isolate ties a knot with damage in its loop.
	Isolate Do = "isolate"
)

// Action is one action with what it needs to be told; a list of them is a step
// list, as it is written, typed and exchanged.
type Action struct {
	Do Do `json:"do"`
	// Item is the tool; of stand, the hand ascender, or none for a re-belay's loop.
	Item string `json:"item,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Line string `json:"strand,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	// Span is the stretch of the strand between two marks, numbered from the top.
	Span int `json:"span,omitempty" minimum:"0" maximum:"200"`
	// AtM is the height the device is put at or moved to, or the body's after a climb
	// or descent.
	AtM quantity.Metres `json:"at_m,omitempty" minimum:"0" maximum:"2000"`
	// Into names what a lanyard is clipped into.
	Into string `json:"into,omitempty" enum:"mark,loop"`
	// Eye is of an isolating knot: a second knot leaves an eye to clip into.
	Eye bool `json:"eye,omitempty"`
	// Unlocked and Unproved leave out what putting on and clipping includes.
	Unlocked bool `json:"unlocked,omitempty" doc:"the connector is left unlocked"`
	Unproved bool `json:"unproved,omitempty" doc:"the function check is left out"`
}

// Apply does an action. What keeps it from being done at all is in the error; what
// rules the step and the stance after it break, in the violations.
func (sc *Scene) Apply(s Stance, a Action) (Stance, []Violation, error) {
	next, broken, err := sc.Do(s, a)
	if err != nil {
		return s, nil, err
	}
	return next, append(broken, sc.Judge(&next, &s, a)...), nil
}

// Do does an action and asks only the rules on the step itself; Judge those on the
// stance that it leads to. A search that has been at a stance before needs no judging.
func (sc *Scene) Do(s Stance, a Action) (Stance, []Violation, error) {
	t := NoTool
	if a.Item != "" {
		if t = sc.Tool(a.Item); t < 0 {
			return s, nil, sc.no("%s is not in the kit", a.Item)
		}
	}
	next, broken, err := sc.apply(s, a, t)
	if err == nil {
		err = sc.tight(&next)
	}
	return next, broken, err
}

// Judge asks the rules on a stance that an action has led to from another.
func (sc *Scene) Judge(next, before *Stance, a Action) []Violation {
	inHand := NoTool
	switch a.Do {
	case PutOn, Clip, Lock, Prove:
		inHand = sc.Tool(a.Item)
	}
	return append(sc.Loose(next, inHand), sc.check(next, before)...)
}

// tight refuses a stance in which a hold that does not bear is too short to be
// slack: it would bear. The links of a backup device are judged by a rule.
func (sc *Scene) tight(s *Stance) error {
	if s.Grounded || sc.relaxed {
		return nil
	}
	for i := range sc.Tools {
		h := &s.Holds[i]
		if c := sc.Tools[i].Class; !h.There || int(s.Bears) == i || c == gear.HandAscender || c == gear.BackupDevice {
			continue
		}
		if sc.tightAt(s, i) > s.At+Slackness {
			return sc.no("%s would come tight", sc.Tools[i].Label)
		}
	}
	return nil
}

func (sc *Scene) apply(s Stance, a Action, t int) (Stance, []Violation, error) {
	switch a.Do {
	case PutOn:
		return sc.putOn(s, a, t)
	case TakeOff, Unclip:
		return sc.takeOff(s, a, t)
	case Clip:
		return sc.clip(s, a, t)
	case Lock, Prove, Park, Unpark:
		return sc.set(s, a, t)
	case Move:
		return sc.move(s, a, t)
	case Stand:
		return sc.stand(s, a, t)
	case Sit, LowerOnto:
		return sc.bear(s, a, t)
	case Climb:
		return sc.climb(s, a)
	case Descend:
		return sc.descend(s, a)
	case Tie:
		return sc.tie(s, a)
	case Untie:
		return sc.untie(s)
	case Land:
		return sc.land(s)
	case Pass:
		return sc.pass(s, a)
	case TieOff, UntieOff:
		return sc.tieOff(s, a, t)
	case Work:
		return sc.work(s)
	case Isolate:
		return sc.isolate(s, a)
	}
	return s, nil, sc.no("there is no action %q", a.Do)
}

// handsFree wants the descender that bears parked: both hands are needed.
func (sc *Scene) handsFree(s *Stance) []Violation {
	if b := s.Bears; b >= 0 && !sc.relaxed && sc.Tools[b].Class == gear.Descender && !s.Holds[b].Parked && !(sc.near && sc.Tools[b].stops()) {
		return sc.broken("device.mode", "%s bears and is not parked while the hand leaves its control strand", sc.Tools[b].Label)
	}
	return nil
}

// stops reports whether a device has a position, not parked, in which it stops by
// itself: it is left in that.
func (t *Tool) stops() bool {
	if t.Model.Device == nil {
		return false
	}
	for _, p := range t.Model.Device.Positions {
		if !p.Parked && p.HandsOff == gear.Stops {
			return true
		}
	}
	return false
}

func (sc *Scene) inReach(s *Stance, at Cm) error {
	if !sc.relaxed && (at > s.At+sc.Up || at < s.At-ReachDown) {
		return sc.no("%v is out of reach", at.M())
	}
	return nil
}

// onLine finds the line and checks that a height is on the span.
func (sc *Scene) onLine(a Action) (line int, at Cm, err error) {
	line, at = sc.Line(a.Line), ToCm(a.AtM)
	if line < 0 {
		return 0, 0, sc.no("there is no strand %q", a.Line)
	}
	l := &sc.Lines[line]
	if a.Span < 0 || a.Span > len(l.Marks) {
		return 0, 0, sc.no("%s has no span %d", l.Name, a.Span)
	}
	if low, high := l.span(a.Span); !sc.relaxed && (at < low || at > high) {
		return 0, 0, sc.no("%v is not on span %d of %s, which is from %v to %v", at.M(), a.Span, l.Name, low.M(), high.M())
	}
	return line, at, nil
}

// free wants room for a device at a height of a span.
func (sc *Scene) free(s *Stance, line, span int, at Cm, but int) error {
	if sc.relaxed {
		return nil
	}
	for i := range sc.Tools {
		h := &s.Holds[i]
		if i != but && h.There && h.Clip == NoClip && int(h.Line) == line && int(h.Span) == span && h.At-at < Apart && at-h.At < Apart {
			return sc.no("%s is there already", sc.Tools[i].Label)
		}
	}
	if l := s.Loop; l.There && int(l.Line) == line && int(l.Span) == span && l.At-at < KnotHalf && at-l.At < KnotHalf {
		return sc.no("the loop is there")
	}
	return nil
}

func (sc *Scene) spare(s *Stance, t int) error {
	n := sc.Connectors
	for i := range sc.Tools {
		if s.Holds[i].There {
			n -= sc.Tools[i].Connectors
		}
	}
	if n < sc.Tools[t].Connectors {
		return sc.no("no connector is left for %s", sc.Tools[t].Label)
	}
	return nil
}

func (sc *Scene) putOn(s Stance, a Action, t int) (Stance, []Violation, error) {
	switch {
	case t < 0:
		return s, nil, sc.no("put on what")
	case s.Holds[t].There:
		return s, nil, sc.no("%s is on already", sc.Tools[t].Label)
	case sc.Tools[t].Class == gear.Lanyard:
		return s, nil, sc.no("a lanyard is clipped, not put on a rope")
	}
	line, at, err := sc.onLine(a)
	if err != nil {
		return s, nil, err
	}
	if sc.takes[line]&(1<<t) == 0 {
		return s, nil, sc.no("%s does not take the rope of the %s", sc.Tools[t].Label, sc.Lines[line].Name)
	}
	for _, check := range []error{sc.reaches(&s, line, a.Span, at, false), sc.free(&s, line, a.Span, at, t), sc.spare(&s, t), sc.lanyardFree(&s, t)} {
		if check != nil {
			return s, nil, check
		}
	}
	broken := append(sc.handsFree(&s), sc.kind(t)...)
	if d := sc.Tools[t].Model.Device; d != nil && !d.OpensOnConnector && !s.Grounded && sc.Tools[t].Class != gear.HandAscender {
		broken = append(broken, sc.look("device.drop", "%s leaves its connector to be loaded and can be dropped: on its tether", sc.Tools[t].Label)...)
	}
	broken = append(append(broken, sc.knotOrder(&s, t, line, a.Span)...), sc.atEdge(&s, t)...)
	if !sc.sound(&s, line, a.Span) {
		broken = append(broken, sc.broken("rope.damage", "%s is put on below damage that no knot covers", sc.Tools[t].Label)...)
	}
	s.Holds[t] = Hold{There: true, Line: int8(line), Span: int8(a.Span), At: at, Locked: !a.Unlocked, Proved: !a.Unproved}
	return s, broken, nil
}

func (sc *Scene) takeOff(s Stance, a Action, t int) (Stance, []Violation, error) {
	switch {
	case t < 0 || !s.Holds[t].There:
		return s, nil, sc.no("%s is not on", a.Item)
	case (s.Holds[t].Clip != NoClip) != (a.Do == Unclip):
		return s, nil, sc.no("%s: a lanyard is unclipped, a device taken off", a.Item)
	}
	if err := sc.getsAt(&s, t); err != nil {
		return s, nil, err
	}
	broken := sc.handsFree(&s)
	if int(s.Bears) == t {
		broken = append(broken, sc.broken("moves.bearing", "%s bears the weight and is taken off", sc.Tools[t].Label)...)
	}
	broken = append(broken, sc.knotUp(&s, t)...)
	s.Holds[t] = Hold{}
	s.Found &^= 1 << t
	return s, broken, nil
}

func (sc *Scene) clip(s Stance, a Action, t int) (Stance, []Violation, error) {
	switch {
	case t < 0 || sc.Tools[t].Class != gear.Lanyard:
		return s, nil, sc.no("only a lanyard is clipped")
	case s.Holds[t].There:
		return s, nil, sc.no("%s is clipped already", sc.Tools[t].Label)
	}
	h, err := sc.clipPoint(&s, a)
	if err != nil {
		return s, nil, err
	}
	fixed := sc.Lines[h.Line].fixed(&h)
	span := int(h.Span)
	if h.Clip == IntoMark && !fixed {
		span--
	}
	for _, check := range []error{sc.reaches(&s, int(h.Line), span, h.At, fixed), sc.spare(&s, t), sc.lanyardFree(&s, t)} {
		if check != nil {
			return s, nil, check
		}
	}
	h.Locked, h.Proved = !a.Unlocked, true
	broken := sc.handsFree(&s)
	s.Holds[t] = h
	if !sc.relaxed && sc.tightAt(&s, t) > s.At && !s.Grounded {
		return s, nil, sc.no("%s is too short for it", sc.Tools[t].Label)
	}
	return s, broken, nil
}

func (sc *Scene) clipPoint(s *Stance, a Action) (Hold, error) {
	line := sc.Line(a.Line)
	if line < 0 {
		return Hold{}, sc.no("there is no strand %q", a.Line)
	}
	if a.Into == "loop" {
		if !s.Loop.There || int(s.Loop.Line) != line {
			return Hold{}, sc.no("no loop is tied there")
		}
		return Hold{There: true, Line: int8(line), Span: s.Loop.Span, Clip: IntoLoop, At: s.Loop.At}, nil
	}
	marks := sc.Lines[line].Marks
	if a.Span < 1 || a.Span > len(marks) || !marks[a.Span-1].clips(s) {
		return Hold{}, sc.no("nothing to clip into above span %d of %s", a.Span, a.Line)
	}
	return Hold{There: true, Line: int8(line), Span: int8(a.Span), Clip: IntoMark, At: marks[a.Span-1].At}, nil
}

func (sc *Scene) set(s Stance, a Action, t int) (Stance, []Violation, error) {
	if t < 0 || !s.Holds[t].There {
		return s, nil, sc.no("%s is not on", a.Item)
	}
	h, tool := &s.Holds[t], &sc.Tools[t]
	switch a.Do {
	case Lock:
		h.Locked = true
	case Prove:
		h.Proved = true
	case Park, Unpark:
		if tool.Class != gear.Descender && (tool.Model.Backup == nil || !tool.Model.Backup.Parks) {
			return s, nil, sc.no("%s cannot be parked", tool.Label)
		}
		if h.Tied {
			return s, nil, sc.no("%s is tied off", tool.Label)
		}
		h.Parked = a.Do == Park
	}
	return s, nil, nil
}

// move moves a hand ascender or a backup device along its span; a backup by its
// connector upwards, by its cord or rolling downwards.
func (sc *Scene) move(s Stance, a Action, t int) (Stance, []Violation, error) {
	if t < 0 || !s.Holds[t].There || s.Holds[t].Clip != NoClip || sc.Tools[t].Class != gear.HandAscender && sc.Tools[t].Class != gear.BackupDevice {
		return s, nil, sc.no("%s is not to be moved along a rope", a.Item)
	}
	h := &s.Holds[t]
	a.Line, a.Span = sc.Lines[h.Line].ID, int(h.Span)
	line, at, err := sc.onLine(a)
	if err != nil {
		return s, nil, err
	}
	if err := sc.reaches(&s, line, a.Span, at, false); err != nil {
		return s, nil, err
	}
	if err := sc.getsAt(&s, t); err != nil {
		return s, nil, err
	}
	if err := sc.free(&s, line, a.Span, at, t); err != nil {
		return s, nil, err
	}
	if l := s.Loop; l.There && l.Line == h.Line && l.Span == h.Span && (l.At > h.At) != (l.At > at) {
		return s, nil, sc.no("the loop is in the way of %s", sc.Tools[t].Label)
	}
	broken := sc.handsFree(&s)
	switch {
	case int(s.Bears) == t:
		broken = append(broken, sc.broken("moves.bearing", "%s bears the weight and is moved", sc.Tools[t].Label)...)
	case h.Parked:
		broken = append(broken, sc.broken("device.mode", "%s is parked and is moved", sc.Tools[t].Label)...)
	}
	h.At = at
	return s, broken, nil
}

// stand puts the weight into the foot loop of a hand ascender, or into the slack
// loop of a re-belay; nothing else bears then. The body goes as high as is told, or
// as it can.
func (sc *Scene) stand(s Stance, a Action, t int) (Stance, []Violation, error) {
	if s.Grounded || s.Standing {
		return s, nil, sc.no("nothing to stand up from")
	}
	if sc.heavy {
		return s, nil, sc.no("nobody lifts two by standing up")
	}
	gain, bears := StandUp, t
	if t < 0 {
		if !sc.strop(&s) {
			return s, nil, sc.no("no loop to stand in is in reach")
		}
		bears = InStrop
	} else {
		if !s.Holds[t].There || !sc.Tools[t].Stands {
			return s, nil, sc.no("%s is not on, or has no foot loop", sc.Tools[t].Label)
		}
		gain = min(gain, s.Holds[t].At-Apart-s.At)
	}
	if a.AtM > 0 {
		if to := ToCm(a.AtM); to > s.At+gain {
			return s, nil, sc.no("that is higher than standing up goes")
		} else {
			gain = to - s.At
		}
	}
	if gain < Snug && !sc.relaxed {
		return s, nil, sc.no("too low to stand up in")
	}
	broken := sc.handsFree(&s)
	if t >= 0 {
		broken = append(broken, sc.ready(&s, t)...)
		broken = append(broken, sc.loads(&s, t)...)
		broken = append(broken, sc.crosses(&s, t, false)...)
		sd := sc.sideOf(&s.Holds[t])
		s.X, s.Side = sd.x, sd.id
	}
	s.Sat, s.At, s.Bears, s.Standing = s.At, s.At+gain, int8(bears), true
	return s, broken, nil
}

// strop reports whether the slack loop of a re-belay is in reach and hangs where a foot
// gets into it and stands up from: its lowest point is half its slack below the anchor.
func (sc *Scene) strop(s *Stance) bool {
	for i := range sc.Lines {
		for _, m := range sc.Lines[i].Marks {
			if m.Kind != rig.RebelayMark || sc.inReach(s, m.At) != nil {
				continue
			}
			if foot := s.At - (m.At - m.Loop/2); sc.relaxed && m.Loop > 0 || foot >= StropNear && foot <= StropFar {
				return true
			}
		}
	}
	return false
}

// getsAt refuses what the hands do not get at: a hold where it is now. A strand that the
// body is on by a device is drawn to the body by it; only a fixed point stays aside.
func (sc *Scene) getsAt(s *Stance, t int) error {
	h := &s.Holds[t]
	switch {
	case s.Grounded || sc.relaxed:
		return nil
	case sc.Lines[h.Line].fixed(h):
		return sc.reaches(s, int(h.Line), int(h.Span), h.At, true)
	}
	height := sc.drawn(s, sc.sideOf(h), h.At)
	if height >= far {
		return sc.no("%s does not come across so far", sc.Tools[t].Label)
	}
	return sc.inReach(s, height)
}

// ready wants a hold locked and proved before it bears.
func (sc *Scene) ready(s *Stance, t int) []Violation {
	var broken []Violation
	h := &s.Holds[t]
	if !h.Locked {
		broken = append(broken, sc.broken("connector.gate", "the connector of %s is not locked before it bears", sc.Tools[t].Label)...)
	}
	if !h.Proved {
		broken = append(broken, sc.broken("service.function-check", "%s is not proved before it bears", sc.Tools[t].Label)...)
	}
	return broken
}

// bear puts the weight onto a hold: by sitting down from the foot loop or, from the
// ground, by taking the slack out; by lowering out of a descender.
func (sc *Scene) bear(s Stance, a Action, t int) (Stance, []Violation, error) {
	if t < 0 || !s.Holds[t].There {
		return s, nil, sc.no("%s is not on", a.Item)
	}
	h, tool := &s.Holds[t], &sc.Tools[t]
	to := h.At - tool.taut()
	from := s.Bears
	switch {
	case tool.Class == gear.HandAscender:
		return s, nil, sc.no("%s is stood in, not sat in", tool.Label)
	case a.Do == Sit && !s.Standing && !s.Grounded:
		return s, nil, sc.no("the weight comes off by standing up first")
	case a.Do == LowerOnto && (s.Standing || from < 0 || int(from) == t || sc.Tools[from].Class != gear.Descender):
		return s, nil, sc.no("only a descender lowers onto another hold")
	case sc.relaxed:
	case a.Do == LowerOnto && to >= s.At, !s.Grounded && a.Do == Sit && to > s.At:
		return s, nil, sc.no("%s is too high to take the weight", tool.Label)
	}
	broken := append(sc.ready(&s, t), sc.loads(&s, t)...)
	broken = append(broken, sc.crosses(&s, t, a.Do == LowerOnto)...)
	if tool.Class == gear.Descender && !h.Parked && !sc.relaxed {
		broken = append(broken, sc.broken("device.mode", "%s is not parked before it is sat onto", tool.Label)...)
	}
	if a.Do == LowerOnto && s.Holds[from].Parked && !sc.relaxed {
		broken = append(broken, sc.broken("device.mode", "%s is still parked", sc.Tools[from].Label)...)
	}
	if a.Do == Sit && !s.Grounded {
		broken = append(broken, sc.settle(&s, t, s.Sat-to)...)
	}
	if s.Grounded {
		to = max(to, sc.Ground)
	}
	aside := s.X
	s.X, s.Side = sc.sideOf(h).x, sc.sideOf(h).id
	if a.Do == LowerOnto {
		// The device comes down with the body, as far as its rope lets it.
		d := &s.Holds[from]
		low := sc.lowest(&s, int(d.Line), int(d.Span), to+DeviceLen)
		d.At = max(low, min(d.At, sc.Along(&s, int(d.Line), int(d.Span), to+DeviceLen)))
		d.Parked = false
	}
	s.Grounded, s.Standing, s.Bears, s.At, s.Sat = false, false, int8(t), to, to
	if a.Do == LowerOnto && s.X != aside {
		// A cam follows by its cord, a wheel by itself, on both sides.
		broken = append(broken, sc.parkedBackup(&s)...)
		sc.follow(&s)
	}
	return s, broken, nil
}

// settle is moves.settle: how far the body drops when the weight moves on, beyond
// the lengths of the knot and the devices themselves.
func (sc *Scene) settle(s *Stance, t int, drop Cm) []Violation {
	if sc.relaxed {
		return nil
	}
	beyond := drop
	if sc.device(s) {
		beyond -= DeviceLen
	}
	if sc.pastMark(s, t) {
		beyond -= KnotLen
	}
	if beyond <= Settle {
		return nil
	}
	return sc.broken("moves.settle", "the body drops %v when it sits, %v of it beyond knot and devices; at most %v", drop.M(), beyond.M(), Settle.M())
}

// device reports whether a device that is sat in is on: from one lanyard onto another
// there is none whose length could make up for a drop.
func (sc *Scene) device(s *Stance) bool {
	for i := range sc.Tools {
		if c := sc.Tools[i].Class; s.Holds[i].There && (c == gear.Descender || c == gear.ChestAscender) {
			return true
		}
	}
	return false
}

// pastMark reports whether a hold is beyond a mark from another one on its line.
func (sc *Scene) pastMark(s *Stance, t int) bool {
	h := &s.Holds[t]
	for i := range sc.Tools {
		if o := &s.Holds[i]; i != t && o.There && o.Line == h.Line && sc.Lines[h.Line].Role != Structure && (o.Span != h.Span || o.Clip != NoClip) {
			return true
		}
	}
	return false
}

// climb goes up, or a little way down, on the chest ascender; the hand ascender
// goes before it and the backup follows one for one.
func (sc *Scene) climb(s Stance, a Action) (Stance, []Violation, error) {
	b := s.Bears
	if b < 0 || s.Standing || sc.Tools[b].Class != gear.ChestAscender && sc.Tools[b].Class != gear.Descender {
		return s, nil, sc.no("climbing is on a chest ascender, or a short way on a descender")
	}
	hand := sc.stands(&s, int(s.Holds[b].Line))
	if hand < 0 {
		return s, nil, sc.no("climbing needs a hand ascender with a foot loop on the same strand")
	}
	c, h := &s.Holds[b], &s.Holds[hand]
	switch {
	case h.Span > c.Span:
		return s, nil, sc.no("%s is below a mark, under %s", sc.Tools[hand].Label, sc.Tools[b].Label)
	case c.Tied:
		return s, nil, sc.no("%s is tied off", sc.Tools[b].Label)
	}
	to := ToCm(a.AtM)
	at := to + DeviceLen
	span, high := sc.runs(&s, c, at)
	low, _ := sc.Lines[c.Line].span(int(c.Span))
	if h.Span == int8(span) {
		// The hand ascender is between it and the mark.
		high -= Apart
	}
	if at < low || at > high {
		return s, nil, sc.no("a mark is in the way of %s", sc.Tools[b].Label)
	}
	if to < s.At-KnotLen-ReachDown {
		return s, nil, sc.no("down is by a descender, but for small steps")
	}
	if err := sc.clearFor(&s, to, int(b), hand); err != nil {
		return s, nil, err
	}
	broken := append(sc.parkedBackup(&s), sc.backupOn(&s)...)
	broken = append(append(broken, sc.loads(&s, int(b))...), sc.stays(&s)...)
	if sc.Tools[b].Class == gear.ChestAscender {
		broken = append(broken, sc.ready(&s, int(b))...)
	}
	c.At = at
	if h.Span >= int8(span) {
		_, top := sc.Lines[h.Line].span(span)
		h.Span, h.At = int8(span), min(at+3*Apart, top)
	}
	c.Span = int8(span)
	s.At, s.Sat = to, to
	sc.follow(&s)
	return s, broken, nil
}

// clearFor refuses a climb to a height that another hold keeps the body from.
func (sc *Scene) clearFor(s *Stance, to Cm, but, hand int) error {
	for i := range sc.Tools {
		o := &s.Holds[i]
		switch {
		case !o.There || i == but || i == hand || sc.Tools[i].Class == gear.BackupDevice:
		case o.Clip != NoClip && o.At-to > sc.Tools[i].Length:
			return sc.no("%s comes tight", sc.Tools[i].Label)
		case o.Clip == NoClip:
			return sc.no("%s is on the rope too", sc.Tools[i].Label)
		}
	}
	return nil
}

// runs gives the span that an ascender comes to when it runs up to a height, with the
// height at which the next mark stops it. By the school that goes past damage it runs
// over a sheath that is hurt, where the core is whole.
func (sc *Scene) runs(s *Stance, c *Hold, at Cm) (span int, high Cm) {
	l := &sc.Lines[c.Line]
	span = int(c.Span)
	_, high = l.span(span)
	for at > high && span > 0 && sc.mayPass(s, int(c.Line), span) {
		span--
		_, high = l.span(span)
	}
	return span, high
}

// mayPass reports whether the mark above a span is damage that may be gone past.
func (sc *Scene) mayPass(s *Stance, line, span int) bool {
	m := &sc.Lines[line].Marks[span-1]
	return m.open(s) && m.Sheath && sc.Schools.DamageAbove == "past" && sc.Schools.DamageReason != ""
}

// stands gives a hand ascender with a foot loop on a line, -1 for none.
func (sc *Scene) stands(s *Stance, line int) int {
	for i := range sc.Tools {
		if s.Holds[i].There && sc.Tools[i].Stands && int(s.Holds[i].Line) == line {
			return i
		}
	}
	return NoTool
}

// parkedBackup is device.mode for a wheel that is parked while the body moves.
func (sc *Scene) parkedBackup(s *Stance) []Violation {
	if sc.relaxed {
		return nil
	}
	for i := range sc.Tools {
		if h := &s.Holds[i]; h.There && h.Parked && sc.Tools[i].Class == gear.BackupDevice {
			return sc.broken("device.mode", "%s is parked while the body moves", sc.Tools[i].Label)
		}
	}
	return nil
}

// backupOn is moves.backup-off: nobody goes up or down without a backup device.
func (sc *Scene) backupOn(s *Stance) []Violation {
	for i := range sc.Tools {
		if s.Holds[i].There && sc.Tools[i].Class == gear.BackupDevice && sc.counts(s, i) {
			return nil
		}
	}
	return sc.broken("moves.backup-off", "no backup device is on while the body moves along the rope")
}

// High is how far above its attachment a backup device is kept on the way: as high
// as its links and the arm allow.
func (sc *Scene) High(t int) Cm { return min(sc.Tools[t].Length-Snug, sc.Up-Sternal-Snug) }

// follow brings every backup device along, as high as it goes, as far as its span
// lets it.
func (sc *Scene) follow(s *Stance) {
	for i := range sc.Tools {
		h := &s.Holds[i]
		if !h.There || sc.Tools[i].Class != gear.BackupDevice || h.Clip != NoClip {
			continue
		}
		_, high := sc.Lines[h.Line].span(int(h.Span))
		low := sc.lowest(s, int(h.Line), int(h.Span), s.At+Sternal)
		if l := s.Loop; l.There && l.Line == h.Line && l.Span == h.Span {
			if l.At > h.At {
				high = min(high, l.At-KnotHalf)
			} else {
				low = max(low, l.At+KnotHalf)
			}
		}
		h.At = min(high, max(low, sc.Along(s, int(h.Line), int(h.Span), s.At+Sternal+sc.High(i))))
	}
}

// descend goes down on the descender, with the hand on the control strand; the
// backup follows.
func (sc *Scene) descend(s Stance, a Action) (Stance, []Violation, error) {
	b := s.Bears
	if b < 0 || s.Standing || sc.Tools[b].Class != gear.Descender {
		return s, nil, sc.no("descending is on a descender that bears")
	}
	to := ToCm(a.AtM)
	d := &s.Holds[b]
	low, high := sc.Lines[d.Line].span(int(d.Span))
	at := to + DeviceLen
	if to >= s.At || at > high {
		return s, nil, sc.no("that is not down")
	}
	if at < low {
		return s, nil, sc.no("a mark is in the way of %s", sc.Tools[b].Label)
	}
	if to < sc.Ground {
		return s, nil, sc.no("that is below the landing")
	}
	if at < sc.Lines[d.Line].End {
		return s, nil, sc.no("the %s strand ends above that", sc.Lines[d.Line].Name)
	}
	if d.Tied {
		return s, nil, sc.no("%s is tied off", sc.Tools[b].Label)
	}
	for i := range sc.Tools {
		o := &s.Holds[i]
		switch {
		case !o.There || i == int(b) || sc.Tools[i].Class == gear.BackupDevice:
		case o.Clip != NoClip && o.At-to <= sc.Tools[i].Length:
		default:
			return s, nil, sc.no("%s would come tight", sc.Tools[i].Label)
		}
	}
	broken := append(sc.parkedBackup(&s), sc.backupOn(&s)...)
	broken = append(append(append(broken, sc.towed(&s)...), sc.loads(&s, int(b))...), sc.stays(&s)...)
	if d.Parked {
		broken = append(broken, sc.broken("device.mode", "%s is still parked", sc.Tools[b].Label)...)
	}
	broken = append(broken, sc.ready(&s, int(b))...)
	d.At, s.At, s.Sat = at, to, to
	sc.follow(&s)
	return s, broken, nil
}

// tie ties a loop knot into a slack strand, to clip into for a moment.
func (sc *Scene) tie(s Stance, a Action) (Stance, []Violation, error) {
	if s.Loop.There {
		return s, nil, sc.no("a loop is tied already")
	}
	line, at, err := sc.onLine(a)
	if err != nil {
		return s, nil, err
	}
	if err := sc.reaches(&s, line, a.Span, at, false); err != nil {
		return s, nil, err
	}
	for i := range sc.Tools {
		h := &s.Holds[i]
		if !h.There || int(h.Line) != line || h.Clip != NoClip {
			continue
		}
		if sc.Tools[i].Class != gear.BackupDevice || int(s.Bears) == i {
			return s, nil, sc.no("the strand bears %s: a loop is tied into slack rope", sc.Tools[i].Label)
		}
		if !sc.relaxed && int(h.Span) == a.Span && h.At-at < KnotLen && at-h.At < KnotLen {
			return s, nil, sc.no("%s is there already", sc.Tools[i].Label)
		}
	}
	broken := sc.handsFree(&s)
	s.Loop = Loop{There: true, Line: int8(line), Span: int8(a.Span), At: at}
	return s, broken, nil
}

func (sc *Scene) untie(s Stance) (Stance, []Violation, error) {
	if !s.Loop.There {
		return s, nil, sc.no("no loop is tied")
	}
	for i := range sc.Tools {
		if s.Holds[i].There && s.Holds[i].Clip == IntoLoop {
			return s, nil, sc.no("%s is in the loop", sc.Tools[i].Label)
		}
	}
	broken := sc.handsFree(&s)
	s.Loop = Loop{}
	return s, broken, nil
}

// land stands on the ground, after parking.
func (sc *Scene) land(s Stance) (Stance, []Violation, error) {
	if s.Grounded || s.Standing || !sc.relaxed && s.At > sc.Ground+Apart {
		return s, nil, sc.no("the ground is not there yet")
	}
	s.Grounded, s.Bears, s.At, s.Sat = true, NoTool, sc.Ground, sc.Ground
	return s, nil, nil
}

// pass is moves.deviation: the connector of a deviation is taken off a strand on the
// near side of the body and put on again beyond it, while a lanyard in its sling
// keeps the body from swinging.
func (sc *Scene) pass(s Stance, a Action) (Stance, []Violation, error) {
	line := sc.Line(a.Line)
	if line < 0 || a.Span < 1 || a.Span > len(sc.Lines[line].Marks) || sc.Lines[line].Marks[a.Span-1].Kind != rig.DeviationMark {
		return s, nil, sc.no("there is no deviation above span %d of %s", a.Span, a.Line)
	}
	m := &sc.Lines[line].Marks[a.Span-1]
	if err := sc.inReach(&s, m.At); err != nil {
		return s, nil, err
	}
	broken, restrained := sc.handsFree(&s), false
	to := -1
	for i := range sc.Tools {
		h := &s.Holds[i]
		switch {
		case !h.There:
		case h.Clip == IntoMark:
			o := &sc.Lines[h.Line].Marks[h.Span-1]
			restrained = restrained || o.Kind == rig.DeviationMark && o.Anchor == m.Anchor && h.Locked
		case h.Clip == NoClip && int(h.Line) == line:
			beyond := map[int]int{a.Span - 1: a.Span, a.Span: a.Span - 1}
			side, near := beyond[int(h.Span)]
			if !near || to >= 0 && side != to {
				return s, nil, sc.no("not everything on %s is on one side of the deviation", sc.Lines[line].Name)
			}
			to = side
			// What hangs beyond it is no further past it than its sling gives way.
			if below := side == a.Span; !sc.relaxed && (below && h.At > m.UpTo || !below && h.At < m.DownTo) {
				return s, nil, sc.no("%s is too far from the deviation", sc.Tools[i].Label)
			}
			h.Span = int8(side)
		}
	}
	if to < 0 {
		return s, nil, sc.no("nothing is on %s", sc.Lines[line].Name)
	}
	if !restrained {
		broken = append(broken, sc.broken("moves.deviation", "no lanyard is in the sling of %s: the body swings when its connector comes off", m.Name)...)
	}
	return s, broken, nil
}

// isolate ties a loop knot with damage in its loop, on a strand that is slack there
// and on which nothing depends.
func (sc *Scene) isolate(s Stance, a Action) (Stance, []Violation, error) {
	line := sc.Line(a.Line)
	if line < 0 || a.Span < 1 || a.Span > len(sc.Lines[line].Marks) || !sc.Lines[line].Marks[a.Span-1].open(&s) {
		return s, nil, sc.no("there is no damage to tie out above span %d of %s", a.Span, a.Line)
	}
	m := &sc.Lines[line].Marks[a.Span-1]
	if err := sc.reaches(&s, line, a.Span, m.At, false); err != nil {
		return s, nil, err
	}
	for i := range sc.Tools {
		if h := &s.Holds[i]; h.There && int(h.Line) == line && int(h.Span) >= a.Span && *sc.sideOf(h) == sc.sides[line][a.Span] {
			return s, nil, sc.no("%s depends on it", sc.Tools[i].Label)
		}
	}
	broken := sc.handsFree(&s)
	s.Isolated |= 1 << m.Damage
	if a.Eye {
		s.Eyed |= 1 << m.Damage
	}
	return s, broken, nil
}

// tieOff ties a parked descender off, or takes that out again.
func (sc *Scene) tieOff(s Stance, a Action, t int) (Stance, []Violation, error) {
	if t < 0 || !s.Holds[t].There || sc.Tools[t].Class != gear.Descender {
		return s, nil, sc.no("%s is not a descender that is on", a.Item)
	}
	h := &s.Holds[t]
	switch {
	case !h.Parked:
		return s, nil, sc.no("%s is parked before it is tied off", sc.Tools[t].Label)
	case h.Tied == (a.Do == TieOff):
		return s, nil, sc.no("that is done already")
	}
	h.Tied = a.Do == TieOff
	return s, nil, nil
}

// work is what the body came for: on a descender that is parked, by school tied off.
func (sc *Scene) work(s Stance) (Stance, []Violation, error) {
	if s.Grounded || s.Standing || s.Bears < 0 {
		return s, nil, sc.no("who works hangs in a device")
	}
	h, t := &s.Holds[s.Bears], &sc.Tools[s.Bears]
	broken := sc.stays(&s)
	if t.Class == gear.Descender && !sc.relaxed {
		switch {
		case !h.Parked:
			broken = append(broken, sc.broken("device.mode", "%s is not parked while both hands work", t.Label)...)
		case !h.Tied && sc.Schools.Parked == "tied":
			broken = append(broken, sc.broken("device.mode", "%s is not tied off while both hands work", t.Label)...)
		}
	}
	s.Worked = true
	return s, broken, nil
}

// Stops reports whether any violation is a stop.
func Stops(list []Violation) bool {
	for _, v := range list {
		if v.Severity == finding.Stop {
			return true
		}
	}
	return false
}
