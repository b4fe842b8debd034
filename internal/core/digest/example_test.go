package digest_test

import (
	"fmt"

	"zealousknot/internal/core/digest"
)

// Two values have one name only where nothing in them differs, behind pointers too.
func ExampleOf() {
	type rope struct{ length *float64 }
	forty, alsoForty, fifty := 40.0, 40.0, 50.0
	fmt.Println(digest.Of(rope{&forty}) == digest.Of(rope{&alsoForty}), digest.Of(rope{&forty}) == digest.Of(rope{&fifty}))
	// Output: true false
}
