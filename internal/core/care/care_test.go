package care_test

import (
	"errors"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/care"
	"zealousknot/internal/core/gear"
)

// Every point of every class has a title, and no title is of no point.
func TestPointTitles(t *testing.T) {
	used := map[string]bool{}
	for _, c := range gear.Classes() {
		for _, p := range care.Points(&gear.Model{Class: c}) {
			if used[p.ID] = true; care.PointTitles[p.ID] == "" {
				t.Errorf("%s: the point %s has no title", c, p.ID)
			}
		}
	}
	for id := range care.PointTitles {
		if !used[id] {
			t.Errorf("the title of %s is of no point", id)
		}
	}
	if got := care.PointTitle("leaflet-3"); got != "point 3 of the leaflet" {
		t.Error(got)
	}
}

// Every single wrong symbol and every two swapped neighbours of a code are refused.
func TestCodes(t *testing.T) {
	const all = "0123456789ABCDEFGHJKMNPQRSTVWXYZ*~$=U"
	r := chance.Rand(19, 1)
	for range 300 {
		code := care.Code(r.Int64N(care.Codes))
		for _, way := range []string{code, strings.ToLower(code), "https://elsewhere.example/i/" + code, " " + code[:3] + "-" + code[3:] + " "} {
			if got, err := care.ReadCode(way); err != nil || got != code {
				t.Fatalf("%q is read as %q, %v", way, got, err)
			}
		}
		for i := range care.CodeLen {
			for _, s := range all {
				wrong := code[:i] + string(s) + code[i+1:]
				if got, err := care.ReadCode(wrong); (err == nil) != (wrong == code) {
					t.Fatalf("%q for %q: %q %v", wrong, code, got, err)
				}
			}
			if i == 0 {
				continue
			}
			swapped := code[:i-1] + string(code[i]) + string(code[i-1]) + code[i+1:]
			if _, err := care.ReadCode(swapped); (err == nil) != (swapped == code) {
				t.Fatalf("%q for %q is taken", swapped, code)
			}
		}
	}
	for text, want := range map[string]error{"": care.ErrNoCode, "00000": care.ErrNoCode, "000000U": care.ErrMisread, "0000000": nil, "OOOOOO0": nil, "00000U0": care.ErrNoCode, "0000001": care.ErrMisread} {
		if _, err := care.ReadCode(text); !errors.Is(err, want) {
			t.Errorf("%q: %v", text, err)
		}
	}
}

func FuzzReadCode(f *testing.F) {
	f.Add("0000000")
	f.Add("https://host/i/0000000?x")
	f.Fuzz(func(t *testing.T, text string) {
		code, err := care.ReadCode(text)
		if err != nil {
			return
		}
		if again, err := care.ReadCode(code); err != nil || again != code {
			t.Errorf("%q is read as %q, which is read as %q, %v", text, code, again, err)
		}
	})
}

// Everything that is examined has points of its own; the leaflet's take the place of its
// class's.
func TestPoints(t *testing.T) {
	for _, c := range gear.Classes() {
		seen := map[string]bool{}
		list := care.Points(&gear.Model{Class: c})
		for _, p := range list {
			if seen[p.ID] || p.ID == "" || len(p.Text) < 10 {
				t.Errorf("%s: %+v", c, p)
			}
			seen[p.ID] = true
		}
		if len(list) < 3 {
			t.Errorf("%s has %d points", c, len(list))
		}
	}
	list := care.Points(&gear.Model{Class: gear.Rope, Examine: []string{"weigh it"}})
	if n := len(list); n != 3 || list[n-1].Text != "weigh it" || list[n-1].ID != "leaflet-1" {
		t.Errorf("%+v", list)
	}
}

