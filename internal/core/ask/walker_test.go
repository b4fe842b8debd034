package ask_test

import (
	"encoding/json"
	"flag"
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/chance"
	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/corpus"
	"zealousknot/internal/demo"
)

var rigs = flag.Int("rigs", 12, "drops whose ways of rescue are walked by an independent reader")

// node is a part of written JSON that notes what of it is read.
type node struct {
	v    any
	path string
	seen map[string]bool
}

func written(t testing.TB, of any, seen map[string]bool) node {
	text, err := json.Marshal(of)
	if err != nil {
		t.Fatal(err)
	}
	var v any
	if err := json.Unmarshal(text, &v); err != nil {
		t.Fatal(err)
	}
	return node{v, "", seen}
}

func (n node) get(name string) node {
	path := n.path + "/" + name
	n.seen[path] = true
	m, _ := n.v.(map[string]any)
	return node{m[name], path, n.seen}
}

func (n node) list() (out []node) {
	l, _ := n.v.([]any)
	for _, v := range l {
		out = append(out, node{v, n.path, n.seen})
	}
	return out
}

func (n node) text() string { s, _ := n.v.(string); return s }
func (n node) num() float64 { f, _ := n.v.(float64); return f }
func (n node) yes() bool    { b, _ := n.v.(bool); return b }

// every lists all paths that are written.
func (n node) every(into map[string]bool) {
	switch v := n.v.(type) {
	case map[string]any:
		for k, of := range v {
			into[n.path+"/"+k] = true
			node{of, n.path + "/" + k, n.seen}.every(into)
		}
	case []any:
		for _, of := range v {
			node{of, n.path, n.seen}.every(into)
		}
	}
}

// reader walks ways of rescue on a written drop, by rules of its own: it shares no code
// with the engine, and knows only what stands in the document.
type reader struct{ doc node }

func (r *reader) by(list, id string) node {
	for _, n := range r.doc.get(list).list() {
		if n.get("id").text() == id {
			return n
		}
	}
	return node{nil, "/none", map[string]bool{}}
}

func (r *reader) model(item string) node {
	return r.by("models", r.by("items", item).get("model").text())
}

// fit reports whether an item may be used on the day at all.
func (r *reader) fit(item string) bool {
	i, m := r.by("items", item), r.model(item)
	if s := i.get("state").text(); s != "" && s != "in-service" {
		return false
	}
	months := m.get("examination_months").num()
	if months == 0 || months > 6 {
		months = 6
	}
	last, err := time.Parse(time.DateOnly, i.get("examined_on").text())
	day, _ := time.Parse(time.DateOnly, r.doc.get("day").text())
	return err != nil || !last.AddDate(0, int(months), 3).Before(day)
}

// of are the items of a class among somebody's things that may be used.
func (r *reader) of(person node, classes ...string) (list []string) {
	add := func(item string) {
		if slices.Contains(classes, r.model(item).get("class").text()) && r.fit(item) {
			list = append(list, item)
		}
	}
	for _, c := range person.get("carries").list() {
		add(c.text())
	}
	for _, h := range person.get("holds").list() {
		add(h.get("device").text())
	}
	return list
}

// linked reports whether somebody has a link that a backup device lists, in its hold or
// carried.
func (r *reader) linked(person node, backup string) bool {
	have := r.of(person, "absorber", "lanyard")
	for _, h := range person.get("holds").list() {
		for _, l := range h.get("links").list() {
			have = append(have, l.get("item").text())
		}
	}
	return slices.ContainsFunc(r.model(backup).get("backup").get("links").list(), func(l node) bool {
		return slices.ContainsFunc(have, func(item string) bool { return r.by("items", item).get("model").text() == l.get("model").text() })
	})
}

type strands struct{ main, backup node }

func (r *reader) set(n float64) (s strands) {
	for _, o := range r.doc.get("strands").list() {
		if o.get("set").num() == n {
			if o.get("role").text() == "main" {
				s.main = o
			} else {
				s.backup = o
			}
		}
	}
	return s
}

func (s strands) both() []node { return []node{s.main, s.backup} }

// rope is a strand's length and greatest diameter.
func (r *reader) rope(s node) (length, mm float64) {
	for _, id := range s.get("ropes").list() {
		i := r.by("items", id.text())
		d := i.get("measured_mm").num()
		if d == 0 {
			d = r.model(id.text()).get("rope").get("diameter_mm").num()
		}
		length, mm = length+i.get("length_m").num(), max(mm, d)
	}
	return length, mm
}

// end is the height of a strand's lower end.
func (r *reader) end(s node) float64 {
	length, mm := r.rope(s)
	top := r.by("anchors", s.get("anchors").list()[0].text()).get("height_m").num()
	multiples := 70.0 + 10
	if s.get("end_stop").text() == "knot" {
		multiples += 25 + 10
	}
	for _, m := range s.get("marks").list() {
		length -= m.get("loop_m").num()
		if k := m.get("kind").text(); k == "knot" || k == "re-belay" {
			multiples += 55
		}
	}
	for _, e := range r.doc.get("geometry").get("edges").list() {
		length -= e.get("rope_m").num()
	}
	return top - (length - s.get("loops_m").num() - multiples*mm/1000)
}

// runsOn reports whether a device has a mode for so many on all ropes of some strands.
func (r *reader) runsOn(item string, persons, mass, metres float64, on ...node) bool {
	if fastest := r.model(item).get("device").get("max_speed_m_s").num(); fastest > 0 && fastest < 0.5 {
		return false // than is shipped as the speed of a descent
	}
	for _, mode := range r.model(item).get("device").get("modes").list() {
		good := mode.get("persons").num() >= persons && mass >= mode.get("min_kg").num() && mass <= mode.get("max_kg").num()
		if most := mode.get("max_descent_m").num(); most > 0 && metres > most {
			good = false
		}
		for _, w := range r.model(item).get("working_loads").list() {
			if w.get("mode").text() == mode.get("name").text() && w.get("limit_kg").num() > 0 && mass > w.get("limit_kg").num() {
				good = false
			}
		}
		for _, s := range on {
			_, mm := r.rope(s)
			for _, id := range s.get("ropes").list() {
				made := r.model(id.text()).get("rope").get("construction").text()
				good = good && r.fit(id.text()) && slices.ContainsFunc(mode.get("ropes").list(), func(g node) bool {
					takes := slices.ContainsFunc(g.get("constructions").list(), func(c node) bool { return c.text() == made })
					return takes && mm >= g.get("min_mm").num() && mm <= g.get("max_mm").num()
				})
			}
		}
		if good {
			return true
		}
	}
	return false
}

