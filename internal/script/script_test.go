// Package script_test runs the unit tests of the pages' scripts (assets/test) in a browser: on a
// bare machine there is one, and no other runner.
package script_test

import (
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/browsertest"
)

func TestScripts(t *testing.T) {
	if testing.Short() {
		t.Skip("browsers are left out of a short run")
	}
	server := httptest.NewServer(http.FileServer(http.Dir("../../assets")))
	t.Cleanup(server.Close)
	b, err := browsertest.Start(server.URL)
	require.NoError(t, err)
	t.Cleanup(b.Close)
	require.NoError(t, b.Open("/test/all.html"))
	require.NoError(t, b.Wait("window.results"))
	results, err := browsertest.Eval[[]struct{ Name, Wrong string }](b, "window.results")
	require.NoError(t, err)
	assert.Greater(t, len(results), 15, "all of them were found")
	for _, r := range results {
		t.Run(r.Name, func(t *testing.T) { assert.Empty(t, r.Wrong) })
	}
}
