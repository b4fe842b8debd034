package check_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/corpus"
	"zealousknot/internal/demo"
)

// Reports on made-up drops, and on the demo's with one value changed, are what they were:
// figures, findings, checks and curves.
func TestCorpus(t *testing.T) {
	var lines []string
	add := func(name string, d *drop.Document) {
		d.Rescue = nil // has its own tests, and takes long
		report, err := check.Drop(t.Context(), d, nil, check.Detail{Figures: true, Checks: true, Curves: len(lines)%8 == 0})
		if err != nil {
			lines = append(lines, corpus.Line(t, name, "refused", err.Error()))
			return
		}
		count := map[finding.Severity]int{}
		for _, f := range report.Findings {
			count[f.Severity]++
		}
		lines = append(lines, corpus.Line(t, name, fmt.Sprintf("%d stop %d look %d note", count[finding.Stop], count[finding.Look], count[finding.Note]), report))
	}
	for n := range 100 {
		add(fmt.Sprintf("%03d random", n), snapped(t, random(rand.New(rand.NewPCG(42, uint64(n))))))
	}
	drops := demo.Drops()
	for _, name := range slices.Sorted(maps.Keys(drops)) {
		text, err := json.Marshal(drops[name])
		if err != nil {
			t.Fatal(err)
		}
		for n := range 120 {
			r := rand.New(rand.NewPCG(43, uint64(n)))
			d, what := corpus.Edit(t, r, text)
			if d == nil {
				continue
			}
			add(fmt.Sprintf("%03d %s %s", n, name, what), d)
			again, err := json.Marshal(d)
			if err != nil {
				t.Fatal(err)
			}
			if d, more := corpus.Edit(t, r, again); d != nil {
				add(fmt.Sprintf("%03d %s %s %s", n, name, what, more), d)
			}
		}
	}
	corpus.Same(t, "testdata/reports.corpus", lines)
}

// snapped rounds every number of a drop, so that some are just at a limit.
func snapped(t *testing.T, d *drop.Document) *drop.Document {
	t.Helper()
	text, err := json.Marshal(d)
	if err != nil {
		t.Fatal(err)
	}
	var v any
	if err := json.Unmarshal(text, &v); err != nil {
		t.Fatal(err)
	}
	for _, s := range corpus.Spots(v)[1:] {
		if f, ok := s.Now.(float64); ok && f > 0.3 {
			s.Set(math.Ceil(f*10) / 10)
		}
	}
	if text, err = json.Marshal(v); err != nil {
		t.Fatal(err)
	}
	if d, err = drop.Read(text); err != nil {
		t.Fatal(err)
	}
	return d
}
