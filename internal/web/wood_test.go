package web_test

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
)

// A stack from green to ready: its date is said, readings move it, what would help is
// listed, and each count is kept, added to and taken back.
func TestAStackThroughItsYear(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	h := s.store.Household(1)
	made := s.post("/wood", "name", "Lane ash", "species", "ash", "lain", "2 months", "cover", "wrap", "ground", "yes", "wind", "0", "mass",
		"2 rows of 3 x 1.5 x 0.33 m", "piece-mass", "1.6 kg", "piece-length", "33 cm")
	require.Equal(t, http.StatusSeeOther, made.status, made.words())
	page := s.get(made.to)
	words := page.words()
	assert.Contains(t, words, "Ready: ")
	assert.Contains(t, words, "It lies wrapped in a sheet, a tarpaulin to the ground, sheltered from the wind, on the ground.")
	for _, change := range []string{"A roof over it", "Take the sheet off", "Set it on bearers", "Split each piece in two", "All of it"} {
		assert.Contains(t, words, change)
	}
	assert.Contains(t, words, "2 rows of 3 x 1.5 x 0.33 m")
	assert.Contains(t, page.body, `class="fan-area"`, "how it goes on is drawn")
	var id int64
	_, err := fmt.Sscanf(made.to, "/wood/%d", &id)
	require.NoError(t, err)
	before, err := new(shed.Shed).Stack(ctx, h, id, s.clock.now())
	require.NoError(t, err)
	require.InDelta(t, 2*3*1.5*0.33*1000*0.65*0.55, float64(before.Left.Middle), 1)

	s.clock.at = s.clock.at.AddDate(0, 4, 0)
	require.Equal(t, made.to, s.post(made.to+"/readings", "reading", "31 33; 36 30").to)
	after, err := new(shed.Shed).Stack(ctx, h, id, s.clock.now())
	require.NoError(t, err)
	assert.Less(t, after.Spread, before.Spread, "a reading narrows it")
	assert.InDelta(t, float64(before.Left.Middle), float64(after.Left.Middle), 1e-6, "water that leaves is no wood that is burnt")
	assert.Less(t, after.Mass, before.Mass)

	require.Equal(t, made.to, s.post(made.to+"/counts", "amount", "a trailer of 2 x 1.2 x 0.5 m", "adds", "yes").to)
	more, err := new(shed.Shed).Stack(ctx, h, id, s.clock.now())
	require.NoError(t, err)
	assert.InDelta(t, float64(after.Left.Middle)+1200*0.43*0.55, float64(more.Left.Middle), 1, "put on it")
	require.Equal(t, made.to, s.post(made.to+"/counts", "amount", "1500 kg", "shape", "").to)
	weighed, err := new(shed.Shed).Stack(ctx, h, id, s.clock.now())
	require.NoError(t, err)
	assert.InDelta(t, 1500, float64(weighed.Mass), 0.5)
	undo := between(s.get(made.to).body, made.to+"/counts/", `"`)
	require.Equal(t, made.to, s.post(made.to+"/counts/"+undo).to)
	again, err := new(shed.Shed).Stack(ctx, h, id, s.clock.now())
	require.NoError(t, err)
	assert.InDelta(t, float64(more.Left.Middle), float64(again.Left.Middle), 1e-6)
	for typed, says := range map[string]string{"a few": "would do", "9999 x 9 x 9 m": "would do", "": "is missing"} {
		wrong := s.post(made.to+"/counts", "amount", typed)
		assert.Equal(t, http.StatusUnprocessableEntity, wrong.status, typed)
		assert.Contains(t, wrong.words(), says, typed)
		assert.Contains(t, wrong.body, typed, "what was typed stays")
	}
	assert.Equal(t, http.StatusNotFound, s.post(made.to+"/readings/999999/undo").status)
}

