package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"
)

const (
	// triesAlone is how often a process that is not the one looks whether it has to be.
	triesAlone = 2 * time.Second
	// provesAlone is how often the one that is looks whether it still is: after twice as long
	// another may be.
	provesAlone = 2 * time.Second
)

// Alone runs f while no other process of this database does under the same name, until the context
// ends: what may be there only once, such as a client of a broker that knows it by its name. The
// process that has it holds a lock on a connection of its own; where that breaks, f's context ends, and
// whichever process is first goes on.
func (s *Store) Alone(ctx context.Context, name string, f func(context.Context)) {
	other := false // had it when it was tried last
	for ctx.Err() == nil {
		other = s.alone(ctx, name, other, f)
		select {
		case <-ctx.Done():
		case <-time.After(triesAlone):
		}
	}
}

// alone tries once, and tells whether another has it. Who takes it over from another waits until that
// one must have noticed.
func (s *Store) alone(ctx context.Context, name string, over bool, f func(context.Context)) (other bool) {
	connecting, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	conn, err := pgx.ConnectConfig(connecting, s.itself)
	if err != nil {
		return over
	}
	defer conn.Close(context.WithoutCancel(ctx)) //nolint:errcheck // the lock ends with it
	var mine bool
	if conn.QueryRow(connecting, `SELECT pg_try_advisory_lock(hashtext('smolder alone'), hashtext($1))`, name).Scan(&mine) != nil || !mine {
		return true
	}
	if over {
		select {
		case <-ctx.Done():
			return false
		case <-time.After(2*provesAlone + time.Second):
		}
	}
	doing, stop := context.WithCancel(ctx)
	defer stop()
	done := make(chan struct{})
	go func() { defer close(done); f(doing) }()
	proves := time.NewTicker(provesAlone)
	defer proves.Stop()
	for {
		select {
		case <-done:
			return false
		case <-proves.C:
			asking, answered := context.WithTimeout(ctx, provesAlone)
			err := conn.Ping(asking)
			answered()
			if err != nil {
				stop()
				<-done
				return true
			}
		}
	}
}
