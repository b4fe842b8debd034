package picture

import (
	"math"
	"slices"
)

// The knots as paths in space. Each is tied as its words say; which rope lies over which comes
// from the path and is not said anywhere.

// eight is the path of a figure eight from its foot to its head: up, round the head, down over
// itself, round behind its foot, and up through the head.
func eight() []place {
	return smooth(stretched(1.75,
		place{0, -6.2, 0}, place{0, -4.6, 0.4}, place{0, -3.4, 0.7}, place{0.35, -1.5, 0}, place{0.75, -0.35, -0.7}, place{1.5, 1, 0},
		place{1.7, 2.6, 0.3}, place{0, 3.7, 0.7}, place{-1.7, 2.6, 0}, place{-1.35, 1.1, -0.4}, place{-0.7, 0.3, -0.7}, place{0.7, -0.35, 0.7},
		place{1.6, -1.3, 0}, place{1.5, -2.7, -0.5}, place{0, -3.4, -0.8}, place{-1.5, -2.7, -0.3}, place{-1.6, -1.2, 0.2}, place{-0.85, 0.2, 0.7},
		place{-0.15, 1.6, 0}, place{0, 3.4, -0.7}, place{0, 4.8, 0}, place{0, 6.2, 0}), 6)
}

// stretched makes room for more than one rope in a path.
func stretched(by float64, points ...place) []place {
	for i := range points {
		points[i].x *= by
		points[i].y *= by
	}
	return points
}

// shifted moves a line up.
func shifted(line []place, up float64) []place {
	out := slices.Clone(line)
	for i := range out {
		out[i].y += up
	}
	return out
}

func backwards(line []place) []place {
	out := slices.Clone(line)
	slices.Reverse(out)
	return out
}

// half is how far two ropes that run side by side are from the middle between them.
const half = 0.62

// bight leads one line into another by an open loop above them, as long as is said.
func bight(up, down []place, long float64) []place {
	y := up[len(up)-1].y
	loop := smooth([]place{{half, y, 0}, {1.6, y + 0.35*long, 0}, {1.7, y + 0.7*long, 0}, {0, y + long, 0}, {-1.7, y + 0.7*long, 0}, {-1.6, y + 0.35*long, 0}, {-half, y, 0}}, 5)
	return slices.Concat(up, loop[1:len(loop)-1], down)
}

// tailDown leads a line straight down.
func tailDown(x, y, long float64) []place { return []place{{x, y - long, 0}, {x, y, 0}} }

func endLoop(tail float64) []cord {
	base := eight()
	foot := base[0].y
	return []cord{{ink: Rope, thick: 1, part: "rope", line: slices.Concat(
		tailDown(half, foot, 13), bight(beside(base, half), backwards(beside(base, -half)), 8), backwards(tailDown(-half, foot, tail)))}}
}

func join(tail float64) []cord {
	base := eight()
	foot := base[0].y
	lower, upper := beside(base, half), beside(backwards(base), half)
	return []cord{
		{ink: Rope, thick: 1, part: "rope", line: slices.Concat(tailDown(half, foot, 13), lower, []place{{half, -foot + tail, 0}})},
		{ink: Other, thick: 1, part: "rope", line: slices.Concat([]place{{-half, -foot + 13, 0}}, upper, []place{{-half, foot - tail, 0}})},
	}
}

// midLoop is a loop in the middle of a rope: twice twisted, folded down over its own feet and
// brought up through the middle from behind. Where twists is 1, one of them is missing.
func midLoop(twists int) []cord {
	left := []place{{-13, 0, 0}, {-6.6, 0, 0}, {-3, 0.5, 0}, {0, 2.6, 0.7}, {2.9, 5.6, 0}}
	// Half of the loop: from the upper twist round the outside, behind the lower one, and out.
	side := []place{{-2.6, 11, 0.4}, {-5.4, 11, 1}, {-7.2, 7, 1.2}, {-6.5, 0.1, 1.2}, {-5.2, -2.6, 0.4}, {-2.4, -3.6, -1}, {-0.8, -1.4, -2}, {-0.8, 2.6, -2.2}, {-0.8, 5.6, 0}, {-0.8, 8.6, 2.2}, {-0.8, 12, 1}, {-1.9, 15, 0}}
	if twists == 1 {
		for i := range side[:3] {
			side[i].x *= -1
		}
		side = slices.Concat([]place{{2.9, 8.4, 0}}, mirrored(side[3:4], 1), mirrored(side[4:], 1))
	} else {
		left = append(left, place{0, 8.8, -0.7})
	}
	top := place{0, 17.5, 0}
	way := slices.Concat(left, side, []place{top})
	right := mirrored(way[:len(way)-1], -1)
	slices.Reverse(right)
	line := smooth(slices.Concat(way, right), 6)
	return []cord{{ink: Rope, thick: 1, part: "rope", line: line}}
}

