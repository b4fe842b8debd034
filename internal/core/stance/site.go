package stance

import (
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/site"
)

// On is the scene of a person on a site, by own anchors. What schools leave out is the
// policy's. A *strict.Error says what cannot be planned with.
func On(s *site.Site, p *rig.PersonView, schools school.Schools) (*Scene, error) {
	sc, err := NewScene(s.Rig, p, s.Policy.ConnectorM, schools.With(s.Policy.Schools))
	if err != nil {
		return nil, site.Refused("/people", err.Error())
	}
	sc.Follow(s.Policy)
	return sc.Own(), nil
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
