package moves

// A Move is a named manoeuvre: from one way of hanging to another, up or down. What
// is done between is found.
type Move struct {
	// Name is that of its row in manoeuvre.Moves.
	Name  string
	start rest
	goal  rest
	// way is +1 up, -1 down, 0 where it is.
	way int
	// past says that it ends beyond the next marks, not before them.
	past bool
}

// Catalogue are the moves of one person that are planned.
var Catalogue = []Move{
	{"leave-ground", onGround, onAscenders, 0, false},
	{"ascend", onAscenders, onAscenders, 1, false},
	{"ascend-to-descend", onAscenders, onDescender, 0, false},
	{"descend-to-ascend", onDescender, onAscenders, 0, false},
	{"descend", onDescender, onDescender, -1, false},
	{"pass-knots-up", onAscenders, onAscenders, 1, true},
	{passKnotsDown, onDescender, onDescender, -1, true},
	{"rebelay-up", onAscenders, onAscenders, 1, true},
	{"rebelay-down", onDescender, onDescender, -1, true},
	{"deviation-up", onAscenders, onAscenders, 1, true},
	{"deviation-down", onDescender, onDescender, -1, true},
	{isolateDamage, onDescender, onDescender, -1, false},
	{transfer, onDescender, onAscenders, 0, false},
	{aid, onAscenders, onSlings, 0, false},
	{overEdge, onTop, onDescender, -1, false},
	{shortWork, onDescender, onDescender, 0, false},
	{thereAndBack, onGround, onGround, 0, false},
}
