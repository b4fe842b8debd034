package store

import (
	"context"
	"fmt"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/propose"
	"zealousknot/internal/store/sqlc"
)

// Stock is what a drop may be rigged from: the team's store, with what is on the team's
// other drops of the day, and who of the team is not on this one. Besides is the drop's own
// id; "" for one that is not kept.
func (s *Store) Stock(ctx context.Context, team Team, d *drop.Document, besides string) (propose.Stock, error) {
	var out propose.Stock
	g, err := s.Gear(ctx, team.ID)
	if err != nil {
		return out, err
	}
	people, err := s.People(ctx, team.ID)
	if err != nil {
		return out, err
	}
	out.Store = g
	here := map[string]bool{}
	for _, p := range d.People {
		here[p.Name] = true
	}
	for _, p := range people {
		if !here[p.Name] {
			out.Away = append(out.Away, p.Name)
		}
	}
	out.Busy, err = s.Elsewhere(ctx, team, d.Day, besides)
	return out, err
}

// Planned is a drop of a day.
type Planned struct {
	ID   string    `json:"id"`
	Name string    `json:"name"`
	Day  gear.Date `json:"day" format:"date"`
}

// DropsWith gives the drops of a day and later that name an item, the first hundred.
func (s *Store) DropsWith(ctx context.Context, team Team, item string, since gear.Date) ([]Planned, error) {
	rows, err := s.q.DropsWithItem(ctx, sqlc.DropsWithItemParams{TeamID: team.ID, Since: string(since), Item: item})
	if err != nil {
		return nil, err
	}
	list := make([]Planned, len(rows))
	for i, r := range rows {
		list[i] = Planned{r.ID, r.Name, gear.Date(r.Day)}
	}
	return list, nil
}

// Elsewhere names for each item the first other drop of a day that it is on.
func (s *Store) Elsewhere(ctx context.Context, team Team, day gear.Date, besides string) (map[string]string, error) {
	rows, err := s.q.DropsOfDay(ctx, sqlc.DropsOfDayParams{TeamID: team.ID, Day: string(day), Besides: besides})
	if err != nil {
		return nil, err
	}
	busy := map[string]string{}
	for _, r := range rows {
		d, err := drop.ReadKept(r.Document)
		if err != nil {
			return nil, fmt.Errorf("drop %s: %w", r.ID, err)
		}
		for id := range d.Used() {
			if _, known := busy[id]; !known {
				busy[id] = r.Name
			}
		}
	}
	delete(busy, "")
	return busy, nil
}
