package gear

import (
	"cmp"
	"fmt"
	"time"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/strict"
)

// Date is a day, written 2026-03-14; empty where it is not known.
type Date string

// Time gives the day at midnight UTC; ok is false for an empty or wrong date.
func (d Date) Time() (t time.Time, ok bool) { return strict.Date(string(d)) }

// dateOf is the day of a time.
func dateOf(t time.Time) Date {
	year, month, day := t.Date()
	digit := func(n int) byte { return byte('0' + n%10) }
	return Date([]byte{
		digit(year / 1000), digit(year / 100), digit(year / 10), digit(year), '-',
		digit(int(month) / 10), digit(int(month)), '-', digit(day / 10), digit(day),
	})
}

// DaysTo is the number of days from d to e; ok is false where either is not
// known.
func (d Date) DaysTo(e Date) (days quantity.Days, ok bool) {
	from, ok1 := d.Time()
	to, ok2 := e.Time()
	if !ok1 || !ok2 {
		return 0, false
	}
	return quantity.Days(to.Sub(from).Hours() / 24), true
}

// AddYears is the day so many years later, held to the end of a shorter February;
// part years are counted in whole days of a 365.25-day year.
func (d Date) AddYears(years float64) Date {
	t, ok := d.Time()
	if !ok {
		return ""
	}
	if years == float64(int(years)) {
		return d.AddMonths(12 * int(years))
	}
	return dateOf(t.AddDate(0, 0, int(years*365.25)))
}

// AddDays is the day so many days later.
func (d Date) AddDays(days int) Date {
	t, ok := d.Time()
	if !ok {
		return ""
	}
	return dateOf(t.AddDate(0, 0, days))
}

// AddMonths is the day so many months later, held to the end of a shorter
// month (31 August + 6 months is 28 February).
func (d Date) AddMonths(months int) Date {
	t, ok := d.Time()
	if !ok {
		return ""
	}
	first := time.Date(t.Year(), t.Month()+time.Month(months), 1, 0, 0, 0, 0, time.UTC)
	last := first.AddDate(0, 1, -1).Day()
	return dateOf(first.AddDate(0, 0, min(t.Day(), last)-1))
}

// State is whether an item may be used.
type State string

const (
	InService  State = "in-service"
	Quarantine State = "quarantine"
	Retired    State = "retired"
)

// An Item is one serial-numbered thing of a model.
type Item struct {
	ID          string `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Model       string `json:"model" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Serial      string `json:"serial" minLength:"1" maxLength:"80"`
	Lot         string `json:"lot,omitempty" maxLength:"80" doc:"batch that it was made in, as its marking or paper says"`
	Label       string `json:"label" minLength:"1" maxLength:"80" doc:"what people call it, such as descender 14"`
	State       State  `json:"state" enum:"in-service,quarantine,retired"`
	Reason      string `json:"reason,omitempty" maxLength:"400" doc:"why it is not in service"`
	MadeOn      Date   `json:"made_on,omitempty" format:"date"`
	BoughtOn    Date   `json:"bought_on,omitempty" format:"date" doc:"no life counts from it"`
	FirstUsedOn Date   `json:"first_used_on,omitempty" format:"date"`
	ExaminedOn  Date   `json:"examined_on,omitempty" format:"date" doc:"last thorough examination"`
	AgainBy     Date   `json:"again_by,omitempty" format:"date" doc:"day by which the examiner wants it again; it binds beside the intervals"`
	// HarshMonths is the interval that its conditions of use ask for.
	HarshMonths int `json:"harsh_months,omitempty" minimum:"1" maximum:"60" doc:"used in harsh conditions (salt, grit, chemicals): interval of its thorough examination; it binds where it is the shortest"`
	// Code is the store's: given once, never changed.
	Code    string `json:"code,omitempty" pattern:"^[0-9A-HJKMNP-TV-Z]{6}[0-9A-HJKMNP-TV-Z*~$=U]$" doc:"on its label; the store gives it once and never changes it"`
	Marking string `json:"marking,omitempty" maxLength:"80" doc:"how it is marked, such as two bands of blue tape"`
	Owner   string `json:"owner,omitempty" maxLength:"80"`
	Place   string `json:"place,omitempty" maxLength:"80"`
	Kit     string `json:"kit,omitempty" maxLength:"80" doc:"label or colour of the kit it is dedicated to"`
	// The following belong to ropes.
	LengthM    quantity.Metres      `json:"length_m,omitempty" minimum:"0" maximum:"2000"`
	MeasuredMM quantity.Millimetres `json:"measured_mm,omitempty" minimum:"0" maximum:"60" doc:"measured diameter; left out: the nominal one counts"`
	Condition  Condition            `json:"condition,omitempty" enum:"dry,wet,muddy,icy,stiff,glazed" doc:"left out: dry"`
	Noted      *Noted               `json:"noted,omitempty" doc:"of a rope: what its map says of it; the store makes it of the records, and nothing that is given changes it"`
	Events     []Event              `json:"events,omitempty" maxItems:"100"`
	Guest      *Guest               `json:"guest,omitempty" doc:"it belongs to somebody who works with the team for a while"`
	// Revision is the store's, and decides nothing.
	Revision int `json:"revision,omitempty" minimum:"1" doc:"in the store: one more at each change; given with a change, the one that was read"`
}

