package mechanics

import (
	"fmt"
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/reeving"
	"zealousknot/internal/core/strict"
)

// HaulPulley is what a pulley of a haul system loses.
type HaulPulley struct {
	Efficiency quantity.Ratio `json:"efficiency" exclusiveMinimum:"0" maximum:"1" doc:"tension behind it / tension before it; 1 is ideal"`
}

// Travel is how far grabs can run before they are set back: one length for all,
// or one for each by its name.
type Travel struct {
	Each *quantity.Metres           `json:"each,omitempty" exclusiveMinimum:"0"`
	By   map[string]quantity.Metres `json:"by,omitempty" exclusiveMinimum:"0"`
}

// Union lets a plain number or an object of numbers stand for it.
func (Travel) Union() {}

// HaulIn is a haul system with a load.
type HaulIn struct {
	LoadKg       quantity.Kilograms    `json:"load_kg" exclusiveMinimum:"0"`
	System       string                `json:"system,omitempty" maxLength:"20" doc:"1:1, 2:1, 3:1, 5:1 or 9:1; or write the reeving"`
	Reeving      []reeving.Rope        `json:"reeving,omitempty" maxItems:"12"`
	Pulleys      map[string]HaulPulley `json:"pulleys,omitempty"`
	Efficiency   *quantity.Ratio       `json:"efficiency,omitempty" exclusiveMinimum:"0" maximum:"1" doc:"of every pulley that is not stated by itself"`
	Haulers      *int                  `json:"haulers,omitempty" minimum:"1" maximum:"1000" doc:"left out: as many as are needed"`
	HaulerKN     quantity.Kilonewtons  `json:"hauler_kN,omitempty" exclusiveMinimum:"0" default:"0.2" doc:"what one pulls steadily"`
	HaulerPeakKN quantity.Kilonewtons  `json:"hauler_peak_kN,omitempty" exclusiveMinimum:"0" default:"0.4" doc:"what one pulls at most"`
	TravelM      Travel                `json:"travel_m,omitempty" doc:"for each grab, or one for all"`
	RaiseM       quantity.Metres       `json:"raise_m" exclusiveMinimum:"0"`
	ResetLossM   quantity.Metres       `json:"reset_loss_m,omitempty" minimum:"0" default:"0" doc:"what the load sinks back at each reset"`
}

// SegmentOut is the tension of one part of a rope.
type SegmentOut struct {
	Rope      string               `json:"rope"`
	Index     int                  `json:"index" doc:"0: the part at the hand"`
	TensionKN quantity.Kilonewtons `json:"tension_kN"`
}

// HaulOut is what hauling asks of the people and puts on the gear.
type HaulOut struct {
	IdealRatio        quantity.Ratio                  `json:"ideal_ratio" doc:"every pulley ideal"`
	ActualRatio       quantity.Ratio                  `json:"actual_ratio"`
	HandKN            quantity.Kilonewtons            `json:"hand_kN"`
	HaulersNeeded     int                             `json:"haulers_needed"`
	PulleysKN         map[string]quantity.Kilonewtons `json:"pulleys_kN" doc:"sum of both tensions"`
	GrabsKN           map[string]quantity.Kilonewtons `json:"grabs_kN" doc:"all that pulls on the grab"`
	AnchorKN          quantity.Kilonewtons            `json:"anchor_kN" doc:"all that pulls on the anchor"`
	Strokes           int                             `json:"strokes"`
	RopeThroughHandsM quantity.Metres                 `json:"rope_through_hands_m"`
	JammedKN          quantity.Kilonewtons            `json:"jammed_kN" doc:"on the load line if the load jams and the haulers pull their most; errs low"`
	JammedCeilingKN   quantity.Kilonewtons            `json:"jammed_ceiling_kN" doc:"the same with every pulley ideal"`
	Segments          []SegmentOut                    `json:"segments" doc:"while hauling"`
	Held              []SegmentOut                    `json:"held" doc:"hand let go, capture holding"`
	// Capture is the pulley at which a progress capture holds; empty: the hand does.
	Capture string `json:"-"`
	// StrokeM is how far the load rises by one stroke; infinite without a grab.
	StrokeM quantity.Metres `json:"-"`
	in      HaulIn
}

