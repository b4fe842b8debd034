package publish

import (
	"bytes"
	"encoding/json"
	"fmt"
	"reflect"
	"strings"

	"zealousknot/internal/core/calc"
)

// asked is an example of each figure.
var asked = map[string]string{
	"anchor":   `{"load_kN": 1.5, "legs": [{"id": "rail", "x": -0.6, "y": 1.2, "elongation_pct": 4}, {"id": "bolt", "x": 0.3, "y": 0.9, "elongation_pct": 4}]}`,
	"redirect": `{"t1_kN": 1.2, "t2_kN": 1.2, "included_angle_deg": 60}`,
	"haul":     `{"load_kg": 180, "reeving": [{"rope": "haul", "path": ["hand", "pulley:A@grab:G", "pulley:B@anchor", "grab:G"]}, {"rope": "main", "path": ["slack", "pulley:M@anchor", "grab:G", "load"]}], "efficiency": 0.9, "travel_m": {"G": 2.5}, "raise_m": 12, "reset_loss_m": 0.1}`,
	"lower":    `{"load_kg": 180, "base_ratio": 14, "wraps_deg": [180], "hanging_m": 20, "rope_g_per_m": 71}`,
	"heat":     `{"load_kg": 100, "height_m": 90, "speed_m_s": 0.5, "device_g": 530, "specific_heat_J_kgK": 900, "cooling_W_K": 2.4, "heat_share": 0.5, "ambient_C": 20, "limit_C": 100}`,
	"stretch":  `{"load_kg": 100, "length_m": 90, "elongation_pct": 3.6, "rope_g_per_m": 71, "working": true}`,
	"fall":     `{"mass_kg": 100, "lanyard_m": 0.6, "device_above_attachment_m": 0.2, "slack_m": 0.3, "rope_length_m": 12, "elongation_pct": 3.6, "absorber": {"force_kN": 3, "max_m": 0.9}, "clearance_m": 6, "spread": {"mass_kg": {"plus_minus": 5}, "slack_m": {"low": 0, "high": 0.6}}, "samples": 1000, "seed": 1}`,
	"share":    `{"mass_kg": 180, "rope_length_m": 40, "elongation_pct": 3.6, "share": 0.5, "slack_m": 0.3}`,
	"wind":     `{"above_m": 40, "tail_m": 30, "diameter_mm": 10.5, "rope_g_per_m": 71, "wind_m_s": 6, "device_drag_N": 6}`,
	"swing":    `{"rope_length_m": 30, "offset_m": 4}`,
	"rope":     `{"drop_m": 96, "diameter_mm": 10.5, "items": [{"kind": "end-loop", "count": 1}, {"kind": "stopper", "count": 1}, {"kind": "tail", "count": 2}, {"kind": "edge", "count": 1, "m": 0.4}], "reserve_m": 2, "stretch_m": 3.1}`,
}

// Example is what goes into a figure in its example, as JSON.
func Example(figure string) string { return asked[figure] }

const calcHead = `# Figures: the calc contracts

Generated from the code by ` + "`make generate`" + `; the examples are run when it is, and a test holds them. What each figure assumes and which way it errs
stands in the doc comments of ` + "`internal/core/mechanics`" + ` and in its working.

` + "```" + `
printf '{"rope_length_m": 30, "offset_m": 4}' | zealousknot calc swing
` + "```" + `

One JSON object on standard input, one on standard output; ` + "`POST /api/v1/calc/NAME`" + ` takes and gives the same. Units are in the names of the fields. Nothing
is rounded. What is refused ends with exit 2 (422 over HTTP) and an RFC 9457 problem on standard error whose ` + "`errors`" + ` name each field by its JSON Pointer;
nothing is then on standard output.

May stand beside the fields of any figure:

| field | | gives |
| --- | --- | --- |
| ` + "`working`" + ` | true or false | ` + "`working`: name, formula, inputs, result, unit, and which way it errs" + ` |
| ` + "`spread`" + ` | for each input ` + "`{\"plus_minus\"}` or `{\"low\", \"high\"}` (even) or `{\"mean\", \"sd\"}`" + ` (normal, drawn again where the field would refuse) | ` + "`band`: `p5`, `p50`, `p95` of each numeric output (null: without bound); `drivers`: inputs by their share of its spread" + ` |
| ` + "`samples`, `seed`" + ` | 10000 and 1 where left out | |

An input or output within another is named with dots: ` + "`absorber.force_kN`, `legs.rail.x`, `shared.peak_kN`" + `. A share of spread is the square of the rank
correlation as a part of their sum: it sees what rises or falls steadily with an input.

Where this goes beyond the letter of "lengths are above 0": a reserve, stretch, margin, clearance, or length to the feet may be 0. ` + "`travel_m`" + ` is not asked
for where the system has no grab. An anchor of one leg has ` + "`drop_m`" + ` null in ` + "`lost`" + `: nothing holds then.

`

