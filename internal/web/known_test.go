package web_test

import (
	"net/http"
	"strings"
	"testing"

	"smolder/internal/app/shed"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// short is a stove and a stack of which only the first answers are given.
func (s *site) short() {
	s.t.Helper()
	require.Equal(s.t, "/stoves/new", s.setUp().to)
	stove := s.post("/stoves", with(fields(s.get("/stoves/new").body), "volume", "55 L", "chimney-height", "6 m")...)
	require.Equal(s.t, "/wood/new", stove.to, stove.words())
	stack := s.post("/wood", with(fields(s.get("/wood/new").body), "lain", "2 years")...)
	require.Equal(s.t, "/plan", stack.to, stack.words())
}

// A largest load that nobody has read in a manual is said to be that wherever it
// counts, and never called the manual's.
func TestALargestLoadNobodyKnows(t *testing.T) {
	s := newSite(t, false)
	s.short()
	assert.Contains(t, s.get("/stoves/1").words(), "not known: 4.4 kg taken, the least of stoves this size")
	assert.Contains(t, s.get("/stoves/1").words(), "not known, taken as usual the firebox's width")
	made := s.post("/plan", with(fields(s.get("/plan").body), "room", "16 C")...)
	require.Equal(t, http.StatusSeeOther, made.status, made.words())
	plan := strings.TrimSuffix(made.to, "#made")
	assert.Contains(t, s.get(plan).words(), "The manual's largest load is not known here. 4.4 kg is planned with")
	started := s.post(plan + "/start")
	require.Equal(t, http.StatusSeeOther, started.status, started.words())
	live := s.get(started.to).words()
	assert.Contains(t, live, "The manual's largest load is not known here: look it up, and never over it.")
	assert.NotContains(t, live, "Never over the manual's 4.4")
	entries := strings.TrimSuffix(started.to, "/live") + "/entries"
	assert.Equal(t, http.StatusSeeOther, s.post(entries, "kind", "load", "stack", "1", "pieces", "4", "mass", "6 kg").status,
		"what was really put on is logged")
	over := s.post(entries, "kind", "load", "stack", "1", "pieces", "7", "mass", "9.5 kg")
	assert.Equal(t, http.StatusSeeOther, over.status, "and so is what is dangerous")
	assert.Contains(t, s.get(started.to).words(), "15.5 kg went on: twice the most that manuals of stoves of this size allow, 8.8 kg")
}

// How dry wood is, is told in one of two ways; the one that is told last counts,
// and nothing that was typed is dropped without a word.
func TestTwoWaysToTellHowDryWoodIs(t *testing.T) {
	s := newSite(t, false)
	s.short()
	h := s.store.Household(householdOf(t, s))
	estimated, err := new(shed.Shed).Stack(ctx, h, 1, s.clock.now())
	require.NoError(t, err)
	require.Positive(t, estimated.Spread)
	assert.Contains(t, s.get("/wood").words(), "that nobody has counted")

	both := s.post("/wood", with(fields(s.get("/wood/new").body), "name", "Both", "lain", "2 years", "reading", "18 21 17 20")...)
	require.Equal(t, http.StatusSeeOther, both.status, both.words())
	told, err := new(shed.Shed).Stack(ctx, h, 2, s.clock.now())
	require.NoError(t, err)
	assert.Less(t, float64(told.Spread), float64(estimated.Spread), "both together tell more than one")
	assert.Contains(t, s.get(both.to).words(), "19 % mean of 4 pieces, ± 1.8 between them")
	neither := s.post("/wood", with(fields(s.get("/wood/new").body), "name", "Neither")...)
	assert.Equal(t, http.StatusUnprocessableEntity, neither.status)
	assert.Contains(t, neither.words(), "2 years, or 18 %, would do")
	nobody := s.post("/wood", with(fields(s.get("/wood/new").body), "name", "Found by the road", "unknown", "yes")...)
	require.Equal(t, http.StatusSeeOther, nobody.status, nobody.words())
	assert.Contains(t, s.get(nobody.to).words(), "nobody read it")

	// While something else is typed, the drawing keeps what is known.
	form := with(fields(s.get("/wood/1/edit").body), "name", "Renamed")
	query := ""
	for i := 0; i < len(form); i += 2 {
		query += form[i] + "=" + strings.ReplaceAll(form[i+1], " ", "+") + "&"
	}
	assert.Contains(t, s.get("/wood/so-far?"+query).words(), "not read: ")

	read := s.post("/wood/1/readings", "reading", "24 % 26 22", "wood-temp", "20 C")
	require.Equal(t, "/wood/1", read.to, read.words())
	measured, err := new(shed.Shed).Stack(ctx, h, 1, s.clock.now())
	require.NoError(t, err)
	assert.Greater(t, measured.Reading, estimated.Reading, "wetter than its time says")
	assert.Less(t, measured.Spread, estimated.Spread)
	assert.InDelta(t, float64(estimated.Left.Middle), float64(measured.Left.Middle), 1e-9, "and as much wood")
	undo := between(s.get("/wood/1").body, `action="/wood/1/readings/`, `"`)
	require.Equal(t, "/wood/1", s.post("/wood/1/readings/"+undo).to)
	again, err := new(shed.Shed).Stack(ctx, h, 1, s.clock.now())
	require.NoError(t, err)
	assert.Equal(t, estimated.Reading, again.Reading, "taken back")
	assert.Contains(t, s.get("/wood/1").words(), "put back")
	for typed, says := range map[string]string{"dry": "is not a moisture", "": "is missing", "900": "between 4 and 120",
		strings.Repeat("18 ", 41): "the mean of them would do"} {
		wrong := s.post("/wood/1/readings", "reading", typed)
		assert.Equal(t, http.StatusUnprocessableEntity, wrong.status, typed)
		assert.Contains(t, wrong.words(), says)
	}
	ahead := s.post("/wood/1/readings", "reading", "20", "on", "2999-01-01")
	assert.Equal(t, http.StatusUnprocessableEntity, ahead.status)
	before := s.post("/wood/1/readings", "reading", "20", "on", "2020-01-01")
	assert.Contains(t, before.words(), "before it was split", "and what was typed stays")

	// And of another household nothing is drawn.
	other := *s
	other.newPerson()
	assert.NotEqual(t, http.StatusOK, other.get("/wood/so-far?of=1").status)
}
