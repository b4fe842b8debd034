package mechanics

import (
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// HeatIn is one descent or lowering through a device.
type HeatIn struct {
	Mass         quantity.Kilograms
	Height       quantity.Metres
	Speed        quantity.MetresPerSecond
	Device       quantity.Grams
	SpecificHeat float64 // J/(kg K)
	Cooling      float64 // hA in W/K
	Share        quantity.Ratio
	Ambient      quantity.Celsius
}

// Heat gives the temperature of the device at the end of a descent at constant
// speed, as one lump that cools to the air (Newton's law):
// C dT/dt = f m g v − hA (T − T_a), so
// T(t) = T_a + (f m g v / hA)(1 − exp(−hA t / C)) with t = height/v, and
// T_a + f m g h / C where hA is 0.
//
// The device is taken as evenly warm: the rope groove is hotter than this, so it
// errs low at the groove in the first minutes. It errs high in wind or wet.
func Heat(in HeatIn) (quantity.Celsius, func() []finding.Working) {
	power := float64(in.Share) * newtons(in.Mass) * float64(in.Speed)
	capacity := float64(in.Device) / 1000 * in.SpecificHeat
	seconds := float64(in.Height) / float64(in.Speed)
	rise := power * seconds / capacity
	formula := "T = T_a + f m g h / C"
	if in.Cooling > 0 {
		rise = power / in.Cooling * -math.Expm1(-in.Cooling*seconds/capacity)
		formula = "T = T_a + (f m g v / hA)(1 − exp(−hA t / C)), t = height / v"
	}
	end := in.Ambient + quantity.Celsius(rise)
	return end, func() []finding.Working {
		return []finding.Working{finding.Work("temperature of the device at the end", formula, end,
			"errs low at the groove in the first minutes, high in wind or wet",
			finding.Fig("mass", in.Mass), finding.Fig("height", in.Height), finding.Fig("speed", in.Speed),
			finding.Fig("device", in.Device), finding.Fig("specific heat J/(kg K)", quantity.Ratio(in.SpecificHeat)),
			finding.Fig("hA W/K", quantity.Ratio(in.Cooling)), finding.Fig("f", in.Share), finding.Fig("air", in.Ambient))}
	}
}
