package say

import (
	"strings"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// A Counsel is the coach's advice in words: what it sees, what to do, why, what else,
// and when to look again.
type Counsel struct {
	Sees   string // "The flue gas climbs by 21 °C a minute: over 475 °C in 4–9 min as it goes."
	Do     string // "Lever to a half"; what a hand does now or on the sign
	Sign   string // of a step that is waited for
	Second string // another sign of the same
	How    string // how it is done by hand
	Set    string // how it leaves the other controls
	Why    string
	Else   string
	Again  string // "Look again in 5 min."
	Grave  bool   // somebody may be hurt
}

// counsel is one rule's words.
type counsel struct {
	sees, do, why, otherwise func(c counselling) string
	grave                    bool
}

// counselling is an advice while it is said.
type counselling struct {
	coach.Advice
	stove stove.Stove
	loc   lang.Locale
}

func (c counselling) gauge() string   { return c.loc.T(Places.Short(c.Gauge)) }
func (c counselling) reading() string { return c.loc.Temperature(c.Reading) }
func (c counselling) limit() string   { return c.loc.Temperature(c.Limit) }
func (c counselling) rate() string    { return c.loc.Rate(c.Rate) }
func (c counselling) since() string   { return c.loc.Since(c.Since.Round(time.Minute)) }

// sets are the controls as a hand moves them: "Lever to a half, bypass open".
func (c counselling) sets() string {
	parts := make([]string, len(c.Sets))
	for i, s := range c.Sets {
		if parts[i] = To(s.Control, s.Opening, c.loc); i > 0 {
			parts[i] = c.loc.Mid(parts[i])
		}
	}
	return strings.Join(parts, ", ")
}

// does is everything that a hand does: the controls, the door.
func (c counselling) does() string {
	out := c.sets()
	for _, a := range c.Acts {
		if a.Kind == fire.ActDoor {
			if out != "" {
				out += ", "
			}
			out += Door(a.Door, c.loc)
		}
	}
	return units.UpperFirst(out)
}

// loads is the load that is advised, with the controls that go with it; empty: none is.
func (c counselling) loads() string {
	for _, a := range c.Acts {
		if a.Kind == fire.ActLoad && a.Load != nil && !a.Load.Kindling {
			l := *a.Load
			out := c.loc.F("Load %s, %s, %s", Pieces(l.Pieces, c.loc), c.loc.Mass(l.Mass()), Direction(l.Direction))
			if len(c.Sets) > 0 {
				out += c.loc.F("; %s", c.loc.Mid(c.sets()))
			}
			return out
		}
	}
	return ""
}

// lights is what is laid to light a fire again, and how: "two pieces, 1.3 kg, 0.9 kg of kindling
// on top, door ajar".
func (c counselling) lights() string {
	var parts []string
	for _, a := range c.Acts {
		switch {
		case a.Kind == fire.ActLoad && a.Load.Kindling:
			parts = append(parts, c.loc.F("%s of kindling on top", c.loc.Mass(a.Load.Mass())))
		case a.Kind == fire.ActLoad:
			parts = append(parts, c.loc.F("%s, %s", Pieces(a.Load.Pieces, c.loc), c.loc.Mass(a.Load.Mass())))
		case a.Kind == fire.ActDoor:
			parts = append(parts, Door(a.Door, c.loc))
		}
	}
	return strings.Join(parts, ", ")
}

// ajar is what is said where the door may stand ajar to help a fire, or what is said in its
// place where this stove's manual has it shut.
func (c counselling) ajar(with, without lang.Message) lang.Message {
	if c.stove.Ajar() {
		return with
	}
	return without
}

// within is a span of minutes from now: "in 4–9 min".
func within(from, to time.Duration, loc lang.Locale) string {
	a, b := int(from.Round(time.Minute).Minutes()), int(to.Round(time.Minute).Minutes())
	switch {
	case b >= 120 && a >= 60:
		return loc.F("in %s–%s h", hours(from), hours(to))
	case a >= b || a <= 0:
		return loc.F("within %d min", max(1, b))
	}
	return loc.F("in %d–%d min", a, b)
}

func says(text lang.Message) func(counselling) string {
	return func(c counselling) string { return c.loc.T(text) }
}

func does(c counselling) string { return c.does() }

// counsels are the rules' words; a new rule is one row.
var counsels = map[coach.RuleID]counsel{
	coach.Spilling: {grave: true,
		sees: says("By what is computed smoke may come into the room, and carbon monoxide with it: look, and say what you see."),
		do:   says("Open a window on the stove's level, fans off, the stove's door shut and all its air open"),
		why: says("Put nothing on. If the alarm sounds, or anybody has a headache or feels sick: everybody out, the door open behind you, " +
			"and call the emergency number. If there is no smoke in the room, log that: smoke, gone.")},
	coach.Unheard: {
		sees: func(c counselling) string {
			return c.loc.F("Nobody has said anything for %s, and nothing was read: how the fire is, is not known here.", c.since())
		},
		do:  says("Look, and log what you see: flames, down to coals, or out"),
		why: says("What was computed from so long ago is a guess by now. Nothing is advised by it.")},
	coach.GateShut: {
		sees: func(c counselling) string {
			if len(c.Sets) == 0 {
				return c.loc.T("What a fire needs open is shut.")
			}
			return c.loc.F("The %s has been shut for %s, with a fire in.", c.loc.Mid(c.Sets[0].Control.Name), c.since())
		},
		do: does, why: says("A fire needs it open: for its air, for the gas that would else leave unburnt, or for the smoke to go up.")},
	coach.GrateOpen: {
		sees: func(c counselling) string { return c.loc.F("Air has come from below for %s.", c.since()) },
		do:   does,
		why: says("Wood burns on a bed of ash with air from above or the front. From below it burns away under itself, hot and quick; " +
			"that is for lighting.")},
	coach.RoomCold: {
		sees: func(c counselling) string {
			return c.loc.F("The room is at %s, and at least %s is wanted.", c.loc.RoomTemperature(c.Reading), c.loc.RoomTemperature(c.Limit))
		},
		do: func(c counselling) string {
			if len(c.Sets) > 0 {
				return c.does()
			}
			return c.loc.T("More wood with the next load, up to the manual's largest, when this one is down to coals")
		},
		why:       says("As it burns now it gives less than the room loses."),
		otherwise: says("If the gauge nears its limit: back again. The manual's largest load stays the largest.")},
	coach.TurnDown: {
		sees: func(c counselling) string {
			if c.Gauge == "" {
				return c.loc.T("The wood is black all over and burns well.")
			}
			return c.loc.F("The wood is black all over, and the %s is at %s.", c.gauge(), c.reading())
		},
		do: does, why: says("With the air open the heat goes up the flue. Turned down in steps the flames stay, slow and high, and the load lasts."),
		otherwise: says("If no flame is seen for two minutes while there is wood: a step back, and leave it there.")},
	coach.SecondLoad: {
		sees: func(c counselling) string {
			return c.loc.F("The room is at %s, and this load will not bring it to %s.", c.loc.RoomTemperature(c.Reading), c.loc.RoomTemperature(c.Limit))
		},
		do:        func(c counselling) string { return c.loads() },
		why:       says("On wood that still flames it catches at once, and both are turned down together. All of it stays within the manual's largest load."),
		otherwise: says("If the gauge climbs over its band: less air at once, and nothing more on.")},
	coach.LoadBy: {
		sees: func(c counselling) string {
			return c.loc.F("As it burns the room is under %s in %s, and comes down to %s.", c.loc.RoomTemperature(c.Limit), c.loc.Duration(c.From.Round(10*time.Minute)),
				c.loc.RoomTemperature(c.Reading))
		},
		do: func(c counselling) string {
			return c.loc.F("Another load within %s, if it is to stay warm: %s", c.loc.Duration(c.To.Round(5*time.Minute)), Reload(c.stove, c.loc))
		},
		why: says("A room feels a load half an hour after it went on. On coals that still glow it burns quickly and clean.")},
	coach.Enough: {
		sees: func(c counselling) string {
			return c.loc.F("The wood that burns brings the room to about %s, and up to %s is wanted.", c.loc.RoomTemperature(c.Reading), c.loc.RoomTemperature(c.Limit))
		},
		do:  says("Nothing more on: let it go out"),
		why: says("A load now would only make it too warm. The air stays as it is: a fire that is shut down to cool a room smokes.")},
	coach.TooQuick: {
		sees: func(c counselling) string {
			return c.loc.F("By the log all that was done within %s. A fire takes at least %s for it.", c.since(), c.loc.Duration(c.To.Round(time.Minute)))
		},
		do:        says("Look: is it really so far?"),
		why:       says("If something was tapped too soon, undo it in the log: what is said from here on goes by it. If it is so, go on."),
		otherwise: says("If it was turned down with hardly a flame: all air open again, until everything is black.")},
	coach.AskCoals: {
		sees: says("By what is computed the flames are gone by now; nobody has said so."),
		do:   says("Look: down to coals, or still wood and flames? Log it, or read the gauge"),
		why:  says("Only with coals is the next load lit quickly; what is computed alone does not call for one.")},
	coach.Impossible: {
		sees: func(c counselling) string {
			return c.loc.F("The %s is said to be at %s: no fire does that.", c.gauge(), c.reading())
		},
		do:  says("Look whether the thermometer sits in its place, and read it again"),
		why: says("Nothing is advised by it until it is read again. If the number was mistyped, correct it in the log.")},
	coach.Cooled: {
		sees: func(c counselling) string {
			return c.loc.F("The air has been shut for %s, and the %s is down to %s.", c.since(), c.gauge(), c.reading())
		},
		do: does, why: says("Shut for longer it would starve and smoke. Half of what it had is enough, and no further open with this load."),
		otherwise: says("If it climbs again: half of that.")},
	coach.Climbing: {
		sees: func(c counselling) string {
			switch {
			case c.Rate == 0 && float64(c.Reading) >= policy.NearLimit*float64(c.Limit):
				return c.loc.F("The %s is at %s, close to the %s that it may not reach.", c.gauge(), c.reading(), c.limit())
			case c.Rate == 0:
				return c.loc.F("The %s is at %s, and likely over %s within a quarter of an hour as it goes.", c.gauge(), c.reading(), c.limit())
			}
			return c.loc.F("The %s climbs by %s a minute: over %s %s as it goes.", c.gauge(), c.rate(), c.limit(), within(c.From, c.To, c.loc))
		},
		do: func(c counselling) string {
			if len(c.Sets) == 0 && len(c.Acts) > 0 {
				return c.loc.T("Shut the door")
			}
			return c.does()
		}, why: says("Half the air now is enough; at the limit it is late. The door stays shut, and nothing goes on."),
		otherwise: says("If it still climbs in three minutes: half of that again.")},
	coach.DiedOnShut: {
		sees: says("The flames die since the door is shut."), do: does,
		why:       says("The flue does not draw enough by itself yet. Shut it again when the flames stand, and stay by it until then."),
		otherwise: says("If nothing flames in four minutes: small dry sticks where it glows.")},
	coach.DoorAjar: {
		sees: func(c counselling) string {
			if c.Gauge != "" {
				return c.loc.F("The %s is at %s: the flue draws by itself, and the door has stood ajar for %s.", c.gauge(), c.reading(), c.since())
			}
			return c.loc.F("The door has not been shut for %s.", c.since())
		},
		do: does, why: says("Through the gap the fire runs away, sparks come out, and the heat goes up the chimney."),
		otherwise: says("If the flames die: ajar again, and stay by it.")},
	coach.NotCaught: {
		sees: func(c counselling) string {
			return c.loc.F("The load has lain there for %s and has not caught.", c.since())
		},
		do: func(c counselling) string {
			for _, a := range c.Acts {
				if a.Kind == fire.ActLight {
					return c.does() + c.loc.T(", half an armful of kindling where it glows or under the wood, and light it again")
				}
			}
			return c.does() + c.loc.T(", small dry sticks where it glows")
		},
		why: says("Do not turn down. What is not black all over still drives its water off; with less air it would only smoke. Stay while the door is ajar."),
		otherwise: says("If nothing flames in a quarter of an hour: the wood is too wet for these coals. " +
			"Let it char with all its air, and take drier wood next time.")},
	coach.BigTooEarly: {
		sees: func(c counselling) string {
			return c.loc.F("%s went on a fire that has hardly any coals yet.", c.loc.Mass(c.Mass))
		},
		do: does, why: says("Big wood on a small fire smothers it. Let what flames come through; add sticks, no more splits."),
		otherwise: says("If it goes dark: kindling under the new pieces, and light it.")},
	coach.TooFar: {
		sees: func(c counselling) string {
			if c.Gauge != "" && c.Rate < -1 {
				return c.loc.F("Since the air went down %s ago the flames went, and the %s falls by %s a minute.", c.since(), c.gauge(), c.loc.Rate(-c.Rate))
			}
			if c.Reckoned {
				return c.loc.F("By the wood and the air the flames may have gone since the air went down %s ago: look.", c.since())
			}
			return c.loc.F("Since the air went down %s ago the flames went, though there is wood.", c.since())
		},
		do: does, why: func(c counselling) string {
			if c.Reckoned {
				return c.loc.T("Without flames the gas leaves as smoke: if there are none, it was one step too far.")
			}
			return c.loc.T("That was one step too far: without flames the gas leaves as smoke. No lower with this load.")
		},
		otherwise: func(c counselling) string {
			if c.Reckoned {
				return c.loc.T("If you see flames over the wood: leave the air as it is.")
			}
			return c.loc.T(c.ajar("If no flames are back in five minutes: twice as far open, and the door ajar a moment.",
				"If no flames are back in five minutes: twice as far open."))
		},
	},
	coach.NotCharred: {
		sees: func(c counselling) string {
			return c.loc.F("The load went on %s ago and is hardly black all over yet.", c.since())
		},
		do: does, why: says("Until it is black all over it drives its water off; with so little air it smokes. Then down in steps."),
		otherwise: says("If you see that every piece is black: log it, and leave the air as it is.")},
	coach.InSteps: {
		sees: says("The air went down in one go, and the fire is likely to smoulder within a quarter of an hour."),
		do:   does, why: says("In steps, some minutes apart: the lining must be hot enough to burn the gas that less air leaves.")},
	coach.Smoulders: {
		sees: says("The fire smoulders: gas leaves unburnt."), do: does,
		why: says("Turned down it would smoke for hours and leave its tar in the flue."),
		otherwise: func(c counselling) string {
			return c.loc.T(c.ajar("If flames do not come in some minutes: small dry sticks on it, and the door ajar while you stay.",
				"If flames do not come in some minutes: small dry sticks on it."))
		}},
	coach.SmokeLong: {
		sees: func(c counselling) string {
			return c.loc.F("It smoked at the cap %s after the load went on: longer than a load takes to catch.", c.since())
		},
		do: func(c counselling) string {
			if len(c.Sets) == 0 {
				return c.loc.T("Leave the air open, and test this wood with the meter before the next load")
			}
			return c.does()
		},
		why:       says("Smoke for that long is wood too wet, too little air, or pieces that lie too close."),
		otherwise: says("If it smokes on with more air: it is the wood. Drier or smaller pieces next time.")},
	coach.Whistles: {
		sees: says("It whistles or flutters: more air than the inlet lets through quietly."), do: does,
		why: says("Towards the middle, and not lower before the wood is black all over.")},
	coach.GlassBlackens: {
		sees: says("The glass blackens from its edge: the fire burns too cool to keep it clean."), do: does,
		why: says("A little more air, and it burns off again with the next hot fire. If it comes back with dry wood and air, look at the door's gasket.")},
	coach.BypassEarly: {
		sees: func(c counselling) string {
			return c.loc.F("The bypass is shut and the catalyst at %s: below its light-off at %s it burns nothing.", c.reading(), c.limit())
		},
		do: does, why: says("Too cold it clogs. Shut the bypass when it has stood above light-off for five minutes.")},
	coach.BypassReady: {
		sees: func(c counselling) string {
			return c.loc.F("The catalyst is at %s and has stood above light-off for five minutes.", c.reading())
		},
		do: does, why: says("It burns now what the flames leave."),
		otherwise: func(c counselling) string {
			return c.loc.F("If it falls under %s again: bypass open, and more air.", c.limit())
		}},
	coach.Stalled: {
		sees: func(c counselling) string {
			return c.loc.F("The catalyst has fallen to %s, under its light-off at %s, with wood on.", c.reading(), c.limit())
		},
		do: does, why: says("A catalyst that has gone out lets the smoke through. Flames first; shut the bypass when it has been hot for five minutes."),
		otherwise: says("If it never stays hot with flames under it: it may be clogged or worn out. Look at it when it is cold.")},
	coach.Starved: {
		sees: func(c counselling) string {
			return c.loc.F("The air has been shut for %s, and coals glow.", c.since())
		},
		do: does, why: says("Coals without air make carbon monoxide for hours. A little air, always.")},
	coach.Dies: {
		sees: func(c counselling) string {
			return c.loc.F("The flames are gone, with about %s of wood still there.", c.loc.Mass(c.Mass))
		},
		do: func(c counselling) string {
			for _, a := range c.Acts {
				if a.Kind == fire.ActLight {
					return c.loc.T(c.ajar("Kindling on what still glows, or under the wood, door ajar, and light it again",
						"Kindling on what still glows, or under the wood, and light it again"))
				}
			}
			if len(c.Acts) == 0 && len(c.Sets) > 0 {
				return c.does()
			}
			return c.loc.T(c.ajar("Small dry sticks where it glows, door ajar until flames stand by themselves", "Small dry sticks where it glows"))
		},
		why: func(c counselling) string {
			if len(c.Acts) == 0 {
				return c.loc.T("Wood that is hot and does not flame smokes, and it goes out.")
			}
			return c.loc.T("Wood that is hot and does not flame smokes, and it goes out. Stay while the door is ajar.")
		},
		otherwise: says("If it does not take in ten minutes: let it go out with the air as it is, and begin anew when it is cold.")},
	coach.Prime: {
		sees: func(c counselling) string {
			if c.Draft != 0 {
				return c.loc.F("The draft is only %s: the flue does not draw yet.", c.loc.Draft(c.Draft))
			}
			return c.loc.T("The flue hardly draws by itself yet.")
		},
		do:        says("Warm the flue: a few sheets of paper burnt high under it, until the flame leans inwards"),
		why:       says("Lit now it would smoke into the room."),
		otherwise: says("If the flame leans outwards: fans off, a window on the stove's level open, and again. Do not light against it.")},
	coach.Silent: {
		sees: func(c counselling) string {
			return c.loc.F("The %s was last read %s ago.", c.gauge(), c.since())
		},
		do: says("Read it"), why: says("What is said here is computed until then, and this stove may do something else.")},
	coach.NobodyLogs: {
		sees: func(c counselling) string { return c.loc.F("Nothing was logged for %s.", c.since()) },
		do:   says("A look: flames or not, and what the gauge says"), why: says("It keeps what is said here true. If all is well, nothing else is needed.")},
	coach.ItIsOut: {
		sees: func(c counselling) string {
			if c.Mass > 0 {
				return c.loc.F("It went out, and the %s that were put on since are not lit.", c.loc.Mass(c.Mass))
			}
			return c.loc.T("By all that is known it is out.")
		},
		do: func(c counselling) string {
			if len(c.Acts) > 0 {
				return c.loc.F("Light it again: %s; or end this burn", c.loc.Mid(c.lights()))
			}
			if c.Mass > 0 {
				return c.loc.T("Kindling under the wood or on it, air open, and light it; or end this burn")
			}
			return c.loc.T("End this burn, or log what is still there")
		},
		why: func(c counselling) string {
			if c.Mass > 0 {
				return c.loc.T("Wood on warm ash smokes for hours before it catches by itself, if it does.")
			}
			if len(c.Acts) > 0 {
				return c.loc.T("There is time left, and the room is not warm. On what is warm it takes quicker than from cold.")
			}
			return c.loc.T("Ash into a metal bin with a lid, outdoors: coals stay live in it for days.")
		}},
	coach.KeepCoals: {
		sees: says("The flames are gone and the coals glow."), do: does,
		why: says("Nothing needs much air now: less of it keeps the coals for hours longer, and none at all makes carbon monoxide.")},
	coach.LetBurn: {
		sees: says("The room is as warm as you want it, and the coals last."), do: says("Put nothing on: let it burn down"),
		why: func(c counselling) string {
			if c.To <= 0 {
				return c.loc.T("A load now would make it too warm.")
			}
			return c.loc.F("A load now would make it too warm. The coals light one until %s from now.", within(c.From, c.To, c.loc))
		}},
	coach.ReloadNow: {
		sees: func(c counselling) string {
			return c.loc.F("The flames are gone, and some %s of coals glow.", c.loc.Mass(c.Mass))
		},
		do: func(c counselling) string {
			if text := c.loads(); text != "" {
				return text
			}
			return c.loc.T("The next load, if you want more heat: ") + Reload(c.stove, c.loc)
		},
		why: func(c counselling) string {
			if c.To <= 0 {
				return c.loc.T("Now they light it quickly.")
			}
			return c.loc.F("They light a load quickly for now; %s there may be too few.", within(c.From, c.To, c.loc))
		},
		otherwise: says("Air open, a moment's wait, open slowly; coals to where the air comes in; smallest piece first.")},
	coach.CoalsGoing: {
		sees: func(c counselling) string {
			return c.loc.F("Some %s of coals are left: soon too few to light a load.", c.loc.Mass(c.Mass))
		},
		do:  says("Load now, with kindling under it, or let it go out"),
		why: says("On too few coals big wood lies and smokes."),
		otherwise: func(c counselling) string {
			return c.loc.T(c.ajar("If it does not flame in six minutes: sticks, and the door ajar while you stay.", "If it does not flame in six minutes: small dry sticks on it."))
		}},
	coach.NightReady: {
		sees: says("It has burnt on quietly since it was turned down."), do: says("Leave it as it is: ready for the night"),
		why: says("Nothing that was read or is computed points to smouldering. Door shut, nothing near the stove, alarms on.")},
	coach.NightNotYet: {
		sees: says("It does not hold as it is: it is likely to smoulder before long."), do: does,
		why: says("Do not leave it like this: look once more in a quarter of an hour.")},
	coach.Fine: {sees: says("Nothing to do."), why: says("The fire is fine as it is.")},
}

// Reload says how much a next load is in a stove: in its pieces, and up to its largest load.
// Three pieces or more make a pocket of heat; a small firebox takes fewer.
func Reload(st stove.Stove, loc lang.Locale) string {
	most, assumed := st.LargestLoad()
	pieces := loc.T("three pieces or more")
	switch {
	case st.Small():
		pieces = loc.T("two or three thumb-thick pieces")
	case float64(most) < onePiece:
		pieces = loc.T("one piece")
	case float64(most) < twoPieces:
		pieces = loc.T("two pieces")
	}
	if assumed {
		return pieces + loc.T(", and never over the manual's largest load")
	}
	return pieces + loc.T(", up to the manual's ") + loc.Mass(most)
}

// Largest loads, kg, under which a stove takes one usual piece of 0.8 to 1.2 kg at a time,
// or two.
const onePiece, twoPieces = 1.9, 2.9

// Coach puts the coach's advice into words.
func Coach(a coach.Answer, st stove.Stove, p *plan.Plan, loc lang.Locale) Counsel {
	c := counselling{a.Advice, st, loc}
	if a.Advice.Code == coach.PlanStep {
		in := Step(*p, *a.Advice.Step, loc)
		if len(a.Advice.Sets) > len(in.Settings) { // what the plan took for granted and is not so
			in.Set = list(settings(a.Advice.Sets, loc), loc)
		}
		if a.Advice.Fitted { // what is done is what is said
			in.Do, in.Set = c.loads(), ""
			in.Why = loc.T("Less than was planned: as this fire has burnt so far, all of it would be likely to run too hot.")
		}
		if a.Advice.Resized {
			in.Do, in.Set = c.loads(), ""
			in.Why = loc.T("Sized for what is left of the evening.")
		}
		if a.Advice.Kindle {
			in.Do += loc.T(c.ajar(", kindling under it, door ajar", ", kindling under it"))
			in.Sign = loc.T("and light it where nothing catches within minutes.")
			in.Why = loc.T("The coals are few by now: alone they would not light it, and it would lie there and smoke.")
		}
		if a.Advice.Sticks {
			in.Do += loc.T(", some dry sticks under it")
			in.Why = loc.T("The gauge falls, and the coals may be too few to light it at once.")
		}
		return Counsel{Do: in.Do, Sign: in.Sign, Second: in.Second, How: in.How, Set: in.Set, Why: in.Why, Else: in.Else}
	}
	if f := a.Advice.First; f != nil {
		door := false
		for _, act := range a.Advice.Acts {
			door = door || act.Kind == fire.ActDoor && act.Door == fire.Shut
		}
		alarm := First(*f, door, loc)
		return Counsel{Sees: alarm.Says, Do: alarm.Do, Why: alarm.Why, Grave: alarm.Grave}
	}
	row := counsels[a.Advice.Code]
	out := Counsel{Grave: row.grave}
	for _, part := range []struct {
		into *string
		from func(counselling) string
	}{{&out.Sees, row.sees}, {&out.Do, row.do}, {&out.Why, row.why}, {&out.Else, row.otherwise}} {
		if part.from != nil {
			*part.into = part.from(c)
		}
	}
	if a.Advice.Again > 0 {
		out.Again = loc.T("Look again in ") + loc.Duration(a.Advice.Again) + "."
	}
	return out
}

// Away says how long the fire can be left, and when to be back; empty: nobody asked.
func Away(a coach.Answer, loc lang.Locale, zone *time.Location) (do, why string) {
	switch w := a.Away; {
	case w == nil:
		return "", ""
	case w.Stay && len(a.Ahead) > 0:
		return loc.T("Stay by it until the next step."), loc.T("Left alone for ten minutes it would run too hot, or smoke, or lose its coals.")
	case w.Stay:
		return loc.T("Stay by it."), loc.T("Left alone for ten minutes it would run too hot, or smoke, or lose its coals.")
	case w.Wait:
		return loc.F("You can go: this can wait. Be back by %s.", a.At.Add(w.For).In(zone).Format("15:04")),
			loc.F("Until then it stays safe with nobody by it, in %d of 10 of the stoves that this may be.", int(10*w.Safe+0.5))
	default:
		return loc.F("You can go. Be back by %s.", a.At.Add(w.For).In(zone).Format("15:04")),
			loc.F("Until then it stays safe with nobody by it, in %d of 10 of the stoves that this may be.", int(10*w.Safe+0.5))
	}
}

// Watched says what is watched for, as a part of a sentence.
func Watched(w coach.Watched, loc lang.Locale) string {
	switch w.Code {
	case coach.WatchLimit:
		return loc.F("%s near %s: %s", Places.Short(w.Gauge), loc.Sign(w.Limit), loc.Mid(To(w.Control, w.Opening, loc)))
	case coach.WatchFlames:
		return loc.F("flames should stay; if not, %s", loc.Mid(To(w.Control, w.Opening, loc)))
	case coach.WatchBlack:
		return loc.T("every piece black all over: tap it when you see it")
	case coach.WatchProbe:
		return loc.F("the catalyst above %s for five minutes", loc.Sign(w.Limit))
	case coach.WatchCoals:
		return loc.T("coals enough to light a load")
	case coach.WatchDoor:
		return loc.T("the door stands ajar: stay by it")
	case coach.WatchCap:
		return loc.T("a look at the cap: nothing but shimmer is right")
	}
	return ""
}

// events are what comes in a fire.
var events = map[belief.EventKind]lang.Message{
	belief.Blackened: "black all over", belief.Works: "in its band", belief.FlamesDie: "flames gone",
	belief.ReloadFrom: "next load", belief.CoalsFew: "too few coals",
}

// Event is what comes in a fire, in a word or three.
func Event(k belief.EventKind, loc lang.Locale) string { return loc.T(events[k]) }

// Reworked says why the rest of a plan was worked out again.
func Reworked(why coach.Elsewhere, loc lang.Locale) string {
	switch why {
	case coach.OtherAir:
		return loc.T("The air is not where the plan has it: the rest was worked out again from there.")
	case coach.OtherLoad:
		return loc.T("Another load went on than planned: what is left was worked out again for it.")
	case coach.Late:
		return loc.T("This fire takes longer than was thought: what is left was worked out again from how it burns.")
	case coach.Unlikely:
		return loc.T("The next sign would hardly come in this fire: what is left was worked out again by what it does show.")
	}
	return ""
}
