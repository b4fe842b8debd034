// Package procedure holds the function checks: the proofs of a model in their
// order, and which checks a rig needs today, given what is recorded already.
//
// It knows proofs and records. What a missing check means is for the rules.
package procedure

import (
	"cmp"
	"fmt"
	"hash/fnv"
	"slices"
	"strings"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
)

// State is how a check stands.
type State string

const (
	// NotDone: nothing is recorded today.
	NotDone State = "not-done"
	Passed  State = "passed"
	Failed  State = "failed"
	// Stale: something was recorded today that does not count any more.
	Stale State = "stale"
)

// Kind is what is checked.
type Kind string

const (
	OfDevice Kind = "device"
	OfRope   Kind = "rope"
	// OfWorn is the check of what one person wears and carries that has no function check.
	OfWorn Kind = "worn"
	// OfPartner is the partner check of one person's rigging.
	OfPartner Kind = "partner"
)

// Due is one check that a rig needs today, with how it stands.
type Due struct {
	Kind   Kind   `json:"kind" enum:"device,rope,worn,partner"`
	Person string `json:"person,omitempty" doc:"whose hold or rigging"`
	Hold   string `json:"hold,omitempty"`
	Strand string `json:"strand,omitempty"`
	// Item is the device or rope; checks of a person have none.
	Item  string `json:"item,omitempty"`
	Rope  string `json:"rope,omitempty" doc:"the rope a device is checked on"`
	Mode  string `json:"mode,omitempty"`
	Label string `json:"label"`
	On    string `json:"on" doc:"where it is, in words"`
	// Rigging names the state of a person's rigging, for its partner check.
	Rigging string       `json:"rigging,omitempty"`
	State   State        `json:"state" enum:"not-done,passed,failed,stale"`
	Why     string       `json:"why,omitempty" doc:"why it is stale or failed, or who passed it"`
	Proofs  []gear.Proof `json:"proofs"`
	Off     []string     `json:"off,omitempty" doc:"how a device comes off its rope, in order"`
}

// Today lists the checks that a rig needs, in the order in which they are done:
// ropes first, then each person's devices, what they wear, and the partner check. What is out
// of service has failed, whatever was recorded of it before.
func Today(r *rig.Rig) []Due {
	list := Recorded(r)
	for i := range list {
		list[i].stop(r)
	}
	return list
}

// stop fails a check of what is out of service; a partner check of rigging with it counts no more.
func (d *Due) stop(r *rig.Rig) {
	about, state := []*rig.Piece{}, Failed
	for _, p := range r.People {
		switch {
		case p.ID != d.Person:
		case d.Kind == OfWorn:
			about = Worn(p)
		case d.Kind == OfPartner && d.State == Passed:
			about, state = p.All, Stale
		}
	}
	if d.Item != "" {
		about = append(about, r.Piece(d.Item))
	}
	for _, p := range about {
		if d.State != Failed && d.State != state && p.Item.State != gear.InService {
			words := map[gear.State]string{gear.Quarantine: "in quarantine", gear.Retired: "retired"}[p.Item.State]
			d.State, d.Why = state, strings.TrimSuffix(p.Item.Label+" is "+words+": "+p.Item.Reason, ": ")
		}
	}
}

// Recorded are the checks that a rig needs by what is recorded alone.
func Recorded(r *rig.Rig) []Due {
	list := []Due{}
	for _, s := range r.Strands {
		for _, rope := range s.Ropes {
			list = append(list, ropeCheck(r, s, rope))
		}
	}
	if r.Team != nil && r.Team.Body != nil {
		for _, h := range r.Team.Body.Holds {
			list = append(list, deviceCheck(r, h))
		}
	}
	for _, p := range r.People {
		for _, h := range p.Holds {
			list = append(list, deviceCheck(r, h))
		}
		if len(p.Holds) == 0 {
			continue
		}
		if worn := wornCheck(r, p); worn != nil {
			list = append(list, *worn)
		}
		list = append(list, partnerCheck(r, p))
	}
	return list
}

func ropeCheck(r *rig.Rig, s *rig.StrandView, rope rig.RopePart) Due {
	d := Due{Kind: OfRope, Strand: s.ID, Item: rope.Item.ID, Rope: rope.Item.ID, Label: rope.Item.Label, On: s.Name + " strand", State: NotDone, Proofs: Of(rope.Model)}
	for _, c := range r.Checks {
		if c.Item == rope.Item.ID && c.On == r.Day {
			d.judge(rope.Model, c)
		}
	}
	return d
}

func deviceCheck(r *rig.Rig, h *rig.HoldView) Due {
	d := Due{
		Kind: OfDevice, Person: h.Person.ID, Hold: h.ID, Strand: h.Strand.ID, Item: h.Device.Item.ID, Mode: h.Mode.Name,
		Label: h.Device.Item.Label, On: h.Strand.Name + " strand", Proofs: Of(h.Device.Model), Off: Removal(h.Device.Model),
	}
	d.Rope = h.Strand.RopeAt(h.HeightM()).Item.ID
	d.State, d.Why = OfHold(r, h)
	return d
}

