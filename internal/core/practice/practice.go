// Package practice compares two ways of doing it, by the burns of one stove.
//
// A [Question] says what the two ways are; which of them a burn was done in is read from
// how it was made ([review.Way]). What is compared are per-burn figures ([Figures]), by
// their medians, since one odd evening must not decide. Burns of cold weather and wet wood
// are made comparable by least squares on both ([Adjust]); how sure a difference is comes
// from shuffling the burns between the ways, and its range from drawing them again
// ([Compare]). Where there are too few, that is the answer.
//
// A [Trial] asks the next burns, by lot, so that what else differs does so by chance.
package practice

import (
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"gonum.org/v1/gonum/mat"

	"smolder/internal/core/fire"
	"smolder/internal/core/review"
	"smolder/internal/core/stove"
)

// A Subject is what two ways differ in.
type Subject string

// The subjects.
const (
	Lay       Subject = "lay"       // of the first fire
	Wood      Subject = "wood"      // its species
	Direction Subject = "direction" // of the last load
	Door      Subject = "door"      // ajar for a while after the match, or shut sooner
	Hold      Subject = "hold"      // air held after the last load, or taken back sooner
	Setting   Subject = "setting"   // where the air is left
	Dryness   Subject = "dryness"   // of the wood
)

// Subjects in the order in which they are offered.
var Subjects = []Subject{Lay, Wood, Direction, Door, Hold, Setting, Dryness}

// Where a subject has two ways only, they lie on both sides of these.
const (
	doorAt    = 5 * time.Minute
	holdAt    = 12 * time.Minute
	settingAt = 0.3
	dryAt     = 0.18
)

// The ways of those subjects.
const (
	Long  = "long"  // the door, the air: at least so long
	Short = "short" // sooner
	High  = "high"  // the air left further open; wetter wood
	Low   = "low"
)

// A Question is two ways of a subject.
type Question struct {
	Subject Subject
	A, B    string
}

// WayIn is in which way of a subject a burn was made; empty: in none.
func WayIn(s Subject, w review.Way) string {
	side := func(first bool, a, b string) string {
		if first {
			return a
		}
		return b
	}
	switch s {
	case Lay:
		if w.Cold && w.Lay != fire.OnCoals {
			return string(w.Lay)
		}
	case Wood:
		return w.Species
	case Direction:
		return string(w.Direction)
	case Door:
		if w.Cold && w.Ajar > 0 {
			return side(w.Ajar >= doorAt, Long, Short)
		}
	case Hold:
		if w.Hold >= 0 {
			return side(w.Hold >= holdAt, Long, Short)
		}
	case Setting:
		if w.Final >= 0 {
			return side(w.Final >= settingAt, High, Low)
		}
	case Dryness:
		if w.Moisture > 0 {
			return side(float64(w.Moisture) >= dryAt, High, Low)
		}
	}
	return ""
}

// Ways are the ways of a subject that burns were made in, the commonest first.
func Ways(s Subject, burns []review.Review) []string {
	count := map[string]int{}
	for _, b := range burns {
		if way := WayIn(s, b.Way); way != "" {
			count[way]++
		}
	}
	if s == Direction {
		for _, d := range []string{string(stove.EndOn), string(stove.Sideways)} {
			count[d] += 0
		}
	}
	var out []string
	for way := range count {
		out = append(out, way)
	}
	slices.SortFunc(out, func(a, b string) int {
		if count[a] != count[b] {
			return count[b] - count[a]
		}
		if a < b {
			return -1
		}
		return 1
	})
	return out
}

// A Figure is what burns are compared by.
type Figure string

// The figures.
const (
	Smoke   Figure = "smoke"   // g for each kg of dry wood
	Early   Figure = "working" // min until the gauge works
	PerKilo Figure = "heat"    // MJ to the room for each kg of wood
	TooHot  Figure = "hot"     // min
	Settled Figure = "settled" // g in the flue for each kg of wood
)

// Figures in the order in which they are shown; of all but the heat less is better.
var Figures = []Figure{Smoke, Early, PerKilo, TooHot, Settled}

