package plans_test

import (
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/demo"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/web/webtest"
)

func TestADaysFires(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	s.Clock.At = time.Date(2026, 4, 10, 7, 0, 0, 0, time.UTC)
	assert.Contains(t, s.Get("/plan/day").Words(), "Somebody is there")
	day := s.Wish(webtest.TheDay)
	require.Equal(t, http.StatusOK, day.Status, day.Words())
	rows := regexp.MustCompile(`<td class="font-serif text-lg">(\d\d:\d\d)</td>`).FindAllStringSubmatch(day.Body, -1)
	require.Greater(t, len(rows), 1, "a cold day takes more than one load")
	assert.Equal(t, "07:00", rows[0][1])
	away := s.Wish(webtest.TheDay + "&there=06:00-11:00+and+16:00-23:00")
	assert.Contains(t, away.Words(), "nobody there", "the strip says when")
	assert.NotContains(t, day.Words(), "nobody there")
	for _, r := range regexp.MustCompile(`<td class="font-serif text-lg">(\d\d):`).FindAllStringSubmatch(away.Body, -1) {
		assert.NotContains(t, []string{"11", "12", "13", "14", "15"}, r[1], "nobody loads an empty house")
	}
	bad := s.Wish(webtest.TheDay + "&there=noonish")
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Status)
	assert.Contains(t, bad.Words(), "06:30-08:00 and 16:00-22:30 would do")
	assert.Equal(t, "noonish", webtest.FieldsOf(bad)["there"], "what was typed is kept")
	all := s.Wish(strings.NewReplacer("/plan/day?", "/plan?", "22:30", "6+h").Replace(webtest.TheDay) + "&wood2=all")
	require.Equal(t, http.StatusOK, all.Status)
	assert.Contains(t, all.Words(), "What to do", "of all the stacks, but for those that do not fit")
	assert.Equal(t, "all", webtest.FieldsOf(all)["wood2"])
	warm := strings.NewReplacer("room=16.5", "room=21", "outdoor=1+C", "outdoor=19+C").Replace(webtest.TheDay)
	none := s.Wish(warm)
	require.Equal(t, http.StatusOK, none.Status)
	assert.Contains(t, none.Words(), "No fire is needed: the room stays in its band by itself")
	assert.NotContains(t, none.Words(), "Print for the wall")
	assert.Equal(t, http.StatusOK, s.Get(none.To+"/sheet").Status, "nothing to print is no error")
	assert.NotContains(t, s.Get(none.To+"/plan.ics").Body, "VEVENT")
	both := s.Wish(webtest.TheDay + "&wood2=2&lay=open-v")
	assert.Equal(t, "open-v", webtest.FieldsOf(both)["lay"])
	assert.Regexp(t, `kindling, \d of (Beech|Oak)`, both.Words())

	sheet := s.Get(day.To + "/sheet")
	require.Equal(t, http.StatusOK, sheet.Status)
	for _, says := range []string{`svg class="strip"`, `svg class="lay"`, "The first fire", "Shut the door", "not before, not after", "CO alarm:"} {
		assert.Contains(t, sheet.Body, says)
	}
	ics := s.Get(day.To + "/plan.ics")
	require.Equal(t, http.StatusOK, ics.Status)
	assert.Contains(t, ics.Header.Get("Content-Type"), "text/calendar")
	assert.Equal(t, len(rows), strings.Count(ics.Body, "BEGIN:VEVENT"))
	assert.Equal(t, len(rows), strings.Count(ics.Body, "BEGIN:VALARM"))
	assert.Contains(t, ics.Body, "DTSTART:20260410T0700")
	assert.Contains(t, ics.Body, "SUMMARY:Auntie: light from cold")
	assert.True(t, strings.HasPrefix(ics.Body, "BEGIN:VCALENDAR\r\n") && strings.HasSuffix(ics.Body, "END:VCALENDAR\r\n"))
	assert.Equal(t, http.StatusNotFound, s.Get("/plans/999/plan.ics").Status)
}

