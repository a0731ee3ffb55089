package main

import (
	"bytes"
	"errors"
	"os"
	"path/filepath"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/pgserver"
	"smolder/internal/store"
)

// The drill of a managed server: a base backup, what was logged afterwards, a household deleted by
// mistake; the server comes back as it was the moment before, with all that was acknowledged until then.
func TestBackToAMoment(t *testing.T) {
	if testing.Short() {
		t.Skip("starts two servers, which takes its time")
	}
	ctx := t.Context()
	dir, err := os.MkdirTemp("", "smolder-base-") // one that the servers' own user walks through
	require.NoError(t, err)
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	require.NoError(t, os.Chmod(dir, 0o755)) //nolint:gosec // as above
	repo := filepath.Join(dir, "repo")
	one := filepath.Join(dir, "one")
	base := pgserver.Base{Repo: repo, Data: filepath.Join(one, "data"), Socket: filepath.Join(one, "data"), User: "smolder", Port: 1}
	settings, err := base.Prepare()
	if errors.Is(err, pgserver.ErrNoBase) {
		t.Skip(err)
	}
	require.NoError(t, err)
	run := func(args ...string) (string, error) {
		var said bytes.Buffer
		cmd := root()
		cmd.SetArgs(args)
		cmd.SetOut(&said)
		cmd.SetErr(&said)
		err := cmd.ExecuteContext(ctx)
		return said.String(), err
	}
	pg, err := pgserver.Start(ctx, pgserver.Options{Dir: one, Settings: []string{"unix_socket_directories=" + filepath.Join(one, "data")}})
	require.NoError(t, err)
	base = pg.BaseOf(repo)
	secret := filepath.Join(dir, "pass")
	require.NoError(t, pg.PassFile(secret))
	t.Setenv("PGPASSFILE", secret)
	flags := []string{"--server-data", base.Data, "--server-socket", base.Socket, "--server-port", strconv.Itoa(base.Port), "--server-user", base.User}
	_, err = run(append([]string{"backup", "--to", repo}, flags...)...)
	require.ErrorContains(t, err, "ALTER SYSTEM SET archive_mode = 'on'", "what would do")
	require.NoError(t, pg.Stop())
	pg, err = pgserver.Start(ctx, pgserver.Options{Dir: one, Port: base.Port, Settings: append(settings, "unix_socket_directories="+filepath.Join(one, "data"))})
	require.NoError(t, err)
	t.Cleanup(func() { _ = pg.Stop() })

	require.NoError(t, pg.Create(ctx, "smolder", ""))
	st, err := store.Open(ctx, pg.URL("smolder"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = st.Close() })
	_, err = st.Migrate(ctx)
	require.NoError(t, err)
	home, _, id, began := aBurn(t, st)
	note := func(id int64, name string) {
		require.NoError(t, home.AddEntry(ctx, id, burn.Entry{ID: name, Kind: burn.Note, Note: name, At: began.Add(time.Minute)}, time.Now()))
	}
	note(id, "before")
	said, err := run(append([]string{"backup", "--to", repo}, flags...)...)
	require.NoError(t, err, said)
	t.Log(said)
	ended := time.Now()
	note(id, "afterwards")
	// The tool knows a backup's end to the second: a moment in the same one it takes for one before.
	require.Eventually(t, func() bool { return time.Since(ended) > 2*time.Second }, time.Minute, 50*time.Millisecond)
	var moment time.Time
	require.NoError(t, st.DB().QueryRow(`SELECT clock_timestamp()`).Scan(&moment))
	_, err = st.DB().Exec(`DELETE FROM households`)
	require.NoError(t, err)
	_, err = st.DB().Exec(`SELECT pg_switch_wal()`)
	require.NoError(t, err)
	require.Eventually(t, func() bool {
		var failed, left int
		require.NoError(t, st.DB().QueryRow(`SELECT failed_count, (last_archived_wal IS NULL OR last_archived_wal < pg_walfile_name(pg_current_wal_lsn() - 1))::int FROM pg_stat_archiver`).Scan(&failed, &left))
		return left == 0
	}, time.Minute, 50*time.Millisecond, "the log is in the folder")

	two := filepath.Join(dir, "two")
	into := append([]string{}, flags...)
	into[1] = filepath.Join(two, "data")
	said, err = run(append([]string{"restore", repo, "--until", moment.UTC().Format(time.RFC3339Nano)}, into...)...)
	require.NoError(t, err, said)
	t.Log(said)
	_, err = run(append([]string{"restore", repo}, into...)...)
	require.ErrorContains(t, err, "an empty folder would do")
	_, err = run(append([]string{"restore", repo, "--until", "yesterday"}, into...)...)
	require.ErrorContains(t, err, "2026-11-30T18:05:00Z would do")

	password, err := os.ReadFile(filepath.Join(one, "password"))
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(two, "password"), password, 0o600))
	back, err := pgserver.Start(ctx, pgserver.Options{Dir: two, Settings: []string{"archive_mode=off"}})
	require.NoError(t, err)
	t.Cleanup(func() { _ = back.Stop() })
	require.Eventually(t, func() bool {
		then, err := store.Open(ctx, back.URL("smolder"))
		if err != nil {
			return false
		}
		defer then.Close()
		full, err := then.Household(home.ID()).Burn(ctx, id)
		if err != nil {
			return false
		}
		names := map[string]bool{}
		for _, e := range full.Entries {
			names[e.ID] = true
		}
		return assert.True(t, names["before"]) && assert.True(t, names["afterwards"])
	}, time.Minute, 100*time.Millisecond)
}
