package pair

import (
	"math"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

// On is what the casualty hangs on.
type On string

const (
	OnDescender On = "descender"
	OnChest     On = "chest-ascender"
	OnBackup    On = "backup"
)

// Step is one action of a rescue with what it leads to.
type Step struct {
	Action  Action             `json:"action"`
	Call    string             `json:"call,omitempty" doc:"said before it, and answered"`
	Say     string             `json:"say"`
	Reason  string             `json:"reason,omitempty"`
	Seconds float64            `json:"seconds_s"`
	After   Shown              `json:"after"`
	FailOne []stance.Lost      `json:"fail_one" doc:"worst first, for whoever falls further"`
	Hands   []string           `json:"hands_off,omitempty"`
	Broken  []stance.Violation `json:"broken,omitempty"`
}

// Shown is a pair as it is written.
type Shown struct {
	RescuerM  quantity.Metres `json:"rescuer_m"`
	CasualtyM quantity.Metres `json:"casualty_m"`
	// Own and Theirs are what is on, by item.
	Own    []ShownHold `json:"rescuer"`
	Theirs []ShownHold `json:"casualty"`
	Long   string      `json:"long_lanyard,omitempty" enum:"shut,locked"`
	Chain  string      `json:"chain,omitempty" enum:"shut,locked"`
	Links  int         `json:"links,omitempty"`
	Strap  bool        `json:"strap,omitempty"`
	Bears  string      `json:"bears" enum:"own,lift,chain,ground" doc:"what bears the casualty"`
	Bend   bool        `json:"bend,omitempty"`
	Clear  bool        `json:"clear,omitempty"`
}

// ShownHold is one hold of either body.
type ShownHold struct {
	Item   string `json:"item"`
	Label  string `json:"label"`
	Strand string `json:"strand"`
	Bears  bool   `json:"bears,omitempty"`
	Parked bool   `json:"parked,omitempty"`
	Tied   bool   `json:"tied,omitempty"`
}

// Plan is a rescue that was found, from beside the casualty to where both hang
// ready to go down.
type Plan struct {
	Way      string      `json:"way"`
	Start    Shown       `json:"start"`
	Steps    []Step      `json:"steps"`
	Seconds  float64     `json:"seconds_s"`
	Handled  int         `json:"handled"`
	PairKg   float64     `json:"pair_kg"`
	Worst    stance.Lost `json:"worst"`
	Looked   int         `json:"expanded"`
	Friction bool        `json:"friction" doc:"the friction for two is added"`
}

// Times are how long actions take, in seconds.
type Times map[Do]float64

// ShippedTimes are the shipped ones.
func ShippedTimes() Times { return manoeuvre.Seconds[Do](manoeuvre.Rescue) }

// SpeedMS is how fast two go down, in metres per second.
const SpeedMS = 0.3

// Seconds is how long an action takes.
func (sc *Scene) Seconds(p, next *State, a *Action) float64 {
	t := sc.Times[a.Do]
	if !sc.Conscious && (a.Do == ClearAll || a.Do == LongOn || a.Do == ChainOn || a.Do == RigLift) {
		t *= 1.5 // nobody helps
	}
	return t + math.Abs(float64((next.R.At-p.R.At).M()))/SpeedMS
}

// Begin is the pair when the rescuer hangs beside the casualty, parked: the rescuer's
// descender a chain's length above the casualty's point.
func (sc *Scene) Begin(at stance.Cm, set, theirSet int, on On) (State, error) {
	var p State
	if err := hang(sc.C, &p.C, at, theirSet, on, false); err != nil {
		return p, err
	}
	beside := p.C.At
	own := set == theirSet && !sc.FromAnchor
	across := (own || sc.Across) && !sc.FromAnchor
	if own {
		// Above the casualty's backup, on their own strands.
		beside = p.C.At + BesideOwn
	}
	return p, hang(sc.R, &p.R, beside, set, OnDescender, across)
}

// Spare leaves for a rescue that begins with a pair what is spare then: what is on and the
// long lanyard have theirs of the connectors, and the strap is the shortest that reaches.
func (sc *Scene) Spare(start *State) {
	for _, length := range sc.Straps {
		if sc.StrapCm = length; sc.slack(start, 1, true) >= 0 {
			break
		}
	}
	for i := range sc.R.Tools {
		if start.R.Holds[i].There || i == sc.LongTool {
			sc.Connectors -= sc.R.Tools[i].Connectors
		}
	}
}

// BesideOwn is how much higher a rescuer hangs who is on the casualty's own strands.
const BesideOwn stance.Cm = 45

// hang puts a body onto the strands of a set, with the tools that are best for two;
// across: the descender is on the backup strand, since the main is tight.
func hang(sc *stance.Scene, s *stance.Stance, at stance.Cm, set int, on On, across bool) error {
	*s = stance.Stance{Bears: stance.NoTool, At: at, Sat: at}
	main, backup, lacks := sc.Strands(set)
	if lacks != "" {
		return strict.Faultf("/set", "%s", lacks)
	}
	if across {
		main, backup = backup, main
	}
	bears := map[On]gear.Class{OnDescender: gear.Descender, OnChest: gear.ChestAscender, OnBackup: gear.Descender}[on]
	put := func(class gear.Class, line int, height stance.Cm) (int, error) {
		t := sc.First(class)
		if t < 0 {
			return t, strict.Faultf("/kit", "%s has no %s", sc.Name, class.Words())
		}
		span := 0
		for span < len(sc.Lines[line].Marks) && sc.Lines[line].Marks[span].At > height {
			span++
		}
		low, high := sc.Span(line, span)
		if low > high {
			return t, strict.Faultf("/at_m", "there is no room at %v", at.M())
		}
		s.Holds[t] = stance.Hold{There: true, Line: int8(line), Span: int8(span), At: min(high, max(low, height)), Locked: true, Proved: true}
		return t, nil
	}
	b, err := put(bears, main, at+stance.DeviceLen)
	if err != nil {
		return err
	}
	s.Bears, s.At = int8(b), s.Holds[b].At-stance.DeviceLen
	s.Sat = s.At
	s.Holds[b].Parked = bears == gear.Descender
	t := sc.First(gear.BackupDevice)
	high := stance.Cm(0)
	if t >= 0 {
		high = sc.High(t)
	}
	t, err = put(gear.BackupDevice, backup, s.At+stance.Sternal+high)
	if err != nil {
		return err
	}
	span := int(s.Holds[s.Bears].Span)
	s.X, s.Side = sc.X(main, span), sc.SideID(main, span)
	if on == OnBackup {
		// The descender has let go: it hangs slack above, and the body in its backup.
		s.Bears = int8(t)
		s.At = sc.TightAt(s, t)
		s.Sat = s.At
		s.Holds[b].At = max(s.Holds[b].At, s.At+stance.DeviceLen)
	}
	return nil
}

// Breach is what a walk found at a step.
type Breach = stance.Breach

// Walk walks a list of actions by the rules, each step told, as far as they can be
// done. It shares the rules with the search, and nothing else.
func (sc *Scene) Walk(way string, start State, actions []Action) (*Plan, []Breach) {
	sc = sc.begun(&start)
	out := &Plan{Way: way, Start: sc.Show(&start), Steps: []Step{}, PairKg: float64(sc.Mass())}
	var found []Breach
	if v := sc.Check(&start); stance.Stops(v) {
		found = append(found, Breach{Step: 0, Broken: v})
	}
	at := start
	for i, a := range actions {
		next, wrong, err := sc.Apply(at, a)
		if err != nil {
			return out, append(found, Breach{Step: i + 1, Impossible: err.Error()})
		}
		if len(wrong) > 0 {
			found = append(found, Breach{Step: i + 1, Broken: wrong})
		}
		st := Step{Action: a, Seconds: sc.Seconds(&at, &next, &a), After: sc.Show(&next), FailOne: sc.FailOne(&next), Hands: sc.HandsOff(&next), Broken: wrong}
		st.Broken = append(st.Broken, sc.R.Peaks(st.FailOne)...)
		st.Call, st.Say, st.Reason = sc.say(&at, &a)
		st.Say = strings.ToUpper(st.Say[:1]) + st.Say[1:]
		out.Seconds += st.Seconds
		if a.Do == TakeOff || a.Do == LongOn || a.Do == ChainOn {
			out.Handled++
		}
		out.Friction = out.Friction || a.Do == Bend
		for _, l := range st.FailOne {
			if !l.Held || out.Worst.Words == "" || l.FreeFallM > out.Worst.FreeFallM && out.Worst.Held {
				out.Worst = l
			}
		}
		out.Steps = append(out.Steps, st)
		at = next
	}
	return out, found
}

// End is the pair after a list of actions that can be done.
func (sc *Scene) End(start State, actions []Action) (State, bool) {
	at := start
	for _, a := range actions {
		next, _, err := sc.Apply(at, a)
		if err != nil {
			return at, false
		}
		at = next
	}
	return at, true
}

// Ready reports whether a pair hangs as a plan leaves it.
func (sc *Scene) Ready(p *State) bool { return (&space{sc: sc}).Reached(p) }

// Done reports whether a list may end with a pair: both hang ready to go down, or stand on
// the landing; nobody is left on a lift or with the descender parked.
func (sc *Scene) Done(p *State) bool { return p.Bears == ByGround || sc.Ready(p) }

// Show writes a pair.
func (sc *Scene) Show(p *State) Shown {
	join := []string{"", "shut", "locked"}
	out := Shown{
		RescuerM: p.R.At.M(), CasualtyM: p.C.At.M(), Own: shown(sc.R, &p.R), Theirs: shown(sc.C, &p.C), Long: join[p.Long], Chain: join[p.Chain], Links: int(p.Links), Strap: p.Strap,
		Bears: []string{"own", "lift", "chain", "ground"}[p.Bears], Bend: p.Bend == Rescuers, Clear: p.Clear,
	}
	return out
}

func shown(sc *stance.Scene, s *stance.Stance) []ShownHold {
	list := []ShownHold{}
	for i := range sc.Tools {
		if h := &s.Holds[i]; h.There {
			list = append(list, ShownHold{sc.Tools[i].Item, sc.Tools[i].Label, sc.Lines[h.Line].ID, int(s.Bears) == i, h.Parked, h.Tied})
		}
	}
	return list
}
