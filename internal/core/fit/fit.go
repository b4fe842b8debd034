// Package fit holds the rules on whether gear fits: each rule is one function
// that takes a thing and what it is judged by, and gives findings. Rules are
// listed in Rules; their ids are stable.
//
// It knows rules. It computes no force and no fall: those come with the rig.
package fit

import (
	"slices"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/rig"
)

// Context is what every rule is judged by.
type Context struct {
	Rig    *rig.Rig
	Policy *policy.Policy

	// What several rules look at is gathered once.
	uses  []use
	paths map[*rig.HoldView][]part
}

// Rule is a rule with what people need to know of it.
type Rule struct {
	ID    string
	Gives []finding.Severity
	// Fires says when, in words.
	Fires string
	// Looks names what it looks at, for the list of what was looked at.
	Looks string

	run func(*Context) (found []finding.Finding, looked int)
}

// aboutUse are the rules about how a thing is put on and what was done with it,
// not about which thing it is.
var aboutUse = []string{"device.direction", "device.mode", "device.open", "device.height", "device.place", "connector.gate", "connector.cross",
	"service.function-check", "check.due", "date.future", "points.two", "body.ground", "strand.below", "harness.missing", "edge.bare", "wind.slack", "device.park-before-descent", "deviation.load", "link.missing", "link.hole", "team.operator", "anchor.shared", "anchor.angle", "anchor.confirm", "anchor.register", "rope.end-stop", "rope.damage", "kit.missing", "person.practised"}

// AboutChoice reports whether a rule's findings depend on which item is chosen,
// so that they count when choosing one.
func AboutChoice(rule string) bool { return !slices.Contains(aboutUse, rule) }

