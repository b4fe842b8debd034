package mechanics

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/integrate/quad"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/knot"
	"zealousknot/internal/core/quantity"
)

func TestHeat(t *testing.T) {
	in := HeatIn{LoadKg: 100, HeightM: 50, SpeedMS: 0.5, DeviceG: 500, SpecificHeat: 900, HeatShare: 0.5, AmbientC: 20, LimitC: 40}
	bare, err := Heat(in)
	if err != nil || bare.FastestMS == nil || *bare.FastestMS != 0 {
		t.Errorf("without cooling no speed is slow enough: %+v, %v", bare, err)
	}
	near(t, "without cooling", float64(bare.EndC), 20+0.5*100*quantity.G*50/(0.5*900))
	m, limited := in.Longest()
	within(t, "the longest without cooling", float64(m), 20*0.5*900/(0.5*100*quantity.G), 1e-9)
	if in.LimitC = 20; !limited {
		t.Error("without cooling any length is within the limit")
	}
	if m, limited = in.Longest(); m != 0 || !limited {
		t.Errorf("%v within a limit of the air's", m)
	}
	in.LimitC, in.CoolingWK = 40, 1e-9
	hardly, _ := Heat(in)
	within(t, "hardly any cooling", float64(hardly.EndC), float64(bare.EndC), 1e-6)
	in.CoolingWK, in.HeightM = 2, 1e6
	steady, _ := Heat(in)
	near(t, "a descent without end", float64(steady.EndC), 20+0.5*100*quantity.G*0.5/2)
	in.LimitC = 20
	_, err = Heat(in)
	refused(t, "a limit not above the air", err, "/limit_C", "above ambient_C")

	r := chance.Rand(4, 4)
	for range 200 {
		in := HeatIn{
			LoadKg: quantity.Kilograms(50 + 200*r.Float64()), HeightM: quantity.Metres(5 + 200*r.Float64()), SpeedMS: quantity.MetresPerSecond(0.1 + 2*r.Float64()),
			DeviceG: quantity.Grams(200 + 800*r.Float64()), SpecificHeat: 500 + 500*r.Float64(), CoolingWK: 0.5 + 5*r.Float64(),
			HeatShare: quantity.Ratio(r.Float64()), AmbientC: quantity.Celsius(30 * r.Float64()), LimitC: quantity.Celsius(40 + 100*r.Float64()),
		}
		out, err := Heat(in)
		if err != nil {
			t.Fatal(err)
		}
		// Small steps of C dT/dt = f m g v − hA (T − T_a).
		temperature, steps := 0.0, 20000
		dt := float64(in.HeightM) / float64(in.SpeedMS) / float64(steps)
		for range steps {
			temperature += dt * (float64(in.HeatShare)*newtons(in.LoadKg)*float64(in.SpeedMS) - in.CoolingWK*temperature) / in.capacity()
		}
		long := in
		if m, limited := in.Longest(); limited {
			long.HeightM = m
			within(t, "the longest descent", float64(HeatEnd(long).EndC), float64(in.LimitC), 1e-9)
		} else if long.HeightM = 1e9; HeatEnd(long).EndC > in.LimitC {
			t.Errorf("any length is said to be within the limit: %+v", in)
		}
		within(t, "small steps", float64(in.AmbientC)+temperature, float64(out.EndC), 1e-3)
		if out.FastestMS == nil {
			in.SpeedMS = 1e6
			if fast, _ := Heat(in); fast.EndC > in.LimitC {
				t.Fatalf("any speed is said to be within the limit: %+v", in)
			}
			continue
		}
		in.SpeedMS = *out.FastestMS
		at, _ := Heat(in)
		within(t, "at the fastest speed", float64(at.EndC), float64(in.LimitC), 1e-9)
	}
}

func TestStretch(t *testing.T) {
	r := chance.Rand(5, 5)
	for range 200 {
		in := StretchIn{quantity.Kilograms(300 * r.Float64()), quantity.Metres(1 + 200*r.Float64()), quantity.Percent(1 + 9*r.Float64()), quantity.GramsPerMetre(100 * r.Float64())}
		out := Stretch(in)
		near(t, "EA", float64(out.EAKN)*1000, 100*quantity.G/(float64(in.ElongationPct)/100))
		sum := quad.Fixed(func(z float64) float64 { return newtons(in.LoadKg) + perMetre(in.RopeGPerM)*z }, 0, float64(in.LengthM), 3, nil, 0)
		near(t, "sum of all parts", float64(out.StretchM), sum/(float64(out.EAKN)*1000))
		limit := quantity.Metres(0.1 + r.Float64())
		in.LengthM = out.LongestFor(limit)
		near(t, "spacing of re-belays", float64(Stretch(in).StretchM), float64(limit))
	}
}

