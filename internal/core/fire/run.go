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
	At       time.Duration // since the start of the burn
	After    time.Duration // since the step before
	Gauge    stove.Place
	Above    units.Celsius  // of that gauge
	Held     time.Duration  // that it must have been there without falling back
	Charred  bool           // the last load is black all over
	WoodLeft units.Kilogram // at most this much dry wood that is not yet char
	Latest   time.Duration  // since the step before: then without gauge or wood left
	Least    units.Celsius  // of that gauge, under which it is not done at the latest either; 0: none
	PassedBy units.Kilogram // dry wood: once so little is left the move is passed over; 0: it waits
	Late     time.Duration  // that whoever does it comes after all of that: they were not looking
}

// An ActKind is what is done to a fire.
type ActKind string

// The kinds of act.
const (
	ActLight   ActKind = "light"
	ActLoad    ActKind = "load"
	ActControl ActKind = "control"
	ActDoor    ActKind = "door"
	ActPrime   ActKind = "prime"  // warm the flue first
	ActRake    ActKind = "rake"   // coals to where the air comes in
	ActFan     ActKind = "fan"    // the house's extraction fans
	ActWindow  ActKind = "window" // a crack, on the stove's level
	ActOut     ActKind = "out"    // it was seen that it has gone out
)

// An Act is one thing done to a fire.
type Act struct {
	Kind    ActKind
	Control string // key of the stove's control
	Role    stove.Role
	Opening float64
	Door    Door
	Load    *Load
	Heat    units.Joule // of a primer
	Flow    units.Flow
	Open    bool // of a window
}

// A Move is a trigger and what is done then. Moves are taken in order; each
// waits for the one before.
type Move struct {
	When Trigger
	Do   []Act
}

// Options bound a run.
type Options struct {
	Until     time.Duration // at most; 48 h is the limit
	Every     time.Duration // between samples, one minute by default
	Step      time.Duration // of the simulation, [DefaultStep] by default
	Watch     Watcher       // is shown the fire instead of samples being kept
	Hand      Hand          // looks at the fire besides, and helps it
	StopAtEnd bool          // stop when the wood is gone and the coals are nearly so
	Coarse    bool          // longer steps while the fire is left alone, and on coals: for searching
	GiveUp    Limits        // stop as soon as a limit is passed: for searching
}

// A Watcher is shown a running fire whenever a sample is due, and keeps of it
// what it needs: a whole sample is thirty numbers, and most judges want three.
type Watcher interface {
	See(f *Fire)
	// Fork returns a watcher that has seen the same and goes its own way: for a
	// [Branch].
	Fork() Watcher
}

// A Hand is somebody who does the moves, looks at the fire every minute besides, and
// helps it where it is not as it should be. It knows only what can be seen.
type Hand interface {
	// Doing is asked about everything that a move would do, and returns what it does.
	Doing(f *Fire, a Act) Act
	// Look is what it does at a moment by itself.
	Look(f *Fire) []Act
	// Fork returns a hand that has seen the same and goes its own way.
	Fork() Hand
}

// looks is how often a hand looks at the fire, s.
const looks = 60.0

// Limits end a run that is not worth following; zero is no limit.
type Limits struct{ TooHot, Smoulder time.Duration }

// The longer steps of a coarse run, s: short against the minutes in which a
// fire that is left alone changes, and the half hour of coals and flue.
const cruiseStep, coalStep = 24.0, 60.0

// settling is how long after the last act a fire counts as left alone, s.
const settling = 600.0

// A Result is a whole run.
type Result struct {
	Samples []Sample
	Done    []time.Duration // when each step was taken; negative: never
	Summary Summary
	GaveUp  bool    // a limit was passed: the summary ends there
	Watched Watcher // the one of the options, or its fork; then there are no samples
}

// Run burns a setup through its steps.
func Run(setup Setup, steps []Move, opt Options) Result {
	r := begin(setup, steps, opt)
	r.goOn(len(steps))
	return r.end()
}

// A Branch is a burn that has come to one of its steps, from where others go on:
// what is alike in many burns is burnt once.
type Branch struct{ at runner }

// RunTo burns a setup until step n of its steps is due, and does not take it.
func RunTo(setup Setup, steps []Move, n int, opt Options) Branch {
	r := begin(setup, steps, opt)
	r.goOn(n)
	return Branch{r}
}

// Run goes on from the branch with steps, which are those that the branch was
// burnt with up to the one it stopped at, and the trigger of that. The result is
// that of [Run].
func (b Branch) Run(steps []Move) Result {
	r := b.at.fork(steps)
	r.goOn(len(steps))
	return r.end()
}

