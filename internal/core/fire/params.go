package fire

import (
	"math"

	"smolder/internal/core/stove"
)

// params are a stove's constants, derived from what its owner can know:
// family, firebox volume, the manual's output, connector and chimney.
type params struct {
	primary, secondary, leak   float64 // m², fully open
	doorAjar, doorOpen         float64 // m²
	volume                     float64 // m³ of firebox
	lining, baffle, body       float64 // J/K
	liningArea, baffleArea     float64 // m²
	glassArea, floor, bodyArea float64 // m²
	liningLoss, exchangeUA     float64 // W/K, lining to body and gas to body
	preheat                    float64 // how well second air is placed and warmed
	pockets                    float64 // factor on the gas that meets no flame
	radiates                   float64 // share of what its plates radiate that gets out into the room: jackets keep some
	fanPressure                float64 // Pa at full combustion fan
	catalyst                   bool
	catalystMass, comb         float64            // J/K; size against that of a 55 L stove
	combActive                 float64            // share of its coating that works
	flap                       float64            // m² of an open barometric damper; 0 is none
	outsideAir                 bool               // the inlets are ducted from outdoors
	connector                  float64            // m² of connector in the room
	connectorU                 float64            // W/m²K through it
	coalBed, blast, liveliness float64            // kg of a full bed; kg/s of air that blows it; kg/s of flaming gas that lights other wood
	topBias                    float64            // how far the top plate leads the body toward the gas
	flueLoss                   float64            // factor on what the chimney's wall loses
	shield, charRate, monoxide float64            // factors on the char's conductance, and on its burning
	smoke                      float64            // factor on the particulates of unburnt gas
	curve                      float64            // exponent between a control's mark and its opening
	reads, lags                [numGauges]float64 // of the gauges: what they read over what they should; s
}

// build is how a family differs from a 55 L secondary-air stove of the same
// size: factors on its starting values, and the quality of its second air.
type build struct {
	primary, secondary, leak float64 // factors on the inlets; 0.1 to 2, a tight stove to one with many
	lining, body             float64 // factors on the heat they store: weight of brick, of iron
	exchange, loss           float64 // factors on gas to body, and on lining to body
	preheat                  float64 // how well second air is placed and warmed, 1 as the stove all is scaled from
	pockets                  float64 // factor on the gas that meets no flame; under 1 where jets and hot brick stir it, 2 to 5 without second air
}

// builds hold one row a family: weight of brick and iron, and how its air is led.
var builds = map[stove.Family]build{
	// primary, secondary, leak, lining, body, exchange, loss, preheat, pockets
	stove.SecondaryAir: {1, 1, 1, 1, 1, 1, 1, 1, 1},
	stove.Plain:        {1.9, 0.2, 2, 0.75, 1, 1, 1.6, 0.7, 3.5},
	stove.Catalytic:    {1.25, 1.0, 1, 1, 0.88, 1.12, 1, 0.85, 1.8},
	stove.MultiFuel:    {1, 0.9, 1.5, 1, 1, 1, 1.1, 0.85, 1.6},
	stove.Tiny:         {1.3, 1.2, 1.3, 0.9, 1, 0.35, 1.2, 0.8, 2},
	stove.Refractory:   {0.9, 0.9, 0.8, 3, 2.2, 2.2, 0.9, 1.05, 0.7},
}

