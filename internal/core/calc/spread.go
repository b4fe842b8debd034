package calc

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"

	"zealousknot/internal/core/strict"
)

// Spread says how an input that is not known exactly may lie: evenly within a
// plus and minus of what is given, evenly between a low and a high, or normally
// about a mean. Draws of a normal spread that the field would refuse are drawn
// again.
type Spread struct {
	PlusMinus *float64 `json:"plus_minus,omitempty" exclusiveMinimum:"0"`
	Low       *float64 `json:"low,omitempty"`
	High      *float64 `json:"high,omitempty"`
	Mean      *float64 `json:"mean,omitempty"`
	SD        *float64 `json:"sd,omitempty" exclusiveMinimum:"0"`
}

// Band is where an output lies in 5, 50 and 95 of a hundred samples; null where
// it is without bound.
type Band struct {
	P5  *float64 `json:"p5"`
	P50 *float64 `json:"p50"`
	P95 *float64 `json:"p95"`
}

// Driver is how much of the spread of an output comes from an input: the square
// of their rank correlation, as a part of the sum over the inputs. It sees what
// rises or falls steadily with an input, and not what turns on the way.
type Driver struct {
	Field string  `json:"field"`
	Share float64 `json:"share"`
}

// sampling computes again and again with inputs drawn from their spreads.
type sampling struct {
	of   *Options
	into any
	out  any
	// compute computes with what into holds now.
	compute func() (any, error)
}

// input is a field that spreads.
type input struct {
	name  string
	place *strict.Place
	draw  func(*rand.Rand) float64
}

func (s *sampling) run() (map[string]Band, map[string][]Driver, error) {
	inputs, err := s.inputs()
	if err != nil {
		return nil, nil, err
	}
	outs := outputs(s.out)
	drawn, got := columns(len(inputs), s.of.Samples), columns(len(outs), s.of.Samples)
	for n := range s.of.Samples {
		// A stream of its own for each sample and input: more samples or another
		// field spread leave the others as they were.
		for i, in := range inputs {
			v, ok := in.draws(s.of.Seed, n)
			if !ok {
				return nil, nil, s.wrong(in.name, "hardly any draw of it is within the limits of the field")
			}
			in.place.Set(v)
			drawn[i][n] = v
		}
		out, err := s.compute()
		if err != nil {
			return nil, nil, s.failed(inputs, drawn, n, err)
		}
		v := elem(out)
		for i, o := range outs {
			if got[i][n] = o.get(v); math.IsNaN(got[i][n]) {
				return nil, nil, s.wrong(inputs[0].name, "%s cannot be computed for a sample", o.name)
			}
		}
	}
	return summary(inputs, outs, drawn, got)
}

func columns(n, rows int) [][]float64 {
	list := make([][]float64, n)
	for i := range list {
		list[i] = make([]float64, rows)
	}
	return list
}

func (s *sampling) wrong(field, format string, args ...any) error {
	var faults strict.Faults
	faults.Addf(strict.Pointer("spread", field), format, args...)
	return faults.Err()
}

// failed says for which sample the model had no answer.
func (s *sampling) failed(inputs []input, drawn [][]float64, n int, err error) error {
	last := len(inputs) - 1
	return s.wrong(inputs[last].name, "a sample is refused: with %s = %.6g, %v", inputs[last].name, drawn[last][n], err)
}

// inputs finds the fields that spread, in the order of their names.
func (s *sampling) inputs() ([]input, error) {
	var list []input
	for name, spread := range s.of.Spread {
		place, err := strict.Locate(s.into, name)
		if err != nil {
			return nil, s.wrong(name, "%v", err)
		}
		if place.Whole() {
			return nil, s.wrong(name, "a whole number does not spread")
		}
		draw, wrong := spread.drawer(place)
		if wrong != "" {
			return nil, s.wrong(name, "%s", wrong)
		}
		list = append(list, input{name, place, draw})
	}
	slices.SortStableFunc(list, func(a, b input) int { return cmp.Compare(a.name, b.name) })
	return list, nil
}

