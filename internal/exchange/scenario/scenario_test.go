package scenario_test

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/exchange/scenario"
)

// least is the least that a scenario can say.
const least = `{"stove": {"family": "secondary-air", "firebox": "55 L"}, "flue": {"height": "6 m"}, "start": {"stove": "110 C", "coals": "0.6 kg"},
	"fuel": [{"species": "beech"}], "actions": [{"do": "load", "wood": "beech", "pieces": 4}]}`

func TestTheLeastIsEnough(t *testing.T) {
	s, err := scenario.Parse([]byte(least))
	require.NoError(t, err)
	assert.Equal(t, 10*time.Hour, s.Options.Until)
	assert.Equal(t, fire.DefaultStep, s.Options.Step)
	assert.Equal(t, units.Celsius(5), s.Setup.Outdoor)
	assert.InDelta(t, 0.15, float64(s.Setup.Stove.Chimney.Diameter), 1e-9)
	r := s.Run()
	assert.Greater(t, float64(r.Summary.PeakTop), 200.0)
	assert.Less(t, float64(r.Summary.Wood), 0.5)
}

func TestExamplesRunAndSayWhatTheyShow(t *testing.T) {
	files, err := filepath.Glob("../../../scenarios/*.json")
	require.NoError(t, err)
	require.Len(t, files, 6, "of burns")
	for _, f := range files {
		b, err := os.ReadFile(f)
		require.NoError(t, err)
		s, err := scenario.Parse(b)
		require.NoError(t, err, f)
		r := s.Run()
		m := r.Summary
		name := filepath.Base(f)
		assert.NotEmpty(t, s.Name, name)
		assert.Zero(t, m.MovesMissed, "%s: every action comes to pass", name)
		assert.InDelta(t, 0, m.BalanceErr.Percent(), 0.5, name)
		if name == "auntie-choked.json" {
			assert.Greater(t, m.SmokePerKg, 20.0, "the one that nobody should imitate")
			assert.Greater(t, m.Smoulder, time.Hour)
			continue
		}
		assert.Less(t, m.SmokePerKg, 9.0, name)
	}
}

func TestActionsAreReadInTheOwnersWords(t *testing.T) {
	text := strings.Replace(least, `"actions": [`, `"actions": [{"do": "prime", "to": "500 kJ"}, {"do": "door", "to": "ajar"}, {"do": "fan", "to": "180 cfm"}, {"do": "window", "to": "open"}, {"do": "rake"},
		{"at": "1:30", "do": "set", "control": "Lever", "to": "0.25"}, {"when": {"after": "90 s", "gauge": "top", "above": "450F", "charred": true, "wood_left": "2 lb", "latest": "2 h"}, "do": "light"},`, 1)
	s, err := scenario.Parse([]byte(text))
	require.NoError(t, err)
	require.Len(t, s.Steps, 3, "what says nothing of when happens with the one before")
	assert.Len(t, s.Steps[0].Do, 5)
	assert.Equal(t, units.Joule(500e3), s.Steps[0].Do[0].Heat)
	assert.InDelta(t, 305.8, float64(s.Steps[0].Do[2].Flow), 0.1)
	assert.Equal(t, 90*time.Minute, s.Steps[1].When.At)
	assert.InDelta(t, 0.25, s.Steps[1].Do[0].Opening, 1e-9)
	when := s.Steps[2].When
	assert.Equal(t, stove.Top, when.Gauge)
	assert.InDelta(t, 232.2, float64(when.Above), 0.1)
	assert.Equal(t, 90*time.Second, when.After)
}

