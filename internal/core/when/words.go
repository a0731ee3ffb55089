package when

import (
	"regexp"
	"strconv"
	"strings"
	"time"
)

// What people mean by words for times of the day, where nobody says it by the clock. They are our
// own, by when most households go to bed and rise.
const (
	Bedtime = 22*time.Hour + 30*time.Minute
	Rising  = 6*time.Hour + 30*time.Minute
)

var dayWords = map[string]time.Duration{
	"bedtime": Bedtime, "bed": Bedtime, "bed time": Bedtime, "all evening": Bedtime, "the evening": Bedtime, "the whole evening": Bedtime, "tonight": Bedtime,
	"all night": Rising, "the night": Rising, "the whole night": Rising, "overnight": Rising, "morning": Rising, "the morning": Rising,
}

var hourWords = map[string]int{"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10,
	"eleven": 11, "twelve": 12}

// spokenHour is an hour as it is spoken: "ten", "22", "half past ten", "a quarter to seven", with
// or without "o'clock".
var spokenHour = regexp.MustCompile(`^(?:(half|(?:a )?quarter) (past|to) )?(\d{1,2}|[a-z]+)(?: o'?clock)?$`)

// spokenClock reads a word for a time of the day, or an hour as it is spoken, as the next such time
// after a moment that is far enough off. hours tells whether bare hours are meant: after "until".
func spokenClock(text string, after time.Time, hours bool) (clock time.Duration, ok bool) {
	if clock, ok = dayWords[text]; ok || !hours {
		return clock, ok
	}
	m := spokenHour.FindStringSubmatch(text)
	if m == nil {
		return 0, false
	}
	hour, is := hourWords[m[3]]
	if !is {
		n, err := strconv.Atoi(m[3])
		if err != nil || n > 24 {
			return 0, false
		}
		hour = n
	}
	minutes := map[string]int{"": 0, "half": 30, "quarter": 15}[strings.TrimPrefix(m[1], "a ")]
	if m[2] == "to" {
		minutes = -minutes
	}
	at := func(h int) time.Duration {
		return (time.Duration(h)*time.Hour + time.Duration(minutes)*time.Minute + 24*time.Hour) % (24 * time.Hour)
	}
	clock = at(hour)
	if hour > 12 || hour == 0 {
		return clock, true
	}
	// Ten may be in the morning or at night: the next one that is worth waiting for.
	if other := at(hour + 12); ahead(after, other) < ahead(after, clock) {
		clock = other
	}
	return clock, true
}

// ahead is how long it is to the next time that the clock shows, if it is far enough off.
func ahead(after time.Time, clock time.Duration) time.Duration {
	d := next(after, clock)
	if d < leastUntil {
		d += 24 * time.Hour
	}
	return d
}

// untilWord takes the word for an end off what was typed.
func untilWord(text string) (rest string, said bool) {
	for _, word := range []string{"until ", "till ", "til ", "'til ", "up to ", "by "} {
		if rest, said = strings.CutPrefix(text, word); said {
			return strings.TrimSpace(rest), true
		}
	}
	return text, false
}
