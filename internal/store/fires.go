package store

import (
	"context"
	"errors"
	"slices"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/stove"
)

const (
	// dangersWithin is for how long back readings are fetched to tell what endangers now,
	// besides the newest of every gauge.
	dangersWithin = 20 * time.Minute
	mostOfThese   = 400
	// longestBack is for how long back a thermometer's last word is looked for.
	longestBack = 6 * time.Hour
)

// places are those of a stove's gauges that follow the fire, and the draft's.
func places(st stove.Stove) []string {
	out := []string{DraftPlace}
	for _, g := range st.Gauges {
		if g.Place.OfFire() {
			out = append(out, string(g.Place))
		}
	}
	return out
}

// Fires are the household's open burns with all that their logs say, but of readings only
// the newest of every gauge and those of the last minutes: enough for [burn.Burn.Dangers],
// and quick enough to be asked for with every page. Of those that whoever asks has whole already nothing
// is asked again. One that cannot be read says so, and
// does not hide what endangers at another stove.
func (h Household) Fires(ctx context.Context, now time.Time, whole ...Burn) ([]Burn, error) {
	open, err := h.OpenBurns(ctx)
	if err != nil {
		return nil, err
	}
	var numbers []int64
	for i, b := range open {
		if at := slices.IndexFunc(whole, func(w Burn) bool { return w.ID == b.ID && w.Revision == b.Revision }); at >= 0 {
			open[i] = whole[at]
		} else {
			numbers = append(numbers, b.ID)
		}
	}
	if len(numbers) == 0 {
		return open, nil
	}
	others, err := h.entries(ctx, numbers...)
	if err != nil {
		return nil, err
	}
	for i := range open {
		if !slices.Contains(numbers, open[i].ID) {
			continue
		}
		err := h.lately(ctx, &open[i], others[open[i].ID], now)
		if errors.Is(err, ErrUnreadable) {
			open[i].Unreadable = err
		} else if err != nil {
			return nil, err
		}
	}
	return open, nil
}

// lately fills in the entries of an open burn, of readings only those that tell what
// endangers now.
func (h Household) lately(ctx context.Context, b *Burn, others logged, now time.Time) error {
	if b.Unreadable != nil {
		return b.Unreadable
	}
	if others.bad != nil {
		return others.bad
	}
	var rows []struct {
		At    time.Time `db:"at"`
		Place string    `db:"place"`
		Value float64   `db:"value"`
		By    bool      `db:"reported"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		SELECT at, place, value, reported
		FROM (
		  (SELECT at, place, reading AS value, false AS reported
		   FROM readings
		   WHERE household_id = $1 AND burn_id = $2 AND counts AND at > $5
		   ORDER BY at DESC LIMIT $6)
		  UNION ALL
		  (SELECT DISTINCT ON (place) at, place, reading, false
		   FROM readings
		   WHERE household_id = $1 AND burn_id = $2 AND counts AND at <= $5
		   ORDER BY place, at DESC)
		  UNION ALL
		  (SELECT at, place, value, true
		   FROM reported
		   WHERE household_id = $1 AND stove_id = $3 AND at > greatest($4, $5)
		   ORDER BY at DESC LIMIT $6)
		  UNION ALL
		  (SELECT r.at, g.place, r.value, true
		   FROM unnest(CAST($7 AS text[])) AS g (place)
		   CROSS JOIN LATERAL (
		     SELECT at, value
		     FROM reported
		     WHERE household_id = $1 AND stove_id = $3 AND place = g.place AND at BETWEEN greatest($4, $8) AND $5
		     ORDER BY at DESC LIMIT 1) r)) r
		ORDER BY at`, h.id, b.ID, b.StoveID, b.Started.Add(-beforeStart), now.Add(-dangersWithin), mostOfThese, places(b.Stove),
		now.Add(-longestBack))
	if err != nil {
		return err
	}
	readings := make([]burn.Entry, len(rows))
	for k, r := range rows {
		if readings[k] = reportedEntry(r.At.UTC(), r.Place, r.Value); !r.By {
			readings[k].Reported = false
		}
	}
	b.Entries = merged(readings, others.entries)
	return nil
}

// roomHolds is how long a reading of a room is taken for how it is.
const roomHolds = time.Hour

// RoomNow is the temperature of the room that a stove stands in, as a thermometer or
// somebody at a stove of the same space read it in the last hour; false: nobody did.
func (h Household) RoomNow(ctx context.Context, stoveID int64, now time.Time) (celsius float64, known bool, err error) {
	var rows []struct {
		At    time.Time `db:"at"`
		Value float64   `db:"value"`
	}
	err = h.db.SelectContext(ctx, &rows, `
		WITH beside AS (
		  SELECT b.id
		  FROM stoves a
		  JOIN stoves b ON b.household_id = a.household_id AND b.space_id = a.space_id
		  WHERE a.household_id = $1 AND a.id = $2)
		SELECT at, value
		FROM ((SELECT at, CAST(value AS double precision) AS value
		       FROM reported
		       WHERE household_id = $1 AND stove_id IN (SELECT id FROM beside) AND place = 'room' AND at BETWEEN $3 AND $4
		       ORDER BY at DESC LIMIT 1)
		      UNION ALL
		      (SELECT r.at, r.reading
		       FROM readings r
		       JOIN burns b ON b.household_id = r.household_id AND b.id = r.burn_id AND b.removed_at IS NULL
		       WHERE r.household_id = $1 AND b.stove_id IN (SELECT id FROM beside) AND r.place = 'room' AND r.counts AND r.at BETWEEN $3 AND $4
		         AND b.started > $3 - interval '2 days'
		       ORDER BY r.at DESC LIMIT 1)) r
		ORDER BY at DESC
		LIMIT 1`, h.id, stoveID, now.Add(-roomHolds), now)
	if err != nil || len(rows) == 0 {
		return 0, false, err
	}
	return rows[0].Value, true, nil
}
