package drop

import (
	"cmp"
	"errors"

	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/team"
)

// TeamAsked asks for a move of the team of a drop, or for a list of its actions to be
// walked by the rules.
type TeamAsked struct {
	Drop  Document         `json:"drop"`
	Move  string           `json:"move" minLength:"1" maxLength:"40"`
	FromM *quantity.Metres `json:"from_m,omitempty" minimum:"0" maximum:"2000" doc:"where the load hangs; left out: at the edge"`
	ToM   *quantity.Metres `json:"to_m,omitempty" minimum:"0" maximum:"2000" doc:"where it is to come, of lower and raise"`
	Ratio int              `json:"ratio,omitempty" enum:"0,1,2,3,5,9" doc:"of a haul; left out: 3"`
	// Steps are walked in place of planning.
	Steps []team.TeamAction `json:"steps,omitempty" maxItems:"500"`
}

// TeamAnswer is what was found.
type TeamAnswer struct {
	Plan *team.TeamPlan `json:"plan,omitempty"`
	// Impossible says why there is none.
	Impossible string          `json:"impossible,omitempty"`
	Found      []stance.Breach `json:"found,omitempty" doc:"of steps that were walked"`
	Figures    *TeamFigures    `json:"figures,omitempty"`
}

// TeamFigures are what the load asks of the team at every ratio and height.
type TeamFigures struct {
	Hauls []HaulFigures `json:"hauls"`
	// CeilingKN is the force that nobody is to be caught with.
	CeilingKN quantity.Kilonewtons `json:"ceiling_kN"`
	Schools   []SchoolFigures      `json:"schools" doc:"from the edge down"`
}

// HaulFigures are those of one ratio, for the whole way up.
type HaulFigures struct {
	Ratio int `json:"ratio"`
	// Pulleys are needed beside the brake; Ready says that the kit has them.
	Pulleys int  `json:"pulleys"`
	Ready   bool `json:"ready"`
	// HandKN is pulled together by all, Needed how many steady haulers that takes.
	HandKN   quantity.Kilonewtons `json:"hand_kN"`
	Needed   int                  `json:"haulers_needed"`
	Strokes  int                  `json:"strokes" doc:"of 2 m"`
	RopeM    quantity.Metres      `json:"rope_through_hands_m"`
	AnchorKN quantity.Kilonewtons `json:"anchor_kN"`
	JammedKN quantity.Kilonewtons `json:"jammed_kN" doc:"on the load line if the load jams and the haulers pull their most; errs low"`
}

// SchoolFigures are what happens at a height when either strand fails at once, by both
// schools.
type SchoolFigures struct {
	AtM    quantity.Metres     `json:"at_m"`
	Slack  mechanics.SchoolOut `json:"slack"`
	Shared mechanics.SchoolOut `json:"shared"`
}

// Answer plans or walks what is asked for. A *strict.Error names what cannot be asked.
func (a *TeamAsked) Answer() (*TeamAnswer, error) {
	r, err := a.Drop.teamRig()
	if err != nil {
		return nil, err
	}
	out := &TeamAnswer{Figures: figuresOf(r)}
	out.Figures.CeilingKN = a.Drop.Policy.With().ArrestCeilingKN
	out.Plan, err = r.For(team.Ask{Move: a.Move, FromM: a.FromM, ToM: a.ToM, Ratio: a.Ratio})
	switch {
	case errors.Is(err, search.ErrNone):
		out.Impossible = a.Move + ": " + err.Error()
		return out, nil
	case err != nil:
		return nil, err
	case a.Steps != nil:
		out.Plan, out.Found = r.Walk(out.Plan, a.Steps)
	}
	return out, nil
}

// teamRig is what the team of the drop has rigged.
func (d *Document) teamRig() (*team.Rig, error) {
	r, err := d.resolve()
	if err != nil {
		return nil, err
	}
	if r.Team == nil {
		return nil, asked("/drop/team", "missing: nothing is rigged for a team on this drop")
	}
	edge := d.Geometry.TopM
	for i, e := range d.Geometry.Edges {
		if i == 0 || e.HeightM > edge {
			edge = e.HeightM
		}
	}
	return team.New(r.Team, edge, *d.Policy.With().BelaySlackM), nil
}

const (
	// strokeM is how far a grab of a haul runs before it is set back.
	strokeM = 2
	// pulleyPart is the part of a pull that gets round a pulley, where the kit has none.
	pulleyPart = 0.9
	heights    = 12
)

func figuresOf(r *team.Rig) *TeamFigures {
	out := &TeamFigures{Hauls: []HaulFigures{}, Schools: []SchoolFigures{}}
	each, part := quantity.Metres(strokeM), cmp.Or(r.Kit.PulleyPart, pulleyPart)
	for _, ratio := range []int{1, 2, 3, 5, 9} {
		in := mechanics.HaulIn{
			LoadKg: r.Load.MassKg, System: map[int]string{1: "1:1", 2: "2:1", 3: "3:1", 5: "5:1", 9: "9:1"}[ratio], Efficiency: &part,
			HaulerKN: 0.2, HaulerPeakKN: 0.4, TravelM: mechanics.Travel{Each: &each}, RaiseM: max(1, r.EdgeM),
		}
		if r.Haulers > 0 {
			in.Haulers = &r.Haulers
		}
		h, err := mechanics.Haul(in)
		if err != nil {
			continue
		}
		needs := team.Pulleys(ratio)
		out.Hauls = append(out.Hauls, HaulFigures{
			Ratio: ratio, Pulleys: needs, Ready: needs <= r.Kit.Pulleys && (ratio == 1 || r.Kit.Grabs > 0), HandKN: h.HandKN, Needed: h.HaulersNeeded,
			Strokes: h.Strokes, RopeM: h.RopeThroughHandsM, AnchorKN: h.AnchorKN, JammedKN: h.JammedKN,
		})
	}
	for i := range heights {
		at := r.EdgeM * quantity.Metres(heights-i) / heights
		s := mechanics.Share(mechanics.ShareIn{
			MassKg: r.Load.MassKg, RopeLengthM: max(0.5, r.TopM-at), ElongationPct: cmp.Or(r.Belay.ElongationPct, 3), Share: 0.5, SlackM: r.Schools.SlackM,
		})
		out.Schools = append(out.Schools, SchoolFigures{at, s.Slack, s.Shared})
	}
	return out
}
