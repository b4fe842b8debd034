package report

import (
	"bytes"
	"fmt"
	"io"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"github.com/boombuler/barcode/qr"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
)

// Label is what stands on one.
type Label struct {
	Code, Label, Serial string
	// Address is in the QR code.
	Address string
}

// LabelSheet is a sheet of labels on A4, in mm: so many across and down, with the edges of
// the sheet and the gaps between labels.
type LabelSheet struct {
	ID            string
	Words         string
	Across, Down  int
	Width, Height float64
	Left, Top     float64
	GapX, GapY    float64
}

// LabelSheets are sizes that are sold everywhere.
var LabelSheets = []LabelSheet{
	{"70x37", "24 on a sheet, 70 × 37 mm", 3, 8, 70, 37, 0, 0.5, 0, 0},
	{"64x34", "24 on a sheet, 64 × 33.9 mm", 3, 8, 64, 33.9, 7.2, 13, 2.5, 0},
	{"38x21", "65 on a sheet, 38.1 × 21.2 mm", 5, 13, 38.1, 21.2, 4.7, 10.9, 2.5, 0},
	{"48x17", "64 on a sheet, 48.5 × 16.9 mm", 4, 16, 48.5, 16.9, 8, 13, 0, 0},
}

// quiet is the white edge of a QR code, in modules.
const quiet = 4

// Labels writes labels onto sheets, the first skip places left free: a sheet that was begun
// can be used up. At is the time of the file.
func Labels(w io.Writer, s *LabelSheet, skip int, list []Label, at time.Time) error {
	p := fpdf.New("P", "mm", "A4", "")
	p.AddUTF8FontFromBytes("body", "", goregular.TTF)
	p.AddUTF8FontFromBytes("body", "B", gobold.TTF)
	p.SetTitle("Labels", true)
	p.SetCreator("Zealous Knot", true)
	p.SetCreationDate(at.UTC())
	p.SetModificationDate(at.UTC())
	p.SetCatalogSort(true)
	p.SetMargins(0, 0, 0)
	p.SetAutoPageBreak(false, 0)
	each := s.Across * s.Down
	for n, l := range list {
		place := (skip + n) % each
		if n == 0 || place == 0 {
			p.AddPage()
		}
		x := s.Left + float64(place%s.Across)*(s.Width+s.GapX)
		y := s.Top + float64(place/s.Across)*(s.Height+s.GapY)
		if err := label(p, s, x, y, &l); err != nil {
			return err
		}
	}
	var b bytes.Buffer
	if err := p.Output(&b); err != nil {
		return err
	}
	_, err := b.WriteTo(w)
	return err
}

// smallest are letters that can still be read; what does not fit in them is cut.
const smallest = 5

// label draws one: the code as a picture, beside it in letters that a phone's camera is not
// needed for.
func label(p *fpdf.Fpdf, s *LabelSheet, x, y float64, l *Label) error {
	code, err := qr.Encode(l.Address, qr.M, qr.Auto)
	if err != nil {
		return fmt.Errorf("label of %s: %w", l.Code, err)
	}
	const edge = 1.5
	side := s.Height - 2*edge
	modules := code.Bounds().Dx()
	unit := side / float64(modules+2*quiet)
	p.SetFillColor(0, 0, 0)
	for row := range modules {
		for at := 0; at < modules; {
			if !dark(code.At(at, row).RGBA()) {
				at++
				continue
			}
			end := at
			for end < modules && dark(code.At(end, row).RGBA()) {
				end++
			}
			// One rectangle for a run of dark modules: no hair between them.
			p.Rect(x+edge+float64(at+quiet)*unit, y+edge+float64(row+quiet)*unit, float64(end-at)*unit, unit, "F")
			at = end
		}
	}
	left, room := x+edge+side, s.Width-side-2*edge
	lines := []struct {
		style, text string
		size        float64
	}{{"B", l.Code, min(14, s.Height*0.5)}, {"", l.Label, min(9, s.Height*0.33)}, {"", l.Serial, min(8, s.Height*0.3)}}
	high := y + edge + side*0.16
	for _, t := range lines {
		p.SetFont("body", t.style, t.size)
		for size := t.size; p.GetStringWidth(t.text) > room && size > smallest; size -= 0.5 {
			p.SetFontSize(size)
		}
		p.SetXY(left, high)
		p.CellFormat(room, t.size*0.42, cut(t.text, room, p.GetStringWidth), "", 0, "L", false, 0, "")
		high += t.size*0.42 + side*0.08
	}
	return nil
}

func dark(r, _, _, _ uint32) bool { return r < 0x8000 }
