package wood

import (
	"fmt"
	"math"
	"net/http"
	"strconv"
	"strings"
	"time"

	"smolder/internal/app/shed"
	"smolder/internal/app/winter"
	"smolder/internal/core/drying"
	"smolder/internal/core/season"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/web/kit"
)

// carriedStack is what of a stack lies indoors.
type carriedStack struct {
	Lines []carriedLine
	Sum   int
}

type carriedLine struct {
	ID   int64
	Says string
	By   string // somebody else
}

// mostCarriedAtOnce is how many pieces are carried in at once: a barrow of kindling.
const mostCarriedAtOnce = 500

func (p *stackPage) indoors(q *kit.Request, st shed.Stack) error {
	inside, err := q.Home.Indoors(q.Ctx(), q.Now())
	if err != nil {
		return err
	}
	for _, c := range inside {
		if c.StackID != st.ID {
			continue
		}
		p.Carried.Sum += c.Left
		p.Carried.Lines = append(p.Carried.Lines, carriedLine{c.ID, q.F("%d of %s by the stove since %s", c.Left, kit.PieceWord(c.Pieces, q.Locale()), q.DayWord(c.At)), q.ByOther(c.By)})
	}
	return nil
}

func (s Room) carry(q *kit.Request) error {
	return s.addTo(q, func(st shed.Stack, f *kit.Form) error {
		n := kit.Parse(f, "pieces", units.ParsePieces)
		if f.Ok() && (n < 1 || n > mostCarriedAtOnce) {
			f.Wrong("pieces", f.Locale().F("between 1 and %d pieces are carried in at once", mostCarriedAtOnce))
		}
		if !f.Ok() {
			return nil
		}
		_, err := q.Home.Carry(q.Ctx(), st.ID, n, s.Now())
		return err
	})
}

func (s Room) undoCarry(q *kit.Request) error { return s.undo(q, q.Home.UndoCarry) }

// basketPage is what wants to lie by the stove tonight and tomorrow.
type basketPage struct {
	kit.Page
	Form     *kit.Form
	None     bool
	Outdoor  string
	Lines    []basketLine
	Wet      bool // no stack is dry
	Carry    int  // pieces that are still to be carried in
	Kindling string
	Plans    string // pieces that kept plans take
	Trust    string
}

type basketLine struct {
	Field                           string
	Link, Name                      string
	Typed                           string // how many to carry in
	Tonight, Tomorrow, Inside, Want int
	Mass                            string
	Short                           bool // the stack has not that many
}

func (s Room) basketOf(q *kit.Request) (winter.Winter, winter.Basket, error) {
	w, err := q.Winter()
	if err != nil {
		return w, winter.Basket{}, err
	}
	in, err := winter.InsideOf(q.Ctx(), q.Home, q.Now())
	if err != nil {
		return w, winter.Basket{}, err
	}
	sticks, err := q.Home.Sticks(q.Ctx(), 0, q.Now().AddDate(0, 0, -42), q.Now())
	if err != nil {
		return w, winter.Basket{}, err
	}
	if sticks == 0 {
		sticks = winter.UsualSticks
	}
	tonight, tomorrow := s.outdoors(q, w.Climate)
	return w, w.Basket(in, tonight, tomorrow, sticks), nil
}

// outdoors is what tonight and tomorrow are like: as forecast, else what is usual here.
func (s Room) outdoors(q *kit.Request, c drying.Climate) (tonight, tomorrow units.Celsius) {
	now := q.Now()
	usual := season.UsualAir(c, now)
	tonight, tomorrow = usual, usual
	hours, ok := s.Hourly(q, now, 36)
	if !ok {
		return tonight, tomorrow
	}
	var sum [2]float64
	var n [2]float64
	for _, h := range hours {
		i := 0
		if h.At.Sub(now) > 12*time.Hour {
			i = 1
		}
		sum[i], n[i] = sum[i]+h.Temperature, n[i]+1
	}
	if n[0] > 0 {
		tonight = units.Celsius(sum[0] / n[0])
	}
	if n[1] > 0 {
		tomorrow = units.Celsius(sum[1] / n[1])
	}
	return tonight, tomorrow
}

func (s Room) basket(q *kit.Request) error { return s.showBasket(q, http.StatusOK, kit.Filled()) }

