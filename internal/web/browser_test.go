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
	"smolder/internal/demo"
)

// A person is a browser whose every step must succeed.
type person struct {
	*browsertest.Browser
	t *testing.T
	s *site
}

func newPerson(t *testing.T, s *site, width, height int64) *person {
	t.Helper()
	if testing.Short() {
		t.Skip("browsers are left out of a short run")
	}
	b, err := browsertest.Start(s.url)
	require.NoError(t, err)
	t.Cleanup(b.Close)
	p := &person{b, t, s}
	s.clock.at = time.Time{}
	p.must(b.Clock(moved))
	p.must(b.Size(width, height))
	return p
}

func (p *person) must(err error) { p.t.Helper(); require.NoError(p.t, err) }

func (p *person) open(path string)       { p.t.Helper(); p.must(p.Open(path)) }
func (p *person) fill(name, text string) { p.t.Helper(); p.must(p.Fill(`[name="`+name+`"]`, text)) }
func (p *person) choose(name, text string) {
	p.t.Helper()
	p.must(p.Choose(`select[name="`+name+`"]`, text))
}
func (p *person) click(selector string) { p.t.Helper(); p.must(p.Click(selector)) }
func (p *person) keys(keys string)      { p.t.Helper(); p.must(p.Keys(keys)) }
func (p *person) press(key string)      { p.t.Helper(); p.must(p.Press(key)) }
func (p *person) sees(text string)      { p.t.Helper(); p.must(p.WaitText(text)) }
func (p *person) at(pattern string)     { p.t.Helper(); p.must(p.WaitPath(pattern)) }

// waits waits for a condition in the page.
func (p *person) waits(condition string) { p.t.Helper(); p.must(p.Wait(condition)) }

func (p *person) signIn() {
	p.t.Helper()
	p.open("/sign-in")
	p.fill("name", demo.User)
	p.fill("password", demo.Password+"\r")
	p.at("^/$")
}

// The whole slice, from an empty database, as somebody on a laptop does it.
func TestFromAnEmptyHouseholdToTheFirstBurn(t *testing.T) {
	s := newSite(t, false)
	p := newPerson(t, s, 1280, 800)
	p.open("/")
	code, err := s.store.SetupCode(t.Context())
	p.must(err)
	p.fill("code", code)
	p.fill("name", "Ro")
	p.click("details.unfold summary")
	p.fill("household", "Tarn Mill")
	p.fill("password", "three dry splits\r")
	p.at("/stoves/new")
	p.open("/")
	p.sees("Begin with the stove")

	p.click(`main a[href="/stoves/new"]`)
	p.at("/stoves/new")
	p.click("details.unfold summary")
	form := auntie()
	for i := 0; i < len(form); i += 2 {
		name, value := form[i], form[i+1]
		kind, err := browsertest.Eval[string](p.Browser, `document.querySelector('[name="`+name+`"]').type`)
		p.must(err)
		switch kind {
		case "text":
			p.fill(name, value)
		case "checkbox":
			if on, _ := browsertest.Eval[bool](p.Browser, `document.querySelector('[name="`+name+`"]').checked`); !on {
				p.click(`[name="` + name + `"]`)
			}
		default: // a choice, by the value behind its words
			_, err := browsertest.Eval[bool](p.Browser, `(document.querySelector('[name="`+name+`"]').value = "`+value+`", true)`)
			p.must(err)
		}
	}
	p.waits(`document.querySelector('[name="depth"]').closest("label").innerText.includes("= 381 mm")`) // says what it understood
	p.keys("\r")
	p.at("^/wood/new$")
	p.sees("Now the wood that it burns")
	p.open("/stoves/1")
	p.sees("net draft at the stove")
	p.waits(`document.querySelector("svg.column") !== null`)
	p.fill("outdoor", "-5 C\r")
	p.waits(`location.search.includes("outdoor=-5") && document.querySelector("svg.column").getAttribute("aria-label").includes("Pa net")`)

	p.open("/")
	p.click(`a[href="/wood/new"]`)
	p.at("/wood/new")
	p.click("details.unfold summary")
	wood := beech()
	for i := 0; i < len(wood); i += 2 {
		if wood[i] == "species" {
			p.choose("species", "beech")
			continue
		}
		p.fill(wood[i], wood[i+1])
	}
	p.keys("\r")
	p.at("^/plan$")
	p.open("/wood/1")
	p.sees("moisture today, dry basis")
	p.click(".figures summary") // every figure opens its working
	p.sees("meters are made for about 20 °C")

	p.click(`nav a[href="/plan"]`)
	p.at("^/plan$")
	p.fill("for", "5 h")
	p.fill("room", "62F")
	p.fill("outdoor", "1 C")
	p.click(`form.wish .btn`)
	p.sees("What to do, and on what sign")
	p.sees("What it comes to")
	p.click(`form[action$="/start"] .btn`)
	p.at(`^/burns/\d+/live$`)
	p.sees("Now: Lay")

	p.logsTheBurn()
	p.click(`details[data-key="end"] summary`)
	p.click(`form[action$="/end"] .btn`)
	p.at(`^/burns/\d+$`)
	for _, says := range []string{"heat to the room", "energy in", "cold and smoky", "to the working band", "wood used", "Planned:"} {
		p.sees(says)
	}
	p.click(`nav a[href="/burns"]`)
	p.sees("planned")
}

