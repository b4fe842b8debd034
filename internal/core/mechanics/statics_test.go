package mechanics

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/reeving"
	"zealousknot/internal/core/strict"
)

// refused wants an error that points at a place and says something.
func refused(t *testing.T, what string, err error, pointer, says string) {
	t.Helper()
	var e *strict.Error
	if !errors.As(err, &e) || e.Faults[0].Pointer != pointer || !strings.Contains(e.Faults[0].Detail, says) {
		t.Errorf("%s: got %v, want %s: …%s…", what, err, pointer, says)
	}
}

func legs(at ...[3]float64) []AnchorLeg {
	list := make([]AnchorLeg, len(at))
	for i, p := range at {
		list[i] = AnchorLeg{ID: string(rune('a' + i)), X: quantity.Metres(p[0]), Y: quantity.Metres(p[1]), Z: quantity.Metres(p[2])}
	}
	return list
}

// A thousand random anchors: where all legs pull, forces balance to 1e-9; where
// one would push, the master point rests where no other place that all lengths
// allow lies lower.
func TestAnchorBalances(t *testing.T) {
	r := chance.Rand(1, 1)
	kinds := map[string]int{}
	for range 3000 {
		n := 2 + r.IntN(2)
		in := AnchorIn{LoadKN: 0.1 + quantity.Kilonewtons(10*r.Float64())}
		for i := range n {
			l := AnchorLeg{ID: fmt.Sprint(i), X: quantity.Metres(r.Float64()*4 - 2), Y: quantity.Metres(r.Float64()*3 - 0.5)}
			if n == 3 {
				l.Z = quantity.Metres(r.Float64()*4 - 2)
			}
			in.Legs = append(in.Legs, l)
		}
		if n == 2 && r.IntN(2) == 0 {
			in.Direction = &Direction{X: r.Float64() - 0.5, Y: -r.Float64()}
		}
		out, err := Anchor(in)
		if err != nil {
			kinds["refused"]++
			continue
		}
		a, _ := newAnchoring(&in)
		rest, _ := a.inPlace()
		residual, slack := r3.Scale(a.load, r3.Vec(a.down)), false
		for i, l := range out.Legs {
			residual = r3.Add(residual, r3.Scale(float64(l.TensionKN), r3.Unit(r3.Sub(r3.Vec(a.points[i]), r3.Vec(rest.at)))))
			slack = slack || l.Slack
			if l.TensionKN < 0 || l.Slack && l.TensionKN != 0 {
				t.Fatalf("%+v", l)
			}
		}
		if r3.Norm(residual) > 1e-9*a.load {
			t.Fatalf("out of balance by %v kN: %+v", r3.Norm(residual), in)
		}
		if slack {
			kinds["slack"]++
			noneLower(t, r, a, rest, a.all(-1))
		}
		for i, lost := range out.Lost {
			if after := a.rest(a.all(i)); out.Legs[i].Slack == false && after != nil {
				noneLower(t, r, a, after, a.all(i))
				if want := r3.Dot(r3.Sub(r3.Vec(after.at), r3.Vec(rest.at)), r3.Vec(a.down)); math.Abs(float64(*lost.DropM)-want) > 1e-9 {
					t.Fatalf("drop %v, want %v", *lost.DropM, want)
				}
			}
		}
		kinds["solved"]++
	}
	if kinds["slack"] < 300 || kinds["solved"] < 2000 {
		t.Errorf("too few of a kind: %v", kinds)
	}
}

// noneLower looks for a place that all lengths allow and that lies lower.
func noneLower(t *testing.T, r *rand.Rand, a *anchoring, rest *resting, legs []int) {
	t.Helper()
	if !a.allows(rest, legs) {
		t.Fatalf("rests beyond a leg's length: %+v %+v", a.in, rest)
	}
	for range 200 {
		size := math.Pow(10, -4*r.Float64())
		p := &resting{at: vec(r3.Add(r3.Vec(rest.at), r3.Scale(size, r3.Vec{X: r.NormFloat64(), Y: r.NormFloat64(), Z: r.NormFloat64()})))}
		if a.allows(p, legs) && r3.Dot(r3.Sub(r3.Vec(p.at), r3.Vec(rest.at)), r3.Vec(a.down)) > 1e-7 {
			t.Fatalf("%v is lower than %v: %+v", p.at, rest.at, a.in)
		}
	}
}

