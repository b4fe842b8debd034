// Command screenshots takes the pictures in docs/screenshots from the demo data.
// Run it from the top of the project, after make build.
package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"time"

	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"

	"zealousknot/internal/browser"
	"zealousknot/internal/demo"
)

// day is the one that the data play on, so that the pictures change with the program alone.
const day = demo.Day

const folder = "docs/screenshots"

// shot is one picture: where, as whom, how large, in which look, and what is done
// first.
type shot struct {
	name, path string
	// as is who is signed in; left out: the supervisor.
	as            string
	width, height int64
	look          string
	wait          string
	before        []chromedp.Action
}

var shots = []shot{
	{name: "drops", path: "/", wait: "ul a", width: 1280, height: 800},
	{name: "drop", path: "/drops/face-4", wait: "[data-found]", width: 1280, height: 800},
	{name: "moves", path: "/drops/crown-gallery/moves", wait: "[data-move=transfer]", width: 1280, height: 800, before: []chromedp.Action{
		chromedp.Click("[data-move=transfer]"), chromedp.WaitVisible("[data-column='4']"), chromedp.Click("[data-column='4']"), chromedp.KeyEvent("f"),
	}},
	{name: "team", path: "/drops/basin-wall/team", wait: "[data-column='6']", width: 1280, height: 900, before: []chromedp.Action{
		chromedp.Click("[data-moves]"), chromedp.Click("[data-move=lower-past-knot]"), chromedp.WaitNotPresent("[data-column='12']"),
		chromedp.Click("[data-column='6']"), chromedp.KeyEvent("f"), chromedp.WaitVisible("[data-rig-step]"), chromedp.Evaluate("scrollTo(0, 120)", nil),
	}},
	{name: "team-rig", path: "/drops/basin-wall/team?view=rig", wait: "[data-raising]", width: 1280, height: 900, before: []chromedp.Action{
		chromedp.Click("[data-raising]"), chromedp.WaitVisible("[data-haul]"), chromedp.WaitReady("[data-choice='pulley:A>pulley:B']"),
		chromedp.Evaluate("document.querySelector('[data-choice=\"pulley:A>pulley:B\"]').dispatchEvent(new MouseEvent('click', {bubbles: true}))", nil),
		chromedp.WaitVisible("[data-changes] button"),
	}},
	{name: "rescue", path: "/drops/face-7/rescue", wait: "[data-changes]", width: 1280, height: 900, before: []chromedp.Action{
		chromedp.Click("[data-changes]"), chromedp.WaitVisible("[data-apply='1']"),
	}},
	{name: "day", path: "/day/2026-11-24", wait: "[data-lane]", width: 1280, height: 900},
	{name: "run-phone", path: "/drops/basin-wall/run", wait: "[data-make-exercise]", width: 390, height: 844, before: []chromedp.Action{
		chromedp.Click("[data-make-exercise]"), chromedp.WaitVisible("[data-start]"), chromedp.Click("[data-start]"), chromedp.WaitVisible("[data-begin]"), chromedp.Click("[data-begin]"),
		chromedp.WaitVisible("[data-step-done]"), chromedp.WaitNotPresent("[data-waiting]"), chromedp.Evaluate("document.querySelector('[data-exercise]').scrollIntoView()", nil),
	}},
	{name: "checks-phone", path: "/drops/face-4/checks", as: "rhea", wait: "[data-check]", width: 390, height: 844},
	{name: "practice", path: "/practice/do/faults?seed=12&level=2", as: "rhea", wait: "[data-hold] figure", width: 1280, height: 900},
	{name: "examine-phone", path: "/examine?item=connector-63", wait: "[data-under]", width: 390, height: 844, before: []chromedp.Action{
		chromedp.Click("[data-point=marks] [data-result=pass]"), chromedp.Click("[data-point=history] [data-result=pass]"),
		chromedp.WaitVisible("[data-under]"), chromedp.Evaluate("document.querySelector('[data-under]').scrollIntoView({ block: 'start' })", nil),
	}},
	{name: "records", path: "/records?day=2026-11-24", wait: "[data-record]", width: 1280, height: 800},
	{name: "people", path: "/people", wait: "[data-familiar]", width: 1280, height: 800},
	{name: "due", path: "/due", wait: "[data-group]", width: 1280, height: 800},
	{name: "kit", path: "/drops/face-4/kit", wait: "[data-rule]", width: 1280, height: 800},
	{name: "store", path: "/store", wait: "[data-item]", width: 1280, height: 800},
	{name: "findings-night", path: "/drops/spillway-lip/kit", wait: "[data-rule]", width: 1280, height: 800, look: "night", before: []chromedp.Action{
		chromedp.Click("[data-found]"), chromedp.WaitVisible("[role=dialog]"),
	}},
	{name: "callout-phone", path: "/", wait: "[data-callout]", width: 390, height: 844, before: []chromedp.Action{
		chromedp.Click("[data-callout]"), chromedp.Click("[data-question=height] [role=group] button:nth-child(3)"), chromedp.Click("[data-question=back] [role=group] button:nth-child(2)"),
		chromedp.Click("[data-question=edge] > div button:nth-child(4)"), chromedp.Click("[data-question=load] > div button:nth-child(3)"), chromedp.WaitNotPresent("[data-waiting]"),
		chromedp.WaitVisible("[data-short]"), chromedp.Evaluate("document.querySelector('[data-short]').scrollIntoView()", nil),
	}},
	{name: "haul", path: "/figures/haul", wait: "[data-picture]", width: 1280, height: 800, look: "sun"},
}

