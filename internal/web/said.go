package web

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/care"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/report"
	"zealousknot/internal/store"
)

// titles are what people read in place of ids.
type titles struct{ items, people, models, drops map[string]string }

// titles gives those that the records of a list need.
func (c *Config) titles(ctx context.Context, lines []store.RecordLine) (*titles, error) {
	team := who(ctx).Team.ID
	t := &titles{map[string]string{}, map[string]string{}, map[string]string{}, map[string]string{}}
	g, err := c.Store.Gear(ctx, team)
	if err != nil {
		return nil, err
	}
	for _, i := range g.Items {
		t.items[i.ID] = i.Label
	}
	for _, m := range g.Models {
		t.models[m.ID] = m.Title()
	}
	people, err := c.Store.People(ctx, team)
	if err != nil {
		return nil, err
	}
	for _, p := range people {
		t.people[p.ID] = p.Name
	}
	var ids []string
	for _, l := range lines {
		if l.Says.Drop != "" && !slices.Contains(ids, l.Says.Drop) {
			ids = append(ids, l.Says.Drop)
		}
	}
	t.drops, err = c.Store.DropNames(ctx, team, ids)
	return t, err
}

// titleOf is the title of an id; what was removed since has no title.
func titleOf(names map[string]string, id string) string { return cmp.Or(names[id], id) }

// titlesOf are the titles of ids.
func titlesOf(names map[string]string, ids []string) string {
	words := make([]string, len(ids))
	for i, id := range ids {
		words[i] = titleOf(names, id)
	}
	return cmp.Or(strings.Join(words, ", "), "nothing")
}

// rowsOf are records in words, first one first.
func rowsOf(team store.Team, lines []store.RecordLine, named *titles) []report.Row {
	at := team.Location()
	rows := make([]report.Row, len(lines))
	for n, l := range lines {
		s := &l.Says
		what, on, result := inWords(s, named)
		if l.Changes != nil {
			result = strings.Join(l.Changes, "; ")
		}
		rows[n] = report.Row{
			Number: l.Number, At: l.At.In(at), Given: s.Given().In(at), Day: string(s.Day), Kind: plain(string(s.Kind)), What: what, On: on,
			Result: result, Note: s.Note, Conflict: s.Conflict, By: l.By, CorrectedBy: l.CorrectedBy, Seal: l.Seal,
		}
	}
	slices.Reverse(rows)
	return rows
}

// plain reads an id that is made of words.
func plain(id string) string { return strings.ReplaceAll(id, "-", " ") }

var passed = map[bool]string{true: "passed", false: "FAILED"}

// wornWords says what was looked at, what is not as it must be first.
func wornWords(w *record.Worn, named *titles) string {
	var not, sound []string
	for _, i := range w.Items {
		if i.Sound {
			sound = append(sound, titleOf(named.items, i.Item))
		} else {
			not = append(not, "NOT as it must be: "+titleOf(named.items, i.Item)+", "+i.Note)
		}
	}
	if sound != nil {
		not = append(not, "as it must be: "+strings.Join(sound, ", "))
	}
	return strings.Join(not, "; ")
}

func inWords(s *record.Content, named *titles) (what, on, result string) {
	what = named.items[s.Item]
	if what == "" {
		what = s.Item
	}
	switch {
	case s.Check != nil:
		if s.Check.Rope != s.Item {
			on = strings.TrimSuffix("on "+titleOf(named.items, s.Check.Rope)+", "+s.Check.Mode, ", ")
		}
		result = passed[s.Check.Passed]
		for _, p := range s.Check.Proofs {
			result += proofWords(p.Proof, p.Did, p.Note)
		}
	case s.Partner != nil:
		what, on, result = titleOf(named.people, s.Person), "rigging "+s.Partner.Rigging, passed[s.Partner.Passed]
	case s.Worn != nil:
		what, result = titleOf(named.people, s.Person), wornWords(s.Worn, named)
	case s.Quarantine != nil:
		result = strings.Join(nonEmpty((&gear.Event{Kind: s.Quarantine.Event}).Words(), prefixed("kept at ", s.Quarantine.Kept)), "; ")
	case s.Familiar != nil:
		what, on, result = titleOf(named.people, s.Person), titleOf(named.models, s.Familiar.Model), "shown"
	case s.Hours != nil:
		what, on, result = titleOf(named.people, s.Person), s.Hours.Site, s.Hours.Hours.String()+", "+s.Hours.Work
		if s.Hours.HeightM > 0 {
			result += ", to " + s.Hours.HeightM.String()
		}
	case s.Recall != nil:
		what, result = titleOf(named.models, s.Recall.Model), fmt.Sprintf("%s: %s; %d in the store", plain(s.Recall.Asks), s.Recall.Source, len(s.Affected))
	case s.Kind == record.Acknowledgement:
		what, result = "a recall", "read"
	case s.Confirms != "":
		what, result = titleOf(named.people, s.Person), "hours countersigned"
	case s.Plan != nil:
		what, result = titleOf(named.drops, s.Drop), strings.Join(append([]string{string(s.Plan.State)}, s.Plan.Because...), "; ")
	case s.Run != nil:
		what, result = titleOf(named.drops, s.Drop), fmt.Sprintf("put away; %d events, SHA-256 %s", s.Run.Events, s.Run.SHA256)
		if s.Run.Exercise {
			result = "EXERCISE; " + result
		}
	case s.Kit != nil:
		what, on, result = s.Kit.Kit, prefixed("to ", s.Kit.To), "counted: "+titlesOf(named.items, s.Kit.Items)
		if len(s.Missing) > 0 {
			result += "; MISSING: " + titlesOf(named.items, s.Missing)
		}
	case s.Incident != nil:
		what, on, result = plain(s.Incident.Kind), titleOf(named.drops, s.Drop), incidentWords(s.Incident, named)
	case s.Corrects != "":
		what = "an earlier record"
	default:
		result = itemWords(s, named)
	}
	return what, on, result
}

