package report

import (
	"bytes"
	"encoding/xml"
	"fmt"
	"io"
	"strings"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"

	"zealousknot/internal/picture"
	"zealousknot/internal/picture/svg"
)

// paper is what a sheet is drawn on: lengths in millimetres from the upper left corner,
// letters in points.
type paper interface {
	text(x, y, size float64, bold bool, words string)
	line(x1, y1, x2, y2, width float64, dashed bool)
	box(x, y, w, h float64)
	circle(x, y, r float64)
	// drawing puts a picture with its upper left corner at a place, so many millimetres a unit.
	drawing(d *picture.Drawing, x, y, scale float64)
	// wide is the width of words.
	wide(size float64, bold bool, words string) float64
	// room is how far down a page goes; 0: there is one page, as long as it takes.
	room() float64
	next()
}

// pdfPaper draws on pages of A4.
type pdfPaper struct{ *page }

func (p pdfPaper) font(size float64, bold bool) {
	style := ""
	if bold {
		style = "B"
	}
	p.SetFont("body", style, size)
}

func (p pdfPaper) text(x, y, size float64, bold bool, words string) {
	p.font(size, bold)
	p.Text(x, y, words)
}

func (p pdfPaper) line(x1, y1, x2, y2, width float64, dashed bool) {
	p.SetLineWidth(width)
	if dashed {
		p.SetDashPattern([]float64{1.6, 1.2}, 0)
	} else {
		p.SetDashPattern([]float64{}, 0)
	}
	p.Line(x1, y1, x2, y2)
	p.SetDashPattern([]float64{}, 0)
	p.SetLineWidth(0.2)
}

func (p pdfPaper) box(x, y, w, h float64) {
	p.SetFillColor(255, 255, 255)
	p.Rect(x, y, w, h, "DF")
}

func (p pdfPaper) circle(x, y, r float64) {
	p.SetFillColor(255, 255, 255)
	p.Circle(x, y, r, "DF")
}

func (p pdfPaper) drawing(d *picture.Drawing, x, y, scale float64) {
	for i := range d.Shapes {
		s := &d.Shapes[i]
		ink := greys[s.Ink]
		p.SetDrawColor(ink, ink, ink)
		p.SetLineWidth(max(0.15, s.Width*scale))
		p.SetLineCapStyle(map[bool]string{true: "butt", false: "round"}[s.Cut])
		p.SetLineJoinStyle("round")
		p.SetDashPattern([]float64{}, 0)
		if s.Dashed {
			p.SetDashPattern([]float64{6 * scale, 5 * scale}, 0)
		}
		shut := false
		s.Each(func(op byte, at [][2]float64) {
			for i := range at {
				at[i] = [2]float64{x + scale*at[i][0], y + scale*at[i][1]}
			}
			switch op {
			case 'M':
				p.MoveTo(at[0][0], at[0][1])
			case 'L':
				p.LineTo(at[0][0], at[0][1])
			case 'Q':
				p.CurveTo(at[0][0], at[0][1], at[1][0], at[1][1])
			case 'C':
				p.CurveBezierCubicTo(at[0][0], at[0][1], at[1][0], at[1][1], at[2][0], at[2][1])
			case 'Z':
				p.ClosePath()
				shut = true
			}
		})
		how := "D"
		if shut || s.Filled {
			how = "DF"
			p.SetFillColor(255, 255, 255)
			if s.Filled {
				p.SetFillColor(ink, ink, ink)
			}
		}
		p.DrawPath(how)
	}
	p.SetDrawColor(0, 0, 0)
	p.SetDashPattern([]float64{}, 0)
	p.SetLineCapStyle("butt")
	p.SetLineWidth(0.2)
	for _, l := range d.Labels {
		labelled(p, &l, x, y, scale, d.Size())
	}
}

// greys are the inks on paper, from black: what differs by colour on a screen differs here by
// lightness, width and words.
var greys = map[picture.Ink]int{picture.Rope: 40, picture.Other: 120, picture.Soft: 150, picture.Moving: 90}

// labelled writes the words of a picture; its letters stand for units of it.
func labelled(p paper, l *picture.Label, x, y, scale, letters float64) {
	size := letters * scale * 72 / 25.4
	at := x + scale*l.X
	switch l.Anchor {
	case "middle":
		at -= p.wide(size, false, l.Words) / 2
	case "end":
		at -= p.wide(size, false, l.Words)
	}
	p.text(at, y+scale*l.Y, size, false, l.Words)
}

