package web

import (
	"context"
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
	user    string
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

const (
	sessionHousehold = "household"
	sessionUser      = "user"
)

// signedIn lets only those pass who are signed in; it loads their household.
func (s *Server) signedIn(c *gin.Context) {
	id := s.sessions.GetInt64(c.Request.Context(), sessionHousehold)
	if id != 0 {
		h := s.Store.Household(id)
		profile, err := h.Profile(c.Request.Context())
		if err == nil {
			c.Set("request", &request{s: s, house: h, profile: profile, user: s.sessions.GetString(c.Request.Context(), sessionUser), inside: true})
			return
		}
	}
	if c.GetHeader("Accept") == "application/json" {
		c.AbortWithStatusJSON(http.StatusUnauthorized, gin.H{"error": "Sign in again; the entry is kept on this device."})
		return
	}
	c.Redirect(http.StatusSeeOther, "/sign-in")
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
		if q.ctx().Err() != nil {
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
		q.render(status, "error", &errorPage{Status: status, Text: text, page: page{Title: http.StatusText(status)}})
	}
}

func (s *Server) health(c *gin.Context) {
	if err := s.Store.Ping(c.Request.Context()); err != nil {
		c.String(http.StatusServiceUnavailable, "the database does not answer\n")
		return
	}
	c.String(http.StatusOK, "ok\n")
}
