package say

import (
	"fmt"
	"math"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
)

// Lull says that no fire is needed, or not yet; empty where one is wanted now.
func Lull(w wish.Wish, loc lang.Locale) string {
	low := loc.RoomTemperature(w.Low)
	switch lull, alone := w.Lull(); lull {
	case wish.AllTime:
		return loc.F("No fire is needed: by itself the room stays above %s all that time.", low)
	case wish.Wait:
		return loc.F("By itself the room stays above %s for about %s: lighting later would do.", low, loc.Duration(alone.Round(10*time.Minute)))
	}
	return ""
}

// Drying says what a fire does for a damp room, for the aim that asks for it.
func Drying(p plan.Plan, loc lang.Locale) string {
	if p.Wish.Aim != wish.DryOut {
		return ""
	}
	d, known := p.Drying()
	switch {
	case !known:
		return ""
	case d.Water <= 0:
		return loc.F("The air outside is too damp to dry with: in the room it would be at %s. Wait for drier weather, or dry without airing.",
			loc.Percent(d.Warmed, 0))
	}
	return loc.F("The air outside is at %s once it is warm: the fire draws %s of it through the room and takes about %s of water out of a room at %s. A window a little open takes more.",
		loc.Percent(d.Warmed, 0), loc.Air(units.Litre(d.Air*1000)), loc.Mass(d.Water), loc.Percent(plan.DampRoom, 0))
}

// Return says, of an absence or a night, how warm the room is at its end, and
// where that is under what is wanted, what it takes. Empty where the room is warm
// by then, or the aim is another.
func Return(p plan.Plan, loc lang.Locale) string {
	r, cold := p.Return()
	if !cold {
		return ""
	}
	whose := loc.T("When somebody is back")
	if p.Wish.Aim == wish.Overnight {
		whose = loc.T("In the morning")
	}
	says := loc.F("%s the room is at about %s.", whose, loc.RoomTemperature(units.Celsius(math.Round(float64(r.Room)))))
	low := loc.RoomTemperature(p.Wish.Low)
	switch {
	case !r.Known:
		return says
	case r.Warms:
		says += loc.F(" A fire lit then has it at %s after about %s.", low, loc.Duration(r.Needs.Round(10*time.Minute)))
	default:
		says += loc.F(" A fire lit then does not reach %s in four hours.", low)
	}
	return says + loc.F(" To come home to a warm room takes about %s all the time: somebody who puts on the largest load every %s or so, or other heating.",
		loc.Power(r.Steady), loc.Duration(r.Every.Round(30*time.Minute)))
}

// Match says whether a stove goes with the heat wanted. It never advises to burn
// hotter than is safe or lower than is clean.
func Match(o plan.Output, wanted units.Watt, loc lang.Locale) string {
	low, high := loc.Power(o.Low), loc.Power(o.High)
	switch o.Match(wanted) {
	case plan.NoClean:
		return loc.T("No setting of this stove burns this wood clean and safe.")
	case plan.TooMuch:
		gap := units.Fraction((o.Low - wanted) / o.Low)
		return loc.F("Its lowest clean output is %s and only %s is wanted: small hot fires, with about %s of the time between them without one.",
			low, loc.Power(wanted), loc.Percent(gap, 0))
	case plan.TooLittle:
		return loc.F("Its highest safe output is %s and %s is wanted: %s is missing, which other heating must give.",
			high, loc.Power(wanted), loc.Power(wanted-o.High))
	}
	return loc.F("It gives %s to %s clean and safe; %s is wanted.", low, high, loc.Power(wanted))
}

// Beside tells that another stove is reckoned with; empty where there is none.
func Beside(w wish.Wish, loc lang.Locale) string {
	const felt = 50 // W
	for _, h := range w.Beside {
		if h.Heat > felt {
			return loc.T("Another stove in the same space gives heat too; it is counted in.")
		}
	}
	return ""
}

// Forecast is the range of a forecast; empty where there is none.
func Forecast(hours []fire.Weather, loc lang.Locale) string {
	if len(hours) < 2 {
		return ""
	}
	low, high, wind := hours[0].Outdoor, hours[0].Outdoor, 0.0
	for _, h := range hours {
		low, high, wind = min(low, h.Outdoor), max(high, h.Outdoor), max(wind, h.Wind)
	}
	return loc.F("Forecast: %s to %s outside, wind up to %s.", loc.Degrees(low), loc.Temperature(high), loc.Speed(wind))
}

// Draft judges the draft of a chimney, Pa at the collar.
func Draft(net units.Pascal, loc lang.Locale) string {
	switch {
	case net < 0:
		return loc.T("The room pulls harder than the chimney: smoke would come in. Fans off, a window on the stove's level open a crack, and warm the flue first.")
	case net < weakChimney:
		return loc.T("Weak: the stove will be slow to take and may spill when the door is opened. Warm the flue before lighting.")
	case net > strongChimney:
		return loc.T("Strong: the fire is hard to hold back. Ask a licensed installer about a damper that your manual allows.")
	}
	return loc.F("Good: most stoves are made for about %s to %s.", loc.Draft(10), loc.Draft(25))
}

// Stoves are tested at 12 Pa (EN 16510-1), and made to work at about twice and
// half of it.
const weakChimney, strongChimney units.Pascal = 5, 27

// Alarms is the line of a checklist for the alarms; tested is the day on which
// somebody pressed their buttons, zero where nobody has said.
func Alarms(tested, now time.Time, loc lang.Locale) string {
	switch {
	case tested.IsZero():
		return loc.T("CO and smoke alarms: not known when they were tested. Press the button on each, and note it under Upkeep.")
	case now.Sub(tested) > alarmsHold:
		return loc.T("CO and smoke alarms were tested on ") + loc.Date(tested, "2 January 2006") + loc.T(", over a month ago: test them before lighting, and note it under Upkeep.")
	}
	return loc.T("CO and smoke alarms tested on ") + loc.Date(tested, "2 January") + "."
}

// AlarmsDue is the same where the alarms want testing; empty where they do not.
func AlarmsDue(tested, now time.Time, loc lang.Locale) string {
	if !tested.IsZero() && now.Sub(tested) <= alarmsHold {
		return ""
	}
	return Alarms(tested, now, loc)
}

// alarmsHold is how long a test of the alarms holds: their makers ask for one a
// month.
const alarmsHold = 31 * 24 * time.Hour

// Space is a space in a line, with the room temperature that is wanted in it.
func Space(h house.House, wanted [2]units.Celsius, loc lang.Locale) string {
	text := fmt.Sprintf("%s, %s, %s", loc.Area(h.Floor), loc.T(Builds.Name(h.Build)), loc.HeatLoss(h.Loss()))
	if h.Fan > 0 {
		text += loc.T(", fans of ") + loc.Flow(h.Fan)
	}
	return text + loc.F("; wanted %s to %s", loc.RoomTemperature(wanted[0]), loc.RoomTemperature(wanted[1]))
}
