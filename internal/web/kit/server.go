// Package kit is what the rooms of the web have in common: the request with the
// household that asks, forms and what is wrong with them, pages and their
// templates, errors and their statuses, the log of a fire in words, weather.
//
// A page is one handler, one template and one browser test, in the room of the
// work it belongs to. A handler reads the request, asks the core or the store,
// and shows; there is no rule of fire, no sentence about one and no SQL in it.
// Handlers return errors, and [Site.Handle] turns them into the right status
// with a sentence.
//
// What must open when everything else fails (the two emergency pages, styles
// and scripts) comes before all of that, in [Site.first]: it asks neither the
// session nor the database.
package kit

import (
	"bytes"
	"context"
	"errors"
	"io/fs"
	"log/slog"
	"net/http"
	"runtime/debug"
	"slices"
	"sync"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
	"github.com/klauspost/compress/gzhttp"

	"go.opentelemetry.io/otel/trace"

	"smolder/internal/app/background"
	"smolder/internal/app/reviewing"
	"smolder/internal/app/shed"
	"smolder/internal/core/burn"
	"smolder/internal/core/search"
	"smolder/internal/lang"
	"smolder/internal/live"
	"smolder/internal/metrics"
	"smolder/internal/planner"
	"smolder/internal/store"
	"smolder/internal/trail"
	"smolder/internal/weather"
)

// Options configure a server.
type Options struct {
	Store     *store.Store
	Log       *slog.Logger
	Now       func() time.Time // the clock; time.Now by default
	Demo      *Demo            // shows the demo's sign-in
	Weather   weather.Source   // a forecast for households that name none of their own; nil: they type it
	Patience  time.Duration    // that somebody has for the coach's newest answer; 0: the usual
	Effort    *search.Effort   // of searches for plans; nil: [search.Usual]
	Secure    bool             // behind HTTPS: cookies only travel encrypted
	Languages *lang.Languages  // to choose from besides English; nil: none
	Proxy     bool             // behind a proxy that says who asks in X-Forwarded-For

	Display DisplayAt // where the stoves are told for a display at home
	Push    *PushKeys // with which browsers are called; nil: they are called only while a page is open

	Metrics     *metrics.Metrics // that requests are counted in; nil: they are not
	LogRequests bool             // every request is a line in the log

	Traces trace.TracerProvider // that spans are made with; nil: none are

	SignUp         store.SignUps // who may make a household here; empty: nobody
	MostHouseholds int           // that live here at the most; 0: any number

	Roles []Role // what this process does; none: everything

	Later Later // where readings wait while the database is away; nil: they are refused then

	// LocalWeather lets households name a forecast on this machine or its network.
	LocalWeather bool
}

// Later is where what devices send waits until the database answers.
type Later interface {
	// Put hands in what came with a token, in the form of a content type; nil: it is written down.
	Put(ctx context.Context, token, form string, text []byte) error
}

// A Role is what a process of the server does: several share a database, each with a part of the work.
type Role string

// The roles.
const (
	Pages   Role = "web"    // pages, and what programs ask
	Working Role = "work"   // what nobody waits for: reviews, calls to who should look, the display at home
	Intake  Role = "intake" // what thermometers and other programs send
)

// Roles are all of them.
var Roles = []Role{Pages, Working, Intake}

// Does tells whether this process has a role.
func (o *Options) Does(r Role) bool { return len(o.Roles) == 0 || slices.Contains(o.Roles, r) }

// DisplayAt is a broker, such as tcp://127.0.0.1:1883, and the prefix below which hubs of the home
// find what tells of itself; no broker: nothing is told, no prefix: it does not tell of itself.
type DisplayAt struct{ Broker, Prefix string }

// PushKeys are those by which push services know this server (RFC 8292, VAPID), as base64 for
// addresses, and where its keeper is reached.
type PushKeys struct{ Public, Private, Contact string }

// Demo is the sign-in that the demo shows on its page.
type Demo struct{ User, Password string }

