package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store/sqlc"
)

// gather reads everything that the entries name, in a query a kind.
func (r *recorder) gather(ctx context.Context) error {
	var ids []uuid.UUID
	var items, models, people, drops, kits []string
	for _, e := range r.entries() {
		ids = append(ids, uuid.MustParse(e.ID))
		for _, other := range []string{e.Corrects, e.Confirms} {
			if other != "" {
				ids = append(ids, uuid.MustParse(other))
			}
		}
		for _, next := range e.FollowUps() {
			ids = append(ids, uuid.MustParse(next.ID))
		}
		items, people, drops = append(items, e.Item), named(people, e.Person), named(drops, e.Drop)
		if e.Check != nil {
			items = append(items, e.Check.Rope)
		}
		if e.Cut != nil && e.Cut.Into != "" {
			items = append(items, e.Cut.Into)
		}
		if e.Paper != nil {
			people = append(people, e.Paper.By)
		}
		if e.Quarantine != nil {
			people = append(people, e.Quarantine.Involved()...)
		}
		if e.Familiar != nil {
			models = append(models, e.Familiar.Model)
		}
		if e.Recall != nil {
			models = append(models, e.Recall.Model)
		}
		if e.Rope != nil {
			items = named(items, e.Rope.With)
		}
		if e.Worn != nil {
			for _, w := range e.Worn.Items {
				items = append(items, w.Item)
			}
		}
		if e.Kit != nil {
			items, kits = append(items, e.Kit.Items...), append(kits, e.Kit.Kit)
		}
	}
	r.kept = map[string]sqlc.RecordsByIDRow{}
	if err := r.gatherKept(ctx, ids...); err != nil {
		return err
	}
	for _, e := range r.entries() {
		if c := r.corrected(e); c != nil {
			items = append(items, c.Item)
		}
	}
	if err := r.gatherItems(ctx, items); err != nil {
		return err
	}
	if slices.ContainsFunc(r.entries(), func(e *record.Entry) bool {
		return e.Examined != nil || e.Kind == record.BackInService || e.Check != nil && e.Check.Way != ""
	}) {
		var err error
		if r.examiners, err = readPeople(ctx, r.q, r.team.ID); err != nil {
			return err
		}
	}
	return errors.Join(r.gatherPhotos(ctx), r.gatherIncidents(ctx), r.gatherModels(ctx, models), r.gatherPeople(ctx, people), r.gatherDays(ctx, drops), r.gatherHours(ctx), r.gatherKits(ctx, kits))
}

// gatherKept reads which of some ids are records already.
func (r *recorder) gatherKept(ctx context.Context, ids ...uuid.UUID) error {
	kept, err := r.q.RecordsByID(ctx, sqlc.RecordsByIDParams{TeamID: r.team.ID, Ids: ids})
	for _, k := range kept {
		r.kept[k.ID.String()] = k
	}
	return err
}

func (r *recorder) gatherItems(ctx context.Context, ids []string) error {
	rows, err := r.q.ItemsByID(ctx, sqlc.ItemsByIDParams{TeamID: r.team.ID, Ids: ids})
	if err != nil {
		return err
	}
	r.items = make(map[string]*storedItem, len(rows))
	for _, row := range rows {
		if err := r.have(row.Item, row.Body); err != nil {
			return err
		}
	}
	if recalled := r.recalled(); recalled != nil {
		rows, err := r.q.ItemsOfModels(ctx, sqlc.ItemsOfModelsParams{TeamID: r.team.ID, Models: recalled})
		if err != nil {
			return err
		}
		for _, row := range rows {
			if err := r.have(row.Item, row.Body); err != nil {
				return err
			}
		}
	}
	return r.gatherEvents(ctx)
}

// have notes an item with its model.
func (r *recorder) have(row sqlc.Item, model []byte) error {
	i := &storedItem{Item: item(row)}
	if err := strict.Read(model, &i.model); err != nil {
		return fmt.Errorf("model in the database: %w", err)
	}
	r.items[i.ID] = i
	return nil
}

// recalled are the models that entries recall; nil for none.
func (r *recorder) recalled() (models []string) {
	for _, e := range r.entries() {
		if e.Recall != nil {
			models = append(models, e.Recall.Model)
		}
	}
	return models
}

