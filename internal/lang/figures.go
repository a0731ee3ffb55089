package lang

import (
	"math"
	"regexp"
	"strings"
	"time"

	"smolder/internal/core/units"
)

// decimal is a decimal point of a figure.
var decimal = regexp.MustCompile(`(\d)\.(\d)`)

// figure writes the decimal sign of the language into a printed quantity.
func (l Locale) figure(text string) string {
	if l.lang == nil || l.lang.decimal == "." {
		return text
	}
	return decimal.ReplaceAllString(text, "${1}"+l.lang.decimal+"${2}")
}

// Number prints v with the given decimals and a true minus sign.
func (l Locale) Number(v float64, decimals int) string {
	if math.IsNaN(v) || math.IsInf(v, 0) {
		return l.T("not known")
	}
	return l.figure(units.Number(v, decimals))
}

// Percent prints a share: "18 %".
func (l Locale) Percent(f units.Fraction, decimals int) string {
	return l.Number(f.Percent(), decimals) + " %"
}

// Duration prints "3 h 20 min" or "14 min".
func (l Locale) Duration(d time.Duration) string { return units.Duration(d) }

// inDays is from how long on one says days, and no hours.
const inDays = 72 * time.Hour

// Since is how long something is ago: 1 h 20 min, or 12 days.
func (l Locale) Since(d time.Duration) string {
	if d < inDays {
		return l.Duration(d)
	}
	return l.F("%d days", int(d.Hours()/24))
}

// The quantities of [units.System], with the language's decimal sign.

func (l Locale) RoomTemperature(t units.Celsius) string { return l.figure(l.System.RoomTemperature(t)) }
func (l Locale) Draft(p units.Pascal) string            { return l.figure(l.System.Draft(p)) }
func (l Locale) Mass(m units.Kilogram) string           { return l.figure(l.System.Mass(m)) }
func (l Locale) Piece(m units.Kilogram) string          { return l.figure(l.System.Piece(m)) }
func (l Locale) Length(m units.Metre) string            { return l.figure(l.System.Length(m)) }
func (l Locale) Size(m units.Metre) string              { return l.figure(l.System.Size(m)) }
func (l Locale) Energy(e units.Joule) string            { return l.figure(l.System.Energy(e)) }
func (l Locale) EnergyRange(a, b units.Joule) string    { return l.figure(l.System.EnergyRange(a, b)) }
func (l Locale) Density(tonnes float64) string          { return l.figure(l.System.Density(tonnes)) }
func (l Locale) Power(p units.Watt) string              { return l.figure(l.System.Power(p)) }
func (l Locale) HeatOf(megajoulesPerKilogram float64) string {
	return l.figure(l.System.HeatOf(megajoulesPerKilogram))
}

// Volume prints "55 L" or "1.94 ft³", and from a thousand litres "2.4 m³" or cords.
func (l Locale) Volume(v units.Litre) string {
	text := l.figure(l.System.Volume(v))
	if n, ok := strings.CutSuffix(text, "cords"); ok {
		return n + l.T("cords")
	}
	return text
}

// months and days of the week, as dates name them.
var (
	months = [...]Message{"January", "February", "March", "April", "May¦month", "June", "July", "August", "September", "October",
		"November", "December"}
	shortMonths = [...]Message{"Jan", "Feb", "Mar", "Apr", "May¦short month", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"}
	weekdays    = [...]Message{"Sunday", "Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday"}
	shortDays   = [...]Message{"Sun", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat"}
)

// Month names a month.
func (l Locale) Month(m time.Month) string { return l.T(months[m-1]) }

// Weekday names a day of the week.
func (l Locale) Weekday(d time.Weekday) string { return l.T(weekdays[d]) }

// named are the names within a layout of [time], the longer ones first, and what stands for each.
var named = regexp.MustCompile(`January|Jan|Monday|Mon`)

// Date prints a time by a layout of [time.Time.Format] that is itself a message, since
// languages put day and month in another order and with other signs ("2. January").
func (l Locale) Date(t time.Time, layout Message) string {
	if l.lang == nil {
		return t.Format(layout.English())
	}
	var out strings.Builder
	text, at := l.lang.layout(layout), 0
	for _, name := range named.FindAllStringIndex(text, -1) {
		out.WriteString(t.Format(text[at:name[0]]))
		switch text[name[0]:name[1]] {
		case "January":
			out.WriteString(l.T(months[t.Month()-1]))
		case "Jan":
			out.WriteString(l.T(shortMonths[t.Month()-1]))
		case "Monday":
			out.WriteString(l.T(weekdays[t.Weekday()]))
		case "Mon":
			out.WriteString(l.T(shortDays[t.Weekday()]))
		}
		at = name[1]
	}
	out.WriteString(t.Format(text[at:]))
	return out.String()
}