// holds reports whether rope, anchors and legs of a strand hold a mass by the shipped
// factors, each anchor of two legs that are alike. The rope from the anchor down to the next
// re-belay or the end hangs there too.
func (r *reader) holds(s node, mass, at float64) bool {
	top, to, heaviest := r.by("anchors", s.get("anchors").list()[0].text()).get("height_m").num(), max(0, r.end(s)), 0.0
	for _, m := range s.get("marks").list() {
		if h := m.get("height_m").num(); m.get("kind").text() == "re-belay" && h > at {
			top = min(top, h)
		} else if m.get("kind").text() == "re-belay" {
			to = max(to, h)
		}
	}
	for _, id := range s.get("ropes").list() {
		heaviest = max(heaviest, r.model(id.text()).get("rope").get("mass_g_per_m").num())
	}
	load := (mass + heaviest/1000*max(0, top-to)) * 9.80665 / 1000
	for _, id := range s.get("ropes").list() {
		knot := 0.65
		for _, m := range s.get("marks").list() {
			if k := m.get("kind").text(); k == "knot" || k == "re-belay" {
				knot = 0.6
			}
		}
		if strength := r.model(id.text()).get("strength_kN").num(); strength > 0 && strength*knot < 10*load {
			return false
		}
	}
	anchor := s.get("anchors").list()[0].text()
	for _, m := range s.get("marks").list() {
		if m.get("kind").text() == "re-belay" && m.get("height_m").num() > at {
			anchor = m.get("anchor").text()
		}
	}
	for _, leg := range r.by("anchors", anchor).get("legs").list() {
		x, y := leg.get("x_m").num(), leg.get("y_m").num()
		pull := load / 2 * math.Hypot(x, y) / y
		if limit := leg.get("working_load_kN").num(); limit > 0 && pull > limit {
			return false
		}
		if strength := leg.get("strength_kN").num(); strength > 0 && strength < 5*pull {
			return false
		}
	}
	return true
}

// arrests reports whether a harness has a point for a fall.
func (r *reader) arrests(harness string) bool {
	return slices.ContainsFunc(r.model(harness).get("harness").get("points").list(), func(p node) bool { return p.get("fall_arrest").yes() })
}

// hot reports whether a device passes the lowest limit of a strand's sheaths on the way down, in
// small steps of time at the shipped speed, from 20 °C.
func (r *reader) hot(item string, s node, mass, metres float64) bool {
	limit := math.Inf(1)
	for _, id := range s.get("ropes").list() {
		if l := r.model(id.text()).get("rope").get("sheath_limit_C").num(); l > 0 {
			limit = min(limit, l)
		}
	}
	m := r.model(item)
	heat := m.get("device").get("heat")
	takes := m.get("mass_g").num() / 1000 * heat.get("specific_heat_J_kgK").num()
	if takes == 0 {
		return false
	}
	const speed, steps = 0.5, 4000
	over, dt := 0.0, metres/speed/steps
	for range steps {
		over += dt * (heat.get("heat_share").num()*mass*9.80665*speed - heat.get("cooling_W_K").num()*over) / takes
	}
	return over > limit-20+0.05
}

// hard reports whether a fall onto a backup device peaks above the shipped ceiling of 6 kN on
// so much rope, by the work that rope and absorber take up; hung lower than its links are long
// it falls further.
func (r *reader) hard(item string, who, s node, mass, rope float64) bool {
	b := r.model(item).get("backup")
	tears, most := 1e9, 0.0
	for _, id := range r.of(who, "absorber") {
		a := r.model(id).get("absorber")
		tears, most = a.get("force_kN").num()*1000, a.get("max_m").num()
	}
	stretch := 0.0
	for _, id := range s.get("ropes").list() {
		stretch = max(stretch, r.model(id.text()).get("rope").get("elongation_pct").num())
	}
	k := 100 * 9.80665 / (stretch / 100) / max(rope, 0.3)
	h := b.get("lock_distance_m").num()
	// The force grows until what rope and absorber took up is what the fall gave.
	for f := 0.0; f < 6000; f += 5 {
		torn := 0.0
		if f >= tears {
			torn = most
		}
		if f*f/(2*k)+torn*min(f, tears) >= mass*9.80665*(h+f/k+torn) {
			return false
		}
	}
	return true
}

// marked is an open mark of a kind between two heights of some strands.
func marked(kinds string, low, high float64, on ...node) (where float64, ok bool) {
	for _, s := range on {
		marks := s.get("marks").list()
		for _, m := range marks {
			at := m.get("height_m").num()
			isolated := slices.ContainsFunc(marks, func(o node) bool {
				return o.get("isolates").text() == m.get("id").text() && m.get("id").text() != "" && math.Abs(o.get("height_m").num()-at) <= 1
			})
			if strings.Contains(kinds, m.get("kind").text()) && !isolated && at > low && at < high {
				return at, true
			}
		}
	}
	return 0, false
}

