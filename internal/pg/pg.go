// Package pg finds Debian's PostgreSQL and runs a private server on loopback,
// for the demo and for tests.
//
// It knows programs, folders and processes. It knows nothing of what is kept.
package pg

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/jackc/pgx/v5"
)

// superuser owns the private cluster, and the database of the same name in it.
const superuser = "zealousknot"

// Program is the role that the program itself signs in as. It owns nothing.
const Program = "zealousknot_program"

// Options say how to run a server.
type Options struct {
	// Dir is where the cluster lives; it is made if need be.
	Dir string
	// Durable keeps fsync on. Only tests that do not care turn it off.
	Durable bool
	// Progress receives what takes time.
	Progress func(string)
}

// Server is a running private PostgreSQL.
type Server struct {
	// URL is where its database is, for its owner; ProgramURL for the program.
	URL, ProgramURL string

	cmd  *exec.Cmd
	done chan struct{}
}

// Start runs a server, making its cluster first where there is none. A server
// that an earlier, killed program left running there is stopped first.
func Start(ctx context.Context, o Options) (*Server, error) {
	owner, err := findOwner()
	if err != nil {
		return nil, err
	}
	dir, err := owner.folder(o.Dir)
	if err != nil {
		return nil, err
	}
	data := filepath.Join(dir, "data")
	bin, err := programs(data)
	if err != nil {
		return nil, err
	}
	c := &cluster{bin: bin, dir: dir, data: data, owner: owner, progress: o.Progress}
	if err := c.initialise(ctx); err != nil {
		return nil, err
	}
	if err := c.stopLeftover(ctx); err != nil {
		return nil, err
	}
	return c.start(ctx, o.Durable)
}

// cluster is a folder with a database cluster and who runs it.
type cluster struct {
	bin, dir, data string
	owner          owner
	progress       func(string)
}

// programs finds the folder of PostgreSQL's programs: of the version that made
// the cluster, else the newest.
func programs(data string) (string, error) {
	version := "*"
	if b, err := os.ReadFile(filepath.Join(data, "PG_VERSION")); err == nil {
		version = strings.TrimSpace(string(b))
	}
	if dir, err := newest(version, "initdb"); err == nil {
		return dir, nil
	}
	if f, err := exec.LookPath("initdb"); err == nil && version == "*" {
		return filepath.Dir(f), nil
	}
	return "", errors.New("PostgreSQL is not installed (Debian package: postgresql)")
}

// newest finds the folder of the newest version that has a program.
func newest(version, program string) (string, error) {
	found, _ := filepath.Glob(filepath.Join("/usr/lib/postgresql", version, "bin", program))
	best, dir := -1, ""
	for _, f := range found {
		bin := filepath.Dir(f)
		if n, err := strconv.Atoi(filepath.Base(filepath.Dir(bin))); err == nil && n > best {
			best, dir = n, bin
		}
	}
	if dir == "" {
		return "", errors.New("not found")
	}
	return dir, nil
}

// Tool finds one of PostgreSQL's client programs, the newest: it speaks with older servers.
func Tool(name string) (string, error) {
	if bin, err := newest("*", name); err == nil {
		return filepath.Join(bin, name), nil
	}
	f, err := exec.LookPath(name)
	if err != nil {
		return "", fmt.Errorf("%s is not installed (Debian package: postgresql-client)", name)
	}
	return f, nil
}

// initialise makes the cluster beside its place and moves it there when it is
// whole, so that a run that was killed leaves no half of one.
func (c *cluster) initialise(ctx context.Context) error {
	if _, err := os.Stat(filepath.Join(c.data, "PG_VERSION")); err == nil {
		return nil
	}
	c.progress("making a private PostgreSQL cluster in " + c.dir)
	password := rand.Text()
	file := filepath.Join(c.dir, "password")
	if err := c.owner.write(file, password); err != nil {
		return err
	}
	half := c.data + ".new"
	if err := os.RemoveAll(half); err != nil {
		return err
	}
	out, err := c.command(ctx, "initdb", "-D", half, "-U", superuser, "-A", "scram-sha-256", "--pwfile", file,
		"-E", "UTF8", "--no-locale", "--no-instructions").CombinedOutput()
	if err != nil {
		return fmt.Errorf("initdb: %w: %s", err, out)
	}
	return os.Rename(half, c.data)
}

func (c *cluster) command(ctx context.Context, program string, args ...string) *exec.Cmd {
	cmd := exec.CommandContext(ctx, filepath.Join(c.bin, program), args...)
	cmd.Dir = c.dir
	cmd.Env = append(os.Environ(), "LC_ALL=C")
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: c.owner.credential()}
	return cmd
}

// stopLeftover stops a server that still runs on the cluster.
func (c *cluster) stopLeftover(ctx context.Context) error {
	b, err := os.ReadFile(filepath.Join(c.data, "postmaster.pid"))
	if err != nil {
		return nil
	}
	first, _, _ := strings.Cut(string(b), "\n")
	pid, err := strconv.Atoi(strings.TrimSpace(first))
	if err != nil || syscall.Kill(pid, 0) != nil {
		return nil
	}
	c.progress("stopping the database that an earlier run left behind")
	// pg_ctl refuses a pid that is not a server of this cluster; postgres itself
	// then finds the stale file when it starts.
	if out, err := c.command(ctx, "pg_ctl", "stop", "-D", c.data, "-m", "fast", "-w").CombinedOutput(); err != nil {
		c.progress("pg_ctl: " + strings.TrimSpace(string(out)))
	}
	return nil
}

