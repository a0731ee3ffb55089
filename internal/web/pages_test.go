package web_test

import (
	"context"
	"crypto/sha256"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/shed"
	"smolder/internal/core/units"
	"smolder/internal/demo"
	"smolder/internal/store"
	"smolder/internal/storetest"
	"smolder/internal/web/webtest"
)

var ctx = context.Background()

func TestFirstRun(t *testing.T) {
	s := webtest.New(t, false)
	assert.Equal(t, "/sign-in", s.Get("/").To)
	assert.Equal(t, "/setup", s.Get("/sign-in").To)
	bad := s.SetUp("household", "Tarn Mill", "name", "", "zone", "Middle/Earth", "units", "furlongs", "password", "short")
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Status)
	for _, says := range []string{"Your name is missing", "is not a time zone: Europe/Oslo", "metric or imperial would do",
		"a password of 10 to 200 letters"} {
		assert.Contains(t, strings.ToLower(bad.Words()), strings.ToLower(says))
	}
	assert.Contains(t, bad.Body, `value="Tarn Mill"`, "what was typed stays")
	assert.NotContains(t, bad.Body, "short", "but never a password")

	good := []string{"household", "Tarn Mill", "zone", "Europe/Oslo", "units", "imperial"}
	guessed := s.SetUp(append(good, "code", "0000-0000")...)
	assert.Equal(t, http.StatusUnprocessableEntity, guessed.Status, "who comes first does not own a fresh server: who started it does")
	assert.Contains(t, guessed.Words(), "printed where the server was started")
	require.Equal(t, "/stoves/new", s.SetUp(good...).To)
	assert.Contains(t, s.Get("/").Body, "Begin with the stove", "an empty household says what to do first")
	assert.Equal(t, http.StatusConflict, s.SetUp(good...).Status, "only once")
	s.NewPerson()
	assert.Equal(t, "/sign-in", s.Get("/setup").To)
	assert.Equal(t, "/", s.Post("/sign-in", "name", "ro", "password", "three dry splits").To)
	assert.Equal(t, "/sign-in", s.Post("/sign-out").To)
	assert.Equal(t, "/sign-in?back=%2Fwood", s.Get("/wood").To)
}

func TestGuessingPasswordsIsSlow(t *testing.T) {
	s := webtest.New(t, true)
	for range 6 {
		assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/sign-in", "name", demo.User, "password", "wrong").Status)
	}
	got := s.Post("/sign-in", "name", demo.User, "password", demo.Password)
	assert.Equal(t, http.StatusTooManyRequests, got.Status)
	assert.Contains(t, got.Words(), "wrong passwords")
	s.Clock.At = s.Clock.At.Add(16 * time.Minute)
	s.SignIn()
}

func TestProtection(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	policy := s.Get("/").Header.Get("Content-Security-Policy")
	assert.NotContains(t, policy, "unsafe")
	assert.Contains(t, policy, "default-src 'none'")
	for _, path := range []string{"/", "/plan", "/burns", "/wood", "/stoves/1", "/stoves/new", "/household", "/co-alarm"} {
		body := s.Get(path).Body
		assert.NotRegexp(t, `\sstyle=|\son[a-z]+="|<script>|https?://(?:www\.w3\.org/2000/svg)?[^w"]`,
			strings.ReplaceAll(body, "http://www.w3.org/2000/svg", ""), path)
	}
	stolen := s.Send("/household", map[string]string{"Origin": "https://elsewhere.example", "Sec-Fetch-Site": "cross-site"}, "household", "Taken over")
	assert.Equal(t, http.StatusForbidden, stolen.Status)
	assert.Contains(t, stolen.Body, "nothing was changed")
	assert.NotContains(t, s.Get("/household").Body, "Taken over")
	assert.Equal(t, http.StatusNotFound, s.Get("/nowhere").Status)
	assert.Equal(t, http.StatusNotFound, s.Get("/burns/999999999999999999999").Status)
}

