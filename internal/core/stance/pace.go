package stance

import "zealousknot/internal/core/manoeuvre"

// Pace is how long actions take and what counts beside the time when plans are
// compared.
type Pace struct {
	// Seconds are of each action. Of a way along the rope more is counted by the metre.
	Seconds map[Do]float64
	// Handled is what putting something on or taking it off counts beside its time,
	// Effort what time spent standing in a foot loop is multiplied with, FallMetre what
	// a metre counts, at each step, that would be fallen if what bears went, and Look
	// what is only just allowed.
	Handled, Effort, FallMetre, Look float64
}

// DefaultPace is the shipped one.
func DefaultPace() Pace {
	return Pace{
		Seconds: manoeuvre.Seconds[Do](manoeuvre.Person), Handled: 10, Effort: 2, FallMetre: 12, Look: 5,
	}
}

// Hold is what putting a hold on, or taking it off, counts.
func (p *Pace) Hold(do Do) float64 { return p.Seconds[do] + p.Handled }
