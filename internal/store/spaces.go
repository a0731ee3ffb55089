package store

import (
	"context"
	"errors"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/house"
	"smolder/internal/core/units"
	"smolder/internal/form"
)

// A Space is what a stove heats: a kitchen, a loft, a boat's cabin.
type Space struct {
	ID      int64
	Name    string
	House   house.House
	Wanted  [2]units.Celsius // room temperature, from and to
	Version int              // counts changes
}

type spaceRow struct {
	ID      int64                         `db:"id"`
	Name    string                        `db:"name"`
	Spec    kept[form.House, house.House] `db:"spec"`
	Low     float64                       `db:"wanted_low"`
	High    float64                       `db:"wanted_high"`
	Version int                           `db:"version"`
}

func (r spaceRow) space() (Space, error) {
	return Space{r.ID, r.Name, r.Spec.V, [2]units.Celsius{units.Celsius(r.Low), units.Celsius(r.High)}, r.Version}, r.Spec.Bad
}

const selectSpaces = `
	SELECT id, name, spec, wanted_low, wanted_high, version
	FROM spaces
	WHERE household_id = $1 AND removed_at IS NULL`

// Spaces returns the household's spaces in the order they were added, without those that
// cannot be read ([Household.Unread]).
func (h Household) Spaces(ctx context.Context) ([]Space, error) {
	var rows []spaceRow
	err := h.db.SelectContext(ctx, &rows, selectSpaces+`
	ORDER BY id`, h.id)
	out := make([]Space, 0, len(rows))
	for _, r := range rows {
		if sp, bad := r.space(); bad == nil {
			out = append(out, sp)
		}
	}
	return out, err
}

// Space returns one space.
func (h Household) Space(ctx context.Context, id int64) (Space, error) {
	var r spaceRow
	err := h.db.GetContext(ctx, &r, selectSpaces+` AND id = $2`, h.id, id)
	sp, bad := r.space()
	return sp, errors.Join(orMissing(err), bad)
}

// AddSpace keeps a new space and returns its number.
func (h Household) AddSpace(ctx context.Context, s Space) (int64, error) {
	var id int64
	err := h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) (err error) {
		id, err = addSpace(ctx, tx, h.id, s)
		return err
	})
	return id, err
}

func addSpace(ctx context.Context, tx *sqlx.Tx, household int64, s Space) (int64, error) {
	spec, err := encode(form.HouseOf(s.House))
	if err != nil {
		return 0, err
	}
	var id int64
	err = tx.GetContext(ctx, &id, `
		INSERT INTO spaces (household_id, name, name_key, spec, wanted_low, wanted_high)
		VALUES ($1, $2, $3, $4, $5, $6)
		RETURNING id`, household, s.Name, NameKey(s.Name), spec, s.Wanted[0], s.Wanted[1])
	if violates(err, "spaces_name") {
		return 0, ErrTaken
	}
	return id, err
}

// SaveSpace changes a space; [ErrStale] when somebody else has since it was
// read. Burns already logged keep the space as it was.
func (h Household) SaveSpace(ctx context.Context, s Space) error {
	spec, err := encode(form.HouseOf(s.House))
	if err != nil {
		return err
	}
	err = touched(h.db.ExecContext(ctx, `
		UPDATE spaces
		SET name = $4, name_key = $5, spec = $6, wanted_low = $7, wanted_high = $8, version = version + 1
		WHERE household_id = $1 AND id = $2 AND version = $3 AND removed_at IS NULL`,
		h.id, s.ID, s.Version, s.Name, NameKey(s.Name), spec, s.Wanted[0], s.Wanted[1]))
	if violates(err, "spaces_name") {
		return ErrTaken
	}
	return h.fresh(ctx, "spaces", s.ID, err)
}

// RemoveSpace takes a space off the list, or brings it back. One in which a
// stove stands stays: [ErrUsed]. The space is held meanwhile, so that no stove is put into it.
func (h Household) RemoveSpace(ctx context.Context, id int64, gone bool, now time.Time) error {
	err := h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		var held int64
		err := tx.GetContext(ctx, &held, `SELECT id FROM spaces WHERE household_id = $1 AND id = $2 FOR UPDATE`, h.id, id)
		if err != nil {
			return orMissing(err)
		}
		var used bool
		err = tx.GetContext(ctx, &used, `
			SELECT EXISTS (SELECT 1 FROM stoves WHERE household_id = $1 AND space_id = $2 AND removed_at IS NULL)`, h.id, id)
		if err != nil {
			return err
		}
		if used && gone {
			return ErrUsed
		}
		_, err = tx.ExecContext(ctx, `
			UPDATE spaces
			SET removed_at = CASE WHEN $3 THEN COALESCE(removed_at, $4) END
			WHERE household_id = $1 AND id = $2`, h.id, id, gone, now)
		return err
	})
	if violates(err, "spaces_name") {
		return ErrTaken
	}
	return err
}
