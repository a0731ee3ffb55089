package web_test

import (
	"bytes"
	"fmt"
	"net/http"
	"os"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/shed"
	"smolder/internal/browsertest"
	"smolder/internal/core/units"
	"smolder/internal/web/webtest"
)

// The whole slice, from an empty database, as somebody on a laptop does it.
func TestFromAnEmptyHouseholdToTheFirstBurn(t *testing.T) {
	s := webtest.New(t, false)
	p := webtest.Browse(t, s, 1280, 800)
	p.GoTo("/")
	code, err := s.Store.SetupCode(t.Context())
	p.Must(err)
	p.Types("code", code)
	p.Types("name", "Ro")
	p.Clicks("details.unfold summary")
	p.Types("household", "Tarn Mill")
	p.Types("password", "three dry splits\r")
	p.Arrives("/stoves/new")
	p.GoTo("/")
	p.Sees("Begin with the stove")

	p.Clicks(`main a[href="/stoves/new"]`)
	p.Arrives("/stoves/new")
	p.Clicks("details.unfold summary")
	form := webtest.Auntie()
	for i := 0; i < len(form); i += 2 {
		name, value := form[i], form[i+1]
		kind, err := browsertest.Eval[string](p.Browser, `document.querySelector('[name="`+name+`"]').type`)
		p.Must(err)
		switch kind {
		case "text":
			p.Types(name, value)
		case "checkbox":
			if on, _ := browsertest.Eval[bool](p.Browser, `document.querySelector('[name="`+name+`"]').checked`); !on {
				p.Clicks(`[name="` + name + `"]`)
			}
		default: // a choice, by the value behind its words
			_, err := browsertest.Eval[bool](p.Browser, `(document.querySelector('[name="`+name+`"]').value = "`+value+`", true)`)
			p.Must(err)
		}
	}
	p.Waits(`document.querySelector('[name="depth"]').closest("label").innerText.includes("= 381 mm")`) // says what it understood
	p.Hits("\r")
	p.Arrives("^/wood/new$")
	p.Sees("Now the wood that it burns")
	p.GoTo("/stoves/1")
	p.Sees("net draft at the stove")
	p.Waits(`document.querySelector("svg.column") !== null`)
	p.Types("outdoor", "-5 C\r")
	p.Waits(`location.search.includes("outdoor=-5") && document.querySelector("svg.column").getAttribute("aria-label").includes("Pa net")`)

	p.GoTo("/")
	p.Clicks(`a[href="/wood/new"]`)
	p.Arrives("/wood/new")
	p.Clicks("details.unfold summary")
	wood := webtest.Beech()
	for i := 0; i < len(wood); i += 2 {
		if wood[i] == "species" {
			p.Picks("species", "beech")
			continue
		}
		p.Types(wood[i], wood[i+1])
	}
	p.Hits("\r")
	p.Arrives("^/plan$")
	p.GoTo("/wood/1")
	p.Sees("moisture today, dry basis")
	p.Clicks(".figures summary") // every figure opens its working
	p.Sees("meters are made for about 20 °C")

	p.Clicks(`nav a[href="/plan"]`)
	p.Arrives("^/plan$")
	p.Types("for", "5 h")
	p.Types("room", "62F")
	p.Types("outdoor", "1 C")
	p.Clicks(`form.wish .btn`)
	p.Sees("What to do")
	p.Sees("What it comes to")
	p.Clicks(`form[action$="/start"] .btn`)
	p.Arrives(`^/burns/\d+/live$`)
	p.Sees("Now: Lay")

	p.LogsTheBurn()
	p.Clicks(`details[data-key="end"] summary`)
	p.Clicks(`form[action$="/end"] .btn`)
	p.Arrives(`^/burns/\d+$`)
	p.Clicks("details.fold summary")
	for _, says := range []string{"heat to the room", "energy in", "cold and smoky", "to the working band", "wood used", "Plan and fact"} {
		p.Sees(says)
	}
	p.Clicks(`nav a[href="/burns"]`)
	p.Sees("planned")
}

