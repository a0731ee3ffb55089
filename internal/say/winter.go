package say

import (
	"math"
	"time"

	"smolder/internal/core/season"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// Chance says a probability as people do.
func Chance(p float64, loc lang.Locale) string {
	switch n := int(math.Round(p * 10)); {
	case p >= 0.985:
		return loc.T("almost certainly")
	case p <= 0.015:
		return loc.T("almost certainly not")
	case p > 0.945:
		return loc.T("in nineteen winters of twenty")
	case p < 0.055:
		return loc.T("in one winter of twenty")
	case n == 1:
		return loc.T("in one winter of ten")
	default:
		return loc.T("in ") + small(n, loc) + loc.T(" winters of ten")
	}
}

// Lasts says whether the wood lasts.
func Lasts(o season.Outlook, end, now time.Time, loc lang.Locale) string {
	if len(o.Weeks) == 0 {
		return loc.T("The season is over: nothing more is asked of the wood.")
	}
	last := loc.T("to the end of ") + loc.Month(end.AddDate(0, 0, -1).In(now.Location()).Month())
	if o.Lasts >= 0.985 {
		return loc.T("The wood lasts ") + last + loc.T(", almost certainly.")
	}
	out := loc.F("The wood lasts %s %s.", last, Chance(o.Lasts, loc))
	if o.Lasts <= 0.015 {
		out = loc.T("The wood does not last ") + last + "."
	}
	if !o.RunsOut[1].IsZero() {
		out += loc.F(" Should it not, it is gone about %s", PartOfMonth(o.RunsOut[1].In(now.Location()), now, loc))
		if o.RunsOut[2].Sub(o.RunsOut[0]) > 20*24*time.Hour {
			out += loc.F(", between %s and %s", PartOfMonth(o.RunsOut[0].In(now.Location()), now, loc), PartOfMonth(o.RunsOut[2].In(now.Location()), now, loc))
		}
		out += "."
	}
	return out
}

// HalfWay is the check at midwinter: what of the winter lies ahead, and what of the wood is
// left of what there was when it began.
func HalfWay(half, now time.Time, ahead, left float64, loc lang.Locale) string {
	day := loc.Date(half.In(now.Location()), "2 January")
	if now.Before(half) {
		return loc.F("Half of a usual winter's heat is behind on %s. Until then more than half of the wood should be left; now it is %s, "+
			"with %s of the winter ahead.",
			day, loc.Percent(units.Fraction(left), 0), loc.Percent(units.Fraction(ahead), 0))
	}
	verdict := loc.T("the wood is behind: it goes faster than the winter")
	if left >= ahead {
		verdict = loc.T("the wood keeps up with it")
	}
	return loc.F("Half of a usual winter's heat was behind on %s. %s of the winter is ahead and %s of the wood is left: %s.", day,
		loc.Percent(units.Fraction(ahead), 0), loc.Percent(units.Fraction(left), 0), verdict)
}

// Better says how a change moves the chance.
func Better(before, after float64, loc lang.Locale) string {
	if math.Abs(after-before) < 0.015 {
		return loc.T("changes nothing")
	}
	from, to := OfTen(before, loc), OfTen(after, loc)
	switch {
	case from != to:
		return from + loc.T(" to ") + to
	case after > before:
		return loc.T("a little likelier")
	}
	return loc.T("a little less likely")
}

// HoursOf names when a fire burns.
func HoursOf(h season.Hours, loc lang.Locale) string {
	return [...]string{loc.T("mornings"), loc.T("the day"), loc.T("evenings"), loc.T("nights")}[h]
}

// Portion says what a wood is for: "nights under 3 °C".
func Portion(p season.Portion, loc lang.Locale) string {
	return loc.F("%s between %s and %s", HoursOf(p.Hours, loc), loc.Temperature(units.Celsius(math.Round(float64(p.From)))),
		loc.Temperature(units.Celsius(math.Round(float64(p.To)))))
}

// hoursSuch says hours like these.
var hoursSuch = map[season.Hours]lang.Message{season.Morning: "mornings", season.Day: "days", season.Evening: "evenings", season.Night: "nights"}

// Meant says that a wood is what the season keeps for such hours.
func Meant(name string, h season.Hours, loc lang.Locale) string {
	return loc.F("%s: what the season's wood is shared out for on %s like this.", name, hoursSuch[h])
}

// NotMeant says that the season keeps other wood for such hours.
func NotMeant(name, others string, h season.Hours, loc lang.Locale) string {
	return loc.F("For %s like this the season's wood is shared out to %s; %s is kept for others.", hoursSuch[h], others, name)
}

// Uncounted says that the answer goes by wood that nobody has counted; empty where little
// of it does.
func Uncounted(share float64, loc lang.Locale) string {
	switch {
	case share > 0.99:
		return loc.T(" Nobody has counted it: a usual stack is taken for each. A tape along the row would tell.")
	case share > 0.3:
		return loc.F(" %s of that nobody has counted: a usual stack is taken.", loc.Percent(units.Fraction(share), 0))
	}
	return ""
}
