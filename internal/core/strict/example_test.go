package strict_test

import (
	"fmt"

	"zealousknot/internal/core/strict"
)

// What a field accepts stands in its tags; every problem names its place.
func ExampleRead() {
	var rope struct {
		LengthM float64 `json:"length_m" exclusiveMinimum:"0" maximum:"2000"`
		State   string  `json:"state,omitempty" enum:"dry,wet"`
	}
	err := strict.Read([]byte(`{"length": 40, "state": "soaked"}`), &rope)
	for _, f := range err.(*strict.Error).Faults {
		fmt.Println(f.Pointer, f.Detail)
	}
	// Output:
	// /length wrong unit: this figure is given as length_m
	// /state "soaked" is not one of dry, wet
	// /length_m missing
}
