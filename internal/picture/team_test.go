package picture_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
	"zealousknot/internal/demo"
	"zealousknot/internal/picture"
)

// parts counts the shapes of a part.
func parts(d *picture.Drawing, part string) (n int) {
	for _, s := range d.Shapes {
		if s.Part == part {
			n++
		}
	}
	return n
}

// inBox holds that every word and every place of a drawing is in its box.
func inBox(t *testing.T, d *picture.Drawing) {
	t.Helper()
	for _, l := range d.Labels {
		if l.X < 0 || l.X > d.Width || l.Y < 0 || l.Y > d.Height+1 {
			t.Errorf("%q is at %g, %g of %g, %g", l.Words, l.X, l.Y, d.Width, d.Height)
		}
	}
	for i := range d.Shapes {
		d.Shapes[i].Each(func(_ byte, at [][2]float64) {
			for _, p := range at {
				if p[0] < -5 || p[0] > d.Width+5 || p[1] < -5 || p[1] > d.Height+5 {
					t.Errorf("a %s is at %v of %g, %g", d.Shapes[i].Part, p, d.Width, d.Height)
				}
			}
		})
	}
}

// teamStates calls with every state of every move that can be planned on the demo's teams.
func teamStates(t *testing.T, call func(r *team.Rig, st *team.Step)) {
	n := 0
	for name, d := range demo.Drops() {
		if d.Team == nil {
			continue
		}
		s, err := site.Open(d)
		if err != nil {
			t.Fatal(name, err)
		}
		r := team.On(s)
		for _, m := range team.Catalogue {
			to := r.EdgeM / 2
			p, err := r.For(t.Context(), team.Ask{Move: m.Name, ToM: &to})
			var refused *strict.Error
			if errors.As(err, &refused) || errors.Is(err, search.ErrNone) {
				continue
			} else if err != nil {
				t.Fatal(name, m.Name, err)
			}
			for i := range p.Steps {
				call(r, &p.Steps[i])
				n++
			}
		}
	}
	if n < 60 {
		t.Errorf("%d steps", n)
	}
}

// TestTeamPictures holds that the picture of a step shows what its state says, and says it:
// hands, brakes, grabs, hauls, knots that are through, the height of the load, and the worst
// failure.
func TestTeamPictures(t *testing.T) {
	teamStates(t, func(r *team.Rig, st *team.Step) {
		d := picture.Team(r, &st.After, nil)
		inBox(t, d)
		want := map[string]int{}
		for _, h := range []*team.Half{&st.After.Main, &st.After.Belay} {
			for part, is := range map[string]bool{
				"hand": h.Loaded && h.Hand > 0, "parked": h.Parked, "tied": h.Loaded && h.Tied, "hitch": h.Grab != team.NoGrab, "bend": h.Loaded && h.Bend,
			} {
				if is {
					want[part]++
				}
			}
		}
		for _, part := range []string{"hand", "parked", "tied", "hitch", "bend"} {
			if got := parts(d, part); got != want[part] {
				t.Errorf("%s drawn %d times, not %d: %s", part, got, want[part], d.Text)
			}
		}
		for part, words := range map[string]string{"hand": "the hand of ", "parked": "parked", "tied": "tied off", "hitch": "grab "} {
			if strings.Count(d.Text, words) != want[part] {
				t.Errorf("%q said %d times, not %d: %s", words, strings.Count(d.Text, words), want[part], d.Text)
			}
		}
		if st.After.Hangs != strings.Contains(d.Text, fmt.Sprintf("hangs at %v", st.After.At.M())) {
			t.Errorf("at %v: %s", st.After.At.M(), d.Text)
		}
		for i := range st.FailOne {
			l := &st.FailOne[i]
			e := picture.Team(r, &st.After, l)
			inBox(t, e)
			rests, falls := 1, 0
			if !l.Held {
				rests, falls = 0, 1
			}
			if parts(e, "lost") != 1 || parts(e, "rests") != rests || parts(e, "falls") != falls || !strings.Contains(e.Text, "If "+l.Words) {
				t.Errorf("%+v: %s", l, e.Text)
			}
		}
		// Lower down it is drawn lower down.
		lower := st.After
		lower.At -= 500
		if lower.Hangs && lower.At > 0 {
			_, a := where(t, d, "load")
			if _, b := where(t, picture.Team(r, &lower, nil), "load"); b <= a {
				t.Errorf("5 m lower the load is drawn at %g, not below %g", b, a)
			}
		}
	})
}

