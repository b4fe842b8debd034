package store

import (
	"context"

	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/run"
)

// Learning is what the runs of a team say of how long its actions take.
type Learning struct {
	Runs   int          `json:"runs" doc:"that were put away and have times: the newest 300 were looked at"`
	Learnt []run.Learnt `json:"learnt" doc:"of a team's actions that have one time, by their ids"`
	// Rescue are those of the rescues that were run, and practised on exercises.
	Rescue []run.Learnt `json:"rescue" doc:"of the actions of a rescue: made shorter only by exercises that were timed, to what nine of ten took"`
	// Measured is how far off forces were that were predicted.
	Measured []run.Accuracy `json:"measured" doc:"forces beside what was predicted, by how a strand was loaded; nothing of it holds for falls"`
}

// Learning goes over the runs of a team that were put away, the newest 300.
func (s *Store) Learning(ctx context.Context, team Team) (*Learning, error) {
	own, _, err := s.Policy(ctx, team)
	if err != nil {
		return nil, err
	}
	now, ofRescue := manoeuvre.Seconds[string](manoeuvre.Team), manoeuvre.Seconds[string](manoeuvre.Rescue)
	for _, t := range own.TeamTimes {
		now[string(t.Do)] = t.S
	}
	for _, t := range own.RescueTimes {
		ofRescue[string(t.Do)] = t.S
	}
	rows, err := s.q.ClosedRuns(ctx, team.ID)
	if err != nil {
		return nil, err
	}
	out := new(Learning)
	var samples, rescues []run.Sample
	var measured [][]run.Measured
	for _, r := range rows {
		d, err := readRun(ctx, s.q, team.ID, r.ID, r.Document)
		if err != nil {
			return nil, err
		}
		own, saved := d.Samples(), d.RescueSamples()
		if len(own)+len(saved) > 0 {
			out.Runs++
			samples, rescues = append(samples, own...), append(rescues, saved...)
		}
		measured = append(measured, d.WasMeasured())
	}
	out.Learnt, out.Rescue, out.Measured = run.Learn(samples, now), run.LearnRescue(rescues, ofRescue), run.Accuracies(measured)
	return out, nil
}
