package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/burn"
)

// The log of a burn. What may be done to it is decided by [burn.Log] while the
// burn's row is held, so that two hands, or a hand and the end of the burn,
// cannot both be told yes.

// change holds the burn's row, lets f decide on its log, and keeps which
// entries count now.
func (h Household) change(ctx context.Context, burnID int64, f func(context.Context, *sqlx.Tx, *burn.Log) error) error {
	return h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		var r burnRow
		err := tx.GetContext(ctx, &r, selectBurns+` AND id = $2 AND removed_at IS NULL
		FOR UPDATE`, h.id, burnID)
		if err != nil {
			return missing(err)
		}
		var rows []struct {
			ID       string           `db:"id"`
			At       time.Time        `db:"at"`
			Corrects sql.Null[string] `db:"corrects"`
			Undone   bool             `db:"undone"`
			Counts   bool             `db:"counts"`
		}
		err = tx.SelectContext(ctx, &rows, `
			SELECT id, at, corrects, undone_at IS NOT NULL AS undone, counts
			FROM entries
			WHERE household_id = $1 AND burn_id = $2
			ORDER BY seq`, h.id, burnID)
		if err != nil {
			return err
		}
		heads, before := make([]burn.Head, len(rows)), map[string]bool{}
		for i, e := range rows {
			heads[i] = burn.Head{ID: e.ID, At: e.At.UTC(), Corrects: e.Corrects.V, Undone: e.Undone}
			before[e.ID] = e.Counts
		}
		log := burn.NewLog(r.burn().Burn, heads)
		if err := f(ctx, tx, log); err != nil {
			return err
		}
		for _, e := range log.Heads() {
			if was, there := before[e.ID]; there && was != e.Counts {
				_, err := tx.ExecContext(ctx, `
					UPDATE entries
					SET counts = $4
					WHERE household_id = $1 AND burn_id = $2 AND id = $3`, h.id, burnID, e.ID, e.Counts)
				if err != nil {
					return err
				}
			}
		}
		return nil
	})
}

// insert keeps an entry as it is.
func (h Household) insert(ctx context.Context, tx *sqlx.Tx, burnID int64, e burn.Entry) error {
	var place, corrects *string
	var reading *float64
	id, at, kind, counts, undone := e.ID, e.At, e.Kind, !e.Struck, e.Undone
	if e.Corrects != "" {
		corrects = &e.Corrects
	}
	text := emptyDoc
	if e.Kind == burn.Temperature {
		p, r := string(e.Place), float64(e.Reading)
		place, reading = &p, &r
	}
	if e.Kind != burn.Temperature || e.Typed != "" {
		kept := e
		kept.Struck, kept.Corrects = false, ""
		if e.Kind == burn.Temperature {
			kept = burn.Entry{Typed: e.Typed}
		}
		var err error
		if text, err = encode(kept); err != nil {
			return err
		}
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
	_, err := tx.ExecContext(ctx, `
		INSERT INTO entries (household_id, burn_id, id, at, kind, doc, stack_id, load_mass, corrects, undone_at, counts, place, reading)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, CASE WHEN $10 THEN now() END, $11, $12, $13)`,
		h.id, burnID, id, at, kind, text, stack, mass, corrects, undone, counts, place, reading)
	return err
}

// AddEntry keeps an entry once; the same entry again is fine. The error is the
// log's: a [burn.ErrEntry] where the entry does not go with this burn.
func (h Household) AddEntry(ctx context.Context, burnID int64, e burn.Entry, now time.Time) error {
	return h.change(ctx, burnID, func(ctx context.Context, tx *sqlx.Tx, l *burn.Log) error {
		err := l.Add(e, now)
		if errors.Is(err, burn.ErrSame) {
			return nil
		}
		if err != nil {
			return err
		}
		return h.insert(ctx, tx, burnID, e)
	})
}

// CorrectEntry keeps an entry in the place of another; sent twice it is kept
// once.
func (h Household) CorrectEntry(ctx context.Context, burnID int64, old string, e burn.Entry, now time.Time) error {
	return h.change(ctx, burnID, func(ctx context.Context, tx *sqlx.Tx, l *burn.Log) error {
		err := l.Correct(old, e, now)
		if errors.Is(err, burn.ErrSame) {
			return nil
		}
		if err != nil {
			return h.unknown(err)
		}
		e.Corrects = old
		return h.insert(ctx, tx, burnID, e)
	})
}

// UndoEntry undoes an entry; what it had corrected counts again.
func (h Household) UndoEntry(ctx context.Context, burnID int64, id string) error {
	return h.mark(ctx, burnID, id, true)
}

// PutBackEntry takes an undo back.
func (h Household) PutBackEntry(ctx context.Context, burnID int64, id string) error {
	return h.mark(ctx, burnID, id, false)
}

func (h Household) mark(ctx context.Context, burnID int64, id string, undone bool) error {
	return h.change(ctx, burnID, func(ctx context.Context, tx *sqlx.Tx, l *burn.Log) error {
		decide := l.PutBack
		if undone {
			decide = l.Undo
		}
		if err := decide(id); err != nil {
			return h.unknown(err)
		}
		_, err := tx.ExecContext(ctx, `
			UPDATE entries
			SET undone_at = CASE WHEN $4 THEN COALESCE(undone_at, now()) END
			WHERE household_id = $1 AND burn_id = $2 AND id = $3`, h.id, burnID, id, undone)
		return err
	})
}

func (h Household) unknown(err error) error {
	if errors.Is(err, burn.ErrUnknown) {
		return ErrMissing
	}
	return err
}

// EndBurn ends a burn at a moment that is not ahead of now; one that has ended
// keeps its end. It returns when the burn ended.
func (h Household) EndBurn(ctx context.Context, id int64, at, now time.Time) (ended time.Time, err error) {
	err = h.change(ctx, id, func(ctx context.Context, tx *sqlx.Tx, l *burn.Log) (err error) {
		ended, err = l.End(at, now)
		if errors.Is(err, burn.ErrEnded) {
			return nil
		}
		if err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `
			UPDATE burns
			SET ended = $3
			WHERE household_id = $1 AND id = $2`, h.id, id, ended)
		return err
	})
	return ended, err
}

// ReopenBurn lets an ended burn go on; a stove with another fire in it is
// [ErrBurning].
func (h Household) ReopenBurn(ctx context.Context, id int64) error {
	err := one(h.db.ExecContext(ctx, `
		UPDATE burns
		SET ended = NULL
		WHERE household_id = $1 AND id = $2 AND removed_at IS NULL`, h.id, id))
	if violates(err, "burns_open") {
		return ErrBurning
	}
	return err
}
