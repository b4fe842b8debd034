package drill

import (
	"fmt"
	"slices"

	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// Role is what somebody has in hand in a joint exercise.
type Role string

const (
	OnMain  Role = "main"
	OnBelay Role = "belay"
	AtEdge  Role = "edge"
	OnHaul  Role = "haul"
	AtLoad  Role = "attendant"
)

// Roles are all of them, in the order in which they are offered.
var Roles = []Role{OnMain, OnBelay, AtEdge, OnHaul, AtLoad}

// MaxJoint is how many may do one together.
const MaxJoint = 6

// Joint is a team's move that several do together, each on a device and with roles: what one
// does, the others see only as far as their roles would.
type Joint struct {
	Exercise Exercise `json:"exercise"`
	// Exam: the first stop ends it.
	Exam    bool     `json:"exam,omitempty"`
	Members []Member `json:"members"`
	// Turns are what was said and done, in order.
	Turns []Turn `json:"turns"`
	Ended bool   `json:"ended,omitempty"`
}

// Member is somebody who takes part.
type Member struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	Roles []Role `json:"roles"`
}

// Turn is one thing that a member says or does: one of its fields beside ID and By.
type Turn struct {
	ID string `json:"id" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$" doc:"made by the device; a turn with the same id counts once"`
	By string `json:"by,omitempty"`
	// Roles are taken, all of one's own at once; none leaves it.
	Roles  *[]Role            `json:"roles,omitempty" maxItems:"5" enum:"main,belay,edge,haul,attendant" doc:"the roles that one has from now on; none: one leaves"`
	Call   manoeuvre.CalledDo `json:"call,omitempty" doc:"the action that is called"`
	Answer bool               `json:"answer,omitempty" doc:"the last call is answered"`
	Action *team.Action       `json:"action,omitempty"`
	Back   bool               `json:"back,omitempty" doc:"the last action is undone; not in an exam"`
	End    bool               `json:"end,omitempty" doc:"it is handed in"`
}

// roleOf is who has what an action is done with in hand.
func roleOf(a *team.Action) Role {
	switch a.Do {
	case team.Over:
		return AtEdge
	case team.Build, team.Haul, team.Advance, team.Strip, team.OverKnot:
		return OnHaul
	case team.Share, team.Unshare:
		return OnBelay
	}
	if a.Line == "belay" {
		return OnBelay
	}
	return OnMain
}

// has is the role that does what is a role's: where nobody has it, whoever is on the main does.
func (j *Joint) has(r Role) Role {
	if slices.ContainsFunc(j.Members, func(m Member) bool { return slices.Contains(m.Roles, r) }) {
		return r
	}
	return OnMain
}

// TookPart reports whether a member called, answered or did something: a role alone, taken when
// the others had done it, is worth no mark.
func (j *Joint) TookPart(id string) bool {
	return j.member(id) != nil && slices.ContainsFunc(j.Turns, func(t Turn) bool { return t.By == id && (t.Call != "" || t.Answer || t.Action != nil) })
}

func (j *Joint) member(id string) *Member {
	if i := slices.IndexFunc(j.Members, func(m Member) bool { return m.ID == id }); i >= 0 {
		return &j.Members[i]
	}
	return nil
}

// Steps are the actions as a list of a team: one that is called before it counts as silent
// unless its call was given since the action before, and answered by another.
func (j *Joint) Steps() []team.Action {
	list := []team.Action{}
	called, by, answered := manoeuvre.CalledDo(""), "", false
	for i := range j.Turns {
		t := &j.Turns[i]
		switch {
		case t.Call != "":
			called, by, answered = t.Call, t.By, false
		case t.Answer:
			answered = answered || t.By != by
		case t.Action != nil:
			a := *t.Action
			if row := manoeuvre.Team.Find(string(a.Do)); row != nil && row.Call != "" {
				a.Silent = !answered || string(called) != string(a.Do)
			}
			list, called = append(list, a), ""
		}
	}
	return list
}

// Validate reports why several cannot do an exercise together.
func (j *Joint) Validate() error {
	if err := j.Exercise.Validate(); err != nil {
		return under("/exercise", err)
	}
	if j.Exercise.Kind != Move || j.Exercise.Question.Of != ofTeam {
		return refused("/exercise/question/of", "only a team's move is done together")
	}
	_, err := j.rig()
	return err
}

func (j *Joint) rig() (*team.Rig, error) {
	s, err := site.Open(j.Exercise.Drop)
	if err != nil {
		return nil, err
	}
	r := team.On(s)
	if r == nil {
		return nil, refused("/exercise/drop/team", "missing: nothing is rigged for a team on this drop")
	}
	_, _, err = r.After(j.Exercise.TeamAsk(), nil)
	return r, err
}

