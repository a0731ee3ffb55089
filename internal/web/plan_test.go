package web_test

import (
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/units"
	"smolder/internal/demo"
	"smolder/internal/say"
)

const theDay = "/plan/day?stove=1&aim=hold&for=22:30&low=18&high=21.5&room=16.5&outdoor=1+C&start=cold&wood=1&kindling=6"

func TestADaysFires(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	s.clock.at = time.Date(2026, 4, 10, 7, 0, 0, 0, time.UTC)
	assert.Contains(t, s.get("/plan/day").words(), "Somebody is there")
	day := s.wish(theDay)
	require.Equal(t, http.StatusOK, day.status, day.words())
	rows := regexp.MustCompile(`<td class="font-serif text-lg">(\d\d:\d\d)</td>`).FindAllStringSubmatch(day.body, -1)
	require.Greater(t, len(rows), 1, "a cold day takes more than one load")
	assert.Equal(t, "07:00", rows[0][1])
	away := s.wish(theDay + "&there=06:00-11:00+and+16:00-23:00")
	assert.Contains(t, away.words(), "nobody there", "the strip says when")
	assert.NotContains(t, day.words(), "nobody there")
	for _, r := range regexp.MustCompile(`<td class="font-serif text-lg">(\d\d):`).FindAllStringSubmatch(away.body, -1) {
		assert.NotContains(t, []string{"11", "12", "13", "14", "15"}, r[1], "nobody loads an empty house")
	}
	bad := s.wish(theDay + "&there=noonish")
	assert.Equal(t, http.StatusUnprocessableEntity, bad.status)
	assert.Contains(t, bad.words(), "06:30-08:00 and 16:00-22:30 would do")
	assert.Equal(t, "noonish", fieldsOf(bad)["there"], "what was typed is kept")
	all := s.wish(strings.NewReplacer("/plan/day?", "/plan?", "22:30", "6+h").Replace(theDay) + "&wood2=all")
	require.Equal(t, http.StatusOK, all.status)
	assert.Contains(t, all.words(), "What to do, and on what sign", "of all the stacks, but for those that do not fit")
	assert.Equal(t, "all", fieldsOf(all)["wood2"])
	warm := strings.NewReplacer("room=16.5", "room=21", "outdoor=1+C", "outdoor=19+C").Replace(theDay)
	none := s.wish(warm)
	require.Equal(t, http.StatusOK, none.status)
	assert.Contains(t, none.words(), "No fire is needed: the room stays in its band by itself")
	assert.NotContains(t, none.words(), "Print for the wall")
	assert.Equal(t, http.StatusOK, s.get(none.to+"/sheet").status, "nothing to print is no error")
	assert.NotContains(t, s.get(none.to+"/plan.ics").body, "VEVENT")
	both := s.wish(theDay + "&wood2=2&lay=open-v")
	assert.Equal(t, "open-v", fieldsOf(both)["lay"])
	assert.Regexp(t, `kindling, \d of (Beech|Oak)`, both.words())

	sheet := s.get(day.to + "/sheet")
	require.Equal(t, http.StatusOK, sheet.status)
	for _, says := range []string{`svg class="strip"`, `svg class="lay"`, "The first fire", "Shut the door", "not before, not after", "CO alarm:"} {
		assert.Contains(t, sheet.body, says)
	}
	ics := s.get(day.to + "/plan.ics")
	require.Equal(t, http.StatusOK, ics.status)
	assert.Contains(t, ics.header.Get("Content-Type"), "text/calendar")
	assert.Equal(t, len(rows), strings.Count(ics.body, "BEGIN:VEVENT"))
	assert.Equal(t, len(rows), strings.Count(ics.body, "BEGIN:VALARM"))
	assert.Contains(t, ics.body, "DTSTART:20260410T0700")
	assert.Contains(t, ics.body, "SUMMARY:Auntie: light from cold")
	assert.True(t, strings.HasPrefix(ics.body, "BEGIN:VCALENDAR\r\n") && strings.HasSuffix(ics.body, "END:VCALENDAR\r\n"))
	assert.Equal(t, http.StatusNotFound, s.get("/plans/999/plan.ics").status)
}

