package share

import (
	"bytes"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/learn"
	"smolder/internal/exchange"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/burns"
	"smolder/internal/web/kit"
	"smolder/internal/web/stoves"
	"smolder/internal/web/trouble"
)

// source is what somebody looks at who helps: behind a link, or out of a file.
type source struct {
	exchange.Shared
	id       int64  // negative: no burn of anybody's has it
	base     string // address of its page
	answered string // what was said to it already
	ends     time.Time
	file     bool // an answer goes into a file
	token    string
}

// How much somebody may guess at links from one address.
const (
	guesses   = 30
	guessesIn = 10 * time.Minute
	ahead     = 26 * time.Hour // times in what is shared are those of its owner's clock
)

// linked serves whoever has a link.
func (s Room) linked(h func(*kit.Request, source) error) func(*kit.Request) error {
	return func(q *kit.Request) error {
		q.Header("Referrer-Policy", "no-referrer") // whoever knows the address gets in by it
		q.Header("Cache-Control", "no-store")
		q.Header("X-Robots-Tag", "noindex")
		token := q.Param("token")
		shared, err := s.Store.Shared(q.Ctx(), token, s.Now())
		if errors.Is(err, store.ErrMissing) {
			full, _, err := s.Store.Attempt(q.Ctx(), s.Now(), store.Limit{Key: "shared from " + kit.AddressOf(q.Request, s.Proxy), Most: guesses, Within: guessesIn})
			if err != nil {
				return err
			}
			if full != nil {
				return kit.Answer(http.StatusTooManyRequests, q.T("Too many links that open nothing were tried from here. Try again in ten minutes."))
			}
			return kit.Answer(http.StatusNotFound, q.T("This link opens nothing: it has ended or was withdrawn, or a letter of it is missing. Ask whoever sent it for another one."))
		}
		if err != nil {
			return err
		}
		doc, err := exchange.ReadShared(bytes.NewReader(shared.Doc), s.Now().Add(ahead))
		if err != nil {
			return err
		}
		return h(q, source{Shared: doc, id: -1 - shared.ID, base: "/shared/" + token, answered: shared.Note, ends: shared.Ends, token: token})
	}
}

// guest serves what came in a file.
func (s Room) guest(h func(*kit.Request, source) error) func(*kit.Request) error {
	return func(q *kit.Request) error {
		id, err := q.ID("id")
		if err != nil {
			return err
		}
		g, err := q.Home.Guest(q.Ctx(), id)
		if err != nil {
			return err
		}
		doc, err := exchange.ReadShared(bytes.NewReader(g.Doc), s.Now().Add(ahead))
		if err != nil {
			return err
		}
		return h(q, source{Shared: doc, id: -1<<40 - id, base: fmt.Sprintf("/guests/%d", id), file: true})
	}
}

// answerTo is where an answer is sent; empty: there is one.
func (o source) answerTo() string {
	if o.answered != "" {
		return ""
	}
	return o.base + "/answer"
}

// calls are those that go with a stove.
func (o source) calls() (out []store.Contact) {
	for _, c := range o.Calls {
		out = append(out, store.Contact{Role: c.What, Name: c.Name, Phone: c.Phone})
	}
	return out
}

// prior is what is believed of the stove by its owner's burns, or what is usual.
func (o source) prior() belief.Prior {
	if o.Known != nil {
		return *o.Known
	}
	return belief.Usual()
}

// burnPage is a burn that somebody shares.
type burnPage struct {
	kit.Page
	Heading, Sub string
	Strip        strip.Pair
	Doing        bool
	Findings     []say.Found
	Dangers      []say.Hurting
	Log          []kit.LogLine
	Try          string
	Photos       []string
	Answer       string
	Answered     string
	Ends         string
	File         bool
	Drop         string
}

// show shows what is shared.
func (s Room) show(q *kit.Request, o source) error {
	switch o.Kind {
	case exchange.SharedStove:
		lines := make([]kit.Figure, 0, len(o.Lines))
		for _, l := range o.Lines {
			lines = append(lines, kit.Figure{Label: l.Head, Value: l.Text})
		}
		back := o.answerTo()
		if len(o.Calls) > 0 {
			back = "" // it is for whoever is at home, and asks nothing
		}
		stoves.ShowSheet(q, stoves.Sheet{Stove: o.Stove, Plan: o.Plan, Calls: o.calls(), Lines: lines, Back: back, Said: o.answered})
		return nil
	case exchange.SharedTrouble:
		t := trouble.Shared{Key: o.Key, Heading: o.Stove.Name, Wish: *o.Wish, Prior: o.prior(), Happens: o.Happens, Evening: o.Shared.Burn,
			Base: o.base, Answer: o.answerTo(), Said: o.answered}
		if o.Shared.Burn != nil {
			t.Burn = o.base + "/otherwise"
		}
		return s.trouble.ShowShared(q, t)
	}
	return s.showBurn(q, o)
}