// Take takes a turn of somebody with a name. One with the id of a turn that was taken changes
// nothing. A *strict.Error says what cannot be said or done.
func (j *Joint) Take(t Turn, name string) error {
	if slices.ContainsFunc(j.Turns, func(o Turn) bool { return o.ID == t.ID && o.By == t.By }) {
		return nil
	}
	if j.Ended {
		return refused("/id", "it was handed in already")
	}
	if n := t.parts(); n != 1 {
		return refused("/id", "a turn is one of roles, call, answer, action, back, end; this one has %d", n)
	}
	if t.Roles != nil {
		return j.seat(&t, name)
	}
	m := j.member(t.By)
	if m == nil {
		return refused("/id", "take a role first")
	}
	if len(j.Turns) >= 1000 {
		return refused("/id", "there are too many turns: hand it in")
	}
	if err := j.may(&t, m); err != nil {
		return err
	}
	switch {
	case t.Back:
		return j.undo(&t)
	case t.End:
		j.Ended = true
	}
	j.Turns = append(j.Turns, t)
	if t.Action != nil && j.Exam {
		return j.stopped()
	}
	return nil
}

func (t *Turn) parts() (n int) {
	for _, is := range []bool{t.Roles != nil, t.Call != "", t.Answer, t.Action != nil, t.Back, t.End} {
		if is {
			n++
		}
	}
	return n
}

// seat gives somebody their roles; a role that another has stays theirs, but haulers are many.
func (j *Joint) seat(t *Turn, name string) error {
	for _, o := range j.Members {
		for _, r := range *t.Roles {
			if o.ID != t.By && r != OnHaul && slices.Contains(o.Roles, r) {
				return refused("/roles", "%s is taken by %s", r, o.Name)
			}
		}
	}
	j.Members = slices.DeleteFunc(j.Members, func(m Member) bool { return m.ID == t.By })
	if len(*t.Roles) == 0 {
		return nil
	}
	if len(j.Members) >= MaxJoint {
		return refused("/roles", "%d take part already", MaxJoint)
	}
	list := []Role{}
	for _, r := range Roles {
		if slices.Contains(*t.Roles, r) {
			list = append(list, r)
		}
	}
	j.Members = append(j.Members, Member{ID: t.By, Name: name, Roles: list})
	return nil
}

// may refuses what a member cannot say or do now.
func (j *Joint) may(t *Turn, m *Member) error {
	if t.Answer {
		if call := j.open(); call == nil || call.By == t.By {
			return refused("/answer", "there is no call of another to answer")
		}
	}
	if t.Action == nil && t.Call == "" {
		return nil
	}
	if free := j.free(); len(free) > 0 {
		return refused("/roles", "nobody is on %s: begin when somebody is", free[0])
	}
	if t.Action == nil {
		return nil
	}
	seen, err := j.Seen(m.ID)
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(seen.Offers, func(o team.Offer) bool { return o.Has(*t.Action) }) {
		return refused("/action", "that cannot be done now with what is in hand")
	}
	return nil
}

// free are the brakes that nobody is on.
func (j *Joint) free() []Role {
	list := []Role{}
	for _, r := range []Role{OnMain, OnBelay} {
		if !slices.ContainsFunc(j.Members, func(m Member) bool { return slices.Contains(m.Roles, r) }) {
			list = append(list, r)
		}
	}
	return list
}

// open is the call that was given since the last action, and nobody has answered; nil for none.
func (j *Joint) open() *Turn {
	for i := len(j.Turns) - 1; i >= 0; i-- {
		switch t := &j.Turns[i]; {
		case t.Call != "":
			return t
		case t.Answer || t.Action != nil:
			return nil
		}
	}
	return nil
}

// undo takes the last action back, with what was said since.
func (j *Joint) undo(t *Turn) error {
	if j.Exam {
		return refused("/back", "an exam goes one way")
	}
	for i := len(j.Turns) - 1; i >= 0; i-- {
		if j.Turns[i].Action != nil {
			// The turn back stays, so that one that is sent twice undoes once.
			j.Turns = append(j.Turns[:i], *t)
			return nil
		}
	}
	return refused("/back", "nothing was done yet")
}

// stopped ends an exam at its first stop.
func (j *Joint) stopped() error {
	r, err := j.rig()
	if err != nil {
		return err
	}
	_, found, _, err := r.Walk(j.Exercise.TeamAsk(), j.Steps())
	j.Ended = j.Ended || stops(found)
	return err
}

func stops(found []stance.Breach) bool {
	return slices.ContainsFunc(found, func(b stance.Breach) bool { return b.Impossible != "" || stance.Stops(b.Broken) })
}

// Heard is what everybody hears, and what one did oneself.
type Heard struct {
	Role  Role   `json:"role,omitempty" enum:"main,belay,edge,haul,attendant" doc:"who says it; left out: no role's own"`
	Words string `json:"words"`
	Own   bool   `json:"own,omitempty" doc:"what one did oneself, or is seen at the end"`
}

// Call is something that can be called.
type Call struct {
	Do   manoeuvre.CalledDo `json:"do"`
	Call string             `json:"call"`
}

