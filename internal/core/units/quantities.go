package units

import (
	"errors"
	"fmt"
)

// ParseTemperature reads "450F", "232 c" or "−4°"; it allows −60 to 1300 °C.
func ParseTemperature(typed string, s System) (Celsius, error) {
	v, err := temperature.parse(typed, s)
	return Celsius(v), err
}

// ParseDraft reads "12 Pa" or "0.06 inwc"; it allows −100 to 500 Pa.
func ParseDraft(typed string, s System) (Pascal, error) {
	v, err := pressure.parse(typed, s)
	return Pascal(v), err
}

// ParseMass reads "6 kg" or "12 lb".
func ParseMass(typed string, s System) (Kilogram, error) {
	v, err := mass.parse(typed, s)
	return Kilogram(v), err
}

// ParseLength reads heights and altitudes, "6 m" or "20 ft"; a bare number is metres or feet.
func ParseLength(typed string, s System) (Metre, error) {
	v, err := length.parse(typed, s)
	return Metre(v), err
}

// ParseSmallLength reads sizes of pieces, pipes and gaps, "150 mm" or
// "3/16 in"; a bare number is millimetres or inches.
func ParseSmallLength(typed string, s System) (Metre, error) {
	v, err := small.parse(typed, s)
	return Metre(v), err
}

// ParseVolume reads "55 L", "2.1 ft3" or "1.5 cords" (stacked volume).
func ParseVolume(typed string, s System) (Litre, error) {
	v, err := volume.parse(typed, s)
	return Litre(v), err
}

// ParseFlow reads a fan's flow, "300 m3/h" or "180 cfm".
func ParseFlow(typed string, s System) (Flow, error) {
	v, err := flow.parse(typed, s)
	return Flow(v), err
}

// ParsePower reads "7 kW" or "24000 BTU/h".
func ParsePower(typed string, s System) (Watt, error) {
	v, err := power.parse(typed, s)
	return Watt(v), err
}

// ParseHeatLoss reads what a space loses for each degree, "180 W/K" or "340 BTU/h·°F", W/K.
func ParseHeatLoss(typed string, s System) (float64, error) { return heatLoss.parse(typed, s) }

// ParseArea reads a floor, "45 m2" or "480 sq ft", m².
func ParseArea(typed string, s System) (float64, error) { return area.parse(typed, s) }

// ParseRoomVolume reads the volume of a room or a house; a bare number is cubic
// metres or feet: nobody gives a house in litres.
func ParseRoomVolume(typed string, s System) (Litre, error) {
	v, err := room.parse(typed, s)
	return Litre(v), err
}

// ParseWind reads a wind, "5 m/s", "12 mph" or "10 knots", m/s.
func ParseWind(typed string, s System) (float64, error) { return speed.parse(typed, s) }

// ParsePercent reads a share between 0 and 100 %.
func ParsePercent(typed string) (Fraction, error) {
	v, err := percent.parse(typed, Metric)
	return Fraction(v), err
}

// ParseMoisture reads a pin meter's reading on dry basis, 4 to 120 %.
func ParseMoisture(typed string) (Fraction, error) {
	v, err := reading.parse(typed, Metric)
	return Fraction(v), err
}

// ParsePieces reads a whole number of pieces, at least one.
func ParsePieces(typed string) (int, error) {
	v, err := count.parse(typed, Metric)
	if err == nil && v != float64(int(v)) {
		return 0, &ParseError{Input: typed, What: count.name, Reason: "pieces are whole", Try: count.try}
	}
	return int(v), err
}

// ParseNumber reads a bare number between low and high, such as air changes
// per hour; what names it in the error.
func ParseNumber(typed, what string, low, high float64) (float64, error) {
	k := kind{name: what, try: fmt.Sprintf("a number from %g to %g", low, high), low: low, high: high,
		units: map[string]func(float64) float64{"": times(1)}, bare: always(""), range_: fmt.Sprintf("between %g and %g", low, high)}
	v, err := k.parse(typed, Metric)
	if wrong := (*ParseError)(nil); errors.As(err, &wrong) {
		wrong.Try, wrong.TryArgs = "a number from %g to %g", []any{low, high}
		if wrong.Reason == "it must be "+k.range_ {
			wrong.Reason, wrong.Args = "it must be between %g and %g", []any{low, high}
		}
	}
	return v, err
}
