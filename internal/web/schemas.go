package web

import (
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
)

// oneOf stands for a type of the core that lists its values itself, where a schema is made.
type oneOf[T interface{ Enum() []string }] string

// Schema names the values.
func (oneOf[T]) Schema(huma.Registry) *huma.Schema {
	s := &huma.Schema{Type: huma.TypeString}
	for _, v := range (*new(T)).Enum() {
		s.Enum = append(s.Enum, v)
	}
	return s
}

// ListValues has a registry write the values of the core's types that list them.
func ListValues(r huma.Registry) {
	r.RegisterTypeAlias(reflect.TypeFor[manoeuvre.PersonDo](), reflect.TypeFor[oneOf[manoeuvre.PersonDo]]())
	r.RegisterTypeAlias(reflect.TypeFor[manoeuvre.TeamDo](), reflect.TypeFor[oneOf[manoeuvre.TeamDo]]())
	r.RegisterTypeAlias(reflect.TypeFor[manoeuvre.RescueDo](), reflect.TypeFor[oneOf[manoeuvre.RescueDo]]())
	r.RegisterTypeAlias(reflect.TypeFor[manoeuvre.MoveName](), reflect.TypeFor[oneOf[manoeuvre.MoveName]]())
	r.RegisterTypeAlias(reflect.TypeFor[gear.Class](), reflect.TypeFor[oneOf[gear.Class]]())
	r.RegisterTypeAlias(reflect.TypeFor[manoeuvre.CalledDo](), reflect.TypeFor[oneOf[manoeuvre.CalledDo]]())
}
