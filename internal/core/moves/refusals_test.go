package moves_test

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

// refusal is an action that cannot be done, in words, and the nearest thing that can:
// after mend, or may instead.
type refusal struct {
	words string
	d     func() *drop.Document
	bears string // left out: the descender
	has   func(h *hung)
	do    stance.Action
	mend  func(h *hung)
	may   *stance.Action
}

func off(item string) func(h *hung) { return func(h *hung) { *h.hold(item) = stance.Hold{} } }

func handOn(at stance.Cm) func(h *hung) { return func(h *hung) { h.on("hand-2", 0, at) } }

// upright stands in the foot loop of the hand ascender at a height.
func upright(at stance.Cm) func(h *hung) {
	return func(h *hung) {
		h.on("hand-2", 0, 2060)
		h.s.Standing, h.s.Bears, h.s.At = true, int8(h.Tool("hand-2")), at
	}
}

func both(all ...func(h *hung)) func(h *hung) {
	return func(h *hung) {
		for _, f := range all {
			f(h)
		}
	}
}

func to(do stance.Do, item string, at float64) *stance.Action {
	a := act(do, item, at)
	return &a
}

func act(do stance.Do, item string, at float64) stance.Action {
	a := stance.Action{Do: do, Item: item, AtM: quantity.Metres(at)}
	if do == stance.PutOn || do == stance.Tie {
		a.Line = "main"
	}
	return a
}

func onBackup(a stance.Action, span int) stance.Action {
	a.Line, a.Span = "backup", span
	return a
}

func knotted(at float64) func() *drop.Document {
	return func() *drop.Document {
		return carry(shaft(20, []rig.Mark{knot("m", at, true)}, nil), "+absorber-8")
	}
}

const chest, hand, wheel, lanyard, descender, cam = "chest-2", "hand-2", "backup-9", "lanyard-12", "descender-21", "backup-31"

