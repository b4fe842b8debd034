package record_test

import (
	"errors"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/core/care"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
)

// listed is a model whose device lists the wear of a part more, and a part that the model has.
func listed(m *gear.Model) *gear.Model {
	with := *m
	with.Device = &gear.Device{WearLimits: []gear.WearLimit{{Part: "cam", LimitMM: 3, Deepens: true}, {Part: "post", LimitMM: 9}}}
	return &with
}

// What is called fit was looked at, point by point; what is not says why; each refusal names
// its place, and each has a sound neighbour.
func TestExamined(t *testing.T) {
	now := time.Date(2026, 11, 28, 9, 0, 0, 0, time.UTC)
	m := &gear.Model{ID: "connector-a", Class: gear.Connector, Wear: []gear.WearPart{{Part: "groove", LimitMM: 2, Grows: true}, {Part: "post", LimitMM: 8}}}
	every := func() []record.PointResult {
		var list []record.PointResult
		for _, p := range care.Points(m) {
			list = append(list, record.PointResult{Point: p.ID, Result: "pass"})
		}
		return list
	}
	fit := func(x *record.Examined) { x.Result, x.Points = record.Fit, every() }
	for name, c := range map[string]struct {
		change   func(e *record.Entry, f *record.Facts)
		at       string // of the refusal; empty: kept
		conflict string
	}{
		"all pass":           {func(e *record.Entry, _ *record.Facts) { fit(e.Examined) }, "", ""},
		"one point left out": {func(e *record.Entry, _ *record.Facts) { fit(e.Examined); e.Examined.Points = e.Examined.Points[1:] }, "/examined/points", ""},
		"left out of an interim look": {func(e *record.Entry, _ *record.Facts) {
			e.Kind = record.Inspection
			fit(e.Examined)
			e.Examined.Points = nil
		}, "", ""},
		"one fails, and it is fit": {func(e *record.Entry, _ *record.Facts) { fit(e.Examined); e.Examined.Points[2].Result = "fail" }, "/examined/points/2/result", ""},
		"one fails, and it is stopped": {func(e *record.Entry, _ *record.Facts) {
			fit(e.Examined)
			e.Examined.Points[2].Result = "fail"
			e.Examined.Result = record.ToQuarantine
		}, "", ""},
		"stopped for nothing":       {func(e *record.Entry, _ *record.Facts) { fit(e.Examined); e.Examined.Result = record.ToRetire }, "/examined/result", ""},
		"stopped with a note":       {func(e *record.Entry, _ *record.Facts) { e.Examined.Result, e.Note = record.ToRetire, "burnt" }, "", ""},
		"an observation of nothing": {func(e *record.Entry, _ *record.Facts) { fit(e.Examined); e.Examined.Result = record.Observed }, "/examined/result", ""},
		"an observation": {func(e *record.Entry, _ *record.Facts) {
			fit(e.Examined)
			e.Examined.Result = record.Observed
			e.Examined.Points[1].Result = "observation"
		}, "", ""},
		"not presented":                {func(e *record.Entry, _ *record.Facts) { e.Examined.Result = record.NotPresented }, "", ""},
		"not presented, and looked at": {func(e *record.Entry, _ *record.Facts) { fit(e.Examined); e.Examined.Result = record.NotPresented }, "/examined/result", ""},
		"a point of another class": {func(e *record.Entry, _ *record.Facts) {
			fit(e.Examined)
			e.Examined.Points = append(e.Examined.Points, record.PointResult{Point: "sheath", Result: "pass"})
		}, "/examined/points/5/point", ""},
		"a point twice": {func(e *record.Entry, _ *record.Facts) {
			fit(e.Examined)
			e.Examined.Points = append(e.Examined.Points, e.Examined.Points[0])
		}, "/examined/points/5/point", ""},
		"a part measured twice": {func(e *record.Entry, _ *record.Facts) {
			fit(e.Examined)
			e.Examined.Readings = []record.PartReading{{Part: "post", MM: 9}, {Part: "post", MM: 8.5}}
		}, "/examined/readings/1/part", ""},
		"a part of another name": {func(e *record.Entry, _ *record.Facts) {
			fit(e.Examined)
			e.Examined.Readings = []record.PartReading{{Part: "Post", MM: 7}}
		}, "/examined/readings/0/part", ""},
		"a part of a leaflet without limits": {func(e *record.Entry, f *record.Facts) {
			fit(e.Examined)
			f.Model = &gear.Model{Class: f.Model.Class}
			e.Examined.Readings = []record.PartReading{{Part: "Post", MM: 7}}
		}, "", ""},
		"worn to just before its limits": {func(e *record.Entry, _ *record.Facts) {
			fit(e.Examined)
			e.Examined.Readings = []record.PartReading{{Part: "groove", MM: 1.99}, {Part: "post", MM: 8.01}}
		}, "", ""},
		"worn to just before a limit that its device lists": {func(e *record.Entry, f *record.Facts) {
			fit(e.Examined)
			f.Model = listed(f.Model)
			e.Examined.Readings = []record.PartReading{{Part: "cam", MM: 2.99}, {Part: "post", MM: 8.01}}
		}, "", ""},
		"worn to a limit that its device lists": {func(e *record.Entry, f *record.Facts) {
			fit(e.Examined)
			f.Model = listed(f.Model)
			e.Examined.Readings = []record.PartReading{{Part: "cam", MM: 3}}
		}, "/examined/readings/0/mm", ""},
		"worn to a limit that is not passed": {func(e *record.Entry, _ *record.Facts) {
			fit(e.Examined)
			e.Examined.Readings = []record.PartReading{{Part: "groove", MM: 2}}
		}, "/examined/readings/0/mm", ""},
		"worn past a limit": {func(e *record.Entry, _ *record.Facts) {
			fit(e.Examined)
			e.Examined.Readings = []record.PartReading{{Part: "groove", MM: 1}, {Part: "post", MM: 7.9}}
		}, "/examined/readings/1/mm", ""},
		"worn, and stopped": {func(e *record.Entry, _ *record.Facts) {
			e.Examined.Result, e.Note, e.Examined.Readings = record.ToRetire, "worn", []record.PartReading{{Part: "post", MM: 7.9}}
		}, "", ""},
		"again by a day after":    {func(e *record.Entry, _ *record.Facts) { fit(e.Examined); e.Examined.AgainBy = "2026-11-29" }, "", ""},
		"again by the same day":   {func(e *record.Entry, _ *record.Facts) { fit(e.Examined); e.Examined.AgainBy = "2026-11-28" }, "/examined/again_by", ""},
		"kept apart, and fit":     {func(e *record.Entry, _ *record.Facts) { fit(e.Examined); e.Examined.Kept = "red box" }, "/examined/kept", ""},
		"by somebody who may not": {func(e *record.Entry, f *record.Facts) { fit(e.Examined); f.MayNotExamine = "no paper" }, "/item", ""},
		"of nothing":              {func(e *record.Entry, f *record.Facts) { fit(e.Examined); f.Item, f.Model = nil, nil }, "/item", ""},
		"on a day to come":        {func(e *record.Entry, _ *record.Facts) { fit(e.Examined); e.Day = "2026-11-30" }, "/day", ""},
		"without its part":        {func(e *record.Entry, _ *record.Facts) { e.Examined = nil }, "/examined", ""},
		"its part in another kind": {func(e *record.Entry, _ *record.Facts) {
			fit(e.Examined)
			e.Kind, e.Quarantine = record.Quarantine, &record.Quarantined{Event: "heat"}
		}, "/examined", ""},
		"in quarantine it stays there": {func(e *record.Entry, f *record.Facts) { fit(e.Examined); f.Item.State = gear.Quarantine }, "", "stays there"},
		"of what is retired": {func(e *record.Entry, f *record.Facts) {
			fit(e.Examined)
			f.Item.State, f.Item.Reason = gear.Retired, "cut"
		}, "", "retired already: cut"},
		"examined later since":          {func(e *record.Entry, f *record.Facts) { fit(e.Examined); f.Item.ExaminedOn = "2026-11-29" }, "", "examined later"},
		"examined earlier the same day": {func(e *record.Entry, f *record.Facts) { fit(e.Examined); f.Item.ExaminedOn = "2026-11-28" }, "", ""},
	} {
		e := &record.Entry{ID: "00000000-0000-4000-8000-000000000001", Kind: record.Examination, GivenAt: now.Format(time.RFC3339), Day: "2026-11-28", Item: "i", Examined: &record.Examined{Batch: "00000000-0000-4000-8000-000000000002"}}
		f := &record.Facts{Arrived: now, Sent: now, Item: &gear.Item{ID: "i", Label: "i", State: gear.InService, ExaminedOn: "2026-05-01"}, Model: m}
		c.change(e, f)
		var p strict.Faults
		conflict := f.Judge(e, "", &p)
		var refused *strict.Error
		if errors.As(p.Err(), &refused) {
			if c.at == "" || refused.Faults[0].Pointer != c.at {
				t.Errorf("%s: %v", name, refused)
			}
			continue
		}
		if c.at != "" || (conflict == "") != (c.conflict == "") || !strings.Contains(conflict, c.conflict) {
			t.Errorf("%s: kept, conflict %q", name, conflict)
		}
		next := e.FollowUps()
		if stops := e.Examined.Stops(); (len(next) == 1) != stops {
			t.Errorf("%s: followed by %+v", name, next)
		} else if stops && (next[0].Kind != record.Quarantine || next[0].Item != "i" || next[0].Note == "") {
			t.Errorf("%s: followed by %+v", name, next)
		}
	}
}
