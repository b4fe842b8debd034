package cover

import (
	"cmp"
	"fmt"
	"slices"

	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
)

// Way is one way to somebody at a height, with its times or what blocks it.
type Way struct {
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
	Across bool `json:"across,omitempty" doc:"the rescuer's descender runs on the backup strand"`
	// NoStrap: the chain is of connectors alone, so that a lanyard is left for the way down.
	NoStrap bool     `json:"no_strap,omitempty" doc:"the chain is of connectors alone"`
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

func (w *Way) phase(name, who string, s float64, source string, past ...string) {
	w.Phases = append(w.Phases, Phase{name, who, s, source, past})
	w.Seconds += s
}

func (w *Way) block(format string, args ...any) {
	if w.Blocked == "" || w.Undecided {
		w.Blocked, w.Undecided = fmt.Sprintf(format, args...), false
	}
}

// stop blocks a way for what stops it, if anything does.
func (w *Way) stop(s stopped) {
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

func (w *Way) rank() float64 {
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

// Ways are all ways to somebody at a height, the best first.
func (pl *Planner) Ways(person string, at quantity.Metres) []Way {
	h := pl.casualty(person)
	if h == nil {
		return []Way{}
	}
	list := pl.ways(h, stance.ToCm(at))
	for i := range list {
		w := &list[i]
		w.Why = why(w, i, list)
	}
	return list
}

func (pl *Planner) ways(h *casualty, at stance.Cm) []Way {
	list := make([]Way, 0, 8)
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
	slices.SortStableFunc(list, func(a, b Way) int { return cmp.Compare(a.rank(), b.rank()) })
	return list
}

func why(w *Way, i int, list []Way) string {
	switch {
	case !w.Works:
		return ""
	case w.Last:
		return "a last resort: only with a medical go-ahead, other ways used up"
	case i == 0 && w.Prepared:
		return "rigged beforehand: nothing is improvised while somebody hangs"
	case i == 0 && slices.ContainsFunc(list, func(o Way) bool { return o.Works && !o.Last && o.Seconds < w.Seconds }):
		return "nothing is to be said against it; what is faster has a note"
	case i == 0:
		return "the shortest time to the landing of those that work"
	}
	return ""
}

func (pl *Planner) begin(w *Way) {
	alarm := pl.alarm()
	w.phase("alarm", "everybody", alarm.S, alarm.Source)
}

// Wait is how long passes before somebody is at work, and where that is from.
type Wait struct {
	Person string  `json:"person,omitempty" doc:"of a walk"`
	S      float64 `json:"s"`
	Source string  `json:"source"`
}

// Waits are until the alarm is raised and until each rescuer is at the strands.
func (pl *Planner) Waits() (alarm Wait, walks []Wait) {
	for _, c := range pl.rescuers {
		walks = append(walks, pl.wait(c))
	}
	return pl.alarm(), walks
}

func (pl *Planner) alarm() Wait {
	if pl.setup.AlarmS > 0 {
		return Wait{S: pl.setup.AlarmS, Source: "entered for this drop"}
	}
	return Wait{S: *pl.in.Policy.AlarmS, Source: "policy"}
}

func (pl *Planner) wait(c *rescuer) Wait {
	switch {
	case c.conf.WalkS > 0:
		return Wait{c.ID, c.conf.WalkS, "entered for " + c.Name}
	case c.hangs():
		return Wait{c.ID, 0, "on the strands already"}
	}
	return Wait{c.ID, *pl.in.Policy.WalkS, "policy"}
}
