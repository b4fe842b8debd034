package fit_test

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/demo"
)

// rigged is a drop in which nothing is found, with short ways to its parts.
type rigged struct {
	*drop.Document
	ivo          *rig.Person
	main, backup *rig.Hold
	strandB      *rig.Strand
	// upper is the upper rope of the joined main, ropeB the backup's.
	upper, ropeB *gear.Item
}

func clean() *rigged {
	d := demo.Drops()["gate-shaft"]
	// A backup without a knot: its length is counted by hand below.
	d.Strands[1].Marks = nil
	p := &d.People[0]
	r := &rigged{Document: d, ivo: p, main: &p.Holds[0], backup: &p.Holds[1], strandB: &d.Strands[1]}
	r.upper, r.ropeB = r.item("rope-7"), r.item("rope-9")
	return r
}

func (r *rigged) item(id string) *gear.Item {
	return &r.Items[slices.IndexFunc(r.Items, func(i gear.Item) bool { return i.ID == id })]
}

func (r *rigged) model(id string) *gear.Model {
	return &r.Models[slices.IndexFunc(r.Models, func(m gear.Model) bool { return m.ID == id })]
}

// muddy makes the upper rope muddy, which only some models mind.
func (r *rigged) muddy(mind ...string) {
	r.upper.Condition = gear.Muddy
	for i := range r.Models {
		if d := r.Models[i].Device; d != nil && !slices.Contains(mind, r.Models[i].ID) {
			d.RopeEffects = []gear.RopeEffect{{Condition: gear.Muddy, Change: "no-change"}}
		}
	}
}

// madeAndExamined gives a lanyard its dates.
func (r *rigged) madeAndExamined(made, examined gear.Date) {
	i := r.item("lanyard-2")
	i.MadeOn, i.FirstUsedOn, i.ExaminedOn = made, "", examined
}

// slips gives every device a force at which it slips, hand ascenders one of their own.
func (r *rigged) slips(hand quantity.Kilonewtons) {
	for i := range r.Models {
		if d := r.Models[i].Device; d != nil {
			d.SlipKN = 9
		}
	}
	r.model("hand-a").Device.SlipKN = hand
}

// second has Ivo carry a descender of another model, after a change of it.
func (r *rigged) second(change func(*gear.Model)) {
	m, item := *r.model("descender-b"), *r.item("descender-21")
	d := *m.Device
	d.Modes = slices.Clone(d.Modes)
	m.ID, m.Device = "descender-c", &d
	change(&m)
	item.ID, item.Serial, item.Label, item.Model = "descender-99", "99", "descender 99", m.ID
	r.Models, r.Items = append(slices.Clone(r.Models), m), append(slices.Clone(r.Items), item)
	r.ivo.Carries = append(slices.Clone(r.ivo.Carries), item.ID)
}

// figure is a computed figure of a hold.
func (r *rigged) figure(hold *rig.Hold, name string) float64 {
	report, err := check.Drop(context.Background(), r.Document, nil, check.WithFigures)
	if err != nil {
		panic(err)
	}
	for _, h := range report.Holds {
		for _, f := range h.Figures {
			if h.Hold == hold.ID && f.Name == name {
				return f.Value
			}
		}
	}
	panic("no figure " + name)
}

func (r *rigged) peak() float64 { return r.figure(r.backup, "arrest force") }

// spare makes the backup rope leave so much spare at the landing: it hangs 39.1 m
// and knots take 115 diameters of 10.4 mm, 80 without the stopper.
func (r *rigged) spare(m float64, end rig.EndStop) {
	multiples := 80.0
	if end == rig.EndKnot {
		multiples = 115
	}
	r.strandB.EndStop = end
	r.ropeB.LengthM = quantity.Metres(39.1 + multiples*0.0104 + m)
}

func (r *rigged) legs(x, y quantity.Metres) {
	r.Anchors[0].Legs = []rig.Leg{{ID: "a", XM: -x, YM: y, StrengthKN: 30}, {ID: "b", XM: x, YM: y, StrengthKN: 30}}
}

// registered puts the first anchor into the register of a site.
func (r *rigged) registered(examined, again gear.Date, proved quantity.Kilonewtons) {
	r.Anchors[0].Register = &rig.Registered{Site: "Face", Name: "bolts", ExaminedOn: examined, AgainBy: again, StrengthKN: proved}
}

// clearance puts a ledge below so that there is so much more clearance than
// needed.
func (r *rigged) clearance(more float64) {
	need := r.figure(r.backup, "clearance needed")
	r.Geometry.Ledges = []rig.Ledge{{ID: "sill", Name: "sill", HeightM: r.ivo.AtM - quantity.Metres(need+more)}}
}

// apart hangs the backup device so far above the descender; the sternal point is
// 0.35 m above the ventral one.
func (r *rigged) apart(m quantity.Metres) { r.main.AboveM, r.backup.AboveM = 1, 1-0.35+m }

// practised gives Ivo a plan with a knot pass and a pick-off, and a practice of a skill.
func (r *rigged) practised(skill string, how rig.How, on gear.Date) {
	r.ivo.Moves = []manoeuvre.MoveName{"pass-knots-down", "pick-off"}
	r.ivo.Practised = append(r.ivo.Practised, rig.Practised{Skill: skill, How: how, On: on})
}

// comes has Ivo come as a rescuer who is said to have practised on a day.
func (r *rigged) comes(practised gear.Date) {
	r.Rescue = &rig.Rescue{Rescuers: []rig.Rescuer{{Person: "ivo", PractisedOn: practised}}}
}

func (r *rigged) sides(l *rig.Leaves) {
	r.model("descender-b").Device.Sides = &gear.Sides{Anchored: gear.Left, Riding: gear.Right}
	r.main.Leaves = l
}

func (r *rigged) teeth(harm float64) {
	r.model("backup-cam").Device.Teeth = []gear.TeethLimit{{DiameterMM: 10, HarmKN: quantity.Kilonewtons(harm)}, {DiameterMM: 11, HarmKN: 100}}
}

func (r *rigged) sheath(more float64) {
	r.model("rope-105").Rope.SheathLimitC = quantity.Celsius(r.figure(r.main, "device at the bottom") + more)
}

func (r *rigged) uncarry(items ...string) {
	r.ivo.Carries = slices.DeleteFunc(slices.Clone(r.ivo.Carries), func(id string) bool { return slices.Contains(items, id) })
}

func (r *rigged) chain(items ...string) {
	r.uncarry(items...)
	for _, id := range items {
		r.main.Links = append(r.main.Links, rig.Link{Item: id})
	}
}

func chainOf(items ...string) []rig.Link {
	var list []rig.Link
	for _, id := range items {
		list = append(list, rig.Link{Item: id})
	}
	return list
}

// wheel hangs a wheel on an absorber in the place of the cam.
func (r *rigged) wheel(position string) {
	r.uncarry("backup-9", "absorber-8")
	r.backup.Device, r.backup.Mode, r.backup.Position, r.backup.Links = "backup-9", "one person", position, chainOf("connector-67", "absorber-8", "connector-68")
}

// wind sets the policy's limit so much beyond what the day's wind draws.
func (r *rigged) wind(more float64) {
	r.WindMS = 6
	r.Policy.WindSlackM = quantity.Metres(r.figure(r.backup, "wind draws") + more)
}

// across lays the backup's connector across, which then holds so much more than the
// peak of a fall.
func (r *rigged) across(more float64) {
	r.backup.Links[0].Lie = rig.LieAcross
	r.model(r.item("connector-67").Model).Connector.AcrossKN = quantity.Kilonewtons(r.peak() + more)
}

func (r *rigged) edge(protection string, sharp bool, at quantity.Metres) {
	r.Geometry.Edges = []rig.Edge{{ID: "e", Name: "rim", HeightM: at, Protection: protection, Sharp: sharp}}
}

func (r *rigged) ledge(at quantity.Metres, kind string) {
	r.Geometry.Ledges = []rig.Ledge{{ID: "l", Name: "sill", HeightM: at, Kind: kind}}
}

// deviation draws the main aside at 20 m, by 8 m.
func (r *rigged) deviation(leg rig.Leg) {
	r.Anchors = append(r.Anchors, rig.Anchor{ID: "dev", Name: "deviation", XM: 7.6, HeightM: 20, Legs: []rig.Leg{leg}})
	r.Strands[0].Marks = append(r.Strands[0].Marks, rig.Mark{ID: "dev", Kind: rig.DeviationMark, HeightM: 20, Anchor: "dev"})
}

// drawn leads both strands, which hang from one place, through one deviation so far aside of it.
func (r *rigged) drawn(aside quantity.Metres) {
	r.Anchors[1].XM = r.Anchors[0].XM
	r.deviation(rig.Leg{ID: "d", YM: 0.2, StrengthKN: 30})
	r.Anchors[len(r.Anchors)-1].XM = r.Anchors[0].XM + aside
	r.Strands[1].Marks = append(r.Strands[1].Marks, rig.Mark{ID: "dev-b", Kind: rig.DeviationMark, HeightM: 20, Anchor: "dev"})
}

// kit lets ivo carry an evacuation kit.
func (r *rigged) kit(e gear.EvacuationModel) {
	r.Models = append(r.Models, gear.Model{ID: "kit-x", Class: gear.Evacuation, Maker: "x", Name: "kit", Source: "x", StrengthKN: 20, Evacuation: &e})
	r.Items = append(r.Items, gear.Item{ID: "kit-1", Label: "kit 1", Model: "kit-x", Serial: "k1", State: gear.InService, MadeOn: "2026-01-01", ExaminedOn: "2026-11-01"})
	r.ivo.Carries = append(slices.Clone(r.ivo.Carries), "kit-1")
}

func (r *rigged) team(operators ...string) {
	d := demo.Drops()["basin-wall"]
	d.Team.Operators = operators
	r.Document = d
}

// withTeam puts the demo's team beside ivo.
func (r *rigged) withTeam(operators ...string) {
	o := demo.Drops()["basin-wall"]
	t := *o.Team
	t.Operators = operators
	r.Team = &t
	t.Main.Strand, t.Belay.Strand = r.Strands[0].ID, r.Strands[1].ID
	r.Refresh(demo.Gear())
}

