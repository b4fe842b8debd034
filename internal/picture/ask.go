package picture

import (
	"context"
	"fmt"
	"slices"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// Questions is the whole table: the core's, and those of pictures.
func Questions() []ask.Question {
	return append(ask.Questions(), ask.Row(ask.Question{
		ID: "loading", Method: "POST", Path: "/pictures/loading", Summary: "Draw how the rope lies in the device of a hold, as it is and as it must be, and what each proof moves",
	}, loading), ask.Row(ask.Question{
		ID: "figure-picture", Method: "POST", Path: "/pictures/figure", Summary: "Draw the thing of a figure with its values",
	}, figure), ask.Row(ask.Question{
		ID: "knots", Method: "POST", Path: "/pictures/knots", Summary: "Draw the knots of a strand, or all, in a rope of its diameter, each with its wrong form",
	}, knots), ask.Row(ask.Question{
		ID: "stance-picture", Method: "POST", Path: "/pictures/stance", Summary: "Draw a person close up with their holds at a step of a move, and what one failure would do",
	}, stancePicture), ask.Row(ask.Question{
		ID: "team-picture", Method: "POST", Path: "/pictures/team", Summary: "Draw the rig of a team as it stands at a step, and what one failure would do",
	}, teamPicture), ask.Row(ask.Question{
		ID: "forces-picture", Method: "POST", Path: "/pictures/forces", Summary: "Draw the rig of a team with the tension of every part of its ropes",
	}, forces), ask.Row(ask.Question{
		ID: "pair-picture", Method: "POST", Path: "/pictures/pair", Summary: "Draw a rescuer with a casualty as they hang at a step, what is opened next, and what one failure would do",
	}, pairPicture))
}

// Find gives a question by its id; nil for none.
func Find(id string) *ask.Question {
	all := Questions()
	if i := slices.IndexFunc(all, func(q ask.Question) bool { return q.ID == id }); i >= 0 {
		return &all[i]
	}
	return nil
}

// Asked is a hold of a drop: of a person, or of the load of the team.
type Asked struct {
	Drop   drop.Document `json:"drop"`
	Person string        `json:"person" maxLength:"64" doc:"whose hold; team-load for a brake of the team"`
	Hold   string        `json:"hold" maxLength:"64"`
	View   string        `json:"view,omitempty" enum:"front,back" doc:"left out: front"`
}

// Loaded are the pictures of a hold.
type Loaded struct {
	// Must is left out where it would show the same.
	Is   *Drawing `json:"is" doc:"as it is described"`
	Must *Drawing `json:"must,omitempty" doc:"as it must be, where that differs"`
	// Proofs are how it must be, with what each proof moves.
	Proofs []ProofDrawing `json:"proofs"`
}

// ProofDrawing is the picture of a proof.
type ProofDrawing struct {
	Proof   string   `json:"proof"`
	Drawing *Drawing `json:"drawing"`
}

func loading(_ context.Context, _ ask.Env, _ struct{}, a *Asked) (*Loaded, error) {
	r, err := a.Drop.Rig()
	if err != nil {
		return nil, err
	}
	h := holdOf(r, a.Person, a.Hold)
	if h == nil {
		return nil, &strict.Error{Faults: []strict.Fault{{Pointer: "/hold", Detail: fmt.Sprintf("%q has no hold %q", a.Person, a.Hold)}}}
	}
	l, ok := Of(h)
	if !ok {
		return nil, &strict.Error{Faults: []strict.Fault{{Pointer: "/hold", Detail: "no rope runs through " + h.Device.Item.Label}}}
	}
	l.Back = a.View == "back"
	l.Lying = lies(r, h)
	return l.loaded(h.Device.Model), nil
}

func (l Loading) loaded(m *gear.Model) *Loaded {
	must := l.Must(m)
	out := &Loaded{Is: l.Draw(), Proofs: []ProofDrawing{}}
	if l.differs(must) {
		out.Must = must.Draw()
	}
	for _, p := range procedure.Of(m) {
		out.Proofs = append(out.Proofs, ProofDrawing{p.ID, must.Proof(p.Sign)})
	}
	return out
}

func holdOf(r *rig.Rig, person, hold string) *rig.HoldView {
	people := r.People
	if r.Team != nil && r.Team.Body != nil {
		people = append(slices.Clone(people), r.Team.Body)
	}
	for _, p := range people {
		if p.ID != person {
			continue
		}
		for _, h := range p.Holds {
			if h.ID == hold {
				return h
			}
		}
	}
	return nil
}

// lies reports whether a brake of the team lies on the ground.
func lies(r *rig.Rig, h *rig.HoldView) bool {
	if r.Team == nil || h.Role() != rig.ToLower {
		return false
	}
	for _, line := range []*rig.TeamLine{r.Team.Main.TeamLine, r.Team.Belay.TeamLine} {
		if line != nil && line.Brake == h.Device.Item.ID {
			return line.Place == "ground"
		}
	}
	return false
}

// FigureAsked is a figure with what goes in, as the JSON text that its contract reads.
type FigureAsked struct {
	Figure string `json:"figure" maxLength:"20"`
	In     string `json:"in" maxLength:"20000" doc:"JSON text of what goes in"`
}

func figure(_ context.Context, _ ask.Env, _ struct{}, a *FigureAsked) (*Drawing, error) {
	return Figure(a.Figure, []byte(a.In))
}
