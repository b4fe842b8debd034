package picture_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/calc"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/knot"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
	"zealousknot/internal/demo"
	"zealousknot/internal/picture"
)

// where gives the middle of the shapes of a part.
func where(t *testing.T, d *picture.Drawing, part string) (x, y float64) {
	t.Helper()
	n := 0.0
	for _, s := range d.Shapes {
		if s.Part != part {
			continue
		}
		var px, py float64
		if _, err := fmt.Sscanf(s.Path, "M%g %g", &px, &py); err != nil {
			t.Fatal(s.Path, err)
		}
		x, y, n = x+px, y+py, n+1
	}
	if n == 0 {
		t.Fatalf("no %s in %q", part, d.Text)
	}
	return x / n, y / n
}

// every calls with each kind of the demo's models in each role, side and view.
func every(call func(l picture.Loading, m *gear.Model)) {
	for _, m := range demo.Models() {
		kind := picture.KindOf(&m)
		if kind == "" {
			continue
		}
		for n := range 8 {
			call(picture.Loading{
				Label: m.Name, Kind: kind, Side: []gear.Side{gear.Right, gear.Left}[n&1], Back: n&2 > 0, Fixed: n&4 > 0, Threaded: rig.ThreadedRight, Point: gear.Ventral, Belongs: gear.Ventral,
			}, &m)
		}
	}
}

// TestPictureAndText holds that a picture and its text say the same: on which side and at
// which end the loaded strand leaves, which way the anchor is, open or shut, in which
// position; and that view, side and role turn both.
func TestPictureAndText(t *testing.T) {
	seen := 0
	every(func(l picture.Loading, _ *gear.Model) {
		seen++
		d := l.Draw()
		x, y := where(t, d, map[bool]string{true: "load", false: "anchor"}[l.Fixed])
		side, end := "left", "top"
		if x > d.Width/2 {
			side = "right"
		}
		if y > d.Height/2 {
			end = "bottom"
		}
		if !strings.Contains(d.Text, fmt.Sprintf("leaves at the %s on the %s.", end, side)) {
			t.Errorf("drawn at the %s on the %s: %s", end, side, d.Text)
		}
		if want := l.Side == gear.Right != l.Back; want != (side == "right") {
			t.Errorf("side %s, back %v, drawn on the %s", l.Side, l.Back, side)
		}
		if _, anchor := where(t, d, "anchor"); anchor > d.Height/2 {
			t.Errorf("the anchor is drawn below: %s", d.Text)
		}
		for _, s := range d.Shapes {
			if s.Ink == picture.Wrong {
				t.Errorf("nothing is wrong: %s", d.Text)
			}
		}
		// What differs is drawn otherwise, said, and marked.
		for name, change := range map[string]func(l *picture.Loading){
			"Wrong way round": func(l *picture.Loading) { l.Threaded = rig.ThreadedReversed },
			"Misthreaded":     func(l *picture.Loading) { l.Threaded = rig.ThreadedWrong },
			"It is open":      func(l *picture.Loading) { l.Open = true },
			"does not hold":   func(l *picture.Loading) { l.Position = "work" },
		} {
			o := l
			change(&o)
			e := o.Draw()
			marked := slices.ContainsFunc(e.Shapes, func(s picture.Shape) bool { return s.Ink == picture.Wrong })
			visible := marked || l.Kind == picture.Coils && name == "It is open"
			if !strings.Contains(e.Text, name) || strings.Contains(d.Text, name) || !visible {
				t.Errorf("%s is not shown: %s", name, e.Text)
			}
		}
		// Lying, the way to the anchor is to the left.
		if l.Fixed {
			l.Lying = true
			flat := l.Draw()
			if ax, _ := where(t, flat, "anchor"); ax > flat.Width/2 || flat.Width != d.Height || !strings.Contains(flat.Text, "lying") {
				t.Errorf("%g of %g: %s", ax, flat.Width, flat.Text)
			}
		}
	})
	if seen < 80 {
		t.Errorf("%d pictures", seen)
	}
}

