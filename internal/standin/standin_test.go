package standin_test

import (
	"encoding/json"
	"math"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/core/calc"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/standin"
)

// The same seed makes the same readings, another others; a slip peaks between rest and the
// undamped ceiling of the fall, and what is calm has none.
func TestMake(t *testing.T) {
	from := time.Date(2026, 11, 24, 8, 0, 0, 0, time.UTC)
	for device, scenarios := range standin.Scenarios {
		for _, s := range scenarios {
			p := standin.Plan{Device: device, Scenario: s, Channel: "main.force", Seed: 3, RateHz: 50, Seconds: 40, MassKg: 100, SlipS: 20}
			if words := p.Validate(); words != "" {
				t.Fatal(words)
			}
			one, two := p.Make(from), p.Make(from)
			other := p
			other.Seed = 4
			if len(one) != 2000 || !reflect.DeepEqual(one, two) || reflect.DeepEqual(one, other.Make(from)) {
				t.Errorf("%s %s: %d readings, or not by their seed", device, s, len(one))
			}
			most := 0.0
			for _, r := range one {
				most = max(most, r.Value)
			}
			ceiling := float64(mechanics.Fall(mechanics.FallIn{MassKg: 105, LanyardM: 0.3, DeviceAboveM: 0.2, SlackM: 1, RopeLengthM: 6, ElongationPct: 2.8, FeetM: 1.3, MarginM: 1}).PeakKN)
			rest := float64(quantity.Weight(100))
			if slipped := most > 2*rest && most < ceiling+0.1; device == "load-cell" && slipped != (s == "slip") {
				t.Errorf("%s: at most %.2f kN; at rest %.2f, ceiling %.2f", s, most, rest, ceiling)
			}
		}
	}
}

// Falls that are sent lie in the band that the figures give for the same spread as often as they
// should, and all between a floor and a ceiling in closed form; those of twice the mass do not.
func TestFallsLieInTheirBand(t *testing.T) {
	p := standin.Plan{Device: "load-cell", Scenario: "slip", Channel: "main.force", RateHz: 100, Seconds: 2, MassKg: 100, SlipS: 0.5}
	in, err := json.Marshal(p.Fall())
	if err != nil {
		t.Fatal(err)
	}
	asked := strings.TrimSuffix(string(in), "}") + `,"seed":5,"spread":{"mass_kg":{"plus_minus":5},"device_above_attachment_m":{"plus_minus":0.1},"elongation_pct":{"plus_minus":0.7}}}`
	fall := calc.All[slices.IndexFunc(calc.All, func(c *calc.Calc) bool { return c.Name == "fall" })]
	answer, err := fall.Run([]byte(asked))
	if err != nil {
		t.Fatal(err)
	}
	band := answer.Band["likely_kN"]
	// m·g + √((m·g)² + 2·k·m·g·h) undamped; what swings about m·g loses at most e^(−πζ/√(1−ζ²)) until
	// the lowest point.
	const g = 9.80665
	peak := func(m, elongation, h, keeps float64) float64 {
		w, k := m*g/1000, 100*g/1000/(elongation/100)/6
		return w + keeps*math.Sqrt(w*w+2*k*w*h)
	}
	floor, ceiling := peak(95, 4.2, 1, math.Exp(-math.Pi*0.1/math.Sqrt(1-0.01))), peak(105, 2.8, 1.1, 1)
	const seeds, noise = 2000, 0.1
	within := 0
	for seed := range uint64(seeds) {
		p.Seed, p.MassKg = seed, 100
		most := greatest(&p)
		if most >= *band.P5 && most <= *band.P95 {
			within++
		}
		if most < floor-noise || most > ceiling+noise {
			t.Errorf("seed %d: %.2f kN, between %.2f and %.2f it is possible", seed, most, floor, ceiling)
		}
		if p.MassKg = 200; greatest(&p) < ceiling {
			t.Errorf("seed %d: twice the mass lies below the ceiling of one", seed)
		}
	}
	if part := 100 * float64(within) / seeds; part < 87 || part > 93 {
		t.Errorf("%.1f %% of the falls lie between %.2f and %.2f kN", part, *band.P5, *band.P95)
	}
}

// greatest is the greatest reading that a plan sends.
func greatest(p *standin.Plan) (most float64) {
	for _, r := range p.Make(time.Unix(0, 0)) {
		most = max(most, r.Value)
	}
	return most
}

// What cannot be made is refused, with its flag.
func TestValidate(t *testing.T) {
	good := standin.Plan{Device: "load-cell", Scenario: "slip", RateHz: 100, Seconds: 1, MassKg: 1}
	for _, change := range []func(*standin.Plan){
		func(p *standin.Plan) { p.Device = "scale" }, func(p *standin.Plan) { p.Scenario = "gusty" }, func(p *standin.Plan) { p.RateHz = 100.1 },
		func(p *standin.Plan) { p.RateHz = 0 }, func(p *standin.Plan) { p.Seconds = 0 }, func(p *standin.Plan) { p.MassKg = 601 },
	} {
		p := good
		if change(&p); p.Validate() == "" || good.Validate() != "" {
			t.Errorf("%+v", p)
		}
	}
}
