package run

import (
	"time"
)

// doing is what each event of a person says that they do.
var doing = map[Kind]Doing{OnRope: On, AtPlace: AtWork, Working: AtItNow, OffRope: Off}

// person takes in what was given of somebody.
func (f *fold) person(e *Event) {
	b := f.people[e.Person]
	b.Heard = stamp(e)
	if e.AtM != nil {
		f.climbs(b, e)
	}
	now, changes := doing[e.Kind]
	switch {
	case !changes && e.Kind == Height && b.Doing == Off:
		f.conflict(e, "%s is off rope", b.Name)
	case e.Kind == OnRope && b.Doing != Off:
		f.conflict(e, "%s is %s already", b.Name, b.Doing)
	case e.Kind == OffRope && b.Doing == Off:
		f.conflict(e, "%s is off rope already", b.Name)
	case changes && e.Kind != OnRope && e.Kind != OffRope && b.Doing == Off:
		f.conflict(e, "%s was not given as on rope", b.Name)
	}
	if e.Kind == OnRope {
		f.goesOn(b, e)
	}
	if e.Kind == Working && f.Stopped != nil {
		f.conflict(e, "%s works, and work is stopped", b.Name)
	}
	if e.Kind == Working && f.permitEnded(e.At()) {
		f.conflict(e, "%s works, and the permit had ended", b.Name)
	}
	if changes {
		b.turns(now, e)
	}
	b.due(e.At())
}

// goesOn says what stands against somebody who goes on the rope: where work is stopped, or what
// they hang on was taken out in this run, nobody new loads it.
func (f *fold) goesOn(b *body, e *Event) {
	switch {
	case b.Briefed:
	case f.Briefing != nil:
		f.conflict(e, "%s went on the rope and had not signed the briefing", b.Name)
	case f.doc.Entered == nil:
		f.conflict(e, "%s went on the rope and was not briefed", b.Name)
	}
	if f.permitEnded(e.At()) {
		f.conflict(e, "%s went on the rope, and the permit had ended", b.Name)
	}
	if f.Stopped != nil {
		f.conflict(e, "%s went on the rope, and work is stopped", b.Name)
	}
	loads := f.doc.loads(e.Person)
	for _, n := range f.Quarantined {
		for _, item := range n.Items {
			if loads[item] {
				f.conflict(e, "%s went on the rope with %s, which was put into quarantine", b.Name, item)
			}
		}
	}
}

// permitEnded reports whether the permit of the briefing that stands ended before a moment.
func (f *fold) permitEnded(at time.Time) bool {
	if f.Briefing == nil || f.Briefing.Until == "" {
		return false
	}
	until, err := time.Parse(time.RFC3339Nano, f.Briefing.Until)
	return err == nil && at.After(until)
}

// loads are the items that somebody hangs on as planned.
func (d *Document) loads(person string) map[string]bool {
	list := map[string]bool{}
	for i := range d.People {
		if d.People[i].ID == person {
			for _, item := range d.People[i].Devices {
				list[item] = true
			}
		}
	}
	for i := range d.Bands {
		if d.Bands[i].Person == person {
			for _, item := range d.Bands[i].Items {
				list[item] = true
			}
		}
	}
	return list
}

// due sets when somebody out of sight is to be heard of again.
func (b *body) due(from time.Time) {
	b.DueAt = nil
	if b.Doing != Off && b.checkIn > 0 {
		due := from.Add(b.checkIn).UTC().Format(time.RFC3339Nano)
		b.DueAt = &due
	}
}

// turns begins what somebody does now.
func (b *body) turns(now Doing, e *Event) {
	if now != b.Doing {
		b.Since = stamp(e)
	}
	if e.AtM == nil && (b.Doing == Off) != (now == Off) {
		// Where they went on or off nobody knows: the next height counts no metres from before.
		b.low, b.heightOnce = true, false
	}
	switch {
	case b.Doing == Off && now != Off:
		b.ropeSince = e.At()
	case b.Doing != Off && now == Off:
		b.onRope += max(0, e.At().Sub(b.ropeSince))
	}
	b.Doing = now
	b.stirs(e)
}