// lives gives the model of a lanyard a life, and it the dates that it counts from.
func (r *rigged) lives(made, used float64, madeOn, usedOn gear.Date) {
	i := r.item("lanyard-2")
	for j := range r.Items {
		if o := &r.Items[j]; o.Model == i.Model {
			o.MadeOn, o.FirstUsedOn = "2026-01-01", "2026-01-01"
		}
	}
	i.MadeOn, i.FirstUsedOn = madeOn, usedOn
	r.model(i.Model).Life = &gear.Life{FromMadeYears: made, FromFirstUseYears: used}
}

func (r *rigged) damage(at quantity.Metres, more ...rig.Mark) {
	r.strandB.Marks = append(more, rig.Mark{ID: "d", Kind: rig.DamageMark, HeightM: at})
}

// noted has the map of the backup's rope say that it is damaged at so many places.
func (r *rigged) noted(places int) {
	r.ropeB.Noted = &gear.Noted{Damage: make([]gear.Stretch, places)}
}

// upperNoted has the upper rope of the main damaged by its map, and the main by its mark at a height.
func (r *rigged) upperNoted(at quantity.Metres) {
	r.upper.Noted = &gear.Noted{Damage: make([]gear.Stretch, 1)}
	r.Strands[0].Marks = append(r.Strands[0].Marks, rig.Mark{ID: "d", Kind: rig.DamageMark, HeightM: at})
}

func (r *rigged) rebelay(anchors ...string) {
	for i, id := range anchors {
		if !slices.ContainsFunc(r.Anchors, func(a rig.Anchor) bool { return a.ID == id }) {
			r.Anchors = append(r.Anchors, rig.Anchor{ID: id, Name: id, HeightM: 8, Legs: []rig.Leg{{ID: "bolt-" + id, YM: 1, StrengthKN: 30}}})
		}
		r.Strands[i].Marks = append(r.Strands[i].Marks, rig.Mark{ID: "re", Kind: rig.RebelayMark, HeightM: 8, Anchor: id})
	}
}

// another hangs a second set, each strand from one leg of a strength.
func (r *rigged) another(strength quantity.Kilonewtons) {
	for i := range r.Strands {
		s, id := r.Strands[i], fmt.Sprint("other-", i)
		rope := *r.item("rope-9")
		rope.ID, rope.Serial = id, id
		r.Items = append(r.Items, rope)
		r.Anchors = append(r.Anchors, rig.Anchor{ID: id, Name: id, XM: 2, HeightM: 38, Legs: []rig.Leg{{ID: "bolt-" + id, YM: 1, StrengthKN: strength}}})
		s.ID, s.Name, s.Set, s.Anchors, s.Ropes, s.Marks = id, id, 2, []string{id}, []string{id}, nil
		r.Strands = append(r.Strands, s)
	}
}

// crowd hangs a second set with somebody on it from the anchors of the first.
func (r *rigged) crowd() {
	r.another(30)
	r.beside(5, false, 0, 1)
	for i := range 2 {
		r.Strands[i+2].Anchors = r.Strands[i].Anchors
		r.People[1].Holds[i].Strand = r.Strands[i+2].ID
	}
}

// sling hangs one from the structure.
func (r *rigged) sling(strength quantity.Kilonewtons) {
	r.Anchors = append(r.Anchors, rig.Anchor{ID: "sling", Name: "sling", HeightM: 20, Sling: true, Legs: []rig.Leg{{ID: "rail", YM: 1, StrengthKN: strength}}})
}

// beside puts somebody else at a height, with a hold like ivo's on each of some strands.
func (r *rigged) beside(at quantity.Metres, grounded bool, strands ...int) {
	p := rig.Person{ID: "rhea", Name: "Rhea", MassKg: 70, AtM: at, Grounded: grounded}
	for i, n := range strands {
		of := []*rig.Hold{r.main, r.backup}[n]
		h, item := *of, *r.item(of.Device)
		item.ID, item.Serial = fmt.Sprint("another-", i), fmt.Sprint("a", i)
		h.ID, h.Device, h.Links = item.ID, item.ID, nil
		r.Items = append(r.Items, item)
		p.Holds = append(p.Holds, h)
	}
	r.People = append(slices.Clip(r.People), p)
}

// doubled hangs one rope in both strands, so much longer than both want.
func (r *rigged) doubled(more quantity.Metres) {
	r.Strands[0].Marks, r.Strands[0].Ropes, r.Strands[1].Ropes = nil, []string{"rope-9"}, []string{"rope-9"}
	report, err := check.Drop(context.Background(), r.Document, nil, check.FindingsOnly)
	if err != nil {
		panic(err)
	}
	for _, f := range report.Findings {
		for _, fig := range f.Figures {
			if f.Rule == "rope.twice" && fig.Name == "wanted" {
				r.item("rope-9").LengthM = quantity.Metres(fig.Value) + more
			}
		}
	}
}

// generations puts a second generation of the descender's class on site.
func (r *rigged) guest(item string, until gear.Date) {
	i := r.item(item)
	i.Owner, i.ExaminedOn, i.FirstUsedOn, i.MadeOn = "somebody", "", "", ""
	i.Guest = &gear.Guest{Certificate: "C", Examiner: "E", ValidUntil: until}
}

func (r *rigged) generations() {
	first := r.model("descender-b")
	first.Generation = "first"
	other := *first
	other.ID, other.Generation = "descender-c", "second"
	item := *r.item("descender-21")
	item.ID, item.Model = "descender-99", other.ID
	r.Models, r.Items = append(r.Models, other), append(r.Items, item)
}

const (
	stop  = finding.Stop
	look  = finding.Look
	note  = finding.Note
	quiet = finding.Severity("")
)

// trial is a change to the clean drop and what the rule then gives.
type trial struct {
	name string
	do   func(*rigged)
	want finding.Severity
}

