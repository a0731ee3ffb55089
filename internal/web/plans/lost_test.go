package plans_test

import (
	"fmt"
	"math"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/units"
	"smolder/internal/web/webtest"
)

// Two people who change one thing: the second is told, sees both versions, and
// decides.
func TestTwoPeopleChangeOneThing(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	for path, c := range map[string]struct{ show, field, first, second string }{
		"/stoves/1":  {"/stoves/1/edit", "max-load", "6.5 kg", "5.5 kg"},
		"/wood/1":    {"/wood/1/edit", "piece-mass", "1.4 kg", "1.5 kg"},
		"/spaces/1":  {"/spaces/1", "floor", "60 m2", "58 m2"},
		"/household": {"/household", "household", "The Mill", "Tarn Mill on Hallasey"},
	} {
		mine, theirs := webtest.Fields(s.Get(c.show).Body), webtest.Fields(s.Get(c.show).Body)
		require.Equal(t, http.StatusSeeOther, s.Post(path, webtest.Change(theirs, c.field, c.first)...).Status, path)
		late := s.Post(path, webtest.Change(mine, c.field, c.second)...)
		require.Equal(t, http.StatusConflict, late.Status, path)
		assert.Contains(t, strings.ToLower(late.Words()), "somebody else has changed this", path)
		assert.Contains(t, late.Body, `value="`+c.second+`"`, "%s: mine is still there", path)
		assert.Contains(t, late.Words(), strings.NewReplacer("6.5 kg", "6.5 kg", "60 m2", "60 m²").Replace(c.first), "%s: and theirs beside it", path)
		assert.Equal(t, http.StatusSeeOther, s.Post(path, webtest.Fields(late.Body)...).Status, "%s: sent again, mine is kept", path)
		assert.Contains(t, s.Get(c.show).Body, strings.Replace(c.second, "m2", "m²", 1), path)
	}
}

// A plan that is done to the letter is replayed to what was planned: with the
// weather of its hours, the wind, and all that it assumed.
func TestAPlanDoneExactlyComesOutAsPlanned(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	h := s.Store.Household(1)
	for _, wish := range []string{
		"/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=forecast&start=cold&wood=1&kindling=6",
		"/plan?stove=1&aim=hold&for=5+h&low=18&high=21&room=17&outdoor=-3&wind=7+m/s&start=good-coals&wood=2&fans=off&window=open",
	} {
		made := s.Wish(wish)
		require.Equal(t, http.StatusOK, made.Status, made.Words())
		started := s.Post(made.To + "/start")
		require.Equal(t, http.StatusSeeOther, started.Status, started.Words())
		open, err := h.OpenBurns(ctx)
		require.NoError(t, err)
		require.Len(t, open, 1)
		p := *open[0].Plan
		b, err := h.Burn(ctx, open[0].ID)
		require.NoError(t, err)
		log := b.Burn
		for _, st := range p.Steps {
			for _, a := range st.Fire.Do {
				e, ok := burn.EntryOf(a)
				if !ok {
					continue
				}
				e.At, e.ID, e.Seq = log.Started.Add(st.Expected), fmt.Sprintf("e%d", len(log.Entries)), int64(len(log.Entries)+1)
				log.Entries = append(log.Entries, e)
			}
		}
		r := log.Replay(log.Started.Add(p.Wish.For))
		worst := 0.0
		for _, sample := range r.Samples {
			if i := int(sample.At / p.Predicted.Every); sample.At%p.Predicted.Every == 0 && i < len(p.Predicted.Room) && sample.At <= p.Wish.For {
				worst = math.Max(worst, math.Abs(p.Predicted.Room[i]-float64(sample.Room)))
			}
		}
		assert.Less(t, worst, 0.3, "K off the planned room, %s", wish)
		assert.InDelta(t, p.Summary.SmokePerKg, r.Summary.SmokePerKg, 0.5, wish)
		require.Equal(t, http.StatusSeeOther, s.Post(started.To[:strings.LastIndex(started.To, "/")]+"/end").Status)
	}
}

