package store

import (
	"context"
	"database/sql"
	"slices"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A Siting is what an owner tells of how a stack lies.
type Siting struct {
	Cover    wood.Cover // empty: not told
	Wind     sql.Null[float64]
	Sun      sql.Null[float64]
	OnGround bool
	Heap     bool      // as it was tipped, not stacked
	Dead     bool      // the tree stood dead for years
	Round    bool      // not split
	Crooked  bool      // gnarled pieces
	Since    time.Time // split, or felled where it is round; zero: not told
}

// A Stack is what was told of a stack, and what was read and counted in it. How dry it is and
// what is left of it follow from that, and are not kept: package shed works them out.
type Stack struct {
	ID            int64
	wood.Stack                   // of it: name, species, piece, kindling, assumed
	PieceMoisture units.Fraction // of dry wood, of the pieces when their mass was told
	Siting
	Readings []StackReading // those that count, oldest first
	Counts   []StackCount   // likewise
	Removed  bool           // off the list
	Version  int            // counts changes
}

type stackRow struct {
	ID            int64               `db:"id"`
	Name          string              `db:"name"`
	Species       string              `db:"species"`
	PieceMass     float64             `db:"piece_mass"`
	PieceMoisture float64             `db:"piece_moisture"`
	PieceLength   float64             `db:"piece_length"`
	Thin          float64             `db:"thin_piece"`
	Thick         float64             `db:"thick_piece"`
	Kindling      bool                `db:"kindling"`
	Version       int                 `db:"version"`
	Assumed       string              `db:"assumed"`
	Cover         string              `db:"cover"`
	Wind          sql.Null[float64]   `db:"wind"`
	Sun           sql.Null[float64]   `db:"sun"`
	OnGround      bool                `db:"on_ground"`
	Heap          bool                `db:"heap"`
	Dead          bool                `db:"standing_dead"`
	Round         bool                `db:"round"`
	Crooked       bool                `db:"crooked"`
	Since         sql.Null[time.Time] `db:"since"`
	Removed       bool                `db:"removed"`
}

func (r stackRow) stack() Stack {
	species, err := wood.SpeciesByKey(r.Species)
	if err != nil { // a kind dropped from the list: its name and a middling density
		species = wood.Species{Key: r.Species, Name: r.Species, Gravity: 0.5, Gross: 20}
	}
	return Stack{ID: r.ID, Version: r.Version, Removed: r.Removed, PieceMoisture: units.Fraction(r.PieceMoisture),
		Stack: wood.Stack{Name: r.Name, Species: species, PieceMass: units.Kilogram(r.PieceMass), PieceLength: units.Metre(r.PieceLength),
			Thin: units.Kilogram(r.Thin), Thick: units.Kilogram(r.Thick),
			Kindling: r.Kindling, Assumed: strings.Fields(r.Assumed)},
		Siting: Siting{Cover: wood.Cover(r.Cover), Wind: r.Wind, Sun: r.Sun, OnGround: r.OnGround, Heap: r.Heap, Dead: r.Dead, Round: r.Round, Crooked: r.Crooked, Since: r.Since.V}}
}

// Stacks returns the household's stacks, kindling last, those off the list among them (Removed).
func (h Household) Stacks(ctx context.Context) ([]Stack, error) {
	var rows []stackRow
	err := h.db.SelectContext(ctx, &rows, `
		SELECT s.id, s.name, s.species, s.piece_mass, s.piece_moisture, s.piece_length, s.kindling, s.version, s.assumed,
		       s.cover, s.wind, s.sun, s.on_ground, s.round, s.crooked, s.since, s.heap, s.standing_dead, s.thin_piece, s.thick_piece, s.removed_at IS NOT NULL AS removed
		FROM stacks s
		WHERE s.household_id = $1
		ORDER BY s.kindling, s.id`, h.id)
	if err != nil || len(rows) == 0 {
		return []Stack{}, err
	}
	readings, err := h.stackReadings(ctx)
	if err != nil {
		return nil, err
	}
	counts, err := h.stackCounts(ctx)
	out := make([]Stack, len(rows))
	for i, r := range rows {
		out[i] = r.stack()
		out[i].Readings, out[i].Counts = readings[r.ID], counts[r.ID]
	}
	return out, err
}

// fields are the columns of what is told, in their order.
func (s Stack) fields() []any {
	var since *time.Time
	if !s.Since.IsZero() {
		since = &s.Since
	}
	assumed := slices.DeleteFunc(slices.Clone(s.Assumed), func(field string) bool { return field == "reading" || field == "wood-temp" }) // they follow
	return []any{s.Name, NameKey(s.Name), s.Species.Key, s.PieceMass, s.PieceMoisture, s.PieceLength, s.Kindling, strings.Join(assumed, " "),
		string(s.Cover), s.Wind, s.Sun, s.OnGround, s.Round, s.Crooked, since, s.Heap, s.Dead, s.Thin, s.Thick}
}

const insertStack = `
	INSERT INTO stacks (household_id, name, name_key, species, piece_mass, piece_moisture, piece_length, kindling, assumed,
	                    cover, wind, sun, on_ground, round, crooked, since, heap, standing_dead, thin_piece, thick_piece)
	VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20)`

// AddStack keeps a new stack with its first reading and its first count, where there are
// any, as they were at a moment.
func (h Household) AddStack(ctx context.Context, s Stack, r *StackReading, c *StackCount, at time.Time) (int64, error) {
	if err := h.allows(ctx, OfStacks, 1); err != nil {
		return 0, err
	}
	var id int64
	err := h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		err := tx.GetContext(ctx, &id, insertStack+` RETURNING id`, append([]any{h.id}, s.fields()...)...)
		if err == nil && r != nil {
			r.At = at
			err = h.addReading(ctx, tx, id, *r)
		}
		if err == nil && c != nil {
			c.At = at
			err = h.addCount(ctx, tx, id, *c)
		}
		return err
	})
	if violates(err, "stacks_name") {
		return 0, ErrTaken
	}
	return id, err
}

// SaveStack changes what is told of a stack; [ErrStale] when somebody else has since the
// given version.
func (h Household) SaveStack(ctx context.Context, s Stack) error {
	err := touched(h.db.ExecContext(ctx, `
		UPDATE stacks
		SET name = $4, name_key = $5, species = $6, piece_mass = $7, piece_moisture = $8, piece_length = $9, kindling = $10, assumed = $11,
		    cover = $12, wind = $13, sun = $14, on_ground = $15, round = $16, crooked = $17, since = $18, heap = $19, standing_dead = $20, thin_piece = $21, thick_piece = $22, version = version + 1
		WHERE household_id = $1 AND id = $2 AND removed_at IS NULL AND version = $3`,
		append([]any{h.id, s.ID, s.Version}, s.fields()...)...))
	if violates(err, "stacks_name") {
		return ErrTaken
	}
	return h.fresh(ctx, "stacks", s.ID, err)
}

// RemoveStack marks a stack as gone, or brings it back.
func (h Household) RemoveStack(ctx context.Context, id int64, gone bool, now time.Time) error {
	err := touched(h.db.ExecContext(ctx, `
		UPDATE stacks
		SET removed_at = CASE WHEN $3 THEN COALESCE(removed_at, $4) END
		WHERE household_id = $1 AND id = $2`, h.id, id, gone, now))
	if violates(err, "stacks_name") {
		return ErrTaken
	}
	return err
}
