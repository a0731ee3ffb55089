// Package web serves Smolder's pages: server-rendered HTML that works without
// scripts, made lighter by a little Alpine where a hand is busy.
//
// A page is one handler file, one template and one browser test. A handler
// reads the request, asks the core or the store, and renders; there is no rule
// of fire and no SQL in here. Handlers return errors, and [Server.handle]
// turns them into the right status with a sentence.
//
// What must open when everything else fails (the two emergency pages, styles
// and scripts) comes before all of that, in [Server.first]: it asks neither the
// session nor the database.
package web

import (
	"bytes"
	"context"
	"errors"
	"log/slog"
	"net/http"
	"runtime/debug"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
	"github.com/klauspost/compress/gzhttp"

	"smolder/internal/core/burn"
	"smolder/internal/planner"
	"smolder/internal/store"
	"smolder/internal/weather"
)

// Options configure a server.
type Options struct {
	Store   *store.Store
	Log     *slog.Logger
	Now     func() time.Time // the clock; time.Now by default
	Demo    *Demo            // shows the demo's sign-in
	Weather weather.Source   // a forecast for households that name none of their own; nil: they type it
	Secure  bool             // behind HTTPS: cookies only travel encrypted
	Proxy   bool             // behind a proxy that says who asks in X-Forwarded-For

	// LocalWeather lets households name a forecast on this machine or its network.
	LocalWeather bool
}

// Demo is the sign-in that the demo shows on its page.
type Demo struct{ User, Password string }

// A Server answers requests.
type Server struct {
	Options
	sessions *scs.SessionManager
	views    *views
	files    *files
	queue    planner.Queue
	replays  burn.Replays // of the fires that are looked at
	hashing  *turnstile
	gin      *gin.Engine
	handler  http.Handler
}

// New returns a server; its handler is complete with sessions and protection.
func New(o Options) (*Server, error) {
	if o.Now == nil {
		o.Now = time.Now
	}
	if o.Log == nil {
		o.Log = slog.New(slog.DiscardHandler)
	}
	f, err := loadFiles()
	if err != nil {
		return nil, err
	}
	v, err := parseViews(f)
	if err != nil {
		return nil, err
	}
	s := &Server{Options: o, views: v, files: f, hashing: newTurnstile(mostHashing, mostToHash)}
	s.sessions = scs.New()
	s.sessions.Store = o.Store.Sessions()
	s.sessions.Lifetime = 60 * 24 * time.Hour
	s.sessions.Cookie.Name = "smolder"
	s.sessions.Cookie.HttpOnly = true
	s.sessions.Cookie.SameSite = http.SameSiteLaxMode
	s.sessions.Cookie.Secure = o.Secure
	s.sessions.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		s.Log.Error("session", "error", err)
		s.unavailable(w, r)
	}
	s.gin = s.routes()
	compress, err := gzhttp.NewWrapper(gzhttp.MinSize(1200), gzhttp.ContentTypes([]string{"text/html", "text/plain", "text/csv", "application/json", "text/calendar", "image/svg+xml"}))
	if err != nil {
		return nil, err
	}
	protection := http.NewCrossOriginProtection()
	protection.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		s.plainError(w, r, http.StatusForbidden, "This form came from another site, so nothing was changed. Open the page here and send it again.")
	}))
	pages := protection.Handler(s.sessions.LoadAndSave(s.gin))
	first, err := s.first(pages)
	if err != nil {
		return nil, err
	}
	s.handler = s.recovered(headers(compress(headAsGet(first))))
	return s, nil
}

// ServeHTTP answers a request.
func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) { s.handler.ServeHTTP(w, r) }

// first answers what must not depend on anything, and hands on the rest.
func (s *Server) first(rest http.Handler) (http.Handler, error) {
	mux := http.NewServeMux()
	for path, title := range map[string]string{"co-alarm": "CO alarm", "chimney-fire": "Chimney fire"} {
		var page bytes.Buffer // made now, so that it is there later
		if err := s.views.write(&page, "emergency", &emergencyPage{page: titled(title), Which: path}); err != nil {
			return nil, err
		}
		mux.HandleFunc("/"+path, func(w http.ResponseWriter, _ *http.Request) {
			w.Header().Set("Content-Type", "text/html; charset=utf-8")
			w.Header().Set("Cache-Control", "public, max-age=3600")
			_, _ = w.Write(page.Bytes()) // whoever asked may have gone
		})
	}
	mux.Handle("/static/", s.files)
	mux.HandleFunc("/healthz", s.health)
	mux.HandleFunc("/livez", func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write([]byte("ok\n")) })
	mux.Handle("/", rest)
	return mux, nil
}

