package run

import (
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"time"

	"zealousknot/internal/core/quantity"
)

// Phase is how far a run is.
type Phase string

const (
	Prepared Phase = "prepared"
	Running  Phase = "running"
	Ended    Phase = "ended"
	Away     Phase = "put away"
	Closed   Phase = "closed"
)

// State is a run after its events.
type State struct {
	Phase  Phase `json:"phase" enum:"prepared,running,ended,put away,closed"`
	Events int   `json:"events"`
	// Seal is the SHA-256 over the events up to the closing one, in order: of each its length
	// in eight bytes, then its JSON.
	Seal    string  `json:"sha256"`
	Started *string `json:"started_at,omitempty"`
	Ended   *string `json:"ended_at,omitempty"`
	Last    *string `json:"last_at,omitempty" doc:"when the newest event was given: no answer means stop"`

	People []Standing  `json:"people"`
	Moves  []MoveState `json:"moves"`
	// Briefing is the one that stands, BriefedAt when it was given.
	Briefing  *Briefing `json:"briefing,omitempty" doc:"the one that stands; left out: none was written"`
	BriefedAt *string   `json:"briefing_at,omitempty"`
	BriefBy   string    `json:"briefing_by,omitempty"`
	// Stopped is work that was stopped and not resumed; the screen stops nobody: voice does.
	Stopped *Note `json:"stopped,omitempty"`
	// Otherwise, Calls, Marks and Happened are in the order in which they were given.
	Otherwise []Note `json:"not_as_planned,omitempty"`
	Calls     []Note `json:"calls,omitempty"`
	Marks     []Note `json:"marks,omitempty"`
	Happened  []Note `json:"incidents,omitempty"`
	// Quarantined never end a run: nobody new loads the item.
	Quarantined []Note `json:"quarantined,omitempty"`
	// Conflicts are events that do not fit what was given before; nothing of them is dropped.
	Conflicts []Note `json:"conflicts,omitempty"`
	// Addenda came after the closing.
	Addenda []Note `json:"addenda,omitempty"`
	// Counters are what putting away writes; none of an exercise.
	Counters []Counter `json:"counters,omitempty"`
}

// Note is one event in words.
type Note struct {
	Event  string   `json:"event"`
	At     string   `json:"at"`
	By     string   `json:"by"`
	Person string   `json:"person,omitempty"`
	Move   string   `json:"move,omitempty"`
	Step   int      `json:"step,omitempty"`
	Items  []string `json:"items,omitempty"`
	Words  string   `json:"words"`
}

// Doing is what somebody does.
type Doing string

const (
	Off     Doing = "off rope"
	On      Doing = "on rope"
	AtWork  Doing = "at the place"
	AtItNow Doing = "working"
)

// Standing is where somebody is, by what was last given.
type Standing struct {
	Person string          `json:"person"`
	Name   string          `json:"name"`
	Doing  Doing           `json:"doing" enum:"off rope,on rope,at the place,working"`
	AtM    quantity.Metres `json:"at_m"`
	// Since is when they began to do it, Moved when a movement of theirs was last given, Heard
	// when anything was: hanging still counts from Moved.
	Since *string `json:"since,omitempty"`
	Moved *string `json:"moved_at,omitempty" doc:"the last known movement: hanging still counts from here"`
	Heard *string `json:"heard_at,omitempty"`
	DueAt *string `json:"check_in_due,omitempty" doc:"of somebody out of sight"`
	// Briefed: on the briefing that stands; BriefedBy is who gave it.
	Briefed   bool   `json:"briefed,omitempty" doc:"on the briefing that stands"`
	BriefedBy string `json:"briefed_by,omitempty" doc:"who gave it: themselves, or somebody for them"`
	// Reach is how they are reached from where they are, of somebody on the rope.
	Reach *Reach `json:"reach,omitempty" doc:"how they are reached from where they are, the worse of the metres beside it; left out: nothing was planned"`
}

// MoveState is how far a move is.
type MoveState struct {
	Move     string   `json:"move"`
	Name     string   `json:"name"`
	Step     int      `json:"step" doc:"the last that was done; 0: none"`
	Of       int      `json:"of"`
	Begun    *string  `json:"begun_at,omitempty"`
	Done     *string  `json:"done_at,omitempty"`
	ElapsedS float64  `json:"elapsed_s" doc:"from its beginning to its last step"`
	PlannedS float64  `json:"planned_s" doc:"of the steps that are done"`
	Next     *Step    `json:"next,omitempty"`
	Taken    []Timing `json:"taken,omitempty" doc:"how long each step took; steps that were tapped in a burst have no time"`
}

// Timing is how long a step took beside what was planned.
type Timing struct {
	Step     int     `json:"step"`
	Do       string  `json:"do"`
	PlannedS float64 `json:"planned_s"`
	RealS    float64 `json:"real_s"`
}

// Counter is what a run adds to a person's or an item's.
type Counter struct {
	Person string `json:"person,omitempty"`
	Item   string `json:"item,omitempty"`
	// DownM and UpM are metres descended and ascended while on the rope, HoursH is time on it.
	DownM  quantity.Metres `json:"down_m"`
	UpM    quantity.Metres `json:"up_m"`
	HoursH float64         `json:"hours_h,omitempty"`
	// Low: a height was not given where somebody went on or off the rope.
	Low bool `json:"low,omitempty" doc:"heights are missing: the metres err low"`
}

// burst is how close together taps of one device are that have no time of their own.
const burst = 3 * time.Second

func content(e *Event) []byte {
	text, err := json.Marshal(e)
	if err != nil {
		panic(err) // texts and numbers alone
	}
	return text
}

