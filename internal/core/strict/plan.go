package strict

import (
	"reflect"
	"strconv"
	"strings"
	"sync"
)

// IDPattern is the pattern of an id: lower-case letters, digits and hyphens.
const IDPattern = "^[a-z0-9][a-z0-9-]{0,63}$"

// plan says how a Go type is read.
type plan struct {
	kind   reflect.Kind
	elem   *plan
	fields []field
	names  map[string]int
	// union is set for a struct of which the kind of the value picks one field.
	union bool
	// null is set where null stands for a value that is left out.
	null bool
}

// field is one field of a struct and the limits its tags set.
type field struct {
	name string
	// quoted is the name as it stands in the input.
	quoted string
	// target is which of several values the field belongs to, index which field of it.
	target, index int
	required      bool
	// fallback is the figure of a field that is left out; nil: its zero.
	fallback *float64
	plan     *plan
	limits   limits
}

// limits are what the tags of a field ask of its value, or of each element
// where the field is a list.
type limits struct {
	min, exclusiveMin, max *float64
	enum                   []string
	minLen, maxLen         int
	minItems, maxItems     int
	date, moment, id, null bool
	pattern                *pattern
}

var plans sync.Map // reflect.Type → *plan

// planOf gives the plan of a type. A type it cannot read is a mistake in the
// program, not in the input, and panics.
func planOf(t reflect.Type) *plan {
	if p, ok := plans.Load(t); ok {
		return p.(*plan)
	}
	p := makePlan(t)
	plans.Store(t, p)
	return p
}

func makePlan(t reflect.Type) *plan {
	p := &plan{kind: t.Kind()}
	switch t.Kind() {
	case reflect.Pointer, reflect.Slice, reflect.Map:
		p.elem = planOf(t.Elem())
	case reflect.Struct:
		p.union = t.Implements(unionType)
		p.names = map[string]int{}
		p.addFields(t, 0)
	case reflect.Bool, reflect.String, reflect.Float64, reflect.Int:
	case reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64:
		p.kind = reflect.Int
	default:
		panic("strict: cannot read into " + t.String())
	}
	return p
}

// addFields adds the fields of a struct that is one of several read as one.
func (p *plan) addFields(t reflect.Type, target int) {
	for i := range t.NumField() {
		sf := t.Field(i)
		if sf.Name == "_" && sf.Tag.Get("nullable") == "true" {
			p.null = true
		}
		f, ok := makeField(sf, i)
		if !ok {
			continue
		}
		f.target = target
		p.names[f.name] = len(p.fields)
		p.fields = append(p.fields, f)
	}
	if len(p.fields) > 64 {
		panic("strict: more than 64 fields in " + t.String())
	}
}

// joined gives the plan of an object whose fields are those of several structs.
func joined(values []reflect.Value) *plan {
	p := &plan{kind: reflect.Struct, names: map[string]int{}}
	for i, v := range values {
		p.addFields(v.Type(), i)
	}
	return p
}

// lister is a type that lists the values it may have, in the place of the tag enum.
type lister interface{ Enum() []string }

func makeField(sf reflect.StructField, index int) (field, bool) {
	tag, ok := sf.Tag.Lookup("json")
	if !ok || tag == "-" {
		return field{}, false
	}
	name, options, _ := strings.Cut(tag, ",")
	fallback := number(sf.Tag, "default")
	limits := makeLimits(sf.Tag)
	// The values of a list are limited like those of a field.
	of := sf.Type
	if of.Kind() == reflect.Slice {
		of = of.Elem()
	}
	if e, ok := reflect.Zero(of).Interface().(lister); ok {
		limits.enum = e.Enum()
	}
	return field{
		name:     name,
		quoted:   `"` + name + `"`,
		index:    index,
		required: fallback == nil && !strings.Contains(options, "omit"),
		fallback: fallback,
		plan:     planOf(sf.Type),
		limits:   limits,
	}, true
}

func makeLimits(tag reflect.StructTag) limits {
	l := limits{
		min:          number(tag, "minimum"),
		exclusiveMin: number(tag, "exclusiveMinimum"),
		max:          number(tag, "maximum"),
		minLen:       int(whole(tag, "minLength", 0)),
		maxLen:       int(whole(tag, "maxLength", maxText)),
		minItems:     int(whole(tag, "minItems", 0)),
		maxItems:     int(whole(tag, "maxItems", maxItems)),
		date:         tag.Get("format") == "date",
		moment:       tag.Get("format") == "date-time",
		null:         tag.Get("nullable") == "true",
	}
	if e := tag.Get("enum"); e != "" {
		l.enum = strings.Split(e, ",")
	}
	switch p := tag.Get("pattern"); p {
	case "":
	case IDPattern:
		l.id = true
	default:
		l.pattern = compile(p)
	}
	return l
}

func number(tag reflect.StructTag, key string) *float64 {
	s, ok := tag.Lookup(key)
	if !ok {
		return nil
	}
	f, err := strconv.ParseFloat(s, 64)
	if err != nil {
		panic("strict: tag " + key + ": " + err.Error())
	}
	return &f
}

func whole(tag reflect.StructTag, key string, otherwise float64) float64 {
	if f := number(tag, key); f != nil {
		return *f
	}
	return otherwise
}

// unitNames are the endings by which fields name their unit.
var unitNames = []string{
	"_g_per_m", "_m_s", "_km_h", "_mph", "_kt", "_mm", "_cm", "_km", "_ft", "_in", "_kg", "_lb", "_lbf", "_kgf",
	"_kN", "_N", "_daN", "_deg", "_rad", "_pct", "_m", "_g", "_t", "_C", "_F", "_K", "_s", "_min", "_h",
}

// Stem is a field's name without its unit.
func Stem(name string) string {
	for _, u := range unitNames {
		if s, ok := strings.CutSuffix(name, u); ok && s != "" {
			return s
		}
	}
	return name
}

// unknown says what is wrong with a field name that the plan does not have.
func (p *plan) unknown(name string) string {
	for _, f := range p.fields {
		if f.name != Stem(f.name) && strings.EqualFold(Stem(f.name), Stem(name)) {
			return "wrong unit: this figure is given as " + f.name
		}
	}
	for _, f := range p.fields {
		if strings.EqualFold(strings.ReplaceAll(f.name, "_", ""), strings.ReplaceAll(name, "_", "")) {
			return "unknown field; it is written " + f.name
		}
	}
	return "unknown field"
}
