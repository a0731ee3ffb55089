package wood_test

import (
	"fmt"
	"html"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/shed"
	"smolder/internal/core/units"
	"smolder/internal/demo"
	"smolder/internal/store"
	"smolder/internal/storetest"
	"smolder/internal/web/webtest"
)

// A stack from green to ready: its date is said, readings move it, what would help is
// listed, and each count is kept, added to and taken back.
func TestAStackThroughItsYear(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	h := s.Store.Household(1)
	made := s.Post("/wood", "name", "Lane ash", "species", "ash", "lain", "2 months", "cover", "wrap", "ground", "yes", "wind", "0", "mass",
		"2 rows of 3 x 1.5 x 0.33 m", "piece-mass", "1.6 kg", "piece-length", "33 cm")
	require.Equal(t, http.StatusSeeOther, made.Status, made.Words())
	page := s.Get(made.To)
	words := page.Words()
	assert.Contains(t, words, "Ready: ")
	assert.Contains(t, words, "It lies wrapped in a sheet, a tarpaulin to the ground, sheltered from the wind, on the ground.")
	for _, change := range []string{"A roof over it", "Take the sheet off", "Set it on bearers", "Split each piece in two", "All of it"} {
		assert.Contains(t, words, change)
	}
	assert.Contains(t, words, "2 rows of 3 x 1.5 x 0.33 m")
	assert.Contains(t, page.Body, `class="fan-area"`, "how it goes on is drawn")
	var id int64
	_, err := fmt.Sscanf(made.To, "/wood/%d", &id)
	require.NoError(t, err)
	before, err := new(shed.Shed).Stack(ctx, h, id, s.Clock.Now())
	require.NoError(t, err)
	require.InDelta(t, 2*3*1.5*0.33*1000*0.65*0.55, float64(before.Left.Middle), 1)

	s.Clock.At = s.Clock.At.AddDate(0, 4, 0)
	require.Equal(t, made.To, s.Post(made.To+"/readings", "reading", "31 33; 36 30").To)
	after, err := new(shed.Shed).Stack(ctx, h, id, s.Clock.Now())
	require.NoError(t, err)
	assert.Less(t, after.Spread, before.Spread, "a reading narrows it")
	assert.InDelta(t, float64(before.Left.Middle), float64(after.Left.Middle), 1e-6, "water that leaves is no wood that is burnt")
	assert.Less(t, after.Mass, before.Mass)

	require.Equal(t, made.To, s.Post(made.To+"/counts", "amount", "a trailer of 2 x 1.2 x 0.5 m", "adds", "yes").To)
	more, err := new(shed.Shed).Stack(ctx, h, id, s.Clock.Now())
	require.NoError(t, err)
	assert.InDelta(t, float64(after.Left.Middle)+1200*0.43*0.55, float64(more.Left.Middle), 1, "put on it")
	require.Equal(t, made.To, s.Post(made.To+"/counts", "amount", "1500 kg", "shape", "").To)
	weighed, err := new(shed.Shed).Stack(ctx, h, id, s.Clock.Now())
	require.NoError(t, err)
	assert.InDelta(t, 1500, float64(weighed.Mass), 0.5)
	undo := webtest.Between(s.Get(made.To).Body, made.To+"/counts/", `"`)
	require.Equal(t, made.To, s.Post(made.To+"/counts/"+undo).To)
	again, err := new(shed.Shed).Stack(ctx, h, id, s.Clock.Now())
	require.NoError(t, err)
	assert.InDelta(t, float64(more.Left.Middle), float64(again.Left.Middle), 1e-6)
	for typed, says := range map[string]string{"a few": "would do", "9999 x 9 x 9 m": "would do", "": "is missing"} {
		wrong := s.Post(made.To+"/counts", "amount", typed)
		assert.Equal(t, http.StatusUnprocessableEntity, wrong.Status, typed)
		assert.Contains(t, wrong.Words(), says, typed)
		assert.Contains(t, wrong.Body, typed, "what was typed stays")
	}
	assert.Equal(t, http.StatusNotFound, s.Post(made.To+"/readings/999999/undo").Status)
}

