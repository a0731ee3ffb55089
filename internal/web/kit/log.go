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
	By           string // who made it, where more than one had a hand in the fire
	UndoneBy     string // likewise
}

// logAPage is how many entries of a log are shown at a time.
const logAPage = 200

// LogOf returns a page of the log in words, newest first, entries that do not
// count included, and how many older ones there are.
func LogOf(q *Request, b store.Burn, skip int) (lines []LogLine, older int) {
	logged := b.Logged()
	several := b.Several()
	n := len(logged)
	skip = min(max(0, skip), n)
	for i := n - 1 - skip; i >= 0 && len(lines) < logAPage; i-- { // they lie in order of time
		e := logged[i]
		lines = append(lines, LogLine{ID: e.ID, At: e.At.In(q.Profile.Location()).Format("15:04"), Text: say.Entry(b.Burn, e, q.Locale()),
			Struck: e.Struck, Undone: e.Undone, Kind: e.Kind})
		if several {
			lines[len(lines)-1].By, lines[len(lines)-1].UndoneBy = e.By, e.UndoneBy
		}
	}
	return lines, n - skip - len(lines)
}

// LitAndEnded says who lit and who ended a burn in which more than one had a hand; of another it
// is empty.
func LitAndEnded(q *Request, b store.Burn) string {
	switch {
	case !b.Several():
	case b.LitBy != "" && b.EndedBy != "":
		return q.F("Lit by %s, ended by %s.", b.LitBy, b.EndedBy)
	case b.LitBy != "":
		return q.F("Lit by %s.", b.LitBy)
	}
	return ""
}

// ByOther says who did something, if it was not who asks; of one's own it is empty.
func (q *Request) ByOther(name string) string {
	if name == "" || name == q.User.Name {
		return ""
	}
	return q.F("by %s", name)
}

func (s *Site) BurnOf(q *Request) (store.Burn, error) {
	id, err := q.ID("id")
	if err != nil {
		return store.Burn{}, err
	}
	return q.Burn(id)
}
