package run

import (
	"math"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
)

// PuttingAway is what a supervisor signs when a run is put away: a line for each counter of its
// state.
type PuttingAway struct {
	Lines []AwayLine `json:"lines,omitempty" maxItems:"200"`
	// Edges say of the contacts of ropes with edges which end was up.
	Edges []EdgeLine `json:"edges,omitempty" maxItems:"200" doc:"of the contacts of ropes with edges; one that is left out is not recorded"`
	// Work is the kind of work that the hours are recorded for.
	Work string `json:"work,omitempty" maxLength:"60" doc:"kind of work, of the hours; left out: rope access"`
	// Measured is set by the server, from the readings that were there.
	Measured []Measured `json:"measured,omitempty" maxItems:"120" doc:"set by the server: what the channels of force showed beside what was predicted"`
}

// AwayLine is one counter as it is recorded, or why it is not.
type AwayLine struct {
	Person string          `json:"person,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Item   string          `json:"item,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	DownM  quantity.Metres `json:"down_m" minimum:"0" maximum:"1000000"`
	UpM    quantity.Metres `json:"up_m" minimum:"0" maximum:"1000000"`
	HoursH float64         `json:"hours_h,omitempty" minimum:"0" maximum:"24"`
	Wet    bool            `json:"wet,omitempty"`
	Dirty  bool            `json:"dirty,omitempty"`
	// Leave records nothing of it.
	Leave  bool   `json:"leave,omitempty"`
	Reason string `json:"reason,omitempty" maxLength:"380" doc:"where it differs from what was counted, or is left out"`
}

// same reports whether a figure is as it was counted, to half of the last decimal that is shown.
func same(a, b, decimal float64) bool { return math.Abs(a-b) <= decimal/2+1e-9 }

// Shown are metres to 0.1 m, hours to 0.01 h.
const shownM, shownH = 0.1, 0.01

// Entries are the records of what was counted: use of items, hours of people. Each counter has
// its line; one that differs, or is left out, has a reason. Hours and metres of nothing are
// no record. lengths are of the ropes that lay on edges. A *strict.Error names the line.
func (d *Document) Entries(st *State, day gear.Date, away *PuttingAway, lengths map[string]quantity.Metres) ([]record.Entry, error) {
	var faults strict.Faults
	if st.Phase != Ended {
		faults.Addf("", "the run is %s: it is put away once it has ended", st.Phase)
	}
	lines := map[[2]string]int{}
	for i := range away.Lines {
		l := &away.Lines[i]
		key := [2]string{l.Person, l.Item}
		if _, twice := lines[key]; twice {
			faults.Addf(strict.Pointer("lines", i), "is there twice")
		}
		lines[key] = i
	}
	var list []record.Entry
	for i := range st.Counters {
		c := &st.Counters[i]
		key := [2]string{c.Person, c.Item}
		n, there := lines[key]
		if !there {
			faults.Addf("/lines", "missing: what was counted of %s%s", c.Person, c.Item)
			continue
		}
		delete(lines, key)
		l := &away.Lines[n]
		otherwise := l.Leave || !same(float64(l.DownM), float64(c.DownM), shownM) || !same(float64(l.UpM), float64(c.UpM), shownM) || !same(l.HoursH, c.HoursH, shownH)
		if otherwise && strings.TrimSpace(l.Reason) == "" {
			faults.Addf(strict.Pointer("lines", n, "reason"), "missing: it differs from what was counted")
		}
		if e, counts := d.entry(l, day, away.Work); counts {
			list = append(list, e)
		}
	}
	for key, n := range lines {
		faults.Addf(strict.Pointer("lines", n), "nothing was counted of %s%s", key[0], key[1])
	}
	if d.Exercise && len(away.Edges) > 0 {
		faults.Addf("/edges", "nothing of an exercise is recorded")
	}
	return append(list, d.zones(day, away.Edges, lengths, &faults)...), faults.Err()
}

// entry is the record of a line; false for one that records nothing.
func (d *Document) entry(l *AwayLine, day gear.Date, work string) (record.Entry, bool) {
	e := record.Entry{Day: day, Drop: d.Drop, Note: l.Reason}
	switch {
	case l.Leave || l.Person == "" && l.DownM == 0 && l.UpM == 0 && l.HoursH == 0:
		return e, false
	case l.Person != "":
		e.Kind, e.Person, e.Drop = record.Hours, l.Person, ""
		e.Hours = &record.OnRope{Hours: quantity.Hours(math.Round(l.HoursH*100) / 100), Work: work, Site: d.Site, HeightM: d.highest(l.Person)}
		if work == "" {
			e.Hours.Work = "rope access"
		}
		return e, e.Hours.Hours > 0
	}
	use := &record.Used{Days: 1, DownM: l.DownM, UpM: l.UpM}
	if l.Wet {
		use.Wet = 1
	}
	if l.Dirty {
		use.Dirty = 1
	}
	e.Kind, e.Item, e.Use = record.Use, l.Item, use
	return e, true
}

// highest is the greatest height that was given of somebody.
func (d *Document) highest(person string) (at quantity.Metres) {
	for i := range d.Events {
		if e := &d.Events[i]; e.Person == person && e.AtM != nil {
			at = max(at, *e.AtM)
		}
	}
	return at
}
