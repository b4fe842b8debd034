package stance

import (
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/site"
)

// On is the scene of a person on a site, by own anchors; an empty id is the first person's. What schools
// leave out is the policy's. A *strict.Error says who or what is missing.
func On(s *site.Site, person string, schools school.Schools) (*Scene, *rig.PersonView, error) {
	p := s.Person(person)
	if p == nil {
		return nil, nil, site.Refused("/person", "there is nobody of this id on the drop")
	}
	sc, err := NewScene(s.Rig, p, s.Policy.ConnectorM, schools.With(s.Policy.Schools))
	if err != nil {
		return nil, nil, site.Refused("/people", err.Error())
	}
	sc.Follow(s.Policy)
	return sc.Own(), p, nil
}

// Follow gives a scene what a policy says of time and force.
func (sc *Scene) Follow(p *policy.Policy) {
	sc.CeilingKN = p.ArrestCeilingKN
	sc.Loops(p.Knots.MidLoop)
	for _, t := range p.MoveTimes {
		sc.Pace.Seconds[Do(t.Do)] = float64(t.S)
	}
	if w := p.MoveWeights; w != nil {
		sc.Pace.Handled, sc.Pace.Effort, sc.Pace.FallMetre, sc.Pace.Look = float64(w.HandledS), float64(w.Effort), float64(w.FallS), float64(w.LookS)
	}
}
