package web

import (
	"smolder/internal/core/burn"
	"smolder/internal/say"
	"smolder/internal/store"
)

// logArgs are what the log's template needs.
type logArgs struct {
	ID    int64
	Lines []logLine
}

// logLine is one entry in words.
type logLine struct {
	ID, At, Text string
	Struck       bool // does not count
	Undone       bool // by hand: it can be put back
	Kind         burn.Kind
}

// logAPage is how many entries of a log are shown at a time.
const logAPage = 200

// logOf returns a page of the log in words, newest first, entries that do not
// count included, and how many older ones there are.
func logOf(q *request, b store.Burn, skip int) (lines []logLine, older int) {
	n := len(b.Entries)
	skip = min(max(0, skip), n)
	for i := n - 1 - skip; i >= 0 && len(lines) < logAPage; i-- { // they lie in order of time
		e := b.Entries[i]
		lines = append(lines, logLine{ID: e.ID, At: e.At.In(q.profile.Location()).Format("15:04"), Text: say.Entry(b.Burn, e, q.units()), Struck: e.Struck, Undone: e.Undone, Kind: e.Kind})
	}
	return lines, n - skip - len(lines)
}

func (s *Server) burnOf(q *request) (store.Burn, error) {
	id, err := q.id("id")
	if err != nil {
		return store.Burn{}, err
	}
	b, err := q.house.Burn(q.ctx(), id)
	if err == nil && b.Removed {
		return b, store.ErrMissing
	}
	return b, err
}
