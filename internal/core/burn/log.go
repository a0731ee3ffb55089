package burn

import (
	"errors"
	"math"
	"slices"
	"time"

	"smolder/internal/core/reason"
)

// A Log decides what may be done to the entries of one burn. It is the only
// place where that is decided: whoever keeps entries takes the burn's row for
// itself, makes a Log of what stands there, asks it, and keeps what it says.
//
// Nothing is overwritten. A correction is an entry of its own that names the
// one whose place it takes; undoing marks an entry, putting it back takes the
// mark away. Whether an entry counts follows from these alone:
//
//	an entry counts unless it was undone, or corrected by one that counts
//
// so undoing a correction brings back what it corrected, and no order of
// corrections, undos and put-backs lets both count.
type Log struct {
	burn  Burn
	heads []Head
	at    map[string]int // place in heads, by id
}

// A Head is what a Log needs to know of an entry.
type Head struct {
	ID       string
	At       time.Time
	Corrects string // id of the entry whose place it takes; empty: none
	Undone   bool
	Counts   bool // as it was kept; a Log works it out anew
}

var (
	// ErrUnknown says that there is no entry of that id.
	ErrUnknown = errors.New("there is no such entry in this burn")
	// ErrChanged says that an entry is not as its page showed it: somebody has
	// corrected or undone it meanwhile.
	ErrChanged = errors.New("this entry was changed meanwhile")
	// ErrEnded says that a burn has ended already.
	ErrEnded = errors.New("this burn has ended already")
	// ErrSame says that an entry of that id is kept already: sent twice, kept
	// once.
	ErrSame = errors.New("this entry is kept already")
)

// ErrOther says that an entry of that id is kept already, and says something else.
var ErrOther = errors.New("an entry of that id says something else")

// Another is [ErrOther], with what is kept.
type Another struct{ Kept Entry }

// Error names the entry.
func (a *Another) Error() string { return ErrOther.Error() + ": " + a.Kept.ID }

// Is tells that it is [ErrOther].
func (a *Another) Is(target error) bool { return target == ErrOther }

// sameMoment is how far apart two sendings of one entry may say that it was: a device
// that sends again reckons its moment anew.
const sameMoment = 2 * time.Minute

// Same tells whether two entries of one id say the same: what was done or read, and when.
// Of one tap the moment does not count: two people who tap what both of them are shown
// have done it once.
func (e Entry) Same(other Entry) bool {
	near := func(a, b float64) bool { return math.Abs(a-b) < 1e-6 }
	gap := e.At.Sub(other.At)
	switch {
	case e.Kind != other.Kind || e.Control != other.Control || e.Place != other.Place || e.Door != other.Door || e.Smoke != other.Smoke || e.Note != other.Note:
		return false
	case !near(e.Opening, other.Opening) || !near(float64(e.Reading), float64(other.Reading)) || !near(float64(e.Draft), float64(other.Draft)) ||
		!near(float64(e.Depth), float64(other.Depth)) || !near(e.PPM, other.PPM):
		return false
	case (e.Tap == "" || e.Tap != other.Tap) && (gap > sameMoment || gap < -sameMoment):
		return false
	case (e.Load == nil) != (other.Load == nil):
		return false
	case e.Load == nil:
		return true
	}
	a, b := e.Load, other.Load
	return a.StackID == b.StackID && a.Pieces == b.Pieces && math.Abs(float64(a.PieceMass-b.PieceMass)) < 1e-3 && a.Direction == b.Direction &&
		a.Lay == b.Lay && a.StarterKind == b.StarterKind && a.Kindling == b.Kindling
}

// MostEntries is how many entries one burn may have, undone ones included.
const MostEntries = 100_000

// NewLog makes a log of a burn and the heads of its entries, in the order in
// which they were made.
func NewLog(b Burn, heads []Head) *Log {
	l := &Log{burn: b, heads: heads, at: make(map[string]int, len(heads))}
	for i, h := range heads {
		l.at[h.ID] = i
	}
	l.settle()
	return l
}

