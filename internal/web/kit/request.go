package kit

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"smolder/internal/app/planning"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/planner"
	"smolder/internal/store"
	"smolder/internal/strip"
)

// A Request is what a handler gets: the household that asks, its data, and
// where to answer.
type Request struct {
	*gin.Context
	Site    *Site
	Home    store.Household
	Profile store.Profile
	User    store.User
	Inside  bool // signed in
	once    *once

	language *lang.Language // in which it is answered; nil is English
	spoken   bool           // language has been found
}

func (q *Request) Ctx() context.Context { return q.Request.Context() }

// Now is the time in the household's zone.
func (q *Request) Now() time.Time { return q.Site.Now().In(q.Profile.Location()) }

// Units are those that whoever asks reads and types in: their own, or the household's. What is typed in a form is in the
// units that its page was shown in, whatever somebody has set elsewhere meanwhile: 500 on a
// page in °F is 500 °F.
func (q *Request) Units() units.System {
	if shown := units.System(q.Request.PostForm.Get(unitsField)); shown == units.Metric || shown == units.Imperial {
		return shown
	}
	return cmp.Or(q.User.Units, q.Profile.Units, units.Metric)
}

// Locale is how whoever asks reads: in which language, and in which units.
func (q *Request) Locale() lang.Locale {
	if !q.spoken {
		q.language, q.spoken = q.chosen(), true
	}
	return lang.In(q.language, q.Units())
}

// chosen is the language that somebody has chosen, or their household, or that the browser asks for; nil is
// English.
func (q *Request) chosen() *lang.Language {
	if tag := cmp.Or(q.User.Language, q.Profile.Language); tag != "" {
		return q.Site.Languages.Named(tag)
	}
	return q.Site.Languages.Accepted(q.GetHeader("Accept-Language"))
}

// unitsField is the hidden field of every form that says in which units its page was shown.
const unitsField = "shown-in"

// ID reads a number from the path; nonsense is like what is not there.
func (q *Request) ID(name string) (int64, error) {
	n, err := strconv.ParseInt(q.Param(name), 10, 64)
	if err != nil || n <= 0 {
		return 0, store.ErrMissing
	}
	return n, nil
}

// Anew is the same request with nothing asked yet: for one that lasts, and looks again and again.
func (q *Request) Anew() *Request {
	again := *q
	again.once = &once{}
	return &again
}

// AsPage is the request of a program, as one of a page of the household: for what both ask.
func (s *Site) AsPage(c *gin.Context, home store.Household, profile store.Profile) *Request {
	return &Request{Context: c, Site: s, Home: home, Profile: profile, once: &once{}}
}

// Planning is what the household has and knows, for a wish.
func (q *Request) Planning() *planning.Household {
	return &planning.Household{Household: q.Home, Now: q.Now(), Stoves: q.Stoves, Stacks: q.Stacks, KnownOf: q.KnownOf, Burn: q.Burn,
		Replays: &q.Site.Replays}
}

// View is how this household looks at a chart that begins at a moment.
func (q *Request) View(start time.Time) strip.View {
	return strip.View{Locale: q.Locale(), Zone: q.Profile.Location(), Start: start}
}

// SeeOther sends the browser on after a change.
func (q *Request) SeeOther(path string) error {
	q.Redirect(http.StatusSeeOther, path)
	return nil
}

// WantsJSON tells whether a script asks.
func (q *Request) WantsJSON() bool { return q.GetHeader("Accept") == "application/json" }

func writeJSON(w io.Writer, v any) { _ = json.NewEncoder(w).Encode(v) } // whoever asked may have gone

// Handle runs a handler and answers its error.
func (s *Site) Handle(h func(*Request) error) gin.HandlerFunc {
	return func(c *gin.Context) {
		q := &Request{Site: s}
		if known, ok := c.Get("request"); ok {
			q, _ = known.(*Request)
		}
		q.once = &once{}
		q.Context = c
		q.Locale() // found now, before anything is done side by side
		err := h(q)
		if err == nil {
			return
		}
		if c.Request.Context().Err() != nil {
			// Whoever asked has gone, or the server took too long: who still waits is not told
			// that all went well.
			if !c.Writer.Written() {
				s.plainError(c.Writer, c.Request, http.StatusServiceUnavailable, saysLate)
			}
			return
		}
		status, text := s.StatusOf(err, q.Locale())
		s.Note(c.Request.Context(), "request", status, err)
		if q.WantsJSON() {
			c.JSON(status, gin.H{"error": text})
			return
		}
		if status == http.StatusServiceUnavailable { // without asking the database again
			s.plainErrorIn(c.Writer, c.Request, status, q.Locale(), text)
			return
		}
		q.Show(status, "error", &errorPage{Text: text, ID: broken(q.Ctx(), status), Page: Page{Title: statusWord(status, q.Locale())}})
	}
}

// saysLate is said where an answer took longer than anybody waits.
const saysLate lang.Message = "That took too long, and was given up. Look whether it was done before you send it again."

// Note logs what went wrong here as an error, and what somebody was refused for (too much at
// once, too many pages) as what it is.
func (s *Site) Note(ctx context.Context, what string, status int, err error) {
	switch {
	case status < http.StatusInternalServerError:
	case errors.As(err, new(*InputError)), errors.Is(err, planner.ErrBusy):
		s.Log.InfoContext(ctx, "refused", "status", status, "error", err)
	default:
		s.Log.ErrorContext(ctx, what, "status", status, "error", err)
	}
}

func (s *Site) health(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("Cache-Control", "no-store")
	if err := s.Store.Ping(r.Context()); err != nil {
		http.Error(w, "the database does not answer", http.StatusServiceUnavailable)
		return
	}
	if err := s.Store.Fits(r.Context()); errors.Is(err, store.ErrNewer) {
		http.Error(w, err.Error(), http.StatusServiceUnavailable)
		return
	}
	_, _ = io.WriteString(w, "ok\n")
}

// T says a message in the language of whoever asks.
func (q *Request) T(m lang.Message) string { return q.Locale().T(m) }

// F fills a message that is a format; see [lang.Locale.F].
func (q *Request) F(m lang.Message, args ...any) string { return q.Locale().F(m, args...) }

// N says a message about n things; see [lang.Locale.N].
func (q *Request) N(n int, one, many lang.Message, args ...any) string {
	return q.Locale().N(n, one, many, args...)
}
