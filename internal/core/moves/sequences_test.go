package moves_test

import (
	"fmt"
	"strings"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/demo"
)

// A sequence is what a careful person does, worked by hand: it replays clean, leads
// to where the move ends, and handles no fewer holds than the plan that is found.
type sequence struct {
	name, move string
	schools    school.Schools
	drop       func() *drop.Document
	at         float64
	steps      string
}

// short names of the sequences, as people say them, for the demo's items.
var inShaft = map[string]string{"B": "backup-31", "B2": "backup-9", "CA": "chest-2", "HA": "hand-2", "D": "descender-21", "SL": "lanyard-3", "LL": "lanyard-12", "m": "main", "b": "backup", "m2": "main-2", "b2": "backup-2", "s": stance.Structure, "L3": "lanyard-13"}

var onFace = map[string]string{"B": "backup-7", "B2": "backup-8", "CA": "chest-1", "HA": "hand-1", "D": "descender-14", "SL": "lanyard-1", "LL": "lanyard-11", "m": "main", "b": "backup"}

// parse reads steps such as "put-on CA m 1 17.90", a span and a height after the
// strand, or "clip SL m 1" for what is above a span.
func parse(t *testing.T, names map[string]string, text string) []stance.Action {
	t.Helper()
	var list []stance.Action
	for line := range strings.Lines(strings.TrimSpace(text)) {
		f := strings.Fields(line)
		a := stance.Action{Do: stance.Do(f[0])}
		for _, w := range f[1:] {
			var n float64
			switch name, known := names[w]; {
			case w == "m" || w == "b" || w == "m2" || w == "b2" || w == "s":
				a.Line = name
			case known:
				a.Item = name
			case w == "loop":
				a.Into = "loop"
			case strings.Contains(w, "."):
				if _, err := fmt.Sscan(w, &n); err != nil {
					t.Fatal(line)
				}
				a.AtM = quantity.Metres(n)
			default:
				if _, err := fmt.Sscan(w, &a.Span); err != nil {
					t.Fatal(line)
				}
			}
		}
		if a.Do == stance.Clip && a.Into == "" {
			a.Into = "mark"
		}
		list = append(list, a)
	}
	return list
}

