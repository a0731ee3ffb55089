package web_test

import (
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/metrics"
	"smolder/internal/web"
	"smolder/internal/web/webtest"
)

// What a server does is told to Prometheus by its routes, and never by what somebody asked for.
func TestMetrics(t *testing.T) {
	var m *metrics.Metrics
	s := webtest.Hosted(t, func(o *web.Options) {
		m = metrics.New(o.Store.DB())
		o.Metrics = m
	})
	s.SignIn()
	require.Equal(t, http.StatusOK, s.Get(webtest.FirstBurn(s)).Status)
	assert.Equal(t, http.StatusNotFound, s.Get("/no-such-page-"+strings.Repeat("x", 40)).Status)
	assert.Equal(t, http.StatusOK, s.Get("/co-alarm").Status)
	r := httptest.NewRecorder()
	m.Handler().ServeHTTP(r, httptest.NewRequest(http.MethodGet, "/metrics", nil))
	told := r.Body.String()
	assert.Contains(t, told, `smolder_request_seconds_count{method="GET",route="/burns/:id",status="200"} 1`)
	assert.Contains(t, told, `route="other",status="404"`)
	assert.Contains(t, told, `go_sql_open_connections{db_name="smolder"}`)
	for _, private := range []string{"no-such-page", webtest.FirstBurn(s), "tarn"} {
		assert.NotContains(t, strings.ToLower(told), strings.ToLower(private)+`"`)
	}
	assert.NotContains(t, told, "no-such-page")
}
