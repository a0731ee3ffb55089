package hearth_test

import (
	"net/http"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/web/webtest"
)

// An owner is somebody with a stove of their own, who begins with an empty
// database.
type owner struct {
	setup, space, stove, stack, wish []string
	says                             []string // on the plan's page
	never                            []string
}

// fiveOwners are people with very different stoves, each with an empty database.
func fiveOwners() map[string]owner {
	return map[string]owner{
		"no thermometer, five kilowatts": {
			space: []string{"floor", "40 m2", "build", "ordinary", "volume", "100 m3", "low", "18 C", "high", "21 C"},
			stove: []string{"name", "Ember", "room", "parlour", "family", "plain", "volume", "32 L", "width", "38 cm", "depth", "32 cm", "height",
				"30 cm", "max-load", "3,5 kg", "output", "5 kW",
				"chimney-height", "6.5 m", "diameter", "150 mm", "lining", "liner", "control-1-name", "Slider", "control-1-role", "primary",
				"control-1-scale", "percent", "control-1-full", ""},
			stack: webtest.Beech("piece-mass", "700 g", "piece-length", "25 cm", "reading", "17"),
			wish: []string{"aim", "hold", "for", "until 22:30", "low", "18", "high", "21", "room", "16", "outdoor", "3 C", "start", "cold", "there",
				"all the time"},
			says:  []string{"Slider", "all of it is black"},
			never: []string{"the flue gas is at", "the pipe is at"},
		},
		"Fahrenheit, a catalyst, a chimney outside": {
			setup: []string{"units", "imperial", "zone", "America/Halifax"},
			space: []string{"floor", "1,500 sq ft", "build", "draughty", "volume", "12,000 ft3", "low", "64", "high", "71"},
			stove: []string{"name", "Kiln", "room", "hall", "family", "catalytic", "volume", "2.4 cu ft", "width", "21", "depth", "17", "height",
				"14", "max-load", "40 lb", "output", "45,000 BTU/hr",
				"chimney-height", "24 ft 6 in", "diameter", "6", "lining", "insulated", "outside", "yes", "altitude", "1,200 ft",
				"control-1-name", "Dial", "control-1-role", "primary", "control-1-scale", "notches", "control-1-full", "shut, low, medium, high, open",
				"control-2-name", "Bypass", "control-2-role", "bypass", "control-2-scale", "notches", "control-2-full", "shut, open",
				"gauge-catalyst", "yes", "gauge-catalyst-low", "500", "gauge-catalyst-high", "1,500", "gauge-catalyst-hot", "1,700"},
			stack: webtest.Beech("name", "Oak shed", "species", "oak", "piece-mass", "3 lb 8 oz", "piece-length", "14 in", "reading", "18", "wood-temp",
				"40", "mass", "1 1/2 cords"),
			wish: []string{"aim", "hold", "for", "6 h", "low", "64", "high", "71", "room", "60", "outdoor", "28", "wind", "12 mph", "start", "cold"},
			says: []string{"Bypass", "Dial", "°F", "catalyst"},
		},
		"a van": {
			space: []string{"floor", "6 m2", "build", "vehicle", "volume", "12 m3", "low", "16 C", "high", "22 C"},
			stove: []string{"name", "Wee", "room", "the van", "family", "tiny", "volume", "8 L", "width", "22 cm", "depth", "19 cm", "height",
				"19 cm", "max-load", "1 kg", "output", "1.8 kW",
				"chimney-height", "2.2 m", "diameter", "80 mm", "lining", "insulated", "control-1-name", "Vent", "control-1-role", "door-vent",
				"control-1-scale", "notches", "control-1-full", "shut, one, two, open"},
			stack: webtest.Beech("name", "Cut small", "species", "alder", "piece-mass", "250 g", "piece-length", "15 cm", "reading", "14", "mass", "40 kg"),
			wish:  []string{"aim", "hold", "for", "3 h", "low", "16", "high", "22", "room", "9", "outdoor", "4 C", "start", "cold"},
			says:  []string{"A small space needs its own opening for fresh air", "Vent"},
		},
		"multi-fuel, a grate and a flap": {
			space: []string{"floor", "38 m2", "build", "draughty", "volume", "95 m3", "low", "17 C", "high", "20 C"},
			stove: []string{"name", "Grate", "room", "workshop", "family", "multi-fuel", "volume", "30 L", "width", "36 cm", "depth", "30 cm",
				"height", "30 cm", "max-load", "4 kg",
				"chimney-height", "5 m", "diameter", "150 mm", "lining", "masonry", "control-1-name", "Top air", "control-1-role", "top-air",
				"control-1-scale", "percent",
				"control-2-name", "Spin wheel", "control-2-role", "under-grate", "control-2-scale", "turns", "control-2-full", "3", "control-3-name",
				"Ash flap", "control-3-role", "ash-flap", "control-3-scale", "notches", "control-3-full", "shut, open",
				"gauge-connector-surface", "yes"},
			stack: webtest.Beech("piece-mass", "900 g", "piece-length", "25 cm"),
			wish:  []string{"aim", "hold", "for", "5 h", "low", "17", "high", "20", "room", "14", "outdoor", "1 C", "start", "cold"},
			says:  []string{"Ash flap stays shut on a wood fire", "spin wheel", "Mineral fuel on wood or coals"},
		},
		"fans": {
			space: []string{"floor", "70 m2", "build", "tight", "volume", "180 m3", "n50", "1.2", "fan", "400 m3/h", "low", "19 C", "high", "22 C"},
			stove: []string{"name", "Glow", "room", "living room", "family", "secondary-air", "volume", "45 L", "width", "42 cm", "depth", "36 cm",
				"height", "32 cm", "max-load", "5 kg",
				"chimney-height", "7 m", "diameter", "150 mm", "lining", "insulated", "control-1-name", "Lever", "control-1-role", "combined",
				"control-1-scale", "lever", "control-1-full", "",
				"gauge-connector-probe", "yes"},
			stack: webtest.Beech(),
			wish:  []string{"aim", "hold", "for", "5 h", "low", "19", "high", "22", "room", "18", "outdoor", "2 C", "start", "cold", "fans", "off"},
			says:  []string{"The extraction fans stay off while it burns", "fans off"},
		},
	}
}

