package web_test

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
)

// Two people who change one thing: the second is told, sees both versions, and
// decides.
func TestTwoPeopleChangeOneThing(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	for path, c := range map[string]struct{ show, field, first, second string }{
		"/stoves/1":  {"/stoves/1/edit", "max-load", "6.5 kg", "5.5 kg"},
		"/wood/1":    {"/wood/1/edit", "piece-mass", "1.4 kg", "1.5 kg"},
		"/spaces/1":  {"/spaces/1", "floor", "60 m2", "58 m2"},
		"/household": {"/household", "household", "The Mill", "Tarn Mill on Hallasey"},
	} {
		mine, theirs := fields(s.get(c.show).body), fields(s.get(c.show).body)
		require.Equal(t, http.StatusSeeOther, s.post(path, with(theirs, c.field, c.first)...).status, path)
		late := s.post(path, with(mine, c.field, c.second)...)
		require.Equal(t, http.StatusConflict, late.status, path)
		assert.Contains(t, strings.ToLower(late.words()), "somebody else has changed this", path)
		assert.Contains(t, late.body, `value="`+c.second+`"`, "%s: mine is still there", path)
		assert.Contains(t, late.words(), strings.NewReplacer("6.5 kg", "6.5 kg", "60 m2", "60 m²").Replace(c.first), "%s: and theirs beside it", path)
		assert.Equal(t, http.StatusSeeOther, s.post(path, fields(late.body)...).status, "%s: sent again, mine is kept", path)
		assert.Contains(t, s.get(c.show).body, strings.Replace(c.second, "m2", "m²", 1), path)
	}
}

// A plan that is done to the letter is replayed to what was planned: with the
// weather of its hours, the wind, and all that it assumed.
func TestAPlanDoneExactlyComesOutAsPlanned(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	h := s.store.Household(1)
	for _, wish := range []string{
		"/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=forecast&start=cold&wood=1&kindling=6",
		"/plan?stove=1&aim=hold&for=5+h&low=18&high=21&room=17&outdoor=-3&wind=7+m/s&start=good-coals&wood=2&fans=off&window=open",
	} {
		made := s.wish(wish)
		require.Equal(t, http.StatusOK, made.status, made.words())
		started := s.post(made.to + "/start")
		require.Equal(t, http.StatusSeeOther, started.status, started.words())
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
		require.Equal(t, http.StatusSeeOther, s.post(started.to[:strings.LastIndex(started.to, "/")]+"/end").status)
	}
}

// A kept plan opens when a stack or the stove of it is gone, and says so.
func TestAKeptPlanWhoseStackIsGone(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	made := s.wish("/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=2&start=cold&wood=1&kindling=6&begin=22:00")
	require.Equal(t, "/", s.post(made.to+"/keep").to)
	s.post("/wood/1/remove")
	again := s.get(made.to)
	require.Equal(t, http.StatusOK, again.status)
	assert.Contains(t, again.words(), "off the list of stacks since this was planned")
	s.post("/wood/1/put-back")
	s.post("/stoves/1/remove")
	gone := s.get(made.to)
	require.Equal(t, http.StatusOK, gone.status)
	assert.Contains(t, gone.words(), "off the list of stoves")
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(made.to+"/start").status)
	assert.NotContains(t, strings.Split(s.get("/stoves").body, "Off the list")[0], "Auntie")
	s.post("/stoves/1/put-back")
	assert.Equal(t, http.StatusOK, s.get("/stoves/1").status)
	// What is posted with it is not kept.
	junk := s.post("/plan", "stove", "1", "aim", "hold", "for", "6 h", "low", "19", "high", "21.5", "room", "16.5", "outdoor", "2", "start",
		"cold", "wood", "1", "kindling", "6", "junk", strings.Repeat("x", 100<<10))
	require.Equal(t, http.StatusSeeOther, junk.status)
	var widest int
	require.NoError(t, s.store.DB().QueryRow(`SELECT max(length(asked)) FROM plans`).Scan(&widest))
	assert.Less(t, widest, 1000)
}

