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
	DoorPlate        Place = "door" // a magnet on the door's iron, beside the glass
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

// A PlaceRow describes a place: all that is the same for every gauge there. Its words are a row
// of package say; what a gauge there follows, and how late, is a row of package fire.
// TestEveryPlaceIsWhole fails where a part is missing.
type PlaceRow struct {
	Place  Place
	Fire   bool     // it follows the fire
	Gas    bool     // it hangs in the gas, and flares with kindling
	Band   Band     // the usual one, °C, which every stove may override from its manual
	Number string   // of a belief: its error
	Column string   // of a simulated burn's table
	Heads  []string // words in the head of somebody's column that mean it
	Pen    string   // how its line is drawn
}

// PlaceRows are the places, those that show most of the fire first: in that order a stove is
// steered by them. Bands of flue gas, pipe, top and door are usual marks of such
// thermometers; of a catalyst, its light-off and what its coating stands. Room and outdoors
// have none.
var PlaceRows = []PlaceRow{
	{Place: ConnectorProbe, Fire: true, Gas: true, Band: Band{200, 450, 500}, Number: "probe", Column: "flue_gas_c", Heads: []string{"flue", "gas", "probe", "exhaust"}, Pen: "probe"},
	{Place: ConnectorSurface, Fire: true, Band: Band{120, 245, 300}, Number: "surface", Column: "pipe_c", Heads: []string{"pipe", "surface"}, Pen: "pipe"},
	{Place: Top, Fire: true, Band: Band{200, 370, 425}, Number: "top", Column: "top_c", Heads: []string{"top", "stove"}, Pen: "top"},
	{Place: DoorPlate, Fire: true, Band: Band{150, 300, 350}, Number: "door", Column: "door_c", Heads: []string{"door"}, Pen: "door"},
	{Place: CatalystProbe, Fire: true, Band: Band{260, 870, 900}, Number: "catalyst", Column: "catalyst_c", Heads: []string{"cat"}, Pen: "cat"},
	{Place: FireboxProbe, Fire: true, Gas: true, Band: Band{400, 850, 950}, Number: "firebox", Column: "firebox_c", Heads: []string{"firebox", "box"}, Pen: "box"},
	{Place: RoomAir, Column: "room_c", Heads: []string{"room", "inside", "indoor", "air"}, Pen: "room"},
	{Place: OutdoorAir, Column: "outdoor_c", Heads: []string{"out"}, Pen: "out"},
}

// Places lists the places in their order.
var Places = func() []Place {
	var out []Place
	for _, r := range PlaceRows {
		out = append(out, r.Place)
	}
	return out
}()

// Row is the description of a place; the zero row of one that is none.
func (p Place) Row() PlaceRow {
	for _, r := range PlaceRows {
		if r.Place == p {
			return r
		}
	}
	return PlaceRow{}
}

// Known tells whether p is one of [Places].
func (p Place) Known() bool { return slices.Contains(Places, p) }

// OfFire tells whether the place follows the fire, unlike room and outdoors.
func (p Place) OfFire() bool { return p.Row().Fire }

// DefaultBand returns the band of a place when the manual gives none.
func (p Place) DefaultBand() Band { return p.Row().Band }

// A Gauge is a thermometer at its place, with its band.
type Gauge struct {
	Place Place
	Band  Band
}

// NewGauge returns a gauge with the default band of its place.
func NewGauge(p Place) Gauge { return Gauge{Place: p, Band: p.DefaultBand()} }