// A stranger with an account of her own asks for every address of Tarn Mill.
func TestAnotherHouseholdsPagesAreNotThere(t *testing.T) {
	s := webtest.New(t, true)
	storetest.Household(t, s.Store, "stranger")
	s.SignIn()
	burnID := webtest.FirstBurn(s)
	entry := webtest.NewestEntry(s, burnID, burnID)
	require.Equal(t, http.StatusSeeOther, s.Post("/burns/compare", "stove", "1", "subject", "lay", "a", "top-down", "b", "bottom-up", "most", "8").Status)
	require.Equal(t, "/stoves/1/known", s.Post("/stoves/1/changes", "kind", "gasket", "at", "today").To)
	require.Equal(t, "/burns/import/readings/1", s.Upload("/burns/import/readings", "log.csv", "2026-01-01 10:00,20\n2026-01-01 10:01,20\n").To)
	require.Equal(t, "/plans/1", s.Wish("/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=-1&start=cold&wood=1&kindling=6").To)
	_, err := s.Store.DB().Exec(`UPDATE users SET password = (SELECT password FROM users WHERE name = $1) WHERE name = 'stranger'`, demo.User)
	require.NoError(t, err)
	s.NewPerson()
	require.Equal(t, "/", s.Post("/sign-in", "name", "stranger", "password", demo.Password).To)
	got := s.Post("/stoves", webtest.Auntie("name", "Hers", "space-id", s.Space())...)
	require.Equal(t, http.StatusSeeOther, got.Status, got.Words())
	require.Equal(t, http.StatusSeeOther, s.Post("/wood", webtest.Beech("name", "Hers")...).Status)
	for _, path := range []string{burnID, burnID + "/live", burnID + "/burn.csv", burnID + "/burn.json", burnID + "/entries/" + entry,
		burnID + "/as-of?minute=10", burnID + "/changes", "/wood/1", "/wood/1/edit", "/stoves/1", "/stoves/1/edit", "/upkeep/first-fires/1",
		burnID + "/otherwise", burnID + "/photos/1", "/burns/over?b=" + strings.TrimPrefix(burnID, "/burns/") + "&b=1", "/stoves/1/known", "/burns/import/readings/1",
		"/plans/1", "/plans/1/sheet", "/plans/1/plan.ics", "/spaces/1"} {
		got := s.Get(path)
		assert.Equal(t, http.StatusNotFound, got.Status, path)
		assert.NotContains(t, got.Body, "Auntie", path)
	}
	token, err := s.Store.Household(2).MakeToken(t.Context(), "hers", 0, []string{store.ScopeReadings, store.ScopeRead, store.ScopeLog})
	require.NoError(t, err)
	hers, number := webtest.Program{Site: s, Token: token}, strings.TrimPrefix(burnID, "/burns/")
	entries := webtest.Count(s, "entries")
	for _, c := range [][3]string{{"GET", "/burns/" + number, ""}, {"POST", "/burns/" + number + "/entries", `{"kind": "out"}`},
		{"POST", "/burns/" + number + "/end", ""}, {"GET", "/stoves/1/now", ""}, {"GET", "/stoves/1/burn", ""}, {"POST", "/stoves/1/plans", `{}`},
		{"POST", "/burns", `{"stove": 1}`}, {"POST", "/burns", `{"plan": 1}`}} {
		got := hers.Ask(c[0], c[1], "", c[2])
		assert.Equal(t, http.StatusNotFound, got.Status, "%s %s: %s", c[0], c[1], got.Body)
	}
	refused := hers.Ask("POST", "/readings", "", `{"stove": 1, "place": "top", "value": 210}`)
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Status, refused.Body)
	assert.NotContains(t, refused.Body, "Auntie")
	for _, path := range []string{burnID + "/entries", burnID + "/entries/" + entry, burnID + "/entries/" + entry + "/strike", burnID + "/end",
		burnID + "/reopen", burnID + "/remove", burnID + "/done", burnID + "/taps/any/undo", "/stoves/1/tokens", "/stoves/1/tokens/1/revoke",
		burnID + "/put-back", "/wood/1", "/wood/1/remove", "/wood/1/put-back", "/wood/1/readings", "/wood/1/counts", "/wood/1/carried", "/wood/1/readings/1/undo",
		"/wood/1/counts/1/undo", "/upkeep/done/1/undo", "/stoves/1", "/stoves/1/remove", "/stoves/1/put-back", "/stove",
		burnID + "/eye", "/stoves/1/changes", "/stoves/1/back", "/stoves/1/changes/1/undo", "/trials/1/end", burnID + "/photos/1/remove",
		"/burns/import/readings/1", "/plans/1/start", "/plans/1/keep", "/plans/1/remove", "/plans/1/put-back", "/spaces/1", "/spaces/1/remove", "/plan"} {
		got := s.Post(path, "kind", "out", "stove", "1", "start", "cold", "room", "18", "outdoor", "4", "wood", "1", "for", "6 h", "aim", "hold",
			"n", "1", "y0", "yes", "k0", "out", "name", "mine", "may-read", "yes", "glass", "clear", "burn", "1", "at", "today", "c0", "moment", "c1", "room")
		assert.Equal(t, http.StatusNotFound, got.Status, path)
	}
	assert.Equal(t, entries, webtest.Count(s, "entries"), "nothing is logged in another's fire")
	assert.Zero(t, webtest.Count(s, "reported"))
	assert.Contains(t, s.Get("/burns").Body, "No burn is logged yet")
}

