package strip

import (
	"html"
	"math"
	"time"
)

// A Hold is something that was done, as a tab that can be taken hold of and moved along
// the strip: to see what would have been.
type Hold struct {
	At    time.Duration
	Was   time.Duration // where it was done; other than At: it has been moved
	Entry string        // id of the entry
	Kind  string        // control, load, door
	To    float64       // opening, or pieces
	Steps float64       // by how much one key changes it; 0: it cannot be changed
	Most  float64       // that it can be
	Gone  bool          // it is taken out
	Says  string        // on the tab
	Word  string        // in full
}

// A Note is a numbered note in the margin, tied to its moment.
type Note struct {
	At     time.Duration
	Number string
	Word   string
	Link   string // where it is told in full; empty: below the strip
}

const (
	holdTall  = 24.0 // of a tab, px: a finger finds it
	holdApart = 28.0
	holdRows  = 12
)

// holds draws the tabs, each on the first row where it is free.
func (f *frame) holds() {
	if len(f.Holds) == 0 {
		return
	}
	top := f.y + 4
	f.trackName(top+16, "yours")
	var ends [holdRows]float64
	deepest := 0
	for _, h := range f.Holds {
		x := math.Min(math.Max(f.x(h.At), f.left), f.right)
		wide := widthOf(h.Says) + 12
		row := 0
		for row < holdRows-1 && ends[row] > x {
			row++
		}
		ends[row] = x + wide + 4
		deepest = max(deepest, row)
		y := top + float64(row)*holdApart
		class := "hold"
		if h.Gone {
			class = "hold gone"
		}
		if h.At != h.Was && !h.Gone {
			class = "hold moved"
			f.printf(`<line class="hold-was" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, f.x(h.Was), x, y+holdTall/2, y+holdTall/2)
		}
		f.printf(`<g class="%s" tabindex="0" role="slider" aria-label="%s" aria-valuenow="%.0f" aria-valuemin="0" aria-valuemax="%.0f" aria-valuetext="%s" `+
			`data-entry="%s" data-kind="%s" data-minute="%.2f" data-was="%.2f" data-to="%.4f" data-step="%.4f" data-most="%.4f" transform="translate(%.1f %.1f)">`,
			class, html.EscapeString(h.Word), h.At.Minutes(), f.To.Minutes(), html.EscapeString(h.Word), html.EscapeString(h.Entry), h.Kind,
			h.At.Minutes(), h.Was.Minutes(), h.To, h.Steps, h.Most, x, y)
		f.printf(`<title>%s</title><line class="hold-stem" x1="0" x2="0" y1="0" y2="%.1f"/><rect x="0" y="0" width="%.1f" height="%.1f"/><text x="6" y="16">%s</text></g>`,
			html.EscapeString(h.Word), holdTall, wide, holdTall, html.EscapeString(h.Says))
	}
	f.y = top + float64(deepest+1)*holdApart + 2
}

// notes draws the numbers of the notes in the margin at their moments, over the
// temperatures; their words stand below the strip.
func (f *frame) notes() {
	const r, apart = 8.5, 19.0
	var ends [noteRows]float64
	deepest := -1
	for _, n := range f.Notes {
		if !f.inside(n.At) {
			continue
		}
		x, row := f.x(n.At), 0
		for row < noteRows-1 && ends[row] > x-r {
			row++
		}
		ends[row] = x + r + 1
		deepest = max(deepest, row)
		y := 27 + float64(row)*apart
		f.printf(`<g class="margin-note"><title>%s</title><line x1="%.1f" x2="%.1f" y1="%.1f" y2="@bottom"/>`, html.EscapeString(n.Word), x, x, y-7)
		if n.Link != "" {
			f.printf(`<a href="%s" aria-label="%s"><circle class="mark-area" cx="%.1f" cy="%.1f" r="14"/>`, html.EscapeString(n.Link), html.EscapeString(n.Number+": "+n.Word), x, y)
		}
		f.printf(`<circle cx="%.1f" cy="%.1f" r="%.1f"/><text x="%.1f" y="%.1f" text-anchor="middle">%s</text>`, x, y, r, x, y+4.5, html.EscapeString(n.Number))
		if n.Link != "" {
			f.printf(`</a>`)
		}
		f.printf(`</g>`)
	}
	if len(f.Notes) > 0 {
		f.y += 20 + float64(max(0, deepest))*apart
	}
}

// noteRows is how many rows of numbers there are at the most: what comes closer stands over another.
const noteRows = 4
