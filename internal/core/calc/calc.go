// Package calc is how the figures of package mechanics are requested from
// outside: by name, one JSON object in and one out, the same for the command and
// the API. To any figure it adds, when asked, its working, a band for inputs that
// are not known exactly, and for falls the course in time.
//
// It knows names and JSON. It knows no physics.
package calc

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"reflect"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/strict"
)

// Calc is one figure, or several that are got together.
type Calc struct {
	Name string
	// Does says in words what it computes.
	Does string
	// In and Out are the structs whose fields are read and written, beside those
	// of Options (and CourseOption) and Extras.
	In, Out reflect.Type
	// HasCourse is set where a course in time may be asked for.
	HasCourse bool

	run func(data []byte) (*Answer, error)
}

// Options may stand beside the fields of any In.
type Options struct {
	Working bool              `json:"working,omitempty" doc:"give the working"`
	Spread  map[string]Spread `json:"spread,omitempty" doc:"which inputs are not known exactly, and how"`
	Samples int               `json:"samples,omitempty" minimum:"10" maximum:"100000" default:"10000"`
	Seed    int               `json:"seed,omitempty" minimum:"0" default:"1" doc:"the same seed gives the same samples"`
}

// CourseOption may stand beside the fields of a fall or a shared load.
type CourseOption struct {
	Course bool `json:"course,omitempty" doc:"give the course in time"`
}

// Extras stand beside the fields of any Out when they were asked for.
type Extras struct {
	Working []finding.Working       `json:"working,omitempty"`
	Band    map[string]Band         `json:"band,omitempty" doc:"for each numeric output"`
	Drivers map[string][]Driver     `json:"drivers,omitempty" doc:"for each numeric output, largest first"`
	Course  []mechanics.CoursePoint `json:"course,omitempty" doc:"at most 400 points"`
}

// Answer is what a Calc gives: Out points to its Out.
type Answer struct {
	Out any
	Extras
}

// MarshalJSON writes the fields of Out and the extras as one object.
func (a *Answer) MarshalJSON() ([]byte, error) {
	out, err := marshal(a.Out)
	if err != nil {
		return nil, err
	}
	extras, err := marshal(a.Extras)
	if err != nil || len(extras) == 2 {
		return out, err
	}
	out[len(out)-1] = ','
	return append(out, extras[1:]...), nil
}

func marshal(v any) ([]byte, error) {
	var b bytes.Buffer
	e := json.NewEncoder(&b)
	e.SetEscapeHTML(false)
	err := e.Encode(v)
	return bytes.TrimSuffix(b.Bytes(), []byte("\n")), err
}

// All are all figures, in the order of the domain.
var All = []*Calc{
	define("anchor", "tension of each leg of an anchor, and what happens if one goes", mechanics.Anchor),
	define("redirect", "load on a point where a rope changes its direction", sure(mechanics.Redirect)),
	define("haul", "ratio, forces and strokes of a haul system", mechanics.Haul),
	define("lower", "what a brake asks of the hand", sure(mechanics.Lower)),
	define("heat", "temperature of a device at the end of a descent", mechanics.Heat),
	define("stretch", "stretch of a hanging rope", sure(mechanics.Stretch)),
	define("fall", "a fall onto a backup device", sure(mechanics.FallInTime)),
	define("share", "a strand that fails while two share the load", sure(mechanics.Share)),
	define("wind", "slack that the wind draws on a backup strand", sure(mechanics.Wind)),
	define("swing", "how hard a body swings when let go", mechanics.Swing),
	define("rope", "rope needed for a drop", mechanics.Rope),
}

// Find gives a figure by its name; nil for none.
func Find(name string) *Calc {
	for _, c := range All {
		if c.Name == name {
			return c
		}
	}
	return nil
}

// Names are the names of all figures.
func Names() string {
	names := make([]string, len(All))
	for i, c := range All {
		names[i] = c.Name
	}
	return strings.Join(names, ", ")
}

// Run reads the input strictly and computes. Every error is a *strict.Error that
// names the field.
func (c *Calc) Run(data []byte) (*Answer, error) { return c.run(data) }

// sure makes a model that always has an answer into one that may have none.
func sure[I, O any](compute func(I) O) func(I) (O, error) {
	return func(in I) (O, error) { return compute(in), nil }
}

// worked is an Out that tells how it was got.
type worked[O any] interface {
	*O
	Working() []finding.Working
}

func define[I, O any, P worked[O]](name, does string, compute func(I) (O, error)) *Calc {
	_, hasCourse := any(new(O)).(interface {
		Course() []mechanics.CoursePoint
	})
	c := &Calc{Name: name, Does: does, In: reflect.TypeFor[I](), Out: reflect.TypeFor[O](), HasCourse: hasCourse}
	c.run = func(data []byte) (*Answer, error) {
		var in I
		var options Options
		var course CourseOption
		into := []any{&in, &options}
		if hasCourse {
			into = append(into, &course)
		}
		if err := strict.Read(data, into...); err != nil {
			return nil, err
		}
		out, err := compute(in)
		if err != nil {
			return nil, err
		}
		if err := finite(&out); err != nil {
			return nil, err
		}
		answer := &Answer{Out: &out}
		if options.Working {
			answer.Working = P(&out).Working()
		}
		if course.Course {
			answer.Course = any(&out).(interface {
				Course() []mechanics.CoursePoint
			}).Course()
		}
		if len(options.Spread) > 0 {
			s := sampling{of: &options, into: &in, out: &out, compute: func() (any, error) {
				o, err := compute(in)
				return &o, err
			}}
			answer.Band, answer.Drivers, err = s.run()
		}
		return answer, err
	}
	return c
}

// finite refuses figures that are each within their limits and together lead
// out of what can be computed.
func finite(out any) error {
	for _, o := range outputs(out) {
		v := o.get(reflect.ValueOf(out).Elem())
		if math.IsNaN(v) || math.IsInf(v, 0) && !o.mayBeNone {
			return &strict.Error{Faults: []strict.Fault{{Detail: fmt.Sprintf("these figures are too far apart: %s cannot be computed", o.name)}}}
		}
	}
	return nil
}
