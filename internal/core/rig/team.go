package rig

import (
	"errors"
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/reeving"
	"zealousknot/internal/core/strict"
)

// TeamRig is what is rigged at the top for lowering and raising a load, and who works it.
type TeamRig struct {
	Load  TeamLoad `json:"load"`
	Main  TeamLine `json:"main"`
	Belay TeamLine `json:"belay"`
	// Operators are named; the first is at the main, the second at the belay.
	Operators  []string `json:"operators" minItems:"1" maxItems:"6" minLength:"1" maxLength:"60"`
	OutOfSight bool     `json:"out_of_sight,omitempty" doc:"the operators do not see each other"`
	Haulers    int      `json:"haulers,omitempty" minimum:"0" maximum:"50" doc:"people who pull, beside the operators"`
	// RunM is how far haulers can walk with the rope before they go back for more.
	RunM quantity.Metres `json:"run_m,omitempty" exclusiveMinimum:"0" maximum:"200" doc:"straight run that haulers have; left out: they pull hand over hand"`
	// BackM is from the edge back to the anchors, on the level.
	BackM    *quantity.Metres         `json:"back_m,omitempty" minimum:"0" maximum:"100" doc:"from the edge back to the anchors; left out: 2 m"`
	SpeedMS  quantity.MetresPerSecond `json:"speed_m_s,omitempty" exclusiveMinimum:"0" maximum:"5" doc:"of lowering; left out: the policy's descent speed"`
	Kit      []string                 `json:"kit,omitempty" maxItems:"40" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"items at the anchors: grabs, hitches, pulleys, connectors"`
	Haul     *TeamHaul                `json:"haul,omitempty" doc:"the haul that is built when the load is raised; left out: 3:1"`
	Lowering string                   `json:"lowering,omitempty" enum:"slack-belay,shared,mixed" doc:"left out: all on the main with a hand-tight belay"`
	WalkAway string                   `json:"walk_away,omitempty" enum:"overhand,stopped-eight,connector" doc:"knot that is tied when an operator leaves"`
	ParkAt   string                   `json:"park_at_changeover,omitempty" enum:"set,hand"`
	Catch    string                   `json:"catch,omitempty" enum:"cord,two-cords,mechanical" doc:"what catches the load at a knot; left out: what lies ready, mechanical first"`
	SpeedBy  string                   `json:"speed_by,omitempty" enum:"hand,handle" doc:"left out: by the brake hand, the handle fully open"`
	RatioWay string                   `json:"ratio_way,omitempty" enum:"build-up,compound" doc:"left out: built up from a simple haul"`
	Calls    []TeamCall               `json:"calls,omitempty" maxItems:"30" doc:"the team's own words; of a step that is left out, the shipped ones"`
}

// Back is from the edge back to the anchors, on the level.
func (t *TeamRig) Back() quantity.Metres {
	if t.BackM != nil {
		return *t.BackM
	}
	return 2
}

// ComesFrom is the height that a strand comes down from: its anchor, or where a team's brakes
// stand back from it the highest edge, which its rope is led over.
func (r *Rig) ComesFrom(s *StrandView) quantity.Metres {
	top := s.TopM()
	if t := r.Team; t != nil && t.Back() > 0 && (s == t.Main.Strand || s == t.Belay.Strand) {
		for i := range r.Geometry.Edges {
			top = max(top, r.Geometry.Edges[i].HeightM)
		}
	}
	return top
}

// Hands are the operators, each once: who is named for two brakes has no more hands for it.
func (t *TeamRig) Hands() []string {
	var list []string
	for _, who := range t.Operators {
		if !slices.ContainsFunc(list, func(o string) bool { return SameName(o, who) }) {
			list = append(list, who)
		}
	}
	return list
}

// SameName reports whether two names are one but for capitals and space.
func SameName(a, b string) bool {
	words := func(s string) string { return strings.Join(strings.Fields(s), " ") }
	return strings.EqualFold(words(a), words(b))
}

// TeamLoad is what a team lowers and raises.
type TeamLoad struct {
	Name      string             `json:"name" minLength:"1" maxLength:"60"`
	MassKg    quantity.Kilograms `json:"mass_kg" exclusiveMinimum:"0" maximum:"600" doc:"with everything"`
	Persons   int                `json:"persons" minimum:"1" maximum:"3"`
	Stretcher bool               `json:"stretcher,omitempty" doc:"a stretcher, whose attendant is one of the persons"`
}

