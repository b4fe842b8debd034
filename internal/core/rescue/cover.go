package rescue

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"zealousknot/internal/core/digest"
	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/progress"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// Setting is what a rescue is planned in.
type Setting struct {
	Policy *policy.Policy
	// Team is what is rigged at the top; nil for nothing.
	Team *team.Rig
	Options
}

// MaxStates bounds the states that one request expands in sum.
const MaxStates = 400_000

// Planner knows who may need a rescue on a drop, and who comes. It lives as long as one
// request, whose context stops its searches.
type Planner struct {
	ctx      context.Context
	rig      *rig.Rig
	in       Setting
	rescuers []*comer
	people   []*hanger
	limitS   float64
	setup    *rig.RescueView
	// states are those that may still be expanded.
	states int
	// kits are the digests of scenes, profiles and freed what was looked up already.
	kits     map[*stance.Scene]digest.Sum
	profiles map[way]*profile
	freed    map[pickOff]freed
	judged   map[judged]*judgement
	pairs    map[judged]*stance.Scene
	braked   map[braked]string
	lowers   map[lowerBy]timed
	hauls    map[quantity.Kilograms]int
}

// way is a way along a set that was looked up.
type way struct {
	sc       *stance.Scene
	set      int
	up, pair bool
}

// pickOff is a pick-off where nothing is near.
type pickOff struct {
	c      *comer
	v      *variant
	h      *hanger
	set    int
	across bool
	place  string
}

// comer is a rescuer with what they can do.
type comer struct {
	*rig.PersonView
	conf *rig.Rescuer
	sc   *stance.Scene
	// wont says why they cannot come at all; empty: they can.
	wont string
	note string
	// variants are what they may do a pick-off with.
	variants []*variant
	// way is the scene for ways along strands: the mass in tens of kilograms, up, so that
	// a search is not done anew for every kilogram; who is heavier holds themselves aside
	// less.
	way *stance.Scene
	// crossed are those with the descender on the backup strand, by set.
	crossed map[int]*stance.Scene
	// lowered is the scene of who is lowered by the team; nil until it is asked for.
	lowered *stance.Scene
}

// hanger is somebody who may need a rescue.
type hanger struct {
	*rig.PersonView
	sc  *stance.Scene
	set int
}

// New plans for everybody on a drop who is on, or would go onto, a set of strands. Its
// anchors and lengths must be worked out. A rig without a rescue has no planner: nil.
func New(ctx context.Context, r *rig.Rig, in Setting) (*Planner, error) {
	if r.Rescue == nil {
		return nil, nil
	}
	pl := &Planner{
		ctx: ctx, rig: r, in: in, setup: r.Rescue, limitS: in.Policy.HangLimitMin * 60,
		states: cmp.Or(in.MaxStates, MaxStates),
		kits:   map[*stance.Scene]digest.Sum{}, profiles: map[way]*profile{}, freed: map[pickOff]freed{},
		judged: map[judged]*judgement{}, pairs: map[judged]*stance.Scene{}, braked: map[braked]string{}, lowers: map[lowerBy]timed{}, hauls: map[quantity.Kilograms]int{},
	}
	if in.Team != nil {
		pl.in.Team = in.Team.Without(func(o *rig.Piece) bool { return fit.Unfit(o, pl.context()) != "" })
	}
	for i := range r.Rescue.Rescuers {
		conf := &r.Rescue.Rescuers[i]
		p := pl.kitted(r.Rescue.People[i])
		sc, err := pl.scene(p)
		if err != nil {
			return nil, err
		}
		c := &comer{PersonView: p, conf: conf, sc: sc, way: inTens(sc)}
		if c.variants, err = pl.variants(p); err != nil {
			return nil, err
		}
		c.wont, c.note = pl.able(c)
		pl.rescuers = append(pl.rescuers, c)
	}
	for _, o := range r.People {
		p := pl.kitted(o)
		sc, err := pl.scene(p)
		if err != nil {
			return nil, err
		}
		h := &hanger{PersonView: p, sc: sc, set: setOf(p)}
		if len(p.Holds) == 0 && len(p.Moves) == 0 {
			continue // nobody who goes onto the strands
		}
		pl.people = append(pl.people, h)
	}
	return pl, nil
}

// Expanded is how many states were expanded so far, and how many may be in sum.
func (pl *Planner) Expanded() (expanded, bound int) {
	bound = cmp.Or(pl.in.MaxStates, MaxStates)
	return bound - pl.states, bound
}

func (pl *Planner) scene(p *rig.PersonView) (*stance.Scene, error) {
	sc, err := stance.NewScene(pl.rig, p, pl.in.Policy.ConnectorM, pl.in.Policy.Schools)
	if err != nil {
		return nil, fault("/people", "%v", err)
	}
	sc.Follow(pl.in.Policy)
	return sc, nil
}

// setOf is the set that a person hangs on; the first where they hang on none.
func setOf(p *rig.PersonView) int {
	for _, h := range p.Holds {
		return h.Strand.Set
	}
	return 1
}

// able says why somebody cannot come, and what is to be known of them.
func (pl *Planner) able(c *comer) (wont, note string) {
	if longLanyard(c.sc, nil) < 0 {
		wont = c.Name + " carries no lanyard for the casualty"
	}
	for _, class := range []gear.Class{gear.Descender, gear.BackupDevice} {
		if first(c.sc, class) < 0 {
			wont = pl.without(c, class)
		}
	}
	if c.conf.PractisedOn == "" {
		return wont, c.Name + ": no practised pick-off is told"
	}
	then, err := time.Parse(time.DateOnly, string(c.conf.PractisedOn))
	day, err2 := time.Parse(time.DateOnly, string(pl.rig.Day))
	if err == nil && err2 == nil && then.AddDate(0, pl.in.Policy.PracticeMonths, 0).Before(day) {
		note = fmt.Sprintf("%s last practised a pick-off on %s", c.Name, c.conf.PractisedOn)
	}
	return wont, note
}

