// Package pgserver runs a private PostgreSQL on loopback for the demo, for
// development and for tests.
//
// It never touches the system's cluster: the data lies in a folder of its own,
// the port is a free one, only 127.0.0.1 listens, and a password made for the
// folder is wanted. PostgreSQL refuses to run as root, so a root process
// starts it under an unprivileged user. A server left behind by a process that
// was killed is found by its pid file and taken over.
package pgserver

import (
	"bytes"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"database/sql"
	"errors"
	"fmt"
	"net"
	"net/url"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"sort"
	"strconv"
	"strings"
	"syscall"
	"time"

	_ "github.com/jackc/pgx/v5/stdlib" // the driver that asks whether it is up
)

// ErrInstall says that PostgreSQL's programs are not on this machine.
var ErrInstall = errors.New("the PostgreSQL server is not installed: on Debian, apt-get install postgresql")

// ErrBusy says that another process uses the folder.
var ErrBusy = errors.New("another smolder is using this folder; end it first, or choose another folder")

// Options say where and how.
type Options struct {
	Dir      string // the data folder's parent; made when missing
	Volatile bool   // data need not survive a crash: tests
}

// A Server is a running PostgreSQL.
type Server struct {
	port     int
	password string
	cmd      *exec.Cmd // nil when an older process was taken over
	pid      int
	exited   chan error
	lock     *os.File
	Dir      string // where the data really lies
}

// Start makes the cluster if there is none and starts it. Stop must be called.
func Start(ctx context.Context, o Options) (*Server, error) {
	bin, err := programs()
	if err != nil {
		return nil, err
	}
	owner, err := unprivileged()
	if err != nil {
		return nil, err
	}
	dir, err := reachable(o.Dir, owner)
	if err != nil {
		return nil, err
	}
	s := &Server{Dir: dir, exited: make(chan error, 1)}
	if err := s.prepare(ctx, bin, owner); err != nil {
		s.unlock()
		return nil, err
	}
	if s.adopt(ctx) {
		return s, nil
	}
	if err := s.launch(ctx, bin, owner, o.Volatile); err != nil {
		s.unlock()
		return nil, err
	}
	return s, nil
}

// URL returns the address of a database on the server.
func (s *Server) URL(database string) string {
	return (&url.URL{Scheme: "postgres", User: url.UserPassword("smolder", s.password),
		Host: net.JoinHostPort("127.0.0.1", strconv.Itoa(s.port)), Path: "/" + database,
		RawQuery: "sslmode=disable"}).String()
}

// Stop ends the server and waits for it.
func (s *Server) Stop() error {
	defer s.unlock()
	if err := syscall.Kill(s.pid, syscall.SIGINT); err != nil && !errors.Is(err, syscall.ESRCH) {
		return fmt.Errorf("stopping PostgreSQL: %w", err)
	}
	deadline := time.Now().Add(20 * time.Second)
	if s.cmd != nil {
		select {
		case <-s.exited:
			return nil
		case <-time.After(time.Until(deadline)):
			return errors.New("stopping PostgreSQL: it does not end")
		}
	}
	for time.Now().Before(deadline) {
		if syscall.Kill(s.pid, 0) != nil {
			return nil
		}
		time.Sleep(50 * time.Millisecond)
	}
	return errors.New("stopping PostgreSQL: it does not end")
}

func (s *Server) unlock() {
	if s.lock != nil {
		_ = s.lock.Close()
	}
}

// programs finds the newest installed server.
func programs() (string, error) {
	found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/postgres")
	sort.Slice(found, func(i, j int) bool { return versionOf(found[i]) < versionOf(found[j]) })
	if len(found) > 0 {
		return filepath.Dir(found[len(found)-1]), nil
	}
	path, err := exec.LookPath("postgres")
	if err != nil {
		return "", ErrInstall
	}
	return filepath.Dir(path), nil
}

func versionOf(path string) int {
	v, _ := strconv.Atoi(filepath.Base(filepath.Dir(filepath.Dir(path))))
	return v
}

