package web_test

import (
	"bytes"
	"encoding/json"
	"log/slog"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/core/record"
	"zealousknot/internal/web"
)

// A team's days and hours are those of its zone: what the program dates itself, sheets and
// files. The zone is a supervisor's to change, and the change is recorded.
func TestTimeZone(t *testing.T) {
	h := newHouse(t)
	dov := h.as(t, "dov")
	url := dov.URL + "/api/v1/team/time-zone"
	for _, wrong := range []string{"", "Local", "Nowhere/At all", "../etc/passwd"} {
		refused(t, 422, "/time_zone", "PUT", url, []byte(`{"time_zone":"`+wrong+`"}`))
	}
	// Between them it is another day somewhere at every hour.
	for _, zone := range []string{"Pacific/Kiritimati", "Pacific/Pago_Pago"} {
		if answer, text := call(t, "PUT", url, []byte(`{"time_zone":"`+zone+`"}`)); answer.StatusCode != 204 {
			t.Fatal(answer.Status, string(text))
		}
		at, err := time.LoadLocation(zone)
		if err != nil {
			t.Fatal(err)
		}
		if said := linesOf(t, dov.URL, "about=team:team")[0].Says; said.Kind != record.PolicyChange || !strings.Contains(string(said.Change.Rows[0].After), zone) {
			t.Errorf("%s: %+v", zone, said)
		}
		etag, _ := call(t, "GET", dov.URL+"/api/v1/policy", nil)
		if answer, text := call(t, "PUT", dov.URL+"/api/v1/policy", []byte(`{"name":"by `+zone+`"}`), "If-Match", etag.Header.Get("ETag")); answer.StatusCode != 200 && answer.StatusCode != 204 {
			t.Fatal(answer.Status, string(text))
		}
		lines := linesOf(t, dov.URL, "about=policy:policy")
		if want := lines[0].At.In(at).Format(time.DateOnly); string(lines[0].Says.Day) != want {
			t.Errorf("%s: the change is of %s, wanted %s", zone, lines[0].Says.Day, want)
		}
		if !strings.Contains(string(asText(t, dov.URL+"/api/v1/session")), `"time_zone":"`+zone+`"`) {
			t.Error("the session has another zone")
		}
		offset := lines[0].At.In(at).Format("-07:00")
		if csv := asText(t, dov.URL+"/api/v1/drops/face-4/checks.csv"); !strings.Contains(csv, "server_time,") || !strings.Contains(csv, offset+",") {
			t.Errorf("%s: %.300s", zone, csv)
		}
	}
}

func asText(t *testing.T, url string) string {
	t.Helper()
	_, text := call(t, "GET", url, nil)
	return string(text)
}

// A problem has the id that the log has of its request, and not one that the client chose.
func TestRequestID(t *testing.T) {
	var log bytes.Buffer
	before := slog.Default()
	slog.SetDefault(slog.New(web.LogHandler{Handler: slog.NewJSONHandler(&log, nil)}))
	t.Cleanup(func() { slog.SetDefault(before) })
	s, _ := site(t)
	for _, path := range []string{"/api/v1/drops/none", "/api/v1/nowhere", "/api/v1/records"} {
		log.Reset()
		answer, text := call(t, "GET", s.URL+path, nil, "X-Request-Id", "mine")
		var p web.Problem
		if err := json.Unmarshal(text, &p); err != nil || len(p.RequestID) != 16 || p.RequestID != answer.Header.Get("X-Request-Id") {
			t.Errorf("%s: %v %s", path, err, text)
		}
		if !strings.Contains(log.String(), `"request_id":"`+p.RequestID+`"`) {
			t.Errorf("%s: the log has %s", path, log.String())
		}
	}
}
