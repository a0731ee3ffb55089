package home

import (
	"errors"
	"net/http"
	"strconv"
	"time"

	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

type householdPage struct {
	kit.Page
	Form       *kit.Form
	User       string
	Zones      []kit.Option
	Kinds      []kit.Option
	Tints      []kit.Option // colours to choose from
	Tongues    []kit.Option // languages to choose from; none where there is only English
	Own        *kit.Form    // how whoever asks reads
	OwnKinds   []kit.Option
	OwnTongues []kit.Option
	Is         string // role of whoever asks
	People     []string
	Spaces     []spaceLine
	Sessions   []sessionLine // this one and those seen last
	Older      []sessionLine // folded
	OlderSays  string
	Password   *kit.Form
	Trouble    *troubleLine
	Forecast   string // where the weather comes from, when the household names nothing
}

// spaceLine is a space in the list.
type spaceLine struct {
	store.Space
	Says    string
	Assumed bool
}

// troubleLine is work in the background that could not be done.
type troubleLine struct{ Why, Again string }

// sessionLine is a browser in which this person is signed in.
type sessionLine struct {
	Key, Agent, Since, Seen string
	Here                    bool
}

// fewSessions are shown; where there are more, the rest is folded under a line.
const fewSessions = 4

func (s Room) showHousehold(q *kit.Request, status int, f, password *kit.Form) error {
	p := &householdPage{Page: kit.Page{Title: q.T("Household"), Nav: "household", Wide: true}, Form: f, Password: password, User: q.User.Name,
		Zones: zoneOptions(), Kinds: unitOptions(q.Locale()), Tongues: s.languageOptions(q.Locale()), Forecast: s.ForecastNow(q)}
	spaces, err := q.Home.Spaces(q.Ctx())
	if err != nil {
		return err
	}
	for _, sp := range spaces {
		p.Spaces = append(p.Spaces, spaceLine{sp, say.Space(sp.House, sp.Wanted, q.Locale()), sp.House.Assumed})
	}
	people, err := q.Home.People(q.Ctx())
	if err != nil {
		return err
	}
	for _, one := range people {
		p.People = append(p.People, one.Name)
	}
	as := kit.Option{Value: "", Label: q.T("as the household has them")}
	p.Is, p.Tints = q.T(roleWords[q.User.Role]), kit.Said(kit.Colours, q.Locale())
	p.Own = kit.Filled("own-units", string(q.User.Units), "own-language", q.User.Language, "colours", q.User.Colours)
	p.OwnKinds = append([]kit.Option{as}, unitOptions(q.Locale())...)
	if p.OwnTongues = s.languageOptions(q.Locale()); len(p.OwnTongues) > 0 {
		p.OwnTongues[0] = kit.Option{Value: "", Label: q.T("as the household has it")}
	}
	sessions, err := s.Store.Sessions(time.Now).Of(q.Ctx(), q.User.ID, s.Sessions.Token(q.Ctx()))
	if err != nil {
		return err
	}
	for i, l := range sessions {
		line, list := sessionLine{l.Key, agentWord(l.Agent, q.Locale()), q.DayWord(l.Begun), q.DayWord(l.Seen), l.Here}, &p.Sessions
		if i >= fewSessions && len(sessions) > fewSessions+1 {
			list = &p.Older
		}
		*list = append(*list, line)
	}
	p.OlderSays = q.F("%d more browsers", len(p.Older))
	if t, err := s.Work.Trouble(q.Ctx(), q.Home.ID()); err != nil {
		s.Log.WarnContext(q.Ctx(), "background work", "error", err) // the page is as good without
	} else if t != nil {
		p.Trouble = &troubleLine{t.Why, q.DayWord(t.Again)}
	}
	q.Show(status, "household", p)
	return nil
}

func profileToForm(p store.Profile) *kit.Form {
	f := kit.Filled("household", p.Name, "zone", p.Zone, "units", string(p.Units), "language", p.Language, "weather", p.WeatherURL, "version", strconv.Itoa(p.Version))
	if !p.Alarms.IsZero() {
		f.Values.Set("alarms", p.Alarms.Format(time.DateOnly))
	}
	return f
}

// languageOptions are the languages to choose from; none where there is only English.
func (s Room) languageOptions(loc lang.Locale) []kit.Option {
	if len(s.Languages.All()) == 0 {
		return nil
	}
	options := []kit.Option{{Value: "", Label: loc.T("as the browser asks")}, {Value: "en", Label: "English"}}
	for _, l := range s.Languages.All() {
		options = append(options, kit.Option{Value: l.Tag(), Label: l.Name})
	}
	return options
}

// parseLanguage reads a choice of [Room.languageOptions].
func (s Room) parseLanguage(loc lang.Locale) func(string) (string, error) {
	return func(tag string) (string, error) {
		if tag != "" && tag != "en" && s.Languages.Named(tag) == nil {
			return "", errors.New(loc.T("There is no such language here: one of the list would do."))
		}
		return tag, nil
	}
}

func (s Room) household(q *kit.Request) error {
	return s.showHousehold(q, http.StatusOK, profileToForm(q.Profile), kit.Filled())
}

func (s Room) saveHousehold(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	p := q.Profile
	p.Version = f.Version()
	p.Name = f.Name("household", "household-name")
	p.Zone = kit.Parse(f, "zone", parseZone)
	p.Units = kit.Parse(f, "units", units.ParseSystem)
	if f.Has("language") {
		p.Language = kit.Parse(f, "language", s.parseLanguage(q.Locale()))
	}
	p.Alarms, _ = kit.Optional(f, "alarms", func(typed string) (time.Time, error) { return when.ParseDay(typed, q.Now()) })
	p.WeatherURL, _ = kit.Optional(f, "weather", kit.ParseWeatherURL)
	if f.Ok() {
		switch err := q.Home.SaveProfile(q.Ctx(), p); {
		case err == nil:
			q.Say("Kept.")
			return q.SeeOther("/household")
		case errors.Is(err, store.ErrStale):
			f.Conflict(profileToForm(q.Profile), q.Profile.Version)
			return s.showHousehold(q, http.StatusConflict, f, kit.Filled())
		default:
			return err
		}
	}
	return s.showHousehold(q, http.StatusUnprocessableEntity, f, kit.Filled())
}

// changePassword ends every other session of its person too.
func (s Room) changePassword(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	was, next := f.Values.Get("old-password"), f.Values.Get("password")
	f.Values.Del("old-password")
	f.Values.Del("password")
	if text := PasswordProblem(next, q.Locale()); text != "" {
		f.Wrong("password", text)
	}
	full, taken, err := s.attempt(q, q.User.Name)
	if err != nil {
		return err
	}
	if full != nil {
		f.Wrong("old-password", q.T("too many wrong passwords; wait ")+q.Locale().Duration(full.Within)+q.T(" and try again"))
		return s.showHousehold(q, http.StatusTooManyRequests, profileToForm(q.Profile), f)
	}
	ok, err := s.checkPassword(q.Ctx(), q.User.Password, was)
	if err != nil {
		return kit.Answer(http.StatusServiceUnavailable, q.T("Many people are signing in just now; try again in a moment."))
	}
	if !ok {
		f.Wrong("old-password", q.T("that is not your password"))
	} else if err := s.Store.Forgive(q.Ctx(), taken); err != nil {
		return err
	}
	if !f.Ok() {
		return s.showHousehold(q, http.StatusUnprocessableEntity, profileToForm(q.Profile), f)
	}
	hash, err := s.hashInTurn(q.Ctx(), next)
	if err != nil {
		return kit.Answer(http.StatusServiceUnavailable, q.T("Many people are signing in just now; try again in a moment."))
	}
	if err := s.Store.SetPassword(q.Ctx(), q.User.ID, hash, s.Sessions.Token(q.Ctx()), q.Now()); err != nil {
		return err
	}
	q.Say("Your password is changed, and every other browser is signed out.")
	return q.SeeOther("/household")
}

func (s Room) endSession(q *kit.Request) error {
	if err := s.Store.Sessions(time.Now).End(q.Ctx(), q.User.ID, q.Param("key")); err != nil {
		return err
	}
	return q.SeeOther("/household")
}

func (s Room) endSessions(q *kit.Request) error {
	if err := s.Store.Sessions(time.Now).EndOthers(q.Ctx(), q.User.ID, s.Sessions.Token(q.Ctx())); err != nil {
		return err
	}
	q.Say("Every other browser is signed out.")
	return q.SeeOther("/household")
}
