package report

import (
	"fmt"
	"io"
	"math"
	"strings"
	"time"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/cover"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// RescueSheet is the rescue plan that hangs at the top: who, what, how, whom to call.
type RescueSheet struct {
	Team, Drop, Site, Day string
	Rescue                *rig.Rescue
	Answer                *ask.RescueAnswer
	// Person and AtM are whose plan it is, Way which of the ways; no height: the cover
	// alone.
	Person string
	AtM    *quantity.Metres
	Way    int
	// Cautions are those of the instructions of what is in use.
	Cautions  []string
	Printed   time.Time
	PrintedBy string
}

// medical stands on every plan of a rescue.
const medical = "A casualty hanging still is a medical emergency: call at once. Medical decisions belong to a medical provider."

// Write writes the plan as "pdf" or "svg".
func (s *RescueSheet) Write(w io.Writer, kind string) error {
	return print(w, kind, fmt.Sprintf("Rescue at %s for %s", s.Drop, s.Day), s.Printed, s.draw)
}

func (s *RescueSheet) draw(f *flow) {
	f.words(margin, width, 16, true, "Rescue · "+s.Drop)
	f.words(margin, width, 9, false, strings.TrimPrefix(s.Site+" · ", " · ")+"for "+s.Day+" · "+s.Team)
	f.words(margin, width, 10, true, medical)
	s.phones(f)
	s.cover(f)
	s.way(f)
	f.cautions(s.Cautions)
	f.y += 2
	f.words(margin, width, 8, false, fmt.Sprintf("Printed %s for %s.", clock(s.Printed), s.PrintedBy))
}

func (s *RescueSheet) phones(f *flow) {
	f.heading("Call")
	rows := [][]string{}
	for _, p := range s.Rescue.Phones {
		number := p.Number
		if number == "" {
			number = strings.Repeat("_", 34)
		}
		rows = append(rows, []string{p.Who, number})
	}
	if len(rows) == 0 {
		rows = [][]string{{"medical provider", strings.Repeat("_", 34)}, {"site", strings.Repeat("_", 34)}}
	}
	f.columns([]float64{60, width - 60}, rows)
}

// cover is a bar for each person, from the landing to the top.
func (s *RescueSheet) cover(f *flow) {
	c := s.Answer.Cover
	f.heading("Who is reached where")
	n := len(c.Heights)
	if n == 0 {
		return
	}
	left, wide := margin+40.0, float64(width-46)
	for _, p := range c.People {
		f.need(8)
		f.short(margin, f.y+4, 39, 9, true, p.Name)
		from := 0
		for i := 1; i <= n; i++ {
			if i < n && p.States[i].State == p.States[from].State {
				continue
			}
			x, w := left+wide*float64(from)/float64(n), wide*float64(i-from)/float64(n)
			f.box(x, f.y, w, 5)
			if p.States[from].State != "covered" {
				for h := x + 1; h < x+w; h += 1.6 {
					f.line(h, f.y+5, min(h+3, x+w), f.y, 0.15, false)
				}
			}
			from = i
		}
		f.y += 7
	}
	f.text(left, f.y+2, 7, false, "landing")
	f.text(left+wide-12, f.y+2, 7, false, fmt.Sprintf("%v", c.Heights[n-1]))
	f.y += 4
	for _, line := range c.NotLookedAt {
		f.words(margin, width, 8, false, "Not looked at: "+line+".")
	}
	if len(c.Gaps) == 0 {
		f.words(margin, width, 9, false, fmt.Sprintf("Every metre is reached within %.0f minutes by what is planned.", s.Answer.LimitMin))
		return
	}
	var rows [][]string
	for _, g := range c.Gaps {
		rows = append(rows, []string{strings.ToUpper(g.State), fmt.Sprintf("%s, %v to %v", g.Name, g.FromM, g.ToM), strings.Join(g.Blocked, "; ")})
	}
	f.columns([]float64{24, 46, width - 70}, rows)
}

func (s *RescueSheet) way(f *flow) {
	if s.AtM == nil || s.Way >= len(s.Answer.Ways) {
		return
	}
	w := &s.Answer.Ways[s.Way]
	name := s.Person
	for _, p := range s.Answer.Cover.People {
		if p.Person == s.Person {
			name = p.Name
		}
	}
	f.heading(fmt.Sprintf("%s at %v: %s", name, *s.AtM, w.Words))
	if !w.Works {
		f.words(margin, width, 9, true, "BLOCKED: "+w.Blocked)
	}
	f.words(margin, width, 9, false, fmt.Sprintf("About %.0f minutes from when it happens; limit for hanging still %.0f minutes.", w.Seconds/60, s.Answer.LimitMin))
	if w.Why != "" {
		f.words(margin, width, 9, false, "Chosen for: "+w.Why+".")
	}
	f.y++
	s.timeline(f, w)
	for _, n := range w.Notes {
		f.words(margin, width, 9, false, "Note: "+n)
	}
	var rows [][]string
	if p := s.Answer.Plan; p != nil {
		for i, st := range p.Steps {
			call := ""
			if st.Call != "" {
				call = "“" + st.Call + "”"
			}
			rows = append(rows, []string{fmt.Sprint(i + 1), call, st.Say, st.Reason})
		}
		f.columns([]float64{8, 28, width - 96, 60}, rows)
	}
	s.passes(f)
	if p := s.Answer.Team; p != nil {
		for i, st := range p.Steps {
			call := ""
			if st.Call != "" {
				call = fmt.Sprintf("“%s” – “%s”", st.Call, st.Answer)
			}
			rows = append(rows, []string{fmt.Sprint(i + 1), call, st.Who, st.Say})
		}
		f.columns([]float64{8, 40, 34, width - 82}, rows)
	}
	s.other(f)
}

// passes are the moves of both past what is in the way down, and the steps of a last resort.
func (s *RescueSheet) passes(f *flow) {
	numbered := func(n int, say func(i int) string) {
		var rows [][]string
		for i := range n {
			rows = append(rows, []string{fmt.Sprint(i + 1), say(i)})
		}
		f.columns([]float64{8, width - 8}, rows)
	}
	for _, m := range s.Answer.Passes {
		f.heading(fmt.Sprintf("On the way down with both: %s, about %.0f minutes", strings.ReplaceAll(m.Move, "-", " "), math.Ceil(m.Seconds/60)))
		numbered(len(m.Steps), func(i int) string { return m.Steps[i].Say })
	}
	if last := s.Answer.Last; len(last) > 0 {
		numbered(len(last), func(i int) string { return last[i].Say })
	}
	if s.Answer.Impossible != "" {
		f.words(margin, width, 9, true, "NO PLAN: "+s.Answer.Impossible)
	}
}

// timeline is a bar for each phase against minutes.
func (s *RescueSheet) timeline(f *flow, w *cover.Way) {
	most := max(w.Seconds, s.Answer.LimitMin*60)
	left, wide, at := margin+46.0, float64(width-60), 0.0
	for _, p := range w.Phases {
		f.need(6)
		f.short(margin, f.y+3.6, 45, 8, false, p.Name+", "+p.Who)
		f.box(left+wide*at/most, f.y+0.6, max(0.6, wide*p.Seconds/most), 3.6)
		f.text(left+wide*(at+p.Seconds)/most+1, f.y+3.6, 7, false, fmt.Sprintf("%.1f min", p.Seconds/60))
		at += p.Seconds
		f.y += 5
	}
	x := left + wide*s.Answer.LimitMin*60/most
	f.line(x, f.y-5*float64(len(w.Phases)), x, f.y, 0.4, true)
	f.text(x-14, f.y+3, 7, true, fmt.Sprintf("limit %.0f min", s.Answer.LimitMin))
	f.y += 5
}

// other is the fall-back way, and the gear.
func (s *RescueSheet) other(f *flow) {
	for i := range s.Answer.Ways {
		if o := &s.Answer.Ways[i]; o.Works && i != s.Way {
			f.heading("If that does not work")
			f.words(margin, width, 9, false, fmt.Sprintf("%s: about %.0f minutes. %s", o.Words, o.Seconds/60, o.Why))
			break
		}
	}
	if len(s.Answer.Gear) > 0 {
		by := map[string][]string{}
		var who []string
		for _, g := range s.Answer.Gear {
			if by[g.Who] == nil {
				who = append(who, g.Who)
			}
			by[g.Who] = append(by[g.Who], g.What)
		}
		f.heading("Gear, and who has it")
		for _, n := range who {
			f.words(margin, width, 9, false, n+": "+strings.Join(by[n], ", "))
		}
	}
}
