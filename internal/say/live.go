package say

import (
	"fmt"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/follow"
	"smolder/internal/core/units"
)

// Lack says what the sign of a step still lacks, as a part of a sentence; empty
// where nothing is known to be lacking.
func Lack(l follow.Lack, sys units.System) string {
	switch l.Kind {
	case follow.TooLow:
		return fmt.Sprintf("the %s is at %s", Places.Short(l.Gauge), sys.Temperature(l.Reading))
	case follow.NotHeld:
		return fmt.Sprintf("the %s is at %s, and not yet for %s", Places.Short(l.Gauge), sys.Temperature(l.Reading), units.Duration(l.Held))
	case follow.Falling:
		return fmt.Sprintf("the %s still falls by %s a minute: wait until it holds", Places.Short(l.Gauge), sys.Rate(-l.Rate))
	case follow.CoalsGone:
		return "the coals are gone: plan a new fire"
	}
	return ""
}

// An Alarm is what stands before every step of a plan: what is seen, what to do
// about it now, and what it is for.
type Alarm struct {
	Says, Do, Why string
	Grave         bool // somebody may be hurt: it stands out
}

// First says what must be answered before anything else; doorOpen tells that the
// stove's door is not shut.
func First(f burn.First, doorOpen bool, sys units.System) Alarm {
	switch f.Kind {
	case burn.OverLimit:
		a := Alarm{Grave: true, Says: fmt.Sprintf("Too hot: the %s is at %s, and %s is its limit.",
			Places.Short(f.Gauge.Place), sys.Temperature(f.Reading), sys.Temperature(f.Gauge.Band.TooHot)),
			Do:  "Shut the air as the manual says for this. Keep the door shut, put nothing on, and stay until it falls.",
			Why: "An opened door feeds it. If it climbs on, the pipe glows, or it roars in the chimney: everybody out, and call the fire service."}
		if doorOpen {
			a.Do = "Shut the door, then the air as the manual says for this. Put nothing on, and stay until it falls."
		}
		return a
	case burn.Spillage:
		return Alarm{Grave: true, Says: fmt.Sprintf("The draft is %s: smoke and carbon monoxide come into the room.", sys.Draft(f.Draft)),
			Do:  "Open a window on the stove's level, switch extraction fans off, keep the stove's door shut and its air open. Put nothing on.",
			Why: "If the alarm sounds, or anybody has a headache or feels sick: everybody out, the door open behind you. If it does not turn in some minutes, leave the room, and have the flue looked at."}
	case burn.DoorForgotten:
		return Alarm{Says: fmt.Sprintf("The door has stood %s for %s.", doorWords[f.Door], units.Duration(f.For)),
			Do:  "Shut it now, or stay by it.",
			Why: "Through the gap the fire runs away, sparks come out, and the heat goes up the chimney."}
	}
	a := Alarm{Says: "Blue-grey smoke at the cap: the wood smoulders.",
		Do:  "All air open; do not turn down. If flames do not come in some minutes: small dry sticks on it, and the door ajar while you stay.",
		Why: "Turned down now it would smoke for hours and leave its tar in the flue."}
	if f.Known {
		a.Says = fmt.Sprintf("Blue-grey smoke at the cap and the %s at only %s: the wood smoulders.", Places.Short(f.Gauge.Place), sys.Temperature(f.Reading))
	}
	return a
}

var doorWords = map[fire.Door]string{fire.Shut: "shut", fire.Ajar: "ajar", fire.Open: "open"}

// Door says how a door stands: "door ajar".
func Door(d fire.Door) string { return "door " + doorWords[d] }