var refusals = []refusal{
	{words: "not in the kit", do: act(stance.Park, "nothing", 0), may: to(stance.TieOff, descender, 0)},
	{words: "no action", do: act("fly", "", 0), may: to(stance.Work, "", 0)},
	{words: "come tight", do: act(stance.PutOn, chest, 20.3), may: to(stance.PutOn, hand, 20.3)},
	{words: "out of reach", do: act(stance.PutOn, hand, 21.01), may: to(stance.PutOn, hand, 21)},
	{words: "out of reach", has: both(handOn(2060), off(descender), func(h *hung) { h.on(chest, 0, 2011); h.s.Bears = int8(h.Tool(chest)) }), do: act(stance.Move, cam, 19.54), may: to(stance.Move, cam, 19.55)},
	{words: "no strand", do: stance.Action{Do: stance.PutOn, Item: hand, Line: "none", AtM: 20.5}, may: to(stance.PutOn, hand, 20.5)},
	{words: "no span", do: stance.Action{Do: stance.PutOn, Item: hand, Line: "main", Span: 1, AtM: 20.5}, may: to(stance.PutOn, hand, 20.5)},
	{words: "is not on span", d: knotted(20.5), do: stance.Action{Do: stance.PutOn, Item: hand, Line: "main", Span: 1, AtM: 20.5}, may: &stance.Action{Do: stance.PutOn, Item: hand, Line: "main", Span: 1, AtM: 20.3}},
	{words: "is there already", has: handOn(2060), do: act(stance.PutOn, chest, 20.15), may: to(stance.TakeOff, hand, 0)},
	{words: "is on already", has: handOn(2060), do: act(stance.PutOn, hand, 20.8), may: to(stance.Move, hand, 20.8)},
	{words: "clipped, not put on", do: act(stance.PutOn, lanyard, 20.5), may: to(stance.PutOn, hand, 20.5)},
	{words: "is not on", do: act(stance.TakeOff, hand, 0), mend: handOn(2060)},
	{words: "unclipped, a device taken off", has: handOn(2060), do: act(stance.Unclip, hand, 0), may: to(stance.TakeOff, hand, 0)},
	{words: "only a lanyard", do: act(stance.Clip, hand, 0), may: to(stance.PutOn, hand, 20.5)},
	{words: "nothing to clip into", d: knotted(20.5), do: stance.Action{Do: stance.Clip, Item: lanyard, Line: "backup", Span: 1}, may: &stance.Action{Do: stance.Clip, Item: lanyard, Line: "main", Span: 1}},
	{words: "no loop is tied", do: stance.Action{Do: stance.Clip, Item: lanyard, Line: "backup", Into: "loop"}, mend: func(h *hung) { h.s.Loop = stance.Loop{There: true, Line: 1, At: 2000} }},
	{words: "is not on", do: act(stance.Lock, hand, 0), mend: handOn(2060)},
	{words: "cannot be parked", has: handOn(2060), do: act(stance.Park, hand, 0), may: to(stance.Park, descender, 0)},
	{words: "is tied off", has: func(h *hung) { h.hold(descender).Tied = true }, do: act(stance.Unpark, descender, 0), mend: func(h *hung) { h.hold(descender).Tied = false }},
	{words: "not to be moved", do: act(stance.Move, descender, 20.5), may: to(stance.Move, cam, 20.5)},
	{words: "in the way", has: func(h *hung) { h.hold(cam).At = 2035; h.s.Loop = stance.Loop{There: true, Line: 1, At: 2060} }, do: act(stance.Move, cam, 20.9), mend: func(h *hung) { h.s.Loop = stance.Loop{} }},
	{words: "nothing to stand up from", has: upright(2010), do: act(stance.Stand, hand, 0), mend: func(h *hung) { h.s.Standing, h.s.Bears, h.s.At = false, int8(h.Tool(descender)), 2000 }},
	{words: "not on, or has no foot loop", do: act(stance.Stand, hand, 0), mend: handOn(2060)},
	{words: "higher than standing up", has: handOn(2080), do: act(stance.Stand, hand, 20.41), may: to(stance.Stand, hand, 20.4)},
	{words: "no loop to stand in", do: act(stance.Stand, "", 0), mend: nil, may: to(stance.Work, "", 0)},
	{words: "is not on", has: upright(2010), do: act(stance.Sit, chest, 0), mend: func(h *hung) { h.on(chest, 0, 2017) }},
	{words: "stood in, not sat in", has: upright(2010), do: act(stance.Sit, hand, 0), may: to(stance.Sit, descender, 0)},
	{words: "standing up first", has: func(h *hung) { h.on(chest, 0, 2014) }, do: act(stance.Sit, chest, 0), may: to(stance.LowerOnto, chest, 0)},
	{words: "only a descender lowers", has: both(upright(2010), func(h *hung) { h.on(chest, 0, 2015) }), do: act(stance.LowerOnto, chest, 0), may: to(stance.Sit, chest, 0)},
	{words: "only a descender lowers", do: act(stance.LowerOnto, descender, 0), mend: nil, may: to(stance.Work, "", 0)},
	{words: "too high to take the weight", has: both(upright(2010), func(h *hung) { h.on(chest, 0, 2026) }), do: act(stance.Sit, chest, 0), mend: func(h *hung) { h.hold(chest).At = 2025 }},
	{words: "a chest ascender, or a short way", bears: cam, do: act(stance.Climb, "", 20.3), may: to(stance.PutOn, hand, 20.5)},
	{words: "needs a hand ascender", bears: chest, do: act(stance.Climb, "", 20.3), mend: handOn(2060)},
	{words: "needs a hand ascender", bears: chest, has: func(h *hung) { h.on(hand, 1, 2060) }, do: act(stance.Climb, "", 20.3), mend: handOn(2060)},
	{words: "on the rope too", bears: chest, has: both(handOn(2060), func(h *hung) { h.on(descender, 0, 1990) }), do: act(stance.Climb, "", 20.3), mend: off(descender)},
	{words: "a mark is in the way", bears: chest, d: knotted(20.9), has: handOn(2060), do: act(stance.Climb, "", 20.8), may: to(stance.Climb, "", 20.4)},
	{words: "down is by a descender", bears: chest, has: handOn(2060), do: act(stance.Climb, "", 19.2), may: to(stance.Climb, "", 19.5)},
	{words: "on a descender that bears", bears: chest, do: act(stance.Descend, "", 19), may: to(stance.PutOn, hand, 20.5)},
	{words: "that is not down", has: unpark, do: act(stance.Descend, "", 20), may: to(stance.Descend, "", 19.99)},
	{words: "a mark is in the way", d: knotted(15), has: unpark, do: act(stance.Descend, "", 14.99), may: to(stance.Descend, "", 15)},
	{words: "below the landing", has: unpark, do: act(stance.Descend, "", 0.94), may: to(stance.Descend, "", 0.95)},
	{words: "is tied off", has: both(unpark, func(h *hung) { h.hold(descender).Tied = true }), do: act(stance.Descend, "", 19), mend: func(h *hung) { h.hold(descender).Tied = false }},
	{words: "come tight", has: both(unpark, func(h *hung) { h.on(chest, 0, 2015) }), do: act(stance.Descend, "", 19), mend: off(chest)},
	{words: "a loop is tied already", has: func(h *hung) { h.s.Loop = stance.Loop{There: true, Line: 1, At: 2000} }, do: onBackup(act(stance.Tie, "", 20.2), 0), mend: func(h *hung) { h.s.Loop = stance.Loop{} }},
	{words: "into slack rope", do: act(stance.Tie, "", 20.5), may: func() *stance.Action { a := onBackup(act(stance.Tie, "", 20.2), 0); return &a }()},
	{words: "is there already", has: func(h *hung) { h.hold(cam).At = 2050 }, do: onBackup(act(stance.Tie, "", 20.69), 0), may: func() *stance.Action { a := onBackup(act(stance.Tie, "", 20.7), 0); return &a }()},
	{words: "no loop is tied", do: act(stance.Untie, "", 0), mend: func(h *hung) { h.s.Loop = stance.Loop{There: true, Line: 1, At: 2000} }},
	{words: "is in the loop", has: func(h *hung) {
		h.s.Loop = stance.Loop{There: true, Line: 1, At: 2000}
		h.on(lanyard, 1, 2000).Clip = stance.IntoLoop
	}, do: act(stance.Untie, "", 0), mend: off(lanyard)},
	{words: "not on the ground yet", has: func(h *hung) { h.s.At = h.Ground + stance.Apart + 1 }, do: act(stance.Land, "", 0), mend: func(h *hung) { h.s.At = h.Ground + stance.Apart }},
	{words: "no deviation", do: stance.Action{Do: stance.Pass, Line: "backup", Span: 1}, may: to(stance.Work, "", 0)},
	{words: "too far from the deviation", d: func() *drop.Document { return near(deviated(), 20.5) }, has: func(h *hung) { h.hold(cam).At = 2071 }, do: stance.Action{Do: stance.Pass, Line: "backup", Span: 1}, mend: func(h *hung) { h.hold(cam).At = 2070 }},
	{words: "no damage to tie out", do: stance.Action{Do: stance.Isolate, Line: "backup", Span: 1}, may: to(stance.Work, "", 0)},
	{words: "depends on it", d: func() *drop.Document { return hurt(0, rig.Mark{}, damage(20.5, false)) }, has: func(h *hung) { h.hold(cam).Span, h.hold(cam).At = 1, 2035 }, do: stance.Action{Do: stance.Isolate, Line: "backup", Span: 1}, mend: func(h *hung) { h.hold(cam).Span, h.hold(cam).At = 0, 2080 }},
	{words: "not a descender that is on", do: act(stance.TieOff, cam, 0), may: to(stance.TieOff, descender, 0)},
	{words: "parked before it is tied off", has: unpark, do: act(stance.TieOff, descender, 0), mend: func(h *hung) { h.hold(descender).Parked = true }},
	{words: "done already", do: act(stance.UntieOff, descender, 0), mend: func(h *hung) { h.hold(descender).Tied = true }},
	{words: "who works hangs", has: upright(2010), do: act(stance.Work, "", 0), may: to(stance.Sit, descender, 0)},
	{words: "who works hangs", has: func(h *hung) { h.s.Grounded = true }, do: act(stance.Work, "", 0), mend: func(h *hung) { h.s.Grounded = false }},
	{words: "who works hangs", has: func(h *hung) { h.s.Bears = stance.NoTool }, do: act(stance.Work, "", 0), mend: func(h *hung) { h.s.Bears = int8(h.Tool(descender)) }},
}

