package scenario_test

import (
	"encoding/json"
	"regexp"
	"slices"
	"testing"
	"time"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/demo"
	"zealousknot/internal/demo/scenario"
)

var days = regexp.MustCompile(`"(\d{4}-\d\d-\d\d)(T[^"]*)?"`)

// TestMove holds that every day moves by as much, once, and nothing else changes; and that
// nothing is signed later than now.
func TestMove(t *testing.T) {
	was, moved := scenario.Of(""), scenario.Of("")
	to := demo.Day.AddDays(100)
	now := time.Date(2027, 3, 4, 5, 0, 0, 0, time.UTC)
	scenario.Move(moved, to, now)
	a, b := days.FindAllSubmatch(text(t, was), -1), days.FindAllSubmatch(text(t, moved), -1)
	if len(a) < 100 || len(a) != len(b) {
		t.Fatalf("%d days, then %d", len(a), len(b))
	}
	for i := range a {
		if got, want := gear.Date(b[i][1]), gear.Date(a[i][1]).AddDays(100); got != want {
			t.Fatalf("%s became %s, want %s", a[i][0], b[i][0], want)
		}
	}
	if x, y := days.ReplaceAll(text(t, was), nil), days.ReplaceAll(text(t, moved), nil); !slices.Equal(x, y) {
		t.Error("more than days changed")
	}
	late := 0
	for _, s := range moved.Signed {
		given, err := time.Parse(time.RFC3339, s.Entry.GivenAt)
		if err != nil || given.After(now) {
			t.Errorf("signed at %s, now is %v, %v", s.Entry.GivenAt, now, err)
		}
		if given.Equal(now) {
			late++
		}
	}
	if late == 0 {
		t.Error("nothing of the trial would have been signed after now")
	}
	// In the evening the checks of the day are as old as in the forenoon, in their order.
	evening := scenario.Of("")
	now = time.Date(2027, 3, 4, 22, 0, 0, 0, time.UTC)
	scenario.Move(evening, to, now)
	checks, last := 0, time.Time{}
	for _, s := range evening.Signed {
		if given := s.Entry.Given(); s.Entry.Check != nil || s.Entry.Partner != nil {
			if ago := now.Sub(given); ago > 2*time.Hour || ago < time.Hour || given.Before(last) {
				t.Errorf("%s was checked at %v", s.Entry.Item, given)
			}
			checks, last = checks+1, given
		}
	}
	if checks == 0 {
		t.Error("nothing is checked")
	}
	scenario.Move(was, demo.Day, now)
	if x := text(t, scenario.Of("")); !slices.Equal(x, text(t, was)) {
		t.Error("moved to its own day it changed")
	}
}

func text(t *testing.T, v any) []byte {
	t.Helper()
	b, err := json.Marshal(v)
	if err != nil {
		t.Fatal(err)
	}
	return b
}