var sequences = []sequence{
	{"leave-ground", "leave-ground", school.Schools{}, func() *drop.Document { return shaft(12, nil, nil) }, 12, `
		put-on B b 0 1.90
		put-on CA m 0 1.10
		put-on HA m 0 1.60
		sit CA
		climb 1.20
		move B 2.10`},
	{"ascend", "ascend", school.Schools{}, func() *drop.Document { return shaft(12, nil, nil) }, 12, `
		climb 20.00
		climb 38.50`},
	{"ascend on the descender", "ascend", school.Schools{Ascent: "descender"}, func() *drop.Document { return shaft(30, nil, nil) }, 30, `
		put-on HA m 0 30.60
		unpark D
		climb 34.00
		park D
		climb 38.50
		take-off HA`},
	{"over the edge", "over-edge", school.Schools{}, func() *drop.Document { return demo.Drops()["face-4"] }, 61.2, `
		put-on B b 0 95.15
		put-on D m 0 95.55
		park D
		sit D
		unpark D
		descend 93.20`},
	{"descend", "descend", school.Schools{}, func() *drop.Document { return shaft(12, nil, nil) }, 12, `
		unpark D
		descend 6.00
		descend 0.95`},
	{"pass-knots-down, clip-in eye", "pass-knots-down", school.Schools{KnotCover: "eye"}, func() *drop.Document {
		return shaft(20, []rig.Mark{knot("m", 18, false)}, []rig.Mark{knot("b", 18, true)})
	}, 20, `
		unpark D
		descend 18.20
		park D
		put-on HA m 0 18.80
		stand HA
		put-on CA m 0 18.50
		sit CA
		take-off D
		climb 18.00
		put-on D m 1 17.85
		park D
		move B 18.50
		stand HA 18.10
		take-off CA
		sit D
		clip SL b 1
		take-off B
		put-on B b 1 17.85
		unclip SL
		take-off HA
		unpark D
		descend 17.00`},
	{"transfer, loop knot", "transfer", school.Schools{TransferCover: "loop"}, func() *drop.Document { return beside(2) }, 20, `
		put-on CA m2 0 20.00
		tie b2 0 20.30
		clip LL b2 loop
		unpark D
		lower-onto CA
		take-off D
		take-off B
		put-on B b2 0 20.60
		unclip LL
		untie
		put-on HA m2 0 20.60`},
	{"rebelay-up, transfer school", "rebelay-up", school.Schools{}, func() *drop.Document { return relayed(2, 3) }, 12, `
		climb 17.40
		put-on D m 1 17.45
		park D
		move HA 17.80
		stand HA 17.50
		take-off CA
		sit D
		take-off HA
		put-on CA m 0 17.15
		put-on B2 b 0 18.00
		unpark D
		lower-onto CA
		take-off D
		take-off B
		put-on B b 0 17.60
		take-off B2
		put-on HA m 0 17.60
		climb 18.20`},
	{"aid", "aid", school.Schools{}, func() *drop.Document { return slung(0.5, 3) }, 21, `
		climb 21.31
		clip LL s 1
		stand LL 21.41
		clip SL s 1
		sit SL
		unclip LL
		clip LL s 2
		take-off CA
		take-off HA
		clip L3 s 1
		take-off B
		stand LL 21.80
		unclip L3
		clip L3 s 3
		unclip SL
		clip SL s 2
		sit SL
		stand L3 21.80
		unclip SL
		clip SL s 3
		sit SL
		put-on CA m2 0 21.55
		put-on B b2 0 22.10
		stand L3 21.50
		unclip SL
		unclip LL
		sit CA
		unclip L3
		put-on HA m2 0 22.00`},
	{"ascend-to-descend", "ascend-to-descend", school.Schools{}, func() *drop.Document { return shaft(12, nil, nil) }, 12, `
		put-on D m 0 12.05
		park D
		move HA 12.35
		stand HA 12.10
		take-off CA
		sit D
		take-off HA`},
	{"descend-to-ascend", "descend-to-ascend", school.Schools{}, func() *drop.Document { return shaft(12, nil, nil) }, 12, `
		put-on HA m 0 12.60
		stand HA
		put-on CA m 0 12.30
		sit CA
		take-off D
		move B 13.00`},
	{"pass-knots-down, second backup", "pass-knots-down", school.Schools{KnotCover: "second-device"}, twoKnots, 20, `
		unpark D
		descend 18.20
		park D
		put-on HA m 0 18.80
		stand HA
		put-on CA m 0 18.50
		sit CA
		take-off D
		climb 18.00
		put-on D m 1 17.85
		park D
		move B 18.50
		stand HA 18.10
		take-off CA
		sit D
		put-on B2 b 1 17.85
		take-off B
		take-off HA
		unpark D
		descend 17.00`},
	{"pass-knots-down, temporary loop", "pass-knots-down", school.Schools{KnotCover: "loop"}, twoKnots, 20, `
		unpark D
		descend 18.20
		park D
		put-on HA m 0 18.80
		stand HA
		put-on CA m 0 18.50
		sit CA
		take-off D
		climb 18.00
		put-on D m 1 17.85
		park D
		move B 18.50
		stand HA 18.10
		take-off CA
		sit D
		take-off HA
		tie b 1 17.55
		clip SL b loop
		take-off B
		put-on B b 1 17.85
		unclip SL
		untie
		unpark D
		descend 17.00`},
	// Main first is only for a backup knot that hangs higher: level, the backup would
	// be half a metre below its attachment meanwhile.
	{"pass-knots-up, knots with eyes", "pass-knots-up", school.Schools{}, func() *drop.Document {
		return shaft(14, []rig.Mark{knot("m", 18, true)}, []rig.Mark{knot("b", 18.6, true)})
	}, 14, `
		climb 17.60
		take-off HA
		put-on HA m 0 18.55
		climb 17.70
		clip SL m 1
		stand HA
		take-off CA
		put-on CA m 0 18.20
		sit CA
		unclip SL
		clip LL b 1
		take-off B
		put-on B b 0 18.90
		unclip LL
		climb 18.70`},
	{"pass-knots-up, no loop to clip", "pass-knots-up", school.Schools{}, func() *drop.Document { return shaft(14, []rig.Mark{knot("m", 18, false)}, nil) }, 14, `
		climb 17.60
		take-off HA
		put-on HA m 0 18.55
		climb 17.70
		put-on D m 1 17.75
		park D
		stand HA 17.80
		take-off CA
		sit D
		stand HA
		put-on CA m 0 18.15
		sit CA
		take-off D
		climb 18.10`},
	{"rebelay-down, clip-in", "rebelay-down", school.Schools{Sides: "fewer"}, func() *drop.Document { return demo.Drops()["face-4"] }, 55, `
		unpark D
		descend 51.90
		park D
		move B 52.50
		clip SL b 1
		unpark D
		lower-onto SL
		take-off D
		put-on D m 1 51.80
		park D
		take-off B
		put-on B b 1 52.25
		stand 51.95
		unclip SL
		sit D
		unpark D
		descend 51.00`},
	{"deviation-down", "deviation-down", school.Schools{}, deviated, 22, `
		unpark D
		descend 17.70
		park D
		clip SL m 1
		move B 18.15
		pass m 1
		pass b 1
		unclip SL
		unpark D
		descend 17.00`},
	{"short-work", "short-work", school.Schools{}, func() *drop.Document { return shaft(12, nil, nil) }, 12, `
		park D
		tie-off D
		work
		untie-off D
		unpark D`},
	{"isolate-damage below, both strands", "isolate-damage", school.Schools{}, func() *drop.Document { return hurt(0, damage(12, false), damage(12.1, false)) }, 14, `
		unpark D
		descend 12.40
		park D
		isolate m 1
		isolate b 1`},
	{"isolate-damage above, sheath only", "isolate-damage", school.Schools{DamageAbove: "past", DamageReason: "seen all round"}, func() *drop.Document { return hurt(0, damage(14, true), rig.Mark{}) }, 12, `
		climb 14.30
		isolate m 1`},
	{"transfer", "transfer", school.Schools{}, func() *drop.Document { return beside(2) }, 20, `
		put-on CA m2 0 20.00
		put-on B2 b2 0 20.70
		unpark D
		lower-onto CA
		take-off D
		take-off B
		put-on B b2 0 20.30
		take-off B2
		put-on HA m2 0 20.60`},
	{"deviation-up", "deviation-up", school.Schools{}, deviated, 12, `
		climb 17.70
		clip SL m 1
		pass m 1
		pass b 1
		unclip SL
		climb 18.20`},
	{"rebelay-up, clip-in", "rebelay-up", school.Schools{Sides: "fewer"}, func() *drop.Document { return demo.Drops()["face-4"] }, 45, `
		climb 51.60
		clip SL m 1
		take-off HA
		put-on HA m 0 52.55
		stand HA
		take-off CA
		put-on CA m 0 51.95
		sit CA
		take-off B
		put-on B b 0 52.30
		unclip SL
		climb 52.50`},
}

