package web

import (
	"errors"
	"fmt"
	"html/template"
	"maps"
	"math"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/lay"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/weather"
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
		status = s.fillPlan(q, p, f, wish)
	}
	p.defaults(q)
	q.render(status, "plan", p)
	return nil
}

// fillPlan makes the plan and puts it on the page; it returns the status.
func (s *Server) fillPlan(q *request, p *planPage, f *form, w plan.Wish) int {
	if !f.ok() {
		return http.StatusUnprocessableEntity
	}
	m, done := q.meter()
	defer done()
	choice, err := plan.Search(w, m)
	if refused := new(plan.Refusal); errors.As(err, &refused) {
		p.Refused = refused
		return http.StatusOK
	}
	p.choose(q, f, choice)
	return http.StatusOK
}

// soon is how far ahead a plan is still one for now.
const soon = 30 * time.Minute

// choose shows the plan that the form names, the best by default, and the
// others beside it.
func (p *planPage) choose(q *request, f *form, c plan.Choice) plan.Plan {
	n := int(f.number("choice"))
	if n < 0 || n >= len(c.Plans) {
		n = 0
	}
	p.show(q, c.Plans[n])
	p.Why, p.Forecast = c.Why[n], forecastSays(q.units(), c.Plans[n].Wish.Weather)
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
		o := otherPlan{Sentence: other.Sentence(q.units()), Differs: c.Why[i], Link: "/plan?" + link.Encode() + "#made", Strip: draw(chart, otherStrip), Figures: q.figuresOf(other)}
		if i == 0 {
			o.Differs = "The best by all that counts."
		}
		p.Others = append(p.Others, o)
	}
	return c.Plans[n]
}