// Rules are all rules of this package, in the order of the domain.
var Rules = []Rule{
	{"rope.diameter", stops, "the rope's measured, else nominal, diameter is outside the device's range for the mode in use", "device on rope", perRope(RopeDiameter)},
	{"rope.construction", stops, "the rope's construction is not accepted in that mode", "device on rope", perRope(RopeConstruction)},
	{"rope.condition", looks, "a rope that is not dry and sound runs in a device whose friction or locking depends on it", "device on rope", both(perRope(RopeCondition), perPerson(carriedCondition))},
	{"rope.short", stopsOrLooks, "the rope ends above the lowest landing needed", "strand", perStrand(RopeShort)},
	{"rope.twice", stopsOrLooks, "one rope hangs in several strands; a stop where they are main and backup of one set, where it is too short for all of them, or joined to another", "strand", perStrand(RopeTwice)},
	{"rope.end-stop", stops, "no stopper knot or sewn end where a device could run off", "strand", perStrand(RopeEndStop)},
	{"rope.damage", stops, "damage on a strand that no isolating knot covers", "strand", perStrand(RopeDamage)},
	{"rope.noted", stops, "the rope's map has damage that its strand does not name", "item in use", perUse(RopeNoted)},
	{"load.rated", stops, "the mass is outside the rated range of a device, absorber or mode", "hold", both(perHold(LoadRated), perPerson(evacuationRated))},
	{"load.two-person", stopsOrLooks, "a two-person load on a device not rated for it; rated, but what it needs is missing", "hold", perHold(LoadTwoPerson)},
	{"load.wll", stops, "the working load limit of a component is exceeded: in the load path, in what a later step hangs on, or in what several bodies hang on", "load path", both(both(perHold(LoadWLL), perPerson(laterLimits)), crowdLimits)},
	{"load.margin", stops, "strength divided by load is below the policy's factor: in the load path, in what a later step hangs on, or in what several bodies hang on", "load path", both(both(perHold(LoadMargin), perPerson(laterMargin)), crowdMargin)},
	{"load.teeth", stopsOrLooks, "the peak force on a toothed cam passes, or comes near, its sheath-harm force for that diameter", "hold", perHold(LoadTeeth)},
	{"force.arrest", stops, "the arrest force passes the ceiling", "backup hold", perHold(ForceArrest)},
	{"fall.clearance", stopsOrLooks, "the clearance needed is greater than the clearance there", "backup hold", perHold(FallClearance)},
	{"fall.swing", looks, "if what bears goes, or a deviation, the body swings over as fast as after a fall of more than half a metre", "hold", both(perHold(FallSwing), perHold(DeviationSwing))},
	{"fall.slack", looks, "more slack is above a backup than the policy allows", "backup hold", perHold(FallSlack)},
	{"device.direction", stops, "a device is loaded the wrong way round or misthreaded", "hold", perHold(DeviceDirection)},
	{"device.mode", stops, "a device is left in a position that does not hold with hands off", "hold", perHold(DeviceMode)},
	{"device.open", stops, "a side plate or catch is not shut", "hold", perHold(DeviceOpen)},
	{"device.point", stops, "a backup device is not on an A point, or a descender or chest ascender not on the ventral point", "hold", perHold(DevicePoint)},
	{"device.lanyard", stops, "an absorber or lanyard is not on the backup device's list, or too long", "backup hold", perHold(DeviceLanyard)},
	{"device.height", stops, "a backup device is below its harness attachment, or below a descender or chest ascender", "backup hold", perHold(DeviceHeight)},
	{"device.place", stops, "a device is farther from its attachment than what is between them reaches, or at a knot", "hold", perHold(DevicePlace)},
	{"device.slip", stopsOrLooks, "the weight on a device reaches the force at which it slips; a look where the peak of a fall onto it does", "hold", perHold(DeviceSlip)},
	{"device.foul", stopsOrLooks, "two devices are close enough that one can open or release the other", "pair of holds", perPerson(DeviceFoul)},
	{"device.descent-limit", stopsOrLooks, "the drop is longer, or the descent faster, than the device allows, or it gets hotter than the limit of the sheath; a look for a descender that somebody carries", "descending hold", both(both(perHold(DeviceDescentLimit), perPerson(evacuationLength)), perPerson(carriedDescent))},
	{"connector.gate", stopsOrLooks, "a connector in the load path is not locked; three or more are chained", "load path", perHold(ConnectorGate)},
	{"connector.cross", stopsOrLooks, "a connector is, or may come to be, loaded across", "load path", perHold(ConnectorCross)},
	{"anchor.shared", stops, "main and backup hang on one anchor without a second independent one", "set of strands", AnchorShared},
	{"anchor.angle", stopsOrLooks, "the legs of an anchor are wider than 90°, or 120°", "anchor", perAnchor(AnchorAngle)},
	{"anchor.confirm", looks, "an anchor was proposed and nobody has confirmed it", "anchor", perAnchor(AnchorConfirm)},
	{"anchor.register", looks, "the register of the site has no examination of an anchor in date, or has proved it to less than the drop says", "anchor", perAnchor(AnchorRegister)},
	{"points.two", stopsOrLooks, "a body off the ground is not held twice over; a look where no strand that it counts on is tight", "person", perPerson(PointsTwo)},
	{"service.quarantine", stopsOrLooks, "an item is quarantined, retired or past its life; a look where the date that its life counts from is not recorded", "item in use", perUse(ServiceQuarantine)},
	{"service.examination", stopsOrLooks, "a thorough examination is overdue, or due soon", "item in use", perUse(ServiceExamination)},
	{"service.function-check", stops, "no function check of the item on this rope, in its mode, is recorded today", "hold", perHold(ServiceFunctionCheck)},
	{"service.event", stopsOrLooks, "an item had a shock load, or heat, chemical or edge event, and no check since, or its check is by who was in it; a look where nobody says by whom", "item in use", perUse(ServiceEvent)},
	{"person.familiar", looks, "a person has no familiarisation record for a model, or for one of two generations on site", "person", both(perPerson(PersonFamiliar), operatorsFamiliar)},
	{"person.listed", looks, "the team's people have another mass or reach of somebody than the drop", "person", perPerson(PersonListed)},
	{"device.turned", looks, "the side the load strand leaves depends on the role or on where it is seen from, and is not stated or not as it should be", "hold", perHold(DeviceTurned)},
	{"rope.kit", looks, "a rope dedicated to a kit is used with another, or another rope in the kit", "device on rope", perRope(RopeKit)},
	{"brake.seat", looks, "a wet or muddy rope in a brake whose park position may then need a further push to seat", "device on rope", perRope(BrakeSeat)},
	{"hands.gloves", looks, "a live load is handled and no gloves are on the kit list", "person", both(perPerson(HandsGloves), teamGloves)},
	{"standard.role", looks, "no class marked on the model covers the role it is used in", "load path", perHold(StandardRole)},
	{"link.missing", stopsOrLooks, "a device that needs an absorber or a listed link has none; no connector of a device is stated", "hold", perHold(LinkMissing)},
	{"link.hole", stops, "more connectors are at a device than its hole takes", "hold", perHold(LinkHole)},
	{"harness.missing", stops, "no harness of somebody off the ground is stated", "person", perPerson(HarnessMissing)},
	{"edge.bare", stopsOrLooks, "a strand that somebody counts on runs over an edge without protection; a stop at a sharp one", "edge", EdgeBare},
	{"wind.slack", stopsOrLooks, "the day's wind draws more slack above a wheel that is not parked than the policy allows; a stop where it takes the whole tail", "hold", perHold(WindSlack)},
	{"device.park-before-descent", stops, "a wheel is parked on the strand of somebody who is about to descend", "hold", perHold(ParkBeforeDescent)},
	{"body.ground", stops, "somebody is marked as standing where nothing to stand on is", "person", perPerson(BodyGround)},
	{"strand.shared", stopsOrLooks, "two bodies off the ground count on one strand between the same anchors; a stop where two hang on it", "strand", perStrand(StrandShared)},
	{"strand.below", stops, "a strand is anchored below the device that hangs on it", "hold", perHold(StrandBelow)},
	{"deviation.load", stops, "the anchor of a deviation is overloaded by who hangs on its strand, once below it", "deviation", DeviationLoad},
	{"check.due", looks, "a check of a rope, of what somebody wears or of a partner that the day asks for is not recorded", "rope or person", CheckDue},
	{"date.future", stops, "a check, event, examination, familiarisation, the making or first use of an item is dated after the day of the drop", "date", DateFuture},
	{"team.operator", stops, "one operator is named for two live brakes, or an operator hangs on the drop", "team rig", TeamOperator},
	{"person.practised", looks, "a skill that a move on the plan needs, or the pick-off of who would come, was practised longer ago than the policy allows", "person", perPerson(PersonPractised)},
	{"kit.missing", stops, "a move on the plan needs a thing the person does not carry, or that is for these ropes and this load", "person", perPerson(KitMissing)},
	{"kit.unfit", looks, "something carried goes onto none of the ropes, is not rated for the person, is too weak for them or slips under them, or its gate does not lock", "person", perPerson(KitUnfit)},
}

