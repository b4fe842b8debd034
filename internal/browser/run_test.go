package browser_test

import (
	"fmt"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/google/uuid"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/run"
	"zealousknot/internal/standin"
	"zealousknot/internal/store"
)

// release releases the plan of a drop, as its supervisor.
func (p *page) release(drop string) {
	p.Helper()
	members, err := p.store.Members(p.ctx, p.team.ID)
	if err != nil {
		p.Fatal(err)
	}
	dov := members[slices.IndexFunc(members, func(m store.Membership) bool { return m.Login == "dov" })]
	by := &record.Signer{Account: dov.Account, Name: dov.Name, Person: dov.Person}
	now, err := p.store.Drop(p.ctx, p.team.ID, drop)
	if err != nil {
		p.Fatal(err)
	}
	for _, state := range []record.State{record.Checked, record.Released} {
		if err := p.store.SetPlan(p.ctx, p.team, by, drop, now.Version, state, nil); err != nil {
			p.Fatal(err)
		}
	}
}

// running is the newest run of the team.
func (p *page) running() uuid.UUID {
	p.Helper()
	runs, err := p.store.Runs(p.ctx, p.team.ID, "")
	if err != nil || len(runs) == 0 {
		p.Fatal(runs, err)
	}
	return uuid.MustParse(runs[0].ID)
}

// Two devices on one run. One loses its connection: what is tapped on it counts there at once,
// is sent when the connection is back, and is there once, in the order of the time given. The
// rescue from the present height is one tap away without a connection. Put away, it counts.
func TestRunLive(t *testing.T) {
	p := open(t, "/drops/gate-shaft/run")
	p.changed("gate-shaft", func(d *drop.Document) {
		d.Geometry.Edges = []rig.Edge{{ID: "sill", Name: "deck sill", HeightM: 37, Protection: "roller"}}
	})
	p.release("gate-shaft")
	q := p.browse(t, "ivo", "/drops/gate-shaft/run")
	q.says("main", "No run of this drop yet")
	q.gone("[data-make]")
	p.press("[data-make]")
	p.says("[data-phase]", "prepared")
	p.says("[data-other-day]", "Planned for 2026-11-24")
	p.says("[data-other-day]", "It is not started any more")
	p.until(`document.querySelector('[data-make]')`)
	q.says("[data-briefing]", "No briefing is written")
	q.gone("[data-write-briefing]")
	p.press("[data-write-briefing]")
	p.typed("[data-channel]", "3, checked")
	p.typed("[data-lost]", "three pulls, then come off")
	p.typed("[data-permit-number]", "W-17")
	p.typed("[data-points]", "loose rock left of the ladder")
	p.sets("[data-every=ivo]", "15")
	p.press("[data-give-briefing]")
	q.says("[data-briefing]", "loose rock left of the ladder")
	q.says("[data-briefing]", "every 15 min")
	q.says("[data-permit]", "W-17. ◆ When it ends is not written.")
	p.press("[data-start]")
	p.says("[data-phase]", "running")
	q.says("[data-phase]", "running")
	q.gone("[data-end], [data-start]")

	slide := func(p *page, person string, at int) {
		p.do(chromedp.Evaluate(fmt.Sprintf(`(() => {
			const i = document.querySelector('[data-run-person=%s] [data-height]')
			i.value = %d
			i.dispatchEvent(new Event('input', { bubbles: true }))
			i.dispatchEvent(new Event('change', { bubbles: true }))
		})()`, person, at), nil))
	}
	q.says("[data-run-person=ivo]", "not briefed")
	q.press("[data-brief]")
	q.says("[data-briefing]", "Signed by 1 of")
	q.press("[data-run-person=ivo] [data-mark=on-rope]")
	p.says("[data-run-person=ivo] [data-doing]", "on rope")
	q.onDevice()
	q.cut(true)
	q.until(`document.querySelector('[data-height]')`)
	slide(q, "ivo", 4)
	q.says("[data-run-person=ivo]", "4 m")
	q.press("[data-run-person=ivo] [data-mark=working]")
	q.says("[data-run-person=ivo] [data-doing]", "working")
	q.says("[data-waiting]", "not yet sent")
	q.until(`document.querySelector('[data-happened]').href.includes('run=')`)
	q.press("[data-run-person=ivo] [data-still]")
	q.says("[data-rescue-now]", "Call for help")
	q.says("[data-rescue-now]", "No time hanging still is harmless")

	// Meanwhile on the other device: not as planned, stop, and on again.
	p.press("[data-otherwise]")
	p.do(chromedp.SendKeys("[data-why]", "the hatch was locked\r"))
	p.says("[data-notes]", "the hatch was locked")
	p.press("[data-stop]")
	p.button("wind")
	p.says("[data-stopped]", "STOP WORK")
	p.says("[data-run-person=ivo] [data-doing]", "on rope")
	q.cut(false)
	q.gone("[data-waiting]")
	q.says("[data-stopped]", "Dov Pellister: wind")
	q.gone("[data-resume]")
	p.says("[data-run-person=ivo] [data-doing]", "working")
	p.press("[data-resume]")
	q.gone("[data-stopped]")
	q.press("[data-run-person=ivo] [data-mark=off-rope]")
	p.says("[data-run-person=ivo] [data-doing]", "off rope")

	p.press("[data-end]")
	p.says("[data-phase]", "ended")
	q.says("[data-phase]", "ended")
	q.gone("[data-away]")
	// What differs from what was counted wants a reason before it is signed.
	p.says("[data-line=descender-21]", "descender 21")
	p.do(chromedp.SetValue("[data-line=descender-21] [data-down]", "20"), chromedp.Evaluate(`document.querySelector('[data-line=descender-21] [data-down]').dispatchEvent(new Event('input', { bubbles: true }))`, nil))
	p.until(`document.querySelector('[data-sign-away]').disabled`)
	p.do(chromedp.SendKeys("[data-line=descender-21] [data-reason]", "down twice"))
	// What was given meanwhile counts nothing: the correction stays.
	if _, err := p.store.GiveEvents(p.ctx, p.team, &record.Signer{Name: "Dov Pellister"}, p.running(), 0, []run.Event{{ID: uuid.NewString(), Kind: run.Call, GivenAt: time.Now().UTC().Format(time.RFC3339), Reason: "radio check"}}); err != nil {
		t.Fatal(err)
	}
	p.says("[data-events]", "11 events")
	p.until(`document.querySelector('[data-line=descender-21] [data-down]').value === '20' && !document.querySelector('[data-changed]')`)
	p.press("[data-line=backup-31] [data-wet]")
	p.says("[data-contacts=rope-7]", "1.6 m to 2.6 m from the end that was up")
	p.press("[data-contacts=rope-7] [value=A]")
	p.says("[data-after]", "follows from what you sign")
	p.press("[data-sign-away]")
	p.says("[data-sealed]", "Put away and sealed")
	q.says("[data-sealed]", "Put away and sealed")
	q.says("[data-left=backup-31]", "it was wet")
	p.do(chromedp.Navigate(p.url + "/store/item/descender-21"))
	p.says("main", "20 m")
	p.do(chromedp.Navigate(p.url + "/store/item/rope-7"))
	p.says("main", "lay on deck sill")
}

