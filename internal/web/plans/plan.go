package plans

import (
	"fmt"
	"net/http"
	"strconv"
	"time"

	"smolder/internal/core/plan"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

type planPage struct {
	kit.Page
	Unsafe   string // it is, in more than one of ten stoves like this one
	LetOut   string // it gives little by its end
	Sure     string // in how many stoves it burns clean and safe
	TooWarm  string // the room comes out warmer than is wanted
	Seldom   string // it bears being looked at seldom
	Fixed    string // what is done in the owner's own way, and what it costs
	Form     *kit.Form
	Stoves   []kit.Option
	Aims     []kit.Option
	Starts   []kit.Option
	Stacks   []kit.Option
	Kindling []kit.Option
	Starters []kit.Option
	More     []kit.Option // a second stack, or none
	Laid     []kit.Option // lays to light from cold, or the best
	Ways     []kit.Option // directions, or the best
	Any      []kit.Option // stacks for one load, or the best
	Gauges   []kit.Option
	Own      bool   // something is done in the owner's own way
	LastTime string // what asking for it as last time came to
	Sky      bool   // there is a forecast
	Search   string // what the page calls its search
	NoStove  bool
	NoWood   bool
	Refused  *say.Refused
	Draft    []draftLine // before lighting, with each help

	ID       int64 // of the plan that is shown
	Plan     *plan.Plan
	Steps    []say.Instruction
	Parts    []part // the same, later loads folded away
	Zooms    []kit.Zoom
	Check    []string
	Warnings []string
	Strip    strip.Pair
	Sentence string
	Trust    string   // how it does in stoves like this one
	Aim      *kit.Aim // what the last burn says to do otherwise
	InIt     string   // what is in the stove, by its last burn
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

// otherPlan is an alternative with its strip and figures, and the way to it.
type otherPlan struct {
	Unsafe                  string
	Sentence, Differs, Link string
	Strip                   strip.Pair
	Figures                 []kit.Figure
}

// foremost is how many cautions of a plan stand open: the gravest, which comes first.
const foremost = 1

// Foremost are the cautions that stand open, Further those behind "before lighting".
func (p *planPage) Foremost() []string { return p.Warnings[:min(foremost, len(p.Warnings))] }
func (p *planPage) Further() []string  { return p.Warnings[min(foremost, len(p.Warnings)):] }

// mainFigures is how many of a plan's figures stand open.
const mainFigures = 4

// MainFigures are the figures that stand open, MoreFigures those behind "why this one".
func (p *planPage) MainFigures() []kit.Figure { return p.Figures[:min(mainFigures, len(p.Figures))] }
func (p *planPage) MoreFigures() []kit.Figure { return p.Figures[min(mainFigures, len(p.Figures)):] }

// Three are the figures that an alternative is chosen by.
func (o otherPlan) Three() []kit.Figure {
	var out []kit.Figure
	for _, f := range o.Figures {
		if f.Key != "" {
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
	if q.Request.URL.Query().Get("as") == "last" {
		if err := p.asLastTime(q, p.Form.Number("stove")); err != nil {
			return err
		}
		p.Own = true
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
		p.Draft = draftLines(q.Locale(), w)
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
	u := q.Locale()
	best := *row.Burn
	for _, other := range choice {
		if other.Place == 0 && other.Burn != nil {
			best = *other.Burn
		}
	}
	p.Why, p.Fixed, p.Seldom = say.Best(*row.Burn, u), say.Fixed(row.Burn.Wish, u), say.Seldom(row.Burn.Wish, u)
	if row.Place > 0 {
		p.Why = q.T("Against the best: ") + units.LowerFirst(say.Differs(*row.Burn, best, u))
	}
	p.Again = "/plan?" + row.Asked
	for _, other := range choice {
		if other.ID == row.ID || other.Burn == nil {
			continue
		}
		chart := strip.OfPlan(*other.Burn, q.View(p.Begin))
		chart.ID = fmt.Sprintf("other-%d", other.Place)
		o := otherPlan{Unsafe: say.Unsafe(*other.Burn, q.Locale()), Sentence: say.Plan(*other.Burn, u), Differs: say.Differs(*other.Burn, best, u), Link: kit.PlanPath(other.ID) + "#made",
			Strip: strip.Draw(chart, strip.Beside), Figures: figuresOf(q, *other.Burn)}
		if other.Place == 0 {
			o.Differs = q.T("The best by all that counts.")
		}
		if fixed := row.Burn.Wish.Fixed.Any(); fixed && !other.Burn.Wish.Fixed.Any() {
			o.Differs = q.T("With nothing fixed. ") + o.Differs
			p.Fixed = say.Fixed(row.Burn.Wish, u) + " " + say.FixedCost(*row.Burn, *other.Burn, u)
		}
		p.Others = append(p.Others, o)
	}
	switch {
	case p.Started != 0:
	case kit.IsStale(row.Begins, s.Now()):
		p.Stale = q.F("It was made for %s. Room, weather and coals are others by now: work it out again.", q.DayWord(row.Begins))
	case kit.IsAhead(row.Begins, s.Now()):
		p.Keepable = !p.Kept
	default:
		p.Startable = true
	}
	dangers, err := q.Endangers(row.StoveID)
	if err != nil {
		return nil, err
	}
	grave, found, err := q.Troubles(row.StoveID)
	if err != nil {
		return nil, err
	}
	p.Warnings = append(grave, p.Warnings...)
	p.Check = append(append(found, p.Check...), dangers...)
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
		p.Gone = q.Locale().And(gone) + q.T(": off the list of stacks since this was planned. What is burnt from it is logged, and taken off nothing.")
	}
	known := false
	for _, st := range p.Stoves {
		known = known || st.Value == strconv.FormatInt(row.StoveID, 10)
	}
	if !known {
		p.Gone, p.Startable, p.Keepable = row.Stove+q.T(" is off the list of stoves."), false, false
	}
	return nil
}
