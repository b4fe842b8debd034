package web

import (
	"context"
	"errors"
	"net/http"
	"reflect"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

// registerPINs declares how somebody signs on the device of somebody else.
func (c *Config) registerPINs(api huma.API) {
	withBody(api, operation(http.MethodPut, "set-pin", "/session/pin", "Set the number by which one signs a partner check on somebody else's device, or remove it"), reflect.TypeFor[pinBody](), c.setPIN)
	get(api, "partners", "/partners", "Who may sign a partner check by PIN on this device", c.partners)
	withBody(api, operation(http.MethodPost, "record-by-pin", "/records/by-pin", "Record a partner check that somebody else signs on this device by their PIN"), reflect.TypeFor[byPINBody](), c.recordByPIN)
}

type pinBody struct {
	Password string `json:"password" minLength:"1" maxLength:"200" doc:"one's password"`
	PIN      string `json:"pin" pattern:"^([0-9]{6,12})?$" doc:"six digits or more; empty: none any more"`
}

func (c *Config) setPIN(ctx context.Context, in *rawIn) (*struct{}, error) {
	var body pinBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	if err := c.ownPassword(ctx, "/password", body.Password); err != nil {
		return nil, err
	}
	hash := ""
	if body.PIN != "" {
		err := goodPIN(body.PIN)
		if err == nil {
			hash, err = HashPassword(ctx, body.PIN)
		}
		if err != nil {
			return nil, failed(ctx, err)
		}
	}
	if err := c.Store.SetPIN(ctx, who(ctx).Account, hash); err != nil {
		return nil, failed(ctx, err)
	}
	return nil, nil
}

// goodPIN wants a number that does not come to anybody's mind: not one digit again and again, not
// counted up or down.
func goodPIN(pin string) error {
	var p strict.Faults
	steps := map[int]bool{}
	for i := 1; i < len(pin); i++ {
		steps[(int(pin[i])-int(pin[i-1])+10)%10] = true
	}
	if len(steps) == 1 && (steps[0] || steps[1] || steps[9]) {
		p.Addf("/pin", "anybody would try this one")
	}
	return p.Err()
}

type partnersOut struct {
	Body struct {
		Partners []partnerLine `json:"partners"`
	}
}

type partnerLine struct {
	Account uuid.UUID `json:"account"`
	Name    string    `json:"name"`
}

func (c *Config) partners(ctx context.Context, _ *struct{}) (*partnersOut, error) {
	i := who(ctx)
	list, err := c.Store.Partners(ctx, i.Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &partnersOut{}
	out.Body.Partners = []partnerLine{}
	for _, p := range list {
		if p.Account != i.Account && KindRights[record.PartnerCheck].Has(p.Roles) {
			out.Body.Partners = append(out.Body.Partners, partnerLine{p.Account, p.Name})
		}
	}
	return out, nil
}

type byPINBody struct {
	SentAt  string       `json:"sent_at" format:"date-time" doc:"by the clock of the device"`
	Account string       `json:"account" format:"uuid" doc:"who signs"`
	PIN     string       `json:"pin" pattern:"^[0-9]{6,12}$"`
	Record  record.Entry `json:"record" doc:"a partner check"`
}

// recordByPIN records what somebody signs with their PIN: judged as signed by them, and noted
// on whose device it was. Wrong numbers slow guesses at that person.
func (c *Config) recordByPIN(ctx context.Context, in *rawIn) (*outcomesOut, error) {
	var body byPINBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	if body.Record.Kind != record.PartnerCheck || body.Record.Paper != nil {
		return nil, NewProblem(http.StatusUnprocessableEntity, "nothing was recorded", strict.Fault{Pointer: "/record/kind", Detail: "a partner check alone is signed by PIN, done on this device"})
	}
	i := who(ctx)
	account, _ := uuid.Parse(body.Account)
	p, err := c.Store.Partner(ctx, i.Team, account)
	if errors.Is(err, store.ErrNotFound) || err == nil && p.Demo && !c.Demo {
		// It takes as long as for who has one.
		p, err = &store.Partner{Hash: nobodysHash}, nil
	}
	if err != nil {
		return nil, failed(ctx, err)
	}
	key := "pin of " + account.String()
	right, err := c.guess(ctx, body.PIN, p.Hash, key)
	if err != nil {
		return nil, err
	}
	if !right {
		return nil, NewProblem(http.StatusUnprocessableEntity, "nothing was recorded", strict.Fault{Pointer: "/pin", Detail: "is not this person's"})
	}
	if err := c.Store.Forget(ctx, key); err != nil {
		return nil, failed(ctx, err)
	}
	batch := &record.Batch{SentAt: body.SentAt, Records: []record.Entry{body.Record}}
	if err := mayRecord(&p.Identity, batch); err != nil {
		return nil, err
	}
	outcomes, err := c.Store.RecordOn(ctx, i.Team, signerOf(&p.Identity), i.Name, batch)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &outcomesOut{}
	out.Body.Records = outcomes
	return out, nil
}
