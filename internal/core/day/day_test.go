package day_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/day"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/demo"
)

// What stands in the way of a drop's release is said of every drop that it is about, and of no
// other; the wind shuts hours alone.
func TestAgainst(t *testing.T) {
	ended := func(a *day.Asked) {
		for i := range a.People {
			a.People[i].Papers[1].Until = demo.Day.AddDays(-1)
		}
	}
	for name, c := range map[string]struct {
		from   day.Clock
		change func(*day.Asked)
		rule   string
		both   bool
	}{
		"nothing":        {"12:30", func(*day.Asked) {}, "day.twice", false},
		"somebody twice": {"12:29", func(*day.Asked) {}, "day.twice", true},
		"medicals ended": {"12:30", ended, "person.competence", true},
		"a look":         {"12:30", func(a *day.Asked) { a.Board.Slots[0].Supervisor, a.Board.Slots[1].Supervisor = "", "" }, "day.supervised", false},
		"lightning":      {"12:30", func(a *day.Asked) { a.Board.Wind[0].Lightning = true }, "day.wind", false},
		"a policy's stop": {"12:30", func(a *day.Asked) {
			a.Policy = &policy.Policy{Name: "strict", Raises: []policy.Raise{{Rule: "day.supervised", To: finding.Stop}}}
			a.Board.Slots[0].Supervisor, a.Board.Slots[1].Supervisor = "", ""
		}, "day.supervised", true},
	} {
		a := morning()
		and(a, "gate-shaft", c.from)
		and(a, "basin-wall", "20:00")
		c.change(a)
		against := func(drop string) []finding.Finding {
			list, err := a.Against(drop)
			if err != nil {
				t.Fatal(name, err)
			}
			return list
		}
		for _, drop := range []string{"face-7", "gate-shaft"} {
			if got := slices.ContainsFunc(against(drop), func(f finding.Finding) bool { return f.Rule == c.rule }); got != c.both {
				t.Errorf("%s: against %s %v; %v", name, drop, got, against(drop))
			}
		}
		if c.rule != "person.competence" && len(against("basin-wall")) > 0 {
			t.Errorf("%s: against basin wall %v", name, against("basin-wall"))
		}
		// Of a drop without a time, or without a board, the papers alone are known.
		for i := range a.Board.Slots {
			a.Board.Slots[i].From = ""
		}
		for _, f := range against("face-7") {
			if c.rule != "person.competence" || f.Rule != c.rule {
				t.Errorf("%s: against a drop without a time: %s", name, f.What)
			}
		}
		if c.rule == "person.competence" && len(against("face-7")) == 0 {
			t.Errorf("%s: nothing against a drop without a time", name)
		}
	}
}

// papers are what the policy asks of everybody, and first aid.
func papers() []rig.Paper {
	var list []rig.Paper
	for _, k := range []string{"qualification", "medical", "first-aid"} {
		list = append(list, rig.Paper{Kind: k, Name: k, Until: "2027-12-31", SeenBy: "Dov Pellister"})
	}
	return list
}

// team is the demo's, with papers.
func team() []rig.Member {
	people := demo.People()
	for i := range people {
		people[i].Papers = papers()
	}
	return people
}

// morning is a sound board of one demo drop: Face 7 from 08:00 to 12:00.
func morning() *day.Asked {
	d := demo.Drops()["face-7"]
	return &day.Asked{
		Board: day.Board{Format: day.Format, Version: day.Version, Day: d.Day, Slots: []day.Slot{
			{Drop: "face-7", From: "08:00", Hours: 4, Supervisor: "dov", NoHazards: true},
		}, Wind: []day.Wind{{At: "08:00", WindMS: 2}, {At: "09:00", WindMS: 2}, {At: "10:00", WindMS: 2}, {At: "11:00", WindMS: 2}}},
		Drops: []day.DropOf{{ID: "face-7", Document: *d}}, People: team(),
	}
}

// and adds a demo drop to a board.
func and(a *day.Asked, id string, from day.Clock) *day.Slot {
	a.Drops = append(a.Drops, day.DropOf{ID: id, Document: *demo.Drops()[id]})
	a.Board.Slots = append(a.Board.Slots, day.Slot{Drop: id, From: from, Hours: 4, Supervisor: "dov", NoHazards: true})
	return &a.Board.Slots[len(a.Board.Slots)-1]
}

func gust(v float64) *quantity.MetresPerSecond {
	g := quantity.MetresPerSecond(v)
	return &g
}