// Five owners go from an empty database to a burn that is planned, tended,
// read, and taken out again.
func TestFiveOwners(t *testing.T) {
	for name, o := range fiveOwners() {
		t.Run(name, func(t *testing.T) { o.lives(t) })
	}
}

// begins sets up house, stove and wood, plans as the owner wishes and starts it; live is its
// page at the stove.
func (o owner) begins(t *testing.T) (s *webtest.Site, live string) {
	s = webtest.New(t, false)
	require.Equal(t, "/stoves/new", s.SetUp(o.setup...).To)
	space := s.Space()
	got := s.Post("/spaces/"+space, webtest.Change(webtest.Fields(s.Get("/spaces/"+space).Body), o.space...)...)
	require.Equal(t, "/spaces/"+space, got.To, got.Words())
	got = s.Post("/stoves", webtest.Change(append([]string{"space-id", space, "bends", "0"}, o.stove...))...)
	require.Equal(t, "/wood/new", got.To, got.Words())
	got = s.Post("/wood", webtest.Change(webtest.Fields(s.Get("/wood/new").Body), o.stack...)...)
	require.Equal(t, "/plan", got.To, got.Words())
	assert.Equal(t, http.StatusOK, s.Get("/").Status)
	behaves := s.Get("/stoves/1/behaves")
	assert.Equal(t, http.StatusOK, behaves.Status, behaves.Words())

	asked := webtest.Change(webtest.Fields(s.Get("/plan").Body), o.wish...)
	sent := s.Post("/plan", asked...)
	require.Equal(t, http.StatusSeeOther, sent.Status, sent.Words())
	made := strings.TrimSuffix(sent.To, "#made")
	page := s.Get(made)
	for _, says := range o.says {
		assert.Contains(t, page.Words(), says)
	}
	for _, never := range append(o.never, "Open the air", "1 pieces", "a outdoor") {
		assert.NotContains(t, page.Words(), never)
	}
	require.Equal(t, http.StatusOK, s.Get(made+"/sheet").Status)
	started := s.Post(made+"/start", "air", "yes", "co", "yes") // where it stands in a van, both are asked
	require.Equal(t, http.StatusSeeOther, started.Status, started.Words())
	return s, started.To
}

