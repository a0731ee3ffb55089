package store

import (
	"context"
	"database/sql"
	"errors"
	"slices"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/burn"
	"smolder/internal/core/learn"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
	"smolder/internal/form"
)

// A Burn is a burn with its number, its stove's number and its plan.
type Burn struct {
	ID      int64
	StoveID int64
	Title   string
	burn.Burn
	Plan     *plan.Plan
	Removed  bool
	Revision int64       // counts its changes
	Known    learn.Known // of its stove, when it was lit
	// Unreadable says why it cannot be read, where it cannot ([ErrUnreadable]): of such a burn
	// only numbers, title and times are known.
	Unreadable error
}

type burnRow struct {
	ID       int64                      `db:"id"`
	StoveID  int64                      `db:"stove_id"`
	Title    string                     `db:"title"`
	Spec     kept[form.Burn, burn.Burn] `db:"spec"`
	Plan     kept[form.Plan, plan.Plan] `db:"plan"`
	Started  time.Time                  `db:"started"`
	Ended    sql.Null[time.Time]        `db:"ended"`
	Removed  bool                       `db:"removed"`
	Revision int64                      `db:"revision"`
	EndedBy  string                     `db:"ended_by"`
}

func (r burnRow) burn() Burn {
	b := Burn{ID: r.ID, StoveID: r.StoveID, Title: r.Title, Burn: r.Spec.V, Removed: r.Removed, Revision: r.Revision,
		Unreadable: errors.Join(r.Spec.Bad, r.Plan.Bad)}
	if r.Plan.There {
		b.Plan = &r.Plan.V
	}
	b.Started = r.Started.UTC()
	b.Ended, b.EndedBy = time.Time{}, r.EndedBy
	if r.Ended.Valid {
		b.Ended = r.Ended.V.UTC()
	}
	return b
}

const selectBurns = `
	SELECT id, stove_id, title, spec, plan, started, ended, removed_at IS NOT NULL AS removed, revision, ended_by
	FROM burns
	WHERE household_id = $1`

// StartBurn keeps a new burn with the entries it has, and returns its number.
// A stove that has an open burn is ErrBurning.
func (h Household) StartBurn(ctx context.Context, stoveID int64, title string, b burn.Burn, p *plan.Plan) (int64, error) {
	if err := h.allows(ctx, OfBurns, 1); err != nil {
		return 0, err
	}
	var id int64
	err := h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) (err error) {
		id, err = h.startBurn(ctx, tx, stoveID, title, b, p)
		return err
	})
	return id, err
}

func (h Household) startBurn(ctx context.Context, tx *sqlx.Tx, stoveID int64, title string, b burn.Burn, p *plan.Plan) (int64, error) {
	entries := b.Entries
	b.Entries = nil
	if h.by != "" {
		b.LitBy = h.by
	}
	spec, err := encode(form.BurnOf(b))
	if err != nil {
		return 0, err
	}
	var planned *string
	if p != nil {
		text, err := encode(form.PlanOf(*p))
		if err != nil {
			return 0, err
		}
		planned = &text
	}
	ended := sql.Null[time.Time]{V: b.Ended, Valid: !b.Ended.IsZero()}
	var id int64
	// The stove must be this household's.
	err = tx.GetContext(ctx, &id, `
		INSERT INTO burns (household_id, stove_id, title, spec, plan, started, ended, ended_by)
		SELECT $1, id, $3, $4, $5, $6, $7, $8
		FROM stoves
		WHERE household_id = $1 AND id = $2 AND removed_at IS NULL
		FOR SHARE -- it is not taken off the list meanwhile
		RETURNING id`, h.id, stoveID, title, spec, planned, b.Started, ended, b.EndedBy)
	if violates(err, "burns_open") {
		return 0, ErrBurning
	}
	if err != nil {
		return 0, orMissing(err)
	}
	for _, e := range entries {
		if h.by != "" {
			e.By = h.by
		}
		if err := h.insert(ctx, tx, id, e); err != nil {
			return 0, err
		}
	}
	return id, h.notify(ctx, tx, Change{Burn: id, Stove: stoveID})
}

// Burn returns one burn with its entries, those that do not count included, and with
// what thermometers reported while it burnt.
func (h Household) Burn(ctx context.Context, id int64) (Burn, error) {
	b, err := h.LoggedBurn(ctx, id)
	if err != nil {
		return b, err
	}
	reported, err := h.reported(ctx, b.Burn, b.StoveID)
	if err != nil {
		return b, err
	}
	b.Entries = merged(b.Entries, reported)
	b.Known, err = h.KnownAt(ctx, b.StoveID, b.Started)
	return b, err
}

