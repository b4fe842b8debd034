package record_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
)

// rigged is a drop of somebody on a device and a rope.
func rigged(day gear.Date) *drop.Document {
	return &drop.Document{
		Day: day, Strands: []rig.Strand{{ID: "main", Ropes: []string{"rope"}}},
		People: []rig.Person{{ID: "ivo", Harness: "harness", Holds: []rig.Hold{{ID: "main", Device: "device", Strand: "main"}}}},
	}
}

// told makes a record of a minute of the day: a check of one of three kinds on one of two drops,
// or on none, or that something came off.
func told(src *rand.Rand, day gear.Date, at time.Time) record.Content {
	c := record.Content{Entry: record.Entry{GivenAt: at.Format(time.RFC3339), Day: day, Drop: []string{"here", "there", ""}[src.IntN(3)]}}
	switch src.IntN(5) {
	case 0, 1:
		c.Kind, c.Item, c.Check = record.FunctionCheck, "device", &record.Proved{Rope: "rope", Passed: src.IntN(4) > 0}
	case 2:
		c.Kind, c.Person, c.Partner = record.PartnerCheck, "ivo", &record.Touched{Rigging: "r", Passed: src.IntN(4) > 0}
	case 3:
		c.Kind, c.Person, c.Worn = record.WornCheck, "ivo", &record.Worn{Items: []rig.WornItem{{Item: "harness", Sound: true}}}
	case 4:
		c.Drop, c.Kind, c.Item = "", []record.Kind{record.BackInService, record.RopeCutting}[src.IntN(2)], []string{"device", "rope", "harness", "other"}[src.IntN(4)]
	}
	return c
}

// counting says what counts here by the rule in its own words: the last check of this drop, if
// none of another is later, nothing of it came off since, it passed and its shift is not over.
func counting(all []record.Content, s *record.Shift, day gear.Date) (device, partner, worn bool) {
	live := day >= s.Today.AddDays(-1)
	for _, c := range all {
		here := c.Drop != "there" || !live
		off := live && (c.Kind == record.BackInService || c.Kind == record.RopeCutting)
		fresh := s.Over(&c, day) == ""
		switch {
		case c.Check != nil && (live || c.Drop != "there" || !device):
			device = here && c.Check.Passed && fresh
		case c.Partner != nil && (live || c.Drop != "there" || !partner):
			partner = here && c.Partner.Passed && fresh
		case c.Worn != nil:
			worn = worn || fresh
		case off:
			device = device && c.Item != "device" && c.Item != "rope"
			partner = partner && c.Item == "other"
			worn = worn && c.Item != "harness"
		}
	}
	return device, partner, worn
}

// checksHere reports whether all are checks that nothing of another drop, or that came off its
// rope, ends.
func checksHere(all []record.Content) bool {
	return !slices.ContainsFunc(all, func(c record.Content) bool {
		return c.Drop == "there" || c.Kind == record.BackInService || c.Kind == record.RopeCutting
	})
}

