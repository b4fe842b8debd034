package record

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// Limits of what a device's clock may say.
const (
	// Oldest is how long something given without a connection may wait.
	Oldest = 31 * 24 * time.Hour
	// ClockOff is how far a device's clock may be off before its entries are
	// refused; from ClockNoted on it is noted beside them.
	ClockOff   = 12 * time.Hour
	ClockNoted = time.Minute
)

// Signer is who is signed in.
type Signer struct {
	Account UUID
	Name    string
	// Person is who on the team's drops this is. Nobody: another supervisor has said that
	// they are nobody there. With neither it is not known whose rigging is their own.
	Person string
	Nobody bool
	// Others says that the signer may correct what others recorded, and record hours
	// for them.
	Others bool
	// Keeps says that the signer keeps the store.
	Keeps bool
}

// Facts are what the store has about the things an entry names; what it does not
// have is nil.
type Facts struct {
	Signer Signer
	// Arrived is when it came, by the server's clock; Sent when it was sent, by the device's.
	Arrived, Sent time.Time
	Item          *gear.Item
	// StoppedAt is when the item that comes back was last put into quarantine; zero where never.
	StoppedAt time.Time
	// Familiar: the signer was shown the item's model, by the entry's day. Paper is who did it on
	// paper.
	Familiar bool
	Paper    *rig.Member
	// Model is of the item, or the one somebody is familiar with.
	Model  *gear.Model
	Rope   *gear.Item
	Person *rig.Member
	Kit    *gear.Kit
	// Counted are the items of the store that the entry counts.
	Counted map[string]*gear.Item
	// MayNotExamine says why the signer may not examine the item; empty where they may.
	MayNotExamine string
	// With is the other rope of a joint.
	With *gear.Item
	// Present are the people of the team that the entry names; Photos the pictures that are there.
	Present map[string]*rig.Member
	Photos  map[string]bool
	// Runs are those that there are of what the entry names.
	Runs map[string]bool
	// Taken says that the id of the part that is cut off is another item's.
	Taken bool
	// RiggingThen is of the drop as it was when a paper says that it was looked at.
	RiggingThen string
	// DropDay and Rigging are of the drop as it is now; empty where there is none.
	DropDay gear.Date
	Rigging string
	// Corrected is the record that the entry corrects, Confirmed the one that it confirms.
	Corrected, Confirmed *Corrected
	// HoursThatDay are those that stand for the entry's person and day, without the ones
	// that it corrects.
	HoursThatDay quantity.Hours
}

// Corrected is what is known of a record that an entry corrects or confirms.
type Corrected struct {
	Kind Kind
	By   UUID
	// Person is whom it is about.
	Person string
	// Already says that another record corrects it.
	Already bool
}

// correctable are the kinds that a later record may correct.
var correctable = []Kind{FunctionCheck, PartnerCheck, WornCheck, Familiarisation, Hours, Use, Practice}

