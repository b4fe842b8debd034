package main

import (
	"cmp"
	"encoding/json"
	"fmt"
	"go/ast"
	"go/token"
	"os"
	"path/filepath"
	"slices"
)

// edit puts text in place of the bytes [from, to) of a file. Edits at one place follow
// their order.
type edit struct {
	from, to, order int
	text            string
}

// weave puts mutants behind switches into copies of their files, and gives the path of
// the overlay that builds with them.
func weave(dir string, mutants []mutant) (string, error) {
	byFile := map[string][]mutant{}
	packages := map[string]bool{}
	for _, m := range mutants {
		byFile[m.file] = append(byFile[m.file], m)
		packages[m.dir] = true
	}
	replace := map[string]string{}
	put := func(original string, text []byte) error {
		path, err := filepath.Abs(original)
		if err != nil {
			return err
		}
		replace[path] = filepath.Join(dir, fmt.Sprintf("%d.go", len(replace)))
		return os.WriteFile(replace[path], text, 0o600)
	}
	for file, of := range byFile {
		src, err := os.ReadFile(file)
		if err != nil {
			return "", err
		}
		if err := put(file, apply(src, edits(src, of))); err != nil {
			return "", err
		}
	}
	for p := range packages {
		if err := put(p+"/mutant_switch.go", fmt.Appendf(nil, switches, filepath.Base(p))); err != nil {
			return "", err
		}
	}
	text, err := json.Marshal(map[string]map[string]string{"Replace": replace})
	if err != nil {
		return "", err
	}
	overlay := filepath.Join(dir, "overlay.json")
	return overlay, os.WriteFile(overlay, text, 0o600)
}

// edits are the changes of one file. Mutants of one node share its edits: an outer node
// opens before and closes after what it holds.
func edits(src []byte, mutants []mutant) []edit {
	byNode := map[ast.Node][]mutant{}
	var nodes []ast.Node
	for _, m := range mutants {
		if byNode[m.node] == nil {
			nodes = append(nodes, m.node)
		}
		byNode[m.node] = append(byNode[m.node], m)
	}
	slices.SortFunc(nodes, func(a, b ast.Node) int {
		return cmp.Or(cmp.Compare(a.Pos(), b.Pos()), cmp.Compare(b.End(), a.End()))
	})
	var all []edit
	for i, n := range nodes {
		file := byNode[n][0].set.File(n.Pos())
		at := func(p token.Pos) int { return file.Offset(p) }
		open := func(text string) { all = append(all, edit{at(n.Pos()), at(n.Pos()), i, text}) }
		shut := func(text string) { all = append(all, edit{at(n.End()), at(n.End()), -i, text}) }
		swap := func(p token.Pos, was token.Token, text string) {
			all = append(all, edit{at(p), at(p) + len(was.String()), 0, text})
		}
		numbers := [2]int{}
		for j, m := range byNode[n] {
			numbers[j] = m.number
		}
		switch n := n.(type) {
		case *ast.UnaryExpr:
			open("((")
			shut(fmt.Sprintf(") != mutantOn(%d))", numbers[0]))
		case *ast.BinaryExpr:
			switch n.Op {
			case token.EQL, token.NEQ:
				open("((")
				shut(fmt.Sprintf(") != mutantOn(%d))", numbers[0]))
			case token.LAND, token.LOR:
				open(fmt.Sprintf("mutant%s(%d, ", names[n.Op], numbers[0]))
				swap(n.OpPos, n.Op, ", func() bool { return (")
				shut(") })")
			default:
				byOp := [2]int{}
				for _, m := range byNode[n] {
					byOp[slices.Index(swaps[n.Op], m.is)] = m.number
				}
				open(fmt.Sprintf("mutant%s(%d, %d, ", names[n.Op], byOp[0], byOp[1]))
				swap(n.OpPos, n.Op, ", ")
				shut(")")
			}
		case *ast.AssignStmt:
			changed := string(src[at(n.Pos()):at(n.TokPos)]) + byNode[n][0].is.String() + string(src[at(n.TokPos)+2:at(n.End())])
			open(fmt.Sprintf("if mutantOn(%d) { %s } else { ", numbers[0], changed))
			shut(" }")
		case *ast.BranchStmt:
			open(fmt.Sprintf("if mutantOn(%d) { %s }; ", numbers[0], byNode[n][0].is))
		}
	}
	return all
}

// names are of the functions in switches.
var names = map[token.Token]string{
	token.LSS: "Lss", token.LEQ: "Leq", token.GTR: "Gtr", token.GEQ: "Geq",
	token.ADD: "Add", token.SUB: "Sub", token.MUL: "Mul", token.QUO: "Quo",
	token.LAND: "And", token.LOR: "Or",
}

func apply(src []byte, all []edit) []byte {
	slices.SortStableFunc(all, func(a, b edit) int {
		return cmp.Or(cmp.Compare(a.from, b.from), cmp.Compare(a.order, b.order))
	})
	var out []byte
	last := 0
	for _, e := range all {
		out = append(append(out, src[last:e.from]...), e.text...)
		last = e.to
	}
	return append(out, src[last:]...)
}

// switches is the file that every package with mutants gets. MUTANT says which is on.
const switches = `package %s

import ("cmp"; "os"; "strconv")

var mutantActive, _ = strconv.Atoi(os.Getenv("MUTANT"))

func mutantOn(k int) bool { return k != 0 && k == mutantActive }

type mutantNumber interface { ~int|~int8|~int16|~int32|~int64|~uint|~uint8|~uint16|~uint32|~uint64|~float32|~float64 }

func mutantLss[T cmp.Ordered](j, k int, x, y T) bool { if mutantOn(j) { return x <= y }; if mutantOn(k) { return x >= y }; return x < y }
func mutantLeq[T cmp.Ordered](j, k int, x, y T) bool { if mutantOn(j) { return x < y }; if mutantOn(k) { return x > y }; return x <= y }
func mutantGtr[T cmp.Ordered](j, k int, x, y T) bool { if mutantOn(j) { return x >= y }; if mutantOn(k) { return x <= y }; return x > y }
func mutantGeq[T cmp.Ordered](j, k int, x, y T) bool { if mutantOn(j) { return x > y }; if mutantOn(k) { return x < y }; return x >= y }
func mutantAdd[T mutantNumber](j, _ int, x, y T) T { if mutantOn(j) { return x - y }; return x + y }
func mutantSub[T mutantNumber](j, _ int, x, y T) T { if mutantOn(j) { return x + y }; return x - y }
func mutantMul[T mutantNumber](j, _ int, x, y T) T { if mutantOn(j) { return x / y }; return x * y }
func mutantQuo[T mutantNumber](j, _ int, x, y T) T { if mutantOn(j) { return x * y }; return x / y }
func mutantAnd(k int, x bool, y func() bool) bool { if mutantOn(k) { return x || y() }; return x && y() }
func mutantOr(k int, x bool, y func() bool) bool { if mutantOn(k) { return x && y() }; return x || y() }
`
