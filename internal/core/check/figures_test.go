package check_test

import (
	"encoding/json"
	"math"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/check"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/demo"
)

func checked(t testing.TB, d *drop.Document, detail check.Detail) *check.Report {
	t.Helper()
	r, err := check.Drop(t.Context(), d, nil, detail)
	if err != nil {
		t.Fatal(err)
	}
	return r
}

// shownOn is a figure of a hold with its name.
func shownOn(t testing.TB, d *drop.Document, hold, name string) check.Shown {
	t.Helper()
	for _, h := range checked(t, d, check.WithFigures).Holds {
		i := slices.IndexFunc(h.Figures, func(f check.Shown) bool { return h.Hold == hold && f.Name == name })
		if i >= 0 {
			return h.Figures[i]
		}
	}
	t.Fatalf("no figure %q on %s", name, hold)
	return check.Shown{}
}

// What a curve says at a height is what the hold says with its person there; the
// worst is the greatest; there is a value for each height.
func TestCurvesAgreeWithHolds(t *testing.T) {
	d := demo.Drops()["face-4"]
	d.WindMS = 7
	c := checked(t, d, check.Detail{Curves: true, Person: "rhea"}).Curves
	if c.Person != "rhea" || c.Heights[0] != 0 || c.Heights[len(c.Heights)-1] != 96 || !slices.IsSorted(c.Heights) {
		t.Fatalf("%s: %v", c.Person, c.Heights)
	}
	curve := map[string]check.Curve{}
	for _, v := range c.Curves {
		curve[v.ID] = v
		for _, l := range v.Lines {
			if len(l.Values) != len(c.Heights) {
				t.Errorf("%s %s: %d values for %d heights", v.ID, l.Name, len(l.Values), len(c.Heights))
			}
		}
		if first := v.Lines[0].Values; v.ID != "clearance" && first[v.Worst.Index] != slices.MaxFunc(first, func(a, b float64) int {
			// Not a number counts as least.
			return map[bool]int{true: -1, false: 1}[!(a >= b)]
		}) {
			t.Errorf("%s: %v at %d is not the worst", v.ID, first[v.Worst.Index], v.Worst.Index)
		}
	}
	r := chance.Rand(1, 1)
	for range 40 {
		i := 4 + r.IntN(len(c.Heights)-8)
		d.People[0].AtM = quantity.Metres(c.Heights[i])
		for id, of := range map[string][2]string{
			"arrest": {"rhea-backup", "arrest force"}, "clearance": {"rhea-backup", "clearance needed"}, "wind": {"rhea-backup", "wind draws"},
			"stretch": {"rhea-main", "stretch here"}, "hand": {"rhea-main", "hand on the brake"},
		} {
			want := shownOn(t, d, of[0], of[1]).Value
			if got := curve[id].Lines[0].Values[i]; math.Abs(got-want) > 1e-9 {
				t.Errorf("%s at %v m: %v on the curve, %v on the hold", id, c.Heights[i], got, want)
			}
		}
	}
	// At the bottom the device is as hot as the hold says it will be.
	if got, want := curve["heat"].Lines[0].Values[0], shownOn(t, d, "rhea-main", "device at the bottom").Value; math.Abs(got-want) > 1e-9 {
		t.Errorf("heat at the bottom %v, want %v", got, want)
	}
	// Just above the gallery sill the clearance there is least.
	if at := c.Heights[curve["clearance"].Worst.Index]; at != 32 || !curve["clearance"].Worst.Beyond {
		t.Errorf("clearance is worst at %v", at)
	}
	d.Items[slices.IndexFunc(d.Items, isRope3)].LengthM = 60
	text, err := json.Marshal(checked(t, d, check.Detail{Curves: true}).Curves)
	if err != nil || !strings.Contains(string(text), `"name":"main","values":[null,`) {
		t.Errorf("below the end of a rope there is a value: %v", err)
	}
}

// Random drops, and drops so high that the step grows: curves are finite or not
// there, and nothing panics.
func TestCurvesOfRandomDrops(t *testing.T) {
	r := chance.Rand(5, 24)
	for n := range 200 {
		d := random(r)
		d.WindMS = quantity.MetresPerSecond(15 * r.Float64())
		if n%10 == 0 {
			d.Geometry.TopM = 2000
		}
		c := checked(t, d, check.Detail{Curves: true}).Curves
		if len(c.Heights) > 1001 {
			t.Fatalf("%d heights", len(c.Heights))
		}
		for _, v := range c.Curves {
			for _, l := range v.Lines {
				if slices.ContainsFunc(l.Values, func(f float64) bool { return math.IsInf(f, 0) || f < -274 }) {
					t.Fatalf("drop %d: %s: %v", n, v.ID, l.Values)
				}
			}
		}
	}
}

