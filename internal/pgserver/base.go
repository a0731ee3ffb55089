package pgserver

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"
)

// A Base is a folder of base backups and of the log that was written since (pgbackrest of Debian's
// packages), of a server whose files lie on this machine. From it the server comes back as it was at
// any moment since the oldest backup that is kept.
type Base struct {
	Repo   string // the folder
	Data   string // of the server
	Socket string // folder of its socket
	Port   int
	User   string // who may begin a backup: a superuser; its password, if it wants one, stands in PGPASSFILE
	Keep   int    // full backups
}

// ErrNoBase says that the package is missing.
var ErrNoBase = errors.New("pgbackrest is not installed (Debian: pgbackrest)")

// ErrNoArchive says that the server does not keep its log.
var ErrNoArchive = errors.New("the server does not archive its log yet")

const stanza = "smolder"

// based is its configuration; a backup begins at once and not with the next checkpoint.
const based = `[global]
repo1-path=%[1]s/repo
repo1-retention-full=%[2]d
log-path=%[1]s/log
lock-path=%[1]s/lock
spool-path=%[1]s/spool
log-level-console=warn
log-level-file=warn
start-fast=y
compress-type=lz4

[smolder]
pg1-path=%[3]s
pg1-port=%[4]d
pg1-socket-path=%[5]s
pg1-user=%[6]s
pg1-database=postgres
`

func (b Base) config() string { return filepath.Join(b.Repo, "pgbackrest.conf") }

// Prepare makes the folder and its configuration, and tells what the server's settings have to be.
func (b Base) Prepare() (settings []string, err error) {
	if _, err := exec.LookPath("pgbackrest"); err != nil {
		return nil, ErrNoBase
	}
	text := fmt.Sprintf(based, b.Repo, max(1, b.Keep), b.Data, b.Port, b.Socket, b.User)
	for _, dir := range []string{b.Repo, filepath.Join(b.Repo, "repo"), filepath.Join(b.Repo, "log"), filepath.Join(b.Repo, "lock"), filepath.Join(b.Repo, "spool")} {
		if err := errors.Join(os.MkdirAll(dir, 0o700), b.give(dir)); err != nil {
			return nil, err
		}
	}
	if err := errors.Join(os.WriteFile(b.config(), []byte(text), 0o600), b.give(b.config())); err != nil {
		return nil, err
	}
	return []string{"archive_mode=on", "archive_command=pgbackrest --config=" + b.config() + " --stanza=" + stanza + " archive-push %p", "archive_timeout=60"}, nil
}

// account is whose the server's files are, where this process is everybody's: it must not leave some
// that the server cannot read.
func (b Base) account() (*account, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	info, err := os.Stat(b.Data)
	if errors.Is(err, os.ErrNotExist) {
		return unprivileged()
	}
	if err != nil {
		return nil, err
	}
	stat, ok := info.Sys().(*syscall.Stat_t)
	if !ok || stat.Uid == 0 {
		return unprivileged()
	}
	return &account{stat.Uid, stat.Gid}, nil
}

func (b Base) give(path string) error {
	owner, err := b.account()
	if err != nil || owner == nil {
		return err
	}
	return os.Chown(path, int(owner.uid), int(owner.gid))
}

// run runs pgbackrest as whoever owns the server's files.
func (b Base) run(ctx context.Context, args ...string) error {
	program, err := exec.LookPath("pgbackrest")
	if err != nil {
		return ErrNoBase
	}
	owner, err := b.account()
	if err != nil {
		return err
	}
	var said bytes.Buffer
	cmd := exec.CommandContext(ctx, program, append([]string{"--config=" + b.config(), "--stanza=" + stanza}, args...)...) //nolint:gosec // of Debian's packages
	cmd.Stdout, cmd.Stderr = &said, &said
	(&Server{}).dress(cmd, owner)
	if file := os.Getenv("PGPASSFILE"); file != "" {
		cmd.Env = append(cmd.Env, "PGPASSFILE="+file)
	}
	if err := cmd.Run(); err != nil {
		text := strings.TrimSpace(said.String())
		if strings.Contains(text, "archive_mode must be enabled") {
			return errors.Join(ctx.Err(), ErrNoArchive)
		}
		return errors.Join(ctx.Err(), fmt.Errorf("pgbackrest %s: %w: %s", args[len(args)-1], err, text))
	}
	return nil
}

// Backup takes a base backup, whole or what has changed since the last; [ErrNoArchive] where the
// server does not keep its log. It is looked whether the log arrives before and afterwards.
func (b Base) Backup(ctx context.Context, whole bool) error {
	kind := "incr" // a whole one, where there is none yet
	if whole {
		kind = "full"
	}
	if err := b.run(ctx, "stanza-create"); err != nil {
		return err
	}
	if err := b.run(ctx, "check"); err != nil {
		return err
	}
	return b.run(ctx, "--type="+kind, "backup")
}

// Restore brings a server's files into an empty folder as they were at a moment; zero: as late as the
// log goes. The server that is started there reads the log to that moment and goes on from it.
func (b Base) Restore(ctx context.Context, data string, until time.Time) error {
	entries, err := os.ReadDir(data)
	if err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	if len(entries) > 0 {
		return fmt.Errorf("%s holds something: an empty folder would do, and nothing was changed", data)
	}
	if err := errors.Join(os.MkdirAll(filepath.Dir(data), 0o755), os.MkdirAll(data, 0o700), b.give(data)); err != nil { //nolint:gosec // the server walks through it
		return err
	}
	args := []string{"--pg1-path=" + data}
	if !until.IsZero() {
		args = append(args, "--type=time", "--target="+until.UTC().Format("2006-01-02 15:04:05.000000+00"), "--target-action=promote")
	}
	return b.run(ctx, append(args, "restore")...)
}

// BaseOf is the base of a server of this package.
func (s *Server) BaseOf(repo string) Base {
	return Base{Repo: repo, Data: s.data(), Socket: s.data(), Port: s.port, User: "smolder", Keep: 2}
}

// PassFile keeps the server's password as PostgreSQL's programs read it (PGPASSFILE).
func (s *Server) PassFile(path string) error {
	owner, err := unprivileged()
	if err != nil {
		return err
	}
	text := "*:" + strconv.Itoa(s.port) + ":*:smolder:" + s.password + "\n"
	if err := os.WriteFile(path, []byte(text), 0o600); err != nil || owner == nil {
		return err
	}
	return os.Chown(path, int(owner.uid), int(owner.gid))
}
