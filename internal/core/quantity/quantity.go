// Package quantity holds the units of the job as types, so that a length in
// millimetres cannot be passed where metres are needed. A value is kept in the
// unit its type names, which is also the unit its JSON field names
// (diameter_mm, height_m, strength_kN).
//
// It knows units and how a person reads them. It knows nothing of gear.
package quantity

import (
	"math"
	"strconv"
	"strings"
)

// G is the standard acceleration of free fall in m/s².
const G = 9.80665

// Limit bounds the size of every figure that is read from outside.
const Limit = 1e9

// A Quantity is a figure with its unit.
type Quantity interface {
	// Value is the figure in Unit.
	Value() float64
	// Unit is the unit as shown, such as "kN"; empty for a bare ratio or count.
	Unit() string
}

type (
	// Metres is a length along a rope, a height or a distance.
	Metres float64
	// Millimetres is a diameter or a wear reading.
	Millimetres float64
	// Kilograms is the mass of a body, its equipment included.
	Kilograms float64
	// Grams is the mass of an item.
	Grams float64
	// GramsPerMetre is the mass of a rope.
	GramsPerMetre float64
	// Kilonewtons is a force, a strength or a working load limit.
	Kilonewtons float64
	// Degrees is an angle.
	Degrees float64
	// Celsius is a temperature.
	Celsius float64
	// Percent is a share of one hundred, such as an elongation.
	Percent float64
	// MetresPerSecond is a speed.
	MetresPerSecond float64
	// Days is a span of time.
	Days float64
	// Hours is a span of work.
	Hours float64
	// Ratio is a bare number.
	Ratio float64
	// Count is a number of things.
	Count int
)

func (v Metres) Value() float64          { return float64(v) }
func (v Millimetres) Value() float64     { return float64(v) }
func (v Kilograms) Value() float64       { return float64(v) }
func (v Grams) Value() float64           { return float64(v) }
func (v GramsPerMetre) Value() float64   { return float64(v) }
func (v Kilonewtons) Value() float64     { return float64(v) }
func (v Degrees) Value() float64         { return float64(v) }
func (v Celsius) Value() float64         { return float64(v) }
func (v Percent) Value() float64         { return float64(v) }
func (v MetresPerSecond) Value() float64 { return float64(v) }
func (v Days) Value() float64            { return float64(v) }
func (v Hours) Value() float64           { return float64(v) }
func (v Ratio) Value() float64           { return float64(v) }
func (v Count) Value() float64           { return float64(v) }

func (Metres) Unit() string          { return "m" }
func (Millimetres) Unit() string     { return "mm" }
func (Kilograms) Unit() string       { return "kg" }
func (Grams) Unit() string           { return "g" }
func (GramsPerMetre) Unit() string   { return "g/m" }
func (Kilonewtons) Unit() string     { return "kN" }
func (Degrees) Unit() string         { return "°" }
func (Celsius) Unit() string         { return "°C" }
func (Percent) Unit() string         { return "%" }
func (MetresPerSecond) Unit() string { return "m/s" }
func (Days) Unit() string            { return "days" }
func (Hours) Unit() string           { return "h" }
func (Ratio) Unit() string           { return "" }
func (Count) Unit() string           { return "" }

func (v Metres) String() string          { return Text(v) }
func (v Millimetres) String() string     { return Text(v) }
func (v Kilograms) String() string       { return Text(v) }
func (v Grams) String() string           { return Text(v) }
func (v GramsPerMetre) String() string   { return Text(v) }
func (v Kilonewtons) String() string     { return Text(v) }
func (v Degrees) String() string         { return Text(v) }
func (v Celsius) String() string         { return Text(v) }
func (v Percent) String() string         { return Text(v) }
func (v MetresPerSecond) String() string { return Text(v) }
func (v Days) String() string            { return Text(v) }
func (v Hours) String() string           { return Text(v) }
func (v Ratio) String() string           { return Text(v) }
func (v Count) String() string           { return Text(v) }

// Weight is the force of gravity on a mass at rest.
func Weight(m Kilograms) Kilonewtons { return Kilonewtons(float64(m) * G / 1000) }

// Text writes a quantity as people read it on site: metres, kilonewtons and
// millimetres to the hundredth at most, with no trailing zeros beyond the first
// decimal, and the unit after a space (none before a degree sign).
//
// Rounding is for reading only; no comparison uses it.
func Text(q Quantity) string {
	return withUnit(trim(strconv.FormatFloat(q.Value(), 'f', decimals(q), 64)), q)
}

// Beside writes a quantity and the limit it is held against, with as many more decimals as
// show that they differ: 0.834 kN is above 0.830 kN.
func Beside(q, limit Quantity) (text, limitText string) {
	const finest = 6
	text, limitText = Text(q), Text(limit)
	for n := decimals(q) + 1; text == limitText && q.Value() != limit.Value() && n <= finest; n++ {
		text = withUnit(strconv.FormatFloat(q.Value(), 'f', n, 64), q)
		limitText = withUnit(strconv.FormatFloat(limit.Value(), 'f', n, 64), limit)
	}
	return text, limitText
}

// Of is a count with the noun that it counts: 1 stop, 3 stops.
func (c Count) Of(noun string) string {
	if c == 1 {
		return "1 " + noun
	}
	return Text(c) + " " + noun + "s"
}

// Up is Text rounded up, for what is to be at least so much: taken as it is written it
// is enough.
func Up(q Quantity) string { return toward(q, math.Ceil) }

// Down is Text rounded down, for what is to be at most so much.
func Down(q Quantity) string { return toward(q, math.Floor) }

// toward writes a quantity rounded one way at its last decimal; what is as good as whole
// there is left.
func toward(q Quantity, round func(float64) float64) string {
	scale := math.Pow(10, float64(decimals(q)))
	v := q.Value() * scale
	if near := math.Round(v); math.Abs(v-near) > 1e-9*max(1, math.Abs(v)) {
		v = round(v)
	} else {
		v = near
	}
	return withUnit(trim(strconv.FormatFloat(v/scale, 'f', decimals(q), 64)), q)
}

func withUnit(n string, q Quantity) string {
	switch u := q.Unit(); u {
	case "":
		return n
	case "°":
		return n + u
	default:
		return n + " " + u
	}
}

func decimals(q Quantity) int {
	size := math.Abs(q.Value())
	switch q.(type) {
	case Count, Days, Celsius, Degrees, Grams:
		return 0
	case Kilograms, GramsPerMetre, Percent:
		return 1
	case Ratio:
		if size >= 10 {
			return 1
		}
		return 2
	default:
		if size >= 100 {
			return 1
		}
		return 2
	}
}

// trim drops zeros at the end of a decimal fraction, a lone point, and the sign of nothing.
func trim(n string) string {
	if strings.Contains(n, ".") {
		n = strings.TrimRight(strings.TrimRight(n, "0"), ".")
	}
	if n == "-0" {
		return "0"
	}
	return n
}
