// Package wear says how a part wears: the line through its readings, and by when it is
// measured again.
//
// It knows readings and limits. Whether something is still fit for use is for who looks at it.
package wear

import (
	"errors"
	"math"
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"

	"gonum.org/v1/gonum/stat/distuv"
)

// A Reading is a part of an item as it was measured on a day.
type Reading struct {
	On   gear.Date            `json:"on" format:"date"`
	Part string               `json:"part"`
	MM   quantity.Millimetres `json:"mm"`
}

// Trend is how a part wears.
type Trend struct {
	Part    string    `json:"part"`
	Points  []Reading `json:"points" doc:"by day"`
	LimitMM float64   `json:"limit_mm,omitempty" doc:"of the leaflet; left out: none is entered"`
	Grows   bool      `json:"grows,omitempty" doc:"the reading grows with wear"`
	// Fit is there from three readings of different days on.
	Fit *Fit `json:"fit,omitempty"`
	// Why says why there is none.
	Why string `json:"why,omitempty"`
	// Beyond: a reading of the last day is at the limit, or past it.
	Beyond bool `json:"beyond,omitempty"`
}

// Fit is the straight line through readings by least squares, with the band in which the
// line is with 90 %.
type Fit struct {
	MMPerYear float64 `json:"mm_per_year"`
	// Line and Band are at the first and the last day that are shown.
	From   gear.Date    `json:"from" format:"date"`
	To     gear.Date    `json:"to" format:"date"`
	Line   [2]float64   `json:"line_mm"`
	Band   []BandPoint  `json:"band" doc:"low and high edge from the first day to the last"`
	Meets  [2]gear.Date `json:"meets,omitempty" doc:"between which days the band meets the limit; empty: not within ten years"`
	Again  gear.Date    `json:"again,omitempty" format:"date" doc:"measure again by: the early end"`
	Spread float64      `json:"spread_mm" doc:"of the readings about the line"`
}

// BandPoint is the band on a day.
type BandPoint struct {
	On   gear.Date `json:"on" format:"date"`
	Low  float64   `json:"low_mm"`
	High float64   `json:"high_mm"`
}

// Reasons why there is no line.
var (
	ErrFew     = errors.New("fewer than three readings of different days: no line")
	ErrNoLimit = errors.New("no limit of the leaflet is entered: no day")
)

// bandPart is how much of the chance lies within the band.
const bandPart = 0.9

// farDays is how far ahead the limit is looked for.
const farDays = 3653

// TrendOf is how a part wears, from its readings. The line is ordinary least squares of the
// readings on the days; its band is that of the mean, ±t·s·√(1/n + (x−x̄)²/Sxx) with n−2
// degrees of freedom (any text on regression). It says when to measure again, never how long
// something can be used, and errs early: the early edge of the band counts.
func TrendOf(readings []Reading, wear gear.WearPart) Trend {
	t := Trend{Part: wear.Part, LimitMM: float64(wear.LimitMM), Grows: wear.Grows, Points: append([]Reading{}, readings...)}
	slices.SortStableFunc(t.Points, func(a, b Reading) int { return compare(a.On, b.On) })
	if n := len(t.Points); n > 0 && t.LimitMM > 0 {
		last := t.Points[n-1].On
		t.Beyond = slices.ContainsFunc(t.Points, func(r Reading) bool { return r.On == last && wear.Worn(r.MM) })
	}
	if len(daysOf(t.Points)) < 3 {
		t.Why = ErrFew.Error()
		return t
	}
	t.Fit = fitOf(&t)
	if t.LimitMM == 0 {
		t.Why = ErrNoLimit.Error()
	}
	return t
}

func compare(a, b gear.Date) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

func past(mm, limit float64, grows bool) bool {
	if grows {
		return mm >= limit
	}
	return mm <= limit
}

// daysOf are the different days of readings.
func daysOf(list []Reading) []gear.Date {
	var days []gear.Date
	for _, r := range list {
		if !slices.Contains(days, r.On) {
			days = append(days, r.On)
		}
	}
	return days
}

// line is a fitted line over days since the first reading.
type line struct {
	first        gear.Date
	n, mean, sxx float64
	at, slope, s float64
	t            float64
}

func (l *line) value(x float64) float64 { return l.at + l.slope*(x-l.mean) }

func (l *line) half(x float64) float64 {
	return l.t * l.s * math.Sqrt(1/l.n+(x-l.mean)*(x-l.mean)/l.sxx)
}

func fitLine(points []Reading) line {
	l := line{first: points[0].On, n: float64(len(points))}
	xs := make([]float64, len(points))
	for i, p := range points {
		d, _ := l.first.DaysTo(p.On)
		xs[i] = float64(d)
		l.mean += xs[i] / l.n
		l.at += float64(p.MM) / l.n
	}
	sxy := 0.0
	for i, p := range points {
		l.sxx += (xs[i] - l.mean) * (xs[i] - l.mean)
		sxy += (xs[i] - l.mean) * (float64(p.MM) - l.at)
	}
	l.slope = sxy / l.sxx
	rest := 0.0
	for i, p := range points {
		d := float64(p.MM) - l.value(xs[i])
		rest += d * d
	}
	l.s = math.Sqrt(rest / (l.n - 2))
	l.t = distuv.StudentsT{Mu: 0, Sigma: 1, Nu: l.n - 2}.Quantile(0.5 + bandPart/2)
	return l
}

// bandPoints is how many days of the band are given.
const bandPoints = 25

func fitOf(t *Trend) *Fit {
	l := fitLine(t.Points)
	last, _ := l.first.DaysTo(t.Points[len(t.Points)-1].On)
	f := &Fit{MMPerYear: l.slope * 365.25, Spread: l.s, From: l.first}
	end := float64(last)
	if t.LimitMM > 0 {
		early, late := l.meets(t.LimitMM, t.Grows, float64(last))
		if !math.IsInf(early, 1) {
			f.Again = f.From.AddDays(int(early))
			f.Meets[0] = f.Again
			end = max(end, early)
		}
		if !math.IsInf(late, 1) {
			f.Meets[1] = f.From.AddDays(int(math.Ceil(late)))
			end = max(end, math.Ceil(late))
		}
	}
	f.To = f.From.AddDays(int(end))
	f.Line = [2]float64{l.value(0), l.value(end)}
	for i := range bandPoints {
		x := math.Round(end * float64(i) / (bandPoints - 1))
		f.Band = append(f.Band, BandPoint{f.From.AddDays(int(x)), l.value(x) - l.half(x), l.value(x) + l.half(x)})
	}
	return f
}

// meets are the first days on which the edges of the band are at a limit, from the last
// reading on; beyond farDays after it where they are not.
func (l *line) meets(limit float64, grows bool, last float64) (early, late float64) {
	early, late = math.Inf(1), math.Inf(1)
	for x := last; x <= last+farDays; x++ {
		worse, better := l.value(x)-l.half(x), l.value(x)+l.half(x)
		if grows {
			worse, better = better, worse
		}
		if math.IsInf(early, 1) && past(worse, limit, grows) {
			early = x
		}
		if past(better, limit, grows) {
			return early, x
		}
	}
	return early, late
}
