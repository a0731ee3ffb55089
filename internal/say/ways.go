package say

import (
	"math"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/ways"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
)

// Subjects are what two ways may differ in.
var Subjects = words[ways.Subject]{
	{Key: ways.Lay, Name: "the lay"}, {Key: ways.Wood, Name: "the wood"}, {Key: ways.Direction, Name: "which way round"},
	{Key: ways.Door, Name: "the door after the match"}, {Key: ways.Hold, Name: "the air after loading"},
	{Key: ways.Setting, Name: "where the air is left"}, {Key: ways.Dryness, Name: "how dry the wood is"},
}

// Way names one way of a subject.
func Way(s ways.Subject, way string, loc lang.Locale) string {
	switch s {
	case ways.Lay:
		return loc.T(Lays.Name(fire.Lay(way)))
	case ways.Wood:
		if species, err := wood.SpeciesByKey(way); err == nil {
			return loc.Mid(Species(species, loc))
		}
		return way
	case ways.Direction:
		return loc.T(Direction(stove.Direction(way)))
	}
	return map[ways.Subject]map[string]string{
		ways.Door:    {ways.Long: loc.T("ajar 5 min or more"), ways.Short: loc.T("shut sooner")},
		ways.Hold:    {ways.Long: loc.T("held 12 min or more"), ways.Short: loc.T("taken back sooner")},
		ways.Setting: {ways.High: loc.T("a third or more"), ways.Low: loc.T("under a third")},
		ways.Dryness: {ways.High: loc.T("over 20 %"), ways.Low: loc.T("under 20 %")},
	}[s][way]
}

// WayToDo says what a trial asks of the next burn.
func WayToDo(s ways.Subject, way string, loc lang.Locale) string {
	switch s {
	case ways.Lay:
		return loc.T("lay it ") + Way(s, way, loc)
	case ways.Wood:
		return loc.T("burn ") + Way(s, way, loc)
	case ways.Direction:
		return loc.T("load ") + Way(s, way, loc)
	}
	return map[ways.Subject]map[string]string{
		ways.Door: {ways.Long: loc.T("leave the door ajar for at least 5 min after the match, if the manual allows it, and stay with it"),
			ways.Short: loc.T("shut the door within 5 min of the match")},
		ways.Hold: {ways.Long: loc.T("hold the air for at least 12 min after the last load"),
			ways.Short: loc.T("take the air back within 12 min of the last load")},
		ways.Setting: {ways.High: loc.T("leave the air at a third or more"), ways.Low: loc.T("leave the air under a third")},
		ways.Dryness: {ways.High: loc.T("burn wood of over 20 %"), ways.Low: loc.T("burn wood of under 20 %")},
	}[s][way]
}

// FigureName names what burns are compared by, with its unit; marks of an eye have none.
func FigureName(f ways.Figure, loc lang.Locale) (name, unit string) {
	switch f {
	case ways.Early:
		return loc.T("time to the working band"), loc.T("min")
	case ways.TooHot:
		return loc.T("time too hot"), loc.T("min")
	case ways.Cap:
		return loc.T("smoke at the cap"), ""
	case ways.Glass:
		return loc.T("the glass"), ""
	case ways.Used:
		if loc.System == units.Imperial {
			return loc.T("wood put on"), loc.T("lb")
		}
		return loc.T("wood put on"), loc.T("kg")
	case ways.Warm:
		return loc.T("time as warm as wanted"), "%"
	case ways.Smoke:
		return loc.T("smoke"), loc.T("g/kg")
	case ways.PerKilo:
		if loc.System == units.Imperial {
			return loc.T("heat from each pound"), loc.T("kBTU")
		}
		return loc.T("heat from each kilogram"), loc.T("kWh")
	}
	return loc.T("settled in the flue"), loc.T("g/kg")
}

// FigureValue turns a figure into the household's units.
func FigureValue(f ways.Figure, v float64, loc lang.Locale) float64 {
	const pound = 0.45359237
	switch {
	case f == ways.Used && loc.System == units.Imperial:
		return v / pound
	case f == ways.PerKilo && loc.System == units.Imperial:
		return v * 947.817 / 1000 * pound
	case f == ways.PerKilo:
		return v / 3.6
	}
	return v
}

// FigureMarks are the words of a figure that an eye saw, from the best on; none of a number.
func FigureMarks(f ways.Figure) []string {
	for _, m := range burn.EyeMarks {
		if f == ways.Cap && m.Key == "smoke" || f == ways.Glass && m.Key == "glass" {
			return m.May
		}
	}
	return nil
}

