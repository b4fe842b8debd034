package main

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"zealousknot/internal/pg"
	"zealousknot/internal/store"
)

type verifyCommand struct {
	URL    string `name:"database-url" env:"DATABASE_URL" help:"Where the database is; left out: that of a running demo."`
	Dir    string `default:".run" help:"Folder of the demo."`
	Expect string `help:"Team's last record and its seal as once written down, such as 812:9f03a1c2: it must still be in its place."`
}

// Run walks every team's chain of records, and compares what is searched for with it.
// Exit 0: whole; 1: broken, or not as sealed; 2: bad input; 3: the
// database does not answer.
func (c *verifyCommand) Run(ctx context.Context, s streams) error {
	number, seal, err := expected(c.Expect)
	if err != nil {
		return &exit{exitBadInput, "--expect: " + err.Error()}
	}
	url := c.URL
	if url == "" {
		if url, err = pg.Running(c.Dir + "/pg"); err != nil {
			return err
		}
	}
	db, err := store.Open(ctx, url)
	if err != nil {
		return &exit{exitUnanswered, err.Error()}
	}
	defer db.Close()
	if err := db.Fits(ctx); err != nil {
		return err
	}
	return verifyAll(ctx, db, number, seal, s)
}

// verifyAll says of every team's records whether they are whole, and whether the one that
// was asked for is in its place; 0: none was.
func verifyAll(ctx context.Context, db *store.Store, number int64, seal string, s streams) error {
	chains, err := db.Verify(ctx, number)
	if err != nil {
		return err
	}
	broken, found := false, number == 0
	for _, chain := range chains {
		if chain.Broken != nil {
			broken = true
			fmt.Fprintf(s.out, "%s: BROKEN. %v. The %d before it are whole, the last with seal %v.\n", chain.Team.Name, chain.Broken, chain.Number, chain.Last.Whole())
			continue
		}
		for _, d := range chain.Differs {
			broken = true
			fmt.Fprintf(s.out, "%s: NOT AS SEALED. %v\n", chain.Team.Name, d)
		}
		fmt.Fprintf(s.out, "%s: %d records, whole; the last one's seal is %v.\n", chain.Team.Name, chain.Number, chain.Last.Whole())
		found = found || chain.Number >= number && strings.HasPrefix(chain.Noted.Whole(), seal)
	}
	if !found {
		broken = true
		fmt.Fprintf(s.out, "No team has record %d with a seal that begins with %s.\n", number, seal)
	}
	if broken {
		return &exit{code: exitStop}
	}
	return nil
}

// expected reads a number and the beginning of a seal.
func expected(text string) (number int64, seal string, err error) {
	if text == "" {
		return 0, "", nil
	}
	n, seal, ok := strings.Cut(text, ":")
	number, err = strconv.ParseInt(n, 10, 64)
	if err != nil || !ok || number < 1 || len(seal) < 8 || strings.Trim(seal, "0123456789abcdef") != "" {
		return 0, "", fmt.Errorf("%q is not a number and eight or more letters of a seal, such as 812:9f03a1c2", text)
	}
	return number, seal, nil
}