func TestAnchorHeld(t *testing.T) {
	e := quantity.Percent(3)
	for _, half := range []float64{1, 15, 30, 45, 60, 80} {
		x, y := math.Sincos(half * math.Pi / 180)
		in := AnchorIn{LoadKN: 2, Legs: legs([3]float64{-x, y}, [3]float64{x, y})}
		in.Legs[0].ElongationPct, in.Legs[1].ElongationPct = &e, &e
		out, err := Anchor(in)
		if err != nil {
			t.Fatal(err)
		}
		within(t, "even pair", float64(out.Legs[0].TensionKN), 2/(2*y), 1e-9)
		within(t, "angle", float64(out.WidestAngleDeg), 2*half, 1e-9)
		// The other leg hangs straight down: it is 1 m long, the point was at y.
		within(t, "drop", float64(*out.Lost[0].DropM), 1-y, 1e-9)
		within(t, "sway", float64(out.Lost[0].Sway), x, 1e-9)
		within(t, "peak", float64(*out.Lost[0].PeakKN), peakForce(2000, AxialStiffness(e), 1-y)/1000, 1e-9)
	}
	upright, err := Anchor(AnchorIn{LoadKN: 2, Legs: legs([3]float64{0, 1}, [3]float64{1, 1})})
	if err != nil || math.Abs(float64(upright.Legs[0].TensionKN)-2) > 1e-12 || upright.Legs[1].TensionKN > 1e-12 || upright.Lost[1].PeakKN != nil {
		t.Errorf("one leg upright: %+v, %v", upright, err)
	}
	e2 := quantity.Percent(3)
	beside := AnchorIn{LoadKN: 2, Legs: legs([3]float64{0, 1}, [3]float64{1, 1})}
	beside.Legs[0].ElongationPct = &e2
	if out, err := Anchor(beside); err != nil || *out.Lost[1].DropM != 0 || math.Abs(float64(*out.Lost[1].PeakKN)-2) > 1e-12 {
		t.Errorf("losing a leg that carries nothing: %+v, %v", out.Lost, err)
	}
	single, err := Anchor(AnchorIn{LoadKN: 2, Legs: legs([3]float64{3, 4})})
	if err != nil || single.Legs[0].TensionKN != 2 || single.WidestAngleDeg != 0 || single.Lost[0].DropM != nil {
		t.Errorf("a single leg: %+v, %v", single, err)
	}
	// Three legs evenly round: each F / (3 cos), and a tripod's peak by symmetry.
	tripod, err := Anchor(AnchorIn{LoadKN: 3, Legs: legs([3]float64{1, 1, 0}, [3]float64{-0.5, 1, math.Sqrt(3) / 2}, [3]float64{-0.5, 1, -math.Sqrt(3) / 2})})
	if err != nil {
		t.Fatal(err)
	}
	for _, l := range tripod.Legs {
		within(t, "tripod", float64(l.TensionKN), math.Sqrt2, 1e-9)
	}
	slack, err := Anchor(AnchorIn{LoadKN: 1, Legs: legs([3]float64{0.5, 1}, [3]float64{1, 1})})
	if err != nil || !slack.Legs[1].Slack || slack.Legs[0].TensionKN != 1 || *slack.Lost[1].DropM != 0 {
		t.Errorf("a leg that would push: %+v, %v", slack, err)
	}
}

