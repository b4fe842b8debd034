package pair_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/caught"
	"zealousknot/internal/chance"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
)

// made is a drop of two sets beside each other, a rescuer with a full kit and a
// casualty on the first set.
type made struct {
	apart      quantity.Metres
	rated      bool // the rescuer's backup is rated for two
	descender  bool // and the descender
	connectors int
	lifts      bool
	ours, hurt quantity.Kilograms
	kind       gear.BackupKind
	on         pair.On
	keep       bool
	lowered    bool // by a team, on the second set
	set        int
}

func whole() made {
	return made{apart: 0.9, rated: true, descender: true, connectors: 10, lifts: true, ours: 85, hurt: 95, kind: gear.Wheel, on: pair.OnDescender, set: 2}
}

func device(id string, class gear.Class, persons int) *rig.Piece {
	m := &gear.Model{ID: id, Class: class, StrengthKN: 20, Device: &gear.Device{
		Modes:     []gear.Mode{{Name: "one", Persons: 1, MaxKg: 150}},
		Positions: []gear.Position{{Name: "park", HandsOff: gear.Stops, Parked: true}, {Name: "work", HandsOff: gear.Creeps}}, OpensOnConnector: true,
	}}
	if persons > 1 {
		m.Device.Modes = append(m.Device.Modes, gear.Mode{Name: "two", Persons: 2, MaxKg: 250, Needs: gear.ExtraFriction})
		if class != gear.Descender {
			m.Device.Modes[1].Needs = ""
		}
	}
	return &rig.Piece{Item: &gear.Item{ID: id, Label: id}, Model: m}
}

func thing(id string, class gear.Class, length quantity.Metres) *rig.Piece {
	m := &gear.Model{ID: id, Class: class, StrengthKN: 22, LengthM: length}
	if class == gear.Connector {
		m.Connector = &gear.ConnectorModel{Gate: "screw"}
	}
	return &rig.Piece{Item: &gear.Item{ID: id, Label: id}, Model: m}
}

func body(name string, mass quantity.Kilograms, kind gear.BackupKind, list ...*rig.Piece) *rig.PersonView {
	p := &rig.PersonView{Person: &rig.Person{ID: name, Name: name, MassKg: mass}, Carries: list}
	for _, o := range list {
		if o.Model.Class == gear.BackupDevice {
			o.Model.Backup = &gear.Backup{Kind: kind, Links: []gear.AllowedLink{{Model: "link-" + name, MaxM: 0.4}}, LockDistanceM: 0.1}
			p.Carries = append(p.Carries, &rig.Piece{Item: &gear.Item{ID: "link-" + name, Label: "link"}, Model: &gear.Model{ID: "link-" + name, Class: gear.Lanyard, LengthM: 0.4}})
		}
	}
	p.All = p.Carries
	return p
}

