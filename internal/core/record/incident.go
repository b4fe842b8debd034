package record

import (
	"encoding/json"
	"fmt"
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// Happened is an incident, or a near miss. Beside what it names it is about all that its drop
// has.
type Happened struct {
	Kind   string   `json:"kind" enum:"incident,near-miss"`
	What   string   `json:"what" minLength:"3" maxLength:"4000" doc:"what happened, as it was seen"`
	People []string `json:"people,omitempty" maxItems:"100" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"who was there"`
	Items  []string `json:"items,omitempty" maxItems:"500" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"what was there"`
	// Run is the id of the run in which it happened.
	Run string `json:"run,omitempty" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$" doc:"id of the run in which it happened: it is kept as far as it had come"`
	// Stop are those of the items that nobody may use until they are checked.
	Stop  []string `json:"stop,omitempty" maxItems:"500" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"items that go into quarantine"`
	Event string   `json:"event,omitempty" enum:"shock-load,dropped,heat,chemical,edge" doc:"what happened to what is stopped"`
	// In are those who hung on what is stopped, or held it; nil: all who were there.
	In []string `json:"in,omitzero" maxItems:"100" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"who hung on what is stopped, or held it: somebody else brings it back; left out: all of people"`
}

// Frozen is what an incident was about, as it was when it was recorded.
type Frozen struct {
	// Version and Document are of the drop, State of its plan.
	Version  int             `json:"version,omitempty"`
	Document json.RawMessage `json:"document,omitempty"`
	Items    []gear.Item     `json:"items"`
	People   []rig.Member    `json:"people"`
	// Run is the run with its events as far as it had come; RunSHA256 is over them, as in the
	// record that seals it.
	Run       json.RawMessage `json:"run,omitempty"`
	RunEvents int             `json:"run_events,omitempty" doc:"how many events had been given"`
	RunSHA256 string          `json:"run_sha256,omitempty" doc:"over them"`
}

// judgeIncident wants what it names to be there, each once, and what is stopped to be in
// service or stopped already.
func (e *Entry) judgeIncident(f *Facts, at string, p *strict.Faults) {
	e.notLater(f, at, p)
	if e.Drop != "" && f.DropDay == "" {
		p.Addf(at+"/drop", "no drop %q", e.Drop)
	}
	h := e.Incident
	if h == nil {
		return
	}
	at += "/incident"
	if h.Run != "" && !f.Runs[h.Run] {
		p.Addf(at+"/run", "no run %q", h.Run)
	}
	each := func(name string, ids []string, there func(id string) bool) {
		for i, id := range ids {
			switch where := fmt.Sprintf("%s/%s/%d", at, name, i); {
			case slices.Contains(ids[:i], id):
				p.Addf(where, "%q is given twice", id)
			case !there(id):
				p.Addf(where, "no %q in the team or its store", id)
			}
		}
	}
	each("people", h.People, func(id string) bool { return f.Present[id] != nil })
	each("in", h.In, func(id string) bool { return f.Present[id] != nil })
	item := func(id string) bool { return f.Counted[id] != nil }
	each("items", h.Items, item)
	each("stop", h.Stop, item)
	if (len(h.Stop) > 0) != (h.Event != "") {
		p.Addf(at+"/event", "belongs to what is stopped, and that needs it")
	}
	if len(h.Stop) == 0 && h.In != nil {
		p.Addf(at+"/in", "belongs to what is stopped")
	}
}

// StopsIn is the quarantine of an item that an incident stops.
func (e *Entry) StopsIn(item string) *Entry {
	kind := "near miss"
	if e.Incident.Kind == "incident" {
		kind = e.Incident.Kind
	}
	stop := e.stops(item, e.Incident.Event, kind+": "+e.Incident.What)
	in := e.Incident.People
	if e.Incident.In != nil {
		in = e.Incident.In
	}
	if len(in) > 0 {
		stop.Quarantine.In, stop.Quarantine.Others = in[0], in[1:]
	}
	return stop
}
