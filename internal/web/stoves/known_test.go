package stoves_test

import (
	"net/http"
	"strings"
	"testing"

	"smolder/internal/app/shed"
	"smolder/internal/web/webtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A largest load that nobody has read in a manual is said to be that wherever it
// counts, and never called the manual's.
func TestALargestLoadNobodyKnows(t *testing.T) {
	s := webtest.New(t, false)
	s.Short()
	assert.Contains(t, s.Get("/stoves/1").Words(), "not known: 4.4 kg taken, the least of stoves this size")
	assert.Contains(t, s.Get("/stoves/1").Words(), "not known, taken as usual the firebox's width")
	made := s.Post("/plan", webtest.Change(webtest.Fields(s.Get("/plan").Body), "room", "16 C")...)
	require.Equal(t, http.StatusSeeOther, made.Status, made.Words())
	plan := strings.TrimSuffix(made.To, "#made")
	assert.Contains(t, s.Get(plan).Words(), "The manual's largest load is not known here. 4.4 kg is planned with")
	started := s.Post(plan + "/start")
	require.Equal(t, http.StatusSeeOther, started.Status, started.Words())
	live := s.Get(started.To).Words()
	assert.Contains(t, live, "The manual's largest load is not known here: look it up, and never over it.")
	assert.NotContains(t, live, "Never over the manual's 4.4")
	entries := strings.TrimSuffix(started.To, "/live") + "/entries"
	assert.Equal(t, http.StatusSeeOther, s.Post(entries, "kind", "load", "stack", "1", "pieces", "4", "mass", "6 kg").Status,
		"what was really put on is logged")
	over := s.Post(entries, "kind", "load", "stack", "1", "pieces", "7", "mass", "9.5 kg")
	assert.Equal(t, http.StatusSeeOther, over.Status, "and so is what is dangerous")
	assert.Contains(t, s.Get(started.To).Words(), "15.5 kg went on: twice the most that manuals of stoves of this size allow, 8.8 kg")
}

// How dry wood is, is told in one of two ways; the one that is told last counts,
// and nothing that was typed is dropped without a word.
func TestTwoWaysToTellHowDryWoodIs(t *testing.T) {
	s := webtest.New(t, false)
	s.Short()
	h := s.Store.Household(webtest.HouseholdOf(t, s))
	estimated, err := new(shed.Shed).Stack(ctx, h, 1, s.Clock.Now())
	require.NoError(t, err)
	require.Positive(t, estimated.Spread)
	assert.Contains(t, s.Get("/wood").Words(), "that nobody has counted")

	both := s.Post("/wood", webtest.Change(webtest.Fields(s.Get("/wood/new").Body), "name", "Both", "lain", "2 years", "reading", "18 21 17 20")...)
	require.Equal(t, http.StatusSeeOther, both.Status, both.Words())
	told, err := new(shed.Shed).Stack(ctx, h, 2, s.Clock.Now())
	require.NoError(t, err)
	assert.Less(t, float64(told.Spread), float64(estimated.Spread), "both together tell more than one")
	assert.Contains(t, s.Get(both.To).Words(), "19 % mean of 4 pieces, ± 1.8 between them")
	neither := s.Post("/wood", webtest.Change(webtest.Fields(s.Get("/wood/new").Body), "name", "Neither")...)
	assert.Equal(t, http.StatusUnprocessableEntity, neither.Status)
	assert.Contains(t, neither.Words(), "2 years, or 18 %, would do")
	nobody := s.Post("/wood", webtest.Change(webtest.Fields(s.Get("/wood/new").Body), "name", "Found by the road", "unknown", "yes")...)
	require.Equal(t, http.StatusSeeOther, nobody.Status, nobody.Words())
	assert.Contains(t, s.Get(nobody.To).Words(), "nobody read it")

	// While something else is typed, the drawing keeps what is known.
	form := webtest.Change(webtest.Fields(s.Get("/wood/1/edit").Body), "name", "Renamed")
	query := ""
	for i := 0; i < len(form); i += 2 {
		query += form[i] + "=" + strings.ReplaceAll(form[i+1], " ", "+") + "&"
	}
	assert.Contains(t, s.Get("/wood/so-far?"+query).Words(), "not read: ")

	read := s.Post("/wood/1/readings", "reading", "24 % 26 22", "wood-temp", "20 C")
	require.Equal(t, "/wood/1", read.To, read.Words())
	measured, err := new(shed.Shed).Stack(ctx, h, 1, s.Clock.Now())
	require.NoError(t, err)
	assert.Greater(t, measured.Reading, estimated.Reading, "wetter than its time says")
	assert.Less(t, measured.Spread, estimated.Spread)
	assert.InDelta(t, float64(estimated.Left.Middle), float64(measured.Left.Middle), 1e-9, "and as much wood")
	undo := webtest.Between(s.Get("/wood/1").Body, `action="/wood/1/readings/`, `"`)
	require.Equal(t, "/wood/1", s.Post("/wood/1/readings/"+undo).To)
	again, err := new(shed.Shed).Stack(ctx, h, 1, s.Clock.Now())
	require.NoError(t, err)
	assert.Equal(t, estimated.Reading, again.Reading, "taken back")
	assert.Contains(t, s.Get("/wood/1").Words(), "put back")
	for typed, says := range map[string]string{"dry": "is not a moisture", "": "is missing", "900": "between 4 and 120",
		strings.Repeat("18 ", 41): "the mean of them would do"} {
		wrong := s.Post("/wood/1/readings", "reading", typed)
		assert.Equal(t, http.StatusUnprocessableEntity, wrong.Status, typed)
		assert.Contains(t, wrong.Words(), says)
	}
	ahead := s.Post("/wood/1/readings", "reading", "20", "on", "2999-01-01")
	assert.Equal(t, http.StatusUnprocessableEntity, ahead.Status)
	before := s.Post("/wood/1/readings", "reading", "20", "on", "2020-01-01")
	assert.Contains(t, before.Words(), "before it was split", "and what was typed stays")

	// And of another household nothing is drawn.
	other := *s
	other.NewPerson()
	assert.NotEqual(t, http.StatusOK, other.Get("/wood/so-far?of=1").Status)
}
