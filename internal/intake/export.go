package intake

import (
	"cmp"
	"encoding/csv"
	"encoding/json"
	"io"
	"strconv"
	"strings"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/tabular"
)

// WriteItems writes items as CSV (RFC 4180, UTF-8, header row): what goes out comes back in
// and changes nothing. Months is the team's interval of examinations.
func WriteItems(w io.Writer, g *drop.Store, months int) error {
	models := gear.ModelsByID(g.Models)
	return write(w, itemColumns, len(g.Items), func(i int) (any, map[string]string) {
		item := &g.Items[i]
		m := models[item.Model]
		end, _ := m.EndOfLife(item)
		due, _ := m.ExaminationDue(item, months)
		return item, map[string]string{"class": string(m.Class), "next_examination_on": string(due), "end_of_life_on": string(end)}
	})
}

// WriteModels writes models as CSV: what a list of them shows of each. Of working loads the one
// for every mode, of ropes the thinnest and the thickest of any mode.
func WriteModels(w io.Writer, models []gear.Model) error {
	return write(w, modelColumns, len(models), func(i int) (any, map[string]string) {
		m := &models[i]
		more := map[string]string{"standards": tabular.Plain(strings.Join(m.Standards, "; "))}
		figure := func(name string, v float64) {
			if v > 0 {
				more[name] = strconv.FormatFloat(v, 'f', -1, 64)
			}
		}
		if load, found := m.WorkingLoad(""); found {
			figure("wll_kN", float64(load))
		}
		if m.Device != nil {
			var thin, thick float64
			for _, mode := range m.Device.Modes {
				for _, r := range mode.Ropes {
					if thin == 0 || float64(r.MinMM) < thin {
						thin = float64(r.MinMM)
					}
					thick = max(thick, float64(r.MaxMM))
				}
			}
			figure("rope_min_mm", thin)
			figure("rope_max_mm", thick)
		}
		if m.Life != nil {
			figure("life_years", m.Life.FromMadeYears)
		}
		return m, more
	})
}

// WriteEvents writes what happened to items as CSV.
func WriteEvents(w io.Writer, items []gear.Item) error {
	type happened struct {
		item  string
		event gear.Event
	}
	var all []happened
	for _, i := range items {
		for _, e := range i.Events {
			all = append(all, happened{i.ID, e})
		}
	}
	return write(w, eventColumns, len(all), func(i int) (any, map[string]string) {
		e := all[i].event
		return struct{}{}, map[string]string{
			"item": all[i].item, "kind": e.Kind, "happened": string(e.On), "note": tabular.Plain(e.Note), "checked_on": string(e.CheckedOn), "checked_by": tabular.Plain(e.CheckedBy),
		}
	})
}

// ExaminedThen is an examination as it was recorded.
type ExaminedThen struct {
	Number int64
	By     string
	Says   record.Content
	// NextDue is by when it was due again, as it was found then.
	NextDue gear.Date
}

// WriteExaminations writes examinations as CSV.
func WriteExaminations(w io.Writer, list []ExaminedThen) error {
	return write(w, examinationColumns, len(list), func(i int) (any, map[string]string) {
		e := &list[i]
		x := e.Says.Examined
		return struct{}{}, map[string]string{
			"item": e.Says.Item, "on": string(e.Says.Day), "by": tabular.Plain(cmp.Or(x.Examiner, e.By)), "result": x.Result, "next_due": string(e.NextDue),
			"note": tabular.Plain(e.Says.Note), "readings": x.ReadingsText(), "record": strconv.FormatInt(e.Number, 10),
		}
	})
}

// Worked is time on rope as it was recorded.
type Worked struct {
	By   string
	Says record.Content
	// Confirmed is who countersigned it; empty for nobody.
	Confirmed string
}

// WriteHours writes hours on rope as CSV.
func WriteHours(w io.Writer, hours []Worked) error {
	return write(w, hoursColumns, len(hours), func(i int) (any, map[string]string) {
		s := &hours[i].Says
		height := ""
		if s.Hours.HeightM > 0 {
			height = strconv.FormatFloat(float64(s.Hours.HeightM), 'f', -1, 64)
		}
		return struct{}{}, map[string]string{
			"site": tabular.Plain(s.Hours.Site), "height_m": height, "countersigned_by": tabular.Plain(hours[i].Confirmed),
			"person": s.Person, "on": string(s.Day), "hours": strconv.FormatFloat(float64(s.Hours.Hours), 'f', -1, 64), "kind": tabular.Plain(s.Hours.Work),
			"drop": s.Drop, "note": tabular.Plain(s.Note), "signed_by": tabular.Plain(hours[i].By),
		}
	})
}

// WritePeople writes people as CSV.
func WritePeople(w io.Writer, people []rig.Member) error {
	return write(w, peopleColumns, len(people), func(i int) (any, map[string]string) { return &people[i], nil })
}

func write(w io.Writer, columns []column, n int, row func(int) (any, map[string]string)) error {
	c := csv.NewWriter(w)
	c.UseCRLF = true
	header := make([]string, len(columns))
	for i, col := range columns {
		header[i] = col.name
	}
	if err := c.Write(header); err != nil {
		return err
	}
	for i := range n {
		thing, follows := row(i)
		text, err := json.Marshal(thing)
		if err != nil {
			return err
		}
		var value map[string]any
		if err := json.Unmarshal(text, &value); err != nil {
			return err
		}
		cells := make([]string, len(columns))
		for j, col := range columns {
			cells[j] = follows[col.name]
			switch v := value[col.field()].(type) {
			case string:
				cells[j] = tabular.Plain(v)
			case float64:
				cells[j] = strconv.FormatFloat(v, 'f', -1, 64)
			}
		}
		if err := c.Write(cells); err != nil {
			return err
		}
	}
	c.Flush()
	return c.Error()
}
