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
)

var ctx = context.Background()

func TestFirstRun(t *testing.T) {
	s := newSite(t, false)
	assert.Equal(t, "/sign-in", s.get("/").to)
	assert.Equal(t, "/setup", s.get("/sign-in").to)
	bad := s.setUp("household", "Tarn Mill", "name", "", "zone", "Middle/Earth", "units", "furlongs", "password", "short")
	assert.Equal(t, http.StatusUnprocessableEntity, bad.status)
	for _, says := range []string{"Your name is missing", "is not a time zone: Europe/Oslo", "metric or imperial would do",
		"a password of 10 to 200 letters"} {
		assert.Contains(t, strings.ToLower(bad.words()), strings.ToLower(says))
	}
	assert.Contains(t, bad.body, `value="Tarn Mill"`, "what was typed stays")
	assert.NotContains(t, bad.body, "short", "but never a password")

	good := []string{"household", "Tarn Mill", "zone", "Europe/Oslo", "units", "imperial"}
	guessed := s.setUp(append(good, "code", "0000-0000")...)
	assert.Equal(t, http.StatusUnprocessableEntity, guessed.status, "who comes first does not own a fresh server: who started it does")
	assert.Contains(t, guessed.words(), "printed where the server was started")
	require.Equal(t, "/stoves/new", s.setUp(good...).to)
	assert.Contains(t, s.get("/").body, "Begin with the stove", "an empty household says what to do first")
	assert.Equal(t, http.StatusConflict, s.setUp(good...).status, "only once")
	s.newPerson()
	assert.Equal(t, "/sign-in", s.get("/setup").to)
	assert.Equal(t, "/", s.post("/sign-in", "name", "ro", "password", "three dry splits").to)
	assert.Equal(t, "/sign-in", s.post("/sign-out").to)
	assert.Equal(t, "/sign-in?back=%2Fwood", s.get("/wood").to)
}

func TestGuessingPasswordsIsSlow(t *testing.T) {
	s := newSite(t, true)
	for range 6 {
		assert.Equal(t, http.StatusUnprocessableEntity, s.post("/sign-in", "name", demo.User, "password", "wrong").status)
	}
	got := s.post("/sign-in", "name", demo.User, "password", demo.Password)
	assert.Equal(t, http.StatusTooManyRequests, got.status)
	assert.Contains(t, got.words(), "wrong passwords")
	s.clock.at = s.clock.at.Add(16 * time.Minute)
	s.signIn()
}

func TestProtection(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	policy := s.get("/").header.Get("Content-Security-Policy")
	assert.NotContains(t, policy, "unsafe")
	assert.Contains(t, policy, "default-src 'none'")
	for _, path := range []string{"/", "/plan", "/burns", "/wood", "/stoves/1", "/stoves/new", "/household", "/co-alarm"} {
		body := s.get(path).body
		assert.NotRegexp(t, `\sstyle=|\son[a-z]+="|<script>|https?://(?:www\.w3\.org/2000/svg)?[^w"]`,
			strings.ReplaceAll(body, "http://www.w3.org/2000/svg", ""), path)
	}
	stolen := s.send("/household", map[string]string{"Origin": "https://elsewhere.example", "Sec-Fetch-Site": "cross-site"}, "household", "Taken over")
	assert.Equal(t, http.StatusForbidden, stolen.status)
	assert.Contains(t, stolen.body, "nothing was changed")
	assert.NotContains(t, s.get("/household").body, "Taken over")
	assert.Equal(t, http.StatusNotFound, s.get("/nowhere").status)
	assert.Equal(t, http.StatusNotFound, s.get("/burns/999999999999999999999").status)
}

