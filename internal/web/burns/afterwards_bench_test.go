package burns_test

import (
	"net/http"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"smolder/internal/app/reviewing"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/web/webtest"
)

// aDay is a burn of a day whose six gauges report every second: half a million readings.
func aDay(b *testing.B, s *webtest.Site) int64 {
	b.Helper()
	h := s.Store.Household(1)
	stoves, err := h.Stoves(b.Context())
	require.NoError(b, err)
	st := stoves[0]
	began := s.Clock.At.Add(-48 * time.Hour)
	id, err := h.StartBurn(b.Context(), st.ID, "a day", burn.Burn{Stove: st.Stove, House: st.Space.House, Room: 17, Outdoor: 3, Started: began,
		Ended: began.Add(24 * time.Hour), Wanted: [2]float64{19, 21.5}, Entries: []burn.Entry{{ID: "lit", At: began, Kind: burn.Light}}}, nil)
	require.NoError(b, err)
	_, err = s.Store.DB().Exec(`
		CREATE TABLE reported_day PARTITION OF reported FOR VALUES FROM ('2026-04-01') TO ('2026-05-01')`)
	require.NoError(b, err)
	_, err = s.Store.DB().Exec(`
		INSERT INTO reported (household_id, stove_id, at, place, value)
		SELECT 1, $1, CAST($2 AS timestamptz) + n * interval '1 second', place, 200 + 100 * sin(n / 3000.0)
		FROM generate_series(0, 86399) AS n, unnest(ARRAY['connector-probe', 'top', 'room', 'connector-surface', 'firebox', 'draft']) AS place`, st.ID, began)
	require.NoError(b, err)
	_, err = s.Store.DB().Exec(`ANALYZE reported`)
	require.NoError(b, err)
	return id
}

// BenchmarkABurnOfHalfAMillionReadings opens the page of a burn of a day at one reading a
// second of six gauges; its floor is the bare SQL that takes from them what a strip shows.
func BenchmarkABurnOfHalfAMillionReadings(b *testing.B) {
	s := webtest.New(b, true)
	s.SignIn()
	id := aDay(b, s)
	w := &reviewing.Worker{Store: s.Store}
	require.NoError(b, w.One(b.Context(), s.Store.Household(1), id))
	bare := func(from, to time.Duration) func() {
		began := s.Clock.At.Add(-48 * time.Hour)
		return func() {
			_, err := s.Store.Household(1).ReportedIn(b.Context(), 1, began.Add(from), began.Add(to))
			require.NoError(b, err)
		}
	}
	path := "/burns/" + strconv.FormatInt(id, 10)
	b.Run("all-of-it", func(b *testing.B) { webtest.AgainstFloor(b, s, path, bare(0, 24*time.Hour)) })
	b.Run("an-hour", func(b *testing.B) {
		webtest.AgainstFloor(b, s, path+"?from=600&to=660", bare(599*time.Minute, 661*time.Minute))
	})
}

// BenchmarkTheSeason opens the season's page over ten years of 360 burns each; its floor is
// the same page over one year, so that ×floor says how it grows.
func BenchmarkTheSeason(b *testing.B) {
	one, ten := webtest.New(b, true), webtest.New(b, true)
	one.SignIn()
	ten.SignIn()
	for s, burns := range map[*webtest.Site]int{one: 360, ten: 3600} {
		_, err := s.Store.DB().Exec(`
			WITH b AS (
			     INSERT INTO burns (household_id, stove_id, title, spec, started, ended)
			     SELECT 1, 1 + n % 4, '', (SELECT spec FROM burns LIMIT 1), CAST($2 AS timestamptz) - n * interval '24 hours', CAST($2 AS timestamptz) - n * interval '24 hours' + interval '5 hours'
			     FROM generate_series(1, CAST($1 AS int)) AS n
			     RETURNING household_id, id, stove_id, started)
			INSERT INTO reviews (household_id, burn_id, stove_id, revision, made_by, whole, doc, started, cold, lay, species, wood, direction, moisture, outdoor,
			                     used, heat, smoke, smoke_per_kg, deposits, efficiency, cold_s, working_s, hot_s, smoulder_s, length_s, simulated)
			SELECT household_id, id, stove_id, 1, 1, true, '{}', started, true, 'top-down', 'beech', 'Beech', 'end-on', 0.17, 4, 8, 9e7, 60, 8, 4, 0.75, 900, 9000, 0, 300, 18000, true
			FROM b`, burns, s.Clock.At.AddDate(0, 0, -1))
		require.NoError(b, err)
		_, err = s.Store.DB().Exec(`ANALYZE`)
		require.NoError(b, err)
	}
	webtest.AgainstFloor(b, ten, "/season", func() { webtest.Fetch(b, one, "/season") })
}

// BenchmarkTriedOtherwise asks what would have been once a burn is looked back at; its floor
// is to burn it once in as many worlds.
func BenchmarkTriedOtherwise(b *testing.B) {
	s := webtest.New(b, true)
	s.SignIn()
	path := webtest.Between(s.Get("/burns?stove=1").Body, `href="/burns/`, `"`)
	id, err := strconv.ParseInt(strings.TrimSpace(path), 10, 64)
	require.NoError(b, err)
	was, err := s.Store.Household(1).Burn(b.Context(), id)
	require.NoError(b, err)
	last := ""
	for e := range was.NotReadings() {
		if e.Kind == burn.Control {
			last = e.ID
		}
	}
	minute := 0
	began := time.Now()
	require.Equal(b, http.StatusOK, s.Get("/burns/"+path+"/otherwise").Status)
	first := time.Since(began)
	setup, moves := was.Setup(), was.Steps()
	for b.Loop() {
		minute++
		webtest.Fetch(b, s, "/burns/"+path+"/otherwise?part=1&e=later:"+last+":"+strconv.Itoa(1+minute%30))
	}
	trip := b.Elapsed() / time.Duration(b.N)
	began = time.Now()
	for range b.N {
		parallel.InParallel(24, func(int) {
			fire.Run(setup, moves, fire.Options{Until: was.Ended.Sub(was.Started) + 90*time.Minute, Every: 2 * time.Minute, Step: 8 * time.Second,
				Coarse: true, Watch: blind{}})
		})
	}
	floor := time.Since(began) / time.Duration(b.N)
	b.ReportMetric(float64(first.Milliseconds()), "ms/first")
	b.ReportMetric(float64(trip.Microseconds())/1e3, "ms/change")
	b.ReportMetric(float64(trip)/float64(floor), "×floor")
}

type blind struct{}

func (blind) See(*fire.Fire) {}

func (blind) Fork() fire.Watcher { return blind{} }
