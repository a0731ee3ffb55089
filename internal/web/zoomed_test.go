package web_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/browsertest"
	"smolder/internal/web/webtest"
)

// On a phone of 390 px at 200 % nothing is wider than the screen, and what stands fast above and
// below takes no more than a fifth of its height each.
func TestTwiceAsLarge(t *testing.T) {
	p := webtest.Browse(t, webtest.New(t, true), 195, 422)
	p.SignsIn()
	for _, path := range []string{"/", "/plan", "/stove", "/burns", "/burns/1", "/burns/1/otherwise", "/wood", "/wood/1", "/wood/winter", "/wood/basket", "/stoves", "/stoves/1", "/stoves/1/known",
		"/upkeep", "/household", "/household/people", "/calls", "/words", "/find", "/about", "/co-alarm"} {
		p.GoTo(path)
		p.Fits(path + " at 200 %")
		bars, err := browsertest.Eval[[]float64](p.Browser, `[...document.querySelectorAll("header.top, nav.foot, .act")].filter(e => ["fixed", "sticky"].includes(getComputedStyle(e).position)).map(e => e.getBoundingClientRect().height).filter(h => h > 0)`)
		require.NoError(t, err)
		for _, h := range bars {
			assert.LessOrEqual(t, h, 422/5.0, path)
		}
	}
	p.OnCoals()
	p.Fits("at the stove, at 200 %")
}
