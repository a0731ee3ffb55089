package stoves

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// controlRows is how many controls the form has room for.
const controlRows = stove.MostControls

type stoveForm struct {
	kit.Page
	ID       int64
	Form     *kit.Form
	Families []kit.Option
	Roles    []kit.Option
	Scales   []kit.Option
	Linings  []kit.Option
	Builds   []kit.Option
	Helps    []kit.Option
	Spaces   []kit.Option
	Walls    []kit.Option // where the chimney runs
	Rows     []int        // of controls, after the first
	Gauges   []gaugeRow
	Column   strip.Pair // what is told so far, drawn
	Next     string     // what comes after it
}

type gaugeRow struct {
	Key, Name string
	Bands     bool
	On        bool
	Low, High string
	TooHot    string
	Error     string
}

// newSpaceWord is the choice of a space that is not there yet.
const newSpaceWord = "new"

func (s Room) showStoveForm(q *kit.Request, status int, id int64, title string, f *kit.Form) error {
	spaces, err := q.Home.Spaces(q.Ctx())
	if err != nil {
		return err
	}
	p := newStoveForm(q, id, title, f)
	if id == 0 {
		stacks, err := q.Stacks()
		if err != nil {
			return err
		}
		if p.Next = "Next comes its page: what the chimney draws, and how the stove behaves."; len(stacks) == 0 {
			p.Next = "Next comes the wood: its kind, and how long it has lain."
		}
	}
	for _, sp := range spaces {
		p.Spaces = append(p.Spaces, kit.Option{Value: strconv.FormatInt(sp.ID, 10), Label: sp.Name})
	}
	p.Spaces = append(p.Spaces, kit.Option{Value: newSpaceWord, Label: "another, described below"})
	if !f.Has("space-id") {
		f.Values.Set("space-id", p.Spaces[0].Value)
	}
	q.Show(status, "stove-form", p)
	return nil
}

func newStoveForm(q *kit.Request, id int64, title string, f *kit.Form) *stoveForm {
	p := &stoveForm{Page: kit.Page{Title: title, Nav: "stoves", Wide: true}, ID: id, Form: f}
	for _, k := range say.Families {
		p.Families = append(p.Families, kit.Option{Value: string(k.Key), Label: k.Name + ": " + k.About})
	}
	p.Roles = []kit.Option{{Value: "", Label: "none"}}
	for _, k := range say.Roles {
		p.Roles = append(p.Roles, kit.Option{Value: string(k.Key), Label: k.Name})
	}
	for _, k := range say.Scales {
		p.Scales = append(p.Scales, kit.Option{Value: string(k.Key), Label: k.Name})
	}
	for _, k := range say.Linings {
		p.Linings = append(p.Linings, kit.Option{Value: string(k.Key), Label: k.Name})
	}
	p.Builds, p.Helps = buildOptions(), helperOptions()
	p.Linings = append([]kit.Option{{Label: "not known"}}, p.Linings...)
	p.Walls = []kit.Option{{Label: "inside the house"}, {Value: "yes", Label: "on an outside wall"}}
	for i := range controlRows - 1 {
		p.Rows = append(p.Rows, i+2)
	}
	u := q.Units()
	p.told(u)
	for _, k := range say.Places {
		key, band := "gauge-"+string(k.Key), k.Key.DefaultBand()
		row := gaugeRow{Key: string(k.Key), Name: k.Name, Bands: k.Key.OfFire(), On: f.Has(key), Low: f.Text(key + "-low"), High: f.Text(key + "-high"),
			TooHot: f.Text(key + "-hot"), Error: f.Errors[key]}
		if row.Bands && row.Low == "" && row.High == "" {
			row.Low, row.High, row.TooHot = u.Temperature(band.Low), u.Temperature(band.High), u.Temperature(band.TooHot)
		}
		p.Gauges = append(p.Gauges, row)
	}
	return p
}

func (s Room) newStove(q *kit.Request) error {
	f := kit.Filled("name", "the stove", "family", string(stove.SecondaryAir), "control-1-name", "Air", "control-1-role",
		string(stove.Combined), "control-1-scale", string(stove.Lever))
	return s.showStoveForm(q, http.StatusOK, 0, "A new stove", f)
}

