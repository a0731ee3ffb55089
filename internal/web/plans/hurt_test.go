package plans_test

import (
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/shed"
	"smolder/internal/store"
	"smolder/internal/web/webtest"
)

// What can hurt has its answer on the live page before any step of the plan.
func TestWhatHurtsIsAnsweredFirst(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	made := s.Wish("/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=-1&start=cold&wood=1&kindling=6")
	started := s.Post(made.To + "/start")
	require.Equal(t, http.StatusSeeOther, started.Status)
	live := started.To
	b := strings.TrimSuffix(live, "/live")
	log := func(pairs ...string) {
		t.Helper()
		got := s.Post(b+"/entries", pairs...)
		require.Equal(t, live, got.To, got.Words())
	}
	first := func() string {
		words := s.Get(live).Words()
		head, _, _ := strings.Cut(words, "Then: ")
		return head
	}
	log("kind", "light")
	log("kind", "door", "value", "ajar")
	s.Clock.At = s.Clock.At.Add(2 * time.Minute)
	assert.NotContains(t, first(), "The door has stood")
	s.Clock.At = s.Clock.At.Add(40 * time.Minute)
	assert.Contains(t, first(), "The door has stood ajar for 42 min")
	log("kind", "door", "value", "shut")
	assert.NotContains(t, first(), "The door has stood")

	// Any gauge over its limit, and not only the one that guides.
	log("kind", "temperature", "place", "connector-probe", "value", "300 C")
	log("kind", "temperature", "place", "top", "value", "440 C")
	over := first()
	assert.Contains(t, over, "Too hot: the top is at 440 °C")
	assert.Contains(t, over, "put nothing on")
	assert.Contains(t, over, "call the fire service")
	assert.NotContains(t, over, "Open the air")
	log("kind", "door", "value", "ajar")
	assert.Contains(t, first(), "Shut the door, then the air as the manual says")
	log("kind", "door", "value", "shut")
	log("kind", "temperature", "place", "top", "value", "300 C")
	assert.NotContains(t, first(), "Too hot")

	log("kind", "draft", "value", "-3 Pa")
	assert.Contains(t, first(), "smoke and carbon monoxide come into the room")
	log("kind", "draft", "value", "12 Pa")
	assert.NotContains(t, first(), "carbon monoxide come into the room")

	log("kind", "temperature", "place", "connector-probe", "value", "90 C")
	log("kind", "smoke", "value", "grey")
	smoulders := first()
	assert.Contains(t, smoulders, "the wood smoulders")
	assert.Contains(t, smoulders, "do not turn down")
	assert.Contains(t, s.Get("/").Words(), "the wood smoulders", "and on the first page")
	assert.Contains(t, s.Get(live).Words(), "A gauge over its limit, glowing metal, a roar", "overfire is one tap away")
}

// Every control that a plan relies on is on the page by its own name and mark,
// and among the taps at the stove.
func TestEverySettingIsOnThePage(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	for stove, wood := range map[string]string{"1": "1", "2": "2", "3": "3", "4": "5"} {
		made := s.Wish("/plan?stove=" + stove + "&aim=hold&for=5+h&low=19&high=21.5&room=16.5&outdoor=1&start=cold&kindling=6&fans=off&wood=" + wood)
		require.Equal(t, http.StatusOK, made.Status, "%s: %s", stove, made.Words())
		st, err := s.Store.Household(1).Stove(ctx, int64(stove[0]-'0'))
		require.NoError(t, err)
		row, err := s.Store.Household(1).Planned(ctx, webtest.IDOf(t, made.To))
		require.NoError(t, err)
		words := strings.ToLower(made.Words())
		for _, step := range row.Burn.Steps {
			for _, set := range step.Settings(st.Stove) {
				assert.Contains(t, words, strings.ToLower(set.Control.Name), "%s: %s", st.Name, step.Kind)
			}
		}
		started := s.Post(made.To+"/start", "air", "yes", "co", "yes") // of the cabin both are asked
		require.Equal(t, http.StatusSeeOther, started.Status, started.Words())
		live := s.Get(started.To)
		for _, set := range row.Burn.Steps[0].Settings(st.Stove) {
			assert.Regexp(t, fmt.Sprintf(`(?s)data-tap="y">.*name="c\d" value="%s"`, regexp.QuoteMeta(set.Control.Key)), live.Body, st.Name)
		}
	}
}

