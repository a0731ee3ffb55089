package when

import (
	"regexp"
	"strconv"
	"strings"
	"time"

	"smolder/internal/core/units"
)

var (
	// Owners count in summers as often as in months: a summer or a winter is a year.
	lainSpan  = regexp.MustCompile(`^(?:about |for |some )?(half a|a|an|one|two|three|four|five|six|\d{1,3}(?:[.,]\d)?)(?: and a half)? ?(days?|d|weeks?|w|months?|mo|years?|y|summers?|winters?)$`)
	lainMonth = regexp.MustCompile(`^(?:since |from )?(?:(\d{4})-(\d{2})|([a-z]+) (\d{4})|(\d{4}))$`)
	lainDay   = regexp.MustCompile(`^(?:since |from |on )?(?:(\d{4})-(\d{2})-(\d{2})|(\d{1,2})\.? ([a-z]+) (\d{4})|([a-z]+) (\d{1,2}),? (\d{4}))$`)
	counts    = map[string]float64{"half a": 0.5, "a": 1, "an": 1, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6}
)

// longestLain is how long ago wood may have been split.
const longestLain = 20 // years

// ParseLain reads how long something has lain and returns since when: "18
// months", "2 years", "6 weeks", "two summers", "April 2025", "2025-04", "12 April 2025". now is
// in the household's zone.
func ParseLain(typed string, now time.Time) (time.Time, error) {
	fail := func(why string, args ...any) (time.Time, error) {
		return time.Time{}, &units.ParseError{Input: typed, What: "length of time", Reason: why, Args: args, Try: "18 months, 2 years or April 2025"}
	}
	// Both are understood: since when, and for how long.
	text := strings.TrimSuffix(plainly(typed), " ago")
	if len(typed) > mostTyped {
		return fail("it is too long")
	}
	if text == "" {
		return fail("it is missing")
	}
	since, understood := lainFor(text, now)
	if !understood {
		if since, understood = lainSince(text, now); !understood {
			return fail("weeks, months or years were expected, or a month or day and its year")
		}
	}
	switch {
	// A month that is still to come is a slip in the year.
	case since.After(now):
		return fail("that is still to come")
	case since.Before(now.AddDate(-longestLain, 0, -1)):
		return fail("wood of more than %d years ago is as dry as its air", longestLain)
	}
	return since, nil
}

func lainFor(text string, now time.Time) (time.Time, bool) {
	m := lainSpan.FindStringSubmatch(text)
	if m == nil {
		return time.Time{}, false
	}
	// A number in words or in figures, with either decimal sign.
	n, word := counts[m[1]]
	if !word {
		n, _ = strconv.ParseFloat(strings.Replace(m[1], ",", ".", 1), 64) // digits
	}
	if strings.Contains(text, "and a half") {
		n += 0.5
	}
	// The first letter tells days, weeks, months, years and summers apart; winters begin
	// like weeks.
	days := map[byte]float64{'d': 1, 'w': 7, 'm': 30.44, 'y': 365.25, 's': 365.25}[m[2][0]]
	if strings.HasPrefix(m[2], "winter") {
		days = 365.25
	}
	return now.AddDate(0, 0, -int(n*days+0.5)), true
}

// monthOf is a month by the first letters of its name, three at least; 0: none.
func monthOf(name string) int {
	for i := time.January; i <= time.December; i++ {
		if len(name) >= 3 && strings.HasPrefix(strings.ToLower(i.String()), name) {
			return int(i)
		}
	}
	return 0
}

func lainSince(text string, now time.Time) (time.Time, bool) {
	digits := func(s string) int { n, _ := strconv.Atoi(s); return n }
	if m := lainDay.FindStringSubmatch(text); m != nil {
		year, month, day := digits(m[1]), digits(m[2]), digits(m[3])
		switch {
		case m[4] != "":
			year, month, day = digits(m[6]), monthOf(m[5]), digits(m[4])
		case m[7] != "":
			year, month, day = digits(m[9]), monthOf(m[7]), digits(m[8])
		}
		at := time.Date(year, time.Month(month), day, 0, 0, 0, 0, now.Location())
		return at, month >= 1 && month <= 12 && at.Day() == day // the 31st of June is none
	}
	m := lainMonth.FindStringSubmatch(text)
	if m == nil {
		return time.Time{}, false
	}
	year, month := 0, 1
	switch {
	case m[1] != "":
		year, month = digits(m[1]), digits(m[2])
	// A month by the first letters of its name, three at least: "apr", "sept".
	case m[3] != "":
		year, month = digits(m[4]), monthOf(m[3])
	default:
		year = digits(m[5])
	}
	if month < 1 || month > 12 {
		return time.Time{}, false
	}
	return time.Date(year, time.Month(month), 1, 0, 0, 0, 0, now.Location()), true
}
