package plan

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// steps writes a candidate out as a sequence with triggers. Every control that
// the fire relies on is in it: opened or shut at the start, and shut again where
// it was opened only to light.
func (w Wish) steps(c candidate, feeds ...feed) []Step {
	var steps []Step
	guide, hasGuide := w.Stove.Guide()
	air, _ := w.Stove.MainAir()
	ready := append(w.helping(), w.ready()...)
	if w.Start == Cold {
		kindling := w.kindling(c.lay)
		first := w.load(c.firstOf, c.first, c.direction, c.lay)
		if w.primes() {
			ready = append(ready, fire.Act{Kind: fire.ActPrime, Heat: fire.PaperPrimer})
		}
		steps = append(steps,
			Step{Kind: LightIt, Fire: fire.Step{Do: append(ready,
				fire.Act{Kind: fire.ActDoor, Door: fire.Ajar},
				fire.Act{Kind: fire.ActLoad, Load: &first}, fire.Act{Kind: fire.ActLoad, Load: &kindling},
				fire.Act{Kind: fire.ActLight})}},
			Step{Kind: ShutDoor, Fire: fire.Step{When: fire.Trigger{After: 4 * time.Minute, Gauge: guide.Place, Above: guide.Band.Low * 0.45, Latest: 15 * time.Minute},
				Do: []fire.Act{{Kind: fire.ActDoor, Door: fire.Shut}}}, Control: air.Key, Opening: c.brisk})
		if c.brisk < 1 {
			steps[1].Fire.Do = append(steps[1].Fire.Do, setting(air, c.brisk))
		}
		if !hasGuide {
			steps[1].Fire.When = fire.Trigger{After: 10 * time.Minute}
		}
		steps = append(steps, w.mainLoad(c, first, kindling)...)
	} else {
		steps = append(steps, w.onCoals(c, ready, air, guide, hasGuide)...)
	}
	steps = append(steps, w.closeBypass()...)
	steps = append(steps, w.turnDowns(c, air, guide, hasGuide)...)
	before := w.load(c.mainOf, max(c.main, 1), c.direction, fire.OnCoals)
	if c.main == 0 {
		before = w.load(c.firstOf, c.first, c.direction, fire.OnCoals)
	}
	for _, f := range feeds {
		steps = append(steps, w.feedSteps(c, f, before, air, guide, hasGuide)...)
		before = w.load(c.mainOf, f.pieces, c.direction, fire.OnCoals)
	}
	return steps
}

// mainLoad is the load on the coals of a first fire, if there is one.
func (w Wish) mainLoad(c candidate, first, kindling fire.Load) []Step {
	if c.main == 0 {
		return nil
	}
	dry := float64(first.Mass())/(1+float64(first.Moisture)) + float64(kindling.Mass())*0.2
	main := w.load(c.mainOf, c.main, c.direction, fire.OnCoals)
	return []Step{{Kind: LoadIt, Fire: fire.Step{
		When: fire.Trigger{After: 15 * time.Minute, WoodLeft: units.Kilogram(0.4 * dry), Latest: 55 * time.Minute},
		Do:   []fire.Act{{Kind: fire.ActLoad, Load: &main}}}}}
}

// onCoals are the first steps on coals. Where there are few of them they do not
// light big wood: a first fire of kindling and a piece or two is made on them,
// and the door stays ajar until that burns.
func (w Wish) onCoals(c candidate, ready []fire.Act, air stove.Control, guide stove.Gauge, hasGuide bool) []Step {
	if !w.Start.few() {
		main := w.load(c.mainOf, c.main, c.direction, fire.OnCoals)
		for i := range ready {
			if ready[i].Control == air.Key {
				ready[i].Opening = c.brisk
			}
		}
		return []Step{{Kind: LoadIt, Control: air.Key, Opening: c.brisk, Fire: fire.Step{Do: append(ready, fire.Act{Kind: fire.ActLoad, Load: &main}, fire.Act{Kind: fire.ActLight})}}}
	}
	first, kindling := w.load(c.firstOf, c.first, c.direction, fire.OnCoals), w.kindling(fire.OnCoals)
	when := fire.Trigger{After: 4 * time.Minute, Gauge: guide.Place, Above: guide.Band.Low * 0.45, Latest: 15 * time.Minute}
	if !hasGuide {
		when = fire.Trigger{After: 8 * time.Minute}
	}
	shut := []fire.Act{{Kind: fire.ActDoor, Door: fire.Shut}}
	if c.brisk < 1 {
		shut = append(shut, setting(air, c.brisk))
	}
	return append([]Step{
		{Kind: LightIt, Control: air.Key, Opening: 1, Fire: fire.Step{Do: append(ready, fire.Act{Kind: fire.ActRake}, fire.Act{Kind: fire.ActDoor, Door: fire.Ajar},
			fire.Act{Kind: fire.ActLoad, Load: &kindling}, fire.Act{Kind: fire.ActLoad, Load: &first}, fire.Act{Kind: fire.ActLight})}},
		{Kind: ShutDoor, Control: air.Key, Opening: c.brisk, Fire: fire.Step{When: when, Do: shut}},
	}, w.mainLoad(c, first, kindling)...)
}

