// Package scenario puts the demo data into a store.
package scenario

import (
	"context"
	"time"

	"zealousknot/internal/core/day"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/demo"
	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

// Load keeps the scenario as of a day, and the second team; loaded is false where it is there
// already.
func Load(ctx context.Context, s *store.Store, on gear.Date) (team store.Team, loaded bool, err error) {
	hash, err := web.HashPassword(ctx, demo.Password)
	if err != nil {
		return team, false, err
	}
	sc := Of(hash)
	Move(sc, on, time.Now())
	team, loaded, err = s.Load(ctx, sc)
	if err != nil {
		return team, loaded, err
	}
	_, _, err = s.Load(ctx, &store.Scenario{Team: demo.OtherTeam, Members: members(demo.OtherAccounts(), hash)})
	return team, loaded, err
}

// Of is the demo team with everything it has.
func Of(hash string) *store.Scenario {
	sc := &store.Scenario{Team: demo.Team, Gear: demo.Gear(), People: demo.People(), Drops: demo.Drops(), Boards: []*day.Board{demo.Board()}, Preplans: demo.Preplans(), Members: members(demo.Accounts(), hash)}
	for _, g := range demo.Records() {
		sc.Signed = append(sc.Signed, store.Signed{Login: g.Login, Entry: g.Entry})
	}
	return sc
}

func members(accounts []demo.Account, hash string) []store.ScenarioMember {
	var list []store.ScenarioMember
	for _, a := range accounts {
		list = append(list, store.ScenarioMember{
			NewAccount: store.NewAccount{Login: a.Login, Name: a.Name, Hash: hash, Demo: true}, Person: a.Person, Roles: a.Roles,
		})
	}
	return list
}

// Accounts are what the sign-in page of the demo lists.
func Accounts() []web.DemoAccount {
	var list []web.DemoAccount
	for _, a := range demo.Accounts() {
		list = append(list, web.DemoAccount{Login: a.Login, Password: demo.Password, Name: a.Name, Is: a.Is})
	}
	return list
}
