package web_test

import (
	"context"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/browsertest"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/probe"
	"smolder/internal/store"
	"smolder/internal/web"
)

const coldEvening = "/plan?stove=1&aim=hold&for=5+h&low=19&high=21.5&room=17&outdoor=1&start=cold&kindling=6&wood=1"

// begun starts a burn by a plan and returns its address, and the plan.
func (s *site) begun(wish string) (path string, p plan.Plan) {
	s.t.Helper()
	made := s.wish(wish)
	require.Equal(s.t, http.StatusOK, made.status, made.words())
	started := s.post(made.to + "/start")
	require.Equal(s.t, http.StatusSeeOther, started.status, started.words())
	rows, err := s.store.Household(1).OpenBurns(s.t.Context())
	require.NoError(s.t, err)
	return strings.TrimSuffix(started.to, "/live"), *rows[0].Plan
}

// doing is the form of "Done" as the page has it.
func doing(a answer) []string {
	form := between(a.body, `data-tap="y">`, "</form>")
	var out []string
	for _, m := range regexp.MustCompile(`name="([^"]+)"\s+value="([^"]*)"`).FindAllStringSubmatch(form, -1) {
		out = append(out, m[1], m[2])
	}
	return out
}

// Somebody who only ever taps "Done" has a complete log: everything that the plan does,
// each as an entry of its own.
func TestWhoOnlyTapsDone(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b, p := s.begun(coldEvening)
	for range 40 {
		page := s.get(b + "/live")
		if strings.Contains(page.body, "tap done now") && strings.Contains(page.body, "Now: ") {
			got := s.post(b+"/done", doing(page)...)
			require.Equal(t, b+"/live", got.to, got.words())
		} else if asked := between(page.body, `value="coals">yes`, "<"); asked != "" || strings.Contains(page.body, "Is it down to coals") {
			require.Equal(t, b+"/live", s.post(b+"/entries", "kind", "coals").to)
		}
		s.clock.at = s.clock.at.Add(4 * time.Minute)
	}
	full, err := s.store.Household(1).Burn(t.Context(), burnID(t, b))
	require.NoError(t, err)
	count := map[burn.Kind]int{}
	for _, e := range full.Valid() {
		if count[e.Kind]++; e.Kind == burn.ToCoals {
			continue
		}
		assert.NotEmpty(t, e.Tap, "%s belongs to its tap", e.Kind)
	}
	want := map[burn.Kind]int{}
	for _, step := range p.Steps {
		for _, a := range step.Fire.Do {
			switch a.Kind {
			case fire.ActLoad:
				want[burn.Load]++
			case fire.ActLight:
				want[burn.Light] = 1
			case fire.ActDoor:
				want[burn.Door]++
			}
		}
	}
	for kind, n := range want {
		assert.GreaterOrEqual(t, count[kind], n, kind)
	}
	assert.GreaterOrEqual(t, count[burn.Control], 2, "opened, and turned down")
	assert.Zero(t, count[burn.Black], "whoever taps has not said what was seen")
}

// One tap, sent twice, is kept once; undone together, put back alone; done differently,
// what was typed stays where it is refused.
func TestOneTap(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b, _ := s.begun(coldEvening)
	form := with(doing(s.get(b+"/live")), "id", "first")
	for range 2 {
		require.Equal(t, b+"/live", s.post(b+"/done", form...).to)
	}
	id := burnID(t, b)
	entries := func(counts bool) int {
		full, err := s.store.Household(1).Burn(t.Context(), id)
		require.NoError(t, err)
		n := 0
		for _, e := range full.Entries {
			if e.Struck != counts {
				n++
			}
		}
		return n
	}
	n := entries(true)
	require.GreaterOrEqual(t, n, 5)
	page := s.get(b + "/live")
	require.Contains(t, page.body, "/taps/first/undo", "undo means all of it")
	require.Equal(t, b+"/live", s.post(b+"/taps/first/undo").to)
	assert.Zero(t, entries(true))
	require.Equal(t, b+"/live", s.post(b+"/entries/first-0/put-back").to)
	assert.Equal(t, 1, entries(true), "each alone")
	assert.Equal(t, http.StatusNotFound, s.post(b+"/taps/nothing/undo").status)

	other := with(doing(s.get(b+"/live")), "id", "second")
	for i := 0; i+1 < len(other); i += 2 {
		if strings.HasPrefix(other[i], "p") && other[i+1] != "" {
			other[i+1] = "some"
		}
	}
	got := s.post(b+"/done", other...)
	assert.Equal(t, http.StatusUnprocessableEntity, got.status)
	assert.Contains(t, got.body, `value="some"`, "what was typed stays")
	assert.Equal(t, 1, entries(true), "all or none")
	other = with(doing(s.get(b+"/live")), "id", "third")
	for i := 0; i+1 < len(other); i += 2 {
		if strings.HasPrefix(other[i], "p") && other[i+1] != "" {
			other[i+1] = "1"
		}
		if strings.HasPrefix(other[i], "m") {
			other[i+1] = ""
		}
	}
	require.Equal(t, b+"/live", s.post(b+"/done", other...).to)
	full, err := s.store.Household(1).Burn(t.Context(), id)
	require.NoError(t, err)
	load, ok := full.Last(func(e burn.Entry) bool { return e.Load != nil && !e.Load.Kindling })
	require.True(t, ok)
	assert.Equal(t, 1, load.Load.Pieces, "as it was done")
	for name, form := range map[string][]string{"nothing": {"id", "x"}, "too much": {"n", "99"}, "an unknown kind": {"n", "1", "y0", "yes", "k0", "sing"}} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.post(b+"/done", form...).status, name)
	}
}

