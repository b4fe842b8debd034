package team

import (
	"slices"

	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
)

// On ties the rig of a site's team to the edge that it works over; nil where nothing is
// rigged for a team.
func On(s *site.Site) *Rig {
	if s.Rig.Team == nil {
		return nil
	}
	g := s.Rig.Geometry
	in := Setting{EdgeM: g.TopM, Edges: g.Edges, OffsetM: g.OffsetM, Anchors: s.Rig.Anchors, LandingName: g.LandingName, Policy: s.Policy}
	for i, e := range g.Edges {
		if i == 0 || e.HeightM > in.EdgeM {
			in.EdgeM, in.EdgeName, in.EdgePart = e.HeightM, e.Name, s.Policy.EdgePart.Of(e.Protection)
		}
	}
	in.together(s.Rig)
	return New(s.Rig.Team, in)
}

// together notes what main and belay are lost with, both at once.
func (in *Setting) together(r *rig.Rig) {
	main, belay := r.Team.Main.Strand, r.Team.Belay.Strand
	in.OneRope = r.CutWith(main) == r.CutWith(belay)
	on := r.StandsOn(main.Strand.Anchors[0])
	in.OneAnchor = !slices.ContainsFunc(slices.Concat(main.Strand.Anchors, belay.Strand.Anchors), func(id string) bool { return r.StandsOn(id) != on })
}
