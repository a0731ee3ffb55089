// Package follow holds a burn's log against its plan: which steps are done, what
// comes next, and whether its sign is there.
package follow

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Progress is where a burn stands against its plan.
type Progress struct {
	Done  int       // steps done
	Next  plan.Step // what comes next, if any
	Has   bool
	Ready bool          // its sign is there now
	In    time.Duration // until it is likely; 0: not known
	Lacks Lack          // what the sign still lacks, as far as it is known

	Since time.Time // when the last of them was done, or the start

	NotCaught bool // its time is over and the flue is cold: the load has not caught
	Ask       Ask  // where what is seen and what is computed disagree, or nobody has said
}

// An Ask is what somebody at the stove is asked, because only they can see it.
type Ask string

// The questions.
const (
	AskCoals Ask = "coals" // is it down to coals?
	AskBlack Ask = "black" // is every piece black all over?
)

// A Lack is what a sign still lacks.
type Lack struct {
	Kind    LackKind
	Gauge   stove.Place   // that is not yet where it must be
	Reading units.Celsius // of it
	Held    time.Duration // that it must have been there, or for how long nobody has read it
	Rate    float64       // K a minute, by which it moves
	Limit   units.Celsius // that it must be under
}

// A LackKind is a way in which a sign may not be there yet.
type LackKind string

// The lacks.
const (
	Nothing   LackKind = ""
	TooLow    LackKind = "too-low"    // the gauge is under the sign
	NotHeld   LackKind = "not-held"   // it is there, and not yet for as long as it must
	Falling   LackKind = "falling"    // the guiding gauge still falls from the step before
	CoalsGone LackKind = "coals-gone" // whoever comes too late finds none that would light a load
	Rising    LackKind = "rising"     // the guiding gauge still rises: nothing goes on
	OverBand  LackKind = "over-band"  // it is over its band: nothing goes on
	NotFallen LackKind = "not-fallen" // it has not fallen far enough from its highest: Limit is how far
	Unread    LackKind = "unread"     // nobody has read it for Held
	Declined  LackKind = "declined"   // somebody has said a moment ago that it was not done, or not so yet
	NoFlames  LackKind = "no-flames"  // what does not burn is not turned down
	StillWood LackKind = "still-wood" // the gauge has fallen, and by what is computed there is still wood
	ItIsOut   LackKind = "out"        // somebody has said so, or it is believed
)

const (
	sameOpening = 0.06 // within which a control is where a step wants it
	halfShut    = 0.5  // under which a bypass counts as shut
	gaugeSlack  = 3    // K under the sign at which a gauge counts as there
	coldShare   = 0.6  // of the way from room to sign, under which a fire never came

	// risesBy is from where a gauge rises, K a minute: less is its own wavering.
	risesBy = 1.0
	// FallenBy is the share of a gauge's highest over the room by which it has fallen when
	// a load has burnt down to coals: a third, by what flue gauges show from the last
	// flames to glowing coals; a quarter to a half.
	FallenBy = 1.0 / 3
	// stillWood is the share of the last load's dry wood that must not be left when the
	// next goes on.
	stillWood = 0.25
	// fewCoals is the share of what lights a load, under which a load on coals is laid on
	// none.
	fewCoals = 0.5
	// declinedFor is how long a step rests of which somebody said that it was not done.
	declinedFor = 30 * time.Minute
	// notYetFor is how long a load rests that somebody has said it is too soon for.
	notYetFor = 10 * time.Minute
)

// Seen is how the fire is by what is computed of it, where nobody has read or said it.
type Seen struct {
	Known   bool
	Phase   fire.Phase
	Wood    units.Kilogram // dry, not yet char
	Black   float64        // how likely the last load is black all over, 0 to 1
	Flames  float64        // and that some are seen
	Coals   units.Kilogram
	Least   units.Kilogram // of coals, that light a load; 0: not known
	Gauges  map[stove.Place]units.Celsius
	Samples []fire.Sample // of before, where it was replayed
}