// From an empty database to the first plan in ten answers, with nothing but the
// keyboard and the link that the server printed; what was not told is taken, and
// said to be.
func TestTenAnswersToTheFirstPlan(t *testing.T) {
	s := webtest.New(t, false)
	p := webtest.Browse(t, s, 390, 844)
	answers := 0
	fill := func(name, text string) { t.Helper(); answers++; p.Types(name, text) }
	choose := func(name, text string) { t.Helper(); answers++; p.Picks(name, text) }
	code, err := s.Store.SetupCode(t.Context())
	p.Must(err)
	p.GoTo("/setup?code=" + code)
	fill("name", "Ro")
	fill("password", "three dry splits")
	p.Hits("\r")
	p.Arrives("^/stoves/new$")
	answers++
	p.Clicks(`input[name="family"][value="secondary-air"]`)
	fill("volume", "45 L")
	choose("control-1-scale", "lever, left to right")
	p.Waits(`document.querySelector(".form-beside svg .section:not(.untold)") !== null`)
	assert.NotContains(t, p.Beside(), "Pa", "nothing is computed of a chimney that nobody has told")
	fill("chimney-height", "7 m")
	choose("outside", "on an outside wall")
	p.Waits(`document.querySelector(".form-beside").innerText.includes("Pa") || document.querySelector(".form-beside svg").getAttribute("aria-label").includes("Pa net")`)
	p.Waits(`/not known: 150\smm taken; knowing it may change ± \d/.test(document.querySelector('[data-swap="taken-diameter"]').textContent)`)
	p.Clicks("form .btn")
	p.Arrives("^/wood/new$")
	p.Sees("Now the wood that it burns")
	choose("species", "beech")
	fill("lain", "2 years")
	p.Sees("four out of five between")
	p.Clicks("form .btn")
	p.Arrives("^/plan$")
	p.Sees("say how warm it is")
	fill("room", "17 C")
	p.Clicks("form.wish .btn")
	p.Sees("What to do")
	assert.LessOrEqual(t, answers, 10)
	p.Clicks(".plan-before details.fold summary")
	p.Sees("is worked out from how long it has lain")
	p.Sees("What it is outside was not said: 4 °C is taken")
	p.Clicks(`form[action$="/start"] .btn`)
	p.Arrives(`^/burns/\d+/live$`)

	// What was taken stays "not known", and a form sent back as it is changes nothing.
	h := s.Store.Household(webtest.HouseholdOf(t, s))
	st, err := h.Stove(ctx, 1)
	p.Must(err)
	stack, err := new(shed.Shed).Stack(ctx, h, 1, s.Clock.Now())
	p.Must(err)
	p.GoTo("/stoves/1/edit")
	p.Clicks("form .btn")
	p.Arrives("^/stoves/1$")
	p.GoTo("/wood/1/edit")
	p.Clicks("form .btn")
	p.Sees("Kept.")
	again, err := h.Stove(ctx, 1)
	p.Must(err)
	assert.Equal(t, st.Stove, again.Stove)
	twice, err := new(shed.Shed).Stack(ctx, h, 1, s.Clock.Now())
	p.Must(err)
	assert.InEpsilon(t, float64(stack.Mass), float64(twice.Mass), 1e-9)
	assert.InEpsilon(t, float64(stack.PieceMass), float64(twice.PieceMass), 1e-9)
	assert.Equal(t, stack.Assumed, twice.Assumed)
	assert.Equal(t, stack.Siting, twice.Siting)
	assert.Positive(t, stack.Spread)
	assert.Equal(t, []string{"width", "depth", "height", "max-load", "diameter", "lining", "bends", "horizontal", "altitude"}, st.Assumed)
}

// At the stove with a phone, and the network comes and goes: what is tapped is
// kept on the device and sent once.
func TestEntriesWaitForTheNetwork(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 390, 844)
	p.OnCoals()
	p.Must(p.Offline(true))
	p.Clicks(`details[data-key="s"] summary`)
	p.Clicks(`button[value="grey"]`)
	p.Told("kept on this device")
	p.Clicks(`details[data-key="d"] summary`)
	p.Clicks(`button[value="shut"]`)
	p.Told("2 kept on this device")
	p.Must(p.Offline(false))
	p.Told("Logged: Door shut")
	p.Waits(`document.querySelector('[data-swap="log"]').innerText.includes("2 entries")`)
	p.Waits(`Object.keys(localStorage).every(k => !k.startsWith("smolder-entry:"))`)
}

