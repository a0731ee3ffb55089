package stoves

import (
	"fmt"
	"slices"
	"strings"
	"unicode"

	"smolder/internal/core/flue"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/lang"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// readStove reads the whole form; what is wrong is noted field by field. shown is
// the form as it was shown of was, nil for a new stove.
func readStove(q *kit.Request, f *kit.Form, shown *kit.Form, was store.Stove) store.Stove {
	u := q.Locale()
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
	st.Controls = withBypass(f, st.Family, readControls(f))
	st.Manual = readManual(f, u, shown, was.Manual)
	st.Gauges = readGauges(f, u, shown, was)
	if f.Text("space-id") == newSpaceWord {
		st.Space = readSpace(f, u, nil, store.Space{}, ownPrefix)
	} else if st.Space.ID = f.Number("space-id"); st.Space.ID == 0 {
		if st.Space.ID = was.Space.ID; st.Space.ID == 0 {
			f.Wrong("space-id", q.T("choose the space that it heats, or describe another"))
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
func readBox(f *kit.Form, u lang.Locale, shown *kit.Form, was stove.Stove) stove.Stove {
	told := kit.Kept(f, shown, "volume", units.Firebox{Volume: was.Volume}, kit.In(units.ParseFirebox, u.System))
	was.Volume = told.Volume
	was.Width = kit.KeptOptional(f, shown, "width", was.Width, kit.In(units.ParseSmallLength, u.System))
	was.Depth = kit.KeptOptional(f, shown, "depth", was.Depth, kit.In(units.ParseSmallLength, u.System))
	was.Height = kit.KeptOptional(f, shown, "height", was.Height, kit.In(units.ParseSmallLength, u.System))
	for i, side := range []*units.Metre{&was.Width, &was.Depth, &was.Height} {
		if *side == 0 { // what is said of a side by itself goes before
			*side = told.Sides[i]
		}
	}
	was.MaxLoad = kit.KeptOptional(f, shown, "max-load", was.MaxLoad, kit.In(units.ParseMass, u.System))
	was.Output = kit.KeptOptional(f, shown, "output", was.Output, kit.In(units.ParsePower, u.System))
	return was
}

// readChimney reads the chimney, and which of its fields are empty that would
// otherwise be taken for "none".
func readChimney(f *kit.Form, u lang.Locale, shown *kit.Form, was flue.Chimney) (c flue.Chimney, unknown []string) {
	c = flue.Chimney{
		Height: kit.Kept(f, shown, "chimney-height", was.Height, kit.In(units.ParseLength, u.System)), Lining: flue.Lining(f.Text("lining")),
		Outside:    f.Text("outside") != "",
		Diameter:   kit.KeptOptional(f, shown, "diameter", was.Diameter, kit.In(units.ParseSmallLength, u.System)),
		Horizontal: kit.KeptOptional(f, shown, "horizontal", was.Horizontal, kit.In(units.ParseLength, u.System)),
		Altitude:   kit.KeptOptional(f, shown, "altitude", was.Altitude, kit.In(units.ParseLength, u.System)),
	}
	bends, _ := kit.Optional(f, "bends", func(t string) (float64, error) { return units.ParseNumber(t, u.T("number of bends"), 0, 8) })
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

// withBypass adds the bypass of a catalyst that was asked for by its name alone: it is shut or
// open, on a lever.
func withBypass(f *kit.Form, family stove.Family, controls []stove.Control) []stove.Control {
	name := f.Text("bypass")
	if family != stove.Catalytic || name == "" || slices.ContainsFunc(controls, func(c stove.Control) bool { return c.Role == stove.BypassRole }) {
		return controls
	}
	if len(controls) == controlRows {
		f.Wrong("bypass", f.Locale().T("there are as many controls as there may be: take one out, or leave this empty"))
		return controls
	}
	return append(controls, stove.Control{Name: name, Key: keyOf(name), Role: stove.BypassRole, Scale: stove.Scale{Kind: stove.Lever}})
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
			f.Wrong(prefix+"name", f.Locale().T("a control has a name and a purpose"))
			continue
		}
		c := stove.Control{Name: name, Key: keyOf(name), Role: role, Scale: stove.Scale{Kind: stove.ScaleKind(f.Text(prefix + "scale"))}}
		c.ToLight = stove.ToLight(f.Text(prefix + "light"))
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
				return units.ParseNumber(strings.TrimRightFunc(t, func(r rune) bool { return unicode.IsLetter(r) || r == ' ' }), f.Locale().T("fully open position"), 0.1, 200)
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

// readManual reads what the manual says where the rule says otherwise; what is empty it does
// not say.
func readManual(f *kit.Form, u lang.Locale, shown *kit.Form, was stove.Manual) stove.Manual {
	return stove.Manual{Door: stove.Lit(f.Text("door-rule")), Flap: stove.FlapRule(f.Text("flap-rule")),
		DoorFor: kit.KeptOptional(f, shown, "door-for", was.DoorFor, when.ParseDuration),
		FlapFor: kit.KeptOptional(f, shown, "flap-for", was.FlapFor, when.ParseDuration),
		Engage:  kit.KeptOptional(f, shown, "engage", was.Engage, kit.In(units.ParseTemperature, u.System))}
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

func readGauges(f *kit.Form, u lang.Locale, shown *kit.Form, was store.Stove) []stove.Gauge {
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
				*edge.into = kit.Kept(f, shown, edge.name, edge.was, usualEdge(u, g, *edge.into, kit.In(units.ParseTemperature, u.System)))
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
func usualEdge(u lang.Locale, g stove.Gauge, usual units.Celsius, read func(string) (units.Celsius, error)) func(string) (units.Celsius, error) {
	return func(typed string) (units.Celsius, error) {
		if typed == u.Temperature(usual) && g.Place.OfFire() {
			return usual, nil
		}
		return read(typed)
	}
}
