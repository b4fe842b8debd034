package callout

import (
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/team"
)

// railM is how high above the edge the anchors are taken to be.
const railM = 1

// worse orders conditions of ropes that a night brings; others stay as the store has them.
var worse = map[gear.Condition]int{"": 0, gear.Dry: 0, gear.Wet: 1, gear.Icy: 2, gear.Muddy: 3, gear.Stiff: 3, gear.Glazed: 3}

// lineNames are both lines of a team.
var lineNames = [2]string{"main", "belay"}

// document is the drop of a layout at one point: anchors that nobody has seen, two strands, and
// the team's rig.
func (l *layout) document(p Point, day gear.Date, pol *policy.Policy) *drop.Document {
	back := p.BackM
	d := &drop.Document{
		Format: drop.Format, Version: drop.Version, Name: "callout", Day: day, Policy: *pol,
		Geometry: rig.Geometry{TopM: p.HeightM, TopName: "the edge", LandingName: "the landing"},
		Team: &rig.TeamRig{
			Load:      rig.TeamLoad{Name: usual[p.Load].words, MassKg: p.MassKg, Persons: usual[p.Load].persons, Stretcher: p.Load == "stretcher"},
			Operators: l.operators, Haulers: l.haulers, BackM: &back, Kit: rope(l.kit).ids(),
		},
	}
	if p.Edge != "free" {
		d.Geometry.Edges = []rig.Edge{{ID: "edge", Name: "edge", HeightM: p.HeightM, Protection: p.Edge}}
	}
	if l.haul != "" {
		d.Team.Haul = &rig.TeamHaul{System: l.haul}
	}
	models := map[string]bool{}
	add := func(pieces ...*rig.Piece) {
		for _, q := range pieces {
			item := *q.Item
			if q.Model.Rope != nil && worse[p.Ropes] > worse[item.Condition] {
				item.Condition = p.Ropes
			}
			d.Items = append(d.Items, item)
			if !models[q.Model.ID] {
				models[q.Model.ID] = true
				d.Models = append(d.Models, *q.Model)
			}
		}
	}
	for i, name := range lineNames {
		role := []rig.Role{rig.Main, rig.Backup}[i]
		x := quantity.Metres(0.7) * quantity.Metres(2*i-1)
		d.Anchors = append(d.Anchors, rig.Anchor{ID: name + "-anchor", Name: name + " anchor", XM: x, HeightM: p.HeightM + railM, Proposed: true, Legs: []rig.Leg{{ID: name + "-point", YM: 0.5}}})
		strand := rig.Strand{ID: name, Name: name, Role: role, Set: 1, Anchors: []string{name + "-anchor"}, Ropes: l.ropes[i].ids(), EndStop: rig.EndKnot}
		if r := l.ropes[i]; len(r) > 1 {
			// With the load at the landing the join hangs a rope above it.
			strand.Marks = []rig.Mark{{ID: name + "-join", Kind: rig.JoinMark, HeightM: min(r[1].Item.LengthM, p.HeightM)}}
		}
		d.Strands = append(d.Strands, strand)
		line := rig.TeamLine{Strand: name, Brake: l.brakes[i].Item.ID}
		if c := l.connectors[i]; c != nil {
			line.Connector = c.Item.ID
			add(c)
		}
		*[]*rig.TeamLine{&d.Team.Main, &d.Team.Belay}[i] = line
		add(l.brakes[i])
		add(l.ropes[i]...)
	}
	add(l.kit...)
	return d
}

// Figures are what a rig asks for at one point.
type Figures struct {
	HeightM, BackM quantity.Metres
	// Hands are the ways to add friction at each brake, with what each leaves for the hand; none
	// where the brake's friction is not known. Adds is the first of them that a hand holds for
	// long; -1: none.
	Hands [2][]team.Added
	Adds  [2]int
	// NeedM is the rope of each line, with knots and what stays behind the brake; LeftM is what
	// is behind the brake with the load at the landing.
	NeedM, LeftM [2]quantity.Metres
	// short is how much rope is missing; less than nothing where none is.
	short [2]quantity.Metres
	Knots []team.KnotFigures
	Hauls []team.HaulFigures
	// CatchKN is the greatest pull of the line that survives when the other goes, between edge
	// and landing, DropM how far the load drops at most.
	CatchKN quantity.Kilonewtons
	DropM   quantity.Metres
	LowerS  float64
}

// at works a layout out at one point.
func (l *layout) at(p Point, day gear.Date, pol *policy.Policy) (*Figures, *team.Rig, error) {
	s, err := site.Open(l.document(p, day, pol))
	if err != nil {
		return nil, nil, err
	}
	r := team.On(s)
	f := &Figures{HeightM: p.HeightM, BackM: p.BackM, Knots: r.Knots()}
	for i, name := range lineNames {
		b := r.Brake(name)
		f.Adds[i], f.Hands[i] = b.Best, b.Adds
		f.LeftM[i], _ = r.LeftM(name, 0)
		kept := []quantity.Metres{r.Main.KeptM, r.Belay.KeptM}[i]
		f.NeedM[i], f.short[i] = l.ropes[i].lengthM()-f.LeftM[i]+kept, kept-f.LeftM[i]
	}
	f.Hauls, _ = r.Hauls()
	for _, z := range []quantity.Metres{p.HeightM, 0} {
		s := r.SchoolsAt(z)
		f.CatchKN, f.DropM = max(f.CatchKN, s.Slack.PeakKN), max(f.DropM, s.Slack.DropM)
	}
	f.LowerS = r.WayS(team.Lower, 0, p.HeightM)
	return f, r, nil
}

// reachM is how far down from the edge a rope comes on the main, with the anchors at their
// furthest; less than 0: not to the edge.
func (l *layout) reachM(p Point, day gear.Date, pol *policy.Policy) (quantity.Metres, error) {
	p.HeightM = 1
	s, err := site.Open(l.document(p, day, pol))
	if err != nil {
		return 0, err
	}
	out, _ := team.On(s).RunsOutM(lineNames[0])
	return p.HeightM - out, nil
}
