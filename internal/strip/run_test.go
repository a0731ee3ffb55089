package strip_test

import (
	"encoding/json"
	"encoding/xml"
	"html"
	"io"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/strip"
)

func kitchen() stove.Stove {
	return stove.Stove{Name: "Auntie", Room: "kitchen", Family: stove.SecondaryAir, Volume: 55, Width: 0.46, Depth: 0.38, Height: 0.33, MaxLoad: 7,
		Controls: []stove.Control{{Key: "lever", Name: "Lever", Role: stove.Combined, Scale: stove.Scale{Kind: stove.Lever}}},
		Gauges:   []stove.Gauge{stove.NewGauge(stove.ConnectorProbe), stove.NewGauge(stove.Top)},
		Chimney:  flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.Insulated}}
}

// burnt is an evening on coals at a final setting.
func burnt(final float64) strip.Run {
	beech, _ := wood.SpeciesByKey("beech")
	setup := fire.Setup{Stove: kitchen(), House: house.Default(), Outdoor: 2, Room: 18, Warmth: 110, Coals: 0.6}
	set := func(o float64) fire.Act {
		return fire.Act{Kind: fire.ActControl, Control: "lever", Role: stove.Combined, Opening: o}
	}
	steps := []fire.Move{{Do: []fire.Act{set(1), {Kind: fire.ActPrime, Heat: 1e5}, {Kind: fire.ActLight},
		{Kind: fire.ActDoor, Door: fire.Ajar}, {Kind: fire.ActLoad, Load: &fire.Load{Species: beech, Moisture: 0.18, Pieces: 4, PieceMass: 1.3,
			PieceLength: 0.33, Direction: stove.EndOn, Lay: fire.OnCoals}}}},
		{When: fire.Trigger{After: time.Minute}, Do: []fire.Act{{Kind: fire.ActDoor, Door: fire.Shut}}},
		{When: fire.Trigger{After: 4 * time.Minute, Charred: true}, Do: []fire.Act{set(0.5)}},
		{When: fire.Trigger{After: 6 * time.Minute}, Do: []fire.Act{set(final)}},
		{When: fire.Trigger{Gauge: stove.Top, Above: 900}, Do: []fire.Act{set(0)}}}
	return strip.Run{Setup: setup, Steps: steps, Result: fire.Run(setup, steps, fire.Options{Until: 6 * time.Hour})}
}

func TestARunOnAStrip(t *testing.T) {
	run := burnt(0.25)
	c := strip.RunChart("r", lang.Metric, run, nil)
	require.Len(t, c.Lanes, 1)
	assert.Len(t, c.Lanes[0].Steps, 3, "what never happened is not drawn")
	assert.Equal(t, run.Result.Done[3], c.Lanes[0].Steps[2].At)
	assert.Equal(t, "a quarter", c.Lanes[0].Steps[2].Say)
	require.Len(t, c.Fuel, 1)
	assert.Equal(t, "5.2 kg beech", c.Fuel[0].Label)
	kinds := []string{}
	for _, m := range c.Marks {
		kinds = append(kinds, m.Kind)
	}
	assert.Equal(t, []string{"draft", "light", "door-ajar", "door-shut"}, kinds)
	assert.Len(t, c.Pens, 3, "two gauges and the room")
	assert.Equal(t, stove.ConnectorProbe, c.Band.Place)
	states := map[string]bool{}
	for _, s := range c.States {
		states[s.Name] = true
	}
	assert.True(t, states["charring"] && states["cruising"] && states["coaling"], "%v", states)
}

func TestTwoRunsOverEachOther(t *testing.T) {
	one, two := burnt(0.25), burnt(0.5)
	c := strip.RunChart("r", lang.Imperial, one, &two)
	c.Width = 1000
	second := 0
	for _, p := range c.Pens {
		if p.Second {
			second++
			assert.Contains(t, []stove.Place{stove.ConnectorProbe, stove.RoomAir}, p.Place, "the other is told by the gauge in hand and the room")
		}
	}
	assert.Equal(t, 2, second)
	svg := string(c.SVG())
	assert.Contains(t, svg, "pen second pen-probe")
	assert.Contains(t, svg, ">other ")
	assert.Contains(t, svg, "°F")
	assert.Contains(t, svg, "ribbon-plan", "the other's air is an outline")
	boxes := labels(t, svg)
	for i, a := range boxes {
		for _, b := range boxes[i+1:] {
			apart := a.x1 <= b.x0 || b.x1 <= a.x0 || a.y1 <= b.y0 || b.y1 <= a.y0
			assert.True(t, apart, "%q runs into %q", a.text, b.text)
		}
	}
}