// Every rule, on both sides of what it fires at: the first is of a board that is sound in it.
func TestRules(t *testing.T) {
	type change = func(*day.Asked)
	for _, c := range []struct {
		name, rule string
		severity   finding.Severity
		sound, not change
	}{
		{"a person twice", "day.twice", finding.Stop, func(a *day.Asked) { and(a, "gate-shaft", "12:30") }, func(a *day.Asked) { and(a, "gate-shaft", "12:29") }},
		{"the night before", "day.twice", finding.Stop,
			func(a *day.Asked) { night(a, "22:00", 9.5) }, func(a *day.Asked) { night(a, "22:00", 9.75) }},
		{"wind", "day.wind", finding.Stop, func(a *day.Asked) { a.Board.Wind[1].GustMS = gust(lowest(a)) }, func(a *day.Asked) { a.Board.Wind[1].GustMS = gust(lowest(a) + 0.01) }},
		{"wind of the site", "day.wind", finding.Stop,
			func(a *day.Asked) { a.Board.Slots[0].GustMS = 3; a.Board.Wind[3].GustMS = gust(3) }, func(a *day.Asked) { a.Board.Slots[0].GustMS = 3; a.Board.Wind[3].GustMS = gust(3.01) }},
		{"wind at the height of the work", "day.wind", finding.Stop,
			func(a *day.Asked) { low(a); a.Board.Wind[1].GustMS = gust(2.7) }, func(a *day.Asked) { low(a); a.Board.Wind[1].GustMS = gust(2.75) }},
		{"wind after the drop", "day.wind", finding.Stop,
			func(a *day.Asked) { a.Board.Wind = append(a.Board.Wind, day.Wind{At: "12:00", WindMS: 50}) }, func(a *day.Asked) { a.Board.Wind = []day.Wind{{At: "11:59", WindMS: 50}} }},
		{"lightning", "day.wind", finding.Stop, func(a *day.Asked) {}, func(a *day.Asked) { a.Board.Wind[0].Lightning = true }},
		{"alone with somebody unknown", "day.alone", finding.Stop, func(a *day.Asked) { only(a); a.Board.Slots[0].Others = []string{"maren"} }, func(a *day.Asked) {
			only(a)
			a.Board.Slots[0].Supervisor, a.Board.Slots[0].Others = "", []string{"somebody"}
		}},
		{"a blank for a protection", "work.hazard", finding.Stop, grinds("sleeves of steel"), grinds(" \t")},
		{"alone", "day.alone", finding.Stop, func(a *day.Asked) { only(a); a.Board.Slots[0].Others = []string{"maren"} }, func(a *day.Asked) { only(a); a.Board.Slots[0].Supervisor = "" }},
		{"alone while the others are at another site", "day.alone", finding.Stop, elsewhere(demo.Site, demo.Site), elsewhere(demo.Site, "the weir")},
		{"alone where no site is stated", "day.alone", finding.Stop, elsewhere("the weir", "the weir"), elsewhere("", "")},
		{"on two sites, neither of them stated", "day.twice", finding.Stop, elsewhere("the weir", "the weir"), elsewhere("", "")},
		{"nobody has seen the supervisor's paper", "day.supervised", finding.Look, unseen("qualification", true), unseen("qualification", false)},
		{"nobody has seen the first aid papers", "person.competence", finding.Look, unseen("first-aid", true), unseen("first-aid", false)},
		{"nobody supervises", "day.supervised", finding.Look, func(a *day.Asked) {}, func(a *day.Asked) { a.Board.Slots[0].Supervisor = "" }},
		{"the level", "day.supervised", finding.Stop, level("qualification"), level("level 3")},
		{"a paper that ends", "day.supervised", finding.Stop, until("qualification", demo.Day), until("qualification", demo.Day.AddDays(-1))},
		{"a medical that ended", "person.competence", finding.Stop, until("medical", demo.Day), until("medical", demo.Day.AddDays(-1))},
		{"past midnight", "person.competence", finding.Stop,
			func(a *day.Asked) { until("medical", demo.Day.AddDays(1))(a); a.Board.Slots[0].From = "22:00" }, func(a *day.Asked) { until("medical", demo.Day)(a); a.Board.Slots[0].From = "22:00" }},
		{"nobody has seen it", "person.competence", finding.Look, func(a *day.Asked) {}, func(a *day.Asked) { a.People[0].Papers[1].SeenBy = "" }},
		{"first aid", "person.competence", finding.Look, func(a *day.Asked) { aid(a, 1) }, func(a *day.Asked) { aid(a, 0) }},
		{"induction", "person.competence", finding.Look, func(a *day.Asked) { inducted(a, 4) }, func(a *day.Asked) { inducted(a, 1) }},
		{"the shift", "day.hours", finding.Look, func(a *day.Asked) { a.Board.Slots[0].Hours = 12 }, func(a *day.Asked) { a.Board.Slots[0].Hours = 12.25 }},
		{"rest", "day.hours", finding.Look, func(a *day.Asked) { night(a, "17:00", 4) }, func(a *day.Asked) { night(a, "17:15", 4) }},
		{"at a brake", "day.twice", finding.Stop, atBrake("Wyn Arkle"), atBrake("Rhea Tolland")},
		{"at a brake, in other letters", "day.twice", finding.Stop, atBrake("wyn  arkle"), atBrake("rhea  tolland ")},
		{"at a brake, and stands by on the same site", "day.twice", finding.Stop, beside("Wyn Arkle"), beside("Dov Pellister")},
		{"a hazard", "work.hazard", finding.Stop,
			grinds("steel sleeves for 5 m"), grinds("")},
		{"a hazard after one that is protected", "work.hazard", finding.Stop, beyond("a screen"), beyond("")},
		{"at a brake after who is on the drop", "day.twice", finding.Stop, second("Wyn Arkle"), second("Rhea Tolland")},
		{"a brake that is new to who works it", "person.familiar", finding.Look, knows("Maren Oake", "maren"), knows("Maren Oake", "rhea")},
		{"one brake, new to who works both", "person.familiar", finding.Look, knows("Wyn Arkle", "dov"), knows("", "maren")},
		{"practice of who would come second", "person.practised", finding.Look, comes(demo.Day.AddMonths(-6)), comes(demo.Day.AddMonths(-6).AddDays(-1))},
		{"practice", "person.practised", finding.Look, drilled(demo.Day.AddMonths(-6)), drilled(demo.Day.AddMonths(-6).AddDays(-1))},
		{"what is recorded counts before what is typed", "person.practised", finding.Look,
			func(a *day.Asked) {
				drilled("2020-01-01")(a)
				recorded("pick-off", rig.NearGround, demo.Day.AddMonths(-6))(a)
			},
			func(a *day.Asked) {
				drilled(demo.Day)(a)
				recorded("pick-off", rig.OnRun, demo.Day.AddMonths(-6).AddDays(-1))(a)
			}},
		{"a screen is no practice of a rescue", "person.practised", finding.Look,
			func(a *day.Asked) { drilled(demo.Day)(a); recorded("pick-off", rig.OnScreen, demo.Day)(a) },
			func(a *day.Asked) { drilled("2020-01-01")(a); recorded("pick-off", rig.OnScreen, demo.Day)(a) }},
		{"a skill on the plan", "person.practised", finding.Look, recorded("knot-pass", rig.OnScreen, demo.Day.AddMonths(-12)), recorded("knot-pass", rig.OnScreen, demo.Day.AddMonths(-12).AddDays(-1))},
		{"due on the day", "day.due", finding.Look, again(demo.Day.AddDays(1)), again(demo.Day)},
		{"overdue", "day.due", finding.Stop, again(demo.Day), again(demo.Day.AddDays(-1))},
		{"no day is known", "day.due", finding.Look, func(a *day.Asked) {}, func(a *day.Asked) { i := used(a); i.MadeOn, i.FirstUsedOn, i.ExaminedOn, i.AgainBy = "", "", "", "" }},
		{"the life of what was made at a time unknown", "day.due", finding.Look, lives("2024-01-01", demo.Day.AddDays(1)), lives("", demo.Day.AddDays(1))},
		{"overdue, its life unknown", "day.due", finding.Stop, lives("", demo.Day.AddDays(1)), lives("", demo.Day.AddDays(-1))},
		{"overdue on the day its life ends", "day.due", finding.Stop, lives(demo.Day.AddYears(-5), demo.Day.AddDays(1)), lives(demo.Day.AddYears(-5), demo.Day.AddDays(-1))},
		{"not counted back", "day.missing", finding.Look,
			func(a *day.Asked) {
				a.Kits = []gear.Kit{{Name: "van bag", Missing: []string{"spare"}, Out: []string{used(a).ID}}}
			},
			func(a *day.Asked) {
				a.Kits = []gear.Kit{{Name: "van bag"}, {Name: "bag 2", Missing: []string{"spare", used(a).ID}}}
			}},
		{"quarantine", "day.due", finding.Stop, func(a *day.Asked) {}, func(a *day.Asked) { used(a).State, used(a).Reason = gear.Quarantine, "a nick" }},
	} {
		t.Run(c.name, func(t *testing.T) {
			for _, fires := range []bool{false, true} {
				a := morning()
				if fires {
					c.not(a)
				} else {
					c.sound(a)
				}
				r, err := a.Check()
				if err != nil {
					t.Fatal(err)
				}
				i := slices.IndexFunc(r.Findings, func(f finding.Finding) bool { return f.Rule == c.rule && f.Severity == c.severity })
				if (i >= 0) != fires {
					t.Errorf("%s found: %v, want %v; %s", c.rule, i >= 0, fires, said(r))
				}
			}
		})
	}
}

