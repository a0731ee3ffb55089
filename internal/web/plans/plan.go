package plans

import (
	"fmt"
	"html/template"
	"net/http"
	"strconv"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/lay"
	"smolder/internal/core/plan"
	"smolder/internal/core/practice"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

type planPage struct {
	kit.Page
	Unsafe   string // it is, in more than one of ten stoves like this one
	Form     *kit.Form
	Stoves   []kit.Option
	Aims     []kit.Option
	Starts   []kit.Option
	Stacks   []kit.Option
	Kindling []kit.Option
	Starters []kit.Option
	More     []kit.Option // a second stack, or none
	Laid     []kit.Option // lays to light from cold, or the best
	Sky      bool         // there is a forecast
	Search   string       // what the page calls its search
	NoStove  bool
	NoWood   bool
	Refused  *say.Refused
	Draft    []draftLine // before lighting, with each help

	ID       int64 // of the plan that is shown
	Plan     *plan.Plan
	Steps    []say.Instruction
	Check    []string
	Warnings []string
	Strip    strip.Pair
	Sentence string
	Trust    string   // how it does in stoves like this one
	Aim      *kit.Aim // what the last burn says to do otherwise
	Trial    string   // what a trial asks of this burn
	Season   string   // what the season keeps this wood for
	Known    string   // that the plan goes by what burns have taught
	Figures  []kit.Figure
	Why      string
	Forecast string
	Lays     []drawnLay
	Alone    string // that no fire is needed, or not yet
	Drying   string // what it does for a damp room
	Output   string // what the stove can give against what is wanted
	Others   []otherPlan
	Begin    time.Time
	Later    string // by when the room is how warm, where it begins later
	Kept     bool
	Started  int64  // the burn that it was started as
	Gone     string // what it stands on and is not there any more
	Stale    string // that it was made for a time that has gone by
	Startable,
	Keepable bool
	Again string // address of the sentence, filled in
	Asked string // what was wished, in a line
	Mild  string // the outdoor temperature that is assumed where nobody says it
}

// drawnLay is one load as it is laid, with its steps in words.
type drawnLay struct {
	Title   string
	Drawing template.HTML
	Steps   []string
	Left    int
}

// draftLine is the draft before lighting with one help.
type draftLine struct {
	Says, Value string
	Enough      bool
	Chosen      bool
}

// otherPlan is an alternative with its strip and figures, and the way to it.
type otherPlan struct {
	Unsafe                  string
	Sentence, Differs, Link string
	Strip                   strip.Pair
	Figures                 []kit.Figure
}

// Three are the figures that an alternative is chosen by.
func (o otherPlan) Three() []kit.Figure {
	var out []kit.Figure
	for _, f := range o.Figures {
		switch f.Label {
		case "heat to the room", "smoke", "room":
			out = append(out, f)
		}
	}
	return out
}

// plan shows the wish as a sentence to fill in.
func (s Room) plan(q *kit.Request) error {
	p, err := s.newPlanPage(q, askedForm(q.Request.URL.RawQuery))
	if err != nil {
		return err
	}
	if err := p.byLot(q); err != nil {
		return err
	}
	q.Show(http.StatusOK, "plan", p)
	return nil
}

// makePlan works a wish out and goes to the plan.
func (s Room) makePlan(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	w, err := s.wish(q, f, longestPlan)
	if err != nil {
		return err
	}
	status := http.StatusUnprocessableEntity
	var refused *wish.Refusal
	if f.Ok() {
		var id int64
		if id, refused, err = s.searchFor(q, f, w, begin(q, f)); err != nil {
			return err
		}
		if refused == nil {
			return q.SeeOther(kit.PlanPath(id) + "#made")
		}
		status = http.StatusOK
	}
	p, err := s.newPlanPage(q, f)
	if err != nil {
		return err
	}
	p.Refused = refusedIn(q, refused)
	if refused != nil && w.Start == wish.Cold {
		p.Draft = draftLines(q.Units(), w)
	}
	q.Show(status, "plan", p)
	return nil
}

// planned shows a plan, or a day, by its address.
func (s Room) planned(q *kit.Request) error {
	row, err := s.plannedOf(q)
	if err != nil {
		return err
	}
	switch {
	case row.Day != nil:
		return s.showDay(q, row)
	case row.Burn == nil: // kept before plans had rows: the sentence is all there is
		return q.SeeOther("/plan?" + row.Asked)
	}
	p, err := s.planPageOf(q, row)
	if err != nil {
		return err
	}
	q.Show(http.StatusOK, "plan", p)
	return nil
}

func (s Room) plannedOf(q *kit.Request) (store.Planned, error) {
	id, err := q.ID("id")
	if err != nil {
		return store.Planned{}, err
	}
	return q.Home.Planned(q.Ctx(), id)
}

// planPageOf puts a kept row on the page, with the others of its choice.
func (s Room) planPageOf(q *kit.Request, row store.Planned) (*planPage, error) {
	p, err := s.newPlanPage(q, askedForm(row.Asked))
	if err != nil {
		return nil, err
	}
	choice, err := q.Home.Choice(q.Ctx(), row.Choice)
	if err != nil {
		return nil, err
	}
	p.ID, p.Kept, p.Started, p.Begin = row.ID, row.Kept && !row.Dropped, row.BurnID, row.Begins.In(q.Profile.Location())
	p.show(q, *row.Burn, row.Made)
	if p.Aim, err = q.AimOf(row.StoveID, s.Now()); err != nil {
		return nil, err
	}
	if p.Trial, err = trialSays(q, row.StoveID); err != nil {
		return nil, err
	}
	u := q.Units()
	best := *row.Burn
	for _, other := range choice {
		if other.Place == 0 && other.Burn != nil {
			best = *other.Burn
		}
	}
	p.Why = say.Best(*row.Burn, u)
	if row.Place > 0 {
		p.Why = "Against the best: " + units.LowerFirst(say.Differs(*row.Burn, best, u))
	}
	p.Again = "/plan?" + row.Asked
	for _, other := range choice {
		if other.ID == row.ID || other.Burn == nil {
			continue
		}
		chart := strip.OfPlan(*other.Burn, q.View(p.Begin))
		chart.ID = fmt.Sprintf("other-%d", other.Place)
		o := otherPlan{Unsafe: say.Unsafe(*other.Burn), Sentence: say.Plan(*other.Burn, u), Differs: say.Differs(*other.Burn, best, u), Link: kit.PlanPath(other.ID) + "#made",
			Strip: strip.Draw(chart, strip.Beside), Figures: figuresOf(q, *other.Burn)}
		if other.Place == 0 {
			o.Differs = "The best by all that counts."
		}
		p.Others = append(p.Others, o)
	}
	switch {
	case p.Started != 0:
	case kit.IsStale(row.Begins, s.Now()):
		p.Stale = fmt.Sprintf("It was made for %s. Room, weather and coals are others by now: work it out again.", q.DayWord(row.Begins))
	case kit.IsAhead(row.Begins, s.Now()):
		p.Keepable = !p.Kept
	default:
		p.Startable = true
	}
	dangers, err := q.Endangers(row.StoveID)
	if err != nil {
		return nil, err
	}
	p.Check = append(p.Check, dangers...)
	if st, err := q.Home.Stove(q.Ctx(), row.StoveID); err == nil {
		if p.Season, err = seasonSays(q, row, st); err != nil {
			return nil, err
		}
	}
	return p, s.whatIsGone(q, p, row)
}

// whatIsGone says which stacks of a plan, or its stove, are off the list.
func (s Room) whatIsGone(q *kit.Request, p *planPage, row store.Planned) error {
	stacks, err := q.Stacks()
	if err != nil {
		return err
	}
	there := map[int64]bool{0: true}
	for _, st := range stacks {
		there[st.ID] = true
	}
	var gone []string
	for _, l := range append(row.Burn.AllLoads(), row.Burn.Kindling) {
		if l.Pieces > 0 && !there[l.StackID] {
			gone = append(gone, l.StackName)
		}
	}
	if len(gone) > 0 {
		p.Gone = strings.Join(gone, " and ") + ": off the list of stacks since this was planned. What is burnt from it is logged, and taken off nothing."
	}
	known := false
	for _, st := range p.Stoves {
		known = known || st.Value == strconv.FormatInt(row.StoveID, 10)
	}
	if !known {
		p.Gone, p.Startable, p.Keepable = row.Stove+" is off the list of stoves.", false, false
	}
	return nil
}

// show puts a plan on the page.
func (p *planPage) show(q *kit.Request, made plan.Plan, when time.Time) {
	u := q.Units()
	p.Plan, p.Asked = &made, say.Wish(made.Wish, u)
	p.Steps, p.Check = say.Steps(made, u), append(say.Checklist(made, u), say.Alarms(q.Profile.Alarms, q.Now()))
	p.Unsafe = say.Unsafe(made)
	p.Warnings, p.Sentence, p.Trust = say.Cautions(made, u), say.Plan(made, u), say.Trust(made)
	if p.Unsafe != "" { // it stands at the head
		p.Warnings = p.Warnings[1:]
	}
	if text := say.Beside(made.Wish); text != "" {
		p.Warnings = append(p.Warnings, text)
	}
	if made.Wish.House.Assumed {
		p.Warnings = append(p.Warnings, "Nobody has described this space yet: an ordinary one of "+u.Area(made.Wish.House.Floor)+" is assumed. Its floor and shell under Household make room temperatures truer.")
	}
	if text := say.Return(made, u); text != "" {
		p.Warnings = append(p.Warnings, text)
	}
	p.Later = laterSays(q, p.Begin, when, made.Wish.Room)
	p.Alone, p.Drying = say.Lull(made.Wish, u), say.Drying(made, u)
	p.Forecast = say.Forecast(made.Wish.Weather, u)
	p.Output = say.Match(made.Output, made.Wish.House.HeatWanted((made.Wish.Low+made.Wish.High)/2, made.Wish.Outdoor), u)
	p.Lays = laysOf(q, made)
	if made.Wish.Known != nil {
		p.Known = say.GoesBy(*made.Wish.Known)
	}
	p.Strip = strip.Draw(strip.OfPlan(made, q.View(p.Begin)), strip.Beside)
	p.Figures = figuresOf(q, made)
	if made.Wish.Start == wish.Cold {
		p.Draft = draftLines(u, made.Wish)
	}
}

// draftLines are the draft as it is and with each help, those that are chosen
// marked.
func draftLines(u units.System, w wish.Wish) []draftLine {
	b := wish.BeforeLighting(w)
	lines := []draftLine{
		{"as things are", u.Draft(b.AsIs), b.AsIs >= 0, w.Help == wish.Help{}},
		{"fans off", u.Draft(b.FanOff), b.FanOff >= 0, w.Help.FansOff},
		{"a window open a crack", u.Draft(b.Window), b.Window >= 0, w.Help.Window},
		{"the flue warmed", u.Draft(b.Primed), b.Primed > 0, w.Help.Primed},
	}
	if n := len(lines); w.Help.FansOff && w.Help.Window || w.Help.FansOff && w.Help.Primed || w.Help.Window && w.Help.Primed {
		lines = append(lines[:n:n], draftLine{"all that is chosen", u.Draft(b.Net), !b.DoNot, true})
	}
	return lines
}

// readFrom tells where a stack's moisture comes from.
func readFrom(s wood.Stack) string {
	if s.Takes("reading") {
		return kit.Assumed
	}
	return kit.Measured
}

// figuresOf are what a plan comes to, with their working.
func figuresOf(q *kit.Request, made plan.Plan) []kit.Figure {
	u := q.Units()
	lowest, highest := made.RoomRange()
	sum := made.Summary
	air, _ := made.Wish.Stove.MainAir()
	outdoors := kit.Entered
	if len(made.Wish.Weather) > 1 {
		outdoors = "the forecast"
	}
	return []kit.Figure{
		kit.NewFigure("heat to the room", u.EnergyRange(sum.ToRoom*85/100, sum.ToRoom*115/100),
			"Simulated heat from the stove's body, its glass and its pipe, ±15 %.", kit.From("wood", u.Mass(made.Mass()), kit.Entered),
			kit.From("moisture", say.Moisture(made.MainOf.Stack), readFrom(made.MainOf.Stack)), kit.From("outdoors", u.Temperature(made.Wish.Outdoor), outdoors)),
		kit.NewFigure("efficiency, net", units.Percent(sum.Efficiency-0.03, 0)+" to "+units.Percent(sum.Efficiency+0.03, 0),
			"1 − (flue gas at the collar + unburnt gas) ÷ energy in.", kit.From("balance of the simulated burn", "closed", kit.Computed)),
		kit.NewFigure("smoke", say.Smoke(made.SmokePerKg())+", "+say.AgainstUse(made.SmokePerKg(), made.Wish.Stove.Family),
			"The mean of the stoves like this one that it was burnt in: of the tar that leaves unburnt the half that condenses, and soot. The range is how well that is known of a stove whose smoke nobody has measured. A clean burn makes 1 to 4, a cold start more.",
			kit.From("final setting", say.Mark(air.Scale, made.Final), kit.Computed)),
		kit.NewFigure("deposits", "about "+units.Number(sum.Deposits, 0)+" g",
			"Smoke × its share where the liner's inner wall is below "+u.Temperature(120)+".",
			kit.From("chimney", u.Length(made.Wish.Stove.Chimney.Height), kit.Entered)),
		kit.NewFigure("room", u.RoomTemperature(units.Celsius(lowest))+" to "+u.RoomTemperature(units.Celsius(highest)),
			"Air, the surfaces that see the stove, and the walls behind them, driven by the stove's heat and the weather; in the second half of the time.",
			kit.From("heat loss", u.HeatLoss(made.Wish.House.Loss()), kit.LossFrom(made.Wish.House)),
			kit.From("now", u.RoomTemperature(made.Wish.Room), kit.Entered)),
		kit.NewFigure("coals at the end", u.Mass(sum.Coals), "Char left when the time is over."),
	}
}

// laysOf draws the first fire and the load on coals.
func laysOf(q *kit.Request, made plan.Plan) []drawnLay {
	var out []drawnLay
	add := func(title string, loads lay.Loads) {
		p := lay.Pack(made.Wish.Stove, loads)
		baffle := "baffle"
		if made.Wish.Stove.Family == stove.SecondaryAir {
			baffle = "baffle, air tubes"
		}
		d := strip.Lay{Packing: p, ID: fmt.Sprintf("lay-%d", len(out)), Name: made.Wish.Stove.Name, Baffle: baffle, Units: q.Units()}
		out = append(out, drawnLay{title, d.SVG(), say.Placings(p.Placings), p.Left})
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

// newPlanPage fills the choices from the household, and what nobody has typed
// yet.
func (s Room) newPlanPage(q *kit.Request, f *kit.Form) (*planPage, error) {
	p := &planPage{Page: kit.Page{Title: "Plan", Nav: "plan", Wide: true}, Form: f, Sky: s.Sky(q) != nil, Search: kit.NewEntryID(),
		Mild: q.Units().Temperature(burn.AssumedOutdoor)}
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
	p.Kindling = []kit.Option{{Value: "", Label: "any kindling"}}
	for _, st := range stacks {
		o := kit.Option{Value: strconv.FormatInt(st.ID, 10), Label: fmt.Sprintf("%s, %s", st.Name, units.Percent(st.Moisture(), 0))}
		switch {
		case st.Species.Mineral: // nothing to plan with
		case st.Kindling:
			p.Kindling = append(p.Kindling, o)
		default:
			p.Stacks = append(p.Stacks, o)
		}
	}
	for _, a := range say.Aims {
		p.Aims = append(p.Aims, kit.Option{Value: string(a.Key), Label: a.Name})
	}
	if asked, there := f.Values["start"]; there && asked[0] == "" {
		p.Starts = append(p.Starts, kit.Option{Value: "", Label: "look at the coals and choose"})
	}
	for _, a := range say.Starts {
		p.Starts = append(p.Starts, kit.Option{Value: string(a.Key), Label: a.Name})
	}
	p.Laid = []kit.Option{{Value: "", Label: "in the best way"}}
	for _, l := range say.Lays {
		if l.Key != fire.OnCoals {
			p.Laid = append(p.Laid, kit.Option{Value: string(l.Key), Label: l.Name})
		}
	}
	for _, k := range say.Starters {
		p.Starters = append(p.Starters, kit.Option{Value: string(k.Key), Label: k.Name})
	}
	p.More = append([]kit.Option{{Value: "", Label: "nothing else"}, {Value: allWood, Label: "whatever suits"}}, p.Stacks...)
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
	u := q.Units()
	set("begin", nowWord)
	set("aim", string(wish.Hold))
	set("for", "5 h")
	set("there", alwaysWord)
	set("starter", string(fire.WaxBlock))
	if p.Sky {
		set("outdoor", kit.ForecastWord)
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
	return "By lot, for the trial: " + say.WayToDo(t.Subject, way) + ".", nil
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
	p.Trial = "By lot, for the trial: " + say.WayToDo(t.Subject, way) + "."
	switch {
	case t.Subject == practice.Lay && !p.Form.Has("lay"):
		p.Form.Values.Set("lay", way)
	case t.Subject == practice.Wood && !strings.Contains(q.Request.URL.RawQuery, "wood="):
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
