// Package ask is the one table of what the outside may ask the core: the API's operations,
// the page's core and the commands are made from it, so that a question is read, refused and
// answered alike wherever it is asked.
//
// It knows neither HTTP nor files, and keeps nothing: what is kept is its caller's Env.
package ask

import (
	"context"
	"reflect"
	"slices"

	"zealousknot/internal/core/calc"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/propose"
	"zealousknot/internal/core/run"
	"zealousknot/internal/core/strict"
)

// A Question is one computation that may be asked for.
type Question struct {
	// ID is the API's operation, Method and Path its address there.
	ID, Method, Path, Summary string
	// Heavy questions may take seconds: they take turns, and say how far they are.
	Heavy bool
	// Options are requested beside the request: in the address of an HTTP request. Nil for
	// none.
	Options reflect.Type
	// Request and Answer are structs whose fields are read and written as one object. No
	// Request: nothing is sent.
	Request, Answer []reflect.Type

	answer func(ctx context.Context, env Env, options, request []byte) (any, error)
}

// Ask reads a request, and options unless they are empty, as JSON, and answers. A
// *strict.Error names what was refused; else an error is the context's, or of what Env
// calls.
func (q *Question) Ask(ctx context.Context, env Env, options, request []byte) (any, error) {
	return q.answer(ctx, env, options, request)
}

// none are the options, or the request, of a question that has none.
type none = struct{}

// Row makes a row of the table from what answers it.
func Row[Options, Request, Answer any](q Question, answer func(context.Context, Env, Options, *Request) (Answer, error)) Question {
	o, r := reflect.TypeFor[Options](), reflect.TypeFor[Request]()
	if o.NumField() > 0 {
		q.Options = o
	}
	if r.NumField() > 0 {
		q.Request = []reflect.Type{r}
	}
	q.Answer = []reflect.Type{reflect.TypeFor[Answer]()}
	q.answer = func(ctx context.Context, env Env, options, request []byte) (any, error) {
		var chosen Options
		if q.Options != nil && len(options) > 0 {
			if err := strict.Read(options, &chosen); err != nil {
				return nil, err
			}
		}
		asked := new(Request)
		if q.Request != nil {
			if err := strict.Read(request, asked); err != nil {
				return nil, err
			}
		}
		return answer(ctx, env, chosen, asked)
	}
	return q
}

// asker is a request that knows its answer.
type asker[Request, Answer any] interface {
	*Request
	Answer(context.Context, Env) (Answer, error)
}

// asked makes a row from a request that knows its answer.
func asked[Request, Answer any, P asker[Request, Answer]](q Question) Question {
	return Row(q, func(ctx context.Context, env Env, _ none, r *Request) (Answer, error) { return P(r).Answer(ctx, env) })
}

// list makes a row that is the same for everybody.
func list[T any](id, path, summary string, all func() []T) Question {
	return Row(Question{ID: id, Method: "GET", Path: path, Summary: summary}, func(context.Context, Env, none, *none) ([]T, error) { return all(), nil })
}

// Questions gives the whole table.
func Questions() []Question {
	return append([]Question{
		list("moves", "/moves", "The moves that are planned", Moves),
		list("schools", "/schools", "Where practitioners differ over moves", Schools),
		list("team-moves", "/team/moves", "The moves of a team that are planned", TeamMoves),
		Row(Question{ID: "check", Method: "POST", Path: "/check", Summary: "Check a drop document; nothing is kept"}, Check),
		Row(Question{ID: "choices", Method: "POST", Path: "/choices", Summary: "Which items of the store fit a place in a drop, and why others do not"}, Choices),
		Row(Question{ID: "propose", Method: "POST", Path: "/propose", Summary: "What a drop lacks, proposed from the team's store; nothing is kept", Heavy: true}, Propose),
		Row(Question{ID: "model-trial", Method: "POST", Path: "/gear/trial", Summary: "What would be found of a model on a rope of the store, in each of its modes; nothing is kept"}, TryModel),
		asked[MoveAsked, *MoveAnswer](Question{ID: "plan-move", Method: "POST", Path: "/moves/plan", Summary: "Find a move of a person on a drop", Heavy: true}),
		asked[ReplayAsked, *ReplayAnswer](Question{ID: "replay-moves", Method: "POST", Path: "/moves/replay", Summary: "Walk a step list by the rules"}),
		asked[TeamAsked, *TeamAnswer](Question{ID: "plan-team", Method: "POST", Path: "/team/plan", Summary: "Find a move of a drop's team, or walk a list of its actions", Heavy: true}),
		asked[RescueAsked, *RescueAnswer](Question{ID: "rescue", Method: "POST", Path: "/rescue", Summary: "Who is reached from where on a drop, by which ways, and what would cover more", Heavy: true}),
		Row(Question{ID: "merge", Method: "POST", Path: "/merge", Summary: "Put two changes of one drop together, and say where they touch; nothing is kept"}, Merge),
		asked[WaitingAsked, *WaitingAnswer](Question{ID: "waiting", Method: "POST", Path: "/waiting", Summary: "What a drop, or things of the store, are with what a device has not sent yet; nothing is kept"}),
		Row(Question{ID: "callout", Method: "POST", Path: "/callout/card", Summary: "What to do with what is known of a callout: the worst end of every range; nothing is kept"}, Callout),
		Row(Question{ID: "capability", Method: "POST", Path: "/callout/kit", Summary: "What one kit is capable of by itself; nothing is kept"}, Capability),
		Row(Question{ID: "near", Method: "POST", Path: "/callout/near", Summary: "Known sites by name or distance; nothing is kept"}, NearSites),
		Row(Question{ID: "make-exercise", Method: "POST", Path: "/exercises", Summary: "Make an exercise: faults to find, what would happen, a move to do, models to tell apart; nothing is kept"}, MakeExercise),
		Row(Question{ID: "mark-exercise", Method: "POST", Path: "/exercises/mark", Summary: "Mark an answer to an exercise; nothing is kept"}, MarkExercise),
		Row(Question{ID: "step-exercise", Method: "POST", Path: "/exercises/step", Summary: "Where the steps of an exercise lead, and everything that could be done then; nothing is kept"}, StepExercise),
		Row(Question{ID: "run-state", Method: "POST", Path: "/run/state", Summary: "Fold the events of a run into its state; nothing is kept"}, RunState),
	}, figures()...)
}