// Whether the wood lasts is said, drawn and moved by what would change it; plans start
// from the wood that is meant for such hours.
func TestWillItLast(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	page := s.Get("/wood/winter")
	words := page.Words()
	assert.Regexp(t, `The wood (lasts to the end of April|does not last)`, words)
	assert.Contains(t, words, "Which wood when")
	assert.Contains(t, page.Body, `class="log-end"`)
	assert.Regexp(t, `By the [\d\s ]+ kg of oven-dry wood that you logged in \d+ burns of the last \d weeks`, words)
	assert.Contains(t, words, "Half of a usual winter's heat")
	assert.Contains(t, words, "kept apart", "kindling")
	assert.Contains(t, s.Get("/wood").Words(), "Will it last")

	plan := s.Get("/plan").Words()
	assert.Regexp(t, `: what the season's wood is shared out for on (mornings|days|evenings|nights) like this`, plan)
	made := s.Wish("/plan?stove=1&aim=overnight&for=06:00&low=18&high=21.5&room=17.5&outdoor=2&start=cold&wood=3&kindling=6")
	assert.Regexp(t, `season's wood is shared out`, made.Words())

	next := s.Get("/wood/next").Words()
	assert.Regexp(t, `Winter 20\d\d to 20\d\d It asks for`, next)
	assert.Regexp(t, `by (early|mid-|late) ?\w+`, next)
}

// The check at midwinter stands on the first page by itself, in its weeks and in no others.
func TestTheCheckAtMidwinter(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	says := func(at time.Time) bool {
		s.Clock.At = at
		return strings.Contains(s.Get("/").Words(), "winter's heat was behind on")
	}
	shown := 0
	for day := time.Date(2026, 10, 1, 9, 0, 0, 0, time.UTC); day.Before(time.Date(2027, 5, 1, 0, 0, 0, 0, time.UTC)); day = day.AddDate(0, 0, 6) {
		if says(day) {
			shown++
		}
	}
	assert.Zero(t, shown, "nothing was burnt this winter")
	_, err := s.Store.DB().Exec(`UPDATE burns SET started = started + interval '365 days', ended = ended + interval '365 days'`)
	require.NoError(t, err)
	_, err = s.Store.DB().Exec(`UPDATE entries SET at = at + interval '365 days'; UPDATE reviews SET started = started + interval '365 days'`)
	require.NoError(t, err)
	first, last := time.Time{}, time.Time{}
	for day := time.Date(2026, 12, 1, 9, 0, 0, 0, time.UTC); day.Before(time.Date(2027, 3, 20, 0, 0, 0, 0, time.UTC)); day = day.AddDate(0, 0, 3) {
		if says(day) {
			if first.IsZero() {
				first = day
			}
			last = day
		}
	}
	require.False(t, first.IsZero())
	assert.True(t, first.Month() == time.January || first.Month() == time.February, "%s", first)
	assert.LessOrEqual(t, last.Sub(first).Hours()/24, 21.)
}

