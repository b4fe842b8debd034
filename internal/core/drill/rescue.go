package drill

import (
	"context"

	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
)

// ofRescue is a move of a rescuer with a casualty; pickOff is what it is called.
const (
	ofRescue = "rescue"
	pickOff  = "pick-off"
)

// rescuing asks for a pick-off: the rescuer hangs parked beside the casualty.
func (m *maker) rescuing(ctx context.Context) error {
	s, err := m.rescueBase(ctx)
	if err != nil {
		return err
	}
	d, r := s.Drop, s.Rig
	for _, id := range shuffled(m.rnd, personsUp(r)) {
		if m.Person != "" && id != m.Person || len(d.Rescue.Rescuers) == 0 {
			continue
		}
		at := r.People[0].AtM
		for _, p := range r.People {
			if p.ID == id {
				at = p.AtM
			}
		}
		for _, c := range shuffled(m.rnd, d.Rescue.Rescuers) {
			q := Question{Of: ofRescue, Move: pickOff, Person: id, Rescuer: c.Person, Way: "own-strands", Set: setOf(r, id), AtM: at}
			sc, start, err := q.scene(ctx, s)
			if err != nil {
				m.given = err
				continue
			}
			plan, err := sc.Find(ctx, q.Way, start)
			if ctx.Err() != nil {
				return ctx.Err()
			}
			if err != nil {
				m.given = refused("/drop/rescue", "%s is not fetched by %s there: %v", id, c.Person, err)
				continue
			}
			q.Best = &Best{Holds: plan.Handled, Seconds: plan.Seconds}
			m.e.Drop, m.e.Question, m.e.Answers = d, q, &Answers{Rescue: rescueActions(plan)}
			return nil
		}
	}
	err = m.given
	if err == nil {
		err = refused("/drop/rescue", "nobody hangs there who could be fetched")
	}
	if m.Drop != nil {
		return m.stop(err)
	}
	return err
}

func rescueActions(p *pair.Plan) (list []pair.Action) {
	for i := range p.Steps {
		list = append(list, p.Steps[i].Action)
	}
	return list
}

// setOf is the set that somebody hangs on.
func setOf(r *rig.Rig, person string) int {
	for _, p := range r.People {
		if p.ID == person && len(p.Holds) > 0 {
			return p.Holds[0].Strand.Set
		}
	}
	return 1
}

// rescueBase is a sound rig with who would come.
func (m *maker) rescueBase(ctx context.Context) (*site.Site, error) {
	if m.Drop != nil && m.Drop.Rescue == nil {
		return nil, m.stop(refused("/drop/rescue", "missing: nobody is assigned to come"))
	}
	s, err := m.base(ctx, fetched)
	if err != nil {
		return nil, err
	}
	d := s.Drop
	d.Rescue = &rig.Rescue{Rescuers: []rig.Rescuer{{Person: rescuer}}}
	if m.Drop != nil {
		d.Rescue = m.Drop.Rescue
	}
	return site.Open(d)
}

// scene is the scene of the question, and the pair as it begins.
func (q *Question) scene(ctx context.Context, s *site.Site) (*pair.Scene, pair.State, error) {
	if s.Drop.Rescue == nil {
		return nil, pair.State{}, refused("/drop/rescue", "missing")
	}
	pl, err := cover.Open(ctx, s, cover.Options{Cache: new(cover.Cache)})
	if err != nil {
		return nil, pair.State{}, err
	}
	w := cover.Way{Kind: q.Way, Rescuer: q.Rescuer, Set: q.Set}
	return pl.Scene(&w, q.Person, q.AtM)
}

// rescueStanding is where somebody who fetches a casualty stands.
func (e *Exercise) rescueStanding(ctx context.Context, s *site.Site, steps []pair.Action) (*Standing, error) {
	sc, start, err := e.Question.scene(ctx, s)
	if err != nil {
		return nil, under("/exercise", err)
	}
	out := &Standing{Found: []stance.Breach{}}
	var found []stance.Breach
	out.Rescue, found = sc.Walk(e.Question.Way, start, steps)
	out.Found = append(out.Found, found...)
	end, whole := sc.End(start, steps)
	out.Reached, out.RescueOffers = whole && sc.Done(&end), sc.Offers(&end)
	return out, nil
}

// rescue marks the steps of somebody who fetches a casualty.
func (m *Mark) rescue(ctx context.Context, e *Exercise, s *site.Site, steps []pair.Action) error {
	st, err := e.rescueStanding(ctx, s, steps)
	if err != nil {
		return err
	}
	m.Breaches, m.Holds, m.Seconds, m.Done = st.Found, st.Rescue.Handled, st.Rescue.Seconds, st.Reached
	m.Score = scored(m.Breaches, m.Done && len(steps) > 0)
	return nil
}

// rescuer is who comes on a made-up rig.
const rescuer = "rescuer"

// fetch puts the rescuer at the top of a made-up rig, with what a pick-off takes.
func (t *taking) fetch() {
	t.d.People[0].ID, t.d.People[0].Name, t.d.People[0].AtM = "casualty", "the casualty", t.d.Geometry.TopM-10
	t.d.People[0].Moves = nil
	for i := range t.d.People[0].Holds {
		t.d.People[0].Holds[i].ID = "casualty-" + t.d.People[0].Holds[i].Strand
	}
	p := rig.Person{ID: rescuer, Name: "the rescuer", MassKg: 82, AtM: t.d.Geometry.TopM, Grounded: true}
	harness, _ := t.take(gear.Harness, nil)
	p.Harness = harness.ID
	forTwo := func(_ *gear.Item, m *gear.Model) bool { return mode(m, 2) != nil }
	t.carry(&p, gear.Descender, forTwo)
	backup := t.carry(&p, gear.BackupDevice, forTwo)
	t.carry(&p, gear.Absorber, func(i *gear.Item, m *gear.Model) bool {
		return m.Absorber.MaxKg >= 170 && backup.Backup != nil && find(backup.Backup.Links, func(l *gear.AllowedLink) bool { return l.Model == i.Model }) != nil
	})
	t.climbing(&p)
	for _, class := range []gear.Class{gear.Pulley, gear.Gloves} {
		t.carry(&p, class, nil)
	}
	for range 9 {
		t.carry(&p, gear.Connector, locking)
	}
	for i := range t.d.Models {
		p.Familiar = append(p.Familiar, rig.Familiarity{Model: t.d.Models[i].ID, On: dayOf.AddMonths(-6)})
	}
	t.d.People = append(t.d.People, p)
}
