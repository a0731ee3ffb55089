package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strconv"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/burn"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/form"
)

// The entries of a log stand in two tables: readings with their numbers in
// columns, everything else with its written form. Which of them count is decided
// in log.go.

// readings fetches the readings of burns, by burn, as one text each, a line a reading: row by row
// most of the time goes into the rows. Texts are quoted as JSON, so that whatever stands
// in them breaks no line.
func (h Household) readings(ctx context.Context, burns ...int64) (map[int64][]burn.Entry, error) {
	var rows []struct {
		Burn int64  `db:"burn_id"`
		Text string `db:"text"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		SELECT burn_id,
		       string_agg(concat_ws(E'\t', to_json(id), CAST(date_part('epoch', at) * 1000000 AS bigint), seq, undone_at IS NOT NULL, counts,
		                            to_json(COALESCE(corrects, '')), to_json(place), reading,
		                            CASE WHEN typed || by_name || undone_by <> '' THEN concat_ws(E'\t', to_json(typed), to_json(by_name), to_json(undone_by)) END),
		                  E'\n' ORDER BY at, seq) AS text
		FROM readings
		WHERE household_id = $1 AND burn_id = ANY ($2)
		GROUP BY burn_id`, h.id, burns)
	out := make(map[int64][]burn.Entry, len(rows))
	for _, r := range rows {
		list := make([]burn.Entry, 0, strings.Count(r.Text, "\n")+1)
		for line := range strings.SplitSeq(r.Text, "\n") {
			e, err := readingLine(line)
			if err != nil {
				return nil, fmt.Errorf("a reading of burn %d: %w", r.Burn, err)
			}
			list = append(list, e)
		}
		out[r.Burn] = list
	}
	return out, err
}

func readingLine(line string) (burn.Entry, error) {
	e := burn.Entry{Kind: burn.Temperature}
	var cell [11]string
	for i := range cell {
		cell[i], line, _ = strings.Cut(line, "\t")
	}
	micros, err := strconv.ParseInt(cell[1], 10, 64)
	if err != nil {
		return e, err
	}
	if e.Seq, err = strconv.ParseInt(cell[2], 10, 64); err != nil {
		return e, err
	}
	for _, text := range []struct {
		cell int
		into *string
	}{{0, &e.ID}, {5, &e.Corrects}, {6, (*string)(&e.Place)}, {8, &e.Typed}, {9, &e.By}, {10, &e.UndoneBy}} {
		if *text.into, err = unquoted(cell[text.cell]); err != nil {
			return e, err
		}
	}
	reading, err := strconv.ParseFloat(cell[7], 64)
	e.At, e.Undone, e.Struck = time.UnixMicro(micros).UTC(), cell[3] == "t", cell[4] == "f"
	e.Reading = units.Celsius(reading)
	return e, err
}

