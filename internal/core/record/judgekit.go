package record

import (
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/strict"
)

// judgeKit wants a kit that is there and items of the store, each once. A kit that is out
// already, or is not, is recorded all the same: the device could not know.
func (e *Entry) judgeKit(f *Facts, at string, p *strict.Faults) (conflict string) {
	e.notLater(f, at, p)
	if e.Kit == nil {
		return ""
	}
	at += "/kit"
	to := strings.TrimSpace(e.Kit.To)
	switch {
	case f.Kit == nil:
		p.Addf(at+"/kit", "no kit %q in the store", e.Kit.Kit)
	case e.Kind == KitIssue && to == "":
		p.Addf(at+"/to", "missing: say who or what has it from now on")
	case e.Kind != KitIssue && to != "":
		p.Addf(at+"/to", "does not belong to a %s", e.Kind)
	}
	e.judgeSeal(at, p)
	seen := map[string]bool{}
	for i, id := range e.Kit.Items {
		switch item := f.Counted[id]; {
		case seen[id]:
			p.Addf(fmt.Sprintf("%s/items/%d", at, i), "%q is counted twice", id)
		case item == nil:
			p.Addf(fmt.Sprintf("%s/items/%d", at, i), "no item %q in the store", id)
		case e.Kind == KitSealed && f.Kit != nil && item.Kit != f.Kit.Name:
			p.Addf(fmt.Sprintf("%s/items/%d", at, i), "%s is not in %s", item.Label, f.Kit.Name)
		case e.Kind == KitSealed && item.State != gear.InService:
			p.Addf(fmt.Sprintf("%s/items/%d", at, i), "%s is in state %s: it is sealed into no bag", item.Label, item.State)
		case e.Kind == KitSealed && item.Damaged():
			p.Addf(fmt.Sprintf("%s/items/%d", at, i), "%s has damage on its map: it is sealed into no bag", item.Label)
		case e.Kind == KitIssue && item.State != gear.InService:
			conflict = fmt.Sprintf("%s is in state %s: %s", item.Label, item.State, item.Reason)
		}
		seen[id] = true
	}
	switch {
	case f.Kit == nil || conflict != "":
	case e.Kind == KitIssue && f.Kit.IssuedTo != "":
		return "it was out with " + f.Kit.IssuedTo
	case e.Kind == KitReturn && f.Kit.IssuedTo == "":
		return "it was in the store"
	case e.Kind == SealBroken && f.Kit.Seal == nil:
		return "no seal was on it"
	case e.Kind == SealBroken && e.Kit.Seal != "" && e.Kit.Seal != f.Kit.Seal.Number:
		return "the seal that was on it is " + f.Kit.Seal.Number
	}
	return conflict
}

// judgeSeal wants a number and something counted of a bag that is sealed; no seal is put on by
// handing out or taking back, and nothing is counted when one is broken.
func (e *Entry) judgeSeal(at string, p *strict.Faults) {
	switch {
	case e.Kind == KitSealed && strings.TrimSpace(e.Kit.Seal) == "":
		p.Addf(at+"/seal", "missing: the number on the seal")
	case e.Kind == KitSealed && len(e.Kit.Items) == 0:
		p.Addf(at+"/items", "missing: what was counted in it")
	case e.Kind == SealBroken && len(e.Kit.Items) > 0:
		p.Addf(at+"/items", "does not belong to a %s", e.Kind)
	case (e.Kind == KitIssue || e.Kind == KitReturn) && e.Kit.Seal != "":
		p.Addf(at+"/seal", "does not belong to a %s", e.Kind)
	}
}

// SealAfter is the seal of a kit after an entry: a bag that is counted back was opened, one that
// is handed out keeps its seal.
func (e *Entry) SealAfter(k *gear.Kit, by string) *gear.Seal {
	switch e.Kind {
	case KitSealed:
		return &gear.Seal{Number: strings.TrimSpace(e.Kit.Seal), On: e.Day, By: by, Items: len(e.Kit.Items), Counted: slices.Sorted(slices.Values(e.Kit.Items))}
	case KitIssue:
		return k.Seal
	}
	return nil
}

// NotBack are the items that are missing from a kit after an entry that hands it out, takes it
// back or seals it: what was missing before and, but where it is only sealed, what went out,
// without what is counted. A kit that is handed out again without coming back leaves behind
// what nobody counts.
func (e *Entry) NotBack(k *gear.Kit) []string {
	list := slices.Clone(k.Missing)
	if e.Kind != KitSealed {
		list = append(list, k.Out...)
	}
	slices.Sort(list)
	return slices.DeleteFunc(slices.Compact(list), func(id string) bool { return slices.Contains(e.Kit.Items, id) })
}
