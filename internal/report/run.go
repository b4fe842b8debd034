package report

import (
	"cmp"
	"encoding/csv"
	"fmt"
	"io"
	"strconv"
	"time"

	"zealousknot/internal/core/run"
	"zealousknot/internal/tabular"
)

// Run is the log of a run, to be printed.
func Run(drop, day string, d *run.Document, st *run.State, at *time.Location) *List {
	l := &List{Title: "Run: " + drop, About: []string{fmt.Sprintf("%s, %s; %d events.", day, st.Phase, st.Events), "Plan, SHA-256: " + d.Plan, "Events, SHA-256: " + st.Seal}}
	if d.Exercise {
		l.Title = "EXERCISE. " + l.Title
		l.About = append([]string{"EXERCISE: nothing of it is counted or learnt."}, l.About...)
	}
	if e := d.Entered; e != nil {
		l.About = append(l.About, fmt.Sprintf("Entered after: typed by %s at %s, with the times that were marked.", e.By, inZone(e.At, at)))
	}
	events := ListPart{Heading: "What was given", Widths: []float64{20, 32, 34, 94}, Head: []string{"at", "by", "what", ""}, Empty: "Nothing was given."}
	list, _ := run.InOrder(d.Events)
	for i := range list {
		e := &list[i]
		events.Rows = append(events.Rows, []string{e.At().In(at).Format("15:04:05"), e.By, string(e.Kind), eventWords(d, e)})
	}
	odd := ListPart{Heading: "Conflicts and addenda", Widths: []float64{20, 32, 128}, Head: []string{"at", "by", "what"}, Empty: "None."}
	for _, n := range append(append([]run.Note{}, st.Conflicts...), st.Addenda...) {
		odd.Rows = append(odd.Rows, []string{inZone(n.At, at), n.By, n.Words})
	}
	moves := ListPart{Heading: "Steps, planned and real", Widths: []float64{40, 80, 30, 30}, Head: []string{"move", "step", "planned, s", "real, s"}, Empty: "No step has a time."}
	for i := range st.Moves {
		for _, t := range st.Moves[i].Taken {
			moves.Rows = append(moves.Rows, []string{st.Moves[i].Name, fmt.Sprintf("%d, %s", t.Step, t.Do), fmt.Sprintf("%.0f", t.PlannedS), fmt.Sprintf("%.0f", t.RealS)})
		}
	}
	counted := ListPart{Heading: "Counted", Widths: []float64{80, 34, 33, 33}, Head: []string{"of", "down", "up", "on the rope"}, Empty: "Nothing is counted."}
	for _, c := range st.Counters {
		low := ""
		if c.Low {
			low = " (heights are missing: errs low)"
		}
		counted.Rows = append(counted.Rows, []string{cmp.Or(nameOn(d, c.Person), c.Item) + low, c.DownM.String(), c.UpM.String(), fmt.Sprintf("%.2f h", c.HoursH)})
	}
	l.Parts = []ListPart{events, odd, moves, counted}
	return l
}

