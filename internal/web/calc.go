package web

import (
	"context"
	"net/http"
	"reflect"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/calc"
	"zealousknot/internal/core/mechanics"
)

type answerOut struct {
	Body *calc.Answer
}

// registerCalc declares an operation for each figure.
func registerCalc(api huma.API) {
	r := api.OpenAPI().Components.Schemas
	travel(r)
	for _, c := range calc.All {
		title := strings.ToUpper(c.Name[:1]) + c.Name[1:]
		in := []reflect.Type{c.In, reflect.TypeFor[calc.Options]()}
		if c.HasCourse {
			in = append(in, reflect.TypeFor[calc.CourseOption]())
		}
		o := operation(http.MethodPost, "calc-"+c.Name, "/calc/"+c.Name, "Compute: "+c.Does)
		o.Responses = map[string]*huma.Response{"200": {Description: "OK", Content: map[string]*huma.MediaType{
			"application/json": {Schema: joined(r, title+"Answer", c.Out, reflect.TypeFor[calc.Extras]())},
		}}}
		withSchema(api, o, joined(r, title+"Request", in...), func(ctx context.Context, in *rawIn) (*answerOut, error) {
			answer, err := c.Run(in.RawBody)
			if err != nil {
				return nil, failed(ctx, err)
			}
			return &answerOut{answer}, nil
		})
	}
}

// joined is the schema of one object with the fields of several structs.
func joined(r huma.Registry, name string, types ...reflect.Type) *huma.Schema {
	all := &huma.Schema{Type: huma.TypeObject, Properties: map[string]*huma.Schema{}, AdditionalProperties: false}
	for _, t := range types {
		s := r.Schema(t, true, "")
		if s.Ref != "" {
			s = r.SchemaFromRef(s.Ref)
		}
		for field, schema := range s.Properties {
			all.Properties[field] = schema
		}
		all.Required = append(all.Required, s.Required...)
	}
	slices.Sort(all.Required)
	r.Map()[name] = all
	return &huma.Schema{Ref: "#/components/schemas/" + name}
}

// travel is the schema of a union that the generator does not know.
func travel(r huma.Registry) {
	s := r.SchemaFromRef(r.Schema(reflect.TypeFor[mechanics.Travel](), true, "").Ref)
	each, by := s.Properties["each"], s.Properties["by"]
	each.Nullable = false
	*s = huma.Schema{OneOf: []*huma.Schema{each, by}, Description: "for each grab by its name, or one length for all"}
}
