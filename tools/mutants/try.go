package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"sync"

	"golang.org/x/sync/errgroup"
)

// stage is a package's tests, or some of them.
type stage struct {
	dir, run, skip string
}

const (
	core      = "internal/core/"
	slowMoves = "TestKitDecides|TestFinerAgrees|TestOutcomes"
	slowAsk   = "TestMoreNeverCoversLess|TestRescueChanges|TestCoverRemembersNothingOfAnotherDrop|TestPairPasses|TestSingleEdits|TestWaysReadByAnother|TestRescueCorpus"
)

var (
	checks = stage{core + "check", "", ""}
	askQ   = stage{core + "ask", "", slowAsk}
	askS   = stage{core + "ask", slowAsk, ""}
	movesQ = stage{core + "moves", "", slowMoves}
	movesS = stage{core + "moves", slowMoves, ""}
	stores = stage{"internal/store", "", ""}
	webs   = stage{"internal/web", "", ""}
)

// stages are the tests that can notice a mutant of a package, fast ones first.
var stages = map[string][]stage{
	core + "fit":    {{core + "fit", "", "TestPointsTwoReplayed"}, {core + "fit", "TestPointsTwoReplayed", ""}, checks, askQ},
	core + "stance": {{core + "stance", "", ""}, movesQ, {core + "pair", "", ""}, checks, askQ, movesS, askS},
	core + "moves":  {movesQ, checks, askQ, movesS},
	core + "team":   {{core + "team", "", ""}, checks, askQ},
	core + "pair":   {{core + "pair", "", ""}, checks, askQ, askS},
	core + "cover":  {{core + "cover", "", ""}, checks, askQ, askS},
	core + "record": {{core + "record", "", ""}, stores, webs},
	core + "care":   {{core + "care", "", ""}, stores, webs},
	core + "wear":   {{core + "wear", "", ""}, webs},
	// Without the tests of the API, which would take minutes for each.
	core + "mechanics": {{core + "mechanics", "", ""}, {core + "calc", "", ""}, checks},
	core + "procedure": {{core + "procedure", "", ""}, checks},
	core + "gear":      {{core + "gear", "", ""}, {core + "fit", "", ""}, checks},
	core + "run":       {{core + "run", "", ""}},
	core + "callout":   {{core + "callout", "", ""}},
	core + "drill":     {{core + "drill", "", ""}},
	core + "day":       {{core + "day", "", ""}},
	core + "propose":   {{core + "propose", "", ""}},
	"internal/tabular": {{"internal/tabular", "", ""}},
	"internal/store":   {stores, webs},
}

// bound is how long a stage may take: a mutant may loop for ever.
const bound = "3m"

// try gives the mutants that every stage lets pass, in their order. Sound is set where the
// tests have just passed with no mutant on.
func try(ctx context.Context, mutants []mutant, sound bool) ([]mutant, error) {
	dir, err := os.MkdirTemp("", "mutants")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	overlay, err := weave(dir, mutants)
	if err != nil {
		return nil, err
	}
	t := trial(dir)
	if err := t.build(ctx, overlay, mutants, sound); err != nil {
		return nil, err
	}
	var mu sync.Mutex
	var survivors []mutant
	g, ctx := errgroup.WithContext(ctx)
	g.SetLimit(2)
	for _, m := range mutants {
		g.Go(func() error {
			for _, s := range stages[m.dir] {
				if failed, err := t.fails(ctx, s, m.number); failed || err != nil {
					return err
				}
			}
			mu.Lock()
			defer mu.Unlock()
			survivors = append(survivors, m)
			return nil
		})
	}
	if err := g.Wait(); err != nil {
		return nil, err
	}
	slices.SortFunc(survivors, func(a, b mutant) int { return a.number - b.number })
	return survivors, nil
}

// trial is where the built tests are.
type trial string

func (t trial) path(s stage) string { return filepath.Join(string(t), filepath.Base(s.dir)+".test") }

// build builds what the mutants' stages need, and runs each stage with no mutant on:
// tests that fail by themselves would kill everything.
func (t trial) build(ctx context.Context, overlay string, mutants []mutant, sound bool) error {
	seen := map[stage]bool{}
	for _, m := range mutants {
		for _, s := range stages[m.dir] {
			if seen[s] {
				continue
			}
			seen[s] = true
			if _, err := os.Stat(t.path(s)); err != nil {
				out, err := exec.CommandContext(ctx, "go", "test", "-c", "-vet=off", "-overlay", overlay, "-o", t.path(s), "./"+s.dir).CombinedOutput()
				if err != nil {
					return fmt.Errorf("building the tests of %s: %w\n%s", s.dir, err, out)
				}
			}
			if sound {
				continue
			}
			if failed, err := t.fails(ctx, s, 0); failed || err != nil {
				return fmt.Errorf("%v fails with no mutant on: %w", s, err)
			}
		}
	}
	return nil
}

// fails is whether a stage notices a mutant. Tests that could not be run noticed nothing:
// that is an error.
func (t trial) fails(ctx context.Context, s stage, number int) (bool, error) {
	args := []string{"-test.failfast", "-test.timeout", bound}
	if s.run != "" {
		args = append(args, "-test.run", s.run)
	}
	if s.skip != "" {
		args = append(args, "-test.skip", s.skip)
	}
	cmd := exec.CommandContext(ctx, t.path(s), args...)
	cmd.Dir = s.dir
	cmd.Env = append(os.Environ(), "MUTANT="+strconv.Itoa(number))
	err := cmd.Run()
	if ctx.Err() != nil {
		return false, ctx.Err()
	}
	var ended *exec.ExitError
	if err != nil && !errors.As(err, &ended) {
		return false, err
	}
	return err != nil, nil
}
