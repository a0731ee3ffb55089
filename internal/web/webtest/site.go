// Package webtest gives the tests of the rooms a running server with a person who uses it, by its
// pages ([Site]), as a program ([Program]) or in a browser ([Person]).
//
// Each test has a database of its own: an empty one ([New] with false), or that of the demo's
// household as its season has left it.
package webtest

import (
	"bytes"
	"context"
	"html"
	"io"
	"log/slog"
	"mime/multipart"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"os"
	"regexp"
	"strconv"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"smolder/internal/app/reviewing"
	"smolder/internal/core/search"
	"smolder/internal/demo"
	"smolder/internal/lang"
	"smolder/internal/lang/langtest"
	"smolder/internal/store"
	"smolder/internal/storetest"
	"smolder/internal/weather"
	"smolder/internal/web"
	"smolder/internal/web/home"
	"smolder/languages"
)

// Clock is a time that tests move by hand; at zero it is the real one, which
// browsers share.
type Clock struct{ At time.Time }

func (c *Clock) Now() time.Time {
	if c.At.IsZero() {
		return time.Now().Add(Moved)
	}
	return c.At
}

// Moved is how far on the clock is that the browser tests go by: SMOLDER_CLOCK, a
// moment such as 2026-07-15T15:30:00Z, lets the suite run as if it began then
// (make clocks). Nothing may depend on the day or the hour.
var Moved = func() time.Duration {
	at, err := time.Parse(time.RFC3339, os.Getenv("SMOLDER_CLOCK"))
	if err != nil {
		return 0
	}
	return time.Until(at)
}()

// A site is a running server with a person who uses it.
type Site struct {
	T      testing.TB
	URL    string
	Store  *store.Store
	Stores []*store.Store // of each process that serves it; usually that one
	Client *http.Client
	Clock  *Clock

	options   func(*web.Options) // of its host's; nil: the usual
	processes int                // that serve it, each request another; 0: one

	languages *lang.Languages // besides English
	accepts   string          // the language that its browser asks for
}

// New serves an empty store, or Tarn Mill.
func New(t testing.TB, tarnMill bool) *Site {
	t.Helper()
	if tarnMill {
		return With(t, &TarnMill)
	}
	return With(t, nil)
}

// TarnMill is the demo's household as its season has left it, with its burns looked back at.
var TarnMill = storetest.Template{Name: "smolder_tarn_mill", Fill: func(ctx context.Context, st *store.Store) error {
	id, err := demo.Load(ctx, st, home.HashPassword(demo.Password), time.Date(2026, time.April, 10, 9, 0, 0, 0, time.UTC))
	if err != nil {
		return err
	}
	return (&reviewing.Worker{Store: st}).Quick(ctx, id)
}}

// With serves Tarn Mill as it stands in a template, or an empty store.
func With(t testing.TB, template *storetest.Template, options ...store.Option) *Site {
	t.Helper()
	s := &Site{T: t}
	if bracketsTo != "" {
		l, err := langtest.Language()
		require.NoError(t, err)
		s.languages = lang.Of(l)
	}
	return serve(s, template, options...)
}

// InBrackets serves Tarn Mill, or an empty store, to a browser that asks for the language in
// which every word stands in brackets.
func InBrackets(t testing.TB, tarnMill bool) *Site {
	t.Helper()
	l, err := langtest.Language()
	require.NoError(t, err)
	s := &Site{T: t, languages: lang.Of(l), accepts: langtest.Tag}
	if tarnMill {
		return serve(s, &TarnMill)
	}
	return serve(s, nil)
}

// InGerman serves Tarn Mill to a browser that asks for German, as it ships.
func InGerman(t testing.TB) *Site {
	t.Helper()
	all, err := lang.Gather(languages.Files)
	require.NoError(t, err)
	return serve(&Site{T: t, languages: all, accepts: "de"}, &TarnMill)
}

// Hosted serves Tarn Mill with options of its host's.
func Hosted(t testing.TB, change func(*web.Options)) *Site {
	t.Helper()
	return serve(&Site{T: t, options: change}, &TarnMill)
}

// InProcesses serves Tarn Mill, or an empty store, by several processes of one database, each request
// by the next.
func InProcesses(t testing.TB, n int, tarnMill bool) *Site {
	t.Helper()
	s := &Site{T: t, processes: n}
	if tarnMill {
		return serve(s, &TarnMill)
	}
	return serve(s, nil)
}