func setting(c stove.Control, opening float64) fire.Act {
	return fire.Act{Kind: fire.ActControl, Control: c.Key, Role: c.Role, Opening: opening}
}

// primes tells whether the flue is warmed before lighting; it is asked for every
// candidate, so a search works it out once ([Wish.prepared]).
func (w Wish) primes() bool {
	if w.primed != nil {
		return *w.primed
	}
	return BeforeLighting(w).Prime
}

// prepared is the wish with what is the same for every candidate worked out.
func (w Wish) prepared() Wish {
	if w.Start == Cold && w.primed == nil {
		prime := BeforeLighting(w).Prime
		w.primed = &prime
	}
	return w
}

// airDensity is that of room air, kg/m³.
const airDensity = 1.2

// Trial is one load on a good bed of coals, charred with all air open and
// turned down to a final setting, whatever comes of it: how a stove behaves.
func (w Wish) Trial(pieces int, d stove.Direction, final float64) (fire.Setup, []fire.Step) {
	w.Start = GoodCoals
	return w.setup(), fireSteps(w.steps(candidate{main: pieces, direction: d, final: final, brisk: 1, pause: 6 * time.Minute}))
}

// ready sets every control for lighting: open what lets the fire breathe, shut
// what would feed it from below where there is air from above, the room blower
// off, and a fan that feeds the fire on.
func (w Wish) ready() []fire.Act {
	var acts []fire.Act
	for _, c := range w.Stove.Controls {
		opening := 1.0
		switch c.Role {
		case stove.Barometric, stove.Riddle:
			continue // moves by itself; moves nothing that burns
		case stove.Blower:
			opening = 0
		case stove.UnderGrate, stove.AshFlap:
			if w.fromAbove() {
				opening = 0
			}
		}
		acts = append(acts, setting(c, opening))
	}
	return acts
}

// fromAbove tells whether the stove has air of its own for wood, from above or
// the front.
func (w Wish) fromAbove() bool {
	return slices.ContainsFunc(w.Stove.Controls, func(c stove.Control) bool { return firstAir(c.Role) })
}

func firstAir(r stove.Role) bool {
	switch r {
	case stove.Combined, stove.PrimaryAir, stove.TopAir, stove.DoorVent:
		return true
	}
	return false
}

// shutAgain are the controls that were opened only to light and char: first air
// beside the one that is turned down, and the fan.
func (w Wish) shutAgain(air stove.Control) []fire.Act {
	var acts []fire.Act
	for _, c := range w.Stove.Controls {
		below := (c.Role == stove.UnderGrate || c.Role == stove.AshFlap) && !w.fromAbove()
		if c.Key != air.Key && (firstAir(c.Role) || c.Role == stove.Fan || below) {
			acts = append(acts, setting(c, 0))
		}
	}
	return acts
}

// lightOffHeld is how long a catalyst must stand above light-off before the
// bypass is shut.
const lightOffHeld = 5 * time.Minute

// closeBypass waits for the catalyst's light-off, held some minutes, by the
// gauge that this stove has. A bypass round a baffle is shut when everything is
// black.
func (w Wish) closeBypass() []Step {
	bypass, ok := w.Stove.Bypass()
	if !ok {
		return nil
	}
	when := fire.Trigger{After: lightOffHeld, Charred: true}
	if w.Stove.Family == stove.Catalytic {
		when = fire.Trigger{After: 15 * time.Minute, Charred: true}
		if g, ok := w.Stove.Gauge(stove.CatalystProbe); ok {
			when = fire.Trigger{Gauge: g.Place, Above: g.Band.Low + 10, Held: lightOffHeld}
		} else if g, ok := w.Stove.Guide(); ok {
			when = fire.Trigger{Gauge: g.Place, Above: g.Band.Low, Held: lightOffHeld}
		}
	}
	return []Step{{Kind: CloseIt, Control: bypass.Key, Fire: fire.Step{When: when, Do: []fire.Act{setting(bypass, 0)}}}}
}