// wrong says why a way that is said to work does not; empty where nothing is found.
func (r *reader) wrong(way node, casualty string, at float64) string {
	hurt, rescuer := r.by("people", casualty), r.by("people", way.get("rescuer").text())
	team := r.doc.get("team")
	brakes := func(mass, persons float64) string {
		there := 0
		for _, o := range team.get("operators").list() {
			busy := false
			for _, p := range r.doc.get("people").list() {
				hangs := len(p.get("holds").list()) > 0 || p.get("id").text() == casualty || p.get("id").text() == way.get("rescuer").text()
				busy = busy || hangs && p.get("name").text() == o.text()
			}
			if !busy {
				there++
			}
		}
		if there < 2 {
			return "one operator"
		}
		for _, l := range []node{team.get("main"), team.get("belay")} {
			s := r.by("strands", l.get("strand").text())
			if b := l.get("brake").text(); !r.fit(b) || !r.runsOn(b, persons, mass, 0, s) || !r.holds(s, mass, at) {
				return "the brakes, their ropes or anchors are not for it"
			}
		}
		return ""
	}
	mass := hurt.get("mass_kg").num()
	switch kind := way.get("kind").text(); kind {
	case "evacuate":
		return r.wrongLast(way, rescuer, hurt, at)
	case "lower", "raise":
		haulers := team.get("haulers").num()
		if why := brakes(mass, 1); why != "" {
			return why
		}
		for _, name := range []string{"main", "belay"} {
			s := r.by("strands", team.get(name).get("strand").text())
			if h, ok := marked("damage re-belay", at, 1e9, s); ok {
				return fmt.Sprintf("held or hurt above them at %g", h)
			}
			if kind == "lower" && s.get("loops_m").num() < at {
				return "not enough rope at the anchors"
			}
		}
		if kind == "raise" && haulers < 1 {
			return "nobody hauls"
		}
		return ""
	case "lowered":
		s := strands{r.by("strands", team.get("main").get("strand").text()), r.by("strands", team.get("belay").get("strand").text())}
		if h, ok := marked("damage re-belay", 0, 1e9, s.both()...); ok {
			return fmt.Sprintf("the team's strands are hurt or held at %g", h)
		}
		for _, o := range s.both() {
			if length, _ := r.rope(o); length < r.by("anchors", o.get("anchors").list()[0].text()).get("height_m").num() {
				return "the team's rope ends in the air"
			}
		}
		return brakes(mass+rescuer.get("mass_kg").num(), 2)
	}
	n := way.get("set").num()
	s := r.set(n)
	pair := mass + rescuer.get("mass_kg").num()
	for _, o := range s.both() {
		if end := r.end(o); end > 0.96 {
			return fmt.Sprintf("a strand ends at %.2f", end)
		}
		if !r.holds(o, pair, at) {
			return "rope or anchors do not hold both"
		}
		for _, p := range r.doc.get("people").list() {
			if id := p.get("id").text(); id == casualty || id == way.get("rescuer").text() {
				continue
			}
			for _, h := range p.get("holds").list() {
				if h.get("strand").text() == o.get("id").text() {
					return "somebody works there"
				}
			}
		}
	}
	if h, ok := marked("damage", 0, 1e9, s.both()...); ok {
		return fmt.Sprintf("the set is hurt at %g", h)
	}
	under, beside := s.main, s.backup
	if way.get("across").yes() {
		under, beside = s.backup, s.main
	}
	for _, h := range hurt.get("holds").list() {
		if h.get("strand").text() == s.main.get("id").text() && !way.get("across").yes() {
			return "the descender is to run on a strand that somebody hangs on"
		}
	}
	if h, ok := marked("knot join", 0, at+0.14, under); ok {
		return fmt.Sprintf("two go past a knot at %g", h)
	}
	if harness := rescuer.get("harness").text(); harness == "" || !r.fit(harness) {
		return "their harness may not be used"
	} else if !r.arrests(harness) {
		return "their harness has no point for a fall"
	}
	alone, top := rescuer.get("mass_kg").num(), r.by("anchors", under.get("anchors").list()[0].text()).get("height_m").num()
	own := r.of(rescuer, "descender")
	if !slices.ContainsFunc(own, func(d string) bool {
		return r.runsOn(d, 2, pair, at, under) && r.runsOn(d, 1, alone, 0, under) && !r.hot(d, under, pair, at) && !r.hot(d, under, alone, top-at)
	}) {
		return "no descender of theirs is for two here"
	}
	if !slices.ContainsFunc(r.of(rescuer, "backup-device"), func(b string) bool {
		return r.runsOn(b, 1, alone, 0, beside) && r.linked(rescuer, b) && !r.hard(b, rescuer, beside, alone, top-at)
	}) {
		return "no backup device of theirs is for these ropes"
	}
	if _, ok := marked("re-belay", 0, at+0.14, s.both()...); ok && len(own)+len(r.of(hurt, "descender")) < 2 {
		return "two go past a re-belay on one descender"
	}
	if list := r.of(rescuer, "lanyard"); len(list) > 0 && !slices.ContainsFunc(list, func(l string) bool {
		strong := r.model(l).get("strength_kN").num()
		return strong == 0 || strong >= 10*mass*9.80665/1000-1e-9
	}) {
		return "every lanyard is too weak for the casualty"
	}
	if len(r.of(rescuer, "lanyard")) == 0 || len(r.of(rescuer, "connector")) < 2 {
		return "no lanyard or connectors for the casualty"
	}
	if s.main.get("anchors").list()[0].text() == s.backup.get("anchors").list()[0].text() && len(s.main.get("anchors").list()) == 1 {
		return "one anchor holds the rescuer"
	}
	if on := r.doc.get("rescue").get("on").text(); on != "" && on != "descender" {
		for _, classes := range [][]string{{"hand-ascender"}, {"foot-loop"}, {"pulley", "capture-pulley"}} {
			if len(r.of(rescuer, classes...))+len(r.of(hurt, classes...)) == 0 {
				return "nothing lifts the casualty: no " + classes[0]
			}
		}
	}
	return ""
}

// wrongLast says why a last resort that is said to work does not: a kit that is there, for
// their mass and the whole drop; somebody who comes down to them alone; a lift.
func (r *reader) wrongLast(way, rescuer, hurt node, at float64) string {
	mass, alone, s := hurt.get("mass_kg").num(), rescuer.get("mass_kg").num(), r.set(way.get("set").num())
	top := r.doc.get("geometry").get("top_m").num()
	if !slices.ContainsFunc(append(r.of(rescuer, "evacuation-kit"), r.of(hurt, "evacuation-kit")...), func(kit string) bool {
		e := r.model(kit).get("evacuation")
		return mass >= e.get("min_kg").num() && mass <= e.get("max_kg").num() && top <= e.get("max_m").num()
	}) {
		return "no kit is for their mass and the height"
	}
	if s.main.v == nil {
		return "nobody comes down to them"
	}
	for _, o := range s.both() {
		if end := r.end(o); end > at {
			return fmt.Sprintf("a strand ends at %.2f", end)
		}
		if !r.holds(o, alone, at) {
			return "rope or anchors do not hold the rescuer"
		}
	}
	if harness := rescuer.get("harness").text(); harness == "" || !r.fit(harness) || !r.arrests(harness) {
		return "their harness may not be used, or has no point for a fall"
	}
	high := r.by("anchors", s.main.get("anchors").list()[0].text()).get("height_m").num()
	if !slices.ContainsFunc(r.of(rescuer, "descender"), func(d string) bool {
		return r.runsOn(d, 1, alone, high-at, s.main) && !r.hot(d, s.main, alone, high-at)
	}) {
		return "no descender of theirs is for this rope"
	}
	if !slices.ContainsFunc(r.of(rescuer, "backup-device"), func(b string) bool {
		return r.runsOn(b, 1, alone, 0, s.backup) && r.linked(rescuer, b) && !r.hard(b, rescuer, s.backup, alone, high-at)
	}) {
		return "no backup device of theirs is for this rope"
	}
	for _, classes := range [][]string{{"hand-ascender"}, {"foot-loop"}, {"pulley", "capture-pulley"}} {
		if len(r.of(rescuer, classes...))+len(r.of(hurt, classes...)) == 0 {
			return "nothing takes the casualty's weight off: no " + classes[0]
		}
	}
	return ""
}

