package store

import (
	"context"
	"database/sql"
	"fmt"
	"strings"
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A BurnFilter is what burns are looked for by; what is empty does not matter.
type BurnFilter struct {
	Stove     int64
	Species   string
	Lay       string
	Direction string
	Start     string // "cold" or "coals"
	Moisture  [2]float64
	Outdoor   [2]float64
	HasWet    bool   // Moisture is asked for
	HasOut    bool   // Outdoor is
	Result    string // "clean", "smoky", "hot", "planned", "find": something would have gone better
	Text      string // in the title, or what was meant
}

// Any tells whether anything is asked for.
func (s BurnFilter) Any() bool { return s != BurnFilter{} }

// Limits of what counts as what in a list.
const (
	cleanAt = 6.0   // g of smoke per kg, under which a burn is called clean
	smokyAt = 12.0  // and over which smoky
	hotAt   = 120.0 // s too hot, from which it is called hot
)

// A FoundBurn is a burn in a list, with what it came to as far as that is worked out.
type FoundBurn struct {
	BurnLine
	Reviewed bool                `db:"reviewed"`
	Thumb    derived[[]int16]    `db:"thumb"`
	Band     derived[[3]float64] `db:"band"` // of the gauge that it is drawn by: from, to, too hot
	Smoke    sql.Null[float64]   `db:"smoke_per_kg"`
	Heat     sql.Null[float64]   `db:"heat"`
	Hot      sql.Null[float64]   `db:"hot_s"`
	Lay      sql.Null[string]    `db:"lay"`
	Wood     sql.Null[string]    `db:"wood"`
	Moisture sql.Null[float64]   `db:"moisture"`
	Cold     sql.Null[bool]      `db:"cold"`
}

// GaugeBand is the band that a burn is drawn over.
func (b FoundBurn) GaugeBand() stove.Band {
	return stove.Band{Low: units.Celsius(b.Band.V[0]), High: units.Celsius(b.Band.V[1]), TooHot: units.Celsius(b.Band.V[2])}
}

// conditions are what is sought, as SQL with its arguments.
func (s BurnFilter) conditions(args []any) (string, []any) {
	var b strings.Builder
	add := func(condition string, value any) {
		args = append(args, value)
		b.WriteString("\n  AND " + strings.ReplaceAll(condition, "?", fmt.Sprintf("$%d", len(args))))
	}
	if s.Stove != 0 {
		add("b.stove_id = ?", s.Stove)
	}
	for column, value := range map[string]string{"r.species": s.Species, "r.lay": s.Lay, "r.direction": s.Direction} {
		if value != "" {
			add(column+" = ?", value)
		}
	}
	if s.Start != "" {
		add("r.cold = ?", s.Start == "cold")
	}
	if s.HasWet {
		add("r.moisture >= ?", s.Moisture[0])
		add("r.moisture < ?", s.Moisture[1])
	}
	if s.HasOut {
		add("r.outdoor >= ?", s.Outdoor[0])
		add("r.outdoor < ?", s.Outdoor[1])
	}
	switch s.Result {
	case "clean":
		add("r.simulated AND r.smoke_per_kg < ?", cleanAt)
	case "smoky":
		add("r.simulated AND r.smoke_per_kg >= ?", smokyAt)
	case "hot":
		add("r.hot_s >= ?", hotAt)
	case "planned":
		b.WriteString("\n  AND b.plan IS NOT NULL")
	case "find":
		b.WriteString("\n  AND jsonb_typeof(r.doc->'Findings') = 'array'")
	}
	if s.Text != "" {
		add(`(b.title ILIKE '%' || ? || '%'
		 OR EXISTS (SELECT 1
		            FROM eyes y
		            WHERE y.household_id = b.household_id AND y.burn_id = b.id AND y.doc->>'meant' ILIKE '%' || ? || '%'))`, likely(s.Text))
	}
	return b.String(), args
}

// likely takes the signs out of a text that mean something in LIKE.
func likely(text string) string {
	return strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(text)
}

// FindBurns are the burns before a time that are sought, the newest first. The page is cut
// out first; only its entries are added up.
func (h Household) FindBurns(ctx context.Context, s BurnFilter, before time.Time, most int) ([]FoundBurn, error) {
	where, args := s.conditions([]any{h.id, before})
	args = append(args, most)
	var rows []FoundBurn
	err := h.db.SelectContext(ctx, &rows, fmt.Sprintf(`
		SELECT b.id, b.stove_id, COALESCE(b.spec->'stove'->>'name', '') AS stove, b.title, b.started, b.ended, b.plan IS NOT NULL AS planned,
		       `+outdoorOf+`,
		       false AS removed, e.loads, e.mass, e.mineral, CAST(b.doc->>'Peak' AS double precision) AS peak,
		       b.doc IS NOT NULL AS reviewed, b.doc->'Thumb' AS thumb, b.doc->'Band' AS band, b.smoke_per_kg, b.heat, b.hot_s, b.lay, b.wood, b.moisture, b.cold
		FROM (SELECT b.id, b.household_id, b.stove_id, b.title, b.spec, b.plan, b.started, b.ended,
		             r.doc, r.smoke_per_kg, r.heat, r.hot_s, r.lay, r.wood, r.moisture, r.cold
		      FROM burns b
		      LEFT JOIN reviews r ON r.household_id = b.household_id AND r.burn_id = b.id AND b.ended IS NOT NULL
		      WHERE b.household_id = $1 AND b.started < $2 AND b.removed_at IS NULL%s
		      ORDER BY b.started DESC
		      LIMIT $%d) b
		CROSS JOIN LATERAL (
		      SELECT count(*) FILTER (WHERE kind = 'load') AS loads,
		             COALESCE(sum(load_mass) FILTER (WHERE kind = 'load'), 0) AS mass,
		             COALESCE(sum(load_mass) FILTER (WHERE kind = 'mineral'), 0) AS mineral
		      FROM entries
		      WHERE household_id = b.household_id AND burn_id = b.id AND counts AND kind IN ('load', 'mineral')) e
		ORDER BY b.started DESC`, where, len(args)), args...)
	return rows, err
}

// Woods are the kinds of wood that a household's burns were made of, by key and name.
func (h Household) Woods(ctx context.Context) ([][2]string, error) {
	var rows []struct {
		Key  string `db:"species"`
		Name string `db:"wood"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		SELECT species, min(wood) AS wood
		FROM reviews
		WHERE household_id = $1 AND species <> ''
		GROUP BY species
		ORDER BY count(*) DESC`, h.id)
	var out [][2]string
	for _, r := range rows {
		out = append(out, [2]string{r.Key, r.Name})
	}
	return out, err
}
