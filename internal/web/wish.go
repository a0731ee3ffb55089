package web

import (
	"context"
	"errors"
	"fmt"
	"math"
	"net/url"
	"strings"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/search"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/weather"
)

// longestPlan and longestDay are how far one burn and one day are planned.
const longestPlan, longestDay = 14 * time.Hour, 18 * time.Hour

// wishFields are the fields of the sentence: what a plan is kept with.
var wishFields = []string{"stove", "begin", "aim", "for", "low", "high", "room", "outdoor", "wind", "humidity", "start", "wood", "wood2", "lay", "starter", "kindling", "there",
	"fans", "window", "prime"}

// mostAsked is how long one field of the sentence may be.
const mostAsked = 200

// asked is the sentence as a query, and nothing else that was sent.
func asked(f *form) string {
	out := url.Values{}
	for _, name := range wishFields {
		if f.has(name) {
			out.Set(name, f.text(name))
		}
	}
	return out.Encode()
}

// askedForm is the form of a sentence that was kept.
func askedForm(query string) *form {
	f := filled()
	values, err := url.ParseQuery(query)
	if err != nil {
		return f
	}
	for _, name := range wishFields {
		if values.Has(name) {
			f.Values.Set(name, values.Get(name))
		}
	}
	return f
}

// wish reads the sentence. Errors of single fields are in the form.
func (s *Server) wish(q *request, f *form, most time.Duration) (wish.Wish, error) {
	u := q.units()
	for _, name := range wishFields {
		if len(f.text(name)) > mostAsked {
			f.wrong(name, "that is longer than any answer here")
		}
	}
	w := wish.Wish{Aim: wish.Aim(f.text("aim")), Start: wish.Start(f.text("start"))}
	begin := q.begin(f)
	st, err := q.house.Stove(q.ctx(), f.number("stove"))
	if err != nil {
		return w, err
	}
	w.Stove, w.House = st.Stove, st.Space.House
	w.For = parse(f, "for", func(typed string) (time.Duration, error) { return when.ParseUntil(typed, begin) })
	w.Room = parse(f, "room", in(parseRoom, u))
	w.Low = q.wanted(f, "low", st.Space.Wanted[0])
	w.High = q.wanted(f, "high", st.Space.Wanted[1])
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
	if w.Starter = fire.Starter(f.text("starter")); w.Starter != "" {
		knownChoice(f, "starter", w.Starter.Known())
	}
	w.Help = wish.Help{FansOff: f.has("fans"), Window: f.has("window"), Primed: f.has("prime")}
	w.There = parse(f, "there", func(typed string) (when.Presence, error) { return when.ParsePresence(typed, begin) })
	q.outdoors(f, &w, begin)
	if err := q.atHand(f, &w); err != nil {
		return w, err
	}
	if f.ok() {
		if w.Beside, err = s.beside(q, st, begin, w.For); err != nil {
			return w, err
		}
	}
	return w, nil
}

// wanted reads an edge of the room's band. Sent back as the space has it, it is
// that, to the last digit.
func (q *request) wanted(f *form, name string, usual units.Celsius) units.Celsius {
	if !f.has(name) || f.text(name) == q.units().RoomTemperature(usual) {
		return usual
	}
	return parse(f, name, in(parseRoom, q.units()))
}

