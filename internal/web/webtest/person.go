package webtest

import (
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/browsertest"
	"smolder/internal/demo"
)

// A person is a browser whose every step must succeed.
type Person struct {
	*browsertest.Browser
	T    *testing.T
	Site *Site
}

func Browse(t *testing.T, s *Site, width, height int64) *Person {
	t.Helper()
	if testing.Short() {
		t.Skip("browsers are left out of a short run")
	}
	b, err := browsertest.Start(s.URL)
	require.NoError(t, err)
	t.Cleanup(b.Close)
	p := &Person{b, t, s}
	s.Clock.At = time.Time{}
	p.Must(b.Clock(Moved))
	p.Must(b.Size(width, height))
	return p
}

func (p *Person) Must(err error) { p.T.Helper(); require.NoError(p.T, err) }

func (p *Person) GoTo(path string) { p.T.Helper(); p.Must(p.Open(path)) }

func (p *Person) Types(name, text string) { p.T.Helper(); p.Must(p.Fill(`[name="`+name+`"]`, text)) }

func (p *Person) Picks(name, text string) {
	p.T.Helper()
	p.Must(p.Choose(`select[name="`+name+`"]`, text))
}

func (p *Person) Clicks(selector string) { p.T.Helper(); p.Must(p.Click(selector)) }

func (p *Person) Hits(keys string) { p.T.Helper(); p.Must(p.Keys(keys)) }

func (p *Person) Presses(key string) { p.T.Helper(); p.Must(p.Press(key)) }

func (p *Person) Sees(text string) { p.T.Helper(); p.Must(p.WaitText(text)) }

func (p *Person) Arrives(pattern string) { p.T.Helper(); p.Must(p.WaitPath(pattern)) }

// Waits waits for a condition in the page.
func (p *Person) Waits(condition string) { p.T.Helper(); p.Must(p.Wait(condition)) }

func (p *Person) SignsIn() {
	p.T.Helper()
	p.GoTo("/sign-in")
	p.Types("name", demo.User)
	p.Types("password", demo.Password+"\r")
	p.Arrives("^/$")
}

// Beside is the text of the drawing beside a form.
func (p *Person) Beside() string {
	p.T.Helper()
	text, err := browsertest.Eval[string](p.Browser, `document.querySelector(".form-beside").textContent`)
	p.Must(err)
	return text
}

// Told waits for what the page says of the last entry.
func (p *Person) Told(text string) {
	p.T.Helper()
	// And until the page has taken what came of it: nothing moves under a click.
	p.Waits(`document.querySelector("[data-told]").innerText.includes("` + text + `") && !document.querySelector('[aria-busy="true"]')`)
}

// LogsTheBurn tends the fire by keys, by taps and with slips.
func (p *Person) LogsTheBurn() {
	p.T.Helper()
	p.Presses("1") // the lever, then down its steps by arrows
	p.Waits(`document.activeElement.name === "value"`)
	p.Hits(kb.ArrowDown + kb.ArrowDown + kb.ArrowDown + "\r")
	p.Told("Lever to a half")
	p.Presses("u")
	p.Sees("Undone: Lever to a half")
	p.Clicks(`details[data-key="1"] summary`)
	p.Clicks(`details[data-key="1"] button[value="fully right"]`)
	p.Told("Lever to fully right")

	p.Presses("l")
	p.Types("pieces", "99")
	p.Hits("\r")
	p.Told("does not go into a firebox")
	p.Must(p.Fill(`details[data-key="l"] [name="pieces"]`, "3"))
	p.Hits("\r")
	p.Told("Load: 3 × 1.3 kg of Beech")

	p.Clicks(`form.contents:has(input[value="light"]) button`)
	p.Told("Lit")
	p.Presses("d")
	p.Clicks(`details[data-key="d"] button[value="ajar"]`)
	p.Told("Door ajar")
	p.Presses("t")
	p.Waits(`document.activeElement.name === "value"`)
	p.Hits("hot\r")
	p.Told("is not a temperature")
	p.Waits(`document.querySelector("[data-waiting]").innerText.includes("is not a temperature")`)
	p.Must(p.Fill(`details[data-key="t"] [name="value"]`, "446F\r"))
	p.Told("Flue gas 230 °C")
	p.Sees("230°")
	p.Presses("s")
	p.Clicks(`button[value="white"]`)
	p.Told("White vapour at the cap")
	p.Presses("r")
	p.Waits(`document.activeElement.name === "value"`)
	p.Hits("0.06 inwc\r")
	p.Told("Draft 15 Pa")
	p.Presses("n")
	p.Waits(`document.activeElement.name === "note"`)
	p.Hits("A quiet start.")
	p.Clicks(`details[data-key="n"] .btn`)
	p.Told("A quiet start.")
	p.Waits(`document.querySelectorAll("svg.strip .mark").length > 0`)

	// What was refused and put right in its sheet waits no more.
	p.Waits(WhatWaits + ` === 0`)

	// A wrong reading is corrected in the log.
	p.Clicks(`[data-swap="log"] summary`)
	p.Waits(`[...document.querySelectorAll('[data-swap="log"] li')].some(l => l.textContent.includes("Flue gas 230") && (l.querySelector("a").dataset.pick = "yes"))`)
	p.Clicks(`[data-pick]`)
	p.Sees("Correct an entry")
	p.Types("value", "235 C\r")
	p.Sees("Corrected: Flue gas 235 °C")
}

