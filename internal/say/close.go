package say

import (
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/house"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// What is said of a fire in a boat, a van or a hut.
const (
	Aired    lang.Message = "Confirmed before lighting: the opening for fresh air open and free, the CO alarm's display at nothing."
	NotAired lang.Message = "Fresh air first: open its opening, see that nothing stands before it, look at the CO alarm's display, and tick both. Nothing is started yet."
)

// Close is what stands beside a fire in a small space while it burns.
func Close(b burn.Burn, loc lang.Locale) []string {
	out := []string{loc.T("The opening for fresh air stays open as long as it is in. Look at the CO display at every load.")}
	if !b.Stove.Unattended {
		out = append(out, loc.T("Nobody sleeps while it burns."))
	}
	return out
}

// CODisplay says what a reading of the alarm's display calls for; empty: nothing. Alarms
// sound at 30 ppm after two hours, at 50 after an hour and at 100 after ten minutes
// (EN 50291).
func CODisplay(ppm float64, loc lang.Locale) string {
	switch {
	case ppm >= 30:
		return loc.T("Carbon monoxide: everybody out now, the door left open behind you. Call the emergency number from outside. Do not adjust the stove first.")
	case ppm > 0:
		return loc.F("The display shows %.0f ppm, and it should show nothing. Open a hatch or window and the vent, leave the air of the "+
			"stove open, and look again in five minutes. "+
			"If it rises, or anybody has a headache: everybody out.", ppm)
	}
	return ""
}

// What a soaked set of clothes holds, and what a cabin's air is taken for.
const (
	soaked                        = 2.0 // kg of water, jacket, trousers and socks; 1 to 4
	cabin, outside                = units.Fraction(0.7), units.Fraction(0.85)
	longestDry                    = 72 * time.Hour
	leastAir       units.Kilogram = 0.02 // kg an hour, under which nothing dries
)

// WetClothes says what drying clothes by a small stove takes: how long a soaked set holds
// out against the air that the fire draws. Empty of a fire that is not in a small space.
func WetClothes(p plan.Plan, loc lang.Locale) string {
	w := p.Wish
	if !w.Confined() || p.Air <= 0 || w.For <= 0 {
		return ""
	}
	out := loc.T("Wet clothes hang above and beside, out of the clearance on the plate, never over the stove or its pipe, and never with nobody there.")
	damp := w.Humidity
	if damp <= 0 {
		damp = outside
	}
	hourly := house.DriedBy(p.Air/w.For.Hours(), (w.Low+w.High)/2, cabin, w.Outdoor, damp)
	if hourly < leastAir {
		return out + loc.T(" The air outside is too damp to dry much today.")
	}
	takes := min(longestDry, time.Duration(soaked/float64(hourly)*float64(time.Hour)))
	return out + loc.F(" A soaked set holds about %s of water; with the air that this fire draws it takes about %s, with the vent open.", loc.Mass(soaked),
		loc.Duration(takes.Round(time.Hour)))
}