// trials show for every rule that it fires, that it is quiet at the boundary, and
// that it clears when what it asks for is done.
var trials = map[string][]trial{
	"rope.diameter": {
		{"too thick", func(r *rigged) { r.upper.MeasuredMM = 12.01 }, stop},
		{"thickest", func(r *rigged) { r.upper.MeasuredMM = 12 }, quiet},
		{"too thin", func(r *rigged) { r.upper.MeasuredMM = 9.99 }, stop},
		{"thinnest", func(r *rigged) { r.upper.MeasuredMM = 10 }, quiet},
		{"measured before nominal", func(r *rigged) { r.model("rope-105").Rope.DiameterMM = 13 }, quiet},
		{"nominal without a measurement", func(r *rigged) { r.model("rope-105").Rope.DiameterMM, r.upper.MeasuredMM = 13, 0 }, stop},
		{"the lower rope of a joined pair", func(r *rigged) { r.item("rope-8").MeasuredMM = 12.01 }, stop},
		{"too thick at a place", func(r *rigged) { r.upper.Noted = &gear.Noted{LeastMM: 10.5, MostMM: 12.01} }, stop},
		{"thickest at a place", func(r *rigged) { r.upper.Noted = &gear.Noted{LeastMM: 10, MostMM: 12} }, quiet},
		{"too thin at a place", func(r *rigged) { r.upper.Noted = &gear.Noted{LeastMM: 9.99, MostMM: 12} }, stop},
		{"in the mode for two", func(r *rigged) {
			r.upper.MeasuredMM, r.main.Mode = 11.4, "rescue"
			r.model("descender-b").Device.Modes[1].Ropes[0].MaxMM = 11
		}, stop},
		{"back in the mode for one", func(r *rigged) {
			r.upper.MeasuredMM = 11.4
			r.model("descender-b").Device.Modes[1].Ropes[0].MaxMM = 11
		}, quiet},
	},
	"rope.construction": {
		{"static", func(r *rigged) { r.model("rope-105").Rope.Construction = gear.Static }, stop},
		{"static, accepted", func(r *rigged) {
			r.model("rope-105").Rope.Construction = gear.Static
			for _, m := range []string{"descender-b", "backup-cam"} {
				ropes := &r.model(m).Device.Modes[0].Ropes[0]
				ropes.Constructions = append(slices.Clone(ropes.Constructions), gear.Static)
			}
		}, quiet},
	},
	"rope.condition": {
		{"wet", func(r *rigged) { r.upper.Condition = gear.Wet }, look},
		{"stiff, of which the model says nothing", func(r *rigged) { r.upper.Condition = gear.Stiff }, look},
		{"dry", func(r *rigged) { r.upper.Condition = gear.Dry }, quiet},
		{"wet, and the model says it changes nothing", func(r *rigged) {
			r.upper.Condition = gear.Wet
			r.model("descender-b").Device.RopeEffects = []gear.RopeEffect{{Condition: gear.Wet, Change: "no-change"}}
		}, quiet},
		{"muddy, which something minds that is carried", func(r *rigged) { r.muddy("hand-a") }, look},
		{"muddy, and it goes onto no rope there", func(r *rigged) {
			r.muddy("hand-a")
			r.model("hand-a").Device.Modes[0].Ropes[0].MaxMM = 9
		}, quiet},
		{"muddy, which nothing minds", func(r *rigged) { r.muddy() }, quiet},
	},
	"rope.short": {
		{"a hair too short, stopper tied", func(r *rigged) { r.spare(-0.001, rig.EndKnot) }, look},
		{"a hair too short, no stopper", func(r *rigged) { r.spare(-0.001, rig.EndNone) }, stop},
		{"ends above somebody on it", func(r *rigged) { r.spare(-13, rig.EndKnot) }, stop},
		{"just long enough", func(r *rigged) { r.spare(0.0001, rig.EndKnot) }, quiet},
		{"long enough for a ledge", func(r *rigged) { r.spare(-2, rig.EndKnot); r.strandB.ToM = 2.1 }, quiet},
		{"an edge takes rope", func(r *rigged) {
			r.spare(0.3, rig.EndKnot)
			r.Geometry.Edges = []rig.Edge{{ID: "e", Name: "e", HeightM: 38, Protection: "pad", RopeM: 0.31}}
		}, look},
		{"a loop takes rope", func(r *rigged) { r.spare(0.3, rig.EndKnot); r.strandB.LoopsM = 0.31 }, look},
		{"leading it out of plumb takes rope", func(r *rigged) { r.spare(0.3, rig.EndKnot); r.Geometry.OffsetM = 6 }, look},
	},
	"rope.end-stop": {
		{"none, little spare", func(r *rigged) { r.spare(0.999, rig.EndNone) }, stop},
		{"none, spare as asked", func(r *rigged) { r.spare(1.0001, rig.EndNone) }, quiet},
		{"sewn end", func(r *rigged) { r.spare(0.1, rig.EndSewn) }, quiet},
	},
	"rope.damage": {
		{"in the line", func(r *rigged) { r.damage(5) }, stop},
		{"knotted out", func(r *rigged) { r.damage(5, rig.Mark{ID: "k", Kind: rig.KnotMark, HeightM: 5.2, Isolates: "d"}) }, quiet},
		{"the furthest knot", func(r *rigged) { r.damage(5, rig.Mark{ID: "k", Kind: rig.KnotMark, HeightM: 6, Isolates: "d"}) }, quiet},
		{"a knot too far away", func(r *rigged) { r.damage(5, rig.Mark{ID: "k", Kind: rig.KnotMark, HeightM: 6.01, Isolates: "d"}) }, stop},
	},
	"rope.noted": {
		{"nothing", func(r *rigged) { r.ropeB.Noted = &gear.Noted{} }, quiet},
		{"damage that nobody names", func(r *rigged) { r.noted(1) }, stop},
		{"named, and tied out", func(r *rigged) {
			r.noted(1)
			r.damage(5, rig.Mark{ID: "k", Kind: rig.KnotMark, HeightM: 5.2, Isolates: "d"})
		}, quiet},
		{"one more than is named", func(r *rigged) { r.noted(2); r.damage(5) }, stop},
		{"as much as is named", func(r *rigged) { r.noted(2); r.damage(5, rig.Mark{ID: "e", Kind: rig.DamageMark, HeightM: 7}) }, quiet},
		{"on the upper rope of a joined pair, named there", func(r *rigged) { r.upperNoted(18.1) }, quiet},
		{"named on the lower one", func(r *rigged) { r.upperNoted(17.9) }, stop},
		{"on a team's line", func(r *rigged) {
			r.team("Dov", "Rhea")
			i := slices.IndexFunc(r.Strands, func(s rig.Strand) bool { return s.ID == r.Team.Main.Strand })
			r.item(r.Strands[i].Ropes[0]).Noted = &gear.Noted{Damage: []gear.Stretch{{FromM: 12}}}
		}, stop},
	},
	"link.missing": {
		{"no connector", func(r *rigged) { r.main.Links = nil }, look},
		{"nothing on the list", func(r *rigged) { r.backup.Links = chainOf("connector-67", "connector-68"); r.uncarry() }, stop},
		{"a wheel without its absorber", func(r *rigged) { r.wheel("rolling"); r.backup.Links = chainOf("connector-67") }, stop},
		{"a wheel with it", func(r *rigged) { r.wheel("rolling") }, quiet},
		{"a team's brake without its connector", func(r *rigged) { r.team("Dov", "Rhea"); r.Team.Belay.Connector = "" }, look},
		{"a team's brakes with theirs", func(r *rigged) { r.team("Dov", "Rhea") }, quiet},
		{"a wheel with one of its own", func(r *rigged) {
			r.wheel("rolling")
			r.backup.Links = chainOf("connector-67")
			r.model("backup-wheel").Backup.IntegralAbsorberKN, r.model("backup-wheel").Backup.IntegralAbsorberMaxM = 4, 1
		}, quiet},
	},
	"link.hole": {
		{"one more than it takes", func(r *rigged) { r.chain("connector-69"); r.model("descender-b").Device.ConnectorsInHole = 1 }, stop},
		{"as many as it takes", func(r *rigged) { r.chain("connector-69"); r.model("descender-b").Device.ConnectorsInHole = 2 }, quiet},
	},
	"harness.missing": {
		{"off the ground", func(r *rigged) { r.ivo.Harness = "" }, stop},
		{"on the ground", func(r *rigged) { r.ivo.Harness, r.ivo.Grounded, r.ivo.AtM = "", true, 1 }, quiet},
	},
	"edge.bare": {
		{"bare", func(r *rigged) { r.edge("none", false, 38) }, look},
		{"sharp", func(r *rigged) { r.edge("none", true, 38) }, stop},
		{"a roller", func(r *rigged) { r.edge("roller", true, 38) }, quiet},
		{"above the anchors", func(r *rigged) { r.edge("none", true, 39.101) }, quiet},
		{"level with the anchors", func(r *rigged) { r.edge("none", true, 39.1) }, stop},
		{"where the strands end", func(r *rigged) { r.edge("none", true, r.strandB.ToM) }, quiet},
		{"above a re-belay only", func(r *rigged) { r.rebelay("low", "low-b"); r.edge("none", true, 7) }, quiet},
		{"nobody counts on it", func(r *rigged) { r.edge("none", true, 38); r.ivo.Holds = nil }, quiet},
	},
	"wind.slack": {
		{"beyond the limit", func(r *rigged) { r.wheel("rolling"); r.wind(-0.001) }, look},
		{"at the limit", func(r *rigged) { r.wheel("rolling"); r.wind(0) }, quiet},
		{"parked", func(r *rigged) { r.wheel("rolling"); r.wind(-0.001); r.backup.Position = "parked" }, quiet},
		{"the whole tail", func(r *rigged) { r.wheel("rolling"); r.WindMS = 60 }, stop},
	},
	"device.park-before-descent": {
		{"going down", func(r *rigged) { r.wheel("parked"); r.main.Position = "hold" }, stop},
		{"to go down", func(r *rigged) { r.wheel("parked"); r.ivo.Moves = []manoeuvre.MoveName{"descend"} }, stop},
		{"stays and works", func(r *rigged) { r.wheel("parked"); r.ivo.Moves = []manoeuvre.MoveName{"short-work", "descend"} }, quiet},
		{"rolling", func(r *rigged) { r.wheel("rolling"); r.main.Position = "hold" }, quiet},
	},
	"body.ground": {
		{"in mid-air", func(r *rigged) { r.ivo.Grounded = true }, stop},
		{"highest on the landing", func(r *rigged) { r.ivo.Grounded, r.ivo.AtM = true, 1.3 }, quiet},
		{"too high for it", func(r *rigged) { r.ivo.Grounded, r.ivo.AtM = true, 1.31 }, stop},
		{"lying on a ledge", func(r *rigged) { r.ledge(12.1, ""); r.ivo.Grounded = true }, quiet},
		{"below a ledge", func(r *rigged) { r.ledge(12.11, ""); r.ivo.Grounded = true }, stop},
		{"standing on a beam", func(r *rigged) { r.ledge(10.7, "structure"); r.ivo.Grounded = true }, quiet},
		{"too high for it, a beam", func(r *rigged) { r.ledge(10.69, "structure"); r.ivo.Grounded = true }, stop},
		{"at the top", func(r *rigged) { r.ivo.Grounded, r.ivo.AtM = true, 38 }, quiet},
		{"below the top", func(r *rigged) { r.ivo.Grounded, r.ivo.AtM = true, 37.89 }, stop},
	},
	"strand.below": {
		{"anchored below", func(r *rigged) { r.Anchors[1].HeightM = 12 }, stop},
		{"level with the device", func(r *rigged) { r.Anchors[1].HeightM = 12.7 }, stop},
		{"just above it", func(r *rigged) { r.Anchors[1].HeightM = 12.71 }, quiet},
	},
	// 81 kg drawn 8 m aside over 19.1 m of height: 2 · 0.7943 kN · cos(78.6°) = 0.3130 kN on the anchor.
	"deviation.load": {
		{"over its working load", func(r *rigged) { r.deviation(rig.Leg{ID: "d", YM: 0.2, WorkKN: 0.3129}) }, stop},
		{"at it", func(r *rigged) { r.deviation(rig.Leg{ID: "d", YM: 0.2, WorkKN: 0.3132}) }, quiet},
		{"too weak", func(r *rigged) { r.deviation(rig.Leg{ID: "d", YM: 0.2, StrengthKN: 1.5645}) }, stop},
		{"strong enough", func(r *rigged) { r.deviation(rig.Leg{ID: "d", YM: 0.2, StrengthKN: 1.566}) }, quiet},
		{"who comes below it", func(r *rigged) { r.deviation(rig.Leg{ID: "d", YM: 0.2, WorkKN: 0.1}); r.ivo.AtM = 21 }, stop},
		{"nobody on its strand", func(r *rigged) { r.deviation(rig.Leg{ID: "d", YM: 0.2, WorkKN: 0.1}); r.ivo.Holds = r.ivo.Holds[1:] }, quiet},
	},
	"check.due": {
		{"a rope not checked", func(r *rigged) { r.Checks = r.Checks[:4] }, look},
		{"all checked", func(r *rigged) {}, quiet},
		{"no partner check", func(r *rigged) { r.PartnerChecks = nil }, look},
		{"one of one's own rigging", func(r *rigged) { r.PartnerChecks[0].By = r.ivo.Name }, look},
		{"what is worn not looked at", func(r *rigged) { r.WornChecks = nil }, look},
		{"one thing more is worn", func(r *rigged) { r.WornChecks[0].Items = r.WornChecks[0].Items[1:] }, look},
		{"one thing not as it must be", func(r *rigged) { r.WornChecks[0].Items[0].Sound = false }, look},
		{"the rigging was changed", func(r *rigged) { r.main.Position = "hold" }, look},
		{"a rope that is out of service", func(r *rigged) {
			r.Checks = slices.DeleteFunc(r.Checks, func(c rig.FunctionCheck) bool { return c.Item == "rope-7" })
			r.upper.State, r.upper.Reason = gear.Quarantine, "cut"
		}, quiet},
	},
	"date.future": {
		{"a check", func(r *rigged) { r.Checks[0].On = "2026-11-25" }, stop},
		{"an examination", func(r *rigged) { r.upper.ExaminedOn = "2026-11-25" }, stop},
		{"an event", func(r *rigged) {
			r.upper.Events = []gear.Event{{Kind: "edge", On: "2026-11-25", CheckedOn: "2026-11-25"}}
		}, stop},
		{"the making", func(r *rigged) { r.upper.MadeOn, r.upper.FirstUsedOn = "2026-11-25", "" }, stop},
		{"the making today", func(r *rigged) { r.upper.MadeOn, r.upper.FirstUsedOn = "2026-11-24", "" }, quiet},
		{"the first use", func(r *rigged) { r.upper.FirstUsedOn = "2026-11-25" }, stop},
		{"a familiarisation", func(r *rigged) { r.ivo.Familiar[0].On = "2026-11-25" }, stop},
		{"a partner check", func(r *rigged) { r.PartnerChecks[0].On = "2026-11-25" }, stop},
		{"a look at what is worn", func(r *rigged) { r.WornChecks[0].On = "2026-11-25" }, stop},
		{"today", func(r *rigged) { r.upper.ExaminedOn = "2026-11-24" }, quiet},
	},
	"team.operator": {
		{"one", func(r *rigged) { r.team("Dov") }, stop},
		{"two", func(r *rigged) { r.team("Dov", "Rhea") }, quiet},
		{"one of them twice", func(r *rigged) { r.team("Dov", " dov", "DOV") }, stop},
		{"one of them twice, and another", func(r *rigged) { r.team("Dov", "dov", "Rhea") }, quiet},
		{"who hangs", func(r *rigged) { r.withTeam("Dov", "ivo  Kestrane") }, stop},
		{"who stands at the landing", func(r *rigged) {
			r.withTeam("Dov", "Ivo Kestrane")
			r.ivo.Grounded, r.ivo.AtM = true, 1
		}, quiet},
	},
	"load.rated": {
		{"too heavy", func(r *rigged) { r.ivo.MassKg = 120.01 }, stop},
		{"heaviest", func(r *rigged) { r.ivo.MassKg = 120 }, quiet},
		{"too heavy for an evacuation kit", func(r *rigged) { r.kit(gear.EvacuationModel{MaxM: 50, MinKg: 30, MaxKg: 80.99, SpeedMS: 0.8}) }, stop},
		{"too light for one", func(r *rigged) { r.kit(gear.EvacuationModel{MaxM: 50, MinKg: 81.01, MaxKg: 200, SpeedMS: 0.8}) }, stop},
		{"heaviest and lightest for one", func(r *rigged) { r.kit(gear.EvacuationModel{MaxM: 50, MinKg: 81, MaxKg: 81, SpeedMS: 0.8}) }, quiet},
		{"too light", func(r *rigged) { r.ivo.MassKg = 59.99 }, stop},
		{"lightest", func(r *rigged) { r.ivo.MassKg = 60 }, quiet},
	},
	"load.two-person": {
		{"three on a team's brakes for two", func(r *rigged) { r.team("Dov", "Rhea"); r.Team.Load.Persons = 3 }, stop},
		{"three on brakes for three", func(r *rigged) {
			r.team("Dov", "Rhea")
			r.Team.Load.Persons, r.model("brake-a").Device.Modes[1].Persons = 3, 3
		}, quiet},
		{"rated for one", func(r *rigged) { r.main.SecondKg = 60 }, stop},
		{"main rated for two, backup for one", func(r *rigged) { r.main.SecondKg, r.main.Mode, r.main.ExtraFriction = 60, "rescue", true }, stop},
		{"both rated for two, bend missing", func(r *rigged) {
			r.main.SecondKg, r.main.Mode = 60, "rescue"
			r.model("backup-cam").Device.Modes[0].Persons = 2
		}, look},
		{"both rated for two, bend in", func(r *rigged) {
			r.main.SecondKg, r.main.Mode, r.main.ExtraFriction = 60, "rescue", true
			r.model("backup-cam").Device.Modes[0].Persons = 2
		}, quiet},
	},
	"load.wll": {
		{"above", func(r *rigged) { r.model("descender-b").WorkingLoads = []gear.WorkingLoad{{Mass: 80.99}} }, stop},
		{"at it", func(r *rigged) { r.model("descender-b").WorkingLoads = []gear.WorkingLoad{{Mass: 81}} }, quiet},
		{"of another mode", func(r *rigged) { r.model("descender-b").WorkingLoads = []gear.WorkingLoad{{Mode: "rescue", Mass: 10}} }, quiet},
		{"a re-belay further down", func(r *rigged) { r.rebelay("a", "b"); r.Anchors[3].Legs[0].WorkKN = 0.7998 }, stop},
		{"a re-belay further down, at it", func(r *rigged) { r.rebelay("a", "b"); r.Anchors[3].Legs[0].WorkKN = 0.8 }, quiet},
	},
	"load.margin": { // 81 kg · g · 5 = 3.97169 kN
		{"below 5", func(r *rigged) { r.model("descender-b").StrengthKN = 3.9716 }, stop},
		{"at 5", func(r *rigged) { r.model("descender-b").StrengthKN = 3.9717 }, quiet},
		{"textile below 10", func(r *rigged) { r.model("lanyard-60").StrengthKN = 7.9433 }, stop},
		{"textile at 10", func(r *rigged) { r.model("lanyard-60").StrengthKN = 7.9434 }, quiet},
		// The rope bears 39.1 m of itself too, 71 g each: 83.7761 kg · g · 10 / 0.5.
		{"rope at its join, half as strong", func(r *rigged) { r.model("rope-105").StrengthKN = 16.4311 }, stop},
		{"rope at its join, strong enough", func(r *rigged) { r.model("rope-105").StrengthKN = 16.4313 }, quiet},
		// Each leg of the pair sees 0.559 of the load with its rope: F / (2 cos θ/2).
		{"an anchor leg", func(r *rigged) { r.Anchors[0].Legs[0].StrengthKN = 2.2963 }, stop},
		{"an anchor leg, strong enough", func(r *rigged) { r.Anchors[0].Legs[0].StrengthKN = 2.2964 }, quiet},
		{"a connector across", func(r *rigged) {
			r.main.Links[0].Lie, r.model("connector-offset").Connector.AcrossKN = rig.LieAcross, 3.9716
		}, stop},
		{"a connector across, strong enough", func(r *rigged) {
			r.main.Links[0].Lie, r.model("connector-offset").Connector.AcrossKN = rig.LieAcross, 3.9717
		}, quiet},
		{"an anchor leg that cannot be determined", func(r *rigged) {
			r.Anchors[0].Legs = append(r.Anchors[0].Legs, rig.Leg{ID: "third", XM: 0, YM: 1, StrengthKN: 3.97})
		}, stop},
		// What one comes to hang on: below a re-belay with 8 m of rope, in another set with 38 m, in a sling.
		{"a re-belay further down", func(r *rigged) { r.rebelay("a", "b"); r.Anchors[2].Legs[0].StrengthKN = 3.9994 }, stop},
		{"a re-belay further down, strong enough", func(r *rigged) { r.rebelay("a", "b"); r.Anchors[2].Legs[0].StrengthKN = 3.9997 }, quiet},
		{"a re-belay further down, not known", func(r *rigged) { r.rebelay("a", "b"); r.Anchors[2].Legs[0].StrengthKN = 0 }, note},
		{"a set that a transfer leads to", func(r *rigged) { r.another(4.1038); r.ivo.Moves = append(r.ivo.Moves, "transfer") }, stop},
		{"one that is strong enough", func(r *rigged) { r.another(4.1042); r.ivo.Moves = append(r.ivo.Moves, "transfer") }, quiet},
		{"a set that nobody goes to", func(r *rigged) { r.another(1) }, quiet},
		// 81 kg and 70 kg, each with its rope, on one anchor: the leg sees 0.559 of both.
		{"an anchor of two sets", func(r *rigged) { r.crowd(); r.Anchors[0].Legs[0].StrengthKN = 4.2911 }, stop},
		{"an anchor of two sets, strong enough", func(r *rigged) { r.crowd(); r.Anchors[0].Legs[0].StrengthKN = 4.2912 }, quiet},
		{"two on one strand, one after the other", func(r *rigged) { r.beside(0, true, 0, 1); r.Anchors[0].Legs[0].StrengthKN = 2.2964 }, quiet},
		{"a sling that aid goes along", func(r *rigged) { r.sling(3.9716); r.ivo.Moves = append(r.ivo.Moves, "aid") }, stop},
		{"one that is strong enough", func(r *rigged) { r.sling(3.9717); r.ivo.Moves = append(r.ivo.Moves, "aid") }, quiet},
		{"a sling that nobody uses", func(r *rigged) { r.sling(1) }, quiet},
		{"not known", func(r *rigged) { r.Anchors[0].Legs[0].StrengthKN = 0 }, note},
		{"not known, of a team", func(r *rigged) { r.team("Dov", "Rhea"); r.Anchors[0].Legs[0].StrengthKN = 0 }, note},
		{"a limit in its place, of a team", func(r *rigged) {
			r.team("Dov", "Rhea")
			r.Anchors[0].Legs[0].StrengthKN, r.Anchors[0].Legs[0].WorkKN = 0, 20
		}, quiet},
		{"school of limits, limit known", func(r *rigged) { r.Policy.Margins, r.model("descender-b").StrengthKN = "limits", 3 }, quiet},
	},
	"device.slip": {
		{"at the weight on it", func(r *rigged) { r.model("descender-b").Device.SlipKN = quantity.Weight(81) }, stop},
		{"just above it, and below a peak on it", func(r *rigged) { r.model("descender-b").Device.SlipKN = quantity.Weight(81.1) }, look},
		{"well above both", func(r *rigged) { r.model("descender-b").Device.SlipKN = 12 }, quiet},
		{"below the peak of a fall onto it", func(r *rigged) { r.model("backup-cam").Device.SlipKN = quantity.Kilonewtons(r.peak() - 0.001) }, look},
		{"at the peak", func(r *rigged) { r.model("backup-cam").Device.SlipKN = quantity.Kilonewtons(r.peak()) }, quiet},
	},
	"load.teeth": {
		{"above harm", func(r *rigged) { r.teeth(r.peak() - 0.001) }, stop},
		{"near harm", func(r *rigged) { r.teeth(r.peak() + 0.001) }, look},
		{"well below harm", func(r *rigged) { r.teeth(r.peak()/0.8 + 0.001) }, quiet},
		{"a rope thinner than any listed", func(r *rigged) {
			r.model("backup-cam").Device.Teeth = []gear.TeethLimit{{DiameterMM: 10.5, HarmKN: 100}}
		}, look},
	},
	"force.arrest": {
		{"above", func(r *rigged) { r.Policy.ArrestCeilingKN = quantity.Kilonewtons(r.peak() - 0.001) }, stop},
		{"at it", func(r *rigged) { r.Policy.ArrestCeilingKN = quantity.Kilonewtons(r.peak()) }, quiet},
	},
	"fall.clearance": {
		{"a ledge too near", func(r *rigged) { r.clearance(-0.001) }, stop},
		{"a ledge just far enough", func(r *rigged) { r.clearance(0.001) }, quiet},
		{"the first metres", func(r *rigged) { r.ivo.AtM = 1.5 }, look},
		{"the last of the first metres", func(r *rigged) { r.ivo.AtM, r.backup.SlackM = 8, 8 }, look},
		{"just above them", func(r *rigged) { r.ivo.AtM, r.backup.SlackM = 8.001, 8 }, stop},
		{"slack high up", func(r *rigged) { r.ivo.AtM, r.backup.SlackM = 25, 22 }, stop},
		{"slack that no height of the drop makes good", func(r *rigged) { r.ivo.AtM, r.backup.SlackM = 7, 36 }, stop},
		{"on the ground", func(r *rigged) { r.ivo.AtM, r.ivo.Grounded = 1, true }, quiet},
	},
	"device.direction": {
		{"reversed", func(r *rigged) { r.main.Threaded = rig.ThreadedReversed }, stop},
		{"misthreaded", func(r *rigged) { r.main.Threaded = rig.ThreadedWrong }, stop},
		{"right", func(r *rigged) { r.main.Threaded = rig.ThreadedRight }, quiet},
	},
	"device.mode": {
		{"runs", func(r *rigged) { r.main.Position = "work" }, stop},
		{"creeps", func(r *rigged) {
			r.model("descender-b").Device.Positions = []gear.Position{{Name: "park", HandsOff: gear.Creeps}}
		}, stop},
		{"holds", func(r *rigged) { r.main.Position = "hold" }, quiet},
	},
	"device.open": {
		{"open", func(r *rigged) { r.main.Open = true }, stop},
		{"shut", func(r *rigged) { r.main.Open = false }, quiet},
	},
	"device.point": {
		{"backup on the ventral point", func(r *rigged) { r.backup.Point = gear.Ventral }, stop},
		{"backup on the dorsal A point", func(r *rigged) { r.backup.Point = gear.Dorsal }, quiet},
		{"backup on a point not marked A", func(r *rigged) { r.model("harness-a").Harness.Points[1].FallArrest = false }, stop},
		{"descender on the sternal point", func(r *rigged) { r.main.Point = gear.Sternal }, stop},
		{"descender on a point that the harness has not", func(r *rigged) {
			h := r.model("harness-a").Harness
			h.Points = slices.DeleteFunc(h.Points, func(p gear.HarnessPoint) bool { return p.Point == gear.Ventral })
		}, stop},
	},
	"device.lanyard": {
		{"not on the list", func(r *rigged) {
			r.model("backup-cam").Backup.Links = []gear.AllowedLink{{Model: "absorber-a", MaxM: 5}}
		}, stop},
		{"too long", func(r *rigged) { r.model("backup-cam").Backup.Links[0].MaxM = 0.599 }, stop},
		{"longest", func(r *rigged) { r.model("backup-cam").Backup.Links[0].MaxM = 0.6 }, quiet},
	},
	"device.height": {
		{"below its attachment", func(r *rigged) { r.backup.AboveM = -0.01 }, stop},
		{"level with its attachment", func(r *rigged) { r.backup.AboveM = 0 }, quiet},
		{"below the descender", func(r *rigged) { r.main.AboveM = 0.711 }, stop},
		{"just above the descender", func(r *rigged) { r.main.AboveM = 0.699 }, quiet},
	},
	"device.foul": {
		{"within reach", func(r *rigged) { r.apart(0.099) }, stop},
		{"within the gap", func(r *rigged) { r.apart(0.149) }, look},
		{"clear", func(r *rigged) { r.apart(0.151) }, quiet},
	},
	"device.descent-limit": {
		{"too long", func(r *rigged) { r.model("descender-b").Device.Modes[0].MaxDescentM = 37.99 }, stop},
		{"longest", func(r *rigged) { r.model("descender-b").Device.Modes[0].MaxDescentM = 38 }, quiet},
		{"no longest told", func(r *rigged) { r.model("descender-b").Device.Modes[0].MaxDescentM = 0 }, quiet},
		{"too long for a second one that is carried", func(r *rigged) { r.second(func(m *gear.Model) { m.Device.Modes[0].MaxDescentM = 37.99 }) }, look},
		{"just not for one", func(r *rigged) { r.second(func(m *gear.Model) { m.Device.Modes[0].MaxDescentM = 38 }) }, quiet},
		{"too fast for one", func(r *rigged) { r.second(func(m *gear.Model) { m.Device.MaxSpeedMS = 0.49 }) }, look},
		{"too hot on one", func(r *rigged) {
			r.second(func(m *gear.Model) { m.Device.Heat = &gear.DeviceHeat{SpecificHeat: 50, Share: 1} })
		}, look},
		{"one that goes onto no rope there", func(r *rigged) {
			r.second(func(m *gear.Model) {
				for i := range m.Device.Modes {
					mode := &m.Device.Modes[i]
					mode.MaxDescentM, mode.Ropes = 10, []gear.RopeRange{{Constructions: []gear.Construction{gear.Static}, MinMM: 8, MaxMM: 9}}
				}
			})
		}, quiet},
		{"too long for a team's brake", func(r *rigged) { r.team("Dov", "Rhea"); r.model("brake-a").Device.Modes[1].MaxDescentM = 47.99 }, stop},
		{"just not for a team's brake", func(r *rigged) { r.team("Dov", "Rhea"); r.model("brake-a").Device.Modes[1].MaxDescentM = 48 }, quiet},
		{"too fast for a team's brake", func(r *rigged) {
			r.team("Dov", "Rhea")
			r.Team.SpeedMS, r.model("brake-a").Device.MaxSpeedMS = 0.3, 0.29
		}, stop},
		{"an evacuation kit too short", func(r *rigged) { r.kit(gear.EvacuationModel{MaxM: 37.99, MinKg: 30, MaxKg: 200, SpeedMS: 0.8}) }, stop},
		{"an evacuation kit just long enough", func(r *rigged) { r.kit(gear.EvacuationModel{MaxM: 38, MinKg: 30, MaxKg: 200, SpeedMS: 0.8}) }, quiet},
		{"too fast", func(r *rigged) { r.model("descender-b").Device.MaxSpeedMS = 0.49 }, stop},
		{"fastest", func(r *rigged) { r.model("descender-b").Device.MaxSpeedMS = 0.5 }, quiet},
		{"too hot", func(r *rigged) { r.sheath(-0.01) }, stop},
		{"hottest", func(r *rigged) { r.sheath(0) }, quiet},
	},
	"connector.gate": {
		{"shut, not locked", func(r *rigged) { r.main.Links[0].Gate = rig.GateShut }, stop},
		{"no lock to lock", func(r *rigged) { r.model("connector-offset").Connector.Gate = "plain" }, stop},
		{"locked", func(r *rigged) { r.main.Links[0].Gate = rig.GateLocked }, quiet},
		{"three in a row", func(r *rigged) { r.chain("connector-69", "connector-70") }, look},
		{"two in a row", func(r *rigged) { r.chain("connector-69") }, quiet},
	},
	"connector.cross": {
		{"across", func(r *rigged) { r.main.Links[0].Lie = rig.LieAcross }, look},
		{"may turn", func(r *rigged) { r.main.Links[0].Lie = rig.LieMayTurn }, look},
		{"along", func(r *rigged) { r.main.Links[0].Lie = rig.LieAlong }, quiet},
		{"across, and a fall passes what it holds so", func(r *rigged) { r.across(-0.001) }, stop},
		{"across, and a fall just does not", func(r *rigged) { r.across(0) }, look},
	},
	"anchor.shared": {
		{"one anchor", func(r *rigged) { r.strandB.Anchors = r.Strands[0].Anchors }, stop},
		{"two linked anchors", func(r *rigged) {
			both := []string{"deck-main", "deck-backup"}
			r.Strands[0].Anchors, r.strandB.Anchors = both, both
		}, quiet},
		{"two anchors on one point", func(r *rigged) {
			leg := []rig.Leg{{ID: "bolt", YM: 1, StrengthKN: 30}}
			r.Anchors[0].Legs, r.Anchors[1].Legs = leg, leg
		}, stop},
		{"one re-belay anchor", func(r *rigged) { r.rebelay("low", "low") }, stop},
		{"a re-belay anchor each", func(r *rigged) { r.rebelay("low", "low-b") }, quiet},
	},
	"anchor.angle": {
		{"90°", func(r *rigged) { r.legs(1, 1) }, quiet},
		{"wider than 90°", func(r *rigged) { r.legs(1.001, 1) }, look},
		{"120°", func(r *rigged) { r.legs(quantity.Metres(math.Sqrt(3)), 1) }, look},
		{"wider than 120°", func(r *rigged) { r.legs(1.733, 1) }, stop},
	},
	"anchor.confirm": {
		{"proposed", func(r *rigged) { r.Anchors[0].Proposed = true }, look},
		{"confirmed", func(r *rigged) { r.Anchors[0].Proposed = false }, quiet},
	},
	"anchor.register": {
		{"in no register", func(r *rigged) { r.Anchors[0].Register = nil }, quiet},
		{"due again today", func(r *rigged) { r.registered("2026-01-02", r.Day, 0) }, quiet},
		{"due again yesterday", func(r *rigged) { r.registered("2026-01-02", r.Day.AddDays(-1), 0) }, look},
		{"examined today", func(r *rigged) { r.registered(r.Day, "2099-01-01", 0) }, quiet},
		{"examined tomorrow", func(r *rigged) { r.registered("2099-01-01", "2099-01-01", 0) }, look},
		{"examined by nobody", func(r *rigged) { r.registered("", "", 0) }, look},
		{"examined, nobody said until when", func(r *rigged) { r.registered("2026-01-02", "", 0) }, look},
		{"proved to what a leg holds here", func(r *rigged) {
			r.Anchors[0].Legs[0].StrengthKN = 25
			r.registered("2026-01-02", "2099-01-01", 25)
		}, quiet},
		{"proved to less", func(r *rigged) {
			r.Anchors[0].Legs[0].StrengthKN = 25
			r.registered("2026-01-02", "2099-01-01", 24.9)
		}, look},
	},
	"points.two": {
		{"one hold", func(r *rigged) { r.ivo.Holds = r.ivo.Holds[:1] }, stop},
		{"no hold", func(r *rigged) { r.ivo.Holds = nil }, stop},
		{"no hold, on the ground", func(r *rigged) { r.ivo.Holds, r.ivo.Grounded, r.ivo.AtM = nil, true, 1 }, quiet},
		{"no hold, said to stand in mid-air", func(r *rigged) { r.ivo.Holds, r.ivo.Grounded = nil, true }, stop},
		{"a hand ascender is no backup", func(r *rigged) {
			r.backup.Device, r.backup.Role, r.backup.Mode, r.backup.Position = "hand-2", rig.ToBackUp, r.model("hand-a").Device.Modes[0].Name, r.model("hand-a").Device.Positions[0].Name
			r.uncarry("hand-2")
		}, stop},
		{"nothing is tight", func(r *rigged) { r.main.SlackM, r.backup.SlackM = 0.051, 0.3 }, look},
		{"one is all but tight", func(r *rigged) { r.main.SlackM, r.backup.SlackM = 0.05, 0.3 }, quiet},
		{"a strand anchored below", func(r *rigged) { r.Anchors[1].HeightM = 12.5 }, stop},
		{"damage knotted out elsewhere", func(r *rigged) {
			r.damage(20, rig.Mark{ID: "k", Kind: rig.KnotMark, HeightM: 21.01, Isolates: "d"})
		}, stop},
		{"both on one strand", func(r *rigged) { r.backup.Strand = "main" }, stop},
		{"the second is a third point", func(r *rigged) { r.backup.Role = rig.Third }, stop},
		{"a device that runs is no hold", func(r *rigged) { r.main.Position = "work" }, stop},
		{"an open device is no hold", func(r *rigged) { r.backup.Open = true }, stop},
		{"a reversed device is no hold", func(r *rigged) { r.backup.Threaded = rig.ThreadedReversed }, stop},
		{"damage above", func(r *rigged) { r.damage(20) }, stop},
		{"damage below", func(r *rigged) { r.damage(5) }, quiet},
		{"one anchor for both", func(r *rigged) { r.strandB.Anchors = r.Strands[0].Anchors }, stop},
	},
	"service.quarantine": {
		{"quarantined", func(r *rigged) { r.upper.State, r.upper.Reason = gear.Quarantine, "flat spot" }, stop},
		{"retired", func(r *rigged) { r.upper.State, r.upper.Reason = gear.Retired, "old" }, stop},
		{"its last day", func(r *rigged) {
			r.item("lanyard-2").FirstUsedOn, r.item("lanyard-2").MadeOn = "2016-11-24", "2016-01-01"
		}, quiet},
		{"the day after", func(r *rigged) {
			r.item("lanyard-2").FirstUsedOn, r.item("lanyard-2").MadeOn = "2016-11-23", "2016-01-01"
		}, stop},
		{"from manufacture", func(r *rigged) { r.item("lanyard-2").MadeOn = "2014-11-23" }, stop},
		{"made at a time not recorded", func(r *rigged) { r.lives(10, 0, "", "2026-01-01") }, look},
		{"made at a time not recorded, and past its life from first use", func(r *rigged) { r.lives(10, 1, "", "2025-11-23") }, stop},
		{"first used at a time not recorded", func(r *rigged) { r.lives(10, 3, "2023-11-23", "") }, look},
		{"first used at a time not recorded, made no longer ago than that", func(r *rigged) { r.lives(10, 3, "2023-11-24", "") }, quiet},
		{"no life is stated", func(r *rigged) { r.lives(0, 0, "", "") }, quiet},
	},
	"service.examination": {
		{"overdue", func(r *rigged) { r.item("lanyard-2").ExaminedOn = "2026-05-23" }, stop},
		{"due today", func(r *rigged) { r.item("lanyard-2").ExaminedOn = "2026-05-24" }, look},
		{"before it was made", func(r *rigged) { r.madeAndExamined("2026-10-02", "2026-10-01") }, stop},
		{"on the day that it was made", func(r *rigged) { r.madeAndExamined("2026-10-02", "2026-10-02") }, quiet},
		{"due in 14 days", func(r *rigged) { r.item("lanyard-2").ExaminedOn = "2026-06-08" }, look},
		{"due in 15 days", func(r *rigged) { r.item("lanyard-2").ExaminedOn = "2026-06-09" }, quiet},
		{"a longer leaflet does not put it off", func(r *rigged) {
			r.item("lanyard-2").ExaminedOn, r.model("lanyard-60").ExaminationMonths = "2026-05-23", 12
		}, stop},
		{"a shorter leaflet binds", func(r *rigged) {
			r.item("lanyard-2").ExaminedOn, r.model("lanyard-60").ExaminationMonths = "2026-08-23", 3
		}, stop},
		{"a shorter leaflet, on the day", func(r *rigged) {
			r.item("lanyard-2").ExaminedOn, r.model("lanyard-60").ExaminationMonths = "2026-08-24", 3
		}, look},
		{"a guest's paper has ended", func(r *rigged) { r.guest("lanyard-2", "2026-11-23") }, stop},
		{"a guest's paper ends today", func(r *rigged) { r.guest("lanyard-2", "2026-11-24") }, look},
		{"a guest's paper holds", func(r *rigged) { r.guest("lanyard-2", "2027-11-24") }, quiet},
		{"nothing known", func(r *rigged) { i := r.item("lanyard-2"); i.ExaminedOn, i.MadeOn, i.FirstUsedOn = "", "", "" }, look},
	},
	"service.function-check": {
		{"none", func(r *rigged) { r.Checks = nil }, stop},
		{"yesterday", func(r *rigged) { r.Checks[0].On = "2026-11-23" }, stop},
		{"on another rope", func(r *rigged) { r.Checks[0].Rope = "rope-9" }, stop},
		{"failed last", func(r *rigged) { f := r.Checks[0]; f.Passed = false; r.Checks = append(r.Checks, f) }, stop},
		{"failed, then passed", func(r *rigged) {
			f := r.Checks[0]
			f.Passed = false
			r.Checks = append([]rig.FunctionCheck{f}, r.Checks...)
		}, quiet},
	},
	"service.event": {
		{"not checked", func(r *rigged) { r.upper.Events = []gear.Event{{Kind: "edge", On: "2026-11-20"}} }, stop},
		{"checked before it", func(r *rigged) {
			r.upper.Events = []gear.Event{{Kind: "edge", On: "2026-11-20", CheckedOn: "2026-11-19"}}
		}, stop},
		{"checked that day", func(r *rigged) {
			r.upper.Events = []gear.Event{{Kind: "edge", On: "2026-11-20", CheckedOn: "2026-11-20", CheckedBy: "Dov Pellister"}}
		}, quiet},
		{"checked, and nobody says by whom", func(r *rigged) {
			r.upper.Events = []gear.Event{{Kind: "edge", On: "2026-11-20", CheckedOn: "2026-11-20", CheckedBy: " "}}
		}, look},
		{"checked by who was in it", func(r *rigged) {
			r.upper.Events = []gear.Event{{Kind: "edge", On: "2026-11-20", CheckedOn: "2026-11-20", CheckedBy: strings.ToUpper(r.ivo.Name), In: "ivo"}}
		}, stop},
		{"checked by another one than who was in it", func(r *rigged) {
			r.upper.Events = []gear.Event{{Kind: "edge", On: "2026-11-20", CheckedOn: "2026-11-20", CheckedBy: "Dov Pellister", In: "ivo"}}
		}, quiet},
	},
	"person.listed": {
		{"as they are here", func(r *rigged) { r.ivo.Listed = &rig.Measures{MassKg: r.ivo.MassKg} }, quiet},
		{"heavier", func(r *rigged) { r.ivo.Listed = &rig.Measures{MassKg: r.ivo.MassKg + 1} }, look},
		{"a reach that is not measured here", func(r *rigged) { r.ivo.Listed = &rig.Measures{ReachUpM: 0.9} }, look},
		{"another reach to the side", func(r *rigged) { r.ivo.ReachOutM, r.ivo.Listed = 0.7, &rig.Measures{ReachOutM: 0.6} }, look},
		{"another hand", func(r *rigged) { r.ivo.HandMM, r.ivo.Listed = 85, &rig.Measures{HandMM: 90} }, look},
		{"the same hand", func(r *rigged) { r.ivo.HandMM, r.ivo.Listed = 85, &rig.Measures{HandMM: 85} }, quiet},
	},
	"person.practised": {
		{"within the months", func(r *rigged) { r.practised("knot-pass", rig.OnScreen, r.Day.AddMonths(-12)) }, quiet},
		{"a day too long ago", func(r *rigged) { r.practised("knot-pass", rig.OnScreen, r.Day.AddMonths(-12).AddDays(-1)) }, look},
		{"nothing is known of it", func(r *rigged) { r.practised("aid", rig.NearGround, "2020-01-01") }, quiet},
		{"a rescue within its months", func(r *rigged) { r.practised("pick-off", rig.NearGround, r.Day.AddMonths(-6)) }, quiet},
		{"a rescue a day too long ago", func(r *rigged) { r.practised("pick-off", rig.OnRun, r.Day.AddMonths(-6).AddDays(-1)) }, look},
		{"who would come, within the months", func(r *rigged) { r.comes(r.Day.AddMonths(-6)) }, quiet},
		{"who would come, a day too long ago", func(r *rigged) { r.comes(r.Day.AddMonths(-6).AddDays(-1)) }, look},
		{"who would come, and nobody has said when", func(r *rigged) { r.comes("") }, quiet},
		{"a rescue lately on a screen alone", func(r *rigged) {
			r.practised("pick-off", rig.OnRun, r.Day.AddMonths(-7))
			r.practised("pick-off", rig.OnScreen, r.Day)
		}, look},
	},
	"person.familiar": {
		{"no record", func(r *rigged) { r.ivo.Familiar = nil }, look},
		{"no record of the brake that they work", func(r *rigged) { r.withTeam("Dov", "ivo  Kestrane") }, look},
		{"a record of it", func(r *rigged) {
			r.withTeam("Dov", "ivo  Kestrane")
			r.ivo.Familiar = append(r.ivo.Familiar, rig.Familiarity{Model: "brake-a", On: "2026-01-01", By: "Dov"})
		}, quiet},
		{"a brake that others work", func(r *rigged) { r.withTeam("Dov", "Rhea", "Ivo Kestrane") }, quiet},
		{"another generation on site", func(r *rigged) { r.generations() }, look},
		{"a model without a generation on site", func(r *rigged) { r.generations(); r.model("descender-c").Generation = "" }, quiet},
		{"their own model without a generation", func(r *rigged) { r.generations(); r.model("descender-b").Generation = "" }, quiet},
		{"a generation of another class on site", func(r *rigged) {
			r.model("descender-b").Generation, r.model("chest-a").Generation = "first", "second"
		}, quiet},
		{"both generations on record", func(r *rigged) {
			r.generations()
			r.ivo.Familiar = append(r.ivo.Familiar, rig.Familiarity{Model: "descender-c", On: "2026-01-01"})
		}, quiet},
	},
	"device.turned": {
		{"side not recorded", func(r *rigged) { r.sides(nil) }, look},
		{"right from the front", func(r *rigged) { r.sides(&rig.Leaves{Side: gear.Right, SeenFrom: "front"}) }, quiet},
		{"left from behind is right", func(r *rigged) { r.sides(&rig.Leaves{Side: gear.Left, SeenFrom: "back"}) }, quiet},
		{"left from the front", func(r *rigged) { r.sides(&rig.Leaves{Side: gear.Left, SeenFrom: "front"}) }, look},
	},
	"rope.kit": {
		{"kit rope, other device", func(r *rigged) { r.upper.Kit = "red" }, look},
		{"kit device, other rope", func(r *rigged) { r.item("descender-21").Kit = "red" }, look},
		{"all of one kit", func(r *rigged) { r.upper.Kit, r.item("rope-8").Kit, r.item("descender-21").Kit = "red", "red", "red" }, quiet},
	},
	"brake.seat": {
		{"wet", func(r *rigged) { r.upper.Condition = gear.Wet }, look},
		{"muddy, of which the model says nothing", func(r *rigged) { r.upper.Condition = gear.Muddy }, quiet},
		{"dry", func(r *rigged) { r.upper.Condition = gear.Dry }, quiet},
	},
	"hands.gloves": {
		{"none", func(r *rigged) { r.uncarry("gloves-2") }, look},
		{"none, and nothing to handle", func(r *rigged) { r.uncarry("gloves-2"); r.ivo.Holds = r.ivo.Holds[1:] }, quiet},
	},
	"standard.role": {
		{"marked for another role", func(r *rigged) { r.model("descender-b").Standards = []string{"EN 567"} }, look},
		{"not marked", func(r *rigged) { r.model("lanyard-60").Standards = nil }, look},
		{"one of several", func(r *rigged) { r.model("descender-b").Standards = []string{"EN 567", "EN 341"} }, quiet},
	},
	"kit.missing": {
		{"foot loop missing", func(r *rigged) { r.uncarry("foot-loop-2") }, stop},
		{"foot loop missing, nothing needs it", func(r *rigged) { r.uncarry("foot-loop-2"); r.ivo.Moves = []manoeuvre.MoveName{"descend"} }, quiet},
		{"second backup missing, lanyard there", func(r *rigged) { r.uncarry("backup-9") }, quiet},
		{"neither, but for the lanyard that the backup hangs on", func(r *rigged) { r.uncarry("backup-9", "lanyard-3", "lanyard-12") }, stop},
		{"a second backup without a link, and no lanyard", func(r *rigged) { r.uncarry("absorber-8", "lanyard-3", "lanyard-12") }, stop},
		{"a second backup with its link, and no lanyard", func(r *rigged) { r.uncarry("lanyard-3", "lanyard-12") }, quiet},
		{"a chest ascender that takes one of the ropes", func(r *rigged) { r.model("chest-a").Device.Modes[0].Ropes[0].MaxMM = 10.4 }, quiet},
		{"a chest ascender that takes none of them", func(r *rigged) { r.model("chest-a").Device.Modes[0].Ropes[0].MaxMM = 10.3 }, stop},
		{"a pick-off, and no descender rated for two", func(r *rigged) {
			r.ivo.Moves = []manoeuvre.MoveName{"pick-off"}
			m := r.model("descender-b")
			m.WorkingLoads = nil
			m.Device.Modes = slices.DeleteFunc(slices.Clone(m.Device.Modes), func(m gear.Mode) bool { return m.Persons > 1 })
		}, stop},
		{"a pick-off with one", func(r *rigged) { r.ivo.Moves = []manoeuvre.MoveName{"pick-off"} }, quiet},
		{"both lanyards too weak, and no second backup", func(r *rigged) {
			r.uncarry("backup-9")
			r.model("lanyard-60").StrengthKN, r.model("lanyard-90").StrengthKN = 7, 7
		}, stop},
	},
	"strand.shared": {
		{"two hang on both strands", func(r *rigged) { r.beside(5, false, 0, 1) }, stop},
		{"two hang on the main", func(r *rigged) { r.beside(5, false, 0) }, stop},
		{"two count on the backup", func(r *rigged) { r.beside(5, false, 1) }, look},
		{"the other stands on the ground", func(r *rigged) { r.beside(0, true, 0, 1) }, quiet},
		{"a re-belay between them", func(r *rigged) { r.rebelay("a", "b"); r.beside(5, false, 0, 1) }, quiet},
		{"both below the re-belay", func(r *rigged) { r.rebelay("a", "b"); r.ivo.AtM = 6; r.beside(5, false, 0, 1) }, stop},
		{"a team lowers on it", func(r *rigged) { r.withTeam("a", "b") }, stop},
	},
	"rope.twice": {
		{"too short for both", func(r *rigged) { r.doubled(-0.01) }, stop},
		{"long enough for both, of one set", func(r *rigged) { r.doubled(0.01) }, stop},
		{"long enough for both, of two sets", func(r *rigged) { r.Strands[1].Set = 2; r.doubled(0.01) }, look},
		{"one that is joined", func(r *rigged) { r.Strands[1].Ropes = []string{"rope-7"} }, stop},
	},
	// 26.4 m of rope from the backup's anchor to its device: 5.114 m aside is half a metre up.
	"fall.slack": {
		{"at the policy's limit", func(r *rigged) { r.Policy.WindSlackM, r.backup.SlackM = 0.4, 0.4 }, quiet},
		{"over it", func(r *rigged) { r.Policy.WindSlackM, r.backup.SlackM = 0.4, 0.401 }, look},
		{"in the main", func(r *rigged) { r.main.SlackM = 3 }, quiet},
		{"on the ground", func(r *rigged) { r.ivo.Grounded, r.ivo.AtM, r.backup.SlackM = true, 1, 3 }, quiet},
	},
	"fall.swing": {
		{"far aside", func(r *rigged) { r.Anchors[1].XM = r.Anchors[0].XM + 5.14 }, look},
		{"less far", func(r *rigged) { r.Anchors[1].XM = r.Anchors[0].XM + 5.11 }, quiet},
		{"a deviation draws the main far aside", func(r *rigged) { r.deviation(rig.Leg{ID: "d", YM: 0.2, StrengthKN: 30}) }, look},
		{"a deviation below who hangs", func(r *rigged) { r.deviation(rig.Leg{ID: "d", YM: 0.2, StrengthKN: 30}); r.ivo.AtM = 21 }, quiet},
		// 27.0 m of rope from the anchor to the descender: 5.17 m aside is half a metre up.
		{"both through a deviation far aside", func(r *rigged) { r.drawn(5.2) }, look},
		{"both through one less far", func(r *rigged) { r.drawn(5.1) }, quiet},
		{"both through one below them", func(r *rigged) { r.drawn(9); r.ivo.AtM = 21 }, quiet},
		{"both through one, standing", func(r *rigged) { r.drawn(9); r.ivo.AtM, r.ivo.Grounded = 0, true }, quiet},
		{"who stands", func(r *rigged) { r.Anchors[1].XM = r.Anchors[0].XM + 9; r.ivo.AtM, r.ivo.Grounded = 0, true }, quiet},
	},
	"device.place": { // two connectors of 0.11 m, a lanyard of 0.6 m, and the device itself
		{"beyond its links", func(r *rigged) { r.backup.AboveM = 1.13 }, stop},
		{"as far as they reach", func(r *rigged) { r.backup.AboveM = 1.12 }, quiet},
		{"far below", func(r *rigged) { r.main.AboveM = -0.42 }, stop},
		{"as far below as its connector reaches", func(r *rigged) { r.main.AboveM = -0.41 }, quiet},
		{"nothing stated between them", func(r *rigged) { r.main.AboveM, r.main.Links = 0.5, nil }, quiet},
		{"at a knot", func(r *rigged) { r.ivo.AtM = 17.94 }, stop},
		{"clear of it", func(r *rigged) { r.ivo.AtM = 17.96 }, quiet},
	},
	"kit.unfit": {
		{"a thinner rope than one takes", func(r *rigged) { r.model("hand-a").Device.Modes[0].Ropes[0].MaxMM = 10.3 }, look},
		{"one that takes a rope of the set", func(r *rigged) { r.model("hand-a").Device.Modes[0].Ropes[0].MaxMM = 10.4 }, quiet},
		{"another construction", func(r *rigged) {
			r.model("hand-a").Device.Modes[0].Ropes[0].Constructions = []gear.Construction{gear.Dynamic}
		}, look},
		{"too heavy", func(r *rigged) { r.model("hand-a").Device.Modes[0].MaxKg = 80.9 }, look},
		{"just not too heavy", func(r *rigged) { r.model("hand-a").Device.Modes[0].MaxKg = 81 }, quiet},
		{"too light", func(r *rigged) { r.model("hand-a").Device.Modes[0].MinKg = 81.1 }, look},
		{"above its working load", func(r *rigged) { r.model("hand-a").WorkingLoads[0].Mass = 80.9 }, look},
		{"at its working load", func(r *rigged) { r.model("hand-a").WorkingLoads[0].Mass = 81 }, quiet},
		{"one that slips", func(r *rigged) { r.model("hand-a").Device.SlipKN = quantity.Weight(81) }, look},
		{"one that just does not", func(r *rigged) { r.model("hand-a").Device.SlipKN = quantity.Weight(81) + 0.001 }, quiet},
		{"a weak lanyard", func(r *rigged) { r.model("lanyard-90").StrengthKN = quantity.Weight(81) * 9.99 }, look},
		{"one just strong enough", func(r *rigged) { r.model("lanyard-90").StrengthKN = quantity.Weight(81) * 10 }, quiet},
		{"a connector that does not lock", func(r *rigged) { r.model("connector-oval").Connector.Gate = "plain" }, look},
		{"a weak connector", func(r *rigged) { r.model("connector-oval").StrengthKN = quantity.Weight(81) * 4.99 }, look},
		{"an absorber for less", func(r *rigged) { r.model("absorber-a").Absorber.MaxKg = 80.9 }, look},
		{"an absorber just for it", func(r *rigged) { r.model("absorber-a").Absorber.MaxKg = 81 }, quiet},
		{"an absorber for more", func(r *rigged) { r.model("absorber-a").Absorber.MinKg = 81.1 }, look},
	},
}

