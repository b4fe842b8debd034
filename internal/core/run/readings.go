package run

import (
	"bytes"
	"cmp"
	"encoding/binary"
	"errors"
	"math"
	"slices"
	"strings"
	"time"

	"zealousknot/internal/core/strict"
)

// A Reading is one value that a device measured.
type Reading struct {
	At      string  `json:"at" format:"date-time" doc:"by the clock of the device, to the millisecond"`
	Channel string  `json:"channel" pattern:"^([a-z0-9][a-z0-9-]{0,63}\\.force|wind|gust)$" doc:"STRAND.force, by the strand's id; wind or gust"`
	Value   float64 `json:"value" minimum:"-200" maximum:"200"`
	Unit    string  `json:"unit" enum:"kN,m/s"`
}

// MostLines is how many readings one request brings; MostASecond how many of a channel fall
// into one second.
const MostLines, MostASecond = 1000, 100

// LineFault is a line that was refused.
type LineFault struct {
	Line   int    `json:"line" doc:"counted from 1"`
	Detail string `json:"detail"`
}

// Point is a reading of a channel: milliseconds since 1970, and tenths of a newton or of a
// millimetre a second, so that what is kept is what was sent, to the fourth decimal.
type Point struct{ Ms, V int64 }

// Value is in the channel's unit.
func (p Point) Value() float64 { return float64(p.V) / 1e4 }

// ReadReadings reads lines of JSON, or CSV with the same columns and a header row, by channel.
// A wrong line is refused with its number, and the others stand. The same channel and time
// twice is one: the first counts. More than MostLines is an error.
func ReadReadings(data []byte) (byChannel map[string][]Point, refused []LineFault, err error) {
	byChannel = map[string][]Point{}
	refused = []LineFault{}
	lines := bytes.Split(bytes.TrimRight(data, "\r\n"), []byte("\n"))
	table := len(lines) > 0 && strings.HasPrefix(string(lines[0]), "at,")
	if len(lines) > MostLines+1 || !table && len(lines) > MostLines {
		return nil, nil, errors.New("more than 1000 lines in one request")
	}
	seconds := map[string]int{}
	for n, text := range lines {
		text = bytes.TrimRight(text, "\r")
		if table && n == 0 || len(text) == 0 {
			continue
		}
		r, err := readReading(text, table)
		var p Point
		if err == nil {
			p, err = r.point()
		}
		if err == nil {
			second := r.Channel + "/" + time.UnixMilli(p.Ms).UTC().Format(time.DateTime)
			if seconds[second]++; seconds[second] > MostASecond {
				err = errors.New("more than 100 readings of this channel in one second")
			}
		}
		if err != nil {
			refused = append(refused, LineFault{n + 1, err.Error()})
			continue
		}
		byChannel[r.Channel] = append(byChannel[r.Channel], p)
	}
	for c, list := range byChannel {
		byChannel[c] = InTime(list)
	}
	return byChannel, refused, nil
}

