package web

import (
	"errors"
	"fmt"
	"html/template"
	"maps"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/lay"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/strip"
)

type planPage struct {
	page
	Form     *form
	Stoves   []option
	Aims     []option
	Starts   []option
	Stacks   []option
	Kindling []option
	NoStove  bool
	NoWood   bool
	Refused  *plan.Refusal
	Plan     *plan.Plan
	Steps    []plan.Instruction
	Check    []string
	Warnings []string
	Strip    pair
	Sentence string
	DoNot    bool
	Figures  []figure
	Why      string
	Forecast string
	Lays     []drawnLay
	Sheet    string // address of the same plan on one sheet
	Alone    string // that no fire is needed, or not yet
	Drying   string // what it does for a damp room
	Output   string // what the stove can give against what is wanted
	Others   []otherPlan
	More     []option // a second stack, or none
	Laid     []option // lays to light from cold, or the best
	Begin    time.Time
	Later    string // by when the room is how warm, where it begins later
	AtOnce   string // address of the same for now
}

// drawnLay is one load as it is laid, with its steps in words.
type drawnLay struct {
	Title   string
	Drawing template.HTML
	Steps   []string
	Left    int
}

// otherPlan is an alternative with its strip and figures, and the way to it.
type otherPlan struct {
	Sentence, Differs, Link string
	Strip                   pair
	Figures                 []figure
}

// plan shows the wish as a sentence to fill in, and the plan once it is.
func (s *Server) plan(q *request) error {
	f, err := q.form()
	if err != nil {
		return err
	}
	p, err := s.newPlanPage(q, f)
	if err != nil {
		return err
	}
	status := http.StatusOK
	if f.has("stove") && !f.has("prefill") && !p.NoStove && !p.NoWood {
		wish, err := s.wish(q, f, longestPlan)
		if err != nil {
			return err
		}
		if status, err = s.fillPlan(q, p, f, wish); err != nil {
			return err
		}
	}
	p.defaults(q)
	q.render(status, "plan", p)
	return nil
}

// fillPlan makes the plan and puts it on the page; it returns the status. The
// error is the request's context's: nobody waits any more.
func (s *Server) fillPlan(q *request, p *planPage, f *form, w plan.Wish) (int, error) {
	if !f.ok() {
		return http.StatusUnprocessableEntity, nil
	}
	m, done := q.meter()
	defer done()
	choice, err := plan.Search(q.ctx(), w, m)
	if refused := new(plan.Refusal); errors.As(err, &refused) {
		p.Refused = refused.In(q.units())
		return http.StatusOK, nil
	}
	if err != nil {
		return 0, err
	}
	p.choose(q, f, choice)
	return http.StatusOK, nil
}

// choose shows the plan that the form names, the best by default, and the
// others beside it.
func (p *planPage) choose(q *request, f *form, c plan.Choice) {
	n := int(f.number("choice"))
	if n < 0 || n >= len(c.Plans) {
		n = 0
	}
	p.show(q, c.Plans[n])
	p.Why, p.Forecast = c.Why(n, q.units()), forecastSays(q.units(), c.Plans[n].Wish.Weather)
	if n > 0 {
		p.Why = "Against the best: " + strings.ToLower(p.Why[:1]) + p.Why[1:]
	}
	link := url.Values{}
	for name, values := range f.Values {
		link[name] = values
	}
	p.Sheet = "/plan/sheet?" + link.Encode()
	now := maps.Clone(link)
	now.Set("begin", nowWord)
	p.AtOnce = "/plan?" + now.Encode() + "#made"
	wish := c.Plans[n].Wish
	p.Output = wish.OutputRange().Match(wish.House.HeatWanted((wish.Low+wish.High)/2, wish.Outdoor), q.units())
	for i, other := range c.Plans {
		if i == n {
			continue
		}
		link.Set("choice", strconv.Itoa(i))
		chart := planChart(q, &other, p.Begin)
		chart.ID = fmt.Sprintf("other-%d", i)
		o := otherPlan{Sentence: other.Sentence(q.units()), Differs: c.Why(i, q.units()), Link: "/plan?" + link.Encode() + "#made", Strip: draw(chart, otherStrip), Figures: q.figuresOf(other)}
		if i == 0 {
			o.Differs = "The best by all that counts."
		}
		p.Others = append(p.Others, o)
	}
}

// show puts a plan on the page.
func (p *planPage) show(q *request, made plan.Plan) {
	u := q.units()
	p.Plan = &made
	p.Steps, p.Check, p.Warnings, p.Sentence = made.Say(u), append(made.Checklist(u), alarmsSay(q.profile, q.now())), made.Warnings(u), made.Sentence(u)
	p.Later = q.laterSays(p.Begin, made.Wish.Room)
	p.DoNot, p.Alone, p.Drying = made.Before.DoNot, made.Wish.SayAlone(u), made.SayDrying(u)
	p.Lays = laysOf(q, made)
	p.Strip = draw(planChart(q, &made, p.Begin), 700)
	p.Figures = q.figuresOf(made)
}

