package store

import (
	"context"
	"errors"

	"github.com/google/uuid"

	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/day"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/store/sqlc"
)

// Scenario is everything a team starts with.
type Scenario struct {
	Team   string
	Gear   *drop.Store
	People []rig.Member
	Drops  map[string]*drop.Document
	Boards []*day.Board
	// Preplans are those of sites, by their ids.
	Preplans map[string]*callout.Preplan
	Members  []ScenarioMember
	// Signed are records, each given by the member of a login.
	Signed []Signed
}

// ScenarioMember is somebody who may sign in.
type ScenarioMember struct {
	NewAccount
	Person string
	Roles  []string
}

// Signed is an entry with who gave it.
type Signed struct {
	Login string
	Entry record.Entry
}

// Load keeps a scenario, all of it or nothing; loaded is false where its team is
// there already, and nothing is then changed.
func (s *Store) Load(ctx context.Context, sc *Scenario) (team Team, loaded bool, err error) {
	err = s.inTx(ctx, func(q *sqlc.Queries) error {
		t, added, err := ensureTeam(ctx, q, sc.Team)
		if team = t; err != nil || !added {
			return err
		}
		loaded = true
		return s.load(ctx, q, team, sc)
	})
	return team, loaded, err
}

func (s *Store) load(ctx context.Context, q *sqlc.Queries, team Team, sc *Scenario) error {
	if sc.Gear != nil {
		if err := putGear(ctx, q, team.ID, sc.Gear); err != nil {
			return err
		}
	}
	if err := putPeople(ctx, q, team.ID, sc.People); err != nil {
		return err
	}
	for id, d := range sc.Drops {
		if _, err := addDrop(ctx, q, team.ID, nil, id, d); err != nil {
			return err
		}
	}
	for _, b := range sc.Boards {
		row := sqlc.AddBoardParams{TeamID: team.ID, Day: toDate(b.Day), Document: text(b)}
		if _, err := q.AddBoard(ctx, row); err != nil {
			return err
		}
	}
	for id, p := range sc.Preplans {
		if _, err := q.AddPreplan(ctx, sqlc.AddPreplanParams{TeamID: team.ID, ID: id, Document: text(p)}); err != nil {
			return err
		}
	}
	signers, err := addMembers(ctx, q, team.ID, sc.Members)
	if err != nil {
		return err
	}
	l, err := s.openLedger(ctx, q, team.ID)
	if err != nil {
		return err
	}
	for i := range sc.Signed {
		if err := l.note(signers[sc.Signed[i].Login], sc.Signed[i].Entry); err != nil {
			return err
		}
	}
	if err := l.flush(ctx); err != nil {
		return err
	}
	return q.PracticesOfRecords(ctx, team.ID)
}

// addMembers makes the accounts of a scenario, or finds those that another team
// brought, and gives the signers by login.
func addMembers(ctx context.Context, q *sqlc.Queries, team uuid.UUID, members []ScenarioMember) (map[string]*record.Signer, error) {
	signers := map[string]*record.Signer{}
	for i := range members {
		m := &members[i]
		id, err := addAccount(ctx, q, &m.NewAccount)
		if errors.Is(err, ErrTaken) {
			var there sqlc.AccountByLoginRow
			there, err = q.AccountByLogin(ctx, m.Login)
			id = there.ID
		}
		if err != nil {
			return nil, err
		}
		row := sqlc.AddMembershipParams{AccountID: id, TeamID: team, PersonID: pointer(m.Person), Roles: m.Roles}
		if err := q.AddMembership(ctx, row); err != nil {
			return nil, err
		}
		signers[m.Login] = &record.Signer{Account: id, Name: m.Name, Person: m.Person, Nobody: m.Person == ""}
	}
	return signers, nil
}
