package plan

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// A Recipe is one way to burn for a wish, in numbers: what [Steps] writes out as
// things to do, and what a search tries many of.
type Recipe struct {
	First, Main int             // pieces to light with, and on the coals; 0: none
	FirstOf     int             // which of [wish.Wish.Woods]
	MainOf      int             //
	Lay         fire.Lay        // of the first fire
	Direction   stove.Direction //
	Final       float64         // opening of the main air at the end of the turn-down
	Brisk       float64         // and while it chars
	Most        float64         // the most that it may be: less than 1 where fully open runs too hot
	Pause       time.Duration   // between the steps of the turn-down
}

// Later is a later load of a wish that is longer than one, on the main wood of
// its recipe.
type Later struct {
	Pieces int
	Left   float64 // share of the load before that may still be wood when it goes on
	Brisk  float64 // opening of the main air while it chars
	Final  float64 // and at the end of its turn-down
}

// A Feed is a later load as a plan shows it.
type Feed struct {
	Of     wish.Pick
	Pieces int
	Final  float64
}

// MostFeeds is how many later loads one plan has at most.
const MostFeeds = 10

// Mass is the wood of a feed.
func (f Feed) Mass() units.Kilogram {
	return f.Of.Stack.PieceMass * units.Kilogram(f.Pieces)
}

// finals are openings to turn down to, in the order in which they are worth
// trying: where many stoves burn clean, first.
var finals = []float64{1. / 4, 1. / 2, 1. / 3, 2. / 3, 0.2, 0.4, 0.6, 0.3, 0.75}

// Floor is the least opening that a fire is turned down to while nobody knows what a
// mark of this stove's control is worth: a fifth of a lever's way is an eighth of the
// inlet on one stove and a twentieth on another. Less heat is had with less wood.
const Floor = 1. / 5

// Lowest is the least opening that a wish's fire is turned down to: [Floor], or as low as
// this stove's own burns were clean.
func Lowest(w wish.Wish) float64 {
	if w.Lowest > 0 && w.Lowest < Floor {
		return w.Lowest
	}
	return Floor
}

// Openings are at most n final settings of a control worth trying, as it is
// marked, none lower than the lowest. What lies under [Floor] comes first: it is known to
// hold.
func Openings(c stove.Control, n int, lowest float64) []float64 {
	tried := finals
	if lowest < Floor-sameOpening {
		tried = append([]float64{lowest, math.Sqrt(lowest * Floor)}, finals...)
	}
	if c.Scale.Kind == stove.Notches {
		tried = c.Scale.Steps()
		n = len(tried)
	}
	const nearlyOpen = 0.8 // no setting to leave a fire at
	var out []float64
	for _, o := range tried {
		if o = c.Scale.Nearest(o); o >= min(lowest, Floor)-sameOpening && o < nearlyOpen && len(out) < n && !slices.Contains(out, o) {
			out = append(out, o)
		}
	}
	return out
}

// Counts returns at most n whole numbers from low to high, both included, in
// even steps.
func Counts(low, high, n int) []int {
	var out []int
	for i := range n {
		v := low
		if n > 1 {
			v = low + int(math.Round(float64(high-low)*float64(i)/float64(n-1)))
		}
		if len(out) == 0 || out[len(out)-1] != v {
			out = append(out, v)
		}
	}
	return out
}