func TestTheSheetForTheWall(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	sheet := s.get(s.wish("/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=-1&start=cold&wood=1&kindling=6").to + "/sheet")
	require.Equal(t, http.StatusOK, sheet.status)
	for _, drawn := range []string{`svg class="strip"`, `svg class="lay"`} {
		assert.Contains(t, sheet.body, drawn)
	}
	for _, says := range []string{"Shut the door", "CO alarm:", "the stove's manual has the last word"} {
		assert.Contains(t, sheet.words(), says)
	}
}

func TestTheForecastIsTakenOrTyped(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	plan := "/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&start=cold&wood=1&kindling=6&outdoor="
	assert.Contains(t, s.wish(plan+"forecast").words(), "Forecast:")
	typed := s.wish(plan + "-5")
	assert.NotContains(t, typed.words(), "Forecast:")
	assert.Contains(t, typed.words(), "outdoors: −5 °C")
}

// The first page answers what to do from the last burn, the weather and the
// room as it should be by now.
func TestNowAnswers(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	s.clock.at = time.Date(2026, 11, 25, 7, 0, 0, 0, time.UTC) // months after the season
	assert.Contains(t, s.get("/").words(), "look at the room first")
	h := s.store.Household(1)
	st, err := h.Stove(ctx, 1)
	require.NoError(t, err)
	evening := demo.Burn()
	b := burn.Burn{Stove: st.Stove, House: st.Space.House, Outdoor: 2, Room: 17, Started: s.clock.at.Add(-9 * time.Hour),
		Ended: s.clock.at.Add(-6 * time.Hour), Wanted: evening.Wanted}
	for i, e := range evening.Valid() {
		e.At = b.Started.Add(e.At.Sub(evening.Started))
		e.ID = "now-" + string(rune('a'+i%26)) + string(rune('a'+i/26))
		if e.At.Before(b.Ended) {
			b.Entries = append(b.Entries, e)
		}
	}
	_, err = h.StartBurn(ctx, 1, "", b, nil)
	require.NoError(t, err)
	words := s.get("/").words()
	assert.Contains(t, words, "Auntie:")
	assert.Contains(t, words, "The room should be at")
	page := s.get("/").body
	if strings.Contains(page, "Plan it") {
		link := strings.ReplaceAll(between(page, `<a class="btn" href="`, `">Plan it`), "&amp;", "&")
		filled := s.get(link)
		require.Equal(t, http.StatusOK, filled.status)
		assert.Contains(t, filled.body, `value="forecast"`)
		assert.NotContains(t, filled.words(), "What to do, and on what sign", "filled in, and not yet worked out")
	}
}

func TestAlarmsAreAPrecondition(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	plan := "/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&start=cold&wood=1&kindling=6&outdoor=2"
	assert.Contains(t, s.wish(plan).words(), "alarms tested on 28 March")
	s.clock.at = s.clock.at.AddDate(0, 2, 0)
	assert.Contains(t, s.wish(plan).words(), "over a month ago: test them before lighting")
	form := fields(s.get("/household").body)
	tested := s.post("/household", with(form, "alarms", "today")...)
	require.Equal(t, "/household", tested.to, tested.words())
	assert.Contains(t, s.wish(plan).words(), "alarms tested on 10 June")
	ahead := s.post("/household", with(form, "alarms", "2031-01-01")...)
	assert.Equal(t, http.StatusUnprocessableEntity, ahead.status)
	assert.Contains(t, ahead.words(), "a date up to today was expected")
	require.Equal(t, "/household", s.post("/household", with(fields(s.get("/household").body), "alarms", "")...).to)
	assert.Contains(t, s.wish(plan).words(), "not known when they were tested")
}

