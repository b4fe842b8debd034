// Package drill makes exercises and marks them: faults planted into a sound rig, what would
// happen if one thing fails, a move done step by step, how two models differ. Every answer is
// the engine's own, got from the rules when an exercise is made and again when it is marked.
//
// It knows no screen, keeps nothing, and the same seed makes the same exercise.
package drill

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"math/rand/v2"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/school"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// Format and Version mark an exercise as this program writes it.
const (
	Format  = "exercise"
	Version = 1
)

// Kind is what is practised.
type Kind string

const (
	// Faults: find what is wrong on a rig, or in a list of steps.
	Faults Kind = "faults"
	// Fails: say what happens if one thing fails.
	Fails Kind = "fails"
	// Move: do a move of a person or of a team, step by step.
	Move Kind = "move"
	// Apart: say how two models of a class differ.
	Apart Kind = "apart"
)

// Kinds are all of them, in the order in which they are offered.
var Kinds = []Kind{Faults, Fails, Move, Apart}

// Exercise is one of them, complete with what it is about.
type Exercise struct {
	Format  string `json:"format" enum:"exercise" doc:"always: exercise"`
	Version int    `json:"version" minimum:"1" maximum:"1" doc:"version of the format"`
	Kind    Kind   `json:"kind" enum:"faults,fails,move,apart"`
	Seed    int64  `json:"seed" minimum:"0" maximum:"1000000000"`
	Level   int    `json:"level" minimum:"1" maximum:"4"`
	// Skill is what it practises.
	Skill    string         `json:"skill,omitempty" maxLength:"40" doc:"what it practises; left out: none that is kept"`
	Drop     *drop.Document `json:"drop,omitempty" doc:"what it is about; left out of apart"`
	Models   []gear.Model   `json:"models,omitempty" maxItems:"4" doc:"of apart: the models that are compared"`
	Question Question       `json:"question"`
	Answers  *Answers       `json:"answers,omitempty" doc:"only where they were requested"`
}

// Question is what is asked. Which fields there are depends on the kind.
type Question struct {
	// Of faults: a list of steps in which the fault is; left out: it is on the rig.
	List  *moves.StepList `json:"list,omitempty" doc:"of faults: the steps of a person with the fault in them"`
	Steps []team.Action   `json:"team_steps,omitempty" maxItems:"500" doc:"of faults: the steps of a team with the fault in them"`

	// Of fails and move.
	Person  string             `json:"person,omitempty" maxLength:"64"`
	Stance  *moves.ShownStance `json:"stance,omitempty" doc:"of fails, and where a move of a person begins"`
	Fails   string             `json:"fails,omitempty" maxLength:"140" doc:"kind and id of what fails, such as hold:descender-14"`
	Words   string             `json:"fails_words,omitempty" maxLength:"200"`
	Options []Option           `json:"options,omitempty" maxItems:"6"`

	Move    string          `json:"move,omitempty" maxLength:"40"`
	Of      string          `json:"of,omitempty" enum:"person,team,rescue" doc:"whose move; left out: a person's; rescue: of who fetches the person"`
	Rescuer string          `json:"rescuer,omitempty" maxLength:"64" doc:"of a pick-off: who comes"`
	Way     string          `json:"way,omitempty" maxLength:"40" doc:"of a pick-off: by which way"`
	Set     int             `json:"set,omitempty" minimum:"0" maximum:"20" doc:"of a pick-off: the set that the rescuer comes on"`
	AtM     quantity.Metres `json:"at_m,omitempty" minimum:"0" maximum:"2000" doc:"where it begins"`
	ToM     quantity.Metres `json:"to_m,omitempty" minimum:"0" maximum:"2000" doc:"where it ends, or beyond"`
	Schools school.Schools  `json:"schools,omitzero"`
	Best    *Best           `json:"best,omitempty" doc:"of move: what the engine's own plan takes"`

	// Of apart.
	Asked []string `json:"models,omitempty" maxItems:"4" doc:"of apart: ids of the models"`
	Asks  string   `json:"asks,omitempty" maxLength:"300"`
	Fact  string   `json:"fact,omitempty" maxLength:"60" doc:"of apart: which of the models' fields is asked about"`
}

// Option is one answer to choose from.
type Option struct {
	ID string `json:"id" pattern:"^[a-f]$"`
	// Text is of apart.
	Text string `json:"text,omitempty" maxLength:"200"`
	// The others are of fails: held by what, how far, how hard, where to.
	HeldBy string               `json:"held_by,omitempty" maxLength:"120" doc:"of fails; left out: nothing holds"`
	DropM  quantity.Metres      `json:"drop_m,omitempty" minimum:"0" maximum:"3000"`
	PeakKN quantity.Kilonewtons `json:"peak_kN,omitempty" minimum:"0" maximum:"1000"`
	AsideM quantity.Metres      `json:"aside_m,omitempty" minimum:"0" maximum:"1000"`
}

// Best is what a plan takes.
type Best struct {
	Holds   int     `json:"holds" minimum:"0" maximum:"1000" doc:"put on and taken off"`
	Seconds float64 `json:"seconds" minimum:"0" maximum:"1000000"`
}

// Answers are the engine's.
type Answers struct {
	Faults []Fault         `json:"faults,omitzero" maxItems:"20" doc:"of find the fault; empty: it has none"`
	Option string          `json:"option,omitempty" pattern:"^[a-f]?$"`
	Steps  *moves.StepList `json:"steps,omitempty"`
	Team   []team.Action   `json:"team_steps,omitempty" maxItems:"500"`

	Rescue []pair.Action `json:"rescue_steps,omitempty" maxItems:"200"`
}

