package practice

import (
	"fmt"
	"net/http"
	"strconv"
	"time"

	"smolder/internal/core/learn"
	"smolder/internal/core/practice"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

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
	h, err := s.reviews.Of(fmt.Sprint(kept.ID), s.Log, func(func(int, int)) kit.Reviewed {
		fire, err := practice.New(kept.Spec, kept.Done)
		if err != nil {
			return kit.Reviewed{}
		}
		fire.GoTo(fire.Lesson.For)
		return kit.ReviewIt(fire.Burn(evening.Add(-fire.Begins)), learn.New())
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
	if !h.Soon() {
		p.Doing = true
		q.Header("Refresh", "2") // the page asks again by itself, without a script too
		q.Show(http.StatusOK, "practised", p)
		return nil
	}
	p.Failed = h.Failed
	if !h.Failed {
		for _, d := range h.Made.Review.Dangers {
			p.Dangers = append(p.Dangers, say.Hurt(d, loc))
		}
		for _, f := range h.Made.Review.Findings {
			p.Findings = append(p.Findings, say.Finding(f, loc))
		}
		drawn := strip.Draw(strip.OfBurn(h.Made.Burn, nil, h.Made.Measures, h.Made.Burn.Ended, "", q.View(h.Made.Burn.Started)), strip.Page)
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