// A Paused is a burn that has come to a moment, from where it goes on as often
// as is wanted: what is known to have been done is burnt once.
type Paused struct{ at runner }

// RunAndPause is [Run], and keeps the burn as it stands at its end.
func RunAndPause(setup Setup, steps []Move, opt Options) (Result, Paused) {
	r := begin(setup, steps, opt)
	r.goOn(len(steps))
	paused := Paused{r.fork(steps)}
	return r.end(), paused
}

// At is the moment at which it stands: what is done before cannot be changed any
// more.
func (p Paused) At() time.Duration { return p.at.sim.Elapsed() }

// Steps are those with which it came there.
func (p Paused) Steps() []Move { return p.at.steps }

// GoOn burns further, to a later moment, with steps that begin with those already
// taken; none of the others may be due before the pause. The result is that of
// [Run] from the beginning.
func (p Paused) GoOn(steps []Move, until time.Duration) (Result, Paused) {
	r := p.at.fork(steps)
	r.opt.Until, r.over = until, false
	r.goOn(len(steps))
	paused := Paused{r.fork(steps)}
	return r.end(), paused
}

// fork is the same burn once more, from here on with other steps.
func (r runner) fork(steps []Move) runner {
	if r.opt.Hand != nil {
		r.opt.Hand = r.opt.Hand.Fork()
	}
	done := r.result.Done
	r.sim, r.steps = r.sim.Clone(), steps
	if r.opt.Watch != nil {
		r.opt.Watch = r.opt.Watch.Fork()
		r.result.Watched = r.opt.Watch
	} else {
		r.result.Samples = append(make([]Sample, 0, cap(r.result.Samples)), r.result.Samples...)
	}
	r.result.Done = notDone(len(steps))
	copy(r.result.Done, done[:r.next])
	return r
}

type runner struct {
	sim      *Fire
	opt      Options
	steps    []Move
	next     int
	lastStep float64
	sample   float64 // s, when the next is due
	look     float64 // s, when the hand looks next
	touched  float64 // s, when it last did something
	met      float64 // s, since when the next move's sign is there and nobody has come; negative: it is not
	over     bool
	lit      bool
	measure  measure
	result   Result
}

func begin(setup Setup, steps []Move, opt Options) runner {
	// A minute is what a strip can show, and what owners read gauges by.
	if opt.Every == 0 {
		opt.Every = time.Minute
	}
	sim := New(setup, opt.Step)
	sim.rough = opt.Coarse
	r := runner{sim: sim, opt: opt, steps: steps, measure: newMeasure(sim), met: -1}
	r.result.Done = notDone(len(steps))
	r.result.Watched = opt.Watch
	if opt.Watch == nil {
		r.result.Samples = make([]Sample, 0, int(opt.Until/opt.Every)+2)
	}
	return r
}

func notDone(n int) []time.Duration {
	out := make([]time.Duration, n)
	for i := range out {
		out[i] = -1
	}
	return out
}

// goOn burns to the end of the run, or until step n is due.
func (r *runner) goOn(n int) {
	const tick = 1e-6 // s, against rounding
	for sim := r.sim; !r.over && sim.now <= r.opt.Until.Seconds()+tick; {
		// First what is due is done, then the moment is looked at, then it burns on: a sample
		// shows what was done at its own time.
		r.act(n)
		r.help()
		if r.next == n && n < len(r.steps) && sim.holds(r.steps[n].When, r.lastStep) {
			return
		}
		if sim.now >= r.sample-tick {
			r.sample += r.opt.Every.Seconds()
			if r.opt.Watch != nil {
				r.opt.Watch.See(sim)
			} else {
				r.result.Samples = append(r.result.Samples, sim.sample(r.measure.band))
			}
			if r.over = r.opt.StopAtEnd && r.finished(); r.over {
				return
			}
		}
		if r.opt.Coarse {
			sim.pace(r.next >= len(r.steps) && sim.now > max(r.lastStep, r.touched)+settling)
		}
		sim.Step()
		// A sign that must hold for some minutes is watched at every step, not only at samples.
		if r.next < len(r.steps) {
			sim.hold(r.steps[r.next].When)
		}
		r.measure.step(sim, r.lit)
		r.result.GaveUp = r.measure.passed(r.opt.GiveUp)
		r.over = r.result.GaveUp
	}
	r.over = true
}

func (r *runner) end() Result {
	r.result.Summary = r.measure.summary(r.sim)
	r.result.Summary.MovesMissed = len(r.steps) - r.next
	return r.result
}

