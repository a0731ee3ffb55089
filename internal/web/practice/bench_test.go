package practice_test

import (
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/wish"
	"smolder/internal/web/webtest"
)

// BenchmarkFiftyPractices is half a second of life of fifty practices at 120 times its pace, over
// loopback with the database behind it: what share of the half second it takes. Its floor is the
// steps of fifty fires alone, in the same run.
func BenchmarkFiftyPractices(b *testing.B) {
	const many, pass = 50, 60
	s := webtest.New(b, true)
	s.SignIn()
	pages := make([]string, many)
	for i := range pages {
		pages[i] = s.Post("/practice", "lesson", "free", "stove", "1").To
	}
	asked := 0
	for b.Loop() {
		var all sync.WaitGroup
		for _, page := range pages {
			all.Go(func() {
				r, err := http.NewRequest(http.MethodPost, s.URL+page+"/do", strings.NewReader(url.Values{"pass": {fmt.Sprint(pass)}}.Encode()))
				require.NoError(b, err)
				r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
				r.Header.Set("Accept", "application/json")
				got, err := s.Client.Do(r)
				require.NoError(b, err)
				require.Equal(b, http.StatusOK, got.StatusCode)
				_, _ = io.Copy(io.Discard, got.Body)
				_ = got.Body.Close()
			})
		}
		all.Wait()
		asked++
	}
	trip := b.Elapsed() / time.Duration(asked)
	sim := fire.New(fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold).Setup(), 0)
	begin := time.Now()
	for range asked * many * pass / 2 {
		sim.Step()
	}
	floor := time.Since(begin) / time.Duration(asked)
	b.ReportMetric(float64(trip.Microseconds())/1e3, "ms/half-second")
	b.ReportMetric(float64(trip)/float64(500*time.Millisecond), "of-real-time")
	b.ReportMetric(float64(trip)/float64(floor), "×floor")
}
