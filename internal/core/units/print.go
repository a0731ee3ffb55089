package units

import (
	"fmt"
	"math"
	"strings"
	"time"
)

// System is the household's choice of units for everything it reads and types.
type System string

// The two systems of units.
const (
	Metric   System = "metric"
	Imperial System = "imperial"
)

// ParseSystem returns the system of that name.
func ParseSystem(name string) (System, error) {
	switch s := System(name); s {
	case Metric, Imperial:
		return s, nil
	}
	return "", &ParseError{Input: name, What: "system of units", Reason: "there are two", Try: "metric or imperial"}
}

// Minus is the sign that stands before negative numbers on screen.
const minus = "−"

// Number prints v with the given decimals and a true minus sign.
func Number(v float64, decimals int) string {
	if !finite(v) {
		return "not known"
	}
	text := fmt.Sprintf("%.*f", decimals, v)
	if strings.Trim(text, "-0.") == "" { // no "−0"
		return strings.TrimPrefix(text, "-")
	}
	return strings.Replace(text, "-", minus, 1)
}

// Degrees prints a temperature without its unit, for the strip's scale.
func (s System) Degrees(t Celsius) string {
	if s == Imperial {
		return Number(t.Fahrenheit(), 0)
	}
	return Number(float64(t), 0)
}

// DegreeSign is the unit of temperatures.
func (s System) DegreeSign() string {
	if s == Imperial {
		return "°F"
	}
	return "°C"
}

// Temperature prints "232 °C" or "450 °F".
func (s System) Temperature(t Celsius) string { return s.Degrees(t) + " " + s.DegreeSign() }

// RoomTemperature prints a temperature to a tenth, as rooms are read.
func (s System) RoomTemperature(t Celsius) string {
	if s == Imperial {
		return Number(t.Fahrenheit(), 0) + " °F"
	}
	return strings.TrimSuffix(Number(float64(t), 1), ".0") + " °C"
}

// Rate prints a change of temperature, K, whatever it is per: "21 °C" or "38 °F".
func (s System) Rate(v float64) string {
	if s == Imperial {
		v *= 1.8
	}
	return Number(v, 0) + " " + s.DegreeSign()
}

// Sign prints a temperature that somebody watches a gauge for, to the nearest
// five degrees: "240 °C" or "465 °F".
func (s System) Sign(t Celsius) string {
	v := float64(t)
	if s == Imperial {
		v = t.Fahrenheit()
	}
	return Number(math.Round(v/5)*5, 0) + " " + s.DegreeSign()
}

// Speed prints a wind of m/s: "8 m/s" or "18 mph".
func (s System) Speed(v float64) string {
	if s == Imperial {
		return Number(v/metresPerSecondPerMph, 0) + " mph"
	}
	return Number(v, 0) + " m/s"
}

// Draft prints "12 Pa" or "0.05 in wc".
func (s System) Draft(p Pascal) string {
	if s == Imperial {
		return Number(p.InchesWater(), 3) + " in wc"
	}
	if math.Abs(float64(p)) < 10 {
		return Number(float64(p), 1) + " Pa"
	}
	return Number(float64(p), 0) + " Pa"
}

// Mass prints "6.2 kg" or "13.7 lb".
func (s System) Mass(m Kilogram) string {
	v, unit := float64(m), "kg"
	if s == Imperial {
		v, unit = m.Pounds(), "lb"
	}
	if math.Abs(v) >= 100 {
		return Number(v, 0) + " " + unit
	}
	return Number(v, 1) + " " + unit
}

// Piece prints the mass of one piece: in grams, or in pounds to a hundredth.
func (s System) Piece(m Kilogram) string {
	switch {
	case s == Metric && m < 1:
		return Number(float64(m)*1000, 0) + " g"
	case s == Imperial && m.Pounds() < 10:
		return Number(m.Pounds(), 2) + " lb"
	}
	return s.Mass(m)
}

// Length prints a height, "6.0 m" or "19.7 ft".
func (s System) Length(l Metre) string {
	if s == Imperial {
		return Number(float64(l)/0.3048, 1) + " ft"
	}
	return Number(float64(l), 1) + " m"
}

// Size prints a small length, "150 mm" or "5.9 in".
func (s System) Size(l Metre) string {
	if s == Imperial {
		return Number(float64(l)/metresPerInch, 1) + " in"
	}
	return Number(float64(l)*1000, 0) + " mm"
}

// Volume prints "55 L" or "1.94 ft³", and from a thousand litres "2.4 m³" or cords.
func (s System) Volume(v Litre) string {
	switch {
	case s == Imperial && v >= 1000:
		return Number(float64(v)/1000/cubicMetresPerCord, 2) + " cords"
	case s == Imperial:
		return Number(v.CubicFeet(), 2) + " ft³"
	case v >= 1000:
		return Number(float64(v)/1000, 1) + " m³"
	}
	return Number(float64(v), 0) + " L"
}