// Whether the wood lasts is said, drawn and moved by what would change it; plans start
// from the wood that is meant for such hours.
func TestWillItLast(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	page := s.get("/wood/winter")
	words := page.words()
	assert.Regexp(t, `The wood (lasts to the end of April|does not last)`, words)
	assert.Contains(t, words, "Which wood when")
	assert.Contains(t, page.body, `class="log-end"`)
	assert.Regexp(t, `By the [\d\s ]+ kg of oven-dry wood that you logged in \d+ burns of the last \d weeks`, words)
	assert.Contains(t, words, "Half of a usual winter's heat")
	assert.Contains(t, words, "kept apart", "kindling")
	assert.Contains(t, s.get("/wood").words(), "Will it last")

	plan := s.get("/plan").words()
	assert.Regexp(t, `: what the season's wood is shared out for on (mornings|days|evenings|nights) like this`, plan)
	made := s.wish("/plan?stove=1&aim=overnight&for=06:00&low=18&high=21.5&room=17.5&outdoor=2&start=cold&wood=3&kindling=6")
	assert.Regexp(t, `season's wood is shared out`, made.words())

	next := s.get("/wood/next").words()
	assert.Regexp(t, `Winter 20\d\d to 20\d\d It asks for`, next)
	assert.Regexp(t, `by (early|mid-|late) ?\w+`, next)
}

// The check at midwinter stands on the first page by itself, in its weeks and in no others.
func TestTheCheckAtMidwinter(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	says := func(at time.Time) bool {
		s.clock.at = at
		return strings.Contains(s.get("/").words(), "winter's heat was behind on")
	}
	shown := 0
	for day := time.Date(2026, 10, 1, 9, 0, 0, 0, time.UTC); day.Before(time.Date(2027, 5, 1, 0, 0, 0, 0, time.UTC)); day = day.AddDate(0, 0, 6) {
		if says(day) {
			shown++
		}
	}
	assert.Zero(t, shown, "nothing was burnt this winter")
	_, err := s.store.DB().Exec(`UPDATE burns SET started = started + interval '365 days', ended = ended + interval '365 days'`)
	require.NoError(t, err)
	_, err = s.store.DB().Exec(`UPDATE entries SET at = at + interval '365 days'; UPDATE reviews SET started = started + interval '365 days'`)
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
	s := newSite(t, true)
	s.signIn()
	cost := func(query string) float64 {
		words := s.get("/wood/offer?species=ash&price=180&" + query).words()
		m := regexp.MustCompile(`([\d.]+) for each useful kWh`).FindStringSubmatch(words)
		require.NotNil(t, m, words)
		v, err := units.ParseNumber(m[1], "price", 0, 1e6)
		require.NoError(t, err)
		return v
	}
	assert.InEpsilon(t, cost("amount=2+cords&reading=18")*2, cost("amount=1+cord&reading=18"), 0.04, "half as much costs twice as much, to the cents that are shown")
	assert.Greater(t, cost("amount=1000+kg&reading=35"), 1.1*cost("amount=1000+kg&reading=18"), "by weight water is paid for")
	wet := s.get("/wood/offer?species=ash&price=180&amount=1+cord&said=18&reading=28+31+26").words()
	assert.Contains(t, wet, "Sold as 18 %, and it reads 28 %")
	assert.Contains(t, wet, "It is no wood for now")
	assert.Contains(t, s.get("/wood/offer?species=ash&price=180&amount=1+cord").words(), "Nobody has read it")
	for query, says := range map[string]string{"price=lots&amount=1+cord": "would do", "price=5&amount=heaps": "would do", "price=-5&amount=1+cord": "price"} {
		got := s.get("/wood/offer?species=ash&" + query)
		assert.Equal(t, http.StatusUnprocessableEntity, got.status, query)
		assert.Contains(t, got.words(), says)
	}
	bought := s.get(html.UnescapeString(between(s.get("/wood/offer?species=ash&price=180&amount=1+cord&reading=20+22").body, `class="btn-quiet" href="`, `"`)))
	assert.Contains(t, bought.body, `value="1 cord"`)
	assert.Contains(t, bought.body, `value="20 22"`)
}

