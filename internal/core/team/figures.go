package team

import (
	"cmp"
	"fmt"
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/reeving"
	"zealousknot/internal/core/rig"
)

// Figures are what a rig asks of the team, and what it does, at every ratio and
// height.
type Figures struct {
	Lowering *Built            `json:"lowering"`
	Hauling  *Built            `json:"hauling,omitempty" doc:"left out where the haul never gets the load up"`
	Brakes   []Braking         `json:"brakes"`
	Loads    []Load            `json:"loads" doc:"the smallest part of the required margin first"`
	Found    []finding.Finding `json:"found" doc:"on the rig as it is built, beside those of the drop"`
	Hauls    []HaulFigures     `json:"hauls"`
	// Best is the haul of the list that the haulers who are there manage at the landing,
	// by the team's school; -1: none.
	Best    int             `json:"best"`
	Changes []RatioChange   `json:"changes" doc:"where a smaller ratio is enough on the way up"`
	Release *Release        `json:"release,omitempty" doc:"of a toothed capture"`
	Ropes   []RopeFigures   `json:"ropes" doc:"of each line whose rope is known"`
	Knots   []KnotFigures   `json:"knots"`
	Schools []SchoolFigures `json:"schools" doc:"from the edge down"`
	Crosses []Crossing      `json:"crosses" doc:"where the schools, or one of them and a limit, cross"`
	Roles   []Role          `json:"roles"`
	// CeilingKN is the maximum permitted arrest force.
	CeilingKN quantity.Kilonewtons `json:"ceiling_kN"`
}

// HaulFigures are those of one haul, for the whole way up.
type HaulFigures struct {
	System string `json:"system"`
	Ratio  int    `json:"ratio,omitempty" doc:"0: its own reeving"`
	// Own: it is the one that the team has chosen.
	Own bool `json:"own,omitempty"`
	// Pulleys are needed beside the brake; Ready says that the kit has them.
	Pulleys  int                  `json:"pulleys"`
	Ready    bool                 `json:"ready"`
	HandKN   quantity.Kilonewtons `json:"hand_kN" doc:"pulled together by all"`
	Needed   int                  `json:"haulers_needed" doc:"who pull steadily"`
	Strokes  int                  `json:"strokes"`
	Resets   int                  `json:"resets"`
	RopeM    quantity.Metres      `json:"rope_through_hands_m"`
	StrokeM  quantity.Metres      `json:"rope_per_stroke_m"`
	Walks    int                  `json:"walks" doc:"how often the haulers go back for more rope in one stroke; 0: hand over hand"`
	Seconds  float64              `json:"seconds_s"`
	AnchorKN quantity.Kilonewtons `json:"anchor_kN"`
	JammedKN quantity.Kilonewtons `json:"jammed_kN" doc:"on the load line if the load jams and the haulers pull their most; errs low"`
	JammedAt quantity.Kilonewtons `json:"jammed_ceiling_kN"`
}

// RatioChange is a height from which a smaller ratio is enough.
type RatioChange struct {
	AtM  quantity.Metres `json:"at_m"`
	From int             `json:"from"`
	To   int             `json:"to"`
	Why  string          `json:"why"`
}

// Release is what frees a toothed capture.
type Release struct {
	TravelM  quantity.Metres   `json:"travel_m" doc:"the cam's release travel"`
	StretchM quantity.Metres   `json:"stretch_m" doc:"of the rope behind it, which is loaded first"`
	TakeInM  quantity.Metres   `json:"take_in_m"`
	Holds    bool              `json:"cam_holds_open"`
	Working  []finding.Working `json:"working"`
}

// RopeFigures are where the rope of a line is.
type RopeFigures struct {
	Line    string          `json:"line"`
	LengthM quantity.Metres `json:"length_m"`
	// LeftM is behind the brake with the load at the landing; less than nothing where it
	// does not reach.
	LeftM quantity.Metres `json:"left_m" doc:"behind the brake with the load at the lowest landing needed; less than 0: it does not reach"`
	KeptM quantity.Metres `json:"kept_m" doc:"of that, for the end stop and a walk-away knot"`
	// RunsOutM is left out where it does not.
	RunsOutM *quantity.Metres  `json:"runs_out_m,omitempty" doc:"height of the load at which less is left; left out: nowhere above the landing"`
	Working  []finding.Working `json:"working"`
}