// A Site is what all rooms share: the store, the clock, who is signed in, the
// templates, the searches and the replays that go on.
type Site struct {
	Options
	Sessions *scs.SessionManager
	views    *views
	files    *files
	Queue    planner.Queue
	Replays  burn.Replays      // of the fires that are looked at
	Watch    live.Watching     // and what the coach says of them
	Hub      *live.Hub         // of what changes
	Shed     shed.Shed         // how dry wood is
	Work     *background.Queue // what nobody waits for
	api      http.Handler      // for programs; it needs no session
	// Meanwhile is what rooms do while the server runs.
	Meanwhile []func(context.Context)
	closing   chan struct{} // closed when open streams are to end
	closed    sync.Once
	Gin       *gin.Engine
	handler   http.Handler
}

// NewSite returns a site with its own templates and the built styles and scripts;
// rooms add theirs, and [Site.Serve] makes it complete.
func NewSite(o Options, static fs.FS) (*Site, error) {
	if o.Now == nil {
		o.Now = time.Now
	}
	if o.Effort == nil {
		o.Effort = &search.Usual
	}
	if o.Log == nil {
		o.Log = slog.New(slog.DiscardHandler)
	}
	o.Log = slog.New(trail.Logs(o.Log.Handler()))
	f, err := loadFiles(static)
	if err != nil {
		return nil, err
	}
	v, err := newViews(f, o.Languages)
	if err != nil {
		return nil, err
	}
	s := &Site{Options: o, views: v, files: f, Hub: live.NewHub(o.Store, o.Log), closing: make(chan struct{})}
	worker := &reviewing.Worker{Store: o.Store, Log: o.Log, Rests: 0.4}
	if s.Work, err = background.New(o.Store, worker, o.Now, o.Log); err != nil {
		return nil, err
	}
	s.Watch.Patience, s.Watch.Log = o.Patience, o.Log
	s.Sessions = scs.New()
	s.Sessions.Store = o.Store.Sessions(time.Now)
	s.Sessions.Lifetime = sessionLasts
	s.Sessions.Cookie.Name = "smolder"
	s.Sessions.Cookie.HttpOnly = true
	s.Sessions.Cookie.SameSite = http.SameSiteLaxMode
	s.Sessions.Cookie.Secure = o.Secure
	s.Sessions.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		s.Log.ErrorContext(r.Context(), "session", "error", err)
		s.Unavailable(w, r)
	}
	return s, nil
}

// ServeAPI adds what programs ask.
func (s *Site) ServeAPI(h http.Handler) { s.api = h }

// Serve completes a site with its pages: sessions and protection before them,
// and before those what must not depend on anything. takesFiles tells the addresses
// that take a file.
func (s *Site) Serve(pages *gin.Engine, takesFiles func(path string) bool) error {
	s.Gin = pages
	compress, err := gzhttp.NewWrapper(gzhttp.MinSize(worthPacking), gzhttp.ContentTypes([]string{
		"text/html", "text/plain", "text/csv", "application/json", "text/calendar", "image/svg+xml"}))
	if err != nil {
		return err
	}
	protection := http.NewCrossOriginProtection()
	protection.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		s.plainError(w, r, http.StatusForbidden, "This form came from another site, so nothing was changed. Open the page here and send it again.")
	}))
	first, err := s.first(protection.Handler(s.Sessions.LoadAndSave(pages)))
	if err != nil {
		return err
	}
	s.handler = paced(s.recovered(headers(takesFiles, compress(headAsGet(first)))))
	return nil
}

const (
	sessionLasts = 60 * 24 * time.Hour
	worthPacking = 1200 // bytes, from which an answer is compressed
)

// Accepted is the locale that a browser asks for, where no household is known.
func (s *Site) Accepted(r *http.Request) lang.Locale {
	return lang.In(s.Languages.Accepted(r.Header.Get("Accept-Language")), "")
}

