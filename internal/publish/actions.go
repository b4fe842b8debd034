package publish

import (
	"fmt"
	"strings"

	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/rig"
)

// actions are the tables of a person's actions and moves for the screens.
func actions() []byte {
	var b strings.Builder
	b.WriteString("// Generated from internal/core/manoeuvre by make generate.\nimport type { Action, Mark } from './client'\n\n")
	b.WriteString("/** What an action is called in a list, and what it must be given. */\n")
	b.WriteString("export type ActionRow = { label: string; needs: readonly ('item' | 'strand' | 'span' | 'at' | 'into')[] }\n\n")
	b.WriteString("/** A person's actions. */\nexport const personActions: Record<Action['do'], ActionRow> = {\n")
	for _, a := range manoeuvre.Person {
		quoted := make([]string, len(a.Needs))
		for i, n := range a.Needs {
			quoted[i] = "'" + n + "'"
		}
		fmt.Fprintf(&b, "  '%s': { label: '%s', needs: [%s] },\n", a.Do, a.Label, strings.Join(quoted, ", "))
	}
	b.WriteString("}\n\n")
	b.WriteString("/** The moves that a plan of a person may name. */\nexport const personMoves = [\n")
	passes := map[bool]string{}
	var anywhere []string
	for _, m := range manoeuvre.Moves {
		fmt.Fprintf(&b, "  '%s',\n", m.Name)
		if m.Anywhere {
			anywhere = append(anywhere, "'"+m.Name+"'")
		}
	}
	for _, kind := range []rig.MarkKind{rig.KnotMark, rig.JoinMark, rig.RebelayMark, rig.DeviationMark, rig.DamageMark} {
		for _, up := range []bool{true, false} {
			passes[up] += fmt.Sprintf("'%s': '%s', ", kind, manoeuvre.Past(string(kind), up))
		}
	}
	b.WriteString("] as const\n\n/** Those that nothing has to be in the way of. */\n")
	fmt.Fprintf(&b, "export const anywhere: readonly string[] = [%s]\n\n", strings.Join(anywhere, ", "))
	b.WriteString("/** The move that passes a mark of a kind, up or down. */\n")
	fmt.Fprintf(&b, "export const passes: { up: Record<Mark['kind'], string>; down: Record<Mark['kind'], string> } = {\n  up: { %s },\n  down: { %s },\n}\n",
		strings.TrimSuffix(passes[true], ", "), strings.TrimSuffix(passes[false], ", "))
	return []byte(b.String())
}