// logged is the burn as the pages of burns take one.
func (o source) logged() store.Burn { return store.Burn{ID: o.id, Burn: *o.Shared.Burn, Plan: o.Plan} }

// heading names a burn by its stove and its owner's clock.
func heading(q *kit.Request, b burn.Burn) string {
	return b.Stove.Name + ", " + q.Locale().Date(b.Started.UTC(), "2 January 2006, 15:04")
}

func (s Room) showBurn(q *kit.Request, o source) error {
	b, loc := o.logged(), q.Locale()
	p := &burnPage{Page: kit.Page{Title: q.T("A burn that is shared"), Wide: true}, Heading: heading(q, b.Burn), Try: o.base + "/otherwise",
		Answer: o.answerTo(), Answered: o.answered, File: o.file}
	if !o.ends.IsZero() {
		p.Ends = q.F("This link ends on %s.", loc.Date(o.ends, "2 January 2006"))
	}
	if o.file {
		p.Drop = o.base + "/go"
	}
	for i := range o.Photos {
		p.Photos = append(p.Photos, fmt.Sprintf("%s/photos/%d", o.base, i+1))
	}
	p.Log, _ = kit.LogOf(q, b, 0)
	r, err := s.reviews.Of(fmt.Sprint(o.Key, o.base), s.Log, func(func(int, int)) kit.Reviewed { return kit.ReviewIt(b.Burn, learn.Known{Prior: o.prior()}) })
	if err != nil {
		return err
	}
	m := burn.Measure(b.Burn, b.Ended)
	if p.Doing = !r.Soon(); !p.Doing && !r.Failed {
		m = r.Made.Measures
		for _, d := range r.Made.Review.Dangers {
			p.Dangers = append(p.Dangers, say.Hurt(d, loc))
		}
		for _, f := range r.Made.Review.Findings {
			p.Findings = append(p.Findings, say.Finding(f, loc))
		}
	}
	if p.Doing {
		q.Header("Refresh", "2") // the page asks again by itself, without a script too
	}
	p.Strip = strip.Draw(strip.OfBurn(b.Burn, b.Plan, m, b.Ended, "", q.View(b.Started)), strip.Page)
	q.Show(http.StatusOK, "shared-burn", p)
	return nil
}

// otherwise lets whoever helps try changes.
func (s Room) otherwise(q *kit.Request, o source) error {
	if o.Shared.Burn == nil {
		return store.ErrMissing
	}
	return s.burns.Try(q, burns.Tried{Burn: o.logged(), Known: learn.Known{Prior: o.prior()}, Base: o.base + "/otherwise", Back: o.base,
		Heading: heading(q, *o.Shared.Burn), Answer: o.answerTo()})
}

// photo is one of the pictures that were chosen.
func (s Room) photo(q *kit.Request, o source) error {
	n, err := strconv.Atoi(q.Param("photo"))
	if err != nil || n < 1 || n > len(o.Photos) {
		return store.ErrMissing
	}
	q.Data(http.StatusOK, "image/jpeg", o.Photos[n-1])
	return nil
}

// said is the answer of a form.
func said(q *kit.Request, o source, now time.Time) (exchange.Answered, error) {
	f, err := q.Form()
	if err != nil {
		return exchange.Answered{}, err
	}
	a := exchange.Answered{Of: o.Key, Text: f.Text("text"), Edits: f.Text("edits"), At: now}
	if err := a.Check(); err != nil {
		return a, kit.Answer(http.StatusUnprocessableEntity, say.Sentence(q.Locale().Error(err, func(err error) string { return say.Error(err, q.Locale()) })))
	}
	return a, nil
}

// answer keeps what whoever has a link says.
func (s Room) answer(q *kit.Request, o source) error {
	a, err := said(q, o, s.Now())
	if err != nil {
		return err
	}
	err = s.Store.Answer(q.Ctx(), o.token, a.Text, a.Edits, s.Now())
	if errors.Is(err, store.ErrStale) {
		return kit.Answer(http.StatusConflict, q.T("There is an answer already, and one is what is taken. Nothing was changed."))
	}
	if err != nil {
		return err
	}
	return q.SeeOther(o.base)
}

// answerFile writes what whoever has the file says into another one, for its owner.
func (s Room) answerFile(q *kit.Request, o source) error {
	a, err := said(q, o, s.Now())
	if err != nil {
		return err
	}
	q.Header("Content-Type", "application/json")
	q.Header("Content-Disposition", `attachment; filename="smolder-answer.json"`)
	return exchange.WriteAnswered(q.Writer, a)
}
