package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/burn"
	"smolder/internal/core/day"
	"smolder/internal/core/plan"
	"smolder/internal/form"
)

// A Planned is a plan with an address: made once, then opened, printed, kept
// and started from what was made. Burn or Day holds it; both are nil for one
// that was kept before plans had rows, of which only the question is known.
type Planned struct {
	ID       int64
	StoveID  int64
	Stove    string
	Choice   string // the same for the plans of one search
	Place    int    // among them; the best is 0
	Burn     *plan.Plan
	Day      *day.Day
	Asked    string // the sentence it answers, as a query
	Sentence string
	Begins   time.Time
	Made     time.Time
	Kept     bool
	Dropped  bool
	BurnID   int64 // what it was started as; 0: not yet
}

type planRow struct {
	ID       int64               `db:"id"`
	StoveID  int64               `db:"stove_id"`
	Stove    string              `db:"stove"`
	Choice   string              `db:"choice"`
	Place    int                 `db:"place"`
	Kind     string              `db:"kind"`
	Form     []byte              `db:"form"`
	Asked    string              `db:"asked"`
	Sentence string              `db:"sentence"`
	Begins   time.Time           `db:"begins_at"`
	Made     time.Time           `db:"made_at"`
	Kept     sql.Null[time.Time] `db:"kept_at"`
	Dropped  sql.Null[time.Time] `db:"dropped_at"`
	BurnID   sql.Null[int64]     `db:"burn_id"`
}

func (r planRow) planned() (Planned, error) {
	p := Planned{ID: r.ID, StoveID: r.StoveID, Stove: r.Stove, Choice: r.Choice, Place: r.Place, Asked: r.Asked, Sentence: r.Sentence,
		Begins: r.Begins.UTC(), Made: r.Made.UTC(), Kept: r.Kept.Valid, Dropped: r.Dropped.Valid, BurnID: r.BurnID.V}
	if len(r.Form) == 0 {
		return p, nil
	}
	if r.Kind == planKindDay {
		d, err := form.Read[form.Day](r.Form)
		p.Day = &d
		return p, unreadable(err)
	}
	b, err := form.Read[form.Plan](r.Form)
	p.Burn = &b
	return p, unreadable(err)
}

// unreadable is an error of reading a form, as [ErrUnreadable].
func unreadable(err error) error {
	if err == nil {
		return nil
	}
	return fmt.Errorf("%w: %w", ErrUnreadable, err)
}

// written is the plan's kind and its form; null where there is none.
func (p Planned) written() (kind string, text *string, err error) {
	var b string
	switch {
	case p.Day != nil:
		kind = planKindDay
		b, err = encode(form.DayOf(*p.Day))
	case p.Burn != nil:
		kind = planKindBurn
		b, err = encode(form.PlanOf(*p.Burn))
	default:
		return planKindBurn, nil, nil
	}
	return kind, &b, err
}

const (
	planKindBurn = "burn"
	planKindDay  = "day"
)

// mostPlans is how many plans that nobody kept a household has at a time; older
// ones make room.
const mostPlans = 60

const selectPlans = `
	SELECT p.id, p.stove_id, s.name AS stove, p.choice, p.place, p.kind, p.form, p.asked, p.sentence, p.begins_at, p.made_at, p.kept_at, p.dropped_at, p.burn_id
	FROM plans p
	JOIN stoves s ON s.household_id = p.household_id AND s.id = p.stove_id
	WHERE p.household_id = $1`

// KeepPlans gives the plans of one search their rows and returns their numbers,
// in order. Their stove must be the household's, else the error is [ErrMissing].
func (h Household) KeepPlans(ctx context.Context, plans []Planned) ([]int64, error) {
	ids := make([]int64, len(plans))
	err := h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		for i, p := range plans {
			kind, text, err := p.written()
			if err != nil {
				return err
			}
			err = tx.GetContext(ctx, &ids[i], `
				INSERT INTO plans (household_id, stove_id, choice, place, kind, form, asked, sentence, begins_at, made_at)
				SELECT household_id, id, $3, $4, $5, $6, $7, $8, $9, $10
				FROM stoves
				WHERE household_id = $1 AND id = $2 AND removed_at IS NULL
				RETURNING id`, h.id, p.StoveID, p.Choice, p.Place, kind, text, p.Asked, p.Sentence, p.Begins.UTC(), p.Made.UTC())
			if err != nil {
				return orMissing(err)
			}
		}
		_, err := tx.ExecContext(ctx, `
			DELETE FROM plans
			WHERE household_id = $1 AND kept_at IS NULL AND burn_id IS NULL
			  AND id NOT IN (SELECT id FROM plans
			                 WHERE household_id = $1 AND kept_at IS NULL AND burn_id IS NULL
			                 ORDER BY made_at DESC, id DESC
			                 LIMIT $2)`, h.id, mostPlans)
		return err
	})
	return ids, err
}

// Planned returns one plan.
func (h Household) Planned(ctx context.Context, id int64) (Planned, error) {
	var r planRow
	if err := h.db.GetContext(ctx, &r, selectPlans+` AND p.id = $2`, h.id, id); err != nil {
		return Planned{}, orMissing(err)
	}
	return r.planned()
}