// A stranger with an account of her own asks for every address of Tarn Mill.
func TestAnotherHouseholdsPagesAreNotThere(t *testing.T) {
	s := newSite(t, true)
	storetest.Household(t, s.store, "stranger")
	s.signIn()
	burnID := firstBurn(s)
	entry := newestEntry(s, burnID, burnID)
	require.Equal(t, http.StatusSeeOther, s.post("/burns/compare", "stove", "1", "subject", "lay", "a", "top-down", "b", "bottom-up", "most", "8").status)
	require.Equal(t, "/stoves/1/known", s.post("/stoves/1/changes", "kind", "gasket", "at", "today").to)
	require.Equal(t, "/burns/import/readings/1", s.upload("/burns/import/readings", "log.csv", "2026-01-01 10:00,20\n2026-01-01 10:01,20\n").to)
	require.Equal(t, "/plans/1", s.wish("/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=-1&start=cold&wood=1&kindling=6").to)
	_, err := s.store.DB().Exec(`UPDATE users SET password = (SELECT password FROM users WHERE name = $1) WHERE name = 'stranger'`, demo.User)
	require.NoError(t, err)
	s.newPerson()
	require.Equal(t, "/", s.post("/sign-in", "name", "stranger", "password", demo.Password).to)
	got := s.post("/stoves", auntie("name", "Hers", "space-id", s.space())...)
	require.Equal(t, http.StatusSeeOther, got.status, got.words())
	require.Equal(t, http.StatusSeeOther, s.post("/wood", beech("name", "Hers")...).status)
	for _, path := range []string{burnID, burnID + "/live", burnID + "/burn.csv", burnID + "/burn.json", burnID + "/entries/" + entry,
		burnID + "/as-of?minute=10", burnID + "/changes", "/wood/1", "/wood/1/edit", "/stoves/1", "/stoves/1/edit", "/upkeep/first-fires/1",
		burnID + "/otherwise", burnID + "/photos/1", "/burns/over?b=" + strings.TrimPrefix(burnID, "/burns/") + "&b=1", "/stoves/1/known", "/burns/import/readings/1",
		"/plans/1", "/plans/1/sheet", "/plans/1/plan.ics", "/spaces/1"} {
		got := s.get(path)
		assert.Equal(t, http.StatusNotFound, got.status, path)
		assert.NotContains(t, got.body, "Auntie", path)
	}
	token, err := s.store.Household(2).MakeToken(t.Context(), "hers", 0, []string{store.ScopeReadings, store.ScopeRead, store.ScopeLog})
	require.NoError(t, err)
	hers, number := program{site: s, token: token}, strings.TrimPrefix(burnID, "/burns/")
	entries := count(s, "entries")
	for _, c := range [][3]string{{"GET", "/burns/" + number, ""}, {"POST", "/burns/" + number + "/entries", `{"kind": "out"}`},
		{"POST", "/burns/" + number + "/end", ""}, {"GET", "/stoves/1/now", ""}, {"GET", "/stoves/1/burn", ""}, {"POST", "/stoves/1/plans", `{}`},
		{"POST", "/burns", `{"stove": 1}`}, {"POST", "/burns", `{"plan": 1}`}} {
		got := hers.ask(c[0], c[1], "", c[2])
		assert.Equal(t, http.StatusNotFound, got.status, "%s %s: %s", c[0], c[1], got.body)
	}
	refused := hers.ask("POST", "/readings", "", `{"stove": 1, "place": "top", "value": 210}`)
	assert.Equal(t, http.StatusUnprocessableEntity, refused.status, refused.body)
	assert.NotContains(t, refused.body, "Auntie")
	for _, path := range []string{burnID + "/entries", burnID + "/entries/" + entry, burnID + "/entries/" + entry + "/strike", burnID + "/end",
		burnID + "/reopen", burnID + "/remove", burnID + "/done", burnID + "/taps/any/undo", "/stoves/1/tokens", "/stoves/1/tokens/1/revoke",
		burnID + "/put-back", "/wood/1", "/wood/1/remove", "/wood/1/put-back", "/wood/1/readings", "/wood/1/counts", "/wood/1/carried", "/wood/1/readings/1/undo",
		"/wood/1/counts/1/undo", "/upkeep/done/1/undo", "/stoves/1", "/stoves/1/remove", "/stoves/1/put-back", "/stove",
		burnID + "/eye", "/stoves/1/changes", "/stoves/1/back", "/stoves/1/changes/1/undo", "/trials/1/end", burnID + "/photos/1/remove",
		"/burns/import/readings/1", "/plans/1/start", "/plans/1/keep", "/plans/1/remove", "/plans/1/put-back", "/spaces/1", "/spaces/1/remove", "/plan"} {
		got := s.post(path, "kind", "out", "stove", "1", "start", "cold", "room", "18", "outdoor", "4", "wood", "1", "for", "6 h", "aim", "hold",
			"n", "1", "y0", "yes", "k0", "out", "name", "mine", "may-read", "yes", "glass", "clear", "burn", "1", "at", "today", "c0", "moment", "c1", "room")
		assert.Equal(t, http.StatusNotFound, got.status, path)
	}
	assert.Equal(t, entries, count(s, "entries"), "nothing is logged in another's fire")
	assert.Zero(t, count(s, "reported"))
	assert.Contains(t, s.get("/burns").body, "No burn is logged yet")
}