// Every refusal names the field and says what would do.
func TestWhatMakesNoSenseIsRefusedByItsField(t *testing.T) {
	change := func(from, to string) string { return strings.Replace(least, from, to, 1) }
	for text, want := range map[string][2]string{
		``:                            {"scenario", "would do"},
		`[1, 2]`:                      {"", "docs/formats.md"},
		`{"stove": {`:                 {"scenario", "ends too early"},
		least + least:                 {"scenario", "one JSON object would do"},
		change(`"flue"`, `"chimney"`): {"chimney", "no such field"},
		change(`"6 m"`, `"0 m"`):      {"flue.height", "makes no draft"},
		change(`"6 m"`, `"tall"`):     {"flue.height", "6 m, 150 mm or 3/16 in would do"},
		change(`"height": "6 m"`, `"height": "6 m", "bends": 40`):                {"flue.bends", "0 to 8 would do"},
		change(`"height": "6 m"`, `"height": "6 m", "lining": "straw"`):          {"flue.lining", "would do"},
		change(`secondary-air`, `pellet`):                                        {"stove.family", "secondary-air, plain"},
		change(`55 L`, `1 L`):                                                    {"stove.firebox", "55 L would do"},
		change(`"55 L"`, `"55 L", "max_load": "90 kg"`):                          {"stove.max_load", "would do"},
		change(`"55 L"`, `"55 L", "gauges": [{"place": "handle"}]`):              {"stove.gauges[0].place", "top, catalyst or firebox would do"},
		change(`"55 L"`, `"55 L", "controls": [{"name": "x", "moves": "mood"}]`): {"stove.controls[0].moves", "combined, primary"},
		change(`"0.6 kg"`, `"40 kg"`):                                            {"start.coals", "0.6 kg would do"},
		change(`"110 C"`, `"900 C"`):                                             {"start.stove", "110 C would do"},
		change(`"start": {`, `"start": {"room": "80 C", `):                       {"start.room", "18 C would do"},
		change(`"fuel"`, `"weather": {"outdoor": "90 C"}, "fuel"`):               {"weather.outdoor", "2 C would do"},
		change(`"fuel"`, `"weather": {"wind_m_s": -4}, "fuel"`):                  {"weather.wind_m_s", "4 would do"},
		change(`"fuel"`, `"weather": {"hourly": [{"at": "2 h", "outdoor": "1 C"}, {"at": "1 h", "outdoor": "1 C"}]}, "fuel"`): {"weather.hourly[1].at", "later one"},
		change(`"fuel"`, `"house": {"n50": 900}, "fuel"`):                                                                     {"house", "0.1 to 40 would do"},
		change(`"beech"}]`, `"plywood"}]`): {"fuel[0].species",
			"is not a known wood"},
		change(`"beech"}]`, `"beech", "moisture": "400%"}]`): {"fuel[0].moisture", "between 4 and 120 %"},
		change(`"beech"}]`, `"beech", "piece": "90 kg"}]`): {"fuel[0].piece",
			"1.4 kg would do"},
		change(`"beech"}]`, `"beech"}, {"species": "beech"}]`): {"fuel[1].name",
			"another name would do"},
		change(`"pieces": 4`, `"pieces": 0`):       {"actions[0].pieces", "4 would do"},
		change(`"pieces": 4`, `"pieces": 9`):       {"actions[0].pieces", "over the manual's largest load"},
		change(`"wood": "beech"`, `"wood": "oak"`): {"actions[0].wood", "would do"},
		change(`"pieces": 4`, `"pieces": 4, "lay": "heap"`): {"actions[0].lay",
			"on-coals would do"},
		change(`"pieces": 4`, `"pieces": 4, "starter": "petrol"`): {"actions[0].starter", "wax-block, paper"},
		change(`"do": "load"`, `"do": "pray"`): {"actions[0].do",
			"load, light, set"},
		change(`"actions": [`, `"actions": [{"do": "set", "control": "throttle", "to": "1"},`): {"actions[0].control", "lever would do"},
		change(`"actions": [`, `"actions": [{"do": "set", "control": "lever", "to": "140%"},`): {"actions[0].to", "would do"},
		change(`"actions": [`, `"actions": [{"do": "door", "to": "agape"},`): {"actions[0].to",
			"shut, ajar or open would do"},
		change(`"actions": [`, `"actions": [{"at": "soon", "do": "rake"},`): {"actions[0].at",
			"4 min or 2 h would do"},
		change(`"fuel"`, `"run": {"for": "300 h"}, "fuel"`):                {"run.for", "10 h would do"},
		change(`"fuel"`, `"run": {"step": "60 s"}, "fuel"`):                {"run.step", "2 s would do"},
		change(`"fuel"`, `"run": {"for": "48 h", "every": "2 s"}, "fuel"`): {"run.every", "1 min would do"},
		strings.ReplaceAll(least, "beech", "mineral-fuel"): {"actions[0].wood",
			"recorded in a burn and not simulated"},
	} {
		_, err := scenario.Parse([]byte(text))
		var wrong *scenario.Error
		require.ErrorAs(t, err, &wrong, text)
		assert.Equal(t, want[0], wrong.Field, text)
		assert.ErrorContains(t, err, want[1], text)
	}
}

