package ask_test

import (
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/team"
	"zealousknot/internal/demo"
)

// Each action of a table has one row, with its words and its time, and is known to the
// engine that does it; no other is.
func TestActions(t *testing.T) {
	face, err := site.Open(demo.Drops()["face-7"])
	if err != nil {
		t.Fatal(err)
	}
	sc, _, err := moves.Scene(face, "ivo", school.Schools{})
	if err != nil {
		t.Fatal(err)
	}
	wall, err := site.Open(demo.Drops()["basin-wall"])
	if err != nil {
		t.Fatal(err)
	}
	pl, err := cover.Open(t.Context(), face, cover.Options{})
	if err != nil {
		t.Fatal(err)
	}
	at := quantity.Metres(20)
	ways := pl.Ways("ivo", at)
	two, start, err := pl.Scene(&ways[slices.IndexFunc(ways, func(w cover.Way) bool { return w.Works && w.Rescuer != "" })], "ivo", at)
	if err != nil {
		t.Fatal(err)
	}
	anchors := team.On(wall)
	for name, of := range map[string]struct {
		rows manoeuvre.Table
		do   func(do string) error
	}{
		"person": {manoeuvre.Person, func(do string) error {
			_, _, err := sc.Apply(stance.Stance{Bears: stance.NoTool}, stance.Action{Do: stance.Do(do)})
			return err
		}},
		"team": {manoeuvre.Team, func(do string) error {
			_, _, err := anchors.Apply(team.State{}, team.Action{Do: team.Do(do), Line: "main"})
			return err
		}},
		"rescue": {manoeuvre.Rescue, func(do string) error {
			_, _, err := two.Apply(start, pair.Action{Do: pair.Do(do)})
			return err
		}},
	} {
		known := func(do string) bool {
			err := of.do(do)
			return err == nil || !strings.Contains(err.Error(), "there is no action")
		}
		if known("dance") {
			t.Errorf("%s: anything is known", name)
		}
		seen := map[string]bool{}
		for _, a := range of.rows {
			if seen[a.Do] || a.Title == "" || a.Seconds <= 0 || (a.Call == "") != (a.Answer == "") || (name == "person") != (a.Label != "") {
				t.Errorf("%s: %+v", name, a)
			}
			seen[a.Do] = true
			if !known(a.Do) {
				t.Errorf("%s: %s is not known to its engine", name, a.Do)
			}
		}
	}
}

// Each move that is planned has a row with its words, and every row but those of rescues is
// planned. A mark is passed by one move each way.
func TestMoves(t *testing.T) {
	planned := map[string]bool{}
	for _, m := range ask.Moves() {
		planned[m.Name] = true
		if m.Does == "" {
			t.Errorf("%s does nothing", m.Name)
		}
	}
	for _, m := range manoeuvre.Moves {
		if planned[m.Name] == m.Rescue {
			t.Errorf("%s: planned %v", m.Name, planned[m.Name])
		}
	}
	for _, kind := range []rig.MarkKind{rig.KnotMark, rig.JoinMark, rig.RebelayMark, rig.DeviationMark, rig.DamageMark} {
		up, down := manoeuvre.Past(string(kind), true), manoeuvre.Past(string(kind), false)
		if !planned[string(up)] || !planned[string(down)] || up == down && kind != rig.DamageMark {
			t.Errorf("past %s: %q up, %q down", kind, up, down)
		}
	}
	if manoeuvre.Past("none", true) != "" {
		t.Error("something passes nothing")
	}
}
