package calc_test

import (
	"encoding/json"
	"fmt"

	"zealousknot/internal/core/calc"
)

// A figure is requested by name, as JSON.
func ExampleCalc_Run() {
	answer, err := calc.Find("redirect").Run([]byte(`{"t1_kN": 2, "t2_kN": 1, "included_angle_deg": 90}`))
	if err != nil {
		fmt.Println(err)
		return
	}
	text, _ := json.Marshal(answer)
	fmt.Println(string(text))
	// Output:
	// {"resultant_kN":2.2360679774997902}
}
