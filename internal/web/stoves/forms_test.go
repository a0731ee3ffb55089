package stoves_test

import (
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/shed"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/web/home"
	"smolder/internal/web/webtest"
)

// A firebox is told by its sides, a catalyst's bypass by its name: of another stove that is not
// asked, and where it stands among the controls already it is not made twice.
func TestSidesAndBypass(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	h := s.Store.Household(1)
	form := []string{"space-id", s.Space(), "volume", "46 x 38 x 33 cm", "width", "", "depth", "", "height", "31 cm", "max-load", "", "bypass", "Flap"}
	for i, c := range []struct {
		change   []string
		controls int
	}{
		{[]string{"family", "catalytic"}, 2},
		{[]string{"family", "secondary-air"}, 1},
		{[]string{"family", "catalytic", "bypass", ""}, 1},
		{[]string{"family", "catalytic", "control-2-name", "Rod", "control-2-role", "bypass", "control-2-scale", "lever"}, 2},
	} {
		got := s.Post("/stoves", webtest.Auntie(append(append(form, "name", fmt.Sprintf("Kiln %d", i)), c.change...)...)...)
		require.Equal(t, http.StatusSeeOther, got.Status, got.Words())
		all, err := h.Stoves(ctx)
		require.NoError(t, err)
		st := all[len(all)-1]
		assert.InDelta(t, 57.7, float64(st.Volume), 0.1)
		assert.InDelta(t, 0.46, float64(st.Width), 1e-6)
		assert.InDelta(t, 0.31, float64(st.Height), 1e-6, "what is said of a side by itself goes before")
		assert.Len(t, st.Controls, c.controls, c.change)
		_, has := st.Bypass()
		assert.Equal(t, c.controls == 2, has, c.change)
	}
	wrong := s.Post("/stoves", webtest.Auntie("space-id", s.Space(), "volume", "46 x 38")...)
	assert.Equal(t, http.StatusUnprocessableEntity, wrong.Status)
	assert.Contains(t, wrong.Words(), "a firebox has three sides; 46 x 38 x 33 cm, or 55 L would do")
	assert.Contains(t, wrong.Body, `value="46 x 38"`)
}

// After a mistake what was not asked stays folded, unless the mistake is in it or it was open.
func TestWhatWasNotAskedStaysFolded(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	for _, c := range []struct {
		to   string
		send []string
		open bool
	}{
		{"/stoves", webtest.Auntie("space-id", s.Space(), "chimney-height", "a tall one"), false},
		{"/stoves", webtest.Auntie("space-id", s.Space(), "chimney-height", "a tall one", "opened", "yes"), true},
		{"/stoves", webtest.Auntie("space-id", s.Space(), "max-load", "a lot"), true},
		{"/wood", []string{"name", "Lean-to", "species", "beech", "lain", "a while or so"}, false},
		{"/wood", []string{"name", "Lean-to", "species", "beech", "lain", "a while or so", "opened", "yes"}, true},
		{"/wood", []string{"name", "Lean-to", "species", "beech", "lain", "2 years", "piece-mass", "heavy"}, true},
	} {
		got := s.Post(c.to, c.send...)
		require.Equal(t, http.StatusUnprocessableEntity, got.Status, c.send)
		assert.Equal(t, c.open, regexp.MustCompile(`<details class="unfold" open>`).MatchString(got.Body), c.send)
	}
}