// Haul solves a haul system.
//
// Along a rope, while hauling, the first part has the hand's force, or 0; behind
// a pulley of efficiency e the tension is multiplied by e; behind a grab all that
// pulls on the grab is added. A pulley pulls on what it is fixed to with the sum
// of its two tensions. All is linear in the hand's force, and is solved at once,
// in whatever order the ropes stand. A system whose grabs pull themselves without
// bound is refused by the grab.
//
// By virtual work a grab moves b times as fast as the load, b being the load that
// a unit force on that grab alone would hold; the rise of a stroke is the least
// of travel / b over the grabs, and strokes = max(1, ⌈(raise − loss)/(s − loss)⌉).
//
// Held, the hand has let go and a progress capture holds: at the pulley fixed to
// the anchor that comes first on the way from the load to the hand, else at the
// hand; pulleys then count as without friction, and what lies between the capture
// and the hand is slack.
//
// Pulls are taken as parallel. Ratios err high: ropes are stiff, parts not
// parallel and edges rub; so the hand's force and the number of haulers err low,
// and the jammed force is given with its ceiling.
func Haul(in HaulIn) (HaulOut, error) {
	s, err := in.read()
	if err != nil {
		return HaulOut{}, err
	}
	e, err := in.efficiencies(s)
	if err != nil {
		return HaulOut{}, err
	}
	actual, err := s.Solve(e)
	if err != nil {
		return HaulOut{}, err
	}
	ideal, err := s.Solve(s.Ideal())
	if err != nil {
		return HaulOut{}, err
	}
	if actual.Load <= 0 {
		return HaulOut{}, refuse(in.where(), "no load: pulling on the hand's rope puts no force on it")
	}
	out := HaulOut{IdealRatio: quantity.Ratio(ideal.Load), ActualRatio: quantity.Ratio(actual.Load), in: in}
	out.forces(s, actual)
	out.people()
	out.Capture = s.Capture()
	out.Held = []SegmentOut{}
	if held := s.Held(); held != nil {
		out.Held = segmentList(s, held, newtons(in.LoadKg)/1000/held.Load)
	}
	return out, out.strokes(s, ideal)
}

// where is the JSON Pointer of what was hauled with.
func (in *HaulIn) where() string {
	if in.System != "" {
		return "/system"
	}
	return "/reeving"
}

func (in *HaulIn) read() (*reeving.System, error) {
	switch path := reeving.Named(in.System); {
	case in.System == "" && in.Reeving == nil:
		return nil, refuse("/system", "missing: name a system or write its reeving")
	case in.System != "" && in.Reeving != nil:
		return nil, refuse("/reeving", "give either the system or its reeving")
	case in.System == "":
		return reeving.Read(in.Reeving, "/reeving")
	case path == nil:
		return nil, refuse("/system", "%.20q is not one of 1:1, 2:1, 3:1, 5:1, 9:1: write its reeving", in.System)
	default:
		return reeving.Read(path, "/system")
	}
}

func (in *HaulIn) efficiencies(s *reeving.System) ([]float64, error) {
	e := make([]float64, len(s.Pulleys))
	for i, name := range s.Pulleys {
		switch p, told := in.Pulleys[name]; {
		case told:
			e[i] = float64(p.Efficiency)
		case in.Efficiency != nil:
			e[i] = float64(*in.Efficiency)
		default:
			return nil, refuse(strict.Pointer("pulleys", name), "missing: give its efficiency, or efficiency for all")
		}
	}
	for name := range in.Pulleys {
		if !contains(s.Pulleys, name) {
			return nil, refuse(strict.Pointer("pulleys", name), "no pulley %q in the system", name)
		}
	}
	return e, nil
}

func contains(list []string, s string) bool {
	for _, v := range list {
		if v == s {
			return true
		}
	}
	return false
}

// forces gives the forces while hauling.
func (out *HaulOut) forces(s *reeving.System, sol *reeving.Forces) {
	hand := newtons(out.in.LoadKg) / 1000 / sol.Load
	out.HandKN = quantity.Kilonewtons(hand)
	out.PulleysKN = make(map[string]quantity.Kilonewtons, len(s.Pulleys))
	for i, name := range s.Pulleys {
		out.PulleysKN[name] = quantity.Kilonewtons(sol.Pulleys[i] * hand)
	}
	out.GrabsKN = make(map[string]quantity.Kilonewtons, len(s.Grabs))
	for i, name := range s.Grabs {
		out.GrabsKN[name] = quantity.Kilonewtons(sol.Grabs[i] * hand)
	}
	out.AnchorKN = quantity.Kilonewtons(sol.Anchor * hand)
	out.Segments = segmentList(s, sol, hand)
}

func segmentList(s *reeving.System, sol *reeving.Forces, hand float64) []SegmentOut {
	n := 0
	for _, l := range sol.Segments {
		n += len(l)
	}
	list := make([]SegmentOut, 0, n)
	for i, l := range sol.Segments {
		for j, t := range l {
			list = append(list, SegmentOut{s.Named(i), j, quantity.Kilonewtons(t * hand)})
		}
	}
	return list
}

