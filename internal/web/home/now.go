package home

import (
	"errors"
	"html/template"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"time"

	"smolder/internal/core/day"
	"smolder/internal/core/drying"
	"smolder/internal/core/house"
	"smolder/internal/core/learn"
	"smolder/internal/core/season"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// mostStoves is how many stoves the first page of a day shows.
const mostStoves = 8

// A nowPage is the first page of a day: for every stove what is best to do and
// why, what is planned, what is overdue.
type nowPage struct {
	kit.Page
	Stoves   []stoveNow
	Weather  string // now and later
	More     int    // stoves that are not shown
	NoStove  bool
	NoWood   bool
	Kept     []kit.KeptLine
	Answers  int // to what was shared, that nobody has read
	Overdue  []string
	Half     string // the check at midwinter, in its weeks
	Last     *kit.BurnLine
	Left     string
	LeftHeat string
}

// Burning is the number of fires.
func (p *nowPage) Burning() int {
	n := 0
	for _, st := range p.Stoves {
		if st.Open != nil {
			n++
		}
	}
	return n
}

// stoveNow is one stove: the fire in it, or what to do where there is none.
type stoveNow struct {
	ID     int64
	Name   string
	Space  string
	Open   *openBurn
	Unread bool // its fire is kept in a form that this program cannot read
	say.Advice
	Box   template.HTML    // the firebox at a glance
	State string           // in a word or two
	Next  string           // what comes, and when to be back
	Room  [2]template.HTML // the room against what is wanted, for a laptop and a phone
	Light bool             // a fire is wanted now
	Link  string           // to a plan, as far as it is known what for
}

type openBurn struct {
	store.Burn
	State string
	Coach *kit.Coached
	Since string
}

// now answers what to do.
func (s Room) now(q *kit.Request) error {
	p := &nowPage{Page: kit.Page{Title: q.T("Now"), Nav: "now", Wide: true}}
	stoves, err := q.Stoves()
	if err != nil {
		return err
	}
	p.NoStove = len(stoves) == 0
	p.Weather = s.weatherSays(q)
	if err := s.fillStoves(q, p, stoves); err != nil {
		return err
	}
	if err := s.fillNow(q, p); err != nil {
		return err
	}
	if p.Kept, err = q.Kept(); err != nil {
		return err
	}
	if p.Answers, err = q.Home.Answers(q.Ctx()); err != nil {
		return err
	}
	if text := say.AlarmsDue(q.Profile.Alarms, q.Now(), q.Locale()); text != "" {
		p.Overdue = append(p.Overdue, text)
	}
	dangers, err := q.Endangers(0)
	if err != nil {
		return err
	}
	p.Overdue = append(p.Overdue, dangers...)
	q.Show(http.StatusOK, "now", p)
	return nil
}

// fillStoves adds every stove: those with a fire in first, then those that want
// one.
func (s Room) fillStoves(q *kit.Request, p *nowPage, stoves []store.Stove) error {
	lines, err := q.Home.LastBurns(q.Ctx())
	if err != nil {
		return err
	}
	last := map[int64]store.BurnLine{}
	for _, l := range lines {
		last[l.StoveID] = l
	}
	forecast := s.forecast(q)
	for _, st := range stoves {
		line := stoveNow{ID: st.ID, Name: st.Name, Space: st.Space.Name}
		b, there := last[st.ID]
		if there && !b.Ended.Valid {
			line.Open, err = s.burning(q, b.ID)
			if line.Unread = errors.Is(err, store.ErrUnreadable); err != nil && !line.Unread {
				return err
			}
			if line.Open != nil {
				s.atAGlance(q, &line)
			}
		} else if err := s.advise(q, &line, st, b, forecast); err != nil {
			return err
		}
		p.Stoves = append(p.Stoves, line)
	}
	rank := func(st stoveNow) int {
		switch {
		case st.Open != nil || st.Unread:
			return 0
		case st.Light:
			return 1
		}
		return 2
	}
	slices.SortStableFunc(p.Stoves, func(a, b stoveNow) int { return rank(a) - rank(b) })
	p.More = max(0, len(p.Stoves)-mostStoves)
	p.Stoves = p.Stoves[:len(p.Stoves)-p.More]
	return nil
}

// burning is a fire as it stands.
func (s Room) burning(q *kit.Request, id int64) (*openBurn, error) {
	b, err := q.Burn(id)
	if err != nil {
		return nil, err
	}
	c := q.Coach(b)
	return &openBurn{Burn: b, Since: kit.ClockLength(s.Now().Sub(b.Started)), State: c.State, Coach: c}, nil
}

// recently is how long ago a burn may have ended for its replay to say how room
// and coals are now; ahead is how many hours of weather are asked for.
const (
	recently = 18 * time.Hour
	ahead    = 14
)

// forecast is the household's weather; nil where there is none.
func (s Room) forecast(q *kit.Request) house.Forecast {
	hours, ok := s.Hourly(q, s.Now(), ahead)
	if !ok {
		return nil
	}
	return func(d time.Duration) units.Celsius {
		return units.Celsius(hours[min(len(hours)-1, int(d/time.Hour))].Temperature)
	}
}

// advise says what to do in a stove that nobody tends, by its last burn.
func (s Room) advise(q *kit.Request, line *stoveNow, st store.Stove, last store.BurnLine, forecast house.Forecast) error {
	known, err := q.KnownOf(st.ID)
	if err != nil {
		return err
	}
	at := day.Situation{House: learn.Learned(st.Space.House, known.Belief()), Wanted: st.Space.Wanted, Volume: st.Volume, Outdoor: forecast}
	if last.Ended.Valid && s.Now().Sub(last.Ended.V) < recently {
		b, err := q.Burn(last.ID)
		if err != nil && !errors.Is(err, store.ErrUnreadable) {
			return err
		}
		if err == nil && b.Simulated() { // of one that cannot be read nobody knows room and coals
			if samples := s.Replays.Replay(b.Burn, s.Now()).Samples; len(samples) > 0 {
				at.Last = &samples[len(samples)-1]
			}
		}
	}
	found := day.Advise(at)
	s.coldGlance(q, line, st, at, found)
	line.Advice, line.Light = say.Advise(found, q.Locale()), found.Do == day.Light
	link := url.Values{"stove": {strconv.FormatInt(st.ID, 10)}, "aim": {string(wish.Hold)}, "start": {startToAsk(found.Start)}}
	if found.Weather {
		link.Set("outdoor", kit.ForecastWord)
	}
	if found.Known {
		link.Set("room", q.Locale().RoomTemperature(units.Celsius(math.Round(float64(found.Room)*10)/10)))
	}
	line.Link = "/plan?" + link.Encode()
	return nil
}

// fillNow adds the last burn and the wood left.
func (s Room) fillNow(q *kit.Request, p *nowPage) error {
	stacks, err := q.Stacks()
	if err != nil {
		return err
	}
	p.NoWood = len(stacks) == 0
	var mass, energy float64
	for _, st := range stacks {
		if st.Species.Mineral {
			continue
		}
		mass += float64(st.Mass)
		energy += st.NetEnergy() * float64(st.Mass) * 1e6
	}
	if p.Half, err = halfWay(q); err != nil {
		return err
	}
	p.Left, p.LeftHeat = q.Locale().Mass(units.Kilogram(mass)), q.Locale().Energy(units.Joule(energy))
	lines, err := q.Home.Burns(q.Ctx(), s.Now().Add(time.Minute), mostStoves+1)
	if err != nil {
		return err
	}
	for _, l := range lines {
		if l.Ended.Valid {
			started := l.Started.In(q.Profile.Location())
			p.Last = &kit.BurnLine{BurnLine: l, Day: q.Locale().Date(started, "2 January 2006"), Clock: started.Format("15:04"), Mass: q.Locale().Mass(l.Mass)}
			break
		}
	}
	return nil
}

// startToAsk is how a stove that should be cold starts; how many coals there are
// is never taken for granted, but asked.
func startToAsk(s wish.Start) string {
	if s == wish.Cold {
		return string(s)
	}
	return ""
}

// halfWayShows is how long after midwinter its check stands on the first page.
const halfWayShows = 21 * 24 * time.Hour

// halfWay is the check at midwinter: by itself, in the weeks after half of a usual
// winter's heat is behind.
func halfWay(q *kit.Request) (string, error) {
	now := q.Now()
	climate := drying.At(now.Location())
	start, end := season.Span(climate, now)
	if start.IsZero() {
		return "", nil
	}
	// About then; when exactly follows from the winters here.
	if about := season.HalfWay(climate, start, end); now.Before(about.Add(-halfWayShows)) || now.Sub(about) > 2*halfWayShows {
		return "", nil
	}
	w, err := q.Winter()
	if err != nil {
		return "", err
	}
	half, ahead, left, _, ok, err := w.HalfWay(q.Ctx(), q.Home)
	if err != nil || !ok || now.Before(half) || now.Sub(half) > halfWayShows {
		return "", err
	}
	return say.HalfWay(half, now, ahead, left, q.Locale()), nil
}
