package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/day"
	"zealousknot/internal/core/drill"
	"zealousknot/internal/demo"
	"zealousknot/internal/web"
)

func command(t *testing.T, in string, args ...string) (code int, out, errs string) {
	t.Helper()
	var o, e bytes.Buffer
	code = run(context.Background(), args, streams{strings.NewReader(in), &o, &e})
	return code, o.String(), e.String()
}

func asText(t *testing.T, v any) string {
	t.Helper()
	b, err := json.Marshal(v)
	if err != nil {
		t.Fatal(err)
	}
	return string(b)
}

func document(t *testing.T, id string) string {
	t.Helper()
	b, err := json.Marshal(demo.Drops()[id])
	if err != nil {
		t.Fatal(err)
	}
	return string(b)
}

func TestCheck(t *testing.T) {
	file := filepath.Join(t.TempDir(), "drop.json")
	if err := os.WriteFile(file, []byte(document(t, "gate-shaft")), 0o600); err != nil {
		t.Fatal(err)
	}
	code, out, errs := command(t, "", "check", file)
	if code != 0 || errs != "" || !strings.Contains(out, "Nothing found in what was looked at") || !strings.Contains(out, "Not looked at:") {
		t.Errorf("%d %s %s", code, out, errs)
	}
	code, out, errs = command(t, document(t, "face-4"), "check", "-")
	if code != 1 || errs != "" || !strings.Contains(out, "■ stop  rope.diameter  descender 14, Rhea Tolland") || !strings.Contains(out, "11.4 mm") {
		t.Errorf("%d %s %s", code, out, errs)
	}
	code, out, _ = command(t, document(t, "face-4"), "check", "--json", "-")
	var report check.Report
	if err := json.Unmarshal([]byte(out), &report); err != nil || code != 1 || report.Stops != 1 || report.Holds != nil {
		t.Errorf("%d %v %s", code, err, out)
	}
	_, out, _ = command(t, document(t, "face-4"), "check", "--json", "--figures", "-")
	if err := json.Unmarshal([]byte(out), &report); err != nil || len(report.Holds) != 2 || len(report.Holds[0].Figures[0].Working) == 0 {
		t.Errorf("%v %s", err, out)
	}
	for _, words := range []string{"safe", "approved", "OK"} {
		if strings.Contains(out, words) {
			t.Errorf("says %q", words)
		}
	}
}

// One JSON object in and one out; bad input is a problem that names the field, on
// standard error alone.
func TestCalc(t *testing.T) {
	code, out, errs := command(t, `{"t1_kN":3,"t2_kN":4,"included_angle_deg":90}`, "calc", "redirect")
	if code != 0 || errs != "" || !strings.HasPrefix(out, `{"resultant_kN":5`) {
		t.Errorf("%d %s %s", code, out, errs)
	}
	for pointer, in := range map[string]string{"/t1_kN": `{"t1_kN":-3,"t2_kN":4,"included_angle_deg":90}`, "/angle": `{"t1_kN":3,"t2_kN":4,"included_angle_deg":90,"angle":1}`, "": `{`} {
		code, out, errs := command(t, in, "calc", "redirect")
		var p web.Problem
		if err := json.Unmarshal([]byte(errs), &p); err != nil || code != 2 || out != "" || p.Status != 422 || p.Type != "about:blank" || p.Errors[0].Pointer != pointer {
			t.Errorf("%s: %d %q %q", in, code, out, errs)
		}
	}
	if code, out, errs := command(t, `{}`, "calc", "flight"); code != 2 || out != "" || !strings.Contains(errs, "there are anchor, redirect") {
		t.Errorf("%d %q %q", code, out, errs)
	}
}

