package when

import (
	"regexp"
	"strconv"
	"time"

	"smolder/internal/core/units"
)

// clockTime is a time of the day: 18:30, 18.30, 18h30, 6 pm, 6:30 p.m., noon. Hours
// alone are a length of time: 2 h.
var clockTime = regexp.MustCompile(`^(?:(\d{1,2})(?:[:.h](\d\d))? ?([ap])\.?m\.?|(\d{1,2})[:.h](\d\d)|(noon|midday)|(midnight))$`)

// clockPattern matches a time of the day inside a longer text.
const clockPattern = `(?:\d{1,2}(?:[:.]\d\d)? ?[ap]\.?m\.?|\d{1,2}[:.]\d\d|noon|midday|midnight)`

// ParseClock reads a time of the day as the time since midnight: "18:30",
// "6 pm", "6:30pm", "noon".
func ParseClock(typed string) (time.Duration, error) {
	fail := func(why string) (time.Duration, error) {
		return 0, &units.ParseError{Input: typed, What: "time of the day", Reason: why, Try: "18:30 or 6:30 pm"}
	}
	m := clockTime.FindStringSubmatch(plainly(typed))
	if m == nil || len(typed) > mostTyped {
		return fail("hours and minutes were expected")
	}
	number := func(s string) int { n, _ := strconv.Atoi(s); return n } // digits or nothing
	hour, minute := 0, 0
	switch {
	case m[3] != "":
		hour, minute = number(m[1]), number(m[2])
		if hour < 1 || hour > 12 {
			return fail("with am and pm the hours go from 1 to 12")
		}
		hour %= 12
		if m[3] == "p" {
			hour += 12
		}
	case m[4] != "":
		hour, minute = number(m[4]), number(m[5])
	case m[6] != "":
		hour = 12
	}
	if hour > 23 || minute > 59 {
		return fail("a day has hours from 0 to 23 and minutes to 59")
	}
	return time.Duration(hour)*time.Hour + time.Duration(minute)*time.Minute, nil
}

// OnDay is the moment at which the clock shows a time of the day, some days on
// from a moment. A day on which the clocks change is as long as it is.
func OnDay(from time.Time, days int, clock time.Duration) time.Time {
	return time.Date(from.Year(), from.Month(), from.Day()+days, int(clock/time.Hour), int(clock/time.Minute)%60, 0, 0, from.Location())
}
