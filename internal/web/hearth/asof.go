package hearth

import (
	"context"
	"net/http"
	"strconv"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/coach"
	"smolder/internal/core/units"
	"smolder/internal/say"
	"smolder/internal/web/kit"
)

// asOfPage is what was known, foretold and advised at one minute of a burn.
type asOfPage struct {
	kit.Page
	ID       int64
	Minute   int
	Clock    string
	Coach    *kit.Coached
	Gauges   []string
	Believed []string
	Coming   []string
	Risk     string
}

// oneAtATime lets few be worked out at once: whoever moves along a strip asks often.
var oneAtATime = make(chan struct{}, 2)

// asOf answers what was known, foretold and advised at a minute of a burn.
func (s Room) asOf(q *kit.Request) error {
	b, err := s.BurnOf(q)
	if err != nil {
		return err
	}
	minute, err := strconv.Atoi(q.Query("minute"))
	if err != nil || minute < 0 || minute > int((48*time.Hour).Minutes()) {
		return kit.BadInput(q.T("A minute of this burn would do, counted from its start, such as 35."))
	}
	at := b.Started.Add(time.Duration(minute) * time.Minute)
	if now := s.Now().UTC(); at.After(now) {
		at = now
	}
	if !b.Ended.IsZero() && at.After(b.Ended) {
		at = b.Ended
	}
	ctx, cancel := context.WithTimeout(q.Ctx(), 20*time.Second)
	defer cancel()
	select {
	case oneAtATime <- struct{}{}:
		defer func() { <-oneAtATime }()
	case <-ctx.Done():
		return kit.Answer(http.StatusServiceUnavailable, q.T("Too much is being worked out just now. Try again in a moment."))
	}
	c := q.Coached(b, s.Watch.At(b, at))
	p := &asOfPage{Page: kit.Page{Title: q.T("As of ") + at.In(q.Profile.Location()).Format("15:04"), Nav: "burns", Bare: true}, ID: b.ID, Minute: minute,
		Clock: at.In(q.Profile.Location()).Format("15:04"), Coach: c, Risk: kit.Risk(c.Answer.Forecast.Risks, q.Locale())}
	p.fill(q, c.Answer)
	for _, k := range belief.Events {
		if span, ok := c.Answer.Forecast.Events[k]; ok && span.Share > 0.5 && span.Earliest > c.Answer.Forecast.From {
			p.Coming = append(p.Coming, say.Event(k, q.Locale())+" "+q.Span(b, span.Earliest, span.Likely, span.Latest))
		}
	}
	q.Show(http.StatusOK, "asof", p)
	return nil
}

// fill says what was read and what was believed.
func (p *asOfPage) fill(q *kit.Request, a coach.Answer) {
	u := q.Locale()
	for _, g := range a.Gauges {
		if g.Read() {
			text := u.T(say.Places.Short(g.Place)) + " " + u.Temperature(g.Value)
			if g.HasRate {
				text += ", " + signed(u, g.Rate) + q.T(" a minute")
			}
			p.Gauges = append(p.Gauges, text)
		} else if a.Phase != "" && g.Place.OfFire() {
			low, high := units.Celsius(g.Believed.Low), units.Celsius(g.Believed.High)
			p.Gauges = append(p.Gauges, u.T(say.Places.Short(g.Place))+q.T(" not read; computed ")+u.Degrees(low)+"–"+u.Temperature(high))
		}
	}
	if a.Phase == "" {
		return
	}
	st := a.Standing
	mass := func(low, high float64) string {
		return u.Mass(units.Kilogram(low)) + "–" + u.Mass(units.Kilogram(high))
	}
	p.Believed = append(p.Believed, q.T("wood left ")+mass(st.Wood.Low, st.Wood.High), q.T("coals ")+mass(st.Coals.Low, st.Coals.High),
		q.T("flames seen ")+q.Locale().Percent(units.Fraction(st.Flames), 0), q.T("black all over ")+q.Locale().Percent(units.Fraction(st.Black), 0))
}
