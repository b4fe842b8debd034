package check_test

import (
	"context"
	"fmt"

	"zealousknot/internal/core/check"
	"zealousknot/internal/demo"
)

func ExampleDrop() {
	report, err := check.Drop(context.Background(), demo.Drops()["face-4"], nil, check.FindingsOnly)
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, f := range report.Findings {
		fmt.Println(f.Severity, f.Rule, f.Subject.Label)
	}
	// Output:
	// stop rope.diameter descender 14
	// look brake.seat descender 14
	// look check.due rope 3
	// look check.due rope 4
	// look check.due Rhea Tolland
	// look check.due Rhea Tolland
	// look rope.condition descender 14
	// look service.examination connector 63
}