func TestTheSheetForTheWall(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	sheet := s.Get(s.Wish("/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=-1&start=cold&wood=1&kindling=6").To + "/sheet")
	require.Equal(t, http.StatusOK, sheet.Status)
	for _, drawn := range []string{`svg class="strip"`, `svg class="lay"`} {
		assert.Contains(t, sheet.Body, drawn)
	}
	for _, says := range []string{"Shut the door", "CO alarm:", "the stove's manual has the last word"} {
		assert.Contains(t, sheet.Words(), says)
	}
}

func TestTheForecastIsTakenOrTyped(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	plan := "/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&start=cold&wood=1&kindling=6&outdoor="
	assert.Contains(t, s.Wish(plan+"forecast").Words(), "Forecast:")
	typed := s.Wish(plan + "-5")
	assert.NotContains(t, typed.Words(), "Forecast:")
	assert.Contains(t, typed.Words(), "outdoors: −5 °C")
}

// The first page answers what to do from the last burn, the weather and the
// room as it should be by now.
func TestNowAnswers(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	s.Clock.At = time.Date(2026, 11, 25, 7, 0, 0, 0, time.UTC) // months after the season
	assert.Contains(t, s.Get("/").Words(), "Look at the room first")
	h := s.Store.Household(1)
	st, err := h.Stove(ctx, 1)
	require.NoError(t, err)
	evening := demo.Burn()
	b := burn.Burn{Stove: st.Stove, House: st.Space.House, Outdoor: 2, Room: 17, Started: s.Clock.At.Add(-9 * time.Hour),
		Ended: s.Clock.At.Add(-6 * time.Hour), Wanted: evening.Wanted}
	for i, e := range evening.Valid() {
		e.At = b.Started.Add(e.At.Sub(evening.Started))
		e.ID = "now-" + string(rune('a'+i%26)) + string(rune('a'+i/26))
		if e.At.Before(b.Ended) {
			b.Entries = append(b.Entries, e)
		}
	}
	_, err = h.StartBurn(ctx, 1, "", b, nil)
	require.NoError(t, err)
	words := s.Get("/").Words()
	assert.Contains(t, words, "Auntie, kitchen")
	assert.Contains(t, words, "The room should be at")
	page := s.Get("/").Body
	if strings.Contains(page, "Plan it") {
		link := strings.ReplaceAll(webtest.Between(page, `<a class="btn" href="`, `">Plan it`), "&amp;", "&")
		filled := s.Get(link)
		require.Equal(t, http.StatusOK, filled.Status)
		assert.Contains(t, filled.Body, `value="forecast"`)
		assert.NotContains(t, filled.Words(), "What to do", "filled in, and not yet worked out")
	}
}

func TestAlarmsAreAPrecondition(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	plan := "/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&start=cold&wood=1&kindling=6&outdoor=2"
	assert.Contains(t, s.Wish(plan).Words(), "alarms tested on 28 March")
	s.Clock.At = s.Clock.At.AddDate(0, 2, 0)
	assert.Contains(t, s.Wish(plan).Words(), "over a month ago: test them before lighting")
	form := webtest.Fields(s.Get("/household").Body)
	tested := s.Post("/household", webtest.Change(form, "alarms", "today")...)
	require.Equal(t, "/household", tested.To, tested.Words())
	assert.Contains(t, s.Wish(plan).Words(), "alarms tested on 10 June")
	ahead := s.Post("/household", webtest.Change(form, "alarms", "2031-01-01")...)
	assert.Equal(t, http.StatusUnprocessableEntity, ahead.Status)
	assert.Contains(t, ahead.Words(), "a date up to today was expected")
	require.Equal(t, "/household", s.Post("/household", webtest.Change(webtest.Fields(s.Get("/household").Body), "alarms", "")...).To)
	assert.Contains(t, s.Wish(plan).Words(), "not known when they were tested")
}

