package web

import (
	"fmt"
	"html/template"
	"net/http"

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
		{Label: "heats", Value: st.Space.Name + ": " + say.Space(st.Space.House, st.Space.Wanted, u)},
		{Label: "family", Value: say.Families.Name(st.Family)},
		{Label: "firebox", Value: fmt.Sprintf("%s; %s wide, %s deep, %s high", u.Volume(st.Volume), u.Size(st.Width), u.Size(st.Depth), u.Size(st.Height))},
		{Label: "manual's largest load", Value: u.Mass(st.MaxLoad)},
		{Label: "longest piece", Value: fmt.Sprintf("%s end-on, %s sideways", u.Size(st.LongestPiece(stove.EndOn)), u.Size(st.LongestPiece(stove.Sideways)))},
		{Label: "chimney", Value: say.Chimney(c, u)},
	}
	for _, control := range st.Controls {
		facts = append(facts, figure{Label: units.LowerFirst(control.Name), Value: say.Scale(control.Scale)})
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

func (s *Server) stoveOf(q *request) (store.Stove, error) {
	id, err := q.id("id")
	if err != nil {
		return store.Stove{}, err
	}
	return q.house.Stove(q.ctx(), id)
}
