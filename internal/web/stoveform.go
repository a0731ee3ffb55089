package web

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"unicode"

	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/store"
)

// controlRows is how many controls the form has room for.
const controlRows = 8

type stoveForm struct {
	page
	ID       int64
	Form     *form
	Families []option
	Roles    []option
	Scales   []option
	Linings  []option
	Builds   []option
	Rows     []int
	Gauges   []gaugeRow
}

type gaugeRow struct {
	Key, Name string
	Bands     bool
	On        bool
	Low, High string
	TooHot    string
	Error     string
}

func newStoveForm(q *request, id int64, title string, f *form) *stoveForm {
	p := &stoveForm{page: page{Title: title, Nav: "stoves"}, ID: id, Form: f}
	for _, k := range stove.Families {
		p.Families = append(p.Families, option{Value: string(k.Key), Label: k.Name + ": " + k.About})
	}
	p.Roles = []option{{Value: "", Label: "none"}}
	for _, k := range stove.Roles {
		p.Roles = append(p.Roles, option{Value: string(k.Key), Label: k.Name})
	}
	for _, k := range stove.ScaleKinds {
		p.Scales = append(p.Scales, option{Value: string(k.Key), Label: k.Name})
	}
	for _, k := range flue.Linings {
		p.Linings = append(p.Linings, option{Value: string(k.Key), Label: k.Name})
	}
	for _, k := range house.Builds {
		p.Builds = append(p.Builds, option{Value: string(k.Key), Label: k.Name})
	}
	for i := range controlRows {
		p.Rows = append(p.Rows, i+1)
	}
	u := q.units()
	for _, k := range stove.Places {
		key := "gauge-" + string(k.Key)
		row := gaugeRow{Key: string(k.Key), Name: k.Long, Bands: k.Key.OfFire(), On: f.has(key), Low: f.text(key + "-low"), High: f.text(key + "-high"),
			TooHot: f.text(key + "-hot"), Error: f.Errors[key]}
		if row.Bands && row.Low == "" && row.High == "" {
			row.Low, row.High, row.TooHot = u.Temperature(k.Band.Low), u.Temperature(k.Band.High), u.Temperature(k.Band.TooHot)
		}
		p.Gauges = append(p.Gauges, row)
	}
	return p
}

func (s *Server) newStove(q *request) error {
	f := filled("family", string(stove.SecondaryAir), "lining", string(flue.Insulated), "control-1-name", "Lever", "control-1-role", string(stove.Combined),
		"control-1-scale", string(stove.Lever), "gauge-"+string(stove.ConnectorProbe), "yes", "bends", "0", "horizontal", "0")
	q.render(http.StatusOK, "stove-form", newStoveForm(q, 0, "A new stove", f))
	return nil
}

// readStove reads the whole form; what is wrong is noted field by field.
func readStove(q *request, f *form) store.Stove {
	u := q.units()
	var st store.Stove
	st.Name = f.name("name", "the stove's name")
	st.Room = f.name("room", "the room it stands in")
	st.Family = stove.Family(f.text("family"))
	st.Volume = parse(f, "volume", in(units.ParseVolume, u))
	st.Width = parse(f, "width", in(units.ParseSmallLength, u))
	st.Depth = parse(f, "depth", in(units.ParseSmallLength, u))
	st.Height = parse(f, "height", in(units.ParseSmallLength, u))
	st.MaxLoad = parse(f, "max-load", in(units.ParseMass, u))
	st.Output, _ = optional(f, "output", in(units.ParsePower, u))
	st.Double = f.text("double") != ""
	st.Chimney = flue.Chimney{
		Height: parse(f, "chimney-height", in(units.ParseLength, u)), Diameter: parse(f, "diameter", in(units.ParseSmallLength, u)),
		Lining: flue.Lining(f.text("lining")), Outside: f.text("outside") != "",
	}
	bends := parse(f, "bends", func(t string) (float64, error) { return units.ParseNumber(t, "number of bends", 0, 8) })
	st.Chimney.Bends = int(bends)
	st.Chimney.Horizontal, _ = optional(f, "horizontal", in(units.ParseLength, u))
	st.Chimney.Altitude, _ = optional(f, "altitude", in(units.ParseLength, u))
	st.Controls = readControls(f)
	st.Gauges = readGauges(f, u)
	if f.has("own-floor") {
		h := readHouse(f, u, "own-")
		st.House = &h
	}
	if f.ok() {
		checkStove(f, st.Stove)
	}
	return st
}

// checkStove sorts the core's objections to the fields they are about.
func checkStove(f *form, st stove.Stove) {
	if err := st.Chimney.Check(); err != nil {
		f.wrong("chimney-height", err.Error())
	}
	err := st.Check()
	if err == nil {
		return
	}
	all := []error{err}
	if joined, ok := err.(interface{ Unwrap() []error }); ok { //nolint:errorlint // the list itself is wanted
		all = joined.Unwrap()
	}
	for _, e := range all {
		f.wrong(stoveField(e.Error()), e.Error())
	}
}

