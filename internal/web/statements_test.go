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
		most int
	}{
		{"/", 60}, {live + "/live", 60}, {live + "/live?part=1", 60}, {live, 60}, {"/plan", 60}, {"/plan/day", 60}, {"/burns", 60}, {"/burns/1", 60}, {"/burns/compare", 60}, {"/season", 60},
		{"/wood", 60}, {"/wood/1", 60}, {"/wood/winter", 60}, {"/wood/next", 60}, {"/wood/basket", 60}, {"/wood/trip", 60}, {"/wood/offer", 60}, {"/stoves", 60}, {"/stoves/1", 60}, {"/stoves/1/known", 60}, {"/stoves/1/edit", 60},
		{"/stoves/1/behaves", 60}, {"/spaces/1", 60}, {"/upkeep", 60}, {"/upkeep/calendar.ics", 60}, {"/household", 60}, {"/stove", 60},
		{"/burns/logbook.json", 40},
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
		t.Logf("%-28s %4d statements %6.0f ms %7.0f kB", c.path, len(all), took.Seconds()*1e3, float64(len(got.Body))/1024)
		if strings.Contains(" "+os.Getenv("SMOLDER_STATEMENTS")+" ", " "+c.path+" ") {
			counts := map[string]int{}
			for _, q := range all {
				counts[strings.Join(strings.Fields(q), " ")]++
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

func newCountedSite(t *testing.T) (*webtest.Site, *storetest.Counter) {
	counter := &storetest.Counter{}
	return webtest.With(t, &storetest.Template{Name: "smolder_many_winters", Over: &webtest.TarnMill, Fill: manyWinters}, store.Traced(counter)), counter
}
