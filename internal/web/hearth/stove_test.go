package hearth_test

import (
	"context"
	"fmt"
	"log/slog"
	"math"
	"net"
	"net/http"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
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
	"smolder/internal/web/webtest"
)

// Somebody who only ever taps "Done" has a complete log: everything that the plan does,
// each as an entry of its own.
func TestWhoOnlyTapsDone(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b, p := s.Begun(webtest.ColdEvening)
	for range 40 {
		page := s.Get(b + "/live")
		if strings.Contains(page.Body, "tap done now") && strings.Contains(page.Body, "Now: ") {
			got := s.Post(b+"/done", webtest.Doing(page)...)
			require.Equal(t, b+"/live", got.To, got.Words())
		} else if asked := webtest.Between(page.Body, `value="coals">yes`, "<"); asked != "" || strings.Contains(page.Body, "Is it down to coals") {
			require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "coals").To)
		}
		s.Clock.At = s.Clock.At.Add(4 * time.Minute)
	}
	full, err := s.Store.Household(1).Burn(t.Context(), webtest.BurnID(t, b))
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

// A first fire that dies under its kindling: all air and the door ajar, and where that does not help,
// kindling and a second match, each by one tap. What the button says is what is logged, and nobody is
// told the same again while it is tried.
func TestWhatDidNotTakeIsLitAgain(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b, _ := s.Begun(webtest.ColdEvening)
	lights := func() (n int) {
		full, err := s.Store.Household(1).Burn(t.Context(), webtest.BurnID(t, b))
		require.NoError(t, err)
		for _, e := range full.Valid() {
			if e.Kind == burn.Light {
				n++
			}
		}
		return n
	}
	tap := func(page webtest.Answer) { require.Equal(t, b+"/live", s.Post(b+"/done", webtest.Doing(page)...).To) }
	for range 4 { // all that is done up to the match, and it
		if lights() == 0 {
			tap(s.Get(b + "/live"))
		}
	}
	require.Equal(t, 1, lights())
	words := ""
	for minute := 4; minute <= 44 && !strings.Contains(words, "light it again"); minute += 4 {
		s.Clock.At = s.Clock.At.Add(4 * time.Minute)
		require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "temperature", "place", "connector-probe", "value", fmt.Sprint(max(40, 110-3*minute))+" °C").To)
		page := s.Get(b + "/live")
		if words = page.Words(); strings.Contains(words, "has not caught") && webtest.Doing(page) != nil {
			tap(page)
		}
	}
	assert.Contains(t, words, "half an armful of kindling")
	assert.NotContains(t, words, "· cruising", "whatever is believed of it")
	assert.Equal(t, 2, lights(), "the second match is logged by its tap")
	s.Clock.At = s.Clock.At.Add(time.Minute)
	assert.NotContains(t, s.Get(b+"/live").Words(), "light it again", "it is being tried")
}

// One tap, sent twice, is kept once; undone together, put back alone; done differently,
// what was typed stays where it is refused.
func TestOneTap(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b, _ := s.Begun(webtest.ColdEvening)
	first := s.Get(b + "/live")
	assert.Contains(t, first.Words(), "· preparing", "nothing has gone out that nobody has lit")
	assert.Regexp(t, `and \d more`, first.Words(), "a long list is said by the step, and not on the button")
	form := webtest.Change(webtest.Doing(first), "id", "first")
	for range 2 {
		require.Equal(t, b+"/live", s.Post(b+"/done", form...).To)
	}
	id := webtest.BurnID(t, b)
	entries := func(counts bool) int {
		full, err := s.Store.Household(1).Burn(t.Context(), id)
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
	page := s.Get(b + "/live")
	require.Contains(t, page.Body, "/taps/first/undo", "undo means all of it")
	require.Equal(t, b+"/live", s.Post(b+"/taps/first/undo").To)
	assert.Zero(t, entries(true))
	require.Equal(t, b+"/live", s.Post(b+"/entries/first-0/put-back").To)
	assert.Equal(t, 1, entries(true), "each alone")
	assert.Equal(t, http.StatusNotFound, s.Post(b+"/taps/nothing/undo").Status)

	other := webtest.Change(webtest.Doing(s.Get(b+"/live")), "id", "second")
	for i := 0; i+1 < len(other); i += 2 {
		if strings.HasPrefix(other[i], "p") && other[i+1] != "" {
			other[i+1] = "some"
		}
	}
	got := s.Post(b+"/done", other...)
	assert.Equal(t, http.StatusUnprocessableEntity, got.Status)
	assert.Contains(t, got.Body, `value="some"`, "what was typed stays")
	assert.Equal(t, 1, entries(true), "all or none")
	other = webtest.Change(webtest.Doing(s.Get(b+"/live")), "id", "third")
	for i := 0; i+1 < len(other); i += 2 {
		if strings.HasPrefix(other[i], "p") && other[i+1] != "" {
			other[i+1] = "1"
		}
		if strings.HasPrefix(other[i], "m") {
			other[i+1] = ""
		}
	}
	require.Equal(t, b+"/live", s.Post(b+"/done", other...).To)
	full, err := s.Store.Household(1).Burn(t.Context(), id)
	require.NoError(t, err)
	load, ok := full.Last(func(e burn.Entry) bool { return e.Load != nil && !e.Load.Kindling })
	require.True(t, ok)
	assert.Equal(t, 1, load.Load.Pieces, "as it was done")
	for name, form := range map[string][]string{"nothing": {"id", "x"}, "too much": {"n", "99"}, "an unknown kind": {"n", "1", "y0", "yes", "k0", "sing"}} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.Post(b+"/done", form...).Status, name)
	}
}

