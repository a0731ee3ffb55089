package when

import (
	"errors"
	"regexp"
	"slices"
	"time"

	"smolder/internal/core/units"
)

// A Presence is when somebody is by the stove: spans since the start, in order
// and apart. A nil Presence is somebody all the time; an empty one nobody.
type Presence []Span

// A Span lasts from one time to another, since the start.
type Span struct {
	From time.Duration
	To   time.Duration
}

// FarAhead is later than anything that is planned.
const FarAhead = 96 * time.Hour

// At returns the span that t lies in.
func (p Presence) At(t time.Duration) (Span, bool) {
	if p == nil {
		return Span{0, FarAhead}, true
	}
	for _, s := range p {
		if s.From <= t && t < s.To {
			return s, true
		}
	}
	return Span{}, false
}

// Somebody tells whether somebody is there at t.
func (p Presence) Somebody(t time.Duration) bool {
	_, ok := p.At(t)
	return ok
}

// Out tells whether everybody is out at t and somebody comes back: not the time
// after the last span, in which people may as well be asleep upstairs.
func (p Presence) Out(t time.Duration) bool {
	_, back := p.Next(t)
	return !p.Somebody(t) && back
}

// Next returns when somebody is there from t on; false: never again.
func (p Presence) Next(t time.Duration) (time.Duration, bool) {
	if p.Somebody(t) {
		return t, true
	}
	for _, s := range p {
		if s.From >= t {
			return s.From, true
		}
	}
	return 0, false
}

// After returns the presence as it is seen from t on.
func (p Presence) After(t time.Duration) Presence {
	if p == nil {
		return nil
	}
	out := Presence{}
	for _, s := range p {
		if s.To > t {
			out = append(out, Span{max(0, s.From-t), s.To - t})
		}
	}
	return out
}

var (
	clockSpan = regexp.MustCompile(`^(?:from )?(` + clockPattern + `) ?(?:-|–|—|to|until|till) ?(` + clockPattern + `)$`)
	fromClock = regexp.MustCompile(`^(?:from|after) (` + clockPattern + `)$`)
	betweens  = regexp.MustCompile(`\s*(?:,|;|\band\b)\s*`)
)

// ParsePresence reads when somebody is there, in the clock of start: "all the
// time", "until 22:30", "2 h" (from now), "06:30-08:00 and 16:00-22:30", "from
// 16:00". Spans by the clock come back every day. The error is a
// *[units.ParseError].
func ParsePresence(typed string, start time.Time) (Presence, error) {
	// Nothing typed is somebody all the time: most people are at home with their fire.
	text := plainly(typed)
	switch text {
	case "", "all the time", "always", "all day", "the end", "until the end":
		return nil, nil
	}
	fail := func(why string) (Presence, error) {
		return nil, &units.ParseError{Input: typed, What: "time that somebody is there", Reason: why,
			Try: "all the time, until 22:30, or 06:30-08:00 and 16:00-22:30"}
	}
	out := Presence{}
	// Each span by the clock becomes one for every day that could be meant.
	const mostSpans = 12
	parts := betweens.Split(text, -1)
	if len(parts) > mostSpans {
		return fail("up to 12 spans a day would do")
	}
	for _, part := range parts {
		spans, err := spansOf(part, start)
		if err != nil {
			_, wrong := fail("")
			if e := (*units.ParseError)(nil); errors.As(wrong, &e) {
				return nil, e.For(err)
			}
		}
		out = append(out, spans...)
	}
	return out.tidy(), nil
}

// spansOf reads one span.
func spansOf(part string, start time.Time) ([]Span, error) {
	if m := clockSpan.FindStringSubmatch(part); m != nil {
		from, err := ParseClock(m[1])
		if err != nil {
			return nil, notAClock(m[1])
		}
		to, err := ParseClock(m[2])
		if err != nil {
			return nil, notAClock(m[2])
		}
		var out []Span
		// From yesterday, whose span may reach over midnight into today, to as far ahead as
		// anything is planned.
		for day := -1; day <= 3; day++ {
			s := Span{since(start, day, from), since(start, day, to)}
			if s.To <= s.From { // over midnight
				s.To = since(start, day+1, to)
			}
			out = append(out, s)
		}
		return out, nil
	}
	if m := fromClock.FindStringSubmatch(part); m != nil {
		from, err := ParseClock(m[1])
		if err != nil {
			return nil, notAClock(m[1])
		}
		return []Span{{next(start, from), FarAhead}}, nil
	}
	// What is neither a span nor "from" is an end: a time of the day, or a length.
	until, said := untilWord(part)
	if clock, ok := spokenClock(until, start, said); ok {
		return []Span{{0, next(start, clock)}}, nil
	}
	if clock, err := ParseClock(until); err == nil {
		return []Span{{0, next(start, clock)}}, nil
	}
	span, err := ParseDuration(until)
	if err != nil {
		return nil, errNoSpan
	}
	return []Span{{0, span}}, nil
}

// A spanError is why a part was not understood; the parser puts the whole of what was
// typed around it.
type spanError string

func (e spanError) Error() string { return string(e) }

const errNoSpan = spanError("times of the day were expected")

// notAClock is the error of a time that is written like one and is none, such as 25:10.
func notAClock(typed string) error {
	return units.Because{Format: "%s is no time of the day", Args: []any{typed}}
}

// since returns how long after start a clock time is, some days on; a day on
// which the clocks change is as long as it is.
func since(start time.Time, days int, clock time.Duration) time.Duration {
	return OnDay(start, days, clock).Sub(start)
}

// next is the next time that the clock shows it.
func next(start time.Time, clock time.Duration) time.Duration {
	if d := since(start, 0, clock); d > 0 {
		return d
	}
	return since(start, 1, clock)
}

// tidy puts spans in order, joins those that touch and drops the past.
func (p Presence) tidy() Presence {
	slices.SortFunc(p, func(a, b Span) int { return int((a.From - b.From) / time.Second) })
	out := Presence{}
	for _, s := range p {
		switch n := len(out); {
		// Over before the start.
		case s.To <= 0:
		case n > 0 && s.From <= out[n-1].To:
			out[n-1].To = max(out[n-1].To, s.To)
		default:
			out = append(out, Span{max(0, s.From), s.To})
		}
	}
	return out
}