// Every example that a page prints beside a field is accepted by that field.
func TestEveryExampleIsAccepted(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	b := atTheStove(s)
	seen := 0
	understood := func(kind, typed, where string) {
		seen++
		got := s.get("/understand?kind=" + url.QueryEscape(kind) + "&typed=" + url.QueryEscape(typed))
		assert.Equal(t, http.StatusOK, got.status, "%s: %q as %s: %s", where, typed, kind, got.body)
	}
	h := s.store.Household(1)
	for _, system := range []units.System{units.Metric, units.Imperial} {
		p, err := h.Profile(ctx)
		require.NoError(t, err)
		p.Units = system
		require.NoError(t, h.SaveProfile(ctx, p))
		for _, path := range []string{"/stoves/new", "/wood/new", "/spaces/new", "/household", b + "/live", "/stove?another=1", "/plan"} {
			body := s.get(path).body
			for _, m := range regexp.MustCompile(`(?s)<label class="field"[^>]*>.*?</label>`).FindAllString(body, -1) {
				kind, hint := between(m, `data-understand="`, `"`), between(m, `<span class="hint"`, `</span>`)
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
			got := s.get("/understand?kind=" + kind + "&typed=" + url.QueryEscape(typed))
			if got.status == http.StatusOK {
				continue
			}
			_, said, _ := strings.Cut(strings.ReplaceAll(got.body, `\"`, ""), "; ")
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
	s := newSite(t, true)
	s.signIn()
	alone := "/plan?stove=3&aim=hold&for=6+h&low=19&high=21.5&room=17&outdoor=2&start=cold&wood=3&kindling=6"
	before := s.wish(alone)
	require.Equal(t, http.StatusOK, before.status, before.words())
	assert.NotContains(t, before.words(), "in the same space")
	require.Equal(t, http.StatusSeeOther, s.post("/stoves/1",
		with(fields(s.get("/stoves/1/edit").body), "space-id", fieldsOf(s.get("/stoves/3/edit"))["space-id"])...).status)
	first := s.wish("/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=17&outdoor=2&start=cold&wood=1&kindling=6")
	require.Equal(t, http.StatusSeeOther, s.post(first.to+"/start").status)
	beside := s.wish(alone)
	require.Equal(t, http.StatusOK, beside.status)
	assert.Contains(t, beside.words(), "in the same space")
	row, err := s.store.Household(1).Planned(ctx, idOf(t, beside.to))
	require.NoError(t, err)
	was, err := s.store.Household(1).Planned(ctx, idOf(t, before.to))
	require.NoError(t, err)
	require.NotEmpty(t, row.Burn.Wish.Beside)
	assert.Less(t, row.Burn.Mass(), was.Burn.Mass()+0.01, "less is burnt where another gives heat")
	second := s.post(beside.to + "/start")
	require.Equal(t, http.StatusSeeOther, second.status, second.words())
	open, err := s.store.Household(1).OpenBurns(ctx)
	require.NoError(t, err)
	kept := 0
	for _, o := range open {
		kept += len(o.Beside)
	}
	assert.NotZero(t, kept, "and its replay has that heat too")
}

func idOf(t *testing.T, path string) int64 {
	t.Helper()
	var id int64
	_, err := fmt.Sscanf(path, "/plans/%d", &id)
	require.NoError(t, err)
	return id
}

// A second stove is logged while one burns; what is not known when it is lit
// stays not known; it may have begun a while ago, and its end too.
func TestLoggingLater(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	atTheStove(s)
	page := s.get("/stove?another=1")
	require.Equal(t, http.StatusOK, page.status)
	assert.NotContains(t, between(page.body, `name="stove"`, `</select>`), "Auntie", "one fire in a stove")
	got := s.post("/stove", "stove", "2", "start", "few-coals", "when", "90 min ago", "room", "", "outdoor", "")
	require.Equal(t, http.StatusSeeOther, got.status, got.words())
	b := strings.TrimSuffix(got.to, "/live")
	require.Equal(t, b+"/live", s.post(b+"/entries", "kind", "temperature", "place", "connector-probe", "value", "230 C", "when", "80 min ago").to)
	refused := s.post(b+"/end", "when", "3 h ago")
	assert.Equal(t, http.StatusUnprocessableEntity, refused.status)
	require.Equal(t, b, s.post(b+"/end", "when", "20 min ago").to)
	words := s.get(b).words()
	assert.Contains(t, words, "not known", "the room and the weather that nobody entered")
	assert.Contains(t, words, "1 h 10 min")
	late := s.post(b+"/entries", "kind", "note", "note", "too late")
	assert.Equal(t, http.StatusUnprocessableEntity, late.status, "an ended burn takes no entry")
	again := s.post(b + "/end")
	assert.NotEqual(t, http.StatusInternalServerError, again.status)
	assert.Contains(t, s.get(b).words(), "1 h 10 min", "ending again moves nothing")
	for typed, says := range map[string]string{"in 3 h": "", "yesterday-ish": "is not a time", "60 h ago": "is not a time"} {
		bad := s.post("/stove", "stove", "3", "start", "cold", "when", typed)
		assert.Equal(t, http.StatusUnprocessableEntity, bad.status, typed)
		assert.Contains(t, bad.words(), says)
	}
}

// A day's page can be answered as it opens, also late in the evening; a plan may
// be for a time before anybody is there, and so may its calendar; and what lights
// the kindling is chosen.
func TestDaysInTheEveningAndBeforeAnybodyIsThere(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	for _, hour := range []int{7, 21, 23} {
		s.clock.at = time.Date(2026, 4, 10, hour, 50, 0, 0, time.UTC)
		form := with(fields(s.get("/plan/day").body), "room", "17 C")
		got := s.post("/plan/day", form...)
		require.Equal(t, http.StatusSeeOther, got.status, "%d: %s", hour, got.words())
	}
	s.clock.at = time.Date(2026, 4, 10, 6, 0, 0, 0, time.UTC)
	day := s.wish("/plan/day?stove=1&aim=hold&for=22:30&low=18&high=21.5&room=15&outdoor=0&start=cold&wood=1&kindling=6&begin=06:10&there=09:00-12:00")
	require.Equal(t, http.StatusOK, day.status, day.words())
	for _, m := range regexp.MustCompile(`<td class="font-serif text-lg">(\d\d):`).FindAllStringSubmatch(day.body, -1) {
		assert.Contains(t, []string{"09", "10", "11"}, m[1], "nobody is there before")
	}
	for _, m := range regexp.MustCompile(`DTSTART:20260410T(\d\d)`).FindAllStringSubmatch(s.get(day.to+"/plan.ics").body, -1) {
		assert.Contains(t, []string{"09", "10", "11"}, m[1])
	}
	paper := s.wish("/plan?stove=1&aim=hold&for=4+h&low=18&high=21.5&room=15&outdoor=0&start=cold&wood=1&kindling=6&starter=paper")
	require.Equal(t, http.StatusOK, paper.status, paper.words())
	row, err := s.store.Household(1).Planned(ctx, idOf(t, paper.to))
	require.NoError(t, err)
	assert.Equal(t, fire.Paper, row.Burn.Kindling.StarterKind)
	assert.Equal(t, http.StatusUnprocessableEntity, s.wish("/plan?stove=1&aim=hold&for=4+h&low=18&high=21.5&room=15&outdoor=0&start=cold&wood=1&starter=petrol").status)
}

// Nothing that nobody said is kept as if somebody had.
func TestNothingIsInvented(t *testing.T) {
	s := newSite(t, false)
	require.Equal(t, "/stoves/new", s.setUp().to)
	form := fieldsOf(s.get("/stoves/new"))
	for name := range form {
		assert.False(t, strings.HasPrefix(name, "gauge-") && !strings.Contains(strings.TrimPrefix(name, "gauge-"), "-low") && form[name] == "yes",
			"%s is ticked", name)
	}
	space := s.space()
	assert.Contains(t, s.get("/household").words(), "assumed: nobody has said yet")
	require.Equal(t, "/wood/new", s.post("/stoves", auntie("space-id", space)...).to)
	require.Equal(t, "/plan", s.post("/wood", beech()...).to)
	sentence := fieldsOf(s.get("/plan"))
	assert.Empty(t, sentence["room"])
	assert.Empty(t, sentence["outdoor"], "there is no forecast of a made-up island here")
	refused := s.post("/plan", with(fields(s.get("/plan").body), "room", "17 C", "outdoor", "forecast")...)
	assert.Equal(t, http.StatusUnprocessableEntity, refused.status)
	assert.Contains(t, strings.ToLower(refused.words()), "there is no forecast here yet")
	made := s.wish("/plan?stove=1&aim=hold&for=5+h&room=17&outdoor=3&start=cold&wood=1")
	require.Equal(t, http.StatusOK, made.status, made.words())
	assert.Contains(t, made.words(), "Nobody has described this space yet")
	assert.Contains(t, made.words(), "(assumed)")
	private := s.post("/household", with(fields(s.get("/household").body), "weather", "http://127.0.0.1:9/")...)
	if private.status == http.StatusSeeOther { // it may be named, and is not asked
		assert.NotContains(t, s.get("/household").words(), "°C outside just now")
	}
}
