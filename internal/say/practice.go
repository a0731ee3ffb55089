package say

import (
	"fmt"
	"math"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/practice"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
)

// Subjects are what two ways may differ in.
var Subjects = words[practice.Subject]{
	{Key: practice.Lay, Name: "the lay"}, {Key: practice.Wood, Name: "the wood"}, {Key: practice.Direction, Name: "which way round"},
	{Key: practice.Door, Name: "the door after the match"}, {Key: practice.Hold, Name: "the air after loading"},
	{Key: practice.Setting, Name: "where the air is left"}, {Key: practice.Dryness, Name: "how dry the wood is"},
}

// Way names one way of a subject.
func Way(s practice.Subject, way string, loc lang.Locale) string {
	switch s {
	case practice.Lay:
		return loc.T(Lays.Name(fire.Lay(way)))
	case practice.Wood:
		if species, err := wood.SpeciesByKey(way); err == nil {
			return units.LowerFirst(species.Name)
		}
		return way
	case practice.Direction:
		return string(stove.Direction(way))
	}
	return map[practice.Subject]map[string]string{
		practice.Door:    {practice.Long: "ajar 5 min or more", practice.Short: "shut sooner"},
		practice.Hold:    {practice.Long: "held 12 min or more", practice.Short: "taken back sooner"},
		practice.Setting: {practice.High: "a third or more", practice.Low: "under a third"},
		practice.Dryness: {practice.High: "over 20 %", practice.Low: "under 20 %"},
	}[s][way]
}

// WayToDo says what a trial asks of the next burn.
func WayToDo(s practice.Subject, way string, loc lang.Locale) string {
	switch s {
	case practice.Lay:
		return "lay it " + Way(s, way, loc)
	case practice.Wood:
		return "burn " + Way(s, way, loc)
	case practice.Direction:
		return "load " + Way(s, way, loc)
	}
	return map[practice.Subject]map[string]string{
		practice.Door: {practice.Long: "leave the door ajar for at least 5 min after the match, if the manual allows it, and stay with it",
			practice.Short: "shut the door within 5 min of the match"},
		practice.Hold:    {practice.Long: "hold the air for at least 12 min after the last load", practice.Short: "take the air back within 12 min of the last load"},
		practice.Setting: {practice.High: "leave the air at a third or more", practice.Low: "leave the air under a third"},
		practice.Dryness: {practice.High: "burn wood of over 20 %", practice.Low: "burn wood of under 20 %"},
	}[s][way]
}

// FigureName names what burns are compared by, with its unit; marks of an eye have none.
func FigureName(f practice.Figure, loc lang.Locale) (name, unit string) {
	switch f {
	case practice.Early:
		return "time to the working band", "min"
	case practice.TooHot:
		return "time too hot", "min"
	case practice.Cap:
		return "smoke at the cap", ""
	case practice.Glass:
		return "the glass", ""
	case practice.Used:
		if loc.System == units.Imperial {
			return "wood put on", "lb"
		}
		return "wood put on", "kg"
	case practice.Warm:
		return "time as warm as wanted", "%"
	case practice.Smoke:
		return "smoke", "g/kg"
	case practice.PerKilo:
		if loc.System == units.Imperial {
			return "heat from each pound", "kBTU"
		}
		return "heat from each kilogram", "kWh"
	}
	return "settled in the flue", "g/kg"
}

// FigureValue turns a figure into the household's units.
func FigureValue(f practice.Figure, v float64, loc lang.Locale) float64 {
	const pound = 0.45359237
	switch {
	case f == practice.Used && loc.System == units.Imperial:
		return v / pound
	case f == practice.PerKilo && loc.System == units.Imperial:
		return v * 947.817 / 1000 * pound
	case f == practice.PerKilo:
		return v / 3.6
	}
	return v
}

// FigureMarks are the words of a figure that an eye saw, from the best on; none of a number.
func FigureMarks(f practice.Figure) []string {
	for _, m := range burn.EyeMarks {
		if f == practice.Cap && m.Key == "smoke" || f == practice.Glass && m.Key == "glass" {
			return m.May
		}
	}
	return nil
}

// figureText is a figure in words: marks by their names.
func figureText(f practice.Figure, v float64, loc lang.Locale) string {
	if marks := FigureMarks(f); marks != nil {
		low := marks[int(math.Max(0, math.Min(2, math.Floor(v))))]
		if v == math.Floor(v) {
			return low
		}
		return "between " + low + " and " + marks[int(math.Min(2, math.Ceil(v)))]
	}
	_, unit := FigureName(f, loc)
	return units.Number(FigureValue(f, v, loc), 1) + " " + unit
}

