package web

import (
	"fmt"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/store"
)

// A firstAnswer stands before every step of a plan: what is seen, what to do
// about it now, and what it is for.
type firstAnswer struct {
	Kind          string
	Says, Do, Why string
	Grave         bool // somebody may be hurt: it stands out
	Taps          []stepTap
}

// answerFirst puts into words what must be answered before anything else.
func answerFirst(q *request, b store.Burn, f burn.First) *firstAnswer {
	u := q.units()
	a := &firstAnswer{Kind: string(f.Kind)}
	switch f.Kind {
	case burn.OverLimit:
		a.Grave = true
		a.Says = fmt.Sprintf("Too hot: the %s is at %s, and %s is its limit.", f.Gauge.Place.Short(), u.Temperature(f.Reading), u.Temperature(f.Gauge.Band.TooHot))
		a.Do = "Shut the air as the manual says for this. Keep the door shut, put nothing on, and stay until it falls."
		a.Why = "An opened door feeds it. If it climbs on, the pipe glows, or it roars in the chimney: everybody out, and call the fire service."
		a.Taps = airTaps(b, 0)
		if e, ok := b.Last(func(e burn.Entry) bool { return e.Kind == burn.Door }); ok && e.Door != fire.Shut {
			a.Do = "Shut the door, then the air as the manual says for this. Put nothing on, and stay until it falls."
			a.Taps = append([]stepTap{{Kind: string(burn.Door), Value: "shut", Word: "door shut"}}, a.Taps...)
		}
	case burn.Spillage:
		a.Grave = true
		a.Says = fmt.Sprintf("The draft is %s: smoke and carbon monoxide come into the room.", u.Draft(f.Draft))
		a.Do = "Open a window on the stove's level, switch extraction fans off, keep the stove's door shut and its air open. Put nothing on."
		a.Why = "If the alarm sounds, or anybody has a headache or feels sick: everybody out, the door open behind you. If it does not turn in some minutes, leave the room, and have the flue looked at."
	case burn.DoorForgotten:
		a.Says = fmt.Sprintf("The door has stood %s for %s.", map[fire.Door]string{fire.Ajar: "ajar", fire.Open: "open"}[f.Door], units.Duration(f.For))
		a.Do = "Shut it now, or stay by it."
		a.Why = "Through the gap the fire runs away, sparks come out, and the heat goes up the chimney."
		a.Taps = []stepTap{{Kind: string(burn.Door), Value: "shut", Word: "door shut"}}
	case burn.SmokeInCold:
		a.Says = "Blue-grey smoke at the cap: the wood smoulders."
		if f.Known {
			a.Says = fmt.Sprintf("Blue-grey smoke at the cap and the %s at only %s: the wood smoulders.", f.Gauge.Place.Short(), u.Temperature(f.Reading))
		}
		a.Do = "All air open; do not turn down. If flames do not come in some minutes: small dry sticks on it, and the door ajar while you stay."
		a.Why = "Turned down now it would smoke for hours and leave its tar in the flue."
		a.Taps = airTaps(b, 1)
	}
	return a
}

// notCaught answers a load whose time to be turned down has come and whose flue
// is cold.
func notCaught(b store.Burn) *firstAnswer {
	return &firstAnswer{Kind: "not-caught", Says: "The load has not caught: by now the flue should be warm, and it is not.",
		Do:  "All air open; do not turn down. Small dry sticks on the coals, the door ajar while you stay, until flames hold by themselves.",
		Why: "What is not black all over still drives its water off; with less air it would only smoke.", Taps: airTaps(b, 1)}
}

// airTaps set everything that feeds the fire, but what comes from below where
// there is air from above.
func airTaps(b store.Burn, opening float64) []stepTap {
	var out []stepTap
	for _, c := range b.Stove.Controls {
		switch c.Role {
		case stove.Combined, stove.PrimaryAir, stove.TopAir, stove.DoorVent:
		case stove.SecondAir, stove.GlassWash, stove.Fan:
			if opening > 0 && c.Role == stove.Fan {
				continue
			}
		case stove.UnderGrate, stove.AshFlap:
			if air, _ := b.Stove.MainAir(); opening > 0 && air.Key != c.Key {
				continue
			}
		default:
			continue
		}
		says := c.Scale.Say(opening)
		out = append(out, stepTap{string(burn.Control), c.Key, says, c.Name + " " + says})
	}
	return out
}
