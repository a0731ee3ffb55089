package say

import (
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/follow"
	"smolder/internal/core/policy"
	"smolder/internal/core/review"
	"smolder/internal/lang"
)

// Lack says what the sign of a step still lacks, as a part of a sentence; empty
// where nothing is known to be lacking.
func Lack(l follow.Lack, loc lang.Locale) string {
	switch l.Kind {
	case follow.TooLow:
		return loc.F("the %s is at %s", Places.Short(l.Gauge), loc.Temperature(l.Reading))
	case follow.NotHeld:
		return loc.F("the %s is at %s, and not yet for %s", Places.Short(l.Gauge), loc.Temperature(l.Reading), loc.Duration(l.Held))
	case follow.Falling:
		return loc.F("the %s still falls: wait", Places.Short(l.Gauge)) // how fast stands by the gauge
	case follow.CoalsGone:
		return loc.T("there are too few coals to light it: kindling under it, or plan a new fire")
	case follow.Rising:
		return loc.F("the %s still rises: wait", Places.Short(l.Gauge))
	case follow.OverBand:
		return loc.F("the %s is at %s: nothing goes on over %s", Places.Short(l.Gauge), loc.Temperature(l.Reading), loc.Temperature(l.Limit))
	case follow.NotFallen:
		return loc.F("the %s is at %s, and has not fallen to %s yet", Places.Short(l.Gauge), loc.Temperature(l.Reading), loc.Sign(l.Limit))
	case follow.Unread:
		if l.Held < 2*time.Minute {
			return "" // it has only just begun
		}
		return loc.F("the %s was not read for %s: read it, or say what you see", Places.Short(l.Gauge), loc.Duration(l.Held.Round(time.Minute)))
	case follow.Declined:
		return loc.T("you have said: not yet")
	case follow.NoFlames:
		return loc.T("no flames are seen or likely: what does not burn is not turned down")
	case follow.StillWood:
		return loc.F("the %s has fallen to %s, and by what is computed much of the wood is still there", Places.Short(l.Gauge), loc.Temperature(l.Reading))
	case follow.ItIsOut:
		return loc.T("it is out: lay and light it anew, or end this burn")
	}
	return ""
}

// Asked is a question that only somebody at the stove can answer; empty: none.
func Asked(a follow.Ask, loc lang.Locale) string {
	switch a {
	case follow.AskCoals:
		return loc.T("Is it down to coals: at most a last small flame, and glow across the floor?")
	case follow.AskBlack:
		return loc.T("Is every piece black all over?")
	}
	return ""
}

// ago says how old something is, from where it matters.
func ago(d time.Duration, loc lang.Locale) string {
	if d < policy.ReadingHolds {
		return ""
	}
	return loc.Duration(d.Round(time.Minute)) + loc.T(" ago")
}

// everybodyOut is what a CO alarm asks for, in the words of its page.
const everybodyOut lang.Message = "Everybody out now, the door left open behind you. Call the emergency number from outside. Do not adjust the stove first."

// An Alarm is what stands before every step of a plan: what is seen, what to do
// about it now, and what it is for.
type Alarm struct {
	Says, Do, Why string
	Grave         bool // somebody may be hurt: it stands out
}

