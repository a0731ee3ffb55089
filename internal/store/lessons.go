package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/belief"
	"smolder/internal/core/learn"
)

// What is known of a stove follows from its burns and from what was done to it, in their
// order; see lessons in the migrations. It is kept as the core has it, with the version of
// the code that made it: it is never read by another, but made again.

// derived is a value of the core that follows from what is kept, as jsonb.
type derived[T any] struct{ V T }

// Scan reads jsonb.
func (d *derived[T]) Scan(src any) error {
	switch v := src.(type) {
	case []byte:
		return json.Unmarshal(v, &d.V)
	case string:
		return json.Unmarshal([]byte(v), &d.V)
	case nil:
		return nil
	}
	return fmt.Errorf("jsonb came as %T", src)
}

// Back is the kind of a [StoveChange] that goes back to what was known before.
const Back belief.Change = "back"

// A StoveChange is something that was done to a stove.
type StoveChange struct {
	ID     int64               `db:"id"`
	At     time.Time           `db:"at"`
	Kind   belief.Change       `db:"kind"`
	BackTo sql.Null[int64]     `db:"back_to"`
	Undone sql.Null[time.Time] `db:"undone_at"`
}

// mostChanges is how many changes one stove may have.
const mostChanges = 500

// ChangeStove keeps that something was done to a stove; too many are [ErrMany].
func (h Household) ChangeStove(ctx context.Context, stoveID int64, kind belief.Change, at time.Time, backTo int64) error {
	if _, err := h.Stove(ctx, stoveID); err != nil {
		return err
	}
	back := sql.Null[int64]{V: backTo, Valid: backTo != 0}
	if back.Valid {
		var there bool
		err := h.db.GetContext(ctx, &there, `
			SELECT EXISTS (SELECT 1 FROM burns WHERE household_id = $1 AND stove_id = $2 AND id = $3)`, h.id, stoveID, backTo)
		if err != nil {
			return err
		}
		if !there {
			return ErrMissing
		}
	}
	err := touched(h.db.ExecContext(ctx, `
		INSERT INTO stove_changes (household_id, stove_id, at, kind, back_to)
		SELECT $1, $2, $3, $4, $5
		WHERE (SELECT count(*) FROM stove_changes WHERE household_id = $1 AND stove_id = $2) < $6`, h.id, stoveID, at, string(kind), back, mostChanges))
	if errors.Is(err, ErrMissing) {
		return ErrMany
	}
	return err
}

// UndoStoveChange takes one back, or puts it back.
func (h Household) UndoStoveChange(ctx context.Context, stoveID, id int64, gone bool, now time.Time) error {
	return touched(h.db.ExecContext(ctx, `
		UPDATE stove_changes
		SET undone_at = CASE WHEN $4 THEN CAST($5 AS timestamptz) END
		WHERE household_id = $1 AND stove_id = $2 AND id = $3`, h.id, stoveID, id, gone, now))
}

// StoveChanges are what was done to a stove, the newest first.
func (h Household) StoveChanges(ctx context.Context, stoveID int64) ([]StoveChange, error) {
	var out []StoveChange
	err := h.db.SelectContext(ctx, &out, `
		SELECT id, at, kind, back_to, undone_at
		FROM stove_changes
		WHERE household_id = $1 AND stove_id = $2
		ORDER BY at DESC, id DESC`, h.id, stoveID)
	return out, err
}

// A Teacher is a burn or a change in the order in which they teach, by what it may be
// known that it is as it was.
type Teacher struct {
	Burn     int64         `db:"burn_id"`   // 0: a change
	Change   int64         `db:"change_id"` // 0: a burn
	At       time.Time     `db:"at"`
	Revision int64         `db:"revision"`
	Kind     belief.Change `db:"kind"`
	BackTo   int64         `db:"back_to"`
}

// Same tells whether two are the same, unchanged.
func (t Teacher) Same(o Teacher) bool {
	return t.Burn == o.Burn && t.Change == o.Change && t.Revision == o.Revision && t.At.Equal(o.At)
}

// Teachers are a stove's ended burns and what was done to it, in the order of time.
func (h Household) Teachers(ctx context.Context, stoveID int64) ([]Teacher, error) {
	var out []Teacher
	err := h.db.SelectContext(ctx, &out, `
		SELECT id AS burn_id, 0 AS change_id, ended AS at, revision, '' AS kind, 0 AS back_to
		FROM burns
		WHERE household_id = $1 AND stove_id = $2 AND ended IS NOT NULL AND removed_at IS NULL
		UNION ALL
		SELECT 0, id, at, 0, kind, COALESCE(back_to, 0)
		FROM stove_changes
		WHERE household_id = $1 AND stove_id = $2 AND undone_at IS NULL
		ORDER BY at, change_id, burn_id`, h.id, stoveID)
	return out, err
}

// A Lesson is what was known after one of them.
type Lesson struct {
	N int `db:"n"`
	Teacher
	MadeBy int                  `db:"made_by"`
	Kept   derived[learn.Known] `db:"known"`
}

