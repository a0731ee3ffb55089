package web

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"smolder/internal/core/units"
	"smolder/internal/store"
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

// seeOther sends the browser on after a change.
func (q *request) seeOther(path string) error {
	q.Redirect(http.StatusSeeOther, path)
	return nil
}

// wantsJSON tells whether a script asks.
func (q *request) wantsJSON() bool { return q.GetHeader("Accept") == "application/json" }

func writeJSON(w io.Writer, v any) { _ = json.NewEncoder(w).Encode(v) } // whoever asked may have gone

// signedIn lets only those pass who are signed in; it loads who they are and
// their household. A database that does not answer is not a sign-out.
func (s *Server) signedIn(c *gin.Context) {
	ctx := c.Request.Context()
	if id := s.sessions.GetInt64(ctx, store.SessionUser); id != 0 {
		user, err := s.Store.User(ctx, id)
		var profile store.Profile
		if err == nil {
			profile, err = s.Store.Household(user.Household).Profile(ctx)
		}
		switch {
		case err == nil:
			c.Set("request", &request{s: s, house: s.Store.Household(user.Household), profile: profile, user: user, inside: true})
			return
		case !errors.Is(err, store.ErrMissing):
			s.Log.Error("session", "path", c.Request.URL.Path, "error", err)
			s.unavailable(c.Writer, c.Request)
			c.Abort()
			return
		}
	}
	if c.GetHeader("Accept") == "application/json" {
		c.AbortWithStatusJSON(http.StatusUnauthorized, gin.H{"error": "Sign in again; the entry is kept on this device."})
		return
	}
	s.askToSignIn(c)
	c.Abort()
}

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
