package api

import (
	"context"
	"sync"
	"time"

	"smolder/internal/store"
)

const (
	// missesAMinute is how many unknown tokens one address may show in a minute.
	missesAMinute = 30
	// mostAddresses is how many addresses are remembered.
	mostAddresses = 10_000
)

// guesses count unknown tokens by where they come from, so that nobody guesses at the
// database's cost. They are counted in the database, for all processes; that an address has shown
// too many is remembered here, so that it costs nothing more until its minute is over.
type guesses struct {
	count func(ctx context.Context, now time.Time, limits ...store.Limit) (full *store.Limit, taken []int64, err error)

	mu sync.Mutex
	of map[string]time.Time // until when an address is not heard
}

// may tells whether an address may show a token.
func (g *guesses) may(address string, now time.Time) bool {
	g.mu.Lock()
	defer g.mu.Unlock()
	until, shut := g.of[address]
	return !shut || !now.Before(until) || now.Before(until.Add(-time.Minute))
}

// missed counts one that is not known.
func (g *guesses) missed(ctx context.Context, address string, now time.Time) error {
	full, _, err := g.count(ctx, now, store.Limit{Key: "token from " + address, Most: missesAMinute, Within: time.Minute})
	if err != nil || full == nil {
		return err
	}
	g.mu.Lock()
	defer g.mu.Unlock()
	if g.of == nil || len(g.of) >= mostAddresses {
		g.of = map[string]time.Time{} // so many are no household: they begin anew
	}
	g.of[address] = now.Add(time.Minute)
	return nil
}
