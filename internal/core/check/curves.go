package check

import (
	"math"
	"strconv"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
)

// Curves are the figures of one person's set at every height of a drop.
type Curves struct {
	Person  string `json:"person"`
	Name    string `json:"name"`
	Heights Values `json:"heights_m" doc:"of the person's attachment, from the landing up"`
	// Curves have a value for each height.
	Curves []Curve `json:"curves"`
}

// Curve is one figure, or two that belong together, as a function of height.
type Curve struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Unit string `json:"unit"`
	// Lines are drawn together; the first is the figure, others are what it is
	// compared with.
	Lines []Line `json:"lines"`
	Limit *Limit `json:"limit,omitempty"`
	// Worst is where the figure is worst; left out where it is nowhere.
	Worst *Worst `json:"worst,omitempty"`
	Errs  string `json:"errs" doc:"which way the figure errs"`
}

// Line is one line of a curve.
type Line struct {
	Name   string `json:"name"`
	Values Values `json:"values" doc:"null where there is none"`
}

// Limit is a limit that a figure is held against at every height.
type Limit struct {
	Name  string  `json:"name"`
	Value float64 `json:"value"`
}

// Worst is a height at which a figure is worst.
type Worst struct {
	Index  int  `json:"index" doc:"of the height"`
	Beyond bool `json:"beyond,omitempty" doc:"it passes its limit there"`
}

// Values are figures for reading off a plot: not a number where there is none,
// written as null, and to six digits.
type Values []float64

// MarshalJSON writes the values.
func (v Values) MarshalJSON() ([]byte, error) {
	b := make([]byte, 1, 10*len(v)+2)
	b[0] = '['
	for i, f := range v {
		if i > 0 {
			b = append(b, ',')
		}
		if math.IsNaN(f) || math.IsInf(f, 0) {
			b = append(b, "null"...)
		} else {
			b = strconv.AppendFloat(b, f, 'g', 6, 64)
		}
	}
	return append(b, ']'), nil
}

const (
	// everyHalfMetre is how fine the curves of a report are.
	everyHalfMetre quantity.Metres = 0.5
	// mostHeights bounds the work for a very high drop: the step grows.
	mostHeights = 1000
)

// curves computes the figures of a person's set at every height from the lowest
// landing to the top, at a step. Where nobody hangs there are none.
func curves(r *rig.Rig, p *policy.Policy, person string, step quantity.Metres) *Curves {
	who := hanging(r, person)
	if who == nil {
		return &Curves{Heights: Values{}, Curves: []Curve{}}
	}
	s := newSweep(r, p, who, step)
	s.run()
	return &Curves{Person: who.ID, Name: who.Name, Heights: s.heights, Curves: s.curves()}
}

// hanging finds a person with a hold, else the first who has one.
func hanging(r *rig.Rig, id string) *rig.PersonView {
	var first *rig.PersonView
	for _, p := range r.People {
		if len(p.Holds) > 0 && p.ID == id {
			return p
		}
		if len(p.Holds) > 0 && first == nil {
			first = p
		}
	}
	return first
}

// What a sweep computes at every height.
const (
	ropeMain = iota
	ropeBackup
	stretched
	bounces
	arrest
	likely
	needed
	there
	handForce
	heated
	windDraws
	swings
	peakShared
	peakSlack
	allSeries
)

// sweep moves a person's set from the landing to the top.
type sweep struct {
	rig          *rig.Rig
	p            *policy.Policy
	main, backup *rig.HoldView
	heights      Values
	series       [allSeries]Values
}

func newSweep(r *rig.Rig, p *policy.Policy, who *rig.PersonView, step quantity.Metres) *sweep {
	s := &sweep{rig: r, p: p}
	for _, h := range who.Holds {
		switch role := h.Role(); {
		case role == rig.ToBackUp && s.backup == nil:
			s.backup = h
		case (role == rig.ToDescend || role == rig.ToAscend) && (s.main == nil || role == rig.ToDescend && s.main.Role() != rig.ToDescend):
			s.main = h
		}
	}
	top := float64(r.Geometry.TopM)
	n := min(mostHeights, int(math.Ceil(top/float64(step)-1e-9)))
	every := float64(step)
	if n == mostHeights {
		every = top / mostHeights
	}
	for i := range n + 1 {
		s.heights = append(s.heights, min(top, float64(i)*every))
	}
	for i := range s.series {
		s.series[i] = make(Values, len(s.heights))
		for j := range s.series[i] {
			s.series[i][j] = math.NaN()
		}
	}
	return s
}

func (s *sweep) run() {
	for i, h := range s.heights {
		at := quantity.Metres(h)
		if m := site.SpotAt(s.rig, s.main, s.p, at); s.main != nil && m.OnRope() {
			s.onMain(i, m)
		}
		if b := site.SpotAt(s.rig, s.backup, s.p, at); s.backup != nil && b.OnRope() {
			s.onBackup(i, b)
		}
	}
}

func (s *sweep) onMain(i int, m site.Spot) {
	s.series[ropeMain][i] = float64(m.Length())
	stretch := mechanics.Stretch(m.Stretch())
	dip, _ := stretch.Bounce()
	s.series[stretched][i], s.series[bounces][i] = float64(stretch.StretchM), float64(dip)
	if in, ok := m.Lower(); ok {
		s.series[handForce][i] = float64(mechanics.Lower(in).HandKN)
	}
	if in, ok := m.Heat(); ok {
		s.series[heated][i] = float64(mechanics.HeatEnd(in).EndC)
	}
	shared := mechanics.Share(m.Share())
	s.series[peakShared][i], s.series[peakSlack][i] = float64(shared.Shared.PeakKN), float64(shared.Slack.PeakKN)
}

