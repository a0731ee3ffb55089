package store

import (
	"context"
	"database/sql"
	"slices"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/drying"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A Told is what an owner tells of how a stack lies.
type Told struct {
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

// What is taken of a place where nobody told.
const usualWind, usualSun = 0.5, 0.3

// Place is how it lies, with what is usual where it is not told.
func (t Told) Place() drying.Place {
	p := drying.Place{Cover: t.Cover, Wind: usualWind, Sun: usualSun, OnGround: t.OnGround, Heap: t.Heap}
	if t.Wind.Valid {
		p.Wind = t.Wind.V
	}
	if t.Sun.Valid {
		p.Sun = t.Sun.V
	}
	return p
}

// A Stack is a stack with its number, as it is at a moment. Neither its moisture nor its
// mass is stored: the one follows from its readings, its place and the weather, the other
// from its counts and the loads logged since.
type Stack struct {
	ID int64
	wood.Stack
	Told
	Moist     wood.Estimate  // of dry wood
	Ready     drying.Date    // when it comes down to [wood.ReadyTo]
	Readings  []StackReading // oldest first
	Count     wood.Amount    // oven-dry, as it was counted last, with what was put on it since
	Left      wood.Amount    // oven-dry, now
	CountedAt time.Time
	Used      units.Kilogram // oven-dry, logged since
	Version   int            // counts changes
}

// Counted is the mass of what was counted, as wet as it is now.
func (s Stack) Counted() units.Kilogram { return s.AsIs(s.Count.Middle) }

// AsIs is the mass of oven-dry wood of this stack with its water.
func (s Stack) AsIs(dry units.Kilogram) units.Kilogram {
	return dry * units.Kilogram(1+float64(s.Moisture()))
}

// Drying is the stack as the drying of it is reckoned.
func (s Stack) Drying() drying.Stack {
	d := drying.Stack{Place: s.Place(), Since: s.Since,
		Pieces: drying.Pieces{Species: s.Species, Thickness: s.PieceThickness(), Length: s.PieceLength, Round: s.Round}, Dead: s.Dead}
	for _, r := range s.Readings {
		d.Readings = append(d.Readings, r.Corrected(s.Species))
	}
	return d
}

// Metered tells whether a meter was ever read in it.
func (s Stack) Metered() bool {
	for _, r := range s.Readings {
		if !r.Guessed {
			return true
		}
	}
	return false
}

type stackRow struct {
	ID            int64               `db:"id"`
	Name          string              `db:"name"`
	Species       string              `db:"species"`
	PieceMass     float64             `db:"piece_mass"`
	PieceMoisture float64             `db:"piece_moisture"`
	PieceLength   float64             `db:"piece_length"`
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
}

func (r stackRow) stack() Stack {
	species, err := wood.SpeciesByKey(r.Species)
	if err != nil { // a kind dropped from the list: its name and a middling density
		species = wood.Species{Key: r.Species, Name: r.Species, Gravity: 0.5, Gross: 20}
	}
	return Stack{ID: r.ID, Version: r.Version,
		Stack: wood.Stack{Name: r.Name, Species: species, PieceMass: units.Kilogram(r.PieceMass), PieceLength: units.Metre(r.PieceLength),
			Kindling: r.Kindling, Assumed: strings.Fields(r.Assumed)},
		Told: Told{Cover: wood.Cover(r.Cover), Wind: r.Wind, Sun: r.Sun, OnGround: r.OnGround, Heap: r.Heap, Dead: r.Dead, Round: r.Round, Crooked: r.Crooked, Since: r.Since.V}}
}

const selectStacks = `
	SELECT s.id, s.name, s.species, s.piece_mass, s.piece_moisture, s.piece_length, s.kindling, s.version, s.assumed,
	       s.cover, s.wind, s.sun, s.on_ground, s.round, s.crooked, s.since, s.heap, s.standing_dead
	FROM stacks s
	WHERE s.household_id = $1`

// Stacks returns the household's stacks as they are at a moment, in the household's zone,
// kindling last.
func (h Household) Stacks(ctx context.Context, now time.Time) ([]Stack, error) {
	return h.stacks(ctx, now, `s.removed_at IS NULL`)
}

// GoneStacks returns the stacks that were taken off the list.
func (h Household) GoneStacks(ctx context.Context, now time.Time) ([]Stack, error) {
	return h.stacks(ctx, now, `s.removed_at IS NOT NULL`)
}

// Stack returns one stack as it is at a moment.
func (h Household) Stack(ctx context.Context, id int64, now time.Time) (Stack, error) {
	found, err := h.stacks(ctx, now, `s.removed_at IS NULL AND s.id = $2`, id)
	if err != nil || len(found) == 0 {
		return Stack{}, errorOr(err, ErrMissing)
	}
	return found[0], nil
}

func errorOr(err, other error) error {
	if err != nil {
		return err
	}
	return other
}

func (h Household) stacks(ctx context.Context, now time.Time, which string, id ...any) ([]Stack, error) {
	var rows []stackRow
	err := h.db.SelectContext(ctx, &rows, selectStacks+` AND `+which+`
	ORDER BY s.kindling, s.id`, append([]any{h.id}, id...)...)
	if err != nil || len(rows) == 0 {
		return []Stack{}, err
	}
	numbers := make([]int64, len(rows))
	for i, r := range rows {
		numbers[i] = r.ID
	}
	readings, err := h.stackReadings(ctx, numbers)
	if err != nil {
		return nil, err
	}
	counts, err := h.stackCounts(ctx, numbers)
	if err != nil {
		return nil, err
	}
	unlogged, err := h.unlogged(ctx, counts)
	if err != nil {
		return nil, err
	}
	out := make([]Stack, len(rows))
	for i, r := range rows {
		out[i] = r.stack()
		out[i].Readings = readings[r.ID]
		out[i].count(counts[r.ID], unlogged)
	}
	h.dry(out, rows, now)
	return out, nil
}

// fields are the columns of what is told, in their order.
func (s Stack) fields() []any {
	var since *time.Time
	if !s.Since.IsZero() {
		since = &s.Since
	}
	assumed := slices.DeleteFunc(slices.Clone(s.Assumed), func(field string) bool { return field == "reading" || field == "wood-temp" }) // they follow
	return []any{s.Name, NameKey(s.Name), s.Species.Key, s.PieceMass, s.Moisture(), s.PieceLength, s.Kindling, strings.Join(assumed, " "),
		string(s.Cover), s.Wind, s.Sun, s.OnGround, s.Round, s.Crooked, since, s.Heap, s.Dead}
}

// Bare is a stack of which only what package wood knows is told: a meter's reading in one
// piece, and a mass.
func Bare(w wood.Stack) (Stack, *StackReading, *StackCount) {
	var r *StackReading
	if !w.Species.Mineral {
		r = &StackReading{Reading: w.Reading, Pieces: 1, WoodTemp: sql.Null[float64]{V: float64(w.WoodTemp), Valid: true}}
	}
	a := wood.Weighed(w.Mass, w.Moisture(), 0)
	return Stack{Stack: w}, r, &StackCount{Way: wood.OnScale, Typed: units.Metric.Mass(w.Mass), Amount: a}
}

const insertStack = `
	INSERT INTO stacks (household_id, name, name_key, species, piece_mass, piece_moisture, piece_length, kindling, assumed,
	                    cover, wind, sun, on_ground, round, crooked, since, heap, standing_dead)
	VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18)`

// AddStack keeps a new stack with its first reading and its first count, where there are
// any, as they were at a moment.
func (h Household) AddStack(ctx context.Context, s Stack, r *StackReading, c *StackCount, at time.Time) (int64, error) {
	var id int64
	err := h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		err := tx.GetContext(ctx, &id, insertStack+` RETURNING id`, append([]any{h.id}, s.fields()...)...)
		if err == nil && r != nil {
			r.At = at
			err = addReading(ctx, tx, h.id, id, *r)
		}
		if err == nil && c != nil {
			c.At = at
			err = addCount(ctx, tx, h.id, id, *c)
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
	err := one(h.db.ExecContext(ctx, `
		UPDATE stacks
		SET name = $4, name_key = $5, species = $6, piece_mass = $7, piece_moisture = $8, piece_length = $9, kindling = $10, assumed = $11,
		    cover = $12, wind = $13, sun = $14, on_ground = $15, round = $16, crooked = $17, since = $18, heap = $19, standing_dead = $20, version = version + 1
		WHERE household_id = $1 AND id = $2 AND removed_at IS NULL AND version = $3`,
		append([]any{h.id, s.ID, s.Version}, s.fields()...)...))
	if violates(err, "stacks_name") {
		return ErrTaken
	}
	return h.fresh(ctx, "stacks", s.ID, err)
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