// everywhere is how many processes serve every site: SMOLDER_TEST_PROCESSES, to ask all that the
// tests ask of one of several.
var everywhere, _ = strconv.Atoi(os.Getenv("SMOLDER_TEST_PROCESSES"))

func serve(s *Site, template *storetest.Template, options ...store.Option) *Site {
	t := s.T
	t.Helper()
	s.processes = max(s.processes, everywhere)
	c := &Clock{At: storetest.Noon.Add(6 * time.Hour)}
	s.Clock = c
	tarnMill := template != nil
	if tarnMill {
		s.Store = storetest.From(t, *template, options...)
		c.At = time.Date(2026, time.April, 10, 18, 0, 0, 0, time.UTC)
	} else {
		s.Store = storetest.New(t)
	}
	s.Stores = []*store.Store{s.Store}
	o := Options(s, tarnMill)
	if s.options != nil {
		s.options(&o)
	}
	handler, err := web.New(o)
	require.NoError(t, err)
	go handler.Hub.Run(t.Context())
	processes := []http.Handler{handler}
	for range s.processes - 1 {
		o.Store = storetest.Again(t, s.Store)
		s.Stores = append(s.Stores, o.Store)
		other, err := web.New(o)
		require.NoError(t, err)
		go other.Hub.Run(t.Context())
		t.Cleanup(other.Close)
		processes = append(processes, other)
	}
	server := httptest.NewServer(inTurn(processes))
	t.Cleanup(server.Close)
	t.Cleanup(handler.Close) // streams end first
	s.URL = server.URL
	s.NewPerson()
	return s
}

// inTurn gives each request to the next of some processes, as a proxy before them does.
func inTurn(processes []http.Handler) http.Handler {
	if len(processes) == 1 {
		return processes[0]
	}
	var n atomic.Uint64
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		processes[n.Add(1)%uint64(len(processes))].ServeHTTP(w, r)
	})
}

// Options are those of a demo for Tarn Mill, and of a plain server otherwise.
func Options(s *Site, tarnMill bool) web.Options {
	o := web.Options{Store: s.Store, Now: s.Clock.Now, Effort: &search.Quick, Languages: s.languages} // how good a plan is, is not what pages are asked
	if _, bench := s.T.(*testing.B); !bench {
		o.Patience = time.Minute // what a page says is not asked of how busy the machine is
	}
	if tarnMill {
		if os.Getenv("SMOLDER_LOG") != "" {
			o.Log = slog.Default()
		}
		o.Demo, o.Weather = &web.Demo{User: demo.User, Password: demo.Password}, weather.Island{}
	}
	return o
}

