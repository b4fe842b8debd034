package web

import (
	"context"
	"errors"
	"net/http"
	"reflect"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

// registerJoint declares exercises that several do together.
func (c *Config) registerJoint(api huma.API) {
	get(api, "joint-exercises", "/practice/joint", "Exercises that several do together, the last begun first, 50 at most", c.jointExercises)
	withBody(api, operation(http.MethodPut, "begin-joint", "/practice/joint/{id}", "Begin an exercise of a team's move that several do together, each with roles"), reflect.TypeFor[jointBody](), c.beginJoint)
	get(api, "joint-exercise", "/practice/joint/{id}", "A joint exercise as one's own roles see it; a trainer who takes no part sees it whole", c.jointExercise)
	withBody(api, operation(http.MethodPost, "take-turn", "/practice/joint/{id}/turns", "Take roles in a joint exercise, call, answer, do something, go back, or hand it in"), reflect.TypeFor[drill.Turn](), c.takeTurn)
}

type jointsOut struct {
	Body struct {
		Exercises []store.JointLine `json:"exercises"`
	}
}

func (c *Config) jointExercises(ctx context.Context, _ *struct{}) (*jointsOut, error) {
	list, err := c.Store.Joints(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &jointsOut{}
	out.Body.Exercises = list
	return out, nil
}

type jointBody struct {
	Exercise drill.Exercise `json:"exercise"`
	Exam     bool           `json:"exam,omitempty" doc:"the first stop ends it"`
}

type jointIn struct {
	ID      uuid.UUID `path:"id" format:"uuid"`
	RawBody []byte
}

// beginJoint keeps a new one, in which nobody has a role yet.
func (c *Config) beginJoint(ctx context.Context, in *jointIn) (*seenOut, error) {
	var body jointBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	body.Exercise.Answers = nil
	j := &drill.Joint{Exercise: body.Exercise, Exam: body.Exam, Members: []drill.Member{}, Turns: []drill.Turn{}}
	if err := j.Validate(); err != nil {
		return nil, failed(ctx, err)
	}
	i := who(ctx)
	err := c.Store.BeginJoint(ctx, i.Team.ID, in.ID, i.Name, j)
	if errors.Is(err, store.ErrJointTaken) {
		return nil, NewProblem(http.StatusConflict, err.Error())
	}
	if err != nil {
		return nil, failed(ctx, err)
	}
	return seen(ctx, in.ID, j)
}

type jointIDIn struct {
	ID uuid.UUID `path:"id" format:"uuid"`
}

type seenOut struct{ Body seenBody }

type seenBody struct {
	*drill.Seen
	// MarkID is one for each joint exercise and account, so that it is kept once.
	MarkID string `json:"mark_id,omitempty" doc:"when it has ended: the id of one's own mark of it; left out: one called, answered and did nothing"`
}

// seen is a joint exercise as whoever asks sees it.
func seen(ctx context.Context, id uuid.UUID, j *drill.Joint) (*seenOut, error) {
	i := who(ctx)
	s, err := j.Seen(i.Account.String())
	if err == nil && len(s.Own) == 0 && is(i, Trainer) {
		s, err = j.Whole()
	}
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &seenOut{seenBody{Seen: s}}
	if s.Ended && j.TookPart(i.Account.String()) {
		out.Body.MarkID = uuid.NewSHA1(id, i.Account[:]).String()
	}
	return out, nil
}

func (c *Config) jointExercise(ctx context.Context, in *jointIDIn) (*seenOut, error) {
	j, err := c.Store.Joint(ctx, who(ctx).Team.ID, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return seen(ctx, in.ID, j)
}

func (c *Config) takeTurn(ctx context.Context, in *jointIn) (*seenOut, error) {
	t, err := drill.ReadTurn(in.RawBody)
	if err != nil {
		return nil, failed(ctx, err)
	}
	i := who(ctx)
	t.By = i.Account.String()
	j, err := c.Store.TakeTurn(ctx, i.Team.ID, in.ID, i.Name, *t)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return seen(ctx, in.ID, j)
}
