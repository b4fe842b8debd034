package mechanics

import (
	"math"
	"math/rand/v2"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/quantity"
)

func near(t *testing.T, what string, got, want float64) {
	t.Helper()
	within(t, what, got, want, 1e-9)
}

func within(t *testing.T, what string, got, want, part float64) {
	t.Helper()
	if !(math.Abs(got-want) <= part*max(1, math.Abs(want))) {
		t.Errorf("%s: got %v, want %v", what, got, want)
	}
}

func randomFall(r *rand.Rand) FallIn {
	in := FallIn{
		MassKg: quantity.Kilograms(40 + 200*r.Float64()), LanyardM: quantity.Metres(r.Float64()), DeviceAboveM: quantity.Metres(r.Float64() - 0.3),
		SlackM: quantity.Metres(r.Float64()), LockDistanceM: quantity.Metres(0.2 * r.Float64()), LockSpeedMS: quantity.MetresPerSecond(3 * r.Float64()),
		RopeLengthM: quantity.Metres(0.5 + 100*r.Float64()), ElongationPct: quantity.Percent(1 + 9*r.Float64()), FeetM: 1.3, MarginM: 1,
	}
	if r.IntN(3) > 0 {
		in.Absorber = &AbsorberIn{ForceKN: quantity.Kilonewtons(0.3 + 6*r.Float64()), MaxM: quantity.Metres(0.05 + r.Float64())}
	}
	return in
}

// Energy is conserved at the lowest point: weight times the whole way down is
// what the rope stores and the absorber takes up.
func TestFallConservesEnergy(t *testing.T) {
	r := chance.Rand(1, 2)
	kinds := map[string]int{}
	for range 5000 {
		in := randomFall(r)
		out := Fall(in)
		mg := newtons(in.MassKg)
		k := AxialStiffness(in.ElongationPct) / float64(in.RopeLengthM)
		x, xa, peak := float64(out.StretchM), float64(out.AbsorberM), float64(out.PeakKN)*1000
		near(t, "stretch times stiffness", k*x, peak)
		taken := 0.0
		if in.Absorber != nil {
			taken = float64(in.Absorber.ForceKN) * 1000 * xa
		}
		before, after := mg*(float64(out.BeforeArrestM)+x+xa), k*x*x/2+taken
		switch {
		case in.Absorber == nil || xa == 0:
			kinds["shut"]++
		case out.AbsorberUsedUp:
			kinds["used up"]++
			if peak > float64(in.Absorber.ForceKN)*1000+1e-9 {
				break
			}
			// The rope cannot pull less than what opened the absorber.
			before = after
		default:
			kinds["enough"]++
			near(t, "peak with absorber", peak, float64(in.Absorber.ForceKN)*1000)
		}
		near(t, "energy", after, before)
		if out.ClearanceNeededM < out.BeforeArrestM+in.FeetM+in.MarginM {
			t.Fatalf("clearance %v is less than the fall", out.ClearanceNeededM)
		}
	}
	for _, kind := range []string{"shut", "used up", "enough"} {
		if kinds[kind] < 100 {
			t.Errorf("only %d falls with the absorber %s", kinds[kind], kind)
		}
	}
}

// More mass, more slack, and without an absorber a stiffer rope: never a smaller
// peak. (With one that is used up, a stiffer rope leaves it less to take.)
func TestFallGrows(t *testing.T) {
	r := chance.Rand(3, 4)
	for range 2000 {
		in := randomFall(r)
		peak := Fall(in).PeakKN
		for name, grow := range map[string]func(*FallIn){
			"mass": func(i *FallIn) { i.MassKg *= 1.1 }, "slack": func(i *FallIn) { i.SlackM += 0.1 }, "stiffness": func(i *FallIn) {
				if i.Absorber == nil {
					i.ElongationPct /= 1.1
				}
			},
		} {
			more := in
			grow(&more)
			if got := Fall(more).PeakKN; got < peak-1e-9 {
				t.Fatalf("%s grows and the peak falls from %v to %v: %+v", name, peak, got, in)
			}
		}
	}
}

// Held figures from closed forms.
func TestFallHeld(t *testing.T) {
	sudden := Fall(FallIn{MassKg: 100, RopeLengthM: 10, ElongationPct: 3, FeetM: 1.3, MarginM: 1})
	near(t, "a load that comes on at once is twice the weight", float64(sudden.PeakKN), 2*100*quantity.G/1000)
	twice := Fall(FallIn{MassKg: 100, RopeLengthM: 20, ElongationPct: 3, SlackM: 4})
	once := Fall(FallIn{MassKg: 100, RopeLengthM: 10, ElongationPct: 3, SlackM: 2})
	near(t, "doubling every length leaves the fall factor", float64(twice.FallFactor), float64(once.FallFactor))
	near(t, "and the peak", float64(twice.PeakKN), float64(once.PeakKN))
	near(t, "a wheel rolls v²/2g", float64(Fall(FallIn{MassKg: 80, RopeLengthM: 5, ElongationPct: 3, LockSpeedMS: 2}).BeforeArrestM), 4/(2*quantity.G))
	there := sudden.ClearanceNeededM
	for clearance, want := range map[quantity.Metres]bool{there: true, there - 1e-9: false} {
		if out := Fall(FallIn{MassKg: 100, RopeLengthM: 10, ElongationPct: 3, FeetM: 1.3, MarginM: 1, ClearanceM: &clearance}); *out.Clear != want {
			t.Errorf("clearance %v of %v: clear is %v", clearance, there, *out.Clear)
		}
	}
}

