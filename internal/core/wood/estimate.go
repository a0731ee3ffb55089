package wood

import (
	"math"
	"slices"

	"smolder/internal/core/units"
)

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
	"pine": 0.95, "aspen": 1.00, "yellow-poplar": 0.95, "poplar": 1.40, "hornbeam": 0.60, "elm": 0.90, "scots-pine": 1.00,
	"eucalypt": 0.70, "red-gum": 0.65, "radiata-pine": 1.20, "fruit-wood": 0.65, "olive": 0.55, "holm-oak": 0.60, "walnut": 0.80, "sycamore": 0.70,
	"chestnut": 1.00, "lime": 1.00, "silver-fir": 1.10, "willow": 1.10, "softwood-offcuts": 0.18, "pressed-logs": pressedDry,
}

// Green is the moisture of fresh wood of a kind.
func Green(sp Species) units.Fraction {
	if green, there := greens[sp.Key]; there {
		return green
	}
	return usualGreen
}

// pressedDry is the moisture of pressed logs, which stay in their wrap: 8 to 10 %.
const pressedDry units.Fraction = 0.09

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