// Who stands by for a drop, and is at a brake of it, is at the brake.
func TestTasks(t *testing.T) {
	for name, want := range map[string]day.Task{"Dov Pellister": day.Operates, "Maren Oake": day.StandsBy} {
		a := morning()
		beside(name)(a)
		a.Drops[1].Document.Rescue = &rig.Rescue{Rescuers: []rig.Rescuer{{Person: "dov"}}}
		r, err := a.Check()
		if err != nil {
			t.Fatal(err)
		}
		i := slices.IndexFunc(r.Lanes[1].Seats, func(s day.Seat) bool { return s.Person == "dov" })
		if got := r.Lanes[1].Seats[i].Task; got != want {
			t.Errorf("%s at the brake: Dov %s, want %s", name, got, want)
		}
	}
}

func said(r *day.Report) string {
	var list []string
	for _, f := range r.Findings {
		list = append(list, f.Rule+": "+f.What)
	}
	return strings.Join(list, "\n")
}

func night(a *day.Asked, from day.Clock, hours float64) {
	a.Before = &day.Board{Format: day.Format, Version: day.Version, Day: a.Board.Day.AddDays(-1), Slots: []day.Slot{{Drop: "gate-shaft", From: from, Hours: hours}}}
	a.Drops = append(a.Drops, day.DropOf{ID: "gate-shaft", Document: *demo.Drops()["gate-shaft"]})
}

// lowest is the drop's lowest limit: the policy's, or its backups'.
func lowest(a *day.Asked) float64 {
	lo, hi := 0.0, 10.0
	for hi-lo > 0.001 {
		mid := (lo + hi) / 2
		b := *a
		b.Board.Wind = []day.Wind{{At: "08:00", WindMS: quantity.MetresPerSecond(mid)}}
		if r, _ := b.Check(); slices.ContainsFunc(r.Findings, func(f finding.Finding) bool { return f.Rule == "day.wind" }) {
			hi = mid
		} else {
			lo = mid
		}
	}
	return lo
}

// low states the wind, of 1 m/s elsewhere, for 10 m: 72 m up it blows 1.48 times as strongly, and the drop's limit is
// 4.05 m/s.
func low(a *day.Asked) {
	a.Board.WindAtM = 10
	for i := range a.Board.Wind {
		a.Board.Wind[i].WindMS = 1
	}
}

// only leaves one person on the drop, who supervises themselves.
func only(a *day.Asked) {
	d := &a.Drops[0].Document
	d.People, d.Rescue = d.People[:1], nil
	a.Board.Slots[0].Supervisor = d.People[0].ID
}