// An offer is worth what a useful kWh costs; water that is sold as dry is told; what
// makes no sense gets a sentence.
func TestWhatAnOfferIsWorth(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	cost := func(query string) float64 {
		words := s.Get("/wood/offer?species=ash&price=180&" + query).Words()
		m := regexp.MustCompile(`([\d.]+) for each useful kWh`).FindStringSubmatch(words)
		require.NotNil(t, m, words)
		v, err := units.ParseNumber(m[1], "price", 0, 1e6)
		require.NoError(t, err)
		return v
	}
	assert.InEpsilon(t, cost("amount=2+cords&reading=18")*2, cost("amount=1+cord&reading=18"), 0.04, "half as much costs twice as much, to the cents that are shown")
	assert.Greater(t, cost("amount=1000+kg&reading=35"), 1.1*cost("amount=1000+kg&reading=18"), "by weight water is paid for")
	wet := s.Get("/wood/offer?species=ash&price=180&amount=1+cord&said=18&reading=28+31+26").Words()
	assert.Contains(t, wet, "Sold as 18 %, and it reads 28 %")
	assert.Contains(t, wet, "It is no wood for now")
	assert.Contains(t, s.Get("/wood/offer?species=ash&price=180&amount=1+cord").Words(), "Nobody has read it")
	for query, says := range map[string]string{"price=lots&amount=1+cord": "would do", "price=5&amount=heaps": "would do", "price=-5&amount=1+cord": "price"} {
		got := s.Get("/wood/offer?species=ash&" + query)
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, query)
		assert.Contains(t, got.Words(), says)
	}
	bought := s.Get(html.UnescapeString(webtest.Between(s.Get("/wood/offer?species=ash&price=180&amount=1+cord&reading=20+22").Body, `class="btn-quiet" href="`, `"`)))
	assert.Contains(t, bought.Body, `value="1 cord"`)
	assert.Contains(t, bought.Body, `value="20 22"`)
}

// What was carried in is by the stove, is burnt first, and plans know that it is warm and
// drier; what was not is as cold as it is outdoors.
func TestTheBasket(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	h := s.Store.Household(1)
	assert.Contains(t, s.Get("/wood/basket").Words(), "for tonight and tomorrow")
	require.Equal(t, "/wood/basket", s.Post("/wood/basket", "carry-2", "20", "carry-6", "12").To)
	inside := func(stack int64) (n int) {
		all, err := h.Indoors(ctx, s.Clock.Now())
		require.NoError(t, err)
		for _, c := range all {
			if c.StackID == stack {
				n += c.Left
			}
		}
		return n
	}
	require.Equal(t, 20, inside(2))
	b := webtest.AtTheStove(s)
	require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "load", "stack", "2", "pieces", "3", "direction", "sideways").To)
	assert.Equal(t, 17, inside(2), "burnt from the basket")
	undo := webtest.Between(s.Get("/wood/2").Body, `/wood/2/carried/`, `"`)
	require.Equal(t, "/wood/2", s.Post("/wood/2/carried/"+undo).To)
	assert.Zero(t, inside(2))
	require.Equal(t, "/wood/2", s.Post("/wood/2/carried", "pieces", "30").To)
	for _, typed := range []string{"", "none", "0", "501", "-3"} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/wood/2/carried", "pieces", typed).Status, typed)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/wood/basket").Status)

	s.Clock.At = s.Clock.At.AddDate(0, 0, 5)
	require.Equal(t, http.StatusSeeOther, s.Post(b+"/end").Status)
	oak, err := new(shed.Shed).Stack(ctx, h, 2, s.Clock.Now())
	require.NoError(t, err)
	made := s.Wish("/plan?stove=1&aim=hold&for=5+h&low=19&high=21.5&room=17&outdoor=-4&start=cold&wood=2&kindling=6")
	row, err := h.Planned(ctx, webtest.IDOf(t, made.To))
	require.NoError(t, err)
	warm := row.Burn.Wish.Wood.Stack
	assert.Less(t, warm.Reading, oak.Reading, "five days by the stove dry it")
	assert.Less(t, float64(warm.Colder), 0.5, "and it is warm")
	made = s.Wish("/plan?stove=1&aim=hold&for=5+h&low=19&high=21.5&room=17&outdoor=-4&start=cold&wood=3&kindling=6")
	row, err = h.Planned(ctx, webtest.IDOf(t, made.To))
	require.NoError(t, err)
	assert.InDelta(t, 21, float64(row.Burn.Wish.Wood.Stack.Colder), 1, "straight from outdoors it is cold")
}

