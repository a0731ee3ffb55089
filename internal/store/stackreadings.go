package store

import (
	"context"
	"database/sql"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/units"
)

// A StackReading is what a meter read on fresh faces of some pieces of a stack.
type StackReading struct {
	ID       int64             `db:"id"`
	StackID  int64             `db:"stack_id"`
	At       time.Time         `db:"at"`
	Reading  units.Fraction    `db:"reading"` // the mean, as read
	Spread   units.Fraction    `db:"spread"`  // standard deviation between the pieces; 0: of one, or not told
	Pieces   int               `db:"pieces"`
	WoodTemp sql.Null[float64] `db:"wood_temp"` // °C; null: not told
	Guessed  bool              `db:"guessed"`   // no meter: by its time, from before that was kept
	Undone   bool              `db:"undone"`
	By       string            `db:"by_name"`
}

// mostReadings is how many readings one stack may have: one a week for ten years.
const mostReadings = 600

// stackReadings are those that count of the household's stacks, oldest first, by stack.
func (h Household) stackReadings(ctx context.Context) (map[int64][]StackReading, error) {
	var rows []StackReading
	err := h.db.SelectContext(ctx, &rows, `
		SELECT id, stack_id, at, reading, spread, pieces, wood_temp, guessed, false AS undone
		FROM stack_readings
		WHERE household_id = $1 AND undone_at IS NULL
		ORDER BY stack_id, at, id`, h.id)
	out := map[int64][]StackReading{}
	for _, r := range rows {
		out[r.StackID] = append(out[r.StackID], r)
	}
	return out, err
}

// ReadingsOf are all readings of a stack, those that were undone with them, newest first.
func (h Household) ReadingsOf(ctx context.Context, stack int64) ([]StackReading, error) {
	var rows []StackReading
	err := h.db.SelectContext(ctx, &rows, `
		SELECT id, stack_id, at, reading, spread, pieces, wood_temp, guessed, by_name, undone_at IS NOT NULL AS undone
		FROM stack_readings
		WHERE household_id = $1 AND stack_id = $2
		ORDER BY at DESC, id DESC
		LIMIT $3`, h.id, stack, mostReadings)
	return rows, err
}

// AddReading keeps a reading of a stack; [ErrMany] where it has too many, [ErrMissing]
// where there is no such stack.
func (h Household) AddReading(ctx context.Context, stack int64, r StackReading) error {
	return h.toStack(ctx, stack, "stack_readings", mostReadings, func(tx *sqlx.Tx) error { return h.addReading(ctx, tx, stack, r) })
}

// toStack adds something to a stack that is there, up to so many.
func (h Household) toStack(ctx context.Context, stack int64, table string, most int, add func(*sqlx.Tx) error) error {
	return h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		var id int64
		err := tx.GetContext(ctx, &id, `
			SELECT id FROM stacks WHERE household_id = $1 AND id = $2 AND removed_at IS NULL FOR UPDATE`, h.id, stack)
		if err != nil {
			return orMissing(err)
		}
		var n int
		if err := tx.GetContext(ctx, &n, `SELECT count(*) FROM `+table+` WHERE household_id = $1 AND stack_id = $2`, h.id, stack); err != nil {
			return err
		}
		if n >= most {
			return ErrMany
		}
		return add(tx)
	})
}

func (h Household) addReading(ctx context.Context, tx *sqlx.Tx, stack int64, r StackReading) error {
	_, err := tx.ExecContext(ctx, `
		INSERT INTO stack_readings (household_id, stack_id, at, reading, spread, pieces, wood_temp, guessed, by_name)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)`, h.id, stack, r.At, r.Reading, r.Spread, r.Pieces, r.WoodTemp, r.Guessed, h.by)
	return err
}

// UndoReading takes a reading of a stack back, or puts it back; twice is fine.
func (h Household) UndoReading(ctx context.Context, stack, id int64, undone bool, now time.Time) error {
	return h.undo(ctx, "stack_readings", stack, id, undone, now)
}

func (h Household) undo(ctx context.Context, table string, stack, id int64, undone bool, now time.Time) error {
	return touched(h.db.ExecContext(ctx, `
		UPDATE `+table+`
		SET undone_at = CASE WHEN $4 THEN COALESCE(undone_at, $5) END
		WHERE household_id = $1 AND stack_id = $2 AND id = $3`, h.id, stack, id, undone, now))
}