// scene makes the scene and where it begins.
func (m made) scene(t testing.TB, at quantity.Metres) (*pair.Scene, pair.State) {
	t.Helper()
	persons := func(two bool) int {
		if two {
			return 2
		}
		return 1
	}
	r := &rig.Rig{Geometry: &rig.Geometry{TopM: 60}}
	for set := range 2 {
		for i, role := range []rig.Role{rig.Main, rig.Backup} {
			id := fmt.Sprintf("%s-%d", role, set+1)
			a := &rig.AnchorView{Anchor: &rig.Anchor{ID: "anchor-" + id, Name: "anchor " + id, HeightM: 60, XM: m.apart*quantity.Metres(set) + 0.2*quantity.Metres(i)}}
			r.Anchors = append(r.Anchors, a)
			rope := &rig.Piece{Item: &gear.Item{ID: "rope-" + id, LengthM: 80}, Model: &gear.Model{Class: gear.Rope, Rope: &gear.RopeModel{DiameterMM: 10.5, MassGPerM: 71, ElongationPct: 3.6}}}
			s := &rig.StrandView{Strand: &rig.Strand{ID: id, Name: id, Role: role, Set: set + 1, Anchors: []string{a.ID}}, Anchors: []*rig.AnchorView{a}, Ropes: []rig.RopePart{{Piece: rope, TopM: 60, BottomM: -20}}}
			s.Sections = []rig.Section{{TopM: 60, Anchors: s.Anchors}}
			r.Strands = append(r.Strands, s)
		}
	}
	kit := []*rig.Piece{device("own-descender", gear.Descender, persons(m.descender)), device("own-backup", gear.BackupDevice, persons(m.rated)), thing("long", gear.Lanyard, 0.9), thing("short", gear.Lanyard, 0.6)}
	for i := range m.connectors {
		kit = append(kit, thing(fmt.Sprint("connector-", i), gear.Connector, 0.11))
	}
	theirs := []*rig.Piece{device("their-descender", gear.Descender, 1), device("their-backup", gear.BackupDevice, 1), device("their-chest", gear.ChestAscender, 1)}
	rescuer, casualty := body("Rhea", m.ours, gear.Wheel, kit...), body("Ivo", m.hurt, m.kind, theirs...)
	sc := &pair.Scene{LongTool: 2, LinkCm: 11, StrapCm: 60, CanLift: m.lifts, KeepBackup: m.keep, Times: pair.ShippedTimes()}
	var err error
	if sc.R, err = stance.NewScene(r, rescuer, 0.11, school.Schools{}); err != nil {
		t.Fatal(err)
	}
	if sc.C, err = stance.NewScene(r, casualty, 0.11, school.Schools{}); err != nil {
		t.Fatal(err)
	}
	if m.lowered {
		sc.R = sc.R.Lowered(device("brake-1", gear.Descender, persons(m.descender)), device("brake-2", gear.Descender, persons(m.rated)), 30)
		sc.FromAnchor = true
	}
	sc.LongTool = sc.R.Tool("long")
	p, err := sc.Begin(stance.ToCm(at), m.set, 1, m.on)
	if err != nil {
		t.Fatal(err)
	}
	sc.Connectors = sc.R.Connectors - 4
	return sc, p
}

// read reads steps such as "chain 2" or "take-off their-backup".
func read(t *testing.T, text string) []pair.Action {
	t.Helper()
	var list []pair.Action
	for line := range strings.Lines(strings.TrimSpace(text)) {
		f := strings.Fields(line)
		a := pair.Action{Do: pair.Do(f[0])}
		for _, w := range f[1:] {
			switch {
			case w == "own":
				a.Strand = pair.Rescuers
			case w == "theirs":
				a.Strand = pair.Casualtys
			case w == "strap":
				a.Strap = true
			case w == "unlocked":
				a.Unlocked = true
			case a.Do == pair.ChainOn:
				_, _ = fmt.Sscan(w, &a.Links)
			case a.Do == pair.Descend:
				_, _ = fmt.Sscan(w, &a.AtM)
			default:
				a.Item = w
			}
		}
		list = append(list, a)
	}
	return list
}

func stops(found []stance.Breach) bool {
	return slices.ContainsFunc(found, func(b stance.Breach) bool { return b.Stops() })
}

const byHand = `
	tie-off
	clear-legs
	long-lanyard
	chain 2
	take-strand theirs
	unpark-theirs
	lower-theirs
	take-off their-descender
	take-off their-backup
	bend own
	take-strand own
	untie-off
	unpark`