// elsewhere leaves one person on Face 7 of a site; Rhea is with them, and on site of a second drop, of another site, in
// the same hours.
func elsewhere(one, other string) func(*day.Asked) {
	return func(a *day.Asked) {
		only(a)
		s := and(a, "crown-gallery", "11:00")
		s.Supervisor, s.Others, a.Board.Slots[0].Others = "", []string{"rhea", "maren"}, []string{"rhea"}
		a.Drops[0].Document.Site = one
		d := &a.Drops[1].Document
		d.Site, d.People, d.Rescue, d.Team = other, nil, nil, nil
	}
}

// unseen takes from the papers of a kind who has seen them; where there is a second that ends sooner, and that
// somebody has seen, that one counts.
func unseen(kind string, second bool) func(*day.Asked) {
	return func(a *day.Asked) {
		for i := range a.People {
			for j := range a.People[i].Papers {
				p := &a.People[i].Papers[j]
				if p.Kind != kind {
					continue
				}
				seen := *p
				if seen.Until, p.SeenBy = demo.Day.AddDays(1), ""; second {
					a.People[i].Papers = append(a.People[i].Papers, seen)
				}
			}
		}
	}
}

func level(name string) func(*day.Asked) {
	return func(a *day.Asked) {
		p := policy.Default()
		p.Day.Supervisor = name
		a.Policy = p
	}
}

func until(kind string, on gear.Date) func(*day.Asked) {
	return func(a *day.Asked) {
		for i := range a.People {
			for j := range a.People[i].Papers {
				if p := &a.People[i].Papers[j]; p.Kind == kind {
					p.Until = on
				}
			}
		}
	}
}

// aid leaves so many first aiders.
func aid(a *day.Asked, n int) {
	for i := range a.People {
		if a.People[i].ID != "dov" || n == 0 {
			a.People[i].Papers = a.People[i].Papers[:2]
		}
	}
}

// inducted gives so many of the team an induction for the site.
func inducted(a *day.Asked, n int) {
	for i := range n {
		a.People[i].Papers = append(a.People[i].Papers, rig.Paper{Kind: "induction", Name: demo.Site, SeenBy: "Dov Pellister"})
	}
}

// atBrake puts somebody who is listed on a team's drop, and hangs on the first, at its brake;
// beside puts the one who stands by for the first there, at the same site.
func atBrake(name string) func(*day.Asked) {
	return func(a *day.Asked) {
		and(a, "sump-hatch", "08:00")
		a.Drops[1].Document.Team.Operators = []string{"Wyn Arkle", name}
	}
}

func beside(name string) func(*day.Asked) {
	return func(a *day.Asked) {
		atBrake(name)(a)
		d := &a.Drops[1].Document
		d.People = append(d.People, rig.Person{ID: "dov", Name: "Dov Pellister", MassKg: 96, Grounded: true})
	}
}

func grinds(protection string) func(*day.Asked) {
	return func(a *day.Asked) {
		a.Board.Slots[0].NoHazards, a.Board.Slots[0].Hazards = false, []day.Hazard{{Kind: "grinding", Protection: protection}}
	}
}

// knows puts somebody at the belay, or nobody beside Rhea at both brakes, and has one member know every model.
func knows(name, member string) func(*day.Asked) {
	return func(a *day.Asked) {
		atBrake(name)(a)
		if d := &a.Drops[1].Document; name == "" {
			d.Team.Operators = []string{"Rhea Tolland"}
		}
		for i := range a.People {
			for _, m := range a.Drops[1].Document.Models {
				if a.People[i].ID == member {
					a.People[i].Familiar = append(a.People[i].Familiar, rig.Familiarity{Model: m.ID, On: demo.Day})
				}
			}
		}
	}
}

// beyond grinds behind steel, and cuts besides.
func beyond(protection string) func(*day.Asked) {
	return func(a *day.Asked) {
		grinds("steel sleeves")(a)
		a.Board.Slots[0].Hazards = append(a.Board.Slots[0].Hazards, day.Hazard{Kind: "cutting", Protection: protection})
	}
}

// second puts somebody at a brake beside one who has a place on the drop already.
func second(name string) func(*day.Asked) {
	return func(a *day.Asked) {
		beside("Dov Pellister")(a)
		a.Board.Slots[1].From, a.Board.Slots[1].Supervisor = "08:00", ""
		a.Drops[1].Document.Team.Operators = []string{"Dov Pellister", name}
		a.Drops[0].Document.Rescue, a.Board.Slots[0].Supervisor = nil, ""
		a.Drops[0].Document.People = slices.DeleteFunc(a.Drops[0].Document.People, func(p rig.Person) bool { return p.ID == "dov" })
	}
}

// comes has two who would come: the first practised lately, the second on a day.
func comes(on gear.Date) func(*day.Asked) {
	return func(a *day.Asked) {
		d := &a.Drops[0].Document
		d.Rescue.Rescuers = []rig.Rescuer{{Person: "dov", PractisedOn: demo.Day}, {Person: "rhea", PractisedOn: on}}
	}
}

func drilled(on gear.Date) func(*day.Asked) {
	return func(a *day.Asked) {
		for i := range a.Drops[0].Document.Rescue.Rescuers {
			a.Drops[0].Document.Rescue.Rescuers[i].PractisedOn = on
		}
	}
}

// recorded gives everybody of the first drop a practice; who hangs has a knot pass on their plan.
func recorded(skill string, how rig.How, on gear.Date) func(*day.Asked) {
	return func(a *day.Asked) {
		people := a.Drops[0].Document.People
		for i := range people {
			people[i].Practised = []rig.Practised{{Skill: skill, How: how, On: on}}
			if len(people[i].Holds) > 0 {
				people[i].Moves = []manoeuvre.MoveName{"pass-knots-down"}
			}
		}
	}
}

