package calc

import (
	"encoding/json"
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/strict"
)

// inputs are one of each figure that is taken.
var inputs = map[string]string{
	"anchor":   `{"load_kN":1.5,"legs":[{"id":"a","x":-1,"y":1,"elongation_pct":3},{"id":"b","x":0.5,"y":1,"elongation_pct":null}]}`,
	"redirect": `{"t1_kN":1,"t2_kN":1,"included_angle_deg":120}`,
	"haul":     `{"load_kg":180,"system":"3:1","pulleys":{"A":{"efficiency":0.9}},"efficiency":0.8,"travel_m":{"G":2},"raise_m":5}`,
	"lower":    `{"load_kg":180,"base_ratio":10,"wraps_deg":[180],"rope_g_per_m":70}`,
	"heat":     `{"load_kg":100,"height_m":80,"speed_m_s":1,"device_g":500,"specific_heat_J_kgK":900,"cooling_W_K":2,"heat_share":0.5,"ambient_C":20,"limit_C":60}`,
	"stretch":  `{"load_kg":100,"length_m":50,"elongation_pct":3,"rope_g_per_m":70}`,
	"fall":     `{"mass_kg":100,"lanyard_m":0.6,"device_above_attachment_m":-0.2,"rope_length_m":20,"elongation_pct":3,"absorber":null,"clearance_m":null}`,
	"share":    `{"mass_kg":180,"rope_length_m":40,"elongation_pct":3,"share":0.5}`,
	"wind":     `{"above_m":40,"tail_m":30,"diameter_mm":10.5,"rope_g_per_m":70,"wind_m_s":6}`,
	"swing":    `{"rope_length_m":20,"offset_m":-4}`,
	"rope":     `{"drop_m":90,"diameter_mm":10.5,"items":[{"kind":"end-loop","count":1},{"kind":"edge","count":2,"m":0.4}],"reserve_m":2,"stretch_m":1}`,
}

func run(t testing.TB, name, in string) map[string]any {
	t.Helper()
	answer, err := Find(name).Run([]byte(in))
	if err != nil {
		t.Fatalf("%s %s: %v", name, in, err)
	}
	text, err := json.Marshal(answer)
	if err != nil {
		t.Fatal(err)
	}
	var out map[string]any
	if err := json.Unmarshal(text, &out); err != nil {
		t.Fatalf("%v: %s", err, text)
	}
	return out
}

func with(in, more string) string { return strings.TrimSuffix(in, "}") + "," + more + "}" }

// The fields of each answer are those of its contract, no more and no less; with
// working, each working says it all.
func TestContracts(t *testing.T) {
	fields := map[string]string{
		"anchor": "legs lost widest_angle_deg", "redirect": "resultant_kN",
		"haul":  "actual_ratio anchor_kN grabs_kN hand_kN haulers_needed held ideal_ratio jammed_ceiling_kN jammed_kN pulleys_kN rope_through_hands_m segments strokes",
		"lower": "brake_kN frees_below_m hand_kN ratio runs_by_itself within_grip", "heat": "end_C fastest_m_s", "stretch": "EA_kN stretch_m",
		"fall":  "absorber_m absorber_used_up clear clearance_needed_m fall_before_arrest_m fall_factor free_fall_m likely_kN peak_kN stretch_m",
		"share": "shared slack", "wind": "bow_m limit_wind_m_s slack_m", "swing": "angle_deg equal_drop_m speed_m_s", "rope": "length_needed_m parts",
	}
	if len(All) != len(fields) {
		t.Errorf("%d figures, want %d", len(All), len(fields))
	}
	keys := func(m map[string]any) string {
		var list []string
		for k := range m {
			list = append(list, k)
		}
		slices.Sort(list)
		return strings.Join(list, " ")
	}
	for name, want := range fields {
		if got := keys(run(t, name, inputs[name])); got != want {
			t.Errorf("%s: %s\nwant %s", name, got, want)
		}
		workings := run(t, name, with(inputs[name], `"working":true`))["working"].([]any)
		if len(workings) == 0 {
			t.Errorf("%s: no working", name)
		}
		for _, w := range workings {
			for _, key := range []string{"name", "formula", "errs"} {
				if w.(map[string]any)[key] == "" {
					t.Errorf("%s: working without %s: %v", name, key, w)
				}
			}
		}
	}
}

