package store

import (
	"context"
	"errors"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/form"
)

// A Stove is a stove with its number and the space it stands in.
type Stove struct {
	ID int64
	stove.Stove
	Space   Space
	Version int // counts changes
}

// Confined tells whether it stands in a boat, a van or a hut.
func (s Stove) Confined() bool { return s.Small() || s.Space.House.Mobile() }

type stoveRow struct {
	ID      int64                         `db:"id"`
	Spec    kept[form.Stove, stove.Stove] `db:"spec"`
	Version int                           `db:"version"`
	Space   spaceRow                      `db:"space"`
}

func (r stoveRow) stove() (Stove, error) {
	sp, err := r.Space.space()
	return Stove{r.ID, r.Spec.V, sp, r.Version}, errors.Join(r.Spec.Bad, err)
}

const selectStoves = `
	SELECT st.id, st.spec, st.version, sp.id AS "space.id", sp.name AS "space.name", sp.spec AS "space.spec",
	       sp.wanted_low AS "space.wanted_low", sp.wanted_high AS "space.wanted_high", sp.version AS "space.version"
	FROM stoves st
	JOIN spaces sp ON sp.household_id = st.household_id AND sp.id = st.space_id
	WHERE st.household_id = $1`

// Stoves returns the household's stoves in the order they were added, without those that
// cannot be read ([Household.Unread]).
func (h Household) Stoves(ctx context.Context) ([]Stove, error) {
	return h.stoves(ctx, `st.removed_at IS NULL`)
}

// GoneStoves returns the stoves that were taken off the list.
func (h Household) GoneStoves(ctx context.Context) ([]Stove, error) {
	return h.stoves(ctx, `st.removed_at IS NOT NULL`)
}

func (h Household) stoves(ctx context.Context, which string) ([]Stove, error) {
	var rows []stoveRow
	err := h.db.SelectContext(ctx, &rows, selectStoves+` AND `+which+`
	ORDER BY st.id`, h.id)
	out := make([]Stove, 0, len(rows))
	for _, r := range rows {
		if st, bad := r.stove(); bad == nil {
			out = append(out, st)
		}
	}
	return out, err
}

// Stove returns one stove.
func (h Household) Stove(ctx context.Context, id int64) (Stove, error) {
	var r stoveRow
	err := h.db.GetContext(ctx, &r, selectStoves+` AND st.id = $2 AND st.removed_at IS NULL`, h.id, id)
	st, bad := r.stove()
	return st, errors.Join(orMissing(err), bad)
}

// Unread are the names of the household's stoves and spaces that are kept in a form which
// this program cannot read: they stay, and are on no list.
func (h Household) Unread(ctx context.Context) (names []string, err error) {
	var rows []struct {
		Name  string                        `db:"name"`
		Stove kept[form.Stove, stove.Stove] `db:"stove"`
		House kept[form.House, house.House] `db:"house"`
	}
	err = h.db.SelectContext(ctx, &rows, `
		SELECT st.name, st.spec AS stove, sp.spec AS house
		FROM stoves st
		JOIN spaces sp ON sp.household_id = st.household_id AND sp.id = st.space_id
		WHERE st.household_id = $1 AND st.removed_at IS NULL
		UNION ALL
		SELECT name, NULL, spec
		FROM spaces
		WHERE household_id = $1 AND removed_at IS NULL`, h.id)
	for _, r := range rows {
		if r.Stove.Bad != nil || r.House.Bad != nil {
			names = append(names, r.Name)
		}
	}
	return names, err
}

// AddStove keeps a new stove in a space of the household and returns its
// number.
func (h Household) AddStove(ctx context.Context, s Stove) (int64, error) {
	spec, err := encode(form.StoveOf(s.Stove))
	if err != nil {
		return 0, err
	}
	var id int64
	err = h.db.GetContext(ctx, &id, `
		INSERT INTO stoves (household_id, space_id, name, name_key, spec)
		SELECT household_id, id, $3, $4, $5
		FROM spaces
		WHERE household_id = $1 AND id = $2 AND removed_at IS NULL
		FOR SHARE -- it is not taken off the list meanwhile
		RETURNING id`, h.id, s.Space.ID, s.Name, NameKey(s.Name), spec)
	if violates(err, "stoves_name") {
		return 0, ErrTaken
	}
	return id, orMissing(err)
}

// SaveStove changes a stove; [ErrStale] when somebody else has since it was
// read. Burns already logged keep the stove as it was.
func (h Household) SaveStove(ctx context.Context, s Stove) error {
	spec, err := encode(form.StoveOf(s.Stove))
	if err != nil {
		return err
	}
	err = h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		var space int64 // held, so that it is not taken off the list meanwhile
		err := tx.GetContext(ctx, &space, `
			SELECT id FROM spaces WHERE household_id = $1 AND id = $2 AND removed_at IS NULL FOR SHARE`, h.id, s.Space.ID)
		if err != nil {
			return orMissing(err)
		}
		return touched(tx.ExecContext(ctx, `
			UPDATE stoves
			SET name = $4, name_key = $5, spec = $6, space_id = $7, version = version + 1
			WHERE household_id = $1 AND id = $2 AND version = $3 AND removed_at IS NULL`,
			h.id, s.ID, s.Version, s.Name, NameKey(s.Name), spec, space))
	})
	if violates(err, "stoves_name") {
		return ErrTaken
	}
	return h.fresh(ctx, "stoves", s.ID, err)
}

// RemoveStove takes a stove off the list, or brings it back. Its burns stay;
// one with a fire in it stays on the list: [ErrBurning].
func (h Household) RemoveStove(ctx context.Context, id int64, gone bool, now time.Time) error {
	err := h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		var held int64 // so that no fire is lit in it meanwhile
		err := tx.GetContext(ctx, &held, `SELECT id FROM stoves WHERE household_id = $1 AND id = $2 FOR UPDATE`, h.id, id)
		if err != nil {
			return orMissing(err)
		}
		var lit bool
		err = tx.GetContext(ctx, &lit, `
			SELECT EXISTS (SELECT 1 FROM burns WHERE household_id = $1 AND stove_id = $2 AND ended IS NULL AND removed_at IS NULL)`, h.id, id)
		if err != nil {
			return err
		}
		if lit && gone {
			return ErrBurning
		}
		_, err = tx.ExecContext(ctx, `
			UPDATE stoves
			SET removed_at = CASE WHEN $3 THEN COALESCE(removed_at, $4) END
			WHERE household_id = $1 AND id = $2`, h.id, id, gone, now)
		return err
	})
	if violates(err, "stoves_name") {
		return ErrTaken
	}
	return err
}
