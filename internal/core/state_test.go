package core_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"go/types"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
)

// writers are calls that write into their first argument.
var writers = []string{"clear", "delete", "copy", "slices.Sort", "slices.SortFunc", "slices.SortStableFunc", "slices.Reverse", "slices.Delete", "slices.DeleteFunc", "maps.Copy", "maps.DeleteFunc", "sort.Slice"}

// nothing imports packages without looking into them.
type nothing map[string]*types.Package

func (n nothing) Import(path string) (*types.Package, error) {
	if n[path] == nil {
		n[path] = types.NewPackage(path, path[strings.LastIndexByte(path, '/')+1:])
		n[path].MarkComplete()
	}
	return n[path], nil
}

// writes are the places in a package where a variable of a package, or what it holds, is
// written after its declaration, or its address is taken.
func writes(set *token.FileSet, files []*ast.File) []token.Position {
	info := &types.Info{Uses: map[*ast.Ident]types.Object{}}
	c := types.Config{Importer: nothing{}, Error: func(error) {}}
	pkg, _ := c.Check("p", set, files, info)
	var list []token.Position
	shared := func(e ast.Expr) bool {
		for {
			switch x := e.(type) {
			case *ast.ParenExpr:
				e = x.X
			case *ast.IndexExpr:
				e = x.X
			case *ast.SliceExpr:
				e = x.X
			case *ast.StarExpr:
				e = x.X
			case *ast.SelectorExpr:
				if id, ok := x.X.(*ast.Ident); ok {
					if _, other := info.Uses[id].(*types.PkgName); other {
						return true
					}
				}
				e = x.X
			case *ast.Ident:
				v, ok := info.Uses[x].(*types.Var)
				return ok && v.Parent() == pkg.Scope()
			default:
				return false
			}
		}
	}
	see := func(e ast.Expr) {
		if shared(e) {
			list = append(list, set.Position(e.Pos()))
		}
	}
	for _, f := range files {
		ast.Inspect(f, func(n ast.Node) bool {
			switch n := n.(type) {
			case *ast.AssignStmt:
				if n.Tok != token.DEFINE {
					for _, l := range n.Lhs {
						see(l)
					}
				}
			case *ast.IncDecStmt:
				see(n.X)
			case *ast.RangeStmt:
				if n.Tok == token.ASSIGN {
					see(n.Key)
				}
			case *ast.UnaryExpr:
				// An element's address is how large tables are read; a whole variable's is not.
				if _, whole := n.X.(*ast.Ident); n.Op == token.AND && whole {
					see(n.X)
				}
			case *ast.CallExpr:
				if name := types.ExprString(n.Fun); slices.Contains(writers, name) && len(n.Args) > 0 {
					see(n.Args[0])
				}
			}
			return true
		})
	}
	return list
}

// TestNoState holds that nothing in the core remembers: no variable of a package is written
// after its declaration. The analyser is tried first on code that does.
func TestNoState(t *testing.T) {
	parse := func(set *token.FileSet, name string, text any) *ast.File {
		f, err := parser.ParseFile(set, name, text, 0)
		if err != nil {
			t.Fatal(err)
		}
		return f
	}
	const bad = `package p
import ("q"; "slices")
var list, m, n, at = []int{1}, map[string]int{}, 0, struct{ x []int }{}
func f() {
	list = nil; list[0] = 1; m["a"] = 2; n++; at.x[0] = 3; delete(m, "a"); slices.Sort(list); q.V = 1; q.T[0].X = 2; _ = &n
	for n = range list { }
}
func g() { list := []int{}; list[0] = 1; n := 0; n++; v := &at.x[0]; _ = v; slices.Sort(list); for _, m := range list { m++ } }`
	set := token.NewFileSet()
	if got := writes(set, []*ast.File{parse(set, "bad.go", bad)}); len(got) != 11 {
		t.Fatalf("%d writes are found in a sample that has 11: %v", len(got), got)
	}
	dirs, err := os.ReadDir(".")
	if err != nil {
		t.Fatal(err)
	}
	for _, d := range dirs {
		names, err := filepath.Glob(filepath.Join(d.Name(), "*.go"))
		if err != nil {
			t.Fatal(err)
		}
		set, files := token.NewFileSet(), []*ast.File{}
		for _, name := range names {
			if !strings.HasSuffix(name, "_test.go") {
				files = append(files, parse(set, name, nil))
			}
		}
		if len(files) == 0 {
			continue
		}
		for _, at := range writes(set, files) {
			t.Errorf("%v: a variable of the package is written, or its address is taken", at)
		}
	}
}
