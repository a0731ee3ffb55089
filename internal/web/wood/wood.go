package wood

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

type woodPage struct {
	kit.Page
	Stacks []woodLine
	Gone   []store.Stack
}

type woodLine struct {
	ID                                          int64
	Name, Kind, Moisture, Left, Energy, Verdict string
	Pieces                                      int
	Share                                       int // of what was counted, percent
	Wet                                         bool
}

func (s Room) wood(q *kit.Request) error {
	stacks, err := q.Home.Stacks(q.Ctx())
	if err != nil {
		return err
	}
	gone, err := q.Home.GoneStacks(q.Ctx())
	if err != nil {
		return err
	}
	p := &woodPage{Page: kit.Page{Title: "Wood", Nav: "wood"}, Gone: gone}
	for _, st := range stacks {
		l := woodLine{ID: st.ID, Name: st.Name, Kind: st.Species.Name, Moisture: units.Percent(st.Moisture(), 0), Left: q.Units().Mass(st.Mass),
			Energy: q.Units().Energy(units.Joule(st.NetEnergy() * float64(st.Mass) * 1e6)), Pieces: st.Pieces(), Verdict: say.Readiness(st.Readiness()), Wet: st.Moisture() > wood.ReadyTo}
		if st.Species.Mineral {
			l.Moisture, l.Energy, l.Wet = "–", "–", false
		}
		if st.Counted > 0 {
			l.Share = int(100 * st.Mass / st.Counted)
		}
		p.Stacks = append(p.Stacks, l)
	}
	q.Show(http.StatusOK, "wood", p)
	return nil
}

type stackPage struct {
	kit.Page
	ID      int64
	Form    *kit.Form
	Species []kit.Option
	Figures []kit.Figure
	Verdict string
}

func newStackPage(id int64, title string, f *kit.Form) *stackPage {
	p := &stackPage{Page: kit.Page{Title: title, Nav: "wood"}, ID: id, Form: f}
	for _, sp := range wood.AllSpecies() {
		p.Species = append(p.Species, kit.Option{Value: sp.Key, Label: fmt.Sprintf("%s, %s t/m³", sp.Name, units.Number(sp.Gravity, 2))})
	}
	return p
}

func (s Room) newStack(q *kit.Request) error {
	q.Show(http.StatusOK, "stack", newStackPage(0, "A new stack", kit.Filled("species", "beech")))
	return nil
}

// readStack reads a stack's form, and its count if there is one. shown is the
// form as it was shown of was, nil for a new stack.
func readStack(q *kit.Request, f *kit.Form, shown *kit.Form, was wood.Stack) (st wood.Stack, count *units.Kilogram) {
	u, fresh := q.Units(), shown == nil
	st.Name = f.Name("name", "stack-name")
	st.Species = kit.Parse(f, "species", wood.SpeciesByKey)
	if st.Species.Mineral && !f.Has("reading") && !f.Has("wood-temp") {
		st.Reading, st.WoodTemp = mineralReading, usualTemp // no meter is stuck into it
	} else {
		st.Reading = kit.Kept(f, shown, "reading", was.Reading, units.ParseMoisture)
		st.WoodTemp = kit.Kept(f, shown, "wood-temp", was.WoodTemp, kit.In(parseWoodTemp, u))
	}
	st.PieceMass = kit.Kept(f, shown, "piece-mass", was.PieceMass, kit.In(units.ParseMass, u))
	if f.Errors["piece-mass"] == "" && (st.PieceMass < 0.01 || st.PieceMass > 30) {
		f.Wrong("piece-mass", fmt.Sprintf("a usual piece weighs between %s and %s; %s would do", u.Piece(0.01), u.Mass(30), u.Mass(1.3)))
	}
	st.PieceLength = kit.Kept(f, shown, "piece-length", was.PieceLength, kit.In(units.ParseSmallLength, u))
	if f.Errors["piece-length"] == "" && (st.PieceLength < 0.05 || st.PieceLength > 1.2) {
		f.Wrong("piece-length", fmt.Sprintf("a piece is between %s and %s long; %s would do", u.Size(0.05), u.Size(1.2), u.Size(0.33)))
	}
	st.Kindling = f.Text("kindling") != ""
	if fresh || f.Has("mass") {
		if m, ok := readMass(f, u, st); ok {
			count, st.Mass = &m, m
		}
	}
	return st, count
}

