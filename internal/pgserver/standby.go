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
	"syscall"
)

// Standby starts a server that follows this one (streaming replication), in a folder of its own, under
// a name that the first may wait for (synchronous_standby_names). Stop must be called.
func (s *Server) Standby(ctx context.Context, dir, name string) (*Server, error) {
	bin, err := programs()
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
	if err := os.MkdirAll(dir, 0o755); err != nil { //nolint:gosec // the account walks through it
		return nil, err
	}
	data := filepath.Join(dir, "data")
	if err := os.Mkdir(data, 0o700); err != nil {
		return nil, err
	}
	if owner != nil {
		if err := os.Chown(data, int(owner.uid), int(owner.gid)); err != nil {
			return nil, err
		}
	}
	at, err := url.Parse(s.URL(""))
	if err != nil {
		return nil, err
	}
	at.RawQuery = url.Values{"application_name": {name}}.Encode()
	cmd := exec.CommandContext(ctx, filepath.Join(bin, "pg_basebackup"), "--pgdata="+data, "--write-recovery-conf", "--checkpoint=fast", "--wal-method=stream", "--no-sync", "--dbname="+at.String()) //nolint:gosec // of Debian's packages
	s.dress(cmd, owner)
	if out, err := cmd.CombinedOutput(); err != nil {
		return nil, errors.Join(ctx.Err(), fmt.Errorf("copying the server: %w\n%s", err, strings.ReplaceAll(string(out), s.password, "…")))
	}
	if err := os.WriteFile(filepath.Join(dir, "password"), []byte(s.password+"\n"), 0o600); err != nil {
		return nil, err
	}
	return Start(ctx, Options{Dir: dir})
}

// Promote lets a standby go on by itself, when the one it followed is gone.
func (s *Server) Promote(ctx context.Context) error {
	db, err := sql.Open("pgx", s.URL("postgres"))
	if err != nil {
		return err
	}
	defer db.Close()
	var done bool
	if err := db.QueryRowContext(ctx, `SELECT pg_promote(true, 60)`).Scan(&done); err != nil {
		return err
	}
	if !done {
		return errors.New("the standby does not take over")
	}
	return nil
}

// Kill ends the server as a machine that breaks does, and leaves it ended.
func (s *Server) Kill() error {
	s.stopOnce.Do(func() {
		close(s.stopping)
		s.stopErr = syscall.Kill(s.PID(), syscall.SIGKILL)
		<-s.watched
		s.unlock()
	})
	return s.stopErr
}

// Either is a database on whichever of two servers takes what is written: the address that one hands
// on survives its end.
func Either(a, b *Server, database string) string {
	at := url.URL{Scheme: "postgres", User: url.UserPassword("smolder", a.password), Path: "/" + database,
		Host:     net.JoinHostPort("127.0.0.1", strconv.Itoa(a.port)) + "," + net.JoinHostPort("127.0.0.1", strconv.Itoa(b.port)),
		RawQuery: url.Values{"target_session_attrs": {"read-write"}}.Encode()}
	return at.String()
}
