package standin_test

import (
	"reflect"
	"testing"
	"time"

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
			ceiling := float64(mechanics.Fall(mechanics.FallIn{MassKg: 100, SlackM: 1, RopeLengthM: 6, ElongationPct: 3.5, FeetM: 1.3, MarginM: 1}).PeakKN)
			rest := float64(quantity.Weight(100))
			if slipped := most > 2*rest && most < ceiling+0.1; device == "load-cell" && slipped != (s == "slip") {
				t.Errorf("%s: at most %.2f kN; at rest %.2f, ceiling %.2f", s, most, rest, ceiling)
			}
		}
	}
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
