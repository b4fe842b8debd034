package tabular

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/xuri/excelize/v2"
)

// book is a workbook as a spreadsheet would save it.
func book(t testing.TB, make func(f *excelize.File) error) []byte {
	t.Helper()
	f := excelize.NewFile()
	defer f.Close()
	var b bytes.Buffer
	if err := make(f); err != nil {
		t.Fatal(err)
	}
	if err := f.Write(&b); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

func set(f *excelize.File, sheet, cell, format string, v any) error {
	if err := f.SetCellValue(sheet, cell, v); err != nil || format == "" {
		return err
	}
	style, err := f.NewStyle(&excelize.Style{CustomNumFmt: &format})
	if err != nil {
		return err
	}
	return f.SetCellStyle(sheet, cell, cell, style)
}

// Numbers are read as they are kept, days as days whatever they look like, and texts as they
// stand; from the third line, and from the sheet that is needed.
func TestWorkbook(t *testing.T) {
	day := time.Date(2026, 11, 28, 0, 0, 0, 0, time.UTC)
	cells := []struct {
		format string
		value  any
		want   string
	}{
		{"", "rope é", "rope é"}, {"", "27.11.2026", "27.11.2026"}, {"", "=R-2", "=R-2"}, {"", "'=R-2", "=R-2"},
		{"", 60.5, "60.5"}, {"0", 60.5, "60.5"}, {"0.00", 10, "10"}, {"#,##0.0", 1234.56, "1234.56"}, {"", 0.1 + 0.2, "0.3"}, {"0%", 0.25, "0.25"},
		{"00000", 12, "00012"}, {"", 12000000000, "12000000000"}, {"00-00-00", 121110, "121110"}, {"0.00E+00", 1500, "1500"},
		{"dd/mm/yyyy", day, "2026-11-28"}, {"mm-dd-yy", day, "2026-11-28"}, {"d. mmmm yyyy", day, "2026-11-28"}, {"yyyy-mm-dd hh:mm", day.Add(14 * time.Hour), "2026-11-28"},
		{"dd/mm/yyyy", 1.5, "1899-12-31"}, {"", true, "1"}, {"", nil, ""}, {"", "last", "last"},
	}
	data := book(t, func(f *excelize.File) error {
		if _, err := f.NewSheet("gear"); err != nil {
			return err
		}
		_ = set(f, "Sheet1", "A1", "", "nothing here")
		_ = set(f, "gear", "A1", "", "Our gear")
		for i, c := range cells {
			name, _ := excelize.ColumnNumberToName(i + 1)
			if err := set(f, "gear", name+"3", "", fmt.Sprintf("h%d", i)); err != nil {
				return err
			}
			if err := set(f, "gear", name+"4", c.format, c.value); err != nil {
				return err
			}
		}
		return nil
	})
	s, err := ReadWorkbook(data, Dialect{Sheet: "gear"})
	if err != nil {
		t.Fatal(err)
	}
	if s.First != 4 || len(s.Header) != len(cells) || s.Sheet != "gear" || s.Decimal != "point" {
		t.Errorf("%+v", s)
	}
	for i, c := range cells {
		if got := s.Rows[0][i]; got != c.want && !(c.want == "1" && got == "TRUE") && c.want != "1899-12-31" {
			t.Errorf("%v as %q: %q, wanted %q", c.value, c.format, got, c.want)
		}
	}
	old := book(t, func(f *excelize.File) error {
		yes := true
		_ = f.SetWorkbookProps(&excelize.WorkbookPropsOptions{Date1904: &yes})
		_ = f.SetSheetRow("Sheet1", "A1", &[]string{"a", "b"})
		_ = set(f, "Sheet1", "A2", "yyyy/mm/dd", 44892)
		return set(f, "Sheet1", "B2", "", "12/25/2025")
	})
	s, err = ReadWorkbook(old, Dialect{})
	if err != nil || s.Rows[0][0] != "2026-11-28" || s.Dates != "month-first" {
		t.Errorf("%+v %v", s, err)
	}
}

// The same rows as CSV and as a workbook are the same.
func TestWorkbookAsCSV(t *testing.T) {
	rows := [][]string{{"label", "serial", "length"}}
	for n := range 50 {
		rows = append(rows, []string{fmt.Sprintf("rope %d", n), fmt.Sprintf("R-%d", n), fmt.Sprint(10 + float64(n)/4)})
	}
	var text strings.Builder
	data := book(t, func(f *excelize.File) error {
		for n, row := range rows {
			text.WriteString(strings.Join(row, ",") + "\n")
			values := []any{row[0], row[1], row[2]}
			var length float64
			if _, err := fmt.Sscan(row[2], &length); err == nil {
				values[2] = length
			}
			if err := f.SetSheetRow("Sheet1", fmt.Sprintf("A%d", n+1), &values); err != nil {
				return err
			}
		}
		return nil
	})
	a, err := ReadWorkbook(data, Dialect{})
	if err != nil {
		t.Fatal(err)
	}
	b, err := Read([]byte(text.String()), Dialect{})
	if err != nil || !slices.EqualFunc(a.Rows, b.Rows, slices.Equal) {
		t.Errorf("%q %q %v", a.Rows, b.Rows, err)
	}
}

// What is too much, hidden in a small file, or no workbook is refused with the reason.
func TestWorkbookRefused(t *testing.T) {
	row := func(at string, cells ...string) []byte {
		return book(t, func(f *excelize.File) error {
			_ = f.SetSheetRow("Sheet1", "A1", &[]string{"a", "b"})
			return f.SetSheetRow("Sheet1", at, &cells)
		})
	}
	bomb := with(t, row("A2", "x", "y"), "xl/media/x.png", func(w io.Writer) {
		for range 80 {
			_, _ = io.WriteString(w, strings.Repeat("x", 1<<20))
		}
	})
	merged := book(t, func(f *excelize.File) error {
		_ = f.SetSheetRow("Sheet1", "A1", &[]string{"label", "made", "", "serial"})
		_ = f.MergeCell("Sheet1", "B1", "C1")
		return f.SetSheetRow("Sheet1", "A2", &[]string{"rope 1", "2026", "11", "R-1"})
	})
	for what, c := range map[string]struct {
		data []byte
		want Dialect
		says string
	}{
		"words":            {[]byte("label,serial\n"), Dialect{}, "not a workbook"},
		"nothing":          {nil, Dialect{}, "not a workbook"},
		"the last column":  {row("XFD2", "x"), Dialect{}, "line 2: 16384 columns"},
		"the last line":    {row("A1048576", "x", "y"), Dialect{}, "lines"},
		"no such sheet":    {row("A2", "x", "y"), Dialect{Sheet: "gear"}, `sheet "gear"`},
		"no header":        {book(t, func(f *excelize.File) error { return f.SetCellValue("Sheet1", "A1", "x") }), Dialect{}, "no header"},
		"a merged header":  {merged, Dialect{}, "column 3 has cells and no header in line 1"},
		"more cells":       {row("A2", "1", "2", "3"), Dialect{}, "line 2: 3 cells, and the header has 2"},
		"a large unpacked": {bomb, Dialect{}, "not a workbook"},
	} {
		if s, err := ReadWorkbook(c.data, c.want); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %+v %v", what, s, err)
		}
	}
}