// Loom is catalytic: the bypass has a key of its own, its air is in turns.
func TestCatalyticStoveByKeys(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 1280, 800)
	p.SignsIn()
	p.GoTo("/stove")
	p.Picks("stove", "Loom")
	p.Picks("start", "cold")
	p.Clicks("form[action='/stove'] .btn")
	p.Arrives("/live$")
	p.Presses("b")
	p.Waits(`document.activeElement.dataset.steps`)
	p.Hits("open\r")
	p.Told("Bypass to open")
	p.Presses("1")
	p.Waits(`document.activeElement.dataset.steps`)
	p.Hits("2.5 turns\r")
	p.Told("Firebox air to 2.5 turns")
	p.Presses("2")
	p.Waits(`document.activeElement.dataset.steps`)
	p.Hits("9 turns\r")
	p.Told("beyond fully open")
	p.Hits(kb.Escape)
	p.Waits(`document.querySelectorAll("details.sheet[open]").length === 0`)
	p.Hits("w")
	p.Told("Flue warmed with burning paper")
	p.Hits("i")
	p.Told("Lit")
	p.Waits(`document.querySelector('form[data-tap="o"]') !== null`) // what one says of a fire that is lit
	p.Hits("k")
	p.Told("Coals raked to the air")
	p.Presses("?")
	p.Sees("1 to 9 a control, then arrows and Enter")
	p.Waits(`document.querySelector('[data-swap="strip"] svg.strip').textContent.includes("firebox air")`)
}

// The emergency pages open in one tap from a fire, and lead back to it.
func TestEmergencyFromThePhone(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 390, 844)
	p.SignsIn()
	p.GoTo("/stove")
	p.Clicks("form[action='/stove'] .btn")
	p.Arrives("/live$")
	p.Clicks(`header a[href="#co-alarm"]`)
	p.Waits(`document.querySelector("#co-alarm").checkVisibility() && !document.querySelector("#chimney-fire").checkVisibility()`)
	p.Sees("Leave the door open behind you")
	p.Clicks(`#co-alarm a[href="#main"]`)
	p.Waits(`!document.querySelector("#co-alarm").checkVisibility()`)
	p.Clicks(`header a[href="#chimney-fire"]`)
	p.Sees("Never water in the firebox")
	small, err := browsertest.Eval[[]string](p.Browser,
		`[...document.querySelectorAll(".sheet > summary, .tap, .foot a")].filter(e => e.checkVisibility() && e.getBoundingClientRect().height < 56).map(e => e.textContent.trim())`)
	p.Must(err)
	assert.Empty(t, small, "targets at the stove are at least 56 px high")
}

// A plan is made, read and started with the keyboard alone.
func TestPlanningByKeyboard(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 1280, 800)
	p.SignsIn()
	p.GoTo("/plan")
	p.TabTo(`[name="for"]`)
	p.Hits("6 h")
	p.TabTo(`[name="room"]`)
	p.Hits("17 C")
	p.TabTo(`[name="outdoor"]`) // the forecast of a summer afternoon asks for no fire
	p.Hits("1 C\r")
	p.Sees("What to do")
	p.TabTo(`.strip-box`)
	p.Hits(kb.ArrowRight + kb.ArrowRight)
	p.Waits(`/flue gas, planned \d+ °C/.test(document.querySelector(".readout").innerText)`)
	p.TabTo(`form[action$="/start"] .btn`)
	p.Hits("\r")
	p.Arrives(`/live$`)
}

