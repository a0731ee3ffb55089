// Package follow holds a burn's log against its plan: which steps are done, what
// comes next, and whether its sign is there.
package follow

import (
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
}

// A Lack is what a sign still lacks.
type Lack struct {
	Kind    LackKind
	Gauge   stove.Place   // that is not yet where it must be
	Reading units.Celsius // of it
	Held    time.Duration // that it must have been there
	Rate    float64       // K a minute, by which it falls
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
)

const (
	sameOpening = 0.06 // within which a control is where a step wants it
	halfShut    = 0.5  // under which a bypass counts as shut
	gaugeSlack  = 3    // K under the sign at which a gauge counts as there
	coldShare   = 0.6  // of the way from room to sign, under which a fire never came

	// stillHolds is how long a reading is taken for how things are.
	stillHolds = 20 * time.Minute
)

// Seen is how the fire is by what is computed of it, where nobody has read or said it.
type Seen struct {
	Known   bool
	Phase   fire.Phase
	Wood    units.Kilogram // dry, not yet char
	Black   float64        // how likely the last load is black all over, 0 to 1
	Flames  float64        // and that some are seen
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
	s := Seen{Known: true, Phase: last.Phase, Wood: last.Wood, Gauges: map[stove.Place]units.Celsius{}, Samples: r.Samples}
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
		if i := f.done(e); i >= 0 {
			f.Done, since = i+1, e.At
		}
	}
	f.Since = since
	if f.Done < len(p.Steps) {
		f.Next, f.Has = p.Steps[f.Done], true
		f.next(since)
	}
	return f.Progress
}

// following is one burn while it is held against its plan.
type following struct {
	plan.Plan
	Progress
	burn burn.Burn
	seen Seen
	now  time.Time
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
	// Who puts the next load on has not kept the coals for later.
	if i := f.Done + 1; found < 0 && i < len(f.Steps) && f.Steps[f.Done].Kind == plan.KeepIt && f.Steps[i].Kind == plan.ReloadTime && f.does(f.Steps[i], e) {
		found = i
	}
	return found
}

// does tells whether an entry is what a step asks for.
func (f *following) does(s plan.Step, e burn.Entry) bool {
	// Kindling is put on at any time; a load of splits is what steps ask for.
	loads := e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling
	switch s.Kind {
	case plan.LightIt:
		return e.Kind == burn.Light || f.Wish.Start.Few() && loads
	case plan.ShutDoor:
		return e.Kind == burn.Door && e.Door == fire.Shut
	case plan.LoadIt, plan.FeedIt:
		return loads
	case plan.CloseIt:
		return e.Kind == burn.Control && e.Control == s.Control && e.Opening < halfShut
	case plan.TurnDown, plan.KeepIt:
		return e.Kind == burn.Control && e.Control == s.Control && e.Opening <= s.Opening+sameOpening
	case plan.ReloadTime:
		return e.Kind == burn.Load
	}
	return false
}

