// Package intake turns the rows of a table into items and people, by the columns that a
// table may have, and back.
//
// It knows columns and what they are called. Whether a row is right is for the core to say,
// and what becomes of it for the store.
package intake

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/tabular"
)

// kind is how the cells of a column are read.
type kind int

const (
	text kind = iota
	number
	date
	// shown is written out and not read in: it follows from other columns.
	shown
)

// A column is one of a table, with what else people call it.
type column struct {
	name string
	kind kind
	also []string
}

// field is what the core calls what a column holds.
func (c column) field() string {
	if c.name == asideColumn {
		return asideField
	}
	return c.name
}

// What somebody reaches to the side has another name in tables than in documents.
const asideColumn, asideField = "reach_aside_m", "reach_out_m"

// Column is what a field of the core is called in tables.
func Column(field string) string {
	if field == asideField {
		return asideColumn
	}
	return field
}

// Columns of items and people, in the order in which they are written.
var (
	itemColumns = []column{
		{"code", shown, nil}, {"id", text, nil}, {"label", text, []string{"name", "designation", "item"}}, {"class", shown, nil}, {"model", text, []string{"type", "product"}},
		{"serial", text, []string{"serial number", "serial no", "sn", "number"}}, {"state", text, []string{"status"}}, {"reason", text, nil},
		{"made_on", date, []string{"made", "manufactured", "date of manufacture"}}, {"first_used_on", date, []string{"first use", "first used", "in use since"}},
		{"examined_on", date, []string{"examined", "last examination", "inspected"}}, {"next_examination_on", shown, nil}, {"end_of_life_on", shown, nil},
		{"owner", text, nil}, {"place", text, []string{"location", "store"}}, {"kit", text, []string{"set"}},
		{"length_m", number, []string{"length"}}, {"measured_mm", number, []string{"measured", "diameter"}}, {"condition", text, nil},
		{"lot", text, []string{"batch", "lot number", "batch number"}}, {"harsh_months", number, []string{"interval in harsh use"}},
		{"bought_on", date, []string{"bought", "purchased", "date of purchase"}}, {"marking", text, []string{"marks", "marked"}},
	}
	modelColumns = []column{
		{"id", text, nil}, {"class", text, []string{"kind"}}, {"maker", text, []string{"manufacturer", "make"}}, {"name", text, []string{"model"}}, {"generation", text, []string{"version"}},
		{"standards", shown, nil}, {"strength_kN", number, []string{"strength", "breaking strength"}}, {"wll_kN", shown, nil}, {"rope_min_mm", shown, nil}, {"rope_max_mm", shown, nil},
		{"life_years", shown, nil}, {"examination_months", number, []string{"examination interval"}}, {"source", text, []string{"leaflet"}},
	}
	eventColumns = []column{
		{"item", text, []string{"label", "id"}}, {"kind", text, []string{"event", "what happened"}}, {"happened", date, []string{"on", "date"}}, {"note", text, nil},
		{"checked_on", date, []string{"checked"}}, {"checked_by", text, nil},
	}
	examinationColumns = []column{
		{"item", text, []string{"label", "id"}}, {"on", date, []string{"date", "examined on"}}, {"by", text, []string{"examiner", "examined by"}}, {"result", text, nil},
		{"next_due", date, []string{"next", "again by", "next examination"}}, {"note", text, []string{"remarks"}}, {"readings", text, nil}, {"record", shown, nil},
	}
	hoursColumns = []column{
		{"person", text, []string{"name", "who"}}, {"on", date, []string{"date", "day"}}, {"hours", number, []string{"hours on rope", "time"}}, {"kind", text, []string{"work", "kind of work"}},
		{"drop", text, nil}, {"site", text, []string{"where", "place"}}, {"height_m", number, []string{"height"}}, {"note", text, nil}, {"signed_by", shown, nil},
		{"countersigned_by", shown, nil},
	}
	peopleColumns = []column{
		{"id", text, nil}, {"name", text, nil}, {"mass_kg", number, []string{"mass", "weight"}}, {"harness", text, nil},
		{"reach_up_m", number, []string{"reach up"}}, {asideColumn, number, []string{"reach out m", "reach out"}}, {"hand_mm", number, []string{"hand"}},
	}
)

