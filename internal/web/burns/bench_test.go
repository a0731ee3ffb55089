package burns_test

import (
	"io"
	"net/http"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"smolder/internal/core/behave"
	"smolder/internal/core/fire"
	"smolder/internal/core/wish"
	"smolder/internal/demo"
	"smolder/internal/web/webtest"
)

// BenchmarkHowItBehaves is the whole round trip of a change on the page of a
// stove's behaviour with two settings, over loopback with the database behind
// it; its floor is the two simulated burns alone, in the same run.
func BenchmarkHowItBehaves(b *testing.B) {
	s := webtest.New(b, true)
	s.SignIn()
	path := s.URL + "/stoves/1/behaves?part=1&outdoor=2+C&pieces=4&wood=1&direction=end-on&air=a+quarter&other-wood=2&other-pieces=3&other-direction=sideways&other-air=half"
	for b.Loop() {
		resp, err := s.Client.Get(path)
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
			w := wish.Wish{Stove: st.Stove, House: st.Space.House, Outdoor: 2, Room: 18, Wood: wish.Pick{ID: 1, Stack: stacks[i]}}
			setup, steps := behave.Trial(w, 4-i, "end-on", 0.25)
			fire.Run(setup, steps, fire.Options{Until: 10 * time.Hour, StopAtEnd: true})
		}
	}
	floor := time.Since(begin) / time.Duration(b.N)
	b.ReportMetric(float64(trip.Microseconds())/1e3, "ms/round-trip")
	b.ReportMetric(float64(trip)/float64(floor), "×floor")
}

// BenchmarkABurnOfManyEntries opens a burn of 50,000 entries; its floor is to
// fetch its entries from the database, in the same run.
func BenchmarkABurnOfManyEntries(b *testing.B) {
	s := webtest.New(b, true)
	s.SignIn()
	path := webtest.LargeBurn(b, s, 50_000)
	id, err := strconv.ParseInt(strings.TrimPrefix(path, "/burns/"), 10, 64)
	require.NoError(b, err)
	webtest.AgainstFloor(b, s, path, func() {
		_, err := s.Store.Household(1).Burn(b.Context(), id)
		require.NoError(b, err)
	})
}

// BenchmarkTheFirstPage opens the first page of a household with 3,600 burns;
// its floor is the first page of one with the demo's few, in the same run.
func BenchmarkTheFirstPage(b *testing.B) { manyBurns(b, "/") }

// BenchmarkTheListOfBurns is the same of the list.
func BenchmarkTheListOfBurns(b *testing.B) { manyBurns(b, "/burns") }

func manyBurns(b *testing.B, path string) {
	few, many := webtest.New(b, true), webtest.New(b, true)
	few.SignIn()
	many.SignIn()
	_, err := many.Store.DB().Exec(`
		INSERT INTO burns (household_id, stove_id, title, spec, started, ended, plan)
		SELECT household_id, stove_id, title, spec, started - n * interval '3 hours' - interval '400 days', ended - n * interval '3 hours' - interval '400 days', plan
		FROM burns, generate_series(1, 60) AS n`)
	require.NoError(b, err)
	_, err = many.Store.DB().Exec(`
		INSERT INTO entries (household_id, burn_id, id, at, kind, doc, stack_id, load_mass, load_dry)
		SELECT b.household_id, b.id, 'many-' || n, b.started + n * interval '9 minutes', 'load', '{}', NULL, 1.3, 1.1
		FROM burns b, generate_series(1, 30) AS n`)
	require.NoError(b, err)
	webtest.AgainstFloor(b, many, path, func() { webtest.Fetch(b, few, path) })
}