func TestBadInputIsAnsweredAndChangesNothing(t *testing.T) {
	s := webtest.New(t, false)
	s.SetUp()
	first := s.Post("/stoves", webtest.Auntie("space-id", s.Space())...)
	require.Equal(t, "/wood/new", first.To, first.Words())
	require.Equal(t, "/plan", s.Post("/wood", webtest.Beech()...).To)
	s.Get("/plan") // says that it is kept, once
	before := s.Get("/stoves/1").Words() + s.Get("/wood/1").Words()
	for _, c := range []struct {
		path  string
		form  []string
		says  string
		keeps string
	}{
		{"/stoves", webtest.Auntie("space-id", "1", "name", "Second", "chimney-height", "0 m"), "makes no draft", "0 m"},
		{"/stoves", webtest.Auntie("space-id", "1", "name", "Second", "volume", "big"), "is not a volume", "big"},
		{"/stoves", webtest.Auntie("space-id", "1", "name", "Second", "max-load", "70 kg"), "does not go with a firebox", "70 kg"},
		{"/stoves", webtest.Auntie("space-id", "1", "name", "Second", "control-1-role", ""), "a name and a purpose", "Lever"},
		{"/stoves", webtest.Auntie("space-id", "1", "name", "Second", "control-1-scale", "turns", "control-1-full", "lots"), "fully open position", "lots"},
		{"/stoves", webtest.Auntie("space-id", "1", "name", "Second", "gauge-top-low", "900F"), "its band must rise", "900F"},
		{"/stoves", webtest.Auntie("space-id", "1"), "a stove of that name", "Auntie"},
		{"/stoves/1", webtest.Auntie("door-for", "3 h"), "is no time to light in", "3 h"},
		{"/stoves/1", webtest.Auntie("flap-for", "soon"), "would do", "soon"},
		{"/stoves/1", webtest.Auntie("engage", "20 C"), "a catalyst is not engaged from", "20 C"},
		{"/stoves/1", webtest.Auntie("door-rule", "wide"), "nothing that a manual says here", "Auntie"},
		{"/stoves/1", webtest.Auntie("chimney-height", "200 m"), "taller than this", "200 m"},
		{"/wood", webtest.Beech("name", "Other", "reading", "400%"), "between 4 and 120 %", "400%"},
		{"/wood", webtest.Beech("name", "Other", "mass", "a lot"), "800 kg, 2.5 m3 stacked", "a lot"},
		{"/wood", webtest.Beech("name", "Other", "species", "plywood"), "is not a known wood", "Other"},
		{"/wood", webtest.Beech("name", "Other", "piece-mass", "300 kg"), "between 10 g and 30.0 kg", "300 kg"},
		{"/wood", webtest.Beech(), "a stack of that name", "Beech, lean-to"},
		{"/wood/1", webtest.Beech("piece-length", "4 m"), "between 50 mm and 1200 mm", "4 m"},
		{"/household", []string{"household", strings.Repeat("x", 90), "zone", "UTC", "units", "metric", "alarms", "yesteryear"},
			"up to 60 letters", "yesteryear"},
		{"/spaces", []string{"space", "Loft", "low", "22", "high", "19", "floor", "60", "build", "tight", "n50", "999", "volume", "300"}, "air changes", "999"},
	} {
		got := s.Post(c.path, c.form...)
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, "%s %q", c.path, c.says)
		assert.Contains(t, strings.ToLower(got.Words()), strings.ToLower(c.says), c.path)
		assert.Contains(t, got.Body, `value="`+c.keeps+`"`, "%s %q: what was typed stays", c.path, c.says)
	}
	assert.Equal(t, before, s.Get("/stoves/1").Words()+s.Get("/wood/1").Words(), "nothing was changed")
	big := s.Post("/wood", "name", strings.Repeat("x", 11<<20))
	assert.Equal(t, http.StatusRequestEntityTooLarge, big.Status)
	for path, says := range map[string]string{
		"/stoves/1?outdoor=hot":                 "is not an outdoor temperature",
		"/stoves/1?outdoor=2&gas=900":           "chimney fire",
		"/plan?stove=1&wood=1&for=long&room=17": "is not a length of time",
		"/plan?stove=1&wood=1&for=5+h&room=99":  "room temperature",
		"/plan?stove=1&wood=1&for=40+h&aim=hold&start=cold&room=17&outdoor=4&low=19&high=21": "for up to 14 hours",
	} {
		got := s.Get(path)
		if strings.HasPrefix(path, "/plan") {
			got = s.Wish(path)
		}
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, path)
		assert.Contains(t, got.Words(), says, path)
	}
}