// Judge says what is to be done with an entry: what cannot be recorded is reported
// to p, with its place below at; conflict says what was otherwise in the store than
// the device could know, and is recorded with it.
func (f *Facts) Judge(e *Entry, at string, p *strict.Faults) (conflict string) {
	e.judgeClock(f, at, p)
	e.judgeParts(at, p)
	e.judgeCorrection(f, at, p)
	e.judgePhotos(f, at, p)
	e.judgePaper(f, at, p)
	switch e.Kind {
	case FunctionCheck:
		return e.judgeCheck(f, at, p)
	case PartnerCheck:
		return e.judgePartner(f, at, p)
	case WornCheck:
		return e.judgeWorn(f, at, p)
	case Quarantine:
		e.wantItem(f, at, p)
		if f.Item != nil && f.Item.State == gear.Retired {
			return "retired already: " + f.Item.Reason
		}
	case BackInService:
		e.judgeReturn(f, at, p)
	case Familiarisation:
		e.judgeFamiliar(f, at, p)
	case Hours:
		e.judgeHours(f, at, p)
	case KitIssue, KitReturn, KitSealed, SealBroken:
		return e.judgeKit(f, at, p)
	case Countersignature:
		e.judgeCountersignature(f, at, p)
	case Examination, Inspection:
		return e.judgeExamined(f, at, p)
	case RopeNote, RopeCutting:
		e.judgeRope(f, at, p)
	case Retirement:
		e.judgeRetirement(f, at, p)
	case Use:
		e.judgeUse(f, at, p)
	case Incident:
		e.judgeIncident(f, at, p)
	case Practice:
		e.judgePractice(f, at, p)
	case RecallNotice:
		e.judgeRecall(f, at, p)
	case Acknowledgement:
		e.judgeAcknowledgement(f, at, p)
	}
	if e.Confirms != "" && e.Kind != Countersignature && e.Kind != Acknowledgement {
		p.Addf(at+"/confirms", "does not belong to a %s", e.Kind)
	}
	return ""
}

func (e *Entry) judgeClock(f *Facts, at string, p *strict.Faults) {
	off := f.Arrived.Sub(f.Sent)
	switch given := e.Given(); {
	case off.Abs() > ClockOff:
		p.Addf("/sent_at", "the clock of this device is off by %v; set it", off.Abs().Round(time.Minute))
	case given.After(f.Sent.Add(time.Second)):
		p.Addf(at+"/given_at", "is later than the device says it is now")
	case f.Sent.Sub(given) > Oldest:
		p.Addf(at+"/given_at", "is more than %d days ago", int(Oldest.Hours()/24))
	}
}

// judgePaper wants of a check that is typed from paper who did it, somebody of the team, and a
// time before it was typed.
func (e *Entry) judgePaper(f *Facts, at string, p *strict.Faults) {
	if e.Paper == nil {
		return
	}
	done, _ := time.Parse(time.RFC3339Nano, e.Paper.At)
	switch {
	case e.Kind != FunctionCheck && e.Kind != PartnerCheck && e.Kind != WornCheck:
		p.Addf(at+"/paper", "does not belong to a %s", e.Kind)
	case f.Paper == nil:
		p.Addf(at+"/paper/by", "nobody of this id in the team")
	case e.Kind == PartnerCheck && e.Paper.By == e.Person:
		p.Addf(at+"/paper/by", "nobody does the partner check of their own rigging")
	case done.After(e.Given()):
		p.Addf(at+"/paper/at", "is later than it was typed")
	case e.Given().Sub(done) > Oldest:
		p.Addf(at+"/paper/at", "is more than %d days before it was typed", int(Oldest.Hours()/24))
	}
}

// ClockOffS is how far a device's clock was behind, in whole seconds; 0 where it
// was right to the minute.
func (f *Facts) ClockOffS() int {
	off := f.Arrived.Sub(f.Sent)
	if off.Abs() < ClockNoted {
		return 0
	}
	return int(off.Seconds())
}

// judgeParts wants the part of the entry's kind, and no other.
func (e *Entry) judgeParts(at string, p *strict.Faults) {
	for _, part := range []struct {
		name  string
		kind  Kind
		there bool
	}{
		{"check", FunctionCheck, e.Check != nil},
		{"partner", PartnerCheck, e.Partner != nil},
		{"worn", WornCheck, e.Worn != nil},
		{"quarantine", Quarantine, e.Quarantine != nil},
		{"familiar", Familiarisation, e.Familiar != nil},
		{"hours", Hours, e.Hours != nil},
		{"kit", KitIssue, e.Kit != nil},
		{"examined", Examination, e.Examined != nil},
		{"recall", RecallNotice, e.Recall != nil},
		{"rope", RopeNote, e.Rope != nil},
		{"cut", RopeCutting, e.Cut != nil},
		{"destroyed", Retirement, e.Destroyed != nil},
		{"use", Use, e.Use != nil},
		{"incident", Incident, e.Incident != nil},
		{"practice", Practice, e.Practice != nil},
	} {
		kind := e.Kind
		switch kind { // two kinds, the same part
		case KitReturn, KitSealed, SealBroken:
			kind = KitIssue
		case Inspection:
			kind = Examination
		}
		switch {
		case part.there && part.kind != kind:
			p.Addf(at+"/"+part.name, "does not belong to a %s", e.Kind)
		case !part.there && part.kind == kind:
			p.Addf(at+"/"+part.name, "missing")
		}
	}
	if (e.Kind == BackInService || e.Kind == Withdrawal || e.Kind == Retirement) && strings.TrimSpace(e.Note) == "" {
		p.Addf(at+"/note", "missing: say what was checked, or why")
	}
}