// KnotFigures are what one knot in the rope asks for.
type KnotFigures struct {
	Line  string          `json:"line"`
	KnotM quantity.Metres `json:"knot_m" doc:"metres of rope from the load"`
	// AtM is where the load hangs when the knot is a hand's width short of its brake.
	AtM     quantity.Metres   `json:"at_m"`
	LeftM   quantity.Metres   `json:"left_m" doc:"between the knot and the brake then"`
	SettleM quantity.Metres   `json:"settle_m" doc:"onto grab and hitch"`
	Settles bool              `json:"settles_within" doc:"the settle is less than what is left"`
	NeedsM  quantity.Metres   `json:"needs_m" doc:"that the hitch must let out"`
	HasM    quantity.Metres   `json:"has_m" doc:"that it lets out"`
	Ready   bool              `json:"ready"`
	Before  []string          `json:"before" doc:"what is rigged before the lower begins"`
	Working []finding.Working `json:"working"`
}

// SchoolFigures are what happens at a height when either strand fails at once, by both
// schools: the worse of main and belay.
type SchoolFigures struct {
	AtM    quantity.Metres     `json:"at_m"`
	Slack  mechanics.SchoolOut `json:"slack"`
	Shared mechanics.SchoolOut `json:"shared"`
	// BelayFails is shared tension when the belay fails; the slack belay then does nothing.
	BelayFails mechanics.SchoolOut `json:"shared_belay_fails"`
}

// Crossing is a height at which something changes between the schools.
type Crossing struct {
	AtM   *quantity.Metres `json:"at_m,omitempty" doc:"left out: nowhere on this drop"`
	Words string           `json:"words"`
}

// Role is one person's place and hands.
type Role struct {
	Who   string `json:"who"`
	At    string `json:"at"`
	Place string `json:"place"`
	Out   string `json:"paying_out,omitempty"`
	In    string `json:"taking_in,omitempty"`
	Sees  string `json:"sees,omitempty"`
}

// Weakest is the load whose margin is the smallest part of what is required; the zero Load
// where none is known.
func (f *Figures) Weakest() Load {
	for _, l := range f.Loads {
		if l.Margin > 0 {
			return l
		}
	}
	return Load{}
}

// Figures works out everything about the rig that does not depend on a move.
func (r *Rig) Figures() *Figures {
	out := &Figures{Lowering: r.Lowering(), Brakes: []Braking{*r.Brake("main"), *r.Brake("belay")}, Found: r.Findings(), CeilingKN: r.setting.Policy.ArrestCeilingKN}
	out.Hauling, _, _ = r.Hauling()
	out.Loads, _ = r.Loads()
	out.Hauls, out.Best = r.Hauls()
	out.Changes = r.changes()
	out.Release = r.release()
	out.Ropes = r.ropes()
	out.Knots = r.Knots()
	out.Schools = r.schoolsAt()
	out.Crosses = r.crossings(out.Schools)
	out.Roles = r.Roles()
	return out
}

// ratios are the hauls that have a name, the smallest first.
var ratios = []int{1, 2, 3, 5, 9}

// with is the rig with another haul.
func (r *Rig) with(system string) *Rig {
	o, v := *r, *r.view
	tr := *v.TeamRig
	v.TeamRig = &tr
	if v.Haul == nil || v.Haul.System != system {
		v.Haul = &rig.TeamHaul{System: system}
	}
	o.view = &v
	return &o
}

// Hauls works every named haul out, and the team's own where it has no name.
func (r *Rig) Hauls() (list []HaulFigures, best int) {
	list, best = []HaulFigures{}, -1
	chosen := "3:1"
	if h := r.view.Haul; h != nil {
		chosen = h.System
	}
	for _, ratio := range ratios {
		name := fmt.Sprintf("%d:1", ratio)
		if h, ok := r.with(name).haul(name, ratio); ok {
			h.Own = name == chosen
			list = append(list, h)
		}
	}
	if chosen == "" {
		if h, ok := r.haul("own reeving", 0); ok {
			h.Own = true
			list = append(list, h)
		}
	}
	for i := range list {
		// Built up from a simple one: the smallest that does; compound: the greatest.
		if h := &list[i]; h.Ratio > 0 && h.Ready && h.Needed <= r.Haulers && (best < 0 || r.Schools.RatioWay == "compound") {
			best = i
		}
	}
	return list, best
}

