package season

import (
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"smolder/internal/core/drying"
	"smolder/internal/core/units"
)

// Whether the wood lasts is asked of many winters: each as cold as one may be,
// in a house that loses as much as this one may, with piles as large and as soon
// dry as these may be. What share of them the wood outlasts is the chance that it
// lasts.

// About is a figure and how far off it may be, as the standard deviation of its
// logarithm.
type About struct{ Middle, Doubt float64 }

// A Pile is wood that the rest of the season may burn.
type Pile struct {
	Name   string
	Energy About         // J, net
	Ready  time.Time     // zero or past: it is dry
	Doubt  time.Duration // standard deviation of Ready
}

// A Use is what a household asks of its wood.
type Use struct {
	Loss       About         // W/K, of the space it heats
	Base       units.Celsius // outdoor temperature from which it heats; [Base] where nobody knows
	Share      About         // of that heat that comes from wood, by what was burnt lately
	Efficiency About         // of the stove
}

// How single winters are off the usual, K, as standard deviations; the spread of
// days within a month, that makes some of a mild month cold (WMO normals 1991 to
// 2020 of the temperate north: a winter's mean 1.0 to 1.8, a month's beside it
// 1.2 to 2.2, days 2.5 to 4).
const (
	winterDoubt = 1.3
	monthDoubt  = 1.6
	daysApart   = 3.2
)

// winters is how many are asked. They are the same at every asking, so that two
// answers differ by what was changed and by nothing else.
const winters = 400

// A Week is what is left of all wood at its end, J.
type Week struct {
	At                time.Time
	Low, Middle, High float64 // four out of five winters
}

// An Outlook is whether the wood lasts.
type Outlook struct {
	Lasts   float64      // share of the winters that it outlasts
	Needed  [3]float64   // J in the wood, to the end: low, middle, high
	Left    float64      // J, now, of all piles
	RunsOut [3]time.Time // early, middle, late, of the winters it does not outlast; zero: there is none
	Weeks   []Week
	Half    time.Time // by when half of what a usual rest of the season asks for is asked
}

// MostWeeks is as far as an outlook goes.
const MostWeeks = 80

const week = 7 * 24 * time.Hour

// Lasts compares piles with what is asked of them from now to the end of the
// season. Wood is burnt only when it is dry: a pile that becomes ready in March
// does not warm January.
func (u Use) Lasts(piles []Pile, c drying.Climate, now, end time.Time) Outlook {
	base := u.Base
	if base == 0 {
		base = Base
	}
	n := 0
	if end.After(now) {
		n = min(MostWeeks, int(math.Ceil(end.Sub(now).Hours()/week.Hours())))
	}
	end = now.Add(min(max(0, end.Sub(now)), MostWeeks*week))
	o := Outlook{Weeks: make([]Week, n)}
	for _, p := range piles {
		o.Left += p.Energy.Middle
	}
	left, needed := make([][]float64, n), make([]float64, 0, winters)
	var out []time.Time
	for w := range winters {
		r := rand.New(rand.NewPCG(uint64(w), 1)) //nolint:gosec // the same winters at every asking
		asked := winter(r, u, base, c, now, end, n)
		dry, from := stock(r, piles)
		total, gone := 0.0, time.Time{}
		for i, need := range asked {
			at := now.Add(time.Duration(i) * week)
			total += need
			if missing := burn(dry, from, need, at); missing > 0 && gone.IsZero() {
				gone = at.Add(time.Duration((1 - missing/need) * float64(week)))
			}
			left[i] = append(left[i], sum(dry))
		}
		needed = append(needed, total)
		if !gone.IsZero() {
			out = append(out, gone)
		}
	}
	o.Lasts = 1 - float64(len(out))/winters
	o.Needed = spread(needed)
	for i := range o.Weeks {
		s := spread(left[i])
		at := now.Add(time.Duration(i+1) * week)
		if at.After(end) {
			at = end
		}
		o.Weeks[i] = Week{at, s[0], s[1], s[2]}
	}
	if len(out) > 0 {
		slices.SortFunc(out, time.Time.Compare)
		o.RunsOut = [3]time.Time{out[len(out)/10], out[len(out)/2], out[len(out)*9/10]}
	}
	o.Half = u.half(base, c, now, end, n)
	return o
}