// From an empty database to the first plan in ten answers, with nothing but the
// keyboard and the link that the server printed; what was not told is taken, and
// said to be.
func TestTenAnswersToTheFirstPlan(t *testing.T) {
	s := newSite(t, false)
	p := newPerson(t, s, 390, 844)
	answers := 0
	fill := func(name, text string) { t.Helper(); answers++; p.fill(name, text) }
	choose := func(name, text string) { t.Helper(); answers++; p.choose(name, text) }
	code, err := s.store.SetupCode(t.Context())
	p.must(err)
	p.open("/setup?code=" + code)
	fill("name", "Ro")
	fill("password", "three dry splits")
	p.keys("\r")
	p.at("^/stoves/new$")
	choose("family", "secondary air")
	fill("volume", "45 L")
	choose("control-1-scale", "lever, left to right")
	p.waits(`document.querySelector(".form-beside svg .section:not(.untold)") !== null`)
	assert.NotContains(t, p.beside(), "Pa", "nothing is computed of a chimney that nobody has told")
	fill("chimney-height", "7 m")
	choose("outside", "on an outside wall")
	p.waits(`document.querySelector(".form-beside").innerText.includes("Pa") || document.querySelector(".form-beside svg").getAttribute("aria-label").includes("Pa net")`)
	p.waits(`/not known: 150 mm taken; knowing it may change ± \d/.test(document.querySelector('[data-swap="taken-diameter"]').textContent)`)
	p.click("form .btn")
	p.at("^/wood/new$")
	p.sees("Now the wood that it burns")
	choose("species", "beech")
	fill("lain", "2 years")
	p.sees("four out of five between")
	p.click("form .btn")
	p.at("^/plan$")
	p.sees("say how warm it is")
	fill("room", "17 C")
	p.click("form.wish .btn")
	p.sees("What to do, and on what sign")
	assert.LessOrEqual(t, answers, 10)
	p.sees("is reckoned from how long it has lain")
	p.sees("What it is outside was not said: 4 °C is taken")
	p.click(`form[action$="/start"] .btn`)
	p.at(`^/burns/\d+/live$`)

	// What was taken stays "not known", and a form sent back as it is changes nothing.
	h := s.store.Household(householdOf(t, s))
	st, err := h.Stove(ctx, 1)
	p.must(err)
	stack, err := new(shed.Shed).Stack(ctx, h, 1, s.clock.now())
	p.must(err)
	p.open("/stoves/1/edit")
	p.click("form .btn")
	p.at("^/stoves/1$")
	p.open("/wood/1/edit")
	p.click("form .btn")
	p.sees("Kept.")
	again, err := h.Stove(ctx, 1)
	p.must(err)
	assert.Equal(t, st.Stove, again.Stove)
	twice, err := new(shed.Shed).Stack(ctx, h, 1, s.clock.now())
	p.must(err)
	assert.InEpsilon(t, float64(stack.Mass), float64(twice.Mass), 1e-9)
	assert.InEpsilon(t, float64(stack.PieceMass), float64(twice.PieceMass), 1e-9)
	assert.Equal(t, stack.Assumed, twice.Assumed)
	assert.Equal(t, stack.Told, twice.Told)
	assert.Positive(t, stack.Spread)
	assert.Equal(t, []string{"width", "depth", "height", "max-load", "diameter", "lining", "bends", "horizontal", "altitude"}, st.Assumed)
}

// beside is the text of the drawing beside a form.
func (p *person) beside() string {
	p.t.Helper()
	text, err := browsertest.Eval[string](p.Browser, `document.querySelector(".form-beside").textContent`)
	p.must(err)
	return text
}

// told waits for what the page says of the last entry.
func (p *person) told(text string) {
	p.t.Helper()
	// And until the page has taken what came of it: nothing moves under a click.
	p.waits(`document.querySelector("[data-told]").innerText.includes("` + text + `") && !document.querySelector('[aria-busy="true"]')`)
}