// OfReplay is a fire as a replay of its log has it.
func OfReplay(r fire.Result) Seen {
	n := len(r.Samples)
	if n == 0 {
		return Seen{}
	}
	last := r.Samples[n-1]
	s := Seen{Known: true, Phase: last.Phase, Wood: last.Wood, Coals: last.Coals, Gauges: map[stove.Place]units.Celsius{}, Samples: r.Samples}
	if !early(last.Phase) {
		s.Black = 1
	}
	for _, p := range stove.Places {
		if t, ok := last.Reading(p); ok {
			s.Gauges[p] = t
		}
	}
	return s
}

// early tells whether a fire is one whose wood is not black yet.
func early(p fire.Phase) bool {
	return p == "" || p == fire.Preparing || p == fire.Lighting || p == fire.Establishing || p == fire.Charring
}

// hardlyFlames is how likely some are, at the most, to say that they are gone.
const hardlyFlames = 0.35

// surelyBlack is from when wood counts as black that nobody has looked at.
const surelyBlack = 0.6

// Plan compares a burn's log with its plan and finds what comes next. The sign of
// a step is taken from the owner's readings where there are any, else from what is
// computed of the fire.
func Plan(p plan.Plan, b burn.Burn, seen Seen, now time.Time) Progress {
	f := following{Plan: p, burn: b, seen: seen, now: now}
	since := b.Started
	// Entries are taken in the order of their times, whatever the order they were typed in;
	// what is undone or corrected is not among them.
	for _, e := range b.Valid() {
		if e.At.After(now) {
			break
		}
		f.skipStanding(e.At.Add(-1))
		if i := f.done(e); i >= 0 {
			f.Done, since = i+1, e.At
		}
		if e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling {
			f.lastLoad = e.At
		}
	}
	f.Since = since
	f.skipStanding(now)
	for f.Done > 0 && f.Done < len(p.Steps) && f.passed(p.Steps[f.Done], now.Sub(since)) && (f.Done < len(p.Steps)-1 || p.Steps[f.Done].Kind.Extra()) {
		f.Done++
	}
	if f.Done < len(p.Steps) {
		f.Next, f.Has = p.Steps[f.Done], true
		f.next(since)
	}
	return f.Progress
}

// skipStanding passes over what stands already as a step wants it: whoever has shut the bypass
// before its time is not asked afterwards whether it was shut, and a load that was charred with
// less air than its turn-down has is turned down.
func (f *following) skipStanding(at time.Time) {
	for f.Done > 0 && f.Done < len(f.Steps) && f.stands(f.Steps[f.Done], at) {
		f.Done++
	}
}

// following is one burn while it is held against its plan.
type following struct {
	plan.Plan
	Progress
	burn burn.Burn
	seen Seen
	now  time.Time

	lastLoad time.Time // of those gone through
}

// done returns the step that an entry fulfils, or −1. A later turn-down made at
// once counts for those before it, when only turn-downs, the bypass and the door
// lie between.
func (f *following) done(e burn.Entry) int {
	found := -1
	// Somebody who turns down from open to a third at once has done both steps, and must
	// not be asked for the first again.
	if e.Kind == burn.Control {
		for i := f.Done; i < len(f.Steps); i++ {
			kind := f.Steps[i].Kind
			if kind != plan.TurnDown && kind != plan.CloseIt && kind != plan.ShutDoor {
				break
			}
			if kind == plan.TurnDown && f.does(f.Steps[i], e) {
				found = i
			}
		}
	}
	if found < 0 && f.Done < len(f.Steps) && f.does(f.Steps[f.Done], e) {
		found = f.Done
	}
	if found < 0 && f.nextLoad(e) {
		for i := f.Done; i < len(f.Steps); i++ {
			if kind := f.Steps[i].Kind; kind == plan.FeedIt || kind == plan.ReloadTime {
				return i
			} else if kind == plan.LoadIt {
				break
			}
		}
	}
	// What is besides the fire may be left out, and so may a size of wood.
	for i := f.Done; found < 0 && i < len(f.Steps)-1 && (f.Steps[i].Kind.Extra() || f.Steps[i].Kind == plan.GrowIt); i++ {
		if f.does(f.Steps[i+1], e) {
			found = i + 1
		}
	}
	// Who puts the next load on has not kept the coals for later.
	if i := f.Done + 1; found < 0 && i < len(f.Steps) && f.Steps[f.Done].Kind == plan.KeepIt && f.Steps[i].Kind == plan.ReloadTime && f.does(f.Steps[i], e) {
		found = i
	}
	return found
}