// without says why somebody has nothing of a class to work with: what they have may not be
// used, or they have none.
func (pl *Planner) without(c *comer, class gear.Class) string {
	why := ""
	for i := range pl.setup.People {
		p := pl.setup.People[i]
		for _, o := range p.Carries {
			if p.ID == c.ID && o.Model.Class == class {
				why = cmp.Or(plain(fit.Unfit(o, pl.context())), why, fmt.Sprintf("%s carries no absorber or lanyard that %s is used with", c.Name, o.Item.Label))
			}
		}
	}
	return cmp.Or(why, fmt.Sprintf("%s has no %s of their own", c.Name, class.Words()))
}

// longLanyard is the longest lanyard of a kit that is good, nil for any; -1 for none.
func longLanyard(sc *stance.Scene, good func(*stance.Tool) bool) int {
	at := -1
	for i := range sc.Tools {
		if t := &sc.Tools[i]; t.Class == gear.Lanyard && (good == nil || good(t)) && (at < 0 || t.Length > sc.Tools[at].Length) {
			at = i
		}
	}
	return at
}

// RescueWay is one way to somebody at a height, with its times or what blocks it.
type RescueWay struct {
	Kind    string `json:"kind" enum:"lower,raise,set-beforehand,second-set,own-strands,from-below,lowered,evacuate"`
	Rescuer string `json:"rescuer,omitempty" doc:"id; left out: nobody goes to them"`
	Name    string `json:"name,omitempty"`
	Set     int    `json:"set,omitempty"`
	Words   string `json:"words"`
	Works   bool   `json:"works"`
	Blocked string `json:"blocked,omitempty"`
	// Undecided: nothing but a search that was cut off blocks it.
	Undecided bool `json:"undecided,omitempty"`
	// Prepared: it was rigged beforehand. Last: a labelled last resort.
	Prepared bool `json:"prepared,omitempty"`
	// Across: the rescuer's descender runs on the backup strand.
	Across  bool     `json:"across,omitempty" doc:"the rescuer's descender runs on the backup strand"`
	Last    bool     `json:"last_resort,omitempty"`
	Phases  []Phase  `json:"phases"`
	Seconds float64  `json:"seconds_s" doc:"from when it happens to the landing, or the top"`
	Notes   []string `json:"notes,omitempty"`
	Why     string   `json:"why,omitempty" doc:"why it is chosen"`
}

// Phase is one part of a way in time.
type Phase struct {
	Name    string   `json:"name" enum:"alarm,walk,reach,free,lower,raise,attach"`
	Who     string   `json:"who"`
	Seconds float64  `json:"seconds_s"`
	Source  string   `json:"source" doc:"where the time is from"`
	Past    []string `json:"past,omitempty" doc:"what is passed on the way"`
}

func (w *RescueWay) phase(name, who string, s float64, source string, past ...string) {
	w.Phases = append(w.Phases, Phase{name, who, s, source, past})
	w.Seconds += s
}

func (w *RescueWay) block(format string, args ...any) {
	if w.Blocked == "" || w.Undecided {
		w.Blocked, w.Undecided = fmt.Sprintf(format, args...), false
	}
}

// stop blocks a way for what stops it, if anything does.
func (w *RescueWay) stop(s stopped) {
	switch {
	case s.why == "":
	case !s.undecided:
		w.block("%s", s.why)
	case w.Blocked == "":
		w.Blocked, w.Undecided = s.why, true
	}
}

// preparedS is how much longer a way that is rigged beforehand may take and still be
// chosen: nobody improvises on it.
const preparedS = 180

// unpractisedS is what counts against somebody who has not practised lately, or of whom
// something else is to be known.
const unpractisedS = 120

func (w *RescueWay) rank() float64 {
	late := 0.0
	if len(w.Notes) > 0 && !w.Last {
		late = unpractisedS
	}
	switch {
	case !w.Works:
		return 1e12
	case w.Last:
		return 1e9 + w.Seconds
	case w.Prepared:
		return w.Seconds - preparedS + late
	}
	return w.Seconds + late
}

// casualty finds somebody by id, the first for none.
func (pl *Planner) casualty(id string) *hanger {
	for _, h := range pl.people {
		if id == "" || h.ID == id {
			return h
		}
	}
	return nil
}

// Ways are all ways to somebody at a height, the best first.
func (pl *Planner) Ways(person string, at quantity.Metres) []RescueWay {
	h := pl.casualty(person)
	if h == nil {
		return []RescueWay{}
	}
	list := pl.ways(h, stance.ToCm(at))
	for i := range list {
		w := &list[i]
		w.Why = why(w, i, list)
	}
	return list
}

func (pl *Planner) ways(h *hanger, at stance.Cm) []RescueWay {
	list := make([]RescueWay, 0, 8)
	list = append(list, pl.byTeam(h, at)...)
	for _, c := range pl.rescuers {
		if c.ID == h.ID {
			continue
		}
		list = append(list, pl.byRescuer(c, h, at)...)
	}
	for i := range list {
		list[i].Works = list[i].Blocked == ""
	}
	slices.SortStableFunc(list, func(a, b RescueWay) int { return cmp.Compare(a.rank(), b.rank()) })
	return list
}

func why(w *RescueWay, i int, list []RescueWay) string {
	switch {
	case !w.Works:
		return ""
	case w.Last:
		return "a last resort: only with a medical go-ahead, other ways used up"
	case i == 0 && w.Prepared:
		return "rigged beforehand: nothing is improvised while somebody hangs"
	case i == 0 && slices.ContainsFunc(list, func(o RescueWay) bool { return o.Works && !o.Last && o.Seconds < w.Seconds }):
		return "nothing is to be said against it; what is faster has a note"
	case i == 0:
		return "the shortest time to the landing of those that work"
	}
	return ""
}

func (pl *Planner) begin(w *RescueWay) {
	alarm := pl.alarm()
	w.phase("alarm", "everybody", alarm.S, alarm.Source)
}

// Wait is how long passes before somebody is at work, and where that is from.
type Wait struct {
	Person string  `json:"person,omitempty" doc:"of a walk"`
	S      float64 `json:"s"`
	Source string  `json:"source"`
}