// turnDowns goes from open to the final setting in two or three steps.
func (w Wish) turnDowns(c candidate, air stove.Control, guide stove.Gauge, hasGuide bool) []Step {
	final := c.final
	openings := []float64{0.5, math.Sqrt(0.5 * final), final}
	if final >= 0.3 {
		openings = []float64{math.Max(0.5, final), final}
	}
	if final >= 0.5 {
		openings = []float64{final}
	}
	if air.Scale.Kind == stove.Notches {
		openings = notchesDown(air.Scale.Steps(), final)
	}
	for i, o := range openings[:len(openings)-1] {
		openings[i] = air.Scale.Nearest(o)
	}
	openings = slices.Compact(openings)
	// What is no less than the brisk opening is no turn-down.
	for len(openings) > 1 && openings[0] >= c.brisk-0.01 {
		openings = openings[1:]
	}
	var steps []Step
	for i, o := range openings {
		when := fire.Trigger{After: c.pause}
		if i == 0 {
			when = fire.Trigger{After: 3 * time.Minute, Charred: true}
			if hasGuide {
				when.Gauge, when.Above = guide.Place, guide.Band.Low+0.15*(guide.Band.High-guide.Band.Low)
				when.Latest = 35 * time.Minute
			}
		}
		do := []fire.Act{setting(air, o)}
		if i == 0 {
			do = append(do, w.shutAgain(air)...)
		}
		steps = append(steps, Step{Kind: TurnDown, Control: air.Key, Opening: o, Last: i == len(openings)-1, Fire: fire.Step{When: when, Do: do}})
	}
	return steps
}

// notchesDown returns the notches from half open down to the final one.
func notchesDown(notches []float64, final float64) []float64 {
	var out []float64
	for i := len(notches) - 1; i >= 0; i-- {
		if o := notches[i]; o < 0.8 && o > final+0.01 {
			out = append(out, o)
		}
	}
	if len(out) > 2 {
		out = []float64{out[0], out[len(out)-1]}
	}
	return append(out, final)
}

func fireSteps(steps []Step) []fire.Step {
	out := make([]fire.Step, len(steps))
	for i, s := range steps {
		out[i] = s.Fire
	}
	return out
}

// build makes a plan of a candidate that has been burnt at full accuracy, and
// burns it again under other conditions for the ranges.
func (w Wish) build(v verdict) Plan {
	c, r := v.candidate, *v.burnt
	woods := w.woods()
	p := Plan{Wish: w, Lay: c.lay, FirstOf: woods[c.firstOf], MainOf: woods[c.mainOf], Direction: c.direction, First: c.first, Main: c.main, Final: c.final, Capped: c.most < 1, Steps: w.steps(c, v.feeds...)}
	for _, f := range v.feeds {
		p.Feeds = append(p.Feeds, Feed{woods[c.mainOf], f.pieces, f.final})
	}
	if w.Start == Cold {
		p.Kindling = w.kindling(c.lay)
		p.Before = BeforeLighting(w)
	} else {
		p.Before = Before{OnCoals: true}
		if w.Start.few() {
			p.Kindling = w.kindling(fire.OnCoals)
		}
	}
	opt := fire.Options{Until: w.For + tail/3, Every: curveEvery}
	p.Summary, p.Cold = r.Summary, v.cold
	p.Predicted = curveOf(w.Stove, r)
	for _, s := range r.Samples {
		p.body = append(p.body, s.Body)
		if s.At < w.For {
			p.Air += s.Flow * curveEvery.Seconds() / airDensity
		}
	}
	for i := range p.Steps {
		p.Steps[i].Expected = r.Done[i]
		p.Steps[i].Earliest, p.Steps[i].Latest = r.Done[i], r.Done[i]
	}
	p.reload(r)
	p.spread(opt)
	if p.tooWet() {
		dry := fire.Run(w.setup(), p.changed(func(a *fire.Act, _ Step) {
			if a.Load != nil {
				a.Load.Moisture = min(a.Load.Moisture, dryWood)
			}
		}), opt).Summary
		p.IfDry = &dry
	}
	return p
}

// Wood over wetWood is used only with a word of what it costs against the same
// pieces at dryWood.
const wetWood, dryWood units.Fraction = 0.20, 0.18

// tooWet tells whether a load of the plan is.
func (p *Plan) tooWet() bool {
	return slices.ContainsFunc(p.AllLoads(), func(l fire.Load) bool { return l.Moisture > wetWood })
}

// loadTakes is about how long a load on coals needs somebody by it, until it is
// charred, turned down and seen to burn.
const loadTakes = time.Hour

// reload adds the window for the next load: when the last wood has gone to
// coals, there are still enough of them, and somebody is there for it.
func (p *Plan) reload(r fire.Result) {
	there := p.Wish.there()
	last := p.Steps[len(p.Steps)-1].Expected
	for _, s := range r.Samples {
		span, somebody := there.at(s.At)
		if last >= 0 && s.At > last && s.Phase == fire.Coaling && s.At <= p.Wish.For && somebody && span.To-s.At >= loadTakes {
			p.Steps = append(p.Steps, Step{Kind: ReloadTime, Expected: s.At, Earliest: s.At, Latest: s.At})
			return
		}
	}
}
