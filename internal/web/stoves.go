package web

import (
	"fmt"
	"html/template"
	"net/http"
	"strings"

	"smolder/internal/core/flue"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
)

type stovesPage struct {
	page
	Stoves []store.Stove
	Gone   []store.Stove
}

func (s *Server) stoves(q *request) error {
	stoves, err := q.house.Stoves(q.ctx())
	if err != nil {
		return err
	}
	gone, err := q.house.GoneStoves(q.ctx())
	if err != nil {
		return err
	}
	q.render(http.StatusOK, "stoves", &stovesPage{page: page{Title: "Stove and flue", Nav: "stoves"}, Stoves: stoves, Gone: gone})
	return nil
}

type oneStovePage struct {
	page
	Stove   store.Stove
	Form    *form
	Column  template.HTML
	Figures []figure
	Facts   []figure
	Verdict string
}

// stove shows a stove with its column at a chosen outdoor temperature.
func (s *Server) stove(q *request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	f, err := q.form()
	if err != nil {
		return err
	}
	u := q.units()
	if !f.has("outdoor") {
		f.Values.Set("outdoor", u.Temperature(4))
	}
	if !f.has("gas") {
		f.Values.Set("gas", u.Temperature(250))
	}
	c := strip.Column{Stove: st.Stove, House: st.Space.House, Room: 19, Outdoor: 4, Gas: 250, Units: u}
	outdoor, gas := parse(f, "outdoor", in(parseOutdoor, u)), parse(f, "gas", in(units.ParseTemperature, u))
	status := http.StatusOK
	if gas > 700 {
		f.wrong("gas", "flue gas above "+u.Temperature(700)+" is a chimney fire; "+u.Temperature(250)+" would do")
	}
	if f.ok() {
		c.Outdoor, c.Gas = outdoor, gas
	} else {
		status = http.StatusUnprocessableEntity
	}
	p := &oneStovePage{page: page{Title: st.Name, Nav: "stoves", Wide: true}, Stove: st, Form: f, Column: c.SVG(), Figures: draftFigures(q, c), Facts: stoveFacts(q, st)}
	p.Verdict = say.Draft(c.Draft().Net, u)
	q.render(status, "stove", p)
	return nil
}

func stoveFacts(q *request, st store.Stove) []figure {
	u, c := q.units(), st.Chimney
	facts := []figure{
		{Label: "heats", Value: st.Space.Name + ": " + spaceSay(u, st.Space)},
		{Label: "family", Value: say.Families.Name(st.Family)},
		{Label: "firebox", Value: fmt.Sprintf("%s; %s wide, %s deep, %s high", u.Volume(st.Volume), u.Size(st.Width), u.Size(st.Depth), u.Size(st.Height))},
		{Label: "manual's largest load", Value: u.Mass(st.MaxLoad)},
		{Label: "longest piece", Value: fmt.Sprintf("%s end-on, %s sideways", u.Size(st.LongestPiece(stove.EndOn)), u.Size(st.LongestPiece(stove.Sideways)))},
		{Label: "chimney", Value: chimneySay(u, c)},
	}
	for _, control := range st.Controls {
		facts = append(facts, figure{Label: units.LowerFirst(control.Name), Value: scaleSay(control.Scale)})
	}
	for _, g := range st.Gauges {
		value := "no band"
		if g.Place.OfFire() {
			value = fmt.Sprintf("works from %s to %s, too hot from %s", u.Degrees(g.Band.Low), u.Degrees(g.Band.High), u.Temperature(g.Band.TooHot))
		}
		facts = append(facts, figure{Label: say.Places.Name(g.Place), Value: value})
	}
	return facts
}

func chimneySay(u units.System, c flue.Chimney) string {
	text := u.Length(c.Height) + ", " + u.Size(c.Diameter) + " wide"
	switch c.Bends {
	case 0:
		text += ", straight"
	case 1:
		text += ", one bend"
	default:
		text += fmt.Sprintf(", %d bends", c.Bends)
	}
	if c.Horizontal > 0 {
		text += ", " + u.Length(c.Horizontal) + " level"
	}
	return text
}

func scaleSay(s stove.Scale) string {
	switch s.Kind {
	case stove.Notches:
		return "notches: " + strings.Join(s.Notches, ", ")
	case stove.Lever:
		if s.OpenLeft {
			return "lever, opens to the left"
		}
		return "lever, opens to the right"
	case stove.PercentOpen:
		return "percent"
	case stove.Sixteenths:
		return units.Number(s.Full, 0) + " sixteenths of an inch when open"
	}
	return units.Number(s.Full, 1) + " " + string(s.Kind) + " when open"
}

func (s *Server) stoveOf(q *request) (store.Stove, error) {
	id, err := q.id("id")
	if err != nil {
		return store.Stove{}, err
	}
	return q.house.Stove(q.ctx(), id)
}
