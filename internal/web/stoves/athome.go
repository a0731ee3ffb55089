package stoves

import (
	"html/template"
	"net/http"
	"slices"
	"time"

	"smolder/internal/core/lay"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// atHomePage is one stove on one page, for whoever stays at home and has never run it.
type atHomePage struct {
	kit.Page
	Stove   store.Stove
	Lay     template.HTML
	Light   []say.Instruction // to its first turn-down
	Reload  *say.Instruction
	More    string // how much a next load is
	Bed     []say.Instruction
	From    string // the evening that all of it is from
	Marks   []kit.Figure
	Band    string
	Grave   []string // what is known to be wrong
	Others  []string
	Calls   []store.Contact
	Code    template.HTML // of this page, for the camera of a phone
	Nothing bool          // nobody has planned a fire in it

	Own      bool         // it is the household's own
	Lines    []kit.Figure // what else is said of one that is shared
	Answer   string       // where a word to whoever shared it is sent
	Answered string       // what was said
}

// mostLookedFor are the burns that are gone through for one of a stove that was planned from cold.
const mostLookedFor = 120

// atHome shows it, by the last evening of this household's own that was planned from cold.
func (s Room) atHome(q *kit.Request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	made, from, err := LastFromCold(q, st)
	if err != nil {
		return err
	}
	p := sheetOf(q, st.Stove, made)
	p.Stove, p.Own, p.From = st, true, from
	if p.Grave, p.Others, err = q.Troubles(st.ID); err != nil {
		return err
	}
	if p.Calls, err = q.Home.Contacts(q.Ctx()); err != nil {
		return err
	}
	if p.Code, err = kit.Code(q.Address()+q.Request.URL.Path, q.T("This page, for the camera of a phone")); err != nil {
		return err
	}
	q.Show(http.StatusOK, "at-home", p)
	return nil
}

// sheetOf is what the sheet says of a stove and a plan of it; nil: nobody has planned a fire in it.
func sheetOf(q *kit.Request, st stove.Stove, made *plan.Plan) *atHomePage {
	p := &atHomePage{Page: kit.Page{Title: q.F("%s, for whoever is at home", st.Name), Nav: "stoves", Wide: true},
		Stove: store.Stove{Stove: st}, More: say.Reload(st, q.Locale())}
	if p.Nothing = made == nil; made != nil {
		p.steps(q, *made)
	}
	for _, c := range st.Controls {
		p.Marks = append(p.Marks, kit.Figure{Label: c.Name, Value: say.Scale(c.Scale, q.Locale())})
	}
	if g, ok := st.Guide(); ok {
		p.Band = q.F("%s: works from %s to %s, too hot from %s", q.T(say.Places.Short(g.Place)), q.Locale().Degrees(g.Band.Low), q.Locale().Temperature(g.Band.High),
			q.Locale().Temperature(g.Band.TooHot))
	}
	return p
}

// A Sheet is one stove as somebody shares it.
type Sheet struct {
	Stove stove.Stove
	Plan  *plan.Plan
	Calls []store.Contact
	Lines []kit.Figure // what else is said of it
	Back  string       // address of an answer; empty: none is taken
	Said  string       // an answer that was given already
}

// ShowSheet shows a stove that somebody shares.
func ShowSheet(q *kit.Request, s Sheet) {
	p := sheetOf(q, s.Stove, s.Plan)
	p.Nav, p.Calls, p.Lines, p.Answer, p.Answered = "", s.Calls, s.Lines, s.Back, s.Said
	q.Show(http.StatusOK, "at-home", p)
}

// LastFromCold is the plan of a stove's last evening that was planned from cold, and of which day it is; nil: there is none.
func LastFromCold(q *kit.Request, st store.Stove) (*plan.Plan, string, error) {
	lines, err := q.Home.Burns(q.Ctx(), q.Now().Add(time.Minute), mostLookedFor)
	if err != nil {
		return nil, "", err
	}
	for _, l := range lines {
		if l.StoveID != st.ID || !l.Planned {
			continue
		}
		b, err := q.Burn(l.ID)
		if err != nil || b.Plan == nil || b.Plan.Wish.Start != wish.Cold {
			continue // one that cannot be read hides no other
		}
		return b.Plan, q.Locale().Date(l.Started.In(q.Profile.Location()), "2 January 2006"), nil
	}
	return nil, "", nil
}

// steps sorts a plan's steps by what somebody alone asks for: to light it, to load it, to leave it.
func (p *atHomePage) steps(q *kit.Request, made plan.Plan) {
	first, main := made.Loads()
	loads := lay.Loads{Splits: first, Kindling: made.Kindling}
	if first.Pieces == 0 {
		loads = lay.Loads{Splits: main, Kindling: made.Kindling}
	}
	p.Lay = strip.Lay{Packing: lay.Pack(made.Wish.Stove, loads), ID: "lay-at-home", Name: made.Wish.Stove.Name, Baffle: q.T("baffle"), Front: true, Locale: q.Locale()}.SVG()
	for _, in := range say.Steps(made, q.Locale()) {
		switch in.Kind {
		case plan.LoadIt, plan.FeedIt, plan.ReloadTime:
			if p.Reload == nil {
				p.Reload = &in
			}
		case plan.TurnDown, plan.CloseIt, plan.KeepIt, plan.BedTime:
			// A later load is turned down as the first was.
			if !slices.ContainsFunc(p.Bed, func(said say.Instruction) bool { return said.Do == in.Do }) {
				p.Bed = append(p.Bed, in)
			}
		default:
			p.Light = append(p.Light, in)
		}
	}
}
