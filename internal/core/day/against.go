package day

import (
	"slices"

	"zealousknot/internal/core/finding"
)

// Against gives the stops of a board that stand in the way of a drop's release: those about the
// drop, and about the papers of whoever is on it. The wind is none of them: it shuts hours, which
// the run says while it is live. A drop that has no time on the board, or that no board is kept
// for, is held against the papers alone.
func (a *Asked) Against(drop string) ([]finding.Finding, error) {
	timed, placed := *a, slices.ContainsFunc(a.Board.Slots, func(s Slot) bool { return s.Drop == drop && s.From != "" })
	if !placed {
		timed.Board.Slots = slices.DeleteFunc(slices.Clone(a.Board.Slots), func(s Slot) bool { return s.Drop != drop })
		for i := range timed.Board.Slots {
			timed.Board.Slots[i].From = anyTime
		}
	}
	r, err := timed.Check()
	if err != nil {
		return nil, err
	}
	list := r.against(drop)
	if !placed {
		list = slices.DeleteFunc(list, func(f finding.Finding) bool { return f.Rule != "person.competence" })
	}
	return list, nil
}

// anyTime is when a drop is taken to go out whose time is not known: papers end with a day.
const anyTime Clock = "08:00"

func (r *Report) against(drop string) []finding.Finding {
	var list []finding.Finding
	for _, f := range r.Findings {
		s := f.Subject
		about := s.Drop == drop || s.With == drop || s.Kind == finding.Drop && s.ID == drop || f.Rule == "person.competence" && r.works(s.Person, drop)
		if f.Severity == finding.Stop && f.Rule != "day.wind" && about {
			list = append(list, f)
		}
	}
	return list
}

// works reports whether somebody hangs, stands by or is at a brake on a drop.
func (r *Report) works(person, drop string) bool {
	return slices.ContainsFunc(r.Lanes, func(l Lane) bool {
		return l.Drop == drop && slices.ContainsFunc(l.Seats, func(s Seat) bool { return s.Person == person && s.Task != OnSite })
	})
}
