package moves

import (
	"cmp"
	"fmt"
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// Offer is one thing that a body could do next, right or wrong.
type Offer struct {
	Action stance.Action `json:"action"`
	Say    string        `json:"say"`
	// With is what it is done with: the label of a tool, or the way, or the ropes.
	With string `json:"with"`
	// LowM and HighM are the heights between which AtM of the action may be; nil where it
	// has none, or just that one.
	LowM  *quantity.Metres `json:"low_m,omitempty"`
	HighM *quantity.Metres `json:"high_m,omitempty"`
}

// TheWay and TheRopes are what an offer is done with that is done with no tool.
const (
	TheWay   = "the way"
	TheRopes = "the ropes"
)

// Has reports whether an action is the one that is offered, at any height that it may have.
// What putting on and clipping includes may be left out of it.
func (o *Offer) Has(a stance.Action) bool {
	if o.LowM != nil {
		at := stance.ToCm(a.AtM)
		if at < stance.ToCm(*o.LowM) || at > stance.ToCm(*o.HighM) {
			return false
		}
		a.AtM = o.Action.AtM
	}
	a.Unlocked, a.Unproved = false, false
	return a == o.Action
}

// Offers lists everything that could physically be done from a stance with what is in hand
// and on the rope, whatever the rules say of it. Of tools that are alike and off, one is
// there. Never empty but where nothing is carried.
func Offers(sc *stance.Scene, s *stance.Stance) []Offer {
	o := &offering{sc: sc, at: *s, usual: generator{sc: sc, grid: gridCm, sets: allSets(sc)}}
	o.spans = o.reach()
	for t := range sc.Tools {
		switch tool, h := &sc.Tools[t], &s.Holds[t]; {
		case !h.There && o.usual.alike(s, t):
		case !h.There && tool.Class == gear.Lanyard:
			o.clips(t)
		case !h.There:
			o.putOns(t)
		default:
			o.hold(t)
		}
	}
	o.way()
	o.ropes()
	return o.list
}

// offering gathers what could be done.
type offering struct {
	sc    *stance.Scene
	at    stance.Stance
	usual generator
	spans []reachable
	list  []Offer
}

// reachable is a stretch of a strand that the hands get at.
type reachable struct {
	line, span int
	low, high  stance.Cm
}

func allSets(sc *stance.Scene) []int {
	var sets []int
	for i := range sc.Lines {
		if set := sc.Lines[i].Set; !slices.Contains(sets, set) {
			sets = append(sets, set)
		}
	}
	return sets
}

// around is how far above and below the body heights are tried. A strand that is drawn aside is
// named by where it hangs, so that this is more than an arm's reach.
const around stance.Cm = 300

// reach finds what of each span the hands get at.
func (o *offering) reach() (list []reachable) {
	for line := range o.sc.Lines {
		if o.sc.Lines[line].Role == stance.Structure {
			continue
		}
		for span := range len(o.sc.Lines[line].Marks) + 1 {
			low, high := o.sc.Span(line, span)
			r := reachable{line: line, span: span, low: -1}
			for at := max(low, o.at.At-around); at <= min(high, o.at.At+around); at++ {
				if !o.sc.Reaches(&o.at, line, span, at) {
					continue
				}
				if r.low < 0 {
					r.low = at
				}
				r.high = at
			}
			if r.low >= 0 {
				list = append(list, r)
			}
		}
	}
	return list
}

// can reports whether an action can be done at all.
func (o *offering) can(a stance.Action) bool {
	_, _, err := o.sc.Do(o.at, a)
	return err == nil
}

// add offers an action that can be done.
func (o *offering) add(with, where string, a stance.Action) {
	if o.can(a) {
		o.list = append(o.list, Offer{Action: a, Say: o.say(a, where), With: with})
	}
}

// between offers an action at the first of some heights at which it can be done, and at any
// other of a range.
func (o *offering) between(with, where string, a stance.Action, low, high stance.Cm, heights ...stance.Cm) {
	for _, at := range append(heights, low, high) {
		if a.AtM = min(high, max(low, at)).M(); o.can(a) {
			o.list = append(o.list, Offer{Action: a, Say: o.say(a, where), With: with, LowM: new(low.M()), HighM: new(high.M())})
			return
		}
	}
}

// say is an offer in words, without its height.
func (o *offering) say(a stance.Action, where string) string {
	label := string(a.Do)
	for _, row := range manoeuvre.Person {
		if row.Do == string(a.Do) {
			label = row.Label
		}
	}
	if where == "" {
		return label
	}
	return label + ": " + where
}

// on says where on a strand a span is.
func (o *offering) on(line, span int) string {
	l := &o.sc.Lines[line]
	words := l.Name + " strand"
	if span > 0 {
		words += ", below " + markWords(&l.Marks[span-1])
	}
	if span < len(l.Marks) {
		words += ", above " + markWords(&l.Marks[span])
	}
	return words
}

func markWords(m *stance.Mark) string {
	return fmt.Sprintf("the %s at %v", cmp.Or(m.Name, string(m.Kind)), m.At.M())
}

// putOns offers a device on every strand in reach.
func (o *offering) putOns(t int) {
	tool := &o.sc.Tools[t]
	for _, r := range o.spans {
		across := func(h stance.Cm) stance.Cm { return min(r.high, max(r.low, o.sc.Along(&o.at, r.line, r.span, h))) }
		a := stance.Action{Do: stance.PutOn, Item: tool.Item, Line: o.sc.Lines[r.line].ID, Span: r.span}
		o.between(tool.Label, o.on(r.line, r.span), a, r.low, r.high, o.usual.wanted(&o.at, t, r.line, r.span, across)...)
	}
}

// clips offers a lanyard into every mark that takes one, and into a loop.
func (o *offering) clips(t int) {
	tool := &o.sc.Tools[t]
	for line := range o.sc.Lines {
		l := &o.sc.Lines[line]
		for i := range l.Marks {
			where := fmt.Sprintf("%s, %s", markWords(&l.Marks[i]), l.Name)
			o.add(tool.Label, where, stance.Action{Do: stance.Clip, Item: tool.Item, Line: l.ID, Span: i + 1, Into: "mark"})
		}
	}
	if o.at.Loop.There {
		o.add(tool.Label, "the loop", stance.Action{Do: stance.Clip, Item: tool.Item, Line: o.sc.Lines[o.at.Loop.Line].ID, Into: "loop"})
	}
}

// hold offers what is done with something that is on.
func (o *offering) hold(t int) {
	tool, h := &o.sc.Tools[t], &o.at.Holds[t]
	plain := func(list ...stance.Do) {
		for _, do := range list {
			o.add(tool.Label, "", stance.Action{Do: do, Item: tool.Item})
		}
	}
	if !h.Locked {
		plain(stance.Lock)
	}
	if !h.Proved {
		plain(stance.Prove)
	}
	off := stance.TakeOff
	if h.Clip != stance.NoClip {
		off = stance.Unclip
	}
	plain(off, stance.Sit, stance.LowerOnto)
	if tool.Stands {
		plain(stance.Stand)
		o.add(tool.Label, "just enough to take the weight off", stance.Action{Do: stance.Stand, Item: tool.Item, AtM: (o.at.At + stance.SmallLift).M()})
	}
	parks := tool.Class == gear.Descender || tool.Model.Backup != nil && tool.Model.Backup.Parks
	switch {
	case !parks:
	case !h.Parked:
		plain(stance.Park)
	case h.Tied:
		plain(stance.UntieOff, stance.Unpark)
	case tool.Class == gear.Descender:
		plain(stance.TieOff, stance.Unpark)
	default:
		plain(stance.Unpark)
	}
	if h.Clip == stance.NoClip {
		o.slides(t)
	}
}

// slides offers to move a device along its span.
func (o *offering) slides(t int) {
	h, item := &o.at.Holds[t], o.sc.Tools[t].Item
	can := func(at stance.Cm) bool { return o.can(stance.Action{Do: stance.Move, Item: item, AtM: at.M()}) }
	low, high := o.sc.Span(int(h.Line), int(h.Span))
	up, down := furthest(h.At, min(high, h.At+around), can), furthest(h.At, max(low, h.At-around), can)
	label := o.sc.Tools[t].Label
	if up != h.At {
		o.between(label, "up", stance.Action{Do: stance.Move, Item: item}, h.At+1, up, up)
	}
	if down != h.At {
		o.between(label, "down", stance.Action{Do: stance.Move, Item: item}, down, h.At-1, down)
	}
}

// furthest is how far one gets from a height towards another, where what keeps one from a
// height keeps one from all beyond it; the height itself for not at all.
func furthest(from, to stance.Cm, can func(stance.Cm) bool) stance.Cm {
	step := stance.Cm(1)
	if to < from {
		step = -1
	}
	if from == to || !can(from+step) {
		return from
	}
	good, bad := from+step, to+step
	for (bad-good)*step > 1 {
		if mid := good + (bad-good)/2; can(mid) {
			good = mid
		} else {
			bad = mid
		}
	}
	return good
}

// way offers to go along the rope, to stand in a slack loop, to work, and to land.
func (o *offering) way() {
	o.add(TheWay, "in the slack loop of the re-belay", stance.Action{Do: stance.Stand})
	for _, do := range []stance.Do{stance.Climb, stance.Descend} {
		can := func(at stance.Cm) bool { return o.can(stance.Action{Do: do, AtM: at.M()}) }
		if top := o.top(); do == stance.Climb {
			if up := furthest(o.at.At, top, can); up != o.at.At {
				o.between(TheWay, "", stance.Action{Do: do}, o.at.At+1, up, up)
			}
		}
		if down := furthest(o.at.At, max(0, o.sc.Ground), can); down != o.at.At {
			o.between(TheWay, "", stance.Action{Do: do}, down, o.at.At-1, down)
		}
	}
	o.add(TheWay, "", stance.Action{Do: stance.Land})
	o.add(TheWay, "", stance.Action{Do: stance.Work})
}

// top is above everything that a strand hangs from.
func (o *offering) top() (top stance.Cm) {
	for i := range o.sc.Lines {
		top = max(top, o.sc.Lines[i].Top)
	}
	return top
}

// ropes offers loops, knots that take damage out, and the connectors of deviations.
func (o *offering) ropes() {
	o.add(TheRopes, "", stance.Action{Do: stance.Untie})
	for _, r := range o.spans {
		at := o.sc.Along(&o.at, r.line, r.span, o.at.At+stance.Sternal)
		o.between(TheRopes, o.on(r.line, r.span), stance.Action{Do: stance.Tie, Line: o.sc.Lines[r.line].ID, Span: r.span}, r.low, r.high, at)
	}
	for line := range o.sc.Lines {
		l := &o.sc.Lines[line]
		for i := range l.Marks {
			where := fmt.Sprintf("%s, %s", markWords(&l.Marks[i]), l.Name)
			switch l.Marks[i].Kind {
			case rig.DeviationMark:
				o.add(TheRopes, where, stance.Action{Do: stance.Pass, Line: l.ID, Span: i + 1})
			case rig.DamageMark:
				o.add(TheRopes, where, stance.Action{Do: stance.Isolate, Line: l.ID, Span: i + 1})
				o.add(TheRopes, where+", with an eye", stance.Action{Do: stance.Isolate, Line: l.ID, Span: i + 1, Eye: true})
			}
		}
	}
}

// After gives where a list leads that can be done, and whether that is where its move ends.
func (list *StepList) After(sc *stance.Scene) (end stance.Stance, reached bool, err error) {
	start, err := list.Start.Read(sc)
	if err != nil {
		return start, false, err
	}
	_, end = Replay(sc, start, list.Steps)
	m := Find(list.Move)
	return end, m != nil && m.Reached(sc, &start, &end, Ask{To: &list.ToM}), nil
}
