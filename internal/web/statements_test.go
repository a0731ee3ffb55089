package web_test

import (
	"context"
	"fmt"
	"net/http"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/store"
	"smolder/internal/storetest"
	"smolder/internal/web/webtest"
)

// manyWinters makes of Tarn Mill's burns some 3,250, each with its log, its review and what
// its owner saw: ten winters' worth.
func manyWinters(ctx context.Context, s *store.Store) error {
	for _, statement := range []string{`
		CREATE TEMPORARY TABLE copies AS
		SELECT b.id AS old, n, nextval(pg_get_serial_sequence('burns', 'id')) AS new
		FROM burns b, generate_series(1, (SELECT 3250 / count(*) FROM burns)) AS n
		WHERE b.ended IS NOT NULL AND b.removed_at IS NULL`, `
		INSERT INTO burns (household_id, id, stove_id, title, spec, plan, started, ended, revision)
		OVERRIDING SYSTEM VALUE
		SELECT household_id, c.new, stove_id, title, spec, plan, started - n * interval '35 days', ended - n * interval '35 days', revision
		FROM copies c JOIN burns b ON b.id = c.old`, `
		INSERT INTO entries (household_id, burn_id, id, at, kind, doc, stack_id, load_mass, load_dry, corrects, undone_at, counts)
		SELECT household_id, c.new, e.id, at - n * interval '35 days', kind, doc, stack_id, load_mass, load_dry, corrects, undone_at, counts
		FROM copies c JOIN entries e ON e.burn_id = c.old`, `
		INSERT INTO readings (household_id, burn_id, id, at, place, reading, typed, corrects, undone_at, counts)
		SELECT household_id, c.new, r.id, at - n * interval '35 days', place, reading, typed, corrects, undone_at, counts
		FROM copies c JOIN readings r ON r.burn_id = c.old`, `
		INSERT INTO reviews (household_id, burn_id, stove_id, revision, made_by, whole, doc, started, cold, lay, species, wood, direction, moisture, outdoor,
		                     used, heat, smoke, smoke_per_kg, deposits, efficiency, cold_s, working_s, hot_s, smoulder_s, length_s, simulated, pens)
		SELECT household_id, c.new, stove_id, revision, made_by, whole, doc, started - n * interval '35 days', cold, lay, species, wood, direction, moisture, outdoor,
		       used, heat, smoke, smoke_per_kg, deposits, efficiency, cold_s, working_s, hot_s, smoulder_s, length_s, simulated, pens
		FROM copies c JOIN reviews r ON r.burn_id = c.old`, `
		INSERT INTO eyes (household_id, burn_id, doc)
		SELECT household_id, c.new, doc FROM copies c JOIN eyes e ON e.burn_id = c.old`, `
		ANALYZE`,
	} {
		if _, err := s.DB().ExecContext(ctx, statement); err != nil {
			return fmt.Errorf("%w: %s", err, statement)
		}
	}
	return nil
}

// TestStatementsOfEveryPage asks every page of a household with ten winters behind it and
// counts what it asks the database: no page may ask for a thing twice, or for each of many.
func TestStatementsOfEveryPage(t *testing.T) {
	s, counter := newCountedSite(t)
	s.SignIn()
	live, _ := s.Begun(webtest.ColdEvening)
	caps := []struct {
		path string
		most int // statements, of which five are of every page: who asks, and what endangers
	}{
		{"/", 24}, {live + "/live", 13}, {live + "/live?part=1", 13}, {live, 14}, {"/plan", 19}, {"/plan/day", 18}, // what is in the stoves, and who is there at this hour
		{"/burns", 10}, {"/burns/1", 15}, {"/burns/compare", 9}, {"/season", 10},
		{"/wood", 18}, {"/wood/1", 12}, {"/wood/winter", 16}, {"/wood/next", 15}, {"/wood/basket", 18}, {"/wood/trip", 10}, {"/wood/offer", 6},
		{"/stoves", 9}, {"/stoves/1", 9}, {"/stoves/1/known", 10}, {"/stoves/1/edit", 8}, {"/stoves/1/behaves", 11}, {"/spaces/1", 8},
		{"/upkeep", 13}, {"/upkeep/calendar.ics", 8}, {"/household", 10}, {"/stove", 4},
		{"/practice", 10}, {"/practice/settings", 11}, {"/practice/through?burn=1", 11}, {"/shares", 8}, {"/trouble", 12},
		{"/burns/logbook.json", 320}, // of 3,256 burns, 64 at a time
	}
	for _, c := range caps {
		first := s.Get(c.path)
		require.Less(t, first.Status, http.StatusBadRequest, c.path)
		counter.Since()
		begin := time.Now()
		got := s.Get(c.path)
		took := time.Since(begin)
		all := counter.Since()
		assert.LessOrEqual(t, len(all), c.most, c.path)
		if c.most < 100 {
			assert.Empty(t, twice(all), "%s asks for a thing twice", c.path)
		}
		t.Logf("%-28s %4d statements %6.0f ms %7.0f kB", c.path, len(all), took.Seconds()*1e3, float64(len(got.Body))/1024)
		if strings.Contains(" "+os.Getenv("SMOLDER_STATEMENTS")+" ", " "+c.path+" ") {
			counts := map[string]int{}
			for _, q := range all {
				counts[q.SQL]++
			}
			var lines []string
			for q, n := range counts {
				lines = append(lines, fmt.Sprintf("%5d %.160s", n, q))
			}
			slices.Sort(lines)
			t.Log("\n" + strings.Join(lines, "\n"))
		}
	}
}

// twice are the statements that were sent more than once.
func twice(all []storetest.Statement) (again []string) {
	counts := map[storetest.Statement]int{}
	for _, q := range all {
		if counts[q] == 1 {
			again = append(again, q.SQL)
		}
		counts[q]++
	}
	return again
}

func newCountedSite(t *testing.T) (*webtest.Site, *storetest.Counter) {
	counter := &storetest.Counter{}
	return webtest.With(t, &storetest.Template{Name: "smolder_many_winters", Over: &webtest.TarnMill, Fill: manyWinters}, store.Traced(counter)), counter
}
