package ask_test

import (
	"context"
	"errors"
	"testing"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/demo"
)

// flips is a context that is cancelled after it was asked so often, and counts how often it
// is asked after that.
type flips struct {
	context.Context
	left, after int
}

func (f *flips) Err() error {
	if f.left > 0 {
		f.left--
		return nil
	}
	f.after++
	return context.Canceled
}

// Whatever may take long stops when it is cancelled, wherever it is: the search that runs
// ends within 256 states, those that would follow ask once and expand none, and the answer
// is that it was cancelled, never half an answer.
func TestStops(t *testing.T) {
	at, low := quantity.Metres(46), quantity.Metres(2)
	for name, ask := range map[string]func(ctx context.Context) error{
		"rescue": func(ctx context.Context) error {
			a := ask.RescueAsked{Drop: *demo.Drops()["face-7"], Person: "ivo", AtM: &at}
			_, err := a.Answer(ctx, ask.Env{})
			return err
		},
		"changes": func(ctx context.Context) error {
			a := ask.RescueAsked{Drop: *demo.Drops()["face-7"], Changes: true}
			_, err := a.Answer(ctx, stocked(ask.Env{}))
			return err
		},
		"check": func(ctx context.Context) error {
			_, err := check.Drop(ctx, demo.Drops()["face-7"], nil, check.FindingsOnly)
			return err
		},
		"move": func(ctx context.Context) error {
			d := demo.Drops()["gate-shaft"]
			d.People[0].Carries = nil // so that there is none, and what would give one is looked for
			a := ask.MoveAsked{Drop: *d, Move: "pass-knots-up"}
			_, err := a.Answer(ctx, stocked(ask.Env{}))
			return err
		},
		"team": func(ctx context.Context) error {
			a := ask.TeamAsked{Drop: *demo.Drops()["basin-wall"], Move: "raise", FromM: &low, ToM: &at}
			_, err := a.Answer(ctx, ask.Env{})
			return err
		},
	} {
		whole, lefts := &flips{Context: t.Context(), left: 1 << 30}, []int{0, 400}
		if name != "changes" { // which take seconds
			_ = ask(whole)
			polls := 1<<30 - whole.left
			lefts = []int{0, polls / 2, polls - 1}
			if polls == 0 {
				t.Errorf("%s is never asked whether it is cancelled", name)
			}
		}
		for _, left := range lefts {
			f := &flips{Context: t.Context(), left: left}
			if err := ask(f); !errors.Is(err, context.Canceled) || f.after > 32 {
				t.Errorf("%s, cancelled after %d: asked %d times more, %v", name, left, f.after, err)
			}
		}
	}
}
