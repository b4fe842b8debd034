package record

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

func (e *Entry) judgeCheck(f *Facts, at string, p *strict.Faults) (conflict string) {
	e.wantItem(f, at, p)
	if e.Check == nil || f.Item == nil || f.Model == nil {
		return ""
	}
	switch {
	case e.Check.Way == Together && !e.Check.Passed:
		p.Addf(at+"/check/way", "what fails is proved one by one")
	case e.Check.Way == Together && e.Paper != nil:
		p.Addf(at+"/check/way", "is of a screen, not of paper")
	case e.Check.Way == Together && !f.Familiar:
		p.Addf(at+"/check/way", "its proofs are signed at once by who is familiar with %s", f.Model.Title())
	}
	if f.Rope == nil {
		p.Addf(at+"/check/rope", "no item %q in the store", e.Check.Rope)
	}
	if e.Check.Passed && slices.ContainsFunc(e.Check.Proofs, func(r rig.ProofResult) bool { return !r.Did }) {
		p.Addf(at+"/check/passed", "a proof did not do what it must")
	}
	if !e.Check.Passed && strings.TrimSpace(e.Note) == "" && !slices.ContainsFunc(e.Check.Proofs, func(r rig.ProofResult) bool { return !r.Did }) {
		p.Addf(at+"/check/passed", "no proof failed, and no note says why")
	}
	if e.Check.Passed && f.Item.State != gear.InService {
		return fmt.Sprintf("%s is in state %s: %s", f.Item.Label, f.Item.State, f.Item.Reason)
	}
	if e.Check.Passed {
		if missing := procedure.Missing(f.Model, e.Check.Proofs); missing != "" {
			return fmt.Sprintf("the proof %q was not part of it", procedure.Title(missing))
		}
	}
	return e.otherDay(f)
}

func (e *Entry) judgePartner(f *Facts, at string, p *strict.Faults) (conflict string) {
	switch {
	case e.Person == "":
		p.Addf(at+"/person", "missing")
	case e.Person == f.Signer.Person:
		p.Addf(at+"/person", "nobody does the partner check of their own rigging")
	case f.Signer.Unknown():
		p.Addf(at+"/person", "it is not known who on the drops you are: another supervisor ties your login to a person, or says that you are nobody there")
	case e.Drop == "":
		p.Addf(at+"/drop", "missing")
	}
	if e.Partner == nil {
		return ""
	}
	if e.Partner.Passed && slices.ContainsFunc(e.Partner.Proofs, func(r rig.ProofResult) bool { return !r.Did }) {
		p.Addf(at+"/partner/passed", "a hold was not as said")
	}
	if e.Paper != nil && f.RiggingThen != e.Partner.Rigging {
		p.Addf(at+"/paper/at", "the rigging was not as it is now at that time: what was looked at is not what hangs")
	}
	if f.Rigging != "" && f.Rigging != e.Partner.Rigging {
		return "the rigging was changed meanwhile"
	}
	return e.otherDay(f)
}

func (e *Entry) otherDay(f *Facts) string {
	switch {
	case e.Drop == "":
		return ""
	case f.DropDay == "":
		return "the drop no longer exists"
	case f.DropDay != e.Day:
		return fmt.Sprintf("the drop is for %s now", f.DropDay)
	}
	return ""
}

// judgeStop wants who was in the event to be of the team: one who is not keeps nobody from
// bringing it back.
func (e *Entry) judgeStop(f *Facts, at string, p *strict.Faults) (conflict string) {
	e.wantItem(f, at, p)
	e.notLater(f, at, p)
	if e.Quarantine != nil {
		for i, id := range e.Quarantine.Involved() {
			where := at + "/quarantine/in"
			if e.Quarantine.In == "" {
				where = fmt.Sprintf("%s/quarantine/others_in/%d", at, i)
			} else if i > 0 {
				where = fmt.Sprintf("%s/quarantine/others_in/%d", at, i-1)
			}
			if f.Present[id] == nil {
				p.Addf(where, "nobody of this id in the team")
			}
		}
	}
	if f.Item != nil && f.Item.State == gear.Retired {
		return "retired already: " + f.Item.Reason
	}
	return ""
}

func (e *Entry) judgeReturn(f *Facts, at string, p *strict.Faults) {
	e.wantItem(f, at, p)
	e.notLater(f, at, p)
	if f.Item == nil {
		return
	}
	if f.Item.State != gear.Quarantine {
		p.Addf(at+"/item", "%s is in state %s, not in quarantine", f.Item.Label, f.Item.State)
	}
	if f.MayNotExamine != "" {
		p.Addf(at+"/item", "%s", f.MayNotExamine)
	}
	// Who gave this without a connection has not looked at what happened since.
	if given := e.Given().Add(time.Duration(f.ClockOffS()) * time.Second); given.Before(f.StoppedAt) {
		p.Addf(at+"/given_at", "is before %s was stopped again: look at it anew", f.Item.Label)
	}
	in := slices.Clone(f.InStops)
	for _, v := range f.Item.Events {
		if v.CheckedOn == "" && v.In != "" {
			in = append(in, v.In)
		}
	}
	switch {
	case len(in) == 0:
	case slices.Contains(in, f.Signer.Person):
		p.Addf(at+"/item", "you were in the event: somebody else brings it back")
	case f.Signer.Unknown():
		p.Addf(at+"/item", "it is not known who on the drops you are, and somebody was in the event")
	}
}

// judgeRetirement wants an item that is not retired yet: that is final.
func (e *Entry) judgeRetirement(f *Facts, at string, p *strict.Faults) {
	e.wantItem(f, at, p)
	e.notLater(f, at, p)
	if f.Item != nil && f.Item.State == gear.Retired {
		p.Addf(at+"/item", "is retired already: %s", f.Item.Reason)
	}
}
