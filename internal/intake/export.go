package intake

import (
	"encoding/csv"
	"encoding/json"
	"io"
	"strconv"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/tabular"
)

// WriteItems writes items as CSV (RFC 4180, UTF-8, header row): what goes out comes back in
// and changes nothing. Months is the team's interval of examinations.
func WriteItems(w io.Writer, g *drop.Store, months int) error {
	models := map[string]*gear.Model{}
	for i := range g.Models {
		models[g.Models[i].ID] = &g.Models[i]
	}
	return write(w, itemColumns, len(g.Items), func(i int) (any, map[string]string) {
		item := &g.Items[i]
		m := models[item.Model]
		end, _ := m.EndOfLife(item)
		return item, map[string]string{"class": string(m.Class), "next_examination_on": string(m.ExaminationDue(item, months)), "end_of_life_on": string(end)}
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
			switch v := value[col.name].(type) {
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