// untrue says what in a reason is not so; empty where it is, or where it says nothing that
// is written in the document. known reports a kind of reason that is read here.
func (r *reader) untrue(way node, casualty string, at float64) (wrong string, known bool) {
	why, n := way.get("blocked").text(), way.get("set").num()
	var metres float64
	after := func(words string) bool {
		i := strings.Index(why, words)
		if i < 0 {
			return false
		}
		_, _ = fmt.Sscanf(why[i+len(words):], "%f", &metres)
		return true
	}
	rescuer, hurt := r.by("people", way.get("rescuer").text()), r.by("people", casualty)
	switch {
	case way.get("kind").text() == "evacuate":
		return r.untrueLast(why, hurt)
	case after("ends at "):
		if !slices.ContainsFunc(r.set(n).both(), func(s node) bool { return math.Abs(r.end(s)-metres) < 0.03 }) {
			return why, true
		}
	case after("damage at "):
		all := r.doc.get("strands").list()
		if _, ok := marked("damage", metres-0.02, metres+0.02, all...); !ok {
			return why, true
		}
	case strings.Contains(why, " works on set "):
		name, _, _ := strings.Cut(why, " works on set ")
		for _, p := range r.doc.get("people").list() {
			if p.get("name").text() == name && (p.get("id").text() == casualty || len(p.get("holds").list()) == 0) {
				return why, true
			}
		}
	case strings.Contains(why, "hangs in what grips"):
		missing := false
		for _, classes := range [][]string{{"hand-ascender"}, {"foot-loop"}, {"pulley", "capture-pulley"}} {
			missing = missing || len(r.of(rescuer, classes...))+len(r.of(hurt, classes...)) == 0
		}
		if on := r.doc.get("rescue").get("on").text(); on == "" || on == "descender" || !missing {
			return why, true
		}
	case strings.Contains(why, "is not rated for two of"), strings.Contains(why, "than ") && strings.Contains(why, " takes in mode"), strings.Contains(why, "times the load"), strings.Contains(why, "above its working load"),
		strings.Contains(why, "at a time with two"), strings.Contains(why, "would peak at"), strings.Contains(why, "No harness of"), strings.Contains(why, "belongs on a point"), strings.Contains(why, "overdue"), strings.Contains(why, "is retired"), strings.Contains(why, "is in quarantine"), strings.Contains(why, "kg on "):
		// It is true where the set cannot be used, or no descender or backup may be.
		pair, s := hurt.get("mass_kg").num()+rescuer.get("mass_kg").num(), r.set(n)
		if way.get("kind").text() == "lowered" || way.get("rescuer").text() == "" {
			return "", true
		}
		good := slices.ContainsFunc(r.of(rescuer, "descender"), func(d string) bool {
			return r.runsOn(d, 2, pair, at, s.both()...) && !slices.ContainsFunc(s.both(), func(o node) bool { return r.hot(d, o, pair, at) })
		})
		good = good && slices.ContainsFunc(r.of(rescuer, "backup-device"), func(b string) bool { return r.runsOn(b, 1, rescuer.get("mass_kg").num(), 0, s.both()...) })
		harness := rescuer.get("harness").text()
		good = good && harness != "" && r.fit(harness) && r.arrests(harness)
		for _, b := range r.of(rescuer, "backup-device") {
			top := r.by("anchors", s.backup.get("anchors").list()[0].text()).get("height_m").num()
			good = good && !r.hard(b, rescuer, s.backup, rescuer.get("mass_kg").num(), top-at)
		}
		for _, o := range s.both() {
			good = good && r.holds(o, pair+5, at)
		}
		if good {
			return why, true
		}
	case strings.Contains(why, "connectors are spare"):
		if strings.HasPrefix(why, "-") || len(r.of(rescuer, "connector")) > 12 {
			return why, true
		}
	default:
		return "", false
	}
	return "", true
}

// stepsOfLast asks for the steps of a last resort: they are of the kit that the way names, and
// end with it freed.
func stepsOfLast(t *testing.T, env ask.Env, d *drop.Document, asked ask.RescueAsked, words string) {
	t.Helper()
	asked.Drop = *d
	out, err := asked.Answer(t.Context(), env)
	if err != nil || len(out.Last) == 0 || out.Last[len(out.Last)-1].Action.Do != "free" {
		t.Fatalf("%v, %s: %+v", err, words, out.Last)
	}
	_, kit, _ := strings.Cut(strings.TrimSuffix(words, ", a last resort"), " with ")
	if !slices.ContainsFunc(out.Last, func(s cover.EvacuationStep) bool { return strings.HasPrefix(s.Say, kit+" looked at") }) {
		t.Errorf("%s: %+v", words, out.Last)
	}
}

// untrueLast is untrue for a last resort.
func (r *reader) untrueLast(why string, hurt node) (wrong string, known bool) {
	mass, top := hurt.get("mass_kg").num(), r.doc.get("geometry").get("top_m").num()
	for _, i := range r.doc.get("items").list() {
		e := r.model(i.get("id").text()).get("evacuation")
		switch label := i.get("label").text(); {
		case strings.HasPrefix(why, label+" is rated from "):
			if mass >= e.get("min_kg").num() && mass <= e.get("max_kg").num() {
				return why, true
			}
			return "", true
		case strings.HasPrefix(why, label+" lowers "):
			if e.get("max_m").num() >= top {
				return why, true
			}
			return "", true
		}
	}
	return "", false
}

// withSet is a drop of two people at work, a third set hung for rescue and one who comes.
func withSet(t testing.TB) *drop.Document {
	g, d := demo.Gear(), copyOf(t, demo.Drops()["face-7"])
	for i, role := range []rig.Role{rig.Main, rig.Backup} {
		s := d.Strands[i]
		s.ID, s.Name, s.Set, s.Marks, s.Ropes = "rescue-"+string(role), "rescue "+string(role), 3, nil, []string{[]string{"rope-3", "rope-4"}[i]}
		a := d.Anchors[slices.IndexFunc(d.Anchors, func(a rig.Anchor) bool { return a.ID == s.Anchors[0] })]
		a.ID, a.Name, a.XM, a.Legs = "third-"+string(role), "third "+string(role), 0.1+0.2*quantity.Metres(i), slices.Clone(a.Legs)
		for n := range a.Legs {
			a.Legs[n].ID = fmt.Sprint(a.ID, "-", n)
		}
		d.Anchors, s.Anchors = append(d.Anchors, a), []string{a.ID}
		d.Strands = append(d.Strands, s)
		for _, id := range s.Ropes {
			item := g.Items[slices.IndexFunc(g.Items, func(o gear.Item) bool { return o.ID == id })]
			d.Include(&item, &g.Models[slices.IndexFunc(g.Models, func(m gear.Model) bool { return m.ID == item.Model })])
		}
	}
	d.Rescue.Sets = append(d.Rescue.Sets, 3)
	d.Strands[0].Marks, d.Strands[1].Marks = nil, nil
	return copyOf(t, d)
}

func itemOf(d *drop.Document, id string) *gear.Item {
	return &d.Items[slices.IndexFunc(d.Items, func(o gear.Item) bool { return o.ID == id })]
}

func modelOf(d *drop.Document, item string) *gear.Model {
	id := itemOf(d, item).Model
	return &d.Models[slices.IndexFunc(d.Models, func(m gear.Model) bool { return m.ID == id })]
}

