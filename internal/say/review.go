package say

import (
	"fmt"
	"math"
	"strings"
	"time"

	"smolder/internal/core/review"
	"smolder/internal/core/units"
	"smolder/internal/lang"
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
	loc lang.Locale
}

func (f finding) by() string   { return f.loc.Duration(f.By.Abs().Round(time.Minute)) }
func (f finding) from() string { return Mark(f.Control.Scale, f.From, f.loc) }
func (f finding) to() string   { return Mark(f.Control.Scale, f.To, f.loc) }
func (f finding) air() string  { return units.LowerFirst(f.Control.Name) }

func text(s lang.Message) func(finding) string { return func(f finding) string { return f.loc.T(s) } }

// findings are the words of each.
var findings = map[review.Matter]foundWords{
	review.Lit: {
		text("It was lit from below: the wood above the flames gassed before it burnt."),
		text("Light from above: the wood below, the kindling and the starter on top."),
		text("lit from below")},
	review.ShutEarly: {
		text("The door was shut before the fire kept its own draft."),
		func(f finding) string {
			return f.loc.T("Leave the door ajar about ") + f.by() + f.loc.T(" longer, if the manual allows it, and stay with it.")
		},
		text("door shut early")},
	review.AjarLong: {
		text("The door stood ajar for long: more air than the flames used, and its heat went up."),
		func(f finding) string {
			return f.loc.T("Shut the door about ") + f.by() + f.loc.T(" sooner, once the flames hold.")
		},
		text("door ajar for long")},
	review.Wet: {
		func(f finding) string {
			return f.loc.T("The wood was wet: ") + f.loc.Percent(units.Fraction(f.From), 0) + f.loc.T(". Its water was boiled off before its gas burnt.")
		},
		func(f finding) string {
			return f.loc.T("Burn wood of up to about ") + f.loc.Percent(units.Fraction(f.To), 0) + f.loc.T("; let this stack dry on.")
		},
		text("wet wood")},
	review.DownEarly: {
		func(f finding) string {
			return f.loc.T("The ") + f.air() + f.loc.T(" was taken back before the load was burning all over.")
		},
		func(f finding) string {
			return f.loc.T("After loading, hold the ") + f.air() + f.loc.T(" about ") + f.by() + f.loc.T(" longer before it is taken back.")
		},
		text("air back early")},
	review.DownLate: {
		func(f finding) string {
			return f.loc.T("The ") + f.air() + f.loc.T(" stayed open, and it ran too hot.")
		},
		func(f finding) string {
			return f.loc.T("Take the ") + f.air() + f.loc.T(" to ") + f.to() + f.loc.T(" about ") + f.by() + f.loc.T(" after loading.")
		},
		text("air left open")},
	review.TooFar: {
		func(f finding) string {
			return f.loc.T("The ") + f.air() + f.loc.T(" was left at ") + f.from() + f.loc.T(": in this stove too little for the load that was in.")
		},
		func(f finding) string {
			return f.loc.T("Leave the ") + f.air() + f.loc.T(" at ") + f.to() + f.loc.T(", not at ") + f.from() + "."
		},
		text("air too far back")},
	review.TooOpen: {
		func(f finding) string {
			return f.loc.T("The ") + f.air() + f.loc.T(" was left at ") + f.from() + f.loc.T(": much of the heat went up the flue.")
		},
		func(f finding) string {
			return f.loc.T("Take the ") + f.air() + f.loc.T(" on to ") + f.to() + f.loc.T(" in the end.")
		},
		text("air left open")},
	review.LateLoad: {
		text("The load came on coals that had gone down far, and smoked until it caught."),
		func(f finding) string {
			return f.loc.T("Load about ") + f.by() + f.loc.T(" sooner, or lay kindling first.")
		},
		text("loaded late")},
	review.BypassOut: {
		text("The bypass stayed open while the catalyst was hot enough to work."),
		text("Close the bypass when the catalyst has been over its light-off for a few minutes."),
		text("bypass open")},
	review.TooMuch: {
		func(f finding) string { return f.loc.T("The load was more than the room had use for.") },
		func(f finding) string {
			if f.To == 0 {
				return f.loc.T("Leave the last load out: what burns and what the walls hold is enough.")
			}
			return f.loc.T("Load ") + Pieces(int(f.To), f.loc) + f.loc.T(", not ") + number(int(f.From), f.loc) + "."
		},
		text("a large load")},
	review.EarlyLoad: {
		text("The load went on while the fire was still hot and flaming."),
		func(f finding) string {
			return f.loc.T("Load about ") + f.by() + f.loc.T(" later: when the flames are gone and the gauge has fallen by a third.")
		},
		text("loaded early")},
}

// Aim is what a finding says to do next time, beside a plan that has worked out its
// own: a setting or a number of pieces was right for the load that was in, and the
// plan's is for the one that will be. Two of them without a word which holds would
// leave somebody at the stove with two answers.
func Aim(f review.Finding, u lang.Locale) string {
	next := Finding(f, u).Next
	switch f.Code {
	case review.DownLate, review.TooFar, review.TooOpen, review.TooMuch:
		return next + u.T(" That was for the load of then: where a step says something else, do what the step says.")
	}
	return next
}

