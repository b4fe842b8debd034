package drill

import (
	"context"
	"fmt"
	"math"
	"slices"

	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
)

// pointOf names what fails, as a question does.
func pointOf(l *stance.Lost) string { return string(l.Point.Kind) + ":" + l.Point.ID }

// optionOf is what a failure leads to, as an option.
func optionOf(l *stance.Lost) Option {
	if !l.Held {
		return Option{}
	}
	return Option{HeldBy: l.By, DropM: l.FreeFallM, PeakKN: l.PeakKN, AsideM: l.SwingM}
}

// rounded gives a figure to two digits, so that answers are as far apart as people read them.
func rounded(f float64) float64 {
	if f < 0.005 {
		return 0
	}
	digit := math.Pow(10, math.Floor(math.Log10(f))-1)
	return math.Round(f/digit) * digit
}

// alike reports whether two options say the same to two digits.
func (o *Option) alike(p *Option) bool {
	same := func(a, b float64) bool { return math.Abs(rounded(a)-rounded(b)) < 1e-9 }
	return o.Text == p.Text && o.HeldBy == p.HeldBy && same(float64(o.DropM), float64(p.DropM)) && same(float64(o.PeakKN), float64(p.PeakKN)) && same(float64(o.AsideM), float64(p.AsideM))
}

// lettered puts the right answer among wrong ones, in an order by the seed.
func (m *maker) lettered(right Option, wrong []Option, most int) (list []Option, letter string) {
	list = []Option{right}
	for _, o := range wrong {
		if len(list) < most && !slices.ContainsFunc(list, func(p Option) bool { return p.alike(&o) }) {
			list = append(list, o)
		}
	}
	list = shuffled(m.rnd, list)
	for i := range list {
		if list[i].alike(&right) {
			letter = string(rune('a' + i))
		}
		list[i].ID = string(rune('a' + i))
	}
	return list, letter
}

// fails asks what happens if one thing fails, at a step of a plan. The wrong answers are those
// of near-by stances.
func (m *maker) fails(ctx context.Context) error {
	s := shape(m.rnd.IntN(int(lowering)))
	p, err := m.planned(ctx, s)
	if err != nil {
		return err
	}
	if p.person == nil {
		return refused("/drop/people", "nobody hangs on this drop")
	}
	// At the first level one hangs cleanly, later in the middle of something.
	shown := []*moves.ShownStance{&p.person.Start}
	for i := range p.person.Steps {
		shown = append(shown, &p.person.Steps[i].After)
	}
	n := 0
	if m.e.Level > 1 {
		n = m.rnd.IntN(len(shown))
	}
	at, err := lost(p.sc, shown[n])
	if err != nil {
		return err
	}
	at = slices.DeleteFunc(at, func(l stance.Lost) bool { return m.e.Level > 2 && l.Held && l.FreeFallM == 0 })
	if len(at) == 0 {
		return refused("/move", "nothing that fails there lets anybody fall")
	}
	of := one(m.rnd, at)
	var wrong []Option
	for i, w := range shown {
		list, err := lost(p.sc, w)
		if err != nil {
			return err
		}
		for j := range list {
			if i != n || pointOf(&list[j]) != pointOf(&of) {
				wrong = append(wrong, optionOf(&list[j]))
			}
		}
	}
	right := optionOf(&of)
	wrong = append(shuffled(m.rnd, wrong), Option{}, further(right))
	options, letter := m.lettered(right, wrong, min(3+m.e.Level/2, 5))
	if len(options) < 3 {
		return refused("/move", "too little differs there to choose from")
	}
	m.e.Question = Question{Person: p.id, Stance: shown[n], Schools: p.sc.Schools, Fails: pointOf(&of), Words: of.Words, Options: options}
	m.e.Answers = &Answers{Option: letter}
	return nil
}

// further is the same with twice the way.
func further(o Option) Option {
	o.DropM, o.PeakKN = o.DropM*2+0.3, o.PeakKN*1.5+1
	if o.HeldBy == "" {
		return Option{HeldBy: "the hand", DropM: 0.3}
	}
	return o
}

// lost is what happens in a stance that is written if one thing fails.
func lost(sc *stance.Scene, w *moves.ShownStance) ([]stance.Lost, error) {
	s, err := w.Read(sc)
	if err != nil {
		return nil, err
	}
	return sc.FailOne(&s), nil
}

// right gives the letter of the right option of what would happen.
func (e *Exercise) rightFails(s *site.Site) (string, *stance.Lost, error) {
	q := &e.Question
	sc, _, err := moves.Scene(s, q.Person, s.Policy.Schools.With(q.Schools))
	if err != nil {
		return "", nil, err
	}
	list, err := lost(sc, q.Stance)
	if err != nil {
		return "", nil, under("/question", err)
	}
	for i := range list {
		if pointOf(&list[i]) != q.Fails {
			continue
		}
		right := optionOf(&list[i])
		for j := range q.Options {
			o := q.Options[j]
			if o.Text = ""; o.alike(&right) {
				return o.ID, &list[i], nil
			}
		}
		return "", nil, refused("/question/options", "none of them is what happens")
	}
	return "", nil, refused("/question/fails", "%q bears nothing in that stance", q.Fails)
}

// Say writes an option of what would happen.
func (o *Option) Say() string {
	switch {
	case o.Text != "":
		return o.Text
	case o.HeldBy == "":
		return "nothing holds"
	case o.DropM == 0:
		return o.HeldBy + " holds; nothing moves"
	}
	say := fmt.Sprintf("%s holds after %s", o.HeldBy, quantity.Text(o.DropM))
	if o.PeakKN > 0 {
		say += ", peak " + quantity.Text(o.PeakKN)
	}
	if o.AsideM > 0 {
		say += ", swinging " + quantity.Text(o.AsideM) + " aside"
	}
	return say
}