// What is due, on which day and by what; and which drops that blocks.
func TestDueUntil(t *testing.T) {
	models := []gear.Model{
		{ID: "six", Class: gear.Connector, Name: "six", Maker: "m", ExaminationMonths: 6}, {ID: "none", Class: gear.Connector, Name: "none", Maker: "m"},
		{ID: "long", Class: gear.Connector, Name: "long", Maker: "m", ExaminationMonths: 24}, {ID: "lives", Class: gear.Gloves, Name: "lives", Maker: "m", Life: &gear.Life{FromFirstUseYears: 1}},
	}
	in := func(model string, i gear.Item) gear.Item {
		i.ID, i.Label, i.Model, i.State = "i", "i", model, gear.InService
		return i
	}
	planned := []care.PlannedDrop{{Drop: "d", Name: "D", Day: "2026-12-01"}}
	for name, c := range map[string]struct {
		item    gear.Item
		on, by  gear.Date
		kind    string
		blocked bool
	}{
		"the leaflet's six months":                   {in("six", gear.Item{ExaminedOn: "2026-05-31"}), "2026-11-30", gear.DueByLeaflet, care.Examination, true},
		"harsh use, which is shorter than any":       {in("six", gear.Item{ExaminedOn: "2026-08-31", HarshMonths: 3}), "2026-11-30", gear.DueByUse, care.Examination, true},
		"harsh use, which is longer":                 {in("six", gear.Item{ExaminedOn: "2026-05-31", HarshMonths: 7}), "2026-11-30", gear.DueByLeaflet, care.Examination, true},
		"harsh use, as long as the team's":           {in("none", gear.Item{ExaminedOn: "2026-05-31", HarshMonths: 12}), "2027-05-31", gear.DueByTeam, care.Examination, false},
		"on the day itself nothing is blocked":       {in("six", gear.Item{ExaminedOn: "2026-06-01"}), "2026-12-01", gear.DueByLeaflet, care.Examination, false},
		"the team's twelve, which is less than 24":   {in("long", gear.Item{ExaminedOn: "2026-01-15"}), "2027-01-15", gear.DueByTeam, care.Examination, false},
		"a month that ends before its day":           {in("six", gear.Item{ExaminedOn: "2026-08-31"}), "2027-02-28", gear.DueByLeaflet, care.Examination, false},
		"a leap day":                                 {in("none", gear.Item{ExaminedOn: "2024-02-29"}), "2025-02-28", gear.DueByTeam, care.Examination, true},
		"into a leap year":                           {in("six", gear.Item{ExaminedOn: "2027-08-31"}), "2028-02-29", gear.DueByLeaflet, care.Examination, false},
		"the examiner's own day, which is first":     {in("long", gear.Item{ExaminedOn: "2026-01-15", AgainBy: "2026-11-20"}), "2026-11-20", gear.DueByExaminer, care.Examination, true},
		"the examiner's own day, which is last":      {in("six", gear.Item{ExaminedOn: "2026-06-15", AgainBy: "2027-01-20"}), "2026-12-15", gear.DueByLeaflet, care.Examination, false},
		"a guest's paper":                            {in("six", gear.Item{ExaminedOn: "2026-09-15", Guest: &gear.Guest{ValidUntil: "2026-11-28"}}), "2026-11-28", gear.DueByPaper, care.Examination, true},
		"from first use, where nobody examined it":   {in("six", gear.Item{FirstUsedOn: "2026-06-15", MadeOn: "2020-01-01"}), "2026-12-15", gear.DueByLeaflet, care.Examination, false},
		"before first use, whenever it was made":     {in("six", gear.Item{MadeOn: "2020-01-01"}), "", gear.DueBeforeUse, care.Examination, true},
		"the end of a life, of what is not examined": {in("lives", gear.Item{FirstUsedOn: "2025-12-20"}), "2026-12-20", "life from first use", care.EndOfLife, false},
	} {
		list := care.DueUntil([]gear.Item{c.item}, gear.ModelsByID(models), 12, "2026-11-28", "2028-12-31", map[string][]care.PlannedDrop{"i": planned})
		if len(list) != 1 || list[0].On != c.on || list[0].By != string(c.by) || list[0].Kind != c.kind || (len(list[0].Blocks) > 0) != c.blocked {
			t.Errorf("%s: %+v", name, list)
		}
		if c.on == "" {
			if list := care.DueUntil([]gear.Item{c.item}, gear.ModelsByID(models), 12, "2026-11-28", "2028-12-31", nil); len(list) != 0 {
				t.Errorf("%s: on no drop, and due: %+v", name, list)
			}
			continue
		}
		for until, want := range map[gear.Date]int{c.on: 1, c.on.AddDays(-1): 0} {
			if list := care.DueUntil([]gear.Item{c.item}, gear.ModelsByID(models), 12, "2026-11-28", until, nil); len(list) != want {
				t.Errorf("%s, until %s: %+v", name, until, list)
			}
		}
		stopped := c.item
		stopped.State = gear.Quarantine
		if list := care.DueUntil([]gear.Item{stopped}, gear.ModelsByID(models), 12, "2026-11-28", "2028-12-31", nil); len(list) != 0 {
			t.Errorf("%s: stopped, and due: %+v", name, list)
		}
	}
	// Of what nobody can say the day, that is said: it is not among what is not due.
	both := gear.Model{ID: "both", Class: gear.Connector, Name: "both", Maker: "m", Life: &gear.Life{FromMadeYears: 10, FromFirstUseYears: 5}}
	models = append(models, both)
	for name, c := range map[string]struct {
		item gear.Item
		want string
	}{
		"no day at all":                        {in("six", gear.Item{}), "examination: " + care.NoDate},
		"made, not used: before use":           {in("six", gear.Item{MadeOn: "2026-01-01"}), ""},
		"no day at all, and a life":            {in("both", gear.Item{}), "end-of-life: when it was made; examination: " + care.NoDate},
		"used, not known when made":            {in("both", gear.Item{FirstUsedOn: "2026-11-01"}), "end-of-life: when it was made"},
		"made long ago, not known when used":   {in("both", gear.Item{MadeOn: "2021-12-01", ExaminedOn: "2026-11-01"}), "end-of-life: when it was first used"},
		"made lately, not known when used":     {in("both", gear.Item{MadeOn: "2022-01-01", ExaminedOn: "2026-11-01"}), ""},
		"made long ago, and waits for its use": {in("both", gear.Item{MadeOn: "2020-12-01"}), ""},
		"gloves without a day":                 {in("lives", gear.Item{}), "end-of-life: when it was first used"},
		"retired":                              {gear.Item{Model: "six", State: gear.Retired}, ""},
	} {
		var said []string
		for _, d := range care.DueUntil([]gear.Item{c.item}, gear.ModelsByID(models), 12, "2026-11-28", "2026-12-31", nil) {
			if d.Missing != "" && d.On == "" && d.By == "" {
				said = append(said, d.Kind+": "+d.Missing)
			}
		}
		if got := strings.Join(said, "; "); got != c.want {
			t.Errorf("%s: %q, want %q", name, got, c.want)
		}
	}
}