// fieldsOf returns what a page's forms hold, by name; the first of each name.
func fieldsOf(a answer) map[string]string {
	out := map[string]string{}
	pairs := fields(a.body)
	for i := 0; i < len(pairs); i += 2 {
		if _, there := out[pairs[i]]; !there {
			out[pairs[i]] = pairs[i+1]
		}
	}
	return out
}

// Whoever lays their own way, or has to go, says so in the sentence.
func TestTheLayAndWhoIsThereAreAsked(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	plan := "/plan?stove=1&aim=away&for=7+h&low=18&high=21.5&room=17&outdoor=3&start=cold&wood=1&kindling=6"
	form := fieldsOf(s.get("/plan"))
	assert.Equal(t, "all the time", form["there"], "somebody stays unless it is said")
	assert.Empty(t, form["lay"], "and the best lay is found")
	made := s.wish(plan + "&lay=open-v&there=2+h")
	require.Equal(t, http.StatusOK, made.status)
	assert.Contains(t, made.words(), "in a V")
	assert.Contains(t, made.words(), "watched for 15 min before the last one goes")
	assert.NotContains(t, made.words(), "The next load, if you want more heat", "nobody is there to load it")
	filled := fieldsOf(made)
	assert.Equal(t, "open-v", filled["lay"])
	assert.Equal(t, "2 h", filled["there"])

	soon := s.wish(plan + "&there=15+min")
	assert.Contains(t, soon.words(), "No plan.")
	assert.Contains(t, soon.words(), "Stay longer, light earlier")

	for _, bad := range []struct{ query, says string }{{"&lay=pyramid", "Choose one of the list"}, {"&lay=on-coals", "Choose one of the list"},
		{"&there=soon", "would do"}, {"&there=06:30-08:75", "no time of the day"}} {
		answer := s.wish(plan + bad.query)
		assert.Equal(t, http.StatusUnprocessableEntity, answer.status, bad.query)
		assert.Contains(t, answer.words(), bad.says)
		assert.Equal(t, "7 h", fieldsOf(answer)["for"], "what was typed is kept")
	}
}

// Each alternative is a whole plan with its own strip, and is what gets
// started when it is chosen.
func TestAnAlternativeIsAPlan(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	query := "/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=-1&start=cold&wood=1&kindling=6"
	best := s.wish(query)
	require.Contains(t, best.words(), "Or ")
	assert.GreaterOrEqual(t, strings.Count(best.body, `aria-label="Strip:`), 2, "each has its strip")
	assert.GreaterOrEqual(t, strings.Count(best.body, "coals at the end"), 2, "and its figures")
	link := "/plans/" + alternative(best)
	require.Regexp(t, `^/plans/\d+#made$`, link)
	other := s.get(strings.TrimSuffix(link, "#made"))
	require.Equal(t, http.StatusOK, other.status)
	assert.NotEqual(t, planSaid(best), planSaid(other))
	for _, says := range []string{"Against the best:", "The best by all that counts.", "coals at the end", "deposits"} {
		assert.Contains(t, other.words(), says)
	}
	assert.Contains(t, other.body, `svg class="strip"`)
}

// A damp room is dried by the air that the fire draws, if the air outside is
// dry once it is warm.
func TestDryingOutSaysWhatItDoes(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	plan := "/plan?stove=1&aim=dry-out&for=4+h&low=17&high=21.5&room=15&start=cold&wood=1&kindling=6&outdoor="
	assert.Regexp(t, `once it is warm: the fire draws \d+ m³ of it through the room and takes about .* of water out`, s.wish(plan+"forecast").words())
	assert.NotContains(t, s.wish(plan+"5").words(), "once it is warm", "the humidity is not known")
}

// Whether to light at all is said before the plan.
func TestNoFireIsNeeded(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	plan := "/plan?stove=1&aim=hold&for=4+h&low=18&high=21.5&start=cold&wood=1&kindling=6&outdoor=14&room="
	assert.Contains(t, s.wish(plan+"21").words(), "No fire is needed: by itself the room stays above 18 °C all that time. Beech")
	assert.NotContains(t, s.wish(plan+"15").words(), "by itself the room")
}

