package rig

import (
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
)

// TeamRig is what is rigged at the top for lowering and raising a load, and who works it.
type TeamRig struct {
	Load  TeamLoad `json:"load"`
	Main  TeamLine `json:"main"`
	Belay TeamLine `json:"belay"`
	// Operators are named; the first is at the main, the second at the belay.
	Operators []string `json:"operators" minItems:"1" maxItems:"6" minLength:"1" maxLength:"60"`
	Haulers   int      `json:"haulers,omitempty" minimum:"0" maximum:"50" doc:"people who pull, beside the operators"`
	Kit       []string `json:"kit,omitempty" maxItems:"40" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"items at the anchors: grabs, hitches, pulleys, connectors for the added bend"`
	Lowering  string   `json:"lowering,omitempty" enum:"slack-belay,shared" doc:"left out: all on the main with a hand-tight belay"`
	WalkAway  string   `json:"walk_away,omitempty" enum:"overhand,stopped-eight,connector" doc:"knot that is tied when an operator leaves"`
	ParkAt    string   `json:"park_at_changeover,omitempty" enum:"set,hand"`
}

// TeamLoad is what a team lowers and raises.
type TeamLoad struct {
	Name    string             `json:"name" minLength:"1" maxLength:"60"`
	MassKg  quantity.Kilograms `json:"mass_kg" exclusiveMinimum:"0" maximum:"600" doc:"with everything"`
	Persons int                `json:"persons" minimum:"1" maximum:"3"`
}

// TeamLine is a strand that runs through a brake at its anchor.
type TeamLine struct {
	Strand string            `json:"strand" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Brake  string            `json:"brake" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"item id of an anchor brake or a descender"`
	KnotsM []quantity.Metres `json:"knots_m,omitempty" maxItems:"8" exclusiveMinimum:"0" maximum:"2000" doc:"metres of rope, counted from the load, at which there is a knot"`
}

// TeamView is a team's rig with its names tied to things.
type TeamView struct {
	*TeamRig
	Main, Belay TeamLineView
	Kit         []*Piece
}

// TeamLineView is a line of a team with what it names.
type TeamLineView struct {
	Strand *StrandView
	Brake  *Piece
}

func (r *resolver) team(t *TeamRig, strands map[string]*StrandView, used map[string]string) {
	if t == nil {
		return
	}
	v := &TeamView{TeamRig: t}
	v.Main = r.teamLine(&t.Main, strands, used, "/team/main")
	v.Belay = r.teamLine(&t.Belay, strands, used, "/team/belay")
	if t.Main.Strand == t.Belay.Strand {
		r.p.Addf("/team/belay/strand", "main and belay are the same strand")
	}
	for i, id := range t.Kit {
		at := entry("/team", "kit", i)
		r.use(used, id, at)
		if p := r.piece(id, at); p != nil {
			v.Kit = append(v.Kit, p)
		}
	}
	r.rig.Team = v
}

func (r *resolver) teamLine(l *TeamLine, strands map[string]*StrandView, used map[string]string, at string) TeamLineView {
	v := TeamLineView{Strand: strands[l.Strand]}
	if v.Strand == nil {
		r.p.Addf(at+"/strand", "no strand %q in this document", l.Strand)
	}
	r.use(used, l.Brake, at+"/brake")
	if v.Brake = r.piece(l.Brake, at+"/brake"); v.Brake != nil && v.Brake.Model.Class != gear.AnchorBrake && v.Brake.Model.Class != gear.Descender {
		r.p.Addf(at+"/brake", "%s is a %s, not a brake", v.Brake.Item.Label, v.Brake.Model.Class.Words())
	}
	for i := 1; i < len(l.KnotsM); i++ {
		if l.KnotsM[i] <= l.KnotsM[i-1] {
			r.p.Addf(entry(at, "knots_m", i), "knots are told from the load on, each further than the one before")
		}
	}
	return v
}
