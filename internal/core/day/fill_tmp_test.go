package day_test

import (
	"testing"
	"zealousknot/internal/core/day"
	"zealousknot/internal/demo"
)

func BenchmarkDemo(b *testing.B) {
	a := &day.Asked{Board: *demo.Board(), People: demo.People(), Store: demo.Gear()}
	for id, d := range demo.Drops() {
		a.Drops = append(a.Drops, day.DropOf{ID: id, Document: *d})
	}
	for b.Loop() {
		a.Fill(b.Context())
	}
}
