package mechanics

import (
	"testing"

	"zealousknot/internal/core/quantity"
)

// Units that are scaled together leave what has no dimension, and scale the rest
// as their dimensions say.
func TestDimensions(t *testing.T) {
	const by = 3.0
	fall := FallIn{MassKg: 80, LanyardM: 0.7, DeviceAboveM: 0.1, SlackM: 0.4, LockDistanceM: 0.1, RopeLengthM: 20, ElongationPct: 4, DampingRatio: 0.1,
		Absorber: &AbsorberIn{ForceKN: 2, MaxM: 0.2}}
	one := FallInTime(fall)
	heavy := fall
	heavy.MassKg, heavy.ElongationPct, heavy.Absorber = 80*by, 4/by, &AbsorberIn{ForceKN: 2 * by, MaxM: 0.2}
	forces := FallInTime(heavy)
	within(t, "peak, all forces scaled", float64(forces.PeakKN), by*float64(one.PeakKN), 1e-9)
	within(t, "likely, all forces scaled", float64(forces.LikelyKN), by*float64(one.LikelyKN), 1e-6)
	within(t, "stretch, all forces scaled", float64(forces.StretchM), float64(one.StretchM), 1e-9)
	long := fall
	long.LanyardM, long.DeviceAboveM, long.SlackM, long.LockDistanceM, long.RopeLengthM, long.Absorber = 0.7*by, 0.1*by, 0.4*by, 0.1*by, 20*by, &AbsorberIn{ForceKN: 2, MaxM: 0.2 * by}
	lengths := FallInTime(long)
	within(t, "peak, all lengths scaled", float64(lengths.PeakKN), float64(one.PeakKN), 1e-9)
	within(t, "likely, all lengths scaled", float64(lengths.LikelyKN), float64(one.LikelyKN), 1e-6)
	within(t, "stretch, all lengths scaled", float64(lengths.StretchM), by*float64(one.StretchM), 1e-9)
	within(t, "fall factor, all lengths scaled", float64(lengths.FallFactor), float64(one.FallFactor), 1e-12)

	wind := WindIn{AboveM: 40, TailM: 30, DiameterMM: 10, RopeGPerM: 70, WindMS: 5, DeviceDragN: 6}
	slack, _ := wind.Slack()
	stronger := WindIn{AboveM: 40, TailM: 30, DiameterMM: 10 * by, RopeGPerM: 70 * by, WindMS: 5, DeviceDragN: 6 * by}
	same, _ := stronger.Slack()
	within(t, "wind, all forces scaled", float64(same), float64(slack), 1e-9)
	longer := WindIn{AboveM: 40 * by, TailM: 30 * by, DiameterMM: 10, RopeGPerM: 70, WindMS: 5, DeviceDragN: 6 * by}
	more, _ := longer.Slack()
	within(t, "wind, all lengths scaled", float64(more), by*float64(slack), 1e-9)

	heat := HeatIn{LoadKg: 100, HeightM: 50, SpeedMS: 0.5, DeviceG: 500, SpecificHeat: 900, CoolingWK: 2, HeatShare: 0.5, AmbientC: 20, LimitC: 90}
	rise := heat.Rise(0.5)
	heat.LoadKg, heat.DeviceG, heat.CoolingWK = 100*by, 500*by, 2*by
	within(t, "heat, all powers scaled", float64(heat.Rise(0.5)), float64(rise), 1e-9)

	legsOf := func(size quantity.Metres) AnchorIn {
		return AnchorIn{LoadKN: 2, Legs: []AnchorLeg{{ID: "a", X: -0.5 * size, Y: size}, {ID: "b", X: 0.3 * size, Y: 0.8 * size}}}
	}
	small, _ := Anchor(legsOf(1))
	large, _ := Anchor(legsOf(by))
	within(t, "tension, all lengths scaled", float64(large.Legs[0].TensionKN), float64(small.Legs[0].TensionKN), 1e-12)
	within(t, "drop, all lengths scaled", float64(*large.Lost[0].DropM), by*float64(*small.Lost[0].DropM), 1e-9)

	swing, _ := Swing(SwingIn{10, 3})
	wide, _ := Swing(SwingIn{10 * by * by, 3 * by * by})
	within(t, "swing, all lengths scaled by a square", float64(wide.SpeedMS), by*float64(swing.SpeedMS), 1e-12)
}
