package hearth_test

import (
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/web/webtest"
)

// A played is an evening at a stove that is not quite as its owner described it: what is
// logged is done to a fire of its own, and the gauges show that fire.
type played struct {
	*webtest.Site
	b     string // the burn's path
	id    int64
	fire  *fire.Fire
	began time.Time
	done  int // acts that the fire has had
	lines []line
	said  string
}

// plays begins an owner's evening; world is which of the likely stoves it is.
func (o owner) plays(t *testing.T, world int) *played {
	s, live := o.begins(t)
	e := &played{Site: s, b: strings.TrimSuffix(live, "/live"), began: s.Clock.At}
	_, err := fmt.Sscanf(live, "/burns/%d/live", &e.id)
	require.NoError(t, err)
	e.fire = fire.New(belief.Worlds(belief.Usual(), belief.Doubt{}, world+1)[world].In(e.burn().Setup()), 4*time.Second)
	return e
}

func (e *played) burn() burn.Burn {
	b, err := e.Store.Household(webtest.HouseholdOf(e.T, e.Site)).Burn(ctx, e.id)
	require.NoError(e.T, err)
	return b.Burn
}

// at moves on to a minute; whoever reads gauges does so every five.
func (e *played) at(minute int, reads ...string) {
	e.T.Helper()
	for {
		m := int(e.Clock.At.Sub(e.began) / time.Minute)
		next := min(minute, (m/5+1)*5)
		if next <= m {
			break
		}
		e.Clock.At = e.began.Add(time.Duration(next) * time.Minute)
		e.fire.BurnTo(time.Duration(next)*time.Minute, 0)
		for _, place := range reads {
			for _, g := range e.burn().Stove.Gauges {
				if string(g.Place) == place {
					v, _ := e.fire.Reading(g.Place)
					e.logs("kind", "temperature", "place", place, "value", fmt.Sprintf("%.0f C", v))
				}
			}
		}
		e.says()
	}
}

// logs logs something, and does it.
func (e *played) logs(entry ...string) {
	e.T.Helper()
	got := e.Post(e.b+"/entries", entry...)
	require.Equal(e.T, http.StatusSeeOther, got.Status, "%v: %s", entry, got.Words())
	if entry[1] != "temperature" {
		e.note("OWNER logs", strings.Join(entry, " "))
	}
	e.catchUp()
}

// tapsDone taps whatever the page offers to be done.
func (e *played) tapsDone() {
	e.T.Helper()
	if form := webtest.Doing(e.Get(e.b + "/live")); len(form) > 0 {
		got := e.Post(e.b+"/done", form...)
		require.Equal(e.T, http.StatusSeeOther, got.Status, got.Words())
		e.note("OWNER", "taps done")
		e.catchUp()
	}
}

// catchUp does to the fire what was logged since.
func (e *played) catchUp() {
	n := 0
	for _, ev := range e.burn().Record(e.Clock.At) {
		if ev.Act == nil {
			continue
		}
		if n++; n > e.done {
			e.fire.Do(*ev.Act)
			e.done = n
		}
	}
}

var headPart = regexp.MustCompile(`(?s)<div data-swap="head">(.*?)<div class="do-row">`)

// says notes what the page says now, if it is anything new.
func (e *played) says() {
	e.T.Helper()
	page := e.Get(e.b + "/live")
	require.Equal(e.T, http.StatusOK, page.Status)
	head := ""
	if m := headPart.FindStringSubmatch(page.Body); m != nil {
		head = webtest.Answer{Body: m[1]}.Words()
	}
	state := webtest.Answer{Body: webtest.Between(page.Body, `<h1 class="text-xl">`, "</h1>")}.Words()
	worse := webtest.Answer{Body: webtest.Between(page.Body, `class="endangered"`, "</div>")}.Words()
	text := strings.TrimSpace(state + " | " + worse + head)
	if text != e.said {
		e.note("PAGE", text)
	}
	e.said = text
}

func (e *played) guide() float64 {
	g, _ := e.burn().Stove.Guide()
	v, _ := e.fire.Reading(g.Place)
	return v
}

// A line is something that was done or said, and the fire at that moment.
type line struct {
	minute int
	fire   fire.Sample
	guide  float64
	text   string
}

func (l line) String() string {
	f := l.fire
	return fmt.Sprintf("%3d min [%s, flames %.2f, wood %.1f kg, coals %.2f kg, gauge %.0f °C, room %.1f °C] %s", l.minute, f.Phase, f.Flame, f.Wood, f.Coals,
		l.guide, f.Room, l.text)
}

func (e *played) note(what, text string) {
	e.lines = append(e.lines, line{int(e.Clock.At.Sub(e.began) / time.Minute), e.fire.Sample(), e.guide(), what + " " + text})
}