func (s *sweep) onBackup(i int, b site.Spot) {
	s.series[ropeBackup][i] = float64(b.Length())
	in, windSlack := b.Fall()
	fall := mechanics.FallInTime(in)
	s.series[arrest][i], s.series[likely][i], s.series[needed][i] = float64(fall.PeakKN), float64(fall.LikelyKN), float64(fall.ClearanceNeededM)
	_, ground := fit.Below(b.At, s.rig.Geometry)
	s.series[there][i] = float64(b.At - ground)
	if _, rolls := b.Wind(); rolls {
		s.series[windDraws][i] = float64(windSlack)
	}
	if s.main != nil {
		if swing, err := mechanics.Swing(b.Swing(s.main)); err == nil {
			s.series[swings][i] = float64(swing.SpeedMS)
		}
	}
}

// curves puts the series together and marks the worst of each.
func (s *sweep) curves() []Curve {
	p := s.p
	sheath := 0.0
	if s.main != nil {
		if in, ok := site.SpotAt(s.rig, s.main, p, 0).Heat(); ok {
			sheath = float64(in.LimitC)
		}
	}
	list := []Curve{
		s.curve("arrest", "arrest force", quantity.Kilonewtons(0), &Limit{"ceiling", float64(p.ArrestCeilingKN)},
			"high: undamped; low where the rope runs over an edge", drawn{"undamped", arrest}, drawn{"likely", likely}),
		s.clearance(),
		s.curve("stretch", "stretch", quantity.Metres(0), &Limit{"limit", float64(p.StretchM)}, "high on old ropes, low on new or wet ones", drawn{"stretch", stretched}),
		s.curve("hand", "hand on the brake", quantity.Kilonewtons(0), &Limit{"for long", float64(p.GripKN)}, "high in a groove that bites, low on wet or icy rope", drawn{"hand", handForce}),
		s.curve("heat", "device so far", quantity.Celsius(0), &Limit{"sheath", sheath}, "low at the groove in the first minutes", drawn{"device", heated}),
		s.curve("wind", "wind draws", quantity.Metres(0), &Limit{"park", float64(p.WindSlackM)}, "low in gusts", drawn{"slack", windDraws}),
		s.curve("rope", "rope in service", quantity.Metres(0), nil, "low by the stretch", drawn{"main", ropeMain}, drawn{"backup", ropeBackup}),
		s.curve("bounce", "bounce", quantity.Metres(0), nil, "high: undamped", drawn{"each way", bounces}),
		s.curve("swing", "swing if main fails", quantity.MetresPerSecond(0), nil, "high: nothing brakes; low where the rope catches", drawn{"speed", swings}),
		s.curve("schools", "one of two strands fails", quantity.Kilonewtons(0), nil, "high: nothing damps", drawn{"mostly main, slack", peakSlack}, drawn{"both carry", peakShared}),
	}
	kept := list[:0]
	for _, c := range list {
		if c.Worst != nil {
			kept = append(kept, c)
		}
	}
	return kept
}

// drawn is a series with its name on a plot.
type drawn struct {
	name string
	of   int
}

// curve makes a curve of one series or more.
func (s *sweep) curve(id, name string, q quantity.Quantity, limit *Limit, errs string, lines ...drawn) Curve {
	c := Curve{ID: id, Name: name, Unit: finding.Fig(name, q).Unit, Errs: errs}
	if limit != nil && limit.Value > 0 {
		c.Limit = limit
	}
	for _, l := range lines {
		if v := s.series[l.of]; worstOf(v) >= 0 {
			c.Lines = append(c.Lines, Line{l.name, v})
		}
	}
	if len(c.Lines) == 0 {
		return c
	}
	if v := c.Lines[0].Values; worstOf(v) >= 0 {
		c.Worst = &Worst{Index: worstOf(v)}
		c.Worst.Beyond = c.Limit != nil && v[c.Worst.Index] > c.Limit.Value
	}
	return c
}

// clearance is worst where what is there exceeds what is needed by the least, or
// falls short by the most, leaving out the first metres above the landing, which
// every drop has: below the height at which a fall would just be held.
func (s *sweep) clearance() Curve {
	c := s.curve("clearance", "clearance", quantity.Metres(0), nil, "high: stretch undamped", drawn{"needed", needed}, drawn{"there", there})
	worst, least := -1, math.Inf(1)
	above := false
	for i := range s.heights {
		spare := s.series[there][i] - s.series[needed][i]
		above = above || spare >= 0
		if above && spare < least {
			worst, least = i, spare
		}
	}
	if worst >= 0 {
		c.Worst = &Worst{Index: worst, Beyond: least < 0}
	} else if c.Worst != nil {
		c.Worst.Beyond = true
	}
	return c
}

// worstOf is where a series is greatest; -1 where it has no value.
func worstOf(v Values) int {
	at := -1
	for i, f := range v {
		if !math.IsNaN(f) && (at < 0 || f > v[at]) {
			at = i
		}
	}
	return at
}
