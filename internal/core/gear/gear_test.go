package gear

import (
	"fmt"
	"math/rand/v2"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"testing"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/strict"
)

func TestDates(t *testing.T) {
	for _, c := range []struct{ got, want Date }{
		{Date("2026-08-31").AddMonths(6), "2027-02-28"},
		{Date("2027-08-31").AddMonths(6), "2028-02-29"},
		{Date("2026-11-24").AddMonths(14), "2028-01-24"},
		{Date("2016-02-29").AddYears(1), "2017-02-28"},
		{Date("2016-11-24").AddYears(10), "2026-11-24"},
		{Date("2026-01-01").AddYears(0.5), "2026-07-02"},
		{Date("").AddYears(1), ""},
	} {
		if c.got != c.want {
			t.Errorf("got %q, want %q", c.got, c.want)
		}
	}
	if d, ok := Date("2026-11-24").DaysTo("2026-12-02"); d != 8 || !ok {
		t.Errorf("got %v %v, want 8", d, ok)
	}
}

// The ids that schemas and reader are made of name every class, once.
func TestEveryClassIsListed(t *testing.T) {
	ids := Class("").Enum()
	for _, c := range Classes() {
		if !slices.Contains(ids, string(c)) {
			t.Errorf("%s is not listed", c)
		}
		if c.Words() == "" {
			t.Errorf("%s has no words", c)
		}
	}
	if len(ids) != len(Classes()) {
		t.Errorf("%d are listed, of %d classes", len(ids), len(Classes()))
	}
}

// Every class asks for the parts it needs and refuses those of others.
func TestValidateParts(t *testing.T) {
	for _, c := range Classes() {
		var bare, full strict.Faults
		(&Model{ID: "m", Class: c}).Validate("", &bare)
		whole := &Model{ID: "m", Class: c, LengthM: 1, Rope: &RopeModel{}, Device: &Device{}, Backup: &Backup{}, Pulley: &PulleyModel{}, Winding: &Winding{},
			Connector: &ConnectorModel{}, Absorber: &AbsorberModel{}, Harness: &HarnessModel{}, Hitch: &HitchModel{}, Evacuation: &EvacuationModel{}}
		whole.Validate("", &full)
		info := classes[c]
		if got := faults(bare.Err()); got != len(info.needs) {
			t.Errorf("%s without parts: %d faults, want %d", c, got, len(info.needs))
		}
		if got, want := faults(full.Err()), 11-len(info.needs)-len(info.may); got != want {
			t.Errorf("%s with every part: %d faults, want %d", c, got, want)
		}
	}
}

func faults(err error) int {
	if err == nil {
		return 0
	}
	return len(err.(*strict.Error).Faults)
}

func TestCompare(t *testing.T) {
	a := &Model{ID: "a", Class: Descender, Maker: "M", Name: "one", MassG: 500, Source: "s", Device: &Device{
		Modes: []Mode{{Name: "single", Persons: 1, MaxKg: 150, Ropes: []RopeRange{{Constructions: []Construction{LowStretchA}, MinMM: 9, MaxMM: 11}}}},
	}}
	b := &Model{ID: "b", Class: Descender, Maker: "M", Name: "two", MassG: 500, Source: "s", Device: &Device{
		Modes: []Mode{{Name: "lone", Persons: 1, MaxKg: 160, Ropes: a.Device.Modes[0].Ropes}}, ButtonToMove: true,
	}}
	rows := Compare([]*Model{a, b})
	want := map[string][]string{"name": {"one", "two"}, "for one person, max": {"150 kg", "160 kg"}, "for one person, mode": {"single", "lone"}, "button to move": {"", "yes"}}
	for i, r := range rows {
		values, differs := want[r.Label]
		if r.Differs != differs || r.Differs && !reflect.DeepEqual(r.Values, values) {
			t.Errorf("%+v, want %v", r, values)
		}
		if r.Differs && i >= len(want) {
			t.Errorf("%s differs and stands at place %s", r.Label, strconv.Itoa(i))
		}
	}
	if len(rows) < 6 {
		t.Errorf("only %d rows", len(rows))
	}
}

func TestHarm(t *testing.T) {
	d := &Device{Teeth: []TeethLimit{{8, 3}, {11, 5}, {10, 4}}}
	for rope, want := range map[float64]float64{8: 3, 9.9: 3, 10: 4, 10.9: 4, 13: 5} {
		if got, ok := d.Harm(quantity.Millimetres(rope)); !ok || float64(got.HarmKN) != want {
			t.Errorf("%v mm: got %v, want %v", rope, got.HarmKN, want)
		}
	}
	if _, ok := d.Harm(7.9); ok {
		t.Error("a rope thinner than any listed has a figure")
	}
}