func TestAnchorRefuses(t *testing.T) {
	down := func(l []AnchorLeg) AnchorIn { return AnchorIn{LoadKN: 1, Legs: l} }
	for says, in := range map[string]AnchorIn{
		"more legs than dimensions: the tensions of a, b, c": down(legs([3]float64{-1, 1}, [3]float64{0, 1}, [3]float64{1, 1})),
		"more legs than dimensions":                          down(legs([3]float64{-1, 1, 1}, [3]float64{0, 1, 2}, [3]float64{1, 1}, [3]float64{1, 2})),
		"out of the plane of legs a, b":                      down(legs([3]float64{-1, 1, 0.1}, [3]float64{1, 1, 0.1})),
		"the plane of legs a, b":                             down(legs([3]float64{-0.05, 1, 2e-6}, [3]float64{0.05, 1, 2e-6})),
		"directions of legs a, b lie":                        down(legs([3]float64{-0.9e-8, 1}, [3]float64{0.9e-8, 1})),
		"legs a, b lie too nearly in one line":               down(legs([3]float64{-1, 0}, [3]float64{1, 0})),
		"legs a, b lie too":                                  down(legs([3]float64{0, 1}, [3]float64{0, 2})),
		"legs a, b, c lie too":                               down(legs([3]float64{0, 1, 1}, [3]float64{0, 2, -1}, [3]float64{0, 3, 1})),
	} {
		_, err := Anchor(in)
		refused(t, says, err, "/legs", says)
	}
	for _, l := range [][]AnchorLeg{legs([3]float64{-0.05, 1, 0.5e-6}, [3]float64{0.05, 1, 0.5e-6}), legs([3]float64{-1.1e-8, 1}, [3]float64{1.1e-8, 1})} {
		if _, err := Anchor(down(l)); err != nil {
			t.Errorf("just within its limits: %v", err)
		}
	}
	_, err := Anchor(down(legs([3]float64{0, 1}, [3]float64{})))
	refused(t, "no length", err, "/legs/1", "leg b has no length")
	twice := legs([3]float64{0, 1}, [3]float64{1, 1})
	twice[1].ID = "a"
	_, err = Anchor(down(twice))
	refused(t, "one name", err, "/legs/1/id", `two legs are called "a"`)
	_, err = Anchor(AnchorIn{LoadKN: 1, Legs: legs([3]float64{0, 1}), Direction: &Direction{}})
	refused(t, "nowhere", err, "/direction", "point somewhere")
}

func TestRedirectHeld(t *testing.T) {
	for _, c := range [][4]float64{{1, 1, 0, 2}, {1, 1, 180, 0}, {3, 4, 90, 5}, {2, 2, 120, 2}, {5, 2, 180, 3}} {
		out := Redirect(RedirectIn{quantity.Kilonewtons(c[0]), quantity.Kilonewtons(c[1]), quantity.Degrees(c[2])})
		near(t, fmt.Sprint(c), float64(out.ResultantKN), c[3])
	}
}

func haul(t *testing.T, in HaulIn) HaulOut {
	t.Helper()
	out, err := Haul(in)
	if err != nil {
		t.Fatalf("%+v: %v", in, err)
	}
	return out
}

func simple(system string, e, travel quantity.Ratio) HaulIn {
	m := quantity.Metres(travel)
	return HaulIn{LoadKg: 100, System: system, Efficiency: &e, HaulerKN: 0.2, HaulerPeakKN: 0.4, TravelM: Travel{Each: &m}, RaiseM: 10}
}

func TestHaulHeld(t *testing.T) {
	for _, e := range []float64{1, 0.95, 0.8, 0.5} {
		for system, want := range map[string]float64{
			"1:1": e, "2:1": 1 + e, "3:1": 1 + e + e*e, "5:1": 1 + e + e*e + e*e*e + e*e*e*e, "9:1": (1 + e + e*e) * (1 + e + e*e),
		} {
			out := haul(t, simple(system, quantity.Ratio(e), 2))
			within(t, system, float64(out.ActualRatio), want, 1e-12)
			within(t, "hand", float64(out.HandKN), 100*quantity.G/1000/want, 1e-12)
		}
	}
	nine := haul(t, simple("9:1", 1, 3))
	// The inner grab moves three times as fast: 1 m of rise a stroke.
	if nine.Strokes != 10 || math.Abs(float64(nine.RopeThroughHandsM)-90) > 1e-9 {
		t.Errorf("9:1: %d strokes, %v of rope", nine.Strokes, nine.RopeThroughHandsM)
	}
	lossy := simple("3:1", 0.9, 2)
	lossy.ResetLossM = 0.4
	three := haul(t, lossy)
	// (10 − 0.4) / (2 − 0.4) = 6 strokes, 3 · (10 + 5 · 0.4) of rope.
	if three.Strokes != 6 || math.Abs(float64(three.RopeThroughHandsM)-36) > 1e-9 || three.HaulersNeeded != 2 {
		t.Errorf("3:1 with loss: %+v", three)
	}
	near(t, "jammed", float64(three.JammedKN), 2*0.4*2.71)
	near(t, "ceiling", float64(three.JammedCeilingKN), 2*0.4*3)
	near(t, "anchor of a 3:1", float64(three.PulleysKN["B"]), float64(three.AnchorKN))
	for i, want := range []float64{0, 0, 1, 1} {
		near(t, "held 3:1", float64(three.Held[i].TensionKN), want*100*quantity.G/1000)
	}
	two := haul(t, simple("2:1", 0.9, 1))
	near(t, "held 2:1", float64(two.Held[0].TensionKN), 50*quantity.G/1000)
	// A 3:1 on a rope of its own, grabbing the load's rope.
	e, travel := quantity.Ratio(0.9), quantity.Metres(2)
	piggy := haul(t, HaulIn{LoadKg: 100, Efficiency: &e, HaulerKN: 0.2, HaulerPeakKN: 0.4, TravelM: Travel{Each: &travel}, RaiseM: 5, Reeving: []reeving.Rope{
		{Rope: "haul", Path: []string{"hand", "pulley:A@grab:G", "pulley:B@anchor", "grab:G"}},
		{Rope: "main", Path: []string{"slack", "pulley:M@anchor", "grab:G", "load"}},
	}})
	within(t, "3:1 on its own rope", float64(piggy.ActualRatio), 1+0.9+0.81, 1e-12)
	near(t, "held by the main", float64(piggy.Held[len(piggy.Held)-1].TensionKN), 100*quantity.G/1000)
	near(t, "and the haul rope is slack", float64(piggy.Held[0].TensionKN), 0)
}

