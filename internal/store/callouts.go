package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/run"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store/sqlc"
)

// Preplan is a pre-plan as it is kept.
type Preplan struct {
	ID        string           `json:"id"`
	Version   int              `json:"version"`
	ChangedAt time.Time        `json:"changed_at"`
	ChangedBy string           `json:"changed_by,omitempty"`
	Preplan   *callout.Preplan `json:"preplan"`
}

// Preplans gives those of a team, by their ids.
func (s *Store) Preplans(ctx context.Context, team uuid.UUID) ([]Preplan, error) {
	rows, err := s.q.Preplans(ctx, team)
	list := make([]Preplan, len(rows))
	for i, r := range rows {
		p, err := callout.ReadPreplan(r.Document)
		if err != nil {
			return nil, fmt.Errorf("pre-plan %s: %w", r.ID, err)
		}
		list[i] = Preplan{r.ID, int(r.Version), r.ChangedAt.Time.UTC(), r.ChangedByName, p}
	}
	return list, err
}

// SavePreplan keeps a pre-plan if it still has the version that it was read with, 0 for a new
// one, and gives the new version; nil removes it. A *ConflictError where somebody was faster, a
// *strict.Error where it names a drop, or an anchor of one, that the team does not have. Plans of the drops
// that it names now, or named before, are judged anew.
func (s *Store) SavePreplan(ctx context.Context, team Team, signer *record.Signer, id string, version int, p *callout.Preplan) (saved int, err error) {
	err = s.inTx(ctx, func(q *sqlc.Queries) error {
		l, err := s.openLedger(ctx, q, team.ID)
		if err != nil {
			return err
		}
		change := Change{Callouts: true}
		if was, err := q.Preplan(ctx, sqlc.PreplanParams{TeamID: team.ID, ID: id}); err == nil {
			old, err := callout.ReadPreplan(was.Document)
			if err != nil {
				return fmt.Errorf("pre-plan %s: %w", id, err)
			}
			change.drop(old.Drop)
		} else if !errors.Is(err, pgx.ErrNoRows) {
			return err
		}
		if p != nil {
			if err := namesDrop(ctx, q, team.ID, p); err != nil {
				return err
			}
			change.drop(p.Drop)
		}
		if saved, err = keepPreplan(ctx, q, team.ID, signer, id, version, p); err != nil {
			return err
		}
		return l.changed(ctx, team, signer, change)
	})
	return saved, err
}

// keepPreplan adds, writes over or removes a pre-plan that has the version it was read with.
func keepPreplan(ctx context.Context, q *sqlc.Queries, team uuid.UUID, signer *record.Signer, id string, version int, p *callout.Preplan) (int, error) {
	body, err := json.Marshal(p)
	if err != nil {
		return 0, err
	}
	var v int32
	switch {
	case p == nil:
		v, err = q.RemovePreplan(ctx, sqlc.RemovePreplanParams{TeamID: team, ID: id, Version: int32(version)})
	case version == 0:
		v, err = q.AddPreplan(ctx, sqlc.AddPreplanParams{TeamID: team, ID: id, Document: body, ChangedByName: signer.Name})
	default:
		v, err = q.SavePreplan(ctx, sqlc.SavePreplanParams{TeamID: team, ID: id, Version: int32(version), Document: body, ChangedByName: signer.Name})
	}
	if errors.Is(err, pgx.ErrNoRows) {
		now, err := q.Preplan(ctx, sqlc.PreplanParams{TeamID: team, ID: id})
		if err != nil {
			return 0, missing(err)
		}
		return 0, &ConflictError{Version: int(now.Version)}
	}
	return int(v), err
}

// namesDrop looks whether the drop that a pre-plan names is there, with the anchors that its
// register ties to it: what is tied to nothing would be looked at nowhere.
func namesDrop(ctx context.Context, q *sqlc.Queries, team uuid.UUID, p *callout.Preplan) error {
	if p.Drop == "" {
		return nil
	}
	var faults strict.Faults
	row, err := q.Drop(ctx, sqlc.DropParams{TeamID: team, ID: p.Drop})
	if errors.Is(err, pgx.ErrNoRows) {
		faults.Addf("/drop", "there is no drop %q", p.Drop)
		return faults.Err()
	}
	if err != nil {
		return err
	}
	d, err := drop.ReadKept(row.Document)
	if err != nil {
		return err
	}
	for i, a := range p.Anchors {
		if a.Anchor != "" && !slices.ContainsFunc(d.Anchors, func(o rig.Anchor) bool { return o.ID == a.Anchor }) {
			faults.Addf(strict.Pointer("anchors", i, "anchor"), "%s has no anchor %q", d.Name, a.Anchor)
		}
	}
	return faults.Err()
}