// stoveSoFar draws what has been told of a stove, and says what is taken for the
// rest: the form as it is, with nothing of it judged yet.
func (s Room) stoveSoFar(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	f.Values.Del("part")
	f.Errors = map[string]string{}
	return s.showStoveForm(q, http.StatusOK, 0, "A new stove", f)
}

// told draws the stove of the form and says what is taken for what it does not
// tell. Size and height have no usual value: what is not told of them is drawn
// dashed.
func (p *stoveForm) told(u units.System) {
	f := kit.Filled()
	f.Values = p.Form.Values
	st := readBox(f, u, nil, stove.Stove{Name: p.Form.Text("name"), Room: p.Form.Text("room"), Family: stove.Family(p.Form.Text("family"))})
	st.Chimney, st.Assumed = readChimney(f, u, nil, flue.Chimney{})
	c := strip.Column{Room: 19, Outdoor: 4, Gas: 250, Units: u, House: house.Default(), NoSize: st.Volume < 3,
		NoHeight: st.Chimney.Height < 1 || st.Chimney.Height > 40}
	if c.NoSize {
		st.Volume = usualVolume
	}
	if c.NoHeight {
		st.Chimney.Height = usualHeight
	}
	if !st.Chimney.Lining.Known() {
		st.Chimney.Lining = ""
	}
	st = st.Assume()
	p.Form.Taken = map[string]string{}
	for _, field := range stove.Assumable {
		p.Form.Taken[field] = ""
	}
	for field, text := range say.Taken(st, u) {
		p.Form.Taken[field] = text
	}
	if err := st.Chimney.Check(); err != nil { // a slip that the form will refuse: not drawn
		st.Chimney = flue.Chimney{Height: usualHeight, Diameter: usualDiameter, Lining: flue.Insulated}
		c.NoHeight = true
	}
	c.Stove, c.Width = st, besideForm
	p.Column = c.Drawn()
}

// besideForm is the width of the drawing, px.
const besideForm = 440

// What is drawn, dashed, before it is told.
const (
	usualVolume   units.Litre = 55
	usualHeight   units.Metre = 6
	usualDiameter units.Metre = 0.15
)

// readStove reads the whole form; what is wrong is noted field by field. shown is
// the form as it was shown of was, nil for a new stove.
func readStove(q *kit.Request, f *kit.Form, shown *kit.Form, was store.Stove) store.Stove {
	u := q.Units()
	var st store.Stove
	st.Name = f.Name("name", "stove-name")
	if f.Has("room") {
		st.Room = f.Name("room", "stove-room")
	}
	st.Family = stove.Family(f.Text("family"))
	box := readBox(f, u, shown, was.Stove)
	st.Volume, st.Width, st.Depth, st.Height, st.MaxLoad, st.Output = box.Volume, box.Width, box.Depth, box.Height, box.MaxLoad, box.Output
	st.Double = f.Text("double") != ""
	st.Unattended = f.Text("unattended") != ""
	st.Chimney, st.Assumed = readChimney(f, u, shown, was.Chimney)
	st.Controls = readControls(f)
	st.Gauges = readGauges(f, u, shown, was)
	if f.Text("space-id") == newSpaceWord {
		st.Space = readSpace(f, u, nil, store.Space{}, ownPrefix)
	} else if st.Space.ID = f.Number("space-id"); st.Space.ID == 0 {
		if st.Space.ID = was.Space.ID; st.Space.ID == 0 {
			f.Wrong("space-id", "choose the space that it heats, or describe another")
		}
	}
	if f.Ok() {
		st.Stove = st.Assume()
		keepKeys(was.Controls, st.Controls)
		f.FailsAll(st.Check(), stoveField)
	}
	return st
}

// readBox reads size, load and output; what is empty and may be stays 0.
func readBox(f *kit.Form, u units.System, shown *kit.Form, was stove.Stove) stove.Stove {
	was.Volume = kit.Kept(f, shown, "volume", was.Volume, kit.In(units.ParseVolume, u))
	was.Width = kit.KeptOptional(f, shown, "width", was.Width, kit.In(units.ParseSmallLength, u))
	was.Depth = kit.KeptOptional(f, shown, "depth", was.Depth, kit.In(units.ParseSmallLength, u))
	was.Height = kit.KeptOptional(f, shown, "height", was.Height, kit.In(units.ParseSmallLength, u))
	was.MaxLoad = kit.KeptOptional(f, shown, "max-load", was.MaxLoad, kit.In(units.ParseMass, u))
	was.Output = kit.KeptOptional(f, shown, "output", was.Output, kit.In(units.ParsePower, u))
	return was
}

