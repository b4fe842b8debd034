// Package school knows where practitioners differ over moves of one person: each
// question with its answers, and what speaks for each. A plan follows one answer to
// each question and says which. None relaxes the two-line rule.
package school

import (
	"cmp"
	"fmt"
	"reflect"
	"slices"
	"strings"
)

// Schools are the answers that a plan follows. An answer left out is the shipped
// one, the first of its question.
type Schools struct {
	KnotCover     string `json:"knot_cover,omitempty" enum:"any,second-device,loop,eye" doc:"how a knot on the backup is passed; left out: any way"`
	KnotOrder     string `json:"knot_order,omitempty" enum:"shortest-fall,main-first,backup-first" doc:"which knot is passed first; left out: what keeps the shortest fall"`
	KnotUp        string `json:"knot_up,omitempty" enum:"chest,descender" doc:"what bears while the chest ascender goes past a knot above"`
	Sides         string `json:"sides,omitempty" enum:"four,fewer" doc:"holds while changing sides at a narrow re-belay or short transfer"`
	TransferCover string `json:"transfer_cover,omitempty" enum:"device,loop" doc:"backup on the strands changed over to"`
	HandPoint     string `json:"hand_point,omitempty" enum:"third,never" doc:"whether a hand ascender on its lanyard counts as a third hold; never as one of the two"`
	HandLanyard   string `json:"hand_lanyard,omitempty" enum:"own,shared" doc:"the hand ascender's lanyard"`
	Ascent        string `json:"ascent,omitempty" enum:"chest,descender" doc:"what one climbs on"`
	Stroke        string `json:"stroke,omitempty" enum:"every,hands" doc:"when a descender that one climbs on is parked"`
	BackupDown    string `json:"backup_down,omitempty" enum:"one-for-one,towed" doc:"how the backup comes down"`
	BackupKind    string `json:"backup_kind,omitempty" enum:"any,wheel,cam" doc:"kind that a site asks for"`
	Parked        string `json:"parked,omitempty" enum:"tied,lock" doc:"a descender parked at work"`
	BrakeHand     string `json:"brake_hand,omitempty" enum:"always,near" doc:"the hand on the control strand while a descender is in hold"`
	DamageAbove   string `json:"damage_above,omitempty" enum:"sound,past" doc:"damage seen above while climbing"`
	IsolatingKnot string `json:"isolating_knot,omitempty" enum:"plain,eye" doc:"the knot that takes damage out of the line"`
	Tails         string `json:"tails,omitempty" enum:"ten,twenty,hand" doc:"least tails of knots that are tied on the way"`
	ThumbRelease  string `json:"thumb_release,omitempty" enum:"slack,slopes" doc:"what the thumb release of a descender is for"`
	// DamageReason must be given for going past damage.
	DamageReason string `json:"damage_reason,omitempty" maxLength:"300" doc:"written reason for going past damage"`
}

// Way is one answer of a question with what speaks for it.
type Way struct {
	Value string `json:"value"`
	Words string `json:"words"`
	For   string `json:"for" doc:"what speaks for it"`
}

// Question is a place where practitioners differ.
type Question struct {
	Name    string `json:"name" doc:"as in the schools of a plan"`
	Asks    string `json:"asks"`
	Answers []Way  `json:"answers" doc:"the first is the shipped one"`
	// Moves are those it bears on.
	Moves []string `json:"moves"`
}

var (
	knots = []string{"pass-knots-up", "pass-knots-down", "isolate-damage", "there-and-back"}
	sides = []string{"rebelay-up", "rebelay-down", "transfer", "there-and-back"}
	all   = []string{"leave-ground", "ascend", "ascend-to-descend", "descend-to-ascend", "descend", "pass-knots-up", "pass-knots-down", "isolate-damage", "transfer", "rebelay-up", "rebelay-down", "deviation-up", "deviation-down", "aid", "short-work", "over-edge", "there-and-back"}
)