// Fields are what a column of a table of a kind may be.
func Fields(kind string) (list []string) {
	for _, c := range map[string][]column{"models": modelColumns, "items": itemColumns, "people": peopleColumns, "events": eventColumns, "examinations": examinationColumns, "hours": hoursColumns}[kind] {
		if c.kind != shown {
			list = append(list, c.name)
		}
	}
	return list
}

// FieldFault is what is wrong with a field of a row.
type FieldFault struct {
	Field  string `json:"field"`
	Detail string `json:"detail"`
}

// Entry is a row of a table on its way in.
type Entry struct {
	// Row counts from 1, which is the header.
	Row int
	ID  string
	// Value is the thing as JSON; nil where a cell could not be read.
	Value  []byte
	Faults []FieldFault
	// State is what the row is by itself, where that is not what becomes of the thing: of an
	// event, whether it is there already.
	State string
	// before is what is there now, as JSON; nil for something new.
	before map[string]any
}

// FieldChange is a field that a row changes.
type FieldChange struct {
	Field string `json:"field"`
	From  any    `json:"from"`
	To    any    `json:"to"`
}

// Changes are the fields that an entry changes of what is there.
func (e *Entry) Changes() []FieldChange {
	var after map[string]any
	if e.before == nil || json.Unmarshal(e.Value, &after) != nil {
		return nil
	}
	list := []FieldChange{}
	for _, c := range slices.Concat(itemColumns, peopleColumns[1:], modelColumns[1:]) {
		if from, to := e.before[c.field()], after[c.field()]; fmt.Sprint(from) != fmt.Sprint(to) && !slices.ContainsFunc(list, func(o FieldChange) bool { return o.Field == c.name }) {
			list = append(list, FieldChange{c.name, from, to})
		}
	}
	return list
}

// Mapping says which column of the program each header is; "" for none.
type Mapping map[string]string

// mapped finds what each header is: as said, else by its name.
func mapped(s *tabular.Sheet, columns []column, said Mapping) (Mapping, error) {
	m := Mapping{}
	taken := map[string]string{}
	for _, h := range s.Header {
		name, given := said[h]
		if !given {
			name = called(h, columns)
		}
		if name != "" && !slices.ContainsFunc(columns, func(c column) bool { return c.name == name }) {
			return nil, fmt.Errorf("column %q: there is no field %q", h, name)
		}
		if other, twice := taken[name]; twice && name != "" {
			if given {
				return nil, fmt.Errorf("columns %q and %q are both %s", other, h, name)
			}
			name = ""
		}
		if name != "" {
			taken[name] = h
		}
		m[h] = name
	}
	return m, nil
}

func called(header string, columns []column) string {
	h := strings.Join(strings.FieldsFunc(strings.ToLower(header), func(r rune) bool { return !(r >= 'a' && r <= 'z') }), " ")
	for _, c := range columns {
		plain := strings.ReplaceAll(c.name, "_", " ")
		if h == plain || h == strings.ReplaceAll(strict.Stem(c.name), "_", " ") || slices.Contains(c.also, h) {
			return c.name
		}
	}
	return ""
}

