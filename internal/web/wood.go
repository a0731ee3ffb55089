package web

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/say"
	"smolder/internal/store"
)

type woodPage struct {
	page
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

func (s *Server) wood(q *request) error {
	stacks, err := q.house.Stacks(q.ctx())
	if err != nil {
		return err
	}
	gone, err := q.house.GoneStacks(q.ctx())
	if err != nil {
		return err
	}
	p := &woodPage{page: page{Title: "Wood", Nav: "wood"}, Gone: gone}
	for _, st := range stacks {
		l := woodLine{ID: st.ID, Name: st.Name, Kind: st.Species.Name, Moisture: units.Percent(st.Moisture(), 0), Left: q.units().Mass(st.Mass),
			Energy: q.units().Energy(units.Joule(st.NetEnergy() * float64(st.Mass) * 1e6)), Pieces: st.Pieces(), Verdict: say.Readiness(st.Readiness()), Wet: st.Moisture() > wood.ReadyTo}
		if st.Species.Mineral {
			l.Moisture, l.Energy, l.Wet = "–", "–", false
		}
		if st.Counted > 0 {
			l.Share = int(100 * st.Mass / st.Counted)
		}
		p.Stacks = append(p.Stacks, l)
	}
	q.render(http.StatusOK, "wood", p)
	return nil
}

type stackPage struct {
	page
	ID      int64
	Form    *form
	Species []option
	Figures []figure
	Verdict string
}

func newStackPage(id int64, title string, f *form) *stackPage {
	p := &stackPage{page: page{Title: title, Nav: "wood"}, ID: id, Form: f}
	for _, sp := range wood.AllSpecies() {
		p.Species = append(p.Species, option{Value: sp.Key, Label: fmt.Sprintf("%s, %s t/m³", sp.Name, units.Number(sp.Gravity, 2))})
	}
	return p
}

func (s *Server) newStack(q *request) error {
	q.render(http.StatusOK, "stack", newStackPage(0, "A new stack", filled("species", "beech")))
	return nil
}

// readStack reads a stack's form, and its count if there is one. shown is the
// form as it was shown of was, nil for a new stack.
func readStack(q *request, f *form, shown *form, was wood.Stack) (st wood.Stack, count *units.Kilogram) {
	u, fresh := q.units(), shown == nil
	st.Name = f.name("name", "stack-name")
	st.Species = parse(f, "species", wood.SpeciesByKey)
	if st.Species.Mineral && !f.has("reading") && !f.has("wood-temp") {
		st.Reading, st.WoodTemp = mineralReading, usualTemp // no meter is stuck into it
	} else {
		st.Reading = kept(f, shown, "reading", was.Reading, units.ParseMoisture)
		st.WoodTemp = kept(f, shown, "wood-temp", was.WoodTemp, in(parseWoodTemp, u))
	}
	st.PieceMass = kept(f, shown, "piece-mass", was.PieceMass, in(units.ParseMass, u))
	if f.Errors["piece-mass"] == "" && (st.PieceMass < 0.01 || st.PieceMass > 30) {
		f.wrong("piece-mass", fmt.Sprintf("a usual piece weighs between %s and %s; %s would do", u.Piece(0.01), u.Mass(30), u.Mass(1.3)))
	}
	st.PieceLength = kept(f, shown, "piece-length", was.PieceLength, in(units.ParseSmallLength, u))
	if f.Errors["piece-length"] == "" && (st.PieceLength < 0.05 || st.PieceLength > 1.2) {
		f.wrong("piece-length", fmt.Sprintf("a piece is between %s and %s long; %s would do", u.Size(0.05), u.Size(1.2), u.Size(0.33)))
	}
	st.Kindling = f.text("kindling") != ""
	if fresh || f.has("mass") {
		if m, ok := readMass(f, u, st); ok {
			count, st.Mass = &m, m
		}
	}
	return st, count
}

// readMass takes how much is there: a mass, a stacked volume or pieces.
func readMass(f *form, u units.System, st wood.Stack) (units.Kilogram, bool) {
	typed := f.text("mass")
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
	f.wrong("mass", fmt.Sprintf("%q is not an amount of wood: 800 kg, 2.5 m3 stacked, 1 cord or 300 pieces would do", typed))
	return 0, false
}

func parseWoodTemp(typed string, s units.System) (units.Celsius, error) {
	return bounded(typed, s, "wood temperature", -20, 60)
}

func (s *Server) addStack(q *request) error {
	f, err := q.form()
	if err != nil {
		return err
	}
	st, _ := readStack(q, f, nil, wood.Stack{})
	if f.ok() {
		id, err := q.house.AddStack(q.ctx(), st, s.Now())
		if err == nil {
			return q.seeOther("/wood/" + strconv.FormatInt(id, 10))
		}
		if !errors.Is(err, store.ErrTaken) {
			return err
		}
		f.wrong("name", "there is a stack of that name already; another name would do")
	}
	q.render(http.StatusUnprocessableEntity, "stack", newStackPage(0, "A new stack", f))
	return nil
}

func (s *Server) stack(q *request) error {
	st, err := s.stackOf(q)
	if err != nil {
		return err
	}
	return s.showStack(q, http.StatusOK, st, stackToForm(q.units(), st))
}

// stackToForm writes a stack as it would be typed.
func stackToForm(u units.System, st store.Stack) *form {
	f := filled("name", st.Name, "species", st.Species.Key, "reading", units.Percent(st.Reading, 0), "wood-temp", u.Temperature(st.WoodTemp),
		"piece-mass", u.Piece(st.PieceMass), "piece-length", u.Size(st.PieceLength), "version", strconv.Itoa(st.Version))
	if st.Kindling {
		f.Values.Set("kindling", "yes")
	}
	return f
}

func (s *Server) stackOf(q *request) (store.Stack, error) {
	id, err := q.id("id")
	if err != nil {
		return store.Stack{}, err
	}
	return q.house.Stack(q.ctx(), id)
}

func (s *Server) showStack(q *request, status int, st store.Stack, f *form) error {
	p := newStackPage(st.ID, st.Name, f)
	p.Figures, p.Verdict = stackFigures(q, st), say.Readiness(st.Readiness())
	q.render(status, "stack", p)
	return nil
}

func (s *Server) saveStack(q *request) error {
	old, err := s.stackOf(q)
	if err != nil {
		return err
	}
	f, err := q.form()
	if err != nil {
		return err
	}
	shown := stackToForm(q.units(), old)
	st, count := readStack(q, f, shown, old.Stack)
	if f.ok() {
		switch err := q.house.SaveStack(q.ctx(), old.ID, f.version(), st, count, s.Now()); {
		case err == nil:
			q.say("Kept.")
			return q.seeOther("/wood/" + strconv.FormatInt(old.ID, 10))
		case errors.Is(err, store.ErrStale):
			f.conflict(shown, old.Version)
			return s.showStack(q, http.StatusConflict, old, f)
		case errors.Is(err, store.ErrTaken):
			f.wrong("name", "there is a stack of that name already; another name would do")
		default:
			return err
		}
	}
	return s.showStack(q, http.StatusUnprocessableEntity, old, f)
}

func (s *Server) removeStack(q *request) error {
	st, err := s.stackOf(q)
	if err != nil {
		return err
	}
	if err := q.house.RemoveStack(q.ctx(), st.ID, true); err != nil {
		return err
	}
	q.render(http.StatusOK, "stack-gone", &stackPage{page: page{Title: st.Name, Nav: "wood"}, ID: st.ID})
	return nil
}

func (s *Server) putBackStack(q *request) error {
	id, err := q.id("id")
	if err != nil {
		return err
	}
	if err := q.house.RemoveStack(q.ctx(), id, false); err != nil {
		return err
	}
	return q.seeOther("/wood/" + strconv.FormatInt(id, 10))
}

// mineralReading and usualTemp stand in for a meter that nobody sticks into
// mineral fuel; nothing is computed from them.
const (
	mineralReading units.Fraction = 0.05
	usualTemp      units.Celsius  = 20
)