// TestStancePictures holds that the picture of a step of a person's move shows every hold where
// it is, the hand where it is needed, and the worst failure; and that from behind the sides
// change.
func TestStancePictures(t *testing.T) {
	steps := 0
	for _, c := range []struct{ drop, move string }{{"crown-gallery", "transfer"}, {"crown-gallery", "aid"}, {"face-4", "rebelay-down"}, {"face-7", "pass-knots-down"}, {"gate-shaft", "descend"}} {
		d := demo.Drops()[c.drop]
		asked := ask.MoveAsked{Drop: *d, Move: c.move}
		answer, err := asked.Answer(t.Context(), ask.NewEnv())
		if err != nil || answer.Plan == nil {
			t.Errorf("%s, %s: %v", c.drop, c.move, err)
			continue
		}
		r, err := d.Rig()
		if err != nil {
			t.Fatal(err)
		}
		for _, st := range answer.Plan.Steps {
			steps++
			a := &picture.StancePictured{Drop: *d, State: st.After}
			front := picture.Stance(r, a)
			inBox(t, front)
			a.View = "back"
			back := picture.Stance(r, a)
			hands := 0
			for _, h := range st.After.Holds {
				part := "hold " + h.Item
				if parts(front, part) != 1 || !strings.Contains(strings.ToLower(front.Text), d.Label(h.Item)+" on ") {
					t.Errorf("%s, %s: %s is not shown: %s", c.drop, c.move, h.Item, front.Text)
					continue
				}
				fx, fy := where(t, front, part)
				bx, by := where(t, back, part)
				if mid := front.Width / 2; (fx < mid) == (bx < mid) && fx-mid > 20 || fy != by {
					t.Errorf("%s, %s: %s at %g, %g and from behind at %g, %g", c.drop, c.move, h.Item, fx, fy, bx, by)
				}
				if piece := r.Piece(h.Item); piece.Model.Class == gear.Descender && st.After.Bears == h.Item && !h.Parked {
					hands = 1
				}
				if h.Parked && (parts(front, "parked") == 0 || !strings.Contains(front.Text, "parked") && !h.Tied) {
					t.Errorf("%s, %s: %s is not parked: %s", c.drop, c.move, h.Item, front.Text)
				}
			}
			if parts(front, "hand") != hands || strings.Contains(front.Text, "hand is on the brake strand") != (hands == 1) {
				t.Errorf("%s, %s: %d hands: %s", c.drop, c.move, parts(front, "hand"), front.Text)
			}
			if len(st.FailOne) > 0 {
				a.Lost = &st.FailOne[0]
				lost := picture.Stance(r, a)
				if held := a.Lost.Held; (parts(lost, "rests") == 1) != held || strings.Contains(lost.Text, "nothing holds") == held {
					t.Errorf("%s, %s: %+v: %s", c.drop, c.move, a.Lost, lost.Text)
				}
			}
		}
	}
	if steps < 40 {
		t.Errorf("%d steps", steps)
	}
}