func readReading(text []byte, table bool) (*Reading, error) {
	r := new(Reading)
	if table {
		cells := strings.Split(string(text), ",")
		if len(cells) != 4 {
			return nil, errors.New("a line has at, channel, value and unit")
		}
		// Read as JSON is, with the same limits.
		quoted := func(s string) string { return `"` + strings.ReplaceAll(strings.ReplaceAll(s, `\`, ``), `"`, ``) + `"` }
		text = []byte(`{"at":` + quoted(cells[0]) + `,"channel":` + quoted(cells[1]) + `,"value":` + strings.TrimSpace(cells[2]) + `,"unit":` + quoted(cells[3]) + `}`)
	}
	if err := strict.Read(text, r); err != nil {
		var refused *strict.Error
		if errors.As(err, &refused) {
			return nil, errors.New(strings.TrimSpace(refused.Faults[0].Pointer + " " + refused.Faults[0].Detail))
		}
		return nil, err
	}
	return r, nil
}

func (r *Reading) point() (Point, error) {
	at, err := time.Parse(time.RFC3339Nano, r.At)
	if err != nil {
		return Point{}, errors.New("/at is no time")
	}
	unit := "m/s"
	if strings.HasSuffix(r.Channel, ".force") {
		unit = "kN"
	}
	switch {
	case r.Unit != unit:
		return Point{}, errors.New("/unit of " + r.Channel + " is " + unit)
	case unit == "m/s" && r.Value < 0:
		return Point{}, errors.New("/value: wind is not negative")
	}
	return Point{at.UnixMilli(), int64(math.Round(r.Value * 1e4))}, nil
}

// InTime are points by their time, each time once: of several the one that came first.
func InTime(list []Point) []Point {
	slices.SortStableFunc(list, func(a, b Point) int { return cmp.Compare(a.Ms, b.Ms) })
	return slices.CompactFunc(list, func(a, b Point) bool { return a.Ms == b.Ms })
}

// Pack writes points in time as differences, in a few bytes each.
func Pack(list []Point) []byte {
	b := make([]byte, 0, 6*len(list))
	var was Point
	for _, p := range list {
		b = binary.AppendUvarint(b, uint64(p.Ms-was.Ms))
		b = binary.AppendVarint(b, p.V-was.V)
		was = p
	}
	return b
}

// Unpack reads what Pack wrote; an error where it was not that.
func Unpack(b []byte) ([]Point, error) {
	var list []Point
	var p Point
	for len(b) > 0 {
		ms, n := binary.Uvarint(b)
		v, m := binary.Varint(b[max(0, n):])
		if n <= 0 || m <= 0 {
			return nil, errors.New("readings are not as they were packed")
		}
		p.Ms, p.V = p.Ms+int64(ms), p.V+v
		list, b = append(list, p), b[n+m:]
	}
	return list, nil
}

// Bar is a stretch of time with the least and the greatest that was measured in it.
type Bar struct {
	At    time.Time `json:"at"`
	Least float64   `json:"least"`
	Most  float64   `json:"most"`
	Count int       `json:"count"`
}

// Bars draws points in time in so many stretches of equal length: no peak is lost, whatever
// the width. Stretches without a reading are left out: nothing is known of them.
func Bars(list []Point, width int) []Bar {
	bars := []Bar{}
	if len(list) == 0 || width < 1 {
		return bars
	}
	first := list[0].Ms
	step := max(1, (list[len(list)-1].Ms-first)/int64(width)+1)
	last := int64(-1)
	for _, p := range list {
		if n := (p.Ms - first) / step; n != last {
			last = n
			bars = append(bars, Bar{At: time.UnixMilli(first + n*step).UTC(), Least: p.Value(), Most: p.Value()})
		}
		b := &bars[len(bars)-1]
		b.Least, b.Most, b.Count = min(b.Least, p.Value()), max(b.Most, p.Value()), b.Count+1
	}
	return bars
}

// Peak is the greatest reading of a stretch above a threshold.
type Peak struct {
	At    time.Time `json:"at"`
	Value float64   `json:"value"`
	// Move and Step are what was under way.
	Move string `json:"move,omitempty"`
	Step int    `json:"step,omitempty"`
}

// calm is how long a channel stays below the threshold before the next peak is another one.
const calm = 5 * time.Second

// Peaks are the stretches above a threshold, each by its greatest reading. Between readings
// nothing is seen: no peak does not mean no shock.
func Peaks(list []Point, threshold float64) []Peak {
	peaks := []Peak{}
	var above int64
	for _, p := range list {
		if p.Value() < threshold {
			continue
		}
		n := len(peaks)
		if n == 0 || p.Ms-above > calm.Milliseconds() {
			peaks = append(peaks, Peak{At: time.UnixMilli(p.Ms).UTC(), Value: p.Value()})
		} else if last := &peaks[n-1]; p.Value() > last.Value {
			last.At, last.Value = time.UnixMilli(p.Ms).UTC(), p.Value()
		}
		above = p.Ms
	}
	return peaks
}

// Mark names the step that was under way at each peak: the one after the last that was tapped
// before it.
func (d *Document) Mark(peaks []Peak) {
	list, _ := InOrder(d.Events)
	for i := range peaks {
		for j := range list {
			e := &list[j]
			if e.At().After(peaks[i].At) {
				break
			}
			switch e.Kind {
			case Begin:
				peaks[i].Move, peaks[i].Step = e.Move, 1
			case StepTo:
				peaks[i].Move, peaks[i].Step = e.Move, e.Step+1
			case Done:
				peaks[i].Move, peaks[i].Step = "", 0
			}
		}
	}
}