// What is shown to count is what counts by the rule, whether all was recorded, or the last of it
// still waits on a device, where it is shown again and again.
func TestShown(t *testing.T) {
	src := chance.Rand(31, 5)
	now := time.Date(2026, 11, 28, 20, 0, 0, 0, time.UTC)
	s := &record.Shift{At: now, Today: "2026-11-28", Hours: 10}
	for range 4000 {
		day := []gear.Date{"2026-11-28", "2026-11-28", "2026-11-20"}[src.IntN(3)]
		all := make([]record.Content, 1+src.IntN(7))
		for i, at := 0, now.Add(-12*time.Hour); i < len(all); i++ {
			at = at.Add(time.Duration(1+src.IntN(150)) * time.Minute)
			all[i] = told(src, day, at)
		}
		if day != s.Today {
			// Of a day that is history the drop speaks for itself alone.
			all = slices.DeleteFunc(all, func(c record.Content) bool { return c.Drop == "there" })
		}
		d := rigged(day)
		sent := src.IntN(len(all) + 1)
		first, waiting := all[:sent], all[sent:]
		if day == s.Today && checksHere(all) {
			// A check that is sent late may have been done before what was sent.
			first, waiting = nil, nil
			for _, c := range all {
				if src.IntN(2) == 0 {
					first = append(first, c)
				} else {
					waiting = append(waiting, c)
				}
			}
		}
		for _, part := range [][]record.Content{first, waiting, waiting} {
			shown := record.Show(d, "here", s)
			for i := range part {
				shown.Add(&part[i], "Ivo")
			}
		}
		device, partner, worn := counting(all, s, day)
		is := [3]bool{
			slices.ContainsFunc(d.Checks, func(f rig.FunctionCheck) bool { return f.Passed && f.Over == "" }),
			slices.ContainsFunc(d.PartnerChecks, func(k rig.PartnerCheck) bool { return k.Over == "" }),
			slices.ContainsFunc(d.WornChecks, func(w rig.WornCheck) bool { return w.Over == "" }),
		}
		if is != [3]bool{device, partner, worn} {
			var said []string
			for _, c := range all {
				said = append(said, fmt.Sprintf("%s %s %s %s %v", c.GivenAt, c.Kind, c.Drop, c.Item, c.Check))
			}
			t.Fatalf("%s, %d sent: shown %v, counts %v\n%s\n%+v %+v", day, sent, is, [3]bool{device, partner, worn}, strings.Join(said, "\n"), d.Checks, d.PartnerChecks)
		}
		if len(d.Checks) > 1 || len(d.PartnerChecks) > 1 {
			t.Fatalf("%+v %+v", d.Checks, d.PartnerChecks)
		}
	}
}

// What was done before, and is typed or sent later, changes nothing; of another day neither.
func TestShownLate(t *testing.T) {
	s := &record.Shift{At: time.Date(2026, 11, 28, 12, 0, 0, 0, time.UTC), Today: "2026-11-28", Hours: 10}
	check := func(at, day, drop string, passed bool) *record.Content {
		return &record.Content{Entry: record.Entry{
			Kind: record.FunctionCheck, GivenAt: "2026-11-28T" + at + ":00Z", Day: gear.Date(day), Drop: drop, Item: "device", Check: &record.Proved{Rope: "rope", Passed: passed},
		}}
	}
	d := rigged("2026-11-28")
	for _, late := range []*record.Content{nil, check("09:59", "2026-11-28", "here", false), check("09:59", "2026-11-28", "there", true), check("11:00", "2026-11-29", "here", false)} {
		shown := record.Show(d, "here", s)
		if late == nil {
			late = check("10:00", "2026-11-28", "here", true)
		}
		if shown.Add(late, "Ivo"); len(d.Checks) != 1 || !d.Checks[0].Passed || d.Checks[0].Over != "" {
			t.Errorf("%s: %+v", late.GivenAt, d.Checks)
		}
	}
	record.Show(d, "here", s).Add(check("10:01", "2026-11-28", "here", false), "Ivo")
	if d.Checks[0].Passed {
		t.Errorf("%+v", d.Checks)
	}
}

// What is withdrawn counts no more, of whatever it was; what is of somebody else stays.
func TestWithdrawn(t *testing.T) {
	s := &record.Shift{At: time.Date(2026, 11, 28, 12, 0, 0, 0, time.UTC), Today: "2026-11-28", Hours: 10}
	for _, c := range []struct {
		item, person string
		left         int
	}{{"device", "", 2}, {"", "ivo", 1}, {"rope", "rhea", 3}} {
		d := rigged("2026-11-28")
		d.Checks = []rig.FunctionCheck{{Item: "device", Rope: "rope", Passed: true}}
		d.PartnerChecks = []rig.PartnerCheck{{Person: "ivo"}}
		d.WornChecks = []rig.WornCheck{{Person: "ivo", Items: []rig.WornItem{{Item: "harness", Sound: true}}}}
		record.Show(d, "here", s).Add(&record.Content{Entry: record.Entry{Kind: record.Withdrawal, Day: "2026-11-28", Item: c.item, Person: c.person}}, "Ivo")
		left := 0
		for _, over := range []string{d.Checks[0].Over, d.PartnerChecks[0].Over, d.WornChecks[0].Over} {
			if over == "" {
				left++
			}
		}
		if left != c.left {
			t.Errorf("%+v: %+v", c, d)
		}
	}
}