func (c *cluster) start(ctx context.Context, durable bool) (*Server, error) {
	password, err := os.ReadFile(filepath.Join(c.dir, "password"))
	if err != nil {
		return nil, err
	}
	port, err := freePort()
	if err != nil {
		return nil, err
	}
	args := []string{"-D", c.data, "-p", strconv.Itoa(port), "-c", "listen_addresses=127.0.0.1", "-c", "unix_socket_directories=",
		"-c", "max_connections=200"}
	if !durable {
		args = append(args, "-c", "fsync=off", "-c", "synchronous_commit=off", "-c", "full_page_writes=off")
	}
	log, err := c.owner.create(filepath.Join(c.dir, "postgres.log"))
	if err != nil {
		return nil, err
	}
	defer log.Close()
	cmd := c.command(context.Background(), "postgres", args...)
	cmd.Stdout, cmd.Stderr = log, log
	// Its own group, so that Ctrl-C reaches it through Stop alone, in order.
	cmd.SysProcAttr.Setpgid = true
	cmd.SysProcAttr.Pdeathsig = syscall.SIGINT
	s := &Server{cmd: cmd, done: make(chan struct{})}
	if err := s.run(); err != nil {
		return nil, fmt.Errorf("postgres: %w", err)
	}
	base := address(superuser, password, port)
	if err := s.ready(ctx, base, string(password)); err != nil {
		s.Stop()
		tail, _ := os.ReadFile(log.Name())
		return nil, fmt.Errorf("%w\n%s", err, tail[max(0, len(tail)-2000):])
	}
	s.URL, s.ProgramURL = base, address(Program, password, port)
	return s, nil
}

func address(role string, password []byte, port int) string {
	return fmt.Sprintf("postgres://%s:%s@127.0.0.1:%d/%s?sslmode=disable", role, password, port, superuser)
}

// Running gives where the owner finds the database of a server that runs in a
// folder, started by whichever program.
func Running(folder string) (url string, err error) {
	owner, err := findOwner()
	if err != nil {
		return "", err
	}
	dir, err := owner.folder(folder)
	if err != nil {
		return "", err
	}
	password, err := os.ReadFile(filepath.Join(dir, "password"))
	if err != nil {
		return "", err
	}
	b, err := os.ReadFile(filepath.Join(dir, "data", "postmaster.pid"))
	if err != nil {
		return "", errors.New("no database runs in " + folder)
	}
	lines := strings.Split(string(b), "\n")
	if len(lines) < 4 {
		return "", errors.New("the database in " + folder + " is only starting")
	}
	port, err := strconv.Atoi(lines[3])
	return address(superuser, password, port), err
}

// run starts the process from a thread that lives as long as it does: the
// signal on a parent's death is sent when the thread that started it ends.
func (s *Server) run() error {
	started := make(chan error)
	go func() {
		runtime.LockOSThread()
		err := s.cmd.Start()
		started <- err
		if err == nil {
			_ = s.cmd.Wait()
		}
		close(s.done)
	}()
	return <-started
}

// ready waits until the server answers and has its database.
func (s *Server) ready(ctx context.Context, base, password string) error {
	ctx, cancel := context.WithTimeout(ctx, time.Minute)
	defer cancel()
	config, err := pgx.ParseConfig(base)
	if err != nil {
		return err
	}
	config.Database = "postgres"
	for {
		conn, err := pgx.ConnectConfig(ctx, config)
		if err == nil {
			defer conn.Close(ctx)
			return ensureDatabase(ctx, conn, password)
		}
		select {
		case <-s.done:
			return errors.New("postgres ended at once")
		case <-ctx.Done():
			return fmt.Errorf("postgres does not answer: %w", err)
		case <-time.After(20 * time.Millisecond):
		}
	}
}

// ensureDatabase makes the database and the program's role where they do not
// exist yet. The password is of letters and digits.
func ensureDatabase(ctx context.Context, conn *pgx.Conn, password string) error {
	for _, e := range []struct{ there, make string }{
		{"SELECT FROM pg_roles WHERE rolname = '" + Program + "'", "CREATE ROLE " + Program + " LOGIN PASSWORD '" + password + "'"},
		{"SELECT FROM pg_database WHERE datname = '" + superuser + "'", "CREATE DATABASE " + superuser},
	} {
		var there bool
		if err := conn.QueryRow(ctx, "SELECT EXISTS ("+e.there+")").Scan(&there); err != nil {
			return err
		}
		if there {
			continue
		}
		if _, err := conn.Exec(ctx, e.make); err != nil {
			return err
		}
	}
	return nil
}

// Stop ends the server and waits for it: clients are cut off, nothing that was
// committed is lost.
func (s *Server) Stop() {
	_ = s.cmd.Process.Signal(syscall.SIGINT)
	<-s.done
}

// Done is closed when the server has ended, asked or not.
func (s *Server) Done() <-chan struct{} { return s.done }

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}
