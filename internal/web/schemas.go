package web

import (
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/record"
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

// values stands for figures of which some may be missing.
type values []float64

// Schema says that a figure may be null.
func (values) Schema(huma.Registry) *huma.Schema {
	return &huma.Schema{Type: huma.TypeArray, Items: &huma.Schema{Type: huma.TypeNumber, Nullable: true}}
}

// written adds to the kinds of records that people give those that the program alone writes,
// where a record is read.
func written(r huma.Registry) {
	kind := r.Map()["Content"].Properties["kind"]
	for _, k := range record.Written() {
		kind.Enum = append(kind.Enum, string(k))
	}
}

// ListValues has a registry write the values of the core's types that list them.
func ListValues(r huma.Registry) {
	r.RegisterTypeAlias(reflect.TypeFor[manoeuvre.PersonDo](), reflect.TypeFor[oneOf[manoeuvre.PersonDo]]())
	r.RegisterTypeAlias(reflect.TypeFor[manoeuvre.TeamDo](), reflect.TypeFor[oneOf[manoeuvre.TeamDo]]())
	r.RegisterTypeAlias(reflect.TypeFor[manoeuvre.RescueDo](), reflect.TypeFor[oneOf[manoeuvre.RescueDo]]())
	r.RegisterTypeAlias(reflect.TypeFor[manoeuvre.MoveName](), reflect.TypeFor[oneOf[manoeuvre.MoveName]]())
	r.RegisterTypeAlias(reflect.TypeFor[gear.Class](), reflect.TypeFor[oneOf[gear.Class]]())
	r.RegisterTypeAlias(reflect.TypeFor[manoeuvre.CalledDo](), reflect.TypeFor[oneOf[manoeuvre.CalledDo]]())
	r.RegisterTypeAlias(reflect.TypeFor[check.Values](), reflect.TypeFor[values]())
}
