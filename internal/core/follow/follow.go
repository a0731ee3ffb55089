// Package follow holds a burn's log against its plan: which steps are done, what
// comes next, and whether its sign is there.
package follow

import (
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
		if i := f.done(e); i >= 0 {
			f.Done, since = i+1, e.At
		}
	}
	f.Since = since
	// Whoever has shut the bypass before its time is not asked afterwards whether it was shut.
	for f.Done > 0 && f.Done < len(p.Steps) && f.stands(p.Steps[f.Done]) {
		f.Done++
	}
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

// stands tells whether a control is already as a step wants it, by the log.
func (f *following) stands(s plan.Step) bool {
	if s.Kind != plan.CloseIt && s.Kind != plan.TurnDown {
		return false
	}
	e, ok := f.burn.Last(func(e burn.Entry) bool { return e.Kind == burn.Control && e.Control == s.Control && !e.At.After(f.now) })
	return ok && f.does(s, e)
}

// next fills in whether the sign of the next step is there, and when it is
// likely; since is when the step before was done.
//
// The sign decides, and neither the clock nor what is computed: a load is due by the
// gauge's fall from its highest or by the word of whoever sees coals, never while the
// gauge rises or is over its band, never on a stove that is out; nothing is turned down
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
	case plan.ShutDoor:
		f.Ready = f.doorDue(t, waited)
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

// declined tells whether somebody has said a moment ago that the step was not done, or
// that its sign is not there.
func (f *following) declined(since time.Time) bool {
	e, ok := f.burn.Last(func(e burn.Entry) bool { return e.Kind == burn.NotYet && !e.At.After(f.now) })
	return ok && !e.At.Before(since) && f.now.Sub(e.At) < declinedFor
}

// glows tells whether there are coals to load on, as far as anything is known of them.
func (f *following) glows() bool {
	if f.seen.Known && (f.seen.Phase == fire.Out || f.seen.Least > 0 && float64(f.seen.Coals) < fewCoals*float64(f.seen.Least)) {
		f.Lacks = Lack{Kind: CoalsGone}
		return false
	}
	return true
}

// said tells whether something of one of the kinds was said of the load that lies there.
func (f *following) said(kinds ...burn.Kind) bool {
	e, ok := f.burn.Last(func(e burn.Entry) bool { return slices.Contains(kinds, e.Kind) && !e.At.After(f.now) })
	loaded, there := f.loaded()
	return ok && (!there || e.At.After(loaded))
}

// loaded is when the last load went on, or the fire was lit.
func (f *following) loaded() (time.Time, bool) {
	e, ok := f.burn.Last(func(e burn.Entry) bool {
		return (e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling || e.Kind == burn.Light) && !e.At.After(f.now)
	})
	return e.At, ok
}

// downToCoals tells whether somebody has said so of this load: in as many words, or that
// the flames are gone where nothing speaks against it.
func (f *following) downToCoals() bool {
	return f.said(burn.ToCoals) || f.said(burn.Out) && !f.muchWood()
}

// muchWood tells whether by what is computed much of the last load is still wood.
func (f *following) muchWood() bool {
	e, ok := f.burn.Last(func(e burn.Entry) bool {
		return e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling && !e.At.After(f.now)
	})
	return ok && f.seen.Known && float64(f.seen.Wood) > stillWood*e.Load.Dry()
}

// trend is how the guiding gauge goes: its newest reading if that still holds, its rate
// where two lie close enough, its highest with this load.
type trend struct {
	reading, highest units.Celsius
	rate             float64 // K a minute
	hasRate          bool
}

func (f *following) trend(g stove.Gauge) (t trend, ok bool) {
	last, ok := f.lately(g.Place)
	if !ok {
		return t, false
	}
	loaded, _ := f.loaded()
	t.reading = last.Reading
	var before *burn.Reading
	for _, r := range f.burn.Readings(g.Place) {
		if r.At.After(f.now) {
			break
		}
		if !r.At.Before(loaded) {
			t.highest = max(t.highest, r.Reading)
		}
		if gap := last.At.Sub(r.At); gap >= 2*time.Minute && gap <= 2*fallsOver {
			before = &r
		}
	}
	if before != nil {
		t.rate, t.hasRate = float64(last.Reading-before.Reading)/last.At.Sub(before.At).Minutes(), true
	}
	return t, true
}

