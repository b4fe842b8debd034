package store

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgtype"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store/sqlc"
)

// Outcome is what became of an entry.
type Outcome struct {
	ID     string `json:"id"`
	State  string `json:"state" enum:"kept,already,refused" doc:"already: it was there, as it is"`
	Number int64  `json:"number,omitempty"`
	// Conflict says what was otherwise in the store than the device could know; the
	// entry is recorded with it.
	Conflict string         `json:"conflict,omitempty"`
	Errors   []strict.Fault `json:"errors,omitempty" doc:"why it was refused"`
}

// recorder is some batches on their way into the ledger.
type recorder struct {
	*ledger
	team Team
	jobs []*job

	// job is the one in hand, effects what is still to be done for it, and changed
	// what it changes.
	job     *job
	effects []func(context.Context) error
	changed Change

	kept   map[string]sqlc.RecordsByIDRow
	items  map[string]*storedItem
	models map[string]*gear.Model
	people map[string]*rig.Member
	kits   map[string]*gear.Kit
	days   map[string]gear.Date
	// examiners are the team's people, where something was examined or proved at once.
	examiners []rig.Member
	photos    map[string]bool
	// incidents are what those among the entries are about, by drop; "" for what is on no drop.
	incidents *frozenStore
	// hours are those that stand, by person and day.
	hours map[personDay]quantity.Hours
}

type personDay struct {
	person string
	day    gear.Date
}

type storedItem struct {
	gear.Item
	model gear.Model
	// stoppedAt is when it was last put into quarantine, in who was in what stopped it since it
	// last came back; of what comes back alone.
	stoppedAt time.Time
	in        []string
}

// stopped notes a quarantine of it.
func (i *storedItem) stopped(c *record.Content) {
	if at := c.DoneAt(); at.After(i.stoppedAt) {
		i.stoppedAt = at
	}
	if c.Quarantine != nil {
		i.in = append(i.in, c.Quarantine.Involved()...)
	}
}

func (r *recorder) run(ctx context.Context) error {
	if err := r.gather(ctx); err != nil {
		return err
	}
	var all Change
	for _, r.job = range r.jobs {
		r.effects, r.changed = nil, Change{}
		if err := r.runJob(ctx); err != nil {
			return err
		}
		all.add(&r.changed)
	}
	if err := r.flush(ctx); err != nil {
		return err
	}
	return all.tell(ctx, r.q, r.team.ID)
}

func (r *recorder) runJob(ctx context.Context) (err error) {
	r.job.outcomes = make([]Outcome, len(r.job.batch.Records))
	for i := range r.job.batch.Records {
		if r.job.outcomes[i], err = r.one(ctx, i); err != nil {
			return err
		}
	}
	if len(r.effects) > 0 {
		// What follows from a record comes after it.
		if err := r.flush(ctx); err != nil {
			return err
		}
	}
	for _, effect := range r.effects {
		if err := effect(ctx); err != nil {
			return err
		}
	}
	if r.changed.Gear || r.changed.People {
		return r.takeBack(ctx, r.team, r.job.signer, &r.changed)
	}
	return nil
}

// entries are those of all batches.
func (r *recorder) entries() []*record.Entry {
	var list []*record.Entry
	for _, j := range r.jobs {
		for i := range j.batch.Records {
			list = append(list, &j.batch.Records[i])
		}
	}
	return list
}

// corrected is what the record says that an entry corrects; nil where it corrects none.
func (r *recorder) corrected(e *record.Entry) *record.Content {
	k, there := r.kept[e.Corrects]
	c := new(record.Content)
	if !there || json.Unmarshal(k.Content, c) != nil {
		return nil
	}
	return c
}

// knows reports whether somebody was shown a model by a day.
func (r *recorder) knows(person, model string, day gear.Date) bool {
	i := slices.IndexFunc(r.examiners, func(m rig.Member) bool { return m.ID == person })
	return i >= 0 && slices.ContainsFunc(r.examiners[i].Familiar, func(f rig.Familiarity) bool { return f.Model == model && f.On <= day })
}

