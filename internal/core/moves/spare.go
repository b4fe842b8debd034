package moves

import (
	"slices"

	"zealousknot/internal/core/stance"
)

// spared leaves out what is put on and taken off again for nothing: each leg of a chain is the
// cheapest, and what its goal wants of the next one need not be wanted by that. A pair of steps
// goes only where what is left keeps every rule, costs less and ends the same.
func spared(sc *stance.Scene, start stance.Stance, steps []step) []step {
	quiet := sc.Quiet()
	for i := 0; i < len(steps); i++ {
		j := offAgain(steps, i)
		if j < 0 {
			continue
		}
		if less, ok := without(quiet, start, steps, i, j); ok {
			// What covered that pair may be for nothing now.
			steps, i = less, -1
		}
	}
	return steps
}

// offAgain is the step at which what a step puts on comes off, untouched between; -1 for none.
func offAgain(steps []step, i int) int {
	put := &steps[i].action
	if put.Do != stance.PutOn && put.Do != stance.Clip {
		return -1
	}
	j := slices.IndexFunc(steps[i+1:], func(s step) bool { return s.action.Item == put.Item })
	if j < 0 {
		return -1
	}
	if do := steps[i+1+j].action.Do; do != stance.TakeOff && do != stance.Unclip {
		return -1
	}
	return i + 1 + j
}

// without walks steps without two of them; ok is false where that breaks a rule, ends elsewhere
// or costs no less.
func without(sc *stance.Scene, start stance.Stance, steps []step, i, j int) (less []step, ok bool) {
	at, was := start, start
	before, after := 0.0, 0.0
	for n := range steps {
		a := &steps[n].action
		_, broken, err := sc.Apply(was, *a)
		if err != nil {
			return nil, false
		}
		before += cost(sc, &was, &steps[n].after, a, len(broken))
		was = steps[n].after
		if n == i || n == j {
			continue
		}
		next, broken, err := sc.Apply(at, *a)
		if err != nil || stance.Stops(broken) {
			return nil, false
		}
		after += cost(sc, &at, &next, a, len(broken))
		less, at = append(less, step{action: *a, after: next, broken: steps[n].broken}), next
	}
	return less, at == was && after < before
}
