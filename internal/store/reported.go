package store

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
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

// AddReported keeps readings, each once: one that is there for its stove, place and
// moment stays as it is. It returns how many are new. Every stove must be the
// household's, else [ErrMissing] and nothing is kept.
func (h Household) AddReported(ctx context.Context, readings []Reported) (kept int, err error) {
	if err := h.allows(ctx, OfReadings, int64(len(readings))); err != nil {
		return 0, err
	}
	if len(readings) == 0 {
		return 0, nil
	}
	kept, err = h.addReported(ctx, readings)
	if lacksPart(err) { // from before any that [Store.MakeParts] has made
		if err = h.partsFor(ctx, readings); err == nil {
			kept, err = h.addReported(ctx, readings)
		}
	}
	return kept, err
}

func (h Household) addReported(ctx context.Context, readings []Reported) (kept int, err error) {
	of := map[int64][]Point{}
	for _, r := range readings {
		of[r.Stove] = append(of[r.Stove], Point{r.Place, r.At.UnixMilli(), r.Value})
	}
	err = h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		var there int
		stoves := slices.Collect(maps.Keys(of))
		err := tx.GetContext(ctx, &there, `
			SELECT count(*)
			FROM stoves
			WHERE household_id = $1 AND id = ANY ($2) AND removed_at IS NULL`, h.id, stoves)
		if err != nil {
			return err
		}
		if there != len(stoves) {
			return ErrMissing
		}
		if kept, err = h.keepReported(ctx, tx, readings); err != nil || kept == 0 {
			return err
		}
		if err := h.late(ctx, tx, of); err != nil {
			return err
		}
		return h.notifyOpen(ctx, tx, stoves, of)
	})
	return kept, err
}