// show puts a plan on the page.
func (p *planPage) show(q *request, made plan.Plan) {
	u := q.units()
	p.Plan = &made
	p.Steps, p.Check, p.Warnings, p.Sentence = made.Say(u), append(made.Checklist(u), alarmsSay(q.profile, q.now())), made.Warnings(u), made.Sentence(u)
	if p.Begin.Sub(q.now()) >= soon {
		p.Later = fmt.Sprintf("It begins at %s; by then the room should be at about %s.", p.Begin.Format("15:04"), u.RoomTemperature(units.Celsius(math.Round(float64(made.Wish.Room)*10)/10)))
	}
	p.DoNot, p.Drying = made.Before.DoNot, made.SayDrying(u)
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
		{"deposits", "about " + units.Number(sum.Deposits, 0) + " g", "Smoke × its share where the liner's inner wall is below 120 °C.", []input{{"chimney", u.Length(made.Wish.Stove.Chimney.Height), entered}}},
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
	p.More = append([]option{{Value: "", Label: "nothing else"}}, p.Stacks...)
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

// longestPlan and longestDay are how far one burn and one day are planned.
const longestPlan, longestDay = 14 * time.Hour, 18 * time.Hour

// wish reads the sentence. Errors of single fields are in the form.
func (s *Server) wish(q *request, f *form, most time.Duration) (plan.Wish, error) {
	u := q.units()
	w := plan.Wish{Aim: plan.Aim(f.text("aim")), Start: plan.Start(f.text("start"))}
	begin := q.begin(f)
	w.For = parse(f, "for", func(typed string) (time.Duration, error) { return parseUntil(typed, begin) })
	w.Room = parse(f, "room", in(parseRoom, u))
	w.Low = parse(f, "low", in(parseRoom, u))
	w.High = parse(f, "high", in(parseRoom, u))
	if f.ok() && w.Low >= w.High {
		f.wrong("high", "the wanted room temperature must rise from a lower to a higher one; 19 to 21.5 °C would do")
	}
	if f.ok() && w.For > most {
		f.wrong("for", fmt.Sprintf("it is planned for up to %.0f hours; plan the rest when this is coals", most.Hours()))
	}
	knownChoice(f, "aim", w.Aim.Known())
	knownChoice(f, "start", w.Start.Known())
	if w.Lay = fire.Lay(f.text("lay")); w.Lay != "" {
		knownChoice(f, "lay", w.Lay.Known() && w.Lay != fire.OnCoals)
	}
	w.There = parse(f, "there", func(typed string) (plan.Presence, error) { return plan.ParsePresence(typed, begin) })
	st, err := q.house.Stove(q.ctx(), f.number("stove"))
	if err != nil {
		return w, err
	}
	w.Stove, w.House = st.Stove, st.Around(q.profile)
	q.outdoors(f, &w, begin)
	stack, err := q.house.Stack(q.ctx(), f.number("wood"))
	if err != nil {
		return w, err
	}
	w.Wood = plan.Pick{ID: stack.ID, Stack: stack.Stack}
	if f.has("wood2") && f.number("wood2") != stack.ID {
		more, err := q.house.Stack(q.ctx(), f.number("wood2"))
		if err != nil {
			return w, err
		}
		w.Others = []plan.Pick{{ID: more.ID, Stack: more.Stack}}
	}
	if f.has("kindling") {
		kindling, err := q.house.Stack(q.ctx(), f.number("kindling"))
		if err != nil {
			return w, err
		}
		w.Kindling = &plan.Pick{ID: kindling.ID, Stack: kindling.Stack}
	}
	return w, nil
}

// alwaysWord stands in the field for when somebody is there.
const alwaysWord = "all the time"

// forecastWord stands in the field for outdoors when the forecast is taken.
const forecastWord = "forecast"

// nowWord stands in the field for when a burn that begins at once begins.
const nowWord = "now"

// begin reads when the burn begins; now where that is not said, or not
// understood.
func (q *request) begin(f *form) time.Time {
	t, err := plan.ParseBegin(f.text("begin"), q.now())
	if err != nil {
		f.wrong("begin", err.Error())
		return q.now()
	}
	return t
}

// outdoors takes the forecast for the hours of the wish, or the temperature
// that was typed. Until a burn that begins later the room coasts.
func (q *request) outdoors(f *form, w *plan.Wish, begin time.Time) {
	now := q.now()
	at := func(time.Duration) units.Celsius { return w.Outdoor }
	if typed := strings.ToLower(f.text("outdoor")); typed != forecastWord && typed != "" {
		w.Outdoor = parse(f, "outdoor", in(parseOutdoor, q.units()))
	} else {
		hours, err := q.s.Weather.Hourly(q.ctx(), now, int((begin.Sub(now)+min(w.For, 48*time.Hour)).Hours())+4)
		if err != nil || len(hours) == 0 {
			q.s.Log.Warn("forecast", "error", err)
			f.wrong("outdoor", "the forecast does not answer just now; the temperature outside, such as "+q.units().Temperature(4)+", would do")
			return
		}
		at = weather.Temperature(hours, now)
		hours = weather.From(hours, begin)
		for _, h := range hours {
			w.Weather = append(w.Weather, fire.Weather{At: max(0, h.At.Sub(begin)), Outdoor: units.Celsius(h.Temperature), Wind: h.Wind})
			w.Humidity += units.Fraction(h.Humidity / 100 / float64(len(hours)))
		}
		w.Outdoor = w.Weather[0].Outdoor
	}
	if wait := begin.Sub(now); wait >= 10*time.Minute && f.ok() {
		w.Room = w.House.Alone(w.Room, at, wait)
	}
}

// forecastSays is the range of a forecast in words.
func forecastSays(u units.System, hours []fire.Weather) string {
	if len(hours) == 0 {
		return ""
	}
	low, high, wind := hours[0].Outdoor, hours[0].Outdoor, 0.0
	for _, h := range hours {
		low, high, wind = min(low, h.Outdoor), max(high, h.Outdoor), max(wind, h.Wind)
	}
	return fmt.Sprintf("Forecast: %s to %s outside, wind up to %.0f m/s.", u.Degrees(low), u.Temperature(high), wind)
}

// parseUntil reads "6 h" or, by the clock of begin, "06:00".
func parseUntil(typed string, begin time.Time) (time.Duration, error) {
	clock, err := time.Parse("15:04", strings.TrimPrefix(strings.ToLower(typed), "until "))
	if err != nil {
		return units.ParseDuration(typed)
	}
	until := time.Date(begin.Year(), begin.Month(), begin.Day(), clock.Hour(), clock.Minute(), 0, 0, begin.Location())
	if !until.After(begin) {
		until = time.Date(begin.Year(), begin.Month(), begin.Day()+1, clock.Hour(), clock.Minute(), 0, 0, begin.Location())
	}
	span := until.Sub(begin).Round(time.Minute)
	if span < 30*time.Minute {
		return 0, &units.ParseError{Input: typed, What: "length of time", Reason: "it is less than half an hour away", Try: "6 h or a later time"}
	}
	return span, nil
}

// knownChoice refuses a choice that is not in the list.
func knownChoice(f *form, name string, known bool) {
	if !known {
		f.wrong(name, "choose one of the list")
	}
}

func parseOutdoor(typed string, s units.System) (units.Celsius, error) {
	return bounded(typed, s, "outdoor temperature", -50, 45)
}

func parseRoom(typed string, s units.System) (units.Celsius, error) {
	return bounded(typed, s, "room temperature", -20, 40)
}

func bounded(typed string, s units.System, what string, low, high units.Celsius) (units.Celsius, error) {
	v, err := units.ParseTemperature(typed, s)
	if err == nil && (v < low || v > high) {
		return 0, &units.ParseError{Input: typed, What: what, Reason: fmt.Sprintf("it lies between %s and %s", s.Temperature(low), s.Temperature(high)), Try: s.Temperature((low + high*2) / 3)}
	}
	return v, err
}

// startPlan starts a burn from the same sentence; the plan is made again, and
// comes out the same.
func (s *Server) startPlan(q *request) error {
	f, err := q.form()
	if err != nil {
		return err
	}
	w, err := s.wish(q, f, longestPlan)
	if err != nil {
		return err
	}
	p, err := s.newPlanPage(q, f)
	if err != nil {
		return err
	}
	if f.ok() && p.Begin.Sub(q.now()) >= soon {
		f.wrong("begin", "this plan begins later: keep it until then, or plan it for now")
	}
	if !f.ok() {
		q.render(http.StatusUnprocessableEntity, "plan", p)
		return nil
	}
	m, done := q.meter()
	defer done()
	choice, err := plan.Search(w, m)
	if refused := new(plan.Refusal); errors.As(err, &refused) {
		p.Refused = refused
		q.render(http.StatusUnprocessableEntity, "plan", p)
		return nil
	}
	made := p.choose(q, f, choice)
	if made.Before.DoNot && f.text("remedied") == "" {
		f.wrong("remedied", "say first that the draft is put right: fans off, a window cracked, and the flame leaning inwards")
		q.render(http.StatusUnprocessableEntity, "plan", p)
		return nil
	}
	coals, warmth := w.Start.Coals(w.Stove.Volume)
	b := burn.Burn{Stove: w.Stove, House: w.House, Outdoor: w.Outdoor, Room: w.Room, Coals: coals, Warmth: warmth,
		Wanted: [2]float64{float64(w.Low), float64(w.High)}, Started: s.Now()}
	if kept := f.number("kept"); kept > 0 {
		if err := q.house.RemovePlan(q.ctx(), kept, true); err != nil && !errors.Is(err, store.ErrMissing) {
			return err
		}
	}
	return s.start(q, f.number("stove"), b, &made)
}

// start keeps a burn and goes to the stove.
func (s *Server) start(q *request, stoveID int64, b burn.Burn, p *plan.Plan) error {
	b.Started = b.Started.UTC().Truncate(time.Second)
	id, err := q.house.StartBurn(q.ctx(), stoveID, "", b, p)
	if err != nil {
		return err
	}
	return q.seeOther(fmt.Sprintf("/burns/%d/live", id))
}

// newEntryID names an entry that was typed without a script.
func newEntryID() string { return uuid.NewString() }

type stovePage struct {
	page
	Form   *form
	Open   []store.Burn
	Stoves []option
	Starts []option
}

// atTheStove goes to the burn that is on; with none or several it asks.
func (s *Server) atTheStove(q *request) error {
	open, err := q.house.OpenBurns(q.ctx())
	if err != nil {
		return err
	}
	if len(open) == 1 {
		return q.seeOther(fmt.Sprintf("/burns/%d/live", open[0].ID))
	}
	return s.showStove(q, http.StatusOK, filled("room", q.units().RoomTemperature(17), "outdoor", q.units().Temperature(4)), open)
}

func (s *Server) showStove(q *request, status int, f *form, open []store.Burn) error {
	p, err := s.newPlanPage(q, f)
	if err != nil {
		return err
	}
	q.render(status, "stove-start", &stovePage{page: page{Title: "At the stove", Nav: "stove"}, Form: f, Open: open, Stoves: p.Stoves, Starts: p.Starts})
	return nil
}

// startUnplanned starts a burn without a plan, only to log it.
func (s *Server) startUnplanned(q *request) error {
	f, err := q.form()
	if err != nil {
		return err
	}
	outdoor := parse(f, "outdoor", in(parseOutdoor, q.units()))
	room := parse(f, "room", in(parseRoom, q.units()))
	start := plan.Start(f.text("start"))
	knownChoice(f, "start", start.Known())
	if !f.ok() {
		open, err := q.house.OpenBurns(q.ctx())
		if err != nil {
			return err
		}
		return s.showStove(q, http.StatusUnprocessableEntity, f, open)
	}
	st, err := q.house.Stove(q.ctx(), f.number("stove"))
	if err != nil {
		return err
	}
	coals, warmth := start.Coals(st.Volume)
	return s.start(q, st.ID, burn.Burn{Stove: st.Stove, House: st.Around(q.profile), Outdoor: outdoor, Room: room, Coals: coals, Warmth: warmth,
		Wanted: [2]float64{float64(q.profile.Wanted[0]), float64(q.profile.Wanted[1])}, Started: s.Now()}, nil)
}

// handGauge reads which gauge's band the strip shows.
func handGauge(q *request) stove.Place { return stove.Place(q.Query("gauge")) }