// Items gives the items of a table, over those that are there; models may be named by id or
// by maker and name. A row without id is the item of its model and serial, else a new one
// named by its label. A cell that is empty empties its field, a column that is missing
// leaves it.
func Items(s *tabular.Sheet, said Mapping, present *drop.Store) ([]Entry, Mapping, error) {
	models := names{}
	for i := range present.Models {
		m := &present.Models[i]
		models.add(m.ID, m.Title())
	}
	byID, bySerial := map[string]*gear.Item{}, map[string]*gear.Item{}
	for i := range present.Items {
		item := &present.Items[i]
		byID[item.ID], bySerial[item.Model+"\n"+item.Serial] = item, item
	}
	return entries(s, itemColumns, said, func(cells map[string]any) (any, *FieldFault) {
		switch ids := models.of(fmt.Sprint(cells["model"])); len(ids) {
		case 0: // the core refuses what no model is called
		case 1:
			cells["model"] = ids[0]
		default:
			return nil, several("model", ids)
		}
		item := byID[fmt.Sprint(cells["id"])]
		if _, given := cells["id"]; !given {
			item = bySerial[fmt.Sprint(cells["model"])+"\n"+fmt.Sprint(cells["serial"])]
		}
		if item == nil {
			if cells["state"] == nil {
				cells["state"] = string(gear.InService)
			}
			if id := slug(fmt.Sprint(first(cells["id"], cells["label"]))); byID[id] != nil {
				return nil, &FieldFault{"serial", fmt.Sprintf("%s is there with another model or serial: give its id to change it, or another label", id)}
			}
			return nil, nil
		}
		return item, nil
	})
}

// Models gives the models of a table, over those that are there, by id; what a table has no
// column for stays. A class that needs more than a table says is typed from its leaflet.
func Models(s *tabular.Sheet, said Mapping, present *drop.Store) ([]Entry, Mapping, error) {
	models := gear.ModelsByID(present.Models)
	return entries(s, modelColumns, said, func(cells map[string]any) (any, *FieldFault) {
		if m := models[fmt.Sprint(cells["id"])]; m != nil {
			return m, nil
		}
		return nil, nil
	})
}

// Events gives what happened to items by a table, and the items with what is new added to
// them. An item may be named by id or by label. What happened stands: an event that is there
// is the same, or wrong where it was checked on another day.
func Events(s *tabular.Sheet, said Mapping, present *drop.Store) (list []Entry, items []gear.Item, mapping Mapping, err error) {
	byName, at := itemNames(present.Items), map[string]*gear.Item{}
	for i := range present.Items {
		at[present.Items[i].ID] = &present.Items[i]
	}
	list, mapping, err = entries(s, eventColumns, said, func(map[string]any) (any, *FieldFault) { return nil, nil })
	added := map[string]*gear.Item{}
	for n := range list {
		e := &list[n]
		var row struct {
			Item      string    `json:"item"`
			Kind      string    `json:"kind"`
			Happened  gear.Date `json:"happened"`
			Note      string    `json:"note"`
			CheckedOn gear.Date `json:"checked_on"`
			CheckedBy string    `json:"checked_by"`
		}
		e.Faults = slices.DeleteFunc(e.Faults, func(f FieldFault) bool { return f.Field == "id" }) // an item has several
		if len(e.Faults) > 0 {
			continue
		}
		if err := json.Unmarshal(e.Value, &row); err != nil {
			return nil, nil, nil, err
		}
		if e.named(byName, "item", row.Item); len(e.Faults) > 0 {
			continue
		}
		item := *at[e.ID]
		event := gear.Event{Kind: row.Kind, On: row.Happened, CheckedOn: row.CheckedOn, CheckedBy: row.CheckedBy, Note: row.Note}
		if e.judgeEvent(&item, event); len(e.Faults) > 0 || e.State == "same" {
			continue
		}
		if added[item.ID] == nil {
			item.Events = slices.Clone(item.Events)
			added[item.ID] = &item
		}
		if slices.Contains(added[item.ID].Events, event) {
			e.State = "same" // twice in the table
			continue
		}
		added[item.ID].Events = append(added[item.ID].Events, event)
	}
	for i := range present.Items {
		if item := added[present.Items[i].ID]; item != nil {
			items = append(items, *item)
		}
	}
	return list, items, mapping, err
}

