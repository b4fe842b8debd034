package record

import (
	"crypto/sha256"
	"fmt"
	"strings"

	"zealousknot/internal/core/care"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/strict"
)

// What a recall asks for.
const (
	RecallStop    = "stop"
	RecallInspect = "inspect"
	RecallInform  = "information"
)

// Recalled is a notice about things of a model: by serials, by lots, or made between two days,
// else all of them.
type Recalled struct {
	Model   string    `json:"model" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Asks    string    `json:"asks" enum:"stop,inspect,information" doc:"inspect: before the next use; stop and inspect put what is affected into quarantine"`
	Source  string    `json:"source" minLength:"1" maxLength:"120" doc:"whose notice, with its number and date"`
	Serials []string  `json:"serials,omitempty" maxItems:"2000" minLength:"1" maxLength:"80" doc:"in place of days; compared without spaces, hyphens and case"`
	Lots    []string  `json:"lots,omitempty" maxItems:"200" minLength:"1" maxLength:"80" doc:"in place of serials and days; what has no lot is affected"`
	From    gear.Date `json:"from,omitempty" format:"date" doc:"made on this day or later; what has no day of manufacture is affected"`
	To      gear.Date `json:"to,omitempty" format:"date" doc:"made on this day or earlier"`
}

// Of is what the notice is about.
func (r *Recalled) Of() care.Recall {
	return care.Recall{Model: r.Model, Serials: r.Serials, Lots: r.Lots, From: r.From, To: r.To}
}

func (e *Entry) judgeRecall(f *Facts, at string, p *strict.Faults) {
	e.notLater(f, at, p)
	r := e.Recall
	if r == nil {
		return
	}
	at += "/recall"
	if f.Model == nil {
		p.Addf(at+"/model", "no model %q in the store", r.Model)
	}
	switch days := r.From != "" || r.To != ""; {
	case len(r.Serials) > 0 && (days || len(r.Lots) > 0):
		p.Addf(at+"/serials", "either serials, lots or days of manufacture")
	case len(r.Lots) > 0 && days:
		p.Addf(at+"/lots", "either serials, lots or days of manufacture")
	case r.From != "" && r.To != "" && r.To < r.From:
		p.Addf(at+"/to", "is before %s", r.From)
	}
}

// judgeAcknowledgement wants a recall that stands, read once by each.
func (e *Entry) judgeAcknowledgement(f *Facts, at string, p *strict.Faults) {
	switch c := f.Confirmed; {
	case e.Confirms == "":
		p.Addf(at+"/confirms", "missing")
	case c == nil:
		p.Addf(at+"/confirms", "no such record")
	case c.Kind != RecallNotice:
		p.Addf(at+"/confirms", "a %s is not acknowledged", c.Kind)
	}
}

// StopsFor is the quarantine of one of the items that a recall affects; nil where it only
// informs. Its id comes from the recall's and the item's.
func (e *Entry) StopsFor(item string) *Entry {
	if e.Recall == nil || e.Recall.Asks == RecallInform {
		return nil
	}
	note := "recall"
	if e.Recall.Asks == RecallInspect {
		note = "inspect before use"
	}
	return e.stops(item, "recall", strings.TrimSuffix(fmt.Sprintf("%s: %s; %s", note, e.Recall.Source, e.Note), "; "))
}

// stops is the quarantine of one of several items that an entry stops.
func (e *Entry) stops(item, event, note string) *Entry {
	sum := sha256.Sum256([]byte(e.ID + " of " + item))
	sum[6], sum[8] = sum[6]&0x0f|0x80, sum[8]&0x3f|0x80
	return &Entry{
		ID: FormatUUID(UUID(sum[:16])), Kind: Quarantine, GivenAt: e.GivenAt, Day: e.Day, Item: item, Note: cutOff(note),
		Quarantine: &Quarantined{Event: event},
	}
}
