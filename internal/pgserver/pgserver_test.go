package pgserver_test

import (
	"context"
	"database/sql"
	"os"
	"strings"
	"testing"

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
