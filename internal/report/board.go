package report

import (
	"fmt"
	"io"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"

	"zealousknot/internal/core/day"
	"zealousknot/internal/core/gear"
)

// Board is a day's board, to be printed for the wall.
func Board(b *day.Board, r *day.Report) *List {
	l := &List{Title: "Day: " + string(b.Day), About: []string{fmt.Sprintf("%d stops, %d looks. A plan for trained people; voice stops work.", r.Stops, r.Looks)}}
	if b.Note != "" {
		l.About = append(l.About, b.Note)
	}
	drops := ListPart{Heading: "Drops", Widths: []float64{20, 40, 72, 48}, Head: []string{"hours", "drop", "who", "weather stops it"}, Empty: "No drop is on the board."}
	for _, lane := range r.Lanes {
		var seats, shut []string
		for _, s := range lane.Seats {
			seats = append(seats, s.Name+", "+string(s.Task))
		}
		for _, s := range lane.Shut {
			shut = append(shut, fmt.Sprintf("%s to %s: %s", day.ClockOf(s.From), day.ClockOf(s.To), s.Why))
		}
		if len(b.Wind) == 0 {
			shut = []string{"no wind is stated: not looked at"}
		}
		drops.Rows = append(drops.Rows, []string{hoursOf(lane.Span), joined("\n", lane.Name, lane.Site), strings.Join(seats, "\n"), strings.Join(shut, "\n")})
	}
	people := ListPart{Heading: "People", Widths: []float64{40, 140}, Head: []string{"who", "where, when"}, Empty: "Nobody is on a drop that has its hours."}
	for _, p := range r.People {
		var turns []string
		for _, t := range p.Spans {
			turns = append(turns, fmt.Sprintf("%s %s, %s", hoursOf(&t.Span), t.Name, t.Task))
		}
		people.Rows = append(people.Rows, []string{p.Name, strings.Join(turns, "\n")})
	}
	found := ListPart{Heading: "Found", Widths: []float64{14, 38, 128}, Head: []string{"", "rule", "what"}, Empty: "Nothing was found in what was looked at."}
	for _, f := range r.Findings {
		found.Rows = append(found.Rows, []string{strings.ToUpper(string(f.Severity)), f.Rule, f.What})
	}
	unseen := ListPart{Heading: "Not looked at", Widths: []float64{180}, Head: []string{"what"}, Empty: "Nothing."}
	for _, u := range r.NotLookedAt {
		unseen.Rows = append(unseen.Rows, []string{u})
	}
	l.Parts = []ListPart{drops, people, found, unseen}
	return l
}

func hoursOf(s *day.Span) string {
	if s == nil {
		return "no time yet"
	}
	return string(day.ClockOf(s.From)) + " – " + string(day.ClockOf(s.To))
}

// CalendarDay is a day with who is where.
type CalendarDay struct {
	Day   gear.Date
	Lanes []day.PersonLane
}

// PersonCalendar writes somebody's drops as an iCalendar file (RFC 5545), by the clock of the
// team; a change moves an entry and makes no second one.
func PersonCalendar(w io.Writer, team, person string, days []CalendarDay, at *time.Location, made time.Time) error {
	c := ics.NewCalendar()
	c.SetProductId("-//Zealous Knot//day//EN")
	c.SetMethod(ics.MethodPublish)
	c.SetName(team + ": days")
	c.SetXWRCalName(team + ": days")
	for _, d := range days {
		midnight, ok := d.Day.Time()
		if !ok {
			continue
		}
		for _, l := range d.Lanes {
			if l.Person != person {
				continue
			}
			for _, t := range l.Spans {
				e := c.AddEvent(fmt.Sprintf("%s-%s-%s@zealous-knot", d.Day, t.Drop, person))
				e.SetDtStampTime(made.UTC())
				clock := func(minute int) time.Time {
					return time.Date(midnight.Year(), midnight.Month(), midnight.Day(), 0, minute, 0, 0, at)
				}
				e.SetStartAt(clock(t.From))
				e.SetEndAt(clock(t.To))
				e.SetSummary(t.Name + ", " + string(t.Task))
			}
		}
	}
	return c.SerializeTo(w, ics.WithNewLineWindows)
}