// A move of the team is stepped through with its calls; an exercise says so on every screen.
func TestRunMove(t *testing.T) {
	p := open(t, "/drops/basin-wall/run")
	p.press("[data-make-exercise]")
	p.says("[data-exercise]", "EXERCISE")
	p.press("[data-start]")
	p.press("[data-begin]")
	p.says("[data-run-move]", "step 0 of")
	p.says("[data-run-move]", "wait for")
	p.press("[data-step-done]")
	p.says("[data-run-move]", "step 1 of")
	p.press("[data-end]")
	p.says("[data-away]", "nothing is counted")
	p.press("[data-sign-away]")
	p.says("[data-sealed]", "sealed")
	p.until(`document.querySelector('[data-make]')`)

	// The planned rescue of somebody is folded until one steps through it.
	p.do(chromedp.Navigate(p.url + "/drops/face-7/run"))
	p.press("[data-make-exercise]")
	p.press("[data-start]")
	p.gone("[data-run-move^=rescue-]")
	p.press("[data-rescues]")
	p.says("[data-run-move^=rescue-]", "by Dov Pellister")
	p.press("[data-run-move^=rescue-] [data-begin]")
	p.press("[data-run-move^=rescue-] [data-step-done]")
	p.says("[data-run-move^=rescue-]", "step 1 of")
}