// Somebody who taps nothing is asked once what was done, when it was likely done.
func TestAskedOnceWhatWasDone(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b, _ := s.begun(coldEvening)
	require.Equal(t, b+"/live", s.post(b+"/done", with(doing(s.get(b+"/live")), "id", "first")...).to)
	assert.NotContains(t, s.get(b+"/live").body, "Not logged:")
	s.clock.at = s.clock.at.Add(50 * time.Minute)
	page := s.get(b + "/live")
	require.Contains(t, page.words(), "Not logged: shut the door", page.words()[:600])
	asked := between(page.body, `class="asked"`, "</div></div>")
	fixed := between(asked, `name="fixed"`, ">")
	id := between(fixed, `value="`, `"`)
	require.Equal(t, b+"/live", s.post(b+"/entries", "kind", "not-yet", "note", "Not done: shut the door", "fixed", id).to)
	assert.NotContains(t, s.get(b+"/live").body, "Not logged:", "once")
}

// What was known, foretold and advised at a minute: what was logged later is not counted.
func TestAsOfAMinute(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b, _ := s.begun(coldEvening)
	require.Equal(t, b+"/live", s.post(b+"/done", with(doing(s.get(b+"/live")), "id", "first")...).to)
	for i, reading := range []string{"120 C", "210 C", "560 C"} {
		s.clock.at = s.clock.at.Add(5 * time.Minute)
		require.Equal(t, b+"/live", s.post(b+"/entries", "kind", "temperature", "place", "connector-probe", "value", reading).to, i)
	}
	require.Contains(t, s.get(b+"/live").words(), "Too hot: the flue gas is at 560 °C")
	then := s.get(b + "/as-of?minute=11")
	require.Equal(t, http.StatusOK, then.status)
	assert.Contains(t, then.words(), "flue gas 210 °C")
	assert.Contains(t, then.words(), "Foretold:")
	assert.NotContains(t, then.words(), "560")
	assert.NotContains(t, then.words(), "Too hot:")
	for _, minute := range []string{"", "soon", "-5", "99999"} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.get(b+"/as-of?minute="+minute).status, minute)
	}
	assert.Contains(t, s.get(b).body, "data-as-of-of", "and along the strip")
}

// A token is made on the page of the stove, shown once, and revoked there.
func TestTokensOnThePage(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	got := s.post("/stoves/1/tokens", "name", "pipe", "may-readings", "yes")
	require.Equal(t, http.StatusOK, got.status)
	token := regexp.MustCompile(`smolder_\w+`).FindString(got.body)
	require.NotEmpty(t, token)
	assert.NotContains(t, s.get("/stoves/1").body, token, "once")
	p := program{site: s, token: token}
	assert.Equal(t, http.StatusOK, p.ask("POST", "/readings", "", `{"place": "top", "value": 210}`).status)
	page := s.get("/stoves/1")
	assert.Contains(t, page.words(), "may send readings")
	assert.Contains(t, page.words(), "last used")
	assert.Equal(t, http.StatusUnprocessableEntity, s.post("/stoves/1/tokens", "name", "pipe").status)
	assert.Equal(t, http.StatusUnprocessableEntity, s.post("/stoves/1/tokens", "name", "", "may-read", "yes").status)
	revoke := regexp.MustCompile(`/stoves/1/tokens/\d+/revoke`).FindString(page.body)
	require.Equal(t, "/stoves/1", s.post(revoke).to)
	assert.Equal(t, http.StatusUnauthorized, p.ask("POST", "/readings", "", `{"place": "top", "value": 210}`).status)
}

