package hearth

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"time"

	"smolder/internal/live"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

const (
	// pingEvery keeps the connection open through whatever lies between.
	pingEvery = 25 * time.Second
	// streamLasts is how long one stream lasts before the page opens another.
	streamLasts = 10 * time.Minute
	// trusts is how long somebody is taken to be signed in still: who signs out, here or
	// from another browser, hears no more.
	trusts = time.Second
	// looksEvery is how often the page is put together for what time alone changes: ages, and
	// what is due.
	looksEvery = time.Minute
	// gathers is how long readings are gathered before the page is put together for them: a
	// stove has several thermometers, and each reports by itself.
	gathers = 1500 * time.Millisecond
	// sharedFor is how long what one page was put together for serves others, where nothing but
	// time has passed.
	sharedFor = 10 * time.Second
	// laterAnswer is when it is looked for the coach's newest answer, where a page had to be
	// shown without.
	laterAnswer = 400 * time.Millisecond
	// looksAgain is when it is looked again after the page could not be put together, as while the
	// database is busy, and mostFailed how often that is tried before the stream ends.
	looksAgain, mostFailed = 2 * time.Second, 5
)

// A stream is what an open page hears: "reading" with what a thermometer has just reported,
// "parts" with the parts of the page that are not as it shows them, and "lost" where it should
// look at everything again.
type stream struct {
	room  Room
	q     *kit.Request
	burn  int64
	shows shows
	// changed is the newest change that the page does not show yet, and due when it is looked at
	// again; both are by the process's own clock.
	changed, due time.Time
	// The strip is most of the page: it is sent when somebody has logged something, and else once
	// in a while; what thermometers report meanwhile is drawn onto it by the page itself.
	logged  bool // since the page was put together last
	stripAt time.Time
	failed  int // times in a row that it could not be put together
}

// stripPart is the part that the strip is.
const stripPart = "strip"

// changes tells an open page what changes, as server-sent events. To open it asks no more than
// whether the burn is there: what the page shows it has just been given.
func (s Room) changes(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	there, err := q.Home.HasBurn(q.Ctx(), id)
	if err != nil {
		return err
	}
	if !there {
		return store.ErrMissing
	}
	page, shut, err := s.Hub.Open(q.Home.ID())
	if errors.Is(err, live.ErrManyPages) {
		return kit.Answer(http.StatusServiceUnavailable, q.T("Too many pages of this household are open: shut some. This one still looks again by itself."))
	}
	if err != nil {
		return err
	}
	defer shut()
	h := q.Writer.Header()
	h.Set("Content-Type", "text/event-stream")
	h.Set("Cache-Control", "no-store")
	h.Set("X-Accel-Buffering", "no")
	(&stream{room: s, q: q, burn: id, due: time.Now().Add(looksEvery)}).run(page)
	return nil
}

// run sends until the page has gone, its person has signed out, or the stream has lasted.
func (t *stream) run(page *live.Page) {
	if t.send("retry: 2000\n\n") != nil {
		return // whoever asked has gone
	}
	s, q := t.room, t.q
	token, seen := s.Sessions.Token(q.Ctx()), time.Now()
	ping, over, look := time.NewTicker(pingEvery), time.NewTimer(streamLasts), time.NewTimer(looksEvery)
	defer ping.Stop()
	defer over.Stop()
	defer look.Stop()
	for {
		var text string
		select {
		case <-q.Ctx().Done():
			return
		case <-s.Closing():
			return
		case <-over.C:
			return
		case <-ping.C:
			text = ":\n\n"
		case c := <-page.Changes():
			text = t.hear(c)
		case <-look.C:
			var err error
			if text, err = t.look(); err != nil && !t.again(err) {
				return // the page opens another, and looks at everything
			}
		}
		look.Reset(time.Until(t.due))
		if text == "" {
			continue
		}
		if time.Since(seen) > trusts {
			if lives, err := s.Store.Sessions(time.Now).Lives(q.Ctx(), token); err != nil || !lives {
				return // the page opens another, and is asked to sign in
			}
			seen = time.Now()
		}
		if t.send(text) != nil {
			return
		}
	}
}

// again tells whether it is looked once more after an error of a database that is busy or away: what changed is still to be told.
func (t *stream) again(err error) bool {
	if t.failed++; !store.Silent(err) || t.failed > mostFailed || t.q.Ctx().Err() != nil {
		return false
	}
	t.due = time.Now().Add(looksAgain)
	return true
}

// send writes within the while that a slow line may take.
func (t *stream) send(text string) error {
	out := http.NewResponseController(t.q.Writer)
	if err := out.SetWriteDeadline(time.Now().Add(2 * pingEvery)); err != nil {
		return err
	}
	if _, err := t.q.Writer.WriteString(text); err != nil {
		return err
	}
	return out.Flush()
}

// hear is what a change is told as at once; the parts that it changes follow when they are due.
func (t *stream) hear(c store.Change) (event string) {
	switch {
	case c.Household == 0: // something was lost
		t.shows = nil
		return "event: lost\ndata: {}\n\n"
	case c.Burn != 0 && c.Burn != t.burn:
		return ""
	case len(c.Readings) == 0:
		t.changed, t.due, t.logged = c.Heard, c.Heard, true
		return ""
	}
	t.changed = c.Heard
	if soon := c.Heard.Add(gathers); soon.Before(t.due) {
		t.due = soon
	}
	text, err := json.Marshal(c.Readings)
	if err != nil {
		return ""
	}
	return fmt.Sprintf("event: reading\ndata: %s\n\n", text)
}

// look is the parts that the page does not show yet; empty where it shows all.
func (t *stream) look() (event string, err error) {
	now := time.Now()
	if t.changed.IsZero() {
		t.changed = now.Add(-sharedFor) // time alone has passed
	}
	all, stale, over, err := t.room.partsSince(t.q.Anew(), t.burn, t.changed)
	if err != nil {
		return "", err
	}
	t.changed, t.due, t.failed = time.Time{}, now.Add(looksEvery), 0
	if over {
		return "event: lost\ndata: {}\n\n", nil
	}
	if stale {
		t.changed, t.due = now, now.Add(laterAnswer)
	}
	fresh, shows := all.missing(t.shows), all.shows()
	if _, changed := fresh[stripPart]; changed {
		if t.shows == nil || t.logged || now.Sub(t.stripAt) >= looksEvery {
			t.stripAt = now
		} else {
			delete(fresh, stripPart)
			shows[stripPart] = t.shows[stripPart]
		}
	}
	t.shows = shows
	t.logged = t.logged && stale // what was logged comes with the answer that knows it
	if len(fresh) == 0 {
		return "", nil
	}
	return fresh.event(t.q.Locale())
}