// itemWords says what happened to a thing over its life.
func itemWords(s *record.Content, named *titles) string {
	switch {
	case s.Examined != nil:
		return examinedWords(s.Examined)
	case s.Rope != nil && s.Rope.With != "":
		if s.Rope.What == record.RopeApart {
			return "taken apart from " + titleOf(named.items, s.Rope.With)
		}
		return fmt.Sprintf("joined at %v to %s", s.Rope.FromM, titleOf(named.items, s.Rope.With))
	case s.Rope != nil:
		return ropeWords(s.Rope)
	case s.Cut != nil:
		return fmt.Sprintf("cut at %v of %v; the other part: %s", s.Cut.AtM, s.Cut.LengthM, cmp.Or(s.Cut.Label, "waste"))
	case s.Destroyed != nil:
		return "destroyed by " + s.Destroyed.By + ": " + s.Destroyed.How
	case s.Use != nil:
		return useWords(s.Use, string(s.Day))
	}
	return ""
}

func useWords(u *record.Used, until string) string {
	days := quantity.Count(u.Days).Of("day")
	span := until
	if from := string(u.From); from != "" && from != until {
		span = from + " to " + until
	}
	more := []string{days + ", " + span}
	add := func(use bool, format string, value any) {
		if use {
			more = append(more, fmt.Sprintf(format, value))
		}
	}
	add(u.DownM > 0, "%v down", u.DownM)
	add(u.UpM > 0, "%v up", u.UpM)
	add(u.Loads > 0, "loads: %d", u.Loads)
	add(u.Peak > 0, "at most %v", u.Peak)
	add(u.Wet > 0, "wet days: %d", u.Wet)
	add(u.Dirty > 0, "dirty days: %d", u.Dirty)
	return strings.Join(more, "; ")
}

func incidentWords(h *record.Happened, named *titles) string {
	words := h.What
	if len(h.People) > 0 {
		words += "; there: " + titlesOf(named.people, h.People)
	}
	if len(h.Stop) > 0 {
		words += "; STOPPED: " + titlesOf(named.items, h.Stop)
	}
	return words
}

// examinedWords says what an examination found: its result, and what did not simply pass.
func examinedWords(x *record.Examined) string {
	words := []string{resultWords[x.Result]}
	for _, p := range x.Points {
		if p.Result != "pass" {
			words = append(words, strings.TrimSpace(care.PointTitle(p.Point)+": "+p.Result+" "+p.Note))
		}
	}
	for _, r := range x.Readings {
		words = append(words, r.Part+" "+r.MM.String())
	}
	words = append(words, nonEmpty(prefixed("again by ", string(x.AgainBy)), prefixed("examined by ", x.Examiner), prefixed("taken from ", x.Source))...)
	return strings.Join(words, "; ")
}

// resultWords are the results of examinations in words.
var resultWords = map[string]string{
	record.Fit: "fit for use", record.Observed: "fit, with an observation", record.ToQuarantine: "STOPPED, into quarantine", record.ToRetire: "STOPPED, to be destroyed", record.NotPresented: "not presented",
}

func proofWords(proof string, did bool, note string) string {
	words := "; " + procedure.Title(proof)
	if !did {
		words += ": did NOT"
	}
	if note != "" {
		words += " (" + note + ")"
	}
	return words
}

func prefixed(before, text string) string {
	if text == "" {
		return ""
	}
	return before + text
}

func nonEmpty(texts ...string) []string {
	return slices.DeleteFunc(texts, func(t string) bool { return t == "" })
}

func ropeWords(n *record.RopeNoted) string {
	words := plain(n.What)
	switch {
	case n.ToM > n.FromM:
		words += fmt.Sprintf(" at %v to %v", n.FromM, n.ToM)
	case n.What != record.RopeWash && n.What != record.RopeTurn:
		words += fmt.Sprintf(" at %v", n.FromM)
	}
	if n.MM > 0 {
		words += ": " + n.MM.String()
	}
	return words
}
