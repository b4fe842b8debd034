package store

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgtype"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store/sqlc"
)

// PutGear writes models, items and kits, each if it is new or has the revision it was read with;
// all or none unless the right ones alone are needed (RowsError). Models must be valid. What
// changes is recorded with what was there before, and plans that it touches are taken back.
func (s *Store) PutGear(ctx context.Context, team Team, signer *record.Signer, g *drop.Store, put Put) (rows []RowOutcome, plans []string, err error) {
	plans, err = s.writeRows(ctx, team, signer, put, func(w *writing) (Change, error) {
		present, err := readGear(ctx, w.q, team.ID)
		if err != nil {
			return Change{}, err
		}
		var written []change
		rows, written, err = w.rows(ctx, record.GearChange, gearChanges(team.ID, g, present))
		if err != nil || len(written) == 0 {
			return Change{}, err
		}
		if err := w.recordRetired(signer, written); err != nil {
			return Change{}, err
		}
		if err := errors.Join(w.stopHappened(ctx, written, rows), w.noteGiven(ctx, written)); err != nil {
			return Change{}, err
		}
		return gearChange(written), w.stopRecalled(ctx, written, rows)
	})
	return rows, plans, err
}

// writeRows runs f in a transaction that holds the team's ledger, and does what follows
// from what it changed.
// Plans are the drops whose plan is taken back.
func (s *Store) writeRows(ctx context.Context, team Team, signer *record.Signer, put Put, f func(*writing) (Change, error)) (plans []string, err error) {
	err = s.inTransaction(ctx, func(tx pgx.Tx) error {
		l, err := s.openLedger(ctx, s.q.WithTx(tx), team.ID)
		if err != nil {
			return err
		}
		changed, err := f(&writing{ledger: l, tx: tx, signer: signer, put: put})
		if err != nil || !changed.any() {
			return err
		}
		if err := l.takeBack(ctx, team, signer, &changed); err != nil {
			return err
		}
		if plans = changed.takenBack; put.Try {
			return errTried
		}
		changed.Records = true
		return changed.tell(ctx, l.q, team.ID)
	})
	if errors.Is(err, errTried) {
		err = nil
	}
	return plans, err
}

// gearChanges are models and items against those that are there. What happened to an item
// is only added to: an item that is given without its events keeps them.
func gearChanges(team uuid.UUID, g, present *drop.Store) (list []change) {
	models, items := gear.ModelsByID(present.Models), map[string]*gear.Item{}
	for i := range present.Items {
		items[present.Items[i].ID] = &present.Items[i]
	}
	for i := range g.Models {
		m := g.Models[i]
		c := change{kind: "model", id: m.ID, at: strict.Pointer("models", i), given: m.Revision}
		if was := models[m.ID]; was != nil {
			c.was, c.before = was.Revision, text(was.Unrevised())
		}
		c.after = text(m.Unrevised())
		c.write = func(ctx context.Context, q *sqlc.Queries) error {
			return q.PutModel(ctx, sqlc.PutModelParams{TeamID: team, ID: m.ID, Class: string(m.Class), Body: c.after})
		}
		list = append(list, c)
	}
	list = append(list, kitChanges(team, g, present)...)
	for i := range g.Items {
		item := g.Items[i]
		c := change{kind: "item", id: item.ID, at: strict.Pointer("items", i), given: item.Revision}
		if was := items[item.ID]; was != nil {
			c.was, c.before = was.Revision, text(was.Given())
			if len(item.Events) == 0 {
				item.Events = was.Events
			}
			if lost := len(was.Events) > len(item.Events) || !slices.Equal(item.Events[:len(was.Events)], was.Events); lost {
				c.write = func(context.Context, *sqlc.Queries) error {
					return fmt.Errorf("%w: what happened to it stands; events are only added", ErrRefused)
				}
			}
		}
		c.after = text(item.Given())
		if c.write == nil {
			c.item = &item
			c.write = func(ctx context.Context, q *sqlc.Queries) error { return putItems(ctx, q, team, &item) }
		}
		list = append(list, c)
	}
	return list
}

