package ask_test

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/team"
	"zealousknot/internal/demo"
)

// together are ways to have two strands of a drop lost at once: one anchor, two anchors that stand
// on one bolt, one rope. The last two keep two things apart that are not one.
var together = map[string]func(d *drop.Document, a, b *rig.Strand){
	"one anchor": func(_ *drop.Document, a, b *rig.Strand) { b.Anchors = a.Anchors },
	"one bolt": func(d *drop.Document, a, b *rig.Strand) {
		for i := range d.Anchors {
			if id := d.Anchors[i].ID; id == a.Anchors[0] || id == b.Anchors[0] {
				d.Anchors[i].Legs = d.Anchors[i].Legs[:1]
				d.Anchors[i].Legs[0].ID = "bolt"
			}
		}
	},
	"one rope": func(d *drop.Document, a, b *rig.Strand) {
		b.Ropes = a.Ropes
		for i := range d.Items {
			if d.Items[i].ID == a.Ropes[0] {
				d.Items[i].LengthM *= 3
			}
		}
	},
	"apart: two legs, one of them shared": func(d *drop.Document, a, b *rig.Strand) {
		for i := range d.Anchors {
			if id := d.Anchors[i].ID; id == a.Anchors[0] || id == b.Anchors[0] {
				d.Anchors[i].Legs[0].ID = "bolt"
			}
		}
	},
	"apart": func(*drop.Document, *rig.Strand, *rig.Strand) {},
}

// What is lost at once counts once, whoever asks: the rules on a rig, the moves of a person and of
// a team, and who would come to somebody's rescue.
func TestLostTogether(t *testing.T) {
	for words, makes := range together {
		one := words[:3] == "one"
		of := func(id string, main, backup int) *drop.Document {
			d := copyOf(t, demo.Drops()[id])
			makes(d, &d.Strands[main], &d.Strands[backup])
			return d
		}
		// A transfer to a set that is lost at once.
		over := &ask.MoveAsked{Drop: *of("crown-gallery", 2, 3), Person: "dov", Move: "transfer"}
		moved, err := over.Answer(t.Context(), ask.Env{})
		if err != nil || (moved.Outcome == search.None) != one {
			t.Errorf("%s: a transfer to it: %+v, %v", words, moved, err)
		} else if one != strings.Contains(moved.Impossible, "hang on one thing") {
			t.Errorf("%s: %s", words, moved.Impossible)
		}
		lower := &ask.TeamAsked{Drop: *of("basin-wall", 0, 1), Move: "lower-past-knot"}
		lowered, err := lower.Answer(t.Context(), ask.Env{})
		switch {
		case err != nil || (lowered.Outcome == search.None) != one:
			t.Errorf("%s: a lower on it: %+v, %v", words, lowered, err)
		case one && !strings.Contains(lowered.Impossible, "of its own for the belay"):
			t.Errorf("%s: %s", words, lowered.Impossible)
		case !one && slices.ContainsFunc(lowered.Plan.Steps, func(s team.Step) bool { return !s.FailOne[0].Held }):
			t.Errorf("%s: planned, and nothing holds if one thing fails", words)
		}
		// Who hangs on what is lost at once is found, and reached by nobody on it.
		face := of("face-7", 2, 3)
		report, err := check.Drop(t.Context(), face, nil, check.FindingsOnly)
		if err != nil {
			t.Fatal(err)
		}
		stops := func(rule, person string) bool {
			for i := range report.Findings {
				if f := &report.Findings[i]; f.Rule == rule && f.Severity == finding.Stop && (person == "" || f.Subject.Person == person) {
					return true
				}
			}
			return false
		}
		if stops("points.two", "rhea") != one || stops("rescue.uncovered", "rhea") != one {
			text, _ := json.Marshal(report.Findings)
			t.Errorf("%s: who hangs on it: %s", words, text)
		}
		if words == "one rope" && !stops("rope.twice", "") {
			t.Error("main and backup of a set are one rope, and it is no stop")
		}
	}
}

// An anchor of two sets bears who comes to one with who hangs on the other.
func TestOthersOnTheAnchor(t *testing.T) {
	for strength, good := range map[quantity.Kilonewtons]bool{22: true, 8: true, 6: false} {
		d := copyOf(t, demo.Drops()["face-7"])
		for i := range 2 {
			d.Strands[i+2].Anchors = d.Strands[i].Anchors
			legsOf(d, d.Strands[i].Anchors[0], func(l *rig.Leg) { l.StrengthKN = strength })
		}
		found := false
		for _, g := range covered(t, ask.Env{}, d).Cover.Gaps {
			found = found || g.Person == "ivo" && slices.ContainsFunc(g.Blocked, func(why string) bool { return strings.Contains(why, "Rhea Tolland on it") })
		}
		if found == good {
			t.Errorf("legs of %v: somebody else's weight stands in the way: %v", strength, found)
		}
	}
}

// A deviation bears who comes down its strand to somebody, and both on the way down.
func TestDeviationOfARescue(t *testing.T) {
	for limit, blocked := range map[quantity.Kilonewtons]string{9: "", 0.1: "96 kg below it, the deviation at 40 m"} {
		d := copyOf(t, demo.Drops()["face-7"])
		for i, s := range []*rig.Strand{&d.Strands[0], &d.Strands[1]} {
			a := rig.Anchor{ID: "aside-" + s.ID, Name: "aside", XM: 3, HeightM: 40, Legs: []rig.Leg{{ID: "aside-" + s.ID, XM: 0.1, YM: 0.2, WorkKN: []quantity.Kilonewtons{limit, 9}[i]}}}
			d.Anchors = append(d.Anchors, a)
			s.Marks = []rig.Mark{{ID: a.ID, Kind: rig.DeviationMark, Name: "deviation", HeightM: 40, Anchor: a.ID}}
		}
		why := ""
		for _, g := range covered(t, ask.Env{}, d).Cover.Gaps {
			if g.Person == "ivo" {
				why += strings.Join(g.Blocked, "; ")
			}
		}
		if blocked == "" && why != "" || !strings.Contains(why, blocked) {
			t.Errorf("a deviation for %v: %q", limit, why)
		}
	}
}

// Who stands at the other end than they set out from is noted, unless somebody said how long the
// way takes; and no reason names a place in the document.
func TestStandsElsewhere(t *testing.T) {
	for _, c := range []struct {
		at    quantity.Metres
		from  string
		walkS float64
		noted bool
	}{{72, "", 0, false}, {0, "", 0, true}, {0, "top", 0, true}, {0, "top", 600, false}, {0, "landing", 0, false}, {72, "landing", 0, true}} {
		d := copyOf(t, demo.Drops()["face-7"])
		for i := range d.People {
			if d.People[i].ID == "dov" {
				d.People[i].AtM = c.at
			}
		}
		d.Rescue.Rescuers[0].From, d.Rescue.Rescuers[0].WalkS = c.from, c.walkS
		asked := ask.RescueAsked{Drop: *d, Person: "rhea", AtM: new(quantity.Metres(30))}
		answer, err := asked.Answer(t.Context(), ask.Env{})
		if err != nil {
			t.Fatal(err)
		}
		for _, w := range answer.Ways {
			noted := slices.ContainsFunc(w.Notes, func(n string) bool { return strings.Contains(n, "stands at") })
			if w.Rescuer == "dov" && noted != c.noted {
				t.Errorf("%+v: %s: %v", c, w.Words, w.Notes)
			}
			if strings.Contains(w.Blocked, "/") {
				t.Errorf("%s: %s", w.Words, w.Blocked)
			}
		}
	}
}
