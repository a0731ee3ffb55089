package strip

import (
	"fmt"
	"html/template"
	"math"
	"strings"

	"smolder/internal/core/stove"
)

// The small strip of a list: wide, high, px.
const thumbWide, thumbTall = 150.0, 34.0

// Thumb is a burn as a small strip: the gauge in hand over its working band, from match to
// end. Points that nobody knows are below any temperature.
func Thumb(points []int16, band stove.Band) template.HTML {
	if len(points) < 2 {
		return ""
	}
	high := math.Max(float64(band.TooHot), 100)
	for _, v := range points {
		high = math.Max(high, float64(v))
	}
	y := func(v float64) float64 { return thumbTall - 2 - math.Max(0, v)/high*(thumbTall-4) }
	var b strings.Builder
	fmt.Fprintf(&b, `<svg class="thumb" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" aria-hidden="true">`, thumbWide, thumbTall, thumbWide, thumbTall)
	if band.High > band.Low {
		fmt.Fprintf(&b, `<rect class="band" x="0" y="%.1f" width="%.0f" height="%.1f"/>`, y(float64(band.High)), thumbWide,
			y(float64(band.Low))-y(float64(band.High)))
	}
	b.WriteString(`<path class="pen" d="`)
	pen := false
	for i, v := range points {
		if v == math.MinInt16 {
			pen = false
			continue
		}
		letter := "M"
		if pen {
			letter = "L"
		}
		pen = true
		fmt.Fprintf(&b, "%s%.1f %.1f", letter, float64(i)*thumbWide/float64(len(points)-1), y(float64(v)))
	}
	b.WriteString(`"/></svg>`)
	return template.HTML(b.String()) //nolint:gosec // numbers only
}
