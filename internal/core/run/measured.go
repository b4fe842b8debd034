package run

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"time"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/team"
)

// Measured is what a channel of force showed on a run beside what was predicted of it. Falls
// are none of it: nothing of this is carried over to them.
type Measured struct {
	Channel string          `json:"channel" pattern:"^[a-z0-9][a-z0-9-]{0,63}\\.force$"`
	Loading finding.Loading `json:"loading" enum:"rest,lowering"`
	Ratio   float64         `json:"ratio" minimum:"0" maximum:"1000" doc:"the median of its readings over the middle of what was predicted"`
	Count   int             `json:"count" minimum:"1" doc:"readings"`
}

const (
	// settles is left out at either end of a stretch: what was tapped was then still moving.
	settles = 2 * time.Second
	// enoughReadings are what a channel needs to say anything.
	enoughReadings = 20
	// bearsPart is the part of what was predicted below which nobody hangs on a strand: they
	// stand on something.
	bearsPart = 0.3
)

// Measure holds what each channel of force showed against what was predicted; nothing of an
// exercise, nor of a run that was typed afterwards. byChannel are points in time.
func (d *Document) Measure(byChannel map[string][]Point) (list []Measured) {
	if d.Exercise || d.Entered != nil {
		return nil
	}
	for i := range d.Bands {
		b := &d.Bands[i]
		var values []float64
		for _, s := range d.stretches(b.Person) {
			values = append(values, within(byChannel[b.Channel], s)...)
		}
		predicted := float64(b.LowKN+b.HighKN) / 2
		if b.Person == "" || predicted <= 0 || len(values) < enoughReadings {
			continue
		}
		slices.Sort(values)
		if r := median(values) / predicted; r >= bearsPart {
			list = append(list, Measured{b.Channel, b.Loading(), math.Round(r*1e4) / 1e4, len(values)})
		}
	}
	return list
}

// Loading is how the strand of a band is loaded where it is measured.
func (b *Band) Loading() finding.Loading {
	if b.Person == rig.TeamBody {
		return finding.WhileLowering
	}
	return finding.AtRest
}

type stretch struct{ from, to time.Time }

// within are the values of points in a stretch, without what settles.
func within(list []Point, s stretch) (values []float64) {
	from, to := s.from.Add(settles).UnixMilli(), s.to.Add(-settles).UnixMilli()
	at, _ := slices.BinarySearchFunc(list, from, func(p Point, ms int64) int { return cmp.Compare(p.Ms, ms) })
	for _, p := range list[at:] {
		if p.Ms > to {
			break
		}
		values = append(values, p.Value())
	}
	return values
}

// stretches are when a person hung still at their place, until anything else was given of them
// or a move began; of a team's load when it was lowered, from the tap of the step before.
func (d *Document) stretches(person string) (list []stretch) {
	var still, tapped *Event
	events, _ := InOrder(d.Events)
	for i := range events {
		e := &events[i]
		if still != nil && (e.Person == person || e.Kind == Begin || e.Kind == End) {
			list = append(list, stretch{still.At(), e.At()})
			still = nil
		}
		switch {
		case e.Kind == AtPlace && e.Person == person:
			still = e
		case person == rig.TeamBody && e.Kind == StepTo && tapped != nil && tapped.Move == e.Move && d.does(e) == string(team.Lower):
			list = append(list, stretch{tapped.At(), e.At()})
		}
		if e.Kind == Begin || e.Kind == StepTo {
			tapped = e
		}
	}
	return list
}

// does is the action of the step that an event says was done.
func (d *Document) does(e *Event) string {
	i := slices.IndexFunc(d.Moves, func(m Move) bool { return m.ID == e.Move })
	if i < 0 || e.Step < 1 || e.Step > len(d.Moves[i].Steps) {
		return ""
	}
	return d.Moves[i].Steps[e.Step-1].Do
}

// Accuracy is how far from what was predicted a loading was measured, over runs.
type Accuracy struct {
	Loading finding.Loading `json:"loading" enum:"rest,lowering"`
	Runs    int             `json:"runs"`
	// LowPct to HighPct hold nine of ten of them, the median in their middle.
	LowPct    float64 `json:"low_pct" doc:"one of twenty is lower"`
	MedianPct float64 `json:"median_pct"`
	HighPct   float64 `json:"high_pct" doc:"one of twenty is higher"`
	Words     string  `json:"words"`
}

// Accuracies puts what runs measured together, by loading; each of runs is one of them.
func Accuracies(runs [][]Measured) []Accuracy {
	list := []Accuracy{}
	for _, loading := range []finding.Loading{finding.AtRest, finding.WhileLowering} {
		a := Accuracy{Loading: loading}
		var off []float64
		for _, measured := range runs {
			before := len(off)
			for _, m := range measured {
				if m.Loading == loading {
					off = append(off, 100*(m.Ratio-1))
				}
			}
			if len(off) > before {
				a.Runs++
			}
		}
		if a.Runs == 0 {
			continue
		}
		slices.Sort(off)
		a.LowPct, a.MedianPct, a.HighPct = percentile(off, 5), median(off), percentile(off, 95)
		a.Words = fmt.Sprintf("measured on %d runs: %s to %s what was predicted", a.Runs, beside(a.LowPct), beside(a.HighPct))
		if a.Runs == 1 {
			a.Words = fmt.Sprintf("measured on one run: %s what was predicted", beside(a.MedianPct))
		}
		list = append(list, a)
	}
	return list
}

// beside says a percentage in words.
func beside(pct float64) string {
	if pct < 0 {
		return fmt.Sprintf("%.0f %% below", -pct)
	}
	return fmt.Sprintf("%.0f %% above", pct)
}

// away is what was signed when the run was put away; nil before.
func (d *Document) away() *PuttingAway {
	i := slices.IndexFunc(d.Events, func(e Event) bool { return e.Kind == PutAway && e.Away != nil })
	if i < 0 {
		return nil
	}
	return d.Events[i].Away
}

// WasMeasured is what was sealed with the run of its measuring.
func (d *Document) WasMeasured() []Measured {
	if a := d.away(); a != nil {
		return a.Measured
	}
	return nil
}
