package store

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgtype"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store/sqlc"
)

// Outcome is what became of an entry.
type Outcome struct {
	ID     string `json:"id"`
	State  string `json:"state" enum:"kept,already,refused" doc:"already: it was there, as it is"`
	Number int64  `json:"number,omitempty"`
	// Conflict says what was otherwise in the store than the device could know; the
	// entry is recorded with it.
	Conflict string         `json:"conflict,omitempty"`
	Errors   []strict.Fault `json:"errors,omitempty" doc:"why it was refused"`
}

// recorder is some batches on their way into the ledger.
type recorder struct {
	*ledger
	team Team
	jobs []*job

	// job is the one in hand, effects what is still to be done for it, and changed
	// what it changes.
	job     *job
	effects []func(context.Context) error
	changed Change

	kept   map[string]sqlc.RecordsByIDRow
	items  map[string]*storedItem
	models map[string]*gear.Model
	people map[string]*rig.Member
	kits   map[string]*gear.Kit
	days   map[string]gear.Date
	// examiners are the team's people, where something was examined or proved at once.
	examiners []rig.Member
	photos    map[string]bool
	// incidents are what those among the entries are about, by drop; "" for what is on no drop.
	incidents *frozenStore
	// hours are those that stand, by person and day.
	hours map[personDay]quantity.Hours
}

type personDay struct {
	person string
	day    gear.Date
}

type storedItem struct {
	gear.Item
	model gear.Model
	// stoppedAt is when it was last put into quarantine; of what comes back alone.
	stoppedAt time.Time
}

func (r *recorder) run(ctx context.Context) error {
	if err := r.gather(ctx); err != nil {
		return err
	}
	var all Change
	for _, r.job = range r.jobs {
		r.effects, r.changed = nil, Change{}
		if err := r.runJob(ctx); err != nil {
			return err
		}
		all.add(&r.changed)
	}
	if err := r.flush(ctx); err != nil {
		return err
	}
	return all.tell(ctx, r.q, r.team.ID)
}

func (r *recorder) runJob(ctx context.Context) (err error) {
	r.job.outcomes = make([]Outcome, len(r.job.batch.Records))
	for i := range r.job.batch.Records {
		if r.job.outcomes[i], err = r.one(ctx, i); err != nil {
			return err
		}
	}
	if len(r.effects) > 0 {
		// What follows from a record comes after it.
		if err := r.flush(ctx); err != nil {
			return err
		}
	}
	for _, effect := range r.effects {
		if err := effect(ctx); err != nil {
			return err
		}
	}
	if r.changed.Gear || r.changed.People {
		return r.takeBack(ctx, r.team, r.job.signer, &r.changed)
	}
	return nil
}

