package scenario

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/lay"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
)

// planDoc is what a plan is wished for.
type planDoc struct {
	Aim   string `json:"aim"`
	For   text   `json:"for"`
	From  text   `json:"wanted_from"`
	To    text   `json:"wanted_to"`
	Start string `json:"start"`
	Lay   string `json:"lay"`
	Fans  bool   `json:"fans_off"`
	Open  bool   `json:"window_open"`
	Prime bool   `json:"flue_warmed"`
	There []struct {
		From text `json:"from"`
		To   text `json:"to"`
	} `json:"there"`
	Own     ownDoc `json:"own"`
	Embers  bool   `json:"coals_wanted"`
	Seldom  bool   `json:"looks_seldom"`
	Gauge   string `json:"gauge"`    // of the aim "gauge"; empty: the one that the stove is run by
	GaugeAt text   `json:"gauge_at"` // and what it is to read
}

// ownDoc is what the owner wants done in their own way; what is not said is found.
type ownDoc struct {
	LightWith int    `json:"light_with"` // pieces
	OnCoals   *int   `json:"on_coals"`   // pieces; 0: none
	LightFrom text   `json:"light_from"` // number or name of a stack
	CoalsFrom text   `json:"coals_from"`
	Direction string `json:"direction"`
	CharAt    text   `json:"char_at"` // in the main air's own marks
	LeaveAt   text   `json:"leave_at"`
	Each      int    `json:"at_a_time"` // pieces, of every load on the coals
	BySize    bool   `json:"by_size"`   // the first fire fed by size
	Most      text   `json:"most"`      // of wood in all, kindling left out
}

// ParseWish reads a scenario as a wish for a plan: its stove, flue, house,
// weather and wood, and its field "plan" in place of actions. Each wood of the
// scenario is a stack at hand, the first kindling among them the kindling. The
// error is an *[Error] where one field is at fault.
func ParseWish(b []byte) (wish.Wish, error) {
	dec := json.NewDecoder(bytes.NewReader(b))
	dec.DisallowUnknownFields()
	var d document
	if err := dec.Decode(&d); err != nil {
		return wish.Wish{}, explain(err)
	}
	p := &parser{}
	setup := p.setup(d)
	w := p.wish(d.Plan, p.measured(d.Stove, setup.Stove), setup.House, [2]units.Celsius{19, 21.5})
	w.Outdoor, w.Weather, w.Room = setup.Outdoor, setup.Weather, setup.Room
	if w.Humidity = units.Fraction(d.Weather.Humid / 100); w.Humidity < 0 || w.Humidity > 1 {
		p.fail("weather.humidity_pct", errors.New("relative humidity lies between 0 and 100 %; 85 would do"))
	}
	p.wished(w)
	p.stacks(d.Fuel, &w)
	p.ownStacks(d.Plan.Own, &w)
	return w, p.err
}

// wish reads what is wished of a stove in a house.
func (p *parser) wish(d planDoc, st stove.Stove, h house.House, wanted [2]units.Celsius) wish.Wish {
	w := wish.Wish{Stove: st, House: h, Aim: wish.Aim(d.Aim), Start: wish.Start(d.Start), For: read(p, "plan.for", parseSpan, d.For.or("6 h")),
		Low: wanted[0], High: wanted[1]}
	if d.From != "" {
		w.Low = read(p, "plan.wanted_from", temperature, string(d.From))
	}
	if d.To != "" {
		w.High = read(p, "plan.wanted_to", temperature, string(d.To))
	}
	if w.Aim == "" {
		w.Aim = wish.Hold
	}
	if w.Start == "" {
		w.Start = wish.Cold
	}
	w.Lay = fire.Lay(d.Lay)
	w.Help = wish.Help{FansOff: d.Fans, Window: d.Open, Primed: d.Prime}
	for i, s := range d.There {
		span := when.Span{To: read(p, fmt.Sprintf("plan.there[%d].to", i), parseSpan, string(s.To))}
		if s.From != "" {
			span.From = read(p, fmt.Sprintf("plan.there[%d].from", i), parseSpan, string(s.From))
		}
		w.There = append(w.There, span)
	}
	w.Embers, w.Seldom = d.Embers, d.Seldom
	p.own(d.Own, &w)
	p.target(d, &w)
	return w
}

// own reads what is fixed; its stacks are named once they are known.
func (p *parser) own(d ownDoc, w *wish.Wish) {
	f := &w.Fixed
	if f.First = d.LightWith; f.First < 0 {
		p.fail("plan.own.light_with", errors.New("a whole number of pieces would do; 2, or nothing, and it is found"))
	}
	switch {
	case d.OnCoals == nil:
	case *d.OnCoals == 0:
		f.Main = wish.NoLoad
	case *d.OnCoals < 0:
		p.fail("plan.own.on_coals", errors.New("a whole number of pieces would do; 4, or 0 for none"))
	default:
		f.Main = *d.OnCoals
	}
	if f.Direction = stove.Direction(d.Direction); f.Direction != "" && f.Direction != stove.EndOn && f.Direction != stove.Sideways {
		p.fail("plan.own.direction", fmt.Errorf("%q is not a way pieces lie; end-on or sideways would do", d.Direction))
	}
	air, _ := w.Stove.MainAir()
	for _, s := range []struct {
		field string
		typed text
		into  *float64
	}{{"plan.own.char_at", d.CharAt, &f.Brisk}, {"plan.own.leave_at", d.LeaveAt, &f.Final}} {
		if s.typed == "" {
			continue
		}
		if *s.into = read(p, s.field, air.Scale.Parse, string(s.typed)); *s.into <= 0 {
			p.fail(s.field, errors.New("a fire is not left shut; a quarter would do"))
		}
	}
	f.BySize = d.BySize && w.Start == wish.Cold
	if f.Each = d.Each; f.Each < 0 || f.Each > 0 && f.Main > 0 && f.Each != f.Main {
		p.fail("plan.own.at_a_time", errors.New("1 would do, for a log at a time; or nothing, and it is found"))
	}
	if d.Most != "" {
		if f.Most = read(p, "plan.own.most", mass, string(d.Most)); f.Most <= 0 {
			p.fail("plan.own.most", errors.New("that is no wood; 6 kg would do"))
		}
	}
}