// showBasket shows it with what was typed.
func (s Room) showBasket(q *kit.Request, status int, f *kit.Form) error {
	w, b, err := s.basketOf(q)
	if err != nil {
		return err
	}
	p := &basketPage{Page: kit.Page{Title: q.T("The basket"), Nav: "wood"}, Form: f, Trust: trust(q, w), None: len(w.Woods) == 0 || w.Use.Loss.Middle <= 0,
		Outdoor: q.F("%s tonight, %s tomorrow", q.Locale().Temperature(b.Outdoor[0]), q.Locale().Temperature(b.Outdoor[1]))}
	p.Wet = !p.None && w.Densest() < 0
	for _, l := range b.Lines {
		line := basketLine{Field: fmt.Sprintf("carry-%d", l.Stack.ID), Link: fmt.Sprintf("/wood/%d", l.Stack.ID), Name: l.Stack.Name,
			Tonight: l.Tonight, Tomorrow: l.Tomorrow,
			Inside: l.Inside, Want: l.Carry(), Mass: q.Locale().Mass(l.Stack.PieceMass * units.Kilogram(l.Carry())), Short: l.Carry() > l.Stack.Pieces()-l.Inside}
		if p.Carry += line.Want; line.Want > 0 {
			line.Typed = strconv.Itoa(line.Want)
		}
		if f.Has(line.Field) {
			line.Typed = f.Text(line.Field)
		}
		if l.Stack.Kindling && line.Want > 0 {
			p.Kindling = q.F("Kindling for %s: %s by the stove.", fires(b.Fires, q.Locale()), kit.PieceWord(l.Tonight+l.Tomorrow, q.Locale()))
			if line.Short {
				p.Kindling += q.F(" %s has only %s left: split %s tonight.", l.Stack.Name, kit.PieceWord(l.Stack.Pieces(), q.Locale()),
					kit.PieceWord(line.Want-max(0, l.Stack.Pieces()-l.Inside), q.Locale()))
			}
		}
		p.Lines = append(p.Lines, line)
	}
	if len(w.Kindling) == 0 && !p.None {
		p.Kindling = q.F("No kindling lies anywhere: split %d sticks as thick as a thumb from a straight dry piece tonight.", winter.UsualSticks)
	}
	if err := p.plans(q); err != nil {
		return err
	}
	q.Show(status, "basket", p)
	return nil
}

func fires(n float64, loc lang.Locale) string { return loc.N(int(math.Round(n)), "a fire", "%d fires") }

// plans says what kept plans until tomorrow night take.
func (p *basketPage) plans(q *kit.Request) error {
	kept, err := q.Home.KeptPlans(q.Ctx(), q.Now())
	if err != nil {
		return err
	}
	var out []string
	for _, k := range kept {
		if k.Burn == nil || k.Begins.Sub(q.Now()) > 36*time.Hour {
			continue
		}
		var takes []string
		for _, l := range append(k.Burn.AllLoads(), k.Burn.Kindling) {
			if l.Pieces > 0 {
				takes = append(takes, q.F("%d of %s", l.Pieces, l.StackName))
			}
		}
		out = append(out, q.F("%s in %s: %s", units.UpperFirst(q.DayWord(k.Begins)), k.Stove, strings.Join(takes, ", ")))
	}
	p.Plans = strings.Join(out, ". ")
	return nil
}

// carryAll keeps all that was carried in at once.
func (s Room) carryAll(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	stacks, err := q.Stacks()
	if err != nil {
		return err
	}
	all, carried := map[int64]int{}, 0
	for _, st := range stacks {
		field := fmt.Sprintf("carry-%d", st.ID)
		if !f.Has(field) {
			continue
		}
		n := kit.Parse(f, field, units.ParsePieces)
		if n > mostCarriedAtOnce {
			f.Wrong(field, q.F("up to %d pieces are carried in at once", mostCarriedAtOnce))
		}
		all[st.ID], carried = n, carried+n
	}
	if carried == 0 {
		f.Wrong("carry", q.T("how many pieces of which stack were carried in is missing; whole numbers would do"))
	}
	if !f.Ok() { // nothing of it is kept while something of it is wrong
		return s.showBasket(q, http.StatusUnprocessableEntity, f)
	}
	for id, n := range all {
		if n > 0 {
			if _, err := q.Home.Carry(q.Ctx(), id, n, s.Now()); err != nil {
				return err
			}
		}
	}
	q.Say("%s by the stove more. Each is taken back on its stack's page.", units.UpperFirst(kit.PieceWord(carried, q.Locale())))
	return q.SeeOther("/wood/basket")
}
