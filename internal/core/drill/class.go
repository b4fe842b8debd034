package drill

import (
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
