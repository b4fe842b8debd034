package callout

import (
	"context"
	"fmt"
	"slices"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/team"
)

// Card is what a callout is answered with: the worst end of everything that is known.
type Card struct {
	// Rig is left out where the kits give none.
	Rig     *Rig           `json:"rig,omitempty" doc:"left out: the kits give none"`
	Reaches bool           `json:"reaches" doc:"the ropes of the rig come down at the worst end of the height; never where the height is not known"`
	Reach   []Reach        `json:"reach" doc:"how far down from the edge each rope comes, single ones first, the furthest first, twelve at most"`
	Taken   []Taken        `json:"taken" doc:"what was taken for what is known, and what it costs not to know"`
	Raise   *Raise         `json:"raise,omitempty"`
	People  Crew           `json:"people"`
	Calls   []rig.TeamCall `json:"calls"`
	Checks  []Touch        `json:"checks" doc:"by touch, in their order"`
	// Findings are those at the worst ends and of the callout itself, worst first. None of them
	// blocks.
	Findings    []finding.Finding `json:"findings"`
	NotLookedAt []string          `json:"not_looked_at"`
	Left        []Left            `json:"left,omitempty" doc:"what is in the kits and may not be used"`
	// Drop is the rig as a drop at its worst end.
	Drop     *drop.Document `json:"drop,omitempty"`
	Exercise bool           `json:"exercise,omitempty"`
}

// Reach is how far down from the edge a rope comes, with the anchors at their furthest and what
// stays behind the brake taken off.
type Reach struct {
	Ropes   []string        `json:"ropes" doc:"labels, from the brake down"`
	Joined  bool            `json:"joined,omitempty"`
	LengthM quantity.Metres `json:"length_m"`
	ReachM  quantity.Metres `json:"reach_m" doc:"0: not over the edge"`
	Enough  bool            `json:"enough,omitempty" doc:"for the whole height that is known"`
	Alike   int             `json:"alike,omitempty" doc:"how many more there are of the same"`
}

// Taken is one thing that is known, or not.
type Taken struct {
	Of    string `json:"of" enum:"height,back,edge,load,landing,ropes,knots,people,kits"`
	Words string `json:"words"`
	Known bool   `json:"known,omitempty"`
	Cost  string `json:"cost,omitempty" doc:"what it costs not to know it better"`
}

// Rig is the rig of a card.
type Rig struct {
	Main    Line            `json:"main"`
	Belay   Line            `json:"belay"`
	HeightM quantity.Metres `json:"height_m" doc:"that it was worked out for"`
	LowerS  float64         `json:"lower_s" doc:"one lower to the landing, at the policy's speed; knots not counted"`
	// AnchorKN is the most that either anchor bears, lowering, caught or hauling.
	AnchorKN quantity.Kilonewtons `json:"anchor_kN" doc:"the most that either anchor bears: caught by the belay, or hauling"`
	CatchKN  quantity.Kilonewtons `json:"catch_kN" doc:"on the belay when the main goes, at most"`
	DropM    quantity.Metres      `json:"drop_m" doc:"how far the load drops then, at most"`
	Kit      []string             `json:"kit" doc:"labels of what lies ready at the anchors"`
	Used     *Used                `json:"used" doc:"its brakes and ropes, by the ids of items"`
	Working  []finding.Working    `json:"working"`
}

// Line is one line of the rig.
type Line struct {
	Brake     string   `json:"brake"`
	Ropes     []string `json:"ropes" doc:"labels, from the brake down"`
	Connector string   `json:"connector,omitempty" doc:"left out: none is in the kits"`
	// Add is what is put in for friction at the heaviest end.
	Add    string               `json:"add" doc:"for friction, at the worst end"`
	HandKN quantity.Kilonewtons `json:"hand_kN" doc:"left for the hand at the worst end; 0 with known false"`
	Held   bool                 `json:"held" doc:"a hand holds it for long"`
	Known  bool                 `json:"known" doc:"the brake's friction is entered"`
	// Stiff: at the lightest end the load hardly runs.
	Stiff  bool            `json:"stiff,omitempty" doc:"at the lightest end the load hardly runs"`
	NeedM  quantity.Metres `json:"need_m" doc:"of rope, with knots and what stays behind the brake"`
	LeftM  quantity.Metres `json:"left_m" doc:"behind the brake with the load at the landing; less than 0: it does not reach"`
	ShortM quantity.Metres `json:"short_m,omitempty" doc:"of rope that is missing, with what stays behind the brake; left out: none"`
	Knots  []Knot          `json:"knots,omitempty"`
}

// Knot is where a knot meets its brake.
type Knot struct {
	LowM   quantity.Metres `json:"low_m" doc:"metres of way down from the edge at which it is met, at the earliest"`
	HighM  quantity.Metres `json:"high_m" doc:"at the latest"`
	Before []string        `json:"before" doc:"what is rigged before the lower begins"`
	Ready  bool            `json:"ready"`
}

