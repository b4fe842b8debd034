package team

import (
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/rig"
)

// Unseen is what nobody can judge of the kit that the load comes to hang on, since it is not
// entered. Of what bears no figure at all a finding speaks.
func (r *Rig) Unseen() []string {
	loads, _ := r.Loads()
	u := &fit.Unsaid{}
	unjudged := func(p *rig.Piece) bool {
		for i := range loads {
			if l := &loads[i]; l.Item == p.Item.ID && l.Strength == 0 && l.LimitKN == 0 {
				return true
			}
		}
		return false
	}
	t := r.view
	for _, p := range append([]*rig.Piece{t.Main.Brake, t.Belay.Brake, t.Main.Connector, t.Belay.Connector}, t.Kit...) {
		if p == nil || !p.Model.Class.Examined() {
			continue
		}
		if !unjudged(p) {
			u.Strength("team.kit", p, r.setting.Policy.Margins)
		}
		if grips(p) {
			u.Grip("team.slip", p)
		}
	}
	return u.Lines()
}