// logsTheBurn tends the fire by keys, by taps and with slips.
func (p *person) logsTheBurn() {
	p.t.Helper()
	p.press("1") // the lever, then down its steps by arrows
	p.waits(`document.activeElement.name === "value"`)
	p.keys(kb.ArrowDown + kb.ArrowDown + kb.ArrowDown + "\r")
	p.told("Lever to a half")
	p.press("u")
	p.sees("Undone: Lever to a half")
	p.click(`details[data-key="1"] summary`)
	p.click(`details[data-key="1"] button[value="fully right"]`)
	p.told("Lever to fully right")

	p.press("l")
	p.fill("pieces", "99")
	p.keys("\r")
	p.told("does not go into a firebox")
	p.must(p.Fill(`details[data-key="l"] [name="pieces"]`, "3"))
	p.keys("\r")
	p.told("Load: 3 × 1.3 kg of Beech")

	p.click(`form.contents:has(input[value="light"]) button`)
	p.told("Lit")
	p.press("d")
	p.click(`details[data-key="d"] button[value="ajar"]`)
	p.told("Door ajar")
	p.press("t")
	p.waits(`document.activeElement.name === "value"`)
	p.keys("hot\r")
	p.told("is not a temperature")
	p.waits(`document.querySelector("[data-waiting]").innerText.includes("is not a temperature")`)
	p.must(p.Fill(`details[data-key="t"] [name="value"]`, "446F\r"))
	p.told("Flue gas 230 °C")
	p.sees("230°")
	p.press("s")
	p.click(`button[value="white"]`)
	p.told("White vapour at the cap")
	p.press("r")
	p.waits(`document.activeElement.name === "value"`)
	p.keys("0.06 inwc\r")
	p.told("Draft 15 Pa")
	p.press("n")
	p.waits(`document.activeElement.name === "note"`)
	p.keys("A quiet start.")
	p.click(`details[data-key="n"] .btn`)
	p.told("A quiet start.")
	p.waits(`document.querySelectorAll("svg.strip .mark").length > 0`)

	// What was refused and put right in its sheet waits no more.
	p.waits(whatWaits + ` === 0`)

	// A wrong reading is corrected in the log.
	p.click(`[data-swap="log"] summary`)
	p.waits(`[...document.querySelectorAll('[data-swap="log"] li')].some(l => l.textContent.includes("Flue gas 230") && (l.querySelector("a").dataset.pick = "yes"))`)
	p.click(`[data-pick]`)
	p.sees("Correct an entry")
	p.fill("value", "235 C\r")
	p.sees("Corrected: Flue gas 235 °C")
}

// At the stove with a phone, and the network comes and goes: what is tapped is
// kept on the device and sent once.
func TestEntriesWaitForTheNetwork(t *testing.T) {
	s := newSite(t, true)
	p := newPerson(t, s, 390, 844)
	p.onCoals()
	p.must(p.Offline(true))
	p.click(`details[data-key="s"] summary`)
	p.click(`button[value="grey"]`)
	p.told("kept on this device")
	p.click(`details[data-key="d"] summary`)
	p.click(`button[value="shut"]`)
	p.told("2 kept on this device")
	p.must(p.Offline(false))
	p.told("Logged: Door shut")
	p.waits(`document.querySelector('[data-swap="log"]').innerText.includes("2 entries")`)
	p.waits(`Object.keys(localStorage).every(k => !k.startsWith("smolder-entry:"))`)
}

// Loom is catalytic: the bypass has a key of its own, its air is in turns.
func TestCatalyticStoveByKeys(t *testing.T) {
	s := newSite(t, true)
	p := newPerson(t, s, 1280, 800)
	p.signIn()
	p.open("/stove")
	p.choose("stove", "Loom")
	p.choose("start", "cold")
	p.click("form[action='/stove'] .btn")
	p.at("/live$")
	p.press("b")
	p.waits(`document.activeElement.dataset.steps`)
	p.keys("open\r")
	p.told("Bypass to open")
	p.press("1")
	p.waits(`document.activeElement.dataset.steps`)
	p.keys("2.5 turns\r")
	p.told("Firebox air to 2.5 turns")
	p.press("2")
	p.waits(`document.activeElement.dataset.steps`)
	p.keys("9 turns\r")
	p.told("beyond fully open")
	p.keys(kb.Escape)
	p.waits(`document.querySelectorAll("details.sheet[open]").length === 0`)
	p.keys("w")
	p.told("Flue warmed with burning paper")
	p.keys("i")
	p.told("Lit")
	p.waits(`document.querySelector('form[data-tap="o"]') !== null`) // what one says of a fire that is lit
	p.keys("k")
	p.told("Coals raked to the air")
	p.press("?")
	p.sees("1 to 9 a control, then arrows and Enter")
	p.waits(`document.querySelector('[data-swap="strip"] svg.strip').textContent.includes("firebox air")`)
}

