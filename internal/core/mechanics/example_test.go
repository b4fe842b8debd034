package mechanics_test

import (
	"fmt"

	"zealousknot/internal/core/mechanics"
)

// Somebody lets go 4 m beside the anchor's fall line, with 30 m of rope out.
func ExampleSwing() {
	out, err := mechanics.Swing(mechanics.SwingIn{RopeLengthM: 30, OffsetM: 4})
	fmt.Println(out.SpeedMS, err)
	// Output: 2.29 m/s <nil>
}
