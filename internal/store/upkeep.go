package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"
)

// A Done is something that was done for the upkeep.
type Done struct {
	ID      int64               `db:"id"`
	StoveID sql.Null[int64]     `db:"stove_id"` // null: for the household
	Task    string              `db:"task"`     // upkeep.Key
	At      time.Time           `db:"at"`
	Note    string              `db:"note"` // what was found
	Undone  bool                `db:"undone"`
	Until   sql.Null[time.Time] `db:"until"` // it was not done but put off until then
	By      string              `db:"by_name"`
}

// mostDone is how many of these a household may have.
const mostDone = 20_000

// MarkDone keeps that a task was done, to a stove or (0) for the household; [ErrMissing]
// where there is no such stove, [ErrMany] where there are too many.
func (h Household) MarkDone(ctx context.Context, stoveID int64, task, note string, at time.Time) (int64, error) {
	return h.markDone(ctx, stoveID, task, note, at, sql.Null[time.Time]{})
}

// PutOff keeps that a task is put off until a day, with why. Errors are those of MarkDone.
func (h Household) PutOff(ctx context.Context, stoveID int64, task, why string, at, until time.Time) (int64, error) {
	return h.markDone(ctx, stoveID, task, why, at, sql.Null[time.Time]{V: until, Valid: true})
}

func (h Household) markDone(ctx context.Context, stoveID int64, task, note string, at time.Time, until sql.Null[time.Time]) (int64, error) {
	var id int64
	err := h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		var n int
		if err := tx.GetContext(ctx, &n, `SELECT count(*) FROM upkeep WHERE household_id = $1`, h.id); err != nil {
			return err
		}
		if n >= mostDone {
			return ErrMany
		}
		return orMissing(tx.GetContext(ctx, &id, `
			INSERT INTO upkeep (household_id, stove_id, task, at, note, until, by_name)
			SELECT $1, NULLIF(CAST($2 AS bigint), 0), $3, $4, $5, $6, $7
			WHERE $2 = 0 OR EXISTS (SELECT 1 FROM stoves WHERE household_id = $1 AND id = $2 AND removed_at IS NULL)
			RETURNING id`, h.id, stoveID, task, at, note, until, h.by))
	})
	return id, err
}

// UndoDone takes it back that something was done, or puts it back; twice is fine.
func (h Household) UndoDone(ctx context.Context, id int64, undone bool, now time.Time) (Done, error) {
	var d Done
	err := orMissing(h.db.GetContext(ctx, &d, `
		UPDATE upkeep
		SET undone_at = CASE WHEN $3 THEN COALESCE(undone_at, $4) END
		WHERE household_id = $1 AND id = $2
		RETURNING id, stove_id, task, at, note, until, by_name, undone_at IS NOT NULL AS undone`, h.id, id, undone, now))
	return d, err
}

// AllDone is what was done, the newest first, what was taken back with it.
func (h Household) AllDone(ctx context.Context, most int) ([]Done, error) {
	var out []Done
	err := h.db.SelectContext(ctx, &out, `
		SELECT id, stove_id, task, at, note, until, by_name, undone_at IS NOT NULL AS undone
		FROM upkeep
		WHERE household_id = $1
		ORDER BY at DESC, id DESC
		LIMIT $2`, h.id, most)
	return out, err
}

// LastDone is when each task was done last, by stove (0: the household).
func (h Household) LastDone(ctx context.Context) (map[int64]map[string]time.Time, error) {
	var rows []struct {
		Stove int64     `db:"stove"`
		Task  string    `db:"task"`
		At    time.Time `db:"at"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		SELECT COALESCE(stove_id, 0) AS stove, task, max(at) AS at
		FROM upkeep
		WHERE household_id = $1 AND undone_at IS NULL AND until IS NULL
		GROUP BY 1, 2`, h.id)
	out := map[int64]map[string]time.Time{}
	for _, r := range rows {
		if out[r.Stove] == nil {
			out[r.Stove] = map[string]time.Time{}
		}
		out[r.Stove][r.Task] = r.At
	}
	return out, err
}

// A Wear is what one burn did to its stove.
type Wear struct {
	StoveID  int64
	At       time.Time
	Hours    float64
	Dry      float64 // kg of wood, oven-dry
	Mineral  float64 // kg
	Smoulder float64 // hours
	Settled  []float64
	Black    bool    // the owner called the glass black
	Catalyst float64 // the highest reading of it, °C; 0: none
}

