package callout

import (
	"cmp"
	"fmt"
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/team"
)

// Crew is who does what, of those who come.
type Crew struct {
	Main  string   `json:"main,omitempty"`
	Belay string   `json:"belay,omitempty"`
	Down  string   `json:"down,omitempty" doc:"who goes over the edge with the load"`
	Edge  string   `json:"edge,omitempty"`
	Haul  []string `json:"haul,omitempty"`
	// LowerMin is when those are there who a lower takes; left out: they are not coming.
	LowerMin *int        `json:"lower_min,omitempty" doc:"minutes from now until main, belay and who goes down are there; left out: so many are not coming"`
	Places   []team.Role `json:"places"`

	here []Comer
}

// seats is how many a lower takes: a hand at either brake, and who goes down.
const seats = 3

// crew seats those who come: rested ones first, then who is there first. Main, belay, who goes
// down, the edge; the others haul.
func (m *making) crew() Crew {
	c := Crew{here: slices.Clone(m.known.People), Places: []team.Role{}}
	slices.SortStableFunc(c.here, func(a, b Comer) int {
		return cmp.Or(cmp.Compare(m.tired(a), m.tired(b)), cmp.Compare(a.ArrivesMin, b.ArrivesMin))
	})
	for i, p := range c.here {
		switch i {
		case 0:
			c.Main = p.Name
		case 1:
			c.Belay = p.Name
		case 2:
			c.Down = p.Name
		case 3:
			c.Edge = p.Name
		default:
			c.Haul = append(c.Haul, p.Name)
		}
	}
	if len(c.here) >= seats {
		last := 0
		for _, p := range c.here[:seats] {
			last = max(last, p.ArrivesMin)
		}
		c.LowerMin = &last
	}
	return c
}

// tired is 1 for who has been awake for longer than the policy's limit, else 0.
func (m *making) tired(p Comer) int {
	if p.AwakeH != nil && *p.AwakeH > m.policy.Day.AwakeH {
		return 1
	}
	return 0
}

// operators are the names at the brakes and the edge; of nobody, what they do.
func (c *Crew) operators() []string {
	list := []string{cmp.Or(c.Main, "main operator"), cmp.Or(c.Belay, "belay operator")}
	if c.Edge != "" {
		list = append(list, c.Edge)
	}
	return list
}

// place says who stands where.
func (c *Crew) place(r *team.Rig) {
	c.Places = r.Roles()
	who := cmp.Or(c.Down, "who goes down")
	i := slices.IndexFunc(c.Places, func(p team.Role) bool { return p.At == "load" })
	if i < 0 {
		c.Places = append(c.Places, team.Role{Who: who, At: "load", Place: "on both strands, in the fall line; calls “edge clear”, “stop”"})
		return
	}
	c.Places[i].Who = who
}

// peopleFindings are callout.people and callout.awake.
func (m *making) peopleFindings(c *Crew, raise *Raise) (found []finding.Finding) {
	n := len(m.known.People)
	switch {
	case n == 0:
		found = append(found, m.found("callout.people", finding.Look, "people", "Nobody is entered as coming.", "A lower takes a hand at either brake and somebody who goes down.", "Tap who comes.", finding.Fig("coming", quantity.Count(0)), finding.Fig("a lower takes", quantity.Count(seats))))
	case n < seats:
		found = append(found, m.found("callout.people", finding.Stop, "people", fmt.Sprintf("%s: a lower takes a hand at either brake and somebody who goes down.", quantity.Count(n).Of("person")), "A brake without a hand holds nobody.", "Call more people.", finding.Fig("coming", quantity.Count(n)), finding.Fig("a lower takes", quantity.Count(seats))))
	case raise != nil && raise.Best < 0 && raise.More > 0:
		found = append(found, m.found("callout.people", finding.Look, "people", fmt.Sprintf("%s to pull: the easiest haul that the kits give wants %s more.", quantity.Count(len(c.Haul)).Of("person"), quantity.Count(raise.More)), "What goes down may have to come up.", "Call more people, or more pulleys.", finding.Fig("haulers", quantity.Count(len(c.Haul))), finding.Fig("missing", quantity.Count(raise.More))))
	}
	limit := m.policy.Day.AwakeH
	for i, p := range c.here {
		if m.tired(p) == 0 {
			continue
		}
		where := "to pull"
		if i <= seats {
			where = "at " + []string{"the main", "the belay", "the load", "the edge"}[i]
		}
		found = append(found, m.found("callout.awake", finding.Look, p.Name, fmt.Sprintf("%s has been awake for %v, and is needed %s.", p.Name, *p.AwakeH, where), "Who is tired sees late and lets go early.", "Relieve them as soon as somebody rested is there; two look at what they did.", finding.Fig("awake", *p.AwakeH), finding.Fig("limit", limit)))
	}
	return found
}
