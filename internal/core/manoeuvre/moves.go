package manoeuvre

import "slices"

// Move is a row of the table of one person's moves: those that are planned on the rope, and
// those of a rescue, which a plan may name for the kit they need.
type Move struct {
	Name, Does string
	// Past are the kinds of mark that it passes, going Up or down.
	Past []string
	Up   bool
	// Anywhere: no mark has to be in the way, nor another set or sling be there.
	Anywhere bool
	// Rescue: it is planned with a casualty, not for somebody alone.
	Rescue bool
}

// Moves are one person's, in the order in which they are shown.
var Moves = []Move{
	{Name: "leave-ground", Does: "off the ground onto the ascenders", Anywhere: true},
	{Name: "ascend", Does: "up on the ascenders, as far as the next mark", Anywhere: true},
	{Name: "ascend-to-descend", Does: "from the ascenders onto the descender", Anywhere: true},
	{Name: "descend-to-ascend", Does: "from the descender onto the ascenders", Anywhere: true},
	{Name: "descend", Does: "down on the descender, as far as the next mark", Anywhere: true},
	{Name: "pass-knots-up", Does: "past the knots above", Past: []string{"knot", "join"}, Up: true},
	{Name: "pass-knots-down", Does: "past the knots below", Past: []string{"knot", "join"}},
	{Name: "rebelay-up", Does: "past the re-belay above", Past: []string{"re-belay"}, Up: true},
	{Name: "rebelay-down", Does: "past the re-belay below", Past: []string{"re-belay"}},
	{Name: "deviation-up", Does: "past the deviation above", Past: []string{"deviation"}, Up: true},
	{Name: "deviation-down", Does: "past the deviation below", Past: []string{"deviation"}},
	{Name: "isolate-damage", Does: "damage tied out of the line, or the weight on what is sound", Past: []string{"damage"}},
	{Name: "transfer", Does: "onto another set of strands"},
	{Name: "aid", Does: "along the structure on slings, and onto the strands there"},
	{Name: "over-edge", Does: "from the top over the edge, onto the descender", Anywhere: true},
	{Name: "short-work", Does: "stop, park, work, go on", Anywhere: true},
	{Name: "there-and-back", Does: "from the ground to the work place and back, past every mark", Anywhere: true},
	{Name: "pick-off", Does: "to a casualty, and down with them", Rescue: true},
	{Name: "evacuate", Does: "down by an evacuation kit", Rescue: true},
}

// MoveName is the name of one of Moves.
type MoveName string

// Enum are the names that there are: no other is read.
func (MoveName) Enum() []string {
	names := make([]string, len(Moves))
	for i := range Moves {
		names[i] = Moves[i].Name
	}
	return names
}

// Find gives the row of a move; the zero row for none.
func (n MoveName) Find() Move {
	if i := slices.IndexFunc(Moves, func(m Move) bool { return m.Name == string(n) }); i >= 0 {
		return Moves[i]
	}
	return Move{}
}

// Past is the move that passes a kind of mark; empty for none. What has one way only is
// passed by it up and down.
func Past(mark string, up bool) MoveName {
	name := ""
	for _, m := range Moves {
		if slices.Contains(m.Past, mark) && (name == "" || m.Up == up) {
			name = m.Name
		}
	}
	return MoveName(name)
}
