// Package report writes what leaves the program on paper or as a file: check
// sheets and logs, as PDF and CSV. It reads values and writes formats; it decides
// nothing.
package report

import (
	"encoding/csv"
	"io"
	"strconv"
	"time"

	"zealousknot/internal/core/procedure"
	"zealousknot/internal/tabular"
)

// Caution stands on everything that is printed.
const Caution = "For trained people. The manufacturer's instructions, local rules and the person in charge come first; figures are models with stated limits. " +
	"Nothing on this sheet says that a rig is safe. Practise near the ground under instruction."

// Row is a record as it is written on a sheet.
type Row struct {
	Number int64
	// At is by the server's clock, Given by the device's; each is written in its own zone.
	At, Given time.Time
	Day       string
	Kind      string
	// What was checked, on what, with what result, in words.
	What, On, Result string
	Note, Conflict   string
	By               string
	// CorrectedBy is the number of the record that stands in its place; 0: none.
	CorrectedBy int64
	Seal        string
}

// Sheet is the check sheet of a drop for its day.
type Sheet struct {
	Team, Drop, Site, Day string
	// Plan says how the plan stands, in words.
	Plan string
	Due  []procedure.Due
	// Cautions are those of the instructions of what is in use.
	Cautions []string
	// Rows are the records of the drop for the day, first one first.
	Rows []Row
	// Printed is by the server's clock, in the team's zone; PrintedBy who asked for the sheet.
	Printed   time.Time
	PrintedBy string
}

var header = []string{
	"number", "server_time", "given_at", "day", "kind", "what", "on", "result", "note", "conflict", "signed_by", "corrected_by", "seal",
}

// CSV writes records with a header row (RFC 4180, UTF-8).
func CSV(w io.Writer, rows []Row) error {
	c := csv.NewWriter(w)
	c.UseCRLF = true
	if err := c.Write(header); err != nil {
		return err
	}
	for _, r := range rows {
		corrected := ""
		if r.CorrectedBy != 0 {
			corrected = strconv.FormatInt(r.CorrectedBy, 10)
		}
		err := c.Write([]string{
			strconv.FormatInt(r.Number, 10), stamp(r.At), stamp(r.Given), r.Day, r.Kind, tabular.Plain(r.What), tabular.Plain(r.On), tabular.Plain(r.Result),
			tabular.Plain(r.Note), tabular.Plain(r.Conflict), tabular.Plain(r.By), corrected, r.Seal,
		})
		if err != nil {
			return err
		}
	}
	c.Flush()
	return c.Error()
}

func stamp(t time.Time) string {
	if t.IsZero() {
		return ""
	}
	return t.Format(time.RFC3339)
}

// clock writes a time as people read it, with its offset from UTC.
func clock(t time.Time) string { return t.Format("2006-01-02 15:04 -07:00") }