// "Do not light" is no plan; each help is shown with what it makes of the draft,
// and only one that removes the reason lets it start.
func TestOnlyWhatRemovesTheReasonLetsItStart(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	require.Equal(t, "/spaces/3", s.Post("/spaces/3", webtest.Change(webtest.Fields(s.Get("/spaces/3").Body), "fan", "600 m3/h", "n50", "1.5")...).To)
	wish := "/plan?stove=3&aim=hold&for=5+h&low=19&high=21.5&room=17&outdoor=13&start=cold&wood=3&kindling=6"
	refused := s.Wish(wish)
	require.Equal(t, http.StatusOK, refused.Status)
	assert.Contains(t, refused.Words(), "Do not light")
	assert.NotContains(t, refused.Body, "Start this burn")
	for _, says := range []string{"as things are", "fans off", "a window open a crack", "the flue warmed"} {
		assert.Contains(t, refused.Words(), says)
	}
	primed := s.Wish(wish + "&prime=yes")
	assert.Contains(t, primed.Words(), "Do not light", "warming the flue does not turn a fan")
	off := s.Wish(wish + "&fans=off&prime=yes")
	require.Equal(t, http.StatusOK, off.Status)
	assert.Contains(t, off.Words(), "What to do")
	assert.Contains(t, off.Words(), "The extraction fans stay off while it burns")
	assert.Contains(t, off.Body, "Start this burn")
}

// In a boat, a van or a hut nobody sleeps or goes away with a fire in, unless
// the owner has said that the manual allows it; and then with a caution.
func TestBoatsVansAndHuts(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	for _, wish := range []string{
		"/plan?stove=4&aim=overnight&for=7+h&low=17&high=21.5&room=17&outdoor=4&start=cold&wood=5&kindling=6",
		"/plan?stove=4&aim=away&for=5+h&low=17&high=21.5&room=17&outdoor=4&start=cold&wood=5&kindling=6",
		"/plan?stove=4&aim=hold&for=5+h&low=17&high=21.5&room=17&outdoor=4&start=cold&wood=5&kindling=6&there=2+h",
	} {
		refused := s.Wish(wish)
		assert.Contains(t, refused.Words(), "No plan.", wish)
		assert.Contains(t, refused.Words(), "unless the stove's manual allows it", wish)
	}
	awake := s.Wish("/plan?stove=4&aim=hold&for=3+h&low=17&high=21.5&room=15&outdoor=4&start=cold&wood=5&kindling=6")
	require.Contains(t, awake.Words(), "What to do")
	assert.Contains(t, awake.Words(), "A small space needs its own opening for fresh air")
	require.Equal(t, "/stoves/4", s.Post("/stoves/4", webtest.Change(webtest.Fields(s.Get("/stoves/4/edit").Body), "unattended", "yes")...).To)
	allowed := s.Wish("/plan?stove=4&aim=hold&for=5+h&low=17&high=21.5&room=17&outdoor=4&start=cold&wood=5&kindling=6&there=3+h")
	assert.Contains(t, allowed.Words(), "You have said that the manual allows a fire here")
	for _, says := range []string{"metal bin with a tight lid", "children and pets", "burn ban"} {
		assert.Contains(t, strings.ToLower(allowed.Words()), strings.ToLower(says))
	}
}

// A day of mineral fuel is no wood, has no simulated figures, and its gauges are
// read as they are.
func TestADayOfMineralFuel(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	mineral := s.Post("/wood", "name", "Ovoids, bunker", "species", "mineral-fuel", "piece-mass", "0.05 kg", "piece-length", "50 mm", "mass",
		"300 kg", "reading", "", "wood-temp", "")
	require.Equal(t, http.StatusSeeOther, mineral.Status, mineral.Words())
	id := strings.TrimPrefix(mineral.To, "/wood/")
	assert.Contains(t, s.Wish("/plan?stove=3&aim=hold&for=5+h&low=19&high=21.5&room=17&outdoor=2&start=cold&kindling=6&wood="+id).Words(),
		"nothing to plan with")
	left := func() (sum float64) {
		stacks, err := new(shed.Shed).Stacks(ctx, s.Store.Household(1), s.Clock.Now())
		require.NoError(t, err)
		for _, st := range stacks {
			if !st.Species.Mineral {
				sum += float64(st.Left.Middle)
			}
		}
		return sum
	}
	before := left()
	got := s.Post("/stove", "stove", "3", "start", "cold", "room", "18", "outdoor", "4")
	require.Equal(t, http.StatusSeeOther, got.Status)
	b := strings.TrimSuffix(got.To, "/live")
	for i, e := range [][]string{
		{"kind", "light"}, {"kind", "load", "stack", id, "pieces", "60"}, {"kind", "temperature", "place", "top", "value", "180 C"},
		{"kind", "temperature", "place", "room", "value", "20.5 C"},
	} {
		s.Clock.At = s.Clock.At.Add(time.Duration(i*40) * time.Minute)
		answer := s.Post(b+"/entries", e...)
		require.Equal(t, b+"/live", answer.To, "%v: %s", e, answer.Words())
	}
	live := s.Get(b + "/live").Words()
	assert.Contains(t, live, "Mineral fuel is recorded and not simulated")
	assert.NotContains(t, live, "all of it is black")
	s.Clock.At = s.Clock.At.Add(5 * time.Hour)
	require.Equal(t, b, s.Post(b+"/end").To)
	words := s.Get(b).Words()
	assert.Contains(t, words, "mineral fuel 3.0 kg")
	assert.NotContains(t, words, "% water")
	assert.NotRegexp(t, `wood used \d`, words)
	assert.NotRegexp(t, `heat to the room \d`, words)
	assert.NotContains(t, words, "(computed)", "nothing of it is simulated")
	assert.InDelta(t, before, left(), 1e-9, "no wood was burnt")
}

