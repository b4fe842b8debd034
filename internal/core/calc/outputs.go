package calc

import (
	"math"
	"reflect"
	"slices"
	"strconv"
	"strings"
)

// output is one numeric output, by the name under which its band is given.
type output struct {
	name string
	get  func(reflect.Value) float64
	// mayBeNone is set where no figure stands for one without bound.
	mayBeNone bool
}

func elem(out any) reflect.Value { return reflect.ValueOf(out).Elem() }

// outputs lists the numeric outputs of the struct that out points to. Those
// within others are named with dots: "shared.peak_kN", "pulleys_kN.A"; an entry
// of a list by its id, else its index. The order is always the same.
func outputs(out any) []output {
	return walk(nil, elem(out), "", func(v reflect.Value) reflect.Value { return v }, false)
}

// walk adds the outputs within v, which at finds in the whole.
func walk(list []output, v reflect.Value, name string, at func(reflect.Value) reflect.Value, none bool) []output {
	switch v.Kind() {
	case reflect.Float64:
		return append(list, output{name, func(w reflect.Value) float64 { return at(w).Float() }, none})
	case reflect.Int:
		return append(list, output{name, func(w reflect.Value) float64 { return float64(at(w).Int()) }, none})
	case reflect.Pointer:
		if v.Type().Elem().Kind() != reflect.Float64 {
			return list
		}
		return append(list, output{name, func(w reflect.Value) float64 {
			if p := at(w); !p.IsNil() {
				return p.Elem().Float()
			}
			return math.Inf(1)
		}, true})
	case reflect.Struct:
		return walkFields(list, v, name, at, none)
	case reflect.Slice:
		for i := range v.Len() {
			list = walk(list, v.Index(i), dotted(name, entryName(v.Index(i), i)), func(w reflect.Value) reflect.Value { return at(w).Index(i) }, none)
		}
	case reflect.Map:
		keys := v.MapKeys()
		slices.SortStableFunc(keys, func(a, b reflect.Value) int { return strings.Compare(a.String(), b.String()) })
		for _, key := range keys {
			list = walk(list, v.MapIndex(key), dotted(name, key.String()), func(w reflect.Value) reflect.Value { return at(w).MapIndex(key) }, none)
		}
	}
	return list
}

func walkFields(list []output, v reflect.Value, name string, at func(reflect.Value) reflect.Value, none bool) []output {
	for i := range v.NumField() {
		f := v.Type().Field(i)
		field := func(w reflect.Value) reflect.Value { return at(w).Field(i) }
		tag, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		switch {
		case f.Anonymous && tag == "":
			list = walk(list, v.Field(i), name, field, none)
		case f.IsExported() && tag != "" && tag != "-" && tag != "index":
			list = walk(list, v.Field(i), dotted(name, tag), field, none)
		}
	}
	return list
}

// entryName is how an entry of a list is named.
func entryName(v reflect.Value, i int) string {
	if v.Kind() == reflect.Struct {
		if f := v.FieldByName("ID"); f.IsValid() && f.Kind() == reflect.String {
			return f.String()
		}
	}
	return strconv.Itoa(i)
}

func dotted(name, part string) string {
	if name == "" {
		return part
	}
	return name + "." + part
}