// TeamLine is a strand that runs through a brake at its anchor.
type TeamLine struct {
	Strand string            `json:"strand" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Brake  string            `json:"brake" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"item id of an anchor brake, a descender or a winding descender"`
	KnotsM []quantity.Metres `json:"knots_m,omitempty" maxItems:"8" exclusiveMinimum:"0" maximum:"2000" doc:"metres of rope at which there is a knot, counted along it from its end at the load, what is tied there included; knots marked on the strand, and joins, are added"`
	// Connector fixes the brake to its anchor.
	Connector string           `json:"connector,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"item id; left out: not stated, and not checked"`
	Place     string           `json:"place,omitempty" enum:"hanging,ground" doc:"how the brake lies; left out: hanging"`
	HandDeg   quantity.Degrees `json:"hand_deg,omitempty" minimum:"0" maximum:"180" doc:"how far the hand turns the brake strand beyond its reference place"`
}

// TeamHaul is a haul system: by its name, or by its reeving, with what its pulleys and
// grabs are.
type TeamHaul struct {
	System  string         `json:"system,omitempty" enum:"1:1,2:1,3:1,5:1,9:1"`
	Reeving []reeving.Rope `json:"reeving,omitempty" maxItems:"12" doc:"in place of the name"`
	Gear    []TeamGear     `json:"gear,omitempty" maxItems:"40" doc:"what is left out is chosen: the best pulleys nearest to the hands, the brake of the main as capture"`
}