// late counts a change of every ended burn that readings came in for afterwards.
func (h Household) late(ctx context.Context, tx *sqlx.Tx, of map[int64][]Point) error {
	for stove, points := range of {
		first, last := points[0].At, points[0].At
		for _, p := range points {
			first, last = min(first, p.At), max(last, p.At)
		}
		_, err := tx.ExecContext(ctx, `
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

// notifyOpen lets every open burn of these stoves hear of their readings, when they are kept.
func (h Household) notifyOpen(ctx context.Context, tx *sqlx.Tx, stoves []int64, of map[int64][]Point) error {
	var open []struct {
		ID    int64 `db:"id"`
		Stove int64 `db:"stove_id"`
	}
	err := tx.SelectContext(ctx, &open, `
		SELECT id, stove_id
		FROM burns
		WHERE household_id = $1 AND stove_id = ANY ($2) AND ended IS NULL AND removed_at IS NULL`, h.id, stoves)
	if err != nil {
		return err
	}
	for _, b := range open {
		if err := h.notify(ctx, tx, Change{Burn: b.ID, Stove: b.Stove, Readings: of[b.Stove]}); err != nil {
			return err
		}
	}
	return nil
}

const (
	checkViolation = "23514" // of a partitioned table: no part takes the row
	// keptAtOnce is how many readings go to the database in one statement.
	keptAtOnce = 20_000
)

// hasCode tells whether an error is the database's with such a code (SQLSTATE).
func hasCode(err error, code string) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && pg.Code == code
}

// keepReported keeps readings and returns how many are new: what is there for its stove, place and
// moment stays as it is. They are copied where nothing of them is there yet, which is the usual case;
// else they come as arrays, many in a statement, in one order for everybody, so that two who send the
// same at once wait for each other and never in a ring.
func (h Household) keepReported(ctx context.Context, tx *sqlx.Tx, readings []Reported) (kept int, err error) {
	sorted := slices.Clone(readings)
	slices.SortStableFunc(sorted, func(a, b Reported) int {
		return cmp.Or(cmp.Compare(a.Stove, b.Stove), a.At.Compare(b.At), cmp.Compare(a.Place, b.Place))
	})
	for part := range slices.Chunk(sorted, keptAtOnce) {
		n, copied, err := h.copyRows(ctx, tx, part)
		if err == nil && !copied {
			n, err = h.insertRows(ctx, tx, part)
		}
		if err != nil {
			return kept, err
		}
		kept += n
	}
	return kept, nil
}

// insertRows inserts readings, and returns how many were not there.
func (h Household) insertRows(ctx context.Context, tx *sqlx.Tx, readings []Reported) (kept int, err error) {
	n := len(readings)
	stoves, at, places, values := make([]int64, n), make([]time.Time, n), make([]string, n), make([]float32, n)
	for i, r := range readings {
		stoves[i], at[i], places[i], values[i] = r.Stove, r.At, r.Place, float32(r.Value)
	}
	done, err := tx.ExecContext(ctx, `
		INSERT INTO reported (household_id, stove_id, at, place, value)
		SELECT $1, n.stove, n.at, n.place, n.value
		FROM unnest(CAST($2 AS bigint[]), CAST($3 AS timestamptz[]), CAST($4 AS text[]), CAST($5 AS real[])) AS n (stove, at, place, value)
		ON CONFLICT DO NOTHING`, h.id, stoves, at, places, values)
	if err != nil {
		return 0, err
	}
	fresh, err := done.RowsAffected()
	return int(fresh), err
}

// worthCopying is from how many readings on to copy them is quicker than to insert them.
const worthCopying = 64

// copyRows copies readings into the table; false: some are there already, or it may not be done, and
// nothing was. COPY does not go through row-level security, so it is done as who owns the table: whose
// the rows are stands in each of them by their making, and no query could forget it. Where readings
// lie on several servers they are inserted so instead: COPY would bring them there one by one.
func (h Household) copyRows(ctx context.Context, tx *sqlx.Tx, readings []Reported) (kept int, copied bool, err error) {
	conn, ok := ctx.Value(connKey{}).(*sqlx.Conn)
	if !ok || len(readings) < worthCopying || !h.db.owns.Load() {
		return 0, false, nil
	}
	if _, err := tx.ExecContext(ctx, `SAVEPOINT copied; SET LOCAL ROLE NONE`); err != nil {
		return 0, false, err
	}
	if h.db.spread.Load() {
		kept, err = h.insertRows(ctx, tx, readings)
	} else {
		kept, err = len(readings), h.copy(ctx, conn, readings)
	}
	if err != nil {
		_, undo := tx.ExecContext(ctx, `ROLLBACK TO SAVEPOINT copied`) // and to the role of before
		if hasCode(err, uniqueViolation) {
			err = nil
		}
		return 0, false, errors.Join(err, undo)
	}
	if _, err := tx.ExecContext(ctx, `RELEASE SAVEPOINT copied`); err != nil {
		return 0, false, err
	}
	return kept, true, h.db.enter(ctx, tx)
}

// copy copies readings into the table by COPY.
func (h Household) copy(ctx context.Context, conn *sqlx.Conn, readings []Reported) error {
	return conn.Raw(func(driver any) error {
		std, ok := driver.(*stdlib.Conn)
		if !ok {
			return fmt.Errorf("copying: the driver is a %T", driver)
		}
		_, err := std.Conn().CopyFrom(ctx, pgx.Identifier{"reported"}, []string{"household_id", "stove_id", "at", "place", "value"},
			pgx.CopyFromSlice(len(readings), func(i int) ([]any, error) {
				r := &readings[i]
				return []any{h.id, r.Stove, r.At, r.Place, float32(r.Value)}, nil
			}))
		return err
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

// windows are the spans of time in which reported readings belong to burns, as lists.
func windows(burns []Burn) (ids, stoves []int64, from, to []time.Time) {
	for _, b := range burns {
		end := b.Ended
		if end.IsZero() {
			end = b.Started.Add(burn.Longest)
		}
		ids, stoves = append(ids, b.ID), append(stoves, b.StoveID)
		from, to = append(from, b.Started.Add(-beforeStart)), append(to, end)
	}
	return ids, stoves, from, to
}

const eachWindow = `
	FROM unnest(CAST($2 AS bigint[]), CAST($3 AS bigint[]), CAST($4 AS timestamptz[]), CAST($5 AS timestamptz[])) AS w (burn, stove, low, high)
	CROSS JOIN LATERAL (
	      SELECT at, place, value
	      FROM reported
	      WHERE household_id = $1 AND stove_id = w.stove AND at BETWEEN w.low AND w.high) r
	GROUP BY w.burn`

// countReported is how many readings thermometers reported of each burn that has any.
func (h Household) countReported(ctx context.Context, burns []Burn) (map[int64]int, error) {
	var rows []struct {
		Burn  int64 `db:"burn"`
		Count int   `db:"count"`
	}
	ids, stoves, from, to := windows(burns)
	err := h.db.SelectContext(ctx, &rows, `SELECT w.burn, count(*) AS count`+eachWindow, h.id, ids, stoves, from, to)
	out := map[int64]int{}
	for _, r := range rows {
		out[r.Burn] = r.Count
	}
	return out, err
}

// allReported fetches all that thermometers reported of burns, by burn, in the order of time.
func (h Household) allReported(ctx context.Context, burns ...Burn) (map[int64][]burn.Entry, error) {
	var rows []struct {
		Burn int64  `db:"burn"`
		Text string `db:"text"`
	}
	ids, stoves, from, to := windows(burns)
	err := h.db.SelectContext(ctx, &rows, `
	SELECT w.burn, string_agg(concat_ws(E'\t', CAST(date_part('epoch', r.at) * 1000000 AS bigint), to_json(r.place), r.value), E'\n' ORDER BY r.at, r.place) AS text`+
		eachWindow, h.id, ids, stoves, from, to)
	out := make(map[int64][]burn.Entry, len(rows))
	for _, r := range rows {
		if out[r.Burn], err = reportedLines(r.Text); err != nil {
			return nil, err
		}
	}
	return out, err
}

// reportedBy reads readings that a query gives as one text, a line each.
func (h Household) reportedBy(ctx context.Context, query string, args ...any) ([]burn.Entry, error) {
	var text string
	if err := h.db.GetContext(ctx, &text, query, args...); err != nil || text == "" {
		return nil, err
	}
	return reportedLines(text)
}

func reportedLines(text string) ([]burn.Entry, error) {
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

// LastReported is when each gauge of a stove has last reported since a moment.
func (h Household) LastReported(ctx context.Context, stoveID int64, since time.Time) (map[string]time.Time, error) {
	var rows []struct {
		Place string    `db:"place"`
		At    time.Time `db:"at"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		SELECT place, max(at) AS at
		FROM reported
		WHERE household_id = $1 AND stove_id = $2 AND at > $3
		GROUP BY place`, h.id, stoveID, since)
	out := map[string]time.Time{}
	for _, r := range rows {
		out[r.Place] = r.At
	}
	return out, err
}