// unquoted is a text that was quoted as JSON; most have nothing in them that would need it.
func unquoted(cell string) (text string, err error) {
	if n := len(cell); n >= 2 && !strings.Contains(cell, `\`) {
		return cell[1 : n-1], nil
	}
	if cell != "" {
		err = json.Unmarshal([]byte(cell), &text)
	}
	return text, err
}

// A logged is a burn's entries, with why one of them cannot be read.
type logged struct {
	entries []burn.Entry
	bad     error
}

// entries fetches everything but the readings of burns, by burn, in order of time.
func (h Household) entries(ctx context.Context, burns ...int64) (map[int64]logged, error) {
	var rows []struct {
		Burn     int64                        `db:"burn_id"`
		ID       string                       `db:"id"`
		At       time.Time                    `db:"at"`
		Kind     string                       `db:"kind"`
		Doc      kept[form.Entry, burn.Entry] `db:"doc"`
		Corrects string                       `db:"corrects"`
		Undone   bool                         `db:"undone"`
		Counts   bool                         `db:"counts"`
		Seq      int64                        `db:"seq"`
		By       string                       `db:"by_name"`
		UndoneBy string                       `db:"undone_by"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		SELECT burn_id, id, at, kind, doc, COALESCE(corrects, '') AS corrects, undone_at IS NOT NULL AS undone, counts, seq, by_name, undone_by
		FROM entries
		WHERE household_id = $1 AND burn_id = ANY ($2)
		ORDER BY at, seq`, h.id, burns)
	out := map[int64]logged{}
	for _, r := range rows {
		l := out[r.Burn]
		e := r.Doc.V
		e.ID, e.At, e.Kind, e.Corrects, e.Undone, e.Struck, e.Seq = r.ID, r.At.UTC(), burn.Kind(r.Kind), r.Corrects, r.Undone, !r.Counts, r.Seq
		e.By, e.UndoneBy = r.By, r.UndoneBy
		l.entries, l.bad = append(l.entries, e), errors.Join(l.bad, r.Doc.Bad)
		out[r.Burn] = l
	}
	return out, err
}

// entry is one entry as it is kept.
func (h Household) entry(ctx context.Context, tx *sqlx.Tx, burnID int64, id string) (burn.Entry, error) {
	var read struct {
		At      time.Time `db:"at"`
		Place   string    `db:"place"`
		Reading float64   `db:"reading"`
	}
	err := orMissing(tx.GetContext(ctx, &read, `
		SELECT at, place, reading
		FROM readings
		WHERE household_id = $1 AND burn_id = $2 AND id = $3`, h.id, burnID, id))
	if err == nil || !isMissing(err) {
		return burn.Entry{ID: id, At: read.At.UTC(), Kind: burn.Temperature, Place: stove.Place(read.Place), Reading: units.Celsius(read.Reading)}, err
	}
	var row struct {
		At   time.Time                    `db:"at"`
		Kind string                       `db:"kind"`
		Doc  kept[form.Entry, burn.Entry] `db:"doc"`
	}
	err = orMissing(tx.GetContext(ctx, &row, `
		SELECT at, kind, doc
		FROM entries
		WHERE household_id = $1 AND burn_id = $2 AND id = $3`, h.id, burnID, id))
	e := row.Doc.V
	e.ID, e.At, e.Kind = id, row.At.UTC(), burn.Kind(row.Kind)
	return e, errors.Join(err, row.Doc.Bad)
}

// merged is two lists of entries, each in order, as one.
func merged(a, b []burn.Entry) []burn.Entry {
	if len(a) == 0 {
		return b
	}
	out := make([]burn.Entry, 0, len(a)+len(b))
	for len(a) > 0 && len(b) > 0 {
		if c := a[0].At.Compare(b[0].At); c < 0 || c == 0 && a[0].Seq < b[0].Seq {
			out, a = append(out, a[0]), a[1:]
		} else {
			out, b = append(out, b[0]), b[1:]
		}
	}
	return append(append(out, a...), b...)
}

// insert keeps an entry as it is.
func (h Household) insert(ctx context.Context, tx *sqlx.Tx, burnID int64, e burn.Entry) error {
	var corrects *string
	if e.Corrects != "" {
		corrects = &e.Corrects
	}
	if e.Kind == burn.Temperature {
		_, err := tx.ExecContext(ctx, `
			INSERT INTO readings (household_id, burn_id, id, at, place, reading, typed, corrects, undone_at, counts, by_name)
			VALUES ($1, $2, $3, $4, $5, $6, $7, $8, CASE WHEN $9 THEN CAST($4 AS timestamptz) END, $10, $11)`,
			h.id, burnID, e.ID, e.At, string(e.Place), float64(e.Reading), e.Typed, corrects, e.Undone, !e.Struck, e.By)
		return err
	}
	said := e
	said.Struck, said.Corrects, said.By = false, "", ""
	text, err := encode(form.EntryOf(said))
	if err != nil {
		return err
	}
	var stack *int64
	var mass, dry *float64
	if e.Load != nil {
		m := float64(e.Load.Mass())
		d := m / (1 + float64(e.Load.Moisture))
		mass, dry = &m, &d
		if e.Load.StackID != 0 {
			stack = &e.Load.StackID
		}
	}
	_, err = tx.ExecContext(ctx, `
		INSERT INTO entries (household_id, burn_id, id, at, kind, doc, stack_id, load_mass, load_dry, corrects, undone_at, counts, by_name)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, CASE WHEN $11 THEN CAST($4 AS timestamptz) END, $12, $13)`,
		h.id, burnID, e.ID, e.At, string(e.Kind), text, stack, mass, dry, corrects, e.Undone, !e.Struck, e.By)
	return err
}

// marking changes one entry, whichever table it stands in.
func (h Household) marking(ctx context.Context, tx *sqlx.Tx, set string, burnID int64, id string, values ...any) error {
	for _, table := range []string{"entries", "readings"} {
		_, err := tx.ExecContext(ctx, `
			UPDATE `+table+`
			SET `+set+`
			WHERE household_id = $1 AND burn_id = $2 AND id = $3`, append([]any{h.id, burnID, id}, values...)...)
		if err != nil {
			return err
		}
	}
	return nil
}

// What [Household.marking] sets.
const (
	setCounts = `counts = $4`
	// when, or null: not undone, and by whom; undone twice it keeps the first
	setUndone = `undone_at = CASE WHEN CAST($4 AS timestamptz) IS NOT NULL THEN COALESCE(undone_at, $4) END,
	             undone_by = CASE WHEN CAST($4 AS timestamptz) IS NULL THEN '' WHEN undone_at IS NULL THEN $5 ELSE undone_by END`
)