// A seal stands for what was counted: not where the store has more or less in the kit since, or
// something in it was stopped.
func TestSealUndone(t *testing.T) {
	items := func(states ...State) (list []Item) {
		for i, s := range states {
			list = append(list, Item{ID: fmt.Sprint(i), Label: fmt.Sprint("thing ", i), Kit: "k", State: s})
		}
		list[0].Noted = &Noted{MostMM: 11}
		return append(list, Item{ID: "x", Label: "rope x", Kit: "other", State: Quarantine})
	}
	hurt := items(InService, InService)
	hurt[1].Noted = &Noted{Damage: []Stretch{{FromM: 3}}}
	for name, c := range map[string]struct {
		kit   Kit
		items []Item
		want  string
	}{
		"one damaged":    {Kit{Seal: &Seal{Items: 2}, Wanted: []KitLine{{Count: 2}}}, hurt, "thing 1 in it has damage on its map"},
		"as counted":     {Kit{Seal: &Seal{Items: 2}}, items(InService, InService), ""},
		"one put in":     {Kit{Seal: &Seal{Items: 1}}, items(InService, InService), "1 were counted, and the store has 2 in it"},
		"one taken out":  {Kit{Seal: &Seal{Items: 3}}, items(InService, InService), "3 were counted, and the store has 2 in it"},
		"one retired":    {Kit{Seal: &Seal{Items: 2}}, items(InService, Retired), "2 were counted, and the store has 1 in it"},
		"one stopped":    {Kit{Seal: &Seal{Items: 2}}, items(InService, Quarantine), "thing 1 in it is in quarantine"},
		"one missing":    {Kit{Seal: &Seal{Items: 1}, Missing: []string{"1"}}, items(InService, Quarantine), ""},
		"without a seal": {Kit{}, items(InService, Quarantine), ""},
		"those counted":  {Kit{Seal: &Seal{Items: 2, Counted: []string{"0", "1"}}}, items(InService, InService), ""},
		"exchanged":      {Kit{Seal: &Seal{Items: 2, Counted: []string{"1", "x"}}}, items(InService, InService), "thing 0 is in it, and was not counted"},
		"moved away":     {Kit{Seal: &Seal{Items: 3, Counted: []string{"0", "1", "x"}}}, items(InService, InService), "rope x was counted, and is not in it now"},
		"one worn out":   {Kit{Seal: &Seal{Items: 2, Counted: []string{"0", "1"}}}, items(InService, Retired), "thing 1 was counted, and is not in it now"},
		"one gone":       {Kit{Seal: &Seal{Items: 3, Counted: []string{"0", "1", "y"}}}, items(InService, InService), "3 were counted, and the store has 2 in it"},
	} {
		c.kit.Name = "k"
		if got := c.kit.SealUndone(c.items); got != c.want || c.kit.Count(c.items, nil).SealUndone != got {
			t.Errorf("%s: %q, want %q", name, got, c.want)
		}
	}
}

// What did not come back makes a kit incomplete until it is counted or retired.
func TestKitMissing(t *testing.T) {
	k := Kit{Name: "k", Missing: []string{"a", "b"}}
	for states, want := range map[[2]State][]string{{InService, Quarantine}: {"a", "b"}, {Retired, InService}: {"b"}, {Retired, Retired}: {}} {
		c := k.Count([]Item{{ID: "a", Kit: "k", State: states[0]}, {ID: "b", Kit: "other", State: states[1]}}, nil)
		if !slices.Equal(c.Kit.Missing, want) || c.Complete != (len(want) == 0) || len(k.Missing) != 2 {
			t.Errorf("%v: %+v", states, c)
		}
	}
}

