package say

import (
	"database/sql"
	"fmt"
	"math"
	"time"

	"smolder/internal/core/drying"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
)

// PartOfMonth says a day as people do who mean some weeks: "late June", with the year
// where it is not the one that is asked in.
func PartOfMonth(at, now time.Time, loc lang.Locale) string {
	part := loc.T("mid-")
	switch {
	case at.Day() <= 10:
		part = loc.T("early ")
	case at.Day() > 20:
		part = loc.T("late ")
	}
	out := part + loc.Month(at.Month())
	if at.Year() != now.Year() {
		out += fmt.Sprintf(" %d", at.Year())
	}
	return out
}

// weeks says a span of days as weeks, or months where there are many.
func weeks(d time.Duration, loc lang.Locale) string {
	n := int(math.Round(d.Hours() / 24 / 7))
	switch {
	case n <= 0:
		return loc.T("a few days")
	case n == 1:
		return loc.T("a week")
	case n < 11:
		return small(n, loc) + loc.T(" weeks")
	}
	months := int(math.Round(d.Hours() / 24 / 30.4))
	if months < 18 {
		return small(months, loc) + loc.T(" months")
	}
	switch halves := int(math.Round(float64(months) / 6)); {
	case halves == 3:
		return loc.T("a year and a half")
	case halves%2 == 0:
		return small(halves/2, loc) + loc.T(" years")
	default:
		return small(halves/2, loc) + loc.T(" and a half years")
	}
}

// small says a small number in words.
func small(n int, loc lang.Locale) string {
	words := []string{loc.T("no"), loc.T("one"), loc.T("two"), loc.T("three"), loc.T("four"), loc.T("five"), loc.T("six"), loc.T("seven"), loc.T("eight"), loc.T("nine"), loc.T("ten"), loc.T("eleven"), loc.T("twelve")}
	if n >= 0 && n < len(words) {
		return words[n]
	}
	return fmt.Sprint(n)
}

// ReadyDate says when a stack is ready: the middle, and how far off it may be.
func ReadyDate(d drying.Date, now time.Time, loc lang.Locale) string {
	in := func(t time.Time) time.Time { return t.In(now.Location()) }
	today := now.Add(36 * time.Hour) // a day's belief is of its end
	switch {
	case d.Late.IsZero() && d.Likely.IsZero() && d.Early.IsZero():
		return loc.T("not within three years as it lies")
	case d.Likely.IsZero():
		return loc.F("hardly within three years as it lies; %s at the earliest", PartOfMonth(in(d.Early), now, loc))
	case !d.Late.IsZero() && !d.Late.After(today):
		return loc.T("ready")
	case !d.Likely.After(today) && d.Late.IsZero():
		return loc.T("probably ready, not certainly: a reading would tell")
	case !d.Likely.After(today):
		return loc.F("probably ready; %s at the latest", PartOfMonth(in(d.Late), now, loc))
	case d.Late.IsZero():
		return loc.F("%s most likely, and it may be years", PartOfMonth(in(d.Likely), now, loc))
	}
	early := d.Early
	if early.Before(now) {
		early = now
	}
	return loc.F("%s, give or take %s", PartOfMonth(in(d.Likely), now, loc), weeks(max(d.Late.Sub(d.Likely), d.Likely.Sub(early)), loc))
}

// ReadyShort is the same in the width of a table's cell.
func ReadyShort(d drying.Date, now time.Time, loc lang.Locale) string {
	switch {
	case d.Likely.IsZero():
		return loc.T("not as it lies")
	case !d.Late.IsZero() && !d.Late.After(now.Add(36*time.Hour)):
		return loc.T("ready")
	case !d.Likely.After(now.Add(36 * time.Hour)):
		return loc.T("probably ready")
	}
	return PartOfMonth(d.Likely.In(now.Location()), now, loc)
}

// AnotherReading says what one more reading would do to the range of the ready date.
func AnotherReading(at time.Time, share float64, now time.Time, loc lang.Locale) string {
	leaves := loc.T("would narrow that a little")
	switch {
	case share < 0.3:
		leaves = loc.T("would leave a quarter of that")
	case share < 0.42:
		leaves = loc.T("would leave a third of that")
	case share <= 0.62:
		leaves = loc.T("would halve that")
	case share < 0.8:
		leaves = loc.T("would take a third off that")
	}
	if at.Sub(now) < 7*24*time.Hour {
		return loc.T("Another reading, in four pieces today, ") + leaves + "."
	}
	return loc.F("Another reading after %s, in four pieces, %s.", month(at.In(now.Location()), now, loc), leaves)
}

func month(at, now time.Time, loc lang.Locale) string {
	if at.Sub(now) > 300*24*time.Hour {
		return fmt.Sprintf("%s %d", loc.Month(at.Month()), at.Year())
	}
	return loc.Month(at.Month())
}