// Upkeep goes by use and by the calendar, is done with one tap and undone, stands on the
// first page and before lighting where it is dangerous, and goes into a calendar.
func TestUpkeep(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	words := s.Get("/upkeep").Words()
	assert.Contains(t, words, "Overdue, and dangerous so")
	assert.Contains(t, words, "See that air comes in")
	assert.Contains(t, s.Get("/").Words(), "Pip: see that air comes in")
	pip := "/plan?stove=4&aim=take-off&for=2+h&low=17&high=21.5&room=12&outdoor=2&start=cold&wood=5&kindling=6"
	assert.Contains(t, s.Wish(pip).Words(), "See that air comes in. Due since", "before lighting")
	require.Equal(t, "/upkeep", s.Post("/upkeep/done", "task", "inlet", "stove", "4", "note", "a leaf in the grille").To)
	assert.Contains(t, s.Get("/upkeep").Words(), "a leaf in the grille")
	assert.NotContains(t, s.Get("/").Words(), "see that air comes in")
	undo := webtest.Between(s.Get("/upkeep").Body, `action="/upkeep/done/`, `"`)
	require.Equal(t, "/upkeep", s.Post("/upkeep/done/"+undo).To)
	assert.Contains(t, s.Get("/").Words(), "Pip: see that air comes in", "taken back")
	require.Equal(t, "/upkeep", s.Post("/upkeep/done/"+strings.Replace(undo, "undo", "put-back", 1)).To)
	assert.NotContains(t, s.Get("/").Words(), "see that air comes in")

	// Swept, it is another stove as far as it is known; undone, it is not.
	h := s.Store.Household(1)
	changes := func() (n int) {
		all, err := h.StoveChanges(ctx, 1)
		require.NoError(t, err)
		for _, c := range all {
			if !c.Undone.Valid {
				n++
			}
		}
		return n
	}
	was := changes()
	require.Equal(t, "/upkeep?list=autumn", s.Post("/upkeep/done", "task", "sweep", "stove", "1", "list", "autumn").To)
	assert.Equal(t, was+1, changes())
	require.Equal(t, "/upkeep", s.Post("/upkeep/done/"+webtest.Between(s.Get("/upkeep").Body, `action="/upkeep/done/`, `"`)).To)
	assert.Equal(t, was, changes())

	// The alarms are tested with a tap, and asked for when that is a month ago.
	require.Equal(t, "/upkeep", s.Post("/upkeep/done", "task", "detectors", "stove", "0").To)
	assert.NotContains(t, s.Get("/").Words(), "CO and smoke alarms were tested")
	s.Clock.At = s.Clock.At.AddDate(0, 0, 45)
	assert.Contains(t, s.Get("/").Words(), "CO and smoke alarms were tested")

	// A stove with new paint wants three small fires first.
	require.Equal(t, "/upkeep", s.Post("/upkeep/done", "task", "painted", "stove", "1").To)
	assert.Contains(t, s.Get("/").Words(), "first small fires")
	assert.Contains(t, s.Get("/upkeep/first-fires/1").Words(), "Fire 3.")
	require.Equal(t, "/upkeep", s.Post("/upkeep/done", "task", "first-fires", "stove", "1").To)
	s.Get("/upkeep") // what was said is said once
	assert.NotContains(t, s.Get("/").Words(), "first small fires")

	require.Equal(t, "/upkeep", s.Post("/upkeep/done", "task", "gasket", "stove", "1", "side", "latch", "side", "below", "note", "rope flat").To)
	assert.Contains(t, s.Get("/upkeep").Words(), "the strip slides out at the latch and below; rope flat")
	for list, has := range map[string]string{"autumn": "Sweep the chimney", "month": "Take ash out", "move": "Travel cap on"} {
		assert.Contains(t, s.Get("/upkeep?list="+list).Words(), has, list)
	}
	ics := s.Get("/upkeep/calendar.ics")
	assert.Equal(t, http.StatusOK, ics.Status)
	assert.Contains(t, ics.Body, "SUMMARY:Auntie: sweep the chimney")
	assert.Greater(t, strings.Count(ics.Body, "BEGIN:VEVENT"), 8)
	for _, c := range [][]string{{"task", "polish", "stove", "1"}, {"task", "sweep"}, {"task", "sweep", "stove", "1", "on", "2999-01-01"},
		{"task", "sweep", "stove", "1", "note", strings.Repeat("x", 401)}} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/upkeep/done", c...).Status, "%v", c)
	}
	assert.Equal(t, http.StatusNotFound, s.Post("/upkeep/done", "task", "sweep", "stove", "99").Status)
	assert.Equal(t, http.StatusNotFound, s.Post("/upkeep/done/9999/undo").Status)
}

