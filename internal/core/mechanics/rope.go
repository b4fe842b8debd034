package mechanics

import (
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// KnotTable says how much rope each knot takes up, in multiples of the rope's
// diameter.
type KnotTable struct {
	EndLoop quantity.Ratio `json:"end_loop" minimum:"0" maximum:"500"`
	MidLoop quantity.Ratio `json:"mid_loop" minimum:"0" maximum:"500"`
	Join    quantity.Ratio `json:"join" minimum:"0" maximum:"500"`
	Stopper quantity.Ratio `json:"stopper" minimum:"0" maximum:"500"`
	Tail    quantity.Ratio `json:"tail" minimum:"0" maximum:"500"`
}

// DefaultKnots is the table shipped with the program, to be checked against the
// team's own knots.
var DefaultKnots = KnotTable{EndLoop: 70, MidLoop: 55, Join: 70, Stopper: 25, Tail: 10}

// ReachIn is what a hanging strand is made of.
type ReachIn struct {
	Top      quantity.Metres // height of the anchor
	To       quantity.Metres // height of the lowest landing needed
	Offset   quantity.Metres // how far out from plumb that landing is
	Rope     quantity.Metres // all ropes of the strand together
	Diameter quantity.Millimetres
	MidLoops int
	Joins    int
	Stopper  bool
	Edges    quantity.Metres
	Loops    quantity.Metres
}

// Reach gives the height of a strand's lower end and the rope beyond the lowest
// landing needed:
// end = top − (rope − knots − edges − loops), spare = to − end − slant, where
// slant = √(H² + offset²) − H is the rope that leading the strand out of plumb
// takes. Knots are multiples of the diameter (KnotTable), one tail for the end
// loop and the stopper each, two for a join.
//
// Stretch only lengthens a strand and is left out, so that the spare errs low.
// It errs high where knots are tied longer than the table says.
func Reach(in ReachIn, t KnotTable) (end, spare quantity.Metres, working func() []finding.Working) {
	d := float64(in.Diameter) / 1000
	multiples := float64(t.EndLoop+t.Tail) + float64(in.MidLoops)*float64(t.MidLoop) + float64(in.Joins)*float64(t.Join+2*t.Tail)
	if in.Stopper {
		multiples += float64(t.Stopper + t.Tail)
	}
	knots := quantity.Metres(multiples * d)
	end = in.Top - (in.Rope - knots - in.Edges - in.Loops)
	height := float64(in.Top - in.To)
	slant := quantity.Metres(math.Hypot(height, float64(in.Offset)) - height)
	spare = in.To - end - slant
	return end, spare, func() []finding.Working {
		return []finding.Working{
			finding.Work("rope in knots", "(end loop + mid loops + joins + stopper + tails) · diameter", knots, "errs low where knots are tied longer",
				finding.Fig("multiples of the diameter", quantity.Ratio(multiples)), finding.Fig("diameter", in.Diameter)),
			finding.Work("height of the lower end", "top − (rope − knots − edges − loops)", end, "errs high: stretch is left out",
				finding.Fig("top", in.Top), finding.Fig("rope", in.Rope), finding.Fig("knots", knots), finding.Fig("edges", in.Edges),
				finding.Fig("loops", in.Loops)),
			finding.Work("spare rope", "landing needed − lower end − (√(H² + offset²) − H)", spare, "errs low: stretch is left out",
				finding.Fig("landing needed", in.To), finding.Fig("lower end", end), finding.Fig("offset", in.Offset)),
		}
	}
}