// The emergency pages open in one tap from a fire, and lead back to it.
func TestEmergencyFromThePhone(t *testing.T) {
	s := newSite(t, true)
	p := newPerson(t, s, 390, 844)
	p.signIn()
	p.open("/stove")
	p.click("form[action='/stove'] .btn")
	p.at("/live$")
	p.click(`header a[href="#co-alarm"]`)
	p.waits(`document.querySelector("#co-alarm").checkVisibility() && !document.querySelector("#chimney-fire").checkVisibility()`)
	p.sees("Leave the door open behind you")
	p.click(`#co-alarm a[href="#main"]`)
	p.waits(`!document.querySelector("#co-alarm").checkVisibility()`)
	p.click(`header a[href="#chimney-fire"]`)
	p.sees("Never water in the firebox")
	small, err := browsertest.Eval[[]string](p.Browser,
		`[...document.querySelectorAll(".sheet > summary, .tap, .foot a")].filter(e => e.checkVisibility() && e.getBoundingClientRect().height < 56).map(e => e.textContent.trim())`)
	p.must(err)
	assert.Empty(t, small, "targets at the stove are at least 56 px high")
}

// A plan is made, read and started with the keyboard alone.
func TestPlanningByKeyboard(t *testing.T) {
	s := newSite(t, true)
	p := newPerson(t, s, 1280, 800)
	p.signIn()
	p.open("/plan")
	p.tabTo(`[name="for"]`)
	p.keys("6 h")
	p.tabTo(`[name="room"]`)
	p.keys("17 C")
	p.tabTo(`[name="outdoor"]`) // the forecast of a summer afternoon asks for no fire
	p.keys("1 C\r")
	p.sees("What to do, and on what sign")
	p.tabTo(`.strip-box`)
	p.keys(kb.ArrowRight + kb.ArrowRight)
	p.waits(`/flue gas, planned \d+ °C/.test(document.querySelector(".readout").innerText)`)
	p.tabTo(`form[action$="/start"] .btn`)
	p.keys("\r")
	p.at(`/live$`)
}

// The page of a stove's behaviour answers every change by itself, and says what
// is wrong without losing it.
func TestHowAStoveBehaves(t *testing.T) {
	s := newSite(t, true)
	p := newPerson(t, s, 1280, 800)
	p.signIn()
	p.open("/stoves/1")
	p.click(`a[href="/stoves/1/behaves"]`)
	p.sees("wood gone to coals after")
	before, err := browsertest.Eval[string](p.Browser, `document.querySelector('[data-swap="figures"]').innerText`)
	p.must(err)
	p.fill("air", "half")
	p.waits(`document.querySelector('[data-swap="figures"]').innerText !== ` + strconv.Quote(before))
	p.waits(`location.search.includes("air=half")`)
	p.choose("other-wood", "Spruce, mill yard")
	p.waits(`document.querySelectorAll("svg.strip .pen.second").length > 0`)
	p.fill("pieces", "9")
	p.sees("over the manual's largest load")
	p.fill("air", "sideways")
	p.sees("is not a position of this control")
	still, err := browsertest.Eval[string](p.Browser, `document.querySelector('[name="air"]').value`)
	p.must(err)
	assert.Equal(t, "sideways", still)
}

// The plan for the wall is one sheet of A4, whatever the plan.
func TestTheSheetIsOneSheet(t *testing.T) {
	s := newSite(t, true)
	p := newPerson(t, s, 1280, 800)
	p.signIn()
	s.signIn()
	for _, sheet := range []string{"/plan?aim=hold&stove=1&for=6+h&start=cold&wood=1&wood2=2&kindling=6",
		"/plan?aim=overnight&stove=2&for=9+h&start=cold&wood=2&kindling=6",
		"/plan?aim=hold&stove=1&for=5+h&start=good-coals&wood=1", "/plan/day?aim=hold&stove=1&for=18+h&start=cold&wood=1&wood2=2&kindling=6"} {
		made := s.wish(sheet + "&low=18&high=21.5&room=16.5&outdoor=-1")
		require.Equal(t, http.StatusOK, made.status, made.words())
		p.open(made.to + "/sheet")
		pdf, err := p.PDF()
		p.must(err)
		assert.Equal(t, 1, bytes.Count(pdf, []byte("/Type /Page\n"))+bytes.Count(pdf, []byte("/Type/Page\n"))+bytes.Count(pdf, []byte("/Type /Page\r")), sheet)
	}
}

// tabTo presses Tab until an element has the focus.
func (p *person) tabTo(selector string) {
	p.t.Helper()
	for range 80 {
		if on, err := browsertest.Eval[bool](p.Browser, `document.activeElement.matches('`+selector+`')`); err == nil && on {
			return
		}
		p.keys("\t")
	}
	p.t.Fatalf("no way by keyboard to %s", selector)
}

