package picture

import (
	"fmt"
	"strings"

	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
)

// A Loading is how a rope lies in a device: what the loading picture is drawn from.
type Loading struct {
	Label string
	Kind  Kind
	// Fixed devices hang from the anchor or lie beside it, and the loaded strand goes down; the
	// others ride on a person, and it goes up to the anchor.
	Fixed, Lying bool
	// Side is where the loaded strand leaves, seen from the front. Back draws it from behind.
	Side gear.Side
	Back bool
	// Assumed: the model does not say the side; it is the one of its class.
	Assumed bool
	// Engraved is the face with our sign for the way to the anchor: front, back, both, or "" where
	// the model does not say it.
	Engraved string
	// Posts: it has a second post, whether the rope runs round it or not.
	Posts bool
	// OfClass: the model does not say how its rope runs.
	OfClass bool
	// Position is what its handle is in; Holds, whether it holds there with hands off. No
	// Position: nothing is drawn of a handle.
	Position string
	Parked   bool
	Holds    bool
	// Second: the rope also runs round a second post or an added bend.
	Second   bool
	Threaded rig.Threaded
	Open     bool
	// Gate is the worst of the connectors in its chain; none is drawn as locked.
	Gate rig.Gate
	// Point is what it hangs from, on a person; Belongs is where it must, by the rules. No
	// Belongs: nowhere on this harness.
	Point, Belongs gear.Point
}

// Of is how the rope lies in the device of a hold, as it is described; ok is false where no
// rope runs through it.
func Of(h *rig.HoldView) (l Loading, ok bool) {
	m := h.Device.Model
	l = Loading{
		Label: h.Device.Item.Label, Kind: KindOf(m), Fixed: h.Role() == rig.ToLower, Threaded: h.Threaded, Open: h.Open, Second: h.ExtraFriction && bends[KindOf(m)], Point: h.Point, Belongs: fit.PointFor(h),
	}
	if l.Kind == "" {
		return l, false
	}
	if p := h.Position; p != nil && (len(m.Device.Positions) > 1 || p.HandsOff != gear.Stops) {
		l.Position, l.Parked, l.Holds = p.Name, p.Parked, p.HandsOff == gear.Stops
	}
	for _, link := range h.Links {
		if g := link.Link.Gate; link.Model.Connector != nil && (g == rig.GateOpen || g == rig.GateShut && l.Gate != rig.GateOpen) {
			l.Gate = g
		}
	}
	l.Side, l.Assumed = sideOf(m, l.Fixed)
	l.OfClass = m.Device.Looks == nil
	if k := m.Device.Looks; k != nil {
		l.Engraved, l.Posts = k.AnchorSign, k.SecondPost
	}
	if s := h.Leaves; s != nil && m.Device.Sides != nil {
		l.Side = s.Side
		if s.SeenFrom == "back" {
			l.Side = s.Side.Other()
		}
	}
	return l, true
}

// bends are the kinds that take an added bend.
var bends = map[Kind]bool{CamAndPost: true, SheaveBrake: true}

// sideOf is the side on which a model's loaded strand leaves in a role; assumed, where its
// leaflet's figures do not say it.
func sideOf(m *gear.Model, fixed bool) (side gear.Side, assumed bool) {
	s := m.Device.Sides
	switch {
	case s == nil:
		return gear.Right, true
	case fixed:
		return s.Anchored, false
	}
	return s.Riding, false
}

// Must is how it must be, for the same model and role: as its picture shows, shut, and in a
// position that holds.
func (l Loading) Must(m *gear.Model) Loading {
	l.Threaded, l.Open, l.Gate = rig.ThreadedRight, false, rig.GateLocked
	l.Point = l.Belongs
	l.Side, l.Assumed = sideOf(m, l.Fixed)
	if l.Position == "" || l.Holds {
		return l
	}
	for _, p := range m.Device.Positions {
		if p.HandsOff == gear.Stops && (!l.Holds || p.Parked && !l.Parked) {
			l.Position, l.Parked, l.Holds = p.Name, p.Parked, true
		}
	}
	return l
}

// differs reports whether two loadings show something otherwise.
func (l Loading) differs(o Loading) bool {
	return l.Threaded != o.Threaded || l.Open != o.Open || l.Side != o.Side || l.Position != o.Position || l.Point != o.Point || l.unlocked() != o.unlocked()
}

func (l Loading) unlocked() bool { return l.Gate == rig.GateOpen || l.Gate == rig.GateShut }

