package report

import (
	"encoding/csv"
	"fmt"
	"io"
	"strconv"
	"strings"

	"zealousknot/internal/tabular"
)

// ExaminationRow is an examination as it is listed in the report of its session.
type ExaminationRow struct {
	Number                            int64
	Item, Label, Serial, Title        string
	On, By, Result, NextDue, Note     string
	Points, Readings, Colour, Stopped string
	Seal                              string
	// Withdrawn is the number of the record that withdrew it; 0: it stands.
	Withdrawn int64
}

// ExaminationsCSV writes the rows as a file for exchange: RFC 4180 with a header row.
func ExaminationsCSV(w io.Writer, rows []ExaminationRow) error {
	c := csv.NewWriter(w)
	c.UseCRLF = true
	if err := c.Write([]string{"item", "on", "by", "result", "next_due", "note", "readings", "record"}); err != nil {
		return err
	}
	for _, r := range rows {
		if r.Withdrawn > 0 {
			continue
		}
		if err := c.Write([]string{tabular.Plain(r.Item), r.On, tabular.Plain(r.By), r.Result, r.NextDue, tabular.Plain(r.Note), r.Readings, strconv.FormatInt(r.Number, 10)}); err != nil {
			return err
		}
	}
	c.Flush()
	return c.Error()
}

// DefectNotice says of what was stopped at once that nobody may use it, to be handed to who
// has it.
func DefectNotice(rows []ExaminationRow) *List {
	l := &List{Title: "Urgent defects", About: []string{
		"Nobody may use what stands here. It was put out of service at once when it was examined.",
		"It is tagged and kept apart until somebody competent has checked it and recorded that it may be used again, or it is destroyed.",
	}}
	for _, r := range rows {
		l.Parts = append(l.Parts, ListPart{
			Heading: r.Label + ", " + r.Serial, Widths: []float64{2, 7},
			Rows: [][]string{
				{"model", r.Title}, {"found", strings.Trim(strings.Join([]string{r.Result, r.Points, r.Readings, r.Note}, "; "), "; ")}, {"on, by", r.On + ", " + r.By},
				{"tagged, kept at", r.Stopped}, {"record", strconv.FormatInt(r.Number, 10) + ", seal " + r.Seal}, {"received by, on", ""},
			},
		})
	}
	return l
}

// ExaminationList is the report of a session, to be printed.
func ExaminationList(rows []ExaminationRow) *List {
	part := ListPart{
		Heading: "What was examined", Widths: []float64{2.1, 2.4, 1.3, 1.6, 3.2, 1.3}, Head: []string{"item, serial", "model", "on", "result", "points and readings", "next by"},
		Empty: "Nothing was examined in this session.",
	}
	urgent := ListPart{Heading: "Stopped at once", Widths: []float64{2, 4, 3}, Head: []string{"item, serial", "why", "where it is kept"}, Empty: "Nothing was stopped."}
	for _, r := range rows {
		if r.Withdrawn > 0 {
			part.Rows = append(part.Rows, []string{r.Label + ", " + r.Serial, r.Title, r.On, fmt.Sprintf("withdrawn, record %d", r.Withdrawn), "", ""})
			continue
		}
		said := strings.Trim(strings.Join([]string{r.Points, r.Readings, r.Note}, "; "), "; ")
		part.Rows = append(part.Rows, []string{r.Label + ", " + r.Serial, r.Title, r.On, r.Result, said, r.NextDue})
		if r.Stopped != "" {
			urgent.Rows = append(urgent.Rows, []string{r.Label + ", " + r.Serial, said, r.Stopped})
		}
	}
	about := []string{}
	if len(rows) > 0 {
		about = append(about, "Signed by "+rows[0].By+".")
		if rows[0].Colour != "" {
			about = append(about, "Marked with "+rows[0].Colour+" for the period.")
		}
	}
	return &List{Title: "Report of examinations", About: about, Parts: []ListPart{urgent, part}}
}
