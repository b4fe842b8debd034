package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/run"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store/sqlc"
)

// RunLine is a run in a list.
type RunLine struct {
	ID       string    `json:"id"`
	Drop     string    `json:"drop"`
	Day      gear.Date `json:"day" format:"date"`
	Phase    run.Phase `json:"phase" enum:"prepared,running,ended,put away,closed"`
	Exercise bool      `json:"exercise,omitempty"`
	By       string    `json:"by"`
	At       time.Time `json:"at"`
}

// Run is a run with its events.
type Run struct {
	RunLine
	Document *run.Document
}

// AddRun makes a run of a drop: of what was released, or for an exercise of what there is. A
// drop whose plan is not released is refused.
func (s *Store) AddRun(ctx context.Context, team Team, signer *record.Signer, dropID string, exercise bool) (id uuid.UUID, err error) {
	d, err := s.Drop(ctx, team.ID, dropID)
	if err != nil {
		return id, err
	}
	if err := s.Present(ctx, team, d); err != nil {
		return id, err
	}
	seen, err := lastGiven(ctx, s.q, team.ID, dropID)
	if err != nil {
		return id, err
	}
	standing, _, err := seen.stands(ctx, s.Rescues, d.Document)
	if err != nil {
		return id, err
	}
	if why := s.notReleased(team, d.Document, seen, standing.State); why != "" && !exercise {
		return id, &strict.Error{Faults: []strict.Fault{{Pointer: "/drop", Detail: why}}}
	}
	doc, err := run.Of(ctx, dropID, "", d.Document, s.Rescues, exercise)
	if err != nil {
		return id, err
	}
	id = uuid.New()
	err = s.inTx(ctx, func(q *sqlc.Queries) error {
		// The chain's lock: of two that begin at once one is first.
		if _, err := s.openLedger(ctx, q, team.ID); err != nil {
			return err
		}
		if err := errors.Join(asSeen(ctx, q, team.ID, d, seen.number), s.noneLive(ctx, q, team, dropID)); err != nil {
			return err
		}
		if err := keepRun(ctx, q, team.ID, id, signer, d.Document, doc); err != nil {
			return err
		}
		return (&Change{Runs: []uuid.UUID{id}}).tell(ctx, q, team.ID)
	})
	return id, err
}

// notReleased says why a run is not made of a plan: it is not released, or was for another day.
func (s *Store) notReleased(team Team, d *drop.Document, g *given, state record.State) string {
	hours := d.Policy.With().Day.CheckH
	switch over := s.over(team, d.Day); {
	case state != record.Released:
		return fmt.Sprintf("its plan is %s: a run is made of one that is released", state)
	case over != nil:
		return over[0]
	case d.Day < s.Today(team) && time.Since(g.at).Hours() > float64(hours):
		return fmt.Sprintf("it was released for %s, more than the %v of a shift ago: release it for today", d.Day, hours)
	}
	return ""
}

// asSeen wants a drop and the last state of its plan to be those that were looked at: what
// happens in the store takes a plan back with a record. A *ConflictError where they are not.
func asSeen(ctx context.Context, q *sqlc.Queries, team uuid.UUID, d *Drop, number int64) error {
	row, err := q.Drop(ctx, sqlc.DropParams{TeamID: team, ID: d.ID})
	if err != nil {
		return missing(err)
	}
	now, err := lastGiven(ctx, q, team, d.ID)
	if err == nil && (int(row.Version) != d.Version || now.number != number) {
		err = &ConflictError{Version: int(row.Version)}
	}
	return err
}

// ErrLive says that a drop has a run that is not ended.
var ErrLive = errors.New("this drop has a run, which is ended first")

// noneLive refuses a second run of a drop beside one that is prepared or running: half of the
// people would be on the other one's screen. An exercise stands in nobody's way, nor does what
// was prepared for a day that is over: nobody starts it any more.
func (s *Store) noneLive(ctx context.Context, q *sqlc.Queries, team Team, drop string) error {
	rows, err := q.Runs(ctx, sqlc.RunsParams{TeamID: team.ID, Drop: drop})
	for _, r := range rows {
		if p := run.Phase(r.Phase); !r.Exercise && (p == run.Running || p == run.Prepared && s.over(team, fromDate(r.Day)) == nil) {
			return fmt.Errorf("%w: it is %s, and %s made it", ErrLive, p, r.ByName)
		}
	}
	return err
}

