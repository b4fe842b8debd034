package web

import (
	"bytes"
	"context"
	"fmt"
	"net/http"
	"reflect"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/check"
	"zealousknot/internal/report"
	"zealousknot/internal/store"
)

// fileOut is a file that is answered as it is.
type fileOut struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Body        []byte
}

// file declares an operation that answers with a file.
func file[I any](api huma.API, id, path, summary, kind string, handler func(context.Context, *I) (*fileOut, error)) {
	o := operation(http.MethodGet, id, path, summary)
	o.Responses = fileResponses(kind)
	huma.Register(api, o, ofKind(kind, handler))
}

// fileOf declares an operation that answers what its body asks with a file.
func fileOf(api huma.API, id, path, summary, kind string, body reflect.Type, handler func(context.Context, *rawIn) (*fileOut, error)) {
	o := operation(http.MethodPost, id, path, summary)
	o.Responses = fileResponses(kind)
	withBody(api, o, body, ofKind(kind, handler))
}

func fileResponses(kind string) map[string]*huma.Response {
	return map[string]*huma.Response{"200": {Description: "OK", Content: map[string]*huma.MediaType{
		kind: {Schema: &huma.Schema{Type: huma.TypeString, Format: "binary"}},
	}}}
}

// ofKind says of what kind a file is that is answered.
func ofKind[I any](kind string, handler func(context.Context, *I) (*fileOut, error)) func(context.Context, *I) (*fileOut, error) {
	return func(ctx context.Context, in *I) (*fileOut, error) {
		out, err := handler(ctx, in)
		if out != nil {
			out.ContentType = kind
			if kind == "text/csv" {
				out.ContentType += "; charset=utf-8; header=present"
			}
		}
		return out, err
	}
}

// whole is how many records a file holds at most.
const whole = 20_000

func (c *Config) sheetPDF(ctx context.Context, in *idIn) (*fileOut, error) {
	s, err := c.sheet(ctx, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	var b bytes.Buffer
	if err := s.PDF(&b); err != nil {
		return nil, failed(ctx, err)
	}
	return attached(in.ID+"-checks-"+s.Day+".pdf", &b), nil
}

func (c *Config) sheetCSV(ctx context.Context, in *idIn) (*fileOut, error) {
	s, err := c.sheet(ctx, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return csvFile(ctx, in.ID+"-checks-"+s.Day+".csv", s.Rows)
}

func (c *Config) logCSV(ctx context.Context, in *logIn) (*fileOut, error) {
	account, person, err := c.personOf(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	team := who(ctx).Team.ID
	lines, err := c.Store.RecordsOfPerson(ctx, team, account, person, store.Page{Before: in.Before, Limit: whole})
	if err != nil {
		return nil, failed(ctx, err)
	}
	named, err := c.titles(ctx, lines)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return csvFile(ctx, strings.Trim(person+"-log.csv", "-"), rowsOf(who(ctx).Team, lines, named))
}

func csvFile(ctx context.Context, name string, rows []report.Row) (*fileOut, error) {
	var b bytes.Buffer
	if err := report.CSV(&b, rows); err != nil {
		return nil, failed(ctx, err)
	}
	return attached(name, &b), nil
}

func attached(name string, b *bytes.Buffer) *fileOut {
	return &fileOut{Disposition: fmt.Sprintf("attachment; filename=%q", name), Body: b.Bytes()}
}

// sheet gathers the check sheet of a drop.
func (c *Config) sheet(ctx context.Context, id string) (*report.Sheet, error) {
	i := who(ctx)
	d, err := c.Store.Drop(ctx, i.Team.ID, id)
	if err != nil {
		return nil, err
	}
	if err := c.Store.Present(ctx, i.Team, d); err != nil {
		return nil, err
	}
	r, err := check.Drop(ctx, d.Document, c.Store.Rescues, check.Detail{Checks: true})
	if err != nil {
		return nil, err
	}
	plan, err := c.Store.Plan(ctx, i.Team, id)
	if err != nil {
		return nil, err
	}
	lines, err := c.Store.RecordsOfDay(ctx, i.Team.ID, d.Document.Day, id, store.Page{Limit: whole, Reader: reader(ctx)})
	if err != nil {
		return nil, err
	}
	named, err := c.titles(ctx, lines)
	if err != nil {
		return nil, err
	}
	// The drop's own items are as they were on its day.
	for _, it := range d.Document.Items {
		named.items[it.ID] = it.Label
	}
	return &report.Sheet{
		Team: i.Team.Name, Drop: d.Document.Name, Site: d.Document.Site, Day: string(d.Document.Day), Plan: planWords(i.Team, plan), Due: r.Checks, Cautions: d.Document.Cautions(),
		Rows: rowsOf(i.Team, lines, named), Printed: time.Now().In(i.Team.Location()), PrintedBy: i.Name,
	}, nil
}

func planWords(team store.Team, p *store.Plan) string {
	words := string(p.State)
	switch {
	case len(p.Because) > 0:
		words += "; taken back: " + strings.Join(p.Because, "; ")
	case p.At != nil:
		words += " by " + p.By + ", " + p.At.In(team.Location()).Format("2006-01-02 15:04 -07:00")
	}
	if p.Alone {
		words += "; checked by who had changed it last, as the team's policy allows"
	}
	for _, r := range p.Reasons {
		words += fmt.Sprintf("\nAccepted: %s Reason: %s", r.What, r.Reason)
	}
	return words
}
