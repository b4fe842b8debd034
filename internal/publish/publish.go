// Package publish makes the files that are generated from the code and kept
// beside it: the API's description, the calc contracts, the JSON Schema and example of the drop
// document, and the list of rules. A test holds the kept files to it.
package publish

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5"

	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/day"
	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/run"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/team"
	"zealousknot/internal/demo"
	"zealousknot/internal/web"
)

// Files gives every generated file by its path from the top of the project, which is at
// root.
func Files(root string) (map[string][]byte, error) {
	contracts, err := calcDoc()
	if err != nil {
		return nil, err
	}
	house, err := architecture(root)
	if err != nil {
		return nil, err
	}
	files := map[string][]byte{"docs/rules.md": rules(), "docs/roles.md": roles(), "docs/formats/calc.md": contracts, "docs/architecture.md": house, "web/src/api/actions.ts": actions(), "web/src/api/glossary.ts": terms(), "web/src/api/figures.ts": quickFigures(), "web/src/api/titles.ts": idTitles(), "web/src/api/knots.ts": tiedKnots(), "web/src/api/icons.ts": iconPaths(), "web/src/api/practice.ts": practice(), "web/src/api/defaults.ts": defaults(), "docs/glossary.md": glossaryPage()}
	for path, make := range map[string]func() (any, error){
		"docs/formats/openapi.json":            openAPI,
		"docs/formats/drop.schema.json":        dropSchema,
		"docs/formats/plan.schema.json":        planSchema,
		"docs/formats/team-plan.schema.json":   teamPlanSchema,
		"docs/formats/rescue-plan.schema.json": rescuePlanSchema,
		"docs/formats/run.schema.json":         runSchema,
		"docs/formats/day.schema.json":         daySchema,
		"docs/formats/exercise.schema.json":    exerciseSchema,
		"docs/formats/mark.schema.json":        markSchema,
		"web/public/practice.json":             func() (any, error) { return demo.Gear(), nil },
		"docs/formats/run.example.json":        func() (any, error) { return demo.Run(), nil },
		"docs/formats/drop.example.json":       func() (any, error) { return demo.Drops()["face-4"], nil },
	} {
		v, err := make()
		if err != nil {
			return nil, err
		}
		if files[path], err = indent(v); err != nil {
			return nil, err
		}
	}
	return files, nil
}

func indent(v any) ([]byte, error) {
	var b bytes.Buffer
	e := json.NewEncoder(&b)
	e.SetEscapeHTML(false)
	e.SetIndent("", "  ")
	err := e.Encode(v)
	return b.Bytes(), err
}

func openAPI() (any, error) {
	api := web.NewAPI(chi.NewRouter())
	web.Register(api, &web.Config{})
	return api.OpenAPI(), nil
}

// dropSchema is the JSON Schema of the drop document, from the same types and
// tags that the strict reader and the API use.
func dropSchema() (any, error) {
	return schemaOf[drop.Document]("Zealous Knot drop document",
		"One drop with everything needed to check it. Units are in the names of the fields. Names must lead somewhere: see docs/formats/README.md."), nil
}

// planSchema is that of a plan of a move, which "replay" reads too.
func planSchema() (any, error) {
	return schemaOf[moves.Plan]("Zealous Knot plan of a move",
		"A move that was found: every step with the stance after it and what one failure would do. With its drop document it can be replayed: see docs/formats/README.md."), nil
}

// teamPlanSchema is that of a plan of a team's move, which "team --list" reads too.
func teamPlanSchema() (any, error) {
	return schemaOf[team.Plan]("Zealous Knot plan of a team's move",
		"A move of a team that was found: every step with its call, whose hands do it, the state after it and what one failure would do. With its drop document it can be walked again: see docs/formats/README.md."), nil
}

// rescuePlanSchema is that of a plan of a pick-off.
func rescuePlanSchema() (any, error) {
	return schemaOf[pair.Plan]("Zealous Knot plan of a rescue",
		"A pick-off that was found: every step with the pair of rescuer and casualty after it and what one failure would do. Its actions can be asked for again as steps of POST /api/v1/rescue."), nil
}

// exerciseSchema is that of an exercise, with or without its answers.
func exerciseSchema() (any, error) {
	return schemaOf[drill.Exercise]("Zealous Knot exercise",
		"Something to practise: faults to find, what would happen, a move to do, or models to tell apart. The same seed makes the same exercise: see docs/formats/README.md."), nil
}

// markSchema is that of a marked answer.
func markSchema() (any, error) {
	return schemaOf[drill.Mark]("Zealous Knot mark", "What an answer to an exercise is worth, and what the rules say of it."), nil
}

// runSchema is that of a run with its events.
func runSchema() (any, error) {
	return schemaOf[run.Document]("Zealous Knot run",
		"What happened between the release of a plan and its putting away, as events in any order. Its state is a fold over them: see docs/formats/README.md."), nil
}

func daySchema() (any, error) {
	return schemaOf[day.Asked]("Zealous Knot day",
		"The board of a day with its drops, people and policy, as zealousknot day reads it. The board alone is what the server keeps."), nil
}