// settle works out which entries count. A correction is made after what it
// corrects, so going from the newest to the oldest every corrector is settled
// before what it corrects.
func (l *Log) settle() {
	taken := map[string]bool{} // corrected by one that counts
	for i := len(l.heads) - 1; i >= 0; i-- {
		h := &l.heads[i]
		h.Counts = !h.Undone && !taken[h.ID]
		if h.Counts && h.Corrects != "" {
			taken[h.Corrects] = true
		}
	}
}

// Heads returns the entries as they stand now, in the order they were made.
func (l *Log) Heads() []Head { return l.heads }

// Counting are the ids of the entries that count.
func (l *Log) Counting() map[string]bool {
	out := map[string]bool{}
	for _, h := range l.heads {
		if h.Counts {
			out[h.ID] = true
		}
	}
	return out
}

// Newest returns the entry made last among those that count: what "undo" means.
func (l *Log) Newest() (Head, bool) {
	for _, h := range slices.Backward(l.heads) {
		if h.Counts {
			return h, true
		}
	}
	return Head{}, false
}

func (l *Log) head(id string) (*Head, error) {
	i, ok := l.at[id]
	if !ok {
		return nil, ErrUnknown
	}
	return &l.heads[i], nil
}

// Add allows a new entry, or says why not: an [ErrEntry], or [ErrSame] when it
// is there already.
func (l *Log) Add(e Entry, now time.Time) error {
	if _, there := l.at[e.ID]; there {
		return ErrSame
	}
	if len(l.heads) >= MostEntries {
		return refuse("", ManyEntries, reason.Count(MostEntries))
	}
	if err := l.burn.Check(e, now); err != nil {
		return err
	}
	l.append(Head{ID: e.ID, At: e.At})
	return nil
}

// Correct allows an entry that takes the place of another. One that does not
// count any more cannot be corrected: [ErrChanged].
func (l *Log) Correct(id string, e Entry, now time.Time) error {
	old, err := l.head(id)
	if err != nil {
		return err
	}
	if _, there := l.at[e.ID]; there {
		return ErrSame
	}
	if !old.Counts {
		return ErrChanged
	}
	if len(l.heads) >= MostEntries {
		return refuse("", ManyToMend, reason.Count(MostEntries))
	}
	if err := l.burn.Check(e, now); err != nil {
		return err
	}
	l.append(Head{ID: e.ID, At: e.At, Corrects: id})
	return nil
}

func (l *Log) append(h Head) {
	l.at[h.ID] = len(l.heads)
	l.heads = append(l.heads, h)
	l.settle()
}

// Undo marks an entry as undone; doing so twice is fine.
func (l *Log) Undo(id string) error { return l.mark(id, true) }

// PutBack takes the mark off again; doing so twice is fine.
func (l *Log) PutBack(id string) error { return l.mark(id, false) }

func (l *Log) mark(id string, undone bool) error {
	h, err := l.head(id)
	if err != nil {
		return err
	}
	h.Undone = undone
	l.settle()
	return nil
}

// End returns when the burn ends, if it is ended at the given moment. A burn
// that has ended keeps its end ([ErrEnded]); the end lies neither ahead, nor
// before the burn began, nor before an entry that counts.
func (l *Log) End(at, now time.Time) (time.Time, error) {
	if !l.burn.Ended.IsZero() {
		return l.burn.Ended, ErrEnded
	}
	if at.After(now) && at.Sub(now) <= clockSlack {
		at = now
	}
	last := l.burn.Started
	for _, h := range l.heads {
		if h.Counts && h.At.After(last) {
			last = h.At
		}
	}
	switch {
	case at.After(now):
		return time.Time{}, refuse("when", EndsAhead)
	case at.Before(l.burn.Started):
		return time.Time{}, refuse("when", EndsEarly)
	case at.Before(last.Add(-time.Minute)):
		return time.Time{}, refuse("when", LoggedAfter, reason.Duration(last.Sub(at)))
	case at.Before(last):
		at = last
	case at.Sub(l.burn.Started) > Longest:
		at = l.burn.Started.Add(Longest)
	}
	if !at.After(l.burn.Started) { // a clock that was set back
		at = l.burn.Started.Add(time.Second)
	}
	return at, nil
}