func (p pdfPaper) wide(size float64, bold bool, words string) float64 {
	p.font(size, bold)
	return p.GetStringWidth(words)
}

func (p pdfPaper) room() float64 { return 297 - 28 }
func (p pdfPaper) next()         { p.AddPage() }

// svgPaper draws one page as wide as A4.
type svgPaper struct {
	b       bytes.Buffer
	measure pdfPaper
	deep    float64
}

func newSVG() *svgPaper {
	m := fpdf.New("P", "mm", "A4", "")
	m.AddUTF8FontFromBytes("body", "", goregular.TTF)
	m.AddUTF8FontFromBytes("body", "B", gobold.TTF)
	return &svgPaper{measure: pdfPaper{&page{Fpdf: m}}}
}

func (s *svgPaper) reach(y float64) { s.deep = max(s.deep, y) }

func (s *svgPaper) text(x, y, size float64, bold bool, words string) {
	weight := 400
	if bold {
		weight = 700
	}
	fmt.Fprintf(&s.b, `<text x="%.2f" y="%.2f" font-size="%.2f" font-weight="%d">`, x, y, size*25.4/72, weight)
	_ = xml.EscapeText(&s.b, []byte(words))
	s.b.WriteString("</text>\n")
	s.reach(y)
}

func (s *svgPaper) line(x1, y1, x2, y2, width float64, dashed bool) {
	dash := ""
	if dashed {
		dash = ` stroke-dasharray="1.6 1.2"`
	}
	fmt.Fprintf(&s.b, `<line x1="%.2f" y1="%.2f" x2="%.2f" y2="%.2f" stroke="#111" stroke-width="%.2f"%s/>`+"\n", x1, y1, x2, y2, width, dash)
	s.reach(max(y1, y2))
}

func (s *svgPaper) box(x, y, w, h float64) {
	fmt.Fprintf(&s.b, `<rect x="%.2f" y="%.2f" width="%.2f" height="%.2f" fill="#fff" stroke="#111" stroke-width="0.3"/>`+"\n", x, y, w, h)
	s.reach(y + h)
}

func (s *svgPaper) circle(x, y, r float64) {
	fmt.Fprintf(&s.b, `<circle cx="%.2f" cy="%.2f" r="%.2f" fill="#fff" stroke="#111" stroke-width="0.3"/>`+"\n", x, y, r)
}

func (s *svgPaper) drawing(d *picture.Drawing, x, y, scale float64) {
	fmt.Fprintf(&s.b, `<g transform="translate(%.2f %.2f) scale(%.4f)" fill="none" stroke-linecap="round" stroke-linejoin="round">`, x, y, scale)
	_ = svg.Shapes(&s.b, d)
	s.b.WriteString("</g>\n")
	s.reach(y + scale*d.Height)
	for _, l := range d.Labels {
		labelled(s, &l, x, y, scale, d.Size())
	}
}

func (s *svgPaper) wide(size float64, bold bool, words string) float64 {
	// Other letters may stand in for these: a little more is taken.
	return 1.22 * s.measure.wide(size, bold, words)
}

func (s *svgPaper) room() float64 { return 0 }
func (s *svgPaper) next()         {}

// write ends the picture.
func (s *svgPaper) write(w io.Writer, title string) error {
	high := s.deep + margin
	var t bytes.Buffer
	_ = xml.EscapeText(&t, []byte(title))
	_, err := fmt.Fprintf(w, `<svg xmlns="http://www.w3.org/2000/svg" width="210mm" height="%.1fmm" viewBox="0 0 210 %.1f" font-family="sans-serif" fill="#111">
<title>%s</title>
<rect width="210" height="%.1f" fill="#fff"/>
%s</svg>
`, high, high, t.String(), high, s.b.String())
	return err
}

// flow writes down a paper from the top.
type flow struct {
	paper
	y float64
}

// need begins a new page where there is no room for so much.
func (f *flow) need(high float64) {
	if r := f.room(); r > 0 && f.y+high > r {
		f.next()
		f.y = margin
	}
}

// words wraps words into a column, and gives how far down they went.
func (f *flow) words(x, wide, size float64, bold bool, words string) {
	step := size * 0.45
	for part := range strings.SplitSeq(words, "\n") {
		for _, l := range f.wrap(part, wide, size, bold) {
			f.need(step)
			f.y += step
			f.text(x, f.y, size, bold, l)
		}
	}
}

