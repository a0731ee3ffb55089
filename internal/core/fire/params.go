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
	lining, body               float64 // J/K
	liningArea, bodyArea       float64 // m²
	liningEmissivity           float64 // lining to body
	liningUA, exchangeUA       float64 // W/K, gas to lining and to body
	glass                      float64 // share of radiated heat through the glass
	burnoutCold, burnoutHot    float64 // of flaming gas
	thermalAt                  float64 // K, lining temperature where smoke burns without flame
	preheat                    float64 // how well secondary air is placed
	fanPressure                float64 // Pa at full combustion fan
	catalyst                   bool
	catalystMass               float64 // J/K
	flap                       float64 // m² of an open barometric damper; 0 is none
	outsideAir                 bool    // the inlets are ducted from outdoors
	connector                  float64 // m² of connector in the room
	connectorU                 float64 // W/m²K through it
	coalBed, blast, liveliness float64 // kg of a full bed; kg/s of air that blows it; kg/s of flaming gas that lights other wood
	topBias                    float64 // how far the top plate leads the body toward the gas
	flueLoss                   float64 // factor on what the chimney's wall loses
	shield, charRate           float64 // factors on the heat that reaches fresh wood, and on the rate of coals
	smoke                      float64 // kg particulates per kg unburnt volatiles
}

// build is how a family differs from a 55 L secondary-air stove of the same
// size: factors on its starting values, and the qualities of its combustion.
type build struct {
	primary, secondary, leak float64 // factors on the inlets; 0.1 to 2, a tight stove to one with many
	lining, body             float64 // factors on the heat they store: weight of brick, of iron
	exchange, emissivity     float64 // factors on gas to body, and on lining to body
	cold, hot                float64 // shares of flaming gas that burn in a cold and in a hot firebox; 0.8 to 1
	thermalAt                float64 // K of the lining at which smoke burns without a flame; 800 to 900
	preheat                  float64 // how well second air is placed and warmed, 1 as the stove all is scaled from
}

// builds hold one row a family. The burnouts and the preheat are what emission
// tests of the family usually come to (40 CFR 60 AAA); the rest is weight of
// brick and iron.
var builds = map[stove.Family]build{
	// primary, secondary, leak, lining, body, exchange, emissivity, cold, hot, thermalAt, preheat
	stove.SecondaryAir: {1, 1, 1, 1, 1, 1, 1, 0.87, 0.99, 830, 1},
	stove.Plain:        {1.1, 0.15, 2, 0.75, 1, 1, 2.2, 0.81, 0.945, 890, 0.4},
	stove.Catalytic:    {1, 0.5, 1, 1, 1.25, 1.15, 1, 0.80, 0.87, 850, 0.5},
	stove.MultiFuel:    {1, 0.9, 1.5, 1, 1, 1, 1.1, 0.85, 0.975, 845, 0.8},
	stove.Tiny:         {1.8, 0.8, 1.3, 0.9, 1, 0.6, 1.3, 0.86, 0.97, 850, 0.6},
	stove.Refractory:   {1, 1, 0.8, 2.6, 1, 1.35, 1.1, 0.88, 0.995, 820, 1.1},
}

// The 55 L secondary-air stove that everything is scaled from. Volumes and
// areas are those of a firebox of 46 × 38 × 33 cm with 3 cm of brick.
const (
	baseVolume      = 55.0    // L
	baseOutput      = 8000.0  // W, what such a stove's manual gives
	basePrimary     = 9.2e-4  // m², fully open; 5 to 15 cm² of such stoves
	baseSecondary   = 6.5e-4  // m², of all its holes
	baseLeak        = 0.55e-4 // m², of a rope that is whole
	baseLining      = 32e3    // J/K: 35 kg of brick, of which the inner half follows a fire
	baseBody        = 75e3    // J/K: 150 kg of iron
	baseLiningArea  = 0.55    // m²
	baseBodyArea    = 2.05    // m², plates and legs
	baseLiningUA    = 5.0     // W/K, gas to lining
	baseExchange    = 10.5    // W/K, gas to body
	baseEmissivity  = 0.25    // lining to body, through what stands between
	ajarGap         = 28e-4   // m², of a door ajar by a finger
	barometricLimit = 12.0    // Pa
	flapShare       = 0.9     // of the flue's area, of an open flap
	flapSwings      = 15.0    // s from shut to open under twice the limit
	catchingSteps   = 4       // parts of a step while wood catches
)

// paramsOf scales the starting values by volume (masses) and its two-thirds
// power (areas), moves the inlets and surfaces by the manual's output where it
// is known, and applies the family's row.
func paramsOf(s stove.Stove, t Tuning) params {
	k := float64(s.Volume) / baseVolume
	a := math.Pow(k, 2./3)
	inlets, surfaces := a, a
	if s.Output > 0 {
		stronger := clamp(float64(s.Output)/(baseOutput*a), 0.6, 1.7)
		inlets *= math.Pow(stronger, 0.7)
		surfaces *= math.Sqrt(stronger)
	}
	b, known := builds[s.Family]
	if !known {
		b = builds[stove.SecondaryAir]
	}
	p := params{
		primary: basePrimary * inlets * b.primary, secondary: baseSecondary * inlets * b.secondary, leak: baseLeak * a * b.leak,
		doorAjar: ajarGap * math.Sqrt(a), doorOpen: 0.085 * a,
		lining: baseLining * k * b.lining, body: baseBody * k * b.body, liningArea: baseLiningArea * a, bodyArea: baseBodyArea * surfaces,
		liningEmissivity: baseEmissivity * b.emissivity, liningUA: baseLiningUA * a, exchangeUA: baseExchange * surfaces * b.exchange,
		glass: 0.12, burnoutCold: b.cold, burnoutHot: b.hot, thermalAt: b.thermalAt, preheat: b.preheat, fanPressure: 25,
		connector: math.Pi * float64(s.Chimney.Diameter) * 0.9, connectorU: 5, topBias: 0.255,
		coalBed: 0.6 * a, blast: 0.003 * a, liveliness: 4e-4 * a,
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
	p.flueLoss, p.shield, p.charRate, p.smoke = 1, 1, 1, smokePerGas
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
