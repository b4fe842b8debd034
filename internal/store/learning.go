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
	// Measured is how far off forces were that were predicted.
	Measured []run.Accuracy `json:"measured" doc:"forces beside what was predicted, by how a strand was loaded; nothing of it holds for falls"`
}

// Learning goes over the runs of a team that were put away, the newest 300.
func (s *Store) Learning(ctx context.Context, team Team) (*Learning, error) {
	own, _, err := s.Policy(ctx, team)
	if err != nil {
		return nil, err
	}
	now := manoeuvre.Seconds[string](manoeuvre.Team)
	for _, t := range own.TeamTimes {
		now[string(t.Do)] = t.S
	}
	rows, err := s.q.ClosedRuns(ctx, team.ID)
	if err != nil {
		return nil, err
	}
	out := new(Learning)
	var samples []run.Sample
	var measured [][]run.Measured
	for _, r := range rows {
		d, err := readRun(ctx, s.q, team.ID, r.ID, r.Document)
		if err != nil {
			return nil, err
		}
		if own := d.Samples(); len(own) > 0 {
			out.Runs++
			samples = append(samples, own...)
		}
		measured = append(measured, d.WasMeasured())
	}
	out.Learnt, out.Measured = run.Learn(samples, now), run.Accuracies(measured)
	return out, nil
}
