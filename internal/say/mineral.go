package say

import (
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// MineralIs says that nothing of a burn of mineral fuel is simulated.
const MineralIs lang.Message = "Mineral fuel is recorded and not simulated: its manual says how it burns. It makes carbon monoxide for hours; its air is " +
	"never shut while it glows."

// Mineral says what to do and see to while mineral fuel burns: by the log, and by general
// practice. now is the moment it is said at.
func Mineral(b burn.Burn, now time.Time, loc lang.Locale) []string {
	m, there := b.Banked()
	if !there {
		return nil
	}
	low, high := burn.BedFor(b.Stove.Height)
	out := []string{loc.T(MineralIs)}
	if m.WoodStove {
		out = append([]string{loc.T("This stove is described as one for wood alone. Mineral fuel in it burns its grate, its baffle and its flue, and is " +
			"against its manual: let it burn out, with the air open, and put no more on.")}, out...)
	}
	if m.WithWood > 0 {
		out = append(out, loc.F("%s of wood went on after it: never two fuels at once, unless the manual allows that very thing.",
			units.UpperFirst(loc.Mass(m.WithWood))))
	}
	last := m.Refuels[len(m.Refuels)-1]
	word := loc.F("Bare grate, air from below, a bed of %s to %s. Riddle little and often, until it glows below, and not until it falls through.",
		loc.Size(low), loc.Size(high))
	if n := len(m.Beds); n > 0 && m.Beds[n-1] < low {
		word += loc.F(" It was %s deep: that is thin; feed it before it is riddled.", loc.Size(m.Beds[n-1]))
	}
	out = append(out, word)
	refuel := loc.F("Put on last %s ago", loc.Duration(now.Sub(last).Round(time.Minute)))
	if m.Every > 0 {
		refuel += loc.F("; so far every %s", loc.Duration(m.Every.Round(5*time.Minute)))
	}
	return append(out, refuel+loc.T(". Refuel onto glowing fuel and leave some of it seen; open the air first, and stay until blue flames show: gas ")+
		loc.T("that gathers unlit may burst the door open."))
}

// MineralStack is what to know before mineral fuel is burnt from a stack.
func MineralStack(piece units.Kilogram, loc lang.Locale) []string {
	size := loc.T("pieces of a middling size: what most room heaters are made for")
	switch {
	case piece < 0.035:
		size = loc.T("small pieces: they light soon and pack close, so that their bed wants more air and more riddling")
	case piece > 0.09:
		size = loc.T("large pieces: they light slowly and want a deep bed; not for a small firebox")
	}
	return []string{
		loc.F("Of %s each, these are %s.", loc.Piece(piece), size),
		loc.T("Only in a stove whose manual allows mineral fuel, and this kind of it. Never in a stove for wood alone."),
		loc.T("Never together with wood, unless the manual allows that very thing. Never in an open fireplace by its name alone: where a smokeless zone " +
			"is, only what is allowed there."),
		loc.T("It makes carbon monoxide for hours after the flames are gone, more when the air is shut: a working CO alarm, a swept flue, and air that " +
			"is never closed while it glows. Its dust and its fumes are bad for lungs."),
		loc.T(MineralIs),
	}
}