// TestTeamKnots holds that a step of a team shows the knot that is tied with what lies ready, and
// none where a device or sewn tape does it, or where the team ties another.
func TestTeamKnots(t *testing.T) {
	tied := func(do string, change func(d *drop.Document)) string {
		d := demo.Drops()["basin-wall"].Clone()
		change(d)
		text, err := json.Marshal(picture.KnotsAsked{Drop: d, Strand: d.Team.Main.Strand, TeamStep: do})
		if err != nil {
			t.Fatal(err)
		}
		out, err := picture.Find("knots").Ask(t.Context(), ask.NewEnv(), nil, text)
		if err != nil {
			t.Fatal(do, err)
		}
		var ids []string
		for _, k := range out.(*picture.KnotsDrawn).Knots {
			ids = append(ids, k.ID)
		}
		return strings.Join(ids, " ")
	}
	as := func(*drop.Document) {}
	noGrab := func(d *drop.Document) {
		d.Team.Kit = slices.DeleteFunc(d.Team.Kit, func(i string) bool { return i == "grab-1" })
	}
	sewn := func(is bool) func(d *drop.Document) {
		return func(d *drop.Document) {
			for i := range d.Models {
				if d.Models[i].Hitch != nil {
					d.Models[i].Hitch.Sewn = is
				}
			}
		}
	}
	for _, c := range []struct {
		do     string
		change func(d *drop.Document)
		want   string
	}{
		{"put-grab", as, ""},
		{"put-grab", noGrab, "grip-hitch"},
		{"put-grab", func(d *drop.Document) { d.Team.Catch = "two-cords" }, "grip-hitch"},
		{"put-grab", func(d *drop.Document) { noGrab(d); d.Team.Catch = "mechanical" }, ""},
		{"tie", as, "walk-away"},
		{"tie", func(d *drop.Document) { d.Team.WalkAway = "connector" }, ""},
		{"extend", sewn(false), "release-hitch"},
		{"extend", sewn(true), ""},
		{"lower", as, ""},
	} {
		if got := tied(c.do, c.change); got != c.want {
			t.Errorf("%s: %q, want %q", c.do, got, c.want)
		}
	}
}

// noneHidden holds that no rope runs through the words of a tension, point by point along it.
func noneHidden(t *testing.T, name string, d *picture.Drawing) {
	t.Helper()
	for _, l := range d.Labels {
		if !strings.HasSuffix(l.Words, " kN") && !strings.HasSuffix(l.Words, " %") || l.Anchor == "middle" {
			continue
		}
		left, right := l.X, l.X+0.5*d.Letters*float64(len(l.Words))
		if l.Anchor == "end" {
			left, right = l.X-0.5*d.Letters*float64(len(l.Words)), l.X
		}
		for i := range d.Shapes {
			if d.Shapes[i].Part != "rope" {
				continue
			}
			var ends [][2]float64
			d.Shapes[i].Each(func(_ byte, at [][2]float64) { ends = append(ends, at...) })
			for k := range 400 {
				part := float64(k) / 399
				x, y := ends[0][0]+part*(ends[1][0]-ends[0][0]), ends[0][1]+part*(ends[1][1]-ends[0][1])
				if x > left+1 && x < right-1 && y > l.Y-0.7*d.Letters && y < l.Y {
					t.Errorf("%s: %q at %g, %g is crossed by %s", name, l.Words, l.X, l.Y, d.Shapes[i].Choice)
					break
				}
			}
		}
	}
}

// TestForces holds that every part of every rope is drawn with its tension, heavier where it
// bears more, and that each part and thing can be chosen.
func TestForces(t *testing.T) {
	for name, d := range demo.Drops() {
		if d.Team == nil {
			continue
		}
		s, err := site.Open(d)
		if err != nil {
			t.Fatal(name, err)
		}
		of := team.On(s).Figures()
		rigs := []*team.Built{of.Lowering, of.Hauling}
		for _, system := range []string{"1:1", "2:1", "3:1", "5:1", "9:1"} {
			d := d.Clone()
			d.Team.Haul = &rig.TeamHaul{System: system}
			s, err := site.Open(d)
			if err != nil {
				continue // not with these pulleys
			}
			rigs = append(rigs, team.On(s).Figures().Hauling)
		}
		for _, b := range rigs {
			if b == nil {
				continue
			}
			for _, moving := range []bool{false, true} {
				d := picture.Forces(b, moving, of.Weakest())
				inBox(t, d)
				noneHidden(t, name, d)
				width := map[string]float64{}
				for _, s := range d.Shapes {
					width[s.Choice] = s.Width
				}
				for i := range b.Segments {
					g := &b.Segments[i]
					kN := g.HeldKN
					if moving {
						kN = g.MovingKN
					}
					at, there := width[g.From+">"+g.To]
					if g.Kind == "rope" && (!there || kN > 0 && at <= 2 || kN <= 0 && at > 2 || !strings.Contains(d.Text, fmt.Sprint(kN))) {
						t.Errorf("%s: %s to %s with %v is %g wide: %s", name, g.From, g.To, kN, at, d.Text)
					}
				}
			}
		}
	}
}

