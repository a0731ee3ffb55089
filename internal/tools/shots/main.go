// Command shots takes pictures of Smolder's pages from the demo household, in
// headless Chromium, for docs/screenshots or for a look.
//
//	go run ./internal/tools/shots -base http://127.0.0.1:8420 -dir docs/screenshots
//	go run ./internal/tools/shots -dir /tmp -path /wood -size 390x844 -full
package main

import (
	"errors"
	"flag"
	"fmt"
	"log"
	"os"
	"path/filepath"
	"strings"
	"time"

	"smolder/internal/browsertest"
	"smolder/internal/demo"
)

// A shot is one picture: where, how big, and what to do there first.
type shot struct {
	name, path    string
	width, height int64
	first         func(*browsertest.Browser) error
	whole         bool
}

func main() {
	base := flag.String("base", "http://127.0.0.1:8420", "address of a running demo")
	dir := flag.String("dir", "docs/screenshots", "where the pictures go")
	only := flag.String("only", "", "part of the name; empty: all")
	path := flag.String("path", "", "any one page instead of the list")
	asked := flag.String("wish", "", "with -path /plan or /plan/day: the wish to make there first")
	size := flag.String("size", "1280x800", "its size")
	whole := flag.Bool("full", false, "the whole length of that page")
	count := flag.Bool("count", false, "with -path: the words in view, on the first screen and in all, and the height")
	prefers := flag.String("prefers", "", "what the device prefers, such as prefers-color-scheme=dark or forced-colors=active")
	opened := flag.String("open", "", "with -path: a selector of what is folded there, to open and show first")
	flag.Parse()
	shots := list()
	if *path != "" {
		s := shot{name: "look", path: *path, whole: *whole}
		if _, err := fmt.Sscanf(*size, "%dx%d", &s.width, &s.height); err != nil {
			log.Fatal(err)
		}
		if *asked != "" {
			s.first = made(s.path, *asked, "")
		}
		if *opened != "" {
			s.first = func(b *browsertest.Browser) error {
				_, err := browsertest.Eval[bool](b, fmt.Sprintf(`(() => { const d = document.querySelector(%q); d.open = true; d.scrollIntoView({block: "start"}); return true; })()`, *opened))
				return err
			}
		}
		if feature, value, is := strings.Cut(*prefers, "="); is {
			before := s.first
			s.first = func(b *browsertest.Browser) error {
				if err := b.Prefers(feature, value); err != nil || before == nil {
					return err
				}
				return before(b)
			}
		}
		if *count {
			before := s.first
			s.first = func(b *browsertest.Browser) error {
				if before != nil {
					if err := before(b); err != nil {
						return err
					}
				}
				said, err := browsertest.Eval[string](b, browsertest.WordsInView)
				fmt.Println(*path, *size, said)
				return err
			}
		}
		shots, *only = []shot{s}, ""
	}
	if err := take(*base, *dir, *only, shots); err != nil {
		log.Fatal(err)
	}
}

const wish = "stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=-1&start=cold&wood=1&kindling=6"

func list() []shot {
	return []shot{
		{name: "now", path: "/", width: 1280, height: 800, first: keepPlan},
		{name: "plan", path: "/plan", width: 1280, height: 800, first: made("/plan", wish, "")},
		{name: "plan-phone", path: "/plan", width: 390, height: 844, first: made("/plan", wish, "")},
		{name: "stove-phone", path: "/stove", width: 390, height: 844, first: startBurn},
		{name: "stove", path: "/stove", width: 1280, height: 800, first: startBurn},
		{name: "burns", path: "/burns", width: 1280, height: 800},
		{name: "burn", path: "/burns", width: 1280, height: 800, first: lastPlanned},
		{name: "otherwise", path: "/burns", width: 1280, height: 800, first: otherwise},
		{name: "compare", path: "/burns/compare?stove=1&subject=setting", width: 1280, height: 800},
		{name: "known", path: "/stoves/1/known", width: 1280, height: 800},
		{name: "wood", path: "/wood", width: 1280, height: 800},
		{name: "stack", path: "/wood/4", width: 1280, height: 800},
		{name: "winter", path: "/wood/winter", width: 1280, height: 800},
		{name: "practice", path: "/practice", width: 1280, height: 800, first: practise},
		{name: "practice-phone", path: "/practice", width: 390, height: 844, first: practise},
		{name: "upkeep", path: "/upkeep", width: 1280, height: 800},
		{name: "stove-and-flue", path: "/stoves/1?outdoor=2+C&gas=230+C", width: 1280, height: 800},
		{name: "household", path: "/household", width: 1280, height: 800},
		{name: "co-alarm-phone", path: "/co-alarm", width: 390, height: 844},
	}
}

// made sends a wish as its form does and opens what was made of it.
func made(form, wish, page string) func(*browsertest.Browser) error {
	return func(b *browsertest.Browser) error {
		to, err := browsertest.Eval[string](b, `fetch("`+form+`", {method: "POST", body: new URLSearchParams("`+wish+`")}).then(r => r.ok ? new URL(r.url).pathname : "refused: " + r.status)`)
		if err != nil {
			return err
		}
		if !strings.HasPrefix(to, "/plans/") {
			return fmt.Errorf("no plan of %s: %s", wish, to)
		}
		return b.Open(to + page)
	}
}

