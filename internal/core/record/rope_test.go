package record_test

import (
	"errors"
	"math"
	"testing"
	"time"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
)

// However often a rope is cut, its parts are as long in sum as it was, and every metre of
// what lay on it lies on one part, once, where it was.
func TestCutsLoseNothing(t *testing.T) {
	r := chance.Rand(19, 3)
	for range 400 {
		const long = 60.0
		records := map[string][]record.Numbered{}
		number := int64(0)
		add := func(c *record.Content, ropes ...string) {
			number++
			for _, rope := range ropes {
				records[rope] = append(records[rope], record.Numbered{Number: number, Says: c})
			}
		}
		// Where each part begins on the first rope, and how long it is.
		begins, lengths := map[string]float64{"r": 0}, map[string]float64{"r": long}
		names := []string{"r"}
		covered := map[int64][2]float64{}
		for range 12 {
			rope := names[r.IntN(len(names))]
			if r.IntN(3) > 0 {
				from := math.Floor(r.Float64()*lengths[rope]*10) / 10
				to := min(lengths[rope], from+math.Floor(r.Float64()*80)/10)
				add(&record.Content{Entry: record.Entry{Kind: record.RopeNote, Item: rope, Rope: &record.RopeNoted{What: record.RopeZone, FromM: quantity.Metres(from), ToM: quantity.Metres(to)}}}, rope)
				covered[number] = [2]float64{begins[rope] + from, begins[rope] + to}
				continue
			}
			at := math.Floor(r.Float64()*lengths[rope]*10) / 10
			if at <= 0 {
				continue
			}
			into := rope + "b" + string(rune('0'+len(names)))
			add(&record.Content{Entry: record.Entry{Kind: record.RopeCutting, Item: rope, Cut: &record.RopeCut{LengthM: quantity.Metres(lengths[rope]), AtM: quantity.Metres(at), Into: into, Label: into}}}, rope, into)
			names, begins[into], lengths[into] = append(names, into), begins[rope]+at, lengths[rope]-at
			lengths[rope] = at
		}
		sum := 0.0
		found := map[int64]float64{}
		for _, n := range names {
			sum += lengths[n]
			marks, err := record.RopeMap(n, func(rope string) ([]record.Numbered, error) { return records[rope], nil })
			if err != nil {
				t.Fatal(err)
			}
			for _, m := range marks {
				from, to := float64(m.FromM), float64(max(m.FromM, m.ToM))
				whole := covered[m.Number]
				if from < -1e-9 || to > lengths[n]+1e-9 || begins[n]+from < whole[0]-1e-9 || begins[n]+to > whole[1]+1e-9 {
					t.Fatalf("on %s of %v m, which begins at %v: %+v of %v", n, lengths[n], begins[n], m, whole)
				}
				found[m.Number] += to - from
			}
		}
		if math.Abs(sum-long) > 1e-9 {
			t.Fatalf("the parts are %v m in sum", sum)
		}
		for n, c := range covered {
			if math.Abs(found[n]-(c[1]-c[0])) > 1e-9 {
				t.Fatalf("record %d: %v m of %v are found", n, found[n], c[1]-c[0])
			}
		}
	}
}

// What is of the whole rope is of each part; damage at a place is on one.
func TestCutMarks(t *testing.T) {
	marks := []record.RopeMark{
		{RopeNoted: record.RopeNoted{What: record.RopeWash}}, {RopeNoted: record.RopeNoted{What: record.RopeDamage, FromM: 20}},
		{RopeNoted: record.RopeNoted{What: record.RopeDamage, FromM: 20.1}}, {RopeNoted: record.RopeNoted{What: record.RopeZone, FromM: 18, ToM: 25}},
	}
	a, b := record.CutMarks(marks, 20)
	if len(a) != 3 || a[2].FromM != 18 || a[2].ToM != 20 || a[1].FromM != 20 {
		t.Errorf("%+v", a)
	}
	if len(b) != 3 || math.Abs(float64(b[1].FromM)-0.1) > 1e-9 || b[2].FromM != 0 || b[2].ToM != 5 || b[0].What != record.RopeWash {
		t.Errorf("%+v", b)
	}
}

