package browser_test

import (
	"encoding/json"
	"fmt"
	"net/url"
	"testing"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"

	"zealousknot/internal/core/calc"
)

// Every figure by itself answers what the core answers, on the device alone; what goes in is
// slid, kept in the address, swept as a curve, and refused with its name.
func TestQuickFigures(t *testing.T) {
	p := open(t, "/")
	value := func(name, in, out string) {
		t.Helper()
		answer, err := calc.Find(name).Run([]byte(in))
		if err != nil {
			t.Fatal(err)
		}
		text, err := json.Marshal(answer)
		if err != nil {
			t.Fatal(err)
		}
		var fields map[string]any
		if err := json.Unmarshal(text, &fields); err != nil {
			t.Fatal(err)
		}
		want, ok := fields[out].(float64)
		if !ok {
			t.Fatalf("%s has no %s: %s", name, out, text)
		}
		p.until(fmt.Sprintf(`Math.abs(parseFloat(document.querySelector('[data-value="%s"]')?.innerText) - %g) < 0.0051`, out, want))
	}
	// Found by name, from anywhere.
	p.until(`document.querySelector('main ul a')`)
	p.press("header button:has(kbd)")
	p.until(`document.querySelector('[aria-label=Find]')`)
	p.do(chromedp.SendKeys("[aria-label=Find]", "swing", chromedp.NodeVisible))
	p.says("[role=option]", "quick figure")
	p.do(input.DispatchKeyEvent(input.KeyDown).WithKey("Enter").WithCode("Enter").WithText("\r").WithWindowsVirtualKeyCode(13))
	value("swing", `{"rope_length_m": 30, "offset_m": 4}`, "speed_m_s")
	p.do(chromedp.Evaluate(`(() => {
		const e = document.querySelector('[data-in="offset_m"] input[type=range]')
		e.value = 6
		e.dispatchEvent(new Event('input', { bubbles: true }))
	})()`, nil))
	value("swing", `{"rope_length_m": 30, "offset_m": 6}`, "speed_m_s")
	p.until(`new URLSearchParams(location.search).get('in')?.includes('"offset_m":6')`)
	p.again()
	value("swing", `{"rope_length_m": 30, "offset_m": 6}`, "speed_m_s")
	p.until(`document.querySelector('[data-sweep] path')?.getAttribute('d').split('L').length > 30`)
	p.until(`document.querySelector('[data-picture]')?.getAttribute('aria-label').startsWith('Let go 6 m aside on 30 m of rope')`)
	p.selected("[data-off]", "10")
	p.until(`document.querySelectorAll('[data-band]').length > 0`)
	// A list grows and shrinks; what may be left out is added.
	p.do(chromedp.Navigate(p.url + "/figures/anchor"))
	p.press("[data-more=legs]")
	p.until(`document.querySelectorAll('[data-in^="legs.2."]').length > 2`)
	p.until(`document.querySelector('[data-faults], [data-out]')`)

	// What the address brings is read as strictly as anything from outside.
	bad := func(in, says string) {
		t.Helper()
		p.do(chromedp.Navigate(p.url + "/figures/swing?in=" + url.QueryEscape(in)))
		p.says("[data-faults]", says)
		p.gone("[data-out]")
	}
	bad(`{"rope_length_m":-1,"offset_m":4}`, "rope length")
	bad(`{"offset_m":4}`, "rope length")
	bad(`{"rope_length_m":30,"offset_m":4,"extra":1}`, "extra")
	p.do(chromedp.Navigate(p.url + "/figures/swing?in=nothing"))
	p.says("[data-unread]", "could not be read")
	value("swing", `{"rope_length_m": 30, "offset_m": 4}`, "speed_m_s")
	// Without a connection too: the page's own core answers.
	p.cut(true)
	p.do(chromedp.Evaluate(`(() => {
		const e = document.querySelector('[data-in="rope_length_m"] input[type=range]')
		e.value = 20
		e.dispatchEvent(new Event('input', { bubbles: true }))
	})()`, nil))
	value("swing", `{"rope_length_m": 20, "offset_m": 4}`, "speed_m_s")
	p.cut(false)
	// Each of them answers its example.
	for _, c := range calc.All {
		p.do(chromedp.Navigate(p.url + "/figures/" + c.Name))
		p.says("h2", c.Does[1:12])
		p.until(`document.querySelectorAll('[data-value]').length > 0 && document.querySelectorAll('[data-in]').length > 1 && document.querySelector('[data-sweep] path')`)
	}
}
