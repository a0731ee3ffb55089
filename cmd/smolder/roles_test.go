package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/intake"
	"smolder/internal/pgserver"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

// Three processes share a database behind a pooler, each with a role: what one is told the others
// know, each answers for its part alone, and what nobody waits for is done by the one that works.
func TestRolesOfProcesses(t *testing.T) {
	if testing.Short() {
		t.Skip("starts servers, which takes its time")
	}
	ctx, dir := t.Context(), t.TempDir()
	binary := filepath.Join(dir, "smolder")
	out, err := exec.CommandContext(ctx, "go", "build", "-o", binary, ".").CombinedOutput()
	require.NoError(t, err, string(out))
	pg, err := pgserver.Start(ctx, pgserver.Options{Dir: filepath.Join(dir, "pg"), Volatile: true})
	require.NoError(t, err)
	t.Cleanup(func() { _ = pg.Stop() })
	require.NoError(t, pg.Create(ctx, "smolder", ""))
	pooler, err := pgserver.StartPooler(ctx, filepath.Join(dir, "pooler"), pg.URL("smolder"), 6)
	if errors.Is(err, pgserver.ErrNoPooler) {
		t.Skip(err)
	}
	require.NoError(t, err)
	t.Cleanup(pooler.Stop)
	st, err := store.Open(ctx, pg.URL("smolder"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = st.Close() })
	_, err = st.Migrate(ctx)
	require.NoError(t, err)
	home, stove, id, began := aBurn(t, st)
	token, err := home.MakeToken(ctx, "test", 0, []string{store.ScopeRead, store.ScopeLog, store.ScopeReadings})
	require.NoError(t, err)

	log := storetest.NewMessageLog(t)
	roles := map[string]*killable{}
	for _, role := range []string{"web", "intake", "work"} {
		k := &killable{t: t, binary: binary, database: pooler.URL("smolder"), also: []string{"--role", role, "--direct-database", pg.URL("smolder"), "--nats", log.Address()}}
		if role != "work" {
			k.start()
			t.Cleanup(k.kill)
		}
		roles[role] = k
	}
	get := func(k *killable, path string) (int, string) {
		q, err := http.NewRequestWithContext(ctx, http.MethodGet, k.url+path, nil)
		require.NoError(t, err)
		q.Header.Set("Authorization", "Bearer "+token)
		client := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
		got, err := client.Do(q)
		require.NoError(t, err)
		defer got.Body.Close()
		body, err := io.ReadAll(got.Body)
		require.NoError(t, err)
		return got.StatusCode, string(body)
	}
	writing, stop := context.WithCancel(ctx)
	defer stop()
	w := &writer{url: roles["intake"].url, token: token, burn: id, stove: stove, began: began}
	go w.write(writing)
	require.Eventually(t, func() bool { return w.acknowledged() > 5 }, time.Minute, 20*time.Millisecond)
	stop()
	require.Eventually(t, func() bool {
		_, body := get(roles["web"], "/api/v1/burns/1")
		return strings.Contains(body, `"e-5"`)
	}, time.Minute, 50*time.Millisecond, "what one process was told the other knows")
	// What lies in the message log is taken by the process that takes readings in.
	in, err := intake.OpenStream(log.Address(), slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	t.Cleanup(in.Close)
	require.Eventually(t, func() bool {
		return in.Put(ctx, token, "", []byte(fmt.Sprintf(`{"at": %q, "stove": %d, "place": "outdoors", "value": -7.5}`, began.Add(time.Minute).Format(time.RFC3339), stove))) == nil
	}, time.Minute, 50*time.Millisecond)
	require.Eventually(t, func() bool {
		var kept int
		require.NoError(t, st.DB().QueryRowContext(ctx, `SELECT count(*) FROM reported WHERE value = -7.5`).Scan(&kept))
		return kept == 1
	}, time.Minute, 50*time.Millisecond)
	for path, want := range map[string][2]int{"/healthz": {200, 200}, "/livez": {200, 200}, "/sign-in": {200, 404}, "/co-alarm": {200, 404}} {
		status, _ := get(roles["web"], path)
		assert.Equal(t, want[0], status, path)
		status, body := get(roles["intake"], path)
		assert.Equal(t, want[1], status, path)
		if status == http.StatusNotFound {
			assert.Contains(t, body, "has no pages")
		}
	}
	// Its end is looked back at by the process that works, once there is one.
	_, err = home.EndBurn(ctx, id, began.Add(50*time.Minute), time.Now())
	require.NoError(t, err)
	reviewed := func() bool {
		behind, err := st.Behind(ctx)
		require.NoError(t, err)
		return len(behind) == 0
	}
	assert.False(t, reviewed())
	roles["work"].start()
	t.Cleanup(roles["work"].kill)
	require.Eventually(t, reviewed, time.Minute, 100*time.Millisecond)
	status, _ := get(roles["work"], "/api/v1/stoves")
	assert.Equal(t, http.StatusNotFound, status)
	said, err := exec.CommandContext(ctx, binary, "serve", "--database", pg.URL("smolder"), "--role", "cook").CombinedOutput() //nolint:gosec // built here
	require.Error(t, err)
	assert.Contains(t, string(said), "web, work and intake would do")
}
