package tabular

import (
	"bytes"
	"encoding/csv"
	"slices"
	"strings"
	"testing"

	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
)

// A table is read alike however it is written, and what was found is said.
func TestRead(t *testing.T) {
	const plain = "Our gear\n\nlabel;serial;made on;length\nrope é;R-1;27.11.2026;60,5\n;;;\n\"a \"\"b\"\"\";'=R-2;3.4.2025;\n"
	want := [][]string{{"rope é", "R-1", "27.11.2026", "60,5"}, {`a "b"`, "=R-2", "3.4.2025", ""}}
	as := map[string][]byte{"utf-8": []byte(plain)}
	le, _ := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewEncoder().Bytes([]byte(plain))
	be, _ := unicode.UTF16(unicode.BigEndian, unicode.IgnoreBOM).NewEncoder().Bytes([]byte(plain))
	old, _ := charmap.Windows1252.NewEncoder().Bytes([]byte(plain))
	as["utf-16le"], as["utf-16be"], as["windows-1252"] = le, be, old
	for encoding, data := range as {
		s, err := Read(data, Dialect{})
		if err != nil {
			t.Fatal(encoding, err)
		}
		if s.Dialect != (Dialect{Encoding: encoding, Separator: "semicolon", Decimal: "comma", Dates: "day-first"}) || s.First != 4 || !slices.Equal(s.Header, []string{"label", "serial", "made on", "length"}) {
			t.Errorf("%s: %+v", encoding, s)
		}
		if !slices.EqualFunc(s.Rows, want, slices.Equal) {
			t.Errorf("%s: %q", encoding, s.Rows)
		}
		if n, err := s.Number(s.Rows[0][3]); err != nil || n != 60.5 {
			t.Error(n, err)
		}
		if d, err := s.Date(s.Rows[1][2]); err != nil || d != "2025-04-03" {
			t.Error(d, err)
		}
	}
	bom, err := Read([]byte("\xef\xbb\xbfa,b\n1,12/25/2025\n1.5,1/2/2025\n"), Dialect{})
	if err != nil || bom.Header[0] != "a" || bom.Dialect != (Dialect{Encoding: "utf-8", Separator: "comma", Decimal: "point", Dates: "month-first"}) {
		t.Errorf("%+v %v", bom, err)
	}
	if d, err := bom.Date("1/2/2025"); err != nil || d != "2025-01-02" {
		t.Error(d, err)
	}
	// Dates that say nothing of their order are said to.
	for dates, either := range map[string]bool{"2025-01-02": false, "2/2/2025": false, "1/2/2025": true, "1/2/2025\n13/2/2025": false, "12.11.2025\n1/13/2025": false, "12/1/2025\n2025-03-04": true} {
		for said, want := range map[string]bool{"": either, "day-first": false} {
			s, err := Read([]byte("a;b\n;"+strings.ReplaceAll(dates, "\n", "\n;")+"\n"), Dialect{Dates: said})
			if err != nil || s.EitherOrder != want {
				t.Errorf("%q, said %q: %+v %v", dates, said, s, err)
			}
		}
	}
	// What is said counts, not what would be found.
	said, err := Read([]byte("a\tb\n1\t1/2/2025\n"), Dialect{Dates: "month-first", Decimal: "comma"})
	if err != nil || said.Dates != "month-first" || said.Decimal != "comma" || said.Separator != "tab" {
		t.Errorf("%+v %v", said, err)
	}
}

// What cannot be read is refused with the reason; nothing is guessed.
func TestRefused(t *testing.T) {
	for says, data := range map[string]string{
		"no header":       "only one cell\nand another\n",
		"cells, and the":  "a,b\n1,2,3\n",
		"columns, at":     strings.Repeat("a,", 300) + "b\n",
		"more than 20000": "a,b\n" + strings.Repeat("1,2\n", MaxRows+1),
		"a cell of more":  "a,b\n" + strings.Repeat("x", maxCell+1) + ",2\n",
		"not a table":     "a,b\n\"1,2\n",
		"cut off":         "\xff\xfea\x00,\x00b",
		"no header in":    "Our gear\n\na,,c\n1,2,3\n",
	} {
		if s, err := Read([]byte(data), Dialect{}); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%s: %+v %v", says, s, err)
		}
	}
	if _, err := Read([]byte("a,b\n\xff,1\n"), Dialect{Encoding: "utf-8"}); err == nil {
		t.Error("broken UTF-8 was read as UTF-8")
	}
	s := &Sheet{Dialect: Dialect{Decimal: "point", Dates: "day-first"}}
	for _, cell := range []string{"", "x", "1,5", "0x", "1,23,4", ".5", "1e5", "Inf"} {
		if n, err := s.Number(cell); err == nil {
			t.Errorf("%q is %v", cell, n)
		}
	}
	comma := &Sheet{Dialect: Dialect{Decimal: "comma"}}
	if n, err := comma.Number("60.5"); err == nil {
		t.Errorf("60.5 is %v with a decimal comma", n)
	}
	for cell, want := range map[string]float64{"1.234,5": 1234.5, "12": 12, "-0,5": -0.5, "1 234": 1234} {
		if n, err := comma.Number(cell); err != nil || n != want {
			t.Errorf("%q is %v %v", cell, n, err)
		}
	}
	if n, err := s.Number("1,234.5"); err != nil || n != 1234.5 {
		t.Error(n, err)
	}
	for _, cell := range []string{"", "31.2.2026", "2026-13-01", "1.13.2026", "soon"} {
		if d, err := s.Date(cell); err == nil {
			t.Errorf("%q is %v", cell, d)
		}
	}
}

// Whatever comes, it is read or refused; and what was read, written as a table, is read as
// the same again.
func FuzzRead(f *testing.F) {
	f.Add([]byte("a,b\n1,2\n"))
	f.Add([]byte("a;b\n\"x\n\";'=2\n"))
	f.Add([]byte("\xff\xfea\x00,\x00b\x00\n\x001\x00,\x002\x00"))
	f.Fuzz(func(t *testing.T, data []byte) {
		s, err := Read(data, Dialect{})
		if err != nil {
			return
		}
		var b bytes.Buffer
		w := csv.NewWriter(&b)
		for _, row := range append([][]string{s.Header}, s.Rows...) {
			for i, cell := range row {
				if strings.HasPrefix(cell, "'") || cell != "" && strings.ContainsAny(cell[:1], "=+-@") || strings.ContainsAny(cell, "\r\"") {
					return // the writer of the program says how these are written
				}
				row[i] = cell
			}
			_ = w.Write(row)
		}
		w.Flush()
		again, err := Read(b.Bytes(), Dialect{Encoding: "utf-8", Separator: "comma"})
		if err != nil || !slices.EqualFunc(again.Rows, s.Rows, slices.Equal) {
			t.Errorf("%q, then %+v, %v", s.Rows, again, err)
		}
	})
}