// What one hand logs, and what a thermometer reports, stands on every other device by
// itself.
func TestEveryDeviceShowsTheSame(t *testing.T) {
	s := newSite(t, true)
	p := newPerson(t, s, 390, 844)
	p.signIn()
	s.signIn()
	started := s.post("/stove", "stove", "1", "start", "good-coals", "room", "18", "outdoor", "4")
	require.Equal(t, http.StatusSeeOther, started.status)
	b := strings.TrimSuffix(started.to, "/live")
	p.open(b + "/live")
	p.waits(`document.querySelector("[data-live]").dataset.hears === "yes"`)
	require.Equal(t, b+"/live", s.post(b+"/entries", "kind", "control", "control", "lever", "value", "half").to)
	p.waits(`document.querySelector('[data-swap="control-lever"]').textContent.startsWith("a half")`)
	home := s.store.Household(1)
	_, err := home.AddReported(t.Context(), []store.Reported{{Stove: 1, Place: "connector-probe", At: s.clock.now().UTC(), Value: 187}})
	require.NoError(t, err)
	p.waits(`document.querySelector("[data-number]").textContent === "187°"`)
	p.sees("187°")
}

// The page at the stove reloads with the server gone; what is tapped then is kept, and
// sent once when the server is back.
func TestTheStoveWithoutAServer(t *testing.T) {
	s := newSite(t, true)
	s.clock.at = time.Time{}
	handler, err := web.New(siteOptions(s, true))
	require.NoError(t, err)
	go handler.Hub.Run(t.Context())
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	at := listener.Addr().String()
	server := &http.Server{Handler: handler, ReadHeaderTimeout: time.Minute}
	go func() { _ = server.Serve(listener) }()
	s.url = "http://" + at
	p := newPerson(t, s, 390, 844)
	p.signIn()
	s.newPerson()
	s.signIn()
	started := s.post("/stove", "stove", "1", "start", "good-coals", "room", "18", "outdoor", "4")
	require.Equal(t, http.StatusSeeOther, started.status, started.words())
	b := strings.TrimSuffix(started.to, "/live")
	p.open(b + "/live")
	p.waits(`navigator.serviceWorker.controller !== null`)
	p.open(b + "/live") // once more, by way of the worker
	p.waits(`(async () => (await caches.match(location.pathname)) !== undefined)()`)
	require.NoError(t, server.Close())

	p.open(b + "/live")
	p.sees("Auntie")
	p.sees("The server cannot be reached")
	p.click(`form[data-tap="a"] button`)
	p.waits(`Object.keys(localStorage).some((k) => k.startsWith("smolder-entry:"))`)
	p.open("/co-alarm")
	p.sees("Everybody out, now")
	p.open("/stove")
	p.sees("One entry is on this device and not in the log yet.")

	listener, err = net.Listen("tcp", at)
	require.NoError(t, err)
	again := &http.Server{Handler: handler, ReadHeaderTimeout: time.Minute}
	go func() { _ = again.Serve(listener) }()
	t.Cleanup(func() { _ = again.Close() })
	p.open(b + "/live")
	p.waits(`!Object.keys(localStorage).some((k) => k.startsWith("smolder-entry:"))`)
	full, err := s.store.Household(1).Burn(t.Context(), burnID(t, b))
	require.NoError(t, err)
	n := 0
	for _, e := range full.Valid() {
		if e.Kind == burn.Black {
			n++
		}
	}
	assert.Equal(t, 1, n, "stored once")
}