// figureText is a figure in words: marks by their names.
func figureText(f ways.Figure, v float64, loc lang.Locale) string {
	if marks := FigureMarks(f); marks != nil {
		low := EyeMark(marks[int(math.Max(0, math.Min(2, math.Floor(v))))], loc)
		if v == math.Floor(v) {
			return low
		}
		return loc.T("between ") + low + loc.T(" and ") + EyeMark(marks[int(math.Min(2, math.Ceil(v)))], loc)
	}
	_, unit := FigureName(f, loc)
	return loc.Number(FigureValue(f, v, loc), 1) + " " + unit
}

// Compared says how two ways differ in a figure that was observed.
func Compared(q ways.Question, v ways.Verdict, loc lang.Locale) string {
	a, b := Way(q.Subject, q.A, loc), Way(q.Subject, q.B, loc)
	name, unit := FigureName(v.Figure, loc)
	middle := figureText(v.Figure, v.MedianA, loc) + loc.T(" and ") + figureText(v.Figure, v.MedianB, loc) + loc.T(" in the middle.")
	switch {
	case v.TooFew:
		return loc.F("Too few burns to say: %d and %d, and each way wants %d.", len(v.A), len(v.B), ways.Fewest)
	case v.Mixed:
		return loc.T("What makes it cannot be told, for something else goes with it altogether: ") + middle
	case v.Small:
		return loc.F("No difference in %s that matters: %s", name, middle)
	case !v.Sure():
		return loc.F("No difference in %s that chance does not make: %s", name, middle)
	}
	if unit == "" {
		return loc.F("%s: %s, and with %s %s, in the middle. Chance alone makes as much once in %s.", units.UpperFirst(b),
			figureText(v.Figure, v.MedianB, loc), a, figureText(v.Figure, v.MedianA, loc), once(v.Chance, loc))
	}
	how := loc.T("more")
	if v.Difference < 0 {
		how = loc.T("less")
	}
	value := func(x float64) string { return loc.Number(FigureValue(v.Figure, x, loc), 1) }
	low, high := math.Abs(v.Low), math.Abs(v.High)
	return loc.F("%s: %s %s %s %s than %s, %s to %s in 9 of 10 tries by chance. Chance alone makes as much once in %s.", units.UpperFirst(b),
		value(math.Abs(v.Difference)), unit, how, name, a, value(min(low, high)), value(max(low, high)), once(v.Chance, loc))
}

// ByModel says what the model computes of the burns of two ways.
func ByModel(q ways.Question, v ways.Verdict, loc lang.Locale) string {
	name, _ := FigureName(v.Figure, loc)
	return loc.F("%s: %s %s, %s %s in the middle.", units.UpperFirst(name), Way(q.Subject, q.A, loc), figureText(v.Figure, v.MedianA, loc),
		Way(q.Subject, q.B, loc), figureText(v.Figure, v.MedianB, loc))
}

// Confound says what else differs between the ways, as a sentence.
func Confound(q ways.Question, c ways.Confound, loc lang.Locale) string {
	a, b := Way(q.Subject, q.A, loc), Way(q.Subject, q.B, loc)
	if c.Number {
		text := map[ways.Trait]func(float64) string{
			ways.ByOutdoor: func(v float64) string { return loc.Temperature(units.Celsius(v)) + loc.T(" outside") },
			ways.ByWater:   func(v float64) string { return loc.T("wood of ") + loc.Percent(units.Fraction(v), 0) },
			ways.ByLoad:    func(v float64) string { return loc.Mass(units.Kilogram(v)) + loc.T(" put on") },
		}[c.Trait]
		if text == nil {
			first, second := a, b
			if c.Shares[1] < c.Shares[0] {
				first, second = b, a
			}
			return loc.F("You burnt %s first and %s later: whatever changed meanwhile goes with it.", first, second)
		}
		return loc.F("Not the same in other things: %s with %s, %s with %s, in the middle.", text(c.Shares[0]), a, text(c.Shares[1]), b)
	}
	what := map[ways.Trait]string{ways.ByHours: loc.T("lit for the night"), ways.ByStart: loc.T("lit cold"),
		ways.ByKind: loc.T("of ") + Way(ways.Wood, c.Kind, loc)}[c.Trait]
	return loc.F("%s of the burns %s were %s, and %s of those %s.", units.UpperFirst(portionOf(c.Shares[0], loc)), a, what, portionOf(c.Shares[1], loc), b)
}

// portionOf says a share of some burns.
func portionOf(p float64, loc lang.Locale) string {
	switch {
	case p > 1-1e-9:
		return loc.T("all")
	case p < 1e-9:
		return loc.T("none")
	}
	return loc.Percent(units.Fraction(p), 0)
}

// once says a small share as one in so many.
func once(p float64, loc lang.Locale) string {
	if p < 1./1000 {
		return loc.T("over a thousand times")
	}
	return loc.Number(1/p, 0) + loc.T(" times")
}