// Version counts the sets of rules: a plan keeps the one that it was given its state
// by.
const Version = 11

// since names the rules that later sets brought, or let look at more.
var since = map[int][]string{2: {
	"link.missing", "link.hole", "harness.missing", "edge.bare", "wind.slack", "device.park-before-descent", "body.ground", "strand.below", "deviation.load",
	"check.due", "date.future", "team.operator", "team.sight",
}, 3: {"team.rope"}, 4: {"anchor.confirm"}, 5: {"person.practised"}, 6: {"kit.unfit", "team.kit", "strand.shared", "rope.twice"}, 7: {
	"device.place", "fall.swing", "load.margin", "load.wll", "deviation.load", "rope.twice",
}, 8: {"device.slip", "team.knot"}, 9: {"rope.noted", "rope.diameter", "person.listed"}, 10: {"anchor.register", "fall.slack", "team.arrest", "load.margin", "load.wll", "strand.below", "edge.bare", "kit.missing"}, 11: {"rope.condition", "device.descent-limit", "kit.unfit", "team.kit", "rescue.uncovered", "service.event", "service.examination", "connector.gate", "kit.missing"}}

// NewerThan reports whether a rule came after a set of rules; 0 counts as the first.
func NewerThan(rule string, version int) bool {
	for v := max(version, 1) + 1; v <= Version; v++ {
		if slices.Contains(since[v], rule) {
			return true
		}
	}
	return false
}