// readChimney reads the chimney, and which of its fields are empty that would
// otherwise be taken for "none".
func readChimney(f *kit.Form, u units.System, shown *kit.Form, was flue.Chimney) (c flue.Chimney, unknown []string) {
	c = flue.Chimney{
		Height: kit.Kept(f, shown, "chimney-height", was.Height, kit.In(units.ParseLength, u)), Lining: flue.Lining(f.Text("lining")),
		Outside:    f.Text("outside") != "",
		Diameter:   kit.KeptOptional(f, shown, "diameter", was.Diameter, kit.In(units.ParseSmallLength, u)),
		Horizontal: kit.KeptOptional(f, shown, "horizontal", was.Horizontal, kit.In(units.ParseLength, u)),
		Altitude:   kit.KeptOptional(f, shown, "altitude", was.Altitude, kit.In(units.ParseLength, u)),
	}
	bends, _ := kit.Optional(f, "bends", func(t string) (float64, error) { return units.ParseNumber(t, "number of bends", 0, 8) })
	c.Bends = int(bends)
	for _, field := range []string{"bends", "horizontal", "altitude"} {
		if !f.Has(field) {
			unknown = append(unknown, field)
		}
	}
	return c, unknown
}

// ownPrefix tells the fields of a space that is described with its stove.
const ownPrefix = "own-"

// stoveField is the form's name for a field of a stove.
func stoveField(field string) string {
	switch field {
	case "":
		return "name"
	case "controls":
		return "control-1-name"
	}
	return field
}

func readControls(f *kit.Form) []stove.Control {
	var out []stove.Control
	for i := range controlRows {
		prefix := fmt.Sprintf("control-%d-", i+1)
		name, role := f.Text(prefix+"name"), stove.Role(f.Text(prefix+"role"))
		if name == "" && role == "" {
			continue
		}
		if name == "" || role == "" {
			f.Wrong(prefix+"name", "a control has a name and a purpose")
			continue
		}
		c := stove.Control{Name: name, Key: keyOf(name), Role: role, Scale: stove.Scale{Kind: stove.ScaleKind(f.Text(prefix + "scale"))}}
		full := f.Text(prefix + "full")
		switch c.Scale.Kind {
		case stove.Notches:
			for _, n := range strings.Split(full, ",") {
				if n = strings.TrimSpace(n); n != "" {
					c.Scale.Notches = append(c.Scale.Notches, n)
				}
			}
		case stove.Turns, stove.Millimetres, stove.Sixteenths:
			c.Scale.Full = kit.Parse(f, prefix+"full", func(t string) (float64, error) {
				return units.ParseNumber(strings.TrimRightFunc(t, func(r rune) bool { return unicode.IsLetter(r) || r == ' ' }), "fully open position", 0.1, 200)
			})
		case stove.Lever:
			c.Scale.OpenLeft = strings.EqualFold(full, "left")
		}
		if f.Errors[prefix+"full"] == "" {
			if err := c.Scale.Check(); err != nil {
				f.Fails(prefix+"full", err)
			}
		}
		out = append(out, c)
	}
	return out
}

// keepKeys lets controls that were there keep their keys, under which burns and
// plans know them: by their name, or, renamed, by what they move.
func keepKeys(old, changed []stove.Control) {
	taken := map[string]bool{}
	keep := func(same func(a, b stove.Control) bool, done map[int]bool) {
		for i := range changed {
			for _, o := range old {
				if !done[i] && !taken[o.Key] && same(o, changed[i]) {
					changed[i].Key, done[i], taken[o.Key] = o.Key, true, true
				}
			}
		}
	}
	done := map[int]bool{}
	keep(func(a, b stove.Control) bool { return strings.EqualFold(a.Name, b.Name) }, done)
	keep(func(a, b stove.Control) bool { return a.Role == b.Role }, done)
}