// Text says what the picture shows.
func (l Loading) Text() string {
	var b strings.Builder
	view := "front"
	if l.Back {
		view = "back"
	}
	where, to := "riding on a person", "strand to the anchor"
	switch {
	case l.Fixed && l.Lying:
		where, to = "lying at the anchor", "strand to the load"
	case l.Fixed:
		where, to = "hanging from the anchor", "strand to the load"
	}
	fmt.Fprintf(&b, "%s, %s, %s, seen from the %s. ", l.Label, l.Kind, where, view)
	end := map[bool]string{true: "bottom", false: "top"}[l.Fixed]
	switch l.Threaded {
	case rig.ThreadedReversed:
		fmt.Fprintf(&b, "Wrong way round: the %s enters on the side of the hand. ", to)
	case rig.ThreadedWrong:
		fmt.Fprintf(&b, "Misthreaded: the rope passes by the %s. ", l.missed())
		fallthrough
	default:
		fmt.Fprintf(&b, "The %s leaves at the %s on the %s. ", to, end, l.seen())
	}
	if l.Second {
		b.WriteString("The added bend is in. ")
	}
	switch l.engraved() {
	case "here":
		b.WriteString("The way to the anchor is engraved on this face. ")
	case "behind":
		b.WriteString("The way to the anchor is engraved on the other face. ")
	}
	if l.Posts && !l.Second && posts[l.Kind] {
		b.WriteString("The second post is free. ")
	}
	if l.Open {
		b.WriteString("It is open. ")
	} else if l.Kind != Coils {
		b.WriteString("It is shut. ")
	}
	switch l.Gate {
	case rig.GateOpen:
		b.WriteString("A connector of its chain is open. ")
	case rig.GateShut:
		b.WriteString("A connector of its chain is shut, and not locked. ")
	}
	if !l.Fixed && l.Point != "" {
		fmt.Fprintf(&b, "It hangs from the %s point. ", l.Point)
	}
	switch {
	case l.Position == "":
	case l.Holds:
		fmt.Fprintf(&b, "In %q it holds with hands off. ", l.Position)
	default:
		fmt.Fprintf(&b, "In %q it does not hold with hands off. ", l.Position)
	}
	return strings.TrimSpace(b.String() + l.note())
}

// note says what of the picture the model does not say.
func (l Loading) note() string {
	switch {
	case l.OfClass && l.Assumed:
		return "The picture is that of its class: the model does not say how the rope runs, nor on which side it leaves."
	case l.OfClass:
		return "The picture is that of its class: the model does not say how the rope runs."
	case l.Assumed:
		return "The side is that of its class: the model does not say it."
	}
	return ""
}

// posts are the kinds that may have a second post.
var posts = map[Kind]bool{CamAndPost: true, SheaveBrake: true}

// engraved says whether the sign is on the face that is seen.
func (l Loading) engraved() string {
	switch {
	case l.Engraved == "":
		return ""
	case l.Engraved == "both" || l.Engraved == "back" == l.Back:
		return "here"
	}
	return "behind"
}

// missed is the part that a misthreaded rope does not run round.
func (l Loading) missed() string {
	switch l.Kind {
	case CamAndPost, SheaveBrake:
		return "post"
	case Drum:
		return "guide"
	case RollingLock:
		return "wheel"
	}
	return "cam"
}

// seen is the side of the loaded strand in the view that is drawn.
func (l Loading) seen() gear.Side {
	if l.Back {
		return l.Side.Other()
	}
	return l.Side
}

// Draw draws it.
func (l Loading) Draw() *Drawing {
	d := &Drawing{Width: wide, Height: high, Text: l.Text(), Note: l.note()}
	o := outlines[l.Kind](l.Second)
	if l.Posts && !l.Second && posts[l.Kind] {
		with := outlines[l.Kind](true)
		o.part("second post", Outline, 2.5, with.paths[len(with.paths)-1])
	}
	t := l.turned()
	// What a rope runs straight through is itself turned where it is the wrong way round.
	device := t
	if l.Threaded == rig.ThreadedReversed && o.through {
		device.upside = !device.upside
	}
	l.behind(d, device, o)
	l.strand(d, t, o)
	l.before(d, device, o)
	l.ends(d, t, device, o)
	if l.Lying {
		d.lay()
	}
	return d
}

// turned is how the box of a kind is turned for this view and role.
func (l Loading) turned() turn {
	return turn{width: wide, height: high, mirror: l.seen() == gear.Left, upside: l.Fixed}
}

// behind draws the body, and what the rope lies on.
func (l Loading) behind(d *Drawing, t turn, o *outline) {
	for i, s := range o.parts {
		d.draw(t, o.paths[i], s)
	}
	if o.turns && l.Position != "" {
		s := Shape{Ink: Outline, Width: 7, Part: "handle"}
		d.draw(t, l.handle(o), s)
		if l.Threaded != rig.ThreadedReversed {
			d.say(t, o.pivot[0]+86, o.pivot[1]+36, l.Position)
		}
	}
}

