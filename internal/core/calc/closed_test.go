package calc

import (
	"encoding/json"
	"math"
	"testing"

	"zealousknot/internal/chance"
)

// ask runs a figure on an input and gives its outputs by name, numbers alone.
func ask(t *testing.T, name string, in map[string]any) func(string) float64 {
	t.Helper()
	text, err := json.Marshal(in)
	if err != nil {
		t.Fatal(err)
	}
	out := run(t, name, string(text))
	return func(field string) float64 {
		t.Helper()
		v, ok := out[field].(float64)
		if !ok {
			t.Fatalf("%s: no figure %s in %v", name, field, out)
		}
		return v
	}
}

// The contracts from outside, in JSON, against the closed forms as the trade
// writes them, on a thousand random inputs; nothing of package mechanics is used.
func TestClosedForms(t *testing.T) {
	const g = 9.80665
	r := chance.Rand(24, 11)
	between := func(low, high float64) float64 { return low + (high-low)*r.Float64() }
	same := func(what string, got, want float64) {
		t.Helper()
		if !(math.Abs(got-want) <= 1e-9*max(1, math.Abs(want))) {
			t.Fatalf("%s: got %v, want %v", what, got, want)
		}
	}
	for range 1000 {
		m, l, e, h := between(40, 250), between(1, 120), between(1, 9), between(0, 3)
		ea := 100 * g / (e / 100)
		k := ea / l

		fall := ask(t, "fall", map[string]any{"mass_kg": m, "lanyard_m": h + 0.1, "device_above_attachment_m": 0.1, "rope_length_m": l, "elongation_pct": e, "damping_ratio": 0})
		peak := m*g + math.Sqrt(m*g*m*g+2*m*g*k*h)
		same("peak", fall("peak_kN"), peak/1000)
		same("stretch in a fall", fall("stretch_m"), peak/k)
		same("clearance", fall("clearance_needed_m"), h+peak/k+2.3)
		if likely := fall("likely_kN"); math.Abs(likely-peak/1000) > 0.005*peak/1000 {
			t.Fatalf("likely %v, undamped peak %v", likely, peak/1000)
		}
		force := m*g/1000 + between(0.2, 3)
		soft := ask(t, "fall", map[string]any{"mass_kg": m, "lanyard_m": h + 0.1, "device_above_attachment_m": 0.1, "rope_length_m": l, "elongation_pct": e,
			"absorber": map[string]any{"force_kN": force, "max_m": 1e6}})
		if fa := force * 1000; peak <= fa {
			same("absorber stays shut", soft("absorber_m"), 0)
			same("peak with it shut", soft("peak_kN"), peak/1000)
		} else {
			same("extension", soft("absorber_m"), (m*g*(h+fa/k)-fa*fa/(2*k))/(fa-m*g))
			same("peak with it open", soft("peak_kN"), force)
		}

		s := r.Float64()
		text, _ := json.Marshal(map[string]any{"mass_kg": m, "rope_length_m": l, "elongation_pct": e, "share": s, "slack_m": h})
		share := run(t, "share", string(text))
		shared, slack := share["shared"].(map[string]any), share["slack"].(map[string]any)
		same("shared peak", shared["peak_kN"].(float64), m*g*(2-s)/1000)
		same("shared drop", shared["drop_m"].(float64), 2*(1-s)*m*g/k)
		same("slack peak", slack["peak_kN"].(float64), peak/1000)
		same("slack drop", slack["drop_m"].(float64), h+peak/k)

		w := between(40, 90)
		stretch := ask(t, "stretch", map[string]any{"load_kg": m, "length_m": l, "elongation_pct": e, "rope_g_per_m": w})
		same("EA", stretch("EA_kN"), ea/1000)
		same("stretch", stretch("stretch_m"), m*g*l/ea+w/1000*g*l*l/(2*ea))

		x := l * between(-1, 1)
		swing := ask(t, "swing", map[string]any{"rope_length_m": l, "offset_m": x})
		theta := math.Asin(math.Abs(x) / l)
		same("swing", swing("speed_m_s"), math.Sqrt(4*g*l)*math.Sin(theta/2))
		same("equal drop", swing("equal_drop_m"), 2*l*math.Pow(math.Sin(theta/2), 2))

		a, b, phi := between(0.1, 9), between(0.1, 9), between(0, 180)
		redirect := ask(t, "redirect", map[string]any{"t1_kN": a, "t2_kN": b, "included_angle_deg": phi})
		same("redirect", redirect("resultant_kN"), math.Sqrt(a*a+b*b+2*a*b*math.Cos(phi*math.Pi/180)))

		base, mu, hanging := between(1, 30), between(0, 0.5), between(0, 100)
		lower := ask(t, "lower", map[string]any{"load_kg": m, "base_ratio": base, "mu": mu, "wraps_deg": []float64{phi, 30}, "hanging_m": hanging, "rope_g_per_m": w})
		ratio := base * math.Exp(mu*(phi+30)*math.Pi/180)
		same("ratio", lower("ratio"), ratio)
		same("hand", lower("hand_kN"), max(0, m*g/ratio-w/1000*g*hanging)/1000)
		same("frees", lower("frees_below_m"), m*g/(ratio*w/1000*g))

		v, c, ha, f := between(0.1, 2), between(0.2, 1)*900, between(0.5, 5), r.Float64()
		heat := ask(t, "heat", map[string]any{"load_kg": m, "height_m": l, "speed_m_s": v, "device_g": c / 900 * 1000, "specific_heat_J_kgK": 900, "cooling_W_K": ha,
			"heat_share": f, "ambient_C": 15, "limit_C": 1e6})
		same("heat", heat("end_C"), 15+f*m*g*v/ha*(1-math.Exp(-ha*l/v/c)))

		haul := ask(t, "haul", map[string]any{"load_kg": m, "system": "5:1", "efficiency": s/2 + 0.5, "travel_m": 2, "raise_m": l})
		eff := s/2 + 0.5
		same("5:1", haul("actual_ratio"), 1+eff+eff*eff+eff*eff*eff+eff*eff*eff*eff)
		same("strokes", haul("strokes"), math.Ceil(l/2-1e-9))
		same("rope through the hands", haul("rope_through_hands_m"), 5*l)
		same("jammed ceiling", haul("jammed_ceiling_kN"), haul("haulers_needed")*0.4*5)
	}
}