func (out *HaulOut) people() {
	in := &out.in
	out.HaulersNeeded = int(min(1e9, max(1, math.Ceil(float64(out.HandKN/in.HaulerKN)-1e-9))))
	haulers := out.HaulersNeeded
	if in.Haulers != nil {
		haulers = *in.Haulers
	}
	pull := quantity.Kilonewtons(haulers) * in.HaulerPeakKN
	out.JammedKN, out.JammedCeilingKN = pull*quantity.Kilonewtons(out.ActualRatio), pull*quantity.Kilonewtons(out.IdealRatio)
}

// strokes finds how often the grabs are set back.
func (out *HaulOut) strokes(s *reeving.System, ideal *reeving.Forces) error {
	in := &out.in
	out.StrokeM = quantity.Metres(math.Inf(1))
	for name := range in.TravelM.By {
		if !contains(s.Grabs, name) {
			return refuse(strict.Pointer("travel_m", name), "no grab %q in the system", name)
		}
	}
	for i, name := range s.Grabs {
		travel, told := in.TravelM.By[name]
		if in.TravelM.Each != nil {
			travel, told = *in.TravelM.Each, true
		}
		if !told && in.TravelM.By == nil {
			return refuse("/travel_m", "missing: how far the grabs run before they are set back")
		}
		if !told {
			return refuse(strict.Pointer("travel_m", name), "missing")
		}
		if b := ideal.Speed(i); b > 0 {
			out.StrokeM = min(out.StrokeM, travel/quantity.Metres(b))
		}
	}
	out.Strokes = 1
	if !math.IsInf(float64(out.StrokeM), 0) {
		if out.StrokeM <= in.ResetLossM {
			return refuse("/reset_loss_m", "a stroke raises the load by %v and the reset loses %v: it never gets up", out.StrokeM, in.ResetLossM)
		}
		n := math.Ceil(float64((in.RaiseM-in.ResetLossM)/(out.StrokeM-in.ResetLossM)) - 1e-9)
		if n > 1e9 {
			return refuse("/raise_m", "would take more than 1e9 strokes of %v", out.StrokeM-in.ResetLossM)
		}
		out.Strokes = max(1, int(n))
	}
	out.RopeThroughHandsM = quantity.Metres(out.IdealRatio) * (in.RaiseM + quantity.Metres(out.Strokes-1)*in.ResetLossM)
	return nil
}

// Working tells how the forces were got.
func (out *HaulOut) Working() []finding.Working {
	in := &out.in
	load := finding.Fig("load", in.LoadKg)
	what := in.System
	if what == "" {
		what = fmt.Sprintf("%d ropes", len(in.Reeving))
	}
	system := finding.State("system", what)
	const errs = "high: ropes are stiff, parts not parallel, edges rub"
	list := []finding.Working{
		finding.Work("ideal ratio", "load / hand, every e = 1", out.IdealRatio, errs, system),
		finding.Work("actual ratio", "load / hand; × e behind a pulley, + pull on the grab behind a grab", out.ActualRatio, errs, system),
		finding.Work("hand's force", "m g / ratio", out.HandKN, "low: the ratio errs high", load, finding.Fig("ratio", out.ActualRatio)),
		finding.Work("haulers", "⌈hand / steady pull⌉", quantity.Count(out.HaulersNeeded), "low: the ratio errs high",
			finding.Fig("hand", out.HandKN), finding.Fig("steady pull", in.HaulerKN)),
		finding.Work("pull on the anchor", "sum of all that is fixed to it", out.AnchorKN, "low while anything moves", load),
	}
	if !math.IsInf(float64(out.StrokeM), 0) {
		list = append(list, finding.Work("rise of a stroke", "least of travel / b", out.StrokeM, "high: the rope stretches first"))
	}
	return append(list,
		finding.Work("strokes", "max(1, ⌈(raise − loss)/(s − loss)⌉)", quantity.Count(out.Strokes), "low: the rope stretches first",
			finding.Fig("raise", in.RaiseM), finding.Fig("loss", in.ResetLossM)),
		finding.Work("rope through the hands", "ideal ratio · (raise + (n − 1) loss)", out.RopeThroughHandsM, "low: the rope stretches first"),
		finding.Work("if the load jams", "haulers · peak pull · ratio", out.JammedKN, "low: see the ceiling", finding.Fig("peak pull of one", in.HaulerPeakKN)),
		finding.Work("ceiling if the load jams", "haulers · peak pull · ideal ratio", out.JammedCeilingKN, "high: no friction"))
}
