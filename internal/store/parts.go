package store

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"
)

// What thermometers report stands in a table of parts: one a month, made ahead, so that no
// reading waits for one ([Store.MakeParts]); and one a year for readings of long ago that a
// file brings, so that it does not make hundreds.

const (
	partPrefix = "reported_"
	// monthsAhead is for how many months after this one there are parts.
	monthsAhead = 2
	// monthsBack is how long before the newest part readings have a part a month.
	monthsBack = 24
)

// A part is a span of the table.
type part struct {
	name     string
	from, to time.Time
}

// monthPart and yearPart are the parts that a moment may fall in.
func monthPart(t time.Time) part {
	from := time.Date(t.UTC().Year(), t.UTC().Month(), 1, 0, 0, 0, 0, time.UTC)
	return part{partPrefix + from.Format("200601"), from, from.AddDate(0, 1, 0)}
}

func yearPart(t time.Time) part {
	from := time.Date(t.UTC().Year(), 1, 1, 0, 0, 0, 0, time.UTC)
	return part{partPrefix + from.Format("2006"), from, from.AddDate(1, 0, 0)}
}

// partNamed is the part of a name.
func partNamed(name string) (part, bool) {
	if at, err := time.Parse(partPrefix+"200601", name); err == nil {
		return monthPart(at), true
	}
	at, err := time.Parse(partPrefix+"2006", name)
	return yearPart(at), err == nil
}

// lacksPart tells whether an error says that a reading has no part to stand in.
func lacksPart(err error) bool { return hasCode(err, checkViolation) && violatesTable(err, "reported") }

// MakeParts makes the parts that readings of the last month and of the next ones stand in,
// where they are not there. It is asked regularly, and made again it is fine.
func (s *Store) MakeParts(ctx context.Context, now time.Time) error {
	var ahead []time.Time
	this := monthPart(now).from
	for n := -1; n <= monthsAhead; n++ {
		ahead = append(ahead, this.AddDate(0, n, 0))
	}
	return s.db.makeParts(ctx, ahead)
}

// partsFor makes the parts for readings of before those.
func (h Household) partsFor(ctx context.Context, readings []Reported) error {
	seen := map[string]bool{}
	var moments []time.Time
	for _, r := range readings {
		if p := monthPart(r.At); !seen[p.name] {
			seen[p.name] = true
			moments = append(moments, r.At)
		}
	}
	return h.db.makeParts(ctx, moments)
}

const selectParts = `
	SELECT c.relname
	FROM pg_inherits i
	JOIN pg_class c ON c.oid = i.inhrelid
	WHERE i.inhparent = CAST('reported' AS regclass)`

// parts are the names of those that there are.
func (d database) parts(ctx context.Context) (there []string, err error) {
	err = d.SelectContext(ctx, &there, selectParts)
	return there, err
}

func (d database) makeParts(ctx context.Context, moments []time.Time) error {
	return d.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		// One process at a time: two that made the same part would fail each other.
		if _, err := tx.ExecContext(ctx, `SELECT pg_advisory_xact_lock(hashtext('reported'))`); err != nil {
			return err
		}
		var there []string
		if err := tx.SelectContext(ctx, &there, selectParts); err != nil {
			return err
		}
		for _, at := range moments {
			p, needed := partOf(at, there)
			if !needed {
				continue
			}
			if err := makePart(ctx, tx, p); err != nil {
				return err
			}
			there = append(there, p.name)
		}
		return nil
	})
}

// partOf is the part that a moment needs, beside those that are there: of its month, or of its
// year where that lies long before the newest and no month of it has one.
func partOf(at time.Time, there []string) (p part, needed bool) {
	month, year := monthPart(at), yearPart(at)
	ofYear := slices.ContainsFunc(there, func(name string) bool { return strings.HasPrefix(name, year.name) })
	switch {
	case slices.Contains(there, month.name), slices.Contains(there, year.name):
		return part{}, false
	case !ofYear && month.to.AddDate(0, monthsBack, 0).Before(newest(there)):
		return year, true
	}
	return month, true
}

// newest is when the last of the parts of a month begins; the zero time where there is none.
func newest(there []string) (last time.Time) {
	for _, name := range there {
		if from, err := time.Parse(partPrefix+"200601", name); err == nil && from.After(last) {
			last = from
		}
	}
	return last
}

// makePart makes one. It is made apart and then added, which stops neither who reads nor who
// writes meanwhile.
func makePart(ctx context.Context, tx *sqlx.Tx, p part) error {
	// By a function of whoever owns the table: who serves may not.
	if _, err := tx.ExecContext(ctx, `SELECT smolder_part($1, $2, $3)`, p.name, p.from, p.to); err != nil {
		return fmt.Errorf("making %s: %w", p.name, err)
	}
	return nil
}