// Callout is a callout as it is kept.
type Callout struct {
	ID        string            `json:"id"`
	ChangedAt time.Time         `json:"changed_at"`
	Callout   *callout.Document `json:"callout"`
	// Run and Drop are what it became.
	Run  string `json:"run,omitempty" doc:"left out: it is not put away"`
	Drop string `json:"drop,omitempty"`
}

// Callouts gives those of a team, last changed first, fifty at most.
func (s *Store) Callouts(ctx context.Context, team uuid.UUID) ([]Callout, error) {
	rows, err := s.q.Callouts(ctx, team)
	list := make([]Callout, len(rows))
	for i, r := range rows {
		d, err := callout.Read(r.Document)
		if err != nil {
			return nil, fmt.Errorf("callout %s: %w", r.ID, err)
		}
		list[i] = Callout{ID: r.ID.String(), ChangedAt: r.ChangedAt.Time.UTC(), Callout: d, Drop: value(r.DropID)}
		if r.RunID != nil {
			list[i].Run = r.RunID.String()
		}
	}
	return list, err
}

// ErrAway says that a callout was put away.
var ErrAway = errors.New("the callout is put away: what came later belongs to its run")

// GiveCallout takes in what a device has of a callout, and gives what is known of it by all:
// sent again, or in another order, nothing is there twice. ErrAway where it was put away with
// less than the device has.
func (s *Store) GiveCallout(ctx context.Context, team uuid.UUID, signer *record.Signer, id uuid.UUID, d *callout.Document) (whole *callout.Document, err error) {
	err = s.inTx(ctx, func(q *sqlc.Queries) error {
		body, err := json.Marshal(d.Signed(nil, signer.Name))
		if err != nil {
			return err
		}
		n, err := q.AddCallout(ctx, sqlc.AddCalloutParams{TeamID: team, ID: id, Document: body, ChangedByName: signer.Name})
		if err != nil {
			return err
		}
		if whole = d.Signed(nil, signer.Name); n == 1 {
			return (&Change{Callouts: true}).tell(ctx, q, team)
		}
		row, err := q.LockCallout(ctx, sqlc.LockCalloutParams{TeamID: team, ID: id})
		if err != nil {
			return missing(err)
		}
		was, err := callout.Read(row.Document)
		if err != nil {
			return fmt.Errorf("callout %s: %w", id, err)
		}
		whole = was.Merge(d.Signed(was, signer.Name))
		before, _ := json.Marshal(was)
		now, err := json.Marshal(whole)
		if err != nil || string(before) == string(now) {
			return err
		}
		if row.RunID != nil {
			return ErrAway
		}
		if err := q.SaveCallout(ctx, sqlc.SaveCalloutParams{TeamID: team, ID: id, Document: now, ChangedByName: signer.Name}); err != nil {
			return err
		}
		return (&Change{Callouts: true}).tell(ctx, q, team)
	})
	return whole, err
}

