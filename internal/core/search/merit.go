package search

import (
	"math"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// The merit sets smoke against comfort by the hour against wood: the lower the
// better. Comfort counts most once a burn is clean: a degree too cold for an
// hour weighs as much as five grams of smoke per kilogram. The weights are ours,
// set so that plans for the demo household are what somebody of twenty years
// would do; no standard has any.
const (
	smokeWeight = 0.6  // per g/kg
	woodWeight  = 0.15 // per kg
	hotWeight   = 5.0  // per minute that a gauge is over its limit: a lag excuses some, and who reads it then shuts everything
	emptyRoom   = 0.2  // of the comfort that counts while everybody is out
	asleep      = 0.5  // and while everybody sleeps
	atTheEnd    = 3.0  // in the hour in which they rise, or come home
	theEnd      = time.Hour
)

// weights are what an aim asks for besides.
type weights struct {
	cold, hot float64 // per K, as the mean over the wish
	reached   float64 // per hour until the room is warm
	coals     float64 // per kg that is missing to enough of them in the end, in 55 L
	wood      float64 // per kg more
	topOver   float64 // per K of the top plate over a mild fire's
	off       float64 // per K that a gauge is off its target, as the mean
}

var weightsOf = map[wish.Aim]weights{
	wish.Hold:      {cold: 4, hot: 3, wood: -0.07}, // who sits by the stove wants it warm, and feeds it
	wish.WarmUp:    {cold: 1, hot: 2, reached: 4},
	wish.Overnight: {cold: 3, hot: 2, coals: 20},
	wish.Away:      {cold: 3, hot: 2, coals: 6},
	wish.TakeOff:   {cold: 1.5, hot: 4, wood: 0.5},
	wish.DryOut:    {wood: 1.2, topOver: 0.02},
	wish.HoldGauge: {hot: 0.5, off: 0.15},
}

const (
	enoughCoals = 0.25      // kg in 55 L, that a load in the morning lights on
	wantedCoals = 30.0      // weight of them where they are asked for, above what the aim gives
	fromCold    = time.Hour // that a gauge is given to come to its target
	offAsCold   = 20.0      // K of a gauge, that are as bad as one of the room
	usualVolume = 55.0      // L
	mildTop     = 180       // °C of the top plate
)

// A tally is what a search sees of a burn. It is shown the fire every few
// minutes and keeps what the merit is made of.
type tally struct {
	w                  wish.Wish
	cold               float64 // kelvin-hours under the band, as it is said
	colder, hot, hours float64 // kelvin-hours under and over it, and hours, by what they count
	over               float64 // K over the band, at the warmest
	offTarget, gauged  float64 // K·h that a gauge was off its target, and hours that it was looked at
	reached            float64 // h, until the room is warm
	coals              float64 // kg, at the wish's end
	before             units.Celsius
	seen               bool
}

func newTally(w wish.Wish) *tally { return &tally{w: w, reached: w.For.Hours()} }

// See takes a moment into account; what comes after the wish does not count.
func (t *tally) See(f *fire.Fire) {
	at, room := f.Elapsed(), f.Felt()
	if at > t.w.For {
		return
	}
	cold, share := math.Max(0, float64(t.w.Low-room)), every.Hours()*t.counts(at)
	t.hours += share
	t.colder += cold * share
	t.over = math.Max(t.over, float64(room-t.w.High))
	t.hot += math.Max(0, float64(room-t.w.High)) * share
	share = every.Hours()
	if t.w.Aim != wish.Overnight && t.w.Presence().Out(at) {
		share *= emptyRoom
	}
	t.cold += cold * share
	t.coals = float64(f.Coals())
	if g := t.w.Target; g.Place != "" && at >= fromCold {
		if v, ok := f.Reading(g.Place); ok {
			t.offTarget += math.Abs(v-float64(g.At)) * every.Hours()
			t.gauged += every.Hours()
		}
	}
	t.warm(at, room)
	t.before, t.seen = room, true
}

// lacks is what a further load could better: the cold, or a gauge off its target, of which
// so many kelvin count as one of the room.
func (t *tally) lacks() float64 {
	if t.w.Aim == wish.HoldGauge {
		return t.offTarget / offAsCold
	}
	return t.cold
}

// counts is what an hour of comfort counts at a moment: the hours that matter are those in
// which somebody is in the room, and most of all that of rising or of coming home.
func (t *tally) counts(at time.Duration) float64 {
	leaves := t.w.Aim == wish.Overnight || t.w.Aim == wish.Away
	out := t.w.Presence().Out(at)
	switch {
	case leaves && t.w.For-at < theEnd:
		return atTheEnd
	case t.w.Aim == wish.Overnight && (out || t.w.There == nil):
		return asleep
	case out:
		return emptyRoom
	}
	return 1
}

// warm notes when the room first was, between two looks.
func (t *tally) warm(at time.Duration, room units.Celsius) {
	if room < t.w.Low || at.Hours() >= t.reached {
		return
	}
	t.reached = at.Hours()
	if t.seen {
		t.reached -= every.Hours() * float64((room-t.w.Low)/(room-t.before))
	}
}

// Fork returns the tally as it stands.
func (t *tally) Fork() fire.Watcher { fork := *t; return &fork }

// merit weighs what was seen for the wish's aim.
func (t *tally) merit(w wish.Wish, sum fire.Summary, kilos float64) float64 {
	by, known := weightsOf[w.Aim]
	if !known {
		by = weightsOf[wish.Hold]
	}
	hours := math.Max(t.hours, every.Hours())
	if w.Embers {
		by.coals += wantedCoals
	}
	coals := t.coals / math.Max(0.2, float64(w.Stove.Volume)/usualVolume)
	return smokeWeight*sum.SmokePerKg + hotWeight*sum.TooHot.Minutes() + (woodWeight+by.wood)*kilos +
		(by.cold*t.colder+by.hot*t.hot)/hours + by.reached*t.reached +
		by.coals*math.Max(0, enoughCoals-coals) + by.off*t.offTarget/math.Max(t.gauged, every.Hours()) + by.topOver*math.Max(0, float64(sum.PeakTop)-mildTop)
}
