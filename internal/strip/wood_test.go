package strip_test

import (
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/drying"
	"smolder/internal/core/season"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/strip"
)

var split = time.Date(2025, 3, 1, 0, 0, 0, 0, time.UTC)

// aDrying is a stack of ash with two readings, as its page draws it on a day.
func aDrying(t *testing.T, days int, readings ...drying.Reading) strip.Drying {
	t.Helper()
	ash, err := wood.SpeciesByKey("ash")
	require.NoError(t, err)
	now := split.AddDate(0, 0, days)
	s := drying.Stack{Pieces: drying.Pieces{Species: ash, Thickness: 0.1}, Place: drying.Place{Cover: wood.Top, Wind: 0.5}, Since: split, Readings: readings}
	b := drying.Believe(s, drying.Temperate, now)
	return strip.Drying{Past: b.Past(), Ahead: b.Forecast(now.AddDate(3, 0, 0)), Readings: readings, Ready: b.Ready(wood.ReadyTo), Split: split,
		Now: now, Zone: time.UTC}
}

// numbers are all figures that stand in a drawing's attributes.
func numbers(t *testing.T, svg, attribute string) (out []float64) {
	t.Helper()
	for _, m := range regexp.MustCompile(` `+attribute+`="(-?[\d.]+)"`).FindAllStringSubmatch(svg, -1) {
		v, err := strconv.ParseFloat(m[1], 64)
		require.NoError(t, err)
		out = append(out, v)
	}
	return out
}

// Everything of a drawing lies on its paper, on a laptop and on a phone, and its range is a
// range.
func TestDryingIsDrawn(t *testing.T) {
	reading := drying.Reading{At: split.AddDate(0, 2, 0), Mean: 0.31, Spread: 0.03, Pieces: 4}
	for _, days := range []int{1, 30, 120, 400, 2500} {
		d := aDrying(t, days, reading)
		for _, width := range []float64{0, 560, strip.Phone} {
			d.Width = width
			svg := string(d.SVG(lang.Metric))
			wide := width
			if wide == 0 {
				wide = 440
			}
			for _, x := range append(numbers(t, svg, "x1"), numbers(t, svg, "x2")...) {
				assert.True(t, x >= 0 && x <= wide, "%d days, %.0f px: %.1f", days, wide, x)
			}
			for _, y := range append(numbers(t, svg, "y1"), numbers(t, svg, "cy")...) {
				assert.True(t, y >= 0 && y <= 300, "%d days: %.1f", days, y)
			}
			assert.NotContains(t, svg, "NaN")
			assert.Contains(t, svg, `class="fan-area"`)
			assert.Contains(t, svg, ">today<")
		}
	}
	d := aDrying(t, 100, reading)
	assert.Contains(t, string(d.SVG(lang.Metric)), "1 May 2025, 31 % of 4", "a reading says what it was")
	assert.Contains(t, string(d.SVG(lang.Metric)), ">split Mar 2025<")
	assert.Contains(t, string(d.SVG(lang.Metric)), `class="coming"`, "the span in which it is ready")
	assert.NotContains(t, string(aDrying(t, 2350).SVG(lang.Metric)), `class="coming"`, "what is ready has none")
	bare := strip.Drying{Now: split, Zone: time.UTC}
	assert.NotContains(t, string(bare.SVG(lang.Metric)), "fan-area", "of what nobody has told only the paper is drawn")
	pair := d.Drawn(lang.Metric)
	assert.NotEqual(t, pair.Wide, pair.Narrow)
}

// The pile against the winter left: drawn from logs, with its range, its half and the days
// on which it may run out; and nothing leaves the paper whatever is asked.
func TestTheWinterIsDrawn(t *testing.T) {
	start := time.Date(2025, 10, 1, 0, 0, 0, 0, time.UTC)
	end, now := start.AddDate(0, 7, 0), start.AddDate(0, 2, 0)
	use := season.Use{Loss: season.About{Middle: 150, Doubt: 0.1}, Share: season.About{Middle: 0.8, Doubt: 0.1}, Efficiency: season.About{Middle: 0.75}}
	draw := func(energy float64, past []float64) string {
		o := use.Lasts([]season.Pile{{Name: "ash", Energy: season.About{Middle: energy, Doubt: 0.1}}}, drying.Temperate, now, end)
		w := strip.Winter{Start: start, End: end, Now: now, Past: past, Weeks: o.Weeks, RunsOut: o.RunsOut,
			Half: season.HalfWay(drying.Temperate, start, end), Zone: time.UTC,
			Locale: lang.Metric, Asked: func(at time.Time) float64 {
				return o.Needed[1] * season.Days(drying.Temperate, at, end) / season.Days(drying.Temperate, now, end)
			}}
		return string(w.SVG())
	}
	short := draw(18e9, []float64{30e9, 26e9, 18e9})
	assert.Contains(t, short, `class="runs-out"`)
	assert.Contains(t, short, "gone, should it not last")
	assert.Contains(t, short, `class="log-end"`)
	assert.Contains(t, short, "half of it behind")
	rich := draw(90e9, []float64{100e9, 95e9, 90e9})
	assert.NotContains(t, rich, `class="runs-out"`)
	for _, svg := range []string{short, rich, draw(0, []float64{0}), draw(5e9, nil)} {
		assert.NotContains(t, svg, "NaN")
		assert.NotContains(t, svg, "Inf")
		for _, y := range append(numbers(t, svg, "y1"), numbers(t, svg, "y2")...) {
			assert.True(t, y >= 0 && y <= 300, "%.1f", y)
		}
	}
	imperial := strip.Winter{Start: start, End: end, Now: now, Past: []float64{9e9, 8e9}, Zone: time.UTC, Locale: lang.Imperial,
		Asked: func(time.Time) float64 { return 5e9 }}
	assert.Contains(t, strings.ToLower(string(imperial.Drawn().Narrow)), "btu")
}
