package drop_test

import (
	"encoding/json"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
)

// newer are rules that version 1 documents may trip since they were kept; gone those
// whose findings may have gone, by what was mended.
var (
	// The load of a team's line is counted with the rope that hangs beside it: load.margin.
	newer = []string{"check.due", "edge.bare", "hands.gloves", "load.margin", "rescue.slow", "team.kit", "team.knot"}
	// On a casualty's own strands a rescuer's descender goes onto the backup strand: a knot
	// in the main alone is then passed.
	gone = []string{"rescue.uncovered"}
)

// The first documents of version 1 are read for ever. Their findings differ from those
// of then by the rules that are listed, and by nothing else.
func TestFirstDocuments(t *testing.T) {
	read := func(name string) []byte {
		text, err := os.ReadFile(filepath.Join("testdata", "v1", name+".json"))
		if err != nil {
			t.Fatal(err)
		}
		return text
	}
	var then map[string][]string
	if err := json.Unmarshal(read("findings"), &then); err != nil || len(then) < 8 {
		t.Fatal(err, len(then))
	}
	for name, was := range then {
		d, err := drop.Read(read(name))
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		report, err := check.Drop(t.Context(), d, nil, check.FindingsOnly)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		var is []string
		for _, f := range report.Findings {
			is = append(is, string(f.Severity)+" "+f.Rule+" "+f.Subject.ID)
		}
		for _, f := range is {
			if !slices.Contains(was, f) && !slices.Contains(newer, strings.Fields(f)[1]) {
				t.Errorf("%s: %q is found, and was not", name, f)
			}
		}
		for _, f := range was {
			if !slices.Contains(is, f) && !slices.Contains(gone, strings.Fields(f)[1]) {
				t.Errorf("%s: %q was found, and is not", name, f)
			}
		}
	}
}