// calcDoc documents every figure with an example that is run here.
func calcDoc() ([]byte, error) {
	var b strings.Builder
	b.WriteString(calcHead)
	for _, c := range calc.All {
		answer, err := c.Run([]byte(asked[c.Name]))
		if err != nil {
			return nil, fmt.Errorf("example of %s: %w", c.Name, err)
		}
		text, err := json.Marshal(answer)
		if err != nil {
			return nil, err
		}
		fmt.Fprintf(&b, "## %s\n\n%s.\n\n| in | | if left out |\n| --- | --- | --- |\n", c.Name, strings.ToUpper(c.Does[:1])+c.Does[1:])
		fields(&b, c.In, "", true)
		if c.HasCourse {
			b.WriteString("| `course` | give the course in time, at most 400 points of `t_s`, `x_m`, `v_m_s`, `force_kN` | false |\n")
		}
		b.WriteString("\n| out | |\n| --- | --- |\n")
		fields(&b, c.Out, "", false)
		fmt.Fprintf(&b, "\n```json\n%s\n```\n\n```json\n%s\n```\n\n", asked[c.Name], wrap(text))
	}
	return []byte(strings.TrimSuffix(b.String(), "\n")), nil
}

// fields lists the fields of a struct, those within others with dots.
func fields(b *strings.Builder, t reflect.Type, within string, in bool) {
	for i := range t.NumField() {
		f := t.Field(i)
		name, options, _ := strings.Cut(f.Tag.Get("json"), ",")
		if f.Anonymous && name == "" {
			fields(b, f.Type, within, in)
			continue
		}
		if name == "" || name == "-" {
			continue
		}
		says := strings.TrimSpace(f.Tag.Get("doc") + limits(f.Tag))
		if in {
			fmt.Fprintf(b, "| `%s%s` | %s | %s |\n", within, name, says, otherwise(f.Tag, options))
		} else {
			fmt.Fprintf(b, "| `%s%s` | %s |\n", within, name, says)
		}
		if e := inner(f.Type); e.Kind() == reflect.Struct && name != "travel_m" {
			fields(b, e, within+name+".", in)
		}
	}
}

// inner is what a pointer, list or table holds.
func inner(t reflect.Type) reflect.Type {
	for t.Kind() == reflect.Pointer || t.Kind() == reflect.Slice || t.Kind() == reflect.Map {
		t = t.Elem()
	}
	return t
}

func limits(tag reflect.StructTag) string {
	var list []string
	if v, ok := tag.Lookup("exclusiveMinimum"); ok {
		list = append(list, "more than "+v)
	}
	low, hasLow := tag.Lookup("minimum")
	high, hasHigh := tag.Lookup("maximum")
	switch {
	case hasLow && hasHigh:
		list = append(list, low+" to "+high)
	case hasLow:
		list = append(list, low+" or more")
	case hasHigh:
		list = append(list, "at most "+high)
	}
	if e := tag.Get("enum"); e != "" {
		list = append(list, strings.ReplaceAll(e, ",", ", "))
	}
	if list == nil {
		return ""
	}
	return " (" + strings.Join(list, ", ") + ")"
}

func otherwise(tag reflect.StructTag, options string) string {
	switch d, ok := tag.Lookup("default"); {
	case ok:
		return d
	case strings.Contains(options, "omit"):
		return "none"
	default:
		return "**required**"
	}
}

// wrap breaks JSON into lines that can be read.
func wrap(text []byte) string {
	var b bytes.Buffer
	width := 0
	for i, c := range text {
		b.WriteByte(c)
		width++
		if c == ',' && width > 110 && i+1 < len(text) && (text[i+1] == '"' || text[i+1] == '{') {
			b.WriteByte('\n')
			width = 0
		}
	}
	return b.String()
}
