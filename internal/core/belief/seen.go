package belief

import (
	"math"
	"time"

	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
)

// A Sight is a kind of thing that is seen.
type Sight string

// What is seen.
const (
	Reading    Sight = "reading"     // of the gauge at Place, °C; the room is one
	Smoke      Sight = "smoke"       // at the cap: Colour
	Black      Sight = "black"       // the last load is black all over
	FlamesGone Sight = "flames-gone" //
	CoalsLeft  Sight = "coals-left"  // about Value kg
	Draft      Sight = "draft"       // Value Pa

	JetsAlight  Sight = "jets"          // flames at the holes of the second air: the gas burns above the wood
	DownToCoals Sight = "down-to-coals" // at most a last small flame, and hardly any wood that is not char

	GasFlames   Sight = "gas-flames" // they float over the wood, free of it: its gas burns there
	InletDraws  Sight = "inlet"      // one hears the air go in
	MetalTicks  Sight = "ticks"      // as it stretches, or shrinks again
	WoodHisses  Sight = "hisses"     // and crackles: it is wet
	AtTheBaffle Sight = "baffle"     // the flames reach it
	GlassEdge   Sight = "glass-edge" // it blackens from there
)

// The colours of what leaves the cap.
const (
	Clear = "clear"
	White = "white"
	Grey  = "grey"
)

// Reads tells whether a belief goes by what is seen so.
func Reads(s Sight) bool {
	switch s {
	case Reading, Smoke, Black, FlamesGone, CoalsLeft, Draft, JetsAlight, DownToCoals, GasFlames, InletDraws, MetalTicks, WoodHisses, AtTheBaffle, GlassEdge:
		return true
	}
	return false
}

// Seen is one thing that was seen.
type Seen struct {
	Sight  Sight
	Place  stove.Place
	Value  float64
	Colour string
}

// What a member's gauge misses of the true one is a process of its own: it is never
// nothing, it lasts, and it fades (a first-order autoregression in continuous time).
// So two readings close together tell how the fire changes, and two far apart tell
// where it is.
const (
	modelError  = 0.06             // of a temperature over the room; 0.04 to 0.1
	leastError  = 10.0             // K
	roomError   = 0.5              // K of a room
	draftError  = 2.5              // Pa
	errorLasts  = 20 * time.Minute // until it has faded to a third; 10 to 40
	roomLasts   = 60 * time.Minute
	clockOff    = 25.0 // s by which a member may be ahead of the fire or behind it: a rise that comes sooner is no other stove
	readingOff  = 0.25 // of these, that a glance or a stray wire adds
	heavyTailed = 4    // degrees of freedom: one odd reading must not decide
)

// By eye: what is certain only to this much.
const (
	eyeErrs   = 0.06 // that somebody sees another colour, or taps the wrong one
	eyeSharp  = 1.6  // per factor e of smoke, how sure grey is told from clear
	whiteness = 5.0  // per unit of vapour over what is seen
	coalsErr  = 1.7  // as a factor, of coals by a picture
	// hardlyWood is how much wood may lie among coals that are called just that, kg; 0.1 to
	// 0.6, by the stove.
	hardlyWood = 0.3
	// lastFlames is how much of a flame may stand over coals that are called just that, of what
	// nobody calls gone.
	lastFlames = 2.0
	// Flames stand at the jets where most of the gas burns: from about so much of it, give or take.
	jetsFrom, jetsSharp = 0.8, 0.07
	// At what an ear or an eye takes as a sign, and how sure it is of it.
	//
	//	number    unit    usual range  source
	//	inlet     Pa      8–16         from where air is heard at a hand's width, about 4 m/s in the gap
	//	ticks     K/min   1–3          of a body that stretches against its bolts
	//	hiss      kg/kg   0.20–0.25    over what air-dry wood has
	//	edge      1/h     0.3–1        a brown rim within an hour
	//	earErrs   -       0.1–0.2      who hears it elsewhere, or not at all
	inletFrom, inletSharp = 12, 3
	ticksFrom, ticksSharp = 2, 0.5
	hissFrom, hissSharp   = 0.22, 0.03
	reachSharp            = 0.15
	edgeFrom, edgeSharp   = 0.5, 2
	earErrs               = 0.15
)

// miss is what a member's gauge missed at the last reading, in standard deviations,
// and what it read there.
type miss struct {
	at    time.Duration
	by    float64
	would float64
	seen  bool
}

// missOf are the gauges that have a miss, by their place; the draft has one too.
var missOf = func() map[stove.Place]int {
	out := map[stove.Place]int{stove.RoomAir: 0}
	for _, r := range stove.PlaceRows {
		if r.Fire {
			out[r.Place] = len(out)
		}
	}
	return out
}()