// Wears are what the household's burns since a moment did to their stoves, oldest first.
func (h Household) Wears(ctx context.Context, since time.Time) ([]Wear, error) {
	var rows []struct {
		StoveID  int64             `db:"stove_id"`
		At       time.Time         `db:"started"`
		Length   float64           `db:"length_s"`
		Dry      float64           `db:"dry"`
		Mineral  float64           `db:"mineral"`
		Smoulder float64           `db:"smoulder_s"`
		Deposits []byte            `db:"deposits"`
		Glass    string            `db:"glass"`
		Catalyst sql.Null[float64] `db:"catalyst"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		SELECT r.stove_id, r.started, r.length_s, r.used / (1 + r.moisture) AS dry, r.smoulder_s,
		       COALESCE(r.mineral, 0) AS mineral, COALESCE(r.settled, 'null') AS deposits,
		       COALESCE(e.doc->>'glass', '') AS glass,
		       -- only a stove that has a catalyst has its readings looked through
		       CASE WHEN s.spec->>'family' = 'catalytic'
		            THEN (SELECT max(g.reading) FROM readings g
		                  WHERE g.household_id = r.household_id AND g.burn_id = r.burn_id AND g.place = 'catalyst' AND g.counts)
		       END AS catalyst
		FROM reviews r
		JOIN burns b ON b.household_id = r.household_id AND b.id = r.burn_id AND b.removed_at IS NULL AND b.ended IS NOT NULL
		JOIN stoves s ON s.household_id = r.household_id AND s.id = r.stove_id
		LEFT JOIN eyes e ON e.household_id = r.household_id AND e.burn_id = r.burn_id
		WHERE r.household_id = $1 AND r.started >= $2
		ORDER BY r.started, r.burn_id`, h.id, since)
	if err != nil {
		return nil, err
	}
	out := make([]Wear, len(rows))
	for i, r := range rows {
		out[i] = Wear{StoveID: r.StoveID, At: r.At, Hours: r.Length / 3600, Dry: r.Dry, Mineral: r.Mineral, Smoulder: r.Smoulder / 3600,
			Black: r.Glass == "black", Catalyst: r.Catalyst.V}
		if err := json.Unmarshal(r.Deposits, &out[i].Settled); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Rests are the tasks that are put off, the newest word of each counting, by stove (0: the
// household): with until when, and why. One that was done since is not among them.
func (h Household) Rests(ctx context.Context) (map[int64]map[string]Done, error) {
	var rows []Done
	err := h.db.SelectContext(ctx, &rows, `
		SELECT DISTINCT ON (stove_id, task) id, stove_id, task, at, note, until, false AS undone
		FROM upkeep
		WHERE household_id = $1 AND undone_at IS NULL
		ORDER BY stove_id, task, at DESC, id DESC`, h.id)
	out := map[int64]map[string]Done{}
	for _, r := range rows {
		if out[r.StoveID.V] == nil {
			out[r.StoveID.V] = map[string]Done{}
		}
		out[r.StoveID.V][r.Task] = r
	}
	return out, err
}

// BurntChimneys are the stoves whose chimney has burnt without an inspection since, with when
// it last did. It is said in the log of a burn, or beside one.
func (h Household) BurntChimneys(ctx context.Context) (map[int64]time.Time, error) {
	var rows []struct {
		Stove int64     `db:"stove_id"`
		At    time.Time `db:"at"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		WITH burnt AS (
		      SELECT b.stove_id, e.at
		      FROM entries e
		      JOIN burns b ON b.household_id = e.household_id AND b.id = e.burn_id AND b.removed_at IS NULL
		      WHERE e.household_id = $1 AND e.kind = 'chimney-fire' AND e.counts
		      UNION ALL
		      SELECT stove_id, at
		      FROM upkeep
		      WHERE household_id = $1 AND stove_id IS NOT NULL AND task = 'chimney-fire' AND undone_at IS NULL
		)
		SELECT stove_id, max(at) AS at
		FROM burnt f
		WHERE NOT EXISTS (SELECT 1
		                  FROM upkeep u
		                  WHERE u.household_id = $1 AND u.stove_id = f.stove_id AND u.task = 'inspect' AND u.undone_at IS NULL AND u.until IS NULL
		                    AND u.at > f.at)
		GROUP BY stove_id`, h.id)
	out := map[int64]time.Time{}
	for _, r := range rows {
		out[r.Stove] = r.At.UTC()
	}
	return out, err
}

// A Contact is somebody to call.
type Contact struct {
	Role  string `db:"role"`
	Name  string `db:"name"`
	Phone string `db:"phone"`
}

// Contacts are whom the household calls, by their roles.
func (h Household) Contacts(ctx context.Context) ([]Contact, error) {
	var out []Contact
	err := h.db.SelectContext(ctx, &out, `SELECT role, name, phone FROM contacts WHERE household_id = $1 ORDER BY role`, h.id)
	return out, err
}

// KeepContact keeps whom to call; without name and number, nobody.
func (h Household) KeepContact(ctx context.Context, c Contact) error {
	if c.Name == "" && c.Phone == "" {
		_, err := h.db.ExecContext(ctx, `DELETE FROM contacts WHERE household_id = $1 AND role = $2`, h.id, c.Role)
		return err
	}
	_, err := h.db.ExecContext(ctx, `
		INSERT INTO contacts (household_id, role, name, phone)
		VALUES ($1, $2, $3, $4)
		ON CONFLICT (household_id, role) DO UPDATE SET (name, phone) = (EXCLUDED.name, EXCLUDED.phone)`, h.id, c.Role, c.Name, c.Phone)
	return err
}