// kitChanges are kits against those that are there. Who has a kit and what went out with it
// is kept: it comes by records alone.
func kitChanges(team uuid.UUID, g, present *drop.Store) (list []change) {
	for n := range g.Kits {
		k := g.Kits[n]
		i := slices.IndexFunc(present.Kits, func(o gear.Kit) bool { return o.ID == k.ID })
		var was gear.Kit
		if i >= 0 {
			was = present.Kits[i]
		}
		c := change{kind: "kit", id: k.ID, at: strict.Pointer("kits", n), given: k.Revision, was: was.Revision}
		if i >= 0 {
			c.before = text(was.Unrevised())
		}
		moved := k.IssuedTo != was.IssuedTo || k.IssuedOn != was.IssuedOn || !slices.Equal(k.Out, was.Out) || !slices.Equal(k.Missing, was.Missing) || !reflect.DeepEqual(k.Seal, was.Seal)
		said := k.IssuedTo != "" || k.IssuedOn != "" || k.Out != nil || k.Missing != nil || k.Seal != nil
		k.IssuedTo, k.IssuedOn, k.Out, k.Missing, k.Seal = was.IssuedTo, was.IssuedOn, was.Out, was.Missing, was.Seal
		c.after = text(k.Unrevised())
		c.write = func(ctx context.Context, q *sqlc.Queries) error {
			if moved && said {
				return fmt.Errorf("%w: a kit goes out and comes back with a record", ErrRefused)
			}
			return q.PutKit(ctx, sqlc.PutKitParams{TeamID: team, ID: k.ID, Name: k.Name, Wanted: append([]gear.KitLine{}, k.Wanted...)})
		}
		list = append(list, c)
	}
	return list
}

func kit(r sqlc.Kit) gear.Kit {
	k := gear.Kit{ID: r.ID, Name: r.Name, Wanted: r.Wanted, IssuedTo: r.IssuedTo, IssuedOn: fromDate(r.IssuedOn), Out: r.WentOut, Missing: r.Missing, Seal: r.Seal, Revision: int(r.Revision)}
	// Nothing is left out, as it was given.
	for _, list := range []*[]string{&k.Out, &k.Missing} {
		if len(*list) == 0 {
			*list = nil
		}
	}
	if len(k.Wanted) == 0 {
		k.Wanted = nil
	}
	return k
}

// gearChange tells which items and models were changed.
func gearChange(written []change) Change {
	c := Change{Gear: true, items: map[string]bool{}, models: map[string]bool{}}
	for _, w := range written {
		switch w.kind {
		case "item":
			c.items[w.id] = true
		case "model":
			c.models[w.id] = true
		}
	}
	return c
}

// recordRetired records the items that are retired now and were not before.
func (l *ledger) recordRetired(signer *record.Signer, written []change) error {
	for _, c := range written {
		var was, is gear.Item
		if c.kind != "item" || json.Unmarshal(c.after, &is) != nil || is.State != gear.Retired {
			continue
		}
		if c.before != nil && json.Unmarshal(c.before, &was) == nil && was.State == gear.Retired {
			continue
		}
		if err := l.note(signer, record.Entry{Kind: record.Retirement, Item: is.ID, Note: is.Reason}); err != nil {
			return err
		}
	}
	return nil
}