// A plan that is printed replays clean; one without its first step does not, and the
// step is named. An impossible move and a wrong request are reported.
func TestPlanAndReplay(t *testing.T) {
	dir := t.TempDir()
	file, steps := filepath.Join(dir, "drop.json"), filepath.Join(dir, "plan.json")
	if err := os.WriteFile(file, []byte(document(t, "face-4")), 0o600); err != nil {
		t.Fatal(err)
	}
	code, out, errs := command(t, "", "plan", file, "--move", "rebelay-down", "--json")
	if code != 0 || errs != "" {
		t.Fatal(code, errs)
	}
	if err := os.WriteFile(steps, []byte(out), 0o600); err != nil {
		t.Fatal(err)
	}
	if code, out, errs := command(t, "", "replay", file, steps); code != 0 || errs != "" || !strings.HasPrefix(out, "Nothing found in") {
		t.Errorf("%d %s %s", code, out, errs)
	}
	code, whole, errs := command(t, "", "plan", file, "--move", "rebelay-down", "--whole")
	if code != 0 || errs != "" {
		t.Fatal(code, errs)
	}
	if code, out, errs := command(t, whole, "replay", "-"); code != 0 || errs != "" || !strings.HasPrefix(out, "Nothing found in") {
		t.Errorf("%d %s %s", code, out, errs)
	}
	spoilt := strings.Replace(out, `{"do":"park","item":"descender-14"}`, `{"do":"unpark","item":"descender-14"}`, 1)
	if code, out, _ := command(t, spoilt, "replay", file, "-"); code != 1 || !strings.Contains(out, "step 4  stop  device.mode: descender 14 bears and is not parked") {
		t.Errorf("%d %s", code, out)
	}
	code, out, _ = command(t, "", "plan", file, "--move", "ascend-to-descend")
	if code != 0 || !strings.Contains(out, "Sit onto descender 14") || !strings.Contains(out, "settles 0.1 m") {
		t.Errorf("%d %s", code, out)
	}
	for says, args := range map[string][]string{
		"no move": {"--move", "fly"}, "nothing is in the way": {"--move", "pass-knots-down", "--from", "3"}, "/person": {"--move", "ascend", "--person", "nobody"},
		"not \"luck\" but one of any": {"--move", "ascend", "--school", "knot-cover=luck"}, "no school": {"--move", "ascend", "--school", "luck=good"}, "not on the way": {"--move", "descend", "--to", "80"},
	} {
		if code, out, errs := command(t, "", append([]string{"plan", file}, args...)...); code != 2 || out != "" || !strings.Contains(errs, says) {
			t.Errorf("%v: %d %q %q", args, code, out, errs)
		}
	}
	if code, _, errs := command(t, `{"start":{"at_m":60,"holds":[{"item":"none","strand":"main","span":0,"at_m":60}]},"steps":[]}`, "replay", file, "-"); code != 2 || !strings.Contains(errs, "/start/holds/0/item") {
		t.Errorf("%d %s", code, errs)
	}
}

// A move of a team is found and walked again; what is left out of it is reported.
func TestTeam(t *testing.T) {
	file := filepath.Join(t.TempDir(), "drop.json")
	if err := os.WriteFile(file, []byte(document(t, "basin-wall")), 0o600); err != nil {
		t.Fatal(err)
	}
	code, out, _ := command(t, "", "team", file, "--move", "lower", "--to", "2")
	if code != 0 || !strings.Contains(out, "the knot through") || !strings.Contains(out, "hands off: the main: combined brake 1 stops by itself") {
		t.Errorf("%d %s", code, out)
	}
	steps := `{"steps":[{"do":"lower","at_m":30},{"do":"hand-off","line":"belay"}]}`
	if code, out, _ := command(t, steps, "team", file, "--move", "lower", "--to", "2", "--list", "-"); code != 1 || !strings.Contains(out, "step 2  stop  team.hand") {
		t.Errorf("%d %s", code, out)
	}
	for says, args := range map[string][]string{"/to_m": {"--move", "lower"}, "no move": {"--move", "fly"}} {
		if code, out, errs := command(t, "", append([]string{"team", file}, args...)...); code != 2 || out != "" || !strings.Contains(errs, says) {
			t.Errorf("%v: %d %q %q", args, code, out, errs)
		}
	}
}

