package web_test

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
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"smolder/internal/app/reviewing"
	"smolder/internal/core/search"
	"smolder/internal/demo"
	"smolder/internal/store"
	"smolder/internal/storetest"
	"smolder/internal/weather"
	"smolder/internal/web"
	"smolder/internal/web/home"
)

func TestMain(m *testing.M) { storetest.Main(m) }

// clock is a time that tests move by hand; at zero it is the real one, which
// browsers share.
type clock struct{ at time.Time }

func (c *clock) now() time.Time {
	if c.at.IsZero() {
		return time.Now().Add(moved)
	}
	return c.at
}

// moved is how far on the clock is that the browser tests go by: SMOLDER_CLOCK, a
// moment such as 2026-07-15T15:30:00Z, lets the suite run as if it began then
// (make clocks). Nothing may depend on the day or the hour.
var moved = func() time.Duration {
	at, err := time.Parse(time.RFC3339, os.Getenv("SMOLDER_CLOCK"))
	if err != nil {
		return 0
	}
	return time.Until(at)
}()

// A site is a running server with a person who uses it.
type site struct {
	t      testing.TB
	url    string
	store  *store.Store
	client *http.Client
	clock  *clock
}

// newSite serves an empty store, or Tarn Mill.
func newSite(t testing.TB, tarnMill bool) *site {
	t.Helper()
	if tarnMill {
		return newSiteWith(t, &tarnMillStands)
	}
	return newSiteWith(t, nil)
}

// tarnMillStands is the demo's household as its season has left it, with its burns looked back at.
var tarnMillStands = storetest.Template{Name: "smolder_tarn_mill", Fill: func(ctx context.Context, st *store.Store) error {
	id, err := demo.Load(ctx, st, home.HashPassword(demo.Password), time.Date(2026, time.April, 10, 9, 0, 0, 0, time.UTC))
	if err != nil {
		return err
	}
	return (&reviewing.Worker{Store: st}).Quick(ctx, id)
}}

// newSiteWith serves Tarn Mill as it stands in a template, or an empty store.
func newSiteWith(t testing.TB, template *storetest.Template, options ...store.Option) *site {
	t.Helper()
	c := &clock{at: storetest.Noon.Add(6 * time.Hour)}
	s := &site{t: t, clock: c}
	tarnMill := template != nil
	if tarnMill {
		s.store = storetest.From(t, *template, options...)
		c.at = time.Date(2026, time.April, 10, 18, 0, 0, 0, time.UTC)
	} else {
		s.store = storetest.New(t)
	}
	handler, err := web.New(siteOptions(s, tarnMill))
	require.NoError(t, err)
	go handler.Hub.Run(t.Context())
	server := httptest.NewServer(handler)
	t.Cleanup(server.Close)
	t.Cleanup(handler.Close) // streams end first
	s.url = server.URL
	s.newPerson()
	return s
}