func TestLoggingWithoutScripts(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b := webtest.AtTheStove(s)
	stack := func() units.Kilogram {
		w, err := new(shed.Shed).Stack(ctx, s.Store.Household(1), 1, s.Clock.Now())
		require.NoError(t, err)
		return -w.AsIs(w.Used) // what is left goes by what recounts taught besides
	}
	before := stack()
	log := func(pairs ...string) webtest.Answer { return s.Post(b+"/entries", pairs...) }
	require.Equal(t, b+"/live", log("kind", "load", "stack", "1", "pieces", "4", "direction", "end-on", "lay", "on-coals").To)
	assert.InDelta(t, 5.2, float64(before-stack()), 0.01)

	for _, c := range []struct {
		form []string
		says string
	}{
		{[]string{"kind", "load", "stack", "1", "pieces", "99"}, "does not go into a firebox"},
		{[]string{"kind", "load", "stack", "1", "pieces", "two and a bit"}, "is not a number of pieces"},
		{[]string{"kind", "temperature", "place", "top", "value", "hot"}, "is not a temperature"},
		{[]string{"kind", "control", "control", "lever", "value", "sideways"}, "a share of the way"},
		{[]string{"kind", "draft", "value", "strong"}, "is not a draft"},
		{[]string{"kind", "note", "note", ""}, "note is empty"},
		{[]string{"kind", "temperature", "place", "top", "value", "200", "when", "yesterday-ish"}, "is not a time"},
		{[]string{"kind", "temperature", "place", "top", "value", "200", "when", "90 min ago"}, "before the burn was started"},
	} {
		got := log(c.form...)
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, "%v", c.form)
		assert.Contains(t, strings.ToLower(got.Words()), c.says, "%v", c.form)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, log("kind", "control", "control", "throttle", "value", "1").Status)
	assert.InDelta(t, 5.2, float64(before-stack()), 0.01, "what was refused took no wood")

	s.Clock.At = s.Clock.At.Add(20 * time.Minute)
	require.Equal(t, http.StatusSeeOther, log("kind", "temperature", "place", "connector-probe", "value", "446F", "when", "5 min ago").Status)
	live := s.Get(b + "/live").Words()
	assert.Contains(t, live, "Flue gas 230 °C")
	assert.Contains(t, live, "18:15", "stamped five minutes ago")
	entry := webtest.NewestEntry(s, b+"/live", b)
	wrong := s.Post(b+"/entries/"+entry, "value", "5000 C", "when", "18:15")
	assert.Equal(t, http.StatusUnprocessableEntity, wrong.Status)
	assert.Contains(t, wrong.Body, `value="5000 C"`)
	require.Equal(t, b+"/live", s.Post(b+"/entries/"+entry, "value", "235 C", "when", "18:12").To)
	live = s.Get(b + "/live").Words()
	assert.Contains(t, live, "Corrected: Flue gas 235 °C")
	assert.Contains(t, live, "18:12")

	require.Equal(t, b, s.Post(b+"/end").To)
	page := s.Get(b).Words()
	for _, says := range []string{"heat to the room", "energy in", "cold and smoky · working · too hot", "to the working band",
		"wood used 5.2 kg", "(entered)", "(measured)"} {
		assert.Contains(t, page, says)
	}
	assert.Equal(t, http.StatusSeeOther, s.Get(b+"/live").Status, "an ended burn is read, not tended")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(b+"/entries", "kind", "note", "note", "later", "at",
		s.Clock.At.Add(time.Hour).Format(time.RFC3339)).Status)
}