// TestProofPictures holds that each proof of each model has a picture, and that what moves is
// marked, has an arrow, and is said.
func TestProofPictures(t *testing.T) {
	moving := map[gear.Sign]int{}
	every(func(l picture.Loading, m *gear.Model) {
		if m.Device != nil && len(m.Device.Positions) > 1 {
			l.Position, l.Holds = m.Device.Positions[0].Name, true
		}
		for _, p := range procedure.Of(m) {
			d := l.Proof(p.Sign)
			moves := slices.ContainsFunc(d.Shapes, func(s picture.Shape) bool { return s.Moves != "" && s.Ink != picture.Outline })
			arrow := slices.ContainsFunc(d.Shapes, func(s picture.Shape) bool { return s.Part == "arrow" })
			if said := strings.Contains(d.Text, "What moves:"); moves != arrow || moves != said {
				t.Errorf("%s, %s: moves %v, arrow %v, said %v", m.Name, p.ID, moves, arrow, said)
			}
			if moves {
				moving[p.Sign]++
			}
		}
	})
	for _, sign := range []gear.Sign{gear.Handle, gear.Jerk, gear.PullDown, gear.PullUp, gear.Roll, gear.LetGo, gear.CordPull, gear.ParkSign, gear.ShutPlate} {
		if moving[sign] == 0 {
			t.Errorf("%s moves nothing anywhere", sign)
		}
	}
}

// TestLoading asks for the pictures of a hold: as it is, as it must be where that differs, and
// of each proof; two models that differ in a field that matters have different pictures.
func TestLoading(t *testing.T) {
	asked := func(change func(h *rig.Hold), more string) (out picture.Loaded, err error) {
		d := demo.Drops()["face-4"]
		change(&d.People[0].Holds[0])
		text, e := json.Marshal(map[string]any{"drop": d, "person": "rhea", "hold": "rhea-main"})
		if e != nil {
			t.Fatal(e)
		}
		text = append(text[:len(text)-1], more+"}"...)
		answer, err := picture.Find("loading").Ask(t.Context(), ask.NewEnv(), nil, text)
		if err == nil {
			out = *answer.(*picture.Loaded)
		}
		return out, err
	}
	plain, err := asked(func(*rig.Hold) {}, "")
	if err != nil || plain.Must != nil || len(plain.Proofs) < 5 || !strings.Contains(plain.Is.Text, "descender 14, cam and post, riding on a person, seen from the front.") {
		t.Fatalf("%v %+v", err, plain.Is)
	}
	back, err := asked(func(*rig.Hold) {}, `,"view":"back"`)
	if err != nil || back.Is.Text == plain.Is.Text || asText(t, back.Is.Shapes) == asText(t, plain.Is.Shapes) {
		t.Errorf("%v the same from behind", err)
	}
	for name, change := range map[string]func(h *rig.Hold){
		"reversed": func(h *rig.Hold) { h.Threaded = rig.ThreadedReversed },
		"wrong":    func(h *rig.Hold) { h.Threaded = rig.ThreadedWrong },
		"open":     func(h *rig.Hold) { h.Open = true },
		"left":     func(h *rig.Hold) { h.Leaves = &rig.Leaves{Side: gear.Left, SeenFrom: "front"} },
		"work":     func(h *rig.Hold) { h.Position = "work" },
		"unlocked": func(h *rig.Hold) { h.Links[0].Gate = rig.GateShut },
		"gate":     func(h *rig.Hold) { h.Links[0].Gate = rig.GateOpen },
		"point":    func(h *rig.Hold) { h.Point = gear.Sternal },
	} {
		out, err := asked(change, "")
		if err != nil || out.Must == nil || out.Must.Text != plain.Is.Text && name != "work" || asText(t, out.Is) == asText(t, out.Must) || name != "point" && asText(t, out.Is.Shapes) == asText(t, out.Must.Shapes) {
			t.Errorf("%s: %v, as it must be %+v", name, err, out.Must)
		}
	}
	// A backup device may hang from whatever its harness marks for a fall, and from nothing else:
	// the picture follows the rule.
	for _, marked := range []bool{true, false} {
		d := demo.Drops()["face-4"]
		for i := range d.Models {
			if h := d.Models[i].Harness; h != nil {
				h.Points = []gear.HarnessPoint{{Point: gear.Ventral, FallArrest: marked}, {Point: gear.Sternal, FallArrest: !marked}}
			}
		}
		d.People[0].Holds[1].Point = gear.Ventral
		r, err := d.Rig()
		if err != nil {
			t.Fatal(err)
		}
		h := r.People[0].Holds[1]
		l, _ := picture.Of(h)
		if got := l.Must(h.Device.Model).Point; (got == gear.Ventral) != marked || (fit.DevicePoint(h, nil) == nil) != marked {
			t.Errorf("ventral marked %v: it must hang from %s", marked, got)
		}
	}
	// The second connector counts too; what the model does not say is said in words.
	d := demo.Drops()["face-4"]
	d.People[0].Holds[1].Links[2].Gate = rig.GateOpen
	r, err := d.Rig()
	if err != nil {
		t.Fatal(err)
	}
	if two, _ := picture.Of(r.People[0].Holds[1]); !strings.Contains(two.Text(), "connector of its chain is open") {
		t.Error(two.Text())
	}
	assumed := picture.Loading{Label: "d", Kind: picture.CamAndPost, Side: gear.Right, Threaded: rig.ThreadedRight}
	if assumed.Draw().Note != "" {
		t.Error("the side is known")
	}
	if assumed.Assumed = true; !strings.Contains(assumed.Draw().Note, "the model does not say it") {
		t.Error("it does not say that the side is assumed")
	}
	if assumed.OfClass = true; !strings.Contains(assumed.Draw().Note, "how the rope runs, nor on which side") {
		t.Error("it does not say that the way of the rope is assumed")
	}
	var refused *strict.Error
	if _, err := asked(func(h *rig.Hold) { h.ID = "other" }, ""); !errors.As(err, &refused) || refused.Faults[0].Pointer != "/hold" {
		t.Error(err)
	}
	if _, err := asked(func(*rig.Hold) {}, `,"view":"side"`); !errors.As(err, &refused) || refused.Faults[0].Pointer != "/view" {
		t.Error(err)
	}
}