// Whoever lays their own way, or has to go, says so in the sentence.
func TestTheLayAndWhoIsThereAreAsked(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	plan := "/plan?stove=1&aim=away&for=7+h&low=18&high=21.5&room=17&outdoor=3&start=cold&wood=1&kindling=6"
	form := webtest.FieldsOf(s.Get("/plan"))
	assert.Equal(t, "all the time", form["there"], "somebody stays unless it is said")
	assert.Empty(t, form["lay"], "and the best lay is found")
	made := s.Wish(plan + "&lay=open-v&there=2+h")
	require.Equal(t, http.StatusOK, made.Status)
	assert.Contains(t, made.Words(), "in a V")
	assert.Contains(t, made.Words(), "watched for 15 min before the last one goes")
	assert.NotContains(t, made.Words(), "The next load, if you want more heat", "nobody is there to load it")
	filled := webtest.FieldsOf(made)
	assert.Equal(t, "open-v", filled["lay"])
	assert.Equal(t, "2 h", filled["there"])

	soon := s.Wish(plan + "&there=15+min")
	assert.Contains(t, soon.Words(), "No plan.")
	assert.Contains(t, soon.Words(), "Stay longer, light earlier")

	for _, bad := range []struct{ query, says string }{{"&lay=pyramid", "Choose one of the list"}, {"&lay=on-coals", "Choose one of the list"},
		{"&there=soon", "would do"}, {"&there=06:30-08:75", "no time of the day"}} {
		answer := s.Wish(plan + bad.query)
		assert.Equal(t, http.StatusUnprocessableEntity, answer.Status, bad.query)
		assert.Contains(t, answer.Words(), bad.says)
		assert.Equal(t, "7 h", webtest.FieldsOf(answer)["for"], "what was typed is kept")
	}
}

// Each alternative is a whole plan with its own strip, and is what gets
// started when it is chosen.
func TestAnAlternativeIsAPlan(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	query := "/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=-1&start=cold&wood=1&kindling=6"
	best := s.Wish(query)
	require.Contains(t, best.Words(), "Or ")
	assert.GreaterOrEqual(t, strings.Count(best.Body, `aria-label="Strip:`), 2, "each has its strip")
	assert.GreaterOrEqual(t, strings.Count(best.Body, "coals at the end"), 2, "and its figures")
	link := "/plans/" + webtest.Alternative(best)
	require.Regexp(t, `^/plans/\d+#made$`, link)
	other := s.Get(strings.TrimSuffix(link, "#made"))
	require.Equal(t, http.StatusOK, other.Status)
	assert.NotEqual(t, webtest.PlanSaid(best), webtest.PlanSaid(other))
	for _, says := range []string{"Against the best:", "The best by all that counts.", "coals at the end", "deposits"} {
		assert.Contains(t, other.Words(), says)
	}
	assert.Contains(t, other.Body, `svg class="strip"`)
}

// A damp room is dried by the air that the fire draws, if the air outside is
// dry once it is warm.
func TestDryingOutSaysWhatItDoes(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	plan := "/plan?stove=1&aim=dry-out&for=4+h&low=17&high=21.5&room=15&start=cold&wood=1&kindling=6&outdoor="
	assert.Regexp(t, `once it is warm: the fire draws \d+ m³ of it through the room and takes about .* of water out`, s.Wish(plan+"forecast").Words())
	assert.NotContains(t, s.Wish(plan+"5").Words(), "once it is warm", "the humidity is not known")
}

// Whether to light at all is said before the plan.
func TestNoFireIsNeeded(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	plan := "/plan?stove=1&aim=hold&for=4+h&low=18&high=21.5&start=cold&wood=1&kindling=6&outdoor=14&room="
	assert.Contains(t, s.Wish(plan+"21").Words(), "No fire is needed: by itself the room stays above 18 °C all that time. Beech")
	assert.NotContains(t, s.Wish(plan+"15").Words(), "by itself the room")
}