// PutAwayCallout makes of a callout what it was: a drop as it was known at last, and its run,
// ended, with the times that were marked; the run is then put away like any. Person is who of
// the team went down; empty: nobody of it. Done again it gives what it made. A *strict.Error
// names what is in the way.
func (s *Store) PutAwayCallout(ctx context.Context, team Team, signer *record.Signer, id uuid.UUID, person string, now time.Time) (dropID string, runID uuid.UUID, err error) {
	gear, err := s.Gear(ctx, team.ID)
	if err != nil {
		return "", runID, err
	}
	people, err := s.People(ctx, team.ID)
	if err != nil {
		return "", runID, err
	}
	policy, _, err := s.Policy(ctx, team)
	if err != nil {
		return "", runID, err
	}
	err = s.inTx(ctx, func(q *sqlc.Queries) error {
		row, err := q.LockCallout(ctx, sqlc.LockCalloutParams{TeamID: team.ID, ID: id})
		if err != nil {
			return missing(err)
		}
		c, err := callout.Read(row.Document)
		if err != nil {
			return fmt.Errorf("callout %s: %w", id, err)
		}
		dropID, runID = nameOfDrop(c, id), uuid.NewSHA1(id, []byte("run"))
		if row.RunID != nil {
			return nil
		}
		if _, ended := c.Last(callout.Ended); !ended {
			return &strict.Error{Faults: []strict.Fault{{Pointer: "/marks", Detail: "nobody has marked that it ended"}}}
		}
		a := &callout.Asked{Known: c.Known, Day: c.Day, Models: gear.Models, Items: gear.Items, Kits: gear.Kits, Used: c.Used, Policy: policy, Exercise: c.Exercise}
		card, err := a.Answer(ctx)
		if err != nil {
			return err
		}
		if card.Drop == nil {
			return &strict.Error{Faults: []strict.Fault{{Pointer: "/known/kits", Detail: "the kits give no rig: say which kits there were"}}}
		}
		card.Drop.Name, card.Drop.Note = c.Name, fmt.Sprintf("Made of the callout that came at %s, at the worst end of what was known. Anchors are taken where nobody measured them.", c.Began().In(team.Location()).Format("2006-01-02 15:04"))
		doc, err := s.runOf(c, card.Drop, people, person, dropID, id, signer, now)
		if err != nil {
			return err
		}
		if _, err := addDrop(ctx, q, team.ID, signer, dropID, card.Drop); err != nil {
			return err
		}
		if err := keepRun(ctx, q, team.ID, runID, signer, card.Drop, doc); err != nil {
			return err
		}
		if err := q.PutAwayCallout(ctx, sqlc.PutAwayCalloutParams{TeamID: team.ID, ID: id, Document: row.Document, RunID: &runID, ChangedByName: signer.Name}); err != nil {
			return err
		}
		return (&Change{Callouts: true, Drops: []string{dropID}, Runs: []uuid.UUID{runID}}).tell(ctx, q, team.ID)
	})
	return dropID, runID, err
}

// nameOfDrop is the id of the drop that a callout becomes.
func nameOfDrop(c *callout.Document, id uuid.UUID) string {
	return fmt.Sprintf("callout-%s-%s", c.Day, id.String()[:8])
}

// runOf is the run of a callout: it has ended, and says that it was typed afterwards.
func (s *Store) runOf(c *callout.Document, d *drop.Document, people []rig.Member, person, dropID string, id uuid.UUID, signer *record.Signer, now time.Time) (*run.Document, error) {
	doc := &run.Document{
		Format: run.Format, Version: run.Version, Drop: dropID, Site: c.Name, Exercise: c.Exercise, People: []run.Person{},
		Entered: &run.Entered{At: now.UTC().Format(time.RFC3339Nano), By: signer.Name, Callout: id.String()},
	}
	top := d.Geometry.TopM
	for _, p := range people {
		if p.ID != person {
			continue
		}
		devices := slices.Concat([]string{d.Team.Main.Brake, d.Team.Belay.Brake}, d.Strands[0].Ropes, d.Strands[1].Ropes)
		doc.People = append(doc.People, run.Person{ID: p.ID, Name: p.Name, AtM: top, Devices: devices})
	}
	var faults strict.Faults
	if person != "" && len(doc.People) == 0 {
		faults.Addf("/person", "nobody of the team has the id %q", person)
	}
	doc.Events = run.FromCallout(c, person, top, signer.Name, func(of string) string { return ofRun(id, of) })
	for i := range doc.Events {
		e := &doc.Events[i]
		switch {
		case e.At().After(now.Add(ahead)):
			faults.Addf("/marks", "%s is marked later than now", e.Kind)
		case now.Sub(e.At()) > record.Oldest:
			faults.Addf("/began_at", "is more than %d days ago", int(record.Oldest.Hours()/24))
		}
	}
	return doc, faults.Err()
}

// keepRun keeps a run with the document of its drop and its events.
func keepRun(ctx context.Context, q *sqlc.Queries, team, id uuid.UUID, signer *record.Signer, d *drop.Document, doc *run.Document) error {
	released, err := json.Marshal(d)
	if err != nil {
		return err
	}
	sum := sha256.Sum256(released)
	doc.Plan = hex.EncodeToString(sum[:])
	events := doc.Events
	made := *doc
	made.Events = []run.Event{}
	body, err := json.Marshal(&made)
	if err != nil {
		return err
	}
	if err := q.AddRun(ctx, sqlc.AddRunParams{TeamID: team, ID: id, DropID: doc.Drop, Day: toDate(d.Day), Document: body, Released: released, Sum: sum[:], ByID: signer.Account, ByName: signer.Name}); err != nil {
		return err
	}
	for i := range events {
		if err := giveEvent(ctx, q, team, id, signer.Account, &events[i]); err != nil {
			return err
		}
	}
	return q.SetRunPhase(ctx, sqlc.SetRunPhaseParams{TeamID: team, ID: id, Phase: string(run.Fold(doc).Phase)})
}
