package policy_test

import (
	"fmt"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/policy"
)

// A team makes a rule stricter; what it leaves out is as shipped.
func ExampleRead() {
	p, err := policy.Read([]byte(`{"name": "ours", "metal_factor": 6, "raises": [{"rule": "rope.kit", "to": "stop"}]}`))
	if err != nil {
		fmt.Println(err)
		return
	}
	whole := p.With()
	fmt.Println(whole.MetalFactor, whole.TextileFactor, p.Severity("rope.kit", finding.Look))
	// Output:
	// 6 10 stop
}