func (r *Rig) haul(name string, ratio int) (HaulFigures, bool) {
	b, out, err := r.Hauling()
	if err != nil {
		return HaulFigures{}, false
	}
	h := HaulFigures{
		System: name, Ratio: ratio, Ready: true, HandKN: out.HandKN, Needed: out.HaulersNeeded, Strokes: out.Strokes, Resets: out.Strokes - 1, RopeM: out.RopeThroughHandsM,
		AnchorKN: out.AnchorKN, JammedKN: out.JammedKN, JammedAt: out.JammedCeilingKN,
	}
	parts := r.partsOf(b)
	for _, c := range b.Chosen {
		h.Ready = h.Ready && c.Item != ""
	}
	pulleys, _ := reeving.Parts("", r.Reeving())
	for _, p := range pulleys {
		if !parts[p].brake {
			h.Pulleys++
		}
	}
	h.Ready = h.Ready && r.connectorsShort(b, parts) == 0
	h.StrokeM = h.RopeM / quantity.Metres(h.Strokes)
	if run := r.view.RunM; run > 0 {
		h.Walks = max(0, int(math.Ceil(float64(h.StrokeM/run)-1e-9))-1)
	}
	s := &State{Main: Half{Haul: int8(out.IdealRatio)}}
	h.Seconds = r.along(float64(r.EdgeM), s, &Action{Do: Haul}) + float64(h.Walks*h.Strokes)*20
	return h, true
}

// changes are the heights from which a smaller ratio is enough for the haulers who are
// there: the rope that hangs with the load grows less as it comes up.
func (r *Rig) changes() []RatioChange {
	list := []RatioChange{}
	last := 0
	for at := quantity.Metres(0); at < r.EdgeM; at += 0.5 {
		now := r.enoughAt(at)
		if now > 0 && last > now {
			list = append(list, RatioChange{at, last, now, fmt.Sprintf("with less rope hanging, %d:1 is enough from here for %s", now, quantity.Count(r.Haulers).Of("hauler"))})
		}
		last = cmp.Or(now, last)
	}
	return list
}

// enoughAt is the smallest ratio that the haulers who are there manage with the load at
// a height; 0 for none.
func (r *Rig) enoughAt(at quantity.Metres) int {
	for _, ratio := range ratios {
		if h := r.HandAt(at, fmt.Sprintf("%d:1", ratio)); h > 0 && h <= quantity.Kilonewtons(r.Haulers)*r.setting.Policy.HaulerKN {
			return ratio
		}
	}
	return 0
}

// HandAt is what all haulers pull together with the load at a height, the rope that
// hangs with it counted; 0 where the haul does not work. No name: the team's own haul.
func (r *Rig) HandAt(at quantity.Metres, system string) quantity.Kilonewtons {
	o := r
	if system != "" {
		o = r.with(system)
	}
	_, part := r.edge()
	hanging := quantity.Weight(quantity.Kilograms(float64(max(0, r.EdgeM-at)) * float64(heaviest(&r.view.Main)) / 1000))
	in, _ := o.haulIn(o.Reeving(), (quantity.Weight(r.Load.MassKg)+hanging)/quantity.Kilonewtons(part))
	out, err := mechanics.Haul(in)
	if err != nil {
		return 0
	}
	return out.HandKN
}

// behindM is how much rope lies between a toothed capture and the device behind it.
const behindM quantity.Metres = 0.5

// release is what frees the capture pulley of the kit.
func (r *Rig) release() *Release {
	for _, p := range r.view.Kit {
		if p.Model.Class != gear.CapturePulley {
			continue
		}
		in := mechanics.StretchIn{LoadKg: r.Load.MassKg, LengthM: behindM, ElongationPct: r.Main.ElongationPct}
		s := mechanics.Stretch(in)
		travel := p.Model.Pulley.ReleaseTravelM
		return &Release{TravelM: travel, StretchM: s.StretchM, TakeInM: travel + s.StretchM, Holds: p.Model.Pulley.CamHoldsOpen, Working: append(s.Working(),
			finding.Work("take-in that frees the teeth", "release travel + stretch of the rope behind the capture", travel+s.StretchM, "low where the rope behind it is slack or long", finding.Fig("release travel", travel), finding.Fig("rope behind it", behindM)))}
	}
	return nil
}