// What is left out has the default of the contract.
func TestDefaults(t *testing.T) {
	for name, more := range map[string]string{
		"anchor": `"direction":{"x":0,"y":-1,"z":0}`, "lower": `"mu":0.25,"hanging_m":0,"grip_kN":0.1`,
		"haul":  `"hauler_kN":0.2,"hauler_peak_kN":0.4,"haulers":4,"reset_loss_m":0`,
		"fall":  `"slack_m":0,"lock_distance_m":0,"lock_speed_m_s":0,"damping_ratio":0.1,"feet_m":1.3,"margin_m":1`,
		"share": `"slack_m":0`, "wind": `"device_drag_N":0,"parked":false,"slack_limit_m":0.5`,
	} {
		short, _ := json.Marshal(run(t, name, inputs[name]))
		long, _ := json.Marshal(run(t, name, with(inputs[name], more)))
		if string(short) != string(long) {
			t.Errorf("%s: %s\nwith defaults told: %s", name, short, long)
		}
	}
}

func TestRefuses(t *testing.T) {
	for _, c := range []struct{ name, from, to, pointer, says string }{
		{"fall", `"lanyard_m":0.6,`, ``, "/lanyard_m", "missing"},
		{"fall", `"lanyard_m":0.6`, `"lanyard_ft":2`, "/lanyard_ft", "given as lanyard_m"},
		{"fall", `"lanyard_m":0.6`, `"lanyard_m":0`, "/lanyard_m", "more than 0"},
		{"fall", `"lanyard_m":0.6`, `"lanyard_m":null`, "/lanyard_m", "must be a plain number"},
		{"fall", `"lanyard_m":0.6`, `"lanyard_m":"0.6"`, "/lanyard_m", "not text"},
		{"fall", `"lanyard_m":0.6`, `"lanyard_m":1e9`, "/lanyard_m", "too large"},
		{"fall", `"lanyard_m":0.6`, `"lanyard_m":NaN`, "/lanyard_m", "not a figure"},
		{"fall", `"absorber":null`, `"damping_ratio":0.51`, "/damping_ratio", "0.5 or less"},
		{"fall", `"absorber":null`, `"absorber":{"force_kN":4}`, "/absorber/max_m", "missing"},
		{"fall", `"absorber":null`, `"absorber":3`, "/absorber", "must be an object"},
		{"share", `"share":0.5`, `"share":1.1`, "/share", "1 or less"},
		{"share", `"share":0.5`, `"share":0.5,"damping_ratio":0.1`, "/damping_ratio", "unknown field"},
		{"swing", `"offset_m":-4`, `"offset_m":-20.1`, "/offset_m", "not be more than"},
		{"swing", `"offset_m":-4`, `"offset_m":4,"course":true`, "/course", "unknown field"},
		{"lower", `[180]`, `[180,181]`, "/wraps_deg/1", "180 or less"},
		{"lower", `"base_ratio":10`, `"base_ratio":0.9`, "/base_ratio", "1 or more"},
		{"heat", `"limit_C":60`, `"limit_C":20`, "/limit_C", "above ambient_C"},
		{"haul", `"efficiency":0.8`, `"efficiency":1.01`, "/efficiency", "1 or less"},
		{"haul", `{"G":2}`, `{"G":0}`, "/travel_m/G", "more than 0"},
		{"haul", `{"G":2}`, `-1`, "/travel_m", "more than 0"},
		{"haul", `{"G":2}`, `"2"`, "/travel_m", "must be an object"},
		{"rope", `"count":1`, `"count":1.5`, "/items/0/count", "whole number"},
		{"rope", `"end-loop"`, `"bow"`, "/items/0/kind", "not one of"},
		{"lower", `"base_ratio":10`, `"base_ratio":10,"mu":1e8`, "", "too far apart"},
		{"stretch", `{"load_kg":100`, `{"load_kg":100,"load_kg":100`, "/load_kg", "twice"},
		{"stretch", `"length_m":50`, `"length_m":50,"samples":9`, "/samples", "10 or more"},
		{"stretch", `"length_m":50`, `"length_m":50,"spread":{"load":{"plus_minus":1}}`, "/spread/load", "no field"},
		{"stretch", `"length_m":50`, `"length_m":50,"spread":{"load_kg":{"low":90}}`, "/spread/load_kg", "give either"},
		{"stretch", `"length_m":50`, `"length_m":50,"spread":{"load_kg":{"low":90,"high":80}}`, "/spread/load_kg", "low must be below"},
		{"stretch", `"length_m":50`, `"length_m":50,"spread":{"load_kg":{"plus_minus":100}}`, "/spread/load_kg", "reaches beyond"},
		{"stretch", `"length_m":50`, `"length_m":50,"spread":{"load_kg":{"mean":-500,"sd":1}}`, "/spread/load_kg", "hardly any draw"},
		{"swing", `"offset_m":-4`, `"offset_m":-4,"spread":{"offset_m":{"low":10,"high":30}}`, "/spread/offset_m", "a sample is refused"},
		{"fall", `"absorber":null`, `"spread":{"absorber.force_kN":{"plus_minus":1}}`, "/spread/absorber.force_kN", "is not given"},
		{"rope", `"reserve_m":2`, `"reserve_m":2,"spread":{"items.0.count":{"plus_minus":1}}`, "/spread/items.0.count", "whole number"},
	} {
		in := strings.Replace(inputs[c.name], c.from, c.to, 1)
		_, err := Find(c.name).Run([]byte(in))
		var refused *strict.Error
		if !errors.As(err, &refused) || !slices.ContainsFunc(refused.Faults, func(f strict.Fault) bool { return f.Pointer == c.pointer && strings.Contains(f.Detail, c.says) }) {
			t.Errorf("%s %s: got %v, want %s: …%s…", c.name, c.to, err, c.pointer, c.says)
		}
	}
}

