package callout

import "testing"

func TestPlainly(t *testing.T) {
	for line, want := range map[string]string{
		"the margin of rope 3 (old) (load.margin): a limit is entered": "The margin of rope 3 (old): a limit is entered.",
		"how far back: 2 m is assumed":                                 "How far back: 2 m is assumed.",
	} {
		if got := plainly(line); got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
}
