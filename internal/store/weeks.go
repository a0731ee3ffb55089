package store

import (
	"context"
	"database/sql"
	"time"
)

// A Week is what one stove's burns of one week came to.
type Week struct {
	Monday   time.Time         `db:"monday"` // in the household's zone, as midnight in UTC
	Stove    int64             `db:"stove_id"`
	Burns    int               `db:"burns"`
	Used     float64           `db:"used"`     // kg
	Heat     float64           `db:"heat"`     // J
	Smoke    float64           `db:"smoke"`    // g
	Smoulder float64           `db:"smoulder"` // s
	Working  float64           `db:"working"`  // s
	Hot      float64           `db:"hot"`      // s
	Deposits float64           `db:"deposits"` // g
	Outdoor  sql.Null[float64] `db:"outdoor"`  // °C, the mean of its burns
	Days     int               `db:"days"`     // with a burn
}

// Weeks adds up what burns came to, by week and stove, between two moments; zone is that
// of the household. It reads what is kept of those burns and nothing of any other.
func (h Household) Weeks(ctx context.Context, from, to time.Time, zone string) ([]Week, error) {
	h = h.past()
	var out []Week
	err := h.db.SelectContext(ctx, &out, `
		SELECT CAST(date_trunc('week', r.started AT TIME ZONE $4) AS timestamp) AT TIME ZONE 'UTC' AS monday, r.stove_id, count(*) AS burns,
		       sum(r.used) AS used, sum(r.heat) AS heat, sum(r.smoke) AS smoke, sum(r.smoulder_s) AS smoulder, sum(r.working_s) AS working,
		       sum(r.hot_s) AS hot, sum(r.deposits) AS deposits, CAST(avg(r.outdoor) AS double precision) AS outdoor,
		       count(DISTINCT date_trunc('day', r.started AT TIME ZONE $4)) AS days
		FROM reviews r
		JOIN burns b ON b.household_id = r.household_id AND b.id = r.burn_id AND b.removed_at IS NULL AND b.ended IS NOT NULL
		WHERE r.household_id = $1 AND r.started >= $2 AND r.started < $3
		GROUP BY 1, 2
		ORDER BY 1, 2`, h.id, from, to, zone)
	return out, err
}

// FirstBurn is when the household's first burn was lit; the zero time where there is none.
func (h Household) FirstBurn(ctx context.Context) (time.Time, error) {
	var at sql.Null[time.Time]
	err := h.db.GetContext(ctx, &at, `
		SELECT min(started)
		FROM burns
		WHERE household_id = $1 AND removed_at IS NULL`, h.id)
	return at.V, err
}
