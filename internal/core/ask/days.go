package ask

import (
	"context"

	"zealousknot/internal/core/day"
)

// OfServer are the questions that the page's core does not have: those about a day's board, which
// is judged by all drops, people and items of a team, and what every rule fires on, which is words
// alone.
func OfServer() []Question {
	return []Question{
		list("rules", "/rules", "Every rule: id, severity and when it fires", Rules),
		Row(Question{ID: "day-check", Method: "POST", Path: "/day/check", Summary: "What cannot be on a day's board; nothing is kept"}, CheckDay),
		Row(Question{ID: "day-cover", Method: "POST", Path: "/day/cover", Summary: "Which drops of a day stay covered while their rescuers are shared", Heavy: true}, CoverDay),
		Row(Question{ID: "day-fill", Method: "POST", Path: "/day/fill", Summary: "A board with nothing twice and the fewest changes; nothing is kept", Heavy: true}, FillDay),
	}
}

// day adds what is the team's where the drops were not sent with the board.
func (e *Env) day(ctx context.Context, a *day.Asked) error {
	if e.Day == nil || len(a.Drops) > 0 {
		return nil
	}
	return e.Day(ctx, a)
}

// CheckDay judges a board.
func CheckDay(ctx context.Context, env Env, _ none, a *day.Asked) (*day.Report, error) {
	if err := env.day(ctx, a); err != nil {
		return nil, err
	}
	return a.Check()
}

// CoverDay plans the rescues of drops that share a rescuer.
func CoverDay(ctx context.Context, env Env, _ none, a *day.Asked) (*day.CoverAnswer, error) {
	if err := env.day(ctx, a); err != nil {
		return nil, err
	}
	return a.Cover(ctx, env.Rescues)
}

// FillDay proposes a board.
func FillDay(ctx context.Context, env Env, _ none, a *day.Asked) (*day.Filled, error) {
	if err := env.day(ctx, a); err != nil {
		return nil, err
	}
	if a.Store == nil {
		var err error
		if a.Store, err = env.store(ctx); err != nil {
			return nil, err
		}
	}
	return a.Fill(ctx)
}
