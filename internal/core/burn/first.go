package burn

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A FirstKind is something that comes before every step of a plan.
type FirstKind string

// The kinds, the most urgent first.
const (
	OverLimit     FirstKind = "over-limit"     // a gauge is over what it may reach
	Spillage      FirstKind = "spillage"       // the draft is negative: smoke comes in
	DoorForgotten FirstKind = "door-forgotten" // ajar or open for long
	SmokeInCold   FirstKind = "smoke-in-cold"  // blue-grey smoke while the flue is cold
)

// A First is what the log says that must be answered now, with its quantities.
type First struct {
	Kind    FirstKind
	Gauge   stove.Gauge   // the one that is over its limit, or cold
	Reading units.Celsius // of it
	Known   bool          // Reading is
	Draft   units.Pascal
	Door    fire.Door
	For     time.Duration // since when
}

const (
	// stillHolds is how long a reading is taken for how things are.
	stillHolds = 25 * time.Minute
	// doorAjarLong and doorOpenLong are how long a door may stand so before it
	// counts as forgotten: lighting takes up to a quarter of an hour, loading some
	// minutes.
	doorAjarLong = 20 * time.Minute
	doorOpenLong = 5 * time.Minute
)

// First returns what must be answered before anything else at a moment, from
// what was read and seen lately; nothing is computed for it.
func (b Burn) First(now time.Time) (First, bool) {
	for _, find := range []func(time.Time) (First, bool){b.overLimit, b.spillage, b.doorForgotten, b.smokeInCold} {
		if f, found := find(now); found {
			return f, true
		}
	}
	return First{}, false
}

// newest is the last valid entry up to now that keep accepts, if it is not older
// than what still holds.
func (b Burn) newest(now time.Time, keep func(Entry) bool) (Entry, bool) {
	e, ok := b.Last(func(e Entry) bool { return !e.At.After(now.Add(clockSlack)) && keep(e) })
	return e, ok && now.Sub(e.At) <= stillHolds
}

func (b Burn) reading(p stove.Place, now time.Time) (Entry, bool) {
	return b.newest(now, func(e Entry) bool { return e.Kind == Temperature && e.Place == p })
}

func (b Burn) overLimit(now time.Time) (First, bool) {
	for _, g := range b.Stove.Gauges {
		if e, ok := b.reading(g.Place, now); ok && g.Place.OfFire() && g.Band.TooHot > 0 && e.Reading >= g.Band.TooHot {
			return First{Kind: OverLimit, Gauge: g, Reading: e.Reading, Known: true, For: now.Sub(e.At)}, true
		}
	}
	return First{}, false
}

// spillage takes a draft that somebody has written down as it is. A gauge that reports
// wavers around nothing with every gust: there it takes a minute that is all negative, and
// something that burns.
func (b Burn) spillage(now time.Time) (First, bool) {
	e, ok := b.newest(now, func(e Entry) bool { return e.Kind == Draft })
	if !ok || e.Draft >= 0 || e.Reported && !(b.burns(now) && b.allNegative(e.At)) {
		return First{}, false
	}
	return First{Kind: Spillage, Draft: e.Draft, For: now.Sub(e.At)}, true
}

const (
	negativeFor   = time.Minute
	leastNegative = 2 // reports
)

// allNegative tells whether all that was reported of the draft in the minute up to a
// moment is negative.
func (b Burn) allNegative(until time.Time) bool {
	n := 0
	for e := range b.All() {
		if e.Kind != Draft || !e.Reported || e.At.After(until) || until.Sub(e.At) > negativeFor {
			continue
		}
		if n++; e.Draft >= 0 {
			return false
		}
	}
	return n >= leastNegative
}

// burns tells whether there is something whose smoke could come in.
func (b Burn) burns(now time.Time) bool {
	_, lit := b.Last(func(e Entry) bool { return e.Kind == Light && !e.At.After(now) })
	return lit || b.Coals > 0
}

func (b Burn) doorForgotten(now time.Time) (First, bool) {
	e, ok := b.Last(func(e Entry) bool { return e.Kind == Door && !e.At.After(now) })
	if !ok {
		return First{}, false
	}
	f := First{Kind: DoorForgotten, Door: e.Door, For: now.Sub(e.At)}
	return f, e.Door == fire.Ajar && f.For >= doorAjarLong || e.Door == fire.Open && f.For >= doorOpenLong
}

func (b Burn) smokeInCold(now time.Time) (First, bool) {
	e, ok := b.newest(now, func(e Entry) bool { return e.Kind == Smoke })
	if !ok || e.Smoke != SmokeGrey {
		return First{}, false
	}
	f := First{Kind: SmokeInCold, For: now.Sub(e.At)}
	if g, there := b.Stove.Guide(); there {
		r, known := b.reading(g.Place, now)
		f.Gauge, f.Reading, f.Known = g, r.Reading, known
		return f, known && r.Reading < g.Band.Low
	}
	return f, true
}
