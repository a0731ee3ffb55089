package api_test

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/store"
	"smolder/internal/storetest"
	"smolder/internal/web"
	"smolder/internal/web/webtest"
)

// shelf is where readings wait.
type shelf struct {
	mu   sync.Mutex
	away bool
	has  []string
}

func (s *shelf) Put(_ context.Context, token, form string, text []byte) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.away {
		return errors.New("no such server")
	}
	s.has = append(s.has, fmt.Sprint(token, " ", form, " ", string(text)))
	return nil
}

// While the database is away, readings of a token that was known lately are written down and
// answered with 202, what else is asked is refused as ever, and so are readings of a token that
// nobody has seen.
func TestReadingsWaitForTheDatabase(t *testing.T) {
	waiting := &shelf{}
	var wire *storetest.Wire
	s := webtest.Hosted(t, func(o *web.Options) {
		o.Store, wire = storetest.OnAWire(t, o.Store)
		o.Later = waiting
	})
	known, stranger := s.Program(store.ScopeReadings, store.ScopeRead), s.Program(store.ScopeReadings)
	const line = `{"stove": 1, "place": "connector-probe", "value": 231.5}`
	require.Equal(t, http.StatusOK, known.Ask("POST", "/readings", "application/x-ndjson", line).Status)
	assert.Empty(t, waiting.has, "the database is there")

	wire.Cut()
	got := known.Ask("POST", "/readings", "application/x-ndjson", line)
	require.Equal(t, http.StatusAccepted, got.Status, got.Body)
	assert.Equal(t, []string{known.Token + " application/x-ndjson " + line}, waiting.has)
	assert.Equal(t, http.StatusServiceUnavailable, stranger.Ask("POST", "/readings", "application/x-ndjson", line).Status)
	assert.Equal(t, http.StatusServiceUnavailable, known.Ask("GET", "/stoves", "", "").Status)
	waiting.away = true
	assert.Equal(t, http.StatusServiceUnavailable, known.Ask("POST", "/readings", "application/x-ndjson", line).Status, "the log is away too")
	assert.Len(t, waiting.has, 1)

	wire.Mend()
	require.Equal(t, http.StatusOK, known.Ask("POST", "/readings", "application/x-ndjson", line).Status)
	tokens, err := s.Store.Household(1).Tokens(t.Context())
	require.NoError(t, err)
	for _, one := range tokens {
		require.NoError(t, s.Store.Household(1).RevokeToken(t.Context(), one.ID, s.Clock.Now()))
	}
	assert.Equal(t, http.StatusUnauthorized, known.Ask("POST", "/readings", "application/x-ndjson", line).Status)
	wire.Cut()
	waiting.away = false
	assert.Equal(t, http.StatusServiceUnavailable, known.Ask("POST", "/readings", "application/x-ndjson", line).Status, "revoked, it is forgotten")
}
