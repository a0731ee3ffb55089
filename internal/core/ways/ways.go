// Package ways compares two ways of doing it, by the burns of one stove.
//
// A [Question] says what the two ways are; which of them a burn was done in is read from
// how it was made ([review.Way]). What is compared are per-burn figures ([Figures]), by
// their medians, since one odd evening must not decide. Burns of cold weather and wet wood
// are made comparable by least squares on both ([Adjust]); how sure a difference is comes
// from shuffling the burns between the ways, and its range from drawing them again
// ([Compare]). Where there are too few, that is the answer.
//
// A [Trial] asks the next burns, by lot, so that what else differs does so by chance.
package ways

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"gonum.org/v1/gonum/mat"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/core/review"
	"smolder/internal/core/stove"
	"smolder/internal/core/wood"
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
	dryAt     = float64(wood.ReadyTo)
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
func Ways(s Subject, burns []Burn) []string {
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

// A Burn is one that is compared: what it came to, and what its owner saw of it.
type Burn struct {
	review.Review
	Eye burn.Eye
	Lit time.Time // in the household's zone
}

// A Figure is what burns are compared by.
type Figure string

// The figures. The first six are observed: a gauge, a thermometer, the log or an eye gave
// them. The others are what the model computes of the log: it has its own idea of wet wood
// and little air, so that two ways differ in them whether or not they do so on the roof.
const (
	Early  Figure = "working" // min until the gauge works
	TooHot Figure = "hot"     // min
	Cap    Figure = "cap"     // smoke seen at it: 0 none, 1 for a while, 2 for long
	Glass  Figure = "glass"   // 0 clear, 1 hazed, 2 black
	Used   Figure = "wood"    // kg put on
	Warm   Figure = "room"    // % of the burn in which the room was as warm as wanted

	Smoke   Figure = "smoke"   // g for each kg of dry wood
	PerKilo Figure = "heat"    // MJ to the room for each kg of wood
	Settled Figure = "settled" // g in the flue for each kg of wood
)

// Observed and Computed are the figures in the order in which they are shown.
var (
	Observed = []Figure{Early, TooHot, Cap, Glass, Used, Warm}
	Computed = []Figure{Smoke, PerKilo, Settled}
)

// ranges are what a figure can be, and the least difference that matters to whoever heats:
// of the wood it is a share of what is burnt.
var ranges = map[Figure]struct{ least, most, matters, share float64 }{
	Early:   {0, math.Inf(1), 4, 0},
	TooHot:  {0, math.Inf(1), 2, 0},
	Cap:     {0, 2, 0.5, 0},
	Glass:   {0, 2, 0.5, 0},
	Used:    {0, math.Inf(1), 0.3, 0.08},
	Warm:    {0, 100, 10, 0},
	Smoke:   {0, math.Inf(1), 1, 0.15},
	PerKilo: {0, math.Inf(1), 0.5, 0.05},
	Settled: {0, math.Inf(1), 0.3, 0.15},
}

// ValueOf is a burn's figure; false: it has none.
func ValueOf(f Figure, r Burn) (float64, bool) {
	used := float64(r.Review.Used)
	mark := func(key string) (float64, bool) {
		for _, m := range burn.EyeMarks {
			if m.Key == key {
				i := slices.Index(m.May, *m.Of(&r.Eye))
				return float64(i), i >= 0
			}
		}
		return 0, false
	}
	switch f {
	case Early:
		return r.ToWorking.Minutes(), r.FromLog && r.ToWorking >= 0 && r.Way.Cold
	case TooHot:
		return r.Review.TooHot.Minutes(), r.FromLog
	case Cap:
		return mark("smoke")
	case Glass:
		return mark("glass")
	case Used:
		return used, used > 0
	case Warm:
		return 100 * r.Held.Minutes() / math.Max(1, r.Length.Minutes()), r.House.Readings > 0 && r.Length > 0
	case Smoke:
		return r.SmokePerKg, r.Simulated && used > 0
	case PerKilo:
		return r.HeatMiddle.MJ() / math.Max(used, 0.1), r.Simulated && used > 0
	case Settled:
		return r.Review.Settled() / math.Max(used, 0.1), r.Simulated && used > 0
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
	Chance           float64 // how often shuffling alone makes as large a one, in any of the figures asked together
	TooFew           bool
	Small            bool // too small to matter, chance or not
	Mixed            bool // something else differs between the ways as wholly as they do
}

// Sure tells whether there is a difference that matters, that chance does not make, and
// that nothing else goes with altogether.
func (v Verdict) Sure() bool {
	return !v.TooFew && !v.Small && !v.Mixed && v.Chance < 0.05 && v.Low*v.High > 0
}

// Together compares two ways in several observed figures at once. Of six that are asked
// one in four would show "a difference" by chance alone: their chances are made larger,
// the least by as many times as were asked (Holm 1979).
func Together(q Question, figures []Figure, burns []Burn) []Verdict {
	out := CompareAll(q, figures, burns)
	var asked []int
	for i, v := range out {
		if !v.TooFew {
			asked = append(asked, i)
		}
	}
	slices.SortStableFunc(asked, func(a, b int) int { return cmp.Compare(out[a].Chance, out[b].Chance) })
	least := 0.0
	for n, i := range asked {
		least = math.Max(least, math.Min(1, out[i].Chance*float64(len(asked)-n)))
		out[i].Chance = least
	}
	return out
}

// CompareAll is [Compare] for several figures, each by itself.
func CompareAll(q Question, figures []Figure, burns []Burn) []Verdict {
	out := make([]Verdict, len(figures))
	parallel.InParallel(len(figures), func(i int) { out[i] = Compare(q, figures[i], burns) })
	return out
}

// Compare holds the burns of two ways against each other in one figure.
func Compare(q Question, f Figure, burns []Burn) Verdict {
	var all []observed
	var a, b []Burn
	for _, x := range burns {
		way := WayIn(q.Subject, x.Way)
		value, ok := ValueOf(f, x)
		if !ok || q.A == q.B {
			continue
		}
		switch way {
		case q.A:
			a = append(a, x)
		case q.B:
			b = append(b, x)
		default:
			continue
		}
		all = append(all, observed{value, way == q.B, float64(x.Outdoor), float64(x.Way.Moisture)})
	}
	adjust(all, f, q.Subject != Dryness)
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
		matters := ranges[f]
		v.Small = math.Abs(v.Difference) < math.Max(matters.matters, matters.share*math.Min(v.MedianA, v.MedianB))
		for _, c := range confounds(q, f, a, b) {
			v.Mixed = v.Mixed || c.Whole && c.Trait != ByTime && c.Trait != ByLoad // told, and no answer taken away
		}
	}
	return v
}

// observed is one burn in a comparison.
type observed struct {
	value             float64
	b                 bool
	outdoor, moisture float64
}

// hair is added under the logarithm, so that nought has one.
const hair = 0.1

// adjust takes out of the values what the weather and the wood make, by least squares of
//
//	ln(value) = c + d·(way) + e·(outdoor) + f·(moisture)
//
// where there are burns enough for it. The ways keep their difference d. By the logarithm a
// figure that cannot be under nought does not come under it; what has a top stays under
// that as well. Marks of an eye are left as they are: three steps have no logarithm.
func adjust(all []observed, figure Figure, byMoisture bool) {
	columns := 3
	if byMoisture {
		columns = 4
	}
	n := len(all)
	if n < 4*columns || figure == Cap || figure == Glass {
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
		y.SetVec(i, math.Log(o.value+hair))
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
	can := ranges[figure]
	for i := range all {
		by := fit.AtVec(2) * (all[i].outdoor - outdoor)
		if byMoisture {
			by += fit.AtVec(3) * (100*all[i].moisture - moisture)
		}
		all[i].value = math.Max(can.least, math.Min(can.most, (all[i].value+hair)*math.Exp(-by)-hair))
	}
}

// Median is the middle of values, or the mean of the two about it; of none it is 0.
func Median(values []float64) float64 {
	s := values
	if !slices.IsSorted(s) {
		s = slices.Clone(values)
		slices.Sort(s)
	}
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
	if len(b) < len(a) {
		a, b = b, a // the smaller is drawn: it is the same difference
	}
	seen := math.Abs(statistic(b) - statistic(a))
	const nothing = 1e-12
	as := 0
	// Sorted once, both groups of every division come out sorted: a median of many burns would
	// otherwise take most of the time.
	all := slices.Concat(a, b)
	slices.Sort(all)
	x, y := make([]float64, 0, len(all)), make([]float64, 0, len(all))
	differs := func(first []bool) bool {
		x, y = x[:0], y[:0]
		for i, v := range all {
			if first[i] {
				x = append(x, v)
			} else {
				y = append(y, v)
			}
		}
		return math.Abs(statistic(y)-statistic(x)) >= seen-nothing
	}
	// Of few burns all ways to divide them are tried: then nothing is left to chance.
	if divisions(len(all), len(a)) <= shuffles*3 {
		n := 0
		divide(len(all), len(a), func(first []bool) {
			n++
			if differs(first) {
				as++
			}
		})
		return float64(as) / float64(n)
	}
	r := rand.New(rand.NewPCG(35, 1))
	first, order := make([]bool, len(all)), make([]int, len(all))
	for i := range order {
		order[i] = i
	}
	for range shuffles {
		for i := range len(a) { // only who is in the first group is drawn
			j := i + r.IntN(len(order)-i)
			order[i], order[j] = order[j], order[i]
			first[order[i]] = true
		}
		if differs(first) {
			as++
		}
		clear(first)
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
	a, b = sorted(a), sorted(b)
	differences := resampled(draws, func(again func([]float64) []float64) float64 { return statistic(again(b)) - statistic(again(a)) })
	slices.Sort(differences)
	at := func(share float64) float64 { return differences[int(share*float64(len(differences)-1))] }
	return at(aside), at(1 - aside)
}

// Spread is the standard error of a statistic, by drawing again.
func Spread(values []float64, statistic func([]float64) float64, times int) float64 {
	values = sorted(values)
	all := resampled(times, func(again func([]float64) []float64) float64 { return statistic(again(values)) })
	mean, sum := Mean(all), 0.0
	for _, v := range all {
		sum += (v - mean) * (v - mean)
	}
	return math.Sqrt(sum / float64(len(all)-1))
}

func sorted(values []float64) []float64 {
	s := slices.Clone(values)
	slices.Sort(s)
	return s
}

// resampled is what one makes of values that are drawn again, so many times. What is drawn of
// sorted values comes out sorted: it is counted how often each is drawn, so that a median of it
// need not sort.
func resampled(times int, one func(again func([]float64) []float64) float64) []float64 {
	r := rand.New(rand.NewPCG(93, 1))
	var often []int
	var out []float64 // what was drawn last
	again := func(values []float64) []float64 {
		often, out = append(often[:0], make([]int, len(values))...), out[:0]
		for range values {
			often[r.IntN(len(values))]++
		}
		for i, n := range often {
			for range n {
				out = append(out, values[i])
			}
		}
		return out
	}
	results := make([]float64, times)
	for i := range results {
		results[i] = one(again)
	}
	return results
}