// In a boat's cabin no fire begins before its fresh air is confirmed; the display of the
// CO alarm is read at the stove, and thirty is everybody out.
func TestSmallSpaces(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	made := s.Wish("/plan?stove=4&aim=take-off&for=2+h&low=17&high=21.5&room=12&outdoor=2&start=cold&wood=5&kindling=6")
	words := made.Words()
	assert.Contains(t, words, "its opening for fresh air is open and free")
	assert.Contains(t, words, "Nobody sleeps while it burns")
	assert.Contains(t, words, "Wet clothes hang above and beside")
	refused := s.Post(made.To + "/start")
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Status)
	assert.Contains(t, refused.Words(), "Nothing is started yet")
	half := s.Post(made.To+"/start", "air", "yes")
	assert.Equal(t, http.StatusUnprocessableEntity, half.Status, "the display as well")
	begun := s.Post(made.To+"/start", "air", "yes", "co", "yes")
	require.Equal(t, http.StatusSeeOther, begun.Status, begun.Words())
	live := s.Get(begun.To).Words()
	assert.Contains(t, live, "Confirmed before lighting")
	assert.Contains(t, live, "Look at the CO display at every load")
	b := strings.TrimSuffix(begun.To, "/live")
	require.Equal(t, begun.To, s.Post(b+"/entries", "kind", "co", "value", "0").To)
	assert.NotContains(t, s.Get(begun.To).Words(), "display shows ")
	require.Equal(t, begun.To, s.Post(b+"/entries", "kind", "co", "value", "12 ppm").To)
	assert.Contains(t, s.Get(begun.To).Words(), "The CO display shows 12 ppm")
	require.Equal(t, begun.To, s.Post(b+"/entries", "kind", "co", "value", "45").To)
	assert.Contains(t, s.Get(begun.To).Words(), "Everybody out now, the door left open behind you. Call the emergency number")
	assert.Contains(t, s.Get("/wood").Words(), "Everybody out now", "on every page, until it is answered")
	require.Equal(t, begun.To, s.Post(b+"/entries", "kind", "co", "value", "0").To)
	assert.NotContains(t, s.Get("/wood").Words(), "Everybody out now")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(b+"/entries", "kind", "co", "value", "much").Status)

	require.Equal(t, http.StatusSeeOther, s.Post(b+"/end").Status)
	only := s.Post("/stove", "stove", "4", "start", "cold", "room", "18", "outdoor", "4")
	assert.Equal(t, http.StatusUnprocessableEntity, only.Status)
	assert.Contains(t, only.Words(), "Fresh air first")
	assert.Equal(t, http.StatusSeeOther, s.Post("/stove", "stove", "4", "start", "cold", "room", "18", "outdoor", "4", "air", "yes", "co", "yes").Status)
	assert.Equal(t, http.StatusSeeOther, s.Post("/stove", "stove", "1", "start", "cold", "room", "18", "outdoor", "4").Status, "a kitchen is no cabin")

	trip := s.Get("/wood/trip?stove=4&days=4&outdoor=2+C&wood=5").Words()
	assert.Regexp(t, `Carry [\d.]+ kg of alder: \d+ pieces`, trip)
	assert.Contains(t, trip, "fires to light 8")
	for _, query := range []string{"days=many&outdoor=2+C", "days=4&outdoor=cold", "days=0&outdoor=2+C"} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.Get("/wood/trip?stove=4&"+query).Status, query)
	}
}