// cut gives words as far as they fit, with what is left out marked.
func cut(words string, wide float64, measure func(string) float64) string {
	if measure(words) <= wide {
		return words
	}
	letters := []rune(words)
	for len(letters) > 1 && measure(string(letters)+"…") > wide {
		letters = letters[:len(letters)-1]
	}
	return strings.TrimSpace(string(letters)) + "…"
}

// short writes words on one line, cut where they would lie on what stands beside them.
func (f *flow) short(x, y, wide, size float64, bold bool, words string) {
	f.text(x, y, size, bold, cut(words, wide, func(s string) float64 { return f.wide(size, bold, s) }))
}

// broken are the parts of a word that has more letters than a line has room.
func (f *flow) broken(word string, wide, size float64, bold bool) (parts []string) {
	letters := []rune(word)
	for len(letters) > 0 {
		n := len(letters)
		for n > 1 && f.wide(size, bold, string(letters[:n])) > wide {
			n--
		}
		parts, letters = append(parts, string(letters[:n])), letters[n:]
	}
	return parts
}

func (f *flow) wrap(words string, wide, size float64, bold bool) []string {
	var lines, all []string
	for _, w := range strings.Fields(words) {
		all = append(all, f.broken(w, wide, size, bold)...)
	}
	now := ""
	for _, w := range all {
		if try := strings.TrimSpace(now + " " + w); now == "" || f.wide(size, bold, try) <= wide {
			now = try
			continue
		}
		lines = append(lines, now)
		now = w
	}
	return append(lines, now)
}

// cautions are what the manufacturers say to take care of.
func (f *flow) cautions(list []string) {
	if len(list) == 0 {
		return
	}
	f.heading(cautionsTitle)
	for _, words := range list {
		f.words(margin, width, 9, false, words)
	}
}

func (f *flow) heading(words string) {
	f.need(16)
	f.y += 3
	f.words(margin, width, 11, true, words)
	f.y++
}

// columns writes rows of cells, each wrapped into its column.
func (f *flow) columns(widths []float64, rows [][]string) {
	const size = 8.5
	for _, cells := range rows {
		most := 0
		wrapped := make([][]string, len(cells))
		for i, c := range cells {
			wrapped[i] = f.wrap(c, widths[i]-2, size, false)
			most = max(most, len(wrapped[i]))
		}
		high := float64(most)*size*0.45 + 1.4
		f.need(high)
		x := margin + 0.0
		for i := range cells {
			for j, l := range wrapped[i] {
				f.text(x, f.y+float64(j+1)*size*0.45, size, false, l)
			}
			x += widths[i]
		}
		f.y += high
		f.line(margin, f.y, margin+width, f.y, 0.1, false)
	}
}

// knots draws knots side by side, each with its wrong form and what is measured by hand.
func (f *flow) knots(list []picture.KnotDrawn) {
	if len(list) == 0 {
		return
	}
	const wide, scale, across = 88.0, 0.14, 2
	high := scale*list[0].Right.Height + 4
	f.need(high + 30)
	f.heading("Knots, one way to tie each: the team's own comes first")
	for i := 0; i < len(list); i += across {
		f.need(high + 16)
		// What a knot is tied on stands above its box.
		top, low := f.y+4, f.y
		for n, k := range list[i:min(i+across, len(list))] {
			x := margin + wide*float64(n)
			f.drawing(k.Right, x, top, scale)
			f.drawing(k.Amiss, x+wide/2, top, scale)
			f.y = top + high
			f.words(x, wide-4, 8, true, k.Name)
			f.words(x, wide-4, 8, false, strings.Join(append([]string{k.Runs}, k.Measures...), ". ")+". Wrong: "+k.Wrong+".")
			low = max(low, f.y)
		}
		f.y = low + 3
	}
}

// print draws a sheet as PDF, or as SVG.
func print(w io.Writer, kind, title string, at time.Time, draw func(*flow)) error {
	if kind == "pdf" {
		p := newPage(title, at)
		draw(&flow{paper: pdfPaper{p}, y: margin})
		return p.Output(w)
	}
	s := newSVG()
	f := &flow{paper: s, y: margin}
	draw(f)
	f.y += 4
	f.words(margin, width, 7, false, Caution)
	return s.write(w, title)
}
