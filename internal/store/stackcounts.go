package store

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A StackCount is one count of a stack, or of what was put on it.
type StackCount struct {
	ID      int64
	StackID int64
	At      time.Time
	Way     wood.Way
	Typed   string      // in the owner's words
	Amount  wood.Amount // oven-dry
	Adds    bool        // put on what lay there
	Undone  bool
	Used    units.Kilogram // oven-dry, logged from then to the next count
	By      string
}

// mostCounts is how many counts one stack may have.
const mostCounts = 400

type countRow struct {
	ID      int64     `db:"id"`
	StackID int64     `db:"stack_id"`
	At      time.Time `db:"at"`
	Way     string    `db:"way"`
	Typed   string    `db:"typed"`
	Dry     float64   `db:"dry"`
	Own     float64   `db:"own"`
	Same    float64   `db:"same"`
	Adds    bool      `db:"adds"`
	Undone  bool      `db:"undone"`
	Used    float64   `db:"used"`
	By      string    `db:"by_name"`
}

func (r countRow) count() StackCount {
	return StackCount{ID: r.ID, StackID: r.StackID, At: r.At, Way: wood.Way(r.Way), Typed: r.Typed, Adds: r.Adds, Undone: r.Undone,
		Amount: wood.Amount{Middle: units.Kilogram(r.Dry), Own: r.Own, Same: r.Same}, Used: units.Kilogram(r.Used), By: r.By}
}

// stackCounts are those that count of the household's stacks, oldest first, by stack.
func (h Household) stackCounts(ctx context.Context) (map[int64][]StackCount, error) {
	var rows []countRow
	err := h.db.SelectContext(ctx, &rows, `
		WITH counted AS (
		    SELECT c.*, lead(c.at) OVER (PARTITION BY c.stack_id ORDER BY c.at, c.id) AS until
		    FROM stack_counts c
		    WHERE c.household_id = $1 AND c.undone_at IS NULL
		)
		SELECT c.id, c.stack_id, c.at, c.way, c.typed, c.dry, c.own, c.same, c.adds, false AS undone,
		       -- loads logged until the next count, of burns that are not removed
		       COALESCE((SELECT sum(e.load_dry)
		                 FROM entries e
		                 JOIN burns b ON b.household_id = e.household_id AND b.id = e.burn_id
		                 WHERE e.household_id = c.household_id AND e.stack_id = c.stack_id AND e.kind IN ('load', 'mineral')
		                   AND e.counts AND b.removed_at IS NULL AND e.at >= c.at AND (c.until IS NULL OR e.at < c.until)), 0) AS used
		FROM counted c
		ORDER BY c.stack_id, c.at, c.id`, h.id)
	out := map[int64][]StackCount{}
	for _, r := range rows {
		out[r.StackID] = append(out[r.StackID], r.count())
	}
	return out, err
}

// CountsOf are all counts of a stack, those that were undone with them, newest first.
func (h Household) CountsOf(ctx context.Context, stack int64) ([]StackCount, error) {
	var rows []countRow
	err := h.db.SelectContext(ctx, &rows, `
		SELECT id, stack_id, at, way, typed, dry, own, same, adds, undone_at IS NOT NULL AS undone, 0 AS used, by_name
		FROM stack_counts
		WHERE household_id = $1 AND stack_id = $2
		ORDER BY at DESC, id DESC`, h.id, stack)
	out := make([]StackCount, len(rows))
	for i, r := range rows {
		out[i] = r.count()
	}
	return out, err
}

// AddCount keeps a count of a stack; [ErrMany] where it has too many.
func (h Household) AddCount(ctx context.Context, stack int64, c StackCount) error {
	return h.toStack(ctx, stack, "stack_counts", mostCounts, func(tx *sqlx.Tx) error { return h.addCount(ctx, tx, stack, c) })
}

func (h Household) addCount(ctx context.Context, tx *sqlx.Tx, stack int64, c StackCount) error {
	_, err := tx.ExecContext(ctx, `
		INSERT INTO stack_counts (household_id, stack_id, at, way, typed, dry, own, same, adds, by_name)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`, h.id, stack, c.At, c.Way, c.Typed, c.Amount.Middle, c.Amount.Own, c.Amount.Same, c.Adds, h.by)
	if err == nil && !c.Adds { // whoever has counted does not take a usual amount any more
		_, err = tx.ExecContext(ctx, `
			UPDATE stacks
			SET assumed = CASE WHEN $3 THEN assumed ELSE trim(replace(' ' || assumed || ' ', ' mass ', ' ')) END
			WHERE household_id = $1 AND id = $2`, h.id, stack, c.Typed == "")
	}
	return err
}

// UsedBetween is what was logged as taken from a stack between two moments, oven-dry.
func (h Household) UsedBetween(ctx context.Context, stack int64, from, to time.Time) (units.Kilogram, error) {
	var used float64
	err := h.db.GetContext(ctx, &used, `
		SELECT COALESCE(sum(e.load_dry), 0)
		FROM entries e
		JOIN burns b ON b.household_id = e.household_id AND b.id = e.burn_id
		WHERE e.household_id = $1 AND e.stack_id = $2 AND e.kind IN ('load', 'mineral')
		  AND e.counts AND b.removed_at IS NULL AND e.at >= $3 AND e.at < $4`, h.id, stack, from, to)
	return units.Kilogram(used), err
}

// UndoCount takes a count of a stack back, or puts it back; twice is fine.
func (h Household) UndoCount(ctx context.Context, stack, id int64, undone bool, now time.Time) error {
	return h.undo(ctx, "stack_counts", stack, id, undone, now)
}