// act takes every step before n that is due.
func (r *runner) act(n int) {
	for r.next < n {
		if !r.comes() {
			if !r.passed() {
				return
			}
			// What nobody does any more lets the next move come.
			r.next++
			r.sim.held, r.met = -1, -1
			continue
		}
		for _, a := range r.steps[r.next].Do {
			if r.opt.Hand != nil {
				a = r.opt.Hand.Doing(r.sim, a)
			}
			r.do(a)
		}
		r.result.Done[r.next] = r.sim.Elapsed()
		r.lastStep = r.sim.now
		r.next++
		r.sim.held, r.met = -1, -1
	}
}

// comes tells whether the next move is done: its sign is there, and somebody has seen it.
func (r *runner) comes() bool {
	t := r.steps[r.next].When
	if !r.sim.holds(t, r.lastStep) {
		return false
	}
	if t.Late <= 0 {
		return true
	}
	if r.met < 0 {
		r.met = r.sim.now
	}
	return r.sim.now-r.met >= t.Late.Seconds()
}

// passed tells whether the wood that the next move was for is gone.
func (r *runner) passed() bool {
	t := r.steps[r.next].When
	return t.PassedBy > 0 && r.lit && r.sim.now >= r.lastStep+t.After.Seconds() && r.sim.woodLeft() <= float64(t.PassedBy)
}

// help lets the hand look.
func (r *runner) help() {
	if r.opt.Hand == nil || r.sim.now < r.look {
		return
	}
	r.look = r.sim.now + looks
	for _, a := range r.opt.Hand.Look(r.sim) {
		r.do(a)
		r.touched = r.sim.now
	}
}

func (r *runner) do(a Act) {
	r.sim.Do(a)
	switch {
	case a.Kind == ActLight:
		r.lit = true
	case a.Kind == ActLoad && a.Load != nil:
		r.measure.loaded(r.sim.now)
		r.lit = true
	}
}

// Elapsed is the time since the start.
func (s *Fire) Elapsed() time.Duration { return time.Duration(s.now * float64(time.Second)) }

// holds tells whether a trigger is met, since being the time of the step before.
func (s *Fire) holds(t Trigger, since float64) bool {
	// The latest time stands in for a gauge and for wood that is left, and never for wood
	// that is not black: shutting the air on it is what smokes.
	overdue := t.Latest > 0 && s.now >= since+t.Latest.Seconds()
	switch {
	case s.now < t.At.Seconds(), s.now < since+t.After.Seconds():
		return false
	case t.Charred && !s.charred():
		return false
	case t.WoodLeft > 0 && !overdue && s.woodLeft() > float64(t.WoodLeft):
		return false
	case t.Gauge != "" && !overdue:
		if i, ok := placeIndex[t.Gauge]; ok && s.reading(i) < float64(t.Above) {
			return false
		}
		if t.Held > 0 && (s.held < 0 || s.now-s.held < t.Held.Seconds()) {
			return false
		}
	case t.Gauge != "" && t.Least > 0:
		if i, ok := placeIndex[t.Gauge]; ok && s.reading(i) < float64(t.Least) {
			return false
		}
	}
	return true
}

// hold notes since when the gauge of a trigger has been where it must be.
func (s *Fire) hold(t Trigger) {
	if t.Held <= 0 {
		return
	}
	i, ok := placeIndex[t.Gauge]
	switch {
	// It has fallen back: the time begins again.
	case !ok || s.reading(i) < float64(t.Above):
		s.held = -1
	case s.held < 0:
		s.held = s.now
	}
}

// When a fire counts as charred, and as over.
const (
	blackAllOver = 0.92  // share of the surface that is alight when a piece looks black all over
	woodGone     = 0.02  // kg of dry wood, under which there is none
	CoalsGone    = 0.05  // kg of coals, under which a fire is over
	shortest     = 600.0 // s, before which no burn is over
)

// charred tells whether every piece is black all over.
func (s *Fire) charred() bool {
	for i := range s.batches {
		if b := &s.batches[i]; !b.spent() && b.alight < blackAllOver {
			return false
		}
	}
	return true
}

func (s *Fire) woodLeft() float64 {
	sum := 0.0
	for i := range s.batches {
		sum += s.batches[i].dry
	}
	return sum
}

func (r *runner) finished() bool {
	gone := r.sim.woodLeft() < woodGone && r.sim.coals < CoalsGone
	return r.lit && r.next >= len(r.steps) && (gone || !r.sim.burning()) && r.sim.now > shortest
}
