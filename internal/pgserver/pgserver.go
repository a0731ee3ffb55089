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
	"database/sql"
	"errors"
	"fmt"
	"net"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
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

	Settings []string // of the server besides, such as "archive_mode=on"
	Port     int      // 0: any that is free
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
	s.start = func(ctx context.Context) error { return s.launch(ctx, bin, owner, o) }
	if s.adopt(ctx) {
		s.adopted = true
	} else if err := s.startOn(ctx, o.Port); err != nil {
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

func (s *Server) launch(ctx context.Context, bin string, owner *account, o Options) error {
	args := []string{"-D", s.data(), "-p", strconv.Itoa(s.port), "-c", "listen_addresses=127.0.0.1",
		"-c", "unix_socket_directories=", "-c", "logging_collector=off", "-c", "log_min_messages=warning",
		"-c", "shared_buffers=64MB", "-c", "max_connections=200", "-c", "timezone=UTC"}
	if o.Volatile {
		args = append(args, "-c", "fsync=off", "-c", "synchronous_commit=off", "-c", "full_page_writes=off")
	}
	for _, setting := range o.Settings {
		args = append(args, "-c", setting)
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

// freePort asks the kernel for a port that nobody uses.
func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}
