package web_test

import (
	"bytes"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/demo"
	"smolder/internal/storetest"
)

// Whoever is not signed in leaves nothing behind: no part of a body is kept on
// disk, and one that is too large is not read to its end.
func TestBodiesOfStrangersLeaveNothing(t *testing.T) {
	s := newSite(t, true)
	dir := t.TempDir()
	t.Setenv("TMPDIR", dir)
	for _, path := range []string{"/sign-in", "/setup", "/burns/import", "/nowhere"} {
		var b bytes.Buffer
		w := multipart.NewWriter(&b)
		for i := range 2 {
			part, err := w.CreateFormFile(fmt.Sprintf("file%d", i), "big.bin")
			require.NoError(t, err)
			_, _ = part.Write(bytes.Repeat([]byte("x"), 6<<20))
		}
		_ = w.Close()
		r, err := http.NewRequestWithContext(ctx, http.MethodPost, s.url+path, &b)
		require.NoError(t, err)
		r.Header.Set("Content-Type", w.FormDataContentType())
		resp, err := s.client.Do(r)
		if err == nil { // or the connection is shut in the middle of it
			assert.GreaterOrEqual(t, resp.StatusCode, 400, path)
			_, _ = io.Copy(io.Discard, resp.Body)
			_ = resp.Body.Close()
		}
		left, err := os.ReadDir(dir)
		require.NoError(t, err)
		assert.Empty(t, left, path)
	}
	long := s.post("/sign-in", "name", strings.Repeat("x", 200<<10), "password", "three dry splits")
	assert.Equal(t, http.StatusUnprocessableEntity, long.status)
	var widest int
	require.NoError(t, s.store.DB().QueryRow(`SELECT coalesce(max(length(attempts::text)), 0) FROM attempts`).Scan(&widest))
	assert.Less(t, widest, 300, "and no name is remembered, however long")
}

// Guesses are counted before they are tried, by address and by name; an owner
// who has been here before is not locked out by others, and thirty at once are
// not all tried.
func TestGuessesAtOnce(t *testing.T) {
	s := newSite(t, false)
	s.setUp()
	s.newPerson()
	var wg sync.WaitGroup
	var mu sync.Mutex
	statuses := map[int]int{}
	for range 30 {
		wg.Go(func() {
			got := s.post("/sign-in", "name", "Ro", "password", "a wrong guess here")
			mu.Lock()
			defer mu.Unlock()
			statuses[got.status]++
		})
	}
	wg.Wait()
	assert.LessOrEqual(t, statuses[http.StatusUnprocessableEntity], 6, "%v", statuses)
	assert.GreaterOrEqual(t, statuses[http.StatusTooManyRequests]+statuses[http.StatusServiceUnavailable], 24, "%v", statuses)
}

// A name is one whatever its letters are made of, and large or small.
func TestNamesFromOtherLanguages(t *testing.T) {
	s := newSite(t, false)
	require.Equal(t, "/stoves/new", s.setUp("name", "Åse").to)
	for _, as := range []string{"Åse", "åse", "ÅSE", "A\u030ase", " Åse "} {
		s.newPerson()
		assert.Equal(t, "/", s.post("/sign-in", "name", as, "password", "three dry splits").to, "%q", as)
	}
}

// Five people who set a fresh server up at once make one household.
func TestSetUpAtOnce(t *testing.T) {
	s := newSite(t, false)
	code, err := s.store.SetupCode(ctx)
	require.NoError(t, err)
	var wg sync.WaitGroup
	made := make([]int, 5)
	for i := range made {
		wg.Go(func() {
			jar := *s
			jar.newPerson()
			made[i] = jar.post("/setup", "code", code, "household", "Mill", "name", fmt.Sprintf("Ro %d", i), "zone", "UTC", "units", "metric",
				"password", "three dry splits").status
		})
	}
	wg.Wait()
	owners := 0
	for _, status := range made {
		if status == http.StatusSeeOther {
			owners++
		}
	}
	assert.Equal(t, 1, owners, "%v", made)
	var users, households int
	require.NoError(t, s.store.DB().QueryRow(`SELECT (SELECT count(*) FROM users), (SELECT count(*) FROM households)`).Scan(&users, &households))
	assert.Equal(t, []int{1, 1}, []int{users, households})
}

// A form that is sent after the session ended comes back with all that was
// typed, after the sign-in, and nothing is kept by itself.
func TestASessionThatEndsInMidForm(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	form := with(fields(s.get("/wood/new").body), beech("name", "Typed for minutes", "mass", "2.5 m3")...)
	s.newPerson()
	held := s.post("/wood", form...)
	require.Equal(t, http.StatusUnauthorized, held.status)
	assert.Contains(t, held.words(), "What you typed is kept")
	sent := fieldsOf(held)
	back := s.post("/sign-in", "name", demo.User, "password", demo.Password, "back", sent["back"], "held", sent["held"])
	require.Equal(t, http.StatusSeeOther, back.status, back.words())
	page := s.get(back.to)
	assert.Contains(t, page.body, `value="Typed for minutes"`)
	assert.Contains(t, page.body, `value="2.5 m3"`)
	assert.Contains(t, page.words(), "nothing has been kept or done yet")
	assert.NotContains(t, s.get("/wood").body, "Typed for minutes")
	require.Equal(t, http.StatusSeeOther, s.post("/wood", form...).status)
	assert.Contains(t, s.get("/wood").body, "Typed for minutes")

	// So do the small forms of the wood and of the upkeep; none is done by itself.
	for _, c := range []struct{ path, field, typed, table string }{{"/wood/1/readings", "reading", "21 22 23", "stack_readings"},
		{"/wood/1/counts", "amount", "3 x 1.2 m", "stack_counts"}, {"/wood/basket", "carry-1", "17", "carried"}, {"/upkeep/done", "note", "a leaf in it", "upkeep"}} {
		s.newPerson()
		before := count(s, c.table)
		held := s.post(c.path, c.field, c.typed, "task", "inlet", "stove", "4")
		require.Equal(t, http.StatusUnauthorized, held.status, c.path)
		sent := fieldsOf(held)
		back := s.post("/sign-in", "name", demo.User, "password", demo.Password, "back", sent["back"], "held", sent["held"])
		require.Equal(t, http.StatusSeeOther, back.status, back.words())
		assert.Contains(t, strings.ToLower(s.get(back.to).words()), "nothing has been kept or done yet", c.path)
		assert.Equal(t, before, count(s, c.table), c.path)
	}

	// Addresses go on to pages of this server alone.
	s.newPerson()
	for _, to := range []string{"https://elsewhere.example/", "//elsewhere.example/", `/\elsewhere.example`, "javascript:alert(1)"} {
		got := s.post("/sign-in", "name", demo.User, "password", demo.Password, "back", to)
		assert.Equal(t, "/", got.to, to)
	}
	got := s.post("/sign-in", "name", demo.User, "password", demo.Password, "back", "/wood/2")
	assert.Equal(t, "/wood/2", got.to)
}