// A kept plan opens when a stack or the stove of it is gone, and says so.
func TestAKeptPlanWhoseStackIsGone(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	made := s.Wish("/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=2&start=cold&wood=1&kindling=6&begin=22:00")
	require.Equal(t, "/", s.Post(made.To+"/keep").To)
	s.Post("/wood/1/remove")
	again := s.Get(made.To)
	require.Equal(t, http.StatusOK, again.Status)
	assert.Contains(t, again.Words(), "off the list of stacks since this was planned")
	s.Post("/wood/1/put-back")
	s.Post("/stoves/1/remove")
	gone := s.Get(made.To)
	require.Equal(t, http.StatusOK, gone.Status)
	assert.Contains(t, gone.Words(), "off the list of stoves")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(made.To+"/start").Status)
	assert.NotContains(t, strings.Split(s.Get("/stoves").Body, "Off the list")[0], "Auntie")
	s.Post("/stoves/1/put-back")
	assert.Equal(t, http.StatusOK, s.Get("/stoves/1").Status)
	// What is posted with it is not kept.
	junk := s.Post("/plan", "stove", "1", "aim", "hold", "for", "6 h", "low", "19", "high", "21.5", "room", "16.5", "outdoor", "2", "start",
		"cold", "wood", "1", "kindling", "6", "junk", strings.Repeat("x", 100<<10))
	require.Equal(t, http.StatusSeeOther, junk.Status)
	var widest int
	require.NoError(t, s.Store.DB().QueryRow(`SELECT max(length(asked)) FROM plans`).Scan(&widest))
	assert.Less(t, widest, 1000)
}

// Every example that a page prints beside a field is accepted by that field.
func TestEveryExampleIsAccepted(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b := webtest.AtTheStove(s)
	seen := 0
	understood := func(kind, typed, where string) {
		seen++
		got := s.Get("/understand?kind=" + url.QueryEscape(kind) + "&typed=" + url.QueryEscape(typed))
		assert.Equal(t, http.StatusOK, got.Status, "%s: %q as %s: %s", where, typed, kind, got.Body)
	}
	h := s.Store.Household(1)
	for _, system := range []units.System{units.Metric, units.Imperial} {
		p, err := h.Profile(ctx)
		require.NoError(t, err)
		p.Units = system
		require.NoError(t, h.SaveProfile(ctx, p))
		for _, path := range []string{"/stoves/new", "/wood/new", "/spaces/new", "/household", b + "/live", "/stove?another=1", "/plan"} {
			body := s.Get(path).Body
			for _, m := range regexp.MustCompile(`(?s)<label class="field"[^>]*>.*?</label>`).FindAllString(body, -1) {
				kind, hint := webtest.Between(m, `data-understand="`, `"`), webtest.Between(m, `<span class="hint"`, `</span>`)
				_, hint, _ = strings.Cut(hint, ">")
				if kind == "" {
					continue
				}
				hint, _, _ = strings.Cut(hint, ";")
				for _, example := range regexp.MustCompile(` or |, `).Split(hint, -1) {
					example = regexp.MustCompile(`^[^0-9−-]*`).ReplaceAllString(example, "")
					if regexp.MustCompile(`^[0-9−-]`).MatchString(example) {
						understood(kind, example, path)
					}
				}
			}
		}
	}
	assert.Greater(t, seen, 20)
	// A refusal names something that would do: it does.
	for _, kind := range []string{"temperature", "room", "mass", "length", "size", "volume", "flow", "draft", "power", "moisture", "span",
		"pieces", "area", "rooms", "wind"} {
		for _, typed := range []string{"no such thing", "-99999", "99999999"} {
			got := s.Get("/understand?kind=" + kind + "&typed=" + url.QueryEscape(typed))
			if got.Status == http.StatusOK {
				continue
			}
			_, said, _ := strings.Cut(strings.ReplaceAll(got.Body, `\"`, ""), "; ")
			said, _, _ = strings.Cut(said, " would do")
			for _, example := range regexp.MustCompile(` or | to |, `).Split(said, -1) {
				if regexp.MustCompile(`^[0-9−]`).MatchString(example) {
					understood(kind, example, "the refusal of "+typed)
				}
			}
		}
	}
}

