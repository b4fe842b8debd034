// Package glossary explains the words of the job: what each means here, and what other regions
// and schools call the same thing.
//
// It is one table. The screens, the list of keys and docs/glossary.md are made from it.
package glossary

import (
	"cmp"
	"slices"
	"strings"
)

// A Term is a word as the program uses it.
type Term struct {
	Word  string `json:"word"`
	Means string `json:"means"`
	// Also are other names of the same thing. None of them is a word of the program for
	// anything else.
	Also []string `json:"also,omitempty"`
}

// Terms are all words, by the alphabet.
var Terms = sorted(place, kit, moving, figures, judging, upkeep)

func sorted(parts ...[]Term) []Term {
	return slices.SortedFunc(slices.Values(slices.Concat(parts...)), func(a, b Term) int {
		return cmp.Compare(strings.ToLower(a.Word), strings.ToLower(b.Word))
	})
}

// Find gives the term of a word or of one of its other names; capitals do not count.
func Find(word string) (Term, bool) {
	i := slices.IndexFunc(Terms, func(t Term) bool {
		return strings.EqualFold(t.Word, word) || slices.ContainsFunc(t.Also, func(a string) bool { return strings.EqualFold(a, word) })
	})
	if i < 0 {
		return Term{}, false
	}
	return Terms[i], true
}

var place = []Term{
	{"drop", "One place where people hang: its heights, edges, anchors, ropes and people, planned for one day.", nil},
	{"set", "The main and the backup strand that one person hangs on. A drop may have several sets.", nil},
	{"strand", "One rope, or several joined ones, that hang from an anchor.", []string{"line"}},
	{"main", "The strand that carries the person in normal work.", []string{"working line", "main line"}},
	{"backup", "The strand that carries nothing until the main fails. It has an anchor of its own.", []string{"safety line", "belay line"}},
	{"span", "The part of a strand between two marks. A device sits on one span.", nil},
	{"mark", "Something on a strand that a device cannot slide over: a knot, a join, a re-belay, a deviation, an edge, damage, the end.", nil},
	{"join", "The place where two ropes are tied into one strand.", []string{"joining knot"}},
	{"re-belay", "A second anchor further down a strand. The rope above it hangs in a loop.", []string{"rebelay", "intermediate anchor"}},
	{"deviation", "A sling that pulls a strand aside, away from an edge or water. If it fails, the strand swings back.", []string{"redirect"}},
	{"clip point", "Something a lanyard can be clipped into: an anchor, a knot loop, a sling, another person's harness.", nil},
	{"anchor", "What a strand hangs from: one or more points of the structure, joined in a master point.", []string{"belay point"}},
	{"master point", "The one point in which the legs of an anchor meet.", []string{"power point"}},
	{"leg", "The part of an anchor between one point of the structure and the master point.", []string{"arm"}},
	{"linked anchors", "Two anchors joined so that each strand survives the loss of either.", []string{"load-sharing link"}},
	{"edge protection", "What keeps a rope off an edge: a roller, a plate, a sleeve.", []string{"edge guard", "rope protector"}},
	{"end stop", "A knot or sewn end that a device cannot run off.", []string{"stopper knot"}},
	{"end loop", "The loop in the end of a rope, by which it hangs from its anchor.", nil},
	{"mid-line loop", "A loop in the middle of a rope that can be pulled both ways.", []string{"in-line loop"}},
	{"loop with an eye", "A loop that takes damage out of the line, with an eye of its own to clip into.", []string{"isolating knot"}},
	{"backing knot", "A knot of the tail round the strand that bears, so that it cannot pull through.", []string{"keeper knot"}},
	{"walk-away knot", "What ties a parked brake off while its operator leaves.", nil},
	{"landing", "The level where a person can stand at the bottom of a drop. Heights are measured from the lowest one.", nil},
}

var kit = []Term{
	{"body", "What hangs: a technician, a casualty, a stretcher with or without an attendant, a test mass. Its mass is with clothing and kit.", nil},
	{"hold", "One attachment of a body to a strand or a clip point: device, links, harness point, and how they are set.", []string{"point of attachment"}},
	{"descender", "A device to go down a rope that brakes by itself.", []string{"rope adjustment device type C"}},
	{"backup device", "A device on the backup strand that follows the person and locks in a fall.", []string{"fall arrester", "rope adjustment device type A"}},
	{"chest ascender", "A cam at the chest that runs up the rope and not down.", []string{"ventral ascender"}},
	{"hand ascender", "A cam held in the hand that runs up the rope and not down. It carries the foot loop.", []string{"handled ascender"}},
	{"lanyard", "A short tail of rope or webbing from the harness with a connector at its end.", []string{"cow's tail"}},
	{"connector", "A metal link with a gate that opens.", []string{"carabiner", "karabiner", "snap link"}},
	{"absorber", "A pack that tears open in a fall and so limits the force.", []string{"shock absorber", "energy absorber"}},
	{"anchor brake", "A brake fixed to the anchor, through which the rope moves. With it a team lowers, raises or belays.", []string{"fixed descender", "control device"}},
	{"brake strand", "The strand that leaves a brake on the side of the hand.", []string{"control rope", "tail rope", "dead end"}},
	{"progress capture", "What lets a rope in and not out while a load is raised.", []string{"ratchet", "progress capture device"}},
	{"rope grab", "A device or a hitch that grips a loaded rope.", []string{"haul cam"}},
	{"friction hitch", "A loop of cord wound around a rope so that it grips under load.", []string{"gripping hitch"}},
	{"load-releasing hitch", "A hitch or sewn extender that can be let out under load.", []string{"release hitch"}},
	{"winding descender", "A descender with a wheel that can also lift the load a short way.", nil},
	{"evacuation kit", "A sealed lowering unit for one use. It is a last resort.", nil},
	{"stretcher", "What a casualty lies in.", []string{"litter", "basket"}},
	{"attendant", "The person who hangs beside the stretcher and looks after the casualty.", []string{"litter attendant"}},
	{"guest item", "Somebody's own thing, used with the team. Its paper stands for the team's examination until it ends.", nil},
	{"kit", "Things that belong together under one name and are handed out and counted back together.", []string{"bag list"}},
}

