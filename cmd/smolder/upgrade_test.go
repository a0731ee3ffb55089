package main

import (
	"context"
	"fmt"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/demo"
	"smolder/internal/pgserver"
	"smolder/internal/store"
)

// before builds the program as it was before the last change of the database, from the repository's
// history; where there is none the test is skipped.
func before(t *testing.T, dir string) (binary string) {
	t.Helper()
	root, err := exec.CommandContext(t.Context(), "git", "rev-parse", "--show-toplevel").Output()
	if err != nil {
		t.Skip("no repository here: the version before cannot be built")
	}
	at := strings.TrimSpace(string(root))
	git := func(args ...string) (string, error) {
		out, err := exec.CommandContext(t.Context(), "git", append([]string{"-C", at}, args...)...).Output()
		return strings.TrimSpace(string(out)), err
	}
	changed, err := git("log", "-1", "--format=%H", "--", "internal/store/migrations")
	require.NoError(t, err)
	old, err := git("rev-parse", "--verify", "--quiet", changed+"^")
	if err != nil {
		t.Skip("the history here does not reach back to the version before the last change of the database")
	}
	source := filepath.Join(dir, "before")
	out, err := exec.CommandContext(t.Context(), "sh", "-c", fmt.Sprintf("mkdir %q && git -C %q archive %s | tar -x -C %q", source, at, old, source)).CombinedOutput() //nolint:gosec // a hash and folders of this test
	require.NoError(t, err, string(out))
	binary = filepath.Join(dir, "smolder-before")
	build := exec.CommandContext(t.Context(), "go", "build", "-o", binary, "./cmd/smolder") //nolint:gosec // as above
	build.Dir = source
	out, err = build.CombinedOutput()
	require.NoError(t, err, string(out))
	return binary
}

// An upgrade without downtime: the version before goes on serving while the database is brought to
// this one's, both serve side by side, the older one ends; nothing that was acknowledged is lost, and
// nobody is told that something went wrong.
func TestUpgradeWhileServing(t *testing.T) {
	if testing.Short() {
		t.Skip("builds two programs, which takes its time")
	}
	ctx, dir := t.Context(), t.TempDir()
	earlier, newer := before(t, dir), filepath.Join(dir, "smolder")
	out, err := exec.CommandContext(ctx, "go", "build", "-o", newer, ".").CombinedOutput()
	require.NoError(t, err, string(out))
	pg, err := pgserver.Start(ctx, pgserver.Options{Dir: filepath.Join(dir, "pg")})
	require.NoError(t, err)
	t.Cleanup(func() { _ = pg.Stop() })
	require.NoError(t, pg.Create(ctx, "smolder", ""))
	migrate := func(binary string) {
		out, err := exec.CommandContext(ctx, binary, "migrate", "--database", pg.URL("smolder")).CombinedOutput() //nolint:gosec // built here
		require.NoError(t, err, string(out))
	}
	migrate(earlier)
	st, err := store.Open(ctx, pg.URL("smolder"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = st.Close() })
	home, stove, id, began := aBurn(t, st)
	token, err := home.MakeToken(ctx, "test", 0, []string{store.ScopeLog, store.ScopeReadings})
	require.NoError(t, err)

	one := &killable{t: t, binary: earlier, database: pg.URL("smolder")}
	one.start()
	t.Cleanup(one.kill)
	writing, stop := context.WithCancel(ctx)
	defer stop()
	var busy sync.WaitGroup
	phone := &writer{url: one.url, token: token, burn: id, stove: stove, began: began}
	busy.Go(func() { phone.write(writing) })
	goesOn := func(w *writer, why string) {
		acked := w.acknowledged()
		require.Eventually(t, func() bool { return w.acknowledged() > acked+3 }, time.Minute, 20*time.Millisecond, why)
	}
	goesOn(phone, "before")
	migrate(newer)
	goesOn(phone, "the version before, on the newer database")

	two := &killable{t: t, binary: newer, database: pg.URL("smolder")}
	two.start()
	t.Cleanup(two.kill)
	other := &writer{url: two.url, token: token, burn: id, stove: stove, began: began, named: "f"}
	busy.Go(func() { other.write(writing) })
	goesOn(other, "the newer one")
	goesOn(phone, "beside it")
	stop()
	busy.Wait()
	require.NoError(t, one.cmd.Process.Signal(syscall.SIGTERM))
	require.NoError(t, one.cmd.Wait())

	assert.Empty(t, phone.failed)
	assert.Empty(t, other.failed)
	st, err = store.Open(ctx, pg.URL("smolder")) // as it is now
	require.NoError(t, err)
	t.Cleanup(func() { _ = st.Close() })
	full, err := st.Household(home.ID()).Burn(ctx, id)
	require.NoError(t, err)
	there := map[string]int{}
	for _, e := range full.Entries {
		there[e.ID]++
	}
	for _, w := range []*writer{phone, other} {
		for _, id := range w.entries {
			assert.Equal(t, 1, there[id], id)
		}
	}
}

// aBurn is a household with a stove that burns since an hour ago.
func aBurn(t *testing.T, st *store.Store) (home store.Household, stove, id int64, began time.Time) {
	t.Helper()
	ctx := t.Context()
	household, _, err := st.Create(ctx, demo.Profile(time.Now()), demo.Spaces()[0], "tarn", "x")
	require.NoError(t, err)
	home = st.Household(household)
	spaces, err := home.Spaces(ctx)
	require.NoError(t, err)
	auntie := demo.Stoves()[0]
	auntie.Space = spaces[0]
	stove, err = home.AddStove(ctx, auntie)
	require.NoError(t, err)
	began = time.Now().UTC().Add(-time.Hour).Truncate(time.Second)
	id, err = home.StartBurn(ctx, stove, "", burn.Burn{Stove: auntie.Stove, House: auntie.Space.House, Started: began}, nil)
	require.NoError(t, err)
	return home, stove, id, began
}
