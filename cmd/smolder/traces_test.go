package main

import (
	"io"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Spans arrive at a collector when the server stops at the latest; what is no address is refused.
func TestTracesArrive(t *testing.T) {
	arrived := make(chan string, 1)
	collector := httptest.NewServer(http.HandlerFunc(func(_ http.ResponseWriter, r *http.Request) {
		body, _ := io.ReadAll(r.Body)
		arrived <- r.URL.Path + " " + string(body)
	}))
	t.Cleanup(collector.Close)
	spans, flush, err := tracesTo(collector.URL + "/v1/traces")
	require.NoError(t, err)
	_, span := spans.Tracer("test").Start(t.Context(), "a plan is searched for")
	span.End()
	flush()
	got := <-arrived
	assert.Contains(t, got, "/v1/traces ")
	assert.Contains(t, got, "a plan is searched for")
	assert.Contains(t, got, "smolder")

	none, flush, err := tracesTo("")
	require.NoError(t, err)
	assert.Nil(t, none)
	flush()
	for _, wrong := range []string{"127.0.0.1:4318", "ftp://x", "http://", "://"} {
		_, _, err = tracesTo(wrong)
		require.ErrorAs(t, err, new(usageError), wrong)
		assert.Contains(t, err.Error(), "would do")
	}
}
