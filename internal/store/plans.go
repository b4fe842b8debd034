package store

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"runtime"
	"runtime/debug"
	"slices"
	"time"

	"github.com/google/uuid"
	"golang.org/x/sync/errgroup"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store/sqlc"
)

// Plan is how the plan of a drop stands.
type Plan struct {
	check.Standing
	// Version is of the drop as it is now.
	Version int `json:"version"`
	// Number, By and At are of the record that gave the last state.
	Number int64      `json:"number,omitempty"`
	By     string     `json:"by,omitempty"`
	At     *time.Time `json:"at,omitempty"`
	// Reasons are those that were written with it.
	Reasons []record.Reason `json:"reasons"`
	// Alone: it was checked by who had changed it last.
	Alone bool `json:"alone,omitempty" doc:"checked by who had changed it last, as the team's policy allows"`
	// ToCheck and ToRelease are what stands in the way of those states.
	ToCheck   []string `json:"to_check" doc:"what stands in the way of checked"`
	ToRelease []string `json:"to_release" doc:"what stands in the way of released"`
	// ChangedBy is who changed the drop last; left out where that is not known.
	ChangedBy     string     `json:"changed_by,omitempty"`
	ChangedByID   *uuid.UUID `json:"changed_by_id,omitempty"`
	MayCheckAlone bool       `json:"may_check_alone,omitempty" doc:"by the team's policy who changed it last may check it"`
}

// given is a state that a plan was given, with the document as it was then.
type given struct {
	record.PlanGiven
	document *drop.Document
	number   int64
	by       string
	at       time.Time
}

func lastGiven(ctx context.Context, q *sqlc.Queries, team uuid.UUID, id string) (*given, error) {
	rows, err := q.LastPlanStatesOf(ctx, sqlc.LastPlanStatesOfParams{TeamID: team, Ids: []string{id}})
	if err != nil {
		return nil, err
	}
	if len(rows) == 0 {
		return &given{PlanGiven: record.PlanGiven{State: record.Draft}}, nil
	}
	return readGiven(&rows[0])
}

func readGiven(row *sqlc.LastPlanStatesOfRow) (*given, error) {
	var c record.Content
	if err := json.Unmarshal(row.Content, &c); err != nil {
		return nil, err
	}
	g := &given{PlanGiven: *c.Plan, number: row.Number, by: row.ByName, at: row.At.Time}
	if len(c.Plan.Document) > 0 {
		// Read as it was kept: what was released may be refused by today's rules.
		g.document = new(drop.Document)
		return g, json.Unmarshal(c.Plan.Document, g.document)
	}
	return g, nil
}

// stands says how a plan stands, given the drop as it is with what is the team's.
func (g *given) stands(ctx context.Context, known *cover.Cache, now *drop.Document) (check.Standing, *check.Report, error) {
	report, err := check.Drop(ctx, now, known, check.FindingsOnly)
	if err != nil {
		return check.Standing{}, nil, err
	}
	if g.State == record.Draft {
		return check.Standing{State: record.Draft, Because: g.Because}, report, nil
	}
	s, err := check.Stand(g.State, g.Rules, g.document, now, report)
	return s, report, err
}

// Plan gives how the plan of a drop stands.
func (s *Store) Plan(ctx context.Context, team Team, id string) (*Plan, error) {
	d, err := s.Drop(ctx, team.ID, id)
	if err != nil {
		return nil, err
	}
	if err := s.Present(ctx, team, d); err != nil {
		return nil, err
	}
	g, err := lastGiven(ctx, s.q, team.ID, id)
	if err != nil {
		return nil, err
	}
	standing, report, err := g.stands(ctx, s.Rescues, d.Document)
	if err != nil {
		return nil, err
	}
	p := &Plan{
		Alone: g.Alone, ToCheck: report.Missing(d.Document, record.Checked), ToRelease: append(report.Missing(d.Document, record.Released), s.over(team, d.Document.Day)...),
		ChangedBy: d.ChangedBy, ChangedByID: d.ChangedByID, MayCheckAlone: d.Document.Policy.CheckedAlone,
		Standing: standing, Version: d.Version, Number: g.number, By: g.by, Reasons: append([]record.Reason{}, g.Reasons...)}
	if g.number > 0 {
		p.At = &g.at
	}
	return p, nil
}