func (e *Entry) judgeCorrection(f *Facts, at string, p *strict.Faults) {
	at += "/corrects"
	c := f.Corrected
	switch {
	case e.Corrects == "" && e.Kind == Withdrawal:
		p.Addf(at, "missing")
	case e.Corrects == "":
	case c == nil:
		p.Addf(at, "no such record")
	case !slices.Contains(correctable, c.Kind):
		p.Addf(at, "a %s is not corrected: it is followed by another record", c.Kind)
	case e.Kind != Withdrawal && e.Kind != c.Kind:
		p.Addf(at, "is a %s", c.Kind)
	case c.Already:
		p.Addf(at, "is corrected already")
	case c.By != f.Signer.Account && !f.Signer.Others:
		p.Addf(at, "was signed by somebody else")
	}
}

func (e *Entry) wantItem(f *Facts, at string, p *strict.Faults) {
	switch {
	case e.Item == "":
		p.Addf(at+"/item", "missing")
	case f.Item == nil:
		p.Addf(at+"/item", "no item %q in the store", e.Item)
	}
}

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
	case f.Signer.Person == "" && !f.Signer.Nobody:
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

func (e *Entry) judgeReturn(f *Facts, at string, p *strict.Faults) {
	e.wantItem(f, at, p)
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
	for _, v := range f.Item.Events {
		switch {
		case v.CheckedOn != "" || v.In == "":
		case v.In == f.Signer.Person:
			p.Addf(at+"/item", "you were in the event: somebody else brings it back")
		case f.Signer.Person == "" && !f.Signer.Nobody:
			p.Addf(at+"/item", "it is not known who on the drops you are, and somebody was in the event")
		}
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

// judgePhotos requires that every named picture was sent before, and that the kind may have one.
func (e *Entry) judgePhotos(f *Facts, at string, p *strict.Faults) {
	for i, sum := range e.Photos {
		switch where := fmt.Sprintf("%s/photos/%d", at, i); {
		case !slices.Contains([]Kind{Examination, Inspection, Quarantine, Retirement, RopeNote, Incident}, e.Kind):
			p.Addf(where, "does not belong to a %s", e.Kind)
		case slices.Contains(e.Photos[:i], sum):
			p.Addf(where, "is given twice")
		case !f.Photos[sum]:
			p.Addf(where, "is not here: it is sent first")
		}
	}
}

func (e *Entry) judgeFamiliar(f *Facts, at string, p *strict.Faults) {
	if f.Person == nil {
		p.Addf(at+"/person", "nobody of this id in the team")
	}
	if e.Familiar != nil && f.Model == nil {
		p.Addf(at+"/familiar/model", "no model %q in the store", e.Familiar.Model)
	}
	e.notLater(f, at, p)
}

func (e *Entry) judgeHours(f *Facts, at string, p *strict.Faults) {
	switch {
	case f.Person == nil:
		p.Addf(at+"/person", "nobody of this id in the team")
	case e.Person != f.Signer.Person && !f.Signer.Others:
		p.Addf(at+"/person", "only one's own hours are recorded")
	}
	// The sum may be a hair over for how it is added up.
	if e.Hours != nil && e.Hours.Hours+f.HoursThatDay > 24+1e-9 {
		p.Addf(at+"/hours/hours_h", "with the %v that are recorded for this day already it has more than 24 hours", f.HoursThatDay)
	}
	e.notLater(f, at, p)
}

// judgeCountersignature wants hours that stand, of somebody else, recorded by somebody else.
func (e *Entry) judgeCountersignature(f *Facts, at string, p *strict.Faults) {
	c := f.Confirmed
	switch {
	case e.Confirms == "":
		p.Addf(at+"/confirms", "missing")
	case c == nil:
		p.Addf(at+"/confirms", "no such record")
	case c.Kind != Hours:
		p.Addf(at+"/confirms", "a %s is not countersigned", c.Kind)
	case c.Already:
		p.Addf(at+"/confirms", "is corrected: countersign the record in its place")
	case !f.Signer.Others:
		p.Addf(at+"/confirms", "hours are countersigned by a supervisor")
	case f.Signer.Person == "" && !f.Signer.Nobody:
		p.Addf(at+"/confirms", "it is not known who on the drops you are: these hours could be your own")
	case c.By == f.Signer.Account || c.Person == f.Signer.Person:
		p.Addf(at+"/confirms", "nobody countersigns their own hours")
	case e.Person != c.Person:
		p.Addf(at+"/person", "the hours are of %q", c.Person)
	}
}

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
		return &gear.Seal{Number: strings.TrimSpace(e.Kit.Seal), On: e.Day, By: by, Items: len(e.Kit.Items)}
	case KitIssue:
		return k.Seal
	}
	return nil
}

