package stove

import (
	"fmt"

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
	Low    units.Celsius `json:"low_c"`
	High   units.Celsius `json:"high_c"`
	TooHot units.Celsius `json:"too_hot_c"`
}

// Check returns what is wrong with the band, or nil.
func (b Band) Check() error {
	if !b.rises() {
		return units.Problem{Field: "band", Say: b.wrong}
	}
	return nil
}

func (b Band) rises() bool {
	return b.Low < b.High && b.High <= b.TooHot && b.Low >= -50 && b.TooHot <= 1300
}

func (b Band) wrong(sys units.System) string {
	return fmt.Sprintf("its band must rise: working from, working to, too hot (now %s, %s, %s)", sys.Degrees(b.Low), sys.Degrees(b.High), sys.Temperature(b.TooHot))
}

// Places lists the places with the words shown for them and the default bands,
// which every stove may override from its manual. Room and outdoors have none.
var Places = []struct {
	Key   Place
	Long  string
	Short string // at the end of a pen on the strip
	Band  Band
}{
	{ConnectorProbe, "flue gas, probe in the connector", "flue gas", Band{200, 450, 500}},
	{ConnectorSurface, "connector pipe, surface", "pipe", Band{120, 245, 300}},
	{Top, "stove top, surface", "top", Band{200, 370, 425}},
	{CatalystProbe, "catalyst, probe", "catalyst", Band{260, 870, 900}},
	{FireboxProbe, "firebox, probe", "firebox", Band{400, 850, 950}},
	{RoomAir, "room", "room", Band{}},
	{OutdoorAir, "outdoors", "outdoors", Band{}},
}

// Name returns the words for a place.
func (p Place) Name() string {
	for _, k := range Places {
		if k.Key == p {
			return k.Long
		}
	}
	return string(p)
}

// Short returns the word that stands at the end of a pen.
func (p Place) Short() string {
	for _, k := range Places {
		if k.Key == p {
			return k.Short
		}
	}
	return string(p)
}

// Known tells whether p is one of [Places].
func (p Place) Known() bool {
	for _, k := range Places {
		if k.Key == p {
			return true
		}
	}
	return false
}

// OfFire tells whether the place follows the fire, unlike room and outdoors.
func (p Place) OfFire() bool { return p.Known() && p != RoomAir && p != OutdoorAir }

// DefaultBand returns the band of a place when the manual gives none.
func (p Place) DefaultBand() Band {
	for _, k := range Places {
		if k.Key == p {
			return k.Band
		}
	}
	return Band{}
}

// A Gauge is a thermometer at its place, with its band.
type Gauge struct {
	Place Place `json:"place"`
	Band  Band  `json:"band"`
}

// NewGauge returns a gauge with the default band of its place.
func NewGauge(p Place) Gauge { return Gauge{Place: p, Band: p.DefaultBand()} }