var moving = []Term{
	{"run", "What happens between the release of a plan and its putting away, as events that people and devices give.", nil},
	{"move", "A manoeuvre with a name, from one stance to another: a knot pass, a changeover, a re-belay.", []string{"manoeuvre"}},
	{"stance", "All holds of all bodies at one moment, each with its state.", nil},
	{"step", "One action that leads from one stance to the next.", nil},
	{"score", "The drawing of a move: one line for each strand, one column for each step, a bar where a hold is on.", nil},
	{"changeover", "From going down to going up, or back, without leaving the rope.", []string{"conversion"}},
	{"knot pass", "Going past a knot, with the weight on something else meanwhile.", []string{"knot crossing"}},
	{"transfer", "From one set of strands to another while hanging.", []string{"rope-to-rope transfer"}},
	{"park", "To set a device so that it holds without a hand.", []string{"lock off", "tie off"}},
	{"settle", "How far a load drops when it passes from one holder to another.", []string{"load transfer"}},
	{"pick-off", "A rescuer takes a casualty off the casualty's own holds and goes down with them.", []string{"snatch rescue"}},
	{"casualty", "The person who needs help.", []string{"patient", "subject"}},
	{"rescue cover", "For every height of a drop: who can reach a person there, how, and in how many minutes.", []string{"rescue provision"}},
	{"lower", "A team lets a load down through brakes at the anchors.", nil},
	{"raise", "A team pulls a load up by a haul.", []string{"hauling"}},
	{"haul", "Pulleys, a grab and a capture that make a pull larger.", []string{"hauling system", "mechanical advantage system"}},
	{"reset", "To move the grab of a haul back out for the next stroke.", nil},
	{"shared tension", "A way to lower in which both strands carry the load.", []string{"twin tension", "two-tension rope system"}},
	{"school", "One of the ways in which practitioners differ. Each question has its answers, and the team chooses.", nil},
}

var figures = []Term{
	{"fall factor", "The height of a fall divided by the length of rope that takes it.", nil},
	{"impact force", "The largest force while a fall is stopped.", []string{"peak force", "arrest force"}},
	{"clearance", "The free height that a fall needs below a person before anything is struck.", nil},
	{"mechanical advantage", "How many times a haul makes a pull larger: ideal without friction, actual with it.", nil},
	{"margin", "Strength divided by load. The team's policy says how large it must be.", []string{"safety factor"}},
	{"working load limit", "The largest load that a leaflet permits in use.", []string{"rated load", "safe working load"}},
	{"working", "The formula, its inputs and the intermediate figures behind a result.", nil},
	{"mode", "The conditions under which a leaflet permits a device, such as one person or two.", nil},
}

var judging = []Term{
	{"finding", "One result of a rule: what is wrong, why, with which figures, and what clears it. It is a stop, a look or a note.", nil},
	{"stop", "A finding that forbids use until it is cleared. It blocks a plan.", nil},
	{"look", "A finding that a person must judge. A plan is released with a written reason for each.", nil},
	{"note", "A finding that is good to know.", nil},
	{"two-line rule", "Off the ground every body is held twice over: no single thing that fails may leave it without a way to the anchors.", []string{"two independent points"}},
	{"single point of failure", "One thing on every way from a body to the anchors.", []string{"cut vertex"}},
	{"not decided", "The search ended at its limit before it found a plan or proved that there is none.", nil},
	{"plan", "A drop with its state: draft, checked, released. A change takes it back to draft.", []string{"method statement"}},
	{"policy", "The team's own figures and answers: margins, times, intervals, schools.", nil},
	{"exercise", "Something to practise on a screen: a fault to find, a failure to judge, a move to do. The rules mark it; the same number makes the same one.", []string{"drill", "scenario"}},
	{"skill", "Something that is forgotten between two trainings. It goes stale some months after it was last practised.", []string{"competency"}},
}

var upkeep = []Term{
	{"function check", "The proofs that show before use that a device works on this rope.", []string{"pre-use check"}},
	{"partner check", "Another person touches every hold of a body and says what it is.", []string{"buddy check"}},
	{"proof", "One act of a function check, with what must be seen, felt or heard.", nil},
	{"thorough examination", "A competent person examines a thing point by point, and says in writing that it is fit or not.", []string{"periodic inspection", "detailed inspection"}},
	{"interim inspection", "A shorter look between two thorough examinations. It moves no date.", nil},
	{"quarantine", "Out of use after a failed check or an event, until a signed record brings a thing back.", []string{"out of service"}},
	{"record", "What was signed: by whom, when, and sealed over the record before it.", nil},
	{"seal", "The hash that ties a record to the one before it. A change of either shows.", []string{"hash chain"}},
	{"countersign", "A supervisor confirms another person's hours.", nil},
	{"familiarisation", "Somebody was shown a model by one who knows it.", []string{"type training"}},
	{"paper", "A certificate: of a person's training or health, or of a guest item's examination.", []string{"certificate", "ticket"}},
	{"store keeper", "Who keeps the store: models, items, examinations, labels.", []string{"equipment controller"}},
	{"recall", "A notice about a model or some of its items: stop, inspect before use, or information.", []string{"safety notice"}},
}
