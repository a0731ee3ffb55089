package strip

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"slices"
	"strings"

	"smolder/internal/lang"
)

// A Compared is two ways in one figure: the burns of each as dots, their medians, and the
// range of the difference.
type Compared struct {
	Names   [2]string
	Values  [2][]float64
	Medians [2]float64
	Unit    string
	Marks   []string   // what an eye saw, from 0 on, in words; empty: a number
	Range   [2]float64 // of the median of the second, by the range of the difference
	HasBar  bool
}

// tick is what stands at a value of the axis.
func (c Compared) tick(v float64) string {
	if len(c.Marks) == 0 {
		return trimmed(v)
	}
	if i := int(v); float64(i) == v && i >= 0 && i < len(c.Marks) {
		return c.Marks[i]
	}
	return "" // between two marks there is none
}

// Drawn draws it: a row a way, a dot a burn, a stroke the median; below the second the range
// in which its median would lie if only chance were at work in which burns there are.
func (c Compared) Drawn(width float64, loc lang.Locale) template.HTML {
	all := slices.Concat(c.Values[0], c.Values[1])
	if len(all) == 0 {
		return ""
	}
	const row, left = 40.0, 128.0
	high := slices.Max(all)
	low := math.Min(0, slices.Min(all))
	if high <= low {
		high = low + 1
	}
	high += (high - low) * 0.06
	x := func(v float64) float64 { return left + (v-low)/(high-low)*(width-left-14) }
	tall := 2*row + 34
	var b strings.Builder
	fmt.Fprintf(&b, `<svg class="strip compared" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s">`,
		width, tall, width, tall, html.EscapeString(loc.F("%s against %s, a dot a burn", c.Names[0], c.Names[1])))
	step := niceStep((high - low) / 4)
	for v := math.Ceil(low/step) * step; v <= high; v += step {
		fmt.Fprintf(&b, `<g class="grid"><line x1="%.1f" x2="%.1f" y1="4" y2="%.1f"/></g><text class="quiet num" x="%.1f" y="%.1f" text-anchor="middle">%s</text>`,
			x(v), x(v), 2*row+8, x(v), 2*row+24, html.EscapeString(c.tick(v)))
	}
	fmt.Fprintf(&b, `<text class="quiet" x="%.1f" y="%.1f" text-anchor="end">%s</text>`, left-10, 2*row+24, html.EscapeString(c.Unit))
	for i, values := range c.Values {
		y := row*float64(i) + row/2 + 4
		fmt.Fprintf(&b, `<text x="%.1f" y="%.1f" text-anchor="end">%s</text>`, left-10, y+4, html.EscapeString(c.Names[i]))
		sorted := slices.Clone(values)
		slices.Sort(sorted)
		last, deep := math.Inf(-1), 0.0
		for _, v := range sorted { // dots that would lie on each other step aside
			if x(v)-last < 7 {
				if deep = -deep; deep <= 0 {
					deep -= 5
				}
				deep = math.Max(-13, math.Min(13, deep))
			} else {
				deep = 0
			}
			last = x(v)
			fmt.Fprintf(&b, `<circle class="compared-dot%d" cx="%.1f" cy="%.1f" r="3.4"/>`, i, x(v), y+deep)
		}
		if len(values) > 0 {
			fmt.Fprintf(&b, `<line class="compared-median" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, x(c.Medians[i]), x(c.Medians[i]), y-15, y+15)
		}
	}
	if c.HasBar {
		y := 2*row + 4.0
		fmt.Fprintf(&b, `<path class="coming" d="M%.1f %.1fv-5M%.1f %.1fh%.1fM%.1f %.1fv-5"/>`, x(c.Range[0]), y+2, x(c.Range[0]), y,
			x(c.Range[1])-x(c.Range[0]), x(c.Range[1]), y+2)
	}
	b.WriteString("</svg>")
	return template.HTML(b.String()) //nolint:gosec // every text in it is escaped above
}

func trimmed(v float64) string {
	if math.Abs(v) < 1e-9 {
		v = 0 // and not −0
	}
	s := fmt.Sprintf("%.2f", v)
	return strings.TrimSuffix(strings.TrimRight(s, "0"), ".")
}
