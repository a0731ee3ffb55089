package say

import (
	"math"
	"strings"
	"time"

	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
)

// Fixed says what of a wish is done in its owner's own way; empty: nothing.
func Fixed(w wish.Wish, loc lang.Locale) string {
	f, air, parts := w.Fixed, stove.Control{}, []string(nil)
	air, _ = w.Stove.MainAir()
	named := func(id int64) string {
		for _, p := range w.Woods() {
			if id != 0 && p.ID == id {
				return loc.F(" of %s", p.Stack.Name)
			}
		}
		return ""
	}
	add := func(is bool, part string) {
		if is {
			parts = append(parts, part)
		}
	}
	add(f.First > 0, loc.F("%s%s to light", Pieces(f.First, loc), named(f.FirstOf)))
	add(f.First == 0 && named(f.FirstOf) != "", loc.F("lit with wood%s", named(f.FirstOf)))
	add(f.Main > 0, loc.F("%s%s on the coals", Pieces(f.Main, loc), named(f.MainOf)))
	add(f.Main == wish.NoLoad, loc.T("nothing on the coals"))
	add(f.Main == 0 && named(f.MainOf) != "", loc.F("wood%s on the coals", named(f.MainOf)))
	add(f.Each == 1, loc.T("a log at a time"))
	add(f.Each > 1, loc.F("%s at a time", Pieces(f.Each, loc)))
	add(f.BySize, loc.T("fed by size to light"))
	add(f.Direction != "", loc.T(Direction(f.Direction)))
	add(f.Brisk > 0, loc.F("%s at %s to char", loc.Mid(air.Name), Mark(air.Scale, f.Brisk, loc)))
	add(f.Final > 0, loc.F("left at %s", Mark(air.Scale, f.Final, loc)))
	add(f.Most > 0, loc.F("at most %s in all", loc.Mass(f.Most)))
	if len(parts) == 0 {
		return ""
	}
	return loc.F("In your own way: %s.", strings.Join(parts, ", "))
}

// FixedCost says what the owner's own way costs, or spares, against the best of which nothing is
// fixed.
func FixedCost(p, free plan.Plan, loc lang.Locale) string {
	parts := comings(p.Coming().Against(free.Coming()), loc)
	if d := (free.Trust.Safe - p.Trust.Safe); free.Trust.Of > 0 && d >= worseIn {
		parts = append(parts, loc.F("too hot, or smoking into the room, in %d more of %d stoves", d, free.Trust.Of))
	}
	if len(parts) == 0 {
		return loc.T("Against the best that was found with nothing fixed it makes no difference that you would notice.")
	}
	return loc.F("Against the best that was found with nothing fixed: %s.", strings.Join(parts, ", "))
}

// Seldom says that a plan bears being looked at seldom; empty: it was not asked to.
func Seldom(w wish.Wish, loc lang.Locale) string {
	if !w.Seldom {
		return ""
	}
	return loc.F("Made for looks %s apart: each turn-down may come that much after its sign, and it still burns clean and safe as often as is said below. Stay for the lighting and the first minutes of each load.",
		loc.Duration(wish.LooksEvery))
}

// worseIn is in how many more of the stoves like this one a plan must be unsafe to be called so.
const worseIn = 2

// How far a room may come over the wanted band, K, before that is said; and before it is said of
// a fire that leaves it cold by the end.
const tooWarm, farTooWarm = 1.0, 3.0

// TooWarm says that the room comes out warmer than is wanted, and what would do; empty: it does
// not.
func TooWarm(p plan.Plan, loc lang.Locale) string {
	warmest, at := p.Warmest()
	over := warmest - p.Wish.High
	// A fire that is to carry a night is warm at its beginning: less of it would be cold at its end.
	if over < tooWarm || over < farTooWarm && p.EndRoom() < p.Wish.Low {
		return ""
	}
	return loc.F("Too warm: it comes to about %s after %s, where %s is wanted. A smaller fire, a later one, or none would do; or small fires with pauses, as the day's fires have them.",
		loc.RoomTemperature(units.Celsius(math.Round(float64(warmest)))), loc.Duration(at.Round(10*time.Minute)), loc.RoomTemperature(p.Wish.High))
}

// LetOut says that a fire for a night or an absence gives little by its end; empty: it does.
func LetOut(p plan.Plan, loc lang.Locale) string {
	without, is := p.LetOut()
	if !is {
		return ""
	}
	return loc.F("Let it go out: by the end this fire leaves the room at about %s, and without one it is at %s; there are no coals by then either way. Lay the next fire now, to be lit then.",
		loc.RoomTemperature(p.EndRoom()), loc.RoomTemperature(without))
}