// winter is what one winter asks of the wood, week by week, J:
//
//	loss (W/K) · share from wood ÷ efficiency · seconds · degrees under the base
//
// What is not known of the house is drawn once and holds all winter. The weather is a
// winter that is cold or mild as a whole, and months that are so beside it: were every
// week drawn on its own, cold and mild ones would cancel out and no winter be hard.
func winter(r *rand.Rand, u Use, base units.Celsius, c drying.Climate, now, end time.Time, n int) []float64 {
	factor := u.Loss.draw(r) * u.Share.draw(r) / math.Max(0.05, u.Efficiency.draw(r))
	whole := winterDoubt * r.NormFloat64()
	var months [12]float64
	for i := range months {
		months[i] = whole + monthDoubt*r.NormFloat64()
	}
	out := make([]float64, n)
	for i := range out {
		at := now.Add(time.Duration(i) * week)
		days := math.Min(7, end.Sub(at).Hours()/24)
		middle := at.Add(time.Duration(days * 12 * float64(time.Hour)))
		air := usual(c, middle) + months[middle.UTC().Month()-1]
		out[i] = factor * 86400 * days * cold(float64(base), air)
	}
	return out
}

// half is when half of a usual rest of the season is behind.
func (u Use) half(base units.Celsius, c drying.Climate, now, end time.Time, n int) time.Time {
	asked, whole := make([]float64, n), 0.0
	for i := range asked {
		at := now.Add(time.Duration(i) * week)
		asked[i] = math.Min(7, end.Sub(at).Hours()/24) * cold(float64(base), usual(c, at.Add(week/2)))
		whole += asked[i]
	}
	for i, behind := 0, 0.0; i < n; i++ {
		if behind+asked[i] >= whole/2 && asked[i] > 0 {
			return now.Add(time.Duration((float64(i) + (whole/2-behind)/asked[i]) * float64(week)))
		}
		behind += asked[i]
	}
	return end
}

// usual is the mean temperature at a moment: a straight line between the middles
// of months, which stand a little further out than their means, so that a month
// still has its mean.
func usual(c drying.Climate, at time.Time) float64 {
	at = at.UTC()
	days := float64(time.Date(at.Year(), at.Month()+1, 0, 0, 0, 0, 0, time.UTC).Day())
	along := (float64(at.Day())-0.5)/days - 0.5
	m, next := int(at.Month())-1, 1
	if along < 0 {
		along, next = -along, 11
	}
	mean := func(i int) float64 { return float64(c.Months[(m+i)%12].Air) }
	middle := func(i int) float64 { return mean(i) + (2*mean(i)-mean(i+11)-mean(i+1))/8 }
	return middle(0)*(1-along) + middle(next)*along
}

// cold is the mean of how far days lie below a base (K), that lie about a mean as
// days do: E[max(0, base − x)] of a normal x, so that a month whose mean is above the base
// still has days on which somebody lights.
func cold(base, mean float64) float64 {
	z := (base - mean) / daysApart
	return (base-mean)*math.Erfc(-z/math.Sqrt2)/2 + daysApart*math.Exp(-z*z/2)/math.Sqrt(2*math.Pi)
}

// draw is one of what a figure may be.
func (a About) draw(r *rand.Rand) float64 { return a.Middle * math.Exp(a.Doubt*r.NormFloat64()) }

// stock is what there is in one winter of each pile, and from when.
func stock(r *rand.Rand, piles []Pile) (left []float64, from []time.Time) {
	left, from = make([]float64, len(piles)), make([]time.Time, len(piles))
	for i, p := range piles {
		left[i] = math.Max(0, p.Energy.draw(r))
		late := time.Duration(r.NormFloat64() * float64(p.Doubt))
		if from[i] = p.Ready; !p.Ready.IsZero() {
			from[i] = p.Ready.Add(late)
		}
	}
	return left, from
}

// burn takes what is needed from the piles that are dry, in their order, and tells
// what is missing. The order does not matter for whether it lasts: what is not dry is left
// for later whichever is burnt first.
func burn(left []float64, from []time.Time, need float64, at time.Time) (missing float64) {
	for i := range left {
		if from[i].After(at) {
			continue
		}
		taken := math.Min(need, left[i])
		left[i] -= taken
		need -= taken
	}
	return need
}

func sum(xs []float64) (s float64) {
	for _, x := range xs {
		s += x
	}
	return s
}

// spread is the range that four out of five lie in, and the middle; xs are sorted
// on the way.
func spread(xs []float64) [3]float64 {
	slices.Sort(xs)
	return [3]float64{xs[len(xs)/10], xs[len(xs)/2], xs[len(xs)*9/10]}
}