// handle is where the handle stands: across the rope while the device can run, along the body
// where it holds.
func (l Loading) handle(o *outline) *path {
	x, y := o.pivot[0], o.pivot[1]
	switch {
	case l.Parked:
		return from(x, y).line(x+34, y+66).line(x+28, y+78)
	case l.Holds:
		return from(x, y).line(x+70, y+18).line(x+84, y+12)
	}
	return from(x, y).line(x+62, y-46).line(x+78, y-46)
}

func (l Loading) strand(d *Drawing, t turn, o *outline) {
	p := o.rope
	switch {
	case l.Threaded == rig.ThreadedWrong:
		p = o.wrong
	case l.Threaded == rig.ThreadedReversed && !o.through:
		p = o.reversed()
	}
	d.draw(t, p, Shape{Ink: Outline, Width: 11, Part: "strand"})
	d.draw(t, p, Shape{Ink: Rope, Width: 7, Part: "strand"})
}

// before draws what is in front of the rope: the plate, and what is not as it must be.
// reversed is the rope with its ends changed: the anchor's strand comes in where the hand's
// belongs.
func (o *outline) reversed() *path {
	n := len(o.rope.nodes)
	load, hand := o.rope.nodes[0].at[0], o.rope.nodes[n-1].at[0]
	if hand[1] == 0 {
		return o.rope // both of its strands go up
	}
	p := from(load[0]+66, high).line(load[0]+66, 70).curve(load[0]+66, 24, load[0], 24, load[0], 70)
	p.nodes = append(p.nodes, o.rope.nodes[1:n-1]...)
	return p.line(hand[0], 262).curve(hand[0], 304, hand[0]-42, 304, hand[0]-42, 262).line(hand[0]-42, 0)
}

func (l Loading) before(d *Drawing, t turn, o *outline) {
	if l.engraved() == "here" {
		// Small, on the body, pointing along the strand that goes to the anchor.
		x, base, tip := o.pivot[0]+8, o.pivot[1]+52, o.pivot[1]+38
		if l.Fixed {
			// Hung up or laid down, the anchor is where its eye is.
			base, tip = tip, base
		}
		d.draw(t, from(x-7, base).line(x+7, base).line(x, tip).shut(), Shape{Ink: Sign, Width: 1, Filled: true, Part: "engraved"})
	}
	if o.plate != nil {
		if l.Open {
			d.draw(t, swung(o.plate, o.eye), Shape{Ink: Wrong, Width: 3, Dashed: true, Part: "plate"})
		} else {
			d.draw(t, opened(o.plate), Shape{Ink: Soft, Width: 2, Part: "plate"})
		}
	}
	if l.Threaded == rig.ThreadedWrong || l.Threaded == rig.ThreadedReversed {
		cross(d, t, o.missed[0], o.missed[1])
	}
	switch {
	case l.Position == "" || l.Holds:
	case o.turns:
		cross(d, t, o.pivot[0]+90, o.pivot[1]-46)
	default:
		cross(d, t, o.missed[0], o.missed[1]+36)
	}
}

// cross marks what is not as it must be, by its shape.
func cross(d *Drawing, t turn, x, y float64) {
	d.draw(t, circle(x, y, 15), Shape{Ink: Wrong, Width: 3})
	d.draw(t, from(x-8, y-8).line(x+8, y+8).move(x+8, y-8).line(x-8, y+8), Shape{Ink: Wrong, Width: 3.5})
}

// opened is a path that is not filled: an outline over what lies behind it.
func opened(p *path) *path {
	q := &path{nodes: append([]node{}, p.nodes[:len(p.nodes)-1]...)}
	first := p.nodes[0].at[0]
	return q.line(first[0], first[1])
}

// swung is a plate turned open by a third of a right angle about the eye.
func swung(p *path, eye [2]float64) *path {
	const c, s = 0.84, 0.54
	q := &path{}
	for _, n := range p.nodes {
		for i := range points[n.op] {
			x, y := n.at[i][0]-eye[0], n.at[i][1]-eye[1]
			n.at[i] = [2]float64{eye[0] + c*x - s*y, eye[1] + s*x + c*y}
		}
		q.nodes = append(q.nodes, n)
	}
	return opened(q)
}

