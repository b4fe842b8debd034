// Package progress says how far a long computation is, through the context that it is
// asked with. Who is not listening costs nothing.
package progress

import "context"

// A Report says how far something is.
type Report struct {
	// Part is how much of all that was asked is done, from 0 to 1.
	Part float64 `json:"part" doc:"how much of what was asked is done, from 0 to 1"`
	// Done of Total are counted in Of, such as metres. A Total that only bounds the work, as
	// of a search, is said as such by Most.
	Done  int    `json:"done"`
	Total int    `json:"total"`
	Of    string `json:"of" doc:"what is counted"`
	Most  bool   `json:"most,omitempty" doc:"total is a bound; it may end before"`
}

type key struct{}

// listener receives what happens between two parts of the whole.
type listener struct {
	tell     func(Report)
	from, to float64
	// states has searches say how many states they expanded.
	states bool
}

// Told has everything that is done with the context told. Tell is called from whichever
// goroutine computes, often: it must return at once.
func Told(ctx context.Context, tell func(Report)) context.Context {
	return context.WithValue(ctx, key{}, listener{tell: tell, to: 1})
}

// Part is for the part of a computation between two fractions of it.
func Part(ctx context.Context, from, to float64) context.Context {
	l, ok := ctx.Value(key{}).(listener)
	if !ok {
		return ctx
	}
	width := l.to - l.from
	l.from, l.to = l.from+from*width, l.from+to*width
	return context.WithValue(ctx, key{}, l)
}

// States is for a computation that is one search or a few: they say how many states they
// expanded.
func States(ctx context.Context) context.Context {
	l, ok := ctx.Value(key{}).(listener)
	if !ok {
		return ctx
	}
	l.states = true
	return context.WithValue(ctx, key{}, l)
}

// Say tells that so many of a total are done.
func Say(ctx context.Context, done, total int, of string) {
	if l, ok := ctx.Value(key{}).(listener); ok && total > 0 {
		l.tell(Report{Part: l.from + (l.to-l.from)*float64(done)/float64(total), Done: done, Total: total, Of: of})
	}
}

// Searched tells how many states a search expanded of at most so many, where that is needed
// (States).
func Searched(ctx context.Context, expanded, bound int) {
	if l, ok := ctx.Value(key{}).(listener); ok && l.states && bound > 0 {
		l.tell(Report{Part: l.from + (l.to-l.from)*float64(expanded)/float64(bound), Done: expanded, Total: bound, Of: "states", Most: true})
	}
}
