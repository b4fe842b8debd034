package care_test

import (
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/care"
	"zealousknot/internal/core/gear"
)

// The days that counters cover are those of the entries, each once, whatever their order; a
// day that two entries are of is said to be.
func TestCount(t *testing.T) {
	r := chance.Rand(19, 5)
	for range 500 {
		var uses []care.Use
		times, days := map[gear.Date]int{}, 0
		for range r.IntN(7) {
			from := gear.Date("2026-02-20").AddDays(r.IntN(40))
			u := care.Use{From: from, To: from.AddDays(r.IntN(5)), Days: 1 + r.IntN(3), DownM: 10, Loads: 2}
			uses, days = append(uses, u), days+u.Days
			for d := u.From; d <= u.To; d = d.AddDays(1) {
				times[d]++
			}
		}
		c := care.Count(uses, []gear.Event{{Kind: "shock-load"}, {Kind: "heat"}})
		if c.Days != days || c.Loads != 2*len(uses) || float64(c.DownM) != 10*float64(len(uses)) || c.Shocks != 1 {
			t.Fatalf("%+v of %+v", c, uses)
		}
		in := func(list []care.Span, d gear.Date) (n int) {
			for _, s := range list {
				if s.From <= d && d <= s.To {
					n++
				}
			}
			return n
		}
		for d := gear.Date("2026-02-18"); d < "2026-04-10"; d = d.AddDays(1) {
			if in(c.Covers, d) != min(times[d], 1) || in(c.Twice, d) != max(0, min(times[d]-1, 1)) {
				t.Fatalf("%s is in %d entries: %+v", d, times[d], c)
			}
		}
	}
}

// A recall by lots means what has no lot, and what was cut off a rope with its serial.
func TestRecallOfLotsAndParts(t *testing.T) {
	for name, c := range map[string]struct {
		recall care.Recall
		item   gear.Item
		means  bool
	}{
		"of the lot":                  {care.Recall{Lots: []string{"A 7"}}, gear.Item{Lot: "a-7"}, true},
		"of another lot":              {care.Recall{Lots: []string{"A 7"}}, gear.Item{Lot: "a-8"}, false},
		"of a lot not known":          {care.Recall{Lots: []string{"A 7"}}, gear.Item{}, true},
		"retired":                     {care.Recall{Lots: []string{"A 7"}}, gear.Item{Lot: "A7", State: gear.Retired}, false},
		"the rope":                    {care.Recall{Serials: []string{"R-1"}}, gear.Item{Serial: "R1"}, true},
		"cut off it":                  {care.Recall{Serials: []string{"R-1"}}, gear.Item{Serial: "R1/B"}, true},
		"cut off what was cut off":    {care.Recall{Serials: []string{"R-1"}}, gear.Item{Serial: "R1/B/B2"}, true},
		"cut off another":             {care.Recall{Serials: []string{"R-1"}}, gear.Item{Serial: "R2/B"}, false},
		"made the day that it begins": {care.Recall{From: "2026-03-02"}, gear.Item{MadeOn: "2026-03-02"}, true},
		"made the day before":         {care.Recall{From: "2026-03-02"}, gear.Item{MadeOn: "2026-03-01"}, false},
		"made the day that it ends":   {care.Recall{To: "2026-03-02"}, gear.Item{MadeOn: "2026-03-02"}, true},
		"made the day after":          {care.Recall{To: "2026-03-02"}, gear.Item{MadeOn: "2026-03-03"}, false},
		"made on a day not known":     {care.Recall{To: "2026-03-02"}, gear.Item{}, true},
		"a serial that ends like it":  {care.Recall{Serials: []string{"R-1"}}, gear.Item{Serial: "R1B"}, false},
	} {
		if got := c.recall.Affects(&c.item); got != c.means {
			t.Errorf("%s: %v", name, got)
		}
	}
}