// evenings are what five owners do instead of what they are told.
var evenings = map[string]struct {
	world int
	plays func(*played)
}{

	"no thermometer, five kilowatts": {1, func(e *played) { // slow, then impatient, then shut for the night
		e.begin()
		e.at(35)
		e.tapsDone() // twenty minutes late
		e.logs("kind", "load", "stack", "1", "pieces", "6")
		e.at(60)
		e.logs("kind", "control", "control", "slider", "value", "0")
		e.at(90)
		e.logs("kind", "smoke", "value", "grey")
		e.at(100)
		e.logs("kind", "not-yet", "note", "turn")
		e.at(240)
		e.logs("kind", "coals")
		e.at(300)
	}},
	"Fahrenheit, a catalyst, a chimney outside": {2, func(e *played) { // bypass at once, door forgotten, too much wood
		e.begin()
		e.logs("kind", "door", "value", "ajar")
		e.at(5, "catalyst")
		e.logs("kind", "control", "control", "bypass", "value", "shut")
		e.at(35, "catalyst")
		e.logs("kind", "door", "value", "shut")
		e.logs("kind", "load", "stack", "1", "pieces", "14")
		e.at(60, "catalyst")
		e.logs("kind", "control", "control", "dial", "value", "shut")
		e.at(360, "catalyst")
	}},
	"a van": {3, func(e *played) { // shut too soon, it goes out, the alarm shows something
		e.begin()
		e.at(10)
		e.logs("kind", "control", "control", "vent", "value", "shut")
		e.logs("kind", "door", "value", "shut")
		e.at(20)
		e.logs("kind", "co", "value", "18")
		e.at(25)
		e.logs("kind", "co", "value", "45")
		e.at(35)
		e.logs("kind", "co", "value", "0")
		e.logs("kind", "went-out")
		e.at(50)
		e.logs("kind", "load", "stack", "1", "pieces", "3")
		e.at(60)
		e.logs("kind", "light")
		e.at(180)
	}},
	"multi-fuel, a grate and a flap": {4, func(e *played) { // the flap for twenty minutes, then all the wood at once
		e.begin()
		e.at(10, "connector-surface")
		e.logs("kind", "door", "value", "shut")
		e.logs("kind", "control", "control", "ash-flap", "value", "open")
		e.at(30, "connector-surface")
		e.logs("kind", "load", "stack", "1", "pieces", "8")
		e.at(40, "connector-surface")
		e.logs("kind", "control", "control", "ash-flap", "value", "shut")
		e.at(90, "connector-surface")
		require.Equal(e.T, http.StatusUnprocessableEntity, e.Post(e.b+"/entries", "kind", "load", "pieces", "3").Status, "from no stack")
		e.at(100, "connector-surface")
		e.logs("kind", "chimney-fire")
		e.at(130, "connector-surface")
	}},
	"fans": {0, func(e *played) { // a fan, smoke in the room, and never turned down
		e.begin()
		e.at(15, "connector-probe")
		e.logs("kind", "smoke", "value", "room")
		e.at(50, "connector-probe")
		e.logs("kind", "smoke", "value", "gone")
		for range 4 {
			e.logs("kind", "load", "stack", "1", "pieces", "2")
			e.logs("kind", "door", "value", "shut")
			e.at(int(e.Clock.At.Sub(e.began)/time.Minute)+25, "connector-probe")
		}
		e.at(240, "connector-probe")
	}},
}

// begin taps all that is to be done before the match and it, whatever it is.
func (e *played) begin() {
	for range 12 {
		if _, lit := e.burn().Last(func(x burn.Entry) bool { return x.Kind == burn.Light }); lit {
			break
		}
		e.tapsDone()
	}
	e.says()
}

// heard is what the page must have said by a minute, after another.
var heard = map[string][]struct {
	from, to int
	says     string
}{

	"no thermometer, five kilowatts": {
		{20, 35, "The door has stood ajar"}, {36, 60, "all of it is black"}, {90, 95, "Blue-grey smoke at the cap"},
		{75, 235, "smouldering|has not caught"}, {240, 300, "Coals without air make carbon monoxide"},
		{300, 300, "REVIEW.*so much burnt.*wood left unburnt"},
	},
	"Fahrenheit, a catalyst, a chimney outside": {
		{20, 35, "The door has stood ajar"}, {40, 60, "over 1700 °F"}, {65, 100, "Coals without air|flames are gone"}, {100, 140, "Coals without air|flames are gone"},
	},
	"a van": {
		{20, 25, "shows 18 ppm"}, {25, 30, "Everybody out now"}, {40, 40, "it is out"}, {50, 60, "not lit. Now: Kindling"}, {65, 120, "has not caught|hardly black"},
	},
	"multi-fuel, a grate and a flap": {
		{15, 30, "ash flap has been open"}, {41, 60, "twice the manual's largest load"}, {101, 130, "A chimney fire.*call the fire service"},
	},
	"fans": {
		{20, 50, "moke c[ao]me into the room"}, {75, 145, "Too hot: the flue gas is at"}, {150, 240, "Put nothing on|coals glow"},
	},
}

// Owners who are late, too early, impatient, forgetful, or do nothing at all: what can hurt
// is said when it is so, nothing is put on a stove that is out, what smoulders is not called
// a cruise, and the review begins with what went wrong. The whole of what the page said
// is printed with -v.
func TestOwnersWhoDoOtherwise(t *testing.T) {
	for name, o := range fiveOwners() {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			e := o.plays(t, evenings[name].world)
			evenings[name].plays(e)
			require.Equal(t, http.StatusSeeOther, e.Post(e.b+"/end").Status)
			review := webtest.Answer{Body: webtest.Between(e.Get(e.b).Body, "<main", "The log")}.Words()
			e.note("REVIEW", review)
			for _, l := range e.lines {
				t.Log(l)
				if !strings.HasPrefix(l.text, "PAGE") {
					continue
				}
				assert.False(t, l.fire.Phase == fire.Out && l.fire.Coals < 0.02 && strings.Contains(l.text, "Now: Put on"), "a load on a stove that is out: %s", l)
				assert.NotRegexp(t, `Now: (Lever|Slider|Dial|Vent|Top air) to [^.]*[Ww]hen all of it is black.*(flames are gone|has not caught)`, l.text)
			}
			for _, h := range heard[name] {
				found := false
				for _, l := range e.lines {
					found = found || l.minute >= h.from && l.minute <= h.to && regexp.MustCompile(h.says).MatchString(l.text)
				}
				assert.True(t, found, "%d to %d min: %s", h.from, h.to, h.says)
			}
		})
	}
}