// Seen is a joint exercise as one of its members sees it.
type Seen struct {
	Move    string       `json:"move"`
	Members []Member     `json:"members"`
	Free    []Role       `json:"free" enum:"main,belay,edge,haul,attendant" doc:"brakes that nobody is on: it begins when somebody is"`
	Own     []Role       `json:"own" enum:"main,belay,edge,haul,attendant"`
	Exam    bool         `json:"exam,omitempty"`
	Ended   bool         `json:"ended,omitempty"`
	Sees    []string     `json:"sees" doc:"what one's own roles see, in words"`
	Offers  []team.Offer `json:"offers" doc:"everything that could be done by one's own roles"`
	Calls   []Call       `json:"calls" doc:"what can be called"`
	Open    string       `json:"open,omitempty" doc:"the answer that another's call waits for"`
	Heard   []Heard      `json:"heard"`
	// Found is what the last step broke; of an exam, shown at its end alone.
	Found   []stance.Violation `json:"found"`
	Reached bool               `json:"reached,omitempty" doc:"the move has come to where it ends"`
	// Exercise and Steps are shown when it has ended, to be marked.
	Exercise *Exercise     `json:"exercise,omitempty" doc:"when it has ended"`
	Steps    []team.Action `json:"steps,omitempty" doc:"when it has ended"`
}

// Seen is what a member sees; somebody who is none sees who takes part. all is for who teaches:
// what every role sees.
func (j *Joint) Seen(id string) (*Seen, error) { return j.seen(id, false) }

// Whole is a joint exercise as who teaches sees it: what every role sees, and nothing to do.
func (j *Joint) Whole() (*Seen, error) { return j.seen("", true) }

func (j *Joint) seen(id string, all bool) (*Seen, error) {
	out := &Seen{
		Move: j.Exercise.Question.Move, Members: j.Members, Free: j.free(), Own: []Role{}, Exam: j.Exam, Ended: j.Ended,
		Sees: []string{}, Offers: []team.Offer{}, Calls: []Call{}, Heard: []Heard{}, Found: []stance.Violation{},
	}
	m := j.member(id)
	if m == nil && !all {
		return out, nil
	}
	r, err := j.rig()
	if err != nil {
		return nil, err
	}
	plan, found, _, err := r.Walk(j.Exercise.TeamAsk(), j.Steps())
	if err != nil {
		return nil, err
	}
	end, reached, err := r.After(j.Exercise.TeamAsk(), j.Steps())
	if err != nil {
		return nil, err
	}
	for _, role := range Roles {
		own := m != nil && slices.Contains(m.Roles, role)
		if own {
			out.Own = append(out.Own, role)
		}
		if own || all || j.Ended {
			out.Sees = append(out.Sees, r.Sees(&end, string(role))...)
		}
	}
	j.hears(out, r, plan, all)
	out.Reached = reached
	for _, b := range found {
		if b.Step == len(plan.Steps) && b.Impossible == "" && (!j.Exam || j.Ended) {
			out.Found = append(out.Found, b.Broken...)
		}
	}
	switch {
	case j.Ended:
		out.Exercise, out.Steps = &j.Exercise, j.Steps()
	case m != nil && len(out.Free) == 0 && !(stance.Stops(out.Found) && !j.Exam):
		out.Offers = j.offers(out.Own, r.Offers(&end))
		for _, row := range manoeuvre.Team.Called() {
			words, _ := r.Call(team.Do(row.Do))
			out.Calls = append(out.Calls, Call{manoeuvre.CalledDo(row.Do), words})
		}
		if call := j.open(); call != nil && call.By != id {
			_, out.Open = r.Call(team.Do(call.Call))
		}
	}
	return out, nil
}

// offers are those of one's own roles, without what a call says of them.
func (j *Joint) offers(own []Role, list []team.Offer) []team.Offer {
	out := []team.Offer{}
	for _, o := range list {
		if slices.Contains(own, j.has(roleOf(&o.Action))) {
			o.Call = ""
			out = append(out, o)
		}
	}
	return out
}

// hears fills in what a member hears and has done; what was done by others is seen by who
// teaches, and at the end.
func (j *Joint) hears(out *Seen, r *team.Rig, plan *team.Plan, all bool) {
	step := 0
	for i := range j.Turns {
		t := &j.Turns[i]
		by := j.member(t.By)
		role := Role("")
		if by != nil && len(by.Roles) > 0 {
			role = by.Roles[0]
		}
		switch {
		case t.Call != "":
			words, _ := r.Call(team.Do(t.Call))
			out.Heard = append(out.Heard, Heard{Role: role, Words: fmt.Sprintf("“%s”", words)})
		case t.Answer:
			out.Heard = append(out.Heard, Heard{Role: role, Words: "answers"})
		case t.Action != nil:
			role = j.has(roleOf(t.Action))
			if (slices.Contains(out.Own, role) || all || j.Ended) && step < len(plan.Steps) {
				out.Heard = append(out.Heard, Heard{Role: role, Words: plan.Steps[step].Say, Own: true})
			}
			step++
		}
	}
}

// ReadTurn reads a turn strictly.
func ReadTurn(data []byte) (*Turn, error) {
	t := new(Turn)
	return t, strict.Read(data, t)
}
