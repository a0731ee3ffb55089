package kit

import (
	"net/http"
	"sync"

	"smolder/internal/app/due"
	"smolder/internal/app/shed"
	"smolder/internal/app/winter"
	"smolder/internal/core/learn"
	"smolder/internal/store"
)

// What a page asks of the household it asks once, however many parts of the page need it. A
// request that changes something asks anew each time, since it may have changed the answer.
type once struct {
	stoves memo[[]store.Stove]
	wood   memo[shed.Wood]
	known  memo[map[int64]learn.Known]
	fires  memo[[]store.Burn]
	winter memo[winter.Winter]
	due    memo[[]due.Line]
	whole  []store.Burn // those that were fetched whole
}

// A memo is one answer.
type memo[T any] struct {
	sync.Mutex
	asked bool
	value T
	err   error
}

// get answers, asking only the first time of a request that changes nothing.
func (m *memo[T]) get(q *Request, ask func() (T, error)) (T, error) {
	m.Lock()
	defer m.Unlock()
	if m.asked && (q.Request.Method == http.MethodGet || q.Request.Method == http.MethodHead) {
		return m.value, m.err
	}
	m.value, m.err = ask()
	m.asked = true
	return m.value, m.err
}

// Stoves are the household's.
func (q *Request) Stoves() ([]store.Stove, error) {
	return q.once.stoves.get(q, func() ([]store.Stove, error) { return q.Home.Stoves(q.Ctx()) })
}

// Wood is what the household has, as it is now.
func (q *Request) Wood() (shed.Wood, error) {
	return q.once.wood.get(q, func() (shed.Wood, error) { return q.Site.Shed.Of(q.Ctx(), q.Home, q.Now()) })
}

// Stacks are those of [Request.Wood].
func (q *Request) Stacks() ([]shed.Stack, error) {
	w, err := q.Wood()
	return w.Stacks, err
}

// Stack is one of them; [store.ErrMissing] where there is none of that number.
func (q *Request) Stack(id int64) (shed.Stack, error) {
	w, err := q.Wood()
	if err != nil {
		return shed.Stack{}, err
	}
	return w.Stack(id)
}

// Known is what is known of each stove now.
func (q *Request) Known() (map[int64]learn.Known, error) {
	return q.once.known.get(q, func() (map[int64]learn.Known, error) { return q.Home.KnownOfAll(q.Ctx(), q.Now()) })
}

// KnownOf is what is known of one stove now; nothing is no error.
func (q *Request) KnownOf(stove int64) (learn.Known, error) {
	all, err := q.Known()
	if known, there := all[stove]; there {
		return known, err
	}
	return learn.New(), err
}

// Fires are the open burns with what endangers now.
func (q *Request) Fires() ([]store.Burn, error) {
	return q.once.fires.get(q, func() ([]store.Burn, error) { return q.Home.Fires(q.Ctx(), q.Site.Now(), q.once.whole...) })
}

// Burn is a burn of the household that is on the list.
func (q *Request) Burn(id int64) (store.Burn, error) {
	b, err := q.Home.Burn(q.Ctx(), id)
	if err != nil {
		return b, err
	}
	if b.Removed {
		return b, store.ErrMissing
	}
	q.once.whole = append(q.once.whole, b)
	return b, nil
}

// Winter is what the household's wood and winter are reckoned from.
func (q *Request) Winter() (winter.Winter, error) {
	return q.once.winter.get(q, func() (winter.Winter, error) {
		var given winter.Given
		var err error
		if given.Wood, err = q.Wood(); err != nil {
			return winter.Winter{}, err
		}
		if given.Stoves, err = q.Stoves(); err != nil {
			return winter.Winter{}, err
		}
		if given.Known, err = q.Known(); err != nil {
			return winter.Winter{}, err
		}
		return winter.Of(q.Ctx(), q.Home, given, q.Now())
	})
}

// Due is how the household's upkeep stands.
func (q *Request) Due() ([]due.Line, error) {
	return q.once.due.get(q, func() ([]due.Line, error) {
		stoves, err := q.Stoves()
		if err != nil {
			return nil, err
		}
		return due.Of(q.Ctx(), q.Home, stoves, q.Profile.Alarms, q.Now())
	})
}
