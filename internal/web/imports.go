package web

import (
	"bytes"
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/intake"
	"zealousknot/internal/store"
	"zealousknot/internal/tabular"
)

const (
	// maxImportBytes is the largest table that is read.
	maxImportBytes = 8 << 20
	// workbook is the media type of XLSX.
	workbook = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
	// atOnce is how many rows the core reads at once, so that one reading stays small.
	atOnce = 500
)

type importIn struct {
	Kind      string `path:"kind" enum:"models,items,people,events,examinations,hours"`
	DryRun    bool   `query:"dry_run" doc:"write nothing"`
	OnlyRight bool   `query:"only_right" doc:"write the rows that are right although others are not"`
	Mapping   string `query:"mapping" maxLength:"8000" doc:"JSON object: header to field; \"\" for none; left out: by name"`
	Encoding  string `query:"encoding" enum:"utf-8,utf-16le,utf-16be,windows-1252"`
	Separator string `query:"separator" enum:"comma,semicolon,tab"`
	Decimal   string `query:"decimal" enum:"point,comma"`
	Dates     string `query:"dates" enum:"year-first,day-first,month-first"`
	Sheet     string `query:"sheet" maxLength:"80" doc:"of a workbook; left out: the first"`
	Type      string `header:"Content-Type"`
	RawBody   []byte
}

type importRow struct {
	Row     int                  `json:"row" doc:"1 is the header"`
	ID      string               `json:"id,omitempty"`
	State   string               `json:"state" enum:"new,changes,same,wrong"`
	Changes []intake.FieldChange `json:"changes,omitempty"`
	Errors  []intake.FieldFault  `json:"errors,omitempty"`
	Stopped string               `json:"stopped,omitempty" doc:"the event or recall for which the item goes into quarantine at once"`
}

type importOut struct {
	Body struct {
		Rows    []importRow     `json:"rows"`
		Counts  map[string]int  `json:"counts"`
		Mapping intake.Mapping  `json:"mapping"`
		Fields  []string        `json:"fields" doc:"what a column may be"`
		Dialect tabular.Dialect `json:"dialect"`
		// EitherOrder: the dates say nothing of their order, and nothing is loaded until somebody does.
		EitherOrder bool `json:"either_order,omitempty" doc:"the order of dates was found, and each is a date in the other order too: say it to load"`
		// Written says that the rows are in the store now.
		Written bool     `json:"written"`
		Plans   []string `json:"plans,omitempty" doc:"ids of drops whose plan goes back to draft by it"`
	}
}

// registerFiles declares tables in and out.
func (c *Config) registerFiles(api huma.API) {
	o := operation(http.MethodPost, "import", "/imports/{kind}", "Read a table of models, items, people, events, examinations or hours (CSV or XLSX), as a trial first; all rows or none, or the right ones only")
	o.MaxBodyBytes = maxImportBytes
	o.RequestBody = &huma.RequestBody{Required: true, Content: map[string]*huma.MediaType{
		"text/csv": {Schema: &huma.Schema{Type: huma.TypeString}},
		workbook:   {Schema: &huma.Schema{Type: huma.TypeString, Format: "binary"}},
	}}
	huma.Register(api, o, c.importTable)
	delete(o.RequestBody.Content, "application/octet-stream")
	file(api, "export", "/exports/{kind}.csv", "What there is, as CSV; it comes back in and changes nothing", "text/csv", c.exportTable)
}

