package main

import (
	"crypto/sha256"
	"fmt"
	"go/ast"
	"go/importer"
	"go/parser"
	"go/token"
	"go/types"
	"path/filepath"
	"strings"
)

// mutant is one change at one place of a file. was is what the file says there.
type mutant struct {
	dir, file string
	line      int
	was, is   token.Token
	node      ast.Node
	set       *token.FileSet
	number    int
	// hash orders a draw.
	hash [sha256.Size]byte
}

func (m mutant) String() string { return fmt.Sprintf("%s:%d: %s -> %s", m.file, m.line, m.was, m.is) }

// swaps are what an operator becomes. A token.ILLEGAL stands for "left out".
var swaps = map[token.Token][]token.Token{
	token.LSS: {token.LEQ, token.GEQ}, token.LEQ: {token.LSS, token.GTR},
	token.GTR: {token.GEQ, token.LEQ}, token.GEQ: {token.GTR, token.LSS},
	token.EQL: {token.NEQ}, token.NEQ: {token.EQL},
	token.ADD: {token.SUB}, token.SUB: {token.ADD}, token.MUL: {token.QUO}, token.QUO: {token.MUL},
	token.LAND: {token.LOR}, token.LOR: {token.LAND}, token.NOT: {token.ILLEGAL},
	token.ADD_ASSIGN: {token.SUB_ASSIGN}, token.SUB_ASSIGN: {token.ADD_ASSIGN},
	token.BREAK: {token.CONTINUE}, token.CONTINUE: {token.BREAK},
}

// find gives every mutant of a package's files that compiles.
func find(dir string) ([]mutant, error) {
	files, err := filepath.Glob(dir + "/*.go")
	if err != nil {
		return nil, err
	}
	set := token.NewFileSet()
	var trees []*ast.File
	for _, f := range files {
		if strings.HasSuffix(f, "_test.go") {
			continue
		}
		tree, err := parser.ParseFile(set, f, nil, parser.SkipObjectResolution)
		if err != nil {
			return nil, err
		}
		trees = append(trees, tree)
	}
	info := &types.Info{Types: map[ast.Expr]types.TypeAndValue{}}
	conf := types.Config{Importer: importer.ForCompiler(set, "source", nil)}
	if _, err := conf.Check(dir, set, trees, info); err != nil {
		return nil, err
	}
	var all []mutant
	for _, tree := range trees {
		f := &finder{set: set, info: info, dir: dir}
		ast.Inspect(tree, f.visit)
		all = append(all, f.all...)
	}
	return all, nil
}

// finder walks one file.
type finder struct {
	set  *token.FileSet
	info *types.Info
	dir  string
	path []ast.Node
	all  []mutant
}

func (f *finder) visit(n ast.Node) bool {
	if n == nil {
		f.path = f.path[:len(f.path)-1]
		return true
	}
	switch n := n.(type) {
	case *ast.BinaryExpr:
		if f.computed(n) {
			f.add(n, n.OpPos, n.Op)
		}
	case *ast.UnaryExpr:
		if n.Op == token.NOT {
			f.add(n, n.OpPos, n.Op)
		}
	case *ast.AssignStmt:
		if f.listed() && (n.Tok == token.ADD_ASSIGN || n.Tok == token.SUB_ASSIGN) && f.number(n.Lhs[0]) {
			f.add(n, n.TokPos, n.Tok)
		}
	case *ast.BranchStmt:
		if n.Label == nil && f.listed() && f.leaves() {
			f.add(n, n.TokPos, n.Tok)
		}
	}
	f.path = append(f.path, n)
	return true
}

func (f *finder) add(n ast.Node, at token.Pos, was token.Token) {
	p := f.set.Position(at)
	for _, is := range swaps[was] {
		f.all = append(f.all, mutant{dir: f.dir, file: filepath.ToSlash(p.Filename), line: p.Line, was: was, is: is, node: n, set: f.set})
	}
}

// computed is whether an expression is worked out at run time, and its operator can be
// another one: the sum of two texts cannot be a difference.
func (f *finder) computed(e *ast.BinaryExpr) bool {
	if f.info.Types[e].Value != nil {
		return false
	}
	switch e.Op {
	case token.ADD, token.SUB, token.MUL, token.QUO:
		return f.number(e)
	}
	return true
}

func (f *finder) number(e ast.Expr) bool {
	t := f.info.Types[e].Type
	if t == nil {
		return false
	}
	b, ok := t.Underlying().(*types.Basic)
	return ok && b.Info()&types.IsNumeric != 0
}

// listed is whether a statement stands in a list of statements.
func (f *finder) listed() bool {
	switch f.path[len(f.path)-1].(type) {
	case *ast.BlockStmt, *ast.CaseClause, *ast.CommClause:
		return true
	}
	return false
}

// leaves is whether break and continue both mean a loop here that can end by itself.
func (f *finder) leaves() bool {
	for i := len(f.path) - 1; i >= 0; i-- {
		switch n := f.path[i].(type) {
		case *ast.RangeStmt:
			return true
		case *ast.ForStmt:
			return n.Cond != nil
		case *ast.FuncLit, *ast.FuncDecl:
			return false
		}
	}
	return false
}
