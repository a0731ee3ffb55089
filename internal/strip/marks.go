package strip

import (
	"html"
	"html/template"
	"math"
)

// signs are the small drawings on the marks track, in a box of 14 by 16 px.
// Each is drawn for its own thing: a door leaf, a flap, a match, rising lines.
var signs = map[string]string{
	"light":       `<path d="M7 16V7" class="sign"/><path d="M7 1c3 3 3 5 0 6c-3-1-3-3 0-6z" class="sign-ember"/>`,
	"door-open":   `<path d="M2 2v12M2 2l8 3v12l-8-3" class="sign"/><circle cx="8" cy="11" r=".9" class="sign-dot"/>`,
	"door-ajar":   `<path d="M2 2v12h2M2 2l6 2v10l-4-1" class="sign"/>`,
	"door-shut":   `<path d="M2 2h9v13H2z" class="sign"/><circle cx="9" cy="9" r=".9" class="sign-dot"/>`,
	"bypass":      `<path d="M1 14h12M4 14L11 4" class="sign"/><path d="M11 4l-3 .6M11 4l-.6 3" class="sign"/>`,
	"smoke-grey":  `<path d="M3 15c-3-4 3-5 0-12M8 15c-3-4 3-5 0-12M13 15c-3-4 3-5 0-12" class="sign-ash"/>`,
	"smoke-white": `<path d="M3 15c-3-4 3-5 0-12M8 15c-3-4 3-5 0-12" class="sign"/>`,
	"smoke-clear": `<path d="M2 4h1M6 4h1M10 4h1M2 9h1M6 9h1M10 9h1M2 14h1M6 14h1M10 14h1" class="sign-lichen"/>`,
	"draft":       `<path d="M7 15V3M3 7l4-4l4 4" class="sign"/><path d="M2 15h10" class="sign"/>`,
	"note":        `<path d="M2 2h10v9l-4 4H2zM12 11H8v4" class="sign"/>`,
	"prime":       `<path d="M3 16V2M11 16V2" class="sign"/><path d="M7 5c3 3 3 5 0 7c-3-2-3-4 0-7z" class="sign-ember"/>`,
	"rake":        `<path d="M1 13h12M7 13L12 2M2 13v-3M5 13v-3M9 13v-3" class="sign"/>`,
	"smoke-room":  `<path d="M1 15V5h12v10" class="sign"/><path d="M4 13c-2-3 2-3 0-6M9 13c-2-3 2-3 0-6" class="sign-ash"/>`,
	"black":       `<path d="M1 10h13M1 14h13M3 6h9" class="sign"/><path d="M2 9h11v2H2zM2 13h11v2H2z" class="sign-dot"/>`,
	"jets":        `<path d="M1 4h13" class="sign"/><path d="M3 5c1 2 1 3 0 5c-1-2-1-3 0-5zM7 5c1 2 1 3 0 5c-1-2-1-3 0-5zM11 5c1 2 1 3 0 5c-1-2-1-3 0-5z" class="sign-ember"/><path d="M1 15h13" class="sign"/>`,
	"whistle":     `<path d="M1 11c2-4 4 2 6-2s4 2 6-2M2 15h9" class="sign"/>`,
	"gas-flames":  `<path d="M1 13h12M3 15h9" class="sign"/><path d="M4 2c3 3 2 5 0 7c-2-2-2-4 0-7zM10 1c3 3 2 5 0 7c-2-2-2-4 0-7z" class="sign-ember"/>`,
	"baffle":      `<path d="M1 2h12" class="sign"/><path d="M7 15c-5-4-1-7-4-12c5 3 4 5 4 6c0-2 0-4 4-6c-2 5 1 8-4 12z" class="sign-ember"/>`,
	"draws":       `<path d="M13 2v4M13 10v5" class="sign"/><path d="M13 8H3M6 5L3 8l3 3" class="sign-ash"/>`,
	"ticks":       `<path d="M3 3h8v11H3zM1 3h12" class="sign"/><path d="M7 6v3M5 11l1 1M9 11l-1 1" class="sign"/>`,
	"hisses":      `<circle cx="6" cy="10" r="4" class="sign"/><path d="M6 10h.1M11 8c2 0 1 2 3 2M11 11c1 0 1 2 3 2M11 5c2 0 1 2 3 2" class="sign-ash"/>`,
	"glass-edge":  `<path d="M2 2h10v12H2z" class="sign"/><path d="M2 2h10v2H4v10H2z" class="sign-dot"/>`,
	"window-open": `<path d="M2 3h10v11H2zM7 3l5-2v11l-5 2" class="sign"/>`,
	"window-shut": `<path d="M2 3h10v11H2zM7 3v11M2 8h10" class="sign"/>`,
	"coals":       `<path d="M1 15h12" class="sign"/><path d="M2 13l2-4 3 2 2-3 4 5z" class="sign-ember"/>`,
	"alarm":       `<path d="M2 12V8a5 5 0 0110 0v4zM5 14h4" class="sign"/><path d="M7 6v4M7 11v.6" class="sign-ember"/>`,
	"smoke-gone":  `<path d="M1 15V5h12v10" class="sign"/><path d="M4 11l2 2 4-5" class="sign"/>`,
	"out":         `<path d="M2 13c3-3 7-3 10 0M4 9h6" class="sign"/>`,
}

