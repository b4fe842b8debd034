package callout

import (
	"cmp"
	"slices"
	"time"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/strict"
)

// A Document is a callout as it is kept while it runs: what is known, the times that were
// marked, and why somebody went on in spite of what was found. Several devices write it; Merge
// puts them together.
type Document struct {
	Format  string `json:"format" enum:"callout" doc:"always: callout"`
	Version int    `json:"version" minimum:"1" maximum:"1"`
	Name    string `json:"name" minLength:"1" maxLength:"80"`
	// Preplan is the id of the pre-plan that was taken.
	Preplan  string    `json:"preplan,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Day      gear.Date `json:"day" format:"date"`
	BeganAt  string    `json:"began_at" format:"date-time"`
	Exercise bool      `json:"exercise,omitempty" doc:"nothing of it enters a counter or what is learnt"`
	Known    Known     `json:"known"`
	// KnownAt is when it was last changed: the later word stands.
	KnownAt string `json:"known_at" format:"date-time"`
	// Used is the rig as the card showed it when a time was marked last.
	Used    *Used    `json:"used,omitempty" doc:"the rig as the card showed it when a time was marked last"`
	Marks   []Mark   `json:"marks,omitempty" maxItems:"500"`
	Reasons []Reason `json:"reasons,omitempty" maxItems:"200"`
}

// Mark is a time that was marked.
type Mark struct {
	ID    string `json:"id" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$"`
	At    string `json:"at" format:"date-time"`
	What  What   `json:"what" enum:"arrived,ready,over-edge,at-load,down,up,handed-over,ended,other"`
	Words string `json:"words,omitempty" maxLength:"200"`
	By    string `json:"by" minLength:"1" maxLength:"80"`
}

// What a time was marked for.
type What string

// What times are marked for, in the order of a callout.
const (
	Arrived    What = "arrived"
	Ready      What = "ready"
	OverEdge   What = "over-edge"
	AtLoad     What = "at-load"
	Down       What = "down"
	Up         What = "up"
	HandedOver What = "handed-over"
	Ended      What = "ended"
	OtherMark  What = "other"
)

// Text is a mark in words.
func (m *Mark) Text() string {
	words := map[What]string{
		Arrived: "first on scene", Ready: "rigged and proved", OverEdge: "over the edge", AtLoad: "at the casualty", Down: "down at the landing", Up: "up at the top",
		HandedOver: "handed over", Ended: "stood down",
	}[m.What]
	switch {
	case words == "":
		return cmp.Or(m.Words, "time marked")
	case m.Words != "":
		return words + ": " + m.Words
	}
	return words
}

// Reason is why the leader went on in spite of a finding.
type Reason struct {
	ID      string `json:"id" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$"`
	At      string `json:"at" format:"date-time"`
	Rule    string `json:"rule" minLength:"1" maxLength:"60"`
	Subject string `json:"subject" maxLength:"80"`
	Words   string `json:"words" minLength:"1" maxLength:"200"`
	By      string `json:"by" minLength:"1" maxLength:"80"`
}

// Read reads a callout strictly.
func Read(data []byte) (*Document, error) {
	d := new(Document)
	if err := strict.Read(data, d); err != nil {
		return nil, err
	}
	var faults strict.Faults
	d.Known.Validate("/known", &faults)
	for i := range d.Marks {
		if slices.ContainsFunc(d.Marks[:i], func(m Mark) bool { return m.ID == d.Marks[i].ID }) {
			faults.Addf(strict.Pointer("marks", i, "id"), "is there twice")
		}
	}
	for i := range d.Reasons {
		if slices.ContainsFunc(d.Reasons[:i], func(r Reason) bool { return r.ID == d.Reasons[i].ID }) {
			faults.Addf(strict.Pointer("reasons", i, "id"), "is there twice")
		}
	}
	return d, faults.Err()
}

// Merge takes in what another device has of the same callout: its marks and reasons, each once,
// and what is known where that is the later word. A mark that is there stays as it came first;
// what the callout began as stays. The order in which devices come changes nothing, but for
// two words of one time, of which the first stands.
func (d *Document) Merge(o *Document) *Document {
	m := *d
	if timeOf(o.KnownAt).After(timeOf(d.KnownAt)) {
		m.Known, m.KnownAt, m.Name, m.Preplan = o.Known, o.KnownAt, o.Name, o.Preplan
	}
	m.Marks, m.Reasons = slices.Clone(d.Marks), slices.Clone(d.Reasons)
	if o.Used != nil && o.lastMark().After(d.lastMark()) || m.Used == nil {
		m.Used = o.Used
	}
	for _, k := range o.Marks {
		if !slices.ContainsFunc(m.Marks, func(h Mark) bool { return h.ID == k.ID }) {
			m.Marks = append(m.Marks, k)
		}
	}
	for _, k := range o.Reasons {
		if !slices.ContainsFunc(m.Reasons, func(h Reason) bool { return h.ID == k.ID }) {
			m.Reasons = append(m.Reasons, k)
		}
	}
	slices.SortStableFunc(m.Marks, func(a, b Mark) int { return cmp.Or(timeOf(a.At).Compare(timeOf(b.At)), cmp.Compare(a.ID, b.ID)) })
	slices.SortStableFunc(m.Reasons, func(a, b Reason) int {
		return cmp.Or(timeOf(a.At).Compare(timeOf(b.At)), cmp.Compare(a.ID, b.ID))
	})
	return &m
}

// Signed is what a device gave with everything that is new against what was known signed by who
// sends it: nobody marks a time in the name of somebody else. Was is nil where nothing was known.
func (d *Document) Signed(was *Document, by string) *Document {
	m := *d
	m.Marks, m.Reasons = slices.Clone(d.Marks), slices.Clone(d.Reasons)
	for i := range m.Marks {
		if k := &m.Marks[i]; was == nil || !slices.ContainsFunc(was.Marks, func(h Mark) bool { return h.ID == k.ID }) {
			k.By = by
		}
	}
	for i := range m.Reasons {
		if k := &m.Reasons[i]; was == nil || !slices.ContainsFunc(was.Reasons, func(h Reason) bool { return h.ID == k.ID }) {
			k.By = by
		}
	}
	return &m
}

// lastMark is when a time was marked last.
func (d *Document) lastMark() (at time.Time) {
	for i := range d.Marks {
		if t := timeOf(d.Marks[i].At); t.After(at) {
			at = t
		}
	}
	return at
}

func timeOf(text string) time.Time {
	t, _ := time.Parse(time.RFC3339Nano, text)
	return t
}

// First is when something was marked first; ok is false where it never was.
func (d *Document) First(what What) (at time.Time, ok bool) {
	for i := range d.Marks {
		if t := timeOf(d.Marks[i].At); d.Marks[i].What == what && (!ok || t.Before(at)) {
			at, ok = t, true
		}
	}
	return at, ok
}

// Last is when something was marked last.
func (d *Document) Last(what What) (at time.Time, ok bool) {
	for i := range d.Marks {
		if t := timeOf(d.Marks[i].At); d.Marks[i].What == what && (!ok || t.After(at)) {
			at, ok = t, true
		}
	}
	return at, ok
}

// Began is when the callout came.
func (d *Document) Began() time.Time { return timeOf(d.BeganAt) }
