// Package mechanics holds the physical models: each is one file with its
// formula, where the physics comes from, what it assumes, how far it reaches and
// which way it errs. SI units inside; every result comes with its Working.
//
// It knows bodies, ropes and forces. It knows no gear, no rule and no limit.
package mechanics

import (
	"math"

	"zealousknot/internal/core/quantity"
)

// newtons is a weight in newtons.
func newtons(m quantity.Kilograms) float64 { return float64(m) * quantity.G }

// kN turns newtons into kilonewtons.
func kN(n float64) quantity.Kilonewtons { return quantity.Kilonewtons(n / 1000) }

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
