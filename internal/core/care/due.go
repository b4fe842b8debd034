package care

import (
	"cmp"
	"slices"

	"zealousknot/internal/core/gear"
)

// What is due of an item.
const (
	Examination = "examination"
	EndOfLife   = "end-of-life"
)

// PlannedDrop is a drop that an item is on.
type PlannedDrop struct {
	Drop string    `json:"drop"`
	Name string    `json:"name"`
	Day  gear.Date `json:"day" format:"date"`
}

// DueLine is something that an item needs by a day.
type DueLine struct {
	Item  string     `json:"item"`
	Code  string     `json:"code,omitempty"`
	Label string     `json:"label"`
	Title string     `json:"title" doc:"of its model"`
	Class gear.Class `json:"class"`
	Kind  string     `json:"kind" enum:"examination,end-of-life"`
	// On is the last day; empty: before first use, or not known.
	On gear.Date `json:"on,omitempty" format:"date" doc:"the last day on which it may be used without; left out: before first use, or not known"`
	By string    `json:"by,omitempty" doc:"what binds; left out where it is not known"`
	// Missing is what is not recorded, so that nobody can say the day.
	Missing string `json:"missing,omitempty" doc:"what is not recorded, so that the day is not known"`
	Days    int    `json:"days" doc:"from today; below 0: overdue. 0 without a day"`
	// Place and Holder say where it is, and with whom.
	Place  string `json:"place,omitempty"`
	Holder string `json:"holder,omitempty"`
	Kit    string `json:"kit,omitempty"`
	// Blocks are planned drops that it may not be on.
	Blocks []PlannedDrop `json:"blocks,omitempty" doc:"drops planned for a day after it, with the item on them"`
}

// NoDate is what is missing where nothing says from when an examination is due.
const NoDate = "a day of manufacture, first use or examination, or an interval"

// DueUntil lists what items in service need by a day, the first first: thorough examinations
// and ends of life, and those of which the day is not known. Months is the team's interval of
// examinations; planned are the coming drops by item.
func DueUntil(items []gear.Item, models map[string]*gear.Model, months int, today, until gear.Date, planned map[string][]PlannedDrop) []DueLine {
	list := []DueLine{}
	for n := range items {
		i := &items[n]
		m := models[i.Model]
		if m == nil || i.State != gear.InService {
			continue
		}
		line := func(kind string) DueLine {
			return DueLine{Item: i.ID, Code: i.Code, Label: i.Label, Title: m.Title(), Class: m.Class, Kind: kind, Place: i.Place, Holder: i.Owner, Kit: i.Kit}
		}
		unknown := func(kind, missing string) {
			d := line(kind)
			d.Missing = missing
			list = append(list, d)
		}
		add := func(kind string, on gear.Date, by string) {
			d := line(kind)
			d.On, d.By = on, by
			if left, ok := today.DaysTo(on); ok {
				d.Days = int(left)
			}
			for _, p := range planned[i.ID] {
				if p.Day > on {
					d.Blocks = append(d.Blocks, p)
				}
			}
			// What is not used is due when it is to be.
			if on != "" && on <= until || on == "" && len(d.Blocks) > 0 {
				list = append(list, d)
			}
		}
		on, by := m.ExaminationDue(i, months)
		switch {
		case !m.Class.Examined():
		case by == "":
			unknown(Examination, NoDate)
		default:
			add(Examination, on, by)
		}
		if on, from := m.EndOfLife(i); on != "" {
			add(EndOfLife, on, "life from "+from)
		}
		// What waits for its first use has not begun that life.
		if missing := m.LifeUnknown(i, until); missing != "" && by != gear.DueBeforeUse {
			unknown(EndOfLife, missing)
		}
	}
	slices.SortStableFunc(list, func(a, b DueLine) int {
		return cmp.Or(cmp.Compare(a.On, b.On), cmp.Compare(a.Label, b.Label), cmp.Compare(a.Item, b.Item), cmp.Compare(a.Kind, b.Kind))
	})
	return list
}
