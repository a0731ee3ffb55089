package store

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"time"
)

// What lies behind (the logbook, comparisons, weeks of a winter, all that a household takes out) is
// read from a streaming replica where there is one, so that the first server has its hands free for the
// fires that burn. How far the replica is behind is looked at again and again: the place in the log of
// the first at a moment, and whether the replica has come to it. One that is too far behind, does not
// answer, or has been promoted is not asked; nor is it for a household that has changed something here
// since the moment that the replica has certainly come to: who has just written sees it.

const (
	// looksAtReplica is how often it is looked how far it is.
	looksAtReplica = 250 * time.Millisecond
	// UsualLag is how far a replica may be behind, usually.
	UsualLag = 2 * time.Second
)

// A replica is a second server that follows the first.
type replica struct {
	db    database
	first database
	bound time.Duration

	mu    sync.Mutex
	as    time.Time           // of which everything is certainly there
	wrote map[int64]time.Time // when households changed something last, by this process
	why   error               // it is not asked
	asked atomic.Int64        // times
}

// Reads lets what lies behind be read from a streaming replica, by its URL, while that is no further
// behind than a bound; an empty URL: there is none.
func Reads(url string, bound time.Duration) Option {
	return func(o *opening) { o.reads, o.bound = url, bound }
}

// Follow looks how far the replica is behind until the context ends; without one it returns at once.
// told hears when it is asked no more, and why, and when (nil) it is again.
func (s *Store) Follow(ctx context.Context, told func(error)) {
	if s.reads == nil {
		return
	}
	ticks := time.NewTicker(looksAtReplica)
	defer ticks.Stop()
	asked := true
	for {
		s.reads.look(ctx)
		now := time.Now()
		if why := s.reads.behind(now); told != nil && (why == nil) != asked {
			asked = why == nil
			told(why)
		}
		select {
		case <-ctx.Done():
			return
		case <-ticks.C:
		}
	}
}

// ErrBehind says that a replica is further behind than it may be.
var ErrBehind = errors.New("the replica is behind")

// look looks once.
func (r *replica) look(ctx context.Context) {
	began := time.Now()
	var place string
	var there bool
	err := r.first.GetContext(ctx, &place, `SELECT pg_current_wal_lsn()`)
	if err == nil {
		err = r.db.GetContext(ctx, &there, `SELECT pg_is_in_recovery() AND pg_last_wal_replay_lsn() >= CAST($1 AS pg_lsn)`, place)
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.why = err; err == nil && there {
		r.as = began
	}
	for id, at := range r.wrote {
		if at.Before(r.as) {
			delete(r.wrote, id)
		}
	}
}

// behind is why it is not asked; nil: it is.
func (r *replica) behind(now time.Time) error {
	r.mu.Lock()
	defer r.mu.Unlock()
	switch {
	case r.why != nil:
		return fmt.Errorf("%w: it is not known how far: %w", ErrBehind, r.why)
	case r.as.IsZero():
		return ErrBehind
	case now.Sub(r.as) > r.bound:
		return fmt.Errorf("%w by more than %s", ErrBehind, now.Sub(r.as).Round(100*time.Millisecond))
	}
	return nil
}

// serves tells whether it may be asked for a household.
func (r *replica) serves(household int64, now time.Time) bool {
	if r == nil || r.behind(now) != nil {
		return false
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	_, lately := r.wrote[household]
	return !lately
}

// changed remembers that a household may have changed something until now.
func (r *replica) changed(household int64) {
	if r == nil {
		return
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.wrote == nil {
		r.wrote = map[int64]time.Time{}
	}
	r.wrote[household] = time.Now()
}

// changes tells whether a statement may change something.
func changes(query string) bool {
	q := strings.TrimSpace(query)
	return len(q) < 6 || !strings.EqualFold(q[:6], "SELECT")
}

// past is the household as what lies behind is read: from the replica where that may be asked.
func (h Household) past() Household {
	if h.db.reads.serves(h.id, time.Now()) {
		h.db.database = h.db.reads.db
		h.db.reads.asked.Add(1)
	}
	return h
}

// Keeps is what becomes of what was acknowledged when the first server breaks and a standby takes over.
type Keeps int

// What becomes of it.
const (
	NoStandby   Keeps = iota // nothing follows: it comes back from the server's own disk, or from a backup
	LosesLittle              // what the standby had not heard yet is lost: moments, as a rule
	LosesNone                // nothing was acknowledged that the standby had not kept
)

// Standby is what this database's server promises.
func (s *Store) Standby(ctx context.Context) (k Keeps, err error) {
	var waits string
	var follow int
	if err := s.db.GetContext(ctx, &waits, `SELECT current_setting('synchronous_standby_names')`); err != nil {
		return NoStandby, err
	}
	if err := s.db.GetContext(ctx, &follow, `SELECT count(*) FROM pg_stat_replication WHERE application_name <> 'pg_basebackup'`); err != nil {
		return NoStandby, err
	}
	var commit string
	if err := s.db.GetContext(ctx, &commit, `SELECT current_setting('synchronous_commit')`); err != nil {
		return NoStandby, err
	}
	switch {
	case waits != "" && (commit == "on" || commit == "remote_apply"):
		return LosesNone, nil
	case follow > 0 || waits != "":
		return LosesLittle, nil
	}
	return NoStandby, nil
}
