package web_test

import (
	"net/http"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"net/http/httptest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/pgserver"
	"smolder/internal/store"
	"smolder/internal/web"
	"smolder/internal/web/webtest"
)

// The emergency pages, styles, scripts and health open at once for a browser
// that is signed in, with the database gone, and with it silent: stopped in the
// middle, so that it takes every question and answers none.
func TestEmergencyPagesWithoutADatabase(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "pg")
	pg, err := pgserver.Start(ctx, pgserver.Options{Dir: dir, Volatile: true})
	require.NoError(t, err)
	t.Cleanup(func() { _ = pg.Stop() })
	require.NoError(t, pg.Create(ctx, "smolder", ""))
	st, err := store.Open(ctx, pg.URL("smolder"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = st.Close() })
	_, err = st.Migrate(ctx)
	require.NoError(t, err)
	s := &webtest.Site{T: t, Clock: &webtest.Clock{}, Store: st}
	handler, err := web.New(webtest.Options(s, false))
	require.NoError(t, err)
	server := httptest.NewServer(handler)
	t.Cleanup(server.Close)
	s.URL = server.URL
	s.NewPerson()
	require.Equal(t, "/stoves/new", s.SetUp().To)
	require.Equal(t, http.StatusOK, s.Get("/").Status, "signed in, with a session cookie")
	style := webtest.Between(s.Get("/").Body, `<link rel="stylesheet" href="`, `"`)

	opens := func(when string) {
		t.Helper()
		for path, says := range map[string]string{"/co-alarm": "Everybody out, now", "/chimney-fire": "Never water in the firebox",
			style: "font-face", "/livez": "ok"} {
			begin := time.Now()
			got := s.Get(path)
			assert.Equal(t, http.StatusOK, got.Status, "%s, %s", path, when)
			assert.Contains(t, got.Body, says, "%s, %s", path, when)
			assert.Less(t, time.Since(begin), 20*time.Second, "not after the database's own limits: %s, %s", path, when)
		}
	}
	opens("all is well")

	stopped := stopAll(t, pg.PID())
	opens("the database is silent")
	assert.Equal(t, http.StatusServiceUnavailable, s.Get("/healthz").Status)
	silent := s.Get("/wood")
	assert.Equal(t, http.StatusServiceUnavailable, silent.Status, "and a page that needs it ends in time")
	assert.Contains(t, silent.Words(), "database does not answer")
	assert.NotEqual(t, "/sign-in", silent.To, "an error of the database is no sign-out")
	for _, pid := range stopped {
		_ = syscall.Kill(pid, syscall.SIGCONT)
	}
	require.Eventually(t, func() bool { return s.Get("/healthz").Status == http.StatusOK }, 30*time.Second, 100*time.Millisecond)
	assert.Equal(t, http.StatusOK, s.Get("/").Status, "still signed in")

	require.NoError(t, pg.Stop())
	opens("the database is gone")
	assert.Equal(t, http.StatusServiceUnavailable, s.Get("/wood").Status)
}

// stopAll stops a server that this test started and every process of it, and
// returns them.
func stopAll(t *testing.T, root int) []int {
	t.Helper()
	pids := []int{root}
	list, err := os.ReadDir("/proc")
	require.NoError(t, err)
	for _, d := range list {
		pid, err := strconv.Atoi(d.Name())
		if err != nil {
			continue
		}
		stat, err := os.ReadFile(filepath.Join("/proc", d.Name(), "stat"))
		if err != nil {
			continue
		}
		_, rest, _ := strings.Cut(string(stat), ") ")
		if f := strings.Fields(rest); len(f) > 1 && f[1] == strconv.Itoa(root) {
			pids = append(pids, pid)
		}
	}
	for _, pid := range pids {
		require.NoError(t, syscall.Kill(pid, syscall.SIGSTOP))
	}
	t.Cleanup(func() {
		for _, pid := range pids {
			_ = syscall.Kill(pid, syscall.SIGCONT)
		}
	})
	return pids
}

// HEAD is answered as GET, without the text; styles and scripts have their
// content in their name, so that they never need to be asked for again.
func TestHeadAndFiles(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	for _, path := range []string{"/", "/co-alarm", "/wood", "/burns"} {
		r, err := http.NewRequestWithContext(ctx, http.MethodHead, s.URL+path, nil)
		require.NoError(t, err)
		got := s.Do(r)
		assert.Equal(t, http.StatusOK, got.Status, path)
		assert.Empty(t, got.Body)
	}
	page := s.Get("/")
	for _, mark := range []string{`<link rel="stylesheet" href="`, `<script defer src="`} {
		path := webtest.Between(page.Body, mark, `"`)
		require.Regexp(t, `^/static/\w+\.[0-9a-f]{12}\.(css|js)$`, path)
		got := s.Get(path)
		assert.Equal(t, http.StatusOK, got.Status)
		assert.Contains(t, got.Header.Get("Cache-Control"), "immutable")
		r, err := http.NewRequestWithContext(ctx, http.MethodGet, s.URL+path, nil)
		require.NoError(t, err)
		r.Header.Set("Accept-Encoding", "gzip")
		packed := s.Do(r)
		assert.Equal(t, "gzip", packed.Header.Get("Content-Encoding"))
		assert.Less(t, len(packed.Body), len(got.Body)*6/10)
	}
	fonts := webtest.Between(s.Get(webtest.Between(page.Body, `<link rel="stylesheet" href="`, `"`)).Body, `url(`, `)`)
	font := s.Get("/static/" + strings.Trim(fonts, `"'`))
	assert.Equal(t, http.StatusOK, font.Status, fonts)
	assert.Contains(t, font.Header.Get("Cache-Control"), "immutable")
	assert.Equal(t, http.StatusNotFound, s.Get("/static/server.go").Status)
}
