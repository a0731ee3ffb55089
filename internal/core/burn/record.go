package burn

import (
	"math"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// What a belief is told of a gauge. A reading that follows the one before within
// seconds says nothing that it did not say, so that a thermometer which reports each
// second costs no more than somebody with a pencil.
const (
	readingsApart = 50 * time.Second // that two readings of a gauge lie apart, or
	sooner        = 10 * time.Second // if it has moved
	moved         = 12               // by so many K,
	movedDraft    = 4                // or Pa
)

// colours are what a belief calls what is seen at the cap.
var colours = map[string]string{SmokeClear: belief.Clear, SmokeWhite: belief.White, SmokeGrey: belief.Grey}

// Record is what was done and seen until a moment, as a belief takes it in: in the
// order of time.
func (b Burn) Record(until time.Time) []belief.Event {
	var out []belief.Event
	act := func(at time.Duration, a fire.Act) { out = append(out, belief.Event{At: at, Act: &a}) }
	see := func(at time.Duration, s belief.Seen) { out = append(out, belief.Event{At: at, Seen: &s}) }
	if b.Window {
		act(0, fire.Act{Kind: fire.ActWindow, Open: true})
	}
	last := map[stove.Place]*Entry{} // the draft's has no place
	for e := range b.All() {
		if e.At.After(until) {
			break
		}
		at := max(0, e.At.Sub(b.Started))
		if acts := b.acts(e); len(acts) > 0 {
			for _, a := range acts {
				act(at, a)
			}
			continue
		}
		switch e.Kind {
		case Temperature:
			if e.Place != stove.OutdoorAir && apartFrom(last[e.Place], e) {
				last[e.Place] = e
				see(at, belief.Seen{Sight: belief.Reading, Place: e.Place, Value: float64(e.Reading)})
			}
		case Smoke:
			if colour, ok := colours[e.Smoke]; ok {
				see(at, belief.Seen{Sight: belief.Smoke, Colour: colour})
			}
		case Draft:
			if apartFrom(last[e.Place], e) {
				last[e.Place] = e
				see(at, belief.Seen{Sight: belief.Draft, Value: float64(e.Draft)})
			}
		default:
			if sight := e.Kind.row().Sees; sight != "" {
				see(at, belief.Seen{Sight: sight})
			}
		}
	}
	return out
}

// apartFrom tells whether a reading says something that the one before did not.
func apartFrom(before, e *Entry) bool {
	if before == nil {
		return true
	}
	gap := e.At.Sub(before.At)
	has := math.Abs(float64(e.Reading-before.Reading)) >= moved || math.Abs(float64(e.Draft-before.Draft)) >= movedDraft
	return gap >= readingsApart || gap >= sooner && has
}

// acts are what an entry does to the fire, if anything. Whoever has lit a fire has done so
// with kindling, also where only "lit" is logged: then the usual armful is taken for it.
func (b Burn) acts(e *Entry) []fire.Act {
	a, ok := b.act(e)
	switch {
	case !ok:
		return nil
	case e.Kind == Load && b.unlit() == e: // nobody has said when it was lit
		lit := []fire.Act{a, {Kind: fire.ActLight}}
		if !b.kindled() {
			kindling := wish.Wish{Stove: b.Stove}.KindlingLoad(fire.TopDown)
			lit = append(lit[:1:1], fire.Act{Kind: fire.ActLoad, Load: &kindling}, lit[1])
		}
		return lit
	case e.Kind == Light && !b.kindled():
		kindling := wish.Wish{Stove: b.Stove}.KindlingLoad(fire.TopDown)
		return []fire.Act{{Kind: fire.ActLoad, Load: &kindling}, a}
	}
	return []fire.Act{a}
}

// warmFire is what a gauge shows at the least over the room when a fire is lit under it, K.
const warmFire = 40

// unlit is the first load of a cold stove that must have been lit, though nobody has said
// so: it was seen or read to burn, or the burn is over. Nil: it was said, or it waits for
// its match.
func (b Burn) unlit() *Entry {
	if float64(b.Coals) >= belief.LeastCoals(b.Stove)*0.1 {
		return nil
	}
	var first *Entry
	burnt := !b.Ended.IsZero()
	for e := range b.All() {
		switch {
		case e.Kind == Light:
			return nil
		case e.Kind == Load && e.Load != nil && first == nil:
			first = e
		case first == nil:
		case e.Kind.row().Burnt || e.Kind == Smoke && e.Smoke != SmokeGone,
			e.Kind == Temperature && e.Place.OfFire() && e.Reading > b.Room+warmFire:
			burnt = true
		}
	}
	if !burnt {
		return nil
	}
	return first
}

// kindled tells whether kindling is logged, or there are coals that need none.
func (b Burn) kindled() bool {
	if float64(b.Coals) >= belief.LeastCoals(b.Stove) {
		return true
	}
	for e := range b.All() {
		if e.Load != nil && e.Load.Kindling {
			return true
		}
	}
	return false
}

// act is what an entry does to the fire, if anything.
func (b Burn) act(e *Entry) (fire.Act, bool) {
	switch e.Kind {
	case Prime:
		return fire.Act{Kind: fire.ActPrime, Heat: fire.PaperPrimer}, true
	case Load:
		return fire.Act{Kind: fire.ActLoad, Load: e.Load}, true
	case Door:
		return fire.Act{Kind: fire.ActDoor, Door: e.Door}, true
	case Control:
		if c, ok := b.Stove.Control(e.Control); ok {
			return fire.Act{Kind: fire.ActControl, Control: c.Key, Role: c.Role, Opening: e.Opening}, true
		}
		return fire.Act{}, false
	}
	does := e.Kind.row().Does
	return fire.Act{Kind: does, Open: e.Kind == WindowOpen}, does != ""
}

// EntryOf is an act as an entry; false: what no entry says.
func EntryOf(a fire.Act) (Entry, bool) {
	switch a.Kind {
	case fire.ActLoad:
		return Entry{Kind: Load, Load: a.Load}, true
	case fire.ActDoor:
		return Entry{Kind: Door, Door: a.Door}, true
	case fire.ActControl:
		return Entry{Kind: Control, Control: a.Control, Opening: a.Opening}, true
	}
	if a.Kind == fire.ActWindow && !a.Open {
		return Entry{Kind: WindowShut}, true
	}
	for _, r := range KindRows {
		if r.Does == a.Kind && r.Kind != WentOut { // that is seen, and never asked for
			return Entry{Kind: r.Kind}, true
		}
	}
	return Entry{}, false
}

// How far off the weather of a burn may be: as it was reported by the hour, as it was
// said once, and where nobody has said it.
const weatherKnown, weatherSaid, weatherUnsaid units.Celsius = 1, 2, 6

// Doubt is how far off what is said of the burn may be.
func (b Burn) Doubt() belief.Doubt {
	d := belief.Doubt{Outdoor: weatherSaid}
	switch {
	case len(b.Weather) > 0:
		d.Outdoor = weatherKnown
	case b.OutdoorUnknown:
		d.Outdoor = weatherUnsaid
	}
	for e := range b.NotReadings() {
		if e.Kind == Load && e.Load != nil && !e.Load.Kindling {
			d.Wood = max(d.Wood, e.Load.Spread/tenthAway)
		}
	}
	if d.Wood <= meterOff {
		d.Wood = 0 // a meter's, as is usual
	}
	return d
}

// tenthAway is where a tenth lies beyond, in standard deviations; and meterOff how far off
// what a meter has read usually is, points of moisture, so that no more is made of it.
const tenthAway, meterOff = 1.2816, 0.024

// Believed is what is believed of the burn at a moment, from the match on.
func (b Burn) Believed(prior belief.Prior, at time.Time) *belief.Belief {
	out := belief.New(prior, b.Setup(), b.Doubt())
	for _, e := range b.Record(at) {
		out.Take(e)
	}
	out.Until(at.Sub(b.Started))
	return out
}