// Somebody who taps nothing is asked once what was done, when it was likely done.
func TestAskedOnceWhatWasDone(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b, _ := s.Begun(webtest.ColdEvening)
	require.Equal(t, b+"/live", s.Post(b+"/done", webtest.Change(webtest.Doing(s.Get(b+"/live")), "id", "first")...).To)
	assert.NotContains(t, s.Get(b+"/live").Body, "Not logged:")
	s.Clock.At = s.Clock.At.Add(50 * time.Minute)
	page := s.Get(b + "/live")
	require.Contains(t, page.Words(), "Not logged: shut the door", page.Words()[:600])
	asked := webtest.Between(page.Body, `class="asked"`, "</div></div>")
	fixed := webtest.Between(asked, `name="fixed"`, ">")
	id := webtest.Between(fixed, `value="`, `"`)
	require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "not-yet", "note", "Not done: shut the door", "fixed", id).To)
	assert.NotContains(t, s.Get(b+"/live").Body, "Not logged:", "once")
}

// Who turns down in stages says so once, when the last is done: each stage is logged at its time, and
// undone with the others. Of stages that are not due yet nothing is said.
func TestStagesAreLoggedTogether(t *testing.T) {
	s, live := fiveOwners()["Fahrenheit, a catalyst, a chimney outside"].begins(t)
	b, home := strings.TrimSuffix(live, "/live"), s.Store.Household(webtest.HouseholdOf(t, s))
	rows, err := home.OpenBurns(ctx)
	require.NoError(t, err)
	id, p := rows[0].ID, *rows[0].Plan
	began, steps := s.Clock.At, p.Steps
	first := slices.IndexFunc(steps, func(step plan.Step) bool { return step.Kind == plan.TurnDown })
	require.Positive(t, first)
	last := first
	for last+1 < len(steps) && steps[last+1].Kind == plan.TurnDown {
		last++
	}
	require.Greater(t, last, first, "an evening that is turned down in stages")
	for _, step := range steps[:first] {
		s.Clock.At = began.Add(max(0, step.Expected))
		logsStep(t, s, b, p, step)
	}
	s.Clock.At = began.Add(steps[first].Expected + time.Minute)
	assert.NotContains(t, s.Get(b+"/live").Body, "Was all of it done")
	s.Clock.At = began.Add(steps[last].Expected + time.Minute)
	page := s.Get(b + "/live")
	require.Contains(t, page.Words(), "Was all of it done?")
	asked := webtest.Sent(webtest.Between(page.Body, `class="asked"`, "</form>"))
	count := func() (n int) {
		now, err := home.Burn(ctx, id)
		require.NoError(t, err)
		for _, step := range steps[first : last+1] {
			for _, e := range now.Entries {
				if !e.Undone && e.Kind == burn.Control && math.Abs(e.Opening-step.Fire.Do[0].Opening) < 0.03 && e.At.Sub(began.Add(step.Expected)).Abs() < 3*time.Minute {
					n++
				}
			}
		}
		return n
	}
	before := count()
	wrong := s.Post(b+"/done", webtest.Change(asked, "t0", "tomorrow noonish")...)
	assert.Equal(t, http.StatusUnprocessableEntity, wrong.Status, "a time that is none")
	require.Equal(t, before, count())
	require.Equal(t, b+"/live", s.Post(b+"/done", asked...).To)
	require.Equal(t, before+last-first+1, count(), "each at its time")
	assert.NotContains(t, s.Get(b+"/live").Body, "Was all of it done")
	undo := func() {
		require.Equal(t, b+"/live", s.Post(b+"/taps/"+asked[slices.Index(asked, "id")+1]+"/undo").To)
		require.Equal(t, before, count())
	}
	undo()

	// Two at the stove see the same step: one taps "Done" of the first stage, the other all of it.
	stood := steps[last].Fire.Do[0]
	twice := func(name string, tap func(done, all []string)) {
		page := s.Get(b + "/live")
		require.Contains(t, page.Words(), "Was all of it done?", "%s: undone, it is asked as before", name)
		asked = webtest.Sent(webtest.Between(page.Body, `class="asked"`, "</form>"))
		done := []string{"n", "1"} // as that button sends it: the first stage, without a time
		for i := 0; i < len(asked); i += 2 {
			if field := asked[i]; field == "id" || strings.HasSuffix(field, "0") && field != "t0" {
				done = append(done, field, asked[i+1])
			}
		}
		tap(done, asked)
		now, err := home.Burn(ctx, id)
		require.NoError(t, err)
		standing, ok := now.Last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == stood.Control })
		require.True(t, ok)
		assert.InDelta(t, stood.Opening, standing.Opening, 1e-6, "%s: it stands where the last stage left it", name)
		times := map[float64]int{}
		for _, e := range now.Entries {
			if e.Tap == asked[slices.Index(asked, "id")+1] && !e.Undone {
				times[e.Opening]++
			}
		}
		assert.Len(t, times, last-first+1, name)
		for opening, n := range times {
			assert.Equal(t, 1, n, "%s: to %.2f", name, opening)
		}
		undo()
	}
	sends := func(form []string) { assert.Equal(t, b+"/live", s.Post(b+"/done", form...).To) }
	twice("all of it, then done", func(done, all []string) { sends(all); sends(done) })
	twice("done, then all of it", func(done, all []string) { sends(done); sends(all) })
	twice("at once", func(done, all []string) {
		var both sync.WaitGroup
		both.Go(func() { sends(done) })
		both.Go(func() { sends(all) })
		both.Wait()
	})
}