// importTable reads a table and does with its rows what PUT does with rows.
func (c *Config) importTable(ctx context.Context, in *importIn) (*importOut, error) {
	i := who(ctx)
	r, _ := RightOf(map[string]string{"models": "put-gear", "events": "put-gear", "examinations": "put-gear", "items": "put-gear", "people": "put-people"}[in.Kind])
	if in.Kind == "hours" {
		r = KindRights[record.Hours]
	}
	if !r.Has(i.Roles) {
		return nil, NewProblem(http.StatusForbidden, "requires the role "+strings.Join(r.Roles, " or "))
	}
	var said intake.Mapping
	if in.Mapping != "" {
		if err := json.Unmarshal([]byte(in.Mapping), &said); err != nil {
			return nil, NewProblem(http.StatusUnprocessableEntity, "the mapping cannot be read", strict.Fault{Pointer: "/query/mapping", Detail: "not a JSON object of texts"})
		}
	}
	read := tabular.Read
	if kind, _, _ := strings.Cut(in.Type, ";"); strings.TrimSpace(kind) == workbook {
		read = tabular.ReadWorkbook
	}
	sheet, err := read(in.RawBody, tabular.Dialect{Encoding: in.Encoding, Separator: in.Separator, Decimal: in.Decimal, Dates: in.Dates, Sheet: in.Sheet})
	if err != nil {
		return nil, NewProblem(http.StatusUnprocessableEntity, "the table cannot be read; nothing was changed", strict.Fault{Detail: err.Error()})
	}
	if sheet.EitherOrder && !in.DryRun {
		return nil, NewProblem(http.StatusUnprocessableEntity, "nothing was loaded", strict.Fault{Pointer: "/query/dates", Detail: "each date is one with the day first and with the month first: say which"})
	}
	t := &intaking{c: c, put: store.Put{
		OnlyRight: in.OnlyRight, Try: in.DryRun, Reason: fmt.Sprintf("import of a table, SHA-256 %x", sha256.Sum256(in.RawBody)),
	}}
	switch in.Kind {
	case "people":
		err = t.people(ctx, sheet, said)
	case "models":
		err = t.models(ctx, sheet, said)
	case "events":
		err = t.events(ctx, sheet, said)
	case "examinations":
		err = t.examinations(ctx, sheet, said)
	case "hours":
		err = t.hours(ctx, sheet, said)
	default:
		err = t.items(ctx, sheet, said)
	}
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := t.answer(sheet, in.DryRun)
	out.Body.Fields = intake.Fields(in.Kind)
	return out, nil
}

// intaking is a table on its way in.
type intaking struct {
	c       *Config
	put     store.Put
	entries []intake.Entry
	mapping intake.Mapping
	rows    []store.RowOutcome
	plans   []string
	kept    bool
}

func (t *intaking) events(ctx context.Context, sheet *tabular.Sheet, said intake.Mapping) error {
	team := who(ctx).Team
	present, err := t.c.Store.Gear(ctx, team.ID)
	if err != nil {
		return err
	}
	all := &drop.Store{}
	if t.entries, all.Items, t.mapping, err = intake.Events(sheet, said, present); err != nil {
		return &strict.Error{Faults: []strict.Fault{{Pointer: "/query/mapping", Detail: err.Error()}}}
	}
	if t.wrong() && !t.put.OnlyRight && !t.put.Try {
		return nil
	}
	t.rows, t.plans, err = t.c.Store.PutGear(ctx, team, signer(ctx), all, t.tolerant())
	return t.written(err)
}

// hours records what a table says, each row by itself, so that what is refused is known.
func (t *intaking) hours(ctx context.Context, sheet *tabular.Sheet, said intake.Mapping) error {
	team := who(ctx).Team
	people, err := t.c.Store.People(ctx, team.ID)
	if err != nil {
		return err
	}
	lines, err := t.c.Store.Hours(ctx, team.ID, reader(ctx))
	if err != nil {
		return err
	}
	standing := make([]record.Content, len(lines))
	for i, l := range lines {
		standing[i] = l.Says
	}
	var all []record.Entry
	if t.entries, all, t.mapping, err = intake.Hours(sheet, said, people, standing); err != nil {
		return &strict.Error{Faults: []strict.Fault{{Pointer: "/query/mapping", Detail: err.Error()}}}
	}
	return t.record(ctx, all, map[string]string{"hours/hours_h": "hours"})
}

// examinations records what a table says, as who keeps the store knows it from a paper.
func (t *intaking) examinations(ctx context.Context, sheet *tabular.Sheet, said intake.Mapping) error {
	g, err := t.c.Store.Gear(ctx, who(ctx).Team.ID)
	if err != nil {
		return err
	}
	standing, err := t.c.examinations(ctx, g)
	if err != nil {
		return err
	}
	var all []record.Entry
	if t.entries, all, t.mapping, err = intake.Examinations(sheet, said, g.Items, standing, uuid.NewString(), t.put.Reason); err != nil {
		return &strict.Error{Faults: []strict.Fault{{Pointer: "/query/mapping", Detail: err.Error()}}}
	}
	return t.record(ctx, all, map[string]string{"examined/again_by": "next_due", "examined/result": "result", "examined/examiner": "by"})
}

// examinations are the thorough ones of a team that stand, first ones first.
func (c *Config) examinations(ctx context.Context, g *drop.Store) ([]intake.ExaminedThen, error) {
	months, err := c.months(ctx)
	if err != nil {
		return nil, err
	}
	lines, err := c.Store.Examinations(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, err
	}
	models, items := gear.ModelsByID(g.Models), map[string]*gear.Item{}
	for i := range g.Items {
		items[g.Items[i].ID] = &g.Items[i]
	}
	list := make([]intake.ExaminedThen, len(lines))
	for n, l := range lines {
		list[n] = intake.ExaminedThen{Number: l.Number, By: l.By, Says: l.Says, NextDue: nextDue(&l.Says, items[l.Says.Item], models, months)}
	}
	return list, nil
}

