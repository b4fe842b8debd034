package record_test

import (
	"errors"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// One signature for what somebody wears names each thing once, and of what is not sound what is
// wrong; that goes into quarantine, each under its own id, and nothing else does.
func TestWornIsJudged(t *testing.T) {
	now := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	store := map[string]*gear.Item{
		"harness": {ID: "harness", Label: "harness 5", State: gear.InService},
		"hook":    {ID: "hook", Label: "connector 6", State: gear.InService},
		"tail":    {ID: "tail", Label: "lanyard 7", State: gear.InService},
		"old":     {ID: "old", Label: "connector 8", State: gear.Quarantine, Reason: "bent"},
		"gone":    {ID: "gone", Label: "sling 9", State: gear.Retired, Reason: "cut"},
	}
	sound := func(ids ...string) (list []rig.WornItem) {
		for _, id := range ids {
			list = append(list, rig.WornItem{Item: id, Sound: true})
		}
		return list
	}
	not := func(id, note string) rig.WornItem { return rig.WornItem{Item: id, Note: note} }
	for name, c := range map[string]struct {
		person   string
		items    []rig.WornItem
		day      gear.Date
		at       string
		conflict string
		stops    []string
	}{
		"all sound":                {items: sound("harness", "hook")},
		"two are not":              {items: append(sound("harness"), not("hook", "stiff gate"), not("tail", "cut")), stops: []string{"hook stiff gate", "tail cut"}},
		"not sound, nothing said":  {items: []rig.WornItem{not("hook", " ")}, at: "/worn/items/0/note"},
		"given twice":              {items: sound("hook", "hook"), at: "/worn/items/1/item"},
		"not of the store":         {items: sound("hook", "ghost"), at: "/worn/items/1/item"},
		"of nobody":                {person: "-", items: sound("hook"), at: "/person"},
		"of a stranger":            {person: "stranger", items: sound("hook"), at: "/person"},
		"sound, and stopped":       {items: sound("old", "hook"), conflict: "connector 8 is in state quarantine: bent"},
		"two sound, and stopped":   {items: sound("old", "hook", "gone"), conflict: "connector 8 is in state quarantine: bent; sling 9 is in state retired: cut"},
		"stopped, and found so":    {items: []rig.WornItem{not("old", "bent")}, stops: []string{"old bent"}},
		"on a drop that was moved": {items: sound("hook"), day: "2026-11-25", conflict: "the drop is for 2026-11-25 now"},
	} {
		e := record.Entry{ID: "0b9f6a3e-7a52-4f0e-9c3b-0d1e2f3a4b5c", Kind: record.WornCheck, GivenAt: now.Format(time.RFC3339), Day: "2026-11-24", Drop: "d", Person: "ivo", Worn: &record.Worn{Items: c.items}}
		f := &record.Facts{Arrived: now, Sent: now, Person: &rig.Member{ID: "ivo"}, Counted: store, DropDay: "2026-11-24"}
		switch c.person {
		case "-":
			e.Person = ""
		case "stranger":
			f.Person = nil
		}
		if c.day != "" {
			f.DropDay = c.day
		}
		var faults strict.Faults
		conflict := f.Judge(&e, "", &faults)
		var refused *strict.Error
		at := ""
		if errors.As(faults.Err(), &refused) {
			at = refused.Faults[0].Pointer
		}
		if at != c.at || at == "" && conflict != c.conflict {
			t.Errorf("%s: %v, %q", name, faults.Err(), conflict)
		}
		if c.at != "" {
			continue
		}
		ids := map[string]bool{e.ID: true}
		var stops []string
		for _, next := range e.FollowUps() {
			stops = append(stops, next.Item+" "+next.Note)
			if ids[next.ID] || next.Kind != record.Quarantine || next.Quarantine.Event != "failed-check" || next.Day != e.Day || next.Drop != "d" {
				t.Errorf("%s: %+v", name, next)
			}
			ids[next.ID] = true
		}
		if strings.Join(stops, ";") != strings.Join(c.stops, ";") {
			t.Errorf("%s: stops %q", name, stops)
		}
	}
}
