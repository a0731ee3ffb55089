package web

import (
	"fmt"
	"math"
	"strings"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
	"smolder/internal/weather"
)

// longestPlan and longestDay are how far one burn and one day are planned.
const longestPlan, longestDay = 14 * time.Hour, 18 * time.Hour

// wish reads the sentence. Errors of single fields are in the form.
func (s *Server) wish(q *request, f *form, most time.Duration) (plan.Wish, error) {
	u := q.units()
	w := plan.Wish{Aim: plan.Aim(f.text("aim")), Start: plan.Start(f.text("start"))}
	begin := q.begin(f)
	w.For = parse(f, "for", func(typed string) (time.Duration, error) { return parseUntil(typed, begin) })
	w.Room = parse(f, "room", in(parseRoom, u))
	w.Low = parse(f, "low", in(parseRoom, u))
	w.High = parse(f, "high", in(parseRoom, u))
	if f.ok() && w.Low >= w.High {
		f.wrong("high", fmt.Sprintf("the wanted room temperature must rise from a lower to a higher one; %s to %s would do", u.RoomTemperature(19), u.RoomTemperature(21)))
	}
	if f.ok() && w.For > most {
		f.wrong("for", fmt.Sprintf("it is planned for up to %.0f hours; plan the rest when this is coals", most.Hours()))
	}
	knownChoice(f, "aim", w.Aim.Known())
	knownChoice(f, "start", w.Start.Known())
	if w.Lay = fire.Lay(f.text("lay")); w.Lay != "" {
		knownChoice(f, "lay", w.Lay.Known() && w.Lay != fire.OnCoals)
	}
	w.There = parse(f, "there", func(typed string) (plan.Presence, error) { return plan.ParsePresence(typed, begin) })
	st, err := q.house.Stove(q.ctx(), f.number("stove"))
	if err != nil {
		return w, err
	}
	w.Stove, w.House = st.Stove, st.Around(q.profile)
	q.outdoors(f, &w, begin)
	stack, err := q.house.Stack(q.ctx(), f.number("wood"))
	if err != nil {
		return w, err
	}
	w.Wood = plan.Pick{ID: stack.ID, Stack: stack.Stack}
	if f.text("wood2") == allWood {
		stacks, err := q.house.Stacks(q.ctx())
		if err != nil {
			return w, err
		}
		for _, s := range stacks {
			if s.ID != stack.ID && !s.Kindling && w.Suits(s.Stack) {
				w.Others = append(w.Others, plan.Pick{ID: s.ID, Stack: s.Stack})
			}
		}
	} else if f.has("wood2") && f.number("wood2") != stack.ID {
		more, err := q.house.Stack(q.ctx(), f.number("wood2"))
		if err != nil {
			return w, err
		}
		w.Others = []plan.Pick{{ID: more.ID, Stack: more.Stack}}
	}
	if f.has("kindling") {
		kindling, err := q.house.Stack(q.ctx(), f.number("kindling"))
		if err != nil {
			return w, err
		}
		w.Kindling = &plan.Pick{ID: kindling.ID, Stack: kindling.Stack}
	}
	return w, nil
}

// allWood is the choice of every other stack that suits the stove.
const allWood = "all"

// alwaysWord stands in the field for when somebody is there.
const alwaysWord = "all the time"

// forecastWord stands in the field for outdoors when the forecast is taken.
const forecastWord = "forecast"

// nowWord stands in the field for when a burn that begins at once begins.
const nowWord = "now"

// begin reads when the burn begins; now where that is not said, or not
// understood.
func (q *request) begin(f *form) time.Time {
	t, err := plan.ParseBegin(f.text("begin"), q.now())
	if err != nil {
		f.wrong("begin", err.Error())
		return q.now()
	}
	return t
}

// laterSays says when a burn begins, and what the room is then, unless it is now.
func (q *request) laterSays(begin time.Time, room units.Celsius) string {
	wait := begin.Sub(q.now())
	if wait < soon {
		return ""
	}
	then := q.roomSays(room)
	if plan.LeftAlone(wait) {
		return fmt.Sprintf("It begins at %s; left alone the room should be at about %s by then.", begin.Format("15:04"), then)
	}
	return fmt.Sprintf("It begins %s, with the room at %s then.", q.dayWord(begin), then)
}

// roomSays prints a computed room to a tenth of a degree.
func (q *request) roomSays(t units.Celsius) string {
	return q.units().RoomTemperature(units.Celsius(math.Round(float64(t)*10) / 10))
}

