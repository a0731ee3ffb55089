package policy

import (
	"math"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
)

// A Gauge is one of the stove's that was read lately, °C.
type Gauge struct {
	Place   stove.Place
	Value   float64
	Low     float64 // where its band begins
	Limit   float64 // where it is too hot; 0: it has none
	Rate    float64 // K a minute
	HasRate bool
}

// A Situation is a fire as somebody sees it who keeps it.
type Situation struct {
	Gauges []Gauge // of the fire, read lately; the guiding one first
	Risk   float64 // how likely it is too hot within a quarter of an hour; negative: not known

	Air    float64       // opening of the main air
	Feeds  float64       // of whatever feeds the bed most: the main air, or one below it
	Before float64       // where the main air stood before it was last moved
	Moved  time.Duration // ago; negative: it was not
	Most   float64       // to which it may be opened with this load; 1: nothing was too hot
	HotAgo time.Duration // since a gauge was last near its limit with this load; negative: never

	Lit    bool
	Loaded time.Duration // ago, or lit if that was later; negative: nothing lies there
	Wood   float64       // kg that is not yet char
	Pale   bool          // hardly anything of the load is black
	Dark   bool          // flames are gone since the air or the load was last touched
	Flares bool          // what burns is kindling

	Door    fire.Door
	Sealed  bool // the manual has the door shut while a fire is lit: it is never set ajar
	Helping bool // the door stands ajar for a load that did not take
}

// A Reason is why something is done.
type Reason string

// The reasons, in the order in which they are asked for.
const (
	OverLimit Reason = "over-limit" // a gauge is over what it may reach: the air far down, or all of it shut
	AirAgain  Reason = "air-again"  // it was shut for that, and is hot no more
	Climbs    Reason = "climbs"     // a gauge is near its limit, or over it soon as it goes
	Flames    Reason = "flames"     // a load that was helped has taken: the door shut again
	NotTaken  Reason = "not-taken"  // a load lies there pale, and does not flame: all air, and the door ajar
	StepBack  Reason = "step-back"  // turned down, and the flames are gone though there is wood
	AllItHas  Reason = "all-it-has" // the flames are gone without that: all that it bears, then the door ajar
)

// An Act is what is done.
type Act struct {
	Reason Reason
	Moves  bool      // the main air, to
	Air    float64   // 0 to 1; whoever does it takes the nearest mark
	Sets   bool      // the door, so
	Door   fire.Door //
}

// Decide is the one thing to do now; false: nothing.
func (s Situation) Decide() (Act, bool) {
	for _, rule := range []func(Situation) (Act, bool){
		Situation.overLimit, Situation.airAgain, Situation.climbs, Situation.flames, Situation.notTaken, Situation.stepBack, Situation.allItHas,
	} {
		if act, ok := rule(s); ok {
			return act, true
		}
	}
	return Act{}, false
}

func (s Situation) overLimit() (Act, bool) {
	to := s.TakenTo()
	return Act{Reason: OverLimit, Moves: s.Air > to, Air: to}, s.Over()
}

// TakenTo is the air for a gauge that is over its limit: far down where it is only just over,
// and the air stands open enough that less of it shows; else shut. Shut at once a full load
// loses its flames and smokes for a quarter of an hour, and flares when it gets air again.
func (s Situation) TakenTo() float64 {
	worst := 0.0
	for _, g := range s.Gauges {
		if g.Limit > 0 {
			worst = math.Max(worst, g.Value/g.Limit)
		}
	}
	if worst > JustOver || s.Air < PaleAir || s.Door != fire.Shut || s.Moved >= 0 && s.Moved < Answered && s.Air < s.Before {
		return 0
	}
	return math.Max(LeastAir, FarDown*s.Air)
}

// Over tells whether a gauge is over its limit; what kindling does to the gas for some minutes
// is none.
func (s Situation) Over() bool {
	for _, g := range s.Gauges {
		if limit := g.Limit; limit > 0 {
			if s.Flares && inTheGas(g.Place) {
				limit *= FlareOver
			}
			if g.Value >= limit {
				return true
			}
		}
	}
	return false
}

func inTheGas(p stove.Place) bool { return p.Row().Gas }

func (s Situation) airAgain() (Act, bool) {
	return Act{Reason: AirAgain, Moves: true, Air: s.Most}, s.Cooled()
}

// Cooled tells whether the air stands shut for heat that is over.
func (s Situation) Cooled() bool {
	return s.Moved >= 0 && s.Air <= LeastAir && s.Moved <= ShutFor && s.HotAgo >= 0 && s.HotAgo <= s.Moved+HotLately && !s.Hot(CooledTo)
}

// Hot tells whether a gauge is over a share of its limit.
func (s Situation) Hot(share float64) bool {
	for _, g := range s.Gauges {
		if g.Limit > 0 && g.Value > share*g.Limit {
			return true
		}
	}
	return false
}

func (s Situation) climbs() (Act, bool) {
	_, climbs := s.Climbing()
	return Act{Reason: Climbs, Moves: true, Air: s.Less()}, climbs && s.Less() < s.Air
}