// What a careful rescuer does, worked by hand, replays clean and ends ready to go down;
// the plan that is found puts on and takes off no more.
func TestSequences(t *testing.T) {
	lifted := lift(byHand)
	backup := strings.NewReplacer("take-off their-backup\n\t", "").Replace(byHand)
	one, keep, chest, own, onBackup, lowered := whole(), whole(), whole(), whole(), whole(), whole()
	lowered.lowered = true
	one.rated = false
	keep.keep = true
	chest.on = pair.OnChest
	own.set = 1
	onBackup.on = pair.OnBackup
	for name, c := range map[string]struct {
		made  made
		steps string
	}{
		"on a descender":                   {whole(), byHand},
		"the backup stays, rated for one":  {one, backup},
		"the backup stays, by school":      {keep, backup},
		"on a chest ascender":              {chest, lifted},
		"on the casualty's own strands":    {own, strings.Replace(byHand, "chain 2", "chain 1 strap", 1)},
		"lowered by a team":                {lowered, strings.Replace(byHand, "take-strand own\n\t", "", 1)},
		"on the backup, the descender off": {onBackup, strings.NewReplacer("take-off their-chest", "take-off their-descender").Replace(lifted)},
	} {
		sc, start := c.made.scene(t, 30)
		list := read(t, c.steps)
		walked, found := sc.Walk("", start, list)
		end, done := sc.End(start, list)
		if stops(found) || !done || !sc.Ready(&end) {
			t.Errorf("%s: %+v, ends %+v", name, found, walked.Steps[len(walked.Steps)-1].After)
		}
		plan, err := sc.Find(t.Context(), "", start)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if plan.Handled > walked.Handled || len(plan.Steps) > len(list) {
			t.Errorf("%s: %d steps handle %d, by hand %d and %d", name, len(plan.Steps), plan.Handled, len(list), walked.Handled)
		}
		down := append(slices.Clone(list), read(t, "descend 1\nland")...)
		if found := second(sc, start, down); found != "" {
			t.Errorf("%s down to the landing: %s", name, found)
		}
	}
}

func second(sc *pair.Scene, start pair.State, list []pair.Action) string {
	_, found := sc.Walk("", start, list)
	for _, b := range found {
		if b.Stops() {
			return fmt.Sprintf("%+v", b)
		}
	}
	return ""
}

// spoiled are things that go wrong in a rescue, each made of a good list at a step; nil
// where it does not apply.
var spoiled = map[string]func(l []pair.Action, i int) []pair.Action{
	"a step is left out": func(l []pair.Action, i int) []pair.Action { return slices.Delete(l, i, i+1) },
	"the strands are confused": func(l []pair.Action, i int) []pair.Action {
		if l[i].Do != pair.TakeStrand && l[i].Do != pair.Bend {
			return nil
		}
		l[i].Strand = 3 - l[i].Strand
		return l
	},
	"a gate stays open": func(l []pair.Action, i int) []pair.Action {
		if l[i].Do != pair.ChainOn && l[i].Do != pair.LongOn {
			return nil
		}
		l[i].Unlocked = true
		return l
	},
	"the chain is far too long": func(l []pair.Action, i int) []pair.Action {
		if l[i].Do != pair.ChainOn || l[i].Strap {
			return nil
		}
		l[i].Links, l[i].Strap = 5, true
		return l
	},
	"what bears is taken off": func(l []pair.Action, i int) []pair.Action {
		if l[i].Do != pair.LowerTheirs && l[i].Do != pair.Lift {
			return nil
		}
		off := slices.IndexFunc(l, func(a pair.Action) bool {
			return a.Do == pair.TakeOff && (a.Item == "their-descender" || a.Item == "their-chest")
		})
		if off < 0 {
			return nil
		}
		return slices.Insert(l, i, l[off])
	},
	"two are swapped": func(l []pair.Action, i int) []pair.Action {
		if i == 0 {
			return nil
		}
		l[i], l[i-1] = l[i-1], l[i]
		return l
	},
}

// some is a rescue with what is there drawn by lot.
func some(r *rand.Rand) made {
	m := whole()
	m.apart = quantity.Metres(2+r.IntN(12)) / 10
	m.rated, m.descender, m.lifts, m.keep = r.IntN(3) > 0, r.IntN(4) > 0, r.IntN(3) > 0, r.IntN(3) == 0
	m.connectors = 5 + r.IntN(7)
	m.ours, m.hurt = quantity.Kilograms(60+r.IntN(50)), quantity.Kilograms(55+r.IntN(90))
	m.on = []pair.On{pair.OnDescender, pair.OnChest, pair.OnBackup}[r.IntN(3)]
	m.kind = []gear.BackupKind{gear.Cam, gear.Wheel}[r.IntN(2)]
	m.set = 1 + r.IntN(2)
	if m.lowered = r.IntN(4) == 0; m.lowered {
		m.set = 2
	}
	return m
}