// Choice returns the plans of one search, the best first.
func (h Household) Choice(ctx context.Context, choice string) ([]Planned, error) {
	return h.plans(ctx, selectPlans+` AND p.choice = $2
	ORDER BY p.place`, h.id, choice)
}

// A Sentence is what was asked of a plan, and when it was to begin.
type Sentence struct {
	Asked  string    `db:"asked"`
	Begins time.Time `db:"begins_at"`
}

// LastSentences are those of the newest plans, the newest first.
func (h Household) LastSentences(ctx context.Context, most int) ([]Sentence, error) {
	var rows []Sentence
	err := h.db.SelectContext(ctx, &rows, `
		SELECT asked, begins_at
		FROM plans
		WHERE household_id = $1 AND place = 0 AND asked <> ''
		ORDER BY made_at DESC, id DESC
		LIMIT $2`, h.id, most)
	return rows, err
}

// KeptPlans returns the kept plans that begin from a time on, the next first.
func (h Household) KeptPlans(ctx context.Context, from time.Time) ([]Planned, error) {
	return h.plans(ctx, selectPlans+` AND p.kept_at IS NOT NULL AND p.dropped_at IS NULL AND p.burn_id IS NULL AND p.begins_at >= $2 AND s.removed_at IS NULL
	ORDER BY p.begins_at, p.id
	LIMIT 30`, h.id, from.UTC())
}

func (h Household) plans(ctx context.Context, query string, args ...any) ([]Planned, error) {
	var rows []planRow
	if err := h.db.SelectContext(ctx, &rows, query, args...); err != nil {
		return nil, err
	}
	out := make([]Planned, 0, len(rows))
	for _, r := range rows {
		// A plan of another program's form hides no other.
		if p, err := r.planned(); err == nil {
			out = append(out, p)
		} else if !errors.Is(err, ErrUnreadable) {
			return nil, err
		}
	}
	return out, nil
}

// MarkKept keeps a plan for later; keeping it twice is fine.
func (h Household) MarkKept(ctx context.Context, id int64, now time.Time) error {
	return touched(h.db.ExecContext(ctx, `
		UPDATE plans
		SET kept_at = COALESCE(kept_at, $3), dropped_at = NULL
		WHERE household_id = $1 AND id = $2`, h.id, id, now))
}

// DropPlan drops a kept plan, or brings it back. One that is not there, or
// another household's, is [ErrMissing]; dropping twice is fine.
func (h Household) DropPlan(ctx context.Context, id int64, gone bool, now time.Time) error {
	return touched(h.db.ExecContext(ctx, `
		UPDATE plans
		SET dropped_at = CASE WHEN $3 THEN COALESCE(dropped_at, $4) END
		WHERE household_id = $1 AND id = $2`, h.id, id, gone, now))
}

// StartPlan begins a burn from a plan and returns the burn's number. A plan is
// started once: the second hand is led to the burn that the first began.
func (h Household) StartPlan(ctx context.Context, p Planned, b burn.Burn) (int64, error) {
	var id int64
	err := h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		var begun sql.Null[int64]
		err := tx.GetContext(ctx, &begun, `
			SELECT burn_id
			FROM plans
			WHERE household_id = $1 AND id = $2
			FOR UPDATE`, h.id, p.ID)
		if err != nil {
			return orMissing(err)
		}
		if begun.Valid {
			id = begun.V
			return nil
		}
		if id, err = h.startBurn(ctx, tx, p.StoveID, "", b, p.Burn); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `
			UPDATE plans
			SET burn_id = $3
			WHERE household_id = $1 AND id = $2`, h.id, p.ID, id)
		return err
	})
	return id, err
}

// Progress keeps how far a search is.
func (h Household) Progress(ctx context.Context, name string, burnt, fires, waiting int, now time.Time) error {
	_, err := h.db.ExecContext(ctx, `
		INSERT INTO searches (household_id, name, burnt, fires, waiting, at)
		VALUES ($1, $2, $3, $4, $5, $6)
		ON CONFLICT (household_id, name) DO UPDATE
		SET burnt = EXCLUDED.burnt, fires = EXCLUDED.fires, waiting = EXCLUDED.waiting, at = EXCLUDED.at`, h.id, name, burnt, fires, waiting, now)
	return err
}

// ProgressOf tells how far a search is; zeros when nothing is known of it.
func (h Household) ProgressOf(ctx context.Context, name string) (burnt, fires, waiting int, err error) {
	return h.ProgressSince(ctx, name, time.Time{})
}

// ProgressSince is [Household.ProgressOf], of what was kept since a moment.
func (h Household) ProgressSince(ctx context.Context, name string, since time.Time) (burnt, fires, waiting int, err error) {
	var row struct{ Burnt, Fires, Waiting int }
	err = h.db.GetContext(ctx, &row, `
		SELECT burnt, fires, waiting
		FROM searches
		WHERE household_id = $1 AND name = $2 AND at >= $3`, h.id, name, since)
	if isMissing(orMissing(err)) {
		err = nil
	}
	return row.Burnt, row.Fires, row.Waiting, err
}
