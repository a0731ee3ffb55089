package api

import (
	"sync"
	"time"
)

const (
	// missesAMinute is how many unknown tokens one address may show in a minute.
	missesAMinute = 30
	// mostAddresses is how many addresses are remembered.
	mostAddresses = 10_000
)

// guesses count unknown tokens by where they come from, so that nobody guesses at the
// database's cost. Each process counts its own.
type guesses struct {
	mu sync.Mutex
	of map[string]*misses
}

type misses struct {
	minute time.Time
	n      int
}

// may tells whether an address may show a token.
func (g *guesses) may(address string, now time.Time) bool {
	g.mu.Lock()
	defer g.mu.Unlock()
	m := g.of[address]
	return m == nil || now.Sub(m.minute) >= time.Minute || now.Before(m.minute) || m.n < missesAMinute
}

// missed counts one that is not known.
func (g *guesses) missed(address string, now time.Time) {
	g.mu.Lock()
	defer g.mu.Unlock()
	if g.of == nil || len(g.of) >= mostAddresses {
		g.of = map[string]*misses{} // so many are no household: they begin anew
	}
	m := g.of[address]
	if m == nil || now.Sub(m.minute) >= time.Minute || now.Before(m.minute) {
		m = &misses{minute: now}
		g.of[address] = m
	}
	m.n++
}
