package team_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
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

	// at is the place of the brake on the rope, in metres from the load; knots are the
	// places of its knots, top to pieces what makes the way from brake to load.
	at, top, edge, back, slant, length float64
	knots                              []float64
	edged                              bool
	pieces                             [][3]float64 // length, below, always
	beyond                             bool
}

// way is the rope from brake to load, added up anew.
func (r *rope) way(z float64) float64 {
	from, sum := r.top, 0.0
	if r.edged {
		from, sum = r.edge, math.Hypot(r.back, r.top-r.edge)
	}
	for _, p := range r.pieces {
		if p[2] > 0 || z < p[1] {
			sum += p[0]
		}
	}
	return sum + (from-z)*max(1, r.slant)
}

// laid gives a strand what its line says of the rope.
func (r *rope) laid(l *team.Line, z float64) {
	r.top, r.edge, r.edged, r.back, r.slant = float64(l.Path.TopM), float64(l.Path.EdgeM), l.Path.Edged, float64(l.Path.BackM), float64(l.Path.Slant)
	r.length = float64(l.LengthM) - float64(l.KnotM)*float64(len(l.KnotsM)) - float64(l.KeptM)
	for _, p := range l.Path.Pieces {
		always := 0.0
		if p.Always {
			always = 1
		}
		r.pieces = append(r.pieces, [3]float64{float64(p.M), float64(p.BelowM), always})
	}
	for _, k := range l.KnotsM {
		r.knots = append(r.knots, float64(k))
	}
	r.at = r.way(z)
}

// between is a knot that lies between two places of the rope, each a little widened.
func (r *rope) between(low, high float64) (k float64, ok bool) {
	for _, k := range r.knots {
		if k > low && k < high {
			return k, true
		}
	}
	return 0, false
}

// runs follows the load to a height and says what is wrong with the rope; empty for
// nothing. caught: a grab beyond its knot catches the strand, its brake does nothing.
func (r *rope) runs(name string, from, to float64) string {
	caught := r.grab && to > from
	was, now := r.at, r.way(to)
	switch {
	case caught:
		return "" // the brake stands before the knot and takes nothing in
	case now > was:
		if k, ok := r.between(was, now+0.025); ok {
			return fmt.Sprintf("the knot of the %s at %g runs into its brake: from %.2f to %.2f", name, k, was, now)
		}
	case now < was:
		if k, ok := r.between(now-0.2, was); ok && to > from {
			return fmt.Sprintf("the knot of the %s at %g comes up into its brake: from %.2f to %.2f", name, k, was, now)
		}
		if to < from {
			return "" // slack that was left beyond a knot is used up
		}
	}
	if r.length > 0 && now > r.length+0.01 && to < from {
		return fmt.Sprintf("the rope of the %s runs out", name)
	}
	r.at = now
	return ""
}

// moves takes the load to a height on both strands.
func (w *watcher) moves(to float64) string {
	for name, r := range w.ropes {
		if name == "belay" && to > w.at && w.ropes["main"].grab && !w.shared && !r.grab {
			if k, ok := r.between(r.way(to)-0.2, r.at); ok && k+0.2-r.way(to) < 0.75 {
				continue // it hangs slack below its knot, all of the load on the main
			}
		}
		if wrong := r.runs(name, w.at, to); wrong != "" {
			return wrong
		}
		if r.haul && r.pulled && name == "main" {
			for _, k := range r.knots {
				if p := r.way(to); p > k && p < k+0.2+0.69 && !r.beyond && !r.grab && w.ratio > 1 {
					return fmt.Sprintf("the knot of the main at %g comes up into the grab of the haul", k)
				}
			}
		}
	}
	w.at = to
	return ""
}

// holds is whether something stops the strand if everybody does as they do.
func (r *rope) holds() bool {
	return r.bears || r.teeth == "bear" || r.grip || r.in && r.proved && (r.parked || r.hand > 0)
}

// watcher walks a written plan.
type watcher struct {
	ropes map[string]*rope
	hangs bool
	// shared: both strands bear.
	shared bool
	at     float64
	ratio  float64
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
	moves := map[string]bool{"over-edge": true, "lower": true, "settle": true, "extend": true, "haul": true, "capture": true, "share": true, "unshare": true, "free-teeth": true, "turn": true, "free-lock": true, "swap": true}
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
		return w.moves(to)
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
		r.proved, r.beyond = false, false
		p := r.way(w.at)
		for i, k := range r.knots {
			switch {
			case k < r.at && p <= k-0.025: // raised past it
				if i == len(r.knots)-1 || r.knots[i+1] > r.at {
					r.at = p
					return ""
				}
			case k >= r.at:
				if k-p > 0.75 {
					return "a knot goes through before it arrives"
				}
				r.at = k + 0.3
				return ""
			}
		}
		return "no knot is there to go through"
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
		r.haul, w.ratio = true, a["ratio"].(float64)
		if k, ok := r.between(r.way(w.at)-0.9, r.way(w.at)); ok && k < r.at {
			r.beyond = true // it is put on beyond a knot that is there
		}
	case "over-knot":
		if r.pulled || !r.haul {
			return "the grab of a haul is moved while it bears, or there is none"
		}
		r.beyond = true
	case "haul":
		if b := w.ropes["belay"]; r.parked || r.hand == 0 || !r.haul || !live(b) && (!b.grab || b.hand == 0 || b.parked) {
			return "hauled with the brake parked, nobody at it, or no belay"
		}
		r.pulled, r.bears = true, false
		return w.moves(to)
	case "capture":
		r.pulled, r.bears = false, r.bears || r.grab
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
		r.slack = true
		return w.moves(to)
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
		readByAnother(t, rigged, p)
		read[p.Move]++
	}
	if len(read) < len(team.Catalogue) {
		t.Errorf("only %v were read", read)
	}
}

