package say

import (
	"math"
	"strings"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/policy"
	"smolder/internal/core/practice"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// A Taught is a lesson in words: what it is called, what is wanted, and what is there when it
// begins.
type Taught struct{ Name, Aim, There lang.Message }

var lessons = map[practice.Key]Taught{
	practice.FirstFire: {"The first fire", "A cold stove burns by itself after forty minutes, with little smoke.",
		"A cold stove, dry wood and kindling. Lay the wood, put the kindling, light."},
	practice.ShutTheDoor: {"Shutting the door", "Shut it when the fire keeps its own draft: neither so soon that it dies, nor so late that the heat goes up.",
		"The kindling has just been lit, and the door stands ajar."},
	practice.FirstReload: {"The first reload", "Put the load on when the first wood is nearly coals: not on lively wood, and not on coals that light nothing.",
		"The first fire burns with its door shut."},
	practice.TurnDown: {"Turning down", "Let the load turn black all over, then take the air back in steps. The flames stay.",
		"A load has just gone on the coals, with all the air."},
	practice.Catalyst: {"The catalyst", "Shut the bypass when the catalyst is hot enough to work: not before, and not long after.",
		"A load has just gone on the coals, the bypass open."},
	practice.Night: {"A night", "A full load, black before you leave it, turned down so that coals are left in the morning.",
		"Evening, and the night's load has just gone on. You go to bed after an hour and a quarter."},
	practice.FewCoals: {"A morning on few coals", "Get it going again from a handful of coals.",
		"Morning: a handful of coals under the ash, and a stove that is hardly warm."},
	practice.ColdFlue: {"A cold chimney", "Light without smoke in the room.",
		"Warmer outdoors than in the chimney: it hardly draws yet."},
	practice.WetWood: {"Wet wood", "Choose what you put on.",
		"A good bed of coals, and two stacks: one is dry, the other was split in spring."},
	practice.MildDay: {"A mild day", "A little heat, quickly and clean, and the room not too warm.",
		"13 °C outdoors, and the room is half a degree too cool."},
	practice.TightHouse: {"A tight house with a fan", "Light without smoke in the room.",
		"A tight house, and somebody cooks under a running hood."},
	practice.Boat: {"A boat", "Warm the cabin, with air let in, and have the fire down to coals before you sleep.",
		"A small stove in a small cabin. You sleep beside it in two and a half hours."},
	practice.Free: {"A free evening", "Six hours as you like it: a room as wanted, little smoke, little wood, nothing dangerous.",
		"Evening. The weather and the people do what they like."},
}

// Lesson is a lesson in words.
func Lesson(k practice.Key) Taught { return lessons[k] }

// checks are what a lesson is judged by: what it asks, as a noun.
var checks = map[practice.Check]lang.Message{
	practice.Warm: "the stove warm at the end", practice.DoorAjar: "the door shut in time", practice.Dark: "flames on the wood", practice.Smoke: "little smoke",
	practice.TooHot: "nothing too hot", practice.Spilled: "no smoke in the room", practice.OnCoals: "the load at the right moment",
	practice.BlackFirst: "black before less air", practice.Down: "turned down", practice.Engaged: "the bypass shut in time", practice.NotCold: "and not too soon",
	practice.CoalsLeft: "coals left", practice.DryWood: "dry wood", practice.NotOver: "the room not too warm", practice.Warmed: "the room warm enough",
	practice.Band: "the room as wanted", practice.Thrift: "little wood", practice.Vented: "a window open a crack", practice.BurntDown: "burnt down",
}

// CheckName is what a lesson is judged by.
func CheckName(c practice.Check) lang.Message { return checks[c] }

// Checked is how a check came out, in its own figure.
func Checked(m practice.Mark, loc lang.Locale) string {
	minutes := func(says lang.Message) string { return loc.F(says, loc.Duration(time.Duration(m.Value)*time.Minute)) }
	switch m.Check {
	case practice.DoorAjar:
		return minutes("ajar for %s")
	case practice.Dark:
		return minutes("without flames for %s")
	case practice.TooHot:
		return minutes("too hot for %s")
	case practice.Spilled:
		return minutes("for %s")
	case practice.Engaged:
		return minutes("open for %s while it could have worked")
	case practice.NotCold:
		return minutes("shut for %s while it was too cold")
	case practice.NotOver:
		return loc.F("up to %s over", apart(math.Max(0, m.Value), loc))
	case practice.Warmed:
		return loc.F("%s under at the end", apart(math.Max(0, m.Value), loc))
	case practice.Band:
		return loc.F("%s off on average", apart(m.Value, loc))
	case practice.BurntDown:
		if math.IsInf(m.Value, 0) || m.Value > 1000 {
			return loc.T("there was no fire")
		}
		return loc.F("%s of wood left", loc.Mass(units.Kilogram(m.Value)))
	case practice.Smoke:
		return loc.F("%s of what such a stove may make", loc.Percent(units.Fraction(math.Min(m.Value, 50)), 0))
	}
	return loc.F("%d of 10", int(math.Round(10*m.Share)))
}

// Happened is what chance brought, as a sentence.
func Happened(k practice.ChanceKind) lang.Message { return chances[k] }

var chances = map[practice.ChanceKind]lang.Message{
	practice.HoodOn: "Somebody cooks: the kitchen hood runs.", practice.HoodOff: "The hood is off again.", practice.Gusts: "The wind gets up.",
	practice.Still: "The wind drops.", practice.Frost: "It clears, and freezes harder.",
}

// acts of a policy, as whoever looks over a shoulder says them.
var shoulder = map[policy.Reason]lang.Message{
	policy.OverLimit: "Too hot: %s now.", policy.AirAgain: "It has cooled: %s, before it smoulders.", policy.Climbs: "It nears its limit: %s.",
	policy.Flames: "It has taken: %s.", policy.NotTaken: "The load does not take: %s.", policy.StepBack: "The flames are gone: a step back, %s.", policy.AllItHas: "The flames are gone: %s.",
}

// Hint is what is said over a shoulder; empty: nothing.
func Hint(p *practice.Practice, h practice.Hint, loc lang.Locale) (do, why string) {
	if h.Act != nil {
		var what []string
		if main, ok := p.Spec.Stove.MainAir(); ok && h.Act.Moves {
			what = append(what, loc.F("%s to %s", loc.T(lang.Message(main.Name)), Mark(main.Scale, main.Scale.Nearest(h.Act.Air), loc)))
		}
		if h.Act.Sets {
			what = append(what, loc.T(doors[h.Act.Door]))
		}
		return loc.F(shoulder[h.Act.Reason], strings.Join(what, ", ")), ""
	}
	if h.Step == nil {
		return "", ""
	}
	in := Step(p.Plan(), *h.Step, loc)
	if h.Ready {
		return loc.F("Now: %s", loc.Mid(in.Do)), "" // why it waits is said while it does
	}
	if in.Sign = strings.TrimSuffix(in.Sign, "."); in.Sign == "" {
		return loc.F("Next: %s", loc.Mid(in.Do)), in.Why
	}
	return loc.F("Next, %s: %s", in.Sign, loc.Mid(in.Do)), in.Why
}

var doors = map[fire.Door]lang.Message{fire.Shut: "door shut", fire.Ajar: "door ajar", fire.Open: "door open"}

// DoorIs is how a door stands.
func DoorIs(d fire.Door) lang.Message { return doors[d] }

// Where one word for what is seen ends and the next begins.
const (
	hardlyReach, highReach = 0.35, 0.85
	someBed, goodBed       = 0.1, 0.6
	jetsSeen               = 0.5
	combGlows              = 450.0 // °C
	blackPane              = 0.5
	hissesFrom             = 0.22
	ticksFrom              = 2.0
)

// Scene tells a fire as it is seen through the glass, to whoever cannot see it: flames, wood,
// coals, what burns above them, the glass, the cap, what is heard.
func Scene(s fire.Scene, loc lang.Locale) string {
	var says []string
	add := func(m lang.Message, args ...any) { says = append(says, loc.F(m, args...)) }
	flames := s.Flame > policy.FlameSeen
	match := false
	pieces, black, kindling := 0, 1.0, 1.0
	for _, l := range s.Lying {
		match = match || l.Match
		if l.Kindling { // nobody counts it
			kindling = math.Min(kindling, l.Black)
			continue
		}
		pieces += l.Pieces
		black = math.Min(black, l.Black)
	}
	switch {
	case !flames && match:
		add("The firelighter burns.")
	case !flames && s.Wood >= policy.SomeWood && s.Alight > 0:
		add("No flames: the wood lies dark.")
	case !flames:
		add("No flames.")
	case s.Reach >= highReach:
		add("High flames, up to the baffle.")
	case s.Reach >= hardlyReach:
		add("Lively flames.")
	default:
		add("Low, lazy flames.")
	}
	if len(s.Lying) > 0 && s.Wood >= policy.SomeWood/2 {
		of := loc.T("kindling")
		if pieces > 0 {
			of = loc.N(pieces, "one piece", "%d pieces")
		} else {
			black = kindling
		}
		switch {
		case black >= 0.92:
			add("%s, black all over.", units.UpperFirst(of))
		case black >= 0.5:
			add("%s, wood still shows.", units.UpperFirst(of))
		default:
			add("%s, hardly black yet.", units.UpperFirst(of))
		}
	}
	switch {
	case s.Bed >= goodBed:
		add("A good bed of coals.")
	case s.Bed >= someBed:
		add("Some coals.")
	case float64(s.Coals) >= float64(fire.CoalsGone)/2:
		add("Hardly any coals.")
	}
	if flames && s.Jets >= jetsSeen {
		add("Flames at the holes of the second air.")
	}
	if float64(s.Comb) >= combGlows {
		add("The catalyst glows.")
	}
	if s.Glass >= blackPane {
		add("The glass is black.")
	}
	switch {
	case s.Spilling:
		add("Smoke comes into the room!")
	case s.Dense >= 2:
		add("Thick blue-grey smoke at the cap.")
	case s.Vapour >= 1:
		add("White vapour at the cap.")
	case s.Dense >= 1:
		add("Blue-grey smoke at the cap.")
	case flames:
		add("Clear at the cap.")
	}
	if s.Moisture >= hissesFrom && flames {
		add("The wood hisses.")
	}
	if math.Abs(s.Warming) >= ticksFrom {
		add("The metal ticks.")
	}
	return strings.Join(says, " ")
}

// apart is a difference of temperatures, K, to a tenth.
func apart(kelvin float64, loc lang.Locale) string {
	if loc.System == units.Imperial {
		kelvin *= 1.8
	}
	return loc.Number(kelvin, 1) + " " + loc.System.DegreeSign()
}