// ServeHTTP answers a request.
func (s *Site) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	began := time.Now()
	r = trail.Follow(w, r, s.Proxy, s.Traces)
	saw := trail.Watch(w)
	if s.Metrics != nil {
		defer s.Metrics.Asked()()
	}
	defer func() { // also where the answer breaks off
		took := time.Since(began)
		trail.Answered(r, saw.Status)
		if s.Metrics != nil {
			s.Metrics.Answered(r, saw.Status, took)
		}
		if s.LogRequests {
			trail.Log(s.Log, r, saw.Status, took)
		}
	}()
	s.handler.ServeHTTP(saw, r)
}

// first answers what must not depend on anything, and hands on the rest.
func (s *Site) first(rest http.Handler) (http.Handler, error) {
	mux := http.NewServeMux()
	mux.HandleFunc("/healthz", s.health)
	mux.HandleFunc("/livez", func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write([]byte("ok\n")) })
	if s.api != nil && (s.Does(Pages) || s.Does(Intake)) {
		mux.Handle("/api/", routed("/api/", s.api))
	}
	if !s.Does(Pages) {
		mux.HandleFunc("/", func(w http.ResponseWriter, _ *http.Request) {
			http.Error(w, "This process of the server has no pages; the one with the role web has.", http.StatusNotFound)
		})
		return mux, nil
	}
	for path, title := range map[string]lang.Message{"co-alarm": "CO alarm", "chimney-fire": "Chimney fire"} {
		pages := map[*lang.Language][]byte{} // made now, so that they are there later
		for l := range s.views.in {
			var page bytes.Buffer
			loc := lang.In(l, "")
			if err := s.views.write(&page, "emergency", &emergencyPage{Page: titled(loc.T(title), loc), Which: path}); err != nil {
				return nil, err
			}
			pages[l] = page.Bytes()
		}
		mux.HandleFunc("/"+path, func(w http.ResponseWriter, r *http.Request) {
			w.Header().Set("Content-Type", "text/html; charset=utf-8")
			w.Header().Set("Cache-Control", "public, max-age=3600")
			w.Header().Set("Vary", "Accept-Language")
			_, _ = w.Write(pages[s.Accepted(r).Language()]) // whoever asked may have gone
		})
	}
	mux.Handle("/static/", routed("/static/", s.files))
	worker, err := s.files.worker()
	if err != nil {
		return nil, err
	}
	mux.HandleFunc("/sw.js", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "text/javascript; charset=utf-8")
		w.Header().Set("Cache-Control", "no-cache")
		_, _ = w.Write(worker) // whoever asked may have gone
	})
	if err := installable(mux); err != nil {
		return nil, err
	}
	mux.Handle("/", rest)
	return mux, nil
}

// routed tells which route answers.
func routed(route string, next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		trail.Route(r.Context(), route)
		next.ServeHTTP(w, r)
	})
}

func titled(title string, loc lang.Locale) Page { return Page{Title: title, Locale: loc} }

// mostBody is how large a request may be, in bytes: forms are small, and only
// the page that reads a burn in takes more.
const (
	mostBody     = 256 << 10
	mostUpload   = 25 << 20
	mostReadings = 4 << 20
	readingsPath = "/api/v1/readings"
	logbookPath  = "/burns/import"
	// mostLogbook is a household's: ten winters of three thermometers that report every ten
	// seconds are some 100 MB, packed.
	mostLogbook = 2 << 30
)

// headers are on every answer, and every request has its limits.
func headers(takesFiles func(path string) bool, next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self'; "+
			"connect-src 'self'; manifest-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'")
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		most := int64(mostBody)
		switch {
		case r.URL.Path == readingsPath:
			most = mostReadings
		case r.URL.Path == logbookPath && r.Method == http.MethodPost:
			most = mostLogbook
		case takesFiles(r.URL.Path):
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
func (s *Site) recovered(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		defer func() {
			p := recover()
			if p == nil {
				return
			}
			if p == http.ErrAbortHandler { //nolint:errorlint // the very value
				panic(p)
			}
			s.Log.ErrorContext(r.Context(), "panic", "error", p, "stack", string(debug.Stack()))
			s.plainError(w, r, http.StatusInternalServerError, "Something went wrong here, and nothing was changed. Try again.")
		}()
		next.ServeHTTP(w, r)
	})
}

