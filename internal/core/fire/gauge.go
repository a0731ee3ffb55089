package fire

import (
	"math"

	"smolder/internal/core/flue"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// gauge places in the order of Fire.gauge.
const (
	gTop = iota
	gProbe
	gSurface
	gCatalyst
	gFirebox
	numGauges
)

var placeIndex = map[stove.Place]int{stove.Top: gTop, stove.ConnectorProbe: gProbe, stove.ConnectorSurface: gSurface,
	stove.CatalystProbe: gCatalyst, stove.FireboxProbe: gFirebox}

// lag is each gauge's time constant in s: a magnet on a plate follows slowly.
var lag = [numGauges]float64{gTop: 90, gProbe: 25, gSurface: 45, gCatalyst: 15, gFirebox: 20}

// readGauges lets every gauge follow what it sits on.
func (s *Fire) readGauges() {
	g := &s.gauge
	probe := s.heat.collar - 273.15
	s.follow(gTop, s.body+s.p.topBias*(s.heat.gasHot-s.body)-273.15)
	s.follow(gProbe, probe)
	s.follow(gCatalyst, s.catalyst-273.15)
	s.follow(gFirebox, s.heat.gasHot-273.15)
	// One Newton step from the last surface is enough: it moves by less than a
	// degree in a step.
	s.surface = flue.RefineSurface(s.surface, units.Celsius(probe), s.room.Air)
	g[gSurface] += (float64(s.surface) - g[gSurface]) * s.follows[gSurface]
}

func (s *Fire) follow(gauge int, target float64) {
	s.gauge[gauge] += (target - s.gauge[gauge]) * s.follows[gauge]
}

// followShares are 1 − exp(−dt/lag), so that a longer step follows no faster.
func followShares(dt float64) (out [numGauges]float64) {
	for i := range out {
		out[i] = 1 - math.Exp(-dt/lag[i])
	}
	return out
}

// foulGlass lets smoke settle on cool glass and a hot fire burn it clean.
// glass is 0 clear to 1 black.
func (s *Fire) foulGlass() {
	// 40 g of smoke per square metre of firebox wall would blacken it; a tenth
	// of what passes touches the glass, less where air washes it.
	wash := 1 - 0.6*min(1, s.air.secondary/(0.3*s.p.blast))
	s.glass += s.gas.smoke * 0.1 * wash / (0.040 * 0.1) * s.dt * (1 - s.glass)
	s.glass -= s.glass * smooth(s.lining, 620, 800) / 5400 * s.dt
}
