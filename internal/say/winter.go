package say

import (
	"fmt"
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
		return "almost certainly"
	case p <= 0.015:
		return "almost certainly not"
	case p > 0.945:
		return "in nineteen winters of twenty"
	case p < 0.055:
		return "in one winter of twenty"
	case n == 1:
		return "in one winter of ten"
	default:
		return "in " + small(n, loc) + " winters of ten"
	}
}

// Lasts says whether the wood lasts.
func Lasts(o season.Outlook, end, now time.Time, loc lang.Locale) string {
	if len(o.Weeks) == 0 {
		return "The season is over: nothing more is asked of the wood."
	}
	last := "to the end of " + end.AddDate(0, 0, -1).In(now.Location()).Month().String()
	if o.Lasts >= 0.985 {
		return "The wood lasts " + last + ", almost certainly."
	}
	out := fmt.Sprintf("The wood lasts %s %s.", last, Chance(o.Lasts, loc))
	if o.Lasts <= 0.015 {
		out = "The wood does not last " + last + "."
	}
	if !o.RunsOut[1].IsZero() {
		out += fmt.Sprintf(" Should it not, it is gone about %s", PartOfMonth(o.RunsOut[1].In(now.Location()), now, loc))
		if o.RunsOut[2].Sub(o.RunsOut[0]) > 20*24*time.Hour {
			out += fmt.Sprintf(", between %s and %s", PartOfMonth(o.RunsOut[0].In(now.Location()), now, loc), PartOfMonth(o.RunsOut[2].In(now.Location()), now, loc))
		}
		out += "."
	}
	return out
}

// HalfWay is the check at midwinter: what of the winter lies ahead, and what of the wood is
// left of what there was when it began.
func HalfWay(half, now time.Time, ahead, left float64, loc lang.Locale) string {
	day := half.In(now.Location()).Format("2 January")
	if now.Before(half) {
		return fmt.Sprintf("Half of a usual winter's heat is behind on %s. Until then more than half of the wood should be left; now it is %s, "+
			"with %s of the winter ahead.",
			day, units.Percent(units.Fraction(left), 0), units.Percent(units.Fraction(ahead), 0))
	}
	verdict := "the wood is behind: it goes faster than the winter"
	if left >= ahead {
		verdict = "the wood keeps up with it"
	}
	return fmt.Sprintf("Half of a usual winter's heat was behind on %s. %s of the winter is ahead and %s of the wood is left: %s.", day,
		units.Percent(units.Fraction(ahead), 0), units.Percent(units.Fraction(left), 0), verdict)
}

// Better says how a change moves the chance.
func Better(before, after float64, loc lang.Locale) string {
	if math.Abs(after-before) < 0.015 {
		return "changes nothing"
	}
	return units.Percent(units.Fraction(before), 0) + " to " + units.Percent(units.Fraction(after), 0)
}

// HoursOf names when a fire burns.
func HoursOf(h season.Hours, loc lang.Locale) string {
	return [...]string{"mornings", "the day", "evenings", "nights"}[h]
}

// Portion says what a wood is for: "nights under 3 °C".
func Portion(p season.Portion, loc lang.Locale) string {
	return fmt.Sprintf("%s between %s and %s", HoursOf(p.Hours, loc), loc.Temperature(units.Celsius(math.Round(float64(p.From)))),
		loc.Temperature(units.Celsius(math.Round(float64(p.To)))))
}

// hoursSuch says hours like these.
var hoursSuch = map[season.Hours]lang.Message{season.Morning: "mornings", season.Day: "days", season.Evening: "evenings", season.Night: "nights"}

// Meant says that a wood is what the season keeps for such hours.
func Meant(name string, h season.Hours, loc lang.Locale) string {
	return fmt.Sprintf("%s: what the season's wood is shared out for on %s like this.", name, hoursSuch[h])
}

// NotMeant says that the season keeps other wood for such hours.
func NotMeant(name, others string, h season.Hours, loc lang.Locale) string {
	return fmt.Sprintf("For %s like this the season's wood is shared out to %s; %s is kept for others.", hoursSuch[h], others, name)
}

// Uncounted says that the answer goes by wood that nobody has counted; empty where little
// of it does.
func Uncounted(share float64, loc lang.Locale) string {
	switch {
	case share > 0.99:
		return " Nobody has counted it: a usual stack is taken for each. A tape along the row would tell."
	case share > 0.3:
		return fmt.Sprintf(" %s of that nobody has counted: a usual stack is taken.", units.Percent(units.Fraction(share), 0))
	}
	return ""
}
