package day

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

func (b *board) bySource() string { return "the policy " + b.policy.Name }

// alone is day.alone: who is at a drop of another site in the same hours is not with them all the
// time.
func alone(b *board) []finding.Finding {
	var found []finding.Finding
	for _, t := range b.turns() {
		// Of somebody whom nobody knows it is not known that they are there.
		on := slices.DeleteFunc(b.onSite(t.onDrop, t.slot), func(s Seat) bool { return !b.known(s.Person) })
		stay := slices.DeleteFunc(slices.Clone(on), func(s Seat) bool { return b.elsewhere(&s, &t) != nil })
		if len(on) == 0 || len(stay) > 1 {
			continue
		}
		who := append(stay, on...)[0]
		what := fmt.Sprintf("%s is alone at %s", who.Name, t.doc.Name)
		for i := range on {
			if o := b.elsewhere(&on[i], &t); o != nil && on[i].Person != who.Person {
				what += fmt.Sprintf(" while %s is at %s", on[i].Name, o.doc.Name)
			}
		}
		found = append(found, finding.Finding{
			Severity: finding.Stop, Subject: t.subject(), What: what + ".",
			Figures: []finding.Figure{finding.Fig("people there all the time", quantity.Count(len(stay)))},
			Why:     "Nobody would see it, nobody would call, and nobody would come.",
			Remedy:  "Have somebody else on site for the whole time.", Source: b.bySource(),
		})
	}
	return found
}

// elsewhere is a drop of another site that somebody is on while they are on one.
func (b *board) elsewhere(s *Seat, at *turn) *turn {
	for _, o := range b.turns() {
		if o.slot != at.slot && !sameSite(&o, at) && o.span.meets(at.span, 0) &&
			slices.ContainsFunc(b.onSite(o.onDrop, o.slot), func(x Seat) bool { return x.Person == s.Person }) {
			return &o
		}
	}
	return nil
}

// papers is the one that counts of those of a kind that somebody holds, under a name where one
// is given: a valid one that somebody has seen, else a valid one, else the one that ended last.
func papers(m *rig.Member, kind, name string, on gear.Date) (best *rig.Paper, valid bool) {
	if m == nil {
		return nil, false
	}
	runs := func(p *rig.Paper) bool { return p.Until == "" || on <= p.Until }
	rank := func(p *rig.Paper) int {
		switch {
		case runs(p) && p.SeenBy != "":
			return 2
		case runs(p):
			return 1
		}
		return 0
	}
	for i := range m.Papers {
		p := &m.Papers[i]
		if p.Kind != kind || name != "" && p.Name != name {
			continue
		}
		if best == nil || cmp.Or(cmp.Compare(rank(p), rank(best)), cmp.Compare(p.Until, best.Until)) > 0 {
			best = p
		}
	}
	return best, best != nil && runs(best)
}

// supervised is day.supervised.
func supervised(b *board) []finding.Finding {
	var found []finding.Finding
	for _, t := range b.turns() {
		add := func(severity finding.Severity, what, remedy string) {
			found = append(found, finding.Finding{
				Severity: severity, Subject: t.subject(), What: what,
				Figures: []finding.Figure{finding.State("level", cmp.Or(b.day.Supervisor, "any qualification"))},
				Why:     "Somebody answers for the whole drop, and is there when it goes otherwise.", Remedy: remedy, Source: b.bySource(),
			})
		}
		id := t.slot.Supervisor
		if id == "" {
			add(finding.Look, "Nobody is named who supervises "+t.doc.Name+".", "Name a supervisor.")
			continue
		}
		p, valid := papers(b.members[id], "qualification", b.day.Supervisor, t.lastDay(b.Day))
		switch {
		case p == nil:
			add(finding.Stop, fmt.Sprintf("%s supervises %s, and holds no %s.", b.name(id), t.doc.Name, cmp.Or(b.day.Supervisor, "qualification")), "Name somebody who does, or enter the paper.")
		case !valid:
			add(finding.Stop, fmt.Sprintf("%s supervises %s; %s ended on %s.", b.name(id), t.doc.Name, p.Name, p.Until), "Name somebody whose paper is valid.")
		case p.SeenBy == "":
			add(finding.Look, fmt.Sprintf("%s supervises %s; nobody has seen %s.", b.name(id), t.doc.Name, p.Name), "See the paper and enter it.")
		}
	}
	return found
}

// lastDay is the day on which a turn ends.
func (t *turn) lastDay(day gear.Date) gear.Date {
	if t.span.To > dayMinutes {
		return day.AddDays(1)
	}
	return day
}