func putGear(ctx context.Context, q *sqlc.Queries, team uuid.UUID, g *drop.Store) error {
	for i := range g.Models {
		m := &g.Models[i]
		if err := q.PutModel(ctx, sqlc.PutModelParams{TeamID: team, ID: m.ID, Class: string(m.Class), Body: text(m.Unrevised())}); err != nil {
			return fmt.Errorf("model %s: %w", m.ID, err)
		}
	}
	items := make([]*gear.Item, len(g.Items))
	for i := range g.Items {
		items[i] = &g.Items[i]
	}
	if err := putItems(ctx, q, team, items...); err != nil {
		return err
	}
	for _, k := range g.Kits {
		if err := q.PutKit(ctx, sqlc.PutKitParams{TeamID: team, ID: k.ID, Name: k.Name, Wanted: append([]gear.KitLine{}, k.Wanted...)}); err != nil {
			return fmt.Errorf("kit %s: %w", k.ID, err)
		}
	}
	return nil
}

// putItems writes items with what happened to them, sent together.
func putItems(ctx context.Context, q *sqlc.Queries, team uuid.UUID, items ...*gear.Item) error {
	if len(items) == 0 {
		return nil
	}
	rows := make([]sqlc.PutItemsParams, len(items))
	for n, i := range items {
		rows[n] = sqlc.PutItemsParams{
			TeamID: team, ID: i.ID, ModelID: i.Model, Serial: i.Serial, Label: i.Label, State: string(i.State), Reason: i.Reason,
			MadeOn: toDate(i.MadeOn), FirstUsedOn: toDate(i.FirstUsedOn), ExaminedOn: toDate(i.ExaminedOn), Owner: i.Owner, Place: i.Place, Kit: i.Kit,
			LengthM: pointer(float64(i.LengthM)), MeasuredMm: pointer(float64(i.MeasuredMM)), Condition: pointer(string(i.Condition)), Guest: i.Guest,
			AgainBy: toDate(i.AgainBy), Code: pointer(i.Code), Lot: i.Lot, HarshMonths: pointer(int32(i.HarshMonths)), BoughtOn: toDate(i.BoughtOn), Marking: i.Marking,
		}
	}
	var failed error
	q.PutItems(ctx, rows).Exec(func(n int, err error) {
		if err != nil && failed == nil {
			failed = fmt.Errorf("item %s: %w", items[n].ID, err)
		}
	})
	if failed != nil {
		return failed
	}
	for _, i := range items {
		for n, e := range i.Events {
			event := sqlc.PutEventParams{
				TeamID: team, ItemID: i.ID, Number: int32(n + 1), Kind: e.Kind, Happened: toDate(e.On), CheckedOn: toDate(e.CheckedOn), Note: e.Note, PersonIn: pointer(e.In), CheckedBy: e.CheckedBy,
			}
			if err := q.PutEvent(ctx, event); err != nil {
				return fmt.Errorf("event of item %s: %w", i.ID, err)
			}
		}
	}
	return nil
}

// Gear gives all models, items and kits of a team.
func (s *Store) Gear(ctx context.Context, team uuid.UUID) (*drop.Store, error) {
	return readGear(ctx, s.q, team)
}

func readGear(ctx context.Context, q *sqlc.Queries, team uuid.UUID) (*drop.Store, error) {
	bodies, err := q.Models(ctx, team)
	if err != nil {
		return nil, err
	}
	g := &drop.Store{Models: make([]gear.Model, len(bodies))}
	for i, b := range bodies {
		if err := strict.Read(b.Body, &g.Models[i]); err != nil {
			return nil, fmt.Errorf("model in the database: %w", err)
		}
		g.Models[i].Revision = int(b.Revision)
	}
	rows, err := q.Items(ctx, team)
	if err != nil {
		return nil, err
	}
	at := make(map[string]int, len(rows))
	g.Items = make([]gear.Item, len(rows))
	for i, r := range rows {
		g.Items[i] = item(r)
		at[r.ID] = i
	}
	kits, err := q.Kits(ctx, team)
	if err != nil {
		return nil, err
	}
	for _, k := range kits {
		g.Kits = append(g.Kits, kit(k))
	}
	events, err := q.Events(ctx, team)
	if err != nil {
		return nil, err
	}
	for _, e := range events {
		i := &g.Items[at[e.ItemID]]
		i.Events = append(i.Events, event(e))
	}
	return g, nil
}