// The page of a stove's behaviour answers every change by itself, and says what
// is wrong without losing it.
func TestHowAStoveBehaves(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 1280, 800)
	p.SignsIn()
	p.GoTo("/stoves/1")
	p.Clicks(`a[href="/stoves/1/behaves"]`)
	p.Sees("wood gone to coals after")
	before, err := browsertest.Eval[string](p.Browser, `document.querySelector('[data-swap="figures"]').innerText`)
	p.Must(err)
	p.Types("air", "half")
	p.Waits(`document.querySelector('[data-swap="figures"]').innerText !== ` + strconv.Quote(before))
	p.Waits(`location.search.includes("air=half")`)
	p.Picks("other-wood", "Spruce, mill yard")
	p.Waits(`document.querySelectorAll("svg.strip .pen.second").length > 0`)
	p.Types("pieces", "9")
	p.Sees("over the manual's largest load")
	p.Types("air", "sideways")
	p.Sees("is not a position of this control")
	still, err := browsertest.Eval[string](p.Browser, `document.querySelector('[name="air"]').value`)
	p.Must(err)
	assert.Equal(t, "sideways", still)
}

// The plan for the wall is one sheet of A4, whatever the plan.
func TestTheSheetIsOneSheet(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 1280, 800)
	p.SignsIn()
	s.SignIn()
	for _, sheet := range []string{"/plan?aim=hold&stove=1&for=6+h&start=cold&wood=1&wood2=2&kindling=6",
		"/plan?aim=overnight&stove=2&for=9+h&start=cold&wood=2&kindling=6",
		"/plan?aim=hold&stove=1&for=5+h&start=good-coals&wood=1", "/plan/day?aim=hold&stove=1&for=18+h&start=cold&wood=1&wood2=2&kindling=6"} {
		made := s.Wish(sheet + "&low=18&high=21.5&room=16.5&outdoor=-1")
		require.Equal(t, http.StatusOK, made.Status, made.Words())
		p.GoTo(made.To + "/sheet")
		pdf, err := p.PDF()
		p.Must(err)
		assert.Equal(t, 1, bytes.Count(pdf, []byte("/Type /Page\n"))+bytes.Count(pdf, []byte("/Type/Page\n"))+bytes.Count(pdf, []byte("/Type /Page\r")), sheet)
	}
}

// Every page, at both sizes: nothing that an accessibility checker calls
// serious, nothing wider than the screen, no label on another in any drawing.
func TestEveryPageOnLaptopAndPhone(t *testing.T) {
	axe, err := os.ReadFile("testdata/axe.min.js")
	require.NoError(t, err)
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 1280, 800)
	p.GoTo("/sign-in")
	p.Checks(string(axe), "/sign-in, before")
	p.SignsIn()
	p.GoTo("/stove")
	p.Picks("start", "good bed")
	p.Clicks("form[action='/stove'] .btn")
	p.Arrives("/live$")
	live, err := p.Path()
	p.Must(err)
	burn := firstPlannedBurn(p)
	s.SignIn()
	const asked = "/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=-1&start=cold&wood=1&kindling=6"
	planned, day := s.Wish(asked).To, s.Wish(webtest.TheDay).To
	s.SignIn()
	practised := s.Post("/practice", "lesson", "turn-down", "stove", "1").To
	over := s.Post("/practice", "lesson", "first-fire", "stove", "1").To
	s.Post(over+"/do", "pass", "36000")
	shared := regexp.MustCompile(`/shared/[A-Z2-7]+`).FindString(s.Post(burn+"/share", "days", "7").Body)
	require.NotEmpty(t, shared)
	pages := []string{"/", "/plan", asked, planned, planned + "/sheet", "/plan/day", day, day + "/sheet", "/spaces/1", "/spaces/new", live,
		"/stove?another=1", "/burns", burn, burn + "/otherwise", "/burns/compare?stove=1", "/season?to=2026-04-12", "/stoves/1/known", "/burns/import/readings",
		"/burns/over?b=140&b=141&b=142",
		"/wood", "/wood/1", "/wood/new", "/wood/so-far?name=new&species=oak&lain=14+months", "/wood/4", "/wood/4/edit",
		"/wood/winter", "/wood/next", "/wood/basket", "/wood/offer?species=ash&price=180&amount=1+cord&said=18&reading=28+31+26",
		"/wood/trip?stove=4&days=4&outdoor=2+C&wood=5", "/upkeep", "/upkeep?list=autumn", "/upkeep/first-fires/1", "/stoves", "/stoves/1",
		"/stoves/1/behaves?wood=1&other-wood=3", "/stoves/new", "/stoves/2/edit",
		"/household", "/household/people", "/calls", "/trouble", "/practice", practised, over, "/practice/settings?stove=1", "/practice/through?burn=150", "/practice/through?burn=150&at=1&said=nothing",
		"/shares", shared, shared + "/otherwise?e=drier:0.14", "/stoves/1/at-home", "/about", "/find?q=oak", "/words", "/co-alarm", "/burns/0"}
	// Every page is gone through in full on the laptop; on the phone those that are
	// another there, and of the others whether they fit.
	atStove := map[string]bool{"/": true, planned: true, live: true, burn: true, "/stoves/new": true, "/wood/new": true, "/wood": true,
		"/wood/basket": true, "/upkeep": true, "/wood/winter": true}
	for _, size := range [][2]int64{{1280, 800}, {390, 844}} {
		p.Must(p.Size(size[0], size[1]))
		for _, path := range pages {
			// A page that is still computed asks again by itself, in the middle of a look.
			p.Waits(fmt.Sprintf(`fetch(%q).then(r => !r.headers.has("Refresh"))`, path))
			p.GoTo(path)
			if size[0] > 1000 || atStove[path] {
				p.Checks(string(axe), fmt.Sprintf("%s at %d", path, size[0]))
			}
			// The letters of its drawings; the smallest telephone there is; and text
			// twice as large.
			if size[0] < 1000 {
				p.Legible(path + " at 390")
				p.Must(p.Size(320, 640))
				p.Fits(path + " at 320")
				p.Must(p.Size(size[0], size[1]))
			}
			_, err := browsertest.Eval[bool](p.Browser, `(document.documentElement.style.fontSize = "200%", true)`)
			p.Must(err)
			p.Fits(fmt.Sprintf("%s at %d, text at 200 %%", path, size[0]))
		}
		p.GoTo(live + "#chimney-fire")
		p.Sees("Never water in the firebox")
	}
}

