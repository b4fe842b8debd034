package gear

// Silences says of a field of a model which rules have nothing to say of it while it is left
// empty. Made by: go test ./internal/core/fit -run TestSilences -update
var Silences = map[string][]string{
	"absorber/min_kg":                     {"kit.unfit"},
	"device/connectors_in_hole":           {"link.hole"},
	"device/heat":                         {"device.descent-limit"},
	"device/lever_reach_m":                {"device.foul"},
	"device/max_speed_m_s":                {"device.descent-limit"},
	"device/modes/max_descent_m":          {"device.descent-limit"},
	"device/modes/min_kg":                 {"kit.unfit", "load.rated"},
	"device/modes/needs":                  {"load.two-person"},
	"device/opens_if_pushed":              {"device.foul"},
	"device/positions/parked":             {"device.park-before-descent"},
	"device/rope_effects":                 {"brake.seat"},
	"device/rope_effects/park_needs_push": {"brake.seat"},
	"device/sides":                        {"device.turned"},
	"device/slip_kN":                      {"device.slip"},
	"device/teeth":                        {"load.teeth"},
	"examination_months":                  {"service.examination"},
	"generation":                          {"person.familiar"},
	"life":                                {"service.quarantine"},
	"life/from_first_use_years":           {"service.quarantine"},
	"life/from_made_years":                {"service.quarantine"},
	"mass_g":                              {"device.descent-limit"},
	"rope/sheath_limit_C":                 {"device.descent-limit"},
	"strength_kN":                         {"kit.missing", "kit.unfit", "load.margin"},
	"working_loads":                       {"kit.unfit", "load.wll"},
}
