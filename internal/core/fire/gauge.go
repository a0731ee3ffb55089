package fire

import (
	"math"

	"smolder/internal/core/flue"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// combShows is how far the top plate leads the body toward a catalyst under it;
// 0.03 to 0.1.
const combShows = 0.012

// A door's iron sees the fire through its glass and stands before the room's air: it leads the
// body towards the lining by a share, and lies under it by another; 0.05 to 0.2, 0.1 to 0.3.
const doorSees, doorLoses = 0.12, 0.2

// gauge places in the order of Fire.gauge.
const (
	gTop = iota
	gProbe
	gSurface
	gCatalyst
	gFirebox
	gDoor
	numGauges
)

// placeIndex finds a gauge by the place that its owner knows.
var placeIndex = map[stove.Place]int{stove.Top: gTop, stove.ConnectorProbe: gProbe, stove.ConnectorSurface: gSurface,
	stove.CatalystProbe: gCatalyst, stove.FireboxProbe: gFirebox, stove.DoorPlate: gDoor}

// lag is each gauge's time constant in s: a magnet on a plate follows slowly.
var lag = [numGauges]float64{gTop: 90, gProbe: 25, gSurface: 45, gCatalyst: 15, gFirebox: 20, gDoor: 120}

// readGauges lets every gauge follow what it sits on.
func (s *Fire) readGauges() {
	g := &s.gauge
	probe := s.heat.collar - 273.15
	top := s.body + s.p.topBias*(s.heat.gasHot-s.body)
	if s.p.catalyst { // it glows under the plate
		top += combShows * max(0, s.catalyst-s.body)
	}
	s.follow(gTop, top-273.15)
	s.follow(gProbe, probe)
	s.follow(gDoor, s.body+doorSees*(s.lining-s.body)-doorLoses*(s.body-s.room.Air.Kelvin())-273.15)
	s.follow(gCatalyst, s.catalyst-273.15)
	s.follow(gFirebox, s.heat.gasHot-273.15)
	// One Newton step from the last surface is enough: it moves by less than a
	// degree in a step.
	s.surface = flue.RefineSurface(s.surface, units.Celsius(probe), s.room.Air)
	g[gSurface] += (float64(s.surface) - g[gSurface]) * s.follows[gSurface]
}

// follow moves a gauge by its share towards what it sits on, °C.
func (s *Fire) follow(gauge int, target float64) {
	s.gauge[gauge] += (target - s.gauge[gauge]) * s.follows[gauge]
}

// followShares are 1 − exp(−dt/lag), so that a longer step follows no faster.
func (p *params) followShares(dt float64) (out [numGauges]float64) {
	for i := range out {
		out[i] = 1 - math.Exp(-dt/p.lags[i])
	}
	return out
}

// reading is what a gauge shows, °C: its error is its own, and no limit of the
// stove's knows it.
func (s *Fire) reading(gauge int) float64 { return s.gauge[gauge] * s.p.reads[gauge] }

// readings are those of all the gauges.
func (s *Fire) readings() (out [numGauges]float64) {
	for i := range out {
		out[i] = s.reading(i)
	}
	return out
}

// What fouls the glass and cleans it: this model's own, from how owners see it.
const (
	blackGlass   = 0.040  // kg of smoke on a square metre that make it black
	glassArea    = 0.1    // m², of a usual door
	touches      = 0.1    // share of the smoke that comes by the glass
	washKeeps    = 0.6    // share of it that air over the glass keeps off
	washFlow     = 0.3    // of the blast, of second air that washes fully
	cleansFrom   = 620.0  // K of the lining, from where it begins to burn clean
	cleansFull   = 800.0  // K, at which it does fully
	cleanSeconds = 5400.0 // s, until a third is left
)

// foulGlass lets smoke settle on cool glass and a hot fire burn it clean.
// glass is 0 clear to 1 black.
func (s *Fire) foulGlass() {
	wash := 1 - washKeeps*min(1, s.air.secondary/(washFlow*s.p.blast))
	s.glass += s.gas.smoke * touches * wash / (blackGlass * glassArea) * s.dt * (1 - s.glass)
	s.glass -= s.glass * smooth(s.lining, cleansFrom, cleansFull) / cleanSeconds * s.dt
}