func firstPlannedBurn(p *webtest.Person) string {
	p.T.Helper()
	p.GoTo("/burns")
	path, err := browsertest.Eval[string](p.Browser, `[...document.querySelectorAll("tbody tr")].find(r => r.textContent.includes("planned") && r.textContent.includes("Auntie")).querySelector("a").getAttribute("href")`)
	p.Must(err)
	return path
}

// Whoever waits for long work sees how far it is.
func TestADaysSearchSaysHowFarItIs(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 390, 844)
	p.SignsIn()
	p.GoTo("/plan/day")
	p.Types("begin", "tomorrow 07:00")
	p.Types("outdoor", "-4")
	p.Types("room", "16 C")
	oak, err := new(shed.Shed).Stack(ctx, s.Store.Household(1), 2, s.Clock.Now())
	p.Must(err)
	p.Picks("wood2", fmt.Sprintf("Oak, north stack, %s", units.Percent(oak.Moisture(), 0)))
	// A click comes back when the answer is there: what was shown until then is
	// noted by the page.
	p.Waits(`(new MutationObserver(() => sessionStorage.setItem("shown", (sessionStorage.getItem("shown") || "") + document.querySelector("form [role=status]").textContent + "; "))
		.observe(document.querySelector("form [role=status]"), { characterData: true, childList: true, subtree: true }), true)`)
	p.Clicks("form button.btn")
	p.Sees("light from cold")
	p.Waits(`/\d+ of \d+ so far/.test(sessionStorage.getItem("shown"))`)
	p.Waits(`!/so far/.test(document.body.innerText)`)
	p.Waits(`!/so far/.test(document.querySelector("form [role=status]").textContent)`)
}

