package webtest

import (
	"io"
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

func Fetch(b *testing.B, s *Site, path string) {
	resp, err := s.Client.Get(s.URL + path)
	require.NoError(b, err)
	require.Equal(b, http.StatusOK, resp.StatusCode)
	_, _ = io.Copy(io.Discard, resp.Body)
	_ = resp.Body.Close()
}

func AgainstFloor(b *testing.B, s *Site, path string, floor func()) {
	Fetch(b, s, path)
	for b.Loop() {
		Fetch(b, s, path)
	}
	trip := b.Elapsed() / time.Duration(b.N)
	begin := time.Now()
	for range b.N {
		floor()
	}
	least := time.Since(begin) / time.Duration(b.N)
	b.ReportMetric(float64(trip.Microseconds())/1e3, "ms/page")
	b.ReportMetric(float64(trip)/float64(least), "×floor")
}
