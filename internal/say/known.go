package say

import (
	"fmt"
	"math"

	"smolder/internal/core/belief"
	"smolder/internal/core/learn"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// Apart is how far two temperatures lie from each other: "21 °C" or "38 °F".
func Apart(k float64, loc lang.Locale) string {
	if loc.System == units.Imperial {
		k *= 1.8
	}
	return units.Number(k, 0) + " " + loc.DegreeSign()
}

// Foretells says how well a stove's gauge is foretold, and whether what was learned is in
// use.
func Foretells(k learn.Known, st stove.Stove, loc lang.Locale) string {
	known, usual, n := k.Foretells()
	gauge := "the room"
	if g, ok := st.Guide(); ok {
		gauge = loc.T("the " + Places.Short(g.Place))
	}
	switch {
	case k.Burns == 0:
		return "Nothing is known of this stove yet: what stoves of its kind do is taken for it. Burns with a few readings teach it."
	case n == 0:
		return fmt.Sprintf("%s taken in. The next will show whether what was learned foretells.", units.UpperFirst(countedBurns(k.Burns, loc)))
	}
	text := fmt.Sprintf("Foretells %s to %s, %s by what is usual of such stoves; from the last %s of %d.", gauge, Apart(known, loc), Apart(usual, loc),
		countedBurns(n, loc), k.Burns)
	switch {
	case k.InUse():
		return text + " So plans, the coach and the reviews go by what was learned."
	case known < usual:
		return text + " It is used once it has foretold three burns."
	}
	return text + " That is no better, so what is usual is used."
}

func countedBurns(n int, loc lang.Locale) string {
	if n == 1 {
		return "one burn"
	}
	return number(n, loc) + " burns"
}

// Trait says one thing that is known of a stove, in its owner's marks.
func Trait(t learn.Trait, loc lang.Locale) string {
	percent := func(v float64) string { return units.Number(100*math.Abs(v), 0) }
	about := func(more, less string) string {
		word := more
		if t.Share < 0 {
			word = less
		}
		a, b := percent(t.Low), percent(t.High)
		if t.Low*t.High < 0 {
			return fmt.Sprintf("about %s %% %s", percent(t.Share), word)
		}
		if t.Share < 0 {
			a, b = b, a
		}
		return fmt.Sprintf("%s–%s %% %s", a, b, word)
	}
	name := units.LowerFirst(t.Control.Name)
	switch t.Kind {
	case learn.Leaks:
		at := func(o float64) string { return units.Percent(units.Fraction(o), 0) }
		if t.Mark < 0.01 {
			return fmt.Sprintf("It leaks no more than the %s lets in when it is next to shut.", name)
		}
		return fmt.Sprintf("It leaks about as much air as the %s lets in at %s of its way (%s to %s).", name, at(t.Mark), at(t.Low), at(t.High))
	case learn.Useful:
		return fmt.Sprintf("The useful part of the %s, where a usual load burns clean and not too hot, is from %s to %s.", name,
			Mark(t.Control.Scale, t.Control.Scale.Nearest(t.Low), loc), Mark(t.Control.Scale, t.Control.Scale.Nearest(t.High), loc))
	case learn.Inlets:
		return "Its inlets let in " + about("more", "less") + " air than is usual."
	case learn.Exchange:
		return "It takes " + about("more", "less") + " of the heat out of its gas than is usual."
	case learn.Burning:
		return "Wood turns to gas " + about("quicker", "slower") + " in it than is usual."
	case learn.Reads:
		how := "high"
		if t.Off < 0 {
			how = "low"
		}
		low, high := math.Abs(float64(t.OffLow)), math.Abs(float64(t.OffHigh))
		return fmt.Sprintf("The %s gauge reads about %s %s at %s (%s to %s).", Places.Short(t.Place), Apart(math.Abs(float64(t.Off)), loc), how,
			loc.Temperature(t.Reading), Apart(min(low, high), loc), Apart(max(low, high), loc))
	case learn.Late:
		return "Its gauges follow the fire " + about("later", "sooner") + " than is usual."
	case learn.RoomLoss:
		return "Its space loses " + about("more", "less") + " heat than was taken for it."
	}
	return ""
}

// Changed names what was done to a stove.
func Changed(c belief.Change, loc lang.Locale) string {
	return map[belief.Change]string{
		belief.Gasket: "a new door or glass gasket", belief.Swept: "the flue was swept", belief.NewGauge: "a new or moved thermometer",
		belief.Air: "an air control was mended", belief.Insulate: "the space was altered", belief.Moved: "much is new: begin again",
		"back": "back to what was known before",
	}[c]
}

// Widens says what a change makes unknown.
func Widens(c belief.Change, loc lang.Locale) string {
	return map[belief.Change]string{
		belief.Gasket: "what leaks is learned anew", belief.Swept: "what the flue loses is learned anew", belief.NewGauge: "what the gauges are off is learned anew",
		belief.Air: "what the controls let in is learned anew", belief.Insulate: "what the space loses is learned anew", belief.Moved: "all is learned anew",
	}[c]
}

// GoesBy says what is computed with where burns have taught a stove.
func GoesBy(p belief.Prior, loc lang.Locale) string {
	return "Computed for this stove as " + countedBurns(p.Burns, loc) + " have taught it, and not for a usual one of its kind."
}
