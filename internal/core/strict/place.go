package strict

import (
	"fmt"
	"reflect"
	"slices"
	"strconv"
	"strings"
)

// A Place is one figure in a value that was read, by its JSON name.
type Place struct {
	// Value is the figure that was read.
	Value float64
	// Set puts another figure there.
	Set func(float64)

	limits *limits
	whole  bool
}

// Wrong says what the limits of the field refuse of a figure; empty: nothing.
func (p *Place) Wrong(f float64) string { return p.limits.wrongFigure(f) }

// Whole reports whether only whole numbers belong there.
func (p *Place) Whole() bool { return p.whole }

// Locate finds a figure in the struct that v points to. Names of fields within
// fields stand behind a dot ("absorber.force_kN"); an entry of a list is named by
// its id or its index, one of a table by its key. A figure that was left out and
// has no default is missing.
func Locate(v any, name string) (*Place, error) {
	value := reflect.ValueOf(v).Elem()
	return locate(value, planOf(value.Type()), nil, strings.Split(name, "."))
}

func locate(v reflect.Value, p *plan, l *limits, path []string) (*Place, error) {
	switch {
	case p.kind == reflect.Pointer && v.IsNil():
		return nil, fmt.Errorf("is not given, so that nothing spreads")
	case p.kind == reflect.Pointer:
		return locate(v.Elem(), p.elem, l, path)
	case p.union:
		i := slices.IndexFunc(p.fields, func(f field) bool { return !v.Field(f.index).IsZero() })
		if i < 0 {
			return nil, fmt.Errorf("is not given, so that nothing spreads")
		}
		return locate(v.Field(p.fields[i].index), p.fields[i].plan, &p.fields[i].limits, path)
	case len(path) == 0 && (p.kind == reflect.Float64 || p.kind == reflect.Int):
		return figurePlace(v, p, l), nil
	case len(path) == 0:
		return nil, fmt.Errorf("is not a figure")
	}
	switch p.kind {
	case reflect.Struct:
		if i, ok := p.names[path[0]]; ok {
			f := &p.fields[i]
			return locate(v.Field(f.index), f.plan, &f.limits, path[1:])
		}
	case reflect.Slice:
		if i := entryOf(v, p, path[0]); i >= 0 {
			return locate(v.Index(i), p.elem, l, path[1:])
		}
	case reflect.Map:
		key := reflect.ValueOf(path[0]).Convert(v.Type().Key())
		if e := v.MapIndex(key); e.IsValid() {
			return locateIn(v, key, e, p, l, path[1:])
		}
	}
	return nil, fmt.Errorf("no field %q", path[0])
}

func figurePlace(v reflect.Value, p *plan, l *limits) *Place {
	if p.kind == reflect.Int {
		return &Place{Value: float64(v.Int()), Set: func(f float64) { v.SetInt(int64(f)) }, limits: l, whole: true}
	}
	return &Place{Value: v.Float(), Set: v.SetFloat, limits: l}
}

// locateIn finds a figure in an entry of a table, which is set as a whole.
func locateIn(table, key, e reflect.Value, p *plan, l *limits, path []string) (*Place, error) {
	entry := reflect.New(e.Type()).Elem()
	entry.Set(e)
	place, err := locate(entry, p.elem, l, path)
	if err != nil {
		return nil, err
	}
	set := place.Set
	place.Set = func(f float64) {
		set(f)
		table.SetMapIndex(key, entry)
	}
	return place, nil
}

// entryOf finds an entry of a list by its id or its index; -1 where there is none.
func entryOf(v reflect.Value, p *plan, name string) int {
	if id, ok := p.elem.names["id"]; ok {
		for i := range v.Len() {
			if v.Index(i).Field(p.elem.fields[id].index).String() == name {
				return i
			}
		}
	}
	if i, err := strconv.Atoi(name); err == nil && i >= 0 && i < v.Len() {
		return i
	}
	return -1
}
