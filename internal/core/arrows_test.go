package core_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"
)

const home = "zealousknot/internal/core/"

// levels are the packages of the core, from the bottom up: a package may import
// only those of lower levels.
var levels = [][]string{
	{"quantity", "progress", "digest", "manoeuvre", "glossary"}, {"search"}, {"finding", "strict", "school", "knot"}, {"reeving"}, {"gear", "mechanics"}, {"rig", "policy", "calc"}, {"drop"}, {"site"}, {"procedure", "care", "wear"}, {"fit", "record", "stance"}, {"moves", "team", "pair"}, {"cover"}, {"check"}, {"propose", "day", "callout", "drill"}, {"run"}, {"ask"},
}

func level(pkg string) int {
	return slices.IndexFunc(levels, func(l []string) bool { return slices.Contains(l, pkg) })
}

// outside are packages of the standard library that reach out of the program.
var outside = []string{"os", "net", "io/fs", "log", "log/slog", "syscall", "database/sql", "os/exec", "crypto/rand", "math/rand"}

// TestArrows holds the core to what it may import: the standard library without
// I/O, gonum, and core packages below. It has no clock either.
func TestArrows(t *testing.T) {
	files := 0
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		files++
		set := token.NewFileSet()
		f, err := parser.ParseFile(set, path, nil, 0)
		if err != nil {
			return err
		}
		own := level(filepath.Dir(path))
		if own < 0 {
			t.Errorf("%s: its package has no level", path)
		}
		for _, i := range f.Imports {
			name, _ := strconv.Unquote(i.Path.Value)
			below, core := strings.CutPrefix(name, home)
			first, _, _ := strings.Cut(name, "/")
			switch {
			case core && (level(below) < 0 || level(below) >= own):
				t.Errorf("%s imports %s, which is not below it", path, name)
			case !core && first != "gonum.org" && (strings.Contains(first, ".") || first == "zealousknot"):
				t.Errorf("%s imports %s, which is not the core's", path, name)
			case slices.Contains(outside, name) || strings.HasPrefix(name, "net/"):
				t.Errorf("%s imports %s, which reaches outside", path, name)
			}
		}
		ast.Inspect(f, func(n ast.Node) bool {
			if s, ok := n.(*ast.SelectorExpr); ok && s.Sel.Name == "Now" {
				t.Errorf("%s: the core has no clock", set.Position(s.Pos()))
			}
			return true
		})
		return nil
	})
	if err != nil || files < 20 {
		t.Errorf("%d files looked at, %v", files, err)
	}
}

// TestBrowser holds that the core compiles for the browser.
func TestBrowser(t *testing.T) {
	cmd := exec.Command("go", "build", "./...")
	cmd.Env = append(os.Environ(), "GOOS=js", "GOARCH=wasm", "CGO_ENABLED=0")
	if out, err := cmd.CombinedOutput(); err != nil {
		t.Errorf("%v\n%s", err, out)
	}
}