// What cannot be done is refused in words, and what is just possible is done.
func TestRefusals(t *testing.T) {
	for _, c := range refusals {
		t.Run(string(c.do.Do)+"/"+c.words, func(t *testing.T) {
			try := func(a stance.Action, mend func(h *hung)) error {
				d, bears := plain(), c.bears
				if c.d != nil {
					d = c.d()
				}
				if bears == "" {
					bears = descender
				}
				h := hang(t, d, school.Schools{}, 2000, bears)
				for _, f := range []func(h *hung){c.has, mend} {
					if f != nil {
						f(h)
					}
				}
				_, _, err := h.Apply(h.s, a)
				return err
			}
			if err := try(c.do, nil); err == nil || !strings.Contains(err.Error(), c.words) {
				t.Errorf("%+v: %v", c.do, err)
			}
			next := c.do
			if c.may != nil {
				next = *c.may
			}
			if err := try(next, c.mend); err != nil {
				t.Errorf("just possible: %+v: %v", next, err)
			}
		})
	}
}

// A start that is written by somebody is read whole or refused with its place.
func TestWrittenStart(t *testing.T) {
	sc, _, err := sceneOn(carry(knotted(20.5)(), "+absorber-8"), school.Schools{})
	if err != nil {
		t.Fatal(err)
	}
	good := moves.ShownStance{AtM: 20, Bears: "descender-21", Holds: []moves.StanceHold{
		{Item: "descender-21", Strand: "main", Span: 0, AtM: 20.15, Parked: true}, {Item: "backup-31", Strand: "backup", AtM: 20.4},
	}}
	if s, err := good.Read(sc); err != nil || s.Bears != int8(sc.Tool("descender-21")) {
		t.Fatal(s, err)
	}
	change := func(f func(w *moves.ShownStance)) *moves.ShownStance {
		w := good
		w.Holds = slices.Clone(good.Holds)
		f(&w)
		return &w
	}
	for pointer, f := range map[string]func(w *moves.ShownStance){
		"/start/bears":          func(w *moves.ShownStance) { w.Bears = "" },
		"/start/bears ":         func(w *moves.ShownStance) { w.Bears = "chest-2" },
		"/start/bears  ":        func(w *moves.ShownStance) { w.Bears, w.Grounded = "descender-21", true },
		"/start/bears   ":       func(w *moves.ShownStance) { w.Bears, w.Grounded = "loop", true },
		"/start/holds/0/item":   func(w *moves.ShownStance) { w.Holds[0].Item = "descender-99" },
		"/start/holds/1/strand": func(w *moves.ShownStance) { w.Holds[1].Strand = "third" },
		"/start/holds/1/span":   func(w *moves.ShownStance) { w.Holds[1].Span = 1 },
		"/start/holds/1/span ":  func(w *moves.ShownStance) { w.Holds[1].Span = -1 },
		"/start/holds/1/span  ": func(w *moves.ShownStance) { w.Holds[1].Into = "mark" },
		"/start/holds/0/into ":  func(w *moves.ShownStance) { w.Holds[0].Into, w.Holds[0].Span = "mark", 1 },
		"/start/holds/0/into":   func(w *moves.ShownStance) { w.Holds[0].Item = "lanyard-12" },
		"/start/isolated":       func(w *moves.ShownStance) { w.Isolated = []string{"main/none"} },
		"/start/eyes":           func(w *moves.ShownStance) { w.Eyes = []string{"main/none"} },
		"/start/loop_on":        func(w *moves.ShownStance) { w.LoopOn = "third" },
	} {
		var refused *strict.Error
		if _, err := change(f).Read(sc); !errors.As(err, &refused) || refused.Faults[0].Pointer != strings.TrimSpace(pointer) {
			t.Errorf("%q: %v", pointer, err)
		}
	}
	if s, err := change(func(w *moves.ShownStance) { w.Bears = "loop" }).Read(sc); err != nil || s.Bears != stance.InStrop {
		t.Errorf("in the loop: %+v %v", s, err)
	}
	if s, err := change(func(w *moves.ShownStance) { w.Bears, w.Grounded = "", true }).Read(sc); err != nil || s.Bears != stance.NoTool {
		t.Errorf("on the ground: %+v %v", s, err)
	}
}

// As many tools are planned with as a stance holds, and no more.
func TestMostTools(t *testing.T) {
	d := plain()
	sc, _, err := sceneOn(d, school.Schools{})
	if err != nil {
		t.Fatal(err)
	}
	hand := *itemOf(d, "hand-2")
	for n := len(sc.Tools); n <= stance.MaxTools; n++ {
		sc, _, err := sceneOn(d, school.Schools{})
		if err != nil || len(sc.Tools) != n {
			t.Fatalf("%d tools: %v", n, err)
		}
		hand.ID = fmt.Sprint("hand-more-", n)
		d.Items = append(d.Items, hand)
		d.People[0].Carries = append(d.People[0].Carries, hand.ID)
	}
	if _, _, err := sceneOn(d, school.Schools{}); err == nil || !strings.Contains(err.Error(), "17 things") {
		t.Errorf("one more: %v", err)
	}
}