// Whatever the kit, the masses and where the casualty hangs: a plan that is found
// replays clean, holds both whatever one thing fails, comes out the same twice; and
// what is confused, forgotten or left open is caught at its step or after it. Where the
// rescuer's devices are rated for one, no plan puts two on them.
func TestRescues(t *testing.T) {
	r := chance.Rand(7, 1)
	stopped, passed, found, none := map[string]int{}, map[string]int{}, 0, 0
	tally := caught.New(catches)
	for range 250 {
		m := some(r)
		sc, start := m.scene(t, quantity.Metres(5+r.IntN(50)))
		plan, err := sc.Find(t.Context(), "", start)
		if errors.Is(err, search.ErrNone) {
			none++
			continue
		}
		if err != nil {
			t.Fatal(err)
		}
		found++
		if !m.descender || m.ours+m.hurt > 250 {
			t.Errorf("%+v: two on a descender for one", m)
		}
		good := make([]pair.Action, len(plan.Steps))
		for i := range plan.Steps {
			good[i] = plan.Steps[i].Action
			for _, l := range plan.Steps[i].FailOne {
				if !l.Held {
					t.Errorf("%+v step %d: if %s goes somebody falls", m, i+1, l.Words)
				}
			}
		}
		end, done := sc.End(start, good)
		if bad := second(sc, start, good); bad != "" || !done || !sc.Ready(&end) {
			t.Errorf("%+v: %s", m, bad)
		}
		if again, err := sc.Find(t.Context(), "", start); err != nil || len(again.Steps) != len(plan.Steps) {
			t.Errorf("%+v is not planned twice alike", m)
		}
		for kind, spoil := range spoiled {
			for i := range good {
				list := spoil(slices.Clone(good), i)
				if list == nil {
					continue
				}
				_, breaches := sc.Walk("", start, list)
				last, done := sc.End(start, list)
				first := slices.IndexFunc(breaches, func(b stance.Breach) bool { return b.Stops() })
				if first >= 0 && kind != "two are swapped" {
					tally.Add(t, kind, string(good[i].Do), &breaches[first])
				}
				switch {
				case first >= 0 && breaches[first].Step < i:
					t.Errorf("%s at step %d is reported at step %d", kind, i+1, breaches[first].Step)
				case first >= 0 || !done || !sc.Ready(&last):
					stopped[kind]++
				case last != end:
					if passed[kind]++; passed[kind] < 3 {
						t.Logf("let pass: %s at step %d, %+v", kind, i+1, good[i])
					}
				}
			}
		}
	}
	t.Logf("%d found, %d not; caught %v, let pass %v", found, none, stopped, passed)
	if found < 60 || none < 20 {
		t.Errorf("%d found, %d not", found, none)
	}
	tally.Check(t, 15)
	for kind := range spoiled {
		if stopped[kind] == 0 || passed[kind]*50 > stopped[kind] {
			t.Errorf("%s: %d caught, %d let pass", kind, stopped[kind], passed[kind])
		}
	}
}

// catches are the rules that must report a fault.
var catches = caught.By{
	"a gate stays open":                {"connector.gate", "rescue.long"},
	"the chain is far too long":        {caught.CannotBeDone},
	"the strands are confused":         {caught.CannotBeDone, "rescue.strand"},
	"what bears is taken off":          {"moves.bearing", "rescue.stripped"},
	"a step is left out/bend":          {"device.two"},
	"a step is left out/chain":         {caught.CannotBeDone, "rescue.long"},
	"a step is left out/clear-legs":    {"rescue.legs"},
	"a step is left out/let-up":        {"rescue.lift"},
	"a step is left out/lift":          {caught.CannotBeDone},
	"a step is left out/long-lanyard":  {"rescue.long"},
	"a step is left out/lower-theirs":  {"moves.bearing"},
	"a step is left out/rig-lift":      {caught.CannotBeDone},
	"a step is left out/take-strand":   {"rescue.strand"},
	"a step is left out/tie-off":       {"device.mode"},
	"a step is left out/unpark-theirs": {caught.CannotBeDone},
	"a step is left out/untie-off":     {caught.CannotBeDone},
}