func titled(title string) page { return page{Title: title} }

// mostBody is how large a request may be, in bytes: forms are small, and only
// the page that reads a burn in takes more.
const (
	mostBody   = 256 << 10
	mostUpload = 9 << 20
)

// headers are on every answer, and every request has its limits.
func headers(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self'; "+
			"connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'")
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		most := int64(mostBody)
		if r.URL.Path == importPath {
			most = mostUpload
		}
		r.Body = http.MaxBytesReader(w, r.Body, most)
		next.ServeHTTP(w, r)
	})
}

// headAsGet answers HEAD as GET is answered; the server leaves the body out.
func headAsGet(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodHead {
			r = r.Clone(r.Context())
			r.Method = http.MethodGet
			w = headWriter{w}
		}
		next.ServeHTTP(w, r)
	})
}

// headWriter drops what would be written.
type headWriter struct{ http.ResponseWriter }

func (h headWriter) Write(b []byte) (int, error) { return len(b), nil }

// recovered lets a panic cost one request and no more.
func (s *Server) recovered(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		defer func() {
			p := recover()
			if p == nil {
				return
			}
			if p == http.ErrAbortHandler { //nolint:errorlint // the very value
				panic(p)
			}
			s.Log.Error("panic", "path", r.URL.Path, "error", p, "stack", string(debug.Stack()))
			s.plainError(w, r, http.StatusInternalServerError, "Something went wrong here, and nothing was changed. Try again.")
		}()
		next.ServeHTTP(w, r)
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

const (
	saysSilent = "The database does not answer just now, so nothing was changed. What you typed is still in the page: go back and try again."
	saysBusy   = "Too many plans are being worked out just now; yours would wait too long. Try again in a minute."
)

// statusOf maps an error to a status and a sentence.
func (s *Server) statusOf(err error) (int, string) {
	var input *errInput
	var tooLarge *http.MaxBytesError
	switch {
	case errors.As(err, &input):
		return input.status, input.text
	case errors.As(err, &tooLarge):
		return http.StatusRequestEntityTooLarge, "That is more than this page takes: " + sizeWord(tooLarge.Limit) + " would do."
	case errors.Is(err, store.ErrMissing):
		return http.StatusNotFound, "There is nothing here, or it belongs to another household."
	case errors.Is(err, store.ErrTaken):
		return http.StatusConflict, "That name is already in use here; another one would do."
	case errors.Is(err, store.ErrBurning):
		return http.StatusConflict, "This stove already has a burn that is not ended. End that one first, at the stove."
	case errors.Is(err, store.ErrUsed):
		return http.StatusConflict, "A stove still stands in it: give the stove another space first, or take it off the list."
	case errors.Is(err, store.ErrStale), errors.Is(err, burn.ErrChanged):
		return http.StatusConflict, "Somebody has changed this meanwhile, so nothing was changed now. Open the page again and look."
	case errors.Is(err, planner.ErrBusy):
		return http.StatusServiceUnavailable, saysBusy
	case store.Silent(err):
		return http.StatusServiceUnavailable, saysSilent
	}
	return http.StatusInternalServerError, "Something went wrong here, and nothing was changed. Try again."
}

func sizeWord(bytes int64) string {
	if bytes >= 1<<20 {
		return "up to 8 MB"
	}
	return "up to 256 kB"
}

// unavailable answers while the database is gone or silent.
func (s *Server) unavailable(w http.ResponseWriter, r *http.Request) {
	s.plainError(w, r, http.StatusServiceUnavailable, saysSilent)
}

// plainError writes an error without needing a session or the database.
func (s *Server) plainError(w http.ResponseWriter, r *http.Request, status int, text string) {
	if r.Header.Get("Accept") == "application/json" {
		w.Header().Set("Content-Type", "application/json")
		w.WriteHeader(status)
		writeJSON(w, map[string]string{"error": text})
		return
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(status)
	if err := s.views.write(w, "error", &errorPage{page: titled(http.StatusText(status)), Status: status, Text: text}); err != nil {
		s.Log.Error("render", "error", err)
	}
}

// Housekeep removes what has run out, every hour until the context ends.
func (s *Server) Housekeep(ctx context.Context) {
	for {
		if err := s.Store.Tidy(ctx); err != nil && ctx.Err() == nil {
			s.Log.Warn("tidying up", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(time.Hour):
		}
	}
}

func init() { gin.SetMode(gin.ReleaseMode) }
