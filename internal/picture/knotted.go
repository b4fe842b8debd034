package picture

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/knot"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// KnotsAsked is which knots are drawn, and in which rope.
type KnotsAsked struct {
	Drop     *drop.Document `json:"drop,omitempty" doc:"left out: the rope is the one of diameter_mm"`
	Strand   string         `json:"strand,omitempty" maxLength:"64" doc:"of the drop: in its rope; where no knots are named, those that are on it"`
	TeamStep string         `json:"team_step,omitempty" maxLength:"40" doc:"an action of the team: the knot that it ties with the team's kit, none where a device does it"`
	Knots    []string       `json:"knots,omitempty" maxItems:"20" doc:"by their ids; left out: those of the strand, without a strand all"`
	// DiameterMM is of a rope by itself.
	DiameterMM quantity.Millimetres `json:"diameter_mm,omitempty" minimum:"0" maximum:"60" doc:"left out: 10.5 mm"`
	View       string               `json:"view,omitempty" enum:"front,back" doc:"left out: front"`
}

// KnotsDrawn are knots in one rope.
type KnotsDrawn struct {
	DiameterMM quantity.Millimetres `json:"diameter_mm"`
	Knots      []KnotDrawn          `json:"knots"`
}

// KnotDrawn is a knot as it must be, and its wrong form.
type KnotDrawn struct {
	Knot     `json:"knot"`
	Right    *Drawing `json:"right"`
	Amiss    *Drawing `json:"wrong"`
	Measures []string `json:"measures"`
	Where    []string `json:"where,omitempty" doc:"where it is on the strand"`
}

func knots(_ context.Context, _ ask.Env, _ struct{}, a *KnotsAsked) (*KnotsDrawn, error) {
	in := Tying{DiameterMM: cmp.Or(a.DiameterMM, 10.5), Table: knot.Shipped(), Back: a.View == "back"}
	list, where := a.Knots, map[string][]string{}
	if a.Drop != nil {
		r, err := a.Drop.Rig()
		if err != nil {
			return nil, err
		}
		if k := a.Drop.Policy.Knots; k != nil {
			in.Table = *k
		}
		if a.Strand != "" {
			s := strandOf(r, a.Strand)
			if s == nil {
				return nil, refused("/strand", "there is no strand %q", a.Strand)
			}
			// Of ropes that are joined the thickest: its tails are the longest.
			in.DiameterMM = 0
			for _, r := range s.Ropes {
				in.DiameterMM = max(in.DiameterMM, r.Model.Rope.DiameterMM)
			}
			where = knotsOn(s)
		}
		if a.TeamStep != "" {
			if r.Team == nil {
				return nil, refused("/drop/team", "missing: nothing is rigged for a team on this drop")
			}
			k := ofTeam(r.Team, a.TeamStep)
			if k == "" {
				return &KnotsDrawn{DiameterMM: in.DiameterMM, Knots: []KnotDrawn{}}, nil
			}
			list = []string{k}
		}
	}
	for i, id := range list {
		if FindKnot(id) == nil {
			return nil, refused(fmt.Sprintf("/knots/%d", i), "there is no knot %q; there are %s", id, knotNames())
		}
	}
	out := &KnotsDrawn{DiameterMM: in.DiameterMM, Knots: []KnotDrawn{}}
	for i := range Knots {
		k := &Knots[i]
		switch {
		case len(list) > 0 && !slices.Contains(list, k.ID), len(list) == 0 && a.Strand != "" && where[k.ID] == nil:
			continue
		}
		out.Knots = append(out.Knots, KnotDrawn{Knot: *k, Right: k.Draw(in, false), Amiss: k.Draw(in, true), Measures: k.Measures(in), Where: where[k.ID]})
	}
	return out, nil
}

// ofTeam is the knot that an action of a team's move ties with what lies ready; "" for none, and
// where a device or sewn tape does it.
func ofTeam(v *rig.TeamView, do string) string {
	has := func(is func(m *gear.Model) bool) bool {
		return slices.ContainsFunc(v.Kit, func(p *rig.Piece) bool { return is(p.Model) })
	}
	grab := has(func(m *gear.Model) bool { return m.Class == gear.RopeGrab })
	sewn := has(func(m *gear.Model) bool { return m.Hitch != nil && m.Hitch.Sewn })
	tied := has(func(m *gear.Model) bool { return m.Hitch != nil && !m.Hitch.Sewn })
	switch {
	case do == "tie" && (v.WalkAway == "" || v.WalkAway == "overhand"):
		return "walk-away"
	case do == "put-grab" && (v.Catch == "cord" || v.Catch == "two-cords" || v.Catch == "" && !grab):
		return "grip-hitch"
	case do == "extend" && tied && !sewn:
		return "release-hitch"
	}
	return ""
}

// OfTeam are the knots of a team's main in a plan: its end, and those that the steps tie.
func OfTeam(d *drop.Document, p *team.Plan) ([]KnotDrawn, error) {
	r, err := d.Rig()
	if err != nil {
		return nil, err
	}
	list := []string{"end-loop"}
	if p != nil {
		for _, s := range p.Steps {
			if k := ofTeam(r.Team, string(s.Action.Do)); k != "" {
				list = append(list, k)
			}
		}
	}
	out, err := knots(context.Background(), ask.Env{}, struct{}{}, &KnotsAsked{Drop: d, Strand: d.Team.Main.Strand, Knots: list})
	if err != nil {
		return nil, err
	}
	return out.Knots, nil
}

func refused(pointer, format string, args ...any) error {
	return &strict.Error{Faults: []strict.Fault{{Pointer: pointer, Detail: fmt.Sprintf(format, args...)}}}
}

func knotNames() string {
	var names []string
	for _, k := range Knots {
		names = append(names, k.ID)
	}
	return strings.Join(names, ", ")
}

func strandOf(r *rig.Rig, id string) *rig.StrandView {
	for _, s := range r.Strands {
		if s.ID == id {
			return s
		}
	}
	return nil
}

// knotsOn says which knots are on a strand, from the top down.
func knotsOn(s *rig.StrandView) map[string][]string {
	on := map[string][]string{}
	add := func(id, where string) { on[id] = append(on[id], where) }
	add("end-loop", "at the top of "+s.Name)
	for _, m := range s.Marks {
		id := ""
		switch {
		case m.Kind == rig.JoinMark:
			id = "join"
		case m.Kind == rig.KnotMark && m.Eye && m.Isolates != "":
			id = "eye-loop"
		case m.Kind == rig.KnotMark:
			id = "mid-loop"
		default:
			continue
		}
		add(id, fmt.Sprintf("%s at %v", cmp.Or(m.Name, string(m.Kind)), m.HeightM))
	}
	if s.EndStop == rig.EndKnot {
		add("stopper", "at the lower end")
	}
	return on
}