// Opening a form and sending it as it is must change nothing, in either system
// of units: what is shown is read back as the same.
func TestFormsSentBackUnchangedChangeNothing(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	h := s.Store.Household(1)
	odd, err := h.Stove(ctx, 1)
	require.NoError(t, err)
	odd.Volume, odd.Chimney.Height, odd.MaxLoad = 54.5, 5.87, 6.83 // not as round as they are shown
	require.NoError(t, h.SaveStove(ctx, odd))
	small, err := new(shed.Shed).Stack(ctx, h, 4, s.Clock.Now())
	require.NoError(t, err)
	small.PieceMass, small.PieceLength = 0.28, 0.247
	require.NoError(t, h.SaveStack(ctx, small.Row()))
	for _, system := range []units.System{units.Metric, units.Imperial} {
		p, err := h.Profile(ctx)
		require.NoError(t, err)
		p.Units = system
		require.NoError(t, h.SaveProfile(ctx, p))
		for _, path := range []string{"/stoves/1", "/stoves/2", "/stoves/3", "/stoves/4"} {
			id := int64(path[len(path)-1] - '0')
			before, err := h.Stove(ctx, id)
			require.NoError(t, err)
			got := s.Post(path, webtest.Fields(s.Get(path+"/edit").Body)...)
			require.Equal(t, http.StatusSeeOther, got.Status, "%s %s: %s", system, path, got.Words())
			after, err := h.Stove(ctx, id)
			require.NoError(t, err)
			assert.Equal(t, before.Stove, after.Stove, "%s in %s", path, system)
			assert.Equal(t, before.Space, after.Space)
		}
		for _, id := range []int64{1, 4, 6} {
			before, err := new(shed.Shed).Stack(ctx, h, id, s.Clock.Now())
			require.NoError(t, err)
			path := "/wood/" + string(rune('0'+id))
			require.Equal(t, path, s.Post(path, webtest.Fields(s.Get(path+"/edit").Body)...).To)
			after, err := new(shed.Shed).Stack(ctx, h, id, s.Clock.Now())
			require.NoError(t, err)
			// what follows from it is worked out anew, and may differ in the last digit
			assert.InEpsilon(t, float64(before.Mass), float64(after.Mass), 1e-9)
			assert.InEpsilon(t, float64(before.PieceMass), float64(after.PieceMass), 1e-9)
			// the same piece, told of wood as wet as it is now
			after.PieceMoisture, after.Version = before.PieceMoisture, before.Version
			after.Mass, after.PieceMass, after.Reading, after.Spread = before.Mass, before.PieceMass, before.Reading, before.Spread
			assert.Equal(t, before.Stack, after.Stack, "%s in %s", path, system)
			assert.Equal(t, before.Siting, after.Siting, "%s in %s", path, system)
		}
		require.Equal(t, "/household", s.Post("/household", webtest.Fields(s.Get("/household").Body)...).To)
		same, err := h.Profile(ctx)
		require.NoError(t, err)
		same.Version = p.Version
		assert.Equal(t, p, same)
		spaces, err := h.Spaces(ctx)
		require.NoError(t, err)
		require.NotEmpty(t, spaces)
		for _, before := range spaces {
			path := fmt.Sprintf("/spaces/%d", before.ID)
			require.Equal(t, path, s.Post(path, webtest.Fields(s.Get(path).Body)...).To)
			after, err := h.Space(ctx, before.ID)
			require.NoError(t, err)
			after.Version = before.Version
			assert.Equal(t, before, after, "%s in %s", path, system)
		}
	}
}

func TestFieldsSayWhatTheyUnderstood(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	ask := func(kind, typed string) webtest.Answer {
		return s.Get("/understand?kind=" + url.QueryEscape(kind) + "&typed=" + url.QueryEscape(typed))
	}
	for _, c := range [][3]string{{"temperature", "450F", "232 °C"}, {"room", "70F", "21.1 °C"}, {"mass", "12 lb", "5.4 kg"},
		{"length", "20 ft", "6.1 m"}, {"size", "3/16 in", "5 mm"},
		{"volume", "2 ft3", "57 L"}, {"flow", "180 cfm", "306 m³/h"}, {"draft", "0.06 inwc", "15 Pa"}, {"power", "24000 BTU/h", "7.0 kW"},
		{"moisture", "18", "18 % on dry basis"},
		{"span", "1 h 30", "1 h 30 min"}, {"pieces", "5 pieces", "5 pieces"}} {
		assert.JSONEq(t, `{"understood":"`+c[2]+`"}`, ask(c[0], c[1]).Body, c[0])
	}
	wrong := ask("temperature", "hot")
	assert.Equal(t, http.StatusUnprocessableEntity, wrong.Status)
	assert.Contains(t, ask("mood", "fine").Words(), "not known")
}