// SetPlan gives the plan of a drop a state, if the drop still has the version that
// was looked at: a *ConflictError where it has not, a *strict.Error where
// something found is in the way.
func (s *Store) SetPlan(ctx context.Context, team Team, signer *record.Signer, id string, version int, to record.State, reasons []record.Reason) error {
	return s.inTx(ctx, func(q *sqlc.Queries) error {
		l, err := s.openLedger(ctx, q, team.ID)
		if err != nil {
			return err
		}
		row, err := q.Drop(ctx, sqlc.DropParams{TeamID: team.ID, ID: id})
		if err != nil {
			return missing(err)
		}
		if int(row.Version) != version {
			return &ConflictError{Version: int(row.Version)}
		}
		d, err := readDrop(row.ID, row.Version, row.Document, row.ChangedAt.Time)
		if err != nil {
			return err
		}
		if err := present(ctx, q, team, d); err != nil {
			return err
		}
		last, err := lastGiven(ctx, q, team.ID, id)
		if err != nil {
			return err
		}
		from, report, err := last.stands(ctx, s.Rescues, d.Document)
		if err != nil {
			return err
		}
		if err := report.MaySet(d.Document, to, from.State, reasons); err != nil {
			return err
		}
		alone := to == record.Checked && row.ChangedBy != nil && *row.ChangedBy == signer.Account
		if to == record.Checked && !d.Document.Policy.CheckedAlone {
			if err := another(signer, alone); err != nil {
				return err
			}
		}
		if to == record.Released {
			if over := s.over(team, d.Document.Day); over != nil {
				return &strict.Error{Faults: []strict.Fault{{Pointer: "/state", Detail: over[0]}}}
			}
			alone = last.Alone
		}
		if err := l.plan(signer, d, record.PlanGiven{State: to, Reasons: reasons, Alone: alone}); err != nil {
			return err
		}
		return l.changed(ctx, team, signer, Change{Drops: []string{id}})
	})
}

// over says that a day is over, where it is: what was checked for it says nothing of today. A
// shift goes on past midnight, so that yesterday's is not.
func (s *Store) over(team Team, day gear.Date) []string {
	if today := s.Today(team); day < today.AddDays(-1) {
		return []string{fmt.Sprintf("its day, %s, is over: give the drop the day on which it goes out", day)}
	}
	return nil
}

// another wants somebody else than who changed a plan last to check it: a login of nobody who
// is known could be a second one of theirs.
func another(signer *record.Signer, alone bool) error {
	var p strict.Faults
	switch {
	case alone:
		p.Add("you changed it last: another person checks it", "state")
	case signer.Unknown():
		p.Add("it is not known who on the drops you are: another supervisor ties your login to a person, or says that you are nobody there", "state")
	}
	return p.Err()
}

// plan adds a plan's state, with the document as it is.
func (l *ledger) plan(signer *record.Signer, d *Drop, p record.PlanGiven) error {
	text, err := json.Marshal(d.Document)
	if err != nil {
		return err
	}
	p.Version, p.Rules = d.Version, fit.Version
	if p.State != record.Draft {
		p.Document = text
	}
	e := l.entry(record.Entry{Kind: record.PlanState, Day: d.Document.Day, Drop: d.ID})
	_, err = l.add(signer, uuid.MustParse(e.ID), &record.Content{Entry: e, Plan: &p})
	return err
}

// entry fills in what the program knows of an entry that it makes itself.
func (l *ledger) entry(e record.Entry) record.Entry {
	e.ID = uuid.NewString()
	if e.GivenAt == "" {
		e.GivenAt = l.now.Format(time.RFC3339Nano)
	}
	if e.Day == "" {
		e.Day = l.today
	}
	return e
}

// note adds an entry that the program makes itself.
func (l *ledger) note(signer *record.Signer, e record.Entry) error {
	e = l.entry(e)
	_, err := l.add(signer, uuid.MustParse(e.ID), &record.Content{Entry: e})
	return err
}

// changed does what follows from a change of the team's things: plans that it
// touches are taken back, the records are written, and everybody is notified.
func (l *ledger) changed(ctx context.Context, team Team, signer *record.Signer, c Change) error {
	if err := l.takeBack(ctx, team, signer, &c); err != nil {
		return err
	}
	c.Records = c.Records || l.added
	if err := l.flush(ctx); err != nil {
		return err
	}
	return c.tell(ctx, l.q, team.ID)
}