// gatherEvents reads what happened to the items that are to come back.
func (r *recorder) gatherEvents(ctx context.Context) error {
	var back []string
	for _, e := range r.entries() {
		if e.Kind == record.BackInService {
			back = append(back, e.Item)
		}
	}
	if back == nil {
		return nil
	}
	rows, err := r.q.EventsOf(ctx, sqlc.EventsOfParams{TeamID: r.team.ID, Ids: back})
	for _, row := range rows {
		if i := r.items[row.ItemID]; i != nil {
			i.Events = append(i.Events, event(row))
		}
	}
	if err != nil {
		return err
	}
	stops, err := r.q.StopsOf(ctx, sqlc.StopsOfParams{TeamID: r.team.ID, Ids: back})
	if err != nil {
		return err
	}
	for _, row := range stops {
		var c record.Content
		if err := json.Unmarshal(row.Content, &c); err != nil {
			return fmt.Errorf("record %s: %w", row.ID, err)
		}
		i := r.items[c.Item]
		switch {
		case i == nil:
		case c.Kind == record.BackInService:
			i.in = nil
		default:
			i.stopped(&c)
		}
	}
	return nil
}

func (r *recorder) gatherModels(ctx context.Context, ids []string) error {
	r.models = map[string]*gear.Model{}
	if ids == nil {
		return nil
	}
	rows, err := r.q.ModelsByID(ctx, sqlc.ModelsByIDParams{TeamID: r.team.ID, Ids: ids})
	for _, row := range rows {
		m := new(gear.Model)
		if err := strict.Read(row.Body, m); err != nil {
			return fmt.Errorf("model in the database: %w", err)
		}
		r.models[row.ID] = m
	}
	return err
}

// named adds an id that is given.
func named(ids []string, id string) []string {
	if id == "" {
		return ids
	}
	return append(ids, id)
}

func (r *recorder) gatherPeople(ctx context.Context, ids []string) error {
	if ids == nil {
		return nil
	}
	rows, err := r.q.PeopleByID(ctx, sqlc.PeopleByIDParams{TeamID: r.team.ID, Ids: ids})
	r.people = make(map[string]*rig.Member, len(rows))
	for _, row := range rows {
		r.people[row.ID] = &rig.Member{ID: row.ID, Name: row.Name}
	}
	return err
}

func (r *recorder) gatherKits(ctx context.Context, ids []string) error {
	if ids == nil {
		return nil
	}
	rows, err := r.q.KitsByID(ctx, sqlc.KitsByIDParams{TeamID: r.team.ID, Ids: ids})
	r.kits = make(map[string]*gear.Kit, len(rows))
	for _, row := range rows {
		k := kit(row)
		r.kits[k.ID] = &k
	}
	return err
}

func (r *recorder) gatherDays(ctx context.Context, ids []string) error {
	if ids == nil {
		return nil
	}
	rows, err := r.q.DropDays(ctx, sqlc.DropDaysParams{TeamID: r.team.ID, Ids: ids})
	r.days = make(map[string]gear.Date, len(rows))
	for _, row := range rows {
		r.days[row.ID] = gear.Date(row.Day)
	}
	return err
}

// gatherHours reads the hours of the days that entries are about: their own, and those of
// what they correct.
func (r *recorder) gatherHours(ctx context.Context) error {
	r.hours = map[personDay]quantity.Hours{}
	var ask sqlc.HoursOfDaysParams
	for _, e := range r.entries() {
		if e.Hours != nil {
			ask.People, ask.Days = append(ask.People, e.Person), append(ask.Days, string(e.Day))
		}
		if c := r.corrected(e); c != nil && c.Hours != nil {
			ask.People, ask.Days = append(ask.People, c.Person), append(ask.Days, string(c.Day))
		}
	}
	if ask.People == nil {
		return nil
	}
	ask.TeamID = r.team.ID
	rows, err := r.q.HoursOfDays(ctx, ask)
	for _, row := range rows {
		r.hours[personDay{row.Person, gear.Date(row.Day)}] = quantity.Hours(row.Hours)
	}
	return err
}