// Air prints much air: "140 m³" or "4 900 ft³".
func (s System) Air(v Litre) string {
	if s == Imperial {
		return thousands(math.Round(v.CubicFeet()/10)*10) + " ft³"
	}
	return Number(float64(v)/1000, 0) + " m³"
}

// Area prints a floor of m²: "45 m²" or "480 ft²".
func (s System) Area(v float64) string {
	if s == Imperial {
		return Number(v/squareMetresPerSquareFoot, 0) + " ft²"
	}
	return Number(v, 0) + " m²"
}

// Energy prints "12.4 kWh" or "42 000 BTU".
func (s System) Energy(e Joule) string {
	if s == Imperial {
		return thousands(math.Round(float64(e)/1055.06/100)*100) + " BTU"
	}
	if e.KWh() >= 100 {
		return thousands(e.KWh()) + " kWh"
	}
	return Number(e.KWh(), 1) + " kWh"
}

// EnergyRange prints a range of energies with one unit: "46–53 kWh".
func (s System) EnergyRange(low, high Joule) string {
	if s == Imperial {
		round := func(e Joule) string { return thousands(math.Round(float64(e)/1055.06/1000) * 1000) }
		return round(low) + "–" + round(high) + " BTU"
	}
	decimals := 0
	if high.KWh() < 10 {
		decimals = 1
	}
	return Number(low.KWh(), decimals) + "–" + Number(high.KWh(), decimals) + " kWh"
}

// Density prints oven-dry mass over green volume, given in t/m³; one t/m³ is 62.43 lb/ft³.
func (s System) Density(tonnes float64) string {
	if s == Imperial {
		return Number(tonnes*62.43, 0) + " lb/ft³"
	}
	return Number(tonnes, 2) + " t/m³"
}

// Power prints "4.2 kW" or "14 300 BTU/h".
func (s System) Power(p Watt) string {
	if s == Imperial {
		return thousands(math.Round(float64(p)/0.29307/100)*100) + " BTU/h"
	}
	return Number(float64(p)/1000, 1) + " kW"
}

// One W/K is that many BTU an hour and degree Fahrenheit, and one MJ/kg that many BTU a pound.
const (
	btuPerHourDegree = 1.8956
	btuPerPound      = 429.92
)

// HeatLoss prints what a space loses for each degree, of W/K: "161 W/K", "305 BTU/h·°F".
func (s System) HeatLoss(wattsPerKelvin float64) string {
	if s == Imperial {
		return Number(wattsPerKelvin*btuPerHourDegree, 0) + " BTU/h·°F"
	}
	return Number(wattsPerKelvin, 0) + " W/K"
}

// HeatLossRange prints two of them.
func (s System) HeatLossRange(low, high float64) string {
	if s == Imperial {
		return Number(low*btuPerHourDegree, 0) + "–" + s.HeatLoss(high)
	}
	return Number(low, 0) + "–" + s.HeatLoss(high)
}

// HeatOf prints the heat in each kilogram or pound of fuel, of MJ/kg: "15.2 MJ/kg",
// "6540 BTU/lb".
func (s System) HeatOf(megajoulesPerKilogram float64) string {
	if s == Imperial {
		return thousands(math.Round(megajoulesPerKilogram*btuPerPound/10)*10) + " BTU/lb"
	}
	return Number(megajoulesPerKilogram, 1) + " MJ/kg"
}

// Flow prints a fan's flow.
func (s System) Flow(q Flow) string {
	if s == Imperial {
		return Number(float64(q)/1.699, 0) + " cfm"
	}
	return Number(float64(q), 0) + " m³/h"
}

// Percent prints a share with a narrow space before its sign: "18 %".
func Percent(f Fraction, decimals int) string { return Number(f.Percent(), decimals) + " %" }

// Duration prints "3 h 20 min" or "14 min".
func Duration(d time.Duration) string {
	minutes := int(d.Round(time.Minute) / time.Minute)
	switch {
	case minutes < 0:
		return minus + Duration(-d)
	case minutes < 60:
		return fmt.Sprintf("%d min", minutes)
	case minutes%60 == 0:
		return fmt.Sprintf("%d h", minutes/60)
	}
	return fmt.Sprintf("%d h %02d min", minutes/60, minutes%60)
}

// thousands prints a whole number with narrow spaces between groups of three.
func thousands(v float64) string {
	digits := Number(v, 0)
	for i := len(digits) - 3; i > 0; i -= 3 {
		digits = digits[:i] + "\u202f" + digits[i:]
	}
	return digits
}