// Waits are until the alarm is told and until each rescuer is at the strands.
func (pl *Planner) Waits() (alarm Wait, walks []Wait) {
	for _, c := range pl.rescuers {
		walks = append(walks, pl.wait(c))
	}
	return pl.alarm(), walks
}

func (pl *Planner) alarm() Wait {
	if pl.setup.AlarmS > 0 {
		return Wait{S: pl.setup.AlarmS, Source: "told for this drop"}
	}
	return Wait{S: *pl.in.Policy.AlarmS, Source: "policy"}
}

func (pl *Planner) wait(c *comer) Wait {
	switch {
	case c.conf.WalkS > 0:
		return Wait{c.ID, c.conf.WalkS, "told for " + c.Name}
	case c.hangs():
		return Wait{c.ID, 0, "on the strands already"}
	}
	return Wait{c.ID, *pl.in.Policy.WalkS, "policy"}
}

// byRescuer are the ways in which one rescuer goes to the casualty.
func (pl *Planner) byRescuer(c *comer, h *hanger, at stance.Cm) []RescueWay {
	var list []RescueWay
	for _, set := range pl.sets() {
		w := RescueWay{Rescuer: c.ID, Name: c.Name, Set: set, Phases: []Phase{}}
		switch {
		case slices.Contains(pl.setup.Sets, set):
			w.Kind, w.Prepared, w.Words = "set-beforehand", true, fmt.Sprintf("%s on set %d, rigged for it beforehand", c.Name, set)
		case set == h.set:
			w.Kind, w.Words = "own-strands", fmt.Sprintf("%s down the casualty's own strands", c.Name)
		default:
			w.Kind, w.Words = "second-set", fmt.Sprintf("%s on set %d", c.Name, set)
		}
		if who := pl.works(set, c, h); who != "" {
			w.block("%s works on set %d", who, set)
		}
		if c.conf.From == "landing" && !c.hangs() {
			w.Kind, w.Words = "from-below", w.Words+", from below"
		}
		pl.along(&w, c, h, at)
		list = append(list, w)
	}
	if w, ok := pl.lowered(c, h, at); ok {
		list = append(list, w)
	}
	if w, ok := pl.evacuate(c, h, at); ok {
		list = append(list, w)
	}
	return list
}

// works names somebody else who hangs on a set; empty for nobody.
func (pl *Planner) works(set int, c *comer, h *hanger) string {
	for _, o := range pl.rig.People {
		if o.ID != c.ID && o.ID != h.ID && len(o.Holds) > 0 && setOf(o) == set {
			return o.Name
		}
	}
	return ""
}

// sets are those with strands on the drop.
func (pl *Planner) sets() []int {
	var list []int
	for _, s := range pl.rig.Strands {
		if !slices.Contains(list, s.Set) {
			list = append(list, s.Set)
		}
	}
	slices.Sort(list)
	return list
}

func (pl *Planner) walk(w *RescueWay, c *comer) {
	wait := pl.wait(c)
	w.phase("walk", c.Name, wait.S, wait.Source)
	if c.wont != "" {
		w.block("%s", c.wont)
	}
	if c.note != "" {
		w.Notes = append(w.Notes, c.note)
	}
}

// along is a rescuer who goes along strands to the casualty, takes them off and brings
// them down: on a casualty's own strands with the descender on the backup strand, since
// the main is tight; on others on the main, and where that is blocked on the backup strand.
func (pl *Planner) along(w *RescueWay, c *comer, h *hanger, at stance.Cm) {
	pl.begin(w)
	pl.walk(w, c)
	main := lineOf(c.sc, "main", w.Set)
	if main < 0 || lineOf(c.sc, "backup", w.Set) < 0 {
		w.block("set %d has not both strands", w.Set)
		return
	}
	pl.reaches(w, c, at)
	theirs := lineOf(h.sc, "main", h.set)
	if theirs >= 0 {
		span := spanAt(h.sc, theirs, at)
		own := spanAt(c.sc, main, at)
		if aside := h.sc.X(theirs, span) - c.sc.X(main, own); max(aside, -aside) > 2*c.sc.Out {
			w.block("set %d hangs %v aside of them: out of reach", w.Set, max(aside, -aside).M())
		}
	}
	start := *w
	start.Phases = slices.Clone(w.Phases)
	pl.goes(w, c, h, at, w.Set == h.set)
	if w.Blocked == "" || start.Blocked != "" || w.Set == h.set || c.hangs() {
		return
	}
	other := start
	if pl.goes(&other, c, h, at, true); other.Blocked == "" || other.Undecided && !w.Undecided {
		*w = other
	}
}

// goes is the way itself, with the descender on the main or across on the backup strand.
func (pl *Planner) goes(w *RescueWay, c *comer, h *hanger, at stance.Cm, across bool) {
	if w.Across = across; across && w.Set != h.set {
		w.Words += ", the descender on the backup strand"
	}
	pl.reach(w, c, h, at, lineOf(c.sc, "main", w.Set))
	list, why := pl.hangs(c, h, w.Set, at, across)
	if why != "" {
		w.block("%s", why)
	}
	if w.Blocked != "" && !w.Undecided {
		return // what does not work is not searched for
	}
	free, _ := pl.pickOff(c, h, w.Set, at, list)
	w.stop(free.stopped)
	w.phase("free", c.Name, free.seconds, "by the pick-off")
	pl.pairDown(w, c, h, at)
}

// reaches blocks a way on a set of which a strand ends above the casualty, or above the
// landing: both bodies hang on both.
func (pl *Planner) reaches(w *RescueWay, c *comer, at stance.Cm) {
	for _, role := range []string{"main", "backup"} {
		l := &c.sc.Lines[lineOf(c.sc, role, w.Set)]
		switch {
		case l.End > at:
			w.block("the %s of set %d ends at %v, above them", l.Name, w.Set, l.End.M())
		case l.End > c.sc.Ground:
			w.block("the %s of set %d ends at %v, above the landing", l.Name, w.Set, l.End.M())
		}
	}
}

