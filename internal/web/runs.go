package web

import (
	"bytes"
	"cmp"
	"context"
	"net/http"
	"reflect"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/run"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/report"
	"zealousknot/internal/store"
)

// registerRuns declares runs.
func (c *Config) registerRuns(api huma.API) {
	get(api, "runs", "/runs", "The runs of a drop, or of all, last made first", c.runs)
	make := operation(http.MethodPost, "make-run", "/runs", "Make a run of a drop that is released; an exercise of any")
	make.DefaultStatus = http.StatusCreated
	withBody(api, make, reflect.TypeFor[makeRunBody](), heavy(c, c.makeRun))
	get(api, "run", "/runs/{id}", "A run with its events and its state", c.run)
	give := operation(http.MethodPost, "give-events", "/runs/{id}/events", "Give events of a run, in any order, each once")
	give.MaxBodyBytes = maxBatchBytes
	withBody(api, give, reflect.TypeFor[eventsBody](), c.giveEvents)
	withBody(api, operation(http.MethodPost, "put-away", "/runs/{id}/put-away", "Sign what was counted on a run that has ended, and seal it"), reflect.TypeFor[run.PuttingAway](), c.putAway)
	get(api, "run-after", "/runs/{id}/after", "What is left to do about the items of a run: to dry, to clean, to look at, not back, due", c.runAfter)
	huma.Register(api, operation(http.MethodGet, "learning", "/runs/learning", "How long the team's actions took on its runs, and which times that proposes; nothing is changed"), heavy(c, c.learning))
	c.registerReadings(api)
	file(api, "run-pdf", "/runs/{id}/log.pdf", "The log of a run as PDF", "application/pdf", c.printRun)
	file(api, "run-sheet-pdf", "/runs/{id}/sheet.pdf", "The sheet of a run to hang up before it starts, as PDF", "application/pdf", c.printRunSheet)
	file(api, "run-csv", "/runs/{id}/log.csv", "The events of a run as CSV", "text/csv", c.runCSV)
}

type runsIn struct {
	Drop string `query:"drop" maxLength:"64" doc:"of this drop alone"`
}

type runsOut struct {
	Body struct {
		Runs []store.RunLine `json:"runs"`
	}
}

func (c *Config) runs(ctx context.Context, in *runsIn) (*runsOut, error) {
	list, err := c.Store.Runs(ctx, who(ctx).Team.ID, in.Drop)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &runsOut{}
	out.Body.Runs = list
	return out, nil
}