// mirrored mirrors points left to right; with -1 also where they lie over each other at the
// twists, which the two halves pass the other way round.
func mirrored(points []place, twist float64) []place {
	out := slices.Clone(points)
	for i := range out {
		out[i].x *= -1
		if math.Abs(out[i].x) < 0.1 {
			out[i].z *= twist
		}
	}
	return out
}

// coil winds round an axis, from below upwards, in front first.
func coil(radius, from, pitch float64, turns float64) []place {
	var out []place
	n := int(turns * 12)
	for k := range n + 1 {
		a := 2 * math.Pi * float64(k) / 12
		out = append(out, place{-radius * math.Cos(a), from + pitch*float64(k)/12, radius * math.Sin(a)})
	}
	return out
}

// barrel is the path of a rope that runs down, winds round itself and round what is between
// upwards, and goes down through its own turns; the tail follows.
func barrel(wide, radius, pitch, turns, top, tail float64) []place {
	low := -pitch * turns / 2
	high := low + pitch*turns
	return slices.Concat(
		smooth([]place{{wide, top, 0}, {wide, high + 2, 0}, {wide, low - 1, 0}, {wide - 0.9, low - 2.4, -1.2}, {-wide - 0.2, low - 2.1, -1.2}, {-radius - 0.1, low - 1, -0.6}, {-radius, low, 0}}, 5),
		smooth(coil(radius, low, pitch, turns), 2)[1:],
		smooth([]place{{-radius, high, 0}, {-radius + 0.2, high + 1.1, 0}, {-wide - 0.3, high + 1.7, 0}, {-wide, high + 0.8, 0}, {-wide, low - 2.4, 0}, {-wide, low - 2.4 - tail, 0}}, 5)[1:],
	)
}

func stopper(turns, tail float64) []cord {
	return []cord{{ink: Rope, thick: 1, part: "rope", line: barrel(0.62, 1.9, 1.2, turns, 12, tail)}}
}

// backing is tied by a tail round the strand that bears; loose, beside it.
func backing(tail float64, loose bool) []cord {
	wide, radius, x := 1.24, 2.5, 0.0
	if loose {
		wide, radius, x = 0.62, 1.9, 3.6
	}
	return []cord{
		{ink: Other, thick: 1, part: "strand", line: []place{{x, 13, 0}, {x, -16, 0}}},
		{ink: Rope, thick: 1, part: "rope", line: barrel(wide, radius, 1.2, 2, 11, tail)},
	}
}

// overhandRound is the path of an overhand round a strand on its axis: of the outer strand of
// a bight with a side of -1, of the inner with 1, of its middle with 0.
func overhandRound(side float64) []place {
	const wide, radius, low, pitch = 2.1, 4.2, -1.4, 2.9
	s := side * half
	turn := coil(radius, low+s, pitch, 1)
	return slices.Concat(
		smooth([]place{{wide + s, 9, 0}, {wide + s, 4, 0}, {wide + s, low - 1.6, 0}, {wide - 1.6 + 0.4*s, low - 4 - s, -1.3}, {-wide, low - 4 - s, -1.3}, {-radius - 0.3 - s, low - 2 - 0.6*s, -0.8}, turn[0]}, 5),
		smooth(turn, 2)[1:],
		smooth([]place{turn[len(turn)-1], {-radius - 0.2 + 0.6*s, low + pitch + 1.8, 0}, {-wide - 0.8, low + pitch + 3 - s, 0}, {-wide - s, low + pitch + 1, 0}, {-wide - s, low - 4.4, 0}, {-wide - s, low - 7.5, 0}}, 5)[1:])
}

// roundStrand is a bight of the brake strand, tied in an overhand round the load strand, or
// beside it.
func roundStrand(loose bool) []cord {
	x := 0.0
	if loose {
		x = 5.6
	}
	a, b := overhandRound(1), backwards(overhandRound(-1))
	mid, y := (a[len(a)-1].x+b[0].x)/2, b[0].y
	end := smooth([]place{{mid - half, y, 0}, {mid - 1.2, y - 2.4, 0}, {mid, y - 4, 0}, {mid + 1.2, y - 2.4, 0}, {mid + half, y, 0}}, 5)
	return []cord{
		{ink: Other, thick: 1, part: "strand", line: []place{{x, 10, 0}, {x, -14, 0}}},
		{ink: Rope, thick: 1, part: "rope", line: slices.Concat(a, end[1:len(end)-1], b)},
	}
}

