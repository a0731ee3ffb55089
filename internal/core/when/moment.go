package when

import (
	"strings"
	"time"

	"smolder/internal/core/units"
)

// breath is how far ahead of now a time by the clock may lie and still be meant
// as now: two clocks are never quite the same.
const breath = 2 * time.Minute

// ParseMoment reads a moment that has been: nothing or "now", "5 min ago",
// "yesterday 22:10", "2026-01-14 22:10", or a time by the clock, which is the last one before now
// that does not lie long before since.
func ParseMoment(typed string, now, since time.Time) (time.Time, error) {
	text := plainly(typed)
	if text == "" || text == "now" {
		return now, nil
	}
	if ago, ok := strings.CutSuffix(text, "ago"); ok {
		if span, ok := spanAgo(strings.TrimSpace(ago)); ok {
			return now.Add(-span), nil
		}
	}
	if full, err := time.ParseInLocation(BeginFormat, text, now.Location()); err == nil && !full.After(now.Add(breath)) {
		return full, nil
	}
	rest, yesterday := strings.CutPrefix(text, "yesterday ")
	if clock, err := ParseClock(strings.TrimPrefix(rest, "at ")); err == nil {
		if yesterday {
			return OnDay(now, -1, clock), nil
		}
		return nearest(clock, now, since), nil
	}
	return now, failing(typed, "time", "now, 5 min ago or 18:42")("a moment that has been was expected")
}

// spanAgo reads "5 min", "2 h" or, by itself, a number of minutes.
func spanAgo(ago string) (time.Duration, bool) {
	if span, err := ParseDuration(ago); err == nil && strings.ContainsAny(ago, "hm") {
		return span, true
	}
	for _, unit := range []string{"utes", "s", "min"} {
		ago = strings.TrimSuffix(ago, unit)
	}
	minutes, err := units.ParseNumber(strings.TrimSpace(ago), "number of minutes", 0, longest.Minutes())
	return time.Duration(minutes * float64(time.Minute)), err == nil
}

// nearest returns the last moment before now, or a breath after, at which the
// clock showed this time; not one long before since.
func nearest(clock time.Duration, now, since time.Time) time.Time {
	days := 0
	at := OnDay(now, days, clock)
	for at.After(now.Add(breath)) && OnDay(now, days-1, clock).After(since.Add(-time.Hour)) {
		days--
		at = OnDay(now, days, clock)
	}
	return at
}

// ParseDay reads a day that is not ahead: "today" or "2026-01-14". It is the
// day's midnight in UTC, as days are kept.
func ParseDay(typed string, now time.Time) (time.Time, error) {
	today := now.Format(time.DateOnly)
	text := plainly(typed)
	if text == "today" {
		text = today
	}
	const first = 1990
	day, err := time.Parse(time.DateOnly, text)
	if err != nil || text > today || day.Year() < first {
		return time.Time{}, failing(typed, "day", "today or %s", today)("a date up to today was expected")
	}
	return day, nil
}

// ParseComing reads a day to come as people write it: 2026-02-14, or "tomorrow"; the
// result is its end in the zone of now.
func ParseComing(typed string, now time.Time) (time.Time, error) {
	text := plainly(typed)
	if text == "tomorrow" {
		text = now.AddDate(0, 0, 1).Format(time.DateOnly)
	}
	day, err := time.ParseInLocation(time.DateOnly, text, now.Location())
	if err != nil || text < now.Format(time.DateOnly) || day.Sub(now) > 10*365*24*time.Hour {
		return time.Time{}, failing(typed, "day", "tomorrow or %s", now.AddDate(0, 0, 7).Format(time.DateOnly))("a day to come was expected")
	}
	return day.AddDate(0, 0, 1).Add(-time.Second), nil
}
