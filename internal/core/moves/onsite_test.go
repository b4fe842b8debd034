package moves_test

import (
	"context"
	"errors"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/demo"
)

// sceneOn is the scene of the first person on a drop, with where they are.
func sceneOn(d *drop.Document, ways school.Schools) (*stance.Scene, quantity.Metres, error) {
	s, err := site.Open(d)
	if err != nil {
		return nil, 0, err
	}
	sc, p, err := moves.Scene(s, "", ways)
	if err != nil {
		return nil, 0, err
	}
	return sc, p.AtM, nil
}

// planOn plans a move of the first person on a drop; additions are of the drop and a store.
func planOn(ctx context.Context, d *drop.Document, ask moves.Ask, ways school.Schools, store *drop.Store) (*moves.Plan, error) {
	s, err := site.Open(d)
	if err != nil {
		return nil, err
	}
	return moves.On(ctx, s, "", ask, ways, func() ([]gear.Model, error) {
		if store == nil {
			return nil, nil
		}
		return store.Models, nil
	})
}

// What is carried and may not be used on the day, or is not for it, is not planned with, and the
// answer says why; what is as it must be changes nothing. A list that counts on it says so.
func TestLeftOut(t *testing.T) {
	ask := moves.Ask{Move: "descend-to-ascend"}
	sound, err := planOn(t.Context(), demo.Drops()["gate-shaft"], ask, school.Schools{}, nil)
	if err != nil || len(sound.LeftOut) > 0 {
		t.Fatal(err, sound)
	}
	list := moves.StepsOf(sound)
	chest := func(d *drop.Document) (*gear.Item, *gear.Model) {
		i := &d.Items[slices.IndexFunc(d.Items, func(o gear.Item) bool { return o.ID == "chest-2" })]
		return i, &d.Models[slices.IndexFunc(d.Models, func(m gear.Model) bool { return m.ID == i.Model })]
	}
	mass := float64(demo.Drops()["gate-shaft"].People[0].MassKg)
	for says, change := range map[string]func(*gear.Item, *gear.Model){
		"":                       func(*gear.Item, *gear.Model) {},
		"is in quarantine":       func(i *gear.Item, _ *gear.Model) { i.State, i.Reason = gear.Quarantine, "dropped" },
		"is retired":             func(i *gear.Item, _ *gear.Model) { i.State, i.Reason = gear.Retired, "worn" },
		"overdue":                func(i *gear.Item, _ *gear.Model) { i.ExaminedOn = "2024-01-01" },
		"takes none of the rope": func(_ *gear.Item, m *gear.Model) { m.Device.Modes[0].Ropes[0].MaxMM = 9 },
		"and they weigh":         func(_ *gear.Item, m *gear.Model) { m.Device.Modes[0].MaxKg = quantity.Kilograms(mass - 1) },
		"working load limit":     func(_ *gear.Item, m *gear.Model) { m.WorkingLoads[0].Mass = quantity.Kilograms(mass - 1) },
		"breaks at":              func(_ *gear.Item, m *gear.Model) { m.StrengthKN = quantity.Weight(quantity.Kilograms(mass)) * 4.9 },
	} {
		d := demo.Drops()["gate-shaft"]
		change(chest(d))
		_, err := planOn(t.Context(), d, ask, school.Schools{}, nil)
		var none *moves.Impossible
		if says == "" {
			if err != nil {
				t.Error(err)
			}
			continue
		}
		if !errors.As(err, &none) || len(none.LeftOut) != 1 || !strings.Contains(none.LeftOut[0], says) || !strings.Contains(none.Error(), says) {
			t.Errorf("%s: %v", says, err)
		}
		if _, found, err := walkOn(d, list, school.Schools{}); err != nil || !slices.ContainsFunc(found, func(b moves.Breach) bool { return strings.Contains(b.Impossible, says) }) {
			t.Errorf("%s: a list that counts on it: %v, %+v", says, err, found)
		}
	}
	// Where the move goes without it, it is found, and says what is left out.
	d := demo.Drops()["gate-shaft"]
	i, _ := chest(d)
	i.State, i.Reason = gear.Quarantine, "dropped"
	p, err := planOn(t.Context(), d, moves.Ask{Move: "descend"}, school.Schools{}, nil)
	if err != nil || len(p.LeftOut) != 1 {
		t.Errorf("%v, %+v", err, p)
	}
}

// walkOn walks a list on a drop.
func walkOn(d *drop.Document, list *moves.StepList, ways school.Schools) (*moves.Plan, []moves.Breach, error) {
	s, err := site.Open(d)
	if err != nil {
		return nil, nil, err
	}
	return list.Walk(s, ways)
}

// A set that hangs farther aside than an arm and the longest rope allow is out of reach, at any
// height: that is proved, not searched for. 80 N hold 96 kg aside by 2.09 m on the 24.6 m of rope
// above where one stands; the arm reaches 0.7 m.
func TestSetOutOfReach(t *testing.T) {
	aside := func(gap quantity.Metres) error {
		d := demo.Drops()["crown-gallery"]
		d.Strands[0].Marks = nil
		// The nearest two strands are the first set's backup and the second set's main.
		for i := range d.Anchors {
			if a := &d.Anchors[i]; a.ID == "right-main" || a.ID == "right-backup" {
				a.XM += gap - 1.4
			}
		}
		_, err := planOn(t.Context(), d, moves.Ask{Move: "transfer", MaxStates: 20_000}, school.Schools{}, nil)
		return err
	}
	for _, c := range []struct {
		gap   quantity.Metres
		proof bool
	}{{1.4, false}, {2.2, false}, {2.78, false}, {2.8, true}, {4, true}, {40, true}} {
		var none *moves.Impossible
		is := errors.As(aside(c.gap), &none) && none.Outcome == "none"
		if is != c.proof || is && (none.Expanded > 20_000 || !strings.Contains(none.Beyond, "gets at what is more than 2.79 m aside")) {
			t.Errorf("%v aside: %v, %+v", c.gap, is, none)
		}
	}
	if err := aside(2.2); err != nil {
		t.Errorf("2.2 m aside: %v", err)
	}
}
