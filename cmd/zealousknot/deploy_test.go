package main

import (
	"bufio"
	"context"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"fmt"
	"io"
	"math/big"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"zealousknot/internal/demo"
	"zealousknot/internal/demo/scenario"
	"zealousknot/internal/pg/pgtest"
	"zealousknot/internal/store"
	"zealousknot/internal/web"
)

// The unit that is shipped is one that systemd takes, with nothing to say about it.
func TestUnit(t *testing.T) {
	text, err := os.ReadFile("../../deploy/zealousknot.service")
	if err != nil {
		t.Fatal(err)
	}
	const installed = "/usr/local/bin/zealousknot"
	if !strings.Contains(string(text), "ExecStart="+installed+" serve ") {
		t.Fatal("it starts something else")
	}
	verify := func(text string) string {
		file := filepath.Join(t.TempDir(), "zealousknot.service")
		if err := os.WriteFile(file, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
		out, err := exec.Command("systemd-analyze", "verify", "--man=no", file).CombinedOutput()
		if err != nil {
			return fmt.Sprint(err, string(out))
		}
		return string(out)
	}
	// The program itself may not be installed here.
	unit := strings.Replace(string(text), installed, "/bin/true", 1)
	if said := verify(unit); said != "" {
		t.Error(said)
	}
	if verify(strings.Replace(unit, "PrivateTmp", "PrivateTemp", 1)) == "" {
		t.Error("a misspelt setting is not noticed")
	}
}

// Through the proxy that is shipped, over https: signing in holds, pages receive
// changes as they happen, and who guesses is known by their own address.
func TestBehindNginx(t *testing.T) {
	program, _ := pgtest.URLs(t)
	serving := serveOn(t, program)
	proxied, client := nginx(t, serving.address)
	post := func(path, body string) (*http.Response, error) {
		r, err := http.NewRequestWithContext(t.Context(), "POST", proxied+path, strings.NewReader(body))
		if err != nil {
			return nil, err
		}
		r.Header.Set("Content-Type", "application/json")
		r.Header.Set("Origin", proxied)
		r.Header.Set("X-Forwarded-For", "198.51.100.7") // what a client says of itself does not count
		return client.Do(r)
	}
	answer, err := post("/api/v1/session", fmt.Sprintf(`{"login":"dov","password":%q}`, demo.Password))
	if err != nil || answer.StatusCode != http.StatusNoContent || !answer.Cookies()[0].Secure {
		t.Fatal(answer, err)
	}
	ctx, stop := context.WithTimeout(t.Context(), 30*time.Second)
	defer stop()
	r, err := http.NewRequestWithContext(ctx, "GET", proxied+"/api/v1/changes", nil)
	if err != nil {
		t.Fatal(err)
	}
	live, err := client.Do(r)
	if err != nil || live.StatusCode != 200 {
		t.Fatal(live, err)
	}
	defer live.Body.Close()
	lines := bufio.NewScanner(live.Body)
	lines.Scan() // the first beat: it listens now
	now := time.Now().UTC().Format(time.RFC3339Nano)
	if answer, err := post("/api/v1/records", fmt.Sprintf(`{"sent_at":%q,"records":[{"id":"7b0a4f6e-0f7e-4ad1-9a0e-3a4ae1a0f001","given_at":%q,"day":"2026-11-24","item":"rope-3","kind":"quarantine","quarantine":{"event":"dropped"}}]}`, now, now)); err != nil || answer.StatusCode != 200 {
		t.Fatal(answer, err)
	}
	for lines.Scan() && !strings.Contains(lines.Text(), `"gear":true`) {
	}
	if err := lines.Err(); err != nil {
		t.Errorf("not stated: %v", err)
	}
	if _, err := post("/api/v1/session", `{"login":"rhea","password":"a guess"}`); err != nil {
		t.Fatal(err)
	}
	if n, _, err := serving.db.Wrong(t.Context(), "from 127.0.0.1"); err != nil || n != 1 {
		t.Errorf("%d guesses from the client's own address: %v", n, err)
	}
}

// A database role that lacks a right which a newer version needs gets an error, and nothing is served.
func TestLacksRights(t *testing.T) {
	program, owner := pgtest.URLs(t)
	if _, err := exec1(owner, "REVOKE ALL ON record_subjects, sent FROM zealousknot_program"); err != nil {
		t.Fatal(err)
	}
	code, _, errs := command(t, "", "serve", "--database-url="+program, "--address=127.0.0.1:0")
	if code == 0 || !strings.Contains(errs, "record_subjects, sent: run migrate --program-role") {
		t.Errorf("%d %s", code, errs)
	}
}

// service is a running serve command, and its database.
type service struct {
	address string
	db      *store.Store
}

// serveOn serves a database with the demo's team until the test ends.
func serveOn(t *testing.T, url string) *service {
	t.Helper()
	db, err := store.Open(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(db.Close)
	hash, err := web.HashPassword(t.Context(), demo.Password)
	if err != nil {
		t.Fatal(err)
	}
	sc := scenario.Of(hash)
	for i := range sc.Members {
		sc.Members[i].Demo = false // served as a site that is not the demo
	}
	if _, _, err := db.Load(t.Context(), sc); err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(context.Background())
	ended := make(chan int, 1)
	out, says := io.Pipe()
	go func() {
		ended <- run(ctx, []string{"serve", "--database-url=" + url, "--address=127.0.0.1:0", "--trusted-proxy=127.0.0.1/32"}, streams{strings.NewReader(""), says, io.Discard})
	}()
	t.Cleanup(func() {
		stop()
		if code := <-ended; code != 0 {
			t.Errorf("serve ended with %d", code)
		}
	})
	// It says where it is once it is ready.
	line, err := bufio.NewReader(out).ReadString('\n')
	if err != nil {
		t.Fatal(err)
	}
	go func() { _, _ = io.Copy(io.Discard, out) }()
	return &service{strings.TrimSpace(line[strings.Index(line, "//")+2:]), db}
}

func freeAddress(t *testing.T) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	return l.Addr().String()
}

// nginx runs the proxy as it is shipped, with a certificate of its own, in front of some
// instances; it gives its address and a client that trusts it and keeps cookies.
func nginx(t *testing.T, instances ...string) (url string, client *http.Client) {
	t.Helper()
	dir, err := os.MkdirTemp("", "zealousknot-nginx-")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(dir) })
	trusted := certificate(t, dir)
	text, err := os.ReadFile("../../deploy/nginx.conf")
	if err != nil {
		t.Fatal(err)
	}
	address := freeAddress(t)
	servers := ""
	for _, i := range instances {
		servers += "server " + i + ";\n"
	}
	conf := string(text)
	for _, change := range [][2]string{
		{"    server 127.0.0.1:8137;\n", servers}, {"listen 443 ssl", "listen " + address + " ssl"},
		{"/etc/zealousknot/certificate.pem", dir + "/certificate.pem"}, {"/etc/zealousknot/key.pem", dir + "/key.pem"},
	} {
		if !strings.Contains(conf, change[0]) {
			t.Fatal("nginx.conf has no", change[0])
		}
		conf = strings.Replace(conf, change[0], change[1], 1)
	}
	// As a daemon it returns when it listens.
	conf = fmt.Sprintf("pid %[1]s/pid;\nerror_log %[1]s/error.log;\nevents {}\nhttp {\naccess_log off;\nclient_body_temp_path %[1]s/body;\nproxy_temp_path %[1]s/proxy;\nfastcgi_temp_path %[1]s/f;\nuwsgi_temp_path %[1]s/u;\nscgi_temp_path %[1]s/s;\n%[2]s\n}\n", dir, conf)
	if os.Geteuid() == 0 {
		conf = "user root;\n" + conf
	}
	if err := os.WriteFile(dir+"/nginx.conf", []byte(conf), 0o600); err != nil {
		t.Fatal(err)
	}
	if out, err := exec.Command("/usr/sbin/nginx", "-p", dir, "-c", dir+"/nginx.conf", "-e", dir+"/error.log").CombinedOutput(); err != nil {
		t.Fatal(err, string(out))
	}
	t.Cleanup(func() {
		if out, err := exec.Command("/usr/sbin/nginx", "-p", dir, "-c", dir+"/nginx.conf", "-e", dir+"/error.log", "-s", "stop").CombinedOutput(); err != nil {
			t.Error(err, string(out))
		}
	})
	jar, _ := cookiejar.New(nil)
	client = &http.Client{Jar: jar, Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: trusted}}}
	return "https://" + address, client
}

// certificate makes a key and a certificate of its own for this machine.
func certificate(t *testing.T, dir string) *x509.CertPool {
	t.Helper()
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		t.Fatal(err)
	}
	about := &x509.Certificate{SerialNumber: big.NewInt(1), Subject: pkix.Name{CommonName: "a test"}, NotAfter: time.Now().Add(time.Hour), IPAddresses: []net.IP{net.IPv4(127, 0, 0, 1)}}
	cert, err := x509.CreateCertificate(rand.Reader, about, about, &key.PublicKey, key)
	if err != nil {
		t.Fatal(err)
	}
	private, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		t.Fatal(err)
	}
	pool := x509.NewCertPool()
	for name, block := range map[string]*pem.Block{"certificate.pem": {Type: "CERTIFICATE", Bytes: cert}, "key.pem": {Type: "PRIVATE KEY", Bytes: private}} {
		text := pem.EncodeToMemory(block)
		if name == "certificate.pem" {
			pool.AppendCertsFromPEM(text)
		}
		if err := os.WriteFile(filepath.Join(dir, name), text, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	return pool
}