// Noted is what the map of a rope says that whoever hangs it must know.
type Noted struct {
	Damage []Stretch `json:"damage,omitempty" maxItems:"200" doc:"where it is damaged"`
	// Readings of one day alone: a rope swells as it ages, and what was thin need not be.
	LeastMM quantity.Millimetres `json:"least_mm,omitempty" minimum:"0" maximum:"60" doc:"thinnest reading of the last day that it was measured at places"`
	MostMM  quantity.Millimetres `json:"most_mm,omitempty" minimum:"0" maximum:"60" doc:"thickest reading of that day"`
}

// Damaged reports whether the map of a rope has damage.
func (i *Item) Damaged() bool { return i.Noted != nil && len(i.Noted.Damage) > 0 }

// Stretch is a part of a rope, by metre from its end A.
type Stretch struct {
	FromM quantity.Metres `json:"from_m" minimum:"0" maximum:"2000"`
	ToM   quantity.Metres `json:"to_m,omitempty" minimum:"0" maximum:"2000" doc:"left out: at one place"`
}

// String is where the stretch lies, in words.
func (s Stretch) String() string {
	if s.ToM <= s.FromM {
		return fmt.Sprintf("at %v", s.FromM)
	}
	return fmt.Sprintf("between %v and %v", s.FromM, s.ToM)
}

// Unrevised is the item without what is the store's alone: its revision and its code.
func (i Item) Unrevised() Item {
	i.Revision, i.Code = 0, ""
	return i
}

// Given is the item as somebody gives it: what its map says comes of the records.
func (i Item) Given() Item {
	i.Noted = nil
	return i.Unrevised()
}

// Guest is the paper that somebody brings with an item of their own: until it ends, it
// stands for the team's own examination.
type Guest struct {
	Certificate string `json:"certificate" minLength:"1" maxLength:"80" doc:"number or name of the paper"`
	Examiner    string `json:"examiner" minLength:"1" maxLength:"80"`
	ValidUntil  Date   `json:"valid_until" format:"date"`
}

// Event is something that stops an item until someone checks it.
type Event struct {
	Kind      string `json:"kind" enum:"shock-load,dropped,heat,chemical,edge,failed-check,recall"`
	On        Date   `json:"on" format:"date"`
	CheckedOn Date   `json:"checked_on,omitempty" format:"date" doc:"when the named check was done; left out: not yet"`
	CheckedBy string `json:"checked_by,omitempty" maxLength:"80" doc:"who did it"`
	Note      string `json:"note,omitempty" maxLength:"400"`
	In        string `json:"in,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"person who was in it"`
}

var eventWords = map[string]string{
	"shock-load": "shock load", "dropped": "dropped from height", "chemical": "chemical contact", "edge": "edge contact under load", "failed-check": "failed check",
}

// Words are what people read in place of the event's kind.
func (e *Event) Words() string { return cmp.Or(eventWords[e.Kind], e.Kind) }

// Reason is why an item is in quarantine by the event.
func (e *Event) Reason() string {
	if e.Note == "" {
		return e.Words()
	}
	return e.Words() + ": " + e.Note
}

