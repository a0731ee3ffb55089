package strip_test

import (
	"encoding/xml"
	"fmt"
	"html"
	"io"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/strip"
)

// crowded is a chart on which everything lies close together.
func crowded(width float64) strip.Chart {
	minute := time.Minute
	c := strip.Chart{ID: "t", Title: `A burn of "Auntie" & <Loom>`, Width: width, Locale: lang.Metric, Zone: time.UTC, Clock: true,
		Start: time.Date(2026, 1, 14, 18, 10, 0, 0, time.UTC), To: 5 * time.Hour, Band: stove.NewGauge(stove.ConnectorProbe), Wanted: [2]units.Celsius{19, 21.5}}
	for i, p := range []stove.Place{stove.ConnectorProbe, stove.Top, stove.CatalystProbe, stove.RoomAir} {
		pen := strip.Pen{Place: p}
		for m := 0; m <= 300; m += 3 {
			pen.Points = append(pen.Points, strip.Point{At: time.Duration(m) * minute, V: 200 + float64(i) + float64(m%60)})
		}
		if p == stove.RoomAir {
			for j := range pen.Points {
				pen.Points[j].V = 18 + float64(j)/50
			}
		}
		c.Pens = append(c.Pens, pen)
	}
	for i := range 12 {
		at := time.Duration(i) * 2 * minute
		c.Marks = append(c.Marks, strip.Mark{At: at, Kind: "note", Word: "a <b>note</b>"})
		c.Fuel = append(c.Fuel, strip.Block{At: at * 3, Mass: 2, Pieces: 3, Moisture: 0.18, Label: "2.0 kg oak"})
		c.States = append(c.States, strip.State{At: at, Name: []string{"lighting", "establishing", "charring", "cruising"}[i%4]})
	}
	c.Lanes = []strip.Lane{{Name: "firebox air", Steps: []strip.LaneStep{{At: 0, Opening: 1, Say: "open"},
		{At: 10 * minute, Opening: 0.5, Say: "2 turns"}, {At: 12 * minute, Opening: 0.3, Say: "1.2 turns"}}}}
	return c
}

var label = regexp.MustCompile(`<text x="([\d.]+)" y="([\d.]+)" text-anchor="(\w+)"[^>]*>([^<]*)</text>`)

type box struct {
	x0, x1, y0, y1 float64
	text           string
}

// labels returns the boxes that the texts take, by the narrowest width a
// letter of this face has on average.
func labels(t *testing.T, svg string) []box {
	var out []box
	for _, m := range label.FindAllStringSubmatch(svg, -1) {
		x, err := strconv.ParseFloat(m[1], 64)
		require.NoError(t, err)
		y, _ := strconv.ParseFloat(m[2], 64)
		wide := 5.0 * float64(len([]rune(m[4])))
		switch m[3] {
		case "end":
			x -= wide
		case "middle":
			x -= wide / 2
		}
		out = append(out, box{x, x + wide, y - 8, y + 1, m[4]})
	}
	return out
}

func TestNoLabelRunsIntoAnother(t *testing.T) {
	for _, width := range []float64{1060, 700, 358} {
		boxes := labels(t, string(crowded(width).SVG()))
		require.Greater(t, len(boxes), 15)
		for i, a := range boxes {
			assert.LessOrEqual(t, a.x1, width+1, "%q leaves the strip of %v", a.text, width)
			for _, b := range boxes[i+1:] {
				apart := a.x1 <= b.x0 || b.x1 <= a.x0 || a.y1 <= b.y0 || b.y1 <= a.y0
				assert.True(t, apart, "at %v, %q runs into %q", width, a.text, b.text)
			}
		}
	}
}

