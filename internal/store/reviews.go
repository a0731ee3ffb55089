package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"

	"smolder/internal/core/learn"
	"smolder/internal/core/review"
	"smolder/internal/core/ways"
	"smolder/internal/form"
)

// A Reviewed is a burn's review as it is kept.
type Reviewed struct {
	Burn     int64                  `db:"burn_id"`
	Stove    int64                  `db:"stove_id"`
	Started  time.Time              `db:"started"`
	Revision int64                  `db:"revision"`
	MadeBy   int                    `db:"made_by"`
	Whole    bool                   `db:"whole"`
	Doc      derived[review.Review] `db:"doc"`
	Eye      derived[form.Eye]      `db:"eye"` // what its owner saw, with lists of reviews
}

// Review is what the burn came to.
func (r Reviewed) Review() review.Review { return r.Doc.V }

// Burn is it as burns are compared, with its hour in a zone.
func (r Reviewed) Compared(zone *time.Location) ways.Burn {
	return ways.Burn{Review: r.Doc.V, Eye: r.Eye.V.Core(), Lit: r.Started.In(zone)}
}

// KeepReview keeps what a burn came to, in place of what was kept before; one of an older
// revision of the burn does not take the place of a newer.
func (h Household) KeepReview(ctx context.Context, b Burn, whole bool, r review.Review) error {
	text, err := json.Marshal(r)
	if err != nil {
		return err
	}
	pens, err := pensOf(b.Burn)
	if err != nil {
		return err
	}
	outdoor := sql.Null[float64]{V: float64(b.Outdoor), Valid: !b.OutdoorUnknown}
	w := r.Way
	_, err = h.db.ExecContext(ctx, `
		INSERT INTO reviews (household_id, burn_id, stove_id, revision, made_by, whole, doc, started, cold, lay, species, wood, direction, moisture, outdoor,
		                     used, heat, smoke, smoke_per_kg, deposits, efficiency, cold_s, working_s, hot_s, smoulder_s, length_s, simulated, pens)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20, $21, $22, $23, $24, $25, $26, $27, $28)
		ON CONFLICT (household_id, burn_id) DO UPDATE
		SET (stove_id, revision, made_by, whole, doc, started, cold, lay, species, wood, direction, moisture, outdoor,
		     used, heat, smoke, smoke_per_kg, deposits, efficiency, cold_s, working_s, hot_s, smoulder_s, length_s, simulated, pens)
		  = (EXCLUDED.stove_id, EXCLUDED.revision, EXCLUDED.made_by, EXCLUDED.whole, EXCLUDED.doc, EXCLUDED.started, EXCLUDED.cold, EXCLUDED.lay,
		     EXCLUDED.species, EXCLUDED.wood, EXCLUDED.direction, EXCLUDED.moisture, EXCLUDED.outdoor, EXCLUDED.used, EXCLUDED.heat, EXCLUDED.smoke,
		     EXCLUDED.smoke_per_kg, EXCLUDED.deposits, EXCLUDED.efficiency, EXCLUDED.cold_s, EXCLUDED.working_s, EXCLUDED.hot_s, EXCLUDED.smoulder_s,
		     EXCLUDED.length_s, EXCLUDED.simulated, EXCLUDED.pens)
		WHERE reviews.revision <= EXCLUDED.revision`,
		h.id, b.ID, b.StoveID, b.Revision, review.Version, whole, string(text), b.Started, w.Cold, string(w.Lay), w.Species, w.Wood, string(w.Direction),
		float64(w.Moisture), outdoor, float64(r.Used), float64(r.HeatMiddle), r.Smoke, r.SmokePerKg, r.Settled(), float64(r.EffLow+r.EffHigh)/2,
		r.Cold.Seconds(), r.Working.Seconds(), r.TooHot.Seconds(), r.Smoulder.Seconds(), r.Length.Seconds(), r.Simulated, pens)
	return err
}

const selectReviews = `
	SELECT r.burn_id, r.stove_id, r.started, r.revision, r.made_by, r.whole, r.doc, COALESCE(e.doc, '{}') AS eye
	FROM reviews r
	JOIN burns b ON b.household_id = r.household_id AND b.id = r.burn_id AND b.removed_at IS NULL AND b.ended IS NOT NULL
	LEFT JOIN eyes e ON e.household_id = r.household_id AND e.burn_id = r.burn_id
	WHERE r.household_id = $1`

