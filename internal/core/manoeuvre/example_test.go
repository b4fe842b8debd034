package manoeuvre_test

import (
	"fmt"

	"zealousknot/internal/core/manoeuvre"
)

func ExamplePast() {
	fmt.Println(manoeuvre.Past("re-belay", true), manoeuvre.Past("re-belay", false), manoeuvre.Past("damage", true))
	// Output: rebelay-up rebelay-down isolate-damage
}

func ExampleTable_Find() {
	a := manoeuvre.Team.Find("capture")
	fmt.Printf("%s: %v s, “%s” – “%s”\n", a.Title, a.Seconds, a.Call, a.Answer)
	// Output: slack to the progress capture: 4 s, “Stop” – “Stopped”
}
