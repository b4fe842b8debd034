package web

import (
	"context"
	"net/http"
	"reflect"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/report"
	"zealousknot/internal/store"
)

// registerCallouts declares callouts and pre-plans.
func (c *Config) registerCallouts(api huma.API) {
	get(api, "callouts", "/callouts", "The team's callouts, last changed first, fifty at most", c.callouts)
	withBody(api, operation(http.MethodPut, "give-callout", "/callouts/{id}", "Give what a device has of a callout; the answer is what all devices have"), reflect.TypeFor[callout.Document](), c.giveCallout)
	away := operation(http.MethodPost, "put-away-callout", "/callouts/{id}/put-away", "Make a drop and its run of a callout, to be signed")
	withBody(api, away, reflect.TypeFor[awayCalloutBody](), c.putAwayCallout)
	file(api, "capability-pdf", "/store/kits/{name}/capability.pdf", "What a kit can do, on A5, for its lid", "application/pdf", c.printCapability)
	get(api, "preplans", "/preplans", "What is known of sites", c.preplans)
	withBody(api, operation(http.MethodPut, "save-preplan", "/preplans/{id}", "Keep a pre-plan, if nobody else has changed it; If-Match \"0\" for a new one"), reflect.TypeFor[callout.Preplan](), c.savePreplan)
	remove := operation(http.MethodDelete, "remove-preplan", "/preplans/{id}", "Remove a pre-plan, if nobody else has changed it")
	remove.DefaultStatus = http.StatusNoContent
	huma.Register(api, remove, c.removePreplan)
}

type calloutsOut struct {
	Body struct {
		Callouts []store.Callout `json:"callouts"`
	}
}

func (c *Config) callouts(ctx context.Context, _ *struct{}) (*calloutsOut, error) {
	list, err := c.Store.Callouts(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &calloutsOut{}
	out.Body.Callouts = list
	return out, nil
}

type calloutIn struct {
	ID      uuid.UUID `path:"id" format:"uuid"`
	RawBody []byte
}

type calloutOut struct {
	Body struct {
		Callout *callout.Document `json:"callout" doc:"what all devices have of it"`
	}
}

func (c *Config) giveCallout(ctx context.Context, in *calloutIn) (*calloutOut, error) {
	d, err := callout.Read(in.RawBody)
	if err != nil {
		return nil, failed(ctx, err)
	}
	whole, err := c.Store.GiveCallout(ctx, who(ctx).Team.ID, signer(ctx), in.ID, d)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &calloutOut{}
	out.Body.Callout = whole
	return out, nil
}

type awayCalloutBody struct {
	Person string `json:"person,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"who of the team went down; left out: nobody of it"`
}

type awayCalloutOut struct {
	Body struct {
		Drop string `json:"drop"`
		Run  string `json:"run"`
	}
}

func (c *Config) putAwayCallout(ctx context.Context, in *calloutIn) (*awayCalloutOut, error) {
	var body awayCalloutBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	drop, run, err := c.Store.PutAwayCallout(ctx, who(ctx).Team, signer(ctx), in.ID, body.Person, time.Now())
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &awayCalloutOut{}
	out.Body.Drop, out.Body.Run = drop, run.String()
	return out, nil
}

type kitNameIn struct {
	Name string `path:"name" maxLength:"80"`
}

func (c *Config) printCapability(ctx context.Context, in *kitNameIn) (*fileOut, error) {
	team := who(ctx).Team
	own, _, err := c.Store.Policy(ctx, team)
	if err != nil {
		return nil, failed(ctx, err)
	}
	today := gear.Date(time.Now().In(team.Location()).Format(time.DateOnly))
	card, err := ask.Capability(ctx, c.env(ctx), struct{}{}, &callout.KitAsked{Kit: in.Name, Day: today, Policy: own})
	if err != nil {
		return nil, failed(ctx, err)
	}
	return c.printed(ctx, "capability", report.CapabilityCard(card))
}

type preplansOut struct {
	Body struct {
		Preplans []store.Preplan `json:"preplans"`
	}
}

func (c *Config) preplans(ctx context.Context, _ *struct{}) (*preplansOut, error) {
	list, err := c.Store.Preplans(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &preplansOut{}
	out.Body.Preplans = list
	return out, nil
}

type preplanIn struct {
	ID      string `path:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	IfMatch string `header:"If-Match" doc:"the version that was read"`
	RawBody []byte
}

type versionOut struct {
	ETag string `header:"ETag"`
	Body struct {
		Version int `json:"version"`
	}
}

func (c *Config) savePreplan(ctx context.Context, in *preplanIn) (*versionOut, error) {
	version, err := ifMatch(in.IfMatch)
	if err != nil {
		return nil, err
	}
	p, err := callout.ReadPreplan(in.RawBody)
	if err != nil {
		return nil, failed(ctx, err)
	}
	saved, err := c.Store.SavePreplan(ctx, who(ctx).Team, signer(ctx), in.ID, version, p)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &versionOut{ETag: etag(saved)}
	out.Body.Version = saved
	return out, nil
}

type removePreplanIn struct {
	ID      string `path:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	IfMatch string `header:"If-Match" doc:"the version that was read"`
}

func (c *Config) removePreplan(ctx context.Context, in *removePreplanIn) (*struct{}, error) {
	version, err := ifMatch(in.IfMatch)
	if err != nil {
		return nil, err
	}
	if _, err := c.Store.SavePreplan(ctx, who(ctx).Team, signer(ctx), in.ID, version, nil); err != nil {
		return nil, failed(ctx, err)
	}
	return nil, nil
}
