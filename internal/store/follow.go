package store

import (
	"context"
	"encoding/json"
	"slices"
	"strings"

	"github.com/google/uuid"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/store/sqlc"
)

// followUp gives what the program adds after an entry an id that nobody has: whoever knows how
// it is made could have taken it.
func (r *recorder) followUp(ctx context.Context, next *record.Entry) error {
	for {
		if _, taken := r.kept[next.ID]; !taken {
			return nil
		}
		next.Another()
		if err := r.gatherKept(ctx, uuid.MustParse(next.ID)); err != nil {
			return err
		}
	}
}

// follow notes what follows from an entry that was recorded.
func (r *recorder) follow(ctx context.Context, e *record.Entry) error {
	team := r.team.ID
	if e.Hours != nil {
		r.hours[personDay{e.Person, e.Day}] += e.Hours.Hours
	}
	if c := r.corrected(e); c != nil && c.Hours != nil {
		r.hours[personDay{c.Person, c.Day}] -= c.Hours.Hours
	}
	switch e.Kind {
	case record.Examination, record.Inspection, record.FunctionCheck, record.WornCheck:
		r.examined(e)
		for _, next := range e.FollowUps() {
			if err := r.followUp(ctx, next); err != nil {
				return err
			}
			if _, err := r.sign(&record.Content{Entry: *next}); err != nil {
				return err
			}
			if err := r.follow(ctx, next); err != nil {
				return err
			}
		}
	case record.RopeNote:
		r.remap(e.Item)
	case record.RopeCutting:
		r.cut(e)
		r.remap(e.Item, e.Cut.Into)
	case record.RecallNotice:
		return r.recall(ctx, e)
	case record.Incident:
		return r.incident(ctx, e)
	case record.Retirement:
		r.retire(e)
	case record.Quarantine:
		r.changed.item(e.Item)
		r.stop(e)
	case record.BackInService:
		r.changed.item(e.Item)
		i := r.items[e.Item]
		i.State, i.Reason, i.in = gear.InService, "", nil
		by := r.job.signer.Name
		r.effects = append(r.effects, func(ctx context.Context) error {
			if err := r.q.ReturnItem(ctx, sqlc.ReturnItemParams{TeamID: team, ID: e.Item}); err != nil {
				return err
			}
			return r.q.CheckEvents(ctx, sqlc.CheckEventsParams{TeamID: team, ItemID: e.Item, Day: toDate(e.Day), CheckedBy: by})
		})
	case record.Familiarisation:
		r.changed.person(e.Person)
		r.effects = append(r.effects, func(ctx context.Context) error { return r.familiar(ctx, e) })
	case record.Practice:
		r.changed.person(e.Person)
		r.effects = append(r.effects, func(ctx context.Context) error { return r.practise(ctx, e) })
	case record.KitIssue, record.KitReturn:
		r.moveKit(e)
		r.seal(e)
	case record.KitSealed, record.SealBroken:
		r.seal(e)
	case record.Withdrawal:
		if c := r.corrected(e); c != nil && c.Kind == record.Examination {
			return r.unexamine(ctx, c)
		} else if c != nil && c.Kind == record.RopeNote {
			r.remap(c.Item)
		}
		r.effects = append(r.effects, func(ctx context.Context) error { return r.forget(ctx, e.Corrects) })
	}
	return nil
}

// cut makes a rope shorter, and the part that is cut off an item of its own.
func (r *recorder) cut(e *record.Entry) {
	c, rope := e.Cut, r.items[e.Item]
	r.changed.item(e.Item)
	if c.Into != "" {
		part := *rope
		part.ID, part.Label, part.LengthM = c.Into, c.Label, rope.LengthM-c.AtM
		r.items[c.Into] = &part
		r.changed.item(c.Into)
	}
	rope.LengthM = c.AtM
	cut := sqlc.CutRopeParams{Team: r.team.ID, Rope: e.Item, At: float64(c.AtM), Part: c.Into, Called: strings.TrimSpace(c.Label)}
	r.effects = append(r.effects, func(ctx context.Context) error { return r.q.CutRope(ctx, cut) })
}

