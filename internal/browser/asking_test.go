package browser_test

import (
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
)

// What takes long says how far it is and is stopped by a press, on the server and on the
// device: the page goes on meanwhile, and nothing half found is shown.
func TestAskAndStop(t *testing.T) {
	p := open(t, "/drops/face-7/rescue")
	p.says("main", "down the casualty's own strands") // all that is asked at first is answered
	// The server's answer says one line and waits: until the page goes away from it.
	site, gone := p.site, make(chan bool, 1)
	p.site = http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path != "/api/v1/rescue" {
			site.ServeHTTP(w, r)
			return
		}
		if !strings.Contains(r.Header.Get("Accept"), "ndjson") {
			t.Errorf("asked for %s", r.Header.Get("Accept"))
		}
		_, _ = io.Copy(io.Discard, r.Body) // only then it is seen that the page went away
		w.Header().Set("Content-Type", "application/x-ndjson")
		_, _ = w.Write([]byte(`{"progress":{"part":0.25,"done":1213,"total":4852,"of":"metres"}}` + "\n"))
		w.(http.Flusher).Flush()
		<-r.Context().Done()
		gone <- true
	})
	p.press("button[data-changes]")
	p.says("[data-asking]", "1\u202f213 of 4\u202f852 metres looked at")
	p.says("[data-asking]", "25 %")
	p.press("[data-stop]")
	p.gone("[data-asking]")
	select {
	case <-gone:
	case <-p.ctx.Done():
		t.Fatal("the server is not left")
	}
	p.says("[role=alert]", "stopped before every change was tried")
	p.gone("[data-change-list]")
	p.site = site

	// On the device the same core says so from its worker.
	p.onDevice()
	p.cut(true)
	p.press("button[data-changes]")
	p.says("[data-asking]", "metres looked at")
	p.press("[data-stop]")
	p.gone("[data-asking]")
	p.says("[role=alert]", "stopped before every change was tried")
	p.press("button[data-changes]")
	p.until(`document.querySelector('[data-change-list]')`)
	var evals string
	p.do(chromedp.Evaluate(`(() => { try { new WebAssembly.Module(new Uint8Array([0, 97, 115, 109, 1, 0, 0, 0])); return 'compiled' } catch (e) { return String(e) } })()`, &evals))
	if !strings.Contains(evals, "CompileError") {
		t.Errorf("the page itself may compile WebAssembly: %s", evals)
	}
}
