package wood

import (
	"math"
	"time"

	"smolder/internal/core/units"
)

// Without a meter, how dry a stack is follows from how long it has lain: green
// wood of its kind, dried day by day in a usual year. That leaves a spread,
// which stays with the stack until somebody reads a meter.

// An Estimate is moisture on dry basis with the range that four out of five
// stacks lie in.
type Estimate struct{ Low, Middle, High units.Fraction }

// Spread is how far off the middle may be on either side.
func (e Estimate) Spread() units.Fraction { return (e.High - e.Low) / 2 }

// usualGreen is the moisture of fresh wood for kinds that are not in greens.
const usualGreen units.Fraction = 0.70

// greens is the moisture of fresh wood on dry basis, sapwood and heartwood
// together. Source: Wood Handbook table 4-1, rounded. Offcuts and pressed logs
// come dry.
var greens = map[string]units.Fraction{
	"ash": 0.45, "hickory": 0.60, "locust": 0.45, "beech": 0.65, "white-oak": 0.70, "oak": 0.75, "sugar-maple": 0.68, "maple": 0.80, "cherry": 0.60,
	"birch": 0.73, "paper-birch": 0.80, "larch": 0.60, "alder": 0.97, "douglas-fir": 0.60, "hemlock": 0.95, "lodgepole-pine": 0.80, "spruce": 0.85,
	"pine": 0.95, "aspen": 1.00, "yellow-poplar": 0.95, "poplar": 1.40, "softwood-offcuts": 0.18, "pressed-logs": pressedDry,
}

const (
	pressedDry   units.Fraction = 0.08 // pressed logs, which stay in their wrap
	greenDoubt                  = 0.15 // of fresh wood, by tree and season of felling, as a share
	coverDoubt                  = 0.30 // of ln k where it is not known how a stack lies
	leastSpread  units.Fraction = 0.02 // of air and meter, however long it has lain
	longestLying                = 20 * 365
)

// usualYear is a month's mean of the air at a stack in the temperate north, °C
// and relative humidity: the middle of climate normals between 45 and 58° north.
var usualYear = [12]Day{
	{1, 0.87}, {2, 0.84}, {5, 0.78}, {8, 0.73}, {13, 0.72}, {16, 0.73}, {18, 0.73}, {17, 0.75}, {14, 0.79}, {9, 0.84}, {5, 0.87}, {2, 0.88},
}

// Lain estimates how dry split wood is that has lain since a day until now.
// thickness is of a usual piece; cover may be empty for not known. A day to come
// counts as today; more than twenty years count as twenty.
func Lain(sp Species, thickness units.Metre, cover Cover, since, now time.Time) Estimate {
	if sp.Key == "pressed-logs" {
		return Estimate{pressedDry - leastSpread, pressedDry, pressedDry + leastSpread}
	}
	known := cover
	doubt := rateDoubt
	if known == "" {
		known, doubt = Top, math.Hypot(rateDoubt, coverDoubt)
	}
	green, there := greens[sp.Key]
	if !there {
		green = usualGreen
	}
	rate := DryingRate(thickness, false, known, 0.5)
	const tenth = 1.2816 // of the normal distribution, as in [Belief.ReadyIn]
	e := Estimate{
		Low:    dryYears(green*(1-greenDoubt), rate*math.Exp(tenth*doubt), since, now),
		Middle: dryYears(green, rate, since, now),
		High:   dryYears(green*(1+greenDoubt), rate*math.Exp(-tenth*doubt), since, now),
	}
	e.Low, e.High = min(e.Low, e.Middle-leastSpread), max(e.High, e.Middle+leastSpread)
	return e
}

// Course is what [Lain] would say on each of n days from since to now, evenly.
func Course(sp Species, thickness units.Metre, cover Cover, since, now time.Time, n int) []Estimate {
	out := make([]Estimate, n)
	for i := range out {
		at := since.Add(time.Duration(float64(now.Sub(since)) * float64(i) / float64(max(1, n-1))))
		out[i] = Lain(sp, thickness, cover, since, at)
	}
	return out
}

// dryYears dries wood through usual years.
func dryYears(u units.Fraction, rate float64, since, now time.Time) units.Fraction {
	days := min(longestLying, int(now.Sub(since).Hours()/24))
	for day := range max(0, days) {
		u = DryDay(u, rate, usualYear[since.AddDate(0, 0, day).Month()-1])
	}
	return u
}

// usualPiece is a common split: a third of a metre long and this thick, m.
const usualLength, usualSide = 0.33, 0.085

// UsualPiece is the mass and length of a usual split of a kind that is no longer
// than longest; shorter ones are split finer. Zero: as they are usually cut.
func UsualPiece(sp Species, u units.Fraction, longest units.Metre) (units.Kilogram, units.Metre) {
	length := units.Metre(usualLength)
	if longest > 0 {
		length = min(length, units.Metre(math.Floor(float64(longest)*100)/100))
	}
	side := usualSide * float64(length) / usualLength
	mass := sp.Gravity * 1000 * (1 + float64(u)) * side * side * float64(length)
	return units.Kilogram(math.Round(mass*10) / 10), length
}

// UsualAmount is what is taken for a stack that nobody has measured: two cubic
// metres, stacked.
func UsualAmount(sp Species, u units.Fraction) units.Kilogram {
	const stacked = 2000 // L
	return units.Kilogram(math.Round(stacked * SolidShare * sp.Gravity * (1 + float64(u))))
}
