package mechanics

import "math"

// vec is a vector in metres, kilonewtons or of no unit. The library's own brings its matrices
// along, 17 kB of what a browser fetches.
type vec struct{ X, Y, Z float64 }

func (a vec) add(b vec) vec { return vec{a.X + b.X, a.Y + b.Y, a.Z + b.Z} }

func (a vec) sub(b vec) vec { return vec{a.X - b.X, a.Y - b.Y, a.Z - b.Z} }

func (a vec) times(f float64) vec { return vec{f * a.X, f * a.Y, f * a.Z} }

func (a vec) dot(b vec) float64 { return a.X*b.X + a.Y*b.Y + a.Z*b.Z }

func (a vec) cross(b vec) vec { return vec{a.Y*b.Z - a.Z*b.Y, a.Z*b.X - a.X*b.Z, a.X*b.Y - a.Y*b.X} }

func (a vec) norm() float64 { return math.Hypot(a.X, math.Hypot(a.Y, a.Z)) }

// unit is the vector of length 1 in its direction; not a number where it has none.
func (a vec) unit() vec { return a.times(1 / a.norm()) }