// The wind's slack is in the fall; a parked wheel and a cam draw none; the team's
// tables, the bend and the state of the rope change what the hand feels.
func TestFiguresFollow(t *testing.T) {
	value := func(change func(*drop.Document), hold, name string) float64 {
		d := demo.Drops()["face-4"]
		change(d)
		return shownOn(t, d, hold, name).Value
	}
	backup := func(d *drop.Document) *rig.Hold { return &d.People[0].Holds[1] }
	calm := func(d *drop.Document) { d.WindMS = 0 }
	storm := func(d *drop.Document) { d.WindMS = 9 }
	parked := func(d *drop.Document) { storm(d); backup(d).Position = "parked" }
	slack := value(storm, "rhea-backup", "wind draws")
	by := func(d *drop.Document) { calm(d); backup(d).SlackM = quantity.Metres(slack) }
	if value(storm, "rhea-backup", "arrest force") != value(by, "rhea-backup", "arrest force") || slack < 0.3 {
		t.Errorf("%v m drawn by the wind is not in the fall", slack)
	}
	if value(parked, "rhea-backup", "arrest force") != value(calm, "rhea-backup", "arrest force") {
		t.Error("a parked wheel draws slack")
	}
	hand := func(change func(*drop.Document)) float64 { return value(change, "rhea-main", "hand on the brake") }
	asIs := hand(func(*drop.Document) {})
	for name, more := range map[string]func(*drop.Document){
		"no bend":           func(d *drop.Document) { d.People[0].Holds[0].ExtraFriction = false },
		"ice":               func(d *drop.Document) { d.Items[slices.IndexFunc(d.Items, isRope3)].Condition = gear.Icy },
		"a smoother table":  func(d *drop.Document) { d.Policy.Friction = &policy.RopeFriction{Wet: 0.1} },
		"a heavier partner": func(d *drop.Document) { d.People[0].Holds[0].SecondKg = 120 },
		"less rope below":   func(d *drop.Document) { d.People[0].AtM = 53 },
	} {
		if got := hand(more); got <= asIs {
			t.Errorf("%s: %v kN, before %v", name, got, asIs)
		}
	}
	report := checked(t, demo.Drops()["face-4"], check.WithFigures)
	main := report.Anchors[0]
	if main.Legs[0].Drop == nil || main.Legs[0].Peak == nil || math.Abs(main.Legs[0].Share.Value-100/(2*math.Cos(math.Atan(0.5)))) > 1e-9 {
		t.Errorf("%+v", main.Legs[0])
	}
	if single := report.Anchors[2]; !single.Legs[0].Lost || single.Angle.Value != 0 {
		t.Errorf("%+v", single)
	}
	d := demo.Drops()["face-4"]
	d.Anchors[0].Legs = append(d.Anchors[0].Legs, rig.Leg{ID: "third", YM: 1})
	if f := checked(t, d, check.WithFigures).Anchors[0]; !strings.Contains(f.WhyUnshared, "more legs than dimensions") || f.Legs[2].Share.Value != 100 {
		t.Errorf("%+v", f)
	}
}

func isRope3(i gear.Item) bool { return i.ID == "rope-3" }

// What loop to leave at a re-belay is from the shortest lanyards of who is on the drop: in
// a loop of that slack one stands up, in one just shorter or longer one does not.
func TestLoopToLeave(t *testing.T) {
	d := demo.Drops()["face-4"]
	figure := func(d *drop.Document) (f check.Shown, n int) {
		for _, s := range checked(t, d, check.WithFigures).Strands {
			for _, v := range s.Figures {
				if strings.HasPrefix(v.Name, "loop to leave at") {
					f, n = v, n+1
				}
			}
		}
		return f, n
	}
	f, n := figure(d)
	if n == 0 {
		t.Fatal("the re-belay has no loop figure")
	}
	least, most := stance.LoopToStandIn(0.6)
	if f.Value != float64(least) || f.Limit == nil || f.Limit.Value != float64(most) {
		t.Errorf("%+v; want %v to %v", f, least, most)
	}
	// A second lanyard so long that no loop suits both: no length is shown.
	for extra, suits := range map[quantity.Metres]bool{0.45: true, 0.451: false} {
		far := demo.Drops()["face-4"]
		far.People[0].Carries = slices.Clone(far.People[0].Carries)
		other := far.People[0]
		other.ID, other.Holds, other.Carries, other.Harness, other.Grounded = "una", nil, []string{"lanyard-99"}, "", true
		model := *model(far, far.Items[slices.IndexFunc(far.Items, func(i gear.Item) bool { return strings.HasPrefix(i.ID, "lanyard") })].Model)
		model.ID, model.LengthM = "lanyard-other", 0.6+extra
		far.Models, far.Items = append(far.Models, model), append(far.Items, gear.Item{ID: "lanyard-99", Model: model.ID, Serial: "99", Label: "lanyard 99", State: gear.InService})
		far.People = append(far.People, other)
		if f, n := figure(far); n == 0 || (f.Limit != nil) != suits {
			t.Errorf("%v longer: %+v", extra, f)
		}
	}
	for i := range d.People {
		d.People[i].Carries = slices.DeleteFunc(d.People[i].Carries, func(i string) bool { return strings.HasPrefix(i, "lanyard") })
	}
	if _, n := figure(d); n != 0 {
		t.Error("a loop for nobody's lanyard")
	}
}
