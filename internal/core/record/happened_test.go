package record_test

import (
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/care"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// What is used, retired, joined, recalled by lot, taken from a paper, shown in a picture or
// happened is refused with its place where it cannot be; its neighbour is taken.
func TestHappenedRefusals(t *testing.T) {
	now := time.Date(2026, 11, 28, 9, 0, 0, 0, time.UTC)
	use := func(change func(*record.Used)) record.Entry {
		u := &record.Used{From: "2026-11-26", Days: 3, Wet: 3, Dirty: 3}
		change(u)
		return record.Entry{Kind: record.Use, Use: u}
	}
	joint := func(n record.RopeNoted) record.Entry { return record.Entry{Kind: record.RopeNote, Rope: &n} }
	happened := func(h record.Happened) record.Entry { return record.Entry{Kind: record.Incident, Incident: &h} }
	recall := func(r record.Recalled) record.Entry { return record.Entry{Kind: record.RecallNotice, Recall: &r} }
	paper := func(x record.Examined) record.Entry { return record.Entry{Kind: record.Examination, Examined: &x} }
	sum := strings.Repeat("a", 64)
	out := &record.Destroyed{How: "cut into pieces", By: "Maren Oake"}
	for name, c := range map[string]struct {
		e  record.Entry
		f  func(*record.Facts)
		at string
	}{
		"three days of three":              {use(func(*record.Used) {}), nil, ""},
		"four days of three":               {use(func(u *record.Used) { u.Days = 4 }), nil, "/use/days"},
		"two days of one":                  {use(func(u *record.Used) { u.From, u.Days = "", 2 }), nil, "/use/days"},
		"from a later day":                 {use(func(u *record.Used) { u.From, u.Days = "2026-11-29", 1 }), nil, "/use/from"},
		"wetter than used":                 {use(func(u *record.Used) { u.Days = 2 }), nil, "/use/wet_days"},
		"dirtier than used":                {use(func(u *record.Used) { u.Days, u.Wet = 2, 2 }), nil, "/use/dirty_days"},
		"used on the day it was made":      {use(func(*record.Used) {}), func(f *record.Facts) { f.Item.MadeOn = "2026-11-26" }, ""},
		"used before it was made":          {use(func(*record.Used) {}), func(f *record.Facts) { f.Item.MadeOn = "2026-11-27" }, "/use/from"},
		"of no item":                       {use(func(*record.Used) {}), func(f *record.Facts) { f.Item, f.Model = nil, nil }, "/item"},
		"destroyed":                        {record.Entry{Kind: record.Retirement, Note: "worn", Destroyed: out}, nil, ""},
		"destroyed in quarantine":          {record.Entry{Kind: record.Retirement, Note: "worn", Destroyed: out}, func(f *record.Facts) { f.Item.State = gear.Quarantine }, ""},
		"destroyed for nothing":            {record.Entry{Kind: record.Retirement, Destroyed: out}, nil, "/note"},
		"retired and not destroyed":        {record.Entry{Kind: record.Retirement, Note: "worn"}, nil, "/destroyed"},
		"retired again":                    {record.Entry{Kind: record.Retirement, Note: "worn", Destroyed: out}, func(f *record.Facts) { f.Item.State = gear.Retired }, "/item"},
		"a joint at both ends":             {joint(record.RopeNoted{What: record.RopeJoint, FromM: 60, With: "s", WithM: 40}), nil, ""},
		"a joint past the other's end":     {joint(record.RopeNoted{What: record.RopeJoint, FromM: 60, With: "s", WithM: 40.1}), nil, "/rope/with_m"},
		"a joint with nothing":             {joint(record.RopeNoted{What: record.RopeJoint, FromM: 60}), nil, "/rope/with"},
		"a joint with itself":              {joint(record.RopeNoted{What: record.RopeJoint, With: "r"}), nil, "/rope/with"},
		"a joint with no rope":             {joint(record.RopeNoted{What: record.RopeJoint, With: "s"}), func(f *record.Facts) { f.With = nil }, "/rope/with"},
		"apart":                            {joint(record.RopeNoted{What: record.RopeApart, With: "s"}), nil, ""},
		"apart from nothing":               {joint(record.RopeNoted{What: record.RopeApart}), nil, "/rope/with"},
		"damage with another rope":         {joint(record.RopeNoted{What: record.RopeDamage, With: "s"}), nil, "/rope/with"},
		"a near miss":                      {happened(record.Happened{Kind: "near-miss", What: "a stone", People: []string{"p"}, Items: []string{"r"}}), nil, ""},
		"an incident that stops":           {happened(record.Happened{Kind: "incident", What: "a fall", Stop: []string{"r"}, Event: "shock-load"}), nil, ""},
		"stops for nothing":                {happened(record.Happened{Kind: "incident", What: "a fall", Stop: []string{"r"}}), nil, "/incident/event"},
		"an event that stops nothing":      {happened(record.Happened{Kind: "incident", What: "a fall", Event: "heat"}), nil, "/incident/event"},
		"stops what is missing":            {happened(record.Happened{Kind: "incident", What: "a fall", Stop: []string{"x"}, Event: "heat"}), nil, "/incident/stop/0"},
		"in what it stops":                 {happened(record.Happened{Kind: "incident", What: "a fall", Stop: []string{"r"}, Event: "heat", In: []string{"p"}}), nil, ""},
		"nobody in what it stops":          {happened(record.Happened{Kind: "incident", What: "a fall", Stop: []string{"r"}, Event: "heat", In: []string{}}), nil, ""},
		"a stranger in what it stops":      {happened(record.Happened{Kind: "incident", What: "a fall", Stop: []string{"r"}, Event: "heat", In: []string{"x"}}), nil, "/incident/in/0"},
		"in what nothing stops":            {happened(record.Happened{Kind: "incident", What: "a fall", In: []string{"p"}}), nil, "/incident/in"},
		"stopped with somebody in it":      {record.Entry{Kind: record.Quarantine, Quarantine: &record.Quarantined{Event: "heat", In: "p", Others: []string{"p"}}}, nil, ""},
		"stopped with a stranger in it":    {record.Entry{Kind: record.Quarantine, Quarantine: &record.Quarantined{Event: "heat", In: "x"}}, nil, "/quarantine/in"},
		"stopped with another stranger":    {record.Entry{Kind: record.Quarantine, Quarantine: &record.Quarantined{Event: "heat", In: "p", Others: []string{"x"}}}, nil, "/quarantine/others_in/0"},
		"with a stranger":                  {happened(record.Happened{Kind: "incident", What: "a fall", People: []string{"p", "x"}}), nil, "/incident/people/1"},
		"with somebody twice":              {happened(record.Happened{Kind: "incident", What: "a fall", People: []string{"p", "p"}}), nil, "/incident/people/1"},
		"on a drop that is missing":        {record.Entry{Kind: record.Incident, Drop: "d", Incident: &record.Happened{Kind: "incident", What: "a fall"}}, nil, "/drop"},
		"by lots":                          {recall(record.Recalled{Model: "m", Source: "notice 4", Lots: []string{"7"}}), nil, ""},
		"by lots and serials":              {recall(record.Recalled{Model: "m", Source: "notice 4", Lots: []string{"7"}, Serials: []string{"1"}}), nil, "/recall/serials"},
		"by lots and days":                 {recall(record.Recalled{Model: "m", Source: "notice 4", Lots: []string{"7"}, To: "2026-01-01"}), nil, "/recall/lots"},
		"taken from a paper":               {paper(record.Examined{Result: record.Fit, Source: "report 7", Examiner: "Somebody"}), nil, ""},
		"from a paper, by nobody":          {paper(record.Examined{Result: record.Fit, Source: "report 7"}), nil, "/examined/examiner"},
		"from a paper, with points":        {paper(record.Examined{Result: record.Fit, Source: "report 7", Examiner: "S", Points: []record.PointResult{{Point: "sheath", Result: "pass"}}}), nil, "/examined/points"},
		"worn to its limit, as paper says": {paper(record.Examined{Result: record.Fit, Source: "report 7", Examiner: "S", Readings: []record.PartReading{{Part: "post", MM: 8}}}), nil, "/examined/readings/0/mm"},
		"with a picture": {record.Entry{Kind: record.Quarantine, Quarantine: &record.Quarantined{Event: "heat"}, Photos: []string{sum}}, func(f *record.Facts) {
			f.Photos = map[string]bool{sum: true}
		}, ""},
		"with a picture that was not sent": {record.Entry{Kind: record.Quarantine, Quarantine: &record.Quarantined{Event: "heat"}, Photos: []string{sum}}, nil, "/photos/0"},
		"with a picture twice": {record.Entry{Kind: record.Quarantine, Quarantine: &record.Quarantined{Event: "heat"}, Photos: []string{sum, sum}}, func(f *record.Facts) {
			f.Photos = map[string]bool{sum: true}
		}, "/photos/1"},
		"a picture of hours": {record.Entry{Kind: record.Hours, Person: "p", Hours: &record.OnRope{Hours: 1, Work: "w"}, Photos: []string{sum}}, func(f *record.Facts) {
			f.Photos, f.Person, f.Signer.Others = map[string]bool{sum: true}, &rig.Member{ID: "p"}, true
		}, "/photos/0"},
	} {
		e := c.e
		e.ID, e.GivenAt, e.Day, e.Item = "00000000-0000-4000-8000-000000000001", now.Format(time.RFC3339), "2026-11-28", "r"
		f := &record.Facts{
			Arrived: now, Sent: now, Item: &gear.Item{ID: "r", LengthM: 60, State: gear.InService}, With: &gear.Item{ID: "s", LengthM: 40},
			Model:   &gear.Model{Class: gear.Rope, Rope: &gear.RopeModel{}, Wear: []gear.WearPart{{Part: "post", LimitMM: 8}}},
			Counted: map[string]*gear.Item{"r": {ID: "r"}}, Present: map[string]*rig.Member{"p": {ID: "p"}},
		}
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

// Readings are written and read as they are.
func TestReadings(t *testing.T) {
	r := chance.Rand(19, 4)
	for range 200 {
		x := record.Examined{}
		for n := range r.IntN(4) {
			x.Readings = append(x.Readings, record.PartReading{Part: fmt.Sprintf("groove %d", n), MM: quantity.Millimetres(float64(1+r.IntN(9000)) / 100)})
		}
		if got, err := record.ReadReadings(x.ReadingsText()); err != nil || !reflect.DeepEqual(got, x.Readings) {
			t.Fatalf("%q: %v, %v", x.ReadingsText(), got, err)
		}
	}
	for _, wrong := range []string{"groove=1", "groove_mm", "_mm=2", "groove_mm=thin"} {
		if _, err := record.ReadReadings(wrong); err == nil {
			t.Errorf("%q is read", wrong)
		}
	}
}

// A joint is on both ropes until they are apart, and goes with the part that it lies on; what
// was cut off was used as the rope was until then, and no longer.
func TestJointsAndUse(t *testing.T) {
	var all []record.Numbered
	add := func(e record.Entry) {
		all = append(all, record.Numbered{Number: int64(len(all) + 1), Says: &record.Content{Entry: e}})
	}
	of := func(item string) ([]record.Numbered, error) {
		return slices.DeleteFunc(slices.Clone(all), func(r record.Numbered) bool {
			s := r.Says
			return s.Item != item && (s.Rope == nil || s.Rope.With != item) && (s.Cut == nil || s.Cut.Into != item)
		}), nil
	}
	joints := func(rope string) (list []record.RopeNoted) {
		marks, err := record.RopeMap(rope, of)
		if err != nil {
			t.Fatal(err)
		}
		for _, m := range marks {
			list = append(list, m.RopeNoted)
		}
		return list
	}
	used := func(item string) int {
		list, err := record.UsedOf(item, of)
		if err != nil {
			t.Fatal(err)
		}
		return care.Count(list, nil).Days
	}
	add(record.Entry{Kind: record.RopeNote, Item: "r", Rope: &record.RopeNoted{What: record.RopeJoint, FromM: 60, With: "s", WithM: 1}})
	add(record.Entry{Kind: record.Use, Item: "r", Day: "2026-11-01", Use: &record.Used{Days: 1}})
	add(record.Entry{Kind: record.RopeCutting, Item: "r", Cut: &record.RopeCut{LengthM: 60, AtM: 20, Into: "t"}})
	add(record.Entry{Kind: record.Use, Item: "r", Day: "2026-11-02", Use: &record.Used{Days: 1}})
	if got := joints("s"); len(got) != 1 || got[0].FromM != 1 || got[0].With != "r" {
		t.Errorf("%+v", got)
	}
	if r, cut := joints("r"), joints("t"); len(r) != 0 || len(cut) != 1 || cut[0].FromM != 40 {
		t.Errorf("%+v %+v", r, cut)
	}
	if used("r") != 2 || used("t") != 1 || used("s") != 0 {
		t.Error(used("r"), used("t"), used("s"))
	}
	add(record.Entry{Kind: record.RopeNote, Item: "s", Rope: &record.RopeNoted{What: record.RopeApart, With: "r"}})
	if got := joints("s"); len(got) != 0 {
		t.Errorf("%+v", got)
	}
}

// Who was in an event that nobody has checked does not bring the thing back; others do, and
// what was checked before is nobody's concern any more.
func TestWhoBringsBack(t *testing.T) {
	now := time.Date(2026, 11, 28, 9, 0, 0, 0, time.UTC)
	for name, c := range map[string]struct {
		event  gear.Event
		stops  []string
		signer record.Signer
		may    bool
	}{
		"who was in it":             {gear.Event{In: "p"}, nil, record.Signer{Person: "p"}, false},
		"who was in one checked":    {gear.Event{In: "p", CheckedOn: "2026-11-01"}, nil, record.Signer{Person: "p"}, true},
		"somebody else":             {gear.Event{In: "p"}, nil, record.Signer{Person: "q"}, true},
		"of nobody":                 {gear.Event{}, nil, record.Signer{Person: "p"}, true},
		"who is not known":          {gear.Event{In: "p"}, nil, record.Signer{}, false},
		"who is nobody there":       {gear.Event{In: "p"}, nil, record.Signer{Nobody: true}, true},
		"who was in a stop":         {gear.Event{}, []string{"q", "p"}, record.Signer{Person: "p"}, false},
		"who was in no stop":        {gear.Event{}, []string{"q", "r"}, record.Signer{Person: "p"}, true},
		"not known, of a stop":      {gear.Event{}, []string{"q"}, record.Signer{}, false},
		"who is not known, of none": {gear.Event{}, nil, record.Signer{}, true},
	} {
		e := &record.Entry{ID: "00000000-0000-4000-8000-000000000001", Kind: record.BackInService, GivenAt: now.Format(time.RFC3339), Day: "2026-11-28", Item: "i", Note: "whole"}
		f := &record.Facts{Arrived: now, Sent: now, Signer: c.signer, InStops: c.stops, Item: &gear.Item{ID: "i", State: gear.Quarantine, Events: []gear.Event{c.event}}, Model: &gear.Model{}}
		var p strict.Faults
		if f.Judge(e, "", &p); (p.Err() == nil) != c.may {
			t.Errorf("%s: %v", name, p.Err())
		}
	}
}

// What was stopped, or brought back, was so on a day that has begun somewhere: an event of a day
// to come would stop nothing until then.
func TestDayOfStops(t *testing.T) {
	now := time.Date(2026, 11, 28, 9, 59, 0, 0, time.UTC)
	for day, taken := range map[gear.Date]bool{"2026-11-28": true, "2026-11-29": false} {
		for _, e := range []record.Entry{{Kind: record.Quarantine, Quarantine: &record.Quarantined{Event: "heat"}}, {Kind: record.BackInService, Note: "whole"}} {
			e.ID, e.GivenAt, e.Day, e.Item = "00000000-0000-4000-8000-000000000001", now.Format(time.RFC3339), day, "i"
			f := &record.Facts{Arrived: now, Sent: now, Item: &gear.Item{ID: "i", State: gear.Quarantine}, Model: &gear.Model{}}
			var p strict.Faults
			if f.Judge(&e, "", &p); (p.Err() == nil) != taken {
				t.Errorf("%s on %s: %v", e.Kind, day, p.Err())
			}
		}
	}
}
