package store

import (
	"context"
	"database/sql"
	"time"

	"smolder/internal/core/units"
)

// Lately is what the household's burns of some weeks came to.
type Lately struct {
	Burns      int
	Used       float64         // kg, as it was put on
	Heat       float64         // J, to the rooms
	Efficiency float64         // the mean, by wood used; 0: there was none
	LitAt      [24]float64     // kg, by the hour of the household's clock at which it was lit
	Outdoor    map[int]float64 // °C, the mean at the burns of each week, counted from the first
}

// A Span is between two moments: from the first until, and without, the second.
type Span struct{ From, To time.Time }

// bounds are spans as two lists, as the database takes them.
func bounds(spans []Span) (from, to []time.Time) {
	for _, s := range spans {
		from, to = append(from, s.From), append(to, s.To)
	}
	return from, to
}

// Lately adds up the burns of each span, by what is kept of each; zone is that of the
// household.
func (h Household) Lately(ctx context.Context, spans []Span, zone string) ([]Lately, error) {
	h = h.past()
	var rows []struct {
		Span    int               `db:"span"` // counted from 1
		Week    int               `db:"week"`
		Hour    int               `db:"hour"`
		Burns   int               `db:"burns"`
		Used    float64           `db:"used"`
		Heat    float64           `db:"heat"`
		ByWood  float64           `db:"by_wood"`
		Outdoor sql.Null[float64] `db:"outdoor"`
		Told    int               `db:"told"`
	}
	from, to := bounds(spans)
	err := h.db.SelectContext(ctx, &rows, `
		SELECT s.n AS span, CAST(floor(extract(epoch FROM r.started - s.low) / 604800) AS int) AS week,
		       CAST(extract(hour FROM r.started AT TIME ZONE $4) AS int) AS hour,
		       count(*) AS burns, sum(r.used) AS used, sum(r.heat) AS heat, sum(r.used * r.efficiency) AS by_wood,
		       CAST(avg(r.outdoor) AS double precision) AS outdoor, count(r.outdoor) AS told
		FROM unnest(CAST($2 AS timestamptz[]), CAST($3 AS timestamptz[])) WITH ORDINALITY AS s (low, high, n)
		JOIN reviews r ON r.household_id = $1 AND r.started >= s.low AND r.started < s.high AND r.simulated
		JOIN burns b ON b.household_id = r.household_id AND b.id = r.burn_id AND b.removed_at IS NULL AND b.ended IS NOT NULL
		GROUP BY 1, 2, 3
		ORDER BY 1, 2, 3`, h.id, from, to, zone)
	out := make([]Lately, len(spans))
	byWood, told := make([]float64, len(spans)), make([]map[int]float64, len(spans))
	for i := range out {
		out[i].Outdoor, told[i] = map[int]float64{}, map[int]float64{}
	}
	for _, r := range rows {
		l := &out[r.Span-1]
		l.Burns, l.Used, l.Heat = l.Burns+r.Burns, l.Used+r.Used, l.Heat+r.Heat
		byWood[r.Span-1] += r.ByWood
		l.LitAt[r.Hour] += r.Used
		if r.Outdoor.Valid {
			l.Outdoor[r.Week] += r.Outdoor.V * float64(r.Told)
			told[r.Span-1][r.Week] += float64(r.Told)
		}
	}
	for i := range out {
		for week, n := range told[i] {
			out[i].Outdoor[week] /= n
		}
		if out[i].Used > 0 {
			out[i].Efficiency = byWood[i] / out[i].Used
		}
	}
	return out, err
}

// A Logged is the wood that was logged as put on in a span, of one kind and wetness.
type Logged struct {
	Burns int
	Woods []LoggedWood
}

// A LoggedWood is a part of it.
type LoggedWood struct {
	Gross    float64        // MJ/kg, oven-dry
	Moisture units.Fraction // of dry wood
	Dry      units.Kilogram // oven-dry
}

// WoodLogged adds up the loads of burns that are over, kindling among them and mineral fuel
// not, for each span: what was put on, whatever became of it. Loads from what a stack of the
// given name stands for are left out: they were put on before.
func (h Household) WoodLogged(ctx context.Context, spans []Span, without string) ([]Logged, error) {
	h = h.past()
	var rows []struct {
		Span     int               `db:"span"` // counted from 1
		Gross    sql.Null[float64] `db:"gross"`
		Moisture float64           `db:"moisture"`
		Dry      float64           `db:"dry"`
		Burns    int               `db:"burns"` // of the span, in its one row without a wood
	}
	from, to := bounds(spans)
	err := h.db.SelectContext(ctx, &rows, `
		WITH put AS (
		    SELECT s.n AS span, e.burn_id, e.load_dry, CAST(e.doc->'load'->'species'->>'Gross' AS double precision) AS gross,
		           COALESCE(CAST(e.doc->'load'->>'moisture' AS double precision), 0) AS moisture
		    FROM unnest(CAST($2 AS timestamptz[]), CAST($3 AS timestamptz[])) WITH ORDINALITY AS s (low, high, n)
		    JOIN entries e ON e.household_id = $1 AND e.kind = 'load' AND e.counts AND e.at >= s.low AND e.at < s.high
		    JOIN burns b ON b.household_id = e.household_id AND b.id = e.burn_id
		    WHERE b.removed_at IS NULL AND b.ended IS NOT NULL AND e.doc->'load'->>'stack' IS DISTINCT FROM $4
		)
		SELECT span, gross, moisture, sum(load_dry) AS dry, 0 AS burns
		FROM put
		WHERE gross IS NOT NULL
		GROUP BY 1, 2, 3
		UNION ALL
		SELECT span, NULL, 0, 0, count(DISTINCT burn_id)
		FROM put
		GROUP BY span
		ORDER BY 1, 2, 3`, h.id, from, to, without)
	out := make([]Logged, len(spans))
	for _, r := range rows {
		l := &out[r.Span-1]
		if !r.Gross.Valid {
			l.Burns = r.Burns
			continue
		}
		l.Woods = append(l.Woods, LoggedWood{r.Gross.V, units.Fraction(r.Moisture), units.Kilogram(r.Dry)})
	}
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
	h = h.past()
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
	h = h.past()
	var rows []TakenWeek
	err := h.db.SelectContext(ctx, &rows, `
		SELECT CAST(floor(extract(epoch FROM e.at - $2) / 604800) AS int) AS week, e.stack_id,
		       sum(e.load_dry) AS dry
		FROM entries e
		JOIN burns b ON b.household_id = e.household_id AND b.id = e.burn_id
		WHERE e.household_id = $1 AND e.kind = 'load' AND e.counts AND e.stack_id IS NOT NULL AND b.removed_at IS NULL
		  AND e.at >= $2 AND e.at < $3
		GROUP BY 1, 2
		ORDER BY 1, 2`, h.id, from, to)
	return rows, err
}
