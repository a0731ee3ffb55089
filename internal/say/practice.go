package say

import (
	"fmt"
	"math"

	"smolder/internal/core/fire"
	"smolder/internal/core/practice"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// Subjects are what two ways may differ in.
var Subjects = words[practice.Subject]{
	{Key: practice.Lay, Name: "the lay"}, {Key: practice.Wood, Name: "the wood"}, {Key: practice.Direction, Name: "which way round"},
	{Key: practice.Door, Name: "the door after the match"}, {Key: practice.Hold, Name: "the air after loading"},
	{Key: practice.Setting, Name: "where the air is left"}, {Key: practice.Dryness, Name: "how dry the wood is"},
}

// Way names one way of a subject.
func Way(s practice.Subject, way string) string {
	switch s {
	case practice.Lay:
		return Lays.Name(fire.Lay(way))
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
		practice.Dryness: {practice.High: "over 18 %", practice.Low: "under 18 %"},
	}[s][way]
}

// WayToDo says what a trial asks of the next burn.
func WayToDo(s practice.Subject, way string) string {
	switch s {
	case practice.Lay:
		return "lay it " + Way(s, way)
	case practice.Wood:
		return "burn " + Way(s, way)
	case practice.Direction:
		return "load " + Way(s, way)
	}
	return map[practice.Subject]map[string]string{
		practice.Door: {practice.Long: "leave the door ajar for at least 5 min after the match, if the manual allows it, and stay with it",
			practice.Short: "shut the door within 5 min of the match"},
		practice.Hold:    {practice.Long: "hold the air for at least 12 min after the last load", practice.Short: "take the air back within 12 min of the last load"},
		practice.Setting: {practice.High: "leave the air at a third or more", practice.Low: "leave the air under a third"},
		practice.Dryness: {practice.High: "burn wood of over 18 %", practice.Low: "burn wood of under 18 %"},
	}[s][way]
}

// FigureName names what burns are compared by, with its unit.
func FigureName(f practice.Figure, sys units.System) (name, unit string) {
	switch f {
	case practice.Smoke:
		return "smoke", "g/kg"
	case practice.Early:
		return "to the working band", "min"
	case practice.PerKilo:
		if sys == units.Imperial {
			return "heat from each pound", "kBTU"
		}
		return "heat from each kilogram", "kWh"
	case practice.TooHot:
		return "too hot", "min"
	}
	return "settled in the flue", "g/kg"
}

// FigureValue turns a figure into the household's units.
func FigureValue(f practice.Figure, v float64, sys units.System) float64 {
	if f != practice.PerKilo {
		return v
	}
	if sys == units.Imperial {
		return v * 947.817 / 1000 * 0.45359237
	}
	return v / 3.6
}

// Compared says how two ways differ in a figure.
func Compared(q practice.Question, v practice.Verdict, sys units.System) string {
	a, b := Way(q.Subject, q.A), Way(q.Subject, q.B)
	name, unit := FigureName(v.Figure, sys)
	if v.TooFew {
		return fmt.Sprintf("Too few burns to say: %d and %d, and each way wants %d.", len(v.A), len(v.B), practice.Fewest)
	}
	value := func(x float64) string { return units.Number(FigureValue(v.Figure, x, sys), 1) }
	if !v.Sure() {
		return fmt.Sprintf("No difference in %s that chance does not make: %s %s and %s %s in the middle.", name, value(v.MedianA), unit, value(v.MedianB), unit)
	}
	how := "more"
	if v.Difference < 0 {
		how = "less"
	}
	low, high := math.Abs(v.Low), math.Abs(v.High)
	return fmt.Sprintf("%s: %s %s %s %s than %s, %s to %s in nine of ten draws. Chance alone makes as much once in %s.", units.UpperFirst(b),
		value(math.Abs(v.Difference)), unit, how, name, a, value(min(low, high)), value(max(low, high)), once(v.Chance))
}

// once says a small share as one in so many.
func once(p float64) string {
	if p < 1./1000 {
		return "over a thousand times"
	}
	return units.Number(1/p, 0) + " times"
}
