package web

import (
	"errors"
	"net/http"
	"strconv"
	"time"

	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/say"
	"smolder/internal/store"
)

type householdPage struct {
	page
	Form     *form
	User     string
	Zones    []option
	Kinds    []option
	Spaces   []spaceLine
	Sessions []sessionLine
	Password *form
	Forecast string // where the weather comes from, when the household names nothing
}

// spaceLine is a space in the list.
type spaceLine struct {
	store.Space
	Says    string
	Assumed bool
}

// sessionLine is a browser in which this person is signed in.
type sessionLine struct {
	Key, Agent, Since, Seen string
	Here                    bool
}

func (s *Server) showHousehold(q *request, status int, f, password *form) error {
	p := &householdPage{page: page{Title: "Household", Nav: "household"}, Form: f, Password: password, User: q.user.Name, Zones: zoneOptions(), Kinds: unitOptions(), Forecast: s.forecastNow(q)}
	spaces, err := q.house.Spaces(q.ctx())
	if err != nil {
		return err
	}
	for _, sp := range spaces {
		p.Spaces = append(p.Spaces, spaceLine{sp, say.Space(sp.House, sp.Wanted, q.units()), sp.House.Assumed})
	}
	sessions, err := s.Store.Sessions().Of(q.ctx(), q.user.ID, s.sessions.Token(q.ctx()))
	if err != nil {
		return err
	}
	for _, l := range sessions {
		p.Sessions = append(p.Sessions, sessionLine{l.Key, l.Agent, q.dayWord(l.Begun), q.dayWord(l.Seen), l.Here})
	}
	q.render(status, "household", p)
	return nil
}

func profileToForm(p store.Profile) *form {
	f := filled("household", p.Name, "zone", p.Zone, "units", string(p.Units), "weather", p.WeatherURL, "version", strconv.Itoa(p.Version))
	if !p.Alarms.IsZero() {
		f.Values.Set("alarms", p.Alarms.Format(time.DateOnly))
	}
	return f
}

func (s *Server) household(q *request) error {
	return s.showHousehold(q, http.StatusOK, profileToForm(q.profile), filled())
}

func (s *Server) saveHousehold(q *request) error {
	f, err := q.form()
	if err != nil {
		return err
	}
	p := q.profile
	p.Version = f.version()
	p.Name = f.name("household", "household-name")
	p.Zone = parse(f, "zone", parseZone)
	p.Units = parse(f, "units", units.ParseSystem)
	p.Alarms, _ = optional(f, "alarms", func(typed string) (time.Time, error) { return when.ParseDay(typed, q.now()) })
	p.WeatherURL, _ = optional(f, "weather", parseWeatherURL)
	if f.ok() {
		switch err := q.house.SaveProfile(q.ctx(), p); {
		case err == nil:
			q.say("Kept.")
			return q.seeOther("/household")
		case errors.Is(err, store.ErrStale):
			f.conflict(profileToForm(q.profile), q.profile.Version)
			return s.showHousehold(q, http.StatusConflict, f, filled())
		default:
			return err
		}
	}
	return s.showHousehold(q, http.StatusUnprocessableEntity, f, filled())
}

// changePassword ends every other session of its person too.
func (s *Server) changePassword(q *request) error {
	f, err := q.form()
	if err != nil {
		return err
	}
	was, next := f.Values.Get("old-password"), f.Values.Get("password")
	f.Values.Del("old-password")
	f.Values.Del("password")
	if text := PasswordProblem(next); text != "" {
		f.wrong("password", text)
	}
	full, taken, err := s.attempt(q, q.user.Name)
	if err != nil {
		return err
	}
	if full != nil {
		f.wrong("old-password", "too many wrong passwords; wait "+units.Duration(full.Within)+" and try again")
		return s.showHousehold(q, http.StatusTooManyRequests, profileToForm(q.profile), f)
	}
	ok, err := s.checkPassword(q.ctx(), q.user.Password, was)
	if err != nil {
		return &errInput{http.StatusServiceUnavailable, "Many people are signing in just now; try again in a moment."}
	}
	if !ok {
		f.wrong("old-password", "that is not your password")
	} else if err := s.Store.Forgive(q.ctx(), taken); err != nil {
		return err
	}
	if !f.ok() {
		return s.showHousehold(q, http.StatusUnprocessableEntity, profileToForm(q.profile), f)
	}
	hash, err := s.hashInTurn(q.ctx(), next)
	if err != nil {
		return &errInput{http.StatusServiceUnavailable, "Many people are signing in just now; try again in a moment."}
	}
	if err := s.Store.SetPassword(q.ctx(), q.user.ID, hash, s.sessions.Token(q.ctx())); err != nil {
		return err
	}
	q.say("Your password is changed, and every other browser is signed out.")
	return q.seeOther("/household")
}

func (s *Server) endSession(q *request) error {
	if err := s.Store.Sessions().End(q.ctx(), q.user.ID, q.Param("key")); err != nil {
		return err
	}
	return q.seeOther("/household")
}

func (s *Server) endSessions(q *request) error {
	if err := s.Store.Sessions().EndOthers(q.ctx(), q.user.ID, s.sessions.Token(q.ctx())); err != nil {
		return err
	}
	q.say("Every other browser is signed out.")
	return q.seeOther("/household")
}
