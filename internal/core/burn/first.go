package burn

import (
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A FirstKind is something that comes before every step of a plan.
type FirstKind string

// The kinds, the most urgent first.
const (
	CarbonMonoxide FirstKind = "carbon-monoxide" // the alarm sounds, or its display shows what it sounds at
	InTheChimney   FirstKind = "in-the-chimney"  // a chimney fire
	OverLimit      FirstKind = "over-limit"      // a gauge is over what it may reach
	Spillage       FirstKind = "spillage"        // smoke comes in: it was seen, or the draft is negative
	SomeMonoxide   FirstKind = "some-monoxide"   // the display shows some
	FlapForgotten  FirstKind = "flap-forgotten"  // the ash flap open on a fire that is lit
	Overload       FirstKind = "overload"        // more wood than the manual allows
	MineralOnWood  FirstKind = "mineral-on-wood" // two fuels at once, or the stove is none for it
	DoorForgotten  FirstKind = "door-forgotten"  // ajar or open for long
	GlazeSeen      FirstKind = "glaze"           // shining tar in the flue
	SmokeInCold    FirstKind = "smoke-in-cold"   // blue-grey smoke while the flue is cold
)

// FirstKinds are all of them in their order.
var FirstKinds = []FirstKind{CarbonMonoxide, InTheChimney, OverLimit, Spillage, SomeMonoxide, FlapForgotten, Overload, MineralOnWood, DoorForgotten,
	GlazeSeen, SmokeInCold}

// Rank is a kind's place in that order, the most urgent being 0.
func (k FirstKind) Rank() int { return slices.Index(FirstKinds, k) }

// Grave tells whether somebody may be hurt soon.
func (k FirstKind) Grave() bool { return k.Rank() <= MineralOnWood.Rank() }

// A First is what the log says that must be answered now, with its quantities.
type First struct {
	Kind    FirstKind
	Gauge   stove.Gauge   // the one that is over its limit, or cold
	Reading units.Celsius // of it
	Known   bool          // Reading is
	Draft   units.Pascal
	Seen    bool // smoke was seen; else it is the draft that says so. Of wood: it lies there, put on by and by
	Door    fire.Door
	Control stove.Control // the flap
	For     time.Duration // since when
	PPM     float64
	Mass    units.Kilogram // of the wood or the fuel that was put on
	Most    units.Kilogram // that the manual allows
	Assumed bool           // nobody knows what the manual allows: Most is usual for the size
}

const (
	nearBand = 0.8  // of its low end
	flapOpen = 0.05 // opening
	// soundsAt is what a CO alarm sounds at within two hours, ppm (EN 50291-1: 30 after two
	// hours, 50 after an hour and a half, 100 after forty minutes at the latest).
	soundsAt = 30
	// Put on within together, loads are one load.
	together = 10 * time.Minute
	// OverloadFor is for how long an overload is the first thing: by then it burns as hot as
	// it will, and the gauges say so.
	OverloadFor = 45 * time.Minute
)

// First returns the most urgent of [Burn.Dangers], if there is any.
func (b Burn) First(now time.Time) (First, bool) {
	for _, find := range dangers {
		if f, found := find(b, now); found {
			return f, true
		}
	}
	return First{}, false
}

// Dangers are what must be answered before anything else at a moment, the most urgent
// first, from what was read, done and said; nothing is computed for it. What was said
// stays until it is answered: smoke in the room until somebody says that it is gone, too
// hot until a reading below, an alarm until it is silent. A fire of which it was said
// that it went out endangers nobody by its gauges and its door.
func (b Burn) Dangers(now time.Time) []First {
	var out []First
	for _, find := range dangers {
		if f, found := find(b, now); found {
			out = append(out, f)
		}
	}
	return out
}

// dangers are looked for in the order of [FirstKinds].
var dangers = []func(Burn, time.Time) (First, bool){Burn.monoxide, Burn.inTheChimney, Burn.overLimit, Burn.spillage, Burn.someMonoxide, Burn.flapForgotten,
	Burn.overload, Burn.mineralOnWood, Burn.doorForgotten, Burn.glazed, Burn.smokeInCold}

// until is the last valid entry up to now that keep accepts.
func (b Burn) until(now time.Time, keep func(Entry) bool) (Entry, bool) {
	return b.Last(func(e Entry) bool { return !e.At.After(now.Add(clockSlack)) && keep(e) })
}

// newest is the last valid entry up to now that keep accepts, if it is not older
// than what still holds.
func (b Burn) newest(now time.Time, holds time.Duration, keep func(Entry) bool) (Entry, bool) {
	e, ok := b.until(now, keep)
	return e, ok && now.Sub(e.At) <= holds
}

// IsOut tells whether it was said that the fire went out, and nothing since that it burns.
func (b Burn) IsOut(now time.Time) bool {
	e, ok := b.until(now, func(e Entry) bool { return e.Kind == WentOut || e.Kind == Light })
	return ok && e.Kind == WentOut
}

// burns tells whether there is something whose smoke could come in.
func (b Burn) burns(now time.Time) bool {
	_, lit := b.Last(func(e Entry) bool { return e.Kind == Light && !e.At.After(now) })
	return (lit || b.Coals > 0) && !b.IsOut(now)
}

// monoxide: the alarm sounds, until its display is said to show less.
func (b Burn) monoxide(now time.Time) (First, bool) {
	e, ok := b.until(now, func(e Entry) bool { return e.Kind == COAlarm || e.Kind == CO })
	if !ok || e.Kind == CO && e.PPM < soundsAt {
		return First{}, false
	}
	return First{Kind: CarbonMonoxide, PPM: e.PPM, For: now.Sub(e.At)}, true
}

func (b Burn) someMonoxide(now time.Time) (First, bool) {
	e, ok := b.until(now, func(e Entry) bool { return e.Kind == COAlarm || e.Kind == CO })
	return First{Kind: SomeMonoxide, PPM: e.PPM, For: now.Sub(e.At)}, ok && e.Kind == CO && e.PPM > 0 && e.PPM < soundsAt
}

func (b Burn) inTheChimney(now time.Time) (First, bool) {
	e, ok := b.until(now, func(e Entry) bool { return e.Kind == ChimneyFire })
	return First{Kind: InTheChimney, For: now.Sub(e.At)}, ok
}

func (b Burn) glazed(now time.Time) (First, bool) {
	e, ok := b.newest(now, policy.LookHolds, func(e Entry) bool { return e.Kind == Glaze })
	return First{Kind: GlazeSeen, For: now.Sub(e.At)}, ok
}

// overLimit: a gauge was read over its limit, and not below since.
func (b Burn) overLimit(now time.Time) (First, bool) {
	if b.IsOut(now) {
		return First{}, false
	}
	for _, g := range b.Stove.Gauges {
		if !g.Place.OfFire() || g.Band.TooHot <= 0 {
			continue
		}
		var last, since Entry // the newest reading, and the first of those over the limit up to it
		read, over := false, false
		for e := range b.All() {
			if e.Kind != Temperature || e.Place != g.Place || e.At.After(now.Add(clockSlack)) {
				continue
			}
			if hot := e.Reading >= g.Band.TooHot; hot && !over {
				since, over = *e, true
			} else if !hot {
				over = false
			}
			last, read = *e, true
		}
		if read && over && !b.flares(g, last, since) {
			return First{Kind: OverLimit, Gauge: g, Reading: last.Reading, Known: true, For: max(0, now.Sub(last.At))}, true
		}
	}
	return First{}, false
}

// flares tells whether a gauge in the gas is over its limit only because kindling flares.
func (b Burn) flares(g stove.Gauge, last, since Entry) bool {
	if !g.Place.Row().Gas || float64(last.Reading) > policy.FlareOver*float64(g.Band.TooHot) ||
		last.At.Sub(since.At) >= policy.FlareHolds {
		return false
	}
	lit, ok := b.until(last.At, func(e Entry) bool { return e.Kind == Light })
	if !ok || last.At.Sub(lit.At) > policy.FlareFor || b.Coals > 0 {
		return false
	}
	_, loaded := b.until(last.At, func(e Entry) bool { return e.Kind == Load && !e.Load.Kindling && e.At.After(lit.At.Add(time.Minute)) })
	return !loaded
}

// KindlingFlares tells whether a reading of a gauge in the gas is over its limit only
// because kindling flares.
func (b Burn) KindlingFlares(g stove.Gauge, r Reading) bool {
	e := Entry{At: r.At, Reading: r.Reading}
	return b.flares(g, e, e)
}

// spillage takes what somebody has seen, until it is said to be gone, and a draft that
// somebody has written down, until another is. A gauge that reports wavers around nothing
// with every gust: there it takes a minute that is all negative, and something that burns.
func (b Burn) spillage(now time.Time) (First, bool) {
	seen, ok := b.until(now, func(e Entry) bool { return e.Kind == Smoke && (e.Smoke == SmokeRoom || e.Smoke == SmokeGone) })
	if ok && seen.Smoke == SmokeRoom {
		return First{Kind: Spillage, Seen: true, For: now.Sub(seen.At)}, true
	}
	e, read := b.until(now, func(e Entry) bool { return e.Kind == Draft })
	switch {
	case !read || e.Draft >= 0 || ok && seen.At.After(e.At):
		return First{}, false
	case e.Reported && !(now.Sub(e.At) <= policy.ReadingHolds && b.burns(now) && b.allNegative(e.At)):
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

// Flap is the stove's ash flap while it is open, and for how long it has been; false where
// it is shut, or the only air that the stove has.
func (b Burn) Flap(now time.Time) (c stove.Control, open time.Duration, ok bool) {
	main, _ := b.Stove.MainAir()
	for _, c := range b.Stove.Controls {
		if c.Role != stove.AshFlap || c.Key == main.Key {
			continue
		}
		since, isOpen := time.Time{}, false
		for e := range b.All() {
			if e.Kind != Control || e.Control != c.Key || e.At.After(now) {
				continue
			}
			if e.Opening > flapOpen && !isOpen {
				since = e.At
			}
			isOpen = e.Opening > flapOpen
		}
		if isOpen {
			return c, now.Sub(since), true
		}
	}
	return stove.Control{}, 0, false
}

// flapForgotten: the ash flap is open on a fire that does not need it any more.
func (b Burn) flapForgotten(now time.Time) (First, bool) {
	c, open, ok := b.Flap(now)
	if !ok || !b.burns(now) {
		return First{}, false
	}
	f := First{Kind: FlapForgotten, Control: c, For: open}
	if g, there := b.Stove.Guide(); there {
		r, read := b.newest(now, policy.ReadingHolds, func(e Entry) bool { return e.Kind == Temperature && e.Place == g.Place })
		f.Gauge, f.Reading, f.Known = g, r.Reading, read
		if read && open >= min(policy.FlapHot, b.FlapMay()) && float64(r.Reading) >= nearBand*float64(g.Band.Low) {
			return f, true
		}
	}
	return f, open >= b.FlapMay()
}

// FlapMay is how long the ash flap may stand open to light: as the manual has it, else the rule.
func (b Burn) FlapMay() time.Duration {
	switch m := b.Stove.Manual; {
	case m.Flap == stove.FlapNever:
		return time.Minute
	case m.FlapFor > 0:
		return m.FlapFor
	}
	return policy.FlapLong
}

// AjarMay is how long the door may stand ajar to light.
func (b Burn) AjarMay() time.Duration {
	if most := b.Stove.Manual.DoorFor; most > 0 {
		return min(policy.DoorAjarLong, most+aMinuteMore)
	}
	if !b.Stove.Ajar() {
		return aMinuteMore
	}
	return policy.DoorAjarLong
}

// aMinuteMore is what the manual's time for the door may be passed by before it is said.
const aMinuteMore = 2 * time.Minute

// overload: more wood was put on at once than the manual allows, or than manuals of stoves
// of this size do where nobody knows.
func (b Burn) overload(now time.Time) (First, bool) {
	if b.IsOut(now) {
		return First{}, false
	}
	var loads []Entry
	for e := range b.NotReadings() {
		if e.Kind == Load && e.Load != nil && !e.At.After(now.Add(clockSlack)) {
			loads = append(loads, *e)
		}
	}
	if len(loads) == 0 {
		return First{}, false
	}
	f := First{Kind: Overload, For: max(0, now.Sub(loads[len(loads)-1].At))}
	for _, e := range loads {
		if loads[len(loads)-1].At.Sub(e.At) <= together {
			f.Mass += e.Load.Mass()
		}
	}
	f.Most, f.Assumed = b.Stove.LargestLoad()
	return f, f.For <= OverloadFor && float64(f.Mass) > OverloadFrom*float64(f.Most)
}

// OverloadFrom is the share of the manual's load from which it is one: pieces are not
// weighed, and a load that is kindled has its kindling besides.
const OverloadFrom = 1.25

// mineralOnWood: mineral fuel on a fire of wood, wood on one of mineral fuel, or mineral
// fuel in a stove that is made for wood alone.
func (b Burn) mineralOnWood(now time.Time) (First, bool) {
	var wood, mineral *Entry
	for e := range b.NotReadings() {
		switch {
		case e.At.After(now.Add(clockSlack)):
		case e.Kind == Mineral:
			mineral = e
		case e.Kind == Load && e.Load != nil && !e.Load.Kindling:
			wood = e
		}
	}
	if mineral == nil || b.IsOut(now) || wood == nil && b.Stove.Family.BurnsMineral() {
		return First{}, false
	}
	f := First{Kind: MineralOnWood, Mass: mineral.Load.Mass(), For: now.Sub(mineral.At)}
	if wood != nil && wood.At.After(mineral.At) {
		f.For = now.Sub(wood.At)
	}
	return f, f.For <= OverloadFor
}

// DoorOpen tells whether the stove's door is not shut, by the log.
func (b Burn) DoorOpen(now time.Time) bool {
	e, ok := b.Last(func(e Entry) bool { return e.Kind == Door && !e.At.After(now) })
	return ok && e.Door != fire.Shut
}

const (
	// coldAfter is how long after the last load a gauge that is cold says that nothing burns.
	coldAfter = 45 * time.Minute
	// coldUnder is of the way from the room to the gauge's band, under which it is cold.
	coldUnder = 0.35
)

// readCold tells whether the guiding gauge was read lately, long after the last load, and
// as cold as of a stove in which nothing burns.
func (b Burn) readCold(now time.Time) bool {
	g, ok := b.Stove.Guide()
	if !ok {
		return false
	}
	r, read := b.newest(now, policy.ReadingHolds, func(e Entry) bool { return e.Kind == Temperature && e.Place == g.Place })
	last, fed := b.until(now, func(e Entry) bool { return e.Kind == Light || e.Kind == Load })
	return read && fed && now.Sub(last.At) > coldAfter && float64(r.Reading-b.Room) < coldUnder*float64(g.Band.Low-b.Room)
}

// doorForgotten: it stands ajar or open for long on a fire.
func (b Burn) doorForgotten(now time.Time) (First, bool) {
	e, ok := b.Last(func(e Entry) bool { return e.Kind == Door && !e.At.After(now) })
	if !ok || b.IsOut(now) {
		return First{}, false
	}
	if b.readCold(now) {
		return First{}, false // nothing is left for it to blow on
	}
	f := First{Kind: DoorForgotten, Door: e.Door, For: now.Sub(e.At)}
	return f, e.Door == fire.Ajar && f.For >= b.AjarMay() || e.Door == fire.Open && f.For >= policy.DoorOpenLong
}

func (b Burn) smokeInCold(now time.Time) (First, bool) {
	e, ok := b.newest(now, policy.LookHolds, func(e Entry) bool { return e.Kind == Smoke && e.Smoke != SmokeRoom && e.Smoke != SmokeGone })
	if !ok || e.Smoke != SmokeGrey || b.IsOut(now) {
		return First{}, false
	}
	f := First{Kind: SmokeInCold, For: now.Sub(e.At)}
	if g, there := b.Stove.Guide(); there {
		r, known := b.newest(now, policy.ReadingHolds, func(e Entry) bool { return e.Kind == Temperature && e.Place == g.Place })
		f.Gauge, f.Reading, f.Known = g, r.Reading, known
		return f, known && r.Reading < g.Band.Low
	}
	return f, true
}