// A Climb is a gauge that will be over its limit as it goes.
type Climb struct {
	Gauge int           // its place in the situation
	In    time.Duration // in a straight line; 0: it is near already, or it is only likely
}

// Climbing finds a gauge that nears its limit, or a fire that is likely to be too hot; false:
// none, or it is answered already and has to show.
func (s Situation) Climbing() (Climb, bool) {
	if s.Moved >= 0 && s.Air < s.Before && s.Moved < Answered || s.Feeds <= s.Least() {
		return Climb{}, false
	}
	for i, g := range s.Gauges {
		if g.Limit <= 0 || g.Value < ClimbsFrom*g.Limit || g.Value >= g.Limit || s.Flares && g.Value < NearLimit*g.Limit {
			continue
		}
		if g.Value >= NearLimit*g.Limit && !(g.HasRate && g.Rate <= -ClimbsAt) {
			return Climb{Gauge: i, In: straight(g)}, true
		}
		if !g.HasRate || g.Rate < ClimbsAt {
			continue
		}
		// What is believed goes before a straight line: a rise that flattens in time is none.
		if in := straight(g); in <= ClimbsIn && (s.Risk < 0 || s.Risk >= LikelyTooHot || in <= AtTheDoor) {
			return Climb{Gauge: i, In: in}, true
		}
	}
	return Climb{}, len(s.Gauges) > 0 && s.Risk >= 2*LikelyTooHot && !s.Flares
}

// straight is how long a gauge takes to its limit in a straight line; 0 where it does not rise.
func straight(g Gauge) time.Duration {
	if !g.HasRate || g.Rate < ClimbsAt {
		return 0
	}
	return time.Duration((g.Limit - g.Value) / g.Rate * float64(time.Minute))
}

// Least is under what the air is not shut because something climbs.
func (s Situation) Least() float64 {
	if s.Pale && s.Loaded <= CharsUntil {
		return PaleAir
	}
	return LeastAir
}

// Less is the air for what climbs: half of what it is, and not under what it must have.
func (s Situation) Less() float64 { return math.Max(s.Least(), Halves*s.Air) }

func (s Situation) flames() (Act, bool) {
	return Act{Reason: Flames, Sets: true, Door: fire.Shut}, s.Helping && s.Door != fire.Shut && !s.Dark
}

// starves tells whether flames are gone though there is wood for them, and no gauge is near
// its limit.
func (s Situation) starves() bool { return s.Lit && s.Dark && s.Wood >= SomeWood && !s.Hot(CooledTo) }

func (s Situation) stepBack() (Act, bool) {
	turned := s.Moved >= ShownAfter && s.Moved <= ShownFor && s.Air < s.Before
	return Act{Reason: StepBack, Moves: true, Air: s.Back()}, (turned && s.starves() || s.Sinks()) && s.Back() > s.Air
}

// Sinks tells whether the guiding gauge of a fire that was turned down goes on falling under its
// band with wood in it: whatever is believed of its flames, no fire that has found its level does.
func (s Situation) Sinks() bool {
	if len(s.Gauges) == 0 || !s.Lit || s.Moved < SinksFrom || s.Moved > SinksUntil || s.Air >= s.Before || s.Wood < SinksWith || s.Hot(CooledTo) {
		return false
	}
	g := s.Gauges[0]
	return g.HasRate && g.Rate <= -SinksBy && g.Value < g.Low
}

// Back is the air a step back: where it stood before, or twice as far, and no further than it
// was good with this load.
func (s Situation) Back() float64 {
	back := s.Before
	if back <= s.Air {
		back = BackBy * s.Air
	}
	return math.Min(math.Max(back, LeastAir), s.Most)
}

func (s Situation) allItHas() (Act, bool) {
	lately := s.Moved >= 0 && s.Moved < 2*ShownAfter
	if lately || s.Loaded < CatchesIn || !s.starves() || s.Wood < 2*SomeWood {
		return Act{}, false
	}
	if s.Air < NearOpen*s.Most {
		return Act{Reason: AllItHas, Moves: true, Air: s.Most}, true
	}
	return Act{Reason: AllItHas, Sets: true, Door: fire.Ajar}, s.MayBeAjar()
}

func (s Situation) notTaken() (Act, bool) {
	cold := len(s.Gauges) == 0 || s.Gauges[0].Value < s.Gauges[0].Low
	act := Act{Reason: NotTaken, Moves: s.Air < s.Most, Air: s.Most, Sets: s.MayBeAjar(), Door: fire.Ajar}
	return act, cold && s.Pale && s.starves() && (act.Moves || act.Sets) && s.Loaded >= CatchesIn && s.Loaded <= TriesFor
}

// MayBeAjar tells whether the door may be set ajar to help: it is shut, and the fire was not
// too hot with this load, or is long cold since.
func (s Situation) MayBeAjar() bool { return s.Door == fire.Shut && s.Most >= 1 && !s.Sealed }

// MostAfter is to what the air may be opened again after a gauge was near its limit while it
// stood so far open.
func MostAfter(had float64) float64 { return math.Max(LeastOfMost, Halves*had) }