func event(e sqlc.ItemEvent) gear.Event {
	return gear.Event{Kind: e.Kind, On: fromDate(e.Happened), CheckedOn: fromDate(e.CheckedOn), CheckedBy: e.CheckedBy, Note: e.Note, In: value(e.PersonIn)}
}

func item(r sqlc.Item) gear.Item {
	return gear.Item{
		ID: r.ID, Model: r.ModelID, Serial: r.Serial, Label: r.Label, State: gear.State(r.State), Reason: r.Reason,
		MadeOn: fromDate(r.MadeOn), FirstUsedOn: fromDate(r.FirstUsedOn), ExaminedOn: fromDate(r.ExaminedOn),
		Owner: r.Owner, Place: r.Place, Kit: r.Kit, LengthM: quantity.Metres(value(r.LengthM)),
		MeasuredMM: quantity.Millimetres(value(r.MeasuredMm)), Condition: gear.Condition(value(r.Condition)), Guest: r.Guest,
		AgainBy: fromDate(r.AgainBy), Code: r.Code, Lot: r.Lot, HarshMonths: int(value(r.HarshMonths)), BoughtOn: fromDate(r.BoughtOn), Marking: r.Marking, Noted: notedOf(r.Noted), Revision: int(r.Revision),
	}
}

// PutPeople writes people with their familiarisations, as PutGear writes gear. What
// somebody was shown is only added to.
func (s *Store) PutPeople(ctx context.Context, team Team, signer *record.Signer, people []rig.Member, put Put) (rows []RowOutcome, plans []string, err error) {
	plans, err = s.writeRows(ctx, team, signer, put, func(w *writing) (Change, error) {
		present, err := readPeople(ctx, w.q, team.ID)
		if err != nil {
			return Change{}, err
		}
		var written []change
		rows, written, err = w.rows(ctx, record.PersonChange, peopleChanges(team.ID, people, present))
		if err != nil || len(written) == 0 {
			return Change{}, err
		}
		who := Change{People: true, people: map[string]bool{}}
		for _, c := range written {
			who.people[c.id] = true
		}
		return who, w.recordShown(signer, written)
	})
	return rows, plans, err
}

func peopleChanges(team uuid.UUID, people, present []rig.Member) (list []change) {
	for i := range people {
		p := people[i]
		c := change{kind: "person", id: p.ID, at: strict.Pointer("people", i), given: p.Revision}
		if j := slices.IndexFunc(present, func(m rig.Member) bool { return m.ID == p.ID }); j >= 0 {
			c.was, c.before = present[j].Revision, text(present[j].Unrevised())
			p.Familiar = joined(present[j].Familiar, p.Familiar)
		}
		slices.SortStableFunc(p.Familiar, func(a, b rig.Familiarity) int {
			return cmp.Or(cmp.Compare(a.Model, b.Model), cmp.Compare(a.On, b.On))
		})
		c.after = text(p.Unrevised())
		c.write = func(ctx context.Context, q *sqlc.Queries) error { return putPeople(ctx, q, team, []rig.Member{p}) }
		list = append(list, c)
	}
	return list
}

// joined are the familiarisations that are there and those that are new.
func joined(there, given []rig.Familiarity) []rig.Familiarity {
	list := slices.Clone(there)
	for _, f := range given {
		if !slices.ContainsFunc(there, func(t rig.Familiarity) bool { return t.Model == f.Model && t.On == f.On }) {
			list = append(list, f)
		}
	}
	return list
}