// used is an item in a hold.
func used(a *day.Asked) *gear.Item {
	d := &a.Drops[0].Document
	for _, p := range d.People {
		for _, h := range p.Holds {
			i := slices.IndexFunc(d.Items, func(i gear.Item) bool { return i.ID == h.Device })
			return &d.Items[i]
		}
	}
	return nil
}

func again(on gear.Date) func(*day.Asked) {
	return func(a *day.Asked) { used(a).AgainBy = on }
}

// lives gives the model of an item in a hold a life of five years, the item the day it was
// made, and the day by which it is examined again.
func lives(made, again gear.Date) func(*day.Asked) {
	return func(a *day.Asked) {
		d, i := &a.Drops[0].Document, used(a)
		i.MadeOn, i.FirstUsedOn, i.AgainBy = made, "", again
		d.Models[slices.IndexFunc(d.Models, func(m gear.Model) bool { return m.ID == i.Model })].Life = &gear.Life{FromMadeYears: 5}
	}
}

// world is a small day of drops without ropes: people who are on them, an item each, two
// windows in the wind.
func world(r *rand.Rand, drops, people, items int) *day.Asked {
	a := &day.Asked{Board: day.Board{Format: day.Format, Version: day.Version, Day: demo.Day, Slots: []day.Slot{}}, Store: &drop.Store{}}
	for h := range 24 {
		w := day.Wind{At: day.ClockOf(60 * h), WindMS: 1}
		if h >= 11 && h < 15 {
			w.WindMS = 30
		}
		a.Board.Wind = append(a.Board.Wind, w)
	}
	model := demo.Models()[slices.IndexFunc(demo.Models(), func(m gear.Model) bool { return m.Class == "descender" })]
	a.Store.Models = []gear.Model{model}
	for i := range people {
		a.People = append(a.People, rig.Member{ID: fmt.Sprint("p-", i), Name: fmt.Sprint("P", i), MassKg: 80, Papers: papers()})
	}
	for i := range items {
		a.Store.Items = append(a.Store.Items, gear.Item{ID: fmt.Sprint("i-", i), Label: fmt.Sprint("I", i), Serial: fmt.Sprint(i), Model: model.ID, State: gear.InService, ExaminedOn: demo.Day})
	}
	for n := range drops {
		d := drop.Document{Format: drop.Format, Version: drop.Version, Name: fmt.Sprint("D", n), Site: fmt.Sprint("S", n), Day: demo.Day, Geometry: rig.Geometry{TopM: 20}, Policy: policy.Policy{Name: "x"}}
		who, what := r.Perm(people), r.Perm(items)
		for i := range 2 {
			m := &a.People[who[i]]
			d.People = append(d.People, rig.Person{ID: m.ID, Name: m.Name, MassKg: m.MassKg, Grounded: true})
		}
		d.People[0].Carries = []string{a.Store.Items[what[0]].ID}
		d.Refresh(a.Store)
		s := day.Slot{Drop: fmt.Sprint("d-", n), Hours: 4.5, From: []day.Clock{"", "06:00", "06:30", "15:00", "09:00"}[r.IntN(5)]}
		if people > 2 && r.IntN(2) > 0 {
			s.Supervisor = a.People[who[2]].ID
		}
		a.Board.Slots = append(a.Board.Slots, s)
		a.Drops = append(a.Drops, day.DropOf{ID: s.Drop, Document: d})
	}
	return a
}

// unqualified ends the qualification of the first of a world.
func unqualified(a *day.Asked) { a.People[0].Papers[0].Until = demo.Day.AddDays(-1) }

// everything goes over all boards of a small world for one that is better than what was found,
// by drops left out and then by changes. It shares nothing with the search.
func everything(a *day.Asked, out, changes int) (fewest, least int) {
	starts := []int{6 * 60, 6*60 + 30, 15 * 60, 15*60 + 30}
	type seat struct{ at, p, q, over, item int }
	number := func(id string) int {
		k := -1
		fmt.Sscanf(strings.TrimLeft(id, "pi-"), "%d", &k)
		return k
	}
	qualified := func(p int) bool { return a.People[p].Papers[0].Until >= demo.Day }
	var now, want []seat
	for i, s := range a.Board.Slots {
		d := &a.Drops[i].Document
		at := -1
		if s.From != "" {
			at = s.From.Minutes()
		}
		want = append(want, seat{at, number(d.People[0].ID), number(d.People[1].ID), number(s.Supervisor), number(d.People[0].Carries[0])})
	}
	fits := func(s seat) bool {
		on := func(p int, o seat) bool { return p >= 0 && (p == o.p || p == o.q || p == o.over) }
		for _, o := range now {
			if o.at < s.at+300 && s.at < o.at+300 && (on(s.p, o) || on(s.q, o) || on(s.over, o) || o.item == s.item) {
				return false
			}
		}
		return true
	}
	// may are who takes a seat: who has it, or who has none on the drop and is qualified.
	may := func(was int, w seat) (list []int) {
		for p := range a.People {
			if p == was || was >= 0 && p != w.p && p != w.q && p != w.over && qualified(p) {
				list = append(list, p)
			}
		}
		if was < 0 {
			list = append(list, -1)
		}
		return list
	}
	var place func(i, left, moved int)
	place = func(i, left, moved int) {
		if left > out || left == out && moved >= changes {
			return
		}
		if i == len(want) {
			out, changes = left, moved
			return
		}
		w := want[i]
		for _, at := range starts {
			for _, p := range may(w.p, w) {
				for _, q := range may(w.q, w) {
					for _, over := range may(w.over, w) {
						if p == q || over >= 0 && (over == p || over == q || !qualified(over)) {
							continue
						}
						for item := range a.Store.Items {
							s := seat{at, p, q, over, item}
							cost := 0
							for _, differs := range []bool{w.at >= 0 && at != w.at, p != w.p, q != w.q, over != w.over, item != w.item} {
								if differs {
									cost++
								}
							}
							if fits(s) {
								now = append(now, s)
								place(i+1, left, moved+cost)
								now = now[:len(now)-1]
							}
						}
					}
				}
			}
		}
		place(i+1, left+1, moved)
	}
	place(0, 0, 0)
	return out, changes
}