// First says what must be answered before anything else; doorOpen tells that the
// stove's door is not shut.
func First(f burn.First, doorOpen bool, loc lang.Locale) Alarm {
	switch f.Kind {
	case burn.CarbonMonoxide:
		a := Alarm{Grave: true, Says: loc.T("The CO alarm sounds."), Do: loc.T(everybodyOut),
			Why: loc.T("When the house was aired, everybody is well and the display shows nothing, say so here: CO display, 0.")}
		if f.PPM > 0 {
			a.Says = loc.F("The CO display shows %.0f ppm.", f.PPM)
		}
		return a
	case burn.InTheChimney:
		return Alarm{Grave: true, Says: loc.T("A chimney fire."),
			Do: loc.T("Shut the door and all the air if it is safe, everybody out, and call the fire service. Never water into the firebox."),
			Why: loc.T("No fire in this stove until a sweep has inspected the flue and it is entered under Upkeep: the liner may have cracked, " +
				"and what smoulders behind it is not seen.")}
	case burn.OverLimit:
		a := Alarm{Grave: true, Says: loc.F("Too hot: the %s is at %s, and %s is its limit.",
			Places.Short(f.Gauge.Place), loc.Temperature(f.Reading), loc.Temperature(f.Gauge.Band.TooHot)),
			Do:  loc.T("Shut the air as the manual says for this. Keep the door shut, put nothing on, and stay until it falls."),
			Why: loc.T("An opened door feeds it. If it climbs on, the pipe glows, or it roars in the chimney: everybody out, and call the fire service.")}
		if float64(f.Reading) <= policy.JustOver*float64(f.Gauge.Band.TooHot) {
			a.Do = loc.T("The air far down, or as the manual says for this; if it climbs on, shut. Keep the door shut, put nothing on, and stay until it falls.")
		}
		if doorOpen {
			a.Do = loc.T("Shut the door, then the air as the manual says for this. Put nothing on, and stay until it falls.")
		}
		if old := ago(f.For, loc); old != "" {
			a.Says = loc.F("Too hot: the %s was at %s %s, over its limit of %s, and was not read since.",
				Places.Short(f.Gauge.Place), loc.Temperature(f.Reading), old, loc.Temperature(f.Gauge.Band.TooHot))
			a.Do = loc.T("Read it again now. ") + a.Do
		}
		return a
	case burn.Spillage:
		a := Alarm{Grave: true, Says: loc.F("The draft is %s: smoke and carbon monoxide come into the room.", loc.Draft(f.Draft)),
			Do: loc.T("Open a window on the stove's level, switch extraction fans off, keep the stove's door shut and its air open. Put nothing on."),
			Why: loc.T("If the alarm sounds, or anybody has a headache or feels sick: everybody out, the door open behind you. " +
				"If it does not turn in some minutes, leave the room, and have the flue looked at.")}
		if f.Seen {
			a.Says = loc.T("Smoke comes into the room, and carbon monoxide with it.")
			if old := ago(f.For, loc); old != "" {
				a.Says = loc.F("Smoke came into the room %s, and nobody has said that it is gone.", old)
			}
			a.Why += loc.T(" When it is gone, say so: smoke, gone.")
		}
		return a
	case burn.SomeMonoxide:
		return Alarm{Grave: true, Says: loc.F("The CO display shows %.0f ppm, and it should show nothing.", f.PPM),
			Do:  loc.T("Open a window or hatch and the vent, leave the stove's air open, and look again in five minutes."),
			Why: loc.T("If it rises, or anybody has a headache or feels sick: everybody out. When it shows nothing, say so: CO display, 0.")}
	case burn.FlapForgotten:
		a := Alarm{Grave: true, Says: loc.F("The %s has been open for %s.", loc.Mid(f.Control.Name), loc.Duration(f.For.Round(time.Minute))),
			Do:  loc.T("Shut it now."),
			Why: loc.T("Air through the ash pan blows the fire like a forge: it warps grates and overheats stove and chimney within minutes. It is for lighting only.")}
		if f.Known {
			a.Says = loc.F("The %s has been open for %s, and the %s is at %s.", loc.Mid(f.Control.Name),
				loc.Duration(f.For.Round(time.Minute)), Places.Short(f.Gauge.Place), loc.Temperature(f.Reading))
		}
		return a
	case burn.Overload:
		than := loc.T("manual's largest load of ") + loc.Mass(f.Most)
		if f.Assumed {
			than = loc.T("most that manuals of stoves of this size allow, ") + loc.Mass(f.Most)
		}
		went := loc.T("went on")
		if f.Seen {
			went = loc.T("of loads that hardly burnt lie on each other")
		}
		return Alarm{Grave: true, Says: loc.F("%s %s: %s the %s.", loc.Mass(f.Mass), went, times(float64(f.Mass)/float64(f.Most), loc), than),
			Do: loc.T("Put nothing more on, keep the door shut, stay by it, and read the gauge every few minutes."),
			Why: loc.T("So much wood can run away: have the air down to a half as soon as it is black, earlier where a gauge nears its limit. " +
				"Do not take burning wood out.")}
	case burn.MineralOnWood:
		return Alarm{Grave: true, Says: loc.F("%s of mineral fuel and wood burn together, or mineral fuel in a stove for wood.", loc.Mass(f.Mass)),
			Do: loc.T("Put no more of either on. Leave the air open and the door shut, and let it burn out. Watch the gauge and the CO alarm."),
			Why: loc.T("Two fuels at once run hotter than either, and their gases together eat steel, unless the manual allows that very thing. " +
				"What was put on stays in the log.")}
	case burn.GlazeSeen:
		return Alarm{Says: loc.T("Shining tar in the flue: glaze."),
			Do:  loc.T("Let this fire burn down, and light no other before a sweep has seen it."),
			Why: loc.T("Glaze is what chimney fires burn. A brush does not take it off; a sweep knows what does.")}
	case burn.DoorForgotten:
		return Alarm{Says: loc.F("The door has stood %s for %s.", doorWords[f.Door], loc.Duration(f.For)),
			Do:  loc.T("Shut it now, or stay by it."),
			Why: loc.T("Through the gap the fire runs away, sparks come out, and the heat goes up the chimney.")}
	}
	a := Alarm{Says: loc.T("Blue-grey smoke at the cap: the wood smoulders."),
		Do:  loc.T("All air open; do not turn down. If flames do not come in some minutes: small dry sticks on it, and stay by it."),
		Why: loc.T("Turned down now it would smoke for hours and leave its tar in the flue.")}
	if f.Known {
		a.Says = loc.F("Blue-grey smoke at the cap and the %s at only %s: the wood smoulders.", Places.Short(f.Gauge.Place), loc.Temperature(f.Reading))
	}
	return a
}

// times says a factor: "a third more than", "twice".
func times(f float64, loc lang.Locale) string {
	switch {
	case f < 1.42:
		return loc.T("a third more than")
	case f < 1.75:
		return loc.T("half as much again as")
	case f < 2.3:
		return loc.T("twice")
	case f < 2.75:
		return loc.T("two and a half times")
	}
	return loc.F("%.0f times", f)
}

var doorWords = map[fire.Door]lang.Message{fire.Shut: "shut", fire.Ajar: "ajar", fire.Open: "open"}

// Door says how a door stands: "door ajar".
func Door(d fire.Door, loc lang.Locale) string { return loc.F("door %s", doorWords[d]) }

// glances are the states of a fire in a word or two, for who walks by.
var glances = map[fire.Phase]lang.Message{
	fire.Preparing: "Ready to light", fire.Lighting: "Catching", fire.Establishing: "Catching", fire.Charring: "Charring", fire.Cruising: "Burning well",
	fire.Coaling: "Coals", fire.Out: "Out", review.Smouldering: "Smouldering",
}

// AtAGlance is how a fire is, in a word or two.
func AtAGlance(a coach.Answer, loc lang.Locale) string {
	switch {
	case a.Phase == "":
		return loc.T("A fire is in")
	case a.Smoulders():
		return loc.T(glances[review.Smouldering])
	}
	return loc.T(glances[a.Phase])
}
