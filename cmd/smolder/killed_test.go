package main

import (
	"cmp"
	"context"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/pgserver"
	"smolder/internal/store"
)

// kills is how often server or database are killed in the middle of a burn.
const kills = 22

// Server or database killed at any moment: every entry and every reading that was
// acknowledged is there afterwards, once; what was not is sent again, and kept once.
func TestKilledAtAnyMoment(t *testing.T) {
	if testing.Short() {
		t.Skip("kills processes, which takes its time")
	}
	ctx, dir := t.Context(), t.TempDir()
	binary := filepath.Join(dir, "smolder")
	out, err := exec.CommandContext(ctx, "go", "build", "-o", binary, ".").CombinedOutput()
	require.NoError(t, err, string(out))
	pg, err := pgserver.Start(ctx, pgserver.Options{Dir: filepath.Join(dir, "pg")})
	require.NoError(t, err)
	t.Cleanup(func() { _ = pg.Stop() })
	require.NoError(t, pg.Create(ctx, "smolder", ""))
	st, err := store.Open(ctx, pg.URL("smolder"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = st.Close() })
	_, err = st.Migrate(ctx)
	require.NoError(t, err)
	home, stove, id, began := aBurn(t, st)
	token, err := home.MakeToken(ctx, "test", 0, []string{store.ScopeLog, store.ScopeReadings})
	require.NoError(t, err)

	server := &killable{t: t, binary: binary, database: pg.URL("smolder")}
	server.start()
	t.Cleanup(server.kill)
	w := &writer{url: server.url, token: token, burn: id, stove: stove, began: began}
	writing, stop := context.WithCancel(ctx)
	var busy sync.WaitGroup
	busy.Go(func() { w.write(writing) })

	random := rand.New(rand.NewPCG(uint64(time.Now().UnixNano()), 1)) // another moment each run: any will do
	for i := range kills {
		time.Sleep(time.Duration(20+random.IntN(180)) * time.Millisecond)
		if i%4 == 3 {
			require.NoError(t, syscall.Kill(pg.PID(), syscall.SIGKILL))
		} else {
			server.kill()
			server.start()
		}
		acked := w.acknowledged()
		require.Eventually(t, func() bool { return w.acknowledged() > acked }, time.Minute, 20*time.Millisecond, "it goes on after kill %d", i+1)
	}
	stop()
	busy.Wait()
	require.Eventually(t, func() bool { return st.Ping(ctx) == nil }, time.Minute, 50*time.Millisecond)
	full, err := home.Burn(ctx, id)
	require.NoError(t, err)
	entries, readings := map[string]int{}, 0
	for _, e := range full.Entries {
		if e.Reported {
			readings++
		} else {
			entries[e.ID]++
		}
	}
	for _, id := range w.entries {
		assert.Equal(t, 1, entries[id], "acknowledged, and there once: %s", id)
	}
	assert.GreaterOrEqual(t, readings, w.readings, "every reading that was acknowledged")
	assert.LessOrEqual(t, readings, w.readings+1, "and none twice")
	assert.Greater(t, len(w.entries), kills)
}

// killable is a server of its own process.
type killable struct {
	t                     *testing.T
	binary, database, url string
	also                  []string // flags besides
	cmd                   *exec.Cmd
}

func (k *killable) start() {
	k.t.Helper()
	listen := "127.0.0.1:0"
	if k.url != "" {
		listen = strings.TrimPrefix(k.url, "http://")
	}
	k.cmd = exec.Command(k.binary, "serve", "--database", k.database, "--listen", listen, "--migrate=false")
	k.cmd.Args = append(k.cmd.Args, k.also...)
	k.cmd.Env = append(os.Environ(), "SMOLDER_NICENESS=0") // the machine is full of other tests
	out, err := k.cmd.StdoutPipe()
	require.NoError(k.t, err)
	k.cmd.Stderr = io.Discard
	require.NoError(k.t, k.cmd.Start())
	said := make([]byte, 200)
	n, err := out.Read(said)
	if err != nil { // the database was just killed: it is tried again
		k.kill()
		time.Sleep(200 * time.Millisecond)
		k.start()
		return
	}
	if k.url == "" {
		_, k.url, _ = strings.Cut(strings.TrimSpace(string(said[:n])), "Smolder is at ")
	}
	go func() { _, _ = io.Copy(io.Discard, out) }()
}

func (k *killable) kill() {
	_ = k.cmd.Process.Signal(os.Kill)
	_ = k.cmd.Wait()
}

// writer is a phone and a thermometer: they send until they are told that it is kept,
// and then the next.
type writer struct {
	url, token  string
	burn, stove int64
	began       time.Time
	named       string // what its entries are called: usually "e"

	mu       sync.Mutex
	entries  []string
	readings int
	failed   []int // statuses of answers that say that something went wrong
}

func (w *writer) acknowledged() int {
	w.mu.Lock()
	defer w.mu.Unlock()
	return len(w.entries)
}

func (w *writer) write(ctx context.Context) {
	for n := 0; ctx.Err() == nil; n++ {
		at, id := w.began.Add(time.Duration(n)*time.Second).Format(time.RFC3339), fmt.Sprintf("%s-%d", cmp.Or(w.named, "e"), n)
		w.until(ctx, fmt.Sprintf("/api/v1/burns/%d/entries", w.burn), fmt.Sprintf(`{"id": %q, "at": %q, "kind": "note", "note": "n"}`, id, at), func() {
			w.entries = append(w.entries, id)
		})
		w.until(ctx, "/api/v1/readings", fmt.Sprintf(`{"at": %q, "stove": %d, "place": "top", "value": %d}`, at, w.stove, 100+n%200), func() { w.readings++ })
	}
}

// until sends until it is acknowledged.
func (w *writer) until(ctx context.Context, path, body string, acked func()) {
	client := &http.Client{Timeout: 5 * time.Second}
	for ctx.Err() == nil {
		q, err := http.NewRequestWithContext(context.WithoutCancel(ctx), http.MethodPost, w.url+path, strings.NewReader(body))
		if err != nil {
			return
		}
		q.Header.Set("Authorization", "Bearer "+w.token)
		q.Header.Set("Content-Type", "application/x-ndjson")
		answer, err := client.Do(q)
		if err == nil {
			_, _ = io.Copy(io.Discard, answer.Body)
			_ = answer.Body.Close()
			if answer.StatusCode == http.StatusOK {
				w.mu.Lock()
				acked()
				w.mu.Unlock()
				return
			}
			if answer.StatusCode >= http.StatusInternalServerError {
				w.mu.Lock()
				w.failed = append(w.failed, answer.StatusCode)
				w.mu.Unlock()
			}
		}
		time.Sleep(20 * time.Millisecond) // too many requests, or nobody there
	}
}
