package web

import (
	"context"
	"time"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/strict"
)

type policyOut struct {
	ETag string `header:"ETag"`
	Body struct {
		Own     *policy.Policy   `json:"own" doc:"what the team decided; what it leaves out is as shipped"`
		InForce *policy.Policy   `json:"in_force" doc:"with everything filled in"`
		Shipped *policy.Policy   `json:"shipped" doc:"defaults, to be checked against the manufacturer's instructions and local rules"`
		Times   []ask.ActionTime `json:"times" doc:"how long each action takes as shipped"`
	}
}

func (c *Config) policy(ctx context.Context, _ *struct{}) (*policyOut, error) {
	own, version, err := c.Store.Policy(ctx, who(ctx).Team)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &policyOut{ETag: etag(version)}
	out.Body.Own, out.Body.InForce, out.Body.Shipped = own, own.With(), policy.Default()
	out.Body.Times = ask.ActionTimes()
	return out, nil
}

type zoneBody struct {
	TimeZone string `json:"time_zone" minLength:"1" maxLength:"60" doc:"IANA name, such as Europe/Vienna or UTC"`
}

func (c *Config) setTimeZone(ctx context.Context, in *rawIn) (*struct{}, error) {
	var body zoneBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	// The empty name and Local are no zones of their own.
	if _, err := time.LoadLocation(body.TimeZone); err != nil || body.TimeZone == "Local" {
		return nil, failed(ctx, &strict.Error{Faults: []strict.Fault{{Pointer: "/time_zone", Detail: "no such zone; it is the IANA name, such as Europe/Vienna"}}})
	}
	if err := c.Store.SetTimeZone(ctx, who(ctx).Team, signer(ctx), body.TimeZone); err != nil {
		return nil, failed(ctx, err)
	}
	return nil, nil
}

type putPolicyIn struct {
	IfMatch string `header:"If-Match" doc:"the ETag the policy was read with"`
	RawBody []byte
}

type putPolicyOut struct {
	ETag string `header:"ETag"`
}

func (c *Config) putPolicy(ctx context.Context, in *putPolicyIn) (*putPolicyOut, error) {
	version, err := ifMatch(in.IfMatch)
	if err != nil {
		return nil, err
	}
	p, err := policy.Read(in.RawBody)
	if err != nil {
		return nil, failed(ctx, err)
	}
	version, err = c.Store.SavePolicy(ctx, who(ctx).Team, signer(ctx), version, p)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &putPolicyOut{etag(version)}, nil
}