// The 55 L secondary-air stove that everything is scaled from. Volumes and
// areas are those of a firebox of 46 × 38 × 33 cm with 3 cm of brick.
const (
	baseVolume      = 55.0    // L
	baseOutput      = 8000.0  // W, what such a stove's manual gives
	basePrimary     = 10.3e-4 // m², fully open; 5 to 20 cm² of such stoves
	baseSecondary   = 8.6e-4  // m², of all its holes
	baseLeak        = 0.61e-4 // m², of a rope that is whole
	baseLining      = 24e3    // J/K: 35 kg of brick, of which the inner half follows a fire
	baseBaffle      = 6.5e3   // J/K: 7 kg of vermiculite or steel
	baseBody        = 51.5e3  // J/K: 150 kg of iron
	baseLiningArea  = 0.54    // m²
	baseBaffleArea  = 0.16    // m²
	baseGlassArea   = 0.10    // m²
	baseFloor       = 0.17    // m²
	baseBodyArea    = 2.25    // m², plates and legs
	baseLiningLoss  = 10.5    // W/K: 3 cm of firebrick, 0.3 W/mK, and the gap behind it; 4 to 9
	baseExchange    = 8.53    // W/K, gas to body
	jacketed        = 0.9     // of what the plates radiate; the rest warms their jackets and rises with the air; 0.5 to 1
	smallHasMore    = -0.15   // exponent of the volume that the exchange goes with under 55 L: small stoves have more of it per litre
	largeHasMore    = 0.45    // and over it: with the walls that the gas passes, a little less than with their two-thirds power
	ajarGap         = 28e-4   // m², of a door ajar by a finger
	barometricLimit = 12.0    // Pa
	flapShare       = 0.9     // of the flue's area, of an open flap
	flapSwings      = 10      // s from shut to open under twice the limit
	catchingSteps   = 4       // parts of a step while wood catches
)

// paramsOf scales the starting values by volume (masses) and its two-thirds
// power (areas), moves the inlets and surfaces by the manual's output where it
// is known, and applies the family's row.
func paramsOf(s stove.Stove, t Tuning, n *Physics) params {
	k := float64(s.Volume) / baseVolume
	a := math.Pow(k, 2./3)
	inlets, surfaces, exchange := a, a, math.Pow(k, smallHasMore)
	if k > 1 {
		exchange = math.Pow(k, largeHasMore)
	}
	if s.Output > 0 {
		stronger := clamp(float64(s.Output)/(baseOutput*a), 0.6, 1.7)
		inlets *= math.Pow(stronger, 0.7)
		surfaces *= math.Sqrt(stronger)
		exchange *= math.Pow(stronger, 0.25)
	}
	b, known := builds[s.Family]
	if !known {
		b = builds[stove.SecondaryAir]
	}
	p := params{
		primary: n.Primary * basePrimary * inlets * b.primary, secondary: n.Second * baseSecondary * inlets * b.secondary, leak: n.Leak * baseLeak * a * b.leak,
		doorAjar: ajarGap * math.Sqrt(a), doorOpen: 0.085 * a, volume: float64(s.Volume) / 1000,
		lining: baseLining * k * b.lining, baffle: baseBaffle * k * b.lining, body: baseBody * k * b.body,
		liningArea: baseLiningArea * a, baffleArea: baseBaffleArea * a, glassArea: baseGlassArea * a, floor: baseFloor * a, bodyArea: n.Plates * baseBodyArea * surfaces,
		liningLoss: baseLiningLoss * a * b.loss, exchangeUA: n.Exchange * baseExchange * exchange * b.exchange,
		preheat: b.preheat, pockets: b.pockets, radiates: jacketed, fanPressure: 25,
		connector: math.Pi * float64(s.Chimney.Diameter) * 0.9, connectorU: 5, topBias: 0.1405,
		coalBed: 0.6 * a, blast: 0.003 * a, liveliness: 4e-4 * a, comb: a, combActive: 1,
	}
	if s.Double {
		p.connectorU = 2
	}
	if s.Family == stove.Catalytic {
		p.catalyst, p.catalystMass = true, 2600*a
	}
	if s.Family == stove.Tiny {
		p.connector = math.Pi * float64(s.Chimney.Diameter) * 0.5
	}
	p.flueLoss, p.shield, p.charRate, p.smoke, p.monoxide = 1, 1, 1, 1, 1
	p.applyControls(s)
	p.tune(t)
	return p
}

// applyControls gives the stove what only a control brings.
func (p *params) applyControls(s stove.Stove) {
	for _, c := range s.Controls {
		switch c.Role {
		case stove.Barometric:
			p.flap = flapShare * s.Chimney.Area()
		case stove.OutsideAir:
			p.outsideAir = true
		}
	}
}
