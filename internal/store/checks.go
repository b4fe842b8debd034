package store

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/store/sqlc"
)

// saidOf are the records that say what was checked on the days of some drops, and which of
// their items came off their ropes, in the order in which they were done.
type saidOf struct {
	shift *record.Shift
	list  []said
}

// said is a record and who signed it.
type said struct {
	record.Content
	by string
}

// checksOf gives what was said of the days of some drops. The last that was done decides,
// whatever was sent or typed last.
func checksOf(ctx context.Context, q *sqlc.Queries, team Team, hours quantity.Hours, drops []*Drop) (*saidOf, error) {
	now := time.Now()
	s := &record.Shift{At: now, Today: gear.Date(now.In(team.Location()).Format(time.DateOnly)), Hours: hours}
	days, used := map[string]bool{}, map[string]bool{}
	for _, d := range drops {
		maps.Copy(used, d.Document.Used())
		if days[string(d.Document.Day)] = true; d.Document.Day == s.Today {
			days[string(s.Today.AddDays(-1))] = true
		}
	}
	checks, err := q.ChecksOfDays(ctx, sqlc.ChecksOfDaysParams{TeamID: team.ID, Days: slices.Collect(maps.Keys(days))})
	if err != nil || len(checks) == 0 {
		return &saidOf{shift: s}, err
	}
	off, err := q.TakenOff(ctx, sqlc.TakenOffParams{TeamID: team.ID, Ids: slices.Collect(maps.Keys(used))})
	if err != nil {
		return nil, err
	}
	list := make([]said, len(checks)+len(off))
	read := func(i int, id uuid.UUID, content []byte) error {
		if err := json.Unmarshal(content, &list[i].Content); err != nil {
			return fmt.Errorf("record %s: %w", id, err)
		}
		return nil
	}
	for i, row := range checks {
		list[i].by = row.ByName
		if err := read(i, row.ID, row.Content); err != nil {
			return nil, err
		}
	}
	for i, row := range off {
		if err := read(len(checks)+i, row.ID, row.Content); err != nil {
			return nil, err
		}
	}
	slices.SortStableFunc(list, func(a, b said) int { return record.InOrder(&a.Content, &b.Content) })
	return &saidOf{s, list}, nil
}

// give gives a drop the checks of its items and people, in place of those that it has.
func (o *saidOf) give(d *drop.Document, id string) {
	d.Checks, d.PartnerChecks, d.WornChecks = nil, nil, nil
	shown := record.Show(d, id, o.shift)
	for i := range o.list {
		shown.Add(&o.list[i].Content, o.list[i].by)
	}
}