// hangs are the variants that may be hung on a set with a casualty at a height, or why
// there are none.
func (pl *Planner) hangs(c *comer, h *hanger, set int, at stance.Cm, across bool) (list []*fitted, why string) {
	j := pl.fits(c, h, set, at.M(), across)
	why = j.why
	top := c.sc.Lines[lineOf(c.sc, "main", set)].Top
	for _, f := range j.list {
		switch {
		case f.pairM > 0 && at.M() > f.pairM:
			why = cmp.Or(why, fmt.Sprintf("%s may descend %v at a time with two, and %v are left to the landing", f.descender.Item.Label, f.pairM, at.M()))
		case f.soloM > 0 && !c.hangs() && c.conf.From != "landing" && (top-at).M() > f.soloM:
			why = cmp.Or(why, fmt.Sprintf("%s may descend %v at a time, and it is %v down to them", f.descender.Item.Label, f.soloM, (top-at).M()))
		default:
			list = append(list, f)
		}
	}
	if len(list) > 0 {
		return list, ""
	}
	return nil, why
}

// reach is the way of a rescuer along a set: from where they hang, from the landing up,
// or from the top down.
func (pl *Planner) reach(w *RescueWay, c *comer, h *hanger, at stance.Cm, main int) {
	from, how := c.sc.Lines[main].Top, "by the moves, down"
	low, high, up := at, from, false
	switch here := stance.ToCm(c.AtM); {
	case c.hangs():
		if w.Set != setOf(c.PersonView) {
			w.block("%s hangs on set %d", c.Name, setOf(c.PersonView))
		}
		low, high, up = min(here, at), max(here, at), here < at
	case c.conf.From == "landing":
		low, high, up = 0, at, true
	}
	if up && w.Set == h.set {
		w.block("the strands below a casualty hang from what holds them")
	}
	metre := downMetre
	if up {
		metre, how = upMetre, "by the moves, up"
	}
	sc := c.way
	if w.Across {
		sc = c.acrossOn(w.Set)
	}
	p := pl.profile(sc, w.Set, up, false)
	s, past, stop := p.between(low, high, over(w, h), metre)
	if c.hangs() {
		s -= p.begin // on the strands already
	}
	w.phase("reach", c.Name, max(0, s), how, past...)
	w.stop(stop)
}

// over is how far above a casualty a rescuer's descender is beside them.
func over(w *RescueWay, h *hanger) stance.Cm {
	if w.Set == h.set {
		return besideOwn + stance.DeviceLen
	}
	return stance.DeviceLen
}

// hangs reports whether a rescuer is on strands when it happens.
func (c *comer) hangs() bool { return len(c.Holds) > 0 && !c.Grounded }

// pairDown is the way down with both.
func (pl *Planner) pairDown(w *RescueWay, c *comer, h *hanger, at stance.Cm) {
	pair := pl.pairOn(c, h, w.Set, at, w.Across)
	if pair == nil {
		w.block("no descender of %s is rated for two of %v, or no connector is left for the bend", c.Name, c.MassKg+h.MassKg)
		return
	}
	s, past, stop := pl.profile(pair, w.Set, false, true).between(0, at, over(w, h), 1/pairSpeedMS)
	w.phase("lower", c.Name, s, "by the moves of a pair, at "+quantity.MetresPerSecond(pairSpeedMS).String(), past...)
	w.stop(stop)
}

func spanAt(sc *stance.Scene, line int, at stance.Cm) int {
	span := 0
	for span < len(sc.Lines[line].Marks) && sc.Lines[line].Marks[span].At > at {
		span++
	}
	return span
}

// profile is what is in the way along a set, searched for once.
func (pl *Planner) profile(sc *stance.Scene, set int, up, pair bool) *profile {
	w := way{sc, set, up, pair}
	if pl.profiles[w] == nil {
		pl.profiles[w] = pl.profileOf(sc, set, up, pair)
	}
	return pl.profiles[w]
}

// takenOver gives a rescuer's scene with what is stripped off a casualty added: it is of
// use further down.
func takenOver(own, theirs *stance.Scene) *stance.Scene {
	var more []stance.Tool
	for _, t := range theirs.Tools {
		if (t.Class == gear.Descender || t.Class == gear.BackupDevice) && own.Tool(t.Item) < 0 {
			more = append(more, t)
		}
	}
	if with := own.With(more); with != nil {
		return with
	}
	return own
}

// inTens gives a scene with its mass in tens of kilograms, up.
func inTens(sc *stance.Scene) *stance.Scene {
	tens := *sc
	tens.MassKg = quantity.Kilograms(10 * math.Ceil(float64(sc.MassKg)/10))
	return &tens
}

// pairOn is a rescuer's scene on a set with a casualty along, with those of their devices
// and of the casualty's that may be hung there with both; nil where there is none.
func (pl *Planner) pairOn(c *comer, h *hanger, set int, at stance.Cm, across bool) *stance.Scene {
	main, backup := pl.strand(set, rig.Main), pl.strand(set, rig.Backup)
	key := judged{c: c, h: h, set: set, main: main.SectionAt(at.M()).TopM, backup: backup.SectionAt(at.M()).TopM, across: across}
	if p, known := pl.pairs[key]; known {
		return p
	}
	may := map[string]bool{}
	for _, o := range slices.Concat(c.devices(), h.devices()) {
		good := true
		for _, s := range []*rig.StrandView{main, backup} {
			_, why := pl.would(c, &variant{}, o, s, h.MassKg, at.M())
			good = good && why == ""
		}
		may[o.Item.ID] = good
	}
	var p *stance.Scene
	if sc := takenOver(c.sc, h.sc).ForPair(c.MassKg+h.MassKg, func(item string) bool { return may[item] }); sc != nil && first(sc, gear.Descender) >= 0 {
		if p = inTens(sc); across {
			p = p.Crossed(set)
		}
	}
	pl.pairs[key] = p
	return p
}

