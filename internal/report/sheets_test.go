package report_test

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"
	"unicode/utf8"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/run"
	"zealousknot/internal/demo"
	"zealousknot/internal/picture"
	"zealousknot/internal/report"
)

// words reads a picture strictly: it is whole, every figure of a place is on the paper,
// and its words are given, with the lowest place of any.
func words(t *testing.T, svg []byte) string {
	t.Helper()
	d := xml.NewDecoder(bytes.NewReader(svg))
	var all strings.Builder
	deep := 0.0
	for {
		token, err := d.Token()
		if errors.Is(err, io.EOF) {
			return all.String()
		}
		if err != nil {
			t.Fatal(err)
		}
		switch e := token.(type) {
		case xml.CharData:
			all.Write(e)
			all.WriteByte(' ')
		case xml.StartElement:
			for _, a := range e.Attr {
				v, err := strconv.ParseFloat(strings.TrimSuffix(a.Value, "mm"), 64)
				switch name := a.Name.Local; {
				case err != nil:
				case e.Name.Local == "svg" && name == "height":
					deep = v
				case (name == "x" || name == "x1" || name == "x2" || name == "cx") && (v < 0 || v > 210), (name == "y" || name == "y1" || name == "y2" || name == "cy") && (v < 0 || v > deep):
					t.Errorf("%s %s=%s is off the paper", e.Name.Local, name, a.Value)
				}
			}
		}
	}
}

// what is on a sheet must be there in words that nothing broke apart.
func must(t *testing.T, text string, say ...string) {
	t.Helper()
	text = strings.Join(strings.Fields(text), " ")
	for _, s := range say {
		if s = strings.Join(strings.Fields(s), " "); !strings.Contains(text, s) {
			t.Errorf("%q is not on the sheet", s)
		}
	}
}

// The sheets of every demo drop that has them, and of every move and height: whole XML
// with nothing off the paper, with every step, call, limit and caution; PDF of the same;
// the same input gives the same sheet, byte for byte.
func TestSheets(t *testing.T) {
	at := time.Date(2026, 11, 26, 9, 0, 0, 0, time.UTC)
	both := func(write func(io.Writer, string) error) []byte {
		t.Helper()
		var svg, again, pdf bytes.Buffer
		for kind, b := range map[string]*bytes.Buffer{"svg": &svg, "pdf": &pdf} {
			if err := write(b, kind); err != nil {
				t.Fatal(err)
			}
		}
		if err := write(&again, "svg"); err != nil || !bytes.Equal(svg.Bytes(), again.Bytes()) {
			t.Errorf("written twice it differs: %v", err)
		}
		if !bytes.HasPrefix(pdf.Bytes(), []byte("%PDF-")) || !bytes.Contains(pdf.Bytes(), []byte("%%EOF")) {
			t.Error("no PDF")
		}
		return svg.Bytes()
	}
	teams, rescues, passed := 0, 0, 0
	for name, d := range demo.Drops() {
		if d.Team != nil {
			for _, move := range []string{"", "prove-brake", "edge", "walk-away"} {
				asked := ask.TeamAsked{Drop: *d, Move: move}
				a, err := asked.Answer(t.Context(), ask.Env{})
				if err != nil {
					t.Fatal(name, err)
				}
				tied, err := picture.OfTeam(d, a.Plan)
				if err != nil {
					t.Fatal(name, err)
				}
				s := &report.TeamSheet{Team: "<team> & others", Drop: d.Name, Site: d.Site, Day: string(d.Day), Load: d.Team.Load.Name, Figures: a.Figures, Calls: a.Calls, Plan: a.Plan, Knots: tied, Cautions: []string{"brake: keep <dry>"}, Printed: at, PrintedBy: "Rhea"}
				text := words(t, both(s.Write))
				must(t, text, d.Name, "brake: keep <dry>", "<team> & others", "Who stands where", "figure-eight loop", "Wrong: the tail is too short", "Nothing on this sheet says that a rig is safe")
				if a.Plan != nil {
					for i := range a.Plan.Steps {
						must(t, text, fmt.Sprint(i+1))
					}
					must(t, text, strings.ReplaceAll(a.Plan.Move, "-", " "))
				}
				teams++
			}
		}
		if d.Rescue == nil {
			continue
		}
		for _, h := range []quantity.Metres{5, 20, 50, 70} {
			asked := ask.RescueAsked{Drop: *d, Person: d.People[0].ID, AtM: &h}
			a, err := asked.Answer(t.Context(), ask.Env{})
			if err != nil {
				t.Fatal(name, err)
			}
			s := &report.RescueSheet{Team: "team", Drop: d.Name, Day: string(d.Day), Rescue: d.Rescue, Answer: a, Person: d.People[0].ID, AtM: &h, Cautions: d.Cautions(), Printed: at, PrintedBy: "Rhea"}
			text := words(t, both(s.Write))
			must(t, text, d.Cautions()...)
			must(t, text, "medical emergency", "medical provider", "limit 15 min", d.People[0].Name+" at "+h.String())
			if a.Ways[0].Works {
				for _, st := range a.Plan.Steps {
					must(t, text, strings.Fields(st.Say)[0])
				}
				for _, m := range a.Passes {
					passed++
					must(t, text, "On the way down with both: "+strings.ReplaceAll(m.Move, "-", " "), m.Steps[len(m.Steps)-1].Say)
				}
			} else {
				must(t, text, "BLOCKED")
			}
			rescues++
		}
	}
	if teams < 8 || rescues < 4 || passed == 0 {
		t.Errorf("%d sheets of teams, %d of rescues, %d moves on the way down", teams, rescues, passed)
	}
}

