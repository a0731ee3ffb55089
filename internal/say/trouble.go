package say

import (
	"math"

	"smolder/internal/core/trouble"
	"smolder/internal/lang"
)

// A Troubled is a cause in words: what it is, what to do, and in whose hands that is.
type Troubled struct{ Name, Do, Who lang.Message }

// causes are the causes in words.
var causes = map[trouble.Cause]Troubled{
	trouble.Sound: {"Nothing stands out", "Burn as before, and log an evening of it with readings: the next look knows more.", "you"},
	trouble.Blocked: {"The cap or the flue is partly blocked", "No fire until it has been looked at: soot, a clogged screen, a nest. A blocked flue lets carbon monoxide into the room.",
		"a licensed sweep"},
	trouble.HousePulls: {"The house pulls harder than the chimney", "Fans off while it burns, and a window on the stove's level open a crack. A supply of air of its own is for an installer.",
		"you; an installer for a supply of air"},
	trouble.WeakDraft: {"The chimney draws too little", "Warm the flue first, and see that no other opening feeds it. A cold, short or wide chimney is for an installer.",
		"a licensed installer"},
	trouble.Strong: {"The chimney draws too much", "Turn down earlier, and put less on. A damper or a barometric flap is for an installer, where the manual allows one.",
		"a licensed installer"},
	trouble.Gasket: {"Air leaks in at the door or the glass", "Look at the rope all round, and press the clips of the glass evenly. A new rope is a morning's work; until then turn down earlier.",
		"you; a dealer for the glass"},
	trouble.Wet:     {"The wood is wetter than was said", "Split some pieces and read them. Put dry ones with them, and let this stack dry.", "you"},
	trouble.HalfWet: {"Part of the wood is wet", "Read some pieces of each heap on a fresh split, and burn the dry ones first.", "you"},
	trouble.Ashes:   {"There is too much ash", "Take it down to a finger's breadth, cold, into a metal bucket with a lid, outdoors. Leave the inlet free.", "you"},
	trouble.DeadComb: {"The catalyst does not work any more", "Clean it by the manual, cold, without a brush of wire. One that stays cold with hot gas before it is worn: a new one from a dealer.",
		"you; a dealer for a new one"},
	trouble.Starved: {"Too little air comes in", "Free the inlet and its duct: ash, dust, a nest, snow.", "you"},
	trouble.Damped:  {"The flue damper stands shut", "Open it before the door, and mark its handle.", "you"},
	trouble.Bypassing: {"The bypass does not close", "Look at its plate and its seat, cold, with a torch. Free it of ash; a worn plate is for a dealer.",
		"you; a dealer for a worn plate"},
	trouble.ReadsLow:  {"The gauge reads too low", "Hold a second one beside it. If it is so, the fire is hotter than you think: change the gauge, and turn down earlier until then.", "you"},
	trouble.ReadsHigh: {"The gauge reads too high", "Hold a second one beside it. If it is so, turn down later, by black wood and lively flames, and change the gauge.", "you"},
	trouble.ReadsLate: {"The gauge reads late", "Its tip is in soot, or it hangs where the pipe is cool. Clean it or move it; until then go by the flames.", "you"},
	trouble.FewCoals:  {"There were fewer coals than was said", "Load a little earlier, rake the coals together at the air, or put kindling under the load.", "you"},
}

// CauseOf is a cause in words.
func CauseOf(c trouble.Cause) Troubled { return causes[c] }

// complaints are what happens, as its owner says it.
var complaints = map[trouble.Complaint]lang.Message{
	trouble.SmokeIn: "smoke comes into the room when I open the door", trouble.NotHot: "it does not get hot enough", trouble.BlackPane: "the glass is black by morning",
	trouble.DiesShut: "it dies when I shut the door or the air", trouble.RunsAway: "it runs away, whatever I turn down", trouble.SmokesOut: "it smokes blue-grey for long",
}

// ComplaintOf is a complaint in words.
func ComplaintOf(c trouble.Complaint) lang.Message { return complaints[c] }

// A Tried is a cheap test in words: what to do, how, and its two answers.
type Tried struct{ Do, How, Yes, No lang.Message }

var tests = map[trouble.TestKind]Tried{
	trouble.SplitPiece: {"Split a piece and read it", "A piece of tonight's wood, on its fresh face, pins along the grain, in three places.", "over 20 %", "under 20 %"},
	trouble.PaperStrip: {"A strip of paper in the door's seam", "Shut the cold door on it and pull, every hand's width all round.", "it slides somewhere", "it holds all round"},
	trouble.MatchAtDoor: {"A flame at the open door", "Cold stove, air open, door open a crack: a match there, all fans on, then off.", "it leans out, or with the fans on",
		"it leans in both times"},
	trouble.LookAtCap:  {"Look at the cap with binoculars", "From the ground, by day: soot, a clogged screen, a nest, a fallen cowl.", "something is there", "it is free"},
	trouble.DryLoad:    {"One load that is known to be dry", "Bought briquettes or wood read under 16 %, as much as else, and the same steps.", "it burns well", "it is the same"},
	trouble.OtherGauge: {"A second thermometer beside the first", "For half an hour on a steady fire.", "they differ by over a seventh", "they agree"},
	trouble.AshOut: {"Take the ash out, and burn the same again",
		"Cold: down to a finger's breadth, the inlet free. Then the same load and settings.", "it burns better", "it is the same"},
	trouble.CombLook: {"Look through the honeycomb", "Cold, out of its frame or from above, against a light: clogged, cracked, flaking.",
		"it is clogged or broken", "it is free and whole"},
	trouble.LookAtFlap:  {"Look at the bypass, shut", "Cold, with a torch through the door, or by a strip of paper under its plate.", "it stands off", "it sits"},
	trouble.LookAtInlet: {"Look at the inlet and its duct", "Outside too: dust, ash, a nest, snow, a shutter.", "something is in the way", "it is free"},
	trouble.DamperOpen:  {"Look at the flue damper's handle", "Along the pipe is open, across is shut.", "it was shut", "it was open"},
	trouble.ColdDay:     {"The same on a cold, still day", "A chimney draws more when it is cold outside.", "it was better", "it was the same"},
}

// TestOf is a test in words.
func TestOf(t trouble.TestKind) Tried { return tests[t] }

// OfTen is a chance in words: "7 of 10".
func OfTen(chance float64, loc lang.Locale) string {
	switch n := int(math.Round(chance * 10)); {
	case chance < 0.05:
		return loc.T("hardly")
	case n < 1:
		return loc.T("1 of 20")
	default:
		return loc.F("%d of 10", min(n, 9+n/10))
	}
}

// clearly is from where something speaks for or against a cause, as a logarithm of odds.
const clearly = 0.5

// Because says why a cause is thought likely, or not.
func Because(o trouble.Odd, loc lang.Locale) []string {
	var out []string
	say := func(by float64, more, less lang.Message) {
		switch {
		case by > clearly:
			out = append(out, loc.T(more))
		case by < -clearly:
			out = append(out, loc.T(less))
		}
	}
	say(o.ByWord, "what happens is likelier with it", "what happens is less likely with it")
	say(o.ByEvening, "the evening fits it better", "the evening fits it worse")
	say(o.ByAnswers, "your tests speak for it", "your tests speak against it")
	return out
}