// affected are the items that a recall is about, by id.
func (r *recorder) affected(e *record.Entry) []string {
	of, list := e.Recall.Of(), []string{}
	for id, i := range r.items {
		if of.Affects(&i.Item) {
			list = append(list, id)
		}
	}
	slices.Sort(list)
	return list
}

// recall stops each item that a recall is about. One that is in quarantine already notes it
// too: what it was stopped for first is not all that is to be looked at.
func (r *recorder) recall(ctx context.Context, e *record.Entry) error {
	for _, id := range r.affected(e) {
		next := e.StopsFor(id)
		if next == nil {
			continue
		}
		if err := r.signNext(ctx, next); err != nil {
			return err
		}
	}
	return nil
}

// signNext signs what follows from an entry about several items.
func (r *recorder) signNext(ctx context.Context, next *record.Entry) error {
	for {
		if err := r.gatherKept(ctx, uuid.MustParse(next.ID)); err != nil {
			return err
		}
		if _, taken := r.kept[next.ID]; !taken {
			break
		}
		next.Another()
	}
	if _, err := r.sign(&record.Content{Entry: *next}); err != nil {
		return err
	}
	return r.follow(ctx, next)
}

// retire takes an item out of service for good, and says how it was made useless.
func (r *recorder) retire(e *record.Entry) {
	r.changed.item(e.Item)
	i := r.items[e.Item]
	e.Retire(&i.Item)
	out := sqlc.RetireItemParams{TeamID: r.team.ID, ID: e.Item, Reason: i.Reason}
	r.effects = append(r.effects, func(ctx context.Context) error { return r.q.RetireItem(ctx, out) })
}

// moveKit hands a kit out, or takes it back.
func (r *recorder) moveKit(e *record.Entry) {
	r.changed.kit()
	k := r.kits[e.Kit.Kit]
	k.Missing = e.NotBack(k)
	k.IssuedTo, k.IssuedOn, k.Out = "", "", nil
	if e.Kind == record.KitIssue {
		k.IssuedTo, k.IssuedOn, k.Out = strings.TrimSpace(e.Kit.To), e.Day, e.Kit.Items
	}
	r.keepKit(k)
}

// keepKit writes where a kit is, and what is missing from it.
func (r *recorder) keepKit(k *gear.Kit) {
	move := sqlc.MoveKitParams{
		TeamID: r.team.ID, ID: k.ID, IssuedTo: k.IssuedTo, IssuedOn: toDate(k.IssuedOn), WentOut: append([]string{}, k.Out...), Missing: append([]string{}, k.Missing...),
	}
	r.effects = append(r.effects, func(ctx context.Context) error { return r.q.MoveKit(ctx, move) })
}

// seal notes what a bag is sealed with from now on.
func (r *recorder) seal(e *record.Entry) {
	k := r.kits[e.Kit.Kit]
	now := e.SealAfter(k, r.job.signer.Name)
	if now == k.Seal {
		return
	}
	r.changed.kit()
	if missing := len(k.Missing); now != nil && missing > 0 {
		// What is counted into a bag is there.
		if k.Missing = e.NotBack(k); len(k.Missing) < missing {
			r.keepKit(k)
		}
	}
	k.Seal = now
	seal := sqlc.SealKitParams{TeamID: r.team.ID, ID: k.ID, Seal: k.Seal}
	r.effects = append(r.effects, func(ctx context.Context) error { return r.q.SealKit(ctx, seal) })
}

// examined notes the day of a thorough examination that found an item fit for use.
func (r *recorder) examined(e *record.Entry) {
	x, i := e.Examined, r.items[e.Item]
	if x == nil || e.Kind != record.Examination || !x.Fit() || i.State != gear.InService || e.Day < i.ExaminedOn {
		return
	}
	r.changed.item(e.Item)
	i.ExaminedOn, i.AgainBy = e.Day, x.AgainBy
	day := sqlc.ExamineItemParams{TeamID: r.team.ID, ID: e.Item, ExaminedOn: toDate(e.Day), AgainBy: toDate(x.AgainBy)}
	r.effects = append(r.effects, func(ctx context.Context) error { return r.q.ExamineItem(ctx, day) })
}