// card makes the card.
func (m *making) card(ctx context.Context) (*Card, error) {
	m.sift()
	c := &Card{Reach: []Reach{}, Taken: []Taken{}, Calls: []rig.TeamCall{}, Checks: []Touch{}, Findings: []finding.Finding{}, Left: m.unfit, Exercise: m.exercise}
	if m.fixed == nil && (len(m.bag.ropes) < 2 || len(m.bag.brakes) < 2) {
		c.Findings = append(c.Findings, m.noRig())
		return m.close(c, nil), nil
	}
	if len(m.bag.brakes) > 1 {
		if err := m.ways(ctx, m.known.corners(1, m.policy)[0]); err != nil {
			return nil, err
		}
	}
	l, height, err := m.choose(ctx)
	if err != nil {
		return nil, err
	}
	if l == nil {
		c.Findings = append(c.Findings, m.noRig())
		return m.close(c, nil), nil
	}
	crew := m.crew()
	l.operators, l.haulers = crew.operators(), len(crew.Haul)
	corners := m.known.corners(height, m.policy)
	all := make([]*Figures, len(corners))
	var r *team.Rig
	for i, p := range corners {
		f, at, err := l.at(p, m.day, m.policy)
		if err != nil {
			return nil, err
		}
		if all[i] = f; i == 0 {
			r = at
		}
	}
	b := boundOf(all)
	if c.Raise = b.raise(len(crew.Haul)); c.Raise.Best >= 0 {
		l.haul = c.Raise.Ways[c.Raise.Best].System
	}
	c.Drop = l.document(corners[0], m.day, m.policy)
	found, err := m.findings(ctx, l, corners)
	if err != nil {
		return nil, err
	}
	c.Rig, c.People = m.rigOf(l, r, b, corners, all), crew
	c.Reaches = m.known.HeightM != nil && max(b.short[0], b.short[1]) <= 0
	c.People.place(r)
	c.Calls = calls(r, m.exercise)
	c.Checks = touches(l)
	c.Findings = append(c.Findings, found...)
	if err := m.taken(c, l, corners, all); err != nil {
		return nil, err
	}
	return m.close(c, b), nil
}

// findings are those at every end that is known, each once, where it is worst. What the list of
// checks by touch says better is left out.
func (m *making) findings(ctx context.Context, l *layout, corners []Point) ([]finding.Finding, error) {
	list, at := []finding.Finding{}, map[[2]string]int{}
	for _, p := range corners {
		report, err := check.Drop(ctx, l.document(p, m.day, m.policy), nil, check.FindingsOnly)
		if err != nil {
			return nil, err
		}
		for _, line := range report.Unsaid {
			if !slices.Contains(m.unsaid, line) {
				m.unsaid = append(m.unsaid, line)
			}
		}
		for _, f := range report.Findings {
			if f.Rule == "service.function-check" || f.Rule == "check.due" {
				continue
			}
			key := [2]string{f.Rule, f.Subject.ID}
			if i, there := at[key]; !there {
				at[key] = len(list)
				list = append(list, f)
			} else if f.Severity.Worse(list[i].Severity) {
				list[i] = f
			}
		}
	}
	return list, nil
}

// rigOf puts the bounds on the things of a layout.
func (m *making) rigOf(l *layout, r *team.Rig, b *bound, corners []Point, all []*Figures) *Rig {
	out := &Rig{HeightM: corners[0].HeightM, LowerS: b.LowerS, CatchKN: b.CatchKN, DropM: b.DropM, AnchorKN: b.anchorKN(), Kit: rope(l.kit).labels(), Used: l.used(), Working: []finding.Working{}}
	for i, to := range []*Line{&out.Main, &out.Belay} {
		*to = Line{Brake: l.brakes[i].Item.Label, Ropes: l.ropes[i].labels(), HandKN: b.handKN[i], Known: b.known[i], Held: b.known[i] && b.Adds[i] >= 0, Stiff: b.stiff[i], NeedM: b.NeedM[i], LeftM: b.LeftM[i], ShortM: max(0, b.short[i]), Knots: b.lines[i]}
		if to.Add = "its friction is not entered: nothing is known of the hand"; b.known[i] {
			to.Add = b.adds(i)
		}
		if c := l.connectors[i]; c != nil {
			to.Connector = c.Item.Label
		}
		if !b.known[i] {
			continue
		}
		out.Working = append(out.Working, finding.Work(fmt.Sprintf("hand at the brake of the %s", lineNames[i]), "the greatest of the ends that are known: "+corners[b.worst[i]].words(), b.handKN[i], "low for a polished rope", b.handInputs(all, i)...))
	}
	out.Working = append(out.Working, r.Main.Path.Working(0),
		finding.Work("anchor", "the greatest of the belay's catch and the haul at the ends that are known", out.AnchorKN, "low where haulers pull at a caught load", finding.Fig("catch", b.CatchKN), finding.Fig("hauling", b.haulKN)))
	return out
}

// handInputs are what the hand holds at the lightest and the heaviest end.
func (b *bound) handInputs(all []*Figures, i int) []finding.Figure {
	low := b.handKN[i]
	for _, f := range all {
		low = min(low, f.with(i, b.Adds[i]).HandKN)
	}
	return []finding.Figure{finding.State("added", all[0].with(i, b.Adds[i]).Words), finding.Fig("least", low), finding.Fig("most", b.handKN[i])}
}

// calls are what is called before which step; those of an exercise say that it is one.
func calls(r *team.Rig, exercise bool) []rig.TeamCall {
	list := []rig.TeamCall{}
	for _, do := range []team.Do{team.Prove, team.Over, team.Lower, team.Park, team.Build, team.Haul} {
		if call, answer := r.Call(do); call != "" {
			if exercise {
				call = "Exercise, exercise: " + call
			}
			list = append(list, rig.TeamCall{Do: manoeuvre.CalledDo(do), Call: call, Answer: answer})
		}
	}
	return list
}
