package fire

import (
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/units"
)

// What the gas does on its way up, and what settles there.
const (
	leastFlueGas  = 0.4  // W/K, of a chimney that breathes without a fire
	leastFilm     = 0.3  // times the rated flow, under which the film on the wall gets no worse
	settlesWithin = 15   // K on either side of settlesBelow: the inner wall is not equally warm all round
	segmentKeeps  = 0.11 // share of the smoke that one cold segment keeps; with the others about a third of it stays in a cold chimney
	levelCooler   = 25   // K that a level run is cooler than the foot of the chimney
)

// flueNodes are the chimney's wall segments.
type flueNodes struct {
	wall             [segments]float64 // K
	gas              [segments]float64 // K, mean in the segment
	length           float64           // m per segment
	wallData         flue.Wall
	inner            float64 // W/K per segment at 6 g/s
	area, resistance float64
	film             power                 // (flow/6 g/s)^0.6
	settled          [segments + 1]float64 // kg deposits of this run; the last is the horizontal run
	level            float64               // share of the smoke that a horizontal run would keep, were it cold
}

// warmFlue carries the gas through connector and chimney, and the room on.
// Smoke settles where the inner wall is below about 120 °C (NFPA 211 calls
// for a sweep at 3 mm of it).
func (s *Fire) warmFlue() {
	room := s.room.Air.Kelvin()
	f := &s.flue
	capacity := max(leastFlueGas, s.heat.capacity)
	gas := s.heat.collar
	// The pipe in the room is an exchanger too: its heat is the room's, and counts as
	// lost at the collar, where tests measure.
	connector := capacity * (1 - decay(s.p.connectorU*s.p.connector/capacity)) * (gas - room)
	gas -= connector / capacity
	s.total.Connector += connector * s.dt
	if diluting := s.air.diluting; diluting > 0 {
		mixed := capacity + diluting*cpAir
		gas = (gas*capacity + room*diluting*cpAir) / mixed
		capacity = mixed
	}
	// In every segment the gas nears the wall; the wall gains that and loses to what is
	// around it. Smoke settles where the wall is colder than its dew point of tar.
	keep := decay(f.inner * f.film.at(max(leastFilm, (s.air.total+s.air.diluting)/ratedAir)) / capacity)
	around := s.surround()
	heat := f.wallData.Capacity * f.length
	outer := s.p.flueLoss * f.wallData.Outer * f.length
	settling := s.gas.smoke * s.dt
	f.settled[segments] += settling * f.level * (1 - smooth(f.wall[0]-levelCooler, settlesBelow-settlesWithin, settlesBelow+settlesWithin))
	for i := range segments {
		wall := f.wall[i]
		after := wall + (gas-wall)*keep
		// The mean of a segment is what the draft is made of.
		f.gas[i] = 0.5 * (gas + after)
		f.wall[i] += (capacity*(gas-after) - outer*(wall-around)) / heat * s.dt
		f.settled[i] += settling * segmentKeeps * (1 - smooth(wall, settlesBelow-settlesWithin, settlesBelow+settlesWithin))
		gas = after
	}
	s.prime()
	// The room last: it gets what the stove and its pipe gave, and what another stove in
	// the same space does.
	shines := s.heat.radiant + house.Radiates*(connector+s.besideHeat())
	s.room, _ = s.walls.Under(s.room, s.heat.toRoom+connector+s.besideHeat()-shines, shines, units.FromKelvin(s.weather.outdoor), s.dt)
}

// settlesBelow is [flue.Condenses] in K.
const settlesBelow = float64(flue.Condenses) + 273.15

// surround is the temperature around the chimney, K: an inside one stands
// mostly in the house.
func (s *Fire) surround() float64 {
	if s.setup.Stove.Chimney.Outside {
		return s.weather.outdoor
	}
	return flue.InsideShare*s.setup.Room.Kelvin() + (1-flue.InsideShare)*s.weather.outdoor
}

// PaperPrimer is the heat of a few sheets of paper burnt high under the flue.
const PaperPrimer units.Joule = 0.5e6

// Prime burns paper or a torch high under the flue: that heat goes into the
// chimney and not into the stove. It warms gas and wall from below.
func (s *Fire) Prime(heat units.Joule) {
	s.priming, s.primePower = float64(heat), float64(heat)/primeSeconds
	for i, share := range primeShare {
		s.flue.gas[i] += primedGas * share
	}
}

const (
	primeSeconds = 90   // that a few sheets of paper burn
	primedGas    = 60   // K that the primer's own gas makes the column warmer
	primeStays   = 0.45 // share of its heat that the wall takes; the rest leaves with the gas
)

// primeShare is how a primer's heat spreads over the segments.
var primeShare = [segments]float64{0.4, 0.28, 0.19, 0.13}

func (s *Fire) prime() {
	if s.priming <= 0 {
		return
	}
	used := min(s.priming, s.primePower*s.dt)
	s.priming -= used
	burns := s.priming > 1e-6*s.primePower // in the next step, which this gas will draw
	for i, share := range primeShare {
		s.flue.wall[i] += primeStays * used * share / (s.flue.wallData.Capacity * s.flue.length)
		if burns {
			s.flue.gas[i] += primedGas * share
		}
	}
}