// A device sends a slip: it stands beside what was predicted, its peak with the step, and what
// was in it goes into quarantine by one tap; wind past the drop's limit says what to do.
func TestRunMeasured(t *testing.T) {
	p := open(t, "/drops/gate-shaft/run")
	p.press("[data-make-exercise]")
	p.press("[data-start]")
	p.says("[data-phase]", "running")
	p.press("[data-devices] summary")
	p.do(chromedp.WaitVisible("[data-device-name]"), chromedp.SendKeys("[data-device-name]", "load cell"))
	p.press("[data-make-token]")
	p.says("[data-devices]", "shown once")
	var token string
	p.do(chromedp.Text("[data-token]", &token))
	runs, err := p.store.Runs(p.ctx, p.team.ID, "gate-shaft")
	if err != nil || len(runs) != 1 {
		t.Fatal(runs, err)
	}
	send := func(plan standin.Plan) {
		t.Helper()
		var body strings.Builder
		for _, r := range plan.Make(time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)) {
			fmt.Fprintf(&body, `{"at":%q,"channel":%q,"value":%v,"unit":%q}`+"\n", r.At, r.Channel, r.Value, r.Unit)
		}
		r, err := http.NewRequest(http.MethodPost, p.url+"/api/v1/runs/"+runs[0].ID+"/readings", strings.NewReader(body.String()))
		if err != nil {
			t.Fatal(err)
		}
		r.Header.Set("Authorization", "Bearer "+token)
		answer, err := http.DefaultClient.Do(r)
		if err != nil || answer.StatusCode != http.StatusOK {
			t.Fatal(answer, err)
		}
		answer.Body.Close()
	}
	send(standin.Plan{Device: "load-cell", Scenario: "haul", Channel: "main.force", Seed: 1, RateHz: 10, Seconds: 4, MassKg: 81})
	p.says("[data-channel='main.force']", "predicted")
	p.gone("[data-accuracy]")
	p.gone("[data-peak]")
	send(standin.Plan{Device: "load-cell", Scenario: "slip", Channel: "main.force", Seed: 1, RateHz: 50, Seconds: 12, MassKg: 200, SlipS: 6})
	p.says("[data-peak]", "kN at")
	p.press("[data-shock]")
	p.says("[data-notes]", "into quarantine")
	p.gone("[data-shock]")
	send(standin.Plan{Device: "anemometer", Scenario: "gusty", Channel: "gust", Seed: 1, RateHz: 1, Seconds: 3, MassKg: 1})
	p.says("[data-channel=gust]", "m/s")
	// What somebody stops in the store meanwhile is named, with who hangs on it.
	p.gone("[data-out]")
	doc, err := p.store.Run(p.ctx, p.team.ID, uuid.MustParse(runs[0].ID))
	if err != nil {
		t.Fatal(err)
	}
	on := doc.Document.People[0]
	other := on.Devices[slices.IndexFunc(on.Devices, func(id string) bool { return id != "descender-21" })]
	stop := &record.Batch{SentAt: now(), Records: []record.Entry{{
		ID: uuid.NewString(), Kind: record.Quarantine, GivenAt: now(), Day: "2026-11-24", Item: other, Note: "notice 4", Quarantine: &record.Quarantined{Event: "recall"},
	}}}
	if _, err := p.store.Record(p.ctx, p.team, &record.Signer{Name: "Maren Oake"}, stop); err != nil {
		t.Fatal(err)
	}
	p.says("[data-out]", "is in quarantine: recall: notice 4 On the rope by plan: "+on.Name)
	// It is an exercise: the item itself stays in service.
	p.do(chromedp.Navigate(p.url + "/store/item/descender-21"))
	p.says("main", "descender 21")
	p.gone("[data-stopped], .text-stop")
}

// What runs took and measured stands on the tables, and beside what is measured now; a time is
// taken over by a supervisor alone, one by one.
func TestWhatRunsSay(t *testing.T) {
	house := serve(t)
	site := house.site
	house.site = http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path != "/api/v1/runs/learning" {
			site.ServeHTTP(w, r)
			return
		}
		w.Header().Set("Content-Type", "application/json")
		fmt.Fprint(w, `{"runs":9,"learnt":[{"do":"prove","count":9,"median_s":41,"low_s":38,"high_s":44,"now_s":20,"proposed_s":41,"why":""}],
			"rescue":[{"do":"lift","count":9,"median_s":6,"low_s":5,"high_s":7,"now_s":10,"proposed_s":7,"why":"nine of ten of 9 practices took no longer"}],
			"measured":[{"loading":"rest","runs":14,"low_pct":-4,"median_pct":3,"high_pct":11,"words":"measured on 14 runs: 4 % below to 11 % above what was predicted"}]}`)
	})
	p := house.browse(t, "rhea", "/tables")
	p.says("[data-measured=rest]", "hanging still: measured on 14 runs: 4 % below to 11 % above what was predicted")
	p.says("[data-learnt=prove]", "median 41 s")
	p.gone("[data-take]")
	p.do(chromedp.Navigate(p.url + "/drops/face-7/kit/rhea"))
	p.press("[data-working]")
	p.says("[data-measured]", "At rest, measured on 14 runs: 4 % below to 11 % above")
	q := house.browse(t, "dov", "/tables")
	q.do(press("[data-take]"), press("[data-times=team_times] summary"))
	q.says("[data-row='team_times.prove']", "41")
	q.do(press("[data-learnt=lift] [data-take]"), press("[data-times=rescue_times] summary"))
	q.says("[data-row='rescue_times.lift']", "7")
	if own, _, err := q.store.Policy(q.ctx, q.team); err != nil || len(own.TeamTimes) != 1 || own.TeamTimes[0].S != 41 {
		t.Errorf("%+v %v", own, err)
	}
}
