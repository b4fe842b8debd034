package report

import (
	"fmt"
	"io"
	"strings"
	"time"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/team"
	"zealousknot/internal/picture"
)

// TeamSheet is what a team hangs up at the top: its rig with what it bears, who stands
// where, the calls, and the steps of a move.
type TeamSheet struct {
	Team, Drop, Site, Day string
	Load                  string
	// Cautions are those of the instructions of what is in use.
	Cautions []string
	Figures  *team.Figures
	Calls    []rig.TeamCall
	// Plan is a move; nil for none. Impossible says why there is none.
	Plan       *team.Plan
	Impossible string
	// Knots are those that the rig and the plan are tied with.
	Knots     []picture.KnotDrawn
	Printed   time.Time
	PrintedBy string
}

// Write writes the sheet as "pdf" or "svg".
func (s *TeamSheet) Write(w io.Writer, kind string) error {
	return print(w, kind, fmt.Sprintf("Team at %s for %s", s.Drop, s.Day), s.Printed, s.draw)
}

func (s *TeamSheet) draw(f *flow) {
	f.words(margin, width, 16, true, s.Drop)
	f.words(margin, width, 9, false, strings.TrimPrefix(s.Site+" · ", " · ")+"team rig for "+s.Day+" · "+s.Team)
	f.words(margin, width, 9, false, fmt.Sprintf("%s, %.2f kN. Longest drop and margins below; nothing here says that a rig is safe.", s.Load, s.Figures.Lowering.WeightKN))
	s.pictures(f)
	s.found(f)
	s.bears(f)
	s.places(f)
	s.steps(f)
	f.knots(s.Knots)
	f.cautions(s.Cautions)
	f.y += 2
	f.words(margin, width, 8, false, fmt.Sprintf("Printed %s for %s.", clock(s.Printed), s.PrintedBy))
}

// pictures are the rig while lowering, and while raising, side by side.
func (s *TeamSheet) pictures(f *flow) {
	f.y += 4
	top, low := f.y, f.y
	put := func(words string, b *team.Built, left, wide float64) {
		f.text(left, top, 9, true, words)
		d := picture.Forces(b, true, s.Figures.Weakest())
		scale := min(wide/d.Width, 78/d.Height)
		f.drawing(d, left, top+3, scale)
		low = max(low, top+3+scale*d.Height)
	}
	put("Lowering, while it moves", s.Figures.Lowering, margin, 78)
	if h := s.Figures.Hauling; h != nil {
		put("Raising, while it moves", h, margin+86, width-86)
	}
	f.y = low + 2
}

func (s *TeamSheet) found(f *flow) {
	if len(s.Figures.Found) == 0 {
		return
	}
	f.heading("Found on the rig")
	var rows [][]string
	for _, x := range s.Figures.Found {
		if x.Severity != finding.Note {
			rows = append(rows, []string{strings.ToUpper(string(x.Severity)), x.What, x.Remedy})
		}
	}
	f.columns([]float64{14, 100, width - 114}, rows)
}

// bears are the figures that are called for at the top.
func (s *TeamSheet) bears(f *flow) {
	f.heading("What it bears and asks for")
	var rows [][]string
	for i, l := range s.Figures.Loads {
		if i < 3 && l.Margin > 0 {
			rows = append(rows, []string{"margin", fmt.Sprintf("%s: %v %s, %s times; required: %s", l.Label, l.LoadKN, l.While, quantity.Text(l.Margin), quantity.Text(l.Wanted))})
		}
	}
	for _, b := range s.Figures.Brakes {
		if b.Known && b.Best >= 0 {
			a := b.Adds[b.Best]
			rows = append(rows, []string{"brake hand", fmt.Sprintf("%s (%s), %s: %v", b.Label, b.Line, a.Words, a.HandKN)})
		}
	}
	if h := s.Figures.Hauling; h != nil && h.Haul != nil {
		rows = append(rows, []string{"haul", fmt.Sprintf("%s. All pull %v, %s; caught, the load line sees %v to %v.", strings.ReplaceAll(h.Text, "\n", "; "), h.Haul.HandKN, quantity.Count(h.Haul.Needed).Of("hauler"), h.Jam.LineKN, h.Jam.CeilingKN)})
	}
	for _, c := range s.Figures.Changes {
		rows = append(rows, []string{"change of ratio", fmt.Sprintf("%v: from %d:1 to %d:1; %s", c.AtM, c.From, c.To, c.Why)})
	}
	for _, k := range s.Figures.Knots {
		rows = append(rows, []string{"knot", fmt.Sprintf("%s, %v from the load: stop with the load at %v, the knot %v short of the brake; settles %v; the hitch must let out %v and lets out %v. Before: %s.",
			k.Line, k.KnotM, k.AtM, k.LeftM, k.SettleM, k.NeedsM, k.HasM, strings.Join(k.Before, "; "))})
	}
	for _, c := range s.Figures.Crosses {
		if c.AtM != nil {
			rows = append(rows, []string{"schools", fmt.Sprintf("%v: %s", *c.AtM, c.Words)})
		}
	}
	f.columns([]float64{28, width - 28}, rows)
}

func (s *TeamSheet) places(f *flow) {
	f.heading("Who stands where")
	var rows [][]string
	for _, r := range s.Figures.Roles {
		hands := r.Place
		for _, more := range [][2]string{{"paying out: ", r.Out}, {"taking in: ", r.In}, {"sees: ", r.Sees}} {
			if more[1] != "" {
				hands += ". " + more[0] + more[1]
			}
		}
		rows = append(rows, []string{r.Who, r.At, hands})
	}
	f.columns([]float64{36, 18, width - 54}, rows)
}

func (s *TeamSheet) steps(f *flow) {
	if s.Plan == nil {
		if s.Impossible != "" {
			f.heading("No way: " + s.Impossible)
		}
		return
	}
	f.heading(fmt.Sprintf("%s: %s, about %.0f s, longest drop of any one failure %v", strings.ReplaceAll(s.Plan.Move, "-", " "), quantity.Count(len(s.Plan.Steps)).Of("step"), s.Plan.Seconds, s.Plan.WorstM))
	var rows [][]string
	for i, st := range s.Plan.Steps {
		call := ""
		if st.Call != "" {
			call = fmt.Sprintf("“%s” – “%s”", st.Call, st.Answer)
		}
		rows = append(rows, []string{fmt.Sprint(i + 1), call, st.Who, st.Say})
	}
	f.columns([]float64{8, 40, 34, width - 82}, rows)
}