// Knots is what each knot of both lines asks for, in the order in which they come.
func (r *Rig) Knots() []KnotFigures {
	list := []KnotFigures{}
	for _, name := range []string{"main", "belay"} {
		l := r.line(name)
		for _, k := range l.KnotsM {
			at := r.heightFor(name, k-r.short())
			if at.M() >= r.EdgeM || at < 0 {
				continue // through before the load is over the edge, or never reached
			}
			f := KnotFigures{
				Line: name, KnotM: k, AtM: at.M(), LeftM: r.short(), SettleM: r.settle().M(), Settles: r.short()-r.settle().M() >= r.gap()-1e-9,
				NeedsM: r.HitchNeeds(), HasM: r.Kit.HitchOutM, Ready: r.Kit.Grabs > 0 && r.Kit.HitchOutM >= r.HitchNeeds(),
				Before: []string{
					fmt.Sprintf("a grab with its hitch on the anchor of the %s, contracted, able to let out %v", name, r.HitchNeeds()),
					fmt.Sprintf("a tape on the brake strand a metre before the knot, so that it is seen coming: the load is then at %v", r.heightFor(name, k-1).M()),
				},
			}
			stretch := r.stretchBehind()
			f.Working = []finding.Working{
				finding.Work("settle onto grab and hitch", "what a snug grab settles + stretch of the hitch and of the rope from brake to grab, rounded up to the centimetre", f.SettleM, "low where the grab is not drawn snug",
					finding.Fig("snug grab", r.grabSlack().M()), finding.Fig("hitch stretches", r.stretchOfHitch()), finding.Fig("rope stretches", stretch)),
				finding.Work("that the hitch must let out", "left before the brake after the settle + knot + way until the brake holds + stretch that comes back", f.NeedsM, "low for a bulky knot",
					finding.Fig("left", f.LeftM-f.SettleM), finding.Fig("knot", knotLen.M()), finding.Fig("way until it holds", stopLen.M()), finding.Fig("stretch", stretch)),
				r.path(name).Working(at.M()),
			}
			list = append(list, f)
		}
	}
	return list
}

// heights is at how many heights the schools are compared.
const heights = 24

// schoolsAt compares both schools from the edge down.
func (r *Rig) schoolsAt() []SchoolFigures {
	list := make([]SchoolFigures, heights)
	for i := range heights {
		list[i] = r.SchoolsAt(r.EdgeM * quantity.Metres(heights-i) / heights)
	}
	return list
}

// SchoolsAt is what either strand's failure does at a height, by both schools.
func (r *Rig) SchoolsAt(at quantity.Metres) SchoolFigures {
	in := mechanics.ShareIn{MassKg: r.Load.MassKg, RopeLengthM: max(0.5, r.path("belay").At(at)), ElongationPct: cmp.Or(r.Belay.ElongationPct, 3), Share: r.Schools.Share, SlackM: r.Schools.SlackM}
	main := mechanics.Share(in)
	in.RopeLengthM, in.Share, in.ElongationPct = max(0.5, r.path("main").At(at)), 1-r.Schools.Share, cmp.Or(r.Main.ElongationPct, 3)
	return SchoolFigures{at, main.Slack, main.Shared, mechanics.Share(in).Shared}
}

