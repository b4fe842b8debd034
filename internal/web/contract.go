package web

import (
	"encoding/json"
	"maps"
	"regexp"

	"github.com/danielgtaylor/huma/v2"
)

// sessionCookie has the session of who is signed in.
const sessionCookie = "zealousknot"

// The ways to say who one is.
const (
	bySession = "session"
	byToken   = "device-token"
)

// describe says in the contract how one signs in and what for, and leaves out what no operation
// uses; called when all operations are declared.
func describe(api huma.API) error {
	o := api.OpenAPI()
	o.Servers = []*huma.Server{{URL: "/", Description: "the server that gives this document"}}
	o.Components.SecuritySchemes = map[string]*huma.SecurityScheme{
		bySession: {Type: "apiKey", In: "cookie", Name: sessionCookie, Description: "set by signing in"},
		byToken:   {Type: "http", Scheme: "bearer", Description: "a token that a supervisor makes for a device of a run"},
	}
	for _, path := range o.Paths {
		for _, op := range []*huma.Operation{path.Get, path.Post, path.Put, path.Delete, path.Patch} {
			if op != nil {
				op.Security = securityOf(op.OperationID)
			}
		}
	}
	written(o.Components.Schemas)
	return prune(o)
}

func securityOf(id string) []map[string][]string {
	right, _ := RightOf(id)
	switch {
	case id == "send-readings":
		return []map[string][]string{{byToken: {}}}
	case right.Open:
		// The empty object: nobody need be signed in.
		return []map[string][]string{{}}
	}
	return []map[string][]string{{bySession: {}}}
}

var references = regexp.MustCompile(`"#/components/schemas/([^"]+)"`)

// prune takes away the schemas that no operation leads to: those of parts whose fields were put
// together into one object.
func prune(o *huma.OpenAPI) error {
	used := map[string]bool{}
	schemas := o.Components.Schemas.Map()
	var reach func(v any) error
	reach = func(v any) error {
		text, err := json.Marshal(v)
		if err != nil {
			return err
		}
		for _, found := range references.FindAllSubmatch(text, -1) {
			name := string(found[1])
			if used[name] {
				continue
			}
			used[name] = true
			if err := reach(schemas[name]); err != nil {
				return err
			}
		}
		return nil
	}
	if err := reach(o.Paths); err != nil {
		return err
	}
	maps.DeleteFunc(schemas, func(name string, _ *huma.Schema) bool { return !used[name] })
	return nil
}