// Taken away one by one, nothing that holds either of them may be the only thing: an
// independent count of ways for every pair on every plan.
func TestHeldTwice(t *testing.T) {
	for _, on := range []pair.On{pair.OnDescender, pair.OnChest} {
		m := whole()
		m.on = on
		sc, start := m.scene(t, 30)
		plan, err := sc.Find(t.Context(), "", start)
		if err != nil {
			t.Fatal(err)
		}
		for i, st := range plan.Steps {
			after := st.After
			// Every strand that somebody's device is on is a way; the casualty has the
			// rescuer's by lanyard and chain.
			ways := func(list []pair.ShownHold) map[string]bool {
				strands := map[string]bool{}
				for _, h := range list {
					strands[h.Strand] = true
				}
				return strands
			}
			casualty := ways(after.Theirs)
			if after.Long == "locked" || after.Chain == "locked" {
				for s := range ways(after.Own) {
					casualty[s] = true
				}
			}
			if len(ways(after.Own)) < 2 || len(casualty) < 2 {
				t.Errorf("%s, step %d: %+v", on, i+1, after)
			}
			if len(after.Theirs) == 0 && (after.Long != "locked" || after.Chain != "locked") {
				t.Errorf("%s, step %d: the casualty hangs on one connection", on, i+1)
			}
		}
	}
}

// A way down is offered from the lowest to the highest place, and nothing beside.
func TestOfferedDown(t *testing.T) {
	low, high := quantity.Metres(5), quantity.Metres(30)
	o := pair.Offer{Action: pair.Action{Do: pair.Descend, AtM: low}, LowM: &low, HighM: &high}
	for at, has := range map[quantity.Metres]bool{4.98: false, 5: true, 17: true, 30: true, 30.02: false} {
		if o.Has(pair.Action{Do: pair.Descend, AtM: at}) != has || o.Has(pair.Action{Do: pair.Land, AtM: at}) {
			t.Errorf("%v", at)
		}
	}
}

// Whatever is typed as actions is done or refused, and never leaves somebody out of
// sight of the rules.
func FuzzActions(f *testing.F) {
	sc, start := whole().scene(f, 30)
	f.Add([]byte{2, 4, 5, 6, 8, 9, 10})
	all := []pair.Do{pair.Park, pair.TieOff, pair.UntieOff, pair.Unpark, pair.ClearAll, pair.LongOn, pair.ChainOn, pair.LockIt, pair.TakeStrand, pair.FreeTheirs, pair.LowerTheirs, pair.RigLift, pair.Lift, pair.LetUp, pair.TakeOff, pair.Bend, pair.Descend, pair.Land}
	f.Fuzz(func(t *testing.T, text []byte) {
		var list []pair.Action
		for _, c := range text[:min(len(text), 40)] {
			list = append(list, pair.Action{
				Do: all[int(c)%len(all)], Links: int(c>>5) + 1, Strand: pair.Strand(c>>6) % 3, Strap: c&16 > 0, AtM: quantity.Metres(c) / 8, Unlocked: c == 255,
				Item: []string{"their-descender", "their-backup", "their-chest", ""}[c>>6],
			})
		}
		walked, found := sc.Walk("", start, list)
		for i, st := range walked.Steps {
			for _, l := range st.FailOne {
				told := slices.ContainsFunc(found, func(b stance.Breach) bool { return b.Step == i+1 && b.Stops() })
				if !l.Held && !told {
					t.Errorf("%v: step %d, if %s goes somebody falls, and no rule says so", list, i+1, l.Words)
				}
			}
		}
	})
}

func BenchmarkPickOff(b *testing.B) {
	for _, on := range []pair.On{pair.OnDescender, pair.OnChest} {
		b.Run(string(on), func(b *testing.B) {
			m := whole()
			m.on = on
			sc, start := m.scene(b, 30)
			for b.Loop() {
				if _, err := sc.Find(b.Context(), "", start); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
