package publish

import (
	"encoding/json"
	"fmt"
	"strings"

	"zealousknot/internal/core/calc"
	"zealousknot/internal/core/care"
	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/glossary"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/record"
	"zealousknot/internal/picture"
)

// typed writes tables of the core for the screens.
func typed(head string, tables ...table) []byte {
	var b strings.Builder
	b.WriteString("// Generated from internal/core by make generate.\n" + head)
	for _, t := range tables {
		text, err := json.MarshalIndent(t.value, "", "  ")
		if err != nil {
			panic(err) // texts alone
		}
		fmt.Fprintf(&b, "\n/** %s */\nexport const %s: %s = %s\n", t.says, t.name, t.of, text)
	}
	return []byte(b.String())
}

// table is one of them: what it says of itself, its name, its type, and its value.
type table struct {
	says, name, of string
	value          any
}

func terms() []byte {
	return typed("\n/** A word as the program uses it, and other names of the same thing. */\nexport type Term = { word: string; means: string; also?: string[] }\n",
		table{"The words of the job, by the alphabet.", "glossary", "Term[]", glossary.Terms})
}

func figureTitles() map[string]string {
	titles := map[string]string{}
	for _, c := range calc.All {
		titles[c.Name] = c.Does
	}
	return titles
}

func idTitles() []byte {
	return typed("", table{"What people read in place of the id of a proof.", "proofTitles", "Record<string, string>", procedure.Titles},
		table{"What people read in place of the id of a point of an examination.", "pointTitles", "Record<string, string>", care.PointTitles},
		table{"The figures that can be computed by themselves, by name.", "figureTitles", "Record<string, string>", figureTitles()},
		table{"The kinds of record that a later one may correct.", "correctable", "string[]", record.Correctable()})
}

// practice is what the screens of practice choose from.
func practice() []byte {
	return typed("\n/** A fault that one may point at, by its words. */\nexport type What = { what: string; rule: string; at?: string[] }\n\n/** Something that is forgotten between two trainings. */\nexport type Skill = { id: string; title: string; rescue?: boolean; screen?: boolean; of?: string }\n",
		table{"The faults of a rig.", "rigFaults", "What[]", drill.Whats()},
		table{"The faults of a person's steps.", "stepFaults", "What[]", drill.StepWhats(false)},
		table{"The faults of a team's steps.", "teamStepFaults", "What[]", drill.StepWhats(true)},
		table{"The skills that are kept.", "skills", "Skill[]", manoeuvre.Skills})
}

// defaults are figures of the policy as shipped that the page counts with by itself.
func defaults() []byte {
	return typed("", table{"How long checks count, in hours, where a team's policy says nothing of it.", "shiftH", "number", policy.Default().Day.CheckH})
}

// tiedKnots are the knots that a word of the glossary or a step of a move has a picture of.
func tiedKnots() []byte {
	words, steps := map[string]string{}, map[string]string{}
	for _, k := range picture.Knots {
		words[k.Term] = k.ID
		for _, s := range k.Steps {
			steps[s] = k.ID
		}
	}
	return typed("", table{"The knot of a word of the glossary, by its id.", "termKnots", "Record<string, string>", words},
		table{"The knot that an action of a person's moves ties.", "stepKnots", "Record<string, string>", steps})
}

// iconPaths are the small outlines of things, as paths in a box of 270 by 320.
func iconPaths() []byte {
	type stroke struct {
		Path  string  `json:"path"`
		Ink   string  `json:"ink"`
		Width float64 `json:"width"`
	}
	icons := map[string][]stroke{}
	for name, d := range picture.Icons() {
		for _, s := range d.Shapes {
			icons[name] = append(icons[name], stroke{s.Path, string(s.Ink), s.Width})
		}
	}
	return typed("\nexport type Stroke = { path: string; ink: string; width: number }\n",
		table{"The outline of a thing in a box of 270 by 320, by its class or by the way of its rope.", "icons", "Record<string, Stroke[]>", icons},
		table{"What a proof does, in a box of 132 by 120, by its sign.", "signs", "Record<string, string>", picture.Signs})
}

// glossaryPage is the glossary to read.
func glossaryPage() []byte {
	var b strings.Builder
	b.WriteString("# Glossary\n\nGenerated from `internal/core/glossary` by `make generate`. One word stands for one thing, in the code, on the screens and in files.\n\n| word | means | also called |\n| --- | --- | --- |\n")
	for _, t := range glossary.Terms {
		fmt.Fprintf(&b, "| **%s** | %s | %s |\n", t.Word, t.Means, strings.Join(t.Also, ", "))
	}
	return []byte(b.String())
}