// A burn of mineral fuel keeps what is done to it, says what follows from masses alone, and
// warns of the wrong stove.
func TestABurnOfMineralFuel(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	mineral := s.Post("/wood", "name", "Ovoids", "species", "mineral-fuel", "piece-mass", "0.05 kg", "piece-length", "50 mm", "mass", "300 kg")
	require.Equal(t, http.StatusSeeOther, mineral.Status, mineral.Words())
	id := strings.TrimPrefix(mineral.To, "/wood/")
	assert.Contains(t, s.Get(mineral.To).Words(), "Never in a stove for wood alone")
	begun := s.Post("/stove", "stove", "3", "start", "cold", "room", "18", "outdoor", "4")
	b := strings.TrimSuffix(begun.To, "/live")
	for i, e := range [][]string{{"kind", "light"}, {"kind", "load", "stack", id, "pieces", "40"}, {"kind", "riddle"}, {"kind", "bed", "value", "40 mm"},
		{"kind", "load", "stack", id, "pieces", "40"}, {"kind", "ash"}, {"kind", "bed", "value", "110 mm"}} {
		s.Clock.At = s.Clock.At.Add(time.Duration(i*10) * time.Minute)
		got := s.Post(b+"/entries", e...)
		require.Equal(t, begun.To, got.To, "%v: %s", e, got.Words())
		if i == 3 {
			assert.Contains(t, s.Get(begun.To).Words(), "It was 40 mm deep: that is thin")
		}
	}
	assert.Contains(t, s.Get(begun.To).Words(), "so far every")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(b+"/entries", "kind", "bed", "value", "5 m").Status)
	require.Equal(t, b, s.Post(b+"/end").To)
	words := s.Get(b).Words()
	assert.Contains(t, words, "heat in the fuel to the room")
	assert.Contains(t, words, "put on 2 times, every")
	assert.Contains(t, words, "riddled · ash out 1 · 1 times")
	assert.Contains(t, words, "bed, as it was seen last 110 mm")

	begun = s.Post("/stove", "stove", "1", "start", "cold", "room", "18", "outdoor", "4")
	b = strings.TrimSuffix(begun.To, "/live")
	require.Equal(t, begun.To, s.Post(b+"/entries", "kind", "load", "stack", id, "pieces", "20").To, "what was done is logged")
	require.Equal(t, begun.To, s.Post(b+"/entries", "kind", "load", "stack", "1", "pieces", "2").To)
	live := s.Get(begun.To).Words()
	assert.Contains(t, live, "one for wood alone")
	assert.Contains(t, live, "never two fuels at once")
}