// Runs lists the runs of a drop, or of all for "", last made first, a hundred at most.
func (s *Store) Runs(ctx context.Context, team uuid.UUID, drop string) ([]RunLine, error) {
	rows, err := s.q.Runs(ctx, sqlc.RunsParams{TeamID: team, Drop: drop})
	list := make([]RunLine, len(rows))
	for i, r := range rows {
		list[i] = RunLine{r.ID.String(), r.DropID, fromDate(r.Day), run.Phase(r.Phase), r.Exercise, r.ByName, r.At.Time.UTC()}
	}
	return list, err
}

// Run gives a run with its events, as they were given.
func (s *Store) Run(ctx context.Context, team, id uuid.UUID) (*Run, error) {
	row, err := s.q.Run(ctx, sqlc.RunParams{TeamID: team, ID: id})
	if err != nil {
		return nil, missing(err)
	}
	d, err := readRun(ctx, s.q, team, id, row.Document)
	if err != nil {
		return nil, err
	}
	return &Run{RunLine{id.String(), row.DropID, fromDate(row.Day), run.Phase(row.Phase), d.Exercise, row.ByName, row.At.Time.UTC()}, d}, nil
}

func readRun(ctx context.Context, q *sqlc.Queries, team, id uuid.UUID, document []byte) (*run.Document, error) {
	d := new(run.Document)
	if err := json.Unmarshal(document, d); err != nil {
		return nil, fmt.Errorf("run %s: %w", id, err)
	}
	rows, err := q.RunEvents(ctx, sqlc.RunEventsParams{TeamID: team, RunID: id})
	if err != nil {
		return nil, err
	}
	d.Events = make([]run.Event, len(rows))
	for i, r := range rows {
		if err := json.Unmarshal(r.Content, &d.Events[i]); err != nil {
			return nil, fmt.Errorf("event %s: %w", r.ID, err)
		}
	}
	return d, nil
}

// mostEvents are as many as a run has room for.
const mostEvents = 20000

// GiveEvents keeps events of a run in one transaction, each once, whoever sends them again;
// offset is added to the clock of the device. What cannot be is refused, and keeps none of the
// others back. What is kept stands when it returns.
func (s *Store) GiveEvents(ctx context.Context, team Team, signer *record.Signer, id uuid.UUID, offset time.Duration, events []run.Event) (outcomes []Outcome, err error) {
	err = s.inTx(ctx, func(q *sqlc.Queries) error {
		outcomes = make([]Outcome, len(events))
		row, err := q.LockRun(ctx, sqlc.LockRunParams{TeamID: team.ID, ID: id})
		if err != nil {
			return missing(err)
		}
		d, err := readRun(ctx, q, team.ID, id, row.Document)
		if err != nil {
			return err
		}
		now := time.Now()
		kept := map[string]*run.Event{}
		for i := range d.Events {
			kept[d.Events[i].ID] = &d.Events[i]
		}
		added := false
		for i := range events {
			e := events[i]
			e.By, e.OffsetS, e.Late = signer.Name, offset.Seconds(), row.Phase == string(run.Closed)
			out, fresh := judgeEvent(d, kept, &e, i, now)
			if why := s.startsLate(team, d, fromDate(row.Day), &e); why != "" && fresh {
				out, fresh = Outcome{ID: e.ID, State: "refused", Errors: []strict.Fault{{Pointer: strict.Pointer("events", i, "kind"), Detail: why}}}, false
			}
			outcomes[i] = out
			if !fresh {
				continue
			}
			if err := giveEvent(ctx, q, team.ID, id, signer.Account, &e); err != nil {
				return err
			}
			d.Events = append(d.Events, e)
			kept[e.ID] = &e
			added = true
		}
		if !added {
			return nil
		}
		return s.phase(ctx, q, team.ID, id, d)
	})
	return outcomes, err
}

// startsLate says why a run is not started: its day is over, by the clock of the server and by
// when it is said to start. One that was started in time without a connection was.
func (s *Store) startsLate(team Team, d *run.Document, day gear.Date, e *run.Event) string {
	over := s.over(team, day)
	if e.Kind != run.Start || d.Exercise || d.Entered != nil || over == nil || day >= gear.Date(e.At().In(team.Location()).Format(time.DateOnly)).AddDays(-1) {
		return ""
	}
	return over[0]
}

// ahead is how far a clock that is taken to be right may be ahead.
const ahead = 3 * time.Second