// count is how many rows a table has.
func count(s *site, table string) (n int) {
	s.t.Helper()
	require.NoError(s.t, s.store.DB().QueryRow("SELECT count(*) FROM "+table).Scan(&n))
	return n
}

func firstBurn(s *site) string {
	return "/burns/" + between(s.get("/burns").body, `href="/burns/`, `"`)
}

// newestEntry is the id of the entry on top of a page's log.
func newestEntry(s *site, page, burn string) string {
	return between(s.get(page).body, `href="`+burn+`/entries/`, `"`)
}

func between(text, from, to string) string {
	_, rest, _ := strings.Cut(text, from)
	out, _, _ := strings.Cut(rest, to)
	return out
}

func TestBadInputIsAnsweredAndChangesNothing(t *testing.T) {
	s := newSite(t, false)
	s.setUp()
	first := s.post("/stoves", auntie("space-id", s.space())...)
	require.Equal(t, "/wood/new", first.to, first.words())
	require.Equal(t, "/plan", s.post("/wood", beech()...).to)
	s.get("/plan") // says that it is kept, once
	before := s.get("/stoves/1").words() + s.get("/wood/1").words()
	for _, c := range []struct {
		path  string
		form  []string
		says  string
		keeps string
	}{
		{"/stoves", auntie("space-id", "1", "name", "Second", "chimney-height", "0 m"), "makes no draft", "0 m"},
		{"/stoves", auntie("space-id", "1", "name", "Second", "volume", "big"), "is not a volume", "big"},
		{"/stoves", auntie("space-id", "1", "name", "Second", "max-load", "70 kg"), "does not go with a firebox", "70 kg"},
		{"/stoves", auntie("space-id", "1", "name", "Second", "control-1-role", ""), "a name and a purpose", "Lever"},
		{"/stoves", auntie("space-id", "1", "name", "Second", "control-1-scale", "turns", "control-1-full", "lots"), "fully open position", "lots"},
		{"/stoves", auntie("space-id", "1", "name", "Second", "gauge-top-low", "900F"), "its band must rise", "900F"},
		{"/stoves", auntie("space-id", "1"), "a stove of that name", "Auntie"},
		{"/stoves/1", auntie("chimney-height", "200 m"), "taller than this", "200 m"},
		{"/wood", beech("name", "Other", "reading", "400%"), "between 4 and 120 %", "400%"},
		{"/wood", beech("name", "Other", "mass", "a lot"), "800 kg, 2.5 m3 stacked", "a lot"},
		{"/wood", beech("name", "Other", "species", "plywood"), "is not a known wood", "Other"},
		{"/wood", beech("name", "Other", "piece-mass", "300 kg"), "between 10 g and 30.0 kg", "300 kg"},
		{"/wood", beech(), "a stack of that name", "Beech, lean-to"},
		{"/wood/1", beech("piece-length", "4 m"), "between 50 mm and 1200 mm", "4 m"},
		{"/household", []string{"household", strings.Repeat("x", 90), "zone", "UTC", "units", "metric", "alarms", "yesteryear"},
			"up to 60 letters", "yesteryear"},
		{"/spaces", []string{"space", "Loft", "low", "22", "high", "19", "floor", "60", "build", "tight", "n50", "999", "volume", "300"}, "air changes", "999"},
	} {
		got := s.post(c.path, c.form...)
		assert.Equal(t, http.StatusUnprocessableEntity, got.status, "%s %q", c.path, c.says)
		assert.Contains(t, strings.ToLower(got.words()), strings.ToLower(c.says), c.path)
		assert.Contains(t, got.body, `value="`+c.keeps+`"`, "%s %q: what was typed stays", c.path, c.says)
	}
	assert.Equal(t, before, s.get("/stoves/1").words()+s.get("/wood/1").words(), "nothing was changed")
	big := s.post("/wood", "name", strings.Repeat("x", 11<<20))
	assert.Equal(t, http.StatusRequestEntityTooLarge, big.status)
	for path, says := range map[string]string{
		"/stoves/1?outdoor=hot":                 "is not an outdoor temperature",
		"/stoves/1?outdoor=2&gas=900":           "chimney fire",
		"/plan?stove=1&wood=1&for=long&room=17": "is not a length of time",
		"/plan?stove=1&wood=1&for=5+h&room=99":  "room temperature",
		"/plan?stove=1&wood=1&for=40+h&aim=hold&start=cold&room=17&outdoor=4&low=19&high=21": "for up to 14 hours",
	} {
		got := s.get(path)
		if strings.HasPrefix(path, "/plan") {
			got = s.wish(path)
		}
		assert.Equal(t, http.StatusUnprocessableEntity, got.status, path)
		assert.Contains(t, got.words(), says, path)
	}
}