// ends draws where the strands go, the connector and what it hangs on.
func (l Loading) ends(d *Drawing, t, device turn, o *outline) {
	load, hand := o.rope.nodes[0].at[0], o.hand
	switch {
	case l.Threaded != rig.ThreadedReversed || o.through:
	case l.Kind == Capture:
		load = [2]float64{o.hand[0], 0}
	default:
		load, hand = [2]float64{o.hand[0] - 42, 0}, [2]float64{load[0] + 66, o.hand[1]}
	}
	// Our sign for the way to the anchor: a triangle that stands on the strand.
	if !l.Fixed {
		d.draw(t, from(load[0]-11, 2).line(load[0]+11, 2).line(load[0], 20).shut(), Shape{Ink: Sign, Width: 1, Filled: true, Part: "anchor"})
		beside := load[0] - 58
		if beside < 0 {
			beside = load[0] + 62
		}
		d.say(t, beside, 16, "to the anchor")
	} else {
		d.draw(t, from(load[0]-14, 4).line(load[0]+14, 4).line(load[0]+14, 26).line(load[0]-14, 26).shut(), Shape{Ink: Sign, Width: 2.5, Part: "load"})
		d.say(t, load[0]-46, 18, "load")
	}
	if !o.through && l.Kind != Capture {
		x, y := hand[0], hand[1]
		d.draw(t, round(9, x-18, y-10, x+16, y-12, x+18, y+14, x-16, y+16), Shape{Ink: Moving, Width: 3, Part: "hand"})
		d.draw(t, from(x-15, y-2).line(x+15, y-4).move(x-15, y+6).line(x+15, y+4), Shape{Ink: Moving, Width: 2, Part: "hand"})
		d.say(t, x, y+32, "hand")
	}
	ex, ey := o.eye[0], o.eye[1]
	d.draw(device, circle(ex, ey, 8), Shape{Ink: Outline, Width: 2.5, Part: "eye"})
	l.connector(d, device, ex, ey)
	if l.Fixed {
		d.draw(device, from(ex-11, high-2).line(ex+11, high-2).line(ex, high-20).shut(), Shape{Ink: Sign, Width: 1, Filled: true, Part: "anchor"})
		d.draw(device, from(ex, ey+44).line(ex, high-20), Shape{Ink: Soft, Width: 5, Part: "link"})
		return
	}
	link := from(ex, ey+44).line(ex, high-14)
	if device != t {
		// From above it hangs down beside the device.
		_, top := device.place(ex, ey+44)
		link = from(ex, top).curve(ex, top-40, 26, top-20, 26, 120).line(26, high-14)
		ex = 30
	}
	d.draw(t, link, Shape{Ink: Soft, Width: 5, Part: "link"})
	d.say(t, ex+8, high-4, "you, "+string(l.Point))
}

// connector draws one through the eye: its gate is a bar across the side where it is locked,
// and stands away where it is not.
func (l Loading) connector(d *Drawing, t turn, x, y float64) {
	ring := round(13, x-13, y-6, x+13, y-6, x+13, y+44, x-13, y+44)
	switch l.Gate {
	case rig.GateOpen:
		d.draw(t, from(x+13, y+8).line(x+13, y-6).line(x-13, y-6).line(x-13, y+44).line(x+13, y+44).line(x+13, y+34), Shape{Ink: Wrong, Width: 5, Part: "connector"})
		d.draw(t, from(x+13, y+34).line(x-4, y+14), Shape{Ink: Wrong, Width: 4, Part: "connector"})
	case rig.GateShut:
		d.draw(t, ring, Shape{Ink: Wrong, Width: 5, Part: "connector"})
		d.draw(t, from(x+22, y+40).line(x+22, y+52), Shape{Ink: Wrong, Width: 8, Part: "connector"})
	default:
		d.draw(t, ring, Shape{Ink: Outline, Width: 5, Part: "connector"})
		d.draw(t, from(x+13, y+12).line(x+13, y+28), Shape{Ink: Outline, Width: 9, Part: "connector"})
	}
}

// lay turns a drawing onto its side: the anchor to the left.
func (d *Drawing) lay() {
	for i := range d.Shapes {
		s := &d.Shapes[i]
		for n := range s.nodes {
			for j := range points[s.nodes[n].op] {
				x, y := s.nodes[n].at[j][0], s.nodes[n].at[j][1]
				s.nodes[n].at[j] = [2]float64{y, d.Width - x}
			}
		}
		s.Path = letters(s.nodes)
	}
	for i := range d.Labels {
		l := &d.Labels[i]
		x := map[string]float64{"start": l.X, "middle": l.X, "end": l.X}[l.Anchor]
		l.X, l.Y, l.Anchor = l.Y, d.Width-x, "middle"
	}
	d.Width, d.Height = d.Height, d.Width
}