// Two tabs at one stove, without a network for a while: every entry of both is
// sent, each once; one that the server refuses stays visible with its reason, can
// be changed and sent again or dropped, and holds up nothing; they are sent from
// every page; and those of another household wait for its sign-in.
func TestEntriesOfTwoTabs(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 1280, 800)
	p.OnCoals()
	live, err := p.Path()
	p.Must(err)
	tab, err := p.Tab()
	p.Must(err)
	t.Cleanup(tab.Close)
	other := &webtest.Person{Browser: tab, T: t, Site: s}
	other.GoTo(live)
	for _, person := range []*webtest.Person{p, other} {
		person.Must(person.Offline(true))
	}
	for i := range 4 {
		for j, person := range []*webtest.Person{p, other} {
			person.Waits(`(() => { const f = document.querySelector('form[data-entry]:has(input[value="note"])'); f.elements.note.value = "tab ` + strconv.Itoa(j) + ` entry ` + strconv.Itoa(i) + `"; f.requestSubmit(); return true; })()`)
		}
	}
	p.Waits(webtest.WhatWaits + ` === 8`)
	p.Waits(`document.querySelector("[data-waiting-log]").children.length === 8`) // shown in the log while they wait
	p.Sees("8 entries are on this device and not in the log yet")
	for _, person := range []*webtest.Person{p, other} {
		person.Must(person.Offline(false))
	}
	p.Waits(webtest.WhatWaits + ` === 0`)
	p.Waits(`document.querySelector('[data-swap="log"]').innerText.includes("8 entries")`)
	var kept, distinct int
	require.NoError(t, s.Store.DB().QueryRow(`SELECT count(*), count(DISTINCT doc->>'note') FROM entries WHERE doc->>'note' LIKE 'tab %'`).Scan(&kept, &distinct))
	assert.Equal(t, []int{8, 8}, []int{kept, distinct}, "each once")

	// Ended elsewhere, while this one is offline: the entry is not thrown away.
	p.Must(p.Offline(true))
	other.Clicks(`details[data-key="end"] summary`)
	other.Clicks(`form[action$="/end"] .btn`)
	other.Arrives(`^/burns/\d+$`)
	other.GoTo("/co-alarm") // which sends nothing
	p.Clicks(`details[data-key="s"] summary`)
	p.Clicks(`button[value="grey"]`)
	p.Waits(webtest.WhatWaits + ` === 1`)
	p.Must(p.Offline(false))
	p.GoTo("/wood") // and it is sent from here
	p.Waits(`document.querySelector("[data-waiting]").innerText.includes("smoke grey")`)
	p.Waits(`document.querySelector("[data-waiting] .wrong") !== null`)
	p.Waits(webtest.WhatWaits + ` === 1`)
	p.Waits(`(document.querySelector("[data-waiting] input[name=when]") || {}).placeholder === "when"`)
	p.Clicks(`[data-waiting] button[type=button]`) // dropped by hand
	p.Waits(webtest.WhatWaits + ` === 0`)

	// One that is answered with an error of the server holds up nothing behind it,
	// and one of another household stays where it is.
	p.Waits(`(() => {
		const entry = (id, to, household) => localStorage.setItem("smolder-entry:" + household + ":" + id, JSON.stringify({ to, made: Date.now(), fields: [["kind", "note"], ["note", id], ["id", id], ["at", new Date().toISOString()]] }));
		const here = document.body.dataset.household;
		entry("first-fails", "/burns/999999999999999999999999/entries", here);
		entry("not-ours", "` + strings.TrimSuffix(live, "/live") + `/entries", "4711");
		return true;
	})()`)
	p.GoTo("/stove")
	p.Clicks("form[action='/stove'] .btn")
	p.Arrives(`/live$`)
	p.Clicks(`details[data-key="s"] summary`)
	p.Clicks(`button[value="white"]`)
	p.Waits(`document.querySelector('[data-swap="log"]').textContent.includes("White vapour")`)
	p.Sees("1 of another household wait for its sign-in")
	p.Waits(`localStorage.getItem("smolder-entry:4711:not-ours") !== null`)
	require.NoError(t, s.Store.DB().QueryRow(`SELECT count(*) FROM entries WHERE id IN ('not-ours', 'first-fails')`).Scan(&kept))
	assert.Zero(t, kept)
}

// A page that cannot reach the server says so, and since when; and when it can
// again.
func TestAServerThatIsAway(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 390, 844)
	p.SignsIn()
	p.GoTo("/wood")
	p.Must(p.Offline(true))
	p.Waits(`(dispatchEvent(new Event("online")), !document.querySelector("[data-away]").hidden)`)
	p.Sees("The server cannot be reached since")
	p.Must(p.Offline(false))
	p.Waits(`(dispatchEvent(new Event("online")), document.querySelector("[data-away]").hidden)`)
}

