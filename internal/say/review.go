package say

import (
	"fmt"
	"math"
	"strings"
	"time"

	"smolder/internal/core/review"
	"smolder/internal/core/units"
)

// A Found is a finding in words.
type Found struct {
	What  string // what was done, at its moment
	Would string // what would have come of it otherwise: "40–60 % less smoke, 20 min shorter"
	Next  string // what to do next time
	Short string // beside the strip
}

// found is one finding's words.
type foundWords struct{ what, next, short func(f finding) string }

// finding is one while it is said.
type finding struct {
	review.Finding
	sys units.System
}

func (f finding) by() string   { return units.Duration(f.By.Abs().Round(time.Minute)) }
func (f finding) from() string { return Mark(f.Control.Scale, f.From) }
func (f finding) to() string   { return Mark(f.Control.Scale, f.To) }
func (f finding) air() string  { return units.LowerFirst(f.Control.Name) }

func text(s string) func(finding) string { return func(finding) string { return s } }

// findings are the words of each.
var findings = map[review.Matter]foundWords{
	review.Lit: {
		text("It was lit from below: the wood above the flames gassed before it burnt."),
		text("Light from above: the wood below, the kindling and the starter on top."),
		text("lit from below")},
	review.ShutEarly: {
		text("The door was shut before the fire kept its own draft."),
		func(f finding) string {
			return "Leave the door ajar about " + f.by() + " longer, if the manual allows it, and stay with it."
		},
		text("door shut early")},
	review.AjarLong: {
		text("The door stood ajar for long: more air than the flames used, and its heat went up."),
		func(f finding) string { return "Shut the door about " + f.by() + " sooner, once the flames hold." },
		text("door ajar for long")},
	review.Wet: {
		func(f finding) string {
			return "The wood was wet: " + units.Percent(units.Fraction(f.From), 0) + ". Its water was boiled off before its gas burnt."
		},
		func(f finding) string {
			return "Burn wood of up to about " + units.Percent(units.Fraction(f.To), 0) + "; let this stack dry on."
		},
		text("wet wood")},
	review.DownEarly: {
		func(f finding) string {
			return "The " + f.air() + " was taken back before the load was burning all over."
		},
		func(f finding) string {
			return "After loading, hold the " + f.air() + " about " + f.by() + " longer before it is taken back."
		},
		text("air back early")},
	review.DownLate: {
		func(f finding) string { return "The " + f.air() + " stayed open, and it ran too hot." },
		func(f finding) string {
			return "Take the " + f.air() + " to " + f.to() + " about " + f.by() + " after loading."
		},
		text("air left open")},
	review.TooFar: {
		func(f finding) string {
			return "The " + f.air() + " was left at " + f.from() + ": in this stove too little for the load that was in."
		},
		func(f finding) string { return "Leave the " + f.air() + " at " + f.to() + ", not at " + f.from() + "." },
		text("air too far back")},
	review.TooOpen: {
		func(f finding) string {
			return "The " + f.air() + " was left at " + f.from() + ": much of the heat went up the flue."
		},
		func(f finding) string { return "Take the " + f.air() + " on to " + f.to() + " in the end." },
		text("air left open")},
	review.LateLoad: {
		text("The load came on coals that had gone down far, and smoked until it caught."),
		func(f finding) string { return "Load about " + f.by() + " sooner, or lay kindling first." },
		text("loaded late")},
	review.BypassOut: {
		text("The bypass stayed open while the catalyst was hot enough to work."),
		text("Close the bypass when the catalyst has been over its light-off for a few minutes."),
		text("bypass open")},
	review.TooMuch: {
		func(f finding) string { return "The load was more than the room had use for." },
		func(f finding) string { return "Load " + Pieces(int(f.To)) + ", not " + number(int(f.From)) + "." },
		text("a large load")},
}

// Aim is what a finding says to do next time, beside a plan that has worked out its
// own: a setting or a number of pieces was right for the load that was in, and the
// plan's is for the one that will be. Two of them without a word which holds would
// leave somebody at the stove with two answers.
func Aim(f review.Finding, u units.System) string {
	next := Finding(f, u).Next
	switch f.Code {
	case review.DownLate, review.TooFar, review.TooOpen, review.TooMuch:
		return next + " That was for the load of then: where a step says otherwise, do what the step says."
	}
	return next
}

// Finding is a finding in words.
func Finding(f review.Finding, sys units.System) Found {
	w, known := findings[f.Code]
	if !known {
		return Found{}
	}
	said := finding{f, sys}
	return Found{What: w.what(said), Would: Would(f.Would), Next: w.next(said), Short: w.short(said)}
}