// hours is day.hours: the longest that somebody works, breaks between drops included, and
// their rest since the day before.
func hours(b *board) []finding.Finding {
	var found []finding.Finding
	for _, l := range b.personLanes() {
		first, last := l.Spans[0].From, 0
		for _, s := range l.Spans {
			last = max(last, s.To)
		}
		f := finding.Finding{
			Severity: finding.Look, Subject: finding.Subject{Kind: finding.Person, ID: l.Person, Label: l.Name, Person: l.Person},
			Why: "Tired people clip in wrong.", Remedy: "Relieve them, or begin later.", Source: b.bySource(),
		}
		if worked := quantity.Hours(float64(last-first) / 60); worked > b.day.ShiftH {
			f.What = fmt.Sprintf("%s works %v from the first drop to the last; the policy's shift is %v.", l.Name, worked, b.day.ShiftH)
			f.Figures = []finding.Figure{finding.Fig("shift", worked), finding.Fig("limit", b.day.ShiftH)}
			found = append(found, f)
		}
		if since, worked := b.endedBefore(l.Person); worked {
			if rest := quantity.Hours(float64(first-since) / 60); rest < b.day.RestH {
				f.What = fmt.Sprintf("%s has rested %v since the day before; the policy asks for %v.", l.Name, rest, b.day.RestH)
				f.Figures = []finding.Figure{finding.Fig("rest", rest), finding.Fig("needed", b.day.RestH)}
				found = append(found, f)
			}
		}
	}
	return found
}

// endedBefore is when somebody came off on the day before.
func (b *board) endedBefore(person string) (minute int, worked bool) {
	for _, t := range b.before {
		if slices.ContainsFunc(b.onSite(t.onDrop, t.slot), func(s Seat) bool { return s.Person == person }) && (!worked || t.span.To > minute) {
			minute, worked = t.span.To, true
		}
	}
	return minute, worked
}

// competence is person.competence, once a person and paper: of everybody who hangs, stands by
// or is at a brake. A site that anybody holds an induction for asks everybody for it.
func competence(b *board) []finding.Finding {
	var found []finding.Finding
	seen := map[string]bool{}
	for _, t := range b.turns() {
		aid := false
		on := b.onSite(t.onDrop, t.slot)
		for i := range on {
			s := &on[i]
			p, valid := papers(b.members[s.Person], "first-aid", "", t.lastDay(b.Day))
			aid = aid || valid && p.SeenBy != ""
			if s.Task == OnSite {
				continue
			}
			for _, want := range b.wanted(t.doc.Site) {
				key := s.Person + "/" + want.kind + "/" + want.name
				if f, lacks := b.lacks(s, want, &t); lacks && !seen[key] {
					seen[key] = true
					found = append(found, f)
				}
			}
		}
		if !aid && len(on) > 0 {
			found = append(found, finding.Finding{
				Severity: finding.Look, Subject: t.subject(),
				What:    "Nobody at " + t.doc.Name + " holds a valid first aid paper that somebody has seen.",
				Figures: []finding.Figure{finding.Fig("first aiders", quantity.Count(0))},
				Why:     "Who is brought down needs somebody who knows what to do next.", Remedy: "Have a first aider on site, or enter the paper.", Source: b.bySource(),
			})
		}
	}
	return found
}

// endless says of the papers that count on the board which have no last day, each once: whether
// they have ended is then not known.
func (b *board) endless() []string {
	var list []string
	for _, l := range b.personLanes() {
		m := b.members[l.Person]
		if m == nil {
			continue
		}
		for i := range m.Papers {
			if p := &m.Papers[i]; p.Until == "" && p.Kind != "examiner" {
				list = append(list, fmt.Sprintf("when %s of %s ends: no last day is entered", p.Name, m.Name))
			}
		}
	}
	return list
}

type want struct{ kind, name string }

func (b *board) wanted(site string) []want {
	var list []want
	for _, k := range b.day.Papers {
		list = append(list, want{kind: k})
	}
	if site == "" {
		return list
	}
	if slices.ContainsFunc(b.people, func(m rig.Member) bool { p, _ := papers(&m, "induction", site, ""); return p != nil }) {
		list = append(list, want{"induction", site})
	}
	return list
}

