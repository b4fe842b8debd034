package store

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/pgtype"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store/sqlc"
)

// PutGear writes models and items, all or none. Models must be valid. What is
// retired by it is recorded, and plans that it touches are taken back.
func (s *Store) PutGear(ctx context.Context, team Team, signer *record.Signer, g *drop.Store) error {
	return s.inTx(ctx, func(q *sqlc.Queries) error {
		l, err := s.openLedger(ctx, q, team.ID)
		if err != nil {
			return err
		}
		if err := l.recordRetired(ctx, team.ID, signer, g.Items); err != nil {
			return err
		}
		if err := putGear(ctx, q, team.ID, g); err != nil {
			return err
		}
		return l.changed(ctx, team, signer, Change{Gear: true})
	})
}

// recordRetired records the items that are retired now and were not before.
func (l *ledger) recordRetired(ctx context.Context, team uuid.UUID, signer *record.Signer, items []gear.Item) error {
	rows, err := l.q.Items(ctx, team)
	if err != nil {
		return err
	}
	was := map[string]string{}
	for _, r := range rows {
		was[r.ID] = r.State
	}
	for _, i := range items {
		if i.State != gear.Retired || was[i.ID] == string(gear.Retired) {
			continue
		}
		if err := l.note(signer, record.Entry{Kind: record.Retirement, Item: i.ID, Note: i.Reason}); err != nil {
			return err
		}
	}
	return nil
}

func putGear(ctx context.Context, q *sqlc.Queries, team uuid.UUID, g *drop.Store) error {
	for i := range g.Models {
		m := &g.Models[i]
		body, err := json.Marshal(m)
		if err != nil {
			return err
		}
		if err := q.PutModel(ctx, sqlc.PutModelParams{TeamID: team, ID: m.ID, Class: string(m.Class), Body: body}); err != nil {
			return fmt.Errorf("model %s: %w", m.ID, err)
		}
	}
	for i := range g.Items {
		if err := putItem(ctx, q, team, &g.Items[i]); err != nil {
			return err
		}
	}
	return nil
}

func putItem(ctx context.Context, q *sqlc.Queries, team uuid.UUID, i *gear.Item) error {
	row := sqlc.PutItemParams{
		TeamID: team, ID: i.ID, ModelID: i.Model, Serial: i.Serial, Label: i.Label, State: string(i.State), Reason: i.Reason,
		MadeOn: toDate(i.MadeOn), FirstUsedOn: toDate(i.FirstUsedOn), ExaminedOn: toDate(i.ExaminedOn), Owner: i.Owner, Place: i.Place, Kit: i.Kit,
		LengthM: pointer(float64(i.LengthM)), MeasuredMm: pointer(float64(i.MeasuredMM)), Condition: pointer(string(i.Condition)),
	}
	if err := q.PutItem(ctx, row); err != nil {
		return fmt.Errorf("item %s: %w", i.ID, err)
	}
	for n, e := range i.Events {
		event := sqlc.PutEventParams{
			TeamID: team, ItemID: i.ID, Number: int32(n + 1), Kind: e.Kind, Happened: toDate(e.On), CheckedOn: toDate(e.CheckedOn), Note: e.Note,
		}
		if err := q.PutEvent(ctx, event); err != nil {
			return fmt.Errorf("event of item %s: %w", i.ID, err)
		}
	}
	return nil
}

// Gear gives all models and items of a team.
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
		if err := strict.Read(b, &g.Models[i]); err != nil {
			return nil, fmt.Errorf("model in the database: %w", err)
		}
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
	events, err := q.Events(ctx, team)
	if err != nil {
		return nil, err
	}
	for _, e := range events {
		i := &g.Items[at[e.ItemID]]
		i.Events = append(i.Events, gear.Event{Kind: e.Kind, On: fromDate(e.Happened), CheckedOn: fromDate(e.CheckedOn), Note: e.Note})
	}
	return g, nil
}

func item(r sqlc.Item) gear.Item {
	return gear.Item{
		ID: r.ID, Model: r.ModelID, Serial: r.Serial, Label: r.Label, State: gear.State(r.State), Reason: r.Reason,
		MadeOn: fromDate(r.MadeOn), FirstUsedOn: fromDate(r.FirstUsedOn), ExaminedOn: fromDate(r.ExaminedOn),
		Owner: r.Owner, Place: r.Place, Kit: r.Kit, LengthM: quantity.Metres(value(r.LengthM)),
		MeasuredMM: quantity.Millimetres(value(r.MeasuredMm)), Condition: gear.Condition(value(r.Condition)),
	}
}

// PutPeople writes people with their familiarisations, all or none. Plans that it
// touches are taken back.
func (s *Store) PutPeople(ctx context.Context, team Team, signer *record.Signer, people []rig.Member) error {
	return s.inTx(ctx, func(q *sqlc.Queries) error {
		l, err := s.openLedger(ctx, q, team.ID)
		if err != nil {
			return err
		}
		if err := l.recordShown(ctx, team.ID, signer, people); err != nil {
			return err
		}
		if err := putPeople(ctx, q, team.ID, people); err != nil {
			return err
		}
		return l.changed(ctx, team, signer, Change{People: true})
	})
}

// recordShown records the familiarisations that were not there before.
func (l *ledger) recordShown(ctx context.Context, team uuid.UUID, signer *record.Signer, people []rig.Member) error {
	present, err := readPeople(ctx, l.q, team)
	if err != nil {
		return err
	}
	type shown struct{ person, model, on string }
	there := map[shown]bool{}
	for _, p := range present {
		for _, f := range p.Familiar {
			there[shown{p.ID, f.Model, string(f.On)}] = true
		}
	}
	for _, p := range people {
		for _, f := range p.Familiar {
			if there[shown{p.ID, f.Model, string(f.On)}] {
				continue
			}
			e := record.Entry{Kind: record.Familiarisation, Day: f.On, Person: p.ID, Familiar: &record.Familiar{Model: f.Model, By: f.By}}
			if err := l.note(signer, e); err != nil {
				return err
			}
		}
	}
	return nil
}

func putPeople(ctx context.Context, q *sqlc.Queries, team uuid.UUID, people []rig.Member) error {
	for _, p := range people {
		row := sqlc.PutPersonParams{TeamID: team, ID: p.ID, Name: p.Name, MassKg: float64(p.MassKg), HarnessID: pointer(p.Harness)}
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
			Familiar: append([]rig.Familiarity{}, familiar[r.ID]...),
		}
	}
	return people, nil
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
