package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http/httptest"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/demo"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/store"
)

// classText is a class of two exercises.
func classText(name string) string {
	return fmt.Sprintf(`{"format":"class","version":1,"name":%q,"due":"2026-12-01","exercises":[{"kind":"faults","level":1,"seed":5},{"kind":"apart","level":1,"seed":3}],"people":["ivo","rhea"]}`, name)
}

const classID = "4b1c7d2e-3333-4444-8555-666677778888"

// exercised is an exercise with its answers, from the demo's gear.
func exercised(t testing.TB, kind drill.Kind, seed int64) *drill.Exercise {
	t.Helper()
	e, err := (&drill.Asked{Kind: kind, Seed: seed, Level: 1, Gear: demo.Gear(), Answers: true}).Make(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	return e
}

// gaveMark gives an answer, and what it was worth.
func gaveMark(t testing.TB, site *httptest.Server, n int, e *drill.Exercise, a drill.Answer, more string) *drill.Mark {
	t.Helper()
	body := fmt.Sprintf(`{"id":%q,"exercise":%s,"answer":%s%s}`, markID(n), asJSON(t, e), asJSON(t, a), more)
	answer, text := call(t, "POST", site.URL+"/api/v1/practice/marks", []byte(body))
	var out struct{ Mark *drill.Mark }
	if answer.StatusCode != 200 || json.Unmarshal(text, &out) != nil {
		t.Fatalf("%s %s", answer.Status, text)
	}
	return out.Mark
}

func markID(n int) string { return fmt.Sprintf("5f9d3b1c-0000-4000-8000-%012d", n) }

func marksOf(t testing.TB, site *httptest.Server, query string) []store.MarkLine {
	t.Helper()
	return read[struct{ Marks []store.MarkLine }](t, site.URL+"/api/v1/practice/marks"+query).Marks
}

func skillsOf(t testing.TB, site *httptest.Server, person string) []rig.Practised {
	t.Helper()
	people := read[struct {
		People []struct {
			Person    string
			Practised []rig.Practised
		}
	}](t, site.URL+"/api/v1/practice/skills").People
	return people[slices.IndexFunc(people, func(p struct {
		Person    string
		Practised []rig.Practised
	}) bool {
		return p.Person == person
	})].Practised
}

// An answer is marked by the server, whatever is sent with it, and kept once. Mistakes are seen
// by oneself and the trainer; full marks are recorded as practised on a screen, and nothing else
// is. A trainer makes classes, and sees who stands where.
func TestPractice(t *testing.T) {
	h := newHouse(t)
	ivo, rhea, maren, dov, reader := h.as(t, "ivo"), h.as(t, "rhea"), h.as(t, "maren"), h.as(t, "dov"), h.as(t, "sunniva")
	const class = "/api/v1/practice/classes/" + classID
	refused(t, 403, "", "PUT", dov.URL+class, []byte(classText("Evening")), "If-Match", `"0"`)
	refused(t, 422, "/exercises/0/level", "PUT", maren.URL+class, []byte(strings.Replace(classText("Evening"), `"level":1`, `"level":5`, 1)), "If-Match", `"0"`)
	if answer, text := call(t, "PUT", maren.URL+class, []byte(classText("Evening")), "If-Match", `"0"`); answer.StatusCode != 200 {
		t.Fatalf("%s %s", answer.Status, text)
	}
	refused(t, 412, "", "PUT", maren.URL+class, []byte(classText("Other")), "If-Match", `"0"`)

	faults, apart := exercised(t, drill.Faults, 5), exercised(t, drill.Apart, 3)
	of := `,"class":"` + classID + `","listed":`
	wrong := drill.Answer{Faults: []drill.Named{{Rule: "body.ground", Subject: drill.Pointed{ID: drill.Learner}}}}
	if m := gaveMark(t, ivo, 1, faults, wrong, of+"0"); m.Score == 1 || len(m.FalseAlarms) != 1 {
		t.Errorf("a false alarm gets %+v", m)
	}
	right := drill.Answer{}
	for _, f := range faults.Answers.Faults {
		right.Faults = append(right.Faults, drill.Named{Rule: f.Rule, Subject: drill.Pointed{Kind: f.Subject.Kind, ID: f.Subject.ID}})
	}
	for range 2 { // a lost answer is sent again
		if m := gaveMark(t, rhea, 2, faults, right, of+"0"); m.Score != 1 {
			t.Errorf("the right answer gets %+v", m)
		}
	}
	gaveMark(t, rhea, 3, apart, drill.Answer{Option: apart.Answers.Option}, of+"1")
	refused(t, 409, "", "POST", ivo.URL+"/api/v1/practice/marks", fmt.Appendf(nil, `{"id":%q,"exercise":%s,"answer":{"option":"a"}}`, markID(2), asJSON(t, apart)))
	refused(t, 403, "", "POST", reader.URL+"/api/v1/practice/marks", fmt.Appendf(nil, `{"id":%q,"exercise":%s,"answer":{"option":"a"}}`, markID(9), asJSON(t, apart)))

	for who, c := range map[*httptest.Server]int{ivo: 1, rhea: 2, maren: 3, dov: 0} {
		if list := marksOf(t, who, "?class="+classID); len(list) != c {
			t.Errorf("%d marks are seen, not %d: %+v", len(list), c, list)
		}
	}
	// A class that is changed keeps the results of what is still in it, wherever that stands; an
	// answer to anything else is nobody's result.
	gaveMark(t, ivo, 4, exercised(t, drill.Faults, 6), drill.Answer{}, of+"0")
	for n, exercises := range []string{`{"kind":"faults","level":1,"seed":5},{"kind":"apart","level":1,"seed":3}`, `{"kind":"apart","level":1,"seed":3},{"kind":"faults","level":2,"seed":5}`} {
		if n > 0 {
			text := strings.Replace(classText("Evening"), `{"kind":"faults","level":1,"seed":5},{"kind":"apart","level":1,"seed":3}`, exercises, 1)
			if answer, text := call(t, "PUT", maren.URL+class, []byte(text), "If-Match", `"1"`); answer.StatusCode != 200 {
				t.Fatalf("%s %s", answer.Status, text)
			}
		}
		for _, m := range marksOf(t, maren, "?class="+classID) {
			want := map[string][]int32{markID(1): {0, -1}, markID(2): {0, -1}, markID(3): {1, 0}, markID(4): {-1, -1}}[m.ID][n]
			if got := m.Listed; (got == nil) != (want < 0) || got != nil && *got != want {
				t.Errorf("version %d: %s of %s stands at %v, not %d", n+1, m.Kind, m.By, got, want)
			}
		}
	}
	refused(t, 404, "", "GET", rhea.URL+"/api/v1/practice/marks/"+markID(1), nil)
	refused(t, 404, "", "GET", dov.URL+"/api/v1/practice/marks/"+markID(1), nil)
	for _, who := range []*httptest.Server{ivo, maren} {
		if m := read[struct{ Mark drill.Mark }](t, who.URL+"/api/v1/practice/marks/"+markID(1)); len(m.Mark.FalseAlarms) != 1 {
			t.Errorf("the mark is %+v", m)
		}
	}
	screens := func(person string) []rig.Practised {
		return slices.DeleteFunc(skillsOf(t, dov, person), func(p rig.Practised) bool { return p.How != rig.OnScreen })
	}
	if got := screens("ivo"); len(got) != 0 {
		t.Errorf("with a mistake somebody has practised %v", got)
	}
	if got := screens("rhea"); len(got) != 2 {
		t.Errorf("with full marks somebody has practised %v", got)
	}
	lines := read[struct{ Records []store.RecordLine }](t, dov.URL+"/api/v1/people/rhea/log").Records
	if n := count(lines, record.Practice); n != 2+2 { // the demo has two
		t.Errorf("%d records of practice", n)
	}
	team, err := h.store.TeamNamed(t.Context(), demo.Team)
	if err != nil {
		t.Fatal(err)
	}
	archived := func(marks bool) string {
		var b bytes.Buffer
		if err := h.store.Export(t.Context(), team, &b, time.Now(), marks); err != nil {
			t.Fatal(err)
		}
		return b.String()
	}
	if !strings.Contains(archived(true), "marks.jsonl") || strings.Contains(archived(false), "marks.jsonl") || !strings.Contains(archived(false), "classes.jsonl") {
		t.Error("the archive has marks for whom they are not, or has none")
	}
	// The whole team somewhere else: what was practised comes from its records.
	whole := archived(true)
	there := pgtest.Store(t)
	if _, err := there.Import(t.Context(), strings.NewReader(whole), int64(len(whole)), store.Import{}); err != nil {
		t.Fatal(err)
	}
	was, err := h.store.Practised(t.Context(), team.ID)
	if err != nil {
		t.Fatal(err)
	}
	if is, err := there.Practised(t.Context(), team.ID); err != nil || !reflect.DeepEqual(is, was) || len(is["rhea"]) != 4 {
		t.Errorf("after an import %v was practised, not %v; %v", is, was, err)
	}
	if list, err := there.Marks(t.Context(), team.ID, uuid.Nil, true, nil); err != nil || len(list) != 4 {
		t.Errorf("%d marks after an import, %v", len(list), err)
	}
	if list, err := there.Classes(t.Context(), team.ID); err != nil || len(list) != 1 || list[0].Class.Name != "Evening" {
		t.Errorf("the classes after an import: %v, %v", list, err)
	}
	answer, sheet := call(t, "POST", ivo.URL+"/api/v1/practice/sheet.pdf", []byte(`{"kind":"faults","seed":4,"level":2}`))
	if answer.StatusCode != 200 || !bytes.HasPrefix(sheet, []byte("%PDF")) {
		t.Errorf("the sheet: %s %.80s", answer.Status, sheet)
	}
	refused(t, 403, "", "DELETE", dov.URL+class, nil, "If-Match", `"1"`)
	if answer, text := call(t, "DELETE", maren.URL+class, nil, "If-Match", `"2"`); answer.StatusCode != 204 {
		t.Errorf("%s %s", answer.Status, text)
	}
	if list := marksOf(t, maren, ""); len(list) != 4 {
		t.Errorf("without the class %d marks are left", len(list))
	}
}

func count(lines []store.RecordLine, kind record.Kind) (n int) {
	for i := range lines {
		if lines[i].Says.Kind == kind {
			n++
		}
	}
	return n
}

// What was practised on ropes is signed by a trainer, of others; it reaches the drops that count
// on it, goes stale by the policy, and is gone when its record is withdrawn.
func TestSkills(t *testing.T) {
	h := newHouse(t)
	maren, dov := h.as(t, "maren"), h.as(t, "dov")
	practised := func(person, skill, how, day string) string {
		return fmt.Sprintf(`"kind":"practice","day":%q,"person":%q,"practice":{"skill":%q,"how":%q}`, day, person, skill, how)
	}
	refused(t, 403, "/records/0/kind", "POST", dov.URL+"/api/v1/records", batch(practised("ivo", "knot-pass", "ground", "2026-11-20")))
	refused(t, 403, "/records/0/practice/how", "POST", maren.URL+"/api/v1/records", batch(practised("maren", "knot-pass", "screen", "2026-11-20")))
	for what, entry := range map[string]string{
		"/person":         practised("maren", "knot-pass", "ground", "2026-11-20"),
		"/practice/skill": practised("ivo", "juggling", "ground", "2026-11-20"),
		"/practice":       `"kind":"practice","day":"2026-11-20","person":"ivo"`,
	} {
		if _, text := call(t, "POST", maren.URL+"/api/v1/records", batch(entry)); !strings.Contains(string(text), `"state":"refused"`) || !strings.Contains(string(text), `/records/0`+what) {
			t.Errorf("%s: %s", what, text)
		}
	}
	// Who practised a kind of a skill practised the skill, not its other kinds; the generations of
	// the winding descender are those of the team's models.
	for skill, want := range map[string]string{"function-check-descender": "kept", "winding-second": "kept", "function-check-harness": "refused"} {
		if _, text := call(t, "POST", maren.URL+"/api/v1/records", batch(practised("rhea", skill, "ground", "2026-11-20"))); !strings.Contains(string(text), `"state":"`+want) {
			t.Errorf("%s: %s", skill, text)
		}
	}
	// Until when a skill counts is the policy's: of rescues sooner, and never by a screen.
	people := read[struct {
		People []struct {
			Person string
			Stands []struct {
				Skill, Until string
				Stale        bool
			}
		}
	}](t, maren.URL+"/api/v1/practice/skills").People
	until := map[string]string{}
	for _, p := range people {
		for _, s := range p.Stands {
			until[p.Person+" "+s.Skill] = s.Until
		}
	}
	if until["rhea function-check"] != "2027-11-20" || until["rhea function-check-descender"] != "2027-11-20" || until["rhea function-check-ascender"] != "" || until["rhea winding"] != "2027-05-20" {
		t.Errorf("kinds count until %v", until)
	}
	if until["ivo pick-off"] != "2026-09-02" || until["ivo knot-pass"] != "2027-05-12" || until["maren knot-pass"] != "" {
		t.Errorf("skills count until %v", until)
	}
	// Ivo's plan in the shaft has a knot pass; Dov stands by on Face 7.
	stale := func() (found []string) {
		for id, site := range map[string]string{"gate-shaft": "ivo", "face-7": "dov"} {
			var got struct{ Document *drop.Document }
			_, text := call(t, "GET", maren.URL+"/api/v1/drops/"+id, nil)
			if err := json.Unmarshal(text, &got); err != nil || got.Document == nil {
				got.Document = new(drop.Document)
				if err := json.Unmarshal(text, got.Document); err != nil {
					t.Fatal(err)
				}
			}
			report, err := check.Drop(t.Context(), got.Document, nil, check.FindingsOnly)
			if err != nil {
				t.Fatal(err)
			}
			for _, f := range report.Findings {
				if f.Rule == "person.practised" && f.Severity == finding.Look {
					found = append(found, f.Subject.Person+" "+site)
				}
			}
			if r := got.Document.Rescue; r != nil {
				found = append(found, "rescuer "+string(r.Rescuers[0].LastPickOff(got.Document.People)))
			}
		}
		slices.Sort(found)
		return found
	}
	if got := stale(); !slices.Equal(got, []string{"rescuer 2026-08-03"}) {
		t.Errorf("before any record: %v", got)
	}
	sent := send(t, maren.URL, batch(practised("ivo", "changeover", "ground", "2025-11-20"), practised("dov", "pick-off", "run", "2026-09-01")))
	for _, o := range sent {
		if o.State != "kept" {
			t.Fatalf("%+v", sent)
		}
	}
	if got := stale(); !slices.Equal(got, []string{"ivo ivo", "rescuer 2026-09-01"}) {
		t.Errorf("with a changeover a year and four days ago: %v", got)
	}
	send(t, maren.URL, batch(practised("ivo", "changeover", "run", "2026-11-01")))
	if got := stale(); !slices.Equal(got, []string{"rescuer 2026-09-01"}) {
		t.Errorf("with one this month: %v", got)
	}
	if got := skillsOf(t, dov, "ivo"); len(got) != 4 || got[0].How == got[1].How {
		t.Errorf("ground and run are mixed up: %v", got)
	}
	id := sent[1].ID
	if out := send(t, maren.URL, batch(`"kind":"withdrawal","day":"2026-11-24","note":"it was somebody else","corrects":"`+id+`"`)); out[0].State != "kept" {
		t.Fatalf("%+v", out)
	}
	if got := stale(); !slices.Contains(got, "rescuer 2026-08-03") {
		t.Errorf("after it was withdrawn: %v", got)
	}
}
