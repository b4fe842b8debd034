package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"syscall"
	"testing"

	"zealousknot/internal/demo"
	"zealousknot/internal/pg/pgtest"
)

// asProgram makes the test binary behave as the program.
const asProgram = "ZEALOUSKNOT_TEST_AS_PROGRAM"

func TestMain(m *testing.M) {
	if os.Getenv(asProgram) != "" {
		main()
	}
	pgtest.Main(m)
}

// running is a demo in a process of its own, with somebody signed in.
type running struct {
	cmd     *exec.Cmd
	out     *bufio.Reader
	address string
	client  *http.Client
}

func program(args ...string) *exec.Cmd {
	cmd := exec.Command(os.Args[0], args...)
	cmd.Env = append(os.Environ(), asProgram+"=1", "DATABASE_URL=")
	return cmd
}

var printed = regexp.MustCompile(`is at (http://127\.0\.0\.1:\d+)`)

func startDemo(t *testing.T, dir string) *running {
	t.Helper()
	return startProgram(t, "", "demo", "--dir", dir, "--port", "0", "--day", string(demo.Day))
}

// startProgram starts the program in a process of its own, and waits until it says where
// it is.
func startProgram(t *testing.T, database string, args ...string) *running {
	t.Helper()
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	r := &running{client: &http.Client{Jar: jar}, cmd: program(args...)}
	r.cmd.Env = append(r.cmd.Env, "DATABASE_URL="+database)
	pipe, err := r.cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	var errs strings.Builder
	r.cmd.Stderr = &errs
	if err := r.cmd.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = r.cmd.Process.Kill(); _ = r.cmd.Wait() })
	r.out = bufio.NewReader(pipe)
	for r.address == "" {
		line, err := r.out.ReadString('\n')
		if err != nil {
			_ = r.cmd.Wait()
			t.Fatalf("no address: %v\n%s", err, &errs)
		}
		if found := printed.FindStringSubmatch(line); found != nil {
			r.address = found[1]
		}
	}
	return r
}

// signIn signs the demo's supervisor in.
func (r *running) signIn(t *testing.T) *running {
	t.Helper()
	if _, err := r.call("POST", "/api/v1/session", `{"login":"dov","password":"`+demo.Password+`"}`); err != nil {
		t.Fatal(err)
	}
	return r
}

// call sends a request and gives what was answered.
func (r *running) call(method, path, body string, headers ...string) ([]byte, error) {
	request, err := http.NewRequest(method, r.address+path, strings.NewReader(body))
	if err != nil {
		return nil, err
	}
	for i := 0; i < len(headers); i += 2 {
		request.Header.Set(headers[i], headers[i+1])
	}
	answer, err := r.client.Do(request)
	if err != nil {
		return nil, err
	}
	defer answer.Body.Close()
	text, err := io.ReadAll(answer.Body)
	if err == nil && answer.StatusCode/100 != 2 {
		err = fmt.Errorf("%s %s: %s %s", method, path, answer.Status, text)
	}
	return text, err
}

func (r *running) drops(t *testing.T) string {
	t.Helper()
	text, err := r.call("GET", "/api/v1/drops", "")
	for err == nil && bytes.Count(text, []byte(`"id"`)) > bytes.Count(text, []byte(`"stops"`)) {
		// Some are not counted yet; each time one more is.
		text, err = r.call("GET", "/api/v1/drops", "")
	}
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

// demoDir is a folder for a demo; the database may run as another user, who must be
// able to come in.
func demoDir(t *testing.T) string {
	t.Helper()
	dir, err := os.MkdirTemp("", "zealousknot-demo-")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	if err := os.Chmod(dir, 0o755); err != nil {
		t.Fatal(err)
	}
	return dir
}

// postmaster is the process of the demo's private database.
func postmaster(t *testing.T, dir string) int {
	t.Helper()
	text, err := os.ReadFile(filepath.Join(dir, "pg/data/postmaster.pid"))
	if err != nil {
		t.Fatal(err)
	}
	pid, err := strconv.Atoi(strings.SplitN(string(text), "\n", 2)[0])
	if err != nil {
		t.Fatal(err)
	}
	return pid
}

// With --live a run is there at once, an exercise that is running, and readings come in by
// themselves.
func TestDemoLive(t *testing.T) {
	r := startProgram(t, "", "demo", "--dir", demoDir(t), "--port", "0", "--day", string(demo.Day), "--live").signIn(t)
	text, err := r.call("GET", "/api/v1/runs", "")
	var list struct {
		Runs []struct {
			ID, Phase string
			Exercise  bool
		}
	}
	if err != nil || json.Unmarshal(text, &list) != nil || len(list.Runs) != 1 || list.Runs[0].Phase != "running" || !list.Runs[0].Exercise {
		t.Fatalf("%v %s", err, text)
	}
	seen := false
	for n := 0; !seen; n++ {
		if n == 20000 {
			t.Fatal("no reading came in")
		}
		text, err := r.call("GET", "/api/v1/runs/"+list.Runs[0].ID+"/readings.csv", "")
		if err != nil {
			t.Fatal(err)
		}
		seen = strings.Contains(string(text), "main.force") && strings.Contains(string(text), "gust")
	}
}

// The demo runs once a folder, says so when started twice, recovers from being
// killed with everything that was kept, and stops its database with itself.
func TestDemo(t *testing.T) {
	dir := demoDir(t)
	first := startDemo(t, dir).signIn(t)
	before := first.drops(t)
	if !strings.Contains(before, `"face-4"`) || !strings.Contains(before, `"day":"`+string(demo.Day)+`"`) {
		t.Fatal(before)
	}
	out, err := program("demo", "--dir", dir).CombinedOutput()
	if err == nil || !strings.Contains(string(out), "already running at "+first.address) {
		t.Errorf("started twice: %v %s", err, out)
	}
	// A day that is none is refused before anything is made.
	other := filepath.Join(t.TempDir(), "none")
	wrong := program("demo", "--dir", other, "--day", "31.12.2026")
	out, err = wrong.CombinedOutput()
	if _, made := os.Stat(other); wrong.ProcessState.ExitCode() != 2 || !strings.Contains(string(out), "--day") || made == nil {
		t.Errorf("%v %s", err, out)
	}
	if _, err := first.call("DELETE", "/api/v1/drops/gate-shaft", "", "If-Match", `"1"`); err != nil {
		t.Fatal(err)
	}
	kept := first.drops(t)

	if err := first.cmd.Process.Kill(); err != nil {
		t.Fatal(err)
	}
	_ = first.cmd.Wait()
	second := startDemo(t, dir).signIn(t)
	if got := second.drops(t); got != kept {
		t.Errorf("after the kill: %s, want %s", got, kept)
	}

	pid := postmaster(t, dir)
	if err := second.cmd.Process.Signal(os.Interrupt); err != nil {
		t.Fatal(err)
	}
	rest, _ := io.ReadAll(second.out)
	if err := second.cmd.Wait(); err != nil || !strings.Contains(string(rest), "Stopped.") {
		t.Errorf("interrupted: %v %s", err, rest)
	}
	if err := syscall.Kill(pid, 0); err == nil {
		t.Errorf("the database %d still runs", pid)
	}
}