// What cannot be on a rope, or be cut, is refused with its place; its neighbour is taken.
func TestRopeRefusals(t *testing.T) {
	now := time.Date(2026, 11, 28, 9, 0, 0, 0, time.UTC)
	for name, c := range map[string]struct {
		e  record.Entry
		f  func(*record.Facts)
		at string
	}{
		"damage at the end":        {record.Entry{Rope: &record.RopeNoted{What: record.RopeDamage, FromM: 60}}, nil, ""},
		"damage past the end":      {record.Entry{Rope: &record.RopeNoted{What: record.RopeDamage, FromM: 60.1}}, nil, "/rope/from_m"},
		"a zone past the end":      {record.Entry{Rope: &record.RopeNoted{What: record.RopeZone, FromM: 59, ToM: 60.1}}, nil, "/rope/to_m"},
		"a zone the wrong way":     {record.Entry{Rope: &record.RopeNoted{What: record.RopeZone, FromM: 9, ToM: 8}}, nil, "/rope/to_m"},
		"a wash":                   {record.Entry{Rope: &record.RopeNoted{What: record.RopeWash}}, nil, ""},
		"a wash of a part":         {record.Entry{Rope: &record.RopeNoted{What: record.RopeWash, FromM: 1}}, nil, "/rope/from_m"},
		"a diameter":               {record.Entry{Rope: &record.RopeNoted{What: record.RopeDiameter, FromM: 3, MM: 10.8}}, nil, ""},
		"a diameter without one":   {record.Entry{Rope: &record.RopeNoted{What: record.RopeDiameter, FromM: 3}}, nil, "/rope/mm"},
		"a mark with a diameter":   {record.Entry{Rope: &record.RopeNoted{What: record.RopeMarking, FromM: 3, MM: 9}}, nil, "/rope/mm"},
		"of no rope":               {record.Entry{Rope: &record.RopeNoted{What: record.RopeWash}}, func(f *record.Facts) { f.Model = &gear.Model{Class: gear.Sling} }, "/item"},
		"cut in two":               {record.Entry{Cut: &record.RopeCut{LengthM: 60, AtM: 20, Into: "b", Label: "b"}}, nil, ""},
		"cut off as waste":         {record.Entry{Cut: &record.RopeCut{LengthM: 60, AtM: 59.9}}, nil, ""},
		"cut at its end":           {record.Entry{Cut: &record.RopeCut{LengthM: 60, AtM: 60}}, nil, "/cut/at_m"},
		"of another length by now": {record.Entry{Cut: &record.RopeCut{LengthM: 59, AtM: 20}}, nil, "/cut/length_m"},
		"a part without a name":    {record.Entry{Cut: &record.RopeCut{LengthM: 60, AtM: 20, Into: "b"}}, nil, "/cut/label"},
		"a name without a part":    {record.Entry{Cut: &record.RopeCut{LengthM: 60, AtM: 20, Label: "b"}}, nil, "/cut/label"},
		"into another item":        {record.Entry{Cut: &record.RopeCut{LengthM: 60, AtM: 20, Into: "b", Label: "b"}}, func(f *record.Facts) { f.Taken = true }, "/cut/into"},
		"in quarantine":            {record.Entry{Cut: &record.RopeCut{LengthM: 60, AtM: 20, Into: "b", Label: "b"}}, func(f *record.Facts) { f.Item.State = gear.Quarantine }, ""},
		"retired":                  {record.Entry{Cut: &record.RopeCut{LengthM: 60, AtM: 20}}, func(f *record.Facts) { f.Item.State = gear.Retired }, "/cut"},
	} {
		e := c.e
		e.ID, e.GivenAt, e.Day, e.Item, e.Kind = "00000000-0000-4000-8000-000000000001", now.Format(time.RFC3339), "2026-11-28", "r", record.RopeNote
		if e.Cut != nil {
			e.Kind = record.RopeCutting
		}
		f := &record.Facts{Arrived: now, Sent: now, Item: &gear.Item{ID: "r", LengthM: 60, State: gear.InService}, Model: &gear.Model{Class: gear.Rope, Rope: &gear.RopeModel{}}}
		if c.f != nil {
			c.f(f)
		}
		var p strict.Faults
		f.Judge(&e, "", &p)
		var refused *strict.Error
		switch {
		case !errors.As(p.Err(), &refused):
			if c.at != "" {
				t.Errorf("%s: taken", name)
			}
		case c.at == "" || refused.Faults[0].Pointer != c.at:
			t.Errorf("%s: %v", name, refused)
		}
	}
}
