package report

import (
	"fmt"
	"io"
	"strings"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"

	"zealousknot/internal/core/procedure"
)

// Sizes of an A4 page in millimetres, and of letters in points.
const (
	margin   = 15
	width    = 210 - 2*margin
	line     = 4.6
	textSize = 9
)

// stateWords are how checks stand, in words.
var stateWords = map[procedure.State]string{
	procedure.NotDone: "not done", procedure.Passed: "passed", procedure.Failed: "FAILED", procedure.Stale: "does not count any more",
}

// cautionsTitle stands above what the manufacturers say to take care of.
const cautionsTitle = "Cautions of the instructions for use"

// PDF writes the check sheet.
func (s *Sheet) PDF(w io.Writer) error {
	p := newPage(fmt.Sprintf("Checks of %s for %s", s.Drop, s.Day), s.Printed)
	p.heading(16, s.Drop)
	p.text(strings.TrimPrefix(s.Site+" · ", " · ") + "checks for " + s.Day + " · " + s.Team)
	p.text("Plan: " + s.Plan)
	p.Ln(2)
	p.heading(12, "What the rig needs today")
	if len(s.Due) == 0 {
		p.text("Nothing hangs here, so nothing is to be checked.")
	}
	rows := make([][]string, len(s.Due))
	for i, d := range s.Due {
		rows[i] = []string{d.Label, strings.TrimSuffix(d.On+", "+d.Mode, ", "), stateWords[d.State], d.Why}
	}
	p.table([]float64{45, 45, 32, width - 122}, []string{"what", "on", "stands as", "why"}, rows)
	if len(s.Cautions) > 0 {
		p.Ln(3)
		p.heading(12, cautionsTitle)
		for _, words := range s.Cautions {
			p.text(words)
		}
	}
	p.Ln(3)
	p.heading(12, "Records, as signed")
	if len(s.Rows) == 0 {
		p.text("Nothing is recorded for this day.")
	}
	p.table([]float64{12, 31, 48, 32, width - 123}, []string{"no.", "given (server)", "what", "signed by", "result"}, recordCells(s.Rows))
	if n := len(s.Rows); n > 0 {
		last := s.Rows[n-1]
		p.Ln(2)
		p.text(fmt.Sprintf("The last of them is record %d, seal %s. A changed or missing record changes every later seal; the verify command compares them.", last.Number, last.Seal))
	}
	p.Ln(2)
	p.text(fmt.Sprintf("Printed %s for %s.", clock(s.Printed), s.PrintedBy))
	return p.Output(w)
}

func recordCells(rows []Row) [][]string {
	cells := make([][]string, len(rows))
	for i, r := range rows {
		given := clock(r.Given)
		if d := r.At.Sub(r.Given); d.Abs() > time.Minute {
			given += "\n(" + clock(r.At) + ")"
		}
		result := r.Result
		for _, more := range []string{r.Note, r.Conflict} {
			if more != "" {
				result += "\n" + more
			}
		}
		if r.CorrectedBy != 0 {
			result += fmt.Sprintf("\ncorrected by record %d", r.CorrectedBy)
		}
		cells[i] = []string{fmt.Sprint(r.Number), given, strings.TrimSuffix(r.Kind+": "+r.What+"\n"+r.On, "\n"), r.By, result}
	}
	return cells
}

// page is a document in hand, with the few shapes that sheets are made of.
type page struct {
	*fpdf.Fpdf
	// wide is the room between the margins, high the height of the paper, edge the margin.
	wide, high, edge float64
}

func newPage(title string, at time.Time) *page {
	return begin(&page{fpdf.New("P", "mm", "A4", ""), width, 297, margin}, title, at)
}

// newSmallPage is a page of A5.
func newSmallPage(title string, at time.Time) *page {
	const edge = 8
	return begin(&page{fpdf.New("P", "mm", "A5", ""), 148 - 2*edge, 210, edge}, title, at)
}

func begin(p *page, title string, at time.Time) *page {
	p.AddUTF8FontFromBytes("body", "", goregular.TTF)
	p.AddUTF8FontFromBytes("body", "B", gobold.TTF)
	p.SetTitle(title, true)
	p.SetCreator("Zealous Knot", true)
	p.SetCreationDate(at.UTC())
	p.SetModificationDate(at.UTC())
	p.SetCatalogSort(true)
	p.SetMargins(p.edge, p.edge, p.edge)
	p.SetAutoPageBreak(true, 26)
	p.AliasNbPages("{pages}")
	p.SetFooterFunc(func() {
		p.SetY(-22)
		p.SetFont("body", "", 7)
		p.MultiCell(p.wide, 3.2, Caution, "T", "L", false)
		p.CellFormat(p.wide, 3.6, fmt.Sprintf("%s · page %d of {pages}", title, p.PageNo()), "", 0, "L", false, 0, "")
	})
	p.AddPage()
	return p
}

func (p *page) heading(size float64, words string) {
	p.SetFont("body", "B", size)
	p.MultiCell(p.wide, size*0.5, words, "", "L", false)
	p.Ln(1)
}

func (p *page) text(words string) {
	p.SetFont("body", "", textSize)
	p.MultiCell(p.wide, line, words, "", "L", false)
}

// table writes rows under a head that is said again on every page; a row is never
// parted.
func (p *page) table(widths []float64, head []string, rows [][]string) {
	if len(rows) == 0 {
		return
	}
	p.row("B", widths, head)
	for _, r := range rows {
		if p.GetY()+p.height(widths, r) > p.high-26 {
			p.AddPage()
			p.row("B", widths, head)
		}
		p.row("", widths, r)
	}
}

// height is that of the highest cell of a row.
func (p *page) height(widths []float64, cells []string) float64 {
	p.SetFont("body", "", 8)
	most := 1
	for i, c := range cells {
		n := 0
		for part := range strings.SplitSeq(c, "\n") {
			n += max(1, len(p.SplitText(part, widths[i]-2)))
		}
		most = max(most, n)
	}
	return float64(most)*4 + 1
}

func (p *page) row(style string, widths []float64, cells []string) {
	high := p.height(widths, cells)
	x, y := p.edge, p.GetY()
	for i, c := range cells {
		p.SetFont("body", style, 8)
		p.SetXY(x, y+0.5)
		p.MultiCell(widths[i], 4, c, "", "L", false)
		x += widths[i]
	}
	p.Line(p.edge, y+high, p.edge+p.wide, y+high)
	p.SetXY(p.edge, y+high)
}