// apart reads where words stand on a picture, and finds those that lie on others of their line or
// run off the paper; a letter is taken as 0.45 of its height, which is less than most are.
func apart(t *testing.T, svg []byte) (n int) {
	t.Helper()
	type written struct {
		X    float64 `xml:"x,attr"`
		Y    float64 `xml:"y,attr"`
		Size float64 `xml:"font-size,attr"`
		Text string  `xml:",chardata"`
	}
	var sheet struct {
		Texts []written `xml:"text"`
	}
	if err := xml.Unmarshal(svg, &sheet); err != nil {
		t.Fatal(err)
	}
	end := func(w *written) float64 { return w.X + 0.45*w.Size*float64(utf8.RuneCountInString(w.Text)) }
	for i := range sheet.Texts {
		a := &sheet.Texts[i]
		if end(a) > 210 {
			t.Errorf("%q runs off the paper", a.Text)
		}
		for j := range sheet.Texts {
			if b := &sheet.Texts[j]; i != j && math.Abs(a.Y-b.Y) < a.Size/2 && b.X >= a.X && b.X < end(a) {
				t.Errorf("%q lies on %q", b.Text, a.Text)
			}
		}
	}
	return len(sheet.Texts)
}

// Names as long as they may be lie on nothing: they are wrapped, or cut and marked so.
func TestLongNames(t *testing.T) {
	long := func(of *string, most int) {
		*of = string([]rune(*of + " of the Upper Service Gallery, or so: Ödegårdsskjæringa-Nordøstvestibyl-" + strings.Repeat("ø", 80))[:most])
	}
	wall, face := demo.Drops()["basin-wall"], demo.Drops()["face-7"]
	for _, d := range []*drop.Document{wall, face} {
		for i := range d.People {
			long(&d.People[i].Name, 80)
		}
		for i := range d.Anchors {
			long(&d.Anchors[i].Name, 60)
		}
		for i := range d.Items {
			long(&d.Items[i].Label, 80)
		}
		long(&d.Name, 80)
	}
	for i := range wall.Team.Operators {
		long(&wall.Team.Operators[i], 60)
	}
	long(&wall.Team.Load.Name, 60)
	asked := ask.TeamAsked{Drop: *wall, Move: "edge"}
	a, err := asked.Answer(t.Context(), ask.Env{})
	if err != nil {
		t.Fatal(err)
	}
	h := quantity.Metres(50)
	rescue := ask.RescueAsked{Drop: *face, Person: "ivo", AtM: &h}
	b, err := rescue.Answer(t.Context(), ask.Env{})
	if err != nil {
		t.Fatal(err)
	}
	for name, s := range map[string]interface{ Write(io.Writer, string) error }{
		"team":   &report.TeamSheet{Team: "team", Drop: wall.Name, Day: "2026-11-24", Load: wall.Team.Load.Name, Figures: a.Figures, Calls: a.Calls, Plan: a.Plan},
		"rescue": &report.RescueSheet{Team: "team", Drop: face.Name, Day: "2026-11-24", Rescue: face.Rescue, Answer: b, Person: "ivo", AtM: &h},
	} {
		var svg bytes.Buffer
		if err := s.Write(&svg, "svg"); err != nil {
			t.Fatal(err)
		}
		if n := apart(t, svg.Bytes()); n < 40 || !strings.Contains(svg.String(), "…") {
			t.Errorf("%s: %d texts, none cut", name, n)
		}
	}
}

