package run_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/run"
)

func line(at, channel string, value any, unit string) string {
	return fmt.Sprintf(`{"at":%q,"channel":%q,"value":%v,"unit":%q}`, at, channel, value, unit)
}

// A wrong line is refused with its number and the others stand; the same channel and time twice
// is one, the first; out of order is in order; CSV with the same columns gives the same.
func TestReadReadings(t *testing.T) {
	const at = "2026-11-24T08:00:00.000Z"
	for _, c := range []struct {
		line, refused string
	}{
		{line(at, "main.force", 3.21, "kN"), ""},
		{line(at, "main.force", 3.21, "m/s"), "/unit of main.force is kN"},
		{line(at, "main.force", -200, "kN"), ""},
		{line(at, "main.force", -200.1, "kN"), "/value"},
		{line(at, "gust", 9, "m/s"), ""},
		{line(at, "gust", -0.1, "m/s"), "wind is not negative"},
		{line(at, "gust", 9, "kN"), "/unit of gust is m/s"},
		{line(at, "depth", 9, "m/s"), "/channel"},
		{line("noon", "gust", 9, "m/s"), "/at"},
		{line(at, "gust", `"9"`, "m/s"), "/value"},
		{`{"at":"` + at + `"}`, "missing"},
		{`nothing`, ""},
	} {
		by, refused, err := run.ReadReadings([]byte(line(at, "wind", 1, "m/s") + "\n" + c.line + "\n"))
		wrong := c.refused != "" || c.line == "nothing"
		if err != nil || (len(refused) == 1) != wrong || wrong && (refused[0].Line != 2 || !strings.Contains(refused[0].Detail, c.refused)) || len(by["wind"]) != 1 {
			t.Errorf("%s: %v %v %v", c.line, by, refused, err)
		}
	}
	text := strings.Join([]string{line("2026-11-24T08:00:01.000Z", "gust", 2, "m/s"), line(at, "gust", 1, "m/s"), line(at, "gust", 7, "m/s")}, "\n")
	table := "at,channel,value,unit\r\n2026-11-24T08:00:01.000Z,gust,2,m/s\r\n" + at + ",gust,1,m/s\r\n" + at + ",gust,7,m/s\r\n"
	for _, text := range []string{text, table} {
		by, refused, err := run.ReadReadings([]byte(text))
		if list := by["gust"]; err != nil || len(refused) != 0 || len(list) != 2 || list[0].Value() != 1 || list[1].Value() != 2 {
			t.Errorf("%v %v %v", by, refused, err)
		}
	}
	var many []string
	for i := range run.MostASecond + 1 {
		many = append(many, line(fmt.Sprintf("2026-11-24T08:00:00.%03dZ", i), "gust", 1, "m/s"))
	}
	if _, refused, _ := run.ReadReadings([]byte(strings.Join(many, "\n"))); len(refused) != 1 || refused[0].Line != run.MostASecond+1 {
		t.Errorf("%v", refused)
	}
	lines := slices.Repeat([]string{many[0]}, run.MostLines)
	if _, _, err := run.ReadReadings([]byte(strings.Join(lines, "\n"))); err != nil {
		t.Error(err)
	}
	if _, _, err := run.ReadReadings([]byte(strings.Join(append(lines, many[0]), "\n"))); err == nil {
		t.Error("1001 lines are taken")
	}
}

// What is packed is unpacked as it was, in under twelve bytes each; drawn to any width no peak
// is lost, and what was not measured is not drawn.
func TestPackAndBars(t *testing.T) {
	r := chance.Rand(31, 0)
	var list []run.Point
	ms := int64(1_790_000_000_000)
	for range 5000 {
		ms += int64(1 + r.IntN(200))
		list = append(list, run.Point{Ms: ms, V: int64(r.NormFloat64() * 5e4)})
	}
	body := run.Pack(list)
	again, err := run.Unpack(body)
	if err != nil || !slices.Equal(again, list) || len(body) > 12*len(list) {
		t.Fatalf("%d bytes for %d, %v", len(body), len(list), err)
	}
	if _, err := run.Unpack(body[:len(body)-1]); err == nil {
		t.Error("what is cut off is read")
	}
	for _, width := range []int{1, 7, 300, 4000} {
		least, most, count := math.Inf(1), math.Inf(-1), 0
		bars := run.Bars(list, width)
		for _, b := range bars {
			least, most, count = min(least, b.Least), max(most, b.Most), count+b.Count
		}
		v := func(p run.Point) float64 { return p.Value() }
		wantLeast := slices.MinFunc(list, func(a, b run.Point) int { return int(math.Copysign(1, v(a)-v(b))) })
		wantMost := slices.MaxFunc(list, func(a, b run.Point) int { return int(math.Copysign(1, v(a)-v(b))) })
		if len(bars) > width || count != len(list) || least != wantLeast.Value() || most != wantMost.Value() {
			t.Errorf("width %d: %d bars of %d, %v to %v", width, len(bars), count, least, most)
		}
	}
}

