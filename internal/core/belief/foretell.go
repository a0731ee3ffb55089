package belief

import (
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/core/stove"
)

// foretellers is how many worlds foretell a burn to be judged by it.
const foretellers = 24

// A Foretold is how well a burn's readings were told before any of them was known.
type Foretold struct {
	Place    stove.Place
	Readings int
	// Off is the continuous ranked probability score (Gneiting and Raftery 2007), K: how
	// far off the worlds were, less half of how far they were from each other; of one
	// world alone, its mean error.
	Off float64
}

// Foretell burns what was done in worlds of a prior, and tells how far off they were from
// what the gauge at a place read.
func Foretell(prior Prior, setup fire.Setup, doubt Doubt, record []Event, place stove.Place) Foretold {
	g := prior.gaussian(doubt, 1)
	worlds := g.draw(foretellers, rand.New(rand.NewPCG(24, 1)))
	var read []float64
	for _, e := range record {
		if e.Seen != nil && e.Seen.Sight == Reading && e.Seen.Place == place {
			read = append(read, e.Seen.Value)
		}
	}
	out := Foretold{Place: place, Readings: len(read)}
	if len(read) == 0 {
		return out
	}
	would := make([][]float64, len(worlds))
	parallel.Aside(len(worlds), func(i int) { would[i] = readingsIn(worlds[i], setup, record, place, len(read)) })
	values := make([]float64, len(worlds))
	for t, y := range read {
		for i := range would {
			values[i] = would[i][t]
		}
		out.Off += rankedScore(values, y) / float64(len(read))
	}
	return out
}

// readingsIn are what the gauge at a place would have read in a world.
func readingsIn(w world, setup fire.Setup, record []Event, place stove.Place, n int) []float64 {
	f, loads, touched := w.fire(setup), 0, time.Duration(0)
	out := make([]float64, 0, n)
	for _, e := range record {
		switch {
		case e.Act != nil:
			f.BurnTo(e.At, touched)
			f.Do(w.own(*e.Act, &loads))
			touched = e.At
		case e.Seen.Sight == Reading && e.Seen.Place == place:
			f.BurnTo(e.At, touched)
			t, _ := f.Reading(place)
			out = append(out, t)
		}
	}
	return out
}

// rankedScore is E|X − y| − ½ E|X − X′| of values that are as likely; they are sorted.
//
// With the values in order the second term is Σ (2i − n + 1) xᵢ / n².
func rankedScore(values []float64, y float64) float64 {
	slices.Sort(values)
	n, off, apart := float64(len(values)), 0.0, 0.0
	for i, x := range values {
		off += math.Abs(x - y)
		apart += (2*float64(i) - n + 1) * x
	}
	return off/n - apart/(n*n)
}
