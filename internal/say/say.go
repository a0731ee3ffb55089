// Package say puts into words what the core has decided: reasons, plans, steps,
// cautions, days, entries, marks on a control.
//
// The core answers with facts ([reason.Reason], [plan.Plan], [follow.Progress],
// …). Every sentence that an owner reads of them is made here, in a system of
// units, so that decisions are tested on facts and sentences on words; nothing
// reads a sentence back. One file holds one kind of sentence. A reason's sentence
// is a row in reasons.go, a term's word a row in names.go.
//
// Sentences are whole, with a capital and a full stop, unless their function says
// that they are part of one.
package say

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"time"

	"smolder/internal/core/reason"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
)

// Quantity prints a quantity of a reason in a system of units.
func Quantity(q reason.Quantity, loc lang.Locale) string {
	v := q.Value
	switch q.Kind {
	case reason.IsMass:
		return loc.Mass(units.Kilogram(v))
	case reason.IsLength:
		return loc.Length(units.Metre(v))
	case reason.IsSize:
		return loc.Size(units.Metre(v))
	case reason.IsVolume:
		return loc.Volume(units.Litre(v))
	case reason.IsAir:
		return loc.Air(units.Litre(v))
	case reason.IsArea:
		return loc.Area(v)
	case reason.IsPower:
		return loc.Power(units.Watt(v))
	case reason.IsTemperature:
		return loc.Temperature(units.Celsius(v))
	case reason.IsDegrees:
		return loc.Degrees(units.Celsius(v))
	case reason.IsRoom:
		return loc.RoomTemperature(units.Celsius(v))
	case reason.IsDraft:
		return loc.Draft(units.Pascal(v))
	case reason.IsFlow:
		return loc.Flow(units.Flow(v))
	case reason.IsDuration:
		return loc.Duration(time.Duration(math.Round(v)) * time.Second)
	case reason.IsShare:
		return loc.Number(v*100, 0)
	case reason.IsNumber:
		return loc.Number(v, q.Places)
	case reason.IsTerm:
		return term(q.Text, loc)
	}
	return shortened(q.Text)
}

// mostQuoted is how many letters of what was typed are repeated.
const mostQuoted = 40

func shortened(text string) string {
	if r := []rune(text); len(r) > mostQuoted {
		return string(r[:mostQuoted]) + "…"
	}
	return text
}

// Reason says a reason, as a part of a sentence: without capital and full stop.
func Reason(r reason.Reason, loc lang.Locale) string {
	format, known := reasons[r.Code]
	if !known {
		return r.Error() // a test sees that no code lacks its row
	}
	return filled(loc.T(format), r.Values, loc)
}

// filled puts quantities into a format: the first ones, as many as it has room
// for; all of them where it numbers them itself.
func filled(format string, quantities []reason.Quantity, loc lang.Locale) string {
	n := strings.Count(format, "%s") + strings.Count(format, "%q")
	if strings.Contains(format, "%[") || n > len(quantities) {
		n = len(quantities)
	}
	values := make([]any, n)
	for i, q := range quantities[:n] {
		values[i] = Quantity(q, loc)
	}
	return fmt.Sprintf(format, values...)
}

// Error says an error: a reason or a refusal of the core in words, several of
// them one after the other, anything else as it says itself.
func Error(err error, loc lang.Locale) string {
	var refused *wish.Refusal
	if errors.As(err, &refused) {
		r := Refusal(refused, loc)
		return r.Why + " " + r.Try
	}
	var because reason.Reason
	if errors.As(err, &because) {
		text := Reason(because, loc)
		if because.Cause != nil && isReason(because.Cause) {
			text += ": " + Error(because.Cause, loc)
		}
		return text
	}
	var worded *lang.Error
	if errors.As(err, &worded) {
		return loc.Error(err, func(inner error) string { return Error(inner, loc) })
	}
	var unread *units.ParseError
	if errors.As(err, &unread) {
		return Unread(unread, loc)
	}
	return err.Error()
}

// isReason tells whether an error has a reason of its own to say.
func isReason(err error) bool {
	var because reason.Reason
	return errors.As(err, &because)
}

// Sentence gives a text a capital and a full stop.
func Sentence(text string) string {
	text = strings.TrimSpace(text)
	if text == "" {
		return text
	}
	text = units.UpperFirst(text)
	if !strings.ContainsAny(text[len(text)-1:], ".?!") {
		text += "."
	}
	return text
}

// aDegreeFor prints kelvin-hours in the household's degrees: "a degree for 12 h".
func aDegreeFor(v float64, places int, loc lang.Locale) string {
	if loc.System == units.Imperial {
		v *= 1.8
	}
	return loc.F("a degree for %s h", loc.Number(v, places))
}

// numbers are small whole numbers in words.
var numbers = []lang.Message{"no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine"}

func number(n int, loc lang.Locale) string {
	if n >= 0 && n < len(numbers) {
		return loc.T(numbers[n])
	}
	return fmt.Sprint(n)
}

// Pieces says a number of pieces: "three pieces".
func Pieces(n int, loc lang.Locale) string {
	if n == 1 {
		return loc.T("one piece")
	}
	return number(n, loc) + loc.T(" pieces")
}
