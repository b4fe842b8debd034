package web

import (
	"context"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

const (
	// maxBatchBytes is the largest batch that is read.
	maxBatchBytes = 256 << 10
	// perSecond and burst are how many records one account may send, to all instances
	// together: a device that comes back from a day without signal sends all at once.
	perSecond, burst = 50, 3000
	// pageSize is how many records a list gives.
	pageSize = 200
)

type outcomesOut struct {
	Body struct {
		Records []store.Outcome `json:"records" doc:"one for each that was sent, in the same order"`
	}
}

// addRecords records a batch. What was recorded stands once this answers; a batch
// that is sent again, since its answer was lost, is recorded once.
func (c *Config) addRecords(ctx context.Context, in *rawIn) (*outcomesOut, error) {
	var batch record.Batch
	if err := strict.Read(in.RawBody, &batch); err != nil {
		return nil, failed(ctx, err)
	}
	i := who(ctx)
	if err := mayRecord(i, &batch); err != nil {
		return nil, err
	}
	wait, err := c.Store.Spend(ctx, i.Account, len(batch.Records), perSecond, burst)
	if err != nil {
		return nil, failed(ctx, err)
	}
	if wait > 0 {
		p := NewProblem(http.StatusTooManyRequests, "too many records at once; send the rest later")
		return nil, huma.ErrorWithHeaders(p, http.Header{"Retry-After": {seconds(wait)}})
	}
	outcomes, err := c.Store.Record(ctx, i.Team, signer(ctx), &batch)
	if err != nil {
		return nil, failed(ctx, err)
	}
	for _, o := range outcomes {
		c.metrics.records.WithLabelValues(o.State).Inc()
	}
	out := &outcomesOut{}
	out.Body.Records = outcomes
	return out, nil
}

// mayRecord refuses a batch that holds what the roles do not record.
func mayRecord(i *store.Identity, b *record.Batch) error {
	var faults []strict.Fault
	for n := range b.Records {
		kind := b.Records[n].Kind
		if r := KindRights[kind]; !r.Has(i.Roles) {
			faults = append(faults, strict.Fault{Pointer: strict.Pointer("records", n, "kind"), Detail: "a " + string(kind) + " is recorded by a " + strings.Join(r.Roles, " or ")})
		}
	}
	for n := range b.Records {
		if p := b.Records[n].Practice; p != nil && p.How == rig.OnScreen {
			faults = append(faults, strict.Fault{Pointer: strict.Pointer("records", n, "practice", "how"), Detail: "what is practised on a screen is recorded with its mark"})
		}
	}
	if faults != nil {
		return NewProblem(http.StatusForbidden, "your roles do not record this; nothing was recorded", faults...)
	}
	return nil
}

type recordsIn struct {
	Day    string `query:"day" format:"date" doc:"the records of a day"`
	Drop   string `query:"drop" maxLength:"64" doc:"with day: of this drop alone"`
	Item   string `query:"item" maxLength:"64" doc:"the records of an item"`
	About  string `query:"about" pattern:"^(item|kit|model|drop|policy|team):[a-z0-9][a-z0-9-]{0,63}$" doc:"the records about one thing, such as model:descender-a"`
	Before int64  `query:"before" minimum:"0" doc:"only those with a lower number: for the next page"`
}

type linesOut struct {
	Body struct {
		Records []store.RecordLine `json:"records"`
		// More says that there are earlier ones.
		More bool `json:"more,omitempty"`
	}
}

func (c *Config) records(ctx context.Context, in *recordsIn) (*linesOut, error) {
	team, page := who(ctx).Team.ID, store.Page{Before: in.Before, Limit: pageSize + 1, Reader: reader(ctx), NoMembers: !is(who(ctx), Supervisor)}
	switch {
	case in.Item != "" && in.Day == "" && in.About == "":
		return listed(ctx)(c.Store.RecordsAbout(ctx, team, record.Subject{Kind: "item", ID: in.Item}, page))
	case in.About != "" && in.Item == "" && in.Day == "":
		kind, id, _ := strings.Cut(in.About, ":")
		return listed(ctx)(c.Store.RecordsAbout(ctx, team, record.Subject{Kind: kind, ID: id}, page))
	case in.Day != "" && in.Item == "" && in.About == "":
		return listed(ctx)(c.Store.RecordsOfDay(ctx, team, gear.Date(in.Day), in.Drop, page))
	}
	return nil, NewProblem(http.StatusUnprocessableEntity, "ask for a day, an item or about one thing", strict.Fault{Pointer: "/query/day", Detail: "give one of day, item, about"})
}

// reader is who sees of all hours their own alone, as in a person's log: whoever is
// neither supervisor nor trainer.
func reader(ctx context.Context) *store.Reader {
	i := who(ctx)
	if is(i, Supervisor) || is(i, Trainer) {
		return nil
	}
	return &store.Reader{Account: i.Account, Person: i.Person}
}

func listed(ctx context.Context) func([]store.RecordLine, error) (*linesOut, error) {
	return func(lines []store.RecordLine, err error) (*linesOut, error) {
		if err != nil {
			return nil, failed(ctx, err)
		}
		out := &linesOut{}
		out.Body.Records, out.Body.More = lines[:min(len(lines), pageSize)], len(lines) > pageSize
		return out, nil
	}
}

type logIn struct {
	ID     string `path:"id" maxLength:"64" doc:"who on the team's drops; me: who asks"`
	Before int64  `query:"before" minimum:"0"`
}

type logOut struct {
	Body struct {
		Hours   []store.WorkHours  `json:"hours"`
		Records []store.RecordLine `json:"records" doc:"what this person signed, and what is about them"`
		More    bool               `json:"more,omitempty"`
	}
}

// personOf finds whose log is requested, and refuses those of others to whom they
// are no business of.
func (c *Config) personOf(ctx context.Context, id string) (account uuid.UUID, person string, err error) {
	i := who(ctx)
	if id == "me" || id == i.Person {
		return i.Account, i.Person, nil
	}
	if !is(i, Supervisor) && !is(i, Trainer) {
		return uuid.Nil, "", NewProblem(http.StatusForbidden, "only one's own; those of others: supervisor or trainer")
	}
	people, err := c.Store.People(ctx, i.Team.ID)
	if err != nil {
		return uuid.Nil, "", failed(ctx, err)
	}
	members, err := c.Store.Members(ctx, i.Team.ID)
	if err != nil {
		return uuid.Nil, "", failed(ctx, err)
	}
	for _, m := range members {
		if m.Person == id {
			return m.Account, id, nil
		}
	}
	for _, p := range people {
		if p.ID == id {
			return uuid.Nil, id, nil
		}
	}
	return uuid.Nil, "", failed(ctx, store.ErrNotFound)
}

func (c *Config) log(ctx context.Context, in *logIn) (*logOut, error) {
	account, person, err := c.personOf(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	team := who(ctx).Team.ID
	hours, err := c.Store.HoursOf(ctx, team, person)
	if err != nil {
		return nil, failed(ctx, err)
	}
	lines, err := listed(ctx)(c.Store.RecordsOfPerson(ctx, team, account, person, store.Page{Before: in.Before, Limit: pageSize + 1}))
	if err != nil {
		return nil, err
	}
	out := &logOut{}
	out.Body.Hours, out.Body.Records, out.Body.More = hours, lines.Body.Records, lines.Body.More
	return out, nil
}