// TestPairPictures holds that the picture of a rescue's step shows both with all that they
// hang on and what joins them, marks what is opened next, and says so.
func TestPairPictures(t *testing.T) {
	d := demo.Drops()["face-7"]
	at := quantity.Metres(20)
	asked := ask.RescueAsked{Drop: *d, Person: "ivo", AtM: &at}
	answer, err := asked.Answer(t.Context(), ask.NewEnv())
	if err != nil || answer.Plan == nil {
		t.Fatal(err)
	}
	draw := func(a *picture.PairPictured) (*picture.Drawing, error) {
		text, err := json.Marshal(a)
		if err != nil {
			t.Fatal(err)
		}
		out, err := picture.Find("pair-picture").Ask(t.Context(), ask.NewEnv(), nil, text)
		if err != nil {
			return nil, err
		}
		return out.(*picture.Drawing), nil
	}
	steps, opened := answer.Plan.Steps, 0
	for i := range steps {
		st := &steps[i]
		a := &picture.PairPictured{Drop: *d, Rescuer: answer.Ways[0].Rescuer, Casualty: "ivo", State: st.After}
		if i+1 < len(steps) {
			a.Next = &steps[i+1].Action
		}
		if len(st.FailOne) > 0 {
			a.Lost = &st.FailOne[0]
		}
		pic, err := draw(a)
		if err != nil {
			t.Fatal(err)
		}
		inBox(t, pic)
		for _, h := range append(append([]pair.ShownHold{}, st.After.Own...), st.After.Theirs...) {
			if parts(pic, "hold "+h.Item) != 1 || !strings.Contains(pic.Text, h.Label+" on") {
				t.Errorf("step %d: %s is not shown: %s", i, h.Item, pic.Text)
			}
		}
		for part, is := range map[string]bool{"chain": st.After.Chain != "", "long lanyard": st.After.Long != "", "lost": a.Lost != nil, "opens": a.Next != nil && a.Next.Do == pair.TakeOff} {
			if (parts(pic, part) == 1) != is {
				t.Errorf("step %d: %s drawn %d times: %s", i, part, parts(pic, part), pic.Text)
			}
		}
		if parts(pic, "opens") > 0 {
			opened++
			if !strings.Contains(pic.Text, "opens next") {
				t.Errorf("step %d: %s", i, pic.Text)
			}
		}
		if st.After.Chain != "" && parts(pic, "links") != st.After.Links {
			t.Errorf("step %d: %d links drawn, not %d", i, parts(pic, "links"), st.After.Links)
		}
	}
	if opened == 0 {
		t.Error("nothing was opened")
	}
	// While they are lifted, what bore them is opened.
	lift := &picture.PairPictured{Drop: *d, Rescuer: "dov", Casualty: "ivo", State: steps[0].After, Next: &pair.Action{Do: pair.Lift}}
	if pic, err := draw(lift); err != nil || parts(pic, "opens") != 1 || !strings.Contains(pic.Text, "Ivo Kestrane has descender 17 on main, opens next") {
		t.Errorf("%v, lifted: %+v", err, pic)
	}
	for name, a := range map[string]*picture.PairPictured{
		"/rescuer":  {Drop: *d, Rescuer: "none", Casualty: "ivo", State: steps[0].After},
		"/casualty": {Drop: *d, Rescuer: "dov", Casualty: "none", State: steps[0].After},
		"/state/holds/0": {Drop: *d, Rescuer: "dov", Casualty: "ivo", State: pair.Shown{
			Own: []pair.ShownHold{{Item: "a", Label: "a", Strand: "none"}}, Theirs: []pair.ShownHold{}, Bears: "own",
		}},
	} {
		_, err := draw(a)
		var refused *strict.Error
		if !errors.As(err, &refused) || refused.Faults[0].Pointer != name {
			t.Errorf("%s: %v", name, err)
		}
	}
}
