package stoves

import (
	"net/http"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

type stovesPage struct {
	kit.Page
	Stoves []store.Stove
	Gone   []store.Stove
	Unread []string // kept in a form that this program cannot read
}

func (s Room) stoves(q *kit.Request) error {
	stoves, err := q.Stoves()
	if err != nil {
		return err
	}
	gone, err := q.Home.GoneStoves(q.Ctx())
	if err != nil {
		return err
	}
	unread, err := q.Home.Unread(q.Ctx())
	if err != nil {
		return err
	}
	q.Show(http.StatusOK, "stoves", &stovesPage{Page: kit.Page{Title: q.T("Stove and flue"), Nav: "stoves"}, Stoves: stoves, Gone: gone, Unread: unread})
	return nil
}

type oneStovePage struct {
	kit.Page
	Stove   store.Stove
	Form    *kit.Form
	Column  strip.Pair
	Figures []kit.Figure
	Facts   []kit.Figure
	Verdict string
	Tokens  []tokenLine
	Reports []string
	Scopes  []kit.Option
	Token   string // one that was made just now
}

// stove shows a stove with its column at a chosen outdoor temperature.
func (s Room) stove(q *kit.Request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	return s.showStove(q, http.StatusOK, st, f, "")
}

// showStove shows a stove with its draft, its facts and who may ask about it; token is
// one that was made just now.
func (s Room) showStove(q *kit.Request, status int, st store.Stove, f *kit.Form, token string) error {
	u := q.Locale()
	if !f.Has("outdoor") {
		f.Values.Set("outdoor", u.Temperature(4))
	}
	if !f.Has("gas") {
		f.Values.Set("gas", u.Temperature(250))
	}
	c := strip.Column{Stove: st.Stove, House: st.Space.House, Room: 19, Outdoor: 4, Gas: 250, Locale: u}
	good := f.Ok()
	outdoor, gas := kit.Parse(f, "outdoor", kit.In(kit.ParseOutdoor, u.System)), kit.Parse(f, "gas", kit.In(units.ParseTemperature, u.System))
	if gas > 700 {
		f.Wrong("gas", q.T("flue gas above ")+u.Temperature(700)+q.T(" is a chimney fire; ")+u.Temperature(250)+q.T(" would do"))
	}
	switch {
	case f.Ok():
		c.Outdoor, c.Gas = outdoor, gas
	case good:
		status = http.StatusUnprocessableEntity
	}
	tokens, err := tokensOf(q, st)
	if err != nil {
		return err
	}
	reports, err := reportsOf(q, st)
	if err != nil {
		return err
	}
	p := &oneStovePage{Tokens: tokens, Reports: reports, Scopes: kit.Said(scopes, q.Locale()), Token: token,
		Page: kit.Page{Title: st.Name, Nav: "stoves", Wide: true}, Stove: st, Form: f, Column: c.Drawn(),
		Figures: draftFigures(q, c), Facts: stoveFacts(q, st)}
	p.Verdict = say.Draft(c.Draft().Net, u)
	q.Show(status, "stove", p)
	return nil
}

func stoveFacts(q *kit.Request, st store.Stove) []kit.Figure {
	u, c := q.Locale(), st.Chimney
	largest := u.Mass(st.MaxLoad)
	if st.Takes("max-load") {
		largest = q.T("not known: ") + largest + q.T(" taken, the least of stoves this size")
	}
	facts := []kit.Figure{
		{Label: q.T("heats"), Value: st.Space.Name + ": " + say.Space(st.Space.House, st.Space.Wanted, u)},
		{Label: q.T("family"), Value: q.T(say.Families.Name(st.Family))},
		{Label: q.T("firebox"), Value: q.F("%s; %s wide, %s deep, %s high", u.Volume(st.Volume), u.Size(st.Width), u.Size(st.Depth), u.Size(st.Height))},
		{Label: q.T("manual's largest load"), Value: largest},
		{Label: q.T("longest piece"), Value: q.F("%s end-on, %s sideways", u.Size(st.LongestPiece(stove.EndOn)), u.Size(st.LongestPiece(stove.Sideways)))},
		{Label: q.T("chimney"), Value: say.Chimney(c, u)},
	}
	for _, control := range st.Controls {
		facts = append(facts, kit.Figure{Label: u.Mid(control.Name), Value: say.Scale(control.Scale, q.Locale())})
	}
	for _, g := range st.Gauges {
		value := q.T("no band")
		if g.Place.OfFire() {
			value = q.F("works from %s to %s, too hot from %s", u.Degrees(g.Band.Low), u.Degrees(g.Band.High), u.Temperature(g.Band.TooHot))
		}
		facts = append(facts, kit.Figure{Label: q.T(say.Places.Name(g.Place)), Value: value})
	}
	if manual := say.Manual(st.Stove, u); manual != "" {
		facts = append(facts, kit.Figure{Label: q.T("its manual, before the rule"), Value: manual})
	}
	if unknown := say.Unknown(st.Stove, q.Locale()); unknown != "" {
		facts = append(facts, kit.Figure{Label: q.T("not known, taken as usual"), Value: unknown})
	}
	return facts
}

func (s Room) stoveOf(q *kit.Request) (store.Stove, error) {
	id, err := q.ID("id")
	if err != nil {
		return store.Stove{}, err
	}
	return q.Home.Stove(q.Ctx(), id)
}