// Bands of figures that are known in closed form: stretch is linear in the load.
func TestSpread(t *testing.T) {
	const in = `{"load_kg":100,"length_m":50,"elongation_pct":3,"rope_g_per_m":0,"spread":{"load_kg":{"plus_minus":10},"elongation_pct":{"low":2.9,"high":3.1}},"seed":7}`
	out := run(t, "stretch", strings.Replace(in, `,"elongation_pct":{"low":2.9,"high":3.1}`, "", 1))
	band := out["band"].(map[string]any)["stretch_m"].(map[string]any)
	for p, load := range map[string]float64{"p5": 91, "p50": 100, "p95": 109} {
		if want := load * 50 * 0.03 / 100; math.Abs(band[p].(float64)-want) > 0.005*want {
			t.Errorf("%s: %v, want %v", p, band[p], want)
		}
	}
	both := run(t, "stretch", in)
	drivers := both["drivers"].(map[string]any)["stretch_m"].([]any)
	first := drivers[0].(map[string]any)
	// Variances are as (0.1 : 0.0333)² = 9 : 1.
	if first["field"] != "load_kg" || math.Abs(first["share"].(float64)-0.9) > 0.02 {
		t.Errorf("drivers %v", drivers)
	}
	if ea := both["drivers"].(map[string]any)["EA_kN"].([]any)[0].(map[string]any); ea["field"] != "elongation_pct" || ea["share"].(float64) < 0.999 {
		t.Errorf("drivers of EA: %v", ea)
	}
	again, _ := json.Marshal(run(t, "stretch", in))
	if first, _ := json.Marshal(both); string(first) != string(again) {
		t.Error("the same seed gave other samples")
	}
	if other, _ := json.Marshal(run(t, "stretch", strings.Replace(in, `"seed":7`, `"seed":8`, 1))); string(other) == string(again) {
		t.Error("another seed gave the same samples")
	}
	normal := run(t, "swing", `{"rope_length_m":20,"offset_m":4,"spread":{"rope_length_m":{"mean":20,"sd":1}},"samples":2000}`)
	angle := normal["band"].(map[string]any)["angle_deg"].(map[string]any)
	if want := math.Asin(4/(20-1.645)) * 180 / math.Pi; math.Abs(angle["p95"].(float64)-want) > 0.02*want {
		t.Errorf("normal spread: %v, want %v", angle, want)
	}
	// Inputs within others, and outputs that have no figure in some samples.
	haul := run(t, "haul", with(inputs["haul"], `"spread":{"pulleys.A.efficiency":{"low":0.8,"high":1},"travel_m.G":{"plus_minus":0.5}},"samples":100`))
	if b := haul["band"].(map[string]any); b["pulleys_kN.A"] == nil || b["segments.0.tension_kN"] == nil || b["segments.0.index"] != nil {
		t.Errorf("bands of a haul: %v", b)
	}
	heat := run(t, "heat", with(inputs["heat"], `"spread":{"limit_C":{"low":30,"high":200}},"samples":100`))
	if b := heat["band"].(map[string]any)["fastest_m_s"].(map[string]any); b["p5"] == nil || b["p95"] != nil {
		t.Errorf("a speed without bound: %v", b)
	}
	for name, in := range inputs {
		field := strings.Split(in, `"`)[1]
		if name == "redirect" || name == "fall" || name == "share" || name == "wind" {
			out := run(t, name, with(in, `"spread":{"`+field+`":{"plus_minus":0.1}},"samples":50`))
			for key, b := range out["band"].(map[string]any) {
				b := b.(map[string]any)
				if b["p5"] != nil && !(b["p5"].(float64) <= b["p50"].(float64)) || b["p95"] != nil && !(b["p50"].(float64) <= b["p95"].(float64)) {
					t.Errorf("%s %s: %v", name, key, b)
				}
			}
		}
	}
}