// The wood goes out with all that was told of it and comes back the same; twice is as good as
// once; a file that makes no sense changes nothing and says why.
func TestTheWoodGoesOutAndComesBack(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	require.Equal(t, "/wood/1", s.Post("/wood/1/readings", "reading", "17 18 19", "wood-temp", "5 C").To)
	out := s.Get("/wood/wood.json")
	require.Equal(t, http.StatusOK, out.Status)
	table := s.Get("/wood/wood.csv").Body
	assert.Contains(t, table, "\"Beech, lean-to\",beech,")
	assert.Contains(t, table, ",reading,18,1,3,5,")
	before, err := new(shed.Shed).Stacks(ctx, s.Store.Household(1), s.Clock.Now())
	require.NoError(t, err)
	again := s.Upload("/wood/import", "wood.json", out.Body)
	require.Equal(t, "/wood", again.To, again.Words())
	assert.Contains(t, s.Get("/wood").Words(), "Read in: 0 stacks. 6 were here already")

	other := *s
	h := storetest.Household(t, s.Store, "stranger")
	_, err = s.Store.DB().Exec(`UPDATE users SET password = (SELECT password FROM users WHERE name = $1) WHERE name = 'stranger'`, demo.User)
	require.NoError(t, err)
	other.NewPerson()
	require.Equal(t, "/", other.Post("/sign-in", "name", "stranger", "password", demo.Password).To)
	require.Equal(t, "/wood", other.Upload("/wood/import", "wood.json", out.Body).To)
	after, err := new(shed.Shed).Stacks(ctx, h, s.Clock.Now())
	require.NoError(t, err)
	require.Len(t, after, len(before))
	for i, b := range before {
		a := after[i]
		assert.Equal(t, b.Name, a.Name)
		assert.Equal(t, b.Siting, a.Siting)
		assert.InDelta(t, float64(b.Reading), float64(a.Reading), 1e-9, b.Name)
		assert.InDelta(t, float64(b.PieceMass), float64(a.PieceMass), 1e-9)
		assert.Len(t, a.Readings, len(b.Readings))
		assert.InDelta(t, float64(b.Count.Middle), float64(a.Count.Middle), 1e-9, "as it was counted; of another household nothing was burnt")
	}
	was := other.Get("/wood/wood.json").Body
	for name, c := range map[string][2]string{
		"no JSON":         {"wood", "no wood that can be read"},
		"another format":  {`{"format":"wood","version":1,"stacks":[]}`, "would do"},
		"an odd kind":     {strings.Replace(out.Body, `"species": "beech"`, `"species": "plywood"`, 1), "is not a known wood"},
		"a heavy piece":   {strings.Replace(out.Body, `"piece_length_m": 0.33`, `"piece_length_m": 33`, 1), "a piece weighs"},
		"half of it":      {out.Body[:len(out.Body)/2], "ends in the middle"},
		"a field of ours": {strings.Replace(out.Body, `"stacks"`, `"logs"`, 1), "unknown field"},
		"to come":         {strings.Replace(out.Body, `"at": "20`, `"at": "29`, 1), "makes no sense"},
	} {
		got := other.Upload("/wood/import", "wood.json", c[0])
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, name)
		assert.Contains(t, got.Words(), c[1], name)
	}
	assert.Equal(t, was, other.Get("/wood/wood.json").Body, "nothing was changed")
	assert.Equal(t, http.StatusUnprocessableEntity, other.Post("/wood/import").Status)
}

// BenchmarkTheWoodPage opens the wood page of a household with forty stacks and ten years of
// monthly readings in each; its floor is the bare reading of those rows.
func BenchmarkTheWoodPage(b *testing.B) {
	s := webtest.New(b, true)
	s.SignIn()
	h := s.Store.Household(1)
	first, err := new(shed.Shed).Stack(ctx, h, 1, s.Clock.Now())
	require.NoError(b, err)
	for i := range 34 {
		st := first
		st.Name = fmt.Sprintf("Stack %d", i)
		st.Since = s.Clock.Now().AddDate(-10, 0, 0)
		_, err := h.AddStack(ctx, st.Row(), nil, &store.StackCount{Way: "scale", Amount: first.Left}, s.Clock.Now())
		require.NoError(b, err)
	}
	_, err = s.Store.DB().Exec(`
		INSERT INTO stack_readings (household_id, stack_id, at, reading, spread, pieces)
		SELECT household_id, id, CAST($1 AS timestamptz) - n * interval '30 days', 0.18 + 0.001 * n, 0.02, 4
		FROM stacks, generate_series(1, 120) AS n`, s.Clock.Now())
	require.NoError(b, err)
	n := 0
	floor := func() {
		require.NoError(b, s.Store.DB().QueryRow(`SELECT count(*) FROM (SELECT * FROM stack_readings ORDER BY stack_id, at) r`).Scan(&n))
	}
	b.Run("again", func(b *testing.B) { webtest.AgainstFloor(b, s, "/wood", floor) })
	b.Run("the first of a day", func(b *testing.B) { // nothing of it is remembered
		for b.Loop() {
			s.Clock.At = s.Clock.At.AddDate(0, 0, 1)
			webtest.Fetch(b, s, "/wood")
		}
		b.ReportMetric(float64(b.Elapsed().Microseconds())/1e3/float64(b.N), "ms/page")
	})
}