// NotBack are the items that are missing from a kit after an entry that hands it out or takes
// it back: what was missing before, and of a return what went out, without what is counted.
func (e *Entry) NotBack(k *gear.Kit) []string {
	list := slices.Clone(k.Missing)
	if e.Kind == KitReturn {
		list = append(list, k.Out...)
	}
	slices.Sort(list)
	return slices.DeleteFunc(slices.Compact(list), func(id string) bool { return slices.Contains(e.Kit.Items, id) })
}

// notLater wants a day that has begun somewhere on earth.
func (e *Entry) notLater(f *Facts, at string, p *strict.Faults) {
	if latest := gear.Date(f.Arrived.Add(14 * time.Hour).UTC().Format(time.DateOnly)); e.Day > latest {
		p.Addf(at+"/day", "has not come yet")
	}
}

// judgePractice wants a skill that is kept, and somebody else who signs what was done on ropes:
// what was done on a screen is signed by oneself, with its mark.
func (e *Entry) judgePractice(f *Facts, at string, p *strict.Faults) {
	if f.Person == nil {
		p.Addf(at+"/person", "nobody of this id in the team")
	}
	e.notLater(f, at, p)
	if e.Practice == nil {
		return
	}
	skill := manoeuvre.FindSkill(e.Practice.Skill)
	own := e.Person != "" && e.Person == f.Signer.Person
	switch {
	case e.Practice.How == rig.OnScreen && e.Practice.SHA256 == "":
		p.Addf(at+"/practice/how", "what is practised on a screen is recorded with its mark")
	case e.Practice.How == rig.OnScreen && !own:
		p.Addf(at+"/person", "what is practised on a screen is one's own")
	case e.Practice.How != rig.OnScreen && f.Signer.Person == "" && !f.Signer.Nobody:
		p.Addf(at+"/person", "it is not known whose practice is your own: have a supervisor link your account to a person")
	case e.Practice.How != rig.OnScreen && own:
		p.Addf(at+"/person", "nobody signs their own practice")
	case e.Practice.How != rig.OnScreen && (skill == nil || skill.Screen):
		p.Addf(at+"/practice/skill", "no skill %q is practised on ropes", e.Practice.Skill)
	}
}