// HasBurn tells whether a burn is there, and on the list.
func (h Household) HasBurn(ctx context.Context, id int64) (there bool, err error) {
	err = h.db.GetContext(ctx, &there, `
		SELECT EXISTS (SELECT 1 FROM burns WHERE household_id = $1 AND id = $2 AND removed_at IS NULL)`, h.id, id)
	return there, err
}

// LoggedBurn returns one burn with what was logged of it by hand.
func (h Household) LoggedBurn(ctx context.Context, id int64) (Burn, error) {
	ctx, cancel := context.WithTimeout(ctx, longQuery)
	defer cancel()
	found, err := h.loggedBurns(ctx, id)
	if err != nil || len(found) == 0 {
		return Burn{}, errors.Join(err, orMissing(sql.ErrNoRows))
	}
	return found[0], found[0].Unreadable
}

// loggedBurns are those of the given numbers, the oldest first, with what was logged of them by
// hand; of one that cannot be read only that it cannot.
func (h Household) loggedBurns(ctx context.Context, numbers ...int64) ([]Burn, error) {
	var rows []burnRow
	if err := h.db.SelectContext(ctx, &rows, selectBurns+` AND id = ANY ($2) ORDER BY started, id`, h.id, numbers); err != nil {
		return nil, err
	}
	readings, err := h.readings(ctx, numbers...)
	if err != nil {
		return nil, err
	}
	others, err := h.entries(ctx, numbers...)
	out := make([]Burn, len(rows))
	for i, r := range rows {
		b := r.burn()
		if b.Unreadable == nil {
			b.Unreadable = others[r.ID].bad
		}
		b.Entries = merged(readings[r.ID], others[r.ID].entries)
		out[i] = b
	}
	return out, err
}

// SameBurn returns the burn of a stove that began at the same moment and has as
// many entries that count, or 0: a file that was read in before.
func (h Household) SameBurn(ctx context.Context, stoveID int64, b burn.Burn) (int64, error) {
	return h.sameBurn(ctx, h.db, stoveID, b)
}

// getter asks for one row, within a transaction or not.
type getter interface {
	GetContext(ctx context.Context, into any, query string, args ...any) error
}

func (h Household) sameBurn(ctx context.Context, db getter, stoveID int64, b burn.Burn) (int64, error) {
	var id int64
	err := db.GetContext(ctx, &id, `
		SELECT b.id
		FROM burns b
		WHERE b.household_id = $1 AND b.stove_id = $2 AND b.removed_at IS NULL
		  AND b.started BETWEEN CAST($3 AS timestamptz) - interval '1 millisecond' AND CAST($3 AS timestamptz) + interval '1 millisecond'
		  AND (SELECT count(*) FROM entries e WHERE e.household_id = b.household_id AND e.burn_id = b.id AND e.counts)
		    + (SELECT count(*) FROM readings r WHERE r.household_id = b.household_id AND r.burn_id = b.id AND r.counts) = $4
		LIMIT 1`, h.id, stoveID, b.Started, byHand(b))
	if isMissing(orMissing(err)) {
		return 0, nil
	}
	return id, err
}

// byHand is how many entries of a burn count that no thermometer has reported.
func byHand(b burn.Burn) (n int) {
	for e := range b.All() {
		if !e.Reported {
			n++
		}
	}
	return n
}

// WholeBurn is [Household.Burn] with everything that thermometers reported, however much it
// is: to be taken out.
func (h Household) WholeBurn(ctx context.Context, id int64) (Burn, error) {
	b, err := h.LoggedBurn(ctx, id)
	if err != nil {
		return b, err
	}
	reported, err := h.allReported(ctx, b)
	b.Entries = merged(b.Entries, reported[b.ID])
	return b, err
}

// burnsAtOnce is how many burns are fetched together.
const burnsAtOnce = 64

// EachBurn gives f every burn that began in a span, the oldest first, with all that was logged
// and reported of it and what its owner saw; those that cannot be read are left out. An error
// of f ends it and is returned. Burns are fetched some at a time, so that memory stays bounded
// however many there are.
func (h Household) EachBurn(ctx context.Context, s Span, f func(Burn, burn.Eye) error) error {
	h = h.past()
	all, err := h.BurnNumbers(ctx, s.From, s.To)
	if err != nil {
		return err
	}
	for some := range slices.Chunk(all, burnsAtOnce) {
		numbers := make([]int64, len(some))
		for i, n := range some {
			numbers[i] = n.ID
		}
		if err := h.eachOf(ctx, numbers, f); err != nil {
			return err
		}
	}
	return nil
}