// atHand reads which stacks are burnt from.
func (q *request) atHand(f *form, w *wish.Wish) error {
	stack, err := q.house.Stack(q.ctx(), f.number("wood"))
	if errors.Is(err, store.ErrMissing) {
		f.wrong("wood", "choose a stack of the list; that one is not there any more")
		return nil
	}
	if err != nil {
		return err
	}
	w.Wood = wish.Pick{ID: stack.ID, Stack: stack.Stack}
	if f.text("wood2") == allWood {
		stacks, err := q.house.Stacks(q.ctx())
		if err != nil {
			return err
		}
		for _, s := range stacks {
			if s.ID != stack.ID && !s.Kindling && w.Suits(s.Stack) {
				w.Others = append(w.Others, wish.Pick{ID: s.ID, Stack: s.Stack})
			}
		}
	} else if f.has("wood2") && f.number("wood2") != stack.ID {
		more, err := q.house.Stack(q.ctx(), f.number("wood2"))
		if err != nil {
			return err
		}
		w.Others = []wish.Pick{{ID: more.ID, Stack: more.Stack}}
	}
	if f.has("kindling") {
		kindling, err := q.house.Stack(q.ctx(), f.number("kindling"))
		if err != nil {
			return err
		}
		w.Kindling = &wish.Pick{ID: kindling.ID, Stack: kindling.Stack}
	}
	return nil
}

// allWood is the choice of every other stack that suits the stove.
const allWood = "all"

// alwaysWord stands in the field for when somebody is there.
const alwaysWord = "all the time"

// nowWord stands in the field for when a burn that begins at once begins.
const nowWord = "now"

// begin reads when the burn begins; now where that is not said, or not
// understood.
func (q *request) begin(f *form) time.Time {
	t, err := when.ParseBegin(f.text("begin"), q.now())
	if err != nil {
		f.wrong("begin", err.Error())
		return q.now()
	}
	return t
}

// laterSays says when a burn begins, and what the room is then, unless it is now.
func (q *request) laterSays(begin, made time.Time, room units.Celsius) string {
	wait := begin.Sub(made)
	if wait < soon {
		return ""
	}
	then := q.roomSays(room)
	if wish.LeftAlone(wait) {
		return fmt.Sprintf("It begins at %s; left alone the room should be at about %s by then.", begin.In(q.profile.Location()).Format("15:04"), then)
	}
	return fmt.Sprintf("It begins %s, with the room at %s then.", q.dayWord(begin), then)
}

// roomSays prints a computed room to a tenth of a degree.
func (q *request) roomSays(t units.Celsius) string {
	return q.units().RoomTemperature(units.Celsius(math.Round(float64(t)*10) / 10))
}

// outdoors takes the forecast for the hours of the wish, or the weather that was
// typed. Until a burn that begins some hours later the room coasts.
func (q *request) outdoors(f *form, w *wish.Wish, begin time.Time) {
	now := q.now()
	at := func(time.Duration) units.Celsius { return w.Outdoor }
	typed := strings.ToLower(f.text("outdoor"))
	if typed == forecastWord || typed == "" && q.s.sky(q) != nil {
		hours, ok := q.s.hourly(q, now, int((begin.Sub(now)+min(w.For, 48*time.Hour)).Hours())+4)
		if !ok {
			why := "the forecast does not answer just now"
			if q.s.sky(q) == nil {
				why = "there is no forecast here yet"
			}
			f.wrong("outdoor", why+"; the temperature outside, such as "+q.units().Temperature(4)+", would do")
			return
		}
		at = weather.Temperature(hours, now)
		hours = weather.From(hours, begin)
		for _, h := range hours {
			w.Weather = append(w.Weather, fire.Weather{At: max(0, h.At.Sub(begin)), Outdoor: units.Celsius(h.Temperature), Wind: h.Wind})
			w.Humidity += units.Fraction(h.Humidity / 100 / float64(len(hours)))
		}
		w.Outdoor = w.Weather[0].Outdoor
	} else {
		w.Outdoor = parse(f, "outdoor", in(parseOutdoor, q.units()))
		if wind, typed := optional(f, "wind", in(units.ParseWind, q.units())); typed {
			w.Weather = []fire.Weather{{Outdoor: w.Outdoor, Wind: wind}}
		}
		w.Humidity, _ = optional(f, "humidity", units.ParsePercent)
	}
	if wait := begin.Sub(now); wish.LeftAlone(wait) && f.ok() {
		w.Room = w.House.Alone(w.Room, at, wait)
	}
}

// besideEvery is how finely the heat of another stove is told.
const besideEvery = 10 * time.Minute

