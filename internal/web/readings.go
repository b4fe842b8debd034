package web

import (
	"bytes"
	"context"
	"fmt"
	"maps"
	"net/http"
	"reflect"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/run"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

// registerReadings declares what devices measure on a run.
func (c *Config) registerReadings(api huma.API) {
	get(api, "tokens", "/runs/{id}/device-tokens", "The devices that may send readings of a run", c.tokens)
	make := operation(http.MethodPost, "make-token", "/runs/{id}/device-tokens", "Let a device send readings of a run; its token is given once")
	make.DefaultStatus = http.StatusCreated
	withBody(api, make, reflect.TypeFor[tokenBody](), c.makeToken)
	huma.Register(api, operation(http.MethodDelete, "revoke-token", "/runs/{id}/device-tokens/{token}", "Let a device send no more"), c.revokeToken)
	send := operation(http.MethodPost, "send-readings", "/runs/{id}/readings", "Send readings: lines of JSON, or CSV with a header row; Authorization: Bearer TOKEN")
	send.MaxBodyBytes = maxBatchBytes
	withSchema(api, send, &huma.Schema{Type: huma.TypeString}, c.sendReadings)
	get(api, "readings", "/runs/{id}/readings", "The readings of a run, drawn down to a width with no peak lost", c.readings)
	file(api, "readings-csv", "/runs/{id}/readings.csv", "Every reading of a run as CSV", "text/csv", c.readingsCSV)
}

type tokensOut struct {
	Body struct {
		Tokens []store.DeviceToken `json:"tokens"`
	}
}

func (c *Config) tokens(ctx context.Context, in *runIn) (*tokensOut, error) {
	list, err := c.Store.DeviceTokens(ctx, who(ctx).Team.ID, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &tokensOut{}
	out.Body.Tokens = list
	return out, nil
}

type tokenBody struct {
	Name string `json:"name" minLength:"1" maxLength:"60" doc:"what the device is, such as load cell on the main"`
}

type tokenOut struct {
	Body struct {
		ID    string `json:"id"`
		Token string `json:"token" doc:"given once, never again"`
	}
}

func (c *Config) makeToken(ctx context.Context, in *eventsIn) (*tokenOut, error) {
	var body tokenBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	id, secret, err := c.Store.AddDeviceToken(ctx, who(ctx).Team.ID, signer(ctx), in.ID, body.Name)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &tokenOut{}
	out.Body.ID, out.Body.Token = id.String(), secret
	return out, nil
}

type tokenIn struct {
	ID    uuid.UUID `path:"id" format:"uuid"`
	Token uuid.UUID `path:"token" format:"uuid"`
}

func (c *Config) revokeToken(ctx context.Context, in *tokenIn) (*struct{}, error) {
	if err := c.Store.RevokeDeviceToken(ctx, who(ctx).Team.ID, in.ID, in.Token); err != nil {
		return nil, failed(ctx, err)
	}
	return nil, nil
}

type readingsIn struct {
	ID            uuid.UUID `path:"id" format:"uuid"`
	Authorization string    `header:"Authorization" doc:"Bearer, then the device token"`
	RawBody       []byte
}

type readingsOut struct {
	Body struct {
		Kept    int             `json:"kept" doc:"readings that were taken, those that were there already included"`
		Refused []run.LineFault `json:"refused" doc:"lines that were wrong; the others stand"`
	}
}

// readingsASecond is how many readings one run takes, over all its channels.
const readingsASecond, readingsAtOnce = 6000, 60000

// sendReadings keeps what a device sends; a token of another run, or one that was revoked, is
// none.
func (c *Config) sendReadings(ctx context.Context, in *readingsIn) (*readingsOut, error) {
	secret, bearer := strings.CutPrefix(in.Authorization, "Bearer ")
	team, id, err := c.Store.RunOfToken(ctx, secret)
	if !bearer || err != nil || id != in.ID {
		return nil, NewProblem(http.StatusUnauthorized, "no device token of this run", strict.Fault{Pointer: "/header/Authorization", Detail: "a token that was made on the run's page, not revoked"})
	}
	by, refused, err := run.ReadReadings(in.RawBody)
	if err != nil {
		return nil, NewProblem(http.StatusRequestEntityTooLarge, err.Error())
	}
	out := &readingsOut{}
	out.Body.Refused = refused
	for _, list := range by {
		out.Body.Kept += len(list)
	}
	wait, err := c.Store.Spend(ctx, id, out.Body.Kept, readingsASecond, readingsAtOnce)
	if err != nil {
		return nil, failed(ctx, err)
	}
	if wait > 0 {
		return nil, huma.ErrorWithHeaders(NewProblem(http.StatusTooManyRequests, "too many readings at once; send the rest later"), http.Header{"Retry-After": {seconds(wait)}})
	}
	if err := c.Store.AddReadings(ctx, team, id, by); err != nil {
		return nil, failed(ctx, err)
	}
	return out, nil
}

type drawnIn struct {
	ID    uuid.UUID `path:"id" format:"uuid"`
	Width int       `query:"width" minimum:"1" maximum:"4000" doc:"how many stretches; left out: 600"`
	Last  int       `query:"last" minimum:"1" maximum:"86400" doc:"seconds before the newest reading; left out: all"`
}

// Channel is what was measured on one channel.
type Channel struct {
	Channel string    `json:"channel"`
	Unit    string    `json:"unit" enum:"kN,m/s"`
	Count   int       `json:"count"`
	RateHz  float64   `json:"rate_hz" doc:"of what is drawn, on average: peaks between readings are not seen"`
	Newest  time.Time `json:"newest"`
	Value   float64   `json:"value" doc:"the newest"`
	Told    run.Told  `json:"told" doc:"of the newest, beside what was predicted"`
	// Band and Peaks are of forces.
	Band    *run.Band       `json:"band,omitempty"`
	Loading finding.Loading `json:"loading,omitempty" enum:"rest,lowering" doc:"of what was predicted, how its strand is loaded"`
	Peaks   []run.Peak      `json:"peaks,omitempty" doc:"stretches above the run's shock force, each by its greatest"`
	Bars    []run.Bar       `json:"bars"`
}

type drawnOut struct {
	Body struct {
		Channels []Channel `json:"channels"`
	}
}

func (c *Config) readings(ctx context.Context, in *drawnIn) (*drawnOut, error) {
	team := who(ctx).Team.ID
	r, err := c.Store.Run(ctx, team, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	by, err := c.Store.Readings(ctx, team, in.ID, "")
	if err != nil {
		return nil, failed(ctx, err)
	}
	width := in.Width
	if width == 0 {
		width = 600
	}
	out := &drawnOut{}
	out.Body.Channels = []Channel{}
	for _, name := range slices.Sorted(maps.Keys(by)) {
		out.Body.Channels = append(out.Body.Channels, channel(r.Document, name, by[name], width, in.Last))
	}
	return out, nil
}

func channel(d *run.Document, name string, list []run.Point, width, last int) Channel {
	newest := list[len(list)-1]
	ch := Channel{Channel: name, Unit: "m/s", Count: len(list), Newest: time.UnixMilli(newest.Ms).UTC(), Value: newest.Value(), Told: d.Tell(name, newest.Value())}
	if strings.HasSuffix(name, ".force") {
		ch.Unit = "kN"
		if i := slices.IndexFunc(d.Bands, func(b run.Band) bool { return b.Channel == name }); i >= 0 {
			ch.Band, ch.Loading = &d.Bands[i], d.Bands[i].Loading()
		}
		if d.ShockKN > 0 {
			ch.Peaks = run.Peaks(list, float64(d.ShockKN))
			d.Mark(ch.Peaks)
		}
	}
	if last > 0 {
		from := newest.Ms - int64(last)*1000
		list = list[slices.IndexFunc(list, func(p run.Point) bool { return p.Ms >= from }):]
	}
	if span := list[len(list)-1].Ms - list[0].Ms; span > 0 {
		ch.RateHz = float64(len(list)-1) * 1000 / float64(span)
	}
	ch.Bars = run.Bars(list, width)
	return ch
}

func (c *Config) readingsCSV(ctx context.Context, in *runIn) (*fileOut, error) {
	team := who(ctx).Team.ID
	if _, err := c.Store.Run(ctx, team, in.ID); err != nil {
		return nil, failed(ctx, err)
	}
	by, err := c.Store.Readings(ctx, team, in.ID, "")
	if err != nil {
		return nil, failed(ctx, err)
	}
	var b bytes.Buffer
	b.WriteString("at,channel,value,unit\r\n")
	for _, name := range slices.Sorted(maps.Keys(by)) {
		unit := "m/s"
		if strings.HasSuffix(name, ".force") {
			unit = "kN"
		}
		for _, p := range by[name] {
			fmt.Fprintf(&b, "%s,%s,%g,%s\r\n", time.UnixMilli(p.Ms).UTC().Format("2006-01-02T15:04:05.000Z"), name, p.Value(), unit)
		}
	}
	return attached("readings.csv", &b), nil
}