// The marks' track, px: what a sign takes, how far it moves on before it goes to
// the next row, and the rows there are.
const (
	signWide  = 17.0
	signPush  = 40.0
	markRows  = 6
	mostSaid  = 22 // letters beside a sign
	markApart = 19.0
)

// Sign draws one sign alone; its words stand beside it.
func Sign(name string) template.HTML {
	return template.HTML(`<svg class="sign-alone" viewBox="0 0 14 16" width="28" height="32" aria-hidden="true">` + signs[name] + `</svg>`) //nolint:gosec // of our own table
}

// HasSign tells whether there is a drawing of that name.
func HasSign(name string) bool { _, ok := signs[name]; return ok }

// marks draws the signs, each with its word where there is room for it; those
// that would touch move to the next row.
func (f *frame) marks() {
	if len(f.Marks) == 0 {
		return
	}
	f.trackName(f.y+17, "marks")
	var ends [markRows]float64 // of each row, where the next sign is free
	deepest := 0
	for _, m := range f.Marks {
		sign, known := signs[m.Kind]
		if !known || !f.inside(m.At) {
			continue
		}
		x, row, side := f.placeMark(&ends, f.x(m.At), m.Says)
		deepest = max(deepest, row)
		word, y := html.EscapeString(m.Word), f.y+5+float64(row)*markApart
		f.printf(`<g class="mark" tabindex="0" role="img" aria-label="%s" transform="translate(%.1f %.1f)"><title>%s</title><rect class="mark-area" x="-1" y="-1" width="16" height="18"/>%s</g>`,
			word, x-2, y, word, sign)
		switch side {
		case wordRight:
			f.text(x+signWide-1, y+12, "start", "quiet", m.Says)
		case wordLeft:
			f.text(x-6, y+12, "end", "quiet", m.Says)
		}
	}
	f.y += 26 + float64(deepest)*markApart
}

// A wordSide is where a sign's word stands.
type wordSide int

const (
	wordNone wordSide = iota
	wordRight
	wordLeft // at the strip's end
)

// placeMark finds the place of a sign, and whether its word has room beside it. A
// sign that would touch the one before moves on a little; one that would have to
// move far goes to the next row.
func (f *frame) placeMark(ends *[markRows]float64, at float64, says string) (x float64, row int, side wordSide) {
	if n := len([]rune(says)); n > 0 && n <= mostSaid {
		wide := widthOf(says)
		for row := range ends {
			switch {
			case ends[row] <= at && at+signWide+wide < f.right:
				ends[row] = at + signWide + wide + 6
				return at, row, wordRight
			case at+signWide+wide >= f.right && ends[row] <= at-wide-12:
				ends[row] = at + signWide
				return at, row, wordLeft
			}
		}
	}
	for row < len(ends)-1 && ends[row]-at > signPush {
		row++
	}
	x = math.Max(at, ends[row])
	ends[row] = x + signWide
	return x, row, wordNone
}
