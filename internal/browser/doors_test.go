package browser_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"reflect"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"

	"zealousknot/internal/browser"
	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/demo"
	"zealousknot/internal/picture"
)

// asking is a question as it is asked at the doors.
type asking struct {
	id      string
	options map[string]any
	request string
	// args are those of the command; nil where no command asks it.
	args []string
	// part is what of the answer the command prints; empty for all of it.
	part string
	// stocked: the answer is of the store, which the page on its own has not.
	stocked bool
}

// Every question gives the same answer, and the same refusal, over HTTP, on a page's own and
// from the command.
func TestThreeDoors(t *testing.T) {
	p := serve(t)
	cookie := signIn(t, p.site, "dov")
	here := ownCore(t, p.site)
	binary := filepath.Join(t.TempDir(), "zealousknot")
	if out, err := exec.Command("go", "build", "-o", binary, "../../cmd/zealousknot").CombinedOutput(); err != nil {
		t.Fatalf("%v %s", err, out)
	}
	refused, asked := 0, map[string]bool{}
	for _, a := range askings(t) {
		asked[a.id] = true
		q := picture.Find(a.id)
		overHTTP, faults := overHTTP(t, p.site, cookie, q, &a)
		if faults != nil {
			refused++
		}
		if !a.stocked {
			var own struct {
				Answer json.RawMessage
				Errors json.RawMessage
			}
			if err := json.Unmarshal([]byte(here(a.id, optionsText(t, &a), a.request)), &own); err != nil {
				t.Fatal(err)
			}
			same(t, a.id+" on the page's own", overHTTP, own.Answer)
			same(t, a.id+" refused on the page's own", faults, own.Errors)
		}
		if a.args == nil {
			continue
		}
		cmd := exec.Command(binary, a.args...)
		cmd.Stdin = strings.NewReader(a.request)
		if a.args[0] != "calc" && a.args[0] != "check" && a.args[0] != "run" {
			// Commands read the drop alone, and have the rest in their flags.
			var r struct{ Drop json.RawMessage }
			if err := json.Unmarshal([]byte(a.request), &r); err == nil && r.Drop != nil {
				cmd.Stdin = bytes.NewReader(r.Drop)
			}
		}
		var out, complaint bytes.Buffer
		cmd.Stdout, cmd.Stderr = &out, &complaint
		err := cmd.Run()
		if faults != nil {
			if code := cmd.ProcessState.ExitCode(); code != 2 || out.Len() > 0 {
				t.Errorf("%s refused by the command: exit %d, %v, %s", a.id, code, err, &out)
			}
			var list []strict.Fault
			if err := json.Unmarshal(faults, &list); err != nil || !strings.Contains(complaint.String(), list[0].Detail) {
				t.Errorf("%s: the command says %s, not %s", a.id, &complaint, faults)
			}
			continue
		}
		want := overHTTP
		if a.part != "" {
			var parts map[string]json.RawMessage
			if err := json.Unmarshal(overHTTP, &parts); err != nil {
				t.Fatal(err)
			}
			want = parts[a.part]
		}
		same(t, a.id+" by the command", want, out.Bytes())
	}
	for _, q := range picture.Questions() {
		if !asked[q.ID] {
			t.Errorf("%s is asked at no door", q.ID)
		}
	}
	if refused < 8 {
		t.Errorf("%d were refused", refused)
	}
}