// OfHold says how the check of a hold's device stands by the last one recorded
// today. One on a rope of another strand, or in another mode, is stale: the
// device was moved since it was proved here, if ever it was.
func OfHold(r *rig.Rig, h *rig.HoldView) (State, string) {
	d := Due{State: NotDone}
	for _, c := range slices.Backward(r.Checks) {
		if c.Item != h.Device.Item.ID || c.On != r.Day {
			continue
		}
		switch {
		case !h.Strand.Has(c.Rope):
			return Stale, fmt.Sprintf("checked on %s; it is on another rope now", r.Piece(c.Rope).Item.Label)
		case c.Mode != "" && c.Mode != h.Mode.Name:
			return Stale, fmt.Sprintf("checked in mode %q; it is in %q now", c.Mode, h.Mode.Name)
		}
		d.judge(h.Device.Model, c)
		break
	}
	return d.State, d.Why
}

// Missing is the first proof of a model that a check was done without; empty
// where none is missing, or where the check does not say what it was made of.
func Missing(m *gear.Model, done []rig.ProofResult) string {
	if len(done) == 0 {
		return ""
	}
	for _, p := range Of(m) {
		if !slices.ContainsFunc(done, func(r rig.ProofResult) bool { return r.Proof == p.ID }) {
			return p.ID
		}
	}
	return ""
}

func (d *Due) judge(m *gear.Model, c rig.FunctionCheck) {
	d.State, d.Why = Passed, "by "+c.By
	if !c.Passed {
		d.State = Failed
	} else if missing := Missing(m, c.Proofs); missing != "" {
		d.State, d.Why = Stale, fmt.Sprintf("proof %q was not part of it", missing)
	}
	if d.State == Passed && c.Over != "" {
		d.State, d.Why = Stale, c.Over
	}
	for _, p := range c.Proofs {
		// A proof that failed counts whatever was said of the whole.
		if !p.Did {
			d.State = Failed
			d.Why = fmt.Sprintf("the proof %q failed, by %s", Title(p.Proof), c.By)
			if p.Note != "" {
				d.Why += ": " + p.Note
			}
		}
	}
}

// partnerCheck is stale as soon as anything in the person's rigging is changed, and changed
// back: the last one of the day decides. One of their own rigging does not count.
func partnerCheck(r *rig.Rig, p *rig.PersonView) Due {
	d := Due{Kind: OfPartner, Person: p.ID, Label: "Partner check", On: p.Name, Rigging: Rigging(p), State: NotDone, Proofs: touches(p)}
	for _, c := range r.PartnerChecks {
		switch {
		case c.Person != p.ID || c.On != r.Day || rig.SameName(c.By, p.Name):
		case sameRigging(c.Rigging, d.Rigging) && c.Failed:
			d.State, d.Why = Failed, cmp.Or(c.Over, "by "+c.By)
		case sameRigging(c.Rigging, d.Rigging) && c.Over != "":
			d.State, d.Why = Stale, c.Over
		case sameRigging(c.Rigging, d.Rigging):
			d.State, d.Why = Passed, "by "+c.By
		default:
			d.State, d.Why = Stale, "the rigging was changed since, checked by "+c.By
		}
	}
	return d
}

// touches are the proofs of a partner check: the other person touches every hold
// and says it.
func touches(p *rig.PersonView) []gear.Proof {
	list := []gear.Proof{}
	for i, h := range p.Holds {
		parts := []string{h.Device.Item.Label + " on " + h.Strand.Name + ", arrow and rope as its picture shows, " + h.Position.Name}
		for _, l := range h.Links {
			if parts = append(parts, l.Item.Label); l.Model.Connector != nil {
				parts[len(parts)-1] += " shut and locked"
			}
		}
		parts = append(parts, string(h.Point)+" point")
		list = append(list, gear.Proof{
			ID: fmt.Sprintf("hold-%d", i+1), Do: "Touch it and say it: " + strings.Join(parts, "; ") + ".", Must: "Each thing named is there, and as said.",
			Cue: gear.Felt, Fails: "Put it right, and begin the partner check again.", Sign: gear.Touch,
		})
	}
	return list
}

// Rigging names everything a partner check looks at: two riggings have one name
// only where nothing was changed. It is a name, not a seal.
func Rigging(p *rig.PersonView) string {
	h := fnv.New64a()
	for _, o := range p.Holds {
		ropes := make([]string, len(o.Strand.Ropes))
		for i, r := range o.Strand.Ropes {
			ropes[i] = r.Item.ID
		}
		fmt.Fprintln(h, o.ID, o.Strand.ID, ropes, o.Device.Item.ID, o.Mode.Name, o.Position.Name, o.Point, o.Threaded, o.Open, o.ExtraFriction, o.SecondKg)
		for _, l := range o.Links {
			fmt.Fprintln(h, l.Item.ID, l.Link.Gate, l.Link.Lie)
		}
	}
	holds := h.Sum64()
	if p.Harness == nil {
		return fmt.Sprintf("%016x-none", holds)
	}
	// Who changes their harness takes everything off it.
	fmt.Fprintln(h, p.Harness.Item.ID)
	return fmt.Sprintf("%016x-%016x", holds, h.Sum64())
}

// sameRigging compares names of riggings. Names of before the harness was part of them are of
// the holds alone.
func sameRigging(checked, now string) bool {
	holds, _, _ := strings.Cut(now, "-")
	return checked == now || checked == holds
}

// RiggingOn names the rigging of a person as it is in a document; empty for nobody of this
// id.
func RiggingOn(d *drop.Document, person string) string {
	r, err := d.Rig()
	if err != nil {
		return ""
	}
	for _, p := range r.People {
		if p.ID == person {
			return Rigging(p)
		}
	}
	return ""
}
