package wood

import (
	"cmp"
	"database/sql"
	"errors"
	"net/http"
	"slices"
	"strconv"
	"time"

	"smolder/internal/app/shed"
	"smolder/internal/core/drying"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// toldPage is the form of what an owner tells of a stack.
type toldPage struct {
	kit.Page
	ID      int64
	Form    *kit.Form
	Species []kit.Option
	Covers  []kit.Option
	Winds   []kit.Option
	Suns    []kit.Option
	Shapes  []kit.Option
	Course  strip.Pair // how it dries, by what is told
	Found   string     // what that comes to
	Next    string     // what comes after it
}

// winds and suns are how much of either a stack gets, in words.
var (
	winds = []kit.Choice{{Value: "", Label: "not known"}, {Value: "0", Label: "sheltered"}, {Value: "0.5", Label: "some"}, {Value: "1", Label: "open to it"}}
	suns  = []kit.Choice{{Value: "", Label: "not known"}, {Value: "0", Label: "shade"}, {Value: "0.5", Label: "half the day"},
		{Value: "1", Label: "most of the day"}}
)

// shapes are how pieces lie together.
func shapes(loc lang.Locale) []kit.Option {
	out := []kit.Option{{Label: loc.T("as said, or stacked neatly")}}
	for _, k := range wood.Shapes {
		out = append(out, kit.Option{Value: string(k.Key), Label: loc.T(say.Shapes.Name(k.Key))})
	}
	return out
}

func (s Room) newToldPage(q *kit.Request, was shed.Stack, title string, f *kit.Form) (*toldPage, error) {
	p := &toldPage{Page: kit.Page{Title: title, Nav: "wood", Wide: true}, ID: was.ID, Form: f, Winds: kit.Said(winds, q.Locale()), Suns: kit.Said(suns, q.Locale()), Shapes: shapes(q.Locale())}
	for _, sp := range wood.AllSpecies() {
		p.Species = append(p.Species, kit.Option{Value: sp.Key, Label: say.Species(sp, q.Locale()) + ", " + q.Locale().Density(sp.Gravity)})
	}
	p.Covers = []kit.Option{{Label: q.T("not known")}}
	for _, c := range wood.Covers {
		p.Covers = append(p.Covers, kit.Option{Value: string(c.Key), Label: q.T(say.Covers.Name(c.Key))})
	}
	fit, err := fitOf(q)
	if err != nil {
		return nil, err
	}
	p.told(q, was, fit)
	if was.ID == 0 {
		p.Next, err = s.whatIsNext(q)
	}
	return p, err
}

// showForm shows the form of a stack that is not there yet.
func (s Room) showForm(q *kit.Request, status int, f *kit.Form) error {
	p, err := s.newToldPage(q, shed.Stack{}, q.T("A new stack"), f)
	if err == nil {
		q.Show(status, "stack-form", p)
	}
	return err
}

func (s Room) newStack(q *kit.Request) error {
	f := kit.Filled("name", q.T("the stack"), "species", "beech")
	for _, field := range []string{"name", "species", "mass", "reading", "lain", "piece-length", "unknown"} { // an offer that was taken, wood that was found
		if v := q.Query(field); v != "" && len(v) < 100 {
			f.Values.Set(field, v)
		}
	}
	return s.showForm(q, http.StatusOK, f)
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
	was, err := q.Stack(f.Number("of"))
	if err != nil {
		return err
	}
	return s.showEdit(q, http.StatusOK, was, f)
}

// fitOf is what the largest of the household's stoves takes; nothing without one.
func fitOf(q *kit.Request) (wood.Fit, error) {
	stoves, err := q.Stoves()
	if err != nil || len(stoves) == 0 {
		return wood.Fit{}, err
	}
	largest := slices.MaxFunc(stoves, func(a, b store.Stove) int { return cmp.Compare(a.Volume, b.Volume) })
	return wood.Fit{Longest: max(largest.LongestPiece(stove.Sideways), largest.LongestPiece(stove.EndOn)), Load: largest.MaxLoad}, nil
}

// whatIsNext says what comes after the first stack.
func (s Room) whatIsNext(q *kit.Request) (string, error) {
	stoves, err := q.Stoves()
	if err != nil || len(stoves) == 0 {
		return q.T("Next comes the stove: its family and size."), err
	}
	return q.T("Next comes a plan: how warm it is, and for how long."), nil
}

// told draws how the wood of the form dries, and says what is taken for what it does not
// tell.
func (p *toldPage) told(q *kit.Request, was shed.Stack, fit wood.Fit) {
	f := kit.Filled()
	f.Values = p.Form.Values
	var shown *kit.Form
	if p.ID != 0 {
		shown = stackToForm(q, was)
	}
	st, first, _ := readStack(q, f, fit, shown, was)
	if f.Errors["species"] != "" || st.Species.Mineral {
		return
	}
	if p.ID != 0 {
		st.Readings = was.Readings
	} else if first != nil {
		first.At = q.Now()
		st.Readings = []store.StackReading{*first}
	}
	known := p.ID != 0 || first != nil || !st.Since.IsZero()
	whole := st.Wood().Assume(fit)
	d := shed.Drying(st.Stack)
	d.Pieces.Thickness = whole.PieceThickness()
	drawn, moist := strip.Drying{Now: q.Now(), Zone: q.Profile.Location()}, wood.Estimate{} // of nothing told only the paper
	if known {
		var b drying.Belief
		drawn, b = drawing(q, d)
		moist = b.Moisture()
	}
	p.Course = drawn.Drawn(q.Locale())
	whole.Reading, whole.Spread = moist.Middle, moist.Spread()
	if len(st.Readings) == 0 {
		whole.Assumed = append(whole.Assumed, "reading")
	}
	if st.Cover == "" {
		whole.Assumed = append(whole.Assumed, "cover")
	}
	p.Form.Taken = map[string]string{"piece-mass": "", "piece-length": "", "mass": "", "reading": "", "cover": "", "lain": "", "wood-temp": ""}
	for field, text := range say.TakenOfStack(whole, q.Locale()) {
		p.Form.Taken[field] = text
	}
	if p.ID != 0 {
		p.Form.Taken["lain"] = p.Form.Taken["reading"]
	}
	if known {
		p.Found = units.UpperFirst(say.Estimated(moist, q.Locale())) + ". " + readySays(q, drawn.Ready)
	}
}

// readySays is when a stack is ready, as a sentence.
func readySays(q *kit.Request, d drying.Date) string {
	said := say.ReadyDate(d, q.Now(), q.Locale())
	if said == q.T("ready") {
		return q.T("It is ready.")
	}
	return q.F("Ready: %s.", said)
}

// drawing is how a stack dries, as it is drawn, and what is known of it today.
func drawing(q *kit.Request, d drying.Stack) (strip.Drying, drying.Belief) {
	now := q.Now()
	b := drying.Believe(d, drying.At(now.Location()), drying.EndOf(now))
	return strip.Drying{Now: now, Zone: q.Profile.Location(), Past: b.Past(), Ahead: b.Forecast(now.Add(drying.Furthest)), Readings: d.Readings,
		Ready: b.Ready(wood.ReadyTo), Split: d.Since}, b
}

// readStack reads a stack's form, with its first reading and count if they are told. fit
// is what the stove takes. shown is the form as it was shown of was, nil for a new stack.
func readStack(q *kit.Request, f *kit.Form, fit wood.Fit, shown *kit.Form, was shed.Stack) (st shed.Stack, r *store.StackReading, c *store.StackCount) {
	u := q.Locale()
	st.ID, st.Version = was.ID, f.Version()
	st.Name = f.Name("name", "stack-name")
	st.Species = kit.Parse(f, "species", wood.SpeciesByKey)
	st.PieceMass = kit.KeptOptional(f, shown, "piece-mass", was.PieceMass, kit.In(units.ParseMass, u.System))
	if f.Has("piece-mass") && f.Errors["piece-mass"] == "" && (st.PieceMass < 0.01 || st.PieceMass > 30) {
		f.Wrong("piece-mass", q.F("a usual piece weighs between %s and %s; %s would do", u.Piece(0.01), u.Mass(30), u.Mass(1.3)))
	}
	st.PieceLength = kit.KeptOptional(f, shown, "piece-length", was.PieceLength, kit.In(units.ParseSmallLength, u.System))
	if f.Has("piece-length") && f.Errors["piece-length"] == "" && (st.PieceLength < 0.05 || st.PieceLength > 1.2) {
		f.Wrong("piece-length", q.F("a piece is between %s and %s long; %s would do", u.Size(0.05), u.Size(1.2), u.Size(0.33)))
	}
	readSizes(q, f, shown, was, &st)
	st.Kindling = f.Text("kindling") != ""
	readLying(q, f, shown, was, &st)
	if was.ID != 0 { // its readings and counts have forms of their own
		st.Reading, st.Spread, st.WoodTemp = was.Reading, was.Spread, was.WoodTemp
		return st, nil, nil
	}
	r = firstReading(q, f, &st)
	if f.Has("mass") {
		c = readAmount(q, f, "mass", st.Wood().Assume(fit), wood.Shape(f.Text("shape")))
	}
	return st, r, c
}

// readSizes reads what the thin and the thick pieces of a stack weigh; empty: all alike.
func readSizes(q *kit.Request, f, shown *kit.Form, was shed.Stack, st *shed.Stack) {
	u := q.Locale()
	mass := kit.In(units.ParseMass, u.System)
	st.Thin = kit.KeptOptional(f, shown, "thin-piece", was.Thin, mass)
	st.Thick = kit.KeptOptional(f, shown, "thick-piece", was.Thick, mass)
	usual := st.PieceMass
	if usual == 0 {
		usual = st.Wood().Assume(wood.Fit{}).PieceMass
	}
	if f.Has("thin-piece") && f.Errors["thin-piece"] == "" && (st.Thin <= 0 || st.Thin >= usual) {
		f.Wrong("thin-piece", q.F("thin pieces are lighter than a usual one of %s; %s would do", u.Piece(usual), u.Piece(usual/2)))
	}
	if f.Has("thick-piece") && f.Errors["thick-piece"] == "" && (st.Thick <= usual || st.Thick > 30) {
		f.Wrong("thick-piece", q.F("thick pieces are heavier than a usual one of %s; %s would do", u.Piece(usual), u.Piece(1.6*usual)))
	}
}

// readLying reads how a stack lies, and since when.
func readLying(q *kit.Request, f, shown *kit.Form, was shed.Stack, st *shed.Stack) {
	if st.Cover = wood.Cover(f.Text("cover")); st.Cover != "" {
		kit.KnownChoice(f, "cover", slices.ContainsFunc(wood.Covers, func(c struct {
			Key    wood.Cover
			Factor float64
		}) bool {
			return c.Key == st.Cover
		}))
	}
	share := func(name string) (v sql.Null[float64]) {
		if f.Has(name) {
			n, err := strconv.ParseFloat(f.Text(name), 64)
			kit.KnownChoice(f, name, err == nil && n >= 0 && n <= 1)
			v = sql.Null[float64]{V: n, Valid: err == nil}
		}
		return v
	}
	st.Wind, st.Sun = share("wind"), share("sun")
	st.OnGround, st.Round, st.Crooked = f.Has("ground"), f.Has("round"), f.Has("crooked")
	st.Heap, st.Dead = f.Has("heap"), f.Has("dead")
	if f.Has("lain") {
		st.Since = kit.Kept(f, shown, "lain", was.Since, func(t string) (time.Time, error) { return when.ParseLain(t, q.Now()) })
	}
}

// firstReading is what is told of a new stack's dryness: a meter's reading, or how long it
// has lain. Nobody need know either: then it may be anything.
func firstReading(q *kit.Request, f *kit.Form, st *shed.Stack) *store.StackReading {
	if st.Species.Mineral {
		st.Reading, st.Spread = wood.MineralMoisture, 0.005
		return nil
	}
	switch {
	case f.Has("reading"):
		r := readReading(q, f)
		if r == nil {
			return nil
		}
		st.Reading, st.WoodTemp, st.Spread = r.Reading, shed.Temp(*r), 0
		return r
	case f.Has("lain"):
		d := shed.Drying(st.Stack)
		d.Pieces.Thickness = st.Wood().Assume(wood.Fit{}).PieceThickness()
		m := drying.Believe(d, drying.At(q.Now().Location()), q.Now()).Moisture()
		st.Reading, st.Spread = m.Middle, max(0.005, m.Spread())
		return nil
	case f.Has("unknown"):
		st.Reading, st.Spread = drying.Untold, drying.UntoldDoubt
		return &store.StackReading{Reading: drying.Untold, Spread: drying.UntoldDoubt, Pieces: 1, Guessed: true}
	}
	f.Wrong("lain", q.T("how long it has lain, or what a meter reads, is missing: 2 years, or 18 %, would do; or tick that nobody knows"))
	return nil
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
	st, r, c := readStack(q, f, fit, nil, shed.Stack{})
	if f.Ok() {
		first, err := q.Stacks()
		if err != nil {
			return err
		}
		st = st.As(st.Wood().Assume(fit))
		if c == nil {
			c = &store.StackCount{Way: wood.Sold, Amount: usualAmount(st.Wood())}
		} else {
			st.Assumed = slices.DeleteFunc(st.Assumed, func(field string) bool { return field == "mass" })
		}
		id, err := q.Home.AddStack(q.Ctx(), st.Row(), r, c, s.Now())
		if err == nil {
			return s.afterStack(q, id, st.Name, len(first) == 0)
		}
		if !errors.Is(err, store.ErrTaken) {
			return err
		}
		f.Wrong("name", q.T("there is a stack of that name already; another name would do"))
	}
	return s.showForm(q, http.StatusUnprocessableEntity, f)
}

// usualAmount is what is taken for a stack that nobody has counted.
func usualAmount(st wood.Stack) wood.Amount {
	const doubt = 0.5 // it may be any stack
	return wood.Amount{Middle: wood.DryMass(wood.UsualAmount(st.Species, st.Moisture()), st.Moisture()), Own: doubt}
}

// afterStack goes on from the first stack to what is still missing, or to a plan;
// from others to the stack.
func (s Room) afterStack(q *kit.Request, id int64, name string, first bool) error {
	if !first {
		return q.SeeOther("/wood/" + strconv.FormatInt(id, 10))
	}
	stoves, err := q.Stoves()
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

// stackToForm writes what is told of a stack as it would be typed.
func stackToForm(q *kit.Request, st shed.Stack) *kit.Form {
	u := q.Locale()
	f := kit.Filled("name", st.Name, "species", st.Species.Key, "version", strconv.Itoa(st.Version), "cover", string(st.Cover))
	if !st.Takes("piece-mass") {
		f.Values.Set("piece-mass", u.Piece(st.PieceMass))
	}
	for name, mass := range map[string]units.Kilogram{"thin-piece": st.Thin, "thick-piece": st.Thick} {
		if mass > 0 {
			f.Values.Set(name, u.Piece(mass))
		}
	}
	if !st.Takes("piece-length") {
		f.Values.Set("piece-length", u.Size(st.PieceLength))
	}
	for name, v := range map[string]sql.Null[float64]{"wind": st.Wind, "sun": st.Sun} {
		if v.Valid {
			f.Values.Set(name, strconv.FormatFloat(v.V, 'g', -1, 64))
		}
	}
	for name, is := range map[string]bool{"kindling": st.Kindling, "ground": st.OnGround, "round": st.Round, "crooked": st.Crooked,
		"heap": st.Heap, "dead": st.Dead} {
		if is {
			f.Values.Set(name, "yes")
		}
	}
	if !st.Since.IsZero() {
		layout := "2 January 2006"
		if since := st.Since.In(q.Profile.Location()); since.Day() == 1 { // as who says a month is kept
			layout = "January 2006"
		}
		f.Values.Set("lain", st.Since.In(q.Profile.Location()).Format(layout))
	}
	return f
}

func (s Room) stackOf(q *kit.Request) (shed.Stack, error) {
	id, err := q.ID("id")
	if err != nil {
		return shed.Stack{}, err
	}
	return q.Stack(id)
}

func (s Room) editStack(q *kit.Request) error {
	st, err := s.stackOf(q)
	if err != nil {
		return err
	}
	return s.showEdit(q, http.StatusOK, st, stackToForm(q, st))
}

func (s Room) showEdit(q *kit.Request, status int, st shed.Stack, f *kit.Form) error {
	p, err := s.newToldPage(q, st, st.Name, f)
	if err == nil {
		q.Show(status, "stack-form", p)
	}
	return err
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
	shown := stackToForm(q, old)
	fit, err := fitOf(q)
	if err != nil {
		return err
	}
	st, _, _ := readStack(q, f, fit, shown, old)
	if f.Ok() {
		st = st.As(st.Wood().AssumeAs(old.Wood(), false, fit))
		switch err := q.Home.SaveStack(q.Ctx(), st.Row()); {
		case err == nil:
			q.Say("Kept.")
			return q.SeeOther("/wood/" + strconv.FormatInt(old.ID, 10))
		case errors.Is(err, store.ErrStale):
			f.Conflict(shown, old.Version)
			return s.showEdit(q, http.StatusConflict, old, f)
		case errors.Is(err, store.ErrTaken):
			f.Wrong("name", q.T("there is a stack of that name already; another name would do"))
		default:
			return err
		}
	}
	return s.showEdit(q, http.StatusUnprocessableEntity, old, f)
}

func (s Room) removeStack(q *kit.Request) error {
	st, err := s.stackOf(q)
	if err != nil {
		return err
	}
	if err := q.Home.RemoveStack(q.Ctx(), st.ID, true, q.Now()); err != nil {
		return err
	}
	q.Show(http.StatusOK, "stack-gone", &toldPage{Page: kit.Page{Title: st.Name, Nav: "wood"}, ID: st.ID})
	return nil
}

func (s Room) putBackStack(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.RemoveStack(q.Ctx(), id, false, q.Now()); err != nil {
		return err
	}
	return q.SeeOther("/wood/" + strconv.FormatInt(id, 10))
}