// What was known, foretold and advised at a minute: what was logged later is not counted.
func TestAsOfAMinute(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b, _ := s.Begun(webtest.ColdEvening)
	require.Equal(t, b+"/live", s.Post(b+"/done", webtest.Change(webtest.Doing(s.Get(b+"/live")), "id", "first")...).To)
	for i, reading := range []string{"120 C", "210 C", "560 C"} {
		s.Clock.At = s.Clock.At.Add(5 * time.Minute)
		require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "temperature", "place", "connector-probe", "value", reading).To, i)
	}
	require.Contains(t, s.Get(b+"/live").Words(), "Too hot: the flue gas is at 560 °C")
	then := s.Get(b + "/as-of?minute=11")
	require.Equal(t, http.StatusOK, then.Status)
	assert.Contains(t, then.Words(), "flue gas 210 °C")
	assert.Contains(t, then.Words(), "Forecast:")
	assert.NotContains(t, then.Words(), "560")
	assert.NotContains(t, then.Words(), "Too hot:")
	for _, minute := range []string{"", "soon", "-5", "99999"} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.Get(b+"/as-of?minute="+minute).Status, minute)
	}
	assert.Contains(t, s.Get(b).Body, "data-as-of-of", "and along the strip")
}

// A token is made on the page of the stove, shown once, and revoked there.
func TestTokensOnThePage(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	got := s.Post("/stoves/1/tokens", "name", "pipe", "may-readings", "yes")
	require.Equal(t, http.StatusOK, got.Status)
	token := regexp.MustCompile(`smolder_\w+`).FindString(got.Body)
	require.NotEmpty(t, token)
	assert.NotContains(t, s.Get("/stoves/1").Body, token, "once")
	p := webtest.Program{Site: s, Token: token}
	assert.Equal(t, http.StatusOK, p.Ask("POST", "/readings", "", `{"place": "top", "value": 210}`).Status)
	page := s.Get("/stoves/1")
	assert.Contains(t, page.Words(), "may send readings")
	assert.Contains(t, page.Words(), "last used")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/stoves/1/tokens", "name", "pipe").Status)
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/stoves/1/tokens", "name", "", "may-read", "yes").Status)
	revoke := regexp.MustCompile(`/stoves/1/tokens/\d+/revoke`).FindString(page.Body)
	require.Equal(t, "/stoves/1", s.Post(revoke).To)
	assert.Equal(t, http.StatusUnauthorized, p.Ask("POST", "/readings", "", `{"place": "top", "value": 210}`).Status)
}

