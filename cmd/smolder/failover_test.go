package main

import (
	"context"
	"os"
	"os/exec"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/pgserver"
	"smolder/internal/store"
)

// The first server breaks in the middle of a burn and its standby takes over: where commits wait for
// the standby nothing that was acknowledged is lost, and the pages go on by themselves. Where they do
// not, the log says that moments may be.
func TestFailover(t *testing.T) {
	if testing.Short() {
		t.Skip("starts three servers, which takes its time")
	}
	ctx := t.Context()
	dir, err := os.MkdirTemp("", "smolder-failover-") // one that the servers' own user walks through
	require.NoError(t, err)
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	require.NoError(t, os.Chmod(dir, 0o755)) //nolint:gosec // as above
	binary := filepath.Join(dir, "smolder")
	out, err := exec.CommandContext(ctx, "go", "build", "-o", binary, ".").CombinedOutput()
	require.NoError(t, err, string(out))
	first, err := pgserver.Start(ctx, pgserver.Options{Dir: filepath.Join(dir, "first")})
	require.NoError(t, err)
	t.Cleanup(func() { _ = first.Stop() })
	require.NoError(t, first.Create(ctx, "smolder", ""))
	st, err := store.Open(ctx, first.URL("smolder"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = st.Close() })
	_, err = st.Migrate(ctx)
	require.NoError(t, err)
	home, stove, id, began := aBurn(t, st)
	token, err := home.MakeToken(ctx, "test", 0, []string{store.ScopeLog, store.ScopeReadings})
	require.NoError(t, err)

	keeps := func(want store.Keeps, why string) {
		require.Eventually(t, func() bool {
			got, err := st.Standby(ctx)
			require.NoError(t, err)
			return got == want
		}, 30*time.Second, 50*time.Millisecond, why)
	}
	keeps(store.NoStandby, "nothing follows")
	second, err := first.Standby(ctx, filepath.Join(dir, "second"), "second")
	require.NoError(t, err)
	t.Cleanup(func() { _ = second.Stop() })
	keeps(store.LosesLittle, "it is not waited for")
	_, err = st.DB().Exec(`ALTER SYSTEM SET synchronous_standby_names = 'second'`)
	require.NoError(t, err)
	_, err = st.DB().Exec(`SELECT pg_reload_conf()`)
	require.NoError(t, err)
	keeps(store.LosesNone, "it is waited for")

	server := &killable{t: t, binary: binary, database: pgserver.Either(first, second, "smolder")}
	server.start()
	t.Cleanup(server.kill)
	w := &writer{url: server.url, token: token, burn: id, stove: stove, began: began}
	writing, stop := context.WithCancel(ctx)
	defer stop()
	var busy sync.WaitGroup
	busy.Go(func() { w.write(writing) })
	require.Eventually(t, func() bool { return w.acknowledged() > 20 }, time.Minute, 20*time.Millisecond)
	require.NoError(t, first.Kill())
	broke := time.Now()
	require.NoError(t, second.Promote(ctx))
	acked := w.acknowledged()
	require.Eventually(t, func() bool { return w.acknowledged() > acked+10 }, 2*time.Minute, 20*time.Millisecond, "it goes on at the second")
	t.Logf("goes on %s after the first broke", time.Since(broke).Round(100*time.Millisecond))
	stop()
	busy.Wait()

	then, err := store.Open(ctx, second.URL("smolder"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = then.Close() })
	full, err := then.Household(home.ID()).Burn(ctx, id)
	require.NoError(t, err)
	there, readings := map[string]int{}, 0
	for _, e := range full.Entries {
		if e.Reported {
			readings++
		} else {
			there[e.ID]++
		}
	}
	for _, id := range w.entries {
		assert.Equal(t, 1, there[id], "acknowledged, and there once: %s", id)
	}
	assert.GreaterOrEqual(t, readings, w.readings, "every reading that was acknowledged")
}