// judgeEvent says what becomes of an event that comes now; fresh: it is to be kept. What is
// given for later, or for longer ago than a record may be, is refused.
func judgeEvent(d *run.Document, kept map[string]*run.Event, e *run.Event, at int, now time.Time) (out Outcome, fresh bool) {
	out = Outcome{ID: e.ID, State: "refused"}
	if was := kept[e.ID]; was != nil {
		same := *was
		same.OffsetS, same.Late = e.OffsetS, e.Late
		a, _ := json.Marshal(&same)
		b, _ := json.Marshal(e)
		if string(a) == string(b) {
			out.State = "already"
			return out, false
		}
		out.Errors = []strict.Fault{{Pointer: strict.Pointer("events", at, "id"), Detail: "another event has this id"}}
		return out, false
	}
	var faults strict.Faults
	d.Judge(e, at, &faults)
	switch {
	case e.At().After(now.Add(ahead)):
		faults.Addf(strict.Pointer("events", at, "given_at"), "is later than now")
	case now.Sub(e.At()) > record.Oldest:
		faults.Addf(strict.Pointer("events", at, "given_at"), "is more than %d days ago", int(record.Oldest.Hours()/24))
	}
	if len(d.Events) >= mostEvents {
		faults.Addf(strict.Pointer("events", at), "the run has %d events, and room for no more", mostEvents)
	}
	var refused *strict.Error
	if errors.As(faults.Err(), &refused) {
		out.Errors = refused.Faults
		return out, false
	}
	out.State = "kept"
	return out, true
}

func giveEvent(ctx context.Context, q *sqlc.Queries, team, id, account uuid.UUID, e *run.Event) error {
	content, err := json.Marshal(e)
	if err != nil {
		return err
	}
	return q.AddRunEvent(ctx, sqlc.AddRunEventParams{TeamID: team, RunID: id, ID: uuid.MustParse(e.ID), Content: content, ByID: account})
}

// phase notes how far a run is, by its events.
func (s *Store) phase(ctx context.Context, q *sqlc.Queries, team, id uuid.UUID, d *run.Document) error {
	if err := q.SetRunPhase(ctx, sqlc.SetRunPhaseParams{TeamID: team, ID: id, Phase: string(run.Fold(d).Phase)}); err != nil {
		return err
	}
	return (&Change{Runs: []uuid.UUID{id}}).tell(ctx, q, team)
}

// ofRun makes an id that is the same whenever it is made again for the same part of a run.
func ofRun(id uuid.UUID, part string) string { return uuid.NewSHA1(id, []byte(part)).String() }

// PutAway closes a run that has ended: what was counted is recorded as its supervisor signs it,
// and a record seals the run with the SHA-256 over its events. All of it, or nothing; put away
// again, nothing is recorded twice. A *strict.Error names what is in the way.
func (s *Store) PutAway(ctx context.Context, team Team, signer *record.Signer, id uuid.UUID, away *run.PuttingAway) error {
	return s.inTx(ctx, func(q *sqlc.Queries) error {
		l, err := s.openLedger(ctx, q, team.ID)
		if err != nil {
			return err
		}
		row, err := q.LockRun(ctx, sqlc.LockRunParams{TeamID: team.ID, ID: id})
		if err != nil {
			return missing(err)
		}
		d, err := readRun(ctx, q, team.ID, id, row.Document)
		if err != nil {
			return err
		}
		day := fromDate(row.Day)
		lengths, err := contactLengths(ctx, q, team.ID, d)
		if err != nil {
			return err
		}
		entries, err := d.Entries(run.Fold(d), day, away, lengths)
		if err != nil {
			return err
		}
		measured, err := readReadings(ctx, q, team.ID, id, "")
		if err != nil {
			return err
		}
		away.Measured = d.Measure(measured)
		now := l.now.Format(time.RFC3339Nano)
		if err := s.recordAway(ctx, l, team, signer, id, now, entries); err != nil {
			return err
		}
		after := lastOf(d, l.now)
		for n, kind := range []run.Kind{run.PutAway, run.Close} {
			// One after the other: events of one time are ordered by their ids.
			given := after.Add(time.Duration(n+1) * time.Microsecond).Format(time.RFC3339Nano)
			e := run.Event{ID: ofRun(id, string(kind)), Kind: kind, GivenAt: given, By: signer.Name}
			if kind == run.PutAway {
				e.Away = away
			}
			if err := giveEvent(ctx, q, team.ID, id, signer.Account, &e); err != nil {
				return err
			}
			d.Events = append(d.Events, e)
		}
		st := run.Fold(d)
		sealed := record.Entry{ID: ofRun(id, "sealed"), Kind: record.RunClosed, GivenAt: now, Day: day, Drop: row.DropID}
		if _, err := l.add(signer, uuid.MustParse(sealed.ID), &record.Content{Entry: sealed, Run: &record.Sealed{Run: id.String(), Plan: d.Plan, SHA256: st.Seal, Events: st.Events, Exercise: d.Exercise, EnteredAfter: d.Entered != nil}}); err != nil {
			return err
		}
		if err := l.flush(ctx); err != nil {
			return err
		}
		if err := (&Change{Records: true}).tell(ctx, q, team.ID); err != nil {
			return err
		}
		return s.phase(ctx, q, team.ID, id, d)
	})
}

