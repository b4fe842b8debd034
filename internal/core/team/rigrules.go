package team

import (
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/stance"
)

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
