package record_test

import (
	"encoding/json"
	"errors"
	"slices"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// any random chain is whole; with any one bit of any one of its records otherwise,
// or a record left out, added or put elsewhere, it breaks at that place.
func TestChain(t *testing.T) {
	random := chance.Rand(4, 11)
	for range 300 {
		var team record.UUID
		team[0] = byte(random.Uint32())
		chain := record.Chain{Team: team}
		list := make([]record.Record, 2+random.IntN(8))
		for i := range list {
			list[i] = record.Record{Kind: "k", ByName: "n", At: time.UnixMicro(random.Int64N(1 << 50)), Content: []byte(strings.Repeat("c", 1+random.IntN(9)))}
			list[i].ID[3], list[i].By[2] = byte(i), byte(random.Uint32())
			chain.Close(&list[i])
		}
		if at := brokenAt(team, list, chain); at != 0 {
			t.Fatalf("a whole chain is broken at %d", at)
		}
		at := random.IntN(len(list))
		wrong := make([]record.Record, len(list))
		copy(wrong, list)
		r := &wrong[at]
		bit := byte(1) << random.IntN(8)
		want := int64(at + 1)
		switch random.IntN(9) {
		case 0:
			r.ID[random.IntN(16)] ^= bit
		case 1:
			r.By[random.IntN(16)] ^= bit
		case 2:
			r.At = r.At.Add(time.Microsecond)
		case 3:
			r.Content = append([]byte{r.Content[0] ^ bit}, r.Content[1:]...)
		case 4:
			r.Seal[random.IntN(32)] ^= bit
		case 5:
			// A letter goes from one text to the next: lengths are sealed too.
			r.Kind, r.ByName = "kn", ""
		case 6:
			wrong = append(wrong[:at], wrong[at+1:]...)
		case 7:
			r.Number++
		case 8:
			wrong = append(wrong, *r)
			want = int64(len(list) + 1)
		}
		if got := brokenAt(team, wrong, chain); got != want {
			t.Fatalf("broken at %d, want %d", got, want)
		}
	}
}

// brokenAt is where a chain is found broken; 0: nowhere.
func brokenAt(team record.UUID, list []record.Record, end record.Chain) int64 {
	c := record.Chain{Team: team}
	var b *record.Break
	for i := range list {
		if errors.As(c.Follow(&list[i]), &b) {
			return b.Number
		}
	}
	if errors.As(c.End(end.Number, end.Last), &b) {
		return b.Number
	}
	return 0
}

// The device's clock: noted where it is off by a minute, refused where by half a
// day; what was given is neither later than it was sent nor a month old.
func TestClock(t *testing.T) {
	arrived := time.Date(2026, 11, 24, 12, 0, 0, 0, time.UTC)
	for _, c := range []struct {
		off, waited time.Duration
		noted       int
		refused     string
	}{
		{0, 0, 0, ""}, {59 * time.Second, 0, 0, ""}, {time.Minute, 0, 60, ""}, {-time.Hour, 3 * time.Hour, -3600, ""}, {12 * time.Hour, 0, 43200, ""},
		{12*time.Hour + time.Second, 0, 43201, "/sent_at"}, {-13 * time.Hour, 0, -46800, "/sent_at"}, {0, -2 * time.Second, 0, "/e/given_at"},
		{0, 31 * 24 * time.Hour, 0, ""}, {0, 31*24*time.Hour + time.Second, 0, "/e/given_at"},
	} {
		f := &record.Facts{Arrived: arrived, Sent: arrived.Add(-c.off), Item: &gear.Item{State: gear.InService}}
		e := &record.Entry{Kind: record.Quarantine, Item: "i", GivenAt: f.Sent.Add(-c.waited).Format(time.RFC3339Nano), Quarantine: &record.Quarantined{Event: "heat"}}
		var p strict.Faults
		f.Judge(e, "/e", &p)
		refused, _ := p.Err().(*strict.Error)
		if got := f.ClockOffS(); got != c.noted || (refused == nil) != (c.refused == "") || refused != nil && refused.Faults[0].Pointer != c.refused {
			t.Errorf("off %v, waited %v: noted %d, %v", c.off, c.waited, got, refused)
		}
	}
}

// A failed check brings its quarantine, always the same one; what a record says is
// read back as it was written.
func TestFollowUp(t *testing.T) {
	e := &record.Entry{
		ID: "0b9f6a3e-7a52-4f0e-9c3b-0d1e2f3a4b5c", Kind: record.FunctionCheck, Day: "2026-11-24", Item: "backup-7", Drop: "face-4",
		Check: &record.Proved{Rope: "rope-4", Proofs: []rig.ProofResult{{Proof: "look", Did: true}, {Proof: "rolls", Note: "grinds"}}},
	}
	first, again := e.FollowUps()[0], e.FollowUps()[0]
	if first.ID != again.ID || first.ID == e.ID || first.Item != "backup-7" || first.Note != `the proof "rolls both ways" failed: grinds` || first.Quarantine.Event != "failed-check" {
		t.Errorf("%+v", first)
	}
	text, err := json.Marshal(first)
	if err != nil {
		t.Fatal(err)
	}
	var read record.Entry
	if err := strict.Read([]byte(strings.Replace(string(text), `"given_at":""`, `"given_at":"2026-11-24T08:00:00Z"`, 1)), &read); err != nil {
		t.Error(err)
	}
	e.Check.Passed = true
	if e.FollowUps() != nil {
		t.Error("a passed check has a follow-up")
	}
	said, err := json.Marshal(record.Content{Entry: *e, ClockOffS: 90, Conflict: "x"})
	var back record.Content
	if err != nil || json.Unmarshal(said, &back) != nil || back.Check.Rope != "rope-4" || back.ClockOffS != 90 || back.Conflict != "x" {
		t.Errorf("%s", said)
	}
}

// What was changed is said field by field, with units, and what is new or gone as such.
func TestChangedWords(t *testing.T) {
	c := record.Changed{Count: 7, Rows: []record.ChangedRow{
		{Kind: "item", ID: "rope-4", Before: []byte(`{"id":"rope-4","label":"rope 4","place":"store","length_m":60}`), After: []byte(`{"id":"rope-4","label":"rope 4","place":"van","length_m":58.5,"kit":"red"}`)},
		{Kind: "person", ID: "rhea", Before: []byte(`{"name":"Rhea","mass_kg":80}`), After: []byte(`{"name":"Rhea","mass_kg":82}`)},
		{Kind: "item", ID: "rope-9", After: []byte(`{"label":"rope 9"}`)},
		{Kind: "member", ID: "x", Before: []byte(`{"name":"Nils"}`)},
		{Kind: "policy", ID: "policy", Before: []byte(`{}`), After: []byte(`{"descent_speed_m_s":1.5,"raises":[` + strings.Repeat("1,", 40) + `1]}`)},
		{Kind: "model", ID: "odd", Before: []byte(`1`), After: []byte(`2`)},
	}}
	want := []string{
		"rope 4: kit – → red; length 60 → 58.5 m; place store → van", "Rhea: mass 80 → 82 kg", "rope 9: new", "Nils: taken out",
		"policy: descent speed – → 1.5 m/s; raises – → [" + strings.Repeat("1,", 29) + "1…", "model odd: ", "and 1 more",
	}
	if got := c.Words(); !slices.Equal(got, want) {
		t.Errorf("%q", got)
	}
	// Neither a row nor a letter is cut off that has room.
	long := strings.Repeat("x", 60)
	whole := record.Changed{Count: 1, Rows: []record.ChangedRow{{Kind: "item", ID: "a", Before: []byte(`{}`), After: []byte(`{"note":"` + long + `"}`)}}}
	if got := whole.Words(); !slices.Equal(got, []string{"item a: note – → " + long}) {
		t.Errorf("%q", got)
	}
}

// A record is about each thing that it names, once.
func TestSearched(t *testing.T) {
	c := record.Content{
		Entry: record.Entry{Day: "2026-11-24", Drop: "d", Item: "a", Person: "p", Paper: &record.OnPaper{By: "q"}, Check: &record.Proved{Rope: "a"}, Familiar: &record.Familiar{Model: "m"},
			Kit: &record.KitMoved{Kit: "k", Items: []string{"a", "b"}}, Worn: &record.Worn{Items: []rig.WornItem{{Item: "a"}, {Item: "w"}}}},
		Missing: []string{"c"},
		Change:  &record.Changed{Rows: []record.ChangedRow{{Kind: "model", ID: "n"}}},
	}
	text, err := json.Marshal(c)
	if err != nil {
		t.Fatal(err)
	}
	got, err := record.ReadSearched(text)
	if err != nil || got.Day != "2026-11-24" || got.Drop != "d" || got.Item != "a" || got.Person != "p" || got.Corrects != "" {
		t.Fatalf("%+v %v", got, err)
	}
	if want := []record.Subject{{"drop", "d"}, {"item", "a"}, {"model", "m"}, {"person", "p"}, {"person", "q"}, {"kit", "k"}, {"item", "b"}, {"item", "c"}, {"item", "w"}, {"model", "n"}}; !slices.Equal(got.Subjects, want) {
		t.Errorf("%v", got.Subjects)
	}
	if got, err := record.ReadSearched([]byte(`{}`)); err != nil || len(got.Subjects) != 0 {
		t.Errorf("%v %v", got, err)
	}
}

// A check that failed says why, by a proof or a note; one on a drop that is gone or for
// another day is recorded with that beside it.
func TestFailedCheck(t *testing.T) {
	now := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	item := &gear.Item{ID: "a", Label: "a", State: gear.InService}
	failed := []rig.ProofResult{{Proof: "pull"}}
	for name, c := range map[string]struct {
		note, drop string
		day        gear.Date
		proofs     []rig.ProofResult
		faults     int
		conflict   string
	}{
		"by a proof":            {proofs: failed},
		"by a note":             {note: "cracked"},
		"by both":               {note: "cracked", proofs: failed},
		"without a reason":      {faults: 1},
		"on its drop":           {note: "x", drop: "d", day: "2026-11-24"},
		"on a drop that moved":  {note: "x", drop: "d", day: "2026-11-25", conflict: "the drop is for 2026-11-25 now"},
		"on a drop that is not": {note: "x", drop: "d", conflict: "the drop no longer exists"},
	} {
		e := record.Entry{Kind: record.FunctionCheck, GivenAt: now.Format(time.RFC3339), Day: "2026-11-24", Item: "a", Drop: c.drop, Note: c.note, Check: &record.Proved{Rope: "r", Proofs: c.proofs}}
		f := &record.Facts{Arrived: now, Sent: now, Item: item, Model: &gear.Model{ID: "m", Class: gear.Descender}, Rope: item, DropDay: c.day}
		var faults strict.Faults
		conflict := f.Judge(&e, "/records/0", &faults)
		var refused *strict.Error
		n := 0
		if errors.As(faults.Err(), &refused) {
			n = len(refused.Faults)
		}
		if n != c.faults || conflict != c.conflict {
			t.Errorf("%s: %v, %q", name, faults.Err(), conflict)
		}
	}
}

// Where something is to be said, only spaces say nothing.
func TestBlank(t *testing.T) {
	now := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	say := func(words string) map[string]*record.Entry {
		return map[string]*record.Entry{
			"/destroyed/how": {Kind: record.Retirement, Item: "a", Note: "worn", Destroyed: &record.Destroyed{How: words, By: "Maren Oake"}},
			"/destroyed/by":  {Kind: record.Retirement, Item: "a", Note: "worn", Destroyed: &record.Destroyed{How: "cut", By: words}},
			"/hours/work":    {Kind: record.Hours, Person: "ivo", Hours: &record.OnRope{Hours: 1, Work: words}},
			"/incident/what": {Kind: record.Incident, Incident: &record.Happened{What: words}},
			"/recall/source": {Kind: record.RecallNotice, Recall: &record.Recalled{Source: words}},
			"/note":          {Kind: record.Withdrawal, Corrects: "x", Note: words},
		}
	}
	for words, want := range map[string]bool{" \t\n": true, " x ": false} {
		for at, e := range say(words) {
			e.GivenAt, e.Day = now.Format(time.RFC3339), "2026-11-24"
			f := &record.Facts{Arrived: now, Sent: now}
			var faults strict.Faults
			f.Judge(e, "", &faults)
			var refused *strict.Error
			got := errors.As(faults.Err(), &refused) && slices.ContainsFunc(refused.Faults, func(f strict.Fault) bool { return f.Pointer == at })
			if got != want {
				t.Errorf("%q at %s: refused %v, want %v: %v", words, at, got, want, faults.Err())
			}
		}
	}
}

// A check from paper says who did it, somebody of the team and not whose rigging it is, and when,
// before it was typed. Proofs are signed at once by who is familiar with the model, all passed.
func TestPaperAndTogether(t *testing.T) {
	now := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	item := &gear.Item{ID: "a", Label: "a", State: gear.InService}
	paper := func(by string, at time.Time) *record.OnPaper {
		return &record.OnPaper{By: by, At: at.Format(time.RFC3339)}
	}
	device := func(passed bool, way string) *record.Proved {
		return &record.Proved{Rope: "r", Passed: passed, Way: way, Proofs: []rig.ProofResult{{Proof: "pull", Did: passed}}}
	}
	for name, c := range map[string]struct {
		kind     record.Kind
		paper    *record.OnPaper
		check    *record.Proved
		then     string
		familiar bool
		at       string
	}{
		"typed at once":           {record.FunctionCheck, paper("maren", now), device(true, ""), "", false, ""},
		"typed a month later":     {record.FunctionCheck, paper("maren", now.Add(-record.Oldest)), device(true, ""), "", false, ""},
		"typed later than that":   {record.FunctionCheck, paper("maren", now.Add(-record.Oldest-time.Second)), device(true, ""), "", false, "/paper/at"},
		"typed before":            {record.FunctionCheck, paper("maren", now.Add(time.Second)), device(true, ""), "", false, "/paper/at"},
		"by nobody of the team":   {record.FunctionCheck, paper("stranger", now), device(true, ""), "", false, "/paper/by"},
		"of something else":       {record.Quarantine, paper("maren", now), nil, "", false, "/paper"},
		"partner, by another":     {record.PartnerCheck, paper("maren", now), nil, "rigging", false, ""},
		"partner, by oneself":     {record.PartnerCheck, paper("ivo", now), nil, "rigging", false, "/paper/by"},
		"partner, rigged since":   {record.PartnerCheck, paper("maren", now), nil, "another", false, "/paper/at"},
		"partner, before the rig": {record.PartnerCheck, paper("maren", now), nil, "", false, "/paper/at"},
		"partner, on a screen":    {record.PartnerCheck, nil, nil, "", false, ""},
		"together, familiar":      {record.FunctionCheck, nil, device(true, record.Together), "", true, ""},
		"together, not familiar":  {record.FunctionCheck, nil, device(true, record.Together), "", false, "/check/way"},
		"together, one failed":    {record.FunctionCheck, nil, device(false, record.Together), "", true, "/check/way"},
		"together, from paper":    {record.FunctionCheck, paper("maren", now), device(true, record.Together), "", true, "/check/way"},
	} {
		e := record.Entry{Kind: c.kind, GivenAt: now.Format(time.RFC3339), Day: "2026-11-24", Item: "a", Paper: c.paper, Check: c.check}
		switch c.kind {
		case record.PartnerCheck:
			e.Item, e.Person, e.Drop, e.Partner = "", "ivo", "d", &record.Touched{Rigging: "rigging", Passed: true}
		case record.Quarantine:
			e.Quarantine = &record.Quarantined{Event: "dropped"}
		}
		f := &record.Facts{Signer: record.Signer{Person: "dov"}, Arrived: now, Sent: now, Item: item, Model: &gear.Model{ID: "m", Class: gear.Descender}, Rope: item, DropDay: "2026-11-24", Rigging: "rigging", RiggingThen: c.then, Familiar: c.familiar}
		if c.paper != nil && c.paper.By != "stranger" {
			f.Paper = &rig.Member{ID: c.paper.By, Name: "Maren Oake"}
		}
		var faults strict.Faults
		f.Judge(&e, "", &faults)
		var refused *strict.Error
		got := ""
		if errors.As(faults.Err(), &refused) {
			got = refused.Faults[0].Pointer
		}
		if got != c.at || refused != nil && len(refused.Faults) != 1 {
			t.Errorf("%s: %v, want %q", name, faults.Err(), c.at)
		}
	}
	said := record.Content{Entry: record.Entry{GivenAt: "2026-11-24T09:00:00Z", Check: device(true, "")}, ClockOffS: 120}
	for _, c := range []struct {
		paper        *record.OnPaper
		done, device string
		by           string
		at           time.Time
	}{
		{nil, "", "", "Dov Pellister", now.Add(2 * time.Minute)},
		{nil, "", "Ivo Kestrane", "Dov Pellister, on the device of Ivo Kestrane", now.Add(2 * time.Minute)},
		{paper("maren", now.Add(-time.Hour)), "Maren Oake", "", "Maren Oake, on paper, typed by Dov Pellister", now.Add(-time.Hour)},
	} {
		said.Paper, said.DoneBy, said.OnDeviceOf = c.paper, c.done, c.device
		if got := said.FunctionCheckBy("Dov Pellister").By; got != c.by || !said.DoneAt().Equal(c.at) {
			t.Errorf("by %q at %v, want %q at %v", got, said.DoneAt(), c.by, c.at)
		}
	}
}
