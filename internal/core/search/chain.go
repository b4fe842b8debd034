package search

import "context"

// onLeg is a state on a path through several goals: leg is the one it goes to.
type onLeg[S any] struct {
	at  S
	leg int
}

type legKey[K comparable] struct {
	at  K
	leg int
}

// Chain is the space of a path through several goals, one after the other: each of its
// spaces is the same but for its goal. A goal is done with as soon as it is reached.
type Chain[S any, K comparable, A any] []Space[S, K, A]

func (c Chain[S, K, A]) Pack(s *onLeg[S]) legKey[K] { return legKey[K]{c[s.leg].Pack(&s.at), s.leg} }
func (c Chain[S, K, A]) Unpack(k *legKey[K], s *onLeg[S]) {
	c[k.leg].Unpack(&k.at, &s.at)
	s.leg = k.leg
}
func (c Chain[S, K, A]) Actions(s *onLeg[S]) []A { return c[s.leg].Actions(&s.at) }

func (c Chain[S, K, A]) Do(s *onLeg[S], a *A, next *onLeg[S]) (float64, bool) {
	cost, ok := c[s.leg].Do(&s.at, a, &next.at)
	next.leg = s.leg
	if ok {
		c.advance(next)
	}
	return cost, ok
}

// advance notes the goals that a state reaches, but for the last.
func (c Chain[S, K, A]) advance(s *onLeg[S]) {
	for s.leg < len(c)-1 && c[s.leg].Reached(&s.at) {
		s.leg++
	}
}

func (c Chain[S, K, A]) Judge(next, before *onLeg[S], a *A) (float64, bool) {
	return c[before.leg].Judge(&next.at, &before.at, a)
}
func (c Chain[S, K, A]) LowerBound(s *onLeg[S]) float64 { return c[s.leg].LowerBound(&s.at) }
func (c Chain[S, K, A]) Reached(s *onLeg[S]) bool {
	return s.leg == len(c)-1 && c[s.leg].Reached(&s.at)
}

// Find is Find through all goals of the chain.
func (c Chain[S, K, A]) Find(ctx context.Context, from S, bound int) (steps []Step[S, A], expanded int, err error) {
	start := onLeg[S]{at: from}
	c.advance(&start)
	found, expanded, err := Find[onLeg[S], legKey[K], A](ctx, c, start, bound)
	for _, f := range found {
		steps = append(steps, Step[S, A]{Action: f.Action, After: f.After.at})
	}
	return steps, expanded, err
}

// Through searches from goal to goal, each from where the one before ended; where that
// leads no further, through all goals together, since another end of a goal may lead on.
// The first is quicker and not always the cheapest path through all.
func (c Chain[S, K, A]) Through(ctx context.Context, from S, bound int) (steps []Step[S, A], expanded int, err error) {
	here := from
	for i, sp := range c {
		more, n, err := Find(ctx, sp, here, bound-expanded)
		expanded += n
		switch {
		case err == nil:
		case i > 0 && OutcomeOf(err) != "" && expanded < bound:
			steps, n, err = c.Find(ctx, from, bound-expanded)
			return steps, expanded + n, err
		default:
			return nil, expanded, err
		}
		if steps = append(steps, more...); len(more) > 0 {
			here = more[len(more)-1].After
		}
	}
	return steps, expanded, nil
}
