package wood

import (
	"math"

	"smolder/internal/core/units"
)

// Wood is sold by the cord, the crate or the tonne, and none of these warms a
// room. What can be compared between offers is what a useful kilowatt-hour costs:
// heat in the room, of this wood as wet as it is, in this stove.

// An Offer is wood for sale.
type Offer struct {
	Species  Species
	Price    float64 // of the whole offer, in any money
	Wood     Amount
	Moisture units.Fraction // dry basis
	Spread   units.Fraction // how far off it may be on either side
}

// A Cost is money for a kilowatt-hour of heat in the room, with the range that
// four out of five such offers lie in.
type Cost struct{ Low, Middle, High float64 }

// Heat is the net heat in the offer's wood, before any stove: oven-dry mass times
// the net energy of a kilogram of it, less what its water takes up the flue.
func (o Offer) Heat() units.Joule {
	return units.Joule(float64(o.Wood.Middle) * o.dryNet(o.Moisture) * 1e6)
}

// dryNet is MJ for each kg of oven-dry wood that comes with its water.
func (o Offer) dryNet(u units.Fraction) float64 {
	return math.Max(0, NetEnergy(o.Species.Gross, u)*(1+float64(u)))
}

// Useful is the heat that the offer brings into the room, in a stove of an efficiency (net)
// with dry wood.
func (o Offer) Useful(efficiency units.Fraction) units.Joule {
	return o.Heat() * units.Joule(float64(efficiency)*burnsAs(o.Moisture))
}

// Wet wood burns worse: of its heat a stove brings so much less into the room for every
// point of moisture over dryWood; 0.3 to 1, a judgement and no measurement.
const worsePerPoint, dryWood, worst = 0.006, 0.20, 0.6

// burnsAs is how well wood of a moisture burns against dry wood, as a share.
func burnsAs(u units.Fraction) float64 {
	return math.Max(worst, 1-worsePerPoint*100*math.Max(0, float64(u)-dryWood))
}

// Cost is what a useful kilowatt-hour costs in a stove of an efficiency (net),
// which may be off by a spread on either side. Wood too wet to give any heat has
// none: ok is false, as of an offer of nothing.
//
//	price / (oven-dry wood · net energy · efficiency · (1 − worse · (u − 20 %)))
//
// What the water takes with it as steam is in the net energy already; that wet wood also
// burns worse, with a cold flame and more of its gas unburnt, is in the last factor.
func (o Offer) Cost(efficiency, spread units.Fraction) (c Cost, ok bool) {
	const joulesPerKWh = 3.6e6
	useful := float64(o.Useful(efficiency)) / joulesPerKWh
	if useful <= 0 {
		return Cost{}, false
	}
	water := math.Abs(o.dryNet(o.Moisture+o.Spread)-o.dryNet(o.Moisture)) / o.dryNet(o.Moisture) / tenthAway
	doubt := math.Hypot(math.Hypot(o.Wood.Own, o.Wood.Same), math.Hypot(water, float64(spread/efficiency)/tenthAway))
	middle, factor := o.Price/useful, math.Exp(tenthAway*doubt)
	return Cost{middle / factor, middle, middle * factor}, true
}
