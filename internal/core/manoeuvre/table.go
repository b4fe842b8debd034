// Package manoeuvre has the tables of actions: of a person, of a team and of a rescuer. What
// is said of an action anywhere (which there are, how they are called, how long they take,
// what they must be given, what is called before them) is a row here; what an action does is
// a method of the engine that has it, and its sentence stands beside that.
package manoeuvre

// Action is one row of a table.
type Action struct {
	// Do is its id in lists of steps.
	Do string
	// Title is how tables call it, Label how a list of steps begins; without one, the title.
	Title, Label string
	// Seconds are how long it takes as shipped. Of a way along the rope, and of the pulleys
	// of a haul, more is counted.
	Seconds float64
	// Needs are what it must be given: item, strand, span, at, into.
	Needs []string
	// Call is said before it, Answer waited for; empty where it needs none.
	Call, Answer string
}

// Table is a table of actions, each id once.
type Table []Action

// Find gives a row by its id; nil for none.
func (t Table) Find(do string) *Action {
	for i := range t {
		if t[i].Do == do {
			return &t[i]
		}
	}
	return nil
}

// IDs are the ids, in the table's order.
func (t Table) IDs() []string {
	ids := make([]string, len(t))
	for i := range t {
		ids[i] = t[i].Do
	}
	return ids
}

// Called are the rows that have a call.
func (t Table) Called() Table {
	var list Table
	for _, a := range t {
		if a.Call != "" {
			list = append(list, a)
		}
	}
	return list
}

// A PersonDo is the id of an action of Person, a TeamDo of Team, a RescueDo of Rescue; a
// CalledDo of one of Team that has a call.
type (
	PersonDo string
	TeamDo   string
	RescueDo string
	CalledDo string
)

// Enum are the ids that there are: no other is read.
func (PersonDo) Enum() []string { return Person.IDs() }
func (TeamDo) Enum() []string   { return Team.IDs() }
func (RescueDo) Enum() []string { return Rescue.IDs() }
func (CalledDo) Enum() []string { return Team.Called().IDs() }

// Seconds are how long each action of a table takes as shipped, in a map of the caller's.
func Seconds[D ~string](t Table) map[D]float64 {
	m := make(map[D]float64, len(t))
	for _, a := range t {
		m[D(a.Do)] = a.Seconds
	}
	return m
}
