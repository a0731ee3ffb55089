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
	return loc.Number(k, 0) + " " + loc.DegreeSign()
}

// Forecasts says how well a stove's gauge is foretold, and whether what was learned is in
// use.
func Foretells(k learn.Known, st stove.Stove, loc lang.Locale) string {
	known, usual, n := k.Foretells()
	gauge := loc.T("the room")
	if g, ok := st.Guide(); ok {
		gauge = loc.F("the %s", Places.Short(g.Place))
	}
	switch {
	case k.Burns == 0:
		return loc.T("Nothing is known of this stove yet: what stoves of its kind do is taken for it. Burns with a few readings teach it.")
	case n == 0:
		return loc.F("%s taken in. The next will show whether what was learned forecasts well.", units.UpperFirst(countedBurns(k.Burns, loc)))
	}
	text := loc.F("Forecasts %s to %s, %s by what is usual of such stoves; from the last %s of %d.", gauge, Apart(known, loc), Apart(usual, loc),
		countedBurns(n, loc), k.Burns)
	switch {
	case k.InUse():
		return text + loc.T(" So plans, the coach and the reviews go by what was learned.")
	case known < usual:
		return text + loc.T(" It is used once it has forecast three burns.")
	}
	return text + loc.T(" That is no better, so what is usual is used.")
}

func countedBurns(n int, loc lang.Locale) string {
	if n == 1 {
		return loc.T("one burn")
	}
	return number(n, loc) + loc.T(" burns")
}

// Trait says one thing that is known of a stove, in its owner's marks.
func Trait(t learn.Trait, loc lang.Locale) string {
	percent := func(v float64) string { return loc.Number(100*math.Abs(v), 0) }
	about := func(more, less string) string {
		word := more
		if t.Share < 0 {
			word = less
		}
		a, b := percent(t.Low), percent(t.High)
		if t.Low*t.High < 0 {
			return loc.F("about %s %% %s", percent(t.Share), word)
		}
		if t.Share < 0 {
			a, b = b, a
		}
		return fmt.Sprintf("%s–%s %% %s", a, b, word)
	}
	name := loc.Mid(t.Control.Name)
	switch t.Kind {
	case learn.Leaks:
		at := func(o float64) string { return loc.Percent(units.Fraction(o), 0) }
		if t.Mark < 0.01 {
			return loc.F("It leaks no more than the %s lets in when it is next to shut.", name)
		}
		return loc.F("It leaks about as much air as the %s lets in at %s of its way (%s to %s).", name, at(t.Mark), at(t.Low), at(t.High))
	case learn.Useful:
		return loc.F("The useful part of the %s, where a usual load burns clean and not too hot, is from %s to %s.", name,
			Mark(t.Control.Scale, t.Control.Scale.Nearest(t.Low), loc), Mark(t.Control.Scale, t.Control.Scale.Nearest(t.High), loc))
	case learn.Inlets:
		return loc.T("Its inlets let in ") + about(loc.T("more"), loc.T("less")) + loc.T(" air than is usual.")
	case learn.Exchange:
		return loc.T("It takes ") + about(loc.T("more"), loc.T("less")) + loc.T(" of the heat out of its gas than is usual.")
	case learn.Burning:
		return loc.T("Wood turns to gas ") + about(loc.T("quicker"), loc.T("slower")) + loc.T(" in it than is usual.")
	case learn.Reads:
		how := loc.T("high")
		if t.Off < 0 {
			how = loc.T("low")
		}
		low, high := math.Abs(float64(t.OffLow)), math.Abs(float64(t.OffHigh))
		return loc.F("The %s gauge reads about %s %s at %s (%s to %s).", Places.Short(t.Place), Apart(math.Abs(float64(t.Off)), loc), how,
			loc.Temperature(t.Reading), Apart(min(low, high), loc), Apart(max(low, high), loc))
	case learn.Late:
		return loc.T("Its gauges follow the fire ") + about(loc.T("later"), loc.T("sooner")) + loc.T(" than is usual.")
	case learn.RoomLoss:
		return loc.T("Its space loses ") + about(loc.T("more"), loc.T("less")) + loc.T(" heat than was taken for it.")
	}
	return ""
}

// Changed names what was done to a stove.
func Changed(c belief.Change, loc lang.Locale) string {
	return map[belief.Change]string{
		belief.Gasket: loc.T("a new door or glass gasket"), belief.Swept: loc.T("the flue was swept"), belief.NewGauge: loc.T("a new or moved thermometer"),
		belief.Air: loc.T("an air control was mended"), belief.Insulate: loc.T("the space was altered"), belief.Moved: loc.T("much is new: begin again"),
		"back": loc.T("back to what was known before"),
	}[c]
}

// Widens says what a change makes unknown.
func Widens(c belief.Change, loc lang.Locale) string {
	return map[belief.Change]string{
		belief.Gasket: loc.T("what leaks is learned anew"), belief.Swept: loc.T("what the flue loses is learned anew"), belief.NewGauge: loc.T("what the gauges are off is learned anew"),
		belief.Air: loc.T("what the controls let in is learned anew"), belief.Insulate: loc.T("what the space loses is learned anew"), belief.Moved: loc.T("all is learned anew"),
	}[c]
}

// GoesBy says what is computed with where burns have taught a stove.
func GoesBy(p belief.Prior, loc lang.Locale) string {
	return loc.T("Computed for this stove as ") + countedBurns(p.Burns, loc) + loc.T(" have shown it, and not for a usual one of its kind.")
}