// acrossOn is the scene of a rescuer whose descender runs on the backup strand of a set.
func (c *comer) acrossOn(set int) *stance.Scene {
	if c.crossed[set] == nil {
		if c.crossed == nil {
			c.crossed = map[int]*stance.Scene{}
		}
		c.crossed[set] = c.way.Crossed(set)
	}
	return c.crossed[set]
}

// devices are somebody's descenders and backup devices.
func (h *hanger) devices() []*rig.Piece { return devices(h.PersonView) }
func (c *comer) devices() []*rig.Piece  { return devices(c.PersonView) }

func devices(p *rig.PersonView) []*rig.Piece {
	var list []*rig.Piece
	for _, h := range p.Holds {
		list = append(list, h.Device)
	}
	return slices.DeleteFunc(append(list, p.Carries...), func(o *rig.Piece) bool {
		return o.Model.Class != gear.Descender && o.Model.Class != gear.BackupDevice
	})
}

// freed is what a pick-off takes, or why there is none.
type freed struct {
	seconds float64
	stopped
}

// pickOffRoom is how far around both the strands decide a pick-off: further than
// either moves and reaches.
const pickOffRoom stance.Cm = 250

// pickOff is the fastest pick-off at a height by any of some variants, and by which.
func (pl *Planner) pickOff(c *comer, h *hanger, set int, at stance.Cm, list []*fitted) (least freed, by *fitted) {
	for _, f := range list {
		got := pl.pickOffBy(c, h, set, at, f)
		switch {
		case by == nil, got.why == "" && (least.why != "" || got.seconds < least.seconds), got.undecided && least.why != "" && !least.undecided:
			least, by = got, f
		}
	}
	return least, by
}

// pickOffBy is the pick-off by one variant; nil for who is lowered by the team. It is
// searched for with what is near alone, so that heights that are alike are searched for
// once.
func (pl *Planner) pickOffBy(c *comer, h *hanger, set int, at stance.Cm, f *fitted) freed {
	sets := []int{set, h.set}
	place, empty := c.sc.Empty(sets, at, pickOffRoom, pickOffRoom)
	if !empty {
		return pl.searchPickOff(c, h, set, at, f)
	}
	short := pickOff{c, f.variant, h, set, f.across, place}
	found, known := pl.freed[short]
	if !known {
		found = pl.searchPickOff(c, h, set, at, f)
		pl.freed[short] = found
	}
	return found
}

func (pl *Planner) searchPickOff(c *comer, h *hanger, set int, at stance.Cm, f *fitted) freed {
	sc, err := pl.pair(c, h, f)
	if err != nil {
		return freed{stopped: stopped{why: detail(err)}}
	}
	kits := digest.Of(pl.kit(sc.R), pl.kit(sc.C))
	sets := []int{set, h.set}
	whole := *sc
	var lift stance.Cm
	sc.R, _ = sc.R.Window(sets, at, pickOffRoom, pickOffRoom)
	sc.C, lift = sc.C.Window(sets, at, pickOffRoom, pickOffRoom)
	if sc.R == nil || sc.C == nil {
		return freed{stopped: stopped{"there are more anchors than are planned with", true}}
	}
	start, err := pl.startOf(sc, set, h.set, at+lift)
	if err != nil {
		return freed{stopped: stopped{why: detail(err)}}
	}
	// The scenes by their digests, the rest as it is.
	rest := *sc
	rest.R, rest.C = nil, nil
	// Where both begin follows from these.
	key := digest.Of("pick-off", kits, sc.R.Digest(kits), sc.C.Digest(kits), rest, set, h.set, at+lift, pl.setup.Rescue.On)
	found := pl.in.Cache.recall(pl.ctx, key, func() searched { return outcome(sc.seconds(pl.ctx, start)) })
	out := freed{seconds: found.seconds}
	switch {
	case found.outcome == search.Undecided:
		out.stopped = stopped{search.ErrUndecided.Error(), true}
	case found.outcome == search.None:
		lacks := pl.in.Cache.recall(pl.ctx, digest.Of("lacks", key), func() searched {
			start, err := pl.startOf(&whole, set, h.set, at)
			if err != nil {
				return searched{refused: detail(err)}
			}
			return searched{refused: whole.lacks(pl.ctx, start)}
		})
		out.stopped = stopped{why: lacks.refused}
	}
	return out
}

// detail is what an error says of its first fault, without where it stands.
func detail(err error) string {
	var refused *strict.Error
	if errors.As(err, &refused) && len(refused.Faults) > 0 {
		return refused.Faults[0].Detail
	}
	return err.Error()
}

// LiftPart is a thing that a lift takes, and who has it.
type LiftPart struct{ Label, Who string }

// LiftGear is what takes the weight of who hangs in what grips, off whom it is taken.
func (pl *Planner) LiftGear(w *RescueWay, casualty string) []LiftPart {
	h := pl.casualty(casualty)
	i := slices.IndexFunc(pl.rescuers, func(c *comer) bool { return c.ID == w.Rescuer })
	if h == nil || i < 0 || cmp.Or(On(pl.setup.Rescue.On), OnDescender) == OnDescender {
		return nil
	}
	var list []LiftPart
	for _, o := range lifts(pl.rescuers[i].PersonView, h.PersonView) {
		who := pl.rescuers[i].Name
		if !slices.Contains(pl.rescuers[i].All, o) {
			who = h.Name
		}
		list = append(list, LiftPart{o.Item.Label, who})
	}
	return list
}

// Scene is the scene of a pick-off by one of the ways, with the pair as it begins: the
// rescuer parked beside the casualty.
func (pl *Planner) Scene(w *RescueWay, casualty string, at quantity.Metres) (*Scene, Pair, error) {
	rescuer := w.Rescuer
	h := pl.casualty(casualty)
	i := slices.IndexFunc(pl.rescuers, func(c *comer) bool { return c.ID == rescuer })
	if h == nil || i < 0 {
		return nil, Pair{}, fault("/rescuer", "there is nobody of this id to come, or to be fetched")
	}
	return pl.begins(pl.rescuers[i], h, w, stance.ToCm(at))
}