// Catalogue is every question about moves of one person.
var Catalogue = []Question{
	{"knot_cover", "passing a knot on the backup", []Way{
		{"any", "any way", "the cheapest with the kit that is there"},
		{"second-device", "a second backup device", "quick, always a device that grips; one more thing to carry"},
		{"loop", "a loop tied beside it and a lanyard", "no second device needed; a knot to tie and untie while hanging"},
		{"eye", "the eye of the knot itself", "nothing to tie; only where the knot leaves an eye"},
	}, knots},
	{"knot_order", "which knot first", []Way{
		{"shortest-fall", "what keeps the shortest fall", "the knots' places decide"},
		{"main-first", "the main's first", "always the same order, remembered when tired"},
		{"backup-first", "the backup's first", "the backup is settled before the weight moves"},
	}, knots},
	{"knot_up", "a knot above, going up", []Way{
		{"chest", "straight on to the chest ascender above", "fewer things on the rope"},
		{"descender", "a descender stays on below until the chest ascender bears", "something one could go down on is on the rope throughout"},
	}, []string{"pass-knots-up", "there-and-back"}},
	{"sides", "holds while changing sides close by", []Way{
		{"four", "always four", "two on each side: any one thing may fail, and nothing is to be judged"},
		{"fewer", "fewer where both sides are in reach", "less to handle; each failure is looked at instead"},
	}, sides},
	{"transfer_cover", "backup on the strands changed over to", []Way{
		{"device", "a second backup device", "follows as one moves"},
		{"loop", "a loop knot and a lanyard", "no second device needed; to be moved by hand"},
	}, sides},
	{"hand_point", "the hand ascender as a point", []Way{
		{"third", "counts as a third", "on its lanyard it catches, close by"},
		{"never", "never counts", "toothed, and easily left open or too high"},
	}, all},
	{"hand_lanyard", "the hand ascender's lanyard", []Way{
		{"own", "its own", "the clip-in lanyards stay free"},
		{"shared", "shared with the long lanyard", "less hangs from the harness; not both at once"},
	}, all},
	{"ascent", "what one climbs on", []Way{
		{"chest", "chest and hand ascender", "fast over any height"},
		{"descender", "descender and hand ascender", "short ways only: no changeover to go down again"},
	}, []string{"ascend"}},
	{"stroke", "a descender climbed on is parked", []Way{
		{"every", "at every stroke", "nothing runs back whatever the hand does"},
		{"hands", "only when the hand leaves it", "quicker; the hand stays on the control strand"},
	}, []string{"ascend"}},
	{"backup_down", "the backup while descending", []Way{
		{"one-for-one", "moved one for one: stop, move it, descend", "it is never held by hand while the body moves"},
		{"towed", "towed by its cord", "one smooth descent; only where the model allows"},
	}, []string{"descend", "pass-knots-down", "rebelay-down", "deviation-down", "there-and-back"}},
	{"backup_kind", "kind of backup device", []Way{
		{"any", "either", "each by its own rules"},
		{"wheel", "wheel", "follows by itself"},
		{"cam", "cam", "stays where it is put"},
	}, all},
	{"parked", "the descender at work", []Way{
		{"tied", "parked and tied off", "nothing opens it by mistake"},
		{"lock", "its lock alone", "quicker to go on; nothing to untie under load"},
	}, []string{"short-work"}},
	{"brake_hand", "hand on the control strand", []Way{
		{"always", "always, until it is parked", "the habit holds for every model"},
		{"near", "near it, where the model stops by itself", "the model's instructions allow it"},
	}, all},
	{"damage_above", "damage seen above while climbing", []Way{
		{"sound", "load it no further: the sound strand, another set, or rescue", "nobody sees a core through a sheath"},
		{"past", "sheath only, the other strand sound: smoothly past it and tied out from above", "with a written reason; every such step is in breach and says so"},
	}, []string{"isolate-damage"}},
	{"isolating_knot", "the isolating knot", []Way{
		{"plain", "a long plain loop", "quick"},
		{"eye", "a loop with a second knot that leaves an eye", "can be clipped into when it is passed"},
	}, knots},
	{"tails", "tails of knots tied on the way", []Way{
		{"ten", "ten diameters", "measured on the rope itself"},
		{"twenty", "twenty diameters", "more to spare for stiff and wet rope"},
		{"hand", "a hand's width", "measured with what is always there"},
	}, knots},
	{"thumb_release", "the thumb release of a descender", []Way{
		{"slack", "for slack only", "pressed, a descender is no hold"},
		{"slopes", "also on slopes where the feet carry", "the weight is on the feet; never where one hangs"},
	}, []string{"over-edge"}},
}

// With gives the schools with every answer that is left out filled in by another's.
func (s Schools) With(other Schools) Schools {
	own, theirs := reflect.ValueOf(&s).Elem(), reflect.ValueOf(other)
	for i := range own.NumField() {
		own.Field(i).SetString(cmp.Or(own.Field(i).String(), theirs.Field(i).String()))
	}
	return s
}

// Shipped answers every question with the shipped way.
func Shipped() Schools {
	var s Schools
	for _, q := range Catalogue {
		s.set(q.Name, q.Answers[0].Value)
	}
	return s
}

// Find gives a question by its name; nil for none.
func Find(name string) *Question {
	if i := slices.IndexFunc(Catalogue, func(q Question) bool { return q.Name == name }); i >= 0 {
		return &Catalogue[i]
	}
	return nil
}

// Set answers a question, as it is stated on a command line; the error says what could
// be answered.
func (s *Schools) Set(name, value string) error {
	name = strings.ReplaceAll(name, "-", "_")
	if name == "damage_reason" {
		s.DamageReason = value
		return nil
	}
	q := Find(name)
	if q == nil {
		var names []string
		for _, q := range Catalogue {
			names = append(names, q.Name)
		}
		return fmt.Errorf("no school %q; known are %s", name, strings.Join(names, ", "))
	}
	var values []string
	for _, a := range q.Answers {
		if a.Value == value {
			s.set(name, value)
			return nil
		}
		values = append(values, a.Value)
	}
	return fmt.Errorf("%s is not %q but one of %s", name, value, strings.Join(values, ", "))
}

func (s *Schools) set(name, value string) {
	v := reflect.ValueOf(s).Elem()
	for i := range v.NumField() {
		if tag, _, _ := strings.Cut(v.Type().Field(i).Tag.Get("json"), ","); tag == name {
			v.Field(i).SetString(value)
		}
	}
}
