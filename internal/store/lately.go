package store

import (
	"context"
	"database/sql"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// Lately is what the household's burns of some weeks came to.
type Lately struct {
	Burns      int
	Used       float64         // kg, as it was put on
	Heat       float64         // J, to the rooms
	Efficiency float64         // the mean, by wood used; 0: there was none
	Hours      [4]float64      // kg lit in the morning (5 to 11), by day, in the evening (17 to 21), at night
	Outdoor    map[int]float64 // °C, the mean at the burns of each week, counted from the first
}

// Lately adds up the burns between two moments, by what is kept of each; zone is that of
// the household.
func (h Household) Lately(ctx context.Context, from, to time.Time, zone string) (Lately, error) {
	var rows []struct {
		Week    int               `db:"week"`
		Hours   int               `db:"hours"`
		Burns   int               `db:"burns"`
		Used    float64           `db:"used"`
		Heat    float64           `db:"heat"`
		ByWood  float64           `db:"by_wood"`
		Outdoor sql.Null[float64] `db:"outdoor"`
		Told    int               `db:"told"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		WITH lit AS (
		    SELECT r.*, CAST(extract(hour FROM r.started AT TIME ZONE $4) AS int) AS hour
		    FROM reviews r
		    JOIN burns b ON b.household_id = r.household_id AND b.id = r.burn_id AND b.removed_at IS NULL AND b.ended IS NOT NULL
		    WHERE r.household_id = $1 AND r.started >= $2 AND r.started < $3 AND r.simulated
		)
		SELECT CAST(floor(extract(epoch FROM started - $2) / 604800) AS int) AS week,
		       CASE WHEN hour BETWEEN 5 AND 10 THEN 0 WHEN hour BETWEEN 11 AND 16 THEN 1 WHEN hour BETWEEN 17 AND 20 THEN 2 ELSE 3 END AS hours,
		       count(*) AS burns, sum(used) AS used, sum(heat) AS heat, sum(used * efficiency) AS by_wood,
		       CAST(avg(outdoor) AS double precision) AS outdoor, count(outdoor) AS told
		FROM lit
		GROUP BY 1, 2
		ORDER BY 1, 2`, h.id, from, to, zone)
	out := Lately{Outdoor: map[int]float64{}}
	told, byWood := map[int]float64{}, 0.0
	for _, r := range rows {
		out.Burns, out.Used, out.Heat, byWood = out.Burns+r.Burns, out.Used+r.Used, out.Heat+r.Heat, byWood+r.ByWood
		out.Hours[r.Hours] += r.Used
		if r.Outdoor.Valid {
			out.Outdoor[r.Week] += r.Outdoor.V * float64(r.Told)
			told[r.Week] += float64(r.Told)
		}
	}
	for week, n := range told {
		out.Outdoor[week] /= n
	}
	if out.Used > 0 {
		out.Efficiency = byWood / out.Used
	}
	return out, err
}

// A Logged is the wood that was logged as put on between two moments.
type Logged struct {
	Burns  int
	Dry    float64 // kg, oven-dry
	Energy float64 // J, net, as wet as it was
}

// WoodLogged adds up the loads of burns that are over, kindling among them and mineral fuel
// not: what was put on, whatever became of it.
func (h Household) WoodLogged(ctx context.Context, from, to time.Time) (out Logged, err error) {
	var rows []struct {
		Gross    float64 `db:"gross"` // MJ/kg, oven-dry
		Moisture float64 `db:"moisture"`
		Dry      float64 `db:"dry"`
	}
	const loads = `
		    SELECT e.burn_id, e.load_mass, CAST(e.doc->'load'->'species'->>'Gross' AS double precision) AS gross,
		           COALESCE(CAST(e.doc->'load'->>'moisture' AS double precision), 0) AS moisture
		    FROM entries e
		    JOIN burns b ON b.household_id = e.household_id AND b.id = e.burn_id
		    WHERE e.household_id = $1 AND e.kind = 'load' AND e.counts AND e.at >= $2 AND e.at < $3
		      AND b.removed_at IS NULL AND b.ended IS NOT NULL AND e.doc->'load'->>'stack' IS DISTINCT FROM $4`
	if err = h.db.SelectContext(ctx, &rows, `
		WITH put AS (`+loads+`)
		SELECT gross, moisture, sum(load_mass / (1 + moisture)) AS dry
		FROM put
		WHERE gross IS NOT NULL
		GROUP BY 1, 2
		ORDER BY 1, 2`, h.id, from, to, fire.LeftOver); err != nil {
		return out, err
	}
	for _, r := range rows {
		out.Dry += r.Dry
		out.Energy += wood.NetEnergy(r.Gross, units.Fraction(r.Moisture)) * r.Dry * (1 + r.Moisture) * 1e6
	}
	err = h.db.GetContext(ctx, &out.Burns, `SELECT count(DISTINCT burn_id) FROM (`+loads+`) AS put`, h.id, from, to, fire.LeftOver)
	return out, err
}

// An OutdoorWeek is what it was outside at the burns of one week.
type OutdoorWeek struct {
	At  time.Time `db:"at"`  // the mean of when they were lit
	Air float64   `db:"air"` // °C, the mean of them
}

// OutdoorWeeks is what it was outside, week by week, at the burns since a moment of which
// somebody said it.
func (h Household) OutdoorWeeks(ctx context.Context, since time.Time) ([]OutdoorWeek, error) {
	var rows []OutdoorWeek
	err := h.db.SelectContext(ctx, &rows, `
		SELECT to_timestamp(avg(extract(epoch FROM r.started))) AS at, CAST(avg(r.outdoor) AS double precision) AS air
		FROM reviews r
		JOIN burns b ON b.household_id = r.household_id AND b.id = r.burn_id AND b.removed_at IS NULL
		WHERE r.household_id = $1 AND r.started >= $2 AND r.outdoor IS NOT NULL
		GROUP BY date_trunc('week', r.started)
		ORDER BY 1`, h.id, since)
	return rows, err
}

// Sticks is how many pieces of kindling a fire is lit with, the mean of the burns between two
// moments that had any, of one stove or of all (0); 0 where none had.
func (h Household) Sticks(ctx context.Context, stove int64, from, to time.Time) (float64, error) {
	var n float64
	err := h.db.GetContext(ctx, &n, `
		WITH lit AS (
		    SELECT e.burn_id, sum(CAST(e.doc->'load'->>'pieces' AS int)) AS pieces
		    FROM entries e
		    JOIN burns b ON b.household_id = e.household_id AND b.id = e.burn_id
		    WHERE e.household_id = $1 AND e.kind = 'load' AND e.counts AND b.removed_at IS NULL
		      AND CAST(e.doc->'load'->>'kindling' AS boolean) AND e.at >= $2 AND e.at < $3
		      AND ($4 = 0 OR b.stove_id = $4)
		    GROUP BY e.burn_id
		)
		SELECT COALESCE(CAST(avg(pieces) AS double precision), 0) FROM lit`, h.id, from, to, stove)
	return n, err
}

// A TakenWeek is oven-dry wood logged as taken from a stack in one week.
type TakenWeek struct {
	Week  int     `db:"week"` // counted from the first
	Stack int64   `db:"stack_id"`
	Dry   float64 `db:"dry"` // kg
}

// Taken is what was taken from stacks between two moments, week by week.
func (h Household) Taken(ctx context.Context, from, to time.Time) ([]TakenWeek, error) {
	var rows []TakenWeek
	err := h.db.SelectContext(ctx, &rows, `
		SELECT CAST(floor(extract(epoch FROM e.at - $2) / 604800) AS int) AS week, e.stack_id,
		       sum(e.load_mass / (1 + COALESCE(CAST(e.doc->'load'->>'moisture' AS double precision), 0))) AS dry
		FROM entries e
		JOIN burns b ON b.household_id = e.household_id AND b.id = e.burn_id
		WHERE e.household_id = $1 AND e.kind = 'load' AND e.counts AND e.stack_id IS NOT NULL AND b.removed_at IS NULL
		  AND e.at >= $2 AND e.at < $3
		GROUP BY 1, 2
		ORDER BY 1, 2`, h.id, from, to)
	return rows, err
}