// What was carried in is by the stove, is burnt first, and plans know that it is warm and
// drier; what was not is as cold as it is outdoors.
func TestTheBasket(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	h := s.store.Household(1)
	assert.Contains(t, s.get("/wood/basket").words(), "for tonight and tomorrow")
	require.Equal(t, "/wood/basket", s.post("/wood/basket", "carry-2", "20", "carry-6", "12").to)
	inside := func(stack int64) (n int) {
		all, err := h.Indoors(ctx, s.clock.now())
		require.NoError(t, err)
		for _, c := range all {
			if c.StackID == stack {
				n += c.Left
			}
		}
		return n
	}
	require.Equal(t, 20, inside(2))
	b := atTheStove(s)
	require.Equal(t, b+"/live", s.post(b+"/entries", "kind", "load", "stack", "2", "pieces", "3", "direction", "sideways").to)
	assert.Equal(t, 17, inside(2), "burnt from the basket")
	undo := between(s.get("/wood/2").body, `/wood/2/carried/`, `"`)
	require.Equal(t, "/wood/2", s.post("/wood/2/carried/"+undo).to)
	assert.Zero(t, inside(2))
	require.Equal(t, "/wood/2", s.post("/wood/2/carried", "pieces", "30").to)
	for _, typed := range []string{"", "none", "0", "501", "-3"} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.post("/wood/2/carried", "pieces", typed).status, typed)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, s.post("/wood/basket").status)

	s.clock.at = s.clock.at.AddDate(0, 0, 5)
	require.Equal(t, http.StatusSeeOther, s.post(b+"/end").status)
	oak, err := new(shed.Shed).Stack(ctx, h, 2, s.clock.now())
	require.NoError(t, err)
	made := s.wish("/plan?stove=1&aim=hold&for=5+h&low=19&high=21.5&room=17&outdoor=-4&start=cold&wood=2&kindling=6")
	row, err := h.Planned(ctx, idOf(t, made.to))
	require.NoError(t, err)
	warm := row.Burn.Wish.Wood.Stack
	assert.Less(t, warm.Reading, oak.Reading, "five days by the stove dry it")
	assert.Less(t, float64(warm.Colder), 0.5, "and it is warm")
	made = s.wish("/plan?stove=1&aim=hold&for=5+h&low=19&high=21.5&room=17&outdoor=-4&start=cold&wood=3&kindling=6")
	row, err = h.Planned(ctx, idOf(t, made.to))
	require.NoError(t, err)
	assert.InDelta(t, 21, float64(row.Burn.Wish.Wood.Stack.Colder), 1, "straight from outdoors it is cold")
}

// Upkeep goes by use and by the calendar, is done with one tap and undone, stands on the
// first page and before lighting where it is dangerous, and goes into a calendar.
func TestUpkeep(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	words := s.get("/upkeep").words()
	assert.Contains(t, words, "Overdue, and dangerous so")
	assert.Contains(t, words, "See that air comes in")
	assert.Contains(t, s.get("/").words(), "Pip: see that air comes in")
	pip := "/plan?stove=4&aim=take-off&for=2+h&low=17&high=21.5&room=12&outdoor=2&start=cold&wood=5&kindling=6"
	assert.Contains(t, s.wish(pip).words(), "See that air comes in. Due since", "before lighting")
	require.Equal(t, "/upkeep", s.post("/upkeep/done", "task", "inlet", "stove", "4", "note", "a leaf in the grille").to)
	assert.Contains(t, s.get("/upkeep").words(), "a leaf in the grille")
	assert.NotContains(t, s.get("/").words(), "see that air comes in")
	undo := between(s.get("/upkeep").body, `action="/upkeep/done/`, `"`)
	require.Equal(t, "/upkeep", s.post("/upkeep/done/"+undo).to)
	assert.Contains(t, s.get("/").words(), "Pip: see that air comes in", "taken back")
	require.Equal(t, "/upkeep", s.post("/upkeep/done/"+strings.Replace(undo, "undo", "put-back", 1)).to)
	assert.NotContains(t, s.get("/").words(), "see that air comes in")

	// Swept, it is another stove as far as it is known; undone, it is not.
	h := s.store.Household(1)
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
	require.Equal(t, "/upkeep?list=autumn", s.post("/upkeep/done", "task", "sweep", "stove", "1", "list", "autumn").to)
	assert.Equal(t, was+1, changes())
	require.Equal(t, "/upkeep", s.post("/upkeep/done/"+between(s.get("/upkeep").body, `action="/upkeep/done/`, `"`)).to)
	assert.Equal(t, was, changes())

	// The alarms are tested with a tap, and asked for when that is a month ago.
	require.Equal(t, "/upkeep", s.post("/upkeep/done", "task", "detectors", "stove", "0").to)
	assert.NotContains(t, s.get("/").words(), "CO and smoke alarms were tested")
	s.clock.at = s.clock.at.AddDate(0, 0, 45)
	assert.Contains(t, s.get("/").words(), "CO and smoke alarms were tested")

	// A stove with new paint wants three small fires first.
	require.Equal(t, "/upkeep", s.post("/upkeep/done", "task", "painted", "stove", "1").to)
	assert.Contains(t, s.get("/").words(), "first small fires")
	assert.Contains(t, s.get("/upkeep/first-fires/1").words(), "Fire 3.")
	require.Equal(t, "/upkeep", s.post("/upkeep/done", "task", "first-fires", "stove", "1").to)
	s.get("/upkeep") // what was said is said once
	assert.NotContains(t, s.get("/").words(), "first small fires")

	require.Equal(t, "/upkeep", s.post("/upkeep/done", "task", "gasket", "stove", "1", "side", "latch", "side", "below", "note", "rope flat").to)
	assert.Contains(t, s.get("/upkeep").words(), "the strip slides out at the latch and below; rope flat")
	for list, has := range map[string]string{"autumn": "Sweep the chimney", "month": "Take ash out", "move": "Travel cap on"} {
		assert.Contains(t, s.get("/upkeep?list="+list).words(), has, list)
	}
	ics := s.get("/upkeep/calendar.ics")
	assert.Equal(t, http.StatusOK, ics.status)
	assert.Contains(t, ics.body, "SUMMARY:Auntie: sweep the chimney")
	assert.Greater(t, strings.Count(ics.body, "BEGIN:VEVENT"), 8)
	for _, c := range [][]string{{"task", "polish", "stove", "1"}, {"task", "sweep"}, {"task", "sweep", "stove", "1", "on", "2999-01-01"},
		{"task", "sweep", "stove", "1", "note", strings.Repeat("x", 401)}} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.post("/upkeep/done", c...).status, "%v", c)
	}
	assert.Equal(t, http.StatusNotFound, s.post("/upkeep/done", "task", "sweep", "stove", "99").status)
	assert.Equal(t, http.StatusNotFound, s.post("/upkeep/done/9999/undo").status)
}

