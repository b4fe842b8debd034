package demo

import "zealousknot/internal/core/quantity"

func mm(v float64) quantity.Millimetres   { return quantity.Millimetres(v) }
func kN(v float64) quantity.Kilonewtons   { return quantity.Kilonewtons(v) }
func kg(v float64) quantity.Kilograms     { return quantity.Kilograms(v) }
func gm(v float64) quantity.GramsPerMetre { return quantity.GramsPerMetre(v) }
func pct(v float64) quantity.Percent      { return quantity.Percent(v) }
func metres(v float64) quantity.Metres    { return quantity.Metres(v) }
