package when

import (
	"strings"
	"time"
)

// leastUntil is the shortest time that a burn is planned for.
const leastUntil = 30 * time.Minute

// ParseUntil reads how long something lasts that begins at a moment: "6 h", or
// by its clock "until 06:00", "6 pm", "till ten", "bedtime", "all night" or, on the day after, "tomorrow 06:00".
func ParseUntil(typed string, begin time.Time) (time.Duration, error) {
	text, said := untilWord(plainly(typed))
	text, tomorrow := strings.CutPrefix(text, "tomorrow ")
	clock, err := ParseClock(strings.TrimPrefix(text, "at "))
	if err != nil {
		var ok bool
		if clock, ok = spokenClock(text, begin, said || tomorrow); !ok {
			if said || fromGerman(text) != strings.ToLower(typed) {
				typed = text
			}
			return ParseDuration(typed)
		}
	}
	until := OnDay(begin, 0, clock)
	if tomorrow || !until.After(begin) {
		until = OnDay(begin, 1, clock)
	}
	span := until.Sub(begin).Round(time.Minute)
	if span < leastUntil {
		return 0, failing(typed, "length of time", "6 h or a later time")("it is less than half an hour away")
	}
	return span, nil
}
