//go:build js && wasm

// Command browsercore is the core for the browser, for where there is no signal:
// the same reading and the same rules as the server's, asked from the page.
package main

import (
	"context"
	"encoding/json"
	"errors"
	"syscall/js"
	"time"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/progress"
	"zealousknot/internal/core/strict"
)

// asked is what a check is to give, by the names of the API.
type asked struct {
	Figures bool   `json:"figures,omitempty"`
	Curves  bool   `json:"curves,omitempty"`
	Checks  bool   `json:"checks,omitempty"`
	Person  string `json:"person,omitempty"`
}

// answer is a report, or what was refused.
type answer struct {
	Report *drop.Report   `json:"report,omitempty"`
	Errors []strict.Fault `json:"errors,omitempty"`
}

// ctx is never done: the page ends the worker of what takes too long. It tells the page how
// far it is. env keeps what was found, while the worker is there.
var ctx, env = progress.Told(context.Background(), tell), drop.NewEnv()

// sayEvery is how often the page is told at most.
const sayEvery = 100 * time.Millisecond

var said time.Time

func tell(r progress.Report) {
	now := time.Now()
	if now.Sub(said) < sayEvery {
		return
	}
	said = now
	if text, err := json.Marshal(r); err == nil {
		js.Global().Call("zealousKnotTell", string(text))
	}
}

func main() {
	serve("zealousKnotCheck", func(args []js.Value) any { return check([]byte(args[0].String()), []byte(args[1].String())) })
	serve("zealousKnotPlan", func(args []js.Value) any { return plan([]byte(args[0].String())) })
	serve("zealousKnotTeam", func(args []js.Value) any { return teamMove([]byte(args[0].String())) })
	serve("zealousKnotRescue", func(args []js.Value) any { return rescues([]byte(args[0].String())) })
	serve("zealousKnotReplay", func(args []js.Value) any { return replay([]byte(args[0].String())) })
	select {}
}

// serve gives the page a function that answers in JSON.
func serve(name string, f func(args []js.Value) any) {
	js.Global().Set(name, js.FuncOf(func(_ js.Value, args []js.Value) any {
		text, err := json.Marshal(f(args))
		if err != nil {
			return js.Null()
		}
		return string(text)
	}))
}

// answered reads what is asked, strictly, and answers it or says what was refused.
func answered[Asked, Answer any](request []byte, answer func(*Asked) (Answer, error)) any {
	asked := new(Asked)
	if err := strict.Read(request, asked); err != nil {
		return refused(err)
	}
	found, err := answer(asked)
	if err != nil {
		return refused(err)
	}
	return found
}

// plan finds a move; without the store, what is missing is told by the drop's models.
func plan(request []byte) any {
	return answered(request, func(a *drop.MoveAsked) (*drop.MoveAnswer, error) { return a.Answer(ctx, nil) })
}

func replay(request []byte) any { return answered(request, (*drop.ReplayAsked).Answer) }

// rescues answers without the store: what would cover more is then only moved about.
func rescues(request []byte) any {
	return answered(request, func(a *drop.RescueAsked) (*drop.RescueAnswer, error) { return a.Answer(ctx, env, nil, nil) })
}

func teamMove(request []byte) any {
	return answered(request, func(a *drop.TeamAsked) (*drop.TeamAnswer, error) { return a.Answer(ctx) })
}

func check(document, options []byte) answer {
	var a asked
	if err := strict.Read(options, &a); err != nil {
		return refused(err)
	}
	_, report, err := drop.ReadAndCheck(ctx, env, document, drop.Detail{Figures: a.Figures, Curves: a.Curves, Checks: a.Checks, Person: a.Person})
	if err != nil {
		return refused(err)
	}
	return answer{Report: report}
}

func refused(err error) answer {
	var e *strict.Error
	if errors.As(err, &e) {
		return answer{Errors: e.Faults}
	}
	return answer{Errors: []strict.Fault{{Detail: err.Error()}}}
}