// Would says how a burn would have differed: what is sure of it, the most telling first;
// empty: nothing is.
func Would(d review.Difference) string {
	var parts []string
	if text := shareOf(d.Share, "less smoke", "more smoke"); text != "" && math.Abs(d.Smoke.Middle) >= 1 {
		parts = append(parts, text)
	}
	if d.TooHot.High < -1 || d.TooHot.Low > 1 {
		parts = append(parts, spread(d.TooHot, "min", "less too hot", "more too hot"))
	}
	if text := shareOf(d.PerKilo, "less heat from each kilogram", "more heat from each kilogram"); text != "" && math.Abs(d.PerKilo.Middle) >= 0.02 {
		parts = append(parts, text)
	}
	if math.Abs(d.Lasts.Middle) >= 4 && d.Lasts.Low*d.Lasts.High > 0 {
		how := "longer"
		if d.Lasts.Middle < 0 {
			how = "shorter"
		}
		parts = append(parts, units.Duration(time.Duration(math.Abs(d.Lasts.Middle))*time.Minute)+" "+how)
	}
	return strings.Join(parts, ", ")
}

// shares says a share of which both ends are on one side: "40–60 % less smoke".
func shareOf(r review.Range, less, more string) string {
	return spread(r.Times(100), "%", less, more)
}

// spread says a range of which both ends are on one side of nothing; empty: they are not.
func spread(r review.Range, unit, less, more string) string {
	low, high, how := r.Low, r.High, more
	if r.High < 0 {
		low, high, how = -r.High, -r.Low, less
	}
	if r.Low < 0 && r.High > 0 {
		return ""
	}
	a, b := math.Round(low), math.Round(high)
	switch {
	case b <= 0:
		return ""
	case a == b:
		return fmt.Sprintf("%s\u202f%s %s", units.Number(b, 0), unit, how)
	case a <= 0:
		return fmt.Sprintf("up to %s\u202f%s %s", units.Number(b, 0), unit, how)
	}
	return fmt.Sprintf("%s–%s\u202f%s %s", units.Number(a, 0), units.Number(b, 0), unit, how)
}

// Answer says what came of last time's one thing.
func Answer(a review.Answer, sys units.System) string {
	did := map[bool]func(a review.Answer) string{true: didWords, false: didNot}[a.Done](a)
	if did == "" {
		return ""
	}
	switch {
	case a.Beside == 0:
		return did + " Too few burns before it to say what came of it."
	case math.Abs(a.Smoke) < 0.1:
		return did + " About as much smoke for each kilogram as in the " + number(a.Beside) + " burns before."
	case a.Smoke < 0:
		return did + fmt.Sprintf(" About %s less smoke for each kilogram than in the %s burns before.", units.Percent(units.Fraction(-a.Smoke), 0), number(a.Beside))
	}
	return did + fmt.Sprintf(" About %s more smoke for each kilogram than in the %s burns before: something else was not as it was then.",
		units.Percent(units.Fraction(a.Smoke), 0), number(a.Beside))
}

func didWords(a review.Answer) string {
	minutes := units.Duration(time.Duration(math.Abs(a.By)) * time.Minute)
	switch a.Code {
	case review.Lit:
		return "You lit it from above this time."
	case review.ShutEarly:
		return "You left the door ajar " + minutes + " longer."
	case review.AjarLong:
		return "You shut the door " + minutes + " sooner."
	case review.DownEarly:
		return "You held the air " + minutes + " longer."
	case review.DownLate:
		return "You took the air back sooner."
	case review.TooFar, review.TooOpen:
		return "You left the " + units.LowerFirst(a.Control.Name) + " at " + Mark(a.Control.Scale, a.To) + ", not at " + Mark(a.Control.Scale, a.From) + "."
	case review.Wet:
		return "You burnt drier wood: " + units.Percent(units.Fraction(a.To), 0) + " where it was " + units.Percent(units.Fraction(a.From), 0) + "."
	}
	return ""
}

func didNot(a review.Answer) string {
	switch a.Code {
	case review.Lit:
		return "It was lit from below again."
	case review.ShutEarly:
		return "The door was shut as soon as last time."
	case review.AjarLong:
		return "The door stood ajar as long as last time."
	case review.DownEarly:
		return "The air was taken back as soon as last time."
	case review.DownLate:
		return "The air stayed open as long as last time."
	case review.TooFar, review.TooOpen:
		return "The " + units.LowerFirst(a.Control.Name) + " was left at " + Mark(a.Control.Scale, a.To) + " again, or near it."
	case review.Wet:
		return "The wood was as wet as last time."
	}
	return ""
}
