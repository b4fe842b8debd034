package web

import (
	"bytes"
	"context"
	"net/http"
	"reflect"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/day"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/report"
	"zealousknot/internal/store"
)

// registerDays declares the days of a team.
func (c *Config) registerDays(api huma.API) {
	get(api, "days", "/days", "Days at a glance: their drops, with the hours of those that have some", c.days)
	get(api, "day", "/days/{date}", "The board of a day, with what cannot be on it", c.day)
	withBody(api, operation(http.MethodPut, "save-day", "/days/{date}", "Keep the board of a day, if nobody else has changed it; If-Match \"0\" for one that was not kept yet"), reflect.TypeFor[day.Board](), c.saveDay)
	huma.Register(api, operation(http.MethodPost, "fill-day", "/days/{date}/fill", "Fill the board of a day as it is kept; nothing is changed"), heavy(c, c.fillDay))
	withBody(api, operation(http.MethodPost, "seat", "/drops/{id}/seat", "Put somebody of the team in somebody's place on a drop, if nobody has changed it"), reflect.TypeFor[seatBody](), c.seat)
	file(api, "day-pdf", "/days/{date}/board.pdf", "The board of a day as PDF, for the wall", "application/pdf", c.printDay)
	file(api, "day-ics", "/days/{date}/calendar.ics", "A person's drops of a day and the six after it as iCalendar", "text/calendar", c.dayCalendar)
}

type dateIn struct {
	Date gear.Date `path:"date" format:"date"`
}

type dayBody struct {
	Board  *day.Board  `json:"board"`
	Report *day.Report `json:"report"`
	Gone   []string    `json:"gone,omitempty" doc:"drops that were on the board and were removed since, are another day's, or cannot be read with the present records"`
	// Left are drops of the day for which the board has no room.
	Left      []string `json:"left,omitempty" doc:"drops of the day for which the board has no room: nothing is said of them"`
	ChangedBy string   `json:"changed_by,omitempty"`
}

type dayOut struct {
	ETag string `header:"ETag"`
	Body dayBody
}

// board is a day's as it is kept, with its drops that nobody has put on it yet, and without
// those that were removed since, or that cannot be read with the present records: one of them
// keeps no other from being planned.
func (c *Config) board(ctx context.Context, on gear.Date) (b *store.Board, a *day.Asked, gone, left []string, err error) {
	team := who(ctx).Team.ID
	b, err = c.Store.Board(ctx, team, on)
	if err != nil {
		return nil, nil, nil, nil, err
	}
	_, planned, err := c.Store.DaysBetween(ctx, team, on, on)
	if err != nil {
		return nil, nil, nil, nil, err
	}
	keep := func(there func(drop string) bool) {
		b.Document.Slots = slices.DeleteFunc(b.Document.Slots, func(s day.Slot) bool {
			if there(s.Drop) {
				return false
			}
			gone = append(gone, s.Drop)
			return true
		})
	}
	keep(func(drop string) bool {
		return slices.ContainsFunc(planned, func(p store.Planned) bool { return p.ID == drop })
	})
	for _, p := range planned {
		switch {
		case slices.ContainsFunc(b.Document.Slots, func(s day.Slot) bool { return s.Drop == p.ID }):
		case len(b.Document.Slots) < mostSlots:
			b.Document.Slots = append(b.Document.Slots, day.Slot{Drop: p.ID, Hours: usualHours})
		default:
			left = append(left, p.Name)
		}
	}
	a = &day.Asked{Board: *b.Document}
	if err := c.Store.Gather(ctx, who(ctx).Team, a); err != nil {
		return nil, nil, nil, nil, err
	}
	keep(func(drop string) bool {
		return slices.ContainsFunc(a.Drops, func(d day.DropOf) bool { return d.ID == drop })
	})
	a.Board = *b.Document
	return b, a, gone, left, nil
}

const (
	// mostSlots are as many as a board has room for, usualHours how long a new drop is taken
	// to last.
	mostSlots, usualHours = 30, 4
)

func (c *Config) day(ctx context.Context, in *dateIn) (*dayOut, error) {
	b, a, gone, left, err := c.board(ctx, in.Date)
	if err != nil {
		return nil, failed(ctx, err)
	}
	r, err := a.Check()
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &dayOut{etag(b.Version), dayBody{b.Document, r, gone, left, b.ChangedBy}}, nil
}

type saveDayIn struct {
	Date    gear.Date `path:"date" format:"date"`
	IfMatch string    `header:"If-Match" doc:"the ETag of the board that was read"`
	RawBody []byte
}

func (c *Config) saveDay(ctx context.Context, in *saveDayIn) (*dayOut, error) {
	version, err := ifMatch(in.IfMatch)
	if err != nil {
		return nil, err
	}
	b, err := day.Read(in.RawBody)
	if err != nil {
		return nil, failed(ctx, err)
	}
	if b.Day != in.Date {
		return nil, failed(ctx, &strict.Error{Faults: []strict.Fault{{Pointer: "/day", Detail: "is not the day of the address, " + string(in.Date)}}})
	}
	// What cannot be judged is not kept.
	if _, err := ask.CheckDay(ctx, c.env(ctx), struct{}{}, &day.Asked{Board: *b}); err != nil {
		return nil, failed(ctx, err)
	}
	if _, err := c.Store.SaveBoard(ctx, who(ctx).Team.ID, signer(ctx), version, b); err != nil {
		return nil, failed(ctx, err)
	}
	return c.day(ctx, &dateIn{in.Date})
}

type filledOut struct{ Body *day.Filled }