// In a boat's cabin no fire begins before its fresh air is confirmed; the display of the
// CO alarm is read at the stove, and thirty is everybody out.
func TestSmallSpaces(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	made := s.wish("/plan?stove=4&aim=take-off&for=2+h&low=17&high=21.5&room=12&outdoor=2&start=cold&wood=5&kindling=6")
	words := made.words()
	assert.Contains(t, words, "its opening for fresh air is open and free")
	assert.Contains(t, words, "Nobody sleeps while it burns")
	assert.Contains(t, words, "Wet clothes hang above and beside")
	refused := s.post(made.to + "/start")
	assert.Equal(t, http.StatusUnprocessableEntity, refused.status)
	assert.Contains(t, refused.words(), "Nothing is started yet")
	half := s.post(made.to+"/start", "air", "yes")
	assert.Equal(t, http.StatusUnprocessableEntity, half.status, "the display as well")
	begun := s.post(made.to+"/start", "air", "yes", "co", "yes")
	require.Equal(t, http.StatusSeeOther, begun.status, begun.words())
	live := s.get(begun.to).words()
	assert.Contains(t, live, "Confirmed before lighting")
	assert.Contains(t, live, "Look at the CO display at every load")
	b := strings.TrimSuffix(begun.to, "/live")
	require.Equal(t, begun.to, s.post(b+"/entries", "kind", "co", "value", "0").to)
	assert.NotContains(t, s.get(begun.to).words(), "display shows ")
	require.Equal(t, begun.to, s.post(b+"/entries", "kind", "co", "value", "12 ppm").to)
	assert.Contains(t, s.get(begun.to).words(), "The CO display shows 12 ppm")
	require.Equal(t, begun.to, s.post(b+"/entries", "kind", "co", "value", "45").to)
	assert.Contains(t, s.get(begun.to).words(), "Everybody out now, the door left open behind you. Call the emergency number")
	assert.Contains(t, s.get("/wood").words(), "Everybody out now", "on every page, until it is answered")
	require.Equal(t, begun.to, s.post(b+"/entries", "kind", "co", "value", "0").to)
	assert.NotContains(t, s.get("/wood").words(), "Everybody out now")
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(b+"/entries", "kind", "co", "value", "much").status)

	require.Equal(t, http.StatusSeeOther, s.post(b+"/end").status)
	only := s.post("/stove", "stove", "4", "start", "cold", "room", "18", "outdoor", "4")
	assert.Equal(t, http.StatusUnprocessableEntity, only.status)
	assert.Contains(t, only.words(), "Fresh air first")
	assert.Equal(t, http.StatusSeeOther, s.post("/stove", "stove", "4", "start", "cold", "room", "18", "outdoor", "4", "air", "yes", "co", "yes").status)
	assert.Equal(t, http.StatusSeeOther, s.post("/stove", "stove", "1", "start", "cold", "room", "18", "outdoor", "4").status, "a kitchen is no cabin")

	trip := s.get("/wood/trip?stove=4&days=4&outdoor=2+C&wood=5").words()
	assert.Regexp(t, `Carry [\d.]+ kg of alder: \d+ pieces`, trip)
	assert.Contains(t, trip, "fires to light 8")
	for _, query := range []string{"days=many&outdoor=2+C", "days=4&outdoor=cold", "days=0&outdoor=2+C"} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.get("/wood/trip?stove=4&"+query).status, query)
	}
}