// TeamGear says which item of the kit a pulley or grab of a reeving is.
type TeamGear struct {
	Part string `json:"part" pattern:"^[A-Za-z0-9_-]{1,40}$" doc:"as the reeving calls it"`
	Item string `json:"item" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
}

// TeamCall is what is said before a step, and what is answered.
type TeamCall struct {
	Do     manoeuvre.CalledDo `json:"do"`
	Call   string             `json:"call" minLength:"1" maxLength:"60"`
	Answer string             `json:"answer,omitempty" maxLength:"60"`
}

// TeamView is a team's rig with its names tied to things.
type TeamView struct {
	*TeamRig
	Main, Belay TeamLineView
	Kit         []*Piece
	// Body is the load as if it were a person held by both brakes, so that the rules on
	// holds can look at them.
	Body *PersonView
}

// TeamLineView is a line of a team with what it names.
type TeamLineView struct {
	*TeamLine
	Strand    *StrandView
	Brake     *Piece
	Connector *Piece
	// Mode is the brake's for this load; nil where it has none for so many persons.
	Mode *gear.Mode
}

// TeamBody is the id of the load of a team where it stands beside people.
const TeamBody = "team-load"

func (r *resolver) team(t *TeamRig, strands map[string]*StrandView, used map[string]string) {
	if t == nil {
		return
	}
	v := &TeamView{TeamRig: t}
	v.Main = r.teamLine(t, &t.Main, strands, used, "/team/main")
	v.Belay = r.teamLine(t, &t.Belay, strands, used, "/team/belay")
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
	r.teamHaul(v)
	calls := map[manoeuvre.CalledDo]bool{}
	for i, c := range t.Calls {
		if calls[c.Do] {
			r.p.Addf(entry("/team", "calls", i)+"/do", "the call of %q is stated twice", c.Do)
		}
		calls[c.Do] = true
	}
	if r.p.Err() == nil {
		v.Body = v.body()
	}
	r.rig.Team = v
}

func (r *resolver) teamLine(t *TeamRig, l *TeamLine, strands map[string]*StrandView, used map[string]string, at string) TeamLineView {
	v := TeamLineView{TeamLine: l, Strand: strands[l.Strand]}
	if v.Strand == nil {
		r.p.Addf(at+"/strand", "no strand %q in this document", l.Strand)
	}
	r.use(used, l.Brake, at+"/brake")
	if v.Brake = r.piece(l.Brake, at+"/brake"); v.Brake != nil {
		switch v.Brake.Model.Class {
		case gear.AnchorBrake, gear.Descender, gear.WindingDev:
			v.Mode = ModeFor(v.Brake.Model.Device, t.Load.Persons)
		default:
			r.p.Addf(at+"/brake", "%s is a %s, not a brake", v.Brake.Item.Label, v.Brake.Model.Class.Words())
		}
	}
	if l.Connector != "" {
		r.use(used, l.Connector, at+"/connector")
		if v.Connector = r.piece(l.Connector, at+"/connector"); v.Connector != nil && v.Connector.Model.Connector == nil {
			r.p.Addf(at+"/connector", "%s is a %s, not a connector", v.Connector.Item.Label, v.Connector.Model.Class.Words())
		}
	}
	for i := 1; i < len(l.KnotsM); i++ {
		if l.KnotsM[i] <= l.KnotsM[i-1] {
			r.p.Addf(entry(at, "knots_m", i), "knots are counted from the load, each further than the one before")
		}
	}
	return v
}

// ModeFor is the mode of a brake for so many persons: the one for the fewest that is
// enough, else the one for the most; nil where the model has no device.
func ModeFor(d *gear.Device, persons int) *gear.Mode {
	if d == nil {
		return nil
	}
	var best *gear.Mode
	for i := range d.Modes {
		m := &d.Modes[i]
		switch {
		case best == nil, best.Persons < persons && m.Persons > best.Persons, m.Persons >= persons && m.Persons < best.Persons:
			best = m
		}
	}
	return best
}

func (r *resolver) teamHaul(v *TeamView) {
	h := v.Haul
	if h == nil {
		return
	}
	if (h.System == "") == (h.Reeving == nil) {
		r.p.Addf("/team/haul", "give either the system by its name or its reeving")
		return
	}
	if h.Reeving != nil {
		var refused *strict.Error
		if errors.As(reeving.Check(h.Reeving, "/team/haul/reeving"), &refused) {
			for _, f := range refused.Faults {
				r.p.Addf(f.Pointer, "%s", f.Detail)
			}
			return
		}
	}
	pulleys, grabs := reeving.Parts(h.System, h.Reeving)
	parts, items := ids{}, map[string]bool{}
	for i, g := range h.Gear {
		at := entry("/team/haul", "gear", i)
		p := v.piece(g.Item)
		isPulley, isGrab := contains(pulleys, g.Part), contains(grabs, g.Part)
		switch {
		case parts[g.Part]:
			r.p.Addf(at+"/part", "%q is stated twice", g.Part)
		case items[g.Item]:
			r.p.Addf(at+"/item", "item %q is two parts of the haul at once", g.Item)
		case !isPulley && !isGrab:
			r.p.Addf(at+"/part", "the reeving has no %q", g.Part)
		case p == nil:
			r.p.Addf(at+"/item", "%q is not in the team's kit", g.Item)
		case isPulley && p.Model.Pulley == nil:
			r.p.Addf(at+"/item", "%s is a %s, not a pulley", p.Item.Label, p.Model.Class.Words())
		case isGrab && p.Model.Class != gear.RopeGrab:
			r.p.Addf(at+"/item", "%s is a %s, not a rope grab", p.Item.Label, p.Model.Class.Words())
		}
		parts[g.Part], items[g.Item] = true, true
	}
}

func contains(list []string, s string) bool {
	for _, v := range list {
		if v == s {
			return true
		}
	}
	return false
}

// Operated is a brake with who works it.
type Operated struct {
	Name  string
	Brake *Piece
}

// Operated says who works which brake: the first operator the main's, the second the belay's; one
// alone works both.
func (v *TeamView) Operated() []Operated {
	hands := v.Hands()
	if len(hands) == 0 {
		return nil
	}
	return []Operated{{hands[0], v.Main.Brake}, {hands[min(1, len(hands)-1)], v.Belay.Brake}}
}

func (v *TeamView) piece(id string) *Piece {
	for _, p := range v.Kit {
		if p.Item.ID == id {
			return p
		}
	}
	return nil
}

// body is the load held by both brakes, each parked, with the added bend where the kit
// has a connector for it.
func (v *TeamView) body() *PersonView {
	mass, second := v.Load.MassKg, quantity.Kilograms(0)
	if v.Load.Persons > 1 {
		mass /= 2
		second = mass
	}
	bends := 0
	for _, p := range v.Kit {
		if p.Model.Connector != nil && p.Model.Connector.Locks() {
			bends++
		}
	}
	body := &PersonView{Person: &Person{ID: TeamBody, Name: v.Load.Name, MassKg: mass}}
	for i, l := range []*TeamLineView{&v.Main, &v.Belay} {
		h := &Hold{
			ID: []string{"team-main", "team-belay"}[i], Strand: l.Strand.ID, Device: l.Brake.Item.ID, Mode: l.Mode.Name, Point: gear.Ventral, Threaded: ThreadedRight,
			SecondKg: second, ExtraFriction: bends > i, Role: ToLower,
		}
		view := &HoldView{Hold: h, Person: body, Strand: l.Strand, Device: l.Brake, Mode: l.Mode, Knotted: len(l.KnotsM) > 0}
		for j := range l.Brake.Model.Device.Positions {
			if p := &l.Brake.Model.Device.Positions[j]; view.Position == nil || p.Parked && !view.Position.Parked {
				view.Position, h.Position = p, p.Name
			}
		}
		if l.Connector != nil {
			h.Links = []Link{{Item: l.TeamLine.Connector}}
			view.Links = []LinkView{{Link: &h.Links[0], Piece: l.Connector}}
		}
		body.Holds = append(body.Holds, view)
	}
	return body
}

// EveryHold gives the holds of people, and the brakes of a team as holds of its load.
func (r *Rig) EveryHold() []*HoldView {
	n := 0
	for _, p := range r.People {
		n += len(p.Holds)
	}
	list := make([]*HoldView, 0, n+2)
	for _, p := range r.People {
		list = append(list, p.Holds...)
	}
	if r.Team != nil && r.Team.Body != nil {
		list = append(list, r.Team.Body.Holds...)
	}
	return list
}