// Finding is a finding in words.
func Finding(f review.Finding, loc lang.Locale) Found {
	w, known := findings[f.Code]
	if !known {
		return Found{}
	}
	said := finding{f, loc}
	would := foremost(f.Would, loc)
	if f.ByPractice {
		would = loc.T("as a rule less smoke, less tar in the flue and more heat from each kilogram; how much was not computed")
	}
	out := Found{What: w.what(said), Would: would, Next: w.next(said), Short: w.short(said)}
	// Told often and not done, the same words do not help: then it is said what it is worth in
	// an evening, and that it may be let be.
	if f.Again >= saidOften {
		out.Next = loc.F("For the %s time: %s If it does not suit you, let it be; it is not said again before it is worth more.", nth(f.Again+1, loc),
			units.LowerFirst(out.Next))
	}
	return out
}

// saidOften is how often a finding is told in the same words; see [review.StopAfter].
const saidOften = 3

func nth(n int, loc lang.Locale) string {
	words := map[int]string{2: loc.T("second"), 3: loc.T("third"), 4: loc.T("fourth"), 5: loc.T("fifth"), 6: loc.T("sixth")}
	if w, ok := words[n]; ok {
		return w
	}
	return loc.F("%dth", n)
}

// A Hurting is a danger of a burn in words.
type Hurting struct{ What, Next string }

// Hurt says what was dangerous in a burn, and what to do next time.
func Hurt(d review.Danger, loc lang.Locale) Hurting {
	long, often := loc.Duration(max(time.Minute, d.For.Round(time.Minute))), ""
	if d.Times > 1 {
		often = loc.F(", %s times", number(d.Times, loc))
	}
	switch d.Code {
	case review.BurntFlue:
		return Hurting{loc.T("A chimney fire."), loc.T("No fire before the flue was inspected and it is entered under Upkeep. Then dry wood, and no night turned down too far.")}
	case review.Monoxide:
		what := loc.T("The CO alarm sounded.")
		if d.PPM > 0 {
			what = loc.F("The CO display showed up to %.0f ppm.", d.PPM)
		}
		return Hurting{what, loc.T("No fire before you know why: a flue that does not draw, fans, a room without air of its own, coals that were shut off. " +
			"Have the flue looked at; then a window on the stove's level open while you light.")}
	case review.RoomSmoke:
		return Hurting{loc.T("Smoke came into the room") + often + ".", loc.T("Before you light: fans off, a window on the stove's level a crack open, a match at the open door, " +
			"and the flue warmed with paper where the flame leans in. Open the door slowly, and never on a load that gasses. If it comes again, have the flue looked at.")}
	case review.RanHot:
		return Hurting{loc.F("Too hot for %s%s: the %s was at up to %s.", long, often, Places.Short(d.Place), loc.Temperature(d.Peak)),
			loc.T("A piece less, and the air to a half once the wood is black, before the gauge is near its limit. Never the door or the flap open on such a fire.")}
	case review.FlapLong:
		return Hurting{loc.F("The ash flap stood open for %s%s.", long, often),
			loc.T("The flap is for lighting: open it only as long as you kneel there, with the timer on, and shut it when the kindling stands.")}
	case review.TwoFuels:
		return Hurting{loc.F("%s of mineral fuel burnt together with wood, or in a stove for wood.", loc.Mass(d.Mass)),
			loc.T("One fuel at a time, and only what the manual allows.")}
	case review.Overload:
		return Hurting{loc.F("%s was put on at once; the manual's largest load is %s.", loc.Mass(d.Mass), loc.Mass(d.Most)),
			loc.T("Up to ") + loc.Mass(d.Most) + loc.T(" at once, and the rest when that is coals.")}
	case review.DoorLong:
		return Hurting{loc.F("The door stood ajar or open for %s%s.", long, often), loc.T("Shut it when the flue draws by itself; ajar only while you kneel there, with the timer on.")}
	case review.Died:
		what := loc.T("The fire went out with wood in it.")
		if d.Times > 1 {
			what = loc.F("The fire died %s times.", number(d.Times, loc))
		}
		if d.Left >= 0.15 {
			what += loc.F(" About %s of wood was left unburnt.", loc.Mass(d.Left))
		}
		return Hurting{what, loc.T("More kindling and smaller splits to begin with; all the air until everything is black; big wood only on a bed of coals. " +
			"If it dies so again: measure the wood on a fresh split.")}
	}
	return Hurting{}
}

// Would says how a burn would have differed: what is sure of it, the most telling first;
// empty: nothing is.
func Would(d review.Difference, loc lang.Locale) string {
	gains, rest := differs(d, loc)
	return strings.Join(append(gains, rest...), ", ")
}

// foremost says the most telling gain and all that it would have cost, and how long it would have
// lasted: what else it would have brought stands on the strip.
func foremost(d review.Difference, loc lang.Locale) string {
	gains, rest := differs(d, loc)
	return strings.Join(append(gains[:min(1, len(gains))], rest...), ", ")
}

