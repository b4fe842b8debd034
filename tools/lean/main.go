// Command lean writes copies of the core's files without the words that only what is published
// reads, and an overlay for go build that puts them in place: the core for the browser
// gets smaller by 26 kB. It takes the directory to write them to.
package main

import (
	"encoding/json"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
)

// words are a doc tag behind another tag.
var words = regexp.MustCompile(` doc:"(?:[^"\\]|\\.)*"`)

// fires is when a rule fires, in a row of its table: the page has it from the server.
var fires = regexp.MustCompile(`(?m)^(\t\{(?:ID: )?"[a-z.-]+", (?:Gives: )?(?:finding\.)?\w+, (?:Fires: )?)"(?:[^"\\]|\\.)*"`)

// tables are the files of those rules.
var tables = []string{
	"internal/core/stance/rules.go", "internal/core/team/rules.go", "internal/core/team/rigrules.go", "internal/core/pair/check.go", "internal/core/cover/evacuate.go",
	"internal/core/cover/cover.go", "internal/core/fit/fit.go",
}

func main() {
	if len(os.Args) != 2 {
		fmt.Fprintln(os.Stderr, "usage: lean DIR")
		os.Exit(2)
	}
	if err := write(os.Args[1], "internal/core", "internal/picture"); err != nil {
		fmt.Fprintln(os.Stderr, "lean:", err)
		os.Exit(1)
	}
}

func write(dir string, roots ...string) error {
	var overlay struct{ Replace map[string]string }
	overlay.Replace = map[string]string{}
	for _, root := range roots {
		err := filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return err
			}
			text, err := os.ReadFile(path)
			if err != nil {
				return err
			}
			lean := words.ReplaceAll(text, nil)
			if slices.Contains(tables, filepath.ToSlash(path)) {
				lean = fires.ReplaceAll(lean, []byte(`$1""`))
			}
			if len(lean) == len(text) {
				return nil
			}
			to := filepath.Join(dir, strings.ReplaceAll(path, string(filepath.Separator), "_"))
			if overlay.Replace[path], err = filepath.Abs(to); err != nil {
				return err
			}
			return os.WriteFile(to, lean, 0o644)
		})
		if err != nil {
			return err
		}
	}
	text, err := json.Marshal(overlay)
	if err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(dir, "overlay.json"), text, 0o644)
}
