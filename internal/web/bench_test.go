package web_test

import (
	"io"
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/demo"
)

// BenchmarkHowItBehaves is the whole round trip of a change on the page of a
// stove's behaviour with two settings, over loopback with the database behind
// it; its floor is the two simulated burns alone, in the same run.
func BenchmarkHowItBehaves(b *testing.B) {
	s := newSite(b, true)
	s.signIn()
	path := s.url + "/stoves/1/behaves?part=1&outdoor=2+C&pieces=4&wood=1&direction=end-on&air=a+quarter&other-wood=2&other-pieces=3&other-direction=sideways&other-air=half"
	for b.Loop() {
		resp, err := s.client.Get(path)
		require.NoError(b, err)
		require.Equal(b, http.StatusOK, resp.StatusCode)
		_, _ = io.Copy(io.Discard, resp.Body)
		_ = resp.Body.Close()
	}
	trip := b.Elapsed() / time.Duration(b.N)

	st, stacks := demo.Stoves()[0], demo.Stacks()
	begin := time.Now()
	for range b.N {
		for i := range 2 {
			w := plan.Wish{Stove: st.Stove, House: st.Space.House, Outdoor: 2, Room: 18, Wood: plan.Pick{ID: 1, Stack: stacks[i]}}
			setup, steps := w.Trial(4-i, "end-on", 0.25)
			fire.Run(setup, steps, fire.Options{Until: 10 * time.Hour, StopAtEnd: true})
		}
	}
	floor := time.Since(begin) / time.Duration(b.N)
	b.ReportMetric(float64(trip.Microseconds())/1e3, "ms/round-trip")
	b.ReportMetric(float64(trip)/float64(floor), "×floor")
}
