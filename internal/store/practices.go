package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"smolder/internal/core/practice"
)

// MostPractices is how many practices of one member are kept; the oldest go.
const MostPractices = 200

// A Practice is a fire that somebody practises on, as it is kept.
type Practice struct {
	ID      int64
	User    int64
	Lesson  practice.Key
	On      string // name of the stove, or its family
	Spec    practice.Spec
	Done    []practice.Done
	Elapsed time.Duration // since the lesson began, when it was last kept
	Begun   time.Time
	Ended   time.Time // zero while it goes on
	Score   float64
	Marks   []practice.Mark
}

type practiceRow struct {
	ID      int64           `db:"id"`
	User    int64           `db:"user_id"`
	Lesson  string          `db:"lesson"`
	On      string          `db:"on_stove"`
	Spec    []byte          `db:"spec"`
	Acts    []byte          `db:"acts"`
	Elapsed float64         `db:"elapsed"`
	Begun   time.Time       `db:"begun"`
	Ended   sql.NullTime    `db:"ended"`
	Score   sql.NullFloat64 `db:"score"`
	Marks   []byte          `db:"marks"`
}

func (r practiceRow) practice() (Practice, error) {
	p := Practice{ID: r.ID, User: r.User, Lesson: practice.Key(r.Lesson), On: r.On, Elapsed: time.Duration(r.Elapsed * float64(time.Second)).Round(time.Second),
		Begun: r.Begun, Ended: r.Ended.Time, Score: r.Score.Float64}
	for _, part := range []struct {
		doc  []byte
		into any
	}{{r.Spec, &p.Spec}, {r.Acts, &p.Done}, {r.Marks, &p.Marks}} {
		if len(part.doc) == 0 {
			continue
		}
		if err := json.Unmarshal(part.doc, part.into); err != nil {
			return Practice{}, fmt.Errorf("practice %d: %w", r.ID, errors.Join(ErrUnreadable, err))
		}
	}
	return p, nil
}

// BeginPractice keeps a new one of a member, and lets go what is the oldest beyond [MostPractices].
func (h Household) BeginPractice(ctx context.Context, user int64, on string, spec practice.Spec, at time.Time) (int64, error) {
	doc, err := json.Marshal(spec)
	if err != nil {
		return 0, err
	}
	var id int64
	if err := h.db.GetContext(ctx, &id, `
		INSERT INTO practices (household_id, user_id, lesson, on_stove, spec, begun)
		VALUES ($1, $2, $3, $4, $5, $6)
		RETURNING id`, h.id, user, spec.Lesson, on, doc, at); err != nil {
		return 0, err
	}
	_, err = h.db.ExecContext(ctx, `
		DELETE FROM practices
		WHERE household_id = $1 AND user_id = $2 AND id NOT IN (
			SELECT id FROM practices
			WHERE household_id = $1 AND user_id = $2
			ORDER BY begun DESC, id DESC
			LIMIT $3)`, h.id, user, MostPractices)
	return id, err
}

// Practice is one of a member's.
func (h Household) Practice(ctx context.Context, user, id int64) (Practice, error) {
	var r practiceRow
	err := h.db.GetContext(ctx, &r, `
		SELECT id, user_id, lesson, on_stove, spec, acts, elapsed, begun, ended, score, marks
		FROM practices
		WHERE household_id = $1 AND user_id = $2 AND id = $3`, h.id, user, id)
	if errors.Is(err, sql.ErrNoRows) {
		return Practice{}, ErrMissing
	}
	if err != nil {
		return Practice{}, err
	}
	return r.practice()
}

// Practised are a member's practices, the newest first, without what was done in them.
func (h Household) Practised(ctx context.Context, user int64) ([]Practice, error) {
	var rows []practiceRow
	err := h.db.SelectContext(ctx, &rows, `
		SELECT id, user_id, lesson, on_stove, elapsed, begun, ended, score
		FROM practices
		WHERE household_id = $1 AND user_id = $2
		ORDER BY begun DESC, id DESC`, h.id, user)
	if err != nil {
		return nil, err
	}
	out := make([]Practice, len(rows))
	for i, r := range rows {
		if out[i], err = r.practice(); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// KeepPractice keeps what was done in a practice of which so much was kept before; [ErrStale] where
// somebody else has done something meanwhile. One that has ended stays as it is.
func (h Household) KeepPractice(ctx context.Context, p Practice, before int) error {
	acts, err := json.Marshal(p.Done)
	if err != nil {
		return err
	}
	marks, err := json.Marshal(p.Marks)
	if err != nil {
		return err
	}
	ended, score := sql.NullTime{Time: p.Ended, Valid: !p.Ended.IsZero()}, sql.NullFloat64{Float64: p.Score, Valid: !p.Ended.IsZero()}
	changed, err := h.db.ExecContext(ctx, `
		UPDATE practices
		SET acts = $4, acts_count = $5, elapsed = $6, ended = $7, score = $8, marks = $9
		WHERE household_id = $1 AND user_id = $2 AND id = $3 AND acts_count = $10 AND ended IS NULL`,
		h.id, p.User, p.ID, acts, len(p.Done), p.Elapsed.Seconds(), ended, score, marks, before)
	if err != nil {
		return err
	}
	if n, err := changed.RowsAffected(); err != nil || n == 0 {
		return errors.Join(err, ErrStale)
	}
	return nil
}

// DropPractice lets one go; twice is fine.
func (h Household) DropPractice(ctx context.Context, user, id int64) error {
	_, err := h.db.ExecContext(ctx, `
		DELETE FROM practices
		WHERE household_id = $1 AND user_id = $2 AND id = $3`, h.id, user, id)
	return err
}
