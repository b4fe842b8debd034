package record

import (
	"fmt"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/strict"
)

// judgeWorn wants somebody of the team and things of the store, each once; what is not sound is
// said with what is wrong. What is stopped already, or on a drop of another day now, is recorded
// all the same: the device could not know.
func (e *Entry) judgeWorn(f *Facts, at string, p *strict.Faults) (conflict string) {
	switch {
	case e.Person == "":
		p.Addf(at+"/person", "missing")
	case f.Person == nil:
		p.Addf(at+"/person", "nobody of this id in the team")
	}
	if e.Worn == nil {
		return ""
	}
	seen := map[string]bool{}
	var stopped []string
	for i, w := range e.Worn.Items {
		at := fmt.Sprintf("%s/worn/items/%d", at, i)
		item := f.Counted[w.Item]
		switch {
		case seen[w.Item]:
			p.Addf(at+"/item", "%q is given twice", w.Item)
		case item == nil:
			p.Addf(at+"/item", "no item %q in the store", w.Item)
		case !w.Sound && strings.TrimSpace(w.Note) == "":
			p.Addf(at+"/note", "missing: say what is wrong with %s", item.Label)
		case w.Sound && item.State != gear.InService:
			stopped = append(stopped, fmt.Sprintf("%s is in state %s: %s", item.Label, item.State, item.Reason))
		}
		seen[w.Item] = true
	}
	if stopped != nil {
		return strings.Join(stopped, "; ")
	}
	return e.otherDay(f)
}
