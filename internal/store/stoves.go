package store

import (
	"context"

	"smolder/internal/core/house"
	"smolder/internal/core/stove"
)

// A Stove is a stove with its number. House is set when the stove stands
// somewhere else than in the household's house: a boat, a hut, a workshop.
type Stove struct {
	ID int64 `json:"-"`
	stove.Stove
	House *house.House `json:"house,omitempty"`
}

// Around returns what the stove heats: its own house, or the household's.
func (s Stove) Around(p Profile) house.House {
	if s.House != nil {
		return *s.House
	}
	return p.House
}

type stoveRow struct {
	ID   int64      `db:"id"`
	Spec doc[Stove] `db:"spec"`
}

func (r stoveRow) stove() Stove {
	r.Spec.V.ID = r.ID
	return r.Spec.V
}

// Stoves returns the household's stoves in the order they were added.
func (h Household) Stoves(ctx context.Context) ([]Stove, error) {
	var rows []stoveRow
	err := h.db.SelectContext(ctx, &rows, `
		SELECT id, spec
		FROM stoves
		WHERE household_id = $1 AND removed_at IS NULL
		ORDER BY id`, h.id)
	out := make([]Stove, len(rows))
	for i, r := range rows {
		out[i] = r.stove()
	}
	return out, err
}

// Stove returns one stove.
func (h Household) Stove(ctx context.Context, id int64) (Stove, error) {
	var r stoveRow
	err := h.db.GetContext(ctx, &r, `
		SELECT id, spec
		FROM stoves
		WHERE household_id = $1 AND id = $2 AND removed_at IS NULL`, h.id, id)
	return r.stove(), missing(err)
}

// AddStove keeps a new stove and returns its number.
func (h Household) AddStove(ctx context.Context, s Stove) (int64, error) {
	spec, err := encode(s)
	if err != nil {
		return 0, err
	}
	var id int64
	err = h.db.GetContext(ctx, &id, `
		INSERT INTO stoves (household_id, name, spec)
		VALUES ($1, $2, $3)
		RETURNING id`, h.id, s.Name, spec)
	if violates(err, "stoves_name") {
		return 0, ErrTaken
	}
	return id, err
}

// SaveStove changes a stove; burns already logged keep the stove as it was.
func (h Household) SaveStove(ctx context.Context, id int64, s Stove) error {
	spec, err := encode(s)
	if err != nil {
		return err
	}
	err = one(h.db.ExecContext(ctx, `
		UPDATE stoves
		SET name = $3, spec = $4
		WHERE household_id = $1 AND id = $2 AND removed_at IS NULL`, h.id, id, s.Name, spec))
	if violates(err, "stoves_name") {
		return ErrTaken
	}
	return err
}