func TestRules(t *testing.T) {
	report, err := check.Drop(t.Context(), clean().Document, nil, check.WithFigures)
	if err != nil || len(report.Findings) > 0 {
		t.Fatalf("the clean drop: %v, %v", report, err)
	}
	for _, rule := range fit.Rules {
		if len(trials[rule.ID]) == 0 {
			t.Errorf("no trial of %s", rule.ID)
		}
		for _, c := range trials[rule.ID] {
			t.Run(rule.ID+"/"+c.name, func(t *testing.T) {
				r := clean()
				c.do(r)
				got := worst(t, r.Document, rule.ID)
				if got != c.want {
					t.Errorf("got %q, want %q", got, c.want)
				}
				if got != quiet && got != note && !slices.Contains(rule.Gives, got) {
					t.Errorf("gives %q, which the rule's table does not list", got)
				}
			})
		}
	}
}

// worst is the worst severity a rule gives for a drop, quiet where it gives none.
func worst(t *testing.T, d *drop.Document, rule string) finding.Severity {
	t.Helper()
	report, err := check.Drop(t.Context(), d, nil, check.FindingsOnly)
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range report.Findings {
		if f.Rule == rule {
			return f.Severity
		}
	}
	return quiet
}

// What the document does not say is said not to be looked at, and no more once it is stated.
func TestUnseen(t *testing.T) {
	for _, c := range []struct {
		line   string
		silent func(*rigged)
		stated func(*rigged)
	}{
		{"the heat of descender 21 on the way down (device.descent-limit)", func(r *rigged) { r.model("descender-b").Device.Heat = nil }, nil},
		{"the heat of descender 21 on the way down (device.descent-limit)", func(r *rigged) { r.model("descender-b").MassG = 0 }, nil},
		{"the heat of descender 21 against the limit of the sheath (device.descent-limit)", func(r *rigged) {
			for _, id := range []string{"rope-7", "rope-8"} {
				r.model(r.item(id).Model).Rope.SheathLimitC = 0
			}
		}, nil},
		{"the heat of combined brake 1, combined brake 2 on the way down", func(r *rigged) { r.team("Dov", "Rhea"); r.model("brake-a").Device.Heat = nil }, func(r *rigged) { r.team("Dov", "Rhea") }},
		{"the slack that wind draws above wheel backup 9 (wind.slack)", func(r *rigged) { r.wheel("rolling"); r.WindMS = 0 }, func(r *rigged) { r.wheel("rolling"); r.WindMS = 1 }},
		{"the slack that wind draws", func(r *rigged) { r.wheel("rolling"); r.WindMS = 0 }, func(r *rigged) { r.wheel("parked"); r.WindMS = 0 }},
		{"the connectors in the hole of descender 21 (link.hole)", func(r *rigged) { r.chain("connector-69"); r.model("descender-b").Device.ConnectorsInHole = 0 }, func(r *rigged) { r.model("descender-b").Device.ConnectorsInHole = 0 }},
		{"the length of a descent on descender 21 (device.descent-limit)", func(r *rigged) { r.model("descender-b").Device.Modes[0].MaxDescentM = 0 }, nil},
		{"the speed of a descent on combined brake 1, combined brake 2 (device.descent-limit)", func(r *rigged) { r.team("Dov", "Rhea"); r.model("brake-a").Device.MaxSpeedMS = 0 }, func(r *rigged) { r.team("Dov", "Rhea") }},
		{"whether the lever of descender 21 opens what is near (device.foul)", func(r *rigged) { r.model("descender-b").Device.LeverReachM = 0 }, func(r *rigged) {
			r.model("descender-b").Device.LeverReachM, r.model("backup-cam").Device.OpensIfPushed = 0, false
		}},
		{"whether somebody is too light for cam backup 31", func(r *rigged) { r.model("backup-cam").Device.Modes[0].MinKg = 0 }, nil},
		{"whether the life of harness 2 has ended (service.quarantine)", func(r *rigged) { r.model("harness-a").Life = nil }, func(r *rigged) { r.model("harness-a").Life = &gear.Life{FromMadeYears: 20} }},
		{"whether the life of short lanyard 2", func(r *rigged) { r.model("lanyard-60").Life = &gear.Life{} }, nil},
		{"the margin of descender 21 (load.margin): a working", func(r *rigged) { r.model("descender-b").StrengthKN = 0 }, func(r *rigged) {
			r.model("descender-b").StrengthKN, r.Policy.Margins = 0, "limits"
		}},
		{"the margin of hand ascender 2 (load.margin)", func(r *rigged) { r.model("hand-a").StrengthKN = 0 }, nil},
		{"harm to the sheath by the teeth of hand ascender 2 (load.teeth)", func(r *rigged) { r.model("hand-a").Device.Teeth = nil }, nil},
		{"the force at which hand ascender 2 would slip (device.slip)", func(r *rigged) { r.slips(0) }, func(r *rigged) { r.slips(4) }},
		{"the length of a descent on descender 99 (device.descent-limit)", func(r *rigged) { r.second(func(m *gear.Model) { m.Device.Modes[0].MaxDescentM = 0 }) }, func(r *rigged) { r.second(func(*gear.Model) {}) }},
		{"whether hand ascender 2 bears what hangs on it (kit.unfit)", func(r *rigged) { m := r.model("hand-a"); m.StrengthKN, m.WorkingLoads = 0, nil }, func(r *rigged) { r.model("hand-a").StrengthKN = 0 }},
		{"the edges that ropes run over (edge.bare)", func(*rigged) {}, func(r *rigged) {
			r.Geometry.Edges = []rig.Edge{{ID: "rim", Name: "rim", HeightM: 37, Protection: "roller"}}
		}},
	} {
		for _, silent := range []bool{true, false} {
			r := clean()
			if silent {
				c.silent(r)
			} else if c.stated != nil {
				c.stated(r)
			}
			report, err := check.Drop(t.Context(), r.Document, nil, check.FindingsOnly)
			if err != nil {
				t.Fatal(err)
			}
			said := slices.ContainsFunc(report.NotLookedAt, func(line string) bool { return strings.HasPrefix(line, c.line) })
			if said != silent {
				t.Errorf("%q is said: %v; %q", c.line, said, report.NotLookedAt)
			}
		}
	}
}