// Who is reached is reported with exit 0, who is not with 1; what the rig of a team asks for
// without a move; the file is a drop as it is read everywhere.
func TestRescue(t *testing.T) {
	dir := t.TempDir()
	file, basin := filepath.Join(dir, "face.json"), filepath.Join(dir, "basin.json")
	for path, name := range map[string]string{file: "face-7", basin: "basin-wall"} {
		if err := os.WriteFile(path, []byte(document(t, name)), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	// A drop with nothing on it but a person, and the store that it may be rigged from.
	bare, gear := filepath.Join(dir, "bare.json"), filepath.Join(dir, "gear.json")
	nothing := `{"format":"drop","version":1,"name":"Bare","day":"2026-11-24","policy":{"name":"team"},"geometry":{"top_m":20,"top_name":"top","landing_name":"ground","offset_m":0},
		"people":[{"id":"ivo","name":"Ivo Kestrane","mass_kg":81,"at_m":20,"grounded":true}]}`
	store, err := json.Marshal(demo.Gear())
	if err != nil {
		t.Fatal(err)
	}
	for path, text := range map[string][]byte{bare: []byte(nothing), gear: store} {
		if err := os.WriteFile(path, text, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	for _, c := range []struct {
		code int
		says string
		args []string
	}{
		{1, "uncovered: Ivo Kestrane from 24 m to 24 m", []string{"rescue", file}},
		{0, "until the chain bears", []string{"rescue", file, "--person", "ivo", "--at", "20"}},
		{0, "descender 17 on the main strand at 24.85 m", []string{"rescue", file, "--person", "ivo", "--at", "50"}},
		{1, "need more than the 5 connectors", []string{"rescue", file, "--person", "ivo", "--at", "24"}},
		{0, `"ways":[{"kind":`, []string{"rescue", file, "--person", "rhea", "--at", "30", "--json"}},
		{0, "5:1    0.42 kN  3", []string{"team", basin}},
		{1, "missing, rope.short: the rope of the main strand", []string{"propose", bare}},
		{0, "/strands/1/ropes/0: rope-", []string{"propose", bare, "--store", gear, "--part", "anchors", "--part", "strands"}},
		{0, `"missing": []`, []string{"propose", bare, "--store", gear, "--json"}},
		{0, `"hauls":[`, []string{"team", basin, "--json"}},
	} {
		code, out, errs := command(t, "", c.args...)
		if code != c.code || !strings.Contains(out, c.says) || errs != "" {
			t.Errorf("%v: %d %.300q %q", c.args, code, out, errs)
		}
	}
	for says, args := range map[string][]string{"/drop/rescue": {"rescue", basin}, "/parts/0": {"propose", bare, "--part", "weather"}, "/way": {"rescue", file, "--at", "20", "--way", "40"}} {
		if code, out, errs := command(t, "", args...); code != 2 || out != "" || !strings.Contains(errs, says) {
			t.Errorf("%v: %d %q %q", args, code, out, errs)
		}
	}
}

// A search that is cut off is no "none": exit 3, and the answer says so in words and as
// JSON; how far it may go is refused outside what the API takes.
func TestCutOff(t *testing.T) {
	dir := t.TempDir()
	for _, c := range []struct {
		drop string
		args []string
	}{
		{"face-4", []string{"plan", "--move", "rebelay-down"}}, {"basin-wall", []string{"team", "--move", "lower", "--to", "2"}}, {"face-7", []string{"rescue"}}, {"face-7", []string{"rescue", "--person", "ivo", "--at", "20"}},
	} {
		file := filepath.Join(dir, c.drop)
		text := []byte(document(t, c.drop))
		if len(c.args) == 1 {
			// A drop of which no metre is uncovered for certain.
			first, err := os.ReadFile(filepath.Join("..", "..", "internal", "core", "drop", "testdata", "v1", c.drop+".json"))
			if err != nil {
				t.Fatal(err)
			}
			text = first
		}
		if err := os.WriteFile(file, text, 0o600); err != nil {
			t.Fatal(err)
		}
		ask := func(more ...string) (int, string, string) {
			return command(t, "", slices.Concat(c.args[:1], []string{file}, c.args[1:], more)...)
		}
		if code, out, errs := ask("--max-states", "1"); code != 3 || !strings.Contains(out+errs, "decided") {
			t.Errorf("%v: %d %q %q", c.args, code, out, errs)
		}
		if code, out, _ := ask("--max-states", "1", "--json"); code != 3 || !strings.Contains(out, `undecided`) {
			t.Errorf("%v, as JSON: %d %.300q", c.args, code, out)
		}
		if code, out, _ := ask("--json"); code == 3 || strings.Contains(out, `"outcome":"undecided"`) {
			t.Errorf("%v, as far as it goes: %d %.300q", c.args, code, out)
		}
		for _, n := range []string{"-1", "400001", "many"} {
			if code, out, errs := ask("--max-states=" + n); code != 2 || out != "" || !strings.Contains(errs, "max-states") {
				t.Errorf("%v, %s states: %d %q %q", c.args, n, code, out, errs)
			}
		}
	}
}

// Bad input: exit 2, the field named, nothing on standard output.
func TestBadInput(t *testing.T) {
	good := document(t, "face-4")
	for says, in := range map[string]string{
		"/geometry/top_ft: wrong unit: this figure is given as top_m": strings.Replace(good, `"top_m":96`, `"top_ft":315`, 1),
		"/day: \"tomorrow\" is not a date":                            strings.Replace(good, `"day":"2026-11-24"`, `"day":"tomorrow"`, 1),
		"/people/0/holds/0/mode: \"x\" is not a mode":                 strings.Replace(good, `"mode":"two persons"`, `"mode":"x"`, 1),
		"/name: given twice":                                          strings.Replace(good, `{"format"`, `{"name":"a","format"`, 1),
		"too large":                                                   strings.Repeat("x", 5<<20),
		"ends too early":                                              "",
	} {
		if code, out, errs := command(t, in, "check", "-"); code != 2 || out != "" || !strings.Contains(errs, says) {
			t.Errorf("got %d %q %.300q, want %q", code, out, errs, says)
		}
	}
	for _, args := range [][]string{{"check", "/no/such/file"}, {"check"}, {"fly"}, {"check", "-", "--colour"}, {"serve", "--database-url="}, {"serve", "--database-url=", "--trusted-proxy=junk"}} {
		if code, out, errs := command(t, "", args...); code != 2 && code != 1 || out != "" || errs == "" {
			t.Errorf("%v: %d %q %q", args, code, out, errs)
		}
	}
	if code, out, _ := command(t, "", "version"); code != 0 || !strings.HasPrefix(out, "zealousknot ") {
		t.Errorf("%d %s", code, out)
	}
}

// What a question would leave out of its answer is refused: exit 2, with its name, and nothing on
// standard output.
func TestLeftOut(t *testing.T) {
	at := func(name string) string { return filepath.Join(t.TempDir(), name) }
	wall, face := at("wall.json"), at("face.json")
	list, none := at("list.json"), at("none.json")
	_, plan, _ := command(t, document(t, "basin-wall"), "team", "-", "--move", "edge", "--json")
	for file, text := range map[string]string{wall: document(t, "basin-wall"), face: document(t, "face-7"), list: plan, none: `{"steps":[]}`} {
		if err := os.WriteFile(file, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	for _, c := range []struct{ says, args string }{
		{"--list: give --move", "team " + wall + " --list " + list},
		{"--to: give --move", "team " + wall + " --to 20"},
		{"--from: give --move", "team " + wall + " --from 20"},
		{"--ratio: give --move", "team " + wall + " --ratio 3"},
		{"--ratio: 4 is not one of", "team " + wall + " --move raise --from 10 --to 20 --ratio 4"},
		{"--person: give --at", "rescue " + face + " --person ivo"},
		{"--way: give --at", "rescue " + face + " --way 2"},
		{"--way: 0 is not", "rescue " + face + " --at 20 --way 0"},
		{"/way: there is no such way", "rescue " + face + " --at 20 --way 60"},
		{"/person: there is nobody", "rescue " + face + " --at 20 --person nobody"},
		{"/at_m: 73 m is above all of the drop, which ends at 72.8 m", "rescue " + face + " --at 73"},
		{"/to_m: 72.46 m is higher than anybody hangs here: below the anchors there is room for a backup up to 72.45 m", "plan " + face + " --move ascend --to 72.46"},
		{"/to_m: short-work ends where it begins", "plan " + face + " --move short-work --to 20"},
		{"/to_set: belongs to a transfer", "plan " + face + " --move descend --to-set 2"},
		{"/from_m: 200 m is above the anchors", "team " + wall + " --move walk-away --from 200"},
		{"/to_m: 500 m is above the anchors", "team " + wall + " --move raise --from 20 --to 500"},
		{"/to_m: -0.1 m is below the landing", "plan " + face + " --move descend --to=-0.1"},
		{"/from_m: 72.9 m is above the anchors, at 72.8 m", "plan " + face + " --move descend --from 72.9"},
	} {
		if code, out, errs := command(t, "", strings.Fields(c.args)...); code != 2 || out != "" || !strings.Contains(errs, c.says) {
			t.Errorf("%s: %d %.200q %.300q", c.args, code, out, errs)
		}
	}
	// A list of no steps does not come to where the move ends; the landing is come down to.
	for args, want := range map[string]int{
		"team " + wall + " --move edge --list " + none: 1, "team " + wall + " --move edge --list " + list: 0, "plan " + face + " --move descend --from 20 --to 0": 0,
	} {
		if code, _, errs := command(t, "", strings.Fields(args)...); code != want {
			t.Errorf("%s: %d %.300q", args, code, errs)
		}
	}
}

// An exercise is the same with the same seed; the engine's own answer has full marks, another
// has not, and what is no exercise, or no answer, is refused.
func TestDrill(t *testing.T) {
	dir := t.TempDir()
	file := func(name, text string) string {
		path := filepath.Join(dir, name)
		if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
		return path
	}
	made := func(args ...string) (string, *drill.Exercise) {
		t.Helper()
		code, out, errs := command(t, document(t, "gate-shaft"), append([]string{"drill", "make"}, args...)...)
		e := new(drill.Exercise)
		if code != 0 || json.Unmarshal([]byte(out), e) != nil {
			t.Fatalf("%v: %d %s", args, code, errs)
		}
		return out, e
	}
	for _, kind := range []string{"faults", "fails", "move", "apart"} {
		plain, e := made("--kind", kind, "--seed", "3", "--level", "2")
		again, _ := made("--kind", kind, "--seed", "3", "--level", "2")
		if plain != again || e.Answers != nil {
			t.Errorf("%s is another the second time, or says its answers", kind)
		}
		_, with := made("--kind", kind, "--seed", "3", "--level", "2", "--answers")
		answer := map[string]any{"option": with.Answers.Option}
		switch {
		case kind == "faults":
			named := []any{}
			for _, f := range with.Answers.Faults {
				named = append(named, map[string]any{"rule": f.Rule, "subject": f.Subject})
			}
			answer = map[string]any{"faults": named}
		case with.Answers.Team != nil:
			answer = map[string]any{"steps": with.Answers.Team}
		}
		text := asText(t, answer)
		if with.Answers.Steps != nil {
			text = asText(t, with.Answers.Steps)
		}
		exercise := file(kind+".json", plain)
		if code, out, errs := command(t, text, "drill", "mark", exercise, "-"); code != 0 || !strings.Contains(out, `"score": 1`) {
			t.Errorf("%s: the engine's own answer gets %d %s %s", kind, code, out, errs)
		}
		if kind != "faults" {
			if code, _, errs := command(t, asText(t, with.Answers), "drill", "mark", exercise, "-"); code != 0 {
				t.Errorf("%s: the answers as they are printed get %d %s", kind, code, errs)
			}
		}
		if kind != "faults" {
			if code, _, errs := command(t, asText(t, with.Answers), "drill", "mark", exercise, "-"); code != 0 {
				t.Errorf("%s: the answers as they are printed get %d %s", kind, code, errs)
			}
		}
		wrong := map[string]string{"faults": `{"faults":[{"rule":"body.ground","subject":{"id":"x"}}]}`, "move": `{"steps":[]}`}[kind]
		if kind == "move" && with.Answers.Steps != nil {
			list := *with.Answers.Steps
			list.Steps = list.Steps[:1]
			wrong = asText(t, list)
		}
		if wrong == "" {
			wrong = `{"option":"` + map[bool]string{true: "b", false: "a"}[with.Answers.Option == "a"] + `"}`
		}
		if code, out, _ := command(t, wrong, "drill", "mark", exercise, "-"); code != 1 || strings.Contains(out, `"score": 1,`) {
			t.Errorf("%s: a wrong answer gets %d %s", kind, code, out)
		}
		if code, out, errs := command(t, `{"option":7}`, "drill", "mark", exercise, "-"); code != 2 || out != "" || errs == "" {
			t.Errorf("%s: no answer gets %d %s", kind, code, out)
		}
	}
	own, e := made("--kind", "move", "--drop", "-", "--move", "pass-knots-down")
	if e.Question.Move != "pass-knots-down" || e.Drop.Name != "Gate shaft" || strings.Contains(own, `"answers"`) {
		t.Errorf("on a drop: %+v", e.Question)
	}
	for _, args := range [][]string{
		{"drill", "make"}, {"drill", "make", "--kind", "sing"}, {"drill", "make", "--kind", "apart", "--level", "5"}, {"drill", "make", "--kind", "apart", "--seed=-1"},
		{"drill", "make", "--kind", "move", "--move", "fly"}, {"drill", "make", "--kind", "faults", "--drop", "/no/such/file"}, {"drill", "mark", "-", "-"},
		{"drill", "mark", file("none.json", `{"format":"drop"}`), "-"},
	} {
		if code, out, errs := command(t, `{"option":"a"}`, args...); code != 2 && code != 1 || out != "" || errs == "" {
			t.Errorf("%v: %d %q %q", args, code, out, errs)
		}
	}
}

// full takes so many bytes and then no more, as a disk that is full.
type full struct{ left int }

func (f *full) Write(text []byte) (int, error) {
	if f.left -= len(text); f.left < 0 {
		return 0, errors.New("no space is left")
	}
	return len(text), nil
}

// What could be printed in part only ends with an error, never as if it were whole.
func TestPrintedInPart(t *testing.T) {
	for _, args := range [][]string{
		{"check", "-"}, {"check", "--json", "-"}, {"plan", "--move", "descend", "-"}, {"plan", "--move", "descend", "--json", "-"}, {"rescue", "-"}, {"schools"},
	} {
		_, whole, _ := command(t, document(t, "face-7"), args...)
		for _, room := range []int{0, len(whole) / 2, len(whole) - 1, len(whole)} {
			var e bytes.Buffer
			code := run(t.Context(), args, streams{strings.NewReader(document(t, "face-7")), &full{room}, &e})
			if (code == exitUnanswered) != (room < len(whole)) || (room < len(whole)) != strings.Contains(e.String(), "not whole") {
				t.Errorf("%v with room for %d of %d bytes: exit %d %s", args, room, len(whole), code, &e)
			}
		}
	}
}

// A board is judged and filled by the command as by the server: exit 1 while a stop stands, 2
// for what cannot be read, with its field.
func TestDayCommand(t *testing.T) {
	a := day.Asked{Board: *demo.Board(), People: demo.People(), Store: demo.Gear()}
	for _, id := range slices.Sorted(maps.Keys(demo.Drops())) {
		a.Drops = append(a.Drops, day.DropOf{ID: id, Document: *demo.Drops()[id]})
	}
	text, err := json.Marshal(a)
	if err != nil {
		t.Fatal(err)
	}
	if code, out, _ := command(t, string(text), "day", "-"); code != 1 || !strings.Contains(out, "stop day.twice: Dov Pellister stands by at Face 7 and is on rope at Crown gallery") {
		t.Errorf("%d %s", code, out)
	}
	if code, out, _ := command(t, string(text), "day", "--fill", "-"); code != 1 || strings.Contains(out, "day.twice") || !strings.Contains(out, "item: connector 46 at Spillway lip in place of connector 44") {
		t.Errorf("%d %s", code, out)
	}
	if code, out, _ := command(t, string(text), "day", "--cover", "--json", "-"); code != 1 || !strings.Contains(out, `"day.cover"`) {
		t.Errorf("%d %.300s", code, out)
	}
	a.Board.Slots, a.Drops = a.Board.Slots[:1], nil
	text, _ = json.Marshal(a)
	if code, out, errs := command(t, string(text), "day", "-"); code != 2 || out != "" || !strings.Contains(errs, "/board/slots/0/drop") {
		t.Errorf("%d %q %q", code, out, errs)
	}
}
