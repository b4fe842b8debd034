package team_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// rope is one strand as somebody at the anchors sees it: read from the written plan, by
// rules of its own, with no code of the engine.
type rope struct {
	in, proved, parked, knotted, away, grab, bears, haul, pulled, spent bool
	hand                                                                float64
	teeth                                                               string
	grip, folded, set, slack                                            bool
}

// holds is whether something stops the strand if everybody does as they do.
func (r *rope) holds() bool {
	return r.bears || r.teeth == "bear" || r.grip || r.in && r.proved && (r.parked || r.hand > 0)
}

// watcher walks a written plan.
type watcher struct {
	ropes map[string]*rope
	hangs bool
	at    float64
}

func half(m map[string]any) *rope {
	is := func(k string) bool { v, _ := m[k].(bool); return v }
	n := func(k string) float64 { v, _ := m[k].(float64); return v }
	wheel, _ := m["wheel"].(map[string]any)
	handle, _ := wheel["handle"].(bool)
	set, _ := wheel["set"].(bool)
	return &rope{
		in: is("loaded"), proved: is("proved"), parked: is("parked"), knotted: is("tied"), away: is("away"), grab: n("grab") > 0, bears: n("grab") == 2, haul: n("haul") > 0,
		pulled: is("pull"), spent: is("spent"), hand: n("hand"), teeth: []string{"", "bear", "open"}[int(n("toothed"))], folded: !handle, set: set,
	}
}

// do does one step and says what is wrong with it; empty for nothing.
func (w *watcher) do(a map[string]any, call, answer string) string {
	name, _ := a["line"].(string)
	r := w.ropes[name]
	by, _ := a["by"].(float64)
	to, _ := a["at_m"].(float64)
	what := a["do"].(string)
	moves := map[string]bool{"over-edge": true, "lower": true, "settle": true, "extend": true, "haul": true, "capture": true, "share": true, "unshare": true, "free-teeth": true, "turn": true, "free-lock": true}
	if moves[what] && (call == "" || answer == "") {
		return what + " moves the load without a call and its answer"
	}
	both := func(is func(*rope) bool) bool { return is(w.ropes["main"]) && is(w.ropes["belay"]) }
	live := func(r *rope) bool {
		return r.in && r.proved && r.hand > 0 && !r.parked && !r.grab && r.teeth != "bear" && !r.grip
	}
	switch what {
	case "load-rope":
		if r.parked {
			return "rope goes into a parked brake"
		}
		r.in, r.proved = true, false
	case "prove":
		r.proved = true
	case "park":
		r.parked = true
	case "unpark":
		if r.hand == 0 || r.knotted {
			return "unparked without a hand, or knotted"
		}
		r.parked = false
	case "tie":
		if !r.parked {
			return "knotted and not parked"
		}
		r.knotted = true
	case "untie":
		if r.hand == 0 {
			return "the knot comes out without a hand"
		}
		r.knotted = false
	case "hand-on", "swap":
		for _, o := range w.ropes {
			if o != r && o.hand == by {
				return "one hand on two strands"
			}
		}
		r.hand = by
	case "hand-off":
		if r.in && !r.parked && !r.bears {
			return "the hand leaves a live brake"
		}
		r.hand = 0
	case "leave":
		if !r.parked || !r.knotted || r.hand > 0 {
			return "left, and not parked and knotted"
		}
		r.away = true
	case "return":
		r.away = false
	case "bend-in", "bend-out":
		if !r.parked {
			return "the bend is changed on a live brake"
		}
	case "over-edge":
		if !both(live) {
			return "over the edge and not both live"
		}
		w.hangs = true
	case "lower":
		if !both(live) || to >= w.at {
			return "lowered and not both live, or not down"
		}
		w.at = to
	case "put-grab":
		if !r.parked {
			return "both hands at the grab and the brake is live"
		}
		r.grab = true
	case "settle":
		if r.parked || r.hand == 0 {
			return "let down onto the grab out of a parked brake, or by nobody"
		}
		r.bears = true
	case "through":
		if !w.ropes[name].bears && w.hangs && r.in && name == "main" {
			return "the brake is opened and nothing else bears"
		}
		r.proved = false
	case "extend":
		if !r.proved || r.hand == 0 && !r.parked {
			return "onto a brake that is not proved, or in nobody's hand"
		}
		r.bears = false
	case "take-grab":
		r.grab, r.bears = false, false
	case "build":
		if r.pulled {
			return "built anew while it is pulled"
		}
		r.haul = true
	case "haul":
		if r.parked || r.hand == 0 || !r.haul || !live(w.ropes["belay"]) {
			return "hauled with the brake parked, nobody at it, or no belay"
		}
		r.pulled, w.at = true, to
	case "capture":
		r.pulled = false
	case "advance":
		if r.pulled {
			return "the grab goes out while it bears"
		}
		r.spent = false
	case "strip":
		if r.pulled {
			return "the haul comes off while it bears"
		}
		r.haul = false
	case "share", "unshare":
		if !w.hangs || !both(live) {
			return "shared on the level, or not both live"
		}
	case "free-teeth":
		if !r.in || !r.proved || !r.parked {
			return "the teeth are opened and nothing behind them can lower"
		}
		r.teeth = "open"
	case "set-lock":
		r.set = true
	case "handle-out", "fold-handle":
		r.folded = what == "fold-handle"
	case "turn":
		if !r.parked || r.folded || r.slack {
			return "turned with the lock free, the handle folded or slack to draw"
		}
		r.slack, w.at = true, to
	case "draw-slack":
		r.slack = false
	case "grip-wheel":
		r.grip = true
	case "free-lock":
		if !r.grip || !r.folded || r.hand > 0 {
			return "the lock is freed without a hand on the wheel, with the handle out, or by a third hand"
		}
		r.parked = false
	case "let-go-wheel":
		if !r.parked && r.hand == 0 {
			return "the wheel is let go and nobody has the strand"
		}
		r.grip = false
	default:
		return "nobody knows what " + what + " is"
	}
	if w.hangs && !both((*rope).holds) && what != "through" && what != "prove" && what != "put-grab" {
		return fmt.Sprintf("after %s one strand holds nothing: %+v %+v", what, *w.ropes["main"], *w.ropes["belay"])
	}
	return ""
}

