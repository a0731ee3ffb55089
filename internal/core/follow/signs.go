package follow

import (
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// When the door is shut and the air turned down.

// declined tells whether somebody has said a moment ago that the step was not done, or
// that its sign is not there.
func (f *following) declined(since time.Time) bool {
	e, ok := f.burn.Last(func(e burn.Entry) bool { return e.Kind == burn.NotYet && !e.At.After(f.now) })
	rests := declinedFor
	switch f.Next.Kind {
	case plan.LoadIt, plan.FeedIt, plan.ReloadTime, plan.KeepIt: // flames that are still there go within minutes
		rests = notYetFor
	}
	return ok && !e.At.Before(since) && f.now.Sub(e.At) < rests
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
			// The gauge alone flares with the kindling: the door waits for the wood, unless the
			// fire draws so strongly that it is the door that makes it too hot.
			return waited >= t.After || f.strong(t.Gauge, reading)
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

// strongly is the share of a gauge's band from where a fire that is lit needs no door ajar:
// with it the kindling takes the flue over its limit within minutes in a stove that draws well.
const strongly = 0.4

// strong tells whether a gauge shows a fire that draws strongly by itself.
func (f *following) strong(place stove.Place, reading units.Celsius) bool {
	g, ok := f.Wish.Stove.Gauge(place)
	return ok && reading >= g.Band.Low+strongly*(g.Band.High-g.Band.Low)
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

// flamesAgain tells whether the last thing that was said of flames is that there are some.
func (f *following) flamesAgain() bool {
	e, ok := f.burn.Last(func(e burn.Entry) bool {
		return (e.Kind == burn.Out || e.Kind == burn.ToCoals || e.Kind.Flames()) && !e.At.After(f.now)
	})
	return ok && e.Kind.Flames()
}

// sign tells whether the sign of a turn-down or of a bypass is there.
func (f *following) sign(t fire.Trigger, waited time.Duration) bool {
	there := f.gauge(t)
	black := !t.Charred || f.seen.Black >= surelyBlack && (f.said(burn.Black) || !f.litAgain(blacksIn))
	if there && black || f.NotCaught {
		return there && black
	}
	late := t.Latest > 0 && waited >= t.Latest
	if !late || t.Gauge == "" {
		return false
	}
	reading, _, read := f.reading(t.Gauge)
	switch {
	case t.Least > 0:
		return read && reading >= t.Least && black
	case read && f.cold(t, reading): // a flue that is still cold means that the load has not caught
		f.NotCaught = true
		return false
	case t.Charred && f.said(burn.Black): // who has seen it knows better than a gauge that reads a little low
		f.Lacks = Lack{}
		return true
	case t.Charred && f.seen.Black >= surelyBlack && (f.said(burn.Black) || !f.litAgain(blacksIn)):
		f.Ask = AskBlack
		return false
	}
	return false
}

// litAgain tells whether a load that had lain there was lit again in so long, with a second match: by
// what is computed of the time before, it would be black, or gone. Whoever lays a fire and lights it
// later has lit it once.
func (f *following) litAgain(in time.Duration) bool {
	lit, ok := f.burn.Last(func(e burn.Entry) bool { return e.Kind == burn.Light && !e.At.After(f.now) })
	if !ok || f.now.Sub(lit.At) > in {
		return false
	}
	if _, before := f.burn.Last(func(e burn.Entry) bool { return e.Kind == burn.Light && lit.At.Sub(e.At) >= blacksIn }); !before {
		return false
	}
	load, ok := f.burn.Last(func(e burn.Entry) bool {
		return e.Kind == burn.Load && e.Load != nil && !e.Load.Kindling && !e.At.After(f.now)
	})
	return ok && load.At.Before(lit.At)
}

// blacksIn is how long a load that is lit again is given to be black at the least.
const blacksIn = 12 * time.Minute

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
	if n := len(readings); n > 0 && f.now.Sub(readings[n-1].At) <= policy.ReadingHolds {
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
