package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/drill"
	"zealousknot/internal/store/sqlc"
)

// JointLine is an exercise that several do together, as it is listed.
type JointLine struct {
	ID      string         `json:"id"`
	Move    string         `json:"move"`
	Exam    bool           `json:"exam,omitempty"`
	By      string         `json:"by" doc:"who began it"`
	At      time.Time      `json:"at"`
	Members []drill.Member `json:"members"`
	Ended   bool           `json:"ended,omitempty"`
}

// Joints gives those of a team, the last begun first, fifty at most.
func (s *Store) Joints(ctx context.Context, team uuid.UUID) ([]JointLine, error) {
	rows, err := s.q.JointExercises(ctx, team)
	if err != nil {
		return nil, err
	}
	list := make([]JointLine, len(rows))
	for i := range rows {
		j, err := readJoint(rows[i].Document)
		if err != nil {
			return nil, err
		}
		list[i] = JointLine{rows[i].ID.String(), j.Exercise.Question.Move, j.Exam, rows[i].ByName, rows[i].BegunAt.Time.UTC(), j.Members, j.Ended}
	}
	return list, nil
}

// readJoint reads one as this program wrote it.
func readJoint(document []byte) (*drill.Joint, error) {
	j := new(drill.Joint)
	return j, json.Unmarshal(document, j)
}

// Joint gives one; ErrNotFound for none.
func (s *Store) Joint(ctx context.Context, team, id uuid.UUID) (*drill.Joint, error) {
	row, err := s.q.JointExercise(ctx, sqlc.JointExerciseParams{TeamID: team, ID: id})
	if err != nil {
		return nil, missing(err)
	}
	return readJoint(row.Document)
}

// ErrJointTaken says that a joint exercise with this id was begun already.
var ErrJointTaken = errors.New("this joint exercise was begun already")

// BeginJoint keeps a new one, and forgets those that nobody has touched for a week.
func (s *Store) BeginJoint(ctx context.Context, team, id uuid.UUID, by string, j *drill.Joint) error {
	body, err := json.Marshal(j)
	if err != nil {
		return err
	}
	return s.inTx(ctx, func(q *sqlc.Queries) error {
		if err := q.ForgetJointExercises(ctx, team); err != nil {
			return err
		}
		n, err := q.AddJointExercise(ctx, sqlc.AddJointExerciseParams{TeamID: team, ID: id, Document: body, ByName: by})
		if err == nil && n == 0 {
			err = ErrJointTaken
		}
		if err != nil {
			return err
		}
		return (&Change{Practice: true}).tell(ctx, q, team)
	})
}

// TakeTurn takes a turn of somebody, one after another whoever is first.
func (s *Store) TakeTurn(ctx context.Context, team, id uuid.UUID, name string, t drill.Turn) (j *drill.Joint, err error) {
	err = s.inTx(ctx, func(q *sqlc.Queries) error {
		row, err := q.LockJointExercise(ctx, sqlc.LockJointExerciseParams{TeamID: team, ID: id})
		if errors.Is(err, pgx.ErrNoRows) {
			return ErrNotFound
		}
		if err != nil {
			return err
		}
		if j, err = readJoint(row.Document); err != nil {
			return err
		}
		if err := j.Take(t, name); err != nil {
			return err
		}
		body, err := json.Marshal(j)
		if err != nil {
			return err
		}
		if err := q.SaveJointExercise(ctx, sqlc.SaveJointExerciseParams{TeamID: team, ID: id, Document: body}); err != nil {
			return err
		}
		return (&Change{Practice: true}).tell(ctx, q, team)
	})
	return j, err
}