// Plans of all kinds are read clean by somebody who shares no code with the engine, and
// who counts holds, hands and calls from the written plan alone.
func TestPlansReadByAnother(t *testing.T) {
	r := chance.Rand(6, 6)
	read := map[string]int{}
	for range 900 {
		rigged, ask := random(r)
		p, err := rigged.For(t.Context(), ask)
		var refused *strict.Error
		if errors.Is(err, search.ErrNone) || errors.As(err, &refused) {
			continue
		}
		if err != nil {
			t.Fatal(err)
		}
		text, err := json.Marshal(p)
		if err != nil {
			t.Fatal(err)
		}
		var plan struct {
			Start map[string]any
			Steps []struct {
				Action       map[string]any
				Call, Answer string
			}
		}
		if err := json.Unmarshal(text, &plan); err != nil {
			t.Fatal(err)
		}
		start := plan.Start
		w := &watcher{ropes: map[string]*rope{"main": half(start["main"].(map[string]any)), "belay": half(start["belay"].(map[string]any))}, at: start["at_cm"].(float64) / 100}
		w.hangs, _ = start["hangs"].(bool)
		for i, st := range plan.Steps {
			if wrong := w.do(st.Action, st.Call, st.Answer); wrong != "" {
				t.Fatalf("%s, step %d of %d: %s", p.Move, i+1, len(plan.Steps), wrong)
			}
		}
		read[p.Move]++
	}
	if len(read) < len(team.Catalogue) {
		t.Errorf("only %v were read", read)
	}
}