func schemaOf[T any](title, description string) any {
	const prefix = "#/$defs/"
	registry := huma.NewMapRegistry(prefix, web.SchemaName)
	web.ListValues(registry)
	top := registry.Schema(reflect.TypeFor[T](), true, "")
	defs := map[string]any{}
	for name, s := range registry.Map() {
		defs[name] = s
	}
	return map[string]any{
		"$schema":     "https://json-schema.org/draft/2020-12/schema",
		"title":       title,
		"description": description,
		"$ref":        top.Ref,
		"$defs":       defs,
	}
}

func severities(list []finding.Severity) string {
	var words []string
	for _, s := range list {
		words = append(words, string(s))
	}
	return strings.Join(words, " or ")
}

func rules() []byte {
	var b strings.Builder
	b.WriteString("# Rules\n\nGenerated from the code by `make generate`. A team's policy may raise a severity, never lower one.\n\n| id | severity | fires when |\n| --- | --- | --- |\n")
	for _, r := range fit.Rules {
		fmt.Fprintf(&b, "| `%s` | %s | %s |\n", r.ID, severities(r.Gives), r.Fires)
	}
	b.WriteString("\nOn stances and steps of moves. From a stance that is in breach already `points.two` is a look where a step makes it no worse.\n\n| id | severity | fires when |\n| --- | --- | --- |\n")
	for _, r := range stance.Rules {
		fmt.Fprintf(&b, "| `%s` | %s | %s |\n", r.ID, r.Gives, r.Fires)
	}
	b.WriteString("\nOn a team's rig and its steps.\n\n| id | severity | fires when |\n| --- | --- | --- |\n")
	for _, r := range team.Rules {
		fmt.Fprintf(&b, "| `%s` | %s | %s |\n", r.ID, r.Gives, r.Fires)
	}
	b.WriteString("\nOn a team's rig as it is built, beside the rules on holds, which look at its brakes too.\n\n| id | severity | fires when |\n| --- | --- | --- |\n")
	for _, r := range team.RigRules {
		fmt.Fprintf(&b, "| `%s` | %s | %s |\n", r.ID, r.Gives, r.Fires)
	}
	b.WriteString("\nOn a rescuer and a casualty as a pair, beside those on each body.\n\n| id | severity | fires when |\n| --- | --- | --- |\n")
	for _, r := range append(slices.Clone(pair.Rules), cover.Rules...) {
		fmt.Fprintf(&b, "| `%s` | %s | %s |\n", r.ID, r.Gives, r.Fires)
	}
	b.WriteString("\nOn an evacuation with a sealed kit, a last resort.\n\n| id | severity | fires when |\n| --- | --- | --- |\n")
	for _, r := range cover.EvacuationRules {
		fmt.Fprintf(&b, "| `%s` | %s | %s |\n", r.ID, r.Gives, r.Fires)
	}
	b.WriteString("\nOn a day's board.\n\n| id | severity | fires when |\n| --- | --- | --- |\n")
	for _, r := range day.Rules {
		fmt.Fprintf(&b, "| `%s` | %s | %s |\n", r.ID, severities(r.Gives), r.Fires)
	}
	fmt.Fprintf(&b, "| `%s` | look | while a rescuer of several drops is at one, another is covered less |\n", day.CoverRule)
	b.WriteString("\nOn a callout, where none of them blocks.\n\n| id | severity | fires when |\n| --- | --- | --- |\n")
	for _, r := range callout.Rules {
		fmt.Fprintf(&b, "| `%s` | %s | %s |\n", r.ID, r.Gives, r.Fires)
	}
	return []byte(b.String())
}

// roles is who may do what, from the one table in the code.
func roles() []byte {
	var b strings.Builder
	b.WriteString("# Who may do what\n\nGenerated from the code (`internal/web/rights.go`) by `make generate`; a test tries every operation with every role. One may have several roles.\n\n")
	rightsTable(&b, "operation", web.Rights)
	kinds := map[string]web.Right{}
	for k, r := range web.KindRights {
		kinds[string(k)] = r
	}
	b.WriteString("\nRecords, by kind:\n\n")
	rightsTable(&b, "record", kinds)
	return []byte(b.String())
}

func rightsTable(b *strings.Builder, first string, rights map[string]web.Right) {
	fmt.Fprintf(b, "| %s | %s | and |\n| --- |%s --- |\n", first, strings.Join(web.Roles, " | "), strings.Repeat(" --- |", len(web.Roles)))
	for _, id := range slices.Sorted(maps.Keys(rights)) {
		r := rights[id]
		fmt.Fprintf(b, "| `%s` |", id)
		for _, role := range web.Roles {
			mark := " "
			if r.Has([]web.Role{role}) {
				mark = "yes"
			}
			fmt.Fprintf(b, " %s |", mark)
		}
		also := r.Own
		if r.Open {
			also = "without signing in"
		}
		fmt.Fprintf(b, " %s |\n", also)
	}
}