// What is kept in a form that nobody can read is said where it stands, and is in nothing
// else's way: neither another fire's dangers, nor the pages of the same household.
func TestOneThingThatCannotBeRead(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	home := s.Store.Household(1)
	ids := map[string]int64{}
	for _, st := range []string{"1", "2"} {
		got := s.Post("/stove", "stove", st, "start", "cold", "when", "now")
		require.Equal(t, http.StatusSeeOther, got.Status, got.Words())
		var id int64
		_, err := fmt.Sscanf(got.To, "/burns/%d/live", &id)
		require.NoError(t, err)
		ids[st] = id
	}
	spoil := func(table string, id int64) {
		t.Helper()
		_, err := s.Store.DB().Exec(`UPDATE `+table+` SET spec = '{"form": 99, "from": "later"}' WHERE household_id = 1 AND id = $1`, id)
		require.NoError(t, err)
	}
	spoil("burns", ids["1"])
	require.Equal(t, http.StatusSeeOther, s.Post(fmt.Sprintf("/burns/%d/entries", ids["2"]), "kind", "light").Status)
	require.Equal(t, http.StatusSeeOther, s.Post(fmt.Sprintf("/burns/%d/entries", ids["2"]), "kind", "smoke", "value", "room").Status)
	now := s.Get("/")
	require.Equal(t, http.StatusOK, now.Status, now.Words())
	assert.Contains(t, now.Words(), "a fire that cannot be shown")
	for _, path := range []string{"/", "/stove?another=1", "/stoves", "/wood", "/burns", "/season", "/plan", "/burns/logbook.json"} {
		got := s.Get(path)
		assert.Equal(t, http.StatusOK, got.Status, path)
		if !strings.HasSuffix(path, "json") {
			assert.Contains(t, got.Words(), "moke comes into the room", path+": the other fire's danger")
		}
	}
	assert.Equal(t, http.StatusInternalServerError, s.Get(fmt.Sprintf("/burns/%d/live", ids["1"])).Status)
	asked := s.Get("/stove?another=1")
	assert.Contains(t, asked.Words(), "is kept in a form that this version cannot read")
	assert.Contains(t, asked.Body, fmt.Sprintf(`action="/burns/%d/remove"`, ids["1"]))
	require.Equal(t, http.StatusSeeOther, s.Post(fmt.Sprintf("/burns/%d/remove", ids["1"])).Status)
	assert.NotContains(t, s.Get("/stove?another=1").Words(), "this version cannot read")
	assert.Equal(t, http.StatusSeeOther, s.Post("/stove", "stove", "1", "start", "cold", "when", "now").Status, "another can begin")

	st, err := home.Stove(ctx, 3)
	require.NoError(t, err)
	spoil("stoves", 3)
	list := s.Get("/stoves")
	require.Equal(t, http.StatusOK, list.Status)
	assert.Contains(t, list.Words(), st.Name+" is kept in a form that this version cannot read")
	assert.Equal(t, http.StatusOK, s.Get("/").Status)
	_, err = home.Stove(ctx, 3)
	require.ErrorIs(t, err, store.ErrUnreadable)
	spoil("spaces", st.Space.ID)
	for _, path := range []string{"/", "/stoves", "/plan", "/stove?another=1", "/wood/winter", "/upkeep"} {
		assert.Equal(t, http.StatusOK, s.Get(path).Status, path)
	}
}
