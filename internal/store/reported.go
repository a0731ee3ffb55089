package store

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"

	"smolder/internal/core/burn"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A Reported is one reading that a thermometer, or a draft gauge, has sent by itself.
type Reported struct {
	Stove int64
	Place string // of a gauge, or [DraftPlace]
	At    time.Time
	Value float64 // °C, or Pa
}

// DraftPlace is where a draft gauge's readings stand.
const DraftPlace = "draft"

// months are those whose part of the table is known to be there, by process.
var months sync.Map

// monthOf and yearOf name the parts of the table that a moment may fall in.
func monthOf(t time.Time) string { return t.UTC().Format("200601") }
func yearOf(t time.Time) string  { return t.UTC().Format("2006") }

// monthsBack is for how long readings have a part of the table a month; those of longer ago
// have one a year, so that no file of old readings makes hundreds.
const monthsBack = 24

// makeMonths makes the parts of the table that readings need.
func (h Household) makeMonths(ctx context.Context, readings []Reported) error {
	for _, r := range readings {
		name := monthOf(r.At)
		if _, known := months.Load(name); known {
			continue
		}
		err := h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error { return makePart(ctx, tx, r.At.UTC(), time.Now().UTC()) })
		if err != nil {
			return err
		}
		months.Store(name, true)
	}
	return nil
}

// makePart makes the part of the table for a moment, where there is none: of its month,
// or of its year where that lies long ago and no month of it has a part yet.
func makePart(ctx context.Context, tx *sqlx.Tx, at, now time.Time) error {
	// One process at a time: two that made the same part would fail each other.
	if _, err := tx.ExecContext(ctx, `SELECT pg_advisory_xact_lock(hashtext('reported'))`); err != nil {
		return err
	}
	var there []string
	err := tx.SelectContext(ctx, &there, `
		SELECT c.relname
		FROM pg_inherits i
		JOIN pg_class c ON c.oid = i.inhrelid
		WHERE i.inhparent = CAST('reported' AS regclass) AND c.relname LIKE 'reported\_' || $1 || '%'`, yearOf(at))
	if err != nil || slices.Contains(there, "reported_"+yearOf(at)) || slices.Contains(there, "reported_"+monthOf(at)) {
		return err
	}
	name, from := monthOf(at), time.Date(at.Year(), at.Month(), 1, 0, 0, 0, 0, time.UTC)
	to := from.AddDate(0, 1, 0)
	if len(there) == 0 && at.Year() < now.AddDate(0, -monthsBack, 0).Year() {
		name, from = yearOf(at), time.Date(at.Year(), 1, 1, 0, 0, 0, 0, time.UTC)
		to = from.AddDate(1, 0, 0)
	}
	_, err = tx.ExecContext(ctx, fmt.Sprintf(`
		CREATE TABLE IF NOT EXISTS reported_%s PARTITION OF reported
		FOR VALUES FROM ('%s') TO ('%s')`, name, from.Format(time.DateOnly), to.Format(time.DateOnly)))
	return err
}

// AddReported keeps readings, each once: one that is there for its stove, place and
// moment stays as it is. It returns how many are new. Every stove must be the
// household's, else [ErrMissing] and nothing is kept.
func (h Household) AddReported(ctx context.Context, readings []Reported) (kept int, err error) {
	if len(readings) == 0 {
		return 0, nil
	}
	for again := false; ; again = true {
		if err := h.makeMonths(ctx, readings); err != nil {
			return 0, err
		}
		kept, err = h.addReported(ctx, readings)
		if again || err == nil || !strings.Contains(err.Error(), "no partition of relation") {
			return kept, err
		}
		months.Clear() // another database than the one that was known
	}
}

func (h Household) addReported(ctx context.Context, readings []Reported) (kept int, err error) {
	if len(readings) >= worthCopying {
		err := h.copyReported(ctx, readings)
		var pg *pgconn.PgError
		if err == nil {
			return len(readings), nil
		}
		if !errors.As(err, &pg) || pg.Code != uniqueViolation {
			return 0, err
		}
		// some of them are there already: one by one
	}
	n := len(readings)
	stoves, at, places, values := make([]int64, n), make([]time.Time, n), make([]string, n), make([]float32, n)
	of := map[int64][]Point{}
	for i, r := range readings {
		stoves[i], at[i], places[i], values[i] = r.Stove, r.At, r.Place, float32(r.Value)
		of[r.Stove] = append(of[r.Stove], Point{r.Place, r.At.UnixMilli(), r.Value})
	}
	err = h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		for id := range of {
			var there bool
			err := tx.GetContext(ctx, &there, `
				SELECT EXISTS (SELECT 1 FROM stoves WHERE household_id = $1 AND id = $2 AND removed_at IS NULL)`, h.id, id)
			if err != nil {
				return err
			}
			if !there {
				return ErrMissing
			}
		}
		r, err := tx.ExecContext(ctx, `
			INSERT INTO reported (household_id, stove_id, at, place, value)
			SELECT $1, r.stove, r.at, r.place, r.value
			FROM unnest(CAST($2 AS bigint[]), CAST($3 AS timestamptz[]), CAST($4 AS text[]), CAST($5 AS real[])) AS r (stove, at, place, value)
			ON CONFLICT DO NOTHING`, h.id, stoves, at, places, values)
		if err != nil {
			return err
		}
		rows, err := r.RowsAffected()
		kept = int(rows)
		if err != nil || kept == 0 {
			return err
		}
		if err := h.late(func(query string, args ...any) error {
			_, err := tx.ExecContext(ctx, query, args...)
			return err
		}, of); err != nil {
			return err
		}
		for id, points := range of {
			var burns []int64
			err := tx.SelectContext(ctx, &burns, `
				SELECT id
				FROM burns
				WHERE household_id = $1 AND stove_id = $2 AND ended IS NULL AND removed_at IS NULL`, h.id, id)
			if err != nil {
				return err
			}
			for _, b := range burns {
				if err := h.tell(ctx, tx, Change{Burn: b, Stove: id, Readings: points}); err != nil {
					return err
				}
			}
		}
		return nil
	})
	return kept, err
}