func TestHowMuchWoodThereIsCanBeSaidThreeWays(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	for name, c := range map[string]struct {
		typed string
		want  float64
	}{"by mass": {"800 kg", 800}, "by pieces": {"300 pieces", 390}, "by volume": {"2.5 m3", 2500 * 0.65 * 0.56 * 1.177},
		"by cord": {"1 cord", 3620 * 0.65 * 0.56 * 1.177}} {
		to := s.Post("/wood", webtest.Beech("name", "Counted "+name, "mass", c.typed)...).To
		require.NotEmpty(t, to, name)
		lines := s.Get(to).Words()
		got := regexp.MustCompile(`remaining ([\d.]+) kg,`).FindStringSubmatch(lines)
		require.NotNil(t, got, lines)
		v, err := units.ParseMass(got[1], units.Metric)
		require.NoError(t, err)
		assert.InEpsilon(t, c.want, float64(v), 0.01, name)
	}
	gone := s.Post("/wood/2/remove")
	assert.Contains(t, gone.Words(), "is off the list")
	assert.NotContains(t, strings.Split(s.Get("/wood").Body, "Off the list")[0], "north stack")
	s.Post("/wood/2/put-back")
	assert.NotContains(t, s.Get("/wood").Body, "Off the list")
	assert.Contains(t, s.Get("/wood").Body, "north stack")
}

// Every kind of entry can be corrected, undone and put back, on a burn that is
// over as well.
func TestCorrectingEveryKind(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	b := webtest.AtTheStove(s)
	for _, c := range []struct {
		log, correct []string
		said, after  string
	}{
		{[]string{"kind", "light"}, []string{}, "Lit", "Lit"},
		{[]string{"kind", "control", "control", "lever", "value", "right"}, []string{"value", "a third"}, "Lever to fully right", "Lever to a third"},
		{[]string{"kind", "temperature", "place", "top", "value", "200 C"}, []string{"value", "210 C"}, "Top 200 °C", "Top 210 °C"},
		{[]string{"kind", "temperature", "place", "room", "value", "19.5 C"}, []string{"value", "20 C"}, "Room 19.5 °C", "Room 20 °C"},
		{[]string{"kind", "draft", "value", "12 Pa"}, []string{"value", "0.06 inwc"}, "Draft 12 Pa", "Draft 15 Pa"},
		{[]string{"kind", "door", "value", "open"}, []string{"value", "shut"}, "Door open", "Door shut"},
		{[]string{"kind", "smoke", "value", "grey"}, []string{"value", "clear"}, "Blue-grey smoke at the cap", "Nothing but shimmer at the cap"},
		{[]string{"kind", "note", "note", "a slip"}, []string{"note", "a quiet fire"}, "a slip", "a quiet fire"},
		{[]string{"kind", "load", "stack", "1", "pieces", "3", "direction", "sideways"}, []string{"pieces", "4", "mass", "5 kg"},
			"3 × 1.3 kg of Beech", "4 × 1.2 kg of Beech"},
		{[]string{"kind", "prime"}, []string{}, "Flue warmed with burning paper", "Flue warmed with burning paper"},
		{[]string{"kind", "rake"}, []string{}, "Coals raked to the air", "Coals raked to the air"},
		{[]string{"kind", "out"}, []string{}, "Flames gone", "Flames gone"},
	} {
		s.Clock.At = s.Clock.At.Add(time.Minute)
		require.Equal(t, b+"/live", s.Post(b+"/entries", c.log...).To, "%v", c.log)
		require.Contains(t, s.Get(b+"/live").Words(), c.said)
		id := webtest.NewestEntry(s, b+"/live", b)
		form := s.Get(b + "/entries/" + id)
		require.Equal(t, http.StatusOK, form.Status)
		same := webtest.Change(webtest.Fields(form.Body), c.correct...)
		if c.log[1] == "note" {
			same = webtest.Change(c.correct, "when", s.Clock.At.Format("15:04"))
		}
		require.Equal(t, http.StatusSeeOther, s.Post(b+"/entries/"+id, same...).Status, "%v", c.correct)
		assert.Contains(t, s.Get(b+"/live").Words(), c.after)
		newest := webtest.NewestEntry(s, b+"/live", b)
		require.NotEqual(t, id, newest, "a correction is an entry of its own")
		s.Post(b + "/entries/" + newest + "/strike")
		s.Post(b + "/entries/" + newest + "/put-back")
		assert.Contains(t, s.Get(b+"/live").Words(), c.after)
	}
	s.Post(b + "/end")
	id := webtest.NewestEntry(s, b, b)
	assert.Equal(t, b, s.Post(b+"/entries/"+id+"/strike").To, "back to the burn's own page")
	assert.Equal(t, b+"/live", s.Post(b+"/reopen").To)
	assert.Equal(t, http.StatusNotFound, s.Get(b+"/entries/no-such-entry").Status)
}

