package web

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"net/http"
	"reflect"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
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
	g, err := c.Store.Gear(ctx, team)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return csvFile(ctx, strings.Trim(person+"-log.csv", "-"), rowsOf(who(ctx).Team, lines, g.Items))
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
	if err := c.Store.Present(ctx, i.Team, d.Document); err != nil {
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
	return &report.Sheet{
		Team: i.Team.Name, Drop: d.Document.Name, Site: d.Document.Site, Day: string(d.Document.Day), Plan: planWords(i.Team, plan), Due: r.Checks,
		Rows: rowsOf(i.Team, lines, d.Document.Items), Printed: time.Now().In(i.Team.Location()), PrintedBy: i.Name,
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
		words += fmt.Sprintf("\n%s: %s Reason: %s", r.Rule, r.What, r.Reason)
	}
	return words
}

// rowsOf are records in words, first one first.
func rowsOf(team store.Team, lines []store.RecordLine, items []gear.Item) []report.Row {
	labels := map[string]string{}
	for _, i := range items {
		labels[i.ID] = i.Label
	}
	label := func(id string) string {
		if l := labels[id]; l != "" {
			return l
		}
		return id
	}
	at := team.Location()
	rows := make([]report.Row, len(lines))
	for n, l := range lines {
		s := &l.Says
		what, on, result := inWords(s, label)
		if l.Changes != nil {
			result = strings.Join(l.Changes, "; ")
		}
		rows[n] = report.Row{
			Number: l.Number, At: l.At.In(at), Given: s.Given().In(at), Day: string(s.Day), Kind: strings.ReplaceAll(string(s.Kind), "-", " "), What: what, On: on,
			Result: result, Note: s.Note, Conflict: s.Conflict, By: l.By, CorrectedBy: l.CorrectedBy, Seal: l.Seal,
		}
	}
	slices.Reverse(rows)
	return rows
}

func inWords(s *record.Content, label func(string) string) (what, on, result string) {
	passed := map[bool]string{true: "passed", false: "FAILED"}
	what = label(s.Item)
	switch {
	case s.Check != nil:
		on = strings.TrimSuffix("on "+label(s.Check.Rope)+", "+s.Check.Mode, ", ")
		result = passed[s.Check.Passed]
		for _, p := range s.Check.Proofs {
			result += proofWords(p.Proof, p.Did, p.Note)
		}
	case s.Partner != nil:
		what, on, result = s.Person, "rigging "+s.Partner.Rigging, passed[s.Partner.Passed]
	case s.Quarantine != nil:
		result = strings.ReplaceAll(s.Quarantine.Event, "-", " ")
	case s.Familiar != nil:
		what, on, result = s.Person, s.Familiar.Model, "shown"
	case s.Hours != nil:
		what, on, result = s.Person, s.Hours.Site, s.Hours.Hours.String()+", "+s.Hours.Work
		if s.Hours.HeightM > 0 {
			result += ", to " + s.Hours.HeightM.String()
		}
	case s.Rope != nil:
		result = strings.TrimSpace(fmt.Sprintf("%s at %v to %v", strings.ReplaceAll(s.Rope.What, "-", " "), s.Rope.FromM, max(s.Rope.FromM, s.Rope.ToM)))
	case s.Cut != nil:
		result = fmt.Sprintf("cut at %v of %v; the other part: %s", s.Cut.AtM, s.Cut.LengthM, cmp.Or(s.Cut.Label, "waste"))
	case s.Recall != nil:
		what, result = s.Recall.Model, fmt.Sprintf("%s: %s; %d in the store", s.Recall.Asks, s.Recall.Source, len(s.Affected))
	case s.Kind == record.Acknowledgement:
		what, result = "recall "+s.Confirms, "read"
	case s.Confirms != "":
		what, result = s.Person, "hours of record "+s.Confirms+" countersigned"
	case s.Plan != nil:
		what, result = s.Drop, strings.Join(append([]string{string(s.Plan.State)}, s.Plan.Because...), "; ")
	case s.Kit != nil:
		what = s.Kit.Kit
		if s.Kit.To != "" {
			on = "to " + s.Kit.To
		}
		result = "counted: " + named(s.Kit.Items, label)
		if len(s.Missing) > 0 {
			result += "; MISSING: " + named(s.Missing, label)
		}
	case s.Examined != nil:
		result = examinedWords(s.Examined)
	case s.Corrects != "":
		what = "record " + s.Corrects
	}
	return what, on, result
}

// examinedWords says what an examination found: its result, and what did not simply pass.
func examinedWords(x *record.Examined) string {
	words := []string{resultWords[x.Result]}
	for _, p := range x.Points {
		if p.Result != "pass" {
			words = append(words, strings.TrimSpace(p.Point+" "+p.Result+" "+p.Note))
		}
	}
	for _, r := range x.Readings {
		words = append(words, r.Part+" "+r.MM.String())
	}
	if x.AgainBy != "" {
		words = append(words, "again by "+string(x.AgainBy))
	}
	if x.Examiner != "" {
		words = append(words, "examined by "+x.Examiner)
	}
	return strings.Join(words, "; ")
}

// resultWords are the results of examinations in words.
var resultWords = map[string]string{
	record.Fit: "fit for use", record.Observed: "fit, with an observation", record.ToQuarantine: "STOPPED, into quarantine", record.ToRetire: "STOPPED, to be destroyed", record.NotPresented: "not presented",
}

func named(items []string, label func(string) string) string {
	words := make([]string, len(items))
	for i, id := range items {
		words[i] = label(id)
	}
	return cmp.Or(strings.Join(words, ", "), "nothing")
}

func proofWords(proof string, did bool, note string) string {
	words := "; " + proof
	if !did {
		words += " did NOT"
	}
	if note != "" {
		words += " (" + note + ")"
	}
	return words
}