// TestLooks holds that a model is drawn as it says that it is built: every field of that
// changes picture and text, and a model that says nothing has the picture of its class, marked.
func TestLooks(t *testing.T) {
	drawn := func(k *gear.Looks, back bool) *picture.Drawing {
		d := demo.Drops()["face-4"]
		for i := range d.Models {
			if d.Models[i].Class == gear.Descender {
				d.Models[i].Device.Looks = k
			}
		}
		r, err := d.Rig()
		if err != nil {
			t.Fatal(err)
		}
		l, ok := picture.Of(r.People[0].Holds[0])
		if !ok {
			t.Fatalf("%+v is not drawn", k)
		}
		l.Back, l.Second = back, false
		return l.Draw()
	}
	seen := map[string]*gear.Looks{}
	for _, path := range []gear.RopePath{gear.CamAndPost, gear.SheaveAndBrake, gear.ToothedCam, gear.PinchingCam, gear.LockingWheel, gear.DrumPath, gear.CaptureSheave, gear.CoilsPath} {
		k := &gear.Looks{RopePath: path}
		of := drawn(k, false)
		if was := seen[asText(t, of.Shapes)]; was != nil {
			t.Errorf("%s and %s have one picture", was.RopePath, path)
		}
		seen[asText(t, of.Shapes)] = k
		for _, other := range []*gear.Looks{{RopePath: path, AnchorSign: "front"}, {RopePath: path, SecondPost: true}} {
			if other.SecondPost && path != gear.CamAndPost && path != gear.SheaveAndBrake {
				continue
			}
			if e := drawn(other, false); asText(t, e.Shapes) == asText(t, of.Shapes) || e.Text == of.Text {
				t.Errorf("%+v and %+v are drawn or told alike: %s", k, other, e.Text)
			}
		}
	}
	for sign, want := range map[string][2]bool{"front": {true, false}, "back": {false, true}, "both": {true, true}, "": {}} {
		for i, back := range []bool{false, true} {
			of := drawn(&gear.Looks{RopePath: gear.CamAndPost, AnchorSign: sign}, back)
			if got := parts(of, "engraved") == 1; got != want[i] || strings.Contains(of.Text, "engraved on this face") != want[i] {
				t.Errorf("sign on %q, seen from the back %v: drawn %v: %s", sign, back, got, of.Text)
			}
		}
	}
	if of := drawn(nil, false); !strings.Contains(of.Note, "that of its class") {
		t.Errorf("%q", of.Note)
	}
}