// gripping is a cord wound round a rope, so many turns to each side of its middle, under its own bar.
func gripping(turns float64) []cord {
	const radius, pitch, thick = 1.05, 0.85, 0.7
	upper := smooth(coil(radius, 0.5, pitch, turns), 2)
	high := upper[len(upper)-1].y
	bar := smooth([]place{{-radius, high, 0}, {-0.7, high + 0.9, 1}, {0.2, high, 1.8}, {0.2, 0, 2}, {0.2, -high, 1.8}, {-0.7, -high - 0.9, 1}, {-radius, -high, 0}}, 5)
	lower := slices.Clone(upper)
	for i := range lower {
		lower[i].y *= -1
	}
	leg := func(y float64) []place {
		return smooth([]place{{-5.5, y * 1.4, 0}, {-3.6, y * 1.2, 0.2}, {-radius - 0.9, y, 0}, {-radius, y, 0}}, 4)
	}
	return []cord{
		{ink: Other, thick: 1, part: "strand", line: []place{{0, 7, 0}, {0, -7, 0}}},
		{ink: Rope, thick: thick, part: "rope", line: slices.Concat(leg(0.5), upper[1:], bar[1:], backwards(lower)[1:], backwards(leg(-0.5))[1:])},
	}
}

// releasing is a cord reeved between two connectors and wound round its own strands; its end is
// passed between them, or left out.
func releasing(locked bool) []cord {
	const radius, pitch, turns, low = 2.6, 1.15, 4.0, -3.0
	turn := smooth(coil(radius, low, pitch, turns), 2)
	high := turn[len(turn)-1].y
	end := []place{{-radius, high, 0}, {-1.8, high + 1.3, 1.2}, {-0.65, high + 1.7, 0}, {0.3, high + 1.9, -1.2}, {3, high + 2, -0.6}, {8, high + 1, 0}}
	if !locked {
		end = []place{{-radius, high, 0}, {-radius - 1, high + 1, 0}, {-6, high, 0}, {-8, high - 4, 0}}
	}
	return []cord{{ink: Rope, thick: 1, part: "rope", line: slices.Concat(
		smooth([]place{{-0.9, -9.3, 0}, {-1.3, -7.8, 0}, {-1.3, 0, 0}, {-1.3, 8.4, 0}, {-0.9, 9.9, 0.3}, {0.9, 9.9, 0.3}, {1.3, 8.4, 0}, {1.3, 0, 0}, {1.3, -7.6, 0}, {1.0, -9.2, 0.3}, {0.2, -9.2, 0.3}, {0, -7.6, 0}, {0, -5.2, 0.4}, {-1.2, -3.9, 1.6}, {-radius, low, 0}}, 5),
		turn[1:], smooth(end, 5)[1:])}}
}

// eyeLoop is a figure eight in a bight whose long loop is tied off by an overhand: the eye
// between the two is clear of what the loop beyond takes out of the line.
func eyeLoop() []cord {
	low := eight()
	upper := overhand()
	a := shifted(low, -9)
	b := shifted(upper, 15.5)
	right, left := beside(a, half), beside(a, -half)
	over, under := beside(b, half), beside(b, -half)
	y, z := right[len(right)-1].y, over[0].y
	rise := smooth([]place{{half, y, 0}, {3, y + 0.35*(z-y), 0}, {3, y + 0.65*(z-y), 0}, {half, z, 0}}, 5)
	fall := smooth([]place{{-half, z, 0}, {-3, y + 0.65*(z-y), 0}, {-3, y + 0.35*(z-y), 0}, {-half, y, 0}}, 5)
	foot := right[0].y
	legs := smooth([]place{{9, foot - 4, 0}, {4, foot - 3.4, 0}, {half + 0.3, foot - 1.6, 0}, {half, foot, 0}}, 5)
	out := mirrored(backwards(legs), 1)
	return []cord{{ink: Rope, thick: 1, part: "rope", line: slices.Concat(
		legs[:len(legs)-1], right, rise[1:len(rise)-1], bight(over, backwards(under), 7), fall[1:len(fall)-1], backwards(left), out[1:])}}
}

// overhand is the path of an overhand from its foot to its head: up, round, behind its foot,
// and up through the turn.
func overhand() []place {
	return smooth(stretched(1.75,
		place{0, -4.6, 0}, place{-0.1, -3, 0.3}, place{0, -1.9, 0.7}, place{0.5, -0.9, 0}, place{0.95, 0, -0.7}, place{1.5, 1.1, 0}, place{1.3, 2.2, 0.5},
		place{0.1, 2.7, 0.7}, place{-1.3, 2.1, 0}, place{-1.75, 0.6, 0}, place{-1.3, -1.1, -0.4}, place{0, -1.9, -0.8}, place{1.3, -1.8, -0.2}, place{1.75, -0.9, 0.2},
		place{0.95, 0.05, 0.7}, place{0.3, 1.3, 0}, place{0.05, 2.7, -0.7}, place{0, 3.8, 0}, place{0, 5, 0}), 6)
}