// late counts a change of every ended burn that readings came in for afterwards.
func (h Household) late(exec func(query string, args ...any) error, of map[int64][]Point) error {
	for stove, points := range of {
		first, last := points[0].At, points[0].At
		for _, p := range points {
			first, last = min(first, p.At), max(last, p.At)
		}
		err := exec(`
			UPDATE burns
			SET revision = revision + 1
			WHERE household_id = $1 AND stove_id = $2 AND removed_at IS NULL AND started <= $4 AND ended >= $3`,
			h.id, stove, time.UnixMilli(first).UTC(), time.UnixMilli(last).UTC())
		if err != nil {
			return err
		}
	}
	return nil
}

const (
	worthCopying    = 100 // readings
	uniqueViolation = "23505"
)

// copyReported keeps readings of which none is there yet, the quickest way there is; all
// or none.
func (h Household) copyReported(ctx context.Context, readings []Reported) error {
	ctx, cancel := context.WithTimeout(ctx, longQuery)
	defer cancel()
	of := map[int64][]Point{}
	for _, r := range readings {
		of[r.Stove] = append(of[r.Stove], Point{r.Place, r.At.UnixMilli(), r.Value})
	}
	stoves := slices.Collect(maps.Keys(of))
	conn, err := h.db.Connx(ctx)
	if err != nil {
		return err
	}
	defer conn.Close()
	return conn.Raw(func(driver any) error {
		std, ok := driver.(*stdlib.Conn)
		if !ok {
			return fmt.Errorf("copying: the driver is a %T", driver)
		}
		return pgx.BeginFunc(ctx, std.Conn(), func(tx pgx.Tx) error {
			var there int
			err := tx.QueryRow(ctx, `
				SELECT count(*)
				FROM stoves
				WHERE household_id = $1 AND id = ANY ($2) AND removed_at IS NULL`, h.id, stoves).Scan(&there)
			if err != nil {
				return err
			}
			if there != len(stoves) {
				return ErrMissing
			}
			_, err = tx.CopyFrom(ctx, pgx.Identifier{"reported"}, []string{"household_id", "stove_id", "at", "place", "value"},
				pgx.CopyFromSlice(len(readings), func(i int) ([]any, error) {
					r := &readings[i]
					return []any{h.id, r.Stove, r.At, r.Place, float32(r.Value)}, nil
				}))
			if err != nil {
				return err
			}
			if err := h.late(func(query string, args ...any) error {
				_, err := tx.Exec(ctx, query, args...)
				return err
			}, of); err != nil {
				return err
			}
			// every open burn of these stoves hears of it, when it is kept
			rows, err := tx.Query(ctx, `
				SELECT id, stove_id
				FROM burns
				WHERE household_id = $1 AND stove_id = ANY ($2) AND ended IS NULL AND removed_at IS NULL`, h.id, stoves)
			if err != nil {
				return err
			}
			open, err := pgx.CollectRows(rows, pgx.RowToStructByPos[struct{ ID, Stove int64 }])
			if err != nil {
				return err
			}
			for _, b := range open {
				text, err := Change{Household: h.id, Burn: b.ID, Stove: b.Stove, Readings: of[b.Stove]}.payload()
				if err != nil {
					return err
				}
				if _, err := tx.Exec(ctx, `SELECT pg_notify($1, $2)`, channel, text); err != nil {
					return err
				}
			}
			return nil
		})
	})
}

const (
	// mostReported is how many readings of thermometers a burn is looked at with; of more
	// than that one is taken from each span of time.
	mostReported = 6000
	mostGauges   = 6
	beforeStart  = time.Minute // before a burn's start, that its readings may lie
)

// spans are how long one reading stands for, s. They are few, so that a burn is looked at
// with the same readings from one minute to the next: what is believed of it is kept for
// as long as it is the same.
var spans = []float64{1, 5, 15, 30, 60, 120, 300, 900}

// spanFor is the shortest span of which no more than may be lie in so many seconds.
func spanFor(over float64) float64 {
	for _, s := range spans {
		if over*mostGauges/s <= mostReported {
			return s
		}
	}
	return spans[len(spans)-1]
}