// Two stoves in one space know of each other: the heat of one that is planned or
// burning goes into the plan and the day of the other.
func TestTwoStovesInOneSpace(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	alone := "/plan?stove=3&aim=hold&for=6+h&low=19&high=21.5&room=17&outdoor=2&start=cold&wood=3&kindling=6"
	before := s.Wish(alone)
	require.Equal(t, http.StatusOK, before.Status, before.Words())
	assert.NotContains(t, before.Words(), "in the same space")
	require.Equal(t, http.StatusSeeOther, s.Post("/stoves/1",
		webtest.Change(webtest.Fields(s.Get("/stoves/1/edit").Body), "space-id", webtest.FieldsOf(s.Get("/stoves/3/edit"))["space-id"])...).Status)
	first := s.Wish("/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=17&outdoor=2&start=cold&wood=1&kindling=6")
	require.Equal(t, http.StatusSeeOther, s.Post(first.To+"/start").Status)
	beside := s.Wish(alone)
	require.Equal(t, http.StatusOK, beside.Status)
	assert.Contains(t, beside.Words(), "in the same space")
	row, err := s.Store.Household(1).Planned(ctx, webtest.IDOf(t, beside.To))
	require.NoError(t, err)
	was, err := s.Store.Household(1).Planned(ctx, webtest.IDOf(t, before.To))
	require.NoError(t, err)
	require.NotEmpty(t, row.Burn.Wish.Beside)
	assert.Less(t, row.Burn.Mass(), was.Burn.Mass()+0.01, "less is burnt where another gives heat")
	second := s.Post(beside.To + "/start")
	require.Equal(t, http.StatusSeeOther, second.Status, second.Words())
	open, err := s.Store.Household(1).OpenBurns(ctx)
	require.NoError(t, err)
	kept := 0
	for _, o := range open {
		kept += len(o.Beside)
	}
	assert.NotZero(t, kept, "and its replay has that heat too")
}

// A second stove is logged while one burns; what is not known when it is lit
// stays not known; it may have begun a while ago, and its end too.
func TestLoggingLater(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	webtest.AtTheStove(s)
	page := s.Get("/stove?another=1")
	require.Equal(t, http.StatusOK, page.Status)
	assert.NotContains(t, webtest.Between(page.Body, `name="stove"`, `</select>`), "Auntie", "one fire in a stove")
	got := s.Post("/stove", "stove", "2", "start", "few-coals", "when", "90 min ago", "room", "", "outdoor", "")
	require.Equal(t, http.StatusSeeOther, got.Status, got.Words())
	b := strings.TrimSuffix(got.To, "/live")
	require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "temperature", "place", "connector-probe", "value", "230 C", "when", "80 min ago").To)
	refused := s.Post(b+"/end", "when", "3 h ago")
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Status)
	require.Equal(t, b, s.Post(b+"/end", "when", "20 min ago").To)
	words := s.Get(b).Words()
	assert.Contains(t, words, "not known", "the room and the weather that nobody entered")
	assert.Contains(t, words, "1 h 10 min")
	late := s.Post(b+"/entries", "kind", "note", "note", "too late")
	assert.Equal(t, http.StatusUnprocessableEntity, late.Status, "an ended burn takes no entry")
	again := s.Post(b + "/end")
	assert.NotEqual(t, http.StatusInternalServerError, again.Status)
	assert.Contains(t, s.Get(b).Words(), "1 h 10 min", "ending again moves nothing")
	for typed, says := range map[string]string{"in 3 h": "", "yesterday-ish": "is not a time", "60 h ago": "is not a time"} {
		bad := s.Post("/stove", "stove", "3", "start", "cold", "when", typed)
		assert.Equal(t, http.StatusUnprocessableEntity, bad.Status, typed)
		assert.Contains(t, bad.Words(), says)
	}
}

