package web

import (
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"smolder/internal/core/house"
	"smolder/internal/core/units"
	"smolder/internal/store"
)

type householdPage struct {
	page
	Form   *form
	User   string
	Zones  []option
	Kinds  []option
	Builds []option
}

func newHouseholdPage(q *request, f *form) *householdPage {
	p := &householdPage{page: page{Title: "Household", Nav: "household"}, Form: f, User: q.user, Zones: zoneOptions(), Kinds: unitOptions()}
	for _, k := range house.Builds {
		p.Builds = append(p.Builds, option{Value: string(k.Key), Label: k.Name})
	}
	return p
}

func (s *Server) household(q *request) error {
	p, u := q.profile, q.units()
	f := filled("household", p.Name, "zone", p.Zone, "units", string(p.Units), "low", u.RoomTemperature(p.Wanted[0]), "high", u.RoomTemperature(p.Wanted[1]))
	if !p.Alarms.IsZero() {
		f.Values.Set("alarms", p.Alarms.Format(time.DateOnly))
	}
	houseToForm(f, u, "", p.House)
	q.render(http.StatusOK, "household", newHouseholdPage(q, f))
	return nil
}

func (s *Server) saveHousehold(q *request) error {
	f, err := q.form()
	if err != nil {
		return err
	}
	p := q.profile
	p.Name = f.name("household", "the household's name")
	p.Zone = parse(f, "zone", parseZone)
	p.Units = parse(f, "units", units.ParseSystem)
	p.Wanted[0], p.Wanted[1] = parse(f, "low", in(parseRoom, q.units())), parse(f, "high", in(parseRoom, q.units()))
	if f.ok() && p.Wanted[0] >= p.Wanted[1] {
		f.wrong("high", "the wanted temperature must rise from a lower to a higher one")
	}
	p.Alarms = time.Time{}
	if f.has("alarms") {
		p.Alarms = parse(f, "alarms", q.parseDay)
	}
	p.House = readHouse(f, q.units(), "")
	if !f.ok() {
		q.render(http.StatusUnprocessableEntity, "household", newHouseholdPage(q, f))
		return nil
	}
	if err := q.house.SaveProfile(q.ctx(), p); err != nil {
		return err
	}
	q.say("Kept.")
	return q.seeOther("/household")
}

// parseDay reads a day that is not ahead.
func (q *request) parseDay(typed string) (time.Time, error) {
	if strings.EqualFold(typed, "today") {
		typed = q.now().Format(time.DateOnly)
	}
	day, err := time.Parse(time.DateOnly, typed)
	if err != nil || day.After(q.now().Add(24*time.Hour)) || day.Year() < 1990 {
		return time.Time{}, &units.ParseError{Input: typed, What: "day", Reason: "a date up to today was expected", Try: "today or " + q.now().Format(time.DateOnly)}
	}
	return day, nil
}

// alarmsSay is the line on the checklist.
func alarmsSay(p store.Profile, now time.Time) string {
	const stale = 31 * 24 * time.Hour
	switch {
	case p.Alarms.IsZero():
		return "CO and smoke alarms: not known when they were tested. Press the button on each, and note the day under Household."
	case now.Sub(p.Alarms) > stale:
		return "CO and smoke alarms were tested on " + p.Alarms.Format("2 January 2006") + ", over a month ago: test them before lighting, and note the day under Household."
	}
	return "CO and smoke alarms tested on " + p.Alarms.Format("2 January") + "."
}

// readHouse reads what a stove heats; prefix tells the household's own house
// from a stove's.
func readHouse(f *form, u units.System, prefix string) house.House {
	h := house.House{Build: house.Build(f.text(prefix + "build"))}
	h.Floor = parse(f, prefix+"floor", func(t string) (float64, error) { return parseArea(t, u) })
	h.N50 = parse(f, prefix+"n50", func(t string) (float64, error) {
		return units.ParseNumber(t, "air change rate", 0.1, 40)
	})
	h.Volume = parse(f, prefix+"volume", func(t string) (units.Litre, error) { return parseHouseVolume(t, u) })
	h.Fan, _ = optional(f, prefix+"fan", in(units.ParseFlow, u))
	if f.ok() {
		if err := h.Check(); err != nil {
			f.wrong(prefix+"floor", err.Error())
		}
	}
	return h
}

const squareMetresPerSquareFoot = 0.09290304

// parseArea reads "45 m2" or "480 ft2".
func parseArea(typed string, u units.System) (float64, error) {
	factor := 1.0
	if u == units.Imperial {
		factor = squareMetresPerSquareFoot
	}
	for _, k := range []struct {
		unit   string
		factor float64
	}{{"m²", 1}, {"m2", 1}, {"ft²", squareMetresPerSquareFoot}, {"ft2", squareMetresPerSquareFoot}, {"sqft", squareMetresPerSquareFoot}} {
		if n := len(typed) - len(k.unit); n > 0 && typed[n:] == k.unit {
			typed, factor = typed[:n], k.factor
		}
	}
	v, err := units.ParseNumber(typed, "floor area", 0, 20000)
	return v * factor, err
}

// parseHouseVolume reads cubic metres where a bare number stands alone: nobody
// gives a house in litres.
func parseHouseVolume(typed string, u units.System) (units.Litre, error) {
	if v, err := strconv.ParseFloat(typed, 64); err == nil && u == units.Metric {
		typed = strconv.FormatFloat(v, 'f', -1, 64) + " m3"
	}
	return units.ParseVolume(typed, u)
}

func houseToForm(f *form, u units.System, prefix string, h house.House) {
	area, volume := units.Number(h.Floor, 0)+" m²", units.Number(float64(h.Volume)/1000, 0)+" m3"
	if u == units.Imperial {
		area, volume = units.Number(h.Floor/squareMetresPerSquareFoot, 0)+" ft²", units.Number(h.Volume.CubicFeet(), 0)+" ft3"
	}
	f.Values.Set(prefix+"floor", area)
	f.Values.Set(prefix+"build", string(h.Build))
	f.Values.Set(prefix+"n50", units.Number(h.N50, 1))
	f.Values.Set(prefix+"volume", volume)
	f.Values.Set(prefix+"fan", u.Flow(h.Fan))
}

type emergencyPage struct {
	page
	Which string
}

// emergency serves the two pages that open without a sign-in, a database or a
// script.
func (s *Server) emergency(which string) gin.HandlerFunc {
	title := map[string]string{"co-alarm": "CO alarm", "chimney-fire": "Chimney fire"}[which]
	return func(c *gin.Context) {
		c.Header("Content-Type", "text/html; charset=utf-8")
		if err := s.views.write(c.Writer, "emergency", &emergencyPage{page: page{Title: title}, Which: which}); err != nil {
			s.Log.Error("render", "error", err)
		}
	}
}