// Unlike ropes joined above a backup are springs in series: they stretch as one
// rope of their mean elongation by length.
func TestJoinedRopes(t *testing.T) {
	figures := func(upper, lower quantity.Percent) (peak, clearance float64) {
		r := clean()
		stiff := *r.model("rope-105")
		stiff.Rope = &gear.RopeModel{Construction: gear.LowStretchA, DiameterMM: 10.5, MassGPerM: 71, ElongationPct: upper}
		r.model("rope-105").Rope.ElongationPct = lower
		stiff.ID = "rope-stiff"
		r.Models = append(r.Models, stiff)
		r.item("rope-7").Model = stiff.ID
		r.main.Device, r.backup.Device = r.backup.Device, r.main.Device
		r.main.Mode, r.main.Position, r.backup.Mode, r.backup.Position = "one person", "on the rope", "single", "park"
		return r.figure(r.main, "arrest force"), r.figure(r.main, "clearance needed")
	}
	// From the anchor at 39.1 to the join at 18 m, and on to the device at 12.15 m.
	upper, lower := quantity.Percent(39.1-18), quantity.Percent(18-12.15)
	for _, e := range [][2]quantity.Percent{{2, 6}, {6, 2}} {
		mean := (upper*e[0] + lower*e[1]) / (upper + lower)
		peak, clearance := figures(e[0], e[1])
		wantPeak, wantClearance := figures(mean, mean)
		if math.Abs(peak-wantPeak) > 1e-9 || math.Abs(clearance-wantClearance) > 1e-9 {
			t.Errorf("%v: peak %v, clearance %v; want %v and %v", e, peak, clearance, wantPeak, wantClearance)
		}
	}
}