// ReviewOf is what a burn came to; there may be none yet, which is [ErrMissing].
func (h Household) ReviewOf(ctx context.Context, burnID int64) (Reviewed, error) {
	var r Reviewed
	err := h.db.GetContext(ctx, &r, `
		SELECT burn_id, stove_id, started, revision, made_by, whole, doc
		FROM reviews
		WHERE household_id = $1 AND burn_id = $2`, h.id, burnID)
	return r, orMissing(err)
}

// ReviewsBefore are the reviews of a stove's burns before a moment, the newest first.
func (h Household) ReviewsBefore(ctx context.Context, stoveID int64, before time.Time, most int) ([]Reviewed, error) {
	h = h.past()
	var out []Reviewed
	err := h.db.SelectContext(ctx, &out, selectReviews+` AND r.stove_id = $2 AND r.started < $3
	ORDER BY r.started DESC
	LIMIT $4`, h.id, stoveID, before, most)
	return out, err
}

// An Unreviewed is an ended burn of which there is no review, or only an old or a quick one.
type Unreviewed struct {
	Burn    int64     `db:"id"`
	Stove   int64     `db:"stove_id"`
	Started time.Time `db:"started"`
	Old     bool      `db:"old"` // none, or of how the burn was before; else it is only quick
}

// Unreviewed are a household's, the newest first.
func (h Household) Unreviewed(ctx context.Context) ([]Unreviewed, error) {
	var out []Unreviewed
	err := h.db.SelectContext(ctx, &out, `
		SELECT b.id, b.stove_id, b.started, r.burn_id IS NULL OR r.revision < b.revision OR r.made_by <> $2 AS old
		FROM burns b
		LEFT JOIN reviews r ON r.household_id = b.household_id AND r.burn_id = b.id
		WHERE b.household_id = $1 AND b.ended IS NOT NULL AND b.removed_at IS NULL
		  AND (r.burn_id IS NULL OR r.revision < b.revision OR r.made_by <> $2 OR NOT r.whole)
		ORDER BY b.started DESC`, h.id, review.Version)
	return out, err
}

// Behind are the households of which something is to be worked out: a burn without its
// whole review, or lessons that are not of the burns and changes as they stand.
func (s *Store) Behind(ctx context.Context) ([]int64, error) {
	var out []int64
	err := s.db.SelectContext(ctx, &out, `
		SELECT b.household_id
		FROM burns b
		LEFT JOIN reviews r ON r.household_id = b.household_id AND r.burn_id = b.id
		WHERE b.ended IS NOT NULL AND b.removed_at IS NULL
		  AND (r.burn_id IS NULL OR r.revision < b.revision OR r.made_by <> $1 OR NOT r.whole)
		UNION
		SELECT b.household_id
		FROM burns b
		JOIN stoves st ON st.household_id = b.household_id AND st.id = b.stove_id AND st.removed_at IS NULL
		LEFT JOIN lessons l ON l.household_id = b.household_id AND l.stove_id = b.stove_id AND l.burn_id = b.id
		WHERE b.ended IS NOT NULL AND (b.removed_at IS NULL AND (l.n IS NULL OR l.revision <> b.revision OR l.made_by <> $2)
		   OR b.removed_at IS NOT NULL AND l.n IS NOT NULL)
		UNION
		SELECT c.household_id
		FROM stove_changes c
		JOIN stoves st ON st.household_id = c.household_id AND st.id = c.stove_id AND st.removed_at IS NULL
		LEFT JOIN lessons l ON l.household_id = c.household_id AND l.stove_id = c.stove_id AND l.change_id = c.id
		WHERE (c.undone_at IS NULL) <> (l.n IS NOT NULL)`, review.Version, learn.Version)
	return out, err
}

// TryLocked runs f if nobody else does so under the same name, in any process; else it returns
// false at once.
func (s *Store) TryLocked(ctx context.Context, name string, f func(context.Context) error) (ran bool, err error) {
	conn, err := s.db.Connx(ctx)
	if err != nil {
		return false, err
	}
	defer conn.Close()
	if err := conn.GetContext(ctx, &ran, `SELECT pg_try_advisory_lock(hashtext($1))`, name); err != nil || !ran {
		return false, err
	}
	defer func() {
		over, cancel := context.WithTimeout(context.WithoutCancel(ctx), patience)
		defer cancel()
		_, _ = conn.ExecContext(over, `SELECT pg_advisory_unlock(hashtext($1))`, name) // it ends with the connection too
	}()
	return true, f(ctx)
}