// Hours gives hours on rope by a table, as entries to record; those that stand already are the
// same, as often as they stand. A person may be named by id or by name.
func Hours(s *tabular.Sheet, said Mapping, people []rig.Member, standing []record.Content) (list []Entry, hours []record.Entry, mapping Mapping, err error) {
	list, mapping, err = entries(s, hoursColumns, said, func(map[string]any) (any, *FieldFault) { return nil, nil })
	if err != nil {
		return nil, nil, nil, err
	}
	byName := names{}
	for _, p := range people {
		byName.add(p.ID, p.Name)
	}
	key := func(e *record.Entry) string {
		return fmt.Sprint(e.Person, "\n", e.Day, "\n", e.Drop, "\n", e.Note, "\n", *e.Hours)
	}
	stands := map[string]int{}
	for i := range standing {
		stands[key(&standing[i].Entry)]++
	}
	for n := range list {
		e := &list[n]
		e.Faults = slices.DeleteFunc(e.Faults, func(f FieldFault) bool { return f.Field == "id" }) // a person has several
		if len(e.Faults) > 0 {
			continue
		}
		var row struct {
			Person  string          `json:"person"`
			On      gear.Date       `json:"on"`
			Hours   quantity.Hours  `json:"hours"`
			Kind    string          `json:"kind"`
			Drop    string          `json:"drop"`
			Site    string          `json:"site"`
			HeightM quantity.Metres `json:"height_m"`
			Note    string          `json:"note"`
		}
		if err := json.Unmarshal(e.Value, &row); err != nil {
			return nil, nil, nil, err
		}
		if e.named(byName, "person", row.Person); len(e.Faults) > 0 {
			continue
		}
		if row.On == "" {
			e.Faults = append(e.Faults, FieldFault{"on", "missing"})
			continue
		}
		r := record.Entry{
			Kind: record.Hours, Day: row.On, Person: e.ID, Drop: row.Drop, Note: row.Note,
			Hours: &record.OnRope{Hours: row.Hours, Work: row.Kind, Site: row.Site, HeightM: row.HeightM},
		}
		if k := key(&r); stands[k] > 0 {
			stands[k]--
			e.State = "same"
			continue
		}
		e.State = "new"
		e.judgeHours(r.Hours)
		if len(e.Faults) == 0 {
			hours = append(hours, r)
		}
	}
	return list, hours, mapping, nil
}

// judgeHours reads the figures of hours as strictly as a record is read.
func (e *Entry) judgeHours(h *record.OnRope) {
	text, _ := json.Marshal(h)
	var refused *strict.Error
	if errors.As(strict.Read(text, new(record.OnRope)), &refused) {
		for _, f := range refused.Faults {
			field := strings.TrimPrefix(f.Pointer, "/")
			e.Faults = append(e.Faults, FieldFault{cmp.Or(map[string]string{"hours_h": "hours", "work": "kind"}[field], field), f.Detail})
		}
	}
}

// judgeEvent says whether an event is there, can be, or is wrong.
func (e *Entry) judgeEvent(item *gear.Item, event gear.Event) {
	text, _ := json.Marshal(event)
	var refused *strict.Error
	if errors.As(strict.Read(text, new(gear.Event)), &refused) {
		for _, f := range refused.Faults {
			field := strings.TrimPrefix(f.Pointer, "/")
			e.Faults = append(e.Faults, FieldFault{cmp.Or(map[string]string{"on": "happened"}[field], field), f.Detail})
		}
		return
	}
	switch {
	case event.CheckedOn != "" && event.CheckedOn < event.On:
		e.Faults = append(e.Faults, FieldFault{"checked_on", "before it happened"})
		return
	case event.CheckedOn == "" && event.CheckedBy != "":
		e.Faults = append(e.Faults, FieldFault{"checked_on", "missing: somebody checked it"})
		return
	}
	e.State = "new"
	for _, was := range item.Events {
		if was.Kind != event.Kind || was.On != event.On || was.Note != event.Note {
			continue
		}
		if e.State = "same"; was.CheckedOn != event.CheckedOn || event.CheckedBy != "" && was.CheckedBy != event.CheckedBy {
			e.State = ""
			e.Faults = append(e.Faults, FieldFault{"checked_on", "it is there, checked on another day, by somebody else or not at all: an event is closed by the record that brings the item back"})
		}
		return
	}
}