// lacking takes what somebody carries of a class away.
func lacking(d *drop.Document, person int, classes ...gear.Class) {
	p := &d.People[person]
	p.Carries = slices.DeleteFunc(p.Carries, func(id string) bool { return slices.Contains(classes, modelOf(d, id).Class) })
}

func legsOf(d *drop.Document, anchor string, change func(*rig.Leg)) {
	a := &d.Anchors[slices.IndexFunc(d.Anchors, func(a rig.Anchor) bool { return a.ID == anchor })]
	for i := range a.Legs {
		change(&a.Legs[i])
	}
}

// edits are single changes of a drop whose rescue set covers: after each of the first the
// way on that set works no more, after the others it does as before.
var edits = map[string]struct {
	blocks bool
	change func(*drop.Document)
}{
	"the backup of the set ends in the air":        {true, func(d *drop.Document) { itemOf(d, "rope-4").LengthM = 50 }},
	"the main of the set ends in the air":          {true, func(d *drop.Document) { itemOf(d, "rope-3").LengthM = 50 }},
	"its descender takes thinner rope for two":     {true, func(d *drop.Document) { modesOf(d, "descender-22", 2, func(m *gear.Mode) { m.Ropes[0].MaxMM = 10 }) }},
	"its descender goes 20 m with two":             {true, func(d *drop.Document) { modesOf(d, "descender-22", 2, func(m *gear.Mode) { m.MaxDescentM = 20 }) }},
	"its descender goes 10 m alone":                {true, func(d *drop.Document) { modesOf(d, "descender-22", 1, func(m *gear.Mode) { m.MaxDescentM = 10 }) }},
	"its descender is rated to 165 kg":             {true, func(d *drop.Document) { modesOf(d, "descender-22", 2, func(m *gear.Mode) { m.MaxKg = 165 }) }},
	"its descender may work with 150 kg":           {true, func(d *drop.Document) { modelOf(d, "descender-22").WorkingLoads[1].Mass = 150 }},
	"its descender is not for 0.5 m/s":             {true, func(d *drop.Document) { modelOf(d, "descender-22").Device.MaxSpeedMS = 0.3 }},
	"its descender is just for 0.5 m/s":            {false, func(d *drop.Document) { modelOf(d, "descender-22").Device.MaxSpeedMS = 0.5 }},
	"its lanyards are just strong enough":          {false, func(d *drop.Document) { lanyards(d, 10) }},
	"its lanyards are not strong enough":           {true, func(d *drop.Document) { lanyards(d, 9.99) }},
	"the rescuer has no harness":                   {true, func(d *drop.Document) { d.People[2].Harness = "" }},
	"the rescuer's harness has no point for falls": {true, func(d *drop.Document) { pointless(d) }},
	"its descender is too hot with two from 39 m":  {true, func(d *drop.Document) { warms(d, 39) }},
	"its descender is just not too hot":            {false, func(d *drop.Document) { warms(d, 41) }},
	"a fall onto its backup is stopped hard":       {true, func(d *drop.Document) { stiff(d, 5) }},
	"a fall onto its backup is stopped early":      {false, func(d *drop.Document) { stiff(d, 2) }},
	"the rescuer's harness is overdue":             {true, func(d *drop.Document) { itemOf(d, d.People[2].Harness).ExaminedOn = "2024-01-01" }},
	"damage in the set, its knot beside it": {false, func(d *drop.Document) {
		d.Strands[5].Marks = []rig.Mark{{ID: "cut", Kind: rig.DamageMark, HeightM: 60}, {ID: "k", Kind: rig.KnotMark, HeightM: 60.5, Isolates: "cut", Eye: true}}
	}},
	"damage in the set, its knot far away": {true, func(d *drop.Document) {
		d.Strands[5].Marks = []rig.Mark{{ID: "cut", Kind: rig.DamageMark, HeightM: 60}, {ID: "k", Kind: rig.KnotMark, HeightM: 62, Isolates: "cut", Eye: true}}
	}},
	"its descender is in quarantine":       {true, func(d *drop.Document) { i := itemOf(d, "descender-22"); i.State, i.Reason = gear.Quarantine, "dropped" }},
	"its descender is overdue":             {true, func(d *drop.Document) { itemOf(d, "descender-22").ExaminedOn = "2024-01-01" }},
	"its backup device is retired":         {true, func(d *drop.Document) { i := itemOf(d, "backup-8"); i.State, i.Reason = gear.Retired, "worn" }},
	"its backup device takes thinner rope": {true, func(d *drop.Document) { modesOf(d, "backup-8", 1, func(m *gear.Mode) { m.Ropes[0].MaxMM = 10 }) }},
	"its backup device is rated to 50 kg":  {true, func(d *drop.Document) { modesOf(d, "backup-8", 1, func(m *gear.Mode) { m.MinKg, m.MaxKg = 1, 50 }) }},
	"a rope of the set is retired":         {true, func(d *drop.Document) { i := itemOf(d, "rope-3"); i.State, i.Reason = gear.Retired, "cut" }},
	"a rope of the set is overdue":         {true, func(d *drop.Document) { itemOf(d, "rope-4").ExaminedOn = "2024-01-01" }},
	"a rope of the set is too weak for two": {true, func(d *drop.Document) {
		m := *modelOf(d, "rope-3")
		m.ID, m.StrengthKN = "weak", 20
		d.Models = append(d.Models, m)
		itemOf(d, "rope-3").Model = "weak"
	}},
	"legs of the main anchor may bear 0.8 kN": {true, func(d *drop.Document) { legsOf(d, "third-main", func(l *rig.Leg) { l.WorkKN = 0.8 }) }},
	"legs of the backup anchor hold 4 kN":     {true, func(d *drop.Document) { legsOf(d, "third-backup", func(l *rig.Leg) { l.StrengthKN = 4 }) }},
	"both strands hang on one anchor":         {true, func(d *drop.Document) { d.Strands[5].Anchors = d.Strands[4].Anchors }},
	"damage in the main of the set": {true, func(d *drop.Document) {
		d.Strands[4].Marks = []rig.Mark{{ID: "cut", Kind: rig.DamageMark, HeightM: 20}}
	}},
	"damage in the backup of the set, above": {true, func(d *drop.Document) {
		d.Strands[5].Marks = []rig.Mark{{ID: "cut", Kind: rig.DamageMark, HeightM: 60}}
	}},
	"a knot below in both strands of the set": {true, func(d *drop.Document) {
		d.Strands[4].Marks, d.Strands[5].Marks = []rig.Mark{{ID: "k", Kind: rig.KnotMark, HeightM: 20}}, []rig.Mark{{ID: "l", Kind: rig.KnotMark, HeightM: 21}}
	}},
	"a knot below in the main of the set alone": {false, func(d *drop.Document) { d.Strands[4].Marks = []rig.Mark{{ID: "k", Kind: rig.KnotMark, HeightM: 20}} }},
	"somebody works on the set": {true, func(d *drop.Document) {
		d.People[1].Holds[0].Strand, d.People[1].Holds[1].Strand = "rescue-main", "rescue-backup"
	}},
	"no lanyard for the casualty":                 {true, func(d *drop.Document) { lacking(d, 2, gear.Lanyard) }},
	"no connectors":                               {true, func(d *drop.Document) { lacking(d, 2, gear.Connector) }},
	"no descender":                                {true, func(d *drop.Document) { lacking(d, 2, gear.Descender) }},
	"no link for the backup device":               {true, func(d *drop.Document) { lacking(d, 2, gear.Absorber) }},
	"the casualty hangs in what grips, no pulley": {true, func(d *drop.Document) { d.Rescue.On = "chest-ascender"; lacking(d, 2, gear.Pulley) }},
	"the casualty is heavy":                       {true, func(d *drop.Document) { d.People[0].MassKg = 180 }},
	"the casualty's own strands are hurt above": {false, func(d *drop.Document) {
		d.Strands[0].Marks = append(d.Strands[0].Marks, rig.Mark{ID: "cut", Kind: rig.DamageMark, HeightM: 55})
	}},
	"the casualty hangs on one anchor": {false, func(d *drop.Document) { d.Strands[1].Anchors = d.Strands[0].Anchors }},
	"damage below the casualty": {false, func(d *drop.Document) {
		d.Strands[1].Marks = append(d.Strands[1].Marks, rig.Mark{ID: "cut", Kind: rig.DamageMark, HeightM: 9})
	}},
	"another order of what is carried": {false, func(d *drop.Document) { slices.Reverse(d.People[2].Carries); slices.Reverse(d.People[0].Carries) }},
	"another name":                     {false, func(d *drop.Document) { d.Name, d.People[2].Name = "Another", "Somebody" }},
	"the casualty's rope is overdue":   {false, func(d *drop.Document) { itemOf(d, "rope-17").ExaminedOn = "2024-01-01" }},
	"a lesser descender is carried first": {false, func(d *drop.Document) {
		m, i := *modelOf(d, "descender-22"), *itemOf(d, "descender-22")
		device := *m.Device
		device.Modes = slices.Clone(device.Modes)
		for n := range device.Modes {
			device.Modes[n].MaxKg = 165
		}
		m.ID, m.Device, i.ID, i.Label, i.Serial, i.Model = "a-lesser", &device, "descender-99", "descender 99", "99", "a-lesser"
		d.Models, d.Items = append(d.Models, m), append(d.Items, i)
		d.People[2].Carries = slices.Insert(d.People[2].Carries, 0, i.ID)
	}},
	"a longer, weaker lanyard is carried first": {false, func(d *drop.Document) {
		i := *itemOf(d, "lanyard-6")
		m := *modelOf(d, "lanyard-6")
		m.ID, m.StrengthKN, m.LengthM, i.ID, i.Label, i.Serial, i.Model = "a-weak-one", 4, 2.5, "lanyard-99", "lanyard 99", "99", "a-weak-one"
		d.Models, d.Items = append(d.Models, m), append(d.Items, i)
		d.People[2].Carries = slices.Insert(d.People[2].Carries, 0, i.ID)
	}},
	"a sling too short to reach is carried first": {false, func(d *drop.Document) {
		i, m := *itemOf(d, "lanyard-6"), *modelOf(d, "lanyard-6")
		m.ID, m.LengthM, i.ID, i.Label, i.Serial, i.Model = "a-short-one", 0.05, "lanyard-97", "lanyard 97", "97", "a-short-one"
		d.Models, d.Items = append(d.Models, m), append(d.Items, i)
		d.People[2].Carries = slices.Insert(d.People[2].Carries, 0, i.ID)
	}},
	"a weak connector is carried first": {false, func(d *drop.Document) {
		m, i := *modelOf(d, "connector-75"), *itemOf(d, "connector-75")
		m.ID, m.StrengthKN, i.ID, i.Label, i.Serial, i.Model = "a-weak", 2, "connector-199", "connector 199", "199", "a-weak"
		d.Models, d.Items = append(d.Models, m), append(d.Items, i)
		d.People[2].Carries = slices.Insert(d.People[2].Carries, 0, i.ID)
	}},
}

