package plans

import (
	"context"
	"errors"
	"math"
	"net/url"
	"strings"
	"time"

	"smolder/internal/app/planning"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/search"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// longestPlan and longestDay are how far one burn and one day are planned.
const longestPlan, longestDay = planning.LongestPlan, 26 * time.Hour

// wishFields are the fields of the sentence: what a plan is kept with.
var wishFields = append([]string{"stove", "begin", "aim", "for", "low", "high", "room", "outdoor", "wind", "humidity", "start", "wood", "wood2",
	"lay", "starter", "kindling", "there",
	"fans", "window", "prime"}, ownFields...)

// mostAsked is how long one field of the sentence may be.
const mostAsked = 200

// asked is the sentence as a query, and nothing else that was sent.
func asked(f *kit.Form) string {
	out := url.Values{}
	for _, name := range wishFields {
		if f.Has(name) {
			out.Set(name, f.Text(name))
		}
	}
	return out.Encode()
}

// askedForm is the form of a sentence that was kept.
func askedForm(query string) *kit.Form {
	f := kit.Filled()
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
func (s Room) wish(q *kit.Request, f *kit.Form, most time.Duration) (wish.Wish, error) {
	u := q.Locale()
	for _, name := range wishFields {
		if len(f.Text(name)) > mostAsked {
			f.Wrong(name, q.T("that is longer than any answer here"))
		}
	}
	w := wish.Wish{Aim: wish.Aim(f.Text("aim")), Start: wish.Start(f.Text("start"))}
	begin := begin(q, f)
	st, err := q.Home.Stove(q.Ctx(), f.Number("stove"))
	if err != nil {
		return w, err
	}
	w.Stove, w.House = st.Stove, st.Space.House
	if text, err := q.Lit(st.ID, st.Name); err != nil {
		return w, err
	} else if text != "" {
		f.Wrong("stove", text)
	}
	if err := ownWanted(q, f, st); err != nil {
		return w, err
	}
	house := q.Planning()
	w.For = kit.Parse(f, "for", func(typed string) (time.Duration, error) { return when.ParseUntil(typed, begin) })
	if !f.Has("room") { // as a thermometer has it
		room, read, err := house.Room(q.Ctx(), st.ID)
		if err != nil {
			return w, err
		}
		if read {
			f.Values.Set("room", u.RoomTemperature(room))
		}
	}
	w.Low = wanted(q, f, "low", st.Space.Wanted[0])
	w.High = wanted(q, f, "high", st.Space.Wanted[1])
	w.Room = kit.Parse(f, "room", kit.RoomBetween(w.Low, w.High, u))
	_, number := kit.ParseRoom(f.Text("room"), u.System)
	w.Feels = number != nil
	if f.Ok() && w.Low >= w.High {
		f.Wrong("high", q.F("the wanted room temperature must rise from a lower to a higher one; %s to %s would do",
			u.RoomTemperature(19), u.RoomTemperature(21)))
	}
	if f.Ok() && w.For > most {
		f.Wrong("for", q.F("it is planned for up to %.0f hours; plan the rest when this is coals", most.Hours()))
	}
	kit.KnownChoice(f, "aim", w.Aim.Known())
	kit.KnownChoice(f, "start", w.Start.Known())
	if w.Lay = fire.Lay(f.Text("lay")); w.Lay != "" {
		kit.KnownChoice(f, "lay", w.Lay.Known() && w.Lay != fire.OnCoals)
	}
	if w.Starter = fire.Starter(f.Text("starter")); w.Starter != "" {
		kit.KnownChoice(f, "starter", w.Starter.Known())
	}
	w.Help = wish.Help{FansOff: f.Has("fans"), Window: f.Has("window"), Primed: f.Has("prime")}
	w.There = kit.Parse(f, "there", func(typed string) (when.Presence, error) { return when.ParsePresence(typed, begin) })
	outdoors(q, f, house, &w, begin)
	if err := atHand(q, f, house, &w); err != nil {
		return w, err
	}
	if err := ownWay(q, f, house, &w); err != nil || !f.Ok() {
		return w, err
	}
	return w, house.Know(q.Ctx(), &w, st, begin)
}

// ownWanted lets the wanted temperatures be those of the stove's own space, where they were
// filled in for another stove and nobody has touched them.
func ownWanted(q *kit.Request, f *kit.Form, st store.Stove) error {
	of := f.Number("wanted-of")
	if of == 0 || of == st.ID {
		return nil
	}
	other, err := q.Home.Stove(q.Ctx(), of)
	if errors.Is(err, store.ErrMissing) {
		return nil
	}
	if err != nil {
		return err
	}
	for i, name := range []string{"low", "high"} {
		if f.Text(name) == q.Locale().RoomTemperature(other.Space.Wanted[i]) {
			f.Values.Set(name, q.Locale().RoomTemperature(st.Space.Wanted[i]))
		}
	}
	f.Values.Set("wanted-of", f.Text("stove"))
	return nil
}

// wanted reads an edge of the room's band. Sent back as the space has it, it is
// that, to the last digit.
func wanted(q *kit.Request, f *kit.Form, name string, usual units.Celsius) units.Celsius {
	if !f.Has(name) || f.Text(name) == q.Locale().RoomTemperature(usual) {
		return usual
	}
	return kit.Parse(f, name, kit.In(kit.ParseRoom, q.Locale().System))
}

// atHand reads which stacks are burnt from.
func atHand(q *kit.Request, f *kit.Form, house *planning.Household, w *wish.Wish) error {
	pick := func(field string) (wish.Pick, error) {
		stack, err := q.Stack(f.Number(field))
		if err != nil {
			return wish.Pick{}, err
		}
		return house.Pick(q.Ctx(), stack, *w)
	}
	var err error
	w.Wood, err = pick("wood")
	if errors.Is(err, store.ErrMissing) {
		f.Wrong("wood", q.T("choose a stack of the list; that one is not there any more"))
		return nil
	}
	if err != nil {
		return err
	}
	switch more := f.Text("wood2"); {
	case more == allWood:
		err = house.All(q.Ctx(), w)
	default:
		if err = house.Drier(q.Ctx(), w); err == nil && f.Has("wood2") && f.Number("wood2") != w.Wood.ID {
			var second wish.Pick
			second, err = pick("wood2")
			w.Others = append(w.Others, second)
		}
	}
	if err != nil || !f.Has("kindling") {
		return err
	}
	light, err := pick("kindling")
	w.Kindling = &light
	return err
}

// allWood is the choice of every other stack that suits the stove.
const allWood = "all"

// alwaysWord stands in the field for when somebody is there.
const alwaysWord = "all the time"

// nowWord stands in the field for when a burn that begins at once begins.
const nowWord = "now"

// begin reads when the burn begins; now where that is not said, or not
// understood.
func begin(q *kit.Request, f *kit.Form) time.Time {
	t, err := when.ParseBegin(f.Text("begin"), q.Now())
	if err != nil {
		f.Wrong("begin", say.Error(err, f.Locale()))
		return q.Now()
	}
	return t
}

// laterSays says when a burn begins, and what the room is then, unless it is now.
func laterSays(q *kit.Request, begin, made time.Time, room units.Celsius) string {
	wait := begin.Sub(made)
	if wait < kit.Soon {
		return ""
	}
	then := roomSays(q, room)
	if wish.LeftAlone(wait) {
		return q.F("It begins at %s; left alone the room should be at about %s by then.", begin.In(q.Profile.Location()).Format("15:04"), then)
	}
	return q.F("It begins %s, with the room at %s then.", q.DayWord(begin), then)
}

// roomSays prints a computed room to a tenth of a degree.
func roomSays(q *kit.Request, t units.Celsius) string {
	return q.Locale().RoomTemperature(units.Celsius(math.Round(float64(t)*10) / 10))
}

// outdoors takes the forecast for the hours of the wish, or the weather that was
// typed. Until a burn that begins some hours later the room coasts.
func outdoors(q *kit.Request, f *kit.Form, house *planning.Household, w *wish.Wish, begin time.Time) {
	now := q.Now()
	at := func(time.Duration) units.Celsius { return w.Outdoor }
	typed := strings.ToLower(f.Text("outdoor"))
	if q.IsForecast(typed) || typed == "" && q.Site.Sky(q) != nil {
		hours, ok := q.Site.Hourly(q, now, int((begin.Sub(now)+min(w.For, 48*time.Hour)).Hours())+4)
		if !ok {
			why := q.T("the forecast does not answer just now")
			if q.Site.Sky(q) == nil {
				why = q.T("there is no forecast here yet")
			}
			f.Wrong("outdoor", why+q.T("; the temperature outside, such as ")+q.Locale().Temperature(4)+q.T(", would do"))
			return
		}
		at = house.Forecast(w, hours, begin)
	} else {
		if w.Mild = typed == ""; w.Mild {
			w.Outdoor = burn.AssumedOutdoor
		} else {
			w.Outdoor = kit.Parse(f, "outdoor", kit.In(kit.ParseOutdoor, q.Locale().System))
		}
		if wind, typed := kit.Optional(f, "wind", kit.In(units.ParseWind, q.Locale().System)); typed {
			w.Weather = []fire.Weather{{Outdoor: w.Outdoor, Wind: wind}}
		}
		w.Humidity, _ = kit.Optional(f, "humidity", units.ParsePercent)
	}
	if f.Ok() {
		house.Coast(w, begin, at)
	}
}

// searchFor makes the plan of a wish, in its turn, and gives it and its
// alternatives their rows. The number is 0 where it is refused.
func (s Room) searchFor(q *kit.Request, f *kit.Form, w wish.Wish, begin time.Time) (int64, *wish.Refusal, error) {
	var choice search.Choice
	err := searched(q, f, func(ctx context.Context, m *search.Meter) (err error) {
		choice, err = search.Plans(ctx, w, *s.Effort, m)
		return err
	})
	if refused := new(wish.Refusal); errors.As(err, &refused) {
		return 0, refused, nil
	}
	if err != nil {
		return 0, nil, err
	}
	ids, err := q.Planning().Keep(q.Ctx(), choice, planning.Asked{Stove: f.Number("stove"), Name: kit.NewEntryID(), Query: asked(f), Begins: begin,
		Locale: q.Locale()})
	if err != nil {
		return 0, nil, err
	}
	return ids[0], nil, nil
}

// refusedIn puts a refusal into words; none is nil.
func refusedIn(q *kit.Request, r *wish.Refusal) *say.Refused {
	if r == nil {
		return nil
	}
	said := say.Refusal(r, q.Locale())
	return &said
}