// misses is how many there may be: as many as places and the draft.
const draftMiss, misses = 11, 12

// errorOf is how far a member's gauge may be off, as a standard deviation, where it
// reads so much and changes by so much a second; and how long that lasts.
func errorOf(p stove.Place, celsius, room, rate float64) (sigma float64, lasts time.Duration) {
	if p == stove.RoomAir {
		return roomError, roomLasts
	}
	return math.Hypot(max(leastError, modelError*(celsius-room)), clockOff*rate), errorLasts
}

// likely is the logarithm of how likely the member makes what was seen.
func (m *member) likely(at time.Duration, s Seen) float64 {
	switch s.Sight {
	case Reading:
		would, ok := m.fire.Reading(s.Place)
		i, known := missOf[s.Place]
		if !ok || !known {
			return 0
		}
		miss := &m.misses[i]
		rate := 0.0
		if miss.seen && at > miss.at {
			rate = (would - miss.would) / (at - miss.at).Seconds()
		}
		sigma, lasts := errorOf(s.Place, would, float64(m.fire.Room()), rate)
		miss.would = would
		return miss.log(at, s.Value-would, sigma, lasts)
	case Draft:
		return m.misses[draftMiss].log(at, s.Value-float64(m.fire.Draft()), draftError, errorLasts)
	}
	if sure, is := m.hears(s.Sight); is {
		return math.Log(earErrs/2 + (1-earErrs)*sure)
	}
	look := m.fire.Look()
	sure := 1.0
	switch s.Sight {
	case Smoke:
		grey := logistic(eyeSharp * math.Log(max(1e-6, look.Dense)))
		white := (1 - grey) * logistic(whiteness*(look.Vapour-1))
		switch s.Colour {
		case Grey:
			sure = grey
		case White:
			sure = white
		case Clear:
			sure = 1 - grey - white
		}
	case Black:
		sure = logistic((look.Alight - 0.8) / 0.07)
	case FlamesGone:
		sure = logistic(2 * math.Log(policy.FlameSeen/max(1e-9, look.Flame)))
	case JetsAlight, GasFlames:
		sure = logistic(2*math.Log(max(1e-9, look.Flame)/policy.FlameSeen)) * logistic((look.Burnout-jetsFrom)/jetsSharp)
	case DownToCoals:
		sure = logistic(2*math.Log(lastFlames*policy.FlameSeen/max(1e-9, look.Flame))) * logistic((hardlyWood-look.Wood)/(hardlyWood/3))
	case CoalsLeft:
		z := math.Log(max(1e-3, m.world.coals(look.Coals, at))/max(1e-3, s.Value)) / math.Log(coalsErr)
		return studentLog(z, heavyTailed)
	}
	return math.Log(eyeErrs/3 + (1-eyeErrs)*sure)
}

// hears is how surely a member's fire gives what is heard, or seen of its flames and its
// glass; is is false where the sight is another.
func (m *member) hears(s Sight) (sure float64, is bool) {
	switch s {
	case InletDraws, MetalTicks, WoodHisses, AtTheBaffle, GlassEdge:
	default:
		return 0, false
	}
	signs := m.fire.Signs()
	switch s {
	case InletDraws:
		return logistic((signs.Sucks - inletFrom) / inletSharp), true
	case MetalTicks:
		return logistic((math.Abs(signs.Warming) - ticksFrom) / ticksSharp), true
	case WoodHisses:
		return logistic((signs.Moisture - hissFrom) / hissSharp), true
	case AtTheBaffle:
		return logistic((signs.Reach - 1) / reachSharp), true
	}
	return logistic(edgeSharp * math.Log(max(1e-6, signs.Blackens)/edgeFrom)), true
}

// log is the logarithm of the likelihood of a difference, given the one before.
func (m *miss) log(at time.Duration, difference, sigma float64, lasts time.Duration) float64 {
	by := difference / sigma
	keeps := 0.0
	if m.seen {
		keeps = fade(at-m.at, lasts)
	}
	spread := math.Sqrt(1 - keeps*keeps + readingOff*readingOff)
	z := (by - keeps*m.by) / spread
	m.at, m.by, m.seen = at, by, true
	return studentLog(z, heavyTailed) - math.Log(spread*sigma)
}

// fade is what is left of a miss after some time; a step may end a moment before what
// was seen.
func fade(since, lasts time.Duration) float64 {
	return math.Exp(-float64(max(0, since)) / float64(lasts))
}

// studentLog is the logarithm of Student's density, but for a constant.
func studentLog(z, freedom float64) float64 {
	return -(freedom + 1) / 2 * math.Log1p(z*z/freedom)
}

func logistic(x float64) float64 { return 1 / (1 + math.Exp(-x)) }
