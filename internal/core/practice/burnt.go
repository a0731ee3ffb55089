package practice

import (
	"fmt"
	"slices"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/follow"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// readEvery is how often somebody at a practice is taken to have read the gauges.
const readEvery = 2 * time.Minute

// A reading is what the gauges showed at a moment.
type reading struct {
	at     time.Duration
	gauges []units.Celsius // in the stove's order
	room   units.Celsius
}

// read reads every gauge of the stove.
func (p *Practice) read(now time.Duration) {
	r := reading{at: now, room: p.fire.Room()}
	for _, g := range p.Spec.Stove.Gauges {
		t, _ := p.fire.Reading(g.Place)
		r.gauges = append(r.gauges, units.Celsius(t))
	}
	p.readings = append(p.readings, r)
}

// Burn is the practice as a burn that somebody logged who did everything on it and read the
// gauges now and then, begun at a time.
func (p *Practice) Burn(began time.Time) burn.Burn {
	coals, _ := p.Wish.Start.Coals(p.Spec.Stove.Volume)
	b := burn.Burn{Stove: p.Spec.Stove, House: p.setup.House, Outdoor: p.Wish.Outdoor, Room: p.Wish.Room,
		Wanted: [2]float64{float64(p.Wish.Low), float64(p.Wish.High)},
		Warmth: p.setup.Warmth, Coals: coals, Started: began, Weather: p.setup.Weather, Wind: p.setup.Wind}
	if p.Left() == 0 {
		b.Ended = began.Add(p.fire.Elapsed())
	}
	add := func(at time.Duration, e burn.Entry) {
		e.ID, e.Seq, e.At = fmt.Sprintf("p%d", len(b.Entries)), int64(len(b.Entries)), began.Add(at)
		b.Entries = append(b.Entries, e)
	}
	for _, h := range p.happened[:p.next] {
		for _, a := range p.asSaid(h) {
			if e, ok := burn.EntryOf(a); ok {
				if a.Kind == fire.ActControl && a.Control == "" {
					for _, c := range p.Spec.Stove.Controls {
						if c.Role == a.Role {
							e.Control = c.Key
							add(h.at, e)
						}
					}
					continue
				}
				add(h.at, e)
			}
		}
	}
	for _, r := range p.readings {
		for i, g := range p.Spec.Stove.Gauges {
			if g.Place.OfFire() {
				add(r.at, burn.Entry{Kind: burn.Temperature, Place: g.Place, Reading: r.gauges[i]})
			}
		}
		if r.at%(5*readEvery) == 0 {
			add(r.at, burn.Entry{Kind: burn.Temperature, Place: stove.RoomAir, Reading: r.room})
		}
	}
	slices.SortStableFunc(b.Entries, func(x, y burn.Entry) int { return x.At.Compare(y.At) })
	return b
}

// asSaid are acts with the wood as its owner knows it, and not as it is in this world.
func (p *Practice) asSaid(h happening) []fire.Act {
	out := slices.Clone(h.acts)
	for i, a := range out {
		if a.Load == nil {
			continue
		}
		l := *a.Load
		l.Moisture = p.saidMoisture(l)
		out[i].Load = &l
	}
	return out
}

// saidMoisture is what is said of a load's wood.
func (p *Practice) saidMoisture(l fire.Load) units.Fraction {
	if l.Kindling {
		return p.Wish.KindlingLoad(fire.OnCoals).Moisture
	}
	for i, of := range p.Wish.Woods() {
		if of.ID == l.StackID {
			return p.Wish.LoadOf(i, 1, stove.EndOn, fire.OnCoals).Moisture
		}
	}
	return l.Moisture
}

// seen is the fire as it is, for what goes by what is computed of one.
func (p *Practice) seen() follow.Seen {
	out := follow.OfReplay(fire.Result{Samples: append(slices.Clip(p.samples), p.fire.Sample())})
	look := p.fire.Look()
	out.Least = units.Kilogram(belief.LeastCoals(p.Spec.Stove))
	out.Black, out.Flames = 0, 0
	if look.Black {
		out.Black = 1
	}
	if look.Flame > flameSeen {
		out.Flames = 1
	}
	return out
}
