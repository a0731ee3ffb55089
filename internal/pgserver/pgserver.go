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
	"sync"
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
	lock     *os.File
	Dir      string // where the data really lies

	start    func(context.Context) error // starts it again on the same port
	stopOnce sync.Once
	stopErr  error
	mu       sync.Mutex
	pid      int
	adopted  bool          // an older process was taken over
	exited   chan error    // of the process that runs now
	stopping chan struct{} // closed when it is to stay ended
	watched  chan struct{} // closed when nobody looks after it any more
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
	s := &Server{Dir: dir, exited: make(chan error, 1), stopping: make(chan struct{}), watched: make(chan struct{})}
	if err := s.prepare(ctx, bin, owner); err != nil {
		s.unlock()
		return nil, err
	}
	s.start = func(ctx context.Context) error { return s.launch(ctx, bin, owner, o.Volatile) }
	if s.adopt(ctx) {
		s.adopted = true
	} else if err := s.startOn(ctx, 0); err != nil {
		s.unlock()
		return nil, err
	}
	go s.watch()
	return s, nil
}

// startOn starts the server on a port; 0 is any free one.
func (s *Server) startOn(ctx context.Context, port int) error {
	if port == 0 {
		var err error
		if port, err = freePort(); err != nil {
			return err
		}
	}
	s.port = port
	return s.start(ctx)
}

// watch starts the server again, on the same port, when it has died by itself.
func (s *Server) watch() {
	defer close(s.watched)
	for wait := time.Second; ; wait = min(2*wait, 30*time.Second) {
		if s.ended() {
			return
		}
		begun := time.Now()
		for s.startOn(context.Background(), s.port) != nil {
			select {
			case <-s.stopping:
				return
			case <-time.After(wait):
			}
		}
		if time.Since(begun) > time.Minute {
			wait = time.Second
		}
	}
}

// ended waits for the process to end; true: it was to end.
func (s *Server) ended() bool {
	if s.adopted {
		for alive(s.pid) {
			select {
			case <-s.stopping:
				return true
			case <-time.After(300 * time.Millisecond):
			}
		}
		s.adopted = false
		return s.isStopping()
	}
	select {
	case <-s.stopping:
		return true
	case <-s.exited:
		return s.isStopping()
	}
}

func (s *Server) isStopping() bool {
	select {
	case <-s.stopping:
		return true
	default:
		return false
	}
}

func alive(pid int) bool { return syscall.Kill(pid, 0) == nil }

// URL returns the address of a database on the server.
func (s *Server) URL(database string) string {
	return (&url.URL{Scheme: "postgres", User: url.UserPassword("smolder", s.password),
		Host: net.JoinHostPort("127.0.0.1", strconv.Itoa(s.port)), Path: "/" + database,
		RawQuery: "sslmode=disable"}).String()
}

// PID is the process that runs now.
func (s *Server) PID() int {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.pid
}

// Stop ends the server and waits for it; twice is as good as once.
func (s *Server) Stop() error {
	s.stopOnce.Do(func() { s.stopErr = s.stop() })
	return s.stopErr
}

func (s *Server) stop() error {
	defer s.unlock()
	close(s.stopping)
	<-s.watched
	pid := s.PID()
	if err := syscall.Kill(pid, syscall.SIGINT); err != nil && !errors.Is(err, syscall.ESRCH) {
		return fmt.Errorf("stopping PostgreSQL: %w", err)
	}
	deadline := time.Now().Add(20 * time.Second)
	if !s.adopted {
		select {
		case <-s.exited:
			return nil
		case <-time.After(time.Until(deadline)):
			return errors.New("stopping PostgreSQL: it does not end")
		}
	}
	for time.Now().Before(deadline) {
		if !alive(pid) {
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
// /var/tmp that is named after it. That name can be guessed, and everybody may
// write there: a folder found under it is used only if it is this user's own and
// nobody else's to change.
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
			return ownFolder(filepath.Join(sharedFolder, fmt.Sprintf("smolder-%x", sum[:6])))
		}
	}
	return dir, nil
}

