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
	return h.changeAny(ctx, burnID, func(ctx context.Context, tx *sqlx.Tx, r burnRow, l *burn.Log) error {
		if r.Removed {
			return ErrMissing
		}
		return f(ctx, tx, l)
	})
}

// changeAny is change of a burn that may be off the list.
func (h Household) changeAny(ctx context.Context, burnID int64, f func(context.Context, *sqlx.Tx, burnRow, *burn.Log) error) error {
	return h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		var r burnRow
		err := tx.GetContext(ctx, &r, selectBurns+` AND id = $2
		FOR UPDATE`, h.id, burnID)
		if err != nil {
			return orMissing(err)
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
			FROM (SELECT id, at, corrects, undone_at, counts, seq FROM entries WHERE household_id = $1 AND burn_id = $2
			      UNION ALL
			      SELECT id, at, corrects, undone_at, counts, seq FROM readings WHERE household_id = $1 AND burn_id = $2) e
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
		if err := f(ctx, tx, r, log); err != nil {
			return err
		}
		if err := h.notify(ctx, tx, Change{Burn: burnID, Stove: r.StoveID}); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `
			UPDATE burns
			SET revision = revision + 1
			WHERE household_id = $1 AND id = $2`, h.id, burnID)
		if err != nil {
			return err
		}
		for _, e := range log.Heads() {
			if was, there := before[e.ID]; there && was != e.Counts {
				if err := h.marking(ctx, tx, setCounts, burnID, e.ID, e.Counts); err != nil {
					return err
				}
			}
		}
		return nil
	})
}

// same returns what is kept of an entry whose id is there already, and refuses one that says
// something else: a [burn.Another].
func (h Household) same(ctx context.Context, tx *sqlx.Tx, burnID int64, e burn.Entry) (burn.Entry, error) {
	kept, err := h.entry(ctx, tx, burnID, e.ID)
	if err != nil || kept.Same(e) {
		return kept, err
	}
	return kept, &burn.Another{Kept: kept}
}

// AddEntries keeps entries once each, all of them or none; the same again are fine, and
// another of the same id is a [burn.Another]. Where two tap what both are shown, what one of them
// says to have followed is not kept as before what the other has said already.
// The error is the log's: a [burn.ErrEntry] where one does not go with this burn.
func (h Household) AddEntries(ctx context.Context, burnID int64, now time.Time, entries ...burn.Entry) error {
	return h.change(ctx, burnID, func(ctx context.Context, tx *sqlx.Tx, l *burn.Log) error {
		var said time.Time
		for _, e := range entries {
			e.By = h.by
			if e.Tap != "" && e.At.Before(said) {
				e.At = said
			}
			err := l.Add(e, now)
			if errors.Is(err, burn.ErrSame) {
				kept, err := h.same(ctx, tx, burnID, e)
				if err != nil {
					return err
				}
				said = kept.At
				continue
			}
			if err != nil {
				return err
			}
			if err := h.insert(ctx, tx, burnID, e); err != nil {
				return err
			}
		}
		return nil
	})
}

// AddEntry keeps one.
func (h Household) AddEntry(ctx context.Context, burnID int64, e burn.Entry, now time.Time) error {
	return h.AddEntries(ctx, burnID, now, e)
}

// UndoTap undoes all that one tap has made; what was undone already is fine.
func (h Household) UndoTap(ctx context.Context, burnID int64, tap string, now time.Time) error {
	return h.change(ctx, burnID, func(ctx context.Context, tx *sqlx.Tx, l *burn.Log) error {
		var ids []string
		err := tx.SelectContext(ctx, &ids, `
			SELECT id
			FROM entries
			WHERE household_id = $1 AND burn_id = $2 AND doc->>'tap' = $3`, h.id, burnID, tap)
		if err != nil {
			return err
		}
		if len(ids) == 0 {
			return ErrMissing
		}
		for _, id := range ids {
			if err := l.Undo(id); err != nil {
				return h.unknown(err)
			}
			if err := h.marking(ctx, tx, setUndone, burnID, id, now, h.by); err != nil {
				return err
			}
		}
		return nil
	})
}

// CorrectEntry keeps an entry in the place of another; sent twice it is kept
// once.
func (h Household) CorrectEntry(ctx context.Context, burnID int64, old string, e burn.Entry, now time.Time) error {
	return h.change(ctx, burnID, func(ctx context.Context, tx *sqlx.Tx, l *burn.Log) error {
		err := l.Correct(old, e, now)
		if errors.Is(err, burn.ErrSame) {
			_, err := h.same(ctx, tx, burnID, e)
			return err
		}
		if err != nil {
			return h.unknown(err)
		}
		e.Corrects, e.By = old, h.by
		return h.insert(ctx, tx, burnID, e)
	})
}

// UndoEntry undoes an entry; what it had corrected counts again.
func (h Household) UndoEntry(ctx context.Context, burnID int64, id string, now time.Time) error {
	return h.mark(ctx, burnID, id, &now)
}

// PutBackEntry takes an undo back.
func (h Household) PutBackEntry(ctx context.Context, burnID int64, id string) error {
	return h.mark(ctx, burnID, id, nil)
}

// mark undoes an entry at a moment, or (nil) puts it back.
func (h Household) mark(ctx context.Context, burnID int64, id string, undone *time.Time) error {
	return h.change(ctx, burnID, func(ctx context.Context, tx *sqlx.Tx, l *burn.Log) error {
		decide := l.PutBack
		if undone != nil {
			decide = l.Undo
		}
		if err := decide(id); err != nil {
			return h.unknown(err)
		}
		return h.marking(ctx, tx, setUndone, burnID, id, undone, h.by)
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
			SET ended = $3, ended_by = $4
			WHERE household_id = $1 AND id = $2`, h.id, id, ended, h.by)
		return err
	})
	return ended, err
}

// ReopenBurn lets an ended burn go on; a stove with another fire in it is
// [ErrBurning].
func (h Household) ReopenBurn(ctx context.Context, id int64) error {
	return h.change(ctx, id, func(ctx context.Context, tx *sqlx.Tx, _ *burn.Log) error {
		return burning(tx.ExecContext(ctx, `
			UPDATE burns
			SET ended = NULL, ended_by = ''
			WHERE household_id = $1 AND id = $2`, h.id, id))
	})
}

// RemoveBurn takes a burn off the list, or puts it back; one that is open goes back only
// where its stove has no other fire in it ([ErrBurning]).
func (h Household) RemoveBurn(ctx context.Context, id int64, gone bool, now time.Time) error {
	return h.changeAny(ctx, id, func(ctx context.Context, tx *sqlx.Tx, _ burnRow, _ *burn.Log) error {
		return burning(tx.ExecContext(ctx, `
			UPDATE burns
			SET removed_at = CASE WHEN $3 THEN COALESCE(removed_at, $4) END
			WHERE household_id = $1 AND id = $2`, h.id, id, gone, now))
	})
}

// burning is the error of a change that would have left two fires in a stove.
func burning(_ sql.Result, err error) error {
	if violates(err, "burns_open") {
		return ErrBurning
	}
	return err
}