// one judges an entry and adds it.
func (r *recorder) one(ctx context.Context, i int) (Outcome, error) {
	e := &r.job.batch.Records[i]
	out := Outcome{ID: e.ID, State: "refused"}
	if k, there := r.kept[e.ID]; there {
		return r.again(e, k, fmt.Sprintf("/records/%d/id", i)), nil
	}
	facts, err := r.facts(ctx, e)
	if err != nil {
		return out, err
	}
	var faults strict.Faults
	conflict := facts.Judge(e, fmt.Sprintf("/records/%d", i), &faults)
	var refused *strict.Error
	if errors.As(faults.Err(), &refused) {
		out.Errors = refused.Faults
		return out, nil
	}
	out.State, out.Conflict = "kept", conflict
	content := &record.Content{Entry: *e, ClockOffS: facts.ClockOffS(), Conflict: conflict}
	if facts.Paper != nil {
		content.DoneBy = facts.Paper.Name
	}
	content.OnDeviceOf = r.job.device
	if e.Kind == record.KitReturn || e.Kind == record.KitIssue && facts.Kit.Out != nil {
		content.Missing = e.NotBack(facts.Kit)
	}
	if e.Recall != nil {
		content.Affected = r.affected(e)
	}
	if e.Incident != nil {
		if content.Frozen, err = r.freeze(ctx, e); err != nil {
			return out, err
		}
	}
	if out.Number, err = r.sign(content); err != nil {
		return out, err
	}
	return out, r.follow(ctx, e)
}

func (r *recorder) sign(c *record.Content) (int64, error) {
	n, err := r.add(r.job.signer, uuid.MustParse(c.ID), c)
	text, _ := json.Marshal(c)
	r.kept[c.ID] = sqlc.RecordsByIDRow{Number: n, ID: uuid.MustParse(c.ID), Kind: string(c.Kind), ByID: r.job.signer.Account, Content: text}
	if k, ok := r.kept[c.Corrects]; ok {
		k.Corrected = true
		r.kept[c.Corrects] = k
	}
	r.changed.Records = true
	r.changed.drop(c.Drop)
	return n, err
}

// again answers for an entry whose id is there already.
func (r *recorder) again(e *record.Entry, k sqlc.RecordsByIDRow, at string) Outcome {
	out := Outcome{ID: e.ID, State: "already", Number: k.Number}
	var c record.Content
	err := json.Unmarshal(k.Content, &c)
	was, _ := json.Marshal(c.Entry)
	if is, _ := json.Marshal(e); err != nil || k.ByID != r.job.signer.Account || !bytes.Equal(was, is) {
		return Outcome{ID: e.ID, State: "refused", Errors: []strict.Fault{{Pointer: at, Detail: "another record has this id"}}}
	}
	out.Conflict = c.Conflict
	return out
}