// A peak is the greatest of a stretch above the threshold, and says which step it fell in.
func TestPeaks(t *testing.T) {
	d := plan()
	given(d, 0, run.Event{Kind: run.Start})
	given(d, 10, run.Event{Kind: run.Begin, Move: "lower"})
	given(d, 20, run.Event{Kind: run.StepTo, Move: "lower", Step: 1})
	at := func(s float64, kN float64) run.Point {
		return run.Point{Ms: dawn.UnixMilli() + int64(1000*s), V: int64(1e4 * kN)}
	}
	peaks := run.Peaks([]run.Point{at(1, 3.9), at(15, 4), at(16, 6), at(16.5, 5), at(24, 8.1), at(60, 3)}, 4)
	d.Mark(peaks)
	if len(peaks) != 2 || peaks[0].Value != 6 || peaks[0].Step != 1 || peaks[1].Value != 8.1 || peaks[1].Step != 2 || peaks[1].Move != "lower" {
		t.Errorf("%+v", peaks)
	}
}

func FuzzReadings(f *testing.F) {
	f.Add([]byte(line("2026-11-24T08:00:00.000Z", "main.force", 3.21, "kN")))
	f.Add([]byte("at,channel,value,unit\n2026-11-24T08:00:00.000Z,gust,2,m/s\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		by, refused, err := run.ReadReadings(data)
		if err != nil {
			return
		}
		for _, l := range refused {
			if l.Line < 1 || l.Detail == "" {
				t.Errorf("%+v", l)
			}
		}
		for c, list := range by {
			if again, err := run.Unpack(run.Pack(list)); err != nil || !slices.Equal(again, list) {
				t.Errorf("%s: %v", c, err)
			}
		}
	})
}

// A reading stands beside what was predicted, on both sides of each limit; what was not
// predicted is said to be so.
func TestTell(t *testing.T) {
	d := &run.Document{GustLimitMS: 9, GustLimitOf: "the site's", Bands: []run.Band{{Channel: "main.force", LowKN: 0.7, HighKN: 0.9, CeilingKN: 6}}}
	for _, c := range []struct {
		channel string
		value   float64
		says    string
		bad     bool
	}{
		{"main.force", 0.7, "inside", false}, {"main.force", 0.69, "outside", true}, {"main.force", 0.9, "inside", false}, {"main.force", 0.91, "outside", true},
		{"main.force", 6, "outside", true}, {"main.force", 6.01, "ABOVE", true}, {"other.force", 9, "nothing was predicted", false},
		{"gust", 9, "the drop's limit is", false}, {"gust", 9.01, "stop, secure", true}, {"wind", 9.01, "past the drop's limit", true},
	} {
		if told := d.Tell(c.channel, c.value); !strings.Contains(told.Words, c.says) || told.Bad != c.bad {
			t.Errorf("%s %v: %+v", c.channel, c.value, told)
		}
	}
	if told := (&run.Document{}).Tell("gust", 40); told.Words != "no limit is known" {
		t.Errorf("%+v", told)
	}
}

// Of whoever is on the rope the worse of the metres beside them counts, and the longer minutes;
// somebody of whom nothing was planned has none.
func TestReach(t *testing.T) {
	d := plan()
	d.Cover = []run.Reach{
		{Person: "ivo", AtM: 19, State: "uncovered"}, {Person: "ivo", AtM: 20, State: "covered", Seconds: 300, ToldS: 450}, {Person: "ivo", AtM: 21, State: "slow", Seconds: 900, ToldS: 1350},
		{Person: "ivo", AtM: 22, State: "slow", Seconds: 1000, ToldS: 1500}, {Person: "rhea", AtM: 22, State: "uncovered"},
	}
	given(d, 0, run.Event{Kind: run.Start})
	for at, want := range map[float64]string{20: "uncovered", 20.01: "slow", 21.5: "slow", 24: ""} {
		e := *d
		m := quantity.Metres(at)
		given(&e, 1, run.Event{Kind: run.OnRope, Person: "ivo", AtM: &m})
		r := run.Fold(&e).People[0].Reach
		switch {
		case want == "" && r != nil, want != "" && (r == nil || r.State != want), at == 21.5 && r.ToldS != 1500:
			t.Errorf("at %v m: %+v", at, r)
		}
	}
	if r := run.Fold(d).People[0].Reach; r != nil {
		t.Errorf("off the rope: %+v", r)
	}
}
