package drill

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
)

// A fact is something that two models say of themselves, and that is asked as a question. It is
// about the first of the two, or about both.
type fact struct {
	name string
	// asks is the question; empty where the model says nothing of it.
	asks func(a *gear.Model, mode *gear.Mode) string
	// figure is what the first says as a number; has whether a model has it; word what it says
	// in words, out of words.
	figure func(m *gear.Model, mode *gear.Mode) quantity.Quantity
	has    func(m *gear.Model) bool
	word   func(m *gear.Model) string
	words  []string
}

func device(m *gear.Model) bool { return m.Device != nil }

// facts are all that is asked about, by the models' own fields.
var facts = []fact{
	{name: "thickest", asks: inMode("How thick a rope does %s take at most%s?"), figure: func(_ *gear.Model, g *gear.Mode) quantity.Quantity { return g.Ropes[0].MaxMM }},
	{name: "thinnest", asks: inMode("How thin a rope does %s take%s?"), figure: func(_ *gear.Model, g *gear.Mode) quantity.Quantity { return g.Ropes[0].MinMM }},
	{name: "heaviest", asks: inMode("How heavy a load does %s bear at most%s?"), figure: func(_ *gear.Model, g *gear.Mode) quantity.Quantity { return g.MaxKg }},
	{name: "longest", asks: inMode("How far may %s descend at a time%s?"), figure: func(_ *gear.Model, g *gear.Mode) quantity.Quantity { return g.MaxDescentM }},
	{name: "fastest", asks: of(device, "How fast may %s descend?"), figure: func(m *gear.Model, _ *gear.Mode) quantity.Quantity { return m.Device.MaxSpeedMS }},
	{name: "open-gate", asks: of(func(m *gear.Model) bool { return m.Connector != nil }, "What does %s hold with its gate open?"), figure: func(m *gear.Model, _ *gear.Mode) quantity.Quantity { return m.Connector.OpenKN }},
	{name: "across", asks: of(func(m *gear.Model) bool { return m.Connector != nil }, "What does %s hold when it is loaded across?"), figure: func(m *gear.Model, _ *gear.Mode) quantity.Quantity { return m.Connector.AcrossKN }},
	{name: "lift", asks: of(func(m *gear.Model) bool { return m.Winding != nil }, "How far does a turn of the wheel of %s lift?"), figure: func(m *gear.Model, _ *gear.Mode) quantity.Quantity { return m.Winding.LiftPerTurnM }},
	{name: "draw", asks: of(func(m *gear.Model) bool { return m.Winding != nil }, "After how much lift is slack drawn on %s?"), figure: func(m *gear.Model, _ *gear.Mode) quantity.Quantity { return m.Winding.SlackAfterM }},
	{name: "tears", asks: of(func(m *gear.Model) bool { return m.Absorber != nil }, "At what force does %s begin to tear out?"), figure: func(m *gear.Model, _ *gear.Mode) quantity.Quantity { return m.Absorber.ForceKN }},
	{name: "length", asks: of(func(m *gear.Model) bool { return m.LengthM > 0 }, "How long is %s, end to end?"), figure: func(m *gear.Model, _ *gear.Mode) quantity.Quantity { return m.LengthM }},

	{name: "opens", asks: both(device, "Which can be loaded onto the rope without leaving its connector: %s, %s?"), has: func(m *gear.Model) bool { return m.Device.OpensOnConnector }},
	{name: "button", asks: both(device, "Which wants a button pressed before it moves: %s, %s?"), has: func(m *gear.Model) bool { return m.Device.ButtonToMove }},
	{name: "pushed", asks: both(device, "Which is released when another device pushes on it: %s, %s?"), has: func(m *gear.Model) bool { return m.Device.OpensIfPushed }},
	{name: "two", asks: both(device, "Which has a mode for two persons: %s, %s?"), has: func(m *gear.Model) bool {
		return slices.ContainsFunc(m.Device.Modes, func(g gear.Mode) bool { return g.Persons == 2 })
	}},
	{name: "unpark", asks: both(func(m *gear.Model) bool { return m.Backup != nil }, "Which is unparked before a descent: %s, %s?"), has: func(m *gear.Model) bool { return m.Backup.UnparkBeforeDescent }},
	{name: "free", asks: both(func(m *gear.Model) bool { return m.Winding != nil }, "Which runs free as it comes out of its bag, until its lock is set: %s, %s?"), has: func(m *gear.Model) bool { return m.Winding.FreeAsUnpacked }},

	{name: "wrong-way", asks: of(func(m *gear.Model) bool { return m.Device != nil && m.Device.WrongLoading != "" }, "%s is loaded the wrong way round. What does it do?"), word: func(m *gear.Model) string { return wrongly[m.Device.WrongLoading] }, words: []string{wrongly["locks"], wrongly["slips"], wrongly["nothing"]}},
	{name: "riding", asks: of(func(m *gear.Model) bool { return m.Device != nil && m.Device.Sides != nil }, "%s rides on a person. Seen from its front, on which side does the strand to the anchor leave it?"), word: func(m *gear.Model) string { return string(m.Device.Sides.Riding) }, words: sides},
	{name: "anchored", asks: of(func(m *gear.Model) bool { return m.Device != nil && m.Device.Sides != nil }, "%s is fixed to the anchor. Seen from its front, on which side does the strand to the load leave it?"), word: func(m *gear.Model) string { return string(m.Device.Sides.Anchored) }, words: sides},
	{name: "lock-side", asks: of(func(m *gear.Model) bool { return m.Winding != nil }, "For which load does the lock of %s work?"), word: func(m *gear.Model) string { return lockSides[m.Winding.LockSides] }, words: []string{lockSides["left"], lockSides["right"], lockSides["both"]}},
	{name: "needs", asks: of(func(m *gear.Model) bool { return mode(m, 2) != nil }, "What does %s need under two persons?"), word: func(m *gear.Model) string { return needs[mode(m, 2).Needs] }, words: []string{needs[gear.ExtraFriction], needs[gear.SecondConnector], needs[""]}},
	{name: "gate", asks: of(func(m *gear.Model) bool { return m.Connector != nil }, "How is the gate of %s locked?"), word: func(m *gear.Model) string { return gates[m.Connector.Gate] }, words: []string{gates["screw"], gates["two-action"], gates["three-action"], gates["plain"]}},
}

