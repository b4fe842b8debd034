package drop_test

import (
	"math"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/demo"
)

// What hauling asks is by the kit's own pulleys, in closed form for 1:1, 2:1 and 3:1;
// the schools are the springs of package mechanics, and a lost strand drops less the
// higher the load hangs.
func TestTeamFigures(t *testing.T) {
	asked := drop.TeamAsked{Drop: *demo.Drops()["basin-wall"], Move: "prove-brake"}
	weight := float64(asked.Drop.Team.Load.MassKg) * 9.80665 / 1000
	for _, e := range []float64{1, 0.92, 0.5} {
		for i := range asked.Drop.Models {
			m := &asked.Drop.Models[i]
			if m.Pulley != nil {
				m.Pulley.Efficiency = quantity.Ratio(e)
			}
			if m.ID == "brake-a" {
				m.Device.Friction.TakeInPart = quantity.Ratio(e)
			}
		}
		asked.Drop.Policy.EdgePart = &policy.EdgePart{Roller: 1, Pad: 1, Sleeve: 1, None: 1}
		answer, err := asked.Answer()
		if err != nil {
			t.Fatal(err)
		}
		pull := map[int]float64{2: 1 + e, 3: 1 + e + e*e}
		for _, h := range answer.Figures.Hauls {
			if factor, known := pull[h.Ratio]; known && math.Abs(float64(h.HandKN)-weight/factor) > 1e-6 {
				t.Errorf("%d:1 with pulleys of %v: %v, closed form %v", h.Ratio, e, h.HandKN, weight/factor)
			}
			if float64(h.Needed) != math.Ceil(float64(h.HandKN)/0.2-1e-9) {
				t.Errorf("%d:1: %v takes %d haulers", h.Ratio, h.HandKN, h.Needed)
			}
		}
		last := answer.Figures.Schools[0]
		for _, s := range answer.Figures.Schools[1:] {
			if s.AtM >= last.AtM || s.Slack.DropM <= last.Slack.DropM || s.Shared.DropM <= last.Shared.DropM || s.Shared.DropM >= s.Slack.DropM {
				t.Errorf("%+v after %+v", s, last)
			}
			last = s
		}
	}
	asked.Drop.Team = nil
	if _, err := asked.Answer(); err == nil {
		t.Error("a team where nothing is rigged")
	}
}
