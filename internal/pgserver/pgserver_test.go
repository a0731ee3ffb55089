package pgserver_test

import (
	"context"
	"database/sql"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/pgserver"
)

// folder is one that PostgreSQL's own user can walk to.
func folder(t *testing.T) string {
	dir, err := os.MkdirTemp("", "smolder-pg-")
	require.NoError(t, err)
	require.NoError(t, os.Chmod(dir, 0o755)) //nolint:gosec // PostgreSQL's user walks through it
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	return dir
}

func TestDataOutlivesTheServer(t *testing.T) {
	ctx, o := context.Background(), pgserver.Options{Dir: folder(t), Volatile: true}
	first, err := pgserver.Start(ctx, o)
	require.NoError(t, err)
	require.NoError(t, first.Create(ctx, "mill", ""))
	require.NoError(t, first.Create(ctx, "mill", ""), "creating twice is fine")
	ask := func(s *pgserver.Server, query string) string {
		db, err := sql.Open("pgx", s.URL("mill"))
		require.NoError(t, err)
		defer db.Close()
		var out string
		require.NoError(t, db.QueryRow(query).Scan(&out))
		return out
	}
	db, err := sql.Open("pgx", first.URL("mill"))
	require.NoError(t, err)
	_, err = db.Exec(`CREATE TABLE wood AS SELECT 'beech' AS kind`)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	_, err = pgserver.Start(ctx, o)
	assert.ErrorIs(t, err, pgserver.ErrBusy, "one process a folder")
	require.NoError(t, first.Stop())
	second, err := pgserver.Start(ctx, o)
	require.NoError(t, err)
	defer func() { require.NoError(t, second.Stop()) }()
	assert.Equal(t, "beech", ask(second, `SELECT kind FROM wood`))
	assert.Equal(t, "127.0.0.1", ask(second, `SELECT setting FROM pg_settings WHERE name = 'listen_addresses'`), "loopback only")
	require.NoError(t, second.Drop(ctx, "mill"))
	require.NoError(t, second.Drop(ctx, "mill"), "dropping twice is fine")
	wrong := strings.Replace(second.URL("postgres"), "smolder:", "smolder:x", 1)
	stranger, err := sql.Open("pgx", wrong)
	require.NoError(t, err)
	defer stranger.Close()
	assert.Error(t, stranger.Ping(), "a password is wanted")
}

func query(t *testing.T, s *pgserver.Server, q string) (string, error) {
	t.Helper()
	db, err := sql.Open("pgx", s.URL("postgres"))
	require.NoError(t, err)
	defer db.Close()
	var out string
	err = db.QueryRow(q).Scan(&out)
	return out, err
}

// Interrupted in the first moments, a folder starts the next time.
func TestAnInterruptedBeginning(t *testing.T) {
	o := pgserver.Options{Dir: folder(t), Volatile: true}
	for _, after := range []time.Duration{0, 60 * time.Millisecond, 250 * time.Millisecond, 500 * time.Millisecond} {
		ctx, cancel := context.WithTimeout(context.Background(), after)
		s, err := pgserver.Start(ctx, o)
		cancel()
		if err == nil {
			require.NoError(t, s.Stop())
		}
	}
	s, err := pgserver.Start(context.Background(), o)
	require.NoError(t, err)
	one, err := query(t, s, `SELECT 'up'`)
	require.NoError(t, err)
	assert.Equal(t, "up", one)
	require.NoError(t, s.Stop())
}

// A lost password costs no data, and what is not ours is left alone.
func TestNothingIsRemovedUnasked(t *testing.T) {
	ctx, o := context.Background(), pgserver.Options{Dir: folder(t), Volatile: true}
	s, err := pgserver.Start(ctx, o)
	require.NoError(t, err)
	require.NoError(t, s.Create(ctx, "kept", ""))
	require.NoError(t, s.Stop())
	require.NoError(t, os.Remove(filepath.Join(o.Dir, "password")))
	s, err = pgserver.Start(ctx, o)
	require.NoError(t, err)
	there, err := s.Has(ctx, "kept")
	require.NoError(t, err)
	assert.True(t, there)
	require.NoError(t, s.Rename(ctx, "kept", "renamed"))
	require.NoError(t, s.Stop())

	other := folder(t)
	require.NoError(t, os.Mkdir(filepath.Join(other, "data"), 0o700))
	require.NoError(t, os.WriteFile(filepath.Join(other, "data", "letters.txt"), []byte("dear"), 0o600))
	_, err = pgserver.Start(ctx, pgserver.Options{Dir: other})
	require.ErrorContains(t, err, "left alone")
	assert.FileExists(t, filepath.Join(other, "data", "letters.txt"))
}

// A server that dies is started again, on the same port.
func TestADeadServerComesBack(t *testing.T) {
	s, err := pgserver.Start(context.Background(), pgserver.Options{Dir: folder(t), Volatile: true})
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Stop()) }()
	first := s.PID()
	require.NoError(t, syscall.Kill(first, syscall.SIGKILL))
	require.Eventually(t, func() bool {
		_, err := query(t, s, `SELECT 'up'`)
		return err == nil && s.PID() != first
	}, 60*time.Second, 50*time.Millisecond)
}
