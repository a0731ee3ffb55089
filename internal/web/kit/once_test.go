package kit

import (
	"errors"
	"net/http"
	"net/http/httptest"
	"testing"
	"testing/fstest"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func asking(method string) *Request {
	c, _ := gin.CreateTestContext(httptest.NewRecorder())
	c.Request = httptest.NewRequest(method, "/", nil)
	return &Request{Context: c, once: &once{}}
}

// Whoever only looks asks once, an error included; whoever changes something asks each time, and
// so does one that looks again and again.
func TestAPageAsksOnce(t *testing.T) {
	times := 0
	var wrong error
	ask := func() (int, error) {
		times++
		return times, wrong
	}
	var m memo[int]
	q := asking(http.MethodGet)
	for range 3 {
		got, err := m.get(q, ask)
		require.NoError(t, err)
		assert.Equal(t, 1, got)
	}
	var changing memo[int]
	times = 0
	for want := range 3 {
		got, err := changing.get(asking(http.MethodPost), ask)
		require.NoError(t, err)
		assert.Equal(t, want+1, got)
	}
	wrong = errors.New("the database is gone")
	var failing memo[int]
	for range 2 {
		_, err := failing.get(q, ask)
		require.ErrorIs(t, err, wrong)
	}
	assert.Equal(t, 4, times, "what failed is not asked for again by the same page")
	again := q.Anew()
	assert.NotSame(t, q.once, again.once)
	assert.Same(t, q.Context, again.Context)
}

// Two rooms cannot have a page of the same name: one would be shown in the other's place.
func TestPagesOfTheSameName(t *testing.T) {
	files := fstest.MapFS{"templates/a.html": {Data: []byte(`{{define "main"}}a{{end}}`)}}
	f, err := loadFiles(fstest.MapFS{})
	require.NoError(t, err)
	v, err := newViews(f, nil)
	require.NoError(t, err)
	require.NoError(t, v.add(files))
	require.ErrorContains(t, v.add(files), `a page "a"`)
}
