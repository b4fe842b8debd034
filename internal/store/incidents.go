package store

import (
	"context"
	"encoding/hex"
	"encoding/json"
	"errors"
	"slices"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/run"
	"zealousknot/internal/store/sqlc"
)

// gatherPhotos reads which of the pictures that entries name are there.
func (r *recorder) gatherPhotos(ctx context.Context) error {
	r.photos = map[string]bool{}
	var sums [][]byte
	for _, e := range r.entries() {
		for _, p := range e.Photos {
			if sum, ok := photoSum(p); ok {
				sums = append(sums, sum[:])
			}
		}
	}
	if sums == nil {
		return nil
	}
	there, err := r.q.PhotosThere(ctx, sqlc.PhotosThereParams{TeamID: r.team.ID, Sums: sums})
	for _, sum := range there {
		r.photos[hex.EncodeToString(sum)] = true
	}
	return err
}

// frozenStore is what incidents may be about: the team's people and items as they are now.
type frozenStore struct {
	items  map[string]*gear.Item
	people map[string]*rig.Member
	// runs are those that incidents name, with the events that were given until now.
	runs map[string]*run.Document
}

// gatherIncidents reads people and items where an entry is an incident: it may be about any.
func (r *recorder) gatherIncidents(ctx context.Context) error {
	if !slices.ContainsFunc(r.entries(), func(e *record.Entry) bool { return e.Incident != nil }) {
		return nil
	}
	people, err := readPeople(ctx, r.q, r.team.ID)
	if err != nil {
		return err
	}
	g, err := readGear(ctx, r.q, r.team.ID)
	if err != nil {
		return err
	}
	r.incidents = &frozenStore{map[string]*gear.Item{}, map[string]*rig.Member{}, map[string]*run.Document{}}
	for _, e := range r.entries() {
		if err := r.gatherRun(ctx, e); err != nil {
			return err
		}
	}
	for i := range people {
		r.incidents.people[people[i].ID] = &people[i]
	}
	for i := range g.Items {
		r.incidents.items[g.Items[i].ID] = &g.Items[i]
		// What is stopped is changed as the recorder has it.
		if r.items[g.Items[i].ID] == nil {
			r.items[g.Items[i].ID] = &storedItem{Item: g.Items[i]}
		}
	}
	return nil
}

// gatherRun reads the run that an incident names; one that is not of the team is none.
func (r *recorder) gatherRun(ctx context.Context, e *record.Entry) error {
	if e.Incident == nil || e.Incident.Run == "" {
		return nil
	}
	id := uuid.MustParse(e.Incident.Run)
	row, err := r.q.Run(ctx, sqlc.RunParams{TeamID: r.team.ID, ID: id})
	if errors.Is(err, pgx.ErrNoRows) {
		return nil
	}
	if err != nil {
		return err
	}
	r.incidents.runs[e.Incident.Run], err = readRun(ctx, r.q, r.team.ID, id, row.Document)
	return err
}

// freezeRun keeps a run as far as it had come.
func freezeRun(f *record.Frozen, d *run.Document) (err error) {
	st := run.Fold(d)
	f.RunEvents, f.RunSHA256 = st.Events, st.Seal
	f.Run, err = json.Marshal(d)
	return err
}

// freeze keeps what an incident is about as it is now: its drop with all that is on it, and
// who and what it names beside that.
func (r *recorder) freeze(ctx context.Context, e *record.Entry) (*record.Frozen, error) {
	f := &record.Frozen{Items: []gear.Item{}, People: []rig.Member{}}
	items, people := slices.Concat(e.Incident.Items, e.Incident.Stop), slices.Clone(e.Incident.People)
	if e.Drop != "" {
		row, err := r.q.Drop(ctx, sqlc.DropParams{TeamID: r.team.ID, ID: e.Drop})
		if err != nil {
			return nil, missing(err)
		}
		d, err := drop.ReadKept(row.Document)
		if err != nil {
			return nil, err
		}
		f.Version = int(row.Version)
		for id := range d.Used() {
			items = append(items, id)
		}
		for _, p := range d.People {
			people = append(people, p.ID)
		}
		if err := present(ctx, r.q, r.team, &Drop{ID: e.Drop, Document: d}); err != nil {
			return nil, err
		}
		if f.Document, err = json.Marshal(d); err != nil {
			return nil, err
		}
	}
	for _, list := range []*[]string{&items, &people} {
		slices.Sort(*list)
		*list = slices.Compact(*list)
	}
	for _, id := range items {
		if i := r.incidents.items[id]; i != nil {
			as := *i
			// What came before it in the same batch counts.
			now := r.items[id]
			as.State, as.Reason, as.LengthM, as.ExaminedOn, as.AgainBy = now.State, now.Reason, now.LengthM, now.ExaminedOn, now.AgainBy
			f.Items = append(f.Items, as)
		}
	}
	for _, id := range people {
		if p := r.incidents.people[id]; p != nil {
			f.People = append(f.People, *p)
		}
	}
	if d := r.incidents.runs[e.Incident.Run]; d != nil {
		for _, p := range d.People {
			if m := r.incidents.people[p.ID]; m != nil && !slices.Contains(people, p.ID) {
				f.People = append(f.People, *m)
			}
		}
		return f, freezeRun(f, d)
	}
	return f, nil
}

// incident stops each item that an incident stops. One that is in quarantine already notes it
// too: whoever brings it back has this to look at as well.
func (r *recorder) incident(ctx context.Context, e *record.Entry) error {
	for _, id := range e.Incident.Stop {
		if r.items[id].State == gear.Retired {
			continue
		}
		if err := r.signNext(ctx, e.StopsIn(id)); err != nil {
			return err
		}
	}
	return nil
}