var (
	sides     = []string{string(gear.Left), string(gear.Right), "on either, as one likes"}
	wrongly   = map[string]string{"locks": "it locks and cannot be moved under load", "slips": "it slips and holds nothing", "nothing": "nothing shows until it is needed"}
	lockSides = map[string]string{"left": "for a load on the left only", "right": "for a load on the right only", "both": "for either, as it is set"}
	needs     = map[gear.Need]string{gear.ExtraFriction: "the bend for more friction", gear.SecondConnector: "a second connector", "": "nothing more"}
	gates     = map[string]string{"screw": "by a screw", "two-action": "by itself; two actions open it", "three-action": "by itself; three actions open it", "plain": "not at all", "none": "it has no gate"}
)

// mode is the first mode of a model for so many persons; nil for none.
func mode(m *gear.Model, persons int) *gear.Mode {
	if m.Device == nil {
		return nil
	}
	return find(m.Device.Modes, func(g *gear.Mode) bool { return g.Persons == persons })
}

func of(fits func(*gear.Model) bool, asks string) func(*gear.Model, *gear.Mode) string {
	return func(m *gear.Model, _ *gear.Mode) string {
		if !fits(m) {
			return ""
		}
		return fmt.Sprintf(asks, m.Title())
	}
}

func both(fits func(*gear.Model) bool, asks string) func(*gear.Model, *gear.Mode) string {
	return func(m *gear.Model, _ *gear.Mode) string {
		if !fits(m) {
			return ""
		}
		return asks
	}
}

// inMode asks of a mode, by the persons it is for.
func inMode(asks string) func(*gear.Model, *gear.Mode) string {
	return func(m *gear.Model, g *gear.Mode) string {
		if g == nil {
			return ""
		}
		with := " under one person"
		if g.Persons == 2 {
			with = " under two"
		}
		return fmt.Sprintf(asks, m.Title(), with)
	}
}

