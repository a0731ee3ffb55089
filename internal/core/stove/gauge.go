package stove

import (
	"slices"

	"smolder/internal/core/units"
)

// A Place is where a thermometer sits. Gauges at different places are not
// interchangeable: each place has its own bands.
type Place string

// The places.
const (
	Top              Place = "top"               // stove top, surface
	ConnectorSurface Place = "connector-surface" // single-wall pipe only
	ConnectorProbe   Place = "connector-probe"   // in the gas
	CatalystProbe    Place = "catalyst"
	FireboxProbe     Place = "firebox"
	RoomAir          Place = "room"
	OutdoorAir       Place = "outdoors"
)

// A Band is the working range of a gauge: below Low the fire is cold and
// smoky, above TooHot it overfires. Between High and TooHot it works but
// wastes heat.
type Band struct {
	Low    units.Celsius
	High   units.Celsius
	TooHot units.Celsius
}

// Places lists the places, those that show most of the fire first.
var Places = []Place{ConnectorProbe, ConnectorSurface, Top, CatalystProbe, FireboxProbe, RoomAir, OutdoorAir}

// bands are the default bands, which every stove may override from its manual,
// °C. Those of flue gas and top plate are usual marks of such thermometers; of a
// catalyst, its light-off and what its coating stands. Room and outdoors have
// none.
var bands = map[Place]Band{
	ConnectorProbe:   {200, 450, 500},
	ConnectorSurface: {120, 245, 300},
	Top:              {200, 370, 425},
	CatalystProbe:    {260, 870, 900},
	FireboxProbe:     {400, 850, 950},
}

// Known tells whether p is one of [Places].
func (p Place) Known() bool { return slices.Contains(Places, p) }

// OfFire tells whether the place follows the fire, unlike room and outdoors.
func (p Place) OfFire() bool { return p.Known() && p != RoomAir && p != OutdoorAir }

// DefaultBand returns the band of a place when the manual gives none.
func (p Place) DefaultBand() Band { return bands[p] }

// A Gauge is a thermometer at its place, with its band.
type Gauge struct {
	Place Place
	Band  Band
}

// NewGauge returns a gauge with the default band of its place.
func NewGauge(p Place) Gauge { return Gauge{Place: p, Band: p.DefaultBand()} }