// EndOfLife is the day an item of this model passes its life, whichever limit
// comes first, and which limit that is; empty where none is known.
func (m *Model) EndOfLife(i *Item) (end Date, from string) {
	if m.Life == nil {
		return "", ""
	}
	if y := m.Life.FromMadeYears; y > 0 && i.MadeOn != "" {
		end, from = i.MadeOn.AddYears(y), "manufacture"
	}
	if y := m.Life.FromFirstUseYears; y > 0 && i.FirstUsedOn != "" {
		if e := i.FirstUsedOn.AddYears(y); end == "" || e < end {
			end, from = e, "first use"
		}
	}
	return end, from
}

// LifeUnknown is the date that is missing to say whether an item's life has ended by a day;
// empty where that is known. Nothing is used before it is made, so that a life from first use
// may be known to last by the day of making alone.
func (m *Model) LifeUnknown(i *Item, on Date) (missing string) {
	if end, _ := m.EndOfLife(i); m.Life == nil || end != "" && end < on {
		return ""
	}
	if y := m.Life.FromMadeYears; y > 0 && i.MadeOn == "" {
		return "when it was made"
	}
	y := m.Life.FromFirstUseYears
	if y > 0 && i.FirstUsedOn == "" && (i.MadeOn == "" || i.MadeOn.AddYears(y) < on) {
		return "when it was first used"
	}
	return ""
}

// What makes a thorough examination due.
const (
	DueByLeaflet  = "the interval of the leaflet"
	DueByTeam     = "the interval of the team"
	DueByUse      = "the interval of its conditions of use"
	DueByPaper    = "the end of its paper"
	DueByExaminer = "the examiner's own date"
	DueBeforeUse  = "first use: it has been neither used nor examined"
)

// ExaminationDue is the day the next thorough examination is due, the earliest of all that
// bind, and what binds: the leaflet's interval, the team's or that of its conditions of use,
// whichever is shortest, after the last examination, else after first use; the examiner's own date; of a guest's item the end
// of its paper. Stock that was neither used nor examined has no day, whenever it was made: it
// is examined before first use. Both are empty where nothing is known. Months is the team's
// interval; 0: none.
func (m *Model) ExaminationDue(i *Item, months int) (due Date, by string) {
	interval, by := months, DueByTeam
	if l := m.ExaminationMonths; l > 0 && (months == 0 || l <= months) {
		interval, by = l, DueByLeaflet
	}
	if h := i.HarshMonths; h > 0 && (interval == 0 || h < interval) {
		interval, by = h, DueByUse
	}
	from := i.ExaminedOn
	if from == "" && i.Guest == nil {
		// Whoever brought it had it examined: its paper says until when.
		from = i.FirstUsedOn
	}
	if from != "" && interval > 0 {
		due = from.AddMonths(interval)
	}
	if i.AgainBy != "" && (due == "" || i.AgainBy < due) {
		due, by = i.AgainBy, DueByExaminer
	}
	if g := i.Guest; g != nil && (due == "" || g.ValidUntil < due) {
		due, by = g.ValidUntil, DueByPaper
	}
	switch {
	case due != "":
		return due, by
	case i.ExaminedOn == "" && i.FirstUsedOn == "" && i.MadeOn != "":
		return "", DueBeforeUse
	}
	return "", ""
}

// A Gauge is a diameter of a rope, with the word for where it comes from.
type Gauge struct {
	MM    quantity.Millimetres
	Which string
}

// Gauges are the diameters of a rope that a device must take: the one that counts, and the
// thinnest and the thickest that its map has of the last day.
func Gauges(i *Item, m *Model) []Gauge {
	d, which := Diameter(i, m)
	list := []Gauge{{d, which}}
	if n := i.Noted; n != nil && n.MostMM > 0 {
		list = append(list, Gauge{n.MostMM, "at its thickest"}, Gauge{n.LeastMM, "at its thinnest"})
	}
	return list
}

// Diameter is the rope diameter that counts, measured else nominal, and the
// word for which it is.
func Diameter(i *Item, m *Model) (quantity.Millimetres, string) {
	if i.MeasuredMM > 0 {
		return i.MeasuredMM, "measured"
	}
	return m.Rope.DiameterMM, "nominal"
}