// Whatever stands in a workbook's sheet, it is read or refused.
func FuzzWorkbook(f *testing.F) {
	data := book(f, func(x *excelize.File) error { return x.SetSheetRow("Sheet1", "A1", &[]string{"a", "b"}) })
	const sheet = "xl/worksheets/sheet1.xml"
	f.Add([]byte(`<worksheet><sheetData><row r="1"><c r="A1" t="str"><v>a</v></c><c r="B1"><v>1</v></c></row><row r="3"><c r="B3" s="1"><v>2.5</v></c></row></sheetData></worksheet>`))
	f.Add([]byte(`<worksheet><sheetData><row r="1048576"><c r="XFD1" t="s"><v>9</v></c></row></sheetData></worksheet>`))
	f.Fuzz(func(t *testing.T, text []byte) {
		if s, err := ReadWorkbook(with(t, data, sheet, func(w io.Writer) { _, _ = w.Write(text) }), Dialect{}); err == nil && s.Header == nil {
			t.Error("read without a header")
		}
	})
}

// with is a workbook with a part put in the place of one of that name, or beside the others.
func with(t testing.TB, data []byte, name string, write func(io.Writer)) []byte {
	t.Helper()
	in, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	out := zip.NewWriter(&b)
	for _, f := range in.File {
		if f.Name != name {
			_ = out.Copy(f)
		}
	}
	w, _ := out.Create(name)
	write(w)
	_ = out.Close()
	return b.Bytes()
}
