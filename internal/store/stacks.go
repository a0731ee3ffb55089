package store

import (
	"context"
	"math"
	"strings"
	"time"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A Stack is a stack with its number; its Mass is what is left now.
type Stack struct {
	ID int64
	wood.Stack
	Counted   units.Kilogram // what was there when it was counted
	CountedAt time.Time
	Used      units.Kilogram // logged since
	Version   int            // counts changes
}

type stackRow struct {
	ID          int64     `db:"id"`
	Name        string    `db:"name"`
	Species     string    `db:"species"`
	PieceMass   float64   `db:"piece_mass"`
	PieceLength float64   `db:"piece_length"`
	Reading     float64   `db:"reading"`
	WoodTemp    float64   `db:"wood_temp"`
	Mass        float64   `db:"mass"`
	Kindling    bool      `db:"kindling"`
	CountedAt   time.Time `db:"counted_at"`
	Used        float64   `db:"used"`
	Version     int       `db:"version"`
	Spread      float64   `db:"spread"`
	Assumed     string    `db:"assumed"`
}

func (r stackRow) stack() Stack {
	species, err := wood.SpeciesByKey(r.Species)
	if err != nil { // a kind dropped from the list: its name and a middling density
		species = wood.Species{Key: r.Species, Name: r.Species, Gravity: 0.5, Gross: 20}
	}
	s := Stack{ID: r.ID, Counted: units.Kilogram(r.Mass), CountedAt: r.CountedAt, Used: units.Kilogram(r.Used), Version: r.Version}
	s.Stack = wood.Stack{Name: r.Name, Species: species, PieceMass: units.Kilogram(r.PieceMass),
		PieceLength: units.Metre(r.PieceLength), Reading: units.Fraction(r.Reading), WoodTemp: units.Celsius(r.WoodTemp),
		Mass: units.Kilogram(math.Max(0, r.Mass-r.Used)), Kindling: r.Kindling,
		Spread: units.Fraction(r.Spread), Assumed: strings.Fields(r.Assumed)}
	return s
}

const selectStacks = `
	SELECT s.id, s.name, s.species, s.piece_mass, s.piece_length, s.reading, s.wood_temp, s.mass, s.kindling, s.counted_at, s.version, s.spread, s.assumed,
	       -- loads logged since the stack was counted, of burns that are not removed
	       COALESCE((SELECT sum(e.load_mass)
	                 FROM entries e
	                 JOIN burns b ON b.household_id = e.household_id AND b.id = e.burn_id
	                 WHERE e.household_id = s.household_id AND e.stack_id = s.id AND e.kind IN ('load', 'mineral')
	                   AND e.counts AND b.removed_at IS NULL AND e.at >= s.counted_at), 0) AS used
	FROM stacks s
	WHERE s.household_id = $1`

// Stacks returns the household's stacks, kindling last.
func (h Household) Stacks(ctx context.Context) ([]Stack, error) {
	return h.stacks(ctx, `s.removed_at IS NULL`)
}

// GoneStacks returns the stacks that were taken off the list.
func (h Household) GoneStacks(ctx context.Context) ([]Stack, error) {
	return h.stacks(ctx, `s.removed_at IS NOT NULL`)
}

func (h Household) stacks(ctx context.Context, which string) ([]Stack, error) {
	var rows []stackRow
	err := h.db.SelectContext(ctx, &rows, selectStacks+` AND `+which+`
	ORDER BY s.kindling, s.id`, h.id)
	out := make([]Stack, len(rows))
	for i, r := range rows {
		out[i] = r.stack()
	}
	return out, err
}

// Stack returns one stack.
func (h Household) Stack(ctx context.Context, id int64) (Stack, error) {
	var r stackRow
	err := h.db.GetContext(ctx, &r, selectStacks+` AND s.id = $2 AND s.removed_at IS NULL`, h.id, id)
	return r.stack(), missing(err)
}

// AddStack keeps a new stack, counted at the given time.
func (h Household) AddStack(ctx context.Context, s wood.Stack, counted time.Time) (int64, error) {
	var id int64
	err := h.db.GetContext(ctx, &id, `
		INSERT INTO stacks (household_id, name, name_key, species, piece_mass, piece_length, reading, wood_temp, mass, kindling, counted_at, spread, assumed)
		VALUES ($1, $2, $11, $3, $4, $5, $6, $7, $8, $9, $10, $12, $13)
		RETURNING id`, h.id, s.Name, s.Species.Key, s.PieceMass, s.PieceLength, s.Reading, s.WoodTemp, s.Mass, s.Kindling, counted, NameKey(s.Name), s.Spread, strings.Join(s.Assumed, " "))
	if violates(err, "stacks_name") {
		return 0, ErrTaken
	}
	return id, err
}

// SaveStack changes a stack; [ErrStale] when somebody else has since the given
// version. A mass given is a new count, from counted on; nil keeps the count.
func (h Household) SaveStack(ctx context.Context, id int64, version int, s wood.Stack, mass *units.Kilogram, counted time.Time) error {
	err := one(h.db.ExecContext(ctx, `
		UPDATE stacks
		SET name = $3, species = $4, piece_mass = $5, piece_length = $6, reading = $7, wood_temp = $8, kindling = $9,
		    mass = COALESCE($10, mass),
		    counted_at = CASE WHEN CAST($10 AS double precision) IS NULL THEN counted_at ELSE $11 END,
		    name_key = $12, spread = $14, assumed = $15, version = version + 1
		WHERE household_id = $1 AND id = $2 AND removed_at IS NULL AND version = $13`,
		h.id, id, s.Name, s.Species.Key, s.PieceMass, s.PieceLength, s.Reading, s.WoodTemp, s.Kindling, mass, counted, NameKey(s.Name), version,
		s.Spread, strings.Join(s.Assumed, " ")))
	if violates(err, "stacks_name") {
		return ErrTaken
	}
	return h.fresh(ctx, "stacks", id, err)
}

// RemoveStack marks a stack as gone, or brings it back.
func (h Household) RemoveStack(ctx context.Context, id int64, gone bool) error {
	err := one(h.db.ExecContext(ctx, `
		UPDATE stacks
		SET removed_at = CASE WHEN $3 THEN COALESCE(removed_at, now()) END
		WHERE household_id = $1 AND id = $2`, h.id, id, gone))
	if violates(err, "stacks_name") {
		return ErrTaken
	}
	return err
}
