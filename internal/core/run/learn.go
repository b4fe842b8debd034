package run

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// A Sample is how long an action took once.
type Sample struct {
	Do    string  `json:"do"`
	RealS float64 `json:"real_s"`
	// Practice is timed practice of a rescue, not a run.
	Practice bool `json:"practice,omitempty"`
}

// Learnt is what the runs say of the time of an action.
type Learnt struct {
	Do      string  `json:"do"`
	Count   int     `json:"count"`
	MedianS float64 `json:"median_s"`
	// LowS and HighS bound the median with 90 %; nil: too few to tell.
	LowS  *float64 `json:"low_s,omitempty"`
	HighS *float64 `json:"high_s,omitempty"`
	NowS  float64  `json:"now_s"`
	// ProposedS is a time to take over; nil: none, and Why says why.
	ProposedS *float64 `json:"proposed_s,omitempty"`
	Why       string   `json:"why"`
}

// Enough is how many times an action must have been timed before another time is proposed.
const Enough = 8

// Learn proposes times of a team from how long its actions took: the median, only where there
// are enough and its interval leaves out the time of now. Nothing is changed by it.
func Learn(samples []Sample, now map[string]float64) []Learnt {
	return learn(samples, now, func(l *Learnt, sorted []float64, _ []float64) {
		propose(l, l.MedianS)
	})
}

// LearnRescue is Learn for a rescue: its times are shortened only by timed practice of that
// rescue, to the 90th percentile of it. Longer ones come from runs too.
func LearnRescue(samples []Sample, now map[string]float64) []Learnt {
	return learn(samples, now, func(l *Learnt, sorted, practised []float64) {
		if l.LowS != nil && l.MedianS > l.NowS {
			propose(l, percentile(sorted, 90))
			return
		}
		switch p := percentile(practised, 90); {
		case len(practised) < Enough:
			l.Why = fmt.Sprintf("timed in practice %d times, not %d", len(practised), Enough)
		case p >= l.NowS:
			l.Why = "nine of ten practices are not within less than the time of now"
		default:
			l.ProposedS, l.Why = &p, fmt.Sprintf("nine of ten of %d practices took no longer", len(practised))
		}
	})
}

func learn(samples []Sample, now map[string]float64, decide func(l *Learnt, sorted, practised []float64)) []Learnt {
	by, practised := map[string][]float64{}, map[string][]float64{}
	for _, s := range samples {
		by[s.Do] = append(by[s.Do], s.RealS)
		if s.Practice {
			practised[s.Do] = append(practised[s.Do], s.RealS)
		}
	}
	list := []Learnt{}
	for do, times := range by {
		slices.Sort(times)
		slices.Sort(practised[do])
		l := Learnt{Do: do, Count: len(times), MedianS: median(times), NowS: now[do]}
		if low, high, ok := interval(times); ok {
			l.LowS, l.HighS = &low, &high
		}
		decide(&l, times, practised[do])
		list = append(list, l)
	}
	slices.SortStableFunc(list, func(a, b Learnt) int { return cmp.Compare(a.Do, b.Do) })
	return list
}

// propose gives a time where the interval of the median leaves out the one of now.
func propose(l *Learnt, seconds float64) {
	switch {
	case l.Count < Enough:
		l.Why = fmt.Sprintf("timed %d times, not %d", l.Count, Enough)
	case *l.LowS <= l.NowS && l.NowS <= *l.HighS:
		l.Why = "the time of now is within the interval"
	default:
		l.ProposedS, l.Why = &seconds, fmt.Sprintf("with 90 %% the median of %d is between %.0f and %.0f s", l.Count, *l.LowS, *l.HighS)
	}
}

func median(sorted []float64) float64 {
	n := len(sorted)
	return (sorted[(n-1)/2] + sorted[n/2]) / 2
}

// percentile is the smallest value that so many of a hundred do not pass.
func percentile(sorted []float64, part float64) float64 {
	if len(sorted) == 0 {
		return math.Inf(1)
	}
	return sorted[max(0, int(math.Ceil(part/100*float64(len(sorted))))-1)]
}

// interval bounds the median with 90 % by order statistics: how many of n values lie below
// the median is binomial, whatever they are spread like. ok is false for fewer than five.
func interval(sorted []float64) (low, high float64, ok bool) {
	n := len(sorted)
	k, below, chance := 0, 0.0, math.Pow(0.5, float64(n))
	for k < n/2 {
		below += chance // of k values or fewer below the median
		if 2*below > 0.1 {
			break
		}
		chance *= float64(n-k) / float64(k+1)
		k++
	}
	if k == 0 {
		return 0, 0, false
	}
	return sorted[k-1], sorted[n-k], true
}
