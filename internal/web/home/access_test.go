package home_test

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
	"smolder/internal/web/webtest"
)

// Whoever is not signed in leaves nothing behind: no part of a body is kept on
// disk, and one that is too large is not read to its end.
func TestBodiesOfStrangersLeaveNothing(t *testing.T) {
	s := webtest.New(t, true)
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
		r, err := http.NewRequestWithContext(ctx, http.MethodPost, s.URL+path, &b)
		require.NoError(t, err)
		r.Header.Set("Content-Type", w.FormDataContentType())
		resp, err := s.Client.Do(r)
		if err == nil { // or the connection is shut in the middle of it
			assert.GreaterOrEqual(t, resp.StatusCode, 400, path)
			_, _ = io.Copy(io.Discard, resp.Body)
			_ = resp.Body.Close()
		}
		left, err := os.ReadDir(dir)
		require.NoError(t, err)
		assert.Empty(t, left, path)
	}
	long := s.Post("/sign-in", "name", strings.Repeat("x", 200<<10), "password", "three dry splits")
	assert.Equal(t, http.StatusUnprocessableEntity, long.Status)
	var widest int
	require.NoError(t, s.Store.DB().QueryRow(`SELECT coalesce(max(length(attempts::text)), 0) FROM attempts`).Scan(&widest))
	assert.Less(t, widest, 300, "and no name is remembered, however long")
}

// Guesses are counted before they are tried, by address and by name; an owner
// who has been here before is not locked out by others, and thirty at once are
// not all tried.
func TestGuessesAtOnce(t *testing.T) {
	s := webtest.New(t, false)
	s.SetUp()
	s.NewPerson()
	var wg sync.WaitGroup
	var mu sync.Mutex
	statuses := map[int]int{}
	for range 30 {
		wg.Go(func() {
			got := s.Post("/sign-in", "name", "Ro", "password", "a wrong guess here")
			mu.Lock()
			defer mu.Unlock()
			statuses[got.Status]++
		})
	}
	wg.Wait()
	assert.LessOrEqual(t, statuses[http.StatusUnprocessableEntity], 6, "%v", statuses)
	assert.GreaterOrEqual(t, statuses[http.StatusTooManyRequests]+statuses[http.StatusServiceUnavailable], 24, "%v", statuses)
}

// A name is one whatever its letters are made of, and large or small.
func TestNamesFromOtherLanguages(t *testing.T) {
	s := webtest.New(t, false)
	require.Equal(t, "/stoves/new", s.SetUp("name", "Åse").To)
	for _, as := range []string{"Åse", "åse", "ÅSE", "A\u030ase", " Åse "} {
		s.NewPerson()
		assert.Equal(t, "/", s.Post("/sign-in", "name", as, "password", "three dry splits").To, "%q", as)
	}
}