// reported fetches what thermometers reported of a burn's stove while it burnt, in the
// order of time; of very many, evenly some.
func (h Household) reported(ctx context.Context, b burn.Burn, stoveID int64) ([]burn.Entry, error) {
	from, to := b.Started.Add(-beforeStart), b.Ended
	if to.IsZero() {
		to = b.Started.Add(burn.Longest)
	}
	return h.ReportedIn(ctx, stoveID, from, to)
}

// ReportedIn fetches what thermometers reported of a stove between two moments, in the
// order of time; of very many, evenly some.
func (h Household) ReportedIn(ctx context.Context, stoveID int64, from, to time.Time) ([]burn.Entry, error) {
	var all counted
	err := h.db.GetContext(ctx, &all, `
		SELECT count(*) AS count, COALESCE(CAST(date_part('epoch', max(at) - min(at)) AS double precision), 0) AS over,
		       COALESCE(max(at), 'epoch') AS newest
		FROM reported
		WHERE household_id = $1 AND stove_id = $2 AND at BETWEEN $3 AND $4`, h.id, stoveID, from, to)
	if err != nil || all.Count == 0 {
		return nil, err
	}
	query, args := `
		SELECT COALESCE(string_agg(concat_ws(E'\t', CAST(date_part('epoch', at) * 1000000 AS bigint), to_json(place), value), E'\n' ORDER BY at, place), '')
		FROM reported
		WHERE household_id = $1 AND stove_id = $2 AND at BETWEEN $3 AND $4`, []any{h.id, stoveID, from, to}
	if all.Count > mostReported {
		span := spanFor(all.Over)
		query, args = `
		SELECT COALESCE(string_agg(concat_ws(E'\t', CAST(date_part('epoch', at) * 1000000 AS bigint), to_json(place), value), E'\n' ORDER BY at, place), '')
		FROM (SELECT DISTINCT ON (place, floor(date_part('epoch', at) / $5)) at, place, value
		      FROM reported
		      WHERE household_id = $1 AND stove_id = $2 AND at BETWEEN $3 AND $4
		      ORDER BY place, floor(date_part('epoch', at) / $5), at DESC) r -- the last of each span, so that the newest of all is among them`, append(args, span)
	}
	return h.heard.read(ctx, span{h.id, stoveID, from.UTC(), to.UTC()}, all, func(ctx context.Context) ([]burn.Entry, error) {
		return h.reportedBy(ctx, query, args...)
	})
}

// allReported fetches all of them.
func (h Household) allReported(ctx context.Context, stoveID int64, from, to time.Time) ([]burn.Entry, error) {
	return h.reportedBy(ctx, `
		SELECT COALESCE(string_agg(concat_ws(E'\t', CAST(date_part('epoch', at) * 1000000 AS bigint), to_json(place), value), E'\n' ORDER BY at, place), '')
		FROM reported
		WHERE household_id = $1 AND stove_id = $2 AND at BETWEEN $3 AND $4`, h.id, stoveID, from, to)
}

// reportedBy reads readings that a query gives as one text, a line each.
func (h Household) reportedBy(ctx context.Context, query string, args ...any) ([]burn.Entry, error) {
	var text string
	if err := h.db.GetContext(ctx, &text, query, args...); err != nil || text == "" {
		return nil, err
	}
	out := make([]burn.Entry, 0, strings.Count(text, "\n")+1)
	for line := range strings.SplitSeq(text, "\n") {
		var cell [3]string
		for i := range cell {
			cell[i], line, _ = strings.Cut(line, "\t")
		}
		micros, err := strconv.ParseInt(cell[0], 10, 64)
		if err != nil {
			return nil, err
		}
		value, err := strconv.ParseFloat(cell[2], 64)
		if err != nil {
			return nil, err
		}
		place, err := unquoted(cell[1])
		if err != nil {
			return nil, err
		}
		out = append(out, reportedEntry(time.UnixMicro(micros).UTC(), place, value))
	}
	return out, nil
}

// reportedEntry is what a thermometer, or a draft gauge, reported, as an entry.
func reportedEntry(at time.Time, place string, value float64) burn.Entry {
	e := burn.Entry{At: at, Kind: burn.Temperature, Place: stove.Place(place), Reading: units.Celsius(value), Reported: true}
	if place == DraftPlace {
		e.Kind, e.Place, e.Reading, e.Draft = burn.Draft, "", 0, units.Pascal(value)
	}
	e.ID = "r" + strconv.FormatInt(at.UnixMicro(), 10) + "-" + place
	return e
}

// LastReported is when each gauge of a stove has last reported.
func (h Household) LastReported(ctx context.Context, stoveID int64) (map[string]time.Time, error) {
	var rows []struct {
		Place string    `db:"place"`
		At    time.Time `db:"at"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		SELECT place, max(at) AS at
		FROM reported
		WHERE household_id = $1 AND stove_id = $2 AND at > now() - interval '7 days'
		GROUP BY place`, h.id, stoveID)
	out := map[string]time.Time{}
	for _, r := range rows {
		out[r.Place] = r.At
	}
	return out, err
}
