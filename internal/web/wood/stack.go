package wood

import (
	"context"
	"math"
	"net/http"
	"time"

	"smolder/internal/app/shed"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// undoing takes something of a stack back, or puts it back.
type undoing func(ctx context.Context, stack, id int64, undone bool, now time.Time) error

// stackPage is one stack: how dry it is and becomes, how much there is, what was read and
// counted.
type stackPage struct {
	kit.Page
	ID       int64
	Form     *kit.Form
	Shapes   []kit.Option
	Verdict  string
	Ready    string // when, in words; empty: it is, or it is no wood
	Another  string // what one more reading would tell
	Course   strip.Pair
	Goes     string // what rain and winter do
	Options  []option
	Lies     string // what is told of it
	Figures  []kit.Figure
	Readings []readingLine
	Counts   []countLine
	Amount   string // how much there is, and its range
	Teaches  string // what recounts say
	Carried  carriedStack
	Mineral  bool
	Cautions []string
}

type option struct{ Do, Gains string }

type readingLine struct {
	ID              int64
	Day, Says, Note string
	Asks            string // where no wood that lies so is as dry
	Undone          bool
	By              string // somebody else
}

// driestOutdoors is how dry wood outdoors gets at the least, on the dry basis: at 50 % of
// relative humidity, which no climate with winters has for long.
const driestOutdoors units.Fraction = 0.09

// doubtful tells whether a reading is of wood that cannot be so dry where it lies.
func doubtful(st shed.Stack, r store.StackReading) bool {
	return st.Cover != wood.Inside && shed.Corrected(r, st.Species).Mean < driestOutdoors
}

type countLine struct {
	ID               int64
	Day, Says, Range string
	Undone           bool
	By               string // somebody else
}

func (s Room) stack(q *kit.Request) error {
	st, err := s.stackOf(q)
	if err != nil {
		return err
	}
	return s.showStack(q, http.StatusOK, st, kit.Filled())
}

func (s Room) showStack(q *kit.Request, status int, st shed.Stack, f *kit.Form) error {
	p := &stackPage{Page: kit.Page{Title: st.Name, Nav: "wood", Wide: true}, ID: st.ID, Form: f, Shapes: shapes(q.Locale()), Mineral: st.Species.Mineral,
		Verdict: say.Readiness(st.Readiness(), q.Locale()), Figures: stackFigures(q, st), Lies: say.Lies(st.Cover, st.Wind, st.Sun, st.OnGround, st.Heap, st.Round, q.Locale())}
	if f.Text("amount") == "" {
		f.Values.Set("shape", "")
	}
	if !p.Mineral {
		p.dries(q, st)
	} else {
		p.Cautions = say.MineralStack(st.PieceMass, q.Locale())
	}
	if err := p.history(q, st); err != nil {
		return err
	}
	if err := p.indoors(q, st); err != nil {
		return err
	}
	q.Show(status, "stack", p)
	return nil
}

// dries is how the stack has dried and goes on, and what would help.
func (p *stackPage) dries(q *kit.Request, st shed.Stack) {
	now := q.Now()
	d, b := drawing(q, shed.Drying(st.Stack))
	d.Width = wideDrying
	ready := d.Ready
	p.Course, p.Goes = d.Drawn(q.Locale()), say.Dries(d.Ahead, now, q.Locale())
	if ready.Late.IsZero() || ready.Late.After(now.Add(36*time.Hour)) { // a day's belief is of its end
		p.Ready = units.UpperFirst(say.ReadyDate(ready, now, q.Locale())) + "."
		if at, share, ok := b.NextReading(wood.ReadyTo); ok {
			p.Another = say.AnotherReading(at, share, now, q.Locale())
		}
	}
	for _, o := range b.Options(wood.ReadyTo) {
		p.Options = append(p.Options, option{say.ChangeOf(o.Change, q.Locale()), say.Gained(o, now, q.Locale())})
	}
}

// wideDrying is the width of the drawing on a stack's own page, px.
const wideDrying = 560

// history is what was read and counted.
func (p *stackPage) history(q *kit.Request, st shed.Stack) error {
	readings, err := q.Home.ReadingsOf(q.Ctx(), st.ID)
	if err != nil {
		return err
	}
	day := func(t time.Time) string { return q.Locale().Date(t.In(q.Profile.Location()), "2 January 2006") }
	for _, r := range readings {
		l := readingLine{ID: r.ID, Day: day(r.At), Undone: r.Undone, By: q.ByOther(r.By), Says: q.Locale().Percent(r.Reading, 0)}
		switch {
		case r.Guessed:
			l.Says, l.Note = q.Locale().Percent(r.Reading, 0)+" ± "+q.Locale().Number(r.Spread.Percent(), 0), q.T("nobody read it")
		case r.Pieces > 1:
			l.Note = q.F("mean of %s, ± %s between them", kit.PieceWord(r.Pieces, q.Locale()), q.Locale().Number(r.Spread.Percent(), 1))
		default:
			l.Note = q.T("one piece")
		}
		if !r.Guessed && doubtful(st, r) {
			l.Asks = q.F("Is it so? Wood under a roof or in the open stays over %s, however long it lies. Read it on a fresh split face, pins along the grain; if the meter slipped, undo this.",
				q.Locale().Percent(driestOutdoors, 0))
		}
		if r.WoodTemp.Valid {
			l.Note += q.F("; in wood at %s it is %s", q.Locale().Temperature(units.Celsius(r.WoodTemp.V)), q.Locale().Percent(shed.Corrected(r, st.Species).Mean, 0))
		}
		p.Readings = append(p.Readings, l)
	}
	counts, err := q.Home.CountsOf(q.Ctx(), st.ID)
	if err != nil {
		return err
	}
	for _, c := range counts {
		l := countLine{ID: c.ID, Day: day(c.At), Undone: c.Undone, By: q.ByOther(c.By), Says: c.Typed, Range: q.Locale().Mass(st.AsIs(c.Amount.Middle))}
		if l.Says == "" {
			l.Says = q.T("not counted: a usual stack")
		}
		if c.Adds {
			l.Says += q.T(", put on it")
		}
		l.Range = q.T("as wet as today ") + l.Range + q.T(", between ") + ranged(q, st.AsIs(c.Amount.Low()), st.AsIs(c.Amount.High()))
		p.Counts = append(p.Counts, l)
	}
	p.Amount = q.F("%s, four out of five such counts between %s.", q.Locale().Mass(st.Mass), ranged(q, st.AsIs(st.Left.Low()), st.AsIs(st.Left.High())))
	all, err := q.Wood()
	if err != nil {
		return err
	}
	p.Teaches = say.Unlogged(all.Unlogged, q.Locale())
	return nil
}

// ranged says a range of masses.
func ranged(q *kit.Request, low, high units.Kilogram) string {
	round := func(m units.Kilogram) units.Kilogram {
		if m < 100 {
			return m
		}
		return units.Kilogram(math.Round(float64(m)/10) * 10)
	}
	return q.Locale().Mass(round(low)) + q.T(" and ") + q.Locale().Mass(round(high))
}