// question writes a fact of two models as a question with its options, the right one first;
// false where they do not say enough.
func (f *fact) question(a, b *gear.Model, persons int) (asks, right string, wrong []string, ok bool) {
	g, h := mode(a, persons), mode(b, persons)
	if asks = f.asks(a, g); asks == "" || f.asks(b, h) == "" {
		return "", "", nil, false
	}
	switch {
	case f.has != nil:
		asks = fmt.Sprintf(asks, a.Title(), b.Title())
		list := []string{"only " + a.Title(), "only " + b.Title(), "both", "neither"}
		n := map[[2]bool]int{{true, false}: 0, {false, true}: 1, {true, true}: 2, {false, false}: 3}[[2]bool{f.has(a), f.has(b)}]
		return asks, list[n], slices.Delete(slices.Clone(list), n, n+1), n < 2
	case f.word != nil:
		right = f.word(a)
		return asks, right, slices.DeleteFunc(slices.Clone(f.words), func(w string) bool { return w == right }), right != ""
	}
	value, other := f.figure(a, g), f.figure(b, h)
	if value.Value() <= 0 {
		return "", "", nil, false
	}
	right = quantity.Text(value)
	if other.Value() > 0 {
		wrong = append(wrong, quantity.Text(other))
	}
	unit := strings.TrimSpace(strings.TrimLeft(right, "0123456789., "))
	for _, part := range []float64{1.2, 0.8, 1.5, 0.5} {
		wrong = append(wrong, strconv.FormatFloat(rounded(value.Value()*part), 'g', 4, 64)+" "+unit)
	}
	return asks, right, apartBy(value.Value(), wrong), true
}

// asClose is how close two numbers are that nobody tells from each other in a question.
const asClose = 0.08

// apartBy leaves out what is as good as the same number as the right one or another.
func apartBy(right float64, texts []string) (list []string) {
	seen := []float64{rounded(right)}
	for _, t := range texts {
		number, _, _ := strings.Cut(t, " ")
		f, err := strconv.ParseFloat(number, 64)
		same := func(g float64) bool { return math.Abs(f-g) <= asClose*max(f, g) }
		if err != nil || slices.ContainsFunc(seen, same) {
			continue
		}
		seen = append(seen, rounded(f))
		list = append(list, t)
	}
	return list
}

// apart asks for what differs between two models of a class.
func (m *maker) apart(context.Context) error {
	by := map[gear.Class][]gear.Model{}
	var classes []gear.Class
	for _, of := range m.models() {
		if len(by[of.Class]) == 1 {
			classes = append(classes, of.Class)
		}
		by[of.Class] = append(by[of.Class], of)
	}
	for _, class := range shuffled(m.rnd, classes) {
		two := shuffled(m.rnd, by[class])[:2]
		for _, n := range m.rnd.Perm(len(facts)) {
			if m.asked(&facts[n], &two[0], &two[1], 1+m.rnd.IntN(2)) {
				return nil
			}
		}
	}
	return m.stop(refused("/gear", "no two models of one class say different things of themselves"))
}

// asked asks for a fact of two models; false where they do not say it.
func (m *maker) asked(f *fact, a, b *gear.Model, persons int) bool {
	asks, right, wrong, ok := f.question(a, b, persons)
	if !ok || len(wrong) == 0 {
		return false
	}
	options := make([]Option, len(wrong))
	for i, w := range wrong {
		options[i] = Option{Text: w}
	}
	list, letter := m.lettered(Option{Text: right}, options, 4)
	m.e.Models = []gear.Model{*a, *b}
	m.e.Question = Question{Asked: []string{a.ID, b.ID}, Asks: asks, Fact: fmt.Sprintf("%s/%d", f.name, persons), Options: list}
	m.e.Answers = &Answers{Option: letter}
	return true
}

// models are those that may be compared.
func (m *maker) models() []gear.Model {
	if m.Gear != nil {
		return m.Gear.Models
	}
	return m.Drop.Models
}

// rightApart gives the letter of the right option.
func (e *Exercise) rightApart() (string, error) {
	models := e.modelsOf()
	name, persons, _ := strings.Cut(e.Question.Fact, "/")
	f := find(facts, func(f *fact) bool { return f.name == name })
	if f == nil || len(models) != 2 || persons != "1" && persons != "2" {
		return "", refused("/question", "asks for nothing that two models say of themselves")
	}
	_, right, _, ok := f.question(models[0], models[1], int(persons[0]-'0'))
	if !ok {
		return "", refused("/question/fact", "the models do not say it")
	}
	for i := range e.Question.Options {
		if e.Question.Options[i].Text == right {
			return e.Question.Options[i].ID, nil
		}
	}
	return "", refused("/question/options", "none of them is right")
}