func TestSequences(t *testing.T) {
	for _, q := range sequences {
		d := q.drop()
		d.People[0].AtM = quantity.Metres(q.at)
		names := inShaft
		if d.Name == "Face 4" {
			names = onFace
		}
		p := plan(t, d, q.move, q.schools)
		list := &moves.StepList{Move: q.move, ToM: p.ToM, Start: p.Start, Steps: parse(t, names, q.steps)}
		_, found, err := walkOn(d, list, q.schools)
		if err != nil {
			t.Fatal(q.name, err)
		}
		for _, f := range found {
			if f.Impossible != "" || stance.Stops(f.Broken) {
				t.Errorf("%s, step %d (%+v): %s %+v", q.name, f.Step, list.Steps[max(0, f.Step-1)], f.Impossible, f.Broken)
			}
		}
		handled := 0
		for _, a := range list.Steps {
			switch a.Do {
			case stance.PutOn, stance.TakeOff, stance.Clip, stance.Unclip:
				handled++
			}
		}
		if p.Handled > handled {
			t.Errorf("%s: the plan handles %d holds, by hand %d", q.name, p.Handled, handled)
		}
		if err := held(p); err != nil {
			t.Errorf("%s: %v", q.name, err)
		}
		if m := moves.Find(q.move); m == nil {
			t.Error(q.move)
		}
	}
}
