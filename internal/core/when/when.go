// Package when is time as owners say it: the clock of the household, lengths of
// time, moments that have been, times to begin and to last until, and when
// somebody is by the stove.
//
// Everything is read from here and nowhere else:
//
//	ParseClock("6:30 pm")               18h30m since midnight
//	ParseDuration("1 h 30")             90 min
//	ParseBegin("tomorrow 06:30", now)   a moment ahead
//	ParseUntil("06:00", begin)          how long until the clock shows it
//	ParseMoment("5 min ago", …)         a moment that has been
//	ParseDay("today", now)              a day that has been
//	ParsePresence("06:30-08:00 and 16:00-22:30", begin)
//
// No clock is read: now is always given. The zone is that of the given moment.
// Days on which the clocks change are as long as they are. What cannot be read
// is a *[units.ParseError].
package when

import (
	"strings"

	"smolder/internal/core/units"
)

// mostTyped is how long a time may be, in bytes: nobody needs more, and what is
// read here is searched for patterns.
const mostTyped = 200

// failing makes the errors of one parser.
func failing(typed, what, try string, args ...any) func(reason string) error {
	return func(reason string) error {
		return &units.ParseError{Input: typed, What: what, Reason: reason, Try: try, TryArgs: args}
	}
}

// plainly is what was typed in small letters, with single blanks, German words in English.
func plainly(typed string) string {
	return fromGerman(strings.Join(strings.Fields(strings.ToLower(typed)), " "))
}
