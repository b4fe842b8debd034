package drill

import (
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/strict"
)

// ClassFormat marks a class as this program writes it.
const ClassFormat = "class"

// Class is a list of exercises that a trainer gives to people, with a date.
type Class struct {
	Format    string    `json:"format" enum:"class" doc:"always: class"`
	Version   int       `json:"version" minimum:"1" maximum:"1" doc:"version of the format"`
	Name      string    `json:"name" minLength:"1" maxLength:"80"`
	Due       gear.Date `json:"due,omitempty" format:"date" doc:"until when; left out: open"`
	Note      string    `json:"note,omitempty" maxLength:"600"`
	Exercises []Listed  `json:"exercises" minItems:"1" maxItems:"60"`
	// People are those of the team's drops whom it is for.
	People []string `json:"people,omitempty" maxItems:"60" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"persons of the team whom it is for; left out: everybody"`
}

// Listed is one exercise of a class: what it is made from, so that everybody gets the same.
type Listed struct {
	Kind  Kind   `json:"kind" enum:"faults,fails,move,apart"`
	Seed  int64  `json:"seed,omitempty" minimum:"0" maximum:"1000000000"`
	Level int    `json:"level" minimum:"1" maximum:"4"`
	Drop  string `json:"drop,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"id of a drop of the team; left out: a rig that is made up"`
	Move  string `json:"move,omitempty" maxLength:"40" doc:"of move: which; left out: by the seed"`
}

// ReadClass reads a class strictly.
func ReadClass(data []byte) (*Class, error) {
	c := new(Class)
	return c, strict.Read(data, c)
}

// Place is where an exercise stands in a class as it is now, from 0: where it stood when it was
// answered, if it does still. -1 for one that is not in it any more.
func (c *Class) Place(stood int, done Listed) int {
	is := func(l Listed) bool {
		return l.Kind == done.Kind && l.Seed == done.Seed && l.Level == done.Level && (l.Move == "" || l.Move == done.Move)
	}
	if stood >= 0 && stood < len(c.Exercises) && is(c.Exercises[stood]) {
		return stood
	}
	return slices.IndexFunc(c.Exercises, is)
}