// FuzzCalc: any input to any figure is refused with a reason or answered in JSON.
func FuzzCalc(f *testing.F) {
	for name, in := range inputs {
		f.Add(name, []byte(in))
	}
	f.Add("fall", []byte(with(inputs["fall"], `"course":true,"working":true,"samples":10,"spread":{"mass_kg":{"mean":90,"sd":9}}`)))
	f.Add("haul", []byte(`{"load_kg":1,"reeving":[{"rope":"r","path":["hand","grab:G","pulley:A@grab:G","load"]}],"efficiency":1,"raise_m":1}`))
	f.Fuzz(func(t *testing.T, name string, data []byte) {
		c := Find(name)
		// Many samples take their time and find nothing more.
		if c == nil || strings.Contains(string(data), `"samples":`) && !strings.Contains(string(data), `"samples":10,`) || strings.Contains(string(data), `"spread"`) && !strings.Contains(string(data), `"samples":10,`) {
			return
		}
		answer, err := c.Run(data)
		var refused *strict.Error
		if err != nil {
			if !errors.As(err, &refused) || len(refused.Faults) == 0 || refused.Faults[0].Detail == "" {
				t.Fatalf("refused without a reason: %v", err)
			}
			return
		}
		if _, err := json.Marshal(answer); err != nil {
			t.Fatalf("a figure that is not finite: %v", err)
		}
	})
}

func BenchmarkSpread(b *testing.B) {
	in := []byte(`{"mass_kg":100,"lanyard_m":0.6,"device_above_attachment_m":-0.2,"rope_length_m":20,"elongation_pct":3,"absorber":{"force_kN":2,"max_m":1},
		"spread":{"mass_kg":{"plus_minus":10},"rope_length_m":{"low":15,"high":30},"elongation_pct":{"mean":3,"sd":0.3}},"samples":10000}`)
	for b.Loop() {
		if _, err := Find("fall").Run(in); err != nil {
			b.Fatal(err)
		}
	}
}
