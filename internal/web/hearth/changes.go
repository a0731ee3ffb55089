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
)

// changes tells an open page what changes, as server-sent events: "change" where it
// should look again, "reading" with what a thermometer has just reported.
func (s Room) changes(q *kit.Request) error {
	b, err := s.BurnOf(q)
	if err != nil {
		return err
	}
	page, shut, err := s.Hub.Open(q.Home.ID())
	if errors.Is(err, live.ErrManyPages) {
		return kit.Answer(http.StatusServiceUnavailable, "Too many pages of this household are open: shut some. This one still looks again by itself.")
	}
	if err != nil {
		return err
	}
	defer shut()
	out := http.NewResponseController(q.Writer)
	h := q.Writer.Header()
	h.Set("Content-Type", "text/event-stream")
	h.Set("Cache-Control", "no-store")
	h.Set("X-Accel-Buffering", "no")
	send := func(text string) error {
		if err := out.SetWriteDeadline(time.Now().Add(2 * pingEvery)); err != nil {
			return err
		}
		if _, err := q.Writer.WriteString(text); err != nil {
			return err
		}
		return out.Flush()
	}
	if err := send("retry: 2000\n\n"); err != nil {
		return nil //nolint:nilerr // whoever asked has gone
	}
	token, seen := s.Sessions.Token(q.Ctx()), time.Now()
	ping, over := time.NewTicker(pingEvery), time.NewTimer(streamLasts)
	defer ping.Stop()
	defer over.Stop()
	for {
		var text string
		select {
		case <-q.Ctx().Done():
			return nil
		case <-s.Closing():
			return nil
		case <-over.C:
			return nil
		case <-ping.C:
			text = ":\n\n"
		case c := <-page.Changes():
			if text = event(c, b.ID); text == "" {
				continue
			}
		}
		if time.Since(seen) > trusts {
			if lives, err := s.Store.Sessions(time.Now).Lives(q.Ctx(), token); err != nil || !lives {
				return nil //nolint:nilerr // the page opens another, and is asked to sign in
			}
			seen = time.Now()
		}
		if send(text) != nil {
			return nil
		}
	}
}

// event is a change as a page of a burn hears it; empty: nothing of it.
func event(c store.Change, burnID int64) string {
	if c.Burn != 0 && c.Burn != burnID {
		return ""
	}
	if len(c.Readings) > 0 {
		text, err := json.Marshal(c.Readings)
		if err == nil {
			return fmt.Sprintf("event: reading\ndata: %s\n\n", text)
		}
	}
	return "event: change\ndata: {}\n\n"
}
