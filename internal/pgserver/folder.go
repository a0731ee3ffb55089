package pgserver

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"sort"
	"strconv"
	"strings"
	"syscall"

	_ "github.com/jackc/pgx/v5/stdlib" // the driver that asks whether it is up
)

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
