package team

import (
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/stance"
)

// Rules are all those on a team's rig and its steps.
var Rules = []stance.Rule{
	{ID: "points.two", Gives: finding.Stop, Fires: "the load hangs and one strand, brake, anchor, grab or operator lets it go"},
	{ID: "moves.bearing", Gives: finding.Stop, Fires: "what bears is taken off or opened: a grab, a haul that is pulled, a toothed capture without a device behind it that can lower, a winding descender's lock without a hand on the wheel"},
	{ID: "moves.call", Gives: finding.Stop, Fires: "the load is moved, or what bears it, without a call and its answer"},
	{ID: "moves.settle", Gives: finding.Stop, Fires: "grab and hitch are left loose"},
	{ID: "service.function-check", Gives: finding.Stop, Fires: "a brake bears before a tug has proved it"},
	{ID: "device.two", Gives: finding.Stop, Fires: "two persons hang on a brake that is rated for one without the added bend, and it is not parked; the bend is changed unparked"},
	{ID: "team.hand", Gives: finding.Stop, Fires: "a brake is not parked and no hand is on its brake strand"},
	{ID: "team.angle", Gives: finding.Stop, Fires: "the brake strand comes off at less than a right angle"},
	{ID: "team.park", Gives: finding.Stop, Fires: "the park brake is on while rope is loaded or hauled; by school a haul is built and the main is not parked"},
	{ID: "team.grab", Gives: finding.Stop, Fires: "a grab is on the wrong side of the knot"},
	{ID: "team.both", Gives: finding.Stop, Fires: "main and belay are worked on at once"},
	{ID: "team.away", Gives: finding.Stop, Fires: "an operator has left a brake that is not parked and knotted"},
	{ID: "team.sight", Gives: finding.Stop, Fires: "operators share a load and do not see each other"},
	{ID: "team.wheel", Gives: finding.Stop, Fires: "the wheel of a winding descender is turned while its lock does not catch, or its lock freed with the handle out"},
}
