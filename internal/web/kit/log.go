package kit

import (
	"smolder/internal/core/burn"
	"smolder/internal/say"
	"smolder/internal/store"
)

// logArgs are what the log's template needs.
type logArgs struct {
	ID    int64
	Lines []LogLine
}

// LogLine is one entry in words.
type LogLine struct {
	ID, At, Text string
	Struck       bool // does not count
	Undone       bool // by hand: it can be put back
	Kind         burn.Kind
}

// logAPage is how many entries of a log are shown at a time.
const logAPage = 200

// LogOf returns a page of the log in words, newest first, entries that do not
// count included, and how many older ones there are.
func LogOf(q *Request, b store.Burn, skip int) (lines []LogLine, older int) {
	logged := b.Logged()
	n := len(logged)
	skip = min(max(0, skip), n)
	for i := n - 1 - skip; i >= 0 && len(lines) < logAPage; i-- { // they lie in order of time
		e := logged[i]
		lines = append(lines, LogLine{ID: e.ID, At: e.At.In(q.Profile.Location()).Format("15:04"), Text: say.Entry(b.Burn, e, q.Locale()),
			Struck: e.Struck, Undone: e.Undone, Kind: e.Kind})
	}
	return lines, n - skip - len(lines)
}

func (s *Site) BurnOf(q *Request) (store.Burn, error) {
	id, err := q.ID("id")
	if err != nil {
		return store.Burn{}, err
	}
	return q.Burn(id)
}
