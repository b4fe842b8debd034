package browser_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/google/uuid"

	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/moves"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/team"
	"zealousknot/internal/demo"
)

// first is the first seed whose exercise is as it must be for a trial.
func first(t *testing.T, a drill.Asked, fits func(*drill.Exercise) bool) *drill.Exercise {
	t.Helper()
	a.Gear, a.Answers = demo.Gear(), true
	for a.Seed = 1; a.Seed < 200; a.Seed++ {
		if e, err := a.Make(t.Context()); err == nil && fits(e) {
			return e
		}
	}
	t.Fatalf("no exercise of kind %s fits", a.Kind)
	return nil
}

// A class of two learners and a trainer. One finds a fault and raises a false alarm; one does a
// move with a mistake, goes back and ends it; what was asked without a connection is sent when it
// is back. The trainer sees who stands where, shows the class with no name on it, and signs what
// was practised on ropes.
func TestPractice(t *testing.T) {
	plain := func(e *drill.Exercise) bool {
		return len(e.Answers.Faults) == 1 && e.Question.List == nil && e.Question.Of == "" && e.Answers.Faults[0].Rule == "connector.gate"
	}
	faults := first(t, drill.Asked{Kind: drill.Faults, Level: 1}, plain)
	move := first(t, drill.Asked{Kind: drill.Move, Level: 1}, func(e *drill.Exercise) bool { return e.Question.Move == "ascend-to-descend" })
	maren := serve(t).browse(t, "maren", "/practice/class/new")
	maren.typed("[data-name]", "Evening class")
	maren.press("[data-for=ivo]")
	maren.press("[data-add]")
	maren.choose("Kind of exercise", "Do it")
	maren.press("[data-add]")
	maren.press("[data-save]")
	maren.says("h1", "Evening class")
	maren.says("[data-results]", "—")
	classes, err := maren.store.Classes(t.Context(), maren.team.ID)
	if err != nil || len(classes) != 1 || len(classes[0].Class.Exercises) != 2 || len(classes[0].Class.People) != 1 {
		t.Fatalf("%+v, %v", classes, err)
	}
	class := classes[0].ID
	is := classes[0].Class
	is.People, is.Exercises[0].Seed, is.Exercises[1].Seed = append(is.People, "dov"), faults.Seed, move.Seed
	saved := classes[0].Version
	save := func() {
		t.Helper()
		if saved, err = maren.store.SaveClass(t.Context(), maren.team.ID, &record.Signer{Name: "Maren"}, uuid.MustParse(class), saved, is); err != nil {
			t.Fatal(err)
		}
	}
	save()

	// Who finds the fault: a false alarm first, at the same rig.
	ivo := maren.browse(t, "ivo", fmt.Sprintf("/practice/do/faults?seed=%d&level=1&class=%s&n=0", faults.Seed, class))
	ivo.says("[data-exercise]", "EXERCISE")
	ivo.press("[data-thing=edge]")
	ivo.tap("[data-what]", "the sharp edge is bare")
	at := faults.Answers.Faults[0].Subject
	ivo.press("[data-thing='" + at.ID + "']")
	ivo.tap("[data-what]", "a gate is")
	ivo.says("[data-named]", "2 faults named")
	ivo.onDevice()
	ivo.cut(true)
	ivo.press("[data-hand-in]")
	ivo.says("[data-mark]", "1 fault found, 0 missed, 1 false alarm")
	ivo.says("[data-false-alarm]", "the sharp edge is bare")
	ivo.says("main", "Kept on this device")
	ivo.cut(false)
	ivo.says("main", "Kept for you and the trainer")

	// Who does the move: a step that is stopped, back, and by the engine's own steps to the end.
	rhea := maren.browse(t, "rhea", fmt.Sprintf("/practice/do/move?seed=%d&level=1&class=%s&n=1", move.Seed, class))
	rhea.says("[data-asks]", "ascend to descend")
	rhea.hand("chest ascender")
	rhea.press("[data-offer=take-off]")
	rhea.says("[data-broken]", "moves.bearing")
	rhea.press("[data-broken] [data-back]")
	steps := move.Answers.Steps.Steps
	for n, a := range steps {
		at, err := (&drill.Stepped{Exercise: *move, Steps: steps[:n]}).Answer(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		o := at.Offers[slices.IndexFunc(at.Offers, func(o moves.Offer) bool { return o.Has(a) })]
		rhea.hand(o.With)
		if o.LowM != nil {
			rhea.typeAt("Height: "+o.Say+":", fmt.Sprintf("%.2f", float64(a.AtM)))
		}
		rhea.pressed(fmt.Sprintf(`[...document.querySelectorAll('[data-offers] li button[data-offer]')].find((e) => e.textContent.trim() === %q)`, o.Say))
	}
	rhea.says("[data-offers]", "You are there")
	rhea.press("[data-offers] [data-hand-in]")
	rhea.says("[data-mark]", "full marks")
	rhea.press("[data-beside]")
	rhea.says("main", "The engine's own")
	rhea.says("main", "Recorded as practised on a screen")

	maren.again()
	maren.until(`document.querySelector('[data-result="Dov Pellister 0"]')?.textContent.includes('—')`)
	maren.until(`document.querySelector('[data-result="Ivo Kestrane 0"]')?.textContent.includes('50 %')`)
	maren.until(`document.querySelector('[data-result="Rhea Tolland 1"]')?.textContent.trim() === 'full marks'`)
	// The class and its results are as they are now, without a reload.
	is.Due = "2020-01-01"
	save()
	maren.until(`document.querySelector('[data-result="Rhea Tolland 1"]')?.textContent.trim() === 'full marks, late'`)
	maren.press("[data-show]")
	maren.says("[data-projector]", "1 of 2")
	maren.gone("[data-mark]")
	maren.press("[data-call]")
	maren.says("[data-mark]", "0 missed")
	maren.until(`!document.querySelector('[data-projector]').textContent.match(/Kestrane|Tolland/)`)
	maren.press("[data-close]")

	// The skill, kept apart by how it was practised; stale on what counts on it.
	maren.do(chromedp.Navigate(maren.url + "/practice/skills"))
	maren.says("[data-skill='rhea changeover']", "□")
	maren.until(`document.querySelector("[data-skill='ivo pick-off'] [data-stale]")`)
	maren.choose("Who practised", "Ivo Kestrane")
	maren.choose("Which skill", "pick-off")
	maren.press("[data-sign-it]")
	maren.gone("[data-skill='ivo pick-off'] [data-stale]")
	// Dov, who stands by, did his last pick-off on 2026-08-03: on the last day of six months it
	// counts, on the next board it is stale.
	for day, stale := range map[gear.Date]bool{"2027-02-03": false, "2027-02-04": true} {
		maren.changed("face-7", func(d *drop.Document) { d.Day = day })
		b := demo.Board()
		b.Day, b.Slots = day, b.Slots[:1]
		if _, err := maren.store.SaveBoard(t.Context(), maren.team.ID, &record.Signer{Name: "Dov Pellister"}, 0, b); err != nil {
			t.Fatal(err)
		}
		maren.do(chromedp.Navigate(maren.url + "/day/" + string(day)))
		maren.says("[data-lane='face-7']", "Dov Pellister")
		maren.until(fmt.Sprintf(`document.querySelector('main').innerText.includes('last practised a pick-off on 2026-08-03') === %v`, stale))
	}
	ivo.do(chromedp.Navigate(ivo.url + "/practice"))
	ivo.until(`document.querySelectorAll('[data-mark-line]').length === 1`)
	ivo.gone("[data-new-class]")
	ivo.press("[data-class='Evening class']")
	ivo.says("main", "you: 50 %")
	ivo.gone("[data-results]")

	// Without an account the same exercise is made and marked, and nothing is kept.
	guest := maren.browse(t, "", "/")
	guest.press("[data-practise]")
	guest.says("[data-exercise]", "EXERCISE")
	guest.press("[data-kind=apart]")
	guest.says("[data-asks]", "?")
	guest.do(chromedp.Navigate(guest.url + fmt.Sprintf("/practice/do/fails?seed=%d&level=1", faults.Seed)))
	guest.press("[data-option=a]")
	guest.says("[data-mark]", "It is")
	guest.says("main", "Not kept: nobody is signed in")
	guest.do(chromedp.Navigate(guest.url + "/practice/do/faults?seed=99999999999&level=9"))
	guest.says("main", "There is no such exercise")
}

// An exam ends at the first stop, of a team's move and of a pick-off too; what is refused is said,
// and read.
func TestPracticeExam(t *testing.T) {
	p := serve(t).browse(t, "ivo", "/practice/do/move?seed=1&level=1&move=lower&exam=1")
	p.hand("main")
	p.press("[data-offer=hand-off]")
	p.says("[data-mark]", "a rule was broken")
	p.says("[data-mark]", "not finished")
	p.gone("[data-offers]")
	p.says("main", "Kept for you and the trainer: team lower")

	p.do(chromedp.Navigate(p.url + "/practice/do/move?seed=1&level=1&move=pick-off&exam=1"))
	p.says("[data-asks]", "beside the casualty")
	p.hand("the casualty's things")
	p.press("[data-offer=unpark-theirs]")
	p.says("[data-mark]", "device.mode")
	p.says("main", "Kept for you and the trainer: pick-off")

	// A class that somebody else has changed meanwhile is not kept over it.
	q := p.browse(t, "maren", "/practice/class/new")
	q.typed("[data-name]", "Morning class")
	q.press("[data-add]")
	q.press("[data-save]")
	q.says("h1", "Morning class")
	q.press("[data-edit]")
	list, err := q.store.Classes(t.Context(), q.team.ID)
	if err != nil || len(list) != 1 {
		t.Fatalf("%v, %v", list, err)
	}
	other := *list[0].Class
	other.Name = "Theirs"
	if _, err := q.store.SaveClass(t.Context(), q.team.ID, &record.Signer{Name: "Orla Venn"}, uuid.MustParse(list[0].ID), 1, &other); err != nil {
		t.Fatal(err)
	}
	q.press("[data-add]")
	q.press("[data-save]")
	q.says("main", "changed by somebody else meanwhile")
	q.again()
	q.says("h1", "Theirs")
	q.press("[data-remove]")
	q.says("h1", "Practice")
	q.gone("[data-class]")
}

// hand takes something in hand, of what could be done now.
func (p *page) hand(with string) {
	p.Helper()
	p.until(`document.querySelector('[data-offers]:not([inert])') && !document.querySelector('[data-broken]')`)
	p.pressed(fmt.Sprintf(`[...document.querySelectorAll('[data-group]')].find((e) => e.textContent.trim().startsWith(%q))`, with))
}

// Two do a team's move together on two devices: a role that one has the other cannot take, what
// moves the load is called on one and answered on the other, a call without its answer stops, and
// is undone; at the end both have their mark. Who takes no part sees nothing of it, the trainer
// all.
func TestJointExercise(t *testing.T) {
	e := first(t, drill.Asked{Kind: drill.Move, Move: "edge", Level: 1}, func(*drill.Exercise) bool { return true })
	own := e.Answers.Team
	dov := serve(t).browse(t, "dov", fmt.Sprintf("/practice/do/move?seed=%d&level=1&move=edge", e.Seed))
	dov.press("[data-together]")
	dov.says("h1", "Edge, each with a role")
	dov.says("[data-free]", "Nobody is on the main and the belay")
	dov.press("[data-role=main]")
	dov.press("[data-role=haul]")
	dov.gone("[data-offers]")
	ivo := dov.browse(t, "ivo", "/practice")
	ivo.press("[data-joint-line=edge]")
	ivo.says("[data-role=main]", "Dov Pellister")
	ivo.until(`document.querySelector('[data-role=main]').disabled`)
	ivo.press("[data-role=belay]")
	ivo.press("[data-role=edge]")
	dov.gone("[data-free]")
	list, err := dov.store.Joints(t.Context(), dov.team.ID)
	if err != nil || len(list) != 1 {
		t.Fatal(list, err)
	}
	id := uuid.MustParse(list[0].ID)
	pages := map[string]*page{"Dov Pellister": dov, "Ivo Kestrane": ivo}
	offered := func(a team.Action) (p, other *page, o team.Offer) {
		j, err := dov.store.Joint(t.Context(), dov.team.ID, id)
		if err != nil {
			t.Fatal(err)
		}
		for _, m := range j.Members {
			s, err := j.Seen(m.ID)
			if err != nil {
				t.Fatal(err)
			}
			if i := slices.IndexFunc(s.Offers, func(o team.Offer) bool { return o.Has(a) }); i >= 0 {
				p, o = pages[m.Name], s.Offers[i]
			} else {
				other = pages[m.Name]
			}
		}
		if p == nil || other == nil {
			t.Fatalf("%+v is offered to nobody alone", a)
		}
		return p, other, o
	}
	does := func(p *page, o team.Offer, a team.Action) {
		p.hand(o.With)
		if o.LowM != nil {
			p.typeAt("Height: "+o.Say+":", fmt.Sprintf("%.2f", float64(a.AtM)))
		}
		p.pressed(fmt.Sprintf(`[...document.querySelectorAll('[data-offers] li button[data-offer]')].find((e) => e.textContent.trim() === %q)`, o.Say))
	}
	taken := func(p *page) {
		t.Helper()
		p.until(`!document.querySelector('[data-offers][inert]')`)
	}
	silent := false
	for _, a := range own {
		p, other, o := offered(a)
		if call := manoeuvre.Team.Find(string(a.Do)).Call; call != "" {
			if !silent {
				silent = true
				does(p, o, a)
				p.says("[data-broken]", "moves.call")
				other.says("[data-broken]", "moves.call")
				other.press("[data-broken] [data-back]")
				p.gone("[data-broken]")
				taken(other)
			}
			p.press("[data-call='" + string(a.Do) + "']")
			other.press("[data-answer]")
			p.says("[data-heard]", "answers")
			other.gone("[data-answer]")
		}
		does(p, o, a)
		taken(p)
	}
	if !silent {
		t.Fatal("nothing of the move is called")
	}
	rhea, maren := dov.browse(t, "rhea", "/practice/joint/"+id.String()), dov.browse(t, "maren", "/practice/joint/"+id.String())
	rhea.says("main", "Take a role to see")
	rhea.gone("[data-sees]")
	maren.says("[data-sees]", "Hand of")
	maren.says("main", "The move has come to its end")
	ivo.says("main", "The move has come to its end")
	ivo.press("[data-hand-in]")
	for _, p := range pages {
		p.says("[data-mark]", "full marks")
		p.says("[data-kept]", "Kept for you and the trainer")
	}
	rhea.says("main", "You took no part")
	if marks, err := dov.store.Marks(t.Context(), dov.team.ID, uuid.Nil, true, nil); err != nil || len(marks) != 2 || marks[0].Score+marks[1].Score != 2 {
		t.Errorf("%+v, %v", marks, err)
	}
	rhea.press("a[href='/practice']")
	rhea.choose("Learning or an exam", "an exam")
	rhea.press("[data-begin-joint]")
	rhea.says("h1", "Lower, each with a role")
	rhea.says("[data-exercise]", "an exam")
}

// joined is a joint exercise in which who is signed in has every role but the belay.
func (p *page) joined(t *testing.T, move string) string {
	t.Helper()
	e := first(t, drill.Asked{Kind: drill.Move, Move: move, Level: 1}, func(*drill.Exercise) bool { return true })
	e.Answers = nil
	id := uuid.New()
	if err := p.store.BeginJoint(t.Context(), p.team.ID, id, "Dov Pellister", &drill.Joint{Exercise: *e, Members: []drill.Member{}, Turns: []drill.Turn{}}); err != nil {
		t.Fatal(err)
	}
	for login, roles := range map[string][]drill.Role{"dov": {drill.OnMain, drill.AtEdge, drill.OnHaul, drill.AtLoad}, "ivo": {drill.OnBelay}} {
		if _, err := p.store.TakeTurn(t.Context(), p.team.ID, id, login, drill.Turn{ID: uuid.NewString(), By: p.account(login).String(), Roles: &roles}); err != nil {
			t.Fatal(err)
		}
	}
	return id.String()
}
