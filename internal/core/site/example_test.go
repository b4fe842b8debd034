package site_test

import (
	"fmt"

	"zealousknot/internal/core/site"
	"zealousknot/internal/demo"
)

// A drop is resolved once; its figures are there then.
func ExampleOpen() {
	s, err := site.Open(demo.Drops()["face-4"])
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, strand := range s.Rig.Strands {
		fmt.Println(strand.Name, "ends at", strand.Length.EndM)
	}
	// Output:
	// main ends at -8.23 m
	// backup ends at -9 m
}
