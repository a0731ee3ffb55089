package store

import (
	"context"
	"database/sql"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/burn"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
)

// A Burn is a burn with its number, its stove's number and its plan.
type Burn struct {
	ID      int64
	StoveID int64
	Title   string
	burn.Burn
	Plan    *plan.Plan
	Removed bool
}

type burnRow struct {
	ID      int64               `db:"id"`
	StoveID int64               `db:"stove_id"`
	Title   string              `db:"title"`
	Spec    doc[burn.Burn]      `db:"spec"`
	Plan    doc[*plan.Plan]     `db:"plan"`
	Started time.Time           `db:"started"`
	Ended   sql.Null[time.Time] `db:"ended"`
	Removed bool                `db:"removed"`
}

func (r burnRow) burn() Burn {
	b := Burn{ID: r.ID, StoveID: r.StoveID, Title: r.Title, Burn: r.Spec.V, Plan: r.Plan.V, Removed: r.Removed}
	b.Started = r.Started.UTC()
	b.Ended = time.Time{}
	if r.Ended.Valid {
		b.Ended = r.Ended.V.UTC()
	}
	return b
}

const selectBurns = `
	SELECT id, stove_id, title, spec, plan, started, ended, removed_at IS NOT NULL AS removed
	FROM burns
	WHERE household_id = $1`

// StartBurn keeps a new burn with the entries it has, and returns its number.
// A stove that has an open burn is ErrBurning.
func (h Household) StartBurn(ctx context.Context, stoveID int64, title string, b burn.Burn, p *plan.Plan) (int64, error) {
	entries := b.Entries
	b.Entries = nil
	spec, err := encode(b)
	if err != nil {
		return 0, err
	}
	var planned *string
	if p != nil {
		text, err := encode(p)
		if err != nil {
			return 0, err
		}
		planned = &text
	}
	ended := sql.Null[time.Time]{V: b.Ended, Valid: !b.Ended.IsZero()}
	var id int64
	err = h.within(ctx, func(tx *sqlx.Tx) error {
		// The stove must be this household's.
		err := tx.GetContext(ctx, &id, `
			INSERT INTO burns (household_id, stove_id, title, spec, plan, started, ended)
			SELECT $1, id, $3, $4, $5, $6, $7
			FROM stoves
			WHERE household_id = $1 AND id = $2 AND removed_at IS NULL
			RETURNING id`, h.id, stoveID, title, spec, planned, b.Started, ended)
		if violates(err, "burns_open") {
			return ErrBurning
		}
		if err != nil {
			return missing(err)
		}
		for _, e := range entries {
			if err := h.insert(ctx, tx, id, e, nil); err != nil {
				return err
			}
		}
		return nil
	})
	return id, err
}

// Burn returns one burn with its entries, struck ones included.
func (h Household) Burn(ctx context.Context, id int64) (Burn, error) {
	var r burnRow
	if err := h.db.GetContext(ctx, &r, selectBurns+` AND id = $2`, h.id, id); err != nil {
		return Burn{}, missing(err)
	}
	b := r.burn()
	var rows []struct {
		Doc    doc[burn.Entry] `db:"doc"`
		Struck bool            `db:"struck"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		SELECT doc, struck_at IS NOT NULL AS struck
		FROM entries
		WHERE household_id = $1 AND burn_id = $2
		ORDER BY at, seq`, h.id, id)
	for _, e := range rows {
		e.Doc.V.Struck = e.Struck
		b.Entries = append(b.Entries, e.Doc.V)
	}
	return b, err
}

// A BurnLine is a burn in the list.
type BurnLine struct {
	ID      int64               `db:"id"`
	StoveID int64               `db:"stove_id"`
	Stove   string              `db:"stove"`
	Title   string              `db:"title"`
	Started time.Time           `db:"started"`
	Ended   sql.Null[time.Time] `db:"ended"`
	Planned bool                `db:"planned"`
	Outdoor units.Celsius       `db:"outdoor"`
	Loads   int                 `db:"loads"`
	Mass    units.Kilogram      `db:"mass"`
	Peak    sql.Null[float64]   `db:"peak"` // of the gas or the pipe, as it was read
	Removed bool                `db:"removed"`
}

// Burns returns the burns before a time, newest first.
func (h Household) Burns(ctx context.Context, before time.Time, most int) ([]BurnLine, error) {
	var rows []BurnLine
	err := h.db.SelectContext(ctx, &rows, `
		SELECT b.id, b.stove_id, b.spec->'stove'->>'name' AS stove, b.title, b.started, b.ended, b.plan IS NOT NULL AS planned,
		       CAST(b.spec->>'outdoor_c' AS double precision) AS outdoor, b.removed_at IS NOT NULL AS removed,
		       count(*) FILTER (WHERE e.kind = 'load') AS loads,
		       COALESCE(sum(e.load_mass), 0) AS mass,
		       max(CAST(e.doc->>'reading_c' AS double precision))
		           FILTER (WHERE e.kind = 'temperature' AND e.doc->>'place' IN ('connector-probe', 'connector-surface')) AS peak
		FROM burns b
		LEFT JOIN entries e ON e.household_id = b.household_id AND e.burn_id = b.id AND e.struck_at IS NULL
		WHERE b.household_id = $1 AND b.started < $2 AND b.removed_at IS NULL
		GROUP BY b.household_id, b.id
		ORDER BY b.started DESC
		LIMIT $3`, h.id, before, most)
	return rows, err
}

