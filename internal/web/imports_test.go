package web_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"math/rand/v2"
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/xuri/excelize/v2"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/demo"
	"zealousknot/internal/store"
	"zealousknot/internal/tabular"
)

type imported struct {
	EitherOrder bool `json:"either_order"`
	Rows        []struct {
		Row       int
		ID, State string
		Stopped   string
		Changes   []struct {
			Field    string
			From, To any
		}
		Errors []struct{ Field, Detail string }
	}
	Counts  map[string]int
	Mapping map[string]string
	Dialect map[string]string
	Written bool
	Plans   []string
}

func importCSV(t *testing.T, url, query, table string) *imported {
	t.Helper()
	answer, text := call(t, "POST", url+"/api/v1/imports/"+query, []byte(table), "Content-Type", "text/csv")
	out := new(imported)
	if err := json.Unmarshal(text, out); err != nil || answer.StatusCode != 200 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	return out
}

// What goes out as a table comes back in and changes nothing; a table as people keep it is
// tried first, row by row, and loaded when it is right, or the right rows when that is said.
func TestTables(t *testing.T) {
	h := newHouse(t)
	dov := h.as(t, "dov")
	for _, kind := range []string{"models", "items", "people", "events"} {
		_, table := call(t, "GET", dov.URL+"/api/v1/exports/"+kind+".csv", nil)
		back := importCSV(t, dov.URL, kind, string(table))
		if n := len(back.Rows); n == 0 || back.Counts["same"] != n || !back.Written {
			t.Errorf("%s: %v %.300s", kind, back.Counts, table)
		}
	}
	if _, table := call(t, "GET", dov.URL+"/api/v1/exports/events.csv", nil); !strings.Contains(string(table), "backup-34,shock-load,2026-11-18,caught a swing at the lip,,") {
		t.Errorf("%s", table)
	}
	events := importCSV(t, dov.URL, "events?dry_run=true", "item,kind,happened,note,checked_on\nrope 4,edge,2026-11-20,at the lip,\nrope-4,edge,2026-11-20,at the lip,\nrope-4,heat,2026-11-21,,2026-11-22\n"+
		"rope 4,spilt,2026-11-20,,\nrope 4,heat,2026-11-20,,2026-11-19\nnone,heat,2026-11-20,,\nbackup-34,shock-load,2026-11-18,caught a swing at the lip,2026-11-19\n")
	if fmt.Sprint(events.Counts) != "map[changes:0 new:2 same:1 wrong:4]" || events.Rows[3].Errors[0].Field != "kind" || events.Rows[4].Errors[0].Field != "checked_on" || events.Rows[5].Errors[0].Field != "item" {
		t.Errorf("%+v", events)
	}
	// What happened and was not checked stops it at once, with a record; what was checked does not.
	added := importCSV(t, dov.URL, "events", "item,kind,happened,note,checked_on,checked_by\nrope 4,edge,2026-11-20,at the lip,,\nrope-3,edge,2026-11-20,at the lip,2026-11-21,Una\n")
	stopped, fine := h.item(t, dov.URL, "rope-4"), h.item(t, dov.URL, "rope-3")
	if !added.Written || len(stopped.Events) != 1 || stopped.State != gear.Quarantine || added.Rows[0].Stopped != "edge contact under load: at the lip" || stopped.Reason != added.Rows[0].Stopped {
		t.Errorf("%+v %+v", added, stopped)
	}
	if l := linesOf(t, dov.URL, "item=rope-4"); l[0].Says.Kind != record.Quarantine || l[0].Says.Quarantine.Event != "edge" {
		t.Errorf("%+v", l[0])
	}
	if added.Rows[1].Stopped != "" || fine.State != gear.InService || fine.Events[0].CheckedBy != "Una" {
		t.Errorf("%+v %+v", added, fine)
	}
	stopped.State, stopped.Reason, fine.Events[0].CheckedBy = gear.InService, "", "Somebody else"
	refused(t, 422, "", "PUT", dov.URL+"/api/v1/gear", []byte(`{"items":[`+asJSON(t, stopped)+`]}`))
	refused(t, 409, "", "PUT", dov.URL+"/api/v1/gear", []byte(`{"items":[`+asJSON(t, fine)+`]}`))
	for column, table := range map[string]string{
		"checked_by": "item,kind,happened,note,checked_on,checked_by\nrope-3,edge,2026-11-20,at the lip,2026-11-21,Rhea\n",
		"no day":     "item,kind,happened,note,checked_on,checked_by\nrope-3,heat,2026-11-20,,,Una\n",
	} {
		if tried := importCSV(t, dov.URL, "events?dry_run=true", table); tried.Counts["wrong"] != 1 || tried.Rows[0].Errors[0].Field != "checked_on" {
			t.Errorf("%s: %+v", column, tried)
		}
	}
	if out := send(t, dov.URL, batch(`"kind":"back-in-service","item":"rope-4","note":"looked at, whole"`))[0]; out.State != "kept" {
		t.Fatalf("%+v", out)
	}
	if _, table := call(t, "GET", dov.URL+"/api/v1/exports/events.csv", nil); !strings.Contains(string(table), "rope-4,edge,2026-11-20,at the lip,2026-11-24,Dov Pellister\r\n") {
		t.Errorf("%s", table)
	}
	const either = "item,kind,happened,note,checked_on\nrope-4,heat,3/4/2026,by the forge,\n"
	refused(t, 422, "/query/dates", "POST", dov.URL+"/api/v1/imports/events", []byte(either), "Content-Type", "text/csv")
	refused(t, 422, "/query/dates", "POST", dov.URL+"/api/v1/imports/events?only_right=true", []byte(either), "Content-Type", "text/csv")
	if tried := importCSV(t, dov.URL, "events?dry_run=true", either); !tried.EitherOrder || tried.Counts["new"] != 1 {
		t.Errorf("%+v", tried)
	}
	if tried := importCSV(t, dov.URL, "events?dry_run=true&dates=month-first", either); tried.EitherOrder {
		t.Errorf("%+v", tried)
	}
	models := importCSV(t, dov.URL, "models?dry_run=true", "id,class,maker,name,source,strength_kN\nbag-a,bag,Ostlane,rope bag 45,leaflet,\nbag-b,bag,Ostlane,rope bag 60,leaflet,2\nrope-z,rope,Ostlane,thin,leaflet,20\n")
	if models.Counts["changes"] != 1 || models.Counts["new"] != 1 || models.Counts["wrong"] != 1 || models.Rows[2].Errors[0].Field != "rope" {
		t.Errorf("%+v", models)
	}
	gearOf := func() *drop.Store { g := read[drop.Store](t, dov.URL+"/api/v1/gear"); return &g }
	bought := importCSV(t, dov.URL, "items", "id,label,model,serial,length,made,bought,marks\nrope-80,rope 80,rope-105,N-80,60,2026-02-03,2026-02-02,two bands of tape\n")
	if bought.Written || bought.Rows[0].Errors[0].Field != "bought_on" {
		t.Errorf("%+v", bought)
	}
	bought = importCSV(t, dov.URL, "items", "id,label,model,serial,length,made,bought,marks\nrope-80,rope 80,rope-105,N-80,60,2026-02-03,2026-02-03,two bands of tape\n")
	if i := h.item(t, dov.URL, "rope-80"); !bought.Written || i.BoughtOn != "2026-02-03" || i.Marking != "two bands of tape" {
		t.Errorf("%+v %+v", bought, i)
	}
	_, table80 := call(t, "GET", dov.URL+"/api/v1/exports/items.csv", nil)
	if back := importCSV(t, dov.URL, "items", string(table80)); back.Counts["same"] != len(back.Rows) {
		t.Errorf("%v", back.Counts)
	}
	before := gearOf()
	const table = "Our ropes, November\n\nLabel;Type;Serial number;Made;Length;Location;Colour\n" +
		"rope 71;rope-105;N-71;03.02.2026;60,5;van 2;red\n" +
		"rope 3;rope-110;R-3;;110;workshop;\n" +
		"rope 72;rope-105;N-72;31.02.2026;sixty;van 2;red\n" +
		"rope 73;no-such;N-73;;50;van 2;\n" +
		"rope 74;rope-105;R-4;;50;van 2;\n"
	tried := importCSV(t, dov.URL, "items?dry_run=true", table)
	if want := map[string]string{"Label": "label", "Type": "model", "Serial number": "serial", "Made": "made_on", "Length": "length_m", "Location": "place", "Colour": ""}; asJSON(t, tried.Mapping) != asJSON(t, want) {
		t.Errorf("%v", tried.Mapping)
	}
	if tried.Dialect["separator"] != "semicolon" || tried.Dialect["decimal"] != "comma" || tried.Dialect["dates"] != "day-first" {
		t.Errorf("%v", tried.Dialect)
	}
	says := func(i *imported) (list []string) {
		for _, r := range i.Rows {
			words := fmt.Sprint(r.Row, " ", r.State)
			for _, c := range r.Changes {
				words += fmt.Sprintf(" %s %v→%v", c.Field, c.From, c.To)
			}
			for _, e := range r.Errors {
				words += " " + e.Field + "!"
			}
			list = append(list, words)
		}
		return list
	}
	// The second row empties when rope 3 was made, which the store does not guess.
	want := []string{"2 new", "3 changes made_on 2023-03-01→<nil> place rope store→workshop", "4 wrong made_on! length_m!", "5 wrong model!", "6 changes label rope 4→rope 74 made_on 2023-03-01→<nil> place rope store→van 2 length_m 110→50"}
	got := says(tried)
	for i, w := range want {
		if got[i] != w {
			t.Errorf("%q, want %q", got[i], w)
		}
	}
	if after := gearOf(); asJSON(t, after) != asJSON(t, before) || tried.Written {
		t.Error("a trial wrote something")
	}
	// The same rows as a workbook are the same to the program.
	book := excelize.NewFile()
	for n, line := range strings.Split(strings.TrimSpace(table), "\n") {
		cells := strings.Split(line, ";")
		if err := book.SetSheetRow("Sheet1", fmt.Sprintf("A%d", n+1), &cells); err != nil {
			t.Fatal(err)
		}
	}
	var workbook bytes.Buffer
	_ = book.SetCellValue("Sheet1", "D4", time.Date(2026, 2, 3, 0, 0, 0, 0, time.UTC))
	if err := errors.Join(book.SetCellValue("Sheet1", "E4", 60.5), book.Write(&workbook)); err != nil {
		t.Fatal(err)
	}
	answer, text := call(t, "POST", dov.URL+"/api/v1/imports/items?dry_run=true", workbook.Bytes(), "Content-Type", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet")
	asBook := new(imported)
	if err := json.Unmarshal(text, asBook); err != nil || answer.StatusCode != 200 || !slices.Equal(says(asBook), got) || asBook.Dialect["sheet"] != "Sheet1" {
		t.Errorf("%s %v: %q", answer.Status, err, says(asBook))
	}
	refused(t, 422, "", "POST", dov.URL+"/api/v1/imports/items", workbook.Bytes()[:500], "Content-Type", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet")
	whole := importCSV(t, dov.URL, "items", table)
	if after := gearOf(); whole.Written || asJSON(t, after) != asJSON(t, before) {
		t.Error("written although rows are wrong")
	}
	some := importCSV(t, dov.URL, "items?only_right=true&mapping="+url.QueryEscape(`{"Made":""}`), table)
	i := slices.IndexFunc(gearOf().Items, func(i gear.Item) bool { return i.ID == "rope-71" })
	if !some.Written || i < 0 || gearOf().Items[i].LengthM != 60.5 || gearOf().Items[i].MadeOn != "" {
		t.Errorf("%v %v", says(some), i)
	}
	if r := linesOf(t, dov.URL, "about=item:rope-71")[0]; !strings.Contains(r.Says.Note, "SHA-256") || r.Says.Change.Count != some.Counts["new"]+some.Counts["changes"] {
		t.Errorf("%+v", r.Says)
	}
	// What a table has no column for stays.
	members := read[[]rig.Member](t, dov.URL+"/api/v1/people")
	m := &members[slices.IndexFunc(members, func(m rig.Member) bool { return m.ID == "rhea" })]
	m.ReachUpM, m.HandMM, m.Papers = 0.9, 80, []rig.Paper{{Kind: "medical", Name: "fit for work at height", Until: "2027-01-31", SeenBy: "Dov Pellister"}}
	if answer, text := call(t, "PUT", dov.URL+"/api/v1/people", []byte(`{"people":[`+asJSON(t, m)+`]}`)); answer.StatusCode/100 != 2 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	refused(t, 422, "/people/0/papers/0/until", "PUT", dov.URL+"/api/v1/people", []byte(`{"people":[{"id":"x","name":"X","mass_kg":80,"papers":[{"kind":"medical","name":"fit","until":"2027-02-30"}]}]}`))
	refused(t, 422, "/people/0/reach_up_m", "PUT", dov.URL+"/api/v1/people", []byte(`{"people":[{"id":"x","name":"X","mass_kg":80,"reach_up_m":2.1}]}`))
	people := importCSV(t, dov.URL, "people", "name,weight\nUna Ferrant,71.5\nRhea Tolland,90\n")
	if !people.Written || people.Counts["new"] != 1 || people.Counts["changes"] != 1 {
		t.Errorf("%v", says(people))
	}
	if p := read[[]rig.Member](t, dov.URL+"/api/v1/people"); !slices.ContainsFunc(p, func(m rig.Member) bool {
		return m.ID == "rhea" && m.MassKg == 90 && m.Harness != "" && m.ReachUpM == 0.9 && m.HandMM == 80 && len(m.Papers) == 1
	}) {
		t.Errorf("%+v", p)
	}
	// Who, or which item, a row is about is never guessed.
	importCSV(t, dov.URL, "people", "id,name,mass_kg\nuna-2,Una Ferrant,80\n")
	for table, field := range map[string]string{"name,mass_kg\nUna Ferrant,82\n": "name", "label,model,serial,length\nrope 71,rope-105,N-99,60\n": "serial"} {
		kind := map[string]string{"name": "people", "serial": "items"}[field]
		if i := importCSV(t, dov.URL, kind, table); i.Counts["wrong"] != 1 || i.Rows[0].Errors[0].Field != field || i.Written {
			t.Errorf("%q: %v", table, says(i))
		}
	}
	if i := importCSV(t, dov.URL, "people", "id,name,mass_kg\nuna-2,Una Ferrant,82\n"); i.Counts["changes"] != 1 || !i.Written {
		t.Errorf("%v", says(i))
	}
	if _, text := call(t, "GET", dov.URL+"/api/v1/exports/people.csv", nil); !strings.HasPrefix(string(text), "id,name,mass_kg,harness,reach_up_m,reach_aside_m,") {
		t.Errorf("%.100s", text)
	}
	if i := importCSV(t, dov.URL, "people?dry_run=true", "id,reach_aside_m\nrhea,2.5\n"); i.Counts["wrong"] != 1 || i.Rows[0].Errors[0].Field != "reach_aside_m" {
		t.Errorf("%+v", i)
	}
	if i := importCSV(t, dov.URL, "people", "id,reach out\nrhea,0.6\n"); !i.Written || i.Rows[0].Changes[0].Field != "reach_aside_m" {
		t.Errorf("%+v", i)
	}
	// Two of one name are named by their ids, in every table.
	importCSV(t, dov.URL, "items", "id,label,model,serial,length\nrope-71b,Rope 71,rope-105,N-71b,60\n")
	for kind, c := range map[string][3]string{
		"events":       {"item,kind,happened\nrope 71,heat,2026-11-20\n", "item,kind,happened\nrope-71,heat,2026-11-20\n", "item"},
		"examinations": {"item,on,by,result\nrope 71,2026-11-20,Una,fit\n", "item,on,by,result\nrope-71,2026-11-20,Una,fit\n", "item"},
		"hours":        {"person,on,hours,kind\nUna Ferrant,2026-11-20,2,work\n", "person,on,hours,kind\nuna-2,2026-11-20,2,work\n", "person"},
	} {
		if i := importCSV(t, dov.URL, kind+"?dry_run=true", c[0]); i.Counts["wrong"] != 1 || i.Rows[0].Errors[0].Field != c[2] {
			t.Errorf("%s: %+v", kind, i)
		}
		if i := importCSV(t, dov.URL, kind+"?dry_run=true", c[1]); i.Counts["new"] != 1 {
			t.Errorf("%s: %+v", kind, i)
		}
	}
	// Out of service is left by a record alone, also here; formulas are text.
	quarantined := gearOf().Items[slices.IndexFunc(gearOf().Items, func(i gear.Item) bool { return i.State == gear.Quarantine })]
	back := importCSV(t, dov.URL, "items", "id,state\n"+quarantined.ID+",in-service\n")
	if back.Counts["wrong"] != 1 || back.Written {
		t.Errorf("%v", says(back))
	}
	importCSV(t, dov.URL, "items", "id,place\nrope-71,'=HYPERLINK(1)\n")
	if _, text := call(t, "GET", dov.URL+"/api/v1/exports/items.csv", nil); !strings.Contains(string(text), ",'=HYPERLINK(1),") {
		t.Error("a formula goes out as one")
	}
	for name, c := range map[string][2]string{
		"no table":         {"items", "one"},
		"a broken mapping": {"items?mapping=x", "a,b\n1,2\n"},
		"no such field":    {"items?mapping=" + url.QueryEscape(`{"a":"colour"}`), "a,b\n1,2\n"},
	} {
		if answer, text := call(t, "POST", dov.URL+"/api/v1/imports/"+c[0], []byte(c[1]), "Content-Type", "text/csv"); answer.StatusCode != 422 {
			t.Errorf("%s: %s %s", name, answer.Status, text)
		}
	}
	refused(t, 403, "", "POST", h.as(t, "ivo").URL+"/api/v1/imports/items", []byte("a,b\n1,2\n"), "Content-Type", "text/csv")
}

// A store of thrown values goes out as tables and comes back, as CSV and as a workbook, and
// changes nothing; so does the whole team as an archive.
func TestThrownStores(t *testing.T) {
	h := newHouse(t)
	dov := h.as(t, "dov")
	r := rand.New(rand.NewPCG(18, 5))
	words := func() string {
		return pick(r, []string{"", "shelf 4", "=1+1", "+cmd", "-", "@home", "'quoted", `a "b", c; d`, "Größe ½", "line\tbreak", "0012", "12.5", "1e5", "2026-01-02", "TRUE", " "})
	}
	day := func(from int) gear.Date {
		return gear.Date(fmt.Sprintf("%d-%02d-%02d", from, 1+r.IntN(12), 1+r.IntN(28)))
	}
	all := &drop.Store{}
	for n := range 300 {
		i := gear.Item{
			ID: fmt.Sprintf("thrown-%d", n), Model: pick(r, []string{"connector-oval", "rope-105", "helmet-a", "descender-a"}), Serial: fmt.Sprintf("%s %d", words(), n), Label: fmt.Sprintf("%s %d", words(), n),
			State: gear.InService, Place: strings.TrimSpace(words()), Kit: strings.TrimSpace(words()), Owner: strings.TrimSpace(words()), MadeOn: day(2022), FirstUsedOn: day(2023), ExaminedOn: day(2026),
		}
		if i.Model == "rope-105" {
			i.LengthM, i.MeasuredMM, i.Condition = quantity.Metres(r.IntN(4000))/16+0.1, quantity.Millimetres(90+r.IntN(30))/10, gear.Wet
		}
		if r.IntN(5) == 0 {
			i.State, i.Reason = gear.Retired, "worn, "+words()+"."
		}
		for range r.IntN(3) {
			i.Events = append(i.Events, gear.Event{Kind: pick(r, []string{"heat", "edge", "dropped"}), On: day(2025), CheckedOn: day(2026), Note: strings.TrimSpace(words())})
		}
		i.Serial, i.Label = strings.TrimSpace(i.Serial), strings.TrimSpace(i.Label)
		all.Items = append(all.Items, i)
	}
	team, err := h.store.TeamNamed(t.Context(), demo.Team)
	if err != nil {
		t.Fatal(err)
	}
	if _, _, err := h.store.PutGear(t.Context(), team, &record.Signer{Name: "Somebody"}, all, store.Put{}); err != nil {
		t.Fatal(err)
	}
	before := asJSON(t, read[drop.Store](t, dov.URL+"/api/v1/gear"))
	for _, kind := range []string{"models", "items", "people", "events", "hours"} {
		_, table := call(t, "GET", dov.URL+"/api/v1/exports/"+kind+".csv", nil)
		back := importCSV(t, dov.URL, kind, string(table))
		if back.Counts["same"] != len(back.Rows) {
			for _, row := range back.Rows {
				if row.State != "same" {
					t.Fatalf("%s: %+v", kind, row)
				}
			}
		}
		sheet, err := tabular.Read(table, tabular.Dialect{})
		if err != nil {
			t.Fatal(err)
		}
		book := excelize.NewFile()
		for n, cells := range append([][]string{sheet.Header}, sheet.Rows...) {
			if err := book.SetSheetRow("Sheet1", fmt.Sprintf("A%d", n+1), &cells); err != nil {
				t.Fatal(err)
			}
		}
		var b bytes.Buffer
		if err := book.Write(&b); err != nil {
			t.Fatal(err)
		}
		answer, text := call(t, "POST", dov.URL+"/api/v1/imports/"+kind, b.Bytes(), "Content-Type", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet")
		asBook := new(imported)
		if err := json.Unmarshal(text, asBook); err != nil || answer.StatusCode != 200 || asBook.Counts["same"] != len(sheet.Rows) {
			t.Errorf("%s as a workbook: %s %v", kind, answer.Status, asBook.Counts)
			for _, row := range asBook.Rows {
				if row.State != "same" {
					t.Fatalf("%+v", row)
				}
			}
		}
	}
	if after := asJSON(t, read[drop.Store](t, dov.URL+"/api/v1/gear")); after != before {
		t.Error("what came back changed something")
	}
	refused(t, 413, "", "POST", dov.URL+"/api/v1/imports/items", bytes.Repeat([]byte("a,b\n"), 3<<20), "Content-Type", "text/csv")
}

func pick[T any](r *rand.Rand, list []T) T { return list[r.IntN(len(list))] }

// BenchmarkImport tries and writes a table of five thousand items.
func BenchmarkImport(b *testing.B) {
	h := newHouse(b)
	dov := h.as(b, "dov")
	table := func(n int) []byte {
		var s strings.Builder
		s.WriteString("label,model,serial,place\n")
		for i := range 5000 {
			fmt.Fprintf(&s, "connector %d.%d,connector-oval,C-%d-%d,shelf %d\n", n, i, n, i, i%40)
		}
		return []byte(s.String())
	}
	for name, query := range map[string]string{"trial": "?dry_run=true", "write": ""} {
		b.Run(name, func(b *testing.B) {
			n := 0
			for b.Loop() {
				n++
				answer, text := call(b, "POST", dov.URL+"/api/v1/imports/items"+query, table(n), "Content-Type", "text/csv")
				if answer.StatusCode != 200 || !strings.Contains(string(text), `"new":5000`) {
					b.Fatalf("%s %.300s", answer.Status, text)
				}
			}
		})
	}
}
