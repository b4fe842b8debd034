package quantity_test

import (
	"fmt"

	"zealousknot/internal/core/quantity"
)

func Example() {
	mass := quantity.Kilograms(102)
	fmt.Println(mass, "weigh", quantity.Weight(mass))
	// Output: 102 kg weigh 1 kN
}