// ValueOf is a burn's figure; false: it has none.
func ValueOf(f Figure, r review.Review) (float64, bool) {
	used := float64(r.Used)
	switch f {
	case Smoke:
		return r.SmokePerKg, r.Simulated && used > 0
	case Early:
		return r.ToWorking.Minutes(), r.ToWorking >= 0 && r.Way.Cold
	case PerKilo:
		return r.HeatMiddle.MJ() / math.Max(used, 0.1), r.Simulated && used > 0
	case TooHot:
		return r.TooHot.Minutes(), true
	case Settled:
		return r.Settled() / math.Max(used, 0.1), r.Simulated && used > 0
	}
	return 0, false
}

// Fewest is how many burns each way must have before anything is said.
const Fewest = 4

// A Verdict is how two ways differ in one figure.
type Verdict struct {
	Figure           Figure
	A, B             []float64 // the burns' values, adjusted, as they are drawn
	MedianA, MedianB float64
	Difference       float64 // of the medians, B − A
	Low, High        float64 // in nine of ten draws it lies between
	Chance           float64 // how often shuffling alone makes as large a one
	TooFew           bool
}

// Sure tells whether there is a difference that chance does not make.
func (v Verdict) Sure() bool { return !v.TooFew && v.Chance < 0.05 && v.Low*v.High > 0 }

// Compare holds the burns of two ways against each other in one figure.
func Compare(q Question, f Figure, burns []review.Review) Verdict {
	var all []observed
	for _, b := range burns {
		way := WayIn(q.Subject, b.Way)
		value, ok := ValueOf(f, b)
		if ok && (way == q.A || way == q.B) && q.A != q.B {
			all = append(all, observed{value, way == q.B, float64(b.Outdoor), float64(b.Way.Moisture)})
		}
	}
	adjust(all, q.Subject != Dryness)
	v := Verdict{Figure: f}
	for _, o := range all {
		if o.b {
			v.B = append(v.B, o.value)
		} else {
			v.A = append(v.A, o.value)
		}
	}
	if v.TooFew = len(v.A) < Fewest || len(v.B) < Fewest; len(v.A) == 0 || len(v.B) == 0 {
		return v
	}
	v.MedianA, v.MedianB = Median(v.A), Median(v.B)
	v.Difference = v.MedianB - v.MedianA
	if !v.TooFew {
		v.Chance = Shuffled(v.A, v.B, Median)
		v.Low, v.High = Drawn(v.A, v.B, Median, 0.05)
	}
	return v
}

// observed is one burn in a comparison.
type observed struct {
	value             float64
	b                 bool
	outdoor, moisture float64
}

// adjust takes out of the values what the weather and the wood make, by least squares of
//
//	value = c + d·(way) + e·(outdoor) + f·(moisture)
//
// where there are burns enough for it. The ways keep their difference d.
func adjust(all []observed, byMoisture bool) {
	columns := 3
	if byMoisture {
		columns = 4
	}
	n := len(all)
	if n < 4*columns {
		return
	}
	x, y := mat.NewDense(n, columns, nil), mat.NewVecDense(n, nil)
	var outdoor, moisture float64
	for i, o := range all {
		row := []float64{1, 0, o.outdoor}
		if o.b {
			row[1] = 1
		}
		if byMoisture {
			row = append(row, 100*o.moisture)
		}
		x.SetRow(i, row)
		y.SetVec(i, o.value)
		outdoor, moisture = outdoor+o.outdoor/float64(n), moisture+100*o.moisture/float64(n)
	}
	// QR rather than the normal equations: outdoor temperatures of one winter lie close
	// together, and their squares closer.
	var qr mat.QR
	qr.Factorize(x)
	var fit mat.VecDense
	if qr.SolveVecTo(&fit, false, y) != nil {
		return // all of one weather, or one wood: there is nothing to take out
	}
	// What is left is each burn as it would have been in the mean weather, with the mean wood.
	for i := range all {
		all[i].value -= fit.AtVec(2) * (all[i].outdoor - outdoor)
		if byMoisture {
			all[i].value -= fit.AtVec(3) * (100*all[i].moisture - moisture)
		}
	}
}

