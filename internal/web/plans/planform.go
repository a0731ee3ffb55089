package plans

import (
	"fmt"
	"strconv"
	"strings"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/units"
	"smolder/internal/core/ways"
	"smolder/internal/core/wish"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// newPlanPage fills the choices from the household, and what nobody has typed
// yet.
func (s Room) newPlanPage(q *kit.Request, f *kit.Form) (*planPage, error) {
	p := &planPage{Page: kit.Page{Title: q.T("Plan"), Nav: "plan", Wide: true}, Form: f, Sky: s.Sky(q) != nil, Search: kit.NewEntryID(),
		Mild: q.Locale().Temperature(burn.AssumedOutdoor)}
	stoves, err := q.Stoves()
	if err != nil {
		return nil, err
	}
	stacks, err := q.Stacks()
	if err != nil {
		return nil, err
	}
	for _, st := range stoves {
		p.Stoves = append(p.Stoves, kit.Option{Value: strconv.FormatInt(st.ID, 10), Label: st.Name})
	}
	p.Kindling = []kit.Option{{Value: "", Label: q.T("any kindling")}}
	for _, st := range stacks {
		o := kit.Option{Value: strconv.FormatInt(st.ID, 10), Label: fmt.Sprintf("%s, %s", st.Name, q.Locale().Percent(st.Moisture(), 0))}
		switch {
		case st.Species.Mineral: // nothing to plan with
		case st.Kindling:
			p.Kindling = append(p.Kindling, o)
		default:
			p.Stacks = append(p.Stacks, o)
		}
	}
	for _, a := range say.Aims {
		p.Aims = append(p.Aims, kit.Option{Value: string(a.Key), Label: q.T(a.Name)})
	}
	if asked, there := f.Values["start"]; there && asked[0] == "" {
		p.Starts = append(p.Starts, kit.Option{Value: "", Label: q.T("look at the coals and choose")})
	}
	for _, a := range say.Starts {
		p.Starts = append(p.Starts, kit.Option{Value: string(a.Key), Label: q.T(a.Name)})
	}
	p.Laid = []kit.Option{{Value: "", Label: q.T("in the best way")}}
	for _, l := range say.Lays {
		if l.Key != fire.OnCoals {
			p.Laid = append(p.Laid, kit.Option{Value: string(l.Key), Label: q.T(l.Name)})
		}
	}
	for _, k := range say.Starters {
		p.Starters = append(p.Starters, kit.Option{Value: string(k.Key), Label: q.T(k.Name)})
	}
	p.Ways, p.Gauges = waysRound(q.Locale()), gaugesOf(q, stoves)
	p.Any = append([]kit.Option{{Value: "", Label: q.T("whichever is best")}}, p.Stacks...)
	p.More = append([]kit.Option{{Value: "", Label: q.T("nothing else")}, {Value: allWood, Label: q.T("whatever suits")}}, p.Stacks...)
	for _, name := range ownFields {
		p.Own = p.Own || f.Has(name)
	}
	p.NoStove, p.NoWood = len(p.Stoves) == 0, len(p.Stacks) == 0
	if err := p.bySeason(q, stoves); err != nil {
		return nil, err
	}
	return p, p.defaults(q, stoves)
}

// defaults fills what nobody has typed yet; what nobody can know but who is
// there, the room and the weather without a forecast, stays open.
func (p *planPage) defaults(q *kit.Request, stoves []store.Stove) error {
	set := func(name, value string) {
		if _, there := p.Form.Values[name]; !there {
			p.Form.Values.Set(name, value)
		}
	}
	u := q.Locale()
	if err := p.inTheStove(q, stoves, set); err != nil {
		return err
	}
	set("begin", q.T(nowWord))
	set("aim", string(wish.Hold))
	set("for", "5 h")
	set("starter", string(fire.WaxBlock))
	if err := p.usuallyThere(q, set); err != nil {
		return err
	}
	set("there", q.T(alwaysWord))
	if p.Sky {
		set("outdoor", q.T(kit.ForecastWord))
	}
	for i, st := range stoves {
		if i == 0 && !p.Form.Has("stove") || p.Form.Number("stove") == st.ID {
			set("low", u.RoomTemperature(st.Space.Wanted[0]))
			set("high", u.RoomTemperature(st.Space.Wanted[1]))
			p.Form.Values.Set("wanted-of", strconv.FormatInt(st.ID, 10))
			if !p.Form.Has("room") && len(p.Form.Errors) == 0 { // a thermometer, or a hand, has just read it
				room, known, err := q.Home.RoomNow(q.Ctx(), st.ID, q.Now())
				if err != nil {
					return err
				}
				if known {
					p.Form.Values.Set("room", u.RoomTemperature(units.Celsius(room)))
				} else {
					p.Form.Values.Set("room", q.T(say.Felts.Name(wish.FeelsChilly))) // most people light a fire because it is
				}
			}
		}
	}
	if len(p.Kindling) > 1 {
		set("kindling", p.Kindling[1].Value)
	}
	return nil
}

// trialSays is what a stove's trial asks of the next burn; empty: nothing.
func trialSays(q *kit.Request, stove int64) (string, error) {
	t, way, ok, err := q.Asked(stove)
	if err != nil || !ok {
		return "", err
	}
	return q.T("By lot, for the trial: ") + say.WayToDo(t.Subject, way, q.Locale()) + ".", nil
}

// byLot puts what a trial asks of the next burn into the sentence, where it has a word for
// it and nobody has said otherwise.
func (p *planPage) byLot(q *kit.Request) error {
	if p.NoStove || p.NoWood {
		return nil
	}
	stove := p.Form.Number("stove")
	if stove == 0 && len(p.Stoves) > 0 {
		stove, _ = strconv.ParseInt(p.Stoves[0].Value, 10, 64)
	}
	t, way, ok, err := q.Asked(stove)
	if err != nil || !ok {
		return err
	}
	p.Trial = q.T("By lot, for the trial: ") + say.WayToDo(t.Subject, way, q.Locale()) + "."
	switch {
	case t.Subject == ways.Lay && !p.Form.Has("lay"):
		p.Form.Values.Set("lay", way)
	case t.Subject == ways.Wood && !strings.Contains(q.Request.URL.RawQuery, "wood="):
		stacks, err := q.Stacks()
		if err != nil {
			return err
		}
		for _, s := range stacks {
			if s.Species.Key == way && !s.Kindling {
				p.Form.Values.Set("wood", strconv.FormatInt(s.ID, 10))
				break
			}
		}
	}
	return nil
}
