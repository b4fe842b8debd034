package record

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
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

// Unknown reports whether nobody has said who on the drops the signer is: what needs a second
// person is not theirs to sign.
func (s *Signer) Unknown() bool { return s.Person == "" && !s.Nobody }

// Facts are what the store has about the things an entry names; what it does not
// have is nil.
type Facts struct {
	Signer Signer
	// Arrived is when it came, by the server's clock; Sent when it was sent, by the device's.
	Arrived, Sent time.Time
	Item          *gear.Item
	// StoppedAt is when the item that comes back was last put into quarantine; zero where never.
	StoppedAt time.Time
	// InStops are who was in what stopped it since it last came back.
	InStops []string
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

// correctable are the kinds that a later record may correct; those of withdrawable it may take
// back, and not stand in their place: what they stopped comes back by a record of its own.
var (
	correctable  = []Kind{FunctionCheck, PartnerCheck, WornCheck, Familiarisation, Hours, Use, Practice}
	withdrawable = []Kind{Examination, Inspection, RopeNote, RecallNotice}
)

// Correctable are the kinds that a later record may correct or withdraw, for whoever offers it.
func Correctable() []Kind { return slices.Concat(correctable, withdrawable) }

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
		return e.judgeStop(f, at, p)
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
	if e.Confirms != "" && e.Kind != Countersignature && e.Kind != Acknowledgement {
		p.Addf(at+"/confirms", "does not belong to a %s", e.Kind)
	}
	e.judgeBlank(at, p)
}

// judgeBlank refuses what is only spaces where something is to be said.
func (e *Entry) judgeBlank(at string, p *strict.Faults) {
	say := func(place, text string) {
		if strings.TrimSpace(text) == "" {
			p.Addf(at+place, "says nothing: it is only spaces")
		}
	}
	if e.Destroyed != nil {
		say("/destroyed/how", e.Destroyed.How)
		say("/destroyed/by", e.Destroyed.By)
	}
	if e.Hours != nil {
		say("/hours/work", e.Hours.Work)
	}
	if e.Incident != nil {
		say("/incident/what", e.Incident.What)
	}
	if e.Recall != nil {
		say("/recall/source", e.Recall.Source)
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
	case !slices.Contains(Correctable(), c.Kind):
		p.Addf(at, "a record of kind %s is not corrected: it is followed by another one", c.Kind)
	case e.Kind != Withdrawal && slices.Contains(withdrawable, c.Kind):
		p.Addf(at, "a record of kind %s is withdrawn, and then made anew", c.Kind)
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
	if e.Familiar != nil && f.Person != nil && rig.SameName(cmp.Or(strings.TrimSpace(e.Familiar.By), f.Signer.Name), f.Person.Name) {
		p.Addf(at+"/familiar/by", "nobody shows a model to themself: say who did")
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
	case f.Signer.Unknown():
		p.Addf(at+"/confirms", "it is not known who on the drops you are: these hours could be your own")
	case c.By == f.Signer.Account || c.Person == f.Signer.Person:
		p.Addf(at+"/confirms", "nobody countersigns their own hours")
	case e.Person != c.Person:
		p.Addf(at+"/person", "the hours are of %q", c.Person)
	}
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
	case e.Practice.How != rig.OnScreen && f.Signer.Unknown():
		p.Addf(at+"/person", "it is not known whose practice is your own: have a supervisor link your account to a person")
	case e.Practice.How != rig.OnScreen && own:
		p.Addf(at+"/person", "nobody signs their own practice")
	case e.Practice.How != rig.OnScreen && (skill == nil || skill.Screen):
		p.Addf(at+"/practice/skill", "no skill %q is practised on ropes", e.Practice.Skill)
	}
}
