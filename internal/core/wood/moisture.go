// Package wood computes what a piece of firewood holds: its water, its dry
// mass, its energy and the room it takes in a stack.
//
// Two moistures are in use and are easily mixed up. Pin meters and the wood
// trade read the dry basis u = water / dry wood; engineers of boilers read the
// wet basis w = water / whole piece = u/(1+u). Everything here takes and gives
// the dry basis unless its name says otherwise.
//
// Sources: USDA Forest Products Laboratory, Wood Handbook (table 5, eq. 4-5);
// Pfaff and Garrahan for the temperature of wood under a pin meter.
package wood

import (
	"math"

	"smolder/internal/core/units"
)

// Hydrogen is the mass share of hydrogen in dry wood.
const Hydrogen = 0.06

// latentHeat is the heat of evaporation of water at 25 °C, MJ/kg.
const latentHeat = 2.442

// DryBasis corrects a pin meter's reading for the temperature of the wood and
// returns moisture on dry basis. Meters are calibrated near 20 °C and read low
// in frozen wood: 15 % at 0 °C is about 17.7 %.
//
//	u% = (R + 0.567 − 0.0260 T + 0.000051 T²) / (0.881 · 1.0056^T)
//
// Source: Pfaff and Garrahan; good for 6 to 40 % and −20 to 60 °C. Wood
// outside that range of temperature is taken at its end.
func DryBasis(reading units.Fraction, woodTemperature units.Celsius) units.Fraction {
	t := math.Max(-20, math.Min(60, float64(woodTemperature)))
	r := reading.Percent()
	u := (r + 0.567 - 0.0260*t + 0.000051*t*t) / (0.881 * math.Pow(1.0056, t))
	return units.Fraction(math.Max(0, u) / 100)
}

// WetBasis turns moisture on dry basis into water over the whole piece.
func WetBasis(dry units.Fraction) units.Fraction { return dry / (1 + dry) }

// DryMass returns the oven-dry wood in mass of wood as it is fired.
func DryMass(asFired units.Kilogram, u units.Fraction) units.Kilogram {
	return asFired / units.Kilogram(1+u)
}

// NetEnergy returns the net (lower) heating value in MJ per kg as fired: the
// gross heat less the heat that leaves as vapour, from the wood's hydrogen and
// from its water.
//
//	(HHV − 2.442·9·0.06)(1 − w) − 2.442 w
//
// At u = 20 % and 20.0 MJ/kg gross it is 15.2 MJ/kg.
func NetEnergy(gross float64, u units.Fraction) float64 {
	w := float64(WetBasis(u))
	return NetEnergyDry(gross)*(1-w) - latentHeat*w
}

// NetEnergyDry returns the net heating value in MJ per kg of oven-dry wood.
func NetEnergyDry(gross float64) float64 { return gross - latentHeat*9*Hydrogen }

// Equilibrium returns the moisture (dry basis) that wood comes to in air of
// this temperature and relative humidity.
//
//	W  = 349 + 1.29 T + 0.0135 T²
//	K  = 0.805 + 0.000736 T − 0.00000273 T²
//	K1 = 6.27 − 0.00938 T − 0.000303 T²
//	K2 = 1.91 + 0.0407 T − 0.000293 T²
//	EMC% = (1800/W) [ Kh/(1−Kh) + (K1Kh + 2K1K2K²h²)/(1 + K1Kh + K1K2K²h²) ]
//
// Source: Wood Handbook eq. 4-5 in SI; good for −1 to 55 °C.
func Equilibrium(air units.Celsius, humidity units.Fraction) units.Fraction {
	t, h := float64(air), float64(humidity)
	w := 349 + 1.29*t + 0.0135*t*t
	k := 0.805 + 0.000736*t - 0.00000273*t*t
	k1 := 6.27 - 0.00938*t - 0.000303*t*t
	k2 := 1.91 + 0.0407*t - 0.000293*t*t
	kh := k * h
	cross := k1 * k2 * kh * kh
	emc := 1800 / w * (kh/(1-kh) + (k1*kh+2*cross)/(1+k1*kh+cross))
	return units.Fraction(emc / 100)
}