// A burn of mineral fuel keeps what is done to it, says what follows from masses alone, and
// warns of the wrong stove.
func TestABurnOfMineralFuel(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	mineral := s.post("/wood", "name", "Ovoids", "species", "mineral-fuel", "piece-mass", "0.05 kg", "piece-length", "50 mm", "mass", "300 kg")
	require.Equal(t, http.StatusSeeOther, mineral.status, mineral.words())
	id := strings.TrimPrefix(mineral.to, "/wood/")
	assert.Contains(t, s.get(mineral.to).words(), "Never in a stove for wood alone")
	begun := s.post("/stove", "stove", "3", "start", "cold", "room", "18", "outdoor", "4")
	b := strings.TrimSuffix(begun.to, "/live")
	for i, e := range [][]string{{"kind", "light"}, {"kind", "load", "stack", id, "pieces", "40"}, {"kind", "riddle"}, {"kind", "bed", "value", "40 mm"},
		{"kind", "load", "stack", id, "pieces", "40"}, {"kind", "ash"}, {"kind", "bed", "value", "110 mm"}} {
		s.clock.at = s.clock.at.Add(time.Duration(i*10) * time.Minute)
		got := s.post(b+"/entries", e...)
		require.Equal(t, begun.to, got.to, "%v: %s", e, got.words())
		if i == 3 {
			assert.Contains(t, s.get(begun.to).words(), "It was 40 mm deep: that is thin")
		}
	}
	assert.Contains(t, s.get(begun.to).words(), "so far every")
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(b+"/entries", "kind", "bed", "value", "5 m").status)
	require.Equal(t, b, s.post(b+"/end").to)
	words := s.get(b).words()
	assert.Contains(t, words, "heat in the fuel to the room")
	assert.Contains(t, words, "put on 2 times, every")
	assert.Contains(t, words, "riddled · ash out 1 · 1 times")
	assert.Contains(t, words, "bed, as it was seen last 110 mm")

	begun = s.post("/stove", "stove", "1", "start", "cold", "room", "18", "outdoor", "4")
	b = strings.TrimSuffix(begun.to, "/live")
	require.Equal(t, begun.to, s.post(b+"/entries", "kind", "load", "stack", id, "pieces", "20").to, "what was done is logged")
	require.Equal(t, begun.to, s.post(b+"/entries", "kind", "load", "stack", "1", "pieces", "2").to)
	live := s.get(begun.to).words()
	assert.Contains(t, live, "one for wood alone")
	assert.Contains(t, live, "never two fuels at once")
}

