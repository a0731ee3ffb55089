package api_test

import (
	"net/http"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/store"
	"smolder/internal/web/webtest"
)

// TestAPageAndAProgramPlanTheSame wishes for the same on a page and by a program: what was
// not said is found by both alike, and so is the plan.
func TestAPageAndAProgramPlanTheSame(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	made := s.Wish("/plan?stove=1&aim=hold&for=5+h&low=19&high=21.5&room=17&start=cold&kindling=6&wood=1")
	require.Equal(t, http.StatusOK, made.Status, made.Words())
	id, err := strconv.ParseInt(strings.TrimPrefix(made.To, "/plans/"), 10, 64)
	require.NoError(t, err)
	byPage, err := s.Store.Household(1).Planned(t.Context(), id)
	require.NoError(t, err)

	p := s.Program(store.ScopeLog)
	got := p.Ask("POST", "/stoves/1/plans", "", `{"plan": {"aim": "hold", "for": "5 h", "wanted_from": "19 C", "wanted_to": "21.5 C"},
		"start": {"room": "17 C"}, "wood": [1], "kindling": 6}`)
	require.Equal(t, http.StatusCreated, got.Status, got.Body)
	ids, _ := got.JSON(t)["ids"].([]any)
	require.NotEmpty(t, ids)
	number, _ := ids[0].(float64)
	byProgram, err := s.Store.Household(1).Planned(t.Context(), int64(number))
	require.NoError(t, err)

	a, b := byPage.Burn.Wish, byProgram.Burn.Wish
	require.Greater(t, len(a.Weather), 4, "the forecast, which nobody typed")
	assert.Equal(t, a.Weather, b.Weather)
	assert.InDelta(t, float64(a.Outdoor), float64(b.Outdoor), 1e-9)
	assert.InDelta(t, float64(a.Humidity), float64(b.Humidity), 1e-9)
	assert.Equal(t, a.Wood, b.Wood)
	assert.Equal(t, a.Kindling, b.Kindling)
	assert.Equal(t, a.Others, b.Others)
	assert.Equal(t, a.Beside, b.Beside)
	assert.Equal(t, byPage.Sentence, byProgram.Sentence)
	assert.Equal(t, byPage.Burn.Steps, byProgram.Burn.Steps)
}

// A program sees what wood there is, has a plan made from a given time in the owner's own way,
// and is told what an answer goes by.
func TestAProgramPlansAhead(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	p := s.Program(store.ScopeLog, store.ScopeRead)
	stacks := p.Ask("GET", "/stacks", "", "")
	require.Equal(t, http.StatusOK, stacks.Status, stacks.Body)
	list, _ := stacks.JSON(t)["stacks"].([]any)
	require.NotEmpty(t, list)
	begins := s.Clock.At.Add(3 * time.Hour).UTC().Truncate(time.Second)
	ask := func(begins string) webtest.Answer {
		return p.Ask("POST", "/stoves/1/plans", "", `{"plan": {"aim": "hold", "for": "4 h", "start": "good-coals", "own": {"on_coals": 3, "direction": "end-on", "leave_at": "a third"}},
			"start": {"room": "18 C"}, "wood": [1], "kindling": 6, "begins": "`+begins+`"}`)
	}
	got := ask(begins.Format(time.RFC3339))
	require.Equal(t, http.StatusCreated, got.Status, got.Body)
	ids, _ := got.JSON(t)["ids"].([]any)
	require.NotEmpty(t, ids)
	number, _ := ids[0].(float64)
	kept, err := s.Store.Household(1).Planned(t.Context(), int64(number))
	require.NoError(t, err)
	assert.Equal(t, begins, kept.Begins.UTC())
	assert.Equal(t, 3, kept.Burn.Main)
	assert.Less(t, float64(kept.Burn.Wish.Room), 18.0, "left alone for three hours it has cooled")
	assert.Equal(t, http.StatusUnprocessableEntity, ask(begins.Add(48*time.Hour).Format(time.RFC3339)).Status)
	for _, own := range []string{`{"on_coals": -1}`, `{"direction": "diagonal"}`, `{"leave_at": "shut"}`, `{"coals_from": "nowhere"}`, `{"most": "-2 kg"}`} {
		bad := p.Ask("POST", "/stoves/1/plans", "", `{"plan": {"own": `+own+`}, "wood": [1]}`)
		assert.Equal(t, http.StatusUnprocessableEntity, bad.Status, own)
		assert.Contains(t, bad.Body, "would do", own)
	}
}
