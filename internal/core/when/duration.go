package when

import (
	"math"
	"regexp"
	"strconv"
	"strings"
	"time"

	"smolder/internal/core/units"
)

// shortest and longest are what a length of time may be.
const shortest, longest = 10 * time.Minute, 48 * time.Hour

// spoken is hours, minutes or both: "8 h", "1 h 30", "90 min".
var spoken = regexp.MustCompile(`^(?:(\d+(?:[.,]\d+)?)\s*(?:h|hours?|hrs?))?\s*(?:(\d+)\s*(?:m|min|mins|minutes?)?)?$`)

// halfHours is "1/2 h" or "1 1/2 hours", as "half an hour" and "1½ h" come to.
var halfHours = regexp.MustCompile(`^(?:(\d+) )?(\d+)/(\d+) ?(?:h|hours?|hrs?)$`)

// ParseDuration reads "8 h", "1 h 30", "90 min" or "8" (hours); up to 48 hours.
func ParseDuration(typed string) (time.Duration, error) {
	fail := func(why string) (time.Duration, error) {
		return 0, &units.ParseError{Input: typed, What: "length of time", Reason: why, Try: "8 h, 1 h 30 or 90 min"}
	}
	if len(typed) > mostTyped {
		return fail("it is too long")
	}
	text := strings.ToLower(units.Plainly(typed))
	if said := halfHours.FindStringSubmatch(text); said != nil {
		whole, _ := strconv.ParseFloat("0"+said[1], 64)
		part, err := units.Ratio(said[2], said[3])
		if err != nil {
			return fail("hours and minutes were expected")
		}
		text = strconv.FormatFloat(whole+part, 'f', -1, 64) + " h"
	}
	if hours, err := strconv.ParseFloat(strings.ReplaceAll(text, ",", "."), 64); err == nil && !math.IsInf(hours, 0) && !math.IsNaN(hours) {
		text = strconv.FormatFloat(hours, 'f', -1, 64) + " h"
	}
	m := spoken.FindStringSubmatch(strings.TrimPrefix(text, "for "))
	if m == nil || text == "" {
		return fail("hours and minutes were expected")
	}
	hours, _ := strconv.ParseFloat(strings.ReplaceAll("0"+m[1], ",", "."), 64)
	minutes, _ := strconv.ParseFloat("0"+m[2], 64)
	total := time.Duration((hours*60 + minutes) * float64(time.Minute))
	if total < shortest || total > longest {
		return fail("it must be between 10 minutes and 48 hours")
	}
	return total, nil
}
