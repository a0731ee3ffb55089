package kit

import (
	"bytes"
	"context"
	"errors"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whoever was refused for asking too much is no error of the program; what went wrong in it
// is one.
func TestRefusalsAreNoErrorsInTheLog(t *testing.T) {
	var out bytes.Buffer
	s := &Site{Options: Options{Log: slog.New(slog.NewTextHandler(&out, nil))}}
	s.Note(t.Context(), "request", http.StatusServiceUnavailable, &InputError{http.StatusServiceUnavailable, "Too many pages of this household are open."})
	s.Note(t.Context(), "request", http.StatusUnprocessableEntity, errors.New("a form"))
	assert.NotContains(t, out.String(), "level=ERROR")
	s.Note(t.Context(), "request", http.StatusInternalServerError, errors.New("a bug"))
	assert.Contains(t, out.String(), "level=ERROR")
}

// An answer that was given up is not an empty one that says all is well.
func TestWhatTookTooLongIsAnswered(t *testing.T) {
	s := &Site{Options: Options{Log: slog.New(slog.DiscardHandler)}}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	w := httptest.NewRecorder()
	c, _ := gin.CreateTestContext(w)
	r := httptest.NewRequestWithContext(ctx, http.MethodPost, "/burns", nil)
	r.Header.Set("Accept", "application/json")
	c.Request = r
	s.Handle(func(q *Request) error { return q.Ctx().Err() })(c)
	require.Equal(t, http.StatusServiceUnavailable, w.Code)
	assert.Contains(t, w.Body.String(), "took too long")
}
