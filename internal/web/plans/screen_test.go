package plans_test

import (
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
	for _, c := range []struct {
		wide, tall int64
		screens    float64
	}{{1280, 800, 1}, {390, 844, 3}} {
		p := webtest.Browse(t, s, c.wide, c.tall)
		p.SignsIn()
		s.SignIn()
		// all that a plan goes by is said, so that it is the same at any hour
		p.GoTo(s.Wish("/plan?stove=1&aim=hold&for=3+h&low=19&high=21.5&room=16.5&outdoor=2&start=cold&wood=1&kindling=6").To + "#made")
		p.Sees("What to do")
		reach, err := browsertest.Eval[float64](p.Browser, `(() => { const top = document.querySelector("#made").getBoundingClientRect().top;
			return Math.max(...[...document.querySelectorAll(".plan-do .steps > li, .plan-strip svg, .lays > div > svg")].filter(e => e.getClientRects().length).map(e => e.getBoundingClientRect().bottom)) - top; })()`)
		require.NoError(t, err)
		assert.LessOrEqual(t, reach, c.screens*float64(c.tall), "%d wide", c.wide)
		p.Clicks(`.plan-strip .zooms a`)
		p.Waits(`location.search.includes("from=0&to=60") && document.querySelector(".plan-strip .zooms strong").textContent === "the first hour"`)
		p.Fits("a plan")
		p.Legible("a plan")
	}
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
