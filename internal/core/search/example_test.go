package search_test

import (
	"context"
	"errors"
	"fmt"

	"zealousknot/internal/core/search"
)

// steps is a staircase that is climbed one step at a time or, at more cost, two.
type steps struct{ search.Plain[int] }

func (steps) Actions(*int) []int { return []int{1, 2} }
func (steps) Do(s, up, next *int) (float64, bool) {
	*next = *s + *up
	return float64(*up * *up), *next <= 5
}
func (steps) Judge(next, _, _ *int) (float64, bool) { return 0, *next != 2 }
func (steps) LowerBound(s *int) float64             { return float64(5 - *s) }
func (steps) Reached(s *int) bool                   { return *s == 5 }

// The second step is broken: it is gone over. A search that is cut off says so.
func ExampleFind() {
	path, expanded, err := search.Find(context.Background(), steps{}, 0, 100)
	for _, s := range path {
		fmt.Print(s.Action, " ")
	}
	fmt.Println(expanded, err)
	_, _, err = search.Find(context.Background(), steps{}, 0, 1)
	fmt.Println(errors.Is(err, search.ErrUndecided))
	// Output:
	// 1 2 1 1 4 <nil>
	// true
}
