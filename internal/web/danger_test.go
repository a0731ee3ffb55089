package web_test

import (
	"fmt"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
)

// onlyLogged begins a burn without a plan, on coals, and returns its address.
func (s *site) onlyLogged(stove, start string) string {
	s.t.Helper()
	got := s.post("/stove", "stove", stove, "start", start, "room", "18", "outdoor", "4", "air", "yes", "co", "yes")
	require.Equal(s.t, http.StatusSeeOther, got.status, got.words())
	return strings.TrimSuffix(got.to, "/live")
}

// The worst danger of all the household's fires stands first on every page, whichever
// stove somebody looks at, until it is answered.
func TestTheWorstDangerStandsFirstEverywhere(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	auntie, loom := s.onlyLogged("1", "good-coals"), s.onlyLogged("2", "good-coals")
	log := func(b string, pairs ...string) {
		t.Helper()
		got := s.post(b+"/entries", pairs...)
		require.Equal(t, b+"/live", got.to, got.words())
	}
	first := func(path string) string { // what stands before the page's own heading
		page := s.get(path).words()
		at := strings.Index(page, "Chimney fire Smolder CO alarm Chimney fire")
		require.Positive(t, at, path)
		return page[at:min(len(page), at+700)]
	}
	log(auntie, "kind", "door", "value", "ajar")
	s.clock.at = s.clock.at.Add(42 * time.Minute)
	log(loom, "kind", "smoke", "value", "room")
	for _, path := range []string{"/", "/wood", "/plan", auntie + "/live", "/burns", "/upkeep"} {
		assert.Contains(t, first(path), "Loom : Smoke comes into the room", path)
	}
	assert.Contains(t, s.get(loom+"/live").words(), "Auntie : The door has stood ajar", "and the lesser one under its own")
	assert.NotContains(t, first(loom + "/live")[:120], "Auntie")

	// It is not forgotten with time, and a look at the cap does not answer it.
	s.clock.at = s.clock.at.Add(3 * time.Hour)
	log(loom, "kind", "smoke", "value", "clear")
	assert.Contains(t, first("/wood"), "Smoke came into the room 3 h ago, and nobody has said that it is gone")
	log(loom, "kind", "smoke", "value", "gone")
	assert.NotContains(t, first("/wood"), "Smoke came")
	assert.Contains(t, first("/wood"), "Auntie : The door has stood ajar")
	log(auntie, "kind", "door", "value", "shut")
	assert.NotContains(t, s.get("/wood").words(), "Auntie : ")

	// Nobody else's.
	log(loom, "kind", "co-alarm")
	s.newPerson()
	assert.NotContains(t, s.get("/sign-in").words(), "The CO alarm sounds")
}

// What is done is done once: by two phones, by a double click, on a slow page.
func TestDoneTwiceIsDoneOnce(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b, _ := s.begun(coldEvening)
	one, two := doing(s.get(b+"/live")), doing(s.get(b+"/live"))
	require.Equal(t, one, two, "both phones are shown the same")
	var all sync.WaitGroup
	for i := range 6 {
		all.Go(func() {
			form := one
			if i%2 == 1 {
				form = with(two, "at", s.clock.at.Add(40*time.Second).Format(time.RFC3339))
			}
			assert.Equal(t, b+"/live", s.post(b+"/done", form...).to)
		})
	}
	all.Wait()
	count := func() (loads, entries int) {
		full, err := s.store.Household(1).Burn(t.Context(), burnID(t, b))
		require.NoError(t, err)
		for _, e := range full.Valid() {
			if entries++; e.Kind == burn.Load {
				loads++
			}
		}
		return loads, entries
	}
	loads, entries := count()
	assert.Equal(t, 2, loads, "the first splits and the kindling")

	// The same step, done otherwise on the page that is behind: what is kept stays, and it is
	// said what that is.
	other := one
	for i := 0; i+1 < len(one); i += 2 {
		if strings.HasPrefix(one[i], "p") && one[i+1] != "" {
			other = with(other, one[i], "7")
			break
		}
	}
	late := s.post(b+"/done", other...)
	assert.Equal(t, http.StatusConflict, late.status)
	assert.Contains(t, late.words(), "This was logged already, at")
	again, all2 := count()
	assert.Equal(t, loads, again)
	assert.Equal(t, entries, all2)

	// Undone, it can be done once more.
	tap := ""
	for i := 0; i+1 < len(one); i += 2 {
		if one[i] == "id" {
			tap = one[i+1]
		}
	}
	require.NotEmpty(t, tap)
	require.Equal(t, b+"/live", s.post(b+"/taps/"+tap+"/undo").to)
	once := doing(s.get(b + "/live"))
	require.NotEqual(t, one, once)
	require.Equal(t, b+"/live", s.post(b+"/done", once...).to)
	again, _ = count()
	assert.Equal(t, loads, again)
}

// The same id with other content is not dropped in silence, from a program neither.
func TestTheSameIDWithOtherContent(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b := s.onlyLogged("1", "good-coals")
	require.Equal(t, b+"/live", s.post(b+"/entries", "kind", "temperature", "place", "top", "value", "200 C", "id", "one").to)
	require.Equal(t, b+"/live", s.post(b+"/entries", "kind", "temperature", "place", "top", "value", "200 C", "id", "one").to, "sent again")
	other := s.post(b+"/entries", "kind", "temperature", "place", "top", "value", "260 C", "id", "one")
	assert.Equal(t, http.StatusConflict, other.status)
	assert.Contains(t, other.words(), "as: top 200 °C")
}