var (
	stops        = []finding.Severity{finding.Stop}
	looks        = []finding.Severity{finding.Look}
	stopsOrLooks = []finding.Severity{finding.Stop, finding.Look}
)

// Looked says how many things a rule looked at.
type Looked struct {
	Rule   string `json:"rule"`
	Things int    `json:"things"`
	What   string `json:"what" doc:"what sort of thing"`
}

// Check applies every rule and gives the findings, worst first, and what was
// looked at.
func Check(c *Context) ([]finding.Finding, []Looked) {
	found := []finding.Finding{}
	looked := make([]Looked, 0, len(Rules))
	for i := range Rules {
		list, n := Rules[i].run(c)
		for _, f := range list {
			f.Rule = Rules[i].ID
			f.Severity = c.Policy.Severity(f.Rule, f.Severity)
			found = append(found, f)
		}
		looked = append(looked, Looked{Rule: Rules[i].ID, Things: n, What: Rules[i].Looks})
	}
	finding.Sort(found)
	return found, looked
}

type runner = func(*Context) ([]finding.Finding, int)

func perHold(rule func(*rig.HoldView, *Context) []finding.Finding) runner {
	return func(c *Context) (found []finding.Finding, looked int) {
		for _, h := range c.Rig.EveryHold() {
			found = append(found, rule(h, c)...)
			looked++
		}
		return found, looked
	}
}

// both is a rule that looks at two sorts of thing.
func both(a, b runner) runner {
	return func(c *Context) ([]finding.Finding, int) {
		found, n := a(c)
		more, m := b(c)
		return append(found, more...), n + m
	}
}

// perRope applies a rule to every hold with each rope of its strand, since a
// device passes over all of them.
func perRope(rule func(*rig.HoldView, rig.RopePart, *Context) []finding.Finding) runner {
	return func(c *Context) (found []finding.Finding, looked int) {
		for _, h := range c.Rig.EveryHold() {
			for _, r := range h.Strand.Ropes {
				found = append(found, rule(h, r, c)...)
				looked++
			}
		}
		return found, looked
	}
}

func perStrand(rule func(*rig.StrandView, *Context) []finding.Finding) runner {
	return per(func(r *rig.Rig) []*rig.StrandView { return r.Strands }, rule)
}

func perPerson(rule func(*rig.PersonView, *Context) []finding.Finding) runner {
	return per(func(r *rig.Rig) []*rig.PersonView { return r.People }, rule)
}

func perAnchor(rule func(*rig.AnchorView, *Context) []finding.Finding) runner {
	return per(func(r *rig.Rig) []*rig.AnchorView { return r.Anchors }, rule)
}

func perUse(rule func(use, *Context) []finding.Finding) runner {
	return func(c *Context) (found []finding.Finding, looked int) {
		if c.uses == nil {
			c.uses = uses(c.Rig)
		}
		for _, u := range c.uses {
			found = append(found, rule(u, c)...)
		}
		return found, len(c.uses)
	}
}

func per[T any](things func(*rig.Rig) []T, rule func(T, *Context) []finding.Finding) runner {
	return func(c *Context) (found []finding.Finding, looked int) {
		list := things(c.Rig)
		for _, t := range list {
			found = append(found, rule(t, c)...)
		}
		return found, len(list)
	}
}

// one is a list of a single finding.
func one(f finding.Finding) []finding.Finding { return []finding.Finding{f} }

// manufacturer names the instructions a limit comes from.
func manufacturer(m *gear.Model) string {
	return "manufacturer's instructions as entered: " + m.Title() + ", " + m.Source
}

// byPolicy names the policy a limit comes from.
func byPolicy(p *policy.Policy) string { return "team policy: " + p.Name }

const (
	byPhysics = "physics"
	byRule    = "the two-line rule"
)
