// Package reason is how the core says why: a code and quantities, and no words.
//
// A decision, such as refusing a wish or turning an entry away, rests on facts.
// They cross the border of the core as a [Reason]: the field it is about, a
// code that names what is the matter, and the quantities in the order that the
// code's own comment gives. Package say makes the sentence, in the units of
// whoever reads it; tests are made on the codes.
//
//	return reason.Of("volume", VolumeRange, reason.Volume(s.Volume), reason.Volume(3), reason.Volume(400))
//
// Quantities keep what they are through JSON, so that a reason can be kept with
// what it was given for and said later in other units.
package reason

import (
	"fmt"
	"strings"
	"time"

	"smolder/internal/core/units"
)

// A Code names what is the matter, as "stove/volume-range": the noun whose rule
// it is, and the rule.
type Code string

// A Reason is why something is so.
type Reason struct {
	Field  string // which field it is about; empty: the whole
	Code   Code
	Values []Quantity // as the code's comment lists them
	Cause  error      // for errors.Is
}

// Of makes a reason.
func Of(field string, code Code, values ...Quantity) Reason {
	return Reason{Field: field, Code: code, Values: values}
}

// For returns the reason with a cause for errors.Is.
func (r Reason) For(cause error) Reason {
	r.Cause = cause
	return r
}

// Error is for logs: the field, the code and the quantities.
func (r Reason) Error() string {
	var b strings.Builder
	if r.Field != "" {
		b.WriteString(r.Field + ": ")
	}
	b.WriteString(string(r.Code))
	for _, q := range r.Values {
		b.WriteString(" " + q.String())
	}
	return b.String()
}

// Unwrap returns the cause.
func (r Reason) Unwrap() error { return r.Cause }

// A Kind is what a quantity is of, and so how it is said.
type Kind string

// The kinds of quantity, each with the unit its value is in.
const (
	IsMass        Kind = "mass"             // kg
	IsLength      Kind = "length"           // m, as of a chimney
	IsSize        Kind = "size"             // m, as of a log
	IsVolume      Kind = "volume"           // L
	IsAir         Kind = "air"              // L, as of a house
	IsArea        Kind = "area"             // m²
	IsPower       Kind = "power"            // W
	IsTemperature Kind = "temperature"      // °C
	IsDegrees     Kind = "degrees"          // °C, said without its unit
	IsRoom        Kind = "room-temperature" // °C, to half a degree
	IsDraft       Kind = "draft"            // Pa
	IsFlow        Kind = "flow"             // m³/h
	IsDuration    Kind = "duration"         // s
	IsShare       Kind = "share"            // 0–1, said in whole per cent
	IsNumber      Kind = "number"           // with so many places
	IsText        Kind = "text"             // a name, or what was typed
	IsTerm        Kind = "term"             // a term of the trade by its key, such as a place for a gauge
)

// A Quantity is one thing that a reason rests on.
type Quantity struct {
	Kind   Kind
	Value  float64
	Places int // of a number
	Text   string
}

// String is for logs: the value in the kind's own unit, or the text in quotes.
func (q Quantity) String() string {
	if q.Kind == IsText || q.Kind == IsTerm {
		return fmt.Sprintf("%q", q.Text)
	}
	return fmt.Sprintf("%s=%g", q.Kind, q.Value)
}

// Mass is a quantity of wood or fuel.
func Mass(v units.Kilogram) Quantity { return Quantity{Kind: IsMass, Value: float64(v)} }

// Length is a length as of a chimney.
func Length(v units.Metre) Quantity { return Quantity{Kind: IsLength, Value: float64(v)} }

// Size is a length as of a log.
func Size(v units.Metre) Quantity { return Quantity{Kind: IsSize, Value: float64(v)} }

// Volume is a volume as of a firebox.
func Volume(v units.Litre) Quantity { return Quantity{Kind: IsVolume, Value: float64(v)} }

// Air is a volume as of a house.
func Air(v units.Litre) Quantity { return Quantity{Kind: IsAir, Value: float64(v)} }

// Area is a floor, m².
func Area(m2 float64) Quantity { return Quantity{Kind: IsArea, Value: m2} }

// Power is heat by time.
func Power(v units.Watt) Quantity { return Quantity{Kind: IsPower, Value: float64(v)} }

// Temperature is one, to the degree.
func Temperature(v units.Celsius) Quantity { return Quantity{Kind: IsTemperature, Value: float64(v)} }

// Degrees is a temperature in a list whose last has the unit.
func Degrees(v units.Celsius) Quantity { return Quantity{Kind: IsDegrees, Value: float64(v)} }

// Room is the temperature of a room.
func Room(v units.Celsius) Quantity { return Quantity{Kind: IsRoom, Value: float64(v)} }

// Draft is a difference in pressure.
func Draft(v units.Pascal) Quantity { return Quantity{Kind: IsDraft, Value: float64(v)} }

// Flow is what a fan moves.
func Flow(v units.Flow) Quantity { return Quantity{Kind: IsFlow, Value: float64(v)} }

// Duration is a length of time.
func Duration(v time.Duration) Quantity { return Quantity{Kind: IsDuration, Value: v.Seconds()} }

// Share is a share, 0–1.
func Share(v units.Fraction) Quantity { return Quantity{Kind: IsShare, Value: float64(v)} }

// Number is a plain number, said with so many places.
func Number(v float64, places int) Quantity {
	return Quantity{Kind: IsNumber, Value: v, Places: places}
}

// Count is a whole number.
func Count(n int) Quantity { return Number(float64(n), 0) }

// Text is a name, a key or what was typed.
func Text(s string) Quantity { return Quantity{Kind: IsText, Text: s} }

// Term is a term of the trade by its key, for which whoever says it has words.
func Term[T ~string](key T) Quantity { return Quantity{Kind: IsTerm, Text: string(key)} }

// Why a name cannot be kept; what it names, as a term.
const (
	NameMissing     Code = "name/missing"
	NameTooLong     Code = "name/too-long"
	NameUnprintable Code = "name/unprintable"
)

// Name tells whether a name of something can be kept: it has letters, up to 60
// of them, and no signs that cannot be shown. A zero code is a good name.
func Name(field, name, of string) (Reason, bool) {
	code := map[units.NameFault]Code{units.NoName: NameMissing, units.LongName: NameTooLong, units.BadName: NameUnprintable}[units.FaultOfName(name)]
	return Of(field, code, Term(of)), code == ""
}
