package gear

import (
	"fmt"
	"reflect"
	"slices"
	"strings"

	"zealousknot/internal/core/quantity"
)

// Row is one line of a comparison: what is compared and what each model says.
type Row struct {
	Label   string   `json:"label"`
	Values  []string `json:"values" doc:"one a model; empty where it says nothing"`
	Differs bool     `json:"differs"`
}

// Compare puts models side by side: every figure and word of each, the rows in
// which they differ first.
func Compare(models []*Model) []Row {
	rows := []Row{}
	index := map[string]int{}
	for i, m := range models {
		flatten("", reflect.ValueOf(*m), func(label, value string) {
			at, ok := index[label]
			if !ok {
				at = len(rows)
				index[label] = at
				rows = append(rows, Row{Label: label, Values: make([]string, len(models))})
			}
			rows[at].Values[i] = value
		})
	}
	for i := range rows {
		rows[i].Differs = slices.ContainsFunc(rows[i].Values, func(v string) bool { return v != rows[i].Values[0] })
	}
	slices.SortStableFunc(rows, func(a, b Row) int {
		switch {
		case a.Differs == b.Differs:
			return 0
		case a.Differs:
			return -1
		default:
			return 1
		}
	})
	return rows
}

// flatten walks a value and emits every leaf with its label. Things of a list
// that have a name are labelled by it, the others are joined into one leaf.
func flatten(label string, v reflect.Value, emit func(label, value string)) {
	if s, ok := v.Interface().(fmt.Stringer); ok && v.Kind() == reflect.Struct {
		emit(label, s.String())
		return
	}
	switch v.Kind() {
	case reflect.Pointer:
		if !v.IsNil() {
			flatten(label, v.Elem(), emit)
		}
	case reflect.Struct:
		for i := range v.NumField() {
			name, _, _ := strings.Cut(v.Type().Field(i).Tag.Get("json"), ",")
			if name == "id" || name == "name" && label != "" {
				continue
			}
			flatten(join(label, words(name)), v.Field(i), emit)
		}
	case reflect.Slice:
		flattenList(label, v, emit)
	default:
		if text := leaf(v); text != "" {
			emit(label, text)
		}
	}
}

func flattenList(label string, v reflect.Value, emit func(label, value string)) {
	if modes, ok := v.Interface().([]Mode); ok {
		flattenModes(modes, emit)
		return
	}
	var parts []string
	for i := range v.Len() {
		parts = append(parts, fmt.Sprint(v.Index(i).Interface()))
	}
	if parts != nil {
		emit(label, strings.Join(parts, ", "))
	}
}

// flattenModes labels modes by the persons they are rated for, since every maker
// has other names for them; further modes for as many persons by their names.
func flattenModes(modes []Mode, emit func(label, value string)) {
	seen := map[int]bool{}
	for _, m := range modes {
		label := map[int]string{1: "for one person", 2: "for two persons"}[m.Persons]
		if seen[m.Persons] {
			label += ", " + m.Name
		} else {
			emit(label+", mode", m.Name)
		}
		seen[m.Persons] = true
		flatten(label, reflect.ValueOf(m), func(l, value string) {
			if l != label+", persons" {
				emit(l, value)
			}
		})
	}
}

func (p Position) String() string {
	if p.Parked {
		return p.Name + " (parked)"
	}
	return fmt.Sprintf("%s (%s)", p.Name, p.HandsOff)
}

func leaf(v reflect.Value) string {
	if v.IsZero() {
		return ""
	}
	if v.Kind() == reflect.Bool {
		return "yes"
	}
	if q, ok := v.Interface().(quantity.Quantity); ok {
		return quantity.Text(q)
	}
	return fmt.Sprint(v.Interface())
}

func join(label, name string) string {
	switch label {
	case "", "device", "rope", "backup", "pulley", "winding", "connector", "harness", "hitch", "evacuation":
		return name
	}
	return label + ", " + name
}

// words turns a field's name into words, its unit left off.
func words(name string) string {
	for _, unit := range []string{"_m_s", "_g_per_m", "_kN", "_kg", "_mm", "_pct", "_m", "_g", "_C", "_J_kgK", "_W_K"} {
		if s, ok := strings.CutSuffix(name, unit); ok {
			name = s
			break
		}
	}
	return strings.ReplaceAll(name, "_", " ")
}

func (r RopeRange) String() string {
	list := make([]string, len(r.Constructions))
	for i, c := range r.Constructions {
		list[i] = string(c)
	}
	return fmt.Sprintf("%s %v to %v", strings.Join(list, " or "), r.MinMM, r.MaxMM)
}

func (t TeethLimit) String() string { return fmt.Sprintf("%v on %v", t.HarmKN, t.DiameterMM) }

func (a AllowedLink) String() string { return fmt.Sprintf("%s up to %v", a.Model, a.MaxM) }

func (w WearLimit) String() string { return fmt.Sprintf("%s %v", w.Part, w.LimitMM) }

func (w WorkingLoad) String() string {
	if w.Mode == "" {
		return w.Limit().String()
	}
	return fmt.Sprintf("%v in mode %s", w.Limit(), w.Mode)
}

func (p HarnessPoint) String() string {
	if p.FallArrest {
		return string(p.Point) + " (A)"
	}
	return string(p.Point)
}

func (e RopeEffect) String() string {
	s := string(e.Condition) + ": " + strings.ReplaceAll(e.Change, "-", " ")
	if e.ParkNeedsPush {
		s += ", park needs a push"
	}
	return s
}