// Whatever is in a kit is counted once: on a line of its model, else of its class, else as
// more than the list wants. What is out of service or missing fills no line.
func TestKitCount(t *testing.T) {
	models := map[string]*Model{"a": {ID: "a", Class: Helmet}, "b": {ID: "b", Class: Helmet}, "c": {ID: "c", Class: Bag}}
	r := rand.New(rand.NewPCG(7, 18))
	for range 2000 {
		k := Kit{Name: "k"}
		for range r.IntN(4) {
			k.Wanted = append(k.Wanted, []KitLine{{Model: "a", Count: 1}, {Class: Helmet, Count: 2}, {Class: Bag, Count: 1}}[r.IntN(3)])
		}
		var items []Item
		inside := 0
		for n := range r.IntN(8) {
			i := Item{ID: fmt.Sprint(n), Model: string("abc"[r.IntN(3)]), Kit: []string{"k", "k", "other", ""}[r.IntN(4)], State: InService}
			if r.IntN(5) == 0 {
				i.State = Quarantine
			}
			if i.Kit == "k" {
				inside++
				if r.IntN(6) == 0 {
					k.Missing = append(k.Missing, i.ID)
				}
			}
			items = append(items, i)
		}
		c := k.Count(items, models)
		seen, short := map[string]bool{}, len(k.Missing) > 0
		at := func(id string, fit bool) {
			n := slices.IndexFunc(items, func(i Item) bool { return i.ID == id })
			if seen[id] || items[n].Kit != "k" || fit && (items[n].State != InService || slices.Contains(k.Missing, id)) {
				t.Fatalf("%s in %+v", id, c)
			}
			seen[id] = true
		}
		free := map[Class]int{}
		for _, id := range c.More {
			at(id, false)
			if n := items[slices.IndexFunc(items, func(i Item) bool { return i.ID == id })]; n.State == InService && !slices.Contains(k.Missing, id) {
				free[models[n.Model].Class]++
			}
		}
		for n, l := range c.Lines {
			for _, id := range l.Items {
				at(id, true)
			}
			for _, id := range l.Unfit {
				at(id, false)
			}
			short = short || len(l.Items) < l.Wanted
			if len(l.Items) > l.Wanted || len(l.Items) < l.Wanted && free[k.Wanted[n].Class] > 0 {
				t.Fatalf("line %d of %+v", n, c)
			}
		}
		if len(seen) != inside || len(c.Items) != inside || c.Complete == short {
			t.Fatalf("%d of %d, complete %v: %+v", len(seen), inside, c.Complete, c)
		}
	}
}

// A life line has every day of an item, in order, with the earliest that binds; of a guest's
// item the end of its paper binds too, and what is retired has no days to come.
func TestLifeOf(t *testing.T) {
	m := &Model{Class: Rope, Life: &Life{FromMadeYears: 10, FromFirstUseYears: 4}}
	i := &Item{State: InService, MadeOn: "2020-01-10", FirstUsedOn: "2021-02-01", ExaminedOn: "2026-09-14", Events: []Event{{Kind: "edge", On: "2026-05-01", CheckedOn: "2026-05-02"}}}
	l := m.LifeOf(i, 6, "2026-11-28", []LifeMark{{On: "2026-05-03", Kind: "quarantine", Words: "into quarantine"}})
	if l.From != "2020-01-10" || l.To != "2027-03-14" || l.Due != "2027-03-14" || l.End != "2025-02-01" || l.EndFrom != "first use" || len(l.Marks) != 8 ||
		!slices.IsSortedFunc(l.Marks, func(a, b LifeMark) int { return strings.Compare(string(a.On), string(b.On)) }) {
		t.Errorf("%+v", l)
	}
	for until, due := range map[Date]Date{"2027-03-13": "2027-03-13", "2027-03-14": "2027-03-14", "2027-03-15": "2027-03-14"} {
		i.Guest = &Guest{ValidUntil: until}
		if got, _ := m.ExaminationDue(i, 6); got != due {
			t.Errorf("paper until %s: due %s", until, got)
		}
	}
	if got, by := m.ExaminationDue(&Item{Guest: i.Guest}, 6); got != i.Guest.ValidUntil || by != DueByPaper {
		t.Errorf("a paper alone: due %s by %s", got, by)
	}
	if got, by := m.ExaminationDue(&Item{}, 6); got != "" || by != "" {
		t.Errorf("nothing known: due %s by %s", got, by)
	}
	// The examiner's own date binds where it is the earlier one, or the only one.
	for again, c := range map[Date]struct {
		months int
		due    Date
		by     string
	}{"2027-03-13": {6, "2027-03-13", DueByExaminer}, "2027-03-14": {6, "2027-03-14", DueByTeam}, "2027-09-01": {0, "2027-09-01", DueByExaminer}} {
		if got, by := new(Model).ExaminationDue(&Item{ExaminedOn: "2026-09-14", AgainBy: again}, c.months); got != c.due || by != c.by {
			t.Errorf("again by %s: %s by %s", again, got, by)
		}
	}
	// The earliest binds: neither a longer leaflet nor a longer team's interval puts it off.
	for _, c := range []struct {
		leaflet, team int
		due           Date
		by            string
	}{
		{12, 6, "2027-03-14", DueByTeam}, {6, 12, "2027-03-14", DueByLeaflet}, {6, 6, "2027-03-14", DueByLeaflet}, {0, 6, "2027-03-14", DueByTeam}, {3, 0, "2026-12-14", DueByLeaflet},
	} {
		got, by := (&Model{ExaminationMonths: c.leaflet}).ExaminationDue(&Item{ExaminedOn: "2026-09-14"}, c.team)
		if got != c.due || by != c.by {
			t.Errorf("leaflet %d, team %d: %s by %s", c.leaflet, c.team, got, by)
		}
	}
	i.State = Retired
	if l := m.LifeOf(i, 6, "2026-11-28", nil); l.Due != "" || l.End != "" || l.To != "2026-11-28" {
		t.Errorf("retired: %+v", l)
	}
}