// crossings looks where the schools' figures cross each other, the ceiling, and the
// landing.
func (r *Rig) crossings(list []SchoolFigures) []Crossing {
	ceiling := r.setting.Policy.ArrestCeilingKN
	landing := cmp.Or(r.setting.LandingName, "the landing")
	at := func(words, never string, over func(SchoolFigures) bool) Crossing {
		if h, ok := r.cross(over); ok {
			return Crossing{&h, words}
		}
		return Crossing{Words: never}
	}
	var out []Crossing
	out = append(out, at("here both schools drop the load as far; above it shared tension drops it less", "At every height shared tension drops the load less than a slack belay.", func(s SchoolFigures) bool { return s.Shared.DropM < s.Slack.DropM }),
		at(fmt.Sprintf("above this a slack belay catches with more than the ceiling of %v", ceiling), fmt.Sprintf("A slack belay stays on the same side of the ceiling of %v at every height.", ceiling), func(s SchoolFigures) bool { return s.Slack.PeakKN > ceiling }),
		at("below this a slack belay drops the load onto "+landing+" before it holds", "Nowhere does a slack belay drop the load onto "+landing+".", func(s SchoolFigures) bool { return s.Slack.DropM < s.AtM }),
		at("below this even shared tension drops the load onto "+landing, "Nowhere does shared tension drop the load onto "+landing+".", func(s SchoolFigures) bool { return s.Shared.DropM < s.AtM }))
	if len(list) > 0 {
		edge := list[0].Slack.DropM
		out = append(out, at("below this shared tension drops the load further than a slack belay does at the edge", "Shared tension nowhere drops the load as far as a slack belay does at the edge.", func(s SchoolFigures) bool { return s.Shared.DropM < edge }))
	}
	return out
}

// cross finds the height between the landing and the edge at which a condition changes,
// by halving; ok is false where it is alike at both ends.
func (r *Rig) cross(over func(SchoolFigures) bool) (quantity.Metres, bool) {
	low, high := quantity.Metres(0), r.EdgeM
	below := over(r.SchoolsAt(low))
	if below == over(r.SchoolsAt(high)) {
		return 0, false
	}
	for high-low > 0.01 {
		if middle := (low + high) / 2; over(r.SchoolsAt(middle)) == below {
			low = middle
		} else {
			high = middle
		}
	}
	return (low + high) / 2, true
}

// Roles say who stands where, and what their hands do.
func (r *Rig) Roles() []Role {
	var list []Role
	for i, who := range r.Operators {
		switch i {
		case 0:
			list = append(list, r.atBrake(who, "main"))
		case 1:
			list = append(list, r.atBrake(who, "belay"))
		default:
			list = append(list, Role{Who: who, At: "edge", Place: "tied in at the edge, where load and operators are seen; passes calls on, watches the protectors"})
		}
	}
	if len(r.Operators) == 1 {
		list = append(list, Role{Who: "nobody", At: "belay", Place: "one operator for two brakes: the belay is parked whenever the main moves, which no school allows"})
	}
	side := "beside the brake on its free side, flaked, clear of feet and of the haulers' way"
	list = append(list, Role{Who: "rope", At: "pile", Place: side})
	if r.Haulers > 0 {
		way := "in line behind the anchors, away from the edge; hand over hand"
		if r.view.RunM > 0 {
			way = fmt.Sprintf("in line away from the edge, %v of clear run, on the other side of the anchors than the pile", r.view.RunM)
		}
		list = append(list, Role{Who: quantity.Count(r.Haulers).Of("hauler"), At: "haul", Place: way, Sees: "one of them hears the edge and calls for all"})
	}
	if r.Load.Stretcher {
		list = append(list, Role{Who: "attendant", At: "load", Place: "on both strands with the stretcher, below its rail, in the fall line", Sees: "calls “edge clear”, “stop”"})
	}
	return list
}

func (r *Rig) atBrake(who, name string) Role {
	role := Role{Who: who, At: name, Sees: "the load or the edge, and the other operator"}
	if r.OutOfSight {
		role.Sees = "the other operator is out of sight: no sharing"
	}
	if r.line(name).Ground {
		role.Place = "kneeling behind it on the anchor's side, feet clear of the rope"
		role.Out = "strand hand on the ground behind the hip; the other lifts the load strand off so that it does not lock, then goes to the handle"
		role.In = "one hand lifts the load strand to the brake, the strand hand draws through and back"
		return role
	}
	role.Place = "standing behind it, tied in, out of the line of pull"
	role.Out = "strand hand low and back, never forward of the brake; the other on the handle"
	role.In = "facing it: one hand feeds the load strand in, the strand hand draws it through and back"
	return role
}