// TabTo presses Tab until an element has the focus.
func (p *Person) TabTo(selector string) {
	p.T.Helper()
	for range 80 {
		if on, err := browsertest.Eval[bool](p.Browser, `document.activeElement.matches('`+selector+`')`); err == nil && on {
			return
		}
		p.Hits("\t")
	}
	p.T.Fatalf("no way by keyboard to %s", selector)
}

// Fits checks that nothing is wider than the screen.
func (p *Person) Fits(where string) {
	p.T.Helper()
	wide, err := browsertest.Eval[float64](p.Browser, `document.documentElement.scrollWidth - document.documentElement.clientWidth`)
	p.Must(err)
	assert.LessOrEqual(p.T, wide, 0.0, "%s: wider than the screen: %s", where, p.Widest())
}

// Widest names what sticks out of the screen.
func (p *Person) Widest() []string {
	p.T.Helper()
	found, err := browsertest.Eval[[]string](p.Browser, `[...document.body.querySelectorAll("*")].filter(e => e.getBoundingClientRect().right > document.documentElement.clientWidth + 1 &&
		!e.closest(".overflow-x-auto") && getComputedStyle(e).position !== "absolute").slice(0, 4).map(e => e.tagName + "." + (e.getAttribute("class") ?? "") + " " + e.textContent.trim().slice(0, 30))`)
	p.Must(err)
	return found
}

// Legible checks that no letter of a drawing is too small, and none on another.
func (p *Person) Legible(where string) {
	p.T.Helper()
	letters, err := browsertest.Eval[[]string](p.Browser, small)
	p.Must(err)
	assert.Empty(p.T, letters, "%s: text under 12 px", where)
	found, err := browsertest.Eval[[]string](p.Browser, overlaps)
	p.Must(err)
	assert.Empty(p.T, found, where)
}

func (p *Person) Checks(axe, where string) {
	p.T.Helper()
	p.Fits(where)
	p.Legible(where)
	_, err := browsertest.Eval[bool](p.Browser, axe+"; true")
	p.Must(err)
	serious, err := browsertest.Eval[[]string](p.Browser,
		`axe.run(document, { resultTypes: ["violations"] }).then(r => r.violations.filter(v => ["serious", "critical"].includes(v.impact)).map(v => v.id + ": " + v.nodes.map(n => n.html).slice(0, 3).join(" | ")))`)
	p.Must(err)
	assert.Empty(p.T, serious, "%s:\n%s", where, strings.Join(serious, "\n"))
}

// OnCoals signs in and begins to log a burn on a good bed of coals.
func (p *Person) OnCoals() {
	p.T.Helper()
	p.SignsIn()
	p.GoTo("/stove")
	p.Picks("start", "good bed")
	p.Types("room", "18 C")
	p.Types("outdoor", "2 C\r")
	p.Arrives(`/live$`)
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

// WhatWaits is how many entries are on the device and not in the log.
const WhatWaits = `Object.keys(localStorage).filter(k => k.startsWith("smolder-entry:")).length`