// An InputError marks a request that makes no sense, with a sentence for its
// sender.
type InputError struct {
	Status int
	Text   string
}

func (e *InputError) Error() string { return e.Text }

// Answer is an error that is answered with a status and a sentence.
func Answer(status int, text string) error { return &InputError{Status: status, Text: text} }

// BadInput is a request that makes no sense as it was sent.
func BadInput(text string) error { return &InputError{http.StatusUnprocessableEntity, text} }

const (
	saysSilent lang.Message = "The database does not answer just now, so nothing was changed. What you typed is still in the page: go back and try again."
	saysFull   lang.Message = "The disk of this server is full, so nothing was kept. What you typed is still in the page; whoever looks after the server must make room."
	saysBusy   lang.Message = "Too many plans are being worked out just now; yours would wait too long. Try again in a minute."
)

// StatusOf maps an error to a status and a sentence.
func (s *Site) StatusOf(err error, loc lang.Locale) (int, string) {
	var input *InputError
	var tooLarge *http.MaxBytesError
	var limited *store.Limited
	switch {
	case errors.As(err, &input):
		return input.Status, input.Text
	case errors.As(err, &tooLarge):
		return http.StatusRequestEntityTooLarge, loc.T("That is more than this page takes: ") + sizeWord(tooLarge.Limit, loc) + loc.T(" would do.")
	case errors.As(err, &limited):
		return http.StatusUnprocessableEntity, limitSaid(limited, loc)
	case errors.Is(err, store.ErrMissing):
		return http.StatusNotFound, loc.T("There is nothing here, or it belongs to another household.")
	case errors.Is(err, store.ErrTaken):
		return http.StatusConflict, loc.T("That name is already in use here; another one would do.")
	case errors.Is(err, store.ErrBurning):
		return http.StatusConflict, loc.T("This stove already has a burn that is not ended. End that one first, at the stove.")
	case errors.Is(err, store.ErrUsed):
		return http.StatusConflict, loc.T("A stove still stands in it: give the stove another space first, or take it off the list.")
	case errors.Is(err, store.ErrStale), errors.Is(err, burn.ErrChanged):
		return http.StatusConflict, loc.T("Somebody has changed this meanwhile, so nothing was changed now. Open the page again and look.")
	case errors.Is(err, burn.ErrOther):
		return http.StatusConflict, loc.T("Something else was logged already under the same id, and stays. Log this as something new.")
	case errors.Is(err, store.ErrUnreadable):
		return http.StatusInternalServerError, loc.T(saysUnreadable)
	case errors.Is(err, planner.ErrBusy):
		return http.StatusServiceUnavailable, loc.T(saysBusy)
	case store.Full(err):
		return http.StatusInsufficientStorage, loc.T(saysFull)
	case store.Silent(err):
		return http.StatusServiceUnavailable, loc.T(saysSilent)
	}
	return http.StatusInternalServerError, loc.T("Something went wrong here, and nothing was changed. Try again.")
}

// limitSaid says what a household keeps as much of as its host allows, and what would do.
func limitSaid(l *store.Limited, loc lang.Locale) string {
	switch l.Kind {
	case store.OfStacks:
		return loc.F("A household keeps up to %d stacks here. Take one off the list that is burnt; nothing was changed.", l.Most)
	case store.OfBurns:
		return loc.F("A household keeps up to %d burns here. Whoever runs this server can allow more; nothing was changed.", l.Most)
	case store.OfBytes:
		return loc.F("A household keeps pictures and shared things of up to %s here. Without some of them it would do; nothing was changed.", sizeWord(l.Most, loc))
	}
	return loc.F("A household's thermometers report up to %d readings a day here. Let them report less often; nothing was changed.", l.Most)
}