// laterLoad is how long after a load another is the next one, and no piece more on the same.
const laterLoad = 35 * time.Minute

// nextLoad tells whether an entry is a load so long after the last that whatever was still to be
// done to that one's air is done with.
func (f *following) nextLoad(e burn.Entry) bool {
	return e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling && !f.lastLoad.IsZero() && e.At.Sub(f.lastLoad) >= laterLoad
}

// does tells whether an entry is what a step asks for.
func (f *following) does(s plan.Step, e burn.Entry) bool {
	// Kindling is put on at any time; a load of splits is what steps ask for.
	loads := e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling
	switch s.Kind {
	case plan.LightIt:
		return e.Kind == burn.Light || f.Wish.Start.Few() && loads
	case plan.GrowIt:
		return e.Kind == burn.Load && e.Load != nil && e.Load.Kindling == kindles(s)
	case plan.ShutDoor:
		if !f.Wish.Stove.Ajar() { // the door is shut from the match on: what is shut is an inlet
			return e.Kind == burn.Control && e.Opening < halfShut && slices.ContainsFunc(s.Fire.Do, func(a fire.Act) bool { return a.Control == e.Control })
		}
		return e.Kind == burn.Door && e.Door == fire.Shut
	case plan.LoadIt, plan.FeedIt:
		return loads
	case plan.CloseIt:
		return e.Kind == burn.Control && e.Control == s.Control && e.Opening < halfShut
	case plan.TurnDown, plan.KeepIt:
		return e.Kind == burn.Control && e.Control == s.Control && e.Opening <= s.Opening+sameOpening
	case plan.ReloadTime:
		return e.Kind == burn.Load
	case plan.ShutWindow:
		return e.Kind == burn.WindowShut
	case plan.BlowIt:
		return e.Kind == burn.Control && e.Control == s.Control && e.Opening >= halfShut
	case plan.BedTime:
		return e.Kind == burn.Control && slices.ContainsFunc(s.Fire.Do, func(a fire.Act) bool {
			return a.Control == e.Control && math.Abs(a.Opening-e.Opening) <= sameOpening
		})
	}
	return false
}

// kindles tells whether what a step puts on is kindling.
func kindles(s plan.Step) bool {
	return slices.ContainsFunc(s.Fire.Do, func(a fire.Act) bool { return a.Load != nil && a.Load.Kindling })
}

// growsFor is how long the next size on a young fire is asked for: after that it has grown without,
// or is out.
const growsFor = 15 * time.Minute

// besideFor is how long a step besides the fire is asked for, once it is due.
const besideFor = 20 * time.Minute

// passed tells whether the load that a step turns down, or shuts the bypass for, has gone to
// coals before its sign came: then the next load is what is waited for.
func (f *following) passed(s plan.Step, waited time.Duration) bool {
	t := s.Fire.When
	switch {
	case s.Kind.Extra():
		return f.besidePassed(s, waited)
	case s.Kind == plan.GrowIt: // it burns without, or it does not: neither waits for this size
		return waited > growsFor
	}
	if t.PassedBy <= 0 || waited < t.After || f.burn.IsOut(f.now) {
		return false
	}
	return f.downToCoals() || f.seen.Known && f.seen.Wood <= t.PassedBy && f.seen.Flames < hardlyFlames
}