// atTheStove starts a burn on coals without a plan and returns its address.
func atTheStove(s *site) string {
	got := s.post("/stove", "stove", "1", "start", "good-coals", "room", "18 C", "outdoor", "2 C")
	require.Equal(s.t, http.StatusSeeOther, got.status, got.words())
	return strings.TrimSuffix(got.to, "/live")
}

func TestLoggingWithoutScripts(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b := atTheStove(s)
	stack := func() units.Kilogram {
		w, err := new(shed.Shed).Stack(ctx, s.store.Household(1), 1, s.clock.now())
		require.NoError(t, err)
		return -w.AsIs(w.Used) // what is left goes by what recounts taught besides
	}
	before := stack()
	log := func(pairs ...string) answer { return s.post(b+"/entries", pairs...) }
	require.Equal(t, b+"/live", log("kind", "load", "stack", "1", "pieces", "4", "direction", "end-on", "lay", "on-coals").to)
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
		assert.Equal(t, http.StatusUnprocessableEntity, got.status, "%v", c.form)
		assert.Contains(t, strings.ToLower(got.words()), c.says, "%v", c.form)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, log("kind", "control", "control", "throttle", "value", "1").status)
	assert.InDelta(t, 5.2, float64(before-stack()), 0.01, "what was refused took no wood")

	s.clock.at = s.clock.at.Add(20 * time.Minute)
	require.Equal(t, http.StatusSeeOther, log("kind", "temperature", "place", "connector-probe", "value", "446F", "when", "5 min ago").status)
	live := s.get(b + "/live").words()
	assert.Contains(t, live, "Flue gas 230 °C")
	assert.Contains(t, live, "18:15", "stamped five minutes ago")
	entry := newestEntry(s, b+"/live", b)
	wrong := s.post(b+"/entries/"+entry, "value", "5000 C", "when", "18:15")
	assert.Equal(t, http.StatusUnprocessableEntity, wrong.status)
	assert.Contains(t, wrong.body, `value="5000 C"`)
	require.Equal(t, b+"/live", s.post(b+"/entries/"+entry, "value", "235 C", "when", "18:12").to)
	live = s.get(b + "/live").words()
	assert.Contains(t, live, "Corrected: Flue gas 235 °C")
	assert.Contains(t, live, "18:12")

	require.Equal(t, b, s.post(b+"/end").to)
	page := s.get(b).words()
	for _, says := range []string{"heat to the room", "energy in", "cold and smoky · working · too hot", "to the working band",
		"wood used, and for each degree kept an hour 5.2 kg", "(entered)", "(measured)"} {
		assert.Contains(t, page, says)
	}
	assert.Equal(t, http.StatusSeeOther, s.get(b+"/live").status, "an ended burn is read, not tended")
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(b+"/entries", "kind", "note", "note", "later", "at",
		s.clock.at.Add(time.Hour).Format(time.RFC3339)).status)
}

