package store_test

import (
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/pgserver"
	"smolder/internal/store"
)

// servers are a first server and one that follows it.
func servers(t *testing.T, settings ...string) (first, second *pgserver.Server) {
	t.Helper()
	if testing.Short() {
		t.Skip("starts two servers, which takes its time")
	}
	dir, err := os.MkdirTemp("", "smolder-replica-") // one that the servers' own user walks through
	require.NoError(t, err)
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	require.NoError(t, os.Chmod(dir, 0o755)) //nolint:gosec // as above
	first, err = pgserver.Start(ctx, pgserver.Options{Dir: dir + "/first", Settings: settings})
	require.NoError(t, err)
	t.Cleanup(func() { _ = first.Stop() })
	require.NoError(t, first.Create(ctx, "smolder", ""))
	second, err = first.Standby(ctx, dir+"/second", "second")
	require.NoError(t, err)
	t.Cleanup(func() { _ = second.Stop() })
	return first, second
}

// What lies behind is read from the replica while that is near enough, by everybody but who has just
// changed something; a replica that falls behind, or goes, is not asked, and nobody notices.
func TestHistoryFromAReplica(t *testing.T) {
	first, second := servers(t)
	const bound = 3 * time.Second
	s, err := store.Open(ctx, first.URL("smolder"), store.Reads(second.URL("smolder"), bound))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	_, err = s.Migrate(ctx)
	require.NoError(t, err)
	h, stoveID, _ := furnished(t, s, "tarn")
	id := open(t, h, stoveID)
	asked := make(chan error, 10)
	go s.Follow(t.Context(), func(why error) { asked <- why })
	notes := func() (n int) {
		require.NoError(t, h.EachBurn(ctx, store.Span{From: noon.Add(-time.Hour), To: noon.Add(time.Hour)}, func(b store.Burn, _ burn.Eye) error {
			n = len(b.Entries)
			return nil
		}))
		return n
	}
	reads := func() int64 { return s.ReplicaReads() }
	require.Eventually(t, func() bool { before := reads(); notes(); return reads() > before }, 30*time.Second, 50*time.Millisecond, "the replica is asked")
	for n := range 20 {
		require.NoError(t, h.AddEntry(ctx, id, burn.Entry{ID: string(rune('a' + n)), Kind: burn.Note, Note: "n", At: noon.Add(time.Minute)}, noon.Add(time.Hour)))
		require.Equal(t, n+1, notes(), "who has just written sees it")
	}
	require.Eventually(t, func() bool { before := reads(); notes(); return reads() > before }, 30*time.Second, 50*time.Millisecond, "and is read from the replica again")

	standby, err := store.Open(ctx, second.URL("smolder"))
	require.NoError(t, err)
	defer standby.Close()
	_, err = standby.DB().Exec(`SELECT pg_wal_replay_pause()`)
	require.NoError(t, err)
	other := s.Household(h.ID())
	direct, err := store.Open(ctx, first.URL("smolder"))
	require.NoError(t, err)
	defer direct.Close()
	require.NoError(t, direct.Household(h.ID()).AddEntry(ctx, id, burn.Entry{ID: "z", Kind: burn.Note, Note: "at another process", At: noon.Add(time.Minute)}, noon.Add(time.Hour)))
	h = other
	require.Eventually(t, func() bool { return notes() == 21 }, 30*time.Second, 50*time.Millisecond, "once it is further behind than it may be, the first server is asked")
	for {
		if why := <-asked; why != nil {
			require.ErrorIs(t, why, store.ErrBehind)
			break
		}
	}
	require.NoError(t, second.Kill())
	assert.Equal(t, 21, notes(), "and where it is gone")
	keeps, err := s.Standby(ctx)
	require.NoError(t, err)
	assert.NotEqual(t, store.LosesNone, keeps)
}