// nextDue is by when an item was due again, as it was found, whatever was found since.
func nextDue(s *record.Content, i *gear.Item, models map[string]*gear.Model, months int) gear.Date {
	if i == nil || !s.Examined.Fit() || s.Kind != record.Examination {
		return ""
	}
	due, _ := models[i.Model].ExaminationDue(&gear.Item{ExaminedOn: s.Day, AgainBy: s.Examined.AgainBy, HarshMonths: i.HarshMonths, Guest: i.Guest}, months)
	return due
}

// record records entries of a table, each by itself, so that what is refused is known; fields
// names the columns of what is refused.
func (t *intaking) record(ctx context.Context, all []record.Entry, fields map[string]string) error {
	if t.wrong() && !t.put.OnlyRight && !t.put.Try {
		return nil
	}
	for i := range all {
		all[i].ID, all[i].GivenAt = uuid.NewString(), time.Now().UTC().Format(time.RFC3339Nano)
	}
	outcomes, written, err := t.c.Store.RecordWhole(ctx, who(ctx).Team, signer(ctx), all, t.put.OnlyRight, t.put.Try)
	if err != nil {
		return err
	}
	next := 0
	for i := range t.entries {
		e := &t.entries[i]
		if e.State != "new" || len(e.Faults) > 0 {
			continue
		}
		for _, f := range outcomes[next].Errors {
			at := strings.TrimPrefix(f.Pointer, fmt.Sprintf("/records/%d/", next))
			e.Faults = append(e.Faults, intake.FieldFault{Field: cmp.Or(fields[at], map[string]string{"day": "on"}[at], at), Detail: f.Detail})
		}
		next++
	}
	t.kept = written
	return nil
}

func (t *intaking) models(ctx context.Context, sheet *tabular.Sheet, said intake.Mapping) error {
	team := who(ctx).Team
	present, err := t.c.Store.Gear(ctx, team.ID)
	if err != nil {
		return err
	}
	if t.entries, t.mapping, err = intake.Models(sheet, said, present); err != nil {
		return &strict.Error{Faults: []strict.Fault{{Pointer: "/query/mapping", Detail: err.Error()}}}
	}
	all := &drop.Store{}
	err = t.inParts("models", func(text []byte) (int, error) {
		g, err := drop.ReadStore(text, present)
		if g != nil {
			all.Models = append(all.Models, g.Models...)
			return len(g.Models), err
		}
		return 0, err
	}, func(kept []int) {
		all.Models = picked(all.Models, kept)
	})
	if err != nil || t.wrong() && !t.put.OnlyRight && !t.put.Try {
		return err
	}
	t.rows, t.plans, err = t.c.Store.PutGear(ctx, team, signer(ctx), all, t.tolerant())
	return t.written(err)
}

func (t *intaking) items(ctx context.Context, sheet *tabular.Sheet, said intake.Mapping) error {
	team := who(ctx).Team
	present, err := t.c.Store.Gear(ctx, team.ID)
	if err != nil {
		return err
	}
	if t.entries, t.mapping, err = intake.Items(sheet, said, present); err != nil {
		return &strict.Error{Faults: []strict.Fault{{Pointer: "/query/mapping", Detail: err.Error()}}}
	}
	all := &drop.Store{}
	err = t.inParts("items", func(text []byte) (int, error) {
		g, err := drop.ReadStore(text, present)
		if g != nil {
			all.Items = append(all.Items, g.Items...)
			return len(g.Items), err
		}
		return 0, err
	}, func(kept []int) {
		all.Items = picked(all.Items, kept)
	})
	if err != nil || t.wrong() && !t.put.OnlyRight && !t.put.Try {
		return err
	}
	t.rows, t.plans, err = t.c.Store.PutGear(ctx, team, signer(ctx), all, t.tolerant())
	return t.written(err)
}

