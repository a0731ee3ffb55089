package plans

import (
	"errors"
	"fmt"
	"net/http"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

type stovePage struct {
	kit.Page
	Form   *kit.Form
	Open   []store.Burn
	Stoves []kit.Option
	Starts []kit.Option
	Lit    []kit.Option // whether it was
	Sky    bool
	Close  string // names of the stoves in a boat, van or hut
	Names  map[int64]string
}

// atTheStove goes to the burn that is on; with none or several it asks, as it
// does when another is to be begun.
func (s Room) atTheStove(q *kit.Request) error {
	open, err := q.Home.OpenBurns(q.Ctx())
	if err != nil {
		return err
	}
	if len(open) == 1 && open[0].Unreadable == nil && q.Query("another") == "" {
		return q.SeeOther(fmt.Sprintf("/burns/%d/live", open[0].ID))
	}
	return s.showStove(q, http.StatusOK, kit.Filled("when", nowWord), open)
}

func (s Room) showStove(q *kit.Request, status int, f *kit.Form, open []store.Burn) error {
	p := &stovePage{Page: kit.Page{Title: q.T("At the stove"), Nav: "stove"}, Form: f, Open: open, Sky: s.Sky(q) != nil}
	stoves, err := q.Stoves()
	if err != nil {
		return err
	}
	burning := map[int64]bool{}
	for _, b := range open {
		burning[b.StoveID] = true
	}
	p.Names = map[int64]string{}
	for _, st := range stoves {
		p.Names[st.ID] = st.Name
		if !burning[st.ID] && st.Confined() {
			if p.Close += st.Name; f.Number("stove") == 0 && len(stoves) == 1 {
				f.Values.Set("stove", fmt.Sprint(st.ID))
			}
			p.Close += " "
		}
		if !burning[st.ID] {
			p.Stoves = append(p.Stoves, kit.Option{Value: fmt.Sprint(st.ID), Label: st.Name})
		}
	}
	for _, a := range say.Starts {
		p.Starts = append(p.Starts, kit.Option{Value: string(a.Key), Label: q.T(a.Name)})
	}
	p.Lit = []kit.Option{{Value: "", Label: q.T("not yet: I say when")}, {Value: litThen, Label: q.T("when it began")}}
	if p.Sky && !f.Has("outdoor") {
		f.Values.Set("outdoor", q.T(kit.ForecastWord))
	}
	q.Show(status, "stove-start", p)
	return nil
}

// litThen says that a fire that is logged late was lit when it began.
const litThen = "then"

// startUnplanned starts a burn without a plan, only to log it. It may have begun
// a while ago; temperatures that nobody knows stay not known.
func (s Room) startUnplanned(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	u, now := q.Locale(), s.Now().UTC()
	b := burn.Burn{Room: burn.AssumedRoom, Outdoor: burn.AssumedOutdoor}
	low, high := units.Celsius(burn.AssumedRoom), units.Celsius(burn.AssumedRoom)
	if st, err := q.Home.Stove(q.Ctx(), f.Number("stove")); err == nil {
		low, high = st.Space.Wanted[0], st.Space.Wanted[1]
	}
	if room, typed := kit.Optional(f, "room", kit.RoomBetween(low, high, u)); typed {
		b.Room = room
	} else {
		b.RoomUnknown = true
	}
	started, err := when.ParseMoment(f.Text("when"), now.In(q.Profile.Location()), now.Add(-24*time.Hour))
	switch {
	case err != nil:
		f.Wrong("when", say.Error(err, f.Locale()))
	case now.Sub(started) > burn.Longest:
		f.Wrong("when", q.T("that is over ")+q.Locale().Duration(burn.Longest)+q.T(" ago, and no burn is longer; one that is over is read in from a file under Burns"))
	}
	b.Started = started.UTC().Truncate(time.Second)
	start := wish.Start(f.Text("start"))
	kit.KnownChoice(f, "start", start.Known())
	s.skyOf(q, f, &b)
	if f.Ok() {
		st, err := q.Home.Stove(q.Ctx(), f.Number("stove"))
		if err != nil {
			return err
		}
		if text, err := q.Lit(st.ID, st.Name); err != nil {
			return err
		} else if text != "" {
			f.Wrong("chimney", text)
		}
		b.Stove, b.House = st.Stove, st.Space.House
		b.Coals, b.Warmth = start.Coals(st.Volume)
		b.Wanted = [2]float64{float64(st.Space.Wanted[0]), float64(st.Space.Wanted[1])}
		if st.Confined() {
			if !aired(f) {
				f.Wrong("air", q.T(say.NotAired))
			}
			b.Entries = append(b.Entries, airedNote(b, q.Locale()))
		}
		left, err := q.LeftOver(st.ID, b.Started)
		if err != nil {
			return err
		}
		b.Entries = append(b.Entries, left...)
		if f.Text("lit") == litThen {
			b.Entries = append(b.Entries, burn.Entry{ID: kit.NewEntryID(), At: b.Started, Kind: burn.Light})
		}
		if err := b.CheckStart(now); err != nil {
			f.Fails("when", err)
		}
		if f.Ok() {
			id, err := q.Home.StartBurn(q.Ctx(), st.ID, "", b, nil)
			if err == nil {
				return q.SeeOther(fmt.Sprintf("/burns/%d/live", id))
			}
			if !errors.Is(err, store.ErrBurning) {
				return err
			}
			f.Wrong("stove", q.T("this stove already has a burn that is not ended; end that one first"))
		}
	}
	open, err := q.Home.OpenBurns(q.Ctx())
	if err != nil {
		return err
	}
	status := http.StatusUnprocessableEntity
	if f.Errors["stove"] != "" {
		status = http.StatusConflict
	}
	return s.showStove(q, status, f, open)
}

// skyOf fills in the weather of a burn that is only logged: by the hour from the
// forecast, as typed, or not known.
func (s Room) skyOf(q *kit.Request, f *kit.Form, b *burn.Burn) {
	switch typed := f.Text("outdoor"); {
	case typed == "":
		b.OutdoorUnknown = true
	case q.IsForecast(typed):
		hours, ok := s.Hourly(q, b.Started, 48)
		if !ok {
			f.Wrong("outdoor", q.T("the forecast does not answer just now; the temperature outside, such as ")+q.Locale().Temperature(4)+q.T(", or nothing would do"))
			return
		}
		for _, h := range hours {
			w := fire.Weather{At: max(0, h.At.Sub(b.Started)), Outdoor: units.Celsius(h.Temperature), Wind: h.Wind}
			if n := len(b.Weather); n == 0 || w.At > b.Weather[n-1].At {
				b.Weather = append(b.Weather, w)
			}
		}
		b.Outdoor = b.Weather[0].Outdoor
	default:
		b.Outdoor = kit.Parse(f, "outdoor", kit.In(kit.ParseOutdoor, q.Locale().System))
		b.Wind, _ = kit.Optional(f, "wind", kit.In(units.ParseWind, q.Locale().System))
	}
}
