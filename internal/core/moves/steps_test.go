package moves_test

import (
	"encoding/json"
	"testing"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/school"
	"zealousknot/internal/demo"
)

// Whatever is typed as a step list is read or refused, and walked as far as it can be;
// what was walked is read again and leads to the same.
func FuzzSteps(f *testing.F) {
	for name, move := range map[string]string{"face-4": "rebelay-down", "gate-shaft": "there-and-back", "crown-gallery": "aid"} {
		d := demo.Drops()[name]
		asked := ask.MoveAsked{Drop: *d, Move: move, ToM: &d.People[0].AtM}
		if move != "there-and-back" {
			asked.ToM = nil
		}
		answer, err := asked.Answer(f.Context(), ask.Env{})
		if err != nil || answer.Plan == nil {
			f.Fatal(move, err)
		}
		text, err := json.Marshal(moves.StepsOf(answer.Plan))
		if err != nil {
			f.Fatal(err)
		}
		f.Add(name, text)
	}
	f.Add("crown-gallery", []byte(`{"start":{"at_m":12,"bears":"loop","standing":true,"holds":[{"item":"lanyard-6","strand":"structure","span":0,"at_m":1,"into":"mark"}]},"steps":[{"do":"stand"}]}`))
	f.Fuzz(func(t *testing.T, name string, text []byte) {
		d, known := demo.Drops()[name]
		if !known {
			return
		}
		list, err := moves.ReadSteps(text)
		if err != nil {
			return
		}
		walked, found, err := walkOn(d, list, school.Schools{})
		if err != nil {
			return
		}
		again, _, err := walkOn(d, moves.StepsOf(walked), school.Schools{})
		if err != nil || len(again.Steps) != len(walked.Steps) {
			t.Fatalf("walked again: %v, %d of %d steps", err, len(again.Steps), len(walked.Steps))
		}
		for _, b := range found {
			if b.Step < 0 || b.Step > len(list.Steps) || b.Impossible == "" && len(b.Broken) == 0 {
				t.Errorf("%+v", b)
			}
		}
		for _, s := range walked.Steps {
			if s.After.Held > 1 && len(s.FailOne) == 0 && !s.After.Grounded {
				t.Errorf("nothing fails at %+v", s.After)
			}
		}
	})
}
