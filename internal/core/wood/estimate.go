package wood

import (
	"math"
	"slices"
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

// Green is the moisture of fresh wood of a kind.
func Green(sp Species) units.Fraction {
	if green, there := greens[sp.Key]; there {
		return green
	}
	return usualGreen
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
	return Course(sp, thickness, cover, since, now, 2)[1]
}

// Course is what [Lain] would say at n moments from since to now, evenly; n is at
// least 2.
func Course(sp Species, thickness units.Metre, cover Cover, since, now time.Time, n int) []Estimate {
	if sp.Key == "pressed-logs" {
		return slices.Repeat([]Estimate{{pressedDry - leastSpread, pressedDry, pressedDry + leastSpread}}, n)
	}
	known, doubt := cover, rateDoubt
	if known == "" {
		known, doubt = Top, math.Hypot(rateDoubt, coverDoubt)
	}
	green := Green(sp)
	const tenth = 1.2816 // of the normal distribution, as in [Belief.ReadyIn]
	rate := DryingRate(thickness, false, known, 0.5)
	quick, slow := rate*math.Exp(tenth*doubt), rate*math.Exp(-tenth*doubt)
	e := Estimate{Low: green * (1 - greenDoubt), Middle: green, High: green * (1 + greenDoubt)}
	days := max(0, min(longestLying, int(now.Sub(since).Hours()/24)))
	out := make([]Estimate, 0, n)
	for day := 0; len(out) < n; day++ {
		for len(out) < n && day >= days*len(out)/(n-1) {
			at := e
			at.Low, at.High = min(at.Low, at.Middle-leastSpread), max(at.High, at.Middle+leastSpread)
			out = append(out, at)
		}
		air := usualYear[since.AddDate(0, 0, day).Month()-1]
		e = Estimate{DryDay(e.Low, quick, air), DryDay(e.Middle, rate, air), DryDay(e.High, slow, air)}
	}
	return out
}

// A common split is a third of a metre long and this thick, m. Of a load that is
// known it is at most a quarter: whoever has a small stove splits finer.
const (
	usualLength, usualSide = 0.33, 0.085
	piecesALoad            = 4
	leastPiece             = 0.1 // kg
)

// A Fit is what the stove takes for which wood is split; zero: not known.
type Fit struct {
	Longest units.Metre    // piece that fits
	Load    units.Kilogram // largest
}

// UsualPiece is the mass and length of a usual split of a kind that fits; a
// shorter one is split finer.
func UsualPiece(sp Species, u units.Fraction, fit Fit) (units.Kilogram, units.Metre) {
	length := units.Metre(usualLength)
	if fit.Longest > 0 {
		length = min(length, units.Metre(math.Floor(float64(fit.Longest)*100)/100))
	}
	return usualMass(sp, u, length, fit), length
}

// usualMass is the mass of a usual split of a length, kg to a tenth.
func usualMass(sp Species, u units.Fraction, length units.Metre, fit Fit) units.Kilogram {
	side := usualSide * min(1, float64(length)/usualLength)
	mass := units.Kilogram(sp.Gravity * 1000 * (1 + float64(u)) * side * side * float64(length))
	if fit.Load > 0 {
		mass = min(mass, fit.Load/piecesALoad)
	}
	return max(leastPiece, units.Kilogram(math.Floor(float64(mass)*10+1e-9)/10))
}

// Assume fills in what is not known of a stack with what is usual for its kind,
// and notes it.
func (s Stack) Assume(fit Fit) Stack {
	s.Assumed = slices.Clone(s.Assumed)
	take := func(field string) {
		if !s.Takes(field) {
			s.Assumed = append(s.Assumed, field)
		}
	}
	if s.PieceLength == 0 {
		_, s.PieceLength = UsualPiece(s.Species, s.Moisture(), fit)
		take("piece-length")
	}
	if s.PieceMass == 0 {
		s.PieceMass = usualMass(s.Species, s.Moisture(), s.PieceLength, fit)
		take("piece-mass")
	}
	if s.Mass == 0 {
		s.Mass = UsualAmount(s.Species, s.Moisture())
		take("mass")
	}
	return s
}

// AssumeAs fills in what is still not known of a stack as it was filled in before,
// so that telling something else changes nothing of it. Without a new count the
// amount stays: a stack that is used up is not one of unknown size.
func (s Stack) AssumeAs(was Stack, counted bool, fit Fit) Stack {
	if s.PieceLength == 0 && was.Takes("piece-length") {
		s.PieceLength, s.Assumed = was.PieceLength, append(s.Assumed, "piece-length")
	}
	if s.PieceMass == 0 && was.Takes("piece-mass") {
		s.PieceMass, s.Assumed = was.PieceMass, append(s.Assumed, "piece-mass")
	}
	s = s.Assume(fit)
	if counted {
		return s
	}
	if s.Mass = was.Mass; !was.Takes("mass") {
		s.Assumed = slices.DeleteFunc(s.Assumed, func(field string) bool { return field == "mass" })
	}
	return s
}

// UsualAmount is what is taken for a stack that nobody has measured: two cubic
// metres, stacked.
func UsualAmount(sp Species, u units.Fraction) units.Kilogram {
	const stacked = 2000 // L
	return units.Kilogram(math.Round(stacked * SolidShare * sp.Gravity * (1 + float64(u))))
}