// pointless takes the points for falls from the harness of the one who comes.
func pointless(d *drop.Document) {
	m := *modelOf(d, d.People[2].Harness)
	h := *m.Harness
	h.Points = slices.Clone(h.Points)
	for i := range h.Points {
		h.Points[i].FallArrest = false
	}
	m.ID, m.Harness = "pointless", &h
	d.Models = append(d.Models, m)
	itemOf(d, d.People[2].Harness).Model = m.ID
}

// warms gives the descender of the one who comes a mass at which both may go down so far, by
// the heat that its ropes' sheaths stand; nothing of it is given off.
func warms(d *drop.Document, metres float64) {
	m := modelOf(d, "descender-22")
	m.Device.Heat = &gear.DeviceHeat{SpecificHeat: 900, Share: 0.5}
	room := float64(modelOf(d, "rope-3").Rope.SheathLimitC) - 20
	m.MassG = quantity.Grams(0.5 * float64(d.People[0].MassKg+d.People[2].MassKg) * 9.80665 * metres / 900 / room * 1000)
}

// stiff makes the ropes hardly stretch and the absorbers soon used up; backup devices lock after so
// many metres.
func stiff(d *drop.Document, locks quantity.Metres) {
	for i := range d.Models {
		m := &d.Models[i]
		switch {
		case m.Rope != nil:
			m.Rope.ElongationPct = 0.8
		case m.Absorber != nil:
			m.Absorber.MaxM = 0.1
		case m.Backup != nil:
			m.Backup.LockDistanceM = locks
		}
	}
}

// lanyards gives the lanyards of the one who comes a strength, in times of a casualty.
func lanyards(d *drop.Document, times quantity.Kilonewtons) {
	for _, id := range d.People[2].Carries {
		if modelOf(d, id).Class != gear.Lanyard {
			continue
		}
		m := *modelOf(d, id)
		m.ID, m.StrengthKN = "of-"+id, quantity.Weight(d.People[0].MassKg)*times
		d.Models = append(d.Models, m)
		itemOf(d, id).Model = m.ID
	}
}

func modesOf(d *drop.Document, item string, persons int, change func(*gear.Mode)) {
	m := modelOf(d, item)
	for i := range m.Device.Modes {
		if m.Device.Modes[i].Persons == persons || persons == 1 {
			m.Device.Modes[i].Ropes = slices.Clone(m.Device.Modes[i].Ropes)
			change(&m.Device.Modes[i])
		}
	}
}