// A fold is a state in the making.
type fold struct {
	*State
	doc    *Document
	people map[string]*body
	moves  map[string]*moving
	closed bool
}

type body struct {
	*Standing
	checkIn    time.Duration
	moved      time.Time
	ropeSince  time.Time
	onRope     time.Duration
	down, up   quantity.Metres
	heightOnce bool
	low        bool
}

type moving struct {
	*MoveState
	plan  *Move
	begun time.Time
	// last is when its last step was tapped, by whose device; timed: the next step's time counts
	// from there.
	last   time.Time
	device string
	timed  bool
}

// Fold gives the state of a run after all its events, in whatever order they are written.
func Fold(d *Document) *State {
	f := &fold{State: &State{Phase: Prepared, People: make([]Standing, len(d.People)), Moves: make([]MoveState, len(d.Moves))}, doc: d, people: map[string]*body{}, moves: map[string]*moving{}}
	for i := range d.People {
		p := &d.People[i]
		f.People[i] = Standing{Person: p.ID, Name: p.Name, Doing: Off, AtM: p.AtM}
		f.people[p.ID] = &body{Standing: &f.People[i], checkIn: time.Duration(p.CheckInS * float64(time.Second))}
	}
	for i := range d.Moves {
		m := &d.Moves[i]
		f.Moves[i] = MoveState{Move: m.ID, Name: m.Name, Of: len(m.Steps), Next: &m.Steps[0]}
		f.moves[m.ID] = &moving{MoveState: &f.Moves[i], plan: m}
	}
	list, twice := InOrder(d.Events)
	seal := sha256.New()
	for i := range list {
		e := &list[i]
		if f.closed || e.Late {
			f.Addenda = append(f.Addenda, f.note(e, "given after the run was closed: "+string(e.Kind)))
			continue
		}
		text := content(e)
		var length [8]byte
		binary.BigEndian.PutUint64(length[:], uint64(len(text)))
		seal.Write(length[:])
		seal.Write(text)
		f.Events++
		f.Last = stamp(e)
		f.apply(e)
	}
	for i := range twice {
		f.Conflicts = append(f.Conflicts, f.note(&twice[i], "another event has the same id"))
	}
	for i := range f.People {
		if p := &f.People[i]; p.Doing != Off {
			p.Reach = d.reachAt(p.Person, p.AtM)
		}
	}
	f.Seal = hex.EncodeToString(seal.Sum(nil))
	f.count(list)
	return f.State
}

func stamp(e *Event) *string {
	at := e.At().UTC().Format(time.RFC3339Nano)
	return &at
}

func (f *fold) note(e *Event, words string) Note {
	return Note{Event: e.ID, At: *stamp(e), By: e.By, Person: e.Person, Move: e.Move, Step: e.Step, Items: e.Items, Words: words}
}

func (f *fold) conflict(e *Event, format string, args ...any) {
	f.Conflicts = append(f.Conflicts, f.note(e, fmt.Sprintf(format, args...)))
}

// apply takes one event in. What does not fit is a conflict, and still counts as what was
// given: the newest word on where somebody is stands.
func (f *fold) apply(e *Event) {
	switch e.Kind {
	case Start, End, PutAway, Close:
		f.phase(e)
		return
	case Brief:
		f.brief(e)
		return
	case Briefed, Mark, Call, Otherwise, Happened, Quarantine, Stop, Resume:
		f.noted(e)
		return
	}
	if f.Phase != Running {
		f.conflict(e, "the run is %s", f.Phase)
	}
	if e.Move != "" {
		f.step(e)
		return
	}
	f.person(e)
}

// following is which phase each event leads to, and from where.
var following = map[Kind]struct{ from, to Phase }{
	Start: {Prepared, Running}, End: {Running, Ended}, PutAway: {Ended, Away}, Close: {Away, Closed},
}

func (f *fold) phase(e *Event) {
	next := following[e.Kind]
	if f.Phase != next.from {
		f.conflict(e, "%s of a run that is %s", e.Kind, f.Phase)
		return
	}
	f.Phase = next.to
	switch e.Kind {
	case Start:
		f.Started = stamp(e)
	case End:
		f.Ended = stamp(e)
		for _, p := range f.doc.People {
			if b := f.people[p.ID]; b.Doing != Off {
				f.conflict(e, "the run ended while %s was %s", b.Name, b.Doing)
			}
		}
	case Close:
		f.closed = true
	}
}

// brief takes in a briefing: everybody signs again, and the check-ins are those that it says.
func (f *fold) brief(e *Event) {
	f.Briefing, f.BriefedAt, f.BriefBy = e.Briefing, stamp(e), e.By
	every := map[string]time.Duration{}
	for _, c := range e.checkIns() {
		every[c.Person] = time.Duration(c.EveryS * float64(time.Second))
	}
	for id, b := range f.people {
		b.Briefed, b.BriefedBy = false, ""
		b.checkIn = every[id]
		b.due(e.At())
	}
}

func (f *fold) noted(e *Event) {
	n := f.note(e, e.Reason)
	switch e.Kind {
	case Briefed:
		f.people[e.Person].Briefed, f.people[e.Person].BriefedBy = true, e.By
		f.people[e.Person].Heard = stamp(e)
	case Mark:
		f.Marks = append(f.Marks, n)
	case Call:
		f.Calls = append(f.Calls, n)
	case Otherwise:
		f.Otherwise = append(f.Otherwise, n)
	case Happened:
		f.Happened = append(f.Happened, n)
	case Quarantine:
		f.Quarantined = append(f.Quarantined, n)
	case Stop:
		f.Stopped = &n
	case Resume:
		if f.Stopped == nil {
			f.conflict(e, "work was not stopped")
		}
		f.Stopped = nil
	}
}