// Asked asks for an exercise.
type Asked struct {
	Kind  Kind  `json:"kind" enum:"faults,fails,move,apart"`
	Seed  int64 `json:"seed,omitempty" minimum:"0" maximum:"1000000000"`
	Level int   `json:"level,omitempty" minimum:"0" maximum:"4" doc:"left out: 1"`
	// Drop is what it is about; nil for a made-up one.
	Drop *drop.Document `json:"drop,omitempty" doc:"what it is about; left out: a rig made up from the gear"`
	// Gear is what a made-up rig is made from, and whose models are compared.
	Gear    *drop.Store `json:"gear,omitempty" doc:"what a made-up rig is made from; left out: the team's store"`
	Move    string      `json:"move,omitempty" maxLength:"40" doc:"of move: which; left out: by the seed"`
	Person  string      `json:"person,omitempty" maxLength:"64" doc:"of move and fails: who; left out: by the seed"`
	Answers bool        `json:"answers,omitempty" doc:"give the answers too"`
}

// tries is how many rigs, places or moves are tried before an exercise is given up.
const tries = 60

// Make makes an exercise. A *strict.Error says what cannot be made and why; other errors are
// the context's.
func (a *Asked) Make(ctx context.Context) (*Exercise, error) {
	e := &Exercise{Format: Format, Version: Version, Kind: a.Kind, Seed: a.Seed, Level: cmp.Or(a.Level, 1)}
	m := &maker{Asked: a, e: e, rnd: rand.New(rand.NewPCG(uint64(a.Seed), uint64(e.Level)))}
	if err := m.check(); err != nil {
		return nil, err
	}
	made := map[Kind]func(context.Context) error{Faults: m.faults, Fails: m.fails, Move: m.move, Apart: m.apart}[a.Kind]
	for range tries {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		err := made(ctx)
		if err == nil {
			e.Skill = e.Practises()
			if !a.Answers {
				e.Answers = nil
			}
			return e, nil
		}
		if m.given = err; m.final {
			return nil, err
		}
	}
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	return nil, m.given
}

// maker makes one exercise.
type maker struct {
	*Asked
	e   *Exercise
	rnd *rand.Rand
	// given is why the last try failed; final: no other will do better.
	given error
	final bool
}

// check refuses what can never be made.
func (m *maker) check() error {
	var f strict.Faults
	switch {
	case m.Drop == nil && m.Gear == nil:
		f.Addf("/gear", "missing: a drop, or gear to make one from")
	case m.Drop != nil:
		if err := m.Drop.Validate(); err != nil {
			return under("/drop", err)
		}
	}
	return f.Err()
}

func refused(pointer, format string, args ...any) error {
	var f strict.Faults
	f.Addf(pointer, format, args...)
	return f.Err()
}

// under gives the faults of a part with where that part is.
func under(pointer string, err error) error {
	var e *strict.Error
	if !errors.As(err, &e) {
		return err
	}
	var f strict.Faults
	for _, fault := range e.Faults {
		f.Addf(pointer+fault.Pointer, "%s", fault.Detail)
	}
	return f.Err()
}

// stop ends the tries.
func (m *maker) stop(err error) error {
	m.final = true
	return err
}

// one picks one of a list that is not empty.
func one[T any](rnd *rand.Rand, list []T) T { return list[rnd.IntN(len(list))] }

// shuffled gives a list in another order.
func shuffled[T any](rnd *rand.Rand, list []T) []T {
	out := append([]T(nil), list...)
	rnd.Shuffle(len(out), func(i, j int) { out[i], out[j] = out[j], out[i] })
	return out
}

// Read reads an exercise strictly.
func Read(data []byte) (*Exercise, error) {
	e := new(Exercise)
	if err := strict.Read(data, e); err != nil {
		return nil, err
	}
	return e, e.Validate()
}

// Validate reports what an exercise lacks that is needed to mark it.
func (e *Exercise) Validate() error {
	if e.Kind != Apart && e.Drop == nil {
		return refused("/drop", "missing: what the exercise is about")
	}
	if e.Drop != nil {
		if err := e.Drop.Validate(); err != nil {
			return under("/drop", err)
		}
	}
	q := &e.Question
	switch {
	case e.Kind == Fails && (q.Stance == nil || q.Fails == "" || len(q.Options) == 0):
		return refused("/question", "what would happen needs a stance, what fails, and options")
	case e.Kind == Move && q.Move == "":
		return refused("/question/move", "missing")
	case e.Kind == Move && q.Of == ofRescue && (q.Person == "" || q.Rescuer == ""):
		return refused("/question/rescuer", "missing: who fetches whom")
	case e.Kind == Move && q.Of != ofTeam && q.Of != ofRescue && q.Stance == nil:
		return refused("/question/stance", "missing: where the move begins")
	case e.Kind == Apart && (len(e.Models) == 0 || q.Fact == "" || len(q.Options) == 0):
		return refused("/question", "telling apart needs models, a fact, and options")
	}
	return nil
}

const ofTeam = "team"

// clone is a drop whose rig may be changed.
func clone(d *drop.Document) *drop.Document {
	data, err := json.Marshal(d)
	var out *drop.Document
	if err == nil {
		out, err = drop.ReadKept(data)
	}
	if err != nil {
		panic(err) // it was read from JSON
	}
	return out
}
