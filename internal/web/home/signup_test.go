package home_test

import (
	"net/http"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/store"
	"smolder/internal/web"
	"smolder/internal/web/webtest"
)

// hosted is a server that takes households in as its host allows.
func hosted(t *testing.T, may store.SignUps, most int) *webtest.Site {
	return webtest.Hosted(t, func(o *web.Options) { o.SignUp, o.MostHouseholds = may, most })
}

func asks(code string, change ...string) []string {
	return webtest.Change([]string{"household", "The cabin", "name", "Wynn", "zone", "UTC", "units", "metric", "password", "three dry splits",
		"code", code}, change...)
}

// A household comes to a server where others live as its host allows it: not at all, by a code once,
// or by itself, and never more than the server takes.
func TestSignUp(t *testing.T) {
	closed := hosted(t, "", 0)
	assert.Equal(t, http.StatusForbidden, closed.Get("/sign-up").Status)
	assert.Equal(t, http.StatusForbidden, closed.Post("/sign-up", asks("")...).Status)
	assert.NotContains(t, closed.Get("/sign-in").Body, "/sign-up")

	s := hosted(t, store.Invited, 0)
	assert.Contains(t, s.Get("/sign-in").Body, "/sign-up")
	code, err := s.Store.HouseCode(t.Context(), s.Clock.Now(), s.Clock.Now().Add(time.Hour))
	require.NoError(t, err)
	ended, err := s.Store.HouseCode(t.Context(), s.Clock.Now(), s.Clock.Now().Add(-time.Minute))
	require.NoError(t, err)
	for _, bad := range []struct{ code, says string }{{"", "The code is missing"}, {"AAAA-BBBB-CCCC-DDDD", "That code lets nobody in"},
		{ended, "That code lets nobody in"}} {
		got := s.Post("/sign-up", asks(bad.code)...)
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status)
		assert.Contains(t, got.Words(), bad.says)
		assert.Contains(t, got.Body, `value="The cabin"`, "what was typed stays")
	}
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/sign-up", asks(code, "name", "tarn")...).Status, "a name that is in use")
	require.Equal(t, "/stoves/new", s.Post("/sign-up", asks(code)...).To, "and the code still held")
	assert.Contains(t, s.Get("/household").Words(), "Wynn")
	assert.NotContains(t, s.Get("/stoves").Words(), "Auntie", "of the others nothing is seen")
	s.NewPerson()
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/sign-up", asks(code, "name", "Ash")...).Status, "once")

	open := hosted(t, store.OpenTo, 2)
	require.Equal(t, "/stoves/new", open.Post("/sign-up", asks("")...).To)
	open.NewPerson()
	full := open.Post("/sign-up", asks("", "name", "Ash")...)
	assert.Equal(t, http.StatusForbidden, full.Status)
	assert.Contains(t, full.Words(), "As many households live here as this server takes: 2.")
}

// Of many who have one code at once, one comes in.
func TestOneCodeAtOnce(t *testing.T) {
	s := hosted(t, store.Invited, 0)
	code, err := s.Store.HouseCode(t.Context(), s.Clock.Now(), s.Clock.Now().Add(time.Hour))
	require.NoError(t, err)
	var in atomic.Int64
	var all sync.WaitGroup
	for i := range 8 {
		all.Go(func() {
			_, _, err := s.Store.SignUp(t.Context(), store.Invited, code, 0, s.Clock.Now(), store.Profile{Name: "x", Zone: "UTC", Units: "metric"},
				store.Space{Name: "x"}, "n"+string(rune('a'+i)), "h")
			if err == nil {
				in.Add(1)
			}
		})
	}
	all.Wait()
	assert.EqualValues(t, 1, in.Load())
}

// What a household keeps is bounded where the host says so, each with a sentence.
func TestLimits(t *testing.T) {
	s := webtest.New(t, true)
	for _, st := range s.Stores {
		st.Limit(store.Limits{Stacks: webtest.Count(s, "stacks WHERE removed_at IS NULL"), Burns: webtest.Count(s, "burns"), Bytes: 1000, Readings: 1})
	}
	s.SignIn()
	for _, c := range []struct {
		path  string
		pairs []string
		says  string
	}{
		{"/wood", webtest.Beech("name", "One more"), "stacks here"},
		{webtest.FirstBurn(s) + "/share", []string{"days", "7"}, "pictures and shared things"},
	} {
		got := s.Post(c.path, c.pairs...)
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, c.path)
		assert.Contains(t, got.Words(), c.says)
		assert.Contains(t, got.Words(), "nothing was changed")
	}
	_, err := s.Store.Household(1).AddReported(t.Context(), []store.Reported{{Stove: 1, Place: "room", At: s.Clock.Now(), Value: 20},
		{Stove: 1, Place: "room", At: s.Clock.Now().Add(time.Second), Value: 20}})
	var limited *store.Limited
	require.ErrorAs(t, err, &limited)
	assert.Equal(t, store.OfReadings, limited.Kind)
}