// keyOf makes a control's stable key from its name.
func keyOf(name string) string {
	return strings.Trim(strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToLower(r)
		}
		return '-'
	}, name), "-")
}

func readGauges(f *kit.Form, u units.System, shown *kit.Form, was store.Stove) []stove.Gauge {
	var out []stove.Gauge
	for _, place := range stove.Places {
		key := "gauge-" + string(place)
		if !f.Has(key) {
			continue
		}
		g := stove.NewGauge(place)
		old, _ := was.Gauge(place)
		for _, edge := range []struct {
			name string
			into *units.Celsius
			was  units.Celsius
		}{{key + "-low", &g.Band.Low, old.Band.Low}, {key + "-high", &g.Band.High, old.Band.High}, {key + "-hot", &g.Band.TooHot, old.Band.TooHot}} {
			if f.Has(edge.name) {
				*edge.into = kit.Kept(f, shown, edge.name, edge.was, usualEdge(u, g, *edge.into, kit.In(units.ParseTemperature, u)))
			}
			if text := f.Errors[edge.name]; text != "" {
				f.Wrong(key, text)
			}
		}
		if place.OfFire() {
			if err := g.Band.Check(); err != nil {
				f.Fails(key, err)
			}
		} else {
			g.Band = stove.Band{}
		}
		out = append(out, g)
	}
	// Those that were there stay in their order: the first of its kind guides.
	place := func(g stove.Gauge) int {
		if i := slices.IndexFunc(was.Gauges, func(o stove.Gauge) bool { return o.Place == g.Place }); i >= 0 {
			return i
		}
		return len(was.Gauges)
	}
	slices.SortStableFunc(out, func(a, b stove.Gauge) int { return place(a) - place(b) })
	return out
}

// usualEdge reads the edge of a band; a default that is sent back as it was shown
// is that default, whatever it was rounded to.
func usualEdge(u units.System, g stove.Gauge, usual units.Celsius, read func(string) (units.Celsius, error)) func(string) (units.Celsius, error) {
	return func(typed string) (units.Celsius, error) {
		if typed == u.Temperature(usual) && g.Place.OfFire() {
			return usual, nil
		}
		return read(typed)
	}
}

func (s Room) addStove(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	st := readStove(q, f, nil, store.Stove{})
	if f.Ok() {
		id, err := s.keepStove(q, f, st, q.Home.AddStove)
		if err == nil {
			return s.afterStove(q, id, st.Name)
		}
		if !errors.Is(err, store.ErrTaken) {
			return err
		}
	}
	return s.showStoveForm(q, http.StatusUnprocessableEntity, 0, "A new stove", f)
}

// afterStove goes on to the wood where there is none yet, else to the stove.
func (s Room) afterStove(q *kit.Request, id int64, name string) error {
	stacks, err := q.Stacks()
	if err != nil {
		return err
	}
	if len(stacks) == 0 {
		q.Say("%s is kept. Now the wood that it burns.", units.UpperFirst(name))
		return q.SeeOther("/wood/new")
	}
	return q.SeeOther(fmt.Sprintf("/stoves/%d", id))
}

// keepStove makes the space that was described with a stove, if one was, and
// keeps the stove in it. A name in use is noted in the form.
func (s Room) keepStove(q *kit.Request, f *kit.Form, st store.Stove, keep func(context.Context, store.Stove) (int64, error)) (int64, error) {
	fresh := st.Space.ID == 0
	if fresh {
		var err error
		if st.Space.ID, err = q.Home.AddSpace(q.Ctx(), st.Space); err != nil {
			if errors.Is(err, store.ErrTaken) {
				f.Wrong(ownPrefix+"space", "there is a space of that name already; another name would do, or choose it from the list")
			}
			return 0, err
		}
	}
	id, err := keep(q.Ctx(), st)
	if errors.Is(err, store.ErrTaken) {
		f.Wrong("name", "there is a stove of that name already; another name would do")
	}
	if err != nil && fresh { // nothing of a refused form stays
		if e := q.Home.RemoveSpace(q.Ctx(), st.Space.ID, true, q.Now()); e != nil {
			return 0, e
		}
	}
	return id, err
}

