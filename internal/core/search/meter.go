package search

import "sync/atomic"

// A Meter counts the candidates that a search burns, for whoever waits for it.
// It may be read while the search runs; a nil Meter counts nothing.
type Meter struct{ burnt, all atomic.Int64 }

// Read returns how many candidates are burnt and of how many so far; a day's
// later fires are not among them until they are searched for.
func (m *Meter) Read() (burnt, all int) { return int(m.burnt.Load()), int(m.all.Load()) }

// Expect adds candidates that will be burnt.
func (m *Meter) Expect(n int) {
	if m != nil {
		m.all.Add(int64(n))
	}
}

// Count counts one that has been.
func (m *Meter) Count() {
	if m != nil {
		m.burnt.Add(1)
	}
}