func (c *Config) fillDay(ctx context.Context, in *dateIn) (*filledOut, error) {
	_, a, _, _, err := c.board(ctx, in.Date)
	if err != nil {
		return nil, failed(ctx, err)
	}
	f, err := ask.FillDay(ctx, c.env(ctx), struct{}{}, a)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &filledOut{f}, nil
}

type daysIn struct {
	From gear.Date `query:"from" format:"date" doc:"left out: today"`
	Days int       `query:"days" minimum:"1" maximum:"31" doc:"left out: seven"`
}

// DayGlance is a day at a glance.
type DayGlance struct {
	Day   gear.Date  `json:"day" format:"date"`
	Drops []DaysDrop `json:"drops"`
}

// DaysDrop is a drop of a day.
type DaysDrop struct {
	ID    string    `json:"id"`
	Name  string    `json:"name"`
	From  day.Clock `json:"from,omitempty" doc:"left out: it has no time yet"`
	Hours float64   `json:"hours,omitempty"`
}

type daysOut struct {
	Body struct {
		Days []DayGlance `json:"days"`
	}
}

func (c *Config) days(ctx context.Context, in *daysIn) (*daysOut, error) {
	team := who(ctx).Team
	first := in.From
	if first == "" {
		first = today(team)
	}
	count := in.Days
	if count == 0 {
		count = 7
	}
	boards, planned, err := c.Store.DaysBetween(ctx, team.ID, first, first.AddDays(count-1))
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &daysOut{}
	for n := range count {
		d := DayGlance{Day: first.AddDays(n), Drops: []DaysDrop{}}
		for _, p := range planned {
			if p.Day != d.Day {
				continue
			}
			l := DaysDrop{ID: p.ID, Name: p.Name}
			for _, b := range boards {
				for _, s := range b.Slots {
					if b.Day == d.Day && s.Drop == p.ID {
						l.From, l.Hours = s.From, s.Hours
					}
				}
			}
			d.Drops = append(d.Drops, l)
		}
		slices.SortStableFunc(d.Drops, func(a, b DaysDrop) int { return compareTimes(a.From, b.From) })
		out.Body.Days = append(out.Body.Days, d)
	}
	return out, nil
}

// compareTimes has what has no time yet last.
func compareTimes(a, b day.Clock) int {
	switch {
	case a == b:
		return 0
	case a == "" || b != "" && a > b:
		return 1
	}
	return -1
}

func (c *Config) printDay(ctx context.Context, in *dateIn) (*fileOut, error) {
	out, err := c.day(ctx, in)
	if err != nil {
		return nil, err
	}
	return c.printed(ctx, "board-"+string(in.Date), report.Board(out.Body.Board, out.Body.Report))
}

type calendarIn struct {
	Date   gear.Date `path:"date" format:"date"`
	Person string    `query:"person" maxLength:"64" doc:"whose drops; left out: of who asks"`
}

func (c *Config) dayCalendar(ctx context.Context, in *calendarIn) (*fileOut, error) {
	i := who(ctx)
	person := in.Person
	if person == "" {
		person = i.Person
	}
	var days []report.CalendarDay
	for n := range 7 {
		out, err := c.day(ctx, &dateIn{in.Date.AddDays(n)})
		if err != nil {
			return nil, err
		}
		days = append(days, report.CalendarDay{Day: in.Date.AddDays(n), Lanes: out.Body.Report.People})
	}
	var b bytes.Buffer
	if err := report.PersonCalendar(&b, i.Team.Name, person, days, i.Team.Location(), time.Now()); err != nil {
		return nil, failed(ctx, err)
	}
	return attached("days.ics", &b), nil
}

type seatIn struct {
	ID      string `path:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	IfMatch string `header:"If-Match" doc:"the ETag of the drop that was looked at"`
	RawBody []byte
}

type seatBody struct {
	Person string `json:"person" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"who is on the drop"`
	By     string `json:"by" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"who of the team takes their place"`
}

// seat puts somebody of the team in somebody's place on a drop.
func (c *Config) seat(ctx context.Context, in *seatIn) (*savedOut, error) {
	version, err := ifMatch(in.IfMatch)
	if err != nil {
		return nil, err
	}
	var body seatBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	team := who(ctx).Team
	d, err := c.Store.Drop(ctx, team.ID, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	if err := c.Store.Present(ctx, team, d); err != nil {
		return nil, failed(ctx, err)
	}
	people, err := c.Store.People(ctx, team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	i := slices.IndexFunc(people, func(m rig.Member) bool { return m.ID == body.By })
	on := func(id string) bool {
		return slices.ContainsFunc(d.Document.People, func(p rig.Person) bool { return p.ID == id })
	}
	switch {
	case i < 0:
		return nil, failed(ctx, &strict.Error{Faults: []strict.Fault{{Pointer: "/by", Detail: "is nobody of the team"}}})
	case !on(body.Person):
		return nil, failed(ctx, &strict.Error{Faults: []strict.Fault{{Pointer: "/person", Detail: "is not on the drop"}}})
	case on(body.By):
		return nil, failed(ctx, &strict.Error{Faults: []strict.Fault{{Pointer: "/by", Detail: "is on the drop already"}}})
	}
	d.Document.Seat(body.Person, &people[i])
	// Their harness is the store's.
	if err := c.Store.Present(ctx, team, d); err != nil {
		return nil, failed(ctx, err)
	}
	if err := d.Document.Validate(); err != nil {
		return nil, failed(ctx, err)
	}
	version, err = c.Store.SaveDrop(ctx, team, signer(ctx), in.ID, version, d.Document)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return saved(in.ID, version), nil
}