func TestHaulRefuses(t *testing.T) {
	e, each := quantity.Ratio(0.9), quantity.Metres(1)
	base := HaulIn{LoadKg: 100, Efficiency: &e, HaulerKN: 0.2, HaulerPeakKN: 0.4, TravelM: Travel{Each: &each}, RaiseM: 5}
	path := func(p string) func(*HaulIn) {
		return func(in *HaulIn) { in.Reeving = []reeving.Rope{{Rope: "main", Path: strings.Fields(p)}} }
	}
	for name, c := range map[string]struct {
		do            func(*HaulIn)
		pointer, says string
	}{
		"nothing":        {func(*HaulIn) {}, "/system", "missing"},
		"unknown system": {func(in *HaulIn) { in.System = "7:1" }, "/system", "write its reeving"},
		"both":           {func(in *HaulIn) { in.System = "3:1"; path("hand load")(in) }, "/reeving", "either"},
		"no hand":        {path("slack load"), "/reeving", `no rope begins with "hand"`},
		"no load":        {path("hand pulley:A@anchor anchor"), "/reeving", "no load"},
		"load not pulled": {func(in *HaulIn) {
			path("hand anchor")(in)
			in.Reeving = append(in.Reeving, reeving.Rope{Rope: "b", Path: []string{"slack", "load"}})
		}, "/reeving", "puts no force"},
		"unknown grab":    {path("hand pulley:A@grab:G load"), "/reeving/0/path/1", "grab:G holds no rope"},
		"grab twice":      {path("hand grab:G pulley:A@anchor grab:G load"), "/reeving/0/path/3", "holds a rope already"},
		"pulley twice":    {path("hand pulley:A@anchor pulley:A@anchor load"), "/reeving/0/path/2", "pulley A has a rope already"},
		"without bound":   {path("hand grab:G pulley:A@grab:G load"), "/reeving/0/path/1", "grab:G pulls itself without bound"},
		"ideal, no bound": {path("hand grab:G pulley:A@anchor pulley:B@load grab:G"), "/reeving/0/path/1", "without bound"},
		"a bad start":     {path("anchor load"), "/reeving/0/path/0", "begins with"},
		"a bad end":       {path("hand pulley:A@anchor tree"), "/reeving/0/path/2", "ends with"},
		"a bad token":     {path("hand pulley:A load"), "/reeving/0/path/1", "between the ends"},
		"two hands": {func(in *HaulIn) {
			path("hand load")(in)
			in.Reeving = append(in.Reeving, reeving.Rope{Rope: "b", Path: []string{"hand", "load"}})
		}, "/reeving/1/path/0", "hand"},
		"two ropes": {func(in *HaulIn) {
			path("hand load")(in)
			in.Reeving = append(in.Reeving, reeving.Rope{Rope: "main", Path: []string{"slack", "load"}})
		}, "/reeving/1/rope", "two ropes"},
		"no efficiency":  {func(in *HaulIn) { in.System, in.Efficiency = "3:1", nil }, "/pulleys/A", "missing"},
		"unknown pulley": {func(in *HaulIn) { in.System, in.Pulleys = "3:1", map[string]HaulPulley{"Z": {1}} }, "/pulleys/Z", "no pulley"},
		"no travel":      {func(in *HaulIn) { in.System, in.TravelM = "3:1", Travel{} }, "/travel_m", "missing"},
		"half a travel":  {func(in *HaulIn) { in.System, in.TravelM = "9:1", Travel{By: map[string]quantity.Metres{"G": 1}} }, "/travel_m/H", "missing"},
		"travel too many": {func(in *HaulIn) {
			in.System, in.TravelM = "3:1", Travel{By: map[string]quantity.Metres{"G": 1, "X": 1}}
		}, "/travel_m/X", "no grab"},
		"never up": {func(in *HaulIn) { in.System, in.ResetLossM = "3:1", 1 }, "/reset_loss_m", "never gets up"},
	} {
		in := base
		c.do(&in)
		_, err := Haul(in)
		refused(t, name, err, c.pointer, c.says)
	}
}