// Times and days can be picked by the browser's own controls, and what is picked
// stands in the field as it would be typed; long lists are searched.
func TestTimesArePickedAndListsSearched(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 1280, 800)
	p.SignsIn()
	p.GoTo("/plan")
	pick := func(name, kind, value string) {
		t.Helper()
		p.Waits(`(() => { const box = document.querySelector('[name="` + name + `"]').nextElementSibling, native = box.querySelector('input[type="` + kind + `"]');
			native.value = "` + value + `"; native.dispatchEvent(new Event("change")); return native.value !== ""; })()`)
	}
	tomorrow := s.Clock.Now().UTC().AddDate(0, 0, 1).Format(time.DateOnly)
	pick("begin", "datetime-local", tomorrow+"T07:00")
	pick("for", "time", "13:00")
	p.Types("room", "16 C")
	p.Types("outdoor", "-1 C")
	p.Clicks("form.wish .btn")
	p.Sees("It begins")
	p.Sees("07:00")
	p.GoTo("/household")
	pick("alarms", "date", "2026-01-14")
	p.Clicks(`form[action="/household"] .btn`)
	p.Sees("Kept.")
	p.Waits(`document.querySelector('[name="alarms"]').value === "2026-01-14"`)

	p.GoTo("/wood/new")
	p.Must(p.Fill(".find", "poplar bal"))
	p.Waits(`document.querySelector('[name="species"]').value === "poplar"`)
	shown, err := browsertest.Eval[int](p.Browser, `[...document.querySelector('[name="species"]').options].filter(o => !o.hidden).length`)
	p.Must(err)
	assert.Equal(t, 1, shown)
}

// Tabs on the strip are moved by keys and by the pointer: the strip and what would have come
// of it follow, and the address keeps it.
func TestTabsAreMoved(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 1280, 800)
	p.SignsIn()
	s.SignIn()
	b := regexp.MustCompile(`href="(/burns/\d+)">[^<]*</a></td>\s*<td>Auntie`).FindStringSubmatch(s.Get("/burns?stove=1").Body)[1]
	p.GoTo(b)
	_, err := browsertest.Eval[bool](p.Browser, `(() => {
		const svg = document.querySelector(".strip-wide svg.strip"), box = svg.getBoundingClientRect();
		const at = (kind, x) => svg.dispatchEvent(new PointerEvent(kind, { bubbles: true, pointerType: "mouse", button: 0, clientX: box.x + x, clientY: box.y + 60 }));
		at("pointerdown", 300); at("pointerup", 500);
		return true; })()`)
	p.Must(err)
	p.Must(p.Wait(`/from=\d.*to=\d/.test(location.search)`))
	p.Sees("closer")
	p.GoTo(b + "/otherwise")
	const wide = `.strip-wide .hold[data-kind="control"]`
	p.Must(p.Wait(`document.querySelectorAll('` + wide + `').length > 1`))
	focus := `[...document.querySelectorAll('` + wide + `')].at(-1).focus()`
	_, err = browsertest.Eval[bool](p.Browser, "("+focus+", true)")
	p.Must(err)
	for range 2 {
		p.Presses("ArrowUp")
		p.Must(p.Wait(`document.querySelector('[data-otherwise]').getAttribute('aria-busy') === 'false'`))
	}
	p.Must(p.Wait(`location.search.includes("to%3A")`))
	p.Sees("as it was")
	p.Presses("PageDown")
	p.Must(p.Wait(`location.search.includes("later%3A") && document.querySelectorAll('.changes li').length === 2`))
	moved, err := browsertest.Eval[bool](p.Browser, `document.activeElement.matches('.hold.moved')`)
	p.Must(err)
	assert.True(t, moved, "the tab that was moved keeps the focus")
	p.Presses("Delete")
	p.Must(p.Wait(`document.querySelector('.strip-wide .hold.gone') !== null`))
	// by the pointer
	_, err = browsertest.Eval[bool](p.Browser, `(() => {
		const tab = document.querySelector('.strip-wide .hold[data-kind="load"]'), box = tab.getBoundingClientRect();
		const at = (kind, x) => tab.dispatchEvent(new PointerEvent(kind, { bubbles: true, cancelable: true, clientX: x, clientY: box.y + 5, pointerId: 1 }));
		at("pointerdown", box.x + 4); at("pointermove", box.x + 60); at("pointerup", box.x + 60);
		return true; })()`)
	p.Must(err)
	p.Must(p.Wait(`(location.search.match(/later/g) ?? []).length === 2`))
	p.Clicks(".changes a")
	p.Arrives("/otherwise$")
}

