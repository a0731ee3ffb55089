package plan

import (
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// What a step waits for. Signs come first; the latest times stand in for a gauge
// that is a little off. They are what owners do by hand, and come from no paper;
// a fire that does not keep to them is answered by its own signs.
const (
	shutAfter     = 12 * time.Minute // from the match to shutting the door, at the earliest
	shutLatest    = 18 * time.Minute // and at the latest
	shutBlind     = 14 * time.Minute // without a gauge, from cold
	shutBlindFew  = 8 * time.Minute  // and on few coals
	shutShare     = 0.95             // of the guide's working range, from where a flue draws by itself
	mainAfter     = 15 * time.Minute // the load on the coals of a first fire
	mainLatest    = 55 * time.Minute //
	mainLeft      = 0.4              // share of the first fire's dry wood that may still be wood by then
	kindlingShare = 0.2              // of the kindling that is left when the splits have caught
	growsAfter    = 2 * time.Minute  // the next size on a young fire, at the earliest
	growsLatest   = 6 * time.Minute  // and at the latest: what is left of it burns away
	fineLeft      = 0.75             // share of the fine kindling that is still wood when thumb-thick sticks go on
	thumbLeft     = 0.55             // and of all kindling, when wrist-thick pieces do
	grownShut     = 6 * time.Minute  // from the last of them to shutting the door, at the earliest
	bypassAfter   = 15 * time.Minute // without a gauge that would show light-off
	aboveLightOff = 10               // K over a catalyst's light-off before the bypass is shut
	lightOffHeld  = 5 * time.Minute  // that it must have stood there
	// lightOffLatest is after what a catalyst that is nearly there is engaged, the wood being
	// black: gauges read some per cent low, and what goes through it lights it.
	lightOffLatest = 25 * time.Minute
	feedAtFirst    = 15 * time.Minute // a later load, after the last turn-down
	feedPause      = 6 * time.Minute  // between the steps of its turn-down
	passedLeft     = 0.05             // share of a load, that is not turned down for any more
	leastLeft      = 0.01             // kg of wood that a later load waits for at the least
	downBlind      = 8 * time.Minute  // from loading to the first turn-down by black wood alone
	keepsFrom      = 0.3              // opening, from where less air keeps coals
	keepAt         = 0.2              // opening, that keeps them
	keepLeft       = 0.02             // share of the last load that may still be wood then
	keepStays      = 20 * time.Minute // that somebody is there from then on: it may be later
	keepFor        = time.Hour        // of the wish that is left, that it is worth a walk to the stove
)

// Steps writes a recipe out as things to do in their order, each with its sign.
// Every control that the fire relies on is in it: opened or shut at the start,
// and shut again where it was opened only to light.
func Steps(w wish.Wish, r Recipe, later ...Later) []Step {
	b := newBuilder(w, r)
	var steps []Step
	switch {
	case w.Start == wish.Cold:
		steps = b.fromCold()
	case w.Start.Few():
		steps = b.onFewCoals()
	default:
		steps = b.onCoals()
	}
	steps = append(steps, b.closeBypass()...)
	steps = append(steps, b.turnDowns()...)
	before := b.load(r.MainOf, max(r.Main, 1), fire.OnCoals)
	if r.Main == 0 {
		before = b.FirstLoad(r.FirstOf, r.First, r.Direction, fire.OnCoals)
	}
	for _, l := range later {
		steps = append(steps, b.feed(l, before)...)
		before = b.load(r.MainOf, l.Pieces, fire.OnCoals)
	}
	return passing(steps)
}

// passing lets what is done to a load's air be passed over once the load is gone: a catalyst
// that never lit, or a gauge that never came to its sign, must not keep the next load waiting.
func passing(steps []Step) []Step {
	dry := 0.0
	for i := range steps {
		s := &steps[i]
		for _, a := range s.Fire.Do {
			if a.Load != nil && !a.Load.Kindling {
				dry = a.Load.Dry()
			}
		}
		if s.Kind == CloseIt || s.Kind == TurnDown {
			s.Fire.When.PassedBy = units.Kilogram(max(leastLeft, passedLeft*dry))
		}
	}
	return steps
}

// Looked are the steps as the simulator takes them where somebody looks in seldom: what a
// turn-down waits for has been there for a while, a share of the time from one look to the
// next, when they come. Who lights and loads is there.
func Looked(w wish.Wish, steps []Step, share float64) []fire.Move {
	moves := Fires(steps)
	for i, s := range steps {
		if w.Seldom && (s.Kind == TurnDown || s.Kind == CloseIt || s.Kind == KeepIt || s.Kind == FeedIt) {
			moves[i].When.Late = time.Duration(share * float64(wish.LooksEvery))
		}
	}
	return moves
}

// Fires are the steps as the simulator takes them.
func Fires(steps []Step) []fire.Move {
	out := make([]fire.Move, len(steps))
	for i, s := range steps {
		out[i] = s.Fire
	}
	return out
}

// A builder writes one recipe out for one wish.
type builder struct {
	wish.Wish
	Recipe
	air      stove.Control
	guide    stove.Gauge
	hasGuide bool
}

func newBuilder(w wish.Wish, r Recipe) builder {
	b := builder{Wish: w, Recipe: r}
	b.air, _ = w.Stove.MainAir()
	b.guide, b.hasGuide = w.Stove.Guide()
	return b
}

func (b builder) load(of, pieces int, lay fire.Lay) fire.Load {
	return b.LoadOf(of, pieces, b.Direction, lay)
}

// fromCold lays and lights with the door ajar, shuts it when the fire keeps its
// own draft, and puts the load on its coals.
func (b builder) fromCold() []Step {
	if b.Fixed.BySize {
		return b.bySize()
	}
	kindling := b.KindlingLoad(b.Recipe.Lay)
	first := b.FirstLoad(b.FirstOf, b.First, b.Direction, b.Recipe.Lay)
	do := append(b.Helping(), b.ready(1)...)
	if b.Primes() {
		do = append(do, fire.Act{Kind: fire.ActPrime, Heat: fire.PaperPrimer})
	}
	do = append(do, b.doorToLight(), put(first), put(kindling), fire.Act{Kind: fire.ActLight})
	steps := append([]Step{{Kind: LightIt, Fire: fire.Move{Do: do}}}, b.whenLit(shutBlind)...)
	return append(steps, b.mainLoad(first, kindling)...)
}

// bySize lights fine kindling alone and feeds it by size: thumb-thick sticks when it has taken,
// wrist-thick pieces on their flames, and only then the load.
func (b builder) bySize() []Step {
	fine, thumb := b.KindlingBySize(b.Recipe.Lay)
	first, all := b.FirstLoad(b.FirstOf, b.First, b.Direction, fire.OnCoals), b.KindlingLoad(b.Recipe.Lay)
	do := append(b.Helping(), b.ready(1)...)
	if b.Primes() {
		do = append(do, fire.Act{Kind: fire.ActPrime, Heat: fire.PaperPrimer})
	}
	do = append(do, b.doorToLight(), put(fine), fire.Act{Kind: fire.ActLight})
	grow := func(l fire.Load, left float64) Step {
		when := fire.Trigger{After: growsAfter, WoodLeft: units.Kilogram(left), Latest: growsLatest}
		return Step{Kind: GrowIt, Fire: fire.Move{When: when, Do: []fire.Act{put(l)}}}
	}
	steps := []Step{{Kind: LightIt, Fire: fire.Move{Do: do}}, grow(thumb, fineLeft*fine.Dry()), grow(first, thumbLeft*(fine.Dry()+thumb.Dry()))}
	for _, s := range b.whenLit(shutBlind - growsLatest) {
		s.Fire.When.After = min(s.Fire.When.After, max(grownShut, s.Fire.When.After-growsLatest))
		steps = append(steps, s)
	}
	return append(steps, b.mainLoad(first, all)...)
}

// onCoals loads a good bed at once.
func (b builder) onCoals() []Step {
	do := append(b.Helping(), b.ready(b.Brisk)...)
	do = append(do, put(b.load(b.MainOf, b.Main, fire.OnCoals)), fire.Act{Kind: fire.ActLight})
	return []Step{{Kind: LoadIt, Control: b.air.Key, Opening: b.Brisk, Fire: fire.Move{Do: do}}}
}

// onFewCoals makes a first fire of kindling and a piece or two where the coals
// are too few to light big wood: the door stays ajar until it burns.
func (b builder) onFewCoals() []Step {
	first, kindling := b.FirstLoad(b.FirstOf, b.First, b.Direction, fire.OnCoals), b.KindlingLoad(fire.OnCoals)
	do := append(b.Helping(), b.ready(1)...)
	do = append(do, fire.Act{Kind: fire.ActRake}, b.doorToLight(), put(kindling), put(first), fire.Act{Kind: fire.ActLight})
	steps := append([]Step{{Kind: LightIt, Control: b.air.Key, Opening: 1, Fire: fire.Move{Do: do}}}, b.whenLit(shutBlindFew)...)
	return append(steps, b.mainLoad(first, kindling)...)
}

// doorToLight is the door as it stands while the fire is lit: ajar, but where the manual has it
// shut.
func (b builder) doorToLight() fire.Act {
	if !b.Stove.Ajar() {
		return door(fire.Shut)
	}
	return door(fire.Ajar)
}

// whenLit is the step for when the fire keeps its own draft: the door is shut, and what was
// open only until then. There is none where the manual leaves nothing to shut.
func (b builder) whenLit(blind time.Duration) []Step {
	s := b.shutDoor(blind)
	for _, c := range b.Stove.Controls {
		if c.Key != b.air.Key && b.untilLit(c) {
			s.Fire.Do = append(s.Fire.Do, setting(c, 0))
		}
	}
	if most := b.Stove.Manual.DoorFor; most > 0 && b.Stove.Ajar() {
		s.Fire.When.After = min(s.Fire.When.After, most/2)
		if s.Fire.When.Latest == 0 || s.Fire.When.Latest > most {
			s.Fire.When.Latest = most
		}
		if s.Fire.When.Gauge == "" {
			s.Fire.When.After, s.Fire.When.Latest = min(blind, most), 0
		}
	}
	if cycle := b.Starter.Row(); cycle.Latched && b.Start == wish.Cold { // the door is not touched before its cycle ends
		s.Fire.When.After = max(s.Fire.When.After, cycle.For)
		if s.Fire.When.Latest > 0 {
			s.Fire.When.Latest = max(s.Fire.When.Latest, cycle.For)
		}
	}
	if !b.Stove.Ajar() {
		if s.Fire.Do = s.Fire.Do[1:]; len(s.Fire.Do) == 0 {
			return nil
		}
	}
	return []Step{s}
}

// untilLit tells whether a control is open only until the fire burns: by the manual.
func (b builder) untilLit(c stove.Control) bool {
	return c.ToLight == stove.OpenUntilLit || c.ToLight == "" && b.flapLights(c)
}

// flapLights tells whether the manual has the ash flap opened to light.
func (b builder) flapLights(c stove.Control) bool {
	return c.Role == stove.AshFlap && b.Stove.Manual.Flap == stove.FlapLight && b.Start.FirstFire()
}

// shutDoor waits until the flue draws by itself, or some minutes where no gauge
// would show it.
func (b builder) shutDoor(blind time.Duration) Step {
	when := fire.Trigger{After: blind}
	if b.hasGuide {
		when = fire.Trigger{After: shutAfter, Gauge: b.guide.Place, Above: b.guide.Band.Low * shutShare, Latest: shutLatest}
	}
	do := []fire.Act{door(fire.Shut)}
	if b.Brisk < 1 {
		do = append(do, setting(b.air, b.Brisk))
	}
	return Step{Kind: ShutDoor, Control: b.air.Key, Opening: b.Brisk, Fire: fire.Move{When: when, Do: do}}
}

// mainLoad is the load on the coals of a first fire, if there is one.
func (b builder) mainLoad(first, kindling fire.Load) []Step {
	if b.Main == 0 {
		return nil
	}
	when := fire.Trigger{After: mainAfter, Latest: mainLatest,
		WoodLeft: units.Kilogram(mainLeft * (first.Dry() + kindlingShare*float64(kindling.Mass())))}
	load := put(b.load(b.MainOf, b.Main, fire.OnCoals))
	return []Step{{Kind: LoadIt, Fire: fire.Move{When: when, Do: []fire.Act{load}}}}
}

// feed is a later load: everything set as for lighting, coals raked to the air,
// the pieces on; then down again.
func (b builder) feed(l Later, before fire.Load) []Step {
	do := append(b.ready(l.Brisk), fire.Act{Kind: fire.ActRake}, put(b.load(b.MainOf, l.Pieces, fire.OnCoals)))
	when := fire.Trigger{After: feedAtFirst, WoodLeft: units.Kilogram(max(leastLeft, l.Left*before.Dry()))}
	steps := []Step{{Kind: FeedIt, Control: b.air.Key, Opening: l.Brisk, Fire: fire.Move{When: when, Do: do}}}
	b.Brisk, b.Final, b.Pause = l.Brisk, l.Final, feedPause
	return append(append(steps, b.closeBypass()...), b.turnDowns()...)
}

// closeBypass waits for the catalyst's light-off, held some minutes, by the
// gauge that this stove has. A bypass round a baffle is shut when everything is
// black.
func (b builder) closeBypass() []Step {
	bypass, ok := b.Stove.Bypass()
	if !ok {
		return nil
	}
	when := fire.Trigger{After: lightOffHeld, Charred: true}
	if b.Stove.Family == stove.Catalytic {
		when = fire.Trigger{After: bypassAfter, Charred: true}
		if g, ok := b.Stove.Gauge(stove.CatalystProbe); ok {
			when = fire.Trigger{Gauge: g.Place, Above: Engaged(b.Stove, g), Held: lightOffHeld,
				Latest: lightOffLatest, Least: Engaged(b.Stove, g) - aboveLightOff - policy.BelowLightOff, Charred: true}
		} else if b.hasGuide {
			when = fire.Trigger{Gauge: b.guide.Place, Above: b.guide.Band.Low, Held: lightOffHeld}
		}
	}
	return []Step{{Kind: CloseIt, Control: bypass.Key, Fire: fire.Move{When: when, Do: []fire.Act{setting(bypass, 0)}}}}
}

// Engaged is from where a catalyst's bypass is shut: the manual's figure for its own gauge,
// else a little over light-off.
func Engaged(st stove.Stove, g stove.Gauge) units.Celsius {
	if st.Manual.Engage > 0 {
		return st.Manual.Engage
	}
	return g.Band.Low + aboveLightOff
}

// ready sets every control for lighting: open what lets the fire breathe, the
// main air to an opening, shut what would feed it from below where there is air
// from above, the room blower off, and a fan that feeds the fire on.
func (b builder) ready(air float64) []fire.Act {
	var acts []fire.Act
	for _, c := range b.Stove.Controls {
		opening := 1.0
		switch c.Role {
		case stove.Barometric, stove.Riddle:
			continue // moves by itself; moves nothing that burns
		case stove.Blower:
			opening = 0
		case stove.UnderGrate, stove.AshFlap:
			if b.fromAbove() {
				opening = 0
			}
		}
		switch {
		case c.ToLight == stove.OpenUntilLit && !b.Start.FirstFire():
			opening = 0 // it burns already
		case c.ToLight == stove.OpenUntilLit, c.ToLight == stove.OpenUntilBlack, b.flapLights(c):
			opening = 1
		case c.ToLight == stove.StaysShut:
			opening = 0
		}
		if c.Key == b.air.Key {
			opening = air
		}
		acts = append(acts, setting(c, opening))
	}
	return acts
}

// shutAgain are the controls that were opened only to light and char: first air
// beside the one that is turned down, and the fan.
func (b builder) shutAgain() []fire.Act {
	var acts []fire.Act
	for _, c := range b.Stove.Controls {
		below := (c.Role == stove.UnderGrate || c.Role == stove.AshFlap) && !b.fromAbove()
		opened := firstAir(c.Role) || c.Role == stove.Fan || below || c.ToLight == stove.OpenUntilBlack
		if c.Key != b.air.Key && opened && c.ToLight != stove.StaysShut && !b.untilLit(c) {
			acts = append(acts, setting(c, 0))
		}
	}
	return acts
}

// fromAbove tells whether the stove has air of its own for wood, from above or
// the front.
func (b builder) fromAbove() bool {
	return slices.ContainsFunc(b.Stove.Controls, func(c stove.Control) bool { return firstAir(c.Role) })
}

func firstAir(r stove.Role) bool {
	switch r {
	case stove.Combined, stove.PrimaryAir, stove.TopAir, stove.DoorVent:
		return true
	}
	return false
}

func setting(c stove.Control, opening float64) fire.Act {
	return fire.Act{Kind: fire.ActControl, Control: c.Key, Role: c.Role, Opening: opening}
}

func put(l fire.Load) fire.Act { return fire.Act{Kind: fire.ActLoad, Load: &l} }

func door(d fire.Door) fire.Act { return fire.Act{Kind: fire.ActDoor, Door: d} }
