package pgserver

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"syscall"
	"time"
)

// A Pooler is a pgbouncer of Debian's packages before a server, on this machine alone: it lends its
// connections for a transaction each. Tests serve behind it, as a host with many processes does.
type Pooler struct {
	of   *url.URL
	port int
	cmd  *exec.Cmd
	over chan error
}

// ErrNoPooler says that the package is missing.
var ErrNoPooler = errors.New("pgbouncer is not installed (Debian: pgbouncer)")

// pooled is its configuration: any database of the server, by the transaction.
const pooled = `[databases]
* = host=%s port=%s

[pgbouncer]
listen_addr = 127.0.0.1
listen_port = %d
unix_socket_dir =
auth_type = plain
auth_file = %s
pool_mode = transaction
default_pool_size = %d
max_client_conn = 500
server_idle_timeout = 5
logfile = %s
`

// StartPooler starts one before the server at an address, in a folder of its own, with so many
// connections to each database.
func StartPooler(ctx context.Context, dir, server string, connections int) (*Pooler, error) {
	program, err := exec.LookPath("pgbouncer")
	if err != nil {
		if program = "/usr/sbin/pgbouncer"; !executable(program) {
			return nil, ErrNoPooler
		}
	}
	at, err := url.Parse(server)
	if err != nil {
		return nil, err
	}
	port, err := freePort()
	if err != nil {
		return nil, err
	}
	owner, err := unprivileged()
	if err != nil {
		return nil, err
	}
	if dir, err = reachable(dir, owner); err != nil {
		return nil, err
	}
	password, _ := at.User.Password()
	settings, users := filepath.Join(dir, "pgbouncer.ini"), filepath.Join(dir, "users.txt")
	text := fmt.Sprintf(pooled, at.Hostname(), at.Port(), port, users, connections, filepath.Join(dir, "pgbouncer.log"))
	if err := errors.Join(os.MkdirAll(dir, 0o700), os.WriteFile(settings, []byte(text), 0o600),
		os.WriteFile(users, fmt.Appendf(nil, "%q %q\n", at.User.Username(), password), 0o600)); err != nil {
		return nil, err
	}
	for _, path := range []string{dir, settings, users} {
		if owner == nil {
			break
		}
		if err := os.Chown(path, int(owner.uid), int(owner.gid)); err != nil {
			return nil, err
		}
	}
	p := &Pooler{of: at, port: port, over: make(chan error, 1)}
	said := &tail{}
	p.cmd = exec.Command(program, settings) //nolint:gosec // of Debian's packages; it outlives ctx until Stop
	p.cmd.Stdout, p.cmd.Stderr = said, said
	(&Server{}).dress(p.cmd, owner)
	if err := p.cmd.Start(); err != nil {
		return nil, fmt.Errorf("starting pgbouncer: %w", err)
	}
	go func() { p.over <- p.cmd.Wait() }()
	for until := time.Now().Add(20 * time.Second); time.Now().Before(until) && ctx.Err() == nil; time.Sleep(20 * time.Millisecond) {
		select {
		case err := <-p.over:
			return nil, fmt.Errorf("pgbouncer ended at once: %w\n%s", err, said)
		default:
		}
		if conn, err := net.DialTimeout("tcp", net.JoinHostPort("127.0.0.1", strconv.Itoa(port)), time.Second); err == nil {
			return p, conn.Close()
		}
	}
	p.Stop()
	return nil, errors.Join(ctx.Err(), errors.New("pgbouncer does not answer"))
}

func executable(path string) bool {
	info, err := os.Stat(path)
	return err == nil && !info.IsDir() && info.Mode()&0o111 != 0
}

// URL is a database behind it.
func (p *Pooler) URL(database string) string {
	at := *p.of
	at.Host, at.Path = net.JoinHostPort("127.0.0.1", strconv.Itoa(p.port)), "/"+database
	return at.String()
}

// Stop ends it.
func (p *Pooler) Stop() {
	_ = syscall.Kill(p.cmd.Process.Pid, syscall.SIGTERM)
	select {
	case <-p.over:
	case <-time.After(5 * time.Second):
		_ = p.cmd.Process.Kill()
		<-p.over
	}
}
