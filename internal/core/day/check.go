package day

import (
	"cmp"
	"errors"
	"fmt"
	"maps"
	"slices"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// Asked is a board with everything that it is judged by.
type Asked struct {
	Board Board    `json:"board"`
	Drops []DropOf `json:"drops,omitempty" maxItems:"60" doc:"those of the board, and of the day before"`
	// Before is the board of the day before: shifts go on past midnight, and people rest.
	Before *Board         `json:"before,omitempty"`
	People []rig.Member   `json:"people,omitempty" maxItems:"500"`
	Policy *policy.Policy `json:"policy,omitempty" doc:"left out: as shipped"`
	Kits   []gear.Kit     `json:"kits,omitempty" maxItems:"1000" doc:"what was not counted back with them is nowhere; left out: the team's"`
	Store  *drop.Store    `json:"store,omitempty" doc:"where a board is filled from; left out: the team's, or the drops' own items"`
}

// Lane is a drop of the day as it is drawn.
type Lane struct {
	Drop  string `json:"drop"`
	Name  string `json:"name"`
	Site  string `json:"site,omitempty"`
	Span  *Span  `json:"span,omitempty" doc:"left out: not placed yet"`
	Seats []Seat `json:"seats"`
	Items int    `json:"items" doc:"how many are in use on it"`
	// Shut are the stretches of the day in which the weather stops it.
	Shut    []Shut `json:"shut,omitempty"`
	Unknown []Span `json:"unknown,omitempty" doc:"stretches of its hours for which no wind is stated"`
}

// Shut is a stretch in which a drop may not run.
type Shut struct {
	Span
	Why string `json:"why"`
	// GustMS is the strongest at the height of the work.
	GustMS    quantity.MetresPerSecond `json:"gust_m_s"`
	LimitMS   quantity.MetresPerSecond `json:"limit_m_s"`
	Lightning bool                     `json:"lightning,omitempty"`
}

// PersonLane is where somebody is over the day.
type PersonLane struct {
	Person string `json:"person"`
	Name   string `json:"name"`
	Spans  []Turn `json:"spans"`
}

// Turn is somebody's time on one drop.
type Turn struct {
	Span
	Drop string `json:"drop"`
	Name string `json:"name"`
	Task Task   `json:"task"`
}

// Report is what is found on a board.
type Report struct {
	// Findings are worst first; none means that nothing was found in what was looked at.
	Findings    []finding.Finding `json:"findings"`
	Stops       int               `json:"stops"`
	Looks       int               `json:"looks"`
	Lanes       []Lane            `json:"lanes"`
	People      []PersonLane      `json:"people"`
	NotLookedAt []string          `json:"not_looked_at"`
}

// Rule is a rule on a board.
type Rule struct {
	ID    string
	Gives []finding.Severity
	Fires string
	run   func(*board) []finding.Finding
}

var (
	stops   = []finding.Severity{finding.Stop}
	looks   = []finding.Severity{finding.Look}
	eitherS = []finding.Severity{finding.Stop, finding.Look}
)

// Cover across drops is no row here: it plans rescues, and is a question of its own.
const CoverRule = "day.cover"

// Rules are all rules on a board that plan nothing.
var Rules = []Rule{
	{"day.twice", stops, "somebody, a rope or another item is on two drops at once, or with too little time between them", twice},
	{"day.due", eitherS, "an examination or a life ends on the day, or when it does is not known; a stop where it is past, or the item is not in service", due},
	{"day.missing", looks, "an item of a drop went out with a kit and was not counted back", missing},
	{"day.wind", stops, "in an hour of a drop the wind passes its lowest limit, or there is lightning", windy},
	{"day.alone", stops, "one person alone is on a drop, or the others are at another site in the same hours", alone},
	{"day.supervised", eitherS, "nobody is named who supervises a drop, or nobody has seen their paper; a stop where the one who is has no valid paper of the level that the policy asks for", supervised},
	{"day.hours", looks, "somebody works longer than the policy's shift, or has rested less than it asks for", hours},
	{"person.competence", eitherS, "somebody on a drop holds no paper of a kind that the policy asks for, or nobody on it first aid that somebody has seen; a stop where it has ended", competence},
	{"person.familiar", looks, "who works a brake and is not on the drop has no familiarisation record for its model", familiar},
	{"person.practised", looks, "a rescuer has not practised a pick-off within the policy's months", practised},
	{"work.hazard", stops, "a hazard of the work has no protection stated", hazards},
}

// RuleIDs are those of every rule on a board.
func RuleIDs() []string {
	list := []string{CoverRule}
	for _, r := range Rules {
		list = append(list, r.ID)
	}
	return list
}

// board is a Board with what its rules need.
type board struct {
	*Board
	policy  *policy.Policy
	day     *policy.Day
	drops   map[string]*onDrop
	members map[string]*rig.Member
	people  []rig.Member
	before  []turn
	// missing are items that went out with a kit and were not counted back, with its name.
	missing map[string]string
	// unread are drops of the day before that are missing.
	unread []string
	// versions are those of the drops, in the store.
	versions map[string]int
}

// turn is a drop at its time; those of the day before have times below zero.
type turn struct {
	*onDrop
	slot *Slot
	span Span
}

// Check finds what cannot be. Its error is a *strict.Error that names the field.
func (a *Asked) Check() (*Report, error) {
	b, err := a.open()
	if err != nil {
		return nil, err
	}
	return b.report(), nil
}

func (a *Asked) open() (*board, error) {
	var faults strict.Faults
	a.Board.Validate("/board", &faults)
	p := a.Policy
	if p == nil {
		p = policy.Default()
	}
	p.Validate("/policy", &faults)
	b := &board{Board: &a.Board, policy: p.With(), drops: map[string]*onDrop{}, members: map[string]*rig.Member{}, people: a.People, versions: map[string]int{}, missing: map[string]string{}}
	b.day = b.policy.Day
	for i := range a.Kits {
		for _, item := range a.Kits[i].Missing {
			b.missing[item] = a.Kits[i].Name
		}
	}
	a.yesterday(&faults)
	for i := range a.People {
		if b.members[a.People[i].ID] != nil {
			faults.Addf(strict.Pointer("people", i, "id"), "%q is there twice", a.People[i].ID)
		}
		b.members[a.People[i].ID] = &a.People[i]
	}
	for i := range a.Drops {
		d := &a.Drops[i]
		at := strict.Pointer("drops", i)
		if b.drops[d.ID] != nil {
			faults.Addf(at+"/id", "%q is there twice", d.ID)
			continue
		}
		o, err := know(d.ID, &d.Document, a.People)
		if err != nil {
			var refused *strict.Error
			if errors.As(err, &refused) {
				for _, f := range refused.Faults {
					faults.Addf(at+"/document"+f.Pointer, "%s", f.Detail)
				}
			}
			continue
		}
		b.drops[d.ID], b.versions[d.ID] = o, d.Version
	}
	for i := range a.Board.Slots {
		if s := &a.Board.Slots[i]; b.drops[s.Drop] == nil && !slices.ContainsFunc(a.Drops, func(d DropOf) bool { return d.ID == s.Drop }) {
			faults.Addf("/board"+strict.Pointer("slots", i, "drop"), "%q is no drop that is there", s.Drop)
		}
	}
	if a.Before != nil {
		for i := range a.Before.Slots {
			s := &a.Before.Slots[i]
			if b.drops[s.Drop] == nil {
				b.unread = append(b.unread, s.Drop)
			} else if span, placed := s.Span(); placed {
				b.before = append(b.before, turn{b.drops[s.Drop], s, Span{span.From - dayMinutes, span.To - dayMinutes}})
			}
		}
	}
	return b, faults.Err()
}

// yesterday refuses a board of another day than the one before.
func (a *Asked) yesterday(faults *strict.Faults) {
	if a.Before == nil {
		return
	}
	a.Before.Validate("/before", faults)
	if want := a.Board.Day.AddDays(-1); a.Before.Day != want {
		faults.Addf("/before/day", "%s is not the day before the board's, %s", a.Before.Day, want)
	}
}

// turns are the drops that are placed, in the order of the board.
func (b *board) turns() []turn {
	var list []turn
	for i := range b.Slots {
		s := &b.Slots[i]
		if span, placed := s.Span(); placed {
			list = append(list, turn{b.drops[s.Drop], s, span})
		}
	}
	return list
}

func (b *board) report() *Report {
	r := &Report{Findings: []finding.Finding{}, Lanes: b.lanes(), People: b.personLanes(), NotLookedAt: b.unseen()}
	for i := range Rules {
		for _, f := range Rules[i].run(b) {
			f.Rule = Rules[i].ID
			f.Severity = b.policy.Severity(f.Rule, f.Severity)
			r.Findings = append(r.Findings, f)
		}
	}
	finding.Sort(r.Findings)
	r.Stops, r.Looks = finding.Count(r.Findings, finding.Stop), finding.Count(r.Findings, finding.Look)
	return r
}

// unseen is what no rule could look at.
func (b *board) unseen() []string {
	list := []string{"cover across drops: it is a question of its own", "each drop's own findings: they stand on the drop"}
	if len(b.Wind) == 0 {
		list = append(list, "the wind: none is stated")
	}
	for _, drop := range b.unread {
		list = append(list, "who and what was on "+drop+" the day before: the drop is missing, or cannot be read")
	}
	for i := range b.Slots {
		if s := &b.Slots[i]; s.From == "" {
			list = append(list, b.drops[s.Drop].doc.Name+": it has no time yet, and no rule of the day looks at it")
		}
	}
	list = append(list, b.endless()...)
	for _, t := range b.turns() {
		if t.span.To > dayMinutes {
			list = append(list, "what goes on past midnight from "+t.doc.Name+": the board of the next day says who and what is taken then")
		}
		if n := b.gustless(t.span); n > 0 {
			list = append(list, fmt.Sprintf("gusts on %s in %d of its stated hours: the wind counts in their place", t.doc.Name, n))
		}
		if len(t.slot.Hazards) == 0 && !t.slot.NoHazards {
			list = append(list, "hazards of the work on "+t.doc.Name+": nobody has stated them")
		}
		if t.doc.Day != "" && t.doc.Day != b.Day {
			list = append(list, fmt.Sprintf("%s on this day: it is planned for %s, and its own findings are of that day", t.doc.Name, t.doc.Day))
		}
		for _, s := range b.onSite(t.onDrop, t.slot) {
			if !b.known(s.Person) {
				list = append(list, fmt.Sprintf("%s, on site at %s: not among the team's people, and counted for nothing", s.Person, t.doc.Name))
			}
		}
		if gaps := b.unknown(t.span); len(b.Wind) > 0 && len(gaps) > 0 {
			list = append(list, "the wind on "+t.doc.Name+" from "+gaps[0].words())
		}
	}
	return list
}

func (b *board) lanes() []Lane {
	list := []Lane{}
	for i := range b.Slots {
		s := &b.Slots[i]
		o := b.drops[s.Drop]
		l := Lane{Drop: s.Drop, Name: o.doc.Name, Site: o.doc.Site, Seats: b.onSite(o, s), Items: len(o.items), Shut: b.shut(o, s)}
		if span, placed := s.Span(); placed {
			l.Span, l.Unknown = &span, b.unknown(span)
		}
		list = append(list, l)
	}
	return list
}

// onSite are everybody who is at a drop in its hours.
func (b *board) onSite(o *onDrop, s *Slot) []Seat {
	seats := append([]Seat{}, o.seats...)
	for _, id := range append(slices.Clone(s.Others), s.Supervisor) {
		if id != "" && o.seat(id) == nil && !slices.ContainsFunc(seats, func(s Seat) bool { return s.Person == id }) {
			seats = append(seats, Seat{Person: id, Name: b.name(id), Task: OnSite})
		}
	}
	return seats
}

// known reports whether somebody is of the team or on a drop; anybody is where no people are
// given.
func (b *board) known(person string) bool {
	if len(b.people) == 0 || b.members[person] != nil {
		return true
	}
	for _, o := range b.drops {
		if o.seat(person) != nil {
			return true
		}
	}
	return false
}

func (b *board) name(person string) string {
	if m := b.members[person]; m != nil {
		return m.Name
	}
	for _, id := range slices.Sorted(maps.Keys(b.drops)) {
		if s := b.drops[id].seat(person); s != nil {
			return s.Name
		}
	}
	return person
}

func (b *board) personLanes() []PersonLane {
	by := map[string]*PersonLane{}
	list := []PersonLane{}
	for _, t := range b.turns() {
		for _, s := range b.onSite(t.onDrop, t.slot) {
			if by[s.Person] == nil {
				by[s.Person] = &PersonLane{Person: s.Person, Name: s.Name}
			}
			by[s.Person].Spans = append(by[s.Person].Spans, Turn{t.span, t.id, t.doc.Name, s.Task})
		}
	}
	for _, l := range by {
		slices.SortStableFunc(l.Spans, func(a, b Turn) int { return cmp.Or(cmp.Compare(a.From, b.From), cmp.Compare(a.Drop, b.Drop)) })
		list = append(list, *l)
	}
	slices.SortStableFunc(list, func(a, b PersonLane) int { return cmp.Or(cmp.Compare(a.Name, b.Name), cmp.Compare(a.Person, b.Person)) })
	return list
}

func (t *turn) subject() finding.Subject {
	return finding.Subject{Kind: finding.Drop, ID: t.id, Label: t.doc.Name}
}

func personOn(s *Seat, drop string) finding.Subject {
	return finding.Subject{Kind: finding.Person, ID: s.Person, Label: s.Name, Person: s.Person, Drop: drop}
}

// twice is day.twice, of every two drops, one of them of this day.
func twice(b *board) []finding.Finding {
	var found []finding.Finding
	today := b.turns()
	all := append(slices.Clone(b.before), today...)
	for i := range all {
		for j := max(i+1, len(b.before)); j < len(all); j++ {
			if all[i].span.meets(all[j].span, b.day.ChangeMin) {
				found = append(found, b.both(&all[i], &all[j])...)
			}
		}
	}
	return found
}

// both are the people and items that two drops take, whose times lie too near each other. An
// item that is somebody's own goes with them, and is said with them.
func (b *board) both(x, y *turn) []finding.Finding {
	var found []finding.Finding
	shared := map[string]bool{}
	for _, s := range b.onSite(x.onDrop, x.slot) {
		for _, o := range b.onSite(y.onDrop, y.slot) {
			if s.Person != o.Person {
				continue
			}
			if mayShare(&s, &o, x, y) {
				continue
			}
			shared[s.Person] = true
			found = append(found, b.twiceFinding(personOn(&s, y.id), fmt.Sprintf("%s %s at %s and %s at %s", s.Name, s.Task.does(), x.doc.Name, o.Task.does(), y.doc.Name), x, y))
		}
	}
	for _, item := range y.usedItems() {
		by, there := x.items[item]
		if !there || by != "" && shared[by] && y.items[item] == by {
			continue
		}
		label := y.doc.Label(item)
		s := finding.Subject{Kind: finding.Item, ID: item, Label: label, Item: item, Drop: y.id}
		found = append(found, b.twiceFinding(s, fmt.Sprintf("%s is at %s and at %s", label, x.doc.Name, y.doc.Name), x, y))
	}
	return found
}

// sameSite reports whether two drops are stated to be of one site.
func sameSite(x, y *turn) bool { return x.doc.Site != "" && x.doc.Site == y.doc.Site }

// mayShare reports whether somebody may be at both: who only stands by may, where cover holds,
// and who is on site of one site for both.
func mayShare(s, o *Seat, x, y *turn) bool {
	if s.Task == StandsBy && o.Task == StandsBy {
		return true
	}
	quiet := func(t Task) bool { return t == OnSite || t == StandsBy }
	return sameSite(x, y) && quiet(s.Task) && quiet(o.Task)
}

func (b *board) twiceFinding(s finding.Subject, what string, x, y *turn) finding.Finding {
	gap := max(x.span.From, y.span.From) - min(x.span.To, y.span.To)
	s.With = x.id
	f := finding.Finding{
		Severity: finding.Stop, Subject: s,
		What: fmt.Sprintf("%s at the same time: %s and %s.", what, x.span.words(), y.span.words()),
		Figures: []finding.Figure{
			{Name: "between them", Value: float64(gap), Unit: "min", Text: fmt.Sprintf("%d min", gap)},
			{Name: "needed", Value: float64(b.day.ChangeMin), Unit: "min", Text: fmt.Sprintf("%d min", b.day.ChangeMin)},
		},
		Why:    "Nobody and nothing is in two places; between two drops there is a way, and a new function check on another rope.",
		Remedy: "Move one of the two, or take another person or item.",
		Source: "the policy " + b.policy.Name,
	}
	if gap >= 0 {
		f.What = fmt.Sprintf("%s with %d min between them, less than %d.", what, gap, b.day.ChangeMin)
	}
	return f
}

// due is day.due, once an item.
func due(b *board) []finding.Finding {
	var found []finding.Finding
	seen := map[string]bool{}
	for _, t := range b.turns() {
		models := map[string]*gear.Model{}
		for i := range t.doc.Models {
			models[t.doc.Models[i].ID] = &t.doc.Models[i]
		}
		for i := range t.doc.Items {
			item := &t.doc.Items[i]
			m := models[item.Model]
			if _, used := t.items[item.ID]; !used || seen[item.ID] || m == nil {
				continue
			}
			seen[item.ID] = true
			severity, what := b.isDue(item, m)
			if what == "" {
				continue
			}
			found = append(found, finding.Finding{
				Severity: severity, Subject: finding.Subject{Kind: finding.Item, ID: item.ID, Label: item.Label, Item: item.ID, Drop: t.id},
				What: what, Figures: []finding.Figure{finding.State("day of the board", string(b.Day))},
				Why: "Nobody clips into what is not known to be sound.", Remedy: "Have it examined before the day, or take another.", Source: "the records of the store",
			})
		}
	}
	return found
}

// missing is day.missing, once an item: its record says that it is sound, and not where it is.
func missing(b *board) []finding.Finding {
	var found []finding.Finding
	seen := map[string]bool{}
	for _, t := range b.turns() {
		for _, item := range t.usedItems() {
			kit, gone := b.missing[item]
			if !gone || seen[item] {
				continue
			}
			seen[item] = true
			label := t.doc.Label(item)
			found = append(found, finding.Finding{
				Severity: finding.Look, Subject: finding.Subject{Kind: finding.Item, ID: item, Label: label, Item: item, Drop: t.id},
				What: fmt.Sprintf("%s went out with %s and was not counted back: nobody knows where it is.", label, kit), Figures: []finding.Figure{finding.State("kit", kit)},
				Why: "A plan that counts on a missing thing fails at the edge.", Remedy: "Count it back in, or take another.", Source: "the records of the store",
			})
		}
	}
	return found
}

// isDue says what is due of an item on the day, a stop before a look; empty for nothing.
func (b *board) isDue(i *gear.Item, m *gear.Model) (finding.Severity, string) {
	if i.State != gear.InService {
		return finding.Stop, i.Label + " is not in service: " + cmp.Or(i.Reason, string(i.State)) + "."
	}
	severity, what := b.examinationDue(i, m)
	if s, life := b.lifeEnds(i, m); life != "" && (what == "" || s == finding.Stop || severity != finding.Stop) {
		return s, life
	}
	return severity, what
}

func (b *board) lifeEnds(i *gear.Item, m *gear.Model) (finding.Severity, string) {
	if end, from := m.EndOfLife(i); end != "" && end <= b.Day {
		return past(end, b.Day), fmt.Sprintf("The life of %s from %s ends on %s.", i.Label, from, end)
	}
	if missing := m.LifeUnknown(i, b.Day); missing != "" {
		return finding.Look, fmt.Sprintf("Whether the life of %s has ended is not known: %s is not recorded.", i.Label, missing)
	}
	return "", ""
}

func (b *board) examinationDue(i *gear.Item, m *gear.Model) (finding.Severity, string) {
	if !m.Class.Examined() {
		return "", ""
	}
	on, by := m.ExaminationDue(i, b.policy.ExaminationMonths)
	switch {
	case by == gear.DueBeforeUse:
		return finding.Stop, i.Label + " is examined before its first use, and has not been."
	case on != "" && on <= b.Day:
		return past(on, b.Day), fmt.Sprintf("The examination of %s is due on %s, by %s.", i.Label, on, by)
	case on == "":
		return finding.Look, fmt.Sprintf("When %s is due for examination is not known.", i.Label)
	}
	return "", ""
}

func past(on, day gear.Date) finding.Severity {
	if on < day {
		return finding.Stop
	}
	return finding.Look
}