// ways are those to somebody at a height, as they are written.
func waysOf(t testing.TB, env ask.Env, d *drop.Document, person string, at quantity.Metres) []node {
	t.Helper()
	asked := ask.RescueAsked{Drop: *d, Person: person, AtM: &at}
	out, err := asked.Answer(t.Context(), env)
	if err != nil {
		t.Fatal(err)
	}
	return written(t, out, map[string]bool{}).get("ways").list()
}

func onSet(ways []node, set float64) node {
	for _, w := range ways {
		if w.get("set").num() == set && w.get("rescuer").text() == "dov" {
			return w
		}
	}
	return node{}
}

// Whatever a rescue depends on blocks it when it alone is changed, and the reader refuses
// the answer from before as one planted wrongly; what it does not depend on changes
// nothing.
func TestSingleEdits(t *testing.T) {
	env := ask.NewEnv()
	sound := onSet(waysOf(t, env, withSet(t), "ivo", 40), 3)
	if !sound.get("works").yes() {
		t.Fatal(sound.v)
	}
	for _, name := range slices.Sorted(maps.Keys(edits)) {
		e := edits[name]
		d := withSet(t)
		e.change(d)
		now := onSet(waysOf(t, env, copyOf(t, d), "ivo", 40), 3)
		if now.get("works").yes() == e.blocks {
			t.Errorf("%s: works %v, %s", name, now.get("works").yes(), now.get("blocked").text())
		}
		r := &reader{written(t, d, map[string]bool{})}
		read := now
		if e.blocks {
			read = sound
		}
		if refused := r.wrong(read, "ivo", 40); (refused != "") != e.blocks {
			t.Errorf("%s: the reader says %q", name, refused)
		}
		if wrong, _ := r.untrue(now, "ivo", 40); wrong != "" {
			t.Errorf("%s: it is not so that %s", name, wrong)
		}
	}
}

// ignored are the written parts of a drop that the reader does not look at, each because it
// decides nothing of what the reader claims.
var ignored = strings.Fields(`
	format version site name note checks partner_checks policy geometry/top_m geometry/top_name geometry/landing_name geometry/offset_m geometry/ledges geometry/edges/id geometry/edges/name geometry/edges/protection
	geometry/edges/height_m anchors/name anchors/x_m anchors/legs/id anchors/legs/elongation_pct strands/name strands/marks/name strands/marks/eye
	items/label items/serial items/place items/condition items/made_on items/first_used_on items/reason items/owner items/colour
	models/length_m models/maker models/name models/generation models/source models/cautions models/standards models/life models/hitch models/pulley models/connector models/absorber/max_kg models/absorber/min_kg models/harness/points/point
	models/backup/kind models/backup/links/max_m models/backup/lock_speed_m_s models/backup/drag_N models/backup/parks models/backup/unpark_before_descent models/evacuation/speed_m_s models/evacuation/one_shot
	models/rope/mass_g_per_m models/rope/sheath models/rope/diameter_mm
	models/device/connectors_in_hole models/device/control_edge models/device/friction models/device/lever_reach_m models/device/modes/needs models/device/opens_on_connector
	models/device/positions models/device/rope_effects models/device/sides models/device/slip_kN models/device/teeth models/device/thumb_release models/device/wear_limits models/device/wrong_loading models/device/looks
	people/at_m people/familiar people/grounded people/holds/above_m people/holds/id people/holds/leaves people/holds/mode people/holds/point people/holds/position people/holds/threaded
	people/holds/links
	rescue/conscious rescue/phones rescue/rescuers rescue/sets team/kit team/load`)

// Ways of rescue on drops that are right and wrong in many things, walked by a reader that
// shares no code with the engine: none that is said to work is refuted, no reason untrue.
func TestWaysReadByAnother(t *testing.T) {
	r := chance.Rand(7, 21)
	env := ask.NewEnv()
	worked, reasons, unread := 0, 0, map[string]int{}
	seen, every := map[string]bool{}, map[string]bool{}
	for range *rigs {
		d := withSet(t)
		spoilt(r, d)
		if r.IntN(3) == 0 {
			lastResort(r, d)
		}
		at := quantity.Metres(2 + r.IntN(66))
		read := &reader{written(t, d, seen)}
		read.doc.every(every)
		for _, who := range []string{"ivo", "rhea"} {
			for i, w := range waysOf(t, env, d, who, at) {
				if w.get("works").yes() {
					worked++
					if w.get("kind").text() == "evacuate" {
						stepsOfLast(t, env, d, ask.RescueAsked{Person: who, AtM: &at, Way: i}, w.get("words").text())
					}
					if wrong := read.wrong(w, who, float64(at)); wrong != "" {
						t.Errorf("%s to %s at %v is said to work: %s", w.get("words").text(), who, at, wrong)
					}
					continue
				}
				_ = read.wrong(w, who, float64(at)) // it reads what the way depends on
				wrong, known := read.untrue(w, who, float64(at))
				if wrong != "" {
					t.Errorf("%s to %s at %v: it is not so that %s", w.get("words").text(), who, at, wrong)
				}
				if reasons++; !known {
					unread[w.get("blocked").text()]++
				}
			}
		}
	}
	t.Logf("%d ways that work, %d reasons; not read: %v", worked, reasons, unread)
	if worked < *rigs/4 || reasons < *rigs {
		t.Errorf("%d ways that work, %d reasons", worked, reasons)
	}
	for _, path := range slices.Sorted(maps.Keys(every)) {
		listed := slices.ContainsFunc(ignored, func(p string) bool { return path == "/"+p || strings.HasPrefix(path, "/"+p+"/") })
		if !seen[path] && !listed {
			t.Errorf("%s is written and not read, and not listed", path)
		}
	}
}

// Ways of rescue on made-up drops, their plans, moves past what is in the way, steps of a
// last resort and of the team, gear and cover are what they were.
func TestRescueCorpus(t *testing.T) {
	var lines []string
	env := ask.NewEnv()
	for n := range 24 {
		r := rand.New(rand.NewPCG(72, uint64(n)))
		d := withSet(t)
		if n%4 > 0 {
			spoilt(r, d)
		}
		if n%3 == 0 {
			give(d, demo.Gear(), "dov", "evacuation-1")
		}
		if n%5 == 0 {
			give(d, demo.Gear(), "dov", "descender-21", "backup-9", "absorber-11")
			plain(d)
		}
		low(d)
		at := quantity.Metres(2 + r.IntN(20))
		asked := ask.RescueAsked{Drop: *d, Person: []string{"ivo", "rhea"}[n%2], AtM: &at}
		for asked.Way = 0; asked.Way < 5; asked.Way++ {
			out, err := asked.Answer(t.Context(), env)
			if err != nil {
				break // there is no such way
			}
			out.Expanded = 0 // what is known already counts nothing
			w := out.Ways[asked.Way]
			lines = append(lines, corpus.Line(t, fmt.Sprintf("%03d %s at %v", n, asked.Person, at), fmt.Sprintf("%s works %v", w.Kind, w.Works), out))
		}
	}
	corpus.Same(t, "testdata/rescues.corpus", lines)
}