// What one hand logs, and what a thermometer reports, stands on every other device by
// itself.
func TestEveryDeviceShowsTheSame(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 390, 844)
	p.SignsIn()
	s.SignIn()
	started := s.Post("/stove", "stove", "1", "start", "good-coals", "room", "18", "outdoor", "4")
	require.Equal(t, http.StatusSeeOther, started.Status)
	b := strings.TrimSuffix(started.To, "/live")
	p.GoTo(b + "/live")
	p.Waits(`document.querySelector("[data-live]").dataset.hears === "yes"`)
	require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "control", "control", "lever", "value", "half").To)
	p.Waits(`document.querySelector('[data-swap="control-lever"]').textContent.startsWith("a half")`)
	home := s.Store.Household(1)
	_, err := home.AddReported(t.Context(), []store.Reported{{Stove: 1, Place: "connector-probe", At: s.Clock.Now().UTC(), Value: 187}})
	require.NoError(t, err)
	p.Waits(`document.querySelector("[data-number]").textContent === "187°"`)
	p.Sees("187°")
}

// The page at the stove reloads with the server gone; what is tapped then is kept, and
// sent once when the server is back.
func TestTheStoveWithoutAServer(t *testing.T) {
	s := webtest.New(t, true)
	s.Clock.At = time.Time{}
	handler, err := web.New(webtest.Options(s, true))
	require.NoError(t, err)
	go handler.Hub.Run(t.Context())
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	at := listener.Addr().String()
	server := &http.Server{Handler: handler, ReadHeaderTimeout: time.Minute}
	go func() { _ = server.Serve(listener) }()
	s.URL = "http://" + at
	p := webtest.Browse(t, s, 390, 844)
	p.SignsIn()
	s.NewPerson()
	s.SignIn()
	started := s.Post("/stove", "stove", "1", "start", "good-coals", "room", "18", "outdoor", "4")
	require.Equal(t, http.StatusSeeOther, started.Status, started.Words())
	b := strings.TrimSuffix(started.To, "/live")
	p.GoTo(b + "/live")
	p.Waits(`navigator.serviceWorker.controller !== null`)
	p.GoTo(b + "/live") // once more, by way of the worker
	p.Waits(`(async () => (await caches.match(location.pathname)) !== undefined)()`)
	p.GoTo("/") // what an installed application starts with
	p.Waits(`(async () => (await caches.match("/")) !== undefined)()`)
	require.NoError(t, server.Close())
	p.GoTo("/")
	p.Sees("Auntie")

	p.GoTo(b + "/live")
	p.Sees("Auntie")
	p.Sees("The server cannot be reached")
	p.Clicks(`form[data-tap="a"] button`)
	p.Waits(`Object.keys(localStorage).some((k) => k.startsWith("smolder-entry:"))`)
	p.GoTo("/co-alarm")
	p.Sees("Everybody out, now")
	p.GoTo("/stove")
	p.Sees("One entry is on this device and not in the log yet.")

	listener, err = net.Listen("tcp", at)
	require.NoError(t, err)
	again := &http.Server{Handler: handler, ReadHeaderTimeout: time.Minute}
	go func() { _ = again.Serve(listener) }()
	t.Cleanup(func() { _ = again.Close() })
	p.GoTo(b + "/live")
	p.Waits(`!Object.keys(localStorage).some((k) => k.startsWith("smolder-entry:"))`)
	full, err := s.Store.Household(1).Burn(t.Context(), webtest.BurnID(t, b))
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
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 390, 844)
	p.SignsIn()
	s.SignIn()
	b, _ := s.Begun(webtest.ColdEvening)
	p.GoTo(b + "/live")
	p.Waits(`document.querySelector("[data-live]").getAttribute("aria-busy") !== "true"`)
	p.Hits("m")
	p.Clicks(`[data-minutes="5"]`)
	p.Waits(`/^5 min (5:00|4:5\d)$/.test(document.querySelector("[data-own-timers]").textContent.trim())`)
	p.Hits("l")
	p.Clicks(`[data-pick-pieces] button:nth-child(4)`)
	p.Waits(`document.querySelector("[data-pieces]").value === "4" && document.querySelectorAll("[data-pick-pieces] .taken").length === 4`)
	p.Presses("Escape")
	const doneSays = `(document.querySelector('form[data-tap="y"] small')?.textContent ?? "")`
	first, err := browsertest.Eval[string](p.Browser, `(() => {
		const n = Date.now(), b = document.querySelector('form[data-tap="y"] button'), says = b.textContent;
		Date.now = () => n; // both taps and what comes of them in one moment
		b.click(); b.click();
		return says; })()`)
	p.Must(err)
	p.Waits(`document.querySelector("[data-told]").textContent.startsWith("Logged: ")`)
	p.Waits(doneSays + ` !== "" && !` + strconv.Quote(first) + `.includes(` + doneSays + `)`)
	said, err := browsertest.Eval[string](p.Browser,
		`(document.querySelector('form[data-tap="y"] button').click(), document.querySelector("[data-told]").textContent)`)
	p.Must(err)
	assert.Contains(t, said, "Logged: ", "the next step stands there now, and is not done by the same hand in the same moment")
	// Another device does the next step while "differently" is open here.
	p.Hits("f")
	p.Waits(`document.querySelector('details[data-key="f"]').open`)
	next, err := browsertest.Eval[string](p.Browser, doneSays)
	p.Must(err)
	require.Equal(t, b+"/live", s.Post(b+"/done", append(webtest.Doing(s.Get(b+"/live")), "id", "elsewhere")...).To)
	p.Waits(doneSays + ` !== ` + strconv.Quote(next))
	p.Waits(`document.querySelector('details[data-key="f"]').open`)
	p.Presses("Escape")
	full, err := s.Store.Household(1).Burn(t.Context(), webtest.BurnID(t, b))
	require.NoError(t, err)
	lights := 0
	for _, e := range full.Valid() {
		if e.Kind == burn.Light {
			lights++
		}
	}
	assert.Equal(t, 1, lights)
	small, err := webtest.Eval(p, `[...document.querySelectorAll(".live button, .live summary")]
		.filter((e) => e.offsetParent && !e.closest("details:not([open]) > :not(summary)") && e.getBoundingClientRect().height < 55.5)
		.map((e) => e.textContent.trim()).join(", ")`)
	p.Must(err)
	assert.Empty(t, small, "targets for a glove")
}

