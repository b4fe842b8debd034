package stance

import "zealousknot/internal/core/gear"

// What stands at the top is measured along the strands, as everything on them is:
// near the anchors they lie on the deck.

// edgeRope is the rope between the anchors and who stands before an edge; belowEdge is
// how far below it one hangs clear of it.
const edgeRope, belowEdge Cm = 100, 100

// Top is where somebody stands at the top, before the edge.
func (sc *Scene) Top(line int) Cm {
	return min(ToCm(sc.rig.Geometry.TopM)+OnGround, sc.Lines[line].Top-edgeRope)
}

// BelowEdge is where one hangs clear of the edges at the top.
func (sc *Scene) BelowEdge(line int) Cm {
	edge := sc.Top(line)
	for _, e := range sc.rig.Geometry.Edges {
		if at := ToCm(e.HeightM); at > edge-2*belowEdge {
			edge = min(edge, at)
		}
	}
	return edge - belowEdge
}

// atEdge is moves.edge: at the top the backup device is on and proved before the
// descender, before the fall zone.
func (sc *Scene) atEdge(s *Stance, t int) []Violation {
	if sc.relaxed || !s.Grounded || sc.walks(s) || sc.Tools[t].Class != gear.Descender {
		return nil
	}
	for i := range sc.Tools {
		if sc.Tools[i].Class == gear.BackupDevice && sc.counts(s, i) {
			return nil
		}
	}
	return sc.broken("moves.edge", "%s goes on before a backup device, at the edge", sc.Tools[t].Label)
}
