package web_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/browsertest"
	"smolder/internal/web/webtest"
)

// slack is what a page may have over its words: a finding more, another forecast.
const slack = 1.1

// How many words of a page are in view: on a phone's first screen, and in all (of a burn before
// its log). What goes over it goes behind a tap, or away.
func TestPagesSayLittle(t *testing.T) {
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 390, 844)
	p.SignsIn()
	burn := firstPlannedBurn(p)
	s.SignIn()
	planned := s.Wish("/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=-1&start=cold&wood=1&kindling=6").To
	p.GoTo("/stove")
	p.Picks("start", "good bed")
	p.Clicks("form[action='/stove'] .btn")
	p.Arrives("/live$")
	live, err := p.Path()
	p.Must(err)
	for _, page := range []struct {
		path       string
		first, all int
	}{
		{fireOfThePlan(s), 60, 120},
		{live, 60, 120},
		{planned, 170, 400},
		{burn, 150, 150},
		{"/burns/126", 150, 150}, // too hot, and two things that would have gone better
		{"/burns/141", 150, 150}, // three
		{"/", 120, 160},          // four stoves
	} {
		p.GoTo(page.path)
		said, err := browsertest.Eval[string](p.Browser, browsertest.WordsInView)
		p.Must(err)
		var first, all, rest, height int
		_, err = fmt.Sscanf(said, "first %d, all %d, before the log %d, height %d", &first, &all, &rest, &height)
		require.NoError(t, err, said)
		assert.LessOrEqual(t, float64(first), slack*float64(page.first), "%s, first screen", page.path)
		assert.LessOrEqual(t, float64(rest), slack*float64(page.all), "%s, in all", page.path)
		t.Log(page.path, said)
	}
}

// fireOfThePlan is the page at the stove of a planned fire, with its first load charred and the next step
// ahead: the page with the most to say.
func fireOfThePlan(s *webtest.Site) string {
	s.T.Helper()
	made := s.Wish("/plan?stove=2&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=-1&start=good-coals&wood=1&kindling=6").To
	started := s.Post(made + "/start")
	require.Equal(s.T, 303, started.Status, started.Words())
	burn := strings.TrimSuffix(started.To, "/live")
	for _, e := range [][]string{{"kind", "load", "stack", "1", "pieces", "4", "direction", "end-on"}, {"kind", "door", "value", "shut"},
		{"kind", "temperature", "place", "connector-probe", "value", "330 C"}, {"kind", "black"}} {
		got := s.Post(burn+"/entries", e...)
		require.Equal(s.T, 303, got.Status, got.Words())
	}
	return started.To
}
