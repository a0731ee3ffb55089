package say

import (
	"math"
	"time"

	"smolder/internal/core/day"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
)

// worthSaying is how far a room must be outside its band in a day, K·h, to be
// said.
const worthSaying = 3

// Day says what a day comes to.
func Day(d day.Day, loc lang.Locale) []string {
	var out []string
	if d.Missed > 0 {
		out = append(out, loc.F("For about %s the room wants a load while nobody is there long enough to see one burn: it coasts.",
			loc.Duration(time.Duration(d.Missed)*d.Every)))
	}
	if d.Refused != nil {
		out = append(out, loc.T("A load was due and none could be planned: ")+units.LowerFirst(Refusal(d.Refused, loc).Why))
	}
	if d.Cold > worthSaying {
		out = append(out, loc.F("The room is too cold, as much as by %s: other heating, or more insulation, would give the rest.",
			aDegreeFor(d.Cold, 0, loc)))
	}
	if d.Hot > worthSaying {
		out = append(out, loc.F("It is too warm, as much as by %s: smaller fires further apart, or a window.", aDegreeFor(d.Hot, 0, loc)))
	}
	switch {
	case len(d.Windows) == 0 && d.Missed == 0:
		out = append(out, loc.T("No fire is needed: the room stays in its band by itself."))
	case len(out) == 0:
		out = append(out, loc.T("The room stays in its band."))
	}
	return out
}

// Window is what a window of a day begins with: "load on the coals".
func Window(w day.Window, loc lang.Locale) string {
	if w.Night {
		return loc.T("for the night, ") + loc.T(Starts.Short(w.Fire.Wish.Start))
	}
	return loc.T(Starts.Short(w.Fire.Wish.Start))
}

// An Advice is what to do now, and why.
type Advice struct{ Do, Why string }

var coalsLeft = map[wish.Start]lang.Message{
	wish.Cold:       "The stove is cold by now.",
	wish.FewCoals:   "There should be a handful of coals left.",
	wish.LayerCoals: "There should be a layer of coals left.",
	wish.GoodCoals:  "There should be a good bed of coals.",
}

var lightFrom = map[wish.Start]lang.Message{
	wish.Cold:       "Light a fire",
	wish.FewCoals:   "Restart on the coals, with small wood",
	wish.LayerCoals: "Restart on the coals, with small wood",
	wish.GoodCoals:  "Load on the coals",
}

// Advise says what to do now.
func Advise(a day.Advice, loc lang.Locale) Advice {
	outside := loc.Temperature(a.Outside)
	room := loc.RoomTemperature(units.Celsius(math.Round(float64(a.Room)*10) / 10))
	wanted := loc.RoomTemperature(a.Wanted)
	mild := ""
	if a.Mild {
		mild = loc.T(" It is mild: a small hot fire is enough, and cleaner than one that is held back.")
	}
	switch a.Do {
	case day.Never:
		return Advice{loc.T("No fire is needed"), loc.F("At %s outside the house holds itself.", outside)}
	case day.Holds:
		return Advice{loc.T("Nothing: the house holds"),
			loc.F("The room should be at %s and stay in its band for the next half day at %s outside.", room, outside)}
	case day.Wait:
		return Advice{loc.T("Nothing yet"), loc.F("The room should be at %s and hold for about %s at %s outside. %s",
			room, loc.Duration(a.Wait.Round(10*time.Minute)), outside, coalsLeft[a.Start])}
	case day.Light:
		return Advice{loc.T(lightFrom[a.Start]), loc.F("The room should be at %s, under the wanted %s. %s%s", room, wanted, coalsLeft[a.Start], mild)}
	}
	if !a.Weather {
		return Advice{loc.T("Look at the room first"), loc.F("Neither its temperature nor the weather is known here. Under %s it wants a fire.", wanted)}
	}
	return Advice{loc.T("Look at the room first"), loc.F("Nobody has logged a fire lately, so the room's temperature is not known. At %s outside it takes %s to hold %s.%s",
		outside, loc.Power(a.Needs), wanted, mild)}
}
