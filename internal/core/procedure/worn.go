package procedure

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
)

// Worn are the things on a person that have no function check: what they wear and carry, and
// the links of their holds; things of a class together, what holds the body first.
func Worn(p *rig.PersonView) []*rig.Piece {
	list := []*rig.Piece{}
	for _, piece := range p.All {
		if ofClass(piece.Model) == nil {
			list = append(list, piece)
		}
	}
	slices.SortStableFunc(list, func(a, b *rig.Piece) int {
		return cmp.Or(wornRank(a.Model.Class)-wornRank(b.Model.Class), cmp.Compare(a.Model.Class, b.Model.Class))
	})
	return list
}

// wornRank is where the things of a class come.
func wornRank(c gear.Class) int {
	first := []gear.Class{gear.Harness, gear.Lanyard, gear.Absorber, gear.Connector, gear.Sling, gear.FootLoop}
	if i := slices.Index(first, c); i >= 0 {
		return i
	}
	return len(first)
}

// AllSound is a check in which everything that a person wears is as it must be; nil for nothing
// worn.
func AllSound(p *rig.PersonView) (list []rig.WornItem) {
	for _, piece := range Worn(p) {
		list = append(list, rig.WornItem{Item: piece.Item.ID, Sound: true})
	}
	return list
}

// wornCheck asks for each thing that a person wears: the last look at it on this person decides.
// What was passed already need not be looked at again because something else was added; nil for
// nothing worn.
func wornCheck(r *rig.Rig, p *rig.PersonView) *Due {
	worn := Worn(p)
	if len(worn) == 0 {
		return nil
	}
	d := &Due{Kind: OfWorn, Person: p.ID, Label: "Harness, lanyards and connectors", On: p.Name, State: NotDone, Proofs: []gear.Proof{}}
	last := lastLooks(r, p.ID)
	var left []*rig.Piece
	by := ""
	for _, piece := range worn {
		l, looked := last[piece.Item.ID]
		switch {
		case looked && l.item.Sound && l.check.Over == "":
			by = l.check.By
			continue
		case looked && !l.item.Sound:
			d.State, d.Why = Failed, fmt.Sprintf("%s was not as it must be, by %s", piece.Item.Label, l.check.By)
			if l.item.Note != "" {
				d.Why += ": " + l.item.Note
			}
		case d.State == Failed:
		case looked:
			d.State, d.Why = Stale, l.check.Over
		case d.State == NotDone && len(last) > 0:
			d.State, d.Why = Stale, piece.Item.Label+" was not part of it"
		}
		left = append(left, piece)
	}
	if left == nil {
		d.State, d.Why, left = Passed, "by "+by, worn
	}
	for _, piece := range left {
		d.Proofs = append(d.Proofs, lookOver(piece))
	}
	return d
}

// look is how one thing was found, and by which check.
type look struct {
	item  *rig.WornItem
	check *rig.WornCheck
}

// lastLooks are the last ones on a person today, by item.
func lastLooks(r *rig.Rig, person string) map[string]look {
	last := map[string]look{}
	for i := range r.WornChecks {
		c := &r.WornChecks[i]
		if c.Person != person || c.On != r.Day {
			continue
		}
		for j := range c.Items {
			last[c.Items[j].Item] = look{&c.Items[j], c}
		}
	}
	return last
}

// lookOver is the proof of one thing: its model's own instructions first, then those of its
// class. Its id is the item's.
func lookOver(p *rig.Piece) gear.Proof {
	do, must := []string{}, []string{}
	for _, own := range p.Model.Proofs {
		do, must = append(do, own.Do), append(must, own.Must)
	}
	ofClass := looks(p.Model.Class)
	return gear.Proof{
		ID: p.Item.ID, Do: p.Item.Label + ": " + strings.Join(append(do, ofClass[0]), " "), Must: strings.Join(append(must, ofClass[1]), " "),
		Cue: gear.Felt, Fails: "It may not hold. Take it off, put it aside, take another.", Sign: gear.Look,
	}
}

// looks says what is done with a thing of a class, and what must be seen.
func looks(c gear.Class) [2]string {
	switch c {
	case gear.Harness:
		return [2]string{"Webbing and every stitch through the hand, each buckle, each attachment point.", "No cut, burn, pulled stitch or chemical mark; every buckle holds when it is pulled."}
	case gear.Connector, gear.Swivel:
		return [2]string{"Open it, let it go, turn it in the hand.", "It shuts and locks by itself; no crack, groove or sharp edge, nothing bent."}
	case gear.Lanyard, gear.Sling, gear.FootLoop:
		return [2]string{"All of it through the hand, each stitch, knot and end.", "No cut, burn, glaze or pulled stitch; knots dressed, ends long enough."}
	case gear.Absorber:
		return [2]string{"Look at the pack and both loops.", "Pack whole and shut, nothing drawn out, no cut or pulled stitch."}
	case gear.Pulley:
		return [2]string{"Turn the wheel, shut the plates.", "It turns freely; plates shut, nothing cracked or worn through."}
	case gear.Helmet:
		return [2]string{"Look at shell, cradle and chin strap.", "No crack or dent; the strap shuts and holds."}
	}
	return [2]string{"Look it over.", "Whole, clean, and nothing missing."}
}
