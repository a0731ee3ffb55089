package store

import (
	"context"

	"github.com/jmoiron/sqlx"
)

// ImportStacks keeps stacks with all that was told of them, all or none. One whose name is
// here already is left as it is here; new tells how many were not.
func (h Household) ImportStacks(ctx context.Context, list []Stack) (added int, err error) {
	if err := h.allows(ctx, OfStacks, int64(len(list))); err != nil {
		return 0, err
	}
	err = h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		for _, w := range list {
			var id int64
			err := tx.GetContext(ctx, &id, insertStack+`
				ON CONFLICT (household_id, name_key) WHERE removed_at IS NULL DO NOTHING
				RETURNING id`, append([]any{h.id}, w.fields()...)...)
			if isMissing(orMissing(err)) {
				continue
			}
			if err != nil {
				return err
			}
			added++
			for _, r := range w.Readings {
				if err := h.addReading(ctx, tx, id, r); err != nil {
					return err
				}
			}
			for _, c := range w.Counts {
				if err := h.addCount(ctx, tx, id, c); err != nil {
					return err
				}
			}
		}
		return nil
	})
	return added, err
}