// RunSheet is what hangs where the run is led from: the briefing, who is on it and how they are
// reached, and the steps of its moves with their calls. It is printed before the run, and says
// nothing of what happened.
func RunSheet(drop, day string, d *run.Document, st *run.State, at *time.Location) *List {
	l := &List{Title: "Run sheet: " + drop, About: []string{day + ". Voice stops work; this sheet replaces no call, and no answer means stop.", "Plan, SHA-256: " + d.Plan}}
	if d.Exercise {
		l.Title = "EXERCISE. " + l.Title
	}
	brief := ListPart{Heading: "Briefing", Widths: []float64{180}, Head: []string{"hazards and rescue as the plan has them"}, Empty: "No briefing is written."}
	if b := st.Briefing; b != nil {
		until := b.Until
		if until != "" {
			until = inZone(until, at)
		}
		shown := *b
		shown.Until = until
		for _, words := range briefingWords(&shown) {
			brief.Rows = append(brief.Rows, []string{words})
		}
	}
	people := ListPart{Heading: "Who, and how they are reached", Widths: []float64{40, 24, 86, 30}, Head: []string{"who", "at", "if they stop moving: everybody else secures, then", "signed"}, Empty: "Nobody is on the drop."}
	for i := range d.People {
		p := &d.People[i]
		how := "NOTHING WAS PLANNED"
		if r := d.Planned(p); r != nil {
			how = joined(": ", r.State, r.Words)
			if r.ToldS > 0 {
				how += fmt.Sprintf(", %.0f min from the alarm to the landing", r.ToldS/60)
			}
		}
		people.Rows = append(people.Rows, []string{p.Name, p.AtM.String(), how, ""})
	}
	l.Parts = []ListPart{brief, people}
	for i := range d.Moves {
		m := &d.Moves[i]
		part := ListPart{Heading: "Steps: " + m.Name, Widths: []float64{10, 100, 40, 20, 10}, Head: []string{"", "step", "call, answer", "planned", ""}}
		for n, s := range m.Steps {
			part.Rows = append(part.Rows, []string{strconv.Itoa(n + 1), s.Say, joined(", ", s.Call, s.Answer), fmt.Sprintf("%.0f s", s.Seconds), ""})
		}
		l.Parts = append(l.Parts, part)
	}
	if len(d.Unplanned) > 0 {
		part := ListPart{Heading: "Not planned", Widths: []float64{180}, Head: []string{"what"}}
		for _, u := range d.Unplanned {
			part.Rows = append(part.Rows, []string{u})
		}
		l.Parts = append(l.Parts, part)
	}
	return l
}

func nameOn(d *run.Document, person string) string {
	for i := range d.People {
		if d.People[i].ID == person {
			return d.People[i].Name
		}
	}
	return person
}

func eventWords(d *run.Document, e *run.Event) string {
	words := []string{nameOn(d, e.Person)}
	if e.AtM != nil {
		words = append(words, "at "+e.AtM.String())
	}
	if e.Move != "" {
		words = append(words, e.Move)
	}
	if e.Step > 0 {
		words = append(words, "step "+strconv.Itoa(e.Step))
	}
	words = append(words, e.Items...)
	if b := e.Briefing; b != nil {
		words = append(words, briefingWords(b)...)
	}
	return joined(", ", append(words, e.Reason)...)
}

// briefingWords are what a briefing says, part by part.
func briefingWords(b *run.Briefing) (words []string) {
	for _, part := range [][2]string{{"permit ", b.Permit}, {"until ", b.Until}, {"kept clear: ", b.Exclusion}, {"sentry: ", b.Sentry}, {"channel: ", b.Channel}, {"lost contact: ", b.Lost}} {
		if part[1] != "" {
			words = append(words, part[0]+part[1])
		}
	}
	for _, c := range b.CheckIns {
		words = append(words, fmt.Sprintf("%s checks in every %.0f min", c.Person, c.EveryS/60))
	}
	return append(words, b.Points...)
}

func inZone(at string, zone *time.Location) string {
	t, err := time.Parse(time.RFC3339Nano, at)
	if err != nil {
		return at
	}
	return t.In(zone).Format("15:04:05")
}

// RunCSV writes the events of a run in order.
func RunCSV(w io.Writer, d *run.Document) error {
	c := csv.NewWriter(w)
	c.UseCRLF = true
	rows := [][]string{{"id", "at", "given_at", "offset_s", "device", "by", "kind", "person", "at_m", "move", "step", "items", "reason"}}
	list, _ := run.InOrder(d.Events)
	for i := range list {
		e := &list[i]
		height, step := "", ""
		if e.AtM != nil {
			height = strconv.FormatFloat(float64(*e.AtM), 'g', -1, 64)
		}
		if e.Step > 0 {
			step = strconv.Itoa(e.Step)
		}
		rows = append(rows, []string{e.ID, e.At().UTC().Format(time.RFC3339Nano), e.GivenAt, strconv.FormatFloat(e.OffsetS, 'g', -1, 64), tabular.Plain(e.Device), tabular.Plain(e.By), string(e.Kind), e.Person, height, e.Move, step, joined(" ", e.Items...), tabular.Plain(e.Reason)})
	}
	if err := c.WriteAll(rows); err != nil {
		return err
	}
	return c.Error()
}