func (pl *Planner) begins(c *comer, h *hanger, w *RescueWay, at stance.Cm) (*Scene, Pair, error) {
	by, set := &fitted{variant: loweredBy}, w.Set
	if w.Kind != "lowered" {
		list, why := pl.hangs(c, h, set, at, w.Across)
		if len(list) == 0 {
			return nil, Pair{}, fault("/rescuer", "%s", why)
		}
		_, by = pl.pickOff(c, h, set, at, list)
	}
	sc, err := pl.pair(c, h, by)
	if err != nil {
		return nil, Pair{}, err
	}
	p, err := pl.startOf(sc, set, h.set, at)
	return sc, p, err
}

// pair is the scene of a rescuer with a casualty, by a variant; without its scene they are
// lowered by the team.
func (pl *Planner) pair(c *comer, h *hanger, f *fitted) (*Scene, error) {
	own, lowered := f.sc, f.sc == nil
	if lowered {
		if c.lowered == nil {
			t := pl.rig.Team
			c.lowered = c.sc.Lowered(t.Main.Brake, t.Belay.Brake, stance.ToCm(*pl.in.Policy.BelaySlackM))
		}
		if own = c.lowered; own == nil {
			return nil, fault("/team", "there are more things than are planned with")
		}
	}
	sc := &Scene{
		FromAnchor: lowered, Across: f.across, R: own, C: h.sc, LongTool: longLanyard(own, pl.strongFor(h)), Connectors: c.sc.Connectors, LinkCm: stance.ToCm(pl.in.Policy.ConnectorM), CanLift: len(lifts(c.PersonView, h.PersonView)) > 0,
		Conscious: pl.setup.Conscious, KeepBackup: pl.setup.TheirBackup == "keep", Times: ShippedTimes(),
	}
	for _, t := range pl.in.Policy.RescueTimes {
		sc.Times[Do(t.Do)] = t.S
	}
	sc.Straps = pl.straps(c.PersonView, h, own, sc.LongTool)
	return sc, nil
}

// startOf is the pair as a pick-off begins.
func (pl *Planner) startOf(sc *Scene, set, theirs int, at stance.Cm) (Pair, error) {
	p, err := sc.Begin(at, set, theirs, On(cmp.Or(pl.setup.Rescue.On, string(OnDescender))))
	for _, length := range sc.Straps {
		// The shortest that reaches.
		if sc.StrapCm = length; sc.slack(&p, 1, true) >= 0 {
			break
		}
	}
	// What is on and the long lanyard take theirs from the spare connectors.
	for i := range sc.R.Tools {
		if p.R.Holds[i].There || i == sc.LongTool {
			sc.Connectors -= sc.R.Tools[i].Connectors
		}
	}
	return p, err
}

// straps are the other lanyards and slings that somebody carries and that bear a casualty,
// the shortest first.
func (pl *Planner) straps(p *rig.PersonView, h *hanger, sc *stance.Scene, long int) []stance.Cm {
	var list []stance.Cm
	for i := range sc.Tools {
		if i != long && sc.Tools[i].Class == gear.Lanyard && pl.strongFor(h)(&sc.Tools[i]) {
			list = append(list, sc.Tools[i].Length)
		}
	}
	for _, c := range p.Carries {
		if c.Model.Class == gear.Sling && pl.tooWeak(c.Model, c.Item.Label, h) == "" {
			list = append(list, stance.ToCm(c.Model.LengthM))
		}
	}
	slices.Sort(list)
	return slices.DeleteFunc(list, func(c stance.Cm) bool { return c <= 0 })
}

// lifts are what both carry together for a lift, of what may be used: a hand ascender, a
// foot loop and a pulley; nothing where one is missing.
func lifts(people ...*rig.PersonView) []*rig.Piece {
	var list []*rig.Piece
	for _, classes := range [][]gear.Class{{gear.HandAscender}, {gear.FootLoop}, {gear.Pulley, gear.CapturePulley}} {
		var found *rig.Piece
		for _, p := range people {
			for _, o := range p.All {
				if found == nil && slices.Contains(classes, o.Model.Class) {
					found = o
				}
			}
		}
		if found == nil {
			return nil
		}
		list = append(list, found)
	}
	return list
}

// evacuate is the last resort: a sealed kit from the top, brought by a rescuer.
func (pl *Planner) evacuate(c *comer, h *hanger, at stance.Cm) (RescueWay, bool) {
	var kit *rig.Piece
	for _, o := range slices.Concat(h.Carries, c.Carries) {
		if m := o.Model.Evacuation; m != nil && (kit == nil || m.MaxM >= pl.rig.Geometry.TopM && h.MassKg >= m.MinKg && h.MassKg <= m.MaxKg) {
			kit = o
		}
	}
	if kit == nil {
		return RescueWay{}, false
	}
	w := RescueWay{Kind: "evacuate", Rescuer: c.ID, Name: c.Name, Words: c.Name + " with " + kit.Item.Label + ", a last resort", Last: true, Phases: []Phase{}}
	pl.begin(&w)
	pl.walk(&w, c)
	m := kit.Model.Evacuation
	if top := pl.rig.Geometry.TopM; m.MaxM < top {
		w.block("%s lowers %v, and the top is at %v", kit.Item.Label, m.MaxM, top)
	}
	if h.MassKg < m.MinKg || h.MassKg > m.MaxKg {
		w.block("%s is rated from %v to %v", kit.Item.Label, m.MinKg, m.MaxKg)
	}
	fewest, reached, undecided := 1e9, false, false
	for _, set := range pl.sets() {
		main, backup := lineOf(c.sc, "main", set), lineOf(c.sc, "backup", set)
		if main < 0 || backup < 0 || c.conf.From == "landing" || c.hangs() || pl.works(set, c, h) != "" || max(c.sc.Lines[main].End, c.sc.Lines[backup].End) > at || !pl.solo(c, set, at) {
			continue
		}
		s, _, stop := pl.profile(c.way, set, false, false).between(at, c.sc.Lines[main].Top, stance.DeviceLen, downMetre)
		if stop.why == "" && s < fewest {
			fewest, reached, w.Set = s, true, set
		}
		undecided = undecided || stop.undecided
	}
	if !reached {
		w.stop(stopped{"nobody reaches them from the top", undecided})
		fewest = 0
	}
	if len(lifts(c.PersonView, h.PersonView)) == 0 {
		w.block("a hand ascender, a foot loop and a pulley are needed to take their weight off")
	}
	w.phase("reach", c.Name, fewest, "by the moves, down")
	steps, err := pl.evacuated(kit, h, at).Find(pl.ctx)
	if err != nil {
		w.block("the kit is not for this mass or height")
	}
	attach, lower := 0.0, 0.0
	for _, st := range steps {
		if st.Action.Do == "lower" {
			lower += st.Seconds
		} else if st.Action.Do != "free" {
			attach += st.Seconds
		}
	}
	w.phase("attach", c.Name, attach, "by the steps of the kit, shipped times")
	w.phase("lower", "the kit", lower, "by the kit's own brake")
	w.Notes = append(w.Notes, "one person is held once only while it lowers; medical go-ahead first; look down before and while")
	return w, true
}