// besidePassed tells whether a step besides the fire is not asked for any more: it stands so,
// its time has gone, or the fire is out.
func (f *following) besidePassed(s plan.Step, waited time.Duration) bool {
	if f.burn.IsOut(f.now) && s.Kind != plan.BedTime {
		return true
	}
	if s.Kind == plan.BedTime {
		return f.now.Sub(f.burn.Started) > s.Fire.When.At+besideFor
	}
	return waited > max(s.Fire.When.After, s.Fire.When.Latest)+besideFor
}

// bearsShutting tells whether the fire as it is now, and not as it was planned, bears what a
// bedtime step shuts: nothing on wood that is left, and no gate or damper wholly while anything
// may glow. Who loaded late is not told to shut a fire in.
func (f *following) bearsShutting(s plan.Step) bool {
	least := 1.0
	for _, a := range s.Fire.Do {
		least = min(least, a.Opening)
	}
	if f.burn.IsOut(f.now) || least >= 1-sameOpening {
		return true
	}
	little := f.seen.Known && !f.muchWood() && f.seen.Flames < hardlyFlames
	if least > 0 {
		return little
	}
	return little && f.seen.Coals < fire.CoalsGone
}

// stands tells whether a control is already as a step wants it, by the log.
func (f *following) stands(s plan.Step, at time.Time) bool {
	if s.Kind != plan.CloseIt && s.Kind != plan.TurnDown {
		return false
	}
	e, ok := f.burn.Last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == s.Control && !e.At.After(at) })
	return ok && f.does(s, e)
}

// next fills in whether the sign of the next step is there, and when it is
// likely; since is when the step before was done.
//
// The sign decides, and neither the clock nor what is computed alone: the load on a first fire is
// due when the gauge has turned and so little of its wood is believed to be left as the plan has
// it go on at; a later one by the gauge's fall from its highest or by the word of whoever sees
// coals; none while the gauge rises or is over its band, none on a stove that is out; nothing is turned down
// that does not burn. Where what is seen and what is computed disagree, somebody is asked.
func (f *following) next(since time.Time) {
	t, waited := f.Next.Fire.When, f.now.Sub(since)
	switch {
	case f.declined(since):
		f.Lacks = Lack{Kind: Declined}
		return
	case f.Next.Kind == plan.LightIt:
		f.Ready = true
		return
	case f.Next.Kind == plan.BedTime: // also of a stove that is out: then it may be shut
		f.Ready = f.now.Sub(f.burn.Started) >= t.At && f.bearsShutting(f.Next)
		return
	case f.burn.IsOut(f.now):
		f.Lacks = Lack{Kind: ItIsOut}
		return
	case f.Next.Kind == plan.LoadIt && !f.Wish.Start.FirstFire():
		f.Ready = f.glows()
		return
	}
	switch f.Next.Kind {
	case plan.LoadIt, plan.FeedIt, plan.ReloadTime:
		f.Ready = f.loadDue(t, waited)
	case plan.KeepIt: // less air while there are flames would only make them smoke
		f.Ready = f.downToCoals() || f.seen.Phase == fire.Coaling && f.seen.Flames < hardlyFlames && !f.muchWood() && f.fallenOrBlind()
	case plan.GrowIt:
		f.Ready = f.growDue(t, waited)
	case plan.ShutDoor:
		f.Ready = f.doorDue(t, waited)
	case plan.ShutWindow, plan.BlowIt:
		f.Ready = waited >= t.After && (f.gauge(t) || t.Latest > 0 && waited >= t.Latest)
	default:
		f.Ready = f.caught(waited) && f.sign(t, waited) && waited >= t.After && f.settled()
	}
	if f.Ready || f.Next.Expected < 0 || f.NotCaught { // of a load that has not caught there is no telling when
		return
	}
	// The plan's interval between this step and the one before, from when that
	// one was really done.
	before := time.Duration(0)
	if f.Done > 0 {
		before = f.Steps[f.Done-1].Expected
	}
	if left := f.Next.Expected - before - waited; left >= time.Minute {
		f.In = left.Round(time.Minute)
	}
}