// The simulated thermometers find the burn, follow its log, and are heard.
func TestTheSimulatedThermometers(t *testing.T) {
	s := webtest.New(t, true)
	p := s.Program(store.ScopeReadings, store.ScopeRead, store.ScopeLog)
	started := s.Clock.At.Add(-20 * time.Minute).Format(time.RFC3339)
	got := p.Ask("POST", "/burns", "", fmt.Sprintf(`{"stove": 1, "started": %q, "start": "good-coals", "room_c": 17, "outdoor_c": 3}`, started))
	require.Equal(t, http.StatusCreated, got.Status)
	id := int64(got.JSON(t)["id"].(float64))
	load := fmt.Sprintf(`{"at": %q, "kind": "load", "load": {"stack": 1, "pieces": 4}}`, started)
	require.Equal(t, http.StatusOK, p.Ask("POST", fmt.Sprintf("/burns/%d/entries", id), "", load).Status)
	require.Equal(t, http.StatusOK, p.Ask("GET", fmt.Sprintf("/burns/%d", id), "", "").Status)
	running, stop := context.WithCancel(t.Context())
	over := make(chan error, 1)
	go func() {
		over <- probe.Run(running, probe.Options{Server: s.URL, Token: p.Token, Stove: 1, Seed: 7, Speed: 600, Every: 20 * time.Second,
			Log: slog.New(slog.DiscardHandler), Now: s.Clock.Now})
	}()
	require.Eventually(t, func() bool {
		b, err := s.Store.Household(1).Burn(t.Context(), id)
		return err == nil && b.ReadingsAt("connector-probe") > 25
	}, time.Minute, 100*time.Millisecond)
	stop()
	require.NoError(t, <-over)
	b, err := s.Store.Household(1).Burn(t.Context(), id)
	require.NoError(t, err)
	hottest := 0.0
	for _, r := range b.Readings("connector-probe") {
		hottest = max(hottest, float64(r.Reading))
	}
	assert.Greater(t, hottest, 150.0, "its fire burns what was logged")
}
