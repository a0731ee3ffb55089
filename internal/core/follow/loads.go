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

// When a load is due.

// growDue tells whether the next size may go on a young fire: it has had its least time, and so
// little of what burns is believed to be left, or its latest. Who sees flames over all of it does
// not wait for either.
func (f *following) growDue(t fire.Trigger, waited time.Duration) bool {
	if f.said(burn.Out) && !f.flamesAgain() {
		f.Lacks = Lack{Kind: NoFlames}
		return false
	}
	return waited >= t.After && (f.seen.Known && f.seen.Wood <= t.WoodLeft || waited >= t.Latest)
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
	if f.litAgain(burnsIn) && !f.downToCoals() {
		f.Lacks = Lack{Kind: StillWood}
		return false
	}
	computed := f.computedDue(t)
	g, guided := f.Wish.Stove.Guide()
	way, read := f.trend(g)
	switch {
	case guided && read && f.dead(g, way) && !f.downToCoals():
		f.Lacks = Lack{Kind: CoalsGone, Gauge: g.Place, Reading: way.reading}
		return false
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
	// The load on a first fire goes on its first layer of coals, while it is lively: the gauge has
	// turned, and need not have fallen. Later it would lie on a fire that dies.
	if f.Next.Kind == plan.LoadIt && computed && way.reading < way.highest && waited >= t.After {
		return true
	}
	fallen := f.Wish.Room + units.Celsius(1-FallenBy)*(way.highest-f.Wish.Room)
	switch {
	case way.reading > fallen+gaugeSlack:
		f.Lacks = Lack{Kind: NotFallen, Gauge: g.Place, Reading: way.reading, Limit: fallen}
		// The load on a first fire waits for no coals, and nobody is asked for them: a "not yet"
		// would have it go on half an hour late, on a fire that is out.
		if computed && f.Next.Kind != plan.LoadIt {
			f.Ask = AskCoals
		}
		return false
	case way.highest < g.Band.Low && !computed: // it never came: what has fallen was no fire
		f.Lacks = Lack{Kind: NotFallen, Gauge: g.Place, Reading: way.reading, Limit: fallen}
		return false
	case f.moreThanPlanned(t):
		f.Lacks = Lack{Kind: StillWood, Gauge: g.Place, Reading: way.reading}
		if f.Next.Kind != plan.LoadIt {
			f.Ask = AskCoals
		}
		return false
	}
	return waited >= min(t.After, feedsFrom)
}

// dead tells whether a gauge is as cold as over a fire that has gone out, and does not rise: what
// is believed of coals under it lights nothing.
func (f *following) dead(g stove.Gauge, way trend) bool {
	return way.reading-f.Wish.Room < deadShare*(g.Band.Low-f.Wish.Room) && !(way.hasRate && way.rate > 0)
}

// burnsIn is how long a load that is lit again burns at the least.
const burnsIn = 25 * time.Minute

// deadShare is the share of the way from the room to a gauge's band, under which it shows no fire.
const deadShare = 0.35

// moreThanPlanned tells whether clearly more wood is left than the plan has the load go on at:
// a first fire may still be aflame, a later load on much wood runs hot.
func (f *following) moreThanPlanned(t fire.Trigger) bool {
	if t.WoodLeft <= 0 {
		return f.muchWood()
	}
	return f.seen.Known && float64(f.seen.Wood) > clearlyMore*float64(t.WoodLeft)
}

// clearlyMore is how many times the wood must be there that is planned with: it is only believed.
const clearlyMore = 1.3

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
