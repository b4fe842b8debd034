// Package knot says how much rope knots take up.
package knot

import "zealousknot/internal/core/quantity"

// Table is what each knot takes up of its rope, in multiples of the rope's diameter.
type Table struct {
	EndLoop quantity.Ratio `json:"end_loop" minimum:"0" maximum:"500"`
	MidLoop quantity.Ratio `json:"mid_loop" minimum:"0" maximum:"500"`
	Join    quantity.Ratio `json:"join" minimum:"0" maximum:"500"`
	Stopper quantity.Ratio `json:"stopper" minimum:"0" maximum:"500"`
	Tail    quantity.Ratio `json:"tail" minimum:"0" maximum:"500"`
}

// Shipped is the table shipped with the program, to be checked against the team's own
// knots.
func Shipped() Table {
	return Table{EndLoop: 70, MidLoop: 55, Join: 70, Stopper: 25, Tail: 10}
}
