package web

import (
	"context"
	"errors"
	"net/http"
	"strconv"
	"time"

	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

type planOut struct {
	ETag string `header:"ETag" doc:"of the drop as it is now"`
	Body *store.Plan
}

func (c *Config) plan(ctx context.Context, in *idIn) (*planOut, error) {
	p, err := c.Store.Plan(ctx, who(ctx).Team, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	if p.State == record.Checked {
		against, err := c.against(ctx, in.ID)
		if err != nil {
			return nil, failed(ctx, err)
		}
		p.ToRelease = append(p.ToRelease, against...)
	}
	return &planOut{etag(p.Version), p}, nil
}

// against are the words of the day's board about a drop that stand in the way of its release;
// none where nobody has kept a board, or has given the drop no time on it.
func (c *Config) against(ctx context.Context, id string) ([]string, error) {
	d, err := c.Store.Drop(ctx, who(ctx).Team.ID, id)
	if err != nil || d.Document.Day == "" {
		return nil, err
	}
	_, asked, _, _, err := c.board(ctx, d.Document.Day)
	if err != nil {
		return nil, err
	}
	stops, err := asked.Against(id)
	if err != nil {
		return []string{"the day's board cannot be judged: " + err.Error()}, nil // it stops no other page
	}
	var list []string
	for _, f := range stops {
		list = append(list, "the day's board: "+f.What)
	}
	return list, nil
}

type planBody struct {
	State   record.State    `json:"state" enum:"draft,checked,released"`
	Reasons []record.Reason `json:"reasons,omitempty" maxItems:"200" doc:"for every look, to release"`
}

type setPlanIn struct {
	ID      string `path:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	IfMatch string `header:"If-Match" doc:"the ETag of the drop that was looked at"`
	RawBody []byte
}

// setPlan gives a plan a state. What is in the way is reported with its place.
func (c *Config) setPlan(ctx context.Context, in *setPlanIn) (*planOut, error) {
	version, err := ifMatch(in.IfMatch)
	if err != nil {
		return nil, err
	}
	var body planBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	i := who(ctx)
	if body.State == record.Released && !is(i, Supervisor) {
		return nil, NewProblem(http.StatusForbidden, "a plan is released by a supervisor", strict.Fault{Pointer: "/state", Detail: "requires the supervisor role"})
	}
	if body.State == record.Released {
		against, err := c.against(ctx, in.ID)
		if err != nil {
			return nil, failed(ctx, err)
		}
		var faults []strict.Fault
		for _, what := range against {
			faults = append(faults, strict.Fault{Pointer: "/state", Detail: what})
		}
		if faults != nil {
			return nil, NewProblem(http.StatusUnprocessableEntity, "the plan stays as it was", faults...)
		}
	}
	err = c.Store.SetPlan(ctx, i.Team, signer(ctx), in.ID, version, body.State, body.Reasons)
	var refused *strict.Error
	if errors.As(err, &refused) {
		return nil, NewProblem(http.StatusUnprocessableEntity, "the plan stays as it was", refused.Faults...)
	}
	if err != nil {
		return nil, failed(ctx, err)
	}
	return c.plan(ctx, &idIn{in.ID})
}

func seconds(d time.Duration) string { return strconv.Itoa(int(d.Seconds()) + 1) }
