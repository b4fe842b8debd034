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

// RigRules are those on a team's rig as it is built, beside the rules on holds.
var RigRules = []stance.Rule{
	{ID: "team.grip", Gives: finding.Stop, Fires: "a hand cannot hold the brake strand for long; look: it can with what is added; note: the friction is not entered"},
	{ID: "team.sight", Gives: finding.Stop, Fires: "the load is to hang on both strands and the operators do not see each other"},
	{ID: "team.rope", Gives: finding.Stop, Fires: "the rope through a brake runs out above the lowest landing needed: less would be left behind it than its end stop and a walk-away knot take; or a knot is stated beyond its end"},
	{ID: "team.knot", Gives: finding.Stop, Fires: "a knot of a line comes to its brake on the way to the landing, and the kit has no grab with a hitch that lets out far enough, or another knot is too near for the brake to be between"},
	{ID: "team.kit", Gives: finding.Stop, Fires: "a rope grab, hitch, capture or pulley of the kit is not for the ropes or the load, or too weak for it: of the main, and of the belay where that has a knot"},
	{ID: "team.haul", Gives: finding.Stop, Fires: "the haul never gets the load up: a reset loses what a stroke gains"},
	{ID: "team.haulers", Gives: finding.Look, Fires: "the haul wants more haulers than are there"},
	{ID: "team.arrest", Gives: finding.Look, Fires: "if one strand fails, the other one sees more than the policy's arrest ceiling"},
	{ID: "team.slip", Gives: finding.Stop, Fires: "a grab bears more than it slips at"},
	{ID: "team.jam", Gives: finding.Look, Fires: "haulers who pull their most at a caught load pass a limit on the way"},
}