// randomReeving makes up ropes of pulleys and grabs; most make no haul system.
func randomReeving(r *rand.Rand) []reeving.Rope {
	grabs, pulleys := []string{"grab:G", "grab:H", "grab:K"}[:r.IntN(4)], 0
	places := append([]string{"anchor", "anchor", "load"}, grabs...)
	var list []reeving.Rope
	unplaced := append([]string{}, grabs...)
	for i := range 1 + r.IntN(3) {
		path := []string{map[bool]string{true: "hand", false: "slack"}[i == 0]}
		for range r.IntN(5) {
			if len(unplaced) > 0 && r.IntN(2) == 0 {
				path = append(path, unplaced[0])
				unplaced = unplaced[1:]
				continue
			}
			path = append(path, fmt.Sprintf("pulley:P%d@%s", pulleys, places[r.IntN(len(places))]))
			pulleys++
		}
		list = append(list, reeving.Rope{Rope: fmt.Sprint("rope", i), Path: append(path, append([]string{"load"}, places...)[r.IntN(1+len(places))])})
	}
	return list
}

// speeds finds how fast each grab and the hand's rope move while the load moves
// by 1, from the rope's length alone: at a pulley that moves by v the rope passes
// w + v and goes on with w + 2 v. Passing gives what passes each pulley.
func speeds(list []reeving.Rope) (hand float64, grabs, passing map[string]float64) {
	grabs, passing = map[string]float64{}, map[string]float64{}
	of := func(to string) float64 {
		return map[string]float64{"load": 1, "anchor": 0}[to] + grabs[to]
	}
	for range 20 {
		for _, rope := range list {
			last := len(rope.Path) - 1
			w := of(rope.Path[last])
			for j := last - 1; j > 0; j-- {
				if strings.HasPrefix(rope.Path[j], "grab:") {
					grabs[rope.Path[j]] = w
					continue
				}
				name, to, _ := strings.Cut(rope.Path[j], "@")
				v := of(to)
				passing[strings.TrimPrefix(name, "pulley:")] = w + v
				w += 2 * v
			}
			if rope.Path[0] == "hand" {
				hand = w
			}
		}
	}
	return hand, grabs, passing
}

// Random haul systems: the actual ratio is at most the ideal one; the hand's
// rope moves by the ideal ratio; what the hand does is what the load gains and
// the pulleys lose.
func TestHaulConservesEnergy(t *testing.T) {
	r := chance.Rand(2, 3)
	solved, nested := 0, 0
	for range 40000 {
		list := randomReeving(r)
		in := HaulIn{LoadKg: 100, Reeving: list, Pulleys: map[string]HaulPulley{}, HaulerKN: 0.2, HaulerPeakKN: 0.4, RaiseM: 5}
		travel := quantity.Metres(1)
		in.TravelM.Each = &travel
		for _, rope := range list {
			for _, token := range rope.Path {
				if name, _, ok := strings.Cut(strings.TrimPrefix(token, "pulley:"), "@"); ok {
					in.Pulleys[name] = HaulPulley{quantity.Ratio(0.5 + r.Float64()/2)}
				}
			}
		}
		out, err := Haul(in)
		if err != nil {
			continue
		}
		solved++
		hand, grabs, passing := speeds(list)
		if len(grabs) > 1 {
			nested++
		}
		if out.ActualRatio > out.IdealRatio*(1+1e-12) {
			t.Fatalf("actual %v above ideal %v: %v", out.ActualRatio, out.IdealRatio, list)
		}
		within(t, fmt.Sprint("rope through the hands ", list), hand, float64(out.IdealRatio), 1e-9)
		lost, i := 0.0, 0
		for _, rope := range list {
			for j := 1; j < len(rope.Path)-1; j++ {
				if name, _, ok := strings.Cut(strings.TrimPrefix(rope.Path[j], "pulley:"), "@"); ok {
					lost += float64(out.Segments[i+j-1].TensionKN) * float64(1-in.Pulleys[name].Efficiency) * passing[name]
				}
			}
			i += len(rope.Path) - 1
		}
		within(t, fmt.Sprint("work ", list), float64(out.HandKN)*hand, 100*quantity.G/1000+lost, 1e-9)
	}
	if solved < 3000 || nested < 100 {
		t.Errorf("only %d solved, %d with grabs on grabs", solved, nested)
	}
}

