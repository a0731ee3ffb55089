package store

import (
	"context"
	"time"
)

// A KeptPlan is a plan for later, as it was asked.
type KeptPlan struct {
	ID       int64     `db:"id"`
	StoveID  int64     `db:"stove_id"`
	Stove    string    `db:"stove"`
	Begins   time.Time `db:"begins_at"`
	Sentence string    `db:"sentence"`
	Asked    string    `db:"asked"`
}

// KeepPlan keeps a plan; its stove must be the household's, else the error is
// [ErrMissing].
func (h Household) KeepPlan(ctx context.Context, k KeptPlan) (int64, error) {
	var id int64
	err := h.db.GetContext(ctx, &id, `
		INSERT INTO kept_plans (household_id, stove_id, begins_at, sentence, asked)
		SELECT household_id, id, $3, $4, $5
		FROM stoves
		WHERE household_id = $1 AND id = $2 AND removed_at IS NULL
		RETURNING id`, h.id, k.StoveID, k.Begins.UTC(), k.Sentence, k.Asked)
	return id, missing(err)
}

// KeptPlans returns the plans that begin from a time on, the next first.
func (h Household) KeptPlans(ctx context.Context, from time.Time) ([]KeptPlan, error) {
	var out []KeptPlan
	err := h.db.SelectContext(ctx, &out, `
		SELECT k.id, k.stove_id, s.name AS stove, k.begins_at, k.sentence, k.asked
		FROM kept_plans k
		JOIN stoves s ON s.household_id = k.household_id AND s.id = k.stove_id AND s.removed_at IS NULL
		WHERE k.household_id = $1 AND k.removed_at IS NULL AND k.begins_at >= $2
		ORDER BY k.begins_at, k.id`, h.id, from.UTC())
	return out, err
}

// RemovePlan drops a kept plan, or brings it back. One that is not there, or
// another household's, is [ErrMissing]; dropping twice is fine.
func (h Household) RemovePlan(ctx context.Context, id int64, gone bool) error {
	return one(h.db.ExecContext(ctx, `
		UPDATE kept_plans
		SET removed_at = CASE WHEN $3 THEN now() END
		WHERE household_id = $1 AND id = $2`, h.id, id, gone))
}