func FuzzParse(f *testing.F) {
	f.Add(least)
	files, _ := filepath.Glob("../../../scenarios/*.json")
	for _, name := range files {
		b, err := os.ReadFile(name)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(string(b))
	}
	f.Fuzz(func(t *testing.T, text string) {
		s, err := scenario.Parse([]byte(text))
		if err != nil {
			return
		}
		s.Options.Until, s.Options.Step = 2*time.Minute, 8*time.Second
		if _, err := json.Marshal(s.Run().Summary); err != nil {
			t.Fatalf("%s: %v", text, err)
		}
	})
}

func TestAWishForAPlan(t *testing.T) {
	b, err := os.ReadFile("../../../scenarios/plans/auntie-night.json")
	require.NoError(t, err)
	w, err := scenario.ParseWish(b)
	require.NoError(t, err)
	assert.Equal(t, 9*time.Hour, w.For)
	assert.Len(t, w.Others, 1)
	require.NotNil(t, w.Kindling)
	assert.InDelta(t, 0.46, float64(w.Stove.Width), 1e-9)
	assert.Len(t, w.Weather, 2)
	change := func(from, to string) []byte { return []byte(strings.Replace(string(b), from, to, 1)) }
	for _, c := range []struct{ from, to, field, says string }{
		{`"overnight"`, `"dance"`, "plan.aim", "overnight, take-off"}, {`"start": "cold"`, `"start": "lukewarm"`, "plan.start", "good-coals would do"},
		{`"9 h"`, `"90 h"`, "plan.for", "6 h would do"}, {`"21.5 C"`, `"12 C"`, "plan.wanted_to", "must rise"},
		{`"460 mm"`, `"wide"`, "stove.width", "would do"},
		{`"2400 kg"`, `"plenty"`, "fuel[0].left", "would do"}, {`"plan": {`, `"plan": {"mood": 1, `, "mood", "no such field"},
		{`"plan": {`, `"plan": {"lay": "pyramid", `, "plan.lay", "bottom-up would do"},
		{`"plan": {`, `"plan": {"lay": "on-coals", `, "plan.lay", "bottom-up would do"},
		{`"plan": {`, `"plan": {"there": [{"from": "3 h", "to": "2 h"}], `, "plan.there", "would do"},
		{`"fuel"`, `"weather": {"humidity_pct": 140}, "fuel"`, "weather.humidity_pct", "85 would do"},
		{`"plan": {`, `"plan": {"there": [{"to": "soon"}], `, "plan.there[0].to", "would do"},
	} {
		_, err := scenario.ParseWish(change(c.from, c.to))
		var wrong *scenario.Error
		require.ErrorAs(t, err, &wrong, c.to)
		assert.Equal(t, c.field, wrong.Field)
		assert.ErrorContains(t, err, c.says)
	}
	own, err := scenario.ParseWish(change(`"plan": {`, `"plan": {"lay": "open-v", "there": [{"to": "2 h"}], `))
	require.NoError(t, err)
	assert.Equal(t, fire.OpenV, own.Lay)
	assert.Equal(t, when.Presence{{To: 2 * time.Hour}}, own.There)
	_, err = scenario.ParseWish([]byte(least))
	require.NoError(t, err, "the least is enough for a plan too")
}

// A wish from a file is refused with its field, or is one that can be searched.
func FuzzParseWish(f *testing.F) {
	files, _ := filepath.Glob("../../../scenarios/plans/*.json")
	require.NotEmpty(f, files)
	for _, name := range files {
		b, err := os.ReadFile(name)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(string(b))
		for _, change := range [][2]string{{`"9 h"`, `"1e308 h"`}, {`"9 h"`, `"NaN"`},
			{`"plan": {`, `"plan": {"there": [{"from": "-5 h", "to": "1e300 h"}], `}, {`"cold"`, `"hot"`}} {
			f.Add(strings.ReplaceAll(string(b), change[0], change[1]))
		}
	}
	f.Fuzz(func(t *testing.T, text string) {
		w, err := scenario.ParseWish([]byte(text))
		if err != nil {
			return
		}
		require.True(t, w.For > 0 && w.For <= 48*time.Hour, "%s", w.For)
		require.NoError(t, w.Stove.Check())
		require.NoError(t, w.House.Check())
		require.LessOrEqual(t, len(w.Others), 200)
		if _, err := json.Marshal(w); err != nil {
			t.Fatalf("%s: %v", text, err)
		}
	})
}
