package day_test

import (
	"encoding/json"
	"flag"
	"maps"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/day"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/demo"
)

var spoilt = flag.Int("spoilt", 20, "how often the board is spoilt")

// A day that is spoilt anywhere is judged and filled, or refused: nothing crashes.
func TestSpoiltDays(t *testing.T) {
	whole := day.Asked{Board: *demo.Board(), People: demo.People(), Store: demo.Gear()}
	drops := demo.Drops()
	for _, id := range slices.Sorted(maps.Keys(drops)) {
		whole.Drops = append(whole.Drops, day.DropOf{ID: id, Document: *drops[id]})
	}
	text, err := json.Marshal(whole)
	if err != nil {
		t.Fatal(err)
	}
	src, judged := chance.Rand(903, 1), 0
	for range *spoilt {
		var doc map[string]any
		if err := json.Unmarshal(text, &doc); err != nil {
			t.Fatal(err)
		}
		did := chance.Spoil(src, doc)
		asked, err := json.Marshal(doc)
		if err != nil {
			t.Fatal(err)
		}
		done, wrong := chance.End(func() (any, error) {
			var a day.Asked
			if err := strict.Read(asked, &a); err != nil {
				return nil, err
			}
			report, err := a.Check()
			if err != nil {
				return nil, err
			}
			filled, err := a.Fill(t.Context())
			return []any{report, filled}, err
		}, strict.Refused)
		if wrong != "" {
			t.Errorf("%s: %s", strings.Join(did, "; "), wrong)
		}
		if done {
			judged++
		}
	}
	if judged < *spoilt/10 {
		t.Errorf("%d of %d judged", judged, *spoilt)
	}
}