// evacuated is the scene of an evacuation with a kit.
func (pl *Planner) evacuated(kit *rig.Piece, h *hanger, at stance.Cm) *Evacuated {
	return &Evacuated{Kit: kit.Model, Label: kit.Item.Label, MassKg: h.MassKg, HeightM: at.M(), Landing: pl.setup.Landing}
}

// Evacuation are the steps of a last resort; nil where a way is none.
func (pl *Planner) Evacuation(w *RescueWay, casualty string, at quantity.Metres) []EvacuationStep {
	h := pl.casualty(casualty)
	if w.Kind != "evacuate" || h == nil {
		return nil
	}
	for _, c := range pl.rescuers {
		for _, o := range slices.Concat(c.Carries, h.Carries) {
			if c.ID == w.Rescuer && o.Model.Evacuation != nil {
				steps, _ := pl.evacuated(o, h, stance.ToCm(at)).Find(pl.ctx)
				return steps
			}
		}
	}
	return nil
}

// Passes are the moves of the pair past what is in the way down below a height: nobody
// stands up with two, every device is rated for two.
func (pl *Planner) Passes(w *RescueWay, casualty string, at quantity.Metres) []*moves.MovePlan {
	h := pl.casualty(casualty)
	i := slices.IndexFunc(pl.rescuers, func(c *comer) bool { return c.ID == w.Rescuer })
	if h == nil || i < 0 || w.Kind == "lowered" || w.Kind == "evacuate" {
		return nil
	}
	pair := pl.pairOn(pl.rescuers[i], h, w.Set, stance.ToCm(at), w.Across)
	if pair == nil {
		return nil
	}
	var list []*moves.MovePlan
	for _, group := range marksOf(pair, w.Set) {
		if group[0].At >= stance.ToCm(at) {
			continue
		}
		ask := passing(group, w.Set, false, pair.Ground, 0)
		if plan, err := moves.For(pl.ctx, pair, *ask.From, ask); err == nil {
			list = append(list, plan)
		}
	}
	return list
}

// Cover is which metre of a drop is covered for whom.
type Cover struct {
	Heights []quantity.Metres `json:"heights_m" doc:"from the landing up"`
	People  []PersonCover     `json:"people"`
	LimitS  float64           `json:"limit_s" doc:"how long somebody may hang still"`
	Gaps    []Gap             `json:"gaps" doc:"stretches that are not covered, too slow, or by a last resort only, worst first"`
}

// PersonCover is one person's.
type PersonCover struct {
	Person string `json:"person"`
	Name   string `json:"name"`
	Set    int    `json:"set"`
	// States are one for each height.
	States []Covered `json:"states"`
}

// Covered is one height for one person.
type Covered struct {
	State   string  `json:"state" enum:"covered,slow,last-resort,undecided,uncovered" doc:"undecided: a search was cut off; it counts as not covered"`
	Kind    string  `json:"kind,omitempty"`
	Seconds float64 `json:"seconds_s,omitempty"`
}

// Gap is a stretch of a drop that is not covered well.
type Gap struct {
	Person  string          `json:"person"`
	Name    string          `json:"name"`
	State   string          `json:"state" enum:"slow,last-resort,undecided,uncovered"`
	FromM   quantity.Metres `json:"from_m"`
	ToM     quantity.Metres `json:"to_m"`
	Blocked []string        `json:"blocked" doc:"what blocks the ways there are"`
}

// Cover looks at every metre for everybody. Its error is the context's.
func (pl *Planner) Cover() (*Cover, error) {
	out := &Cover{Heights: []quantity.Metres{}, People: []PersonCover{}, LimitS: pl.limitS, Gaps: []Gap{}}
	for at := quantity.Metres(1); at <= pl.rig.Geometry.TopM-1; at++ {
		out.Heights = append(out.Heights, at)
	}
	for n, h := range pl.people {
		pc := PersonCover{Person: h.ID, Name: h.Name, Set: h.set, States: make([]Covered, len(out.Heights))}
		for i, at := range out.Heights {
			ways := pl.ways(h, stance.ToCm(at))
			if err := pl.ctx.Err(); err != nil {
				return nil, err
			}
			progress.Say(pl.ctx, n*len(out.Heights)+i+1, len(pl.people)*len(out.Heights), "metres")
			pc.States[i] = pl.state(ways)
			out.gap(h, at, pc.States[i].State, ways)
		}
		out.People = append(out.People, pc)
	}
	order := map[string]int{"uncovered": 0, "undecided": 1, "last-resort": 2, "slow": 3}
	slices.SortStableFunc(out.Gaps, func(a, b Gap) int {
		return cmp.Or(cmp.Compare(order[a.State], order[b.State]), cmp.Compare(b.ToM-b.FromM, a.ToM-a.FromM))
	})
	return out, nil
}

