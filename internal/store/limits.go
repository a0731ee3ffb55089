package store

import (
	"context"
	"fmt"
)

// Limits are how much one household may keep on a server that many share; 0: as much as it likes.
type Limits struct {
	Stacks   int   // on the list
	Burns    int   //
	Bytes    int64 // of pictures, and of what is shared
	Readings int   // that thermometers report, in a day
}

// A LimitKind names one of them.
type LimitKind string

// The kinds.
const (
	OfStacks   LimitKind = "stacks"
	OfBurns    LimitKind = "burns"
	OfBytes    LimitKind = "bytes"
	OfReadings LimitKind = "readings"
)

// A Limited is the error of a household that keeps as much as its host allows.
type Limited struct {
	Kind LimitKind
	Most int64
}

// Error names the limit.
func (l *Limited) Error() string {
	return fmt.Sprintf("the household keeps as many %s as it may: %d", l.Kind, l.Most)
}

// Limit sets what every household of the store may keep; it is set before the store is used.
func (s *Store) Limit(l Limits) { s.limits = l }

// allows refuses what would be more than a household may keep. Two at once may both be let in: a
// limit is a bound on what a host bears, and no lock.
func (h Household) allows(ctx context.Context, kind LimitKind, more int64) error {
	var most int64
	var counted string
	switch kind {
	case OfStacks:
		most, counted = int64(h.limits.Stacks), `SELECT count(*) FROM stacks WHERE household_id = $1 AND removed_at IS NULL`
	case OfBurns:
		most, counted = int64(h.limits.Burns), `SELECT count(*) FROM burns WHERE household_id = $1`
	case OfBytes:
		most, counted = h.limits.Bytes, `
			SELECT COALESCE((SELECT sum(length(jpeg)) FROM photos WHERE household_id = $1), 0)
			     + COALESCE((SELECT sum(length(doc)) FROM shares WHERE household_id = $1), 0)
			     + COALESCE((SELECT sum(length(doc)) FROM guests WHERE household_id = $1), 0)`
	case OfReadings:
		most, counted = int64(h.limits.Readings), `
			SELECT count(*)
			FROM readings
			WHERE household_id = $1 AND at > (SELECT max(at) FROM readings WHERE household_id = $1) - interval '1 day'`
	}
	if most <= 0 {
		return nil
	}
	var n int64
	if err := h.db.GetContext(ctx, &n, counted, h.id); err != nil {
		return err
	}
	if n+more > most {
		return &Limited{kind, most}
	}
	return nil
}
