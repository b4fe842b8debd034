package progress_test

import (
	"context"
	"testing"

	"zealousknot/internal/core/progress"
)

// Parts of parts are reported as parts of the whole; searches where they are needed; nobody
// where nobody listens.
func TestParts(t *testing.T) {
	var last progress.Report
	told := 0
	ctx := progress.Told(context.Background(), func(r progress.Report) { last = r; told++ })
	for _, c := range []struct {
		ctx  context.Context
		part float64
	}{
		{ctx, 0.5}, {progress.Part(ctx, 0.5, 1), 0.75}, {progress.Part(progress.Part(ctx, 0, 0.5), 0.5, 1), 0.375},
	} {
		if progress.Say(c.ctx, 5, 10, "metres"); last.Part != c.part || last.Done != 5 || last.Total != 10 || last.Of != "metres" || last.Most {
			t.Errorf("%+v, want %v", last, c.part)
		}
	}
	progress.Searched(ctx, 1, 4)
	progress.Say(ctx, 0, 0, "nothing")
	progress.Say(context.Background(), 1, 2, "metres")
	progress.Searched(progress.States(context.Background()), 1, 2)
	progress.Say(progress.Part(context.Background(), 0, 1), 1, 2, "metres")
	if told != 3 {
		t.Errorf("told %d times", told)
	}
	if progress.Searched(progress.States(progress.Part(ctx, 0.5, 1)), 1, 4); told != 4 || last.Part != 0.625 || !last.Most || last.Of != "states" {
		t.Errorf("%+v", last)
	}
}
