package when

import (
	"strings"
	"time"

	"smolder/internal/core/units"
)

// BeginFormat is how a time to begin is written out in full.
const BeginFormat = "2006-01-02 15:04"

const (
	justPast  = time.Hour // that a time by the clock may have gone by and still mean today
	farthest  = 36 * time.Hour
	forgotten = 12 * time.Hour // after which a time in full is not meant any more
)

// ParseBegin reads when a burn begins, in the clock of now: "now", "16:00",
// "tomorrow 06:30", "in 2 h", or in full as "2026-01-14 16:00". What has just
// gone by is now. The error is a *[units.ParseError].
func ParseBegin(typed string, now time.Time) (time.Time, error) {
	text := plainly(typed)
	fail := func(why string, args ...any) (time.Time, error) {
		return time.Time{}, &units.ParseError{Input: typed, What: "time to begin", Reason: why, Args: args, Try: "now, 16:00, tomorrow 06:30 or in 2 h"}
	}
	begin := now
	if full, err := time.ParseInLocation(BeginFormat, text, now.Location()); err == nil {
		if begin = full; now.Sub(begin) > forgotten {
			return fail("it is long past")
		}
	} else if clock, ok, day := clockIn(text); ok {
		begin = OnDay(now, day, clock)
		if day == 0 && now.Sub(begin) > justPast {
			begin = OnDay(now, 1, clock)
		}
	} else if word, day := strings.TrimPrefix(text, "at "), 0; text != "" && text != "now" {
		if rest, tomorrow := strings.CutPrefix(word, "tomorrow "); tomorrow {
			word, day = rest, 1
		}
		if clock, ok := spokenClock(word, now, day == 1 || word != text); ok {
			if begin = OnDay(now, day, clock); day == 0 && begin.Before(now) {
				begin = OnDay(now, 1, clock)
			}
			return begin, nil
		}
		span, err := ParseDuration(strings.TrimPrefix(text, "in "))
		if err != nil {
			return fail("a time was expected")
		}
		begin = now.Add(span)
	}
	if begin.Sub(now) > farthest {
		return fail("it is more than %.0f hours ahead", farthest.Hours())
	}
	if begin.Before(now) {
		begin = now
	}
	return begin, nil
}

// clockIn reads "16:00", "at 16:00" or "tomorrow 06:30" as a time of the day and
// how many days on.
func clockIn(text string) (clock time.Duration, ok bool, day int) {
	if rest, tomorrow := strings.CutPrefix(text, "tomorrow "); tomorrow {
		text, day = rest, 1
	}
	clock, err := ParseClock(strings.TrimPrefix(text, "at "))
	return clock, err == nil, day
}
