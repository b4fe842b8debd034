package main

import (
	"fmt"
	"os"
	"slices"
	"testing"
)

// Every operator of a sample is changed each way, the changed sample builds, and what its
// tests do not notice is what nothing can: a product by 1, and the sign of 0.
func TestSample(t *testing.T) {
	const dir = "testdata/sample"
	stages[dir] = []stage{{dir: dir}}
	t.Cleanup(func() { delete(stages, dir) })
	all, err := find(dir)
	if err != nil {
		t.Fatal(err)
	}
	var found []string
	for i := range all {
		all[i].number = i + 1
		found = append(found, fmt.Sprintf("%d %s %s", all[i].line, all[i].was, all[i].is))
	}
	slices.Sort(found)
	want := []string{
		"10 && ||", "10 != ==", "10 > <=", "10 > >=", "11 break continue", "13 * /", "13 += -=", "7 < <=", "7 < >=", "8 continue break",
		"21 || &&", "22 && ||", "22 <= <", "22 <= >", "23 ! ILLEGAL", "23 - +", "23 > <=", "23 > >=",
	}
	slices.Sort(want)
	if !slices.Equal(found, want) {
		t.Errorf("changes %q, want %q", found, want)
	}
	survivors, err := try(t.Context(), all, false)
	if err != nil {
		t.Fatal(err)
	}
	var lines []string
	for _, m := range survivors {
		lines = append(lines, m.String())
	}
	if want := []string{dir + "/sample.go:7: < -> <=", dir + "/sample.go:13: * -> /"}; !slices.Equal(lines, want) {
		t.Errorf("survive %q, want %q", lines, want)
	}
}

// Tests that fail by themselves, or cannot be run, kill no mutant: each is an error.
func TestUnsound(t *testing.T) {
	const dir = "testdata/sample"
	t.Cleanup(func() { delete(stages, dir) })
	all, err := find(dir)
	if err != nil {
		t.Fatal(err)
	}
	all[0].number = 1
	stages[dir] = []stage{{dir: dir, run: "("}}
	if _, err := try(t.Context(), all[:1], false); err == nil {
		t.Error("tests that fail by themselves are taken")
	}
	if failed, err := trial(t.TempDir()).fails(t.Context(), stage{dir: dir}, 1); failed || err == nil {
		t.Errorf("tests that are missing: %v, %v", failed, err)
	}
}

// A draw by a seed is the same each time, another by another seed, and takes no mutant
// twice.
func TestDraw(t *testing.T) {
	drawn := func(seed uint64) (list []string) {
		all, err := find("testdata/sample")
		if err != nil {
			t.Fatal(err)
		}
		if err := draw(all, seed); err != nil {
			t.Fatal(err)
		}
		for _, m := range all {
			list = append(list, m.String())
		}
		return list
	}
	first := drawn(1)
	if !slices.Equal(first, drawn(1)) || slices.Equal(first, drawn(2)) {
		t.Error("the draw does not follow its seed")
	}
	if slices.Sort(first); len(slices.Compact(first)) != 18 {
		t.Errorf("%d of 18", len(slices.Compact(first)))
	}
}

// Lines that no test can notice are listed with a reason of a known kind.
func TestEquivalents(t *testing.T) {
	t.Chdir(t.TempDir())
	if err := os.MkdirAll("tools/mutants", 0o755); err != nil {
		t.Fatal(err)
	}
	for text, want := range map[string]int{"# a remark\n\na.go:7 speed\nb.go:9 order of ties\n": 2, "": 0, "a.go:7\n": -1, "a.go:7 because\n": -1} {
		if err := os.WriteFile(listed, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
		got, err := equivalents()
		if (err != nil) != (want < 0) || err == nil && len(got) != want {
			t.Errorf("%q: %q %v", text, got, err)
		}
	}
}
