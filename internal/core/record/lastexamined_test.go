package record_test

import (
	"encoding/json"
	"testing"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
)

// The last examination is the latest that found the item fit while it was in service, or what
// somebody typed since; a change of something else types nothing, and one of another item is not
// about it.
func TestLastExamined(t *testing.T) {
	fit := func(day, again gear.Date) record.Content {
		return record.Content{Entry: record.Entry{Kind: record.Examination, Day: day, Examined: &record.Examined{Result: "fit", AgainBy: again}}}
	}
	plain := func(kind record.Kind) record.Content { return record.Content{Entry: record.Entry{Kind: kind}} }
	typed := func(id string, was, is *gear.Item) record.Content {
		text := func(i *gear.Item) json.RawMessage {
			if i == nil {
				return nil
			}
			b, _ := json.Marshal(i)
			return b
		}
		rows := []record.ChangedRow{{Kind: "model", ID: id}, {Kind: "item", ID: id, Before: text(was), After: text(is)}}
		return record.Content{Entry: record.Entry{Kind: record.GearChange}, Change: &record.Changed{Rows: rows}}
	}
	item := func(day, again gear.Date, state gear.State) *gear.Item {
		return &gear.Item{ExaminedOn: day, AgainBy: again, State: state}
	}
	fails := fit("2026-03-01", "")
	fails.Examined.Result = "quarantine"
	const in = gear.InService
	for name, c := range map[string]struct {
		of        []record.Content
		on, again gear.Date
	}{
		"nothing":                   {nil, "", ""},
		"the later day":             {[]record.Content{fit("2026-02-01", "2026-05-01"), fit("2026-01-31", "2026-04-01")}, "2026-02-01", "2026-05-01"},
		"the same day, later":       {[]record.Content{fit("2026-02-01", "2026-05-01"), fit("2026-02-01", "")}, "2026-02-01", ""},
		"failing":                   {[]record.Content{fit("2026-02-01", ""), fails}, "2026-02-01", ""},
		"in quarantine":             {[]record.Content{fit("2026-02-01", ""), plain(record.Quarantine), fit("2026-03-01", "")}, "2026-02-01", ""},
		"back in service":           {[]record.Content{plain(record.Quarantine), plain(record.BackInService), fit("2026-03-01", "")}, "2026-03-01", ""},
		"of a new one, typed":       {[]record.Content{typed("a", nil, item("2026-02-01", "2026-06-01", in))}, "2026-02-01", "2026-06-01"},
		"typed earlier":             {[]record.Content{fit("2026-02-01", ""), typed("a", item("2026-02-01", "", in), item("2026-01-01", "", in))}, "2026-01-01", ""},
		"by when, typed":            {[]record.Content{fit("2026-02-01", ""), typed("a", item("2026-02-01", "", in), item("2026-02-01", "2026-03-01", in))}, "2026-02-01", "2026-03-01"},
		"something else changed":    {[]record.Content{fit("2026-02-01", ""), typed("a", item("2026-03-01", "2026-04-01", in), item("2026-03-01", "2026-04-01", in))}, "2026-02-01", ""},
		"another's":                 {[]record.Content{fit("2026-02-01", ""), typed("b", nil, item("2026-03-01", "", in))}, "2026-02-01", ""},
		"stopped by a change":       {[]record.Content{typed("a", nil, item("", "", gear.Quarantine)), fit("2026-02-01", "")}, "", ""},
		"a change after quarantine": {[]record.Content{plain(record.Quarantine), typed("a", item("", "", in), item("", "", in)), fit("2026-02-01", "")}, "2026-02-01", ""},
	} {
		var of []record.Numbered
		for i := range c.of {
			of = append(of, record.Numbered{Number: int64(i + 1), Says: &c.of[i]})
		}
		if on, again := record.LastExamined("a", of); on != c.on || again != c.again {
			t.Errorf("%s: %s %s, want %s %s", name, on, again, c.on, c.again)
		}
	}
}
