package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/units"
)

// A Whole is a stack with all that was ever told of it, as it goes from one store into
// another. Its PieceMass is that of pieces of PieceMoisture.
type Whole struct {
	Stack
	PieceMoisture units.Fraction
	Counts        []StackCount
}

// Whole are the household's stacks with all that was told of them, those off the list left
// out.
func (h Household) Whole(ctx context.Context) ([]Whole, error) {
	var rows []stackRow
	err := h.db.SelectContext(ctx, &rows, selectStacks+` AND s.removed_at IS NULL
	ORDER BY s.id`, h.id)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	numbers := make([]int64, len(rows))
	for i, r := range rows {
		numbers[i] = r.ID
	}
	readings, err := h.stackReadings(ctx, numbers)
	if err != nil {
		return nil, err
	}
	counts, err := h.stackCounts(ctx, numbers)
	out := make([]Whole, len(rows))
	for i, r := range rows {
		out[i] = Whole{r.stack(), units.Fraction(r.PieceMoisture), counts[r.ID]}
		out[i].Readings = readings[r.ID]
	}
	return out, err
}

// ImportStacks keeps stacks with all that was told of them, all or none. One whose name is
// here already is left as it is here; new tells how many were not.
func (h Household) ImportStacks(ctx context.Context, list []Whole) (added int, err error) {
	err = h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		for _, w := range list {
			w.Reading, w.Spread = w.PieceMoisture, leastSpread // what fields writes as its pieces' moisture
			var id int64
			err := tx.GetContext(ctx, &id, insertStack+`
				ON CONFLICT (household_id, name_key) WHERE removed_at IS NULL DO NOTHING
				RETURNING id`, append([]any{h.id}, w.fields()...)...)
			if isMissing(missing(err)) {
				continue
			}
			if err != nil {
				return err
			}
			added++
			for _, r := range w.Readings {
				if err := addReading(ctx, tx, h.id, id, r); err != nil {
					return err
				}
			}
			for _, c := range w.Counts {
				if err := addCount(ctx, tx, h.id, id, c); err != nil {
					return err
				}
			}
		}
		return nil
	})
	return added, err
}
