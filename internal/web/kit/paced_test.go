package kit

import (
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// deadlines notes what a connection is told.
type deadlines struct {
	http.ResponseWriter
	read, write []time.Time
}

func (d *deadlines) SetReadDeadline(t time.Time) error  { d.read = append(d.read, t); return nil }
func (d *deadlines) SetWriteDeadline(t time.Time) error { d.write = append(d.write, t); return nil }

// A body that goes on is given more time, one that rests is not, and an answer always has
// its own.
func TestABodyKeepsItsPace(t *testing.T) {
	d := &deadlines{ResponseWriter: httptest.NewRecorder()}
	before := time.Now()
	r := httptest.NewRequest(http.MethodPost, "/", io.NopCloser(strings.NewReader(strings.Repeat("x", 1<<20))))
	paced(http.HandlerFunc(func(_ http.ResponseWriter, r *http.Request) {
		small := make([]byte, 1)
		_, err := r.Body.Read(small)
		require.NoError(t, err)
		first := d.read[len(d.read)-1]
		assert.LessOrEqual(t, first.Sub(before), bodyBegins+bodyRests+time.Second, "a byte buys hardly any time")
		n, err := io.Copy(io.Discard, r.Body)
		require.NoError(t, err)
		assert.EqualValues(t, 1<<20-1, n)
	})).ServeHTTP(d, r)
	require.Greater(t, len(d.read), 1)
	assert.WithinDuration(t, before.Add(bodyBegins), d.read[1], 10*time.Second, "one that never begins is cut off")
	assert.True(t, d.read[len(d.read)-1].IsZero(), "what follows is the answer")
	for _, at := range d.write {
		assert.True(t, at.After(before.Add(answerIn/2)))
	}
	long := &deadlines{ResponseWriter: httptest.NewRecorder()}
	paced(http.HandlerFunc(func(http.ResponseWriter, *http.Request) {})).ServeHTTP(long, httptest.NewRequest(http.MethodGet, "/", nil))
	assert.Equal(t, []time.Time{{}}, long.read, "whoever only takes an answer is not cut off while it comes")
	p := &pacedBody{ReadCloser: io.NopCloser(strings.NewReader("xx")), control: http.NewResponseController(d), begun: before.Add(-time.Hour)}
	_, err := p.Read(make([]byte, 1))
	require.NoError(t, err)
	assert.True(t, d.read[len(d.read)-1].Before(before), "one that has trickled for an hour is over")
}
