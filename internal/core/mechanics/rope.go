package mechanics

import (
	"fmt"
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/knot"
	"zealousknot/internal/core/quantity"
)

// What takes up rope.
const (
	EndLoop = "end-loop"
	MidLoop = "mid-loop"
	Join    = "join"
	Stopper = "stopper"
	Tail    = "tail"
	Edge    = "edge"
	Loop    = "loop"
)

// multiple is how many diameters a knot takes; told is false for what is
// measured, not tied.
func multiple(t *knot.Table, kind string) (m quantity.Ratio, told bool) {
	switch kind {
	case EndLoop:
		return t.EndLoop, true
	case MidLoop:
		return t.MidLoop, true
	case Join:
		return t.Join, true
	case Stopper:
		return t.Stopper, true
	case Tail:
		return t.Tail, true
	}
	return 0, false
}

// RopeItem is something that takes up rope.
type RopeItem struct {
	Kind  string           `json:"kind" enum:"end-loop,mid-loop,join,stopper,tail,edge,loop"`
	Count int              `json:"count" minimum:"0" maximum:"1000"`
	EachM *quantity.Metres `json:"m,omitempty" minimum:"0" doc:"of each edge or loop; a knot's length comes from the table"`
}

// RopeIn is what a strand is to reach and what takes up rope on the way.
type RopeIn struct {
	DropM      quantity.Metres      `json:"drop_m" exclusiveMinimum:"0" doc:"along the strand, from the anchor to the lowest landing needed"`
	DiameterMM quantity.Millimetres `json:"diameter_mm" exclusiveMinimum:"0"`
	Items      []RopeItem           `json:"items" maxItems:"200"`
	ReserveM   quantity.Metres      `json:"reserve_m" minimum:"0" doc:"at the bottom"`
	StretchM   quantity.Metres      `json:"stretch_m" minimum:"0" doc:"shown in the working; it never shortens the rope"`
}

// RopePart is what one kind of thing takes of the rope.
type RopePart struct {
	Kind string          `json:"kind" doc:"drop, a kind of item, or reserve"`
	M    quantity.Metres `json:"m"`
}

// RopeOut is how much rope is needed.
type RopeOut struct {
	LengthNeededM quantity.Metres `json:"length_needed_m"`
	Parts         []RopePart      `json:"parts" doc:"their sum is the length"`
	in            RopeIn
}

// Rope is the rope needed with the shipped table of knots: drop + knots
// (multiples of the diameter) + edge wraps + loops + reserve. It errs low where
// knots are tied longer than the table says, high by the stretch, which is left
// out.
func Rope(in RopeIn) (RopeOut, error) {
	shipped := knot.Shipped()
	return RopeBy(in, &shipped)
}

// RopeBy is Rope with a team's own table of knots.
func RopeBy(in RopeIn, t *knot.Table) (RopeOut, error) {
	out := RopeOut{LengthNeededM: in.DropM, Parts: []RopePart{{"drop", in.DropM}}, in: in}
	for i, item := range in.Items {
		m, tied := multiple(t, item.Kind)
		each := quantity.Metres(float64(m) * float64(in.DiameterMM) / 1000)
		switch at := fmt.Sprintf("/items/%d/m", i); {
		case tied && item.EachM != nil:
			return RopeOut{}, refuse(at, "the length of a %s comes from the table of knots", item.Kind)
		case !tied && item.EachM == nil:
			return RopeOut{}, refuse(at, "missing: the table has no length of a %s", item.Kind)
		case !tied:
			each = *item.EachM
		}
		out.add(item.Kind, each*quantity.Metres(item.Count))
	}
	out.add("reserve", in.ReserveM)
	return out, nil
}

func (out *RopeOut) add(kind string, m quantity.Metres) {
	out.Parts = append(out.Parts, RopePart{kind, m})
	out.LengthNeededM += m
}

// Working tells how the length was got.
func (out *RopeOut) Working() []finding.Working {
	inputs := []finding.Figure{finding.Fig("diameter", out.in.DiameterMM)}
	for _, p := range out.Parts {
		inputs = append(inputs, finding.Fig(p.Kind, p.M))
	}
	return []finding.Working{
		finding.Work("rope needed", "drop + knots + edges + loops + reserve", out.LengthNeededM, "low where knots are tied longer than the table says", inputs...),
		finding.Work("stretch under load, not counted", "lengthens a strand, never shortens it", out.in.StretchM, "high on old ropes, low on new or wet ones"),
	}
}

// ReachIn is what a hanging strand is made of.
type ReachIn struct {
	Top      quantity.Metres // height of the anchor
	To       quantity.Metres // height of the lowest landing needed
	Offset   quantity.Metres // how far out from plumb that landing is
	Rope     quantity.Metres // all ropes of the strand together
	Diameter quantity.Millimetres
	Items    []RopeItem
	Stretch  quantity.Metres
}

// ReachOut is how far a strand reaches.
type ReachOut struct {
	End   quantity.Metres // height of its lower end
	Spare quantity.Metres // rope beyond the lowest landing needed
	needs RopeOut
	in    ReachIn
	slant quantity.Metres
}

// Reach gives the height of a strand's lower end and the rope beyond the lowest
// landing needed: spare = rope − (drop along the strand + knots + edges + loops),
// with √(H² + offset²) for the drop where the strand is led out of plumb; end =
// to − spare − (√(H² + offset²) − H).
//
// Stretch only lengthens a strand and is left out, so that the spare errs low.
// It errs high where knots are tied longer than the table says. An error is one
// in the items (RopeBy).
func Reach(in ReachIn, t *knot.Table) (ReachOut, error) {
	height := in.Top - in.To
	along := quantity.Metres(math.Hypot(float64(height), float64(in.Offset)))
	if height < 0 {
		along = height
	}
	needs, err := RopeBy(RopeIn{DropM: along, DiameterMM: in.Diameter, Items: in.Items, StretchM: in.Stretch}, t)
	if err != nil {
		return ReachOut{}, err
	}
	out := ReachOut{Spare: in.Rope - needs.LengthNeededM, needs: needs, in: in, slant: along - height}
	out.End = in.To - out.Spare - out.slant
	return out, nil
}

// Working tells how the end and the spare were got.
func (out *ReachOut) Working() []finding.Working {
	return append(out.needs.Working(),
		finding.Work("spare rope", "rope − rope needed", out.Spare, "low: stretch is left out",
			finding.Fig("rope", out.in.Rope), finding.Fig("needed", out.needs.LengthNeededM), finding.Fig("offset", out.in.Offset)),
		finding.Work("height of the lower end", "landing needed − spare − (√(H² + offset²) − H)", out.End, "high: stretch is left out",
			finding.Fig("landing needed", out.in.To), finding.Fig("spare", out.Spare), finding.Fig("led out of plumb", out.slant)))
}
