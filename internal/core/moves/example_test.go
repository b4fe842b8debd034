package moves_test

import (
	"context"
	"fmt"

	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/site"
	"zealousknot/internal/demo"
)

func ExampleOn() {
	s, err := site.Open(demo.Drops()["face-4"])
	if err != nil {
		fmt.Println(err)
		return
	}
	plan, err := moves.On(context.Background(), s, "", moves.Ask{Move: "rebelay-down"}, school.Schools{}, nil)
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, st := range plan.Steps[:3] {
		fmt.Println(st.Say)
	}
	// Output:
	// Control strand of descender 14 found, named, in hand. Unpark.
	// Down to 51.7 m, hand on the control strand; the backup comes along.
	// Park descender 14. See that it seats.
}