// Around a change of the clock the log keeps the stove's time and shows the
// household's.
func TestTheNightTheClockChanges(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	h := s.Store.Household(1)
	p, err := h.Profile(ctx)
	require.NoError(t, err)
	p.Zone = "Europe/Oslo"
	require.NoError(t, h.SaveProfile(ctx, p))
	s.Clock.At = time.Date(2026, 10, 24, 23, 0, 0, 0, time.UTC) // one in the morning, the hour before it comes twice
	b := webtest.AtTheStove(s)
	s.Clock.At = s.Clock.At.Add(90 * time.Minute) // half past two, the second time round
	require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "note", "note", "half an hour ago", "when", "30 min ago").To)
	require.Equal(t, b+"/live", s.Post(b+"/entries", "kind", "temperature", "place", "top", "value", "150").To)
	words := s.Get(b + "/live").Words()
	assert.Contains(t, words, "02:00 half an hour ago")
	assert.Contains(t, words, "1 h 30 min")
}

func TestPasswords(t *testing.T) {
	one, two := home.HashPassword("three dry splits"), home.HashPassword("three dry splits")
	assert.NotEqual(t, one, two, "each has its own salt")
	assert.True(t, strings.HasPrefix(one, "$argon2id$"))
}

func TestPlansThatAreRefusedSayWhy(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	plan := "/plan?stove=1&aim=hold&for=6+h&low=19&high=21.5&room=16.5&outdoor=-1&start=cold&kindling=6&wood="
	green := strings.TrimPrefix(s.Post("/wood", webtest.Beech("name", "Green", "reading", "38%")...).To, "/wood/")
	wet := s.Wish(plan + green)
	assert.Contains(t, wet.Words(), "No plan.")
	assert.Contains(t, wet.Words(), "let this stack dry")
	assert.NotContains(t, wet.Body, "Start this burn", "and cannot be started")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Wish(strings.Replace(plan, "aim=hold", "aim=dance", 1)+"1").Status)
	assert.Contains(t, s.Wish(plan+"4").Words(), "Ash from the lane, new is over 20 % and was left where it lies", "wet wood is not planned where dry wood lies")
	good := s.Wish(plan + "1")
	assert.Contains(t, good.Words(), "Before lighting")
	require.Equal(t, http.StatusSeeOther, s.Post(good.To+"/start").Status)
	assert.Contains(t, s.Get("/").Words(), "Now: Lay", "the first page says what to do")
	again := s.Post(s.Wish(plan+"1").To + "/start")
	assert.Equal(t, http.StatusConflict, again.Status, "one fire in a stove")
}

func TestAlternativesCanBeChosen(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	page := s.Wish("/plan?stove=1&aim=overnight&for=06:00&low=18&high=21.5&room=17.5&outdoor=2&start=cold&wood=1&wood2=2&kindling=6")
	require.Equal(t, http.StatusOK, page.Status, page.Words())
	assert.Contains(t, page.Words(), "Or")
	link := "/plans/" + webtest.Alternative(page)
	other := s.Get(strings.TrimSuffix(link, "#made"))
	assert.Contains(t, other.Words(), "Against the best:")
	assert.Contains(t, other.Words(), "The best by all that counts.")
	chosen := webtest.PlanSaid(other)
	assert.NotEqual(t, webtest.PlanSaid(page), chosen)
	started := s.Post(strings.TrimSuffix(link, "#made") + "/start")
	require.Equal(t, http.StatusSeeOther, started.Status, started.Words())
	b, err := s.Store.Household(1).OpenBurns(ctx)
	require.NoError(t, err)
	require.Len(t, b, 1)
	assert.Equal(t, chosen, say.Plan(*b[0].Plan, lang.Metric), "the plan that was chosen is the one that is followed")
	for typed, says := range map[string]string{"18:10": "less than half an hour away", "soon": "8 h, 1 h 30 or 90 min would do"} {
		bad := s.Wish("/plan?stove=1&aim=hold&for=" + typed + "&low=18&high=21.5&room=17.5&outdoor=2&start=cold&wood=1")
		assert.Equal(t, http.StatusUnprocessableEntity, bad.Status)
		assert.Contains(t, bad.Words(), says)
	}
}
