package units

import (
	"errors"
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// A ParseError says why something typed could not be read as a quantity.
type ParseError struct {
	Input   string // what was typed, whole
	What    string // the quantity wanted, such as "temperature"
	Reason  string // what is wrong with it; a format, where there are Args
	Args    []any  // of Reason
	Try     string // what would do; a format, where there are TryArgs
	TryArgs []any  // of Try
}

// A Because is a reason with what fills it in, for the Reason of a [ParseError].
type Because struct {
	Format string
	Args   []any
}

func (b Because) Error() string { return fmt.Sprintf(b.Format, b.Args...) }

// For gives an error as the reason of this one.
func (e *ParseError) For(err error) *ParseError {
	e.Reason = err.Error()
	if because := (Because{}); errors.As(err, &because) {
		e.Reason, e.Args = because.Format, because.Args
	}
	return e
}

// Would is what would do, filled in.
func (e *ParseError) Would() string {
	if len(e.TryArgs) == 0 {
		return e.Try
	}
	return fmt.Sprintf(e.Try, e.TryArgs...)
}

func (e *ParseError) Error() string {
	if strings.TrimSpace(e.Input) == "" {
		return fmt.Sprintf("%s is missing: %s would do", withArticle(e.What), e.Would())
	}
	why := e.Reason
	if len(e.Args) > 0 {
		why = fmt.Sprintf(e.Reason, e.Args...)
	}
	return fmt.Sprintf("%q is not %s: %s; %s would do", e.Shown(), withArticle(e.What), why, e.Would())
}

// Shown is what was typed, as much of it as is repeated.
func (e *ParseError) Shown() string { return shortened(e.Input) }

// withArticle puts a or an before a name of a quantity.
func withArticle(what string) string {
	if strings.ContainsAny(what[:min(1, len(what))], "aeiou") {
		return "an " + what
	}
	return "a " + what
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
// 1,5, 2,000, 45 000, half or −4 and the unit may be missing.
var amount = regexp.MustCompile(`^([+-]?)\s*(?:(\d+)\s+(\d+)/(\d+)|(\d+)/(\d+)|(\d{1,3}(?: \d{3})+(?:[.,]\d+)?|[.,]?\d[\d.,]*))\s*(.*)$`)

// spelling turns signs that keyboards and phones put in into the plain ones.
var spelling = strings.NewReplacer("−", "-", "–", "-", "½", " 1/2", "¼", " 1/4", "¾", " 3/4", "⅓", " 1/3", "⅔", " 2/3", "⅛", " 1/8", "⅜",
	" 3/8", "⅝", " 5/8", "⅞", " 7/8",
	"⅙", " 1/6", "⅚", " 5/6", "⅕", " 1/5", "⅖", " 2/5", "⅗", " 3/5", "⅘", " 4/5", "⁄", "/", "’", "'", "′", "'", "″", "\"", "”", "\"", "“",
	"\"", "\u00a0", " ", "\u202f", " ", "\u2009", " ")

// spoken numbers, as they stand before a unit: "half a turn".
var saidNumbers = []struct {
	words *regexp.Regexp
	value string
}{
	{regexp.MustCompile(`^(\d+) and a half\b`), "$1 1/2"}, {regexp.MustCompile(`^one and a half\b`), "1 1/2"},
	{regexp.MustCompile(`^(?:a )?half(?: an?| of an?)?\b`), "1/2"},
	{regexp.MustCompile(`^(?:a )?quarter(?: of an?)?\b`), "1/4"}, {regexp.MustCompile(`^three quarters(?: of an?)?\b`), "3/4"},
	{regexp.MustCompile(`^(?:a )?third(?: of an?)?\b`), "1/3"},
	{regexp.MustCompile(`^two thirds(?: of an?)?\b`), "2/3"},
}

// Plainly is typed text with one blank between words and every number in
// digits: "half a turn" is "1/2 turn", "⅜" is "3/8".
func Plainly(typed string) string {
	text := strings.Join(strings.Fields(spelling.Replace(typed)), " ")
	lower := strings.ToLower(text)
	for _, s := range saidNumbers {
		if s.words.MatchString(lower) {
			return s.words.ReplaceAllString(lower, s.value)
		}
	}
	return text
}

// mostTyped is how long a quantity may be, in bytes: nobody needs more, and what
// is pasted by mistake must not cost anything.
const mostTyped = 200

// split takes typed text apart into a number and the unit behind it, lower
// case and without blanks. rest is what follows a first unit, such as the
// inches of "24 ft 6 in".
func split(typed, what, try string) (value float64, unit, rest, number string, err error) {
	fail := func(why string) (float64, string, string, string, error) {
		return 0, "", "", "", &ParseError{Input: typed, What: what, Reason: why, Try: try}
	}
	if len(typed) > mostTyped {
		return fail("it is too long")
	}
	m := amount.FindStringSubmatch(Plainly(typed))
	if m == nil {
		return fail("it does not start with a number")
	}
	value, err = numberOf(m)
	if err != nil || !finite(value) {
		return fail("the number in it makes no sense")
	}
	tail := m[8]
	if i := strings.IndexAny(tail, "0123456789"); i > 0 && compound.MatchString(tail) && !strings.EqualFold(tail, "ft3") && !strings.EqualFold(tail, "ft2") {
		tail, rest = strings.TrimSuffix(strings.TrimSpace(tail[:i]), " and"), tail[i:]
	}
	unit = strings.ToLower(strings.ReplaceAll(tail, " ", ""))
	return value, strings.TrimSuffix(unit, "."), rest, m[7], nil
}

// compound is the tail of "24 ft 6 in", "5' 6\"" or "12 lb 8 oz".
var compound = regexp.MustCompile(`^(?i:(?:ft|feet|foot|lbs?|pounds?|m)\.?\s+(?:and\s+)?|ft\.?|'\s*)\d+(?:[ .,/\d]*)\s*(?i:in|inch|inches|"|''|oz|ounces|cm)?$`)

// numberOf puts together the number groups of [amount].
func numberOf(m []string) (float64, error) {
	value, err := func() (float64, error) {
		switch {
		case m[2] != "":
			part, err := Ratio(m[3], m[4])
			whole, _ := strconv.ParseFloat(m[2], 64)
			return whole + part, err
		case m[5] != "":
			return Ratio(m[5], m[6])
		default:
			return decimal(m[7])
		}
	}()
	if m[1] == "-" {
		value = -value
	}
	return value, err
}

// decimal reads digits with commas, points and blanks in them. The last of
// commas and points stands before the decimals when it stands alone; several of
// one sign, and those before the other, part thousands.
func decimal(text string) (float64, error) {
	text = strings.ReplaceAll(text, " ", "")
	commas, points := strings.Count(text, ","), strings.Count(text, ".")
	switch {
	case commas > 0 && points > 0:
		// Both signs are there: the last one is the decimal one.
		thousands, mark := ",", "."
		if strings.LastIndex(text, ",") > strings.LastIndex(text, ".") {
			thousands, mark = ".", ","
		}
		whole, part, _ := strings.Cut(text, mark)
		if strings.Count(text, mark) > 1 || !grouped(whole, thousands) || strings.Contains(part, thousands) {
			return 0, strconv.ErrSyntax
		}
		text = strings.ReplaceAll(whole, thousands, "") + "." + part
	// One sign several times can only part thousands.
	case commas > 1 || points > 1:
		sign := ","
		if points > 1 {
			sign = "."
		}
		if !grouped(text, sign) {
			return 0, strconv.ErrSyntax
		}
		text = strings.ReplaceAll(text, sign, "")
	default:
		text = strings.ReplaceAll(text, ",", ".")
	}
	return strconv.ParseFloat(text, 64)
}

// grouped tells whether every part behind the first has three digits.
func grouped(text, sign string) bool {
	parts := strings.Split(text, sign)
	for i, p := range parts {
		if i == 0 && (p == "" || len(p) > 3) || i > 0 && len(p) != 3 {
			return false
		}
	}
	return true
}

// couldBeThousands matches "1,500": one and a half to some, fifteen hundred to
// others.
var couldBeThousands = regexp.MustCompile(`^[1-9]\d{0,2},\d{3}$`)

// Ratio divides two whole numbers, as of a fraction; by nought it is out of range.
func Ratio(above, below string) (float64, error) {
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
	bare      func(System) string          // the unit of a bare number
	low, high float64                      // SI, both allowed
	print     func(System, float64) string // a limit in the reader's units
	range_    string                       // the range in words, where print does not say it
	whole     bool                         // never with decimals: a comma parts thousands
}

// imperial are the units of people to whom a comma parts thousands.
var imperial = map[string]bool{"lb": true, "lbs": true, "pound": true, "pounds": true, "ft": true, "feet": true, "foot": true, "'": true,
	"in": true, "inch": true, "inches": true, "\"": true,
	"btu": true, "btu/h": true, "btu/hr": true, "btuh": true, "btus": true, "cfm": true, "f": true, "°f": true, "degf": true,
	"fahrenheit": true, "ft3": true, "ft³": true, "cuft": true,
	"ft2": true, "ft²": true, "sqft": true, "cord": true, "cords": true, "inwc": true, "oz": true}

func (k kind) parse(typed string, s System) (float64, error) {
	// "6 ft 3 in": a number, its unit, and what is left for a smaller one.
	value, unit, rest, digits, err := split(typed, k.name, k.try)
	if err != nil {
		return 0, err
	}
	if english, ok := germanUnits[unit]; ok {
		unit = english
	}
	switch unit {
	case "", "°", "degrees", "deg": // a degree is the household's own
		unit = k.bare(s)
	}
	fail := func(try, why string, args ...any) (float64, error) {
		return 0, &ParseError{Input: typed, What: k.name, Reason: why, Args: args, Try: try}
	}
	si, known := k.units[unit]
	if !known {
		return fail(k.try, "the unit %q is not known here", shortened(unit))
	}
	// "1,500 kg" means two things to two people, a thousand times apart. Where the quantity
	// or its unit decides, it is taken so; where both would do, nobody guesses.
	if couldBeThousands.MatchString(digits) {
		large, small := value*1000, value
		switch {
		case k.whole || imperial[unit]:
			value *= 1000
		default: // in metric units it may be either: ask
			show := unit
			if show != "%" {
				show = " " + show
			}
			fits := func(v float64) bool { return si(v) >= k.low && si(v) <= k.high }
			if fits(large) && fits(small) {
				return 0, &ParseError{Input: typed, What: k.name, Reason: "%s may be %s or %s",
					Args: []any{digits, plainNumber(large), plainNumber(small)},
					Try:  "%s or %s", TryArgs: []any{plainNumber(large) + show, plainNumber(small) + show}}
			}
			if fits(large) {
				value = large
			}
		}
	}
	out := si(value)
	if rest != "" {
		more, err := k.second(unit, rest)
		if err != nil {
			return fail(k.try, "what follows the first unit is not understood")
		}
		out += more
	}
	// Asked this way round, so that what is no number fails too.
	if !(out >= k.low && out <= k.high) {
		if k.print == nil {
			return fail(k.try, "it must be "+k.range_)
		}
		return fail(k.try, "it must be between %s and %s", k.print(s, k.low), k.print(s, k.high))
	}
	return out, nil
}

// second reads the smaller unit of a compound quantity: the inches behind feet,
// the ounces behind pounds.
func (k kind) second(first, rest string) (float64, error) {
	v, unit, more, _, err := split(strings.TrimPrefix(rest, "and "), k.name, k.try)
	if err != nil || more != "" {
		return 0, &ParseError{Input: rest, What: k.name, Reason: "it is not a quantity", Try: k.try}
	}
	// A bare number behind feet is inches, behind pounds ounces; behind metres it could be
	// anything, and must name itself.
	smaller := map[string]string{"ft": "in", "feet": "in", "foot": "in", "'": "in", "lb": "oz", "lbs": "oz", "pound": "oz", "pounds": "oz", "m": "cm"}[first]
	if unit == "" && first != "m" {
		unit = smaller
	}
	si, known := k.units[unit]
	if !known || smaller == "" || v < 0 || si(v) >= k.units[first](1) {
		return 0, &ParseError{Input: rest, What: k.name, Reason: "it is not a smaller unit", Try: k.try}
	}
	return si(v), nil
}

func plainNumber(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// times is a unit that is a multiple of the SI one.
func times(f float64) func(float64) float64 { return func(v float64) float64 { return v * f } }

// always is the unit of a bare number in either system.
func always(unit string) func(System) string { return func(System) string { return unit } }

// either is that unit where the systems differ.
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
		units: map[string]func(float64) float64{"c": times(1), "°c": times(1), "degc": times(1),
			"celsius": times(1), "degreesc": times(1), "degreesf": fahrenheit, "f": fahrenheit, "°f": fahrenheit, "degf": fahrenheit, "fahrenheit": fahrenheit,
			"k": func(v float64) float64 { return v - 273.15 }},
		bare: either("c", "f"), low: -60, high: 1300, print: func(s System, v float64) string { return s.Temperature(Celsius(v)) },
	}
	pressure = kind{
		name: "draft", try: "12 Pa or 0.05 inwc",
		units: map[string]func(float64) float64{"pa": times(1), "hpa": times(100), "mbar": times(100),
			"inwc": times(pascalsPerInchWater), "inw.c": times(pascalsPerInchWater), "inh2o": times(pascalsPerInchWater), "in.wc": times(pascalsPerInchWater),
			"inchwc": times(pascalsPerInchWater), "incheswc": times(pascalsPerInchWater), "\"wc": times(pascalsPerInchWater),
			"in": times(pascalsPerInchWater), "mmwc": times(9.80665),
			"pascal": times(1), "pascals": times(1)},
		bare: either("pa", "inwc"), low: -100, high: 500, print: func(s System, v float64) string { return s.Draft(Pascal(v)) },
	}
	mass = kind{
		name: "mass", try: "6 kg or 12 lb",
		units: map[string]func(float64) float64{"kg": times(1), "kilo": times(1), "kilos": times(1), "g": times(0.001),
			"t": times(1000), "lb": times(kilogramsPerPound), "lbs": times(kilogramsPerPound),
			"pound": times(kilogramsPerPound), "pounds": times(kilogramsPerPound), "oz": times(kilogramsPerPound / 16), "ounces": times(kilogramsPerPound / 16),
			"kgs": times(1), "kilogram": times(1), "kilograms": times(1), "gram": times(0.001), "grams": times(0.001), "tonne": times(1000), "tonnes": times(1000)},
		bare: either("kg", "lb"), low: 0, high: 100000, print: func(s System, v float64) string { return s.Mass(Kilogram(v)) },
	}
	length = kind{
		name: "length", try: "6 m, 150 mm or 3/16 in",
		units: map[string]func(float64) float64{"m": times(1), "metre": times(1), "metres": times(1), "cm": times(0.01),
			"mm": times(0.001), "in": times(metresPerInch), "\"": times(metresPerInch), "inch": times(metresPerInch),
			"inches": times(metresPerInch), "ft": times(0.3048), "feet": times(0.3048), "foot": times(0.3048), "'": times(0.3048), "meter": times(1),
			"meters": times(1)},
		bare: either("m", "ft"), low: -500, high: 9000, print: func(s System, v float64) string { return s.Length(Metre(v)) },
	}
	small = kind{
		name: "length", try: "150 mm, 12 cm or 6 in", units: length.units,
		bare: either("mm", "in"), low: 0, high: 10, print: func(s System, v float64) string { return s.Size(Metre(v)) },
	}
	volume = kind{
		name: "volume", try: "55 L or 2 ft3",
		units: map[string]func(float64) float64{"l": times(1), "litre": times(1), "litres": times(1), "liter": times(1), "liters": times(1),
			"ltr": times(1), "ltrs": times(1),
			"cubicmetres": times(1000), "cubicmeters": times(1000), "cubicfeet": times(litresPerCubicFoot), "cubicfoot": times(litresPerCubicFoot),
			"cu.ft": times(litresPerCubicFoot), "cbm": times(1000),
			"dm3": times(1), "m3": times(1000), "m³": times(1000), "ft3": times(litresPerCubicFoot),
			"ft³": times(litresPerCubicFoot), "cuft": times(litresPerCubicFoot), "cord": times(cubicMetresPerCord * 1000),
			"cords": times(cubicMetresPerCord * 1000)},
		bare: either("l", "ft3"), low: 0, high: 1e8, print: func(s System, v float64) string { return s.Air(Litre(v)) },
	}
	flow = kind{
		name: "fan flow", try: "300 m3/h or 180 cfm",
		units: map[string]func(float64) float64{"m3/h": times(1), "m³/h": times(1), "m3/hr": times(1), "m³/hr": times(1), "l/s": times(3.6),
			"cfm": times(1.699), "ft3/min": times(1.699), "ft³/min": times(1.699)},
		bare: either("m3/h", "cfm"), low: 0, high: 20000, print: func(s System, v float64) string { return s.Flow(Flow(v)) },
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
			"pcs": times(1), "splits": times(1), "split": times(1), "logs": times(1), "log": times(1), "rounds": times(1), "round": times(1),
			"sticks": times(1), "stick": times(1)},
		bare: always(""), low: 1, high: 100000, range_: "at least one and at most 100 000", whole: true,
	}
	power = kind{
		name: "power", try: "7 kW",
		units: map[string]func(float64) float64{"kw": times(1000), "w": times(1), "watt": times(1), "watts": times(1), "kilowatt": times(1000),
			"kilowatts": times(1000),
			"btu/h":     times(0.29307), "btu/hr": times(0.29307), "btuh": times(0.29307), "btu": times(0.29307), "btus": times(0.29307),
			"btusperhour": times(0.29307), "btuperhour": times(0.29307)},
		bare: either("kw", "btu/h"), low: 0, high: 1e5, print: func(s System, v float64) string { return s.Power(Watt(v)) },
	}
	heatLoss = kind{
		name: "heat loss", try: "180 W/K or 340 BTU/h·°F",
		units: map[string]func(float64) float64{"w/k": times(1), "w/c": times(1), "w/°c": times(1), "btu/h·°f": times(1 / btuPerHourDegree),
			"btu/h°f": times(1 / btuPerHourDegree), "btu/hf": times(1 / btuPerHourDegree), "btu/h/f": times(1 / btuPerHourDegree),
			"btu/h·f": times(1 / btuPerHourDegree), "btu/h/°f": times(1 / btuPerHourDegree)},
		bare: either("w/k", "btu/h·°f"), low: 5, high: 5000, print: System.HeatLoss,
	}
	area = kind{
		name: "floor area", try: "45 m2 or 480 sq ft",
		units: map[string]func(float64) float64{"m2": times(1), "m²": times(1), "sqm": times(1), "squaremetres": times(1),
			"squaremeters": times(1), "qm": times(1),
			"ft2": times(squareMetresPerSquareFoot), "ft²": times(squareMetresPerSquareFoot), "sqft": times(squareMetresPerSquareFoot),
			"sq.ft": times(squareMetresPerSquareFoot), "squarefeet": times(squareMetresPerSquareFoot)},
		bare: either("m2", "ft2"), low: 0, high: 2000, print: func(s System, v float64) string { return s.Area(v) },
	}
	room = kind{
		name: "volume", try: "120 m3 or 4200 ft3", units: volume.units,
		bare: either("m3", "ft3"), low: 0, high: 1e7, print: func(s System, v float64) string { return s.Air(Litre(v)) },
	}
	speed = kind{
		name: "wind", try: "5 m/s or 12 mph",
		units: map[string]func(float64) float64{"m/s": times(1), "km/h": times(1 / 3.6), "kmh": times(1 / 3.6),
			"mph": times(metresPerSecondPerMph), "kn": times(0.514444), "knots": times(0.514444), "kt": times(0.514444), "kts": times(0.514444)},
		bare: either("m/s", "mph"), low: 0, high: 40, print: func(s System, v float64) string { return s.Speed(v) },
	}
)
