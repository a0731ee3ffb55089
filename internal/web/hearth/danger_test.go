package hearth_test

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
	"smolder/internal/web/webtest"
)

// The worst danger of all the household's fires stands first on every page, whichever
// stove somebody looks at, until it is answered.
func TestTheWorstDangerStandsFirstEverywhere(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	auntie, loom := s.OnlyLogged("1", "good-coals"), s.OnlyLogged("2", "good-coals")
	log := func(b string, pairs ...string) {
		t.Helper()
		got := s.Post(b+"/entries", pairs...)
		require.Equal(t, b+"/live", got.To, got.Words())
	}
	first := func(path string) string { // what stands before the page's own heading
		page := s.Get(path).Words()
		at := strings.Index(page, "Chimney fire Smolder CO alarm Chimney fire")
		require.Positive(t, at, path)
		return page[at:min(len(page), at+700)]
	}
	log(auntie, "kind", "door", "value", "ajar")
	s.Clock.At = s.Clock.At.Add(42 * time.Minute)
	log(loom, "kind", "smoke", "value", "room")
	for _, path := range []string{"/", "/wood", "/plan", auntie + "/live", "/burns", "/upkeep"} {
		assert.Contains(t, first(path), "Loom : Smoke comes into the room", path)
	}
	assert.Contains(t, s.Get(loom+"/live").Words(), "Auntie : The door has stood ajar", "and the lesser one under its own")
	assert.NotContains(t, first(loom + "/live")[:120], "Auntie")

	// It is not forgotten with time, and a look at the cap does not answer it.
	s.Clock.At = s.Clock.At.Add(3 * time.Hour)
	log(loom, "kind", "smoke", "value", "clear")
	assert.Contains(t, first("/wood"), "Smoke came into the room 3 h ago, and nobody has said that it is gone")
	log(loom, "kind", "smoke", "value", "gone")
	assert.NotContains(t, first("/wood"), "Smoke came")
	assert.Contains(t, first("/wood"), "Auntie : The door has stood ajar")
	log(auntie, "kind", "door", "value", "shut")
	assert.NotContains(t, s.Get("/wood").Words(), "Auntie : ")

	// Nobody else's.
	log(loom, "kind", "co-alarm")
	s.NewPerson()
	assert.NotContains(t, s.Get("/sign-in").Words(), "The CO alarm sounds")
}

// What is done is done once: by two phones, by a double click, on a slow page.
func TestDoneTwiceIsDoneOnce(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b, _ := s.Begun(webtest.ColdEvening)
	one, two := webtest.Doing(s.Get(b+"/live")), webtest.Doing(s.Get(b+"/live"))
	require.Equal(t, one, two, "both phones are shown the same")
	var all sync.WaitGroup
	for i := range 6 {
		all.Go(func() {
			form := one
			if i%2 == 1 {
				form = webtest.Change(two, "at", s.Clock.At.Add(40*time.Second).Format(time.RFC3339))
			}
			assert.Equal(t, b+"/live", s.Post(b+"/done", form...).To)
		})
	}
	all.Wait()
	count := func() (loads, entries int) {
		full, err := s.Store.Household(1).Burn(t.Context(), webtest.BurnID(t, b))
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
			other = webtest.Change(other, one[i], "7")
			break
		}
	}
	late := s.Post(b+"/done", other...)
	assert.Equal(t, http.StatusConflict, late.Status)
	assert.Contains(t, late.Words(), "This was logged already, at")
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
	require.Equal(t, b+"/live", s.Post(b+"/taps/"+tap+"/undo").To)
	once := webtest.Doing(s.Get(b + "/live"))
	require.NotEqual(t, one, once)
	require.Equal(t, b+"/live", s.Post(b+"/done", once...).To)
	again, _ = count()
	assert.Equal(t, loads, again)
}

// The same id with other content is not dropped in silence, from a program neither.
func TestTheSameIDWithOtherContent(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b := s.OnlyLogged("1", "good-coals")
	require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "temperature", "place", "top", "value", "200 C", "id", "one").To)
	require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "temperature", "place", "top", "value", "200 C", "id", "one").To, "sent again")
	other := s.Post(b+"/entries", "kind", "temperature", "place", "top", "value", "260 C", "id", "one")
	assert.Equal(t, http.StatusConflict, other.Status)
	assert.Contains(t, other.Words(), "as: top 200 °C")
}