// Every page, at both sizes: nothing that an accessibility checker calls
// serious, nothing wider than the screen, no label on another in any drawing.
func TestEveryPageOnLaptopAndPhone(t *testing.T) {
	axe, err := os.ReadFile("testdata/axe.min.js")
	require.NoError(t, err)
	s := newSite(t, true)
	p := newPerson(t, s, 1280, 800)
	p.open("/sign-in")
	p.checks(string(axe), "/sign-in, before")
	p.signIn()
	p.open("/stove")
	p.choose("start", "good bed")
	p.click("form[action='/stove'] .btn")
	p.at("/live$")
	live, err := p.Path()
	p.must(err)
	burn := firstPlannedBurn(p)
	s.signIn()
	const asked = "/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=-1&start=cold&wood=1&kindling=6"
	planned, day := s.wish(asked).to, s.wish(theDay).to
	s.signIn()
	pages := []string{"/", "/plan", asked, planned, planned + "/sheet", "/plan/day", day, day + "/sheet", "/spaces/1", "/spaces/new", live,
		"/stove?another=1", "/burns", burn, burn + "/otherwise", "/burns/compare?stove=1", "/season?to=2026-04-12", "/stoves/1/known", "/burns/import/readings",
		"/burns/over?b=140&b=141&b=142",
		"/wood", "/wood/1", "/wood/new", "/wood/so-far?name=new&species=oak&lain=14+months", "/wood/4", "/wood/4/edit",
		"/wood/winter", "/wood/next", "/wood/basket", "/wood/offer?species=ash&price=180&amount=1+cord&said=18&reading=28+31+26",
		"/wood/trip?stove=4&days=4&outdoor=2+C&wood=5", "/upkeep", "/upkeep?list=autumn", "/upkeep/first-fires/1", "/stoves", "/stoves/1",
		"/stoves/1/behaves?wood=1&other-wood=3", "/stoves/new", "/stoves/2/edit",
		"/household", "/about", "/co-alarm", "/burns/0"}
	// Every page is gone through in full on the laptop; on the phone those that are
	// another there, and of the others whether they fit.
	atStove := map[string]bool{"/": true, planned: true, live: true, burn: true, "/stoves/new": true, "/wood/new": true, "/wood": true,
		"/wood/basket": true, "/upkeep": true, "/wood/winter": true}
	for _, size := range [][2]int64{{1280, 800}, {390, 844}} {
		p.must(p.Size(size[0], size[1]))
		for _, path := range pages {
			p.open(path)
			if size[0] > 1000 || atStove[path] {
				p.checks(string(axe), fmt.Sprintf("%s at %d", path, size[0]))
			}
			// The letters of its drawings; the smallest telephone there is; and text
			// twice as large.
			if size[0] < 1000 {
				p.legible(path + " at 390")
				p.must(p.Size(320, 640))
				p.fits(path + " at 320")
				p.must(p.Size(size[0], size[1]))
			}
			_, err := browsertest.Eval[bool](p.Browser, `(document.documentElement.style.fontSize = "200%", true)`)
			p.must(err)
			p.fits(fmt.Sprintf("%s at %d, text at 200 %%", path, size[0]))
		}
		p.open(live + "#chimney-fire")
		p.sees("Never water in the firebox")
	}
}

func firstPlannedBurn(p *person) string {
	p.t.Helper()
	p.open("/burns")
	path, err := browsertest.Eval[string](p.Browser, `[...document.querySelectorAll("tbody tr")].find(r => r.textContent.includes("planned") && r.textContent.includes("Auntie")).querySelector("a").getAttribute("href")`)
	p.must(err)
	return path
}

// overlaps finds labels of drawings that touch each other, by the boxes the
// browser really gives them.
const overlaps = `[...document.querySelectorAll("svg.strip, svg.column, svg.lay")].filter(g => g.getBoundingClientRect().width > 0).flatMap(g => {
	const t = [...g.querySelectorAll("text")].filter(e => e.textContent).map(e => ({ s: e.textContent, r: e.getBoundingClientRect() }));
	const out = [];
	for (let i = 0; i < t.length; i++) for (let j = i + 1; j < t.length; j++) {
		const a = t[i].r, b = t[j].r, w = Math.min(a.right, b.right) - Math.max(a.left, b.left), h = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
		if (w > 1.5 && h > 5) out.push(t[i].s + " on " + t[j].s);
	}
	return out;
})`

// small finds text of drawings that is under 12 px as it comes to the eye.
const small = `[...document.querySelectorAll("svg.strip, svg.column, svg.lay")].filter(g => g.getBoundingClientRect().width > 0).flatMap(g => {
	const scale = g.getBoundingClientRect().width / g.viewBox.baseVal.width;
	return [...g.querySelectorAll("text")].filter(e => e.textContent && parseFloat(getComputedStyle(e).fontSize) * scale < 11.8).map(e => e.textContent + " " + (parseFloat(getComputedStyle(e).fontSize) * scale).toFixed(1));
})`

