package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/ways"
)

// A Trial is one that a household has begun.
type Trial struct {
	ID    int64
	Stove int64
	ways.Trial
	Begun time.Time
	Ended sql.Null[time.Time]
}

// asked is a trial's question as it is kept.
type asked struct {
	ways.Question
	By ways.Figure `json:",omitempty"`
}

// mostTrials is how many a household may begin.
const mostTrials = 200

// BeginTrial keeps a new trial of a stove; one that goes on is ended by it.
func (h Household) BeginTrial(ctx context.Context, stoveID int64, t ways.Trial, at time.Time) error {
	if _, err := h.Stove(ctx, stoveID); err != nil {
		return err
	}
	text, err := json.Marshal(asked{t.Question, t.By})
	if err != nil {
		return err
	}
	err = h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `
			UPDATE trials
			SET ended_at = $3
			WHERE household_id = $1 AND stove_id = $2 AND ended_at IS NULL`, h.id, stoveID, at); err != nil {
			return err
		}
		return touched(tx.ExecContext(ctx, `
			INSERT INTO trials (household_id, stove_id, question, seed, most, begun_at)
			SELECT $1, $2, $3, $4, $5, $6
			WHERE (SELECT count(*) FROM trials WHERE household_id = $1) < $7`,
			h.id, stoveID, string(text), int64(t.Seed), t.Most, at, mostTrials)) //nolint:gosec // bits are kept
	})
	if errors.Is(err, ErrMissing) {
		return ErrMany
	}
	return err
}

// EndTrial ends one.
func (h Household) EndTrial(ctx context.Context, id int64, at time.Time) error {
	return touched(h.db.ExecContext(ctx, `
		UPDATE trials
		SET ended_at = COALESCE(ended_at, $3)
		WHERE household_id = $1 AND id = $2`, h.id, id, at))
}

// Trials are a stove's, the newest first.
func (h Household) Trials(ctx context.Context, stoveID int64) ([]Trial, error) {
	var rows []struct {
		ID       int64               `db:"id"`
		Stove    int64               `db:"stove_id"`
		Question string              `db:"question"`
		Seed     int64               `db:"seed"`
		Most     int                 `db:"most"`
		Begun    time.Time           `db:"begun_at"`
		Ended    sql.Null[time.Time] `db:"ended_at"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		SELECT id, stove_id, question, seed, most, begun_at, ended_at
		FROM trials
		WHERE household_id = $1 AND stove_id = $2
		ORDER BY begun_at DESC, id DESC`, h.id, stoveID)
	if err != nil {
		return nil, err
	}
	out := make([]Trial, len(rows))
	for i, r := range rows {
		out[i] = Trial{ID: r.ID, Stove: r.Stove, Begun: r.Begun, Ended: r.Ended, Trial: ways.Trial{Seed: uint64(r.Seed),
			Most: r.Most}} //nolint:gosec // as it was kept
		var a asked
		if err := json.Unmarshal([]byte(r.Question), &a); err != nil {
			return nil, err
		}
		out[i].Question, out[i].By = a.Question, a.By
	}
	return out, nil
}

// ReviewsSince are the reviews of a stove's burns since a moment, in the order of time.
func (h Household) ReviewsSince(ctx context.Context, stoveID int64, since time.Time, most int) ([]Reviewed, error) {
	var out []Reviewed
	err := h.db.SelectContext(ctx, &out, selectReviews+` AND r.stove_id = $2 AND r.started >= $3
	ORDER BY r.started
	LIMIT $4`, h.id, stoveID, since, most)
	return out, err
}