// takeBack returns to draft every plan that is checked or released and that
// something changed for. What it finds is recorded, so that the plan stays back
// when the change is undone.
func (l *ledger) takeBack(ctx context.Context, team Team, signer *record.Signer, c *Change) error {
	if !c.Gear && !c.People && !c.Policy && len(c.Drops) == 0 {
		return l.flush(ctx)
	}
	states, err := l.q.LastPlanStates(ctx, team.ID)
	if err != nil {
		return err
	}
	var ids []string
	for _, s := range states {
		if s.State != string(record.Draft) && (c.Gear || c.People || c.Policy || slices.Contains(c.Drops, s.DropID)) {
			ids = append(ids, s.DropID)
		}
	}
	touched, err := l.touched(ctx, team, ids, c)
	if err != nil {
		return err
	}
	rows, err := l.q.LastPlanStatesOf(ctx, sqlc.LastPlanStatesOfParams{TeamID: team.ID, Ids: slices.Collect(maps.Keys(touched))})
	if err != nil {
		return err
	}
	standings, err := l.standings(ctx, touched, rows)
	if err != nil {
		return err
	}
	for i := range rows {
		if now := standings[i]; now.State == record.Draft {
			d := touched[rows[i].DropID]
			c.drop(d.ID)
			c.takenBack = append(c.takenBack, d.ID)
			if err := l.plan(signer, d, record.PlanGiven{State: record.Draft, Because: now.Because}); err != nil {
				return err
			}
		}
	}
	return l.flush(ctx)
}

// standings says how some plans stand, looked at side by side: the team's ledger waits.
func (l *ledger) standings(ctx context.Context, drops map[string]*Drop, rows []sqlc.LastPlanStatesOfRow) ([]check.Standing, error) {
	list := make([]check.Standing, len(rows))
	side, ctx := errgroup.WithContext(ctx)
	side.SetLimit(runtime.GOMAXPROCS(0))
	for i := range rows {
		side.Go(func() (err error) {
			list[i], err = l.standing(ctx, drops[rows[i].DropID], &rows[i])
			return err
		})
	}
	return list, side.Wait()
}

// touched reads those of some drops that a change touches, with what is the team's.
func (l *ledger) touched(ctx context.Context, team Team, ids []string, c *Change) (map[string]*Drop, error) {
	if len(ids) == 0 {
		return nil, nil
	}
	rows, err := l.q.DropsByID(ctx, sqlc.DropsByIDParams{TeamID: team.ID, Ids: ids})
	if err != nil {
		return nil, err
	}
	list := make([]*Drop, len(rows))
	for i, r := range rows {
		if list[i], err = readDrop(r.ID, r.Version, r.Document, r.ChangedAt.Time); err != nil {
			return nil, err
		}
	}
	if err := present(ctx, l.q, team, list...); err != nil {
		return nil, err
	}
	touched := map[string]*Drop{}
	for _, d := range list {
		if c.touches(d.ID, d.Document) {
			touched[d.ID] = d
		}
	}
	return touched, nil
}

// standing is how a plan stands with what is the team's now.
func (l *ledger) standing(ctx context.Context, d *Drop, row *sqlc.LastPlanStatesOfRow) (now check.Standing, err error) {
	// A panic here is this plan's alone: it must not end the program.
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("plan of %s: %v\n%s", d.ID, p, debug.Stack())
		}
	}()
	last, err := readGiven(row)
	if err != nil {
		return now, err
	}
	now, _, err = last.stands(ctx, l.rescues, d.Document)
	if ctx.Err() != nil {
		return now, ctx.Err()
	}
	if err != nil {
		// It cannot even be read with the present records.
		now = check.Standing{State: record.Draft, Because: []string{err.Error()}}
	}
	return now, nil
}

// GivenState is the state that a plan was given last, and by which record.
type GivenState struct {
	State  record.State
	Number int64
}

// States gives the last state that each plan of a team was given, by the id of its
// drop; one that is missing is a draft.
func (s *Store) States(ctx context.Context, team uuid.UUID) (map[string]GivenState, error) {
	rows, err := s.q.LastPlanStates(ctx, team)
	states := make(map[string]GivenState, len(rows))
	for _, r := range rows {
		states[r.DropID] = GivenState{record.State(r.State), r.Number}
	}
	return states, err
}

// Stands says how the plan of a drop stands; the drop has what is the team's
// (Present).
func (s *Store) Stands(ctx context.Context, team uuid.UUID, d *Drop) (check.Standing, error) {
	g, err := lastGiven(ctx, s.q, team, d.ID)
	if err != nil {
		return check.Standing{}, err
	}
	standing, _, err := g.stands(ctx, s.Rescues, d.Document)
	return standing, err
}
