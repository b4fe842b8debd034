package drill_test

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
	"zealousknot/internal/demo"
)

// jointly is a joint exercise of a move, and the engine's own steps.
func jointly(t *testing.T, move string, seed int64) (*drill.Joint, []team.Action) {
	t.Helper()
	a := drill.Asked{Kind: drill.Move, Move: move, Seed: seed, Level: 2, Gear: demo.Gear(), Answers: true}
	e, err := a.Make(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	own := e.Answers.Team
	e.Answers = nil
	j := &drill.Joint{Exercise: *e}
	if err := j.Validate(); err != nil {
		t.Fatal(err)
	}
	return j, own
}

// turns numbers the turns that are taken.
type turns struct {
	*testing.T
	j *drill.Joint
	n int
}

func (c *turns) id() string {
	c.n++
	return fmt.Sprintf("5f9d3b1c-0000-4000-8000-%012x", c.n)
}

func (c *turns) take(by string, t drill.Turn) {
	c.Helper()
	t.ID, t.By = c.id(), by
	if err := c.j.Take(t, strings.ToUpper(by)); err != nil {
		c.Fatalf("%s: %+v: %v", by, t, err)
	}
}

// refused takes a turn that cannot be taken, which changes nothing.
func (c *turns) refused(pointer, by string, t drill.Turn) {
	c.Helper()
	t.ID, t.By = c.id(), by
	before := fmt.Sprint(*c.j)
	var faults *strict.Error
	if err := c.j.Take(t, by); !errors.As(err, &faults) || faults.Faults[0].Pointer != pointer || fmt.Sprint(*c.j) != before {
		c.Errorf("%+v: %v", t, err)
	}
}

func (c *turns) seen(by string) *drill.Seen {
	c.Helper()
	s, err := c.j.Seen(by)
	if err != nil {
		c.Fatal(err)
	}
	return s
}

// acts has an action done by the one member whose roles offer it, called by them and answered
// by another.
func (c *turns) acts(a team.Action, called, answered bool) {
	c.Helper()
	var who string
	for _, m := range c.j.Members {
		if slices.ContainsFunc(c.seen(m.ID).Offers, func(o team.Offer) bool { return o.Has(a) }) {
			if who != "" {
				c.Fatalf("%+v is offered to %s and %s", a, who, m.ID)
			}
			who = m.ID
		}
	}
	if who == "" {
		c.Fatalf("%+v is offered to nobody", a)
	}
	if row := manoeuvre.Team.Find(string(a.Do)); called && row.Call != "" {
		c.take(who, drill.Turn{Call: manoeuvre.CalledDo(a.Do)})
		if i := slices.IndexFunc(c.j.Members, func(m drill.Member) bool { return m.ID != who }); answered {
			c.take(c.j.Members[i].ID, drill.Turn{Answer: true})
		}
	}
	c.take(who, drill.Turn{Action: &a})
}

// Several do the engine's own list together, by two and by five: each action is offered to one
// of them alone, and called and answered it has full marks; without the call, or its answer, a
// rule is broken. What one does at a brake the other does not see.
func TestJoint(t *testing.T) {
	two := map[string][]drill.Role{"ann": {drill.OnMain, drill.AtEdge, drill.OnHaul}, "ben": {drill.OnBelay}}
	five := map[string][]drill.Role{"ann": {drill.OnMain}, "ben": {drill.OnBelay}, "cas": {drill.AtEdge}, "dee": {drill.OnHaul}, "eli": {drill.AtLoad}}
	for i, move := range []string{"lower", "edge", "share", "raise", "lower-to-raise", "lower-past-knot", "prove-brake"} {
		for _, crew := range []map[string][]drill.Role{two, five} {
			for _, said := range []string{"answered", "called", "silent"} {
				j, own := jointly(t, move, int64(i))
				c := &turns{T: t, j: j}
				for _, id := range []string{"ann", "ben", "cas", "dee", "eli"} {
					if roles, in := crew[id]; in {
						c.take(id, drill.Turn{Roles: &roles})
					}
				}
				for _, a := range own {
					main, belay := c.seen("ann").Sees, c.seen("ben").Sees
					c.acts(a, said != "silent", said == "answered")
					if a.Line == "main" && !slices.Equal(c.seen("ben").Sees, belay) || a.Line == "belay" && len(crew) > 2 && !slices.Equal(c.seen("ann").Sees, main) {
						t.Errorf("%s: %+v is seen at the other brake", move, a)
					}
					if n := c.seen("ann"); len(n.Found) > 0 {
						break
					}
				}
				calls := slices.ContainsFunc(own, func(a team.Action) bool {
					return slices.Contains([]team.Do{team.Over, team.Lower, team.Share, team.Haul, team.Settle}, a.Do)
				})
				c.take("ben", drill.Turn{End: true})
				m := mark(t, &j.Exercise, &drill.Answer{Team: j.Steps()})
				if full := m.Score == 1 && m.Done; full != (said == "answered" || !calls) {
					t.Errorf("%s by %d, %s: %v, %+v", move, len(crew), said, m.Score, m.Breaches)
				}
				if s := c.seen("ben"); s.Exercise == nil || len(s.Steps) != len(j.Steps()) || len(s.Offers) > 0 {
					t.Errorf("%s: at the end %+v", move, s)
				}
				if s := c.seen("nobody"); s.Exercise != nil || len(s.Heard)+len(s.Sees) > 0 {
					t.Errorf("%s: somebody who was not in it sees %+v", move, s)
				}
			}
		}
	}
}

// What cannot be said or done is refused and changes nothing; a turn that is sent twice counts
// once; an action is undone once, and not in an exam, which the first stop ends.
func TestJointTurns(t *testing.T) {
	j, own := jointly(t, "lower", 3)
	c := &turns{T: t, j: j}
	c.refused("/id", "ann", drill.Turn{Call: "lower"})
	c.take("ann", drill.Turn{Roles: &[]drill.Role{drill.OnMain, drill.OnHaul}})
	c.refused("/roles", "ann", drill.Turn{Action: &own[0]})
	c.refused("/roles", "ben", drill.Turn{Roles: &[]drill.Role{drill.OnMain}})
	if s := c.seen("ann"); len(s.Offers) > 0 || !slices.Equal(s.Free, []drill.Role{drill.OnBelay}) {
		t.Errorf("nobody is on the belay: %+v", s)
	}
	c.take("ben", drill.Turn{Roles: &[]drill.Role{drill.OnBelay, drill.AtEdge}})
	c.take("cas", drill.Turn{Roles: &[]drill.Role{drill.OnHaul}})
	c.refused("/id", "ann", drill.Turn{})
	c.refused("/id", "ann", drill.Turn{Answer: true, End: true})
	c.refused("/answer", "ann", drill.Turn{Answer: true})
	c.refused("/back", "ann", drill.Turn{Back: true})
	c.refused("/action", "cas", drill.Turn{Action: &own[0]})
	c.take("ben", drill.Turn{Call: "lower"})
	c.refused("/answer", "ben", drill.Turn{Answer: true})
	if s := c.seen("ann"); s.Open == "" || c.seen("ben").Open != "" {
		t.Errorf("a call waits for another's answer: %q", s.Open)
	}
	c.take("ann", drill.Turn{Answer: true})
	c.acts(own[0], true, true)
	once := len(j.Turns)
	again := j.Turns[once-1]
	if err := j.Take(again, "ANN"); err != nil || len(j.Turns) != once {
		t.Errorf("sent twice: %v", err)
	}
	back := drill.Turn{ID: c.id(), By: "cas", Back: true}
	for range 2 {
		if err := j.Take(back, "CAS"); err != nil || len(j.Steps()) != 0 {
			t.Errorf("%v, %d steps", err, len(j.Steps()))
		}
	}
	c.take("cas", drill.Turn{Roles: &[]drill.Role{}})
	if s := c.seen("cas"); len(s.Members) != 2 || len(s.Sees) > 0 {
		t.Errorf("who left sees %+v", s)
	}
	if whole, err := j.Whole(); err != nil || len(whole.Sees) < 4 || len(whole.Offers) > 0 {
		t.Errorf("%v: who teaches sees %+v", err, whole)
	}

	j, own = jointly(t, "lower", 3)
	j.Exam = true
	c = &turns{T: t, j: j}
	c.take("ann", drill.Turn{Roles: &[]drill.Role{drill.OnMain}})
	c.take("ben", drill.Turn{Roles: &[]drill.Role{drill.OnBelay}})
	first := slices.IndexFunc(own, func(a team.Action) bool { return a.Do == team.Over || a.Do == team.Lower })
	for _, a := range own[:first] {
		c.acts(a, true, true)
	}
	if j.Ended {
		t.Fatal("it ended before a rule was broken")
	}
	if first > 0 {
		c.refused("/back", "ann", drill.Turn{Back: true})
	}
	c.acts(own[first], true, false)
	if !j.Ended {
		t.Error("an exam goes on after a stop")
	}
	c.refused("/id", "ann", drill.Turn{Call: "lower"})
}

// Only a team's move that is rigged for one is done together.
func TestNotJoint(t *testing.T) {
	for _, k := range []drill.Kind{drill.Faults, drill.Fails} {
		if err := (&drill.Joint{Exercise: *made(t, k, 1)}).Validate(); err == nil {
			t.Errorf("%s is done together", k)
		}
	}
	j, _ := jointly(t, "lower", 1)
	j.Exercise.Drop.Team = nil
	if err := j.Validate(); err == nil {
		t.Error("nothing is rigged for a team")
	}
}
