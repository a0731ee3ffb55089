package plans

import (
	"fmt"
	"html/template"
	"strconv"
	"time"

	"smolder/internal/core/lay"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// drawnLay is one load as it is laid, with its steps in words.
type drawnLay struct {
	Title   string
	Drawing template.HTML // from the door
	Above   template.HTML // and from above
	Steps   []string
	Left    int
}

// draftLine is the draft before lighting with one help.
type draftLine struct {
	Says, Value string
	Enough      bool
	Chosen      bool
}

// show puts a plan on the page.
func (p *planPage) show(q *kit.Request, made plan.Plan, when time.Time) {
	u := q.Locale()
	p.Plan, p.Asked = &made, say.Wish(made.Wish, u)
	p.Steps, p.Check = say.Steps(made, u), append(say.Checklist(made, u), say.Alarms(q.Profile.Alarms, q.Now(), q.Locale()))
	p.Unsafe, p.LetOut, p.TooWarm = say.Unsafe(made, u), say.LetOut(made, u), say.TooWarm(made, u)
	p.Warnings, p.Sentence, p.Trust = say.Cautions(made, u), say.Plan(made, u), say.Trust(made, q.Locale())
	p.Parts, p.Sure = partsOf(p.Steps, u), say.Sure(made, u)
	if p.Unsafe != "" { // it stands at the head
		p.Warnings = p.Warnings[1:]
	}
	if text := say.Beside(made.Wish, q.Locale()); text != "" {
		p.Warnings = append(p.Warnings, text)
	}
	if made.Wish.House.Assumed {
		p.Warnings = append(p.Warnings, q.T("Nobody has described this space yet: an ordinary one of ")+u.Area(made.Wish.House.Floor)+q.T(" is assumed. Its floor and shell under Household make room temperatures truer."))
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
		p.Known = say.GoesBy(*made.Wish.Known, q.Locale())
	}
	chart := strip.OfPlan(made, q.View(p.Begin))
	chart.Marks = nil // they are the steps, which stand there by their numbers
	for i, step := range p.Steps {
		if at := step.Step.Expected; at >= 0 {
			chart.Notes = append(chart.Notes, strip.Note{At: at, Number: strconv.Itoa(i + 1), Word: step.Do, Link: fmt.Sprintf("#step-%d", i+1)})
		}
	}
	zooms := kit.ZoomsOf(q, &chart, "made")
	zooms.AddNear(q)
	p.Zooms = zooms.List
	chart.Low = true // strip, steps and lay stand on one screen
	p.Strip = strip.Draw(chart, strip.Beside)
	p.Figures = figuresOf(q, made)
	if made.Wish.Start == wish.Cold {
		p.Draft = draftLines(u, made.Wish)
	}
}

// A part is some of a plan's steps. Where there are many, those of its later loads are folded under
// a line, so that the whole of it stands on a screen; what is left to do after the last load stands open.
type part struct {
	Says, When string // the line; none: its steps stand open
	Steps      []numbered
}

// First and Last are the numbers of its first and last step.
func (p part) First() int { return p.Steps[0].N }
func (p part) Last() int  { return p.Steps[len(p.Steps)-1].N }

// A numbered step has the number that it has on the strip.
type numbered struct {
	N int
	say.Instruction
}

// mostOpen is how many steps all stand open.
const mostOpen = 7

// partsOf are a plan's steps, the later loads folded where there are many.
func partsOf(steps []say.Instruction, loc lang.Locale) []part {
	all := make([]numbered, len(steps))
	var loads []int // at which a later load goes on
	for i, step := range steps {
		all[i] = numbered{i + 1, step}
		if step.Step.Kind == plan.FeedIt {
			loads = append(loads, i)
		}
	}
	if len(steps) <= mostOpen || len(loads) == 0 || loads[0] == 0 {
		return []part{{Steps: all}}
	}
	first, end := loads[0], loads[len(loads)-1]+1
	for end < len(all) && all[end].Step.Kind != plan.KeepIt && all[end].Step.Kind != plan.ReloadTime {
		end++
	}
	folded := part{Steps: all[first:end]}
	folded.Says, folded.When = say.LaterLoads(len(loads), steps[first].Step.Expected, steps[loads[len(loads)-1]].Step.Expected, loc)
	out := []part{{Steps: all[:first]}, folded}
	if end < len(all) {
		out = append(out, part{Steps: all[end:]})
	}
	return out
}

// draftLines are the draft as it is and with each help, those that are chosen
// marked.
func draftLines(u lang.Locale, w wish.Wish) []draftLine {
	b := wish.BeforeLighting(w)
	lines := []draftLine{
		{u.T("as things are"), u.Draft(b.AsIs), b.AsIs >= 0, w.Help == wish.Help{}},
		{u.T("fans off"), u.Draft(b.FanOff), b.FanOff >= 0, w.Help.FansOff},
		{u.T("a window open a crack"), u.Draft(b.Window), b.Window >= 0, w.Help.Window},
		{u.T("the flue warmed"), u.Draft(b.Primed), b.Primed > 0, w.Help.Primed},
	}
	if n := len(lines); w.Help.FansOff && w.Help.Window || w.Help.FansOff && w.Help.Primed || w.Help.Window && w.Help.Primed {
		lines = append(lines[:n:n], draftLine{u.T("all that is chosen"), u.Draft(b.Net), !b.DoNot, true})
	}
	return lines
}

// readFrom tells where a stack's moisture comes from.
func readFrom(s wood.Stack) lang.Message {
	if s.Takes("reading") {
		return kit.Assumed
	}
	return kit.Measured
}

// figuresOf are what a plan comes to, with their working.
func figuresOf(q *kit.Request, made plan.Plan) []kit.Figure {
	u := q.Locale()
	lowest, highest := made.RoomRange()
	sum := made.Summary
	air, _ := made.Wish.Stove.MainAir()
	outdoors := kit.Entered
	if len(made.Wish.Weather) > 1 {
		outdoors = "the forecast"
	}
	return []kit.Figure{
		kit.NewFigure(q.T("heat to the room"), u.EnergyRange(sum.ToRoom*85/100, sum.ToRoom*115/100),
			q.T("Simulated heat from the stove's body, its glass and its pipe, ±15 %."), kit.From(q.T("wood"), u.Mass(made.Mass()), kit.Entered),
			kit.From(q.T("moisture"), say.Moisture(made.MainOf.Stack), readFrom(made.MainOf.Stack)), kit.From(q.T("outdoors"), u.Temperature(made.Wish.Outdoor), outdoors)).As("heat"),
		kit.NewFigure(q.T("smoke"), say.Smoke(made.SmokePerKg(), q.Locale()),
			q.T("The mean of the stoves like this one that it was burnt in: of the tar that leaves unburnt the half that condenses, and soot. The range is how well that is known of a stove whose smoke nobody has measured. A clean burn makes 1 to 4, a cold start more."),
			kit.From(q.T("against others"), say.AgainstUse(made.SmokePerKg(), made.Wish.Stove.Family, q.Locale()), kit.Computed),
			kit.From(q.T("final setting"), say.Mark(air.Scale, made.Final, q.Locale()), kit.Computed)).As("smoke"),
		kit.NewFigure(q.T("room"), u.RoomTemperature(units.Celsius(lowest))+q.T(" to ")+u.RoomTemperature(units.Celsius(highest)),
			q.T("Air, the surfaces that see the stove, and the walls behind them, driven by the stove's heat and the weather; in the second half of the time."),
			kit.From(q.T("heat loss"), u.HeatLoss(made.Wish.House.Loss()), kit.LossFrom(made.Wish.House)),
			kit.From(q.T("now"), u.RoomTemperature(made.Wish.Room), kit.Entered)).As("room"),
		kit.NewFigure(q.T("coals at the end"), u.Mass(sum.Coals), q.T("Char left when the time is over.")),
		kit.NewFigure(q.T("efficiency, net"), q.Locale().Percent(sum.Efficiency-0.03, 0)+q.T(" to ")+q.Locale().Percent(sum.Efficiency+0.03, 0),
			q.T("1 − (flue gas at the collar + unburnt gas) ÷ energy in."), kit.From(q.T("balance of the simulated burn"), q.T("closed"), kit.Computed)),
		kit.NewFigure(q.T("deposits"), q.T("about ")+q.Locale().Number(sum.Deposits, 0)+" g",
			q.T("Smoke × its share where the liner's inner wall is below ")+u.Temperature(120)+".",
			kit.From(q.T("chimney"), u.Length(made.Wish.Stove.Chimney.Height), kit.Entered)),
	}
}

// laysOf draws the first fire and the load on coals.
func laysOf(q *kit.Request, made plan.Plan) []drawnLay {
	var out []drawnLay
	add := func(title string, loads lay.Loads) {
		p := lay.Pack(made.Wish.Stove, loads)
		baffle := q.T("baffle")
		if made.Wish.Stove.Family == stove.SecondaryAir {
			baffle = q.T("baffle, air tubes")
		}
		d := strip.Lay{Packing: p, ID: fmt.Sprintf("lay-%d", len(out)), Name: made.Wish.Stove.Name, Baffle: baffle, Locale: q.Locale()}
		front := d
		front.Front, front.Small, front.ID = true, true, d.ID+"-front"
		out = append(out, drawnLay{title, front.SVG(), d.SVG(), say.Placings(p.Placings, q.Locale()), p.Left})
	}
	first, main := made.Loads()
	if first.Pieces > 0 {
		add(q.T("To light"), lay.Loads{Splits: first, Kindling: made.Kindling})
	}
	if main.Pieces > 0 {
		add(q.T("On the coals"), lay.Loads{Splits: main})
	}
	return out
}
