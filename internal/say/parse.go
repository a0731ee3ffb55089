package say

import (
	"slices"
	"strings"

	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// parsed are the parts of what is said when something typed cannot be read: what was
// wanted, what is wrong with it, and what would do. The core and the pages have them in
// English; a test finds one that stands here in no language.
var parsed = []lang.Message{
	// what was wanted
	"temperature", "draft", "mass", "length", "volume", "flow", "fan flow", "power", "percentage", "moisture reading", "number of pieces",
	"heat loss", "floor area", "room volume", "wind", "share", "position", "position of this control", "amount of wood", "length of time",
	"time of the day", "time to begin", "time that somebody is there", "moment", "day", "number of minutes", "outdoor temperature",
	"room temperature", "wood temperature", "system of units", "heat", "reading of the CO display", "time", "price", "number of days",

	// what is wrong with it
	"it is too long", "it does not start with a number", "the number in it makes no sense", "the unit %q is not known here", "%s may be %s or %s",
	"what follows the first unit is not understood", "it must be between %s and %s", "it must be between 0 and 100 %",
	"it must be between 4 and 120 % (meters read water against dry wood; nothing in a stack is drier or wetter)",
	"it must be at least one and at most 100 000", "it is not a quantity", "it is not a smaller unit", "pieces are whole", "there are two",
	"nothing was typed", "a firebox has three sides", "it is beyond fully open, or below shut", "it has no such notch", "a share of the way was expected",
	"a gap was expected", "a number was expected", "it is long past", "a time was expected", "it is more than %.0f hours ahead",
	"hours and minutes were expected", "with am and pm the hours go from 1 to 12", "a day has hours from 0 to 23 and minutes to 59",
	"it must be between 10 minutes and 48 hours", "it is missing",
	"weeks, months or years were expected, or a month or day and its year", "that is still to come",
	"wood of more than %d years ago is as dry as its air", "a moment that has been was expected", "a date up to today was expected",
	"a day to come was expected", "up to 12 spans a day would do", "times of the day were expected", "it is less than half an hour away",
	"that is nothing", "that is more than any household has in one stack", "what one of them holds was expected, such as 60 L or 20 kg",
	"a volume was expected before solid, such as 3 m3 solid", "a mass, a volume, a number of pieces or the sides of a pile were expected",
	"a pile has a length, a height and a depth", "one height would do, or three: at the ends and in the middle",
	"a side of a pile is between nothing and 100 m",
	"how much higher one end stands was expected after the slope, such as 0.5 m", "a slope that rises as much as the row is long",
	"a heap has a length, a width and a height", "how many was expected first", "it lies between %s and %s", "choose one of the list",

	"it must be between %g and %g", "%s is no time of the day", "%q is no length",

	// what would do, where it is not figures alone
	"1.5 turns, open or shut", "4 mm, open or shut", "3/16 in, open or shut", "a third, half, right or 25%", "metric or imperial",
	"now, 16:00, tomorrow 06:30 or in 2 h", "18:30 or 6:30 pm", "8 h, 1 h 30 or 90 min", "18 months, 2 years or April 2025",
	"now, 5 min ago or 18:42", "all the time, until 22:30, or 06:30-08:00 and 16:00-22:30", "6 h or a later time", "today or %s", "tomorrow or %s", "a number from %g to %g", "5 pieces", "%s or %s",
	"800 kg, 2.5 m3 stacked, 1 cord, 3 rm, 4 x 1.5 x 0.33 m, 12 crates of 60 L or 300 pieces", "232 C or 450F", "12 Pa or 0.05 inwc",
	"6 kg or 12 lb", "6 m, 150 mm or 3/16 in", "150 mm, 12 cm or 6 in", "55 L or 2 ft3", "46 x 38 x 33 cm, or 55 L", "300 m3/h or 180 cfm", "180 W/K or 340 BTU/h·°F",
	"45 m2 or 480 sq ft", "120 m3 or 4200 ft3", "5 m/s or 12 mph",
}

// Own says in somebody's language what the core or an example has in English; anything that
// is none of [parsed] stays as it is.
func Own(text string, loc lang.Locale) string {
	if m := lang.Message(text); slices.Contains(parsed, m) {
		return loc.T(m)
	}
	return text
}

// Unread says why something typed cannot be read.
func Unread(e *units.ParseError, loc lang.Locale) string {
	if loc.Language() == nil {
		return e.Error()
	}
	if strings.TrimSpace(e.Input) == "" {
		return loc.F("missing: %s; %s would do", Own(e.What, loc), would(e, loc))
	}
	why := Own(e.Reason, loc)
	if len(e.Args) > 0 {
		why = loc.F(lang.Message(e.Reason), e.Args...)
	}
	return loc.F("%q is no %s: %s; %s would do", e.Shown(), Own(e.What, loc), why, would(e, loc))
}

// would says what would do.
func would(e *units.ParseError, loc lang.Locale) string {
	if len(e.TryArgs) == 0 {
		return Own(e.Try, loc)
	}
	return loc.F(lang.Message(e.Try), e.TryArgs...)
}