// practise begins a lesson and lets some minutes pass.
func practise(b *browsertest.Browser) error {
	page, err := browsertest.Eval[string](b, `fetch("/practice", {method: "POST", body: new URLSearchParams("lesson=turn-down&stove=1")}).then(r => new URL(r.url).pathname)`)
	if err != nil {
		return err
	}
	if _, err := browsertest.Eval[bool](b, `fetch("`+page+`/do", {method: "POST", body: new URLSearchParams("pass=420")}).then(r => r.ok)`); err != nil {
		return err
	}
	if err := b.Open(page); err != nil {
		return err
	}
	return b.Wait(`Number(document.querySelector("[data-practice]")?.dataset.drawn) > 3`)
}

// otherwise goes to the last planned burn and follows its first finding to the strip.
func otherwise(b *browsertest.Browser) error {
	if err := lastPlanned(b); err != nil {
		return err
	}
	return b.Click(".would a")
}

// keepPlan keeps a plan for tomorrow, unless one is kept.
func keepPlan(b *browsertest.Browser) error {
	if kept, err := browsertest.Eval[bool](b, `document.body.innerText.includes("Planned")`); err != nil || kept {
		return err
	}
	if err := made("/plan", wish+"&begin=tomorrow+07:00", "")(b); err != nil {
		return err
	}
	if err := b.Click(`form[action$="/keep"] button`); err != nil {
		return err
	}
	return b.WaitPath("^/$")
}

// startBurn waits for the thermometers of the fire that burns in the demo; where none is
// in, it starts the planned burn in Auntie and logs the first things.
func startBurn(b *browsertest.Browser) error {
	if on, err := browsertest.Eval[bool](b, `document.querySelector("[data-live]") !== null`); err != nil || on {
		if err != nil {
			return err
		}
		const caughtUp = `(async () => { const page = new DOMParser().parseFromString(await (await fetch(location.pathname)).text(), "text/html");
			return /^\d+°$/.test(page.querySelector("[data-number]")?.textContent ?? "") && page.querySelectorAll(".strip .pen.pen-probe:not(.planned)").length > 0; })()`
		if err := b.Wait(caughtUp); err != nil {
			return err
		}
		return b.Open("/stove")
	}
	if err := made("/plan", wish, "")(b); err != nil {
		return err
	}
	if err := b.Click(`form[action$="/start"] .btn`); err != nil {
		return err
	}
	if err := b.Wait(`document.querySelector("[data-live]")`); err != nil {
		return err
	}
	// A few first entries, as a hand would make them.
	for _, e := range []string{"kind=light", "kind=door&value=ajar", "kind=control&control=lever&value=right",
		"kind=load&stack=1&pieces=3&lay=top-down&direction=sideways",
		"kind=load&stack=6&pieces=13&lay=top-down", "kind=temperature&place=connector-probe&value=96 C", "kind=temperature&place=top&value=41 C"} {
		ok, err := browsertest.Eval[bool](b, `fetch(location.pathname.replace("live", "entries"), {method: "POST", headers: {Accept: "application/json"}, body: new URLSearchParams("`+e+`")}).then(r => r.ok)`)
		if err != nil || !ok {
			return fmt.Errorf("logging %s: %w", e, err)
		}
	}
	return b.Open("/stove")
}

// lastPlanned opens the newest burn in Auntie that had a plan and is over.
func lastPlanned(b *browsertest.Browser) error {
	to, err := browsertest.Eval[string](b, `[...document.querySelectorAll("tbody tr")].find(r => ["planned", "Auntie"].every(w => r.textContent.includes(w)) && !r.textContent.includes("burning")).querySelector("a").getAttribute("href")`)
	if err != nil {
		return err
	}
	// what would have gone better is worked out in the background, after the demo has begun
	for range 240 {
		if err := b.Open(to); err != nil {
			return err
		}
		if done, err := browsertest.Eval[bool](b, `document.querySelector("[data-wait]") === null`); err != nil || done {
			return err
		}
		time.Sleep(time.Second)
	}
	return errors.New("the burn was not looked at in four minutes")
}

func take(base, dir, only string, shots []shot) error {
	b, err := browsertest.Start(base)
	if err != nil {
		return err
	}
	defer b.Close()
	signedIn := false
	for _, s := range shots {
		if only != "" && !strings.Contains(s.name, only) {
			continue
		}
		if s.name != "sign-in" && !signedIn {
			if err := signIn(b); err != nil {
				return fmt.Errorf("signing in: %w", err)
			}
			signedIn = true
		}
		if err := one(b, dir, s); err != nil {
			return fmt.Errorf("%s: %w", s.name, err)
		}
	}
	return nil
}

func signIn(b *browsertest.Browser) error {
	if err := b.Open("/sign-in"); err != nil {
		return err
	}
	if err := b.Fill("input[name=name]", demo.User); err != nil {
		return err
	}
	if err := b.Fill("input[name=password]", demo.Password+"\r"); err != nil {
		return err
	}
	return b.WaitPath("^/$")
}

func one(b *browsertest.Browser, dir string, s shot) error {
	if err := b.Size(s.width, s.height); err != nil {
		return err
	}
	if err := b.Open(s.path); err != nil {
		return err
	}
	if s.first != nil {
		if err := s.first(b); err != nil {
			return err
		}
	}
	png, err := b.Picture(s.whole)
	if err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(dir, s.name+".png"), png, 0o644) //nolint:gosec // a picture
}
