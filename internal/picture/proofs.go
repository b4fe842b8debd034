package picture

import "zealousknot/internal/core/gear"

// A proof moves one part of the picture, one way.
type motion struct{ part, moves string }

// motions are what the signs of proofs move.
var motions = map[gear.Sign]motion{
	gear.Handle: {"handle", "turn"}, gear.Jerk: {"strand", "jerk"}, gear.PullDown: {"body", "down"}, gear.PullUp: {"body", "up"},
	gear.Roll: {"body", "roll"}, gear.LetGo: {"hand", "away"}, gear.CordPull: {"cord", "down"}, gear.ParkSign: {"handle", "turn"}, gear.ShutPlate: {"plate", "turn"},
}

// device are the parts that move with the body.
var device = map[string]bool{"body": true, "post": true, "second post": true, "cam": true, "sheave": true, "brake": true, "wheel": true, "drum": true, "guide": true, "coils": true, "plate": true, "eye": true, "connector": true, "cord": true}

// Proof is the picture of a loading with what a proof of a sign moves: that part is drawn in
// the ink of what moves, with an arrow, and says how it moves.
func (l Loading) Proof(sign gear.Sign) *Drawing {
	if sign == gear.ParkSign || sign == gear.Handle {
		l.Holds, l.Parked = true, sign == gear.ParkSign
	}
	d := l.Draw()
	m, ok := motions[sign]
	if !ok {
		return d
	}
	switch {
	case sign == gear.Jerk && outlines[l.Kind](false).through:
		// What follows the person is jerked itself, not its rope.
		m.part = "body"
	case sign == gear.PullUp && l.Kind == Capture:
		m = motion{"strand", "jerk"}
	}
	moved := false
	for i := range d.Shapes {
		s := &d.Shapes[i]
		if s.Part != m.part && !(m.part == "body" && device[s.Part]) {
			continue
		}
		s.Moves, moved = m.moves, true
		if s.Ink == Outline || s.Ink == Soft {
			s.Ink = Moving
		}
	}
	if !moved {
		return d
	}
	d.arrow(l, m.moves, m.part == "body")
	d.Text += " What moves: " + movesWords[m.part] + ", " + wayWords[m.moves] + "."
	return d
}

var movesWords = map[string]string{"handle": "the handle", "strand": "the strand to the anchor", "body": "the device", "hand": "the hand", "cord": "the cord", "plate": "the plate"}

var wayWords = map[string]string{"turn": "through its positions", "jerk": "pulled sharply", "down": "pulled down", "up": "pushed up", "roll": "up and down", "away": "lets go"}

// arrow says by its shape how the part moves: one head one way, two heads both ways, two
// arrows for a jerk.
func (d *Drawing) arrow(l Loading, moves string, body bool) {
	const x = 24.0
	t := l.turned()
	var p *path
	switch moves {
	case "up", "down", "roll":
		// Up is up, whatever the device hangs from.
		t.upside = false
		p = from(x, 110).line(x, 210)
		if moves != "up" {
			p.move(x-10, 196).line(x, 210).line(x+10, 196)
		}
		if moves != "down" {
			p.move(x-10, 124).line(x, 110).line(x+10, 124)
		}
	case "jerk":
		if body {
			t.upside = false
			p = from(x, 110).line(x, 206).move(x-10, 192).line(x, 206).line(x+10, 192).move(x-10, 208).line(x, 222).line(x+10, 208)
			break
		}
		p = from(206, 74).line(206, 26).move(196, 40).line(206, 26).line(216, 40).move(196, 54).line(206, 40).line(216, 54)
	case "turn":
		p = from(206, 92).bend(244, 104, 240, 132).move(230, 120).line(240, 132).line(250, 120)
	case "away":
		p = from(x, 250).line(x, 300).move(x-10, 288).line(x, 300).line(x+10, 288)
	}
	d.draw(t, p, Shape{Ink: Moving, Width: 4, Part: "arrow"})
}
