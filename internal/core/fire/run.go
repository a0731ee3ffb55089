package fire

import (
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A Phase is the state of a burn, in the order of a burn.
type Phase string

// The phases.
const (
	Preparing    Phase = "preparing"
	Lighting     Phase = "lighting"
	Establishing Phase = "establishing"
	Charring     Phase = "charring"
	Cruising     Phase = "cruising"
	Coaling      Phase = "coaling"
	Out          Phase = "out"
)

// A Trigger says when something is to be done: everything that is set must
// hold. Clock times are the last resort; a gauge, black wood or coals come
// first.
type Trigger struct {
	At       time.Duration  `json:"at,omitempty"`    // since the start of the burn
	After    time.Duration  `json:"after,omitempty"` // since the step before
	Gauge    stove.Place    `json:"gauge,omitempty"`
	Above    units.Celsius  `json:"above_c,omitempty"`   // of that gauge
	Charred  bool           `json:"charred,omitempty"`   // the last load is black all over
	WoodLeft units.Kilogram `json:"wood_left,omitempty"` // at most this much dry wood that is not yet char
	Latest   time.Duration  `json:"latest,omitempty"`    // since the step before: then without gauge or wood left
}

// An ActKind is what is done to a fire.
type ActKind string

// The kinds of act.
const (
	ActLight   ActKind = "light"
	ActLoad    ActKind = "load"
	ActControl ActKind = "control"
	ActDoor    ActKind = "door"
)

// An Act is one thing done to a fire.
type Act struct {
	Kind    ActKind    `json:"kind"`
	Control string     `json:"control,omitempty"` // key of the stove's control
	Role    stove.Role `json:"role,omitempty"`
	Opening float64    `json:"opening,omitempty"`
	Door    Door       `json:"door,omitempty"`
	Load    *Load      `json:"load,omitempty"`
}

// A Step is a trigger and what is done then. Steps are taken in order; each
// waits for the one before.
type Step struct {
	When Trigger `json:"when"`
	Do   []Act   `json:"do"`
}

// A Sample is the state of the burn at one moment.
type Sample struct {
	At       time.Duration
	Readings [numGauges]float64 // °C, use Reading
	Room     units.Celsius
	Draft    units.Pascal
	Wood     units.Kilogram // dry, not yet char
	Coals    units.Kilogram
	ToRoom   units.Watt
	Lining   units.Celsius
	Primary  float64 // opening
	Second   float64
	Bypass   float64
	Door     Door
	Flame    float64
	Burnout  float64
	Lambda   float64
	Gas      float64 // kg/s of volatiles
	Smoke    float64 // kg/s of particulates
	Spilling bool
	Phase    Phase
}

var placeIndex = map[stove.Place]int{stove.Top: gTop, stove.ConnectorProbe: gProbe, stove.ConnectorSurface: gSurface,
	stove.CatalystProbe: gCatalyst, stove.FireboxProbe: gFirebox}

// Reading returns what the gauge at a place would read.
func (s Sample) Reading(p stove.Place) (units.Celsius, bool) {
	if p == stove.RoomAir {
		return s.Room, true
	}
	i, ok := placeIndex[p]
	if !ok {
		return 0, false
	}
	return units.Celsius(s.Readings[i]), true
}

// Options bound a run.
type Options struct {
	Until     time.Duration // at most; 48 h is the limit
	Every     time.Duration // between samples, one minute by default
	Step      time.Duration // of the simulation, [DefaultStep] by default
	StopAtEnd bool          // stop when the wood is gone and the coals are nearly so
}

// A Result is a whole run.
type Result struct {
	Samples []Sample
	Done    []time.Duration // when each step was taken; negative: never
	Summary Summary
}

// Summary is a run in figures.
type Summary struct {
	ToCoals     time.Duration // since the last load, until 0.3 kg of dry wood is left; negative: not reached
	ToWorking   time.Duration // since the start until the guiding gauge works; negative: never
	Smoulder    time.Duration
	Working     time.Duration
	TooHot      time.Duration
	Efficiency  units.Fraction // net, at the flue collar
	SmokePerKg  float64        // g per kg of dry wood burnt
	Smoke       float64        // g
	Deposits    float64        // g
	PeakTop     units.Celsius
	PeakGas     units.Celsius
	MinDraft    units.Pascal
	Coals       units.Kilogram // at the end
	In, ToRoom  units.Joule
	Wood        units.Kilogram // dry, not burnt at the end
	BalanceErr  units.Fraction // what the energy balance misses
	Spilled     bool
	SmokeEarly  float64 // g in the first 20 minutes
	DryPerHour  float64 // kg/h while flaming
	MeanLambda  float64
	StepsMissed int
}

// Run burns a setup through its steps.
func Run(setup Setup, steps []Step, opt Options) Result {
	if opt.Every == 0 {
		opt.Every = time.Minute
	}
	sim := New(setup, opt.Step)
	r := runner{sim: sim, steps: steps, lastLoad: -1, working: -1, coaled: -1, minDraft: 1e9,
		start: sim.stored(), band: guideBand(setup.Stove)}
	r.result.Done = make([]time.Duration, len(steps))
	for i := range r.result.Done {
		r.result.Done[i] = -1
	}
	r.result.Samples = make([]Sample, 0, int(opt.Until/opt.Every)+2)
	every := max(1, int(opt.Every.Seconds()/sim.dt))
	end := int(opt.Until.Seconds() / sim.dt)
	for i := 0; i <= end; i++ {
		r.act()
		if i%every == 0 {
			r.result.Samples = append(r.result.Samples, r.sim.sample())
			if opt.StopAtEnd && r.finished() {
				break
			}
		}
		sim.Step()
		r.measure()
	}
	r.finish()
	return r.result
}

// guide is the gauge a stove is judged by in a run, with its band.
type guide struct {
	index int
	band  stove.Band
}

func guideBand(s stove.Stove) guide {
	if g, ok := s.Guide(); ok {
		return guide{placeIndex[g.Place], g.Band}
	}
	return guide{gProbe, stove.ConnectorProbe.DefaultBand()}
}

type runner struct {
	sim                          *Sim
	steps                        []Step
	next                         int
	lastStep                     float64
	lastLoad                     float64
	working                      float64
	coaled                       float64
	minDraft                     float64
	start                        float64
	band                         guide
	lit                          bool
	spilled                      bool
	smoulder, work, hot, flaming float64
	early, deposits              float64
	peakTop, peakGas             float64
	result                       Result
}

func (r *runner) act() {
	for r.next < len(r.steps) && r.sim.holds(r.steps[r.next].When, r.lastStep) {
		for _, a := range r.steps[r.next].Do {
			r.do(a)
		}
		r.result.Done[r.next] = r.sim.elapsed()
		r.lastStep = r.sim.now
		r.next++
	}
}

func (r *runner) do(a Act) {
	switch a.Kind {
	case ActLight:
		r.lit = true
	case ActLoad:
		if a.Load != nil {
			r.sim.Load(*a.Load)
			r.lastLoad, r.coaled, r.lit = r.sim.now, -1, true
		}
	case ActControl:
		r.sim.Set(a.Role, a.Opening)
	case ActDoor:
		r.sim.SetDoor(a.Door)
	}
}

func (s *Sim) elapsed() time.Duration { return time.Duration(s.now * float64(time.Second)) }

// holds tells whether a trigger is met, since being the time of the step before.
func (s *Sim) holds(t Trigger, since float64) bool {
	overdue := t.Latest > 0 && s.now >= since+t.Latest.Seconds()
	switch {
	case s.now < t.At.Seconds(), s.now < since+t.After.Seconds():
		return false
	case t.Charred && !s.charred():
		return false
	case t.WoodLeft > 0 && !overdue && s.woodLeft() > float64(t.WoodLeft):
		return false
	case t.Gauge != "" && !overdue:
		if i, ok := placeIndex[t.Gauge]; ok && s.gauge[i] < float64(t.Above) {
			return false
		}
	}
	return true
}

// charred tells whether every piece is black all over.
func (s *Sim) charred() bool {
	for i := range s.batches {
		if b := &s.batches[i]; !b.spent() && b.alight < 0.92 {
			return false
		}
	}
	return true
}

func (s *Sim) woodLeft() float64 {
	sum := 0.0
	for i := range s.batches {
		sum += s.batches[i].dry
	}
	return sum
}

func (r *runner) measure() {
	s := r.sim
	guide := s.gauge[r.band.index]
	if s.out.volatiles > 2e-5 && s.heat.burnout < 0.6 {
		r.smoulder += s.dt
	}
	switch {
	case guide >= float64(r.band.band.TooHot):
		r.hot += s.dt
	case guide >= float64(r.band.band.Low):
		r.work += s.dt
	}
	if r.working < 0 && guide >= float64(r.band.band.Low) {
		r.working = s.now
	}
	if s.out.flaming > 2e-5 {
		r.flaming += s.dt
	}
	if s.now <= 1200 {
		r.early += s.heat.smoke * s.dt
	}
	if r.lit && s.air.draft < r.minDraft {
		r.minDraft = s.air.draft
	}
	if s.air.spilling && s.out.volatiles > 1e-6 {
		r.spilled = true
	}
	r.peakTop = max(r.peakTop, s.gauge[gTop])
	r.peakGas = max(r.peakGas, s.gauge[gProbe])
	if r.lastLoad >= 0 && r.coaled < 0 && s.woodLeft() <= 0.3 {
		r.coaled = s.now - r.lastLoad
	}
}

func (r *runner) finished() bool {
	return r.lit && r.next >= len(r.steps) && r.sim.woodLeft() < 0.02 && r.sim.coals < 0.05 && r.sim.now > 600
}

func (r *runner) finish() {
	s, t := r.sim, &r.sim.total
	t.Stored = s.stored() - r.start
	for _, d := range s.flue.condensed {
		r.deposits += d
	}
	dry := (t.Gas) / (1 - charShare)
	sum := Summary{
		ToCoals: seconds(r.coaled), ToWorking: seconds(r.working), Smoulder: seconds(r.smoulder),
		Working: seconds(r.work), TooHot: seconds(r.hot), Smoke: t.Smoke * 1000, Deposits: r.deposits * 1000,
		PeakTop: units.Celsius(r.peakTop), PeakGas: units.Celsius(r.peakGas), MinDraft: units.Pascal(r.minDraft),
		Coals: units.Kilogram(s.coals), In: units.Joule(t.In), ToRoom: units.Joule(t.Room + t.Connector),
		Wood: units.Kilogram(s.woodLeft()), Spilled: r.spilled, SmokeEarly: r.early * 1000,
		StepsMissed: len(r.steps) - r.next,
	}
	if t.In > 0 {
		sum.Efficiency = units.Fraction(1 - (t.Flue+t.Unburnt)/t.In)
		sum.BalanceErr = units.Fraction((t.In - t.Room - t.Flue - t.Unburnt - t.Stored) / t.In)
	}
	if dry > 0 {
		sum.SmokePerKg = sum.Smoke / dry
	}
	if r.flaming > 0 {
		sum.DryPerHour = dry / r.flaming * 3600
	}
	r.result.Summary = sum
}

func seconds(s float64) time.Duration {
	if s < 0 {
		return -1
	}
	return time.Duration(s * float64(time.Second))
}

func (s *Sim) sample() Sample {
	return Sample{
		At: s.elapsed(), Readings: s.gauge, Room: s.room.Air, Draft: units.Pascal(s.air.draft),
		Wood: units.Kilogram(s.woodLeft()), Coals: units.Kilogram(s.coals), ToRoom: units.Watt(s.heat.toRoom), Lining: units.FromKelvin(s.lining),
		Primary: s.primary, Second: s.secondary, Bypass: s.bypass, Door: s.door, Flame: s.flameShare(),
		Burnout: s.heat.burnout, Lambda: s.heat.lambda, Gas: s.out.volatiles, Smoke: s.heat.smoke,
		Spilling: s.air.spilling, Phase: s.phase(),
	}
}

func (s *Sim) flameShare() float64 {
	if s.out.volatiles < 1e-9 {
		return 0
	}
	return clamp(s.out.flaming/s.out.volatiles, 0, 1)
}

// phase names the state of the fire from what it does, not from the clock.
func (s *Sim) phase() Phase {
	wood := s.woodLeft()
	switch {
	case wood < 0.02 && s.coals < 0.05:
		if s.total.Fuel == 0 {
			return Preparing
		}
		return Out
	case wood < 0.06*s.total.Fuel || wood < 0.1:
		return Coaling
	case s.coals < 0.12 && s.now < 3600:
		return Lighting
	case !s.charred() && s.lining < 480:
		return Establishing
	case !s.charred():
		return Charring
	}
	return Cruising
}
