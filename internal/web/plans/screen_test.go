package plans_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/browsertest"
	"smolder/internal/web/webtest"
)

// How a burn of one load goes, what to do and how the wood lies stand on one screen of a laptop,
// and on three of a phone.
func TestPlanOnOneScreen(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	// All that a plan goes by is said, so that it is the same at any hour. The second has several
	// loads, the third is of a stove with three controls. What is to be warned of stands over all this.
	short := s.Wish("/plan?stove=1&aim=hold&for=3+h&low=19&high=21.5&room=16.5&outdoor=2&start=cold&wood=1&kindling=6").To
	long := s.Wish("/plan?stove=1&aim=hold&for=8+h&low=19&high=21.5&room=16.5&outdoor=-4&start=cold&wood=1&kindling=6").To
	longest := s.Wish("/plan?stove=2&aim=hold&for=7+h&low=19&high=21.5&room=15.5&outdoor=-6&start=cold&wood=1&kindling=6").To
	for _, c := range []struct {
		wide, tall int64
		plan, of   string
		screens    float64
	}{
		{1280, 800, short, ".plan-do .steps li, .plan-strip svg, .lays > div > svg", 1},
		{1280, 800, long, ".plan-do .steps li, .plan-strip svg, .lays > div > svg", 1},
		{1280, 800, longest, ".plan-do .steps li, .plan-strip svg, .lays > div > svg", 1},
		{390, 844, short, ".plan-do .steps li, .plan-strip svg, .lays > div > svg", 3},
		{390, 844, long, ".plan-do .steps li, .plan-strip svg, .lays > div > svg", 3},
		{390, 844, longest, ".plan-do .steps li, .plan-strip svg, .lays > div > svg", 3},
	} {
		p := webtest.Browse(t, s, c.wide, c.tall)
		p.SignsIn()
		p.GoTo(c.plan + "#made")
		p.Sees("What to do")
		reach, err := browsertest.Eval[float64](p.Browser, fmt.Sprintf(`(() => { const top = document.querySelector("#made .plan-head > .font-serif").getBoundingClientRect().top;
			return Math.max(...[...document.querySelectorAll(%q)].filter(e => e.checkVisibility()).map(e => e.getBoundingClientRect().bottom)) - top; })()`, c.of))
		require.NoError(t, err)
		assert.LessOrEqual(t, reach, c.screens*float64(c.tall), "%s, %d wide", c.plan, c.wide)
		p.Clicks(`.plan-strip .zooms a`)
		p.Waits(`location.search.includes("from=0&to=60") && document.querySelector(".plan-strip .zooms strong").textContent === "the first hour"`)
		p.Fits("a plan")
		p.Legible("a plan")
	}
}

// The steps of later loads are folded under a line; their marks on the strip open it.
func TestLaterLoadsAreFolded(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	made := s.Wish("/plan?stove=1&aim=hold&for=8+h&low=19&high=21.5&room=16.5&outdoor=-4&start=cold&wood=1&kindling=6")
	p := webtest.Browse(t, s, 1280, 800)
	p.SignsIn()
	p.GoTo(made.To)
	const inFold = `document.querySelector(".later details li")`
	p.Waits(inFold + ` !== null && !` + inFold + `.checkVisibility()`)
	numbers, err := browsertest.Eval[[]int](p.Browser, `[...document.querySelectorAll(".plan-do li[id]")].map(e => Number(e.dataset.n))`)
	require.NoError(t, err)
	for i, n := range numbers {
		assert.Equal(t, i+1, n, "every step once, in its order")
	}
	p.Clicks(`.later summary`)
	p.Waits(inFold + `.checkVisibility()`)
	p.Clicks(`.later summary`)
	p.Waits(`!` + inFold + `.checkVisibility()`)
	_, err = browsertest.Eval[bool](p.Browser, `(location.hash = "#" + `+inFold+`.id, true)`)
	require.NoError(t, err)
	p.Waits(inFold + `.checkVisibility()`)
}

// Another stove is chosen, and what is known of it comes while somebody types already: what they
// type stays as it is.
func TestNothingChangesUnderAHand(t *testing.T) {
	p := webtest.Browse(t, webtest.New(t, true), 1280, 800)
	p.SignsIn()
	p.GoTo("/plan")
	_, err := browsertest.Eval[bool](p.Browser, `(() => { const ask = fetch; window.answered = 0;
		window.held = new Promise((go) => { window.letGo = go; });
		window.fetch = async (...a) => { if (String(a[0]).includes("stove=")) await held; const got = await ask(...a); setTimeout(() => answered++, 50); return got; }; return true; })()`)
	require.NoError(t, err)
	p.Picks("stove", "Loom")
	p.Types("room", "17")
	_, err = browsertest.Eval[bool](p.Browser, `(letGo(), true)`)
	require.NoError(t, err)
	p.Waits(`answered > 0`)
	p.Hits(" C\r")
	p.Arrives(`^/plans/\d+`)
	p.Sees("17 °C inside")
}
