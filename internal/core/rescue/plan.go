package rescue

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/search"
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

// RescueStep is one action of a rescue with what it leads to.
type RescueStep struct {
	Action  RescueAction       `json:"action"`
	Call    string             `json:"call,omitempty" doc:"said before it, and answered"`
	Say     string             `json:"say"`
	Reason  string             `json:"reason,omitempty"`
	Seconds float64            `json:"seconds_s"`
	After   ShownPair          `json:"after"`
	FailOne []stance.Lost      `json:"fail_one" doc:"worst first, for whoever falls further"`
	Hands   []string           `json:"hands_off,omitempty"`
	Broken  []stance.Violation `json:"broken,omitempty"`
}

// ShownPair is a pair as it is written.
type ShownPair struct {
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

// RescuePlan is a rescue that was found, from beside the casualty to where both hang
// ready to go down.
type RescuePlan struct {
	Way      string       `json:"way"`
	Start    ShownPair    `json:"start"`
	Steps    []RescueStep `json:"steps"`
	Seconds  float64      `json:"seconds_s"`
	Handled  int          `json:"handled"`
	PairKg   float64      `json:"pair_kg"`
	Worst    stance.Lost  `json:"worst"`
	Looked   int          `json:"expanded"`
	Friction bool         `json:"friction" doc:"the friction for two is added"`
}

// Times are how long actions take, in seconds.
type Times map[Do]float64

// ShippedTimes are the shipped ones.
func ShippedTimes() Times { return manoeuvre.Seconds[Do](manoeuvre.Rescue) }

// pairSpeedMS is how fast two go down.
const pairSpeedMS = 0.3

// Seconds is how long an action takes.
func (sc *Scene) Seconds(p, next *Pair, a *RescueAction) float64 {
	t := sc.Times[a.Do]
	if !sc.Conscious && (a.Do == ClearAll || a.Do == LongOn || a.Do == ChainOn || a.Do == RigLift) {
		t *= 1.5 // nobody helps
	}
	return t + math.Abs(float64((next.R.At-p.R.At).M()))/pairSpeedMS
}

// Begin is the pair when the rescuer hangs beside the casualty, parked: the rescuer's
// descender a chain's length above the casualty's point.
func (sc *Scene) Begin(at stance.Cm, set, theirSet int, on On) (Pair, error) {
	var p Pair
	if err := hang(sc.C, &p.C, at, theirSet, on, false); err != nil {
		return p, err
	}
	beside := p.C.At
	own := set == theirSet && !sc.FromAnchor
	across := (own || sc.Across) && !sc.FromAnchor
	if own {
		// Above the casualty's backup, on their own strands.
		beside = p.C.At + besideOwn
	}
	return p, hang(sc.R, &p.R, beside, set, OnDescender, across)
}

// besideOwn is how much higher a rescuer hangs who is on the casualty's own strands.
const besideOwn stance.Cm = 45

// hang puts a body onto the strands of a set, with the tools that are best for two;
// across: the descender is on the backup strand, since the main is tight.
func hang(sc *stance.Scene, s *stance.Stance, at stance.Cm, set int, on On, across bool) error {
	*s = stance.Stance{Bears: stance.NoTool, At: at, Sat: at}
	main, backup := lineOf(sc, "main", set), lineOf(sc, "backup", set)
	if main < 0 || backup < 0 {
		return fault("/set", "set %d has not both strands", set)
	}
	if across {
		main, backup = backup, main
	}
	bears := map[On]gear.Class{OnDescender: gear.Descender, OnChest: gear.ChestAscender, OnBackup: gear.Descender}[on]
	put := func(class gear.Class, line int, height stance.Cm) (int, error) {
		t := first(sc, class)
		if t < 0 {
			return t, fault("/kit", "%s has no %s", sc.Name, class.Words())
		}
		span := 0
		for span < len(sc.Lines[line].Marks) && sc.Lines[line].Marks[span].At > height {
			span++
		}
		low, high := sc.Span(line, span)
		if low > high {
			return t, fault("/at_m", "there is no room at %v", at.M())
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
	t := first(sc, gear.BackupDevice)
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

// first is the first tool of a class: what somebody hangs on stands before what they
// carry; -1 for none.
func first(sc *stance.Scene, class gear.Class) int {
	return slices.IndexFunc(sc.Tools, func(t stance.Tool) bool { return t.Class == class })
}

func lineOf(sc *stance.Scene, role string, set int) int {
	for i := range sc.Lines {
		if string(sc.Lines[i].Role) == role && sc.Lines[i].Set == set {
			return i
		}
	}
	return -1
}

func fault(pointer, format string, args ...any) error {
	var f strict.Faults
	f.Addf(pointer, format, args...)
	return f.Err()
}

// space is what is searched in.
type space struct {
	search.Plain[Pair]
	sc   *Scene
	list []RescueAction
}

// The methods that search.Space asks for.

func (sp *space) Actions(p *Pair) []RescueAction {
	sp.list = sp.list[:0]
	add := func(a RescueAction) { sp.list = append(sp.list, a) }
	sc := sp.sc
	if b := p.R.Bears; b >= 0 && sc.R.Tools[b].Class == gear.Descender {
		h := &p.R.Holds[b]
		switch {
		case h.Tied:
			add(RescueAction{Do: UntieOff})
		case h.Parked:
			add(RescueAction{Do: TieOff})
			add(RescueAction{Do: Unpark})
		default:
			add(RescueAction{Do: Park})
		}
	}
	if !p.Clear {
		add(RescueAction{Do: ClearAll})
	}
	if p.Long == Apart {
		add(RescueAction{Do: LongOn})
	}
	if p.Chain == Apart {
		for links := 1; links <= min(8, sc.Connectors); links++ {
			if sc.slack(p, links, false) >= 0 {
				add(RescueAction{Do: ChainOn, Links: links})
				break
			}
		}
		if sc.StrapCm > 0 && sc.slack(p, 1, true) >= 0 {
			add(RescueAction{Do: ChainOn, Links: 1, Strap: true})
		}
	}
	for _, whose := range []Strand{Rescuers, Casualtys} {
		if p.Hand != whose {
			add(RescueAction{Do: TakeStrand, Strand: whose})
		}
	}
	sp.theirs(p, add)
	if p.Bend == Nobodys && p.R.Bears >= 0 {
		if _, bend := sc.R.Tools[p.R.Bears].Rated(2, sc.Mass()); bend {
			add(RescueAction{Do: Bend, Strand: Rescuers})
		}
	}
	return sp.list
}

// theirs proposes what is done to what the casualty hangs on.
func (sp *space) theirs(p *Pair, add func(RescueAction)) {
	sc := sp.sc
	if p.Bears == ByOwn && p.C.Bears >= 0 {
		if sc.C.Tools[p.C.Bears].Class == gear.Descender {
			do := LowerTheirs
			if p.C.Holds[p.C.Bears].Parked {
				do = FreeTheirs
			}
			add(RescueAction{Do: do})
		} else if !p.Lift {
			add(RescueAction{Do: RigLift})
		} else {
			add(RescueAction{Do: Lift})
		}
	}
	if p.Bears == ByLift {
		add(RescueAction{Do: LetUp})
	}
	for i := range sc.C.Tools {
		if p.C.Holds[i].There && int(p.C.Bears) != i {
			add(RescueAction{Do: TakeOff, Item: sc.C.Tools[i].Item})
		}
	}
}

func (sp *space) Do(p *Pair, a *RescueAction, next *Pair) (float64, bool) {
	to, found, err := sp.sc.do(*p, *a)
	if err != nil || stance.Stops(found) {
		return 0, false
	}
	*next = to
	handled := 0.0
	if a.Do == TakeOff || a.Do == LongOn || a.Do == ChainOn {
		handled = handledS
	}
	return sp.sc.Seconds(p, next, a) + handled, true
}

// Judge asks the two-line rule only where what holds either of them has changed.
func (sp *space) Judge(next, before *Pair, _ *RescueAction) (float64, bool) {
	if next.Long == before.Long && next.Chain == before.Chain && next.Bears == before.Bears && next.C.Bears == before.C.Bears && next.C.Holds == before.C.Holds && next.R.Holds == before.R.Holds {
		return 0, true
	}
	return 0, !stance.Stops(sp.sc.Check(next))
}

// LowerBound is what must still be done in any case: each of it once, by its own time.
func (sp *space) LowerBound(p *Pair) float64 {
	sc, t, left := sp.sc, sp.sc.Times, 0.0
	if !p.Clear {
		left += t[ClearAll]
	}
	if p.Long == Apart {
		left += t[LongOn] + handledS
	}
	if p.Chain == Apart {
		left += t[ChainOn] + handledS
	}
	for i := range sc.C.Tools {
		if p.C.Holds[i].There && (sc.C.Tools[i].Class != gear.BackupDevice || !sc.keeps(p)) {
			left += t[TakeOff] + handledS
		}
	}
	if b := p.R.Bears; b >= 0 {
		if _, bend := sc.R.Tools[b].Rated(2, sc.Mass()); bend && p.Bend == Nobodys {
			left += t[Bend]
		}
		if p.R.Holds[b].Tied {
			left += t[UntieOff]
		}
		if p.R.Holds[b].Parked {
			left += t[Unpark]
		}
	}
	switch {
	case p.Bears == ByLift:
		left += t[LetUp]
	case p.Bears != ByOwn || p.C.Bears < 0:
	case sc.C.Tools[p.C.Bears].Class == gear.Descender:
		left += t[LowerTheirs]
		if p.C.Holds[p.C.Bears].Parked {
			left += t[FreeTheirs]
		}
	default:
		left += t[Lift] + t[LetUp]
		if !p.Lift {
			left += t[RigLift]
		}
	}
	return left
}

// handledS is what putting on and taking off counts beside its time.
const handledS = 10

// Reached: the casualty hangs on the chain alone, or with their backup by school, and
// the rescuer's descender is ready to run.
func (sp *space) Reached(p *Pair) bool {
	sc := sp.sc
	if p.Bears != ByChain || p.R.Bears < 0 || p.R.Holds[p.R.Bears].Parked || p.Hand != Rescuers && !sc.FromAnchor || p.Lift {
		return false
	}
	for i := range sc.C.Tools {
		keep := sc.C.Tools[i].Class == gear.BackupDevice && sc.keeps(p)
		if p.C.Holds[i].There != keep {
			return false
		}
	}
	return true
}

// keeps reports whether the casualty's backup stays on until the landing: by school, or
// because the rescuer's is not rated for two.
func (sc *Scene) keeps(p *Pair) bool {
	b := hold(sc.R, &p.R, gear.BackupDevice)
	return sc.KeepBackup || b < 0 || !rates(sc.R, b, sc.Mass())
}

// maxPairs bounds a search.
const maxPairs = 10_000

// Find plans from a pair to where both hang ready to go down. search.ErrNone is
// returned where there is no way.
func (sc *Scene) Find(ctx context.Context, way string, start Pair) (*RescuePlan, error) {
	list, n, err := sc.search(ctx, start)
	if err != nil {
		return nil, err
	}
	p, _ := sc.Walk(way, start, list)
	p.Looked = n
	return p, nil
}

// seconds is how long a pick-off takes, without its words.
func (sc *Scene) seconds(ctx context.Context, start Pair) (sum float64, err error) {
	list, _, err := sc.search(ctx, start)
	at := start
	for i := range list {
		next, _, err := sc.do(at, list[i])
		if err != nil {
			return 0, err
		}
		sum += sc.Seconds(&at, &next, &list[i])
		at = next
	}
	return sum, err
}

func (sc *Scene) search(ctx context.Context, start Pair) ([]RescueAction, int, error) {
	if !sc.hopes(&start) {
		return nil, 0, search.ErrNone
	}
	steps, n, err := search.Find[Pair, Pair, RescueAction](ctx, &space{sc: sc.begun(&start)}, start, maxPairs)
	list := make([]RescueAction, len(steps))
	for i := range steps {
		list[i] = steps[i].Action
	}
	return list, n, err
}

// hopes reports whether what every pick-off wants is there at all.
func (sc *Scene) hopes(p *Pair) bool {
	b := p.R.Bears
	if b < 0 || sc.LongTool < 0 || !rates(sc.R, int(b), sc.Mass()) {
		return false
	}
	if c := p.C.Bears; p.Bears == ByOwn && c >= 0 && sc.C.Tools[c].Class != gear.Descender && !sc.CanLift {
		return false
	}
	spare := sc.Connectors
	if _, bend := sc.R.Tools[b].Rated(2, sc.Mass()); bend && !sc.FromAnchor {
		spare--
	}
	return p.Chain != Apart || spare > 0 && (sc.slack(p, min(spare, 8), false) >= 0 || sc.StrapCm > 0 && sc.slack(p, 1, true) >= 0)
}

// Breach is what a walk found at a step.
type Breach = stance.Breach

// Walk walks a list of actions by the rules, each step told, as far as they can be
// done. It shares the rules with the search, and nothing else.
func (sc *Scene) Walk(way string, start Pair, actions []RescueAction) (*RescuePlan, []Breach) {
	sc = sc.begun(&start)
	out := &RescuePlan{Way: way, Start: sc.Show(&start), Steps: []RescueStep{}, PairKg: float64(sc.Mass())}
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
		st := RescueStep{Action: a, Seconds: sc.Seconds(&at, &next, &a), After: sc.Show(&next), FailOne: sc.FailOne(&next), Hands: sc.HandsOff(&next), Broken: wrong}
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
func (sc *Scene) End(start Pair, actions []RescueAction) (Pair, bool) {
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
func (sc *Scene) Ready(p *Pair) bool { return (&space{sc: sc}).Reached(p) }

// Done reports whether a list may end with a pair: both hang ready to go down, or stand on
// the landing; nobody is left on a lift or with the descender parked.
func (sc *Scene) Done(p *Pair) bool { return p.R.Grounded && p.C.Grounded || sc.Ready(p) }

// Show writes a pair.
func (sc *Scene) Show(p *Pair) ShownPair {
	join := []string{"", "shut", "locked"}
	out := ShownPair{
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

// say writes a step, with its call and why it is needed now.
func (sc *Scene) say(p *Pair, a *RescueAction) (call, words, why string) {
	own := "the descender"
	if b := p.R.Bears; b >= 0 {
		own = sc.R.Tools[b].Label
	}
	theirs := "their descender"
	if d := hold(sc.C, &p.C, gear.Descender); d >= 0 {
		theirs = sc.C.Tools[d].Label
	}
	whose := map[Strand]string{Rescuers: "your own", Casualtys: sc.C.Name + "'s"}
	at := "the connector of " + own
	if sc.FromAnchor {
		at = "the connector that you hang from"
	}
	switch a.Do {
	case Park, TieOff, UntieOff, Unpark:
		return sc.sayOwn(a, own)
	case ClearAll:
		return "", "Both sets of ropes from between all legs; straddle early.", "what is caught between legs cannot be freed later"
	case LongOn:
		return "", fmt.Sprintf("%s to the harness of %s, locked.", sc.R.Tools[max(0, sc.LongTool)].Label, sc.C.Name), "it catches if the chain fails"
	case ChainOn:
		if a.Strap {
			return "", fmt.Sprintf("A short lanyard or sling from %s's ventral point to %s, each gate locked.", sc.C.Name, at), "as short as can be: it bears as soon as they are let down"
		}
		return "", fmt.Sprintf("Chain of %d from %s's ventral point to %s, each gate locked.", a.Links, sc.C.Name, at), "as short as can be: it bears as soon as they are let down"
	case LockIt:
		return "", "Lock every gate.", ""
	case TakeStrand:
		if sc.FromAnchor && a.Strand == Rescuers {
			return "", "Let go of the casualty's control strand: the operators have yours.", ""
		}
		return "", fmt.Sprintf("Find %s control strand; name it; in hand.", whose[a.Strand]), "the two are easily confused"
	case FreeTheirs:
		return "", fmt.Sprintf("Unpark %s.", theirs), ""
	case LowerTheirs:
		return "", fmt.Sprintf("Let %s down on %s until the chain bears and it is slack; their backup comes along.", sc.C.Name, theirs), "nothing that bears is taken off"
	case RigLift:
		return "", fmt.Sprintf("A foot loop over a pulley on a hand ascender above what holds %s, down to them.", sc.C.Name), "what grips lets go only without weight"
	case Lift:
		return "", "Stand in the loop, no higher than their weight asks for; open what gripped, rope out, shut.", "late and short: nobody stands in a loop longer than needed"
	case LetUp:
		return "", "Let up until the chain bears.", ""
	case TakeOff:
		i := sc.C.Tool(a.Item)
		return "", fmt.Sprintf("%s off; shut, and kept.", sc.C.Tools[max(0, i)].Label), "it is slack, and useful further down"
	case Bend:
		if sc.FromAnchor {
			return "Two on the rope: bend in", fmt.Sprintf("The operators put the added bend in at %s, parked, and look its rating for two up; they answer “Bend is in”.", own), "before the second weight comes on"
		}
		return "", fmt.Sprintf("The friction for two on %s control strand, named and touched.", whose[a.Strand]), "before it is unparked"
	case Descend:
		return "", fmt.Sprintf("Down to %v, slowly; nothing between legs.", a.AtM), ""
	case Land:
		return "", "Onto the landing: park; medical provider takes over.", ""
	}
	return "", string(a.Do), ""
}

// sayOwn writes what is done with what the rescuer hangs on: their descender, or the brakes
// at the anchors, which the operators work by the rescuer's call.
func (sc *Scene) sayOwn(a *RescueAction, own string) (call, words, why string) {
	if sc.FromAnchor {
		switch a.Do {
		case Park:
			return "Stop, park", fmt.Sprintf("The operators stop and park %s and the belay; they answer “Parked”.", own), "nothing moves while both hands are needed"
		case TieOff:
			return "Tie off", fmt.Sprintf("The operators knot %s and the belay off, and show it to each other; they answer “Tied off”.", own), "it bears two soon, and stays where it is meanwhile"
		case UntieOff:
			return "Ready for two, untie", fmt.Sprintf("The operators take their brake strands in hand, then the knots of %s and the belay out.", own), ""
		}
		return "Two on the rope, down slow", fmt.Sprintf("Hands on the brake strands, %s and the belay unparked, down slowly; they answer “Down”.", own), "slowly: two weigh on it"
	}
	switch a.Do {
	case Park:
		return "", fmt.Sprintf("Park %s.", own), "both hands are needed"
	case TieOff:
		return "", fmt.Sprintf("Tie %s off.", own), "it bears two soon, and stays where it is meanwhile"
	case UntieOff:
		return "", fmt.Sprintf("Your control strand in hand; untie %s.", own), ""
	}
	return "", fmt.Sprintf("Hand on the control strand; unpark %s.", own), "slowly: two weigh on it"
}