func (b *board) lacks(s *Seat, w want, t *turn) (f finding.Finding, lacks bool) {
	words := map[string]string{"qualification": "qualification", "medical": "medical fitness", "first-aid": "first aid", "induction": "induction for " + w.name}[w.kind]
	m := b.members[s.Person]
	p, valid := papers(m, w.kind, w.name, t.lastDay(b.Day))
	f = finding.Finding{
		Severity: finding.Look, Subject: personOn(s, t.id), Figures: []finding.Figure{finding.State("paper", words)},
		Why: "Who is not fit or not trained for it is a danger to two.", Remedy: "See the paper and enter it, or take somebody else.", Source: b.bySource(),
	}
	switch {
	case m == nil:
		f.What = fmt.Sprintf("%s, %s at %s, is not among the team's people: nothing is known of their %s.", s.Name, s.Task, t.doc.Name, words)
	case p == nil:
		f.What = fmt.Sprintf("No %s of %s, %s at %s, is recorded.", words, s.Name, s.Task, t.doc.Name)
	case !valid:
		f.Severity, f.What = finding.Stop, fmt.Sprintf("%s: %s of %s ended on %s.", p.Name, words, s.Name, p.Until)
	case p.SeenBy == "":
		f.What = fmt.Sprintf("Nobody has seen %s of %s.", p.Name, s.Name)
	default:
		return f, false
	}
	return f, true
}

// familiar is person.familiar of those who work a brake: of who is on the drop besides, the drop
// says it.
func familiar(b *board) []finding.Finding {
	var found []finding.Finding
	for _, t := range b.turns() {
		for _, o := range t.operated {
			id := personNamed(o.Name, t.doc, b.people)
			m := b.members[id]
			there := slices.ContainsFunc(t.doc.People, func(p rig.Person) bool { return p.ID == id })
			if m == nil || there || slices.ContainsFunc(m.Familiar, func(f rig.Familiarity) bool { return f.Model == o.Brake.Model.ID }) {
				continue
			}
			subject := finding.Subject{Kind: finding.Person, ID: id, Label: m.Name, Person: id, Item: o.Brake.Item.ID, Drop: t.id}
			found = append(found, fit.NotFamiliar(subject, m.Name, o.Brake.Model, fmt.Sprintf(" They work %s at %s.", o.Brake.Item.Label, t.doc.Name)))
		}
	}
	return found
}

// practised is person.practised, of those who stand by or would come.
func practised(b *board) []finding.Finding {
	var found []finding.Finding
	seen, skill := map[string]bool{}, manoeuvre.FindSkill(manoeuvre.SkillOf("pick-off"))
	for _, t := range b.turns() {
		if t.doc.Rescue == nil {
			continue
		}
		for _, c := range t.doc.Rescue.Rescuers {
			s := t.seat(c.Person)
			if s == nil || seen[c.Person] {
				continue
			}
			what := fmt.Sprintf("%s has not practised a pick-off, as far as is known.", s.Name)
			on := c.LastPickOff(t.doc.People)
			if on != "" {
				if b.policy.PractisedUntil(skill, on) >= b.Day {
					continue
				}
				what = fmt.Sprintf("%s last practised a pick-off on %s, more than %s ago.", s.Name, on, quantity.Count(b.policy.PracticeMonths).Of("month"))
			}
			seen[c.Person] = true
			found = append(found, finding.Finding{
				Severity: finding.Look, Subject: personOn(s, t.id), What: what,
				Figures: []finding.Figure{finding.State("practised", cmp.Or(string(on), "never")), finding.Fig("months", quantity.Count(b.policy.PracticeMonths))},
				Why:     "What was not done lately goes slower, and some of it wrong.", Remedy: "Practise it near the ground first.", Source: b.bySource(),
			})
		}
	}
	for _, t := range b.turns() {
		for i := range t.doc.People {
			p := &t.doc.People[i]
			if s := t.seat(p.ID); s != nil && s.Task == Hangs {
				for _, f := range fit.Stale(p, b.policy, b.Day) {
					f.Subject = personOn(s, t.id)
					found = append(found, f)
				}
			}
		}
	}
	return found
}

// hazards is work.hazard.
func hazards(b *board) []finding.Finding {
	var found []finding.Finding
	for _, t := range b.turns() {
		for _, h := range t.slot.Hazards {
			if strings.TrimSpace(h.Protection) != "" {
				continue
			}
			found = append(found, finding.Finding{
				Severity: finding.Stop, Subject: t.subject(),
				What:    fmt.Sprintf("%s at %s: what protects ropes and people is not stated.", hazardWords[h.Kind], t.doc.Name),
				Figures: []finding.Figure{finding.State("hazard", h.Kind)},
				Why:     "A rope under load parts at a touch of a blade, a spark or an acid.", Remedy: "State the protection, or do not do it here.", Source: "the rule itself",
			})
		}
	}
	return found
}

var hazardWords = map[string]string{
	"cutting": "Cutting", "grinding": "Grinding", "hot-work": "Hot work", "chemicals": "Chemicals", "machinery": "Machinery",
	"vehicles": "Vehicles near tails", "boats": "Boats near tails", "falling-objects": "Falling objects",
}