// Compared says how two ways differ in a figure that was observed.
func Compared(q practice.Question, v practice.Verdict, loc lang.Locale) string {
	a, b := Way(q.Subject, q.A, loc), Way(q.Subject, q.B, loc)
	name, unit := FigureName(v.Figure, loc)
	middle := figureText(v.Figure, v.MedianA, loc) + " and " + figureText(v.Figure, v.MedianB, loc) + " in the middle."
	switch {
	case v.TooFew:
		return fmt.Sprintf("Too few burns to say: %d and %d, and each way wants %d.", len(v.A), len(v.B), practice.Fewest)
	case v.Mixed:
		return "What makes it cannot be told, for something else goes with it altogether: " + middle
	case v.Small:
		return fmt.Sprintf("No difference in %s that matters: %s", name, middle)
	case !v.Sure():
		return fmt.Sprintf("No difference in %s that chance does not make: %s", name, middle)
	}
	if unit == "" {
		return fmt.Sprintf("%s: %s, and with %s %s, in the middle. Chance alone makes as much once in %s.", units.UpperFirst(b),
			figureText(v.Figure, v.MedianB, loc), a, figureText(v.Figure, v.MedianA, loc), once(v.Chance, loc))
	}
	how := "more"
	if v.Difference < 0 {
		how = "less"
	}
	value := func(x float64) string { return units.Number(FigureValue(v.Figure, x, loc), 1) }
	low, high := math.Abs(v.Low), math.Abs(v.High)
	return fmt.Sprintf("%s: %s %s %s %s than %s, %s to %s in nine of ten draws. Chance alone makes as much once in %s.", units.UpperFirst(b),
		value(math.Abs(v.Difference)), unit, how, name, a, value(min(low, high)), value(max(low, high)), once(v.Chance, loc))
}

// ByModel says what the model computes of the burns of two ways.
func ByModel(q practice.Question, v practice.Verdict, loc lang.Locale) string {
	name, _ := FigureName(v.Figure, loc)
	return fmt.Sprintf("%s: %s %s, %s %s in the middle.", units.UpperFirst(name), Way(q.Subject, q.A, loc), figureText(v.Figure, v.MedianA, loc),
		Way(q.Subject, q.B, loc), figureText(v.Figure, v.MedianB, loc))
}

// Confound says what else differs between the ways, as a sentence.
func Confound(q practice.Question, c practice.Confound, loc lang.Locale) string {
	a, b := Way(q.Subject, q.A, loc), Way(q.Subject, q.B, loc)
	if c.Number {
		text := map[practice.Trait]func(float64) string{
			practice.ByOutdoor: func(v float64) string { return loc.Temperature(units.Celsius(v)) + " outside" },
			practice.ByWater:   func(v float64) string { return "wood of " + units.Percent(units.Fraction(v), 0) },
			practice.ByLoad:    func(v float64) string { return loc.Mass(units.Kilogram(v)) + " put on" },
		}[c.Trait]
		if text == nil {
			first, second := a, b
			if c.Shares[1] < c.Shares[0] {
				first, second = b, a
			}
			return fmt.Sprintf("You burnt %s first and %s later: whatever changed meanwhile goes with it.", first, second)
		}
		return fmt.Sprintf("Not the same otherwise: %s with %s, %s with %s, in the middle.", text(c.Shares[0]), a, text(c.Shares[1]), b)
	}
	what := map[practice.Trait]string{practice.ByHours: "lit for the night", practice.ByStart: "lit cold", practice.ByKind: "of " + Way(practice.Wood, c.Kind, loc)}[c.Trait]
	return fmt.Sprintf("%s of the burns %s were %s, and %s of those %s.", units.UpperFirst(portionOf(c.Shares[0], loc)), a, what, portionOf(c.Shares[1], loc), b)
}

// portionOf says a share of some burns.
func portionOf(p float64, loc lang.Locale) string {
	switch {
	case p > 1-1e-9:
		return "all"
	case p < 1e-9:
		return "none"
	}
	return units.Percent(units.Fraction(p), 0)
}

// once says a small share as one in so many.
func once(p float64, loc lang.Locale) string {
	if p < 1./1000 {
		return "over a thousand times"
	}
	return units.Number(1/p, 0) + " times"
}
