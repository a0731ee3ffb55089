package fire

import (
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Flags are what somebody should know at once, as a set.
type Flags uint8

// The flags.
const (
	Smoulders    Flags = 1 << iota // gas leaves mostly unburnt
	TooHot                         // the guiding gauge is over its band
	Spilling                       // flue gas comes into the room
	StarvedCoals                   // coals glow with too little air and make carbon monoxide
	ColdFlue                       // smoke settles along half the chimney or more
)

// The bits are kept in no file: the list below says their order, and their names are
// written out.
// AllFlags lists the flags in their order.
var AllFlags = []Flags{Smoulders, TooHot, Spilling, StarvedCoals, ColdFlue}

// A Colour is what somebody outside sees at the cap.
type Colour string

// The colours.
const (
	Clear    Colour = "clear" // nothing but shimmer
	White    Colour = "white" // vapour
	BlueGrey Colour = "blue-grey"
)

// A Sample is the state of the burn at one moment.
type Sample struct {
	At       time.Duration
	Readings [numGauges]float64 // °C, use Reading
	Room     units.Celsius
	Outdoor  units.Celsius
	Draft    units.Pascal
	Wood     units.Kilogram // dry, not yet char
	Coals    units.Kilogram
	ToRoom   units.Watt
	Lining   units.Celsius
	Body     units.Celsius

	Primary, Second, Bypass float64 // openings
	Door                    Door

	// Air through each way, kg/s; Flow is all of it.
	PrimaryAir, SecondAir, GrateAir, DoorAir, Flow float64

	Flame    float64 // share of the gas in flame
	Burnout  float64
	Lambda   float64
	Gas      float64 // kg/s of volatiles
	BurnRate float64 // kg/s of dry wood, char included
	Smoke    float64 // kg/s of particulates
	Vapour   float64 // kg/s
	Colour   Colour
	CO2, O2  units.Fraction // of the dry gas
	CO       units.Fraction
	Deposits float64 // g so far, all sections
	Glass    float64 // 0 clear, 1 black
	Spilling bool
	Flags    Flags
	Phase    Phase
}

// Reading returns what the gauge at a place would read.
func (s Sample) Reading(p stove.Place) (units.Celsius, bool) {
	switch p {
	case stove.RoomAir:
		return s.Room, true
	case stove.OutdoorAir:
		return s.Outdoor, true
	}
	i, ok := placeIndex[p]
	if !ok {
		return 0, false
	}
	return units.Celsius(s.Readings[i]), true
}

// Sample returns the state of the fire at this moment, judged by the stove's own
// gauges and bands.
func (s *Fire) Sample() Sample { return s.sample(guideBand(s.setup.Stove)) }

// Room is the temperature of the room's air.
func (s *Fire) Room() units.Celsius { return s.room.Air }

// Felt is the temperature that somebody in the room feels ([house.Room.Felt]).
func (s *Fire) Felt() units.Celsius { return s.room.Felt() }

// Coals is how much glows.
func (s *Fire) Coals() units.Kilogram { return units.Kilogram(s.coals) }

// ToRoom is the heat that the room gets at this moment.
func (s *Fire) ToRoom() units.Watt { return units.Watt(s.heat.toRoom) }

// sample takes the state of the moment. Openings are told as shares of what the
// family has, so that a control that is one of two reads as half.
func (s *Fire) sample(band guide) Sample {
	out := Sample{
		At: s.Elapsed(), Readings: s.readings(), Room: s.room.Air, Outdoor: units.FromKelvin(s.weather.outdoor), Draft: units.Pascal(s.air.draft),
		Wood: units.Kilogram(s.woodLeft()), Coals: units.Kilogram(s.coals), ToRoom: units.Watt(s.heat.toRoom),
		Lining: units.FromKelvin(s.lining), Body: units.FromKelvin(s.body),
		Primary: s.open.primary / s.p.primary, Second: s.open.secondary / s.p.secondary, Bypass: s.open.bypass, Door: s.door,
		PrimaryAir: s.air.primary, SecondAir: s.air.secondary, GrateAir: s.air.grate, DoorAir: s.air.door, Flow: s.air.total,
		Flame: s.flameShare(), Burnout: s.gas.burnout, Lambda: s.gas.lambda, Gas: s.out.volatiles,
		BurnRate: s.out.volatiles + s.gas.charRate, Smoke: s.gas.smoke, Vapour: s.gas.vapour, Colour: s.colour(),
		Deposits: s.deposits() * 1000, Glass: s.glass, Spilling: s.air.spilling, Flags: s.flags(band), Phase: s.phase(),
	}
	out.CO2, out.CO, out.O2, _ = s.gas.moles.Shares()
	return out
}

// flameShare is the share of the gas that comes off in flame, 0 to 1.
func (s *Fire) flameShare() float64 {
	if s.out.volatiles < 1e-9 {
		return 0
	}
	return clamp(s.out.flaming/s.out.volatiles, 0, 1)
}

// colour is what the gas looks like against the sky: smoke by its mass in the
// gas, vapour by how much of it there is in cold air.
func (s *Fire) colour() Colour {
	// Smoke is seen by its mass in the gas it leaves with; vapour by what cold air
	// cannot hold, which is less of it the colder it is.
	flow := max(s.air.total, 1e-4)
	switch {
	case s.gas.smoke/flow > denseSmoke:
		return BlueGrey
	case s.gas.vapour/flow > whiteVapour+whiteWarmer*(s.weather.outdoor-273.15):
		return White
	case s.gas.smoke/flow > greySmoke:
		return BlueGrey
	}
	return Clear
}

// What is seen against the sky, kg per kg of gas.
const (
	denseSmoke  = 1.1e-3 // through vapour too: about a gram in a cubic metre
	greySmoke   = 4e-4
	whiteVapour = 0.115 // at 0 °C: more than dry wood's own hydrogen makes
	whiteWarmer = 0.001 // more of it for each °C, as warmer air holds more
)

// deposits is what has settled in the whole chimney since the start, kg.
func (s *Fire) deposits() float64 {
	sum := 0.0
	for _, d := range s.flue.settled {
		sum += d
	}
	return sum
}

// flags are what somebody should know at this moment. Each is computed from the fire
// itself: none of them knows a plan.
func (s *Fire) flags(band guide) Flags {
	var f Flags
	if s.smoulders() {
		f |= Smoulders
	}
	if s.tooHot(band) {
		f |= TooHot
	}
	if s.air.spilling && s.burning() {
		f |= Spilling
	}
	if s.coalsStarve() {
		f |= StarvedCoals
	}
	if s.gas.smoke > someSmoke && s.flue.wall[segments/2] < settlesBelow {
		f |= ColdFlue
	}
	return f
}

// What is too little to be seen.
const (
	someSmoke     = 2e-6       // kg/s, from where deposits are worth a word
	smoulderGas   = 2e-5 / 0.6 // kg/s for each kg of a full bed, from where unburnt gas is a smoulder
	mostlyUnburnt = 0.6        // share of the gas that burns, under which it leaves mostly unburnt
	anyGas        = 1e-6       // kg/s, from where something is alight
	darkCoals     = 640.0      // K, under which coals take no more oxygen to speak of, and die
)

// smoulders tells whether gas leaves mostly unburnt.
func (s *Fire) smoulders() bool {
	return s.out.volatiles > smoulderGas*s.p.coalBed && s.gas.burnout < mostlyUnburnt
}

// burning tells whether anything is alight: gas, a starter, or coals that glow.
func (s *Fire) burning() bool {
	if s.out.volatiles > anyGas || s.coals > CoalsGone*s.p.coalBed/0.6 && s.bedAt() > darkCoals {
		return true
	}
	for i := range s.batches {
		if s.batches[i].starter > 0 {
			return true
		}
	}
	return false
}

// tooHot tells whether any gauge is over its limit, the guiding one or not; top
// plate and gas have the usual limits where no gauge hangs there.
func (s *Fire) tooHot(band guide) bool {
	flares := s.now < flareFor && s.setup.Coals == 0
	for i, limit := range band.limits {
		if flares && (i == gProbe || i == gFirebox) {
			limit *= FlareOver // kindling flares for some minutes in a cold stove: no overfire
		}
		if limit > 0 && s.gauge[i] >= limit {
			return true
		}
	}
	return false
}

// What kindling does to a gauge in the gas: for so long after the match, up to so many times
// its limit.
const (
	flareFor  = float64(FlareFor / time.Second)
	FlareFor  = 12 * time.Minute
	FlareOver = 1.15
)

// phase names the state of the fire from what it does, not from the clock.
func (s *Fire) phase() Phase {
	wood := s.woodLeft()
	// What is little wood is so for the firebox: a 55 L one has a full bed of 0.6 kg.
	small := s.p.coalBed / 0.6
	switch {
	// Nothing glows and nothing gasses: whatever lies in it, it is out.
	case !s.burning():
		if s.total.Fuel == 0 {
			return Preparing
		}
		return Out
	// Six parts in a hundred of what was put on are left as wood: the eye sees coals.
	case wood < 0.06*s.total.Fuel || wood < 0.1*small:
		return Coaling
	// In the first hour, before there is a bed of coals to speak of.
	case s.coals+s.charLeft() < 0.12*small && s.now < 3600:
		return Lighting
	// Not black all over yet. While the bricks are under 480 K wood has not settled
	// into a fire of its own; from there on it only has to blacken.
	case !s.charred() && s.lining < 480:
		return Establishing
	case !s.charred():
		return Charring
	}
	return Cruising
}