// changeWords are what may be done for a stack.
var changeWords = map[drying.Change]lang.Message{
	drying.Split:     "Split the rounds",
	drying.Smaller:   "Split each piece in two",
	drying.UnderRoof: "A roof over it, open at the sides",
	drying.Uncovered: "Take the sheet off its sides, keep it on top",
	drying.ToWind:    "Stack it where the wind goes through",
	drying.ToSun:     "Stack it in the sun",
	drying.OffGround: "Set it on bearers, off the ground",
	drying.Whole:     "All of it: split, under a roof, off the ground, in the wind",
	drying.Turned:    "Turn it once, the inside out",
	drying.Stacked:   "Stack it, with air between the rows",
	drying.Sawn:      "Saw it to the length of the stove",
}

// ChangeOf says what a change is.
func ChangeOf(c drying.Change, loc lang.Locale) string { return loc.T(changeWords[c]) }

// Gained says how much sooner a change makes a stack ready.
func Gained(o drying.Option, now time.Time, loc lang.Locale) string {
	return loc.F("%s sooner: %s", weeks(o.Gain, loc), ReadyShort(o.Ready, now, loc))
}

// Dries says where a stack goes from here: what rain and winter do to it.
func Dries(points []drying.Point, now time.Time, loc lang.Locale) string {
	if len(points) < 2 || points[0].Moisture.Middle <= 0 {
		return ""
	}
	first, wettest, driest := points[0], points[0], points[0]
	for _, p := range points {
		if p.At.Sub(first.At) > 365*24*time.Hour {
			break
		}
		if p.Moisture.Middle > wettest.Moisture.Middle {
			wettest = p
		}
		if p.Moisture.Middle < driest.Moisture.Middle {
			driest = p
		}
	}
	say := func(p drying.Point) string {
		return loc.F("%s in %s", loc.Percent(p.Moisture.Middle, 0), month(p.At.In(now.Location()), now, loc))
	}
	const matters = 0.012
	switch up, down := wettest.Moisture.Middle-first.Moisture.Middle, first.Moisture.Middle-driest.Moisture.Middle; {
	case up > matters && wettest.Moisture.Middle > wood.ReadyTo && first.Moisture.Middle <= wood.ReadyTo:
		return loc.F("As it lies it takes water up to %s, over what burns clean; it is driest with %s.", say(wettest), say(driest))
	case up > matters:
		return loc.F("In a year as usual it takes water up to %s, and is driest with %s.", say(wettest), say(driest))
	case down > matters:
		return loc.F("In a year as usual it comes down to %s.", say(driest))
	}
	return loc.T("It stays about as it is through a usual year.")
}

// Lies says what is told of how a stack lies.
func Lies(cover wood.Cover, wind, sun sql.Null[float64], onGround, heap, round bool, loc lang.Locale) string {
	out := loc.T("It lies")
	if cover == "" {
		out += loc.T(" covered on top, as it is taken: say how")
	} else {
		out += " " + loc.T(Covers.Name(cover))
	}
	amount := func(v sql.Null[float64], none, some, much string) {
		switch {
		case !v.Valid:
		case v.V < 0.25:
			out += ", " + none
		case v.V > 0.75:
			out += ", " + much
		default:
			out += ", " + some
		}
	}
	amount(wind, loc.T("sheltered from the wind"), loc.T("with some wind"), loc.T("open to the wind"))
	amount(sun, loc.T("in the shade"), loc.T("in the sun half the day"), loc.T("in the sun most of the day"))
	if heap {
		out += loc.T(", as it was tipped")
	}
	if onGround {
		out += loc.T(", on the ground")
	}
	if round {
		out += loc.T(", not split")
	}
	return out + "."
}

// Unlogged says what recounts teach; empty before there is one.
func Unlogged(u wood.Unlogged, loc lang.Locale) string {
	off := int(math.Round(100 * (u.Middle - 1)))
	low, high := int(math.Round(100*(u.Low-1))), int(math.Round(100*(u.High-1)))
	switch {
	case u.Recounts == 0:
		return ""
	case u.Known() && off > 0:
		return loc.F("You burn about %d %% more than you log, by %s. What is left is worked out with that. Somewhere between %d and %d %%.",
			off, recountWord(u.Recounts, loc), max(0, low), high)
	case u.Known() && off < 0:
		return loc.F("You burn about %d %% less than you log, by %s: pieces may be lighter than they are taken for. What is left is worked out with that.",
			-off, recountWord(u.Recounts, loc))
	}
	return loc.F("%s so far: what is burnt is within %d %% less and %d %% more of what is logged, which is no more than counting itself is off.",
		units.UpperFirst(recountWord(u.Recounts, loc)), max(0, -low), max(0, high))
}

func recountWord(n int, loc lang.Locale) string {
	if n == 1 {
		return loc.T("one recount")
	}
	return small(n, loc) + loc.T(" recounts")
}
