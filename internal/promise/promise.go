// Package promise holds answers against the contract, for tests, by a validator that is not
// ours.
package promise

import (
	"bytes"
	"encoding/json"
	"fmt"
	"mime"
	"regexp"
	"slices"
	"strings"
	"sync"

	"github.com/go-chi/chi/v5"
	"github.com/santhosh-tekuri/jsonschema/v6"

	"zealousknot/internal/web"
)

// A promise is what the contract says of the answers of one operation.
type promise struct {
	method string
	path   *regexp.Regexp
	// plain is how many parts of the path are no parameters.
	plain   int
	answers map[string]*jsonschema.Schema
}

var promises = sync.OnceValues(func() ([]promise, error) {
	api := web.NewAPI(chi.NewRouter())
	web.Register(api, &web.Config{})
	text, err := json.Marshal(api.OpenAPI())
	if err != nil {
		return nil, err
	}
	document, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	if err != nil {
		return nil, err
	}
	compiler := jsonschema.NewCompiler()
	compiler.DefaultDraft(jsonschema.Draft2020)
	compiler.AssertFormat()
	if err := compiler.AddResource("contract.json", document); err != nil {
		return nil, err
	}
	parameter, escape := regexp.MustCompile(`\\\{[^/]+\\\}`), strings.NewReplacer("~", "~0", "/", "~1")
	var list []promise
	for path, methods := range document.(map[string]any)["paths"].(map[string]any) {
		pattern := regexp.MustCompile("^" + parameter.ReplaceAllString(regexp.QuoteMeta(path), "[^/]+") + "$")
		plain := strings.Count(path, "/") - strings.Count(path, "{")
		for method, op := range methods.(map[string]any) {
			p := promise{strings.ToUpper(method), pattern, plain, map[string]*jsonschema.Schema{}}
			for status, response := range op.(map[string]any)["responses"].(map[string]any) {
				p.answers[status] = nil
				contents, _ := response.(map[string]any)["content"].(map[string]any)
				for kind := range contents {
					if !strings.HasSuffix(kind, "json") {
						continue
					}
					at := fmt.Sprintf("contract.json#/paths/%s/%s/responses/%s/content/%s/schema", escape.Replace(path), method, status, escape.Replace(kind))
					if p.answers[status], err = compiler.Compile(at); err != nil {
						return nil, err
					}
				}
			}
			list = append(list, p)
		}
	}
	// A path without parameters comes before one that has them in its place.
	slices.SortFunc(list, func(a, b promise) int { return b.plain - a.plain })
	return list, nil
})

// Broken says how an answer is not as the contract says, "" where it is, or where the
// contract has nothing of its path. Kind is its Content-Type.
func Broken(method, path string, status int, kind string, text []byte) string {
	list, err := promises()
	if err != nil {
		return err.Error()
	}
	i := slices.IndexFunc(list, func(p promise) bool { return p.method == method && p.path.MatchString(path) })
	if i < 0 {
		return ""
	}
	schema, promised := list[i].answers[fmt.Sprint(status)]
	if !promised {
		return fmt.Sprintf("%s %s answers %d, which the contract does not have", method, path, status)
	}
	if kind, _, _ := mime.ParseMediaType(kind); schema == nil || kind != "application/json" && kind != "application/problem+json" {
		return ""
	}
	value, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	if err == nil {
		err = schema.Validate(value)
	}
	if err != nil {
		return fmt.Sprintf("%s %s, %d: not as the contract says: %.600v", method, path, status, err)
	}
	return ""
}