// People gives the people of a table, over those that are there; by id, else by name. A
// name that several people have needs an id beside it.
func People(s *tabular.Sheet, said Mapping, present []rig.Member) ([]Entry, Mapping, error) {
	return entries(s, peopleColumns, said, func(cells map[string]any) (any, *FieldFault) {
		id, given := cells["id"]
		var found []*rig.Member
		for i := range present {
			if given && present[i].ID == id || !given && present[i].Name == cells["name"] {
				found = append(found, &present[i])
			}
		}
		switch len(found) {
		case 0:
			return nil, nil
		case 1:
			return found[0], nil
		}
		return nil, &FieldFault{"name", "several people have this name: give the id"}
	})
}

// entries reads the rows; find gives what is there already of the thing that a row names,
// nil for nothing.
func entries(s *tabular.Sheet, columns []column, said Mapping, find func(map[string]any) (any, *FieldFault)) ([]Entry, Mapping, error) {
	mapping, err := mapped(s, columns, said)
	if err != nil {
		return nil, nil, err
	}
	of := map[string]column{}
	for _, c := range columns {
		of[c.name] = c
	}
	list := make([]Entry, len(s.Rows))
	seen := map[string]int{}
	for n, row := range s.Rows {
		e := &list[n]
		e.Row = n + 2
		cells, emptied := map[string]any{}, []string{}
		for i, cell := range row {
			c, used := of[mapping[s.Header[i]]]
			switch {
			case !used || c.kind == shown:
			case cell == "":
				emptied = append(emptied, c.field())
			default:
				v, err := c.read(s, cell)
				if err != nil {
					e.Faults = append(e.Faults, FieldFault{c.name, err.Error()})
					continue
				}
				cells[c.field()] = v
			}
		}
		e.fill(cells, emptied, find)
		if other, twice := seen[e.ID]; twice && e.ID != "" {
			e.Faults = append(e.Faults, FieldFault{"id", fmt.Sprintf("row %d is %s too", other, e.ID)})
		}
		seen[e.ID] = e.Row
	}
	return list, mapping, nil
}

func (c column) read(s *tabular.Sheet, cell string) (any, error) {
	switch c.kind {
	case number:
		return s.Number(cell)
	case date:
		return s.Date(cell)
	}
	return cell, nil
}

// fill makes an entry of a row's cells over what is there.
func (e *Entry) fill(cells map[string]any, emptied []string, find func(map[string]any) (any, *FieldFault)) {
	value := map[string]any{}
	there, fault := find(cells)
	if fault != nil {
		e.Faults = append(e.Faults, *fault)
	}
	if there != nil {
		text, _ := json.Marshal(there)
		_ = json.Unmarshal(text, &e.before)
		_ = json.Unmarshal(text, &value)
		for _, name := range emptied {
			if name != "id" {
				delete(value, name)
			}
		}
	}
	for name, v := range cells {
		value[name] = v
	}
	if _, given := value["id"]; !given {
		value["id"] = slug(fmt.Sprint(first(value["label"], value["name"])))
	}
	e.ID = fmt.Sprint(value["id"])
	if len(e.Faults) == 0 {
		e.Value, _ = json.Marshal(value)
	}
}

func first(values ...any) any {
	for _, v := range values {
		if v != nil {
			return v
		}
	}
	return ""
}

// slug makes an id of what people call a thing.
func slug(words string) string {
	words = strings.Join(strings.FieldsFunc(strings.ToLower(words), func(r rune) bool { return !(r >= 'a' && r <= 'z' || r >= '0' && r <= '9') }), "-")
	return strings.Trim(words[:min(len(words), 64)], "-")
}