// unexamine gives an item the day of the last examination that stands, where the one that is
// withdrawn was it.
func (r *recorder) unexamine(ctx context.Context, withdrawn *record.Content) error {
	i := r.items[withdrawn.Item]
	if i == nil || i.State == gear.Retired || !withdrawn.Examined.Fit() || withdrawn.Day != i.ExaminedOn {
		return nil
	}
	if err := r.flush(ctx); err != nil {
		return err
	}
	stand, err := standing(ctx, r.q, r.team.ID, i.ID)
	if err != nil {
		return err
	}
	r.changed.item(i.ID)
	i.ExaminedOn, i.AgainBy = record.LastExamined(i.ID, stand)
	day := sqlc.RedateItemParams{TeamID: r.team.ID, ID: i.ID, ExaminedOn: toDate(i.ExaminedOn), AgainBy: toDate(i.AgainBy)}
	r.effects = append(r.effects, func(ctx context.Context) error { return r.q.RedateItem(ctx, day) })
	return nil
}

// stop puts an item out of service.
func (r *recorder) stop(e *record.Entry) {
	i := r.items[e.Item]
	event := e.Happened()
	e.Stop(&i.Item)
	// What comes after it in the batch knows of it.
	i.Events = append(i.Events, event)
	i.stopped(&record.Content{Entry: *e, ClockOffS: (&record.Facts{Arrived: r.now, Sent: r.job.sent}).ClockOffS()})
	r.effects = append(r.effects, func(ctx context.Context) error { return quarantine(ctx, r.q, r.team.ID, e.Item, event) })
}

func (r *recorder) familiar(ctx context.Context, e *record.Entry) error {
	by := e.Familiar.By
	if by == "" {
		by = r.job.signer.Name
	}
	if e.Corrects != "" {
		if err := r.forget(ctx, e.Corrects); err != nil {
			return err
		}
	}
	if err := r.q.PutFamiliarisation(ctx, sqlc.PutFamiliarisationParams{
		TeamID: r.team.ID, PersonID: e.Person, ModelID: e.Familiar.Model, ShownOn: toDate(e.Day), ShownBy: by,
	}); err != nil {
		return err
	}
	return r.q.TouchPerson(ctx, sqlc.TouchPersonParams{TeamID: r.team.ID, ID: e.Person})
}

// forget takes back the familiarisation or practice that a withdrawn record made.
func (r *recorder) forget(ctx context.Context, id string) error {
	var c record.Content
	if err := json.Unmarshal(r.kept[id].Content, &c); err != nil || c.Kind != record.Familiarisation && c.Kind != record.Practice {
		return err
	}
	r.changed.person(c.Person)
	if c.Kind == record.Practice {
		return r.q.RemovePractice(ctx, sqlc.RemovePracticeParams{TeamID: r.team.ID, RecordID: uuid.MustParse(id)})
	}
	if err := r.q.RemoveFamiliarisation(ctx, sqlc.RemoveFamiliarisationParams{
		TeamID: r.team.ID, PersonID: c.Person, ModelID: c.Familiar.Model, ShownOn: toDate(c.Day),
	}); err != nil {
		return err
	}
	return r.q.TouchPerson(ctx, sqlc.TouchPersonParams{TeamID: r.team.ID, ID: c.Person})
}

// quarantine puts an item out of service at once and notes the event that stops
// it. The row is locked by the update, so that events are numbered one by one.
func quarantine(ctx context.Context, q *sqlc.Queries, team uuid.UUID, item string, e gear.Event) error {
	if _, err := q.QuarantineItem(ctx, sqlc.QuarantineItemParams{TeamID: team, ID: item, Reason: e.Reason()}); err != nil {
		return missing(err)
	}
	return q.AddEvent(ctx, sqlc.AddEventParams{TeamID: team, ItemID: item, Kind: e.Kind, Happened: toDate(e.On), Note: e.Note, PersonIn: pointer(e.In)})
}