// Nothing is under way: nothing is counted. A day's search is seen in a browser.
func TestProgressOfNothing(t *testing.T) {
	s := webtest.New(t, true)
	assert.Equal(t, "/sign-in?back=%2Fplan%2Fprogress", s.Get("/plan/progress").To)
	s.SignIn()
	assert.JSONEq(t, `{"burnt": 0, "of": 0, "waiting": 0}`, s.Get("/plan/progress?search=none").Body)
}

// A plan for tonight is kept at noon, stands on the first page, and is started
// when it is due: the one that was seen.
func TestAPlanIsKeptForLater(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	s.Clock.At = time.Date(2026, 4, 10, 12, 0, 0, 0, time.UTC)
	now := "/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=19&outdoor=forecast&start=cold&wood=1&kindling=6"
	plan := now + "&begin=18:00"
	made := s.Wish(plan)
	require.Equal(t, http.StatusOK, made.Status)
	assert.Regexp(t, `It begins at 18:00; left alone the room should be at about 1[5-8]\.\d °C by then`, made.Words(), "the room coasts until then")
	assert.Contains(t, s.Wish(now+"&begin=tomorrow+07:00").Words(), "It begins tomorrow at 07:00, with the room at 19 °C then",
		"there will be another fire before")
	assert.Contains(t, made.Body, ">19:00</text>", "the strip's clock is the evening's")
	assert.NotContains(t, made.Words(), "Start this burn")
	assert.Contains(t, s.Wish(now).Words(), "Start this burn")

	early := s.Post(made.To + "/start")
	assert.Equal(t, http.StatusUnprocessableEntity, early.Status)
	assert.Contains(t, early.Words(), "This plan begins later")
	require.Equal(t, "/", s.Post(made.To+"/keep").To)
	require.Equal(t, "/", s.Post(made.To+"/keep", "junk", strings.Repeat("x", 1<<16)).To, "a second tap")
	first := s.Get("/")
	assert.Equal(t, 1, strings.Count(first.Body, "Open the plan"), "keeps nothing twice")
	assert.Contains(t, first.Words(), "Kept for 18:00")
	assert.Contains(t, first.Words(), "18:00, Auntie: Beech")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(s.Wish(now).To+"/keep").Status, "one for now is started")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Wish(now+"&begin=someday").Status)

	assert.Contains(t, s.Post(made.To+"/remove").Words(), "The plan is dropped")
	assert.NotContains(t, s.Get("/").Words(), "18:00, Auntie")
	require.Equal(t, "/", s.Post(made.To+"/put-back").To)
	assert.Equal(t, http.StatusNotFound, s.Post("/plans/999/remove").Status)

	s.Clock.At = s.Clock.At.Add(6*time.Hour + 10*time.Minute)
	due := s.Get("/")
	assert.Contains(t, due.Words(), "Now, Auntie: Beech")
	assert.Equal(t, webtest.PlanSaid(made), webtest.PlanSaid(s.Get(made.To)), "it is the plan that was kept, and no other")
	busy := s.Post("/stove", "stove", "1", "start", "cold", "room", "18", "outdoor", "4")
	require.Equal(t, http.StatusSeeOther, busy.Status)
	assert.Equal(t, http.StatusConflict, s.Post(made.To+"/start").Status, "one fire in a stove")
	assert.Contains(t, s.Get("/").Words(), "Now, Auntie: Beech", "and the plan is still kept")
	require.Equal(t, http.StatusSeeOther, s.Post(strings.TrimSuffix(busy.To, "/live")+"/end").Status)
	started := s.Post(made.To + "/start")
	require.Equal(t, http.StatusSeeOther, started.Status, started.Words())
	assert.Equal(t, started.To, s.Post(made.To+"/start").To, "a second tap leads to the same burn")
	assert.NotContains(t, s.Get("/").Words(), "Planned", "it is used up")
	b, err := s.Store.Household(1).OpenBurns(ctx)
	require.NoError(t, err)
	require.Len(t, b, 1)
	assert.Equal(t, webtest.PlanSaid(made), say.Plan(*b[0].Plan, lang.Metric), "what was started is what was seen")
}