// What an entry stops is out of service, what it does not stays; nothing comes back by it.
func TestOut(t *testing.T) {
	stops := &record.Quarantined{Event: "dropped"}
	for name, c := range map[string]struct {
		e     record.Entry
		state gear.State
		m     float64
	}{
		"dropped":          {record.Entry{Kind: record.Quarantine, Item: "rope", Quarantine: stops}, gear.Quarantine, 50},
		"another":          {record.Entry{Kind: record.Quarantine, Item: "other", Quarantine: stops}, gear.InService, 50},
		"failed":           {record.Entry{Kind: record.FunctionCheck, Item: "rope", Check: &record.Proved{Rope: "rope"}}, gear.Quarantine, 50},
		"passed":           {record.Entry{Kind: record.FunctionCheck, Item: "rope", Check: &record.Proved{Rope: "rope", Passed: true}}, gear.InService, 50},
		"worn through":     {record.Entry{Kind: record.WornCheck, Worn: &record.Worn{Items: []rig.WornItem{{Item: "rope"}}}}, gear.Quarantine, 50},
		"worn and sound":   {record.Entry{Kind: record.WornCheck, Worn: &record.Worn{Items: []rig.WornItem{{Item: "rope", Sound: true}}}}, gear.InService, 50},
		"examined, failed": {record.Entry{Kind: record.Examination, Item: "rope", Examined: &record.Examined{Result: record.ToRetire}}, gear.Quarantine, 50},
		"examined, fit":    {record.Entry{Kind: record.Examination, Item: "rope", Examined: &record.Examined{Result: record.Fit}}, gear.InService, 50},
		"retired":          {record.Entry{Kind: record.Retirement, Item: "rope", Note: "old", Destroyed: &record.Destroyed{By: "Ivo", How: "cut up"}}, gear.Retired, 50},
		"in an incident":   {record.Entry{Kind: record.Incident, Incident: &record.Happened{Items: []string{"rope"}, Stop: []string{"rope"}, Event: "edge"}}, gear.Quarantine, 50},
		"beside it":        {record.Entry{Kind: record.Incident, Incident: &record.Happened{Items: []string{"rope"}}}, gear.InService, 50},
		"recalled":         {record.Entry{Kind: record.RecallNotice, Recall: &record.Recalled{Model: "cord", Asks: record.RecallStop}}, gear.Quarantine, 50},
		"another model":    {record.Entry{Kind: record.RecallNotice, Recall: &record.Recalled{Model: "cord-2", Asks: record.RecallStop}}, gear.InService, 50},
		"to know":          {record.Entry{Kind: record.RecallNotice, Recall: &record.Recalled{Model: "cord", Asks: record.RecallInform}}, gear.InService, 50},
		"cut":              {record.Entry{Kind: record.RopeCutting, Item: "rope", Cut: &record.RopeCut{AtM: 49}}, gear.InService, 49},
		"cut longer":       {record.Entry{Kind: record.RopeCutting, Item: "rope", Cut: &record.RopeCut{AtM: 51}}, gear.InService, 50},
	} {
		i := gear.Item{ID: "rope", Model: "cord", Serial: "7", State: gear.InService, LengthM: 50}
		changed := c.e.Out(&i)
		if i.State != c.state || float64(i.LengthM) != c.m || changed != (c.state != gear.InService || c.m != 50) || (i.Reason == "") != (c.state == gear.InService) {
			t.Errorf("%s: %+v", name, i)
		}
	}
	i := gear.Item{ID: "rope", State: gear.Quarantine, Reason: "dropped"}
	back := record.Entry{Kind: record.BackInService, Item: "rope"}
	if back.Out(&i) || i.State != gear.Quarantine {
		t.Errorf("%+v", i)
	}
}
