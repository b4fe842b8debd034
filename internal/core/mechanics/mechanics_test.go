package mechanics

import (
	"math"
	"math/rand/v2"
	"testing"

	"zealousknot/internal/core/quantity"
)

func near(t *testing.T, what string, got, want float64) {
	t.Helper()
	if math.Abs(got-want) > 1e-9*max(1, math.Abs(want)) {
		t.Errorf("%s: got %v, want %v", what, got, want)
	}
}

func randomFall(r *rand.Rand) FallIn {
	in := FallIn{
		Mass: quantity.Kilograms(40 + 200*r.Float64()), Lanyard: quantity.Metres(r.Float64()), DeviceAbove: quantity.Metres(r.Float64() - 0.3),
		Slack: quantity.Metres(r.Float64()), LockDistance: quantity.Metres(0.2 * r.Float64()), LockSpeed: quantity.MetresPerSecond(3 * r.Float64()),
		RopeLength: quantity.Metres(0.5 + 100*r.Float64()), Elongation: quantity.Percent(1 + 9*r.Float64()), Feet: 1.3, Margin: 1,
	}
	if r.IntN(3) > 0 {
		in.Absorber = &AbsorberIn{Force: quantity.Kilonewtons(0.3 + 6*r.Float64()), Max: quantity.Metres(0.05 + r.Float64())}
	}
	return in
}