// The lists of the store have every item once, a kit's what is short and what did not come
// back, an item's every day and record; each is a whole PDF of pages that are numbered.
func TestLists(t *testing.T) {
	g := demo.Gear()
	by := report.Print{Team: "team", Last: 812, Seal: "9f03a1c2", Printed: time.Date(2026, 11, 26, 9, 0, 0, 0, time.UTC), PrintedBy: "Rhea"}
	whole := func(l *report.List) {
		t.Helper()
		var a, b bytes.Buffer
		if err := errors.Join(l.PDF(&a, by), l.PDF(&b, by)); err != nil || !bytes.Equal(a.Bytes(), b.Bytes()) || !bytes.HasPrefix(a.Bytes(), []byte("%PDF-")) || !bytes.Contains(a.Bytes(), []byte("%%EOF")) {
			t.Error(l.Title, err)
		}
	}
	all := report.StoreList(g, 6)
	whole(all)
	whole(report.StoreList(&drop.Store{}, 6))
	at := map[string]int{}
	for n, row := range all.Parts[0].Rows {
		at[row[0]] = n + 1
	}
	if len(all.Parts[0].Rows) != len(g.Items) || at["rope 9"] == 0 || at["rope 9"] > at["rope 10"] || at["rope 22"] < at["rope 10"] {
		t.Errorf("%d rows, rope 9 at %d, rope 10 at %d", len(all.Parts[0].Rows), at["rope 9"], at["rope 10"])
	}
	if row := all.Parts[0].Rows[at["rope 12"]-1]; row[3] != "retired: kept for knot practice on the ground only" || row[5] != "" {
		t.Errorf("%q", row)
	}
	if row := all.Parts[0].Rows[at["rope 4"]-1]; row[5] != "2027-03-14\n2033-06-12" || row[4] != "rope store" {
		t.Errorf("%q", row)
	}

	k := &g.Kits[0]
	k.IssuedTo, k.IssuedOn, k.Missing = "van 2", "2026-11-24", []string{"helmet-1"}
	kit := report.KitList(k, g)
	whole(kit)
	if rows := kit.Parts[0].Rows; !slices.Equal(kit.About, []string{"With van 2 since 2026-11-24.", "DID NOT COME BACK: helmet 1 (helmet-a-001)"}) ||
		rows[0][2] != "1" || rows[1][2] != "1 SHORT" || !strings.Contains(rows[1][3], "not counted: helmet 1 (helmet-a-001)") || rows[3][2] != "0 SHORT" {
		t.Errorf("%q %q", kit.About, rows)
	}

	// The card for a lid says what it is of, and what no hand holds.
	card := report.CapabilityCard(&callout.Capability{
		Kit: "van bag", Number: "1234-ABCD", NearM: 3, BackM: 5, SingleM: 53, Largest: []callout.Largest{{Persons: 1, MassKg: 150}, {Persons: 2}}, Seal: &gear.Seal{Number: "4711", On: "2026-11-24", By: "Dov", Items: 9},
		On: "2026-11-24", Until: "2026-12-24", UntilFor: "life of rope 3", SealUndone: "one was taken out",
		Raises: []callout.KitRaise{{Haulers: 2, Of: []callout.KitWay{{Load: "one", System: "5:1", Seconds: 600}, {Load: "two"}}}}, Friction: []callout.KitFriction{{Brake: "brake", Rope: "rope", Of: []callout.Hand{{Load: "two", Add: "nothing", HandKN: 0.4}}}},
	})
	whole(card)
	if text := fmt.Sprint(card.About, card.Parts); !strings.Contains(text, "1234-ABCD") || !strings.Contains(text, "Sealed 4711") || !strings.Contains(text, "NOT OF WHAT IS IN IT NOW: one was taken out") || !strings.Contains(text, "Void after 2026-12-24: then ends the life of rope 3") || !strings.Contains(text, "not by these") || !strings.Contains(text, "NOT HELD") || !strings.Contains(text, "2 persons none") {
		t.Errorf("%s", text)
	}
	// The sheet of a run says who is not reached, and that an exercise is one.
	d := demo.Run()
	d.Exercise, d.Cover = true, nil
	sheet := report.RunSheet("Face 7", "2026-11-24", d, run.Fold(d), time.UTC)
	whole(sheet)
	if text := fmt.Sprint(sheet.Title, sheet.Parts); !strings.Contains(text, "EXERCISE") || !strings.Contains(text, "NOTHING WAS PLANNED") || len(sheet.Parts) != 2+len(d.Moves) {
		t.Errorf("%s", text)
	}

	i := slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == "backup-34" })
	m := gear.ModelsByID(g.Models)[g.Items[i].Model]
	life := m.LifeOf(&g.Items[i], 6, "2026-11-28", nil)
	one := report.ItemList(m, &g.Items[i], &life, []report.Row{{Number: 7, Kind: "quarantine", What: "cam backup 34", Result: "shock load", By: "Dov"}})
	whole(one)
	if days := one.Parts[0].Rows; len(days) != len(life.Marks) || len(one.Parts[1].Rows) != 1 || !slices.Contains(one.About, "Next thorough examination: 2027-03-14") {
		t.Errorf("%q %q", one.About, days)
	}
}