// Sign-out is final, also for a page that was being computed; a changed password
// ends every other session, and each can be ended by itself.
func TestSessionsEnd(t *testing.T) {
	s := newSite(t, true)
	phone, laptop := *s, *s
	phone.newPerson()
	laptop.newPerson()
	phone.signIn()
	laptop.signIn()
	page := laptop.get("/household")
	assert.Contains(t, page.words(), "Where you are signed in")
	key := between(page.body, `action="/household/sessions/`, `/end"`)
	require.NotEmpty(t, key)
	require.Equal(t, http.StatusSeeOther, laptop.post("/household/sessions/"+key+"/end").status)
	assert.Equal(t, "/sign-in?back=%2Fwood", phone.get("/wood").to, "ended from elsewhere")
	phone.signIn()

	var wg sync.WaitGroup
	for range 4 { // pages under way while the phone signs out
		wg.Go(func() {
			_ = phone.wish("/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16&outdoor=-1&start=cold&wood=1&kindling=6")
		})
	}
	time.Sleep(50 * time.Millisecond)
	jar := phone.client.Jar
	phone.post("/sign-out")
	wg.Wait()
	phone.client.Jar = jar
	assert.Equal(t, "/sign-in?back=%2Fwood", phone.get("/wood").to, "no page that ends later brings the session back")

	phone.newPerson()
	phone.signIn()
	wrong := laptop.post("/household/password", "old-password", "not it at all", "password", "four dry splits")
	assert.Equal(t, http.StatusUnprocessableEntity, wrong.status)
	short := laptop.post("/household/password", "old-password", demo.Password, "password", "short")
	assert.Equal(t, http.StatusUnprocessableEntity, short.status)
	require.Equal(t, http.StatusSeeOther, laptop.post("/household/password", "old-password", demo.Password, "password", "four dry splits").status)
	assert.Equal(t, http.StatusOK, laptop.get("/wood").status, "where it was changed")
	assert.Equal(t, "/sign-in?back=%2Fwood", phone.get("/wood").to, "and nowhere else")
	assert.Equal(t, "/", phone.post("/sign-in", "name", demo.User, "password", "four dry splits").to)

	_, err := s.store.DB().Exec(`DELETE FROM users WHERE name = $1`, demo.User)
	require.NoError(t, err)
	assert.Contains(t, laptop.get("/wood").to, "/sign-in", "a user who is gone is signed out")
}

// Entries that wait on a device wait for the household they were made in.
func TestWhoeverSignsInNextSendsNothingOfOthers(t *testing.T) {
	s := newSite(t, true)
	storetest.Household(t, s.store, "stranger")
	s.signIn()
	mine := between(s.get("/").body, `data-household="`, `"`)
	_, err := s.store.DB().Exec(`UPDATE users SET password = (SELECT password FROM users WHERE name = $1) WHERE name = 'stranger'`, demo.User)
	require.NoError(t, err)
	s.newPerson()
	require.Equal(t, "/", s.post("/sign-in", "name", "stranger", "password", demo.Password).to)
	other := between(s.get("/").body, `data-household="`, `"`)
	require.NotEmpty(t, mine)
	assert.NotEqual(t, mine, other, "entries on the device are kept under their household")
}

// A page that is open hears no more once somebody is signed out elsewhere.
func TestWhoIsSignedOutHearsNoMore(t *testing.T) {
	s := newSite(t, true)
	laptop := &site{t: t, url: s.url, store: s.store, clock: s.clock}
	laptop.newPerson()
	s.signIn()
	laptop.signIn()
	path := strings.TrimSuffix(s.post("/stove", "stove", "1", "start", "good-coals", "room", "18", "outdoor", "4").to, "/live")
	req, err := http.NewRequestWithContext(t.Context(), http.MethodGet, laptop.url+path+"/changes", nil)
	require.NoError(t, err)
	resp, err := laptop.client.Do(req)
	require.NoError(t, err)
	ended := make(chan struct{})
	go func() {
		defer close(ended)
		_, _ = io.Copy(io.Discard, resp.Body)
		_ = resp.Body.Close()
	}()
	key := between(s.get("/household").body, `action="/household/sessions/`, `/end"`)
	require.Equal(t, http.StatusSeeOther, s.post("/household/sessions/"+key+"/end").status)
	require.Eventually(t, func() bool {
		s.post(path+"/entries", "kind", "note", "note", "still here")
		select {
		case <-ended:
			return true
		default:
			return false
		}
	}, 20*time.Second, 200*time.Millisecond)
}
