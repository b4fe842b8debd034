package reeving_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/reeving"
)

// Every change that is offered is one that can be, one after the other: its reeving is read and
// raises the load, its ratio is what a haul by it has, its parts are named, and what it says it
// does is in the text.
func TestChanges(t *testing.T) {
	r := chance.Rand(6, 3)
	one, stroke := quantity.Ratio(1), quantity.Metres(2)
	kinds := map[string]int{}
	for n := range 300 {
		ropes := reeving.Named([]string{"1:1", "2:1", "3:1", "5:1", "9:1"}[n%5])
		for range r.IntN(6) {
			rope := ropes[r.IntN(len(ropes))]
			list := reeving.Changes(ropes, rope.Rope, r.IntN(len(rope.Path)-1))
			for _, c := range list {
				out, err := mechanics.Haul(mechanics.HaulIn{LoadKg: 100, Reeving: c.Reeving, Efficiency: &one, RaiseM: 1, HaulerKN: 0.2, HaulerPeakKN: 0.4, TravelM: mechanics.Travel{Each: &stroke}})
				if err != nil || math.Abs(float64(out.IdealRatio-c.Ideal)) > 1e-9*float64(c.Ideal) {
					t.Errorf("%s: %v, %v by itself %v: %v", c.Words, c.Reeving, c.Ideal, out.IdealRatio, err)
				}
				if pulleys, grabs := reeving.Parts("", c.Reeving); len(pulleys) != len(out.PulleysKN) || len(grabs) != len(out.GrabsKN) {
					t.Errorf("%s: %v has the parts %q and %q", c.Words, c.Reeving, pulleys, grabs)
				}
				if fmt.Sprint(c.Reeving) == fmt.Sprint(ropes) {
					t.Errorf("%s changes nothing", c.Words)
				}
				kinds[strings.Fields(c.Words)[0]]++
			}
			if len(list) > 0 {
				if next := list[r.IntN(len(list))]; len(next.Reeving) <= 4 && next.Ideal < 200 {
					ropes = next.Reeving
				}
			}
		}
	}
	for _, word := range []string{"add", "fix", "take", "move", "pull", "end"} {
		if kinds[word] == 0 {
			t.Errorf("no change begins with %q: %v", word, kinds)
		}
	}
	if list := reeving.Changes(reeving.Named("3:1"), "none", 0); list != nil {
		t.Errorf("of a rope that is missing %v", list)
	}
}
