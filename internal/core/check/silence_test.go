package check_test

import (
	"encoding/json"
	"maps"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/demo"
)

// mayBeSilent are the fields of a drop that may be left out of every demo drop without a word of a
// check, by why.
var mayBeSilent = map[string]string{
	"a word or a picture": `note site items/place strands/marks/name people/familiar/by rescue/phones
		models/cautions models/device/looks models/device/looks/anchor_sign models/device/looks/second_post`,
	"its contract says what leaving it out means: no limit, nothing needed, the team's interval": `models/examination_months
		models/life/from_first_use_years models/life/from_made_years models/absorber/min_kg models/working_loads models/working_loads/mode
		models/device/modes/needs
		models/device/wear_limits models/device/wear_limits/deepens models/device/opens_if_pushed models/device/teeth@held`,
	"moves, their words and practice ask it, no rule on a rig": `models/backup/parks models/backup/towed_by_cord models/backup/unpark_before_descent
		models/device/control_edge models/device/thumb_release models/device/opens_on_connector models/device/wrong_loading
		models/device/friction/take_in_part models/pulley/cam_holds_open models/pulley/opens_on_connector models/pulley/release_travel_m
		models/device/friction@carried models/device/friction@held
		models/rope/sheath models/winding/free_as_unpacked models/winding/guide people/moves strands/marks/eye strands/marks/sheath_only
		team/run_m team/load/stretcher`,
	"another figure stands in for it, which its contract names": `models/backup/drag_N models/hitch/elongation_pct models/device/friction/bend_deg`,
	"it decides nothing on the demo drops; rules_test has its trials": `anchors/sling geometry/ledges items/first_used_on people/holds/second_kg
		strands/marks/loop_m team/main/knots_m models/device/connectors_in_hole
		models/device/lever_reach_m@team models/device/positions/parked@team models/device/rope_effects@team models/device/rope_effects/park_needs_push@team models/generation@team`,
	"rules ask it of what is on a rope":             `models/device/lever_reach_m@carried models/device/positions/parked@carried models/device/rope_effects/park_needs_push@carried`,
	"the cover of a rescue has a reader of its own": `rescue rescue/rescuers/practised_on`,
}

// paths are those of all fields of written JSON; what stands in a list counts as one.
func paths(v any, at string, into map[string]bool) {
	switch v := v.(type) {
	case map[string]any:
		for k, of := range v {
			into[at+k] = true
			paths(of, at+k+"/", into)
		}
	case []any:
		for _, of := range v {
			paths(of, at, into)
		}
	}
}

// leftOut removes a field wherever it is.
func leftOut(v any, path string) {
	switch v := v.(type) {
	case map[string]any:
		name, more, deeper := strings.Cut(path, "/")
		if deeper {
			leftOut(v[name], more)
		} else {
			delete(v, name)
		}
	case []any:
		for _, of := range v {
			leftOut(of, path)
		}
	}
}

// uses are how a drop uses its models: on strands and in holds, by what is carried, by the team.
func uses(d *drop.Document) map[string][]string {
	of, model := map[string][]string{}, map[string]string{}
	for i := range d.Items {
		model[d.Items[i].ID] = d.Items[i].Model
	}
	add := func(use string, items ...string) {
		for _, id := range items {
			if m := model[id]; m != "" && !slices.Contains(of[m], use) {
				of[m] = append(of[m], use)
			}
		}
	}
	for i := range d.Strands {
		for _, r := range d.Strands[i].Ropes {
			add("held", r)
		}
	}
	for i := range d.People {
		p := &d.People[i]
		add("held", p.Harness)
		add("carried", p.Carries...)
		for j := range p.Holds {
			add("held", p.Holds[j].Device)
			for _, l := range p.Holds[j].Links {
				add("held", l.Item)
			}
		}
	}
	if t := d.Team; t != nil {
		add("team", append([]string{t.Main.Brake, t.Main.Connector, t.Belay.Brake, t.Belay.Connector}, t.Kit...)...)
	}
	return of
}

// said is all that a check says; ok is false for a document that is refused.
func said(t *testing.T, text []byte) (words string, ok bool) {
	d, err := drop.Read(text)
	if err != nil {
		return "", false
	}
	d.Rescue = nil // its cover has a reader of its own
	r, err := check.Drop(t.Context(), d, nil, check.FindingsOnly)
	if err != nil {
		return "", false
	}
	out, err := json.Marshal([]any{r.Findings, r.NotLookedAt})
	if err != nil {
		t.Fatal(err)
	}
	return string(out), true
}

// A field that is left out is refused, found, or said not to be looked at; what may go without
// a word is listed with why.
func TestSilence(t *testing.T) {
	heard, every := map[string]bool{}, map[string]bool{}
	for _, d := range demo.Drops() {
		text, err := json.Marshal(d)
		if err != nil {
			t.Fatal(err)
		}
		var v any
		if err := json.Unmarshal(text, &v); err != nil {
			t.Fatal(err)
		}
		mine := map[string]bool{}
		paths(v, "", mine)
		before, ok := said(t, text)
		if !ok {
			t.Fatal(d.Name)
		}
		for path := range mine {
			every[path] = true
			var w any
			if err := json.Unmarshal(text, &w); err != nil {
				t.Fatal(err)
			}
			leftOut(w, path)
			less, err := json.Marshal(w)
			if err != nil {
				t.Fatal(err)
			}
			if _, err := drop.Read(less); err != nil || heard[path] { // whatever is left out, it is read or refused
				heard[path] = true
				continue
			}
			after, ok := said(t, less)
			heard[path] = !ok || after != before
		}
		// What one model leaves out is silent of that model, whatever others say.
		for at, uses := range uses(d) {
			i := slices.IndexFunc(d.Models, func(m gear.Model) bool { return m.ID == at })
			fields := map[string]bool{}
			paths(v.(map[string]any)["models"].([]any)[i], "", fields)
			for path := range fields {
				var w any
				if err := json.Unmarshal(text, &w); err != nil {
					t.Fatal(err)
				}
				leftOut(w.(map[string]any)["models"].([]any)[i], path)
				less, err := json.Marshal(w)
				if err != nil {
					t.Fatal(err)
				}
				after, ok := said(t, less)
				for _, use := range uses {
					key := "models/" + path + "@" + use
					every[key] = true
					heard[key] = heard[key] || !ok || after != before
				}
			}
		}
	}
	why := map[string]string{}
	for reason, list := range mayBeSilent {
		for _, path := range strings.Fields(list) {
			if why[path] = reason; !every[path] {
				t.Errorf("%s is listed, and no demo drop has it", path)
			}
		}
	}
	for _, path := range slices.Sorted(maps.Keys(every)) {
		whole, _, ofUse := strings.Cut(path, "@")
		if ofUse && why[whole] != "" {
			continue // where nothing is said of it at all
		}
		if heard[path] == (why[path] != "") {
			t.Errorf("%s: heard %v, listed as silent since %q", path, heard[path], why[path])
		}
	}
}
