package scenario

import (
	"errors"
	"fmt"
	"strconv"
	"strings"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

type fuelDoc struct {
	Name     string `json:"name"`
	Species  string `json:"species"`
	Moisture text   `json:"moisture"`
	Piece    text   `json:"piece"`
	Length   text   `json:"length"`
	Kindling bool   `json:"kindling"`
	Left     text   `json:"left"`

	// A wood of the owner's own, in place of a species.
	Gravity float64 `json:"gravity_t_m3"`
	Gross   float64 `json:"gross_mj_kg"`
}

type whenDoc struct {
	After    text   `json:"after"`
	Gauge    string `json:"gauge"`
	Above    text   `json:"above"`
	Charred  bool   `json:"charred"`
	WoodLeft text   `json:"wood_left"`
	Latest   text   `json:"latest"`
}

type actionDoc struct {
	At        text    `json:"at"`
	When      whenDoc `json:"when"`
	Do        string  `json:"do"`
	Control   string  `json:"control"`
	To        text    `json:"to"`
	Wood      string  `json:"wood"`
	Pieces    int     `json:"pieces"`
	Direction string  `json:"direction"`
	Lay       string  `json:"lay"`
	Starter   string  `json:"starter"`
	Unraked   bool    `json:"unraked"`
}

// woods reads the kinds of wood by name.
func (p *parser) woods(docs []fuelDoc) map[string]kindOf {
	out := map[string]kindOf{}
	for i, d := range docs {
		field := fmt.Sprintf("fuel[%d]", i)
		species := p.species(field, d)
		name := d.Name
		if name == "" {
			name = d.Species
		}
		if _, twice := out[name]; twice {
			p.fail(field+".name", fmt.Errorf("two woods are called %q; another name would do", name))
		}
		l := fire.Load{Species: species, Moisture: read(p, field+".moisture", units.ParseMoisture, d.Moisture.or("18%")), Kindling: d.Kindling, StackName: name,
			PieceMass: read(p, field+".piece", mass, d.Piece.or("1.4 kg")), PieceLength: read(p, field+".length", small, d.Length.or("33 cm"))}
		switch {
		case l.Moisture > 0.6:
			p.fail(field+".moisture", errors.New("the simulator holds for 5 to 60 % of water; 18% would do"))
		case l.PieceMass < 0.005 || l.PieceMass > 30:
			p.fail(field+".piece", errors.New("a piece weighs between 5 g and 30 kg; 1.4 kg would do"))
		case l.PieceLength < 0.05 || l.PieceLength > 1.2:
			p.fail(field+".length", errors.New("a piece is between 5 and 120 cm long; 33 cm would do"))
		}
		out[name] = kindOf{species, l}
	}
	return out
}

// species finds a wood by its name, or takes the owner's own.
func (p *parser) species(field string, d fuelDoc) wood.Species {
	if d.Gravity == 0 {
		return read(p, field+".species", wood.SpeciesByKey, d.Species)
	}
	s := wood.Species{Key: d.Species, Name: d.Species, Gravity: d.Gravity, Gross: 20}
	if d.Gross != 0 {
		s.Gross = d.Gross
	}
	if !(s.Gravity >= 0.2 && s.Gravity <= 1.4) {
		p.fail(field+".gravity_t_m3", errors.New("wood weighs between 0.2 and 1.4 t/m³ oven dry; 0.56 would do"))
	}
	if !(s.Gross >= 15 && s.Gross <= 25) {
		p.fail(field+".gross_mj_kg", errors.New("wood holds between 15 and 25 MJ/kg oven dry; 20 would do"))
	}
	return s
}

// steps reads the actions. Actions that say nothing of when happen with the one
// before them.
func (p *parser) steps(docs []actionDoc, s stove.Stove, woods map[string]kindOf) []fire.Move {
	if len(docs) > mostActions {
		p.fail("actions", fmt.Errorf("%d of them; up to %d would do", len(docs), mostActions))
		return nil
	}
	var out []fire.Move
	for i, d := range docs {
		field := fmt.Sprintf("actions[%d]", i)
		act := p.act(field, d, s, woods)
		if d.At == "" && d.When == (whenDoc{}) && len(out) > 0 {
			last := &out[len(out)-1]
			last.Do = append(last.Do, act)
			continue
		}
		out = append(out, fire.Move{When: p.when(field, d), Do: []fire.Act{act}})
	}
	p.fits(docs, s, woods)
	return out
}

// fits holds every load to the manual's largest.
func (p *parser) fits(docs []actionDoc, s stove.Stove, woods map[string]kindOf) {
	for i, d := range docs {
		if d.Do != "load" {
			continue
		}
		l := woods[d.Wood].template
		l.Pieces = d.Pieces
		if err := s.CheckLoad(l.Mass(), l.Moisture, l.Species); err != nil && l.Species.Gravity > 0 {
			p.fail(fmt.Sprintf("actions[%d].pieces", i), err)
		}
	}
}

func (p *parser) when(field string, d actionDoc) fire.Trigger {
	var t fire.Trigger
	if d.At != "" {
		t.At = read(p, field+".at", parseSpan, string(d.At))
	}
	w := d.When
	if w.After != "" {
		t.After = read(p, field+".when.after", parseSpan, string(w.After))
	}
	if w.Latest != "" {
		t.Latest = read(p, field+".when.latest", parseSpan, string(w.Latest))
	}
	if w.WoodLeft != "" {
		t.WoodLeft = read(p, field+".when.wood_left", mass, string(w.WoodLeft))
	}
	t.Charred = w.Charred
	if w.Gauge != "" {
		t.Gauge = stove.Place(w.Gauge)
		if !t.Gauge.OfFire() {
			p.fail(field+".when.gauge", fmt.Errorf("%q is not a place for a thermometer on a stove; connector-probe or top would do", w.Gauge))
		}
		t.Above = read(p, field+".when.above", temperature, string(w.Above))
	}
	return t
}

func (p *parser) act(field string, d actionDoc, s stove.Stove, woods map[string]kindOf) fire.Act {
	to := strings.ToLower(strings.TrimSpace(string(d.To)))
	switch d.Do {
	case "load":
		return p.load(field, d, woods)
	case "light":
		return fire.Act{Kind: fire.ActLight}
	case "set":
		c, ok := s.Control(strings.ToLower(d.Control))
		if !ok {
			p.fail(field+".control", fmt.Errorf("the stove has no control %q; %s would do", d.Control, controlNames(s)))
			return fire.Act{}
		}
		opening, err := c.Scale.Parse(to)
		if err != nil && c.Scale.Kind != stove.PercentOpen { // a percentage is always understood
			opening, err = stove.ParseShare(to)
		}
		p.fail(field+".to", err)
		return fire.Act{Kind: fire.ActControl, Control: c.Key, Role: c.Role, Opening: opening}
	case "door":
		door, ok := map[string]fire.Door{"shut": fire.Shut, "ajar": fire.Ajar, "open": fire.Open}[to]
		if !ok {
			p.fail(field+".to", fmt.Errorf("%q is not a way a door stands; shut, ajar or open would do", string(d.To)))
		}
		return fire.Act{Kind: fire.ActDoor, Door: door}
	case "prime":
		return fire.Act{Kind: fire.ActPrime, Heat: read(p, field+".to", parseHeat, d.To.or("0.5 MJ"))}
	case "rake":
		return fire.Act{Kind: fire.ActRake}
	case "fan":
		return fire.Act{Kind: fire.ActFan, Flow: read(p, field+".to", metric(units.ParseFlow), string(d.To))}
	case "window":
		if to != "open" && to != "shut" {
			p.fail(field+".to", fmt.Errorf("%q is not a way a window stands; open or shut would do", string(d.To)))
		}
		return fire.Act{Kind: fire.ActWindow, Open: to == "open"}
	}
	p.fail(field+".do", fmt.Errorf("%q is nothing that can be done; load, light, set, door, prime, rake, fan or window would do", d.Do))
	return fire.Act{}
}

func controlNames(s stove.Stove) string {
	var names []string
	for _, c := range s.Controls {
		names = append(names, c.Key)
	}
	return strings.Join(names, ", ")
}

func (p *parser) load(field string, d actionDoc, woods map[string]kindOf) fire.Act {
	kind, ok := woods[d.Wood]
	if !ok {
		p.fail(field+".wood", fmt.Errorf("no wood under fuel is called %q; one of those would do", d.Wood))
	}
	if kind.species.Mineral {
		p.fail(field+".wood", errors.New("manufactured mineral fuel is recorded in a burn and not simulated; a kind of wood would do"))
	}
	l := kind.template
	l.Pieces, l.Unraked, l.Direction, l.Lay, l.StarterKind = d.Pieces, d.Unraked, stove.EndOn, fire.OnCoals, fire.Starter(d.Starter)
	if d.Direction != "" {
		l.Direction = stove.Direction(d.Direction)
	}
	if d.Lay != "" {
		l.Lay = fire.Lay(d.Lay)
	}
	switch {
	case l.Pieces < 1 || l.Pieces > 200:
		p.fail(field+".pieces", errors.New("a load has 1 to 200 pieces; 4 would do"))
	case l.Direction != stove.EndOn && l.Direction != stove.Sideways:
		p.fail(field+".direction", fmt.Errorf("%q is not a way pieces lie; end-on or sideways would do", d.Direction))
	case !l.Lay.Known():
		p.fail(field+".lay", fmt.Errorf("%q is not a lay; top-down, bottom-up, open-v, lean-to, raft or on-coals would do", d.Lay))
	case d.Starter != "" && !l.StarterKind.Known():
		p.fail(field+".starter", fmt.Errorf("%q is not a starter; wax-block, paper, gel, torch or hot-air would do", d.Starter))
	}
	return fire.Act{Kind: fire.ActLoad, Load: &l}
}

// parseHeat reads "0.5 MJ" or "500 kJ".
func parseHeat(typed string) (units.Joule, error) {
	s := strings.ToLower(strings.TrimSpace(typed))
	factor := 1e6
	if n, ok := strings.CutSuffix(s, "kj"); ok {
		s, factor = n, 1e3
	} else {
		s = strings.TrimSuffix(s, "mj")
	}
	v, err := strconv.ParseFloat(strings.TrimSpace(s), 64)
	if err != nil || !(v > 0 && v*factor <= 5e6) {
		return 0, &units.ParseError{Input: typed, What: "heat", Reason: "it lies between 0 and 5 MJ", Try: "0.5 MJ"}
	}
	return units.Joule(v * factor), nil
}