func (pl *Planner) state(ways []RescueWay) Covered {
	if len(ways) == 0 || !ways[0].Works {
		if slices.ContainsFunc(ways, func(w RescueWay) bool { return w.Undecided }) {
			return Covered{State: "undecided"}
		}
		return Covered{State: "uncovered"}
	}
	w := &ways[0]
	c := Covered{State: "covered", Kind: w.Kind, Seconds: w.Seconds}
	switch {
	case w.Last:
		c.State = "last-resort"
	case w.Seconds > pl.limitS:
		c.State = "slow"
	}
	return c
}

// gap lengthens the last gap, or begins one.
func (c *Cover) gap(h *hanger, at quantity.Metres, state string, ways []RescueWay) {
	if state == "covered" {
		return
	}
	g := Gap{Person: h.ID, Name: h.Name, State: state, FromM: at, ToM: at, Blocked: []string{}}
	for i := range ways {
		if w := &ways[i]; w.Blocked != "" && len(g.Blocked) < 4 {
			g.Blocked = append(g.Blocked, w.Words+": "+w.Blocked)
		}
	}
	if len(ways) == 0 {
		g.Blocked = append(g.Blocked, "nobody is told to come")
	}
	if n := len(c.Gaps); n > 0 {
		// What blocks is the same all along a gap, but for its figures.
		if was := &c.Gaps[n-1]; was.Person == h.ID && was.State == state && at-was.ToM < 1.5 && slices.EqualFunc(was.Blocked, g.Blocked, func(a, b string) bool { return figureless(a) == figureless(b) }) {
			was.ToM = at
			return
		}
	}
	c.Gaps = append(c.Gaps, g)
}

// figureless is a text without its figures.
func figureless(s string) string {
	return strings.Map(func(r rune) rune {
		if r >= '0' && r <= '9' || r == '.' || r == '-' {
			return -1
		}
		return r
	}, s)
}

// RigRules are the rules on a drop's cover.
var RigRules = []stance.Rule{
	{ID: "rescue.uncovered", Gives: finding.Stop, Fires: "somebody on the drop is reached by no way at some height with the people, kit and rigging planned"},
	{ID: "rescue.slow", Gives: finding.Look, Fires: "somebody would hang still longer than the policy's limit"},
	{ID: "rescue.last-resort", Gives: finding.Look, Fires: "a last resort is the only way to somebody at some height"},
}

// Findings are what a drop's cover asks for, one for each person and kind.
func (pl *Planner) Findings(c *Cover) []finding.Finding {
	found := []finding.Finding{}
	for _, p := range pl.people {
		for _, state := range []string{"uncovered", "undecided", "last-resort", "slow"} {
			var parts, blocked []string
			metres := quantity.Metres(0)
			for _, g := range c.Gaps {
				if g.Person == p.ID && g.State == state {
					parts = append(parts, fmt.Sprintf("%v to %v", g.FromM, g.ToM))
					metres += g.ToM - g.FromM + 1
					for _, b := range g.Blocked {
						if !slices.Contains(blocked, b) {
							blocked = append(blocked, b)
						}
					}
				}
			}
			if len(parts) > 0 {
				found = append(found, pl.finding(p, state, metres, strings.Join(parts, ", "), blocked))
			}
		}
	}
	return found
}

// NotComputed is the finding of a rescue that cannot be planned on a drop: nothing of it
// is known, so it covers nobody.
func NotComputed(p *policy.Policy, why error) finding.Finding {
	return finding.Finding{
		Rule: "rescue.uncovered", Severity: p.Severity("rescue.uncovered", finding.Stop), Subject: finding.Subject{Kind: finding.Person, ID: "rescue", Label: "Rescue"},
		What: fmt.Sprintf("Rescue cover cannot be computed: %v.", why), Why: "What is not computed counts as not covered.",
		Remedy: "Change what is named, so that every metre can be computed.", Source: "team policy: " + p.Name, Figures: []finding.Figure{}, Working: []finding.Working{},
	}
}

func (pl *Planner) finding(p *hanger, state string, metres quantity.Metres, where string, blocked []string) finding.Finding {
	rule, severity := "rescue."+state, finding.Look
	what, why := "is reached only by a last resort", "A last resort holds one person once only."
	switch state {
	case "uncovered":
		severity = finding.Stop
		what, why = "is reached by nobody", "A casualty hanging still is a medical emergency."
	case "undecided":
		rule, severity = "rescue.uncovered", finding.Stop
		what, why = "is not known to be reached: the search was cut off", "What is not decided counts as not covered."
	case "slow":
		what, why = fmt.Sprintf("would hang still longer than %v min", pl.in.Policy.HangLimitMin), "A casualty hanging still is a medical emergency; how long is too long is a medical question."
	}
	remedy := "Rig a set or brakes for rescue beforehand, bring a second rescuer or a device rated for two: the Rescue page ranks what covers most."
	if len(blocked) > 0 {
		why += " " + strings.ToUpper(blocked[0][:1]) + blocked[0][1:] + "."
	}
	return finding.Finding{
		Rule: rule, Severity: pl.in.Policy.Severity(rule, severity), Subject: finding.Subject{Kind: finding.Person, ID: p.ID, Label: p.Name, Person: p.ID},
		What:    fmt.Sprintf("%s %s at %s.", p.Name, what, where),
		Figures: []finding.Figure{finding.Fig("metres", metres), finding.State("state", state)},
		Why:     why, Remedy: remedy, Source: "team policy: " + pl.in.Policy.Name, Working: []finding.Working{},
	}
}

// Plan finds the pick-off of a way at a height.
func (pl *Planner) Plan(w *RescueWay, casualty string, at quantity.Metres) (*RescuePlan, error) {
	sc, start, err := pl.Scene(w, casualty, at)
	if err != nil {
		return nil, err
	}
	p, err := sc.Find(pl.ctx, w.Kind, start)
	if errors.Is(err, search.ErrNone) {
		return nil, fmt.Errorf("%s: %w", sc.lacks(pl.ctx, start), err)
	}
	return p, err
}
