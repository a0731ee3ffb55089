package learn

import (
	"math"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/parallel"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A TraitKind is something that is said of a stove that is known.
type TraitKind string

// The kinds, in the order in which they are said.
const (
	Leaks    TraitKind = "leaks"     // as much air as a control at a mark: Mark
	Useful   TraitKind = "useful"    // part of the main control: LowMark to HighMark
	Inlets   TraitKind = "inlets"    // let in more or less than is usual: Share
	Reads    TraitKind = "reads"     // a gauge is off: Off at Reading
	Late     TraitKind = "late"      // the gauges follow quicker or later: Share
	Exchange TraitKind = "exchange"  // heat that goes into the room rather than up: Share
	Burning  TraitKind = "burning"   // wood burns quicker or slower: Share
	RoomLoss TraitKind = "room-loss" // of the space: Share, and W/K
)

// A Trait is one of them, with its quantities.
type Trait struct {
	Kind    TraitKind
	Control stove.Control
	Mark    float64 // 0 to 1, of the control
	Low     float64 // and in eight cases of ten it lies
	High    float64 // between these
	Share   float64 // over what is usual: 0.1 is a tenth more
	Place   stove.Place
	Reading units.Celsius
	Off     units.Celsius // what it reads over what is true
	OffLow  units.Celsius
	OffHigh units.Celsius
}

const (
	// tenth is the standard deviations between which and their negative eight in ten lie.
	tenth = 1.2816
	// told is the part of the usual spread under which a number counts as told by burns.
	told = 0.75
	// worthSaying is how far a factor must be from what is usual to be said, as a share.
	worthSaying = 0.06
)

// Tuning is the stove of the middle of a belief.
func Tuning(p belief.Prior) fire.Tuning { return p.Tuning() }

// Traits are what is known of a stove and can be said. A number that the burns have told
// little of is left out.
func Traits(st stove.Stove, p belief.Prior) []Trait {
	var out []Trait
	usual := belief.Usual()
	number := func(name string) (mean, spread float64, ok bool) {
		mean, spread, there := p.Spread(name)
		_, before, _ := usual.Spread(name)
		return mean, spread, there && spread < told*before
	}
	share := func(kind TraitKind, name string) {
		if mean, spread, ok := number(name); ok && math.Abs(math.Expm1(mean)) > worthSaying && math.Abs(mean) > spread/2 {
			out = append(out, Trait{Kind: kind, Share: math.Expm1(mean), Low: math.Expm1(mean - tenth*spread), High: math.Expm1(mean + tenth*spread)})
		}
	}
	air, hasAir := st.MainAir()
	if _, spread, ok := number("leak"); ok && hasAir {
		at := func(z float64) (float64, bool) {
			t := p.Tuning()
			t.Leak *= math.Exp(z * spread)
			return fire.LeakAs(st, t, air.Key)
		}
		if mark, there := at(0); there {
			low, _ := at(-tenth)
			high, most := at(tenth)
			if !most {
				high = 1
			}
			out = append(out, Trait{Kind: Leaks, Control: air, Mark: mark, Low: low, High: high})
		}
	}
	share(Inlets, "inlets")
	share(Exchange, "exchange")
	share(Burning, "shield")
	for _, g := range st.Gauges {
		mean, spread, ok := number(belief.ErrorOf(g.Place))
		if !ok || !g.Place.OfFire() {
			continue
		}
		at := (g.Band.Low + g.Band.High) / 2
		off := func(z float64) units.Celsius { return at - units.Celsius(float64(at)/math.Exp(mean+z*spread)) }
		if math.Abs(math.Expm1(mean)) > worthSaying/2 && math.Abs(mean) > spread/2 {
			out = append(out, Trait{Kind: Reads, Place: g.Place, Reading: at, Off: off(0), OffLow: off(-tenth), OffHigh: off(tenth)})
		}
	}
	share(Late, "lag")
	share(RoomLoss, "room loss")
	return out
}

// usualLoad is six tenths of what a stove takes, in pieces that fit.
func usualLoad(st stove.Stove) fire.Load {
	const (
		full, piece units.Kilogram = 0.6, 1.2
		dry         units.Fraction = 0.17
	)
	species, _ := wood.SpeciesByKey("beech")
	mass := full * st.MaxLoad
	n := max(1, int(math.Round(float64(mass/piece))))
	return fire.Load{Species: species, Moisture: dry, Pieces: n, PieceMass: mass / units.Kilogram(n), PieceLength: 0.8 * st.LongestPiece(stove.Sideways),
		Direction: stove.Sideways, Lay: fire.OnCoals}
}

// usefulLooks is how many openings are tried for the useful part of a control.
const usefulLooks = 16

// UsefulPart is the part of the main air's way in which a usual load on a good bed burns
// clean and not too hot in a stove as it is known; false: there is no such part.
func UsefulPart(st stove.Stove, h house.House, p belief.Prior) (low, high float64, ok bool) {
	air, there := st.MainAir()
	if !there {
		return 0, 0, false
	}
	good := make([]bool, usefulLooks)
	parallel.InParallel(usefulLooks, func(i int) {
		l := usualLoad(st)
		final := float64(i+1) / usefulLooks
		act := func(o float64) fire.Act {
			return fire.Act{Kind: fire.ActControl, Control: air.Key, Role: air.Role, Opening: o}
		}
		setup := fire.Setup{Stove: st, House: h, Outdoor: 3, Room: 19, Coals: units.Kilogram(2 * belief.LeastCoals(st)), Warmth: 120, Tuning: p.Tuning()}
		moves := []fire.Move{{Do: []fire.Act{act(1), {Kind: fire.ActLoad, Load: &l}}},
			{When: fire.Trigger{After: 3 * time.Minute, Charred: true, Latest: 20 * time.Minute}, Do: []fire.Act{act(max(final, 0.5))}},
			{When: fire.Trigger{After: 6 * time.Minute}, Do: []fire.Act{act(final)}}}
		if b, has := st.Bypass(); has {
			moves = append(moves, fire.Move{When: fire.Trigger{After: time.Minute}, Do: []fire.Act{{Kind: fire.ActControl, Control: b.Key, Role: b.Role}}})
		}
		sum := fire.Run(setup, moves, fire.Options{Until: 8 * time.Hour, Coarse: true, StopAtEnd: true}).Summary
		good[i] = !plan.TooHot(sum) && !plan.Dirty(sum)
	})
	for i, g := range good {
		at := float64(i+1) / usefulLooks
		switch {
		case g && !ok:
			low, high, ok = at, at, true
		case g && high > at-1.5/usefulLooks:
			high = at
		}
	}
	return low, high, ok
}

// A Space is what is known of the space that a stove heats.
type Space struct {
	Low, Middle, High                float64 // heat loss, W/K
	CoastLow, CoastMiddle, CoastHigh time.Duration
	Taken                            float64 // W/K that was taken without burns
}

// coastFor is how long a space is followed at most.
const coastFor = 24 * time.Hour

// SpaceOf is the heat loss of a space as burns have taught it, and how long it keeps warm
// without a fire, from the upper end of what is wanted to the lower; false: they have told
// little of it.
func SpaceOf(h house.House, wanted [2]units.Celsius, outdoor units.Celsius, p belief.Prior) (Space, bool) {
	mean, spread, there := p.Spread("room loss")
	_, before, _ := belief.Usual().Spread("room loss")
	if !there || spread > told*before {
		return Space{}, false
	}
	loss := func(z float64) float64 { return h.Loss() * math.Exp(mean+z*spread) }
	coast := func(ua float64) time.Duration {
		known := h
		known.Learned = ua
		return known.Coast(house.Settled(wanted[1]), wanted[0], func(time.Duration) units.Celsius { return outdoor }, coastFor)
	}
	s := Space{Low: loss(-tenth), Middle: loss(0), High: loss(tenth), Taken: h.Loss()}
	s.CoastLow, s.CoastMiddle, s.CoastHigh = coast(s.High), coast(s.Middle), coast(s.Low)
	return s, true
}

// Learned is a space with its heat loss as burns have taught it, where they have.
func Learned(h house.House, p belief.Prior) house.House {
	if s, ok := SpaceOf(h, [2]units.Celsius{19, 20}, 5, p); ok {
		h.Learned = s.Middle
	}
	return h
}