// Energy is conserved at the lowest point: weight times the whole way down is
// what the rope stores and the absorber takes up.
func TestFallConservesEnergy(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	kinds := map[string]int{}
	for range 5000 {
		in := randomFall(r)
		out := Fall(in)
		mg := newtons(in.Mass)
		k := AxialStiffness(in.Elongation) / float64(in.RopeLength)
		x, xa, peak := float64(out.Stretch), float64(out.AbsorberExtends), float64(out.Peak)*1000
		near(t, "stretch times stiffness", k*x, peak)
		taken := 0.0
		if in.Absorber != nil {
			taken = float64(in.Absorber.Force) * 1000 * xa
		}
		before, after := mg*(float64(out.BeforeArrest)+x+xa), k*x*x/2+taken
		switch {
		case in.Absorber == nil || xa == 0:
			kinds["shut"]++
		case out.AbsorberUsedUp:
			kinds["used up"]++
			if peak > float64(in.Absorber.Force)*1000+1e-9 {
				break
			}
			// The rope cannot pull less than what opened the absorber.
			before = after
		default:
			kinds["enough"]++
			near(t, "peak with absorber", peak, float64(in.Absorber.Force)*1000)
		}
		near(t, "energy", after, before)
		if out.ClearanceNeeded < out.BeforeArrest+in.Feet+in.Margin {
			t.Fatalf("clearance %v is less than the fall", out.ClearanceNeeded)
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
	r := rand.New(rand.NewPCG(3, 4))
	for range 2000 {
		in := randomFall(r)
		peak := Fall(in).Peak
		for name, grow := range map[string]func(*FallIn){
			"mass": func(i *FallIn) { i.Mass *= 1.1 }, "slack": func(i *FallIn) { i.Slack += 0.1 }, "stiffness": func(i *FallIn) {
				if i.Absorber == nil {
					i.Elongation /= 1.1
				}
			},
		} {
			more := in
			grow(&more)
			if got := Fall(more).Peak; got < peak-1e-9 {
				t.Fatalf("%s grows and the peak falls from %v to %v: %+v", name, peak, got, in)
			}
		}
	}
}

// Held figures from closed forms.
func TestHeld(t *testing.T) {
	sudden := Fall(FallIn{Mass: 100, RopeLength: 10, Elongation: 3, Feet: 1.3, Margin: 1})
	near(t, "a load that comes on at once is twice the weight", float64(sudden.Peak), 2*100*quantity.G/1000)
	twice := Fall(FallIn{Mass: 100, RopeLength: 20, Elongation: 3, Slack: 4})
	once := Fall(FallIn{Mass: 100, RopeLength: 10, Elongation: 3, Slack: 2})
	near(t, "doubling every length leaves the fall factor", float64(twice.FallFactor), float64(once.FallFactor))
	near(t, "and the peak", float64(twice.Peak), float64(once.Peak))
	near(t, "a wheel rolls v²/2g", float64(Fall(FallIn{Mass: 80, RopeLength: 5, Elongation: 3, LockSpeed: 2}).BeforeArrest), 4/(2*quantity.G))

	square, _ := WidestAngle([]LegAt{{-1, 1}, {1, 1}})
	near(t, "legs at 45° each", float64(square), 90)
	one, _ := WidestAngle([]LegAt{{3, 4}})
	near(t, "one leg", float64(one), 0)
	flat, _ := WidestAngle([]LegAt{{-1, 0}, {0, 1}, {1, 0}})
	near(t, "opposite legs", float64(flat), 180)

	heat := HeatIn{Mass: 100, Height: 50, Speed: 0.5, Device: 500, SpecificHeat: 900, Share: 0.5, Ambient: 20}
	end, _ := Heat(heat)
	near(t, "heat without cooling", float64(end), 20+0.5*100*quantity.G*50/(0.5*900))
	heat.Cooling = 1e-9
	almost, _ := Heat(heat)
	if math.Abs(float64(almost-end)) > 1e-4 {
		t.Errorf("hardly any cooling: %v, none: %v", almost, end)
	}
	heat.Cooling, heat.Height = 2, 1e6
	steady, _ := Heat(heat)
	near(t, "a descent without end", float64(steady), 20+0.5*100*quantity.G*0.5/2)

	low, spare, _ := Reach(ReachIn{Top: 30, To: 0, Offset: 16, Rope: 40, Diameter: 10, MidLoops: 1, Joins: 1, Stopper: true, Edges: 0.5, Loops: 1}, DefaultKnots)
	// 70+10 end loop, 55 mid loop, 70+20 join, 25+10 stopper: 260 · 10 mm = 2.6 m.
	near(t, "lower end", float64(low), 30-(40-2.6-0.5-1))
	near(t, "spare", float64(spare), 5.9-(34-30))
}

// integrate follows a fall step by step from the moment the device has locked:
// rope and absorber in series, the absorber extending at its force, by the
// fourth-order Runge-Kutta method. It knows none of the closed forms.
func integrate(in FallIn, h float64) (peak float64) {
	m, k := float64(in.Mass), AxialStiffness(in.Elongation)/float64(in.RopeLength)
	force, most := math.Inf(1), 0.0
	if in.Absorber != nil {
		force, most = float64(in.Absorber.Force)*1000, float64(in.Absorber.Max)
	}
	x, v, extended := 0.0, math.Sqrt(2*quantity.G*h), 0.0
	pull := func(x float64) float64 { return max(0, k*(x-extended)) }
	dt := math.Sqrt(m/k) / 4000
	for range 200000 {
		a1 := quantity.G - pull(x)/m
		a2 := quantity.G - pull(x+dt/2*v)/m
		a3 := quantity.G - pull(x+dt/2*(v+dt/2*a1))/m
		a4 := quantity.G - pull(x+dt*(v+dt/2*a2))/m
		x += dt*v + dt*dt/6*(a1+a2+a3)
		v += dt / 6 * (a1 + 2*a2 + 2*a3 + a4)
		// What the rope would pull beyond the absorber's force, the absorber gives.
		if over := k*(x-extended) - force; over > 0 && extended < most {
			extended = min(most, extended+over/k)
		}
		peak = max(peak, pull(x))
		if v <= 0 {
			return peak
		}
	}
	return math.NaN()
}

// The closed forms agree with the step-by-step fall.
func TestFallReplayed(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 8))
	for range 300 {
		in := randomFall(r)
		out := Fall(in)
		if got, want := integrate(in, float64(out.BeforeArrest)), float64(out.Peak)*1000; math.Abs(got-want) > 0.005*want {
			t.Fatalf("step by step %v N, closed form %v N: %+v", got, want, in)
		}
	}
}
