package main

import (
	"bytes"
	"io"
	"log/slog"
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
	var told bytes.Buffer
	log := slog.New(slog.NewTextHandler(&told, nil))
	spans, flush, err := tracesTo(collector.URL+"/v1/traces", log)
	require.NoError(t, err)
	_, span := spans.Tracer("test").Start(t.Context(), "a plan is searched for")
	span.End()
	flush()
	got := <-arrived
	assert.Contains(t, got, "/v1/traces ")
	assert.Contains(t, got, "a plan is searched for")
	assert.Contains(t, got, "smolder")

	collector.Close()
	spans, flush, err = tracesTo(collector.URL, log)
	require.NoError(t, err)
	_, span = spans.Tracer("test").Start(t.Context(), "nobody is there")
	span.End()
	flush()
	assert.Contains(t, told.String(), "level=WARN msg=traces")

	none, flush, err := tracesTo("", log)
	require.NoError(t, err)
	assert.Nil(t, none)
	flush()
	for _, wrong := range []string{"127.0.0.1:4318", "ftp://x", "http://", "://"} {
		_, _, err = tracesTo(wrong, log)
		require.ErrorAs(t, err, new(usageError), wrong)
		assert.Contains(t, err.Error(), "would do")
	}
}
