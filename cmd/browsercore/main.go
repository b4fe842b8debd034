//go:build js && wasm

// Command browsercore is the core for the browser, for where there is no signal: the same
// table of questions as the server's, asked from the page.
package main

import (
	"context"
	"encoding/json"
	"errors"
	"runtime/debug"
	"syscall/js"
	"time"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/progress"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/picture"
)

// answer is what was found, or what was refused.
type answer struct {
	Answer any            `json:"answer,omitempty"`
	Errors []strict.Fault `json:"errors,omitempty"`
}

// sayEvery is the shortest time between two messages of progress to the page.
const sayEvery = 100 * time.Millisecond

// teller tells the page how far it is.
func teller() func(progress.Report) {
	var said time.Time
	return func(r progress.Report) {
		now := time.Now()
		if now.Sub(said) < sayEvery {
			return
		}
		said = now
		if text, err := json.Marshal(r); err == nil {
			js.Global().Call("zealousKnotTell", string(text))
		}
	}
}

// main gives the page one function: the id of a question, its options and its request as
// JSON, and the answer as JSON. The context is never done: the page ends the worker of what
// takes too long. What was found is kept while the worker is there.
func main() {
	// There is one thread, and every collection stops the answer: fewer of them, as far as a
	// phone has room.
	debug.SetGCPercent(400)
	debug.SetMemoryLimit(200 << 20)
	ctx, env := progress.Told(context.Background(), teller()), ask.NewEnv()
	js.Global().Set("zealousKnotAsk", js.FuncOf(func(_ js.Value, args []js.Value) any {
		text, err := json.Marshal(answered(ctx, env, args[0].String(), args[1].String(), args[2].String()))
		if err != nil {
			return js.Null()
		}
		return string(text)
	}))
	select {}
}

func answered(ctx context.Context, env ask.Env, id, options, request string) answer {
	q := picture.Find(id)
	if q == nil {
		return answer{Errors: []strict.Fault{{Detail: "there is no question " + id}}}
	}
	found, err := q.Ask(ctx, env, []byte(options), []byte(request))
	var refused *strict.Error
	switch {
	case errors.As(err, &refused):
		return answer{Errors: refused.Faults}
	case err != nil:
		return answer{Errors: []strict.Fault{{Detail: err.Error()}}}
	}
	return answer{Answer: found}
}
