// Package coach watches a fire with its owner: it says how the fire is, what to do
// now or next, what it watches for meanwhile, and what is likely to come.
//
// It reads three things: the log with its gauges and their rates, what is believed of
// the fire ([belief.Belief]), and the plan, if the fire was begun from one. A rule is
// one small function that looks at a [situation] and has an [Advice] or none; they
// stand in [rules] in the order of what can hurt somebody, and one thing is said at a
// time. Where no rule speaks, the plan's next step stands; where there is none, nothing
// is said: a fire that is fine is left alone.
//
// With no gauge the rules go by what somebody sees and by what is believed. When the
// fire is not where the plan wanted it, what is left of the plan is worked out again
// from where the fire is ([Rework]).
//
// Everything is a function of the log up to a moment, so it can be asked as of any.
// Reasons are codes with quantities; package say has the sentences.
package coach

import (
	"slices"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/follow"
	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// Asked is what the coach is asked about.
type Asked struct {
	Burn   burn.Burn
	Plan   *plan.Plan // nil: logged without one
	Now    time.Time
	Belief *belief.Belief // at Now; nil: mineral fuel, which is only recorded

	// Before stands in for a belief that is still being worked out: an answer of a moment
	// ago. What was logged since goes before what it says, and nothing is foretold anew.
	Before *Answer
}

// An Answer is all that is said about a fire at a moment.
type Answer struct {
	At       time.Time
	Phase    fire.Phase // empty: not simulated
	Standing belief.Standing
	Gauges   []Gauge // the guiding one first
	Guided   bool    // the stove has a gauge to steer by
	Advice   Advice  // the one thing; its code is [Fine] where there is none
	Watch    []Watched
	Forecast belief.Forecast
	Plan     *plan.Plan // the plan as it is now, its times the belief's, worked out again where it had to be
	Progress follow.Progress
	Ahead    []plan.Step   // the steps that are left, their times since the start by the belief
	Reworked Elsewhere     // why they were worked out again; empty: they were not
	Dangers  []burn.First  // all that the log says of them, the most urgent first
	Away     *Away         // how long it can be left, for who looks in seldom; nil: not asked, or something is to be done first
	Unheard  time.Duration // for how long nobody has said anything, where that is too long to know; else 0
	Stale    bool          // a new answer is being worked out
}

// Smoulders tells whether there is wood that has lost its flames: whatever phase the burn
// would be in, it is none of those in which a fire is well.
func (a Answer) Smoulders() bool {
	switch a.Advice.Code {
	case Dies, Smoulders:
		return true
	}
	switch a.Phase {
	case fire.Charring, fire.Cruising:
		return a.Standing.Flames < 1-policy.Bright && a.Standing.Wood.Middle >= 2*policy.SomeWood && !a.Stale
	}
	return false
}

// An Advice is one thing to do, or that nothing is to be done.
type Advice struct {
	Code    RuleID
	Urgent  bool       // goes before any step of the plan
	Step    *plan.Step // the plan's, where Code is [PlanStep]
	Ready   bool       // now; else when its sign comes
	Mild    bool       // it can wait, and is not said as something to do now
	Kindle  bool       // the coals are few by now: what goes on wants kindling under it, which Acts have
	Sticks  bool       // some of it under a load whose coals may be too few
	Resized bool       // a load of the plan was sized for what is left of the wish
	Fitted  bool       // the load of the plan's step, or its air, is less than planned: Acts and Sets have it

	Sets []plan.Setting // controls, and how far
	Acts []fire.Act     // what is done besides: the door, the coals

	Gauge    stove.Place // what it goes by, where it is a gauge
	Reading  units.Celsius
	Limit    units.Celsius
	Rate     float64       // K a minute
	Since    time.Duration // how long it has been so
	Reckoned bool          // only computed: no gauge and nobody says so
	From     time.Duration // what it warns of comes from so long on
	To       time.Duration // to so long on
	Draft    units.Pascal
	Mass     units.Kilogram

	// When the next thing is due, since the start; negative: not known.
	Earliest, Expected, Latest time.Duration

	Again time.Duration // look again after so long
	First *burn.First   // the log's own alarm
}

// Asks tells whether the advice is something to do.
func (a Advice) Asks() bool { return a.Code != Fine && a.Code != "" }

// A Watched is something that is watched for, and what it goes by.
type Watched struct {
	Code    RuleID
	Gauge   stove.Place
	Limit   units.Celsius
	Control stove.Control
	Opening float64
}

// A RuleID names a rule, and the thing that it says.
type RuleID string

// Fine says that there is nothing to do; PlanStep that the plan's next step stands.
const (
	Fine     RuleID = "fine"
	PlanStep RuleID = "step"
)

// rule is one thing that the coach looks for.
type rule struct {
	code   RuleID
	urgent bool
	find   func(*situation) (Advice, bool)
}

// Ask answers.
func Ask(a Asked) Answer {
	s := situate(a)
	out := Answer{At: a.Now, Phase: s.now.Phase, Standing: s.now, Gauges: s.gauges, Guided: s.guided, Plan: a.Plan,
		Forecast: s.ahead, Progress: s.progress, Ahead: s.steps, Reworked: s.reworked}
	if s.plan != nil {
		out.Plan = s.plan
	}
	out.Dangers = s.dangers
	if s.heard > unheardFor && s.isLit() {
		out.Unheard = s.heard
	}
	out.Stale = a.Belief == nil && a.Before != nil
	out.Advice = s.advise()
	if out.Advice.Code == NotCaught { // whatever is believed of it: one thing is said of a fire, and not two
		out.Phase = fire.Lighting
	}
	out.Watch = s.watches(out.Advice)
	out.Away = s.away(out.Advice)
	return out
}

// advise finds the one thing: what is urgent, then a step whose sign is there, then what
// is worth saying, then the step that is waited for.
func (s *situation) advise() Advice {
	for _, r := range rules {
		if !r.urgent {
			continue
		}
		if found, ok := r.find(s); ok {
			return s.said(r, found)
		}
	}
	step, has := s.step()
	if more := has && step.Step.Kind == plan.FeedIt && s.warm(); has && step.Ready && !more { // who is warm puts nothing on
		return step
	}
	for _, r := range rules {
		if r.urgent {
			continue
		}
		if found, ok := r.find(s); ok {
			return s.said(r, found)
		}
	}
	if has {
		return step
	}
	return Advice{Code: Fine, Earliest: -1, Expected: -1, Latest: -1, Again: s.lookAgain()}
}

func (s *situation) said(r rule, a Advice) Advice {
	a.Code, a.Urgent, a.Ready = r.code, r.urgent, !a.Mild
	a.Earliest, a.Expected, a.Latest = -1, -1, -1
	if a.Again == 0 {
		a.Again = 5 * time.Minute
	}
	return a
}

// step is the plan's next step as an advice.
func (s *situation) step() (Advice, bool) {
	if s.plan == nil || !s.progress.Has {
		return Advice{}, false
	}
	next := s.progress.Next
	a := Advice{Code: PlanStep, Step: &next, Ready: s.progress.Ready, Earliest: next.Earliest, Expected: next.Expected, Latest: next.Latest,
		Gauge: next.Fire.When.Gauge, Limit: next.Fire.When.Above}
	next = s.inStages(next, &a)
	a.Sets = next.Settings(s.Burn.Stove)
	if g, ok := s.gauge(a.Gauge); ok {
		a.Reading = g.Value
	}
	a.Sets = append(a.Sets, s.airForLoad(next)...)
	for _, act := range next.Fire.Do {
		if act.Kind != fire.ActControl {
			a.Acts = append(a.Acts, act)
		}
	}
	late := next.Kind == plan.FeedIt && s.ends()-s.at < lateFeed && !s.plan.Wish.Embers && s.Belief != nil
	if a.Ready && !late && (next.Kind == plan.FeedIt || next.Kind == plan.LoadIt && s.at > 0) {
		s.fitLoad(&a)
	}
	if late && a.Ready { // it is sized for what is left of the evening, and where it is not worth it any more it is not asked for
		acts, sets, serves := s.nextLoad()
		if !serves {
			return Advice{}, false
		}
		a.Acts = append(slices.DeleteFunc(a.Acts, func(act fire.Act) bool { return act.Kind == fire.ActLoad || act.Kind == fire.ActRake }), acts...)
		a.Sets = append(slices.DeleteFunc(a.Sets, func(set plan.Setting) bool { return set.Control.Key == s.air.Key }), sets...)
		a.Resized = true
	}
	if next.Kind == plan.ReloadTime && a.Ready {
		// A window for a load is one only where a load serves.
		acts, sets, serves := s.nextLoad()
		a.Acts, a.Sets, a.Ready = append(a.Acts, acts...), append(a.Sets, sets...), serves
	}
	s.kindle(&a)
	if a.Again = s.lookAgain(); a.Ready {
		a.Again = 5 * time.Minute
	}
	return a, true
}

// lateFeed is before the end of a wish, that a later load of its plan is sized anew.
const lateFeed = 90 * time.Minute

// tooFewFor is the share of the coals that light a load, under which it is laid on kindling.
const tooFewFor = 0.7

// mayBeFew is the multiple of them, up to which they may be too few after all: no gauge shows coals,
// and stoves differ in how many a load leaves while it still flames.
const mayBeFew = 1.5

// kindle puts kindling under a load that is due where the coals are few by now: whoever comes late
// is not told to lay big wood on what would not light it.
func (s *situation) kindle(a *Advice) {
	late := a.Step != nil && (a.Step.Kind == plan.FeedIt || a.Step.Kind == plan.ReloadTime || a.Step.Kind == plan.LoadIt && !s.plan.Wish.Start.FirstFire())
	few := s.now.Flames <= policy.Dark && s.now.Coals.Middle < tooFewFor*s.leastCoals()
	fades := s.fades() && s.now.Coals.Low < s.leastCoals() && s.now.Coals.Middle < mayBeFew*s.leastCoals()
	if !late || !a.Ready || !s.known || !few && !fades {
		return
	}
	at := slices.IndexFunc(a.Acts, func(act fire.Act) bool { return act.Kind == fire.ActLoad })
	if at < 0 {
		return
	}
	w := s.plan.Wish
	w.Start = wish.FewCoals
	kindling := w.KindlingLoad(fire.OnCoals)
	if !few { // it still flames, or did a moment ago: some sticks, and nothing more, or it all takes with a rush
		kindling.Pieces = max(1, (kindling.Pieces+1)/3)
	}
	a.Kindle, a.Sticks = few, !few
	a.Acts = slices.Insert(slices.Clone(a.Acts), at, fire.Act{Kind: fire.ActLoad, Load: &kindling})
	if few && s.Burn.Stove.Ajar() {
		a.Acts = append(a.Acts, doorTo(fire.Ajar)...)
	}
}

// fadesBy is by how many K a minute the guiding gauge falls over a fire that fades.
const fadesBy = 1.5

// fades tells whether the guiding gauge falls, whatever flames are believed to stand under it.
func (s *situation) fades() bool {
	g, read := s.guiding()
	return read && g.HasRate && g.Rate <= -fadesBy
}

const (
	stageShare = 0.5             // of the opening, that one stage of turning down leaves at the least,
	surgeShare = 0.65            // and where the gauge rises steeply: the wood gives its gas at once, and wants air for it
	surgesBy   = 8.0             // K a minute
	stageTakes = 6 * time.Minute // until the next one, that it has to show
)

// inStages has the air of a turn-down go down by no more at once than a fire bears on whose lever
// nobody knows what a mark is worth: the rest of it follows when flames are seen to stand.
func (s *situation) inStages(next plan.Step, a *Advice) plan.Step {
	least := stageShare * s.opening
	if g, read := s.guiding(); read && g.HasRate && g.Rate >= surgesBy {
		least = surgeShare * s.opening
	}
	if next.Kind != plan.TurnDown || next.Control != s.air.Key || next.Opening >= least || s.nearLimit() {
		return next
	}
	to := s.air.Scale.AtLeast(least)
	if to >= s.opening || to <= next.Opening {
		return next
	}
	if s.isMoved && s.moved < stageTakes && s.opening < s.before {
		a.Ready = false
	}
	next.Opening = to
	do := slices.Clone(next.Fire.Do)
	for i := range do {
		if do[i].Kind == fire.ActControl && do[i].Control == next.Control {
			do[i].Opening = to
		}
	}
	next.Fire.Do = do
	return next
}

// airForLoad is the main air where a load goes on and it does not stand open enough to char
// it: the plan takes that for granted, and the evening went otherwise.
func (s *situation) airForLoad(next plan.Step) []plan.Setting {
	if next.Kind != plan.LoadIt && next.Kind != plan.FeedIt || s.air.Key == "" || s.breath >= charAir {
		return nil
	}
	for _, set := range next.Settings(s.Burn.Stove) {
		if set.Control.Key == s.air.Key {
			return nil
		}
	}
	return set(s.air, s.charsAt())
}

// How soon somebody looks again at a fire that is fine: while it is lit, and while it
// cruises.
const soonest, latest = 5 * time.Minute, 45 * time.Minute

// lookAgain is when something is next likely.
func (s *situation) lookAgain() time.Duration {
	next := latest
	for _, st := range s.steps {
		if st.Earliest > s.at {
			next = min(next, st.Earliest-s.at)
			break
		}
	}
	if s.now.Phase == fire.Lighting || s.now.Phase == fire.Establishing || s.now.Phase == fire.Charring {
		next = min(next, 10*time.Minute)
	}
	return max(soonest, next.Round(time.Minute))
}
