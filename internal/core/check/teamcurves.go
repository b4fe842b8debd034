package check

import (
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/team"
)

// TeamCurves are the figures of a team at every height.
func TeamCurves(r *team.Rig, p *policy.Policy) (Values, []Curve) {
	step := max(quantity.Metres(0.5), r.EdgeM/200)
	var heights, slack, shared, slackPeak, sharedPeak, hand Values
	ceiling := &Limit{"ceiling", float64(p.ArrestCeilingKN)}
	for at := quantity.Metres(0); at <= r.EdgeM; at += step {
		s := r.SchoolsAt(at)
		heights = append(heights, float64(at))
		slack, shared = append(slack, float64(s.Slack.DropM)), append(shared, float64(s.Shared.DropM))
		slackPeak, sharedPeak = append(slackPeak, float64(s.Slack.PeakKN)), append(sharedPeak, float64(s.Shared.PeakKN))
		hand = append(hand, float64(r.HandAt(at, "")))
	}
	pulls := &Limit{"haulers", float64(p.HaulerKN) * float64(r.Haulers)}
	list := []Curve{
		teamCurve("team-peak", "peak if a strand fails", "kN", ceiling, "high: nothing damps", Line{"slack belay", slackPeak}, Line{"shared tension", sharedPeak}),
		teamCurve("team-drop", "drop if a strand fails", "m", nil, "high: nothing damps", Line{"slack belay", slack}, Line{"shared tension", shared}),
		teamCurve("team-hand", "all haulers pull", "kN", pulls, "low: ropes are stiff and parts not parallel", Line{"hand", hand}),
	}
	return heights, list
}

func teamCurve(id, name, unit string, limit *Limit, errs string, lines ...Line) Curve {
	c := Curve{ID: id, Name: name, Unit: unit, Lines: lines, Errs: errs}
	if limit != nil && limit.Value > 0 {
		c.Limit = limit
	}
	if at := worstOf(lines[0].Values); at >= 0 {
		c.Worst = &Worst{Index: at, Beyond: c.Limit != nil && lines[0].Values[at] > c.Limit.Value}
	}
	return c
}