// Nothing is under way: nothing is counted. A day's search is seen in a browser.
func TestProgressOfNothing(t *testing.T) {
	s := newSite(t, true)
	assert.Equal(t, "/sign-in?back=%2Fplan%2Fprogress", s.get("/plan/progress").to)
	s.signIn()
	assert.JSONEq(t, `{"burnt": 0, "of": 0, "waiting": 0}`, s.get("/plan/progress?search=none").body)
}

// A plan for tonight is kept at noon, stands on the first page, and is started
// when it is due: the one that was seen.
func TestAPlanIsKeptForLater(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	s.clock.at = time.Date(2026, 4, 10, 12, 0, 0, 0, time.UTC)
	now := "/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=19&outdoor=forecast&start=cold&wood=1&kindling=6"
	plan := now + "&begin=18:00"
	made := s.wish(plan)
	require.Equal(t, http.StatusOK, made.status)
	assert.Regexp(t, `It begins at 18:00; left alone the room should be at about 1[5-8]\.\d °C by then`, made.words(), "the room coasts until then")
	assert.Contains(t, s.wish(now+"&begin=tomorrow+07:00").words(), "It begins tomorrow at 07:00, with the room at 19 °C then",
		"there will be another fire before")
	assert.Contains(t, made.body, ">19:00</text>", "the strip's clock is the evening's")
	assert.NotContains(t, made.words(), "Start this burn")
	assert.Contains(t, s.wish(now).words(), "Start this burn")

	early := s.post(made.to + "/start")
	assert.Equal(t, http.StatusUnprocessableEntity, early.status)
	assert.Contains(t, early.words(), "This plan begins later")
	require.Equal(t, "/", s.post(made.to+"/keep").to)
	require.Equal(t, "/", s.post(made.to+"/keep", "junk", strings.Repeat("x", 1<<16)).to, "a second tap")
	first := s.get("/")
	assert.Equal(t, 1, strings.Count(first.body, "Open the plan"), "keeps nothing twice")
	assert.Contains(t, first.words(), "Kept for 18:00")
	assert.Contains(t, first.words(), "18:00, Auntie: Beech")
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(s.wish(now).to+"/keep").status, "one for now is started")
	assert.Equal(t, http.StatusUnprocessableEntity, s.wish(now+"&begin=someday").status)

	assert.Contains(t, s.post(made.to+"/remove").words(), "The plan is dropped")
	assert.NotContains(t, s.get("/").words(), "18:00, Auntie")
	require.Equal(t, "/", s.post(made.to+"/put-back").to)
	assert.Equal(t, http.StatusNotFound, s.post("/plans/999/remove").status)

	s.clock.at = s.clock.at.Add(6*time.Hour + 10*time.Minute)
	due := s.get("/")
	assert.Contains(t, due.words(), "Now, Auntie: Beech")
	assert.Equal(t, planSaid(made), planSaid(s.get(made.to)), "it is the plan that was kept, and no other")
	busy := s.post("/stove", "stove", "1", "start", "cold", "room", "18", "outdoor", "4")
	require.Equal(t, http.StatusSeeOther, busy.status)
	assert.Equal(t, http.StatusConflict, s.post(made.to+"/start").status, "one fire in a stove")
	assert.Contains(t, s.get("/").words(), "Now, Auntie: Beech", "and the plan is still kept")
	require.Equal(t, http.StatusSeeOther, s.post(strings.TrimSuffix(busy.to, "/live")+"/end").status)
	started := s.post(made.to + "/start")
	require.Equal(t, http.StatusSeeOther, started.status, started.words())
	assert.Equal(t, started.to, s.post(made.to+"/start").to, "a second tap leads to the same burn")
	assert.NotContains(t, s.get("/").words(), "Planned", "it is used up")
	b, err := s.store.Household(1).OpenBurns(ctx)
	require.NoError(t, err)
	require.Len(t, b, 1)
	assert.Equal(t, planSaid(made), say.Plan(*b[0].Plan, units.Metric), "what was started is what was seen")
}