// fits checks that nothing is wider than the screen.
func (p *person) fits(where string) {
	p.t.Helper()
	wide, err := browsertest.Eval[float64](p.Browser, `document.documentElement.scrollWidth - document.documentElement.clientWidth`)
	p.must(err)
	assert.LessOrEqual(p.t, wide, 0.0, "%s: wider than the screen: %s", where, p.widest())
}

// widest names what sticks out of the screen.
func (p *person) widest() []string {
	p.t.Helper()
	found, err := browsertest.Eval[[]string](p.Browser, `[...document.body.querySelectorAll("*")].filter(e => e.getBoundingClientRect().right > document.documentElement.clientWidth + 1 &&
		!e.closest(".overflow-x-auto") && getComputedStyle(e).position !== "absolute").slice(0, 4).map(e => e.tagName + "." + (e.getAttribute("class") ?? "") + " " + e.textContent.trim().slice(0, 30))`)
	p.must(err)
	return found
}

// legible checks that no letter of a drawing is too small, and none on another.
func (p *person) legible(where string) {
	p.t.Helper()
	letters, err := browsertest.Eval[[]string](p.Browser, small)
	p.must(err)
	assert.Empty(p.t, letters, "%s: text under 12 px", where)
	found, err := browsertest.Eval[[]string](p.Browser, overlaps)
	p.must(err)
	assert.Empty(p.t, found, where)
}

func (p *person) checks(axe, where string) {
	p.t.Helper()
	p.fits(where)
	p.legible(where)
	_, err := browsertest.Eval[bool](p.Browser, axe+"; true")
	p.must(err)
	serious, err := browsertest.Eval[[]string](p.Browser,
		`axe.run(document, { resultTypes: ["violations"] }).then(r => r.violations.filter(v => ["serious", "critical"].includes(v.impact)).map(v => v.id + ": " + v.nodes.map(n => n.html).slice(0, 3).join(" | ")))`)
	p.must(err)
	assert.Empty(p.t, serious, "%s:\n%s", where, strings.Join(serious, "\n"))
}

// Whoever waits for long work sees how far it is.
func TestADaysSearchSaysHowFarItIs(t *testing.T) {
	s := newSite(t, true)
	p := newPerson(t, s, 390, 844)
	p.signIn()
	p.open("/plan/day")
	p.fill("begin", "tomorrow 07:00")
	p.fill("outdoor", "-4")
	p.fill("room", "16 C")
	oak, err := new(shed.Shed).Stack(ctx, s.store.Household(1), 2, s.clock.now())
	p.must(err)
	p.choose("wood2", fmt.Sprintf("Oak, north stack, %s", units.Percent(oak.Moisture(), 0)))
	// A click comes back when the answer is there: what was shown until then is
	// noted by the page.
	p.waits(`(new MutationObserver(() => sessionStorage.setItem("shown", (sessionStorage.getItem("shown") || "") + document.querySelector("form [role=status]").textContent + "; "))
		.observe(document.querySelector("form [role=status]"), { characterData: true, childList: true, subtree: true }), true)`)
	p.click("form button.btn")
	p.sees("light from cold")
	p.waits(`/\d+ of \d+ so far/.test(sessionStorage.getItem("shown"))`)
	p.waits(`!/so far/.test(document.body.innerText)`)
	p.waits(`!/so far/.test(document.querySelector("form [role=status]").textContent)`)
}

// onCoals signs in and begins to log a burn on a good bed of coals.
func (p *person) onCoals() {
	p.t.Helper()
	p.signIn()
	p.open("/stove")
	p.choose("start", "good bed")
	p.fill("room", "18 C")
	p.fill("outdoor", "2 C\r")
	p.at(`/live$`)
}

// whatWaits is how many entries are on the device and not in the log.
const whatWaits = `Object.keys(localStorage).filter(k => k.startsWith("smolder-entry:")).length`