func TestStripIsWellFormedAndSafe(t *testing.T) {
	svg := string(crowded(700).SVG())
	d := xml.NewDecoder(strings.NewReader(svg))
	for {
		_, err := d.Token()
		if err == io.EOF {
			break
		}
		require.NoError(t, err)
	}
	assert.NotContains(t, svg, "<b>note", "what people type is escaped")
	assert.NotContains(t, svg, "style=", "a strict policy allows no inline styles")
	assert.Equal(t, svg, string(crowded(700).SVG()), "the same burn draws the same strip")
	assert.NotContains(t, svg, "NaN")
	empty := strip.Chart{ID: "e", Width: 358, Zone: time.UTC}
	assert.Contains(t, string(empty.SVG()), "</svg>", "nothing logged yet is a strip too")
}

// On the last Sunday of October an hour comes twice and in March one is
// missing; the strip runs on by the stove's time and labels what the clock
// shows.
func TestClockChangesDoNotBendABurn(t *testing.T) {
	oslo, err := time.LoadLocation("Europe/Oslo")
	require.NoError(t, err)
	xOf := map[string][]float64{}
	for day, start := range map[string]time.Time{
		"autumn": time.Date(2026, 10, 24, 23, 0, 0, 0, oslo), "spring": time.Date(2026, 3, 28, 23, 0, 0, 0, oslo)} {
		c := strip.Chart{ID: "t", Width: 1060, Zone: oslo, Clock: true, Start: start, To: 6 * time.Hour}
		var seen []string
		for _, b := range labels(t, string(c.SVG())) {
			if strings.Contains(b.text, ":") {
				seen = append(seen, b.text)
				xOf[day] = append(xOf[day], (b.x0+b.x1)/2)
			}
		}
		want := map[string][]string{"autumn": {"23:00", "00:00", "01:00", "02:00", "02:00", "03:00", "04:00"},
			"spring": {"23:00", "00:00", "01:00", "03:00", "04:00", "05:00", "06:00"}}[day]
		var hours []string
		for _, s := range seen {
			if strings.HasSuffix(s, ":00") {
				hours = append(hours, s)
			}
		}
		assert.Equal(t, want, hours, day)
		// The crosshair knows of the change, and shows the clock of the axis.
		c.Pens = []strip.Pen{{Place: stove.Top, Points: []strip.Point{{At: 0, V: 100}, {At: 6 * time.Hour, V: 100}}}}
		by := map[string]string{"autumn": `[[240,-60]]`, "spring": `[[180,60]]`}[day]
		assert.Contains(t, html.UnescapeString(string(c.SVG())), `"moves":`+by, day)
	}
	for i := 1; i < len(xOf["autumn"]); i++ {
		assert.InDelta(t, xOf["autumn"][1]-xOf["autumn"][0], xOf["autumn"][i]-xOf["autumn"][i-1], 0.2, "even steps")
	}
}

func column() strip.Column {
	return strip.Column{Stove: stove.Stove{Name: "Auntie", Room: "kitchen", Height: 0.33, Width: 0.46,
		Chimney: flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.BareLiner}},
		House: house.Default(), Room: 19, Outdoor: 0, Gas: 250, Locale: lang.Metric}
}

func TestColumnFollowsTheWeather(t *testing.T) {
	c := column()
	cold := c.Draft()
	c.Outdoor = 15
	mild := c.Draft()
	assert.Greater(t, cold.Net, mild.Net)
	c.House.Fan = 400
	assert.Less(t, c.Draft().Net, mild.Net-1, "a hood takes from the draft")
	assert.InDelta(t, float64(mild.Made-mild.Fans-mild.House), float64(mild.Net), 1e-9)
	c.Gas = 0
	assert.Less(t, c.Draft().Made, units.Pascal(5), "a cold chimney hardly draws")
	for _, gas := range []units.Celsius{-20, 0, 90, 250, 690} {
		c.Gas = gas
		svg := string(c.SVG())
		assert.NotContains(t, svg, "NaN")
		assert.Contains(t, svg, fmt.Sprintf("%s net", units.Metric.Draft(c.Draft().Net)))
	}
	assert.Positive(t, float64(column().Draft().Condens), "at 250 °C the top of a bare liner is below 120 °C")
}