// statusWords are the titles of answers that are refused.
var statusWords = map[int]lang.Message{
	http.StatusBadRequest: "Not understood", http.StatusForbidden: "Not yours to change", http.StatusNotFound: "Not found", http.StatusMethodNotAllowed: "Not this way",
	http.StatusConflict: "Not as it stands", http.StatusRequestEntityTooLarge: "Too large", http.StatusUnsupportedMediaType: "Not taken here",
	http.StatusUnprocessableEntity: "Something is missing or wrong", http.StatusTooManyRequests: "Too often", http.StatusInternalServerError: "Something went wrong",
	http.StatusServiceUnavailable: "Not just now", http.StatusInsufficientStorage: "No room",
}

func statusWord(status int, loc lang.Locale) string {
	if word, known := statusWords[status]; known {
		return loc.T(word)
	}
	return http.StatusText(status)
}

// saysUnreadable is said of something that a newer program, or something else than a
// program of this kind, has written.
const saysUnreadable lang.Message = "This is kept in a form that this version cannot read. Nothing of it is lost; a newer version may read it, and whoever looks " +
	"after the server finds the reason in its log."

func sizeWord(bytes int64, loc lang.Locale) string {
	if bytes >= mostLogbook {
		return loc.T("up to 2 GB")
	}
	if bytes >= mostUpload {
		return loc.T("up to 24 MB")
	}
	if bytes >= 1<<20 {
		return loc.T("up to 4 MB")
	}
	return loc.T("up to 256 kB")
}

// Unavailable answers while the database is gone or silent.
func (s *Site) Unavailable(w http.ResponseWriter, r *http.Request) {
	s.plainError(w, r, http.StatusServiceUnavailable, saysSilent)
}

// plainError writes an error without needing a session or the database.
func (s *Site) plainError(w http.ResponseWriter, r *http.Request, status int, says lang.Message) {
	loc := s.Accepted(r)
	s.plainErrorIn(w, r, status, loc, loc.T(says))
}

// plainErrorIn is [Site.plainError] in words that are put together already.
func (s *Site) plainErrorIn(w http.ResponseWriter, r *http.Request, status int, loc lang.Locale, text string) {
	if r.Header.Get("Accept") == "application/json" {
		w.Header().Set("Content-Type", "application/json")
		w.WriteHeader(status)
		writeJSON(w, map[string]string{"error": text})
		return
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(status)
	if err := s.views.write(w, "error", &errorPage{Page: titled(statusWord(status, loc), loc), Text: text, ID: broken(r.Context(), status)}); err != nil {
		s.Log.ErrorContext(r.Context(), "render", "error", err)
	}
}

// broken is the id of a request that the program failed at: whoever tells of it is helped sooner
// with it. It is empty for one that was only refused.
func broken(ctx context.Context, status int) string {
	if t := trail.From(ctx); t != nil && status == http.StatusInternalServerError {
		return t.ID
	}
	return ""
}

// Closing is closed when open streams are to end.
func (s *Site) Closing() <-chan struct{} { return s.closing }

// Close ends the streams that pages hold open, and what is worked out for them, so that the
// server can stop.
func (s *Site) Close() {
	s.closed.Do(func() {
		close(s.closing)
		s.Watch.Close()
	})
}

// Housekeep hears what changes, and does what nobody waits for where that is this process's role,
// until the context ends.
func (s *Site) Housekeep(ctx context.Context) {
	go s.Hub.Run(ctx)
	if !s.Does(Working) {
		return
	}
	for _, work := range s.Meanwhile {
		go work(ctx)
	}
	if err := s.Work.Run(ctx); err != nil && ctx.Err() == nil {
		s.Log.Error("background work", "error", err)
	}
}

func init() { gin.SetMode(gin.ReleaseMode) }
