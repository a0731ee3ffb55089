package store

import (
	"context"
	"time"
)

// A Trouble is something that was found to be wrong with a stove, and is not put right yet.
type Trouble struct {
	ID    int64     `db:"id"`
	Stove int64     `db:"stove_id"`
	Cause string    `db:"cause"` // trouble.Cause
	At    time.Time `db:"found_at"`
	By    string    `db:"by_name"`
}

// FindTrouble keeps that something is wrong with a stove; what is known already stays as it is. Of
// a stove that is not there it is [ErrMissing].
func (h Household) FindTrouble(ctx context.Context, stove int64, cause string, at time.Time) error {
	if _, err := h.Stove(ctx, stove); err != nil {
		return err
	}
	_, err := h.db.ExecContext(ctx, `
		INSERT INTO troubles (household_id, stove_id, cause, found_at, by_name)
		VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (household_id, stove_id, cause) WHERE righted_at IS NULL DO NOTHING`, h.id, stove, cause, at, h.by)
	return err
}

// RightTrouble keeps that it is put right; twice is fine.
func (h Household) RightTrouble(ctx context.Context, id int64, at time.Time) error {
	return touched(h.db.ExecContext(ctx, `
		UPDATE troubles
		SET righted_at = COALESCE(righted_at, $3)
		WHERE household_id = $1 AND id = $2`, h.id, id, at))
}

// Troubles are what is wrong with the household's stoves, the oldest first.
func (h Household) Troubles(ctx context.Context) ([]Trouble, error) {
	var out []Trouble
	err := h.db.SelectContext(ctx, &out, `
		SELECT id, stove_id, cause, found_at, by_name
		FROM troubles
		WHERE household_id = $1 AND righted_at IS NULL
		ORDER BY found_at, id`, h.id)
	return out, err
}
