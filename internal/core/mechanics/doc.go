// Package mechanics holds the physical models: each is one file with its
// formula, where the physics comes from, what it assumes, how far it reaches and
// which way it errs. SI units inside; every result comes with its Working.
//
// The In and Out of a model are also its contract outside: fields are named,
// limited and given defaults by their tags, which the strict reader applies. A
// model called from Go with figures outside those limits gives no promise.
//
// It knows bodies, ropes and forces. It knows no gear, no rule and no limit.
package mechanics

import (
	"fmt"
	"math"
	"strings"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/strict"
)

// newtons is a weight in newtons.
func newtons(m quantity.Kilograms) float64 { return float64(m) * quantity.G }

// kN turns newtons into kilonewtons.
func kN(n float64) quantity.Kilonewtons { return quantity.Kilonewtons(n / 1000) }

// perMetre is the weight of a rope in N/m.
func perMetre(mass quantity.GramsPerMetre) float64 { return float64(mass) / 1000 * quantity.G }

// AxialStiffness is EA of a rope in N, from the elongation its data sheet gives
// between 50 and 150 kg: EA = 100 kg · g / (e/100). Ropes stiffen with load and
// use, so the stretch it gives errs high on old ropes and at high load, and the
// force errs low there.
func AxialStiffness(elongation quantity.Percent) float64 {
	return 100 * quantity.G / (float64(elongation) / 100)
}

// peakForce is the greatest force of a mass that falls h onto a spring,
// undamped: F = mg + √((mg)² + 2 mg k h), from conservation of energy.
func peakForce(mg, k, h float64) float64 {
	return mg + math.Sqrt(mg*mg+2*mg*k*h)
}

// refuse is an error about figures that each are within their limits and yet
// cannot be together. The pointer is a JSON Pointer into the model's In.
func refuse(pointer, format string, args ...any) error {
	return &strict.Error{Faults: []strict.Fault{{Pointer: pointer, Detail: fmt.Sprintf(format, args...)}}}
}

func quoted(names []string) string { return strings.Join(names, ", ") }