func readByAnother(t *testing.T, rigged *team.Rig, p *team.Plan) {
	t.Helper()
	text, err := json.Marshal(p)
	if err != nil {
		t.Fatal(err)
	}
	var plan struct {
		Start map[string]any
		Steps []struct {
			Action, After map[string]any
			Call, Answer  string
		}
	}
	if err := json.Unmarshal(text, &plan); err != nil {
		t.Fatal(err)
	}
	start := plan.Start
	w := &watcher{ropes: map[string]*rope{"main": half(start["main"].(map[string]any)), "belay": half(start["belay"].(map[string]any))}, at: start["at_cm"].(float64) / 100}
	w.hangs, _ = start["hangs"].(bool)
	w.shared, _ = start["shared"].(bool)
	w.ratio, _ = start["main"].(map[string]any)["haul"].(float64)
	for name, l := range map[string]*team.Line{"main": &rigged.Main, "belay": &rigged.Belay} {
		w.ropes[name].laid(l, w.at)
	}
	for i, st := range plan.Steps {
		wrong := w.do(st.Action, st.Call, st.Answer)
		w.shared, _ = st.After["shared"].(bool)
		if at := st.After["at_cm"].(float64) / 100; wrong == "" && math.Abs(at-w.at) > 1e-9 {
			// What a settle and a hitch that is let out do, as it is written.
			wrong = w.moves(at)
		}
		if wrong != "" {
			t.Fatalf("%s, step %d of %d: %s", p.Move, i+1, len(plan.Steps), wrong)
		}
	}
}

// Knots about side by side are raised past, whichever is nearer to the load: the main's
// first where both are at their brakes at once, with what slack that leaves in the belay
// in the table of what fails.
func TestRaisedSideBySide(t *testing.T) {
	waited := 0
	for off := range 61 {
		r := stretcher()
		r.Kit.Grabs, r.Main.Path, r.Belay.Path = 3, team.Path{TopM: 96.4}, team.Path{TopM: 96.4}
		r.Main.KnotsM, r.Belay.KnotsM = []quantity.Metres{30}, []quantity.Metres{quantity.Metres(28.5 + float64(off)*0.05)}
		p, err := r.For(t.Context(), team.Ask{Move: "raise", FromM: m(40), ToM: m(80)})
		if err != nil {
			t.Fatalf("%v beside %v: %v", r.Belay.KnotsM, r.Main.KnotsM, err)
		}
		readByAnother(t, r, p)
		for i, s := range p.Steps {
			if !strings.Contains(s.Say, "left slack below its knot") {
				continue
			}
			waited++
			plain := mechanics.Share(mechanics.ShareIn{MassKg: 190, RopeLengthM: 96.4 - s.After.At.M(), ElongationPct: 3.5, SlackM: 0.3}).Slack.DropM
			if most := worst(s.FailOne); most < plain+0.05 || s.After.Shared || p.Steps[i-1].After.Belay.Passed != 1 {
				t.Errorf("%v: %q, a drop of %v, %v without slack", r.Belay.KnotsM, s.Say, most, plain)
			}
		}
		bad := team.Action{Do: team.Haul, Line: "main", AtM: p.Start.At.M() + 27}
		if found, _ := r.Replay(p.Start, []team.Action{p.Steps[0].Action, p.Steps[1].Action, p.Steps[2].Action, bad}); len(found) == 0 {
			t.Errorf("%v: hauled into the knots", r.Belay.KnotsM)
		}
	}
	if waited < 5 || waited > 25 {
		t.Errorf("the belay waits %d times", waited)
	}
}

func worst(list []stance.Lost) (most quantity.Metres) {
	for i := range list {
		most = max(most, list[i].FreeFallM)
	}
	return most
}

// A haul bears all of the load, whatever both bore before: what fails is worked out so.
func TestHaulBearsAll(t *testing.T) {
	for _, lowering := range []string{"slack-belay", "shared", "mixed"} {
		r := stretcher()
		r.Schools.Lowering = lowering
		p, err := r.For(t.Context(), team.Ask{Move: "raise", FromM: m(40), ToM: m(45)})
		if err != nil {
			t.Fatal(err)
		}
		end := p.Steps[len(p.Steps)-1]
		want := mechanics.Share(mechanics.ShareIn{MassKg: 190, RopeLengthM: 96.4 - 45, ElongationPct: 3.5, SlackM: 0.3}).Slack.DropM
		if p.Start.Shared == (lowering == "slack-belay") || end.After.Shared || math.Abs(float64(worst(end.FailOne)-want)) > 0.005 {
			t.Errorf("%s: a drop of %v, by hand %v", lowering, worst(end.FailOne), want)
		}
	}
}
