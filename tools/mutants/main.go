// Command mutants changes the program in one place at a time and reports the changes
// that no test notices. Run it from the top of the project:
//
//	go run ./tools/mutants [-n 24] [-seed 1] [package directory ...]
//
// A mutant is built by an overlay, so no file is touched. One that does not compile is
// no mutant. It is killed where a test of its package, or of a package that depends on
// it, fails or takes too long. A survivor that the file equivalents lists, by file and
// line with its reason, does not count; any other gives exit 1.
package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

const listed = "tools/mutants/equivalents"

// swaps are what an operator becomes.
var swaps = map[token.Token][]token.Token{
	token.LSS: {token.LEQ, token.GEQ}, token.LEQ: {token.LSS, token.GTR},
	token.GTR: {token.GEQ, token.LEQ}, token.GEQ: {token.GTR, token.LSS},
	token.EQL: {token.NEQ}, token.NEQ: {token.EQL},
	token.ADD: {token.SUB}, token.SUB: {token.ADD}, token.MUL: {token.QUO}, token.QUO: {token.MUL},
	token.LAND: {token.LOR}, token.LOR: {token.LAND},
	token.ADD_ASSIGN: {token.SUB_ASSIGN}, token.SUB_ASSIGN: {token.ADD_ASSIGN},
	token.BREAK: {token.CONTINUE}, token.CONTINUE: {token.BREAK},
}

// stages are the tests that can notice a mutant of a package, fast ones first.
var stages = map[string][][]string{
	"internal/core/fit":    {{"./internal/core/fit", "-skip", "TestPointsTwoReplayed"}, {"./internal/core/fit", "-run", "TestPointsTwoReplayed"}, quickDrop},
	"internal/core/stance": {{"./internal/core/stance"}, quickMoves, {"./internal/core/rescue"}, slowMoves, quickDrop},
	"internal/core/moves":  {quickMoves, slowMoves, quickDrop},
	"internal/core/team":   {{"./internal/core/team"}, quickDrop},
	"internal/core/rescue": {{"./internal/core/rescue"}, quickDrop, {"./internal/core/drop"}},
}

var (
	quickMoves = []string{"./internal/core/moves", "-skip", slow}
	slowMoves  = []string{"./internal/core/moves", "-run", slow}
	quickDrop  = []string{"./internal/core/drop", "-skip", "TestMoreNeverCoversLess|TestRescueChanges|TestCoverRemembersNothingOfAnotherDrop|TestPairPasses"}
)

const slow = "TestKitDecides|TestFinerAgrees|TestOutcomes"

// mutant is one change of a file.
type mutant struct {
	dir, file  string
	line, from int
	was, is    string
}

func (m mutant) String() string { return fmt.Sprintf("%s:%d: %s -> %s", m.file, m.line, m.was, m.is) }

func main() {
	n := flag.Int("n", 0, "how many, drawn by the seed; 0: all")
	seed := flag.Uint64("seed", 1, "of the draw")
	flag.Parse()
	dirs := flag.Args()
	if len(dirs) == 0 {
		dirs = []string{"internal/core/fit", "internal/core/stance", "internal/core/moves"}
	}
	survived, err := run(dirs, *n, *seed)
	if err != nil {
		fmt.Fprintln(os.Stderr, "mutants:", err)
		os.Exit(2)
	}
	if survived > 0 {
		os.Exit(1)
	}
}

// run gives how many mutants survive and are not listed.
func run(dirs []string, n int, seed uint64) (int, error) {
	known, err := equivalents()
	if err != nil {
		return 0, err
	}
	var all []mutant
	for _, d := range dirs {
		d = filepath.ToSlash(filepath.Clean(d))
		if stages[d] == nil {
			return 0, fmt.Errorf("no tests are known for %s", d)
		}
		list, err := of(d)
		if err != nil {
			return 0, err
		}
		all = append(all, list...)
	}
	if n > 0 {
		r := rand.New(rand.NewPCG(seed, 0))
		r.Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
	} else {
		n = len(all)
	}
	killed, survived, same := 0, 0, 0
	for _, m := range all {
		if killed+survived+same == n {
			break
		}
		fate, err := try(m)
		switch {
		case err != nil:
			return 0, err
		case fate == notBuilt:
			continue
		case fate == noticed:
			killed++
		case slices.Contains(known, fmt.Sprintf("%s:%d", m.file, m.line)):
			same++
		default:
			survived++
			fmt.Println("survives:", m)
		}
	}
	fmt.Printf("%d mutants, seed %d: %d killed, %d survive, %d listed as equivalent\n", killed+survived+same, seed, killed, survived, same)
	return survived, nil
}