// Known is what was known then.
func (l Lesson) Known() learn.Known { return l.Kept.V }

const selectLessons = `
	SELECT n, COALESCE(burn_id, 0) AS burn_id, COALESCE(change_id, 0) AS change_id, at, revision, made_by, known
	FROM lessons
	WHERE household_id = $1 AND stove_id = $2`

// LessonHeads are a stove's lessons in their order, without what was known.
func (h Household) LessonHeads(ctx context.Context, stoveID int64) ([]Lesson, error) {
	var out []Lesson
	err := h.db.SelectContext(ctx, &out, `
		SELECT n, COALESCE(burn_id, 0) AS burn_id, COALESCE(change_id, 0) AS change_id, at, revision, made_by
		FROM lessons
		WHERE household_id = $1 AND stove_id = $2
		ORDER BY n`, h.id, stoveID)
	return out, err
}

// Lessons are the newest of a stove, with what was known, the newest first.
func (h Household) Lessons(ctx context.Context, stoveID int64, most int) ([]Lesson, error) {
	var out []Lesson
	err := h.db.SelectContext(ctx, &out, selectLessons+`
	ORDER BY n DESC
	LIMIT $3`, h.id, stoveID, most)
	return out, err
}

// KnownAt is what was known of a stove at a moment; nothing is not an error.
func (h Household) KnownAt(ctx context.Context, stoveID int64, at time.Time) (learn.Known, error) {
	return h.known(ctx, selectLessons+` AND at <= $3
	ORDER BY n DESC
	LIMIT 1`, stoveID, at)
}

// KnownOfAll is what was known at a moment of each stove of which anything was.
func (h Household) KnownOfAll(ctx context.Context, at time.Time) (map[int64]learn.Known, error) {
	var rows []struct {
		Lesson
		Stove int64 `db:"stove_id"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		SELECT s.id AS stove_id, l.n, l.at, l.revision, l.made_by, l.known
		FROM stoves s
		CROSS JOIN LATERAL (
		      SELECT n, at, revision, made_by, known
		      FROM lessons
		      WHERE household_id = s.household_id AND stove_id = s.id AND at <= $2
		      ORDER BY n DESC
		      LIMIT 1) l
		WHERE s.household_id = $1 AND s.removed_at IS NULL`, h.id, at)
	out := map[int64]learn.Known{}
	for _, r := range rows {
		out[r.Stove] = r.knownNow()
	}
	return out, err
}

// knownNow is what a lesson taught; nothing where other code made it: it will be made again.
func (l Lesson) knownNow() learn.Known {
	if l.MadeBy != learn.Version || l.Known().Prior.Names == nil {
		return learn.New()
	}
	return l.Known()
}

// KnownAfter is what was known of a stove after a burn.
func (h Household) KnownAfter(ctx context.Context, stoveID, burnID int64) (learn.Known, error) {
	return h.known(ctx, selectLessons+` AND burn_id = $3`, stoveID, burnID)
}

// KnownBefore is what was known of a stove before a burn.
func (h Household) KnownBefore(ctx context.Context, stoveID, burnID int64) (learn.Known, error) {
	return h.known(ctx, selectLessons+`
	  AND n < (SELECT n FROM lessons WHERE household_id = $1 AND stove_id = $2 AND burn_id = $3)
	ORDER BY n DESC
	LIMIT 1`, stoveID, burnID)
}

func (h Household) known(ctx context.Context, query string, stoveID int64, arg any) (learn.Known, error) {
	var l Lesson
	err := orMissing(h.db.GetContext(ctx, &l, query, h.id, stoveID, arg))
	if isMissing(err) {
		return learn.New(), nil
	}
	return l.knownNow(), err
}

// KeepLesson keeps what is known after the n-th teacher of a stove; what was kept from
// there on is let go.
func (h Household) KeepLesson(ctx context.Context, stoveID int64, n int, t Teacher, known learn.Known) error {
	text, err := json.Marshal(known)
	if err != nil {
		return err
	}
	return h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `
			DELETE FROM lessons
			WHERE household_id = $1 AND stove_id = $2 AND n >= $3`, h.id, stoveID, n); err != nil {
			return err
		}
		id := func(n int64) sql.Null[int64] { return sql.Null[int64]{V: n, Valid: n != 0} }
		_, err := tx.ExecContext(ctx, `
			INSERT INTO lessons (household_id, stove_id, n, at, burn_id, change_id, revision, made_by, known)
			VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)`, h.id, stoveID, n, t.At, id(t.Burn), id(t.Change), t.Revision, learn.Version, string(text))
		return err
	})
}

// ForgetLessons lets go of a stove's lessons from the n-th on.
func (h Household) ForgetLessons(ctx context.Context, stoveID int64, n int) error {
	_, err := h.db.ExecContext(ctx, `
		DELETE FROM lessons
		WHERE household_id = $1 AND stove_id = $2 AND n >= $3`, h.id, stoveID, n)
	return err
}