// climbs takes in a height: metres count while they are on the rope.
func (f *fold) climbs(b *body, e *Event) {
	by := *e.AtM - b.AtM
	if b.Doing != Off && b.heightOnce {
		if by < 0 {
			b.down -= by
		} else {
			b.up += by
		}
	}
	b.heightOnce = true
	if by != 0 {
		b.AtM = *e.AtM
		b.stirs(e)
	}
}

// stirs is a movement that was given.
func (b *body) stirs(e *Event) {
	b.moved = e.At()
	b.Moved = stamp(e)
}

// step takes in a tap on a move.
func (f *fold) step(e *Event) {
	m := f.moves[e.Move]
	switch e.Kind {
	case Begin:
		if m.Begun != nil && m.Done == nil {
			f.conflict(e, "%s is begun already", m.Name)
			return
		}
		// A move that was done may be done again: what it took before stays.
		*m.MoveState = MoveState{Move: m.Move, Name: m.Name, Of: m.Of, Begun: stamp(e), Next: &m.plan.Steps[0], Taken: m.Taken}
		m.begun, m.last, m.device, m.timed = e.At(), e.At(), e.Device, true
	case StepTo:
		f.tapped(m, e)
	case Done:
		if m.Step < m.Of {
			f.conflict(e, "%s is done after step %d of %d", m.Name, m.Step, m.Of)
		}
		m.Done, m.Next = stamp(e), nil
	}
}

// tapped takes in that a step is done. Steps that are tapped out of turn are kept, and have no
// time; nor has one that comes within a burst of the one before from the same device.
func (f *fold) tapped(m *moving, e *Event) {
	switch {
	case m.Begun == nil:
		f.conflict(e, "%s is not begun", m.Name)
		m.Begun, m.begun, m.last, m.timed = stamp(e), e.At(), e.At(), false
	case m.Done != nil:
		f.conflict(e, "%s is done", m.Name)
		return
	case e.Step != m.Step+1:
		f.conflict(e, "step %d after step %d", e.Step, m.Step)
		if e.Step <= m.Step {
			return
		}
		m.timed = false
	}
	took := e.At().Sub(m.last)
	if took < burst && e.Device == m.device {
		m.timed = false
		// The tap that began the burst has no time of its own either.
		if n := len(m.Taken); n > 0 && m.Taken[n-1].Step == m.Step {
			m.Taken = m.Taken[:n-1]
		}
	}
	planned := m.plan.Steps[e.Step-1]
	if m.timed {
		m.Taken = append(m.Taken, Timing{Step: e.Step, Do: planned.Do, PlannedS: planned.Seconds, RealS: took.Seconds()})
	}
	m.Step, m.last, m.device, m.timed = e.Step, e.At(), e.Device, true
	m.ElapsedS, m.PlannedS = e.At().Sub(m.begun).Seconds(), 0
	for _, s := range m.plan.Steps[:m.Step] {
		m.PlannedS += s.Seconds
	}
	m.Next = nil
	if m.Step < m.Of {
		m.Next = &m.plan.Steps[m.Step]
	}
}

// count writes what putting away adds: of every person, and of every device of theirs. Whoever
// was never given as off the rope has hung until the run ended, or until the newest event.
func (f *fold) count(list []Event) {
	if f.doc.Exercise {
		return
	}
	var last time.Time
	if n := len(list); n > 0 {
		last = list[n-1].At()
	}
	for i := range list {
		if list[i].Kind == End && f.Ended != nil && *stamp(&list[i]) == *f.Ended {
			last = list[i].At()
		}
	}
	for _, p := range f.doc.People {
		b := f.people[p.ID]
		on := b.onRope
		if b.Doing != Off {
			on += max(0, last.Sub(b.ropeSince))
		}
		if on == 0 && b.down == 0 && b.up == 0 {
			continue
		}
		f.Counters = append(f.Counters, Counter{Person: p.ID, DownM: b.down, UpM: b.up, HoursH: on.Hours(), Low: b.low})
		for _, d := range p.Devices {
			f.Counters = append(f.Counters, Counter{Item: d, DownM: b.down, UpM: b.up, HoursH: on.Hours(), Low: b.low})
		}
	}
}