// stoveField guesses from a sentence which field it stands under.
func stoveField(text string) string {
	for _, k := range []struct{ word, field string }{{"largest load", "max-load"}, {"volume says", "volume"}, {"firebox of", "volume"}, {"firebox width", "width"},
		{"firebox depth", "depth"}, {"firebox height", "height"}, {"chimney", "chimney-height"}, {"flue", "diameter"}, {"run", "horizontal"}, {"bends", "bends"},
		{"family", "family"}, {"thermometer", "gauge-" + string(stove.ConnectorSurface)}, {"band", "gauges"}, {"control", "control-1-name"}} {
		if strings.Contains(text, k.word) {
			return k.field
		}
	}
	return "controls"
}

func readControls(f *form) []stove.Control {
	var out []stove.Control
	for i := range controlRows {
		prefix := fmt.Sprintf("control-%d-", i+1)
		name, role := f.text(prefix+"name"), stove.Role(f.text(prefix+"role"))
		if name == "" && role == "" {
			continue
		}
		if name == "" || role == "" {
			f.wrong(prefix+"name", "a control has a name and a purpose")
			continue
		}
		c := stove.Control{Name: name, Key: keyOf(name), Role: role, Scale: stove.Scale{Kind: stove.ScaleKind(f.text(prefix + "scale"))}}
		full := f.text(prefix + "full")
		switch c.Scale.Kind {
		case stove.Notches:
			for _, n := range strings.Split(full, ",") {
				if n = strings.TrimSpace(n); n != "" {
					c.Scale.Notches = append(c.Scale.Notches, n)
				}
			}
		case stove.Turns, stove.Millimetres, stove.Sixteenths:
			c.Scale.Full = parse(f, prefix+"full", func(t string) (float64, error) {
				return units.ParseNumber(strings.TrimRightFunc(t, func(r rune) bool { return unicode.IsLetter(r) || r == ' ' }), "fully open position", 0.1, 200)
			})
		case stove.Lever:
			c.Scale.OpenLeft = strings.EqualFold(full, "left")
		}
		if f.Errors[prefix+"full"] == "" {
			if err := c.Scale.Check(); err != nil {
				f.wrong(prefix+"full", err.Error())
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

func readGauges(f *form, u units.System) []stove.Gauge {
	var out []stove.Gauge
	for _, k := range stove.Places {
		key := "gauge-" + string(k.Key)
		if !f.has(key) {
			continue
		}
		g := stove.NewGauge(k.Key)
		for _, edge := range []struct {
			name string
			into *units.Celsius
		}{{key + "-low", &g.Band.Low}, {key + "-high", &g.Band.High}, {key + "-hot", &g.Band.TooHot}} {
			if v, typed := optional(f, edge.name, in(units.ParseTemperature, u)); typed {
				*edge.into = v
			}
			if text := f.Errors[edge.name]; text != "" {
				f.wrong(key, text)
			}
		}
		if k.Key.OfFire() {
			if err := g.Band.Check(); err != nil {
				f.wrong(key, err.Error())
			}
		} else {
			g.Band = stove.Band{}
		}
		out = append(out, g)
	}
	return out
}

func (s *Server) addStove(q *request) error {
	f, err := q.form()
	if err != nil {
		return err
	}
	st := readStove(q, f)
	if f.ok() {
		id, err := q.house.AddStove(q.ctx(), st)
		if err == nil {
			return q.seeOther(fmt.Sprintf("/stoves/%d", id))
		}
		if !errors.Is(err, store.ErrTaken) {
			return err
		}
		f.wrong("name", "there is a stove of that name already; another name would do")
	}
	q.render(http.StatusUnprocessableEntity, "stove-form", newStoveForm(q, 0, "A new stove", f))
	return nil
}

func (s *Server) editStove(q *request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	q.render(http.StatusOK, "stove-form", newStoveForm(q, st.ID, st.Name, stoveToForm(q.units(), st)))
	return nil
}

// stoveToForm writes a stove as it would be typed.
func stoveToForm(u units.System, st store.Stove) *form {
	c := st.Chimney
	f := filled("name", st.Name, "room", st.Room, "family", string(st.Family), "volume", u.Volume(st.Volume), "width", u.Size(st.Width), "depth", u.Size(st.Depth),
		"height", u.Size(st.Height), "max-load", u.Mass(st.MaxLoad), "chimney-height", u.Length(c.Height), "diameter", u.Size(c.Diameter),
		"bends", strconv.Itoa(c.Bends), "horizontal", u.Length(c.Horizontal), "altitude", u.Length(c.Altitude), "lining", string(c.Lining))
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
	if st.House != nil {
		houseToForm(f, u, "own-", *st.House)
	}
	return f
}

func (s *Server) saveStove(q *request) error {
	old, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	f, err := q.form()
	if err != nil {
		return err
	}
	st := readStove(q, f)
	keepKeys(old.Controls, st.Controls)
	if f.ok() {
		err := q.house.SaveStove(q.ctx(), old.ID, st)
		if err == nil {
			q.say("Kept. Burns already logged keep the stove as it was.")
			return q.seeOther(fmt.Sprintf("/stoves/%d", old.ID))
		}
		if !errors.Is(err, store.ErrTaken) {
			return err
		}
		f.wrong("name", "there is a stove of that name already; another name would do")
	}
	q.render(http.StatusUnprocessableEntity, "stove-form", newStoveForm(q, old.ID, old.Name, f))
	return nil
}
