package web

import (
	"context"
	"encoding/json"
	"net/url"
	"reflect"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/day"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/propose"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/picture"
)

// env is what the core may ask for of the team that is signed in.
func (c *Config) env(ctx context.Context) ask.Env {
	if c.Store == nil {
		return ask.Env{}
	}
	team := who(ctx).Team
	return ask.Env{
		Rescues: c.Store.Rescues,
		Store:   func(ctx context.Context) (*drop.Store, error) { return c.Store.Gear(ctx, team.ID) },
		Stock: func(ctx context.Context, d *drop.Document, id string) (propose.Stock, error) {
			return c.Store.Stock(ctx, team, d, id)
		},
		People: func(ctx context.Context) ([]rig.Member, error) { return c.Store.People(ctx, team.ID) },
		Day:    func(ctx context.Context, a *day.Asked) error { return c.Store.Gather(ctx, team, a) },
	}
}

// questions are those that are asked of the server: the page's, and those about whole days.
func questions() []ask.Question { return append(picture.Questions(), ask.OfServer()...) }

// registerQuestions declares an operation for each question that the core answers; nothing
// is kept.
func (c *Config) registerQuestions(api huma.API) {
	r := api.OpenAPI().Components.Schemas
	travel(r)
	for _, q := range questions() {
		o := operation(q.Method, q.ID, q.Path, q.Summary)
		o.Responses = map[string]*huma.Response{"200": {Description: "OK", Content: map[string]*huma.MediaType{"application/json": {Schema: schemaOf(r, &q, "Answer", q.Answer)}}}}
		options := fieldsOf(q.Options)
		o.SkipValidateParams = len(options) > 0 // the question's reader does
		for _, f := range options {
			o.Parameters = append(o.Parameters, parameter(r, f))
		}
		answer := func(ctx context.Context, chosen, request []byte) (any, error) {
			found, err := q.Ask(ctx, c.env(ctx), chosen, request)
			if err != nil {
				return nil, failed(ctx, err)
			}
			return found, nil
		}
		switch {
		case q.Request == nil:
			huma.Register(api, o, func(ctx context.Context, _ *struct{}) (*answerOut, error) {
				found, err := answer(ctx, nil, nil)
				return &answerOut{found}, err
			})
		case q.Heavy:
			registerHeavy(api, c, o, options, schemaOf(r, &q, "Request", q.Request), answer)
		default:
			withSchema(api, o, schemaOf(r, &q, "Request", q.Request), func(ctx context.Context, in *askedIn) (*answerOut, error) {
				found, err := answer(ctx, in.options(options), in.RawBody)
				return &answerOut{found}, err
			})
		}
	}
}

type answerOut struct{ Body any }

// askedIn is a request with what its address says besides.
type askedIn struct {
	RawBody []byte
	query   url.Values
}

// Resolve keeps what the address says, which only the question knows how to read.
func (in *askedIn) Resolve(ctx huma.Context) []error {
	u := ctx.URL()
	in.query = u.Query()
	return nil
}

// options are those that the address has, as JSON: the question's reader refuses what they
// cannot be.
func (in *askedIn) options(fields []reflect.StructField) []byte {
	given := map[string]any{}
	for name := range in.query {
		v := in.query.Get(name)
		i := slices.IndexFunc(fields, func(f reflect.StructField) bool { return jsonName(f) == name })
		switch {
		case i >= 0 && v == "":
		case i >= 0 && fields[i].Type.Kind() == reflect.Bool && (v == "true" || v == "false"):
			given[name] = v == "true"
		default:
			given[name] = v
		}
	}
	if len(given) == 0 {
		return nil
	}
	text, _ := json.Marshal(given) // words and answers only
	return text
}

func fieldsOf(t reflect.Type) []reflect.StructField {
	if t == nil {
		return nil
	}
	return reflect.VisibleFields(t)
}

func jsonName(f reflect.StructField) string {
	name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
	return name
}

// parameter declares an option as a part of an address.
func parameter(r huma.Registry, f reflect.StructField) *huma.Param {
	s, explode := huma.SchemaFromField(r, f, ""), false
	doc := s.Description
	return &huma.Param{Name: jsonName(f), In: "query", Description: doc, Explode: &explode, Schema: s}
}

// schemaOf is the schema of a type, or of one object with the fields of several.
func schemaOf(r huma.Registry, q *ask.Question, what string, types []reflect.Type) *huma.Schema {
	if len(types) == 1 {
		return r.Schema(types[0], true, "")
	}
	name := strings.TrimPrefix(q.ID, "calc-")
	return joined(r, strings.ToUpper(name[:1])+name[1:]+what, types...)
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