// By hand on a telephone: a meter is read into a stack, taken back, pieces are carried in,
// and a chore is done with a tap and undone; each is found where it is said to be.
func TestWoodAndUpkeepByHand(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 390, 844)
	p.SignsIn()
	p.GoTo("/wood/4")
	p.Types("reading", "22 24 23\r")
	p.Sees("Kept.")
	p.Sees("23 % mean of 3 pieces")
	p.Clicks(`form[action*="/readings/"] button`)
	p.Sees("put back")
	p.Types("amount", "2 x 1.2 m\r")
	p.Sees("Kept.")
	p.Sees("2 x 1.2 m")
	p.GoTo("/wood/basket")
	p.Types("carry-2", "9\r")
	p.Sees("pieces by the stove more")
	p.GoTo("/upkeep")
	p.Clicks(`.chore.grave summary`)
	p.Sees("Look for.")
	p.Clicks(`.chores .chore-done .btn`)
	p.Sees("It can be taken back below")
	p.Clicks(`form[action^="/upkeep/done/"] button`)
	p.Waits(`document.querySelector(".struck") !== null && !document.body.innerText.includes("It can be taken back below")`)
}

// Pages are as good in the dark, in high contrast and in a device's few colours: whoever wants it
// light has it light, wherever the device stands.
func TestColours(t *testing.T) {
	p := webtest.Browse(t, webtest.New(t, true), 1280, 800)
	p.SignsIn()
	axe, err := os.ReadFile("testdata/axe.min.js")
	require.NoError(t, err)
	ground := func() string {
		out, err := browsertest.Eval[string](p.Browser, `getComputedStyle(document.body).backgroundColor`)
		require.NoError(t, err)
		return out
	}
	const paper, night = "rgb(243, 238, 225)", "rgb(22, 18, 14)"
	p.GoTo("/")
	assert.Equal(t, paper, ground())
	require.NoError(t, p.Prefers("prefers-color-scheme", "dark"))
	for _, path := range []string{"/", "/plan", "/burns/1", "/wood", "/household", "/calls"} {
		p.GoTo(path)
		assert.Equal(t, night, ground(), path)
		p.Checks(string(axe), path+" in the dark")
	}
	require.NoError(t, p.Prefers("prefers-contrast", "more"))
	p.GoTo("/burns/1")
	p.Checks(string(axe), "a burn in high contrast")
	require.NoError(t, p.Prefers("forced-colors", "active"))
	p.GoTo("/burns/1")
	inks, err := browsertest.Eval[[]string](p.Browser, `(() => { const s = document.querySelector("svg.strip"); return [getComputedStyle(s).backgroundColor, getComputedStyle(s.querySelector(".pen")).stroke]; })()`)
	require.NoError(t, err)
	assert.Equal(t, []string{paper, "rgb(33, 29, 23)"}, inks, "a strip keeps its inks")
	require.NoError(t, p.Prefers("prefers-color-scheme", "dark"))
	p.GoTo("/household")
	p.Picks("colours", "light everywhere")
	p.Clicks(`form[action="/household/own"] button`)
	p.Waits(`document.body.classList.contains("light")`)
	assert.Equal(t, paper, ground(), "who wants it light has it light")
	require.NoError(t, p.Prefers("prefers-color-scheme", "light"))
	p.Picks("colours", "dark everywhere")
	p.Clicks(`form[action="/household/own"] button`)
	p.Waits(`document.body.classList.contains("fire")`)
	assert.Equal(t, night, ground())
}