// recordShown records the familiarisations that were not there before.
func (l *ledger) recordShown(signer *record.Signer, written []change) error {
	for _, c := range written {
		var was, is rig.Member
		if err := json.Unmarshal(c.after, &is); err != nil {
			return err
		}
		if c.before != nil {
			if err := json.Unmarshal(c.before, &was); err != nil {
				return err
			}
		}
		for _, f := range is.Familiar {
			if slices.Contains(was.Familiar, f) {
				continue
			}
			e := record.Entry{Kind: record.Familiarisation, Day: f.On, Person: is.ID, Familiar: &record.Familiar{Model: f.Model, By: f.By}}
			if err := l.note(signer, e); err != nil {
				return err
			}
		}
	}
	return nil
}

func putPeople(ctx context.Context, q *sqlc.Queries, team uuid.UUID, people []rig.Member) error {
	for _, p := range people {
		papers := p.Papers
		if papers == nil {
			papers = []rig.Paper{}
		}
		row := sqlc.PutPersonParams{
			TeamID: team, ID: p.ID, Name: p.Name, MassKg: float64(p.MassKg), HarnessID: pointer(p.Harness),
			ReachUpM: known(p.ReachUpM), ReachOutM: known(p.ReachOutM), HandMm: known(p.HandMM), Papers: text(papers),
		}
		if err := q.PutPerson(ctx, row); err != nil {
			return fmt.Errorf("person %s: %w", p.ID, err)
		}
		for _, f := range p.Familiar {
			shown := sqlc.PutFamiliarisationParams{TeamID: team, PersonID: p.ID, ModelID: f.Model, ShownOn: toDate(f.On), ShownBy: f.By}
			if err := q.PutFamiliarisation(ctx, shown); err != nil {
				return fmt.Errorf("familiarisation of %s: %w", p.ID, err)
			}
		}
	}
	return nil
}

// People gives everybody of a team.
func (s *Store) People(ctx context.Context, team uuid.UUID) ([]rig.Member, error) {
	return readPeople(ctx, s.q, team)
}

func readPeople(ctx context.Context, q *sqlc.Queries, team uuid.UUID) ([]rig.Member, error) {
	rows, err := q.People(ctx, team)
	if err != nil {
		return nil, err
	}
	shown, err := q.Familiarisations(ctx, team)
	if err != nil {
		return nil, err
	}
	familiar := map[string][]rig.Familiarity{}
	for _, f := range shown {
		familiar[f.PersonID] = append(familiar[f.PersonID], rig.Familiarity{Model: f.ModelID, On: fromDate(f.ShownOn), By: f.ShownBy})
	}
	people := make([]rig.Member, len(rows))
	for i, r := range rows {
		people[i] = rig.Member{
			ID: r.ID, Name: r.Name, MassKg: quantity.Kilograms(r.MassKg), Harness: value(r.HarnessID),
			ReachUpM: quantity.Metres(value(r.ReachUpM)), ReachOutM: quantity.Metres(value(r.ReachOutM)), HandMM: quantity.Millimetres(value(r.HandMm)),
			Familiar: append([]rig.Familiarity{}, familiar[r.ID]...), Revision: int(r.Revision),
		}
		if err := json.Unmarshal(r.Papers, &people[i].Papers); err != nil {
			return nil, fmt.Errorf("papers of %s: %w", r.ID, err)
		}
		if len(people[i].Papers) == 0 {
			people[i].Papers = nil
		}
	}
	return people, nil
}

// known is a figure as a column has it: nothing for one that is not known.
func known[T ~float64](v T) *float64 {
	if v == 0 {
		return nil
	}
	f := float64(v)
	return &f
}

func toDate(d gear.Date) pgtype.Date {
	t, ok := d.Time()
	return pgtype.Date{Time: t, Valid: ok}
}

func fromDate(d pgtype.Date) gear.Date {
	if !d.Valid {
		return ""
	}
	return gear.Date(d.Time.Format(time.DateOnly))
}

// pointer is nil for a zero value.
func pointer[T comparable](v T) *T {
	if v == *new(T) {
		return nil
	}
	return &v
}

// value is zero for nil.
func value[T cmp.Ordered](p *T) T {
	if p == nil {
		return *new(T)
	}
	return *p
}