// logsStep logs what a step does, each act by its own entry.
func logsStep(t *testing.T, s *webtest.Site, b string, p plan.Plan, step plan.Step) {
	t.Helper()
	for _, a := range step.Fire.Do {
		var entry []string
		switch a.Kind {
		case fire.ActControl:
			c, _ := p.Wish.Stove.Control(a.Control)
			entry = []string{"kind", "control", "control", a.Control, "value", say.Mark(c.Scale, a.Opening, lang.Metric)}
		case fire.ActDoor:
			entry = []string{"kind", "door", "value", map[fire.Door]string{fire.Shut: "shut", fire.Ajar: "ajar"}[a.Door]}
		case fire.ActLight:
			entry = []string{"kind", "light"}
		case fire.ActPrime:
			entry = []string{"kind", "prime"}
		case fire.ActRake:
			entry = []string{"kind", "rake"}
		case fire.ActLoad:
			if a.Load.Kindling {
				continue
			}
			entry = []string{"kind", "load", "stack", strconv.FormatInt(a.Load.StackID, 10), "pieces", strconv.Itoa(a.Load.Pieces), "direction", string(a.Load.Direction),
				"lay", string(a.Load.Lay)}
		default:
			continue
		}
		answer := s.Post(b+"/entries", entry...)
		require.Equal(t, b+"/live", answer.To, "%v: %s", entry, answer.Words())
	}
}

func (o owner) lives(t *testing.T) {
	s, live := o.begins(t)
	b := strings.TrimSuffix(live, "/live")

	// Every step when it is due, with the taps that its page offers.
	rows, err := s.Store.Household(webtest.HouseholdOf(t, s)).OpenBurns(ctx)
	require.NoError(t, err)
	require.Len(t, rows, 1)
	p, began := *rows[0].Plan, s.Clock.At
	for _, step := range p.Steps {
		if step.Expected < 0 {
			continue
		}
		s.Clock.At = began.Add(step.Expected)
		require.Equal(t, http.StatusOK, s.Get(live).Status)
		logsStep(t, s, b, p, step)
	}
	last := s.Get(live)
	if len(o.never) > 0 {
		assert.NotContains(t, last.Body, "data-number", "no number where there is no thermometer")
	}
	assert.Regexp(t, `The plan is done|The next load, if you want more heat|More wood with the next load|Nothing was logged for|Bypass shut when`, last.Words())
	s.Clock.At = began.Add(p.Wish.For)
	require.Equal(t, b, s.Post(b+"/end").To)
	words := s.Get(b).Words()
	for _, says := range []string{"heat to the room", "wood used", "Planned:"} {
		assert.Contains(t, words, says)
	}
	out := s.Get(b + "/burn.json")
	require.Equal(t, http.StatusOK, out.Status)
	require.Equal(t, http.StatusSeeOther, s.Post(b+"/remove").Status)
	back := s.Upload("/burns/import", "burn.json", out.Body)
	require.Equal(t, http.StatusSeeOther, back.Status, back.Words())
	figures := func(path string) string {
		return strings.Split(webtest.Between(s.Get(path).Words(), "What it came to", "The log"), "Plan and fact")[0]
	}
	came := figures(back.To)
	assert.NotEmpty(t, came)
	s.Clock.At = s.Clock.At.Add(10 * time.Hour)
	assert.Equal(t, http.StatusOK, s.Get("/").Status)
	assert.Equal(t, http.StatusOK, s.Get("/plan/day").Status)
}