// contactLengths are the lengths of the ropes of a run that lay on edges.
func contactLengths(ctx context.Context, q *sqlc.Queries, team uuid.UUID, d *run.Document) (map[string]quantity.Metres, error) {
	var ids []string
	for i := range d.Contacts {
		ids = append(ids, d.Contacts[i].Rope)
	}
	g, err := readNamed(ctx, q, team, ids)
	if err != nil {
		return nil, err
	}
	lengths := map[string]quantity.Metres{}
	for i := range g.Items {
		lengths[g.Items[i].ID] = g.Items[i].LengthM
	}
	return lengths, nil
}

// RunAfter is what is left to do about the items of a run: as it was signed, where it is put
// away, and as they are now.
func (s *Store) RunAfter(ctx context.Context, team Team, id uuid.UUID) (*run.After, error) {
	r, err := s.Run(ctx, team.ID, id)
	if err != nil {
		return nil, err
	}
	d := r.Document
	named := slices.Clone(d.Items)
	for i := range d.Events {
		named = append(named, d.Events[i].Items...)
	}
	g, err := readNamed(ctx, s.q, team.ID, named)
	if err != nil {
		return nil, err
	}
	rows, err := s.q.Kits(ctx, team.ID)
	if err != nil {
		return nil, err
	}
	own, _, err := readPolicy(ctx, s.q, team)
	if err != nil {
		return nil, err
	}
	var away []run.AwayLine
	for i := range d.Events {
		if a := d.Events[i].Away; a != nil {
			away = a.Lines
		}
	}
	kits := make([]gear.Kit, len(rows))
	for i := range rows {
		kits[i] = kit(rows[i])
	}
	today := gear.Date(time.Now().In(team.Location()).Format(time.DateOnly))
	return d.AfterOf(&run.Kept{Items: g.Items, Models: g.Models, Kits: kits, Months: own.With().ExaminationMonths, Today: today}, away), nil
}

// lastOf is when the last event of a run was given, or now: a device's clock may be a little
// ahead, and what was given before the closing is sealed by it.
func lastOf(d *run.Document, now time.Time) time.Time {
	for i := range d.Events {
		if at := d.Events[i].At(); at.After(now) {
			now = at
		}
	}
	return now.UTC()
}

// recordAway records what was counted; where one entry is refused none is kept.
func (s *Store) recordAway(ctx context.Context, l *ledger, team Team, signer *record.Signer, id uuid.UUID, now string, entries []record.Entry) error {
	for i := range entries {
		e := &entries[i]
		e.ID, e.GivenAt = ofRun(id, string(e.Kind)+e.Item+e.Person), now
		if e.Rope != nil {
			// A rope may lie on several edges.
			e.ID = ofRun(id, fmt.Sprint(e.Kind, e.Item, " ", i))
		}
	}
	if len(entries) == 0 {
		return nil
	}
	j := &job{signer: signer, batch: &record.Batch{SentAt: now, Records: entries}, sent: l.now}
	if err := (&recorder{ledger: l, team: team, jobs: []*job{j}}).run(ctx); err != nil {
		return err
	}
	for i, o := range j.outcomes {
		if o.State == "refused" {
			what := entries[i].Item + entries[i].Person
			return &strict.Error{Faults: []strict.Fault{{Pointer: "/lines", Detail: fmt.Sprintf("%s of %s is refused: %s", entries[i].Kind, what, o.Errors[0].Detail)}}}
		}
	}
	return nil
}
