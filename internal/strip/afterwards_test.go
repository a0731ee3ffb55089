package strip_test

import (
	"encoding/xml"
	"errors"
	"io"
	"math"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/strip"
)

// sound reads a drawing as XML, so that what is in it can be counted.
func sound(t *testing.T, svg string) {
	t.Helper()
	d := xml.NewDecoder(strings.NewReader(svg))
	for {
		_, err := d.Token()
		if errors.Is(err, io.EOF) {
			return
		}
		require.NoError(t, err, svg[:min(len(svg), 400)])
	}
}

const evil = `"><script>alert(1)</script>`

func TestThumb(t *testing.T) {
	band := stove.ConnectorProbe.DefaultBand()
	got := string(strip.Thumb([]int16{20, 200, 400, math.MinInt16, 300, 250}, band))
	sound(t, got)
	assert.Equal(t, 2, strings.Count(got, "M")-strings.Count(got, "Mi"), "what nobody knows is not joined")
	assert.Contains(t, got, `class="band"`)
	assert.Empty(t, strip.Thumb(nil, band))
	assert.Empty(t, strip.Thumb([]int16{3}, band))
	sound(t, string(strip.Thumb([]int16{math.MinInt16, math.MinInt16}, stove.Band{})))
}

func TestOverlay(t *testing.T) {
	line := func(n int, up float64) (out []strip.Point) {
		for i := range n {
			out = append(out, strip.Point{At: time.Duration(i-5) * 10 * time.Minute, V: up * float64(i)})
		}
		return out
	}
	got := string(strip.Overlay([]strip.Over{{Number: "1", Name: evil, Points: line(30, 10), Downs: []time.Duration{time.Hour, 99 * time.Hour}},
		{Number: "2", Name: "two", Points: line(20, 12)}, {Number: "3", Name: "none"}}, stove.NewGauge(stove.ConnectorProbe), "loaded", lang.Imperial, 900))
	sound(t, got)
	assert.NotContains(t, got, "<script>")
	assert.Contains(t, got, "over-2")
	assert.Equal(t, 1, strings.Count(got, "over-flag"), "a turn-down outside the pen has no flag")
	assert.Contains(t, got, "−0:30", "there is time before the zero")
	sound(t, string(strip.Overlay(nil, stove.Gauge{}, "lit", lang.Metric, strip.Phone)))
}

func TestCompared(t *testing.T) {
	c := strip.Compared{Names: [2]string{evil, "other"}, Values: [2][]float64{{5, 5, 5, 5, 8}, {-2, 3}}, Medians: [2]float64{5, 0.5},
		Unit: "g/kg", Range: [2]float64{1, 4}, HasBar: true}
	got := string(c.Drawn(660, lang.Metric))
	sound(t, got)
	assert.NotContains(t, got, "<script>")
	assert.Equal(t, 7, strings.Count(got, "<circle"))
	assert.Equal(t, 2, strings.Count(got, "compared-median"))
	assert.NotContains(t, got, ">-0<")
	assert.Empty(t, strip.Compared{}.Drawn(660, lang.Metric))
	sound(t, string(strip.Compared{Values: [2][]float64{{3}, nil}}.Drawn(300, lang.Metric)))
}

func TestSeasonStrip(t *testing.T) {
	s := strip.Season{Stoves: []string{"Auntie", evil}, Mass: func(kg float64) string { return units.Metric.Mass(units.Kilogram(kg)) },
		MassUnit: "kg", Scale: 1, Degree: 1}
	for i := range 52 {
		w := strip.SeasonWeek{Monday: time.Date(2025, 10, 6, 0, 0, 0, 0, time.UTC).AddDate(0, 0, 7*i), Days: -1, DaysBefore: -1, Deposits: []float64{float64(i), 0}}
		if i%3 == 0 {
			w.Wood, w.Days, w.Smoke, w.WoodBefore = 60, 70, 12, 50
		}
		s.Weeks = append(s.Weeks, w)
	}
	for _, width := range []float64{strip.Page, strip.Phone} {
		got := string(s.Strip(width, lang.Metric))
		sound(t, got)
		assert.NotContains(t, got, "<script>")
		assert.Equal(t, 18, strings.Count(got, "season-wood"))
		assert.Equal(t, 18, strings.Count(got, "season-before"))
	}
	empty := strip.Season{Mass: s.Mass, Weeks: []strip.SeasonWeek{{Days: -1, DaysBefore: -1}}, Scale: 1, Degree: 1}
	sound(t, string(empty.Strip(strip.Page, lang.Metric)))
}

func TestForetelling(t *testing.T) {
	var told []strip.Foretold
	for i := range 12 {
		told = append(told, strip.Foretold{At: time.Date(2026, 1, 1+3*i, 20, 0, 0, 0, time.UTC), Usual: 30, Known: 30 / float64(i+1)})
	}
	got := string(strip.Foretelling(told, lang.Imperial, time.UTC, 520))
	sound(t, got)
	assert.Equal(t, 12, strings.Count(got, "told-known"))
	sound(t, string(strip.Foretelling(told[:1], lang.Metric, time.UTC, 520)))
}

// Tabs and notes on a strip: each at its moment, none on another, whatever it is called.
func TestHoldsAndNotes(t *testing.T) {
	c := strip.Chart{ID: "x", Width: 900, Locale: lang.Metric, Zone: time.UTC, Start: time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC),
		Clock: true, To: 4 * time.Hour,
		Notes: []strip.Note{{At: time.Hour, Number: "1", Word: evil}, {At: 90 * time.Hour, Number: "2"}}}
	for i := range 6 {
		c.Holds = append(c.Holds, strip.Hold{At: time.Duration(i) * time.Minute, Was: 0, Entry: evil, Kind: "control", Says: "a third", Word: evil, Gone: i == 3})
	}
	got := string(c.SVG())
	sound(t, got)
	assert.NotContains(t, got, "<script>")
	assert.Equal(t, 6, strings.Count(got, `role="slider"`))
	assert.Equal(t, 1, strings.Count(got, "margin-note"), "one outside the strip is not on it")
	assert.Equal(t, 1, strings.Count(got, `class="hold gone"`))
	assert.Equal(t, 4, strings.Count(got, `class="hold moved"`))
}