// sharedFolder is where everybody may make folders; a test has its own.
var sharedFolder = "/var/tmp"

// ErrForeign says that a folder is somebody else's, or a link to elsewhere.
var ErrForeign = errors.New("this folder was made by somebody else, or leads elsewhere; remove it, or choose another with --dir")

// ownFolder makes a folder, or takes one that is there and certainly this
// user's.
func ownFolder(path string) (string, error) {
	err := os.Mkdir(path, 0o755) //nolint:gosec // PostgreSQL's user walks through it
	if err != nil && !errors.Is(err, os.ErrExist) {
		return "", err
	}
	info, err := os.Lstat(path)
	if err != nil {
		return "", err
	}
	stat, ok := info.Sys().(*syscall.Stat_t)
	if !info.IsDir() || !ok || int(stat.Uid) != os.Geteuid() || info.Mode().Perm()&0o022 != 0 {
		return "", fmt.Errorf("%s: %w", path, ErrForeign)
	}
	return path, nil
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
	_, err = os.Stat(filepath.Join(s.data(), "PG_VERSION"))
	made := err == nil
	switch b, err := os.ReadFile(secret); {
	case err == nil && made:
		s.password = strings.TrimSpace(string(b))
		return nil
	case made: // the cluster is there and its password is lost: it gets another
		return s.newPassword(ctx, bin, secret, owner)
	}
	if entries, err := os.ReadDir(s.data()); err == nil && len(entries) > 0 {
		return fmt.Errorf("%s holds something that is no database of ours; it is left alone: remove it yourself, or choose another folder", s.data())
	}
	return s.initialise(ctx, bin, secret, owner)
}

// unfinished is what a cluster is called while it is made. One that was left
// behind by an interruption has never held data.
const unfinished = "unfinished"

// initialise makes the cluster beside its place and moves it there when it is
// whole, so that an interruption leaves nothing that looks like one.
func (s *Server) initialise(ctx context.Context, bin, secret string, owner *account) error {
	s.password = rand.Text()
	making := filepath.Join(s.Dir, unfinished)
	if err := os.RemoveAll(making); err != nil {
		return err
	}
	if err := os.Mkdir(making, 0o700); err != nil {
		return err
	}
	if err := s.keepPassword(secret, owner); err != nil {
		return err
	}
	if owner != nil {
		if err := os.Chown(making, int(owner.uid), int(owner.gid)); err != nil {
			return err
		}
	}
	init := exec.CommandContext(ctx, filepath.Join(bin, "initdb"), "-D", making, "-U", "smolder", "-A", "scram-sha-256",
		"--pwfile", secret, "-E", "UTF8", "--locale", "C", "--no-sync")
	s.dress(init, owner)
	if out, err := init.CombinedOutput(); err != nil {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		return fmt.Errorf("making the database cluster: %w\n%s", err, out)
	}
	if err := os.Remove(s.data()); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err // empty, or not there: prepare has looked
	}
	return os.Rename(making, s.data())
}

// keepPassword writes the password where only PostgreSQL's user and this one
// read it.
func (s *Server) keepPassword(secret string, owner *account) error {
	if err := os.WriteFile(secret, []byte(s.password+"\n"), 0o600); err != nil {
		return err
	}
	if owner == nil {
		return nil
	}
	return os.Chown(secret, int(owner.uid), int(owner.gid))
}