// loadDue tells whether the next load may go on.
func (f *following) loadDue(t fire.Trigger, waited time.Duration) bool {
	if f.seen.Phase == fire.Out && f.seen.Known && !f.downToCoals() {
		f.Lacks = Lack{Kind: CoalsGone}
		return false
	}
	computed := f.computedDue(t)
	g, guided := f.Wish.Stove.Guide()
	way, read := f.trend(g)
	switch {
	case guided && read && way.hasRate && way.rate >= risesBy && way.reading >= g.Band.Low:
		f.Lacks = Lack{Kind: Rising, Gauge: g.Place, Reading: way.reading, Rate: way.rate}
		return false
	case guided && read && g.Band.High > 0 && way.reading > g.Band.High:
		f.Lacks = Lack{Kind: OverBand, Gauge: g.Place, Reading: way.reading, Limit: g.Band.High}
		return false
	case f.downToCoals():
		return true
	case !guided:
		if computed {
			f.Ask = AskCoals
		}
		return false
	case !read:
		f.Lacks = Lack{Kind: Unread, Gauge: g.Place, Held: f.unread(g.Place)}
		if computed {
			f.Ask = AskCoals
		}
		return false
	}
	fallen := f.Wish.Room + units.Celsius(1-FallenBy)*(way.highest-f.Wish.Room)
	switch {
	case way.reading > fallen+gaugeSlack:
		f.Lacks = Lack{Kind: NotFallen, Gauge: g.Place, Reading: way.reading, Limit: fallen}
		if computed {
			f.Ask = AskCoals
		}
		return false
	case way.highest < g.Band.Low && !computed: // it never came: what has fallen was no fire
		f.Lacks = Lack{Kind: NotFallen, Gauge: g.Place, Reading: way.reading, Limit: fallen}
		return false
	case f.muchWood():
		f.Lacks, f.Ask = Lack{Kind: StillWood, Gauge: g.Place, Reading: way.reading}, AskCoals
		return false
	}
	return waited >= min(t.After, feedsFrom)
}

// feedsFrom is how long after the step before a load may follow at the earliest: a gauge
// that falls within minutes of a turn-down falls for that.
const feedsFrom = 10 * time.Minute

// fallenOrBlind tells whether the guiding gauge has fallen as far as from flames to coals,
// or there is none to go by.
func (f *following) fallenOrBlind() bool {
	g, guided := f.Wish.Stove.Guide()
	if !guided {
		return true
	}
	way, read := f.trend(g)
	return read && way.reading <= f.Wish.Room+units.Celsius(1-FallenBy)*(way.highest-f.Wish.Room)+gaugeSlack
}

// computedDue tells whether what is computed says that a load is due.
func (f *following) computedDue(t fire.Trigger) bool {
	if !f.seen.Known {
		return false
	}
	if f.Next.Kind == plan.ReloadTime {
		return f.seen.Phase == fire.Coaling
	}
	return f.seen.Phase == fire.Coaling || t.WoodLeft > 0 && f.seen.Wood <= t.WoodLeft
}

// unread is for how long nobody has read a gauge; since the start, where nobody ever has.
func (f *following) unread(p stove.Place) time.Duration {
	since := f.burn.Started
	for _, r := range f.burn.Readings(p) {
		if !r.At.After(f.now) {
			since = r.At
		}
	}
	return f.now.Sub(since)
}

// doorDue tells whether the door is to be shut: by the number that its step prints; where
// nobody reads it, by what it is believed to read, and in the end by the clock.
func (f *following) doorDue(t fire.Trigger, waited time.Duration) bool {
	if t.Gauge == "" {
		return waited >= t.After
	}
	reading, known, read := f.reading(t.Gauge)
	if read {
		if reading >= t.Above-gaugeSlack {
			return true
		}
		f.Lacks = Lack{Kind: TooLow, Gauge: t.Gauge, Reading: reading}
		if t.Latest > 0 && waited >= t.Latest {
			f.NotCaught = f.cold(t, reading)
		}
		return false
	}
	if !known || reading < t.Above-gaugeSlack {
		f.Lacks = Lack{Kind: Unread, Gauge: t.Gauge, Held: f.unread(t.Gauge)}
		return t.Latest > 0 && waited >= t.Latest
	}
	return waited >= t.After
}