// The sheet of an exercise says that it is one, shows what the fault is seen by, and has its
// answers on a page of their own, last; none of them stands before.
func TestExerciseSheets(t *testing.T) {
	by := report.Print{Team: "team", Printed: time.Date(2026, 11, 26, 9, 0, 0, 0, time.UTC), PrintedBy: "Rhea"}
	for _, a := range []drill.Asked{
		{Kind: drill.Faults, Level: 1}, {Kind: drill.Faults, Level: 4}, {Kind: drill.Fails, Level: 2}, {Kind: drill.Apart, Level: 1}, {Kind: drill.Move, Level: 1},
		{Kind: drill.Move, Level: 1, Move: "lower"}, {Kind: drill.Move, Level: 2, Move: "pick-off"},
	} {
		for a.Seed = range 6 {
			a.Gear, a.Answers = demo.Gear(), true
			e, err := a.Make(t.Context())
			if err != nil {
				t.Fatal(a.Kind, a.Seed, err)
			}
			l, err := report.ExerciseSheet(e)
			if err != nil {
				t.Fatal(a.Kind, a.Seed, err)
			}
			var b bytes.Buffer
			if err := l.PDF(&b, by); err != nil || !bytes.HasPrefix(b.Bytes(), []byte("%PDF-")) {
				t.Error(a.Kind, a.Seed, err)
			}
			last := l.Parts[len(l.Parts)-1]
			before := fmt.Sprint(l.Parts[:len(l.Parts)-1])
			if !strings.HasPrefix(l.Title, "EXERCISE") || !last.OnNewPage || last.Heading != "Answers" {
				t.Errorf("%s %d: %q, %+v", a.Kind, a.Seed, l.Title, last)
			}
			for _, f := range e.Answers.Faults {
				if !strings.Contains(fmt.Sprint(last.Rows), f.Planted) || strings.Contains(before, f.Planted) {
					t.Errorf("%s %d: %s stands in the wrong place", a.Kind, a.Seed, f.Planted)
				}
			}
			if empty := len(last.Rows) == 0; empty != (a.Kind == drill.Faults && len(e.Answers.Faults) == 0) {
				t.Errorf("%s %d: %d answers", a.Kind, a.Seed, len(last.Rows))
			}
		}
	}
}
