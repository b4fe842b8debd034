package quantity

import (
	"math"
	"strconv"
	"strings"
	"testing"

	"zealousknot/internal/chance"
)

// number reads a figure as a person would.
func number(t *testing.T, text string, q Quantity) float64 {
	t.Helper()
	n := strings.TrimSuffix(strings.TrimSuffix(text, q.Unit()), " ")
	f, err := strconv.ParseFloat(n, 64)
	if err != nil {
		t.Fatalf("%q: %v", text, err)
	}
	if strings.Contains(n, ".") && strings.HasSuffix(n, "0") || strings.HasSuffix(n, ".") || n == "-0" {
		t.Errorf("%q has digits for nothing", text)
	}
	return f
}

// Read as it is written, a figure is within half of its last digit of what it is; rounded
// up it is enough, rounded down not too much, and neither by more than one last digit.
func TestRounding(t *testing.T) {
	r := chance.Rand(21, 1)
	makes := map[float64]func(v float64) Quantity{
		0.01: func(v float64) Quantity { return Kilonewtons(math.Mod(v, 100)) },
		0.1:  func(v float64) Quantity { return Kilograms(v) },
		1:    func(v float64) Quantity { return Degrees(v) },
	}
	for digit, of := range makes {
		for range 2000 {
			q := of((r.Float64() - 0.3) * 300)
			if r.IntN(3) == 0 {
				// What is as good as whole at the last digit.
				q = of(math.Round(q.Value()/digit) * digit)
			}
			text, up, down := number(t, Text(q), q), number(t, Up(q), q), number(t, Down(q), q)
			v, hair := q.Value(), 1e-9*(1+math.Abs(q.Value()))
			if math.Abs(text-v) > digit/2+hair {
				t.Errorf("%v is written %v", v, text)
			}
			if up < v-hair || up-v >= digit+hair || down > v+hair || v-down >= digit+hair {
				t.Errorf("%v is at least %v, at most %v", v, up, down)
			}
			if math.Abs(math.Round(v/digit)*digit-v) < hair && (up != text || down != text) {
				t.Errorf("%v is whole: %v, %v, %v", v, text, up, down)
			}
		}
	}
}

// Units stand after a space, but for degrees and bare numbers; large figures lose a digit
// that nobody reads.
func TestText(t *testing.T) {
	for want, q := range map[string]Quantity{
		"12 kN": Kilonewtons(12), "0.83 kN": Kilonewtons(0.8299), "99.99 m": Metres(99.994), "123.5 m": Metres(123.456), "90°": Degrees(89.6), "21 °C": Celsius(21.4),
		"2.25": Ratio(2.249), "12.3": Ratio(12.34), "0 m": Metres(-0.001), "-0.1 kg": Kilograms(-0.06), "3": Count(3), "10.4 mm": Millimetres(10.4), "5 days": Days(5),
	} {
		if got := Text(q); got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
	if w := Weight(100); math.Abs(float64(w)-0.980665) > 1e-12 {
		t.Errorf("100 kg weigh %v", float64(w))
	}
}

// TestBeside holds that rounding never hides on which side of a limit a quantity lies, and that
// what is plainly apart keeps its usual decimals.
func TestBeside(t *testing.T) {
	r := chance.Rand(22, 1)
	for range 2000 {
		limit := Kilonewtons(r.Float64() * 20)
		q := limit + Kilonewtons(math.Pow(10, -6*r.Float64())*[]float64{-1, 1}[r.IntN(2)])
		text, at := Beside(q, limit)
		got, least := Kilonewtons(figure(t, text)), Kilonewtons(figure(t, at))
		if (got < least) != (q < limit) || got == least {
			t.Fatalf("%.9f against %.9f is %s against %s", float64(q), float64(limit), text, at)
		}
	}
	for _, c := range []struct {
		q, limit Quantity
		want     string
	}{
		{Kilonewtons(0.834), Kilonewtons(0.83), "0.834 kN, 0.830 kN"},
		{Kilonewtons(1), Kilonewtons(1), "1 kN, 1 kN"},
		{Degrees(90.4), Degrees(90), "90.4°, 90.0°"},
		{Metres(2), Metres(1.5), "2 m, 1.5 m"},
	} {
		if text, at := Beside(c.q, c.limit); text+", "+at != c.want {
			t.Errorf("%s, %s: want %s", text, at, c.want)
		}
	}
	for n, want := range []string{"0 stops", "1 stop", "2 stops"} {
		if got := Count(n).Of("stop"); got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
}

func figure(t *testing.T, text string) float64 {
	t.Helper()
	f, err := strconv.ParseFloat(strings.Fields(text)[0], 64)
	if err != nil {
		t.Fatal(err)
	}
	return f
}
