package mechanics

import (
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// HeatIn is a descent on a device that brakes the rope.
type HeatIn struct {
	LoadKg       quantity.Kilograms       `json:"load_kg" exclusiveMinimum:"0"`
	HeightM      quantity.Metres          `json:"height_m" exclusiveMinimum:"0"`
	SpeedMS      quantity.MetresPerSecond `json:"speed_m_s" exclusiveMinimum:"0"`
	DeviceG      quantity.Grams           `json:"device_g" exclusiveMinimum:"0"`
	SpecificHeat float64                  `json:"specific_heat_J_kgK" exclusiveMinimum:"0"`
	CoolingWK    float64                  `json:"cooling_W_K" minimum:"0" doc:"hA"`
	HeatShare    quantity.Ratio           `json:"heat_share" minimum:"0" maximum:"1" doc:"f, the part of the energy that goes into the device"`
	AmbientC     quantity.Celsius         `json:"ambient_C" minimum:"-273.15"`
	LimitC       quantity.Celsius         `json:"limit_C" minimum:"-273.15" doc:"highest temperature of the sheath"`
}

// HeatOut is how hot the device gets.
type HeatOut struct {
	EndC      quantity.Celsius          `json:"end_C"`
	FastestMS *quantity.MetresPerSecond `json:"fastest_m_s" doc:"fastest speed that stays within the limit; null when any does"`
	in        HeatIn
}

// Heat computes the temperature of a device at the end of a descent.
//
// C dT/dt = f m g v − hA (T − T_a), so T(t) = T_a + (f m g v / hA)(1 − exp(−hA t
// / C)) with t = height / v and C = device mass · specific heat; with hA = 0 the
// end is T_a + f m g h / C whatever the speed. The fastest speed within the
// limit is found by halving, since the end rises with the speed.
//
// The device is taken as evenly warm at constant speed. It errs low at the
// groove itself in the first minutes, high in wind or wet. A limit that is not
// above the air is refused.
func Heat(in HeatIn) (HeatOut, error) {
	if in.LimitC <= in.AmbientC {
		return HeatOut{}, refuse("/limit_C", "must be above ambient_C, %v", in.AmbientC)
	}
	out := HeatEnd(in)
	room := in.LimitC - in.AmbientC
	if in.most() > room {
		fastest := in.fastest(room)
		out.FastestMS = &fastest
	}
	return out, nil
}

// HeatEnd is Heat without its limit, where none is known.
func HeatEnd(in HeatIn) HeatOut { return HeatOut{EndC: in.AmbientC + in.Rise(in.SpeedMS), in: in} }

// Rise is how much the device warms at a speed.
func (in *HeatIn) Rise(speed quantity.MetresPerSecond) quantity.Celsius {
	if in.CoolingWK == 0 {
		return in.most()
	}
	power := float64(in.HeatShare) * newtons(in.LoadKg) * float64(speed)
	seconds := float64(in.HeightM) / float64(speed)
	return quantity.Celsius(power / in.CoolingWK * -math.Expm1(-in.CoolingWK*seconds/in.capacity()))
}

// Longest is the longest descent that keeps the device within the limit, from ambient on;
// limited is false where any length does.
func (in *HeatIn) Longest() (m quantity.Metres, limited bool) {
	room := float64(in.LimitC - in.AmbientC)
	power := float64(in.HeatShare) * newtons(in.LoadKg) * float64(in.SpeedMS)
	if room <= 0 {
		return 0, true
	}
	if in.CoolingWK == 0 {
		return quantity.Metres(room * in.capacity() / power * float64(in.SpeedMS)), true
	}
	part := room * in.CoolingWK / power
	if part >= 1 {
		return 0, false
	}
	return quantity.Metres(-math.Log1p(-part) * in.capacity() / in.CoolingWK * float64(in.SpeedMS)), true
}

func (in *HeatIn) capacity() float64 { return float64(in.DeviceG) / 1000 * in.SpecificHeat }

// most is the rise of a descent so fast that nothing cools.
func (in *HeatIn) most() quantity.Celsius {
	return quantity.Celsius(float64(in.HeatShare) * newtons(in.LoadKg) * float64(in.HeightM) / in.capacity())
}

// fastest halves between a speed that is too slow to pass the room and one that
// passes it. Without cooling no speed is slow enough, and it is 0.
func (in *HeatIn) fastest(room quantity.Celsius) quantity.MetresPerSecond {
	if in.CoolingWK == 0 {
		return 0
	}
	slow, fast := quantity.MetresPerSecond(0), quantity.MetresPerSecond(1)
	for in.Rise(fast) <= room {
		slow, fast = fast, 2*fast
		if math.IsInf(float64(fast), 0) {
			return slow
		}
	}
	for range 200 {
		middle := (slow + fast) / 2
		if middle <= slow || middle >= fast {
			break
		}
		if in.Rise(middle) <= room {
			slow = middle
		} else {
			fast = middle
		}
	}
	return slow
}

// Working tells how the temperature was got.
func (out *HeatOut) Working() []finding.Working {
	in := &out.in
	formula := "T = T_a + (f m g v / hA)(1 − exp(−hA t / C)), t = height / v"
	if in.CoolingWK == 0 {
		formula = "T = T_a + f m g h / C"
	}
	inputs := []finding.Figure{
		finding.Fig("load", in.LoadKg), finding.Fig("height", in.HeightM), finding.Fig("v", in.SpeedMS),
		finding.Fig("device", in.DeviceG), finding.Fig("specific heat J/(kg K)", quantity.Ratio(in.SpecificHeat)),
		finding.Fig("hA W/K", quantity.Ratio(in.CoolingWK)), finding.Fig("f", in.HeatShare), finding.Fig("air", in.AmbientC),
	}
	const errs = "low at the groove in the first minutes, high in wind or wet"
	list := []finding.Working{finding.Work("temperature of the device at the end", formula, out.EndC, errs, inputs...)}
	if out.FastestMS != nil {
		list = append(list, finding.Work("fastest speed within the limit", "v at which T = limit, by halving", *out.FastestMS, "high at the groove: "+errs,
			finding.Fig("limit", in.LimitC)))
	}
	return list
}
