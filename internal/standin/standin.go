// Package standin makes readings such as a load cell or an anemometer would send: from the
// core's own models with noise, for trying a run without either. The same seed makes the same
// readings.
//
// It knows no network: a command sends them. What they make is an exercise's.
package standin

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/run"
)

// Plan is what is made.
type Plan struct {
	Device   string
	Scenario string
	Channel  string
	Seed     uint64
	RateHz   float64
	Seconds  float64
	// MassKg hangs on the load cell, SlipS is when it slips.
	MassKg float64
	SlipS  float64
}

// Scenarios are those of each device, the first the usual one.
var Scenarios = map[string][]string{
	"load-cell":  {"descent", "slip", "haul"},
	"anemometer": {"gusty", "calm"},
}

// Validate says what cannot be made; empty: it can.
func (p *Plan) Validate() string {
	known, there := Scenarios[p.Device]
	switch {
	case !there:
		return fmt.Sprintf("no device %q: load-cell or anemometer", p.Device)
	case !slices.Contains(known, p.Scenario):
		return fmt.Sprintf("--scenario: a %s has %v", p.Device, known)
	case p.RateHz <= 0 || p.RateHz > run.MostASecond:
		return fmt.Sprintf("--rate: more than 0, at most %d", run.MostASecond)
	case p.Seconds <= 0 || p.Seconds > 86400:
		return "--seconds: more than 0, at most 86400"
	case p.MassKg <= 0 || p.MassKg > 600:
		return "--mass: more than 0, at most 600 kg"
	}
	return ""
}

// Make gives the readings, the first at a time.
func (p *Plan) Make(from time.Time) []run.Reading {
	r := rand.New(rand.NewPCG(p.Seed, 7))
	n := int(p.Seconds * p.RateHz)
	list := make([]run.Reading, 0, n)
	value := p.values(r)
	unit := "kN"
	if p.Device == "anemometer" {
		unit = "m/s"
	}
	for i := range n {
		t := float64(i) / p.RateHz
		at := from.Add(time.Duration(t * float64(time.Second))).UTC()
		v := math.Round(value(t)*1000) / 1000
		if unit == "m/s" {
			v = max(0, v)
		}
		list = append(list, run.Reading{At: at.Format("2006-01-02T15:04:05.000Z"), Channel: p.Channel, Value: v, Unit: unit})
	}
	return list
}

func (p *Plan) values(r *rand.Rand) func(t float64) float64 {
	rest := float64(quantity.Weight(quantity.Kilograms(p.MassKg)))
	noise := func(by float64) float64 { return r.NormFloat64() * by }
	switch p.Scenario {
	case "slip":
		return p.slip(r, noise)
	case "haul":
		// A stroke of six seconds pulls a tenth more than the load; at each reset the capture
		// takes it.
		return func(t float64) float64 {
			if math.Mod(t, 8) < 6 {
				return rest*1.1 + noise(0.02)
			}
			return rest*0.98 + noise(0.01)
		}
	case "descent":
		return func(t float64) float64 {
			// Bounces at the rope's own swing of about 1.2 Hz, stronger where the hand was hard.
			hard := 0.05 + 0.1*math.Max(0, math.Sin(t/7))
			return rest*(1+hard*math.Sin(2*math.Pi*1.2*t)) + noise(0.02)
		}
	case "gusty":
		gust := 0.0
		return func(t float64) float64 {
			// A mean that rises and falls in minutes, with gusts that die away in seconds.
			if gust *= math.Exp(-1 / (4 * p.RateHz)); r.Float64() < 1/(20*p.RateHz) {
				gust = 2 + 5*r.Float64()
			}
			return 5 + 1.5*math.Sin(t/90) + gust + noise(0.4)
		}
	}
	return func(float64) float64 { return 1.5 + noise(0.2) }
}

// Fall is the fall of a slip as it is stated: a metre of slack above 6 m of rope.
func (p *Plan) Fall() mechanics.FallIn {
	return mechanics.FallIn{
		MassKg: quantity.Kilograms(p.MassKg), LanyardM: 0.3, DeviceAboveM: 0.3, SlackM: 1, RopeLengthM: 6, ElongationPct: 3.5, DampingRatio: 0.1, FeetM: 1.3, MarginM: 1,
	}
}

// drawn is a fall that is as far from what is stated as the policy's default says that it may be.
func (p *Plan) drawn(r *rand.Rand) mechanics.FallIn {
	unsure := new(policy.Policy).With().Unsure
	either := func(by float64) float64 { return by * (2*r.Float64() - 1) }
	in := p.Fall()
	in.DeviceAboveM += quantity.Metres(either(float64(unsure.HeightM)))
	in.ElongationPct *= quantity.Percent(1 + either(float64(unsure.ElongationPart)))
	if unsure.MassKg < in.MassKg {
		in.MassKg += quantity.Kilograms(either(float64(unsure.MassKg)))
	}
	return in
}

// slip hangs at rest, and falls after SlipS: the course is that of the core's model of a fall
// with inputs drawn by the seed, with noise.
func (p *Plan) slip(r *rand.Rand, noise func(float64) float64) func(t float64) float64 {
	in := p.drawn(r)
	rest := float64(quantity.Weight(in.MassKg))
	fall := mechanics.FallInTime(in)
	course := fall.Course()
	last := course[len(course)-1].TS
	return func(t float64) float64 {
		since := t - p.SlipS
		if since < 0 || since > last {
			return rest + noise(0.01)
		}
		i, _ := slices.BinarySearchFunc(course, since, func(c mechanics.CoursePoint, t float64) int {
			switch {
			case c.TS < t:
				return -1
			case c.TS > t:
				return 1
			}
			return 0
		})
		return float64(course[min(i, len(course)-1)].ForceKN) + noise(0.02)
	}
}