func (r *recorder) facts(ctx context.Context, e *record.Entry) (*record.Facts, error) {
	f := &record.Facts{Signer: *r.job.signer, Arrived: r.now, Sent: r.job.sent, Person: r.people[e.Person], DropDay: r.days[e.Drop]}
	if i := r.items[e.Item]; i != nil {
		f.Item, f.Model, f.StoppedAt, f.InStops = &i.Item, &i.model, i.stoppedAt, i.in
	}
	if e.Check != nil {
		if i := r.items[e.Check.Rope]; i != nil && i.model.Rope != nil {
			f.Rope = &i.Item
		}
		f.Familiar = f.Item != nil && r.knows(f.Signer.Person, f.Item.Model, e.Day)
	}
	if e.Paper != nil {
		f.Paper = r.people[e.Paper.By]
	}
	if e.Quarantine != nil {
		f.Present = r.people
	}
	if e.Familiar != nil {
		f.Model = r.models[e.Familiar.Model]
	}
	if (e.Examined != nil || e.Kind == record.BackInService) && f.Model != nil {
		f.MayNotExamine = rig.MayNotExamine(r.examiners, f.Signer.Person, f.Signer.Keeps, f.Model.Class, e.Day)
		if x := e.Examined; x != nil && x.Source != "" {
			// Somebody else has examined it, as a paper says; who keeps the store enters that.
			if f.MayNotExamine = "is entered by a store keeper"; f.Signer.Keeps {
				f.MayNotExamine = ""
			}
		}
	}
	if e.Recall != nil {
		f.Model = r.models[e.Recall.Model]
	}
	if e.Cut != nil {
		_, f.Taken = r.items[e.Cut.Into]
	}
	f.Photos = r.photos
	if e.Rope != nil {
		if i := r.items[e.Rope.With]; i != nil && i.model.Rope != nil {
			f.With = &i.Item
		}
	}
	if e.Incident != nil {
		f.Counted, f.Present, f.Runs = r.incidents.items, r.incidents.people, map[string]bool{e.Incident.Run: r.incidents.runs[e.Incident.Run] != nil}
	}
	if e.Kit != nil {
		f.Kit, f.Counted = r.kits[e.Kit.Kit], r.counted(e.Kit.Items)
	}
	if e.Worn != nil {
		ids := make([]string, len(e.Worn.Items))
		for i, w := range e.Worn.Items {
			ids[i] = w.Item
		}
		f.Counted = r.counted(ids)
	}
	if e.Hours != nil {
		f.HoursThatDay = r.hours[personDay{e.Person, e.Day}]
		if c := r.corrected(e); c != nil && c.Hours != nil && c.Person == e.Person && c.Day == e.Day {
			f.HoursThatDay -= c.Hours.Hours
		}
	}
	if k, ok := r.kept[e.Corrects]; ok {
		f.Corrected = &record.Corrected{Kind: record.Kind(k.Kind), By: k.ByID, Already: k.Corrected}
	}
	if k, ok := r.kept[e.Confirms]; ok {
		var c record.Content
		if err := json.Unmarshal(k.Content, &c); err != nil {
			return nil, fmt.Errorf("record %d: %w", k.Number, err)
		}
		f.Confirmed = &record.Corrected{Kind: record.Kind(k.Kind), By: k.ByID, Person: c.Person, Already: k.Corrected}
	}
	if e.Kind == record.PartnerCheck && f.DropDay != "" {
		if err := r.rigging(ctx, e, f); err != nil {
			return nil, err
		}
	}
	return f, nil
}

// rigging adds what somebody's rigging is now, and for a paper what it was then.
func (r *recorder) rigging(ctx context.Context, e *record.Entry, f *record.Facts) error {
	row, err := r.q.Drop(ctx, sqlc.DropParams{TeamID: r.team.ID, ID: e.Drop})
	if err != nil {
		return err
	}
	d, err := readDrop(row.ID, row.Version, row.Document, row.ChangedAt.Time)
	if err != nil {
		return err
	}
	if err := present(ctx, r.q, r.team, d); err != nil {
		return err
	}
	f.Rigging = procedure.RiggingOn(d.Document, e.Person)
	if e.Paper != nil {
		f.RiggingThen, err = r.riggingAt(ctx, e)
	}
	return err
}

// counted are those of some items that the store has.
func (r *recorder) counted(ids []string) map[string]*gear.Item {
	items := map[string]*gear.Item{}
	for _, id := range ids {
		if i := r.items[id]; i != nil {
			items[id] = &i.Item
		}
	}
	return items
}

// riggingAt names the rigging of an entry's person as it was in the minute that its paper says;
// empty where the drop was not there.
func (r *recorder) riggingAt(ctx context.Context, e *record.Entry) (string, error) {
	at, _ := time.Parse(time.RFC3339Nano, e.Paper.At)
	text, err := r.q.DropBefore(ctx, sqlc.DropBeforeParams{TeamID: r.team.ID, DropID: e.Drop, Before: pgtype.Timestamptz{Time: at.Truncate(time.Minute).Add(time.Minute), Valid: true}})
	if errors.Is(err, pgx.ErrNoRows) {
		return "", nil
	}
	if err != nil {
		return "", err
	}
	d := new(drop.Document)
	if err := json.Unmarshal(text, d); err != nil {
		return "", fmt.Errorf("version of %s: %w", e.Drop, err)
	}
	g, err := readNamed(ctx, r.q, r.team.ID, d.Names())
	if err != nil {
		return "", err
	}
	d.Refresh(g)
	return procedure.RiggingOn(d, e.Person), nil
}
