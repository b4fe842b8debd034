package store

import (
	"context"

	lru "github.com/hashicorp/golang-lru/v2"

	"github.com/google/uuid"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/digest"
	"zealousknot/internal/core/record"
)

// Looked is what was found on a drop with what is the team's, and how its plan stands.
type Looked struct {
	Stops, Looks int
	// Empty: there is nothing in it to look at yet.
	Empty bool
	// Refused says why it could not be looked at; "" where it was.
	Refused string
	Plan    record.State
}

// keptLooks bounds how many drops are not looked at again while nothing of them changes.
const keptLooks = 20_000

// looks are what was found, by everything that it was found from.
type looks = lru.Cache[digest.Sum, Looked]

func newLooks() *looks {
	kept, err := lru.New[digest.Sum, Looked](keptLooks)
	if err != nil {
		panic(err) // the size is wrong
	}
	return kept
}

// Look gives what is found on a drop, which has what is the team's (Present) and whose plan was
// given a state last. It looks where nothing is kept that was found from just the same and
// wanted says so; known is false where it says no.
func (s *Store) Look(ctx context.Context, team uuid.UUID, d *Drop, given GivenState, wanted func() bool) (found Looked, known bool, err error) {
	key := digest.Of(team[:], d.ID, d.Document, given)
	if found, known = s.looks.Get(key); known || !wanted() {
		return found, known, nil
	}
	found.Plan = record.Draft
	report, err := check.Drop(ctx, d.Document, s.Rescues, check.FindingsOnly)
	switch {
	case ctx.Err() != nil:
		return found, false, ctx.Err()
	case err != nil:
		found.Refused = err.Error()
	default:
		found.Stops, found.Looks, found.Empty = report.Stops, report.Looks, report.Empty()
		if given.State != "" && given.State != record.Draft {
			standing, err := s.Stands(ctx, team, d)
			if err != nil {
				return found, false, err
			}
			found.Plan = standing.State
		}
	}
	s.looks.Add(key, found)
	return found, true, nil
}
