package school_test

import (
	"fmt"

	"zealousknot/internal/core/school"
)

func ExampleSchools_Set() {
	var s school.Schools
	fmt.Println(s.Set("knot-cover", "second-device"), s.KnotCover)
	fmt.Println(s.Set("knot-cover", "hope"))
	// Output:
	// <nil> second-device
	// knot_cover is not "hope" but one of any, second-device, loop, eye
}
