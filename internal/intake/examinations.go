package intake

import (
	"cmp"
	"encoding/json"
	"errors"
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/tabular"
)

// Examinations gives thorough examinations by a table, as entries to record; those that stand
// already are the same. An item may be named by id, by label or by code. Source says where the
// table comes from: what was looked at point by point stands there. Batch is of all of them.
func Examinations(s *tabular.Sheet, said Mapping, items []gear.Item, standing []ExaminedThen, batch, source string) (list []Entry, all []record.Entry, mapping Mapping, err error) {
	list, mapping, err = entries(s, examinationColumns, said, func(map[string]any) (any, *FieldFault) { return nil, nil })
	if err != nil {
		return nil, nil, nil, err
	}
	byName := itemNames(items)
	key := func(item string, on gear.Date, by string, x *record.Examined, note string) string {
		return strings.Join([]string{item, string(on), by, x.Result, note, x.ReadingsText()}, "\n")
	}
	stands := map[string][]gear.Date{}
	for i := range standing {
		e := &standing[i]
		k := key(e.Says.Item, e.Says.Day, cmp.Or(e.Says.Examined.Examiner, e.By), e.Says.Examined, e.Says.Note)
		stands[k] = append(stands[k], e.Says.Examined.AgainBy, e.NextDue)
	}
	for n := range list {
		e := &list[n]
		e.Faults = slices.DeleteFunc(e.Faults, func(f FieldFault) bool { return f.Field == "id" }) // an item has several
		if len(e.Faults) > 0 {
			continue
		}
		r, err := e.examination(byName, batch, source)
		if err != nil {
			return nil, nil, nil, err
		}
		if len(e.Faults) > 0 {
			continue
		}
		k := key(r.Item, r.Day, r.Examined.Examiner, r.Examined, r.Note)
		due, there := stands[k]
		again := r.Examined.AgainBy
		switch {
		case there && again != "" && !slices.Contains(due, again):
			e.Faults = append(e.Faults, FieldFault{"next_due", "it is there, due again on another day: correct that record"})
		case there:
			e.State = "same"
		default:
			e.State, stands[k] = "new", []gear.Date{again}
			all = append(all, *r)
		}
	}
	return list, all, mapping, nil
}

// examination reads a row.
func (e *Entry) examination(byName names, batch, source string) (*record.Entry, error) {
	var row struct {
		Item     string    `json:"item"`
		On       gear.Date `json:"on"`
		By       string    `json:"by"`
		Result   string    `json:"result"`
		NextDue  gear.Date `json:"next_due"`
		Note     string    `json:"note"`
		Readings string    `json:"readings"`
	}
	if err := json.Unmarshal(e.Value, &row); err != nil {
		return nil, err
	}
	e.named(byName, "item", row.Item)
	for _, f := range []struct{ field, value string }{{"on", string(row.On)}, {"by", row.By}} {
		if f.value == "" {
			e.Faults = append(e.Faults, FieldFault{f.field, "missing"})
		}
	}
	x := &record.Examined{Batch: batch, Result: row.Result, Examiner: row.By, Source: source}
	if x.Fit() {
		x.AgainBy = row.NextDue
	}
	var err error
	if x.Readings, err = record.ReadReadings(row.Readings); err != nil {
		e.Faults = append(e.Faults, FieldFault{"readings", err.Error()})
	}
	text, _ := json.Marshal(x)
	var refused *strict.Error
	if errors.As(strict.Read(text, new(record.Examined)), &refused) {
		for _, f := range refused.Faults {
			field := strings.TrimPrefix(f.Pointer, "/")
			if strings.HasPrefix(field, "readings") {
				field = "readings"
			}
			e.Faults = append(e.Faults, FieldFault{cmp.Or(map[string]string{"again_by": "next_due", "examiner": "by"}[field], field), f.Detail})
		}
	}
	return &record.Entry{Kind: record.Examination, Day: row.On, Item: e.ID, Note: row.Note, Examined: x}, nil
}