// NewPerson forgets who is signed in.
func (s *Site) NewPerson() {
	jar, _ := cookiejar.New(nil)
	s.Client = &http.Client{Jar: jar, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
}

// An answer is a page: its status, where it sends on, and its text.
type Answer struct {
	Status int
	To     string
	Body   string
	Header http.Header
}

func (s *Site) Do(r *http.Request) Answer {
	s.T.Helper()
	if s.accepts != "" {
		r.Header.Set("Accept-Language", s.accepts)
	}
	got := s.ask(r)
	if r.Method == http.MethodGet {
		s.bracket(r, nil, got)
	}
	return got
}

func (s *Site) ask(r *http.Request) Answer {
	s.T.Helper()
	resp, err := s.Client.Do(r)
	require.NoError(s.T, err)
	defer resp.Body.Close()
	b, err := io.ReadAll(resp.Body)
	require.NoError(s.T, err)
	// That a number does not part from its unit is tested where it is done.
	body := strings.NewReplacer("\u00a0", " ", "\u2060", "").Replace(string(b))
	return Answer{resp.StatusCode, resp.Header.Get("Location"), body, resp.Header}
}

func (s *Site) Get(path string) Answer {
	s.T.Helper()
	r, err := http.NewRequest(http.MethodGet, s.URL+path, nil)
	require.NoError(s.T, err)
	return s.Do(r)
}

// Post sends a form as a browser does without scripts.
func (s *Site) Post(path string, pairs ...string) Answer {
	s.T.Helper()
	return s.Send(path, nil, pairs...)
}

func (s *Site) Send(path string, header map[string]string, pairs ...string) Answer {
	s.T.Helper()
	v := url.Values{}
	for i := 0; i+1 < len(pairs); i += 2 {
		v.Add(pairs[i], pairs[i+1])
	}
	r, err := http.NewRequest(http.MethodPost, s.URL+path, strings.NewReader(v.Encode()))
	require.NoError(s.T, err)
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("Origin", s.URL)
	for k, v := range header {
		r.Header.Set(k, v)
	}
	got := s.Do(r)
	s.bracket(r, v, got)
	return got
}

// Wish sends the sentence of a plan or a day as its form does, and opens what
// it is answered with: the plan's own page, or the sentence with what is wrong.
func (s *Site) Wish(query string) Answer {
	s.T.Helper()
	path, asked, _ := strings.Cut(query, "?")
	values, err := url.ParseQuery(asked)
	require.NoError(s.T, err)
	var pairs []string
	for name := range values {
		pairs = append(pairs, name, values.Get(name))
	}
	got := s.Post(path, pairs...)
	if got.Status != http.StatusSeeOther {
		return got
	}
	made := strings.TrimSuffix(got.To, "#made")
	got = s.Get(made)
	got.To = made
	return got
}

// SetUp makes the first household of a fresh server.
func (s *Site) SetUp(change ...string) Answer {
	s.T.Helper()
	code, err := s.Store.SetupCode(s.T.Context())
	require.NoError(s.T, err)
	return s.Post("/setup", Change([]string{"code", code, "household", "Mill", "name", "Ro", "zone", "UTC", "units", "metric", "password",
		"three dry splits"}, change...)...)
}

// Upload sends a file as the form for reading a burn in does.
func (s *Site) Upload(path, name, content string) Answer {
	s.T.Helper()
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	require.NoError(s.T, w.WriteField("shown-in", "metric")) // as every form of a page has it, before its file
	part, err := w.CreateFormFile("file", name)
	require.NoError(s.T, err)
	_, _ = part.Write([]byte(content))
	_ = w.Close()
	r, err := http.NewRequest(http.MethodPost, s.URL+path, &b)
	require.NoError(s.T, err)
	r.Header.Set("Content-Type", w.FormDataContentType())
	return s.Do(r)
}

// SignIn enters as the demo's owner.
func (s *Site) SignIn() {
	s.T.Helper()
	got := s.Post("/sign-in", "name", demo.User, "password", demo.Password)
	require.Equal(s.T, http.StatusSeeOther, got.Status, got.Body)
}

var blanks = regexp.MustCompile(`\s+`)

// Words is the page's text without its tags.
func (a Answer) Words() string {
	text := regexp.MustCompile(`(?s)<script.*?</script>|<[^>]*>`).ReplaceAllString(a.Body, " ")
	return blanks.ReplaceAllString(html.UnescapeString(text), " ")
}

// Space is the number of the household's first space, as the stove's form has
// it.
func (s *Site) Space() string {
	s.T.Helper()
	return FieldsOf(s.Get("/stoves/new"))["space-id"]
}

// Auntie is a stove's form as somebody would fill it in.
func Auntie(change ...string) []string {
	form := []string{"name", "Auntie", "room", "kitchen", "family", "secondary-air", "volume", "55 L", "width", "460 mm", "depth", "15 in", "height", "33 cm",
		"max-load", "7 kg", "chimney-height", "6 m", "diameter", "6 in", "bends", "0", "lining", "insulated", "control-1-name", "Lever",
		"control-1-role", "combined",
		"control-1-scale", "lever", "gauge-connector-probe", "yes", "gauge-top", "yes", "gauge-top-low", "400F", "gauge-top-high", "700F",
		"gauge-top-hot", "800F"}
	return Change(form, change...)
}

func Beech(change ...string) []string {
	return Change([]string{"name", "Beech, lean-to", "species", "beech", "reading", "16%", "wood-temp", "8 C", "piece-mass", "1.3 kg",
		"piece-length", "33 cm", "mass", "2.5 m3"}, change...)
}

// with replaces values in a form's pairs.
func Change(form []string, change ...string) []string {
	out := append([]string(nil), form...)
next:
	for i := 0; i+1 < len(change); i += 2 {
		for j := 0; j+1 < len(out); j += 2 {
			if out[j] == change[i] {
				out[j+1] = change[i+1]
				continue next
			}
		}
		out = append(out, change[i], change[i+1])
	}
	return out
}

// PlanSaid is the sentence of the plan that a page shows.
func PlanSaid(a Answer) string { return Between(a.Body, `<p class="font-serif text-lg">`, "</p>") }

// Alternative is where the first of the other plans on a page leads.
func Alternative(a Answer) string {
	return html.UnescapeString(Between(a.Body, `<a class="btn-quiet" href="/plans/`, `"`))
}
