package pair_test

import (
	"encoding/json"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/quantity"
)

// eyes are somebody beside both who reads the written plan and keeps count by rules of
// their own: no code of the engine.
type eyes struct {
	parked, tied                 bool
	hand                         string // whose control strand
	clear, long, chain, bend     bool
	theirs                       map[string]bool
	open                         bool   // the casualty's descender
	bears                        string // own, lift, chain
	two                          map[string]bool
	anchored                     bool
	bendWanted, lifted, liftable bool
}

// do does one step; what it says is wrong.
func (e *eyes) do(a map[string]any) string {
	what, _ := a["do"].(string)
	item, _ := a["item"].(string)
	strand, _ := a["strand"].(float64)
	if open, _ := a["unlocked"].(bool); open {
		return "a gate stays open"
	}
	free := e.parked && e.tied
	switch what {
	case "tie-off":
		if !e.parked {
			return "tied off, not parked"
		}
		e.tied, e.hand = true, ""
	case "untie-off":
		if e.hand != "own" && !e.anchored {
			return "untied without the strand in hand"
		}
		e.tied = false
	case "unpark":
		switch {
		case e.tied:
			return "unparked while it is tied off"
		case e.hand != "own" && !e.anchored:
			return "unparked without the strand in hand"
		case e.bendWanted && !e.bend:
			return "unparked without the friction for two"
		case !e.clear:
			return "rope between legs"
		}
		e.parked = false
	case "park":
		e.parked = true
	case "take-strand":
		if e.open && e.bears == "own" {
			return "the hand leaves the casualty's open descender"
		}
		e.hand = []string{"", "own", "theirs"}[int(strand)]
	case "unpark-theirs":
		if e.hand != "theirs" || !free {
			return "their descender is opened with the wrong hand, or none free"
		}
		e.open = true
	case "lower-theirs":
		if !e.open || e.hand != "theirs" || !e.long || !e.chain || !e.clear {
			return "let down onto what is not ready"
		}
		e.bears = "chain"
	case "lift":
		if !e.lifted || !e.long || !e.chain || !e.clear {
			return "lifted with nothing, or before all is ready"
		}
		e.bears = "lift"
	case "let-up":
		if !e.long || !e.chain || !e.clear || e.bears != "lift" {
			return "let up onto what is not ready, or off nothing"
		}
		e.bears = "chain"
	default:
		if !free || e.bears == "lift" || e.open && e.bears == "own" {
			return what + " with a hand that is not free"
		}
		e.hand = ""
		switch what {
		case "clear-legs":
			e.clear = true
		case "long-lanyard":
			e.long = true
		case "chain":
			e.chain = true
		case "rig-lift":
			if !e.liftable {
				return "a lift out of nothing"
			}
			e.lifted = true
		case "bend":
			if strand != 1 {
				return "the bend is on the wrong strand"
			}
			e.bend = true
		case "take-off":
			if e.bears == "own" {
				return item + " comes off while they hang on their own"
			}
			delete(e.theirs, item)
		default:
			return "nobody knows what " + what + " is"
		}
	}
	return e.held()
}

// held: the casualty is held by two things that share nothing, and whatever bears both
// is rated for both.
func (e *eyes) held() string {
	if e.bears == "own" {
		if len(e.theirs) < 2 {
			return "the casualty hangs on one thing"
		}
		return ""
	}
	if !e.long || !e.chain {
		return "the casualty hangs on one connection"
	}
	if !e.two["own-descender"] && !e.two["brake-1"] {
		return "two on a descender for one"
	}
	if !e.theirs["their-backup"] && !e.two["own-backup"] && !e.two["brake-2"] {
		return "two on a backup for one"
	}
	return ""
}

// Every plan of a few hundred made-up rescues is read clean by somebody who shares no
// code with the engine, and spoilt in one place it is not.
func TestRescuesReadByAnother(t *testing.T) {
	r := chance.Rand(7, 3)
	read, noticed := 0, 0
	for range 200 {
		m := whole()
		m.rated, m.keep, m.lowered = r.IntN(3) > 0, r.IntN(4) == 0, r.IntN(4) == 0
		m.connectors = 7 + r.IntN(5)
		m.ours, m.hurt = quantity.Kilograms(60+r.IntN(50)), quantity.Kilograms(55+r.IntN(80))
		m.on = []pair.On{pair.OnDescender, pair.OnChest, pair.OnBackup}[r.IntN(3)]
		m.kind = []gear.BackupKind{gear.Cam, gear.Wheel}[r.IntN(2)]
		if m.set = 1 + r.IntN(2); m.lowered {
			m.set = 2
		}
		sc, start := m.scene(t, quantity.Metres(5+r.IntN(50)))
		plan, err := sc.Find(t.Context(), "", start)
		if err != nil {
			continue
		}
		text, err := json.Marshal(plan)
		if err != nil {
			t.Fatal(err)
		}
		var written struct {
			Start struct{ Casualty []struct{ Item string } }
			Steps []struct{ Action map[string]any }
		}
		if err := json.Unmarshal(text, &written); err != nil {
			t.Fatal(err)
		}
		watch := func() *eyes {
			e := &eyes{parked: true, theirs: map[string]bool{}, bears: "own", two: map[string]bool{}, bendWanted: true, liftable: m.lifts, anchored: m.lowered}
			for _, h := range written.Start.Casualty {
				e.theirs[h.Item] = true
			}
			if m.ours+m.hurt <= 250 {
				e.two["own-descender"], e.two["own-backup"], e.two["brake-1"], e.two["brake-2"] = m.descender, m.rated, m.descender, m.rated
			}
			if m.lowered {
				delete(e.two, "own-descender")
				delete(e.two, "own-backup")
			}
			return e
		}
		e := watch()
		for i, st := range written.Steps {
			if wrong := e.do(st.Action); wrong != "" {
				t.Fatalf("%+v, step %d: %s", m, i+1, wrong)
			}
		}
		if e.bears != "chain" || e.parked {
			t.Errorf("%+v ends %+v", m, e)
		}
		read++
		// Without one of its steps it is not read clean, or does not end there.
		drop := r.IntN(len(written.Steps))
		e, wrong := watch(), ""
		for i, st := range written.Steps {
			if i != drop && wrong == "" {
				wrong = e.do(st.Action)
			}
		}
		left := 0
		for item := range e.theirs {
			if !strings.HasSuffix(item, "backup") || m.rated && !m.keep {
				left++
			}
		}
		if wrong != "" || e.bears != "chain" || e.parked || left > 0 {
			noticed++
		} else {
			t.Logf("not noticed: without %v", written.Steps[drop].Action)
		}
	}
	if read < 80 || noticed < read {
		t.Errorf("%d read, %d noticed", read, noticed)
	}
}