func TestAScriptMaySendAnEntryTwice(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b := atTheStove(s)
	asScript := map[string]string{"Accept": "application/json"}
	for range 2 {
		got := s.send(b+"/entries", asScript, "kind", "smoke", "value", "grey", "id", "made-on-the-phone", "at", s.clock.at.Format(time.RFC3339))
		assert.Equal(t, http.StatusOK, got.status)
		assert.JSONEq(t, `{"said":"Blue-grey smoke at the cap"}`, got.body)
	}
	id := strings.TrimPrefix(b, "/burns/")
	var n int
	require.NoError(t, s.store.DB().QueryRow(`SELECT count(*) FROM entries WHERE burn_id = $1`, id).Scan(&n))
	assert.Equal(t, 1, n)
	// A phone whose clock is a day ahead still says truly that it waited ten minutes.
	s.clock.at = s.clock.at.Add(15 * time.Minute)
	ahead := s.clock.at.Add(24 * time.Hour)
	got := s.send(b+"/entries", asScript, "kind", "note", "note", "late", "id", "late", "at", ahead.Add(-10*time.Minute).Format(time.RFC3339),
		"sent", ahead.Format(time.RFC3339))
	require.Equal(t, http.StatusOK, got.status, got.body)
	var at time.Time
	require.NoError(t, s.store.DB().QueryRow(`SELECT at FROM entries WHERE burn_id = $1 AND id = 'late'`, id).Scan(&at))
	assert.WithinDuration(t, s.clock.at.Add(-10*time.Minute), at, time.Second)
	refused := s.send(b+"/entries", asScript, "kind", "smoke", "value", "pink")
	assert.Equal(t, http.StatusUnprocessableEntity, refused.status)
	assert.JSONEq(t, `{"error":"Smoke is clear, white, grey, or in the room."}`, refused.body)
	s.newPerson()
	assert.Equal(t, http.StatusUnauthorized, s.send(b+"/entries", asScript, "kind", "out").status)
}

func TestBurnsGoOutAndComeBack(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b := firstBurn(s)
	for _, form := range []string{"csv", "json"} {
		out := s.get(b + "/burn." + form)
		require.Equal(t, http.StatusOK, out.status)
		assert.Contains(t, out.header.Get("Content-Disposition"), "."+form)
		require.Equal(t, b, s.upload("/burns/import", "burn."+form, out.body).to, "one that is there already is not doubled")
		s.post(b + "/remove")
		back := s.upload("/burns/import", "burn."+form, out.body)
		require.Equal(t, http.StatusSeeOther, back.status, back.words())
		require.NotEqual(t, b, back.to)
		again := s.get(back.to + "/burn." + form)
		if form == "csv" {
			assert.Equal(t, out.body, again.body)
		}
		figures := func(p string) string {
			return strings.Split(strings.Split(between(s.get(p).words(), "What it came to", "The log"), "Plan and fact")[0], "By your eye")[0]
		}
		came := figures(back.to)
		s.post(back.to + "/remove")
		s.post(b + "/put-back")
		assert.Equal(t, figures(b), came)
	}
	assert.Contains(t, s.upload("/burns/import", "cat.json", `{"cat":1}`).words(), `its "format" is`)
	assert.Contains(t, s.post("/burns/import").words(), "Choose a file first")
	gone := s.post(b + "/remove")
	assert.Contains(t, s.get(gone.to).words(), "This burn is off the list")
	assert.NotContains(t, s.get("/burns").body, `"`+b+`"`)
	s.post(b + "/put-back")
	assert.Contains(t, s.get("/burns").body, `"`+b+`"`)
}

// The two emergency pages open for everybody, also when the database is gone.
func TestEmergencyPagesNeedNothing(t *testing.T) {
	s := newSite(t, false)
	require.NoError(t, s.store.Close())
	assert.Contains(t, s.get("/co-alarm").words(), "Everybody out, now")
	assert.Contains(t, s.get("/chimney-fire").words(), "Never water in the firebox")
	assert.Equal(t, http.StatusServiceUnavailable, s.get("/healthz").status)
	assert.Contains(t, []int{http.StatusInternalServerError, http.StatusServiceUnavailable}, s.get("/sign-in").status)
}

func TestEveryPageCarriesTheEmergenciesAndTheCaution(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b := atTheStove(s)
	for _, path := range []string{"/", "/plan", b + "/live", "/burns", b, "/wood", "/wood/1", "/stoves", "/stoves/1", "/household"} {
		page := s.get(path)
		require.Equal(t, http.StatusOK, page.status, path)
		for _, says := range []string{`href="#co-alarm"`, `href="#chimney-fire"`, "Everybody out, now", "it does not certify"} {
			assert.Contains(t, page.body, says, path)
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
