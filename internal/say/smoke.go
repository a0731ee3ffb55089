package say

import (
	"math"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// smokeKnown is within which factor the fire model knows the smoke of a stove of which
// nobody has measured any, in eight cases of ten: what is left between it and published
// figures, and what stoves of one make differ by (docs/model.md): what the belief says of such
// stoves before anything is known (TestSmokeAndMonoxideAreKnownAsWellAsIsSaid).
const smokeKnown = 2.2

// Smoke is what a burn makes for each kilogram of dry wood, as it is known: a range.
func Smoke(perKg float64, loc lang.Locale) string { return smokeRange(perKg) + loc.T(" g per kg") }

// SmokeMass is what it makes in all.
func SmokeMass(grams float64, loc lang.Locale) string {
	return loc.T("about ") + smokeRange(grams) + loc.T(" g")
}

func smokeRange(x float64) string {
	if !(x > 0) {
		return "0"
	}
	low, high := asKnown(x/smokeKnown), asKnown(x*smokeKnown)
	if low == high {
		return low
	}
	return low + "–" + high
}

// asKnown is a number in as many figures as such a range has: one, two from 10 on.
func asKnown(x float64) string {
	switch {
	case x < 1:
		return units.Number(x, 1)
	case x < 10:
		return units.Number(x, 0)
	case x < 100:
		return units.Number(math.Round(x), 0)
	}
	return units.Number(10*math.Round(x/10), 0)
}

// inUse is what stoves of a family make as people use them, g/kg: EPA AP-42 1.10 for plain,
// non-catalytic and catalytic ones; the others by their kin.
var inUse = map[stove.Family]float64{stove.Plain: 15, stove.MultiFuel: 15, stove.Tiny: 15, stove.SecondaryAir: 7, stove.Catalytic: 8, stove.Refractory: 4}

// AgainstUse says how much that is against what such stoves make as they are used.
func AgainstUse(perKg float64, f stove.Family, loc lang.Locale) string {
	usual, ok := inUse[f]
	if !ok {
		usual = 10
	}
	share := perKg / usual
	words := ""
	switch {
	case share < 0.15:
		words = loc.T("a tenth of")
	case share < 0.29:
		words = loc.T("a quarter of")
	case share < 0.42:
		words = loc.T("a third of")
	case share < 0.6:
		words = loc.T("half of")
	case share < 0.85:
		words = loc.T("two thirds of")
	case share < 1.25:
		words = loc.T("as much as")
	case share < 1.75:
		words = loc.T("half as much again as")
	case share < 2.6:
		words = loc.T("twice")
	default:
		words = loc.Number(share, 0) + loc.T(" times")
	}
	return loc.T("about ") + words + loc.T(" what such stoves make as they are used")
}
