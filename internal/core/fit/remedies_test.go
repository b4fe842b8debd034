package fit_test

import (
	"regexp"
	"strconv"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// mended are remedies that name a figure: a fault of any size, and the remedy done to
// the letter, with the figure as it is written.
var mended = map[string]struct {
	rule  string
	fault func(r *rigged, u float64)
	reads string
	mend  func(r *rigged, f float64)
}{
	"a longer rope": {"rope.short", func(r *rigged, u float64) { r.spare(-0.01-4*u, rig.EndKnot) }, `at least ([\d.]+) m longer`,
		func(r *rigged, f float64) { r.ropeB.LengthM += quantity.Metres(f) }},
	"a component with a limit": {"load.wll", func(r *rigged, u float64) {
		r.ivo.MassKg = quantity.Kilograms(61 + 59*u)
		r.model("descender-b").WorkingLoads = []gear.WorkingLoad{{KN: 0.1}}
	}, `limit of at least ([\d.]+) kN`, func(r *rigged, f float64) {
		r.model("descender-b").WorkingLoads = []gear.WorkingLoad{{KN: quantity.Kilonewtons(f)}}
	}},
	"a stronger component": {"load.margin", func(r *rigged, u float64) {
		r.ivo.MassKg = quantity.Kilograms(61 + 59*u)
		r.model("descender-b").StrengthKN = 1
	},
		`component of at least ([\d.]+) kN`, func(r *rigged, f float64) { r.model("descender-b").StrengthKN = quantity.Kilonewtons(f) }},
	"a stronger rope at its knot": {"load.margin", func(r *rigged, u float64) {
		r.ivo.MassKg = quantity.Kilograms(61 + 59*u)
		r.model("rope-105").StrengthKN = 2
	},
		`rope of at least ([\d.]+) kN`, func(r *rigged, f float64) { r.model("rope-105").StrengthKN = quantity.Kilonewtons(f) }},
	"a connector that lies across": {"load.margin", func(r *rigged, u float64) {
		r.ivo.MassKg = quantity.Kilograms(61 + 59*u)
		r.main.Links[0].Lie, r.model("connector-offset").Connector.AcrossKN = rig.LieAcross, 1
	}, `holds at least ([\d.]+) kN`, func(r *rigged, f float64) {
		r.model("connector-offset").Connector.AcrossKN = quantity.Kilonewtons(f)
	}},
	"a higher backup": {"device.height", func(r *rigged, u float64) {
		r.main.AboveM, r.backup.AboveM = quantity.Metres(0.3+u), quantity.Metres(-u/3)
	},
		`at least ([\d.]+) m`, func(r *rigged, f float64) { r.backup.AboveM += quantity.Metres(f) }},
	"devices apart": {"device.foul", func(r *rigged, u float64) { r.apart(quantity.Metres(0.14 * u)) }, `at least ([\d.]+) m apart`,
		func(r *rigged, f float64) { r.apart(quantity.Metres(f)) }},
	"a slower descent": {"device.descent-limit", func(r *rigged, u float64) { r.sheath(-0.01 - 5*u) }, `no faster than ([\d.]+) m/s`,
		func(r *rigged, f float64) { r.Policy.DescentSpeedMS = quantity.MetresPerSecond(f) }},
	"the planned speed": {"device.descent-limit", func(r *rigged, u float64) {
		r.model("descender-b").Device.MaxSpeedMS = quantity.MetresPerSecond(0.1 + 0.39*u)
	},
		`Plan ([\d.]+) m/s or slower`, func(r *rigged, f float64) { r.Policy.DescentSpeedMS = quantity.MetresPerSecond(f) }},
	"a height with clearance": {"fall.clearance", func(r *rigged, u float64) { r.ivo.AtM = 1.5; r.backup.SlackM = quantity.Metres(2 * u) }, `enough from ([\d.]+) m up`,
		func(r *rigged, f float64) { r.ivo.AtM = quantity.Metres(f) }},
	"slack taken in": {"fall.slack", func(r *rigged, u float64) {
		r.Policy.WindSlackM = quantity.Metres(0.1 + u)
		r.backup.SlackM = r.Policy.WindSlackM + 0.001
	}, `in to ([\d.]+) m`, func(r *rigged, f float64) { r.backup.SlackM = quantity.Metres(f) }},
	"a knot where the damage is": {"rope.damage", func(r *rigged, u float64) {
		r.damage(5, rig.Mark{ID: "k", Kind: rig.KnotMark, HeightM: quantity.Metres(6.01 + u), Isolates: "d"})
	}, `within ([\d.]+) m`, func(r *rigged, f float64) { r.strandB.Marks[0].HeightM = quantity.Metres(5 + f) }},
	"the thickest rope": {"rope.diameter", func(r *rigged, u float64) { r.upper.MeasuredMM = quantity.Millimetres(12.01 + u) }, `rope of [\d.]+ mm to ([\d.]+) mm`,
		func(r *rigged, f float64) { r.upper.MeasuredMM = quantity.Millimetres(f) }},
	"a hole that is full": {"link.hole", func(r *rigged, u float64) {
		r.chain("connector-69")
		r.model("descender-b").Device.ConnectorsInHole = 1
	}, `Leave (\d) at the device`,
		func(r *rigged, f float64) { r.main.Links = r.main.Links[:int(f)] }},
	"a kit that is long enough": {"device.descent-limit", func(r *rigged, u float64) {
		r.Geometry.TopM = quantity.Metres(36 + u)
		r.kit(gear.EvacuationModel{MaxM: 10, MinKg: 30, MaxKg: 200, SpeedMS: 0.8})
	}, `lowers at least ([\d.]+) m`, func(r *rigged, f float64) { r.model("kit-x").Evacuation.MaxM = quantity.Metres(f) }},
}

// A remedy that names a figure, done to the letter, clears its finding: figures are
// rounded to the side that does.
func TestRemediesClear(t *testing.T) {
	random := chance.Rand(13, 5)
	for name, m := range mended {
		for range 25 {
			r, u := clean(), random.Float64()
			m.fault(r, u)
			remedies := remediesOf(t, r.Document, m.rule)
			most := 0.0
			for _, remedy := range remedies {
				read := regexp.MustCompile(m.reads).FindStringSubmatch(remedy)
				if read == nil {
					t.Fatalf("%s: the remedy names no figure: %q", name, remedy)
				}
				f, err := strconv.ParseFloat(read[1], 64)
				if err != nil {
					t.Fatal(err)
				}
				most = max(most, f)
			}
			if len(remedies) == 0 {
				t.Fatalf("%s, %v: %s does not fire", name, u, m.rule)
			}
			m.mend(r, most)
			if left := remediesOf(t, r.Document, m.rule); len(left) > 0 {
				t.Fatalf("%s, %v: %q leaves %q", name, u, remedies, left)
			}
		}
	}
}

// remediesOf are those of all findings of a rule, but for notes.
func remediesOf(t *testing.T, d *drop.Document, rule string) (list []string) {
	t.Helper()
	report, err := check.Drop(t.Context(), d, nil, check.FindingsOnly)
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range report.Findings {
		if f.Rule == rule && f.Severity != finding.Note {
			list = append(list, f.Remedy)
		}
	}
	return list
}