// Five people who set a fresh server up at once make one household.
func TestSetUpAtOnce(t *testing.T) {
	s := webtest.New(t, false)
	code, err := s.Store.SetupCode(ctx)
	require.NoError(t, err)
	var wg sync.WaitGroup
	made := make([]int, 5)
	for i := range made {
		wg.Go(func() {
			jar := *s
			jar.NewPerson()
			made[i] = jar.Post("/setup", "code", code, "household", "Mill", "name", fmt.Sprintf("Ro %d", i), "zone", "UTC", "units", "metric",
				"password", "three dry splits").Status
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
	require.NoError(t, s.Store.DB().QueryRow(`SELECT (SELECT count(*) FROM users), (SELECT count(*) FROM households)`).Scan(&users, &households))
	assert.Equal(t, []int{1, 1}, []int{users, households})
}

// A form that is sent after the session ended comes back with all that was
// typed, after the sign-in, and nothing is kept by itself.
func TestASessionThatEndsInMidForm(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	form := webtest.Change(webtest.Fields(s.Get("/wood/new").Body), webtest.Beech("name", "Typed for minutes", "mass", "2.5 m3")...)
	s.NewPerson()
	held := s.Post("/wood", form...)
	require.Equal(t, http.StatusUnauthorized, held.Status)
	assert.Contains(t, held.Words(), "What you typed is kept")
	sent := webtest.FieldsOf(held)
	back := s.Post("/sign-in", "name", demo.User, "password", demo.Password, "back", sent["back"], "held", sent["held"])
	require.Equal(t, http.StatusSeeOther, back.Status, back.Words())
	page := s.Get(back.To)
	assert.Contains(t, page.Body, `value="Typed for minutes"`)
	assert.Contains(t, page.Body, `value="2.5 m3"`)
	assert.Contains(t, page.Words(), "nothing has been kept or done yet")
	assert.NotContains(t, s.Get("/wood").Body, "Typed for minutes")
	require.Equal(t, http.StatusSeeOther, s.Post("/wood", form...).Status)
	assert.Contains(t, s.Get("/wood").Body, "Typed for minutes")

	// So do the small forms of the wood and of the upkeep; none is done by itself.
	for _, c := range []struct{ path, field, typed, table string }{{"/wood/1/readings", "reading", "21 22 23", "stack_readings"},
		{"/wood/1/counts", "amount", "3 x 1.2 m", "stack_counts"}, {"/wood/basket", "carry-1", "17", "carried"}, {"/upkeep/done", "note", "a leaf in it", "upkeep"}} {
		s.NewPerson()
		before := webtest.Count(s, c.table)
		held := s.Post(c.path, c.field, c.typed, "task", "inlet", "stove", "4")
		require.Equal(t, http.StatusUnauthorized, held.Status, c.path)
		sent := webtest.FieldsOf(held)
		back := s.Post("/sign-in", "name", demo.User, "password", demo.Password, "back", sent["back"], "held", sent["held"])
		require.Equal(t, http.StatusSeeOther, back.Status, back.Words())
		assert.Contains(t, strings.ToLower(s.Get(back.To).Words()), "nothing has been kept or done yet", c.path)
		assert.Equal(t, before, webtest.Count(s, c.table), c.path)
	}

	// Addresses go on to pages of this server alone.
	s.NewPerson()
	for _, to := range []string{"https://elsewhere.example/", "//elsewhere.example/", `/\elsewhere.example`, "javascript:alert(1)"} {
		got := s.Post("/sign-in", "name", demo.User, "password", demo.Password, "back", to)
		assert.Equal(t, "/", got.To, to)
	}
	got := s.Post("/sign-in", "name", demo.User, "password", demo.Password, "back", "/wood/2")
	assert.Equal(t, "/wood/2", got.To)
}

// Sign-out is final, also for a page that was being computed; a changed password
// ends every other session, and each can be ended by itself.
func TestSessionsEnd(t *testing.T) {
	s := webtest.New(t, true)
	phone, laptop := *s, *s
	phone.NewPerson()
	laptop.NewPerson()
	phone.SignIn()
	laptop.SignIn()
	page := laptop.Get("/household")
	assert.Contains(t, page.Words(), "Where you are signed in")
	key := webtest.Between(page.Body, `action="/household/sessions/`, `/end"`)
	require.NotEmpty(t, key)
	assert.NotContains(t, page.Words(), "more browsers")
	for range 5 { // whoever signs in often has the rest under a line, and can end each there too
		again := *s
		again.NewPerson()
		again.SignIn()
	}
	page = laptop.Get("/household")
	assert.Contains(t, page.Words(), "3 more browsers")
	assert.Equal(t, 6, strings.Count(page.Body, `action="/household/sessions/`)-strings.Count(page.Body, `action="/household/sessions/end"`))
	require.Equal(t, http.StatusSeeOther, laptop.Post("/household/sessions/"+key+"/end").Status)
	assert.Equal(t, "/sign-in?back=%2Fwood", phone.Get("/wood").To, "ended from elsewhere")
	phone.SignIn()

	var wg sync.WaitGroup
	for range 4 { // pages under way while the phone signs out
		wg.Go(func() {
			_ = phone.Wish("/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16&outdoor=-1&start=cold&wood=1&kindling=6")
		})
	}
	time.Sleep(50 * time.Millisecond)
	jar := phone.Client.Jar
	phone.Post("/sign-out")
	wg.Wait()
	phone.Client.Jar = jar
	assert.Equal(t, "/sign-in?back=%2Fwood", phone.Get("/wood").To, "no page that ends later brings the session back")

	phone.NewPerson()
	phone.SignIn()
	wrong := laptop.Post("/household/password", "old-password", "not it at all", "password", "four dry splits")
	assert.Equal(t, http.StatusUnprocessableEntity, wrong.Status)
	short := laptop.Post("/household/password", "old-password", demo.Password, "password", "short")
	assert.Equal(t, http.StatusUnprocessableEntity, short.Status)
	require.Equal(t, http.StatusSeeOther, laptop.Post("/household/password", "old-password", demo.Password, "password", "four dry splits").Status)
	assert.Equal(t, http.StatusOK, laptop.Get("/wood").Status, "where it was changed")
	assert.Equal(t, "/sign-in?back=%2Fwood", phone.Get("/wood").To, "and nowhere else")
	assert.Equal(t, "/", phone.Post("/sign-in", "name", demo.User, "password", "four dry splits").To)

	_, err := s.Store.DB().Exec(`DELETE FROM users WHERE name = $1`, demo.User)
	require.NoError(t, err)
	assert.Contains(t, laptop.Get("/wood").To, "/sign-in", "a user who is gone is signed out")
}

// Entries that wait on a device wait for the household they were made in.
func TestWhoeverSignsInNextSendsNothingOfOthers(t *testing.T) {
	s := webtest.New(t, true)
	storetest.Household(t, s.Store, "stranger")
	s.SignIn()
	mine := webtest.Between(s.Get("/").Body, `data-household="`, `"`)
	_, err := s.Store.DB().Exec(`UPDATE users SET password = (SELECT password FROM users WHERE name = $1) WHERE name = 'stranger'`, demo.User)
	require.NoError(t, err)
	s.NewPerson()
	require.Equal(t, "/", s.Post("/sign-in", "name", "stranger", "password", demo.Password).To)
	other := webtest.Between(s.Get("/").Body, `data-household="`, `"`)
	require.NotEmpty(t, mine)
	assert.NotEqual(t, mine, other, "entries on the device are kept under their household")
}

// A page that is open hears no more once somebody is signed out elsewhere.
func TestWhoIsSignedOutHearsNoMore(t *testing.T) {
	s := webtest.New(t, true)
	laptop := &webtest.Site{T: t, URL: s.URL, Store: s.Store, Clock: s.Clock}
	laptop.NewPerson()
	s.SignIn()
	laptop.SignIn()
	path := strings.TrimSuffix(s.Post("/stove", "stove", "1", "start", "good-coals", "room", "18", "outdoor", "4").To, "/live")
	req, err := http.NewRequestWithContext(t.Context(), http.MethodGet, laptop.URL+path+"/changes", nil)
	require.NoError(t, err)
	resp, err := laptop.Client.Do(req)
	require.NoError(t, err)
	ended := make(chan struct{})
	go func() {
		defer close(ended)
		_, _ = io.Copy(io.Discard, resp.Body)
		_ = resp.Body.Close()
	}()
	key := webtest.Between(s.Get("/household").Body, `action="/household/sessions/`, `/end"`)
	require.Equal(t, http.StatusSeeOther, s.Post("/household/sessions/"+key+"/end").Status)
	require.Eventually(t, func() bool {
		s.Post(path+"/entries", "kind", "note", "note", "still here")
		select {
		case <-ended:
			return true
		default:
			return false
		}
	}, 20*time.Second, 200*time.Millisecond)
}
