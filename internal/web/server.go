// Package web serves Smolder's pages: server-rendered HTML that works without
// scripts, made lighter by a little Alpine where a hand is busy.
//
// A page is one handler file, one template and one browser test. A handler
// reads the request, asks the core or the store, and renders; there is no rule
// of fire and no SQL in here. Handlers return errors, and [Server.handle]
// turns them into the right status with a sentence.
package web

import (
	"embed"
	"errors"
	"io/fs"
	"log/slog"
	"net/http"
	"time"

	"github.com/alexedwards/scs/postgresstore"
	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"

	"smolder/internal/store"
	"smolder/internal/weather"
)

//go:embed static
var staticFiles embed.FS

// Options configure a server.
type Options struct {
	Store   *store.Store
	Log     *slog.Logger
	Now     func() time.Time // the clock; time.Now by default
	Demo    *Demo            // shows the demo's sign-in
	Weather weather.Source   // the forecast; the stand-in by default
	Secure  bool             // behind HTTPS: cookies only travel encrypted
}

// Demo is the sign-in that the demo shows on its page.
type Demo struct{ User, Password string }

// A Server answers requests.
type Server struct {
	Options
	sessions *scs.SessionManager
	views    *views
	guard    *signInGuard
	meters   meters
	handler  http.Handler
}

// New returns a server; its handler is complete with sessions and protection.
func New(o Options) (*Server, error) {
	if o.Now == nil {
		o.Now = time.Now
	}
	if o.Weather == nil {
		o.Weather = weather.Island{}
	}
	if o.Log == nil {
		o.Log = slog.New(slog.DiscardHandler)
	}
	v, err := parseViews()
	if err != nil {
		return nil, err
	}
	s := &Server{Options: o, views: v, guard: newSignInGuard()}
	s.sessions = scs.New()
	s.sessions.Store = postgresstore.New(o.Store.DB())
	s.sessions.Lifetime = 60 * 24 * time.Hour
	s.sessions.Cookie.Name = "smolder"
	s.sessions.Cookie.HttpOnly = true
	s.sessions.Cookie.SameSite = http.SameSiteLaxMode
	s.sessions.Cookie.Secure = o.Secure
	s.sessions.ErrorFunc = func(w http.ResponseWriter, _ *http.Request, err error) {
		s.Log.Error("session", "error", err)
		http.Error(w, "The database does not answer just now. What you typed is still in the page: go back and try again.", http.StatusServiceUnavailable)
	}
	protection := http.NewCrossOriginProtection()
	protection.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		s.plainError(w, http.StatusForbidden, "This form came from another site, so nothing was changed. Open the page here and send it again.")
	}))
	s.handler = headers(protection.Handler(s.sessions.LoadAndSave(s.routes())))
	return s, nil
}

// ServeHTTP answers a request.
func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) { s.handler.ServeHTTP(w, r) }

// headers are on every answer.
func headers(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self'; "+
			"connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'")
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		r.Body = http.MaxBytesReader(w, r.Body, 10<<20)
		next.ServeHTTP(w, r)
	})
}

// static serves the built styles, scripts and fonts.
func static() http.Handler {
	files, err := fs.Sub(staticFiles, "static")
	if err != nil {
		panic(err) // the folder is embedded above
	}
	serve := http.FileServerFS(files)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Cache-Control", "public, max-age=3600")
		serve.ServeHTTP(w, r)
	})
}

// errInput marks a request that makes no sense, with a sentence for its
// sender.
type errInput struct {
	status int
	text   string
}

func (e *errInput) Error() string { return e.text }

func badInput(text string) error { return &errInput{http.StatusUnprocessableEntity, text} }

// statusOf maps an error to a status and a sentence.
func (s *Server) statusOf(err error) (int, string) {
	var input *errInput
	var tooLarge *http.MaxBytesError
	switch {
	case errors.As(err, &input):
		return input.status, input.text
	case errors.As(err, &tooLarge):
		return http.StatusRequestEntityTooLarge, "That is more than this page takes: up to 8 MB would do."
	case errors.Is(err, store.ErrMissing):
		return http.StatusNotFound, "There is nothing here, or it belongs to another household."
	case errors.Is(err, store.ErrTaken):
		return http.StatusConflict, "That name is already in use here; another one would do."
	case errors.Is(err, store.ErrBurning):
		return http.StatusConflict, "This stove already has a burn that is not ended. End that one first, at the stove."
	}
	return http.StatusInternalServerError, "Something went wrong here, and nothing was changed. Try again."
}

// plainError writes an error without needing a session or the database.
func (s *Server) plainError(w http.ResponseWriter, status int, text string) {
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.WriteHeader(status)
	if err := s.views.write(w, "error", &errorPage{page: page{Title: http.StatusText(status)}, Status: status, Text: text}); err != nil {
		s.Log.Error("render", "error", err)
	}
}

func init() { gin.SetMode(gin.ReleaseMode) }