// drawer gives how to draw, or what is wrong with the spread.
func (d Spread) drawer(place *strict.Place) (draw func(*rand.Rand) float64, wrong string) {
	given := func(v ...*float64) int {
		n := 0
		for _, p := range v {
			if p != nil {
				n++
			}
		}
		return n
	}
	all := given(d.PlusMinus, d.Low, d.High, d.Mean, d.SD)
	low, high := 0.0, 0.0
	switch {
	case all == 1 && d.PlusMinus != nil:
		low, high = place.Value-*d.PlusMinus, place.Value+*d.PlusMinus
	case all == 2 && given(d.Low, d.High) == 2:
		low, high = *d.Low, *d.High
	case all == 2 && given(d.Mean, d.SD) == 2:
		return func(r *rand.Rand) float64 { return *d.Mean + *d.SD*r.NormFloat64() }, ""
	default:
		return nil, "give either plus_minus, or low and high, or mean and sd"
	}
	if low >= high {
		return nil, "low must be below high"
	}
	for _, end := range []float64{low, high} {
		if w := place.Wrong(end); w != "" {
			return nil, "reaches beyond the field: it " + w
		}
	}
	return func(r *rand.Rand) float64 { return low + (high-low)*r.Float64() }, ""
}

// draws draws a value that the field takes, with a bound on the tries.
func (in *input) draws(seed, sample int) (float64, bool) {
	h := uint64(14695981039346656037) // FNV-1a of the name
	for i := range len(in.name) {
		h = (h ^ uint64(in.name[i])) * 1099511628211
	}
	r := rand.New(rand.NewPCG(uint64(seed)^h, uint64(sample)))
	for range 1000 {
		if v := in.draw(r); in.place.Wrong(v) == "" {
			return v, true
		}
	}
	return 0, false
}

func summary(inputs []input, outs []output, drawn, got [][]float64) (map[string]Band, map[string][]Driver, error) {
	ranks := make([][]float64, len(drawn))
	for i, column := range drawn {
		ranks[i], _ = ranked(column)
	}
	bands, drivers := make(map[string]Band, len(outs)), make(map[string][]Driver, len(outs))
	for i, o := range outs {
		rank, sorted := ranked(got[i])
		bands[o.name] = Band{quantile(sorted, 0.05), quantile(sorted, 0.5), quantile(sorted, 0.95)}
		list, sum := make([]Driver, len(inputs)), 0.0
		for j, in := range inputs {
			c := correlation(ranks[j], rank)
			list[j] = Driver{in.name, c * c}
			sum += c * c
		}
		for j := range list {
			if sum > 0 {
				list[j].Share /= sum
			}
		}
		slices.SortStableFunc(list, func(a, b Driver) int { return cmp.Compare(b.Share, a.Share) })
		drivers[o.name] = list
	}
	return bands, drivers, nil
}

// ranked gives the rank of each value, equal values sharing the mean of theirs,
// and the values in order.
func ranked(values []float64) (ranks, sorted []float64) {
	order := make([]int, len(values))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(values[a], values[b]) })
	ranks, sorted = make([]float64, len(values)), make([]float64, len(values))
	for i := 0; i < len(order); {
		j := i
		for j < len(order) && values[order[j]] == values[order[i]] {
			sorted[j] = values[order[j]]
			j++
		}
		for k := i; k < j; k++ {
			ranks[order[k]] = float64(i+j-1) / 2
		}
		i = j
	}
	return ranks, sorted
}

// quantile interpolates between the samples on either side; nil where they are
// without bound.
func quantile(sorted []float64, p float64) *float64 {
	at := p * float64(len(sorted)-1)
	i := min(int(at), len(sorted)-2)
	v := sorted[i]
	if part := at - float64(i); part > 0 {
		v += part * (sorted[i+1] - v)
	}
	if math.IsInf(v, 0) || math.IsNaN(v) {
		return nil
	}
	return &v
}

// correlation is the coefficient of Pearson; 0 where one of them is constant.
func correlation(x, y []float64) float64 {
	n := float64(len(x))
	// Ranks of n values, ties shared, always have this mean.
	mean := (n - 1) / 2
	var xy, xx, yy float64
	for i := range x {
		a, b := x[i]-mean, y[i]-mean
		xy, xx, yy = xy+a*b, xx+a*a, yy+b*b
	}
	if xx == 0 || yy == 0 {
		return 0
	}
	return xy / math.Sqrt(xx*yy)
}