func (t *intaking) people(ctx context.Context, sheet *tabular.Sheet, said intake.Mapping) error {
	team := who(ctx).Team
	present, err := t.c.Store.People(ctx, team.ID)
	if err != nil {
		return err
	}
	if t.entries, t.mapping, err = intake.People(sheet, said, present); err != nil {
		return &strict.Error{Faults: []strict.Fault{{Pointer: "/query/mapping", Detail: err.Error()}}}
	}
	var all []rig.Member
	err = t.inParts("people", func(text []byte) (int, error) {
		var body peopleBody
		faults := strict.Faults{Most: 1000}
		if !strict.ReadWith(&faults, text, &body) {
			return 0, faults.Err()
		}
		all = append(all, body.People...)
		return len(body.People), faults.Err()
	}, func(kept []int) {
		all = picked(all, kept)
	})
	if err != nil || t.wrong() && !t.put.OnlyRight && !t.put.Try {
		return err
	}
	t.rows, t.plans, err = t.c.Store.PutPeople(ctx, team, signer(ctx), all, t.tolerant())
	return t.written(err)
}

// inParts reads the entries that have a value, some at a time, notes what is refused at its
// entry, and gives the places of those that are right among all that were read.
func (t *intaking) inParts(list string, read func([]byte) (int, error), keep func([]int)) error {
	var fine []*intake.Entry
	for i := range t.entries {
		if t.entries[i].Value != nil && len(t.entries[i].Faults) == 0 {
			fine = append(fine, &t.entries[i])
		}
	}
	var kept []int
	for at := 0; at < len(fine); at += atOnce {
		part := fine[at:min(at+atOnce, len(fine))]
		values := make([][]byte, len(part))
		for i, e := range part {
			values[i] = e.Value
		}
		n, err := read([]byte(`{"` + list + `":[` + string(bytes.Join(values, []byte(","))) + `]}`))
		if n != len(part) {
			return err
		}
		r := newRight(err, list)
		for i, e := range part {
			for _, f := range r.faults[i] {
				field := strings.TrimPrefix(f.Pointer, fmt.Sprintf("/%s/%d", list, i))
				e.Faults = append(e.Faults, intake.FieldFault{Field: intake.Column(strings.TrimPrefix(field, "/")), Detail: f.Detail})
			}
			if len(e.Faults) == 0 {
				kept = append(kept, at+i)
			}
		}
	}
	keep(kept)
	return nil
}

func picked[T any](list []T, kept []int) []T {
	out := make([]T, len(kept))
	for i, at := range kept {
		out[i] = list[at]
	}
	return out
}

func (t *intaking) wrong() bool {
	for _, e := range t.entries {
		if len(e.Faults) > 0 {
			return true
		}
	}
	return false
}

// tolerant has a trial say what is with each row, whatever is wrong with others.
func (t *intaking) tolerant() store.Put {
	put := t.put
	put.OnlyRight = put.OnlyRight || put.Try
	return put
}

// written notes the rows of an outcome, also where one that is wrong kept all back.
func (t *intaking) written(err error) error {
	var wrong *store.RowsError
	if errors.As(err, &wrong) {
		t.rows = wrong.Rows
		return nil
	}
	t.kept = err == nil && !t.put.Try
	return err
}

// answer says what is with each row of the table.
func (t *intaking) answer(sheet *tabular.Sheet, trial bool) *importOut {
	of := map[string]store.RowOutcome{}
	for _, r := range t.rows {
		of[r.ID] = r
	}
	out := &importOut{}
	b := &out.Body
	b.Rows = []importRow{}
	b.Counts = map[string]int{"new": 0, "changes": 0, "same": 0, "wrong": 0}
	b.Mapping, b.Dialect, b.Plans, b.Written = t.mapping, sheet.Dialect, t.plans, t.kept && !trial
	b.EitherOrder = sheet.EitherOrder
	for i := range t.entries {
		e := &t.entries[i]
		row := importRow{Row: e.Row, ID: e.ID, State: "wrong", Errors: e.Faults}
		if r, there := of[e.ID]; there && len(e.Faults) == 0 {
			row.Stopped = r.Stopped
			switch {
			case e.State != "" && (r.State == "changed" || r.State == "same"):
				row.State = e.State
			case r.State == "new" || r.State == "same":
				row.State = r.State
			case r.State == "changed":
				row.State, row.Changes = "changes", e.Changes()
			case r.State == "conflict":
				row.Errors = []intake.FieldFault{{Detail: "changed by somebody else meanwhile"}}
			default:
				for _, f := range r.Errors {
					row.Errors = append(row.Errors, intake.FieldFault{Detail: f.Detail})
				}
			}
		} else if len(e.Faults) == 0 {
			row.State = cmp.Or(e.State, "new") // right by itself; another row kept all back
			if changes := e.Changes(); changes != nil {
				row.State, row.Changes = "changes", changes
			}
		}
		b.Counts[row.State]++
		b.Rows = append(b.Rows, row)
	}
	return out
}
