package record

import (
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/care"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/strict"
)

// Results of an examination.
const (
	Fit          = "fit"
	Observed     = "observation"
	ToQuarantine = "quarantine"
	ToRetire     = "retire"
	NotPresented = "not-presented"
)

// Examined is a thorough examination, or an interim inspection, of an item.
type Examined struct {
	// Batch is of the session that it belongs to, made by the device.
	Batch    string        `json:"batch" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$" doc:"id of the session that it belongs to, made by the device"`
	Result   string        `json:"result" enum:"fit,observation,quarantine,retire,not-presented" doc:"retire: it is stopped, to be destroyed"`
	Points   []PointResult `json:"points,omitempty" maxItems:"40" doc:"each that was looked at; fit and observation want them all"`
	Readings []PartReading `json:"readings,omitempty" maxItems:"20"`
	// AgainBy is the examiner's own date.
	AgainBy gear.Date `json:"again_by,omitempty" format:"date" doc:"the day by which the examiner wants it again"`
	Colour  string    `json:"colour,omitempty" maxLength:"30" doc:"colour of the period that it was marked with"`
	// Examiner is who examined it where that is not who signs.
	Examiner string `json:"examiner,omitempty" maxLength:"80" doc:"from outside, who examined it; left out: who signs"`
	// Kept is where an item that is stopped is tagged and kept apart.
	Kept string `json:"kept,omitempty" maxLength:"80" doc:"of what is stopped: where it is tagged and kept apart"`
}

// PointResult is one point of an examination.
type PointResult struct {
	Point  string `json:"point" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Result string `json:"result" enum:"pass,observation,fail"`
	Note   string `json:"note,omitempty" maxLength:"200"`
}

// PartReading is a part as it was measured.
type PartReading struct {
	Part string               `json:"part" minLength:"1" maxLength:"40"`
	MM   quantity.Millimetres `json:"mm" exclusiveMinimum:"0" maximum:"500"`
}

// Stops reports whether the item is out of service from then on.
func (x *Examined) Stops() bool { return x.Result == ToQuarantine || x.Result == ToRetire }

// Fit reports whether the item was found fit for use, with an observation or without.
func (x *Examined) Fit() bool { return x.Result == Fit || x.Result == Observed }

// judgeExamined wants an item of the store, a signer who may, each point looked at before an
// item is called fit, and a reason for anything else.
func (e *Entry) judgeExamined(f *Facts, at string, p *strict.Faults) (conflict string) {
	e.wantItem(f, at, p)
	e.notLater(f, at, p)
	if f.MayNotExamine != "" {
		p.Addf(at+"/item", "%s", f.MayNotExamine)
	}
	x := e.Examined
	if x == nil || f.Item == nil || f.Model == nil {
		return ""
	}
	at += "/examined"
	e.judgePoints(f, at, p)
	if x.AgainBy != "" && (!x.Fit() || x.AgainBy <= e.Day) {
		p.Addf(at+"/again_by", "is a day after the examination, of an item that is fit for use")
	}
	if x.Kept != "" && !x.Stops() {
		p.Addf(at+"/kept", "belongs to an item that is stopped")
	}
	for i, r := range x.Readings {
		if slices.ContainsFunc(x.Readings[:i], func(o PartReading) bool { return o.Part == r.Part }) {
			p.Addf(fmt.Sprintf("%s/readings/%d/part", at, i), "%q is measured twice", r.Part)
		}
		for _, w := range f.Model.Wear {
			if w.Part == r.Part && w.Worn(r.MM) && x.Fit() {
				p.Addf(fmt.Sprintf("%s/readings/%d/mm", at, i), "%s is at the limit of the leaflet, %v, or past it: not fit for use", r.Part, w.LimitMM)
			}
		}
	}
	switch {
	case f.Item.State == gear.Retired:
		return "retired already: " + f.Item.Reason
	case f.Item.State == gear.Quarantine && x.Fit():
		return "it is in quarantine, and stays there: it comes back with a record of its own"
	case x.Fit() && e.Kind == Examination && e.Day < f.Item.ExaminedOn:
		return fmt.Sprintf("it was examined later, on %s", f.Item.ExaminedOn)
	}
	return ""
}

func (e *Entry) judgePoints(f *Facts, at string, p *strict.Faults) {
	x, points := e.Examined, care.Points(f.Model)
	looked := map[string]string{}
	noted := strings.TrimSpace(e.Note) != ""
	for i, r := range x.Points {
		where := fmt.Sprintf("%s/points/%d", at, i)
		switch {
		case looked[r.Point] != "":
			p.Addf(where+"/point", "%q is given twice", r.Point)
		case !slices.ContainsFunc(points, func(o care.ExaminationPoint) bool { return o.ID == r.Point }):
			p.Addf(where+"/point", "is no point of a %s", f.Model.Class.Words())
		}
		looked[r.Point] = r.Result
		if r.Result == "fail" && x.Fit() {
			p.Addf(where+"/result", "what fails is not fit for use")
		}
		noted = noted || r.Result != "pass"
	}
	switch {
	case x.Result == NotPresented && len(x.Points)+len(x.Readings) > 0:
		p.Addf(at+"/result", "what was looked at was presented")
	case x.Fit() && e.Kind == Examination:
		for _, o := range points {
			if looked[o.ID] == "" {
				p.Addf(at+"/points", "nobody looked at: %s", o.Text)
			}
		}
	}
	if !noted && (x.Result == Observed || x.Stops()) {
		p.Addf(at+"/result", "no point and no note says why")
	}
}

// stopsItem is the quarantine that follows from an examination.
func (e *Entry) stopsItem() *Entry {
	x := e.Examined
	why := []string{map[Kind]string{Examination: "thorough examination", Inspection: "interim inspection"}[e.Kind]}
	if x.Result == ToRetire {
		why[0] += ": to be destroyed"
	}
	for _, r := range x.Points {
		if r.Result == "fail" {
			why = append(why, strings.TrimSpace(r.Point+" "+r.Note))
		}
	}
	if e.Note != "" {
		why = append(why, e.Note)
	}
	if x.Kept != "" {
		why = append(why, "kept at "+x.Kept)
	}
	note := strings.Join(why, "; ")
	if len(note) > maxNote {
		note = strings.ToValidUTF8(note[:maxNote], "")
	}
	return &Entry{
		ID: derived(e.ID), Kind: Quarantine, GivenAt: e.GivenAt, Day: e.Day, Item: e.Item, Note: note,
		Quarantine: &Quarantined{Event: "failed-check"},
	}
}

// maxNote is the longest note, in bytes.
const maxNote = 380
