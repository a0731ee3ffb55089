package web

import (
	"context"
	"encoding/json"
	"io"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"smolder/internal/core/units"
	"smolder/internal/store"
	"smolder/internal/strip"
)

// A request is what a handler gets: the household that asks, its data, and
// where to answer.
type request struct {
	*gin.Context
	s       *Server
	house   store.Household
	profile store.Profile
	user    store.User
	inside  bool // signed in
}

func (q *request) ctx() context.Context { return q.Request.Context() }

// now is the time in the household's zone.
func (q *request) now() time.Time { return q.s.Now().In(q.profile.Location()) }

func (q *request) units() units.System {
	if q.profile.Units == "" {
		return units.Metric
	}
	return q.profile.Units
}

// id reads a number from the path; nonsense is like what is not there.
func (q *request) id(name string) (int64, error) {
	n, err := strconv.ParseInt(q.Param(name), 10, 64)
	if err != nil || n <= 0 {
		return 0, store.ErrMissing
	}
	return n, nil
}

// view is how this household looks at a chart that begins at a moment.
func (q *request) view(start time.Time) strip.View {
	return strip.View{Units: q.units(), Zone: q.profile.Location(), Start: start}
}

// seeOther sends the browser on after a change.
func (q *request) seeOther(path string) error {
	q.Redirect(http.StatusSeeOther, path)
	return nil
}

// wantsJSON tells whether a script asks.
func (q *request) wantsJSON() bool { return q.GetHeader("Accept") == "application/json" }

func writeJSON(w io.Writer, v any) { _ = json.NewEncoder(w).Encode(v) } // whoever asked may have gone

// handle runs a handler and answers its error.
func (s *Server) handle(h func(*request) error) gin.HandlerFunc {
	return func(c *gin.Context) {
		q := &request{s: s}
		if known, ok := c.Get("request"); ok {
			q, _ = known.(*request)
		}
		q.Context = c
		err := h(q)
		if err == nil {
			return
		}
		if c.Request.Context().Err() != nil {
			return // whoever asked has gone: there is nobody to answer
		}
		status, text := s.statusOf(err)
		if status >= 500 {
			s.Log.Error("request", "path", c.Request.URL.Path, "error", err)
		}
		if q.wantsJSON() {
			c.JSON(status, gin.H{"error": text})
			return
		}
		if status == http.StatusServiceUnavailable { // without asking the database again
			s.plainError(c.Writer, c.Request, status, text)
			return
		}
		q.render(status, "error", &errorPage{Status: status, Text: text, page: page{Title: http.StatusText(status)}})
	}
}

func (s *Server) health(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("Cache-Control", "no-store")
	if err := s.Store.Ping(r.Context()); err != nil {
		http.Error(w, "the database does not answer", http.StatusServiceUnavailable)
		return
	}
	_, _ = io.WriteString(w, "ok\n")
}