func main() {
	if err := run(context.Background()); err != nil {
		fmt.Fprintln(os.Stderr, "screenshots:", err)
		os.Exit(1)
	}
}

func run(ctx context.Context) error {
	// A demo of its own: the pictures show the scenario as it is loaded.
	dir, err := os.MkdirTemp("", "zealousknot-screenshots-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	if err := os.Chmod(dir, 0o755); err != nil {
		return err
	}
	demo := exec.CommandContext(ctx, "bin/zealousknot", "demo", "--dir", dir, "--port", "0", "--day", string(day))
	demo.Cancel = func() error { return demo.Process.Signal(os.Interrupt) }
	address, err := start(demo)
	if err != nil {
		return err
	}
	defer func() {
		_ = demo.Process.Signal(os.Interrupt)
		_ = demo.Wait()
	}()
	chromium, done, err := browser.Start(ctx, 3*time.Minute)
	if err != nil {
		return err
	}
	defer done()
	if err := os.MkdirAll(folder, 0o755); err != nil {
		return err
	}
	for _, s := range shots {
		if err := take(chromium, address, s); err != nil {
			return fmt.Errorf("%s: %w", s.name, err)
		}
	}
	return nil
}

func start(demo *exec.Cmd) (address string, err error) {
	out, err := demo.StdoutPipe()
	if err != nil {
		return "", err
	}
	demo.Stderr = os.Stderr
	if err := demo.Start(); err != nil {
		return "", err
	}
	at := regexp.MustCompile(`http://127\.0\.0\.1:\d+`)
	for lines := bufio.NewScanner(out); lines.Scan(); {
		if a := at.FindString(lines.Text()); a != "" {
			return a, nil
		}
	}
	return "", errors.New("the demo printed no address")
}

func take(ctx context.Context, address string, s shot) error {
	if s.look == "" {
		s.look = "paper"
	}
	var picture []byte
	if s.as == "" {
		s.as = "dov"
	}
	actions := []chromedp.Action{
		chromedp.EmulateViewport(s.width, s.height), chromedp.Navigate(address + "/healthz"), signIn(s.as),
		chromedp.Evaluate(fmt.Sprintf("localStorage.clear(); localStorage.setItem('look', %q)", s.look), nil),
		chromedp.Navigate(address + s.path), chromedp.WaitVisible(s.wait),
		chromedp.Evaluate("document.fonts.ready.then(() => true)", nil, chromedp.EvalAsValue),
	}
	actions = append(actions, s.before...)
	actions = append(actions, chromedp.Sleep(300*time.Millisecond), chromedp.CaptureScreenshot(&picture))
	if err := chromedp.Run(ctx, actions...); err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(folder, s.name+".png"), picture, 0o644)
}

// signIn signs somebody of the demo in, or out for anybody else.
func signIn(login string) chromedp.Action {
	const ask = `(async () => {
		await caches.delete('answers')
		await fetch('/api/v1/session', { method: 'DELETE' })
		await fetch('/api/v1/session', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: %q })
	})()`
	return chromedp.Evaluate(fmt.Sprintf(ask, fmt.Sprintf(`{"login":%q,"password":%q}`, login, demo.Password)), nil, chromedp.EvalAsValue,
		func(p *runtime.EvaluateParams) *runtime.EvaluateParams { return p.WithAwaitPromise(true) })
}
