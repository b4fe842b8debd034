package stance

import (
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
)

// stand puts the weight into the foot loop of a hand ascender, or into the slack
// loop of a re-belay; nothing else bears then. The body goes as high as is stated, or
// as it can.
func (sc *Scene) stand(s Stance, a Action, t int) (Stance, []Violation, error) {
	if s.Grounded || s.Standing {
		return s, nil, sc.impossible("nothing to stand up from")
	}
	if sc.heavy {
		return s, nil, sc.impossible("nobody lifts two by standing up")
	}
	gain, bears := StandUp, t
	if t < 0 {
		if !sc.strop(&s) {
			return s, nil, sc.impossible("no loop to stand in is in reach")
		}
		bears = InStrop
	} else {
		if !s.Holds[t].There || !sc.Tools[t].Stands {
			return s, nil, sc.impossible("%s is not on, or has no foot loop", sc.Tools[t].Label)
		}
		gain = min(gain, s.Holds[t].At-Apart-s.At)
	}
	if a.AtM > 0 {
		if to := ToCm(a.AtM); to > s.At+gain {
			return s, nil, sc.impossible("that is higher than standing up goes")
		} else {
			gain = to - s.At
		}
	}
	if gain < Snug && !sc.relaxed {
		return s, nil, sc.impossible("too low to stand up in")
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
		return s, nil, sc.impossible("%s is not on", a.Item)
	}
	h, tool := &s.Holds[t], &sc.Tools[t]
	to := h.At - tool.taut()
	from := s.Bears
	if err := sc.comesOnto(&s, a.Do, t, to); err != nil {
		return s, nil, err
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
	aside, side := s.X, s.Side
	s.X, s.Side = sc.sideOf(h).x, sc.sideOf(h).id
	if a.Do == LowerOnto {
		// The device comes down with the body, as far as its rope lets it.
		d := &s.Holds[from]
		low := sc.lowest(&s, int(d.Line), int(d.Span), to+DeviceLen)
		d.At = max(low, min(d.At, sc.Along(&s, int(d.Line), int(d.Span), to+DeviceLen)))
		d.Parked = false
	}
	s.Grounded, s.Standing, s.Bears, s.At, s.Sat = false, false, int8(t), to, to
	if a.Do == LowerOnto && s.X != aside && s.Side != side {
		// A cam follows by its cord, a wheel by itself, on both sides.
		broken = append(broken, sc.parkedBackup(&s)...)
		sc.follow(&s)
	}
	return s, broken, nil
}

// comesOnto refuses what does not bring the weight onto a hold.
func (sc *Scene) comesOnto(s *Stance, do Do, t int, to Cm) error {
	tool, from := &sc.Tools[t], s.Bears
	switch {
	case tool.Class == gear.HandAscender:
		return sc.impossible("%s is stood in, not sat in", tool.Label)
	case do == Sit && !s.Standing && !s.Grounded:
		return sc.impossible("the weight comes off by standing up first")
	case do == LowerOnto && (s.Standing || from < 0 || int(from) == t || sc.Tools[from].Class != gear.Descender):
		return sc.impossible("only a descender lowers onto another hold")
	case sc.relaxed:
	case do == LowerOnto && to >= s.At, !s.Grounded && do == Sit && to > s.At:
		return sc.impossible("%s is too high to take the weight", tool.Label)
	}
	return nil
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
