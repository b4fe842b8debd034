// Command mutants changes the program in one place at a time and reports the changes
// that no test notices. Run it from the top of the project:
//
//	go run ./tools/mutants [-n 24] [-seed 1] [-sound] [package directory ...]
//
// Mutants are woven into copies of the files, each behind a switch, and built by an
// overlay: no file is touched, and one build serves many mutants. A mutant is killed
// where a test of its package, or of a package that depends on it, fails or takes too
// long. A survivor that the file equivalents lists, by file and line with its reason,
// does not count; any other gives exit 1. Bad usage and a failed build give exit 2.
package main

import (
	"bufio"
	"bytes"
	"context"
	"crypto/sha256"
	"flag"
	"fmt"
	"os"
	"os/signal"
	"path/filepath"
	"slices"
	"strings"
)

const listed = "tools/mutants/equivalents"

func main() {
	n := flag.Int("n", 0, "how many, drawn by the seed; 0: all")
	seed := flag.Uint64("seed", 1, "of the draw")
	sound := flag.Bool("sound", false, "the tests have just passed: do not run them with no mutant on")
	flag.Parse()
	dirs := flag.Args()
	if len(dirs) == 0 {
		dirs = []string{"internal/core/fit", "internal/core/stance", "internal/core/moves"}
	}
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt)
	defer stop()
	survived, err := run(ctx, dirs, *n, *seed, *sound)
	if err != nil {
		fmt.Fprintln(os.Stderr, "mutants:", err)
		os.Exit(2)
	}
	if survived > 0 {
		os.Exit(1)
	}
}

// run gives how many mutants survive and are not listed.
func run(ctx context.Context, dirs []string, n int, seed uint64, sound bool) (int, error) {
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
		list, err := find(d)
		if err != nil {
			return 0, err
		}
		all = append(all, list...)
	}
	if n > 0 {
		if err := draw(all, seed); err != nil {
			return 0, err
		}
		all = all[:min(n, len(all))]
	}
	for i := range all {
		all[i].number = i + 1
	}
	survivors, err := try(ctx, all, sound)
	if err != nil {
		return 0, err
	}
	same := 0
	for _, m := range survivors {
		if slices.Contains(known, fmt.Sprintf("%s:%d", m.file, m.line)) {
			same++
			continue
		}
		fmt.Println("survives:", m)
	}
	fmt.Printf("%d mutants, seed %d: %d killed, %d survive, %d listed as equivalent\n",
		len(all), seed, len(all)-len(survivors), len(survivors)-same, same)
	return len(survivors) - same, nil
}

// draw orders mutants by a hash over the seed and the text that they change, so that the
// first of them stay the same as long as their lines do.
func draw(all []mutant, seed uint64) error {
	sources := map[string][]string{}
	for i := range all {
		m := &all[i]
		if sources[m.file] == nil {
			text, err := os.ReadFile(m.file)
			if err != nil {
				return err
			}
			sources[m.file] = strings.Split(string(text), "\n")
		}
		line := sources[m.file][m.line-1]
		at := m.set.Position(m.node.Pos())
		m.hash = sha256.Sum256(fmt.Appendf(nil, "%d %s %s %d %s %s", seed, m.file, line, at.Column, m.was, m.is))
	}
	slices.SortStableFunc(all, func(a, b mutant) int { return bytes.Compare(a.hash[:], b.hash[:]) })
	return nil
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