// differs is what is sure of a difference: what is better, the most telling first, and what is
// worse, with how much longer or shorter it would have lasted.
func differs(d review.Difference, loc lang.Locale) (gains, rest []string) {
	say := func(text string, better bool) {
		switch {
		case text == "":
		case better:
			gains = append(gains, text)
		default:
			rest = append(rest, text)
		}
	}
	if math.Abs(d.Smoke.Middle) >= 1 {
		say(shareOf(d.Share, loc.T("less smoke"), loc.T("more smoke"), loc), d.Share.High < 0)
	}
	if d.TooHot.High < -1 || d.TooHot.Low > 1 {
		say(spread(d.TooHot, loc.T("min"), loc.T("less too hot"), loc.T("more too hot"), loc), d.TooHot.High < 0)
	}
	if math.Abs(d.PerKilo.Middle) >= 0.02 {
		say(shareOf(d.PerKilo, loc.T("less heat from each kilogram"), loc.T("more heat from each kilogram"), loc), d.PerKilo.Low > 0)
	}
	if math.Abs(d.Lasts.Middle) >= 4 && d.Lasts.Low*d.Lasts.High > 0 {
		how := loc.T("longer")
		if d.Lasts.Middle < 0 {
			how = loc.T("shorter")
		}
		rest = append(rest, loc.Duration(time.Duration(math.Abs(d.Lasts.Middle))*time.Minute)+" "+how)
	}
	return gains, rest
}

// shares says a share of which both ends are on one side: "40–60 % less smoke".
func shareOf(r review.Range, less, more string, loc lang.Locale) string {
	return spread(r.Times(100), "%", less, more, loc)
}

// spread says a range of which both ends are on one side of nothing; empty: they are not.
func spread(r review.Range, unit, less, more string, loc lang.Locale) string {
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
		return fmt.Sprintf("%s\u202f%s %s", loc.Number(b, 0), unit, how)
	case a <= 0:
		return loc.F("up to %s\u202f%s %s", loc.Number(b, 0), unit, how)
	}
	return fmt.Sprintf("%s–%s\u202f%s %s", loc.Number(a, 0), loc.Number(b, 0), unit, how)
}

// Answer says what came of last time's one thing.
func Answer(a review.Answer, loc lang.Locale) string {
	did := map[bool]func(review.Answer, lang.Locale) string{true: didWords, false: didNot}[a.Done](a, loc)
	if did == "" {
		return ""
	}
	switch {
	case a.Beside == 0:
		return did + loc.T(" Too few burns before it to say what came of it.")
	case math.Abs(a.Smoke) < 0.1:
		return did + loc.T(" About as much smoke for each kilogram as in the ") + number(a.Beside, loc) + loc.T(" burns before.")
	case a.Smoke < 0:
		return did + loc.F(" About %s less smoke for each kilogram than in the %s burns before.", loc.Percent(units.Fraction(-a.Smoke), 0), number(a.Beside, loc))
	}
	return did + loc.F(" About %s more smoke for each kilogram than in the %s burns before: something else was not as it was then.",
		loc.Percent(units.Fraction(a.Smoke), 0), number(a.Beside, loc))
}

func didWords(a review.Answer, loc lang.Locale) string {
	minutes := loc.Duration(time.Duration(math.Abs(a.By)) * time.Minute)
	switch a.Code {
	case review.Lit:
		return loc.T("You lit it from above this time.")
	case review.ShutEarly:
		return loc.T("You left the door ajar ") + minutes + loc.T(" longer.")
	case review.AjarLong:
		return loc.T("You shut the door ") + minutes + loc.T(" sooner.")
	case review.DownEarly:
		return loc.T("You held the air ") + minutes + loc.T(" longer.")
	case review.DownLate:
		return loc.T("You took the air back sooner.")
	case review.TooFar, review.TooOpen:
		return loc.T("You left the ") + loc.Mid(a.Control.Name) + loc.T(" at ") + Mark(a.Control.Scale, a.To, loc) + loc.T(", not at ") + Mark(a.Control.Scale, a.From, loc) + "."
	case review.Wet:
		return loc.T("You burnt drier wood: ") + loc.Percent(units.Fraction(a.To), 0) + loc.T(" where it was ") + loc.Percent(units.Fraction(a.From), 0) + "."
	}
	return ""
}

func didNot(a review.Answer, loc lang.Locale) string {
	switch a.Code {
	case review.Lit:
		return loc.T("It was lit from below again.")
	case review.ShutEarly:
		return loc.T("The door was shut as soon as last time.")
	case review.AjarLong:
		return loc.T("The door stood ajar as long as last time.")
	case review.DownEarly:
		return loc.T("The air was taken back as soon as last time.")
	case review.DownLate:
		return loc.T("The air stayed open as long as last time.")
	case review.TooFar, review.TooOpen:
		return loc.T("The ") + loc.Mid(a.Control.Name) + loc.T(" was left at ") + Mark(a.Control.Scale, a.To, loc) + loc.T(" again, or near it.")
	case review.Wet:
		return loc.T("The wood was as wet as last time.")
	}
	return ""
}
