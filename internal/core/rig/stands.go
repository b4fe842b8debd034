package rig

import "slices"

// StandsOn is the anchor that an anchor fails with: the first of those on the same single point of
// the structure. An anchor of several legs fails by itself, and so does one that is not of the rig.
func (r *Rig) StandsOn(anchor string) string {
	point := r.point(anchor)
	for _, a := range r.Anchors {
		if point != "" && r.point(a.ID) == point {
			return a.ID
		}
	}
	return anchor
}

// point is the one point of the structure that an anchor stands on; empty where there are several.
func (r *Rig) point(anchor string) string {
	for _, a := range r.Anchors {
		if a.ID == anchor && len(a.Legs) == 1 {
			return a.Legs[0].ID
		}
	}
	return ""
}

// CutWith is the strand that a strand is cut with: the first of those that hang in the same ropes.
func (r *Rig) CutWith(s *StrandView) string {
	for _, o := range r.Strands {
		if o == s {
			break
		}
		if slices.ContainsFunc(o.Strand.Ropes, func(rope string) bool { return slices.Contains(s.Strand.Ropes, rope) }) {
			return r.CutWith(o)
		}
	}
	return s.ID
}
