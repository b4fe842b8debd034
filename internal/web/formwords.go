package web

import (
	"slices"

	"zealousknot/internal/core/strict"
)

// said is what a form calls a field, and its unit, where its name in the document says less.
type said struct{ words, unit string }

// formWords are by the field's path, without what is not needed to tell it from others.
var formWords = map[string]said{
	"lat": {"latitude", "°"}, "lon": {"longitude", "°"},
	"back_m": {"how far back from the edge", "m"}, "low_m": {"at least", "m"}, "high_m": {"at most", "m"},
	"landing_at":    {"where people land", ""},
	"again_by":      {"to be examined again by", ""},
	"harsh_months":  {"interval where its use is harsh", "months"},
	"code":          {"code on its label", ""},
	"measured_mm":   {"measured diameter", "mm"},
	"hand_mm":       {"width of the hand", "mm"},
	"strength_kN":   {"breaking strength", "kN"},
	"working_loads": {"working load limits", ""}, "limit_kN": {"limit", "kN"}, "limit_kg": {"or limit as a mass", "kg"},
	"from_made_years": {"from manufacture", "years"}, "from_first_use_years": {"from first use", "years"},
	"examination_months": {"interval of the thorough examination", "months"},
	"examine":            {"points of a thorough examination", ""},
	"wear":               {"parts that wear", ""}, "limit_mm": {"limit", "mm"}, "grows": {"grows with wear", ""},
	"proofs": {"proofs of a function check", ""},
	"source": {"leaflet and its issue", ""},

	"rope/diameter_mm": {"nominal diameter", "mm"}, "mass_g_per_m": {"mass of a metre", "g/m"}, "elongation_pct": {"elongation", "%"},
	"sheath": {"sheath material", ""}, "sheath_limit_C": {"highest temperature of the sheath", "°C"},
	"modes": {"what it takes in each mode", ""}, "persons": {"how many persons", ""}, "ropes/min_mm": {"thinnest rope", "mm"}, "ropes/max_mm": {"thickest rope", "mm"},
	"min_kg": {"lightest load", "kg"}, "max_kg": {"heaviest load", "kg"}, "needs": {"what it needs in this mode", ""},
	"max_descent_m": {"longest descent", "m"}, "max_speed_m_s": {"fastest descent", "m/s"},
	"positions": {"positions of its handle", ""}, "hands_off": {"with hands off it", ""}, "parked": {"it is parked there", ""},
	"connectors_in_hole": {"connectors that its hole takes", ""},
	"thumb_release":      {"what its thumb release is for", ""},
	"teeth":              {"force at which its teeth harm the sheath", ""}, "teeth/diameter_mm": {"rope diameter", "mm"}, "harm_kN": {"force", "kN"},
	"slip_kN": {"slips at", "kN"},
	"sides":   {"side that the load strand leaves", ""}, "anchored": {"fixed to an anchor", ""}, "riding": {"riding on a person", ""},
	"wrong_loading": {"loaded the wrong way it", ""},
	"wear_limits":   {"wear limits of its own", ""}, "deepens": {"the reading grows with wear", ""},
	"rope_effects": {"what the state of the rope changes", ""}, "park_needs_push": {"its park position then needs a further push", ""},
	"lever_reach_m": {"reach of its lever along the rope", "m"}, "opens_if_pushed": {"another device can push it open", ""},
	"specific_heat_J_kgK": {"specific heat", "J/(kg·K)"}, "cooling_W_K": {"cooling", "W/K"}, "heat_share": {"share of the heat", ""},
	"base_ratio": {"load to hand, fully open", ""}, "take_in_part": {"share of a pull that gets round it", ""}, "bend_deg": {"turn over its friction bend", "°"},
	"looks": {"how it is built", ""}, "anchor_sign": {"face with the sign for the anchor", ""},
	"links": {"links that it may ride on", ""}, "links/max_m": {"longest", "m"},
	"lock_speed_m_s": {"locks from", "m/s"}, "lock_distance_m": {"distance in which it locks", "m"}, "drag_N": {"drag", "N"}, "parks": {"it can be parked", ""},
	"unpark_before_descent": {"it must be unparked before a descent", ""}, "towed_by_cord": {"it may be towed by its cord", ""},
	"integral_absorber_kN": {"force of its own absorber", "kN"}, "integral_absorber_max_m": {"extension of its own absorber", "m"},
	"side_kN": {"working load limit of each side", "kN"}, "becket_kN": {"strength of the becket", "kN"}, "cam_holds_open": {"its cam can be held open", ""},
	"release_travel_m": {"take-in that frees its teeth", "m"}, "largest_diameter_mm": {"thickest rope", "mm"},
	"lift_per_turn_m": {"lift of one turn", "m"}, "lock_sides": {"sides on which the lock works", ""}, "set_for": {"side that it is set for", ""},
	"free_as_unpacked": {"it runs free as unpacked", ""}, "slack_after_m": {"slack is drawn after", "m"},
	"open_kN": {"strength with the gate open", "kN"}, "across_kN": {"strength across", "kN"}, "connector/place": {"intended place", ""},
	"length_m": {"length", "m"}, "force_kN": {"force", "kN"}, "absorber/max_m": {"greatest extension", "m"},
	"fall_arrest": {"marked for fall arrest", ""}, "extends_m": {"lets out under load", "m"},
	"evacuation/max_m": {"greatest height", "m"}, "evacuation/speed_m_s": {"lowers at", "m/s"}, "one_shot": {"it can be used once", ""},
}

// worded gives the fields of a form as it calls them.
func worded(fields []strict.FormField, in string) []strict.FormField {
	for i := range fields {
		f := &fields[i]
		by, ok := formWords[in+"/"+f.Name]
		if !ok {
			by, ok = formWords[f.Name]
		}
		if ok {
			f.Words, f.Unit = by.words, by.unit
		}
		f.Fields = worded(f.Fields, f.Name)
	}
	return fields
}

// leaflet is the order of a model's fields: what it is, what it takes and how it works, what
// it bears, how it wears, and where that stands. What is not named stays in the middle.
var leaflet = map[string]int{
	"class": -9, "maker": -8, "name": -7, "generation": -6, "id": -5, "follows": -4, "standards": -3,
	"strength_kN": 1, "working_loads": 2, "mass_g": 3, "wear": 4, "life": 5, "examination_months": 6, "examine": 7, "proofs": 8, "cautions": 9, "source": 10,
}

func inOrder(fields []strict.FormField) []strict.FormField {
	slices.SortStableFunc(fields, func(a, b strict.FormField) int { return leaflet[a.Name] - leaflet[b.Name] })
	return fields
}