// askings are questions of every kind, sound and not.
func askings(t *testing.T) []asking {
	models := demo.Gear().Models
	device := asText(t, models[slices.IndexFunc(models, func(m gear.Model) bool { return m.Class == gear.Descender })])
	face, wall, shaft := asText(t, demo.Drops()["face-7"]), asText(t, demo.Drops()["basin-wall"]), asText(t, demo.Drops()["gate-shaft"])
	bags := `"models":` + asText(t, models) + `,"items":` + asText(t, slices.DeleteFunc(demo.Items(), func(i gear.Item) bool { return i.Kit == "" }))
	exercise := func(kind drill.Kind) string {
		e, err := (&drill.Asked{Kind: kind, Seed: 1, Level: 1, Gear: demo.Gear()}).Make(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		return asText(t, e)
	}
	const dropped = `{"id":"6f1d1f0e-58f2-4b3c-9f3a-0b2f6c1d2e3f","kind":"quarantine","given_at":"2026-11-24T08:00:00Z","day":"2026-11-24","item":"descender-1","note":"from 3 m","quarantine":{"event":"dropped"}}`
	list := []asking{
		{id: "moves"}, {id: "schools"}, {id: "team-moves"},
		{id: "check", request: face, args: []string{"check", "--json", "-"}},
		{id: "check", options: map[string]any{"figures": true, "curves": true}, request: shaft, args: []string{"check", "--json", "--figures", "--curves", "-"}},
		{id: "check", options: map[string]any{"checks": true, "curves": true, "person": "ivo"}, request: shaft},
		{id: "check", request: strings.Replace(face, `"mass_kg"`, `"mass"`, 1), args: []string{"check", "--json", "-"}},
		{id: "check", options: map[string]any{"person": strings.Repeat("x", 65)}, request: shaft},
		{id: "choices", request: `{"drop":` + face + `,"place":{"strand":"main"}}`, stocked: true},
		{id: "choices", request: `{"drop":` + face + `,"place":{"strand":"none"}}`},
		{id: "propose", request: `{"drop":` + face + `}`, stocked: true},
		{id: "propose", request: `{"drop":` + face + `,"parts":["people/nobody"]}`, args: []string{"propose", "--json", "--part", "people/nobody", "-"}},
		{id: "model-trial", request: `{"model":` + device + `,"rope":"rope-1","mass_kg":90}`, stocked: true},
		{id: "model-trial", request: `{"model":` + device + `,"rope":"none","mass_kg":90}`},
		{id: "plan-move", request: `{"drop":` + shaft + `,"move":"descend"}`, args: []string{"plan", "--move", "descend", "--json", "-"}, part: "plan"},
		{id: "plan-move", request: `{"drop":` + shaft + `,"move":"descend","person":"none"}`, args: []string{"plan", "--move", "descend", "--person", "none", "-"}},
		{id: "plan-team", request: `{"drop":` + wall + `}`, args: []string{"team", "--json", "-"}, part: "figures"},
		{id: "plan-team", request: `{"drop":` + wall + `,"move":"lower","to_m":30}`, args: []string{"team", "--move", "lower", "--to", "30", "--json", "-"}, part: "plan"},
		{id: "plan-team", request: `{"drop":` + shaft + `,"move":"lower"}`, args: []string{"team", "--move", "lower", "-"}},
		{id: "rescue", request: `{"drop":` + face + `,"person":"ivo","at_m":20}`, args: []string{"rescue", "--person", "ivo", "--at", "20", "--json", "-"}},
		{id: "loading", request: `{"drop":` + face + `,"person":"ivo","hold":"ivo-main","view":"back"}`},
		{id: "loading", request: `{"drop":` + wall + `,"person":"team-load","hold":"team-belay"}`},
		{id: "loading", request: `{"drop":` + face + `,"person":"ivo","hold":"none"}`},
		{id: "knots", request: `{"drop":` + face + `,"strand":"main","view":"back"}`},
		{id: "knots", request: `{"knots":["join","clove"]}`},
		{id: "team-picture", request: `{"drop":` + wall + `,"state":{"main":{"loaded":true,"proved":true,"hand":1},"belay":{},"at_cm":2000,"hangs":true}}`},
		{id: "team-picture", request: `{"drop":` + face + `,"state":{"main":{},"belay":{},"at_cm":2000}}`},
		{id: "pair-picture", request: `{"drop":` + face + `,"rescuer":"dov","casualty":"ivo","state":{"rescuer_m":20.4,"casualty_m":20,"rescuer":[],"casualty":[],"bears":"chain","chain":"locked","links":2}}`},
		{id: "pair-picture", request: `{"drop":` + face + `,"rescuer":"dov","casualty":"none","state":{"rescuer_m":20.4,"casualty_m":20,"rescuer":[],"casualty":[],"bears":"own"}}`},
		{id: "stance-picture", request: `{"drop":` + shaft + `,"view":"back","state":{"at_m":20,"holds":[{"item":"descender-1","strand":"main","span":0,"at_m":20.2}]}}`},
		{id: "stance-picture", request: `{"drop":` + shaft + `,"state":{"at_m":20,"holds":[{"item":"descender-1","strand":"none","span":0,"at_m":20.2}]}}`},
		{id: "forces-picture", request: `{"drop":` + wall + `,"raising":true}`},
		{id: "forces-picture", request: `{"drop":` + shaft + `}`},
		{id: "figure-picture", request: `{"figure":"swing","in":"{\"rope_length_m\":30,\"offset_m\":4}"}`},
		{id: "figure-picture", request: `{"figure":"swing","in":"{\"rope_length_m\":-30}"}`},
		{id: "merge", request: `{"base":` + face + `,"mine":` + strings.Replace(face, `"name":"Face 7"`, `"name":"Face 7 north"`, 1) + `,"theirs":` + strings.Replace(face, `"wind_m_s":`, `"note":"wet","wind_m_s":`, 1) + `}`},
		{id: "merge", request: `{"base":` + face + `,"mine":` + face + `,"theirs":` + face + `,"prefer":"nobody"}`},
		{id: "waiting", request: `{"drop":` + face + `,"id":"face-7","waiting":[{"by":"Dov Pellister","entry":` + dropped + `}],"at":"2026-11-24T08:05:00Z","today":"2026-11-24"}`},
		{id: "waiting", request: `{"waiting":[],"at":"2026-11-24T08:05:00Z","today":"2026-11-24"}`},
		{id: "callout", request: `{"known":{"height_m":{"low_m":20,"high_m":40},"load":"two","knots":true},"day":"2026-11-24",` + bags + `}`},
		{id: "callout", request: `{"known":{"kits":["none"]},"day":"2026-11-24",` + bags + `}`},
		{id: "capability", request: `{"kit":"van bag","day":"2026-11-24",` + bags + `}`},
		{id: "near", request: `{"preplans":[{"id":"a","preplan":{"format":"pre-plan","version":1,"name":"A","lat":46,"lon":9}}],"lat":46.1,"lon":9.1,"day":"2026-11-24"}`},
		{id: "make-exercise", request: `{"kind":"faults","seed":7,"level":2,"drop":` + shaft + `}`, args: []string{"drill", "make", "--kind", "faults", "--seed", "7", "--level", "2", "--drop", "-"}},
		{id: "make-exercise", request: `{"kind":"move","move":"fly","drop":` + shaft + `}`, args: []string{"drill", "make", "--kind", "move", "--move", "fly", "--drop", "-"}},
		{id: "mark-exercise", request: `{"exercise":` + exercise("apart") + `,"answer":{"option":"b"}}`},
		{id: "mark-exercise", request: `{"exercise":` + exercise("fails") + `,"answer":{"option":"f"}}`},
		{id: "step-exercise", request: `{"exercise":` + exercise("move") + `,"steps":[]}`},
		{id: "step-exercise", request: `{"exercise":` + exercise("fails") + `}`},
		{id: "run-state", request: asText(t, demo.Run()), args: []string{"run", "--json", "-"}},
		{id: "run-state", request: strings.Replace(asText(t, demo.Run()), `"person":"ivo"`, `"person":"nobody"`, 1), args: []string{"run", "-"}},
		{id: "rescue", request: `{"drop":` + wall + `}`, args: []string{"rescue", "--json", "-"}},
	}
	moved := ask.MoveAsked{Drop: *demo.Drops()["gate-shaft"], Move: "descend"}
	answer, err := moved.Answer(t.Context(), ask.Env{})
	if err != nil || answer.Plan == nil {
		t.Fatal(err, answer)
	}
	steps := asText(t, map[string]any{"move": "descend", "to_m": answer.Plan.ToM, "start": answer.Plan.Start, "steps": answer.Plan.Actions()[1:]})
	list = append(list,
		asking{id: "replay-moves", request: `{"drop":` + shaft + `,"list":` + steps + `}`},
		asking{id: "replay-moves", request: `{"drop":` + shaft + `,"list":{"move":"none","start":{},"steps":[]}}`},
	)
	// The published example of each figure, and the same with a field that it has not.
	text, err := os.ReadFile("../../docs/formats/calc.md")
	if err != nil {
		t.Fatal(err)
	}
	for _, m := range regexp.MustCompile("(?s)\n## (\\w+)\n.*?```json\n(.*?)\n```").FindAllSubmatch(text, -1) {
		name, example := string(m[1]), string(m[2])
		list = append(list, asking{id: "calc-" + name, request: example, args: []string{"calc", name}},
			asking{id: "calc-" + name, request: `{"none":1,` + example[1:], args: []string{"calc", name}})
	}
	return list
}

// overHTTP gives an answer, or what was refused.
func overHTTP(t *testing.T, site http.Handler, cookie *http.Cookie, q *ask.Question, a *asking) (answer, faults json.RawMessage) {
	t.Helper()
	query := url.Values{}
	for k, v := range a.options {
		query.Set(k, fmt.Sprint(v))
	}
	r := httptest.NewRequest(q.Method, "/api/v1"+q.Path+"?"+query.Encode(), strings.NewReader(a.request))
	r.AddCookie(cookie)
	w := httptest.NewRecorder()
	site.ServeHTTP(w, r)
	if w.Code == http.StatusOK {
		return w.Body.Bytes(), nil
	}
	var problem struct{ Errors json.RawMessage }
	if err := json.Unmarshal(w.Body.Bytes(), &problem); err != nil || w.Code != http.StatusUnprocessableEntity || len(problem.Errors) == 0 {
		t.Fatalf("%s: %d %s", a.id, w.Code, w.Body)
	}
	return nil, problem.Errors
}

// ownCore is the core of the built page in a page of the test's own, which lets it ask any
// question.
func ownCore(t *testing.T, site http.Handler) func(question, options, request string) string {
	t.Helper()
	get := func(path string) []byte {
		w := httptest.NewRecorder()
		site.ServeHTTP(w, httptest.NewRequest("GET", path, nil))
		return w.Body.Bytes()
	}
	core := regexp.MustCompile(`assets/core-[^"']+\.wasm`).FindString(string(get("/sw.js")))
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch r.URL.Path {
		case "/core.wasm":
			w.Header().Set("Content-Type", "application/wasm")
			_, _ = w.Write(get("/" + core))
		case "/wasm_exec.js":
			http.ServeFile(w, r, "../../web/core/wasm_exec.js")
		default:
			_, _ = io.WriteString(w, `<script src="/wasm_exec.js"></script><script>
				globalThis.zealousKnotTell = () => {}
				const go = new Go()
				WebAssembly.instantiateStreaming(fetch('/core.wasm'), go.importObject).then((m) => go.run(m.instance))
			</script>`)
		}
	}))
	ctx, done, err := browser.Start(t.Context(), 5*time.Minute)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { done(); server.Close() })
	if err := chromedp.Run(ctx, chromedp.Navigate(server.URL), until(`!!globalThis.zealousKnotAsk`)); err != nil {
		t.Fatal(err)
	}
	return func(question, options, request string) (text string) {
		call := fmt.Sprintf("zealousKnotAsk(%s, %s, %s)", asText(t, question), asText(t, options), asText(t, request))
		if err := chromedp.Run(ctx, chromedp.Evaluate(call, &text)); err != nil {
			t.Fatal(err)
		}
		return text
	}
}