// ownStacks finds the stacks that are named for one load.
func (p *parser) ownStacks(d ownDoc, w *wish.Wish) {
	for _, s := range []struct {
		field string
		typed text
		into  *int64
	}{{"plan.own.light_from", d.LightFrom, &w.Fixed.FirstOf}, {"plan.own.coals_from", d.CoalsFrom, &w.Fixed.MainOf}} {
		if s.typed == "" {
			continue
		}
		for _, pick := range w.Woods() {
			if string(s.typed) == fmt.Sprint(pick.ID) || strings.EqualFold(string(s.typed), pick.Stack.Name) {
				*s.into = pick.ID
			}
		}
		if *s.into == 0 {
			p.fail(s.field, fmt.Errorf("there is no wood %q in this wish; one that it names would do", string(s.typed)))
		}
	}
}

// target reads which gauge is to be held at what.
func (p *parser) target(d planDoc, w *wish.Wish) {
	if w.Aim != wish.HoldGauge {
		return
	}
	g, ok := w.Stove.Guide()
	if d.Gauge != "" {
		g, ok = w.Stove.Gauge(stove.Place(d.Gauge))
	}
	if !ok {
		p.fail("plan.gauge", fmt.Errorf("this stove has no gauge %q; one of its own would do", d.Gauge))
		return
	}
	if d.GaugeAt == "" {
		p.fail("plan.gauge_at", errors.New("what the gauge is to read is not said; 220 C would do"))
		return
	}
	w.Target = wish.Target{Place: g.Place, At: read(p, "plan.gauge_at", temperature, string(d.GaugeAt))}
	if g.Band.TooHot > 0 && w.Target.At >= g.Band.TooHot {
		p.fail("plan.gauge_at", fmt.Errorf("this gauge is too hot from %.0f °C on; less would do", float64(g.Band.TooHot)))
	}
}

// measured gives the stove the sides of its firebox, which decide what fits; by
// its volume where they are not said.
func (p *parser) measured(d stoveDoc, s stove.Stove) stove.Stove {
	box := lay.BoxOf(stove.Stove{Volume: s.Volume})
	for _, side := range []struct {
		field string
		typed text
		usual float64
		into  *units.Metre
	}{{"stove.width", d.Width, box.Width, &s.Width}, {"stove.depth", d.Depth, box.Depth, &s.Depth}, {"stove.height", d.Height, box.Height, &s.Height}} {
		*side.into = units.Metre(side.usual)
		if side.typed != "" {
			*side.into = read(p, side.field, small, string(side.typed))
		}
	}
	return s
}

func (p *parser) wished(w wish.Wish) {
	switch {
	case !w.Aim.Known():
		p.fail("plan.aim", fmt.Errorf("%q is not an aim; hold, warm-up, overnight, take-off, away, dry-out or gauge would do", string(w.Aim)))
	case !w.Start.Known():
		p.fail("plan.start", fmt.Errorf("%q is not a start; cold, few-coals, layer-of-coals or good-coals would do", string(w.Start)))
	case w.For < 30*time.Minute || w.For > 14*time.Hour:
		p.fail("plan.for", errors.New("a burn is planned for half an hour to 14 hours; 6 h would do"))
	case w.Lay != "" && (!w.Lay.Known() || w.Lay == fire.OnCoals):
		p.fail("plan.lay", fmt.Errorf("%q is not a lay to light from cold; top-down, raft, open-v, lean-to or bottom-up would do", string(w.Lay)))
	case !ordered(w.There):
		p.fail("plan.there", errors.New(`the times that somebody is there come one after the other, each from earlier to later; {"to": "2 h"}, {"from": "8 h", "to": "14 h"} would do, or nothing where somebody stays`))
	case w.Low >= w.High:
		p.fail("plan.wanted_to", errors.New("the wanted temperature must rise from a lower to a higher one; 19 C to 21.5 C would do"))
	}
}

// ordered tells whether spans run forward and follow each other.
func ordered(p when.Presence) bool {
	end := time.Duration(-1)
	for _, s := range p {
		if s.From <= end || s.To <= s.From {
			return false
		}
		end = s.To
	}
	return true
}

// stacks makes a stack of every wood.
func (p *parser) stacks(docs []fuelDoc, w *wish.Wish) {
	woods := p.woods(docs)
	var picks []wish.Pick
	for i, d := range docs {
		name := d.Name
		if name == "" {
			name = d.Species
		}
		l := woods[name].template
		left := read(p, fmt.Sprintf("fuel[%d].left", i), mass, d.Left.or("1000 kg"))
		pick := wish.Pick{ID: int64(i + 1), Stack: wood.Stack{Name: name, Species: l.Species, PieceMass: l.PieceMass, PieceLength: l.PieceLength,
			Reading: l.Moisture, WoodTemp: units.Celsius(20), Mass: left, Kindling: l.Kindling}}
		switch {
		case !l.Kindling:
			picks = append(picks, pick)
		case w.Kindling == nil:
			w.Kindling = &pick
		}
	}
	if len(picks) == 0 {
		p.fail("fuel", errors.New("there is no wood but kindling; one with a species, such as beech, would do"))
		return
	}
	w.Wood, w.Others = picks[0], picks[1:]
}
