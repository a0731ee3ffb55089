package store

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"
)

// A Carried is wood that was carried in from a stack, to the basket or the shelf by the
// stove.
type Carried struct {
	ID      int64     `db:"id"`
	StackID int64     `db:"stack_id"`
	At      time.Time `db:"at"`
	Pieces  int       `db:"pieces"`
	Left    int       `db:"left"` // not burnt yet
	By      string    `db:"by_name"`
}

const (
	mostCarried = 2000
	// staysIndoors is how long wood that was carried in is taken to be there: who has not
	// burnt it by then has burnt it without a word.
	staysIndoors = 10 * 24 * time.Hour
)

// Indoors is the wood that lies indoors at a moment, the oldest first: what was carried in
// within ten days, less the pieces of loads logged since, which are taken from the oldest.
func (h Household) Indoors(ctx context.Context, now time.Time) ([]Carried, error) {
	var rows []struct {
		Carried
		Burnt int `db:"burnt"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		WITH inside AS (
		    SELECT c.*, min(c.at) OVER (PARTITION BY c.stack_id) AS first
		    FROM carried c
		    WHERE c.household_id = $1 AND c.undone_at IS NULL AND c.at > $2 AND c.at <= $3
		)
		SELECT c.id, c.stack_id, c.at, c.pieces, c.pieces AS left, c.by_name,
		       -- Pieces of the same stack put on since the first of them was carried in. What is
		       -- much lighter than its pieces are was split once more by the stove: it counts by
		       -- its mass.
		       COALESCE((SELECT sum(CASE WHEN CAST(e.doc->'load'->>'piece_mass_kg' AS float8) < 0.62 * s.piece_mass
		                                 THEN CAST(round(CAST(e.doc->'load'->>'pieces' AS int) * CAST(e.doc->'load'->>'piece_mass_kg' AS float8) / s.piece_mass) AS int)
		                                 ELSE CAST(e.doc->'load'->>'pieces' AS int) END)
		                 FROM entries e
		                 JOIN burns b ON b.household_id = e.household_id AND b.id = e.burn_id
		                 JOIN stacks s ON s.household_id = e.household_id AND s.id = e.stack_id
		                 WHERE e.household_id = c.household_id AND e.stack_id = c.stack_id AND e.kind IN ('load', 'mineral')
		                   AND e.counts AND b.removed_at IS NULL AND e.at >= c.first AND e.at <= $3), 0) AS burnt
		FROM inside c
		ORDER BY c.at, c.id`, h.id, now.Add(-staysIndoors), now)
	burnt := map[int64]int{}
	var out []Carried
	for _, r := range rows {
		if _, seen := burnt[r.StackID]; !seen {
			burnt[r.StackID] = r.Burnt
		}
		taken := min(r.Pieces, burnt[r.StackID])
		burnt[r.StackID] -= taken
		if r.Left = r.Pieces - taken; r.Left > 0 {
			out = append(out, r.Carried)
		}
	}
	return out, err
}

// Carry keeps that pieces of a stack were carried in; [ErrMissing] where there is no such
// stack.
func (h Household) Carry(ctx context.Context, stack int64, pieces int, at time.Time) (int64, error) {
	var id int64
	err := h.toStack(ctx, stack, "carried", mostCarried, func(tx *sqlx.Tx) error {
		return tx.GetContext(ctx, &id, `
			INSERT INTO carried (household_id, stack_id, at, pieces, by_name)
			VALUES ($1, $2, $3, $4, $5)
			RETURNING id`, h.id, stack, at, pieces, h.by)
	})
	return id, err
}

// UndoCarry takes it back that something was carried in; twice is fine.
func (h Household) UndoCarry(ctx context.Context, stack, id int64, undone bool, now time.Time) error {
	return h.undo(ctx, "carried", stack, id, undone, now)
}
