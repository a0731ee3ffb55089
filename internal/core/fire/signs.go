package fire

import "math"

// What is heard and seen beside smoke and flames.
//
//	number       unit   usual range   source
//	heskestad    m kW^-2/5   0.235    mean height of a flame over its source, Heskestad 1983
//	heskestadD   -      1.02          what its source's width takes of it, there
//	flameHeat    kJ/kg  10,000–16,000 of wood's gas, burnt in the box
//	edgeWash     -      0–0.3         of the wash, that reaches the edge of the glass
//	bedFills     -      0.2–0.5       of the height of the firebox, that the wood takes
const (
	heskestad, heskestadD = 0.235, 1.02
	flameHeat             = 13e3
	edgeWash              = 0.2
	bedFills              = 0.35
)

// Signs are what an eye or an ear has of a fire but for its smoke, its flames and its wood;
// see [Look] for those.
type Signs struct {
	Reach    float64 // how high the flames stand, of the way from the wood to the baffle
	Warming  float64 // of the stove's body, K/min; below nothing: it cools
	Moisture float64 // water in the wood that is not char, kg/kg of dry wood; 0 where none is left
	Blackens float64 // of the glass along its edge, where the wash does not reach: share an hour
	Sucks    float64 // the pressure that the inlets see, Pa
}

// Signs are those of this moment.
func (s *Fire) Signs() Signs {
	out := Signs{Warming: s.heat.warming * 60, Sucks: s.air.draft}
	kilowatts := s.out.flaming * s.gas.burnout * flameHeat
	wide := math.Sqrt(4 / math.Pi * s.p.floor / 2) // the wood burns on about half of the floor
	lies := s.p.volume / s.p.floor * (1 - bedFills)
	out.Reach = max(0, heskestad*math.Pow(kilowatts, 0.4)-heskestadD*wide) / lies
	dry, water := 0.0, 0.0
	for i := range s.batches {
		dry, water = dry+s.batches[i].dry, water+s.batches[i].water
	}
	if dry > woodGone {
		out.Moisture = water / dry
	}
	wash := 1 - edgeWash*washKeeps*min(1, s.air.secondary/(washFlow*s.p.blast))
	out.Blackens = 3600 * (s.gas.smoke*touches*wash/(blackGlass*glassArea)*(1-s.glass) - s.glass*smooth(s.lining, cleansFrom, cleansFull)/cleanSeconds)
	return out
}
