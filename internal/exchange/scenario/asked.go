package scenario

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// askedDoc is a wish for a stove and wood that are known: a scenario's fields but for
// those.
type askedDoc struct {
	Plan     planDoc    `json:"plan"`
	Weather  weatherDoc `json:"weather"`
	Start    startDoc   `json:"start"`
	Wood     []text     `json:"wood"`     // numbers or names of stacks; empty: the largest that suits
	Kindling text       `json:"kindling"` // of one; empty: the first there is
	Begins   time.Time  `json:"begins"`   // RFC 3339; empty: now
}

// An Asked is a wish of which the wood is only named yet.
type Asked struct {
	wish.Wish
	NoRoom bool      // nobody said how warm the room is: 17 °C is taken
	Begins time.Time // zero: now
	doc    askedDoc
}

// ParseAsked reads a wish for a stove that stands somewhere: "plan", "weather" and "start"
// as a scenario has them, "wood" and "kindling" by number or name of stacks, which
// [Asked.With] finds. The error is an *[Error] where one field is at fault.
func ParseAsked(b []byte, st stove.Stove, h house.House, wanted [2]units.Celsius) (Asked, error) {
	if len(bytes.TrimSpace(b)) == 0 {
		b = []byte("{}")
	}
	dec := json.NewDecoder(bytes.NewReader(b))
	dec.DisallowUnknownFields()
	var d askedDoc
	if err := dec.Decode(&d); err != nil {
		return Asked{}, explain(err)
	}
	p := &parser{}
	w := p.wish(d.Plan, st, h, wanted)
	w.Outdoor, w.Mild = burn.AssumedOutdoor, d.Weather.Outdoor == "" && len(d.Weather.Hourly) == 0
	if d.Weather.Outdoor != "" {
		w.Outdoor = read(p, "weather.outdoor", temperature, string(d.Weather.Outdoor))
	}
	w.Weather = p.hours(d.Weather)
	p.weather("weather", w.Outdoor, d.Weather.Wind)
	if len(w.Weather) == 0 && d.Weather.Wind > 0 {
		w.Weather = []fire.Weather{{Outdoor: w.Outdoor, Wind: d.Weather.Wind}}
	}
	w.Room = read(p, "start.room", temperature, d.Start.Room.or("17 C"))
	if w.Room < -20 || w.Room > 40 {
		p.fail("start.room", fmt.Errorf("a room lies between −20 and 40 °C; 18 C would do"))
	}
	p.wished(w)
	return Asked{w, d.Start.Room == "", d.Begins, d}, p.err
}

// With is the wish with its wood, of the stacks that are there.
func (a Asked) With(stacks []wish.Pick) (wish.Wish, error) {
	p := &parser{}
	p.pick(a.doc, stacks, &a.Wish)
	if p.err == nil {
		p.ownOf(a.doc.Plan.Own, stacks, &a.Wish)
	}
	return a.Wish, p.err
}

// ownOf lays the stacks that are named for one load to those at hand, and names them.
func (p *parser) ownOf(d ownDoc, stacks []wish.Pick, w *wish.Wish) {
	for _, t := range []text{d.LightFrom, d.CoalsFrom} {
		for _, s := range stacks {
			named := t != "" && (string(t) == fmt.Sprint(s.ID) || strings.EqualFold(string(t), s.Stack.Name))
			if named && !slices.ContainsFunc(w.Woods(), func(p wish.Pick) bool { return p.ID == s.ID }) {
				w.Others = append(w.Others, s)
			}
		}
	}
	p.ownStacks(d, w)
}

// pick finds the stacks that are asked for, or those that suit.
func (p *parser) pick(d askedDoc, stacks []wish.Pick, w *wish.Wish) {
	find := func(field string, t text) (wish.Pick, bool) {
		for _, s := range stacks {
			if string(t) == fmt.Sprint(s.ID) || strings.EqualFold(string(t), s.Stack.Name) {
				return s, true
			}
		}
		p.fail(field, fmt.Errorf("there is no stack %q; its number or its name would do", string(t)))
		return wish.Pick{}, false
	}
	var picks []wish.Pick
	for i, t := range d.Wood {
		if s, ok := find(fmt.Sprintf("wood[%d]", i), t); ok {
			picks = append(picks, s)
		}
	}
	if len(d.Wood) == 0 {
		best := math.Inf(-1)
		for _, s := range stacks {
			if !s.Stack.Kindling && w.Suits(s.Stack) && float64(s.Stack.Mass) > best {
				best, picks = float64(s.Stack.Mass), []wish.Pick{s}
			}
		}
	}
	if d.Kindling != "" {
		if s, ok := find("kindling", d.Kindling); ok {
			w.Kindling = &s
		}
	} else {
		for i := range stacks {
			if stacks[i].Stack.Kindling {
				w.Kindling = &stacks[i]
				break
			}
		}
	}
	if p.err == nil && len(picks) == 0 {
		p.fail("wood", fmt.Errorf("no stack here suits this stove; one of dry wood that fits would do"))
		return
	}
	if len(picks) > 0 {
		w.Wood, w.Others = picks[0], picks[1:]
	}
}
