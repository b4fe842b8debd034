package main

import (
	"strings"
	"testing"
	"testing/fstest"
)

// Each planted fault is found with its place, and what is right passes.
func TestRun(t *testing.T) {
	long := strings.Repeat("word ", longest) + "more"
	for name, c := range map[string]struct {
		path, text, found string
	}{
		"phrase in a doc":          {"docs/a.md", "# A\n\nIt comes onto the rope.\n", `docs/a.md:3: "comes onto"`},
		"phrase across a line":     {"internal/core/a.go", "package a\n\n// A is told\n// by nobody.\n", `internal/core/a.go:3: "is told`},
		"phrase on a screen":       {"web/src/A.vue", "<template><p>Tails at the Least</p></template>", `"at the Least"`},
		"phrase in a literal":      {"internal/core/a.go", "package a\n\nconst s = `held, lets by`\n", `"lets by"`},
		"long sentence in a doc":   {"README.md", long + ".\n", "README.md: 46 words"},
		"long sentence on screen":  {"web/src/A.vue", "<template><p>" + long + "</p></template>", "46 words"},
		"long sentence in a title": {"web/src/A.vue", `<template><p title="` + long + `">a</p></template>`, "46 words"},
		"long finding":             {"internal/core/a.go", "package a\n\nconst s = \"" + long + "\"\n", "46 words"},
		"sentences too long":       {"docs/a.md", strings.Repeat(strings.Repeat("word ", 21)+"end. ", 3), "bar 20"},
		"code in a doc":            {"docs/a.md", "```\n" + long + "\n```\n", ""},
		"short items":              {"docs/a.md", strings.Repeat("- "+strings.Repeat("word ", 15)+"\n", 9), ""},
		"two sentences":            {"web/src/A.vue", "<template><p>" + strings.Repeat("word ", 17) + "<b>end</b>.</p><p>" + strings.Repeat("word ", 16) + "</p></template>", ""},
		"a test":                   {"internal/core/a_test.go", "package a\n\nconst s = \"" + long + "\"\n", ""},
		"another's code":           {"web/node_modules/a.md", "it comes onto " + long, ""},
	} {
		var out strings.Builder
		failures, err := run(fstest.MapFS{c.path: {Data: []byte(c.text)}}, 0, &out)
		if err != nil || (failures > 0) != (c.found != "") || !strings.Contains(out.String(), c.found) {
			t.Errorf("%s: %d failures, %v\n%s", name, failures, err, &out)
		}
	}
}