// of finds every mutant of the files of a package.
func of(dir string) ([]mutant, error) {
	files, err := filepath.Glob(dir + "/*.go")
	if err != nil {
		return nil, err
	}
	var all []mutant
	for _, f := range files {
		if strings.HasSuffix(f, "_test.go") {
			continue
		}
		set := token.NewFileSet()
		tree, err := parser.ParseFile(set, f, nil, parser.SkipObjectResolution)
		if err != nil {
			return nil, err
		}
		add := func(at token.Pos, was token.Token) {
			p := set.Position(at)
			for _, is := range swaps[was] {
				all = append(all, mutant{dir, filepath.ToSlash(f), p.Line, p.Offset, was.String(), is.String()})
			}
		}
		ast.Inspect(tree, func(n ast.Node) bool {
			switch n := n.(type) {
			case *ast.BinaryExpr:
				add(n.OpPos, n.Op)
			case *ast.AssignStmt:
				add(n.TokPos, n.Tok)
			case *ast.BranchStmt:
				if n.Label == nil {
					add(n.TokPos, n.Tok)
				}
			case *ast.UnaryExpr:
				if n.Op == token.NOT {
					p := set.Position(n.OpPos)
					all = append(all, mutant{dir, filepath.ToSlash(f), p.Line, p.Offset, "!", ""})
				}
			}
			return true
		})
	}
	return all, nil
}

type fate int

const (
	notBuilt fate = iota
	noticed
	survives
)

// try builds a mutant and runs the tests that can notice it.
func try(m mutant) (fate, error) {
	dir, err := os.MkdirTemp("", "mutant")
	if err != nil {
		return 0, err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	overlay, err := write(dir, m)
	if err != nil {
		return 0, err
	}
	if exec.Command("go", "build", "-overlay", overlay, "./"+m.dir).Run() != nil {
		return notBuilt, nil
	}
	for _, stage := range stages[m.dir] {
		ctx, cancel := context.WithTimeout(context.Background(), 3*time.Minute)
		args := append([]string{"test", "-overlay", overlay, "-vet=off", "-failfast", "-count=1", "-timeout", "2m"}, stage...)
		failed := exec.CommandContext(ctx, "go", args...).Run() != nil
		cancel()
		if failed {
			return noticed, nil
		}
	}
	return survives, nil
}

// write puts the changed file and its overlay into a directory.
func write(dir string, m mutant) (string, error) {
	src, err := os.ReadFile(m.file)
	if err != nil {
		return "", err
	}
	changed := slices.Concat(src[:m.from], []byte(m.is), src[m.from+len(m.was):])
	at := filepath.Join(dir, "changed.go")
	if err := os.WriteFile(at, changed, 0o600); err != nil {
		return "", err
	}
	original, err := filepath.Abs(m.file)
	if err != nil {
		return "", err
	}
	text, err := json.Marshal(map[string]map[string]string{"Replace": {original: at}})
	if err != nil {
		return "", err
	}
	overlay := filepath.Join(dir, "overlay.json")
	return overlay, os.WriteFile(overlay, text, 0o600)
}

// reasons are the kinds of change that no test can notice.
var reasons = []string{"log", "speed", "order of ties"}

// equivalents reads which lines are listed: "file:line reason".
func equivalents() ([]string, error) {
	text, err := os.ReadFile(listed)
	if err != nil {
		return nil, err
	}
	var all []string
	for s := bufio.NewScanner(bytes.NewReader(text)); s.Scan(); {
		line := strings.TrimSpace(s.Text())
		if line == "" || strings.HasPrefix(line, "#") {
			continue
		}
		at, reason, _ := strings.Cut(line, " ")
		if !slices.Contains(reasons, reason) {
			return nil, fmt.Errorf("%s: %q: the reason is one of %s", listed, line, strings.Join(reasons, ", "))
		}
		all = append(all, at)
	}
	return all, nil
}