func (h Household) eachOf(ctx context.Context, numbers []int64, f func(Burn, burn.Eye) error) error {
	burns, err := h.loggedBurns(ctx, numbers...)
	if err != nil {
		return err
	}
	burns = slices.DeleteFunc(burns, func(b Burn) bool { return b.Unreadable != nil })
	eyes, err := h.eyes(ctx, numbers)
	if err != nil {
		return err
	}
	counts, err := h.countReported(ctx, burns)
	if err != nil {
		return err
	}
	for len(burns) > 0 {
		n := together(burns, counts)
		reported, err := h.allReported(ctx, burns[:n]...)
		if err != nil {
			return err
		}
		for _, b := range burns[:n] {
			b.Entries = merged(b.Entries, reported[b.ID])
			if err := f(b, eyes[b.ID]); err != nil {
				return err
			}
		}
		burns = burns[n:]
	}
	return nil
}

// together is of how many burns the reported readings are fetched at once: one at least.
func together(burns []Burn, counts map[int64]int) int {
	sum := 0
	for i, b := range burns {
		if sum += counts[b.ID]; sum > keptAtOnce && i > 0 {
			return i
		}
	}
	return len(burns)
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
	Unknown bool                `db:"outdoor_unknown"` // outdoors: nobody said
	Loads   int                 `db:"loads"`
	Mass    units.Kilogram      `db:"mass"`    // wood
	Mineral units.Kilogram      `db:"mineral"` // manufactured mineral fuel
	Peak    sql.Null[float64]   `db:"peak"`    // of the gas or the pipe, as it was read
	Removed bool                `db:"removed"`
}

// outdoorOf is the outdoor temperature of a burn b, and whether nobody said it: of one that
// cannot be read, too.
const outdoorOf = `
		       CASE WHEN jsonb_typeof(b.spec->'outdoor_c') = 'number' THEN CAST(b.spec->>'outdoor_c' AS double precision) ELSE 0 END AS outdoor,
		       jsonb_typeof(b.spec->'outdoor_c') IS DISTINCT FROM 'number' OR COALESCE(b.spec->'outdoor_unknown' = 'true', false) AS outdoor_unknown`

// Burns returns the burns before a time, newest first. The page is cut out
// first; only its entries are added up.
func (h Household) Burns(ctx context.Context, before time.Time, most int) ([]BurnLine, error) {
	var rows []BurnLine
	err := h.db.SelectContext(ctx, &rows, `
		SELECT b.id, b.stove_id, COALESCE(b.spec->'stove'->>'name', '') AS stove, b.title, b.started, b.ended, b.plan IS NOT NULL AS planned,
		       `+outdoorOf+`,
		       false AS removed, e.loads, e.mass, e.mineral, r.peak
		FROM (SELECT id, household_id, stove_id, title, spec, plan, started, ended
		      FROM burns
		      WHERE household_id = $1 AND started < $2 AND removed_at IS NULL
		      ORDER BY started DESC
		      LIMIT $3) b
		CROSS JOIN LATERAL (
		      SELECT count(*) FILTER (WHERE kind = 'load') AS loads,
		             COALESCE(sum(load_mass) FILTER (WHERE kind = 'load'), 0) AS mass,
		             COALESCE(sum(load_mass) FILTER (WHERE kind = 'mineral'), 0) AS mineral
		      FROM entries
		      WHERE household_id = b.household_id AND burn_id = b.id AND counts AND kind IN ('load', 'mineral')) e
		CROSS JOIN LATERAL (
		      SELECT max(reading) AS peak
		      FROM readings
		      WHERE household_id = b.household_id AND burn_id = b.id AND counts AND place IN ('connector-probe', 'connector-surface')) r
		ORDER BY b.started DESC`, h.id, before, most)
	return rows, err
}

// LastBurns returns the newest burn of every stove that has one.
func (h Household) LastBurns(ctx context.Context) ([]BurnLine, error) {
	var rows []BurnLine
	err := h.db.SelectContext(ctx, &rows, `
		SELECT b.id, b.stove_id, b.title, b.started, b.ended
		FROM stoves s
		CROSS JOIN LATERAL (
		      SELECT id, stove_id, title, started, ended
		      FROM burns
		      WHERE household_id = s.household_id AND stove_id = s.id AND removed_at IS NULL
		      ORDER BY started DESC
		      LIMIT 1) b
		WHERE s.household_id = $1
		ORDER BY b.stove_id`, h.id)
	return rows, err
}

// OpenBurns returns the burns that are not ended, newest first, without their
// entries, those that cannot be read among them.
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