// replay follows a fall step by step from the moment the device has locked, by
// small fixed steps: rope and dashpot side by side, the absorber in series
// extending at its force. It knows none of the closed forms and none of the
// phases.
func replay(in FallIn, h float64) (most float64) {
	m, k := float64(in.MassKg), AxialStiffness(in.ElongationPct)/float64(in.RopeLengthM)
	c := 2 * float64(in.DampingRatio) * math.Sqrt(k*m)
	force, room := math.Inf(1), 0.0
	if in.Absorber != nil {
		force, room = float64(in.Absorber.ForceKN)*1000, float64(in.Absorber.MaxM)
	}
	stretch, v, dt := 0.0, math.Sqrt(2*quantity.G*h), math.Sqrt(m/k)/20000
	for range 4000000 {
		pull, rope := max(0, k*stretch+c*v), v
		if pull > force && room > 0 {
			pull, rope = force, 0
			if c > 0 {
				rope = (force - k*stretch) / c
			}
			room -= (v - rope) * dt
		}
		most = max(most, pull)
		stretch += rope * dt
		v += (quantity.G - pull/m) * dt
		if v <= 0 {
			return most
		}
	}
	return math.NaN()
}

// The integrated fall agrees with the closed form where nothing damps, and with
// small steps where something does; it is never above the closed form.
func TestFallReplayed(t *testing.T) {
	r := chance.Rand(7, 8)
	for i := range 200 {
		in := randomFall(r)
		if i%2 == 0 {
			in.DampingRatio = quantity.Ratio(0.02 + 0.48*r.Float64())
		}
		out := FallInTime(in)
		peak := float64(out.PeakKN)
		if in.DampingRatio == 0 {
			within(t, "undamped, the closed form", float64(out.LikelyKN), peak, 1e-4)
		}
		want := min(peak, replay(in, float64(out.BeforeArrestM))/1000)
		if got := float64(out.LikelyKN); math.Abs(got-want) > 0.005*want || got > peak {
			t.Fatalf("likely %v kN, small steps %v kN, peak %v kN: %+v %+v", got, want, peak, in, in.Absorber)
		}
	}
}

// A course begins where the fall does, goes on in time, holds the greatest force
// and, undamped and without absorber, the energy at every point.
func TestCourse(t *testing.T) {
	r := chance.Rand(9, 10)
	for range 200 {
		in := randomFall(r)
		if r.IntN(2) == 0 {
			in.DampingRatio = 0.1
		}
		out := FallInTime(in)
		course := out.Course()
		checkCourse(t, course)
		most := quantity.Kilonewtons(0)
		m, k := float64(in.MassKg), AxialStiffness(in.ElongationPct)/float64(in.RopeLengthM)
		for _, p := range course {
			most = max(most, p.ForceKN)
			if v, f := float64(p.VMS), float64(p.ForceKN)*1000; in.DampingRatio == 0 && in.Absorber == nil {
				all := m * quantity.G * float64(out.BeforeArrestM+out.StretchM)
				within(t, "energy on the way", (m*v*v/2+f*f/(2*k))/all, m*quantity.G*float64(p.XM)/all, 3e-4)
			}
		}
		if in.DampingRatio == 0 {
			within(t, "greatest force of the course", float64(most), float64(out.PeakKN), 1e-4)
		} else if most < out.LikelyKN*(1-1e-4) {
			t.Errorf("the course ends at %v of %v", most, out.LikelyKN)
		}
	}
	share := ShareIn{MassKg: 180, RopeLengthM: 40, ElongationPct: 3, Share: 0.5, SlackM: 0.4}
	out := Share(share)
	course := out.Course()
	checkCourse(t, course)
	near(t, "it begins with the share it had", float64(course[0].ForceKN), 0.5*180*quantity.G/1000)
	most, low := quantity.Kilonewtons(0), quantity.Metres(0)
	for _, p := range course {
		most, low = max(most, p.ForceKN), max(low, p.XM)
	}
	within(t, "peak, shared", float64(most), float64(out.Shared.PeakKN), 0.001)
	within(t, "drop, shared", float64(low), float64(out.Shared.DropM), 0.001)
	near(t, "peak, shared, closed form", float64(out.Shared.PeakKN), 1.5*180*quantity.G/1000)
	fall := Fall(FallIn{MassKg: 180, RopeLengthM: 40, ElongationPct: 3, SlackM: 0.4})
	near(t, "slack is a fall", float64(out.Slack.PeakKN), float64(fall.PeakKN))
	near(t, "and drops by it", float64(out.Slack.DropM), float64(fall.StretchM)+0.4)
	share.Share = 1
	near(t, "all of it there already", float64(Share(share).Shared.PeakKN), 180*quantity.G/1000)
}

func checkCourse(t *testing.T, course []CoursePoint) {
	t.Helper()
	if len(course) < 50 || len(course) > MostPoints || course[0].TS != 0 || course[0].XM != 0 {
		t.Fatalf("%d points from %+v", len(course), course[0])
	}
	for i, p := range course[1:] {
		if p.TS < course[i].TS || p.ForceKN < 0 || math.IsNaN(float64(p.XM+quantity.Metres(p.ForceKN))) {
			t.Fatalf("point %d: %+v after %+v", i+1, p, course[i])
		}
	}
}

func BenchmarkFall(b *testing.B) {
	in := FallIn{MassKg: 88, LanyardM: 0.6, DeviceAboveM: 0.2, SlackM: 0.3, LockDistanceM: 0.1, LockSpeedMS: 2, RopeLengthM: 40, ElongationPct: 3.6,
		DampingRatio: 0.1, Absorber: &AbsorberIn{ForceKN: 2, MaxM: 0.5}, FeetM: 1.3, MarginM: 1}
	b.Run("closed", func(b *testing.B) {
		for b.Loop() {
			Fall(in)
		}
	})
	b.Run("integrated", func(b *testing.B) {
		for b.Loop() {
			FallInTime(in)
		}
	})
}