// Two tabs at one stove, without a network for a while: every entry of both is
// sent, each once; one that the server refuses stays visible with its reason, can
// be changed and sent again or dropped, and holds up nothing; they are sent from
// every page; and those of another household wait for its sign-in.
func TestEntriesOfTwoTabs(t *testing.T) {
	s := newSite(t, true)
	p := newPerson(t, s, 1280, 800)
	p.onCoals()
	live, err := p.Path()
	p.must(err)
	tab, err := p.Tab()
	p.must(err)
	t.Cleanup(tab.Close)
	other := &person{tab, t, s}
	other.open(live)
	for _, person := range []*person{p, other} {
		person.must(person.Offline(true))
	}
	for i := range 4 {
		for j, person := range []*person{p, other} {
			person.waits(`(() => { const f = document.querySelector('form[data-entry]:has(input[value="note"])'); f.elements.note.value = "tab ` + strconv.Itoa(j) + ` entry ` + strconv.Itoa(i) + `"; f.requestSubmit(); return true; })()`)
		}
	}
	p.waits(whatWaits + ` === 8`)
	p.waits(`document.querySelector("[data-waiting-log]").children.length === 8`) // shown in the log while they wait
	p.sees("8 entries are on this device and not in the log yet")
	for _, person := range []*person{p, other} {
		person.must(person.Offline(false))
	}
	p.waits(whatWaits + ` === 0`)
	p.waits(`document.querySelector('[data-swap="log"]').innerText.includes("8 entries")`)
	var kept, distinct int
	require.NoError(t, s.store.DB().QueryRow(`SELECT count(*), count(DISTINCT doc->>'note') FROM entries WHERE doc->>'note' LIKE 'tab %'`).Scan(&kept, &distinct))
	assert.Equal(t, []int{8, 8}, []int{kept, distinct}, "each once")

	// Ended elsewhere, while this one is offline: the entry is not thrown away.
	p.must(p.Offline(true))
	other.click(`details[data-key="end"] summary`)
	other.click(`form[action$="/end"] .btn`)
	other.at(`^/burns/\d+$`)
	other.open("/co-alarm") // which sends nothing
	p.click(`details[data-key="s"] summary`)
	p.click(`button[value="grey"]`)
	p.waits(whatWaits + ` === 1`)
	p.must(p.Offline(false))
	p.open("/wood") // and it is sent from here
	p.waits(`document.querySelector("[data-waiting]").innerText.includes("smoke grey")`)
	p.waits(`document.querySelector("[data-waiting] .wrong") !== null`)
	p.waits(whatWaits + ` === 1`)
	p.waits(`(document.querySelector("[data-waiting] input[name=when]") || {}).placeholder === "when"`)
	p.click(`[data-waiting] button[type=button]`) // dropped by hand
	p.waits(whatWaits + ` === 0`)

	// One that is answered with an error of the server holds up nothing behind it,
	// and one of another household stays where it is.
	p.waits(`(() => {
		const entry = (id, to, household) => localStorage.setItem("smolder-entry:" + household + ":" + id, JSON.stringify({ to, made: Date.now(), fields: [["kind", "note"], ["note", id], ["id", id], ["at", new Date().toISOString()]] }));
		const here = document.body.dataset.household;
		entry("first-fails", "/burns/999999999999999999999999/entries", here);
		entry("not-ours", "` + strings.TrimSuffix(live, "/live") + `/entries", "4711");
		return true;
	})()`)
	p.open("/stove")
	p.click("form[action='/stove'] .btn")
	p.at(`/live$`)
	p.click(`details[data-key="s"] summary`)
	p.click(`button[value="white"]`)
	p.waits(`document.querySelector('[data-swap="log"]').textContent.includes("White vapour")`)
	p.sees("1 of another household wait for its sign-in")
	p.waits(`localStorage.getItem("smolder-entry:4711:not-ours") !== null`)
	require.NoError(t, s.store.DB().QueryRow(`SELECT count(*) FROM entries WHERE id IN ('not-ours', 'first-fails')`).Scan(&kept))
	assert.Zero(t, kept)
}

// A page that cannot reach the server says so, and since when; and when it can
// again.
func TestAServerThatIsAway(t *testing.T) {
	s := newSite(t, true)
	p := newPerson(t, s, 390, 844)
	p.signIn()
	p.open("/wood")
	p.must(p.Offline(true))
	p.waits(`(dispatchEvent(new Event("online")), !document.querySelector("[data-away]").hidden)`)
	p.sees("The server cannot be reached since")
	p.must(p.Offline(false))
	p.waits(`(dispatchEvent(new Event("online")), document.querySelector("[data-away]").hidden)`)
}

// Times and days can be picked by the browser's own controls, and what is picked
// stands in the field as it would be typed; long lists are searched.
func TestTimesArePickedAndListsSearched(t *testing.T) {
	s := newSite(t, true)
	p := newPerson(t, s, 1280, 800)
	p.signIn()
	p.open("/plan")
	pick := func(name, kind, value string) {
		t.Helper()
		p.waits(`(() => { const box = document.querySelector('[name="` + name + `"]').nextElementSibling, native = box.querySelector('input[type="` + kind + `"]');
			native.value = "` + value + `"; native.dispatchEvent(new Event("change")); return native.value !== ""; })()`)
	}
	tomorrow := s.clock.now().UTC().AddDate(0, 0, 1).Format(time.DateOnly)
	pick("begin", "datetime-local", tomorrow+"T07:00")
	pick("for", "time", "13:00")
	p.fill("room", "16 C")
	p.fill("outdoor", "-1 C")
	p.click("form.wish .btn")
	p.sees("It begins")
	p.sees("07:00")
	p.open("/household")
	pick("alarms", "date", "2026-01-14")
	p.click(`form[action="/household"] .btn`)
	p.sees("Kept.")
	p.waits(`document.querySelector('[name="alarms"]').value === "2026-01-14"`)

	p.open("/wood/new")
	p.must(p.Fill(".find", "poplar bal"))
	p.waits(`document.querySelector('[name="species"]').value === "poplar"`)
	shown, err := browsertest.Eval[int](p.Browser, `[...document.querySelector('[name="species"]').options].filter(o => !o.hidden).length`)
	p.must(err)
	assert.Equal(t, 1, shown)
}