func asText(t *testing.T, v any) string {
	t.Helper()
	b, err := json.Marshal(v)
	if err != nil {
		t.Fatal(err)
	}
	return string(b)
}

func BenchmarkDraw(b *testing.B) {
	l := picture.Loading{Label: "descender", Kind: picture.CamAndPost, Side: gear.Right, Threaded: rig.ThreadedRight, Position: "park", Parked: true, Holds: true}
	b.Run("loading", func(b *testing.B) {
		for b.Loop() {
			l.Proof(gear.Jerk)
		}
	})
	// The one with the most crossings.
	k, in := picture.FindKnot("eye-loop"), picture.Tying{DiameterMM: 10.5, Table: knot.Shipped()}
	b.Run("knot", func(b *testing.B) {
		for b.Loop() {
			k.Draw(in, false)
		}
	})
	s, err := site.Open(demo.Drops()["basin-wall"])
	if err != nil {
		b.Fatal(err)
	}
	r := team.On(s)
	p, err := r.For(b.Context(), team.Ask{Move: "lower-past-knot"})
	if err != nil {
		b.Fatal(err)
	}
	b.Run("team", func(b *testing.B) {
		for b.Loop() {
			picture.Team(r, &p.Steps[5].After, &p.Steps[5].FailOne[0])
		}
	})
}

// TestFigurePictures holds that every figure has a picture of its example, that picture and
// text follow what goes in, and that what its contract refuses is refused with its name.
func TestFigurePictures(t *testing.T) {
	text, err := os.ReadFile("../../docs/formats/calc.md")
	if err != nil {
		t.Fatal(err)
	}
	examples := regexp.MustCompile("(?s)\n## (\\w+)\n.*?```json\n(.*?)\n```").FindAllSubmatch(text, -1)
	if len(examples) != len(calc.All) {
		t.Fatalf("%d examples", len(examples))
	}
	number := regexp.MustCompile(`"(load_kN|included_angle_deg|load_kg|base_ratio|height_m|length_m|mass_kg|share|wind_m_s|offset_m|drop_m)": ([0-9.]+)`)
	for _, e := range examples {
		name, in := string(e[1]), string(e[2])
		d, err := picture.Figure(name, []byte(in))
		if err != nil || len(d.Shapes) < 4 || d.Text == "" {
			t.Errorf("%s: %v %+v", name, err, d)
			continue
		}
		for _, s := range d.Shapes {
			if strings.Contains(s.Path, "NaN") || strings.Contains(s.Path, "Inf") {
				t.Errorf("%s: %s", name, s.Path)
			}
		}
		less := number.ReplaceAllStringFunc(in, func(m string) string {
			key, value, _ := strings.Cut(m, ": ")
			v, err := strconv.ParseFloat(value, 64)
			if err != nil {
				t.Fatal(err)
			}
			return key + ": " + strconv.FormatFloat(v*0.9, 'g', -1, 64)
		})
		if other, err := picture.Figure(name, []byte(less)); err != nil || other.Text == d.Text || asText(t, other) == asText(t, d) {
			t.Errorf("%s: %v, %q with %s too", name, err, d.Text, less)
		}
		var refused *strict.Error
		if _, err := picture.Figure(name, []byte(`{"none": 1}`)); !errors.As(err, &refused) {
			t.Errorf("%s: %v", name, err)
		}
	}
	var refused *strict.Error
	if _, err := picture.Figure("none", nil); !errors.As(err, &refused) || refused.Faults[0].Pointer != "/figure" {
		t.Error(err)
	}
}