// widthAt is y at z by quadrature, from the forces alone.
func (b *bow) widthAt(s, z float64) (y, extra float64) {
	tension := func(z float64) float64 { return b.w*(b.tail-s) + b.drag + b.w*z }
	integrate := func(f func(float64) float64, to float64) float64 { return quad.Fixed(f, 0, to, 60, nil, 0) }
	i0 := integrate(func(z float64) float64 { return 1 / tension(z) }, b.l)
	i1 := integrate(func(z float64) float64 { return z / tension(z) }, b.l)
	slope := func(z float64) float64 { return (b.q*i1/i0 - b.q*z) / tension(z) }
	return integrate(slope, z), integrate(func(z float64) float64 { return math.Hypot(1, slope(z)) - 1 }, b.l)
}

// The slack of random strands against quadrature and a search along the tail,
// which know nothing of the closed form or of Newton's steps.
func TestWind(t *testing.T) {
	r := chance.Rand(6, 6)
	kinds := map[bool]int{}
	for range 300 {
		in := WindIn{
			AboveM: quantity.Metres(5 + 100*r.Float64()), TailM: quantity.Metres(2 + 60*r.Float64()), DiameterMM: quantity.Millimetres(9 + 3*r.Float64()),
			RopeGPerM: quantity.GramsPerMetre(50 + 40*r.Float64()), WindMS: quantity.MetresPerSecond(14 * r.Float64()), DeviceDragN: 1 + 20*r.Float64(), SlackLimitM: 0.5,
		}
		b := newBow(&in, in.WindMS)
		s, holds := b.slack()
		kinds[holds]++
		const steps = 400
		crossed := -1.0
		for i := 1; i < steps && crossed < 0; i++ {
			if at := b.tail * float64(i) / steps; func() bool { _, extra := b.widthAt(at, 0); return extra <= at }() {
				crossed = at
			}
		}
		switch {
		case holds:
			_, extra := b.widthAt(s, 0)
			within(t, "extra length", extra, s, 1e-6)
			if crossed >= 0 && s > crossed+1e-9 {
				t.Fatalf("slack %v is not the smallest root, %v is below it: %+v", s, crossed, in)
			}
		case crossed >= 0 || s != b.tail:
			t.Fatalf("the tail is said to run, but %v holds: %+v", crossed, in)
		}
		widest := 0.0
		for i := range 200 {
			y, _ := b.widthAt(s*(1-1e-9), b.l*float64(i)/200)
			widest = max(widest, y)
		}
		out := Wind(in)
		if holds {
			within(t, "bow", float64(out.BowM), widest, 1e-3)
		}
		more := in
		more.WindMS *= 1.1
		if Wind(more).SlackM < out.SlackM {
			t.Fatalf("more wind, less slack: %+v", in)
		}
		if v := out.LimitWindMS; v != nil {
			below, above := in, in
			below.WindMS, above.WindMS = *v-0.01, *v+0.01
			if Wind(below).SlackM > in.SlackLimitM || Wind(above).SlackM <= in.SlackLimitM {
				t.Fatalf("at %v of wind the slack does not pass the limit: %+v", *v, in)
			}
		}
	}
	if kinds[true] < 50 || kinds[false] < 20 {
		t.Errorf("too few of a kind: %v", kinds)
	}
	calm := WindIn{AboveM: 50, TailM: 40, DiameterMM: 10, RopeGPerM: 70, SlackLimitM: 0.5}
	if out := Wind(calm); out.SlackM != 0 || out.BowM != 0 || out.LimitWindMS == nil {
		t.Errorf("no wind: %+v", out)
	}
	calm.WindMS, calm.Parked = 20, true
	if out := Wind(calm); out.SlackM != 0 || out.LimitWindMS != nil {
		t.Errorf("parked: %+v", out)
	}
	calm.Parked, calm.TailM = false, 0
	if out := Wind(calm); out.SlackM != 0 || out.LimitWindMS != nil || math.IsNaN(float64(out.BowM)) {
		t.Errorf("no tail: %+v", out)
	}
	// A weak wind on a heavy tail: a parabola, s = q² L³ / (24 T²).
	stiff := WindIn{AboveM: 10, TailM: 5, DiameterMM: 10, RopeGPerM: 70, WindMS: 10, DeviceDragN: 1000, SlackLimitM: 0.5}
	q := newBow(&stiff, 10).q
	within(t, "parabola", float64(Wind(stiff).SlackM)*1e6, q*q*1000/(24*1006.8*1006.8)*1e6, 1e-3)
}