// next fills in whether the sign of the next step is there, and when it is
// likely; since is when the step before was done.
func (f *following) next(since time.Time) {
	if f.Next.Kind == plan.LightIt || f.Next.Kind == plan.LoadIt && !f.Wish.Start.FirstFire() {
		f.Ready = true
		return
	}
	t, waited := f.Next.Fire.When, f.now.Sub(since)
	gauge := f.gauge(t, waited)
	charred := !t.Charred || f.seen.Black >= surelyBlack
	f.Ready = gauge && charred && f.coals(t, waited) && (waited >= t.After || f.drawsWell()) && f.settled()
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

// wellOver of the low end of its band, a flue draws by itself however short the fire has
// burnt.
const wellOver = 1.15

// drawsWell tells whether the door need not stand ajar as long as is usual.
func (f *following) drawsWell() bool {
	g, ok := f.Wish.Stove.Guide()
	if f.Next.Kind != plan.ShutDoor || !ok {
		return false
	}
	reading, _, read := f.reading(g.Place)
	return read && float64(reading) >= wellOver*float64(g.Band.Low)
}

const (
	// fallsFast is a fall of the guiding gauge, K a minute, at which the fire has not yet
	// taken the step before: another would be one too far.
	fallsFast = 6.0
	// fallsOver is the time over which that is looked at.
	fallsOver = 6 * time.Minute
)

// settled tells whether the fire has taken the turn-down before, by the guiding gauge
// where it was read: "flames still there" is true of a fire that starves too.
func (f *following) settled() bool {
	g, ok := f.Wish.Stove.Guide()
	if f.Next.Kind != plan.TurnDown || f.Next.Fire.When.Charred || !ok {
		return true
	}
	readings := f.burn.Readings(g.Place)
	for len(readings) > 0 && readings[len(readings)-1].At.After(f.now) {
		readings = readings[:len(readings)-1]
	}
	n := len(readings)
	if n < 2 || f.now.Sub(readings[n-1].At) > fallsOver {
		return true
	}
	first := n - 2
	for first > 0 && readings[n-1].At.Sub(readings[first].At) < fallsOver/2 {
		first--
	}
	minutes := readings[n-1].At.Sub(readings[first].At).Minutes()
	if minutes < 1 || minutes > 2*fallsOver.Minutes() {
		return true
	}
	rate := float64(readings[n-1].Reading-readings[first].Reading) / minutes
	if rate > -fallsFast {
		return true
	}
	f.Lacks = Lack{Kind: Falling, Gauge: g.Place, Reading: readings[n-1].Reading, Rate: rate}
	return false
}

// gauge tells whether the gauge of a sign is where it must be. The latest time
// stands in for a gauge that is a little off, and not for a fire that never came:
// black all over does not go with a cold flue.
func (f *following) gauge(t fire.Trigger, waited time.Duration) bool {
	if t.Gauge == "" {
		return true
	}
	reading, known, read := f.reading(t.Gauge)
	there := known && reading >= t.Above-gaugeSlack
	switch {
	case !there:
		f.Lacks = Lack{Kind: TooLow, Gauge: t.Gauge, Reading: reading}
	case t.Held > 0 && !f.held(t):
		there = false
		f.Lacks = Lack{Kind: NotHeld, Gauge: t.Gauge, Reading: reading, Held: t.Held}
	}
	// Too late for a gauge that reads a little low. But a flue that is still cold, read by
	// the owner and not by the replay, means that the load has not caught.
	if late := t.Latest > 0 && waited >= t.Latest; late {
		room := f.Wish.Room
		if f.NotCaught = read && reading-room < coldShare*(t.Above-room); !f.NotCaught {
			there, f.Lacks = true, Lack{}
		}
	}
	return there
}

// coals tells whether the wood before has gone to coals, as far as a step wants
// it, and there are any.
func (f *following) coals(t fire.Trigger, waited time.Duration) bool {
	switch {
	case f.Next.Kind == plan.ReloadTime:
		return f.seen.Phase == fire.Coaling
	case f.Next.Kind == plan.KeepIt: // less air while there are flames would only make them smoke
		return f.seen.Phase == fire.Coaling && f.seen.Flames < hardlyFlames
	case f.Next.Kind == plan.FeedIt && f.seen.Phase == fire.Out:
		f.Lacks = Lack{Kind: CoalsGone}
		return false
	}
	return t.WoodLeft == 0 || f.seen.Wood <= t.WoodLeft || t.Latest > 0 && waited >= t.Latest
}

// reading is what a gauge shows: what was read lately, else what is computed; read
// tells which.
func (f *following) reading(place stove.Place) (t units.Celsius, known, read bool) {
	t, known = f.seen.Gauges[place]
	if last, ok := f.lately(place); ok {
		return last.Reading, true, true
	}
	return t, known, false
}

// lately is the last reading of a gauge, if it still holds.
func (f *following) lately(place stove.Place) (burn.Reading, bool) {
	readings := f.burn.Readings(place)
	if n := len(readings); n > 0 && f.now.Sub(readings[n-1].At) < stillHolds {
		return readings[n-1], true
	}
	return burn.Reading{}, false
}

// held tells whether a gauge has been where it must be for as long as it must:
// by what was read, where it was read lately, else by what is computed.
func (f *following) held(t fire.Trigger) bool {
	from, least := f.now.Add(-t.Held), t.Above-gaugeSlack
	if _, ok := f.lately(t.Gauge); ok {
		since := time.Time{}
		for _, r := range f.burn.Readings(t.Gauge) {
			switch {
			case r.Reading < least:
				since = time.Time{}
			case since.IsZero():
				since = r.At
			}
		}
		return !since.IsZero() && !since.After(from)
	}
	if f.seen.Samples == nil { // believed, and there now: it has had the time
		return f.now.Sub(f.Since) >= t.Held
	}
	for i := len(f.seen.Samples) - 1; i >= 0; i-- {
		s := f.seen.Samples[i]
		if v, ok := s.Reading(t.Gauge); !ok || v < least {
			return false
		}
		if f.burn.Started.Add(s.At).Before(from) {
			return true
		}
	}
	return false
}
