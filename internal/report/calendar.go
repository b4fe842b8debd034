package report

import (
	"fmt"
	"io"
	"time"

	ics "github.com/arran4/golang-ical"

	"zealousknot/internal/core/care"
)

// Calendar writes what is due as an iCalendar file (RFC 5545): a whole day each, by what it is
// due of, so that a change moves the entry and makes no second one. What has no day is not in
// it.
func Calendar(w io.Writer, team string, list []care.DueLine, at time.Time) error {
	c := ics.NewCalendar()
	c.SetProductId("-//Zealous Knot//due//EN")
	c.SetMethod(ics.MethodPublish)
	c.SetName(team + ": due")
	c.SetXWRCalName(team + ": due")
	for _, d := range list {
		day, ok := d.On.Time()
		if !ok {
			continue
		}
		e := c.AddEvent(d.Item + "-" + d.Kind + "@zealous-knot")
		e.SetDtStampTime(at.UTC())
		e.SetAllDayStartAt(day)
		e.SetAllDayEndAt(day.AddDate(0, 0, 1))
		what := map[string]string{care.Examination: "thorough examination", care.EndOfLife: "end of life"}[d.Kind]
		e.SetSummary(d.Label + ": " + what)
		words := fmt.Sprintf("%s, by %s.", d.Title, d.By)
		if d.Place != "" {
			words += " At " + d.Place + "."
		}
		for _, b := range d.Blocks {
			words += fmt.Sprintf(" Blocks %s on %s.", b.Name, b.Day)
		}
		e.SetDescription(words)
		e.SetTimeTransparency(ics.TransparencyTransparent)
	}
	return c.SerializeTo(w, ics.WithNewLineWindows)
}

// DueList is what is due, to be printed.
func DueList(list []care.DueLine, until string) *List {
	part := ListPart{Heading: "Due until " + until, Widths: []float64{2.2, 2.6, 1.7, 1.3, 1.6, 2.6}, Head: []string{"item", "model", "what", "by", "where", "blocks"}, Empty: "Nothing is due."}
	for _, d := range list {
		on, blocks := string(d.On), ""
		switch {
		case d.Missing != "":
			on = "not known: " + d.Missing
		case on == "":
			on = "before use"
		}
		for _, b := range d.Blocks {
			blocks += b.Name + " " + string(b.Day) + " "
		}
		what := map[string]string{care.Examination: "examination", care.EndOfLife: "end of life"}[d.Kind]
		where := d.Place
		if d.Holder != "" {
			where += " " + d.Holder
		}
		part.Rows = append(part.Rows, []string{d.Label + " " + d.Code, d.Title, what, on, where, blocks})
	}
	return &List{Title: "What is due", Parts: []ListPart{part}}
}