// FuzzReeving: any reeving is refused by a place in it, or gives finite forces of
// which none pushes.
func FuzzReeving(f *testing.F) {
	for _, path := range []string{"1:1", "2:1", "3:1", "5:1", "9:1"} {
		f.Add(strings.Join(reeving.Named(path)[0].Path, " "), 0.9)
	}
	f.Add("hand grab:G grab:H load\nslack pulley:a@grab:G grab:H", 1.0)
	f.Add("hand pulley:@x:y@ grab: load", 0.5)
	f.Fuzz(func(t *testing.T, text string, e float64) {
		if !(e > 1e-3 && e <= 1) || len(text) > 2000 {
			return
		}
		ratio, travel := quantity.Ratio(e), quantity.Metres(1)
		in := HaulIn{LoadKg: 100, Efficiency: &ratio, HaulerKN: 0.2, HaulerPeakKN: 0.4, TravelM: Travel{Each: &travel}, RaiseM: 1}
		for i, l := range strings.Split(text, "\n") {
			in.Reeving = append(in.Reeving, reeving.Rope{Rope: fmt.Sprint(i), Path: strings.Fields(l)})
		}
		out, err := Haul(in)
		var refused *strict.Error
		if err != nil {
			if !errors.As(err, &refused) || !strings.HasPrefix(refused.Faults[0].Pointer, "/") {
				t.Fatal(err)
			}
			return
		}
		for _, s := range append(out.Segments, out.Held...) {
			if v := float64(s.TensionKN); !(v >= 0) || math.IsInf(v, 0) {
				t.Fatalf("%+v", s)
			}
		}
		if !(out.ActualRatio > 0) || out.ActualRatio > out.IdealRatio*(1+1e-9) || out.Strokes < 1 {
			t.Fatalf("%+v", out)
		}
	})
}

func BenchmarkHaul(b *testing.B) {
	e, travel := quantity.Ratio(0.92), quantity.Metres(2)
	in := HaulIn{LoadKg: 200, Efficiency: &e, HaulerKN: 0.2, HaulerPeakKN: 0.4, TravelM: Travel{Each: &travel}, RaiseM: 20, Reeving: []reeving.Rope{{Rope: "main", Path: []string{
		"hand", "pulley:E@grab:K", "pulley:F@anchor", "grab:K", "pulley:C@grab:H", "pulley:D@anchor", "pulley:I@grab:H", "pulley:J@anchor", "grab:H",
		"pulley:A@grab:G", "pulley:B@anchor", "pulley:L@grab:G", "pulley:M@anchor", "pulley:N@anchor", "pulley:O@anchor", "grab:G", "load",
	}}}}
	for b.Loop() {
		if _, err := Haul(in); err != nil {
			b.Fatal(err)
		}
	}
}

// The capture holds at the pulley at the anchor that comes first from the load, also
// where a pulley that rides on the load comes first from the hand.
func TestCaptureBehindAPulleyOnTheLoad(t *testing.T) {
	e := quantity.Ratio(0.9)
	for path, want := range map[string][]float64{
		"hand pulley:A@load pulley:B@anchor pulley:C@load anchor": {0, 0, 0.5, 0.5},
		"hand pulley:A@load pulley:B@anchor load":                 {0, 0, 1},
		"hand pulley:B@anchor pulley:A@load anchor":               {0, 0.5, 0.5},
		"hand pulley:A@load anchor":                               {0.5, 0.5},
	} {
		out, err := Haul(HaulIn{LoadKg: 100, Efficiency: &e, Reeving: []reeving.Rope{{Rope: "a", Path: strings.Fields(path)}}, HaulerKN: 0.2, HaulerPeakKN: 0.4, RaiseM: 1})
		if err != nil {
			t.Fatal(path, err)
		}
		for i, s := range out.Held {
			if got := float64(s.TensionKN) / 0.980665; math.Abs(got-want[i]) > 1e-9 {
				t.Errorf("%s: segment %d bears %v of the load, want %v", path, i, got, want[i])
			}
		}
	}
}
