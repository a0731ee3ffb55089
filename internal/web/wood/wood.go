package wood

import (
	"cmp"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/core/wood"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

type woodPage struct {
	kit.Page
	Stacks    []woodLine
	Gone      []store.Stack
	Shed      strip.Pair
	Sum       string // what is left, in all
	Uncounted string // how much of it is taken for a stack of unknown size
	Wet       int    // stacks that are not ready
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
	p := &woodPage{Page: kit.Page{Title: "Wood", Nav: "wood", Wide: true}, Gone: gone}
	var shed strip.Shed
	var mass, uncounted units.Kilogram
	heat := 0.0
	for _, st := range stacks {
		l := woodLine{ID: st.ID, Name: st.Name, Kind: st.Species.Name, Moisture: say.Moisture(st.Stack), Left: q.Units().Mass(st.Mass),
			Energy: q.Units().Energy(units.Joule(st.NetEnergy() * float64(st.Mass) * 1e6)), Pieces: st.Pieces(),
			Verdict: say.Readiness(st.Readiness()), Wet: st.Moisture() > wood.ReadyTo}
		if st.Species.Mineral {
			l.Moisture, l.Energy, l.Wet = "–", "–", false
		}
		if !st.Species.Mineral {
			each := st.NetEnergy() * 1e6 // J per kg
			held := float64(st.Mass) * each
			mass, heat = mass+st.Mass, heat+held
			if st.Takes("mass") {
				uncounted += st.Mass
			}
			shed.Piles = append(shed.Piles, strip.Pile{Name: st.Name, Says: q.Units().Energy(units.Joule(held)) + ", " + l.Moisture, Left: held,
				Counted: float64(st.Counted) * each, Moisture: st.Moisture()})
			if l.Wet {
				p.Wet++
			}
		}
		if st.Counted > 0 {
			l.Share = int(100 * st.Mass / st.Counted)
		}
		p.Stacks = append(p.Stacks, l)
	}
	if uncounted > 0 {
		p.Uncounted = fmt.Sprintf("%s of that nobody has counted: a usual stack is taken.", q.Units().Mass(uncounted))
	}
	p.Shed, p.Sum = shed.Drawn(), fmt.Sprintf("%s in all, which holds %s; some three quarters of that reach the rooms.", q.Units().Mass(mass),
		q.Units().Energy(units.Joule(heat)))
	q.Show(http.StatusOK, "wood", p)
	return nil
}

type stackPage struct {
	kit.Page
	ID      int64
	Form    *kit.Form
	Species []kit.Option
	Covers  []kit.Option
	Figures []kit.Figure
	Verdict string
	Course  strip.Pair // how it has dried, by its time
	Found   string     // what that comes to
	Known   bool       // how dry it is, is told already
	Next    string     // what comes after it
}

func (s Room) newStackPage(q *kit.Request, id int64, title string, was wood.Stack, f *kit.Form) (*stackPage, error) {
	p := &stackPage{Page: kit.Page{Title: title, Nav: "wood", Wide: true}, ID: id, Form: f}
	for _, sp := range wood.AllSpecies() {
		p.Species = append(p.Species, kit.Option{Value: sp.Key, Label: fmt.Sprintf("%s, %s t/m³", sp.Name, units.Number(sp.Gravity, 2))})
	}
	p.Covers = []kit.Option{{Label: "not known"}}
	for _, c := range wood.Covers {
		p.Covers = append(p.Covers, kit.Option{Value: string(c.Key), Label: say.Covers.Name(c.Key)})
	}
	fit, err := fitOf(q)
	if err != nil {
		return nil, err
	}
	p.told(q, was, fit)
	if id == 0 {
		p.Next, err = s.whatIsNext(q)
	}
	return p, err
}

// showForm shows the form of a stack that is not there yet.
func (s Room) showForm(q *kit.Request, status int, f *kit.Form) error {
	p, err := s.newStackPage(q, 0, "A new stack", wood.Stack{}, f)
	if err == nil {
		q.Show(status, "stack", p)
	}
	return err
}

func (s Room) newStack(q *kit.Request) error {
	return s.showForm(q, http.StatusOK, kit.Filled("name", "the stack", "species", "beech"))
}

// stackSoFar draws what has been told of a stack, with nothing of it judged yet.
func (s Room) stackSoFar(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	f.Values.Del("part")
	f.Errors = map[string]string{}
	if !f.Has("of") {
		return s.showForm(q, http.StatusOK, f)
	}
	was, err := q.Home.Stack(q.Ctx(), f.Number("of"))
	if err != nil {
		return err
	}
	return s.showStack(q, http.StatusOK, was, f)
}

// fitOf is what the largest of the household's stoves takes; nothing without one.
func fitOf(q *kit.Request) (wood.Fit, error) {
	stoves, err := q.Home.Stoves(q.Ctx())
	if err != nil || len(stoves) == 0 {
		return wood.Fit{}, err
	}
	largest := slices.MaxFunc(stoves, func(a, b store.Stove) int { return cmp.Compare(a.Volume, b.Volume) })
	return wood.Fit{Longest: max(largest.LongestPiece(stove.Sideways), largest.LongestPiece(stove.EndOn)), Load: largest.MaxLoad}, nil
}

// whatIsNext says what comes after the first stack.
func (s Room) whatIsNext(q *kit.Request) (string, error) {
	stoves, err := q.Home.Stoves(q.Ctx())
	if err != nil || len(stoves) == 0 {
		return "Next comes the stove: its family and size.", err
	}
	return "Next comes a plan: how warm it is, and for how long.", nil
}

// told draws how the wood of the form has dried, and says what is taken for what
// it does not tell.
func (p *stackPage) told(q *kit.Request, was wood.Stack, fit wood.Fit) {
	f := kit.Filled()
	f.Values = p.Form.Values
	shown := kit.Filled()
	if p.ID != 0 {
		shown = stackToForm(q.Units(), store.Stack{ID: p.ID, Stack: was})
	}
	st, _ := readStack(q, f, fit, shown, was)
	if f.Errors["species"] != "" {
		return
	}
	st = st.Assume(fit)
	u := q.Units()
	p.Form.Taken = map[string]string{"piece-mass": "", "piece-length": "", "mass": "", "reading": "", "cover": ""}
	for field, text := range say.TakenOfStack(st, u) {
		p.Form.Taken[field] = text
	}
	c := strip.Drying{Stack: st, Now: q.Now(), Zone: q.Profile.Location(), Units: u, Cover: wood.Cover(f.Text("cover"))}
	if since, err := when.ParseLain(f.Text("lain"), q.Now()); err == nil {
		c.Since = since
		p.Found = units.UpperFirst(say.Estimated(wood.Lain(st.Species, st.PieceThickness(), c.Cover, since, q.Now()))) + "."
	}
	p.Course = c.Drawn()
}

// readStack reads a stack's form, and its count if there is one. fit is what
// the stove takes. shown is the form as it was shown of was,
// nil for a new stack.
func readStack(q *kit.Request, f *kit.Form, fit wood.Fit, shown *kit.Form, was wood.Stack) (st wood.Stack, count *units.Kilogram) {
	u := q.Units()
	st.Name = f.Name("name", "stack-name")
	st.Species = kit.Parse(f, "species", wood.SpeciesByKey)
	st.PieceMass = kit.KeptOptional(f, shown, "piece-mass", was.PieceMass, kit.In(units.ParseMass, u))
	if f.Has("piece-mass") && f.Errors["piece-mass"] == "" && (st.PieceMass < 0.01 || st.PieceMass > 30) {
		f.Wrong("piece-mass", fmt.Sprintf("a usual piece weighs between %s and %s; %s would do", u.Piece(0.01), u.Mass(30), u.Mass(1.3)))
	}
	st.PieceLength = kit.KeptOptional(f, shown, "piece-length", was.PieceLength, kit.In(units.ParseSmallLength, u))
	if f.Has("piece-length") && f.Errors["piece-length"] == "" && (st.PieceLength < 0.05 || st.PieceLength > 1.2) {
		f.Wrong("piece-length", fmt.Sprintf("a piece is between %s and %s long; %s would do", u.Size(0.05), u.Size(1.2), u.Size(0.33)))
	}
	st.Kindling = f.Text("kindling") != ""
	readDryness(q, f, fit, shown, was, &st)
	if f.Has("mass") {
		if m, ok := readMass(f, u, st.Assume(fit)); ok {
			count, st.Mass = &m, m
		}
	}
	return st, count
}

// readDryness reads how dry the wood is: from a meter, or by how long it has lain.
// An estimate that was there stays until one of the two is told.
func readDryness(q *kit.Request, f *kit.Form, fit wood.Fit, shown *kit.Form, was wood.Stack, st *wood.Stack) {
	u := q.Units()
	switch {
	case st.Species.Mineral && !f.Has("reading"):
		st.Reading, st.WoodTemp = mineralReading, usualTemp // no meter is stuck into it
	case f.Has("lain") && shown != nil && f.Text("reading") == shown.Text("reading"):
		readLain(q, f, fit, st) // said anew, over a reading that was there
	case f.Has("reading") && f.Has("lain"):
		f.Wrong("lain", "how long it has lain and what a meter reads are two ways to tell one thing: one of them would do")
	case f.Has("reading"):
		st.Reading = kit.Kept(f, shown, "reading", was.Reading, units.ParseMoisture)
		if st.WoodTemp = usualTemp; f.Has("wood-temp") {
			st.WoodTemp = kit.Kept(f, shown, "wood-temp", was.WoodTemp, kit.In(parseWoodTemp, u))
		} else {
			st.Assumed = append(st.Assumed, "wood-temp")
		}
	case f.Has("lain"):
		readLain(q, f, fit, st)
	case shown != nil && was.Spread > 0:
		st.Reading, st.Spread, st.WoodTemp = was.Reading, was.Spread, was.WoodTemp
	default:
		f.Wrong("lain", "how long it has lain, or what a meter reads, is missing: 2 years, or 18 %, would do")
	}
}

// readLain estimates how dry the wood is by how long it has lain.
func readLain(q *kit.Request, f *kit.Form, fit wood.Fit, st *wood.Stack) {
	since := kit.Parse(f, "lain", func(t string) (time.Time, error) { return when.ParseLain(t, q.Now()) })
	if f.Errors["lain"] != "" {
		return
	}
	whole := st.Assume(fit)
	e := wood.Lain(st.Species, whole.PieceThickness(), wood.Cover(f.Text("cover")), since, q.Now())
	st.Reading, st.Spread, st.WoodTemp = e.Middle, e.Spread(), usualTemp
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
	fit, err := fitOf(q)
	if err != nil {
		return err
	}
	st, _ := readStack(q, f, fit, nil, wood.Stack{})
	if f.Ok() {
		first, err := q.Home.Stacks(q.Ctx())
		if err != nil {
			return err
		}
		id, err := q.Home.AddStack(q.Ctx(), st.Assume(fit), s.Now())
		if err == nil {
			return s.afterStack(q, id, st.Name, len(first) == 0)
		}
		if !errors.Is(err, store.ErrTaken) {
			return err
		}
		f.Wrong("name", "there is a stack of that name already; another name would do")
	}
	return s.showForm(q, http.StatusUnprocessableEntity, f)
}

// afterStack goes on from the first stack to what is still missing, or to a plan;
// from others to the stack.
func (s Room) afterStack(q *kit.Request, id int64, name string, first bool) error {
	if !first {
		return q.SeeOther("/wood/" + strconv.FormatInt(id, 10))
	}
	stoves, err := q.Home.Stoves(q.Ctx())
	if err != nil {
		return err
	}
	if len(stoves) == 0 {
		q.Say("%s is kept. Now the stove that burns it.", units.UpperFirst(name))
		return q.SeeOther("/stoves/new")
	}
	q.Say("%s is kept. Now a plan: say how warm it is.", units.UpperFirst(name))
	return q.SeeOther("/plan")
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
	f := kit.Filled("name", st.Name, "species", st.Species.Key, "version", strconv.Itoa(st.Version))
	if st.Spread == 0 {
		f.Values.Set("reading", units.Percent(st.Reading, 0))
		if !st.Takes("wood-temp") {
			f.Values.Set("wood-temp", u.Temperature(st.WoodTemp))
		}
	}
	if !st.Takes("piece-mass") {
		f.Values.Set("piece-mass", u.Piece(st.PieceMass))
	}
	if !st.Takes("piece-length") {
		f.Values.Set("piece-length", u.Size(st.PieceLength))
	}
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
	p, err := s.newStackPage(q, st.ID, st.Name, st.Stack, f)
	if err != nil {
		return err
	}
	p.Known = true
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
	fit, err := fitOf(q)
	if err != nil {
		return err
	}
	st, count := readStack(q, f, fit, shown, old.Stack)
	if f.Ok() {
		st = st.AssumeAs(old.Stack, count != nil, fit)
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