// readMass takes how much is there: a mass, a stacked volume or pieces.
func readMass(f *kit.Form, u units.System, st wood.Stack) (units.Kilogram, bool) {
	typed := f.Text("mass")
	if m, err := units.ParseMass(typed, u); err == nil {
		return m, true
	}
	if v, err := units.ParseVolume(typed, u); err == nil && st.Species.Gravity > 0 {
		dry := float64(v) * wood.SolidShare * st.Species.Gravity
		return units.Kilogram(dry * (1 + float64(st.Moisture()))), true
	}
	if n, err := units.ParsePieces(typed); err == nil {
		return st.PieceMass * units.Kilogram(n), true
	}
	f.Wrong("mass", fmt.Sprintf("%q is not an amount of wood: 800 kg, 2.5 m3 stacked, 1 cord or 300 pieces would do", typed))
	return 0, false
}

func parseWoodTemp(typed string, s units.System) (units.Celsius, error) {
	return kit.Bounded(typed, s, "wood temperature", -20, 60)
}

func (s Room) addStack(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	st, _ := readStack(q, f, nil, wood.Stack{})
	if f.Ok() {
		id, err := q.Home.AddStack(q.Ctx(), st, s.Now())
		if err == nil {
			return q.SeeOther("/wood/" + strconv.FormatInt(id, 10))
		}
		if !errors.Is(err, store.ErrTaken) {
			return err
		}
		f.Wrong("name", "there is a stack of that name already; another name would do")
	}
	q.Show(http.StatusUnprocessableEntity, "stack", newStackPage(0, "A new stack", f))
	return nil
}

func (s Room) stack(q *kit.Request) error {
	st, err := s.stackOf(q)
	if err != nil {
		return err
	}
	return s.showStack(q, http.StatusOK, st, stackToForm(q.Units(), st))
}

// stackToForm writes a stack as it would be typed.
func stackToForm(u units.System, st store.Stack) *kit.Form {
	f := kit.Filled("name", st.Name, "species", st.Species.Key, "reading", units.Percent(st.Reading, 0), "wood-temp", u.Temperature(st.WoodTemp),
		"piece-mass", u.Piece(st.PieceMass), "piece-length", u.Size(st.PieceLength), "version", strconv.Itoa(st.Version))
	if st.Kindling {
		f.Values.Set("kindling", "yes")
	}
	return f
}

func (s Room) stackOf(q *kit.Request) (store.Stack, error) {
	id, err := q.ID("id")
	if err != nil {
		return store.Stack{}, err
	}
	return q.Home.Stack(q.Ctx(), id)
}

func (s Room) showStack(q *kit.Request, status int, st store.Stack, f *kit.Form) error {
	p := newStackPage(st.ID, st.Name, f)
	p.Figures, p.Verdict = stackFigures(q, st), say.Readiness(st.Readiness())
	q.Show(status, "stack", p)
	return nil
}

func (s Room) saveStack(q *kit.Request) error {
	old, err := s.stackOf(q)
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	shown := stackToForm(q.Units(), old)
	st, count := readStack(q, f, shown, old.Stack)
	if f.Ok() {
		switch err := q.Home.SaveStack(q.Ctx(), old.ID, f.Version(), st, count, s.Now()); {
		case err == nil:
			q.Say("Kept.")
			return q.SeeOther("/wood/" + strconv.FormatInt(old.ID, 10))
		case errors.Is(err, store.ErrStale):
			f.Conflict(shown, old.Version)
			return s.showStack(q, http.StatusConflict, old, f)
		case errors.Is(err, store.ErrTaken):
			f.Wrong("name", "there is a stack of that name already; another name would do")
		default:
			return err
		}
	}
	return s.showStack(q, http.StatusUnprocessableEntity, old, f)
}

func (s Room) removeStack(q *kit.Request) error {
	st, err := s.stackOf(q)
	if err != nil {
		return err
	}
	if err := q.Home.RemoveStack(q.Ctx(), st.ID, true); err != nil {
		return err
	}
	q.Show(http.StatusOK, "stack-gone", &stackPage{Page: kit.Page{Title: st.Name, Nav: "wood"}, ID: st.ID})
	return nil
}

func (s Room) putBackStack(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.RemoveStack(q.Ctx(), id, false); err != nil {
		return err
	}
	return q.SeeOther("/wood/" + strconv.FormatInt(id, 10))
}

// mineralReading and usualTemp stand in for a meter that nobody sticks into
// mineral fuel; nothing is computed from them.
const (
	mineralReading units.Fraction = 0.05
	usualTemp      units.Celsius  = 20
)