// figuresOf are what a plan comes to, with their working.
func (q *request) figuresOf(made plan.Plan) []figure {
	u := q.units()
	lowest, highest := made.RoomRange()
	sum := made.Summary
	air, _ := made.Wish.Stove.MainAir()
	return []figure{
		{"heat to the room", u.EnergyRange(sum.ToRoom*85/100, sum.ToRoom*115/100), "Simulated heat from the stove's body, its glass and its pipe, ±15 %.",
			[]input{{"wood", u.Mass(made.Mass()), entered}, {"moisture", units.Percent(made.MainOf.Stack.Moisture(), 0), measured}, {"outdoors", u.Temperature(made.Wish.Outdoor), entered}}},
		{"efficiency, net", units.Percent(sum.Efficiency-0.03, 0) + " to " + units.Percent(sum.Efficiency+0.03, 0), "1 − (flue gas at the collar + unburnt gas) ÷ energy in.", []input{{"balance of the simulated burn", "closed", computed}}},
		{"smoke", units.Number(sum.SmokePerKg, 1) + " g per kg", "60 g for each kg of gas that leaves unburnt. A clean burn makes 1 to 4, a cold start more.", []input{{"final setting", air.Scale.Say(made.Final), computed}}},
		{"deposits", "about " + units.Number(sum.Deposits, 0) + " g", "Smoke × its share where the liner's inner wall is below " + u.Temperature(120) + ".", []input{{"chimney", u.Length(made.Wish.Stove.Chimney.Height), entered}}},
		{"room", u.RoomTemperature(units.Celsius(lowest)) + " to " + u.RoomTemperature(units.Celsius(highest)), "Two nodes, air with furnishings and walls, driven by the stove's heat and the weather; in the second half of the time.",
			[]input{{"heat loss", units.Number(made.Wish.House.Loss(), 0) + " W/K", computed}, {"now", u.RoomTemperature(made.Wish.Room), entered}}},
		{"coals at the end", u.Mass(sum.Coals), "Char left when the time is over.", nil},
	}
}

// laysOf draws the first fire and the load on coals.
func laysOf(q *request, made plan.Plan) []drawnLay {
	var out []drawnLay
	add := func(title string, loads lay.Loads) {
		p := lay.Pack(made.Wish.Stove, loads)
		baffle := "baffle"
		if made.Wish.Stove.Family == stove.SecondaryAir {
			baffle = "baffle, air tubes"
		}
		d := strip.Lay{Packing: p, ID: fmt.Sprintf("lay-%d", len(out)), Name: made.Wish.Stove.Name, Baffle: baffle, Units: q.units()}
		out = append(out, drawnLay{title, d.SVG(), p.Steps, p.Left})
	}
	first, main := made.Loads()
	if first.Pieces > 0 {
		add("To light", lay.Loads{Splits: first, Kindling: made.Kindling})
	}
	if main.Pieces > 0 {
		add("On the coals", lay.Loads{Splits: main})
	}
	return out
}

// newPlanPage fills the choices from the household.
func (s *Server) newPlanPage(q *request, f *form) (*planPage, error) {
	p := &planPage{page: page{Title: "Plan", Nav: "plan", Wide: true}, Form: f, Begin: q.begin(f).Truncate(5 * time.Minute)}
	stoves, err := q.house.Stoves(q.ctx())
	if err != nil {
		return nil, err
	}
	stacks, err := q.house.Stacks(q.ctx())
	if err != nil {
		return nil, err
	}
	for _, st := range stoves {
		p.Stoves = append(p.Stoves, option{Value: strconv.FormatInt(st.ID, 10), Label: st.Name})
	}
	p.Kindling = []option{{Value: "", Label: "any kindling"}}
	for _, st := range stacks {
		o := option{Value: strconv.FormatInt(st.ID, 10), Label: fmt.Sprintf("%s, %s", st.Name, units.Percent(st.Moisture(), 0))}
		if st.Kindling {
			p.Kindling = append(p.Kindling, o)
		} else {
			p.Stacks = append(p.Stacks, o)
		}
	}
	for _, a := range plan.Aims {
		p.Aims = append(p.Aims, option{Value: string(a.Key), Label: a.Name})
	}
	for _, a := range plan.Starts {
		p.Starts = append(p.Starts, option{Value: string(a.Key), Label: a.Name})
	}
	p.Laid = []option{{Value: "", Label: "in the best way"}}
	for _, l := range fire.Lays {
		if l.Key != fire.OnCoals {
			name, _, _ := strings.Cut(l.Name, ":")
			p.Laid = append(p.Laid, option{Value: string(l.Key), Label: name})
		}
	}
	p.More = append([]option{{Value: "", Label: "nothing else"}, {Value: allWood, Label: "whatever suits"}}, p.Stacks...)
	p.NoStove, p.NoWood = len(p.Stoves) == 0, len(p.Stacks) == 0
	return p, nil
}

// defaults fills what nobody has typed yet.
func (p *planPage) defaults(q *request) {
	set := func(name, value string) {
		if _, there := p.Form.Values[name]; !there {
			p.Form.Values.Set(name, value)
		}
	}
	u := q.units()
	set("begin", nowWord)
	set("aim", string(plan.Hold))
	set("for", "5 h")
	set("low", u.RoomTemperature(q.profile.Wanted[0]))
	set("high", u.RoomTemperature(q.profile.Wanted[1]))
	set("room", u.RoomTemperature(17))
	set("outdoor", forecastWord)
	set("there", alwaysWord)
	if len(p.Kindling) > 1 {
		set("kindling", p.Kindling[1].Value)
	}
}

// search makes the plan that a posted sentence asks for and shows it on the page.
// It is nil where the sentence is wrong or nothing fits it; that is answered.
func (s *Server) search(q *request, f *form, p *planPage, w plan.Wish) (*plan.Plan, error) {
	if _, err := s.fillPlan(q, p, f, w); err != nil {
		return nil, err
	}
	if p.Plan == nil {
		q.render(http.StatusUnprocessableEntity, "plan", p)
	}
	return p.Plan, nil
}
