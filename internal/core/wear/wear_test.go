package wear_test

import (
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/stat"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/wear"
)

// The line is the one that least squares gives; the band holds the true line as often as it
// says; with fewer than three days there is none.
func TestTrend(t *testing.T) {
	r := chance.Rand(19, 2)
	normal := func() float64 { return r.NormFloat64() }
	held, of := 0, 0
	for range 2000 {
		at, slope, s := 8+r.Float64(), -r.Float64()/300, 0.02+r.Float64()*0.1
		days := r.Perm(900)[:3+r.IntN(6)]
		slices.Sort(days)
		var list []wear.Reading
		var xs, ys []float64
		for _, d := range days {
			y := at + slope*float64(d-days[0]) + s*normal()
			list = append(list, wear.Reading{On: gear.Date("2024-01-01").AddDays(d), Part: "post", MM: quantity.Millimetres(y)})
			xs, ys = append(xs, float64(d-days[0])), append(ys, y)
		}
		r.Shuffle(len(list), func(i, j int) { list[i], list[j] = list[j], list[i] })
		trend := wear.TrendOf(list, gear.WearPart{Part: "post", LimitMM: 5})
		a, b := stat.LinearRegression(xs, ys, nil, false)
		if f := trend.Fit; math.Abs(f.MMPerYear-b*365.25) > 1e-9 || math.Abs(f.Line[0]-a) > 1e-9 {
			t.Fatalf("%+v, least squares %v %v", f, a, b)
		}
		// The band at the first reading.
		of++
		if f := trend.Fit.Band[0]; f.Low <= at && at <= f.High {
			held++
		}
	}
	if part := float64(held) / float64(of); part < 0.88 || part > 0.92 {
		t.Errorf("the band holds the true line in %.3f of the cases", part)
	}
	few := []wear.Reading{{"2026-01-01", "post", 8}, {"2026-03-01", "post", 7.8}, {"2026-03-01", "post", 7.9}}
	if trend := wear.TrendOf(few, gear.WearPart{Part: "post", LimitMM: 7}); trend.Fit != nil || trend.Why == "" {
		t.Errorf("a line through two days: %+v", trend)
	}
}

// Measured again by the early edge at the limit, never before the last reading, and for what
// grows as for what shrinks.
func TestMeasureAgain(t *testing.T) {
	shrinks := []wear.Reading{{"2026-01-01", "post", 10}, {"2026-04-01", "post", 9.7}, {"2026-07-01", "post", 9.45}, {"2026-10-01", "post", 9.1}}
	grows := slices.Clone(shrinks)
	for i := range grows {
		grows[i].MM = 20 - grows[i].MM
	}
	a := wear.TrendOf(shrinks, gear.WearPart{Part: "post", LimitMM: 8})
	b := wear.TrendOf(grows, gear.WearPart{Part: "post", LimitMM: 12, Grows: true})
	if a.Fit.Again != b.Fit.Again || a.Fit.Meets != b.Fit.Meets || a.Fit.Again <= "2026-10-01" || a.Fit.Meets[1] <= a.Fit.Again {
		t.Errorf("%+v\n%+v", a.Fit, b.Fit)
	}
	worn := wear.TrendOf(append(shrinks, wear.Reading{On: "2026-11-01", Part: "post", MM: 8}), gear.WearPart{Part: "post", LimitMM: 8})
	if !worn.Beyond || worn.Fit.Again < "2026-11-01" {
		t.Errorf("%+v %+v", worn, worn.Fit)
	}
	for first, beyond := range map[quantity.Millimetres]bool{8.01: false, 8: true} {
		day := []wear.Reading{{On: "2026-10-01", Part: "post", MM: 8}, {On: "2026-11-01", Part: "post", MM: first}, {On: "2026-11-01", Part: "post", MM: 8.2}}
		if got := wear.TrendOf(day, gear.WearPart{Part: "post", LimitMM: 8}).Beyond; got != beyond {
			t.Errorf("%v and 8.2 on one day: beyond is %v", first, got)
		}
	}
	even := wear.TrendOf([]wear.Reading{{"2026-01-01", "post", 10}, {"2026-04-01", "post", 10}, {"2026-07-01", "post", 10}}, gear.WearPart{Part: "post", LimitMM: 8})
	if even.Fit.Again != "" || even.Beyond {
		t.Errorf("it does not wear, and is measured again by %s", even.Fit.Again)
	}
	none := wear.TrendOf(shrinks, gear.WearPart{Part: "post"})
	if none.Fit == nil || none.Fit.Again != "" || none.Why == "" {
		t.Errorf("no limit, and a day: %+v", none)
	}
}
