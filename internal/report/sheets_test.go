package report_test

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/demo"
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
	teams, rescues := 0, 0
	for name, d := range demo.Drops() {
		if d.Team != nil {
			for _, move := range []string{"", "prove-brake", "edge", "walk-away"} {
				asked := drop.TeamAsked{Drop: *d, Move: move}
				a, err := asked.Answer(t.Context())
				if err != nil {
					t.Fatal(name, err)
				}
				s := &report.TeamSheet{Team: "<team> & others", Drop: d.Name, Site: d.Site, Day: string(d.Day), Load: d.Team.Load.Name, Figures: a.Figures, Calls: a.Calls, Plan: a.Plan, Printed: at, PrintedBy: "Rhea"}
				text := words(t, both(s.Write))
				must(t, text, d.Name, "<team> & others", "Who stands where", "Nothing on this sheet says that a rig is safe")
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
			asked := drop.RescueAsked{Drop: *d, Person: d.People[0].ID, AtM: &h}
			a, err := asked.Answer(t.Context(), drop.Env{}, nil, nil)
			if err != nil {
				t.Fatal(name, err)
			}
			s := &report.RescueSheet{Team: "team", Drop: d.Name, Day: string(d.Day), Rescue: d.Rescue, Answer: a, Person: d.People[0].ID, AtM: &h, Printed: at, PrintedBy: "Rhea"}
			text := words(t, both(s.Write))
			must(t, text, "medical emergency", "medical provider", "limit 15 min", d.People[0].Name+" at "+h.String())
			if a.Ways[0].Works {
				for _, st := range a.Plan.Steps {
					must(t, text, strings.Fields(st.Say)[0])
				}
			} else {
				must(t, text, "BLOCKED")
			}
			rescues++
		}
	}
	if teams < 8 || rescues < 4 {
		t.Errorf("%d sheets of teams, %d of rescues", teams, rescues)
	}
}
