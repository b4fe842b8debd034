package cover

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/pair"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/stance"
)

// byRescuer are the ways in which one rescuer goes to the casualty.
func (pl *Planner) byRescuer(c *rescuer, h *casualty, at stance.Cm) []Way {
	var list []Way
	for _, set := range pl.sets() {
		w := Way{Rescuer: c.ID, Name: c.Name, Set: set, Phases: []Phase{}}
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
func (pl *Planner) works(set int, c *rescuer, h *casualty) string {
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

func (pl *Planner) walk(w *Way, c *rescuer) {
	wait := pl.wait(c)
	w.phase("walk", c.Name, wait.S, wait.Source)
	if c.unavailable != "" {
		w.block("%s", c.unavailable)
	}
	if c.note != "" {
		w.Notes = append(w.Notes, c.note)
	}
}

// along is a rescuer who goes along strands to the casualty, takes them off and brings
// them down: on a casualty's own strands with the descender on the backup strand, since
// the main is tight; on others on the main, and where that is blocked on the backup strand.
func (pl *Planner) along(w *Way, c *rescuer, h *casualty, at stance.Cm) {
	pl.begin(w)
	pl.walk(w, c)
	main, _, lacks := c.sc.Strands(w.Set)
	if lacks != "" {
		w.block("%s", lacks)
		return
	}
	pl.reaches(w, c, at)
	theirs := h.sc.LineOf(h.set, rig.Main)
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
func (pl *Planner) goes(w *Way, c *rescuer, h *casualty, at stance.Cm, across bool) {
	if w.Across = across; across && w.Set != h.set {
		w.Words += ", the descender on the backup strand"
	}
	pl.reach(w, c, h, at, c.sc.LineOf(w.Set, rig.Main))
	list, why := pl.hangs(c, h, w.Set, at, across)
	if why != "" {
		w.block("%s", why)
	}
	if w.Blocked != "" && !w.Undecided {
		return // what does not work is not searched for
	}
	// A chain with a strap leaves connectors for what is passed on the way, one of connectors
	// alone leaves a lanyard.
	before := *w
	for _, strap := range []bool{true, false} {
		by := before
		by.Phases, by.NoStrap = slices.Clone(before.Phases), !strap
		free, _ := pl.pickOff(c, h, w.Set, at, list, strap)
		by.stop(free.stopped)
		if why := pl.chained(c, h, free.joined, false); why != "" && free.why == "" {
			by.block("%s", why)
		}
		by.phase("free", c.Name, free.seconds, "by the pick-off")
		if by.Blocked == "" || by.Undecided {
			pl.pairDown(&by, c, h, at, free.joined)
		}
		if strap || by.Blocked == "" || by.Undecided && !w.Undecided {
			*w = by
		}
		if w.Blocked == "" {
			return
		}
	}
}

// reaches blocks a way on a set of which a strand ends above the casualty, or above the
// landing: both bodies hang on both.
func (pl *Planner) reaches(w *Way, c *rescuer, at stance.Cm) {
	for _, role := range []rig.Role{rig.Main, rig.Backup} {
		l := &c.sc.Lines[c.sc.LineOf(w.Set, role)]
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
func (pl *Planner) hangs(c *rescuer, h *casualty, set int, at stance.Cm, across bool) (list []*fitted, why string) {
	main, _, lacks := c.sc.Strands(set)
	if lacks != "" {
		return nil, lacks
	}
	j := pl.fits(c, h, set, at.M(), across)
	why = j.why
	beside := pl.strand(set, rig.Backup)
	if across {
		beside = pl.strand(set, rig.Main)
	}
	top := c.sc.Lines[main].Top
	for _, f := range j.list {
		switch {
		case f.pair.below(at.M()):
			why = cmp.Or(why, fmt.Sprintf("%s, and %v are left to the landing", f.pair.words(f.descender.Item.Label, " with two"), at.M()))
		case f.solo.below((top - at).M()) && !c.hangs() && c.conf.From != "landing":
			why = cmp.Or(why, fmt.Sprintf("%s, and it is %v down to them", f.solo.words(f.descender.Item.Label, ""), (top-at).M()))
		default:
			if hard := pl.peaks(c, f.variant, beside, 0, at.M()); hard != "" {
				why = cmp.Or(why, hard)
				continue
			}
			if pl.peaks(c, f.variant, beside, h.MassKg, at.M()) != "" {
				one := *f
				one.sc = f.sc.ForOne(f.backup.Item.ID)
				f = &one
			}
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
func (pl *Planner) reach(w *Way, c *rescuer, h *casualty, at stance.Cm, main int) {
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
func over(w *Way, h *casualty) stance.Cm {
	if w.Set == h.set {
		return pair.BesideOwn + stance.DeviceLen
	}
	return stance.DeviceLen
}

// hangs reports whether a rescuer is on strands when it happens.
func (c *rescuer) hangs() bool { return len(c.Holds) > 0 && !c.Grounded }

// pairDown is the way down with both.
func (pl *Planner) pairDown(w *Way, c *rescuer, h *casualty, at stance.Cm, j joined) {
	both := pl.pairOn(c, h, w.Set, at, w.Across, j)
	if both == nil {
		w.block("no descender of %s is rated for two of %v, or no connector is left for the bend", c.Name, c.MassKg+h.MassKg)
		return
	}
	s, past, stop := pl.profile(both, w.Set, false, true).between(0, at, over(w, h), 1/pair.SpeedMS)
	w.phase("lower", c.Name, s, "by the moves of a pair, at "+quantity.MetresPerSecond(pair.SpeedMS).String(), past...)
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
		if (t.Class == gear.Descender || t.Class == gear.BackupDevice || t.Class == gear.Lanyard) && own.Tool(t.Item) < 0 {
			more = append(more, t)
		}
	}
	with := own.With(more)
	if with == nil {
		return own
	}
	// They bring no more connectors than the casualty has.
	return with.WithConnectors(min(0, theirs.Connectors-(with.Connectors-own.Connectors)))
}

// inTens gives a scene with its mass in tens of kilograms, up.
func inTens(sc *stance.Scene) *stance.Scene {
	tens := *sc
	tens.MassKg = quantity.Kilograms(10 * math.Ceil(float64(sc.MassKg)/10))
	return &tens
}

// pairOn is a rescuer's scene on a set with a casualty along, with those of their devices
// and of the casualty's that may be hung there with both, without what joins the two; nil
// where there is none.
func (pl *Planner) pairOn(c *rescuer, h *casualty, set int, at stance.Cm, across bool, j joined) *stance.Scene {
	main, backup := pl.strand(set, rig.Main), pl.strand(set, rig.Backup)
	hard := ""
	for _, o := range slices.Concat(c.devices(), h.devices()) {
		if o.Model.Class == gear.BackupDevice && pl.peaksForBoth(c, h, o, main, backup, at.M()) {
			hard += " " + o.Item.ID
		}
	}
	key := judged{c: c, h: h, set: set, main: main.SectionAt(at.M()).TopM, backup: backup.SectionAt(at.M()).TopM, across: across, own: h.sections(at.M()), hard: hard, joined: j}
	kit, known := pl.pairs[key]
	if !known {
		kit = pl.pairKit(c, h, main, backup, at, strings.Fields(hard), j)
		pl.pairs[key] = kit
	}
	used := kit.below(c.sc, set, at)
	if p, known := kit.scenes[used]; known {
		return p
	}
	var p *stance.Scene
	may := func(item string) bool { return kit.may[item] && !slices.Contains(strings.Fields(used), item) }
	if sc := takenOver(c.sc, h.sc).WithConnectors(-j.connectors(c.sc)).ForPair(c.MassKg+h.MassKg, may); sc != nil && sc.First(gear.Descender) >= 0 {
		if p = inTens(sc); across {
			p = p.Crossed(set)
		}
	}
	kit.scenes[used] = p
	return p
}

// pairKit is what two may hang on in the sections of a height, with the scenes made of it.
type pairKit struct {
	may map[string]bool
	// most is the longest descent of each descender with both.
	most   map[string]descent
	scenes map[string]*stance.Scene
}

// pairKit judges the devices and lanyards of both, each on either strand.
func (pl *Planner) pairKit(c *rescuer, h *casualty, main, backup *rig.StrandView, at stance.Cm, hard []string, j joined) *pairKit {
	kit := &pairKit{map[string]bool{}, map[string]descent{}, map[string]*stance.Scene{}}
	for _, o := range slices.Concat(c.devices(), h.devices()) {
		good := true
		for _, s := range []*rig.StrandView{main, backup} {
			most, why := pl.would(c, h, &variant{}, o, s, h.MassKg, at.M())
			good = good && why == ""
			if before, told := kit.most[o.Item.ID]; !told || before.m == 0 || most.m > 0 && most.m < before.m {
				kit.most[o.Item.ID] = most
			}
		}
		kit.may[o.Item.ID] = good && !slices.Contains(hard, o.Item.ID)
	}
	for _, item := range pl.freeLanyards(c, h, j) {
		kit.may[item] = true
	}
	return kit
}

// below are the descenders that do not go down from the first thing in the way below a height.
func (k *pairKit) below(sc *stance.Scene, set int, at stance.Cm) string {
	from := stance.Cm(0)
	for i := range sc.Lines {
		for _, m := range sc.Lines[i].Marks {
			if sc.Lines[i].Set == set && m.At <= at+stance.DeviceLen {
				from = max(from, m.At)
			}
		}
	}
	var list []string
	for item, most := range k.most {
		if most.below(from.M()) {
			list = append(list, item)
		}
	}
	slices.Sort(list)
	return strings.Join(list, " ")
}

// freeLanyards are the lanyards of both that bear both and join nobody.
func (pl *Planner) freeLanyards(c *rescuer, h *casualty, j joined) []string {
	var list []string
	strap, bears := j.strap, pl.strongFor(h)
	for _, t := range slices.Concat(c.sc.Tools, h.sc.Tools) {
		switch {
		case t.Class != gear.Lanyard, t.Item == j.long:
		case strap > 0 && t.Length == strap && bears(&t):
			strap = 0
		case pl.tooWeak(t.Model, t.Label, c.MassKg+h.MassKg, "both") == "":
			list = append(list, t.Item)
		}
	}
	return list
}

// acrossOn is the scene of a rescuer whose descender runs on the backup strand of a set.
func (c *rescuer) acrossOn(set int) *stance.Scene {
	if c.crossed[set] == nil {
		if c.crossed == nil {
			c.crossed = map[int]*stance.Scene{}
		}
		c.crossed[set] = c.way.Crossed(set)
	}
	return c.crossed[set]
}

// devices are somebody's descenders and backup devices.
func (h *casualty) devices() []*rig.Piece { return devices(h.PersonView) }

func (c *rescuer) devices() []*rig.Piece { return devices(c.PersonView) }

func devices(p *rig.PersonView) []*rig.Piece {
	var list []*rig.Piece
	for _, h := range p.Holds {
		list = append(list, h.Device)
	}
	return slices.DeleteFunc(append(list, p.Carries...), func(o *rig.Piece) bool {
		return o.Model.Class != gear.Descender && o.Model.Class != gear.BackupDevice
	})
}
