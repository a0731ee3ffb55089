package web_test

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/web/webtest"
)

// Three processes of one database, each request answered by the next: who has signed in at one is
// signed in at all, a plan that one has searched for the others show, a burn goes on wherever its
// entries arrive, and a practice goes on from where it was. (`make processes` asks everything of them.)
func TestSeveralProcesses(t *testing.T) {
	s := webtest.InProcesses(t, 3, true)
	s.SignIn()
	for range 4 {
		assert.Equal(t, http.StatusOK, s.Get("/").Status)
	}
	live, _ := s.Begun(webtest.ColdEvening)
	for range 3 {
		assert.Equal(t, http.StatusOK, s.Get(live+"/live").Status)
	}
	got := s.Post(live+"/entries", "kind", "note", "note", "said at one of them", "id", "here-1")
	require.Less(t, got.Status, http.StatusBadRequest, got.Words())
	for range 3 {
		assert.Contains(t, s.Get(live).Words(), "said at one of them")
	}
	page := s.Post("/practice", "lesson", "turn-down", "stove", "1").To
	for range 5 {
		require.Equal(t, http.StatusSeeOther, s.Post(page+"/do", "pass", "120").Status)
	}
	var kept float64
	require.NoError(t, s.Store.DB().QueryRow(`SELECT elapsed FROM practices`).Scan(&kept))
	assert.InDelta(t, 600, kept, 2, "each has gone on from where the one before had come to")
	for range 3 {
		require.Equal(t, http.StatusUnprocessableEntity, s.Post("/sign-in", "name", "nobody", "password", "wrong-wrong").Status)
	}
	for range 40 { // whom one has counted out the others do not know anew
		got = s.Post("/sign-in", "name", "nobody", "password", "wrong-wrong")
	}
	assert.Equal(t, http.StatusTooManyRequests, got.Status)
	assert.Contains(t, strings.ToLower(got.Words()), "too many wrong passwords")
}
