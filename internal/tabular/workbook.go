package tabular

import (
	"bytes"
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"

	"github.com/xuri/excelize/v2"
)

// Limits of a workbook: unpacked, and above which a part of it is unpacked to disk instead of
// into memory.
const (
	maxUnpacked, inMemory = 64 << 20, 8 << 20
	// maxLines is how many lines of a sheet are read, empty ones too.
	maxLines = MaxRows + 1000
)

// ReadWorkbook reads a sheet of a workbook (XLSX): the one that want names, else the first.
// Dates are recognised by their format and given as 2026-11-27, numbers as they are kept and
// not as they are shown, but for zeros in front. Of what stands in merged cells the first
// cell has it.
func ReadWorkbook(data []byte, want Dialect) (*Sheet, error) {
	f, err := excelize.OpenReader(bytes.NewReader(data), excelize.Options{UnzipSizeLimit: maxUnpacked, UnzipXMLSizeLimit: inMemory})
	if err != nil {
		return nil, fmt.Errorf("not a workbook that can be read: %w", err)
	}
	defer f.Close()
	s := &Sheet{Dialect: Dialect{Decimal: "point", Dates: want.Dates, Sheet: want.Sheet}}
	if names := f.GetSheetList(); s.Sheet == "" && len(names) > 0 {
		s.Sheet = names[0]
	}
	book, err := f.GetWorkbookProps()
	if err != nil {
		return nil, fmt.Errorf("not a workbook that can be read: %w", err)
	}
	if err := s.lines(f, book.Date1904 != nil && *book.Date1904); err != nil {
		return nil, err
	}
	if err := s.finish(); err != nil {
		return nil, err
	}
	return s, nil
}

// lines goes over the rows as they are kept and as they are shown, side by side: the library
// does not say of a row's cells which are dates, but it shows them as such.
func (s *Sheet) lines(f *excelize.File, date1904 bool) error {
	kept, err := f.Rows(s.Sheet)
	if err != nil {
		return fmt.Errorf("sheet %q: %w", s.Sheet, err)
	}
	defer kept.Close()
	shown, err := f.Rows(s.Sheet)
	if err != nil {
		return fmt.Errorf("sheet %q: %w", s.Sheet, err)
	}
	defer shown.Close()
	for line := 1; kept.Next() && shown.Next(); line++ {
		if line > maxLines {
			return fmt.Errorf("more than %d lines", maxLines)
		}
		raw, err := kept.Columns(excelize.Options{RawCellValue: true})
		if err != nil {
			return fmt.Errorf("line %d: %w", line, err)
		}
		seen, err := shown.Columns(excelize.Options{ShortDatePattern: "yyyy-mm-dd", LongDatePattern: "yyyy-mm-dd"})
		if err != nil {
			return fmt.Errorf("line %d: %w", line, err)
		}
		row := make([]string, len(raw))
		for i, cell := range raw {
			row[i] = cell
			if i < len(seen) {
				row[i] = cellOf(cell, seen[i], date1904)
			}
		}
		if err := s.add(row, line); err != nil {
			return err
		}
	}
	return errors.Join(kept.Error(), shown.Error())
}

// cellOf is what a cell says, of what it is kept as and shown as.
func cellOf(raw, seen string, date1904 bool) string {
	if raw == seen {
		return raw // a text, or a number without more to it
	}
	n, err := strconv.ParseFloat(raw, 64)
	if err != nil || math.IsInf(n, 0) || math.IsNaN(n) {
		return raw
	}
	if n >= 1 && n < 2958466 {
		if t, err := excelize.ExcelDateToTime(n, date1904); err == nil && shows(seen, t) {
			return t.Format(time.DateOnly)
		}
	}
	if m, err := strconv.ParseFloat(seen, 64); err == nil && m == n && strings.HasPrefix(seen, "0") && !strings.Contains(seen, ".") {
		return seen // a number with zeros in front, as of a serial
	}
	// Fifteen places are what a spreadsheet has; what is beyond comes of binary fractions.
	return strconv.FormatFloat(round15(n), 'f', -1, 64)
}

func round15(n float64) float64 {
	r, err := strconv.ParseFloat(strconv.FormatFloat(n, 'g', 15, 64), 64)
	if err != nil {
		return n
	}
	return r
}

// shows reports whether a text is that day as a spreadsheet shows dates: its day, and its
// year in two or four figures or its month by name, parted by something.
func shows(seen string, t time.Time) bool {
	parts := strings.FieldsFunc(seen, func(r rune) bool { return !(r >= '0' && r <= '9' || r >= 'A' && r <= 'Z' || r >= 'a' && r <= 'z') })
	if len(parts) < 3 {
		return false
	}
	has := func(forms ...string) bool {
		for _, p := range parts {
			for _, f := range forms {
				if strings.EqualFold(p, f) {
					return true
				}
			}
		}
		return false
	}
	return has(t.Format("2"), t.Format("02")) && has(t.Format("2006"), t.Format("06")) && has(t.Format("1"), t.Format("01"), t.Format("Jan"), t.Format("January"))
}
