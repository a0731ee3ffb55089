package practice

import (
	"log/slog"
	"net/http"
	"runtime/debug"
	"slices"
	"strconv"
	"sync"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/learn"
	"smolder/internal/core/practice"
	"smolder/internal/core/review"
	"smolder/internal/planner"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// The review of a practice is that of a burn: its gauges and what was done in it are taken in, and
// what would have been is burnt in the worlds that are left. It takes both hands of a small machine
// for some seconds, so one is made at a time, in the background, and remembered.

const (
	mostReviewed = 48
	mostWaiting  = 8
	patience     = 700 * time.Millisecond
)

// reviews are those that were made or are being made.
type reviews struct {
	mu      sync.Mutex
	kept    []*reviewed // the one asked for last is at the end
	turn    chan struct{}
	waiting int
}

type reviewed struct {
	id     int64
	done   chan struct{}
	burn   burn.Burn
	review review.Review
	m      burn.Measures
	failed bool
}

func newReviews() *reviews { return &reviews{turn: make(chan struct{}, 1)} }

// of is the review of a practice, begun now where nobody has; [planner.ErrBusy] where too many wait.
func (r *reviews) of(id int64, log *slog.Logger, begin func() burn.Burn) (*reviewed, error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if i := slices.IndexFunc(r.kept, func(k *reviewed) bool { return k.id == id }); i >= 0 {
		k := r.kept[i]
		r.kept = append(slices.Delete(r.kept, i, i+1), k)
		return k, nil
	}
	if r.waiting >= mostWaiting {
		return nil, planner.ErrBusy
	}
	if len(r.kept) >= mostReviewed {
		r.kept = slices.Delete(r.kept, 0, 1)
	}
	k := &reviewed{id: id, done: make(chan struct{}), burn: begin()}
	r.kept = append(r.kept, k)
	r.waiting++
	go func() {
		r.turn <- struct{}{}
		defer func() {
			if p := recover(); p != nil { // one review costs itself, and not the server
				log.Error("practice", "error", p, "stack", string(debug.Stack()))
				k.failed = true
			}
			<-r.turn
			r.mu.Lock()
			r.waiting--
			r.mu.Unlock()
			close(k.done)
		}()
		var past *review.Past
		if k.review, past = review.Of(k.burn, learn.New()); past != nil {
			k.m = past.Measures()
		}
	}()
	return k, nil
}

// soon waits a moment for it.
func (k *reviewed) soon() bool {
	select {
	case <-k.done:
		return true
	case <-time.After(patience):
		return false
	}
}

// donePage is what came of a practice.
type donePage struct {
	kit.Page
	ID       int64
	Name, On string
	Score    string
	Well     bool
	Marks    []mark
	Doing    bool
	Failed   bool
	Findings []say.Found
	Dangers  []say.Hurting
	Strip    *strip.Pair
	From     []kit.Option // moments from which it can be gone on otherwise
	Next     *lessonLine
	Same     practice.Key
	Stove    string
}

// mark is a check with how it went.
type mark struct {
	Name, Says, Out string
	Bar             int
	Good            bool
}

const mostMoments = 24

// afterwards shows what came of a practice.
func (s Room) afterwards(q *kit.Request, kept store.Practice) error {
	w, loc := say.Lesson(kept.Lesson), q.Locale()
	p := &donePage{Page: kit.Page{Title: q.T("Practice") + ": " + q.T(w.Name), Nav: "practice", Wide: true}, ID: kept.ID, Name: q.T(w.Name), On: kept.On,
		Score: tenths(q, kept.Score), Well: kept.Score >= practice.Passed, Same: kept.Lesson}
	for _, m := range kept.Marks {
		p.Marks = append(p.Marks, mark{q.T(say.CheckName(m.Check)), say.Checked(m, loc), tenths(q, m.Share), int(100 * m.Share), m.Share >= practice.Passed})
	}
	day := kept.Begun.In(q.Profile.Location())
	evening := time.Date(day.Year(), day.Month(), day.Day(), 0, 0, 0, 0, day.Location()).Add(beginOf(kept.Lesson)) // by the practice's own clock
	h, err := s.reviews.of(kept.ID, s.Log, func() burn.Burn {
		fire, err := practice.New(kept.Spec, kept.Done)
		if err != nil {
			return burn.Burn{}
		}
		fire.GoTo(fire.Lesson.For)
		return fire.Burn(evening.Add(-fire.Begins))
	})
	if err != nil {
		return err
	}
	if p.Stove, err = stoveNamed(q, kept); err != nil {
		return err
	}
	s.moments(q, p, kept)
	for i, l := range practice.Lessons {
		if l.Key == kept.Lesson && i+1 < len(practice.Lessons) && practice.Lessons[i+1].Suits(kept.Spec.Stove) && p.Well {
			next := practice.Lessons[i+1]
			p.Next = &lessonLine{Key: next.Key, Name: q.T(say.Lesson(next.Key).Name)}
		}
	}
	if !h.soon() {
		p.Doing = true
		q.Header("Refresh", "2") // the page asks again by itself, without a script too
		q.Show(http.StatusOK, "practised", p)
		return nil
	}
	p.Failed = h.failed
	if !h.failed {
		for _, d := range h.review.Dangers {
			p.Dangers = append(p.Dangers, say.Hurt(d, loc))
		}
		for _, f := range h.review.Findings {
			p.Findings = append(p.Findings, say.Finding(f, loc))
		}
		drawn := strip.Draw(strip.OfBurn(h.burn, nil, h.m, h.burn.Ended, "", q.View(h.burn.Started)), strip.Page)
		p.Strip = &drawn
	}
	q.Show(http.StatusOK, "practised", p)
	return nil
}

// stoveNamed is how the stove of a practice is asked for once more.
func stoveNamed(q *kit.Request, kept store.Practice) (string, error) {
	stoves, err := q.Stoves()
	if err != nil {
		return "", err
	}
	for _, one := range stoves {
		if one.Name == kept.On {
			return strconv.FormatInt(one.ID, 10), nil
		}
	}
	return familyOf + string(kept.Spec.Stove.Family), nil
}

// moments are those at which something was done: from each it can be gone on otherwise.
func (s Room) moments(q *kit.Request, p *donePage, kept store.Practice) {
	fire, err := practice.New(kept.Spec, nil)
	if err != nil {
		return
	}
	last := -time.Minute
	for _, d := range kept.Done {
		at := d.At - fire.Begins
		if at < 0 || at-last < time.Minute || len(p.From) >= mostMoments {
			continue
		}
		last = at
		p.From = append(p.From, kit.Option{Value: strconv.Itoa(int(at.Seconds())), Label: q.F("from minute %d on", int(at.Minutes()))})
	}
}