// account is the user that PostgreSQL runs as; nil means this one.
type account struct{ uid, gid uint32 }

func unprivileged() (*account, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	for _, name := range []string{"postgres", "nobody"} {
		if u, err := user.Lookup(name); err == nil {
			uid, _ := strconv.Atoi(u.Uid)
			gid, _ := strconv.Atoi(u.Gid)
			return &account{uint32(uid), uint32(gid)}, nil //nolint:gosec // ids of the system
		}
	}
	return nil, errors.New("running as root, and there is no user \"postgres\" or \"nobody\" to run PostgreSQL as")
}

// reachable returns the folder if the account can walk to it; else one under
// /var/tmp that is named after it.
func reachable(dir string, owner *account) (string, error) {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return "", err
	}
	if owner == nil {
		return dir, nil
	}
	for at := filepath.Dir(dir); at != "/"; at = filepath.Dir(at) {
		info, err := os.Stat(at)
		if err == nil && info.Mode().Perm()&0o001 == 0 {
			sum := sha256.Sum256([]byte(dir))
			return filepath.Join("/var/tmp", fmt.Sprintf("smolder-%x", sum[:6])), nil
		}
	}
	return dir, nil
}

func (s *Server) data() string { return filepath.Join(s.Dir, "data") }

// prepare locks the folder and makes the cluster in it once.
func (s *Server) prepare(ctx context.Context, bin string, owner *account) error {
	if err := os.MkdirAll(s.Dir, 0o755); err != nil { //nolint:gosec // the account walks through it
		return err
	}
	lock, err := os.OpenFile(filepath.Join(s.Dir, "lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return err
	}
	if err := syscall.Flock(int(lock.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		_ = lock.Close()
		return ErrBusy
	}
	s.lock = lock
	secret := filepath.Join(s.Dir, "password")
	if b, err := os.ReadFile(secret); err == nil {
		s.password = strings.TrimSpace(string(b))
		if _, err := os.Stat(filepath.Join(s.data(), "PG_VERSION")); err == nil {
			return nil
		}
	}
	return s.initialise(ctx, bin, secret, owner)
}

func (s *Server) initialise(ctx context.Context, bin, secret string, owner *account) error {
	s.password = rand.Text()
	if err := os.RemoveAll(s.data()); err != nil {
		return err
	}
	if err := os.Mkdir(s.data(), 0o700); err != nil {
		return err
	}
	if err := os.WriteFile(secret, []byte(s.password+"\n"), 0o600); err != nil {
		return err
	}
	if owner != nil {
		for _, path := range []string{s.data(), secret} {
			if err := os.Chown(path, int(owner.uid), int(owner.gid)); err != nil {
				return err
			}
		}
	}
	init := exec.CommandContext(ctx, filepath.Join(bin, "initdb"), "-D", s.data(), "-U", "smolder", "-A", "scram-sha-256",
		"--pwfile", secret, "-E", "UTF8", "--locale", "C", "--no-sync")
	s.dress(init, owner)
	if out, err := init.CombinedOutput(); err != nil {
		return fmt.Errorf("making the database cluster: %w\n%s", err, out)
	}
	return nil
}

// dress sets the account and a process group of its own, so that Ctrl-C
// reaches only us and the server is stopped after the last request.
func (s *Server) dress(cmd *exec.Cmd, owner *account) {
	cmd.Dir = "/"
	cmd.Env = []string{"PATH=/usr/bin:/bin", "LC_ALL=C", "TZ=UTC"}
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	if owner != nil {
		cmd.SysProcAttr.Credential = &syscall.Credential{Uid: owner.uid, Gid: owner.gid}
	}
}

// adopt takes over a server that a killed process left running.
func (s *Server) adopt(ctx context.Context) bool {
	b, err := os.ReadFile(filepath.Join(s.data(), "postmaster.pid"))
	if err != nil {
		return false
	}
	lines := strings.Split(string(b), "\n")
	if len(lines) < 4 {
		return false
	}
	s.pid, _ = strconv.Atoi(strings.TrimSpace(lines[0]))
	s.port, _ = strconv.Atoi(strings.TrimSpace(lines[3]))
	if s.pid <= 1 || s.port == 0 || syscall.Kill(s.pid, 0) != nil {
		return false
	}
	ctx, cancel := context.WithTimeout(ctx, 3*time.Second)
	defer cancel()
	return s.ping(ctx) == nil
}

func (s *Server) launch(ctx context.Context, bin string, owner *account, volatile bool) error {
	port, err := freePort()
	if err != nil {
		return err
	}
	s.port = port
	args := []string{"-D", s.data(), "-p", strconv.Itoa(port), "-c", "listen_addresses=127.0.0.1",
		"-c", "unix_socket_directories=", "-c", "logging_collector=off", "-c", "log_min_messages=warning",
		"-c", "shared_buffers=64MB", "-c", "max_connections=200", "-c", "timezone=UTC"}
	if volatile {
		args = append(args, "-c", "fsync=off", "-c", "synchronous_commit=off", "-c", "full_page_writes=off")
	}
	var log bytes.Buffer
	s.cmd = exec.Command(filepath.Join(bin, "postgres"), args...) //nolint:gosec // fixed program; it outlives ctx until Stop
	s.cmd.Stdout, s.cmd.Stderr = &log, &log
	s.dress(s.cmd, owner)
	if err := s.cmd.Start(); err != nil {
		return fmt.Errorf("starting PostgreSQL: %w", err)
	}
	s.pid = s.cmd.Process.Pid
	go func() { s.exited <- s.cmd.Wait() }()
	deadline := time.Now().Add(60 * time.Second)
	for time.Now().Before(deadline) {
		select {
		case err := <-s.exited:
			return fmt.Errorf("PostgreSQL ended at once: %w\n%s", err, log.String())
		case <-ctx.Done():
			_ = s.Stop()
			return ctx.Err()
		case <-time.After(40 * time.Millisecond):
		}
		if s.ping(ctx) == nil {
			return nil
		}
	}
	_ = s.Stop()
	return errors.New("PostgreSQL does not answer")
}

func (s *Server) ping(ctx context.Context) error {
	db, err := sql.Open("pgx", s.URL("postgres"))
	if err != nil {
		return err
	}
	defer db.Close()
	return db.PingContext(ctx)
}

// Create makes a database, from a template unless it is empty; an existing
// one is left as it is.
func (s *Server) Create(ctx context.Context, name, template string) error {
	db, err := sql.Open("pgx", s.URL("postgres"))
	if err != nil {
		return err
	}
	defer db.Close()
	return Create(ctx, db, name, template)
}

// Create is [Server.Create] over an open connection.
func Create(ctx context.Context, db *sql.DB, name, template string) error {
	var there bool
	if err := db.QueryRowContext(ctx, `SELECT EXISTS (SELECT 1 FROM pg_database WHERE datname = $1)`, name).Scan(&there); err != nil {
		return err
	}
	if there {
		return nil
	}
	q := `CREATE DATABASE "` + strings.ReplaceAll(name, `"`, ``) + `"`
	if template != "" {
		q += ` TEMPLATE "` + strings.ReplaceAll(template, `"`, ``) + `"`
	}
	_, err := db.ExecContext(ctx, q)
	return err
}

// freePort asks the kernel for a port that nobody uses.
func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

// Drop removes a database; one that is not there is fine.
func (s *Server) Drop(ctx context.Context, name string) error {
	db, err := sql.Open("pgx", s.URL("postgres"))
	if err != nil {
		return err
	}
	defer db.Close()
	_, err = db.ExecContext(ctx, `DROP DATABASE IF EXISTS "`+strings.ReplaceAll(name, `"`, ``)+`" WITH (FORCE)`)
	return err
}
