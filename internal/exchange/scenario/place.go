package scenario

import (
	"errors"
	"fmt"
	"strconv"
	"strings"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

type stoveDoc struct {
	Name     string       `json:"name"`
	Family   string       `json:"family"`
	Firebox  text         `json:"firebox"`
	Width    text         `json:"width"`
	Depth    text         `json:"depth"`
	Height   text         `json:"height"`
	Output   text         `json:"output"`
	MaxLoad  text         `json:"max_load"`
	Double   bool         `json:"double_wall"`
	Controls []controlDoc `json:"controls"`
	Gauges   []gaugeDoc   `json:"gauges"`
	Manual   manualDoc    `json:"manual"`
}

// manualDoc is what the stove's manual says where the rule says otherwise.
type manualDoc struct {
	Door    string `json:"door"`
	DoorFor text   `json:"door_for"`
	Flap    string `json:"ash_flap"`
	FlapFor text   `json:"ash_flap_for"`
	Engage  text   `json:"engage"`
}

type controlDoc struct {
	Name    string   `json:"name"`
	Moves   string   `json:"moves"`
	Scale   string   `json:"scale"`
	Full    float64  `json:"full"`
	Notches []string `json:"notches"`
	ToLight string   `json:"to_light"`
}

type gaugeDoc struct {
	Place  string `json:"place"`
	Low    text   `json:"works_from"`
	High   text   `json:"works_to"`
	TooHot text   `json:"too_hot"`
}

type flueDoc struct {
	Height     text   `json:"height"`
	Diameter   text   `json:"diameter"`
	Bends      int    `json:"bends"`
	Horizontal text   `json:"horizontal"`
	Lining     string `json:"lining"`
	Outside    bool   `json:"outside_wall"`
	Altitude   text   `json:"altitude"`
}

type houseDoc struct {
	Floor  float64 `json:"floor_m2"`
	Build  string  `json:"build"`
	Loss   float64 `json:"loss_w_per_k"`
	N50    float64 `json:"n50"`
	Volume text    `json:"volume"`
	Fan    text    `json:"fan"`
}

type weatherDoc struct {
	Outdoor text      `json:"outdoor"`
	Wind    float64   `json:"wind_m_s"`
	Humid   float64   `json:"humidity_pct"`
	Hourly  []hourDoc `json:"hourly"`
}

type hourDoc struct {
	At      text    `json:"at"`
	Outdoor text    `json:"outdoor"`
	Wind    float64 `json:"wind_m_s"`
}

type startDoc struct {
	Room  text `json:"room"`
	Stove text `json:"stove"`
	Coals text `json:"coals"`
}

// metric binds a parser to metric units.
func metric[T any](parse func(string, units.System) (T, error)) func(string) (T, error) {
	return func(s string) (T, error) { return parse(s, units.Metric) }
}

var (
	temperature = metric(units.ParseTemperature)
	mass        = metric(units.ParseMass)
	length      = metric(units.ParseLength)
	small       = metric(units.ParseSmallLength)
	volume      = metric(units.ParseVolume)
)

// parseSpan reads a length of time of any size: "90 s", "4 min", "1:30", "2 h".
func parseSpan(typed string) (time.Duration, error) {
	s := strings.ToLower(strings.TrimSpace(typed))
	bad := &units.ParseError{Input: typed, What: "length of time", Reason: "a number with s, min or h was expected", Try: "90 s, 4 min or 2 h"}
	if hours, minutes, ok := strings.Cut(s, ":"); ok {
		h, err1 := strconv.Atoi(hours)
		m, err2 := strconv.Atoi(minutes)
		if err1 != nil || err2 != nil || h < 0 || m < 0 || m > 59 || h > 48 {
			return 0, bad
		}
		return time.Duration(h)*time.Hour + time.Duration(m)*time.Minute, nil
	}
	for _, u := range []struct {
		word string
		size time.Duration
	}{{"minutes", time.Minute}, {"min", time.Minute}, {"hours", time.Hour}, {"h", time.Hour}, {"seconds", time.Second}, {"s", time.Second}} {
		if n, ok := strings.CutSuffix(s, u.word); ok {
			v, err := strconv.ParseFloat(strings.TrimSpace(n), 64)
			if err != nil || !(v >= 0 && v <= 1e6) {
				return 0, bad
			}
			return time.Duration(v * float64(u.size)), nil
		}
	}
	return 0, bad
}

// setup reads everything that holds before the first match.
func (p *parser) setup(d document) fire.Setup {
	s := fire.Setup{Stove: p.stove(d.Stove, d.Flue), House: p.house(d.House),
		Outdoor: read(p, "weather.outdoor", temperature, d.Weather.Outdoor.or("5 C")), Wind: d.Weather.Wind,
		Room: read(p, "start.room", temperature, d.Start.Room.or("18 C")), Coals: read(p, "start.coals", mass, d.Start.Coals.or("0 kg"))}
	s.Warmth = read(p, "start.stove", temperature, d.Start.Stove.or("-50 C"))
	s.Weather = p.hours(d.Weather)
	p.weather("weather", s.Outdoor, s.Wind)
	switch {
	case s.Room < -20 || s.Room > 40:
		p.fail("start.room", errors.New("a room lies between −20 and 40 °C; 18 C would do"))
	case s.Warmth > 400:
		p.fail("start.stove", errors.New("no stove stands at more than 400 °C before it is loaded; 110 C would do"))
	case s.Coals > units.Kilogram(s.Stove.Volume)*0.05:
		p.fail("start.coals", fmt.Errorf("a firebox of %.0f L holds up to %.1f kg of coals; %.1f kg would do", float64(s.Stove.Volume),
			0.05*float64(s.Stove.Volume), 0.01*float64(s.Stove.Volume)))
	}
	return s
}

// hours reads weather by the hour.
func (p *parser) hours(d weatherDoc) []fire.Weather {
	var out []fire.Weather
	for i, h := range d.Hourly {
		field := fmt.Sprintf("weather.hourly[%d]", i)
		w := fire.Weather{At: read(p, field+".at", parseSpan, string(h.At)), Outdoor: read(p, field+".outdoor", temperature, string(h.Outdoor)), Wind: h.Wind}
		if i > 0 && w.At <= out[i-1].At {
			p.fail(field+".at", errors.New("hours must follow each other; a later one than the last would do"))
		}
		p.weather(field, w.Outdoor, w.Wind)
		out = append(out, w)
	}
	return out
}

func (p *parser) weather(field string, t units.Celsius, wind float64) {
	if t < -50 || t > 45 {
		p.fail(field+".outdoor", errors.New("outdoors lies between −50 and 45 °C; 2 C would do"))
	}
	if !(wind >= 0 && wind <= 30) {
		p.fail(field+".wind_m_s", errors.New("wind at a chimney lies between 0 and 30 m/s; 4 would do"))
	}
}

func (p *parser) house(d houseDoc) house.House {
	h := house.Default()
	if d.Floor != 0 {
		h.Floor = d.Floor
	}
	if d.Build != "" {
		h.Build = house.Build(d.Build)
		h.N50 = h.UsualN50()
	}
	h.Given = d.Loss
	if d.N50 != 0 {
		h.N50 = d.N50
	}
	h.Volume = read(p, "house.volume", volume, d.Volume.or("300 m3"))
	h.Fan = read(p, "house.fan", metric(units.ParseFlow), d.Fan.or("0 m3/h"))
	p.fail("house", h.Check())
	return h
}

// stove reads the stove; what is not said follows from family and firebox.
func (p *parser) stove(d stoveDoc, f flueDoc) stove.Stove {
	s := stove.Stove{Name: d.Name, Family: stove.Family(d.Family), Double: d.Double, Volume: read(p, "stove.firebox", volume, string(d.Firebox))}
	if s.Name == "" {
		s.Name = "the stove"
	}
	if !s.Family.Known() {
		p.fail("stove.family", fmt.Errorf("%q is not a family of stoves; %s would do", d.Family, families()))
	}
	if s.Volume < 3 || s.Volume > 400 {
		p.fail("stove.firebox", errors.New("a firebox holds between 3 and 400 L; 55 L would do"))
	}
	if d.Output != "" {
		s.Output = read(p, "stove.output", metric(units.ParsePower), string(d.Output))
	}
	s.MaxLoad = units.Kilogram(0.16 * s.Volume)
	if d.MaxLoad != "" {
		s.MaxLoad = read(p, "stove.max_load", mass, string(d.MaxLoad))
	}
	if s.MaxLoad < 0.2 || float64(s.MaxLoad) > stove.LoadPerLitre*float64(s.Volume) {
		p.fail("stove.max_load", fmt.Errorf("it does not go with a firebox of %.0f L; %.1f kg would do", float64(s.Volume), 0.14*float64(s.Volume)))
	}
	s.Controls, s.Gauges, s.Chimney = p.controls(d), p.gauges(d), p.flue(f)
	s.Manual = p.manual(d.Manual, s)
	return s
}

// manual reads what the manual says.
func (p *parser) manual(d manualDoc, s stove.Stove) stove.Manual {
	m := stove.Manual{Door: stove.Lit(d.Door), Flap: stove.FlapRule(d.Flap)}
	if d.DoorFor != "" {
		m.DoorFor = read(p, "stove.manual.door_for", parseSpan, string(d.DoorFor))
	}
	if d.FlapFor != "" {
		m.FlapFor = read(p, "stove.manual.ash_flap_for", parseSpan, string(d.FlapFor))
	}
	if d.Engage != "" {
		m.Engage = read(p, "stove.manual.engage", temperature, string(d.Engage))
	}
	s.Manual = m
	p.fail("stove.manual", s.CheckManual())
	return m
}

func families() string {
	var names []string
	for _, k := range stove.Families {
		names = append(names, string(k))
	}
	return strings.Join(names, ", ")
}

func (p *parser) controls(d stoveDoc) []stove.Control {
	if len(d.Controls) == 0 {
		d.Controls = []controlDoc{{Name: "lever", Moves: string(stove.Combined)}}
		if d.Family == string(stove.Catalytic) {
			d.Controls = append(d.Controls, controlDoc{Name: "bypass", Moves: string(stove.BypassRole)})
		}
	}
	var out []stove.Control
	for i, c := range d.Controls {
		field := fmt.Sprintf("stove.controls[%d]", i)
		role := stove.Role(c.Moves)
		if !role.Known() {
			p.fail(field+".moves", fmt.Errorf("%q is not something a stove has; combined, primary, secondary, under-grate, bypass, fan and others in docs/formats.md would do", c.Moves))
		}
		if strings.TrimSpace(c.Name) == "" {
			c.Name = c.Moves
		}
		scale := stove.Scale{Kind: stove.ScaleKind(c.Scale), Full: c.Full, Notches: c.Notches}
		if c.Scale == "" {
			scale.Kind = stove.PercentOpen
		}
		p.fail(field+".scale", scale.Check())
		out = append(out, stove.Control{Key: strings.ToLower(c.Name), Name: c.Name, Role: role, Scale: scale, ToLight: stove.ToLight(c.ToLight)})
	}
	return out
}

func (p *parser) gauges(d stoveDoc) []stove.Gauge {
	if len(d.Gauges) == 0 {
		return []stove.Gauge{stove.NewGauge(stove.ConnectorProbe), stove.NewGauge(stove.Top)}
	}
	var out []stove.Gauge
	for i, g := range d.Gauges {
		field := fmt.Sprintf("stove.gauges[%d]", i)
		place := stove.Place(g.Place)
		if !place.OfFire() {
			p.fail(field+".place", fmt.Errorf("%q is not a place for a thermometer on a stove; connector-probe, connector-surface, top, catalyst or firebox would do", g.Place))
			continue
		}
		gauge := stove.NewGauge(place)
		for _, edge := range []struct {
			name  string
			typed text
			into  *units.Celsius
		}{{"works_from", g.Low, &gauge.Band.Low}, {"works_to", g.High, &gauge.Band.High}, {"too_hot", g.TooHot, &gauge.Band.TooHot}} {
			if edge.typed != "" {
				*edge.into = read(p, field+"."+edge.name, temperature, string(edge.typed))
			}
		}
		p.fail(field, gauge.Band.Check())
		out = append(out, gauge)
	}
	return out
}

func (p *parser) flue(d flueDoc) flue.Chimney {
	c := flue.Chimney{Height: read(p, "flue.height", length, string(d.Height)),
		Diameter: read(p, "flue.diameter", small, d.Diameter.or("150 mm")), Bends: d.Bends,
		Horizontal: read(p, "flue.horizontal", length, d.Horizontal.or("0 m")), Lining: flue.Lining(d.Lining), Outside: d.Outside,
		Altitude: read(p, "flue.altitude", length, d.Altitude.or("0 m"))}
	if d.Lining == "" {
		c.Lining = flue.Insulated
	}
	if err := c.Check(); err != nil {
		field := "flue"
		switch {
		case c.Height < 1 || c.Height > 40:
			field = "flue.height"
		case c.Diameter < 0.06 || c.Diameter > 0.5:
			field = "flue.diameter"
		case c.Bends < 0 || c.Bends > 8:
			field = "flue.bends"
		case c.Horizontal < 0 || c.Horizontal > 6:
			field = "flue.horizontal"
		default:
			field = "flue.lining"
		}
		p.fail(field, err)
	}
	return c
}
