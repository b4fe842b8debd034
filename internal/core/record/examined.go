package record

import (
	"fmt"
	"slices"
	"strconv"
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
	// Source is the paper or table that it was taken from: nobody looked at points here.
	Source string `json:"source,omitempty" maxLength:"120" doc:"paper or table that it was taken from, where what was looked at stands; then points are left out and examiner is given"`
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
	Part string               `json:"part" minLength:"1" maxLength:"80"`
	MM   quantity.Millimetres `json:"mm" exclusiveMinimum:"0" maximum:"500"`
}

// ReadingsText are the readings as files for exchange have them: groove_mm=1.2;post_mm=7.9.
func (x *Examined) ReadingsText() string {
	list := make([]string, len(x.Readings))
	for i, r := range x.Readings {
		list[i] = strings.ReplaceAll(r.Part, " ", "_") + "_mm=" + strconv.FormatFloat(float64(r.MM), 'f', -1, 64)
	}
	return strings.Join(list, ";")
}

// ReadReadings reads what ReadingsText writes.
func ReadReadings(text string) (list []PartReading, err error) {
	for part := range strings.SplitSeq(text, ";") {
		if part = strings.TrimSpace(part); part == "" {
			continue
		}
		name, figure, _ := strings.Cut(part, "=")
		name, isMM := strings.CutSuffix(strings.TrimSpace(name), "_mm")
		mm, err := strconv.ParseFloat(strings.TrimSpace(figure), 64)
		if !isMM || name == "" || err != nil {
			return nil, fmt.Errorf("%q: a reading is written groove_mm=1.2", part)
		}
		list = append(list, PartReading{strings.ReplaceAll(name, "_", " "), quantity.Millimetres(mm)})
	}
	return list, nil
}

// Stops reports whether the item is out of service from then on.
func (x *Examined) Stops() bool { return x.Result == ToQuarantine || x.Result == ToRetire }

// Fit reports whether the item was found fit for use, with an observation or without.
func (x *Examined) Fit() bool { return x.Result == Fit || x.Result == Observed }

func partNames(parts []gear.WearPart) string {
	names := make([]string, len(parts))
	for i := range parts {
		names[i] = parts[i].Part
	}
	return strings.Join(names, ", ")
}

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
		// A part that is spelt in another way than on the leaflet would be held against no limit.
		parts := f.Model.WearParts()
		if len(parts) > 0 && !slices.ContainsFunc(parts, func(w gear.WearPart) bool { return w.Part == r.Part }) {
			p.Addf(fmt.Sprintf("%s/readings/%d/part", at, i), "%q is none of the parts that the leaflet limits: %s", r.Part, partNames(parts))
		}
		for _, w := range parts {
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
	case x.Source != "":
		if len(x.Points) > 0 {
			p.Addf(at+"/points", "what was taken from elsewhere has none")
		}
		if strings.TrimSpace(x.Examiner) == "" {
			p.Addf(at+"/examiner", "missing: who examined it")
		}
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
			why = append(why, strings.TrimSpace(care.PointTitle(r.Point)+" "+r.Note))
		}
	}
	if e.Note != "" {
		why = append(why, e.Note)
	}
	return &Entry{
		ID: derived(e.ID), Kind: Quarantine, GivenAt: e.GivenAt, Day: e.Day, Item: e.Item, Note: cutOff(strings.Join(why, "; ")),
		Quarantine: &Quarantined{Event: "failed-check", Kept: x.Kept},
	}
}

// Why says what happened and where the item is kept, as its event has it.
func (e *Entry) Why() string {
	if e.Quarantine == nil || e.Quarantine.Kept == "" {
		return e.Note
	}
	return cutOff(strings.TrimPrefix(e.Note+"; kept at "+e.Quarantine.Kept, "; "))
}

// cutOff shortens a text to the longest note, in bytes.
func cutOff(note string) string {
	const longest = 380
	if len(note) > longest {
		note = strings.ToValidUTF8(note[:longest], "")
	}
	return note
}
