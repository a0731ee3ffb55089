package units

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"time"
)

// A ParseError says why something typed could not be read as a quantity.
type ParseError struct {
	Input  string // what was typed, whole
	What   string // the quantity wanted, such as "temperature"
	Reason string // what is wrong with it
	Try    string // what would do
}

func (e *ParseError) Error() string {
	if strings.TrimSpace(e.Input) == "" {
		return fmt.Sprintf("a %s is missing: %s would do", e.What, e.Try)
	}
	return fmt.Sprintf("%q is not a %s: %s; %s would do", shortened(e.Input), e.What, e.Reason, e.Try)
}

// shortened keeps a message readable whatever was pasted into the field.
func shortened(typed string) string {
	const most = 40
	if r := []rune(typed); len(r) > most {
		return string(r[:most]) + "…"
	}
	return typed
}

// amount is "number unit", where the number may be written 3/16, 1 1/2, ½,
// 1,5 or −4 and the unit may be missing.
var amount = regexp.MustCompile(`^([+-]?)\s*(?:(\d+)\s+(\d+)/(\d+)|(\d+)/(\d+)|(\d*[.,]?\d+|\d+[.,]))\s*(.*)$`)

var spelling = strings.NewReplacer("−", "-", "–", "-", "½", " 1/2", "¼", " 1/4", "¾", " 3/4", "⅓", " 1/3", "⅛", " 1/8",
	"\u00a0", " ", "\u202f", "")

// split takes typed text apart into a number and the unit behind it, lower
// case and without blanks.
func split(typed, what, try string) (float64, string, error) {
	text := strings.Join(strings.Fields(spelling.Replace(typed)), " ")
	m := amount.FindStringSubmatch(text)
	if m == nil {
		return 0, "", &ParseError{typed, what, "it does not start with a number", try}
	}
	whole, err := number(m)
	if err != nil || !finite(whole) {
		return 0, "", &ParseError{typed, what, "the number in it makes no sense", try}
	}
	unit := strings.ToLower(strings.ReplaceAll(m[8], " ", ""))
	unit = strings.TrimSuffix(unit, ".")
	return whole, unit, nil
}

// number puts together the number groups of [amount].
func number(m []string) (float64, error) {
	value, err := func() (float64, error) {
		switch {
		case m[2] != "":
			part, err := ratio(m[3], m[4])
			whole, _ := strconv.ParseFloat(m[2], 64)
			return whole + part, err
		case m[5] != "":
			return ratio(m[5], m[6])
		default:
			return strconv.ParseFloat(strings.ReplaceAll(m[7], ",", "."), 64)
		}
	}()
	if m[1] == "-" {
		value = -value
	}
	return value, err
}

func ratio(above, below string) (float64, error) {
	a, _ := strconv.ParseFloat(above, 64)
	b, _ := strconv.ParseFloat(below, 64)
	if b == 0 {
		return 0, strconv.ErrRange
	}
	return a / b, nil
}

// kind is one quantity: how its units turn into SI and which values make sense.
type kind struct {
	name, try string
	units     map[string]func(float64) float64
	bare      func(System) string // the unit of a bare number
	low, high float64             // SI, both allowed
	range_    string              // the range in words
}

func (k kind) parse(typed string, s System) (float64, error) {
	value, unit, err := split(typed, k.name, k.try)
	if err != nil {
		return 0, err
	}
	if unit == "" {
		unit = k.bare(s)
	}
	si, known := k.units[unit]
	if !known {
		return 0, &ParseError{typed, k.name, fmt.Sprintf("the unit %q is not known here", unit), k.try}
	}
	out := si(value)
	if out < k.low || out > k.high {
		return 0, &ParseError{typed, k.name, "it must be " + k.range_, k.try}
	}
	return out, nil
}

func times(f float64) func(float64) float64 { return func(v float64) float64 { return v * f } }

func always(unit string) func(System) string { return func(System) string { return unit } }

func either(metric, imperial string) func(System) string {
	return func(s System) string {
		if s == Imperial {
			return imperial
		}
		return metric
	}
}

func fahrenheit(v float64) float64 { return (v - 32) * 5 / 9 }