// Tabs on the strip are moved by keys and by the pointer: the strip and what would have come
// of it follow, and the address keeps it.
func TestTabsAreMoved(t *testing.T) {
	s := newSite(t, true)
	p := newPerson(t, s, 1280, 800)
	p.signIn()
	s.signIn()
	b := regexp.MustCompile(`href="(/burns/\d+)">[^<]*</a></td>\s*<td>Auntie`).FindStringSubmatch(s.get("/burns?stove=1").body)[1]
	p.open(b)
	_, err := browsertest.Eval[bool](p.Browser, `(() => {
		const svg = document.querySelector(".strip-wide svg.strip"), box = svg.getBoundingClientRect();
		const at = (kind, x) => svg.dispatchEvent(new PointerEvent(kind, { bubbles: true, pointerType: "mouse", button: 0, clientX: box.x + x, clientY: box.y + 60 }));
		at("pointerdown", 300); at("pointerup", 500);
		return true; })()`)
	p.must(err)
	p.must(p.Wait(`/from=\d.*to=\d/.test(location.search)`))
	p.sees("closer")
	p.open(b + "/otherwise")
	const wide = `.strip-wide .hold[data-kind="control"]`
	p.must(p.Wait(`document.querySelectorAll('` + wide + `').length > 1`))
	focus := `[...document.querySelectorAll('` + wide + `')].at(-1).focus()`
	_, err = browsertest.Eval[bool](p.Browser, "("+focus+", true)")
	p.must(err)
	for range 2 {
		p.press("ArrowUp")
		p.must(p.Wait(`document.querySelector('[data-otherwise]').getAttribute('aria-busy') === 'false'`))
	}
	p.must(p.Wait(`location.search.includes("to%3A")`))
	p.sees("as it was")
	p.press("PageDown")
	p.must(p.Wait(`location.search.includes("later%3A") && document.querySelectorAll('.changes li').length === 2`))
	moved, err := browsertest.Eval[bool](p.Browser, `document.activeElement.matches('.hold.moved')`)
	p.must(err)
	assert.True(t, moved, "the tab that was moved keeps the focus")
	p.press("Delete")
	p.must(p.Wait(`document.querySelector('.strip-wide .hold.gone') !== null`))
	// by the pointer
	_, err = browsertest.Eval[bool](p.Browser, `(() => {
		const tab = document.querySelector('.strip-wide .hold[data-kind="load"]'), box = tab.getBoundingClientRect();
		const at = (kind, x) => tab.dispatchEvent(new PointerEvent(kind, { bubbles: true, cancelable: true, clientX: x, clientY: box.y + 5, pointerId: 1 }));
		at("pointerdown", box.x + 4); at("pointermove", box.x + 60); at("pointerup", box.x + 60);
		return true; })()`)
	p.must(err)
	p.must(p.Wait(`(location.search.match(/later/g) ?? []).length === 2`))
	p.click(".changes a")
	p.at("/otherwise$")
}

// By hand on a telephone: a meter is read into a stack, taken back, pieces are carried in,
// and a chore is done with a tap and undone; each is found where it is said to be.
func TestWoodAndUpkeepByHand(t *testing.T) {
	s := newSite(t, true)
	p := newPerson(t, s, 390, 844)
	p.signIn()
	p.open("/wood/4")
	p.fill("reading", "22 24 23\r")
	p.sees("Kept.")
	p.sees("23 % mean of 3 pieces")
	p.click(`form[action*="/readings/"] button`)
	p.sees("put back")
	p.fill("amount", "2 x 1.2 m\r")
	p.sees("Kept.")
	p.sees("2 x 1.2 m")
	p.open("/wood/basket")
	p.fill("carry-2", "9\r")
	p.sees("pieces by the stove more")
	p.open("/upkeep")
	p.click(`.chore.grave summary`)
	p.sees("Look for.")
	p.click(`.chores .chore-done .btn`)
	p.sees("It can be taken back below")
	p.click(`form[action^="/upkeep/done/"] button`)
	p.waits(`document.querySelector(".struck") !== null && !document.body.innerText.includes("It can be taken back below")`)
}
