package web

import (
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"strconv"
	"strings"
	"unicode"

	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/store"
	"smolder/internal/strip"
)

type stovesPage struct {
	page
	Stoves []store.Stove
}

func (s *Server) stoves(q *request) error {
	stoves, err := q.house.Stoves(q.ctx())
	if err != nil {
		return err
	}
	q.render(http.StatusOK, "stoves", &stovesPage{page: page{Title: "Stove and flue", Nav: "stoves"}, Stoves: stoves})
	return nil
}

type oneStovePage struct {
	page
	Stove   store.Stove
	Form    *form
	Column  template.HTML
	Figures []figure
	Facts   []figure
	Verdict string
}

// stove shows a stove with its column at a chosen outdoor temperature.
func (s *Server) stove(q *request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	f, err := q.form()
	if err != nil {
		return err
	}
	u := q.units()
	if !f.has("outdoor") {
		f.Values.Set("outdoor", u.Temperature(4))
	}
	if !f.has("gas") {
		f.Values.Set("gas", u.Temperature(250))
	}
	c := strip.Column{Stove: st.Stove, House: st.Around(q.profile), Room: 19, Outdoor: 4, Gas: 250, Units: u}
	outdoor, gas := parse(f, "outdoor", in(parseOutdoor, u)), parse(f, "gas", in(units.ParseTemperature, u))
	status := http.StatusOK
	if gas > 700 {
		f.wrong("gas", "flue gas above "+u.Temperature(700)+" is a chimney fire; "+u.Temperature(250)+" would do")
	}
	if f.ok() {
		c.Outdoor, c.Gas = outdoor, gas
	} else {
		status = http.StatusUnprocessableEntity
	}
	p := &oneStovePage{page: page{Title: st.Name, Nav: "stoves", Wide: true}, Stove: st, Form: f, Column: c.SVG(), Figures: draftFigures(q, c), Facts: stoveFacts(q, st)}
	p.Verdict = draftVerdict(u, c.Draft().Net)
	q.render(status, "stove", p)
	return nil
}

func draftVerdict(u units.System, net units.Pascal) string {
	switch {
	case net < 0:
		return "The room pulls harder than the chimney: smoke would come in. Fans off, a window on the stove's level open a crack, and warm the flue first."
	case net < 5:
		return "Weak: the stove will be slow to take and may spill when the door is opened. Warm the flue before lighting."
	case net > 27:
		return "Strong: the fire is hard to hold back. Ask a licensed installer about a damper that your manual allows."
	}
	return fmt.Sprintf("Good: most stoves are made for about %s to %s.", u.Draft(10), u.Draft(25))
}

func stoveFacts(q *request, st store.Stove) []figure {
	u, c := q.units(), st.Chimney
	facts := []figure{
		{Label: "family", Value: st.Family.Name()},
		{Label: "firebox", Value: fmt.Sprintf("%s; %s wide, %s deep, %s high", u.Volume(st.Volume), u.Size(st.Width), u.Size(st.Depth), u.Size(st.Height))},
		{Label: "manual's largest load", Value: u.Mass(st.MaxLoad)},
		{Label: "longest piece", Value: fmt.Sprintf("%s end-on, %s sideways", u.Size(st.LongestPiece(stove.EndOn)), u.Size(st.LongestPiece(stove.Sideways)))},
		{Label: "chimney", Value: chimneySay(u, c)},
	}
	for _, control := range st.Controls {
		facts = append(facts, figure{Label: strings.ToLower(control.Name), Value: scaleSay(control.Scale)})
	}
	for _, g := range st.Gauges {
		value := "no band"
		if g.Place.OfFire() {
			value = fmt.Sprintf("works from %s to %s, too hot from %s", u.Degrees(g.Band.Low), u.Degrees(g.Band.High), u.Temperature(g.Band.TooHot))
		}
		facts = append(facts, figure{Label: g.Place.Name(), Value: value})
	}
	return facts
}

func chimneySay(u units.System, c flue.Chimney) string {
	text := u.Length(c.Height) + ", " + u.Size(c.Diameter) + " wide"
	switch c.Bends {
	case 0:
		text += ", straight"
	case 1:
		text += ", one bend"
	default:
		text += fmt.Sprintf(", %d bends", c.Bends)
	}
	if c.Horizontal > 0 {
		text += ", " + u.Length(c.Horizontal) + " level"
	}
	return text
}

func scaleSay(s stove.Scale) string {
	switch s.Kind {
	case stove.Notches:
		return "notches: " + strings.Join(s.Notches, ", ")
	case stove.Lever:
		if s.OpenLeft {
			return "lever, opens to the left"
		}
		return "lever, opens to the right"
	case stove.PercentOpen:
		return "percent"
	case stove.Sixteenths:
		return units.Number(s.Full, 0) + " sixteenths of an inch when open"
	}
	return units.Number(s.Full, 1) + " " + string(s.Kind) + " when open"
}

func (s *Server) stoveOf(q *request) (store.Stove, error) {
	id, err := q.id("id")
	if err != nil {
		return store.Stove{}, err
	}
	return q.house.Stove(q.ctx(), id)
}

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
