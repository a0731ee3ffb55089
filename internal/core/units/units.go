// Package units holds the quantities of a wood fire and reads them the way
// people say them.
//
// Inside the core every quantity is SI: a [Celsius] (the one exception to
// kelvins, because every gauge on a stove reads it), a [Pascal], a [Kilogram],
// a [Metre], a [Joule]. The owner's own units exist only at the edges:
// [ParseTemperature] and its sisters read "450F", "12 lb" or "0.06 inwc",
// and a [System] prints them back.
//
//	t, err := units.ParseTemperature("450F", units.Metric) // 232.2 °C
//	units.Metric.Temperature(t)                            // "232 °C"
//
// A bare number is taken in the units of the household's [System]; anything
// that cannot be read comes back as a *[ParseError] whose text is a sentence
// fit to be shown beside the field.
package units

import "math"

// Celsius is a temperature in degrees Celsius. Differences are in kelvins and
// have the same size.
type Celsius float64

// Kelvin returns the absolute temperature in K.
func (c Celsius) Kelvin() float64 { return float64(c) + 273.15 }

// FromKelvin returns the temperature in °C of an absolute temperature in K.
func FromKelvin(k float64) Celsius { return Celsius(k - 273.15) }

// Fahrenheit returns the temperature in °F.
func (c Celsius) Fahrenheit() float64 { return float64(c)*9/5 + 32 }

// Pascal is a pressure difference in Pa.
type Pascal float64

// InchesWater returns the pressure in inches of water column (1 in = 249.089 Pa).
func (p Pascal) InchesWater() float64 { return float64(p) / pascalsPerInchWater }

// Kilogram is a mass in kg.
type Kilogram float64

// Pounds returns the mass in avoirdupois pounds.
func (m Kilogram) Pounds() float64 { return float64(m) / kilogramsPerPound }

// Metre is a length in m.
type Metre float64

// Litre is a volume in L.
type Litre float64

// CubicFeet returns the volume in ft³.
func (v Litre) CubicFeet() float64 { return float64(v) / litresPerCubicFoot }

// Joule is an energy in J.
type Joule float64

// MJ returns the energy in megajoules.
func (e Joule) MJ() float64 { return float64(e) / 1e6 }

// KWh returns the energy in kilowatt-hours.
func (e Joule) KWh() float64 { return float64(e) / 3.6e6 }

// Watt is a power in W.
type Watt float64

// Fraction is a share of one: 0.18 is 18 %.
type Fraction float64

// Percent returns the share in percent.
func (f Fraction) Percent() float64 { return float64(f) * 100 }

// Flow is a volume flow in m³/h, as fans are rated.
type Flow float64

const (
	pascalsPerInchWater = 249.089
	kilogramsPerPound   = 0.45359237
	litresPerCubicFoot  = 28.316846592
	metresPerInch       = 0.0254
	cubicMetresPerCord  = 3.62

	squareMetresPerSquareFoot = 0.09290304
	metresPerSecondPerMph     = 0.44704
)

// finite tells whether v is a number that can be computed with.
func finite(v float64) bool { return !math.IsNaN(v) && !math.IsInf(v, 0) }
