package plan

import (
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// DampRoom is the relative humidity that a room which wants drying is taken to
// have, where nobody has measured it.
const DampRoom units.Fraction = 0.75

// A Drying is what a fire does for a damp room: it draws room air up the
// chimney, and outdoor air, dry once it is warm, takes its place.
type Drying struct {
	Warmed units.Fraction // relative humidity of the outdoor air once it is in the room
	Air    float64        // m³ that the fire takes out of the room
	Water  units.Kilogram // that leaves with it; negative: the air from outside brings some
}

// Drying returns what the plan takes out of a damp room; false when the humidity
// outdoors is not known, or the fire's air comes from outdoors by a duct.
func (p Plan) Drying() (Drying, bool) {
	w := p.Wish
	if w.Humidity <= 0 {
		return Drying{}, false
	}
	for _, c := range w.Stove.Controls {
		if c.Role == stove.OutsideAir {
			return Drying{}, false
		}
	}
	room := (w.Low + w.High) / 2
	return Drying{Warmed: house.Warmed(w.Outdoor, w.Humidity, room), Air: p.Air, Water: house.DriedBy(p.Air, room, DampRoom, w.Outdoor, w.Humidity)}, true
}