// entries are those of all batches.
func (r *recorder) entries() []*record.Entry {
	var list []*record.Entry
	for _, j := range r.jobs {
		for i := range j.batch.Records {
			list = append(list, &j.batch.Records[i])
		}
	}
	return list
}

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
		if i := r.items[c.Item]; i != nil && c.DoneAt().After(i.stoppedAt) {
			i.stoppedAt = c.DoneAt()
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

// corrected is what the record says that an entry corrects; nil where it corrects none.
func (r *recorder) corrected(e *record.Entry) *record.Content {
	k, there := r.kept[e.Corrects]
	c := new(record.Content)
	if !there || json.Unmarshal(k.Content, c) != nil {
		return nil
	}
	return c
}

// knows reports whether somebody was shown a model by a day.
func (r *recorder) knows(person, model string, day gear.Date) bool {
	i := slices.IndexFunc(r.examiners, func(m rig.Member) bool { return m.ID == person })
	return i >= 0 && slices.ContainsFunc(r.examiners[i].Familiar, func(f rig.Familiarity) bool { return f.Model == model && f.On <= day })
}

// one judges an entry and adds it.
func (r *recorder) one(ctx context.Context, i int) (Outcome, error) {
	e := &r.job.batch.Records[i]
	out := Outcome{ID: e.ID, State: "refused"}
	if k, there := r.kept[e.ID]; there {
		return r.again(e, k, fmt.Sprintf("/records/%d/id", i)), nil
	}
	facts, err := r.facts(ctx, e)
	if err != nil {
		return out, err
	}
	var faults strict.Faults
	conflict := facts.Judge(e, fmt.Sprintf("/records/%d", i), &faults)
	var refused *strict.Error
	if errors.As(faults.Err(), &refused) {
		out.Errors = refused.Faults
		return out, nil
	}
	out.State, out.Conflict = "kept", conflict
	content := &record.Content{Entry: *e, ClockOffS: facts.ClockOffS(), Conflict: conflict}
	if facts.Paper != nil {
		content.DoneBy = facts.Paper.Name
	}
	content.OnDeviceOf = r.job.device
	if e.Kind == record.KitReturn {
		content.Missing = e.NotBack(facts.Kit)
	}
	if e.Recall != nil {
		content.Affected = r.affected(e)
	}
	if e.Incident != nil {
		if content.Frozen, err = r.freeze(ctx, e); err != nil {
			return out, err
		}
	}
	if out.Number, err = r.sign(content); err != nil {
		return out, err
	}
	return out, r.follow(ctx, e)
}

func (r *recorder) sign(c *record.Content) (int64, error) {
	n, err := r.add(r.job.signer, uuid.MustParse(c.ID), c)
	text, _ := json.Marshal(c)
	r.kept[c.ID] = sqlc.RecordsByIDRow{Number: n, ID: uuid.MustParse(c.ID), Kind: string(c.Kind), ByID: r.job.signer.Account, Content: text}
	if k, ok := r.kept[c.Corrects]; ok {
		k.Corrected = true
		r.kept[c.Corrects] = k
	}
	r.changed.Records = true
	r.changed.drop(c.Drop)
	return n, err
}

// again answers for an entry whose id is there already.
func (r *recorder) again(e *record.Entry, k sqlc.RecordsByIDRow, at string) Outcome {
	out := Outcome{ID: e.ID, State: "already", Number: k.Number}
	var c record.Content
	err := json.Unmarshal(k.Content, &c)
	was, _ := json.Marshal(c.Entry)
	if is, _ := json.Marshal(e); err != nil || k.ByID != r.job.signer.Account || !bytes.Equal(was, is) {
		return Outcome{ID: e.ID, State: "refused", Errors: []strict.Fault{{Pointer: at, Detail: "another record has this id"}}}
	}
	out.Conflict = c.Conflict
	return out
}

func (r *recorder) facts(ctx context.Context, e *record.Entry) (*record.Facts, error) {
	f := &record.Facts{Signer: *r.job.signer, Arrived: r.now, Sent: r.job.sent, Person: r.people[e.Person], DropDay: r.days[e.Drop]}
	if i := r.items[e.Item]; i != nil {
		f.Item, f.Model, f.StoppedAt = &i.Item, &i.model, i.stoppedAt
	}
	if e.Check != nil {
		if i := r.items[e.Check.Rope]; i != nil && i.model.Rope != nil {
			f.Rope = &i.Item
		}
		f.Familiar = f.Item != nil && r.knows(f.Signer.Person, f.Item.Model, e.Day)
	}
	if e.Paper != nil {
		f.Paper = r.people[e.Paper.By]
	}
	if e.Familiar != nil {
		f.Model = r.models[e.Familiar.Model]
	}
	if (e.Examined != nil || e.Kind == record.BackInService) && f.Model != nil {
		f.MayNotExamine = rig.MayNotExamine(r.examiners, f.Signer.Person, f.Signer.Keeps, f.Model.Class, e.Day)
		if x := e.Examined; x != nil && x.Source != "" {
			// Somebody else has examined it, as a paper says; who keeps the store enters that.
			if f.MayNotExamine = "is entered by a store keeper"; f.Signer.Keeps {
				f.MayNotExamine = ""
			}
		}
	}
	if e.Recall != nil {
		f.Model = r.models[e.Recall.Model]
	}
	if e.Cut != nil {
		_, f.Taken = r.items[e.Cut.Into]
	}
	f.Photos = r.photos
	if e.Rope != nil {
		if i := r.items[e.Rope.With]; i != nil && i.model.Rope != nil {
			f.With = &i.Item
		}
	}
	if e.Incident != nil {
		f.Counted, f.Present, f.Runs = r.incidents.items, r.incidents.people, map[string]bool{e.Incident.Run: r.incidents.runs[e.Incident.Run] != nil}
	}
	if e.Kit != nil {
		f.Kit, f.Counted = r.kits[e.Kit.Kit], r.counted(e.Kit.Items)
	}
	if e.Worn != nil {
		ids := make([]string, len(e.Worn.Items))
		for i, w := range e.Worn.Items {
			ids[i] = w.Item
		}
		f.Counted = r.counted(ids)
	}
	if e.Hours != nil {
		f.HoursThatDay = r.hours[personDay{e.Person, e.Day}]
		if c := r.corrected(e); c != nil && c.Hours != nil && c.Person == e.Person && c.Day == e.Day {
			f.HoursThatDay -= c.Hours.Hours
		}
	}
	if k, ok := r.kept[e.Corrects]; ok {
		f.Corrected = &record.Corrected{Kind: record.Kind(k.Kind), By: k.ByID, Already: k.Corrected}
	}
	if k, ok := r.kept[e.Confirms]; ok {
		var c record.Content
		if err := json.Unmarshal(k.Content, &c); err != nil {
			return nil, fmt.Errorf("record %d: %w", k.Number, err)
		}
		f.Confirmed = &record.Corrected{Kind: record.Kind(k.Kind), By: k.ByID, Person: c.Person, Already: k.Corrected}
	}
	if e.Kind == record.PartnerCheck && f.DropDay != "" {
		row, err := r.q.Drop(ctx, sqlc.DropParams{TeamID: r.team.ID, ID: e.Drop})
		if err != nil {
			return nil, err
		}
		d, err := readDrop(row.ID, row.Version, row.Document, row.ChangedAt.Time)
		if err != nil {
			return nil, err
		}
		if err := present(ctx, r.q, r.team, d); err != nil {
			return nil, err
		}
		f.Rigging = procedure.RiggingOn(d.Document, e.Person)
		if e.Paper != nil {
			if f.RiggingThen, err = r.riggingAt(ctx, e); err != nil {
				return nil, err
			}
		}
	}
	return f, nil
}

// counted are those of some items that the store has.
func (r *recorder) counted(ids []string) map[string]*gear.Item {
	items := map[string]*gear.Item{}
	for _, id := range ids {
		if i := r.items[id]; i != nil {
			items[id] = &i.Item
		}
	}
	return items
}

// riggingAt names the rigging of an entry's person as it was in the minute that its paper says;
// empty where the drop was not there.
func (r *recorder) riggingAt(ctx context.Context, e *record.Entry) (string, error) {
	at, _ := time.Parse(time.RFC3339Nano, e.Paper.At)
	text, err := r.q.DropBefore(ctx, sqlc.DropBeforeParams{TeamID: r.team.ID, DropID: e.Drop, Before: pgtype.Timestamptz{Time: at.Truncate(time.Minute).Add(time.Minute), Valid: true}})
	if errors.Is(err, pgx.ErrNoRows) {
		return "", nil
	}
	if err != nil {
		return "", err
	}
	d := new(drop.Document)
	if err := json.Unmarshal(text, d); err != nil {
		return "", fmt.Errorf("version of %s: %w", e.Drop, err)
	}
	g, err := readNamed(ctx, r.q, r.team.ID, d.Names())
	if err != nil {
		return "", err
	}
	d.Refresh(g)
	return procedure.RiggingOn(d, e.Person), nil
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
	case record.RopeCutting:
		r.cut(e)
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
		i.State, i.Reason = gear.InService, ""
		r.effects = append(r.effects, func(ctx context.Context) error {
			if err := r.q.ReturnItem(ctx, sqlc.ReturnItemParams{TeamID: team, ID: e.Item}); err != nil {
				return err
			}
			return r.q.CheckEvents(ctx, sqlc.CheckEventsParams{TeamID: team, ItemID: e.Item, Day: toDate(e.Day)})
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

// recall stops each item that a recall is about and that is in service.
func (r *recorder) recall(ctx context.Context, e *record.Entry) error {
	for _, id := range r.affected(e) {
		next := e.StopsFor(id)
		if next == nil || r.items[id].State != gear.InService {
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

// stop puts an item out of service.
func (r *recorder) stop(e *record.Entry) {
	i := r.items[e.Item]
	event := e.Happened()
	e.Stop(&i.Item)
	// What comes after it in the batch knows of it.
	i.Events = append(i.Events, event)
	c := record.Content{Entry: *e, ClockOffS: (&record.Facts{Arrived: r.now, Sent: r.job.sent}).ClockOffS()}
	if at := c.DoneAt(); at.After(i.stoppedAt) {
		i.stoppedAt = at
	}
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
