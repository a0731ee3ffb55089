package stoves

import (
	"fmt"
	"html/template"
	"net/http"
	"strconv"

	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// controlRows is how many controls the form has room for.
const controlRows = stove.MostControls

type stoveForm struct {
	kit.Page
	ID    int64
	Form  *kit.Form
	Drawn []family
	// AskBypass: a catalyst's bypass is asked by its name, where none stands among the controls.
	AskBypass bool
	Roles     []kit.Option
	Scales    []kit.Option
	Linings   []kit.Option
	Builds    []kit.Option
	Helps     []kit.Option
	Spaces    []kit.Option
	Walls     []kit.Option // where the chimney runs
	Doors     []kit.Option // how its manual has the door, to light
	Flaps     []kit.Option // and the ash flap
	Lights    []kit.Option // and a control
	Rows      []controlRow // after the first: those that there are, and some more
	Spare     []controlRow // and the rest, folded away
	Named     []named      // those that have a name
	Gauges    []gaugeRow
	Column    strip.Pair // what is told so far, drawn
	Next      string     // what comes after it
}

// family is one of the families of stoves, drawn in section.
type family struct {
	Value, Name, About string
	Picture            template.HTML
	Chosen             bool
}

// controlRow is a row of the form for one control.
type controlRow struct {
	Number int
	*stoveForm
}

// named is a control that has a name, with its field for how it stands to light.
type named struct{ Field, Name string }

// spareRows are shown empty behind the controls that there are.
const spareRows = 2

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
		if p.Next = q.T("Next comes its page: what the chimney draws, and how the stove behaves."); len(stacks) == 0 {
			p.Next = q.T("Next comes the wood: its kind, and how long it has lain.")
		}
	}
	for _, sp := range spaces {
		p.Spaces = append(p.Spaces, kit.Option{Value: strconv.FormatInt(sp.ID, 10), Label: sp.Name})
	}
	p.Spaces = append(p.Spaces, kit.Option{Value: newSpaceWord, Label: q.T("another, described below")})
	if !f.Has("space-id") {
		f.Values.Set("space-id", p.Spaces[0].Value)
	}
	q.Show(status, "stove-form", p)
	return nil
}

func newStoveForm(q *kit.Request, id int64, title string, f *kit.Form) *stoveForm {
	p := &stoveForm{Page: kit.Page{Title: title, Nav: "stoves", Wide: true}, ID: id, Form: f}
	for _, k := range say.Families {
		p.Drawn = append(p.Drawn, family{Value: string(k.Key), Name: q.T(k.Name), About: q.T(k.About), Chosen: f.Text("family") == string(k.Key), Picture: say.FamilyDrawn(k.Key)})
	}
	p.AskBypass = true
	for i := range controlRows {
		p.AskBypass = p.AskBypass && f.Text(fmt.Sprintf("control-%d-role", i+1)) != string(stove.BypassRole)
	}
	p.Roles = []kit.Option{{Value: "", Label: q.T("none")}}
	for _, k := range say.Roles {
		p.Roles = append(p.Roles, kit.Option{Value: string(k.Key), Label: q.T(k.Name)})
	}
	for _, k := range say.Scales {
		p.Scales = append(p.Scales, kit.Option{Value: string(k.Key), Label: q.T(k.Name)})
	}
	for _, k := range say.Linings {
		p.Linings = append(p.Linings, kit.Option{Value: string(k.Key), Label: q.T(k.Name)})
	}
	p.Builds, p.Helps = buildOptions(q.Locale()), helperOptions(q.Locale())
	p.Linings = append([]kit.Option{{Label: q.T("not known")}}, p.Linings...)
	p.Walls = []kit.Option{{Label: q.T("inside the house")}, {Value: "yes", Label: q.T("on an outside wall")}}
	p.Doors, p.Flaps, p.Lights = []kit.Option{{Label: q.T("not said")}}, []kit.Option{{Label: q.T("not said")}}, []kit.Option{{Label: q.T("as usual")}}
	for _, k := range say.DoorRules {
		p.Doors = append(p.Doors, kit.Option{Value: string(k.Key), Label: q.T(k.Name)})
	}
	for _, k := range say.FlapRules {
		p.Flaps = append(p.Flaps, kit.Option{Value: string(k.Key), Label: q.T(k.Name)})
	}
	for _, k := range say.ToLights {
		p.Lights = append(p.Lights, kit.Option{Value: string(k.Key), Label: q.T(k.Name)})
	}
	last := 1
	for i := range controlRows {
		if name := f.Text(fmt.Sprintf("control-%d-name", i+1)); name != "" {
			last = i + 1
			p.Named = append(p.Named, named{Field: fmt.Sprintf("control-%d-light", last), Name: name})
		}
	}
	for i := 2; i <= controlRows; i++ {
		if i <= last+spareRows {
			p.Rows = append(p.Rows, controlRow{i, p})
		} else {
			p.Spare = append(p.Spare, controlRow{i, p})
		}
	}
	u := q.Locale()
	p.told(u)
	for _, k := range say.Places {
		key, band := "gauge-"+string(k.Key), k.Key.DefaultBand()
		row := gaugeRow{Key: string(k.Key), Name: q.T(k.Name), Bands: k.Key.OfFire(), On: f.Has(key), Low: f.Text(key + "-low"), High: f.Text(key + "-high"),
			TooHot: f.Text(key + "-hot"), Error: f.Errors[key]}
		if row.Bands && row.Low == "" && row.High == "" {
			row.Low, row.High, row.TooHot = u.Temperature(band.Low), u.Temperature(band.High), u.Temperature(band.TooHot)
		}
		p.Gauges = append(p.Gauges, row)
	}
	return p
}

func (s Room) newStove(q *kit.Request) error {
	f := kit.Filled("name", q.T("the stove"), "bypass", q.T("Bypass"), "family", string(stove.SecondaryAir), "control-1-name", q.T("Air"), "control-1-role",
		string(stove.Combined), "control-1-scale", string(stove.Lever))
	return s.showStoveForm(q, http.StatusOK, 0, q.T("A new stove"), f)
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
	return s.showStoveForm(q, http.StatusOK, 0, q.T("A new stove"), f)
}

// told draws the stove of the form and says what is taken for what it does not
// tell. Size and height have no usual value: what is not told of them is drawn
// dashed.
func (p *stoveForm) told(u lang.Locale) {
	f := kit.Filled()
	f.Values = p.Form.Values
	st := readBox(f, u, nil, stove.Stove{Name: p.Form.Text("name"), Room: p.Form.Text("room"), Family: stove.Family(p.Form.Text("family"))})
	st.Chimney, st.Assumed = readChimney(f, u, nil, flue.Chimney{})
	c := strip.Column{Room: 19, Outdoor: 4, Gas: 250, Locale: u, House: house.Default(), NoSize: st.Volume < 3,
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