func TestAScriptMaySendAnEntryTwice(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b := webtest.AtTheStove(s)
	asScript := map[string]string{"Accept": "application/json"}
	for range 2 {
		got := s.Send(b+"/entries", asScript, "kind", "smoke", "value", "grey", "id", "made-on-the-phone", "at", s.Clock.At.Format(time.RFC3339))
		assert.Equal(t, http.StatusOK, got.Status)
		assert.JSONEq(t, `{"said":"Blue-grey smoke at the cap"}`, got.Body)
	}
	id := strings.TrimPrefix(b, "/burns/")
	var n int
	require.NoError(t, s.Store.DB().QueryRow(`SELECT count(*) FROM entries WHERE burn_id = $1`, id).Scan(&n))
	assert.Equal(t, 1, n)
	// A phone whose clock is a day ahead still says truly that it waited ten minutes.
	s.Clock.At = s.Clock.At.Add(15 * time.Minute)
	ahead := s.Clock.At.Add(24 * time.Hour)
	got := s.Send(b+"/entries", asScript, "kind", "note", "note", "late", "id", "late", "at", ahead.Add(-10*time.Minute).Format(time.RFC3339),
		"sent", ahead.Format(time.RFC3339))
	require.Equal(t, http.StatusOK, got.Status, got.Body)
	var at time.Time
	require.NoError(t, s.Store.DB().QueryRow(`SELECT at FROM entries WHERE burn_id = $1 AND id = 'late'`, id).Scan(&at))
	assert.WithinDuration(t, s.Clock.At.Add(-10*time.Minute), at, time.Second)
	refused := s.Send(b+"/entries", asScript, "kind", "smoke", "value", "pink")
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Status)
	assert.JSONEq(t, `{"error":"Smoke is clear, white, grey, or in the room."}`, refused.Body)
	s.NewPerson()
	assert.Equal(t, http.StatusUnauthorized, s.Send(b+"/entries", asScript, "kind", "out").Status)
}

