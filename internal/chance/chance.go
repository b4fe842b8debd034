// Package chance makes the chance that tests draw their cases from. Only tests use it.
package chance

import (
	"math/rand/v2"
	"os"
	"strconv"
)

// Rand gives the same numbers for the same stream each time, and others where the
// environment has another SEED, a whole number: make soak sets one for each day. It
// panics on a SEED that is no number, rather than try another seed in silence.
func Rand(test, stream uint64) *rand.Rand {
	seed := uint64(0)
	if text := os.Getenv("SEED"); text != "" {
		var err error
		if seed, err = strconv.ParseUint(text, 10, 64); err != nil {
			panic("SEED: " + err.Error())
		}
	}
	return rand.New(rand.NewPCG(test, stream+seed))
}