func TestSwing(t *testing.T) {
	for _, x := range []float64{0, 1e-6, 3, -7.5, 10} {
		out, err := Swing(SwingIn{10, quantity.Metres(x)})
		if err != nil {
			t.Fatal(err)
		}
		theta := math.Asin(math.Abs(x) / 10)
		near(t, "speed", float64(out.SpeedMS), math.Sqrt(2*quantity.G*10*2)*math.Sin(theta/2))
		near(t, "the speed of the equal drop", float64(out.SpeedMS)*float64(out.SpeedMS), 2*quantity.G*float64(out.EqualDropM))
		near(t, "angle", float64(out.AngleDeg), theta*180/math.Pi)
	}
	_, err := Swing(SwingIn{10, 10.1})
	refused(t, "further out than the rope is long", err, "/offset_m", "not be more than")
}

func TestLower(t *testing.T) {
	in := LowerIn{LoadKg: 100, BaseRatio: 8, Mu: 0.25, WrapsDeg: []quantity.Degrees{180, 90}, HangingM: 20, RopeGPerM: 70, GripKN: 0.1}
	out := Lower(in)
	ratio := 8 * math.Exp(0.25*1.5*math.Pi)
	near(t, "ratio", float64(out.Ratio), ratio)
	near(t, "brake side", float64(out.BrakeKN), 100*quantity.G/1000/ratio)
	near(t, "hand", float64(out.HandKN), 100*quantity.G/1000/ratio-20*0.07*quantity.G/1000)
	in.HangingM = *out.FreesBelowM * (1 + 1e-9)
	if held := Lower(in); held.RunsByItself || held.HandKN != 0 || !held.WithinGrip {
		t.Errorf("held by the rope below: %+v", held)
	}
	in.HangingM = *out.FreesBelowM * (1 - 1e-9)
	if !Lower(in).RunsByItself {
		t.Error("does not run with less below")
	}
	in.RopeGPerM, in.WrapsDeg = 0, nil
	if bare := Lower(in); bare.FreesBelowM != nil || bare.Ratio != 8 {
		t.Errorf("rope without weight, no wrap: %+v", bare)
	}
}

func TestRope(t *testing.T) {
	half, two := quantity.Metres(0.5), quantity.Metres(2)
	in := RopeIn{DropM: 96, DiameterMM: 10, ReserveM: 3, StretchM: 99, Items: []RopeItem{
		{EndLoop, 1, nil}, {MidLoop, 2, nil}, {Join, 1, nil}, {Stopper, 1, nil}, {Tail, 4, nil}, {Edge, 2, &half}, {Loop, 1, &two},
	}}
	out, err := Rope(in)
	if err != nil {
		t.Fatal(err)
	}
	// 70 + 2·55 + 70 + 25 + 4·10 = 315 diameters.
	near(t, "length", float64(out.LengthNeededM), 96+3.15+1+2+3)
	sum := quantity.Metres(0)
	for _, p := range out.Parts {
		sum += p.M
	}
	near(t, "the parts sum to it", float64(sum), float64(out.LengthNeededM))
	in.Items[0].EachM = &half
	_, err = Rope(in)
	refused(t, "a knot's length", err, "/items/0/m", "comes from the table")
	in.Items[0].EachM, in.Items[5].EachM = nil, nil
	_, err = Rope(in)
	refused(t, "an edge without", err, "/items/5/m", "missing")

	reach, err := Reach(ReachIn{Top: 30, Offset: 16, Rope: 40, Diameter: 10, Items: []RopeItem{{EndLoop, 1, nil}, {Tail, 1, nil}}}, new(knot.Shipped()))
	if err != nil {
		t.Fatal(err)
	}
	near(t, "lower end", float64(reach.End), 30-(40-0.8))
	near(t, "spare", float64(reach.Spare), 40-0.8-34)
}
