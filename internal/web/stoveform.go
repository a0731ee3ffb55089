package web

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
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/say"
	"smolder/internal/store"
)

// controlRows is how many controls the form has room for.
const controlRows = stove.MostControls

type stoveForm struct {
	page
	ID       int64
	Form     *form
	Families []option
	Roles    []option
	Scales   []option
	Linings  []option
	Builds   []option
	Spaces   []option
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

// newSpaceWord is the choice of a space that is not there yet.
const newSpaceWord = "new"

func (s *Server) showStoveForm(q *request, status int, id int64, title string, f *form) error {
	spaces, err := q.house.Spaces(q.ctx())
	if err != nil {
		return err
	}
	p := newStoveForm(q, id, title, f)
	for _, sp := range spaces {
		p.Spaces = append(p.Spaces, option{Value: strconv.FormatInt(sp.ID, 10), Label: sp.Name})
	}
	p.Spaces = append(p.Spaces, option{Value: newSpaceWord, Label: "another, described below"})
	if !f.has("space-id") {
		f.Values.Set("space-id", p.Spaces[0].Value)
	}
	q.render(status, "stove-form", p)
	return nil
}

func newStoveForm(q *request, id int64, title string, f *form) *stoveForm {
	p := &stoveForm{page: page{Title: title, Nav: "stoves"}, ID: id, Form: f}
	for _, k := range say.Families {
		p.Families = append(p.Families, option{Value: string(k.Key), Label: k.Name + ": " + k.About})
	}
	p.Roles = []option{{Value: "", Label: "none"}}
	for _, k := range say.Roles {
		p.Roles = append(p.Roles, option{Value: string(k.Key), Label: k.Name})
	}
	for _, k := range say.Scales {
		p.Scales = append(p.Scales, option{Value: string(k.Key), Label: k.Name})
	}
	for _, k := range say.Linings {
		p.Linings = append(p.Linings, option{Value: string(k.Key), Label: k.Name})
	}
	p.Builds = buildOptions()
	for i := range controlRows {
		p.Rows = append(p.Rows, i+1)
	}
	u := q.units()
	for _, k := range say.Places {
		key, band := "gauge-"+string(k.Key), k.Key.DefaultBand()
		row := gaugeRow{Key: string(k.Key), Name: k.Name, Bands: k.Key.OfFire(), On: f.has(key), Low: f.text(key + "-low"), High: f.text(key + "-high"),
			TooHot: f.text(key + "-hot"), Error: f.Errors[key]}
		if row.Bands && row.Low == "" && row.High == "" {
			row.Low, row.High, row.TooHot = u.Temperature(band.Low), u.Temperature(band.High), u.Temperature(band.TooHot)
		}
		p.Gauges = append(p.Gauges, row)
	}
	return p
}

func (s *Server) newStove(q *request) error {
	f := filled("family", string(stove.SecondaryAir), "lining", string(flue.Insulated), "control-1-name", "Lever", "control-1-role", string(stove.Combined),
		"control-1-scale", string(stove.Lever), "bends", "0")
	return s.showStoveForm(q, http.StatusOK, 0, "A new stove", f)
}

// readStove reads the whole form; what is wrong is noted field by field. shown is
// the form as it was shown of was, nil for a new stove.
func readStove(q *request, f *form, shown *form, was store.Stove) store.Stove {
	u := q.units()
	var st store.Stove
	st.Name = f.name("name", "stove-name")
	st.Room = f.name("room", "stove-room")
	st.Family = stove.Family(f.text("family"))
	st.Volume = kept(f, shown, "volume", was.Volume, in(units.ParseVolume, u))
	st.Width = kept(f, shown, "width", was.Width, in(units.ParseSmallLength, u))
	st.Depth = kept(f, shown, "depth", was.Depth, in(units.ParseSmallLength, u))
	st.Height = kept(f, shown, "height", was.Height, in(units.ParseSmallLength, u))
	st.MaxLoad = kept(f, shown, "max-load", was.MaxLoad, in(units.ParseMass, u))
	st.Output = keptOptional(f, shown, "output", was.Output, in(units.ParsePower, u))
	st.Double = f.text("double") != ""
	st.Unattended = f.text("unattended") != ""
	st.Chimney = flue.Chimney{
		Height: kept(f, shown, "chimney-height", was.Chimney.Height, in(units.ParseLength, u)), Diameter: kept(f, shown, "diameter", was.Chimney.Diameter, in(units.ParseSmallLength, u)),
		Lining: flue.Lining(f.text("lining")), Outside: f.text("outside") != "",
	}
	bends, _ := optional(f, "bends", func(t string) (float64, error) { return units.ParseNumber(t, "number of bends", 0, 8) })
	st.Chimney.Bends = int(bends)
	st.Chimney.Horizontal = keptOptional(f, shown, "horizontal", was.Chimney.Horizontal, in(units.ParseLength, u))
	st.Chimney.Altitude = keptOptional(f, shown, "altitude", was.Chimney.Altitude, in(units.ParseLength, u))
	st.Controls = readControls(f)
	st.Gauges = readGauges(f, u, shown, was)
	if f.text("space-id") == newSpaceWord {
		st.Space = readSpace(f, u, nil, store.Space{}, ownPrefix)
	} else if st.Space.ID = f.number("space-id"); st.Space.ID == 0 {
		if st.Space.ID = was.Space.ID; st.Space.ID == 0 {
			f.wrong("space-id", "choose the space that it heats, or describe another")
		}
	}
	if f.ok() {
		keepKeys(was.Controls, st.Controls)
		f.failsAll(st.Check(), stoveField)
	}
	return st
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
				f.fails(prefix+"full", err)
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

func readGauges(f *form, u units.System, shown *form, was store.Stove) []stove.Gauge {
	var out []stove.Gauge
	for _, place := range stove.Places {
		key := "gauge-" + string(place)
		if !f.has(key) {
			continue
		}
		g := stove.NewGauge(place)
		old, _ := was.Gauge(place)
		for _, edge := range []struct {
			name string
			into *units.Celsius
			was  units.Celsius
		}{{key + "-low", &g.Band.Low, old.Band.Low}, {key + "-high", &g.Band.High, old.Band.High}, {key + "-hot", &g.Band.TooHot, old.Band.TooHot}} {
			if f.has(edge.name) {
				*edge.into = kept(f, shown, edge.name, edge.was, usualEdge(u, g, *edge.into, in(units.ParseTemperature, u)))
			}
			if text := f.Errors[edge.name]; text != "" {
				f.wrong(key, text)
			}
		}
		if place.OfFire() {
			if err := g.Band.Check(); err != nil {
				f.fails(key, err)
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

func (s *Server) addStove(q *request) error {
	f, err := q.form()
	if err != nil {
		return err
	}
	st := readStove(q, f, nil, store.Stove{})
	if f.ok() {
		id, err := s.keepStove(q, f, st, q.house.AddStove)
		if err == nil {
			return q.seeOther(fmt.Sprintf("/stoves/%d", id))
		}
		if !errors.Is(err, store.ErrTaken) {
			return err
		}
	}
	return s.showStoveForm(q, http.StatusUnprocessableEntity, 0, "A new stove", f)
}

// keepStove makes the space that was described with a stove, if one was, and
// keeps the stove in it. A name in use is noted in the form.
func (s *Server) keepStove(q *request, f *form, st store.Stove, keep func(context.Context, store.Stove) (int64, error)) (int64, error) {
	fresh := st.Space.ID == 0
	if fresh {
		var err error
		if st.Space.ID, err = q.house.AddSpace(q.ctx(), st.Space); err != nil {
			if errors.Is(err, store.ErrTaken) {
				f.wrong(ownPrefix+"space", "there is a space of that name already; another name would do, or choose it from the list")
			}
			return 0, err
		}
	}
	id, err := keep(q.ctx(), st)
	if errors.Is(err, store.ErrTaken) {
		f.wrong("name", "there is a stove of that name already; another name would do")
	}
	if err != nil && fresh { // nothing of a refused form stays
		if e := q.house.RemoveSpace(q.ctx(), st.Space.ID, true); e != nil {
			return 0, e
		}
	}
	return id, err
}

func (s *Server) editStove(q *request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	return s.showStoveForm(q, http.StatusOK, st.ID, st.Name, stoveToForm(q.units(), st))
}

// stoveToForm writes a stove as it would be typed.
func stoveToForm(u units.System, st store.Stove) *form {
	c := st.Chimney
	f := filled("name", st.Name, "room", st.Room, "family", string(st.Family), "volume", u.Volume(st.Volume), "width", u.Size(st.Width), "depth", u.Size(st.Depth),
		"height", u.Size(st.Height), "max-load", u.Mass(st.MaxLoad), "chimney-height", u.Length(c.Height), "diameter", u.Size(c.Diameter),
		"bends", strconv.Itoa(c.Bends), "horizontal", u.Length(c.Horizontal), "altitude", u.Length(c.Altitude), "lining", string(c.Lining),
		"space-id", strconv.FormatInt(st.Space.ID, 10), "version", strconv.Itoa(st.Version))
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

func (s *Server) saveStove(q *request) error {
	old, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	f, err := q.form()
	if err != nil {
		return err
	}
	shown := stoveToForm(q.units(), old)
	st := readStove(q, f, shown, old)
	st.ID, st.Version = old.ID, f.version()
	if f.ok() {
		_, err := s.keepStove(q, f, st, func(ctx context.Context, st store.Stove) (int64, error) { return st.ID, q.house.SaveStove(ctx, st) })
		switch {
		case err == nil:
			q.say("Kept. Burns already logged keep the stove as it was.")
			return q.seeOther(fmt.Sprintf("/stoves/%d", old.ID))
		case errors.Is(err, store.ErrStale):
			f.conflict(shown, old.Version)
			return s.showStoveForm(q, http.StatusConflict, old.ID, old.Name, f)
		case !errors.Is(err, store.ErrTaken):
			return err
		}
	}
	return s.showStoveForm(q, http.StatusUnprocessableEntity, old.ID, old.Name, f)
}

// removeStove takes a stove off the list; its burns stay.
func (s *Server) removeStove(q *request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	if err := q.house.RemoveStove(q.ctx(), st.ID, true, s.Now()); err != nil {
		return err
	}
	q.say("%s is off the list. Its burns stay, and it can be put back below.", st.Name)
	return q.seeOther("/stoves")
}

func (s *Server) putBackStove(q *request) error {
	id, err := q.id("id")
	if err != nil {
		return err
	}
	if err := q.house.RemoveStove(q.ctx(), id, false, s.Now()); err != nil {
		return err
	}
	return q.seeOther(fmt.Sprintf("/stoves/%d", id))
}