var (
	temperature = kind{
		name: "temperature", try: "232 C or 450F",
		units: map[string]func(float64) float64{"c": times(1), "°c": times(1), "°": times(1), "degc": times(1),
			"celsius": times(1), "f": fahrenheit, "°f": fahrenheit, "degf": fahrenheit, "fahrenheit": fahrenheit,
			"k": func(v float64) float64 { return v - 273.15 }},
		bare: either("c", "f"), low: -60, high: 1300, range_: "between −60 and 1300 °C",
	}
	pressure = kind{
		name: "draft", try: "12 Pa or 0.05 inwc",
		units: map[string]func(float64) float64{"pa": times(1), "hpa": times(100), "mbar": times(100),
			"inwc": times(pascalsPerInchWater), "inw.c": times(pascalsPerInchWater), "inh2o": times(pascalsPerInchWater),
			"\"wc": times(pascalsPerInchWater), "in": times(pascalsPerInchWater), "mmwc": times(9.80665)},
		bare: either("pa", "inwc"), low: -100, high: 500, range_: "between −100 and 500 Pa",
	}
	mass = kind{
		name: "mass", try: "6 kg or 12 lb",
		units: map[string]func(float64) float64{"kg": times(1), "kilo": times(1), "kilos": times(1), "g": times(0.001),
			"t": times(1000), "lb": times(kilogramsPerPound), "lbs": times(kilogramsPerPound),
			"pound": times(kilogramsPerPound), "pounds": times(kilogramsPerPound)},
		bare: either("kg", "lb"), low: 0, high: 100000, range_: "between 0 and 100 000 kg",
	}
	length = kind{
		name: "length", try: "6 m, 150 mm or 3/16 in",
		units: map[string]func(float64) float64{"m": times(1), "metre": times(1), "metres": times(1), "cm": times(0.01),
			"mm": times(0.001), "in": times(metresPerInch), "\"": times(metresPerInch), "inch": times(metresPerInch),
			"inches": times(metresPerInch), "ft": times(0.3048), "feet": times(0.3048), "'": times(0.3048)},
		bare: either("m", "ft"), low: -500, high: 9000, range_: "between −500 and 9000 m",
	}
	small = kind{
		name: "length", try: "150 mm, 12 cm or 6 in", units: length.units,
		bare: either("mm", "in"), low: 0, high: 10, range_: "between 0 and 10 m",
	}
	volume = kind{
		name: "volume", try: "55 L, 2 ft3 or 400 m3",
		units: map[string]func(float64) float64{"l": times(1), "litre": times(1), "litres": times(1), "liter": times(1),
			"dm3": times(1), "m3": times(1000), "m³": times(1000), "ft3": times(litresPerCubicFoot),
			"ft³": times(litresPerCubicFoot), "cuft": times(litresPerCubicFoot), "cord": times(cubicMetresPerCord * 1000),
			"cords": times(cubicMetresPerCord * 1000)},
		bare: either("l", "ft3"), low: 0, high: 1e8, range_: "between 0 and 100 000 m³",
	}
	flow = kind{
		name: "fan flow", try: "300 m3/h or 180 cfm",
		units: map[string]func(float64) float64{"m3/h": times(1), "m³/h": times(1), "l/s": times(3.6), "cfm": times(1.699)},
		bare:  either("m3/h", "cfm"), low: 0, high: 20000, range_: "between 0 and 20 000 m³/h",
	}
	percent = kind{
		name: "percentage", try: "18%",
		units: map[string]func(float64) float64{"%": times(0.01), "percent": times(0.01), "pct": times(0.01)},
		bare:  always("%"), low: 0, high: 1, range_: "between 0 and 100 %",
	}
	reading = kind{
		name: "moisture reading", try: "18%", units: percent.units,
		bare: always("%"), low: 0.04, high: 1.2, range_: "between 4 and 120 % (meters read water against dry wood; nothing in a stack is drier or wetter)",
	}
	count = kind{
		name: "number of pieces", try: "5 pieces",
		units: map[string]func(float64) float64{"": times(1), "piece": times(1), "pieces": times(1), "pc": times(1),
			"pcs": times(1), "splits": times(1), "split": times(1), "logs": times(1), "log": times(1)},
		bare: always(""), low: 1, high: 100000, range_: "at least one",
	}
	power = kind{
		name: "power", try: "7 kW",
		units: map[string]func(float64) float64{"kw": times(1000), "w": times(1), "btu/h": times(0.29307), "btu": times(0.29307)},
		bare:  either("kw", "btu/h"), low: 0, high: 1e5, range_: "between 0 and 100 kW",
	}
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
		return 0, &ParseError{typed, count.name, "pieces are whole", count.try}
	}
	return int(v), err
}

// ParseNumber reads a bare number between low and high, such as air changes
// per hour; what names it in the error.
func ParseNumber(typed, what string, low, high float64) (float64, error) {
	k := kind{name: what, try: fmt.Sprintf("a number from %g to %g", low, high), low: low, high: high,
		units: map[string]func(float64) float64{"": times(1)}, bare: always(""), range_: fmt.Sprintf("between %g and %g", low, high)}
	return k.parse(typed, Metric)
}

var spoken = regexp.MustCompile(`^(?:(\d+(?:[.,]\d+)?)\s*(?:h|hours?|hrs?))?\s*(?:(\d+)\s*(?:m|min|mins|minutes?)?)?$`)

// ParseDuration reads "8 h", "1 h 30", "90 min" or "8" (hours); up to 48 hours.
func ParseDuration(typed string) (time.Duration, error) {
	fail := func(why string) (time.Duration, error) {
		return 0, &ParseError{typed, "length of time", why, "8 h, 1 h 30 or 90 min"}
	}
	text := strings.ToLower(strings.TrimSpace(typed))
	if hours, err := strconv.ParseFloat(strings.ReplaceAll(text, ",", "."), 64); err == nil && finite(hours) {
		text = strconv.FormatFloat(hours, 'f', -1, 64) + " h"
	}
	m := spoken.FindStringSubmatch(text)
	if m == nil || text == "" {
		return fail("hours and minutes were expected")
	}
	hours, _ := strconv.ParseFloat(strings.ReplaceAll("0"+m[1], ",", "."), 64)
	minutes, _ := strconv.ParseFloat("0"+m[2], 64)
	total := time.Duration((hours*60 + minutes) * float64(time.Minute))
	if total < 10*time.Minute || total > 48*time.Hour {
		return fail("it must be between 10 minutes and 48 hours")
	}
	return total, nil
}
