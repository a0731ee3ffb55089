package kit

import (
	"fmt"
	"strconv"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/strip"
)

// A Zoom is a stretch of a strip that can be looked at alone.
type Zoom struct {
	Label, Link string
	Chosen      bool
}

// Zooms are those of one strip: all of it, and others worth a look.
type Zooms struct {
	chart *strip.Chart
	whole time.Duration // how long it is, uncut
	at    string        // the fragment at which the strip stands
	List  []Zoom
}

const (
	leastZoom = 5 * time.Minute // the shortest stretch that a strip shows
	mostZooms = 8
)

// Zoomed is the stretch of a strip that is asked for, since the start.
func (q *Request) Zoomed() (from, to time.Duration, ok bool) {
	a, err := strconv.ParseFloat(q.Query("from"), 64)
	b, err2 := strconv.ParseFloat(q.Query("to"), 64)
	if err != nil || err2 != nil || !(a >= 0 && b > a && b <= burn.Longest.Minutes()) {
		return 0, 0, false
	}
	return time.Duration(a * float64(time.Minute)), time.Duration(b * float64(time.Minute)), true
}

// ZoomsOf cuts a strip to the stretch that is asked for, and offers all of it and the first hour.
func ZoomsOf(q *Request, c *strip.Chart, at string) *Zooms {
	z := &Zooms{chart: c, whole: c.To, at: at}
	if from, to, ok := q.Zoomed(); ok {
		c.From = min(from, z.whole-leastZoom)
		c.To = max(min(z.whole, to), c.From+leastZoom)
	}
	z.List = append(z.List, Zoom{q.T("all of it"), "?#" + at, c.From == 0 && c.To == z.whole})
	z.Add(q.T("the first hour"), 0, time.Hour)
	return z
}

// Add offers a stretch, where it is one.
func (z *Zooms) Add(label string, from, to time.Duration) {
	from, to = max(0, from), min(z.whole, to)
	if to > from+leastZoom && len(z.List) < mostZooms {
		z.List = append(z.List, Zoom{label, fmt.Sprintf("?from=%.0f&to=%.0f#%s", from.Minutes(), to.Minutes(), z.at),
			z.chart.From == from.Truncate(time.Minute) && z.chart.To == to.Truncate(time.Minute)})
	}
}

// AddNear offers one step out and one closer, of a strip that is cut.
func (z *Zooms) AddNear(q *Request) {
	if z.chart.From > 0 || z.chart.To < z.whole {
		width := z.chart.To - z.chart.From
		z.Add(q.T("wider"), z.chart.From-width/2, z.chart.To+width/2)
		z.Add(q.T("closer"), z.chart.From+width/4, z.chart.To-width/4)
	}
}