type makeRunBody struct {
	Drop     string `json:"drop" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Exercise bool   `json:"exercise,omitempty" doc:"nothing of it enters a counter or what is learnt; the plan need not be released"`
}

type madeOut struct {
	Location string `header:"Location"`
	Body     struct {
		ID string `json:"id"`
	}
}

func (c *Config) makeRun(ctx context.Context, in *rawIn) (*madeOut, error) {
	var body makeRunBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	i := who(ctx)
	if !body.Exercise {
		// The board may have changed since the release.
		against, err := c.against(ctx, body.Drop)
		if err != nil {
			return nil, failed(ctx, err)
		}
		if len(against) > 0 {
			return nil, NewProblem(http.StatusUnprocessableEntity, "no run was made", strict.Fault{Pointer: "/drop", Detail: against[0]})
		}
	}
	id, err := c.Store.AddRun(ctx, i.Team, signer(ctx), body.Drop, body.Exercise)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &madeOut{Location: "/api/v1/runs/" + id.String()}
	out.Body.ID = id.String()
	return out, nil
}

type learningOut struct{ Body *store.Learning }

func (c *Config) learning(ctx context.Context, _ *struct{}) (*learningOut, error) {
	l, err := c.Store.Learning(ctx, who(ctx).Team)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &learningOut{l}, nil
}

type runIn struct {
	ID uuid.UUID `path:"id" format:"uuid"`
}

type runOut struct {
	Body RunBody
}

// RunBody is a run as a page needs it.
type RunBody struct {
	store.RunLine
	Name string `json:"name" doc:"of the drop"`
	// Plan is the state that the drop's plan was given last: a run goes on when it is taken back.
	Plan  record.State  `json:"plan" enum:"draft,checked,released" doc:"the state that the drop's plan was given last; a run goes on when it is taken back"`
	Run   *run.Document `json:"run"`
	State *run.State    `json:"state"`
	Now   time.Time     `json:"now" doc:"by the clock of the server"`
}

func (c *Config) run(ctx context.Context, in *runIn) (*runOut, error) {
	team := who(ctx).Team.ID
	r, err := c.Store.Run(ctx, team, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	states, err := c.Store.States(ctx, team)
	if err != nil {
		return nil, failed(ctx, err)
	}
	names, err := c.Store.DropNames(ctx, team, []string{r.Drop})
	if err != nil {
		return nil, failed(ctx, err)
	}
	plan := cmp.Or(states[r.Drop].State, record.Draft)
	name := names[r.Drop]
	if name == "" {
		name = r.Drop
	}
	return &runOut{RunBody{r.RunLine, name, plan, r.Document, run.Fold(r.Document), time.Now().UTC()}}, nil
}

type eventsIn struct {
	ID      uuid.UUID `path:"id" format:"uuid"`
	RawBody []byte
}

type eventsBody struct {
	SentAt string      `json:"sent_at" format:"date-time" doc:"by the clock of the device that sends; how far it is off is kept with each event"`
	Events []run.Event `json:"events" minItems:"1" maxItems:"100"`
}

type eventsOut struct {
	Body struct {
		Events []store.Outcome `json:"events" doc:"one for each that was sent, in the same order"`
	}
}

// supervised are the kinds of events that a supervisor alone gives.
var supervised = []run.Kind{run.Start, run.End, run.Resume, run.Brief}

// mayGive refuses events that are not for who sends them: people mark themselves, a supervisor
// everybody; a run is put away by its own operation.
func mayGive(i *store.Identity, events []run.Event) error {
	var faults []strict.Fault
	for n := range events {
		e := &events[n]
		refuse := func(field, words string) {
			faults = append(faults, strict.Fault{Pointer: strict.Pointer("events", n, field), Detail: words})
		}
		switch {
		case e.Kind == run.PutAway || e.Kind == run.Close:
			refuse("kind", "a run is put away with what is counted, and closed by that")
		case is(i, Supervisor):
		case slices.Contains(supervised, e.Kind):
			refuse("kind", string(e.Kind)+" is given by a supervisor")
		case e.Person != "" && e.Person != i.Person && e.Kind != run.Otherwise && e.Kind != run.Stop && e.Kind != run.Happened && e.Kind != run.Call && e.Kind != run.Quarantine:
			refuse("person", "people mark themselves; others are marked by a supervisor")
		}
	}
	if faults != nil {
		return NewProblem(http.StatusForbidden, "your roles do not give this; nothing was kept", faults...)
	}
	return nil
}

// clockNoted is how far a device's clock may be off before it is noted, mostClockOff how far it
// may be off at all: what is known to be off is put right.
const clockNoted, mostClockOff = 2 * time.Second, 24 * time.Hour

// giveEvents keeps events. What was kept stands once this answers; sent again they are kept
// once.
func (c *Config) giveEvents(ctx context.Context, in *eventsIn) (*eventsOut, error) {
	var body eventsBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	i := who(ctx)
	if err := mayGive(i, body.Events); err != nil {
		return nil, err
	}
	sent, _ := time.Parse(time.RFC3339Nano, body.SentAt)
	offset := time.Since(sent).Round(time.Millisecond)
	switch {
	case offset.Abs() > mostClockOff:
		return nil, failed(ctx, &strict.Error{Faults: []strict.Fault{{Pointer: "/sent_at", Detail: "the clock of this device is off by " + offset.Abs().Round(time.Minute).String() + "; set it"}}})
	case offset.Abs() < clockNoted:
		offset = 0
	}
	wait, err := c.Store.Spend(ctx, i.Account, len(body.Events), perSecond, burst)
	if err != nil {
		return nil, failed(ctx, err)
	}
	if wait > 0 {
		return nil, huma.ErrorWithHeaders(NewProblem(http.StatusTooManyRequests, "too many events at once; send the rest later"), http.Header{"Retry-After": {seconds(wait)}})
	}
	outcomes, err := c.Store.GiveEvents(ctx, i.Team, signer(ctx), in.ID, offset, body.Events)
	if err != nil {
		return nil, failed(ctx, err)
	}
	if err := c.quarantine(ctx, in.ID, body.Events, outcomes); err != nil {
		return nil, failed(ctx, err)
	}
	out := &eventsOut{}
	out.Body.Events = outcomes
	return out, nil
}

// quarantine stops the items that events name; of an exercise none: what was not in it stays in
// service. An event that was kept already may have been
// cut off before this: it is done again, and recorded once.
func (c *Config) quarantine(ctx context.Context, id uuid.UUID, events []run.Event, outcomes []store.Outcome) error {
	now := time.Now().UTC()
	team := who(ctx).Team
	b := &record.Batch{SentAt: now.Format(time.RFC3339Nano)}
	var of []int
	for n := range events {
		e := &events[n]
		if e.Kind != run.Quarantine || outcomes[n].State == "refused" {
			continue
		}
		for _, item := range e.Items {
			of = append(of, n)
			b.Records = append(b.Records, record.Entry{
				ID: uuid.NewSHA1(uuid.MustParse(e.ID), []byte(item)).String(), Kind: record.Quarantine, GivenAt: e.At().UTC().Format(time.RFC3339Nano),
				Day: gear.Date(e.At().In(team.Location()).Format(time.DateOnly)), Item: item, Note: e.Reason, Quarantine: &record.Quarantined{Event: "shock-load", In: e.Person},
			})
		}
	}
	if len(b.Records) == 0 {
		return nil
	}
	r, err := c.Store.Run(ctx, team.ID, id)
	if err != nil || r.Exercise {
		return err
	}
	recorded, err := c.Store.Record(ctx, team, signer(ctx), b)
	for i, o := range recorded {
		// The run says that it is stopped: whoever gave it learns where it is not.
		if o.State == "refused" {
			outcomes[of[i]].Conflict = b.Records[i].Item + " is not in quarantine: " + o.Errors[0].Detail
		}
	}
	return err
}

type putAwayIn struct {
	ID      uuid.UUID `path:"id" format:"uuid"`
	RawBody []byte
}

func (c *Config) putAway(ctx context.Context, in *putAwayIn) (*runOut, error) {
	var away run.PuttingAway
	if err := strict.Read(in.RawBody, &away); err != nil {
		return nil, failed(ctx, err)
	}
	if err := c.Store.PutAway(ctx, who(ctx).Team, signer(ctx), in.ID, &away); err != nil {
		return nil, failed(ctx, err)
	}
	return c.run(ctx, &runIn{in.ID})
}

type runAfterOut struct{ Body *run.After }

func (c *Config) runAfter(ctx context.Context, in *runIn) (*runAfterOut, error) {
	after, err := c.Store.RunAfter(ctx, who(ctx).Team, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &runAfterOut{after}, nil
}

func (c *Config) printRun(ctx context.Context, in *runIn) (*fileOut, error) {
	out, err := c.run(ctx, in)
	if err != nil {
		return nil, err
	}
	b := &out.Body
	return c.printed(ctx, "run-"+b.Drop, report.Run(b.Name, string(b.Day), b.Run, b.State, who(ctx).Team.Location()))
}

func (c *Config) printRunSheet(ctx context.Context, in *runIn) (*fileOut, error) {
	out, err := c.run(ctx, in)
	if err != nil {
		return nil, err
	}
	b := &out.Body
	return c.printed(ctx, "run-sheet-"+b.Drop, report.RunSheet(b.Name, string(b.Day), b.Run, b.State, who(ctx).Team.Location()))
}

func (c *Config) runCSV(ctx context.Context, in *runIn) (*fileOut, error) {
	r, err := c.Store.Run(ctx, who(ctx).Team.ID, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	var b bytes.Buffer
	if err := report.RunCSV(&b, r.Document); err != nil {
		return nil, failed(ctx, err)
	}
	return attached("run-"+r.Drop+".csv", &b), nil
}