// OpenBurns returns the burns that are not ended, newest first, without their
// entries.
func (h Household) OpenBurns(ctx context.Context) ([]Burn, error) {
	var rows []burnRow
	err := h.db.SelectContext(ctx, &rows, selectBurns+`
	  AND ended IS NULL AND removed_at IS NULL
	ORDER BY started DESC`, h.id)
	out := make([]Burn, len(rows))
	for i, r := range rows {
		out[i] = r.burn()
	}
	return out, err
}

// insert keeps an entry; one that is there already is left as it is.
func (h Household) insert(ctx context.Context, tx *sqlx.Tx, burnID int64, e burn.Entry, corrects *string) error {
	struck := e.Struck
	e.Struck = false
	text, err := encode(e)
	if err != nil {
		return err
	}
	var stack *int64
	var mass *float64
	if e.Load != nil {
		m := float64(e.Load.Mass())
		mass = &m
		if e.Load.StackID != 0 {
			stack = &e.Load.StackID
		}
	}
	_, err = tx.ExecContext(ctx, `
		INSERT INTO entries (household_id, burn_id, id, at, kind, doc, stack_id, load_mass, corrects, struck_at)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, CASE WHEN $10 THEN now() END)
		ON CONFLICT (household_id, burn_id, id) DO NOTHING`,
		h.id, burnID, e.ID, e.At, e.Kind, text, stack, mass, corrects, struck)
	return err
}

// AddEntry keeps an entry once; the same entry again is fine.
func (h Household) AddEntry(ctx context.Context, burnID int64, e burn.Entry) error {
	return h.within(ctx, func(tx *sqlx.Tx) error {
		if err := h.lockBurn(ctx, tx, burnID); err != nil {
			return err
		}
		return h.insert(ctx, tx, burnID, e, nil)
	})
}

// lockBurn holds the burn's row until the end of the transaction, so that
// entries and the end of a burn do not cross.
func (h Household) lockBurn(ctx context.Context, tx *sqlx.Tx, burnID int64) error {
	var id int64
	return missing(tx.GetContext(ctx, &id, `
		SELECT id
		FROM burns
		WHERE household_id = $1 AND id = $2 AND removed_at IS NULL
		FOR UPDATE`, h.id, burnID))
}

// CorrectEntry strikes an entry and keeps another in its place.
func (h Household) CorrectEntry(ctx context.Context, burnID int64, old string, e burn.Entry) error {
	return h.within(ctx, func(tx *sqlx.Tx) error {
		if err := h.lockBurn(ctx, tx, burnID); err != nil {
			return err
		}
		err := one(tx.ExecContext(ctx, `
			UPDATE entries
			SET struck_at = now()
			WHERE household_id = $1 AND burn_id = $2 AND id = $3 AND struck_at IS NULL`, h.id, burnID, old))
		if err != nil {
			return err
		}
		return h.insert(ctx, tx, burnID, e, &old)
	})
}

// StrikeEntry undoes an entry; what it had corrected counts again.
func (h Household) StrikeEntry(ctx context.Context, burnID int64, id string) error {
	return h.within(ctx, func(tx *sqlx.Tx) error {
		var corrected sql.Null[string]
		err := tx.GetContext(ctx, &corrected, `
			UPDATE entries
			SET struck_at = now()
			WHERE household_id = $1 AND burn_id = $2 AND id = $3
			RETURNING corrects`, h.id, burnID, id)
		if err != nil || !corrected.Valid {
			return missing(err)
		}
		_, err = tx.ExecContext(ctx, `
			UPDATE entries
			SET struck_at = NULL
			WHERE household_id = $1 AND burn_id = $2 AND id = $3`, h.id, burnID, corrected.V)
		return err
	})
}

// PutBackEntry brings an undone entry back; what it had corrected is struck
// again.
func (h Household) PutBackEntry(ctx context.Context, burnID int64, id string) error {
	return h.within(ctx, func(tx *sqlx.Tx) error {
		var corrected sql.Null[string]
		err := tx.GetContext(ctx, &corrected, `
			UPDATE entries
			SET struck_at = NULL
			WHERE household_id = $1 AND burn_id = $2 AND id = $3
			RETURNING corrects`, h.id, burnID, id)
		if err != nil || !corrected.Valid {
			return missing(err)
		}
		_, err = tx.ExecContext(ctx, `
			UPDATE entries
			SET struck_at = now()
			WHERE household_id = $1 AND burn_id = $2 AND id = $3`, h.id, burnID, corrected.V)
		return err
	})
}

// EndBurn ends a burn, or opens it again when ended is nil.
func (h Household) EndBurn(ctx context.Context, id int64, ended *time.Time) error {
	err := one(h.db.ExecContext(ctx, `
		UPDATE burns
		SET ended = $3
		WHERE household_id = $1 AND id = $2 AND removed_at IS NULL`, h.id, id, ended))
	if violates(err, "burns_open") {
		return ErrBurning
	}
	return err
}

// RemoveBurn takes a burn off the list, or puts it back.
func (h Household) RemoveBurn(ctx context.Context, id int64, gone bool) error {
	err := one(h.db.ExecContext(ctx, `
		UPDATE burns
		SET removed_at = CASE WHEN $3 THEN now() END
		WHERE household_id = $1 AND id = $2`, h.id, id, gone))
	if violates(err, "burns_open") {
		return ErrBurning
	}
	return err
}
