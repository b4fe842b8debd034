// Command zealousknot checks rope access rigs and serves the program's screens.
package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/signal"
	"syscall"

	"github.com/alecthomas/kong"

	"zealousknot/internal/core/calc"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/team"
)

// version is set when the program is built.
var version = "unversioned"

// Exit codes.
const (
	exitNothing   = 0
	exitStop      = 1
	exitBadInput  = 2
	exitUndecided = 3
	// exitUnanswered is of a database that does not answer, or of an answer that could not be
	// printed: nothing is known of it.
	exitUnanswered = 3
)

// caution stands above everything the program prints for people.
const caution = "For trained people. The manufacturer's instructions, local rules and the person in charge come first."

type commands struct {
	Demo       demoCommand       `cmd:"" help:"Run with demo data and a private database until Ctrl-C."`
	Serve      serveCommand      `cmd:"" help:"Serve with the database at DATABASE_URL."`
	Migrate    migrateCommand    `cmd:"" help:"Bring the database at DATABASE_URL to this version."`
	Check      checkCommand      `cmd:"" help:"Check a drop document. Exit 0: nothing found; 1: a stop was found; 2: bad input."`
	Calc       calcCommand       `cmd:"" help:"Compute one figure: JSON on standard input and output. Exit 2: bad input."`
	Plan       planCommand       `cmd:"" help:"Find a move of a person on a drop. Exit 0: found; 1: there is none; 2: bad input; 3: not decided."`
	Replay     replayCommand     `cmd:"" help:"Walk a step list by the rules. Exit 0: nothing broken; 1: a rule is broken; 2: bad input."`
	Propose    proposeCommand    `cmd:"" help:"Propose what a drop lacks from a store. Exit 0: nothing is missing; 1: something is; 2: bad input; 3: not decided."`
	Team       teamCommand       `cmd:"" help:"Find a move of a team, or walk a list of its actions. Exit 0: found; 1: there is none, or a rule is broken; 2: bad input; 3: not decided."`
	Rescue     rescueCommand     `cmd:"" help:"Tell who is reached from where on a drop, and the ways to somebody at a height. Exit 0: reached; 1: somebody is not; 2: bad input; 3: not decided."`
	Fold       runCommand        `cmd:"" name:"run" help:"Fold the events of a run and print its state. Exit 2: bad input."`
	Day        dayCommand        `cmd:"" help:"Judge the board of a day, or fill it. Exit 0: no stop; 1: a stop, or a drop without a place; 2: bad input."`
	Drill      drillCommand      `cmd:"" help:"Make an exercise, or mark an answer to one."`
	Standin    standinCommand    `cmd:"" name:"standin" help:"Send readings such as a load cell or an anemometer would, to try a run. Exit 2: refused; 3: no answer."`
	Schools    schoolsCommand    `cmd:"" help:"List where practitioners differ over moves, and what speaks for each way."`
	Invite     inviteCommand     `cmd:"" help:"Make an invitation to a team: how the first one comes in."`
	Link       linkCommand       `cmd:"" help:"Tie a login of a team to a person on its drops."`
	Verify     verifyCommand     `cmd:"" help:"Walk every team's chain of records. Exit 0: whole; 1: broken, with the first break."`
	Backup     backupCommand     `cmd:"" help:"Write the whole database at DATABASE_URL to a file."`
	Restore    restoreCommand    `cmd:"" help:"Put a backup into the empty database at DATABASE_URL, and verify it. Exit 0: whole; 1: broken; 2: refused."`
	Export     exportCommand     `cmd:"" help:"Write everything of a team, but for who signs in, to one file."`
	Import     importCommand     `cmd:"" help:"Make a team of such a file, with its records as they were sealed. Exit 2: refused, nothing was changed."`
	Completion completionCommand `cmd:"" help:"Print bash completion."`
	Version    versionCommand    `cmd:"" help:"Print the version."`

	VersionFlag kong.VersionFlag `name:"version" help:"Print the version."`
}

// streams are where a command reads and writes.
type streams struct {
	in       io.Reader
	out, err io.Writer
}

// output keeps the first error of what is printed: a plan that is cut off must not look
// like a whole one.
type output struct {
	to  io.Writer
	err error
}

func (p *output) Write(text []byte) (int, error) {
	if p.err != nil {
		return 0, p.err
	}
	n, err := p.to.Write(text)
	p.err = err
	return n, err
}

// exit is an error that ends the program with a code; its message is printed
// unless it is empty.
type exit struct {
	code    int
	message string
}

func (e *exit) Error() string { return e.message }

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	code := run(ctx, os.Args[1:], streams{os.Stdin, os.Stdout, os.Stderr})
	stop()
	os.Exit(code)
}

func run(ctx context.Context, args []string, s streams) (code int) {
	out := &output{to: s.out}
	s.out = out
	defer func() {
		if out.err != nil {
			fmt.Fprintln(s.err, "zealousknot: what was printed is not whole:", out.err)
			code = exitUnanswered
		}
	}()
	var c commands
	ended := -1
	parser, err := kong.New(&c, kong.Name("zealousknot"), kong.Description("Checks rope access rigs. "+caution),
		kong.Vars{"version": "zealousknot " + version, "figures": calc.Names(), "moves": moves.Names(), "teammoves": team.Names()},
		kong.Writers(s.out, s.err), kong.Exit(func(code int) { ended = code }), kong.BindTo(ctx, (*context.Context)(nil)), kong.Bind(s))
	if err != nil {
		panic(err) // the commands are declared wrongly
	}
	k, err := parser.Parse(args)
	if ended >= 0 {
		return ended
	}
	if err != nil {
		fmt.Fprintln(s.err, "zealousknot:", err)
		return exitBadInput
	}
	err = k.Run()
	var e *exit
	switch {
	case err == nil:
		return exitNothing
	case errors.As(err, &e):
		if e.message != "" {
			fmt.Fprintln(s.err, e.message)
		}
		return e.code
	default:
		fmt.Fprintln(s.err, "zealousknot:", err)
		return 1
	}
}

type versionCommand struct{}

func (versionCommand) Run(s streams) error {
	_, err := fmt.Fprintln(s.out, "zealousknot", version)
	return err
}