// newPassword sets another password in a cluster whose password is lost: whoever
// owns the files may do that, while no server runs on them.
func (s *Server) newPassword(ctx context.Context, bin, secret string, owner *account) error {
	if b, err := os.ReadFile(filepath.Join(s.data(), "postmaster.pid")); err == nil {
		pid, _ := strconv.Atoi(strings.TrimSpace(strings.SplitN(string(b), "\n", 2)[0]))
		if pid > 1 && alive(pid) {
			return fmt.Errorf("the password of the database in %s is lost and its server runs (process %d): end that first, nothing is removed", s.data(), pid)
		}
	}
	s.password = rand.Text()
	alter := exec.CommandContext(ctx, filepath.Join(bin, "postgres"), "--single", "-D", s.data(), "postgres")
	s.dress(alter, owner)
	alter.Stdin = strings.NewReader("ALTER ROLE smolder PASSWORD '" + s.password + "'\n") // letters and digits only
	if out, err := alter.CombinedOutput(); err != nil {
		return fmt.Errorf("the password of the database in %s is lost, and no other could be set; nothing is removed: %w\n%s", s.data(), err, out)
	}
	return s.keepPassword(secret, owner)
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
	if s.pid <= 1 || s.port == 0 || !alive(s.pid) {
		return false
	}
	ctx, cancel := context.WithTimeout(ctx, 3*time.Second)
	defer cancel()
	return s.ping(ctx) == nil
}

func (s *Server) launch(ctx context.Context, bin string, owner *account, volatile bool) error {
	args := []string{"-D", s.data(), "-p", strconv.Itoa(s.port), "-c", "listen_addresses=127.0.0.1",
		"-c", "unix_socket_directories=", "-c", "logging_collector=off", "-c", "log_min_messages=warning",
		"-c", "shared_buffers=64MB", "-c", "max_connections=200", "-c", "timezone=UTC"}
	if volatile {
		args = append(args, "-c", "fsync=off", "-c", "synchronous_commit=off", "-c", "full_page_writes=off")
	}
	log := &tail{}
	cmd := exec.Command(filepath.Join(bin, "postgres"), args...) //nolint:gosec // fixed program; it outlives ctx until Stop
	cmd.Stdout, cmd.Stderr = log, log
	s.dress(cmd, owner)
	if err := cmd.Start(); err != nil {
		return fmt.Errorf("starting PostgreSQL: %w", err)
	}
	exited := make(chan error, 1)
	s.mu.Lock()
	s.pid, s.exited = cmd.Process.Pid, exited
	s.mu.Unlock()
	go func() { exited <- cmd.Wait() }()
	end := func() { // whoever wanted it has gone: it must not stay behind
		_ = syscall.Kill(cmd.Process.Pid, syscall.SIGINT)
		<-exited
	}
	deadline := time.Now().Add(60 * time.Second)
	for time.Now().Before(deadline) {
		select {
		case err := <-exited:
			return fmt.Errorf("PostgreSQL ended at once: %w\n%s", err, log)
		case <-ctx.Done():
			end()
			return ctx.Err()
		case <-time.After(40 * time.Millisecond):
		}
		if s.ping(ctx) == nil {
			return nil
		}
	}
	end()
	return errors.New("PostgreSQL does not answer")
}

// tail keeps the end of what a process says.
type tail struct {
	mu   sync.Mutex
	text []byte
}

func (t *tail) Write(b []byte) (int, error) {
	const most = 16 << 10
	t.mu.Lock()
	defer t.mu.Unlock()
	t.text = append(t.text, b...)
	if over := len(t.text) - most; over > 0 {
		t.text = append([]byte(nil), t.text[over:]...)
	}
	return len(b), nil
}

func (t *tail) String() string {
	t.mu.Lock()
	defer t.mu.Unlock()
	return string(t.text)
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

// Rename gives a database another name.
func (s *Server) Rename(ctx context.Context, from, to string) error {
	db, err := sql.Open("pgx", s.URL("postgres"))
	if err != nil {
		return err
	}
	defer db.Close()
	quote := func(name string) string { return `"` + strings.ReplaceAll(name, `"`, ``) + `"` }
	_, err = db.ExecContext(ctx, `ALTER DATABASE `+quote(from)+` RENAME TO `+quote(to))
	return err
}

// Has tells whether there is a database of a name.
func (s *Server) Has(ctx context.Context, name string) (bool, error) {
	db, err := sql.Open("pgx", s.URL("postgres"))
	if err != nil {
		return false, err
	}
	defer db.Close()
	var there bool
	err = db.QueryRowContext(ctx, `SELECT EXISTS (SELECT 1 FROM pg_database WHERE datname = $1)`, name).Scan(&there)
	return there, err
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