// cold tells whether a gauge that was read is so far under a sign that no fire ever came.
func (f *following) cold(t fire.Trigger, reading units.Celsius) bool {
	return reading-f.Wish.Room < coldShare*(t.Above-f.Wish.Room)
}

// caught tells whether there is a fire to turn down: nobody has said that its flames are
// gone, no gauge says that the flue is cold, and where nothing was read or said it is
// believed to flame.
func (f *following) caught(waited time.Duration) bool {
	if f.said(burn.Out, burn.ToCoals) && !f.flamesAgain() {
		f.Lacks = Lack{Kind: NoFlames}
		return false
	}
	g, guided := f.Wish.Stove.Guide()
	if guided {
		if last, ok := f.lately(g.Place); ok {
			low := fire.Trigger{Above: g.Band.Low}
			if f.cold(low, last.Reading) {
				f.Lacks = Lack{Kind: TooLow, Gauge: g.Place, Reading: last.Reading}
				f.NotCaught = waited >= triesToCatch && !f.said(burn.Black)
				return false
			}
			return true
		}
	}
	if f.seen.Known && f.seen.Flames < hardlyFlames && !f.said(burn.Black) {
		f.Lacks = Lack{Kind: NoFlames}
		return false
	}
	return true
}

// triesToCatch is how long a load has to flame before it is said not to have caught.
const triesToCatch = 12 * time.Minute

// flamesAgain tells whether the last thing that was said of flames is that there are some:
// black wood is said of wood that burns.
func (f *following) flamesAgain() bool {
	e, ok := f.burn.Last(func(e burn.Entry) bool {
		return (e.Kind == burn.Out || e.Kind == burn.ToCoals || e.Kind == burn.Black) && !e.At.After(f.now)
	})
	return ok && e.Kind == burn.Black
}

// sign tells whether the sign of a turn-down or of a bypass is there.
func (f *following) sign(t fire.Trigger, waited time.Duration) bool {
	there := f.gauge(t)
	black := !t.Charred || f.seen.Black >= surelyBlack
	if there && black || f.NotCaught {
		return there && black
	}
	late := t.Latest > 0 && waited >= t.Latest
	if !late || t.Gauge == "" {
		return false
	}
	reading, _, read := f.reading(t.Gauge)
	switch {
	case read && f.cold(t, reading): // a flue that is still cold means that the load has not caught
		f.NotCaught = true
		return false
	case t.Charred && f.said(burn.Black): // who has seen it knows better than a gauge that reads a little low
		f.Lacks = Lack{}
		return true
	case t.Charred && f.seen.Black >= surelyBlack:
		f.Ask = AskBlack
		return false
	}
	return false
}

const (
	// fallsFast is a fall of the guiding gauge, K a minute, at which the fire has not yet
	// taken the step before: another would be one too far.
	fallsFast = 2.5
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

// gauge tells whether the gauge of a sign is where it must be.
func (f *following) gauge(t fire.Trigger) bool {
	if t.Gauge == "" {
		return true
	}
	reading, known, _ := f.reading(t.Gauge)
	switch {
	case !known || reading < t.Above-gaugeSlack:
		f.Lacks = Lack{Kind: TooLow, Gauge: t.Gauge, Reading: reading}
		return false
	case t.Held > 0 && !f.held(t):
		f.Lacks = Lack{Kind: NotHeld, Gauge: t.Gauge, Reading: reading, Held: t.Held}
		return false
	}
	return true
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
	for len(readings) > 0 && readings[len(readings)-1].At.After(f.now) {
		readings = readings[:len(readings)-1]
	}
	if n := len(readings); n > 0 && f.now.Sub(readings[n-1].At) <= burn.ReadingHolds {
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