func optionsText(t *testing.T, a *asking) string {
	if a.options == nil {
		return ""
	}
	return asText(t, a.options)
}

func asText(t *testing.T, v any) string {
	t.Helper()
	text, err := json.Marshal(v)
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

// same holds two answers against each other: spaces and how signs are escaped are each
// door's own, and so is how many states were expanded, since what is known counts nothing.
func same(t *testing.T, what string, a, b []byte) {
	t.Helper()
	read := func(text []byte) (v any) {
		if len(text) > 0 {
			if err := json.Unmarshal(text, &v); err != nil {
				t.Errorf("%s: %v: %.200s", what, err, text)
			}
		}
		return v
	}
	if at := differs("", read(a), read(b)); at != "" {
		t.Errorf("%s: %s", what, at)
	}
}

// differs says where two values of JSON differ. Of numbers the last digits may: processors
// have their own exponentials and roots.
func differs(at string, a, b any) string {
	switch x := a.(type) {
	case float64:
		if y, ok := b.(float64); ok && (math.Abs(x-y) <= 1e-9*math.Max(1, math.Abs(x)) || at == "/expanded") {
			return ""
		}
	case []any:
		if y, ok := b.([]any); ok && len(x) == len(y) {
			for i := range x {
				if d := differs(fmt.Sprintf("%s/%d", at, i), x[i], y[i]); d != "" {
					return d
				}
			}
			return ""
		}
	case map[string]any:
		y, ok := b.(map[string]any)
		for k := range y {
			if _, there := x[k]; !there {
				return at + "/" + k + " is there at one door only"
			}
		}
		for k := range x {
			if d := differs(at+"/"+k, x[k], y[k]); ok && d != "" {
				return d
			}
		}
		if ok {
			return ""
		}
	}
	if reflect.DeepEqual(a, b) {
		return ""
	}
	return fmt.Sprintf("%s: %.200v is not %.200v", at, b, a)
}