// Whoever says "not done" is not told "now" of the same step for a while; a stove that is
// said to be out is not loaded, turned down or shut.
func TestNotDoneAndOut(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b, _ := s.Begun("/plan?stove=1&aim=hold&for=5+h&low=18&high=21&room=17&outdoor=-3&start=good-coals&wood=2&kindling=6")
	require.Contains(t, s.Get(b+"/live").Words(), "Now: Load")
	require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "not-yet", "note", "Not done: load").To)
	page := s.Get(b + "/live").Words()
	assert.NotContains(t, page, "Now: Load")
	assert.Contains(t, page, "you have said: not yet")
	s.Clock.At = s.Clock.At.Add(40 * time.Minute)
	require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "went-out").To)
	for range 3 {
		page = s.Get(b + "/live").Words()
		assert.NotContains(t, page, "Now: Load")
		assert.NotContains(t, page, "Now: Lever")
		assert.Contains(t, page, "Auntie · out", fmt.Sprint(s.Clock.At))
		assert.NotContains(t, page, "next load", "of a fire that is out nothing is foretold")
		s.Clock.At = s.Clock.At.Add(2 * time.Hour)
	}
}

// After a chimney fire nothing is planned or started in that stove until an inspection is
// entered; swept by oneself is none.
func TestAfterAChimneyFire(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b := s.OnlyLogged("1", "good-coals")
	require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "chimney-fire").To)
	assert.Contains(t, s.Get("/").Words(), "Auntie : A chimney fire.")
	require.Equal(t, b, s.Post(b+"/end").To)
	const inspect = "No fire in Auntie before its flue was inspected after the chimney fire"
	planned := s.Wish("/plan?stove=1&aim=hold&for=5+h&low=18&high=21&room=17&outdoor=2&start=cold&wood=1&kindling=6")
	assert.Contains(t, planned.Words(), inspect)
	started := s.Post("/stove", "stove", "1", "start", "cold", "room", "18", "outdoor", "4")
	assert.Equal(t, http.StatusUnprocessableEntity, started.Status)
	assert.Contains(t, started.Words(), inspect)
	s.OnlyLogged("2", "cold")
	s.Post("/upkeep/put-off", "task", "inspect", "stove", "1", "until", "tomorrow", "why", "no time")
	s.Post("/upkeep/done", "task", "sweep", "stove", "1")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/stove", "stove", "1", "start", "cold", "room", "18", "outdoor", "4").Status,
		"swept is not inspected")
	assert.Contains(t, s.Get("/").Words(), "Its chimney burnt, and nobody has inspected it since")
	s.Clock.At = s.Clock.At.Add(48 * time.Hour)
	s.Post("/upkeep/done", "task", "inspect", "stove", "1")
	s.OnlyLogged("1", "cold")
}

// What nobody has time for is put off until a day, with a reason, and not for ever; whom to
// call is kept; the ash tells how much charcoal there was.
func TestUpkeepIsPutOff(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	require.Contains(t, s.Get("/").Words(), "Pip: see that air comes in")
	for _, c := range [][2]string{{"2026-04-20", ""}, {"2026-04-09", "why"}, {"2027-04-20", "why"}, {"soon", "why"}} {
		got := s.Post("/upkeep/put-off", "task", "inlet", "stove", "4", "until", c[0], "why", c[1])
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, "%v", c)
	}
	require.Equal(t, http.StatusSeeOther, s.Post("/upkeep/put-off", "task", "inlet", "stove", "4", "until", "2026-04-20", "why", "the boat is out").Status)
	assert.NotContains(t, s.Get("/").Words(), "Pip: see that air comes in")
	assert.Contains(t, s.Get("/upkeep").Words(), "Put off until 20 April 2026: the boat is out.")
	s.Clock.At = s.Clock.At.AddDate(0, 0, 11)
	assert.Contains(t, s.Get("/").Words(), "Pip: see that air comes in", "and then it is due again")

	require.Equal(t, http.StatusSeeOther, s.Post("/upkeep/contacts", "name-sweep", "Runa", "phone-sweep", "0123 456").Status)
	assert.Contains(t, s.Get("/upkeep").Body, `href="tel:0123%20456"`)
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/upkeep/contacts", "name-sweep", strings.Repeat("a", 90)).Status)

	require.Equal(t, http.StatusSeeOther, s.Post("/upkeep/done", "task", "ash", "stove", "1", "charcoal", "half of it charcoal", "note", "grey").Status)
	assert.Contains(t, s.Get("/upkeep").Words(), "half of it charcoal; grey")
	s.NewPerson()
	assert.NotContains(t, s.Get("/upkeep").Words(), "Runa")
}