// A timer runs on the device, a piece is picked by tapping it, and a second tap of a
// gloved hand is not a second entry.
func TestByTheStove(t *testing.T) {
	s := newSite(t, true)
	p := newPerson(t, s, 390, 844)
	p.signIn()
	s.signIn()
	b, _ := s.begun(coldEvening)
	p.open(b + "/live")
	p.waits(`document.querySelector("[data-live]").getAttribute("aria-busy") !== "true"`)
	p.keys("m")
	p.click(`[data-minutes="5"]`)
	p.waits(`/^5 min (5:00|4:5\d)$/.test(document.querySelector("[data-own-timers]").textContent.trim())`)
	p.keys("l")
	p.click(`[data-pick-pieces] button:nth-child(4)`)
	p.waits(`document.querySelector("[data-pieces]").value === "4" && document.querySelectorAll("[data-pick-pieces] .taken").length === 4`)
	p.press("Escape")
	const doneSays = `(document.querySelector('form[data-tap="y"] small')?.textContent ?? "")`
	first, err := browsertest.Eval[string](p.Browser, `(() => {
		const n = Date.now(), b = document.querySelector('form[data-tap="y"] button'), says = b.textContent;
		Date.now = () => n; // both taps and what comes of them in one moment
		b.click(); b.click();
		return says; })()`)
	p.must(err)
	p.waits(`document.querySelector("[data-told]").textContent.startsWith("Logged: ")`)
	p.waits(doneSays + ` !== "" && !` + strconv.Quote(first) + `.includes(` + doneSays + `)`)
	said, err := browsertest.Eval[string](p.Browser,
		`(document.querySelector('form[data-tap="y"] button').click(), document.querySelector("[data-told]").textContent)`)
	p.must(err)
	assert.Contains(t, said, "Logged: ", "the next step stands there now, and is not done by the same hand in the same moment")
	// Another device does the next step while "differently" is open here.
	p.keys("f")
	p.waits(`document.querySelector('details[data-key="f"]').open`)
	next, err := browsertest.Eval[string](p.Browser, doneSays)
	p.must(err)
	require.Equal(t, b+"/live", s.post(b+"/done", append(doing(s.get(b+"/live")), "id", "elsewhere")...).to)
	p.waits(doneSays + ` !== ` + strconv.Quote(next))
	p.waits(`document.querySelector('details[data-key="f"]').open`)
	p.press("Escape")
	full, err := s.store.Household(1).Burn(t.Context(), burnID(t, b))
	require.NoError(t, err)
	lights := 0
	for _, e := range full.Valid() {
		if e.Kind == burn.Light {
			lights++
		}
	}
	assert.Equal(t, 1, lights)
	small, err := eval(p, `[...document.querySelectorAll(".live button, .live summary")]
		.filter((e) => e.offsetParent && !e.closest("details:not([open]) > :not(summary)") && e.getBoundingClientRect().height < 55.5)
		.map((e) => e.textContent.trim()).join(", ")`)
	p.must(err)
	assert.Empty(t, small, "targets for a glove")
}

// The simulated thermometers find the burn, follow its log, and are heard.
func TestTheSimulatedThermometers(t *testing.T) {
	s := newSite(t, true)
	p := s.program(store.ScopeReadings, store.ScopeRead, store.ScopeLog)
	started := s.clock.at.Add(-20 * time.Minute).Format(time.RFC3339)
	got := p.ask("POST", "/burns", "", fmt.Sprintf(`{"stove": 1, "started": %q, "start": "good-coals", "room_c": 17, "outdoor_c": 3}`, started))
	require.Equal(t, http.StatusCreated, got.status)
	id := int64(got.json(t)["id"].(float64))
	load := fmt.Sprintf(`{"at": %q, "kind": "load", "load": {"stack": 1, "pieces": 4}}`, started)
	require.Equal(t, http.StatusOK, p.ask("POST", fmt.Sprintf("/burns/%d/entries", id), "", load).status)
	require.Equal(t, http.StatusOK, p.ask("GET", fmt.Sprintf("/burns/%d", id), "", "").status)
	running, stop := context.WithCancel(t.Context())
	over := make(chan error, 1)
	go func() {
		over <- probe.Run(running, probe.Options{Server: s.url, Token: p.token, Stove: 1, Seed: 7, Speed: 600, Every: 20 * time.Second,
			Log: slog.New(slog.DiscardHandler), Now: s.clock.now})
	}()
	require.Eventually(t, func() bool {
		b, err := s.store.Household(1).Burn(t.Context(), id)
		return err == nil && b.ReadingsAt("connector-probe") > 25
	}, time.Minute, 100*time.Millisecond)
	stop()
	require.NoError(t, <-over)
	b, err := s.store.Household(1).Burn(t.Context(), id)
	require.NoError(t, err)
	hottest := 0.0
	for _, r := range b.Readings("connector-probe") {
		hottest = max(hottest, float64(r.Reading))
	}
	assert.Greater(t, hottest, 150.0, "its fire burns what was logged")
}

func eval(p *person, script string) (any, error) { return browsertest.Eval[any](p.Browser, script) }

func burnID(t *testing.T, path string) int64 {
	t.Helper()
	id, err := strconv.ParseInt(strings.TrimPrefix(path, "/burns/"), 10, 64)
	require.NoError(t, err)
	return id
}
