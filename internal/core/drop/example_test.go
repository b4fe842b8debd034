package drop_test

import (
	"fmt"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/demo"
)

// What changes a plan is stated in words; a note changes nothing.
func ExampleChanges() {
	then, now := demo.Drops()["face-4"], demo.Drops()["face-4"]
	now.Note = "bring the long ladder"
	fmt.Println(drop.Changes(then, now))
	now.People[0].MassKg += 5
	fmt.Println(drop.Changes(then, now))
	// Output:
	// [] <nil>
	// [people, Rhea Tolland, mass: 88 kg → 93 kg] <nil>
}
