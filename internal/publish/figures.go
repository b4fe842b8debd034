package publish

import (
	"encoding/json"
	"reflect"
	"strconv"
	"strings"

	"zealousknot/internal/core/calc"
	"zealousknot/internal/core/quantity"
)

// figureField is an input or output of a figure; those within others are named with dots, and
// entries of lists and tables by what they have in common.
type figureField struct {
	Path    string   `json:"path"`
	Doc     string   `json:"doc,omitempty"`
	Unit    string   `json:"unit,omitempty"`
	Kind    string   `json:"kind"`
	Min     *float64 `json:"min,omitempty"`
	Max     *float64 `json:"max,omitempty"`
	Choices []string `json:"choices,omitempty"`
	Needed  bool     `json:"needed,omitempty"`
}

type quickFigure struct {
	Name    string          `json:"name"`
	Does    string          `json:"does"`
	Example json.RawMessage `json:"example"`
	In      []figureField   `json:"in"`
	Out     []figureField   `json:"out"`
}

// quickFigures are the calc contracts for the screens, each with its example.
func quickFigures() []byte {
	var list []quickFigure
	for _, c := range calc.All {
		example := map[string]json.RawMessage{}
		if err := json.Unmarshal([]byte(asked[c.Name]), &example); err != nil {
			panic(err) // written above
		}
		for _, option := range []string{"working", "spread", "samples", "seed"} {
			delete(example, option)
		}
		text, err := json.Marshal(example)
		if err != nil {
			panic(err)
		}
		list = append(list, quickFigure{c.Name, c.Does, text, figureFields(c.In, ""), figureFields(c.Out, "")})
	}
	return typed("\n/** An input or output of a figure. */\nexport type FigureField = {\n  path: string\n  doc?: string\n  unit?: string\n  kind: string\n  min?: number\n  max?: number\n  choices?: string[]\n  needed?: boolean\n}\n\n/** A figure by itself, with an example of what goes in. */\nexport type QuickFigure = { name: string; does: string; example: object; in: FigureField[]; out: FigureField[] }\n",
		table{"Every figure that can be computed by itself.", "quickFigures", "QuickFigure[]", list})
}

func figureFields(t reflect.Type, within string) (list []figureField) {
	for i := range t.NumField() {
		f := t.Field(i)
		name, options, _ := strings.Cut(f.Tag.Get("json"), ",")
		if f.Anonymous && name == "" {
			list = append(list, figureFields(f.Type, within)...)
			continue
		}
		if name == "" || name == "-" {
			continue
		}
		one := figureField{Path: within + name, Doc: f.Tag.Get("doc"), Unit: unitOf(f.Type, name), Kind: kindOf(f.Type), Min: limit(f.Tag, "minimum", "exclusiveMinimum"), Max: limit(f.Tag, "maximum", "exclusiveMaximum")}
		_, defaulted := f.Tag.Lookup("default")
		one.Needed = !strings.Contains(options, "omit") && !defaulted
		if e := f.Tag.Get("enum"); e != "" {
			one.Kind, one.Choices = "choice", strings.Split(e, ",")
		}
		if e := inner(f.Type); e.Kind() == reflect.Struct {
			list = append(list, figureFields(e, within+name+".")...)
			continue
		}
		list = append(list, one)
	}
	return list
}

func limit(tag reflect.StructTag, names ...string) *float64 {
	for _, name := range names {
		if v, err := strconv.ParseFloat(tag.Get(name), 64); err == nil {
			return &v
		}
	}
	return nil
}

func kindOf(t reflect.Type) string {
	switch inner(t).Kind() {
	case reflect.Float64:
		return "number"
	case reflect.Int:
		return "whole"
	case reflect.Bool:
		return "yes"
	}
	return "text"
}

// suffixes are the units in the names of fields whose type has none.
var suffixes = []struct{ suffix, unit string }{
	{"_g_per_m", "g/m"}, {"_J_kgK", "J/kgK"}, {"_W_K", "W/K"}, {"_m_s", "m/s"}, {"_kN", "kN"}, {"_mm", "mm"}, {"_kg", "kg"}, {"_pct", "%"}, {"_deg", "°"}, {"_N", "N"}, {"_C", "°C"}, {"_J", "J"}, {"_g", "g"}, {"_s", "s"}, {"_m", "m"},
}

func unitOf(t reflect.Type, name string) string {
	if q, ok := reflect.Zero(inner(t)).Interface().(quantity.Quantity); ok {
		return q.Unit()
	}
	for _, s := range suffixes {
		if strings.HasSuffix(name, s.suffix) {
			return s.unit
		}
	}
	return ""
}