func TestBurnsGoOutAndComeBack(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b := webtest.FirstBurn(s)
	for _, form := range []string{"csv", "json"} {
		out := s.Get(b + "/burn." + form)
		require.Equal(t, http.StatusOK, out.Status)
		assert.Contains(t, out.Header.Get("Content-Disposition"), "."+form)
		require.Equal(t, b, s.Upload("/burns/import", "burn."+form, out.Body).To, "one that is there already is not doubled")
		s.Post(b + "/remove")
		back := s.Upload("/burns/import", "burn."+form, out.Body)
		require.Equal(t, http.StatusSeeOther, back.Status, back.Words())
		require.NotEqual(t, b, back.To)
		again := s.Get(back.To + "/burn." + form)
		if form == "csv" {
			assert.Equal(t, out.Body, again.Body)
		}
		figures := func(p string) string {
			return strings.Split(strings.Split(webtest.Between(s.Get(p).Words(), "What it came to", "The log"), "Plan and fact")[0], "By your eye")[0]
		}
		came := figures(back.To)
		s.Post(back.To + "/remove")
		s.Post(b + "/put-back")
		assert.Equal(t, figures(b), came)
	}
	assert.Contains(t, s.Upload("/burns/import", "cat.json", `{"cat":1}`).Words(), `its "format" is`)
	assert.Contains(t, s.Post("/burns/import").Words(), "Choose a file first")
	gone := s.Post(b + "/remove")
	assert.Contains(t, s.Get(gone.To).Words(), "This burn is off the list")
	assert.NotContains(t, s.Get("/burns").Body, `"`+b+`"`)
	s.Post(b + "/put-back")
	assert.Contains(t, s.Get("/burns").Body, `"`+b+`"`)
}

// The two emergency pages open for everybody, also when the database is gone.
func TestEmergencyPagesNeedNothing(t *testing.T) {
	s := webtest.New(t, false)
	for _, st := range s.Stores {
		require.NoError(t, st.Close())
	}
	assert.Contains(t, s.Get("/co-alarm").Words(), "Everybody out, now")
	assert.Contains(t, s.Get("/chimney-fire").Words(), "Never water in the firebox")
	assert.Equal(t, http.StatusServiceUnavailable, s.Get("/healthz").Status)
	assert.Contains(t, []int{http.StatusInternalServerError, http.StatusServiceUnavailable}, s.Get("/sign-in").Status)
}

func TestEveryPageCarriesTheEmergenciesAndTheCaution(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b := webtest.AtTheStove(s)
	for _, path := range []string{"/", "/plan", b + "/live", "/burns", b, "/wood", "/wood/1", "/stoves", "/stoves/1", "/household"} {
		page := s.Get(path)
		require.Equal(t, http.StatusOK, page.Status, path)
		for _, says := range []string{`href="#co-alarm"`, `href="#chimney-fire"`, "Everybody out, now", "it does not certify"} {
			assert.Contains(t, page.Body, says, path)
		}
	}
}

// The committed styles and scripts are what the sources build: the manifest
// was written when they were built, and must still hold on a machine without
// Node.
func TestAssetsAreBuilt(t *testing.T) {
	manifest, err := os.ReadFile("static/MANIFEST")
	require.NoError(t, err)
	n := 0
	for line := range strings.Lines(string(manifest)) {
		f := strings.Fields(line)
		require.Len(t, f, 3)
		path := filepath.Join("../..", f[2])
		if f[0] == "built" {
			path = filepath.Join("static", f[2])
		}
		b, err := os.ReadFile(path)
		require.NoError(t, err)
		assert.Equal(t, f[1], fmt.Sprintf("%x", sha256.Sum256(b)), "%s has changed since the assets were built: run make assets", f[2])
		n++
	}
	templates, _ := filepath.Glob("*/templates/*.html")
	assert.Greater(t, n, len(templates)+8)
}