// outdoors takes the forecast for the hours of the wish, or the temperature
// that was typed. Until a burn that begins some hours later the room coasts; a
// kept plan already has the room of then.
func (q *request) outdoors(f *form, w *plan.Wish, begin time.Time) {
	now := q.now()
	at := func(time.Duration) units.Celsius { return w.Outdoor }
	if typed := strings.ToLower(f.text("outdoor")); typed != forecastWord && typed != "" {
		w.Outdoor = parse(f, "outdoor", in(parseOutdoor, q.units()))
	} else {
		hours, err := q.s.Weather.Hourly(q.ctx(), now, int((begin.Sub(now)+min(w.For, 48*time.Hour)).Hours())+4)
		if err != nil || len(hours) == 0 {
			q.s.Log.Warn("forecast", "error", err)
			f.wrong("outdoor", "the forecast does not answer just now; the temperature outside, such as "+q.units().Temperature(4)+", would do")
			return
		}
		at = weather.Temperature(hours, now)
		hours = weather.From(hours, begin)
		for _, h := range hours {
			w.Weather = append(w.Weather, fire.Weather{At: max(0, h.At.Sub(begin)), Outdoor: units.Celsius(h.Temperature), Wind: h.Wind})
			w.Humidity += units.Fraction(h.Humidity / 100 / float64(len(hours)))
		}
		w.Outdoor = w.Weather[0].Outdoor
	}
	if wait := begin.Sub(now); plan.LeftAlone(wait) && f.ok() && !f.has("kept") {
		w.Room = w.House.Alone(w.Room, at, wait)
	}
}

// forecastSays is the range of a forecast in words.
func forecastSays(u units.System, hours []fire.Weather) string {
	if len(hours) == 0 {
		return ""
	}
	low, high, wind := hours[0].Outdoor, hours[0].Outdoor, 0.0
	for _, h := range hours {
		low, high, wind = min(low, h.Outdoor), max(high, h.Outdoor), max(wind, h.Wind)
	}
	return fmt.Sprintf("Forecast: %s to %s outside, wind up to %s.", u.Degrees(low), u.Temperature(high), u.Speed(wind))
}

// parseUntil reads "6 h" or, by the clock of begin, "06:00".
func parseUntil(typed string, begin time.Time) (time.Duration, error) {
	clock, err := time.Parse("15:04", strings.TrimPrefix(strings.ToLower(typed), "until "))
	if err != nil {
		return units.ParseDuration(typed)
	}
	until := time.Date(begin.Year(), begin.Month(), begin.Day(), clock.Hour(), clock.Minute(), 0, 0, begin.Location())
	if !until.After(begin) {
		until = time.Date(begin.Year(), begin.Month(), begin.Day()+1, clock.Hour(), clock.Minute(), 0, 0, begin.Location())
	}
	span := until.Sub(begin).Round(time.Minute)
	if span < 30*time.Minute {
		return 0, &units.ParseError{Input: typed, What: "length of time", Reason: "it is less than half an hour away", Try: "6 h or a later time"}
	}
	return span, nil
}

// knownChoice refuses a choice that is not in the list.
func knownChoice(f *form, name string, known bool) {
	if !known {
		f.wrong(name, "choose one of the list")
	}
}

func parseOutdoor(typed string, s units.System) (units.Celsius, error) {
	return bounded(typed, s, "outdoor temperature", -50, 45)
}

func parseRoom(typed string, s units.System) (units.Celsius, error) {
	return bounded(typed, s, "room temperature", -20, 40)
}

func bounded(typed string, s units.System, what string, low, high units.Celsius) (units.Celsius, error) {
	v, err := units.ParseTemperature(typed, s)
	if err == nil && (v < low || v > high) {
		return 0, &units.ParseError{Input: typed, What: what, Reason: fmt.Sprintf("it lies between %s and %s", s.Temperature(low), s.Temperature(high)), Try: s.Temperature((low + high*2) / 3)}
	}
	return v, err
}

// wished reads a whole sentence: its form, a page to answer on, and the wish.
func (s *Server) wished(q *request) (*form, *planPage, plan.Wish, error) {
	f, err := q.form()
	if err != nil {
		return nil, nil, plan.Wish{}, err
	}
	p, err := s.newPlanPage(q, f)
	if err != nil {
		return nil, nil, plan.Wish{}, err
	}
	w, err := s.wish(q, f, longestPlan)
	return f, p, w, err
}
