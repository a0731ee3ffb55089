package hearth

import (
	"bytes"
	"encoding/json"
	"hash/fnv"
	"sync"
	"time"

	"golang.org/x/net/html"

	"smolder/internal/core/parallel"
	"smolder/internal/lang"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// The open pages of one burn show the same. Where something changes, the page is put together
// once for all of them, taken apart into the parts that it is marked to have (data-swap), and
// each page is sent those that it does not show yet.

// parts are the parts of a page, by name, as HTML.
type parts map[string]string

// shows is what a page shows of them: a hash of each part, by name.
type shows map[string]uint64

// missing are the parts that a page does not show yet.
func (p parts) missing(s shows) parts {
	out := parts{}
	for name, text := range p {
		if was, there := s[name]; !there || was != hashOf(text) {
			out[name] = text
		}
	}
	return out
}

func (p parts) shows() shows {
	out := make(shows, len(p))
	for name, text := range p {
		out[name] = hashOf(text)
	}
	return out
}

func hashOf(text string) uint64 {
	h := fnv.New64a()
	_, _ = h.Write([]byte(text)) // it never fails
	return h.Sum64()
}

// partsOf takes a page apart.
func partsOf(page []byte) (parts, error) {
	doc, err := html.Parse(bytes.NewReader(page))
	if err != nil {
		return nil, err
	}
	out := parts{}
	for n := range doc.Descendants() {
		if n.Type != html.ElementNode {
			continue
		}
		for _, a := range n.Attr {
			if a.Key != "data-swap" {
				continue
			}
			var inner bytes.Buffer
			for c := range n.ChildNodes() {
				if err := html.Render(&inner, c); err != nil {
					return nil, err
				}
			}
			out[a.Val] = inner.String()
		}
	}
	return out, nil
}

// shown are the parts of one burn's page as they were put together last.
type shown struct {
	mu    sync.Mutex
	at    time.Time // by the process's own clock, since it measures how old they are
	parts parts
	stale bool // the coach's newest answer was not in them yet
	over  bool // the burn has ended, or was taken off the list
}

// mostShown is of how many burns they are remembered: of those that are looked at. Whoever looks
// at another has it put together anew.
const mostShown = 64

// A showing remembers them by burn, and by the units that its pages were opened in: of one that
// was opened before the household changed them no number may come in others.
type showing struct {
	mu  sync.Mutex
	all map[shownAs]*shown
}

type shownAs struct {
	burn int64
	loc  lang.Locale
}

func (s *showing) of(burn shownAs) *shown {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.all == nil || len(s.all) >= mostShown && s.all[burn] == nil {
		s.all = map[shownAs]*shown{}
	}
	if s.all[burn] == nil {
		s.all[burn] = &shown{}
	}
	return s.all[burn]
}

// partsSince are the parts of a burn's page as they are now. They are put together once for all
// that ask: whoever asks for them as of a moment gets those of another who has asked since.
func (s Room) partsSince(q *kit.Request, burn int64, changed time.Time) (p parts, stale, over bool, err error) {
	kept := s.showing.of(shownAs{burn, q.Locale()})
	kept.mu.Lock()
	defer kept.mu.Unlock()
	if kept.parts != nil && !kept.at.Before(changed) {
		return kept.parts, kept.stale, kept.over, nil
	}
	began := time.Now()
	b, err := q.Burn(burn)
	if err != nil {
		return nil, false, false, err
	}
	if !b.Ended.IsZero() {
		kept.at, kept.over = began, true
		return kept.parts, false, true, nil
	}
	page, stale, err := s.rendered(q, b)
	if err != nil {
		return nil, false, false, err
	}
	if kept.parts, err = partsOf(page); err != nil {
		return nil, false, false, err
	}
	kept.at, kept.stale, kept.over = began, stale, false
	return kept.parts, stale, false, nil
}

// rendered is the page of a burn as it is now; stale: the coach's newest answer is not in it yet.
func (s Room) rendered(q *kit.Request, b store.Burn) (page []byte, stale bool, err error) {
	defer parallel.Beside()()
	p, err := s.livePageOf(q, b, kit.Filled(), "")
	if err != nil {
		return nil, false, err
	}
	page, err = q.Part("live", p)
	return page, p.Coach.Answer.Stale, err
}

// event is parts as an open page hears them.
func (p parts) event(loc lang.Locale) (string, error) {
	text, err := json.Marshal(p)
	return "event: parts\ndata: " + string(text) + "\n\n", err
}