// What the crosshair reads must be what the pens draw.
func TestReadoutHoldsThePens(t *testing.T) {
	run := burnt(0.25)
	c := strip.RunChart("r", lang.Imperial, run, nil)
	c.Width = 1000
	svg := string(c.SVG())
	_, rest, ok := strings.Cut(svg, `data-strip="`)
	require.True(t, ok)
	text, _, _ := strings.Cut(rest, `"`)
	var d struct {
		Left, Right, From, To float64
		Start                 int
		Unit                  string
		Pens                  []struct {
			Name   string
			Points [][2]float64
		}
	}
	require.NoError(t, json.Unmarshal([]byte(html.UnescapeString(text)), &d))
	assert.Equal(t, "°F", d.Unit)
	assert.Equal(t, -1, d.Start, "no clock: time since the start")
	assert.InDelta(t, 360, d.To, 1)
	require.Len(t, d.Pens, 3)
	assert.Equal(t, "flue gas", d.Pens[0].Name)
	at := d.Pens[0].Points[40]
	sample := run.Result.Samples[int(at[0])]
	gas, _ := sample.Reading(stove.ConnectorProbe)
	assert.InDelta(t, gas.Fahrenheit(), at[1], 1)
}

func TestAFileOfItsOwn(t *testing.T) {
	c := strip.RunChart("r", lang.Metric, burnt(0.25), nil)
	c.Width = 1000
	file := c.Standalone()
	d := xml.NewDecoder(strings.NewReader(file))
	depth := 0
	for {
		token, err := d.Token()
		if err == io.EOF {
			break
		}
		require.NoError(t, err)
		switch token.(type) {
		case xml.StartElement:
			depth++
		case xml.EndElement:
			depth--
		}
	}
	assert.Zero(t, depth)
	assert.Contains(t, file, "<style>")
	assert.NotContains(t, file, "href=", "it needs nothing else")
}

// Each track is left out when there is nothing on it, and hatching marks what
// lies outside the band.
func TestTracksAppearWhenThereIsSomething(t *testing.T) {
	c := strip.Chart{ID: "x", Width: 700, Zone: time.UTC, To: 2 * time.Hour, Band: stove.NewGauge(stove.Top), Locale: lang.Metric}
	bare := string(c.SVG())
	for _, word := range []string{">marks<", ">fuel<", ">room<", "url(#x-cold)", "url(#x-hot)", `class="now"`} {
		assert.NotContains(t, bare, word)
	}
	c.Pens = []strip.Pen{{Place: stove.Top, Points: []strip.Point{{0, 100}, {30 * time.Minute, 150}, {60 * time.Minute, 300},
		{80 * time.Minute, 460}, {100 * time.Minute, 300}}}}
	c.Now = 100 * time.Minute
	full := string(c.SVG())
	for _, word := range []string{"url(#x-cold)", "url(#x-hot)", `class="now"`, "working: top 200 to 370 °C"} {
		assert.Contains(t, full, word)
	}
	gap := strip.Chart{ID: "g", Width: 700, Zone: time.UTC, To: 5 * time.Hour, Band: stove.NewGauge(stove.Top),
		Pens: []strip.Pen{{Place: stove.Top, Dots: true, Points: []strip.Point{{0, 210}, {30 * time.Minute, 220}, {4 * time.Hour, 230}}}}}
	path := between(string(gap.SVG()), `class="pen pen-top" d="`, `"`)
	assert.Equal(t, 2, strings.Count(path, "M"), "readings hours apart are not joined")
	assert.Equal(t, 3, strings.Count(string(gap.SVG()), `class="dot"`))
}

func between(text, from, to string) string {
	_, rest, _ := strings.Cut(text, from)
	out, _, _ := strings.Cut(rest, to)
	return out
}

// A control has a lane where a plan moves it, and not where it is only told again that it stays.
func TestALaneIsOfWhatMoves(t *testing.T) {
	s := kitchen()
	s.Controls = []stove.Control{{Key: "air", Name: "Firebox air", Role: stove.PrimaryAir}, {Key: "chamber", Name: "Chamber air", Role: stove.SecondAir}}
	lanes := func(chamber ...float64) []string {
		p := plan.Plan{Wish: wish.Wish{Stove: s, For: 4 * time.Hour}, Predicted: plan.Curve{Every: time.Minute, Room: make([]float64, 300)}}
		for i, opening := range chamber {
			p.Steps = append(p.Steps, plan.Step{Expected: time.Duration(i) * time.Hour, Fire: fire.Move{Do: []fire.Act{
				{Kind: fire.ActControl, Control: "air", Opening: 1}, {Kind: fire.ActControl, Control: "chamber", Opening: opening}}}})
		}
		names := []string{}
		for _, l := range strip.OfPlan(p, strip.View{Locale: lang.Metric, Zone: time.UTC}).Lanes {
			names = append(names, l.Name)
		}
		return names
	}
	assert.Equal(t, []string{"firebox air"}, lanes(1, 1, 1))
	assert.Equal(t, []string{"firebox air", "chamber air"}, lanes(1, 0.5))
	assert.Equal(t, []string{"firebox air"}, lanes(0.5))
}