func counted(f *day.Filled) (moves int) {
	for _, c := range f.Changes {
		if c.Kind != "time" || c.Was != "" {
			moves++
		}
	}
	return moves
}

// On small boards the search leaves out no more drops and changes no more than going over
// everything; what it proposes has no conflict, and asked again it changes nothing.
func TestFillSmall(t *testing.T) {
	for n := range uint64(30) {
		r := chance.Rand(21, n)
		a := world(r, 2+r.IntN(2), 3+r.IntN(2), 1+r.IntN(3))
		if n%3 == 0 {
			unqualified(a)
		}
		f, err := a.Fill(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		out, changes := everything(a, len(f.Unplaced), counted(f))
		if f.Outcome != search.Found || len(f.Unplaced) != out || counted(f) != changes {
			t.Errorf("world %d: %s with %d left out and %d changes, and there is a board with %d and %d", n, f.Outcome, len(f.Unplaced), counted(f), out, changes)
		}
		sound(t, f)
		again := *a
		again.Board, again.Drops = f.Board, slices.Clone(a.Drops)
		for _, d := range f.Drops {
			again.Drops[slices.IndexFunc(again.Drops, func(o day.DropOf) bool { return o.ID == d.ID })] = d
		}
		if g, err := again.Fill(t.Context()); err != nil || out == 0 && len(g.Changes) > 0 {
			t.Errorf("world %d: filled again it changes %v, %v", n, g.Changes, err)
		}
		for _, u := range f.Unplaced {
			if u.Help == "" {
				t.Errorf("world %d: nothing is said of what would help %s", n, u.Drop)
			}
		}
	}
}

// sound holds that a proposal passes the rules on conflicts.
func sound(t *testing.T, f *day.Filled) {
	t.Helper()
	for _, g := range f.Report.Findings {
		if g.Rule == "day.twice" || g.Rule == "day.wind" || g.Severity == finding.Stop && (g.Rule == "person.competence" || g.Rule == "day.supervised") {
			t.Errorf("proposed, and %s: %s", g.Rule, g.What)
		}
	}
}

// What was not counted back is exchanged for another of its model, and is nobody's spare.
func TestFillMissing(t *testing.T) {
	for _, missing := range []bool{false, true} {
		a := morning()
		item := *used(a)
		spare, gone := item, item
		spare.ID, spare.Label, spare.Serial = "spare-1", "spare", "S-1"
		gone.ID, gone.Label, gone.Serial = "gone-1", "gone", "S-2"
		a.Store = &drop.Store{Models: a.Drops[0].Document.Models, Items: append(slices.Clone(a.Drops[0].Document.Items), gone, spare)}
		a.Kits = []gear.Kit{{Name: "van bag", Missing: []string{gone.ID}}}
		if missing {
			a.Kits[0].Missing = append(a.Kits[0].Missing, item.ID)
		}
		f, err := a.Fill(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		i := slices.IndexFunc(f.Changes, func(c day.Change) bool { return c.Kind == "item" && c.Was == item.ID })
		if (i >= 0) != missing || i >= 0 && f.Changes[i].Is != spare.ID {
			t.Errorf("missing %v: %+v, %+v", missing, f.Changes, f.Unplaced)
		}
	}
}

// An operator who is on two drops is exchanged at the brake, and a supervisor where they are
// named; what is proposed stands where the one before stood. Nobody becomes an operator under a
// name that another has.
func TestFillOperators(t *testing.T) {
	for _, c := range []struct {
		name   string
		drops  []string
		over   []string
		change func(*day.Asked)
		was    string
		is     func(*day.Filled) string
		want   string
	}{
		{"at a brake", []string{"sump-hatch", "spillway-lip"}, []string{"dov", "rhea"}, nil, "maren", operator(1), "Wyn Arkle"},
		{"at a brake, and supervises", []string{"sump-hatch", "spillway-lip"}, []string{"dov", "ivo"}, func(a *day.Asked) { a.Drops[1].Document.People[0].ID = "tam" }, "ivo", operator(0), "Rhea Tolland"},
		{"supervises", []string{"spillway-lip", "sump-hatch"}, []string{"ivo", "dov"}, func(a *day.Asked) { a.Drops[0].Document.People[0].ID = "tam" }, "ivo", over(0), "rhea"},
		{"supervises without a paper", []string{"spillway-lip"}, []string{"dov"}, func(a *day.Asked) { a.People[3].Papers[0].Until = demo.Day.AddDays(-1) }, "dov", over(0), "ivo"},
	} {
		t.Run(c.name, func(t *testing.T) {
			a := &day.Asked{Board: day.Board{Format: day.Format, Version: day.Version, Day: demo.Day}, People: team()}
			for _, m := range []rig.Member{{ID: "tam-2", Name: "Ivo Kestrane"}, {ID: "wyn", Name: "Wyn Arkle"}} {
				m.MassKg, m.Papers = 80, papers()
				a.People = append(a.People, m)
			}
			for i, id := range c.drops {
				s := and(a, id, "06:00")
				s.Hours, s.Supervisor = 14, c.over[i] // no other time
			}
			if c.change != nil {
				c.change(a)
			}
			f, err := a.Fill(t.Context())
			if err != nil || len(f.Changes) != 1 || f.Changes[0].Was != c.was || len(f.Unplaced) > 0 {
				t.Fatalf("%v, %+v", err, f)
			}
			if is := c.is(f); is != c.want {
				t.Errorf("%s, want %s", is, c.want)
			}
			sound(t, f)
		})
	}
}

// operator is who is at a brake of the first drop as proposed, over who supervises one.
func operator(n int) func(*day.Filled) string {
	return func(f *day.Filled) string { return f.Drops[0].Document.Team.Operators[n] }
}

func over(n int) func(*day.Filled) string {
	return func(f *day.Filled) string { return f.Board.Slots[n].Supervisor }
}

// On large boards it is never worse than a hand that only moves drops, and the same input
// gives the same board.
func TestFillLarge(t *testing.T) {
	for n := range uint64(4) {
		a := world(chance.Rand(22, n), 10, 12, 300)
		f, err := a.Fill(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		sound(t, f)
		out, moved := byHand(a)
		if len(f.Unplaced) > out || len(f.Unplaced) == out && counted(f) > moved {
			t.Errorf("world %d: %d left out and %d changes, by hand %d and %d", n, len(f.Unplaced), counted(f), out, moved)
		}
		g, _ := a.Fill(t.Context())
		one, _ := json.Marshal(f)
		two, _ := json.Marshal(g)
		if string(one) != string(two) {
			t.Errorf("world %d: asked twice, two boards", n)
		}
	}
}

// byHand places drop after drop: as it is, else at the first time without a conflict.
func byHand(a *day.Asked) (out, moved int) {
	b := *a
	b.Board.Slots = nil
	for _, s := range a.Board.Slots {
		own := s.From
		placed := false
		for _, from := range []day.Clock{own, "06:00", "06:30", "15:00", "15:30"} {
			if s.From = from; from == "" {
				continue
			}
			c := b
			c.Board.Slots = append(slices.Clone(b.Board.Slots), s)
			r, _ := c.Check()
			if !slices.ContainsFunc(r.Findings, func(f finding.Finding) bool { return f.Rule == "day.twice" || f.Rule == "day.wind" }) {
				b, placed = c, true
				break
			}
		}
		switch {
		case !placed:
			out++
		case own != "" && s.From != own:
			moved++
		}
	}
	return out, moved
}

// Cover across drops: nobody shared, no row; a rescuer who is at two drops is away from each
// while they rescue at the other, which never covers more; a longer way never covers more.
func TestCover(t *testing.T) {
	cache := new(cover.Cache)
	a := morning()
	c, err := a.Cover(t.Context(), cache)
	if err != nil || len(c.Shared) != 0 || len(c.Findings) != 0 {
		t.Fatalf("of one drop: %+v, %v", c, err)
	}
	twin := *demo.Drops()["face-7"].Clone()
	twin.Name = "Face 8"
	a.Drops = append(a.Drops, day.DropOf{ID: "face-8", Document: twin})
	a.Board.Slots = append(a.Board.Slots, day.Slot{Drop: "face-8", From: "10:00", Hours: 4})
	rows := func(come int) []day.Shared {
		a.Board.Slots[1].ComeMin = &come
		c, err := a.Cover(t.Context(), cache)
		if err != nil {
			t.Fatal(err)
		}
		if len(c.Findings) == 0 {
			t.Errorf("the rescuers of two drops at once, and nothing is found")
		}
		return c.Shared
	}
	near, far := rows(0), rows(600)
	if len(near) != 2*len(twin.Rescue.Rescuers) {
		t.Errorf("%d rows, want one for each rescuer and drop", len(near))
	}
	for i := range near {
		if near[i].For == "face-8" && length(near[i].Coming) > 0 {
			t.Errorf("%s comes from beside, and it is worse: %v", near[i].Name, near[i].Coming)
		}
		if length(far[i].Coming) < length(near[i].Coming) || length(far[i].Away) < length(far[i].Coming) && far[i].For == "face-8" && len(far[i].Away) == 0 {
			t.Errorf("%s from far away: %v, from near %v, not at all %v", near[i].Name, far[i].Coming, near[i].Coming, far[i].Away)
		}
		if near[i].Span != (day.Span{From: 600, To: 720}) || near[i].AwayS == 0 {
			t.Errorf("%s: %+v, %v s", near[i].Name, near[i].Span, near[i].AwayS)
		}
	}
	a.Board.Slots[1].From = "12:00"
	if c, err := a.Cover(t.Context(), cache); err != nil || len(c.Shared) != 0 {
		t.Errorf("one after the other: %v, %v", c, err)
	}
	// Who only looks after another drop comes from there too.
	a.Drops[1].Document.People, a.Drops[1].Document.Rescue = nil, nil
	a.Board.Slots[1].From, a.Board.Slots[1].Others = "10:00", []string{twin.Rescue.Rescuers[0].Person}
	if c, err := a.Cover(t.Context(), cache); err != nil || len(c.Shared) != 1 || c.Shared[0].For != "face-7" {
		t.Errorf("on site of another: %+v, %v", c, err)
	}
}

// What could not be looked at stands in the report: gusts that are not stated, a drop of the day before that
// is missing, a rescue that cannot be planned.
func TestNotLookedAt(t *testing.T) {
	told := func(a *day.Asked, words string) bool {
		t.Helper()
		r, err := a.Check()
		if err != nil {
			t.Fatal(err)
		}
		return slices.ContainsFunc(r.NotLookedAt, func(n string) bool { return strings.Contains(n, words) })
	}
	a := morning()
	if !told(a, "gusts on Face 7 in 4 of its stated hours") || told(a, "the day before") || told(a, "hazards") {
		t.Error("four hours without gusts")
	}
	for i := range a.Board.Wind {
		a.Board.Wind[i].GustMS = gust(3)
	}
	if told(a, "gusts on") {
		t.Error("gusts are stated")
	}
	// Rows from before the drop begins tell nothing of its hours, and hide nothing.
	if a.Board.Wind = append([]day.Wind{{At: "06:00", WindMS: 1}}, a.Board.Wind...); told(a, "the wind on") {
		t.Error("every hour of it is stated")
	}
	if a.Board.Wind[1].At = "08:01"; !told(a, "the wind on Face 7 from 08:00 to 08:01") {
		t.Error("a minute of it is not stated")
	}
	a.Before = &day.Board{Format: day.Format, Version: day.Version, Day: a.Board.Day.AddDays(-1), Slots: []day.Slot{{Drop: "gone", From: "22:00", Hours: 4}}}
	a.Board.Slots[0].NoHazards = false
	a.Board.Slots[0].Others, a.Drops[0].Document.Day = []string{"somebody"}, a.Board.Day.AddDays(1)
	if !told(a, "somebody, on site at Face 7: not among") || !told(a, "Face 7 on this day: it is planned for") {
		t.Error("somebody unknown, on a drop of another day")
	}
	if !told(a, "on gone the day before") || !told(a, "hazards of the work on Face 7") {
		t.Error("a drop of the day before is missing")
	}
	a = morning()
	if told(a, "it has no time yet") || told(a, "no last day") || told(a, "midnight") {
		t.Error("a drop that is placed, with papers that end, by day")
	}
	and(a, "gate-shaft", "")
	a.Board.Slots[0].From, a.People[0].Papers[1].Until = "22:00", ""
	if !told(a, "Gate shaft: it has no time yet") || !told(a, "no last day is entered") || !told(a, "past midnight from Face 7") {
		t.Error("a drop without a time, one by night, a paper without a last day")
	}
	a = crowded(t)
	c, err := a.Cover(t.Context(), new(cover.Cache))
	if err != nil {
		t.Fatal(err)
	}
	if len(c.Shared) != 2 || len(c.Findings) != 2 {
		t.Fatalf("%+v", c.Shared)
	}
	for _, s := range c.Shared {
		if !strings.Contains(s.Unknown, "cannot be planned") {
			t.Errorf("%s at %s, for %s: %+v", s.Name, s.At, s.For, s)
		}
	}
}

// crowded is a board on which Face 7 stands twice, once with more strands than a rescue is
// planned on.
func crowded(t *testing.T) *day.Asked {
	t.Helper()
	a := morning()
	d := demo.Drops()["face-7"].Clone()
	d.Name = "Face 8"
	rope := d.Items[slices.IndexFunc(d.Items, func(i gear.Item) bool { return i.ID == "rope-19" })]
	for set := 3; set <= 20; set++ {
		for n, role := range []rig.Role{rig.Main, rig.Backup} {
			id := fmt.Sprint(role, "-", set)
			item, anchor, strand := rope, d.Anchors[n], d.Strands[2+n]
			item.ID, item.Label, item.Serial, anchor.ID, anchor.Name = "rope-"+id, "rope "+id, id, id, id
			strand.ID, strand.Name, strand.Set, strand.Anchors, strand.Ropes = id, id, set, []string{id}, []string{item.ID}
			d.Items, d.Anchors, d.Strands = append(d.Items, item), append(d.Anchors, anchor), append(d.Strands, strand)
		}
	}
	a.Drops = append(a.Drops, day.DropOf{ID: "face-8", Document: *d})
	a.Board.Slots = append(a.Board.Slots, day.Slot{Drop: "face-8", From: "10:00", Hours: 4})
	return a
}

// What is given beside the board is of the day before, and each of the people is given once.
func TestRefused(t *testing.T) {
	for want, change := range map[string]func(*day.Asked){
		"/before/day":          func(a *day.Asked) { night(a, "22:00", 1); a.Before.Day = a.Board.Day },
		"/before/slots/1/drop": func(a *day.Asked) { night(a, "22:00", 1); a.Before.Slots = append(a.Before.Slots, a.Before.Slots[0]) },
		"/people/4/id":         func(a *day.Asked) { a.People = append(a.People[:4], a.People[0]) },
	} {
		a := morning()
		change(a)
		if _, err := a.Check(); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v", want, err)
		}
	}
}

func length(gaps []cover.Gap) (m quantity.Metres) {
	for _, g := range gaps {
		m += g.ToM - g.FromM + 1
	}
	return m
}

func FuzzRead(f *testing.F) {
	text, _ := json.Marshal(morning().Board)
	f.Add(text)
	f.Add([]byte(`{"format":"board","version":1,"day":"2026-05-04","slots":[{"drop":"a","hours":1},{"drop":"a","hours":1}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		b, err := day.Read(data)
		if err != nil {
			return
		}
		text, _ := json.Marshal(b)
		if again, err := day.Read(text); err != nil || len(again.Slots) != len(b.Slots) {
			t.Errorf("written and read again: %v", err)
		}
	})
}

// BenchmarkFill fills five days of ten drops with twelve people from a store of 3 000 items.
func BenchmarkFill(b *testing.B) {
	var days []*day.Asked
	for n := range uint64(5) {
		days = append(days, world(chance.Rand(23, n), 10, 12, 3000))
	}
	for b.Loop() {
		for _, a := range days {
			if _, err := a.Fill(b.Context()); err != nil {
				b.Fatal(err)
			}
		}
	}
}
