package scenario

import (
	"reflect"
	"time"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/demo"
	"zealousknot/internal/store"
)

// checkedAgo is how long ago the checks of a scenario that plays today were made: they count for
// a shift, and somebody who looks in the evening still finds them.
const checkedAgo = 2 * time.Hour

// Move shifts every day of a scenario by as much as its own day is from another. What would
// have been signed after now was signed now; the checks of today two hours ago.
func Move(sc *store.Scenario, to gear.Date, now time.Time) {
	from, _ := demo.Day.Time()
	until, ok := to.Time()
	if !ok || from.Equal(until) {
		return
	}
	m := mover{by: until.Sub(from), days: int(until.Sub(from).Hours() / 24), moved: map[*gear.Date]bool{}}
	m.value(reflect.ValueOf(sc).Elem())
	for i := range sc.Signed {
		e := &sc.Signed[i].Entry
		if t, err := time.Parse(time.RFC3339, e.GivenAt); err == nil {
			check := e.Check != nil || e.Partner != nil || e.Worn != nil
			switch t = t.Add(m.by); {
			case t.After(now):
				t = now
			case check && now.Sub(t) > checkedAgo && now.Sub(t) < 24*time.Hour:
				// In their order.
				t = now.Add(time.Duration(i)*time.Second - checkedAgo)
			}
			e.GivenAt = t.UTC().Format(time.RFC3339)
		}
	}
}

// A mover shifts days. Several documents may share one: it is moved once.
type mover struct {
	by    time.Duration
	days  int
	moved map[*gear.Date]bool
}

var dates = reflect.TypeFor[gear.Date]()

func (m *mover) value(v reflect.Value) {
	switch {
	case v.Type() == dates:
		d := v.Addr().Interface().(*gear.Date)
		if *d != "" && !m.moved[d] {
			m.moved[d] = true
			*d = d.AddDays(m.days)
		}
	case v.Kind() == reflect.Pointer && !v.IsNil():
		m.value(v.Elem())
	case v.Kind() == reflect.Struct:
		for i := range v.NumField() {
			if v.Type().Field(i).IsExported() {
				m.value(v.Field(i))
			}
		}
	case v.Kind() == reflect.Slice:
		for i := range v.Len() {
			m.value(v.Index(i))
		}
	case v.Kind() == reflect.Map:
		for _, key := range v.MapKeys() {
			if e := v.MapIndex(key); e.Kind() == reflect.Pointer {
				m.value(e)
			}
		}
	}
}
