package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/burn"
)

// Thermometers send every few seconds, and what they sent is looked at again for years. Where whoever
// hosts a server says so, old readings are rolled up: of each gauge one minute keeps its last reading,
// its lowest and its highest, so that a strip is drawn as before; and outside of burns, where nothing
// is drawn, a quarter of an hour keeps these. Parts of the table are let go of by age.

// A Keeping is how long readings of thermometers are kept as they came, and how long at all.
type Keeping struct {
	RollUpAfter time.Duration // 0: never rolled up
	Months      int           // 0: for ever
}

// leastMonths is the least that is kept: a winter is compared with the one before.
const leastMonths = 12

// Keep says how readings are kept; without, they stay as they came.
func (s *Store) Keep(k Keeping) error {
	switch {
	case k.RollUpAfter < 0 || k.RollUpAfter > 0 && k.RollUpAfter < longestLate:
		return fmt.Errorf("readings can be rolled up after %d days at the earliest, when the last of them have come in; 7 would do, or 0 for never", int(longestLate.Hours()/24))
	case k.Months < 0 || k.Months > 0 && k.Months < leastMonths:
		return fmt.Errorf("readings are kept for %d months at least, so that a winter can be compared with the one before; 36 would do, or 0 for ever", leastMonths)
	}
	s.keeping = k
	return nil
}

const (
	// longestLate is how long after their time readings still come in from a device that was away.
	longestLate = 3 * 24 * time.Hour
	// longAfter is how much later than a minute a quarter of an hour is rolled up.
	longAfter = 21 * 24 * time.Hour
	// rollUpAtATime bounds one run; the next goes on from there.
	rollUpAtATime = 90 * time.Second
	// dropsWithin is how long letting go of a part waits for who reads: else it is tried an hour later.
	dropsWithin = "2s"
)

// thins deletes of a span of time what is rolled up: all but the last, the lowest and the highest
// reading of each gauge in each bin of so many seconds. idle: outside of burns alone.
func thins(idle bool) string {
	query := `
		WITH seen AS (
		     SELECT r.household_id, r.stove_id, r.at, r.place,
		            row_number() OVER (PARTITION BY r.household_id, r.stove_id, r.place, r.bin ORDER BY r.at DESC) AS last,
		            row_number() OVER (PARTITION BY r.household_id, r.stove_id, r.place, r.bin ORDER BY r.value, r.at) AS low,
		            row_number() OVER (PARTITION BY r.household_id, r.stove_id, r.place, r.bin ORDER BY r.value DESC, r.at) AS high
		     FROM stoves t
		     CROSS JOIN LATERAL (
		           SELECT household_id, stove_id, at, place, value, floor(date_part('epoch', at) / $3) AS bin
		           FROM reported
		           WHERE household_id = t.household_id AND stove_id = t.id AND at >= $1 AND at < $2) r) -- by the key of each
		DELETE FROM reported r
		USING seen s
		WHERE r.at >= $1 AND r.at < $2 AND s.last > 1 AND s.low > 1 AND s.high > 1
		      AND r.household_id = s.household_id AND r.stove_id = s.stove_id AND r.at = s.at AND r.place = s.place`
	if idle {
		query += `
		      AND NOT EXISTS (
		          SELECT 1
		          FROM burns b
		          WHERE b.household_id = r.household_id AND b.stove_id = r.stove_id AND b.removed_at IS NULL
		                AND r.at >= b.started - CAST($4 AS interval) AND r.at <= COALESCE(b.ended, b.started + CAST($5 AS interval)))`
	}
	return query
}

// RollUp rolls up what is old enough at a moment, a day at a time, and tells how many readings went.
// What is cut off is gone on with, and done twice changes nothing.
func (s *Store) RollUp(ctx context.Context, now time.Time) (gone int64, err error) {
	if s.keeping.RollUpAfter == 0 {
		return 0, nil
	}
	turn, over := context.WithTimeout(ctx, rollUpAtATime)
	defer over()
	for _, grain := range []struct {
		span  time.Duration
		after time.Duration
		idle  bool
	}{{time.Minute, s.keeping.RollUpAfter, false}, {15 * time.Minute, s.keeping.RollUpAfter + longAfter, true}} {
		end := now.Add(-grain.after).UTC().Truncate(24 * time.Hour)
		for more := true; more && turn.Err() == nil; {
			var n int64
			if n, more, err = s.rollUpADay(ctx, int(grain.span/time.Second), end, grain.idle); err != nil {
				return gone, err
			}
			gone += n
		}
	}
	return gone, nil
}

// rollUpADay rolls up the next day before a moment that has readings; more: there may be another.
func (s *Store) rollUpADay(ctx context.Context, span int, end time.Time, idle bool) (gone int64, more bool, err error) {
	err = s.db.bounded(ctx, longQuery, func(ctx context.Context, tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `SELECT pg_advisory_xact_lock(hashtext('rolled_up'))`); err != nil { // one process at a time
			return err
		}
		var through time.Time
		if err := tx.GetContext(ctx, &through, `SELECT through FROM rolled_up WHERE span = $1`, span); err != nil && !errors.Is(err, sql.ErrNoRows) {
			return err
		}
		var there []string
		if err := tx.SelectContext(ctx, &there, selectParts); err != nil {
			return err
		}
		from, found := nextDay(through.UTC(), end, there)
		if !found {
			return nil
		}
		args := []any{from, from.AddDate(0, 0, 1), span}
		if idle {
			args = append(args, interval(beforeStart), interval(burn.Longest))
		}
		done, err := tx.ExecContext(ctx, thins(idle), args...)
		if err != nil {
			return err
		}
		gone, more = 0, true
		if gone, err = done.RowsAffected(); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `
			INSERT INTO rolled_up (span, through)
			VALUES ($1, $2)
			ON CONFLICT (span) DO UPDATE SET through = EXCLUDED.through`, span, args[1])
		return err
	})
	return gone, more, err
}

// nextDay is the first day from a moment on, and before an end, that lies in a part of the table.
func nextDay(from, end time.Time, there []string) (day time.Time, found bool) {
	for _, name := range there {
		p, ok := partNamed(name)
		if !ok || !p.to.After(from) {
			continue
		}
		first := p.from
		if from.After(first) {
			first = from
		}
		if first.Before(end) && (!found || first.Before(day)) {
			day, found = first, true
		}
	}
	return day, found
}

func interval(d time.Duration) string { return fmt.Sprintf("%d seconds", int(d.Seconds())) }

// DropOld lets go of the parts of which the last reading is older than is kept, and names them.
func (s *Store) DropOld(ctx context.Context, now time.Time) (gone []string, err error) {
	if s.keeping.Months == 0 {
		return nil, nil
	}
	before := monthPart(now).from.AddDate(0, -s.keeping.Months, 0)
	there, err := s.db.parts(ctx)
	if err != nil {
		return nil, err
	}
	slices.Sort(there)
	for _, name := range there {
		err := s.db.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
			if _, err := tx.ExecContext(ctx, `SET LOCAL lock_timeout = '`+dropsWithin+`'`); err != nil {
				return err
			}
			var dropped bool
			err := tx.GetContext(ctx, &dropped, `SELECT smolder_drop_part($1, $2)`, name, before)
			if dropped {
				gone = append(gone, name)
			}
			return err
		})
		if err != nil {
			return gone, fmt.Errorf("letting go of %s: %w", name, err)
		}
	}
	return gone, nil
}