// Whoever says "not done" is not told "now" of the same step for a while; a stove that is
// said to be out is not loaded, turned down or shut.
func TestNotDoneAndOut(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b, _ := s.begun("/plan?stove=1&aim=hold&for=5+h&low=18&high=21&room=17&outdoor=-3&start=good-coals&wood=2&kindling=6")
	require.Contains(t, s.get(b+"/live").words(), "Now: Load")
	require.Equal(t, b+"/live", s.post(b+"/entries", "kind", "not-yet", "note", "Not done: load").to)
	page := s.get(b + "/live").words()
	assert.NotContains(t, page, "Now: Load")
	assert.Contains(t, page, "you have said: not yet")
	s.clock.at = s.clock.at.Add(40 * time.Minute)
	require.Equal(t, b+"/live", s.post(b+"/entries", "kind", "went-out").to)
	for range 3 {
		page = s.get(b + "/live").words()
		assert.NotContains(t, page, "Now: Load")
		assert.NotContains(t, page, "Now: Lever")
		assert.Contains(t, page, "Auntie · out", fmt.Sprint(s.clock.at))
		assert.NotContains(t, page, "next load", "of a fire that is out nothing is foretold")
		s.clock.at = s.clock.at.Add(2 * time.Hour)
	}
}

// After a chimney fire nothing is planned or started in that stove until an inspection is
// entered; swept by oneself is none.
func TestAfterAChimneyFire(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b := s.onlyLogged("1", "good-coals")
	require.Equal(t, b+"/live", s.post(b+"/entries", "kind", "chimney-fire").to)
	assert.Contains(t, s.get("/").words(), "Auntie : A chimney fire.")
	require.Equal(t, b, s.post(b+"/end").to)
	const inspect = "No fire in Auntie before its flue was inspected after the chimney fire"
	planned := s.wish("/plan?stove=1&aim=hold&for=5+h&low=18&high=21&room=17&outdoor=2&start=cold&wood=1&kindling=6")
	assert.Contains(t, planned.words(), inspect)
	started := s.post("/stove", "stove", "1", "start", "cold", "room", "18", "outdoor", "4")
	assert.Equal(t, http.StatusUnprocessableEntity, started.status)
	assert.Contains(t, started.words(), inspect)
	s.onlyLogged("2", "cold")
	s.post("/upkeep/put-off", "task", "inspect", "stove", "1", "until", "tomorrow", "why", "no time")
	s.post("/upkeep/done", "task", "sweep", "stove", "1")
	assert.Equal(t, http.StatusUnprocessableEntity, s.post("/stove", "stove", "1", "start", "cold", "room", "18", "outdoor", "4").status,
		"swept is not inspected")
	assert.Contains(t, s.get("/").words(), "Its chimney burnt, and nobody has inspected it since")
	s.clock.at = s.clock.at.Add(48 * time.Hour)
	s.post("/upkeep/done", "task", "inspect", "stove", "1")
	s.onlyLogged("1", "cold")
}

// What nobody has time for is put off until a day, with a reason, and not for ever; whom to
// call is kept; the ash tells how much charcoal there was.
func TestUpkeepIsPutOff(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	require.Contains(t, s.get("/").words(), "Pip: see that air comes in")
	for _, c := range [][2]string{{"2026-04-20", ""}, {"2026-04-09", "why"}, {"2027-04-20", "why"}, {"soon", "why"}} {
		got := s.post("/upkeep/put-off", "task", "inlet", "stove", "4", "until", c[0], "why", c[1])
		assert.Equal(t, http.StatusUnprocessableEntity, got.status, "%v", c)
	}
	require.Equal(t, http.StatusSeeOther, s.post("/upkeep/put-off", "task", "inlet", "stove", "4", "until", "2026-04-20", "why", "the boat is out").status)
	assert.NotContains(t, s.get("/").words(), "Pip: see that air comes in")
	assert.Contains(t, s.get("/upkeep").words(), "Put off until 20 April 2026: the boat is out.")
	s.clock.at = s.clock.at.AddDate(0, 0, 11)
	assert.Contains(t, s.get("/").words(), "Pip: see that air comes in", "and then it is due again")

	require.Equal(t, http.StatusSeeOther, s.post("/upkeep/contacts", "name-sweep", "Runa", "phone-sweep", "0123 456").status)
	assert.Contains(t, s.get("/upkeep").body, `href="tel:0123%20456"`)
	assert.Equal(t, http.StatusUnprocessableEntity, s.post("/upkeep/contacts", "name-sweep", strings.Repeat("a", 90)).status)

	require.Equal(t, http.StatusSeeOther, s.post("/upkeep/done", "task", "ash", "stove", "1", "charcoal", "half of it charcoal", "note", "grey").status)
	assert.Contains(t, s.get("/upkeep").words(), "half of it charcoal; grey")
	s.newPerson()
	assert.NotContains(t, s.get("/upkeep").words(), "Runa")
}