// beside is what other stoves in the same space give while a wish lasts: fires
// that are in them, and plans kept for that time.
func (s *Server) beside(q *request, st store.Stove, begin time.Time, span time.Duration) ([]fire.Beside, error) {
	stoves, err := q.house.Stoves(q.ctx())
	if err != nil {
		return nil, err
	}
	others := map[int64]bool{}
	for _, o := range stoves {
		if o.Space.ID == st.Space.ID && o.ID != st.ID {
			others[o.ID] = true
		}
	}
	if len(others) == 0 {
		return nil, nil
	}
	var heats []func(time.Time) float64
	open, err := q.house.OpenBurns(q.ctx())
	if err != nil {
		return nil, err
	}
	for _, o := range open {
		if others[o.StoveID] {
			heat, err := s.heatOf(q, o)
			if err != nil {
				return nil, err
			}
			heats = append(heats, heat)
		}
	}
	planned, err := q.house.KeptPlans(q.ctx(), begin.Add(-longestPlan))
	if err != nil {
		return nil, err
	}
	for _, k := range planned {
		if others[k.StoveID] && k.Burn != nil {
			heats = append(heats, func(t time.Time) float64 { return k.Burn.HeatAt(t.Sub(k.Begins)) })
		}
	}
	if len(heats) == 0 {
		return nil, nil
	}
	var out []fire.Beside
	for at := time.Duration(0); at <= span+2*time.Hour; at += besideEvery {
		sum := 0.0
		for _, heat := range heats {
			sum += heat(begin.Add(at))
		}
		out = append(out, fire.Beside{At: at, Heat: units.Watt(math.Round(sum))})
	}
	return out, nil
}

// heatOf is what a fire that is in gives from now on: as planned, or else dying
// down from what the replay has.
func (s *Server) heatOf(q *request, open store.Burn) (func(time.Time) float64, error) {
	if open.Plan != nil {
		return func(t time.Time) float64 { return open.Plan.HeatAt(t.Sub(open.Started)) }, nil
	}
	b, err := q.house.Burn(q.ctx(), open.ID)
	if err != nil {
		return nil, err
	}
	now := s.Now()
	if !b.Simulated() {
		return func(time.Time) float64 { return 0 }, nil
	}
	samples := s.replays.Replay(b.Burn, now).Samples
	last := 0.0
	if n := len(samples); n > 0 {
		last = float64(samples[n-1].ToRoom)
	}
	return func(t time.Time) float64 { return last * math.Exp(-math.Max(0, t.Sub(now).Hours())/2) }, nil
}

// searchFor makes the plan of a wish, in its turn, and gives it and its
// alternatives their rows. The number is 0 where it is refused.
func (s *Server) searchFor(q *request, f *form, w wish.Wish, begin time.Time) (int64, *wish.Refusal, error) {
	var choice search.Choice
	err := q.searched(f, func(ctx context.Context, m *search.Meter) (err error) {
		choice, err = search.Plans(ctx, w, search.Usual, m)
		return err
	})
	if refused := new(wish.Refusal); errors.As(err, &refused) {
		return 0, refused, nil
	}
	if err != nil {
		return 0, nil, err
	}
	rows := make([]store.Planned, len(choice.Plans))
	name := newEntryID()
	for i := range choice.Plans {
		rows[i] = store.Planned{StoveID: f.number("stove"), Choice: name, Place: i, Burn: &choice.Plans[i], Asked: asked(f), Sentence: say.Plan(choice.Plans[i], q.units()), Begins: begin, Made: s.Now()}
	}
	ids, err := q.house.KeepPlans(q.ctx(), rows)
	if err != nil {
		return 0, nil, err
	}
	return ids[0], nil, nil
}

// refused puts a refusal into words; none is nil.
func (q *request) refused(r *wish.Refusal) *say.Refused {
	if r == nil {
		return nil
	}
	said := say.Refusal(r, q.units())
	return &said
}