// plain gives the one who comes a second descender that needs no bend.
func plain(d *drop.Document) {
	m, i := *modelOf(d, "descender-22"), *itemOf(d, "descender-22")
	device := *m.Device
	device.Modes = slices.Clone(device.Modes)
	for n := range device.Modes {
		device.Modes[n].Needs = ""
	}
	m.ID, m.Device, i.ID, i.Label, i.Serial, i.Model = "z-plain", &device, "descender-98", "descender 98", "98", "z-plain"
	d.Models, d.Items = append(d.Models, m), append(d.Items, i)
	d.People[2].Carries = append(d.People[2].Carries, i.ID)
}

// low makes a drop a third as high, so that its cover is soon looked at.
func low(d *drop.Document) {
	d.Geometry.TopM, d.Geometry.Edges[0].HeightM = 24, 23
	for i := range d.Anchors {
		if d.Anchors[i].HeightM > 70 {
			d.Anchors[i].HeightM = 24.8
		}
	}
	for i := range d.Strands {
		for j := range d.Strands[i].Marks {
			m := &d.Strands[i].Marks[j]
			m.HeightM = 2 + quantity.Metres(math.Mod(float64(m.HeightM), 20))
		}
		itemOf(d, d.Strands[i].Ropes[0]).LengthM /= 2
		d.Strands[i].LoopsM /= 2
	}
	for i := range d.People {
		d.People[i].AtM = min(24, d.People[i].AtM/3)
		if d.People[i].Grounded {
			d.People[i].AtM = 24
		}
	}
}

// spoilt makes some things of a drop wrong, or other than they were.
func spoilt(r *rand.Rand, d *drop.Document) {
	one := func(n int) bool { return r.IntN(n) == 0 }
	for i := range d.Strands {
		s := &d.Strands[i]
		if one(12) {
			itemOf(d, s.Ropes[0]).LengthM = quantity.Metres(40 + r.IntN(60))
		}
		if one(16) {
			itemOf(d, s.Ropes[0]).MeasuredMM = quantity.Millimetres(90+r.IntN(35)) / 10
		}
		if one(30) {
			itemOf(d, s.Ropes[0]).ExaminedOn = "2024-01-01"
		}
		if one(5) {
			s.Marks = append(s.Marks, rig.Mark{ID: fmt.Sprint("knot-", i), Kind: rig.KnotMark, HeightM: quantity.Metres(3 + r.IntN(50))})
		}
		if one(12) {
			s.Marks = append(s.Marks, rig.Mark{ID: fmt.Sprint("cut-", i), Kind: rig.DamageMark, HeightM: quantity.Metres(3+r.IntN(50)) + 0.5})
		}
	}
	for _, a := range []string{"third-main", "third-backup", "crest-main"} {
		if one(14) {
			legsOf(d, a, func(l *rig.Leg) { l.WorkKN = quantity.Kilonewtons(5+r.IntN(20)) / 10 })
		}
	}
	for _, id := range []string{"descender-22", "backup-8", "descender-17"} {
		if one(16) {
			itemOf(d, id).ExaminedOn = "2024-01-01"
		}
		if one(6) {
			modesOf(d, id, 2, func(m *gear.Mode) { m.MaxKg = quantity.Kilograms(140 + r.IntN(80)) })
		}
		if one(8) {
			modesOf(d, id, 2, func(m *gear.Mode) { m.Ropes[0].MaxMM = quantity.Millimetres(100+r.IntN(20)) / 10 })
		}
	}
	for i := range d.People {
		d.People[i].MassKg = quantity.Kilograms(60 + r.IntN(60))
		if one(3) {
			r.Shuffle(len(d.People[i].Carries), func(a, b int) { c := d.People[i].Carries; c[a], c[b] = c[b], c[a] })
		}
		if one(8) {
			lacking(d, i, []gear.Class{gear.Lanyard, gear.Connector, gear.Pulley, gear.FootLoop, gear.HandAscender}[r.IntN(5)])
		}
	}
	if one(6) {
		d.Strands[4].Anchors = d.Strands[5].Anchors
	}
	d.Rescue.On = []string{"", "", "chest-ascender", "backup"}[r.IntN(4)]
	d.Rescue.Conscious = one(2)
	if one(3) {
		d.Rescue.Rescuers[0].From = "landing"
	}
	if one(3) {
		braked(r, d)
	}
}

// lastResort gives one or two people a kit, for more or less than the drop and its people.
func lastResort(r *rand.Rand, d *drop.Document) {
	give(d, demo.Gear(), "dov", "evacuation-1")
	m := modelOf(d, "evacuation-1")
	kit := *m.Evacuation
	kit.MaxKg, kit.MaxM = quantity.Kilograms(70+r.IntN(60)), d.Geometry.TopM+quantity.Metres(r.IntN(5)-1)
	m.Evacuation = &kit
	second, i := *m, *itemOf(d, "evacuation-1")
	other := *second.Evacuation
	other.MinKg, other.MaxKg = kit.MaxKg-10, kit.MaxKg+40
	second.ID, second.Evacuation, i.ID, i.Label, i.Serial, i.Model = "another-kit", &other, "evacuation-9", "another kit", "9", "another-kit"
	if r.IntN(4) == 0 {
		i.ExaminedOn = "2024-01-01"
	}
	d.Models, d.Items = append(d.Models, second), append(d.Items, i)
	who := r.IntN(3)
	d.People[who].Carries = append(d.People[who].Carries, i.ID)
}

// braked lets the strands of a set run through brakes at the anchors.
func braked(r *rand.Rand, d *drop.Document) {
	set := r.IntN(3)
	give(d, demo.Gear(), "", "brake-1", "brake-2", "grab-1", "hitch-1", "pulley-3", "connector-85", "connector-86")
	d.Team = &rig.TeamRig{
		Load: rig.TeamLoad{Name: "a casualty", MassKg: 90, Persons: 1}, Main: rig.TeamLine{Strand: d.Strands[2*set].ID, Brake: "brake-1"}, Belay: rig.TeamLine{Strand: d.Strands[2*set+1].ID, Brake: "brake-2"},
		Operators: []string{"one", "two"}[:1+r.IntN(2)], Haulers: r.IntN(4), Kit: []string{"grab-1", "hitch-1", "pulley-3", "connector-85", "connector-86"},
	}
	for i := range 2 {
		n := r.IntN(100)
		if n%5 == 0 { // somebody of the drop is at a brake
			d.Team.Operators[0] = d.People[n%3].Name
		}
		d.Strands[2*set+i].LoopsM = quantity.Metres(n)
		itemOf(d, d.Strands[2*set+i].Ropes[0]).LengthM += d.Strands[2*set+i].LoopsM
	}
}
