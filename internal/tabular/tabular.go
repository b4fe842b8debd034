// Package tabular reads tables as people keep them: CSV of any encoding, separator, date
// order and decimal sign, and workbooks (XLSX). It finds these, says which it found, and takes others.
//
// It knows cells. It knows nothing of what they mean.
package tabular

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"golang.org/x/text/encoding"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
)

// Limits of what is read.
const (
	MaxRows, MaxColumns = 20_000, 200
	maxCell             = 4000
)

// Dialect is how a table is written.
type Dialect struct {
	Encoding  string `json:"encoding,omitempty" enum:"utf-8,utf-16le,utf-16be,windows-1252" doc:"left out: found"`
	Separator string `json:"separator,omitempty" enum:"comma,semicolon,tab" doc:"left out: found"`
	Decimal   string `json:"decimal,omitempty" enum:"point,comma" doc:"left out: found"`
	Dates     string `json:"dates,omitempty" enum:"year-first,day-first,month-first" doc:"left out: found"`
	Sheet     string `json:"sheet,omitempty" maxLength:"80" doc:"of a workbook; left out: the first"`
}

// A Sheet is a table: its header, and the rows below it.
type Sheet struct {
	Header []string
	Rows   [][]string
	// First is the line that the first row was on; the header is above it.
	First int
	// EitherOrder: the order of its dates was found, and every date of it is one in the other
	// order too.
	EitherOrder bool
	Dialect
}

// Read reads a table. What want leaves open is found. A cell that begins with an apostrophe
// before a sign by which a spreadsheet knows a formula is that text.
func Read(data []byte, want Dialect) (*Sheet, error) {
	s := &Sheet{Dialect: want}
	text, err := s.decode(data)
	if err != nil {
		return nil, err
	}
	if s.Separator == "" {
		s.Separator = separatorOf(text)
	}
	r := csv.NewReader(strings.NewReader(text))
	r.Comma, r.FieldsPerRecord, r.TrimLeadingSpace = separators[s.Separator], -1, true
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, fmt.Errorf("not a table: %w", err)
		}
		line, _ := r.FieldPos(0)
		if err := s.add(row, line); err != nil {
			return nil, err
		}
	}
	if err := s.finish(); err != nil {
		return nil, err
	}
	return s, nil
}

// finish finds what was left open, once all rows are there.
func (s *Sheet) finish() error {
	if s.Header == nil {
		return errors.New("there is no header: no row has more than one cell")
	}
	for i, h := range s.Header {
		if h == "" && slices.ContainsFunc(s.Rows, func(row []string) bool { return row[i] != "" }) {
			return fmt.Errorf("column %d has cells and no header in line %d; of merged cells the first has the text", i+1, s.First-1)
		}
	}
	if s.Decimal == "" {
		s.Decimal = s.decimalOf()
	}
	if s.Dates == "" {
		s.Dates, s.EitherOrder = s.datesOf()
	}
	return nil
}

// add takes a row: the first with more than one cell is the header, wherever it stands.
func (s *Sheet) add(row []string, line int) error {
	for i := range row {
		if len(row[i]) > maxCell {
			return fmt.Errorf("line %d: a cell of more than %d characters", line, maxCell)
		}
		row[i] = strings.TrimSpace(row[i])
		if len(row[i]) > 1 && row[i][0] == '\'' && strings.ContainsRune("=+-@", rune(row[i][1])) {
			row[i] = row[i][1:]
		}
	}
	for len(row) > 0 && row[len(row)-1] == "" {
		row = row[:len(row)-1]
	}
	switch {
	case len(row) > MaxColumns:
		return fmt.Errorf("line %d: %d columns, at most %d are read", line, len(row), MaxColumns)
	case s.Header == nil && len(row) > 1:
		s.Header, s.First = row, line+1
	case s.Header == nil || len(row) == 0:
		return nil // a title above the header, or an empty line
	case len(row) > len(s.Header):
		return fmt.Errorf("line %d: %d cells, and the header has %d", line, len(row), len(s.Header))
	case len(s.Rows) == MaxRows:
		return fmt.Errorf("more than %d rows", MaxRows)
	default:
		s.Rows = append(s.Rows, append(row, make([]string, len(s.Header)-len(row))...))
	}
	return nil
}

// decode gives the text in UTF-8: by what was said, by its mark, by zeros at every other
// place, else UTF-8 where it is that, else the old Western encoding.
func (s *Sheet) decode(data []byte) (string, error) {
	if s.Encoding == "" {
		s.Encoding = encodingOf(data)
	}
	data = bytes.TrimPrefix(data, []byte("\xef\xbb\xbf"))
	var e encoding.Encoding
	switch s.Encoding {
	case "utf-8":
		if !utf8.Valid(data) {
			return "", errors.New("this is not UTF-8")
		}
		return string(data), nil
	case "utf-16le":
		e = unicode.UTF16(unicode.LittleEndian, unicode.UseBOM)
		if !bytes.HasPrefix(data, []byte("\xff\xfe")) {
			e = unicode.UTF16(unicode.LittleEndian, unicode.IgnoreBOM)
		}
	case "utf-16be":
		e = unicode.UTF16(unicode.BigEndian, unicode.UseBOM)
		if !bytes.HasPrefix(data, []byte("\xfe\xff")) {
			e = unicode.UTF16(unicode.BigEndian, unicode.IgnoreBOM)
		}
	case "windows-1252":
		e = charmap.Windows1252
	default:
		return "", fmt.Errorf("the encoding %q is not known", s.Encoding)
	}
	if strings.HasPrefix(s.Encoding, "utf-16") && len(data)%2 != 0 {
		return "", errors.New("the file is cut off: half a character at its end")
	}
	text, err := e.NewDecoder().Bytes(data)
	return string(text), err
}

