package home_test

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/web/webtest"
)

// Pages, stoves, stacks, burns and words are found by what they are called or by what is done
// there; what is not found is said, and a long search is cut.
func TestFind(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	for asked, link := range map[string]string{"run out": "/wood/winter", "AUNTIE": "/stoves/1", "oak": "/wood/2", "baffle": "/words#baffle", "sweep": "/upkeep", "gasket": "/upkeep"} {
		assert.Contains(t, s.Get("/find?q="+strings.ReplaceAll(asked, " ", "+")).Body, `href="`+link+`"`, asked)
	}
	none := s.Get("/find?q=%3Cscript%3Ezeppelin")
	require.Equal(t, http.StatusOK, none.Status)
	assert.Contains(t, none.Words(), "One word, or the beginning of one, would do")
	assert.NotContains(t, none.Body, "<script>zeppelin")
	assert.Equal(t, http.StatusOK, s.Get("/find?q="+strings.Repeat("x", 5000)).Status)
	assert.NotContains(t, s.Get("/find").Words(), "Nothing here is called")
	words := s.Get("/words").Words()
	for _, w := range []string{"baffle", "light-off", "load line", "open V", "raft", "draft", "smoulder"} {
		assert.Contains(t, words, w)
	}
}
