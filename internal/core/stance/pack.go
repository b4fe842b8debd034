package stance

// Packed is a stance in the form in which a search keeps it: about half the size, and
// equal for equal stances.
type Packed struct {
	holds [MaxTools]packedHold
	// loop is of a loop tied for a moment.
	loop           packedHold
	found          uint16
	at, sat, x     Cm
	isolated, eyed uint32
	bears, side    int8
	// state has a bit for each. It is as wide as leaves no gap: two are compared as memory.
	state uint16
}

const (
	stateGrounded = 1 << iota
	stateStanding
	stateWorked
)

// packedHold is a hold in six bytes: the height with the state in the bits below, and
// where it is.
type packedHold struct {
	low   [4]byte
	where [2]byte
}

const (
	bitThere = 1 << iota
	bitLocked
	bitProved
	bitParked
	bitTied
	clipShift  = iota
	heightBits = clipShift + 2
)

func (h *Hold) pack() (p packedHold) {
	if !h.There {
		return p
	}
	v := uint32(h.At)<<heightBits | uint32(h.Clip)<<clipShift | bitThere
	if h.Locked {
		v |= bitLocked
	}
	if h.Proved {
		v |= bitProved
	}
	if h.Parked {
		v |= bitParked
	}
	if h.Tied {
		v |= bitTied
	}
	p.low = [4]byte{byte(v), byte(v >> 8), byte(v >> 16), byte(v >> 24)}
	p.where = [2]byte{byte(h.Line), byte(h.Span)}
	return p
}

func (p *packedHold) unpack() (h Hold) {
	v := uint32(p.low[0]) | uint32(p.low[1])<<8 | uint32(p.low[2])<<16 | uint32(p.low[3])<<24
	if v&bitThere == 0 {
		return h
	}
	return Hold{
		There: true, Line: int8(p.where[0]), Span: int8(p.where[1]), Clip: ClipKind(v >> clipShift & 3), At: Cm(int32(v) >> heightBits),
		Locked: v&bitLocked != 0, Proved: v&bitProved != 0, Parked: v&bitParked != 0, Tied: v&bitTied != 0,
	}
}

// Pack packs a stance. Heights are from −167 km to 167 km.
func (s *Stance) Pack() (p Packed) {
	for i := range s.Holds {
		if s.Holds[i].There {
			p.holds[i] = s.Holds[i].pack()
		}
	}
	if l := s.Loop; l.There {
		p.loop = (&Hold{There: true, Line: l.Line, Span: l.Span, At: l.At}).pack()
	}
	p.at, p.sat, p.x = s.At, s.Sat, s.X
	p.isolated, p.eyed, p.found = s.Isolated, s.Eyed, s.Found
	p.bears, p.side = s.Bears, s.Side
	if s.Grounded {
		p.state |= stateGrounded
	}
	if s.Standing {
		p.state |= stateStanding
	}
	if s.Worked {
		p.state |= stateWorked
	}
	return p
}

// Unpack gives the stance that was packed.
func (p *Packed) Unpack(s *Stance) {
	*s = Stance{
		Grounded: p.state&stateGrounded != 0, Standing: p.state&stateStanding != 0, Worked: p.state&stateWorked != 0, At: p.at, Sat: p.sat, X: p.x,
		Isolated: p.isolated, Eyed: p.eyed, Found: p.found, Bears: p.bears, Side: p.side,
	}
	for i := range p.holds {
		s.Holds[i] = p.holds[i].unpack()
	}
	if l := p.loop.unpack(); l.There {
		s.Loop = Loop{There: true, Line: l.Line, Span: l.Span, At: l.At}
	}
}