func (s Room) editStove(q *kit.Request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	return s.showStoveForm(q, http.StatusOK, st.ID, st.Name, stoveToForm(q.Units(), st))
}

// stoveToForm writes a stove as it would be typed.
func stoveToForm(u units.System, st store.Stove) *kit.Form {
	c := st.Chimney
	f := kit.Filled("name", st.Name, "room", st.Room, "family", string(st.Family), "volume", u.Volume(st.Volume), "chimney-height", u.Length(c.Height),
		"space-id", strconv.FormatInt(st.Space.ID, 10), "version", strconv.Itoa(st.Version))
	for _, of := range []struct{ field, value string }{
		{"width", u.Size(st.Width)},
		{"depth", u.Size(st.Depth)},
		{"height", u.Size(st.Height)},
		{"max-load", u.Mass(st.MaxLoad)},
		{"diameter", u.Size(c.Diameter)},
		{"lining", string(c.Lining)},
		{"bends", strconv.Itoa(c.Bends)},
		{"horizontal", u.Length(c.Horizontal)},
		{"altitude", u.Length(c.Altitude)},
	} {
		if !st.Takes(of.field) {
			f.Values.Set(of.field, of.value)
		}
	}
	if st.Output > 0 {
		f.Values.Set("output", u.Power(st.Output))
	}
	if st.Double {
		f.Values.Set("double", "yes")
	}
	if c.Outside {
		f.Values.Set("outside", "yes")
	}
	for i, control := range st.Controls {
		prefix := fmt.Sprintf("control-%d-", i+1)
		f.Values.Set(prefix+"name", control.Name)
		f.Values.Set(prefix+"role", string(control.Role))
		f.Values.Set(prefix+"scale", string(control.Scale.Kind))
		switch {
		case control.Scale.Kind == stove.Notches:
			f.Values.Set(prefix+"full", strings.Join(control.Scale.Notches, ", "))
		case control.Scale.OpenLeft:
			f.Values.Set(prefix+"full", "left")
		case control.Scale.Full > 0:
			f.Values.Set(prefix+"full", strconv.FormatFloat(control.Scale.Full, 'f', -1, 64))
		}
	}
	for _, g := range st.Gauges {
		key := "gauge-" + string(g.Place)
		f.Values.Set(key, "yes")
		if g.Place.OfFire() {
			f.Values.Set(key+"-low", u.Temperature(g.Band.Low))
			f.Values.Set(key+"-high", u.Temperature(g.Band.High))
			f.Values.Set(key+"-hot", u.Temperature(g.Band.TooHot))
		}
	}
	if st.Unattended {
		f.Values.Set("unattended", "yes")
	}
	return f
}

func (s Room) saveStove(q *kit.Request) error {
	old, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	shown := stoveToForm(q.Units(), old)
	st := readStove(q, f, shown, old)
	st.ID, st.Version = old.ID, f.Version()
	if f.Ok() {
		_, err := s.keepStove(q, f, st, func(ctx context.Context, st store.Stove) (int64, error) { return st.ID, q.Home.SaveStove(ctx, st) })
		switch {
		case err == nil:
			q.Say("Kept. Burns already logged keep the stove as it was.")
			return q.SeeOther(fmt.Sprintf("/stoves/%d", old.ID))
		case errors.Is(err, store.ErrStale):
			f.Conflict(shown, old.Version)
			return s.showStoveForm(q, http.StatusConflict, old.ID, old.Name, f)
		case !errors.Is(err, store.ErrTaken):
			return err
		}
	}
	return s.showStoveForm(q, http.StatusUnprocessableEntity, old.ID, old.Name, f)
}

// removeStove takes a stove off the list; its burns stay.
func (s Room) removeStove(q *kit.Request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	if err := q.Home.RemoveStove(q.Ctx(), st.ID, true, s.Now()); err != nil {
		return err
	}
	q.Say("%s is off the list. Its burns stay, and it can be put back below.", st.Name)
	return q.SeeOther("/stoves")
}

func (s Room) putBackStove(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.RemoveStove(q.Ctx(), id, false, s.Now()); err != nil {
		return err
	}
	return q.SeeOther(fmt.Sprintf("/stoves/%d", id))
}