// A policy makes a rule stricter, never weaker.
func TestRaise(t *testing.T) {
	r := clean()
	r.upper.Condition = gear.Wet
	r.main.Open = true
	r.Policy.Raises = []policy.Raise{{Rule: "rope.condition", To: stop}, {Rule: "device.open", To: look}}
	if got := worst(t, r.Document, "rope.condition"); got != stop {
		t.Errorf("rope.condition: got %q, want it raised to stop", got)
	}
	if got := worst(t, r.Document, "device.open"); got != stop {
		t.Errorf("device.open: got %q, want stop, which nothing lowers", got)
	}
}

// Of what is carried each state of the ropes is said once, and none instead of another.
func TestConditionsOnce(t *testing.T) {
	for _, c := range []struct {
		main, backup gear.Condition
		want         int
	}{{gear.Dry, gear.Dry, 0}, {gear.Muddy, gear.Muddy, 1}, {gear.Muddy, gear.Icy, 2}} {
		r := clean()
		r.upper.Condition, r.ropeB.Condition = c.main, c.backup
		report, err := check.Drop(t.Context(), r.Document, nil, check.FindingsOnly)
		if err != nil {
			t.Fatal(err)
		}
		n := 0
		for _, f := range report.Findings {
			if f.Rule == "rope.condition" && f.Subject.Label == "hand ascender 2" {
				n++
			}
		}
		if n != c.want {
			t.Errorf("%s and %s: said %d times, want %d", c.main, c.backup, n, c.want)
		}
	}
}
