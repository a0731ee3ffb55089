package browsertest

import (
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A page is cut off and joined again by the command that the browser knows best, and by
// the one that older browsers know.
func TestOffline(t *testing.T) {
	if testing.Short() {
		t.Skip("browsers are left out of a short run")
	}
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "text/html")
		_, _ = w.Write([]byte("<main>here</main>"))
	}))
	defer server.Close()
	b, err := Start(server.URL)
	require.NoError(t, err)
	defer b.Close()
	defer func() { older = false }()
	for _, older = range []bool{false, true} {
		require.NoError(t, b.Offline(false))
		require.NoError(t, b.Open("/"))
		for _, off := range []bool{true, false} {
			require.NoError(t, b.Offline(off))
			reached, err := Eval[bool](b, `fetch("/again", { cache: "no-store" }).then(() => true, () => false)`)
			require.NoError(t, err)
			assert.Equal(t, !off, reached, "older command: %v", older)
			online, err := Eval[bool](b, "navigator.onLine")
			require.NoError(t, err)
			assert.Equal(t, !off, online, "older command: %v", older)
		}
	}
}