func encodingOf(data []byte) string {
	switch head := data[:min(len(data), 400)]; {
	case bytes.HasPrefix(data, []byte("\xff\xfe")):
		return "utf-16le"
	case bytes.HasPrefix(data, []byte("\xfe\xff")):
		return "utf-16be"
	case len(head) > 3 && zeros(head, 1):
		return "utf-16le"
	case len(head) > 3 && zeros(head, 0):
		return "utf-16be"
	case utf8.Valid(data):
		return "utf-8"
	}
	return "windows-1252"
}

// zeros reports whether most of every other byte are zero, as of Western text in UTF-16.
func zeros(b []byte, from int) bool {
	n, all := 0, 0
	for i := from; i < len(b); i += 2 {
		if all++; b[i] == 0 {
			n++
		}
	}
	return 2*n > all
}

var separators = map[string]rune{"comma": ',', "semicolon": ';', "tab": '\t'}

// separatorOf is the one that most often stands in the first lines, outside of quotes.
func separatorOf(text string) string {
	count := map[string]int{}
	quoted, lines := false, 0
	for _, r := range text {
		if r == '"' {
			quoted = !quoted
		}
		if r == '\n' {
			if lines++; lines > 20 {
				break
			}
		}
		for name, s := range separators {
			if r == s && !quoted {
				count[name]++
			}
		}
	}
	best := "comma"
	for _, name := range []string{"tab", "semicolon"} {
		if count[name] > 0 && count[name] >= count[best] {
			best = name
		}
	}
	return best
}

var (
	commas  = regexp.MustCompile(`^-?\d+,\d+$`)
	points  = regexp.MustCompile(`^-?\d+\.\d+$`)
	byComma = regexp.MustCompile(`^-?(\d+|\d{1,3}(\.\d{3})+)(,\d+)?$`)
	byPoint = regexp.MustCompile(`^-?(\d+|\d{1,3}(,\d{3})+)(\.\d+)?$`)
	slashed = regexp.MustCompile(`^(\d{1,2})[./-](\d{1,2})[./-](\d{4})$`)
)

// decimalOf is the sign that more cells have.
func (s *Sheet) decimalOf() string {
	n := 0
	for _, row := range s.Rows {
		for _, cell := range row {
			switch {
			case commas.MatchString(cell):
				n++
			case points.MatchString(cell):
				n--
			}
		}
	}
	if n > 0 {
		return "comma"
	}
	return "point"
}

// datesOf is the order that every date allows; day first where both orders are possible, which
// either says.
func (s *Sheet) datesOf() (order string, either bool) {
	order = "year-first"
	for _, row := range s.Rows {
		for _, cell := range row {
			m := slashed.FindStringSubmatch(cell)
			if m == nil {
				continue
			}
			first, _ := strconv.Atoi(m[1])
			second, _ := strconv.Atoi(m[2])
			switch {
			case first > 12:
				return "day-first", false
			case second > 12:
				return "month-first", false
			}
			order, either = "day-first", either || first != second
		}
	}
	return order, either
}

// Number reads a cell as a number of the sheet's dialect. The other sign may only part
// thousands: 60.5 is not read as 605 where the comma is the decimal sign.
func (s *Sheet) Number(cell string) (float64, error) {
	plain := strings.ReplaceAll(cell, " ", "")
	number, thousands, decimal := byPoint, ",", "."
	if s.Decimal == "comma" {
		number, thousands, decimal = byComma, ".", ","
	}
	if !number.MatchString(plain) {
		return 0, fmt.Errorf("%q is not a number, read with a decimal %s", cell, s.Decimal)
	}
	return strconv.ParseFloat(strings.ReplaceAll(strings.ReplaceAll(plain, thousands, ""), decimal, "."), 64)
}

// Date reads a cell as a day of the sheet's dialect, and gives it as 2026-11-27. A date that
// begins with its year is one in every dialect.
func (s *Sheet) Date(cell string) (string, error) {
	if t, err := time.Parse(time.DateOnly, cell); err == nil {
		return t.Format(time.DateOnly), nil
	}
	m := slashed.FindStringSubmatch(cell)
	if m == nil || s.Dates == "year-first" {
		return "", fmt.Errorf("%q is not a date such as 2026-11-27", cell)
	}
	day, month := m[1], m[2]
	if s.Dates == "month-first" {
		day, month = month, day
	}
	t, err := time.Parse("2006-1-2", m[3]+"-"+month+"-"+day)
	if err != nil {
		return "", fmt.Errorf("%q is no day, read %s", cell, s.Dates)
	}
	return t.Format(time.DateOnly), nil
}

// Plain keeps a text from being taken for a formula by a spreadsheet; Read takes it back.
func Plain(s string) string {
	if s != "" && strings.ContainsAny(s[:1], "=+-@\t\r") {
		return "'" + s
	}
	return s
}