// Median is the middle of values, or the mean of the two about it; of none it is 0.
func Median(values []float64) float64 {
	s := slices.Clone(values)
	slices.Sort(s)
	switch n := len(s); {
	case n == 0:
		return 0
	case n%2 == 1:
		return s[n/2]
	default:
		return (s[n/2-1] + s[n/2]) / 2
	}
}

// Mean is the arithmetic mean; of none it is 0.
func Mean(values []float64) float64 {
	sum := 0.0
	for _, v := range values {
		sum += v / float64(len(values))
	}
	return sum
}

const (
	shuffles = 4000 // where there are more ways to divide the burns than that
	draws    = 2000
)

// Shuffled is how often a statistic of two groups differs as much as it does, or more, on
// either side, where the values are divided between them by chance (a permutation test,
// Fisher 1935). Of few burns all divisions are made, of many some thousand, the same each
// time.
func Shuffled(a, b []float64, statistic func([]float64) float64) float64 {
	all := slices.Concat(a, b)
	seen := math.Abs(statistic(b) - statistic(a))
	const hair = 1e-12
	as := 0
	// Of few burns all ways to divide them are tried: then nothing is left to chance.
	if divisions(len(all), len(a)) <= shuffles*3 {
		n := 0
		divide(len(all), len(a), func(first []bool) {
			n++
			var x, y []float64
			for i, v := range all {
				if first[i] {
					x = append(x, v)
				} else {
					y = append(y, v)
				}
			}
			if math.Abs(statistic(y)-statistic(x)) >= seen-hair {
				as++
			}
		})
		return float64(as) / float64(n)
	}
	r := rand.New(rand.NewPCG(35, 1))
	for range shuffles {
		r.Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
		if math.Abs(statistic(all[len(a):])-statistic(all[:len(a)])) >= seen-hair {
			as++
		}
	}
	// The division that was seen is one of them, so that it is never nought.
	return float64(as+1) / (shuffles + 1)
}

// divisions is in how many ways n values are divided into two groups.
func divisions(n, first int) float64 {
	out := 1.0
	for i := range first {
		out *= float64(n-i) / float64(i+1)
	}
	return out
}

// divide makes all of them.
func divide(n, first int, each func([]bool)) {
	in := make([]bool, n)
	var from func(at, left int)
	from = func(at, left int) {
		if left == 0 {
			each(in)
			return
		}
		for i := at; i <= n-left; i++ {
			in[i] = true
			from(i+1, left-1)
			in[i] = false
		}
	}
	from(0, first)
}

// Drawn is the range of the difference of a statistic between two groups, but for a share
// on either side, where each is drawn again from itself (the bootstrap's percentiles, Efron
// and Tibshirani 1993).
func Drawn(a, b []float64, statistic func([]float64) float64, aside float64) (low, high float64) {
	differences := resampled(draws, func(again func([]float64) []float64) float64 { return statistic(again(b)) - statistic(again(a)) })
	slices.Sort(differences)
	at := func(share float64) float64 { return differences[int(share*float64(len(differences)-1))] }
	return at(aside), at(1 - aside)
}

// Spread is the standard error of a statistic, by drawing again.
func Spread(values []float64, statistic func([]float64) float64, times int) float64 {
	all := resampled(times, func(again func([]float64) []float64) float64 { return statistic(again(values)) })
	mean, sum := Mean(all), 0.0
	for _, v := range all {
		sum += (v - mean) * (v - mean)
	}
	return math.Sqrt(sum / float64(len(all)-1))
}

func resampled(times int, one func(again func([]float64) []float64) float64) []float64 {
	r := rand.New(rand.NewPCG(93, 1))
	again := func(values []float64) []float64 {
		out := make([]float64, len(values))
		for i := range out {
			out[i] = values[r.IntN(len(values))]
		}
		return out
	}
	out := make([]float64, times)
	for i := range out {
		out[i] = one(again)
	}
	return out
}