// siteOptions are those of a demo for Tarn Mill, and of a plain server otherwise.
func siteOptions(s *site, tarnMill bool) web.Options {
	o := web.Options{Store: s.store, Now: s.clock.now, Effort: &search.Quick} // how good a plan is, is not what pages are asked
	if _, bench := s.t.(*testing.B); !bench {
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

// newPerson forgets who is signed in.
func (s *site) newPerson() {
	jar, _ := cookiejar.New(nil)
	s.client = &http.Client{Jar: jar, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
}

// An answer is a page: its status, where it sends on, and its text.
type answer struct {
	status int
	to     string
	body   string
	header http.Header
}

func (s *site) do(r *http.Request) answer {
	s.t.Helper()
	resp, err := s.client.Do(r)
	require.NoError(s.t, err)
	defer resp.Body.Close()
	b, err := io.ReadAll(resp.Body)
	require.NoError(s.t, err)
	return answer{resp.StatusCode, resp.Header.Get("Location"), string(b), resp.Header}
}

func (s *site) get(path string) answer {
	s.t.Helper()
	r, err := http.NewRequest(http.MethodGet, s.url+path, nil)
	require.NoError(s.t, err)
	return s.do(r)
}

// post sends a form as a browser does without scripts.
func (s *site) post(path string, pairs ...string) answer {
	s.t.Helper()
	return s.send(path, nil, pairs...)
}

func (s *site) send(path string, header map[string]string, pairs ...string) answer {
	s.t.Helper()
	v := url.Values{}
	for i := 0; i+1 < len(pairs); i += 2 {
		v.Add(pairs[i], pairs[i+1])
	}
	r, err := http.NewRequest(http.MethodPost, s.url+path, strings.NewReader(v.Encode()))
	require.NoError(s.t, err)
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("Origin", s.url)
	for k, v := range header {
		r.Header.Set(k, v)
	}
	return s.do(r)
}

// wish sends the sentence of a plan or a day as its form does, and opens what
// it is answered with: the plan's own page, or the sentence with what is wrong.
func (s *site) wish(query string) answer {
	s.t.Helper()
	path, asked, _ := strings.Cut(query, "?")
	values, err := url.ParseQuery(asked)
	require.NoError(s.t, err)
	var pairs []string
	for name := range values {
		pairs = append(pairs, name, values.Get(name))
	}
	got := s.post(path, pairs...)
	if got.status != http.StatusSeeOther {
		return got
	}
	made := strings.TrimSuffix(got.to, "#made")
	got = s.get(made)
	got.to = made
	return got
}

// setUp makes the first household of a fresh server.
func (s *site) setUp(change ...string) answer {
	s.t.Helper()
	code, err := s.store.SetupCode(s.t.Context())
	require.NoError(s.t, err)
	return s.post("/setup", with([]string{"code", code, "household", "Mill", "name", "Ro", "zone", "UTC", "units", "metric", "password",
		"three dry splits"}, change...)...)
}

// upload sends a file as the form for reading a burn in does.
func (s *site) upload(path, name, content string) answer {
	s.t.Helper()
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	require.NoError(s.t, w.WriteField("shown-in", "metric")) // as every form of a page has it, before its file
	part, err := w.CreateFormFile("file", name)
	require.NoError(s.t, err)
	_, _ = part.Write([]byte(content))
	_ = w.Close()
	r, err := http.NewRequest(http.MethodPost, s.url+path, &b)
	require.NoError(s.t, err)
	r.Header.Set("Content-Type", w.FormDataContentType())
	return s.do(r)
}

// signIn enters as the demo's owner.
func (s *site) signIn() {
	s.t.Helper()
	got := s.post("/sign-in", "name", demo.User, "password", demo.Password)
	require.Equal(s.t, http.StatusSeeOther, got.status, got.body)
}

var blanks = regexp.MustCompile(`\s+`)

// words is the page's text without its tags.
func (a answer) words() string {
	text := regexp.MustCompile(`(?s)<script.*?</script>|<[^>]*>`).ReplaceAllString(a.body, " ")
	return blanks.ReplaceAllString(html.UnescapeString(text), " ")
}

// space is the number of the household's first space, as the stove's form has
// it.
func (s *site) space() string {
	s.t.Helper()
	return fieldsOf(s.get("/stoves/new"))["space-id"]
}

// auntie is a stove's form as somebody would fill it in.
func auntie(change ...string) []string {
	form := []string{"name", "Auntie", "room", "kitchen", "family", "secondary-air", "volume", "55 L", "width", "460 mm", "depth", "15 in", "height", "33 cm",
		"max-load", "7 kg", "chimney-height", "6 m", "diameter", "6 in", "bends", "0", "lining", "insulated", "control-1-name", "Lever",
		"control-1-role", "combined",
		"control-1-scale", "lever", "gauge-connector-probe", "yes", "gauge-top", "yes", "gauge-top-low", "400F", "gauge-top-high", "700F",
		"gauge-top-hot", "800F"}
	return with(form, change...)
}

func beech(change ...string) []string {
	return with([]string{"name", "Beech, lean-to", "species", "beech", "reading", "16%", "wood-temp", "8 C", "piece-mass", "1.3 kg",
		"piece-length", "33 cm", "mass", "2.5 m3"}, change...)
}

// with replaces values in a form's pairs.
func with(form []string, change ...string) []string {
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

// planSaid is the sentence of the plan that a page shows.
func planSaid(a answer) string { return between(a.body, `<p class="font-serif text-lg">`, "</p>") }

// alternative is where the first of the other plans on a page leads.
func alternative(a answer) string {
	return html.UnescapeString(between(a.body, `<a class="btn-quiet" href="/plans/`, `"`))
}
