package main

import (
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"zealousknot/internal/core/record"
	events "zealousknot/internal/core/run"
	"zealousknot/internal/store"
)

// liveDrop is the drop of the demo that a live run is of, liveKg its load; liveFor is how long
// its stand-ins send.
const (
	liveDrop = "basin-wall"
	liveFor  = time.Hour
	liveKg   = 170
)

// live begins an exercise of a run that is running, with a load cell and an anemometer that
// stand in for real ones; they send until ctx is done, an hour at most.
func live(ctx context.Context, db *store.Store, team store.Team, address string, s streams) error {
	members, err := db.Members(ctx, team.ID)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(members, func(m store.Membership) bool { return m.Login == "dov" })
	if i < 0 {
		return fmt.Errorf("--live: the demo's supervisor is gone")
	}
	by := &record.Signer{Account: members[i].Account, Name: members[i].Name, Person: members[i].Person}
	id, err := db.AddRun(ctx, team, by, liveDrop, true)
	if err != nil {
		return fmt.Errorf("--live: %w", err)
	}
	began := events.Event{ID: uuid.NewString(), Kind: events.Start, GivenAt: time.Now().UTC().Format(time.RFC3339Nano)}
	if _, err := db.GiveEvents(ctx, team, by, id, 0, []events.Event{began}); err != nil {
		return err
	}
	to := address + "/api/v1/runs/" + id.String() + "/readings"
	for _, c := range []*standinCommand{
		{Device: "load-cell", Scenario: "descent", Rate: 10},
		{Device: "anemometer", Rate: 1},
	} {
		_, secret, err := db.AddDeviceToken(ctx, team.ID, by, id, c.Device+" (stand-in)")
		if err != nil {
			return err
		}
		c.To, c.Token, c.Seed, c.Speed, c.Seconds, c.Mass, c.Slip = to, secret, 1, 1, liveFor.Seconds(), liveKg, 20
		go func() {
			if err := c.Run(ctx, s); err != nil && ctx.Err() == nil {
				fmt.Fprintf(s.err, "the %s stopped: %v\n", c.Device, err)
			}
		}()
	}
	fmt.Fprintf(s.out, "EXERCISE: a live run is at %s/drops/%s/run\n", address, liveDrop)
	return nil
}