// Find gives a question by its id; nil for none.
func Find(id string) *Question {
	all := Questions()
	if i := slices.IndexFunc(all, func(q Question) bool { return q.ID == id }); i >= 0 {
		return &all[i]
	}
	return nil
}

// Merge puts two changes of a drop together.
func Merge(_ context.Context, _ Env, _ none, a *drop.MergeAsked) (*drop.Merged, error) {
	return a.Answer()
}

// RunState folds a run.
func RunState(_ context.Context, _ Env, _ none, d *run.Document) (*run.State, error) {
	if err := d.Validate(); err != nil {
		return nil, err
	}
	return run.Fold(d), nil
}

// figures are a question for each single figure.
func figures() []Question {
	all := make([]Question, 0, len(calc.All))
	for _, c := range calc.All {
		q := Question{
			ID: "calc-" + c.Name, Method: "POST", Path: "/calc/" + c.Name, Summary: "Compute: " + c.Does,
			Request: []reflect.Type{c.In, reflect.TypeFor[calc.Options]()}, Answer: []reflect.Type{c.Out, reflect.TypeFor[calc.Extras]()},
			answer: func(_ context.Context, _ Env, _, request []byte) (any, error) { return c.Run(request) },
		}
		if c.HasCourse {
			q.Request = append(q.Request, reflect.TypeFor[calc.CourseOption]())
		}
		all = append(all, q)
	}
	return all
}

// CheckOptions say what a report holds beyond findings.
type CheckOptions struct {
	Figures bool   `json:"figures,omitempty" doc:"give the figures of anchors, strands and holds too, each with its working"`
	Curves  bool   `json:"curves,omitempty" doc:"give the figures of one person's set at every height too"`
	Checks  bool   `json:"checks,omitempty" doc:"give the function checks that the rig needs today too"`
	Person  string `json:"person,omitempty" maxLength:"64" doc:"whose curves; left out: the first who hangs"`
}

// Check checks a drop.
func Check(ctx context.Context, env Env, o CheckOptions, d *drop.Document) (*check.Report, error) {
	return check.Drop(ctx, d, env.Rescues, check.Detail{Figures: o.Figures, Curves: o.Curves, Person: o.Person, Checks: o.Checks})
}

// StockOptions say which drop what is asked about is.
type StockOptions struct {
	ID string `json:"id,omitempty" maxLength:"64" doc:"the drop's own id, so that what is on it as it is kept is not elsewhere"`
}

// ChoicesAsked asks what of the store fits a place.
type ChoicesAsked struct {
	Drop  drop.Document `json:"drop"`
	Place check.Place   `json:"place"`
	Find  string        `json:"find,omitempty" maxLength:"80" doc:"letters of a label, a serial, a code or a model"`
}

// Choices tries every kind of item of the store in a place.
func Choices(ctx context.Context, env Env, o StockOptions, a *ChoicesAsked) (*check.Choices, error) {
	stock, err := env.stock(ctx, &a.Drop, o.ID)
	if err != nil {
		return nil, err
	}
	return check.Choose(&a.Drop, a.Place, stock.Store, stock.Where, a.Find)
}

// Propose fills what a drop lacks.
func Propose(ctx context.Context, env Env, o StockOptions, a *propose.RigAsked) (*propose.Proposal, error) {
	stock, err := env.stock(ctx, &a.Drop, o.ID)
	if err != nil {
		return nil, err
	}
	return a.Answer(ctx, stock)
}

// ModelTrial is what would be found of a model.
type ModelTrial struct {
	Tried []check.ModelTried `json:"tried" doc:"one for each mode"`
}

// TryModel tries a model with what the store has.
func TryModel(ctx context.Context, env Env, _ none, a *check.ModelAsked) (*ModelTrial, error) {
	g, err := env.store(ctx)
	if err != nil {
		return nil, err
	}
	tried, err := a.Answer(ctx, g)
	if err != nil {
		return nil, err
	}
	return &ModelTrial{tried}, nil
}