// A day's page can be answered as it opens, also late in the evening; a plan may
// be for a time before anybody is there, and so may its calendar; and what lights
// the kindling is chosen.
func TestDaysInTheEveningAndBeforeAnybodyIsThere(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	for _, hour := range []int{7, 21, 23} {
		s.Clock.At = time.Date(2026, 4, 10, hour, 50, 0, 0, time.UTC)
		form := webtest.Change(webtest.Fields(s.Get("/plan/day").Body), "room", "17 C")
		got := s.Post("/plan/day", form...)
		require.Equal(t, http.StatusSeeOther, got.Status, "%d: %s", hour, got.Words())
	}
	s.Clock.At = time.Date(2026, 4, 10, 6, 0, 0, 0, time.UTC)
	day := s.Wish("/plan/day?stove=1&aim=hold&for=22:30&low=18&high=21.5&room=15&outdoor=0&start=cold&wood=1&kindling=6&begin=06:10&there=09:00-12:00")
	require.Equal(t, http.StatusOK, day.Status, day.Words())
	for _, m := range regexp.MustCompile(`<td class="font-serif text-lg">(\d\d):`).FindAllStringSubmatch(day.Body, -1) {
		assert.Contains(t, []string{"09", "10", "11"}, m[1], "nobody is there before")
	}
	for _, m := range regexp.MustCompile(`DTSTART:20260410T(\d\d)`).FindAllStringSubmatch(s.Get(day.To+"/plan.ics").Body, -1) {
		assert.Contains(t, []string{"09", "10", "11"}, m[1])
	}
	paper := s.Wish("/plan?stove=1&aim=hold&for=4+h&low=18&high=21.5&room=15&outdoor=0&start=cold&wood=1&kindling=6&starter=paper")
	require.Equal(t, http.StatusOK, paper.Status, paper.Words())
	row, err := s.Store.Household(1).Planned(ctx, webtest.IDOf(t, paper.To))
	require.NoError(t, err)
	assert.Equal(t, fire.Paper, row.Burn.Kindling.StarterKind)
	assert.Equal(t, http.StatusUnprocessableEntity, s.Wish("/plan?stove=1&aim=hold&for=4+h&low=18&high=21.5&room=15&outdoor=0&start=cold&wood=1&starter=petrol").Status)
}

// Nothing that nobody said is kept as if somebody had.
func TestNothingIsInvented(t *testing.T) {
	s := webtest.New(t, false)
	require.Equal(t, "/stoves/new", s.SetUp().To)
	form := webtest.FieldsOf(s.Get("/stoves/new"))
	for name := range form {
		assert.False(t, strings.HasPrefix(name, "gauge-") && !strings.Contains(strings.TrimPrefix(name, "gauge-"), "-low") && form[name] == "yes",
			"%s is ticked", name)
	}
	space := s.Space()
	assert.Contains(t, s.Get("/household").Words(), "assumed: nobody has said yet")
	require.Equal(t, "/wood/new", s.Post("/stoves", webtest.Auntie("space-id", space)...).To)
	require.Equal(t, "/plan", s.Post("/wood", webtest.Beech()...).To)
	sentence := webtest.FieldsOf(s.Get("/plan"))
	assert.Equal(t, "chilly", sentence["room"], "a word that is taken for what it says, and no number")
	first := s.Post("/plan", webtest.Fields(s.Get("/plan").Body)...)
	require.Equal(t, http.StatusSeeOther, first.Status, "the first click makes a plan: "+first.Words())
	felt := s.Get(first.To)
	assert.Contains(t, felt.Words(), "No thermometer says how warm the room is: 17 °C is taken for it.")
	assert.Empty(t, sentence["outdoor"], "there is no forecast of a made-up island here")
	refused := s.Post("/plan", webtest.Change(webtest.Fields(s.Get("/plan").Body), "room", "17 C", "outdoor", "forecast")...)
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Status)
	assert.Contains(t, strings.ToLower(refused.Words()), "there is no forecast here yet")
	made := s.Wish("/plan?stove=1&aim=hold&for=5+h&room=17&outdoor=3&start=cold&wood=1")
	require.Equal(t, http.StatusOK, made.Status, made.Words())
	assert.Contains(t, made.Words(), "Nobody has described this space yet")
	assert.Contains(t, made.Words(), "(assumed)")
	private := s.Post("/household", webtest.Change(webtest.Fields(s.Get("/household").Body), "weather", "http://127.0.0.1:9/")...)
	if private.Status == http.StatusSeeOther { // it may be named, and is not asked
		assert.NotContains(t, s.Get("/household").Words(), "°C outside just now")
	}
}