// The wood goes out with all that was told of it and comes back the same; twice is as good as
// once; a file that makes no sense changes nothing and says why.
func TestTheWoodGoesOutAndComesBack(t *testing.T) {
	s := newSite(t, true)
	s.signIn()
	require.Equal(t, "/wood/1", s.post("/wood/1/readings", "reading", "17 18 19", "wood-temp", "5 C").to)
	out := s.get("/wood/wood.json")
	require.Equal(t, http.StatusOK, out.status)
	table := s.get("/wood/wood.csv").body
	assert.Contains(t, table, "\"Beech, lean-to\",beech,")
	assert.Contains(t, table, ",reading,18,1,3,5,")
	before, err := new(shed.Shed).Stacks(ctx, s.store.Household(1), s.clock.now())
	require.NoError(t, err)
	again := s.upload("/wood/import", "wood.json", out.body)
	require.Equal(t, "/wood", again.to, again.words())
	assert.Contains(t, s.get("/wood").words(), "Read in: 0 stacks. 6 were here already")

	other := *s
	h := storetest.Household(t, s.store, "stranger")
	_, err = s.store.DB().Exec(`UPDATE users SET password = (SELECT password FROM users WHERE name = $1) WHERE name = 'stranger'`, demo.User)
	require.NoError(t, err)
	other.newPerson()
	require.Equal(t, "/", other.post("/sign-in", "name", "stranger", "password", demo.Password).to)
	require.Equal(t, "/wood", other.upload("/wood/import", "wood.json", out.body).to)
	after, err := new(shed.Shed).Stacks(ctx, h, s.clock.now())
	require.NoError(t, err)
	require.Len(t, after, len(before))
	for i, b := range before {
		a := after[i]
		assert.Equal(t, b.Name, a.Name)
		assert.Equal(t, b.Told, a.Told)
		assert.InDelta(t, float64(b.Reading), float64(a.Reading), 1e-9, b.Name)
		assert.InDelta(t, float64(b.PieceMass), float64(a.PieceMass), 1e-9)
		assert.Len(t, a.Readings, len(b.Readings))
		assert.InDelta(t, float64(b.Count.Middle), float64(a.Count.Middle), 1e-9, "as it was counted; of another household nothing was burnt")
	}
	was := other.get("/wood/wood.json").body
	for name, c := range map[string][2]string{
		"no JSON":         {"wood", "no wood that can be read"},
		"another format":  {`{"format":"wood","version":1,"stacks":[]}`, "would do"},
		"an odd kind":     {strings.Replace(out.body, `"species": "beech"`, `"species": "plywood"`, 1), "is not a known wood"},
		"a heavy piece":   {strings.Replace(out.body, `"piece_length_m": 0.33`, `"piece_length_m": 33`, 1), "a piece weighs"},
		"half of it":      {out.body[:len(out.body)/2], "ends in the middle"},
		"a field of ours": {strings.Replace(out.body, `"stacks"`, `"logs"`, 1), "unknown field"},
		"to come":         {strings.Replace(out.body, `"at": "20`, `"at": "29`, 1), "makes no sense"},
	} {
		got := other.upload("/wood/import", "wood.json", c[0])
		assert.Equal(t, http.StatusUnprocessableEntity, got.status, name)
		assert.Contains(t, got.words(), c[1], name)
	}
	assert.Equal(t, was, other.get("/wood/wood.json").body, "nothing was changed")
	assert.Equal(t, http.StatusUnprocessableEntity, other.post("/wood/import").status)
}

// BenchmarkTheWoodPage opens the wood page of a household with forty stacks and ten years of
// monthly readings in each; its floor is the bare reading of those rows.
func BenchmarkTheWoodPage(b *testing.B) {
	s := newSite(b, true)
	s.signIn()
	h := s.store.Household(1)
	first, err := new(shed.Shed).Stack(ctx, h, 1, s.clock.now())
	require.NoError(b, err)
	for i := range 34 {
		st := first
		st.Name = fmt.Sprintf("Stack %d", i)
		st.Since = s.clock.now().AddDate(-10, 0, 0)
		_, err := h.AddStack(ctx, st.Row(), nil, &store.StackCount{Way: "scale", Amount: first.Left}, s.clock.now())
		require.NoError(b, err)
	}
	_, err = s.store.DB().Exec(`
		INSERT INTO stack_readings (household_id, stack_id, at, reading, spread, pieces)
		SELECT household_id, id, CAST($1 AS timestamptz) - n * interval '30 days', 0.18 + 0.001 * n, 0.02, 4
		FROM stacks, generate_series(1, 120) AS n`, s.clock.now())
	require.NoError(b, err)
	n := 0
	floor := func() {
		require.NoError(b, s.store.DB().QueryRow(`SELECT count(*) FROM (SELECT * FROM stack_readings ORDER BY stack_id, at) r`).Scan(&n))
	}
	b.Run("again", func(b *testing.B) { againstFloor(b, s, "/wood", floor) })
	b.Run("the first of a day", func(b *testing.B) { // nothing of it is remembered
		for b.Loop() {
			s.clock.at = s.clock.at.AddDate(0, 0, 1)
			fetch(b, s, "/wood")
		}
		b.ReportMetric(float64(b.Elapsed().Microseconds())/1e3/float64(b.N), "ms/page")
	})
}
